/* SPDX-License-Identifier: MIT */
/* Waves: the sea from aside, its surface three waves that run through each other; along a line its swell from above. */
#include <glanz/effects.h>

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_WAVES_BACKGROUND] = GLANZ_COLOR_ROW("background", "the sky", GLANZ_RGB(0x02, 0x05, 0x12)),
    [GLANZ_WAVES_DEPTH] = GLANZ_PART_ROW("depth", "of the sea, of the height", GLANZ_PERCENT(55)),
    [GLANZ_WAVES_HEIGHT] = GLANZ_PART_ROW("height", "of the waves, of the height", GLANZ_PERCENT(35)),
    [GLANZ_WAVES_LENGTH] =
        GLANZ_PITCH_ROW("length", "of the longest, from crest to crest", GLANZ_FIXED(2), GLANZ_UNIT_LEDS, GLANZ_FIXED(22)),
    [GLANZ_WAVES_SPEED] = GLANZ_RATE_ROW("how fast they run", GLANZ_UNIT_LEDS, GLANZ_FIXED(6)),
};

/* deep blue, green, pale green, foam: from the ground to the surface */
static GLANZ_CONST struct glanz_stop stops[] = {{0, {60, 500, 3200}, 126322u},
                                                {34000, {300, 6500, 11500}, 178956u},
                                                {58000, {2600, 24000, 22000}, 570002u},
                                                {65535, {47000, 62000, 60000}, 0u}};
static GLANZ_CONST struct glanz_gradient sea = {
    .stops = stops, .count = 4, .first = {0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 2}};

enum { KEPT_SCALE, KEPT_MIDDLE, KEPT_HIGH, KEPT_INVERSE };

/* The longest runs by once, the second twice and the third, the other way, once: in a pass all are round. */
static glanz_place pass(const struct glanz_frame *frame) {
    return glanz_period_fit(frame, frame->number[GLANZ_WAVES_LENGTH], 2 * GLANZ_STEP);
}

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        uint32_t rows = (uint32_t)frame->rows << 16;
        frame->kept[KEPT_SCALE] = (int32_t)glanz_repeat_of(pass(frame)).scale;
        frame->kept[KEPT_MIDDLE] = (int32_t)(rows - glanz_times(rows, (uint32_t)frame->number[GLANZ_WAVES_DEPTH]));
        frame->kept[KEPT_HIGH] = (int32_t)(glanz_times(rows, (uint32_t)frame->number[GLANZ_WAVES_HEIGHT]) >> 1);
        frame->kept[KEPT_INVERSE] = (int32_t)(0xFFFFFFFFu / ((uint32_t)frame->rows << 16));
    }
    return GLANZ_STEP_MOVES;
}

/* -65535 to 65535 */
static inline int32_t surface_at(const struct glanz_frame *frame, glanz_place x) {
    struct glanz_repeat repeat = {(uint32_t)frame->kept[KEPT_SCALE], 0, 0};
    uint32_t place = glanz_repeat_turn(&repeat, x);
    uint16_t first = (uint16_t)((place - frame->turn[0]) >> 16);
    uint16_t second = (uint16_t)((place * 2u - frame->turn[0] * 3u) >> 16);
    uint16_t third = (uint16_t)((place * 3u + frame->turn[0]) >> 16);
    return (int32_t)glanz_sine(first) + glanz_sine((uint16_t)(second + 11000u)) * 5 / 8 +
           glanz_sine((uint16_t)(third + 29000u)) * 3 / 8;
}

/* Of a height of waves, 16.16, what the surface goes up or down. */
static int32_t part_of(int32_t surface, uint32_t high) {
    int32_t part = (int32_t)glanz_times(high, (uint32_t)(surface < 0 ? -surface : surface));
    return surface < 0 ? -part : part;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    glanz_place column = -1;
    int32_t surface = 0;
    (void)cover;
    for (uint8_t i = 0; i < count; i++) {
        if (places->x[i] != column) {
            column = places->x[i];
            surface = surface_at(frame, column);
        }
        if (frame->rows == 1) { /* as much of the palette as waves are high */
            int32_t level = 32768 + part_of(surface, (uint32_t)frame->number[GLANZ_WAVES_HEIGHT]);
            struct glanz_light at = glanz_gradient_at(frame->gradient, (uint16_t)(level < 0       ? 0
                                                                                  : level > 65535 ? 65535
                                                                                                  : level));
            glanz_light_put(&light[i], at.red, at.green, at.blue);
            continue;
        }
        glanz_place top = frame->kept[KEPT_MIDDLE] - part_of(surface, (uint32_t)frame->kept[KEPT_HIGH]);
        glanz_place down = places->y[i] - top;
        uint32_t under = down >= GLANZ_HALF ? 65536u : down <= -GLANZ_HALF ? 0 : (uint32_t)(down + GLANZ_HALF);
        struct glanz_light at = frame->color[0];
        if (under != 0) {
            uint32_t deep =
                glanz_times((uint32_t)(down < GLANZ_HALF ? 0 : down - GLANZ_HALF), (uint32_t)frame->kept[KEPT_INVERSE]);
            deep = deep > 65535u ? 65535u : deep;
            at = glanz_light_mix(at, glanz_gradient_at(frame->gradient, (uint16_t)(65535u - deep)), under);
        }
        glanz_light_put(&light[i], at.red, at.green, at.blue);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_waves = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("waves"),
    .description = GLANZ_DESCRIPTION("the sea from aside, or its swell along a line; a pass is the longest wave once"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &sea,
    .pass = pass,
    .step = step,
    .shade_field = shade,
    .least_columns = 6,
    .least_rows = 1,
};

#endif
