/* SPDX-License-Identifier: MIT */
/* Plasma: three waves that run through each other, in colours of the palette. */
#include "tints.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_PLASMA_SIZE] =
        GLANZ_PITCH_ROW("size", "from one crest to the next", GLANZ_FIXED(1), GLANZ_UNIT_LEDS, GLANZ_FIXED(14)),
    [GLANZ_PLASMA_SPEED] = GLANZ_RATE_ROW("how fast it changes", GLANZ_UNIT_PASS_TIME, 12000),
};

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        glanz_place size = frame->number[GLANZ_PLASMA_SIZE] < GLANZ_STEP ? GLANZ_STEP : frame->number[GLANZ_PLASMA_SIZE];
        frame->kept[0] = (int32_t)(glanz_repeat_of(size).scale / 2u);
        frame->kept[1] = size > GLANZ_STEP * 16383
                             ? frame->kept[0] /* across, round a closed field a whole number of times */
                             : (int32_t)glanz_repeat_of(glanz_period_fit(frame, 2 * size, GLANZ_STEP)).scale;
    }
    return 1;
}

/* The waves turn 1, 2 and 3 times in a pass, so that it has no seam; their crests lie across, down, and around a point that
 * wanders. */
static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    uint16_t positions[GLANZ_RUN];
    struct glanz_repeat repeat = {(uint32_t)frame->kept[0], 0, 0};
    uint32_t turn = frame->turn[0] >> 16;
    int32_t middle_x = (int32_t)frame->length * (GLANZ_HALF + (int32_t)glanz_sine((unsigned)turn) / 2);
    int32_t middle_y = (int32_t)frame->rows * (GLANZ_HALF + (int32_t)glanz_sine((unsigned)turn * 2u + 16384u) / 2);
    struct glanz_repeat wide = {(uint32_t)frame->kept[1], 0, 0};
    int32_t round = frame->closed ? (int32_t)frame->length * GLANZ_STEP : 0;
    const glanz_place *x = places->x;
    const glanz_place *y = places->y;
    uint32_t of_row = 0;
    int32_t below = 0;
    (void)cover;
    for (uint16_t *at = positions, *end = positions + count; at != end; at++, x++, y++) {
        if (at == positions || y[0] != y[-1]) {
            below = *y - middle_y;
            uint16_t down = (uint16_t)(glanz_repeat_turn(&repeat, *y) >> 16);
            of_row = (uint32_t)((int32_t)glanz_sine(down - (unsigned)turn * 2u) + 3 * (int32_t)32767) * 21845u + 32767u;
        }
        int32_t way = *x - middle_x;
        if (round != 0 && (way > round / 2 || way < -(round / 2))) { /* the shorter way round */
            way = way < 0 ? way + round : way - round;
        }
        glanz_place away = (glanz_place)glanz_distance(way, below);
        uint32_t sum = (uint32_t)glanz_sine((unsigned)(glanz_repeat_turn(&wide, *x) >> 16) + (unsigned)turn);
        sum += (uint32_t)glanz_sine((unsigned)(glanz_repeat_turn(&repeat, away) >> 16) * 2u - (unsigned)turn * 3u);
        *at = (uint16_t)((glanz_mul32_low(sum, 21845u) + of_row) >>
                         16); /* a third: of all three at most 196,602, so that it fits */
    }
    glanz_gradient_run(light, frame->gradient, positions, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_plasma = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("plasma"),
    .description = GLANZ_DESCRIPTION("soft waves that run through each other; a pass brings all of them round once"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &glanz_gradient_evening,
    .step = step,
    .shade_field = shade,
    .least_columns = 4,
    .least_rows = 4,
};

#endif
