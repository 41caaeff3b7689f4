/* SPDX-License-Identifier: MIT */
/* Sparks: at each pulse of a signal a part of the LEDs lights up, drawn by lot, and dies away, each in its own time. */
#include "bursts.h"
#include "upright.h"

#if GLANZ_FIELDS && GLANZ_DRIVES_MOST > 0

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_SPARKS_BACKGROUND] = GLANZ_COLOR_ROW("background", "behind them", GLANZ_RGB(0, 0, 0)),
    [GLANZ_SPARKS_PART] = GLANZ_FADED_SHARE_ROW("part", "of the LEDs that light up at each pulse", GLANZ_PERCENT(8)),
    [GLANZ_SPARKS_AT] = GLANZ_SIGNAL_ROW("at", "each time this rises above its half, such as an onset; else always"),
    [GLANZ_SPARKS_SPEED] = GLANZ_RATE_ROW("lives of the longest", GLANZ_UNIT_PASS_TIME, 900),
};

#define BURSTS 4
#define EACH 15     /* without a signal: bits of a pass between two, 1/2 */
#define OPENS 3277u /* of 65536 of a pass: in so long they come from dark */

struct memory {
    struct bursts bursts;
    struct burst list[BURSTS];
    uint32_t time[BURSTS]; /* since each began; 65536 and above: all are out */
};

static uint32_t memory(const struct glanz_frame *frame) {
    (void)frame;
    return sizeof(struct memory);
}

static uint8_t step(struct glanz_frame *frame) {
    struct memory *memory = (struct memory *)frame->memory;
    if (memory == NULL) {
        return 0;
    }
    uint8_t moves = frame->number[GLANZ_SPARKS_AT] == 0;
    burst_begins(&memory->bursts, memory->list, BURSTS, frame, moves ? EACH : NOT_BY_ITSELF);
    for (uint8_t b = 0; b < BURSTS; b++) {
        struct burst *burst = &memory->list[b];
        memory->time[b] = burst_time(frame, burst);
        moves |= burst->runs; /* with the frame in which the last has gone out */
        burst->runs = burst->runs && memory->time[b] < 65536u;
    }
    return moves ? GLANZ_STEP_MOVES : 0;
}

/* How bright an LED glows by one burst. @param draw its own. */
static uint32_t glow(uint32_t time, uint32_t draw) {
    uint32_t life = 26214u + (draw & 0xFFFFu) * 39321u / 65536u; /* 0.4 to 1 of a pass */
    if (time >= life) {
        return 0;
    }
    uint32_t left = glanz_ratio(life - time, life);
    return time < OPENS ? time * (65536u / OPENS) : glanz_share_of(left, left);
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    const struct memory *memory = (const struct memory *)frame->memory;
    uint32_t part = (uint32_t)frame->number[GLANZ_SPARKS_PART];
    (void)cover;
    glanz_light_fill(light, frame->color[0], count);
    for (uint8_t b = 0; memory != NULL && b < BURSTS; b++) {
        const struct burst *burst = &memory->list[b];
        if (!burst->runs) {
            continue;
        }
        for (uint8_t i = 0; i < count; i++) {
            uint32_t draw = glanz_hash2(frame->seed + glanz_mul32_low(burst->seed, 0x9E3779B1u),
                                        glanz_place_hash(places->x[i], places->y[i]));
            if (draw >> 16 < part) {
                uint32_t other = glanz_hash(draw);
                light_add(&light[i], glanz_gradient_at(frame->gradient, (uint16_t)other), glow(memory->time[b], other >> 16));
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
