/* SPDX-License-Identifier: MIT */
/* Snowfall: flakes sink, swaying, and settle; what lies levels out and melts away. Flakes fall by the phase; how high snow lies
 * is remembered, and moved on in its ticks. */
#include "upright.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_SNOWFALL_COLOR] = GLANZ_COLOR_ROW("color", "the snow", GLANZ_RGB(0xE8, 0xF1, 0xFF)),
    [GLANZ_SNOWFALL_BACKGROUND] = GLANZ_COLOR_ROW("background", "the night", GLANZ_RGB(0x01, 0x04, 0x0E)),
    [GLANZ_SNOWFALL_FLAKES] =
        GLANZ_PARAM_ROW("flakes", "in the air at once, of 100 LEDs", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 1, 50, 6),
    [GLANZ_SNOWFALL_LIES] = GLANZ_PART_ROW("lies", "of the height: how deep it lies at the most", GLANZ_PERCENT(30)),
    [GLANZ_SNOWFALL_SPEED] = GLANZ_RATE_ROW("how fast the slower flakes sink", GLANZ_UNIT_PASS_TIME, 7000),
};

#define FLAKES_MOST 60u
#define BITS 8 /* 256 ticks a pass */

struct memory {
    uint32_t tick;
};

struct column { /* 8.8 rows */
    uint16_t settled;
    uint16_t shown; /* follows */
};

/* Columns lie behind the head; then the raster. */
static uint32_t head_of(const struct glanz_frame *frame) {
    uint32_t columns = frame->rows == 1 ? 1u : frame->length;
    return ((uint32_t)sizeof(struct memory) + (uint32_t)sizeof(struct column) * columns + 7u) & ~7u;
}

static uint32_t memory(const struct glanz_frame *frame) {
    return upright_raster_memory(frame, head_of(frame));
}

struct flake {
    glanz_place x, y;
    uint16_t landed; /* how often it has come down */
};

/* Where a flake is: a slow one sinks once in a pass, a quick one twice. */
static struct flake flake_at(const struct glanz_frame *frame, const struct glanz_raster *raster, uint32_t index, uint32_t turn,
                             uint32_t lap) {
    uint32_t hash = glanz_hash2(frame->seed, index);
    uint32_t times = 1u + (hash & 1u);
    uint32_t own = turn * times + hash;
    struct flake flake;
    flake.landed = (uint16_t)((lap & 0x1FFFu) * times + glanz_mul32_high(turn, times) + (own < hash));
    uint32_t draw = glanz_hash2(hash, flake.landed);
    flake.y = (glanz_place)glanz_mul32_high(own, ((uint32_t)raster->rows + 1u) << 16) - GLANZ_HALF;
    flake.x = GLANZ_HALF;
    if (raster->columns > 1) {
        flake.x = (glanz_place)((draw >> 16) * raster->columns) + glanz_sine((uint16_t)((own >> 15) + draw));
    }
    return flake;
}

/* A flake that has come down is a row of snow on its column, or as much of one as may lie there. */
static void settle(struct column *columns, const struct glanz_frame *frame, const struct glanz_raster *raster, uint32_t tick,
                   uint32_t index) {
    struct flake was = flake_at(frame, raster, index, tick << (32 - BITS), tick >> BITS);
    struct flake is = flake_at(frame, raster, index, (tick + 1u) << (32 - BITS), (tick + 1u) >> BITS);
    if (was.landed == is.landed) {
        return;
    }
    uint32_t most = ((uint32_t)raster->rows * (uint32_t)frame->number[GLANZ_SNOWFALL_LIES]) >> 8;
    most = most > 65000u ? 65000u : most; /* what 8.8 rows can say */
    glanz_place at = was.x < 0 ? 0 : was.x >> 16;
    struct column *column = &columns[at >= raster->columns ? raster->columns - 1 : at];
    uint32_t left = column->settled < most ? most - column->settled : 0;
    column->settled = (uint16_t)(column->settled + (left > 512u ? 256u : left / 2u));
}

static int32_t slope_between(uint16_t a, uint16_t b) {
    return ((int32_t)a - b) / 16;
}

/* What lies slides down slopes and melts, and what is shown follows. */
static void level_out(struct column *columns, uint16_t count) {
    for (uint16_t x = 0; x < count; x++) {
        struct column *column = &columns[x];
        if (x + 1u < count) {
            int32_t slope = slope_between(column->settled, columns[x + 1u].settled);
            column->settled = (uint16_t)(column->settled - slope);
            columns[x + 1u].settled = (uint16_t)(columns[x + 1u].settled + slope);
        }
        column->settled = (uint16_t)(column->settled - (column->settled + 255u) / 256u);
        int32_t way = (int32_t)column->settled - column->shown;
        column->shown = (uint16_t)(column->shown + (way > 0 ? (way + 7) / 8 : way / 8));
    }
}

static void draw_snow(const struct glanz_raster *raster, const struct glanz_frame *frame, const struct column *columns) {
    struct glanz_pair pair = glanz_pair_of(frame->color[1], frame->color[0]);
    for (uint16_t x = 0; x < raster->columns; x++) {
        uint32_t depth = (uint32_t)columns[x].shown << 8;
        for (uint32_t row = raster->rows; row > 0 && depth != 0; row--) {
            uint32_t level = depth > 65536u ? 65536u : depth;
            glanz_pair_mix(&raster->cells[(row - 1u) * raster->columns + x], &pair, level);
            depth -= level;
        }
    }
}

static uint8_t step(struct glanz_frame *frame) {
    struct memory *memory = (struct memory *)frame->memory;
    if (memory == NULL) {
        return 0;
    }
    struct column *columns = (struct column *)(void *)((uint8_t *)frame->memory + sizeof(struct memory));
    struct glanz_raster raster = upright_raster(frame, head_of(frame));
    uint32_t flakes = count_of(frame, frame->number[GLANZ_SNOWFALL_FLAKES], FLAKES_MOST);
    uint32_t part;
    uint8_t ticks = glanz_frame_ticks(&memory->tick, &part, frame, BITS);
    for (uint32_t tick = memory->tick - ticks; tick != memory->tick; tick++) {
        for (uint32_t i = 0; i < flakes; i++) {
            settle(columns, frame, &raster, tick, i);
        }
        level_out(columns, raster.columns);
    }
    glanz_raster_fill(&raster, frame->color[1]);
    draw_snow(&raster, frame, columns);
    for (uint32_t i = 0; i < flakes; i++) {
        struct flake flake = flake_at(frame, &raster, i, frame->turn[0], (uint16_t)frame->lap[0]);
        glanz_raster_dot(&raster, flake.x, flake.y, frame->color[0], 65536u);
    }
    return GLANZ_STEP_MOVES;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    (void)cover;
    if (frame->memory == NULL) {
        glanz_light_fill(light, frame->color[1], count);
        return;
    }
    upright_raster_shade(light, frame, places, count, head_of(frame));
}

GLANZ_CONST struct glanz_effect glanz_effect_snowfall = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("snowfall"),
    .description = GLANZ_DESCRIPTION("flakes that sink and settle, and snow that melts away; in a pass a slow flake comes down "
                                     "once"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .least_columns = 1,
    .least_rows = 6,
};

#endif
