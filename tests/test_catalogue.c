/* SPDX-License-Identifier: MIT */
/* Every effect on a strip, a ring, a grid, a drum and a free shape: the same at any frame rate, faster when its speed is
 * larger, in the palette's colours alone, without a seam where the surface is closed, and right at its smallest size. One table
 * of it all; where a law is not for an effect, its cell says why. */
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

#define RIG(leds, surface)                                                                                                     \
    "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':" leds  \
    "}]}},'surfaces':{'a':" surface "}}"

enum { STRIP, RING, GRID, DRUM, SHAPE, SURFACES };
static const struct {
    const char *name, *rig;
    int leds, across; /* LEDs of a row */
} surfaces[SURFACES] = {
    {"strip", RIG("60", "{'strip':[{'output':'o','first':0,'leds':60}]}"), 60, 60},
    {"ring", RIG("48", "{'ring':[{'output':'o','first':0,'leds':48}]}"), 48, 48},
    {"grid", RIG("128", "{'grid':[{'output':'o','first':0,'columns':16,'rows':8,'first led':'top left','along':'rows'}]}"), 128,
     16},
    {"drum",
     RIG("192",
         "{'grid':[{'output':'o','first':0,'columns':24,'rows':8,'first led':'top left','along':'rows'}],'joined':true}"),
     192, 24},
    {"shape",
     RIG("36", "{'points':[{'output':'o','first':0,'leds':36}],'drawing':['....0....','...1.2...','....3....','....4....','.."
               "56789..',"
               "'....a....','....b....','i...c...j','k...d...l','.m..e..n.','..o.f.p..','...ghq...','..r...s..','.t.....u.',"
               "'v.......w','x.......y','z........']}"),
     36, 9},
};

/* What a cell may say in place of a figure, by effect. */
struct exempt {
    const char *effect, *why;
};

static const char *exempt_from(const struct exempt *list, int count, const char *effect) {
    for (int i = 0; i < count; i++) {
        if (strcmp(list[i].effect, effect) == 0) {
            return list[i].why;
        }
    }
    return NULL;
}
#define EXEMPT(list, effect) exempt_from(list, (int)(sizeof list / sizeof list[0]), effect)

static struct glanz_light lights[200];
static uint64_t now_us;

static void frame(int surface, uint64_t us) {
    now_us = us;
    stage_frame(&stage, now_us);
    ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, lights, (uint16_t)surfaces[surface].leds),
                     GLANZ_OK);
}

static const char show[] =
    "{'show':'t','brightness':'100 %','change':'0 "
    "s','palettes':{'turning':{'of':'ice "
    "floe','runs':'around'}},'pictures':{'cross':{'rows':['x.x.','xxx.','x.xx'],'colors':{'x':'#ffffff'}}},"
    "'looks':{'pattern':{'effect':'pattern','blocks':'3 #ffb000, 1 #ffffff, 2 #008f8a'},'text':{'effect':'text','text':'High "
    "water','font':'quay'},'picture':{'effect':'picture','picture':'cross','way':'leftward'},'marked':{'effect':'marked','"
    "marks':[{"
    "'first':0,'leds':9,'color':'#ff0000'}]}},'segments':{'x':{'surface':'a'}}}";

static int rate_of(GLANZ_CONST struct glanz_effect *effect) {
    for (uint8_t i = 0; i < effect->param_count; i++) {
        if (effect->params[i].kind == GLANZ_PARAM_RATE) {
            return i;
        }
    }
    return -1;
}

/* Open with one look, its standard numbers but for what `settings` say. */
static void open_with(int surface, GLANZ_CONST struct glanz_effect *effect, GLANZ_CONST struct glanz_gradient *gradient,
                      const struct glanz_setting *settings, uint8_t count) {
    struct glanz_change at_once = {0, 0, 1};
    static struct glanz_look look;
    memset(&look, 0, sizeof look);
    stage_must_open(&stage, surfaces[surface].rig, show);
    frame(surface, 0);
    ck_assert_int_eq(glanz_engine_clock(glanz_device_engine(stage.device), 20000, 40000), GLANZ_OK);
    look.name = "look";
    look.effect = effect;
    look.gradient = gradient;
    look.settings = settings;
    look.setting_count = count;
    for (uint16_t i = 0; i < stage.show->look_count; i++) {
        look.content = stage.show->looks[i].effect == effect ? stage.show->looks[i].content : look.content;
    }
    ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 0, &look, at_once), GLANZ_OK);
}

/* ---- the laws, a cell each ---- */

