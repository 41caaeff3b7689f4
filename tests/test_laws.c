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

struct fade {
    double from;
    uint32_t rate;
    int depth; /* the least */
};
static const struct fade fades[] = {{1.0, 100, 2}, {1.0, 400, 4}, {0.05, 100, 2}, {0.05, 400, 4}};

/* L2: a fade of 10 s to dark. Each LED's mean over each of its dither periods is the wanted curve within half a dither step
 * (and the rounding of 16-bit light, 2 in 65536), and never rises. */
START_TEST(fade_is_even) {
    const struct fade *fade = &fades[_i];
    char show[400];
    snprintf(show, sizeof show,
             "{'show':'t','brightness':'%g "
             "%%','looks':{'l':{'effect':'plain','color':'#ffffff'}},'segments':{'s':{'surface':'a','look':'l'}}}",
             fade->from * 100);
    stage_must_open(&stage, strip_rig(8), show);
    uint64_t frame = 0;
    for (; frame < fade->rate * 3u; frame++) {
        stage_frame(&stage, frame * 1000000u / fade->rate);
    }
    struct glanz_action action = {GLANZ_ACTION_BRIGHTNESS, GLANZ_ALL, 0, 10000, NULL};
    ck_assert_int_eq(glanz_device_act(stage.device, &action), GLANZ_OK);
    double start = (double)glanz_device_clock(stage.device) / 1e6;
    struct glanz_dither dither = glanz_engine_dither(glanz_device_engine(stage.device));
    int period = 1 << dither.depth;
    ck_assert_int_ge(dither.depth, fade->depth);
    double got[8] = {0};
    double want[8] = {0};
    double last[8];
    int begun[8] = {0};
    double worst = 0;
    for (int i = 0; i < 8; i++) {
        last[i] = 1e9;
    }
    for (uint64_t n = 0; n < fade->rate * 11u; n++, frame++) {
        dither = glanz_engine_dither(glanz_device_engine(stage.device)); /* its frame is that of the frame to come */
        unsigned before = stage.sent;
        stage_frame(&stage, frame * 1000000u / fade->rate);
        if (stage.sent == before) {
            break; /* dark and still: nothing more is sent */
        }
        double now = (double)(frame * 1000000u / fade->rate) / 1e6;
        double done = (now - start) / 10;
        double y = luminance(done >= 1 ? 0 : fade->from * (1 - done));
        for (int i = 0; i < 8; i++) {
            if (((i * 5 + dither.frame) & (period - 1)) == 0) {
                if (begun[i]) {
                    double error = fabs(got[i] / period - want[i] / period) * period * 255; /* in dither steps */
                    worst = error > worst ? error : worst;
                    REQUIRE_MSG(error <= 0.5 + 2.0 * period * 255 / 65536, "LED %d at %.3f s: off by %f dither steps", i, now,
                                error);
                    REQUIRE_MSG(got[i] <= last[i] + 1e-9, "LED %d rises at %.3f s", i, now);
                    last[i] = got[i];
                }
                begun[i] = 1;
                got[i] = 0;
                want[i] = 0;
            }
            got[i] += stage_led(&stage, 0, (uint16_t)i, 1) / 255.0;
            want[i] += y;
        }
    }
    REQUIRE_MSG(worst > 0.2, "the curve was never off by a rounding: nothing was measured");
    ck_assert_uint_eq(stage_sum(&stage, 0, 0), 0);
}
END_TEST

