/* SPDX-License-Identifier: MIT */
/* Running: fades and glides that never jump, buttons, playlists, presets, stillness, ports that fail, clocks that go wrong,
 * rigs on trial, misuse of every public function. */
#include <check.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "stage.h"
#include "suites.h"

static struct stage stage;

static void teardown(void) {
    stage_close(&stage);
}

#define LOOKS                                                                                                                  \
    "'looks':{'red':{'effect':'plain','color':'#ff0000'},'green':{'effect':'plain','color':'#00ff00'},'flow':{'effect':'flow'" \
    ",'palette':"                                                                                                              \
    "'ice floe'},'comet':{'effect':'comet'},'motley':{'effect':'motley','palette':'net "                                       \
    "floats'},'fill':{'effect':'filling','way':'once'}}"

static const char show_all[] =
    "{'show':'t','brightness':'100 %','change':'300 ms'," LOOKS ",'segments':{'s':{'surface':'a','look':'red'}},"
    "'presets':{'p':{'s':'green'},'q':{'s':'flow'},'r':{'s':'red'},'dim':{'s':{'brightness':'30 "
    "%'}},'off':{'s':{'on':false}},'on':{'s':{'look':'comet','on':true,'brightness':'100 %'}}},"
    "'playlists':{'l':{'items':[{'preset':'p','hold':'1 s','fade':'200 ms'},{'preset':'q','hold':'500 "
    "ms'},{'preset':'r','hold':'300 ms','fade':'1 s'}]},"
    "'two':{'items':[{'preset':'p','hold':'1 s'},{'preset':'r','hold':'1 s'}],'rounds':2}},"
    "'triggers':{'a':{'when':{'button':'k','is':'pressed'},'do':[{'recall':'p'}]},'b':{'when':{'button':'k','is':'pressed "
    "twice'},'do':[{'play':'l'}]},"
    "'c':{'when':{'button':'k','is':'held'},'do':[{'brightness':'40 %','over':'1 "
    "s'},{'stop':'l'}]},'d':{'when':{'button':'k','is':'released'},'do':[{'switch':'s','on':'other'}]},"
    "'e':{'when':{'button':'k','is':'pressed once'},'do':[{'next':'l'},{'look':'motley','segment':'s','over':'2 s'}]}}}";

/* Whatever is asked for in whatever moment, no LED's light jumps: changes of at least 0.3 s at 100 frames a second move a
 * channel by at most some 1/25 of full a frame, where the looks themselves stand still. */
/* A program that was compiled with other options than the library is told so, and nothing starts. */
START_TEST(another_layout_is_refused) {
    struct glanz_setup setup;
    struct glanz_device *device = NULL;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    static uint64_t memory[64];
    memset(&setup, 0, sizeof setup);
    ck_assert_int_eq(glanz_device_start_as(&device, memory, sizeof memory, NULL, &fault, (uint32_t)GLANZ_LAYOUT + 1u),
                     GLANZ_ERR_ARGUMENT);
    setup.parts = &glanz_everything;
    ck_assert_int_eq(glanz_device_start_as(&device, memory, sizeof memory, &setup, &fault, (uint32_t)GLANZ_LAYOUT + 1u),
                     GLANZ_ERR_ARGUMENT);
    ck_assert_ptr_nonnull(strstr(fault.text, "compiled with other options"));
    ck_assert_ptr_null(device);
}
END_TEST

START_TEST(nothing_ever_jumps) {
    stage_must_open(
        &stage, strip_rig(20),
        "{'show':'t','brightness':'100 %','change':'300 "
        "ms','looks':{'a':{'effect':'plain','color':'#ff0000'},'b':{'effect':'swell','color':'#00ff00','speed':'0 leds/s'},"
        "'c':{'effect':'pattern','blocks':'2 #0000ff, 3 "
        "#ffffff'},'d':{'effect':'plain','color':'#ffffff'},'e':{'effect':'walker','size':'6 leds','speed':'0 leds/s'}},"
        "'segments':{'s':{'surface':'a','look':'a'}}}");
    stage_run(&stage, 0, 2000000, 100);
    struct glanz_engine *engine = glanz_device_engine(stage.device);
    uint32_t random = 7 + (uint32_t)_i;
    int most = 0;
    int changes = 0;
    int fading = 0;
    for (uint64_t frame = 200; frame < 6000; frame++) {
        uint8_t before[60];
        memcpy(before, stage.bytes[0], 60);
        random = glanz_hash(random);
        struct glanz_change change = {glanz_device_clock(stage.device), 300 + random % 900, 0};
        if (random % 13 == 0) {
            random = glanz_hash(random);
            ck_assert_int_eq(glanz_engine_look(engine, 0, random % 6 == 5 ? NULL : &stage.show->looks[random % 6], change),
                             GLANZ_OK);
            changes++;
        } else if (random % 31 == 0) {
            ck_assert_int_eq(glanz_engine_switch(engine, 0, (random >> 8) & 1, change), GLANZ_OK);
        } else if (random % 37 == 0) {
            struct glanz_setting setting = {0, GLANZ_UNIT_NONE, (int32_t)(random >> 8)};
            struct glanz_showing wanted;
            ck_assert_int_eq(glanz_engine_showing(engine, 0, &wanted), GLANZ_OK);
            if (wanted.effect != NULL && wanted.effect->params[0].kind == GLANZ_PARAM_COLOR) {
                ck_assert_int_eq(glanz_engine_set(engine, 0, setting, change), GLANZ_OK);
            }
        }
        stage_frame(&stage, frame * 10000u);
        struct glanz_showing showing;
        ck_assert_int_eq(glanz_engine_showing(engine, 0, &showing), GLANZ_OK);
        fading = showing.fading > fading ? showing.fading : fading;
        ck_assert_int_le(showing.fading, GLANZ_FADES);
        for (int i = 0; i < 60; i++) {
            int jump = abs(stage.bytes[0][i] - before[i]);
            most = jump > most ? jump : most;
            /* 10 ms of 300 ms is 8.5 in a crossfade, and, since lightness is steepest at full light, 22 of the switch and to
             * dark; the weakest look goes within 100 ms, from half the light at the most: 12.8; a colour glides by 8.5. A jump
             * would be some hundred. */
            REQUIRE_MSG(jump <= 56, "frame %u: byte %d jumps by %d", (unsigned)frame, i, jump);
        }
    }
    ck_assert_int_gt(changes, 300);
    ck_assert_int_eq(fading, GLANZ_FADES);
    ck_assert_int_gt(most, 5);
}
END_TEST

START_TEST(glide_keeps_the_phase) {
    /* the same effect at another speed goes on from where it is */
    stage_must_open(&stage, strip_rig(100),
                    "{'show':'t','brightness':'100 %','looks':{'slow':{'effect':'walker','speed':'3 leds/s','size':'2 "
                    "leds','color':'#ff0000'},'fast':{'effect':'walker','speed':'9 leds/s','size':'2 leds','color':'#ff0000'}},"
                    "'segments':{'s':{'surface':'a','look':'slow'}}}");
    double last = -1;
    for (uint64_t frame = 0; frame < 900; frame++) {
        if (frame == 400) {
            struct glanz_change change = {glanz_device_clock(stage.device), 500, 0};
            ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 0, &stage.show->looks[1], change), GLANZ_OK);
        }
        stage_frame(&stage, frame * 10000u);
        double sum = 0;
        double moment = 0;
        for (uint16_t i = 0; i < 100; i++) {
            sum += stage_led(&stage, 0, i, 0);
            moment += stage_led(&stage, 0, i, 0) * (i + 0.5);
        }
        if (frame > 120 && sum > 0) { /* 0.03 to 0.09 LEDs a frame, and what dither adds */
            double step = moment / sum - last;
            ck_assert_msg(last < 0 || (step > -0.02 && step < 0.15), "frame %u: steps %f", (unsigned)frame, step);
            last = moment / sum;
        }
    }
    ck_assert(last > 30);
}
END_TEST

/* Edges at chosen times, frames at some other; what happens is told with its own time. */
static void press(uint64_t at_ms, uint64_t for_ms) {
    static const int bounce[] = {0, 3, 5, 6, 8};
    for (int end = 0; end < 2; end++) {
        for (int i = 0; i < 5; i++) {
            uint64_t at = (at_ms + (end ? for_ms : 0) + (uint64_t)bounce[i]) * 1000u;
            stage_frame(&stage, at); /* edges come in order, frames may lie between them */
            glanz_device_push(stage.device, 0, (uint16_t)((i % 2 == 0) == (end == 1)), (uint32_t)at);
        }
    }
}

START_TEST(button_says_what_was_done) {
    stage_must_open(&stage, strip_rig(10), show_all);
    stage_frame(&stage, 0);
    press(1000, 80);
    stage_run(&stage, 1100000, 2000000, 50);
    press(2000, 60);
    press(2200, 60);
    stage_run(&stage, 2300000, 4000000, 50);
    press(4000, 900);
    stage_run(&stage, 4920000, 6000000, 50);
    ck_assert_str_eq(stage.happened, "1000:pressed 1000:trigger-a 1000:preset-p 1080:released 1080:trigger-d 1350:once "
                                     "1350:trigger-e 1350:item-0 1350:preset-p "
                                     "2000:pressed 2000:trigger-a 2000:preset-p 2060:released 2060:trigger-d 2200:pressed "
                                     "2200:trigger-a 2200:preset-p 2200:twice 2200:trigger-b "
                                     "2200:item-0 2200:preset-p 2260:released 2260:trigger-d 3400:item-1 3400:preset-q "
                                     "3900:item-2 3900:preset-r 4000:pressed 4000:trigger-a 4000:preset-p "
                                     "4700:held 4700:trigger-c 4700:stop 4900:released 4900:trigger-d ");
}
END_TEST

