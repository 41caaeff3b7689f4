/* SPDX-License-Identifier: MIT */
/* Text: what braces tell against the C library, lines, edges, where it lies, letters one by one. */
#include <check.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include "stage.h"
#include "suites.h"

static struct stage stage, other;

static void teardown(void) {
    stage_close(&stage);
    stage_close(&other);
}

/* ---- what braces tell ---- */

/* Set as letters, a text with braces is the same as the text that they stand for. */
static void check_told(const char *text, const char *wanted, const struct glanz_world *world) {
    struct glanz_writing told = {.kind = GLANZ_CONTENT_WRITING, .text = text};
    struct glanz_writing plain = {.kind = GLANZ_CONTENT_WRITING, .text = wanted};
    static struct glanz_letter one[200], other_one[200];
    ck_assert_uint_eq(glanz_writing_check(text, world), 0);
    uint16_t capacity = glanz_writing_capacity(&told);
    uint16_t count = glanz_writing_set(one, 200, NULL, &told, 0, world);
    uint16_t want = glanz_writing_set(other_one, 200, NULL, &plain, 0, NULL);
    ck_assert_msg(count == want && memcmp(one, other_one, sizeof one[0] * (count + 1u)) == 0, "%s is not %s", text, wanted);
    ck_assert_uint_lt(count, capacity);
}

START_TEST(clocks_and_calendars_as_people_say_them) {
    static const char *const german_days[] = {"Montag", "Dienstag", "Mittwoch", "Donnerstag", "Freitag", "Samstag", "Sonntag"};
    struct glanz_world world = {.known = 1};
    struct glanz_world german = {
        .known = 1,
        .weekdays = "Montag, Dienstag,Mittwoch, Donnerstag, Freitag, Samstag, Sonntag",
        .months = "Jänner, Feber, März, April, Mai, Juni, Juli, August, September, Oktober, November, Dezember"};
    for (uint32_t draw = 0; draw < 3000; draw++) {
        char text[100];
        time_t at = (time_t)(glanz_hash(draw) % 4000000000u);
        struct tm want;
        gmtime_r(&at, &want);
        world.day = (uint32_t)(at / 86400);
        world.second = (uint32_t)(at % 86400);
        strftime(text, sizeof text, "%A, %B", &want); /* in the C locale, which is English */
        check_told("{weekday}, {month name}", text, &world);
        snprintf(text, sizeof text, "%d:%02d %s", want.tm_hour % 12 == 0 ? 12 : want.tm_hour % 12, want.tm_min,
                 want.tm_hour < 12 ? "am" : "pm");
        check_told("{time of 12} {am or pm}", text, &world);
        snprintf(text, sizeof text, "%d", want.tm_hour % 12 == 0 ? 12 : want.tm_hour % 12);
        check_told("{hour of 12}", text, &world);
        german.day = world.day;
        german.second = world.second;
        snprintf(text, sizeof text, "am %s", german_days[(want.tm_wday + 6) % 7]);
        check_told("am {weekday}", text, &german);
        if (want.tm_mon == 2) {
            check_told("{month name}", "März", &german);
        }
    }
    world.known = 0;
    check_told("{weekday} {month name} {am or pm} {time of 12}", "- - -- -:--", &world);
}
END_TEST

START_TEST(values_in_the_unit_of_the_rig) {
    static const struct {
        int32_t low, high;
        const char *unit;
        uint32_t level;
        const char *told;
    } rows[] = {{0, 6500, "m", 32768, "3.3 m"},        {0, 6500, "m", 0, "0.0 m"},         {0, 6500, "m", 65536, "6.5 m"},
                {-20000, 50000, "°C", 32768, "15 °C"}, {-20000, 50000, "°C", 0, "-20 °C"}, {0, 900, "bar", 65536, "0.90 bar"},
                {0, 1000000, "lx", 65536, "1000 lx"},  {10000, 0, "m", 16384, "7.5 m"},    {0, 0, NULL, 32768, "50"}};
    for (size_t i = 0; i < sizeof rows / sizeof rows[0]; i++) {
        struct glanz_input input = {.name = "tide",
                                    .kind = GLANZ_INPUT_SENSOR,
                                    .unit = rows[i].unit,
                                    .reads_low = rows[i].low,
                                    .reads_high = rows[i].high};
        struct glanz_world world = {.values = 1,
                                    .level = &rows[i].level,
                                    .name = &input.name,
                                    .name_step = sizeof input,
                                    .unit = &input.unit,
                                    .reads = &input.reads_low};
        check_told("{tide}", rows[i].told, &world);
        check_told("{tide 1 to 3}",
                   rows[i].level == 0       ? "1"
                   : rows[i].level == 65536 ? "3"
                   : rows[i].level == 16384 ? "2"
                                            : "2",
                   &world);
    }
}
END_TEST

