/* SPDX-License-Identifier: MIT */
/* What effects may have beside a phase: rasters, fixed ticks, memory, pulses of a signal; and the effects that need them. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <glanz/effects.h>

#include "stage.h"
#include "suites.h"

static struct stage stage;

static void teardown(void) {
    stage_close(&stage);
}

/* ---- rasters ---- */

static struct glanz_light cells[400];
static const struct glanz_light white = {60000, 60000, 60000};
static const struct glanz_light black = {0, 0, 0};

static double sum_of(const struct glanz_raster *raster) {
    double sum = 0;
    for (int i = 0; i < raster->columns * raster->rows; i++) {
        sum += raster->cells[i].red;
    }
    return sum / 60000.0;
}

/* A dot is as bright wherever it stands; a line along a row covers just what it covers; a disc has its area. */
START_TEST(light_on_a_raster_is_conserved) {
    struct glanz_raster raster = {cells, 20, 20};
    for (uint32_t i = 0; i < 3000; i++) {
        int32_t x = (int32_t)(glanz_hash2(1, i) % (18u * 65536u)) + GLANZ_STEP;
        int32_t y = (int32_t)(glanz_hash2(2, i) % (18u * 65536u)) + GLANZ_STEP;
        uint32_t level = glanz_hash2(3, i) % 65537u;
        glanz_raster_fill(&raster, black);
        glanz_raster_dot(&raster, x, y, white, level);
        REQUIRE_MSG(fabs(sum_of(&raster) - level / 65536.0) < 0.0002, "a dot at %.3f, %.3f has %.5f of %.5f", x / 65536.0,
                    y / 65536.0, sum_of(&raster), level / 65536.0);
        double across = 0;
        for (int k = 0; k < 400; k++) {
            across += cells[k].red / 60000.0 * (k % 20 + 0.5);
        }
        REQUIRE_MSG(level < 6000 || fabs(across / sum_of(&raster) - x / 65536.0) < 0.01, "a dot at %.4f stands at %.4f",
                    x / 65536.0, across / sum_of(&raster));
        double width = 0.5 + glanz_hash2(4, i) % 6000u / 1000.0;
        int32_t wide = (int32_t)(width * 65536);
        int32_t mx = (int32_t)(glanz_hash2(5, i) % (8u * 65536u)) + 5 * GLANZ_STEP;
        int32_t my = (int32_t)(glanz_hash2(6, i) % (10u * 65536u)) + 5 * GLANZ_STEP;
        const glanz_place disc[4] = {mx, my, mx, my};
        glanz_raster_fill(&raster, black);
        glanz_raster_line(&raster, disc, wide, white, 65536);
        double area = 3.14159265 * width * width / 4;
        REQUIRE_MSG(width < 2 || fabs(sum_of(&raster) - area) < 0.13 * area, "a disc of %.2f has %.3f of %.3f", width,
                    sum_of(&raster), area);
        struct glanz_raster row = {cells, 20, 1};
        const glanz_place ends[4] = {mx, GLANZ_HALF, mx + 2 * GLANZ_STEP, GLANZ_HALF};
        glanz_raster_fill(&row, black);
        glanz_raster_line(&row, ends, wide, white, 65536);
        if (width >= 1) { /* narrower ones are dim instead */
            REQUIRE_MSG(fabs(sum_of(&row) - (2 + width)) < 0.01, "a line of %.2f covers %.3f", 2 + width, sum_of(&row));
        }
    }
    glanz_raster_fill(&raster, black);
    glanz_raster_dot(&raster, 3 * GLANZ_STEP + GLANZ_HALF, 7 * GLANZ_STEP + GLANZ_HALF, white, 65536);
    ck_assert_uint_eq(glanz_raster_at(&raster, 3 * GLANZ_STEP + GLANZ_HALF, 7 * GLANZ_STEP + GLANZ_HALF).red, 60000);
    ck_assert_uint_eq(glanz_raster_at(&raster, 4 * GLANZ_STEP, 7 * GLANZ_STEP + GLANZ_HALF).red, 30000);
    ck_assert_uint_eq(glanz_raster_at(&raster, 4 * GLANZ_STEP, 8 * GLANZ_STEP).red, 15000);
    /* over the edges nothing is written, and what is added stays within full light */
    struct {
        struct glanz_light before[4], cells[4], after[4];
    } few;
    memset(&few, 7, sizeof few);
    struct glanz_raster small = {few.cells, 2, 2};
    glanz_raster_fill(&small, white);
    for (int x = -3; x < 6; x++) {
        for (int y = -3; y < 6; y++) {
            const glanz_place ends[4] = {x * GLANZ_HALF, y * GLANZ_HALF, y * GLANZ_STEP, x * GLANZ_STEP};
            glanz_raster_dot(&small, x * GLANZ_HALF, y * GLANZ_HALF, white, 65536);
            glanz_raster_line(&small, ends, 3 * GLANZ_STEP, white, 65536);
        }
    }
    for (int i = 0; i < 4; i++) {
        ck_assert_uint_eq(few.cells[i].red, 65535);
        ck_assert(few.before[i].red == 0x0707 && few.after[i].blue == 0x0707);
    }
}
END_TEST

