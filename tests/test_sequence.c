/* SPDX-License-Identifier: MIT */
/* Presets in part, undo, what hands take over; playlists of all kinds; power that goes and comes back. */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <glanz/nor.h>

#include "stage.h"
#include "suites.h"

static struct stage stage;

static void teardown(void) {
    stage_close(&stage);
}

static const char two_strips[] =
    "{'rig':'two','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':30}]},"
    "'u':{'pin':2,'supply':'s','line':[{'chip':'WS2812B','leds':20}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds'"
    ":30}]},"
    "'b':{'strip':[{'output':'u','first':0,'leds':20}]}},'inputs':{'k':{'button':{'pin':2,'pressed':'low'}}}}";

#define HEAD                                                                                                                   \
    "{'show':'t','brightness':'100 %','change':'200 ms','looks':{'red':{'effect':'plain','color':'#ff0000'},"                  \
    "'green':{'effect':'plain','color':'#00ff00'},'blue':{'effect':'plain','color':'#0000ff'},"                                \
    "'flow':{'effect':'flow','palette':'ice floe'},'motley':{'effect':'motley','palette':'net floats'},"                       \
    "'comet':{'effect':'comet','speed':'9 "                                                                                    \
    "leds/s'},'dot':{'effect':'walker','color':'#80ff40','background':'#000020'},'circle':{'effect':'flow'}},"                 \
    "'segments':{'s':{'surface':'a','look':'red'},'t':{'surface':'b','look':'flow'}},"                                         \
    "'presets':{'p':{'s':'green'},'q':{'s':'blue'},'r':{'s':'red'},'both':{'s':'green','t':'comet'},"                          \
    "'other':{'t':'motley'},'hue':{'t':{'palette':'full circle'}},'dim':{'s':{'brightness':'30 %'}},'off':{'s':{'on':false}}}"

static struct glanz_showing on(uint8_t segment) {
    struct glanz_showing showing;
    ck_assert_int_eq(glanz_engine_showing(glanz_device_engine(stage.device), segment, &showing), GLANZ_OK);
    return showing;
}

static int same(const struct glanz_showing *a, const struct glanz_showing *b) {
    return a->effect == b->effect && a->gradient == b->gradient && a->on == b->on && a->brightness == b->brightness &&
           memcmp(a->number, b->number, sizeof a->number) == 0 && memcmp(a->unit, b->unit, sizeof a->unit) == 0;
}

static const char *look_on(uint8_t segment) {
    const char *name = on(segment).name;
    return name == NULL ? "" : name;
}

static uint64_t now; /* microseconds; frames at 50 a second */

static void run_ms(unsigned ms) {
    for (uint64_t end = now + (uint64_t)ms * 1000u; now < end; now += 20000u) {
        glanz_status status = stage_frame(&stage, now);
        REQUIRE_MSG(status == GLANZ_OK, "frame at %u ms: %s", (unsigned)(now / 1000), glanz_status_name(status));
        glanz_device_idle(stage.device, 15000);
    }
}

static void open_show(const char *rest) {
    char text[9000];
    snprintf(text, sizeof text, "%s%s}", HEAD, rest);
    stage_must_open(&stage, two_strips, text);
    now = 0;
}

static void restart(void) {
    ck_assert_int_eq(stage_restart(&stage), GLANZ_OK);
    stage.happened[0] = '\0';
    now = 0;
}

static void save(const char *name, uint64_t segments, uint8_t aspects) {
    unsigned saves = stage.saves;
    ck_assert_int_eq(glanz_device_save(stage.device, name, segments, aspects, 0), GLANZ_OK);
    run_ms(200);
    ck_assert_uint_gt(stage.saves, saves);
}

/* ---- presets ---- */

/* A preset of one segment, or of one aspect, leaves all the rest as if nobody had touched it, byte for byte. */
START_TEST(a_part_leaves_the_rest_running) {
    static uint8_t rest[2][120][60];
    for (int round = 0; round < 2; round++) {
        open_show("");
        save("part", 1, GLANZ_ASPECT_BRIGHTNESS);
        stage_do(&stage, "{'look':'comet','segment':'s'}");
        stage_do(&stage, "{'brightness':'20 %','segment':'s'}");
        run_ms(600);
        if (round == 1) {
            ck_assert_int_eq(glanz_device_recall(stage.device, "part", 400, NULL), GLANZ_OK);
        }
        for (int frame = 0; frame < 120; frame++) {
            run_ms(20);
            memcpy(rest[round][frame], stage.bytes[1], 60);
        }
        ck_assert_str_eq(look_on(0), "comet");
        ck_assert_uint_eq(on(0).brightness, round == 1 ? 65535 : GLANZ_LIGHTNESS(20));
        stage_close(&stage);
    }
    ck_assert_mem_eq(rest[0], rest[1], sizeof rest[0]);
}
END_TEST

START_TEST(a_palette_alone) {
    open_show("");
    save("cold", 2, GLANZ_ASPECT_PALETTE);
    const void *cold = on(1).gradient;
    stage_do(&stage, "{'look':'motley','segment':'t'}");
    run_ms(400);
    const struct glanz_effect *motley = on(1).effect;
    ck_assert_ptr_ne(on(1).gradient, cold);
    ck_assert_int_eq(glanz_device_recall(stage.device, "cold", 400, NULL), GLANZ_OK);
    run_ms(600);
    ck_assert_ptr_eq(on(1).gradient, cold);
    ck_assert_ptr_eq(on(1).effect, motley);
}
END_TEST

/* A palette that nobody chose is one too. */
START_TEST(the_standard_palette_alone) {
    open_show("");
    stage_do(&stage, "{'look':'circle','segment':'t'}");
    save("plainest", 2, GLANZ_ASPECT_PALETTE);
    ck_assert_ptr_eq(on(1).gradient, &glanz_gradient_standard);
    stage_do(&stage, "{'look':'flow','segment':'t'}");
    ck_assert_ptr_ne(on(1).gradient, &glanz_gradient_standard);
    ck_assert_int_eq(glanz_device_recall(stage.device, "plainest", 0, NULL), GLANZ_OK);
    ck_assert_ptr_eq(on(1).gradient, &glanz_gradient_standard);
}
END_TEST

/* Colours alone go from any look to any other: by rank between effects that have colours, as a palette to and from others;
 * after a restart too. */
START_TEST(colours_alone) {
    open_show("");
    stage_do(&stage, "{'look':'dot','segment':'s'}");
    save("dots", 1, GLANZ_ASPECT_PALETTE);
    stage_do(&stage, "{'look':'blue','segment':'s'}");
    run_ms(300);
    restart();
    run_ms(300);
    ck_assert_int_eq(glanz_device_recall(stage.device, "dots", 0, NULL), GLANZ_OK);
    ck_assert_int_eq(on(0).number[0], 0x80ff40); /* plain has one */
    ck_assert_str_eq(look_on(0), "red");
    stage_do(&stage, "{'undo':true}");
    ck_assert_int_eq(on(0).number[0], 0xff0000);
    stage_do(&stage, "{'look':'flow','segment':'s'}");
    ck_assert_int_eq(glanz_device_recall(stage.device, "dots", 0, NULL), GLANZ_OK);
    struct glanz_light first = glanz_gradient_at(on(0).gradient, 0);
    struct glanz_light last = glanz_gradient_at(on(0).gradient, 65535);
    struct glanz_light dot = glanz_rgb_light(0x80ff40);
    struct glanz_light rest = glanz_rgb_light(0x000020);
    ck_assert_mem_eq(&first, &dot, sizeof dot);
    ck_assert_mem_eq(&last, &rest, sizeof rest);
    save("blend", 1, GLANZ_ASPECT_PALETTE); /* a palette, and back to colours */
    stage_do(&stage, "{'look':'dot','segment':'s'}");
    stage_do(&stage, "{'adjust':'s','number':'color','to':'#101010'}");
    stage_do(&stage, "{'adjust':'s','number':'background','to':'#ffffff'}");
    ck_assert_int_eq(glanz_device_recall(stage.device, "blend", 0, NULL), GLANZ_OK);
    ck_assert_int_eq(on(0).number[GLANZ_WALKER_COLOR], 0x80ff40);
    ck_assert_int_eq(on(0).number[GLANZ_WALKER_BACKGROUND], 0x000020);
}
END_TEST

