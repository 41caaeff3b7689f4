/* SPDX-License-Identifier: MIT */
/* The current limit over random rigs and shows, by an oracle of its own: currents from the wire bytes and the LEDs' data. And
 * time and means over the same rigs. */
#include "stage.h"
#include "suites.h"

#include <glanz/engine.h>

#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static struct stage stage;

static void teardown(void) {
    stage_close(&stage);
}

#define OUTPUTS 5
#define BYTES 4096

static uint32_t state;
static uint32_t draw(uint32_t below) {
    state = glanz_hash(state + 0x9E3779B9u);
    return state % below;
}

struct random_rig {
    struct glanz_rig rig;
    struct glanz_supply supplies[2];
    struct glanz_output outputs[OUTPUTS];
    struct glanz_stretch stretches[OUTPUTS][2];
    struct glanz_surface surfaces[OUTPUTS];
    struct glanz_piece pieces[OUTPUTS];
    struct glanz_segment segments[OUTPUTS + 2];
    struct glanz_look looks[6];
    struct glanz_setting settings[6][2];
};

static void draw_rig(struct random_rig *r) {
    static GLANZ_CONST struct glanz_chip *const one_wire[] = {&glanz_chip_ws2812b, &glanz_chip_sk6812, &glanz_chip_sk6812_rgbw,
                                                              &glanz_chip_ws2811, &glanz_chip_ws2811_400};
    memset(r, 0, sizeof *r);
    r->rig.name = "random";
    r->rig.supply_count = (uint8_t)(1 + draw(2));
    r->rig.output_count = (uint8_t)(1 + draw(OUTPUTS));
    r->rig.surface_count = r->rig.output_count;
    static const uint16_t rates[] = {30, 60, 100, 200, 400};
    r->rig.frames_per_s = rates[draw(5)];
    r->rig.free_dither = draw(8) == 0;
    r->rig.supplies = r->supplies;
    r->rig.outputs = r->outputs;
    r->rig.surfaces = r->surfaces;
    for (uint8_t o = 0; o < r->rig.output_count; o++) {
        struct glanz_output *output = &r->outputs[o];
        uint8_t clocked = draw(3) == 0;
        output->name = "line";
        output->stretches = r->stretches[o];
        output->stretch_count = (uint8_t)(1 + draw(2));
        output->pin = (uint8_t)(2 * o);
        output->clock_pin = (uint8_t)(2 * o + 1);
        output->supply = (uint8_t)draw(r->rig.supply_count);
        output->equal = draw(6) == 0;
        output->trim[draw(3)] = (uint16_t)(draw(4) == 0 ? 20000 + draw(40000) : 0);
        uint16_t leds = 0;
        GLANZ_CONST struct glanz_chip *kind = one_wire[draw(5)];
        for (uint8_t s = 0; s < output->stretch_count; s++) {
            struct glanz_stretch *stretch = &r->stretches[o][s];
            stretch->chip = clocked ? (draw(2) ? &glanz_chip_apa102 : &glanz_chip_sk9822) : kind;
            stretch->leds = (uint16_t)(1 + (draw(4) == 0 ? draw(4) : draw(90)));
            stretch->parallel = (uint8_t)(draw(5) == 0 ? 2 : 0);
            stretch->white_kelvin = (uint16_t)(draw(2) ? 2700 + draw(4000) : 0);
            if (draw(3) == 0) {
                for (uint8_t c = 0; c < 4; c++) {
                    stretch->channel_ua[c] = (uint16_t)(3000 + draw(40000));
                }
            }
            leds = (uint16_t)(leds + stretch->leds);
        }
        r->pieces[o].output = o;
        r->pieces[o].leds = leds;
        r->surfaces[o].name = "strip";
        r->surfaces[o].pieces = &r->pieces[o];
        r->surfaces[o].piece_count = 1;
        r->segments[o].name = "all";
        r->segments[o].surface = o;
        r->segments[o].seed = draw(65536);
    }
    for (uint8_t s = 0; s < r->rig.supply_count; s++) {
        double idle = 0;
        double full = 0;
        for (uint8_t o = 0; o < r->rig.output_count; o++) {
            if (r->outputs[o].supply == s) {
                idle += glanz_output_ua(&r->outputs[o], 0) / 1000.0;
                full += glanz_output_ua(&r->outputs[o], 7) / 1000.0;
            }
        }
        r->supplies[s].name = "supply";
        r->supplies[s].millivolts = 5000;
        r->supplies[s].limit_ma = (uint32_t)(idle + 1 + (full - idle) * (0.03 + draw(1000) / 1100.0));
    }
    GLANZ_CONST struct glanz_effect *const moving[] = {&glanz_effect_walker, &glanz_effect_flow,      &glanz_effect_comet,
                                                       &glanz_effect_motley, &glanz_effect_breathing, &glanz_effect_twinkle,
                                                       &glanz_effect_swell,  &glanz_effect_procession};
    uint8_t plain = draw(2) == 0;
    for (uint8_t i = 0; i < 6; i++) {
        r->looks[i].name = "look";
        r->looks[i].effect = plain || i == 0 ? &glanz_effect_plain : moving[draw(8)];
        r->looks[i].settings = r->settings[i];
        if (r->looks[i].effect == &glanz_effect_plain) {
            r->looks[i].setting_count = 1;
            r->settings[i][0].number = (int32_t)(draw(3) == 0   ? GLANZ_RGB(0xFF, 0xFF, 0xFF)
                                                 : draw(4) == 0 ? GLANZ_RGB(0, 0, 0)
                                                                : GLANZ_RGB(draw(256), draw(256), draw(256)));
        }
    }
    for (uint8_t o = 0; o < r->rig.output_count; o++) {
        r->segments[o].look = draw(8) == 0 ? NULL : &r->looks[draw(6)];
    }
}