/* L7: the largest difference of a level at equal times, between 200 frames a second and fewer, in 255ths. */
static double rate_free(int surface, GLANZ_CONST struct glanz_effect *effect) {
    static struct glanz_light wanted[200];
    static const uint64_t rates[] = {200, 100, 50, 25};
    double most = 0;
    for (int r = 0; r < 4; r++) {
        open_with(surface, effect, NULL, NULL, 0);
        for (uint64_t us = 0; us < 3000000; us += 1000000 / rates[r]) {
            frame(surface, us + 1000000 / rates[r]);
        }
        for (int i = 0; i < surfaces[surface].leds; i++) {
            double off = abs(lights[i].green - wanted[i].green) / 257.0;
            most = r > 0 && off > most ? off : most;
        }
        memcpy(wanted, lights, r == 0 ? sizeof lights : 0);
        stage_close(&stage);
    }
    return most;
}

/* How much all LEDs change in a frame, on average, at so many times the standard speed, over the same part of a pass. */
static double liveliness(int surface, GLANZ_CONST struct glanz_effect *effect, int rate, int times) {
    struct glanz_light before[200];
    struct glanz_setting setting = {(uint8_t)rate, effect->params[rate].unit, effect->params[rate].standard};
    setting.number = setting.number == 0 ? GLANZ_FIXED(3) : setting.number; /* it stands of itself */
    setting.number = setting.unit == GLANZ_UNIT_PASS_TIME ? setting.number / times : setting.number * times;
    double sum = 0;
    open_with(surface, effect, NULL, &setting, 1);
    for (int i = 1; i <= 500 / times; i++) {
        memcpy(before, lights, sizeof before);
        frame(surface, (uint64_t)i * 10000);
        for (int k = 0; i > 100 / times && k < surfaces[surface].leds; k++) {
            sum += abs(lights[k].red - before[k].red) + abs(lights[k].green - before[k].green) +
                   abs(lights[k].blue - before[k].blue);
        }
    }
    stage_close(&stage);
    return sum / 65535 / 400 * times;
}

/* With a green palette and other colours black, the part of the light that is not green; 2 where there is none at all. */
static double beside_the_palette(int surface, GLANZ_CONST struct glanz_effect *effect) {
    static struct glanz_stop stops[3] = {{0, {0, 6000, 0}, 0}, {30000, {0, 65535, 0}, 0}, {65535, {0, 30000, 0}, 0}};
    static struct glanz_gradient green;
    struct glanz_setting settings[GLANZ_PARAMS];
    uint8_t count = 0;
    glanz_gradient_index(&green, stops, 3);
    for (uint8_t i = 0; i < effect->param_count; i++) {
        if (effect->params[i].kind == GLANZ_PARAM_COLOR) {
            settings[count++] = (struct glanz_setting){i, GLANZ_UNIT_NONE, (int32_t)GLANZ_RGB(0, 0, 0)};
        }
    }
    double all = 0;
    double other = 0;
    open_with(surface, effect, &green, settings, count);
    for (int i = 1; i <= 150; i++) {
        frame(surface, (uint64_t)i * 20000);
        for (int k = 0; k < surfaces[surface].leds; k++) {
            all += lights[k].red + lights[k].green + lights[k].blue;
            other += lights[k].red + lights[k].blue;
        }
    }
    stage_close(&stage);
    return all == 0 ? 2 : other / all;
}

/* How much larger the step over the seam is than between other neighbours, on average over time. */
static double seam(int surface, GLANZ_CONST struct glanz_effect *effect) {
    double over = 0;
    double else_where = 0;
    int across = surfaces[surface].across;
    open_with(surface, effect, NULL, NULL, 0);
    for (int i = 1; i <= 400; i++) {
        frame(surface, (uint64_t)i * 50000);
        for (int k = 0; k < surfaces[surface].leds; k++) {
            int last = k % across == across - 1;
            const struct glanz_light *next = last ? &lights[k + 1 - across] : &lights[k + 1];
            double step =
                abs(lights[k].red - next->red) + abs(lights[k].green - next->green) + abs(lights[k].blue - next->blue);
            over += last ? step : 0;
            else_where += last ? 0 : step / (across - 1);
        }
    }
    stage_close(&stage);
    return over == 0 ? 0 : over / else_where;
}

/* By how many percent the light of all LEDs together leaves its mean, at the most. */
static double unsteady(int surface, GLANZ_CONST struct glanz_effect *effect) {
    static double sums[300];
    double mean = 0;
    double most = 0;
    open_with(surface, effect, NULL, NULL, 0);
    for (int i = 0; i < 300; i++) {
        sums[i] = 0;
        frame(surface, 1000000u + (uint64_t)i * 37000);
        for (int k = 0; k < surfaces[surface].leds; k++) {
            sums[i] += lights[k].red + lights[k].green + lights[k].blue;
        }
        mean += sums[i] / 300;
    }
    stage_close(&stage);
    for (int i = 0; i < 300; i++) {
        most = fmax(most, mean == 0 ? 100 : 100 * fabs(sums[i] / mean - 1));
    }
    return most;
}

