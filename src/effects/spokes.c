/* SPDX-License-Identifier: MIT */
/* Spokes: the palette around the middle, turning; twisted, a spiral. */
#include "tints.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_SPOKES_COUNT] = GLANZ_PARAM_ROW("count", "spokes", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 1, 16, 3),
    [GLANZ_SPOKES_TWIST] =
        GLANZ_PITCH_ROW("twist", "way outward in which a spoke bends round once; 0 for straight ones", 0, GLANZ_UNIT_LEDS, 0),
    [GLANZ_SPOKES_SPEED] = GLANZ_RATE_ROW("turns", GLANZ_UNIT_PASS_TIME, 6000),
};

static uint8_t step(struct glanz_frame *frame) {
    int32_t twist = frame->number[GLANZ_SPOKES_TWIST];
    if (frame->params_changed) {
        frame->kept[0] = twist < GLANZ_HALF ? 0 : (int32_t)glanz_repeat_of(twist).scale;
    }
    return 1;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    uint16_t positions[GLANZ_RUN];
    struct glanz_repeat repeat = {(uint32_t)frame->kept[0], 0, 0};
    uint32_t spokes = (uint32_t)frame->number[GLANZ_SPOKES_COUNT];
    (void)cover;
    for (uint8_t i = 0; i < count; i++) {
        int32_t across = places->x[i] - (glanz_place)frame->length * GLANZ_HALF;
        int32_t down = places->y[i] - (glanz_place)frame->rows * GLANZ_HALF;
        uint32_t turn = (uint32_t)glanz_bearing(across, down) << 16;
        if (repeat.scale != 0) {
            turn += glanz_repeat_turn(&repeat, (glanz_place)glanz_distance(across, down));
        }
        turn = (turn - frame->turn[0]) * spokes;
        turn = (turn & 0x80000000u) != 0 ? ~turn << 1 : turn << 1; /* there and back: no seam */
        positions[i] = (uint16_t)(turn >> 16);
    }
    glanz_gradient_run(light, frame->gradient, positions, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_spokes = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("spokes"),
    .description = GLANZ_DESCRIPTION("spokes of the palette that turn about the middle, or a spiral; a pass is one turn"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &glanz_gradient_evening,
    .step = step,
    .shade_field = shade,
    .least_columns = 5,
    .least_rows = 5,
};

#endif
