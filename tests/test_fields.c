/* SPDX-License-Identifier: MIT */
/* Grids, panels, rings and free points: text on the waveform of every wiring, put back by a table of places written here; how
 * effects lie; what the finder finds; scrolling text's light; the game of life; marks. */
#include <check.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include <glanz/finder.h>
#include <glanz/linux.h>

#include "stage.h"
#include "suites.h"

static struct stage stage;

static void teardown(void) {
    stage_close(&stage);
}

/* ---- LEDs picked one by one ---- */

#define PICKED_SEEDS 40

struct written {
    char text[6000];
    size_t count;
};

static void collect(const char *bytes, size_t count, void *user) {
    struct written *written = (struct written *)user;
    REQUIRE(written->count + count < sizeof written->text);
    memcpy(written->text + written->count, bytes, count);
    written->count += count;
}

/* Any LEDs of any surface in any order show what a strip of so many shows, in that order; all others show what lies under them;
 * the show is written as it was read. */
START_TEST(leds_are_picked_in_any_order) {
    static const char *const ways[] = {"", ",'mirrored':true", ",'grain':3", ",'reversed':true,'grain':2"};
    uint32_t seed = 900u + (uint32_t)_i;
    uint16_t order[60];
    char list[600] = "";
    size_t at = 0;
    for (uint16_t i = 0; i < 60; i++) {
        order[i] = i;
    }
    for (uint16_t i = 59; _i != 0 && i > 0; i--) { /* the first of all: as they are */
        uint16_t other = (uint16_t)((seed = glanz_hash(seed)) % (i + 1u));
        uint16_t held = order[i];
        order[i] = order[other];
        order[other] = held;
    }
    for (uint16_t i = 0; _i % 3 == 1 && i < 60; i++) { /* long stretches, some backward */
        order[i] = (uint16_t)(i < 20 ? 59 - i : i < 40 ? i - 20 : 20 + (59 - i));
    }
    uint16_t count = (uint16_t)(_i % 3 == 0 ? 60 : 1 + (seed = glanz_hash(seed)) % 60u);
    for (uint16_t i = 0; i < count;) { /* written as ranges where there are any */
        uint16_t end = i;
        int way = i + 1 < count ? order[i + 1] - order[i] : 0;
        while ((way == 1 || way == -1) && end + 1 < count && order[end + 1] - order[end] == way) {
            end++;
        }
        at += (size_t)snprintf(list + at, sizeof list - at, end == i ? "%s%u" : "%s%u to %u", i == 0 ? "" : ", ", order[i],
                               order[end]);
        i = (uint16_t)(end + 1);
    }
    char show[2000];
    snprintf(
        show, sizeof show,
        "{'show':'t','brightness':'100 %%','looks':{'f':{'effect':'flow','palette':'oil film','speed':'3 "
        "leds/s'},'u':{'effect':'plain','color':'#102030'}},'segments':{'under':{'surface':'g','look':'u'},"
        "'p':{'surface':'g','picked':'%s','look':'f'%s},'q':{'surface':'s','leds':%u,'look':'f'%s}},'stack':['under','p','q']}",
        list, ways[_i % 4], count, ways[_i % 4]);
    stage_must_open(&stage,
                    _i % 2 == 0
                        ? "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':"
                          "'WS2812B','leds':60}]},'u':{'pin':2,'supply':'s','line':[{'chip':'WS2812B','leds':60}]}},"
                          "'surfaces':{'g':{'grid':[{'output':'o','first':0,'columns':10,'rows':6,'zigzag':true}]},"
                          "'s':{'strip':[{'output':'u','first':0,'leds':60}]}}}"
                        : "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':"
                          "'WS2812B','leds':60}]},'u':{'pin':2,'supply':'s','line':[{'chip':'WS2812B','leds':60}]}},"
                          "'surfaces':{'g':{'strip':[{'output':'o','first':25,'leds':35,'reversed':true},{'output':'o',"
                          "'first':0,'leds':25}]},'s':{'strip':[{'output':'u','first':0,'leds':60}]}}}",
                    show);
    stage_run(&stage, 0, 1730000, 100);
    struct glanz_light picked[60];
    struct glanz_light straight[60];
    int is_picked[60] = {0};
    struct glanz_light under = glanz_rgb_light(0x102030);
    ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, picked, 60), GLANZ_OK);
    ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 1, 0, straight, 60), GLANZ_OK);
    for (uint16_t i = 0; i < count; i++) {
        uint16_t led = _i % 2 == 0 ? order[i] : (uint16_t)(order[i] < 35 ? 59 - order[i] : order[i] - 35);
        ck_assert_mem_eq(&picked[led], &straight[i], sizeof picked[0]);
        is_picked[led] = 1;
    }
    for (uint16_t led = 0; led < 60; led++) {
        ck_assert(is_picked[led] || memcmp(&picked[led], &under, sizeof under) == 0);
    }
    static struct written written;
    memset(&written, 0, sizeof written);
    ck_assert_int_eq(glanz_show_write(stage.show, stage.rig, collect, &written), GLANZ_OK);
    snprintf(show, sizeof show, "\"picked\": \"%s\"", list);
    ck_assert_msg(strstr(written.text, show) != NULL, "%s is not in %s", show, written.text);
}
END_TEST

/* ---- an independent table of places ---- */

struct at {
    int x, y;
};

/* Where the LEDs of a panel stand, one after another: all 16 wirings written out as loops over rows and columns. */
static void panel_table(struct at *table, int columns, int rows, int wiring) {
    int count = 0;
    int outer = wiring & GLANZ_BY_COLUMNS ? columns : rows;
    int inner = wiring & GLANZ_BY_COLUMNS ? rows : columns;
    for (int line = 0; line < outer; line++) {
        for (int i = 0; i < inner; i++) {
            int back = (wiring & GLANZ_ZIGZAG) && line % 2 == 1;
            int along = back ? inner - 1 - i : i;
            int x = wiring & GLANZ_BY_COLUMNS ? line : along;
            int y = wiring & GLANZ_BY_COLUMNS ? along : line;
            table[count].x = wiring & GLANZ_FROM_RIGHT ? columns - 1 - x : x;
            table[count].y = wiring & GLANZ_FROM_BOTTOM ? rows - 1 - y : y;
            count++;
        }
    }
}

/* Hung: mirrored, then turned clockwise in quarters. */
static void hang_table(struct at *table, int count, int columns, int rows, int turned, int mirrored) {
    for (int i = 0; i < count; i++) {
        int wide = columns;
        int high = rows;
        table[i].x = mirrored ? wide - 1 - table[i].x : table[i].x;
        for (int t = 0; t < turned; t++) { /* what was the top is the right side now */
            struct at was = table[i];
            table[i].x = high - 1 - was.y;
            table[i].y = was.x;
            int held = wide;
            wide = high;
            high = held;
        }
    }
}

static const char *const corners[] = {"top left", "top right", "bottom left", "bottom right"};

/* ---- text on the decoded waveform ---- */

/* "F j7" in the font of eight rows, as it was drawn. */
static const char *const drawn[8] = {"####........#####", "#.........#.....#", "#..............#.", "###.......#...#..",
                                     "#.........#...#..", "#.........#..#...", "#.........#..#...", ".........#......."};

static uint8_t is_drawn(int x, int y) {
    return y >= 0 && y < 8 && x >= 0 && x < 17 && drawn[y][x] == '#';
}

/* Run a rig on the simulated board, whose chips read the waveform, until its standing text shows. */
static struct glanz_board *run_board(const char *rig, const char *show) {
    static uint64_t memory[20000];
    struct glanz_board_setup setup;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_device *device = NULL;
    stage_must_open(&stage, rig, show);
    memset(&setup, 0, sizeof setup);
    setup.hardware = stage.rig;
    struct glanz_board *board = glanz_board_open(&setup, &fault);
    ck_assert_ptr_nonnull(board);
    struct glanz_setup start = {
        .rig = stage.rig, .show = stage.show, .port = glanz_board_port(board), .parts = &glanz_everything};
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &start, &fault), GLANZ_OK);
    for (uint32_t i = 0; i < 60; i++) { /* from dark */
        glanz_board_time(board, i * 40000u);
        glanz_device_frame(device, i * 40000u);
    }
    glanz_board_time(board, 2500000);
    return board;
}

static const char text_show[] =
    "{'show':'t','brightness':'100 %','change':'0 s','looks':{'l':{'effect':'text','text':'F j7','font':'quay',"
    "'way':'standing','color':'#ffffff'}},'segments':{'s':{'surface':'a','look':'l'}}}";

/* Lit by the table where the text is drawn, dark elsewhere; the text stands in the middle of the field. */
static void check_lit(const struct glanz_board *board, const struct at *table, int leds, uint8_t output, int first, int left,
                      int top, int columns, int rows) {
    int width = 5 + 4 + 3 + 6; /* F, blank, j, 7: what they advance */
    int from_x = (columns - width) / 2;
    int from_y = (rows - 8) / 2;
    for (int i = 0; i < leds; i++) {
        struct glanz_lit lit = glanz_board_lit(board, output, (uint16_t)(first + i));
        int x = left + table[i].x - from_x;
        int y = top + table[i].y - from_y;
        REQUIRE_MSG((lit.red > 128) == is_drawn(x, y), "LED %d at %d, %d shows %d", i, x, y, lit.red);
    }
}

START_TEST(text_is_read_on_every_wiring) { /* the loop's number: wiring, and whether the grid is wide or high */
    struct at table[22 * 10];
    char rig[1000];
    int wiring = _i;
    snprintf(rig, sizeof rig,
             "{'rig':'t','supplies':{'s':{'volts':'5 "
             "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':223}]}},"
             "'surfaces':{'a':{'grid':[{'output':'o','first':3,'columns':22,'rows':10,'first "
             "led':'%s','along':'%s','zigzag':%s}]}}}",
             corners[wiring & 3], wiring & GLANZ_BY_COLUMNS ? "columns" : "rows", wiring & GLANZ_ZIGZAG ? "true" : "false");
    struct glanz_board *board = run_board(rig, text_show);
    panel_table(table, 22, 10, wiring);
    check_lit(board, table, 220, 0, 3, 0, 0, 22, 10);
    struct glanz_misread misread = glanz_board_misread(board, 0);
    ck_assert_uint_eq(misread.pulses + misread.resets + misread.missing + misread.extra, 0);
    glanz_board_close(board);
}
END_TEST

