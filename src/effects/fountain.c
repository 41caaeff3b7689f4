/* SPDX-License-Identifier: MIT */
/* Fountain: drops that shoot up, spread and fall back; without pause, or a burst at each pulse of a signal, from the very
 * moment at which it came. Where a drop is follows from when its burst began: only that is remembered. */
#include "bursts.h"
#include "tints.h"
#include "upright.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_FOUNTAIN_BACKGROUND] = GLANZ_COLOR_ROW("background", "behind it", GLANZ_RGB(0, 0, 0)),
    [GLANZ_FOUNTAIN_DROPS] = GLANZ_PARAM_ROW("drops", "of a burst", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 1, 40, 12),
    [GLANZ_FOUNTAIN_HEIGHT] = GLANZ_FADED_SHARE_ROW("height", "to which the quickest rise", GLANZ_PERCENT(95)),
    [GLANZ_FOUNTAIN_FIRES] = GLANZ_SIGNAL_ROW("fires at", "a burst each time this rises above its half; else always"),
    [GLANZ_FOUNTAIN_SPEED] = GLANZ_RATE_ROW("flights of the quickest drops", GLANZ_UNIT_PASS_TIME, 1600),
};

#define BURSTS 6    /* in the air at once; beyond that the oldest gives way */
#define EACH 14     /* without pause: bits of a pass between two, 1/4 */
#define OPENS 2048u /* of 65536 of a pass: in so long a drop comes from dark */

#define LEAVES 8192u /* of 65536 of a pass: in so long all drops of a burst have left */

struct memory {
    struct bursts bursts;
    struct burst list[BURSTS];
};

#define HEAD (((uint32_t)sizeof(struct memory) + 7u) & ~7u)

static uint32_t memory(const struct glanz_frame *frame) {
    return upright_raster_memory(frame, HEAD);
}

/* One drop at a time since its burst began, in 65536ths of a pass. @param leaves when it does. @param height of the highest.
 * @return 1 while it flies. */
static int drop(const struct glanz_raster *raster, const struct glanz_frame *frame, uint32_t draw, uint32_t height,
                uint32_t leaves, uint32_t time) {
    if (time < leaves) {
        return 1;
    }
    time -= leaves;
    uint32_t speed = 39322u + glanz_mul32_high(draw << 16, 26214u); /* 0.6 to 1 of the quickest, which flies for a pass */
    if (time >= speed) {
        return 0;
    }
    uint32_t up = glanz_share_of(time, speed - time) * 4u; /* 4 t (v - t), whose top is v^2 */
    int32_t y = (int32_t)((uint32_t)raster->rows << 16) - (int32_t)glanz_times(height, up > 65536u ? 65536u : up);
    int32_t aside = (int32_t)(draw >> 16) - 32768; /* of the width, in a pass */
    int32_t x = (int32_t)((uint32_t)raster->columns << 15) +
                (raster->columns == 1 ? 0 : (int32_t)((int64_t)aside * (int32_t)time / 65536 * raster->columns));
    uint32_t left = speed - time;
    uint32_t level = time < OPENS ? time * (65536u / OPENS) : left < 8192u ? left * 8u : 65536u;
    glanz_raster_dot(raster, x, y, glanz_gradient_at(frame->gradient, (uint16_t)(time * 65535u / 65536u)), level);
    return 1;
}

static uint8_t step(struct glanz_frame *frame) {
    struct memory *memory = (struct memory *)frame->memory;
    if (memory == NULL) {
        return 0;
    }
    struct glanz_raster raster = upright_raster(frame, HEAD);
    uint8_t moves = frame->number[GLANZ_FOUNTAIN_FIRES] == 0;
    burst_begins(&memory->bursts, memory->list, BURSTS, frame, moves ? EACH : NOT_BY_ITSELF);
    uint32_t height = glanz_times((uint32_t)raster.rows << 16, (uint32_t)frame->number[GLANZ_FOUNTAIN_HEIGHT]);
    uint32_t drops = (uint32_t)frame->number[GLANZ_FOUNTAIN_DROPS]; /* none where nobody has checked the look */
    uint32_t apart = drops == 0 ? 0 : LEAVES / drops;               /* they leave one after another */
    glanz_raster_fill(&raster, frame->color[0]);
    for (uint8_t b = 0; b < BURSTS; b++) {
        struct burst *burst = &memory->list[b];
        if (!burst->runs) {
            continue;
        }
        uint32_t time = burst_time(frame, burst);
        uint8_t flies = 0;
        uint32_t seed = glanz_hash(frame->seed ^ burst->seed);
        for (uint8_t i = 0; i < (uint8_t)drops; i++) {
            flies = (uint8_t)(flies | drop(&raster, frame, glanz_hash_on(seed, i), height, i * apart, time));
        }
        burst->runs = flies;
        moves |= 1; /* with the frame in which the last has landed */
    }
    return moves ? GLANZ_STEP_MOVES : 0;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    (void)cover;
    upright_raster_shade(light, frame, places, count, HEAD);
}

GLANZ_CONST struct glanz_effect glanz_effect_fountain = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("fountain"),
    .description =
        GLANZ_DESCRIPTION("drops that shoot up and fall back, without pause or when a signal rises; a pass is the longest "
                          "flight"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT | GLANZ_NEEDS_PULSES,
    .gradient = &glanz_gradient_festive,
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .least_columns = 5,
    .least_rows = 1,
};

#endif