/* What moves round and neither grows nor shrinks keeps its light; on an open surface it goes off the end. */
static const struct exempt steady[] = {
    {"plain", ""}, {"walker", ""}, {"comet", ""},  {"escort", ""}, {"procession", ""}, {"pattern", ""},
    {"flow", ""},  {"swell", ""},  {"needle", ""}, {"bars", ""},   {"helix", ""},      {"rope", ""},
};
/* L7 is not for what hangs on when frames come. */
static const struct exempt not_faster[] = {
    {"breathing", "one level"}, {"sea mark", "a rhythm"}, {"picture", "stands"}, {"tidemark", "a level"}, {"filling", "ends"},
};
static const struct exempt not_by_palette[] = {{"text", "own color"}};
/* on a ring, along it is up */
static const struct exempt not_on_rings[] = {
    {"spokes", "a middle"},    {"fire", "upright"},   {"rain", "upright"},   {"fountain", "upright"}, {"marbles", "upright"},
    {"snowfall", "upright"},   {"surf", "upright"},   {"weed", "upright"},   {"text", "letters"},     {"picture", "points"},
    {"marked", "by hand"},     {"pattern", "blocks"}, {"needle", "a point"}, {"gauge", "a scale"},    {"filling", "has ends"},
    {"tidemark", "a history"}, {"stars", "a middle"}, {"ripples", "rings"},  {"fireworks", "sparks"}, {"clock face", "points"},
    {"lanterns", "a row"},
};
static const struct exempt not_on_drums[] = {
    {"text", "letters"},  {"picture", "points"},   {"marked", "by hand"},     {"pattern", "blocks"}, {"needle", "a point"},
    {"gauge", "a scale"}, {"filling", "has ends"}, {"tidemark", "a history"}, {"stars", "a middle"}, {"spokes", "a middle"},
    {"ripples", "rings"}, {"fireworks", "sparks"}, {"fountain", "a middle"},  {"marbles", "walls"},  {"clock face", "a middle"},
};

static int cell(const char *effect, const char *law, int surface, double value, double bound, const char *why, int above) {
    if (why != NULL) {
        printf(" %12s", why);
        return 0;
    }
    printf(" %12.2f", value);
    int good = above ? value >= bound : value <= bound;
    if (!good) {
        fprintf(stderr, "%s, %s on a %s: %f, expected at %s %f\n", effect, law, surfaces[surface].name, value,
                above ? "least" : "most", bound);
    }
    return !good;
}

START_TEST(every_effect_keeps_the_laws) {
    int failed = 0;
    int effects = 0;
    printf("%-14s %-6s %12s %12s %12s %12s %12s\n", "effect", "on a", "L1, percent", "L7, of 255", "twice as fast",
           "off palette", "seam");
    for (int e = 0; glanz_effects[e] != NULL; e++) {
        GLANZ_CONST struct glanz_effect *effect = glanz_effects[e];
        if ((effect->needs & GLANZ_NEEDS_SOUND) != 0) {
            continue; /* without sound they are dark: tests/test_hearing.c */
        }
        effects++;
        int rate = rate_of(effect);
        for (int s = 0; s < SURFACES; s++) {
            printf("%-14s %-6s", effect->name, surfaces[s].name);
            const char *lives = s != RING && s != DRUM ? "open" : EXEMPT(steady, effect->name) == NULL ? "lives" : NULL;
            lives = s == DRUM && strcmp(effect->name, "helix") == 0 ? "depth" : lives;
            failed += cell(effect->name, "L1", s, lives == NULL ? unsteady(s, effect) : 0, 1, lives, 0);
            failed += cell(effect->name, "L7", s, rate_free(s, effect), 17, NULL, 0);
            const char *why = rate < 0 ? "no speed" : EXEMPT(not_faster, effect->name);
            double slow = why == NULL ? liveliness(s, effect, rate, 1) : 0;
            double fast = why == NULL ? liveliness(s, effect, rate, 2) : 0;
            failed += cell(effect->name, "twice as fast", s, slow == 0 ? 0 : fast / slow, 1.4, why, 1);
            why = (effect->needs & GLANZ_NEEDS_GRADIENT) == 0 ? "no palette" : EXEMPT(not_by_palette, effect->name);
            failed += cell(effect->name, "off the palette", s, why == NULL ? beside_the_palette(s, effect) : 0, 0, why, 0);
            why = s == RING ? EXEMPT(not_on_rings, effect->name) : s == DRUM ? EXEMPT(not_on_drums, effect->name) : "open";
            failed += cell(effect->name, "seam", s, why == NULL ? seam(s, effect) : 0, 2.5, why, 0);
            printf("\n");
        }
    }
    printf("%d effects on %d surfaces: %d cells fail\n", effects, SURFACES, failed);
    ck_assert_int_eq(failed, 0);
    ck_assert_int_ge(effects, 45);
}
END_TEST

