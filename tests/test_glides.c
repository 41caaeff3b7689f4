/* SPDX-License-Identifier: MIT */
/* Nothing leaps (L8): while any one number of any effect changes, on a strip, a ring and a grid, no LED changes much faster
 * than in a crossfade, and while a speed changes none changes faster than at the fastest of the two speeds. */
#include "stage.h"
#include "suites.h"

#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static struct stage stage;

static void teardown(void) {
    stage_close(&stage);
}

static const char rig[] =
    "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':60}]},"
    "'p':{'pin':2,'supply':'s','line':[{'chip':'WS2812B','leds':24}]},'q':{'pin':3,'supply':'s','line':[{'chip':'WS2812B','"
    "leds':96}]}},"
    "'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':60}]},'b':{'ring':[{'output':'p','first':0,'leds':24}]},"
    "'c':{'grid':[{'output':'q','first':0,'columns':12,'rows':8,'first led':'top left','along':'rows','zigzag':true}]}}}";
static const char show[] =
    "{'show':'t','brightness':'100 %','change':'0 s','looks':{'pattern':{'effect':'pattern','blocks':'3 #ffb000, 1 #ffffff, 2 "
    "#008f8a'},'text':{'effect':'text','text':'High water','font':'quay'},'picture':{'effect':'picture','picture':'cross'}},"
    "'pictures':{'cross':{'rows':['x.x','.x.','x.x'],'colors':{'x':'#ffffff'}}},'segments':{'x':{'surface':'a'},'y':{'surface':"
    "'b'},'z':{'surface':'c'}}}";
#define FRAMES 60 /* a second */

struct number {
    int32_t from, to;
};

static struct number numbers_of(GLANZ_CONST struct glanz_param *param) {
    struct number number = {param->low, param->high};
    switch (param->kind) {
    case GLANZ_PARAM_COLOR:
        number.from = (int32_t)GLANZ_RGB(0, 0, 0);
        number.to = (int32_t)GLANZ_RGB(0xFF, 0xFF, 0xFF);
        break;
    case GLANZ_PARAM_LENGTH:
        number.from = param->low > GLANZ_FIXED(3) ? param->low : GLANZ_FIXED(3);
        number.to = GLANZ_FIXED(20);
        break;
    case GLANZ_PARAM_SHARE:
        number.from = GLANZ_PERCENT(20);
        number.to = GLANZ_PERCENT(80);
        break;
    default: break;
    }
    return number;
}

static struct glanz_light lights[3][96];
static const uint16_t counts[3] = {60, 24, 96};

static uint64_t now_us;

/* One frame further. @return the largest change of a channel of a LED of a segment. */
static int step_frame(int segment) {
    struct glanz_light before[96];
    int most = 0;
    memcpy(before, lights[segment], sizeof before);
    now_us += 1000000u / FRAMES;
    stage_frame(&stage, now_us);
    for (uint8_t s = 0; s < 3; s++) {
        ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), s, 0, lights[s], counts[s]), GLANZ_OK);
    }
    for (uint16_t i = 0; i < counts[segment]; i++) {
        int red = abs(lights[segment][i].red - before[i].red);
        int green = abs(lights[segment][i].green - before[i].green);
        int blue = abs(lights[segment][i].blue - before[i].blue);
        most = red > most ? red : most;
        most = green > most ? green : most;
        most = blue > most ? blue : most;
    }
    return most;
}

/* Every rate of the effects is its first, and they have one. */
static int rate_of(GLANZ_CONST struct glanz_effect *effect) {
    for (uint8_t i = 0; i < effect->param_count; i++) {
        if (effect->params[i].kind == GLANZ_PARAM_RATE) {
            return i;
        }
    }
    return -1;
}

static void set(int segment, int param, uint8_t unit, int32_t number, uint32_t over_ms) {
    struct glanz_change change = {glanz_device_now(stage.device), over_ms, 0};
    struct glanz_setting setting = {(uint8_t)param, unit, number};
    ck_assert_int_eq(glanz_engine_set(glanz_device_engine(stage.device), (uint8_t)segment, setting, change), GLANZ_OK);
}

