/* SPDX-License-Identifier: MIT */
/* Plain: one colour everywhere. */
#include <glanz/effects.h>

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_PLAIN_COLOR] = GLANZ_COLOR_ROW("color", "the colour", GLANZ_KELVIN(2700)),
};

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    (void)places;
    glanz_light_fill(light, frame->color[0], count);
}

GLANZ_CONST struct glanz_effect glanz_effect_plain = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("plain"),
    .description = GLANZ_DESCRIPTION("one colour everywhere"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .shade = shade,
};
