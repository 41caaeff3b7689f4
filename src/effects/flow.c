/* SPDX-License-Identifier: MIT */
/* Flow: the palette laid along the line, flowing. */
#include <glanz/effects.h>

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_FLOW_SPAN] = GLANZ_PITCH_ROW("span", "length over which the palette runs once", GLANZ_FIXED(0.01),
                                        GLANZ_UNIT_LENGTHS, GLANZ_FIXED(1)),
    [GLANZ_FLOW_FOLD] = GLANZ_FLAG_ROW("fold", "run the palette there and back, so that it has no seam", 1),
    [GLANZ_FLOW_SPEED] = GLANZ_RATE_ROW("how fast it flows", GLANZ_UNIT_LENGTHS, GLANZ_FIXED(0.1)),
};

static glanz_place pass(const struct glanz_frame *frame) {
    glanz_place span = frame->number[GLANZ_FLOW_SPAN] < GLANZ_STEP ? GLANZ_STEP : frame->number[GLANZ_FLOW_SPAN];
    return glanz_period_fit(frame, frame->number[GLANZ_FLOW_FOLD] && span < GLANZ_STEP * 16383 ? 2 * span : span, GLANZ_STEP);
}

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        frame->kept[0] = (int32_t)glanz_repeat_of(pass(frame)).scale;
    }
    return 1;
}

GLANZ_INLINE void find_positions(uint16_t *positions, const struct glanz_frame *frame, uint8_t fold, const glanz_place *places,
                                 uint8_t count) {
    struct glanz_repeat repeat = {(uint32_t)frame->kept[0], 0, 0};
    uint32_t offset = frame->turn[0];
    struct glanz_repeat_walk walk = glanz_repeat_begin(&repeat, offset, places, count);
    for (const glanz_place *end = places + count; places != end; places++) {
        uint32_t turn = glanz_repeat_next(&walk, &repeat, offset, *places);
        if (fold) {
            turn = (turn & 0x80000000u) != 0 ? ~turn << 1 : turn << 1;
        }
        *positions++ = (uint16_t)(turn >> 16);
    }
}

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    uint16_t positions[GLANZ_RUN];
    if (frame->number[GLANZ_FLOW_FOLD] != 0) {
        find_positions(positions, frame, 1, places, count);
    } else {
        find_positions(positions, frame, 0, places, count);
    }
    glanz_gradient_run(light, frame->gradient, positions, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_flow = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("flow"),
    .description = GLANZ_DESCRIPTION("the palette along the line, flowing; a pass is once through it"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .pass = pass,
    .step = step,
    .shade = shade,
};