START_TEST(playlist_keeps_its_times) {
    stage_must_open(&stage, strip_rig(10), show_all);
    struct glanz_action play = {.kind = &glanz_action_play, .target = 1, .over_ms = GLANZ_OWN_TIME};
    stage_frame(&stage, 0);
    ck_assert_int_eq(glanz_device_act(stage.device, &play), GLANZ_OK);
    stage_run(&stage, 0, 6000000, 7); /* frames of 143 ms; the times are exact all the same */
    ck_assert_str_eq(
        stage.happened,
        "0:item-0 0:preset-p 1000:item-1 1000:preset-r 2000:item-0 2000:preset-p 3000:item-1 3000:preset-r 4000:stop ");
    ck_assert_uint_eq(glanz_control_playing(glanz_device_control(stage.device), 0, NULL), GLANZ_ALL);
    stage.happened[0] = '\0';
    play.target = 0;
    ck_assert_int_eq(glanz_device_act(stage.device, &play), GLANZ_OK);
    uint64_t start = glanz_device_clock(stage.device);
    stage_frame(&stage, start + 3u * 400 * 1000000u + 500000u); /* twenty minutes and a half second: 400 rounds of 3 s */
    stage_frame(&stage, start + 3u * 400 * 1000000u + 500001u);
    uint8_t item = 9;
    ck_assert_uint_eq(glanz_control_playing(glanz_device_control(stage.device), 0, &item), 0);
    ck_assert_uint_eq(item, 0);
    ck_assert(strlen(stage.happened) < 300);
    struct glanz_action next = {.kind = &glanz_action_next, .target = 0, .over_ms = 0};
    struct glanz_action previous = {.kind = &glanz_action_previous, .target = 0, .over_ms = 0};
    ck_assert_int_eq(glanz_device_act(stage.device, &previous), GLANZ_OK);
    glanz_control_playing(glanz_device_control(stage.device), 0, &item);
    ck_assert_uint_eq(item, 2);
    ck_assert_int_eq(glanz_device_act(stage.device, &next), GLANZ_OK);
    glanz_control_playing(glanz_device_control(stage.device), 0, &item);
    ck_assert_uint_eq(item, 0);
    next.target = 9;
    ck_assert_int_eq(glanz_device_act(stage.device, &next), GLANZ_ERR_ABSENT);
}
END_TEST

START_TEST(values_trigger_at_their_level) {
    char rig[700];
    snprintf(rig, sizeof rig, "%.*s,'inputs':{'v':{'value':{'pin':3}}}}",
             (int)(strstr(strip_rig(10), ",'inputs'") - strip_rig(10)), strip_rig(10));
    stage_must_open(&stage, rig,
                    "{'show':'t'," LOOKS ",'segments':{'s':{'surface':'a','look':'red'}},'triggers':{'up':{'when':{'value':'"
                    "v','rises above':'50 %'},'do':[{'look':'green','segment':'s'}]},"
                    "'down':{'when':{'value':'v','falls below':'20 %'},'do':[{'look':'red','segment':'s'}]}}}");
    static const uint16_t values[] = {1000, 32767, 32768, 60000, 20000, 40000, 12000};
    for (uint32_t i = 0; i < 7; i++) {
        glanz_device_push(stage.device, 0, values[i], i * 100000u);
        stage_frame(&stage, i * 100000u + 70000u * (i > 0));
    }
    ck_assert_str_eq(stage.happened, "300:rises 300:trigger-up 500:rises 500:trigger-up 600:falls 600:trigger-down ");
}
END_TEST

START_TEST(full_inbox_keeps_the_last_edge) {
    stage_must_open(&stage, strip_rig(10), show_all);
    stage_frame(&stage, 0);
    glanz_status status = GLANZ_OK;
    for (uint32_t i = 0; i < 2 * GLANZ_INBOX + 1; i++) {
        status = glanz_device_push(stage.device, 0, (uint16_t)(i & 1), 1000 + i * 10);
    }
    ck_assert_int_eq(status, GLANZ_ERR_FULL);
    stage_frame(&stage, 100000);
    stage_frame(&stage, 200000);
    ck_assert(strstr(stage.happened, "lost") != NULL);
    ck_assert(strstr(stage.happened, "pressed") != NULL); /* the line is low in the end: pressed */
    ck_assert(strstr(stage.happened, "released") == NULL);
}
END_TEST

START_TEST(presets_are_saved_and_come_back) {
    stage_must_open(&stage, strip_rig(10), show_all);
    stage_run(&stage, 0, 2000000, 100);
    struct glanz_change at_once = {glanz_device_clock(stage.device), 0, 0};
    struct glanz_setting setting = {GLANZ_PLAIN_COLOR, 0, (int32_t)GLANZ_RGB(0, 0, 255)};
    ck_assert_int_eq(glanz_engine_set(glanz_device_engine(stage.device), 0, setting, at_once), GLANZ_OK);
    ck_assert_int_eq(glanz_device_save(stage.device, "blue hour", UINT64_MAX, GLANZ_ASPECTS, 0), GLANZ_OK);
    ck_assert_int_eq(glanz_device_save(stage.device, "blue hour", UINT64_MAX, GLANZ_ASPECTS, 0),
                     GLANZ_ERR_STATE); /* not unasked */
    ck_assert_int_eq(glanz_device_save(stage.device, "blue hour", UINT64_MAX, GLANZ_ASPECTS, 1), GLANZ_OK);
    ck_assert_int_eq(glanz_device_recall(stage.device, "q", 0, NULL), GLANZ_OK);
    stage_run(&stage, 2000000, 2500000, 100);
    struct glanz_missed missed;
    char own[GLANZ_NAME_MOST + 1];
    ck_assert_int_eq(glanz_device_recall(stage.device, "blue hour", 0, &missed), GLANZ_OK);
    ck_assert_uint_eq(missed.segments + missed.looks, 0);
    stage_run(&stage, 2500000, 3000000, 100);
    ck_assert_uint_eq(stage_led(&stage, 0, 4, 2), 255);
    ck_assert_uint_eq(stage_led(&stage, 0, 4, 0), 0);
    ck_assert_int_eq(glanz_device_saved(stage.device, 0, own), GLANZ_OK);
    ck_assert_str_eq(own, "blue hour");
    ck_assert_int_eq(glanz_device_saved(stage.device, 1, own), GLANZ_ERR_ABSENT);
    /* power off and on: another device with the same store */
    struct glanz_setup setup = {.rig = stage.rig,
                                .show = stage.show,
                                .port = &stage.port,
                                .parts = &glanz_everything,
                                .segment_capacity = 16,
                                .effects = glanz_effects,
                                .store = stage.store};
    ck_assert_int_eq(glanz_device_start(&stage.device, stage.memory, stage.memory_size, &setup, NULL), GLANZ_OK);
    ck_assert_int_eq(glanz_device_saved(stage.device, 0, own), GLANZ_OK);
    ck_assert_int_eq(glanz_device_recall(stage.device, "blue hour", 0, NULL), GLANZ_OK);
    stage_run(&stage, 0, 2000000, 100);
    ck_assert_uint_eq(stage_led(&stage, 0, 4, 2), 255);
    /* a damaged record is left out, and said; a full store refuses and keeps what was */
    stage.record[0][20] ^= 1;
    ck_assert_int_eq(glanz_device_recall(stage.device, "blue hour", 0, NULL), GLANZ_ERR_DAMAGED);
    ck_assert_int_eq(glanz_device_start(&stage.device, stage.memory, stage.memory_size, &setup, NULL), GLANZ_OK);
    ck_assert(strstr(stage.logged, "damaged") != NULL);
    stage.store_full = 1;
    ck_assert_int_eq(glanz_device_save(stage.device, "other", UINT64_MAX, GLANZ_ASPECTS, 0), GLANZ_ERR_FULL);
    ck_assert_int_eq(glanz_device_saved(stage.device, 0, own), GLANZ_ERR_ABSENT);
    stage.store_full = 0;
    ck_assert_int_eq(glanz_device_save(stage.device, "", 1, GLANZ_ASPECTS, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_save(stage.device, "a\nb", 1, GLANZ_ASPECTS, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_save(stage.device, "a name that is longer than thirty-one bytes", 1, GLANZ_ASPECTS, 0),
                     GLANZ_ERR_ARGUMENT);
    char name[8];
    for (int i = 0; i < GLANZ_SAVED_MOST; i++) {
        snprintf(name, sizeof name, "n%d", i);
        ck_assert_int_eq(glanz_device_save(stage.device, name, 1, GLANZ_ASPECTS, 0), GLANZ_OK);
    }
    ck_assert_int_eq(glanz_device_save(stage.device, "one more", 1, GLANZ_ASPECTS, 0), GLANZ_ERR_FULL);
    ck_assert_int_eq(glanz_device_forget(stage.device, "n3"), GLANZ_OK);
    ck_assert_int_eq(glanz_device_forget(stage.device, "n3"), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_device_save(stage.device, "one more", 1, GLANZ_ASPECTS, 0), GLANZ_OK);
}
END_TEST

START_TEST(preset_touches_only_what_it_names) {
    stage_must_open(
        &stage, strip_rig(20),
        "{'show':'t','brightness':'100 %','change':'0 "
        "s','looks':{'red':{'effect':'plain','color':'#ff0000'},'green':{'effect':'plain','color':'#00ff00'}},"
        "'segments':{'x':{'surface':'a','leds':10,'look':'red'},'y':{'surface':'a','first':10,'look':'red'}},'presets'"
        ":{'p':{'y':'green'},'o':{'x':{'on':false}}}}");
    stage_run(&stage, 0, 1500000, 100);
    ck_assert_int_eq(glanz_device_recall(stage.device, "p", 0, NULL), GLANZ_OK);
    stage_run(&stage, 1500000, 1600000, 100);
    ck_assert(stage_led(&stage, 0, 5, 0) == 255 && stage_led(&stage, 0, 5, 1) == 0);
    ck_assert(stage_led(&stage, 0, 15, 0) == 0 && stage_led(&stage, 0, 15, 1) == 255);
    ck_assert_int_eq(glanz_device_recall(stage.device, "o", 0, NULL), GLANZ_OK);
    stage_run(&stage, 1600000, 1700000, 100);
    ck_assert(stage_led(&stage, 0, 5, 0) == 0 && stage_led(&stage, 0, 15, 1) == 255);
    ck_assert_int_eq(glanz_device_recall(stage.device, "nobody", 0, NULL), GLANZ_ERR_ABSENT);
}
END_TEST

/* Segments over each other: stencils leave LEDs to what is under them; grain, mirror, reverse, opacity, blends. */
START_TEST(segments_stack) {
    stage_must_open(
        &stage, strip_rig(24),
        "{'show':'t','brightness':'100 "
        "%','looks':{'red':{'effect':'plain','color':'#ff0000'},'green':{'effect':'plain','color':'#00ff00'},"
        "'two':{'effect':'pattern','blocks':'1 #ffffff, 3 #0000ff'}},'segments':{'under':{'surface':'a','look':'red'},'every "
        "third':{'surface':'a','stencil':'take 1, leave 2','look':'green'},"
        "'end':{'surface':'a','first':12,'leds':12,'grain':2,'reversed':true,'mirrored':true,'blend':'add','opacity':'50 "
        "%','look':'two'}},'stack':['end','under','every third']}");
    stage_run(&stage, 0, 1500000, 100);
    for (uint16_t i = 0; i < 24; i++) { /* what is under an opaque segment is not seen */
        ck_assert_uint_eq(stage_led(&stage, 0, i, 0), i % 3 == 0 ? 0 : 255);
        ck_assert_uint_eq(stage_led(&stage, 0, i, 1), i % 3 == 0 ? 255 : 0);
        ck_assert_uint_eq(stage_led(&stage, 0, i, 2), 0);
    }
    stage_close(&stage);
    stage_must_open(
        &stage, strip_rig(24),
        "{'show':'t','brightness':'100 "
        "%','looks':{'red':{'effect':'plain','color':'#ff0000'},'two':{'effect':'pattern','blocks':'1 #00ff00, 5 #0000ff'}},"
        "'segments':{'under':{'surface':'a','look':'red'},'end':{'surface':'a','first':12,'leds':12,'grain':2,'mirrored':true,'"
        "blend':'add','opacity':'50 %','look':'two'}},'stack':['under','end']}");
    stage_run(&stage, 0, 1500000, 100);
    for (uint16_t i = 12; i < 24; i++) {
        int outer = i < 14 || i >= 22;
        ck_assert_uint_eq(stage_led(&stage, 0, i, 0), 255);
        ck_assert_int_le(abs(stage_led(&stage, 0, i, 1) - (outer ? 127 : 0)), 1);
        ck_assert_int_le(abs(stage_led(&stage, 0, i, 2) - (outer ? 0 : 127)), 1);
    }
}
END_TEST

/* Surfaces of several pieces and outputs, chips and orders that change along a line. */
START_TEST(lines_of_many_makes) {
    stage_must_open(
        &stage,
        "{'rig':'t','supplies':{'s':{'volts':'5 "
        "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':4,'order':'RGB'},{'chip':'WS2812B','leds':"
        "3,'order':'BRG'},{'chip':'SK6812-RGBW','leds':3,'white':'6500 K'}]},"
        "'p':{'pin':2,'clock pin':3,'supply':'s','line':[{'chip':'SK9822','leds':6}]}},"
        "'surfaces':{'a':{'strip':[{'output':'p','first':2,'leds':4,'reversed':true},{'output':'o','first':0,'leds':10}]}}}",
        "{'show':'t','brightness':'100 %','looks':{'l':{'effect':'pattern','blocks':'3 #ff0000, 4 #00ff00, 3 #0000ff, 4 "
        "#ffffff'}},'segments':{'s':{'surface':'a','look':'l'}}}");
    stage_run(&stage, 0, 1500000, 100);
    static const char want[] = "RRRGGGGBBBWWWW";
    for (uint16_t i = 0; i < 14; i++) {
        uint8_t output = i < 4;
        uint16_t led = (uint16_t)(i < 4 ? 5 - i : i - 4);
        for (uint8_t c = 0; c < 3; c++) {
            uint8_t got = stage_led(&stage, output, led, c);
            int lit = want[i] == "RGB"[c] || want[i] == 'W';
            if (!output && led >= 7 && want[i] == 'W') { /* white has gone to the white LED, but for its tint */
                ck_assert(got < 30 && stage_led(&stage, 0, led, 3) > 220);
            } else {
                ck_assert_msg(got == (lit ? 255 : 0), "place %u channel %u: %u", i, c, got);
            }
        }
    }
    ck_assert_uint_eq(stage_led(&stage, 1, 0, 0), 0); /* LEDs of no surface stay dark */
    ck_assert_uint_eq(stage.bytes[1][4 + 5 * 4] & 31, 31);
}
END_TEST

START_TEST(still_frames_cost_nothing) {
    stage_must_open(&stage, strip_rig(30),
                    "{'show':'t','brightness':'100 "
                    "%','looks':{'l':{'effect':'plain','color':'#ff0000'},'m':{'effect':'plain','color':'#804020'}}"
                    ",'segments':{'s':{'surface':'a','look':'l'}}}");
    stage_run(&stage, 0, 2000000, 100);
    struct glanz_counts before = glanz_device_counts(stage.device);
    stage_run(&stage, 2000000, 12000000, 100);
    struct glanz_counts after = glanz_device_counts(stage.device);
    ck_assert_uint_eq(after.shaded - before.shaded, 0);
    ck_assert_uint_eq(after.sent - before.sent, 10); /* the refresh */
    ck_assert_uint_eq(after.frames - before.frames, 1000);
    struct glanz_change change = {glanz_device_clock(stage.device), 0, 0};
    ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 0, &stage.show->looks[1], change), GLANZ_OK);
    stage_run(&stage, 12000000, 13000000, 100);
    ck_assert_uint_ge(glanz_device_counts(stage.device).shaded - after.shaded, 90); /* between two steps: dither goes on */
}
END_TEST