/* However a phase is cut into frames, as many ticks come; the rest of one too; where laps are folded, and backwards. */
START_TEST(ticks_do_not_depend_on_frames) {
    for (uint32_t run = 0; run < 300; run++) {
        struct glanz_frame frame;
        memset(&frame, 0, sizeof frame);
        uint8_t bits = (uint8_t)(1 + run % 10);
        uint64_t phase = (uint64_t)glanz_hash2(run, 1) << 14; /* laps above 32 bits */
        uint32_t last = 0;
        uint32_t part;
        uint64_t ticks = 0;
        frame.turn[0] = (uint32_t)phase;
        frame.lap[0] = (int16_t)(phase >> 32);
        (void)glanz_frame_ticks(&last, &part, &frame, bits);
        uint64_t first = phase >> (32 - bits);
        for (uint32_t i = 0; i < 400; i++) {
            phase += glanz_hash2(run, i + 2) >> (bits > 4 ? bits - 3 : 1);
            uint16_t lap = (uint16_t)(phase >> 32);
            lap = (uint16_t)(lap > 16384 ? 8192 + (lap - 16384) % 8192 : lap); /* as the engine folds them */
            frame.turn[0] = (uint32_t)phase;
            frame.lap[0] = (int16_t)lap;
            ticks += glanz_frame_ticks(&last, &part, &frame, bits);
            ck_assert_uint_eq(part, (uint32_t)(phase << bits) >> 16);
        }
        ck_assert_uint_eq(ticks, (phase >> (32 - bits)) - first);
        uint32_t before = frame.turn[0];
        frame.turn[0] -= 0x10000000u; /* back */
        uint8_t back = glanz_frame_ticks(&last, &part, &frame, 6);
        (void)back;
        frame.turn[0] = before;
        uint32_t far = 0;
        struct glanz_frame jump;
        memset(&jump, 0, sizeof jump);
        jump.lap[0] = 100;
        ck_assert_uint_eq(glanz_frame_ticks(&far, &part, &jump, 10), 64); /* a pause: no more than this */
        jump.lap[0] = 99;
        jump.turn[0] = 0xF0000000u;
        ck_assert_uint_eq(glanz_frame_ticks(&far, &part, &jump, 8), 64);
        far = 100u << 8;
        ck_assert_uint_eq(glanz_frame_ticks(&far, &part, &jump, 8), 16); /* backwards they count too */
    }
}
END_TEST

/* ---- effects ---- */

static const char rig[] =
    "{'rig':'pool','supplies':{'s':{'volts':'5 "
    "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':40}]},"
    "'p':{'pin':2,'supply':'s','line':[{'chip':'WS2812B','leds':144}]}},'surfaces':{'line':{'strip':[{'output':'o','first':0,"
    "'leds':40}]},'field':{'grid':[{'output':'p','first':0,'columns':12,'rows':12,'zigzag':true}]}},'inputs':{'bell':{'button':"
    "{"
    "'pin':3,'pressed':'low'}},'gauge':{'value':{'pin':4}}}}";
#define SHOW(line, field)                                                                                                      \
    "{'show':'t','brightness':'100 %','change':'0 s','palettes':{'w':{'stops':[{'at':'0 %','color':'#ffffff'},{'at':'100 %',"  \
    "'color':'#ffffff'}]}},'looks':{'l':{'palette':'w'," line "},'f':{'palette':'w'," field                                    \
    "}},'segments':{'line':{'surface':"                                                                                        \
    "'line','look':'l'},'field':{'surface':'field','look':'f'}}}"