START_TEST(names_are_checked) {
    static const char *const wrong[] = {"",
                                        "Mo,Tu",
                                        "a,b,c,d,e,f,",
                                        "a,b,c,d,e,f,g,h",
                                        ",a,b,c,d,e,f",
                                        "a,b,c,d,e,f,abcdefghijklmnopq",
                                        "a,b,c,d,e,f,g\n",
                                        "a,b,c,d,e,f,\xFF"};
    for (size_t i = 0; i < sizeof wrong / sizeof wrong[0]; i++) {
        ck_assert_msg(!glanz_names_check(wrong[i], 7), "%s", wrong[i]);
    }
    ck_assert(glanz_names_check("a,b,c,d,e,f,abcdefghijklmnop", 7));
    ck_assert(glanz_names_check("má, ti, on, to, fr, lø, sø", 7));
    ck_assert(!glanz_names_check(NULL, 7));
    ck_assert(!glanz_names_check("a", 0));
}
END_TEST

/* ---- on a grid ---- */

#define COLUMNS 48
#define ROWS 20

static const char grid_rig[] =
    "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':960}]}},"
    "'inputs':{'tide':{'sensor':{'pin':4,'reads':'0 to 6.5 "
    "m'}}},'surfaces':{'a':{'grid':[{'output':'o','first':0,'columns':48,'rows':20,"
    "'first led':'top left','along':'rows','zigzag':false}]}}}";

static void open_text(struct stage *of, const char *keys, const char *text) {
    char show[1200];
    snprintf(show, sizeof show,
             "{'show':'t','brightness':'100 %%','weekdays':'Mo, Di, Mi, Do, Fr, Sa, "
             "So','looks':{'l':{'effect':'text','font':'buoy','color':'#ff0000',"
             "'text':'%s'%s}},'segments':{'s':{'surface':'a','look':'l'}}}",
             text, keys);
    stage_must_open(of, grid_rig, show);
}

static void look(struct glanz_light *lights, const struct stage *of) {
    ck_assert_int_eq(glanz_engine_light(glanz_device_engine(of->device), 0, 0, lights, COLUMNS * ROWS), GLANZ_OK);
}

static void look_at(struct glanz_light *lights, const char *keys, const char *text, uint64_t until_us) {
    open_text(&stage, keys, text);
    stage_run(&stage, 0, until_us, 50);
    look(lights, &stage);
    stage_close(&stage);
}

/* Where what is lit lies: left, right, top, bottom. @return how many LEDs. */
static int bounds(int box[4], const struct glanz_light *lights) {
    int count = 0;
    box[0] = COLUMNS;
    box[1] = -1;
    box[2] = ROWS;
    box[3] = -1;
    for (int i = 0; i < COLUMNS * ROWS; i++) {
        if (lights[i].red > 30000) {
            box[0] = i % COLUMNS < box[0] ? i % COLUMNS : box[0];
            box[1] = i % COLUMNS > box[1] ? i % COLUMNS : box[1];
            box[2] = i / COLUMNS < box[2] ? i / COLUMNS : box[2];
            box[3] = i / COLUMNS > box[3] ? i / COLUMNS : box[3];
            count++;
        }
    }
    return count;
}

/* Lines under one another are what each line is by itself, moved down; sideways they lie where they are asked to. */
START_TEST(lines_lie_under_one_another) {
    static struct glanz_light both[COLUMNS * ROWS], single[2][COLUMNS * ROWS];
    static const char *const places[] = {"0 %", "50 %", "100 %"};
    for (int p = 0; p < 3; p++) {
        char keys[200];
        int box[4];
        snprintf(keys, sizeof keys, ",'way':'standing','level':'0 %%','sideways':'%s'", places[p]);
        look_at(both, keys, "HOCH\\nEBBE {weekday} 4", 1000000);
        look_at(single[0], keys, "HOCH", 1000000);
        look_at(single[1], keys, "EBBE {weekday} 4", 1000000);
        int all[4];
        int count = bounds(all, both);
        int first = bounds(box, single[0]);
        ck_assert(p != 0 || box[0] == 0);
        ck_assert(p != 2 || (box[1] >= COLUMNS - 2 && all[1] >= COLUMNS - 2));
        ck_assert_int_eq(count, first + bounds(box, single[1]));
        for (int i = 0; i < COLUMNS * 6; i++) { /* a font of 6 rows, and a row between */
            REQUIRE(p == 1 || memcmp(&both[i], &single[0][i], sizeof both[i]) == 0);
            REQUIRE(memcmp(&both[i + 7 * COLUMNS], &single[1][i], sizeof both[i]) == 0);
        }
    }
}
END_TEST

