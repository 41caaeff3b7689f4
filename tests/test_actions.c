/* SPDX-License-Identifier: MIT */
/* Actions on what shows: numbers, palettes, contents; for a time; another one; a tempo; standing still; all as at the start. */
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

static const char rig[] =
    "{'rig':'pier','supplies':{'s':{'volts':'5 "
    "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':60}]}},"
    "'surfaces':{'rail':{'strip':[{'output':'o','first':0,'leds':30}]},'mast':{'strip':[{'output':'o','first':30,'leds':30}]}},"
    "'inputs':{'bell':{'button':{'pin':2,'pressed':'low'}},'crank':{'knob':{'pin':3,'second "
    "pin':4,'steps':20,'endless':true}}}}";
#define BODY                                                                                                                   \
    "'show':'t','brightness':'100 %','change':'0 s','colors':{'buoy':'#ff4000'},'palettes':{'dusk':{'stops':["                 \
    "{'at':'0 %','color':'#200040'},{'at':'100 %','color':'#ff8000'}]},'tide':{'stops':[{'at':'0 %','color':'#000010'},{'at'"  \
    ":'100 %','color':'#00ffff'}]},'sand':{'stops':[{'at':'0 %','color':'#402000'},{'at':'100 %','color':'#ffe0a0'}]}},"       \
    "'looks':{'point':{'effect':'walker','color':'#ff0000','size':'3 leds','speed':'10 leds/s'},'stream':{'effect':'flow',"    \
    "'palette':'dusk','speed':'0.5 lengths/s'},'calm':{'effect':'plain','color':'#004080'},'knots':{'effect':'pattern',"       \
    "'blocks':'2 #ff0000, 3 #0000ff','speed':'0 leds/s'},'ropes':{'effect':'pattern','blocks':'1 #00ff00, 1 #ffffff',"         \
    "'speed':'0 leds/s'},'pulse':{'effect':'breathing','color':'#ffffff','low':'20 %','speed':'4 s/pass'}},"                   \
    "'segments':{'rail':{'surface':'rail','look':'point'},'mast':{'surface':'mast','look':'stream'}}"
static const char show[] =
    "{" BODY ",'presets':{'one':{'rail':'calm'},'two':{'rail':'point','mast':'calm'},'three':{'rail':"
    "'pulse'},'red':{'rail':{'brightness':'30 %'}}},'playlists':{'round':{'items':[{'preset':'one','hold'"
    ":'2 s'},{'preset':'three','hold':'2 s'}]}}}";
enum { RAIL, MAST };

static struct glanz_showing shows(uint8_t segment) {
    struct glanz_showing showing;
    ck_assert_int_eq(glanz_engine_showing(glanz_device_engine(stage.device), segment, &showing), GLANZ_OK);
    return showing;
}

static const char *look_of(uint8_t segment) {
    const char *name = shows(segment).name;
    return name == NULL ? "dark" : name;
}

/* An action that has nothing to do just now. */
static void does_nothing(const char *text, glanz_status wanted) {
    struct glanz_action action;
    uint64_t memory[256];
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    const char *json = quoted(text);
    ck_assert_int_eq(glanz_action_read(&action, memory, sizeof memory, json, strlen(json), stage.rig, stage.show, &fault),
                     GLANZ_OK);
    glanz_status status = glanz_device_act(stage.device, &action);
    ck_assert_msg(status == wanted, "%s: %s", text, glanz_status_name(status));
}