/* At the smallest size that an effect says it looks right on, it shows something, and what moves is seen to move. */
START_TEST(the_smallest_size_shows_it) {
    for (int e = 0; glanz_effects[e] != NULL; e++) {
        GLANZ_CONST struct glanz_effect *effect = glanz_effects[e];
        if ((effect->needs & GLANZ_NEEDS_SOUND) != 0 || effect->shade_field == NULL) {
            continue;
        }
        char rig[500];
        int columns = effect->least_columns == 0 ? 1 : effect->least_columns;
        int rows = effect->least_rows == 0 ? 1 : effect->least_rows;
        int leds = columns * rows;
        snprintf(rig, sizeof rig,
                 RIG("%d", "{'grid':[{'output':'o','first':0,'columns':%d,'rows':%d,'first led':'top left','along':'rows'}]}"),
                 leds, columns, rows);
        struct glanz_change at_once = {0, 0, 1};
        struct glanz_look look;
        struct glanz_light before[200];
        memset(&look, 0, sizeof look);
        memset(before, 0, sizeof before);
        stage_must_open(&stage, rig, show);
        stage_frame(&stage, 0);
        ck_assert_int_eq(glanz_engine_clock(glanz_device_engine(stage.device), 20000, 40000), GLANZ_OK);
        look.name = "look";
        look.effect = effect;
        for (uint16_t i = 0; i < stage.show->look_count; i++) {
            look.content = stage.show->looks[i].effect == effect ? stage.show->looks[i].content : look.content;
        }
        ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 0, &look, at_once), GLANZ_OK);
        int most = 0;
        int moves = 0;
        for (int i = 1; i <= 600; i++) {
            stage_frame(&stage, (uint64_t)i * 20000);
            ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, lights, (uint16_t)leds), GLANZ_OK);
            moves += i > 1 && memcmp(before, lights, sizeof *lights * (size_t)leds) != 0;
            memcpy(before, lights, sizeof before);
            for (int k = 0; k < leds; k++) {
                most = lights[k].red > most ? lights[k].red : most;
                most = lights[k].green > most ? lights[k].green : most;
                most = lights[k].blue > most ? lights[k].blue : most;
            }
        }
        REQUIRE_MSG(most > 6000, "%s on %d x %d: no brighter than %d", effect->name, columns, rows, most);
        int rate = rate_of(effect);
        REQUIRE_MSG(rate < 0 || moves > 20 || EXEMPT(not_faster, effect->name) != NULL, "%s on %d x %d: %d of 600 frames move",
                    effect->name, columns, rows, moves);
        stage_close(&stage);
    }
}
END_TEST

/* ---- what effects tell ---- */

/* A sea mark's light over one period, in units: runs of light and dark, each so many units long, as text: "1 1 3 7". */
static void rhythm_of(char *out, size_t capacity, int character, int group, int letter, double units) {
    enum { FRAMES_OF = 1200 };
    struct glanz_setting settings[] = {
        {GLANZ_SEA_MARK_CHARACTER, GLANZ_UNIT_NONE, character}, {GLANZ_SEA_MARK_GROUP, GLANZ_UNIT_NONE, group},
        {GLANZ_SEA_MARK_LETTER, GLANZ_UNIT_NONE, letter},       {GLANZ_SEA_MARK_SOFT, GLANZ_UNIT_NONE, 0},
        {GLANZ_SEA_MARK_COLOR, GLANZ_UNIT_NONE, 0xFFFFFF},      {GLANZ_SEA_MARK_SPEED, GLANZ_UNIT_PASS_TIME, 12000}};
    size_t used = 0;
    int run = 0;
    int lit = 1;
    open_with(STRIP, &glanz_effect_sea_mark, NULL, settings, 6);
    for (int i = 0; i < FRAMES_OF; i++) { /* at the middle of each hundredth of a second */
        frame(STRIP, (uint64_t)i * 10000 + 5000);
        int now = lights[0].red > 32768;
        if (now != lit || i == FRAMES_OF - 1) {
            used +=
                (size_t)snprintf(out + used, capacity - used, "%s%ld", used == 0 ? "" : " ", lround(run * units / FRAMES_OF));
            run = 0;
            lit = now;
        }
        run++;
    }
    stage_close(&stage);
}

