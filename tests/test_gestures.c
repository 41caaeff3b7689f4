/* SPDX-License-Identifier: MIT */
/* Gestures: what buttons, dials, knobs and levels do, told at exact times, at any frame rate and through noise. */
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
    "{'rig':'wheelhouse','supplies':{'s':{'volts':'5 "
    "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':8}]}},'surfaces':{'rail':{'strip':[{'output':'"
    "o','first':0,'leds':8}]}},'inputs':{'bell':{'button':{'pin':2,'pressed':'low','together within':'200 ms','repeats "
    "after':'100 ms'}},'horn':{'button':{'pin':3,'pressed':'high','together within':'200 ms'}},'wind':{'value':{'pin':4,'lost "
    "after':'2 s','lost is':'30 %'}},'gauge':{'sensor':{'pin':5,'lag':'100 ms','lost after':'500 "
    "ms'}},'dial':{'dial':{'pin':6}},'winch':{'knob':{'pin':7,'second pin':8,'steps':10}}}}";
enum { BELL, HORN, WIND, GAUGE, DIAL, WINCH };

#define COUNT(list) (sizeof(list) / sizeof(list)[0])
#define WHEN(text) "'when':{" text "}"

struct waiting {
    const char *name, *text;
};

/* A show with these triggers. One that says nothing of what it does switches the rail. */
static void write_show(char *show, const char *signals, const struct waiting *waits, size_t count) {
    show += sprintf(show,
                    "{'show':'t','brightness':'100 %%','change':'0 s','signals':{%s},'looks':{'w':{'effect':'plain','color':"
                    "'#ffffff'}},'segments':{'rail':{'surface':'rail','look':'w'}},'triggers':{",
                    signals);
    for (size_t i = 0; i < count; i++) {
        const char *does = strstr(waits[i].text, "'do':") == NULL ? ",'do':[{'switch':'rail','on':'other'}]" : "";
        show += sprintf(show, "%s'%s':{%s%s}", i == 0 ? "" : ",", waits[i].name, waits[i].text, does);
    }
    strcpy(show, "}}");
}

/* ---- what was met: which trigger, and when ---- */

static struct met {
    uint64_t at;
    uint8_t trigger;
} met[4096];
static int met_count;

static void note(const struct glanz_happening *happening, void *user) {
    (void)user;
    if (happening->description == GLANZ_HAPPENED_TRIGGER && met_count < 4096) {
        met[met_count].at = happening->at_us;
        met[met_count++].trigger = happening->index;
    }
}

static void open_show(const char *show) {
    stage_must_open(&stage, rig, show);
    met_count = 0;
    glanz_device_listen(stage.device, note, NULL);
}

static void push(uint8_t input, uint16_t value, uint32_t at) {
    ck_assert_int_eq(glanz_device_push(stage.device, input, value, at), GLANZ_OK);
}

struct pushed {
    uint32_t ms;
    uint8_t input;
    uint16_t percent; /* of a value; of a button whether it is pressed */
};

static uint16_t raw(const struct pushed *pushed) {
    return pushed->input == BELL   ? !pushed->percent
           : pushed->input == HORN ? pushed->percent != 0
                                   : (uint16_t)(pushed->percent * 65535u / 100u);
}

/* A script at a frame rate, pushes between frames; to its end. */
static void play(const char *show, const struct pushed *script, int count, uint32_t end_ms, uint32_t rate) {
    open_show(show);
    int next = 0;
    for (uint64_t i = 0; i * 1000000u / rate <= (uint64_t)end_ms * 1000u; i++) {
        uint32_t now = (uint32_t)(i * 1000000u / rate);
        for (; next < count && script[next].ms * 1000u + 137u <= now; next++) {
            push(script[next].input, raw(&script[next]), script[next].ms * 1000u + 137u);
        }
        ck_assert_int_eq(stage_frame(&stage, now), GLANZ_OK);
    }
}