static void begin(int segment, GLANZ_CONST struct glanz_effect *effect) {
    struct glanz_change at_once = {glanz_device_now(stage.device), 0, 1};
    struct glanz_look look;
    memset(&look, 0, sizeof look);
    look.name = "look";
    look.effect = effect;
    for (uint16_t i = 0; i < stage.show->look_count; i++) {
        look.content = effect->content != GLANZ_CONTENT_NONE && stage.show->looks[i].effect == effect
                           ? stage.show->looks[i].content
                           : look.content;
    }
    ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), (uint8_t)segment, &look, at_once), GLANZ_OK);
}

/* The content that an effect needs is in the show, or it has none. */
static int is_showable(GLANZ_CONST struct glanz_effect *effect) {
    for (uint16_t i = 0; i < stage.show->look_count; i++) {
        if (stage.show->looks[i].effect == effect) {
            return 1;
        }
    }
    return effect->content == GLANZ_CONTENT_NONE;
}

START_TEST(nothing_leaps) {
    stage_must_open(&stage, rig, show);
    now_us = 0;
    int tried = 0;
    double worst = 0;
    const char *worst_effect = "";
    const char *worst_param = "";
    for (int e = 0; glanz_effects[e] != NULL; e++) {
        GLANZ_CONST struct glanz_effect *effect = glanz_effects[e];
        int rate = rate_of(effect);
        for (int segment = 0; segment < 3 && is_showable(effect); segment++) {
            for (int p = 0; p < effect->param_count; p++) {
                if (effect->params[p].kind == GLANZ_PARAM_RATE) {
                    continue;
                }
                struct number number = numbers_of(&effect->params[p]);
                uint8_t unit = effect->params[p].kind == GLANZ_PARAM_LENGTH ? GLANZ_UNIT_LEDS : GLANZ_UNIT_NONE;
                begin(segment, effect);
                set(segment, p, unit, number.from, 0);
                for (int i = 0; i < 90; i++) {
                    step_frame(segment);
                }
                if (rate >= 0) { /* it stands: what is seen is the change alone */
                    set(segment, rate, GLANZ_UNIT_NONE, 0, 0);
                }
                step_frame(segment);
                step_frame(segment);
                set(segment, p, unit, number.to, 1000);
                int most = 0;
                for (int i = 0; i < FRAMES + 6; i++) {
                    int change = step_frame(segment);
                    most = change > most ? change : most;
                }
                tried++;
                double times = most / (65535.0 / FRAMES);
                if (times > worst) {
                    worst = times;
                    worst_effect = effect->name;
                    worst_param = effect->params[p].name;
                }
                REQUIRE_MSG(times <= 4, "%s, %s on surface %d: a LED changes %.1f times as fast as in a crossfade",
                            effect->name, effect->params[p].name, segment, times);
            }
        }
    }
    ck_assert_int_gt(tried, 180);
    printf("one number changes in a second, %d cases: at the most %.2f times as fast as a crossfade (%s, %s)\n", tried, worst,
           worst_effect, worst_param);
}
END_TEST

/* A speed glides through zero to the other way: no LED changes faster than at full speed one way or the other. */
START_TEST(speeds_glide) {
    stage_must_open(&stage, rig, show);
    now_us = 0;
    for (int e = 0; glanz_effects[e] != NULL; e++) {
        GLANZ_CONST struct glanz_effect *effect = glanz_effects[e];
        int rate = rate_of(effect);
        for (int segment = 0; segment < 3 && rate >= 0 && is_showable(effect); segment++) {
            int most[2] = {0, 0};
            for (int pass = 0; pass < 2; pass++) {
                begin(segment, effect);
                set(segment, rate, GLANZ_UNIT_PASSES, GLANZ_FIXED(0.25), 0);
                for (int i = 0; i < 3 * FRAMES; i++) {
                    int change = step_frame(segment);
                    most[0] = i > 1 && change > most[0] ? change : most[0];
                }
                set(segment, rate, GLANZ_UNIT_PASSES, GLANZ_FIXED(-0.25), pass == 0 ? 0 : 2000);
                for (int i = 0; i < 5 * FRAMES; i++) {
                    int change = step_frame(segment);
                    most[pass] = (pass == 1 || i > 1) && change > most[pass] ? change : most[pass];
                }
            }
            REQUIRE_MSG(most[1] <= most[0] + most[0] / 10 + 700, "%s on surface %d: %d in a frame, at full speed %d",
                        effect->name, segment, most[1], most[0]);
        }
    }
}
END_TEST

