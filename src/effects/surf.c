/* SPDX-License-Identifier: MIT */
/* Surf: waves that run up the sand, foam at their edge, and drain; the sand they leave is wet for a while. */
#include "upright.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_SURF_BACKGROUND] = GLANZ_COLOR_ROW("background", "the sand, where no water comes", GLANZ_RGB(0x6B, 0x4E, 0x2A)),
    [GLANZ_SURF_REACH] = GLANZ_PART_ROW("reach", "of the highest waves", GLANZ_PERCENT(85)),
    [GLANZ_SURF_FOAM] = GLANZ_SIZE_ROW("foam", "how wide it is", GLANZ_FIXED(0.5), GLANZ_UNIT_LEDS, GLANZ_FIXED(2)),
    [GLANZ_SURF_SPEED] = GLANZ_RATE_ROW("waves", GLANZ_UNIT_PASS_TIME, 6000),
};

/* deep, green, foam: from the sea to the edge */
static GLANZ_CONST struct glanz_stop stops[] = {{0, {150, 1500, 5200}, 95443u},
                                                {45000, {1500, 17000, 17500}, 429496u},
                                                {55000, {9000, 34000, 32000}, 407685u},
                                                {65535, {58000, 62000, 60000}, 0u}};
static GLANZ_CONST struct glanz_gradient seawater = {
    .stops = stops, .count = 4, .first = {0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 2, 2}};

enum { KEPT_EDGE, KEPT_WET, KEPT_DRY, KEPT_FOAM, KEPT_ROWS, KEPT_WAVE };

/* How far a wave runs, of the height, 16.16 rows. */
static uint32_t reach_of(const struct glanz_frame *frame, uint32_t lap) {
    uint32_t rows = (uint32_t)(frame->rows == 1 ? frame->length : frame->rows) << 16;
    uint32_t most = glanz_times(rows, (uint32_t)frame->number[GLANZ_SURF_REACH]);
    uint32_t draw = glanz_hash2(frame->seed, lap & 0x1FFFu) >> 16;
    return most - glanz_times(most / 2u, draw);
}

/* Up in a third of the pass, slower and slower; down in the rest, at first slowly. 0 to 65536. */
static uint32_t height_at(uint32_t turn) {
    uint32_t gone = turn >> 16;
    if (gone < 21846u) {
        uint32_t left = 65536u - gone * 3u;
        left = left > 65536u ? 0 : left;
        return 65536u - glanz_share_of(left, left);
    }
    uint32_t down = ((gone - 21846u) * 3u) >> 1;
    down = down > 65536u ? 65536u : down;
    return 65536u - glanz_share_of(down, down);
}

static uint8_t step(struct glanz_frame *frame) {
    uint32_t lap = (uint16_t)frame->lap[0];
    uint32_t turn = frame->turn[0];
    uint32_t reach = reach_of(frame, lap);
    uint32_t edge = glanz_times(reach, height_at(turn));
    uint32_t left = reach_of(frame, lap - 1u); /* what the wave before has wetted */
    uint32_t dry = turn >> 16;
    if (turn < 0x55550000u) { /* still running up: below its edge it is wet anyway */
        frame->kept[KEPT_WET] = (int32_t)(left > edge ? left : edge);
        frame->kept[KEPT_DRY] = (int32_t)(43691u + dry < 65536u ? 43691u + dry : 65536u);
    } else {
        frame->kept[KEPT_WET] = (int32_t)reach;
        frame->kept[KEPT_DRY] = (int32_t)(dry - 21845u);
    }
    frame->kept[KEPT_EDGE] = (int32_t)edge;
    if (frame->params_changed) {
        frame->kept[KEPT_FOAM] = (int32_t)(0x7FFFFFFFu / (uint32_t)frame->number[GLANZ_SURF_FOAM]);
        frame->kept[KEPT_ROWS] = (int32_t)(0xFFFFFFFFu / ((uint32_t)(frame->rows == 1 ? frame->length : frame->rows) << 16));
        frame->kept[KEPT_WAVE] =
            (int32_t)glanz_repeat_of(glanz_period_fit(frame, (glanz_place)14 * GLANZ_STEP, 4 * GLANZ_STEP)).scale;
    }
    return GLANZ_STEP_MOVES;
}

