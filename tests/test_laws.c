/* SPDX-License-Identifier: MIT */
/* The laws of light, on wire bytes: conservation, even fades, true means, crossfades, the current limit, the frame rate. */
#include <check.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "stage.h"
#include "suites.h"

static struct stage stage;

static void teardown(void) {
    stage_close(&stage);
}

/* L1: a bar of 2.4 LEDs at 0.37 LEDs/s carries the same light at every position. */
START_TEST(bar_keeps_its_light) {
    stage_must_open(&stage, strip_rig(40),
                    "{'show':'t','brightness':'100 %','looks':{'l':{'effect':'walker','color':'#ffffff','size':'2.4 "
                    "leds','speed':'0.37 leds/s'}},"
                    "'segments':{'s':{'surface':'a','look':'l'}}}");
    stage_run(&stage, 0, 12000000, 100); /* until the whole bar is on the strip */
    double sum = 0;
    double lowest = 1e9;
    double highest = 0;
    int windows = 100;
    for (int window = 0; window < windows; window++) {
        double light = 0;
        for (int frame = 0; frame < 64; frame++) {
            stage_frame(&stage, 12000000u + (uint64_t)(window * 64 + frame) * 10000u);
            light += stage_sum(&stage, 0, 0);
        }
        light /= 64;
        sum += light;
        lowest = light < lowest ? light : lowest;
        highest = light > highest ? light : highest;
    }
    double mean = sum / windows;
    REQUIRE_MSG(fabs(mean / 255 - 2.4) < 0.024, "mean %f LEDs", mean / 255);
    REQUIRE_MSG(highest - mean < mean * 0.01 && mean - lowest < mean * 0.01, "%f to %f, mean %f", lowest, highest, mean);
}
END_TEST

static double luminance(double lightness) { /* CIE L* 0..1 to Y 0..1 */
    double l = lightness * 100;
    return l <= 8 ? l / 903.2963 : pow((l + 16) / 116, 3);
}

/* L2: a fade of 10 s to dark, however it comes. The mean over each dither period and 16 neighbours is the wanted curve within
 * half a dither step, and never rises, but for what sharing among 16 leaves: a sixteenth of a dither step; at three frame
 * rates, from full and from 5 %. */
enum way { BY_BRIGHTNESS, BY_SWITCH, BY_DARK_ITEM, BY_SLEEP, WAYS };
static const struct {
    double from;
    uint32_t rate;
    int depth; /* the least */
} fades[] = {{1.0, 60, 1}, {1.0, 100, 2}, {1.0, 400, 4}, {0.05, 60, 1}, {0.05, 100, 2}, {0.05, 400, 4}};

START_TEST(fade_is_even) {
    static double worst[WAYS];
    enum way way = (enum way)(_i % WAYS);
    double from = fades[_i / WAYS].from;
    uint32_t rate = fades[_i / WAYS].rate;
    char show[700];
    snprintf(
        show, sizeof show,
        "{'show':'t','brightness':'%g %%','looks':{'l':{'effect':'plain','color':'#ffffff'}},'segments':{'s':{'surface':'a',"
        "'look':'l'}},'presets':{'p':{'s':'l'}},'playlists':{'r':{'items':[{'preset':'p','hold':'1 s','fade':'0 s'},"
        "{'dark':true,'hold':'20 s','fade':'10 s'}],'rounds':1}}}",
        from * 100);
    stage_must_open(&stage, strip_rig(64), show);
    uint64_t frame = 0;
    for (; frame < rate * 3u; frame++) {
        stage_frame(&stage, frame * 1000000u / rate);
    }
    stage.now_us += 1234; /* between two frames */
    double start = (double)glanz_device_now(stage.device) / 1e6;
    switch (way) {
    case BY_BRIGHTNESS: stage_do(&stage, "{'brightness':'0 %','over':'10 s'}"); break;
    case BY_SWITCH: stage_do(&stage, "{'switch':'s','on':false,'over':'10 s'}"); break;
    case BY_DARK_ITEM:
        stage_do(&stage, "{'play':'r'}");
        start += 1;
        break;
    case BY_SLEEP:
    default: stage_do(&stage, "{'sleep':'10 s'}"); break;
    }
    int period = 0;
    int depth = 0;
    double got[4] = {0};
    double want = 0;
    double last[4] = {99, 99, 99, 99};
    int frames = 0;
    for (uint64_t n = 0; n < rate * 12u; n++, frame++) {
        unsigned before = stage.sent;
        stage_frame(&stage, frame * 1000000u / rate);
        double now = (double)(frame * 1000000u / rate) / 1e6;
        if (stage.sent == before && now > start + 10) {
            break; /* dark and still: nothing more is sent */
        }
        struct glanz_dither dither = glanz_engine_dither(glanz_device_engine(stage.device));
        if (dither.at == 0 && frames != 0) {
            ck_assert_int_ge(depth, fades[_i / WAYS].depth);
            for (int g = 0; g < 4; g++) {
                double error = fabs(got[g] / 16 - want) / frames * period * 255; /* in dither steps */
                worst[way] = error > worst[way] ? error : worst[way];
                REQUIRE_MSG(error <= 0.5, "way %d, group %d at %.3f s: off by %f dither steps", way, g, now - start, error);
                REQUIRE_MSG(got[g] / frames <= last[g] + 1.0 / 16 * 16 / period / 255 || now < start,
                            "way %d, group %d rises at %.3f s", way, g, now - start);
                last[g] = got[g] / frames;
                got[g] = 0;
            }
            want = 0;
            frames = 0;
        }
        depth = dither.depth;
        period = 1 << depth;
        frames++;
        double left = now < start ? 1 : now >= start + 10 ? 0 : 1 - (now - start) / 10;
        want += way == BY_BRIGHTNESS || way == BY_SLEEP ? luminance(from * left) : luminance(from) * luminance(left);
        for (uint16_t i = 0; i < 64; i++) {
            got[i / 16] += stage_led(&stage, 0, i, 1) / 255.0;
        }
    }
    ck_assert_uint_eq(stage_sum(&stage, 0, 0), 0);
    if (_i == 6 * WAYS - 1 || getenv("CK_FORK") == NULL) {
        printf("even fades, way %d from %g at %u frames/s: at most %.3f dither steps off\n", way, from, rate, worst[way]);
    }
}
END_TEST