/* Where the head of what is lit stands: the place of the brightest edge. */
static double head_of(int segment, int forward) {
    for (int k = 0; k < counts[segment]; k++) {
        int i = forward ? counts[segment] - 1 - k : k;
        if (lights[segment][i].red > 32768) {
            return forward ? i + 0.5 : i + 0.5;
        }
    }
    return -1;
}

/* Tail and size change, the head goes its way. */
START_TEST(heads_keep_their_way) {
    static const char *const effects[] = {"comet", "walker"};
    static const int params[] = {GLANZ_COMET_TAIL, GLANZ_WALKER_SIZE};
    for (int e = 0; e < 2; e++) {
        for (int backward = 0; backward < 2; backward++) {
            stage_must_open(&stage, rig, show);
            now_us = 0;
            GLANZ_CONST struct glanz_effect *effect = glanz_effect_find(effects[e]);
            begin(0, effect);
            set(0, 0, GLANZ_UNIT_NONE, (int32_t)GLANZ_RGB(0xFF, 0xFF, 0xFF), 0);
            set(0, params[e], GLANZ_UNIT_LEDS, GLANZ_FIXED(5), 0);
            set(0, rate_of(effect), GLANZ_UNIT_LEDS, backward ? -GLANZ_FIXED(7) : GLANZ_FIXED(7), 0);
            double last = -1;
            for (int i = 0; i < 6 * FRAMES; i++) {
                step_frame(0);
                if (i == 4 * FRAMES) {
                    set(0, params[e], GLANZ_UNIT_LEDS, GLANZ_FIXED(20), 1000);
                }
                double head = head_of(0, !backward);
                if (i > 3 * FRAMES && last >= 0) {
                    double way = backward ? last - head : head - last;
                    REQUIRE_MSG(way >= -0.01 && way <= 1.01, "%s, frame %d: the head goes from %f to %f", effects[e], i, last,
                                head);
                }
                last = i > 2 * FRAMES ? head : -1;
            }
            REQUIRE_MSG(backward ? last < 30 : last > 30, "%f", last); /* 7 LEDs a second for six seconds */
            stage_close(&stage);
        }
    }
}
END_TEST

/* A comet there and back carries the same light in the middle of the line and where it turns. */
START_TEST(comet_keeps_its_light_at_the_turn) {
    for (int tail = 4; tail <= 40; tail += 12) {
        stage_must_open(&stage, rig, show);
        now_us = 0;
        begin(0, &glanz_effect_comet);
        set(0, GLANZ_COMET_COLOR, GLANZ_UNIT_NONE, (int32_t)GLANZ_RGB(0xFF, 0xFF, 0xFF), 0);
        set(0, GLANZ_COMET_TAIL, GLANZ_UNIT_LEDS, tail << 16, 0);
        set(0, GLANZ_COMET_WAY, GLANZ_UNIT_NONE, 1, 0);
        set(0, GLANZ_COMET_SPEED, GLANZ_UNIT_LEDS, GLANZ_FIXED(13.3), 0);
        double low = 1e9;
        double high = 0;
        for (int i = 0; i < 14 * FRAMES; i++) { /* one and a half passes, from the second turn on */
            step_frame(0);
            double sum = 0;
            for (int k = 0; k < 60; k++) {
                sum += lights[0][k].red / 65535.0;
            }
            low = i > 5 * FRAMES && sum < low ? sum : low;
            high = i > 5 * FRAMES && sum > high ? sum : high;
        }
        printf("comet there and back, tail %d: %.3f to %.3f LEDs of light\n", tail, low, high);
        REQUIRE_MSG(high - low < 0.05 * high, "tail %d: %f to %f LEDs of light", tail, low, high);
        stage_close(&stage);
    }
}
END_TEST

