/* SPDX-License-Identifier: MIT */
/* What the newest frame draws, by its finished bytes, and what its light would draw: for those who ask. */
#include "compose.h"
#include "current.h"

/* Chip units of a LED's channel. */
static uint32_t units_of(GLANZ_CONST struct glanz_chip *chip, const uint8_t *led, uint8_t position) {
    return chip->protocol == GLANZ_CLOCKED ? (uint32_t)(led[0] & 31u) * led[1 + position] : led[position];
}

uint32_t glanz_engine_output_ua(const struct glanz_engine *engine, uint8_t output) {
    const uint8_t *bytes;
    size_t size;
    if (glanz_engine_bytes(engine, output, &bytes, &size) != GLANZ_OK) {
        return 0;
    }
    GLANZ_CONST struct glanz_output *is = &engine->rig->outputs[output];
    uint32_t ua = glanz_output_ua(&engine->rig->outputs[output], 0);
    bytes += is->stretches[0].chip->head_bytes;
    for (uint8_t s = 0; engine->started && s < is->stretch_count; s++) {
        GLANZ_CONST struct glanz_stretch *stretch = &is->stretches[s];
        GLANZ_CONST struct glanz_chip *chip = stretch->chip;
        uint8_t order = stretch->order == GLANZ_ORDER_CHIP ? chip->order : stretch->order;
        uint32_t sum[4] = {0, 0, 0, 0};
        for (uint16_t led = 0; led < stretch->leds; led++) {
            for (uint8_t position = 0; position < chip->channels; position++) {
                sum[glanz_order_channel(order, position)] += units_of(chip, bytes, position);
            }
            bytes += chip->led_bytes;
        }
        for (uint8_t c = 0; c < 4; c++) {
            uint32_t weight = glanz_stretch_channel_ua(stretch, c);
            ua = glanz_plus(ua,
                            sum[c] / chip->full * weight + glanz_times(weight, glanz_ratio(sum[c] % chip->full, chip->full)));
        }
    }
    return ua;
}

uint32_t glanz_engine_supply_ua(const struct glanz_engine *engine, uint8_t supply) {
    uint32_t ua = 0;
    for (uint8_t o = 0; engine != NULL && o < engine->rig->output_count; o++) {
        ua += engine->rig->outputs[o].supply == supply ? glanz_engine_output_ua(engine, o) : 0;
    }
    return ua;
}

uint32_t glanz_engine_limit_scale(const struct glanz_engine *engine, uint8_t supply) {
    return engine == NULL || supply >= engine->rig->supply_count || !engine->started ? 0
           : engine->supplies[supply].gain == engine->gain                           ? 65536u
                                                           : glanz_ratio(engine->supplies[supply].gain, engine->gain);
}

glanz_status glanz_engine_light(struct glanz_engine *engine, uint8_t output, uint16_t first, struct glanz_light *light,
                                uint16_t count) {
    if (light == NULL || engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (output >= engine->rig->output_count || (uint32_t)first + count > glanz_output_leds(&engine->rig->outputs[output])) {
        return GLANZ_ERR_ABSENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_STATE;
    }
    SET_INSIDE(engine, 1);
    if (engine->dirty) {
        glanz_segments_find_opaque(engine);
    }
    struct strip_run run;
    strip_run_begin(&run);
    for (uint16_t done = 0; done < count;) {
        uint8_t some = (uint8_t)(count - done > GLANZ_RUN ? GLANZ_RUN : count - done);
        if (engine->painter != NULL) {
            engine->painter(light + done, output, (uint16_t)(first + done), some, engine->painter_user);
        } else {
            glanz_compose_run(light + done, engine, &run, output, (uint16_t)(first + done), some);
        }
        done = (uint16_t)(done + some);
    }
    SET_INSIDE(engine, 0);
    return GLANZ_OK;
}

uint32_t glanz_engine_gain(const struct glanz_engine *engine) {
    return engine == NULL ? 0 : engine->gain;
}

uint32_t glanz_engine_demand_ua(struct glanz_engine *engine, uint8_t index) {
    if (engine == NULL || index >= engine->rig->output_count || !engine->started || engine->parts->limit == NULL) {
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
    put.light = light;
    put.gain = gains;
    put.weight = weights;
    put.dither = &dither;
    put.bytes = bytes;
    put.shown = bytes;
    put.remainders = remainders;
    put.restless = 1;
    put.first = 0;
    put.tally.ration = GLANZ_COUNTED;
    output.light = 0;
    for (uint8_t s = 0; s < is->stretch_count; s++) {
        GLANZ_CONST struct glanz_stretch *stretch = &is->stretches[s];
        glanz_output_begin_stretch(&put, gains, trims, weights, &output, is, stretch);
        for (uint16_t left = stretch->leds; left != 0; left = (uint16_t)(left - put.count)) {
            put.count = (uint8_t)(left > GLANZ_RUN ? GLANZ_RUN : left);
            if (glanz_engine_light(engine, index, put.first, light, put.count) == GLANZ_OK) {
                stretch->chip->put(&put);
            }
            put.first = (uint16_t)(put.first + put.count);
        }
        LIMIT(engine->parts->limit, count)(&output, &put, trims, stretch->chip->full);
    }
    return (uint32_t)output.idle * CURRENT_UA + glanz_times((uint32_t)output.light * CURRENT_UA, engine->gain);
}