START_TEST(port_that_fails_is_counted) {
    stage_must_open(&stage, strip_rig(30), "{'show':'t'," LOOKS ",'segments':{'s':{'surface':'a','look':'motley'}}}");
    stage_run(&stage, 0, 1000000, 100);
    unsigned sent = stage.sent;
    stage.refuse = 1;
    ck_assert_int_eq(stage_frame(&stage, 1000000), GLANZ_ERR_PORT);
    stage_run(&stage, 1010000, 1500000, 100);
    ck_assert_uint_eq(stage.sent, sent);
    ck_assert_uint_eq(glanz_device_counts(stage.device).failed, 50);
    stage.refuse = 0;
    ck_assert_int_eq(stage_frame(&stage, 1500000), GLANZ_OK);
    ck_assert_uint_eq(stage.sent, sent + 1);
    stage.busy = 1;
    glanz_status status = GLANZ_OK;
    int busy = 0;
    for (uint64_t now = 1510000; now < 2500000; now += 10000) {
        status = stage_frame(&stage, now);
        busy += status == GLANZ_ERR_BUSY;
    }
    struct glanz_counts counts = glanz_device_counts(stage.device);
    ck_assert_msg(busy > 20 && counts.busy >= 20 && counts.stuck >= 2, "%d %u %u", busy, counts.busy, counts.stuck);
    ck_assert(stage.stopped == counts.stuck);
    ck_assert(strstr(stage.logged, "could not start") != NULL && strstr(stage.logged, "does not end") != NULL);
    stage.busy = 0;
    sent = stage.sent;
    stage_run(&stage, 2500000, 3000000, 100);
    ck_assert_uint_gt(stage.sent, sent);
}
END_TEST

/* With two byte buffers a frame is shaded while the last one is being sent; the bytes being sent stay as they are. */
START_TEST(bytes_being_sent_are_not_touched) {
    for (int buffers = 1; buffers <= 2; buffers++) {
        char rig[600];
        snprintf(rig, sizeof rig,
                 "{'rig':'t','supplies':{'s':{'volts':'5 "
                 "V'}},'outputs':{'o':{'pin':1,'supply':'s','buffers':%d,'line':[{'chip':'WS2812B','leds':30}]}},"
                 "'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':30}]}}}",
                 buffers);
        stage_must_open(&stage, rig, "{'show':'t'," LOOKS ",'segments':{'s':{'surface':'a','look':'motley'}}}");
        stage_run(&stage, 0, 2000000, 100);
        const uint8_t *sending = NULL;
        size_t count = 0;
        ck_assert_int_eq(glanz_engine_bytes(glanz_device_engine(stage.device), 0, &sending, &count), GLANZ_OK);
        ck_assert_mem_eq(sending, stage.bytes[0], 90);
        stage.busy = 1;
        uint32_t shaded = glanz_device_counts(stage.device).shaded;
        for (uint64_t now = 2000000; now < 2100000; now += 10000) {
            stage_frame(&stage, now);
            ck_assert_mem_eq(sending, stage.bytes[0], 90);
        }
        ck_assert_uint_eq(glanz_device_counts(stage.device).shaded - shaded, buffers == 2 ? 1 : 0);
        stage.busy = 0;
        unsigned sent = stage.sent;
        stage_frame(&stage, 2100000);
        ck_assert_uint_eq(stage.sent, sent + 1);
        stage_close(&stage);
    }
}
END_TEST

/* A line that takes longer than what shading leaves of a frame: 12.3 ms of 13.3, beside 3 to 9 ms of shading. */
static struct {
    uint64_t now_us, ends_us;
    unsigned shade_us;
    int asked; /* times since the frame began; before it is shaded, and behind */
    glanz_status (*start)(void *, const struct glanz_sending *, uint8_t);
} line;

static int slow_busy(void *user) {
    (void)user;
    line.now_us += ++line.asked == 2 ? line.shade_us : 0;
    return line.now_us < line.ends_us;
}

static glanz_status slow_start(void *user, const struct glanz_sending *list, uint8_t count) {
    line.now_us += line.asked < 2 ? line.shade_us : 0;
    ck_assert(line.now_us >= line.ends_us); /* never while it sends */
    line.ends_us = line.now_us + 12300;
    return line.start(user, list, count);
}

static void slow_frames(unsigned first, unsigned end) {
    for (unsigned frame = first; frame < end; frame++) {
        uint64_t begin = frame * 13334u;
        line.now_us = begin;
        line.asked = 0;
        line.shade_us = frame * 7919u % 6000u + 3000u;
        (void)stage_frame(&stage, begin);
        line.asked = 2;
        for (; line.now_us < begin + 13334u; line.now_us += 250) {
            glanz_device_idle(stage.device, (uint32_t)(begin + 13334u - line.now_us));
        }
    }
}

/* With two byte buffers every frame of such a line goes out; with one every other does. A rig on trial is taken all the same.
 */
START_TEST(shading_and_sending_overlap) {
    static const char moving[] = "{'show':'t'," LOOKS ",'segments':{'s':{'surface':'a','look':'motley'}}}";
    static struct stage other;
    for (int buffers = 1; buffers <= 2; buffers++) {
        char rig[400];
        snprintf(
            rig, sizeof rig,
            "{'rig':'t','supplies':{'s':{'volts':'5 V','limit':'300 mA'}},'outputs':{'o':{'pin':1,'supply':'s','buffers':%d,"
            "'line':[{'chip':'WS2812B','leds':30}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':30}]}}}",
            buffers);
        stage_must_open(&stage, rig, moving);
        ck_assert_int_eq(stage_open(&other, rig, moving), GLANZ_OK);
        memset(&line, 0, sizeof line);
        line.start = stage.port.start;
        stage.port.start = slow_start;
        stage.port.busy = slow_busy;
        slow_frames(0, 300);
        struct glanz_counts counts = glanz_device_counts(stage.device);
        ck_assert_uint_eq(counts.frames, 300);
        ck_assert_msg(buffers == 2 ? counts.sent >= 299 && counts.busy == 0 : counts.sent == 150 && counts.busy == 150, "%u %u",
                      counts.sent, counts.busy);
        ck_assert_int_eq(glanz_device_set_rig(stage.device, other.rig, other.show, 200, NULL), GLANZ_OK);
        slow_frames(300, 303);
        ck_assert(glanz_device_rig(stage.device) == other.rig);
        slow_frames(303, 325);
        ck_assert(glanz_device_rig(stage.device) == stage.rig); /* nobody kept it */
        stage_close(&other);
        stage_close(&stage);
    }
}
END_TEST