/* The way back is even too, from the middle of going dark as well: equal steps of lightness in equal times, no jump. */
START_TEST(dark_and_back_is_even) {
    char rig[700];
    snprintf(rig, sizeof rig, "{'rig':'t','lowest blink':'none',%s", strip_rig(64) + strlen("{'rig':'test',"));
    stage_must_open(&stage, rig,
                    "{'show':'t','brightness':'100 %','looks':{'l':{'effect':'plain','color':'#ffffff'}},"
                    "'segments':{'s':{'surface':'a','look':'l'}},'presets':{'p':{'s':'l'}}}");
    stage_run(&stage, 0, 2000000, 100);
    static const char *const actions[] = {NULL, "{'recall':'p','over':'4 s'}", "{'switch':'s','on':false,'over':'4 s'}",
                                          "{'switch':'s','on':true,'over':'4 s'}"};
    uint64_t now = 2000000;
    double level = 1;
    for (int turn = 0; turn < 8; turn++) {
        const char *action = actions[turn / 4 * 2 + turn % 2];
        if (action != NULL) {
            stage_do(&stage, action);
        } else { /* a dark look */
            struct glanz_change change = {glanz_device_now(stage.device), 4000, 0};
            ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 0, NULL, change), GLANZ_OK);
        }
        double goal = turn % 2 == 0 ? 0 : 1;
        double begin = level;
        int whole = turn % 4 > 0; /* the first time it turns back half-way */
        for (int i = 1; i <= (whole ? 400 : 200); i++) {
            now += 10000;
            stage_frame(&stage, now);
            double sum = stage_sum(&stage, 0, 0) / 64.0 / 255;
            level = begin + (goal - begin) * i / 400;
            REQUIRE_MSG(fabs(sum - luminance(level)) < 0.004 + luminance(level) * 0.01, "turn %d, frame %d: %f, wanted %f",
                        turn, i, sum, luminance(level));
        }
    }
}
END_TEST

/* L2, blink guard off: means of 64 frames within 1/12,000 of full. */
START_TEST(free_dither_is_fine) {
    char rig[600];
    snprintf(rig, sizeof rig, "{'rig':'t','lowest blink':'none',%s", strip_rig(4) + strlen("{'rig':'test',"));
    stage_must_open(&stage, rig,
                    "{'show':'t','brightness':'100 "
                    "%','looks':{'l':{'effect':'plain','color':'#ffffff'}},'segments':{'s':{'surface':'a','look':'l'}}}");
    stage_run(&stage, 0, 2000000, 100);
    struct glanz_action action = {.kind = &glanz_action_brightness, .target = GLANZ_ALL, .over_ms = 20000};
    ck_assert_int_eq(glanz_device_act(stage.device, &action), GLANZ_OK);
    double start = (double)glanz_device_clock(stage.device) / 1e6;
    for (int window = 0; window < 30; window++) {
        double got = 0;
        double want = 0;
        for (int i = 0; i < 64; i++) {
            uint64_t now = 2000000u + (uint64_t)(window * 64 + i) * 10000u;
            stage_frame(&stage, now);
            double done = ((double)now / 1e6 - start) / 20;
            got += stage_led(&stage, 0, 0, 0) / 255.0;
            want += luminance(1 - done);
        }
        REQUIRE_MSG(fabs(got - want) / 64 < 1.0 / 12000, "window %d: %f, wanted %f", window, got / 64, want / 64);
    }
}
END_TEST

/* L3: every level held still: the mean of a period on each LED and over 16 neighbours, one chip step at the most, neighbours
 * that share the steps out evenly in every frame, and what says that it may stand still. */
static void check_level(uint32_t level, uint8_t depth, uint8_t equal) {
    static uint8_t bytes[64 * 3];
    static uint8_t remainders[64 * 3];
    static struct glanz_light light[64];
    const uint32_t gain[3] = {65536, 65536, 65536};
    struct glanz_tally tally;
    struct glanz_dither dither = {0, depth, 0, equal, 0};
    int period = 1 << depth;
    int sums[64][3] = {{0}};
    int floors = (int)floor(level * 255.0 / 65535 + 1e-9);
    double wanted = level * 255.0 / 65535;
    int changes[3] = {0};
    memset(&tally, 0, sizeof tally);
    for (int i = 0; i < 64; i++) {
        glanz_light_put(&light[i], (uint16_t)level, (uint16_t)level, (uint16_t)level);
    }
    for (; dither.at < period; dither.at++) {
        int up[3] = {0};
        glanz_dither_begin(&dither, remainders, 3, 0, 64);
        glanz_dither_colors(&tally, bytes, remainders, GLANZ_ORDER(0, 1, 2, 3), light, gain, 64);
        for (int i = 0; i < 64; i++) {
            for (int c = 0; c < 3; c++) {
                int byte = bytes[i * 3 + c];
                REQUIRE_MSG(byte == floors || byte == floors + 1, "level %u: %d", level, byte);
                changes[c] |= dither.at > 0 && byte * (dither.at) != sums[i][c];
                sums[i][c] += byte;
                up[c] += byte - floors;
            }
        }
        for (int c = 0; c < 3 && !equal; c++) {
            REQUIRE_MSG(fabs(up[c] - 64 * (wanted - floors)) <= 1.26, "level %u, frame %d: %d of 64 up", level, dither.at,
                        up[c]);
        }
    }
    for (int c = 0; c < 3; c++) {
        double sixteen = 0;
        for (int i = 0; i < 64; i++) {
            double off = sums[i][c] - wanted * period; /* in dither steps */
            REQUIRE_MSG(fabs(off) <= (equal ? 0.5 + period / 512.0 : 1.0), "level %u, LED %d: %f steps off", level, i, off);
            sixteen += off - (i < 16 ? 0 : sums[i - 16][c] - wanted * period);
            REQUIRE_MSG(equal || i < 15 || fabs(sixteen / 16) <= 0.125, "level %u, up to LED %d: %f steps off", level, i,
                        sixteen / 16);
        }
        REQUIRE(glanz_dither_look(&dither, 0, (uint8_t)c, &light->red, 3, 65536, 64) == changes[c]);
    }
}