/* Numbers of what shows: set, added to, multiplied, within their bounds; another effect, another unit are left alone. */
START_TEST(numbers_are_adjusted) {
    stage_must_open(&stage, rig, show);
    stage_frame(&stage, 0);
    stage_do(&stage, "{'adjust':'rail','number':'speed','to':'-4 leds/s'}");
    ck_assert_int_eq(shows(RAIL).number[GLANZ_WALKER_SPEED], -4 * 65536);
    stage_do(&stage, "{'adjust':'rail','number':'speed','by':'6.5 leds/s'}");
    ck_assert_int_eq(shows(RAIL).number[GLANZ_WALKER_SPEED], 163840);
    stage_do(&stage, "{'adjust':'rail','number':'speed','times':'-200 %'}");
    ck_assert_int_eq(shows(RAIL).number[GLANZ_WALKER_SPEED], -327680);
    for (int i = 0; i < 40; i++) {
        stage_do(&stage, "{'adjust':'rail','number':'speed','times':'250 %'}");
    }
    ck_assert_int_eq(shows(RAIL).number[GLANZ_WALKER_SPEED], -GLANZ_FIXED(10000));
    does_nothing("{'adjust':'rail','number':'speed','by':'1 lengths/s'}",
                 GLANZ_ERR_ABSENT); /* in another unit than it is: nothing */
    ck_assert_int_eq(shows(RAIL).number[GLANZ_WALKER_SPEED], -GLANZ_FIXED(10000));
    stage_do(&stage, "{'adjust':'rail','number':'size','by':'-1.5 leds'}");
    ck_assert_int_eq(shows(RAIL).number[GLANZ_WALKER_SIZE], GLANZ_FIXED(1.5));
    for (int i = 0; i < 9; i++) {
        stage_do(&stage, "{'adjust':'rail','number':'size','by':'-1 leds'}");
    }
    ck_assert_int_eq(shows(RAIL).number[GLANZ_WALKER_SIZE], shows(RAIL).effect->params[GLANZ_WALKER_SIZE].low);
    stage_do(&stage, "{'adjust':'rail','number':'color','to':'buoy'}");
    stage_frame(&stage, 10000);
    struct glanz_seen seen;
    ck_assert_int_eq(glanz_engine_seen(glanz_device_engine(stage.device), RAIL, &seen), GLANZ_OK);
    ck_assert_uint_eq(seen.color[0].red, 65535);
    ck_assert_uint_eq(seen.color[0].blue, 0);
    ck_assert(seen.color[0].green > 0);
    struct glanz_showing before = shows(MAST);
    does_nothing("{'adjust':'mast','number':'color','to':'#00ff00'}", GLANZ_ERR_ABSENT); /* it has none */
    does_nothing("{'adjust':'mast','number':'size','to':'5 leds'}", GLANZ_ERR_ABSENT);
    struct glanz_showing after = shows(MAST);
    ck_assert_mem_eq(&before, &after, sizeof before);
    stage_do(&stage, "{'look':'pulse','segment':'mast'}");
    stage_do(&stage, "{'adjust':'mast','number':'speed','times':'200 %'}"); /* twice as fast is half of the time */
    ck_assert_int_eq(shows(MAST).number[GLANZ_BREATHING_SPEED], 2000);
    for (int i = 0; i < 200; i++) { /* however often: never so fast that it stands still */
        stage_do(&stage, "{'adjust':'mast','number':'speed','times':'110 %'}");
        ck_assert_int_gt(shows(MAST).number[GLANZ_BREATHING_SPEED], 0);
    }
    int32_t before_slower = shows(MAST).number[GLANZ_BREATHING_SPEED];
    for (int i = 0; i < 30; i++) { /* and slower again, each time */
        stage_do(&stage, "{'adjust':'mast','number':'speed','times':'-95 %'}");
        ck_assert_int_gt(abs(shows(MAST).number[GLANZ_BREATHING_SPEED]), abs(before_slower));
        before_slower = shows(MAST).number[GLANZ_BREATHING_SPEED];
        ck_assert_int_eq(before_slower < 0, i % 2 == 0);
    }
    stage_do(&stage, "{'adjust':'mast','number':'low','by':'-30 %'}");
    ck_assert_int_eq(shows(MAST).number[GLANZ_BREATHING_LOW], 0);
    stage_do(&stage, "{'adjust':'mast','number':'speed','times':'0 %'}");
    ck_assert_int_eq(shows(MAST).number[GLANZ_BREATHING_SPEED], 0);
    ck_assert_uint_eq(shows(MAST).unit[GLANZ_BREATHING_SPEED], GLANZ_UNIT_PASSES);
    for (int i = 0; i < 6; i++) {
        stage_do(&stage, "{'undo':true}");
    }
    ck_assert_uint_eq(glanz_control_undoable(glanz_device_control(stage.device)), 0);
}
END_TEST

/* A palette where one is shown, a pattern where one is: on whatever runs; and from its start. */
START_TEST(palettes_and_contents_are_put_on_what_shows) {
    stage_must_open(&stage, rig, show);
    stage_run(&stage, 0, 1200000, 100); /* it has come on */
    stage_do(&stage, "{'palette':'tide','segment':'mast'}");
    ck_assert_ptr_eq(shows(MAST).gradient, stage.show->palettes[1].gradient);
    ck_assert_str_eq(look_of(MAST), "stream");
    struct glanz_showing before = shows(RAIL);
    does_nothing("{'content':'knots','segment':'rail'}", GLANZ_ERR_ABSENT);
    struct glanz_showing after = shows(RAIL);
    ck_assert_mem_eq(&before, &after, sizeof before);
    stage_do(&stage, "{'palette':'tide','segment':'rail'}"); /* it takes none: the lightest and the darkest colour */
    ck_assert_int_eq(shows(RAIL).number[GLANZ_WALKER_COLOR], 0x00ffff);
    ck_assert_int_eq(shows(RAIL).number[GLANZ_WALKER_BACKGROUND], 0x000010);
    stage_do(&stage, "{'undo':true}");
    after = shows(RAIL);
    ck_assert_mem_eq(&before, &after, sizeof before);
    stage_do(&stage, "{'look':'knots','segment':'rail'}");
    does_nothing("{'palette':'tide','segment':'rail'}", GLANZ_ERR_ABSENT); /* LEDs that are coloured one by one */
    stage_frame(&stage, 1210000);
    stage_frame(&stage, 1220000);
    ck_assert_uint_eq(stage_led(&stage, 0, 0, 1), 0);
    stage_do(&stage, "{'content':'ropes','segment':'rail'}");
    stage_frame(&stage, 1230000);
    stage_frame(&stage, 1240000);
    ck_assert_uint_eq(stage_led(&stage, 0, 0, 1), 255);
    ck_assert_uint_eq(stage_led(&stage, 0, 0, 0), 0);
    ck_assert_uint_eq(stage_led(&stage, 0, 1, 2), 255);
    stage_do(&stage, "{'look':'point','segment':'rail'}");
    stage_run(&stage, 1250000, 2040000, 100);
    stage_do(&stage, "{'begin again':'rail'}");
    stage_run(&stage, 2050000, 2350000, 100); /* it comes in from before the first LED: three LEDs in 0.3 s */
    uint32_t near_start = (uint32_t)stage_led(&stage, 0, 0, 0) + stage_led(&stage, 0, 1, 0) + stage_led(&stage, 0, 2, 0);
    ck_assert_uint_gt(near_start, 600);
}
END_TEST

static uint16_t lightness(void) {
    return glanz_engine_lightness_asked(glanz_device_engine(stage.device));
}

/* What was there comes back at its time, at any frame rate; a second one prolongs it; a hand that changes it meanwhile keeps
 * it. */