/* Current of each output by its bytes, above idle, microamps. `mixed`: the most while clocked LEDs latch, those of `old` first.
 */
static double bytes_ua(const struct glanz_output *output, const uint8_t *bytes, const uint8_t *old, double *crossing) {
    double sum = 0;
    double rise = 0;
    double most = 0;
    size_t at = output->stretches[0].chip->head_bytes;
    double shown = 0;
    for (uint8_t s = 0; s < output->stretch_count; s++) {
        const struct glanz_stretch *stretch = &output->stretches[s];
        const struct glanz_chip *chip = stretch->chip;
        for (uint16_t led = 0; led < stretch->leds; led++) {
            double now = 0;
            double before = 0;
            for (uint8_t p = 0; p < chip->channels; p++) {
                uint8_t c = glanz_order_channel(chip->order, p);
                double ua = stretch->channel_ua[0] != 0 ? stretch->channel_ua[c] : chip->channel_ua[c];
                ua *= stretch->parallel == 0 ? 1 : stretch->parallel;
                if (chip->protocol == GLANZ_CLOCKED) {
                    now += ua * (bytes[at] & 31) / 31 * bytes[at + 1 + p] / 255;
                    before += ua * (old[at] & 31) / 31 * old[at + 1 + p] / 255;
                } else {
                    now += ua * bytes[at + p] / 255;
                    before += ua * old[at + p] / 255;
                }
            }
            at += chip->led_bytes;
            sum += now;
            shown += before;
            rise += now - before;
            most = rise > most ? rise : most;
        }
    }
    *crossing = output->stretches[0].chip->protocol == GLANZ_CLOCKED ? shown + most : sum > shown ? sum : shown;
    return sum;
}

static double step_ua(const struct glanz_output *output, double *all) {
    double largest = 0;
    *all = 0;
    for (uint8_t s = 0; s < output->stretch_count; s++) {
        for (uint8_t c = 0; c < output->stretches[s].chip->channels; c++) {
            const struct glanz_stretch *stretch = &output->stretches[s];
            double ua = stretch->channel_ua[0] != 0 ? stretch->channel_ua[c] : stretch->chip->channel_ua[c];
            ua *= (stretch->parallel == 0 ? 1 : stretch->parallel) / 255.0;
            largest = ua > largest ? ua : largest;
            *all += ua * stretch->leds;
        }
    }
    return largest;
}

static struct {
    unsigned long frames, held, over, low, dark, dim, extra, stood, uneven, unsaid;
    double worst_over, worst_uneven, lowest_share;
    unsigned most_extra;
} found;