/* Just these, in order: milliseconds and trigger each, closed by -1. Times are told to the microsecond. */
static void expect(const int *wanted, uint32_t rate) {
    int i = 0;
    for (; wanted[2 * i] >= 0; i++) {
        ck_assert_msg(i < met_count, "at %u frames/s: only %d met, trigger %d is missing", rate, met_count, wanted[2 * i + 1]);
        ck_assert_msg(met[i].trigger == wanted[2 * i + 1] && met[i].at == (uint64_t)wanted[2 * i] * 1000u + 137u,
                      "at %u frames/s: number %d is trigger %d at %.3f ms in place of %d at %d.137", rate, i, met[i].trigger,
                      (double)met[i].at / 1000, wanted[2 * i + 1], wanted[2 * i]);
    }
    ck_assert_msg(i == met_count, "at %u frames/s: %d met in place of %d, then trigger %d at %.3f ms", rate, met_count, i,
                  met[i].trigger, (double)met[i].at / 1000);
    stage_close(&stage);
}

static const uint32_t rates[] = {30, 100, 400};

/* Each by hand: margins hold noise back, what stays and is unchanged comes once, at its own time. */
START_TEST(a_level_rises_enters_stays_and_rests) {
    static const struct waiting waits[] = {{"rise", WHEN("'value':'wind','rises above':'50 %','margin':'10 %'")},
                                           {"fall", WHEN("'value':'wind','falls below':'30 %','margin':'10 %'")},
                                           {"in", WHEN("'value':'wind','enters':'60 %','to':'80 %','margin':'5 %'")},
                                           {"out", WHEN("'value':'wind','leaves':'60 %','to':'80 %','margin':'5 %'")},
                                           {"storm", WHEN("'value':'wind','stays above':'70 %','for':'500 ms','margin':'5 %'")},
                                           {"calm", WHEN("'value':'wind','stays below':'20 %','for':'1 s'")},
                                           {"even", WHEN("'value':'wind','unchanged for':'1500 ms','margin':'2 %'")}};
    char show[4000];
    write_show(show, "", waits, COUNT(waits));
    static const struct pushed script[] = {
        {100, WIND, 40},  {200, WIND, 51},  {230, WIND, 49},  {260, WIND, 52},  {300, WIND, 39},  {330, WIND, 55},
        {400, WIND, 61},  {420, WIND, 58},  {440, WIND, 61},  {500, WIND, 72},  {600, WIND, 69},  {900, WIND, 71},
        {1200, WIND, 84}, {1300, WIND, 86}, {1400, WIND, 79}, {1500, WIND, 64}, {1700, WIND, 10}, {2000, WIND, 29},
        {2100, WIND, 9},  {2600, WIND, 10}, {3200, WIND, 11}, {4000, WIND, 9},  {5000, WIND, 14}};
    static const int wanted[] = {/* it begins at 0: below 20 %, and unchanged */
                                 200, 0, 330, 0, 400, 2, 1000, 4, 1300, 3, 1400, 2, 1700, 1, 1700, 3, 3100, 5, 3600, 6, -1};
    for (int r = 0; r < 3; r++) {
        play(show, script, (int)(sizeof script / sizeof script[0]), 5400, rates[r]);
        expect(wanted, rates[r]);
    }
}
END_TEST

/* On waves, whose course is known: at the times of their formula, though frames are rare; a range passed within one frame is
 * entered and left. */