START_TEST(every_level_is_true) {
    for (uint32_t level = 0; level < 65536; level += test_slow() ? 5 : 1) { /* 65,535 is one of each */
        check_level(level, (uint8_t)(_i / 2), (uint8_t)(_i % 2));
    }
}
END_TEST

/* L3 on the wire: levels held still, also after a fade that ended there, at any frame rate and on any chip: nothing is still
 * before a whole period has shown what is wanted, and the mean stays true for ever. */
START_TEST(standing_levels_are_true) {
    static const uint32_t rates[] = {30, 60, 100, 200, 400};
    static const char *const chips[] = {"'chip':'WS2812B'", "'chip':'APA102'", "'chip':'SK6812-RGBW','white':'4000 K'"};
    uint32_t rate = rates[_i % 5];
    int chip = _i / 5;
    double scale = chip == 1 ? 31 * 255 : 255;
    char rig[600];
    snprintf(rig, sizeof rig,
             "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'clock "
             "pin':2,'supply':'s','line':[{%s,'leds':64}]}},"
             "'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':64}]}}}",
             chips[chip]);
    char *pin = chip == 1 ? NULL : strstr(rig, "'clock pin':2,");
    if (pin != NULL) {
        memset(pin, ' ', strlen("'clock pin':2,"));
    }
    stage_must_open(&stage, rig,
                    "{'show':'t','brightness':'100 %','looks':{'l':{'effect':'plain','color':'#ffb000'}},"
                    "'segments':{'s':{'surface':'a','look':'l'}}}");
    uint64_t frame = 0;
    uint32_t random = 17u + (uint32_t)_i;
    double worst = 0;
    for (int round = 0; round < 40; round++) {
        random = glanz_hash(random);
        char action[100];
        snprintf(action, sizeof action, "{'brightness':'%u.%u %%','over':'%u ms'}", random % 40, random / 64 % 10,
                 random / 1024 % 3 * 300);
        stage_do(&stage, action);
        for (uint64_t n = 0; n < rate; n++, frame++) { /* it has come there, and stands */
            stage_frame(&stage, frame * 1000000u / rate);
        }
        double sums[3] = {0};
        struct glanz_dither dither = glanz_engine_dither(glanz_device_engine(stage.device));
        int period = 1 << dither.depth;
        for (int n = 0; n < period; n++, frame++) {
            stage_frame(&stage, frame * 1000000u / rate);
            const uint8_t *at = stage.bytes[0] + (chip == 1 ? 4 : 0);
            for (uint16_t i = 16; i < 32; i++) {
                for (uint8_t c = 0; c < 3; c++) {
                    double field = chip == 1 ? at[i * 4] & 31 : 1;
                    sums[c] += field * stage_led(&stage, 0, i, c) / scale;
                    if (chip == 2) { /* what the white LED gives, by its colour */
                        struct glanz_light white = glanz_color_light(GLANZ_KELVIN(4000), NULL, 0);
                        uint16_t part = c == 0 ? white.red : c == 1 ? white.green : white.blue;
                        sums[c] += stage_led(&stage, 0, i, 3) / scale * part / 65535;
                    }
                }
            }
        }
        struct glanz_light light;
        ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, &light, 1), GLANZ_OK);
        double wanted[3] = {light.red, light.green, light.blue};
        for (int c = 0; c < 3; c++) {
            double want = wanted[c] / 65535 * glanz_engine_gain(glanz_device_engine(stage.device)) / 65536;
            double off = (sums[c] / 16 / period - want) * 255 * period;
            worst = fabs(off) > worst ? fabs(off) : worst;
            REQUIRE_MSG(fabs(off) <= 0.125 * (chip == 2 ? 2 : 1) + 2.0 * period * 255 / 65536,
                        "%u frames/s, chip %d, channel %d, %s: %f dither steps off (%f, wanted %f)", rate, chip, c, action, off,
                        sums[c] / 16 / period * 255, want * 255);
        }
    }
}
END_TEST

/* Amber to 10 % in a second at 60 frames/s: a minute later the mean is still what is wanted, on every chip. */
START_TEST(nothing_is_still_too_soon) {
    stage_must_open(&stage, strip_rig(64),
                    "{'show':'t','brightness':'100 %','looks':{'l':{'effect':'plain','color':'#ffb000'}},"
                    "'segments':{'s':{'surface':'a','look':'l'}}}");
    uint64_t frame = 0;
    for (; frame < 120; frame++) {
        stage_frame(&stage, frame * 1000000u / 60);
    }
    stage_do(&stage, "{'brightness':'10 %','over':'1 s'}");
    for (; frame < 62 * 60; frame++) {
        stage_frame(&stage, frame * 1000000u / 60);
    }
    double sums[2] = {0, 0};
    for (int n = 0; n < 2; n++, frame++) {
        stage_frame(&stage, frame * 1000000u / 60);
        sums[0] += stage_sum(&stage, 0, 0) / 64.0 / 2;
        sums[1] += stage_sum(&stage, 0, 1) / 64.0 / 2;
    }
    struct glanz_light amber = glanz_color_light(GLANZ_RGB(0xFF, 0xB0, 0), NULL, 0);
    double gain = luminance(0.1) * 255;
    ck_assert_double_eq_tol(sums[0], amber.red / 65535.0 * gain, 0.02);
    ck_assert_double_eq_tol(sums[1], amber.green / 65535.0 * gain, 0.02);
}
END_TEST