/* A speed that goes through zero while a filling is under way, and one that is begun again. */
START_TEST(fillings_once_and_again) {
    stage_must_open(
        &stage, strip_rig(60),
        "{'show':'t','brightness':'100 %','change':'0 "
        "s','looks':{'f':{'effect':'filling','color':'#ffffff','way':'once','speed':'20 "
        "leds/s'}},'segments':{'s':{'surface':'a','look':'f'}},'presets':{'p':{'s':'f'}},'triggers':{'t':{'when':{'button':'k',"
        "'is':'pressed'},'do':[{'recall':'p','again':true,'over':'0 s'}]}}}");
    struct glanz_engine *engine = glanz_device_engine(stage.device);
    struct glanz_light light[60];
    now_us = 0;
    double last = -1;
    for (int i = 0; i < 4 * FRAMES; i++) {
        now_us += 1000000u / FRAMES;
        if (i == FRAMES) { /* back through zero, and beyond the start */
            set(0, GLANZ_FILLING_SPEED, GLANZ_UNIT_LEDS, -GLANZ_FIXED(20), 500);
        }
        stage_frame(&stage, now_us);
        ck_assert_int_eq(glanz_engine_light(engine, 0, 0, light, 60), GLANZ_OK);
        double filled = 0;
        for (int k = 0; k < 60; k++) {
            filled += light[k].red / 65535.0;
        }
        REQUIRE_MSG(last < 0 || fabs(filled - last) < 0.5, "frame %d: from %f to %f LEDs", i, last, filled);
        last = filled;
    }
    ck_assert_double_lt(last, 0.01);
    set(0, GLANZ_FILLING_SPEED, GLANZ_UNIT_LEDS, GLANZ_FIXED(20), 0);
    for (int round = 0; round < 3; round++) { /* a press each time */
        glanz_device_push(stage.device, 0, 0, (uint32_t)now_us + 1000);
        glanz_device_push(stage.device, 0, 1, (uint32_t)now_us + 200000);
        for (int i = 0; i < 4 * FRAMES; i++) {
            now_us += 1000000u / FRAMES;
            stage_frame(&stage, now_us);
            if (i == 0 || i == FRAMES || i == 4 * FRAMES - 1) {
                ck_assert_int_eq(glanz_engine_light(engine, 0, 0, light, 60), GLANZ_OK);
                double filled = 0;
                for (int k = 0; k < 60; k++) {
                    filled += light[k].red / 65535.0;
                }
                double want = i == 0 ? 0.3 : i == FRAMES ? 20.3 : 60;
                REQUIRE_MSG(fabs(filled - want) < 0.1, "round %d, frame %d: %f LEDs", round, i, filled);
            }
        }
    }
    /* without, a filling that is done stays done */
    stage_do(&stage, "{'recall':'p','over':'0 s'}");
    now_us += 20000;
    stage_frame(&stage, now_us);
    ck_assert_int_eq(glanz_engine_light(engine, 0, 0, light, 60), GLANZ_OK);
    ck_assert_uint_eq(light[59].red, 65535);
}
END_TEST