START_TEST(changes_for_a_time_come_back) {
    static const uint32_t rates[] = {30, 100, 400};
    for (int r = 0; r < 3; r++) {
        stage_must_open(&stage, rig, show);
        stage_run(&stage, 0, 1000000, rates[r]);
        stage_do(&stage, "{'look':'calm','segment':'rail','for':'2 s'}");
        stage_do(&stage, "{'brightness':'20 %','segment':'rail','for':'500 ms'}"); /* both end then: one time a segment */
        stage_do(&stage, "{'brightness':'40 %','for':'3 s'}");
        ck_assert_uint_eq(shows(RAIL).brightness, 13107);
        glanz_us due = glanz_control_next(glanz_device_control(stage.device));
        ck_assert_uint_ge(due, 1450000);
        ck_assert_uint_le(due, 1500000);
        stage_run(&stage, 1000000, 1600000, rates[r]);
        ck_assert_str_eq(look_of(RAIL), "point");
        ck_assert_uint_eq(shows(RAIL).brightness, 65535);
        ck_assert_uint_eq(lightness(), 26214);
        stage_run(&stage, 1600000, 4100000, rates[r]);
        ck_assert_uint_eq(lightness(), 65535);
        stage_do(&stage, "{'recall':'two','for':'1 s'}");
        stage_run(&stage, 4100000, 4900000, rates[r]);
        stage_do(&stage, "{'look':'pulse','segment':'mast','for':'1 s'}"); /* what comes back is what was at first */
        ck_assert_str_eq(look_of(MAST), "pulse");
        stage_run(&stage, 4900000, 5800000, rates[r]);
        ck_assert_str_eq(look_of(MAST), "pulse");
        stage_run(&stage, 5800000, 6100000, rates[r]);
        ck_assert_str_eq(look_of(MAST), "stream");
        stage_do(&stage, "{'look':'calm','segment':'mast','for':'1 s'}");
        stage_do(&stage, "{'brightness':'50 %','segment':'mast','for':'1 s'}");
        stage_run(&stage, 6100000, 6500000, rates[r]);
        stage_do(&stage, "{'look':'pulse','segment':'mast'}"); /* for good: the look stays, the brightness comes back */
        stage_run(&stage, 6500000, 8000000, rates[r]);
        ck_assert_str_eq(look_of(MAST), "pulse");
        ck_assert_uint_eq(shows(MAST).brightness, 65535);
        stage_do(&stage, "{'adjust':'mast','number':'low','to':'90 %','for':'1 s'}");
        stage_do(&stage, "{'undo':true}");
        ck_assert_int_eq(shows(MAST).number[GLANZ_BREATHING_LOW], GLANZ_PERCENT(20));
        stage_do(&stage, "{'adjust':'mast','number':'low','to':'70 %'}");
        stage_run(&stage, 8000000, 9500000, rates[r]);
        ck_assert_int_eq(shows(MAST).number[GLANZ_BREATHING_LOW], GLANZ_PERCENT(70));
        ck_assert(glanz_control_next(glanz_device_control(stage.device)) == GLANZ_NEVER);
        stage_close(&stage);
    }
}
END_TEST

/* A part of a preset that would come later than the preset goes back does not come; one that has come goes back. */
START_TEST(what_comes_later_goes_back_too) {
    static const char *const recalls[] = {"{'recall':'late','for':'1 s'}", "{'recall':'late','for':'4 s'}"};
    static const char late[] = "{" BODY ",'presets':{'late':{'rail':{'look':'calm','later':'3 s'}}}}";
    for (int i = 0; i < 2; i++) {
        stage_must_open(&stage, rig, late);
        stage_run(&stage, 0, 1000000, 100);
        stage_do(&stage, recalls[i]);
        stage_run(&stage, 1000000, 4500000, 100);
        ck_assert_int_eq(stage_led(&stage, 0, 29, 2) != 0, i == 1); /* blue, which only what comes later has */
        stage_run(&stage, 4500000, 9000000, 100);
        ck_assert_int_eq(stage_led(&stage, 0, 29, 2), 0);
        ck_assert_str_eq(look_of(RAIL), "point");
        stage_close(&stage);
    }
}
END_TEST

/* Asleep it stays dark when a brightness goes back, and wakes to that; after a power cut nothing is left of what was for a
 * time.
 */
START_TEST(what_passes_does_not_outlive_sleep_or_power) {
    static uint8_t record[2000];
    size_t count = sizeof record;
    stage_must_open(&stage, rig, show);
    struct glanz_control *control = glanz_device_control(stage.device);
    stage_run(&stage, 0, 1000000, 100);
    stage_do(&stage, "{'brightness':'80 %'}");
    stage_do(&stage, "{'brightness':'30 %','for':'3 s'}");
    stage_do(&stage, "{'sleep':'1 s'}");
    stage_run(&stage, 1000000, 6000000, 100);
    ck_assert_uint_eq(glanz_control_asleep(control), 2);
    ck_assert_uint_eq(lightness(), 0);
    stage_do(&stage, "{'switch':'mast','on':true}"); /* somebody is there */
    ck_assert_uint_eq(lightness(), GLANZ_LIGHTNESS(80));
    stage_run(&stage, 6000000, 7000000, 100);
    stage_do(&stage, "{'brightness':'30 %','for':'1 min'}");
    stage_do(&stage, "{'look':'calm','segment':'rail','for':'1 min'}");
    stage_do(&stage, "{'brightness':'10 %','segment':'rail','for':'1 min'}");
    stage_do(&stage, "{'brightness':'50 %','segment':'mast'}");
    stage_do(&stage, "{'switch':'mast','on':false,'for':'1 min'}");
    stage_run(&stage, 7000000, 8000000, 100);
    ck_assert_str_eq(look_of(RAIL), "calm");
    ck_assert_int_eq(glanz_running_pack(control, record, sizeof record, &count), GLANZ_OK);
    stage_close(&stage);
    stage_must_open(&stage, rig, show);
    stage_frame(&stage, 0);
    ck_assert_int_eq(glanz_running_unpack(glanz_device_control(stage.device), glanz_effects, record, count, 0, 0, NULL),
                     GLANZ_OK);
    stage_run(&stage, 0, 2000000, 100);
    ck_assert_str_eq(look_of(RAIL), "point");
    ck_assert_uint_eq(shows(RAIL).brightness, 65535);
    ck_assert_uint_eq(shows(MAST).on, 1);
    ck_assert_uint_le(labs((long)shows(MAST).brightness - (long)GLANZ_LIGHTNESS(50)), 1);
    ck_assert_uint_eq(lightness(), GLANZ_LIGHTNESS(80));
}
END_TEST