/* Morse code by the alphabet as it is printed, and the other characters by their numbers of flashes. */
START_TEST(sea_marks_keep_their_rhythm) {
    static const char *const alphabet[26] = {".-",   "-...", "-.-.", "-..",  ".",   "..-.", "--.",  "....", "..",
                                             ".---", "-.-",  ".-..", "--",   "-.",  "---",  ".--.", "--.-", ".-.",
                                             "...",  "-",    "..-",  "...-", ".--", "-..-", "-.--", "--.."};
    char got[200];
    for (int letter = 0; letter < 26; letter++) {
        char want[200] = "";
        int units = 6;
        for (const char *sign = alphabet[letter]; *sign != '\0'; sign++) {
            units += *sign == '-' ? 4 : 2;
            strcat(want, *sign == '-' ? "3 " : "1 ");
            strcat(want, sign[1] == '\0' ? "7" : "1 ");
        }
        rhythm_of(got, sizeof got, 8, 1, letter, units);
        REQUIRE_MSG(strcmp(got, want) == 0, "%c: %s, expected %s", 'A' + letter, got, want);
    }
    static const struct {
        int character, group;
        double units;
        const char *want;
    } others[] = {
        {1, 1, 6, "3 3"},                                  /* isophase */
        {2, 1, 7, "1 6"},                                  /* flashing */
        {2, 3, 13, "1 2 1 2 1 6"},                         /* group flashing */
        {3, 1, 9, "2 7"},                                  /* long flashing */
        {4, 2, 10, "0 1 2 1 6"},                           /* group occulting: dark first */
        {5, 1, 5, "2 3"},                                  /* quick */
        {6, 3, 50, "2 3 2 3 2 38"},                        /* group quick, in halves of a unit */
        {7, 6, 75, "2 3 2 3 2 3 2 3 2 3 2 5 10 33"},       /* with a long flash */
        {2, 9, 31, "1 2 1 2 1 2 1 2 1 2 1 2 1 2 1 2 1 6"}, /* as many as there can be */
    };
    for (size_t i = 0; i < sizeof others / sizeof others[0]; i++) {
        rhythm_of(got, sizeof got, others[i].character, others[i].group, 0, others[i].units);
        REQUIRE_MSG(strcmp(got, others[i].want) == 0, "character %d, group %d: %s, expected %s", others[i].character,
                    others[i].group, got, others[i].want);
    }
}
END_TEST

/* Each hand of a clock on a ring of 48 stands where its time is. */
START_TEST(a_clock_tells_the_time) {
    static const uint32_t times[] = {0,    1, 59, 3600 * 3, 3600 * 9 + 30 * 60 + 15, 3600 * 11 + 59 * 60 + 59, 3600 * 17 + 45,
                                     86399};
    for (size_t t = 0; t < sizeof times / sizeof times[0]; t++) {
        for (int hand = 0; hand < 3; hand++) {
            struct glanz_setting settings[] = {{GLANZ_CLOCK_FACE_HOUR, GLANZ_UNIT_NONE, hand == 0 ? 0xFFFFFF : 0},
                                               {GLANZ_CLOCK_FACE_MINUTE, GLANZ_UNIT_NONE, hand == 1 ? 0xFFFFFF : 0},
                                               {GLANZ_CLOCK_FACE_SECOND, GLANZ_UNIT_NONE, hand == 2 ? 0xFFFFFF : 0},
                                               {GLANZ_CLOCK_FACE_MARKS, GLANZ_UNIT_NONE, 0},
                                               {GLANZ_CLOCK_FACE_SWEEP, GLANZ_UNIT_NONE, 0}};
            open_with(RING, &glanz_effect_clock_face, NULL, settings, 5);
            ck_assert_int_eq(glanz_engine_clock(glanz_device_engine(stage.device), 20000, times[t]), GLANZ_OK);
            frame(RING, 10000);
            double across = 0;
            double up = 0;
            double all = 0;
            for (int k = 0; k < 48; k++) { /* the middle of its light */
                across += lights[k].red * sin(k * 6.283185307 / 48);
                up += lights[k].red * cos(k * 6.283185307 / 48);
                all += lights[k].red;
            }
            double is = fmod(atan2(across, up) / 6.283185307 * 48 + 48, 48);
            double period = hand == 0 ? 43200 : hand == 1 ? 3600 : 60;
            double want = fmod(times[t], period) / period * 48;
            double off = fabs(is - want);
            off = off > 24 ? 48 - off : off;
            REQUIRE_MSG(all > 30000 && off < 0.1,
                        /* what is 1.3 LEDs wide has its middle there within that */ "%u s, hand %d: at %f, expected %f",
                        (unsigned)times[t], hand, is, want);
            stage_close(&stage);
        }
    }
}
END_TEST

/* ---- where palettes run ---- */

static const char *const runs_names[] = {"by effect", "through time", "along", "across", "outward", "around"};

