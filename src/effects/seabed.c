/* SPDX-License-Identifier: MIT */
/* Seabed: the net of light that waves throw on the ground. Light gathers along lines, and those are where noise is at its
 * middle: two nets of them drift through each other. */
#include "cells.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_SEABED_SIZE] = GLANZ_PITCH_ROW("size", "of the meshes", GLANZ_FIXED(1), GLANZ_UNIT_LEDS, GLANZ_FIXED(7)),
    [GLANZ_SEABED_CONTRAST] = GLANZ_SHARE_ROW("contrast", "from a mild shimmer to thin bright lines", GLANZ_PERCENT(50)),
    [GLANZ_SEABED_SPEED] = GLANZ_RATE_ROW("how fast the net changes", GLANZ_UNIT_PASS_TIME, 14000),
};

/* deep water, green water, sunlit sand */
static GLANZ_CONST struct glanz_stop stops[] = {{0, {100, 1150, 2600}, 178956u},
                                                {24000, {900, 7200, 9800}, 159072u},
                                                {51000, {16000, 38000, 33000}, 295491u},
                                                {65535, {60000, 65535, 50000}, 0u}};
static GLANZ_CONST struct glanz_gradient sunlit = {
    .stops = stops, .count = 4, .first = {0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 1, 2, 2, 2}};

#define DRIFT 2u /* cells that either net drifts in a pass, each its way */

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        struct cells cells = cells_of(frame, frame->number[GLANZ_SEABED_SIZE]);
        frame->kept[0] = (int32_t)cells.scale;
        frame->kept[1] = cells.period;
        frame->kept[2] = 65536 + 6 * frame->number[GLANZ_SEABED_CONTRAST]; /* how steeply light falls beside a line, 16.16 */
    }
    frame->kept[3] = (int32_t)cells_gone(frame, DRIFT);
    return GLANZ_STEP_MOVES;
}

/* 65535 along a line, falling to either side. */
static inline uint32_t line_at(struct glanz_noise *noise, int32_t x, uint32_t steep) {
    int32_t off = (int32_t)glanz_noise_along(noise, x) - 32768;
    uint32_t away = glanz_share_of((uint32_t)(off < 0 ? -off : off), steep);
    uint32_t level = away > 32767u ? 0 : 65535u - 2u * away;
    return (level * level) >> 16;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    uint16_t positions[GLANZ_RUN];
    uint16_t turn = (uint16_t)(frame->turn[0] >> 16);
    uint16_t period = (uint16_t)frame->kept[1];
    struct glanz_noise first;
    glanz_noise_begin(&first, frame->seed, turn, period);
    struct glanz_noise second;
    glanz_noise_begin(&second, frame->seed ^ 0x632BE59Bu, (uint16_t)(0u - turn), period);
    uint32_t steep = (uint32_t)frame->kept[2];
    (void)cover;
    for (uint8_t i = 0; i < count;) {
        int32_t leds;
        uint8_t end = (uint8_t)(i + glanz_row_length(&leds, &places->x[i], &places->y[i], (uint8_t)(count - i)));
        int32_t y = (int32_t)glanz_times((uint32_t)places->y[i], (uint32_t)frame->kept[0]);
        glanz_noise_row(&first, y);
        glanz_noise_row(&second, y + 32768); /* no line of one goes along one of the other */
        uint32_t x = glanz_times_here((uint32_t)places->x[i], (uint32_t)frame->kept[0]);
        uint32_t on = (uint32_t)leds * (uint32_t)frame->kept[0];
        for (; i < end; i++, x += on) {
            uint32_t a = line_at(&first, (int32_t)(x + (uint32_t)frame->kept[3]), steep);
            uint32_t b = line_at(&second, (int32_t)(x - (uint32_t)frame->kept[3]), steep);
            uint32_t both = a / 2u + b / 2u; /* where they cross it is brightest */
            positions[i] = (uint16_t)(both + ((65535u - both) * glanz_mul16((uint16_t)a, (uint16_t)b) >> 16));
        }
    }
    glanz_gradient_run(light, frame->gradient, positions, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_seabed = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("seabed"),
    .description = GLANZ_DESCRIPTION("the net of light that waves throw on the ground; a pass changes it once all through"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &sunlit,
    .step = step,
    .shade_field = shade,
    .least_columns = 6,
    .least_rows = 1,
};

#endif
