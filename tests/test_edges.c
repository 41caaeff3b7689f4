/* SPDX-License-Identifier: MIT */
/* The edges of what is allowed: shows and rigs built in C with one number out of range, NULL for each argument in turn, names
 * and texts at the limits of their encoding, media that fail at each operation in turn, memory that just suffices. */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <glanz/nor.h>

#include "files.h"
#include "stage.h"
#include "suites.h"

static struct stage stage;

/* ---- one number out of range ---- */

static struct document rig, show;

static void open_full(void) {
    struct text text;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    ck_assert(text_read(&text, "tests/full.rig.json"));
    ck_assert_msg(document_rig(&rig, text, &fault) == GLANZ_OK, "%s at %s", fault.text, fault.where);
    ck_assert(text_read(&text, "tests/full.show.json"));
    ck_assert_msg(document_show(&show, text, rig.rig, NULL, &fault) == GLANZ_OK, "%s at %s", fault.text, fault.where);
}

static void close_full(void) {
    document_free(&show);
    document_free(&rig);
}

/* Give a member of a const struct another value, have it refused, and put it back. */
static void spoil(const void *member, size_t size, uint64_t value, int is_rig, const char *where, const char *name) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    uint8_t before[8];
    void *place = (void *)(uintptr_t)member; /* documents lie in memory of our own */
    memcpy(before, place, size);
    memcpy(place, &value, size); /* the lowest bytes first, as on every machine that runs the tests */
    glanz_status status = is_rig ? glanz_rig_check(rig.rig, &fault) : glanz_show_check(show.show, rig.rig, &fault);
    memcpy(place, before, size);
    ck_assert_msg(status == (is_rig ? GLANZ_ERR_RIG : GLANZ_ERR_SHOW), "%s may be %llu", name, (unsigned long long)value);
    ck_assert_msg(strncmp(fault.where, where, strlen(where)) == 0, "%s: told at %s, expected at %s", name, fault.where, where);
    ck_assert_uint_gt(strlen(fault.text), 10);
}
#define SHOW_WITH(member, value, where) spoil(&(member), sizeof(member), (uint64_t)(int64_t)(value), 0, where, #member)
#define RIG_WITH(member, value, where) spoil(&(member), sizeof(member), (uint64_t)(int64_t)(value), 1, where, #member)

START_TEST(shows_in_c_are_checked) {
    open_full();
    const struct glanz_show *s = show.show;
    SHOW_WITH(s->segment_count, GLANZ_SEGMENTS_MOST + 1, "/segments");
    SHOW_WITH(s->segments[0].surface, 6, "/segments/low");
    SHOW_WITH(s->stack[1], 9, "/stack");
    SHOW_WITH(s->stack[1], 0, "/stack");
    SHOW_WITH(s->stack, 0, "/segments");
    SHOW_WITH(s->colors, 0, "/colors");
    SHOW_WITH(s->pictures, 0, "/pictures");
    SHOW_WITH(s->entries, 0, "/calendar");
    SHOW_WITH(s->presets[0].parts, 0, "/presets");
    SHOW_WITH(s->playlists[1].items, 0, "/playlists");
    SHOW_WITH(s->triggers[1].actions, 0, "/triggers");
    SHOW_WITH(s->presets[0].parts[0].segment, 10, "/presets/calm");
    SHOW_WITH(s->presets[0].parts[0].look, 0, "/presets/calm");
    SHOW_WITH(s->playlists[0].items[0].kind, 3, "/playlists/round trip/items/0");
    SHOW_WITH(s->playlists[0].items[0].preset, 2, "/playlists/round trip/items/0");
    SHOW_WITH(s->playlists[0].items[2].preset, 3, "/playlists/round trip/items/2");
    SHOW_WITH(s->playlists[0].items[2].preset, 0, "/playlists/round trip"); /* within itself */
    SHOW_WITH(s->playlists[1].rounds, 0, "/playlists/round trip/items/2");
    SHOW_WITH(s->playlists[1].items[0].at_ms, 5, "/playlists/timed/items/0");
    SHOW_WITH(s->playlists[1].items[1].at_ms, 0, "/playlists/timed/items/1");
    SHOW_WITH(s->playlists[2].items[0].hold_ms, 99, "/playlists/back");
    SHOW_WITH(s->playlists[0].then, GLANZ_THEN_BACK + 1, "/playlists/round trip");
    SHOW_WITH(s->playlists[0].then_preset, 2, "/playlists/round trip");
    SHOW_WITH(s->triggers[0].input, 3, "/triggers/press");
    SHOW_WITH(s->triggers[0].event, GLANZ_EVENTS, "/triggers/press");
    SHOW_WITH(s->triggers[0].event, GLANZ_EVENT_RISES, "/triggers/press");
    SHOW_WITH(s->triggers[2].event, GLANZ_EVENT_HELD, "/triggers/turned up");
    SHOW_WITH(s->start->target, 2, "/start");
    SHOW_WITH(s->start->kind, 0, "/start");
    for (uint8_t t = 0; t < s->trigger_count; t++) {
        for (uint8_t i = 0; i < s->triggers[t].action_count; i++) {
            const struct glanz_action *action = &s->triggers[t].actions[i];
            int aimed = action->kind->value != GLANZ_VALUE_TRUE && action->kind->value != GLANZ_VALUE_TIME &&
                        action->kind->value != GLANZ_VALUE_SAVED;
            aimed = aimed && (action->kind->value != GLANZ_VALUE_WAY || (action->kind->needs & GLANZ_WITH_SEGMENT) != 0);
            if (aimed) { /* others have no target */
                SHOW_WITH(action->target, 100, "/triggers");
            }
            SHOW_WITH(action->kind, 0, "/triggers");
            if (action->kind->value == GLANZ_VALUE_SAVED) {
                SHOW_WITH(action->param, 0, "/triggers");
            }
            if (action->kind == &glanz_action_jump) {
                SHOW_WITH(action->number, 2, "/triggers");
            }
        }
    }
    const struct glanz_entry *evening = &s->entries[0], *morning = &s->entries[1], *once = &s->entries[2],
                             *often = &s->entries[3];
    SHOW_WITH(evening->target, 2, "/calendar/evening");
    SHOW_WITH(morning->target, 3, "/calendar/morning");
    SHOW_WITH(evening->at.kind, GLANZ_MOMENT_NONE, "/calendar/evening");
    SHOW_WITH(evening->at.kind, GLANZ_MOMENT_SUNSET + 1, "/calendar/evening");
    SHOW_WITH(evening->at.second, -43201, "/calendar/evening");
    SHOW_WITH(evening->at.second, 43201, "/calendar/evening");
    SHOW_WITH(evening->until.second, -1, "/calendar/evening");
    SHOW_WITH(evening->until.second, 86400, "/calendar/evening");
    SHOW_WITH(evening->weekdays, 128, "/calendar/evening");
    SHOW_WITH(evening->from.month, 1, "/calendar/evening");
    SHOW_WITH(morning->from.month, 13, "/calendar/morning");
    SHOW_WITH(morning->from.day, 0, "/calendar/morning");
    SHOW_WITH(morning->from.day, 31, "/calendar/morning"); /* November has 30 */
    SHOW_WITH(morning->to.day, 30, "/calendar/morning");
    SHOW_WITH(morning->to.year, 2026, "/calendar/morning");
    SHOW_WITH(morning->to.month, 0, "/calendar/morning");
    SHOW_WITH(morning->for_s, 7 * 86400 + 1, "/calendar/morning");
    SHOW_WITH(once->from.year, 1999, "/calendar/once");
    SHOW_WITH(once->to.year, 2100, "/calendar/once");
    SHOW_WITH(once->to.day, 0, "/calendar/once");
    SHOW_WITH(once->from.day, 4, "/calendar/once"); /* after the last */
    SHOW_WITH(once->for_s, 60, "/calendar/once");
    SHOW_WITH(often->every_s, 59, "/calendar/often");
    SHOW_WITH(often->until.kind, GLANZ_MOMENT_NONE, "/calendar/often");
    SHOW_WITH(s->entry_count, GLANZ_ENTRIES_MOST + 1, "/calendar"); /* told before any of them is looked at that is not there */
    struct glanz_fault fault;
    ck_assert_int_eq(glanz_show_check(s, rig.rig, &fault), GLANZ_OK); /* all is as it was */
    struct glanz_rig bare = *rig.rig;
    bare.placed = 0;
    ck_assert_int_eq(glanz_show_check(s, &bare, &fault), GLANZ_ERR_SHOW);
    ck_assert(strstr(fault.text, "\"place\"") != NULL);
    bare.surfaces = NULL;
    ck_assert_int_eq(glanz_show_check(s, &bare, &fault), GLANZ_ERR_ARGUMENT);
    bare.surfaces = rig.rig->surfaces;
    bare.inputs = NULL;
    ck_assert_int_eq(glanz_show_check(s, &bare, &fault), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_show_check(NULL, rig.rig, &fault), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_show_check(s, NULL, &fault), GLANZ_ERR_ARGUMENT);
    close_full();
}
END_TEST

