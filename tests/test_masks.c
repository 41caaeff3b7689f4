/* SPDX-License-Identifier: MIT */
/* Masks: a segment that decides where the one right below it in the stack shows. Against plain arithmetic on the light that
 * each segment has by itself. And colours that palettes do not change. */
#include <check.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "stage.h"
#include "suites.h"

#define LEDS 160

static struct stage stage, alone;

static void teardown(void) {
    stage_close(&stage);
    stage_close(&alone);
}

static const char strip[] = "'a':{'strip':[{'output':'o','first':0,'leds':160}]}";
static const char grid[] =
    "'a':{'grid':[{'output':'o','first':0,'columns':20,'rows':8,'first led':'top left','along':'rows','zigzag':true}]}";

static const char *rig_of(const char *surface) {
    static char text[500];
    snprintf(
        text, sizeof text,
        "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':160"
        "}]}},'surfaces':{%s}}",
        surface);
    return text;
}

static const char *const looks[] = {"{'effect':'flow','palette':'kelp','speed':'0.3 lengths/s'}",
                                    "{'effect':'comet','color':'#ffffff','tail':'30 leds'}",
                                    "{'effect':'breathing','color':'#c0a0ff'}",
                                    "{'effect':'dissolve','color':'#ffffff','clear':true}",
                                    "{'effect':'plasma'}",
                                    "{'effect':'text','text':'TIDE','clear':true,'way':'standing'}"};
static const char *const kinds[] = {"mask by brightness", "mask by darkness", "mask by coverage", "mask by gaps"};

static void look_at(struct glanz_light *lights, struct stage *of, const char *show, const char *surface, uint32_t until_ms) {
    stage_must_open(of, rig_of(surface), show);
    stage_run(of, 0, (uint64_t)until_ms * 1000u, 50);
    ck_assert_int_eq(glanz_engine_light(glanz_device_engine(of->device), 0, 0, lights, LEDS), GLANZ_OK);
    stage_close(of);
}

/* One segment alone, over black or over white: what it shows, and from both what it covers. */
static void look_alone(double light[LEDS][3], double cover[LEDS], const char *look, const char *cut, const char *surface,
                       uint32_t until_ms) {
    static struct glanz_light lights[2][LEDS];
    char show[900];
    for (int over = 0; over < 2; over++) {
        snprintf(
            show, sizeof show,
            "{'show':'t','brightness':'100 %%','looks':{'u':{'effect':'plain','color':'%s'},'l':%s},'segments':{'u':{'surface'"
            ":'a','look':'u'},'m':{'surface':'a','look':'l','seed':5%s}},'stack':['u','m']}",
            over == 0 ? "#000000" : "#ffffff", look, cut);
        look_at(lights[over], &alone, show, surface, until_ms);
    }
    for (int i = 0; i < LEDS; i++) {
        const uint16_t *black = &lights[0][i].red;
        const uint16_t *white = &lights[1][i].red;
        cover[i] = 1;
        for (int c = 0; c < 3; c++) {
            light[i][c] = black[c] / 65535.0;
            cover[i] = fmin(cover[i], 1 - (white[c] - black[c]) / 65535.0);
        }
    }
}

/* Two segments under a mask: where the mask is, the one right below it; else what lies under both. */
START_TEST(mask_decides_where_the_one_below_shows) {
    static double under[LEDS][3], below[LEDS][3], mask[LEDS][3], none[LEDS], covered[LEDS], covers[LEDS];
    static struct glanz_light got[LEDS];
    char show[1600];
    int shown = 0;
    for (uint32_t draw = 0; draw < 96; draw++) {
        const char *surface = draw % 2 == 0 ? strip : grid;
        int a = (int)(draw / 4 % 6);
        int m = (int)((draw / 4 + 1 + draw % 5) % 6);
        int kind = (int)(draw % 4);
        int opacity = draw % 3 == 0 ? 100 : 40;
        const char *cut = draw % 7 == 3 ? ",'stencil':'take 2, leave 1'" : draw % 7 == 5 ? ",'first':40,'leds':77" : "";
        uint32_t ms = 400 + draw * 37;
        look_alone(under, none, looks[4], "", surface, ms);
        look_alone(below, covered, looks[a], "", surface, ms);
        look_alone(mask, covers, looks[m], cut, surface, ms);
        snprintf(show, sizeof show,
                 "{'show':'t','brightness':'100 "
                 "%%','looks':{'u':%s,'a':%s,'m':%s},'segments':{'u':{'surface':'a','look':'u','seed':5"
                 "},'a':{'surface':'a','look':'a','seed':5},'m':{'surface':'a','look':'m','seed':5,'blend':'%s','opacity':'%d "
                 "%%'%s}},'stack':['u','a','m']}",
                 looks[4], looks[a], looks[m], kinds[kind], opacity, cut);
        look_at(got, &stage, show, surface, ms);
        double part_of = opacity == 100 ? 1 : 26214 / 65535.0;
        for (int i = 0; i < LEDS; i++) {
            int is_cut = draw % 7 == 3 ? i % 3 == 2 : draw % 7 == 5 ? i < 40 || i >= 117 : 0;
            double level = kind < 2 ? fmax(mask[i][0], fmax(mask[i][1], mask[i][2])) : covers[i];
            level = kind % 2 == 0 ? level : 1 - level;
            level = is_cut ? 1 : 1 - part_of * (1 - level);
            shown += level > 0.1 && level < 0.9;
            for (int c = 0; c < 3; c++) {
                double want = below[i][c] * level + under[i][c] * (1 - covered[i] * level);
                double is = (&got[i].red)[c] / 65535.0;
                REQUIRE_MSG(fabs(want - is) < 0.002, "draw %u, LED %d, channel %d: %f, wanted %f", (unsigned)draw, i, c, is,
                            want);
            }
        }
    }
    ck_assert_int_gt(shown, 1000);
}
END_TEST