/* Any actions, and then undo as often as can be undone: what was there before them is there again. */
START_TEST(undo_takes_back_what_was_done) {
    static const char *const actions[] = {"{'recall':'p'}",
                                          "{'recall':'both'}",
                                          "{'look':'motley','segment':'s'}",
                                          "{'switch':'t','on':'other'}",
                                          "{'brightness':'35 %','segment':'t'}",
                                          "{'recall':'off'}",
                                          "{'brightness':'55 %'}"};
    static const uint8_t changed[] = {1, 2, 1, 1, 1, 1, 1};
    uint32_t seed = 5u + (uint32_t)_i;
    open_show("");
    run_ms(1500);
    for (int round = 0; round < 40; round++) {
        struct glanz_showing before[2] = {on(0), on(1)};
        unsigned done = 0;
        unsigned count = 0;
        uint16_t whole = glanz_engine_lightness(glanz_device_engine(stage.device));
        for (;; count++) {
            seed = glanz_hash(seed + 1u);
            unsigned which = seed % 7u;
            if (done + changed[which] > GLANZ_UNDO) {
                break;
            }
            done += changed[which];
            stage_do(&stage, actions[which]);
            run_ms(20 + seed % 300);
        }
        ck_assert_uint_ge(glanz_control_undoable(glanz_device_control(stage.device)), done);
        while (count-- > 0) {
            stage_do(&stage, "{'undo':true,'over':'50 ms'}");
        }
        run_ms(1000);
        struct glanz_showing after[2] = {on(0), on(1)};
        REQUIRE_MSG(same(&before[0], &after[0]) && same(&before[1], &after[1]), "round %d", round);
        ck_assert_uint_eq(glanz_engine_lightness(glanz_device_engine(stage.device)), whole);
    }
    struct glanz_action undo = {.kind = &glanz_action_undo, .target = 0, .over_ms = 0};
    while (glanz_control_undoable(glanz_device_control(stage.device)) > 0) {
        ck_assert_int_eq(glanz_device_act(stage.device, &undo), GLANZ_OK);
    }
    ck_assert_int_ne(glanz_device_act(stage.device, &undo), GLANZ_OK); /* nothing is left */
}
END_TEST

START_TEST(what_is_unsaved_is_known) {
    open_show("");
    struct glanz_control *control = glanz_device_control(stage.device);
    run_ms(100);
    ck_assert_uint_eq(glanz_control_unsaved(control), 0);
    stage_do(&stage, "{'brightness':'50 %','segment':'t'}");
    ck_assert_uint_eq(glanz_control_unsaved(control), 2);
    stage_do(&stage, "{'look':'green','segment':'s'}");
    ck_assert_uint_eq(glanz_control_unsaved(control), 3);
    save("first", 1, GLANZ_ASPECTS);
    ck_assert_uint_eq(glanz_control_unsaved(control), 2);
    save("all", UINT64_MAX, GLANZ_ASPECTS);
    ck_assert_uint_eq(glanz_control_unsaved(control), 0);
    stage_do(&stage, "{'look':'blue','segment':'s'}");
    ck_assert_int_eq(glanz_device_recall(stage.device, "first", 100, NULL), GLANZ_OK);
    ck_assert_uint_eq(glanz_control_unsaved(control) & 1u, 0); /* it is what is saved */
}
END_TEST

START_TEST(names_and_their_order) {
    char name[GLANZ_NAME_MOST + 1];
    static const char *const wrong[] = {
        "", "a\nb", "\x7f", "\xff", "abc\xc3", "\xed\xa0\x80", "123456789012345678901234567890ab", "\xc2\x85"};
    open_show("");
    for (size_t i = 0; i < sizeof wrong / sizeof wrong[0]; i++) {
        ck_assert_int_eq(glanz_device_save(stage.device, wrong[i], 1, GLANZ_ASPECTS, 0), GLANZ_ERR_ARGUMENT);
    }
    save("eins", 1, GLANZ_ASPECTS);
    save("zwölf €", 1, GLANZ_ASPECTS);
    save("1234567890123456789012345678901", 3, GLANZ_ASPECTS);
    ck_assert_int_eq(glanz_device_save(stage.device, "eins", 1, GLANZ_ASPECTS, 0), GLANZ_ERR_STATE);
    ck_assert_int_eq(glanz_device_rename(stage.device, "eins", "zwölf €"), GLANZ_ERR_STATE);
    ck_assert_int_eq(glanz_device_rename(stage.device, "none", "some"), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_device_rename(stage.device, "eins", "uno"), GLANZ_OK);
    run_ms(200);
    ck_assert_int_eq(glanz_device_copy(stage.device, "uno", "duo"), GLANZ_OK);
    run_ms(200);
    ck_assert_int_eq(glanz_device_move(stage.device, "duo", 0), GLANZ_OK);
    run_ms(200);
    ck_assert_int_eq(glanz_device_move(stage.device, "duo", 4), GLANZ_ERR_ABSENT);
    for (int round = 0; round < 2; round++) { /* and once more after the power went */
        static const char *const names[] = {"duo", "uno", "zwölf €", "1234567890123456789012345678901"};
        for (uint8_t i = 0; i < 4; i++) {
            ck_assert_int_eq(glanz_device_saved(stage.device, i, name), GLANZ_OK);
            ck_assert_str_eq(name, names[i]);
        }
        ck_assert_int_eq(glanz_device_saved(stage.device, 4, name), GLANZ_ERR_ABSENT);
        restart();
        run_ms(100);
    }
    ck_assert_int_eq(glanz_device_forget(stage.device, "uno"), GLANZ_OK);
    run_ms(200);
    ck_assert_int_eq(glanz_device_recall(stage.device, "uno", 0, NULL), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_device_recall(stage.device, "duo", 0, NULL), GLANZ_OK);
}
END_TEST

static size_t put(uint8_t *at, const char *name) {
    at[0] = (uint8_t)strlen(name);
    memcpy(at + 1, name, at[0]);
    return at[0] + 1u;
}

/* Presets as the first format had them are read; those of a later one are left alone, and told. */
START_TEST(older_and_newer_presets) {
    uint8_t record[200] = {'G', 'P', 1, 2};
    size_t count = 4;
    count += put(record + count, "old one");
    for (int i = 0; i < 2; i++) { /* segment, look, effect, palette, on, brightness, of the look, parameters */
        count += put(record + count, i == 0 ? "s" : "gone");
        count += put(record + count, "motley");
        count += put(record + count, "motley");
        count += put(record + count, "net floats");
        record[count++] = 1;
        record[count++] = 0x00;
        record[count++] = 0x80;
        record[count++] = 0xFF;
        record[count++] = 0xFF;
        record[count++] = 0;
    }
    uint32_t crc = glanz_crc32(0, record, count);
    for (int i = 0; i < 4; i++) {
        record[count++] = (uint8_t)(crc >> 8 * i);
    }
    open_show("");
    memcpy(stage.record[3], record, count);
    stage.record_count[3] = count;
    record[2] = 9; /* a format that is still to come */
    crc = glanz_crc32(0, record, count - 4);
    for (int i = 0; i < 4; i++) {
        record[count - 4u + (size_t)i] = (uint8_t)(crc >> 8 * i);
    }
    memcpy(stage.record[5], record, count);
    stage.record_count[5] = count;
    restart();
    run_ms(100);
    struct glanz_missed missed;
    ck_assert_int_eq(glanz_device_recall(stage.device, "old one", 0, &missed), GLANZ_OK);
    run_ms(100);
    ck_assert_uint_eq(missed.segments, 1); /* what did not fit is told by name */
    ck_assert_str_eq(missed.first, "gone");
    ck_assert_str_eq(look_on(0), "motley");
    ck_assert_uint_eq(on(0).brightness, 0x8000);
    struct glanz_control *control = glanz_device_control(stage.device);
    struct glanz_change change = {0, 0, 0};
    struct glanz_showing before = on(0);
    ck_assert_int_eq(glanz_preset_unpack(control, glanz_effects, record, count, change, &missed), GLANZ_ERR_NEWER);
    struct glanz_showing after = on(0);
    ck_assert(same(&before, &after));
    ck_assert_mem_eq(stage.record[5], record, count); /* untouched */
    save("a", 1, GLANZ_ASPECTS);
    ck_assert_mem_eq(stage.record[5], record, count); /* and its place is not taken */
}
END_TEST

/* A preset names what the show has no more: what fits is applied, the rest told. */
START_TEST(a_smaller_show_takes_what_fits) {
    struct glanz_missed missed;
    open_show(",'playlists':{'l':{'items':[{'preset':'p','hold':'1 s'}]}}");
    stage_do(&stage, "{'look':'motley','segment':'t'}");
    stage_do(&stage, "{'play':'l'}");
    run_ms(400);
    save("large", UINT64_MAX, GLANZ_ASPECTS);
    char text[2000] = "{'show':'t','brightness':'100 %','looks':{'red':{'effect':'plain','color':'#ff0000'}},"
                      "'segments':{'s':{'surface':'a','look':'red'}}}";
    ck_assert_int_eq(stage_show(&stage, text), GLANZ_OK);
    run_ms(100);
    ck_assert_int_eq(glanz_device_recall(stage.device, "large", 0, &missed), GLANZ_OK);
    ck_assert_uint_eq(missed.segments, 1);
    ck_assert_uint_eq(missed.looks, 1); /* the playlist */
    run_ms(1500);
    ck_assert_uint_eq(stage_led(&stage, 0, 3, 1), 255); /* what the playlist showed there, green, fits */
}
END_TEST

/* ---- hands and playlists ---- */

