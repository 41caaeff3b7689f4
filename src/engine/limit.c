/* SPDX-License-Identifier: MIT */
/* The current limit: what each output may draw in a frame, decided on exact sums of light before the dither.
 *
 * All currents are above idle. For an output o: X its current at full gain, from the sums of 16-bit light, rounded up; g its
 * gain; r what rounding levels to 1/256 chip step may add; n = r and one and a half chip steps of its dearest channel. The
 * bytes of a rationed output draw at most g X + r + spare, where spare = cap - g X - r is what rounding up is granted out of.
 *
 *   g    = min(brightness, (room - sum of n - margin) / sum of X)
 *   want = g X + n + its part of the margin
 *   cap  = shown + q max(0, want - shown), q = min(1, (room - sum of shown) / sum of the rises)
 *
 * Never above: sum of max(shown, cap) = sum of shown + q (sum of the rises) <= room, so that outputs may latch in any order;
 * what is shown next is at most cap, and so the sum of shown is at most room again. An output whose cap is below what it wants
 * gets the gain that fits: (cap - n) / X, at least 0. LEDs of clocked lines latch one by one: the running sum of new less
 * shown is held below cap - shown by the chip.
 *
 * X is known only once the frame is shaded, so a pass expects it from the frames before; when it turns out wrong (too much
 * drawn, or 1/64 of the room or 1/16 of the light given away), the frame is shaded once more with X known, and that always
 * stands. */
#include "current.h"
#include "state.h"

/* Sum of two currents, at most CURRENT_MOST; difference, at least 0. */
static current plus(current a, current b) {
    current sum = (current)(a + b);
    return sum < a ? CURRENT_MOST : sum;
}

static current less(current a, current b) {
    return (current)(a > b ? a - b : 0);
}

static current rounding_of(const struct output *output) {
    return (current)(output->steps / 256u + 1u);
}

static current noise_of(const struct output *output) {
    return (current)(rounding_of(output) + output->step + output->step / 2u);
}

current glanz_output_full(const struct output *output) {
    return (current)(output->steps > CURRENT_MOST / 255u ? CURRENT_MOST : output->steps * 255u);
}

current glanz_output_most(const struct output *output, current light) {
    return plus(current_times(light, output->gain), (current)(output->steps + rounding_of(output)));
}

/* The most while a frame that draws so much replaces the one shown. */
static current crossing(const struct output *output, current fresh) {
    return output->clocked ? plus(output->shown, fresh) : fresh > output->shown ? fresh : output->shown;
}

