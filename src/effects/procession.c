/* SPDX-License-Identifier: MIT */
/* Procession: runs of one size with gaps between them, one after another (a chase). */
#include <glanz/effects.h>

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_PROCESSION_COLOR] = GLANZ_COLOR_ROW("color", "the runs", GLANZ_RGB(0xF4, 0xC4, 0x30)),
    [GLANZ_PROCESSION_BACKGROUND] = GLANZ_COLOR_ROW("background", "the gaps", GLANZ_RGB(0, 0, 0)),
    [GLANZ_PROCESSION_SIZE] = GLANZ_PITCH_ROW("size", "length of a run", 0, GLANZ_UNIT_LEDS, GLANZ_FIXED(2)),
    [GLANZ_PROCESSION_GAP] = GLANZ_PITCH_ROW("gap", "length of a gap", 0, GLANZ_UNIT_LEDS, GLANZ_FIXED(4)),
    [GLANZ_PROCESSION_SPEED] = GLANZ_RATE_ROW("how fast it moves", GLANZ_UNIT_LEDS, GLANZ_FIXED(8)),
};

static glanz_place pass(const struct glanz_frame *frame) {
    int64_t period = (int64_t)frame->number[GLANZ_PROCESSION_SIZE] + frame->number[GLANZ_PROCESSION_GAP];
    glanz_place least = period < GLANZ_STEP ? GLANZ_STEP : period > INT32_MAX ? INT32_MAX : (glanz_place)period;
    return glanz_period_fit(frame, least, frame->number[GLANZ_PROCESSION_SIZE]); /* round a ring the gaps give way */
}

enum { KEPT_SCALE, KEPT_INVERSE, KEPT_SHIFT, KEPT_WIDTH };

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        glanz_place period = pass(frame);
        struct glanz_repeat repeat = glanz_repeat_of(period);
        uint32_t share = glanz_ratio((uint32_t)frame->number[GLANZ_PROCESSION_SIZE], (uint32_t)period);
        frame->kept[KEPT_SCALE] = (int32_t)repeat.scale;
        frame->kept[KEPT_INVERSE] = (int32_t)repeat.inverse;
        frame->kept[KEPT_SHIFT] = repeat.shift;
        frame->kept[KEPT_WIDTH] = (int32_t)(share >= 65536u ? 0xFFFFFFFFu : share << 16);
    }
    return 1;
}

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    struct glanz_repeat repeat = {(uint32_t)frame->kept[KEPT_SCALE], (uint32_t)frame->kept[KEPT_INVERSE],
                                  (uint8_t)frame->kept[KEPT_SHIFT]};
    struct glanz_pair pair = glanz_pair_of(frame->color[1], frame->color[0]);
    uint32_t edge = frame->turn[0] - repeat.scale / 2;
    uint32_t width = (uint32_t)frame->kept[KEPT_WIDTH];
    struct glanz_repeat_walk walk = glanz_repeat_begin(&repeat, edge, places, count);
    for (uint8_t i = 0; i < count; i++) {
        glanz_pair_mix(&light[i], &pair,
                       glanz_repeat_cover(&repeat, glanz_repeat_next(&walk, &repeat, edge, places[i]), width));
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_procession = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("procession"),
    .description = GLANZ_DESCRIPTION("runs with gaps that follow each other; a pass is one run and one gap"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .pass = pass,
    .step = step,
    .shade = shade,
};