START_TEST(an_aspect_is_taken_over_and_handed_back) {
    open_show(
        ",'playlists':{'l':{'items':[{'preset':'p','hold':'500 ms'},{'preset':'dim','hold':'500 ms'},{'preset':'q','hold':'500 "
        "ms'}]}},'start':{'play':'l'}");
    run_ms(300);
    stage_do(&stage, "{'take over':'s','aspects':['brightness']}");
    stage_do(&stage, "{'brightness':'70 %','segment':'s','over':'0 s'}");
    uint16_t chosen = on(0).brightness;
    for (int i = 0; i < 60; i++) { /* two rounds: the playlist's looks come, its brightness does not */
        run_ms(60);
        ck_assert_uint_eq(on(0).brightness, chosen);
    }
    ck_assert_ptr_nonnull(strstr(stage.happened, "preset-dim"));
    ck_assert_ptr_nonnull(strstr(stage.happened, "preset-q"));
    while (strcmp(look_on(0), "green") == 0) {
        run_ms(20);
    }
    ck_assert_str_eq(look_on(0), "blue");
    stage_do(&stage, "{'hand back':'s','aspects':['brightness'],'over':'0 s'}");
    ck_assert_uint_eq(glanz_control_taken(glanz_device_control(stage.device), 0), 0);
    run_ms(1600);
    ck_assert_uint_lt(on(0).brightness, chosen / 2 + 1); /* the playlist's 30 % again */
}
END_TEST

START_TEST(a_palette_is_taken_over) {
    open_show(",'playlists':{'l':{'items':[{'preset':'both','hold':'300 ms'},{'preset':'other','hold':'300 "
              "ms'},{'preset':'hue','hold':'300 ms'}]}}");
    const void *own = on(1).gradient;
    stage_do(&stage, "{'play':'l'}");
    run_ms(700);
    ck_assert_ptr_ne(on(1).gradient, own); /* motley in its own palette, and then in that of the preset */
    run_ms(200);
    const void *circle = on(1).gradient;
    ck_assert_str_eq(look_on(1), "motley");
    stage_do(&stage, "{'take over':'t','aspects':['palette']}");
    for (int i = 0; i < 40; i++) {
        run_ms(60);
        ck_assert(on(1).gradient == circle || strcmp(look_on(1), "comet") == 0); /* a comet has none */
    }
    stage_do(&stage, "{'hand back':'t','aspects':['palette']}");
    while (strcmp(look_on(1), "comet") == 0 || on(1).gradient == circle) {
        run_ms(20);
    }
    ck_assert_str_eq(look_on(1), "motley");
}
END_TEST

/* A playlist that was begun by hand is stopped by undo, and what a program changes by itself can be taken back too. */
START_TEST(undo_of_playlists_and_programs) {
    open_show(",'playlists':{'l':{'items':[{'preset':'p','hold':'2 s'},{'preset':'q','hold':'2 s'}]}}");
    struct glanz_control *control = glanz_device_control(stage.device);
    run_ms(500);
    stage_do(&stage, "{'play':'l'}");
    run_ms(500);
    ck_assert_str_eq(look_on(0), "green");
    stage_do(&stage, "{'undo':true}");
    run_ms(3000);
    ck_assert_uint_eq(glanz_control_playing(control, 0, NULL), GLANZ_ALL);
    ck_assert_str_eq(look_on(0), "red");
    struct glanz_change change = {glanz_device_clock(stage.device), 100, 0};
    glanz_control_touch(control, 2, change.at_us);
    ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 1, &stage.show->looks[2], change), GLANZ_OK);
    ck_assert_uint_eq(glanz_control_unsaved(control) & 2u, 2u);
    run_ms(300);
    ck_assert_str_eq(look_on(1), "blue");
    stage_do(&stage, "{'undo':true}");
    run_ms(300);
    ck_assert_str_eq(look_on(1), "flow");
    stage_do(&stage, "{'jump':'l','item':2}"); /* begins it there */
    run_ms(300);
    ck_assert_str_eq(look_on(0), "blue");
}
END_TEST

/* More playlists than can play at once: the one that has run longest gives way. */
START_TEST(one_playlist_too_many) {
    char text[3000] = "{'show':'t','looks':{'red':{'effect':'plain','color':'#ff0000'},'green':{'effect':'plain','color':'#"
                      "00ff00'}},'segments':{";
    char part[200];
    for (int i = 0; i < 5; i++) {
        snprintf(part, sizeof part, "%s's%d':{'surface':'a','first':%d,'leds':5,'look':'red'}", i == 0 ? "" : ",", i, 5 * i);
        strcat(text, part);
    }
    strcat(text, "},'presets':{");
    for (int i = 0; i < 5; i++) {
        snprintf(part, sizeof part, "%s'p%d':{'s%d':'green'}", i == 0 ? "" : ",", i, i);
        strcat(text, part);
    }
    strcat(text, "},'playlists':{");
    for (int i = 0; i < 5; i++) {
        snprintf(part, sizeof part, "%s'l%d':{'items':[{'preset':'p%d','hold':'9 s'}]}", i == 0 ? "" : ",", i, i);
        strcat(text, part);
    }
    strcat(text, "}}");
    stage_must_open(&stage, two_strips, text);
    now = 0;
    for (int i = 0; i < 5; i++) {
        snprintf(part, sizeof part, "{'play':'l%d'}", (i + 2) % 5);
        stage_do(&stage, part);
        run_ms(100);
    }
    unsigned playing = 0;
    for (uint8_t i = 0; glanz_control_playing(glanz_device_control(stage.device), i, NULL) != GLANZ_ALL; i++) {
        playing |= 1u << glanz_control_playing(glanz_device_control(stage.device), i, NULL);
    }
    ck_assert_uint_eq(playing, 31u & ~(1u << 2));
}
END_TEST

static unsigned items_seen(uint8_t *items, unsigned capacity) { /* numbers in what happened */
    unsigned count = 0;
    for (const char *at = strstr(stage.happened, ":item-"); at != NULL && count < capacity; at = strstr(at + 1, ":item-")) {
        items[count++] = (uint8_t)atoi(at + 6);
    }
    return count;
}

/* Shuffled: each once a round, never the same twice in a row, and not always the same order. */
START_TEST(shuffled_once_a_round) {
    static const int counts[] = {2, 3, 4, 5, 8, 17, 40};
    int count = counts[_i];
    char list[6000] = ",'playlists':{'l':{'shuffled':true,'items':[";
    for (int i = 0; i < count; i++) {
        strcat(list, i == 0 ? "" : ",");
        strcat(list, i % 3 == 0   ? "{'preset':'p','hold':'60 ms'}"
                     : i % 3 == 1 ? "{'preset':'q','hold':'60 ms'}"
                                  : "{'preset':'r','hold':'60 ms'}");
    }
    strcat(list, "]}}");
    open_show(list);
    stage_do(&stage, "{'play':'l'}");
    uint8_t order[400];
    unsigned seen = 0;
    for (int part = 0; part < 80 && seen < 320; part++) {
        run_ms(400);
        seen += items_seen(order + seen, (unsigned)(sizeof order - seen));
        stage.happened[0] = '\0';
    }
    unsigned rounds = seen / (unsigned)count;
    unsigned differ = 0;
    ck_assert_uint_ge(rounds, 8);
    for (unsigned round = 0; round < rounds; round++) {
        uint64_t drawn = 0;
        for (int i = 0; i < count; i++) {
            drawn |= (uint64_t)1 << order[round * (unsigned)count + (unsigned)i];
        }
        ck_assert_uint_eq(drawn, ((uint64_t)1 << count) - 1u);
        differ += round > 0 && memcmp(order + round * (unsigned)count, order, (size_t)count) != 0;
    }
    for (unsigned i = 1; i < seen; i++) {
        ck_assert_uint_ne(order[i], order[i - 1]);
    }
    ck_assert(count == 2 || differ > rounds / 2);
}
END_TEST

static const char nested_lists[] =
    ",'playlists':{'in':{'rounds':2,'items':[{'preset':'p','hold':'200 ms'},{'preset':'q','hold':'300 ms'}]},"
    "'timed':{'rounds':2,'then':'dark','items':[{'preset':'p','at':'0 s'},{'preset':'q','at':'1.3 s'},{'preset':'r','at':'2.7 "
    "s','hold':'500 ms'}]},"
    "'out':{'rounds':1,'then':{'preset':'r'},'items':[{'playlist':'in'},{'dark':true,'hold':'400 "
    "ms'},{'playlist':'in','hold':'700 ms'},"
    "{'preset':'p','hold':'100 ms'}]},"
    "'pass':{'rounds':1,'then':'back','then fade':'100 ms','items':[{'preset':'q','hold':'300 ms','fade':'100 ms'}]},"
    "'t only':{'items':[{'preset':'other','hold':'10 s'}]},'s only':{'items':[{'preset':'q','hold':'10 "
    "s'},{'preset':'p','hold':'10 s'}]}}";