#define SHOW_OF(segments, stack)                                                                                               \
    "{'show':'t','brightness':'100 %','change':'0 s','looks':{'red':{'effect':'plain','color':'#ff0000'},'blue':{'effect':"    \
    "'plain','color':'#0000ff'},'half':{'effect':'plain','color':'#bcbcbc'},'none':{'effect':'plain','color':'#000000'}},"     \
    "'segments':{" segments "},'stack':[" stack "]}"

static struct glanz_light light_of(const char *show) {
    static struct glanz_light lights[LEDS];
    look_at(lights, &stage, show, strip, 500);
    for (int i = 1; i < LEDS; i++) {
        REQUIRE(memcmp(&lights[0], &lights[i], sizeof lights[0]) == 0);
    }
    return lights[0];
}

#define NEAR(light, r, b) ck_assert(abs((light).red - (r)) <= 60 && abs((light).blue - (b)) <= 60 && (light).green == 0)

START_TEST(masks_of_the_stack) {
    const int half = glanz_linear(0xbc);
    /* one mask over another: both count */
    NEAR(light_of(SHOW_OF("'r':{'surface':'a','look':'red'},'b':{'surface':'a','look':'blue'},'m':{'surface':'a','look':'half',"
                          "'blend':'mask by brightness'},'n':{'surface':'a','look':'half','blend':'mask by brightness'}",
                          "'r','b','m','n'")),
         65535 - half * half / 65536, half * half / 65536);
    /* by itself, or over another mask alone, it has nothing to decide; and it is never seen */
    NEAR(light_of(SHOW_OF("'m':{'surface':'a','look':'red','blend':'mask by brightness'}", "'m'")), 0, 0);
    NEAR(light_of(
             SHOW_OF("'m':{'surface':'a','look':'red','blend':'mask by brightness'},'n':{'surface':'a','look':'red','blend':"
                     "'mask by gaps'}",
                     "'m','n'")),
         0, 0);
    /* what lies right below, and nothing else */
    NEAR(
        light_of(SHOW_OF("'r':{'surface':'a','look':'red'},'m':{'surface':'a','look':'none','blend':'mask by brightness'},'b':{"
                         "'surface':'a','look':'blue','blend':'add'}",
                         "'r','m','b'")),
        0, 65535);
    NEAR(light_of(SHOW_OF("'r':{'surface':'a','look':'red'},'b':{'surface':'a','look':'blue','blend':'add'},'m':{'surface':'a',"
                          "'look':'none','blend':'mask by brightness'}",
                          "'r','b','m'")),
         65535, 0);
    /* one that is switched off masks nothing; brightness of a mask dims it; no look is dark */
    NEAR(light_of(SHOW_OF("'r':{'surface':'a','look':'red'},'b':{'surface':'a','look':'blue'},'m':{'surface':'a','look':'none',"
                          "'blend':'mask by brightness','on':false}",
                          "'r','b','m'")),
         0, 65535);
    NEAR(light_of(SHOW_OF("'r':{'surface':'a','look':'red'},'b':{'surface':'a','look':'blue'},'m':{'surface':'a','look':'half',"
                          "'blend':'mask by brightness','brightness':'0 %'}",
                          "'r','b','m'")),
         65535, 0);
    NEAR(light_of(
             SHOW_OF("'r':{'surface':'a','look':'red'},'b':{'surface':'a','look':'blue'},'m':{'surface':'a','blend':'mask by "
                     "darkness'}",
                     "'r','b','m'")),
         0, 65535);
    /* a whole stack hidden by what covers it */
    NEAR(
        light_of(SHOW_OF("'r':{'surface':'a','look':'red'},'m':{'surface':'a','look':'half','blend':'mask by brightness'},'b':{"
                         "'surface':'a','look':'blue'}",
                         "'r','m','b'")),
        0, 65535);
}
END_TEST