/* Light is asked for after a change and before the next frame: what runs on by a short way then is no longer what shows there.
 */
START_TEST(light_is_asked_for_between_a_change_and_a_frame) {
    struct glanz_light lights[30];
    stage_must_open(
        &stage, strip_rig(30),
        "{'show':'t','change':'0 s','looks':{'w':{'effect':'walker','size':'9 leds'},'f':{'effect':'fire'},'p':{'effect':"
        "'plain','color':'#ffffff'},'t':{'effect':'text','text':'x','clear':true}},'segments':{'s':{'surface':'a','look':'w'}}"
        "}");
    struct glanz_engine *engine = glanz_device_engine(stage.device);
    uint64_t now = 0;
    for (int from = 0; from < 4; from++) {
        for (int to = 0; to < 5; to++) { /* the last: dark */
            struct glanz_change at_once = {glanz_device_clock(stage.device), 0, 1};
            ck_assert_int_eq(glanz_engine_look(engine, 0, &stage.show->looks[from], at_once), GLANZ_OK);
            for (int i = 0; i < 40; i++, now += 10000) {
                stage_frame(&stage, now);
            }
            at_once.at_us = glanz_device_clock(stage.device);
            ck_assert_int_eq(glanz_engine_look(engine, 0, to == 4 ? NULL : &stage.show->looks[to], at_once), GLANZ_OK);
            ck_assert_int_eq(glanz_engine_light(engine, 0, 0, lights, 30), GLANZ_OK);
            for (int i = 0; to == 4 && i < 30; i++) {
                ck_assert(lights[i].red == 0 && lights[i].green == 0 && lights[i].blue == 0);
            }
            for (int i = 0; to == 2 && i < 30; i++) {
                ck_assert(lights[i].red == 65535);
            }
        }
    }
}
END_TEST

/* A clock that wraps, stands still, or runs back: no flash, no freeze. */
START_TEST(clock_may_go_wrong) {
    stage_must_open(&stage, strip_rig(30),
                    "{'show':'t','brightness':'100 %','looks':{'l':{'effect':'flow','palette':'ice "
                    "floe','speed':'0.2 lengths/s'}},'segments':{'s':{'surface':'a','look':'l'}}}");
    uint32_t now = 0xFFFFFFFFu - 3000000u; /* wraps after 3 s */
    for (int frame = 0; frame < 1000; frame++) {
        uint8_t before[90];
        memcpy(before, stage.bytes[0], 90);
        unsigned sent = stage.sent;
        now += frame % 100 == 50 ? (uint32_t)-500000 : frame % 100 == 60 ? 0 : 10000;
        stage_frame(&stage, now);
        for (int i = 0; i < 90 && frame > 150; i++) {
            REQUIRE(abs(stage.bytes[0][i] - before[i]) <= 6);
        }
        ck_assert(frame % 100 == 50 || frame % 100 == 60 || stage.sent > sent);
    }
    ck_assert_uint_eq(glanz_device_counts(stage.device).backward, 10);
    ck_assert_int_eq(glanz_device_frame(stage.device, now + 0x7FFFFFFFu), GLANZ_OK); /* half an hour at once */
    for (int i = 0; i < 300; i++) {
        glanz_device_frame(stage.device, now + 0x7FFFFFFFu + (uint32_t)i * 10000u);
    }
    ck_assert_uint_gt(stage_sum(&stage, 0, 2), 100);
}
END_TEST

START_TEST(rig_on_trial_goes_back) {
    static const char small[] = "{'rig':'other','supplies':{'s':{'volts':'5 "
                                "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':7,'order':'RGB'}]}}"
                                ",'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':7}]}},"
                                "'inputs':{'k':{'button':{'pin':2,'pressed':'low'}}}}";
    for (int keep = 0; keep < 2; keep++) {
        static struct stage other;
        stage_must_open(&stage, strip_rig(30), show_all);
        ck_assert_int_eq(stage_open(&other, small, show_all), GLANZ_OK);
        stage_run(&stage, 0, 1000000, 100);
        ck_assert_int_eq(glanz_device_keep(stage.device), GLANZ_ERR_STATE);
        ck_assert_int_eq(glanz_device_set_rig(stage.device, other.rig, other.show, 2000, &stage.fault), GLANZ_OK);
        ck_assert_int_eq(glanz_device_set_show(stage.device, stage.show, 0, NULL), GLANZ_ERR_BUSY);
        stage_run(&stage, 1000000, 2500000, 100);
        ck_assert_uint_eq(stage.count[0], 21);
        ck_assert(glanz_device_rig(stage.device) == other.rig);
        ck_assert_uint_gt(glanz_device_trial_ms(stage.device), 100);
        ck_assert(glanz_device_uses(stage.device, stage.rig_memory, 1000) &&
                  glanz_device_uses(stage.device, other.rig_memory, 1000));
        if (keep) {
            ck_assert_int_eq(glanz_device_keep(stage.device), GLANZ_OK);
        }
        stage_run(&stage, 2500000, 4000000, 100);
        ck_assert_uint_eq(stage.count[0], keep ? 21 : 90);
        ck_assert_uint_eq(glanz_device_trial_ms(stage.device), 0);
        ck_assert_int_eq(glanz_device_uses(stage.device, stage.rig_memory, 1000) != 0, !keep);
        ck_assert_int_eq(glanz_device_uses(stage.device, other.rig_memory, 1000) != 0, keep);
        stage_close(&stage);
        /* one that needs more memory than the device has is refused, and the number is told */
        static struct stage large;
        stage_must_open(&stage, strip_rig(30), show_all);
        ck_assert_int_eq(stage_open(&large, strip_rig(20000), show_all), GLANZ_OK);
        struct glanz_fault fault = GLANZ_FAULT_INIT;
        ck_assert_int_eq(glanz_device_set_rig(stage.device, large.rig, large.show, 0, &fault), GLANZ_ERR_MEMORY);
        ck_assert_uint_eq(fault.needed, glanz_device_size(large.rig, 16) + glanz_show_memory(large.show, large.rig));
        stage_close(&large);
        stage_close(&other);
        stage_close(&stage);
    }
}
END_TEST

