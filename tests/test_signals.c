/* SPDX-License-Identifier: MIT */
/* Signals and drives: what hands, dials, waves and clocks do to light, the same at any frame rate, and without a leap. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <glanz/linux.h>

#include "stage.h"
#include "suites.h"

static struct stage stage;

static void teardown(void) {
    stage_close(&stage);
}

static const char rig[] = "{'rig':'wheelhouse','supplies':{'s':{'volts':'5 "
                          "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':24}]},"
                          "'p':{'pin':2,'supply':'s','line':[{'chip':'WS2812B','leds':60}]}},'surfaces':{'wheel':{'ring':[{'"
                          "output':'o','first':0,'leds':24}]},"
                          "'rail':{'strip':[{'output':'p','first':0,'leds':60}]}},'inputs':{'dial':{'dial':{'pin':3}},'lever':{"
                          "'sensor':{'pin':4,'low':'10 %','high':"
                          "'90 %'}},'vane':{'dial':{'pin':5,'zero':'90 deg','reversed':true,'lag':'100 "
                          "ms'}},'gauge':{'sensor':{'pin':6,'lag':'200 ms'}},"
                          "'knob':{'knob':{'pin':7,'second pin':8,'steps':12}},'winch':{'knob':{'pin':9,'second "
                          "pin':10,'steps':8,'edges':2,'endless':true,"
                          "'reversed':true}},'bell':{'button':{'pin':11,'pressed':'low'}},'tide':{'value':{'pin':12}}}}";
enum { DIAL, LEVER, VANE, GAUGE, KNOB, WINCH, BELL, TIDE, INPUTS };

#define SHOW(signals, wheel, rail, rest)                                                                                       \
    "{'show':'t','brightness':'100 \\u0025','change':'0 s','signals':{" signals "},'looks':{'w':" wheel ",'r':" rail           \
    ",'dark':{'effect':'plain','color':'#000000'}},'segments':{'wheel':{'surface':'wheel','look':'w'},'rail':{'surface':'"     \
    "rail','look':'r'}}" rest "}"
#define DARK "{'effect':'plain','color':'#000000'}"

static struct glanz_light lights[60];

static void look_at(uint8_t output, uint16_t count) {
    ck_assert_int_eq(glanz_engine_light(glanz_device_engine(stage.device), output, 0, lights, count), GLANZ_OK);
}

/* Where the light of a ring is, in LEDs from the first; of a line too. */
static double middle(uint8_t output, uint16_t count, int ring) {
    double x = 0;
    double y = 0;
    double sum = 0;
    look_at(output, count);
    for (uint16_t i = 0; i < count; i++) {
        double light = lights[i].red;
        x += ring ? light * cos(2 * M_PI * i / count) : light * i;
        y += ring ? light * sin(2 * M_PI * i / count) : 0;
        sum += light;
    }
    if (ring) {
        double place = atan2(y, x) / (2 * M_PI) * count;
        return place < 0 ? place + count : place;
    }
    return sum == 0 ? -1 : x / sum;
}

static double round_apart(double a, double b, double all) {
    double apart = fmod(fabs(a - b), all);
    return apart > all / 2 ? all - apart : apart;
}

/* A hand on the dial: forward through zero, back through it, a rest, a jerk. Turns at a time in seconds. */
static double hand(double t) {
    return t < 1     ? 0.8 + 0.5 * t * t
           : t < 2   ? 1.3 - 0.9 * (t - 1)
           : t < 2.5 ? 0.4
           : t < 2.6 ? 0.4 + 4 * (t - 2.5)
                     : 0.8 - 0.3 * sin(3 * (t - 2.6));
}

static uint32_t read_after = 700; /* readings fall between frames, or, with 0, just on them */

/* The light is placed, at each tenth of a second, with the dial read at 200 Hz and frames at a rate. */
static void turn_dial(double *places, int count, unsigned rate, int rail, double speed_most) {
    double before = -1;
    unsigned pushes = 0;
    for (unsigned f = 0; f <= (unsigned)count * rate / 10; f++) {
        uint64_t at = (uint64_t)f * 1000000u / rate;
        for (; pushes * 5000u + read_after <= at; pushes++) {
            uint32_t when = pushes * 5000u + read_after;
            double turns = rail ? 0.5 + 0.45 * sin(when / 4e5) : hand(when / 1e6);
            uint16_t value = (uint16_t)(int64_t)floor(turns * 65536);
            ck_assert_int_eq(glanz_device_push(stage.device, rail ? LEVER : DIAL, value, when), GLANZ_OK);
        }
        ck_assert_int_eq(stage_frame(&stage, at), GLANZ_OK);
        double place = middle(rail ? 1 : 0, rail ? 60 : 24, !rail);
        if (before >= 0 && at > 200000) { /* the first reading is where it begins */
            double moved = rail ? fabs(place - before) : round_apart(place, before, 24);
            REQUIRE_MSG(moved <= speed_most * (1.0 / rate + 0.005) + 0.13,
                        "at %u frames/s the light moves %.3f LEDs in a frame, at %.3f s", rate, moved, at / 1e6);
        }
        before = place;
        if (f % (rate / 10) == 0) {
            places[f / (rate / 10)] = place;
        }
    }
}

static const unsigned rates[] = {30, 60, 100, 200};

static void compare_rates(const char *what, const char *show, int count, int rail, double speed_most) {
    double places[4][64];
    double worst = 0;
    for (int r = 0; r < 4; r++) {
        stage_must_open(&stage, rig, show);
        turn_dial(places[r], count, rates[r], rail, speed_most);
        stage_close(&stage);
    }
    for (int r = 0; r < 3; r++) {
        for (int i = 1; i < count; i++) {
            double apart = rail ? fabs(places[r][i] - places[3][i]) : round_apart(places[r][i], places[3][i], 24);
            worst = apart > worst ? apart : worst;
            REQUIRE_MSG(apart <= 1 / 16.0, "%s: at %u frames/s %.4f LEDs from where it is at 200, after %d ms", what, rates[r],
                        apart, i * 100);
        }
    }
    printf("%s at 30 to 200 frames/s: within %.4f LED\n", what, worst);
}

/* The dial turns 4 times a second at the most, which is 96 LEDs. */
START_TEST(a_dial_turns_a_point_through_zero_and_back) {
    compare_rates("a dial turns a point",
                  SHOW("",
                       "{'effect':'needle','color':'#ffffff','width':'3 leds','bearing':{'follows':'dial','from':'0 deg',"
                       "'to':'360 deg','rise':'0 ms','fall':'0 ms'}}",
                       DARK, ""),
                  40, 0, 97);
    compare_rates("the same with half-lives of 60 ms",
                  SHOW("",
                       "{'effect':'needle','color':'#ffffff','width':'3 leds','bearing':{'follows':'dial',"
                       "'from':'0 deg','to':'360 deg'}}",
                       DARK, ""),
                  40, 0, 97);
    compare_rates("twice round for once, backward",
                  SHOW("",
                       "{'effect':'needle','color':'#ffffff','width':'2 leds','bearing':{'follows':'dial',"
                       "'from':'360 deg','to':'-360 deg','rise':'30 ms','fall':'90 ms'}}",
                       DARK, ""),
                  40, 0, 194);
}
END_TEST

/* The speed goes from -30 through zero to 30 LEDs a second and back, by a lever: places are alike, so it was integrated alike.
 */
START_TEST(a_lever_drives_a_speed_through_zero) {
    compare_rates("a lever drives a speed",
                  SHOW("", DARK,
                       "{'effect':'walker','color':'#ffffff','size':'3 leds','way':'there and back','speed':{'follows':"
                       "'lever','from':'-14 leds/s','to':'14 leds/s','rise':'0 ms','fall':'0 ms'}}",
                       ""),
                  40, 1, 15);
    compare_rates(
        "the same, smoothed, curved, at rest in the middle",
        SHOW("", DARK,
             "{'effect':'walker','color':'#ffffff','size':'3 leds','way':'there and back','speed':{'follows':'lever','from':"
             "'14 leds/s','to':'-14 leds/s','rise':'40 ms','fall':'300 ms','curve':'gentle','rest':'20 %'}}",
             ""),
        40, 1, 15);
    read_after = 0;
    compare_rates(
        "read just when a frame is made",
        SHOW("", DARK,
             "{'effect':'walker','color':'#ffffff','size':'3 leds','way':'there and back','speed':{'follows':'lever','from':"
             "'-14 leds/s','to':'14 leds/s','rise':'0 ms','fall':'0 ms'}}",
             ""),
        40, 1, 15);
    read_after = 700;
}
END_TEST

/* Waves, alike and right at any frame rate: their level is what their formula says, and where it is passed, a trigger acts just
 * then. */
START_TEST(waves_are_what_their_formula_says) {
    static const char *const forms[] = {"sine", "triangle", "saw", "square", "wander"};
    for (int f = 0; f < 5; f++) {
        uint32_t levels[4][61];
        for (int r = 0; r < 4; r++) {
            char show[1500];
            snprintf(show, sizeof show,
                     SHOW("'a':{'wave':'%s','period':'3 s','phase':'90 deg','low':'20 %%','high':'80 %%'}", DARK, DARK, ""),
                     forms[f]);
            stage_must_open(&stage, rig, show);
            for (unsigned i = 0; i <= 60 * rates[r] / 10; i++) {
                ck_assert_int_eq(stage_frame(&stage, (uint64_t)i * 1000000u / rates[r]), GLANZ_OK);
                if (i % (rates[r] / 10) == 0) {
                    levels[r][i / (rates[r] / 10)] = glanz_control_level(glanz_device_control(stage.device), INPUTS);
                }
            }
            stage_close(&stage);
        }
        for (int i = 0; i <= 60; i++) {
            double turns = 0.25 + i / 30.0;
            double part = turns - floor(turns);
            double wanted = f == 0   ? 0.5 + 0.5 * sin(2 * M_PI * part)
                            : f == 1 ? (part < 0.5 ? 2 * part : 2 - 2 * part)
                            : f == 2 ? part
                                     : part < 0.5;
            for (int r = 0; r < 4; r++) {
                ck_assert_uint_eq(levels[r][i], levels[3][i]);
                double is = (levels[r][i] - 0.2 * 65536) / (0.6 * 65536);
                ck_assert_msg(is > -0.001 && is < 1.001, "%s: %f", forms[f], is);
                int at_jump = (f == 2 && fabs(part - 1) < 1e-6) ||
                              (f == 3 && (fabs(part - 0.5) < 1e-6 || part < 1e-6 || part > 1 - 1e-6));
                ck_assert_msg(f == 4 || at_jump || fabs(is - wanted) < 0.001, "%s: %f in place of %f at %d", forms[f], is,
                              wanted, i);
            }
        }
    }
}
END_TEST