START_TEST(waves_enter_and_leave_at_their_times) {
    static const struct waiting waits[] = {{"in", WHEN("'value':'swell','enters':'40 %','to':'60 %'")},
                                           {"out", WHEN("'value':'swell','leaves':'40 %','to':'60 %'")},
                                           {"quick in", WHEN("'value':'beat','enters':'45 %','to':'55 %'")},
                                           {"quick out", WHEN("'value':'beat','leaves':'45 %','to':'55 %'")},
                                           {"high", WHEN("'value':'swell','stays above':'50 %','for':'300 ms'")},
                                           {"low", WHEN("'value':'day','stays below':'50 %','for':'1 s'")}};
    char show[4000];
    write_show(show,
               "'swell':{'wave':'triangle','period':'2 s'},'beat':{'wave':'triangle','period':'200 "
               "ms'},'day':{'wave':'saw','period':'4 s'}",
               waits, COUNT(waits));
    for (int r = 0; r < 3; r++) {
        open_show(show);
        stage_run(&stage, 0, 8000000, rates[r]);
        int seen[6] = {0, 0, 0, 0, 0, 0};
        for (int i = 0; i < met_count; i++) {
            int n = seen[met[i].trigger]++;
            double at = (double)met[i].at / 1e6;
            double wanted = met[i].trigger == 0   ? n / 2 * 2 + (n % 2 == 0 ? 0.4 : 1.4)
                            : met[i].trigger == 1 ? n / 2 * 2 + (n % 2 == 0 ? 0.6 : 1.6)
                            : met[i].trigger == 2 ? n / 2 * 0.2 + (n % 2 == 0 ? 0.045 : 0.145)
                            : met[i].trigger == 3 ? n / 2 * 0.2 + (n % 2 == 0 ? 0.055 : 0.155)
                            : met[i].trigger == 4 ? n * 2 + 0.8
                                                  : n * 4 + 1;
            if (met[i].trigger == 2 || met[i].trigger == 3) { /* frames of 33 ms see a wave of 200 ms by its corners only */
                ck_assert_msg(rates[r] == 30 || fabs(at - wanted) < 0.006, "%u/s: trigger %d at %.4f in place of %.4f",
                              rates[r], met[i].trigger, at, wanted);
            } else {
                double most =
                    met[i].trigger < 2 && rates[r] == 30 ? 0.017 : 0.0012; /* a corner of the triangle within a frame */
                ck_assert_msg(fabs(at - wanted) < most, "%u/s: trigger %d at %.4f in place of %.4f", rates[r], met[i].trigger,
                              at, wanted);
            }
        }
        ck_assert_msg(seen[0] == 8 && seen[1] == 8 && seen[2] == 80 && seen[3] == 80 && seen[4] == 4 && seen[5] == 2,
                      "%u/s: %d %d %d %d %d %d", rates[r], seen[0], seen[1], seen[2], seen[3], seen[4], seen[5]);
        stage_close(&stage);
    }
}
END_TEST

/* A frame, where its rate has one since the last of these. */
static void frame_if_due(uint32_t now, uint32_t rate) {
    static uint64_t last;
    uint64_t frame = (uint64_t)now * rate / 1000000u;
    if (frame != last) {
        ck_assert_int_eq(stage_frame(&stage, now), GLANZ_OK);
    }
    last = frame;
}

/* A dial by steps of 15 degrees through zero, with noise at the edge of a step; a knob by its own steps; slow and fast. */
START_TEST(dials_and_knobs_turn_by_steps) {
    static const struct waiting waits[] = {
        {"up", WHEN("'value':'dial','is':'turned up'")},        {"down", WHEN("'value':'dial','is':'turned down'")},
        {"fast", WHEN("'value':'dial','is':'turned up fast'")}, {"on", WHEN("'value':'winch','is':'turned up'")},
        {"back", WHEN("'value':'winch','is':'turned down'")},   {"race", WHEN("'value':'winch','is':'turned down fast'")}};
    char show[4000];
    write_show(show, "", waits, COUNT(waits));
    for (int r = 0; r < 3; r++) {
        int seen[6] = {0, 0, 0, 0, 0, 0};
        uint32_t at = 0;
        open_show(show);
        for (int i = 0; i < 4096; i++) { /* twice round in 16 s, with noise of 3 degrees either way */
            double turn = 2.0 * i / 4096;
            int noise = (int)(glanz_hash((uint32_t)i) % 1093u) - 546;
            at += 4000;
            push(DIAL, (uint16_t)((int)(turn * 65536) + noise), at);
            frame_if_due(at, rates[r]);
        }
        for (int i = 0; i < met_count; i++) {
            seen[met[i].trigger]++;
        }
        ck_assert_msg(seen[0] == 48 && seen[1] == 0 && seen[2] == 0, "%d steps up, %d down, %d fast", seen[0], seen[1],
                      seen[2]);
        for (int i = 0; i < 3000; i++) { /* once back, then a jerk half round in 0.2 s */
            double turn = i < 2950 ? 1.0 - i / 2950.0 : (i - 2950) / 100.0;
            at += 4000;
            push(DIAL, (uint16_t)((int)(turn * 65536)), at);
            frame_if_due(at, rates[r]);
        }
        memset(seen, 0, sizeof seen);
        for (int i = 48; i < met_count; i++) {
            seen[met[i].trigger]++;
        }
        ck_assert_msg(seen[1] == 24 && seen[0] >= 11 && seen[0] <= 12 && seen[2] == seen[0] - 1, "%d back, %d up, %d fast",
                      seen[1], seen[0], seen[2]);
        stage_frame(&stage, at);
        met_count = 0;
        static const uint8_t lines[] = {0, 1, 3, 2};
        for (int i = 1; i <= 40; i++) { /* five steps up slowly, five down fast; lines bounce */
            int edge = i <= 20 ? i : 40 - i;
            at += i <= 20 ? 50000u : 10000u;
            push(WINCH, lines[edge & 3], at);
            push(WINCH, lines[(edge + (i <= 20 ? 3 : 1)) & 3], at + 100);
            push(WINCH, lines[edge & 3], at + 200);
            frame_if_due(at + 300, rates[r]);
        }
        stage_frame(&stage, at + 10000);
        memset(seen, 0, sizeof seen);
        for (int i = 0; i < met_count; i++) {
            seen[met[i].trigger]++;
        }
        ck_assert_msg(seen[3] == 5 && seen[4] == 5 && seen[5] == 4, "%d on, %d back, %d fast", seen[3], seen[4], seen[5]);
        stage_close(&stage);
    }
}
END_TEST