START_TEST(text_is_read_on_panels_turned_and_mirrored) { /* two by two, on two lines, each its own way; in any order */
    enum { SIDE = 11 };
    struct at table[SIDE * SIDE];
    char rig[3000];
    int at =
        snprintf(rig, sizeof rig,
                 "{'rig':'t','supplies':{'s':{'volts':'5 "
                 "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':%d}]},"
                 "'q':{'pin':2,'supply':'s','line':[{'chip':'WS2812B','leds':%d,'order':'RGB'}]}},'surfaces':{'a':{'grid':[",
                 2 * SIDE * SIDE, 2 * SIDE * SIDE);
    int slot[4];
    int taken = 0;
    for (int p = 0; p < 4; p++) { /* an order of its own for each turn of the loop */
        int skip = (_i / (p + 1) + p) % (4 - p);
        slot[p] = 0;
        while (taken >> slot[p] & 1 || skip-- > 0) {
            slot[p]++;
        }
        taken |= 1 << slot[p];
    }
    for (int p = 0; p < 4; p++) {
        int way = (_i + 3 * p) % 8;
        int wiring = (_i / 8 * 5 + p * 7) % 16;
        at += snprintf(
            rig + at, sizeof rig - (size_t)at,
            "%s{'output':'%s','first':%d,'columns':%d,'rows':%d,'first led':'%s','along':'%s','zigzag':%s,'turned':'%d deg',"
            "'mirrored':%s,'left':%d,'top':%d}",
            p == 0 ? "" : ",", p < 2 ? "o" : "q", p % 2 * SIDE * SIDE, SIDE, SIDE, corners[wiring & 3],
            wiring & GLANZ_BY_COLUMNS ? "columns" : "rows", wiring & GLANZ_ZIGZAG ? "true" : "false", way % 4 * 90,
            way >= 4 ? "true" : "false", slot[p] % 2 * SIDE, slot[p] / 2 * SIDE);
    }
    snprintf(rig + at, sizeof rig - (size_t)at, "]}}}");
    struct glanz_board *board = run_board(rig, text_show);
    for (int p = 0; p < 4; p++) {
        int way = (_i + 3 * p) % 8;
        panel_table(table, SIDE, SIDE, (_i / 8 * 5 + p * 7) % 16);
        hang_table(table, SIDE * SIDE, SIDE, SIDE, way % 4, way >= 4);
        check_lit(board, table, SIDE * SIDE, (uint8_t)(p / 2), p % 2 * SIDE * SIDE, slot[p] % 2 * SIDE, slot[p] / 2 * SIDE,
                  2 * SIDE, 2 * SIDE);
    }
    glanz_board_close(board);
}
END_TEST

/* ---- places ---- */

START_TEST(panels_have_every_place_once) { /* any size, wiring, turn, mirror; asked for forward, backward, in parts */
    static struct at table[16 * 16];
    for (uint32_t draw = 0; draw < 4000; draw++) {
        uint32_t hash = glanz_hash(draw);
        struct glanz_panel panel = {"p",
                                    (uint16_t)(hash % 50),
                                    (uint16_t)(hash / 50 % 50),
                                    (uint16_t)(1 + (hash >> 8) % 16),
                                    (uint16_t)(1 + (hash >> 12) % 16),
                                    (uint8_t)(hash >> 16 & 15),
                                    (uint8_t)(hash >> 20 & 3),
                                    (uint8_t)(hash >> 22 & 1)};
        struct glanz_piece piece = {0, 0, 0, (uint16_t)(panel.columns * panel.rows)};
        struct glanz_surface surface;
        memset(&surface, 0, sizeof surface);
        surface.kind = GLANZ_SURFACE_GRID;
        surface.pieces = &piece;
        surface.panels = &panel;
        surface.piece_count = 1;
        panel_table(table, panel.columns, panel.rows, panel.wiring);
        hang_table(table, piece.leds, panel.columns, panel.rows, panel.turned, panel.mirrored);
        uint8_t backward = hash >> 23 & 1;
        for (uint16_t i = 0; i < piece.leds;) {
            glanz_place x[32];
            glanz_place y[32];
            uint8_t part = (uint8_t)(1 + glanz_hash2(draw, i) % 32);
            part = part > piece.leds - i ? (uint8_t)(piece.leds - i) : part;
            glanz_piece_places(x, y, &surface, 0, backward ? (uint16_t)(piece.leds - 1 - i) : i, backward, part);
            for (uint8_t k = 0; k < part; k++, i++) {
                struct at want = table[backward ? piece.leds - 1 - i : i];
                REQUIRE(x[k] == (panel.left + want.x) * GLANZ_STEP + GLANZ_HALF &&
                        y[k] == (panel.top + want.y) * GLANZ_STEP + GLANZ_HALF);
            }
        }
    }
}
END_TEST

START_TEST(rings_stand_on_their_circles) {
    static const struct glanz_piece pieces[] = {{0, 0, 0, 24}, {0, 0, 24, 12}};
    static const struct glanz_circle circles[] = {{"outer", 0, 0, 0}, {"inner", 130, 16384, 1}};
    struct glanz_surface surface;
    memset(&surface, 0, sizeof surface);
    surface.kind = GLANZ_SURFACE_RINGS;
    surface.pieces = pieces;
    surface.circles = circles;
    surface.piece_count = 2;
    uint16_t columns;
    uint16_t rows;
    glanz_surface_field(&columns, &rows, &surface);
    ck_assert_uint_eq(columns, rows);
    for (uint8_t p = 0; p < 2; p++) {
        double radius = p == 0 ? 24 / 2.0 / M_PI : 130 / 64.0;
        for (uint16_t i = 0; i < pieces[p].leds; i++) {
            glanz_place x;
            glanz_place y;
            glanz_piece_places(&x, &y, &surface, p, i, 0, 1);
            double angle = (p == 0 ? 0 : 0.25) * 2 * M_PI + (p == 0 ? 1 : -1) * 2 * M_PI * i / pieces[p].leds;
            REQUIRE_MSG(fabs(x / 65536.0 - columns / 2.0 - radius * sin(angle)) < 0.02 &&
                            fabs(y / 65536.0 - rows / 2.0 + radius * cos(angle)) < 0.02,
                        "ring %d LED %d", p, i);
        }
    }
}
END_TEST

START_TEST(distances_and_bearings) { /* against the C library's */
    for (uint32_t i = 0; i < 200000; i++) {
        int32_t across = (int32_t)glanz_hash(i) >> (i % 22);
        int32_t down = (int32_t)glanz_hash(i + 77777) >> (i / 3 % 22);
        double real = hypot(across, down);
        REQUIRE(fabs(glanz_distance(across, down) - real) <= 1.5 + real * 3 / 16384);
        if (real > 0) {
            double turn = atan2(across, -(double)down) / 2 / M_PI * 65536;
            double off = fmod(glanz_bearing(across, down) - turn + 3 * 65536, 65536);
            REQUIRE_MSG(off < 4 || off > 65532, "%d %d: %f", across, down, off);
        }
    }
    for (uint32_t i = 0; i < 70000; i++) {
        uint16_t root = glanz_root(i * 61356u);
        REQUIRE((uint64_t)root * root <= i * 61356u && ((uint64_t)root + 1) * (root + 1) > i * 61356u);
    }
}
END_TEST

/* Every LED of a line effect that lies some way, against the place computed here. */
START_TEST(lines_lie_as_they_say) {
    static const struct glanz_panel panel = {"p", 0, 0, 7, 5, GLANZ_ZIGZAG | GLANZ_FROM_BOTTOM, 0, 0};
    static const struct glanz_piece piece = {0, 0, 0, 35};
    struct glanz_surface surface;
    struct at table[35];
    memset(&surface, 0, sizeof surface);
    surface.kind = GLANZ_SURFACE_GRID;
    surface.pieces = &piece;
    surface.panels = &panel;
    surface.piece_count = 1;
    panel_table(table, 7, 5, panel.wiring);
    for (uint8_t lie = GLANZ_MAPPING_OWN; lie < GLANZ_MAPPINGS; lie++) {
        for (uint8_t turned = 0; turned < 4; turned++) {
            struct glanz_region cut;
            struct glanz_field field;
            struct glanz_stretch_of run = {0, 0, 0, 0};
            memset(&cut, 0, sizeof cut);
            cut.mapping = lie;
            cut.turned = turned;
            cut.bearing = (uint16_t)(3000u + 13000u * turned);
            cut.swings = turned & 1u;
            double bearing = cut.bearing * 2 * M_PI / 65536;
            ck_assert_int_eq(glanz_region_field(&field, &cut, &surface), 1);
            if (lie == GLANZ_MAPPING_ALONG) {
                REQUIRE(field.line && field.length == 35 && field.rows == 1);
                continue;
            }
            int wide = turned % 2 ? 5 : 7;
            int high = turned % 2 ? 7 : 5;
            for (uint16_t i = 0; i < 35; i++) {
                glanz_place x;
                glanz_place y;
                uint8_t taken;
                struct at at = table[i];
                run.at = i;
                ck_assert_uint_eq(glanz_field_places(&x, &y, &taken, &cut, &field, &surface, &run, 1), 1);
                glanz_field_line(&x, &y, &field, 1);
                /* the picture turned clockwise: what is asked at a place is what was there before the turn */
                double u = turned == 0 ? at.x + 0.5 : turned == 1 ? at.y + 0.5 : turned == 2 ? 6.5 - at.x : 4.5 - at.y;
                double v = turned == 0 ? at.y + 0.5 : turned == 1 ? 6.5 - at.x : turned == 2 ? 4.5 - at.y : at.x + 0.5;
                double want = u;
                if (lie == GLANZ_MAPPING_ROWS) {
                    want = floor(v) * wide + u;
                } else if (lie == GLANZ_MAPPING_COLUMNS) {
                    want = floor(u) * high + v;
                } else if (lie == GLANZ_MAPPING_OUTWARD) {
                    want = hypot(u - wide / 2.0, v - high / 2.0);
                } else if (lie == GLANZ_MAPPING_AROUND) {
                    double turn = atan2(u - wide / 2.0, high / 2.0 - v) / 2 / M_PI;
                    want = (turn < 0 ? turn + 1 : turn) * field.length;
                } else if (lie == GLANZ_MAPPING_SLANTED) {
                    want = field.length / 2.0 + (u - wide / 2.0) * sin(bearing) - (v - high / 2.0) * cos(bearing);
                    double most = cut.swings ? hypot(wide, high) : fabs(wide * sin(bearing)) + fabs(high * cos(bearing));
                    REQUIRE(field.length >= most - 0.01 && field.length < most + 1.01);
                }
                REQUIRE_MSG(fabs(x / 65536.0 - want) < 0.01 || (u == wide / 2.0 && v == high / 2.0),
                            "%d turned %d LED %d: %f, not %f", lie, turned, i, x / 65536.0, want);
                REQUIRE(x >= 0 && x < ((glanz_place)field.length + 1) * GLANZ_STEP);
            }
        }
    }
}
END_TEST

/* What an effect for fields shows at a place does not depend on how the line runs there: by rows, by columns from another
 * corner, backward, panel beside panel. To the last bit: whatever is worked out once a row. */