/* Two segments of one surface without a stack: refused just when a LED belongs to both. */
START_TEST(overlaps_are_found_led_by_led) {
    static const char rig_text[] = "{'rig':'r','supplies':{'s':{'volts':'5 "
                                   "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':24}]}},"
                                   "'surfaces':{'g':{'grid':[{'output':'o','first':0,'columns':6,'rows':4}]}}}";
    struct {
        uint8_t left, top, columns, rows;
    } cuts[2];
    uint32_t random = 5, refused = 0;
    for (int round = 0; round < 400; round++) {
        uint8_t taken[2][24];
        char text[400];
        struct glanz_fault fault = GLANZ_FAULT_INIT;
        struct document own_rig, own_show;
        struct text json = {NULL, 0, 0};
        int meet = 0;
        memset(taken, 0, sizeof taken);
        for (int i = 0; i < 2; i++) {
            random = glanz_hash(random);
            cuts[i].left = (uint8_t)(random % 6);
            cuts[i].top = (uint8_t)(random / 8 % 4);
            cuts[i].columns = (uint8_t)(1 + random / 64 % (6u - cuts[i].left));
            cuts[i].rows = (uint8_t)(1 + random / 1024 % (4u - cuts[i].top));
            for (int y = cuts[i].top; y < cuts[i].top + cuts[i].rows; y++) {
                for (int x = cuts[i].left; x < cuts[i].left + cuts[i].columns; x++) {
                    taken[i][y * 6 + x] = 1;
                }
            }
        }
        for (int i = 0; i < 24; i++) {
            meet |= taken[0][i] && taken[1][i];
        }
        snprintf(text, sizeof text,
                 "{'show':'s','looks':{'l':{'effect':'plain'}},'segments':{"
                 "'a':{'surface':'g','left':%d,'top':%d,'columns':%d,'rows':%d},'b':{'surface':'g','left':%d,'top':%d,'columns'"
                 ":%d,'rows':%d}}}",
                 cuts[0].left, cuts[0].top, cuts[0].columns, cuts[0].rows, cuts[1].left, cuts[1].top, cuts[1].columns,
                 cuts[1].rows);
        text_add(quoted(rig_text), strlen(rig_text), &json);
        REQUIRE(document_rig(&own_rig, json, &fault) == GLANZ_OK);
        memset(&json, 0, sizeof json);
        text_add(quoted(text), strlen(text), &json);
        glanz_status status = document_show(&own_show, json, own_rig.rig, NULL, &fault);
        REQUIRE_MSG(status == (meet ? GLANZ_ERR_SHOW : GLANZ_OK), "%s: %s", text, glanz_status_name(status));
        refused += status != GLANZ_OK;
        if (status == GLANZ_OK) {
            document_free(&own_show);
        }
        document_free(&own_rig);
    }
    ck_assert_uint_gt(refused, 50);
    ck_assert_uint_lt(refused, 350);
}
END_TEST

/* ---- texts and names ---- */

/* Names of saved presets: just valid UTF-8 (Unicode, table 3-7), no controls. Every sequence of up to four bytes at the edges.
 */
static int valid_utf8(const uint8_t *bytes, size_t count) { /* by decoding, and by the shortest form */
    size_t at = 0;
    while (at < count) {
        uint32_t code = bytes[at];
        size_t length = code < 0x80                   ? 1
                        : code >= 0xC0 && code < 0xE0 ? 2
                        : code >= 0xE0 && code < 0xF0 ? 3
                        : code >= 0xF0 && code < 0xF8 ? 4
                                                      : 0;
        if (length == 0 || at + length > count) {
            return 0;
        }
        code &= length == 1 ? 0x7F : 0x7Fu >> length;
        for (size_t i = 1; i < length; i++) {
            if ((bytes[at + i] & 0xC0) != 0x80) {
                return 0;
            }
            code = code << 6 | (bytes[at + i] & 0x3Fu);
        }
        size_t shortest = code < 0x80 ? 1 : code < 0x800 ? 2 : code < 0x10000 ? 3 : 4;
        if (shortest != length || code > 0x10FFFF || (code >= 0xD800 && code < 0xE000) || code < 0x20 ||
            (code >= 0x7F && code < 0xA0)) {
            return 0;
        }
        if (code == 0x61C || code == 0x200E || code == 0x200F || (code >= 0x2028 && code <= 0x202E) ||
            (code >= 0x2066 && code <= 0x2069)) {
            return 0;
        }
        at += length;
    }
    return 1;
}

START_TEST(names_are_valid_utf8) {
    static const uint8_t edges[] = {0x01, 0x1F, 0x20, 0x41, 0x7E, 0x7F, 0x80, 0x81, 0x8E, 0x8F, 0x90, 0x9C, 0x9F,
                                    0xA0, 0xA6, 0xA8, 0xA9, 0xAA, 0xAE, 0xAF, 0xBF, 0xC0, 0xC1, 0xC2, 0xD7, 0xD8,
                                    0xDF, 0xE0, 0xE1, 0xE2, 0xED, 0xEE, 0xEF, 0xF0, 0xF1, 0xF3, 0xF4, 0xF5, 0xFF};
    const size_t n = sizeof edges;
    unsigned valid = 0;
    for (size_t i = 0; i < n * n * n * n; i++) {
        uint8_t text[6] = {edges[i % n], edges[i / n % n], edges[i / n / n % n], edges[i / n / n / n], 0, 0};
        for (size_t count = i < n * n * n ? 3 : 4; count <= 4; count++) {
            uint8_t cut[6];
            memcpy(cut, text, sizeof cut);
            cut[count] = 0;
            int good = valid_utf8(cut, count);
            REQUIRE_MSG(glanz_saved_name_valid((const char *)cut) == good, "%02X %02X %02X %02X", cut[0], cut[1], cut[2],
                        cut[3]);
            REQUIRE(good || glanz_text_plain((const char *)cut) == 0 || !valid_utf8(cut, count));
            valid += good != 0;
        }
    }
    ck_assert_uint_gt(valid, 1000);
    ck_assert(!glanz_saved_name_valid(NULL) && !glanz_saved_name_valid("") &&
              !glanz_saved_name_valid("12345678901234567890123456789012"));
    ck_assert(glanz_saved_name_valid("1234567890123456789012345678901"));
    ck_assert(!glanz_text_plain(NULL));
}
END_TEST

/* Texts are compared to their ends, and NULL is only equal to NULL. */
START_TEST(texts_are_compared) {
    ck_assert(glanz_text_equal("tide", "tide") && !glanz_text_equal("tide", "tid") && !glanz_text_equal("tid", "tide"));
    ck_assert(glanz_text_equal(NULL, NULL) && !glanz_text_equal(NULL, "") && !glanz_text_equal("", NULL));
    ck_assert(glanz_name_equal("tide", "tide") && !glanz_name_equal("tide", "tidE") && !glanz_name_equal("", "a"));
    ck_assert(glanz_name_equal(NULL, NULL) && !glanz_name_equal(NULL, "") && !glanz_name_equal("", NULL));
    ck_assert_uint_eq(glanz_text_hash(NULL), glanz_text_hash(""));
    ck_assert_uint_eq(glanz_status_first(GLANZ_OK, GLANZ_ERR_PORT), GLANZ_ERR_PORT);
    ck_assert_uint_eq(glanz_status_first(GLANZ_ERR_FULL, GLANZ_ERR_PORT), GLANZ_ERR_FULL);
}
END_TEST

/* ---- NULL, for each argument in turn ---- */

#define NO_GOOD(call) ck_assert_int_eq(call, GLANZ_ERR_ARGUMENT)

