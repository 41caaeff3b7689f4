/* SPDX-License-Identifier: MIT */
/* The numbers of a look: as they were set, and as an effect sees them; how fast its phase runs. */
#include <string.h>

#include "state.h"

/* The number that an effect sees: lengths in points. */
static int32_t seen(GLANZ_CONST struct glanz_param *param, int32_t number, uint8_t unit, uint16_t length) {
    if (param->kind == GLANZ_PARAM_LENGTH && unit == GLANZ_UNIT_LENGTHS) {
        return number > (int32_t)((uint32_t)GLANZ_FIXED(30000) / length) ? GLANZ_FIXED(30000) : number * (int32_t)length;
    }
    return number;
}

/* Laps a microsecond, 48 fractional bits, from a ratio of laps a second. */
static int64_t laps_per_us(uint32_t num, uint32_t den, uint8_t backward) {
    uint32_t whole = num / den;
    whole = whole > 32000u ? 32000u : whole; /* beyond anything that can be seen */
    uint32_t part = glanz_fraction(num % den, den);
    /* times 2^16 / 10^6, which is 281474977 / 2^32 */
    uint64_t pace = (uint64_t)whole * 281474977u + glanz_mul32_high(part, 281474977u);
    return backward ? -(int64_t)pace : (int64_t)pace;
}

/* Laps a microsecond of the look's rate, as it is set. */
int64_t glanz_layer_pace(const struct layer *layer) {
    GLANZ_CONST struct glanz_effect *effect = layer->effect;
    uint8_t i = 0;
    while (i < effect->param_count && effect->params[i].kind != GLANZ_PARAM_RATE) {
        i++;
    }
    if (i == effect->param_count || layer->target[i] == 0) {
        return 0;
    }
    uint8_t backward = layer->target[i] < 0;
    uint32_t num = backward ? 0u - (uint32_t)layer->target[i] : (uint32_t)layer->target[i];
    uint32_t den = 65536u;
    if (layer->unit[i] == GLANZ_UNIT_PASS_TIME) {
        den = num;
        num = 1000u;
    } else if (layer->unit[i] != GLANZ_UNIT_PASSES) {
        glanz_place pass = effect->pass == NULL ? (glanz_place)layer->frame.length * GLANZ_STEP : effect->pass(&layer->frame);
        den = pass < 1 ? 1 : (uint32_t)pass;
        if (layer->unit[i] == GLANZ_UNIT_LENGTHS) {
            while (num > 0xFFFFFFFFu / layer->frame.length) { /* faster than can be seen: fewer bits will do */
                num >>= 1;
                den = (den >> 1) + (den == 1);
            }
            num *= layer->frame.length;
        }
    }
    return laps_per_us(num, den, backward);
}

static void layer_colors(struct glanz_engine *engine, const struct layer *layer, struct glanz_light *colors) {
    uint8_t rank = 0;
    for (uint8_t i = 0; i < layer->effect->param_count; i++) {
        if (layer->effect->params[i].kind == GLANZ_PARAM_COLOR && rank < GLANZ_COLORS) {
            colors[rank++] = engine->parts->colors == NULL ? glanz_rgb_light((uint32_t)layer->target[i])
                                                           : engine->parts->colors->light((glanz_color)layer->target[i],
                                                                                          engine->names, engine->name_count);
        }
    }
}

/* Everything as it is set, with no glide. */
void glanz_layer_settle(struct glanz_engine *engine, struct layer *layer) {
    if (layer->effect != NULL) {
        for (uint8_t i = 0; i < layer->effect->param_count; i++) {
            layer->frame.number[i] = seen(&layer->effect->params[i], layer->target[i], layer->unit[i], layer->frame.length);
        }
        layer_colors(engine, layer, layer->frame.color);
    }
    layer->bright_now = layer->brightness;
    layer->changed = 1;
}

void glanz_layer_fill(struct glanz_engine *engine, struct segment *segment, struct layer *layer,
                      GLANZ_CONST struct glanz_look *look, uint32_t lead) {
    memset(layer, 0, sizeof *layer);
    layer->name = look == NULL ? NULL : look->name;
    layer->lead_us = lead;
    layer->brightness = 65535;
    layer->frame.length = segment->length;
    layer->frame.closed = segment->closed;
#if GLANZ_FIELDS
    layer->frame.rows = 1;
    layer->frame.world = &engine->world;
    if (look != NULL && look->effect->shade_field != NULL) {
        layer->frame.length = segment->field.columns;
        layer->frame.rows = segment->field.rows;
    }
#endif
    layer->frame.gradient = &glanz_gradient_standard;
    layer->frame.seed = segment->is->seed;
    if (look != NULL) {
        layer->effect = look->effect;
        for (uint8_t i = 0; i < look->effect->param_count; i++) {
            layer->target[i] = look->effect->params[i].standard;
            layer->unit[i] = look->effect->params[i].unit;
        }
        for (uint8_t i = 0; i < look->setting_count; i++) {
            uint8_t param = look->settings[i].param;
            layer->target[param] = look->settings[i].number;
            if (look->settings[i].unit != GLANZ_UNIT_NONE) {
                layer->unit[param] = look->settings[i].unit;
            }
        }
#if GLANZ_FIELDS
        layer->frame.gradient = look->effect->gradient == NULL ? layer->frame.gradient : look->effect->gradient;
#endif
        layer->frame.gradient = look->gradient == NULL ? layer->frame.gradient : look->gradient;
        layer->frame.content = look->content;
        layer->brightness = look->brightness == 0 ? 65535 : look->brightness;
    }
    glanz_layer_settle(engine, layer);
    layer->jumps = 1;
}

glanz_status glanz_setting_check(GLANZ_CONST struct glanz_effect *effect, uint8_t index, uint8_t unit, int32_t number) {
    if (index >= effect->param_count) {
        return GLANZ_ERR_ARGUMENT;
    }
    GLANZ_CONST struct glanz_param *param = &effect->params[index];
    int32_t size = param->kind == GLANZ_PARAM_RATE && number < 0 ? (number == INT32_MIN ? INT32_MAX : -number) : number;
    if (unit > GLANZ_UNIT_PASS_TIME || (param->kind == GLANZ_PARAM_LENGTH && unit > GLANZ_UNIT_LENGTHS) ||
        (param->kind != GLANZ_PARAM_COLOR && (size < param->low || size > param->high))) {
        return GLANZ_ERR_ARGUMENT;
    }
    return GLANZ_OK;
}
