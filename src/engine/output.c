/* SPDX-License-Identifier: MIT */
/* One output's part of a pass: run after run along its data line, shaded, trimmed, dithered, put into its chips' form, and
 * counted where its supply has a limit that may bind. */
#include "compose.h"
#include "current.h"

static uint32_t trim_of(uint16_t trim) {
    return trim == 0 || trim == 65535 ? 65536u : trim;
}

/* What a stretch asks of its chip. What the chip keeps along the line stays. @param trims gains before brightness. */
void glanz_output_begin_stretch(struct glanz_put *put, uint32_t *gains, uint32_t *trims, uint32_t *weights,
                                const struct output *output, GLANZ_CONST struct glanz_output *is,
                                GLANZ_CONST struct glanz_stretch *stretch) {
    put->channels = stretch->chip->channels;
    for (uint8_t c = 0; c < 4; c++) {
        trims[c] = glanz_share_of(trim_of(stretch->trim[c]), trim_of(is->trim[c]));
        gains[c] = glanz_share_of(trims[c], output->gain);
    }
    for (uint8_t c = 0; put->tally.ration != GLANZ_UNCOUNTED && c < put->channels; c++) {
        weights[c] = glanz_stretch_channel_ua(stretch, c);
        put->tally.light[c] = 0;
        put->tally.bytes[c] = 0;
        put->tally.charge[c] = (uint16_t)(weights[c] == output->dearest_ua || output->dearest_ua == 0
                                              ? 256u
                                              : (glanz_ratio(weights[c], output->dearest_ua) >> 8) + 1u);
    }
    put->order = stretch->order == GLANZ_ORDER_CHIP ? stretch->chip->order : stretch->order;
    if (stretch->chip->protocol != GLANZ_CLOCKED) {
        put->kind.white.kelvin = stretch->white_kelvin;
        put->kind.white.known = 0;
    }
}

void glanz_output_shade(struct glanz_engine *engine, uint8_t index) {
    GLANZ_CONST struct glanz_output *is = &engine->rig->outputs[index];
    struct output *output = &engine->outputs[index];
    struct strip_run run;
    struct glanz_light light[GLANZ_RUN];
    uint32_t gains[4];
    uint32_t trims[4];
    uint32_t weights[4];
    struct glanz_put put;
    const struct glanz_dither *on = &engine->dither;
    const struct glanz_dither dither = {on->at, on->depth, on->open, is->equal, is->faint_dark};
    strip_run_begin(&run);
    put.light = light;
    put.gain = gains;
    put.weight = weights;
    put.dither = &dither;
    put.bytes = output->bytes[output->back] + is->stretches[0].chip->head_bytes;
    put.shown = output->bytes[1 - output->back] + is->stretches[0].chip->head_bytes;
    put.remainders = output->remainders;
    put.restless = engine->restless; /* known already: the next frame is shaded in any case */
    put.first = 0;
    put.tally.ration = output->ration;
    GLANZ_CONST struct glanz_limit_part *limit = engine->parts->limit;
    output->light = 0;
    output->drawn = 0;
    if (limit != NULL) {
        LIMIT(limit, begin)(&put, output);
    }
    for (uint8_t s = 0; s < is->stretch_count; s++) {
        GLANZ_CONST struct glanz_stretch *stretch = &is->stretches[s];
        glanz_output_begin_stretch(&put, gains, trims, weights, output, is, stretch);
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
            LIMIT(limit, count)(output, &put, trims, stretch->chip->full);
        }
    }
    engine->restless = put.restless;
    if (limit != NULL) {
        LIMIT(limit, end)(output, &put);
    }
}