/* @return milliseconds that it takes. */
static uint32_t change_something(struct glanz_engine *engine, struct random_rig *r, glanz_us now) {
    struct glanz_change change = {now, draw(3) == 0 ? draw(2000) : 0, 0};
    uint8_t segment = (uint8_t)draw(r->rig.output_count);
    glanz_status status = GLANZ_OK;
    switch (draw(6)) {
    case 0: status = glanz_engine_brightness(engine, GLANZ_ALL, (uint16_t)(draw(2) ? 65535 : draw(65536)), change); break;
    case 1: status = glanz_engine_switch(engine, segment, (uint8_t)draw(2), change); break;
    case 2: status = glanz_engine_brightness(engine, segment, (uint16_t)(draw(3) == 0 ? 65535 : draw(65536)), change); break;
    default: status = glanz_engine_look(engine, segment, draw(7) == 0 ? NULL : &r->looks[draw(6)], change); break;
    }
    REQUIRE(status == GLANZ_OK);
    return change.over_ms;
}

static void run_rig(struct random_rig *r, unsigned frames) {
    static uint8_t shown[OUTPUTS][BYTES];
    static uint8_t memory[200000] __attribute__((aligned(16)));
    struct glanz_engine *engine;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    memset(shown, 0, sizeof shown);
    if (glanz_rig_check(&r->rig, &fault) != GLANZ_OK) { /* chips that cannot share a line */
        return;
    }
    REQUIRE(glanz_engine_start(&engine, memory, sizeof memory, &glanz_everything, &r->rig, OUTPUTS, 0, &fault) == GLANZ_OK);
    struct glanz_change at_once = {0, 0, 0};
    REQUIRE(glanz_engine_set_segments(engine, r->segments, NULL, r->rig.output_count, NULL, 0, at_once, &fault) == GLANZ_OK);
    glanz_us fading_until = 0;
    uint32_t quiet = 0; /* frames since something was changed by hand */
    uint32_t pause = draw(60);
    double before[2] = {-1, -1};
    for (unsigned f = 0; f < frames; f++) {
        glanz_us now = (glanz_us)f * 1000000u / r->rig.frames_per_s + 1000u;
        uint8_t changed = 0;
        if (quiet++ >= pause) {
            for (uint32_t n = 1 + draw(3); n != 0; n--) {
                uint32_t over_ms = change_something(engine, r, now);
                glanz_us end = now + over_ms * (glanz_us)1000u;
                fading_until = end > fading_until ? end : fading_until;
            }
            quiet = 0;
            pause = draw(3) == 0 ? 0 : draw(90);
            changed = 1;
        }
        uint8_t fades = now <= fading_until + 200000u;
        uint8_t shaded = 0;
        uint32_t extra = glanz_engine_extra_passes(engine);
        REQUIRE(glanz_engine_frame(engine, now, f == 0, &shaded) == GLANZ_OK);
        extra = glanz_engine_extra_passes(engine) - extra;
        found.frames++;
        found.extra += extra;
        found.most_extra = extra > found.most_extra ? extra : found.most_extra;
        double worst[2] = {0, 0};
        double lit[2] = {0, 0};
        double steps[2] = {0, 0};
        double all[2] = {0, 0};
        double wanted[2] = {0, 0};
        double idle[2] = {0, 0};
        for (uint8_t o = 0; o < r->rig.output_count; o++) {
            const uint8_t *bytes;
            size_t count;
            REQUIRE(glanz_engine_bytes(engine, o, &bytes, &count) == GLANZ_OK);
            REQUIRE(count <= BYTES);
            uint8_t s = r->outputs[o].supply;
            double dark = glanz_output_ua(&r->outputs[o], 0);
            double crossing;
            double every;
            idle[s] += dark;
            lit[s] += dark + bytes_ua(&r->outputs[o], bytes, shown[o], &crossing);
            worst[s] += dark + crossing;
            steps[s] += 2 * step_ua(&r->outputs[o], &every);
            all[s] += every;
            memcpy(shown[o], bytes, count);
            wanted[s] += glanz_engine_demand_ua(engine, o);
        }
        if (shaded) {
            glanz_engine_sent(engine);
        }
        uint8_t depth = glanz_engine_dither(engine).depth;
        uint8_t shares = !r->rig.free_dither; /* its dither is spread over neighbours */
        for (uint8_t o = 0; o < r->rig.output_count; o++) {
            shares = (uint8_t)(shares && !r->outputs[o].equal);
        }
        for (uint8_t s = 0; s < r->rig.supply_count; s++) {
            double limit = r->supplies[s].limit_ma * 1000.0;
            if (lit[s] == 0) {
                continue; /* feeds nothing */
            }
            if (worst[s] > limit + 0.01) {
                found.over++;
                found.worst_over = worst[s] - limit > found.worst_over ? worst[s] - limit : found.worst_over;
            }
            uint32_t scale = glanz_engine_limit_scale(engine, s);
            REQUIRE(fabs((double)glanz_engine_supply_ua(engine, s) - lit[s]) < 50 + lit[s] / 10000);
            if (wanted[s] > limit * 1.0001 + steps[s] + all[s] / 200) { /* the bound of its roundings aside */
                found.unsaid += scale == 65536u;                        /* an output alone waited */
                found.held++;
                double may = fmax(fmax(limit * 0.03, all[s] / (1 << depth)), steps[s]);
                if (worst[s] < limit - may - 1) {
                    found.low++;
                }
                double share = worst[s] / limit;
                found.lowest_share = share < found.lowest_share ? share : found.lowest_share;
            } else if (!changed && fades == 0 && worst[s] < wanted[s] - 2 * steps[s] - all[s] / (1 << depth) - limit * 0.017) {
                found.dim++;
            }
            found.dark += shares && lit[s] == idle[s] && worst[s] == idle[s] &&
                          wanted[s] > idle[s] + 4 * steps[s] + all[s] / (1 << depth);
            /* a plain scene that stands */
            if (shares && r->looks[1].effect == &glanz_effect_plain && fades == 0 && !changed &&
                quiet > r->rig.frames_per_s / 2 && before[s] > 0) {
                double most = fmax(0.01 * limit, 2 * steps[s]);
                found.stood++;
                found.uneven += fabs(lit[s] - before[s]) > most;
                found.worst_uneven = fmax(found.worst_uneven, fabs(lit[s] - before[s]) / most);
            }
            before[s] = lit[s];
        }
    }
}