/* While a mask's look crossfades, what shows is between: nothing pops in. */
START_TEST(a_mask_crossfades) {
    static struct glanz_light lights[LEDS];
    stage_must_open(
        &stage, rig_of(strip),
        "{'show':'t','brightness':'100 %','change':'1 s','looks':{'red':{'effect':'plain','color':'#ff0000'},'blue':{'"
        "effect':'plain','color':'#0000ff'},'on':{'effect':'flow','speed':'0 lengths/s'},'off':{'effect':'plain','color'"
        ":'#000000'}},'segments':{'r':{'surface':'a','look':'red'},'b':{'surface':'a','look':'blue'},'m':{'surface':'a',"
        "'look':'on','blend':'mask by brightness'}},'stack':['r','b','m'],'presets':{'p':{'m':'off'}}}");
    stage_run(&stage, 0, 1000000, 100);
    ck_assert_int_eq(glanz_device_recall(stage.device, "p", 1000, 0), GLANZ_OK);
    int before = -1;
    int first = -1;
    for (uint64_t t = 1000000; t < 2200000; t += 10000) {
        ck_assert_int_eq(stage_frame(&stage, t), GLANZ_OK);
        ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, lights, LEDS), GLANZ_OK);
        int blue = lights[150].blue;
        first = first < 0 ? blue : first;
        REQUIRE_MSG(before < 0 || (blue <= before + 40 && before - blue <= first / 60 + 80), "%d, then %d", before, blue);
        before = blue;
    }
    ck_assert_int_gt(first, 40000);
    ck_assert_int_eq(before, 0);
}
END_TEST

/* ---- colours that stay ---- */

START_TEST(palettes_leave_kept_colors_alone) {
    static const char show[] =
        "{'show':'t','brightness':'100 %','change':'0 "
        "s','looks':{'red':{'effect':'plain','color':'#ff0000'}},'segments':{'port':{"
        "'surface':'a','first':0,'leds':40,'look':'red','keeps colors':true},'rest':{'surface':'a','first':40,'leds':40,'look':"
        "'red'}},'palettes':{'sea':{'stops':[{'at':'0 "
        "%','color':'#0000ff'}]}},'presets':{'blue':{'port':{'palette':'sea'},'rest':"
        "{'palette':'sea'}},'own':{'port':'red'}},'triggers':{}}";
    static struct glanz_light lights[LEDS];
    struct glanz_engine *engine;
    stage_must_open(&stage, rig_of(strip), show);
    engine = glanz_device_engine(stage.device);
    stage_run(&stage, 0, 200000, 50);
    ck_assert_int_eq(glanz_device_recall(stage.device, "blue", 0, 0), GLANZ_OK);
    stage_run(&stage, 220000, 400000, 50);
    ck_assert_int_eq(glanz_engine_light(engine, 0, 0, lights, LEDS), GLANZ_OK);
    ck_assert(lights[10].red == 65535 && lights[10].blue == 0 && lights[50].red == 0 && lights[50].blue == 65535);
    stage_do(&stage, "{'palette':'sea','segment':'port'}");
    stage_do(&stage, "{'another palette':'next','segment':'port'}");
    stage_run(&stage, 420000, 600000, 50);
    ck_assert_int_eq(glanz_engine_light(engine, 0, 0, lights, LEDS), GLANZ_OK);
    ck_assert(lights[10].red == 65535 && lights[10].blue == 0);
    /* its own number, set by hand, is another matter */
    ck_assert_int_eq(glanz_device_set_color(stage.device, "port", "color", GLANZ_RGB(0, 255, 0), 0, NULL), GLANZ_OK);
    stage_run(&stage, 620000, 800000, 50);
    ck_assert_int_eq(glanz_engine_light(engine, 0, 0, lights, LEDS), GLANZ_OK);
    ck_assert(lights[10].green == 65535 && lights[10].red == 0);
}
END_TEST