/* Under it a playlist has gone on; another show is taken; more run at once than there are places. */
START_TEST(what_comes_back_is_what_runs_now) {
    stage_must_open(&stage, rig, show);
    stage_run(&stage, 0, 1000000, 100);
    stage_do(&stage, "{'play':'round'}");
    stage_run(&stage, 1000000, 1500000, 100);
    ck_assert_str_eq(look_of(RAIL), "calm");
    stage_do(&stage, "{'look':'knots','segment':'rail','for':'4500 ms'}"); /* the next item comes in before */
    stage_run(&stage, 1500000, 3500000, 100);
    ck_assert_str_eq(look_of(RAIL), "pulse");
    stage_run(&stage, 3500000, 5500000, 100);
    ck_assert_str_eq(look_of(RAIL), "calm");
    stage_do(&stage, "{'look':'knots','segment':'rail','for':'1 s'}");
    stage_run(&stage, 5500000, 6100000, 100);
    ck_assert_str_eq(look_of(RAIL), "knots");
    stage_run(&stage, 6100000, 6900000, 100);
    ck_assert_str_eq(look_of(RAIL), "calm"); /* of the item that plays, and not what was */
    stage_do(&stage, "{'stop':'round'}");
    stage_do(&stage, "{'look':'point','segment':'rail'}");
    stage_do(&stage, "{'look':'knots','segment':'rail','for':'2 s'}");
    stage_run(&stage, 6900000, 7500000, 100);
    GLANZ_CONST struct glanz_show *old = stage.show;
    ck_assert(glanz_device_uses(stage.device, old, sizeof *old));
    ck_assert_int_eq(stage_show(&stage, "{" BODY ",'presets':{'one':{'rail':'calm'}}}"), GLANZ_OK);
    stage_run(&stage, 7500000, 8500000, 100);
    ck_assert_str_eq(look_of(RAIL), "knots");
    ck_assert(!glanz_device_uses(stage.device, old, sizeof *old));
    stage_run(&stage, 8500000, 9500000, 100);
    ck_assert_str_eq(look_of(RAIL), "point");
    ck_assert(shows(RAIL).content == NULL);
    stage_close(&stage);
    /* the one that would end first ends, where a fourth begins */
    char many[3000] = "{'show':'t','change':'0 "
                      "s','looks':{'a':{'effect':'plain','color':'#ff0000'},'b':{'effect':'plain','color':'#00ff00'}},"
                      "'segments':{";
    for (int i = 0; i < 5; i++) {
        char text[100];
        snprintf(text, sizeof text, "%s'%c':{'surface':'rail','first':%d,'leds':2,'look':'a'}", i == 0 ? "" : ",", 'p' + i,
                 2 * i);
        strcat(many, text);
    }
    strcat(many, "}}");
    stage_must_open(&stage, rig, many);
    stage_frame(&stage, 0);
    for (int i = 0; i < 5; i++) {
        char text[100];
        snprintf(text, sizeof text, "{'look':'b','segment':'%c','for':'%d s'}", 'p' + i, 10 - i);
        stage_do(&stage, text);
    }
    ck_assert_int_eq(GLANZ_PASSING, 3);
    ck_assert_str_eq(look_of(0), "b");
    ck_assert_str_eq(look_of(1), "b");
    ck_assert_str_eq(look_of(2), "a");
    ck_assert_str_eq(look_of(3), "a");
    ck_assert_str_eq(look_of(4), "b");
    stage_run(&stage, 0, 11000000, 100);
    for (uint8_t i = 0; i < 5; i++) {
        ck_assert_str_eq(look_of(i), "a");
    }
}
END_TEST

/* The next comes after the last, the previous before the first; by lot never the same, and each in time. */
START_TEST(another_one_of_the_shows) {
    static const char *const presets[] = {"calm", "point", "pulse"};
    stage_must_open(&stage, rig, show);
    stage_frame(&stage, 0);
    for (int i = 0; i < 8; i++) {
        stage_do(&stage, "{'another preset':'next'}");
        if (i % 4 < 3) {
            ck_assert_str_eq(look_of(RAIL), presets[i % 4]);
        }
    }
    stage_do(&stage, "{'another preset':'previous'}");
    ck_assert_str_eq(look_of(RAIL), "pulse");
    stage_do(&stage, "{'another look':'previous','segment':'rail'}");
    ck_assert_str_eq(look_of(RAIL), "ropes");
    stage_do(&stage, "{'another look':'next','segment':'rail'}");
    stage_do(&stage, "{'another look':'next','segment':'rail'}");
    ck_assert_str_eq(look_of(RAIL), "point");
    unsigned seen = 0;
    stage_do(&stage, "{'look':'stream','segment':'mast'}");
    for (int i = 0; i < 60; i++) {
        GLANZ_CONST struct glanz_gradient *before = shows(MAST).gradient;
        stage_do(&stage,
                 i % 3 == 0 ? "{'another palette':'next','segment':'mast'}" : "{'another palette':'random','segment':'mast'}");
        for (int k = 0; k < 3; k++) {
            seen |= shows(MAST).gradient == stage.show->palettes[k].gradient ? 1u << k : 0;
        }
        ck_assert_ptr_ne(shows(MAST).gradient, before);
    }
    ck_assert_uint_eq(seen, 7);
    ck_assert_str_eq(look_of(MAST), "stream");
}
END_TEST