START_TEST(limit_over_random_rigs) {
    unsigned rigs = test_long() ? 2000 : 200;
    uint32_t begin = test_seed(20261);
    struct random_rig rig;
    memset(&found, 0, sizeof found);
    found.lowest_share = 1;
    for (unsigned i = 0; i < rigs; i++) {
        state = glanz_hash2(begin, i);
        draw_rig(&rig);
        unsigned long over = found.over;
        run_rig(&rig, 300);
        REQUIRE_MSG(found.over == over, "rig %u of seed %u: %f uA above the limit", i, begin, found.worst_over);
    }
    printf("limit: seed %u, %u rigs, %lu frames, limit held in %lu; above it %lu, too far below %lu (worst "
           "%.1f %% of it), dark %lu, dim without need %lu; standing %lu, uneven %lu (worst %.2f of what may be); extra passes "
           "%.4f a frame, at most %u\n",
           begin, rigs, found.frames, found.held, found.over, found.low, found.lowest_share * 100, found.dark, found.dim,
           found.stood, found.uneven, found.worst_uneven, (double)found.extra / (double)found.frames, found.most_extra);
    ck_assert_uint_le(found.unsaid * 1000, found.held);
    ck_assert_uint_eq(found.dark, 0);
    ck_assert_uint_eq(found.dim, 0);
    ck_assert_uint_eq(found.uneven, 0);
    ck_assert_uint_gt(found.stood, rigs * 10ul);
    ck_assert_uint_gt(found.held, rigs * 30ul);
    ck_assert_uint_le(found.most_extra, 1);
    REQUIRE_MSG(found.low * 1000 <= found.held, "%lu of %lu frames too dark", found.low, found.held);
}
END_TEST

/* Plain white under a limit: after the fade-in every frame draws what is allowed, none is dark, none is shaded twice. */
START_TEST(white_strips_do_not_black_out) {
    static const struct {
        unsigned leds, limit;
        double least;
    } strips[] = {{60, 300, 297}, {300, 1000, 985}, {10, 60, 58}};
    for (int k = 0; k < 3; k++) {
        char rig[500];
        snprintf(rig, sizeof rig,
                 "{'rig':'t','supplies':{'s':{'volts':'5 V','limit':'%u mA'}},'outputs':{'o':{'pin':1,'supply':'s','line':["
                 "{'chip':'WS2812B','leds':%u}]}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':%u}]}}}",
                 strips[k].limit, strips[k].leds, strips[k].leds);
        stage_must_open(&stage, rig,
                        "{'show':'t','brightness':'100 %','looks':{'l':{'effect':'plain','color':'#ffffff'}},'segments':{'s':"
                        "{'surface':'a','look':'l'}}}");
        stage_run(&stage, 0, 3000000, 60);
        struct glanz_engine *engine = glanz_device_engine(stage.device);
        uint32_t extra = glanz_engine_extra_passes(engine);
        for (uint64_t frame = 180; frame < 480; frame++) {
            stage_frame(&stage, frame * 1000000u / 60);
            double ma = glanz_engine_supply_ua(engine, 0) / 1000.0;
            REQUIRE_MSG(ma <= strips[k].limit && ma >= strips[k].least, "%u LEDs at %u mA: %f mA", strips[k].leds,
                        strips[k].limit, ma);
        }
        ck_assert_uint_eq(glanz_engine_extra_passes(engine), extra);
        ck_assert_uint_le(extra, 3);
        stage_close(&stage);
    }
}
END_TEST

