/* SPDX-License-Identifier: MIT */
/* Ripples: rings that run out from where drops fell, and fade; drops fall without pause, or one at each pulse of a signal. */
#include "bursts.h"
#include "upright.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_RIPPLES_BACKGROUND] = GLANZ_COLOR_ROW("background", "the water", GLANZ_RGB(0, 10, 24)),
    [GLANZ_RIPPLES_LENGTH] =
        GLANZ_PITCH_ROW("length", "of a wave, from trough to trough", GLANZ_FIXED(1), GLANZ_UNIT_LEDS, GLANZ_FIXED(3)),
    [GLANZ_RIPPLES_DROPS] = GLANZ_PARAM_ROW("drops", "that ripple at once", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 1, 6, 3),
    [GLANZ_RIPPLES_AT] = GLANZ_SIGNAL_ROW("at", "a drop each time this rises above its half, such as an onset; else always"),
    [GLANZ_RIPPLES_SPEED] = GLANZ_RATE_ROW("how fast the rings run", GLANZ_UNIT_LEDS, GLANZ_FIXED(6)),
};

#define MOST 6

struct memory { /* of drops that fell at pulses */
    struct bursts bursts;
    struct burst list[MOST];
};

static uint32_t memory(const struct glanz_frame *frame) {
    (void)frame;
    return sizeof(struct memory);
}

/* A drop falls at each pulse, in place of the oldest. @return 1 while any ring runs. */
static uint8_t let_fall(struct memory *memory, const struct glanz_frame *frame) {
    uint8_t drops = (uint8_t)frame->number[GLANZ_RIPPLES_DROPS];
    uint8_t moves = burst_begins(&memory->bursts, memory->list, drops, frame, NOT_BY_ITSELF);
    for (uint8_t i = 0; i < MOST; i++) {
        struct burst *burst = &memory->list[i];
        moves |= burst->runs; /* with the frame in which the last has gone */
        burst->runs = burst->runs && i < drops && burst_time(frame, burst) < 65536u;
    }
    return moves;
}

/* How far a ring runs: once over the field from corner to corner. */
static uint32_t reach_of(const struct glanz_frame *frame) {
    return glanz_distance((int32_t)frame->length << 16, (int32_t)frame->rows << 16) +
           (uint32_t)frame->number[GLANZ_RIPPLES_LENGTH];
}

static glanz_place pass(const struct glanz_frame *frame) {
    return (glanz_place)reach_of(frame);
}

/* Keeps the reach, half a wave, what one point is of half a wave, and how much later each drop falls
 * than the one before (of one alone nothing asks for it). */
static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        frame->kept[0] = (int32_t)reach_of(frame);
        frame->kept[1] = frame->number[GLANZ_RIPPLES_LENGTH] / 2;
        frame->kept[2] = (int32_t)(0x7FFFFFFFu / (uint32_t)frame->kept[1]);
        frame->kept[3] = (int32_t)glanz_fraction(1, (uint32_t)frame->number[GLANZ_RIPPLES_DROPS]);
    }
    if (frame->number[GLANZ_RIPPLES_AT] != 0) {
        return frame->memory != NULL && let_fall((struct memory *)frame->memory, frame) ? GLANZ_STEP_MOVES : 0;
    }
    return GLANZ_STEP_MOVES;
}

/* One ring of one drop, onto what is there. @param turn how far it has run. */
static void shade_drop(struct glanz_light *light, const struct glanz_frame *frame, const struct glanz_places *places,
                       uint8_t count, uint32_t turn, uint32_t draw) {
    glanz_place at_x = (glanz_place)((draw & 0xFFFFu) * frame->length);
    glanz_place at_y = (glanz_place)((draw >> 16) * frame->rows);
    uint32_t left = ~turn >> 16;
    uint32_t strength = (left * left) >> 16;
    int32_t radius = (int32_t)glanz_mul32_high(turn, (uint32_t)frame->kept[0]);
    int32_t half = frame->kept[1];
    if (radius < half) { /* a new one begins from dark */
        strength = glanz_share_of(strength, glanz_times((uint32_t)radius, (uint32_t)frame->kept[2]) * 2u);
    }
    struct glanz_light color = glanz_gradient_at(frame->gradient, (uint16_t)glanz_hash(draw));
    /* squares in 32nds of a step tell which LEDs the ring cannot touch */
    uint32_t outer = (uint32_t)(radius + half) >> 11;
    uint32_t inner = radius > half ? (uint32_t)(radius - half) >> 11 : 0;
    uint32_t outer_square = outer > 65534u ? 0xFFFFFFFFu : (outer + 1u) * (outer + 1u);
    uint32_t inner_square = inner < 1 ? 0 : (inner - 1u) * (inner - 1u);
    for (uint8_t i = 0; i < count; i++) {
        int32_t across = places->x[i] - at_x;
        int32_t down = places->y[i] - at_y;
        uint32_t a = (uint32_t)(across < 0 ? -across : across) >> 11;
        uint32_t b = (uint32_t)(down < 0 ? -down : down) >> 11;
        uint32_t square = a * a + b * b;
        if (a > 46340u || b > 46340u || square > outer_square || square < inner_square) {
            continue;
        }
        int32_t off = (int32_t)glanz_distance(across, down) - radius;
        off = off < 0 ? -off : off;
        if (off < half) {                                                         /* a crest like a sine's */
            uint32_t part = glanz_times((uint32_t)off, (uint32_t)frame->kept[2]); /* 0 to 32768: half a turn */
            uint32_t crest = (uint32_t)((int32_t)glanz_sine((uint16_t)(part + 16384u)) + 32767);
            light_add(&light[i], color, glanz_share_of(crest, strength));
        }
    }
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    (void)cover;
    glanz_light_fill(light, frame->color[0], count);
    const struct memory *memory = (const struct memory *)frame->memory;
    for (uint8_t number = 0; number < (uint8_t)frame->number[GLANZ_RIPPLES_DROPS]; number++) {
        if (frame->number[GLANZ_RIPPLES_AT] == 0) {
            uint32_t start = number * (uint32_t)frame->kept[3];
            uint32_t turn = frame->turn[0] + start;
            uint16_t lap = (uint16_t)(frame->lap[0] + (turn < start));
            shade_drop(light, frame, places, count, turn, glanz_hash2(frame->seed + number, lap));
        } else if (memory != NULL && memory->list[number].runs) {
            shade_drop(light, frame, places, count, burst_time(frame, &memory->list[number]) << 16,
                       glanz_hash2(frame->seed + number, memory->list[number].seed));
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_ripples = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("ripples"),
    .description = GLANZ_DESCRIPTION(
        "rings on water, in colours of the palette, always or when a signal rises; a pass takes a ring over the "
        "whole field"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT | GLANZ_NEEDS_PULSES,
    .pass = pass,
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .least_columns = 5,
    .least_rows = 1,
};

#endif