/* One call a change, by names: it glides, it is undone, and a wrong name is told. */
START_TEST(one_call_sets_one_thing) {
    struct glanz_showing showing;
    struct glanz_fault *fault = &stage.fault;
    static const struct glanz_writing words = {.kind = GLANZ_CONTENT_WRITING, .text = "low water", .font = NULL};
    static const struct glanz_block blocks[] = {{2, GLANZ_RGB(0, 255, 0)}, {1, GLANZ_RGB(0, 0, 255)}};
    static const struct glanz_pattern pattern = {GLANZ_CONTENT_PATTERN, NULL, blocks, 2, 3};
    stage_must_open(
        &stage, strip_rig(30),
        "{'show':'t','change':'0 ms','brightness':'100 %','looks':{'dot':{'effect':'walker','color':'#ff0000','speed':'2 "
        "leds/s'},'blocks':{'effect':'pattern','blocks':'1 #ff0000'},'stream':{'effect':'flow'}},"
        "'segments':{'rail':{'surface':'a','first':0,'leds':10,'look':'dot'},'board':{'surface':'a','first':10,'leds':10,"
        "'look':'blocks'},'sea':{'surface':'a','first':20,'leds':5,'look':'stream'},'dark':{'surface':'a','first':25}}}");
    struct glanz_device *device = stage.device;
    struct glanz_engine *engine = glanz_device_engine(device);
    stage_run(&stage, 0, 1000000, 100);
    ck_assert_int_eq(glanz_device_set(device, "rail", "speed", GLANZ_FIXED(8), GLANZ_UNIT_LEDS, 2000, fault), GLANZ_OK);
    ck_assert_int_eq(glanz_engine_showing(engine, 0, &showing), GLANZ_OK);
    ck_assert_int_eq(showing.number[GLANZ_WALKER_SPEED], GLANZ_FIXED(8));
    ck_assert_uint_eq(showing.fading, 1); /* it glides */
    ck_assert_int_eq(glanz_device_set_color(device, "rail", "color", GLANZ_RGB(0, 0, 255), 1000, fault), GLANZ_OK);
    stage_run(&stage, 1000000, 3000000, 100);
    unsigned red = 0;
    unsigned blue = 0;
    for (uint16_t led = 0; led < 10; led++) {
        red += stage_led(&stage, 0, led, 0);
        blue += stage_led(&stage, 0, led, 2);
    }
    ck_assert_uint_eq(red, 0);
    ck_assert_uint_gt(blue, 200);
    stage_do(&stage, "{'undo':true}");
    ck_assert_int_eq(glanz_engine_showing(engine, 0, &showing), GLANZ_OK);
    ck_assert_int_eq(showing.number[GLANZ_WALKER_COLOR], GLANZ_RGB(255, 0, 0));
    ck_assert_int_eq(showing.number[GLANZ_WALKER_SPEED], GLANZ_FIXED(8));
    stage_do(&stage, "{'undo':true}");
    ck_assert_int_eq(glanz_engine_showing(engine, 0, &showing), GLANZ_OK);
    ck_assert_int_eq(showing.number[GLANZ_WALKER_SPEED], GLANZ_FIXED(2));

    ck_assert_int_eq(glanz_device_set_content(device, "board", &pattern, 0, fault), GLANZ_OK);
    stage_run(&stage, 3000000, 4000000, 100);
    ck_assert_uint_eq(stage_led(&stage, 0, 12, 2), 255); /* the third of its LEDs is blue now */
    ck_assert(glanz_device_uses(device, &pattern, sizeof pattern));
    ck_assert_int_eq(glanz_device_set_content(device, "board", &words, 0, fault), GLANZ_ERR_ARGUMENT);
    ck_assert_ptr_nonnull(strstr(fault->text, "of the kind"));
    static struct glanz_gradient gradient;
    static struct glanz_stop stops[2 * GLANZ_STOPS_EACH];
    struct glanz_color_stop chosen[] = {{0, GLANZ_RGB(0, 255, 0)}, {65535, GLANZ_RGB(0, 255, 0)}};
    ck_assert_int_eq(glanz_gradient_build(&gradient, stops, 2 * GLANZ_STOPS_EACH, chosen, 2, GLANZ_BETWEEN_LIGHT, NULL, 0),
                     GLANZ_OK);
    ck_assert_int_eq(glanz_device_set_palette(device, "sea", &gradient, 0, fault), GLANZ_OK);
    stage_run(&stage, 4000000, 5000000, 100);
    ck_assert_uint_eq(stage_led(&stage, 0, 22, 1), 255);
    ck_assert_uint_eq(stage_led(&stage, 0, 22, 0), 0);

    const struct {
        const char *segment, *param;
        int32_t number;
        glanz_status status;
        const char *words;
    } wrong[] = {{"rial", "speed", 1, GLANZ_ERR_ABSENT, "no such segment: \"rial\""},
                 {"rail", "sped", 1, GLANZ_ERR_ABSENT, "no such parameter: \"sped\""},
                 {"rail", "color", 1, GLANZ_ERR_ARGUMENT, "expected a number"},
                 {"rail", "size", GLANZ_FIXED(-1), GLANZ_ERR_ARGUMENT, "within its bounds"},
                 {"dark", "speed", 1, GLANZ_ERR_ABSENT, "shows something"},
                 {NULL, "speed", 1, GLANZ_ERR_ABSENT, "no such segment"},
                 {"rail", NULL, 1, GLANZ_ERR_ABSENT, "no such parameter"}};
    for (size_t i = 0; i < sizeof wrong / sizeof wrong[0]; i++) {
        ck_assert_int_eq(glanz_device_set(device, wrong[i].segment, wrong[i].param, wrong[i].number, GLANZ_UNIT_NONE, 0, fault),
                         wrong[i].status);
        ck_assert_msg(strstr(fault->text, wrong[i].words) != NULL, "%s", fault->text);
    }
    ck_assert_int_eq(glanz_device_set_color(device, "rail", "speed", 0, 0, fault), GLANZ_ERR_ARGUMENT);
    ck_assert_ptr_nonnull(strstr(fault->text, "is a colour"));
    ck_assert_int_eq(glanz_device_set_palette(device, "rail", &gradient, 0, fault), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_set_palette(device, "sea", NULL, 0, fault), GLANZ_ERR_ARGUMENT);
    ck_assert_ptr_nonnull(strstr(fault->text, "expected one"));
    ck_assert_int_eq(glanz_device_set(NULL, "rail", "speed", 1, GLANZ_UNIT_NONE, 0, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_set_color(NULL, "rail", "color", 1, 0, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_set_palette(NULL, "sea", &gradient, 0, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_set_content(NULL, "board", &pattern, 0, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_set_palette(device, "nowhere", &gradient, 0, fault), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_device_set_content(device, "nowhere", &pattern, 0, fault), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_device_set_content(device, "board", NULL, 0, fault), GLANZ_ERR_ARGUMENT);
    static const struct glanz_pattern empty = {GLANZ_CONTENT_PATTERN, NULL, blocks, 0, 0};
    ck_assert_int_eq(glanz_device_set_content(device, "board", &empty, 0, fault), GLANZ_ERR_SHOW);
    ck_assert_ptr_nonnull(strstr(fault->text, "valid look"));
    ck_assert_int_eq(glanz_device_set(device, "rail", "speed", 1, (enum glanz_unit)256, 0, fault), GLANZ_ERR_ARGUMENT);
    struct glanz_look look = {"l", &glanz_effect_text, NULL, NULL, NULL, 0, 0, 0,
                              NULL}; /* contents that are there and say nothing */
    struct glanz_writing no_text = {.kind = GLANZ_CONTENT_WRITING, .text = NULL, .font = NULL};
    struct glanz_picture no_bytes = {GLANZ_CONTENT_PICTURE, "p", NULL, 9};
    struct glanz_marks no_list = {GLANZ_CONTENT_MARKS, 2, NULL};
    struct glanz_marks no_marks = {GLANZ_CONTENT_MARKS, 0, NULL};
    look.content = &no_text;
    ck_assert_int_eq(glanz_look_check(&look, fault), GLANZ_ERR_SHOW);
    ck_assert_ptr_nonnull(strstr(fault->text, "nothing is in"));
    look.effect = &glanz_effect_picture;
    look.content = &no_bytes;
    ck_assert_int_eq(glanz_look_check(&look, fault), GLANZ_ERR_SHOW);
    look.effect = &glanz_effect_marked;
    look.content = &no_list;
    ck_assert_int_eq(glanz_look_check(&look, fault), GLANZ_ERR_SHOW);
    look.content = &no_marks;
    ck_assert_int_eq(glanz_look_check(&look, fault), GLANZ_OK);

    struct glanz_control *control = glanz_device_control(device); /* the same by index */
    struct glanz_setting setting = {GLANZ_WALKER_SPEED, GLANZ_UNIT_NONE, GLANZ_FIXED(3)};
    ck_assert_int_eq(glanz_control_set(control, 0, setting, 0, 5000000), GLANZ_OK);
    ck_assert_int_eq(glanz_engine_showing(engine, 0, &showing), GLANZ_OK);
    ck_assert_int_eq(showing.number[GLANZ_WALKER_SPEED], GLANZ_FIXED(3));
    ck_assert_int_eq(glanz_control_set(NULL, 0, setting, 0, 5000000), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_control_set(control, 9, setting, 0, 5000000), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_control_set(control, 3, setting, 0, 5000000), GLANZ_ERR_ABSENT);
    setting.param = 99;
    ck_assert_int_eq(glanz_control_set(control, 0, setting, 0, 5000000), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_control_set_palette(control, 9, &gradient, 0, 5000000), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_control_set_palette(control, 0, NULL, 0, 5000000), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_control_set_content(control, 9, &pattern, 0, 5000000), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_control_set_content(control, 0, &pattern, 0, 5000000), GLANZ_ERR_ARGUMENT);
}
END_TEST

START_TEST(two_devices_do_not_meet) {
    static struct stage other;
    stage_must_open(&stage, strip_rig(30), show_all);
    ck_assert_int_eq(stage_open(&other, strip_rig(30), show_all), GLANZ_OK);
    for (uint64_t now = 0; now < 3000000; now += 10000) {
        stage_frame(&stage, now);
        if (now % 20000 == 0) {
            struct glanz_change change = {glanz_device_clock(other.device), 0, 0};
            ck_assert_int_eq(
                glanz_engine_look(glanz_device_engine(other.device), 0, &other.show->looks[now / 20000 % 5], change), GLANZ_OK);
        }
        stage_frame(&other, now);
    }
    uint32_t hash = stage.hash;
    stage_close(&stage);
    stage_must_open(&stage, strip_rig(30), show_all);
    stage_run(&stage, 0, 3000000, 100);
    ck_assert_uint_eq(stage.hash, hash);
    ck_assert_uint_ne(other.hash, hash);
    stage_close(&other);
}
END_TEST

/* Memory as a constant is never less than what a device takes, and not far above it. */
START_TEST(constant_memory_is_enough) {
    stage_must_open(&stage, strip_rig(60), show_all);
    struct glanz_rig rig = *stage.rig;
    struct glanz_input inputs[8];
    double most = 0;
    int compared = 0;
    for (unsigned i = 0; i < 8; i++) {
        inputs[i] = rig.inputs[0];
    }
    rig.inputs = inputs;
    for (uint8_t count = 0; count <= 8; count++) {
        rig.input_count = count;
        for (uint8_t segments = 1; segments <= 64; segments++) {
            size_t needed = glanz_device_size(&rig, segments);
            size_t given = GLANZ_DEVICE_SIZE(60u * 6u, 1u, count, segments);
            if (needed != 0) { /* names of inputs that stand twice are refused */
                ck_assert_msg(given >= needed, "%u inputs, %u segments: %zu of %zu", count, segments, given, needed);
                most = (double)given / (double)needed > most ? (double)given / (double)needed : most;
                compared++;
            }
        }
    }
    printf("memory as a constant: %d devices, at most %.1f %% above what is needed\n", compared, 100 * most - 100);
    ck_assert(compared >= 64 && most < 1.3);
}
END_TEST

/* Room for looks that fade is the program's choice: one look that stays takes least and refuses others; two crossfade without a
 * jump; and where all of it is there, nothing is another byte. */
START_TEST(looks_at_once_are_chosen) {
    static struct stage other;
    static uint64_t memory[4096], exact[4096];
    stage_must_open(&stage, strip_rig(30), show_all);
    size_t sizes[5];
    struct glanz_parts parts = glanz_everything;
    parts.control = NULL;
    parts.playlists = NULL;
    parts.hands = NULL;
    parts.saving = NULL;
    parts.glides = NULL;
    sizes[0] = glanz_engine_size(&parts, stage.rig, 2, GLANZ_NO_FADING);
    for (uint8_t fading = 1; fading <= 4; fading++) {
        sizes[fading] = glanz_engine_size(&parts, stage.rig, 2, fading);
        ck_assert_uint_gt(sizes[fading], sizes[fading - 1] + 100);
    }
    ck_assert_uint_eq(glanz_engine_size(&parts, stage.rig, 2, 0), sizes[4]); /* two on each of two segments */
    ck_assert_uint_eq(glanz_engine_size(&parts, stage.rig, 2, 5), sizes[4]);
    ck_assert_uint_gt(glanz_engine_size(&glanz_everything, stage.rig, 2, 2), sizes[2]); /* what glides */
    /* a device whose looks stay */
    struct glanz_show still = *stage.show;
    still.triggers = NULL;
    still.trigger_count = 0;
    still.playlist_count = still.preset_count = 0;
    struct glanz_setup setup = {
        .rig = stage.rig, .show = &still, .port = &stage.port, .parts = &glanz_everything, .fading = GLANZ_NO_FADING};
    struct glanz_device *device = NULL;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &stage.fault), GLANZ_ERR_ARGUMENT);
    ck_assert_ptr_nonnull(strstr(stage.fault.text, "looks change by the part \"control\""));
    setup.parts = &parts;
    ck_assert_int_eq(glanz_device_start(&device, memory, 64, &setup, &stage.fault), GLANZ_ERR_MEMORY);
    size_t least = stage.fault.needed;
    memset(exact, 0x5a, sizeof exact);
    ck_assert_int_eq(glanz_device_start(&device, exact, least, &setup, &stage.fault), GLANZ_OK);
    struct glanz_engine *engine = glanz_device_engine(device);
    struct glanz_change slow = {0, 1000, 0};
    ck_assert_int_eq(glanz_engine_look(engine, 0, &still.looks[1], slow), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_engine_look(engine, 0, NULL, slow), GLANZ_ERR_MEMORY);
    struct glanz_setting blue = {.number = (int32_t)GLANZ_RGB(0, 0, 255)};
    ck_assert_int_eq(glanz_engine_set(engine, 0, blue, slow), GLANZ_ERR_MEMORY);
    for (uint64_t now = 0; now < 1200000; now += 10000) {
        ck_assert_int_eq(glanz_device_frame(device, (uint32_t)now), GLANZ_OK);
    }
    ck_assert(stage_led(&stage, 0, 29, 0) == 255 && stage_led(&stage, 0, 29, 1) == 0);
    for (size_t byte = least; byte < sizeof exact; byte++) {
        ck_assert_uint_eq(((const uint8_t *)exact)[byte], 0x5a);
    }
    /* what changes by itself afterwards is looked up too: nothing shows half of what it says */
    struct glanz_parts few = parts;
    few.colors = NULL;
    few.fields = NULL;
    struct glanz_engine *bare = NULL;
    static uint64_t bare_memory[2048];
    ck_assert_int_eq(glanz_engine_start(&bare, bare_memory, sizeof bare_memory, &few, stage.rig, 2, 2, NULL), GLANZ_OK);
    struct glanz_look dusk = {"dusk", &glanz_effect_plasma, NULL, NULL, NULL, 0, 0, 0, NULL};
    struct glanz_segment whole = {.name = "whole", .look = &dusk};
    ck_assert_int_eq(glanz_engine_begin(bare, &whole, NULL, 1, NULL, 0, &stage.fault), GLANZ_ERR_ABSENT);
    ck_assert_ptr_nonnull(strstr(stage.fault.text, "fields"));
    whole.look = &still.looks[0];
    ck_assert_int_eq(glanz_engine_begin(bare, &whole, NULL, 1, NULL, 0, &stage.fault), GLANZ_OK);
    struct glanz_setting warm = {.number = (int32_t)GLANZ_KELVIN(2700)};
    ck_assert_int_eq(glanz_engine_set(bare, 0, warm, slow), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_engine_set(bare, 0, blue, slow), GLANZ_OK);
    ck_assert(glanz_engine_uses(bare, &few, sizeof few) && glanz_device_uses(device, &parts, sizeof parts));
    ck_assert(!glanz_device_uses(device, &few, sizeof few));
    ck_assert_uint_eq(glanz_parts_needed(NULL, &still) | glanz_parts_needed(stage.rig, NULL) | glanz_parts_present(NULL), 0);
    ck_assert_int_eq(glanz_device_set_show(device, &still, 0, &stage.fault), GLANZ_ERR_ABSENT);
    ck_assert_ptr_nonnull(strstr(stage.fault.text, "control"));
    /* two looks: five changes, one upon the other */
    setup.fading = 1;
    ck_assert_int_eq(glanz_device_start(&device, memory, 64, &setup, &stage.fault), GLANZ_ERR_MEMORY);
    ck_assert_uint_gt(stage.fault.needed, least + 100);
    least = stage.fault.needed;
    memset(exact, 0x5a, sizeof exact);
    ck_assert_int_eq(glanz_device_start(&device, exact, least, &setup, &stage.fault), GLANZ_OK);
    engine = glanz_device_engine(device);
    int before[2] = {0, 0}, largest = 0;
    for (uint64_t now = 0; now < 3000000; now += 10000) {
        if (now >= 1100000 && now <= 1500000 && now % 100000 == 0) {
            ck_assert_int_eq(glanz_engine_look(engine, 0, &still.looks[now / 100000 % 2], slow), GLANZ_OK);
        }
        ck_assert_int_eq(glanz_device_frame(device, (uint32_t)now), GLANZ_OK);
        for (uint8_t channel = 0; now != 0 && channel < 2; channel++) {
            int is = stage_led(&stage, 0, 29, channel);
            largest = abs(is - before[channel]) > largest ? abs(is - before[channel]) : largest;
            before[channel] = is;
        }
    }
    ck_assert_int_le(largest, 30); /* the weaker of too many is let go in 0.1 s, another comes in 1 s: 28 a frame and dither */
    ck_assert(before[0] == 0 && before[1] == 255);
    for (size_t byte = least; byte < sizeof exact; byte++) {
        ck_assert_uint_eq(((const uint8_t *)exact)[byte], 0x5a);
    }
    /* all of them, said or not said */
    static struct stage said;
    stage_must_open(&other, strip_rig(30), show_all);
    stage_must_open(&said, strip_rig(30), show_all);
    void *place = malloc(said.memory_size);
    ck_assert_ptr_nonnull(place);
    struct glanz_setup all = {
        .rig = said.rig, .show = said.show, .port = &said.port, .parts = &glanz_everything, .fading = 255 - 1};
    ck_assert_int_eq(glanz_device_start(&said.device, place, said.memory_size, &all, &said.fault), GLANZ_OK);
    for (uint64_t now = 0; now < 3000000; now += 10000) {
        struct stage *both[] = {&other, &said};
        for (int i = 0; i < 2; i++) {
            struct glanz_change change = {glanz_device_clock(both[i]->device), 500, 0};
            ck_assert_int_eq(
                glanz_engine_look(glanz_device_engine(both[i]->device), 0, &both[i]->show->looks[now / 70000 % 5], change),
                GLANZ_OK);
            stage_frame(both[i], now);
        }
    }
    ck_assert_uint_eq(other.hash, said.hash);
    ck_assert_uint_gt(other.sent, 200);
    free(place);
    stage_close(&said);
    stage_close(&other);
}
END_TEST

/* The light is asked for after a cut, with no frame between: it is the new look's, and every LED of it is written. */
START_TEST(light_after_a_cut_is_the_new_look) {
    stage_must_open(&stage, strip_rig(40),
                    "{'show':'t','brightness':'100 %','looks':{'a':{'effect':'plain','color':'#ff0000'},"
                    "'b':{'effect':'plain','color':'#0000ff'}},'segments':{'s':{'surface':'a','look':'a'}}}");
    stage_run(&stage, 0, 1000000, 100);
    struct glanz_engine *engine = glanz_device_engine(stage.device);
    struct glanz_change cut = {glanz_device_clock(stage.device), 0, 1}; /* begun again: no glide */
    struct glanz_light light[40];
    memset(light, 0x5a, sizeof light);
    ck_assert_int_eq(glanz_engine_look(engine, 0, &stage.show->looks[1], cut), GLANZ_OK);
    ck_assert_int_eq(glanz_engine_light(engine, 0, 0, light, 40), GLANZ_OK);
    for (int i = 0; i < 40; i++) {
        ck_assert(light[i].red == 0 && light[i].green == 0 && light[i].blue == 65535);
    }
}
END_TEST

/* Starts that cannot be are a status, with words where there is somebody to say them. */
START_TEST(starts_are_refused_with_and_without_words) {
    static uint64_t memory[4096];
    struct glanz_device *device = NULL;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_parts mute = glanz_everything;
    mute.checks = NULL;
    stage_must_open(&stage, strip_rig(10), show_all);
    GLANZ_CONST struct glanz_parts *const parts[] = {NULL, &mute, &glanz_everything};
    for (int i = 0; i < 3; i++) {
        struct glanz_setup setup = {.rig = stage.rig, .show = stage.show, .port = &stage.port, .parts = parts[i]};
        const uint32_t other = (uint32_t)GLANZ_LAYOUT + 1u;
        fault.text[0] = '\0';
        ck_assert_int_eq(glanz_device_start_as(&device, memory, sizeof memory, &setup, &fault, other), GLANZ_ERR_ARGUMENT);
        ck_assert_int_eq(fault.text[0] != '\0', i == 2);
        ck_assert_int_eq(glanz_device_start_as(&device, memory, sizeof memory, NULL, &fault, other), GLANZ_ERR_ARGUMENT);
        fault.text[0] = '\0';
        setup.fading = GLANZ_NO_FADING;
        glanz_status status = glanz_device_start(&device, memory, sizeof memory, &setup, &fault);
        ck_assert_int_eq(status, i == 0 ? GLANZ_ERR_ABSENT : GLANZ_ERR_ARGUMENT); /* without parts the show lacks some */
        ck_assert_int_eq(strstr(fault.text, "looks change by") != NULL, i == 2);
        setup.fading = 0;
        setup.show = NULL;
        fault.text[0] = '\0';
        ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_ERR_ARGUMENT);
        ck_assert_int_eq(fault.text[0] != '\0', i == 2);
        struct glanz_port lame = stage.port;
        setup.show = stage.show;
        setup.port = &lame;
        lame.time_us = NULL;
        ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_ERR_ARGUMENT);
        lame = stage.port;
        lame.busy = NULL;
        ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_ERR_ARGUMENT);
        lame = stage.port;
        lame.start = NULL;
        ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_ERR_ARGUMENT);
        lame = stage.port;
        ck_assert_int_eq(glanz_device_start(&device, (uint8_t *)memory + 1, sizeof memory - 8, &setup, &fault),
                         GLANZ_ERR_ARGUMENT);
    }
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, NULL, &fault), GLANZ_ERR_ARGUMENT);
}
END_TEST

