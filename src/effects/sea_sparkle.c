/* SPDX-License-Identifier: MIT */
/* Sea sparkle: dark water that lights up where it is stirred, in single points that die away; at pulses of a signal, from
 * somewhere outward, and as much as a number says everywhere. */
#include "bursts.h"
#include "upright.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_SEA_SPARKLE_BACKGROUND] = GLANZ_COLOR_ROW("background", "the water", GLANZ_RGB(0x00, 0x04, 0x0C)),
    [GLANZ_SEA_SPARKLE_STIRRED] = GLANZ_SHARE_ROW("stirred", "how much all of it is, without pulses", GLANZ_PERCENT(40)),
    [GLANZ_SEA_SPARKLE_AT] =
        GLANZ_SIGNAL_ROW("at", "each time this rises above its half it is stirred somewhere; else now and then"),
    [GLANZ_SEA_SPARKLE_REACH] = GLANZ_PART_ROW("reach", "of the field: how far such a stir goes", GLANZ_PERCENT(45)),
    [GLANZ_SEA_SPARKLE_SPEED] = GLANZ_RATE_ROW("stirs that die away", GLANZ_UNIT_PASS_TIME, 3500),
};

/* blue glow, blue-green, nearly white */
static GLANZ_CONST struct glanz_stop stops[] = {
    {0, {0, 5000, 22000}, 131071u}, {32768, {300, 36000, 52000}, 131076u}, {65535, {30000, 65535, 60000}, 0u}};
static GLANZ_CONST struct glanz_gradient glow = {
    .stops = stops, .count = 3, .first = {0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1}};

#define MOST 5    /* stirs at once; beyond that the oldest gives way */
#define EACH 16   /* by itself: bits of a pass between two, one */
#define POINTS 8u /* times that a point lights up in a pass */

struct memory {
    struct bursts bursts;
    struct burst list[MOST];
};

static uint32_t memory(const struct glanz_frame *frame) {
    (void)frame;
    return sizeof(struct memory);
}

/* Keeps how far a stir goes, 16.16 points, one over it, and whether any still goes on. */
static uint8_t step(struct glanz_frame *frame) {
    struct memory *memory = (struct memory *)frame->memory;
    uint8_t moves = frame->number[GLANZ_SEA_SPARKLE_STIRRED] != 0;
    if (frame->params_changed) {
        uint32_t across = glanz_distance((int32_t)frame->length << 15, frame->rows == 1 ? 0 : (int32_t)frame->rows << 15);
        uint32_t reach = glanz_times(across, (uint32_t)frame->number[GLANZ_SEA_SPARKLE_REACH]) + (uint32_t)GLANZ_STEP;
        frame->kept[0] = (int32_t)reach;
        frame->kept[1] = (int32_t)(0xFFFFFFFFu / reach);
    }
    if (memory != NULL) {
        moves |= burst_begins(&memory->bursts, memory->list, MOST, frame,
                              frame->number[GLANZ_SEA_SPARKLE_AT] != 0 ? NOT_BY_ITSELF : EACH);
        for (uint8_t i = 0; i < MOST; i++) {
            struct burst *burst = &memory->list[i];
            moves |= burst->runs;
            burst->runs = burst->runs && burst_time(frame, burst) < 65536u;
        }
    }
    return moves ? GLANZ_STEP_MOVES : 0;
}

struct stir { /* that goes on */
    glanz_place x, y;
    uint32_t level; /* where it is strongest */
};

/* Those that go on in this frame. @return how many. */
static uint8_t find_stirs(struct stir *stirs, const struct glanz_frame *frame) {
    const struct memory *memory = (const struct memory *)frame->memory;
    uint8_t count = 0;
    for (uint8_t i = 0; memory != NULL && i < MOST; i++) {
        const struct burst *burst = &memory->list[i];
        uint32_t time = burst_time(frame, burst);
        if (burst->runs && time < 65536u) {
            uint32_t draw = glanz_hash2(frame->seed, burst->seed);
            uint32_t left = 65536u - time;
            uint32_t comes = time < 2048u ? time * 32u : 65536u; /* from dark */
            stirs[count].x = (glanz_place)((draw & 0xFFFFu) * frame->length);
            stirs[count].y = frame->rows == 1 ? GLANZ_HALF : (glanz_place)((draw >> 16) * frame->rows);
            stirs[count++].level = glanz_share_of(glanz_share_of(left, left), comes);
        }
    }
    return count;
}

/* How much the water is stirred at a place, 0 to 65536: most where it was, and the less the longer ago. */
static uint32_t stirred_at(const struct glanz_frame *frame, const struct stir *stirs, uint8_t count, glanz_place x,
                           glanz_place y) {
    uint32_t most = (uint32_t)frame->number[GLANZ_SEA_SPARKLE_STIRRED];
    int32_t reach = frame->kept[0];
    for (const struct stir *end = stirs + count; stirs != end; stirs++) {
        int32_t across = x - stirs->x;
        int32_t down = frame->rows == 1 ? 0 : y - stirs->y;
        if (stirs->level <= most || across >= reach || -across >= reach || down >= reach || -down >= reach) {
            continue;
        }
        uint32_t away = glanz_distance(across, down);
        if (away < (uint32_t)reach) {
            uint32_t near = 65536u - glanz_times(away, (uint32_t)frame->kept[1]);
            uint32_t level = glanz_share_of(stirs->level, near > 65536u ? 65536u : near);
            most = level > most ? level : most;
        }
    }
    return most;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    uint32_t turn = frame->turn[0] * POINTS;
    uint32_t laps = ((uint32_t)(uint16_t)frame->lap[0] * POINTS + glanz_mul32_high(frame->turn[0], POINTS)) & 0xFFFFu;
    struct stir stirs[MOST];
    uint8_t stir_count = find_stirs(stirs, frame);
    (void)cover;
    glanz_light_fill(light, frame->color[0], count);
    for (uint8_t i = 0; i < count; i++) {
        uint32_t stirred = stirred_at(frame, stirs, stir_count, places->x[i], places->y[i]);
        if (stirred == 0) {
            continue;
        }
        uint32_t start = glanz_hash_here(frame->seed + glanz_place_hash(places->x[i], places->y[i]));
        uint32_t own = turn + start;
        uint32_t draw = glanz_hash_here(start + glanz_mul32_low((laps + (own < start)) & 0xFFFFu, 0x9E3779B9u));
        uint32_t rise = (own & 0x80000000u) != 0 ? (~own << 1) >> 16 : (own << 1) >> 16; /* dark at both ends of its time */
        uint32_t bright = draw & 0xFFFFu;                                                /* few are bright, most are not */
        uint32_t level = glanz_share_of((rise * rise) >> 16, stirred);
        level = glanz_share_of(level, bright);
        struct glanz_light color = glanz_gradient_at(frame->gradient, (uint16_t)level);
        light_over(&light[i], color, level);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_sea_sparkle = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("sea sparkle"),
    .description =
        GLANZ_DESCRIPTION("dark water that lights up in points where it is stirred, by a signal or by itself; a stir "
                          "dies away in a pass"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT | GLANZ_NEEDS_PULSES,
    .gradient = &glow,
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .least_columns = 8,
    .least_rows = 1,
};

#endif