START_TEST(null_for_each_argument) {
    struct glanz_timing least = {0, 0, 0, 0}, most = {65535, 65535, 65535, 65535};
    struct glanz_slots slots = {4, 1, 3, 312};
    uint8_t bytes[64] = {0};
    uint64_t memory[64];
    size_t count = 0;
    NO_GOOD(glanz_timing_narrow(NULL, &most, &glanz_chip_ws2812b));
    NO_GOOD(glanz_timing_narrow(&least, NULL, &glanz_chip_ws2812b));
    NO_GOOD(glanz_timing_narrow(&least, &most, NULL));
    NO_GOOD(glanz_slots_fit(NULL, &least, &most, 3));
    NO_GOOD(glanz_slots_fit(&slots, NULL, &most, 3));
    NO_GOOD(glanz_slots_fit(&slots, &least, NULL, 3));
    NO_GOOD(glanz_slots_fit(&slots, &least, &most, 6));
    NO_GOOD(glanz_slots_fit(&slots, &least, &most, 2));
    NO_GOOD(glanz_uart_expand(NULL, &slots, bytes, 1));
    NO_GOOD(glanz_uart_expand(bytes, NULL, bytes, 1));
    NO_GOOD(glanz_uart_expand(bytes, &slots, NULL, 1));
    struct glanz_slots odd[] = {{6, 1, 3, 300}, {4, 0, 3, 300}, {4, 1, 0, 300}, {4, 4, 3, 300}, {4, 1, 4, 300}, {2, 1, 1, 300}};
    for (size_t i = 0; i < sizeof odd / sizeof odd[0]; i++) {
        NO_GOOD(glanz_uart_expand(bytes, &odd[i], bytes, 1));
    }
    struct glanz_slots three = {3, 1, 2, 400};
    NO_GOOD(glanz_uart_expand(bytes, &three, bytes, 2)); /* eight characters for three bytes */
    ck_assert_int_eq(glanz_uart_expand(bytes + 8, &three, bytes, 3), GLANZ_OK);
    struct glanz_fault fault;
    glanz_status status = glanz_timing_narrow(&least, &most, &glanz_chip_ws2812b); /* chips that no line can have together */
    status = status == GLANZ_OK ? glanz_timing_narrow(&least, &most, &glanz_chip_ws2811_400) : status;
    ck_assert_int_eq(status, GLANZ_ERR_ABSENT);

    struct glanz_inbox *inbox;
    NO_GOOD(glanz_inbox_start(NULL, memory, sizeof memory, 1));
    NO_GOOD(glanz_inbox_start(&inbox, NULL, sizeof memory, 1));
    NO_GOOD(glanz_inbox_start(&inbox, (uint8_t *)memory + 1, sizeof memory - 1, 1));
    ck_assert_int_eq(glanz_inbox_push(NULL, 0, 0, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_uint_eq(glanz_inbox_lost(NULL), 0);

    struct glanz_queue *queue;
    struct glanz_command command;
    memset(&command, 0, sizeof command);
    uint16_t ticket;
    glanz_status answer;
    NO_GOOD(glanz_queue_start(NULL, memory, sizeof memory, 1));
    NO_GOOD(glanz_queue_start(&queue, NULL, sizeof memory, 1));
    NO_GOOD(glanz_queue_start(&queue, memory, sizeof memory, 0));
    NO_GOOD(glanz_queue_start(&queue, (uint8_t *)memory + 4, sizeof memory - 4, 1));
    static uint64_t queue_memory[200];
    ck_assert_int_eq(glanz_queue_start(&queue, queue_memory, sizeof queue_memory, 2), GLANZ_OK);
    NO_GOOD(glanz_queue_post(NULL, &command, &ticket));
    NO_GOOD(glanz_queue_post(queue, NULL, &ticket));
    NO_GOOD(glanz_queue_post(queue, &command, &ticket)); /* of no kind */
    command.kind = &glanz_command_rename;
    memset(command.name, 'a', sizeof command.name); /* a name without an end */
    NO_GOOD(glanz_queue_post(queue, &command, &ticket));
    memset(command.name, 0, sizeof command.name);
    memset(command.other, 'a', sizeof command.other);
    NO_GOOD(glanz_queue_post(queue, &command, &ticket));
    NO_GOOD(glanz_queue_answer(NULL, 1, &answer));
    NO_GOOD(glanz_queue_answer(queue, 1, NULL));

    struct glanz_zone zone;
    uint32_t until;
    NO_GOOD(glanz_zone_read(NULL, "CET-1", NULL));
    ck_assert_int_eq(glanz_zone_read(&zone, NULL, NULL), GLANZ_OK); /* no zone is Greenwich */
    ck_assert_int_eq(glanz_zone_offset(NULL, 77, &until), 0);
    ck_assert_uint_eq(until, UINT32_MAX);
    ck_assert_uint_eq(glanz_zone_utc(NULL, 3, 5), 3 * GLANZ_DAY + 5);

    struct glanz_medium medium;
    memset(&medium, 0, sizeof medium);
    ck_assert_int_eq(glanz_store_shape(NULL, bytes), 0);
    ck_assert_int_eq(glanz_store_shape(&medium, NULL), 0);
    NO_GOOD(glanz_rig_check(NULL, &fault));
    ck_assert_int_eq(glanz_rig_uses(NULL, memory, 8), 0);
    ck_assert_int_eq(glanz_show_uses(NULL, memory, 8), 0);

    stage_must_open(&stage, strip_rig(30),
                    "{'show':'t','looks':{'l':{'effect':'plain'}},'segments':{'s':{'surface':'a','look':'l'}},"
                    "'presets':{'p':{'s':'l'}}}");
    struct glanz_control *control = glanz_device_control(stage.device), *none;
    struct glanz_engine *engine = glanz_device_engine(stage.device);
    struct glanz_change change = {0, 0, 0};
    struct glanz_showing showing;
    static uint8_t record[GLANZ_RECORD_MOST];
    NO_GOOD(glanz_control_start(NULL, memory, sizeof memory, engine, stage.rig, 1, NULL));
    NO_GOOD(glanz_control_start(&none, NULL, sizeof memory, engine, stage.rig, 1, NULL));
    NO_GOOD(glanz_control_start(&none, memory, sizeof memory, NULL, stage.rig, 1, NULL));
    NO_GOOD(glanz_control_start(&none, memory, sizeof memory, engine, NULL, 1, NULL));
    NO_GOOD(glanz_control_start(&none, (uint8_t *)memory + 1, sizeof memory - 1, engine, stage.rig, 1, NULL));
    ck_assert_int_eq(glanz_control_start(&none, memory, 8, engine, stage.rig, 1, NULL), GLANZ_ERR_MEMORY);
    NO_GOOD(glanz_control_set_show(NULL, stage.show, 0, &fault));
    NO_GOOD(glanz_control_set_show(control, NULL, 0, &fault));
    NO_GOOD(glanz_control_act(NULL, stage.show->start, 0));
    NO_GOOD(glanz_control_act(control, NULL, 0));
    NO_GOOD(glanz_control_run(NULL, 0, 0));
    ck_assert_int_eq(glanz_control_uses(NULL, memory, 8), 0);
    ck_assert_int_eq(glanz_control_uses(control, NULL, 8), 0);
    ck_assert_int_eq(glanz_control_uses(control, stage.show, 0), 0);
    ck_assert_uint_eq(glanz_control_playing(NULL, 0, NULL), GLANZ_ALL);
    glanz_control_listen(NULL, NULL, NULL);
    glanz_control_touch(NULL, 1, 0);
    glanz_control_saved(NULL, 1);
    glanz_control_values(NULL, memory, 8);
    ck_assert_uint_eq(glanz_control_unsaved(NULL), 0);
    ck_assert_uint_eq(glanz_control_undoable(NULL), 0);
    ck_assert_uint_eq(glanz_control_taken(NULL, 0), 0);
    ck_assert_uint_eq(glanz_control_taken(control, 99), 0);
    ck_assert_uint_eq(glanz_control_asleep(NULL), 0);
    ck_assert_uint_eq(glanz_control_changes(NULL).by_hand + glanz_control_changes(NULL).by_itself, 0);
    ck_assert_uint_eq(glanz_control_utc(NULL), 0);
    ck_assert_uint_eq(glanz_control_entry(NULL, 0), GLANZ_ALL);
    ck_assert_uint_eq(glanz_control_entry(control, 99), GLANZ_ALL);
    ck_assert_int_eq(glanz_control_looking(NULL), 0);
    ck_assert_uint_eq(glanz_control_entry_due(NULL), UINT32_MAX);
    ck_assert(glanz_control_next(NULL) == GLANZ_NEVER);
    NO_GOOD(glanz_control_clock(NULL, 1, 0));
    NO_GOOD(glanz_preset_pack(control, "p", 1, GLANZ_ASPECTS, NULL, sizeof record, &count));
    NO_GOOD(glanz_preset_pack(control, "p", 1, GLANZ_ASPECTS, record, sizeof record, NULL));
    NO_GOOD(glanz_preset_pack(NULL, "p", 1, GLANZ_ASPECTS, record, sizeof record, &count));
    NO_GOOD(glanz_preset_pack(control, NULL, 1, GLANZ_ASPECTS, record, sizeof record, &count));
    ck_assert_int_eq(glanz_preset_pack(control, "p", 1, GLANZ_ASPECTS, record, sizeof record, &count), GLANZ_OK);
    NO_GOOD(glanz_preset_name(NULL, record, count));
    NO_GOOD(glanz_preset_rename(record, NULL, sizeof record, "q"));
    NO_GOOD(glanz_preset_rename(record, &count, sizeof record, NULL));
    ck_assert_int_eq(glanz_preset_rename(record, &count, count, "a much longer name"), GLANZ_ERR_FULL);
    NO_GOOD(glanz_preset_unpack(NULL, glanz_effects, record, count, change, NULL));
    NO_GOOD(glanz_preset_unpack(control, NULL, record, count, change, NULL));
    ck_assert_int_eq(glanz_preset_unpack(control, glanz_effects, NULL, count, change, NULL), GLANZ_ERR_DAMAGED);
    NO_GOOD(glanz_running_pack(control, NULL, sizeof record, &count));
    NO_GOOD(glanz_running_pack(control, record, sizeof record, NULL));
    NO_GOOD(glanz_running_pack(NULL, record, sizeof record, &count));
    ck_assert_int_eq(glanz_running_pack(control, record, sizeof record, &count), GLANZ_OK);
    NO_GOOD(glanz_running_unpack(NULL, glanz_effects, record, count, 0, 0, NULL));
    NO_GOOD(glanz_running_unpack(control, NULL, record, count, 0, 0, NULL));
    ck_assert_int_eq(glanz_running_unpack(control, glanz_effects, record, count - 1, 0, 0, NULL), GLANZ_ERR_DAMAGED);

    struct glanz_device *device;
    struct glanz_setup setup;
    memset(&setup, 0, sizeof setup);
    setup.rig = stage.rig;
    setup.show = stage.show;
    setup.port = &stage.port;
    setup.parts = &glanz_everything;
    NO_GOOD(glanz_device_start(NULL, memory, sizeof memory, &setup, &fault));
    NO_GOOD(glanz_device_start(&device, NULL, sizeof memory, &setup, &fault));
    NO_GOOD(glanz_device_start(&device, memory, sizeof memory, NULL, &fault));
    NO_GOOD(glanz_device_start(&device, (uint8_t *)memory + 1, sizeof memory - 1, &setup, &fault));
    for (int which = 0; which < 9; which++) {
        struct glanz_setup wrong = setup;
        struct glanz_port port = stage.port;
        wrong.port = &port;
        wrong.parts = &glanz_everything;
        switch (which) {
        case 0: wrong.rig = NULL; break;
        case 1: wrong.show = NULL; break;
        case 2: wrong.port = NULL; break;
        case 3: port.version = 1; break;
        case 4: port.start = NULL; break;
        case 5: port.busy = NULL; break;
        case 6: port.time_us = NULL; break;
        case 7: wrong.segment_capacity = GLANZ_SEGMENTS_MOST + 1; break;
        default: break;
        }
        ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &wrong, &fault),
                         which == 8 ? GLANZ_ERR_MEMORY : GLANZ_ERR_ARGUMENT);
    }
    ck_assert_int_eq(glanz_device_start_as(&device, memory, sizeof memory, &setup, &fault, (uint32_t)GLANZ_LAYOUT + 1u),
                     GLANZ_ERR_ARGUMENT);
    NO_GOOD(glanz_device_frame(NULL, 0));
    glanz_device_idle(NULL, 1000);
    glanz_device_listen(NULL, NULL, NULL);
    NO_GOOD(glanz_device_utc(NULL, 5));
    NO_GOOD(glanz_device_set_show(NULL, stage.show, 0, &fault));
    NO_GOOD(glanz_device_set_show(stage.device, NULL, 0, &fault));
    NO_GOOD(glanz_device_set_rig(NULL, stage.rig, stage.show, 0, &fault));
    NO_GOOD(glanz_device_set_rig(stage.device, NULL, stage.show, 0, &fault));
    NO_GOOD(glanz_device_set_rig(stage.device, stage.rig, NULL, 0, &fault));
    NO_GOOD(glanz_device_keep(NULL));
    NO_GOOD(glanz_device_leave_safe(NULL));
    NO_GOOD(glanz_device_act(NULL, stage.show->start));
    NO_GOOD(glanz_device_act(stage.device, NULL));
    NO_GOOD(glanz_device_serve(NULL, queue));
    NO_GOOD(glanz_device_save(NULL, "p", 1, 1, 1));
    NO_GOOD(glanz_device_save(stage.device, NULL, 1, 1, 1));
    NO_GOOD(glanz_device_recall(NULL, "p", 0, NULL));
    NO_GOOD(glanz_device_recall(stage.device, NULL, 0, NULL));
    NO_GOOD(glanz_device_recall(stage.device, "", 0, NULL));
    NO_GOOD(glanz_device_forget(NULL, "p"));
    NO_GOOD(glanz_device_rename(NULL, "p", "q"));
    NO_GOOD(glanz_device_copy(NULL, "p", "q"));
    NO_GOOD(glanz_device_move(NULL, "p", 0));
    NO_GOOD(glanz_device_saved(NULL, 0, (char *)bytes));
    NO_GOOD(glanz_device_saved(stage.device, 0, NULL));
    ck_assert_uint_eq(glanz_device_trial_ms(NULL), 0);
    ck_assert_int_eq(glanz_device_uses(NULL, memory, 8), 0);
    ck_assert_int_eq(glanz_device_uses(stage.device, NULL, 8), 0);
    ck_assert_int_eq(glanz_device_uses(stage.device, stage.show, 0), 0);
    ck_assert_int_eq(glanz_device_saving(NULL), 0);
    ck_assert_uint_eq(glanz_device_safe(NULL), 0);
    ck_assert(glanz_device_clock(NULL) == 0 && glanz_device_now(NULL) == 0 && glanz_device_counts(NULL).frames == 0);
    ck_assert(glanz_device_engine(NULL) == NULL && glanz_device_control(NULL) == NULL && glanz_device_rig(NULL) == NULL &&
              glanz_device_show(NULL) == NULL);
    ck_assert_int_eq(glanz_device_push(NULL, 0, 0, 0), GLANZ_ERR_ARGUMENT);
    NO_GOOD(glanz_engine_look(NULL, 0, NULL, change));
    NO_GOOD(glanz_engine_brightness(NULL, 0, 5, change));
    NO_GOOD(glanz_engine_switch(NULL, 0, 1, change));
    NO_GOOD(glanz_engine_showing(NULL, 0, &showing));
    NO_GOOD(glanz_engine_showing(engine, 0, NULL));

    struct glanz_picture pictures[2];
    uint8_t loaded, damaged;
    NO_GOOD(glanz_pictures_keep(NULL, "p", bytes, 8, record, sizeof record));
    NO_GOOD(glanz_pictures_keep(stage.store, NULL, bytes, 8, record, sizeof record));
    NO_GOOD(glanz_pictures_keep(stage.store, "p", NULL, 8, record, sizeof record));
    NO_GOOD(glanz_pictures_keep(stage.store, "p", bytes, 8, NULL, sizeof record));
    NO_GOOD(glanz_pictures_load(stage.store, record, sizeof record, NULL, 2, &loaded, &damaged));
    NO_GOOD(glanz_pictures_load(stage.store, record, sizeof record, pictures, 2, NULL, &damaged));
    NO_GOOD(glanz_pictures_load(NULL, record, sizeof record, pictures, 2, &loaded, &damaged));
    NO_GOOD(glanz_pictures_load(stage.store, NULL, sizeof record, pictures, 2, &loaded, &damaged));

    static char scratch[4096];
    GLANZ_CONST struct glanz_show *got_show;
    GLANZ_CONST struct glanz_rig *got_rig;
    struct glanz_action action;
    struct text sink = {NULL, 0, 0};
    NO_GOOD(glanz_rig_read(NULL, &count, scratch, sizeof scratch, "{}", 2, &fault));
    NO_GOOD(glanz_rig_read(&got_rig, NULL, scratch, sizeof scratch, "{}", 2, &fault));
    NO_GOOD(glanz_rig_read(&got_rig, &count, NULL, sizeof scratch, "{}", 2, &fault));
    NO_GOOD(glanz_rig_read(&got_rig, &count, scratch, sizeof scratch, NULL, 2, &fault));
    NO_GOOD(glanz_show_read(NULL, &count, scratch, sizeof scratch, "{}", 2, stage.rig, glanz_effects, NULL, 0, &fault));
    NO_GOOD(glanz_show_read(&got_show, NULL, scratch, sizeof scratch, "{}", 2, stage.rig, glanz_effects, NULL, 0, &fault));
    NO_GOOD(glanz_show_read(&got_show, &count, NULL, sizeof scratch, "{}", 2, stage.rig, glanz_effects, NULL, 0, &fault));
    NO_GOOD(glanz_show_read(&got_show, &count, scratch, sizeof scratch, NULL, 2, stage.rig, glanz_effects, NULL, 0, &fault));
    NO_GOOD(glanz_show_read(&got_show, &count, scratch, sizeof scratch, "{}", 2, NULL, glanz_effects, NULL, 0, &fault));
    NO_GOOD(glanz_show_read(&got_show, &count, scratch, sizeof scratch, "{}", 2, stage.rig, NULL, NULL, 0, &fault));
    NO_GOOD(glanz_show_read(&got_show, &count, scratch, sizeof scratch, "{}", 2, stage.rig, glanz_effects, NULL, 1, &fault));
    NO_GOOD(glanz_action_read(NULL, scratch, sizeof scratch, "{}", 2, stage.rig, stage.show, &fault));
    NO_GOOD(glanz_action_read(&action, NULL, sizeof scratch, "{}", 2, stage.rig, stage.show, &fault));
    NO_GOOD(glanz_action_read(&action, scratch, sizeof scratch, NULL, 2, stage.rig, stage.show, &fault));
    NO_GOOD(glanz_action_read(&action, scratch, sizeof scratch, "{}", 2, stage.rig, NULL, &fault));
    NO_GOOD(glanz_action_read(&action, scratch, sizeof scratch, "{}", 2, NULL, stage.show, &fault));
    ck_assert_int_eq(glanz_action_read(&action, scratch, sizeof scratch, "{}", 2, stage.rig, stage.show, NULL),
                     GLANZ_ERR_TEXT); /* without a fault, too */
    ck_assert_int_eq(glanz_action_read(&action, scratch, sizeof scratch, "{", 1, stage.rig, stage.show, NULL), GLANZ_ERR_TEXT);
    ck_assert_int_eq(glanz_action_read(&action, scratch + 1, sizeof scratch - 1, "{}", 2, stage.rig, stage.show, &fault),
                     GLANZ_ERR_MEMORY);
    NO_GOOD(glanz_rig_write(stage.rig, NULL, NULL));
    NO_GOOD(glanz_show_write(stage.show, stage.rig, NULL, NULL));
    NO_GOOD(glanz_show_write(stage.show, NULL, text_add, &sink));
    NO_GOOD(glanz_document_merge(NULL, &sink, scratch, sizeof scratch, "{}", 2, "{}", 2, &fault));
    NO_GOOD(glanz_document_merge(text_add, &sink, NULL, sizeof scratch, "{}", 2, "{}", 2, &fault));
    NO_GOOD(glanz_document_merge(text_add, &sink, scratch, sizeof scratch, NULL, 2, "{}", 2, &fault));
    NO_GOOD(glanz_document_merge(text_add, &sink, scratch, sizeof scratch, "{}", 2, NULL, 2, &fault));
    glanz_document_locate(NULL, scratch, sizeof scratch, "{}", 2, "{}", 2);
    memset(&fault, 0, sizeof fault);
    fault.line = 9;
    glanz_document_locate(&fault, NULL, sizeof scratch, "{}", 2, "{}", 2);
    glanz_document_locate(&fault, scratch, sizeof scratch, NULL, 2, "{}", 2);
    glanz_document_locate(&fault, scratch, sizeof scratch, "{}", 2, NULL, 2);
    ck_assert_ptr_null(sink.bytes);
    stage_close(&stage);
}
END_TEST