START_TEST(effects_are_the_same_on_every_wiring) {
    int effects = 0;
    for (size_t e = 0; glanz_effects[e] != NULL; e++) {
        GLANZ_CONST struct glanz_effect *effect = glanz_effects[e];
        if (effect->shade_field == NULL || effect->content != GLANZ_CONTENT_NONE || (effect->needs & GLANZ_NEEDS_SOUND) != 0) {
            continue;
        }
        char show[900];
        snprintf(show, sizeof show,
                 "{'show':'t','brightness':'100 %%','change':'0 s','looks':{'l':{'effect':'%s'}},'segments':{'s':{'surface':"
                 "'a','look':'l','seed':9},'t':{'surface':'b','look':'l','seed':9},'u':{'surface':'c','look':'l','seed':9}}}",
                 effect->name);
        stage_must_open(&stage,
                        "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':"
                        "'WS2812B','leds':810}]}},'surfaces':{'a':{'grid':[{'output':'o','first':0,'columns':18,'rows':15}]},"
                        "'b':{'grid':[{'output':'o','first':270,'columns':18,'rows':15,'first led':'bottom right','along':"
                        "'columns','zigzag':true}]},'c':{'grid':[{'output':'o','first':540,'columns':7,'rows':15,'first "
                        "led':'top right','zigzag':true},{'name':'right','output':'o','first':645,'columns':11,'rows':15,"
                        "'left':7,'first led':'bottom left','zigzag':true}]}}}",
                        show);
        for (uint32_t frame = 0; frame < (test_slow() ? 8 : 120); frame++) {
            static struct glanz_light light[810];
            ck_assert_int_eq(stage_frame(&stage, (uint64_t)frame * 40000u), GLANZ_OK);
            for (uint16_t at = 0; at < 810; at += 90) {
                ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, at, light + at, 90), GLANZ_OK);
            }
            for (int place = 0; place < 270; place++) {
                int x = place % 18;
                int y = place / 18;
                int down = (17 - x) % 2 != 0 ? y : 14 - y;
                int line = x < 7 ? y : 14 - y;
                int along = x < 7 ? (line % 2 != 0 ? x : 6 - x) : (line % 2 != 0 ? 10 - (x - 7) : x - 7);
                int by_columns = 270 + (17 - x) * 15 + down;
                int by_panels = (x < 7 ? 540 : 645) + line * (x < 7 ? 7 : 11) + along;
                REQUIRE_MSG(memcmp(&light[place], &light[by_columns], sizeof *light) == 0 &&
                                memcmp(&light[place], &light[by_panels], sizeof *light) == 0,
                            "%s, frame %u, at %d, %d", effect->name, frame, x, y);
            }
        }
        stage_close(&stage);
        effects++;
    }
    ck_assert_int_ge(effects, 25);
}
END_TEST

/* A slanted line at a right angle is the one that lies across, or turned. Turned by half a turn it shows the same from behind,
 * whatever the bearing; while it swings no LED leaps, through 0 either. */
START_TEST(slanted_lines_swing) {
    static const char *const ways[4] = {"'lies':'slanted','bearing':'90 deg'", "'lies':'slanted','bearing':'180 deg'",
                                        "'lies':'slanted','bearing':{'follows':'w','from':'0 deg','to':'360 deg','rise':'0 "
                                        "s','fall':'0 s'}",
                                        "'lies':'slanted','bearing':{'follows':'w','from':'0 deg','to':'-360 deg','rise':'0 "
                                        "s','fall':'0 s'}"};
    static const char *const others[4] = {"'lies':'across'", "'lies':'across','turned':'90 deg'",
                                          "'lies':'slanted','bearing':{'follows':'w','from':'180 deg','to':'540 "
                                          "deg','rise':'0 s','fall':'0 s'}",
                                          "'lies':'slanted','bearing':{'follows':'w','from':'-180 deg','to':'-540 "
                                          "deg','rise':'0 s','fall':'0 s'}"};
    char show[1500];
    snprintf(show, sizeof show,
             "{'show':'t','brightness':'100 %%','change':'0 s','signals':{'w':{'wave':'saw','period':'4 "
             "s'}},'palettes':{'p':{'stops':[{'at':'0 %%','color':'#000000'},{'at':'100 "
             "%%','color':'#ffffff'}]}},'looks':{'l':{'effect':'flow','palette':'p','speed':'0 lengths/s'}},'segments':{'s':{"
             "'surface':'a',%s,'look':'l'},'t':{'surface':'b',%s,'look':'l'}}}",
             ways[_i], others[_i]);
    stage_must_open(
        &stage,
        "{'rig':'t','supplies':{'s':{'volts':'5 "
        "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':108}]}},"
        "'surfaces':{'a':{'grid':[{'output':'o','first':0,'columns':9,'rows':6}]},'b':{'grid':[{'output':'o','first':54,"
        "'columns':9,'rows':6}]}}}",
        show);
    uint8_t before[54];
    uint32_t moved = 0;
    int leap = 0;
    for (int frame = 0; frame < 900; frame++) {
        ck_assert_int_eq(stage_frame(&stage, (uint64_t)frame * 10000u), GLANZ_OK);
        for (int i = 0; frame >= 150 && i < 54; i++) { /* it has come up */
            uint8_t is = stage_led(&stage, 0, (uint16_t)i, 0);
            uint8_t other = stage_led(&stage, 0, (uint16_t)(_i < 2 ? 54 + i : 107 - i), 0);
            REQUIRE_MSG(abs(is - other) <= 1, "frame %d LED %d: %d, not %d", frame, i, is, other);
            if (frame > 150) {
                leap = abs(is - before[i]) > leap ? abs(is - before[i]) : leap;
                moved += is != before[i];
            }
            before[i] = is;
        }
    }
    if (_i < 2) {
        ck_assert_int_le(leap, 1); /* dither */
    } else {
        ck_assert_int_le(leap, 9);
        ck_assert_uint_gt(moved, 10000);
    }
    for (int i = 0; _i >= 2 && i < 2; i++) { /* what may not swing, does not */
        struct glanz_segment segment = stage.show->segments[0];
        struct glanz_fault fault;
        ck_assert_int_eq(glanz_segments_check(&segment, NULL, 1, stage.rig, &fault), GLANZ_OK);
        segment.region.swings = (uint8_t)i;
        segment.region.mapping = i == 0 ? GLANZ_MAPPING_SLANTED : GLANZ_MAPPING_ACROSS;
        ck_assert_int_eq(glanz_segments_check(&segment, NULL, 1, stage.rig, &fault), GLANZ_ERR_SHOW);
        ck_assert_msg(strstr(fault.text, "expected that it lies slanted and may swing") != NULL, "%s", fault.text);
    }
    stage_close(&stage);
}
END_TEST

START_TEST(rectangles_take_their_leds) {
    stage_must_open(
        &stage,
        "{'rig':'t','supplies':{'s':{'volts':'5 "
        "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':60}]}},"
        "'surfaces':{'a':{'grid':[{'name':'one','output':'o','first':0,'columns':6,'rows':5,'zigzag':true},{'name':'"
        "two','output':'o',"
        "'first':30,'columns':6,'rows':5,'left':6}]}}}",
        "{'show':'t','brightness':'100 %','change':'0 "
        "s','looks':{'r':{'effect':'plain','color':'#ff0000'},'g':{'effect':'plain',"
        "'color':'#00ff00'},'b':{'effect':'filling','color':'#0000ff','background':'#000010','speed':'0 leds/s'}},"
        "'segments':{'s':{'surface':'a','left':4,'top':1,'columns':4,'rows':2,'look':'r'},'t':{'surface':'a','part':'"
        "two','left':3,"
        "'top':3,'columns':3,'rows':2,'look':'g'}}}");
    stage_run(&stage, 0, 3000000, 100);
    struct at table[30];
    for (int p = 0; p < 2; p++) {
        panel_table(table, 6, 5, p == 0 ? GLANZ_ZIGZAG : 0);
        for (int i = 0; i < 30; i++) {
            int x = table[i].x + 6 * p;
            int y = table[i].y;
            int red = x >= 4 && x < 8 && y >= 1 && y < 3;
            int green = p == 1 && table[i].x >= 3 && y >= 3;
            REQUIRE((stage_led(&stage, 0, (uint16_t)(30 * p + i), 0) == 255) == red);
            REQUIRE((stage_led(&stage, 0, (uint16_t)(30 * p + i), 1) == 255) == green);
        }
    }
}
END_TEST

/* ---- text in motion ---- */

#define WIDE_RIG                                                                                                               \
    "{'rig':'t','supplies':{'s':{'volts':'5 "                                                                                  \
    "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':400}]}},"                                      \
    "'surfaces':{'a':{'grid':[{'output':'o','first':0,'columns':40,'rows':10,'first led':'bottom "                             \
    "left','zigzag':true}],'joined':true}}}"

/* L1 on text: round a joined field at 7.3 columns a second, the light of the whole stays within 1 % of its mean. And without
 * tearing: in every frame an upright bar has the same light in each of its rows, to one step of the dither. */
START_TEST(moving_text_keeps_its_light) {
    stage_must_open(
        &stage, WIDE_RIG,
        "{'show':'t','brightness':'100 %','looks':{'l':{'effect':'text','text':'Hi |','color':'#ffffff','speed':'7.3 leds/s'}},"
        "'segments':{'s':{'surface':'a','look':'l'}}}");
    struct at table[400];
    panel_table(table, 40, 10, GLANZ_FROM_BOTTOM | GLANZ_ZIGZAG);
    stage_run(&stage, 0, 2000000, 100);
    double sum = 0;
    double lowest = 1e9;
    double highest = 0;
    for (int window = 0; window < 60; window++) {
        double light = 0;
        for (int frame = 0; frame < 64; frame++) {
            stage_frame(&stage, 2000000u + (uint64_t)(window * 64 + frame) * 10000u);
            light += stage_sum(&stage, 0, 0);
            int low[40];
            int high[40];
            int lit[40];
            memset(high, 0, sizeof high);
            memset(lit, 0, sizeof lit);
            for (int x = 0; x < 40; x++) {
                low[x] = 999;
            }
            for (int i = 0; i < 400; i++) {
                if (table[i].y >= 1 && table[i].y <= 7) { /* the seven rows of the bar */
                    int x = table[i].x;
                    int shown = stage_led(&stage, 0, (uint16_t)i, 0);
                    low[x] = shown < low[x] ? shown : low[x];
                    high[x] = shown > high[x] ? shown : high[x];
                    lit[x] += shown > 0;
                }
            }
            int bars = 0;
            for (int x = 0; x < 40; x++) {
                bars += lit[x] == 7 && high[x] - low[x] <= 1;
                REQUIRE_MSG(lit[x] < 7 || lit[(x + 39) % 40] == 0 || high[x] - low[x] <= 255, "column %d", x);
            }
            REQUIRE_MSG(bars >= 1, "window %d frame %d: no column is even", window, frame);
        }
        light /= 64;
        sum += light;
        lowest = light < lowest ? light : lowest;
        highest = light > highest ? light : highest;
    }
    double mean = sum / 60;
    /* H 17, i 5, bar 7 points, each full */
    REQUIRE_MSG(fabs(mean / 255 - 29) < 0.3, "mean %f LEDs", mean / 255);
    REQUIRE_MSG(highest - mean < mean * 0.01 && mean - lowest < mean * 0.01, "%f to %f, mean %f", lowest, highest, mean);
}
END_TEST