/* Every item begins at its own time, to the millisecond, at any frame rate. */
START_TEST(nested_and_timed_at_their_times) {
    static const unsigned rates[] = {7, 50, 333};
    for (int i = 0; i < 3; i++) {
        open_show(nested_lists);
        (void)stage_frame(&stage, 0);
        stage_do(&stage, "{'play':'out'}");
        stage_run(&stage, 0, 4000000, rates[i]);
        ck_assert_str_eq(
            stage.happened,
            "0:item-0 0:item-0 0:preset-p 200:item-1 200:preset-q 500:item-0 500:preset-p 700:item-1 700:preset-q "
            "1000:item-1 1400:item-2 1400:item-0 1400:preset-p 1600:item-1 1600:preset-q 1900:item-0 1900:preset-p "
            "2100:item-3 2100:preset-p 2200:stop 2200:preset-r ");
        stage_close(&stage);
        open_show(nested_lists);
        (void)stage_frame(&stage, 0);
        stage_do(&stage, "{'play':'timed'}");
        stage_run(&stage, 0, 8000000, rates[i]);
        ck_assert_str_eq(stage.happened, "0:item-0 0:preset-p 1300:item-1 1300:preset-q 2700:item-2 2700:preset-r 3200:item-0 "
                                         "3200:preset-p 4500:item-1 4500:preset-q 5900:item-2 5900:preset-r 6400:stop ");
        ck_assert(!on(0).on); /* then dark */
        ck_assert_uint_eq(stage_sum(&stage, 0, 0) + stage_sum(&stage, 0, 1) + stage_sum(&stage, 0, 2), 0);
        stage_close(&stage);
    }
}
END_TEST

START_TEST(gaps_are_dark_and_what_follows_is_lit) {
    open_show(nested_lists);
    stage_do(&stage, "{'play':'out'}");
    run_ms(1360);
    ck_assert_uint_eq(stage_sum(&stage, 0, 0) + stage_sum(&stage, 0, 1) + stage_sum(&stage, 0, 2), 0);
    ck_assert_uint_gt(stage_sum(&stage, 1, 0) + stage_sum(&stage, 1, 1) + stage_sum(&stage, 1, 2), 0); /* not its segment */
    run_ms(200);
    ck_assert_uint_eq(stage_sum(&stage, 0, 1), 30 * 255);
    ck_assert(on(0).on);
}
END_TEST

START_TEST(back_to_what_was_before) {
    open_show(nested_lists);
    stage_do(&stage, "{'look':'comet','segment':'s','over':'0 s'}");
    stage_do(&stage, "{'brightness':'40 %','segment':'s','over':'0 s'}");
    run_ms(1500);
    struct glanz_showing before = on(0);
    stage_do(&stage, "{'play':'pass'}");
    run_ms(200);
    ck_assert_str_eq(look_on(0), "blue");
    run_ms(1000);
    struct glanz_showing after = on(0);
    ck_assert(same(&before, &after));
}
END_TEST

START_TEST(several_at_once) {
    uint8_t item = 9;
    open_show(nested_lists);
    struct glanz_control *control = glanz_device_control(stage.device);
    stage_do(&stage, "{'play':'t only'}");
    stage_do(&stage, "{'play':'s only'}");
    run_ms(100);
    ck_assert_uint_ne(glanz_control_playing(control, 0, &item), GLANZ_ALL);
    ck_assert_uint_ne(glanz_control_playing(control, 1, &item), GLANZ_ALL);
    ck_assert_uint_eq(glanz_control_playing(control, 2, &item), GLANZ_ALL);
    ck_assert_str_eq(look_on(0), "blue");
    ck_assert_str_eq(look_on(1), "motley");
    stage_do(&stage, "{'play':'in'}"); /* takes its segment from one of them */
    run_ms(100);
    ck_assert_uint_eq(glanz_control_playing(control, 2, &item), GLANZ_ALL);
    ck_assert_str_eq(look_on(0), "green");
    ck_assert_str_eq(look_on(1), "motley");
}
END_TEST

START_TEST(pause_skip_and_jump) {
    open_show(",'playlists':{'l':{'items':[{'preset':'p','hold':'1 s'},{'preset':'q','hold':'1 s'},{'preset':'r','hold':'1 s'},"
              "{'preset':'other','hold':'1 s'}]}}");
    (void)stage_frame(&stage, 0);
    stage_do(&stage, "{'play':'l'}");
    run_ms(600);
    stage_do(&stage, "{'pause':'l'}");
    run_ms(2000);
    stage_do(&stage, "{'pause':'l','on':false}"); /* what was left of the item is still to come */
    run_ms(1000);
    ck_assert_str_eq(stage.happened, "0:item-0 0:preset-p 3000:item-1 3000:preset-q ");
    stage.happened[0] = '\0';
    stage_do(&stage, "{'jump':'l','item':4}");
    run_ms(100);
    stage_do(&stage, "{'next':'l'}");
    run_ms(100);
    stage_do(&stage, "{'previous':'l'}");
    run_ms(100);
    ck_assert_str_eq(stage.happened, "3580:item-3 3580:preset-other 3680:item-0 3680:preset-p 3780:item-3 3780:preset-other ");
    uint32_t seen = 0;
    for (int i = 0; i < 60; i++) {
        uint8_t before = 9;
        uint8_t after = 9;
        (void)glanz_control_playing(glanz_device_control(stage.device), 0, &before);
        stage_do(&stage, "{'random':'l'}");
        (void)glanz_control_playing(glanz_device_control(stage.device), 0, &after);
        ck_assert_uint_ne(before, after);
        seen |= 1u << after;
        run_ms(20);
    }
    ck_assert_uint_eq(seen, 15);
}
END_TEST

/* ---- sleep ---- */

START_TEST(sleep_dims_evenly_and_any_action_wakes) {
    open_show("");
    run_ms(1500);
    uint16_t full = glanz_engine_lightness(glanz_device_engine(stage.device));
    stage_do(&stage, "{'sleep':'10 s'}");
    int last = full;
    for (int i = 1; i <= 100; i++) { /* even to the eye: lightness falls along a line */
        run_ms(100);
        int lightness = glanz_engine_lightness(glanz_device_engine(stage.device));
        ck_assert_int_le(abs(lightness - full * (100 - i) / 100), full / 100 + 1);
        ck_assert_int_le(lightness, last);
        last = lightness;
    }
    run_ms(100);
    ck_assert_uint_eq(glanz_control_asleep(glanz_device_control(stage.device)), 2);
    ck_assert_uint_eq(stage_sum(&stage, 0, 0), 0);
    stage_do(&stage, "{'look':'green','segment':'s'}");
    run_ms(1500);
    ck_assert_uint_eq(glanz_control_asleep(glanz_device_control(stage.device)), 0);
    ck_assert_uint_eq(glanz_engine_lightness(glanz_device_engine(stage.device)), full);
    stage_do(&stage, "{'sleep':'1 s'}");
    run_ms(1500);
    ck_assert_uint_eq(glanz_control_asleep(glanz_device_control(stage.device)), 2);
    glanz_control_touch(glanz_device_control(stage.device), 1,
                        glanz_device_clock(stage.device)); /* a program's own change does, too */
    run_ms(1500);
    ck_assert_uint_eq(glanz_control_asleep(glanz_device_control(stage.device)), 0);
    ck_assert_uint_eq(glanz_engine_lightness(glanz_device_engine(stage.device)), full);
}
END_TEST

/* ---- power ---- */

/* What was set by hand, and the place in a playlist, are there again after the power went, whenever that is. */
START_TEST(it_goes_on_after_the_power_went) {
    open_show(",'resume':true,'start':{'recall':'q'},'playlists':{'l':{'shuffled':true,'rounds':9,'items':[{'preset':'p','hold'"
              ":'2 s'},{'preset':'q','hold':'2 "
              "s'},{'preset':'r','hold':'2 s'}]},'o':{'items':[{'playlist':'l'}]}}");
    run_ms(500);
    ck_assert_str_eq(look_on(0), "blue");
    run_ms(11000); /* old enough; and records are kept at least ten seconds apart */
    stage_do(&stage, "{'look':'comet','segment':'t'}");
    stage_do(&stage, "{'brightness':'45 %','segment':'t','over':'0 s'}");
    stage_do(&stage, "{'take over':'t','aspects':['brightness']}");
    stage_do(&stage, "{'play':'o'}");
    run_ms(2900); /* a turned knob settles for two seconds before it is kept */
    struct glanz_showing before[2] = {on(0), on(1)};
    uint64_t left = now;
    restart();
    run_ms(100);
    struct glanz_showing after[2] = {on(0), on(1)};
    ck_assert(same(&before[1], &after[1]));
    ck_assert_uint_eq(glanz_control_taken(glanz_device_control(stage.device), 1), GLANZ_ASPECT_BRIGHTNESS);
    ck_assert_uint_eq(glanz_control_playing(glanz_device_control(stage.device), 0, NULL), 1);
    (void)left;
    uint8_t order[12];
    uint8_t again[12];
    run_ms(9000); /* it goes on in its order: the items after the one that was kept */
    unsigned count = items_seen(order, 12);
    ck_assert_uint_ge(count, 4);
    stage_close(&stage);
    open_show(",'playlists':{'l':{'shuffled':true,'rounds':9,'items':[{'preset':'p','hold':'2 s'},{'preset':'q','hold':'2 "
              "s'},{'preset':'r','hold':'2 s'}]},'o':{'items':[{'playlist':'l'}]}}");
    stage_do(&stage, "{'play':'l'}");
    run_ms(12000);
    unsigned whole = items_seen(again, 12);
    unsigned from = 0; /* what was seen after the power went is a stretch of the same order */
    while (from + 3 <= whole && memcmp(again + from, order, 3) != 0) {
        from++;
    }
    ck_assert_uint_le(from + 3, whole);
    ck_assert(before[0].effect == after[0].effect);
}
END_TEST