/* ---- media that fail ---- */

#define KEYS 8u

struct failing { /* a flash of which the operation with a number fails */
    struct glanz_nor nor;
    struct glanz_medium medium;
    uint8_t flash[8192];
    unsigned reads, fail_read, writes, fail_write;
};

static glanz_status read_or_fail(void *user, uint32_t at, uint8_t *bytes, size_t count) {
    struct failing *failing = (struct failing *)user;
    if (++failing->reads == failing->fail_read) {
        memset(bytes, 0x5A, count);
        return GLANZ_ERR_PORT;
    }
    return failing->nor.medium.read(failing->nor.medium.user, at, bytes, count);
}

static glanz_status program_or_fail(void *user, uint32_t at, const uint8_t *bytes, size_t count) {
    struct failing *failing = (struct failing *)user;
    if (++failing->writes == failing->fail_write) {
        return GLANZ_ERR_PORT;
    }
    return failing->nor.medium.program(failing->nor.medium.user, at, bytes, count);
}

static glanz_status erase_or_fail(void *user, uint32_t sector) {
    struct failing *failing = (struct failing *)user;
    if (++failing->writes == failing->fail_write) {
        return GLANZ_ERR_PORT;
    }
    return failing->nor.medium.erase(failing->nor.medium.user, sector);
}