/* Two outputs on one supply, one of them crossfading to white: no flicker, and never far below what is allowed. */
START_TEST(two_outputs_on_one_supply) {
    stage_must_open(
        &stage,
        "{'rig':'t','supplies':{'s':{'volts':'5 V','limit':'700 mA'}},'outputs':{'o':{'pin':1,'supply':'s',"
        "'line':[{'chip':'WS2812B','leds':30}]},'p':{'pin':2,'supply':'s','line':[{'chip':'WS2812B','leds':30}]}},'surfaces':{"
        "'a':{'strip':[{'output':'o','first':0,'leds':30}]},'b':{'strip':[{'output':'p','first':0,'leds':30}]}}}",
        "{'show':'t','brightness':'100 %','looks':{'l':{'effect':'plain','color':'#ffffff'},'d':{'effect':'plain','color':"
        "'#201000'}},'segments':{'s':{'surface':'a','look':'l'},'t':{'surface':'b','look':'d'}}}");
    stage_run(&stage, 0, 3000000, 60);
    struct glanz_engine *engine = glanz_device_engine(stage.device);
    stage_do(&stage, "{'look':'l','segment':'t','over':'2 s'}");
    double last = 0;
    for (uint64_t frame = 180; frame < 420; frame++) {
        stage_frame(&stage, frame * 1000000u / 60);
        double ma = glanz_engine_supply_ua(engine, 0) / 1000.0;
        double one = stage_sum(&stage, 0, 0) / 30.0;
        REQUIRE_MSG(ma <= 700 && ma >= 700 * 0.97, "frame %u: %f mA", (unsigned)frame, ma);
        REQUIRE_MSG(frame == 180 || one <= last + 1.1, "frame %u: from %f to %f", (unsigned)frame, last,
                    one); /* it only gives way */
        last = one;
    }
}
END_TEST

/* ---- the other laws, over the same rigs ---- */

static uint8_t rig_memory[2][200000] __attribute__((aligned(16)));

static struct glanz_engine *start_rig(struct random_rig *r, int which) {
    struct glanz_engine *engine;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_change at_once = {0, 0, 0};
    ck_assert_int_eq(glanz_engine_start(&engine, rig_memory[which], sizeof rig_memory[which], &glanz_everything, &r->rig,
                                        OUTPUTS, 0, &fault),
                     GLANZ_OK);
    REQUIRE(glanz_engine_set_segments(engine, r->segments, NULL, r->rig.output_count, NULL, 0, at_once, &fault) == GLANZ_OK);
    uint8_t shaded;
    REQUIRE(glanz_engine_frame(engine, 0, 0, &shaded) == GLANZ_OK); /* time begins */
    return engine;
}

static void draw_unlimited(struct random_rig *r, uint32_t seed, uint32_t number) {
    state = glanz_hash2(seed, number);
    draw_rig(r);
    for (uint8_t s = 0; s < r->rig.supply_count; s++) {
        r->supplies[s].limit_ma = 0;
    }
}

static double seen(uint32_t level) {
    double light = level / 65535.0;
    return 255 * (light <= 0.0031308 ? 12.92 * light : 1.055 * pow(light, 1 / 2.4) - 0.055);
}

static uint16_t leds_of(const struct glanz_output *output) {
    return (uint16_t)(output->stretches[0].leds + (output->stretch_count > 1 ? output->stretches[1].leds : 0));
}