static uint64_t met[32];
static int met_count;

static void note(const struct glanz_happening *happening, void *user) {
    (void)user;
    if (happening->description == GLANZ_HAPPENED_TRIGGER && met_count < 32) {
        met[met_count++] = happening->at_us * 4u + happening->index;
    }
}

START_TEST(a_trigger_acts_when_its_level_is_passed) {
    static const char show[] = SHOW("'a':{'wave':'sine','period':'2 s'},'b':{'wave':'square','period':'700 "
                                    "ms'},'c':{'wave':'saw','period':'1300 ms'},'d':{'combine':'larger',"
                                    "'of':'a','and':'a'}",
                                    DARK, DARK,
                                    ",'triggers':{'up':{'when':{'value':'d','rises above':'75 "
                                    "%'},'do':[{'switch':'rail','on':true}]},'down':{'when':{'value':'a','falls below':"
                                    "'50 %'},'do':[{'switch':'rail','on':false}]},'edge':{'when':{'value':'b','rises "
                                    "above':'50 %'},'do':[{'switch':'rail','on':'other'}]},'wrap':{"
                                    "'when':{'value':'c','falls below':'50 %'},'do':[{'switch':'rail','on':'other'}]}}");
    uint64_t times[4][32];
    int counts[4];
    for (int r = 0; r < 4; r++) {
        stage_must_open(&stage, rig, show);
        met_count = 0;
        glanz_device_listen(stage.device, note, NULL);
        for (unsigned i = 0; i <= 5 * rates[r]; i++) {
            ck_assert_int_eq(stage_frame(&stage, (uint64_t)i * 1000000u / rates[r]), GLANZ_OK);
        }
        stage_close(&stage);
        counts[r] = met_count;
        memcpy(times[r], met, sizeof met);
    }
    int seen[4] = {0, 0, 0, 0};
    for (int i = 0; i < counts[3]; i++) {
        unsigned which = (unsigned)(times[3][i] % 4);
        double at = (double)(times[3][i] / 4) / 1e6;
        int n = seen[which]++;
        double wanted = which == 0 ? 2.0 * n + 1.0 / 6 : which == 1 ? 2.0 * n + 1 : which == 2 ? 0.7 * (n + 1) : 1.3 * (n + 1);
        REQUIRE_MSG(fabs(at - wanted) < 0.0006, "trigger %u is met at %.5f s in place of %.5f", which, at, wanted);
        for (int r = 0; r < 3; r++) {
            int found = 0;
            for (int k = 0; k < counts[r]; k++) {
                found |= times[r][k] % 4 == which && fabs((double)(times[r][k] / 4) / 1e6 - wanted) < 0.002;
            }
            REQUIRE_MSG(found, "at %u frames/s trigger %u is not met at %.4f s", rates[r], which, wanted);
        }
    }
    ck_assert(seen[0] == 3 && seen[1] == 2 && seen[2] == 7 && seen[3] == 3);
    for (int r = 0; r < 4; r++) {
        ck_assert_int_eq(counts[r], counts[3]);
    }
}
END_TEST

static uint32_t level(uint8_t signal) {
    return glanz_control_level(glanz_device_control(stage.device), signal);
}

static void push(uint8_t input, uint16_t value, uint32_t at) {
    ck_assert_int_eq(glanz_device_push(stage.device, input, value, at), GLANZ_OK);
}

/* After its half-life a smoothed input has come half of its way, at any frame rate; angles the shorter way. */
START_TEST(sensors_and_dials_are_read_as_the_rig_says) {
    for (int r = 0; r < 4; r++) {
        stage_must_open(&stage, rig, SHOW("", DARK, DARK, ""));
        stage_frame(&stage, 0);
        push(LEVER, 6553, 100);
        push(GAUGE, 0, 100);
        push(VANE, 0, 100); /* 90 deg less, and the other way: 90 deg */
        stage_frame(&stage, 100000);
        ck_assert_uint_eq(level(LEVER), 0);
        ck_assert_uint_eq(level(GAUGE), 0);
        ck_assert_uint_eq(level(VANE), GLANZ_LEVEL_TURN | 16384u);
        push(LEVER, 32768, 100100);
        for (unsigned i = 1; i <= rates[r] / 2; i++) {
            uint64_t at = 100000u + (uint64_t)i * 1000000u / rates[r];
            if (at >= 150000 && at - 1000000u / rates[r] < 150000) {
                push(GAUGE, 65535, 150000);
                push(VANE, 49152, 150000); /* to 180 deg */
            }
            stage_frame(&stage, at);
            if (i == rates[r] / 4 + rates[r] % 4 && rates[r] % 20 == 0) { /* 250 ms: half-lives of 200 and 100 ms */
                ck_assert_msg(abs((int)level(GAUGE) - 32768) < 16, "%u at %u frames/s", level(GAUGE), rates[r]);
                ck_assert_msg(abs((int)(level(VANE) & 0xFFFFu) - (16384 + 16384 * 3 / 4)) < 60, "%u", level(VANE) & 0xFFFFu);
            }
        }
        ck_assert_msg(abs((int)level(LEVER) - 32768) < 3, "%u", level(LEVER));
        push(VANE, 16384 + 3000, 700000); /* across its zero: 357.. deg */
        push(LEVER, 65535, 700000);
        stage_frame(&stage, 7700000);
        ck_assert_uint_eq(level(LEVER), 65536);
        ck_assert_uint_eq(level(VANE), GLANZ_LEVEL_TURN | (65536u - 3000u));
        ck_assert_uint_eq(level(GAUGE), 65536);
        push(BELL, 0, 7700001);
        stage_frame(&stage, 7710000);
        ck_assert_uint_eq(level(BELL), 65536);
        push(BELL, 1, 7750001);
        stage_frame(&stage, 7760000);
        ck_assert_uint_eq(level(BELL), 0);
        push(TIDE, 65535, 7770000);
        stage_frame(&stage, 7780000);
        ck_assert_uint_eq(level(TIDE), 65536);
        stage_close(&stage);
    }
    stage_must_open(&stage, rig, SHOW("", DARK, DARK, "")); /* for the teardown */
}
END_TEST

/* A knob's two lines, with bounces, turned to and fro by lot: it stands where steps were counted, and holds at its ends. */
START_TEST(a_knob_counts_its_steps_through_bounces) {
    static const uint8_t lines[4] = {0, 1, 3, 2};
    stage_must_open(&stage, rig, SHOW("", DARK, DARK, ""));
    uint32_t random = 1;
    uint32_t now = 1000;
    int knob = 0;      /* edges, from 0 to 48 */
    int winch = 0;     /* edges, counted the other way */
    int knob_step = 0; /* goes on when three of four edges are done, both of two */
    int winch_step = 0;
    unsigned knob_at = 0;
    unsigned winch_at = 0;
    push(KNOB, 0, now);
    push(WINCH, 0, now);
    for (int turn = 0; turn < 20000; turn++) {
        random = glanz_hash(random + (uint32_t)turn);
        int way = (random & 0x300u) == 0x300u ? ((random >> 12 & 1u) != 0 ? 1 : -1) : (turn / 60) % 2 == 0 ? 1 : -1;
        unsigned *at = (random & 1u) != 0 ? &knob_at : &winch_at;
        uint8_t input = (random & 1u) != 0 ? KNOB : WINCH;
        *at = (*at + (unsigned)way) & 3u;
        for (unsigned b = 0; b < (random >> 4 & 3u); b++) { /* the contact that closes bounces */
            push(input, lines[*at], now += 40);
            push(input, lines[(*at - (unsigned)way) & 3u], now += 40);
        }
        push(input, lines[*at], now += 40);
        if (input == KNOB) {
            knob += way;
            knob = knob < 0 ? 0 : knob > 48 ? 48 : knob;
            knob_step += knob - 4 * knob_step >= 3 ? 1 : 4 * knob_step - knob >= 3 ? -1 : 0;
        } else {
            winch -= way;
            winch_step += winch - 2 * winch_step >= 2 ? 1 : 2 * winch_step - winch >= 2 ? -1 : 0;
        }
        if (turn % 2 == 1) {
            now += 2000;
            stage_frame(&stage, now);
            uint32_t wanted = (uint32_t)knob_step * 65536u / 12u;
            REQUIRE_MSG(level(KNOB) == wanted, "turn %d: %u in place of %u", turn, level(KNOB), wanted);
            wanted = ((uint32_t)winch_step * 65536u / 8u & 0xFFFFu) | GLANZ_LEVEL_TURN;
            REQUIRE_MSG(level(WINCH) == wanted, "turn %d: %x in place of %x", turn, level(WINCH), wanted);
        }
    }
    ck_assert_uint_eq(glanz_device_counts(stage.device).lost, 0);
}
END_TEST

/* A hue that is driven goes through every degree as the colour itself says, without a step between; so do kelvin and plain
 * ends. */