/* Taps that a hand makes: within some per cent after four of them; a new tempo counts at once, one tap by itself does nothing.
 */
START_TEST(a_tempo_is_tapped) {
    static const int apart[] = {500, 512, 489, 503, 497, 506, 492, 501, 340, 338, 343, 341};
    stage_must_open(&stage, rig, show);
    stage_do(&stage, "{'look':'pulse','segment':'mast'}");
    stage_do(&stage, "{'adjust':'mast','number':'speed','times':'-100 %'}");
    uint64_t at = 1000000;
    stage_run(&stage, 0, at, 100);
    for (int i = 0; i < 12; i++) {
        stage_do(&stage, "{'tap':'mast'}");
        int ms = shows(MAST).number[GLANZ_BREATHING_SPEED];
        if (i == 0 || i == 9) {
            ck_assert_int_eq(ms, i == 0 ? -4000 : shows(MAST).number[GLANZ_BREATHING_SPEED]);
        } else if (i > 2 && i != 9) {
            int wanted = i < 9 ? 500 : 340;
            ck_assert_msg(abs(ms + wanted) <= 15, "tap %d: %d ms for a pass in place of %d", i, ms, -wanted);
        }
        stage_run(&stage, at, at + (uint64_t)apart[i] * 1000u, 1000);
        at += (uint64_t)apart[i] * 1000u;
    }
    int32_t before = shows(MAST).number[GLANZ_BREATHING_SPEED];
    stage_run(&stage, at, at + 4000000, 100);
    stage_do(&stage, "{'tap':'mast'}");
    stage_do(&stage, "{'tap':'mast'}"); /* a bounce */
    ck_assert_int_eq(shows(MAST).number[GLANZ_BREATHING_SPEED], before);
}
END_TEST

static double place_of_light(void) {
    struct glanz_light lights[30];
    double sum = 0;
    double at = 0;
    ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, lights, 30), GLANZ_OK);
    for (int i = 0; i < 30; i++) {
        sum += lights[i].red;
        at += lights[i].red * (double)i;
    }
    return at / sum;
}

/* Frozen: the light stays as it is; by single frames; it goes on where it stood. The same at any rate. */
START_TEST(what_moves_stands_still) {
    static const uint32_t rates[] = {50, 100, 400};
    for (int r = 0; r < 3; r++) {
        stage_must_open(&stage, rig, show);
        stage_run(&stage, 0, 1000000, rates[r]);
        stage_do(&stage, "{'freeze':true}");
        stage_run(&stage, 1000000, 1100000, rates[r]);
        struct glanz_light still[60];
        struct glanz_light now[60];
        ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, still, 60), GLANZ_OK);
        stage_run(&stage, 1100000, 2000000, rates[r]);
        ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, now, 60), GLANZ_OK);
        ck_assert_mem_eq(still, now, sizeof now); /* bytes differ by dither only */
        ck_assert_int_eq(glanz_engine_frozen(glanz_device_engine(stage.device)), 1);
        uint8_t before[180];
        memcpy(before, stage.bytes[0], 180);
        for (int i = 0; i < 20; i++) { /* 20 frames of 10 ms: two LEDs on */
            stage_do(&stage, "{'step':true}");
            stage_run(&stage, 2000000 + (uint64_t)i * 40000u, 2040000 + (uint64_t)i * 40000u, rates[r]);
        }
        ck_assert_mem_ne(before, stage.bytes[0], 180);
        stage_do(&stage, "{'freeze':true,'on':'other'}");
        stage_run(&stage, 2800000, 3300000, rates[r]);
        double place = place_of_light();
        does_nothing("{'step':true}", GLANZ_ERR_STATE); /* nothing is frozen */
        stage_close(&stage);
        stage_must_open(&stage, rig, show); /* it has moved for 1 s, 0.2 s and 0.5 s, each less a frame and more */
        stage_run(&stage, 0, 1000000, rates[r]);
        stage_frame(&stage, 1700000 - 1000000 / rates[r]);
        ck_assert_msg(fabs(place - place_of_light()) < 0.001, "at %u/s at %.4f, unfrozen at %.4f", rates[r], place,
                      place_of_light());
        stage_close(&stage);
    }
}
END_TEST

