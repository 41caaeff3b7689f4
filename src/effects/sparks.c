/* SPDX-License-Identifier: MIT */
/* Sparks: at each pulse of a signal a part of the LEDs lights up, drawn by lot, and dies away, each in its own time. */
#include "upright.h"

#if GLANZ_FIELDS && GLANZ_DRIVES_MOST > 0

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_SPARKS_BACKGROUND] = GLANZ_COLOR_ROW("background", "behind them", GLANZ_RGB(0, 0, 0)),
    [GLANZ_SPARKS_PART] = GLANZ_FADED_SHARE_ROW("part", "of the LEDs that light up at each pulse", GLANZ_PERCENT(8)),
    [GLANZ_SPARKS_AT] = GLANZ_SIGNAL_ROW("at", "each time this rises above its half, such as an onset; else always"),
    [GLANZ_SPARKS_SPEED] = GLANZ_RATE_ROW("lives of the longest", GLANZ_UNIT_PASS_TIME, 900),
};

#define BURSTS 4
#define OPENS 3277u /* of 65536 of a pass: in so long they come from dark */

struct burst {
    uint32_t begin; /* 65536ths of a pass, laps above */
    uint32_t time;  /* since then; 65536 and above: all are out */
    uint16_t seed;
    uint8_t glows;
};

struct memory {
    uint32_t last;
    uint16_t pulses, count;
    uint8_t begun, next;
    struct burst bursts[BURSTS];
};

static uint32_t memory(const struct glanz_frame *frame) {
    (void)frame;
    return sizeof(struct memory);
}

static void light_up(struct memory *memory, uint32_t begin) {
    struct burst *burst = &memory->bursts[memory->next];
    memory->next = (uint8_t)((memory->next + 1u) % BURSTS);
    burst->begin = begin;
    burst->seed = memory->count++;
    burst->glows = 1;
}

static void begin_bursts(struct memory *memory, const struct glanz_frame *frame, uint32_t now) {
    if (frame->number[GLANZ_SPARKS_AT] == 0) {
        if (!memory->begun || now >> 15 != memory->last) { /* twice a pass */
            light_up(memory, now & ~0x7FFFu);
        }
        memory->last = now >> 15;
    } else if (memory->begun && frame->pulses != memory->pulses) {
        light_up(memory, now - (frame->pulse_turn >> 16));
    }
    memory->pulses = frame->pulses;
    memory->begun = 1;
}

static uint8_t step(struct glanz_frame *frame) {
    struct memory *memory = (struct memory *)frame->memory;
    if (memory == NULL) {
        return 0;
    }
    uint32_t now = (uint32_t)(uint16_t)frame->lap[0] << 16 | frame->turn[0] >> 16;
    uint8_t moves = frame->number[GLANZ_SPARKS_AT] == 0;
    begin_bursts(memory, frame, now);
    for (uint8_t b = 0; b < BURSTS; b++) {
        struct burst *burst = &memory->bursts[b];
        uint32_t time = (now - burst->begin) & 0x1FFFFFFFu; /* laps are folded by 8,192 */
        burst->time = time > 0x0FFFFFFFu ? 0x20000000u - time : time;
        moves |= burst->glows; /* with the frame in which the last has gone out */
        burst->glows = burst->glows && burst->time < 65536u;
    }
    return moves ? GLANZ_STEP_MOVES : 0;
}

/* How bright an LED glows by one burst. @param draw its own. */
static uint32_t glow(const struct burst *burst, uint32_t draw) {
    uint32_t life = 26214u + (draw & 0xFFFFu) * 39321u / 65536u; /* 0.4 to 1 of a pass */
    if (burst->time >= life) {
        return 0;
    }
    uint32_t left = glanz_ratio(life - burst->time, life);
    return burst->time < OPENS ? burst->time * (65536u / OPENS) : glanz_share_of(left, left);
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    const struct memory *memory = (const struct memory *)frame->memory;
    uint32_t part = (uint32_t)frame->number[GLANZ_SPARKS_PART];
    (void)cover;
    glanz_light_fill(light, frame->color[0], count);
    for (uint8_t b = 0; memory != NULL && b < BURSTS; b++) {
        const struct burst *burst = &memory->bursts[b];
        if (!burst->glows) {
            continue;
        }
        for (uint8_t i = 0; i < count; i++) {
            uint32_t draw = glanz_hash2(frame->seed + burst->seed * 0x9E3779B1u, glanz_place_hash(places->x[i], places->y[i]));
            if (draw >> 16 < part) {
                uint32_t other = glanz_hash(draw);
                light_add(&light[i], glanz_gradient_at(frame->gradient, (uint16_t)other), glow(burst, other >> 16));
            }
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_sparks = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("sparks"),
    .description =
        GLANZ_DESCRIPTION("some light up anywhere when a signal rises, and die away; a pass is the longest that one glows"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT | GLANZ_NEEDS_PULSES,
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .gradient = &glanz_gradient_heard,
};

#endif