static void begin_failing(struct failing *failing, uint32_t sector_bytes, uint16_t sectors, uint8_t unit) {
    memset(failing, 0, sizeof *failing);
    memset(failing->flash, 0xFF, sizeof failing->flash);
    glanz_nor_begin(&failing->nor, failing->flash, sector_bytes, sectors, unit);
    failing->medium = failing->nor.medium;
    failing->medium.user = failing;
    failing->medium.read = read_or_fail;
    failing->medium.program = program_or_fail;
    failing->medium.erase = erase_or_fail;
}

struct held { /* what a key may hold: the last that was confirmed, and what was being written then */
    uint8_t fill[2], count[2];
};

static glanz_status save_one(struct glanz_store *store, struct held *held, uint8_t fill, uint8_t count) {
    uint8_t bytes[255];
    memset(bytes, fill, sizeof bytes);
    held->fill[1] = fill;
    held->count[1] = count;
    glanz_status status = glanz_store_save(store, (uint16_t)(held->fill[1] % KEYS), bytes, count);
    status = status == GLANZ_OK ? glanz_store_finish(store) : status;
    if (status == GLANZ_OK) {
        held->fill[0] = fill;
        held->count[0] = count;
    }
    return status;
}

static void all_held(struct glanz_store *store, const struct held *held, const char *when, unsigned number) {
    for (uint8_t key = 0; key < KEYS; key++) {
        uint8_t seen[256];
        size_t count = 99;
        REQUIRE_MSG(glanz_store_load(store, key, seen, sizeof seen, &count) == GLANZ_OK, "%s %u: key %u", when, number, key);
        int good = 0;
        for (int i = 0; i < 2; i++) {
            int same = count == held[key].count[i];
            for (size_t k = 0; k < count && k < sizeof seen; k++) {
                same = same && seen[k] == held[key].fill[i];
            }
            good |= same;
        }
        REQUIRE_MSG(good, "%s %u: key %u holds %zu of %02X", when, number, key, count, seen[0]);
    }
}

/* Each reading of a workload fails once, each programming and each erasure: it is told or gone over, and nothing is lost by it.
 */