/* An output of equal LEDs: in every frame they are; and one that is to be dark below its lowest level does not blink there. */
START_TEST(equal_leds_and_faint_levels) {
    stage_must_open(
        &stage,
        "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','equal leds':true,'faint levels':"
        "'dark','line':[{'chip':'WS2812B','leds':30}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':30}]}}}",
        "{'show':'t','brightness':'100 %','looks':{'l':{'effect':'plain','color':'#ffffff'}},'segments':{'s':{'surface':"
        "'a','look':'l'}}}");
    stage_run(&stage, 0, 2000000, 100);
    stage_do(&stage, "{'brightness':'0 %','over':'4 s'}");
    int steps = 0;
    int last = 255;
    for (uint64_t frame = 200; frame < 620; frame++) {
        stage_frame(&stage, frame * 10000u);
        int own = stage_led(&stage, 0, 0, 0);
        for (uint16_t i = 0; i < 30; i++) {
            ck_assert_int_eq(stage_led(&stage, 0, i, 1), own);
        }
        steps += own != last;
        ck_assert_int_le(last == 0 ? own : 0, 0); /* once dark, dark */
        last = own;
    }
    ck_assert_int_gt(steps, 100);
    ck_assert_int_eq(last, 0);
}
END_TEST

/* L3: a gradient of 300 LEDs at 8 % brightness: no two neighbouring groups of 8 differ by more than the gradient's own step and
 * an eighth of a dither step. At 30 frames a second colours are mixed by neighbours alone. */
START_TEST(low_light_has_no_bands) {
    stage_must_open(
        &stage, strip_rig(300),
        "{'show':'t','brightness':'8 %','palettes':{'g':{'stops':[{'at':'0 %','color':'#402010'},{'at':'100 %','color':"
        "'#80ff40'}]}},'looks':{'l':{'effect':'flow','palette':'g','fold':false,'speed':'0 lengths/s'},"
        "'o':{'effect':'plain','color':'#ff8030'}},'segments':{'s':{'surface':'a','look':'l'}},'presets':{'o':{'s':'o'}}}");
    uint32_t rate = _i == 0 ? 100 : 30;
    uint64_t frame = 0;
    for (; frame < rate * 2u; frame++) {
        stage_frame(&stage, frame * 1000000u / rate);
    }
    struct glanz_engine *engine = glanz_device_engine(stage.device);
    int period = 1 << glanz_engine_dither(engine).depth;
    double sums[38][3] = {{0}};
    for (int n = 0; n < period; n++, frame++) {
        stage_frame(&stage, frame * 1000000u / rate);
        for (uint16_t i = 0; i < 300; i++) {
            for (uint8_t c = 0; c < 3; c++) {
                sums[i / 8][c] += stage_led(&stage, 0, i, c);
            }
        }
    }
    struct glanz_light light[300];
    ck_assert_int_eq(glanz_engine_light(engine, 0, 0, light, 300), GLANZ_OK);
    double worst = 0;
    for (int g = 1; g < 37; g++) {
        for (int c = 0; c < 3; c++) {
            double want = 0;
            for (int i = 0; i < 8; i++) {
                const uint16_t *here = &light[g * 8 + i].red + c;
                const uint16_t *before = &light[g * 8 + i - 8].red + c;
                want += ((double)*here - *before) / 65535 * 255 * glanz_engine_gain(engine) / 65536;
            }
            double off = fabs(sums[g][c] / period - sums[g - 1][c] / period - want) / 8 * period; /* of a dither step */
            worst = off > worst ? off : worst;
        }
    }
    printf("a gradient in low light at %u frames/s: groups of 8 off by at most %.3f dither steps\n", rate, worst);
    REQUIRE_MSG(worst <= 0.34, "%f", worst);
    stage_do(&stage, "{'recall':'o','over':'0 s'}");
    frame++;
    stage_frame(&stage, frame * 1000000u / rate);
    ck_assert_uint_gt(stage_sum(&stage, 0, 1), 0); /* not pure red */
    ck_assert_uint_gt(stage_sum(&stage, 0, 2), 0);
}
END_TEST

/* L5: midway through a crossfade each LED has the mean light of both looks. */
START_TEST(crossfade_meets_in_the_middle) {
    double sums[3][60][3];
    double ends[2] = {0, 0};
    for (int pass = 0; pass < 3; pass++) {
        char show[900];
        snprintf(show, sizeof show,
                 "{'show':'t','brightness':'100 %%','looks':{'one':{'effect':'swell','color':'#ffd0a0','length':'17 "
                 "leds','speed':'0 leds/s'},"
                 "'two':{'effect':'pattern','blocks':'3 #2060ff, 2 #ffffff, 4 #301000','speed':'0 leds/s'}},"
                 "'segments':{'s':{'surface':'a','look':'%s'}},'presets':{'p':{'s':'two'}}}",
                 pass == 1 ? "two" : "one");
        stage_must_open(&stage, strip_rig(60), show);
        stage_run(&stage, 0, 2000000, 100);
        if (pass == 2) {
            struct glanz_action action = {.kind = &glanz_action_recall, .target = 0, .over_ms = 4000};
            ck_assert_int_eq(glanz_device_act(stage.device, &action), GLANZ_OK);
        }
        uint64_t start = glanz_device_clock(stage.device);
        uint32_t before = stage_sum(&stage, 0, 0);
        uint32_t last = before;
        if (pass < 2) {
            ends[pass] = before;
        }
        memset(sums[pass], 0, sizeof sums[pass]);
        for (uint64_t i = 1; i <= 400; i++) {
            stage_frame(&stage, start + i * 10000u);
            uint32_t sum = stage_sum(&stage, 0, 0);
            if (pass < 2 || i == 1) { /* no flash at the start; standing looks stand */
                ck_assert_int_lt(abs((int)sum - (int)before), 200);
            }
            if (pass == 2) { /* no dip and no bump on the way: 1/400 of the difference a frame, and what dither adds */
                ck_assert_int_lt(abs((int)sum - (int)last), 80);
                double want = ends[0] + (ends[1] - ends[0]) * (double)i / 400;
                REQUIRE_MSG(fabs(sum - want) < 60 + want * 0.01, "frame %u: %u, on the straight line %f", (unsigned)i, sum,
                            want);
            }
            last = sum;
            if (i > 200 - 32 && i <= 200 + 32) { /* 64 frames about the middle */
                for (uint16_t led = 0; led < 60; led++) {
                    for (uint8_t c = 0; c < 3; c++) {
                        sums[pass][led][c] += stage_led(&stage, 0, led, c);
                    }
                }
            }
        }
        stage_close(&stage);
    }
    for (int led = 0; led < 60; led++) {
        for (int c = 0; c < 3; c++) {
            double mean = (sums[0][led][c] + sums[1][led][c]) / 2 / 64;
            double got = sums[2][led][c] / 64;
            REQUIRE_MSG(fabs(got - mean) < 2.55, "LED %d channel %d: %f, mean %f", led, c, got, mean);
        }
    }
}
END_TEST