START_TEST(a_hue_is_driven_evenly) {
    stage_must_open(
        &stage, rig,
        SHOW("",
             "{'effect':'plain','color':{'follows':'tide','from':'hsl(0 100% 50%)','to':'hsl(360 100% 50%)','rise':'0 "
             "ms','fall':"
             "'0 ms'}}",
             "{'effect':'plain','color':{'follows':'tide','from':'#000000','to':'2700 K','rise':'0 ms','fall':'0 ms'},"
             "'brightness':{'follows':'lever','from':'0 %','to':'100 %','rise':'0 ms','fall':'0 ms','curve':'late'}}",
             ""));
    struct glanz_light before = {0, 0, 0};
    push(LEVER, 65535, 0);
    int most = 0;
    for (unsigned i = 0; i <= 3600; i++) {
        push(TIDE, (uint16_t)(i * 65535u / 3600u), i * 10000u + 5000u);
        stage_frame(&stage, (i + 1) * 10000u);
        look_at(0, 1);
        struct glanz_light light = lights[0];
        if (i % 10 == 0) {
            struct glanz_light wanted = glanz_color_light(GLANZ_HSL(i / 10 % 360, 100, 50), NULL, 0);
            ck_assert_msg(abs(light.red - wanted.red) < 40 && abs(light.green - wanted.green) < 40 &&
                              abs(light.blue - wanted.blue) < 40,
                          "degree %u: %u %u %u in place of %u %u %u", i / 10, light.red, light.green, light.blue, wanted.red,
                          wanted.green, wanted.blue);
        }
        if (i > 0) {
            int step = abs(light.red - before.red) + abs(light.green - before.green) + abs(light.blue - before.blue);
            most = step > most ? step : most;
        }
        before = light;
    }
    ck_assert_int_lt(most,
                     65536 / 60 * 4 / 10 * 2); /* a degree at its steepest is about 2.2/60 of all, and this is a tenth of one */
    push(TIDE, 32768, 36100000);
    push(LEVER, 32768, 36100000);
    stage_frame(&stage, 36200000);
    look_at(1, 1);
    struct glanz_light full = glanz_color_light(GLANZ_KELVIN(2700), NULL, 0);
    double gain = glanz_lightness(16384) / 65536.0; /* a quarter of the way: f^2 */
    ck_assert_msg(fabs(lights[0].red - full.red * gain / 2) < 30 && fabs(lights[0].blue - full.blue * gain / 2) < 30, "%u %u",
                  lights[0].red, lights[0].blue);
}
END_TEST

/* Curves: within their ends, never falling, and what their name says in the middle; a dead zone holds; steps are as many as
 * said. */
START_TEST(curves_are_monotone_and_exact) {
    static const char *const curves[] = {"straight", "gentle", "late", "early", "steps"};
    for (int c = 0; c < 6; c++) {
        char show[2000];
        snprintf(show, sizeof show,
                 SHOW("", DARK,
                      "{'effect':'plain','color':{'follows':'tide','from':'#000000','to':'#ff0000','rise':'0 ms','fall':'0 "
                      "ms','curve':'%s'%s%s}}",
                      ""),
                 curves[c % 5], c == 4 ? ",'steps':5" : "", c == 5 ? ",'rest':'30 %','begins at':'10 %','ends at':'60 %'" : "");
        stage_must_open(&stage, rig, show);
        uint32_t last = 0;
        unsigned kinds = 1;
        for (uint32_t v = 0; v <= 65536; v += 64) {
            push(TIDE, (uint16_t)(v > 65535 ? 65535 : v), v * 20u);
            stage_frame(&stage, (uint64_t)v * 20u + 600u);
            look_at(1, 1);
            uint32_t is = lights[0].red;
            double f = v / 65536.0;
            double wanted = c == 0   ? f
                            : c == 1 ? f * f * (3 - 2 * f)
                            : c == 2 ? f * f
                            : c == 3 ? 1 - (1 - f) * (1 - f)
                                     : floor(f * 5) / 4;
            if (c == 5) {
                double x = f < 0.1 ? 0 : f > 0.6 ? 1 : (f - 0.1) / 0.5;
                wanted = x < 0.35 ? x / 0.7 : x > 0.65 ? 0.5 + (x - 0.65) / 0.7 : 0.5;
            }
            wanted = wanted > 1 ? 1 : wanted;
            ck_assert_uint_ge(is, last);
            kinds += is != last;
            int at_step = c == 4 && (fabs(f * 5 - round(f * 5)) < 1e-3);
            ck_assert_msg(at_step || fabs(is / 65535.0 - wanted) < 0.0004, "%s at %f: %f in place of %f", curves[c % 5], f,
                          is / 65535.0, wanted);
            last = is;
        }
        ck_assert_uint_eq(last, 65535);
        ck_assert(c != 4 || kinds == 5);
        stage_close(&stage);
    }
    stage_must_open(&stage, rig, SHOW("", DARK, DARK, ""));
}
END_TEST

#define DRIVEN_NEEDLE                                                                                                          \
    "{'effect':'needle','color':'#ffffff','width':'3 leds','bearing':{'follows':'dial','from':'0 deg','to':'360 "              \
    "deg','rise':'0 ms','fall':'0 ms'}}"

/* Signals at rest: no frame is shaded. One that moves what is not on any look: neither. */
START_TEST(what_rests_is_still) {
    stage_must_open(&stage, rig,
                    SHOW("'a':{'wave':'square','period':'1 h'}",
                         "{'effect':'plain','color':'#ff0000','brightness':{'follows':'a','from':'0 %',"
                         "'to':'100 %'}}",
                         DARK, ""));
    stage_run(&stage, 0, 8000000, 50);
    uint32_t shaded = glanz_device_counts(stage.device).shaded;
    for (unsigned i = 0; i < 100; i++) {
        push(TIDE, (uint16_t)(i * 600u), 8000000u + i * 20000u);
        stage_frame(&stage, 8000001u + i * 20000u);
    }
    ck_assert_uint_eq(glanz_device_counts(stage.device).shaded, shaded);
}
END_TEST

/* A driven look comes and goes by crossfades, its drives go on, and only what was asked for is saved. */
START_TEST(drives_lie_over_what_was_asked) {
    stage_must_open(&stage, rig, SHOW("", DRIVEN_NEEDLE, DARK, ",'presets':{'dark':{'wheel':'dark'},'needle':{'wheel':'w'}}"));
    push(DIAL, 16384, 0);
    stage_run(&stage, 0, 2000000, 50);
    ck_assert(round_apart(middle(0, 24, 1), 6, 24) < 0.02);
    struct glanz_showing showing;
    ck_assert_int_eq(glanz_engine_showing(glanz_device_engine(stage.device), 0, &showing), GLANZ_OK);
    ck_assert_int_eq(showing.number[GLANZ_NEEDLE_BEARING], 0);
    ck_assert_uint_eq(showing.drive_count, 1);
    stage_do(&stage, "{'recall':'dark','over':'400 ms'}");
    double before = 0;
    for (unsigned i = 1; i <= 40; i++) { /* it fades while the dial turns on, and comes back where the dial is by then */
        push(DIAL, (uint16_t)(16384u + i * 400u), 2000000u + i * 20000u - 5000u);
        stage_frame(&stage, 2000000u + i * 20000u);
        double place = middle(0, 24, 1);
        double wanted = (16384 + i * 400) / 65536.0 * 24;
        ck_assert_msg(i > 18 || round_apart(place, wanted, 24) < 0.03, "%f in place of %f", place, wanted);
        before = place;
    }
    (void)before;
    ck_assert_uint_eq(lights[8].red, 0);
    stage_do(&stage, "{'recall':'needle','over':'400 ms'}");
    stage_run(&stage, 2820000, 3400000, 50);
    ck_assert(round_apart(middle(0, 24, 1), (16384 + 40 * 400) / 65536.0 * 24, 24) < 0.03);
    stage_do(&stage, "{'undo':true,'over':'0 s'}");
    stage_do(&stage, "{'undo':true,'over':'0 s'}");
    stage_run(&stage, 3420000, 3500000, 50);
    ck_assert(round_apart(middle(0, 24, 1), (16384 + 40 * 400) / 65536.0 * 24, 24) < 0.03); /* with its drive */
}
END_TEST

/* Another show in the place of the old: its drives begin at their signals, whatever lay at that memory before. */
START_TEST(another_show_brings_its_own_drives) {
    stage_must_open(&stage, rig, SHOW("", DRIVEN_NEEDLE, DARK, ""));
    push(DIAL, 32768, 0);
    push(TIDE, 16384, 0);
    stage_run(&stage, 0, 1000000, 50);
    for (int i = 0; i < 6; i++) {
        ck_assert_int_eq(
            stage_show(&stage, i % 2 == 0 ? SHOW("'a':{'wave':'sine','period':'2 s'}",
                                                 "{'effect':'needle','color':'#ffffff','width':'3 leds','bearing':"
                                                 "{'follows':'tide','from':'0 deg','to':'180 deg','rise':'5 s','fall':'5 s'}}",
                                                 DARK, "")
                                          : SHOW("", DRIVEN_NEEDLE, DARK, "")),
            GLANZ_OK);
        uint64_t from = 1020000u + (uint64_t)i * 200000u;
        stage_run(&stage, from, from + 180000u, 50);
        double wanted = i % 2 == 0 ? 3 : 12; /* at once: it begins there, half-life or not */
        ck_assert_msg(round_apart(middle(0, 24, 1), wanted, 24) < 0.03, "show %d: %f", i, middle(0, 24, 1));
    }
}
END_TEST

/* A show that is taken anew while a wave drives a speed: the light runs on where it is, in both looks that cross. */
START_TEST(another_show_moves_nothing) {
    static const char show[] = SHOW("'a':{'wave':'sine','period':'3 s'}", DARK,
                                    "{'effect':'walker','color':'#ffffff','size':'3 leds','way':'there and "
                                    "back','speed':{'follows':'a','from':'-14 leds/s','to':'14 leds/s'}}",
                                    "");
    stage_must_open(&stage, rig, show);
    double before = 0;
    for (unsigned i = 0; i < 600; i++) {
        if (i % 90 == 50) {
            ck_assert_int_eq(stage_show(&stage, show), GLANZ_OK);
        }
        stage_frame(&stage, i * 10000u);
        double place = middle(1, 60, 0);
        ck_assert_msg(i < 150 || fabs(place - before) < 0.145, "frame %u: from %f to %f", i, before, place);
        before = place;
    }
}
END_TEST