/* Two at once, bouncing, in either order: neither is pressed once or held then. Too far apart: both are. */
START_TEST(two_buttons_are_pressed_together) {
    static const struct waiting waits[] = {{"both", WHEN("'button':'bell','is':'pressed together','with':'horn'")},
                                           {"bell", WHEN("'button':'bell','is':'pressed once'")},
                                           {"horn", WHEN("'button':'horn','is':'pressed once'")},
                                           {"long", WHEN("'button':'horn','is':'held'")},
                                           {"still", WHEN("'button':'bell','unchanged for':'3 s'")},
                                           {"again", WHEN("'button':'bell','is':'repeats'")}};
    char show[4000];
    write_show(show, "", waits, COUNT(waits));
    static const struct pushed script[] = {
        {0, BELL, 0},    {1000, BELL, 1}, {1002, BELL, 0}, {1004, BELL, 1}, {1150, HORN, 1}, {1152, HORN, 0},
        {1153, HORN, 1}, {3000, HORN, 0}, {3100, BELL, 0}, {4000, HORN, 1}, {4200, BELL, 1}, /* just in time */
        {4300, HORN, 0}, {4350, BELL, 0}, {5000, HORN, 1}, {5201, BELL, 1},                  /* just too late */
        {5300, HORN, 0}, {5400, BELL, 0}, {6000, BELL, 1}, {7000, BELL, 0}};
    /* held at 6700, then repeats after 100 ms, then each an eighth sooner: 88, 77, 68 */
    static const int wanted[] = {1150, 0, 4200, 0, 5350, 2, 5551, 1, 6800, 5, 6888, 5, 6965, 5, 10000, 4, -1};
    for (int r = 0; r < 3; r++) {
        play(show, script, (int)(sizeof script / sizeof script[0]), 11000, rates[r]);
        expect(wanted, rates[r]);
    }
}
END_TEST

/* A sensor that is not heard of any more has its stated level, and triggers know; what comes after is known too. */
START_TEST(a_sensor_is_lost_and_back) {
    static const struct waiting waits[] = {{"lost", WHEN("'value':'wind','is':'lost'")},
                                           {"back", WHEN("'value':'wind','is':'back'")},
                                           {"low", WHEN("'value':'wind','falls below':'40 %'")},
                                           {"gone", WHEN("'value':'gauge','is':'lost'")}};
    char show[4000];
    write_show(show, "", waits, COUNT(waits));
    static const struct pushed script[] = {{1000, WIND, 90}, {2500, WIND, 80}, {5000, WIND, 70}, {5500, GAUGE, 50}};
    static const int wanted[] = {4500, 2, 4500, 0, 5000, 1, 6000, 3, 7000, 2, 7000, 0, -1};
    for (int r = 0; r < 3; r++) {
        play(show, script, 4, 7500, rates[r]);
        ck_assert_uint_eq(glanz_control_level(glanz_device_control(stage.device), WIND), (30 * 65535u + 50) / 100);
        ck_assert_uint_lt(glanz_control_level(glanz_device_control(stage.device), GAUGE), 200); /* smoothed, towards 0 */
        expect(wanted, rates[r]);
    }
}
END_TEST