/* Eight segments change at once, again and again, and only so many looks may fade beside theirs: nothing jumps, no byte beyond
 * the memory is touched, and all show what was asked for last. */
START_TEST(few_looks_fade_for_many_segments) {
    static const uint8_t fading[] = {1, 2, 3, 5, 15, 0};
    stage_must_open(&stage, strip_rig(64),
                    "{'show':'t','brightness':'100 %','looks':{'a':{'effect':'plain','color':'#ff0000'},"
                    "'b':{'effect':'plain','color':'#0000ff'},'c':{'effect':'swell','color':'#00ff00','speed':'0 leds/s'}},"
                    "'segments':{'1':{'surface':'a','leds':8,'look':'a'},'2':{'surface':'a','first':8,'leds':8,'look':'a'},"
                    "'3':{'surface':'a','first':16,'leds':8,'look':'a'},'4':{'surface':'a','first':24,'leds':8,'look':'a'},"
                    "'5':{'surface':'a','first':32,'leds':8,'look':'a'},'6':{'surface':'a','first':40,'leds':8,'look':'a'},"
                    "'7':{'surface':'a','first':48,'leds':8,'look':'a'},'8':{'surface':'a','first':56,'leds':8,'look':'a'}},"
                    "'presets':{'p':{'1':'b','2':'b','3':'b','4':'b','5':'b','6':'b','7':'b','8':'b'},"
                    "'q':{'1':'c','2':'a','3':'c','4':'a','5':'c','6':'a','7':'c','8':'b'}}}");
    struct glanz_setup setup = {
        .rig = stage.rig, .show = stage.show, .port = &stage.port, .parts = &glanz_everything, .fading = fading[_i]};
    static uint64_t memory[4096];
    struct glanz_device *device = NULL;
    ck_assert_int_eq(glanz_device_start(&device, memory, 64, &setup, &stage.fault), GLANZ_ERR_MEMORY);
    size_t least = stage.fault.needed;
    ck_assert_uint_le(least, GLANZ_DEVICE_SIZE_FADING(64 * 6, 1, 0, 8, fading[_i] == 0 ? 16 : fading[_i]));
    memset(memory, 0x5a, sizeof memory);
    ck_assert_int_eq(glanz_device_start(&device, memory, least, &setup, &stage.fault), GLANZ_OK);
    struct glanz_engine *engine = glanz_device_engine(device);
    static uint8_t before[64][3];
    int largest = 0;
    int together = 0;
    uint64_t last = 0;
    for (uint64_t now = 0; now < 9000000; now += 10000) {
        struct glanz_change slow = {glanz_device_clock(device), 2000, 0};
        if (now == 1000000 || now == 4000000 || now == 4500000) { /* p, q, and p in the middle of q */
            uint8_t preset = now == 4000000 ? 1 : 0;
            for (uint8_t i = 0; i < 8; i++) {
                ck_assert_int_eq(glanz_engine_look(engine, i, stage.show->presets[preset].parts[i].look, slow), GLANZ_OK);
            }
        }
        if (now == 4600000) { /* while some wait: a number of theirs */
            struct glanz_setting green = {.param = 0, .number = (int32_t)GLANZ_RGB(0, 255, 0)};
            ck_assert_int_eq(glanz_engine_set(engine, 7, green, slow), GLANZ_OK);
        }
        ck_assert_int_eq(glanz_device_frame(device, (uint32_t)now), GLANZ_OK);
        int beside = 0;
        for (uint8_t i = 0; i < 8; i++) {
            struct glanz_showing showing;
            ck_assert_int_eq(glanz_engine_showing(engine, i, &showing), GLANZ_OK);
            beside += showing.fading - 1;
        }
        together = beside > together ? beside : together;
        last = beside != 0 ? now : last;
        for (uint16_t led = 0; led < 64; led++) {
            for (uint8_t channel = 0; channel < 3; channel++) {
                int is = stage_led(&stage, 0, led, channel);
                largest = now > 20000 && abs(is - before[led][channel]) > largest ? abs(is - before[led][channel]) : largest;
                before[led][channel] = (uint8_t)is;
            }
        }
    }
    ck_assert_int_le(largest, 30); /* let go in 0.1 s: a tenth of full a frame, what comes in beside it, and dither */
    ck_assert_int_le(together, fading[_i] == 0 ? 16 : fading[_i]);
    ck_assert_int_ge(together, fading[_i] == 0 ? 8 : fading[_i] < 8 ? fading[_i] : 8);
    ck_assert_uint_le(last, 7400000); /* the last fade of two seconds began, at the latest, after eight tenths */
    for (uint16_t led = 0; led < 64; led++) {
        ck_assert(before[led][2] == (led < 56 ? 255 : 0) && before[led][1] == (led < 56 ? 0 : 255) && before[led][0] == 0);
    }
    for (size_t byte = least; byte < sizeof memory; byte++) {
        ck_assert_uint_eq(((const uint8_t *)memory)[byte], 0x5a);
    }
}
END_TEST