/* An outline is every LED beside a letter's, a shadow every one below and to the right, and no letter's. */
START_TEST(edges_are_around_the_letters) {
    static struct glanz_light plain[COLUMNS * ROWS], edged[COLUMNS * ROWS];
    look_at(plain, ",'way':'standing'", "BOOT", 1000000);
    for (int edge = 1; edge < 3; edge++) {
        char keys[200];
        int some = 0;
        snprintf(keys, sizeof keys, ",'way':'standing','edge':'%s','edge color':'#0000ff','background':'#00ff00'",
                 edge == 1 ? "outline" : "shadow");
        look_at(edged, keys, "BOOT", 1000000);
        for (int i = COLUMNS + 1; i < COLUMNS * (ROWS - 1) - 1; i++) {
            int letter = plain[i].red > 0;
            int beside = edge == 1 ? plain[i - 1].red > 0 || plain[i + 1].red > 0 || plain[i - COLUMNS].red > 0 ||
                                         plain[i + COLUMNS].red > 0
                                   : plain[i - COLUMNS - 1].red > 0;
            REQUIRE_MSG((edged[i].red == 65535) == letter && (edged[i].blue == 65535) == (beside && !letter) &&
                            (edged[i].green == 65535) == (!beside && !letter),
                        "edge %d, LED %d: %u %u %u", edge, i, edged[i].red, edged[i].green, edged[i].blue);
            some += beside && !letter;
        }
        ck_assert_int_gt(some, 15);
    }
}
END_TEST

/* A colour given as kelvin is that light; nothing to write is nothing, whichever way it goes. */
START_TEST(edges_of_any_color_and_texts_of_nothing) {
    static struct glanz_light edged[COLUMNS * ROWS];
    static const char *const ways[] = {"standing", "leftward", "upward", "letter by letter"};
    struct glanz_light warm = glanz_color_light(GLANZ_KELVIN(2700), NULL, 0);
    int found = 0;
    look_at(edged, ",'way':'standing','edge':'outline','edge color':'2700 K'", "I", 1000000);
    for (int i = 0; i < COLUMNS * ROWS; i++) {
        found += memcmp(&edged[i], &warm, sizeof warm) == 0;
        REQUIRE(edged[i].blue == 0 || memcmp(&edged[i], &warm, sizeof warm) == 0);
    }
    ck_assert_int_gt(found, 5);
    for (int w = 0; w < 8; w++) {
        char keys[200];
        snprintf(keys, sizeof keys, ",'way':'%s','edge':'shadow','edge color':'#ffffff','speed':'-9 leds/s','runs':'%s'",
                 ways[w % 4], w < 4 ? "once" : "to and fro");
        look_at(edged, keys, w % 2 == 0 ? "" : "\\n \\n", 3000000);
        for (int i = 0; i < COLUMNS * ROWS; i++) {
            REQUIRE(edged[i].red + edged[i].green + edged[i].blue == 0);
        }
    }
}
END_TEST

/* Letter by letter: light grows evenly and never leaps, all are there for a while, and they go again; at 25 and 200 frames a
 * second alike. */