static struct glanz_light lights[144];

static double look_at(uint8_t output, uint16_t count, double *place) {
    double sum = 0;
    double at = 0;
    ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), output, 0, lights, count), GLANZ_OK);
    for (uint16_t i = 0; i < count; i++) {
        sum += lights[i].red;
        at += lights[i].red * (i + 0.5);
    }
    *place = sum == 0 ? -1 : at / sum;
    return sum / 65535;
}

/* One marble that loses nothing: thrown, it falls by g t^2 / 2 with g of 2 heights a pass a pass, comes as high each time,
 * keeps its light, and is in the same place at any frame rate. */
START_TEST(a_marble_falls_as_it_must) {
    static const uint32_t rates[] = {50, 100, 400};
    static double places[3][601];
    for (int r = 0; r < 3; r++) {
        stage_must_open(&stage, rig,
                        SHOW("'effect':'marbles','count':1,'size':'3 leds','spring':'100 %','speed':'1 s/pass'",
                             "'effect':'tidemark','level':'0 %'"));
        for (int i = 0; i <= 600; i++) {
            stage_run(&stage, (uint64_t)i * 20000u, (uint64_t)i * 20000u + 20000u, rates[r]);
            double sum = look_at(0, 40, &places[r][i]);
            REQUIRE_MSG(i < 15 || fabs(sum - 3) < 0.02, "at %u/s its light is %.4f", rates[r], sum);
        }
        stage_close(&stage);
    }
    double highest = 0;
    double next = 0;
    int bounces = 0;
    for (int i = 15; i < 598; i++) {
        double speed = places[1][i + 1] - places[1][i];
        double fall = places[1][i + 2] - 2 * places[1][i + 1] + places[1][i];
        double lowest = places[1][i];
        lowest = places[1][i + 1] < lowest ? places[1][i + 1] : lowest;
        lowest = places[1][i + 2] < lowest ? places[1][i + 2] : lowest;
        if (lowest > 3.5) { /* in the air: 2 * 37 LEDs a s^2, 0.0296 in 20 ms twice */
            REQUIRE_MSG(fabs(fall + 2 * 37 * 0.0004) < 0.006, "at %.2f s it falls by %.4f", i * 0.02, -fall);
        }
        next = places[1][i] > next ? places[1][i] : next;
        if (places[1][i] < 3 && speed > 0 && next > 10) {
            REQUIRE_MSG(bounces == 0 || fabs(next - highest) < 0.4, "bounce %d: as high as %.3f, before %.3f", bounces, next,
                        highest);
            highest = next;
            next = 0;
            bounces++;
        }
    }
    ck_assert_int_gt(bounces, 5);
    for (int r = 0; r < 3; r++) { /* frames of other rates end at other times: 20 ms less one frame */
        for (int i = 15; i < 599; i++) {
            double ago = 1.0 / rates[r] - 1.0 / rates[2];
            double wanted = places[2][i] - (places[2][i] - places[2][i - 1]) * ago / 0.02;
            double bend = fabs(places[2][i] - 2 * places[2][i - 1] + places[2][i - 2]);
            REQUIRE_MSG(fabs(places[r][i] - wanted) < 0.07 || bend > 0.1, "at %u/s at %.3f in place of %.3f", rates[r],
                        places[r][i], wanted);
        }
    }
}
END_TEST

/* Many on a grid: they knock, stay within, and go on for ever; the light is that of as many, where they do not lie one over
 * another. */
START_TEST(marbles_knock_and_stay_within) {
    stage_must_open(&stage, rig,
                    SHOW("'effect':'marbles','count':12,'size':'1 leds','spring':'95 %','speed':'600 ms/pass'",
                         "'effect':'marbles','count':6,'size':'2 leds','spring':'100 %','speed':'700 ms/pass'"));
    double place;
    double before = -1;
    int moved = 0;
    for (int i = 0; i < 3000; i++) {
        stage_frame(&stage, (uint64_t)i * 10000u);
        double line = look_at(0, 40, &place);
        ck_assert_msg(i < 400 || (line > 3 && line < 12.5), "at %d ms a line of %.2f", i * 10, line);
        double field = look_at(1, 144, &place);
        ck_assert_msg(i < 400 || (field > 8 && field < 24), "at %d ms a field of %.2f", i * 10, field);
        moved += fabs(place - before) > 0.001;
        before = place;
    }
    ck_assert_int_gt(moved, 2900);
}
END_TEST