/* Live patches: what is not named goes on undisturbed, what is named glides. */
START_TEST(changed_show_glides) {
    stage_must_open(
        &stage, strip_rig(20),
        "{'show':'t','brightness':'100 %','change':'1 "
        "s','colors':{'c':'#ff0000'},'looks':{'l':{'effect':'plain','color':'c'},'m':{'effect':'comet','speed':'5 leds/s'}},"
        "'segments':{'x':{'surface':'a','leds':10,'look':'l'},'y':{'surface':'a','first':10,'look':'m'}}}");
    stage_run(&stage, 0, 2000000, 100);
    ck_assert_int_eq(stage_show(&stage, "{'show':'t','brightness':'100 %','change':'1 "
                                        "s','colors':{'c':'#0000ff'},'looks':{'l':{'effect':'plain','color':'c'},'m':{'effect':"
                                        "'comet','speed':'5 leds/s'}},"
                                        "'segments':{'x':{'surface':'a','leds':10,'look':'l'},'y':{'surface':'a','first':10,'"
                                        "look':'m','brightness':'0 %'}}}"),
                     GLANZ_OK);
    int last = 255;
    for (uint64_t now = 2000000; now < 3300000; now += 10000) {
        stage_frame(&stage, now);
        int red = stage_led(&stage, 0, 5, 0);
        ck_assert_msg(red <= last + 1 && last - red < 6, "%u: %d after %d", (unsigned)now, red, last);
        last = red;
    }
    ck_assert_int_eq(last, 0);
    ck_assert_uint_eq(stage_led(&stage, 0, 5, 2), 255);
    for (uint16_t i = 10; i < 20; i++) {
        ck_assert_uint_eq(stage_led(&stage, 0, i, 0), 0);
    }
    ck_assert(!glanz_device_uses(stage.device, stage.show_memory[1 - stage.show_slot], stage.show_size[1 - stage.show_slot]));
}
END_TEST

/* Segments change their order, come and go: those that stay show on what they showed. */
START_TEST(segments_keep_what_they_show) {
#define PARTS(order, looks) "{'show':'t','brightness':'100 %%','change':'0 s','looks':{" looks "},'segments':{" order "}}"
    static const char looks[] = "'red':{'effect':'plain','color':'#ff0000'},'green':{'effect':'plain','color':'#00ff00'}";
    char show[900];
    snprintf(show, sizeof show,
             PARTS("'x':{'surface':'a','leds':5,'look':'red'},'y':{'surface':'a','first':5,'leds':5,'look':'green'},'z':{'"
                   "surface':'a','first':10,'leds':5,'look':'red'}",
                   "%s"),
             looks);
    stage_must_open(&stage, strip_rig(20), show);
    stage_run(&stage, 0, 1500000, 100);
    struct glanz_change at_once = {glanz_device_clock(stage.device), 0, 0};
    struct glanz_setting blue = {GLANZ_PLAIN_COLOR, 0, (int32_t)GLANZ_RGB(0, 0, 255)};
    ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 2, &stage.show->looks[1], at_once), GLANZ_OK);
    stage_frame(&stage, 1500000);
    snprintf(show, sizeof show,
             PARTS("'z':{'surface':'a','first':10,'leds':5,'look':'red'},'w':{'surface':'a','first':15,'look':'green'},'x':{'"
                   "surface':'a','leds':5,'look':'red','on':false}",
                   "%s"),
             looks);
    ck_assert_int_eq(stage_show(&stage, show), GLANZ_OK);
    stage_run(&stage, 1510000, 1600000, 100);
    ck_assert(stage_led(&stage, 0, 2, 0) == 0);                                        /* x was switched off */
    ck_assert(stage_led(&stage, 0, 7, 0) == 0 && stage_led(&stage, 0, 7, 1) == 0);     /* y is gone */
    ck_assert(stage_led(&stage, 0, 12, 1) == 255 && stage_led(&stage, 0, 12, 0) == 0); /* z shows on the green it was given */
    ck_assert(stage_led(&stage, 0, 17, 1) == 255);                                     /* w is new */
    /* a change of what waits: three fade, a fourth waits, and its colour is set meanwhile */
    struct glanz_engine *engine = glanz_device_engine(stage.device);
    for (int i = 0; i < 5; i++) {
        struct glanz_change slow = {glanz_device_clock(stage.device), 2000, 0};
        ck_assert_int_eq(glanz_engine_look(engine, 0, i % 2 == 0 ? NULL : &stage.show->looks[0], slow), GLANZ_OK);
        stage_run(&stage, 1600000u + (unsigned)i * 20000, 1620000u + (unsigned)i * 20000, 100);
    }
    struct glanz_change slow = {glanz_device_clock(stage.device), 500, 0};
    ck_assert_int_eq(glanz_engine_set(engine, 0, blue, slow), GLANZ_ERR_ABSENT); /* dark waits */
    ck_assert_int_eq(glanz_engine_look(engine, 0, &stage.show->looks[0], slow), GLANZ_OK);
    ck_assert_int_eq(glanz_engine_set(engine, 0, blue, slow), GLANZ_OK);
    ck_assert(glanz_engine_uses(engine, stage.show_memory[stage.show_slot], stage.show_size[stage.show_slot]));
    stage_run(&stage, 1700000, 4000000, 100);
    ck_assert(stage_led(&stage, 0, 12, 2) == 255 && stage_led(&stage, 0, 12, 0) == 0);
}
END_TEST

/* Shows built from C structs are checked as documents are. */
START_TEST(wrong_structs_are_refused) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    static const struct glanz_setting far[] = {{99, 0, 0}};
    static const struct glanz_item item = {.hold_ms = 10};
    static const struct glanz_playlist empty = {.name = "q", .items = &item, .item_count = 1};
    static const struct glanz_part part = {.segment = 7, .aspects = GLANZ_ASPECT_LOOK};
    static const struct glanz_preset preset = {"p", &part, 1};
    static const struct glanz_action action = {.kind = &glanz_action_play, .target = 3, .over_ms = 0};
    static const struct glanz_trigger trigger = {
        .name = "t", .event = GLANZ_EVENT_RISES, .actions = &action, .action_count = 1};
    static const struct glanz_trigger other = {.name = "t", .event = GLANZ_EVENT_HELD, .actions = &action, .action_count = 1};
    static const uint8_t twice[] = {0, 0};
    struct glanz_look look = {"l", &glanz_effect_pattern, NULL, NULL, NULL, 0, 0, 0, NULL};
    struct glanz_look wide = {"l", &glanz_effect_plain, NULL, NULL, far, 1, 0, 0, NULL};
    struct glanz_segment segments[2];
    struct glanz_show show;
    stage_must_open(&stage, strip_rig(10), show_all);
    GLANZ_CONST struct glanz_rig *rig = stage.rig;
    memset(segments, 0, sizeof segments);
    segments[0].name = "s";
    segments[1].name = "t";
    static const char *const words[] = {"needs what it is to show", "out of its parameter's bounds",
                                        "lies over segment",        "every segment once",
                                        "surface of the rig",       "with looks",
                                        "a preset or a playlist",   "what it can do",
                                        "not in the show",          "not in the show"};
    for (int i = 0; i < 10; i++) {
        memset(&show, 0, sizeof show);
        show.name = "c";
        show.looks = i == 0 ? &look : &wide;
        show.look_count = i < 2;
        show.segments = segments;
        show.segment_count = i < 2 ? 0 : 2;
        show.stack = i == 3 ? twice : i > 3 ? (const uint8_t *)"\0\1" : NULL;
        segments[1].surface = i == 4;
        show.presets = &preset;
        show.preset_count = i == 5;
        show.playlists = &empty;
        show.playlist_count = i == 6;
        show.triggers = i == 7 ? &trigger : &other;
        show.trigger_count = i == 7 || i == 8;
        show.start = i == 9 ? &action : NULL;
        ck_assert_int_eq(glanz_show_check(&show, rig, &fault), GLANZ_ERR_SHOW);
        ck_assert_msg(strstr(fault.text, words[i]) != NULL, "%d: %s", i, fault.text);
    }
    struct glanz_rig bad = *rig;
    struct glanz_output output = rig->outputs[0];
    struct glanz_stretch stretch = output.stretches[0];
    struct glanz_surface surface = rig->surfaces[0];
    struct glanz_input input = rig->inputs[0];
    output.stretches = &stretch;
    bad.outputs = &output;
    bad.surfaces = &surface;
    bad.inputs = &input;
    ck_assert_int_eq(glanz_rig_check(&bad, &fault), GLANZ_OK);
    input.kind = 9;
    ck_assert_int_eq(glanz_rig_check(&bad, &fault), GLANZ_ERR_RIG);
    surface.piece_count = 0;
    ck_assert_int_eq(glanz_rig_check(&bad, &fault), GLANZ_ERR_RIG);
    stretch.chip = NULL;
    ck_assert_int_eq(glanz_rig_check(&bad, &fault), GLANZ_ERR_RIG);
    output.stretch_count = 0;
    ck_assert_int_eq(glanz_rig_check(&bad, &fault), GLANZ_ERR_RIG);
    for (int status = -13; status <= 0; status++) {
        ck_assert(strncmp(glanz_status_name((glanz_status)status), status == -13 ? "unknown" : "GLANZ_", 6) == 0);
    }
}
END_TEST