/* The item of the outer playlist that plays. */
static uint8_t playing(void) {
    uint8_t item = 255;
    ck_assert_uint_eq(glanz_control_playing(glanz_device_control(stage.device), 0, &item), 0);
    return item;
}

/* A playlist of long items, of short ones within another, in a gap: whenever the power goes, after it it is within five seconds
 * of where it was, and lit where that is. When the next item comes tells where that was. */
START_TEST(playlists_come_back_within_five_seconds) {
    static const uint32_t ends[] = {41000, 131000, 151000, 184000};
    uint32_t most = 0;
    for (uint32_t cut = 11; cut < 183; cut += 6) {
        open_show(",'resume':true,'start':{'play':'outer'},'playlists':{'outer':{'items':[{'playlist':'short','hold':'41 s'},"
                  "{'preset':'p','hold':'90 s'},{'dark':true,'hold':'20 s'},{'playlist':'short','hold':'33 s'}]},"
                  "'short':{'items':[{'preset':'q','hold':'700 ms'},{'dark':true,'hold':'400 ms'},{'preset':'r','hold':'900 "
                  "ms'}]}}");
        run_ms(cut * 1000u);
        restart();
        run_ms(20);
        uint8_t item = playing();
        ck_assert(item == 2 ? !on(0).on : item != 1 || on(0).on);
        while (playing() == item) {
            run_ms(20);
        }
        run_ms(20);
        ck_assert(playing() == 2 ? !on(0).on : on(0).on); /* a gap ends, whenever it began */
        uint32_t lost = cut * 1000u - (ends[item] - (uint32_t)(now / 1000) + 40u);
        ck_assert_uint_le(lost + 40u, 5200u); /* two frames, this way or that */
        most = lost < 9000 && lost > most ? lost : most;
        stage_close(&stage);
    }
    ck_assert_uint_gt(most, 2000); /* some did cost something */
    open_show(",'resume':true,'start':{'recall':'q'},'playlists':{'l':{'rounds':2,'then':'back','items':[{'preset':'p','hold':"
              "'9 s'},{'preset':'r','hold':'9 s'}]}}");
    run_ms(500);
    stage_do(&stage, "{'play':'l'}");
    run_ms(21000); /* the newest record is of four seconds ago */
    restart();
    run_ms(1500);
    ck_assert_str_eq(look_on(0), "green");
    run_ms(9000);
    ck_assert_str_eq(look_on(0), "red");
    run_ms(10000);
    ck_assert_str_eq(look_on(0), "blue"); /* what was there before it */
    stage_close(&stage);
    open_show(",'resume':true,'start':{'play':'l'},'playlists':{'l':{'items':[{'preset':'p','hold':'9 s'},{'preset':'q','hold'"
              ":'9 s'}]}}");
    run_ms(4000);
    stage_do(&stage, "{'pause':'l'}");
    run_ms(25000);
    restart();
    run_ms(20000);
    ck_assert_str_eq(look_on(0), "green"); /* it is paused yet */
    stage_do(&stage, "{'pause':'l','on':false}");
    run_ms(4900);
    ck_assert_str_eq(look_on(0), "green");
    run_ms(200);
    ck_assert_str_eq(look_on(0), "blue");
}
END_TEST

/* Records of what was showing whose check is right and whose counts are not: refused, or taken as far as there is something. */
START_TEST(counts_of_a_record_are_not_believed) {
    open_show(",'playlists':{'l':{'items':[{'preset':'p','hold':'9 s'},{'preset':'q','hold':'9 s'}]}}");
    run_ms(100);
    struct glanz_control *control = glanz_device_control(stage.device);
    unsigned taken = 0;
    for (uint8_t format = 1; format < 4; format++) {
        for (unsigned depth = 0; depth < 256; depth++) {
            for (size_t rest = 0; rest < 40; rest++) {
                uint8_t record[64] = {'G', 'R', format, 0, 0xFF, 0xFF, 1, (uint8_t)depth};
                record[8] = rest > 2 ? 1 : 0; /* a name, and then nothing but zeros */
                record[9] = 'l';
                uint32_t crc = glanz_crc32(0, record, 8 + rest);
                for (int i = 0; i < 4; i++) {
                    record[8 + rest + (size_t)i] = (uint8_t)(crc >> (8 * i));
                }
                glanz_status status = glanz_running_unpack(control, glanz_effects, record, 12 + rest,
                                                           glanz_device_clock(stage.device), (uint32_t)(depth << 20), NULL);
                taken += status == GLANZ_OK;
                ck_assert_msg(status == GLANZ_OK || status == GLANZ_ERR_DAMAGED, "format %u, depth %u, %u bytes: %d", format,
                              depth, (unsigned)rest, status);
            }
        }
    }
    ck_assert_uint_ge(taken, 6); /* a depth of none and of one, in each format */
    run_ms(100);
}
END_TEST

/* What was saved comes by its name: at the start, at a button, else the show's preset of that name. */
START_TEST(what_was_saved_is_recalled_by_name) {
    open_show(",'start':{'recall saved':'evening'},'triggers':{'t':{'when':{'button':'k','is':'pressed'},'do':[{'recall "
              "saved':'q','over':'0 s'}]}}");
    run_ms(500);
    ck_assert_str_eq(look_on(0), "red"); /* there is none yet */
    stage_do(&stage, "{'look':'comet','segment':'s'}");
    stage_do(&stage, "{'brightness':'40 %','segment':'s'}");
    save("evening", 1, GLANZ_ASPECTS);
    stage_do(&stage, "{'look':'green','segment':'s'}");
    run_ms(11000);
    restart();
    run_ms(900);
    ck_assert_str_eq(look_on(0), "comet");
    ck_assert_uint_eq(on(0).brightness, GLANZ_LIGHTNESS(40));
    ck_assert_int_eq(glanz_device_push(stage.device, 0, 0, (uint32_t)now), GLANZ_OK);
    run_ms(100);
    ck_assert_str_eq(look_on(0), "blue"); /* none was saved as that: the show's */
    stage_do(&stage, "{'look':'dot','segment':'s'}");
    save("q", 1, GLANZ_ASPECT_LOOK);
    stage_do(&stage, "{'look':'red','segment':'s'}");
    stage_do(&stage, "{'recall saved':'q','over':'0 s','for':'1 s'}");
    ck_assert_str_eq(look_on(0), "dot");
    run_ms(1200);
    ck_assert_str_eq(look_on(0), "red");
    stage_do(&stage, "{'recall saved':'q'}");
    stage_do(&stage, "{'undo':true}");
    ck_assert_str_eq(look_on(0), "red");
    ck_assert_int_eq(glanz_device_forget(stage.device, "evening"), GLANZ_OK);
    run_ms(11000);
    restart();
    run_ms(500);
    ck_assert_str_eq(look_on(0), "red");
}
END_TEST

/* Where the calendar shows something, what a hand had shown is kept: without the time, that is what comes back. */
START_TEST(what_lies_under_the_calendar_is_resumed) {
    open_show(",'resume':true,'calendar':{'e':{'preset':'q','at':'12:00','for':'1 h'}}");
    run_ms(11000);
    stage_do(&stage, "{'look':'comet','segment':'s'}");
    run_ms(500);
    ck_assert_int_eq(glanz_device_utc(stage.device, glanz_day_of(2026, 3, 3) * GLANZ_DAY + 12 * 3600 - 5), GLANZ_OK);
    run_ms(7000);
    ck_assert_str_eq(look_on(0), "blue");
    stage_do(&stage, "{'brightness':'90 %','segment':'t'}");
    run_ms(3000);
    restart();
    run_ms(500);
    ck_assert_str_eq(look_on(0), "comet");
    ck_assert_int_eq(glanz_device_utc(stage.device, glanz_day_of(2026, 3, 3) * GLANZ_DAY + 12 * 3600 + 600), GLANZ_OK);
    run_ms(1500);
    ck_assert_str_eq(look_on(0), "blue");
    ck_assert_int_eq(glanz_device_utc(stage.device, glanz_day_of(2026, 3, 3) * GLANZ_DAY + 15 * 3600), GLANZ_OK);
    run_ms(1500);
    ck_assert_str_eq(look_on(0), "comet");
    /* another show, without what was showing: it begins with what it has */
    stage_do(&stage, "{'sleep':'1 s'}");
    run_ms(2000);
    ck_assert_uint_eq(glanz_control_asleep(glanz_device_control(stage.device)), 2);
    ck_assert_int_eq(glanz_device_utc(stage.device, glanz_day_of(2026, 3, 4) * GLANZ_DAY + 12 * 3600 - 2), GLANZ_OK);
    run_ms(4000);
    ck_assert_uint_eq(glanz_control_asleep(glanz_device_control(stage.device)), 0); /* the calendar wakes it */
    ck_assert_uint_gt(stage_sum(&stage, 0, 2), 0);
}
END_TEST

START_TEST(nothing_is_resumed_unless_the_show_says_so) {
    open_show(",'start':{'recall':'q'}");
    run_ms(12000);
    stage_do(&stage, "{'look':'comet','segment':'s'}");
    run_ms(6000);
    restart();
    run_ms(500);
    ck_assert_str_eq(look_on(0), "blue");
}
END_TEST