START_TEST(letters_come_one_by_one) {
    static struct glanz_light lights[COLUMNS * ROWS], fast[COLUMNS * ROWS], whole[COLUMNS * ROWS];
    look_at(whole, ",'way':'standing'", "FLUT\\nHOCH", 1000000);
    double all = 0;
    for (int i = 0; i < COLUMNS * ROWS; i++) {
        all += whole[i].red;
    }
    static const char *const runs[] = {"again and again", "to and fro", "once"};
    for (int r = 0; r < 3; r++) {
        char keys[200];
        snprintf(keys, sizeof keys, ",'way':'letter by letter','speed':'10 leds/s','runs':'%s'", runs[r]);
        open_text(&stage, keys, "FLUT\\nHOCH");
        open_text(&other, keys, "FLUT\\nHOCH");
        double last = 0;
        double most = 0;
        int fell = 0;
        for (uint64_t t = 0; t < 16000000; t += 40000) {
            ck_assert_int_eq(stage_frame(&stage, t), GLANZ_OK);
            for (uint64_t k = 0; k < 8 && t + k * 5000 <= 16000000; k++) {
                if (k == 0) {
                    ck_assert_int_eq(stage_frame(&other, t), GLANZ_OK);
                    look(lights, &stage);
                    look(fast, &other);
                } else {
                    ck_assert_int_eq(stage_frame(&other, t + k * 5000), GLANZ_OK);
                }
            }
            double sum = 0;
            for (int i = 0; i < COLUMNS * ROWS; i++) {
                sum += lights[i].red;
                REQUIRE(abs((int)lights[i].red - (int)fast[i].red) < 3000);
                REQUIRE(lights[i].red <= whole[i].red + 2);
            }
            REQUIRE_MSG(fabs(sum - last) < all / 20, "%s, %u ms: %f of %f", runs[r], (unsigned)(t / 1000), sum, all);
            fell += sum < last - 1000;
            most = fmax(most, sum);
            last = sum;
        }
        ck_assert_msg(most > all * 0.999, "%s: %f of %f", runs[r], most, all);
        ck_assert(r == 2 ? fell == 0 && last > all * 0.999 : fell > 20);
        stage_close(&stage);
        stage_close(&other);
    }
}
END_TEST

/* The whole, from documents: names of the show, a unit of the rig; patched to another language while it runs; saved and
 * recalled. */
START_TEST(texts_of_a_show) {
    static struct glanz_light lights[COLUMNS * ROWS], wanted[COLUMNS * ROWS];
    open_text(&stage, ",'way':'standing','edge':'shadow','edge color':'#000080','sideways':'10 %'", "{weekday} {tide}");
    ck_assert_int_eq(glanz_device_push(stage.device, 0, 65535, 0), GLANZ_OK);
    ck_assert_int_eq(glanz_engine_clock(glanz_device_engine(stage.device), 20788, 3600),
                     GLANZ_OK); /* 1 December 2026, a Tuesday */
    stage_run(&stage, 0, 2000000, 50);
    look(lights, &stage);
    ck_assert_int_eq(glanz_device_save(stage.device, "kept", UINT64_MAX, GLANZ_ASPECTS, 0), GLANZ_OK);
    stage_run(&stage, 2000000, 3000000, 50);
    open_text(&other, ",'way':'standing','edge':'shadow','edge color':'#000080','sideways':'10 %'", "Di 6.5 m");
    stage_run(&other, 0, 2000000, 50);
    look(wanted, &other);
    ck_assert_int_eq(memcmp(lights, wanted, sizeof lights), 0);
    /* another show, in another language, with another text: what was kept is as it was, but for the language */
    ck_assert_int_eq(
        stage_show(&stage,
                   "{'show':'t','brightness':'100 %','weekdays':'lu, ma, me, je, ve, sa, di','looks':{'l':{'effect':'text',"
                   "'font':'buoy','text':'x'}},'segments':{'s':{'surface':'a','look':'l'}}}"),
        GLANZ_OK);
    stage_run(&stage, 3000000, 5000000, 50);
    ck_assert_int_eq(glanz_device_recall(stage.device, "kept", 0, NULL), GLANZ_OK);
    stage_run(&stage, 5000000, 7000000, 50);
    look(lights, &stage);
    stage_close(&other);
    open_text(&other, ",'way':'standing','edge':'shadow','edge color':'#000080','sideways':'10 %'", "ma 6.5 m");
    stage_run(&other, 0, 2000000, 50);
    look(wanted, &other);
    ck_assert_int_eq(memcmp(lights, wanted, sizeof lights), 0);
}
END_TEST

Suite *text_suite(void) {
    Suite *suite = suite_create("text");
    TCase *tests = tcase_create("text");
    tcase_add_checked_fixture(tests, NULL, teardown);
    tcase_set_timeout(tests, 120);
    tcase_add_test(tests, clocks_and_calendars_as_people_say_them);
    tcase_add_test(tests, values_in_the_unit_of_the_rig);
    tcase_add_test(tests, names_are_checked);
    tcase_add_test(tests, lines_lie_under_one_another);
    tcase_add_test(tests, edges_are_around_the_letters);
    tcase_add_test(tests, edges_of_any_color_and_texts_of_nothing);
    tcase_add_test(tests, letters_come_one_by_one);
    tcase_add_test(tests, texts_of_a_show);
    suite_add_tcase(suite, tests);
    return suite;
}
