/* SPDX-License-Identifier: MIT */
/* What drives give: numbers between two ends, colours by hue, paces; laid over a look's own. */
#include "state.h"

#if GLANZ_DRIVES_MOST > 0

#define FINE GLANZ_APPROACH_FINE

int32_t glanz_drive_number(GLANZ_CONST struct glanz_drive *drive, uint32_t done) {
    uint32_t way =
        drive->to > drive->from ? (uint32_t)drive->to - (uint32_t)drive->from : (uint32_t)drive->from - (uint32_t)drive->to;
    uint32_t gone = glanz_times(way, done);
    return (int32_t)(drive->to > drive->from ? (uint32_t)drive->from + gone : (uint32_t)drive->from - gone);
}

static glanz_color named(const struct glanz_engine *engine, int32_t number) {
    glanz_color color = (glanz_color)number;
    uint16_t index = (uint16_t)color;
    return (color >> 24) == 3 && index < engine->name_count ? engine->names[index].color : color;
}

static struct glanz_light light_of(const struct glanz_engine *engine, glanz_color color) {
    return engine->parts->colors->light(color, engine->names, engine->name_count);
}

/* A field of a colour given as HSL, so far on the way. @param part 0 to 65536. */
static uint32_t hsl_field(glanz_color from, glanz_color to, uint8_t shift, uint32_t mask, uint32_t part) {
    uint32_t a = (from >> shift) & mask;
    uint32_t b = (to >> shift) & mask;
    return (b > a ? a + (((b - a) * part + 32768u) >> 16) : a - (((a - b) * part + 32768u) >> 16)) << shift;
}

static glanz_color hsl_at(glanz_color from, glanz_color to, uint32_t part) {
    return (glanz_color)2 << 24 | hsl_field(from, to, 14, 0x1FFu, part) | hsl_field(from, to, 7, 0x7Fu, part) |
           hsl_field(from, to, 0, 0x7Fu, part);
}

/* Two colours given as HSL go by their numbers, in steps of a degree with light between them; others straight in light. */
static struct glanz_light color_at(const struct glanz_engine *engine, GLANZ_CONST struct glanz_drive *drive, uint32_t done) {
    glanz_color from = named(engine, drive->from);
    glanz_color to = named(engine, drive->to);
    if ((from >> 24) != 2 || (to >> 24) != 2) {
        return glanz_light_mix(light_of(engine, from), light_of(engine, to), done);
    }
    uint32_t hue = (from >> 14) & 0x1FFu;
    uint32_t hue_to = (to >> 14) & 0x1FFu;
    uint32_t way = hue > hue_to ? hue - hue_to : hue_to - hue;
    uint32_t parts = way > 100u ? way : 100u; /* no field goes by more than one in each */
    uint32_t at = done * parts;               /* 16.16 */
    uint32_t each = 0xFFFFFFFFu / parts;      /* 2^32ths of the way, a little less */
    uint32_t part = ((at >> 16) * each + 65535u) >> 16;
    struct glanz_light light = light_of(engine, hsl_at(from, to, part));
    return done > 65535u ? light
                         : glanz_light_mix(light, light_of(engine, hsl_at(from, to, part + (each >> 16) + 1u)), at & 0xFFFFu);
}

/* Laps a microsecond at a rate. */
static int64_t pace_of(struct driven *driven, struct layer *layer, uint8_t which, uint8_t unit, int32_t rate) {
    int64_t *one = &driven->unit[which];
    if (*one == 0) {
        layer->rate[which] = 65536;
        layer->rate_unit[which] = unit;
        *one = glanz_layer_pace(layer, which);
        *one = *one > (int64_t)1 << 42 ? (int64_t)1 << 42 : *one; /* beyond anything that can be seen */
    }
    uint32_t size = rate < 0 ? 0u - (uint32_t)rate : (uint32_t)rate;
    uint64_t pace = ((uint64_t)*one * (size >> 8)) >> 8; /* below 2^43 times 2^22 */
    return rate < 0 ? -(int64_t)pace : (int64_t)pace;
}

/* Which of the parameters of its kind it is. */
static uint8_t rank_of(const struct layer *layer, uint8_t param, uint8_t kind) {
    uint8_t rank = 0;
    for (uint8_t i = 0; i < param; i++) {
        rank = (uint8_t)(rank + (layer->effect->params[i].kind == kind));
    }
    return rank;
}

