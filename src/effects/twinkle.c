/* SPDX-License-Identifier: MIT */
/* Twinkle: single LEDs that light up and die away, each in its own time, in colours of the palette. */
#include <glanz/effects.h>

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_TWINKLE_BACKGROUND] = GLANZ_COLOR_ROW("background", "where nothing twinkles", GLANZ_RGB(0, 0, 0)),
    [GLANZ_TWINKLE_PART] = GLANZ_FADED_SHARE_ROW("share", "how many of the LEDs twinkle", GLANZ_PERCENT(30)),
    [GLANZ_TWINKLE_SPEED] = GLANZ_RATE_ROW("twinkles", GLANZ_UNIT_PASS_TIME, 2000),
};

/* Each place has its own start in the pass; each of its passes draws anew whether it lights up, and in what colour. At
 * both ends it is dark. */
static void twinkle(struct glanz_light *light, const struct glanz_frame *frame, uint32_t place, uint32_t share) {
    uint32_t start = glanz_hash(frame->seed + place);
    uint32_t turn = frame->turn[0] + start;
    uint16_t lap = (uint16_t)(frame->lap[0] + (turn < start ? 1 : 0));
    uint32_t draw = glanz_hash(start + lap * 0x9E3779B9u);
    struct glanz_light back = frame->color[0];
    if ((draw & 0xFFFFu) >= share) {
        glanz_light_put(light, back.red, back.green, back.blue);
        return;
    }
    uint32_t rise = (turn & 0x80000000u) != 0 ? (~turn << 1) >> 16 : (turn << 1) >> 16;
    uint32_t level = (rise * rise) >> 16;
    struct glanz_light color = glanz_gradient_at(frame->gradient, (uint16_t)(draw >> 16));
    glanz_light_put(light, glanz_mix16(back.red, color.red, level), glanz_mix16(back.green, color.green, level),
                    glanz_mix16(back.blue, color.blue, level));
}

#if GLANZ_FIELDS
static void shade_field(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                        const struct glanz_places *places, uint8_t count) {
    uint32_t share = (uint32_t)frame->number[GLANZ_TWINKLE_PART];
    (void)cover;
    for (uint8_t i = 0; i < count; i++) {
        twinkle(&light[i], frame, glanz_place_hash(places->x[i], places->y[i]), share);
    }
}
#else
static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    uint32_t share = (uint32_t)frame->number[GLANZ_TWINKLE_PART];
    for (uint8_t i = 0; i < count; i++) {
        twinkle(&light[i], frame, glanz_place_hash(places[i], GLANZ_HALF), share);
    }
}
#endif

GLANZ_CONST struct glanz_effect glanz_effect_twinkle = {
    .name = GLANZ_TEXT("twinkle"),
    .description = GLANZ_DESCRIPTION("single LEDs light up and die away; a pass is one such twinkle"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
#if GLANZ_FIELDS
    .shade_field = shade_field,
#else
    .shade = shade,
#endif
};