/* Reset again and again soon after its start: then it comes up dim and without the show, and says why; old age forgives. */
START_TEST(early_resets_end_in_a_safe_look) {
    open_show("");
    for (int i = 0; i < 3; i++) {
        ck_assert_uint_eq(glanz_device_safe(stage.device), 0);
        run_ms(3000);
        restart();
    }
    ck_assert_uint_ge(glanz_device_safe(stage.device), 3);
    ck_assert_ptr_nonnull(strstr(stage.logged, "reset again and again"));
    run_ms(3000);
    for (uint16_t led = 0; led < 30; led++) { /* lit, and dim: nothing like the red of the show */
        unsigned sum = stage_led(&stage, 0, led, 0) + stage_led(&stage, 0, led, 1) + stage_led(&stage, 0, led, 2);
        ck_assert_uint_gt(sum, 0);
        ck_assert_uint_lt(sum, 24);
    }
    ck_assert_int_eq(glanz_device_leave_safe(stage.device), GLANZ_OK);
    run_ms(3000);
    ck_assert_uint_eq(stage_led(&stage, 0, 4, 0), 255);
    ck_assert_int_eq(glanz_device_leave_safe(stage.device), GLANZ_ERR_STATE);
    run_ms(9000); /* it has run for long enough: the count begins anew */
    restart();
    ck_assert_uint_eq(glanz_device_safe(stage.device), 0);
    run_ms(2000);
    restart();
    ck_assert_uint_eq(glanz_device_safe(stage.device), 0);
}
END_TEST

/* ---- a store that fails, and one that stalls ---- */

START_TEST(a_failed_save_is_told_and_the_show_runs_on) {
    open_show(
        ",'playlists':{'l':{'items':[{'preset':'p','hold':'300 ms'},{'preset':'q','hold':'300 ms'}]}},'start':{'play':'l'}");
    run_ms(400);
    save("kept", 1, GLANZ_ASPECTS);
    stage.store_full = 1;
    ck_assert_int_eq(glanz_device_save(stage.device, "lost", 1, GLANZ_ASPECTS, 0), GLANZ_ERR_FULL);
    run_ms(1000);
    ck_assert_int_eq(glanz_device_recall(stage.device, "lost", 0, NULL), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_device_recall(stage.device, "kept", 0, NULL), GLANZ_OK);
    ck_assert_ptr_nonnull(strstr(stage.happened, "1200:preset-p"));
}
END_TEST

struct stalling { /* a flash that stops the CPU while it writes */
    struct glanz_nor nor;
    uint8_t flash[4 * 4096];
    uint32_t allowed, worst, erasures, programs, over;
};
static struct stalling stalling;

static void stalled(struct glanz_nor *nor, int erase, uint32_t at, const uint8_t *bytes, size_t count, void *user) {
    uint32_t stall = erase ? nor->medium.erase_us : nor->medium.program_us;
    (void)at;
    (void)bytes;
    (void)count;
    (void)user;
    stalling.erasures += erase != 0;
    stalling.programs += !erase;
    stalling.over += stall > stalling.allowed;
    stalling.worst = stall > stalling.worst ? stall : stalling.worst;
}

/* While everything moves, flash is written only in the time that is to spare: never inside a frame, never longer than allowed.
 * A sector is erased only where nothing moves, or when a save has waited too long: then that is counted. */
START_TEST(no_frame_waits_for_flash) {
    memset(&stalling, 0, sizeof stalling);
    memset(stalling.flash, 0xFF, sizeof stalling.flash);
    glanz_nor_begin(&stalling.nor, stalling.flash, 4096, 4, 4);
    stalling.nor.medium.program_us = 700;
    stalling.nor.medium.erase_us = 45000;
    stalling.nor.before = stalled;
    open_show(",'resume':true,'playlists':{'l':{'items':[{'preset':'both','hold':'1 s','fade':'300 "
              "ms'},{'preset':'q','hold':'1 s'}]}}");
    stage.medium = stalling.nor.medium;
    stalling.allowed = 0xFFFFFFFFu; /* the start may wait */
    restart();
    stage_do(&stage, "{'play':'l'}");
    uint32_t seed = 77;
    for (uint64_t frame = 0; frame < 60u * 100u; frame++) { /* a minute, with a save begun whenever one can be */
        char name[8];
        seed = glanz_hash(seed);
        snprintf(name, sizeof name, "p%u", seed % 6u);
        stalling.allowed = 0;
        if (frame > 1200) {
            glanz_status status = glanz_device_save(stage.device, name, 3, (uint8_t)(1u + (seed >> 8) % GLANZ_ASPECTS), 1);
            ck_assert_msg(status == GLANZ_OK || status == GLANZ_ERR_BUSY, "status %d", status);
        }
        ck_assert_int_eq(stage_frame(&stage, frame * 10000u), GLANZ_OK);
        stalling.allowed = 3000;
        glanz_device_idle(stage.device, 3000);
    }
    struct glanz_counts counts = glanz_device_counts(stage.device);
    printf("%u saves beside a moving show: %u programmings, %u erasures; %u steps waited for too long and stalled\n",
           counts.saved, stalling.programs, stalling.erasures, counts.stalls);
    ck_assert_uint_gt(counts.saved, 40);
    ck_assert_uint_gt(stalling.programs, 200);
    ck_assert_uint_eq(stalling.over, counts.stalls); /* every stall is one that was counted */
    ck_assert_uint_le(counts.stalls, stalling.erasures);
    /* the same flash, and nothing moves: nothing stalls at all, for a second is to spare */
    stage_do(&stage, "{'stop':'l'}");
    stage_do(&stage, "{'look':'red','segment':'s'}");
    stage_do(&stage, "{'look':'green','segment':'t'}");
    for (uint64_t frame = 6000; frame < 9000; frame++) {
        (void)stage_frame(&stage, frame * 10000u);
        counts = frame == 6200 ? glanz_device_counts(stage.device) : counts;
        if (frame > 6200) {
            (void)(glanz_device_save(stage.device, frame % 2 == 0 ? "p0" : "p1", 3, (uint8_t)(1u + frame % 7u), 1) == GLANZ_OK);
        }
    }
    ck_assert_uint_eq(glanz_device_counts(stage.device).stalls, counts.stalls);
    ck_assert_uint_eq(stalling.nor.misuse, 0);
    /* worn out: the save that was begun is told to have failed, and what was there stays */
    static const uint8_t worn[] = {GLANZ_WORN_PROGRAM, GLANZ_WORN_PROGRAM, GLANZ_WORN_PROGRAM, GLANZ_WORN_PROGRAM};
    while (glanz_device_saving(stage.device)) {
        (void)stage_frame(&stage, 90000000u);
    }
    stalling.nor.worn = worn;
    unsigned failed = stage.failed_saves;
    char lost[] = "lost 0";
    uint64_t frame = 9001;
    for (; stage.failed_saves == failed && lost[5] < '8'; lost[5]++) { /* now and then a record has no bit that sticks */
        ck_assert_int_eq(glanz_device_save(stage.device, lost, 3, GLANZ_ASPECTS, 0), GLANZ_OK);
        for (uint64_t end = frame + 1500; frame < end; frame++) {
            (void)stage_frame(&stage, frame * 10000u);
        }
    }
    lost[5]--;
    ck_assert_uint_gt(stage.failed_saves, failed);
    ck_assert_ptr_nonnull(strstr(stage.logged, "could not be saved"));
    ck_assert_int_eq(glanz_device_recall(stage.device, lost, 0, NULL), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_device_recall(stage.device, "p0", 0, NULL), GLANZ_OK);
}
END_TEST

/* From inside a callback nothing that changes the course of things is taken. */
static void save_inside(const struct glanz_happening *happening, void *user) {
    glanz_status *statuses = (glanz_status *)user;
    if (happening->description == GLANZ_HAPPENED_ITEM) {
        statuses[0] = glanz_device_leave_safe(stage.device);
        glanz_device_idle(stage.device, 1000);
        statuses[1] = glanz_control_run(glanz_device_control(stage.device), 0, 0);
    }
}

