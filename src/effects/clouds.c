/* SPDX-License-Identifier: MIT */
/* Clouds: noise of two sizes that drifts and changes. */
#include "cells.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_CLOUDS_SIZE] = GLANZ_PITCH_ROW("size", "of a cloud", GLANZ_FIXED(1), GLANZ_UNIT_LEDS, GLANZ_FIXED(9)),
    [GLANZ_CLOUDS_DRIFT] =
        GLANZ_PARAM_ROW("drift", "clouds that pass by in a pass", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 0, 32, 4),
    [GLANZ_CLOUDS_SPEED] = GLANZ_RATE_ROW("how fast they change", GLANZ_UNIT_PASS_TIME, 16000),
#if GLANZ_RATES > 1
    [GLANZ_CLOUDS_WIND] = {GLANZ_TEXT("wind"), GLANZ_DESCRIPTION("how fast they pass by beside that, however fast they change"),
                           GLANZ_PARAM_RATE, GLANZ_UNIT_LEDS, GLANZ_CHANGE_GLIDES, 0, GLANZ_FIXED(10000), 0, NULL},
#endif
};

struct sky {
    struct glanz_noise coarse, fine;
};

static struct sky sky_of(const struct glanz_frame *frame) {
    uint16_t turn = (uint16_t)(frame->turn[0] >> 16);
    uint16_t period = (uint16_t)frame->kept[2];
    struct sky sky;
    glanz_noise_begin(&sky.coarse, frame->seed, turn, period);
    glanz_noise_begin(&sky.fine, frame->seed ^ 0x2545F491u, (uint16_t)(0u - turn), (uint16_t)(period * 2u));
    return sky;
}

static void go_to_row(struct sky *sky, const struct glanz_frame *frame, glanz_place down) {
    uint32_t y = glanz_times((uint32_t)down, (uint32_t)frame->kept[0]);
    glanz_noise_row(&sky->coarse, (int32_t)y);
    glanz_noise_row(&sky->fine, (int32_t)(y * 2u));
}

static inline uint32_t cells_at(const struct glanz_frame *frame, glanz_place across) {
    return glanz_times_here((uint32_t)across, (uint32_t)frame->kept[0]) + (uint32_t)frame->kept[1];
}

/* The noise of both sizes along the row. @param x 16.16 cells. */
static inline int32_t noise_at(struct sky *sky, uint32_t x) {
    uint32_t noise = glanz_noise_along(&sky->coarse, (int32_t)x) * 2u + glanz_noise_along(&sky->fine, (int32_t)(x * 2u));
    return (int32_t)(noise / 2u + noise / 8u) - 61440; /* noise seldom reaches its bounds: what does is cut */
}

#define SAMPLES 4

/* The mean over the field, by samples: taken off, so that a few clouds do not light or darken the whole. */
static int32_t mean_of(const struct glanz_frame *frame) {
    struct sky sky = sky_of(frame);
    int32_t sum = 0;
    for (uint8_t row = 0; row < SAMPLES; row++) {
        go_to_row(&sky, frame, (glanz_place)frame->rows * (GLANZ_STEP / (2 * SAMPLES) * (2 * row + 1)));
        for (uint8_t column = 0; column < SAMPLES; column++) {
            glanz_place across = (glanz_place)frame->length * (GLANZ_STEP / (2 * SAMPLES) * (2 * column + 1));
            sum += noise_at(&sky, cells_at(frame, across));
        }
    }
    return sum / (SAMPLES * SAMPLES);
}

#if GLANZ_RATES > 1
/* Points that a cell takes. */
static glanz_place cell(const struct glanz_frame *frame) {
    int32_t size = frame->number[GLANZ_CLOUDS_SIZE] < GLANZ_STEP ? GLANZ_STEP : frame->number[GLANZ_CLOUDS_SIZE];
    return frame->closed ? (glanz_place)(((uint32_t)frame->length << 16) / cells_round(frame, (uint32_t)size)) : size;
}
#endif

/* Keeps cells a point, cells that have drifted by, the period (on a closed field the cells go round evenly) and the mean. */
static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        struct cells cells = cells_of(frame, frame->number[GLANZ_CLOUDS_SIZE]);
        frame->kept[0] = (int32_t)cells.scale;
        frame->kept[2] = cells.period;
    }
    frame->kept[1] = (int32_t)cells_gone(frame, (uint32_t)frame->number[GLANZ_CLOUDS_DRIFT]);
#if GLANZ_RATES > 1
    uint32_t gone = ((uint32_t)(uint16_t)frame->lap[1] << 16) + (frame->turn[1] >> 16); /* cells, 16.16 */
    frame->kept[1] = (int32_t)((uint32_t)frame->kept[1] - gone);
#endif
    frame->kept[3] = mean_of(frame);
    return 1;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    uint16_t positions[GLANZ_RUN];
    struct sky sky = sky_of(frame);
    (void)cover;
    for (uint8_t i = 0; i < count;) {
        int32_t leds;
        uint8_t end = (uint8_t)(i + glanz_row_length(&leds, &places->x[i], &places->y[i], (uint8_t)(count - i)));
        uint32_t x = cells_at(frame, places->x[i]);
        uint32_t on = (uint32_t)leds * (uint32_t)frame->kept[0];
        go_to_row(&sky, frame, places->y[i]);
        for (; i < end; i++, x += on) {
            int32_t level = 32768 + noise_at(&sky, x) - frame->kept[3];
            positions[i] = (uint16_t)(level < 0 ? 0 : level > 65535 ? 65535 : level);
        }
    }
    glanz_gradient_run(light, frame->gradient, positions, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_clouds = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("clouds"),
    .description = GLANZ_DESCRIPTION("soft clouds that drift and change; a pass changes them once all through"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
#if GLANZ_RATES > 1
    .second_pass = cell,
#endif
    .step = step,
    .shade_field = shade,
    .least_columns = 2,
    .least_rows = 1,
};

#endif
