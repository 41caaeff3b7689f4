/* SPDX-License-Identifier: MIT */
/* Swell: waves of light that roll along the line. */
#include <glanz/effects.h>

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_SWELL_COLOR] = GLANZ_COLOR_ROW("color", "the crests", GLANZ_RGB(0xA6, 0xE1, 0xEF)),
    [GLANZ_SWELL_BACKGROUND] = GLANZ_COLOR_ROW("background", "the troughs", GLANZ_RGB(0x02, 0x0B, 0x1E)),
    [GLANZ_SWELL_LENGTH] =
        GLANZ_PITCH_ROW("length", "from crest to crest", GLANZ_FIXED(0.01), GLANZ_UNIT_LEDS, GLANZ_FIXED(20)),
    [GLANZ_SWELL_SPEED] = GLANZ_RATE_ROW("how fast the waves roll", GLANZ_UNIT_LEDS, GLANZ_FIXED(6)),
};

static glanz_place pass(const struct glanz_frame *frame) {
    glanz_place length = frame->number[GLANZ_SWELL_LENGTH];
    return glanz_period_fit(frame, length < 2 * GLANZ_STEP ? 2 * GLANZ_STEP : length, 2 * GLANZ_STEP);
}

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        frame->kept[0] = (int32_t)glanz_repeat_of(pass(frame)).scale;
    }
    return 1;
}

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    struct glanz_repeat repeat = {(uint32_t)frame->kept[0], 0, 0};
    struct glanz_pair pair = glanz_pair_of(frame->color[1], frame->color[0]);
    uint32_t offset = frame->turn[0];
    struct glanz_repeat_walk walk = glanz_repeat_begin(&repeat, offset, places, count);
    for (uint8_t i = 0; i < count; i++) {
        uint32_t turn = glanz_repeat_next(&walk, &repeat, offset, places[i]);
        glanz_pair_mix(&light[i], &pair, (uint32_t)(32768 + glanz_sine((uint16_t)(turn >> 16))));
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_swell = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("swell"),
    .description = GLANZ_DESCRIPTION("waves of light that roll along; a pass is one wave"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .pass = pass,
    .step = step,
    .shade = shade,
};
