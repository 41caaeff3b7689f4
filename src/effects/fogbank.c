/* SPDX-License-Identifier: MIT */
/* Fogbank: fog that drifts over what lies under the segment, thicker below than above. */
#include "cells.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_FOGBANK_COLOR] = GLANZ_COLOR_ROW("color", "the fog", GLANZ_RGB(0x8A, 0x96, 0x9C)),
    [GLANZ_FOGBANK_DENSITY] = GLANZ_SHARE_ROW("density", "from wisps to a wall", GLANZ_PERCENT(65)),
    [GLANZ_FOGBANK_SIZE] = GLANZ_PITCH_ROW("size", "of a bank", GLANZ_FIXED(2), GLANZ_UNIT_LEDS, GLANZ_FIXED(14)),
    [GLANZ_FOGBANK_LOW] = GLANZ_SHARE_ROW("low", "how much thinner it is at the top", GLANZ_PERCENT(50)),
    [GLANZ_FOGBANK_SPEED] = GLANZ_RATE_ROW("banks that drift by", GLANZ_UNIT_PASS_TIME, 9000),
};

#define SAMPLES 4 /* across, and down */

/* The mean of the banks over the field, by samples: taken off, so that no small field is ever without fog. */
static int32_t mean_of(const struct glanz_frame *frame) {
    struct glanz_noise banks;
    uint32_t sum = 0;
    glanz_noise_begin(&banks, frame->seed, (uint16_t)(frame->turn[0] >> 16), (uint16_t)frame->kept[1]);
    for (uint32_t row = 1; row < 2 * SAMPLES; row += 2) {
        uint32_t y = glanz_times((uint32_t)frame->rows * (GLANZ_STEP / (2 * SAMPLES)) * row, (uint32_t)frame->kept[0]);
        glanz_noise_row(&banks, (int32_t)(y * 2u));
        for (uint32_t column = 1; column < 2 * SAMPLES; column += 2) {
            uint32_t across = (uint32_t)frame->length * (GLANZ_STEP / (2 * SAMPLES)) * column;
            sum += glanz_noise_along(&banks,
                                     (int32_t)(glanz_times_here(across, (uint32_t)frame->kept[0]) + (uint32_t)frame->kept[3]));
        }
    }
    return (int32_t)(sum / (SAMPLES * SAMPLES));
}

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        struct cells cells = cells_of(frame, frame->number[GLANZ_FOGBANK_SIZE]);
        frame->kept[0] = (int32_t)cells.scale;
        frame->kept[1] = cells.period;
        frame->kept[2] = (int32_t)(0xFFFFFFFFu / ((uint32_t)frame->rows << 16));
    }
    frame->kept[3] = (int32_t)(0u - cells_gone(frame, 1u));
    frame->kept[4] = 3 * (frame->number[GLANZ_FOGBANK_DENSITY] - mean_of(frame)) / 2 - 49152;
    return GLANZ_STEP_MOVES;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    uint16_t turn = (uint16_t)(frame->turn[0] >> 16);
    uint16_t period = (uint16_t)frame->kept[1];
    struct glanz_noise coarse;
    glanz_noise_begin(&coarse, frame->seed, turn, period);
    struct glanz_noise fine;
    glanz_noise_begin(&fine, frame->seed ^ 0x41C64E6Du, (uint16_t)(0u - turn), (uint16_t)(period * 2u));
    struct glanz_light fog = frame->color[0];
    for (uint8_t i = 0; i < count;) {
        int32_t leds;
        uint8_t end = (uint8_t)(i + glanz_row_length(&leds, &places->x[i], &places->y[i], (uint8_t)(count - i)));
        uint32_t row = (uint32_t)places->y[i];
        uint32_t y = glanz_times(row, (uint32_t)frame->kept[0]);
        glanz_noise_row(&coarse, (int32_t)(y * 2u)); /* banks are twice as wide as high */
        glanz_noise_row(&fine, (int32_t)(y * 4u));
        uint32_t above = frame->rows == 1 ? 0 : 65535u - (glanz_times(row, (uint32_t)frame->kept[2]) & 0xFFFFu);
        int32_t base = frame->kept[4] - (int32_t)glanz_share_of(above, (uint32_t)frame->number[GLANZ_FOGBANK_LOW]) / 2;
        uint32_t x = glanz_times_here((uint32_t)places->x[i], (uint32_t)frame->kept[0]) + (uint32_t)frame->kept[3];
        uint32_t on = (uint32_t)leds * (uint32_t)frame->kept[0];
        for (; i < end; i++, x += on) {
            uint32_t noise =
                glanz_noise_along(&coarse, (int32_t)x) * 3u / 2u + glanz_noise_along(&fine, (int32_t)(x * 2u)) / 2u;
            int32_t level = base + (int32_t)noise;
            uint16_t thick = glanz_ease16((uint16_t)(level < 0 ? 0 : level > 65535 ? 65535 : level));
            glanz_light_put(&light[i], glanz_mul16(fog.red, thick), glanz_mul16(fog.green, thick),
                            glanz_mul16(fog.blue, thick));
            if (cover != NULL) {
                cover[i] = thick;
            }
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_fogbank = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("fogbank"),
    .description = GLANZ_DESCRIPTION("banks of fog over what lies under them; a pass is one that drifts by"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_COVER,
    .step = step,
    .shade_field = shade,
    .least_columns = 6,
    .least_rows = 1,
};

#endif