/* L6: the strict limit, in thousands of abrupt frames, also while outputs latch one after the other. */
START_TEST(limit_is_never_passed) {
    static const char rig[] = "{'rig':'t','supplies':{'s':{'volts':'5 V','limit':'1500 mA'}},'outputs':{"
                              "'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':60}]},'p':{'pin':2,'supply':'s','"
                              "line':[{'chip':'SK6812-RGBW','leds':30,'white':'4000 K'}]},"
                              "'q':{'pin':3,'clock pin':4,'supply':'s','line':[{'chip':'APA102','leds':20}]}},"
                              "'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':60}]},'b':{'strip':[{'output':'p','"
                              "first':0,'leds':30}]},'c':{'strip':[{'output':'q','first':0,'leds':20}]}}}";
    static const char show[] = "{'show':'t','brightness':'100 %','change':'0 "
                               "s','looks':{'l':{'effect':'plain','color':'#ffffff'},'m':{'effect':'motley','palette':'full "
                               "circle','speed':'200 ms/pass'},"
                               "'n':{'effect':'plain','color':'#000000'}},'segments':{'x':{'surface':'a','look':'l'},'y':{'"
                               "surface':'b','look':'m'},'z':{'surface':'c','look':'l'}}}";
    stage_must_open(&stage, rig, show);
    stage_run(&stage, 0, 1500000, 100);
    struct glanz_engine *engine = glanz_device_engine(stage.device);
    uint8_t old[3][400];
    uint32_t random = 1 + (uint32_t)_i;
    int held = 0;
    int changed_last = 0;
    for (uint64_t frame = 0; frame < 6000; frame++) {
        random = glanz_hash(random);
        int changes = 0;
        for (uint8_t s = 0; s < 3; s++) { /* strobes, dark, single colours, all at random */
            random = glanz_hash(random);
            if (random % 3 == 0) {
                changes++;
                struct glanz_change change = {glanz_device_clock(stage.device), 0, 0};
                struct glanz_setting setting = {0, 0, (int32_t)(random >> 8)};
                ck_assert_int_eq(glanz_engine_look(engine, s, &stage.show->looks[random / 3 % 3], change), GLANZ_OK);
                if (random / 9 % 2 == 0 && random / 3 % 3 != 1) {
                    ck_assert_int_eq(glanz_engine_set(engine, s, setting, change), GLANZ_OK);
                }
            }
        }
        for (uint8_t o = 0; o < 3; o++) {
            memcpy(old[o], stage.bytes[o], stage.count[o]);
        }
        stage_frame(&stage, 1500000u + frame * 10000u);
        /* from the bytes and the data sheets, the worst while this frame replaces the last: one-wire outputs change whole,
         * in any order; the clocked one LED after LED */
        double worst = 0;
        double lit = 0;
        for (uint8_t o = 0; o < 2; o++) {
            double sums[2] = {0, 0};
            for (size_t b = 0; b < stage.count[o]; b++) {
                sums[0] += old[o][b] * 18.5 / 255;
                sums[1] += stage.bytes[o][b] * 18.5 / 255;
            }
            double idle = glanz_output_leds(&stage.rig->outputs[o]) * 1.0;
            worst += idle + (sums[0] > sums[1] ? sums[0] : sums[1]);
            lit += idle + sums[1];
        }
        double chain = 0;
        double now[2] = {0, 0};
        for (int led = 19; led >= 0; led--) { /* all old, then new from the front */
            for (int c = 1; c < 4; c++) {
                now[0] += (old[2][4 + led * 4] & 31) / 31.0 * old[2][4 + led * 4 + c] * 20 / 255;
                now[1] += (stage.bytes[2][4 + led * 4] & 31) / 31.0 * stage.bytes[2][4 + led * 4 + c] * 20 / 255;
            }
        }
        double mixed = now[0];
        chain = mixed;
        for (int led = 0; led < 20; led++) {
            for (int c = 1; c < 4; c++) {
                mixed += (stage.bytes[2][4 + led * 4] & 31) / 31.0 * stage.bytes[2][4 + led * 4 + c] * 20 / 255 -
                         (old[2][4 + led * 4] & 31) / 31.0 * old[2][4 + led * 4 + c] * 20 / 255;
            }
            chain = mixed > chain ? mixed : chain;
        }
        worst += 20 + chain;
        lit += 20 + now[1];
        REQUIRE_MSG(worst <= 1500.001, "frame %u: %f mA while latching", (unsigned)frame, worst);
        int held_back = changed_last; /* light that has moved to another output waits until it has gone from where it was */
        changed_last = changes > 0;
        double told = (double)glanz_engine_supply_ua(engine, 0) / 1000;
        REQUIRE_MSG(fabs(told - lit) < 0.1, "the engine says %f mA, the bytes %f mA", told, lit);
        if (glanz_engine_limit_scale(engine, 0) < 65536u) {
            held++;
            REQUIRE_MSG(worst >= 1500 * 0.97 || changes > 0 || held_back, "frame %u: only %f mA while the limit holds",
                        (unsigned)frame, worst);
        }
    }
    ck_assert_int_gt(held, 500);
}
END_TEST