/* Effects along a ring: the step from the last LED to the first is like any other, in every moment. */
START_TEST(rings_have_no_seam) {
    static const char *const effects[] = {"flow", "swell", "procession", "escort", "comet", "walker", "clouds", "plasma"};
    stage_must_open(&stage, rig, show);
    now_us = 0;
    for (int e = 0; e < 8; e++) {
        GLANZ_CONST struct glanz_effect *effect = glanz_effect_find(effects[e]);
        double seam = 0;
        double inside = 0;
        begin(1, effect);
        for (int i = 0; i < 30 * FRAMES; i++) {
            step_frame(1);
            for (int k = 0; k < 24; k++) {
                double step =
                    abs(lights[1][k].red - lights[1][(k + 1) % 24].red) + abs(lights[1][k].blue - lights[1][(k + 1) % 24].blue);
                if (k == 23) {
                    seam = step > seam ? step : seam;
                } else {
                    inside = step > inside ? step : inside;
                }
            }
        }
        REQUIRE_MSG(seam <= inside * 1.02 + 50 && inside > 0, "%s: %f at the seam, %f elsewhere", effects[e], seam, inside);
    }
}
END_TEST

/* What is drawn for each LED is, on a grid too; what begins, begins from dark; what promises no change of its mean keeps it. */
START_TEST(draws_beginnings_and_means) {
    static const char *const drawn[] = {"twinkle", "motley"};
    stage_must_open(&stage, rig, show);
    now_us = 0;
    for (int e = 0; e < 2; e++) {
        begin(2, glanz_effect_find(drawn[e]));
        for (int i = 0; i < 2 * FRAMES; i++) {
            step_frame(2);
        }
        int columns = 0; /* in which all eight are alike */
        for (int x = 0; x < 12; x++) {
            int alike = 1;
            for (int y = 1; y < 8; y++) {
                const struct glanz_light *a = &lights[2][x];
                const struct glanz_light *b = &lights[2][y * 12 + (y % 2 == 0 ? x : 11 - x)];
                alike = alike && a->red == b->red && a->green == b->green && a->blue == b->blue;
            }
            columns += alike;
        }
        REQUIRE_MSG(columns <= 1, "%s: %d columns are of one light", drawn[e], columns);
    }
    static const char *const growing[] = {"ripples", "twinkle", "fireworks", "rain"};
    for (int e = 0; e < 4; e++) {
        begin(2, glanz_effect_find(growing[e]));
        step_frame(2);
        int most = 0;
        for (int i = 0; i < 60 * FRAMES; i++) {
            int change = step_frame(2);
            most = change > most ? change : most;
        }
        printf("%s: at the most %.0f of 255 in a frame of 1/60 s\n", growing[e], most / 257.0);
        REQUIRE_MSG(most < 66 * 257, "%s: %.0f of 255 in a frame", growing[e], most / 257.0);
    }
    begin(2, glanz_effect_find("clouds"));
    double low = 1;
    double high = 0;
    for (int i = 0; i < 120 * FRAMES; i++) {
        step_frame(2);
        double mean = 0;
        for (int k = 0; k < 96; k++) {
            mean += (lights[2][k].red + lights[2][k].green + lights[2][k].blue) / 3.0 / 65535 / 96;
        }
        low = i > FRAMES && mean < low ? mean : low;
        high = i > FRAMES && mean > high ? mean : high;
    }
    printf("clouds: mean light from %.2f to %.2f\n", low, high);
    REQUIRE_MSG(high < 2.5 * low, "clouds: mean light from %f to %f", low, high);
}
END_TEST

Suite *glides_suite(void) {
    Suite *suite = suite_create("glides");
    TCase *tcase = tcase_create("Glides");
    tcase_add_checked_fixture(tcase, NULL, teardown);
    tcase_set_timeout(tcase, 300);
    tcase_add_test(tcase, nothing_leaps);
    tcase_add_test(tcase, speeds_glide);
    tcase_add_test(tcase, heads_keep_their_way);
    tcase_add_test(tcase, comet_keeps_its_light_at_the_turn);
    tcase_add_test(tcase, fillings_once_and_again);
    tcase_add_test(tcase, rings_have_no_seam);
    tcase_add_test(tcase, draws_beginnings_and_means);
    suite_add_tcase(suite, tcase);
    return suite;
}