/* Frames until `end`, and the changes of the script that come before each, at their own moments. */
static void run_until(struct glanz_engine *engine, struct random_rig *r, uint32_t rate, glanz_us from, glanz_us end,
                      uint32_t script, unsigned changes) {
    glanz_us frame = from;
    for (unsigned next = 0; frame < end;) {
        frame = frame + 1000000u / rate > end - 1000u ? end : frame + 1000000u / rate;
        for (; next < changes; next++) {
            state = glanz_hash2(script, next);
            glanz_us at = from + (end - from) * next / changes + draw((uint32_t)(end - from) / changes);
            if (at > frame) {
                break;
            }
            (void)change_something(engine, r, at);
        }
        uint8_t shaded;
        REQUIRE(glanz_engine_frame(engine, frame, 0, &shaded) == GLANZ_OK);
    }
}

/* The furthest that two engines are apart: of 255 as seen, and in light of a LED. */
static void compare(double *seen_apart, double *light_apart, struct random_rig *r, struct glanz_engine *one,
                    struct glanz_engine *other) {
    static struct glanz_light a[400];
    static struct glanz_light b[400];
    double gain = glanz_engine_gain(one) / 65536.0;
    *seen_apart = fabs(seen(glanz_engine_gain(one) * 65535.0 / 65536) - seen(glanz_engine_gain(other) * 65535.0 / 65536));
    *light_apart = 0;
    for (uint8_t o = 0; o < r->rig.output_count; o++) {
        uint16_t leds = leds_of(&r->outputs[o]);
        REQUIRE(glanz_engine_light(one, o, 0, a, leds) == GLANZ_OK);
        REQUIRE(glanz_engine_light(other, o, 0, b, leds) == GLANZ_OK);
        for (uint16_t led = 0; led < leds; led++) {
            const uint16_t ours[3] = {a[led].red, a[led].green, a[led].blue};
            const uint16_t theirs[3] = {b[led].red, b[led].green, b[led].blue};
            for (int c = 0; c < 3; c++) {
                *seen_apart = fmax(*seen_apart, fabs(seen((uint32_t)(ours[c] * gain)) - seen((uint32_t)(theirs[c] * gain))));
                *light_apart = fmax(*light_apart, fabs((double)ours[c] - theirs[c]) / 65535);
            }
        }
    }
}

/* L7: the same changes at the same moments, at two frame rates: levels within 1 of 255 as seen; where something moves, its
 * edges within 1/16 LED. */
START_TEST(rates_agree_over_random_rigs) {
    unsigned rigs = test_long() ? 2000 : 200;
    struct random_rig rig;
    double worst_seen = 0;
    double worst_light = 0;
    unsigned long compared = 0;
    for (unsigned i = 0; i < rigs; i++) {
        draw_unlimited(&rig, test_seed(4711), i);
        if (glanz_rig_check(&rig.rig, NULL) != GLANZ_OK) {
            continue;
        }
        static const uint16_t rates[] = {30, 60, 100, 200, 400};
        uint16_t one_rate = rates[draw(4)];
        uint16_t other_rate = rates[1 + draw(4)];
        uint32_t script = draw(0x10000000u);
        uint8_t plain = 1;
        for (unsigned k = 0; k < 6; k++) {
            plain = (uint8_t)(plain && rig.looks[k].effect == &glanz_effect_plain);
        }
        struct glanz_engine *one = start_rig(&rig, 0);
        struct glanz_engine *other = start_rig(&rig, 1);
        for (unsigned part = 0; part < 6; part++) {
            run_until(one, &rig, one_rate, part * 700000u, (part + 1) * 700000u, script + part, 3);
            run_until(other, &rig, other_rate, part * 700000u, (part + 1) * 700000u, script + part, 3);
            double as_seen;
            double light;
            compare(&as_seen, &light, &rig, one, other);
            compared++;
            if (plain) {
                REQUIRE_MSG(as_seen <= 1, "rig %u, part %u: %u and %u frames/s are %f of 255 apart", i, part, one_rate,
                            other_rate, as_seen);
                worst_seen = fmax(worst_seen, as_seen);
            } else {
                REQUIRE_MSG(light <= 1.0 / 16, "rig %u, part %u: %u and %u frames/s are %f of a LED apart", i, part, one_rate,
                            other_rate, light);
                worst_light = fmax(worst_light, light);
            }
        }
    }
    printf("two frame rates: %lu moments compared; plain colours at most %.3f of 255 apart, what moves %.4f of a LED's light\n",
           compared, worst_seen, worst_light);
    ck_assert_uint_gt(compared, rigs);
}
END_TEST