/* Between what a hand has asked for and what the drive says. @param part 0 to 65536. */
static int32_t between(GLANZ_CONST struct glanz_param *param, int32_t asked, int32_t driven, uint32_t part) {
    if (param->kind == GLANZ_PARAM_TURN) {
        uint32_t up = ((uint32_t)driven - (uint32_t)asked) & 0xFFFFu;
        uint32_t way = up < 32768u ? glanz_times(up, part) : 0u - glanz_times(65536u - up, part);
        return (int32_t)(((uint32_t)asked + way) & 0xFFFFu);
    }
    struct glanz_drive way = {.from = asked, .to = driven};
    return glanz_drive_number(&way, part);
}

uint8_t glanz_drive_lay(const struct glanz_engine *engine, const struct segment *segment, struct layer *layer,
                        GLANZ_CONST struct glanz_drive *drive, const struct drive_state *state, uint32_t part,
                        uint8_t gliding) {
    uint32_t done = state->done / FINE;
    if (drive->param == GLANZ_DRIVE_BRIGHTNESS) {
        layer->brightness = (uint16_t)glanz_drive_number(drive, done);
        return CHANGED_NUMBERS;
    }
    GLANZ_CONST struct glanz_param *param = &layer->effect->params[drive->param];
    uint8_t unit = drive->unit == GLANZ_UNIT_NONE ? param->unit : drive->unit;
    int32_t asked = segment->asked.number[drive->param];
    if (param->kind == GLANZ_PARAM_COLOR) {
        uint8_t rank = rank_of(layer, drive->param, GLANZ_PARAM_COLOR);
        struct glanz_light light = color_at(engine, drive, done);
        if (part < 65536u) {
            light = glanz_light_mix(gliding ? layer->frame.color[rank] : light_of(engine, (glanz_color)asked), light, part);
        }
        layer->frame.color[rank] = light;
        return CHANGED_NUMBERS;
    }
    int32_t number = glanz_number_seen(param, glanz_drive_number(drive, done), unit, layer->frame.length);
    number = param->kind == GLANZ_PARAM_TURN ? (int32_t)((uint32_t)number & 0xFFFFu) : number;
    if (part < 65536u) {
        asked = gliding && param->kind != GLANZ_PARAM_RATE
                    ? layer->frame.number[drive->param]
                    : glanz_number_seen(param, asked, segment->asked.unit[drive->param], layer->frame.length);
        number = between(param, asked, number, part);
    }
    int same = layer->frame.number[drive->param] == number;
    layer->frame.number[drive->param] = number;
    return same ? 0 : param->kind != GLANZ_PARAM_RATE && layer->effect->pass != NULL ? CHANGED_ALL : CHANGED_NUMBERS;
}

void glanz_drive_lay_rate(const struct glanz_engine *engine, const struct segment *segment, struct layer *layer,
                          GLANZ_CONST struct glanz_drive *drive, const struct drive_state *state, uint32_t part,
                          uint8_t gliding) {
    struct driven *driven = &engine->driven[layer - engine->layers];
    GLANZ_CONST struct glanz_param *param = &layer->effect->params[drive->param];
    uint8_t unit = drive->unit == GLANZ_UNIT_NONE ? param->unit : drive->unit;
    uint8_t which = rank_of(layer, drive->param, GLANZ_PARAM_RATE);
    int64_t *pace = &driven->pace[which];
    if ((layer->changed & CHANGED_PACE) != 0) {
        driven->unit[which] = 0;
    }
    *pace = pace_of(driven, layer, which, unit, glanz_drive_number(drive, state->mean));
    if (part < 65536u) {
        layer->rate[which] = segment->asked.number[drive->param];
        layer->rate_unit[which] = segment->asked.unit[drive->param];
        int64_t asked = glanz_layer_pace(layer, which);
        asked = gliding && GLIDES(engine) != NULL ? GLIDES(engine)->pace(segment, which, asked) : asked;
        *pace = asked + (*pace - asked) / 65536 * (int64_t)part;
    }
    layer->rate[which] = glanz_drive_number(drive, state->done / FINE);
    layer->rate_unit[which] = unit;
    layer->paced = (uint8_t)(layer->paced | 1u << which);
    if (!layer->jumps) {
        layer->motion[which].pace = *pace;
    }
}

#endif
