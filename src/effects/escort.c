/* SPDX-License-Identifier: MIT */
/* Escort: a run of one colour, a run of a second behind it, then the background, again and again. */
#include <glanz/effects.h>

#if GLANZ_PARAMS >= 7

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_ESCORT_FIRST] = GLANZ_COLOR_ROW("first", "the run in front", GLANZ_KELVIN(2700)),
    [GLANZ_ESCORT_SECOND] = GLANZ_COLOR_ROW("second", "the run behind it", GLANZ_RGB(0x1E, 0x4F, 0x9C)),
    [GLANZ_ESCORT_BACKGROUND] = GLANZ_COLOR_ROW("background", "what follows", GLANZ_RGB(0, 0, 0)),
    [GLANZ_ESCORT_FIRST_LENGTH] =
        GLANZ_PITCH_ROW("first length", "length of the first run", 0, GLANZ_UNIT_LEDS, GLANZ_FIXED(5)),
    [GLANZ_ESCORT_SECOND_LENGTH] =
        GLANZ_PITCH_ROW("second length", "length of the second run", 0, GLANZ_UNIT_LEDS, GLANZ_FIXED(5)),
    [GLANZ_ESCORT_GAP] = GLANZ_PITCH_ROW("gap", "length of the background", 0, GLANZ_UNIT_LEDS, GLANZ_FIXED(10)),
    [GLANZ_ESCORT_SPEED] = GLANZ_RATE_ROW("how fast it all moves", GLANZ_UNIT_LEDS, GLANZ_FIXED(8)),
};

static glanz_place pass(const struct glanz_frame *frame) {
    int64_t runs = (int64_t)frame->number[GLANZ_ESCORT_FIRST_LENGTH] + frame->number[GLANZ_ESCORT_SECOND_LENGTH];
    int64_t period = runs + frame->number[GLANZ_ESCORT_GAP];
    glanz_place wanted = period < GLANZ_STEP ? GLANZ_STEP : period > INT32_MAX ? INT32_MAX : (glanz_place)period;
    return glanz_period_fit(frame, wanted,
                            runs > INT32_MAX ? INT32_MAX : (glanz_place)runs); /* round a ring the gaps give way */
}

enum { KEPT_SCALE, KEPT_INVERSE, KEPT_SHIFT, KEPT_FIRST, KEPT_SECOND };

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        glanz_place period = pass(frame);
        struct glanz_repeat repeat = glanz_repeat_of(period);
        frame->kept[KEPT_SCALE] = (int32_t)repeat.scale;
        frame->kept[KEPT_INVERSE] = (int32_t)repeat.inverse;
        frame->kept[KEPT_SHIFT] = repeat.shift;
        frame->kept[KEPT_FIRST] = (int32_t)(glanz_ratio((uint32_t)frame->number[GLANZ_ESCORT_FIRST_LENGTH], (uint32_t)period));
        frame->kept[KEPT_SECOND] =
            (int32_t)(glanz_ratio((uint32_t)frame->number[GLANZ_ESCORT_SECOND_LENGTH], (uint32_t)period));
    }
    return 1;
}

static uint16_t blend(uint16_t rest, uint32_t rest_cover, uint16_t first, uint32_t first_cover, uint16_t second,
                      uint32_t cover) {
    return (uint16_t)((rest * rest_cover + first * first_cover + second * cover) >> 16);
}

static uint32_t width_of(int32_t share) {
    return share >= 65536 ? 0xFFFFFFFFu : (uint32_t)share << 16;
}

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    struct glanz_repeat repeat = {(uint32_t)frame->kept[KEPT_SCALE], (uint32_t)frame->kept[KEPT_INVERSE],
                                  (uint8_t)frame->kept[KEPT_SHIFT]};
    uint32_t first_width = width_of(frame->kept[KEPT_FIRST]);
    uint32_t second_width = width_of(frame->kept[KEPT_SECOND]);
    uint32_t edge = frame->turn[0] - repeat.scale / 2;
    struct glanz_repeat_walk walk = glanz_repeat_begin(&repeat, edge, places, count);
    for (uint8_t i = 0; i < count; i++) {
        uint32_t turn = glanz_repeat_next(&walk, &repeat, edge, places[i]);
        uint32_t second = glanz_repeat_cover(&repeat, turn, second_width);
        uint32_t first = second == 65536u ? 0 : glanz_repeat_cover(&repeat, turn - second_width, first_width);
        first = first + second > 65536u ? 65536u - second : first;
        uint32_t rest = 65536u - first - second;
        uint8_t whole = rest == 65536u ? 2 : first == 65536u ? 0 : second == 65536u ? 1 : 3;
        if (whole < 3) {
            const struct glanz_light *color = &frame->color[whole];
            glanz_light_put(&light[i], color->red, color->green, color->blue);
            continue;
        }
        light[i].red = blend(frame->color[2].red, rest, frame->color[0].red, first, frame->color[1].red, second);
        light[i].green = blend(frame->color[2].green, rest, frame->color[0].green, first, frame->color[1].green, second);
        light[i].blue = blend(frame->color[2].blue, rest, frame->color[0].blue, first, frame->color[1].blue, second);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_escort = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("escort"),
    .description = GLANZ_DESCRIPTION("a run, a second colour behind it, then dark, moving along; a pass is one of each"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .pass = pass,
    .step = step,
    .shade = shade,
};

#endif