/* L2, blink guard off: means of 64 frames within 1/12,000 of full. */
START_TEST(free_dither_is_fine) {
    char rig[600];
    snprintf(rig, sizeof rig, "{'rig':'t','lowest blink':'none',%s", strip_rig(4) + strlen("{'rig':'test',"));
    stage_must_open(&stage, rig, "{'show':'t','brightness':'100 "
                      "%','looks':{'l':{'effect':'plain','color':'#ffffff'}},'segments':{'s':{'surface':'a','look':'l'}}}");
    stage_run(&stage, 0, 2000000, 100);
    struct glanz_action action = {GLANZ_ACTION_BRIGHTNESS, GLANZ_ALL, 0, 20000, NULL};
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

/* L3: every level held still: the mean over a dither period, the lowest blink, one chip step at the most, and neighbours that
 * share the steps out evenly. */
START_TEST(every_level_is_true) {
    uint8_t bytes[64 * 3]; /* one channel of three */
    uint8_t remainders[64 * 3];
    struct glanz_light light[64];
    const uint32_t gain[3] = {65536, 0, 0};
    int depth = 2 + _i * 2;
    int period = 1 << depth;
    for (uint32_t level = 0; level < 65536; level++) {
        int sums[64] = {0};
        int least[64];
        int most[64] = {0};
        for (int i = 0; i < 64; i++) {
            glanz_light_put(&light[i], (uint16_t)level, 0, 0);
            remainders[i * 3] = (uint8_t)(i * 157);
            least[i] = 255;
        }
        double fraction = level * 255.0 / 65535;
        /* the fraction that a period can hold: the nearest, of the 8.8 chip level */
        double held = floor(glanz_chip_level((uint16_t)level) / 256.0 * period + 0.5) / period;
        for (int frame = 0; frame < 2 * period; frame++) {
            struct glanz_dither dither = {(uint16_t)frame, (uint8_t)depth, 0};
            uint8_t restless = 0;
            int up = 0;
            glanz_dither_begin(&dither, remainders, 3, 0, 64);
            uint32_t sum[3] = {0, 0, 0};
            glanz_dither_colors(&dither, bytes, remainders, 3, GLANZ_ORDER(0, 1, 2, 3), light, gain, 64, sum, &restless);
            for (int i = 0; i < 64; i++) {
                if (frame >= period) { /* each LED has begun a period of its own by now */
                    sums[i] += bytes[i * 3];
                    least[i] = bytes[i * 3] < least[i] ? bytes[i * 3] : least[i];
                    most[i] = bytes[i * 3] > most[i] ? bytes[i * 3] : most[i];
                    up += bytes[i * 3] > (int)floor(held + 1e-9);
                }
            }
            if (frame >= period) {
                REQUIRE(abs(up - (int)lround(64 * (held - floor(held + 1e-9)))) <= 2);
                REQUIRE(restless == (fabs(held - floor(held + 0.5)) > 1e-6));
            }
        }
        for (int i = 0; i < 64; i++) {
            REQUIRE(most[i] - least[i] <= 1);
            REQUIRE_MSG(fabs((double)sums[i] / period - fraction) <= 0.5 / period + 2.0 / 256,
                        "level %u, LED %d: %f, wanted %f", level, i, (double)sums[i] / period, fraction);
        }
    }
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
            struct glanz_action action = {GLANZ_ACTION_RECALL, 0, 0, 4000, NULL};
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
    for (uint64_t frame = 0; frame < 6000; frame++) {
        random = glanz_hash(random);
        for (uint8_t s = 0; s < 3; s++) { /* strobes, dark, single colours, all at random */
            random = glanz_hash(random);
            if (random % 3 == 0) {
                struct glanz_change change = {glanz_device_clock(stage.device), 0};
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
        double told = (double)glanz_engine_supply_ua(engine, 0) / 1000;
        REQUIRE_MSG(fabs(told - lit) < 0.1, "the engine says %f mA, the bytes %f mA", told, lit);
        if (glanz_engine_limit_scale(engine, 0) < 65536u) {
            held++;
            REQUIRE_MSG(worst >= 1500 * 0.97, "frame %u: only %f mA while the limit holds", (unsigned)frame, worst);
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

Suite *laws_suite(void) {
    Suite *suite = suite_create("laws of light");
    TCase *tcase = tcase_create("Laws");
    tcase_add_checked_fixture(tcase, NULL, teardown);
    tcase_set_timeout(tcase, 300);
    tcase_add_test(tcase, bar_keeps_its_light);
    tcase_add_loop_test(tcase, fade_is_even, 0, 4);
    tcase_add_test(tcase, free_dither_is_fine);
    tcase_add_loop_test(tcase, every_level_is_true, 0, 2);
    tcase_add_test(tcase, crossfade_meets_in_the_middle);
    tcase_add_loop_test(tcase, limit_is_never_passed, 0, 6);
    tcase_add_test(tcase, rate_does_not_matter);
    suite_add_tcase(suite, tcase);
    return suite;
}
