/* SPDX-License-Identifier: MIT */
/* Hoppers: a figure of points; at each pulse of a signal each of them hops to another place, all in step. */
#include "upright.h"

#include <glanz/signals.h>

#if GLANZ_FIELDS && GLANZ_DRIVES_MOST > 0

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_HOPPERS_BACKGROUND] = GLANZ_COLOR_ROW("background", "behind them", GLANZ_RGB(0, 0, 0)),
    [GLANZ_HOPPERS_COUNT] = GLANZ_PARAM_ROW("count", "points", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 1, 24, 5),
    [GLANZ_HOPPERS_AT] = GLANZ_SIGNAL_ROW("at", "each time this rises above its half, or an angle comes round; else always"),
    [GLANZ_HOPPERS_SPEED] = GLANZ_RATE_ROW("how fast they hop", GLANZ_UNIT_PASS_TIME, 300),
};

#define MOST 24

struct memory {
    uint16_t from[MOST][2]; /* where each one was when it began to hop, 0 to 65535 of the way from end to end */
    uint16_t pulses;
    uint16_t begun;
};

#define HEAD (((uint32_t)sizeof(struct memory) + 7u) & ~7u)

static uint32_t memory(const struct glanz_frame *frame) {
    return upright_raster_memory(frame, HEAD);
}

/* Where one goes after so many pulses. */
static uint16_t goal(const struct glanz_frame *frame, uint32_t index, uint16_t pulses, uint32_t side) {
    return (uint16_t)(glanz_hash2(frame->seed + glanz_mul32_low(index, 0x9E3779B1u), pulses * 2u + side) >> 16);
}

/* Another hop begins, from wherever each one is. @param part of the hop before that is done. */
static void begin_hop(struct memory *memory, const struct glanz_frame *frame, uint16_t pulses, uint32_t part) {
    for (uint32_t i = 0; i < MOST; i++) {
        for (uint32_t side = 0; side < 2; side++) {
            uint16_t to = goal(frame, i, memory->begun ? memory->pulses : pulses, side);
            memory->from[i][side] = memory->begun ? glanz_mix16(memory->from[i][side], to, part) : to;
        }
    }
    memory->pulses = pulses;
    memory->begun = 1;
}

static glanz_place place_of(uint16_t share, uint16_t size) {
    return (glanz_place)((uint32_t)(size - 1u) * share) + GLANZ_HALF;
}

static uint8_t step(struct glanz_frame *frame) {
    struct memory *memory = (struct memory *)frame->memory;
    if (memory == NULL) {
        return 0;
    }
    struct glanz_raster raster = upright_raster(frame, HEAD);
    int named = frame->number[GLANZ_HOPPERS_AT] != 0;
    int hops = named ? frame->pulses != 0 : (frame->lap[0] & 3) == 0; /* of itself each fourth pass */
    uint16_t pulses = named ? frame->pulses : (uint16_t)(frame->lap[0] >> 2);
    uint32_t turn = !hops ? 0xFFFFFFFFu : named ? frame->pulse_turn : frame->turn[0];
    if (!memory->begun || pulses != memory->pulses) {
        begin_hop(memory, frame, pulses, (uint32_t)frame->kept[0]);
    }
    uint32_t part = glanz_level_of_value(glanz_ease16((uint16_t)(turn >> 16)));
    frame->kept[0] = (int32_t)part;
    glanz_raster_fill(&raster, frame->color[0]);
    for (uint8_t i = 0; i < (uint8_t)frame->number[GLANZ_HOPPERS_COUNT]; i++) {
        uint16_t x = glanz_mix16(memory->from[i][0], goal(frame, i, pulses, 0), part);
        uint16_t y = glanz_mix16(memory->from[i][1], goal(frame, i, pulses, 1), part);
        uint32_t color = (uint32_t)i * 65535u / (uint32_t)frame->number[GLANZ_HOPPERS_COUNT];
        glanz_raster_dot(&raster, place_of(x, raster.columns), place_of(y, raster.rows),
                         glanz_gradient_at(frame->gradient, (uint16_t)color), 65536);
    }
    return !named || turn != 0xFFFFFFFFu ? GLANZ_STEP_MOVES : 0;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    (void)cover;
    upright_raster_shade(light, frame, places, count, HEAD);
}

GLANZ_CONST struct glanz_effect glanz_effect_hoppers = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("hoppers"),
    .description = GLANZ_DESCRIPTION("points that hop to other places when a signal rises, such as a beat; a pass is a hop"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT | GLANZ_NEEDS_PULSES | GLANZ_NEEDS_CLOCK,
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .gradient = &glanz_gradient_heard,
    .least_columns = 5,
    .least_rows = 1,
};

#endif