/* For the outputs of a supply, one after another. */
#if GLANZ_SUPPLIES_MOST == 1
#define EACH_OUTPUT(o, engine, supply)                                                                                         \
    for (struct output *o = ((void)(supply), (engine)->outputs), *o##_end = o + OUTPUT_COUNT((engine)->rig); o != o##_end; o++)
#else
static struct output *next_output(const struct glanz_engine *engine, uint8_t supply, uint8_t at) {
    while (at < engine->rig->output_count) {
        if (engine->rig->outputs[at].supply == supply) {
            return &engine->outputs[at];
        }
        at++;
    }
    return NULL;
}
#define EACH_OUTPUT(o, engine, supply)                                                                                         \
    for (struct output *o = next_output(engine, supply, 0); o != NULL;                                                         \
         o = next_output(engine, supply, (uint8_t)(o - (engine)->outputs + 1)))
#endif

static current room_of(const struct glanz_engine *engine, uint8_t supply) {
    uint32_t limit = engine->rig->supplies[supply].limit_ma * (1000u / CURRENT_UA);
    current capacity = (current)(limit > CURRENT_MOST ? CURRENT_MOST : limit);
    EACH_OUTPUT(output, engine, supply) {
        capacity = less(capacity, output->idle);
    }
    return capacity;
}

/* The gain, at most `top`, that leaves room for the noise. */
static uint32_t fair_gain(uint32_t top, current light, current capacity, current noise) {
    capacity = less(capacity, noise);
    return current_times(light, top) > capacity ? glanz_ratio(capacity, light) : top;
}

#if GLANZ_OUTPUTS_MOST > 1
/* Caps, and lower gains for outputs that are to wait, where a supply feeds several. */
static void share_out(struct glanz_engine *engine, uint8_t index, current capacity, current margin, uint8_t outputs) {
    const struct supply *supply = &engine->supplies[index];
    current shown = 0;
    current rises = 0;
    EACH_OUTPUT(o, engine, index) {
        o->cap = (current)(current_times(o->expected, supply->gain) + noise_of(o) + margin / outputs); /* what it wants */
        rises = plus(rises, less(o->cap, o->shown));
        shown = plus(shown, o->shown);
    }
    uint32_t part = rises == 0 ? 65536u : glanz_ratio(less(capacity, shown), rises);
    current left = (current)(less(capacity, plus(shown, current_times(rises, part))) / outputs);
    EACH_OUTPUT(o, engine, index) {
        current want = o->cap;
        current cap = (current)(o->shown + current_times(less(want, o->shown), part));
        if (cap < want) {
            uint32_t fits = glanz_ratio(less(cap, noise_of(o)), o->expected);
            o->gain = fits < o->gain ? fits : o->gain;
        }
        o->cap = (current)(cap + left);
    }
}
#endif

#ifdef __AVR__ /* flash is scarcer there than time */
#define never_binds(engine, index) ((engine)->rig->supplies[index].limit_ma == 0)
#else
/* Every LED fully on, and in the worst moment while it latches, is within what the supply gives? Worked out once. */
static int never_binds(struct glanz_engine *engine, uint8_t index) {
    struct supply *supply = &engine->supplies[index];
    if (supply->binds == BINDS_UNKNOWN) {
        current most = 0;
        EACH_OUTPUT(o, engine, index) {
            o->gain = 65536u;
            current full = glanz_output_most(o, glanz_output_full(o));
            most = plus(most, o->clocked ? plus(full, full) : full);
        }
        uint8_t never = engine->rig->supplies[index].limit_ma == 0 || (most < CURRENT_MOST && most <= room_of(engine, index));
        supply->binds = never ? BINDS_NEVER : BINDS_PERHAPS;
    }
    return supply->binds == BINDS_NEVER;
}
#endif

static void plan_supply(struct glanz_engine *engine, uint8_t index, uint8_t exact) {
    struct supply *supply = &engine->supplies[index];
    if (never_binds(engine, index)) {
        supply->gain = engine->gain;
        supply->ration = GLANZ_UNCOUNTED;
        EACH_OUTPUT(o, engine, index) {
            o->gain = engine->gain;
            o->ration = GLANZ_UNCOUNTED;
        }
        return;
    }
    current capacity = room_of(engine, index);
    current most = 0;
    current likely = 0;
    current light = 0;
#if GLANZ_OUTPUTS_MOST > 1
    uint8_t outputs = 0;
#endif
    current noise = exact ? 0 : supply->margin;
    EACH_OUTPUT(o, engine, index) {
        o->gain = engine->gain;
        most = plus(most, crossing(o, glanz_output_most(o, glanz_output_full(o))));
        likely = plus(likely, crossing(o, glanz_output_most(o, o->expected)));
        light = plus(light, o->expected);
        noise = plus(noise, noise_of(o));
#if GLANZ_OUTPUTS_MOST > 1
        outputs++;
#endif
    }
    uint8_t ration = most <= capacity ? GLANZ_UNCOUNTED : likely <= capacity && !exact ? GLANZ_COUNTED : GLANZ_RATIONED;
    supply->ration = ration;
    supply->gain = ration != GLANZ_RATIONED ? engine->gain : fair_gain(engine->gain, light, capacity, noise);
    EACH_OUTPUT(o, engine, index) { /* what the only one shows gives way to what comes */
        o->ration = ration;
        o->gain = supply->gain;
        o->cap = capacity;
    }
#if GLANZ_OUTPUTS_MOST > 1
    if (ration == GLANZ_RATIONED && outputs > 1) {
        share_out(engine, index, capacity, exact ? 0 : supply->margin, outputs);
    }
#endif
}

LIMIT_STATIC void glanz_limit_plan(struct glanz_engine *engine, uint8_t exact) {
    for (uint8_t o = 0; exact && o < OUTPUT_COUNT(engine->rig); o++) {
        engine->outputs[o].expected = engine->outputs[o].light;
    }
    for (uint8_t s = 0; s < SUPPLY_COUNT(engine->rig); s++) {
        plan_supply(engine, s, exact);
    }
}

static current spare_of(const struct output *output) {
    return less(output->cap, plus(current_times(output->expected, output->gain), rounding_of(output)));
}

static current drawn_of(const struct output *output, current spent) {
    return output->gain == 0 ? 0 : plus(current_times(output->light, output->gain), plus(rounding_of(output), spent));
}

/* Does the pass stand for a supply? */
static uint8_t stands(struct glanz_engine *engine, uint8_t index) {
    struct supply *supply = &engine->supplies[index];
    if (supply->ration == GLANZ_UNCOUNTED) {
        return 1;
    }
    current capacity = room_of(engine, index);
    current drawn = 0;
    current noise = 0;
    current lit = 0;
    current free = 0;  /* light of outputs that nothing held back */
    current lost = 0;  /* what would have fitted, had the light been known */
    current error = 0; /* more light than expected */
    uint8_t fits = 1;
    EACH_OUTPUT(o, engine, index) {
        current frame = current_times(o->light, o->gain);
        lit = plus(lit, frame);
        drawn = plus(drawn, crossing(o, o->drawn));
        error = plus(error, less(frame, current_times(o->expected, o->gain)));
        noise = plus(noise, noise_of(o));
        if (GLANZ_OUTPUTS_MOST == 1 || o->gain == supply->gain) {
            free = plus(free, o->light);
        } else {
            noise = plus(noise, frame);
            lost = plus(lost, less(o->cap, plus(frame, noise_of(o))));
        }
        fits = (uint8_t)(fits && o->drawn <= o->cap && frame <= o->cap);
    }
    error = (current)(error > capacity / 256u ? capacity / 128u : error * 2u);
    current margin = less(supply->margin, (current)(supply->margin / 8u + capacity / 4096u + 1u));
    supply->margin = error > margin ? error : margin;
    if (supply->ration == GLANZ_COUNTED) {
        return drawn <= capacity;
    }
    uint32_t gain = fair_gain(engine->gain, free, capacity, noise);
    lost = plus(lost, gain > supply->gain ? current_times(free, gain - supply->gain) : 0);
    engine->dirty = (uint8_t)(engine->dirty | (lost != 0)); /* the next frame is right */
    return fits && lost <= capacity / 64u && lost <= lit / 16u;
}

LIMIT_STATIC uint8_t glanz_limit_stands(struct glanz_engine *engine) {
    uint8_t all = 1;
    for (uint8_t s = 0; s < SUPPLY_COUNT(engine->rig); s++) {
        all = (uint8_t)(all & stands(engine, s));
    }
    return all;
}

/* What the next frame's light will probably be: the smaller of the last two changes once more, where they go one way. And
 * where something was held back, the next frame is lighter though nothing moves. */
LIMIT_STATIC void glanz_limit_expect(struct glanz_engine *engine) {
    for (uint8_t i = 0; i < OUTPUT_COUNT(engine->rig); i++) {
        struct output *o = &engine->outputs[i];
        const struct supply *supply = &engine->supplies[SUPPLY_OF(&engine->rig->outputs[i])];
        if (o->ration == GLANZ_RATIONED && (o->gain < supply->gain || (supply->gain < engine->gain && supply->margin != 0))) {
            engine->dirty = 1;
        }
        current rose = less(o->light, o->before);
        current fell = less(o->before, o->light);
        o->expected = less(plus(o->light, rose < o->rose ? rose : o->rose), fell < o->fell ? fell : o->fell);
        o->rose = rose;
        o->fell = fell;
        o->before = o->light;
    }
}

/* ---- an output, while it is shaded ---- */

static void add_ua(current *sum, uint32_t ua) { /* rounded up */
    ua = CURRENT_UA == 1 ? ua : ua / CURRENT_UA + 1u;
    *sum = (current)(ua > (uint32_t)(CURRENT_MOST - *sum) ? CURRENT_MOST : *sum + ua);
}

/* A stretch's light as current at full gain, rounded up, and its bytes as current. */
LIMIT_STATIC void glanz_limit_count(struct output *output, const struct glanz_put *put, const uint32_t *trims, uint16_t full) {
    for (uint8_t c = 0; c < put->channels; c++) {
        uint32_t ua = glanz_times(glanz_times(put->weight[c], trims[c]) + 1u, put->tally.light[c]);
        add_ua(&output->light, ua + ua / 32768u + 2u); /* full light is 65535, not 65536 */
#if GLANZ_OUTPUTS_MOST > 1
        uint32_t units = put->tally.bytes[c];
        add_ua(&output->drawn,
               units / full * put->weight[c] + glanz_times(put->weight[c], glanz_ratio(units % full, full) + 1u) + 1u);
#else
        (void)full;
#endif
    }
}

/* What rounding up may spend, in the tally's units; and back, rounded up. */
static int32_t units_of(const struct output *output, current most) {
    uint32_t steps = (uint32_t)output->step * 128u;
    return most >= steps ? INT32_C(128) << 16 : (int32_t)(glanz_ratio(most, steps) * 128u);
}

static current spent_of(const struct output *output, int32_t units) {
    return (current)(glanz_times(output->step, (uint32_t)units) + 1u);
}

/* What rounding up may be granted in a pass. */
static current grant_of(const struct output *output) {
    return output->ration == GLANZ_RATIONED && !output->clocked ? spare_of(output) : 0;
}

/* What the limit has to know of an output. */
LIMIT_STATIC void glanz_limit_start(struct output *output, GLANZ_CONST struct glanz_output *is) {
    uint32_t idle_ua = glanz_output_ua(is, 0);
    uint32_t step_ua = (glanz_output_ua(is, 15) - idle_ua) / 255u + 1u;
    output->idle = (current)((idle_ua + CURRENT_UA - 1u) / CURRENT_UA);
    output->steps = (current)(step_ua / CURRENT_UA + (CURRENT_UA > 1));
    for (uint8_t i = 0; i < is->stretch_count; i++) {
        for (uint8_t c = 0; c < is->stretches[i].chip->channels; c++) {
            uint32_t ua = glanz_stretch_channel_ua(&is->stretches[i], c);
            output->dearest_ua = ua > output->dearest_ua ? ua : output->dearest_ua;
        }
    }
    output->step = (current)(output->dearest_ua / (255u * CURRENT_UA) + 1u);
}

LIMIT_STATIC void glanz_limit_begin(struct glanz_put *put, const struct output *output) {
    if (output->ration == GLANZ_RATIONED && output->clocked) {
        put->kind.clocked.rise_ua = output->cap > output->shown ? (uint32_t)(output->cap - output->shown) * CURRENT_UA : 0;
    } else if (output->ration == GLANZ_RATIONED) {
        put->tally.spare = units_of(output, spare_of(output));
    }
}

/* What it has come to. */
LIMIT_STATIC void glanz_limit_end(struct output *output, const struct glanz_put *put) {
    if (output->ration == GLANZ_UNCOUNTED) { /* no light is known */
        output->drawn = glanz_output_most(output, glanz_output_full(output));
#if GLANZ_OUTPUTS_MOST == 1
    } else if (output->ration == GLANZ_COUNTED) { /* its bytes are not */
        output->drawn = glanz_output_most(output, output->light);
#endif
    } else if (output->ration == GLANZ_RATIONED && (GLANZ_OUTPUTS_MOST == 1 || !output->clocked)) {
        current spare = grant_of(output);
        int32_t units = units_of(output, spare);
        current spent = put->tally.spare < units ? spent_of(output, units - put->tally.spare) : 0;
        output->drawn = drawn_of(output, spent < spare ? spent : spare);
    }
}

#ifdef __AVR__
GLANZ_CONST struct glanz_limit_part glanz_part_limit = {1};
#else
GLANZ_CONST struct glanz_limit_part glanz_part_limit = {glanz_limit_start,  glanz_limit_plan,  glanz_limit_stands,
                                                        glanz_limit_expect, glanz_limit_begin, glanz_limit_count,
                                                        glanz_limit_end};
#endif