static void work_with_failure(const uint32_t *shape, int writes, unsigned number, int *over) {
    static struct failing failing;
    static uint64_t memory[300];
    static struct held held[KEYS];
    struct glanz_store *store;
    begin_failing(&failing, shape[0], (uint16_t)shape[1], (uint8_t)shape[2]);
    memset(held, 0, sizeof held);
    REQUIRE(glanz_store_start(&store, memory, sizeof memory, &failing.medium, KEYS, 255) == GLANZ_OK);
    for (unsigned i = 0; i < 24; i++) { /* a store that is used */
        uint8_t fill = (uint8_t)(i * 11u);
        REQUIRE(save_one(store, &held[fill % KEYS], fill, (uint8_t)(i % 5 == 4 ? 0 : 20 + i * 2)) == GLANZ_OK);
    }
    failing.reads = failing.writes = 0;
    *(writes ? &failing.fail_write : &failing.fail_read) = number;
    unsigned told = 0, confirmed = 0;
    for (unsigned i = 0; i < 12; i++) {
        uint8_t fill = (uint8_t)(100u + i * 7u), seen[255];
        size_t count;
        glanz_status status = save_one(store, &held[fill % KEYS], fill, (uint8_t)(i % 4 == 3 ? 0 : 60));
        REQUIRE_MSG(status == GLANZ_OK || status == GLANZ_ERR_PORT || status == GLANZ_ERR_DAMAGED, "%u: %s", number,
                    glanz_status_name(status));
        told += status != GLANZ_OK;
        confirmed += status == GLANZ_OK;
        status = glanz_store_load(store, (uint16_t)(i % KEYS), seen, sizeof seen, &count);
        REQUIRE_MSG(status == GLANZ_OK || status == GLANZ_ERR_PORT || status == GLANZ_ERR_DAMAGED, "%u: %s", number,
                    glanz_status_name(status));
        told += status != GLANZ_OK;
        if (i == 6) {
            status = glanz_store_start(&store, memory, sizeof memory, &failing.medium, KEYS, 255);
            REQUIRE(status == GLANZ_OK || status == GLANZ_ERR_PORT);
            told += status != GLANZ_OK;
            if (status != GLANZ_OK) { /* and once more, as a program would */
                REQUIRE(glanz_store_start(&store, memory, sizeof memory, &failing.medium, KEYS, 255) == GLANZ_OK);
            }
        }
    }
    REQUIRE_MSG(told <= 1 && confirmed >= 11, "%s %u: %u calls failed by one failure", writes ? "write" : "read", number, told);
    *over = (writes ? failing.writes : failing.reads) < number;
    failing.fail_read = failing.fail_write = 0;
    all_held(store, held, writes ? "write" : "read", number);
    REQUIRE(glanz_store_start(&store, memory, sizeof memory, &failing.medium, KEYS, 255) == GLANZ_OK);
    all_held(store, held, writes ? "after write" : "after read", number);
}

START_TEST(one_failure_of_the_flash_loses_nothing) {
    static const uint32_t shapes[][3] = {{1024, 2, 4}, {512, 8, 8}, {2048, 3, 1}, {1024, 4, 32}};
    for (int writes = 0; writes < 2; writes++) {
        int over = 0;
        unsigned number = 1;
        for (; !over; number++) {
            work_with_failure(shapes[_i], writes, number, &over);
        }
        printf("sectors of %u: each of %u %s failed once\n", shapes[_i][0], number - 2,
               writes ? "programmings and erasures" : "readings");
        ck_assert_uint_gt(number, 24);
    }
}
END_TEST