static void nested(const struct glanz_happening *happening, void *user) {
    (void)happening;
    *(glanz_status *)user = glanz_device_frame(stage.device, 5);
}

START_TEST(misuse_is_a_status) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_engine *engine = NULL;
    struct glanz_control *control = NULL;
    struct glanz_device *device = NULL;
    struct glanz_showing showing;
    struct glanz_change change = {0, 0, 0};
    struct glanz_setting setting = {99, 0, 0};
    struct glanz_action action = {.kind = NULL};
    uint64_t memory[64];
    uint8_t shaded;
    uint8_t record[16] = {0};
    const uint8_t *bytes;
    size_t count;
    char name[GLANZ_NAME_MOST + 1];
    stage_must_open(&stage, strip_rig(10), show_all);
    struct glanz_engine *real = glanz_device_engine(stage.device);
    struct glanz_control *hand = glanz_device_control(stage.device);
    struct glanz_setup setup = {.rig = stage.rig, .show = stage.show, .port = &stage.port, .parts = &glanz_everything};
    ck_assert_int_eq(glanz_rig_check(NULL, &fault), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_show_check(NULL, stage.rig, &fault), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_look_check(NULL, &fault), GLANZ_ERR_ARGUMENT);
    ck_assert_uint_eq(glanz_engine_size(&glanz_everything, NULL, 1, 0), 0);
    ck_assert_uint_eq(glanz_engine_size(&glanz_everything, stage.rig, 0, 0), 0);
    ck_assert_uint_eq(glanz_device_size(NULL, 1), 0);
    ck_assert_uint_eq(glanz_control_size(&glanz_everything, NULL, 1), 0);
    ck_assert_int_eq(glanz_engine_start(NULL, memory, sizeof memory, &glanz_everything, stage.rig, 1, 0, NULL),
                     GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_start(&engine, (char *)memory + 1, sizeof memory, &glanz_everything, stage.rig, 1, 0, NULL),
                     GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_start(&engine, memory, sizeof memory, &glanz_everything, stage.rig, 65, 0, NULL),
                     GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_set_segments(NULL, NULL, NULL, 0, NULL, 0, change, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_set_segments(real, NULL, NULL, 1, NULL, 0, change, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_look(NULL, 0, NULL, change), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_look(real, 1, NULL, change), GLANZ_ERR_ABSENT);
    struct glanz_look bad = {"bad", NULL, NULL, NULL, NULL, 0, 0, 0, NULL};
    ck_assert_int_eq(glanz_engine_look(real, 0, &bad, change), GLANZ_ERR_SHOW);
    ck_assert_int_eq(glanz_engine_set(NULL, 0, setting, change), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_set(real, 9, setting, change), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_engine_set(real, 0, setting, change), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_brightness(NULL, 0, 0, change), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_brightness(real, 7, 0, change), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_engine_switch(NULL, 0, 1, change), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_switch(real, 7, 1, change), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_engine_showing(real, 0, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_showing(real, 7, &showing), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_engine_paint(NULL, NULL, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_frame(real, 0, 0, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_frame(NULL, 0, 0, &shaded), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_advance(NULL, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_engine_bytes(real, 4, &bytes, &count), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_engine_bytes(real, 0, NULL, &count), GLANZ_ERR_ARGUMENT);
    glanz_engine_sent(NULL);
    ck_assert(glanz_engine_supply_ua(NULL, 0) == 0 && glanz_engine_output_ua(real, 9) == 0 &&
              glanz_engine_limit_scale(real, 9) == 0);
    ck_assert(glanz_engine_extra_passes(NULL) == 0 && glanz_engine_lightness(NULL) == 0 && !glanz_engine_uses(NULL, memory, 8));
    ck_assert_uint_eq(glanz_engine_dither(NULL).depth, 0);
    ck_assert(glanz_output_leds(NULL) == 0 && glanz_output_bytes(NULL) == 0 && glanz_output_wire_us(NULL) == 0 &&
              glanz_output_ua(NULL, 15) == 0);
    ck_assert_int_eq(glanz_control_start(NULL, memory, sizeof memory, real, stage.rig, 4, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_control_start(&control, memory, 8, real, stage.rig, 4, NULL), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_inbox_push(NULL, 0, 0, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_push(stage.device, 3, 0, 0), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_control_run(NULL, 0, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_control_set_show(hand, NULL, 0, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_control_act(hand, &action, 0), GLANZ_ERR_ARGUMENT);
    action.kind = &glanz_action_recall;
    action.target = 200;
    ck_assert_int_eq(glanz_control_act(hand, &action, 0), GLANZ_ERR_ABSENT);
    ck_assert_uint_eq(glanz_control_playing(NULL, 0, NULL), GLANZ_ALL);
    ck_assert(glanz_control_next(NULL) == UINT64_MAX && glanz_control_next(hand) == UINT64_MAX);
    glanz_control_listen(NULL, NULL, NULL);
    ck_assert_int_eq(glanz_preset_pack(hand, "x", 1, GLANZ_ASPECTS, NULL, 9, &count), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_preset_pack(hand, "x", 1, GLANZ_ASPECTS, record, sizeof record, &count), GLANZ_ERR_FULL);
    ck_assert_int_eq(glanz_preset_name(name, record, sizeof record), GLANZ_ERR_DAMAGED);
    ck_assert_int_eq(glanz_preset_name(name, NULL, 0), GLANZ_ERR_DAMAGED);
    ck_assert_int_eq(glanz_preset_unpack(NULL, glanz_effects, record, 16, change, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_start(NULL, memory, sizeof memory, &setup, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_ERR_MEMORY);
    ck_assert_uint_eq(fault.needed, glanz_device_size(stage.rig, 1));
    struct glanz_port port = stage.port;
    port.busy = NULL;
    setup.port = &port;
    setup.parts = &glanz_everything;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, NULL), GLANZ_ERR_ARGUMENT);
    port = stage.port;
    port.version = 1;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_frame(NULL, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_push(NULL, 0, 0, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_set_show(NULL, NULL, 0, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_set_rig(stage.device, NULL, NULL, 0, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_keep(NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_save(NULL, "x", 1, GLANZ_ASPECTS, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_recall(NULL, "x", 0, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_forget(NULL, "x"), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_device_act(NULL, &action), GLANZ_ERR_ARGUMENT);
    ck_assert(glanz_device_saved(NULL, 0, name) == GLANZ_ERR_ARGUMENT && glanz_device_engine(NULL) == NULL &&
              glanz_device_control(NULL) == NULL);
    ck_assert(glanz_device_rig(NULL) == NULL && glanz_device_show(NULL) == NULL && glanz_device_clock(NULL) == 0);
    ck_assert(glanz_device_trial_ms(NULL) == 0 && glanz_device_uses(NULL, memory, 8) == 0 &&
              glanz_device_counts(NULL).frames == 0);
    glanz_status inner = GLANZ_OK;
    glanz_device_listen(stage.device, nested, &inner); /* from inside a callback */
    glanz_device_push(stage.device, 0, 0, 0);
    stage_frame(&stage, 0);
    ck_assert_int_eq(inner, GLANZ_ERR_STATE);
    static GLANZ_DEVICE_MEMORY(block, 30 * 6, 1, 1, 4);
    ck_assert_uint_ge(sizeof block, glanz_device_size(stage.rig, 4)); /* the constant is never too small */
}
END_TEST

Suite *running_suite(void) {
    Suite *suite = suite_create("running");
    TCase *tcase = tcase_create("Running");
    tcase_add_checked_fixture(tcase, NULL, teardown);
    tcase_set_timeout(tcase, 60);
    tcase_add_loop_test(tcase, nothing_ever_jumps, 0, 5);
    tcase_add_test(tcase, another_layout_is_refused);
    tcase_add_test(tcase, glide_keeps_the_phase);
    tcase_add_test(tcase, button_says_what_was_done);
    tcase_add_test(tcase, playlist_keeps_its_times);
    tcase_add_test(tcase, values_trigger_at_their_level);
    tcase_add_test(tcase, full_inbox_keeps_the_last_edge);
    tcase_add_test(tcase, presets_are_saved_and_come_back);
    tcase_add_test(tcase, preset_touches_only_what_it_names);
    tcase_add_test(tcase, segments_stack);
    tcase_add_test(tcase, lines_of_many_makes);
    tcase_add_test(tcase, still_frames_cost_nothing);
    tcase_add_test(tcase, port_that_fails_is_counted);
    tcase_add_test(tcase, shading_and_sending_overlap);
    tcase_add_test(tcase, light_is_asked_for_between_a_change_and_a_frame);
    tcase_add_test(tcase, bytes_being_sent_are_not_touched);
    tcase_add_test(tcase, clock_may_go_wrong);
    tcase_add_test(tcase, rig_on_trial_goes_back);
    tcase_add_test(tcase, one_call_sets_one_thing);
    tcase_add_test(tcase, two_devices_do_not_meet);
    tcase_add_test(tcase, constant_memory_is_enough);
    tcase_add_test(tcase, looks_at_once_are_chosen);
    tcase_add_test(tcase, light_after_a_cut_is_the_new_look);
    tcase_add_test(tcase, starts_are_refused_with_and_without_words);
    tcase_add_loop_test(tcase, few_looks_fade_for_many_segments, 0, 6);
    tcase_add_test(tcase, changed_show_glides);
    tcase_add_test(tcase, segments_keep_what_they_show);
    tcase_add_test(tcase, wrong_structs_are_refused);
    tcase_add_test(tcase, misuse_is_a_status);
    suite_add_tcase(suite, tcase);
    return suite;
}