/* How much blue there should be beside red where a palette from red to blue runs that way, over a grid of 16 x 8. */
static double share_at(int runs, int led, double seconds) {
    double x = led % 16 + 0.5;
    double y = led / 16 + 0.5;
    double part = runs == GLANZ_RUNS_ALONG     ? x / 16
                  : runs == GLANZ_RUNS_ACROSS  ? y / 8
                  : runs == GLANZ_RUNS_OUTWARD ? hypot(x - 8, y - 4) / hypot(8, 4)
                  : runs == GLANZ_RUNS_AROUND  ? fmod(atan2(x - 8, 4 - y) / 6.283185307 + 1, 1)
                                               : 0;
    part = fmod(part - seconds / 20 + 1, 1); /* it moves on once in 20 s */
    return part;
}

/* Whatever an effect draws over black has the palette's colour at its place and time: in its coverage, in its memory, as
 * letters, with a palette of its own or without. */
START_TEST(palettes_run_where_they_are_told) {
    static struct glanz_stop stops[2] = {{0, {65535, 0, 0}, 0}, {65535, {0, 0, 65535}, 0}};
    static struct glanz_gradient gradient;
    int seen = 0;
    for (int e = 0; glanz_effects[e] != NULL; e++) {
        GLANZ_CONST struct glanz_effect *effect = glanz_effects[e];
        if ((effect->needs & GLANZ_NEEDS_SOUND) != 0 || effect == &glanz_effect_picture || effect == &glanz_effect_marked ||
            effect == &glanz_effect_pattern) { /* those have colours of their own content */
            continue;
        }
        struct glanz_setting settings[GLANZ_PARAMS];
        uint8_t count = 0;
        for (uint8_t i = 0; i < effect->param_count; i++) {
            if (effect->params[i].kind == GLANZ_PARAM_COLOR) {
                settings[count++] = (struct glanz_setting){
                    i, GLANZ_UNIT_NONE, (int32_t)(strcmp(effect->params[i].name, "background") == 0 ? 0 : 0xFFFFFF)};
            }
        }
        for (int runs = GLANZ_RUNS_THROUGH_TIME; runs <= GLANZ_RUNS_AROUND; runs++) {
            memset(&gradient, 0, sizeof gradient);
            glanz_gradient_index(&gradient, stops, 2);
            gradient.runs = (uint8_t)runs;
            gradient.pass_ms = 20000;
            int lit = 0;
            open_with(GRID, effect, &gradient, settings, count);
            for (int i = 1; i <= 200; i++) {
                frame(GRID, (uint64_t)i * 20000);
                for (int k = 0; i % 10 == 0 && k < 128; k++) {
                    double all = lights[k].red + lights[k].blue;
                    double off = fabs(lights[k].blue / all - share_at(runs, k, i / 50.0));
                    off = off > 0.5 ? 1 - off : off; /* where it begins again */
                    lit += all > 3000;
                    REQUIRE_MSG(all < 3000 || off < 0.02, "%s, %s, LED %d, frame %d: %f off", effect->name, runs_names[runs], k,
                                i, off);
                    REQUIRE_MSG(lights[k].green < 200, "%s, %s: green %u", effect->name, runs_names[runs], lights[k].green);
                }
            }
            seen += lit > 0;
            stage_close(&stage);
        }
    }
    ck_assert_int_gt(seen, 200);
    printf("palettes run by time and place: %d cases\n", seen);
}
END_TEST

/* Round a ring and a drum there is no seam; where a palette stands for the background too, that shows where nothing is drawn.
 */
START_TEST(palettes_go_round_and_leave_the_background) {
    static struct glanz_stop stops[3] = {{0, {65535, 0, 0}, 0}, {40000, {0, 65535, 0}, 0}, {65535, {0, 0, 65535}, 0}};
    static struct glanz_gradient gradient;
    memset(&gradient, 0, sizeof gradient);
    glanz_gradient_index(&gradient, stops, 3);
    gradient.runs = GLANZ_RUNS_AROUND;
    gradient.folded = 1;
    gradient.span = 65535 / 5;
    for (int s = RING; s <= DRUM; s += DRUM - RING) {
        open_with(s, &glanz_effect_plain, &gradient, NULL, 0);
        frame(s, 20000);
        int most[2] = {0, 0};
        for (int k = 0; k < surfaces[s].across; k++) {
            int last = k == surfaces[s].across - 1;
            int step = abs(lights[k].green - lights[last ? 0 : k + 1].green);
            most[last] = step > most[last] ? step : most[last];
        }
        REQUIRE_MSG(most[1] <= most[0] && most[0] > 1000, "%s: %d over the seam, %d elsewhere", surfaces[s].name, most[1],
                    most[0]);
        stage_close(&stage);
    }
    struct glanz_setting settings[] = {{GLANZ_WALKER_BACKGROUND, GLANZ_UNIT_NONE, (int32_t)GLANZ_RGB(0, 0, 255)},
                                       {GLANZ_WALKER_SIZE, GLANZ_UNIT_LEDS, GLANZ_FIXED(4)}};
    gradient.runs = GLANZ_RUNS_THROUGH_TIME;
    open_with(STRIP, &glanz_effect_walker, &gradient, settings, 2);
    for (int i = 1; i < 60; i++) {
        frame(STRIP, (uint64_t)i * 20000);
        double red = 0;
        double blue = 0;
        for (int k = 0; k < 60; k++) {
            red += lights[k].red / 65535.0;
            blue += lights[k].blue / 65535.0;
            ck_assert_uint_eq(lights[k].green, 0);
        }
        REQUIRE_MSG(fabs(red + blue - 60) < 0.05, "frame %d: %f and %f", i, red, blue); /* it covers, and adds nothing */
    }
    stage_close(&stage);
}
END_TEST