START_TEST(flash_that_cannot_be_is_refused) {
    static struct failing failing;
    static uint64_t memory[300];
    struct glanz_store *store;
    for (int which = 0; which < 14; which++) {
        begin_failing(&failing, 1024, 4, 4);
        struct glanz_medium *medium = &failing.medium;
        switch (which) {
        case 0: medium->program = NULL; break;
        case 1: medium->erase = NULL; break;
        case 2: medium->read = NULL; break;
        case 3: medium->sectors = 1; break;
        case 4: medium->sector_bytes = 0; break;
        case 5: medium->sector_bytes = 255; break;
        case 6: medium->sector_bytes = 1000; break;
        case 7: medium->sector_bytes = (1u << 20) + 256; break;
        case 8: medium->unit = 0; break;
        case 9: medium->unit = 3; break;
        case 10: medium->unit = 64; break;
        case 11: medium->version = 0; break;
        case 12: medium->sector_bytes = 1u << 20, medium->sectors = 8192; break; /* more than 32 bits count */
        default: medium = NULL; break;
        }
        ck_assert_msg(glanz_store_size(medium, KEYS, 255) == 0, "%d", which);
        ck_assert_int_eq(glanz_store_start(&store, memory, sizeof memory, medium, KEYS, 255), GLANZ_ERR_ARGUMENT);
    }
    begin_failing(&failing, 1024, 4, 4);
    ck_assert_int_eq(glanz_store_start(NULL, memory, sizeof memory, &failing.medium, KEYS, 255), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_start(&store, NULL, sizeof memory, &failing.medium, KEYS, 255), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_start(&store, (uint8_t *)memory + 1, 2000, &failing.medium, KEYS, 255), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_start(&store, memory, 8, &failing.medium, KEYS, 255), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_store_start(&store, memory, sizeof memory, &failing.medium, KEYS, 255), GLANZ_OK);
    uint8_t bytes[8];
    uint16_t key;
    size_t count;
    struct glanz_store_state state;
    ck_assert_int_eq(glanz_store_load(NULL, 1, bytes, 8, &count), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_load(store, 1, NULL, 8, &count), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_load(store, 1, bytes, 8, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_save(NULL, 1, bytes, 8), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_work(NULL, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_finish(NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_busy(NULL), 0);
    ck_assert_ptr_null(glanz_store_scratch(NULL, &count));
    ck_assert_int_eq(glanz_store_key(store, 0, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_key(NULL, 0, &key), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_key(store, 0, &key), GLANZ_ERR_ABSENT);
    ck_assert_uint_eq(glanz_store_wear(NULL, 0), 0);
    ck_assert_uint_eq(glanz_store_wear(store, 99), 0);
    glanz_store_look(NULL, &state);
    ck_assert_uint_eq(state.records, 0);
    glanz_store_look(store, NULL);
}
END_TEST

static unsigned calls, fail_call;
static glanz_status (*good_load)(void *user, uint16_t key, uint8_t *bytes, size_t capacity, size_t *count);
static glanz_status (*good_save)(void *user, uint16_t key, const uint8_t *bytes, size_t count);

static glanz_status load_or_fail(void *user, uint16_t key, uint8_t *bytes, size_t capacity, size_t *count) {
    return ++calls == fail_call ? GLANZ_ERR_PORT : good_load(user, key, bytes, capacity, count);
}

static glanz_status save_or_fail(void *user, uint16_t key, const uint8_t *bytes, size_t count) {
    return ++calls == fail_call ? GLANZ_ERR_PORT : good_save(user, key, bytes, count);
}

/* Does a preset of this name stand in the list, and how often? */
static unsigned listed(const char *name) {
    char seen[GLANZ_NAME_MOST + 1];
    unsigned found = 0;
    for (uint8_t i = 0; glanz_device_saved(stage.device, i, seen) == GLANZ_OK; i++) {
        found += strcmp(seen, name) == 0;
    }
    return found;
}

static unsigned refused;
static glanz_status done(glanz_status status, uint64_t *now_us) {
    for (int i = 0; i < 20; i++) {
        *now_us += 50000;
        (void)stage_frame(&stage, *now_us);
        glanz_device_idle(stage.device, 1000000);
    }
    refused += status != GLANZ_OK;
    return status;
}

/* A platform's store of which each call fails once: every call of the device is done or refused, and what was saved stays. */
START_TEST(one_failure_of_a_store_loses_no_preset) {
    static const char text[] = "{'show':'t','resume':true,'looks':{'l':{'effect':'plain'},'m':{'effect':'walker'}},"
                               "'segments':{'s':{'surface':'a','look':'l'}},'presets':{'p':{'s':'m'},'q':{'s':'l'}}}";
    int over = 0;
    unsigned number = 1;
    for (; !over; number++) {
        uint64_t now_us = 0;
        stage_must_open(&stage, strip_rig(12), text);
        ck_assert_int_eq(done(glanz_device_save(stage.device, "old", UINT64_MAX, GLANZ_ASPECTS, 0), &now_us), GLANZ_OK);
        ck_assert_int_eq(done(glanz_device_save(stage.device, "older", UINT64_MAX, GLANZ_ASPECTS, 0), &now_us), GLANZ_OK);
        good_load = stage.medium.load;
        good_save = stage.medium.save;
        stage.medium.load = load_or_fail;
        stage.medium.save = save_or_fail;
        calls = refused = 0;
        fail_call = number;
        unsigned saved = stage.saves;
        glanz_status renamed = done(glanz_device_rename(stage.device, "old", "renamed"), &now_us);
        int rename_confirmed = stage.saves > saved;
        (void)done(glanz_device_copy(stage.device, "older", "copied"), &now_us);
        (void)done(glanz_device_move(stage.device, "older", 0), &now_us);
        (void)done(glanz_device_recall(stage.device, "older", 0, NULL), &now_us);
        (void)done(glanz_device_save(stage.device, "newest", UINT64_MAX, GLANZ_ASPECTS, 0), &now_us);
        (void)done(glanz_device_forget(stage.device, "copied"), &now_us);
        glanz_status started = stage_restart(&stage); /* the power was away for a moment */
        if (started != GLANZ_OK) {
            REQUIRE_MSG(started == GLANZ_ERR_PORT, "%s", glanz_status_name(started));
            ck_assert_int_eq(stage_restart(&stage), GLANZ_OK);
        }
        now_us = 0;
        (void)done(GLANZ_OK, &now_us);
        over = calls < number;
        fail_call = 0;
        ck_assert_int_eq(stage_restart(&stage), GLANZ_OK);
        REQUIRE_MSG(refused + stage.failed_saves <= 3, "call %u: one failure refused %u calls", number, refused);
        REQUIRE_MSG(listed("older") == 1, "call %u: a preset that nobody changed stands %u times", number, listed("older"));
        REQUIRE_MSG(listed("old") + listed("renamed") == 1, "call %u: renaming left %u and %u", number, listed("old"),
                    listed("renamed"));
        REQUIRE(!rename_confirmed || renamed != GLANZ_OK || listed("renamed") == 1);
        ck_assert_int_eq(glanz_device_recall(stage.device, "older", 0, NULL), GLANZ_OK);
        stage_close(&stage);
    }
    printf("each of %u calls of a store failed once\n", number - 2);
    ck_assert_uint_gt(number, 20);
}
END_TEST

/* ---- memory that just suffices ---- */

/* A program that has its own memory for a controller. Presets that share out the memory of effects anew, again and again, in
 * the middle of fades: one that fits is shown whole, one that does not changes nothing. */
START_TEST(memory_that_changes_hands) {
    static const char rig_text[] =
        "{'rig':'r','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B',"
        "'leds':448}]}},'surfaces':{'g':{'grid':[{'output':'o','first':0,'columns':16,'rows':8}]},"
        "'h':{'grid':[{'output':'o','first':128,'columns':8,'rows':8}]},'i':{'grid':[{'output':'o','first':192,'columns':16,'"
        "rows':16}]}}}";
    static const char small[] = "{'show':'t','looks':{'c':{'effect':'colony'}},'segments':{'x':{'surface':'i','look':'c'}}}";
    static const char large[] =
        "{'show':'t','change':'300 "
        "ms','looks':{'c':{'effect':'colony'},'w':{'effect':'rain'},'t':{'effect':'text','text':'tide at "
        "four'},'p':{'effect':'plain'}},"
        "'segments':{'a':{'surface':'g','look':'p'},'b':{'surface':'h','look':'p'},'x':{'surface':'i','look':'p'}},'presets':{"
        "'0':{'a':'c','b':'p','x':'p'},'1':{'a':'p','b':'c','x':'p'},'2':{'a':'p','b':'p','x':'c'},'3':{'a':'c','b':'c','x':'p'"
        "},"
        "'4':{'a':'c','b':'p','x':'c'},'5':{'a':'t','b':'c','x':'c'},'6':{'a':'w','b':'w','x':'c'},'7':{'a':'t','b':'t','x':'p'"
        "},"
        "'8':{'a':'c','x':'t'},'9':{'b':'w','x':'c'},'10':{'a':'t'},'11':{'x':'t'}}}";
    stage_must_open(&stage, rig_text, small);
    struct glanz_setup setup;
    memset(&setup, 0, sizeof setup);
    setup.rig = stage.rig;
    setup.show = stage.show;
    setup.port = &stage.port;
    setup.parts = &glanz_everything;
    setup.segment_capacity = 3;
    size_t least = glanz_device_size(stage.rig, 3) + glanz_show_memory(stage.show, stage.rig);
    ck_assert_msg(glanz_device_start(&stage.device, stage.memory, least, &setup, &stage.fault) == GLANZ_OK, "%s",
                  stage.fault.text);
    struct glanz_engine *engine = glanz_device_engine(stage.device);
    stage_run(&stage, 0, 100000, 100);
    struct document more;
    struct text json = {NULL, 0, 0};
    text_add(quoted(large), strlen(large), &json);
    ck_assert_msg(document_show(&more, json, stage.rig, NULL, &stage.fault) == GLANZ_OK, "%s", stage.fault.text);
    ck_assert_int_eq(glanz_device_set_show(stage.device, more.show, 0, &stage.fault),
                     GLANZ_ERR_MEMORY); /* a device has room for all fades */
    struct glanz_control *control = glanz_device_control(stage.device);
    ck_assert_int_eq(glanz_control_set_show(control, more.show, 100000, &stage.fault), GLANZ_OK);
    uint64_t now_us = 100000;
    uint32_t random = 1;
    unsigned shown = 0, refused_whole = 0;
    for (int round = 0; round < 3000; round++) {
        struct glanz_showing before[3], after[3];
        random = glanz_hash(random);
        struct glanz_action action = {.kind = &glanz_action_recall,
                                      .target = (uint8_t)(random % more.show->preset_count),
                                      .over_ms = random >> 8 & 1 ? 0 : random >> 10 & 511};
        GLANZ_CONST struct glanz_preset *preset = &more.show->presets[action.target];
        size_t wanted = 0;
        for (uint8_t s = 0; s < 3; s++) {
            size_t own = glanz_engine_memory(engine, s);
            ck_assert_int_eq(glanz_engine_showing(engine, s, &before[s]), GLANZ_OK);
            for (uint8_t p = 0; p < preset->part_count; p++) {
                own = preset->parts[p].segment == s
                          ? glanz_look_memory(&more.show->segments[s], preset->parts[p].look, stage.rig)
                          : own;
            }
            wanted += own;
        }
        int fits = wanted <= glanz_engine_memory(engine, GLANZ_ALL);
        glanz_status status = glanz_control_act(control, &action, now_us);
        REQUIRE_MSG(status == (fits ? GLANZ_OK : GLANZ_ERR_MEMORY), "round %d, preset %s, %zu wanted: %s", round, preset->name,
                    wanted, glanz_status_name(status));
        for (uint8_t s = 0; s < 3; s++) {
            GLANZ_CONST char *name = before[s].name;
            ck_assert_int_eq(glanz_engine_showing(engine, s, &after[s]), GLANZ_OK);
            for (uint8_t p = 0; fits && p < preset->part_count; p++) {
                name = preset->parts[p].segment == s ? preset->parts[p].look->name : name;
            }
            REQUIRE_MSG(strcmp(after[s].name, name) == 0, "round %d, preset %s: segment %u shows %s", round, preset->name, s,
                        after[s].name);
        }
        shown += fits;
        refused_whole += !fits;
        stage_run(&stage, now_us, now_us + (random >> 20 & 7) * 30000, 100);
        now_us += (random >> 20 & 7) * 30000;
    }
    ck_assert_uint_gt(shown, 500);
    ck_assert_uint_gt(refused_whole, 50);
    ck_assert_int_eq(glanz_control_set_show(control, stage.show, now_us, &stage.fault), GLANZ_OK);
    stage_run(&stage, now_us, now_us + 1000000, 100);
    ck_assert_int_eq(glanz_control_uses(control, more.memory, more.memory_size), 0); /* nothing of it is left */
    document_free(&more);
    stage_close(&stage);
}
END_TEST

/* ---- every choice of parts ---- */

/* What every program may do, whatever it has linked: done, or refused for what is not there. */
static void use_all(struct glanz_device *device, const struct glanz_show *s, uint32_t *now_us) {
    struct glanz_engine *engine = glanz_device_engine(device);
    struct glanz_missed missed;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_change change = {0, 300, 0};
    for (uint16_t i = 0; i < 6; i++) {
        change.at_us = glanz_device_clock(device);
        change.again = i == 4;
        const struct glanz_look *look = i == 3 ? NULL : &s->looks[i % s->look_count];
        glanz_status status = glanz_engine_look(engine, 0, look, change);
        ck_assert(status == GLANZ_OK || status == GLANZ_ERR_ABSENT || status == GLANZ_ERR_MEMORY || status == GLANZ_ERR_SHOW);
        status = glanz_device_set(device, s->segments[0].name, "speed", GLANZ_FIXED(1), GLANZ_UNIT_LEDS, 200, &fault);
        ck_assert(status == GLANZ_OK || status == GLANZ_ERR_ABSENT || status == GLANZ_ERR_ARGUMENT);
        ck_assert_int_eq(glanz_engine_brightness(engine, i % 2 == 0 ? 0 : GLANZ_ALL, (uint16_t)(20000 + i), change), GLANZ_OK);
        ck_assert_int_eq(glanz_engine_switch(engine, 0, i != 1, change), GLANZ_OK);
        *now_us += 40000;
        ck_assert_int_eq(glanz_device_frame(device, *now_us), GLANZ_OK);
    }
    ck_assert_int_eq(glanz_device_save(device, "mine", UINT64_MAX, GLANZ_ASPECTS, 0), GLANZ_ERR_ABSENT); /* no store */
    ck_assert_int_eq(glanz_device_forget(device, "mine"), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_device_recall(device, "mine", 0, &missed), GLANZ_ERR_ABSENT);
    if (s->preset_count != 0) {
        glanz_status status = glanz_device_recall(device, s->presets[0].name, 100, NULL);
        ck_assert(status == GLANZ_OK || status == GLANZ_ERR_ABSENT || status == GLANZ_ERR_MEMORY);
    }
    if (s->start != NULL) {
        glanz_status status = glanz_device_act(device, s->start);
        ck_assert(status == GLANZ_OK || status == GLANZ_ERR_ABSENT || status == GLANZ_ERR_MEMORY);
    }
    glanz_status told = glanz_device_utc(device, 1800000000u);
    ck_assert(told == GLANZ_OK || told == GLANZ_ERR_ABSENT);
    (void)glanz_device_push(device, 0, 1, *now_us);
    told = glanz_device_set_show(device, s, 1000, &fault);
    ck_assert_msg(told == GLANZ_OK || told == GLANZ_ERR_ABSENT, "%s", glanz_status_name(told));
    for (int i = 0; i < 8; i++) {
        *now_us += 300000;
        ck_assert_int_eq(glanz_device_frame(device, *now_us), GLANZ_OK);
        glanz_device_idle(device, 1000);
    }
    ck_assert_uint_ne(glanz_device_uses(device, s, sizeof *s), 0);
}

/* Any of the fourteen parts there or not: what a rig and a show lack is refused, by its name where there are words; all else
 * runs.
 */
START_TEST(every_choice_of_parts) {
    static uint64_t memory[60000];
    static const char *const names[] = {"checks", "control", "playlists", "hands",   "blends", "limit",    "glides",
                                        "colors", "fields",  "saving",    "signals", "drives", "gestures", "sound"};
    static GLANZ_SOUND_MEMORY(sound_memory, 6, 0, 0, 0);
    static const struct glanz_sound_setup six = {NULL, NULL, NULL, 6};
    struct glanz_sound *sound = NULL;
    ck_assert_int_eq(glanz_sound_start(&sound, &sound_memory, sizeof sound_memory, &six), GLANZ_OK);
    struct document plain_rig;
    struct document plain_show;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    uint32_t now_us = 0;
    struct glanz_port port = stage_port_to_nowhere(&now_us);
    unsigned ran = 0;
    unsigned lacked = 0;
    open_full();
    struct text text;
    memset(&text, 0, sizeof text);
    const char *of_rig =
        "{\"rig\":\"t\",\"supplies\":{\"s\":{\"volts\":\"5 "
        "V\"}},\"outputs\":{\"o\":{\"pin\":1,\"supply\":\"s\",\"line\":[{\"chip\":"
        "\"WS2812B\",\"leds\":9}]}},\"surfaces\":{\"a\":{\"strip\":[{\"output\":\"o\",\"first\":0,\"leds\":9}]}},\"inputs\":"
        "{\"k\":{\"button\":{\"pin\":2,\"pressed\":\"low\"}}}}";
    text_add(of_rig, strlen(of_rig), &text);
    ck_assert_int_eq(document_rig(&plain_rig, text, &fault), GLANZ_OK);
    memset(&text, 0, sizeof text);
    const char *of_show = "{\"show\":\"t\",\"looks\":{\"dot\":{\"effect\":\"walker\"},\"other\":{\"effect\":\"comet\"},"
                          "\"slow\":{\"effect\":\"walker\","
                          "\"speed\":\"1 leds/s\"}},\"segments\":{\"s\":{\"surface\":\"a\",\"look\":\"dot\"}}}";
    text_add(of_show, strlen(of_show), &text);
    ck_assert_int_eq(document_show(&plain_show, text, plain_rig.rig, NULL, &fault), GLANZ_OK);
    for (unsigned mask = 0; mask < 16384; mask += test_slow() ? 119 : 11) {
        struct glanz_parts parts = glanz_everything;
        const void *members[14];
        ck_assert_uint_eq(sizeof parts, sizeof members);
        memcpy(members, &parts, sizeof parts);
        for (int i = 0; i < 14; i++) {
            members[i] = (mask >> i & 1u) != 0 ? members[i] : NULL;
        }
        memcpy(&parts, members, sizeof parts);
        for (int full = 0; full < 2; full++) {
            struct glanz_device *device = NULL;
            struct glanz_setup setup = {.rig = full ? rig.rig : plain_rig.rig,
                                        .show = full ? show.show : plain_show.show,
                                        .port = &port,
                                        .parts = &parts,
                                        .effects = glanz_effects,
                                        .sounds = &sound,
                                        .sound_count = 1};
            unsigned lacking = glanz_parts_needed(setup.rig, setup.show) & ~glanz_parts_present(&parts);
            memset(&fault, 0, sizeof fault);
            glanz_status status = glanz_device_start(&device, memory, sizeof memory, &setup, mask % 2 == 0 ? NULL : &fault);
            ck_assert_msg(status == (lacking != 0 ? GLANZ_ERR_ABSENT : GLANZ_OK), "parts 0x%x: %s", mask,
                          glanz_status_name(status));
            if (lacking == 0) {
                use_all(device, setup.show, &now_us);
                ran++;
                continue;
            }
            lacked++;
            const char *name = glanz_part_name(lacking);
            ck_assert(mask % 2 == 0 || strstr(fault.text, name) != NULL);
            for (int i = 0; i < 14; i++) {
                ck_assert(strcmp(names[i], name) != 0 || members[i] == NULL);
            }
        }
        struct glanz_device *device = NULL;
        struct glanz_setup setup = {.rig = plain_rig.rig, .show = plain_show.show, .port = NULL, .parts = &parts};
        ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_ERR_ARGUMENT);
        setup.port = &port;
        setup.segment_capacity = 255;
        ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, NULL), GLANZ_ERR_ARGUMENT);
        setup.segment_capacity = 2;
        int whole = (glanz_parts_needed(setup.rig, setup.show) & ~glanz_parts_present(&parts)) == 0;
        setup.fading = GLANZ_NO_FADING; /* looks change by the controller: not without it */
        glanz_status status = glanz_device_start(&device, memory, sizeof memory, &setup, &fault);
        ck_assert_int_eq(status, parts.control != NULL ? GLANZ_ERR_ARGUMENT : whole ? GLANZ_OK : GLANZ_ERR_ABSENT);
        ck_assert_int_eq(glanz_device_start(&device, memory, 200, &setup, &fault), parts.control != NULL ? GLANZ_ERR_ARGUMENT
                                                                                   : whole               ? GLANZ_ERR_MEMORY
                                                                                                         : GLANZ_ERR_ABSENT);
        setup.fading = 2;
        ck_assert_int_eq(glanz_device_start(&device, memory, 900, &setup, mask % 4 == 0 ? NULL : &fault),
                         whole ? GLANZ_ERR_MEMORY : GLANZ_ERR_ABSENT);
    }
    printf("any choice of parts: %u devices run, %u are refused for what they lack\n", ran, lacked);
    ck_assert_uint_gt(ran, lacked / 20);
    document_free(&plain_show);
    document_free(&plain_rig);
    close_full();
}
END_TEST

Suite *edges_suite(void) {
    Suite *suite = suite_create("edges");
    TCase *tcase = tcase_create("Edges");
    tcase_set_timeout(tcase, 120);
    tcase_add_test(tcase, shows_in_c_are_checked);
    tcase_add_test(tcase, overlaps_are_found_led_by_led);
    tcase_add_test(tcase, names_are_valid_utf8);
    tcase_add_test(tcase, texts_are_compared);
    tcase_add_test(tcase, null_for_each_argument);
    tcase_add_loop_test(tcase, one_failure_of_the_flash_loses_nothing, 0, 4);
    tcase_add_test(tcase, flash_that_cannot_be_is_refused);
    tcase_add_test(tcase, one_failure_of_a_store_loses_no_preset);
    tcase_add_test(tcase, memory_that_changes_hands);
    tcase_add_test(tcase, every_choice_of_parts);
    suite_add_tcase(suite, tcase);
    return suite;
}