/* After anything at all: as at power-on, and it can be undone. */
START_TEST(clear_all_is_as_at_power_on) {
    stage_must_open(&stage, rig, show);
    stage_run(&stage, 0, 3000000, 100);
    static const char *const done[] = {"{'play':'round'}",
                                       "{'take over':'mast','aspects':['look']}",
                                       "{'look':'calm','segment':'mast'}",
                                       "{'switch':'rail','on':false}",
                                       "{'brightness':'10 %'}",
                                       "{'brightness':'10 %','segment':'mast','for':'2 s'}",
                                       "{'brightness':'90 %','for':'2 s'}",
                                       "{'freeze':true}"};
    for (unsigned i = 0; i < sizeof done / sizeof done[0]; i++) {
        stage_do(&stage, done[i]);
    }
    stage_run(&stage, 3000000, 4000000, 100);
    uint16_t before = lightness();
    stage_do(&stage, "{'clear all':true}");
    stage_run(&stage, 4000000, 9000000, 100);
    ck_assert_str_eq(look_of(RAIL), "point");
    ck_assert_str_eq(look_of(MAST), "stream");
    ck_assert_uint_eq(shows(RAIL).on, 1);
    ck_assert_uint_eq(shows(MAST).brightness, 65535);
    ck_assert_uint_eq(lightness(), 65535);
    ck_assert_uint_eq(glanz_control_taken(glanz_device_control(stage.device), MAST), 0);
    ck_assert_uint_eq(glanz_control_playing(glanz_device_control(stage.device), 0, NULL), GLANZ_ALL);
    ck_assert_int_eq(glanz_engine_frozen(glanz_device_engine(stage.device)), 0);
    stage_do(&stage, "{'undo':true}"); /* all of it at once */
    ck_assert_str_eq(look_of(MAST), "calm");
    ck_assert_uint_eq(shows(RAIL).on, 0);
    ck_assert_uint_eq(lightness(), before);
    ck_assert_uint_ne(before, 65535);
}
END_TEST

/* One look, with other numbers on each segment, in presets later on each; and two that draw by the same lot. */
START_TEST(one_look_on_many_segments) {
    static const uint32_t rates[] = {40, 100, 400};
    static const char many[] =
        "{'show':'t','brightness':'100 %','change':'0 s','looks':{'dot':{'effect':'walker','size':'1 leds','speed':'10 leds/s',"
        "'color':'#ff0000'},'stars':{'effect':'twinkle','speed':'0.5 "
        "passes/s'}},'segments':{'a':{'surface':'rail','leds':15,'look':"
        "'dot','numbers':{'speed':'-10 leds/s','size':'2 leds'}},'b':{'surface':'rail','first':15,'leds':15,'look':'dot'},'c':{"
        "'surface':'mast','leds':15,'look':'stars','seed':4},'d':{'surface':'mast','first':15,'look':'stars','seed':4}},'"
        "presets':{"
        "'wave':{'a':'dot','b':{'look':'dot','later':'300 ms','numbers':{'color':'#00ff00'}},'c':{'look':'dot','later':'600 "
        "ms'},'d':{"
        "'look':'dot','later':'900 ms','numbers':{'speed':'5 leds/s'}}}}}";
    for (int r = 0; r < 3; r++) {
        stage_must_open(&stage, rig, many);
        ck_assert_int_eq(shows(0).number[GLANZ_WALKER_SPEED], -GLANZ_FIXED(10));
        ck_assert_int_eq(shows(0).number[GLANZ_WALKER_SIZE], GLANZ_FIXED(2));
        ck_assert_int_eq(shows(1).number[GLANZ_WALKER_SPEED], GLANZ_FIXED(10));
        stage_run(&stage, 0, 1200000, rates[r]);
        struct glanz_light lights[60];
        ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, lights, 60), GLANZ_OK);
        ck_assert_mem_eq(&lights[30], &lights[45], 15 * sizeof lights[0]); /* the same stars */
        struct glanz_action wave = {.kind = &glanz_action_recall, .target = 0, .over_ms = 0, .again = 1};
        ck_assert_int_eq(glanz_control_act(glanz_device_control(stage.device), &wave, 1203000), GLANZ_OK);
        stage_run(&stage, 1200000, 2600000, rates[r]);
        stage_frame(&stage, 2603000); /* 1.4, 1.1, 0.8 and 0.5 s after each began */
        ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), 0, 0, lights, 60), GLANZ_OK);
        static const double wanted[] = {14, 11, 8, 2.5};
        for (int s = 0; s < 4; s++) {
            double sum = 0;
            double at = 0;
            for (int i = 0; i < 15; i++) {
                double light = s == 1 ? lights[15 * s + i].green : lights[15 * s + i].red;
                sum += light;
                at += light * (i + 0.5);
            }
            ck_assert_msg(sum > 0 && fabs(at / sum - (wanted[s] - 0.5)) < 0.07,
                          "at %u/s segment %d is at %.3f in place of %.3f", rates[r], s, at / sum, wanted[s] - 0.5);
        }
        stage_close(&stage);
    }
    /* numbers stay when the show is taken anew, and are its own again after all is cleared */
    stage_must_open(&stage, rig, many);
    stage_frame(&stage, 0);
    ck_assert_int_eq(stage_show(&stage, many), GLANZ_OK);
    ck_assert_int_eq(shows(0).number[GLANZ_WALKER_SPEED], -GLANZ_FIXED(10));
    stage_do(&stage, "{'adjust':'a','number':'speed','to':'1 leds/s'}");
    stage_do(&stage, "{'clear all':true}");
    ck_assert_int_eq(shows(0).number[GLANZ_WALKER_SPEED], -GLANZ_FIXED(10));
    stage_close(&stage);
    static const char *const wrong[][2] = {{"'numbers':{'speed':'1 leds/s'}", "expected a \"look\""},
                                           {"'look':'w','numbers':{'heat':'1 %'}", "unknown key"},
                                           {"'look':'w','numbers':{'color':'1 %'}", "colour"},
                                           {"'look':'w','later':'11 min'", "10 min"}};
    for (int i = 0; i < 4; i++) {
        char text[600];
        snprintf(text, sizeof text, "%s%s%s",
                 "{'show':'t','looks':{'w':{'effect':'plain'}},'segments':{'rail':{'surface':'rail'}},'presets':{'p':{'rail':{",
                 wrong[i][0], "}}}}");
        ck_assert_int_ne(stage_open(&stage, rig, text), GLANZ_OK);
        ck_assert_msg(strstr(stage.fault.text, wrong[i][1]) != NULL, "%s: %s", wrong[i][0], stage.fault.text);
        stage_close(&stage);
    }
}
END_TEST