/* L7: the same show at four frame rates: at equal times the same, within 1/16 LED and 1/255. */
START_TEST(rate_does_not_matter) {
    static const uint32_t rates[] = {30, 60, 100, 200};
    static double where[4][40];
    static double level[4][40];
    static const char show[] = "{'show':'t','brightness':'100 %','change':'700 "
                               "ms','looks':{'l':{'effect':'walker','color':'#ff0000','size':'3 leds','speed':'4 leds/s'},"
                               "'m':{'effect':'walker','color':'#ff0000','size':'3 leds','speed':'11 "
                               "leds/s'},'n':{'effect':'breathing','color':'#00ff00','speed':'3 s/pass'}},"
                               "'segments':{'x':{'surface':'a','look':'l'},'y':{'surface':'a','blend':'add','look':'n'}},'"
                               "stack':['x','y'],'presets':{'p':{'x':'m'},'q':{'x':'l'}},"
                               "'playlists':{'r':{'items':[{'preset':'p','hold':'1230 ms','fade':'0.5 "
                               "s'},{'preset':'q','hold':'0.77 s','fade':'0.3 s'}]}},"
                               "'triggers':{'t':{'when':{'button':'k','is':'pressed once'},'do':[{'play':'r'}]}}}";
    for (int r = 0; r < 4; r++) {
        char rig[600];
        snprintf(rig, sizeof rig, "{'rig':'t','lowest blink':'none',%s", strip_rig(200) + strlen("{'rig':'test',"));
        stage_must_open(&stage, rig, show);
        glanz_device_push(stage.device, 0, 0, 612345);
        glanz_device_push(stage.device, 0, 1, 700001);
        /* every 200 ms there is a frame at the same moment whatever the rate */
        for (int sample = 0; sample < 40; sample++) {
            for (uint64_t i = 0; i < rates[r] / 5; i++) {
                stage_frame(&stage, (uint64_t)sample * 200000u + i * 1000000u / rates[r]);
            }
            stage_frame(&stage, (uint64_t)(sample + 1) * 200000u);
            double sum = 0;
            double moment = 0;
            for (uint16_t led = 0; led < 200; led++) {
                sum += stage_led(&stage, 0, led, 0);
                moment += stage_led(&stage, 0, led, 0) * (led + 0.5);
            }
            where[r][sample] = sum == 0 ? 0 : moment / sum;
            level[r][sample] = stage_led(&stage, 0, 100, 1);
        }
        stage_close(&stage);
    }
    double moved = 0;
    for (int sample = 6; sample < 40; sample++) {
        for (int r = 0; r < 3; r++) {
            REQUIRE_MSG(fabs(where[r][sample] - where[3][sample]) < 1.0 / 16,
                        "at %d ms, %u frames/s: at %f, at 200 frames/s at %f", (sample + 1) * 200, rates[r], where[r][sample],
                        where[3][sample]);
            REQUIRE_MSG(fabs(level[r][sample] - level[3][sample]) <= 1.01,
                        "at %d ms, %u frames/s: level %f, at 200 frames/s %f", (sample + 1) * 200, rates[r], level[r][sample],
                        level[3][sample]);
        }
        moved += fabs(where[3][sample] - where[3][sample - 1]);
    }
    REQUIRE_MSG(moved > 20, "nothing moved");
}
END_TEST

/* L7, whoever begins a change: a program's call, a patch, a recall of a saved preset, at moments between frames. At equal times
 * the same levels and places at four frame rates. */
#define CALLED(color, speed)                                                                                                   \
    "{'show':'t','brightness':'100 %','change':'900 ms','looks':{'l':{'effect':'walker','color':'" color                       \
    "','size':'3 leds','speed':'" speed "'},'n':{'effect':'plain','color':'#0000ff'}},'segments':{'x':{'surface':'a','look':'" \
    "l'},'y':{'surface':'a','blend':'add','look':"                                                                             \
    "'n'}},'stack':['x','y']}"

START_TEST(changes_count_from_their_moment) {
    static const uint32_t rates[] = {30, 60, 100, 200};
    static double where[4][50];
    static double level[4][50];
    for (int r = 0; r < 4; r++) {
        char rig[600];
        snprintf(rig, sizeof rig, "{'rig':'t','lowest blink':'none',%s", strip_rig(200) + strlen("{'rig':'test',"));
        stage_must_open(&stage, rig, CALLED("#ff0000", "4 leds/s"));
        static const uint64_t moments[] = {1013700, 2511300, 3717900, 5023100, 6200001};
        int next = 0;
        uint64_t frames = 0;
        for (int sample = 0; sample < 50; sample++) {
            for (;;) {
                uint64_t now = frames * 1000000u / rates[r];
                uint64_t end = (uint64_t)(sample + 1) * 200000u;
                if (now > end) {
                    break;
                }
                while (next < 5 && moments[next] <= now) { /* said between two frames */
                    stage.now_us = (uint32_t)moments[next];
                    switch (next) {
                    case 0: stage_do(&stage, "{'brightness':'40 %','segment':'y','over':'1300 ms'}"); break;
                    case 1: ck_assert_int_eq(stage_show(&stage, CALLED("#ff0000", "11 leds/s")), GLANZ_OK); break;
                    case 2: stage_do(&stage, "{'switch':'y','on':false,'over':'1100 ms'}"); break;
                    case 3: stage_do(&stage, "{'look':'n','segment':'x','over':'1700 ms'}"); break;
                    default: stage_do(&stage, "{'look':'l','segment':'x','over':'800 ms','again':true}"); break;
                    }
                    next++;
                }
                stage_frame(&stage, now);
                frames++;
                if (now == end) {
                    break;
                }
            }
            struct glanz_light light[200];
            ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, light, 200), GLANZ_OK);
            double sum = 0;
            double moment = 0;
            for (int i = 0; i < 200; i++) {
                sum += light[i].red;
                moment += light[i].red * (i + 0.5);
            }
            where[r][sample] = sum == 0 ? 0 : moment / sum;
            level[r][sample] = light[199].blue / 257.0;
        }
        stage_close(&stage);
    }
    double worst_place = 0;
    double worst_level = 0;
    for (int sample = 4; sample < 50; sample++) {
        for (int r = 0; r < 3; r++) {
            double place = fabs(where[r][sample] - where[3][sample]);
            double off = fabs(level[r][sample] - level[3][sample]);
            worst_place = place > worst_place ? place : worst_place;
            worst_level = off > worst_level ? off : worst_level;
            REQUIRE_MSG(place < 1.0 / 16, "at %d ms, %u frames/s: at %f, at 200 frames/s at %f", (sample + 1) * 200, rates[r],
                        where[r][sample], where[3][sample]);
            REQUIRE_MSG(off <= 1, "at %d ms, %u frames/s: level %f, at 200 frames/s %f", (sample + 1) * 200, rates[r],
                        level[r][sample], level[3][sample]);
        }
    }
    printf("calls, a patch, a switch, crossfades at 30 to 200 frames/s: places within %.4f LED, levels within %.3f of 255\n",
           worst_place, worst_level);
}
END_TEST