static int worst_step; /* of a channel of an LED, from frame to frame */

static void watch(uint64_t from, uint64_t to, uint8_t output, uint16_t count) {
    struct glanz_light before[60];
    for (uint64_t at = from; at < to; at += 20000) {
        look_at(output, count);
        memcpy(before, lights, sizeof before);
        stage_frame(&stage, at);
        look_at(output, count);
        for (uint16_t i = 0; i < count; i++) {
            int step = abs(lights[i].red - before[i].red);
            int other = abs(lights[i].blue - before[i].blue);
            step = other > step ? other : step;
            worst_step = step > worst_step ? step : worst_step;
        }
    }
}

static void set_number(uint8_t segment, uint8_t param, int32_t number, uint32_t over_ms, uint64_t at) {
    struct glanz_setting setting = {param, GLANZ_UNIT_NONE, number};
    ck_assert_int_eq(glanz_control_set(glanz_device_control(stage.device), segment, setting, over_ms, at), GLANZ_OK);
}

/* A hand sets a colour that is driven: it holds until the signal moves, until it is handed back, or not at all; there and back
 * without a leap. What the hand set is what is asked for, whatever shows. */
START_TEST(a_hand_against_a_drive) {
    static const char *const yields[] = {"until it moves", "until handed back", "never"};
    const int most = 65536 / 10 + 700; /* of 200 ms, the shortest that anything takes, and a frame 20 ms */
    for (int rule = 0; rule < 3; rule++) {
        char show[1500];
        snprintf(show, sizeof show,
                 SHOW("", DARK,
                      "{'effect':'plain','color':{'follows':'tide','from':'#000000','to':'#ff0000','yields':'%s','rise':'0 "
                      "ms','fall':'0 ms'}}",
                      ""),
                 yields[rule]);
        stage_must_open(&stage, rig, show);
        push(TIDE, 32768, 0);
        stage_run(&stage, 0, 1500000, 50);
        worst_step = 0;
        watch(1500000, 1600000, 1, 60);
        uint16_t driven = lights[0].red;
        ck_assert_int_lt(abs(driven - 32768), 3);
        set_number(1, GLANZ_PLAIN_COLOR, (int32_t)GLANZ_RGB(0, 0, 255), 200, 1600000);
        watch(1600000, 2000000, 1, 60);
        ck_assert_msg(rule == 2 ? lights[0].red == driven && lights[0].blue == 0
                                : lights[0].red == 0 && lights[0].blue == 65535,
                      "rule %d: %u %u", rule, lights[0].red, lights[0].blue);
        push(TIDE, 32768 + 600, 2000000); /* 1 % */
        watch(2000000, 2600000, 1, 60);
        ck_assert_msg(rule == 2 ? lights[0].red > driven : lights[0].red == 0, "rule %d", rule);
        push(TIDE, 32768 + 2000, 2600000); /* 3 % */
        watch(2600000, 2720000, 1, 60);
        ck_assert(rule != 0 || (lights[0].red > 2000 && lights[0].blue > 10000)); /* on its way */
        watch(2720000, 3200000, 1, 60);
        ck_assert_msg(rule == 1 ? lights[0].red == 0 && lights[0].blue == 65535
                                : abs(lights[0].red - 34768) < 4 && lights[0].blue == 0,
                      "rule %d: %u", rule, lights[0].red);
        stage_do(&stage, "{'hand back':'rail','aspects':['look']}");
        watch(3200000, 3800000, 1, 60);
        ck_assert(abs(lights[0].red - 34768) < 4 && lights[0].blue == 0);
        ck_assert_msg(worst_step <= most, "rule %d: %d in a frame", rule, worst_step);
        struct glanz_showing showing;
        ck_assert_int_eq(glanz_engine_showing(glanz_device_engine(stage.device), 1, &showing), GLANZ_OK);
        ck_assert_uint_eq((uint32_t)showing.number[GLANZ_PLAIN_COLOR], GLANZ_RGB(0, 0, 255));
        set_number(1, GLANZ_PLAIN_COLOR, (int32_t)GLANZ_RGB(0, 0, 255), 0, 3800000);
        set_number(1, GLANZ_PLAIN_COLOR, (int32_t)GLANZ_RGB(255, 0, 255), 300, 3800000);
        watch(3820000, 4300000, 1, 60);
        worst_step = 0;
        stage_do(&stage, "{'undo':true,'over':'300 ms'}"); /* what was before is driven */
        watch(4300000, 5000000, 1, 60);
        ck_assert_msg(rule == 2 || abs(lights[0].red - 34768) < 4, "rule %d: %u", rule, lights[0].red);
        ck_assert_msg(worst_step <= most, "rule %d: %d in a frame of an undo", rule, worst_step);
        stage_close(&stage);
    }
    stage_must_open(&stage, rig, SHOW("", DARK, DARK, ""));
}
END_TEST

/* The same with a speed, and with a bearing, which crossfades: nothing moves faster than it may. */
START_TEST(a_hand_against_a_driven_speed_and_bearing) {
    stage_must_open(
        &stage, rig,
        SHOW("", DRIVEN_NEEDLE,
             "{'effect':'walker','color':'#ffffff','size':'3 leds','way':'there and back','speed':{'follows':'lever','from':"
             "'-14 leds/s','to':'14 leds/s'}}",
             ""));
    push(LEVER, 45000, 0);
    push(DIAL, 16384, 0);
    stage_run(&stage, 0, 1500000, 50);
    double before = middle(1, 60, 0);
    double speeds[4] = {0, 0, 0, 0};
    for (unsigned i = 0; i < 300; i++) {
        uint64_t at = 1500000 + i * 20000u;
        if (i == 50) {
            set_number(1, GLANZ_WALKER_SPEED, GLANZ_FIXED(-4), 400, at - 20000);
            set_number(0, GLANZ_NEEDLE_BEARING, 40000, 200, at - 20000);
        }
        if (i == 150) {
            push(LEVER, 57000, (uint32_t)at);
            push(DIAL, 20000, (uint32_t)at);
        }
        stage_frame(&stage, at);
        double place = middle(1, 60, 0);
        ck_assert_msg(fabs(place - before) < 14 * 0.02 + 0.02, "frame %u: from %f to %f", i, before, place);
        speeds[i / 75] = i % 75 == 74 ? (place - before) / 0.02 : speeds[i / 75];
        before = place;
        if (i == 49 || i == 149 || i == 299) {
            double wanted = i == 49 ? 6 : i == 149 ? 40000 / 65536.0 * 24 : 20000 / 65536.0 * 24;
            ck_assert_msg(round_apart(middle(0, 24, 1), wanted, 24) < 0.03, "frame %u: %f in place of %f", i, middle(0, 24, 1),
                          wanted);
        }
    }
    ck_assert_msg(fabs(fabs(speeds[1]) - 4) < 0.2, "%f", speeds[1]);
    ck_assert_msg(fabs(fabs(speeds[3]) - 13.0) < 0.8, "%f", speeds[3]); /* (57000 - 6553) / 52429, as a share of its way */
}
END_TEST

/* What dims the whole, a segment, and lets it through: times what is set, so that sleep and brightness go on to work. */
START_TEST(signals_dim_segments_and_the_whole) {
    static const char show[] = "{'show':'t','change':'0 s','brightness':{'follows':'lever','from':'0 %','to':'100 %','rise':'0 "
                               "ms','fall':'0 ms'},'looks':{'red':{'effect':'plain','color':"
                               "'#ff0000'},'blue':{'effect':'plain','color':'#0000ff'}},'segments':{'under':{'surface':'rail','"
                               "look':'red'},'over':{'surface':'rail','look':'blue','opacity':{"
                               "'follows':'tide','from':'0 %','to':'100 %','rise':'0 ms','fall':'0 "
                               "ms'},'brightness':{'follows':'gauge','from':'100 %','to':'0 %','rise':'0 ms','fall':'0 ms'}}},"
                               "'stack':['under','over']}";
    stage_must_open(&stage, rig, show);
    push(LEVER, 65535, 0);
    uint64_t now = 0;
    for (int i = 0; i <= 8; i++) {
        push(TIDE, (uint16_t)(i * 8191), (uint32_t)now + 100);
        push(GAUGE, (uint16_t)(65535 - i * 8191), (uint32_t)now + 100);
        stage_run(&stage, now + 20000, now + 4000000, 50);
        now += 4000000;
        look_at(1, 1);
        double opacity = i * 8191 / 65535.0;
        double lit = glanz_lightness((uint16_t)(i * 8191)) / 65536.0;
        ck_assert_msg(fabs(lights[0].red / 65535.0 - (1 - opacity)) < 0.0005 &&
                          fabs(lights[0].blue / 65535.0 - opacity * lit) < 0.0008,
                      "%d: %u %u", i, lights[0].red, lights[0].blue);
    }
    for (int i = 0; i <= 8; i++) {
        push(LEVER, (uint16_t)(i * 8191), (uint32_t)now + 100);
        stage_run(&stage, now + 20000, now + 500000, 50);
        now += 500000;
        double way = i * 8191 < 6553 ? 0 : i * 8191 > 58981 ? 1 : (i * 8191 - 6553) / 52428.0;
        ck_assert_msg(fabs(glanz_engine_gain(glanz_device_engine(stage.device)) / 65536.0 -
                           glanz_lightness((uint16_t)(way * 65535)) / 65536.0) < 0.0002,
                      "%d", i);
    }
    stage_do(&stage, "{'brightness':'50 %','segment':'over'}");
    stage_run(&stage, now, now + 500000, 50);
    look_at(1, 1);
    ck_assert_int_lt(abs(lights[0].blue - (int)glanz_lightness(32767)), 40);
    stage_do(&stage, "{'sleep':'2 s'}");
    stage_run(&stage, now + 500000, now + 4000000, 50);
    ck_assert_uint_eq(stage_sum(&stage, 1, 0) + stage_sum(&stage, 1, 2), 0);
    uint32_t shaded = glanz_device_counts(stage.device).shaded;
    stage_run(&stage, now + 4000000, now + 5000000, 50);
    ck_assert_uint_eq(glanz_device_counts(stage.device).shaded, shaded);
}
END_TEST

