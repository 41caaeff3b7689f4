/* SPDX-License-Identifier: MIT */
/* One output's part of a pass: run after run along its data line, shaded, trimmed, dithered, put into its chips' form, and
 * counted where its supply has a limit that may bind. */
#include <string.h>

#include "compose.h"
#include "current.h"

static uint32_t trim_of(uint16_t trim) {
    return trim == 0 || trim == 65535 ? 65536u : trim;
}

/* What a stretch asks of its chip. What the chip keeps along the line stays. @param trims gains before brightness. */
static void begin_stretch(struct glanz_put *put, uint32_t *gains, uint32_t *trims, uint32_t *weights,
                          const struct output *output, GLANZ_CONST struct glanz_output *is,
                          GLANZ_CONST struct glanz_stretch *stretch) {
    for (uint8_t c = 0; c < 4; c++) {
        trims[c] = glanz_share_of(trim_of(stretch->trim[c]), trim_of(is->trim[c]));
        gains[c] = glanz_share_of(trims[c], output->gain);
        weights[c] = glanz_stretch_channel_ua(stretch, c);
        put->tally.light[c] = 0;
        put->tally.bytes[c] = 0;
        put->tally.charge[c] =
            (uint16_t)(weights[c] == output->dearest_ua ? 256u : (glanz_ratio(weights[c], output->dearest_ua) >> 8) + 1u);
    }
    put->channels = stretch->chip->channels;
    put->order = stretch->order == GLANZ_ORDER_CHIP ? stretch->chip->order : stretch->order;
    if (stretch->chip->protocol != GLANZ_CLOCKED) {
        put->kind.white.kelvin = stretch->white_kelvin;
        put->kind.white.known = 0;
    }
}

static void add_ua(current *sum, uint32_t ua) { /* rounded up */
    ua = CURRENT_UA == 1 ? ua : ua / CURRENT_UA + 1u;
    *sum = (current)(ua > (uint32_t)(CURRENT_MOST - *sum) ? CURRENT_MOST : *sum + ua);
}

/* A stretch's light as current at full gain, rounded up, and its bytes as current. */
static void add_stretch(struct output *output, const struct glanz_put *put, const uint32_t *trims, uint16_t full) {
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

void glanz_output_shade(struct glanz_engine *engine, uint8_t index) {
    GLANZ_CONST struct glanz_output *is = &engine->rig->outputs[index];
    struct output *output = &engine->outputs[index];
    struct strip_run run = STRIP_RUN_BEGIN;
    struct glanz_light light[GLANZ_RUN];
    uint32_t gains[4];
    uint32_t trims[4];
    uint32_t weights[4];
    struct glanz_put put;
    struct glanz_dither dither = engine->dither;
    memset(&put, 0, sizeof put);
    dither.equal = is->equal;
    dither.dark = is->faint_dark;
    put.light = light;
    put.gain = gains;
    put.weight = weights;
    put.dither = &dither;
    put.bytes = output->bytes[output->back] + is->stretches[0].chip->head_bytes;
    put.shown = output->bytes[1 - output->back] + is->stretches[0].chip->head_bytes;
    put.remainders = output->remainders;
    put.restless = engine->restless; /* known already: the next frame is shaded in any case */
    put.tally.ration = output->ration;
    current spare = 0;
    if (output->ration == GLANZ_RATIONED && output->clocked) {
        put.kind.clocked.rise_ua = output->cap > output->shown ? (uint32_t)(output->cap - output->shown) * CURRENT_UA : 0;
    } else if (output->ration == GLANZ_RATIONED) {
        spare = glanz_limit_spare(output);
        put.tally.spare = units_of(output, spare);
    }
    int32_t units = put.tally.spare;
    output->light = 0;
    output->drawn = 0;
    for (uint8_t s = 0; s < is->stretch_count; s++) {
        GLANZ_CONST struct glanz_stretch *stretch = &is->stretches[s];
        begin_stretch(&put, gains, trims, weights, output, is, stretch);
        for (uint16_t left = stretch->leds; left != 0; left = (uint16_t)(left - put.count)) {
            put.count = (uint8_t)(left > GLANZ_RUN ? GLANZ_RUN : left);
            if (engine->painter != NULL) {
                engine->painter(light, index, put.first, put.count, engine->painter_user);
            } else {
                glanz_compose_run(light, engine, &run, index, put.first, put.count);
            }
            stretch->chip->put(&put);
            uint16_t bytes = (uint16_t)(put.count * stretch->chip->led_bytes);
            put.bytes += bytes;
            put.shown += bytes;
            put.remainders += (uint16_t)(put.count * put.channels);
            put.first = (uint16_t)(put.first + put.count);
        }
        if (output->ration != GLANZ_UNCOUNTED) {
            add_stretch(output, &put, trims, stretch->chip->full);
        }
    }
    engine->restless = put.restless;
    if (output->ration == GLANZ_UNCOUNTED) { /* no light is known */
        output->drawn = glanz_output_most(output, glanz_output_full(output));
#if GLANZ_OUTPUTS_MOST == 1
    } else if (output->ration == GLANZ_COUNTED) { /* its bytes are not */
        output->drawn = glanz_output_most(output, output->light);
#endif
    } else if (output->ration == GLANZ_RATIONED && (GLANZ_OUTPUTS_MOST == 1 || !output->clocked)) {
        current spent = put.tally.spare < units ? spent_of(output, units - put.tally.spare) : 0;
        output->drawn = glanz_limit_drawn(output, spent < spare ? spent : spare);
    }
}

uint32_t glanz_engine_demand_ua(struct glanz_engine *engine, uint8_t index) {
    if (engine == NULL || index >= engine->rig->output_count || !engine->started) {
        return 0;
    }
    GLANZ_CONST struct glanz_output *is = &engine->rig->outputs[index];
    struct output output = engine->outputs[index];
    struct glanz_light light[GLANZ_RUN];
    uint8_t bytes[GLANZ_RUN * 4];
    uint8_t remainders[GLANZ_RUN * 4];
    uint32_t gains[4];
    uint32_t trims[4];
    uint32_t weights[4];
    struct glanz_put put;
    const struct glanz_dither dither = {0, 0, 0, 0, 0};
    memset(&put, 0, sizeof put);
    put.light = light;
    put.gain = gains;
    put.weight = weights;
    put.dither = &dither;
    put.bytes = bytes;
    put.shown = bytes;
    put.remainders = remainders;
    put.restless = 1;
    put.tally.ration = GLANZ_COUNTED;
    output.light = 0;
    for (uint8_t s = 0; s < is->stretch_count; s++) {
        GLANZ_CONST struct glanz_stretch *stretch = &is->stretches[s];
        begin_stretch(&put, gains, trims, weights, &output, is, stretch);
        for (uint16_t left = stretch->leds; left != 0; left = (uint16_t)(left - put.count)) {
            put.count = (uint8_t)(left > GLANZ_RUN ? GLANZ_RUN : left);
            if (glanz_engine_light(light, engine, index, put.first, put.count) == GLANZ_OK) {
                stretch->chip->put(&put);
            }
            put.first = (uint16_t)(put.first + put.count);
        }
        add_stretch(&output, &put, trims, stretch->chip->full);
    }
    return (uint32_t)output.idle * CURRENT_UA + glanz_times((uint32_t)output.light * CURRENT_UA, engine->gain);
}