/* At 30 and at 400 frames a second a palette is where the time says; frozen it stands, and goes on from there. */
START_TEST(palettes_move_by_the_time) {
    static const char moving[] =
        "{'show':'t','brightness':'100 %','change':'0 s','palettes':{'p':{'stops':[{'at':'0 %','color':'#ff0000'},{'at':'100 "
        "%','color':'#0000ff'}],'between':'light','runs':'through time','period':'10 "
        "s'}},'looks':{'l':{'effect':'plain','palette':"
        "'p'}},'segments':{'x':{'surface':'a','look':'l'}}}";
    static const uint64_t rates[] = {30, 400};
    for (int r = 0; r < 2; r++) {
        stage_must_open(&stage, surfaces[STRIP].rig, moving);
        uint64_t step = 1000000 / rates[r];
        uint64_t us = 0;
        double stood = 0;
        for (; us < 8000000; us += step) { /* frozen from 3 to 5 seconds */
            if (us >= 3000000 && us < 3000000 + step) {
                stage_do(&stage, "{'freeze':true}");
            }
            if (us >= 5000000 && us < 5000000 + step) {
                stage_do(&stage, "{'freeze':true,'on':false}");
            }
            frame(STRIP, us);
            double at = lights[7].blue / 65535.0 * 10;
            at = fmod(10 - at, 10); /* it moves on: what was behind comes */
            double want = us < 3000000 ? us / 1e6 : us < 5000000 ? 3 : us / 1e6 - 2;
            double off = fabs(at - want);
            off = off > 5 ? 10 - off : off;
            REQUIRE_MSG(off < 0.01 + 2.0 * (double)step / 1e6 * (us >= 3000000), "%u frames/s, %f s: at %f, expected %f",
                        (unsigned)rates[r], (double)us / 1e6, at, want);
            REQUIRE_MSG(us < 3100000 || us > 4900000 || stood == 0 || at == stood, "%f s: it moves while frozen",
                        (double)us / 1e6);
            stood = us > 3100000 && us < 4900000 ? at : 0;
        }
        stage_close(&stage);
    }
}
END_TEST

/* ---- windows ---- */

#define WINDOWS_COLUMNS 26
#define WINDOWS_ROWS 12
static const char whole_rig[] =
    RIG("312", "{'grid':[{'output':'o','first':0,'columns':26,'rows':12,'first led':'top left','along':'rows'}]}");
static const char parts_rig[] =
    RIG("222", "{'grid':[{'output':'o','first':0,'columns':10,'rows':10,'first led':'top left','along':'rows','zigzag':true}]},"
               "'b':{'grid':[{'output':'o','first':100,'columns':8,'rows':12,'first led':'bottom right','along':'columns'}]},"
               "'c':{'strip':[{'output':'o','first':196,'leds':26}]}");

/* Where a LED of the parts lies in the whole, row by row. */
static int in_the_whole(int segment, int led) {
    int column = segment == 0 ? (led / 10 % 2 ? 9 - led % 10 : led % 10) : segment == 1 ? 7 - led / 12 + 16 : led;
    int row = segment == 0 ? led / 10 + 1 : segment == 1 ? 11 - led % 12 : 11;
    return row * WINDOWS_COLUMNS + column;
}