static double center_of_light(const struct at *table, int leds) {
    double sum = 0;
    double weighted = 0;
    for (int i = 0; i < leds; i++) {
        sum += stage_led(&stage, 0, (uint16_t)i, 0);
        weighted += (table[i].x + 0.5) * stage_led(&stage, 0, (uint16_t)i, 0);
    }
    return sum == 0 ? -1 : weighted / sum;
}

START_TEST(text_moves_as_fast_as_it_says) { /* in all four ways, at 7.3 columns a second; there and back, and once */
    struct at table[400];
    panel_table(table, 40, 10, GLANZ_FROM_BOTTOM | GLANZ_ZIGZAG);
    static const char *const ways[] = {"leftward", "rightward"};
    for (int way = 0; way < 2; way++) {
        char show[500];
        snprintf(show, sizeof show,
                 "{'show':'t','brightness':'100 "
                 "%%','looks':{'l':{'effect':'text','text':'I','way':'%s','runs':'once','speed':'7.3 leds/s'}},"
                 "'segments':{'s':{'surface':'a','look':'l'}}}",
                 ways[way]);
        stage_must_open(&stage,
                        "{'rig':'t','supplies':{'s':{'volts':'5 "
                        "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':400}]}},"
                        "'surfaces':{'a':{'grid':[{'output':'o','first':0,'columns':40,'rows':10,'first led':'bottom "
                        "left','zigzag':true}]}}}",
                        show);
        stage_run(&stage, 0, 2000000, 100);
        double from = center_of_light(table, 400);
        stage_run(&stage, 2000000, 4000000, 100);
        double to = center_of_light(table, 400);
        REQUIRE_MSG(fabs((to - from) * (way == 0 ? -1 : 1) - 14.6) < 0.1, "from %f to %f", from, to);
        stage_run(&stage, 4000000, 8000000, 100); /* 44 columns in 6.03 s, once */
        ck_assert_uint_eq(stage_sum(&stage, 0, 0), 0);
        stage_close(&stage);
    }
}
END_TEST

/* What is told: values, time; a wider text while it scrolls is changed where nobody sees it. */
START_TEST(text_tells_values_and_time) {
    static const struct {
        const char *text, *want;
        uint16_t value;
    } tells[] = {{"{dial}", "0", 0},
                 {"{dial}", "100", 65535},
                 {"{dial 0.0 to 6.5} m", "3.3 m", 33000},
                 {"{dial -20 to 20}", "-20", 0},
                 {"{dial 9.75 to 0.25}", "0.25", 65535},
                 {"{time} {date}", "23:59 2026-11-23", 0},
                 {"{hour}.{minute}.{second}", "23.59.58", 0},
                 {"{day}/{month}/{year}", "23/11/2026", 0},
                 {"{{a}", "{a}", 0}};
    static const char *const names[] = {"dial"};
    for (size_t i = 0; i < sizeof tells / sizeof tells[0]; i++) {
        uint32_t level = glanz_level_of_value(tells[i].value);
        struct glanz_world world = {
            .known = 1, .values = 1, .day = 20780, .second = 86398, .level = &level, .name = names, .name_step = sizeof *names};
        struct glanz_writing writing = {.kind = GLANZ_CONTENT_WRITING, .text = tells[i].text, .font = &glanz_font_buoy};
        struct glanz_writing wanted = {.kind = GLANZ_CONTENT_WRITING, .text = tells[i].want, .font = &glanz_font_buoy};
        struct glanz_letter one[80];
        struct glanz_letter other[80];
        uint32_t missing = 1;
        ck_assert_uint_eq(glanz_writing_check(tells[i].text, &world), 0);
        wanted.text = tells[i].want[0] == '{' ? "{{a}" : tells[i].want;
        uint16_t count = glanz_writing_set(one, glanz_writing_capacity(&writing), &missing, &writing, 0, &world);
        ck_assert_uint_eq(missing, 0);
        ck_assert_uint_eq(glanz_writing_set(other, 80, NULL, &wanted, 0, NULL), count);
        ck_assert_mem_eq(one, other, sizeof *one * (count + 1u));
    }
    static const char *const wrong[] = {"{",
                                        "{}",
                                        "{dial 1 to}",
                                        "{nobody}",
                                        "a\xC3",
                                        "\xED\xA0\x80",
                                        "\xC0\x80",
                                        "x\ty",
                                        "1\n2\n3\n4\n5",
                                        "{dial 1 to 1234567}",
                                        "{dial 0.0000 to 665665}"};
    static const uint32_t at[] = {1, 1, 1, 1, 2, 1, 1, 2, 8, 1, 1};
    struct glanz_world world = {.values = 1, .name = names, .name_step = sizeof *names};
    for (size_t i = 0; i < sizeof wrong / sizeof wrong[0]; i++) {
        ck_assert_uint_eq(glanz_writing_check(wrong[i], &world), at[i]);
    }
    struct glanz_writing missing_euro = {.kind = GLANZ_CONTENT_WRITING, .text = "\xE2\x82\xAC", .font = NULL};
    struct glanz_letter box[2];
    uint32_t missing = 0;
    uint16_t near = 0;
    ck_assert_uint_eq(glanz_writing_set(box, 2, &missing, &missing_euro, 0, NULL), 1);
    ck_assert_uint_eq(missing, 0x20AC);
    REQUIRE(glanz_writing_bit(box, 1, &near, &glanz_font_quay, 0, 0) &&
            !glanz_writing_bit(box, 1, &near, &glanz_font_quay, 1, 1));
}
END_TEST

START_TEST(
    wider_text_waits_until_it_is_out_of_sight) { /* the same bytes with and without another digit, until a pass is over */
    static uint8_t without[800][400];
    for (int round = 0; round < 2; round++) {
        stage_must_open(
            &stage,
            "{'rig':'t','supplies':{'s':{'volts':'5 "
            "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':400}]}},"
            "'surfaces':{'a':{'grid':[{'output':'o','first':0,'columns':40,'rows':10}]}},'inputs':{'dial':{'value':{'pin':3}}}"
            "}",
            "{'show':'t','brightness':'100 %','looks':{'l':{'effect':'text','text':'{dial 0 to 100} mm','speed':'12 leds/s'}},"
            "'segments':{'s':{'surface':'a','look':'l'}}}");
        unsigned same = 0;
        for (int i = 0; i < 800; i++) { /* 40 + 27 columns at 12 a second: a pass of 5.6 s */
            if (round == 1 && i == 250) {
                glanz_device_push(stage.device, 0, 65535, 2500000);
            }
            stage_frame(&stage, (uint64_t)i * 10000u);
            for (int led = 0; led < 400; led++) {
                uint8_t green = stage_led(&stage, 0, (uint16_t)led, 1);
                if (round == 0) {
                    without[i][led] = green;
                }
                same += green == without[i][led];
            }
            REQUIRE_MSG(i > 300 || same == 400u * (unsigned)(i + 1), "frame %d", i);
        }
        REQUIRE_MSG(round == 0 ? same == 800u * 400u : same < 799u * 400u, "it never changes");
        stage_close(&stage);
    }
}
END_TEST

