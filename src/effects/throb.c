/* SPDX-License-Identifier: MIT */
/* Throb: all lights up at each pulse of a signal, as a beat or an onset, from the very moment at which it came, and dies away.
 * Where no signal is named, once a pass. */
#include <glanz/effects.h>

#if GLANZ_FIELDS && GLANZ_DRIVES_MOST > 0

#define RISE_BITS 4u /* it comes from dark within 1/16 of a pass */

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_THROB_COLOR] = GLANZ_COLOR_ROW("color", "at its brightest", GLANZ_RGB(255, 120, 60)),
    [GLANZ_THROB_BACKGROUND] = GLANZ_COLOR_ROW("background", "between", GLANZ_RGB(0, 0, 0)),
    [GLANZ_THROB_AT] = GLANZ_SIGNAL_ROW("at", "each time this rises above its half, or an angle comes round; else always"),
    [GLANZ_THROB_SPEED] = GLANZ_HEADED_RATE_ROW("how fast it dies away", GLANZ_UNIT_PASS_TIME, 700),
};

static uint8_t step(struct glanz_frame *frame) {
    int named = frame->number[GLANZ_THROB_AT] != 0;
    uint32_t turn = named ? frame->pulse_turn : frame->turn[0];
    if (!named && frame->number[GLANZ_THROB_SPEED] < 0) {
        turn = ~turn;
    }
    uint32_t level = 0;
    if (!named || frame->pulses != 0) {
        uint32_t rise = turn >> (16u - RISE_BITS); /* 65536 where it is at its brightest */
        uint32_t left = 65535u - (turn >> 16);
        left += left >> 4; /* from there to dark */
        left = left > 65535u ? 65535u : left;
        level = rise < 65536u ? rise : (left * left) >> 16;
    }
    frame->kept[0] = (int32_t)level;
    return !named || (frame->pulses != 0 && turn != 0xFFFFFFFFu) ? GLANZ_STEP_MOVES : 0;
}

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    (void)places;
    glanz_light_fill(light, glanz_light_mix(frame->color[1], frame->color[0], (uint32_t)frame->kept[0]), count);
}

GLANZ_CONST struct glanz_effect glanz_effect_throb = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("throb"),
    .description = GLANZ_DESCRIPTION("all lights up when a signal rises, such as a beat, and dies away within a pass"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_PULSES | GLANZ_NEEDS_CLOCK,
    .step = step,
    .shade = shade,
};

#endif