/* Conditions: a trigger acts only while all of them are so, at the moment at which it is met. */
START_TEST(a_trigger_acts_only_while) {
    static const char show[] = SHOW("'dark':{'wave':'square','period':'2 s'}", DARK, DARK,
                                    ",'triggers':{'t':{'when':{'value':'tide','rises above':'50 "
                                    "\\u0025'},'while':[{'value':'dark','below':'50 \\u0025'},{'value':"
                                    "'bell','above':'50 \\u0025'}],'do':[{'switch':'rail','on':'other'}]}}");
    stage_must_open(&stage, rig, show);
    met_count = 0;
    glanz_device_listen(stage.device, note, NULL);
    push(BELL, 1, 0);
    stage_frame(&stage, 0); /* the clock of waves begins with the first frame */
    int wanted = 0;
    /* the tide rises every 70 ms; dark in each second second; the bell pressed for 300 of 500 ms */
    for (unsigned i = 1; i < 200; i++) {
        uint32_t at = i * 35000u;
        push(BELL, at / 100000u % 5u < 3 ? 0 : 1, at - 30000u);
        push(TIDE, i % 2 == 1 ? 60000 : 100, at);
        stage_frame(&stage, at + 1000u);
        int pressed = level(BELL) != 0;
        wanted += i % 2 == 1 && at % 2000000u >= 1000000u && pressed;
        ck_assert_msg(met_count == wanted || met_count == 32, "at %u us: met %d times in place of %d", at, met_count, wanted);
    }
    ck_assert_int_gt(wanted, 20);
}
END_TEST

/* Where nobody waits for a third press, four are twice two; and local time goes on though nothing shows it but a signal. */
START_TEST(no_third_press_and_a_clock_without_fields) {
    static const char show[] = SHOW("'time':{'clock':'minute'}", DARK, "{'effect':'plain','color':'#ffffff'}",
                                    ",'triggers':{'two':{'when':{'button':'bell','is':'pressed twice'},'do':[{'brighten':'1 "
                                    "\\u0025'}]},'half':{'when':{'value':'time','rises above':'50 \\u0025'},'do':[{'dim':'1 "
                                    "\\u0025'}]}}");
    stage_must_open(&stage, rig, show);
    met_count = 0;
    glanz_device_listen(stage.device, note, NULL);
    push(BELL, 1, 0);
    stage_run(&stage, 0, 1000000, 100);
    for (uint32_t i = 0; i < 4; i++) {
        push(BELL, 0, 1000000 + i * 200000);
        push(BELL, 1, 1090000 + i * 200000);
        stage_run(&stage, 1000000 + i * 200000, 1200000 + i * 200000, 100);
    }
    ck_assert_int_eq(met_count, 2);
    struct glanz_parts parts = glanz_everything;
    parts.fields = NULL;
    parts.blends = NULL;
    struct glanz_setup setup = {.rig = stage.rig, .show = stage.show, .port = &stage.port, .parts = &parts};
    static uint64_t memory[6000];
    struct glanz_device *device = NULL;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, NULL), GLANZ_OK);
    uint32_t day;
    uint32_t second;
    uint32_t us;
    ck_assert_int_eq(glanz_engine_clock(glanz_device_engine(device), 20000, 86399), GLANZ_OK);
    met_count = 0;
    glanz_device_listen(device, note, NULL);
    for (uint32_t i = 0; i <= 3150; i++) {
        stage.now_us = i * 10000u;
        ck_assert_int_eq(glanz_device_frame(device, stage.now_us), GLANZ_OK);
    }
    ck_assert_int_eq(met_count, 1);
    ck_assert_int_eq(glanz_engine_time(glanz_device_engine(device), &day, &second, &us), 1);
    ck_assert_uint_eq(day, 20001);
    ck_assert_uint_eq(second, 30);
}
END_TEST

/* Three presses, bouncing; a press that is held repeats sooner and sooner, and dims by steps to the lowest; and back. */
START_TEST(three_presses_and_one_that_repeats) {
    static const char show[] =
        SHOW("", DARK, "{'effect':'plain','color':'#ffffff'}",
             ",'triggers':{'three':{'when':{'button':'bell','is':'pressed three times'},'do':[{'brighten':'30 "
             "\\u0025','segment':'rail','over':'0 s'}]},"
             "'again':{'when':{'button':'bell','is':'repeats'},'do':[{'dim':'10 \\u0025','segment':'rail','over':'0 s'}]}}");
    stage_must_open(&stage, rig, show);
    push(BELL, 1, 0);
    stage_run(&stage, 0, 100000, 100);
    push(BELL, 0, 100000);
    met_count = 0;
    glanz_device_listen(stage.device, note, NULL);
    stage_run(&stage, 100000, 4100000, 100);
    ck_assert_int_gt(met_count, 22);
    for (int i = 0; i < 22; i++) { /* held after 700 ms, then 400 ms, then each by an eighth sooner */
        static const uint32_t ms[] = {400, 350, 307, 269, 236, 207, 182, 160, 140, 123, 108, 95, 84, 74, 65, 60, 60};
        uint64_t apart = met[i] / 4 - (i == 0 ? 800000 : met[i - 1] / 4);
        ck_assert_msg(apart == ms[i < 16 ? i : 16] * 1000u, "repetition %d: after %u us", i, (unsigned)apart);
    }
    struct glanz_showing showing;
    ck_assert_int_eq(glanz_engine_showing(glanz_device_engine(stage.device), 1, &showing), GLANZ_OK);
    ck_assert_uint_eq(showing.brightness, 1311); /* 2 % */
    push(BELL, 1, 4100000);
    stage_run(&stage, 4100000, 5000000, 100);
    met_count = 0;
    for (uint32_t i = 0; i < 4; i++) { /* four within 200 ms each: the third counts, the fourth begins anew */
        uint32_t at = 5000000 + i * 200000;
        push(BELL, 0, at);
        push(BELL, 1, at + 2000);
        push(BELL, 0, at + 3000);
        push(BELL, 1, at + 90000);
        push(BELL, 0, at + 91000);
        push(BELL, 1, at + 92000);
        stage_run(&stage, at + 5000, at + 200000, 100);
    }
    ck_assert_int_eq(met_count, 1);
    ck_assert_int_eq(glanz_engine_showing(glanz_device_engine(stage.device), 1, &showing), GLANZ_OK);
    ck_assert_uint_eq(showing.brightness, 1311 + 19661); /* 30 % of 65535 */
    for (int i = 0; i < 4; i++) {
        stage_do(&stage, "{'brighten':'30 %','over':'1 s'}");
    }
    stage_run(&stage, 5800000, 8000000, 100);
    ck_assert_uint_eq(glanz_engine_lightness(glanz_device_engine(stage.device)), 65535);
    stage_do(&stage, "{'dim':'30 %','over':'2 s'}"); /* twice on the way: what was asked for counts */
    stage_do(&stage, "{'dim':'30 %','over':'2 s'}");
    ck_assert_uint_eq(glanz_engine_lightness_asked(glanz_device_engine(stage.device)), 65535 - 2 * 19661);
    ck_assert_uint_eq(glanz_engine_lightness_asked(NULL), 0);
}
END_TEST

/* Another show is taken, or another look comes that follows the same: what is on its way goes on, without a jump. */
START_TEST(what_is_on_its_way_goes_on) {
    static const char show[] = SHOW("'a':{'wave':'saw','period':'8 s'}", DARK,
                                    "{'effect':'plain','color':'#ffffff','brightness':{'follows':'a','from':'0 %','to':'100 "
                                    "%','rise':'2 s','fall':'2 s'}},'s':{'effect':'breathing','color':'#ffffff','low':'100 "
                                    "%','brightness':{'follows':'a','from':'0 %','to':'100 %','rise':'2 s','fall':'2 s'}}",
                                    "");
    struct glanz_seen before;
    struct glanz_seen after;
    stage_must_open(&stage, rig, show);
    stage_run(&stage, 0, 6000000, 100);
    for (int turn = 0; turn < 3; turn++) {
        uint64_t at = 6000000 + (uint64_t)turn * 300000u;
        ck_assert_int_eq(glanz_engine_seen(glanz_device_engine(stage.device), 1, &before), GLANZ_OK);
        if (turn == 1) {
            stage_do(&stage, "{'look':'s','segment':'rail'}");
        } else {
            ck_assert_int_eq(stage_show(&stage, show), GLANZ_OK);
        }
        stage_frame(&stage, at);
        ck_assert_int_eq(glanz_engine_seen(glanz_device_engine(stage.device), 1, &after), GLANZ_OK);
        /* it lags by far, so that a jump would be a third of all; in a frame it goes by a 290th of what is left */
        ck_assert_msg(after.brightness > before.brightness && after.brightness < before.brightness + 200,
                      "turn %d: from %u to %u", turn, before.brightness, after.brightness);
        ck_assert_uint_lt(before.brightness, 45000);
        stage_run(&stage, at + 10000, at + 300000, 100);
    }
}
END_TEST