/* A burst begins at the very time of the press, within whatever frame: the same light at equal times, nothing before. */
START_TEST(a_fountain_fires_when_it_is_told) {
    static const uint32_t rates[] = {25, 100, 250};
    static struct glanz_light seen[3][144];
    static struct glanz_light line[3][40];
    for (int r = 0; r < 3; r++) {
        double place;
        stage_must_open(&stage, rig,
                        SHOW("'effect':'fountain','fires at':'bell','drops':20,'speed':'1 s/pass'",
                             "'effect':'fountain','fires at':'gauge','drops':20"));
        glanz_device_push(stage.device, 0, 1, 0);
        glanz_device_push(stage.device, 1, 20000, 0);
        stage_run(&stage, 0, 2000000, rates[r]);
        ck_assert_double_eq(look_at(0, 40, &place), 0);
        unsigned sent = stage.sent;
        stage_run(&stage, 2000000, 2600000, rates[r]);
        ck_assert_uint_le(stage.sent - sent, 1); /* at rest nothing is shaded */
        glanz_device_push(stage.device, 0, 0, 2611700);
        glanz_device_push(stage.device, 1, 50000, 2633300);
        stage_run(&stage, 2600000, 3000000, rates[r]);
        stage_frame(&stage, 3000000);
        ck_assert_double_gt(look_at(0, 40, &place), 3);
        memcpy(line[r], lights, sizeof line[r]);
        ck_assert_double_gt(look_at(1, 144, &place), 3);
        memcpy(seen[r], lights, sizeof seen[r]);
        stage_run(&stage, 3040000, 6000000, rates[r]);
        ck_assert_double_eq(look_at(0, 40, &place) + look_at(1, 144, &place), 0);
        stage_close(&stage);
    }
    for (int r = 0; r < 2; r++) {
        for (int i = 0; i < 144; i++) {
            ck_assert_msg(abs(seen[r][i].red - seen[2][i].red) < 700, "LED %d at %u/s: %u, %u", i, rates[r], seen[r][i].red,
                          seen[2][i].red);
        }
        for (int i = 0; i < 40; i++) {
            ck_assert_msg(abs(line[r][i].red - line[2][i].red) < 1500, "LED %d at %u/s: %u, %u", i, rates[r], line[r][i].red,
                          line[2][i].red);
        }
    }
}
END_TEST

/* What stands on a tidemark at a distance is what the level was when it was there: against the level's own formula. */
START_TEST(a_tidemark_is_what_was) {
    static const uint32_t rates[] = {30, 100, 200};
    static const char show[] = "{'show':'t','brightness':'100 %','change':'0 "
                               "s','signals':{'swell':{'wave':'triangle','period':'4 s'}},'palettes':{'w':{"
                               "'stops':[{'at':'0 %','color':'#ffffff'},{'at':'100 "
                               "%','color':'#ffffff'}]}},'looks':{'l':{'effect':'tidemark','palette':'w',"
                               "'speed':'10 leds/s','level':{'follows':'swell','from':'10 %','to':'90 %','rise':'0 "
                               "s','fall':'0 s'}}},'segments':{'line':{"
                               "'surface':'line','look':'l'},'field':{'surface':'field','look':'l'}}}";
    for (int r = 0; r < 3; r++) {
        double most = 0;
        double place;
        stage_must_open(&stage, rig, show);
        stage_run(&stage, 0, 8000000, rates[r]);
        for (int k = 1; k <= 40; k++) {
            double now = 8 + k * 0.1;
            stage_run(&stage, 8000000 + (uint64_t)(k - 1) * 100000u, 8000000 + (uint64_t)k * 100000u, rates[r]);
            stage_frame(&stage, 8000000 + (uint64_t)k * 100000u);
            look_at(0, 40, &place);
            for (int i = 0; i < 40; i++) {
                double phase = fmod(now - i / 10.0, 4) / 4;
                double level = 0.1 + 0.8 * (phase < 0.5 ? 2 * phase : 2 - 2 * phase);
                double off = fabs(lights[i].red / 65535.0 - level);
                most = off > most ? off : most;
            }
            double field = look_at(1, 144, &place);
            double wanted = 0;
            for (int i = 0; i < 12; i++) {
                double phase = fmod(now - i / 10.0, 4) / 4;
                wanted += 12 * (0.1 + 0.8 * (phase < 0.5 ? 2 * phase : 2 - 2 * phase));
            }
            ck_assert_msg(fabs(field - wanted) < 0.5, "the field has %.3f of %.3f", field, wanted);
        }
        ck_assert_msg(most < 0.04, "at %u/s %.4f off", rates[r], most); /* a step of an LED is 4 % of the level at this slope */
        stage_close(&stage);
    }
}
END_TEST