static void show_in_windows(const char *rig, const char *segments, GLANZ_CONST struct glanz_effect *effect, int mapping) {
    static const char *const lies[] = {NULL, "across", "outward", "rows", "around", NULL};
    static char text[2400];
    static struct glanz_look look;
    struct glanz_change at_once = {0, 0, 1};
    char lying[40] = "";
    if (lies[mapping] != NULL) {
        snprintf(lying, sizeof lying, ",'lies':'%s'", lies[mapping]);
    }
    int length = (int)(strstr(show, "'segments'") - show);
    int used = snprintf(text, sizeof text, "%.*s'segments':{", length, show);
    for (const char *at = segments; *at != '\0'; at++) { /* a $ is where effects lie */
        used += snprintf(text + used, sizeof text - (size_t)used, *at == '$' ? "%s" : "%.1s", *at == '$' ? lying : at);
    }
    snprintf(text + used, sizeof text - (size_t)used, "}}");
    stage_must_open(&stage, rig, text);
    stage_frame(&stage, 0);
    ck_assert_int_eq(glanz_engine_clock(glanz_device_engine(stage.device), 20000, 40000), GLANZ_OK);
    memset(&look, 0, sizeof look);
    look.name = "look";
    look.effect = effect;
    look.gradient = mapping == 5 ? stage.show->palettes[0].gradient : NULL;
    for (uint16_t i = 0; i < stage.show->look_count; i++) {
        look.content = stage.show->looks[i].effect == effect ? stage.show->looks[i].content : look.content;
    }
    for (uint8_t s = 0; s < stage.show->segment_count; s++) {
        ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), s, &look, at_once), GLANZ_OK);
    }
}

/* What three segments show through their windows is, LED for LED, what one segment shows on the whole field: each effect, as it
 * lies by itself and otherwise. */
START_TEST(windows_show_parts_of_one_field) {
    static struct glanz_light wanted[4][WINDOWS_COLUMNS * WINDOWS_ROWS];
    static struct glanz_light seen[WINDOWS_COLUMNS * WINDOWS_ROWS];
    int lit = 0;
    for (int e = 0; glanz_effects[e] != NULL; e++) {
        GLANZ_CONST struct glanz_effect *effect = glanz_effects[e];
        if ((effect->needs & GLANZ_NEEDS_INDEX) != 0) {
            continue; /* counts LEDs along the data line */
        }
        for (int mapping = 0; mapping < 6; mapping++) { /* the last: with a palette that runs around */
            for (int parts = 0; parts < 2; parts++) {
                show_in_windows(parts ? parts_rig : whole_rig,
                                parts ? "'a':{'surface':'a','seed':5,'within':{'columns':26,'rows':12,'top':1}$},"
                                        "'b':{'surface':'b','seed':5,'within':{'columns':26,'rows':12,'left':16}$},"
                                        "'c':{'surface':'c','seed':5,'within':{'columns':26,'rows':12,'top':11}$}"
                                      : "'a':{'surface':'a','seed':5$}",
                                effect, mapping);
                for (int frame = 1; frame <= 200; frame++) {
                    stage_frame(&stage, (uint64_t)frame * 10000);
                    for (uint8_t s = 0; frame % 50 == 0 && s < stage.show->segment_count; s++) {
                        static const uint16_t first[] = {0, 100, 196, 222};
                        uint16_t leds = parts ? (uint16_t)(first[s + 1] - first[s]) : 312;
                        ck_assert_int_eq(
                            glanz_engine_light(glanz_device_engine(stage.device), 0, parts ? first[s] : 0, seen, leds),
                            GLANZ_OK);
                        for (int i = 0; parts && i < leds; i++) {
                            const struct glanz_light *want = &wanted[frame / 50 - 1][in_the_whole(s, i)];
                            lit += want->red != 0 || want->green != 0 || want->blue != 0;
                            ck_assert_msg(memcmp(want, &seen[i], sizeof *want) == 0,
                                          "%s, %d, segment %u, LED %d, frame %d: %u, not %u", effect->name, mapping, s, i,
                                          frame, seen[i].green, want->green);
                        }
                        if (!parts) {
                            memcpy(wanted[frame / 50 - 1], seen, sizeof wanted[0]);
                        }
                    }
                }
                stage_close(&stage);
            }
        }
    }
    ck_assert_int_gt(lit, 40000);
}
END_TEST

Suite *catalogue_suite(void) {
    Suite *suite = suite_create("catalogue");
    TCase *laws = tcase_create("laws");
    tcase_add_checked_fixture(laws, NULL, teardown);
    tcase_set_timeout(laws, 600);
    tcase_add_test(laws, every_effect_keeps_the_laws);
    tcase_add_test(laws, the_smallest_size_shows_it);
    tcase_add_test(laws, sea_marks_keep_their_rhythm);
    tcase_add_test(laws, a_clock_tells_the_time);
    tcase_add_test(laws, windows_show_parts_of_one_field);
    tcase_add_test(laws, palettes_run_where_they_are_told);
    tcase_add_test(laws, palettes_go_round_and_leave_the_background);
    tcase_add_test(laws, palettes_move_by_the_time);
    suite_add_tcase(suite, laws);
    return suite;
}
