/* SPDX-License-Identifier: MIT */
/* Embers: coals that glow, each in its own time, and brighten where a breath of wind passes. */
#include "cells.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_EMBERS_HEAT] = GLANZ_SHARE_ROW("heat", "from nearly out to bright", GLANZ_PERCENT(50)),
    [GLANZ_EMBERS_WIND] = GLANZ_SHARE_ROW("wind", "how much a breath of it brightens them", GLANZ_PERCENT(45)),
    [GLANZ_EMBERS_SIZE] = GLANZ_PITCH_ROW("size", "of a breath", GLANZ_FIXED(2), GLANZ_UNIT_LEDS, GLANZ_FIXED(10)),
    [GLANZ_EMBERS_SPEED] = GLANZ_RATE_ROW("how fast they glow up and down", GLANZ_UNIT_PASS_TIME, 10000),
};

/* ash, dull red, cherry red, orange */
static GLANZ_CONST struct glanz_stop stops[] = {{0, {260, 60, 40}, 238609u},
                                                {18000, {5200, 120, 10}, 178956u},
                                                {42000, {30000, 1500, 40}, 182492u},
                                                {65535, {65535, 15500, 600}, 0u}};
static GLANZ_CONST struct glanz_gradient coals = {
    .stops = stops, .count = 4, .first = {0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 2, 2, 2, 2, 2}};

#define DRIFT 4u /* breaths that pass by in a pass */

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        struct cells cells = cells_of(frame, frame->number[GLANZ_EMBERS_SIZE]);
        frame->kept[0] = (int32_t)cells.scale;
        frame->kept[1] = cells.period;
    }
    frame->kept[2] = (int32_t)(0u - cells_gone(frame, DRIFT));
    return GLANZ_STEP_MOVES;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    uint16_t positions[GLANZ_RUN];
    uint16_t turn = (uint16_t)(frame->turn[0] >> 16);
    struct glanz_noise breath;
    glanz_noise_begin(&breath, frame->seed, (uint16_t)(turn * 2u), (uint16_t)frame->kept[1]);
    int32_t heat = frame->number[GLANZ_EMBERS_HEAT] / 2;
    glanz_place row = -1;
    (void)cover;
    for (uint8_t i = 0; i < count; i++) {
        if (places->y[i] != row) {
            row = places->y[i];
            glanz_noise_row(&breath, (int32_t)glanz_times((uint32_t)row, (uint32_t)frame->kept[0]));
        }
        uint32_t x = glanz_times_here((uint32_t)places->x[i], (uint32_t)frame->kept[0]) + (uint32_t)frame->kept[2];
        uint32_t wind =
            glanz_share_of((uint32_t)glanz_noise_along(&breath, (int32_t)x), (uint32_t)frame->number[GLANZ_EMBERS_WIND]);
        uint32_t coal = glanz_hash_here(frame->seed + glanz_place_hash(places->x[i], places->y[i]));
        uint16_t own = (uint16_t)(turn * (2u + (coal & 3u)) + (coal >> 16)); /* two to five times a pass */
        int32_t glow =
            glanz_over((int32_t)glanz_sine(own) * 13, 6) + (int32_t)((coal >> 8 & 0xFFu) << 6); /* and some are hotter */
        int32_t level = heat - 18000 + glow + (int32_t)(wind + wind / 2u);
        positions[i] = (uint16_t)(level < 0 ? 0 : level > 65535 ? 65535 : level);
    }
    glanz_gradient_run(light, frame->gradient, positions, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_embers = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("embers"),
    .description = GLANZ_DESCRIPTION("coals that glow each in its own time, and a wind over them; in a pass each glows up two "
                                     "to five times"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &coals,
    .step = step,
    .shade_field = shade,
    .least_columns = 4,
    .least_rows = 1,
};

#endif