/* What the device does, at the frame at which it does so. */
START_TEST(states_are_signals) {
    static const char limited[] =
        "{'rig':'r','supplies':{'s':{'volts':'5 V','limit':'1 "
        "A'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B',"
        "'leds':30}]}},'surfaces':{'rail':{'strip':[{'output':'o','first':0,'leds':30}]}},'inputs':{'bell':{'button':{'pin':2,"
        "'pressed':'low'}}}}";
    static const char show[] = "{'show':'t','brightness':'100 %','change':'0 "
                               "s','signals':{'load':{'state':'current'},'light':{'state':'brightness'},'night':{"
                               "'state':'asleep'},'ice':{'state':'frozen'},'music':{'state':'playing'}},'looks':{'r':{'effect':"
                               "'plain','color':'#ff0000'},'w':{"
                               "'effect':'plain','color':'#ffffff'}},'segments':{'rail':{'surface':'rail','look':'r'}},'"
                               "presets':{'p':{'rail':'w'}},'playlists':"
                               "{'l':{'items':[{'preset':'p','hold':'1 "
                               "s'}],'rounds':1}},'triggers':{'near':{'when':{'value':'load','rises above':'90 %'},'do':"
                               "[{'brightness':'50 %','over':'0 s'}]}}}";
    enum { LOAD = 1, LIGHT, NIGHT, ICE, MUSIC };
    stage_must_open(&stage, limited, show);
    stage_run(&stage, 0, 600000, 100);
    ck_assert_uint_gt(level(LIGHT), 30000);
    ck_assert_uint_lt(level(LIGHT), 45000); /* half of the way on, evenly */
    stage_run(&stage, 600000, 2000000, 100);
    ck_assert_uint_eq(level(LIGHT), 65536);
    double share = (double)glanz_engine_supply_ua(glanz_device_engine(stage.device), 0) / 1e6;
    ck_assert_double_eq_tol(level(LOAD) / 65536.0, share, 0.002);
    ck_assert_uint_eq(level(NIGHT) + level(ICE) + level(MUSIC), 0);
    met_count = 0;
    glanz_device_listen(stage.device, note, NULL);
    stage_do(&stage, "{'play':'l'}");
    stage_do(&stage, "{'freeze':true}");
    stage_frame(&stage, 2000000);
    ck_assert_uint_eq(level(MUSIC), 65536);
    ck_assert_uint_eq(level(ICE), 65536);
    stage_run(&stage, 2010000, 2100000, 100);
    ck_assert_int_eq(met_count, 1); /* thirty white ones are held at the limit */
    stage_run(&stage, 2100000, 3300000, 100);
    ck_assert_uint_eq(level(MUSIC), 0);
    ck_assert_uint_eq(level(LIGHT), glanz_level_of_value(32768));
    stage_do(&stage, "{'sleep':'1 s'}");
    stage_run(&stage, 3300000, 3400000, 100);
    ck_assert_uint_eq(level(NIGHT), 65536);
    stage_run(&stage, 3400000, 5000000, 100);
    ck_assert_uint_eq(level(LIGHT), 0);
    stage_do(&stage, "{'brightness':'20 %'}");
    stage_frame(&stage, 5000000);
    ck_assert_uint_eq(level(NIGHT), 0);
}
END_TEST

/* The clock as a turn: the hour hand, the second hand. */
START_TEST(the_clock_is_a_signal) {
    stage_must_open(
        &stage, rig,
        SHOW(
            "'second hand':{'clock':'minute'},'minute hand':{'clock':'hour'},'hours':{'clock':'day'},'season':{'clock':'year'}",
            DARK, DARK, ""));
    stage_run(&stage, 0, 100000, 50);
    for (uint8_t i = 0; i < 4; i++) {
        ck_assert_uint_eq(level((uint8_t)(INPUTS + i)), GLANZ_LEVEL_TURN);
    }
    uint32_t day = glanz_day_of(2028, 7, 2); /* of a leap year the 183rd past */
    ck_assert_int_eq(glanz_engine_clock(glanz_device_engine(stage.device), day, 6 * 3600 + 15 * 60 + 45), GLANZ_OK);
    stage_run(&stage, 100000, 600000, 50);
    ck_assert_uint_eq(level(INPUTS) & 0xFFFFu, (uint32_t)(45.48 / 60 * 65536));
    ck_assert_uint_eq(level(INPUTS + 1) & 0xFFFFu, (uint32_t)((15 * 60 + 45.48) / 3600 * 65536));
    ck_assert_uint_eq(level(INPUTS + 2) & 0xFFFFu, (uint32_t)((6 * 3600 + 15 * 60 + 45) / 86400.0 * 65536));
    ck_assert_uint_eq(level(INPUTS + 3) & 0xFFFFu, (uint32_t)((183 + (6 * 3600 + 15 * 60 + 45) / 86400.0) / 366 * 65536));
}
END_TEST

/* Combinations by their formulas, at both ends of what goes in. */
START_TEST(combinations) {
    static const char *const forms[] = {"sum", "difference", "product", "ratio", "larger", "smaller"};
    static const uint16_t values[] = {0, 1, 20000, 32768, 50000, 65535};
    char show[1500];
    size_t at = 0;
    for (int i = 0; i < 6; i++) {
        at += (size_t)snprintf(show + at, sizeof show - at, "%s'%s':{'combine':'%s','of':'tide','and':'gauge'}",
                               i == 0 ? "" : ",", forms[i], forms[i]);
    }
    char text[3000];
    snprintf(text, sizeof text, SHOW("%s", DARK, DARK, ""), show);
    stage_must_open(&stage, rig, text);
    uint64_t now = 0;
    for (int a = 0; a < 6; a++) {
        for (int b = 0; b < 6; b++) {
            push(TIDE, values[a], (uint32_t)now + 10);
            push(GAUGE, values[b], (uint32_t)now + 10);
            stage_frame(&stage, now += 20000);
            stage_frame(&stage, now += 10000000); /* long after the gauge's lag */
            uint64_t x = glanz_level_of_value(values[a]);
            uint64_t y = (uint64_t)values[b] * 65536 / 65535;
            uint64_t wanted[6] = {x + y > 65536 ? 65536 : x + y,
                                  x > y ? x - y : 0,
                                  x * y / 65536,
                                  x == 0   ? 0
                                  : x >= y ? 65536
                                           : x * 65536 / y,
                                  x > y ? x : y,
                                  x < y ? x : y};
            for (uint8_t i = 0; i < 6; i++) {
                ck_assert_msg(level((uint8_t)(INPUTS + i)) == wanted[i], "%s of %u and %u: %u in place of %u", forms[i],
                              (unsigned)x, (unsigned)y, level((uint8_t)(INPUTS + i)), (unsigned)wanted[i]);
            }
        }
    }
    ck_assert_uint_eq(level(200), 0);
    ck_assert_uint_eq(glanz_control_level(NULL, 0), 0);
}
END_TEST

/* What cannot be, with what was expected; and the place, where it is one key. */
START_TEST(what_cannot_be_followed_is_refused) {
    static const struct {
        const char *signals, *wheel, *text;
    } bad[] = {
        {"", "{'effect':'needle','bearing':{'follows':'dail','from':'0 deg','to':'9 deg'}}",
         "no such input in the rig, nor signal in the show"},
        {"", "{'effect':'needle','bearing':{'follows':'dial','from':'0 deg'}}", "the key \"to\" is missing here"},
        {"", "{'effect':'needle','bearing':{'follows':'dial','from':'0 deg','to':'40 %'}}", "an angle such as"},
        {"",
         "{'effect':'needle','bearing':{'follows':'dial','from':'0 deg','to':'90 deg','begins at':'60 %','ends at':'60 %'}}",
         "has no width"},
        {"", "{'effect':'needle','bearing':{'follows':'dial','from':'0 deg','to':'90 deg','curve':'steps'}}",
         "expected \"steps\" with the curve"},
        {"", "{'effect':'needle','bearing':{'follows':'dial','from':'0 deg','to':'90 deg','steps':3}}",
         "expected \"steps\" with the curve"},
        {"", "{'effect':'needle','bearing':{'follows':'dial','from':'0 deg','to':'90 deg','rise':'-1 s'}}", "expected"},
        {"", "{'effect':'needle','bearing':{'follows':'dial','from':'0 deg','to':'90 deg','haste':'1 s'}}", "unknown key"},
        {"", "{'effect':'walker','way':{'follows':'dial','from':'around','to':'around'}}", "cannot follow a signal"},
        {"", "{'effect':'walker','size':{'follows':'dial','from':'1 leds','to':'2 leds'}}", "cannot follow a signal"},
        {"", "{'effect':'walker','speed':{'follows':'dial','from':'1 s/pass','to':'2 s/pass'}}", "goes through zero"},
        {"", "{'effect':'walker','speed':{'follows':'dial','from':'1 leds/s','to':'2 lengths/s'}}",
         "the unit that \"from\" has"},
        {"", "{'effect':'comet','speed':{'follows':'dial','from':'-1 leds/s','to':'2 leds/s'}}", "does not pass zero"},
        {"", "{'effect':'text','text':{'follows':'dial','from':'0','to':'1'}}", "in braces"},
        {"", "{'effect':'plain','brightness':{'follows':'dial','from':'0 %','to':'40 deg'}}", "a lightness such as"},
        {"", "{'effect':'plain','color':{'follows':'dial','from':'#000','to':'#fff','yields':'at once'}}", "no such choice"},
        {"'a':{'wave':'sine'}", DARK, "the key \"period\" is missing here"},
        {"'a':{'wave':'sine','period':'0 s'}", DARK, "100 ms"},
        {"'a':{'wave':'sine','period':'2 s','low':'40 %','high':'40 %'}", DARK, "has no height"},
        {"'a':{'wave':'sign','period':'2 s'}", DARK, "no such choice"},
        {"'a':{'wave':'sine','clock':'day','period':'2 s'}", DARK, "expected one of"},
        {"'a':{'clock':'day','period':'2 s'}", DARK, "expected no \"period\""},
        {"'a':{'combine':'sum','of':'a','and':'dial'}", DARK, "stand before it"},
        {"'a':{'combine':'sum','of':'dial','and':'b'},'b':{'clock':'day'}", DARK, "stand before it"},
        {"'a':{'combine':'sum','of':'dial'}", DARK, "the key \"and\" is missing here"},
        {"'a':{'combine':'sum','of':'dial','and':'nobody'}", DARK, "no such input in the rig, nor signal"},
        {"'dial':{'clock':'day'}", DARK, "has this name"},
        {"", "{'effect':'flow','palette':{'follows':'dial','from':'a','to':'b'}}", "cannot follow a signal"},
    };
    for (size_t i = 0; i < sizeof bad / sizeof bad[0]; i++) {
        char show[2000];
        snprintf(show, sizeof show, SHOW("%s", "%s", DARK, ""), bad[i].signals, bad[i].wheel);
        glanz_status status = stage_open(&stage, rig, show);
        REQUIRE_MSG(status != GLANZ_OK && strstr(stage.fault.text, bad[i].text) != NULL && stage.fault.line != 0 &&
                        stage.fault.where[0] != '\0',
                    "case %zu: %s, line %u, at %s", i, stage.fault.text, stage.fault.line, stage.fault.where);
        stage_close(&stage);
    }
    static const char *const rigs[][2] = {{"'sensor':{'pin':4,'low':'90 %','high':'10 %'}", "have no width"},
                                          {"'knob':{'pin':4,'second pin':4}", "expected two"},
                                          {"'knob':{'pin':4,'second pin':5,'edges':3}", "1, 2 or 4 edges"},
                                          {"'knob':{'pin':4}", "is missing here"},
                                          {"'dial':{'pin':4},'value':{'pin':5}", "expected one of"}};
    for (int i = 0; i < 5; i++) {
        char text[1500];
        snprintf(text, sizeof text,
                 "{'rig':'r','supplies':{'s':{'volts':'5 "
                 "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':24}]}},'surfaces':{'a':"
                 "{'strip':[{'output':'o','first':0,'leds':24}]}},'inputs':{'i':{%s}}}",
                 rigs[i][0]);
        glanz_status status = stage_open(&stage, text, "{'show':'t','looks':{},'segments':{}}");
        REQUIRE_MSG(status != GLANZ_OK && strstr(stage.fault.text, rigs[i][1]) != NULL, "rig %d: %s", i, stage.fault.text);
        stage_close(&stage);
    }
    stage_must_open(&stage, rig, SHOW("", DARK, DARK, ""));
}
END_TEST