/* ---- L1, L2 and L5 over drawn rigs: chips, lengths, colour orders, 30 to 400 frames a second; plain colours in half of them
 * ---- */

static uint32_t random_state;

static uint32_t draw(uint32_t below) {
    random_state = glanz_hash(random_state + 0x9E3779B9u);
    return random_state % below;
}

struct drawn {
    char rig[500];
    unsigned leds, rate;
    const char *chip;
};

static struct drawn draw_rig(void) {
    static const char *const chips[] = {"WS2812B", "SK6812", "SK6812-RGBW", "WS2811", "WS2811-400"};
    static const char *const orders[] = {"RGB", "GRB", "BGR", "BRG"};
    struct drawn drawn;
    drawn.chip = chips[draw(5)];
    drawn.leds = 48u + 16u * draw(6);
    drawn.rate = 30u + draw(371);
    unsigned split = 16u * (1u + draw(2));
    char order[40] = "";
    if (strcmp(drawn.chip, "SK6812-RGBW") != 0) {
        snprintf(order, sizeof order, ",'order':'%s'", orders[draw(4)]);
    }
    snprintf(
        drawn.rig, sizeof drawn.rig,
        "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'%s','leds':%u%s},"
        "{'chip':'%s','leds':%u}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':%u}]}}}",
        drawn.chip, split, order, drawn.chip, drawn.leds - split, drawn.leds);
    return drawn;
}

static void run_to(uint64_t *frame, uint32_t rate, double second) {
    for (; (double)*frame < second * rate; ++*frame) {
        stage_frame(&stage, *frame * 1000000u / rate);
    }
}

/* A bar that moves: its light at every position, in parts of its mean. @return how far off. */
static double drawn_bar(const struct drawn *drawn) {
    char show[400];
    double size = 1.5 + draw(40) / 10.0;
    double speed = 0.2 + draw(100) / 100.0;
    snprintf(
        show, sizeof show,
        "{'show':'t','brightness':'100 %%','looks':{'l':{'effect':'walker','color':'#ffffff','size':'%.1f leds','speed':'%.2f "
        "leds/s'}},'segments':{'s':{'surface':'a','look':'l'}}}",
        size, speed);
    stage_must_open(&stage, drawn->rig, show);
    uint64_t frame = 0;
    double begin = (size + 2) / speed;
    double end = (drawn->leds - 2) / speed;
    double sum = 0;
    double lowest = 1e9;
    double highest = 0;
    int windows = 0;
    run_to(&frame, drawn->rate, begin);
    for (; windows < 40 && (double)(frame + 64) / drawn->rate < end; windows++) {
        double light = 0;
        for (int i = 0; i < 64; i++, frame++) {
            stage_frame(&stage, frame * 1000000u / drawn->rate);
            light += stage_sum(&stage, 0, 1) / 64.0;
        }
        sum += light;
        lowest = light < lowest ? light : lowest;
        highest = light > highest ? light : highest;
    }
    stage_close(&stage);
    double mean = sum / windows;
    double off = (highest - mean > mean - lowest ? highest - mean : mean - lowest) / mean;
    REQUIRE_MSG(windows > 3 && off < 0.01 && fabs(mean / 255 - size) < size * 0.01,
                "%s, %u LEDs, %u frames/s, %.1f leds at %.2f leds/s: %f to %f, mean %f", drawn->chip, drawn->leds, drawn->rate,
                size, speed, lowest, highest, mean);
    return off;
}