/* Not met again so soon, however often it happens; and of three actions one each time. */
START_TEST(triggers_wait_and_take_turns) {
    static const struct waiting waits[] = {
        {"t", "'when':{'value':'wind','rises above':'50 %'},'not again within':'1 s','do':[{'brightness':'10 %','over':'0 "
              "s'},{'brightness':'20 %','over':'0 s'},{'brightness':'30 %','over':'0 s'}],'by turns':true"}};
    char show[4000];
    write_show(show, "", waits, COUNT(waits));
    static const uint16_t levels[] = {6554, 13107, 19661};
    open_show(show);
    stage_run(&stage, 0, 2000000, 100); /* it has come on */
    int wanted = 0;
    uint32_t last = 0;
    for (uint32_t i = 0; i < 900; i++) {
        uint32_t at = 2000000u + i * 17321u;
        push(WIND, i % 2 == 0 ? 60000 : 100, at);
        stage_frame(&stage, at + 5000);
        if (i % 2 == 0 && (wanted == 0 || at - last >= 1000000u)) {
            last = at;
            wanted++;
            ck_assert_int_eq(met_count, wanted);
            ck_assert_uint_eq(glanz_engine_lightness_asked(glanz_device_engine(stage.device)), levels[(wanted - 1) % 3]);
        }
        ck_assert_int_eq(met_count, wanted);
    }
    ck_assert_int_gt(wanted, 12);
}
END_TEST

/* Another show is taken: what it waits for as before goes on, whatever stands beside it; what is new begins. */
START_TEST(another_show_goes_on_waiting) {
    static const struct waiting first_waits[] = {
        {"storm", WHEN("'value':'wind','stays above':'50 %','for':'2 s'")},
        {"even", WHEN("'value':'wind','unchanged for':'3 s'")},
        {"t", "'when':{'value':'wind','rises above':'90 %'},'not again within':'10 s'"}};
    char first[4000];
    write_show(first, "", first_waits, COUNT(first_waits));
    static const struct waiting second_waits[] = {
        {"new", WHEN("'value':'wind','stays above':'30 %','for':'1 s'")},
        {"t", "'when':{'value':'wind','rises above':'90 %'},'not again within':'10 s'"},
        {"even", WHEN("'value':'wind','unchanged for':'3 s'")},
        {"storm", WHEN("'value':'wind','stays above':'50 %','for':'2 s'")}};
    char second[4000];
    write_show(second, "", second_waits, COUNT(second_waits));
    open_show(first);
    stage_run(&stage, 0, 1000000, 100);
    push(WIND, 62000, 1000000);
    stage_run(&stage, 1000000, 2000000, 100);
    ck_assert_int_eq(met_count, 1); /* above 90 % */
    ck_assert_int_eq(stage_show(&stage, second), GLANZ_OK);
    push(WIND, 62000, 2900137);
    stage_run(&stage, 2000000, 3100000, 100);
    ck_assert_int_eq(met_count, 3);
    ck_assert_msg(met[2].trigger == 3 && met[2].at == 3000000, "%d at %u, %d at %u", met[1].trigger, (unsigned)met[1].at,
                  met[2].trigger, (unsigned)met[2].at);
    ck_assert(met[2].trigger == 3 && met[2].at == 3000000); /* the storm, since it began */
    ck_assert(met[1].trigger == 0 && met[1].at >= 2980000 && met[1].at <= 3000137);
    stage_close(&stage);
}
END_TEST