/* Seventeen drives are one too many; parts that are not there are named. */
START_TEST(what_the_library_has_not_is_named) {
    char looks[6000];
    size_t at = 0;
    for (int i = 0; i < 17; i++) {
        at += (size_t)snprintf(looks + at, sizeof looks - at,
                               "%s'l%d':{'effect':'plain','color':{'follows':'tide','from':'#000000','to':'#ffffff'}}",
                               i == 0 ? "" : ",", i);
    }
    char show[7000];
    snprintf(show, sizeof show, "{'show':'t','looks':{%s},'segments':{'rail':{'surface':'rail','look':'l0'}}}", looks);
    ck_assert_int_eq(stage_open(&stage, rig, show), GLANZ_ERR_SHOW);
    ck_assert_msg(strstr(stage.fault.text, "GLANZ_DRIVES_MOST") != NULL, "%s", stage.fault.text);
    stage_close(&stage);
    stage_must_open(&stage, rig, SHOW("", DRIVEN_NEEDLE, DARK, ""));
    struct glanz_parts parts = glanz_everything;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_device *device;
    static uint64_t memory[8000];
    struct glanz_setup setup = {.rig = stage.rig, .show = stage.show, .port = &stage.port, .parts = &parts};
    parts.drives = NULL;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_ERR_ABSENT);
    ck_assert_msg(strstr(fault.text, "drives") != NULL, "%s", fault.text);
    parts = glanz_everything;
    parts.signals = NULL;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &setup, &fault), GLANZ_ERR_ABSENT);
    ck_assert_msg(strstr(fault.text, "signals") != NULL, "%s", fault.text);
}
END_TEST

/* A sensor and a dial are turned once from end to end, and have their whole range from then on: after a restart too. */
START_TEST(ranges_are_learnt_by_turning_once) {
    uint64_t now = 0;
    stage_must_open(&stage, rig, SHOW("", DARK, DARK, ""));
    stage_frame(&stage, now);
    push(LEVER, 30000, 5);
    stage_do(&stage, "{'calibrate':'lever'}");
    stage_do(&stage, "{'calibrate':'dial'}");
    for (uint32_t value = 22000; value <= 42000; value += 500) { /* its readings go from 22,000 to 42,000, with noise */
        now += 10000;
        push(LEVER, (uint16_t)(value + glanz_hash(value) % 60u), (uint32_t)now - 5);
        push(DIAL, (uint16_t)(4000u + (value - 22000u) * 2u), (uint32_t)now - 5); /* and from 4,000 to 44,000 */
        stage_frame(&stage, now);
    }
    stage_do(&stage, "{'calibrate':'lever','on':false}");
    stage_do(&stage, "{'calibrate':'dial','on':'other'}");
    static const uint16_t readings[][3] = {{22000, 0, 1}, {32030, 32768, 0}, {42000, 65535, 1}, {0, 0, 1}, {65535, 65535, 1}};
    for (int life = 0; life < 2; life++) {
        for (unsigned i = 0; i < 5; i++) {
            now += 10000;
            push(LEVER, readings[i][0], (uint32_t)now - 5);
            push(DIAL, (uint16_t)(4000u + i * 10000u), (uint32_t)now - 5);
            stage_frame(&stage, now);
            ck_assert_msg(abs((int)level(LEVER) - readings[i][1]) <= (readings[i][2] ? 1 : 200), "%u: %u", i, level(LEVER));
            ck_assert_uint_eq(level(DIAL), GLANZ_LEVEL_TURN | (i * 16384u & 0xFFFFu));
        }
        for (int i = 0; i < 300; i++) { /* it is saved */
            now += 10000;
            stage_frame(&stage, now);
        }
        if (life == 0) {
            ck_assert_int_eq(stage_restart(&stage), GLANZ_OK);
            now = 0;
            stage_frame(&stage, now);
        }
    }
    stage_do(&stage, "{'calibrate':'lever'}"); /* turned a little only: as the rig says, 10 to 90 % */
    push(LEVER, 32000, (uint32_t)now + 5);
    stage_frame(&stage, now + 10000);
    push(LEVER, 33000, (uint32_t)now + 10005);
    stage_frame(&stage, now + 20000);
    stage_do(&stage, "{'calibrate':'lever','on':false}");
    push(LEVER, 6554, (uint32_t)now + 20005);
    stage_frame(&stage, now + 30000);
    ck_assert_uint_le(level(LEVER), 2);
    push(LEVER, 42000, (uint32_t)now + 30005);
    stage_frame(&stage, now + 40000);
    ck_assert_msg(abs((int)level(LEVER) - (42000 - 6553) * 10 / 8) < 20, "%u", level(LEVER));
}
END_TEST

/* ---- two rates ---- */

/* What an effect's second rate moves: once round a ring is where it was, either way, at any frame rate; driven there and back
 * it is where it was, on the way within a sixteenth of an LED; the first rate has no part in it. */
START_TEST(two_rates_turn_two_phases) {
    static const char *const winds[] = {"'24 leds/s'", "'-48 leds/s'", "'1 lengths/s'",
                                        "{'follows':'sway','from':'-9 leds/s','to':'9 leds/s','rise':'0 s','fall':'0 s'}"};
    static struct glanz_light first[24], half[4][24];
    for (int w = 0; w < 4; w++) {
        for (int r = 0; r < 4; r++) {
            char look[300];
            snprintf(look, sizeof look,
                     "{'effect':'clouds','palette':'full circle','size':'5 leds','speed':'0 passes/s','drift':0,'wind':%s}",
                     winds[w]);
            char text[1200];
            snprintf(text, sizeof text,
                     "{'show':'t','brightness':'100 %%','change':'0 s','signals':{'sway':{'wave':'sine','period':'1 "
                     "s'}},'looks':{'w':%s},"
                     "'segments':{'wheel':{'surface':'wheel','look':'w'}}}",
                     look);
            stage_must_open(&stage, rig, text);
            for (unsigned i = 0; i <= rates[r]; i++) {
                stage_frame(&stage, (uint64_t)i * 1000000u / rates[r]);
                look_at(0, 24);
                if (i == 0) {
                    memcpy(first, lights, sizeof first);
                } else if (i == rates[r] / 2) {
                    memcpy(half[r], lights, sizeof first);
                }
            }
            int moved = 0;
            for (int led = 0; led < 24; led++) {
                ck_assert_msg(abs(lights[led].red - first[led].red) < 400 && abs(lights[led].blue - first[led].blue) < 400,
                              "wind %d at %u frames/s, LED %d: %u, was %u", w, rates[r], led, lights[led].red, first[led].red);
                int before = abs(half[0][led].green - half[0][(led + 23) % 24].green);
                int after = abs(half[0][led].green - half[0][(led + 1) % 24].green);
                int sixteenth = (before > after ? before : after) / 16;
                ck_assert_msg(abs(half[r][led].green - half[0][led].green) < 400 + (w == 3 ? sixteenth : 0),
                              "wind %d at %u frames/s, LED %d: %u and %u", w, rates[r], led, half[r][led].green,
                              half[0][led].green);
                moved += abs(half[r][led].green - first[led].green) > 3000;
            }
            ck_assert_int_gt(moved, w == 1 ? -1 : 2); /* at half of the time it is elsewhere, but where it was twice round */
            stage_close(&stage);
        }
    }
    stage_must_open(&stage, rig, SHOW("", DARK, DARK, "")); /* for the teardown */
}
END_TEST

/* ---- from a pin to a pin ---- */

struct chain {
    uint64_t latched[4]; /* how often, and when last, of the two outputs */
};

