/* SPDX-License-Identifier: MIT */
/* Breathing: one colour that grows brighter and dimmer, evenly to the eye. A pass is one breath. */
#include <glanz/effects.h>

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_BREATHING_COLOR] = GLANZ_COLOR_ROW("color", "the colour at its brightest", GLANZ_KELVIN(2700)),
    [GLANZ_BREATHING_LOW] = GLANZ_SHARE_ROW("low", "lightness at its dimmest", GLANZ_PERCENT(10)),
    [GLANZ_BREATHING_SPEED] = GLANZ_RATE_ROW("breaths", GLANZ_UNIT_PASS_TIME, 5000),
};

/* Keeps the gain. Lightness follows a cosine, so that it lingers at both ends. */
static uint8_t step(struct glanz_frame *frame) {
    uint32_t wave = (uint32_t)(32767 - glanz_sine((uint16_t)((frame->turn[0] >> 16) + 0x4000u)));
    uint32_t low = (uint32_t)frame->number[GLANZ_BREATHING_LOW];
    uint32_t lightness = low + (((65536u - low) * wave) >> 16);
    frame->kept[0] = (int32_t)glanz_lightness((uint16_t)(lightness > 65535u ? 65535u : lightness));
    return 1;
}

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    (void)places;
    struct glanz_light color = glanz_light_scale(frame->color[0], (uint32_t)frame->kept[0]);
    glanz_light_fill(light, color, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_breathing = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("breathing"),
    .description = GLANZ_DESCRIPTION("one colour that brightens and dims evenly; a pass is one breath"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .step = step,
    .shade = shade,
};