START_TEST(misuse_of_what_keeps_and_sequences) {
    uint64_t memory[80];
    uint8_t bytes[8] = {0};
    size_t count = 0;
    uint16_t key = 0;
    uint32_t utc = 0;
    struct glanz_store *store = NULL;
    struct glanz_store_state state;
    struct glanz_medium medium = {.version = 1};
    struct glanz_nor nor;
    struct glanz_zone zone;
    struct glanz_missed missed;
    static uint8_t flash[1024];
    glanz_status inside[2] = {GLANZ_OK, GLANZ_OK};
    open_show(
        ",'playlists':{'l':{'items':[{'preset':'p','hold':'100 ms'},{'preset':'q','hold':'100 ms'}]}},'start':{'play':'l'}");
    struct glanz_control *control = glanz_device_control(stage.device);
    struct glanz_device *device = stage.device;
    /* the store */
    ck_assert(glanz_store_size(NULL, 1, 1) == 0 && glanz_store_size(&medium, 1, 1) == 0);
    ck_assert_int_eq(glanz_store_start(&store, memory, sizeof memory, &medium, 1, 1), GLANZ_ERR_ARGUMENT);
    glanz_nor_begin(&nor, flash, 512, 2, 4);
    struct glanz_medium wrong[6];
    for (int i = 0; i < 6; i++) {
        wrong[i] = nor.medium;
    }
    wrong[0].version = 2;
    wrong[1].sectors = 1;
    wrong[2].sector_bytes = 500;
    wrong[3].unit = 3;
    wrong[4].erase = NULL;
    wrong[5].unit = 64;
    for (int i = 0; i < 6; i++) {
        ck_assert_uint_eq(glanz_store_size(&wrong[i], 4, 64), 0);
        ck_assert_int_eq(glanz_store_start(&store, memory, sizeof memory, &wrong[i], 4, 64), GLANZ_ERR_ARGUMENT);
    }
    ck_assert_int_eq(glanz_store_start(NULL, memory, sizeof memory, &nor.medium, 4, 64), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_start(&store, NULL, sizeof memory, &nor.medium, 4, 64), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_start(&store, memory, 40, &nor.medium, 4, 64), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_store_start(&store, (char *)memory + 1, sizeof memory - 8, &nor.medium, 4, 64), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_start(&store, memory, sizeof memory, &nor.medium, 4, 64), GLANZ_OK);
    ck_assert_int_eq(glanz_store_load(NULL, 1, bytes, sizeof bytes, &count), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_load(store, 1, NULL, 8, &count), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_load(store, 1, bytes, 8, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_save(NULL, 1, bytes, 8), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_save(store, 1, NULL, 8), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_save(store, 1, bytes, 65), GLANZ_ERR_FULL);
    ck_assert_int_eq(glanz_store_save(store, 1, bytes, 8), GLANZ_OK);
    ck_assert_int_eq(glanz_store_save(store, 2, bytes, 8), GLANZ_ERR_BUSY);
    ck_assert_int_eq(glanz_store_work(NULL, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_finish(NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_ptr_null(glanz_store_scratch(NULL, &count));
    ck_assert(count == 0 && glanz_store_scratch(store, &count) != NULL && count == 64 &&
              glanz_store_scratch(store, NULL) != NULL);
    ck_assert_int_eq(glanz_store_key(store, 0, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_key(NULL, 0, &key), GLANZ_ERR_ARGUMENT);
    ck_assert(!glanz_store_busy(NULL) && glanz_store_busy(store) && !glanz_store_shape(NULL, bytes) &&
              !glanz_store_shape(&medium, bytes));
    glanz_store_look(NULL, &state);
    ck_assert_uint_eq(state.records, 0);
    glanz_store_look(store, NULL);
    /* control */
    glanz_control_touch(NULL, 1, 0);
    glanz_control_saved(NULL, 1);
    ck_assert(glanz_control_unsaved(NULL) == 0 && glanz_control_undoable(NULL) == 0 && glanz_control_taken(NULL, 0) == 0 &&
              glanz_control_taken(control, 99) == 0 && glanz_control_asleep(NULL) == 0 &&
              glanz_control_changes(NULL).by_hand == 0);
    ck_assert(glanz_control_utc(NULL) == 0 && glanz_control_entry(NULL, 0) == GLANZ_ALL &&
              glanz_control_entry(control, 99) == GLANZ_ALL && glanz_control_entry_due(NULL) == UINT32_MAX &&
              !glanz_control_looking(NULL));
    ck_assert_int_eq(glanz_control_clock(NULL, 5, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_control_clock(control, 0, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_running_pack(control, NULL, 8, &count), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_running_pack(control, bytes, 8, &count), GLANZ_ERR_FULL);
    ck_assert_int_eq(glanz_running_unpack(NULL, glanz_effects, bytes, 8, 0, 0, &missed), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_running_unpack(control, glanz_effects, bytes, 8, 0, 0, &missed), GLANZ_ERR_DAMAGED);
    ck_assert_int_eq(glanz_preset_rename(bytes, NULL, 8, "x"), GLANZ_ERR_ARGUMENT);
    count = sizeof bytes;
    ck_assert_int_eq(glanz_preset_rename(bytes, &count, 8, "x"), GLANZ_ERR_DAMAGED);
    ck_assert_int_eq(glanz_zone_read(NULL, "UTC0", NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_zone_read(&zone, NULL, NULL), GLANZ_OK); /* UTC */
    ck_assert_uint_eq(glanz_zone_utc(&zone, 3, 86400 + 5), 4 * 86400 + 5);
    ck_assert_int_eq(glanz_sun_crosses(&utc, 20000, 900000, 0, 0), glanz_sun_crosses(&utc, 20000, 900000, 0, 1)); /* the pole */
    struct glanz_action jump = {.kind = &glanz_action_jump, .target = 0, .number = 9, .over_ms = 0};
    struct glanz_action take = {.kind = &glanz_action_take_over, .target = 9, .number = 1, .over_ms = 0};
    ck_assert_int_ne(glanz_device_act(device, &jump), GLANZ_OK);
    ck_assert_int_ne(glanz_device_act(device, &take), GLANZ_OK);
    /* the device */
    glanz_device_idle(NULL, 1000);
    ck_assert(glanz_device_safe(NULL) == 0 && !glanz_device_saving(NULL));
    ck_assert_int_eq(glanz_device_leave_safe(NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_utc(NULL, 5), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_utc(device, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_rename(NULL, "a", "b"), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_rename(device, "a", NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_copy(device, NULL, "b"), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_move(device, "none", 0), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_device_save(device, "x", 1, 0, 0), GLANZ_ERR_ARGUMENT);
    glanz_device_listen(device, save_inside, inside);
    run_ms(400);
    ck_assert(inside[0] == GLANZ_ERR_STATE && inside[1] == GLANZ_ERR_STATE);
}
END_TEST

/* A preset saved from a show that was patched is the same under the show as it was: palette, blocks, text and marks are in its
 * record. What is equal to the show's own takes no memory; without memory, what the show has of that name is shown. */
#define BY_VALUE(colors, runs, blocks, letters, marked)                                                                        \
    "{'show':'t','brightness':'100 %','change':'0 s','colors':{'own':'" colors                                                 \
    "'},'palettes':{'p':{'stops':[{'at':'0 %','color':"                                                                        \
    "'own'},{'at':'50 %','color':'#203040'},{'at':'100 "                                                                       \
    "%','color':'#ff8000'}],'between':'even'" runs "}},'looks':{'flow':{'effect':'flow',"                                      \
    "'palette':'p','speed':'0 lengths/s'},'blocks':{'effect':'pattern','blocks':'" blocks                                      \
    "','speed':'0 leds/s'},'marks':{'effect':"                                                                                 \
    "'marked','marks':[" marked "]},'letters':{'effect':'text','text':'" letters                                               \
    "','way':'standing'}},'segments':{'a':{'surface':"                                                                         \
    "'a','first':0,'leds':40,'look':'flow'},'b':{'surface':'a','first':40,'leds':40,'look':'blocks'},'c':{'surface':'a','"     \
    "first':80,"                                                                                                               \
    "'leds':40,'look':'marks'},'d':{'surface':'g','look':'letters'}}}"
static const char value_rig[] =
    "{'rig':'t','supplies':{'s':{'volts':'5 "
    "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':120}]},'p':"
    "{'pin':2,'supply':'s','line':[{'chip':'WS2812B','leds':192}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':"
    "120}]},"
    "'g':{'grid':[{'output':'p','first':0,'columns':24,'rows':8,'first led':'top left','along':'rows','zigzag':true}]}}}";

static void look_at_all(struct glanz_light *lights) {
    struct glanz_engine *engine = glanz_device_engine(stage.device);
    ck_assert_int_eq(glanz_engine_light(engine, 0, 0, lights, 120), GLANZ_OK);
    ck_assert_int_eq(glanz_engine_light(engine, 1, 0, lights + 120, 192), GLANZ_OK);
}

START_TEST(presets_are_saved_by_value) {
    static struct glanz_light before[312];
    static struct glanz_light own[312];
    static struct glanz_light after[312];
    static const char firmware[] = BY_VALUE("#ff0000", "", "2 #00ff00, 3 #0000ff", "AB", "{'first':0,'color':'#ffffff'}");
    static const char patched[] = BY_VALUE(
        "#00ffff", ",'from':'20 %','to':'90 %','runs':'along','span':'40 %','folded':true,'reversed':true",
        "1 #ff00ff, 1 #202020, 5 #ffff00", "xyz", "{'first':3,'color':'#ff0000'},{'first':7,'leds':3,'color':'#00ff00'}");
    stage_must_open(&stage, value_rig, firmware);
    stage_run(&stage, 0, 2000000, 50);
    look_at_all(own);
    ck_assert_int_eq(stage_show(&stage, patched), GLANZ_OK);
    stage_run(&stage, 2000000, 4000000, 50);
    look_at_all(before);
    int differ[4] = {0};
    for (int i = 0; i < 312; i++) {
        differ[i < 120 ? i / 40 : 3] += memcmp(&own[i], &before[i], sizeof own[i]) != 0;
    }
    REQUIRE_MSG(differ[0] > 10 && differ[1] > 20 && differ[2] > 3 && differ[3] > 10, "%d %d %d %d", differ[0], differ[1],
                differ[2], differ[3]);
    ck_assert_int_eq(glanz_device_save(stage.device, "as patched", UINT64_MAX, GLANZ_ASPECTS, 0), GLANZ_OK);
    stage_run(&stage, 4000000, 6000000, 50);
    ck_assert_uint_eq(stage.failed_saves, 0);
    /* the power goes; what comes back is the firmware's show */
    stage_close_shows(&stage, firmware);
    ck_assert_int_eq(stage_restart(&stage), GLANZ_OK);
    stage_run(&stage, 0, 2000000, 50);
    struct glanz_missed missed;
    for (int round = 0; round < 50; round++) { /* again and again: memory that nothing shows any more is free */
        ck_assert_int_eq(glanz_device_recall(stage.device, "as patched", 0, &missed), GLANZ_OK);
        ck_assert(missed.segments == 0 && missed.looks == 0);
        stage_run(&stage, 2000000 + (uint64_t)round * 100000, 2100000 + (uint64_t)round * 100000, 50);
    }
    stage_run(&stage, 7000000, 9000000, 50);
    look_at_all(after);
    ck_assert(memcmp(before, after, sizeof before) == 0);
    /* without memory: the show's own of those names */
    stage.values_size = 0;
    ck_assert_int_eq(stage_restart(&stage), GLANZ_OK);
    stage_run(&stage, 0, 2000000, 50);
    ck_assert_int_eq(glanz_device_recall(stage.device, "as patched", 0, &missed), GLANZ_OK);
    stage_run(&stage, 2000000, 4000000, 50);
    look_at_all(after);
    ck_assert(memcmp(own, after, sizeof own) == 0);
}
END_TEST

/* Records with anything in their values are refused whole, or shown; never more. */
/* Eight segments with palettes of the library: as they were chosen they fit into a record, and a show that names none of them
 * shows the same. */
#define LIBRARY_SHOW(effect, first, second, third, fourth)                                                                     \
    "{'show':'t','brightness':'100 %','change':'0 s','looks':{"                                                                \
    "'a':{'effect':'" effect "'" first "},'b':{'effect':'" effect "'" second "},'c':{'effect':'" effect "'" third              \
    "},'d':{'effect':'" effect "'" fourth "}},'segments':{"                                                                    \
    "'1':{'surface':'a','first':0,'leds':15,'look':'a'},'2':{'surface':'a','first':15,'leds':15,'look':'b'},"                  \
    "'3':{'surface':'a','first':30,'leds':15,'look':'c'},'4':{'surface':'a','first':45,'leds':15,'look':'d'},"                 \
    "'5':{'surface':'a','first':60,'leds':15,'look':'a'},'6':{'surface':'a','first':75,'leds':15,'look':'b'},"                 \
    "'7':{'surface':'a','first':90,'leds':15,'look':'c'},'8':{'surface':'a','first':105,'leds':15,'look':'d'}}}"
#define STANDING(palette) ",'palette':'" palette "','speed':'0 lengths/s'"

START_TEST(library_palettes_are_saved_as_they_were_chosen) {
    static struct glanz_light before[120];
    static struct glanz_light after[120];
    uint8_t record[GLANZ_RECORD_MOST];
    size_t count = 0;
    static const char firmware[] = LIBRARY_SHOW("plain", "", "", "", "");
    stage_must_open(
        &stage, value_rig,
        LIBRARY_SHOW("flow", STANDING("full circle"), STANDING("low tide"), STANDING("ice floe"), STANDING("oil film")));
    stage_run(&stage, 0, 2000000, 50);
    ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, before, 120), GLANZ_OK);
    ck_assert_int_eq(glanz_device_save(stage.device, "all", UINT64_MAX, GLANZ_ASPECTS, 0), GLANZ_OK);
    stage_run(&stage, 2000000, 4000000, 50);
    ck_assert_uint_eq(stage.failed_saves, 0);
    ck_assert_int_eq(glanz_store_load(stage.store, 0x100, record, sizeof record, &count), GLANZ_OK);
    REQUIRE_MSG(count > 300 && count < 800, "%zu bytes", count);
    stage_close_shows(&stage, firmware);
    ck_assert_int_eq(stage_restart(&stage), GLANZ_OK);
    stage_run(&stage, 0, 2000000, 50);
    struct glanz_missed missed;
    ck_assert_int_eq(glanz_device_recall(stage.device, "all", 0, &missed), GLANZ_OK);
    ck_assert(missed.segments == 0);
    stage_run(&stage, 2000000, 4000000, 50);
    ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, after, 120), GLANZ_OK);
    for (int i = 0; i < 120; i++) {
        REQUIRE_MSG(memcmp(&before[i], &after[i], sizeof before[i]) == 0, "LED %d", i);
    }
}
END_TEST

START_TEST(spoiled_values_are_refused) {
    stage_must_open(&stage, value_rig, BY_VALUE("#ff0000", "", "2 #00ff00, 3 #0000ff", "AB", "{'first':0,'color':'#ffffff'}"));
    stage_run(&stage, 0, 2000000, 50);
    uint8_t record[GLANZ_RECORD_MOST];
    size_t count = 0;
    ck_assert_int_eq(
        glanz_preset_pack(glanz_device_control(stage.device), "x", UINT64_MAX, GLANZ_ASPECTS, record, sizeof record, &count),
        GLANZ_OK);
    unsigned refused = 0;
    for (size_t i = 4; i + 4 < count; i++) {
        for (int value = 0; value < 256; value += 51) {
            uint8_t copy[GLANZ_RECORD_MOST];
            struct glanz_change change = {glanz_device_now(stage.device), 0, 0};
            memcpy(copy, record, count);
            copy[i] = (uint8_t)value;
            uint32_t crc = glanz_crc32(0, copy, count - 4);
            for (int k = 0; k < 4; k++) {
                copy[count - 4u + (size_t)k] = (uint8_t)(crc >> 8 * k);
            }
            glanz_status status =
                glanz_preset_unpack(glanz_device_control(stage.device), glanz_effects, copy, count, change, NULL);
            ck_assert(status == GLANZ_OK || status == GLANZ_ERR_DAMAGED);
            refused += status == GLANZ_ERR_DAMAGED;
            if (status == GLANZ_OK) {
                stage.now_us += 20000;
                stage_frame(&stage, stage.now_us);
            }
        }
    }
    ck_assert_uint_gt(refused, 100);
}
END_TEST

Suite *sequence_suite(void) {
    Suite *suite = suite_create("sequence");
    TCase *presets = tcase_create("presets");
    tcase_add_checked_fixture(presets, NULL, teardown);
    tcase_set_timeout(presets, 120);
    tcase_add_test(presets, a_part_leaves_the_rest_running);
    tcase_add_test(presets, a_palette_alone);
    tcase_add_test(presets, the_standard_palette_alone);
    tcase_add_test(presets, colours_alone);
    tcase_add_test(presets, presets_are_saved_by_value);
    tcase_add_test(presets, library_palettes_are_saved_as_they_were_chosen);
    tcase_add_test(presets, spoiled_values_are_refused);
    tcase_add_loop_test(presets, undo_takes_back_what_was_done, 0, 3);
    tcase_add_test(presets, what_is_unsaved_is_known);
    tcase_add_test(presets, names_and_their_order);
    tcase_add_test(presets, older_and_newer_presets);
    tcase_add_test(presets, a_smaller_show_takes_what_fits);
    suite_add_tcase(suite, presets);
    TCase *playlists = tcase_create("playlists");
    tcase_add_checked_fixture(playlists, NULL, teardown);
    tcase_set_timeout(playlists, 120);
    tcase_add_test(playlists, an_aspect_is_taken_over_and_handed_back);
    tcase_add_test(playlists, a_palette_is_taken_over);
    tcase_add_test(playlists, undo_of_playlists_and_programs);
    tcase_add_test(playlists, one_playlist_too_many);
    tcase_add_loop_test(playlists, shuffled_once_a_round, 0, 7);
    tcase_add_test(playlists, nested_and_timed_at_their_times);
    tcase_add_test(playlists, gaps_are_dark_and_what_follows_is_lit);
    tcase_add_test(playlists, back_to_what_was_before);
    tcase_add_test(playlists, several_at_once);
    tcase_add_test(playlists, pause_skip_and_jump);
    tcase_add_test(playlists, sleep_dims_evenly_and_any_action_wakes);
    suite_add_tcase(suite, playlists);
    TCase *power = tcase_create("power");
    tcase_add_checked_fixture(power, NULL, teardown);
    tcase_set_timeout(power, 120);
    tcase_add_test(power, it_goes_on_after_the_power_went);
    tcase_add_test(power, playlists_come_back_within_five_seconds);
    tcase_add_test(power, what_was_saved_is_recalled_by_name);
    tcase_add_test(power, counts_of_a_record_are_not_believed);
    tcase_add_test(power, what_lies_under_the_calendar_is_resumed);
    tcase_add_test(power, nothing_is_resumed_unless_the_show_says_so);
    tcase_add_test(power, early_resets_end_in_a_safe_look);
    tcase_add_test(power, a_failed_save_is_told_and_the_show_runs_on);
    tcase_add_test(power, no_frame_waits_for_flash);
    tcase_add_test(power, misuse_of_what_keeps_and_sequences);
    suite_add_tcase(suite, power);
    return suite;
}
