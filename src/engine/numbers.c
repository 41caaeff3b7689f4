/* SPDX-License-Identifier: MIT */
/* The numbers of a look: as they were set, and as an effect sees them; how fast its phase runs. */
#include <string.h>

#include "state.h"

int32_t glanz_number_seen(GLANZ_CONST struct glanz_param *param, int32_t number, uint8_t unit, uint16_t length) {
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

#if GLANZ_RATES > 1
#define PASS_OF(effect, which) ((which) == 0 ? (effect)->pass : (effect)->second_pass)
#else
#define PASS_OF(effect, which) ((effect)->pass)
#endif

int64_t glanz_layer_pace(const struct layer *layer, uint8_t which) {
    GLANZ_CONST struct glanz_effect *effect = layer->effect;
#if GLANZ_RATES == 1
    which = 0; /* there is no other */
#endif
    if (layer->rate[which] == 0) {
        return 0;
    }
    uint8_t backward = layer->rate[which] < 0;
    uint32_t num = backward ? 0u - (uint32_t)layer->rate[which] : (uint32_t)layer->rate[which];
    uint32_t den = 65536u;
    if (layer->rate_unit[which] == GLANZ_UNIT_PASS_TIME) {
        den = num;
        num = 1000u;
    } else if (layer->rate_unit[which] != GLANZ_UNIT_PASSES) {
        glanz_place pass = PASS_OF(effect, which) == NULL ? (glanz_place)layer->frame.length * GLANZ_STEP
                                                          : PASS_OF(effect, which)(&layer->frame);
        den = pass < 1 ? 1 : (uint32_t)pass;
        if (layer->rate_unit[which] == GLANZ_UNIT_LENGTHS) {
            while (num > 0xFFFFFFFFu / layer->frame.length) { /* faster than can be seen: fewer bits will do */
                num >>= 1;
                den = (den >> 1) + (den == 1);
            }
            num *= layer->frame.length;
        }
    }
    return laps_per_us(num, den, backward);
}

void glanz_layer_settle(struct glanz_engine *engine, struct layer *layer, const struct asked *asked) {
    GLANZ_CONST struct glanz_effect *effect = layer->effect;
    uint8_t rank = 0; /* among the colours */
#if GLANZ_RATES > 1
    uint8_t rates = 0;
#endif
    layer->rate[0] = 0;
    for (uint8_t i = 0; effect != NULL && i < effect->param_count; i++) {
        GLANZ_CONST struct glanz_param *param = &effect->params[i];
        int32_t number = asked->number[i];
        layer->frame.number[i] = glanz_number_seen(param, number, asked->unit[i], layer->frame.length);
#if GLANZ_RATES > 1
        if (param->kind == GLANZ_PARAM_RATE && rates < GLANZ_RATES) {
            layer->rate[rates] = number;
            layer->rate_unit[rates++] = asked->unit[i];
        }
#else
        if (param->kind == GLANZ_PARAM_RATE) {
            layer->rate[0] = number;
            layer->rate_unit[0] = asked->unit[i];
        }
#endif
        if (param->kind == GLANZ_PARAM_COLOR && rank < GLANZ_COLORS) {
            layer->frame.color[rank++] =
                engine->parts->colors == NULL
                    ? glanz_rgb_light((uint32_t)number)
                    : engine->parts->colors->light((glanz_color)number, engine->names, engine->name_count);
        }
    }
#if GLANZ_RATES > 1
    layer->rates = rates;
#endif
    layer->brightness = asked->brightness;
    layer->changed = CHANGED_ALL;
}

GLANZ_NOINLINE void glanz_ask(struct asked *asked, GLANZ_CONST struct glanz_look *look) {
    memset(asked, 0, sizeof *asked);
    asked->brightness = 65535;
    asked->gradient = &glanz_gradient_standard;
    if (look == NULL) {
        return;
    }
    GLANZ_CONST struct glanz_effect *effect = look->effect;
    asked->name = look->name;
    asked->effect = effect;
    for (uint8_t i = 0; i < effect->param_count; i++) {
        asked->number[i] = effect->params[i].standard;
        asked->unit[i] = effect->params[i].unit;
    }
    for (uint8_t i = 0; i < look->setting_count; i++) {
        uint8_t param = look->settings[i].param;
        asked->number[param] = look->settings[i].number;
        if (look->settings[i].unit != GLANZ_UNIT_NONE) {
            asked->unit[param] = look->settings[i].unit;
        }
    }
#if GLANZ_FIELDS
    asked->gradient = effect->gradient == NULL ? asked->gradient : effect->gradient;
#endif
    asked->gradient = look->gradient == NULL ? asked->gradient : look->gradient;
    asked->content = look->content;
    asked->brightness = look->brightness == 0 ? 65535 : look->brightness;
#if GLANZ_DRIVES_MOST > 0
    asked->drives = look->drives;
    asked->drive_count = look->drive_count;
#endif
}

#if GLANZ_SEQUENCES
GLANZ_CONST struct glanz_look *glanz_look_with(struct glanz_look *look, struct glanz_setting *settings,
                                               GLANZ_CONST struct glanz_look *of, GLANZ_CONST struct glanz_setting *over,
                                               uint8_t count) {
    if (of == NULL || of->effect == NULL || count == 0) {
        return of;
    }
    struct asked asked;
    *look = *of;
    glanz_ask(&asked, of);
    look->settings = settings;
    look->setting_count = of->effect->param_count;
    for (uint8_t i = 0; i < look->setting_count; i++) {
        settings[i].param = i;
        settings[i].unit = asked.unit[i];
        settings[i].number = asked.number[i];
    }
    for (uint8_t i = 0; i < count; i++) {
        GLANZ_CONST struct glanz_setting *is = &over[i];
        settings[is->param].unit = is->unit == GLANZ_UNIT_NONE ? of->effect->params[is->param].unit : is->unit;
        settings[is->param].number = is->number;
    }
    return look;
}
#endif

GLANZ_NOINLINE void glanz_layer_fill(struct glanz_engine *engine, const struct segment *segment, struct layer *layer,
                                     uint32_t lead) {
    const struct asked *asked = &segment->asked;
    memset(&layer->effect, 0, sizeof *layer - offsetof(struct layer, effect));
    layer->taken = 1;
    layer->effect = asked->effect;
    layer->lead_us = lead;
    layer->frame.length = segment->length;
    layer->frame.closed = segment->closed;
#if GLANZ_FIELDS
    layer->frame.rows = 1;
    layer->frame.world = &engine->world;
    if (asked->effect != NULL && asked->effect->shade_field != NULL) {
        layer->frame.length = segment->field.columns;
        layer->frame.rows = segment->field.rows;
    }
#endif
#if GLANZ_DRIVES_MOST > 0
    if (DRIVES(engine) != NULL) {
        DRIVES(engine)->begin(engine, layer, asked);
    }
#endif
    layer->frame.gradient = asked->gradient;
#if GLANZ_FIELDS
    if (FIELDS(engine) != NULL) {
        FIELDS(engine)->spread(layer, segment);
    }
#endif
    layer->frame.content = asked->content;
    layer->frame.seed = segment->is->seed;
    glanz_layer_settle(engine, layer, asked);
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