/* At the limits that may be set, from edges that bounce up to them. */
START_TEST(buttons_keep_to_their_times) {
    static const struct {
        unsigned settle, twice, held;
    } sets[] = {{1, 50, 50}, {20, 350, 700}, {200, 5000, 60000}, {5, 300, 100}, {200, 450, 300}};
    static const char pattern[] = "{'rig':'r','supplies':{'s':{'volts':'5 "
                                  "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':8}]}},'surfaces':"
                                  "{'rail':{'strip':[{'output':'o','first':0,'leds':8}]}},'inputs':{'bell':{'button':{'pin':2,'"
                                  "pressed':'high','settle':'%u ms','twice within':'%u ms','held after':'%u ms'}}}}";
    static const struct waiting waits[] = {{"press", WHEN("'button':'bell','is':'pressed'")},
                                           {"once", WHEN("'button':'bell','is':'pressed once'")},
                                           {"twice", WHEN("'button':'bell','is':'pressed twice'")},
                                           {"held", WHEN("'button':'bell','is':'held'")},
                                           {"off", WHEN("'button':'bell','is':'released'")}};
    char show[4000];
    write_show(show, "", waits, COUNT(waits));
    for (unsigned s = 0; s < sizeof sets / sizeof sets[0]; s++) {
        char text[600];
        unsigned settle = sets[s].settle * 1000;
        unsigned twice = sets[s].twice * 1000;
        unsigned held = sets[s].held * 1000;
        snprintf(text, sizeof text, pattern, sets[s].settle, sets[s].twice, sets[s].held);
        stage_must_open(&stage, text, show);
        met_count = 0;
        glanz_device_listen(stage.device, note, NULL);
        stage_run(&stage, 0, 1000000, 100);
        unsigned down = held > settle ? settle + (held - settle) / 2 : settle;
        uint32_t at = 1000000;
        uint64_t wanted[16][2];
        int count = 0;
        /* once, bouncing until just before it settles; held to the microsecond; twice, just in time */
        for (int kind = 0; kind < 3; kind++) {
            uint32_t up = at + (kind == 1 ? held + 1000 : down < held ? down : held - 1);
            up = up < at + settle ? at + settle : up;
            glanz_device_push(stage.device, 0, 1, at);
            glanz_device_push(stage.device, 0, 0, at + settle / 3);
            glanz_device_push(stage.device, 0, 1, at + settle - 1);
            stage_frame(&stage, up - 1);
            glanz_device_push(stage.device, 0, 0, up);
            wanted[count][0] = at;
            wanted[count++][1] = 0;
            if (up - at > held || (up - at == held && kind == 1)) {
                wanted[count][0] = at + held;
                wanted[count++][1] = 3;
            }
            uint32_t end = up + settle + 1000;
            if (kind == 2 && end < at + twice && up - at < held) {
                uint32_t second = at + twice;
                stage_frame(&stage, end);
                wanted[count][0] = up;
                wanted[count++][1] = 4;
                glanz_device_push(stage.device, 0, 1, second);
                wanted[count][0] = second;
                wanted[count++][1] = 0;
                wanted[count][0] = second;
                wanted[count++][1] = 2;
                up = second + settle;
                stage_frame(&stage, up - 1);
                glanz_device_push(stage.device, 0, 0, up);
                end = up;
                wanted[count][0] = up;
                wanted[count++][1] = 4;
            } else {
                wanted[count][0] = up;
                wanted[count++][1] = 4;
                if (up - at < held) {
                    wanted[count][0] = at + twice > up ? at + twice : up;
                    wanted[count++][1] = 1;
                }
            }
            end = (end > at + twice ? end : at + twice) + 2 * settle + 20000;
            stage_frame(&stage, end);
            at = end + 1000000;
            stage_frame(&stage, at);
        }
        for (int i = 0; i < count; i++) {
            ck_assert_msg(i < met_count && met[i].trigger == wanted[i][1] && met[i].at == wanted[i][0],
                          "set %u: number %d is trigger %d at %u us in place of %d at %u", s, i,
                          i < met_count ? met[i].trigger : -1, i < met_count ? (unsigned)met[i].at : 0, (int)wanted[i][1],
                          (unsigned)wanted[i][0]);
        }
        ck_assert_int_eq(met_count, count);
        stage_close(&stage);
    }
}
END_TEST