/* A palette that changes by itself: presets of palettes alone, in a playlist; the effect runs on through it. */
START_TEST(a_playlist_changes_the_palette_alone) {
    static const char show[] =
        "{'show':'t','brightness':'100 %','change':'0 s','palettes':{'r':{'stops':[{'at':'0 "
        "%','color':'#ff0000'}]},'g':{'stops':[{"
        "'at':'0 %','color':'#00ff00'}]}},'looks':{'w':{'effect':'bars','palette':'r','speed':'7 "
        "leds/s','background':'#000000'}},"
        "'segments':{'a':{'surface':'a','look':'w'}},'presets':{'red':{'a':{'palette':'r'}},'green':{'a':{'palette':'g'}}},"
        "'playlists':{'turn':{'items':[{'preset':'red','hold':'1 s','fade':'1 s'},{'preset':'green','hold':'1 s','fade':'1 "
        "s'}]}},"
        "'start':{'play':'turn'}}";
    static struct glanz_light lights[2][LEDS];
    stage_must_open(&stage, rig_of(strip), show);
    stage_must_open(
        &alone, rig_of(strip),
        "{'show':'t','brightness':'100 %','change':'0 s','palettes':{'r':{'stops':[{'at':'0 %','color':'#ff0000'}]}},'looks'"
        ":{'w':{'effect':'bars','palette':'r','speed':'7 leds/s','background':'#000000'}},'segments':{'a':{'surface':'a',"
        "'look':'w'}}}");
    int both = 0;
    int greens = 0;
    for (uint64_t t = 0; t < 6000000; t += 20000) {
        ck_assert_int_eq(stage_frame(&stage, t), GLANZ_OK);
        ck_assert_int_eq(stage_frame(&alone, t), GLANZ_OK);
        ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, lights[0], LEDS), GLANZ_OK);
        ck_assert_int_eq(glanz_engine_light(glanz_device_engine(alone.device), 0, 0, lights[1], LEDS), GLANZ_OK);
        for (int i = 0; i < LEDS; i++) { /* the same bars at the same places, whatever the colour */
            int sum = lights[0][i].red + lights[0][i].green;
            REQUIRE_MSG(abs(sum - lights[1][i].red) < 200, "%u ms, LED %d: %d, %d", (unsigned)(t / 1000), i, sum,
                        lights[1][i].red);
        }
        both += lights[0][1].red > 1000 && lights[0][1].green > 1000;
        greens += lights[0][1].green > 60000;
    }
    ck_assert_int_gt(both, 20);
    ck_assert_int_gt(greens, 4);
}
END_TEST

/* What lets light through shows over nothing just what it shows over black, alone and while it comes in. */
START_TEST(over_nothing_as_over_black) {
    static const char *const sheer[] = {"{'effect':'dissolve','color':'#ffffff','clear':true}",
                                        "{'effect':'dissolve','color':'#40ff00','background':'#0000ff'}",
                                        "{'effect':'text','text':'TIDE','speed':'7 leds/s'}",
                                        "{'effect':'glints'}",
                                        "{'effect':'fogbank','color':'#80a0ff'}",
                                        "{'effect':'clock face'}"};
    static const uint32_t moments_ms[] = {20, 130, 1700};
    static struct glanz_light lights[2][LEDS];
    uint32_t lit = 0;
    for (int i = 0; i < 2 * 6 * 3; i++) {
        const char *surface = i % 2 == 0 ? strip : grid;
        const char *look = sheer[i / 2 % 6];
        const char *under[] = {"", "'u':{'surface':'a','look':'u'},"};
        const char *stack[] = {"", ",'stack':['u','m']"};
        for (int over = 0; over < 2; over++) {
            char show[900];
            snprintf(
                show, sizeof show,
                "{'show':'t','brightness':'100 %%','looks':{'u':{'effect':'plain','color':'#000000'},'l':%s},'segments':{%s"
                "'m':{'surface':'a','look':'l','seed':5,'brightness':'70 %%'}}%s}",
                look, under[over], stack[over]);
            look_at(lights[over], &alone, show, surface, moments_ms[i / 12]);
        }
        for (int led = 0; led < LEDS; led++) {
            lit += lights[0][led].red != 0 || lights[0][led].blue != 0;
            ck_assert_msg(memcmp(&lights[0][led], &lights[1][led], sizeof lights[0][led]) == 0, "%s, LED %d", look, led);
        }
    }
    ck_assert_uint_gt(lit, 36 * LEDS / 10);
}
END_TEST

Suite *masks_suite(void) {
    Suite *suite = suite_create("masks");
    TCase *tests = tcase_create("masks");
    tcase_add_checked_fixture(tests, NULL, teardown);
    tcase_set_timeout(tests, 120);
    tcase_add_test(tests, mask_decides_where_the_one_below_shows);
    tcase_add_test(tests, over_nothing_as_over_black);
    tcase_add_test(tests, masks_of_the_stack);
    tcase_add_test(tests, a_mask_crossfades);
    tcase_add_test(tests, palettes_leave_kept_colors_alone);
    tcase_add_test(tests, a_playlist_changes_the_palette_alone);
    suite_add_tcase(suite, tests);
    return suite;
}