START_TEST(misuse_of_fields_is_a_status) {
    struct glanz_picture_head head = {1, 1, 1, 1, 0};
    uint8_t bytes[64] = {0};
    uint8_t palette[4] = {0};
    uint16_t ms = 1;
    uint16_t near = 9;
    struct glanz_letter letters[2] = {{0, 0}, {3, 0}};
    ck_assert_int_eq(glanz_picture_open(NULL, bytes, 64, 1), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_picture_open(&head, NULL, 64, 1), GLANZ_ERR_ARGUMENT);
    ck_assert_uint_eq(glanz_picture_pack(NULL, 64, &head, palette, palette, &ms), 0);
    ck_assert_uint_eq(glanz_picture_pack(bytes, 64, NULL, palette, palette, &ms), 0);
    head.columns = 256;
    ck_assert_uint_eq(glanz_picture_pack(bytes, 64, &head, palette, palette, &ms), 0);
    head.columns = 1;
    head.colors = 257;
    ck_assert_uint_eq(glanz_picture_pack(bytes, 64, &head, palette, palette, &ms), 0);
    ck_assert_uint_eq(glanz_writing_capacity(NULL), 1);
    ck_assert_uint_eq(glanz_writing_set(NULL, 5, NULL, NULL, 0, NULL), 0);
    ck_assert_uint_eq(glanz_writing_set(letters, 2, NULL, NULL, 0, NULL), 0);
    ck_assert_uint_ne(glanz_writing_check(NULL, NULL), 0);
    ck_assert_uint_eq(glanz_writing_bit(letters, 1, &near, &glanz_font_buoy, -1, 0), 0);
    ck_assert_uint_eq(glanz_writing_bit(letters, 1, &near, &glanz_font_buoy, 3, 0), 0);
    ck_assert_uint_eq(glanz_writing_bit(letters, 1, &near, &glanz_font_buoy, 0, 6), 0);
    ck_assert_uint_eq(glanz_writing_bit(letters, 0, &near, &glanz_font_buoy, 0, 0), 0);
    ck_assert_int_eq(glanz_engine_clock(NULL, 0, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_level(NULL, 0, 0, 0, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_uint_eq(glanz_look_memory(NULL, NULL, NULL), 0);
    ck_assert_uint_eq(glanz_show_memory(NULL, NULL), 0);
    stage_must_open(&stage, WIDE_RIG,
                    "{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','look':'l'}}}");
    struct glanz_engine *engine = glanz_device_engine(stage.device);
    ck_assert_int_eq(glanz_engine_clock(engine, 20000, 86400), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_clock(engine, 3000000, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_level(engine, 200, 0, 0, 0), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_engine_level(engine, 0, 65537, 0, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_level(engine, 0, 65536u | GLANZ_LEVEL_TURN, 0, 0), GLANZ_ERR_ARGUMENT);
    /* contents of another kind, or none; rectangles, panels and ways that are not there */
    static const struct glanz_writing writing = {.kind = GLANZ_CONTENT_WRITING, .text = "a", .font = NULL};
    struct glanz_change now = {0, 0, 0};
    struct glanz_look look = {.name = "l", .effect = &glanz_effect_picture, .content = &writing};
    ck_assert_int_eq(glanz_engine_look(engine, 0, &look, now), GLANZ_ERR_SHOW);
    look.content = NULL;
    ck_assert_int_eq(glanz_engine_look(engine, 0, &look, now), GLANZ_ERR_SHOW);
    struct glanz_field field;
    struct glanz_region cut;
    for (int i = 0; i < 6; i++) {
        memset(&cut, 0, sizeof cut);
        cut.mapping = i == 0 ? GLANZ_MAPPINGS : 0;
        cut.turned = i == 1 ? 4 : 0;
        cut.piece = i == 2 ? 2 : 0;
        cut.columns = i == 3 ? 41 : i == 4 ? 1 : 0;
        cut.rows = i == 3 ? 1 : 0;
        cut.first = i == 5 ? 400 : 0;
        ck_assert_int_eq(glanz_region_field(&field, &cut, &stage.rig->surfaces[0]), 0);
    }
}
END_TEST

/* Dates against the C library's calendar, 1970 to 2170. */
START_TEST(dates_are_the_calendars) {
    for (uint32_t day = 0; day < 73000; day++) {
        time_t seconds = (time_t)day * 86400;
        struct tm want;
        char text[16];
        gmtime_r(&seconds, &want);
        strftime(text, sizeof text, "%Y-%m-%d", &want);
        struct glanz_world world = {.known = 1, .day = day};
        struct glanz_writing told = {.kind = GLANZ_CONTENT_WRITING, .text = "{date}", .font = &glanz_font_buoy};
        struct glanz_writing wanted = {.kind = GLANZ_CONTENT_WRITING, .text = text, .font = &glanz_font_buoy};
        struct glanz_letter one[40];
        struct glanz_letter other[40];
        uint16_t count = glanz_writing_set(one, 40, NULL, &told, 0, &world);
        REQUIRE(count == 10 && glanz_writing_set(other, 40, NULL, &wanted, 0, NULL) == 10);
        REQUIRE_MSG(memcmp(one, other, sizeof *one * 11u) == 0, "day %u: not %s", (unsigned)day, text);
    }
}
END_TEST

/* ---- the game of life ---- */

START_TEST(colony_lives_by_the_rules) { /* against a plain game on a torus, from what was sown; then it is sown anew */
    enum { WIDE = 13, HIGH = 9 };
    static uint64_t memory[40];
    struct glanz_frame now;
    memset(&now, 0, sizeof now);
    now.length = WIDE;
    now.rows = HIGH;
    now.seed = 4;
    now.gradient = &glanz_gradient_standard;
    now.number[GLANZ_COLONY_FILL] = GLANZ_PERCENT(40);
    now.memory = memory;
    now.capacity = (uint16_t)glanz_effect_colony.memory(&now);
    ck_assert_uint_le(now.capacity, sizeof memory);
    uint8_t alive[HIGH][WIDE];
    int anew = 0;
    for (int generation = 0; generation < 1500; generation++) {
        now.lap[0] = (int16_t)generation;
        glanz_effect_colony.step(&now);
        uint8_t lit[HIGH][WIDE];
        int differ = 0;
        now.turn[0] = 0xFFFFFFFFu; /* births and deaths are over */
        for (int y = 0; y < HIGH; y++) {
            for (int x = 0; x < WIDE; x++) {
                glanz_place place_x = x * GLANZ_STEP + GLANZ_HALF;
                glanz_place place_y = y * GLANZ_STEP + GLANZ_HALF;
                struct glanz_places places = {&place_x, &place_y, NULL};
                struct glanz_light light;
                glanz_effect_colony.shade_field(&light, NULL, &now, &places, 1);
                lit[y][x] = light.red + light.green + light.blue > 100;
                int around = 0;
                for (int i = 0; i < 9 && generation > 0; i++) {
                    around += i != 4 && alive[(y + i / 3 + HIGH - 1) % HIGH][(x + i % 3 + WIDE - 1) % WIDE];
                }
                differ += generation > 0 && lit[y][x] != (around == 3 || (around == 2 && alive[y][x]));
            }
        }
        anew += differ != 0;
        memcpy(alive, lit, sizeof alive);
    }
    REQUIRE_MSG(anew >= 2 && anew < 100, "sown anew %d times in 1500 generations", anew); /* all others by the rules */
}
END_TEST

START_TEST(effects_are_the_same_at_every_frame_rate) { /* L7 on fields: at 40 and at 160 frames/s, after six seconds */
    static const char *const looks[] = {"'effect':'fire'",
                                        "'effect':'rain'",
                                        "'effect':'ripples'",
                                        "'effect':'plasma'",
                                        "'effect':'clouds'",
                                        "'effect':'spokes'",
                                        "'effect':'colony'",
                                        "'effect':'fireworks'",
                                        "'effect':'text','text':'Ebbe 17'",
                                        "'effect':'picture','picture':'p','way':'leftward'"};
    static uint8_t first[400];
    char show[700];
    snprintf(show, sizeof show,
             "{'show':'t','brightness':'100 %%','change':'0 "
             "s','pictures':{'p':{'rows':['ab','ba','.b'],'colors':{'a':'#fa0','b':'#08f'}}},"
             "'looks':{'l':{%s}},'segments':{'s':{'surface':'a','look':'l'}}}",
             looks[_i]);
    for (uint32_t rate = 40; rate <= 160; rate += 120) {
        stage_must_open(&stage, WIDE_RIG, show);
        stage_run(&stage, 0, 6000000, rate);
        stage_frame(&stage, 6000000);
        for (int i = 0; i < 400; i++) {
            uint8_t green = stage_led(&stage, 0, (uint16_t)i, 1);
            if (rate == 40) {
                first[i] = green;
            }
            REQUIRE_MSG(abs(green - first[i]) <= 3, "LED %d: %d at 40, %d at 160 frames/s", i, first[i], green);
        }
        stage_close(&stage);
    }
}
END_TEST

/* ---- marks, cover, memory ---- */

START_TEST(
    marks_lie_over_what_runs) { /* by index and by place; kept in a saved preset; what is not marked shows what is under it */
    stage_must_open(&stage,
                    "{'rig':'t','supplies':{'s':{'volts':'5 "
                    "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':32}]}},"
                    "'surfaces':{'a':{'grid':[{'output':'o','first':2,'columns':6,'rows':5,'zigzag':true}]}}}",
                    "{'show':'t','brightness':'100 %','change':'0 s','looks':{'under':{'effect':'plain','color':'#000040'},'by "
                    "hand':{'effect':'marked',"
                    "'marks':[{'first':7,'leds':3,'color':'#ff0000'},{'left':4,'top':3,'color':'#00ff00'},{'left':0,'top':1,'"
                    "columns':2,'rows':2,"
                    "'color':'#00ff00'},{'first':0,'color':'#ff0000'}]}},'segments':{'u':{'surface':'a','look':'under'},'m':{'"
                    "surface':'a','look':"
                    "'by hand'}},'stack':['u','m'],'presets':{'off':{'m':'under'}}}");
    stage_run(&stage, 0, 3000000, 100);
    ck_assert_int_eq(glanz_device_save(stage.device, "mine", UINT64_MAX, GLANZ_ASPECTS, 0), GLANZ_OK);
    for (int round = 0; round < 2; round++) {
        struct at table[30];
        panel_table(table, 6, 5, GLANZ_ZIGZAG);
        for (int i = 0; i < 30; i++) {
            int red = (i >= 7 && i < 10) || i == 0;
            int green = (table[i].x == 4 && table[i].y == 3) || (table[i].x < 2 && table[i].y >= 1 && table[i].y < 3);
            REQUIRE_MSG((stage_led(&stage, 0, (uint16_t)(2 + i), 0) == 255) == (red && !(green && i != 0)), "LED %d", i);
            REQUIRE((stage_led(&stage, 0, (uint16_t)(2 + i), 1) == 255) == green);
            REQUIRE((stage_led(&stage, 0, (uint16_t)(2 + i), 2) > 0) == (!red && !green));
        }
        if (round == 0) { /* gone, and back from the saved preset */
            ck_assert_int_eq(glanz_device_recall(stage.device, "off", 0, NULL), GLANZ_OK);
            stage_run(&stage, 3000000, 3100000, 100);
            ck_assert_uint_eq(stage_sum(&stage, 0, 0), 0);
            ck_assert_int_eq(glanz_device_recall(stage.device, "mine", 0, NULL), GLANZ_OK);
            stage_run(&stage, 3100000, 3200000, 100);
        }
    }
}
END_TEST

START_TEST(cover_is_mixed_as_light) { /* L5 with transparency: midway in a fade each LED has the mean of both */
    stage_must_open(
        &stage,
        "{'rig':'t','supplies':{'s':{'volts':'5 "
        "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':12}]}},"
        "'surfaces':{'a':{'grid':[{'output':'o','first':0,'columns':4,'rows':3}]}}}",
        "{'show':'t','brightness':'100 %','change':'2 "
        "s','pictures':{'p':{'rows':['.a','a.'],'colors':{'a':'#ff0000'}}},'looks':{'u':{"
        "'effect':'plain','color':'#0000ff'},'p':{'effect':'picture','picture':'p','across':'0 %','level':'0 "
        "%'},'q':{'effect':'plain',"
        "'color':'#00ff00'}},'segments':{'u':{'surface':'a','look':'u'},'o':{'surface':'a','look':'p'}},'stack':['u','o']}");
    struct glanz_change over = {0, 2000, 0};
    stage_run(&stage, 0, 3000000, 100);
    ck_assert_uint_eq(stage_led(&stage, 0, 0, 2), 255);
    ck_assert_uint_eq(stage_led(&stage, 0, 1, 0), 255);
    ck_assert_uint_eq(stage_led(&stage, 0, 1, 2), 0);
    over.at_us = glanz_device_clock(stage.device);
    ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 1, &stage.show->looks[2], over), GLANZ_OK);
    stage_run(&stage, 3000000, 3990000, 100);
    ck_assert_int_le(abs(stage_led(&stage, 0, 0, 2) - 128), 3); /* blue gives way to green */
    ck_assert_int_le(abs(stage_led(&stage, 0, 0, 1) - 128), 3);
    ck_assert_int_le(abs(stage_led(&stage, 0, 1, 0) - 128), 3); /* red gives way to green, no blue between */
    ck_assert_int_le(abs(stage_led(&stage, 0, 1, 1) - 128), 3);
    ck_assert_int_le(stage_led(&stage, 0, 1, 2), 1);
}
END_TEST

START_TEST(memory_of_effects_is_bounded) { /* refused when it is too little; never short when it is what was asked for */
    static const char show[] =
        "{'show':'t','change':'300 ms','looks':{'a':{'effect':'colony'},'b':{'effect':'colony','share':'70 %'},'c':{"
        "'effect':'text','text':'now {time}'},'d':{'effect':'plain'}},'segments':{'s':{'surface':'a','left':0,'top':0,"
        "'columns':20,'rows':10,'look':'a'},'t':{'surface':'a','left':20,'top':0,'columns':20,'rows':10,'look':'c'}},"
        "'presets':{'p':{'s':'c','t':'a'},'q':{'s':'b','t':'b'}}}";
    stage_must_open(&stage, WIDE_RIG, show);
    size_t needed = glanz_device_size(stage.rig, 2) + glanz_show_memory(stage.show, stage.rig);
    ck_assert_uint_gt(glanz_show_memory(stage.show, stage.rig), 3 * 2 * 50);
    uint64_t *block = (uint64_t *)calloc(1, needed + 64);
    struct glanz_setup setup = {.rig = stage.rig, .show = stage.show, .port = &stage.port, .parts = &glanz_everything};
    struct glanz_device *device = NULL;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    ck_assert_int_eq(glanz_device_start(&device, block, needed - 8, &setup, &fault), GLANZ_ERR_MEMORY);
    ck_assert_uint_eq(fault.needed, needed);
    memset((uint8_t *)block + needed, 0xA5, 64);
    ck_assert_int_eq(glanz_device_start(&device, block, needed, &setup, &fault), GLANZ_OK);
    for (uint32_t i = 0; i < 3000; i++) { /* looks change faster than they fade */
        uint32_t draw = glanz_hash(i);
        struct glanz_change change = {glanz_device_clock(device), draw % 900, 0};
        if (draw % 7 == 0) {
            ck_assert_int_eq(
                glanz_engine_look(glanz_device_engine(device), draw >> 8 & 1, &stage.show->looks[draw >> 9 & 3], change),
                GLANZ_OK);
        }
        glanz_device_frame(device, i * 10000u);
    }
    for (int i = 0; i < 64; i++) {
        REQUIRE(((uint8_t *)block)[needed + (size_t)i] == 0xA5);
    }
    free(block);
}
END_TEST

START_TEST(trims_multiply) { /* of the line and of its stretches */
    stage_must_open(
        &stage,
        "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','trim':'50 "
        "%','line':[{'chip':'WS2812B','leds':2,"
        "'trim':{'red':'50 %'}},{'chip':'WS2812B','leds':2}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':4}]}}}",
        "{'show':'t','brightness':'100 "
        "%','looks':{'l':{'effect':'plain','color':'#ffffff'}},'segments':{'s':{'surface':'a','look':'l'}}}");
    stage_run(&stage, 0, 3000000, 100);
    ck_assert_int_le(abs(stage_led(&stage, 0, 0, 0) - 64), 1);
    ck_assert_int_le(abs(stage_led(&stage, 0, 0, 1) - 128), 1);
    ck_assert_int_le(abs(stage_led(&stage, 0, 3, 0) - 128), 1);
}
END_TEST

/* However a segment is cut, turned, mirrored: through a window each LED's place is its own, moved; what the effect sees is the
 * window's field. One that reaches out of it by a single point is refused. */
START_TEST(windows_move_places) {
    static const struct glanz_panel panels[2] = {{.columns = 7, .rows = 5, .wiring = GLANZ_ZIGZAG},
                                                 {.left = 7, .columns = 5, .rows = 7, .turned = 1, .wiring = GLANZ_BY_COLUMNS}};
    static const struct glanz_piece pieces[2] = {{0, 0, 0, 35}, {0, 1, 35, 35}};
    static const struct glanz_surface surface = {
        .name = "a", .pieces = pieces, .piece_count = 2, .kind = GLANZ_SURFACE_GRID, .panels = panels};
    uint32_t seed = 7;
    int compared = 0;
    for (int draw = 0; draw < 4000; draw++) {
        struct glanz_region region = {0};
        struct glanz_field own;
        struct glanz_field seen;
        seed = glanz_hash(seed);
        region.turned = seed & 3;
        region.reversed = seed >> 2 & 1;
        region.mirrored = seed >> 3 & 1;
        region.grain = (uint8_t)(1 + (seed >> 4) % 3);
        region.mapping = (seed >> 6) % 3 == 0 ? GLANZ_MAPPING_ALONG : GLANZ_MAPPING_ACROSS;
        if ((seed >> 8 & 1) != 0) {
            region.left = (seed >> 9) % 4;
            region.top = (seed >> 11) % 2;
            region.columns = (uint16_t)(3 + (seed >> 13) % 6);
            region.rows = (uint16_t)(2 + (seed >> 16) % 3);
        }
        region.stencil[0] = (seed >> 19 & 1) != 0 ? 2 : 0;
        region.stencil[1] = (seed >> 19 & 1) != 0 ? 1 : 0;
        if (!glanz_region_field(&own, &region, &surface)) {
            continue;
        }
        struct glanz_window window = {.left = (seed >> 20) % 30, .top = (seed >> 25) % 20};
        window.columns = (uint16_t)(window.left + own.columns + (seed >> 30 & 1));
        window.rows = (uint16_t)(window.top + own.rows + (seed >> 31));
        region.within = &window;
        REQUIRE(glanz_region_field(&seen, &region, &surface));
        REQUIRE(seen.columns == window.columns && seen.rows == window.rows && seen.length == window.columns && !seen.closed);
        for (uint8_t piece = 0; piece < 2; piece++) {
            struct glanz_stretch_of run = {piece, 0, (uint16_t)(35 * piece), (uint16_t)(35 * piece)};
            glanz_place x[2][35];
            glanz_place y[2][35];
            uint8_t taken[2][35];
            memset(taken, 0, sizeof taken);
            uint8_t through = glanz_field_places(x[1], y[1], taken[1], &region, &seen, &surface, &run, 35);
            region.within = NULL;
            if (own.line) {
                through = glanz_region_places(x[0], taken[0], &region, 70, run.at, 0, 35);
                for (int i = 0; i < through; i++) {
                    y[0][i] = GLANZ_HALF;
                }
            } else {
                REQUIRE(glanz_field_places(x[0], y[0], taken[0], &region, &own, &surface, &run, 35) == through);
            }
            region.within = &window;
            for (int i = 0; i < through; i++) {
                REQUIRE(x[1][i] - x[0][i] == window.left * GLANZ_STEP && y[1][i] - y[0][i] == window.top * GLANZ_STEP);
                REQUIRE(!seen.sparse || taken[0][i] == taken[1][i]);
                compared++;
            }
        }
        window.columns = (uint16_t)(window.left + own.columns - 1);
        REQUIRE(!glanz_region_field(&seen, &region, &surface));
        window.columns = (uint16_t)(window.left + own.columns);
        window.rows = (uint16_t)(window.top + own.rows - 1);
        REQUIRE(!glanz_region_field(&seen, &region, &surface));
    }
    REQUIRE(compared > 50000);
}
END_TEST

/* ---- the finder ---- */

/* What one answers, from where the coloured LEDs really are. */
static int see_wiring(struct at red, struct at green, struct at row_two, struct at column_two) {
    int wiring = (red.x > 0 ? GLANZ_FROM_RIGHT : 0) | (red.y > 0 ? GLANZ_FROM_BOTTOM : 0);
    struct at next = row_two;
    if (green.x == red.x) {
        wiring |= GLANZ_BY_COLUMNS;
        next = column_two;
        return wiring | (next.y == red.y ? 0 : GLANZ_ZIGZAG);
    }
    return wiring | (next.x == red.x ? 0 : GLANZ_ZIGZAG);
}

/* The colour of a LED of the picture: 0 red, 1 green, 2 blue, 3 white, -1 dark. */
static int seen_color(const struct glanz_finder *finder, int led) {
    struct glanz_light light = glanz_finder_light(finder, (uint16_t)led);
    return light.red && light.green ? 3 : light.green ? 1 : light.blue ? 2 : light.red ? 0 : -1;
}

/* Panels beside and below each other, all of a size. */
static void hang_equal(struct glanz_panel *hanging, int columns, int rows, int across, int down) {
    memset(hanging, 0, 8 * sizeof *hanging);
    for (int i = 0; i < across * down; i++) {
        hanging[i].columns = (uint16_t)columns;
        hanging[i].rows = (uint16_t)rows;
        hanging[i].left = (uint16_t)(i % across * columns);
        hanging[i].top = (uint16_t)(i / across * rows);
    }
}

/* What one answers to the question of the order: colours by slot, as they are seen; a panel shows one or none. */
static uint16_t see_order(const struct glanz_finder *finder, const struct glanz_panel *hanging, int count,
                          const uint8_t *slot) {
    uint8_t seen[8];
    uint8_t panel[8];
    uint16_t matching = 0;
    uint16_t found = 0;
    int first = 0;
    for (int p = 0; p < count; p++) {
        int leds = hanging[slot[p]].columns * hanging[slot[p]].rows;
        int color = seen_color(finder, first);
        for (int led = 1; led < leds; led++) {
            int other = seen_color(finder, first + led);
            REQUIRE(other == color || other == -1); /* no second colour, so nobody wonders */
        }
        seen[slot[p]] = (uint8_t)(color < 0 ? GLANZ_FINDER_DARK : (unsigned)color + finder->panel);
        first += leds;
    }
    for (uint16_t answer = 0; answer < glanz_finder_answers(finder); answer++) {
        glanz_finder_order(panel, finder, answer);
        if (memcmp(panel, seen, (size_t)count) == 0) {
            matching++;
            found = answer;
        }
    }
    REQUIRE(matching == 1);
    return found;
}

/* One search against panels that really hang in an order and have wirings, all by number along the line; tables[size of the
 * slot][wiring]. @return questions asked. */
static int search(struct glanz_finder *finder, const struct at (*tables)[16][64], const uint8_t *size_of,
                  const struct glanz_panel *hanging, int count, const uint8_t *slot, const uint8_t *wiring) {
    int questions = 0;
    REQUIRE(glanz_finder_begin(finder, hanging, (uint8_t)count) == GLANZ_OK);
    while (finder->question != GLANZ_FINDER_LOOK) {
        uint16_t answer;
        questions++;
        if (finder->question == GLANZ_FINDER_ORDER) {
            answer = see_order(finder, hanging, count, slot);
        } else {
            struct at seen[4] = {{-1, -1}, {-1, -1}, {-1, -1}, {-1, -1}};
            int square = 0;
            int first = 0;
            for (int p = 0; p < count; p++) {
                const struct glanz_panel *panel = &hanging[slot[p]];
                int at[4] = {0, 1, panel->columns, panel->rows}; /* only these may be lit: what the picture is about */
                for (int i = 0; i < 4; i++) {
                    int color = seen_color(finder, first + at[i]);
                    if (color >= 0) {
                        seen[color] = tables[size_of[slot[p]]][wiring[p]][at[i]];
                        square = panel->columns == panel->rows;
                    }
                }
                first += panel->columns * panel->rows;
            }
            answer = (uint16_t)see_wiring(seen[0], seen[1], seen[2], square ? seen[2] : seen[3]);
        }
        REQUIRE(glanz_finder_answer(finder, answer) == GLANZ_OK);
    }
    REQUIRE(glanz_finder_answer(finder, 1) == GLANZ_OK);
    return questions;
}

/* Has the search found what really is? */
static int found_all(const struct glanz_finder *finder, const struct glanz_panel *hanging, int count, const uint8_t *slot,
                     const uint8_t *wiring) {
    struct glanz_panel panels[8];
    glanz_finder_panels(finder, panels);
    for (int p = 0; p < count; p++) {
        const struct glanz_panel *hung = &hanging[slot[p]];
        if (panels[p].wiring != wiring[p] || panels[p].left != hung->left || panels[p].top != hung->top ||
            panels[p].columns != hung->columns || panels[p].rows != hung->rows || panels[p].turned || panels[p].mirrored) {
            return 0;
        }
    }
    return finder->question == GLANZ_FINDER_DONE;
}

/* A drawn order and drawn wirings. */
static void draw_hanging(uint8_t *slot, uint8_t *wiring, int count, uint32_t *seed) {
    for (int i = 0; i < count; i++) {
        slot[i] = (uint8_t)i;
    }
    for (int i = count - 1; i >= 0; i--) { /* shuffled */
        *seed = glanz_hash(*seed);
        uint8_t other = (uint8_t)(*seed % (unsigned)(i + 1));
        uint8_t held = slot[i];
        slot[i] = slot[other];
        slot[other] = held;
        wiring[i] = *seed >> 16 & 15;
    }
}

START_TEST(
    finder_finds_every_wiring) { /* every order and every wiring of one to four panels of some sizes; five questions at most */
    static const int sizes[][4] = {{8, 8, 1, 1}, {5, 3, 1, 1}, {2, 2, 2, 1}, {4, 7, 1, 2},
                                   {8, 6, 3, 1}, {3, 4, 2, 2}, {4, 4, 2, 2}};
    static struct at tables[1][16][64];
    static const uint8_t same[8];
    struct glanz_panel hanging[8];
    const int *size = sizes[_i];
    int count = size[2] * size[3];
    uint64_t searched = 0;
    for (int wiring = 0; wiring < 16; wiring++) {
        panel_table(tables[0][wiring], size[0], size[1], wiring);
    }
    hang_equal(hanging, size[0], size[1], size[2], size[3]);
    uint32_t orders = count == 1 ? 1 : count == 2 ? 2 : count == 3 ? 6 : 24;
    uint32_t step = test_slow() && count > 2 ? 16 : 1; /* under sanitizers a sixteenth of those of three and four */
    for (uint32_t order = 0; order < orders; order++) {
        uint8_t hung[4] = {0, 1, 2, 3};
        uint8_t slot[4];
        struct glanz_finder begun;
        REQUIRE(glanz_finder_begin(&begun, hanging, (uint8_t)count) == GLANZ_OK);
        if (count > 1) {
            REQUIRE(glanz_finder_answers(&begun) == orders);
            glanz_finder_order(hung, &begun, (uint16_t)order);
        }
        for (int s = 0; s < count; s++) {
            slot[hung[s]] = (uint8_t)s;
        }
        for (uint32_t all = order % step; all < 1u << (4 * count); all += step) {
            uint8_t wiring[4] = {all & 15, all >> 4 & 15, all >> 8 & 15, all >> 12 & 15};
            struct glanz_finder finder;
            int questions = search(&finder, (const struct at(*)[16][64])tables, same, hanging, count, slot, wiring);
            REQUIRE(questions == (count == 1 ? 1 : count + 1));
            REQUIRE(found_all(&finder, hanging, count, slot, wiring));
            searched++;
        }
    }
    REQUIRE(searched == ((uint64_t)orders << (4 * count)) / step); /* 1,572,864 of four panels */
}
END_TEST

START_TEST(finder_finds_up_to_eight_panels) { /* drawn orders and wirings of five to eight; two questions for the order */
    static const int shapes[][2] = {{5, 1}, {2, 3}, {7, 1}, {4, 2}, {1, 8}};
    static struct at tables[1][16][64];
    static const uint8_t same[8];
    uint32_t seed = 5;
    for (int wiring = 0; wiring < 16; wiring++) {
        panel_table(tables[0][wiring], 5, 3, wiring);
    }
    for (size_t s = 0; s < sizeof shapes / sizeof shapes[0]; s++) {
        int count = shapes[s][0] * shapes[s][1];
        struct glanz_panel hanging[8];
        hang_equal(hanging, 5, 3, shapes[s][0], shapes[s][1]);
        for (int draw = 0; draw < 3000; draw++) {
            uint8_t slot[8];
            uint8_t wiring[8];
            struct glanz_finder finder;
            draw_hanging(slot, wiring, count, &seed);
            int questions = search(&finder, (const struct at(*)[16][64])tables, same, hanging, count, slot, wiring);
            REQUIRE(questions == count + (count == 5 ? 1 : 2));
            REQUIRE(found_all(&finder, hanging, count, slot, wiring));
        }
    }
}
END_TEST

START_TEST(finder_finds_panels_of_different_sizes) { /* drawn sizes, orders, wirings; some sizes with equally many LEDs */
    static const int sizes[][2] = {{5, 3}, {3, 5}, {4, 4}, {8, 2}, {2, 2}, {8, 8}, {7, 9}};
    static struct at tables[7][16][64];
    uint32_t seed = 11;
    int unequal = 0;
    for (int size = 0; size < 7; size++) {
        for (int wiring = 0; wiring < 16; wiring++) {
            panel_table(tables[size][wiring], sizes[size][0], sizes[size][1], wiring);
        }
    }
    for (int draw = 0; draw < 20000; draw++) {
        int count = 1 + draw % 8;
        uint8_t size_of[8];
        uint8_t slot[8];
        uint8_t wiring[8];
        struct glanz_panel hanging[8];
        struct glanz_finder finder;
        memset(hanging, 0, sizeof hanging);
        for (int i = 0; i < count; i++) {
            seed = glanz_hash(seed);
            size_of[i] = (uint8_t)(seed % (draw % 3 == 0 ? 2u : 7u)); /* a third: all of 15 LEDs, lying or standing */
            hanging[i] = (struct glanz_panel){.columns = (uint16_t)sizes[size_of[i]][0],
                                              .rows = (uint16_t)sizes[size_of[i]][1],
                                              .left = (uint16_t)(9 * i),
                                              .top = (uint16_t)(seed >> 28)};
        }
        draw_hanging(slot, wiring, count, &seed);
        int questions = search(&finder, (const struct at(*)[16][64])tables, size_of, hanging, count, slot, wiring);
        REQUIRE(found_all(&finder, hanging, count, slot, wiring));
        REQUIRE(questions <= 2 * count - (count > 1)); /* a question for each panel, for all but the last one more */
        REQUIRE(draw % 3 != 0 || questions <= count + (count == 1 ? 0 : count < 6 ? 1 : 2));
        unequal += questions > count + 2;
    }
    REQUIRE(unequal > 1000);
}
END_TEST

/* The picture of a panel in a slot, as it hangs, when `said` was answered of all panels and `truth` is so. */
static void see_letter(uint8_t seen[8][8], struct glanz_finder *finder, const struct at *table, uint8_t slot, uint8_t said) {
    struct glanz_panel hanging[8];
    hang_equal(hanging, 8, 8, 8, 1);
    REQUIRE(glanz_finder_begin(finder, hanging, 8) == GLANZ_OK);
    while (finder->question != GLANZ_FINDER_LOOK) { /* all in order along the line */
        REQUIRE(glanz_finder_answer(finder, finder->question == GLANZ_FINDER_ORDER ? 0 : said) == GLANZ_OK);
    }
    for (uint16_t led = 0; led < 64; led++) {
        seen[table[led].y][table[led].x] = glanz_finder_light(finder, (uint16_t)(slot * 64 + led)).red != 0;
    }
}

START_TEST(finder_notices_wrong_answers) { /* after any wrong answer about a panel its letter is not the right way round */
    static struct at tables[16][64];
    struct glanz_finder finder;
    uint8_t first[8][8][8];
    for (int wiring = 0; wiring < 16; wiring++) {
        panel_table(tables[wiring], 8, 8, wiring);
    }
    for (uint8_t slot = 0; slot < 8; slot++) {
        see_letter(first[slot], &finder, tables[0], slot, 0);
        for (uint8_t other = 0; other < slot; other++) { /* each a letter of its own */
            REQUIRE(memcmp(first[slot], first[other], sizeof first[slot]) != 0);
        }
        for (uint8_t truth = 0; truth < 16; truth++) {
            uint8_t seen[8][8];
            for (uint8_t said = 0; said < 16; said++) {
                see_letter(seen, &finder, tables[truth], slot, said);
                REQUIRE((memcmp(first[slot], seen, sizeof seen) == 0) == (said == truth));
            }
        }
    }
}
END_TEST

/* A wiring is supposed at any moment: the letters stand as it says, nothing that was answered is lost, and the panels found are
 * as supposed. */
START_TEST(wirings_are_supposed) {
    static struct at tables[16][64];
    struct glanz_panel hanging[8];
    struct glanz_panel panels[8];
    struct glanz_finder finder;
    uint8_t first[8][8];
    uint8_t seen[8][8];
    for (int wiring = 0; wiring < 16; wiring++) {
        panel_table(tables[wiring], 8, 8, wiring);
    }
    see_letter(first, &finder, tables[0], 0, 0);
    hang_equal(hanging, 8, 8, 3, 1);
    for (int moment = 0; moment < 6; moment++) { /* before any answer, after the order, after each wiring, after all */
        for (uint8_t truth = 0; truth < 16; truth++) {
            ck_assert_int_eq(glanz_finder_begin(&finder, hanging, 3), GLANZ_OK);
            for (int answered = 0; answered < moment; answered++) {
                ck_assert_int_eq(glanz_finder_answer(&finder, answered == 0 || answered == 4 ? 1 : 6), GLANZ_OK);
            }
            ck_assert_int_eq(glanz_finder_suppose(&finder, 0, truth), GLANZ_OK);
            REQUIRE(finder.question == GLANZ_FINDER_LOOK && glanz_finder_answers(&finder) == 2);
            for (uint16_t led = 0; led < 64; led++) {
                seen[tables[truth][led].y][tables[truth][led].x] = glanz_finder_light(&finder, led).red != 0;
            }
            REQUIRE(memcmp(first, seen, sizeof seen) == 0);
            ck_assert_int_eq(glanz_finder_exchange(&finder, 2, 1), GLANZ_OK);
            ck_assert_int_eq(glanz_finder_answer(&finder, 1), GLANZ_OK);
            glanz_finder_panels(&finder, panels);
            REQUIRE(panels[0].left == 0 && panels[0].wiring == truth);
            /* the second answer of six orders is 0, 2, 1 along the line; exchanged, they hang in turn */
            REQUIRE(panels[1].left == (moment == 0 ? 16 : 8) && panels[2].left == (moment == 0 ? 8 : 16));
            /* wirings were asked along the line: slots 0, 2, 1 */
            REQUIRE(panels[1].wiring == (moment > 3 ? 6 : 0) && panels[2].wiring == (moment > 2 ? 6 : 0));
        }
    }
    ck_assert_int_eq(glanz_finder_suppose(&finder, 3, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_finder_suppose(&finder, 0, 16), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_finder_suppose(NULL, 0, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_finder_exchange(&finder, 0, 3), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_finder_exchange(NULL, 0, 0), GLANZ_ERR_ARGUMENT);
    REQUIRE(finder.question == GLANZ_FINDER_DONE); /* a refused one changes nothing */
}
END_TEST

START_TEST(finder_refuses_what_cannot_be) {
    struct glanz_finder finder;
    struct glanz_panel hanging[8];
    hang_equal(hanging, 8, 8, 8, 1);
    ck_assert_int_eq(glanz_finder_begin(&finder, hanging, 1), GLANZ_OK);
    ck_assert_int_eq(glanz_finder_answer(&finder, 15), GLANZ_OK);
    ck_assert_int_eq(glanz_finder_answer(&finder, 0), GLANZ_ERR_STATE); /* the letter is wrong: from the start */
    REQUIRE(finder.question == GLANZ_FINDER_WIRING && finder.anew == 1 && finder.panel == 0);
    ck_assert_int_eq(glanz_finder_answer(&finder, 16), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_finder_begin(&finder, hanging, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_finder_begin(&finder, hanging, 9), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_finder_begin(&finder, NULL, 1), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_finder_begin(NULL, hanging, 1), GLANZ_ERR_ARGUMENT);
    hanging[3].rows = 1;
    ck_assert_int_eq(glanz_finder_begin(&finder, hanging, 8), GLANZ_ERR_ARGUMENT);
    hang_equal(hanging, 255, 255, 2, 1); /* more LEDs than can be counted */
    ck_assert_int_eq(glanz_finder_begin(&finder, hanging, 2), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_finder_begin(&finder, hanging, 1), GLANZ_OK);
    ck_assert_int_eq(glanz_finder_answer(NULL, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_uint_eq(glanz_finder_answers(NULL), 0);
    uint8_t order[8] = {7};
    struct glanz_panel panel = {.columns = 7};
    glanz_finder_order(NULL, &finder, 0);
    glanz_finder_order(order, NULL, 0);
    glanz_finder_panels(NULL, &panel);
    glanz_finder_panels(&finder, NULL);
    REQUIRE(order[0] == 7 && panel.columns == 7); /* nothing was written */
    hang_equal(hanging, 2, 2, 3, 2);
    ck_assert_int_eq(glanz_finder_begin(&finder, hanging, 6), GLANZ_OK);
    glanz_finder_order(order, &finder, 65535); /* no such answer: still an order */
    uint8_t lit = 0;
    for (int i = 0; i < 6; i++) {
        lit |= (uint8_t)(order[i] == GLANZ_FINDER_DARK ? 0 : 1u << order[i]);
    }
    ck_assert_uint_eq(lit, 15);
}
END_TEST

/* ---- pictures ---- */

START_TEST(pictures_unpack_as_they_were) { /* any size, colours and frames; and no byte can change unnoticed */
    static uint8_t points[40 * 30 * 4];
    static uint8_t bytes[20000];
    static uint8_t out[40 * 30];
    static uint8_t palette[256 * 4];
    for (uint32_t draw = 0; draw < 600; draw++) {
        struct glanz_picture_head head = {(uint16_t)(1 + glanz_hash(draw) % 40), (uint16_t)(1 + glanz_hash(draw + 1) % 30),
                                          (uint16_t)(1 + glanz_hash(draw + 2) % 4), (uint16_t)(1 + glanz_hash(draw + 3) % 256),
                                          0};
        head.colors = draw % 3 == 0 ? (uint16_t)(1 + head.colors % 4) : head.colors;
        uint16_t ms[4] = {10, 65535, 0, 300};
        uint32_t all = (uint32_t)head.columns * head.rows;
        uint32_t at = 0;
        while (at < all * head.frames) { /* runs, noise, and what was there before */
            uint32_t hash = glanz_hash2(draw, at);
            uint32_t length = 1 + (hash >> 8) % (draw % 5 == 0 ? 300 : 9);
            for (uint32_t i = 0; i < length && at < all * head.frames; i++, at++) {
                points[at] = (uint8_t)(hash % 3 == 0 && at >= all ? points[at - all]
                                       : hash % 3 == 1            ? hash % head.colors
                                                                  : glanz_hash2(hash, i) % head.colors);
            }
        }
        for (uint32_t i = 0; i < 4u * head.colors; i++) {
            palette[i] = (uint8_t)glanz_hash(i + draw);
        }
        uint32_t count = glanz_picture_pack(bytes, sizeof bytes, &head, palette, points, ms);
        ck_assert_uint_gt(count, 0);
        struct glanz_picture_head read;
        ck_assert_int_eq(glanz_picture_open(&read, bytes, count, 1), GLANZ_OK);
        REQUIRE(read.columns == head.columns && read.rows == head.rows && read.frames == head.frames &&
                read.colors == head.colors);
        uint32_t from = read.first;
        for (uint16_t f = 0; f < head.frames; f++) {
            ck_assert_uint_eq(glanz_picture_frame(out, &from, &read, bytes, f == 0), ms[f]);
            ck_assert_mem_eq(out, points + f * all, all);
        }
        uint32_t spot = glanz_hash(draw + 9) % count;
        bytes[spot] ^= (uint8_t)(1u << (draw & 7));
        ck_assert_int_eq(glanz_picture_open(&read, bytes, count, 1), GLANZ_ERR_DAMAGED);
        bytes[spot] ^= (uint8_t)(1u << (draw & 7));
        ck_assert_int_eq(glanz_picture_open(&read, bytes, spot, 1), GLANZ_ERR_DAMAGED);
        ck_assert_uint_eq(glanz_picture_pack(bytes, count - 1, &head, palette, points, ms), 0);
    }
}
END_TEST

START_TEST(bytes_that_are_no_picture_show_nothing) { /* in a look written in C, which nobody has checked */
    static uint8_t bytes[120];
    static const uint8_t palette[] = {255, 0, 0, 255, 0, 255, 0, 255};
    static const uint8_t points[] = {0, 1, 1, 0};
    static const uint16_t ms = 40;
    struct glanz_picture_head head = {2, 2, 1, 2, 0};
    struct glanz_picture picture = {GLANZ_CONTENT_PICTURE, "p", bytes, 0};
    struct glanz_look look = {.name = "p", .effect = &glanz_effect_picture, .content = &picture};
    picture.count = glanz_picture_pack(bytes, sizeof bytes, &head, palette, points, &ms);
    for (uint32_t i = 0; i < picture.count; i++) {
        for (uint8_t bit = 0; bit < 8; bit++) {
            uint8_t *copy = (uint8_t *)malloc(picture.count); /* so that a sanitizer sees every byte too many */
            struct glanz_change at_once = {0, 0, 0};
            memcpy(copy, bytes, picture.count);
            copy[i] ^= (uint8_t)(1u << bit);
            picture.bytes = copy;
            stage_must_open(
                &stage, strip_rig(9),
                "{'show':'t','looks':{'l':{'effect':'plain','color':'#0000ff'}},'segments':{'s':{'surface':'a','look':'l'}}}");
            stage_run(&stage, 0, 2000000, 20);
            glanz_status status = glanz_engine_look(glanz_device_engine(stage.device), 0, &look, at_once);
            REQUIRE(status == GLANZ_OK || status == GLANZ_ERR_MEMORY);
            stage_run(&stage, 2000000, 2300000, 20);
            REQUIRE(status != GLANZ_OK || stage_sum(&stage, 0, 2) <= 9 * 255); /* whatever it shows, it shows */
            stage_close(&stage);
            free(copy);
        }
    }
    picture.bytes = bytes;
}
END_TEST

START_TEST(moving_pictures_keep_their_own_time) { /* frames of 40, 70 and 200 ms, at a frame rate that divides none of them */
    static uint8_t bytes[200];
    static const uint8_t palette[] = {255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 255, 255};
    static const uint8_t points[] = {0, 1, 2};
    static const uint16_t ms[] = {40, 70, 200};
    struct glanz_picture_head head = {1, 1, 3, 3, 0};
    struct glanz_picture picture = {GLANZ_CONTENT_PICTURE, "p", bytes, 0};
    picture.count = glanz_picture_pack(bytes, sizeof bytes, &head, palette, points, ms);
    struct glanz_look look = {.name = "p", .effect = &glanz_effect_picture, .content = &picture};
    stage_must_open(
        &stage,
        "{'rig':'t','supplies':{'s':{'volts':'5 "
        "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':1}]}},"
        "'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':1}]}}}",
        "{'show':'t','brightness':'100 %','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','look':'l'}}}");
    struct glanz_change at_once = {0, 0, 0};
    stage_run(&stage, 0, 3000000, 100);
    ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 0, &look, at_once), GLANZ_OK);
    uint64_t last = 2990000;
    for (uint32_t i = 1; i < 4000; i++) {
        uint64_t now = i * 7001u;
        stage_frame(&stage, last + now);
        uint64_t into = (now - 7001u) / 1000 % 310;
        int want = into < 40 ? 0 : into < 110 ? 1 : 2;
        uint64_t edge = (now - 7001u) % 310000;
        if (edge % 10000 > 50) { /* not to be had at the very moment of a change */
            REQUIRE_MSG(stage_led(&stage, 0, 0, (uint8_t)want) == 255, "at %u us, picture %d is not shown", (unsigned)now,
                        want);
        }
    }
}
END_TEST

Suite *fields_suite(void) {
    Suite *suite = suite_create("fields");
    TCase *tcase = tcase_create("Fields");
    tcase_set_timeout(tcase, 300);
    tcase_add_checked_fixture(tcase, NULL, teardown);
    tcase_add_loop_test(tcase, leds_are_picked_in_any_order, 0, PICKED_SEEDS);
    tcase_add_loop_test(tcase, text_is_read_on_every_wiring, 0, 16);
    tcase_add_loop_test(tcase, text_is_read_on_panels_turned_and_mirrored, 0, 64);
    tcase_add_test(tcase, panels_have_every_place_once);
    tcase_add_test(tcase, rings_stand_on_their_circles);
    tcase_add_test(tcase, distances_and_bearings);
    tcase_add_test(tcase, lines_lie_as_they_say);
    tcase_add_loop_test(tcase, slanted_lines_swing, 0, 4);
    tcase_add_test(tcase, effects_are_the_same_on_every_wiring);
    tcase_add_test(tcase, rectangles_take_their_leds);
    tcase_add_test(tcase, moving_text_keeps_its_light);
    tcase_add_test(tcase, text_moves_as_fast_as_it_says);
    tcase_add_test(tcase, text_tells_values_and_time);
    tcase_add_test(tcase, dates_are_the_calendars);
    tcase_add_test(tcase, wider_text_waits_until_it_is_out_of_sight);
    tcase_add_test(tcase, misuse_of_fields_is_a_status);
    tcase_add_test(tcase, colony_lives_by_the_rules);
    tcase_add_loop_test(tcase, effects_are_the_same_at_every_frame_rate, 0, 10);
    tcase_add_test(tcase, marks_lie_over_what_runs);
    tcase_add_test(tcase, cover_is_mixed_as_light);
    tcase_add_test(tcase, memory_of_effects_is_bounded);
    tcase_add_test(tcase, trims_multiply);
    tcase_add_test(tcase, windows_move_places);
    tcase_add_loop_test(tcase, finder_finds_every_wiring, 0, 7);
    tcase_add_test(tcase, finder_finds_up_to_eight_panels);
    tcase_add_test(tcase, finder_finds_panels_of_different_sizes);
    tcase_add_test(tcase, finder_notices_wrong_answers);
    tcase_add_test(tcase, wirings_are_supposed);
    tcase_add_test(tcase, finder_refuses_what_cannot_be);
    tcase_add_test(tcase, pictures_unpack_as_they_were);
    tcase_add_test(tcase, moving_pictures_keep_their_own_time);
    tcase_add_test(tcase, bytes_that_are_no_picture_show_nothing);
    suite_add_tcase(suite, tcase);
    return suite;
}