/* A fade to dark: each dither period and group of 16 against the curve. @return dither steps off. */
static double drawn_fade(const struct drawn *drawn) {
    char show[300];
    double from = draw(2) ? 1.0 : 0.05 + draw(50) / 100.0;
    enum way way = (enum way)(draw(2) ? BY_BRIGHTNESS : BY_SWITCH);
    snprintf(
        show, sizeof show,
        "{'show':'t','brightness':'%.2f %%','looks':{'l':{'effect':'plain','color':'#ffffff'}},'segments':{'s':{'surface':'a',"
        "'look':'l'}}}",
        from * 100);
    stage_must_open(&stage, drawn->rig, show);
    uint64_t frame = 0;
    run_to(&frame, drawn->rate, 2.5);
    double start = (double)glanz_device_now(stage.device) / 1e6;
    stage_do(&stage, way == BY_BRIGHTNESS ? "{'brightness':'0 %','over':'4 s'}" : "{'switch':'s','on':false,'over':'4 s'}");
    double got[16] = {0};
    double want = 0;
    double worst = 0;
    int frames = 0;
    for (double now = start; now < start + 3.98; frame++) {
        now = (double)(frame * 1000000u / drawn->rate) / 1e6;
        stage_frame(&stage, frame * 1000000u / drawn->rate);
        struct glanz_dither dither = glanz_engine_dither(glanz_device_engine(stage.device));
        if (dither.at == 0) {
            frames = 0;
            want = 0;
            memset(got, 0, sizeof got);
        }
        double left = now >= start + 4 ? 0 : 1 - (now - start) / 4;
        want += way == BY_BRIGHTNESS ? luminance(from * left) : luminance(from) * luminance(left);
        for (uint16_t i = 0; i < drawn->leds; i++) {
            got[i / 16] += stage_led(&stage, 0, i, 2) / 255.0;
        }
        int period = 1 << dither.depth;
        if (++frames == period && dither.at == period - 1) {
            for (unsigned g = 0; g < drawn->leds / 16; g++) {
                double off = fabs(got[g] / 16 - want) / frames * period * 255;
                worst = off > worst ? off : worst;
            }
        }
    }
    stage_close(&stage);
    REQUIRE_MSG(worst <= 0.5, "%s, %u LEDs, %u frames/s, from %.2f, way %d: off by %f dither steps", drawn->chip, drawn->leds,
                drawn->rate, from, way, worst);
    return worst;
}

/* A crossfade: about its middle every LED has the mean light of both looks. @return parts of full off. */
static double drawn_crossfade(const struct drawn *drawn) {
    static double light[3][160][3];
    char show[700];
    unsigned frames = 64;
    double worst = 0;
    uint32_t colors[3] = {draw(0x1000000), draw(0x1000000), draw(0x1000000)};
    unsigned plain = draw(2);
    memset(light, 0, sizeof light);
    for (int pass = 0; pass < 3; pass++) {
        snprintf(show, sizeof show,
                 "{'show':'t','brightness':'100 %%','looks':{'one':{'effect':'%s','color':'#%06x'%s},'two':{'effect':'pattern',"
                 "'blocks':'3 #%06x, 2 #%06x','speed':'0 leds/s'}},'segments':{'s':{'surface':'a','look':'%s'}},"
                 "'presets':{'p':{'s':'two'}}}",
                 plain ? "plain" : "swell", colors[0], plain ? "" : ",'speed':'0 leds/s','length':'13 leds'", colors[1],
                 colors[2], pass == 1 ? "two" : "one");
        stage_must_open(&stage, drawn->rig, show);
        uint64_t frame = 0;
        run_to(&frame, drawn->rate, 2.5);
        double middle = (double)glanz_device_now(stage.device) / 1e6 + 10;
        if (pass == 2) {
            stage_do(&stage, "{'recall':'p','over':'20 s'}");
        }
        run_to(&frame, drawn->rate, middle - frames / 2.0 / drawn->rate);
        for (unsigned i = 0; i < frames; i++, frame++) {
            stage_frame(&stage, frame * 1000000u / drawn->rate);
            for (uint16_t led = 0; led < drawn->leds; led++) {
                for (uint8_t c = 0; c < 3; c++) {
                    light[pass][led][c] += stage_led(&stage, 0, led, c) / 255.0 / frames;
                }
            }
        }
        stage_close(&stage);
    }
    for (unsigned led = 0; led < drawn->leds; led++) {
        for (int c = 0; c < 3; c++) {
            double off = fabs(light[2][led][c] - (light[0][led][c] + light[1][led][c]) / 2);
            worst = off > worst ? off : worst;
        }
    }
    REQUIRE_MSG(worst < 0.01, "%s, %u LEDs, %u frames/s: %f of full off", drawn->chip, drawn->leds, drawn->rate, worst);
    return worst;
}

START_TEST(laws_over_drawn_rigs) {
    double worst[3] = {0, 0, 0};
    unsigned rigs = test_long() ? 200 : test_slow() ? 6 : 20;
    random_state = test_seed(20261u);
    for (unsigned n = 0; n < rigs; n++) {
        struct drawn drawn = draw_rig();
        double off[3] = {drawn_bar(&drawn), drawn_fade(&drawn), drawn_crossfade(&drawn)};
        for (int i = 0; i < 3; i++) {
            worst[i] = off[i] > worst[i] ? off[i] : worst[i];
        }
    }
    printf("%u drawn rigs, seed %u: a moving bar's light at most %.2f %% off its mean; fades at most %.3f dither steps off; "
           "crossfades "
           "%.2f %% of full off in the middle\n",
           rigs, test_seed(20261u), worst[0] * 100, worst[1], worst[2] * 100);
}
END_TEST

Suite *laws_suite(void) {
    Suite *suite = suite_create("laws");
    TCase *tcase = tcase_create("Laws");
    tcase_add_checked_fixture(tcase, NULL, teardown);
    tcase_set_timeout(tcase, 300);
    tcase_add_test(tcase, bar_keeps_its_light);
    tcase_add_loop_test(tcase, fade_is_even, 0, 6 * WAYS);
    tcase_add_test(tcase, dark_and_back_is_even);
    tcase_add_test(tcase, free_dither_is_fine);
    tcase_add_loop_test(tcase, every_level_is_true, 0, 2 * (GLANZ_DEPTH_MOST + 1));
    tcase_add_loop_test(tcase, standing_levels_are_true, 0, 15);
    tcase_add_test(tcase, equal_leds_and_faint_levels);
    tcase_add_test(tcase, nothing_is_still_too_soon);
    tcase_add_loop_test(tcase, low_light_has_no_bands, 0, 2);
    tcase_add_test(tcase, crossfade_meets_in_the_middle);
    tcase_add_loop_test(tcase, limit_is_never_passed, 0, 6);
    tcase_add_test(tcase, rate_does_not_matter);
    tcase_add_test(tcase, changes_count_from_their_moment);
    tcase_add_test(tcase, laws_over_drawn_rigs);
    suite_add_tcase(suite, tcase);
    return suite;
}