/* L3: plain colours that stand, after whatever was before: the mean over a dither period, LED by LED of three channels. */
START_TEST(means_are_true_over_random_rigs) {
    unsigned rigs = test_long() ? 2000 : 200;
    struct random_rig rig;
    double worst = 0;
    unsigned long compared = 0;
    for (unsigned i = 0; i < rigs; i++) {
        draw_unlimited(&rig, test_seed(815), i);
        rig.rig.free_dither = 0;
        for (unsigned k = 0; k < 6; k++) {
            rig.looks[k].effect = &glanz_effect_plain;
            rig.looks[k].setting_count = 1;
            rig.settings[k][0].number =
                (int32_t)(draw(2) ? GLANZ_RGB(draw(256), draw(256), draw(256)) : GLANZ_RGB(draw(32), draw(32), draw(32)));
        }
        if (glanz_rig_check(&rig.rig, NULL) != GLANZ_OK) {
            continue;
        }
        static const uint16_t rates[] = {30, 60, 100, 200, 400};
        uint16_t rate = rates[draw(5)];
        struct glanz_engine *engine = start_rig(&rig, 0);
        run_until(engine, &rig, rate, 0, 1500000, draw(0x10000000u), 5);
        static double sum[OUTPUTS][BYTES];
        unsigned frames = 0;
        uint8_t depth = 0;
        memset(sum, 0, sizeof sum);
        for (glanz_us now = 5000000; frames < 1u << depth || frames == 0; now += 1000000u / rate) { /* nothing fades any more */
            uint8_t shaded;
            REQUIRE(glanz_engine_frame(engine, now, now < 5100000, &shaded) == GLANZ_OK);
            struct glanz_dither dither = glanz_engine_dither(engine);
            depth = dither.depth;
            if (now < 6000000 || (frames == 0 && shaded && dither.at != 0)) {
                continue;
            }
            frames++;
            for (uint8_t o = 0; o < rig.rig.output_count; o++) {
                const uint8_t *bytes;
                size_t count;
                REQUIRE(glanz_engine_bytes(engine, o, &bytes, &count) == GLANZ_OK);
                for (size_t b = 0; b < count; b++) {
                    sum[o][b] += bytes[b];
                }
            }
        }
        for (uint8_t o = 0; o < rig.rig.output_count; o++) {
            const struct glanz_output *output = &rig.outputs[o];
            const struct glanz_chip *chip = output->stretches[0].chip;
            if (chip->protocol == GLANZ_CLOCKED || chip->channels != 3) {
                continue;
            }
            for (uint16_t led = 0; led < leds_of(output); led++) {
                struct glanz_light light;
                REQUIRE(glanz_engine_light(engine, o, led, &light, 1) == GLANZ_OK);
                const uint16_t levels[3] = {light.red, light.green, light.blue};
                for (uint8_t p = 0; p < 3; p++) {
                    uint8_t c = glanz_order_channel(output->stretches[led < output->stretches[0].leds ? 0 : 1].chip->order, p);
                    double trim = output->trim[c] == 0 ? 1 : output->trim[c] / 65535.0;
                    double want = levels[c] / 257.0 * trim * glanz_engine_gain(engine) / 65536;
                    double off = fabs(sum[o][led * 3u + p] / frames - want) * (1u << depth);
                    REQUIRE_MSG(off <= 1.02, "rig %u, output %u, LED %u, channel %u: mean %f, wanted %f, depth %u", i, o, led,
                                c, sum[o][led * 3u + p] / frames, want, depth);
                    worst = fmax(worst, off);
                    compared++;
                }
            }
        }
    }
    printf("standing colours: %lu levels compared, means at most %.3f dither steps off\n", compared, worst);
    ck_assert_uint_gt(compared, rigs * 20ul);
}
END_TEST

Suite *limit_suite(void) {
    Suite *suite = suite_create("limit");
    TCase *tcase = tcase_create("Limit");
    tcase_set_timeout(tcase, 1200);
    tcase_add_test(tcase, limit_over_random_rigs);
    tcase_add_test(tcase, rates_agree_over_random_rigs);
    tcase_add_test(tcase, means_are_true_over_random_rigs);
    tcase_add_checked_fixture(tcase, NULL, teardown);
    tcase_add_test(tcase, white_strips_do_not_black_out);
    tcase_add_test(tcase, two_outputs_on_one_supply);
    suite_add_tcase(suite, tcase);
    return suite;
}