/* What cannot be waited for is refused, with the place and what would do. */
START_TEST(what_cannot_be_waited_for_is_refused) {
    static const char *const wrong[][2] = {
        {"'button':'bell','is':'turned up'", "a button does not do this"},
        {"'value':'dial','is':'held'", "only a button does this"},
        {"'button':'bell','is':'pressed together'", "the key \"with\" is missing here"},
        {"'button':'bell','is':'held','with':'horn'", "expected no \"with\" with this"},
        {"'button':'bell','is':'pressed together','with':'bell'", "another button"},
        {"'button':'bell','is':'pressed together','with':'dial'", "another button"},
        {"'value':'wind','enters':'40 %'", "the key \"to\" is missing here"},
        {"'value':'wind','enters':'40 %','to':'40 %'", "a range with a width"},
        {"'value':'wind','leaves':'60 %','to':'40 %'", "a range with a width"},
        {"'value':'wind','leaves':'5 %','to':'95 %','margin':'6 %'", "never left"},
        {"'value':'dial','leaves':'90 %','to':'10 %','margin':'45 %'", "never left"},
        {"'value':'wind','stays above':'40 %'", "the key \"for\" is missing here"},
        {"'value':'wind','rises above':'40 %','for':'2 s'", "expected no \"for\" with this"},
        {"'value':'wind','rises above':'40 %','falls below':'30 %'", "expected one of: is, rises above"},
        {"'value':'dial','rises above':'40 %','margin':'3 %'", "expected no margin"},
        {"'value':'wind','stays above':'40 %','for':'50 ms'", "100 ms"},
        {"'value':'dial','is':'lost'", "never lost"},
        {"'button':'bell','rises above':'40 %'", "a button does not do this"},
        {"'button':'bell','value':'wind','is':'held'", "expected one of: button, value"},
        {"'value':'wind'", "expected one of: is, rises above"}};
    for (unsigned i = 0; i < sizeof wrong / sizeof wrong[0]; i++) {
        char show[900];
        snprintf(show, sizeof show,
                 "{'show':'t','looks':{'w':{'effect':'plain'}},'segments':{'rail':{'surface':'rail','look':'w'}},'triggers':{'"
                 "t':{'when':{%s},'do':[{'switch':'rail','on':'other'}]}}}",
                 wrong[i][0]);
        ck_assert_int_ne(stage_open(&stage, rig, show), GLANZ_OK);
        ck_assert_msg(strstr(stage.fault.text, wrong[i][1]) != NULL, "%s: %s", wrong[i][0], stage.fault.text);
        stage_close(&stage);
    }
}
END_TEST

/* Without its part a show that needs it is refused by its name. */
START_TEST(the_part_is_named) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    static const struct waiting waits[] = {{"even", WHEN("'value':'wind','unchanged for':'2 s'")}};
    char show[1000];
    write_show(show, "", waits, COUNT(waits));
    stage_must_open(&stage, rig, show);
    ck_assert_uint_ne(glanz_parts_needed(stage.rig, stage.show) & GLANZ_PART_GESTURES, 0);
    struct glanz_parts parts = glanz_everything;
    parts.gestures = NULL;
    struct glanz_setup setup = {.rig = stage.rig, .show = stage.show, .port = &stage.port, .parts = &parts};
    static uint64_t memory[6000];
    struct glanz_device *device = NULL;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_ERR_ABSENT);
    ck_assert_ptr_nonnull(strstr(fault.text, "gestures"));
}
END_TEST

Suite *gestures_suite(void) {
    Suite *suite = suite_create("gestures");
    TCase *tests = tcase_create("gestures");
    tcase_set_timeout(tests, 60);
    tcase_add_checked_fixture(tests, NULL, teardown);
    tcase_add_test(tests, a_level_rises_enters_stays_and_rests);
    tcase_add_test(tests, waves_enter_and_leave_at_their_times);
    tcase_add_test(tests, dials_and_knobs_turn_by_steps);
    tcase_add_test(tests, two_buttons_are_pressed_together);
    tcase_add_test(tests, a_sensor_is_lost_and_back);
    tcase_add_test(tests, triggers_wait_and_take_turns);
    tcase_add_test(tests, another_show_goes_on_waiting);
    tcase_add_test(tests, buttons_keep_to_their_times);
    tcase_add_test(tests, what_cannot_be_waited_for_is_refused);
    tcase_add_test(tests, the_part_is_named);
    suite_add_tcase(suite, tests);
    return suite;
}