/* A playlist has gone on over what a hand did: to undo that would bring back what is long gone. Before it, all can be undone.
 */
START_TEST(an_undo_brings_back_nothing_that_has_gone) {
    stage_must_open(&stage, rig, show);
    stage_run(&stage, 0, 1000000, 100);
    stage_do(&stage, "{'look':'knots','segment':'rail'}");
    stage_do(&stage, "{'play':'round'}");
    stage_run(&stage, 1000000, 2000000, 100);
    stage_do(&stage, "{'look':'ropes','segment':'rail'}");
    stage_do(&stage, "{'look':'calm','segment':'mast'}");
    stage_run(&stage, 2000000, 3500000, 100); /* the next item */
    ck_assert_str_eq(look_of(RAIL), "pulse");
    stage_do(&stage, "{'undo':true}"); /* the mast, where nothing plays */
    ck_assert_str_eq(look_of(MAST), "stream");
    ck_assert_str_eq(look_of(RAIL), "pulse");
    stage_do(&stage, "{'undo':true}"); /* not the ropes: the playlist itself */
    ck_assert_str_eq(look_of(RAIL), "knots");
    ck_assert_uint_eq(glanz_control_playing(glanz_device_control(stage.device), 0, NULL), GLANZ_ALL);
    stage_do(&stage, "{'undo':true}");
    ck_assert_str_eq(look_of(RAIL), "point");
    does_nothing("{'undo':true}", GLANZ_ERR_ABSENT);
}
END_TEST

static glanz_color color_of_rail(void) {
    return (glanz_color)shows(RAIL).number[GLANZ_WALKER_COLOR];
}

/* Hue, saturation and lightness of a colour, however it was given: set, added to, multiplied; round the circle, within 0 to 100
 * %. */
START_TEST(numbers_of_colors_are_adjusted) {
    struct glanz_seen seen;
    stage_must_open(&stage, rig, show);
    stage_frame(&stage, 0);
    stage_do(&stage, "{'adjust':'rail','number':'hue of color','by':'120 deg'}"); /* from #ff0000 */
    ck_assert_uint_eq(color_of_rail(), GLANZ_HSL(120, 100, 50));
    stage_frame(&stage, 10000);
    ck_assert_int_eq(glanz_engine_seen(glanz_device_engine(stage.device), RAIL, &seen), GLANZ_OK);
    ck_assert(seen.color[0].red == 0 && seen.color[0].green == 65535 && seen.color[0].blue == 0);
    for (int i = 0; i < 50; i++) { /* fifty steps of a knob: 1 to 400 degrees backwards, and round */
        ck_assert_uint_eq(color_of_rail(), GLANZ_HSL((120 + 3600 - 8 * i) % 360, 100, 50));
        stage_do(&stage, "{'adjust':'rail','number':'hue of color','by':'-8 deg'}");
    }
    stage_do(&stage, "{'adjust':'rail','number':'hue of color','to':'-30 deg'}");
    ck_assert_uint_eq(color_of_rail(), GLANZ_HSL(330, 100, 50));
    stage_do(&stage, "{'adjust':'rail','number':'lightness of color','times':'150 %'}");
    stage_do(&stage, "{'adjust':'rail','number':'saturation of color','by':'-40 %'}");
    ck_assert_uint_eq(color_of_rail(), GLANZ_HSL(330, 60, 75));
    for (int i = 0; i < 5; i++) {
        stage_do(&stage, "{'adjust':'rail','number':'lightness of color','by':'10 %'}");
        stage_do(&stage, "{'adjust':'rail','number':'saturation of color','times':'-5 %'}");
    }
    ck_assert_uint_eq(color_of_rail(), GLANZ_HSL(330, 0, 100));         /* its hue is not forgotten */
    stage_do(&stage, "{'adjust':'rail','number':'color','to':'buoy'}"); /* by name: #ff4000 */
    stage_do(&stage, "{'adjust':'rail','number':'saturation of color','to':'50 %'}");
    ck_assert_uint_eq(color_of_rail(), GLANZ_HSL(15, 50, 50));
    stage_do(&stage, "{'adjust':'rail','number':'color','to':'2700 K'}");
    stage_do(&stage, "{'adjust':'rail','number':'lightness of color','times':'100 %'}");
    struct glanz_light kelvin = glanz_color_light(GLANZ_KELVIN(2700), NULL, 0);
    struct glanz_light same = glanz_color_light(color_of_rail(), NULL, 0);
    ck_assert_int_eq(color_of_rail() >> 24, 2);
    ck_assert(abs(glanz_coded(kelvin.red) - glanz_coded(same.red)) <= 3 &&
              abs(glanz_coded(kelvin.green) - glanz_coded(same.green)) <= 3 &&
              abs(glanz_coded(kelvin.blue) - glanz_coded(same.blue)) <= 3);
    stage_do(&stage, "{'undo':true}");
    ck_assert_uint_eq(color_of_rail(), GLANZ_KELVIN(2700));
    does_nothing("{'adjust':'mast','number':'hue of color','by':'10 deg'}", GLANZ_ERR_ABSENT); /* it has no colour */
    /* built in C: what cannot be is refused at the start */
    for (uint8_t wrong = 0; wrong < 3; wrong++) {
        struct glanz_action action = {
            .kind = &glanz_action_adjust, .param = "color", .kind_of_param = GLANZ_PARAM_COLOR, .value = 65536};
        action.of_color = wrong == 0 ? GLANZ_COLOR_LIGHTNESS + 1 : GLANZ_COLOR_HUE;
        action.kind_of_param = wrong == 1 ? GLANZ_PARAM_RATE : GLANZ_PARAM_COLOR;
        action.by = wrong == 2 ? GLANZ_CHANGE_TIMES : GLANZ_CHANGE_BY;
        struct glanz_show with = *stage.show;
        with.start = &action;
        ck_assert_int_eq(glanz_show_check(&with, stage.rig, &stage.fault), GLANZ_ERR_SHOW);
        action.kind_of_param = GLANZ_PARAM_COLOR;
        action.of_color = GLANZ_COLOR_LIGHTNESS;
        ck_assert_int_eq(glanz_show_check(&with, stage.rig, &stage.fault), GLANZ_OK);
    }
}
END_TEST