/* How much lower than elsewhere the edge is in a column, 16.16 rows: it is not straight. */
static glanz_place bent_at(const struct glanz_frame *frame, const struct upright *upright, glanz_place x) {
    if (upright->line) {
        return 0;
    }
    struct glanz_repeat repeat = {(uint32_t)frame->kept[KEPT_WAVE], 0, 0};
    uint16_t turn = (uint16_t)(glanz_repeat_turn(&repeat, x) >> 16);
    uint16_t slow = (uint16_t)(frame->turn[0] >> 16);
    int32_t bend = (int32_t)2 * 32767 + glanz_sine((uint16_t)(turn + slow)) + glanz_sine((uint16_t)(turn * 2u - slow + 9000u));
    return (glanz_place)glanz_times((uint32_t)bend, (uint32_t)(upright->rows > 24u ? 24u : upright->rows) << 13);
}

/* Water so deep behind the edge: foam, then what the palette has from there to the sea, over the whole height. */
static struct glanz_light water_at(const struct glanz_frame *frame, glanz_place behind) {
    uint32_t deep = behind < 0 ? 0 : (uint32_t)behind;
    uint32_t foam = glanz_times(deep, (uint32_t)frame->kept[KEPT_FOAM]); /* 32768 at its end */
    uint32_t depth = glanz_times(deep, (uint32_t)frame->kept[KEPT_ROWS]);
    uint32_t position = 65535u - (foam > 65535u ? 65535u : foam) / 4u;
    return glanz_gradient_at(frame->gradient, (uint16_t)(position - glanz_share_of(position, depth > 65535u ? 65535u : depth)));
}

static uint32_t cover_below(glanz_place up, glanz_place edge) {
    return glanz_cover(up, -GLANZ_STEP, edge < -GLANZ_STEP ? -GLANZ_STEP : edge);
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    struct upright upright = upright_of(frame, places);
    struct glanz_light sand = frame->color[0];
    struct glanz_light wet = glanz_light_scale(sand, 20000u); /* it is darker */
    uint32_t left = 65536u - (uint32_t)frame->kept[KEPT_DRY];
    (void)cover;
    for (uint8_t i = 0; i < count; i++) {
        glanz_place up = (glanz_place)upright.rows * GLANZ_STEP - upright_y(&upright, places, i);
        glanz_place bent = up > frame->kept[KEPT_WET] + GLANZ_STEP && up > frame->kept[KEPT_EDGE] + GLANZ_STEP
                               ? 0 /* dry either way */
                               : bent_at(frame, &upright, upright.x[i]);
        glanz_place edge = frame->kept[KEPT_EDGE] - bent;
        uint32_t under = cover_below(up, edge);
        if (under < 65536u) {
            uint32_t soaked = glanz_share_of(cover_below(up, frame->kept[KEPT_WET] - bent), left);
            glanz_light_put(&light[i], glanz_mix16(sand.red, wet.red, soaked), glanz_mix16(sand.green, wet.green, soaked),
                            glanz_mix16(sand.blue, wet.blue, soaked));
        }
        if (under != 0) {
            struct glanz_light water = water_at(frame, edge - up + GLANZ_HALF);
            struct glanz_light *at = &light[i];
            if (under < 65536u) {
                light_over(at, water, under);
            } else {
                glanz_light_put(at, water.red, water.green, water.blue);
            }
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_surf = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("surf"),
    .description = GLANZ_DESCRIPTION("waves that run up the sand with foam and drain; a pass is one wave"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &seawater,
    .step = step,
    .shade_field = shade,
    .least_columns = 1,
    .least_rows = 6,
};

#endif