static void latched(void *user, uint8_t output, uint64_t time_us) {
    struct chain *chain = (struct chain *)user;
    chain->latched[output]++;
    chain->latched[2 + output] = time_us;
}

/* An edge, a turn or a value that comes in before a frame is light after that frame: in the bits that the LEDs read from the
 * data line, and latched no later than the frame's time, the bits of the line and its reset take. */
START_TEST(what_comes_in_is_light_in_the_next_frame) {
    static const uint32_t frames_a_second[] = {30, 100, 400};
    static uint64_t memory[16384];
    uint32_t frame_us = 1000000u / frames_a_second[_i];
    ck_assert_int_eq(
        stage_open(
            &stage, rig,
            SHOW("", "{'effect':'plain','color':{'follows':'tide','from':'#000000','to':'#ff0000','rise':'0 s','fall':'0 s'}}",
                 "{'effect':'plain','color':'#000000'}",
                 ",'triggers':{'a':{'when':{'button':'bell','is':'pressed'},'do':[{'brightness':'100 %','over':'0 s'},"
                 "{'adjust':'rail','number':'color','to':'#00ff00','over':'0 s'}]},"
                 "'b':{'when':{'button':'bell','is':'released'},'do':[{'adjust':'rail','number':'color','to':'#000000','over':'"
                 "0 s'}]},"
                 "'c':{'when':{'value':'dial','is':'turned "
                 "up'},'do':[{'adjust':'rail','number':'color','to':'#0000ff','over':'0 s'}]}}")),
        GLANZ_OK);
    struct chain chain;
    memset(&chain, 0, sizeof chain);
    struct glanz_board_setup setup = {.hardware = stage.rig, .latched = latched, .user = &chain};
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_board *board = glanz_board_open(&setup, &fault);
    ck_assert_ptr_nonnull(board);
    struct glanz_setup start = {
        .rig = stage.rig, .show = stage.show, .port = glanz_board_port(board), .parts = &glanz_everything};
    struct glanz_device *device = NULL;
    ck_assert_int_eq(glanz_device_start(&device, memory, sizeof memory, &start, &fault), GLANZ_OK);
    uint64_t now = 0;
    uint32_t seed = 31u + frames_a_second[_i];
    uint16_t dial = 0;
    uint8_t down = 0;
    uint64_t slowest = 0;
    for (int round = 0; round < 200; round++) {
        uint64_t quiet = now + 200000u; /* it is settled, and dark or lit for a while */
        for (; now < quiet; now += frame_us) {
            glanz_board_time(board, now);
            ck_assert_int_eq(glanz_device_frame(device, (uint32_t)now), GLANZ_OK);
        }
        seed = glanz_hash(seed);
        uint64_t edge = now - 1u - seed % (frame_us - 2u); /* anywhere between two frames */
        int kind = round % 3;
        if (kind == 0) {
            down = !down;
            ck_assert_int_eq(glanz_device_push(device, BELL, !down, (uint32_t)edge), GLANZ_OK);
        } else if (kind == 1) {
            dial = (uint16_t)(dial + 4000u);
            ck_assert_int_eq(glanz_device_push(device, DIAL, dial, (uint32_t)edge), GLANZ_OK);
        } else {
            ck_assert_int_eq(glanz_device_push(device, TIDE, round % 2 == 0 ? 65535 : 0, (uint32_t)edge), GLANZ_OK);
        }
        uint64_t before = chain.latched[0] + chain.latched[1];
        glanz_board_time(board, now);
        ck_assert_int_eq(glanz_device_frame(device, (uint32_t)now), GLANZ_OK);
        glanz_board_time(board, now + 60u * 30u + 400u); /* 60 LEDs of 30 us, and the reset */
        struct glanz_lit rail = glanz_board_lit(board, 1, 59);
        struct glanz_lit wheel = glanz_board_lit(board, 0, 23);
        if (round > 3 && kind == 0) {
            ck_assert_msg((rail.green > 0) == down, "round %d: %d", round, rail.green);
        } else if (round > 3 && kind == 1) {
            ck_assert_msg(rail.blue > 0, "round %d", round);
        } else if (round > 3) {
            ck_assert_msg((wheel.red > 0) == (round % 2 == 0), "round %d: %d", round, wheel.red);
        }
        if (chain.latched[0] + chain.latched[1] != before) {
            uint64_t at = chain.latched[2 + (kind != 2)];
            slowest = at - edge > slowest ? at - edge : slowest;
        }
        now += frame_us;
    }
    printf("from an edge to light at %u frames a second: %u us at the most, of which a frame is %u\n",
           (unsigned)frames_a_second[_i], (unsigned)slowest, (unsigned)frame_us);
    ck_assert_uint_le(slowest, frame_us + 60u * 30u + 400u);
    glanz_board_close(board);
}
END_TEST

/* A colour that cycles and a hand that goes round: where the wave begins again they go on, and never back; also when a sensor
 * leaps from one end to the other, and at 30 and 400 frames a second. */
START_TEST(what_goes_round_goes_on_over_the_seam) {
    static struct glanz_light lit[2][60];
    static const uint32_t paces[] = {30, 100, 400};
    for (int r = 0; r < 3; r++) {
        stage_must_open(
            &stage, strip_rig(60),
            "{'show':'t','brightness':'100 %','looks':{'c':{'effect':'plain','color':{'follows':'w','from':'hsl(360 100% 50%)',"
            "'to':'hsl(0 100% 50%)'}},'n':{'effect':'needle','width':'4 leds','bearing':{'follows':'w','from':'0 "
            "deg','to':'720 "
            "deg'}}},'signals':{'w':{'wave':'saw','period':'2 "
            "s'}},'segments':{'a':{'surface':'a','first':0,'leds':12,'look':'c'},"
            "'n':{'surface':'a','first':12,'leds':48,'look':'n'}}}");
        struct glanz_engine *engine = glanz_device_engine(stage.device);
        double last = -1;
        double way = 0;
        for (uint32_t i = 0; i < paces[r] * 9; i++) {
            ck_assert_int_eq(stage_frame(&stage, (uint64_t)i * 1000000u / paces[r]), GLANZ_OK);
            ck_assert_int_eq(glanz_engine_light(engine, 0, 0, lit[i % 2], 60), GLANZ_OK);
            double most = 0;
            double x = 0;
            double y = 0;
            for (int k = 0; i > paces[r] && k < 60; k++) {
                const struct glanz_light *now = &lit[i % 2][k];
                const struct glanz_light *before = &lit[1 - i % 2][k];
                if (k < 12) {
                    most = fmax(most, fmax(abs(now->red - before->red),
                                           fmax(abs(now->green - before->green), abs(now->blue - before->blue))));
                } else {
                    x += now->red * cos((k - 11.5) / 48 * 6.283185307);
                    y += now->red * sin((k - 11.5) / 48 * 6.283185307);
                }
            }
            /* 180 degrees of hue a second: at most 3 codes of 255 for each, and the steepest code is 1.8 times as much light */
            REQUIRE_MSG(most < 65535.0 * 6 * 180 / 360 / paces[r] * 2.5, "%u frames/s, frame %u: %f", paces[r], i, most);
            if (i > paces[r]) { /* at the line's ends half of the hand is not seen */
                double at = atan2(y, x) / 6.283185307;
                double on = last < -0.9 ? 0 : at - last;
                on -= floor(on + 0.5);
                REQUIRE_MSG(on > -0.05 && on < 1.0 / paces[r] + 0.06, "%u frames/s, frame %u: %f of a turn", paces[r], i, on);
                way += on;
                last = at;
            }
        }
        ck_assert_msg(fabs(way - 8) < 0.2, "%f turns", way); /* a turn a second */
        stage_close(&stage);
    }
}
END_TEST

Suite *signals_suite(void) {
    Suite *suite = suite_create("signals");
    TCase *tests = tcase_create("Signals");
    tcase_add_checked_fixture(tests, NULL, teardown);
    tcase_set_timeout(tests, 300);
    tcase_add_test(tests, what_is_on_its_way_goes_on);
    tcase_add_test(tests, what_goes_round_goes_on_over_the_seam);
    tcase_add_loop_test(tests, what_comes_in_is_light_in_the_next_frame, 0, 3);
    tcase_add_test(tests, states_are_signals);
    tcase_add_test(tests, a_dial_turns_a_point_through_zero_and_back);
    tcase_add_test(tests, a_lever_drives_a_speed_through_zero);
    tcase_add_test(tests, waves_are_what_their_formula_says);
    tcase_add_test(tests, a_trigger_acts_when_its_level_is_passed);
    tcase_add_test(tests, sensors_and_dials_are_read_as_the_rig_says);
    tcase_add_test(tests, two_rates_turn_two_phases);
    tcase_add_test(tests, ranges_are_learnt_by_turning_once);
    tcase_add_test(tests, a_knob_counts_its_steps_through_bounces);
    tcase_add_test(tests, a_hue_is_driven_evenly);
    tcase_add_test(tests, curves_are_monotone_and_exact);
    tcase_add_test(tests, what_rests_is_still);
    tcase_add_test(tests, drives_lie_over_what_was_asked);
    tcase_add_test(tests, another_show_brings_its_own_drives);
    tcase_add_test(tests, another_show_moves_nothing);
    tcase_add_test(tests, a_hand_against_a_drive);
    tcase_add_test(tests, a_hand_against_a_driven_speed_and_bearing);
    tcase_add_test(tests, signals_dim_segments_and_the_whole);
    tcase_add_test(tests, a_trigger_acts_only_while);
    tcase_add_test(tests, three_presses_and_one_that_repeats);
    tcase_add_test(tests, no_third_press_and_a_clock_without_fields);
    tcase_add_test(tests, the_clock_is_a_signal);
    tcase_add_test(tests, combinations);
    tcase_add_test(tests, what_cannot_be_followed_is_refused);
    tcase_add_test(tests, what_the_library_has_not_is_named);
    suite_add_tcase(suite, tests);
    return suite;
}