/* What cannot be done is refused where it is written. */
START_TEST(wrong_actions_are_refused) {
    static const char *const wrong[][2] = {
        {"'adjust':'rail','to':'3 leds'", "the key \"number\" is missing"},
        {"'adjust':'rail','number':'speed'", "expected one of: to, by, times"},
        {"'adjust':'rail','number':'speed','to':'1 leds/s','by':'1 leds/s'", "expected one of: to, by, times"},
        {"'adjust':'rail','number':'heat','to':'3 %'", "no look of the show has such a number"},
        {"'adjust':'rail','number':'way','to':'bounce'", "a choice of words"},
        {"'adjust':'rail','number':'color','by':'3 %'", "can be set only"},
        {"'adjust':'rail','number':'color','times':'30 %'", "cannot be multiplied"},
        {"'adjust':'rail','number':'speed','to':'30 %'", "expected a speed"},
        {"'adjust':'rail','number':'hue of speed','by':'3 deg'", "no look of the show has such a colour"},
        {"'adjust':'rail','number':'hue of ','by':'3 deg'", "expected one of its keys, such as hue of color"},
        {"'adjust':'rail','number':'hue of color','times':'30 %'", "cannot be multiplied"},
        {"'adjust':'rail','number':'hue of color','by':'0.4 deg'", "whole degrees and percents"},
        {"'adjust':'rail','number':'lightness of color','by':'-0.3 %'", "whole degrees and percents"},
        {"'adjust':'rail','number':'lightness of color','to':'101 %'", "100 %"},
        {"'adjust':'rail','number':'saturation of color','to':'#ff0000'", "expected a share"},
        {"'adjust':'keel','number':'speed','to':'1 leds/s'", "no such segment; expected one of: rail, mast"},
        {"'palette':'dusk'", "the key \"segment\" is missing"},
        {"'palette':'night','segment':'rail'", "no such palette"},
        {"'content':'calm','segment':'rail'", "shows no text"},
        {"'another look':'next'", "the key \"segment\" is missing"},
        {"'another preset':'last'", "next, previous, random"},
        {"'undo':true,'for':'2 s'", "expected no \"for\""},
        {"'brightness':'3 %','for':'20 ms'", "100 ms"},
        {"'freeze':false", "expected true"},
        {"'freeze':true,'on':'yes'", "true"}};
    for (unsigned i = 0; i < sizeof wrong / sizeof wrong[0]; i++) {
        char text[2600];
        snprintf(text, sizeof text, "%s%s%s", "{" BODY ",'triggers':{'t':{'when':{'button':'bell','is':'held'},'do':[{",
                 wrong[i][0], "}]}}}");
        ck_assert_int_ne(stage_open(&stage, rig, text), GLANZ_OK);
        ck_assert_msg(strstr(stage.fault.text, wrong[i][1]) != NULL, "%s: %s", wrong[i][0], stage.fault.text);
        stage_close(&stage);
    }
    /* an action by itself has the show's palettes only */
    stage_must_open(&stage, rig, show);
    struct glanz_action action;
    uint64_t memory[256];
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    const char *text = quoted("{'palette':'harbour','segment':'mast'}");
    ck_assert_int_ne(glanz_action_read(&action, memory, sizeof memory, text, strlen(text), stage.rig, stage.show, &fault),
                     GLANZ_OK);
}
END_TEST

Suite *actions_suite(void) {
    Suite *suite = suite_create("actions");
    TCase *tests = tcase_create("actions");
    tcase_set_timeout(tests, 60);
    tcase_add_checked_fixture(tests, NULL, teardown);
    tcase_add_test(tests, numbers_are_adjusted);
    tcase_add_test(tests, numbers_of_colors_are_adjusted);
    tcase_add_test(tests, palettes_and_contents_are_put_on_what_shows);
    tcase_add_test(tests, changes_for_a_time_come_back);
    tcase_add_test(tests, what_comes_later_goes_back_too);
    tcase_add_test(tests, what_passes_does_not_outlive_sleep_or_power);
    tcase_add_test(tests, what_comes_back_is_what_runs_now);
    tcase_add_test(tests, another_one_of_the_shows);
    tcase_add_test(tests, a_tempo_is_tapped);
    tcase_add_test(tests, what_moves_stands_still);
    tcase_add_test(tests, clear_all_is_as_at_power_on);
    tcase_add_test(tests, an_undo_brings_back_nothing_that_has_gone);
    tcase_add_test(tests, one_look_on_many_segments);
    tcase_add_test(tests, wrong_actions_are_refused);
    suite_add_tcase(suite, tests);
    return suite;
}