/* A saved fountain is fired by what the show's look of its name is fired by, whatever else the show has before that. */
START_TEST(a_saved_look_keeps_its_signal) {
    static uint8_t record[GLANZ_RECORD_MOST];
    size_t count = 0;
    stage_must_open(&stage, rig, SHOW("'effect':'fountain','fires at':'gauge','drops':7", "'effect':'marbles'"));
    stage_frame(&stage, 0);
    ck_assert_int_eq(
        glanz_preset_pack(glanz_device_control(stage.device), "saved", 1, GLANZ_ASPECTS, record, sizeof record, &count),
        GLANZ_OK);
    stage_do(&stage, "{'look':'f','segment':'line'}");
    ck_assert_int_eq(stage_show(&stage, SHOW("'effect':'fountain','fires at':'bell','drops':3", "'effect':'marbles'")),
                     GLANZ_OK);
    struct glanz_change change = {0, 0, 0};
    ck_assert_int_eq(glanz_preset_unpack(glanz_device_control(stage.device), glanz_effects, record, count, change, NULL),
                     GLANZ_OK);
    struct glanz_showing showing;
    ck_assert_int_eq(glanz_engine_showing(glanz_device_engine(stage.device), 0, &showing), GLANZ_OK);
    ck_assert_int_eq(showing.number[GLANZ_FOUNTAIN_DROPS], 7);
    ck_assert_int_eq(showing.number[GLANZ_FOUNTAIN_FIRES], 1); /* the bell */
}
END_TEST

/* Effects of another version, and pulses of what is not there. */
START_TEST(what_does_not_fit_is_refused) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_effect old = glanz_effect_plain;
    struct glanz_look look = {.name = "old", .effect = &old};
    ck_assert_int_eq(glanz_look_check(&look, &fault), GLANZ_OK);
    old.version = 1;
    ck_assert_int_eq(glanz_look_check(&look, &fault), GLANZ_ERR_SHOW);
    ck_assert_ptr_nonnull(strstr(fault.text, "GLANZ_EFFECT_VERSION"));
    ck_assert_int_ne(stage_open(&stage, rig, SHOW("'effect':'fountain','fires at':'drum'", "'effect':'marbles'")), GLANZ_OK);
    ck_assert_ptr_nonnull(strstr(stage.fault.text, "bell, gauge"));
    stage_close(&stage);
    stage_must_open(&stage, rig, SHOW("'effect':'fountain','fires at':'bell'", "'effect':'marbles'"));
    struct glanz_setting *setting = (struct glanz_setting *)(uintptr_t)&stage.show->looks[0].settings[0];
    ck_assert_int_eq(setting->number, 1);
    setting->number = 3;
    ck_assert_int_eq(glanz_show_check(stage.show, stage.rig, &fault), GLANZ_ERR_SHOW);
    ck_assert_ptr_nonnull(strstr(fault.text, "reacts"));
    setting->number = 1;
    ck_assert_uint_ne(glanz_parts_needed(stage.rig, stage.show) & GLANZ_PART_DRIVES, 0);
}
END_TEST

Suite *particles_suite(void) {
    Suite *suite = suite_create("particles");
    TCase *tests = tcase_create("particles");
    tcase_set_timeout(tests, 60);
    tcase_add_checked_fixture(tests, NULL, teardown);
    tcase_add_test(tests, light_on_a_raster_is_conserved);
    tcase_add_test(tests, ticks_do_not_depend_on_frames);
    tcase_add_test(tests, a_marble_falls_as_it_must);
    tcase_add_test(tests, marbles_knock_and_stay_within);
    tcase_add_test(tests, a_fountain_fires_when_it_is_told);
    tcase_add_test(tests, a_tidemark_is_what_was);
    tcase_add_test(tests, a_saved_look_keeps_its_signal);
    tcase_add_test(tests, what_does_not_fit_is_refused);
    suite_add_tcase(suite, tests);
    return suite;
}
