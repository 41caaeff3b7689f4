/* SPDX-License-Identifier: MIT */
/* Twinkle: single LEDs that light up and die away, each in its own time, in colours of the palette. */
#include <glanz/effects.h>

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_TWINKLE_BACKGROUND] = GLANZ_COLOR_ROW("background", "where nothing twinkles", GLANZ_RGB(0, 0, 0)),
    [GLANZ_TWINKLE_PART] = GLANZ_FADED_SHARE_ROW("share", "how many of the LEDs twinkle", GLANZ_PERCENT(30)),
    [GLANZ_TWINKLE_SPEED] = GLANZ_RATE_ROW("twinkles", GLANZ_UNIT_PASS_TIME, 2000),
};

/* One that is lit, by what was drawn for it. At both ends of its pass it is dark. */
GLANZ_NOINLINE static void light_up(struct glanz_light *light, const struct glanz_frame *frame, uint32_t turn, uint16_t draw) {
    uint32_t rise = (turn & 0x80000000u) != 0 ? (~turn << 1) >> 16 : (turn << 1) >> 16;
    uint32_t level = (rise * rise) >> 16;
    const struct glanz_light *back = &frame->color[0];
    struct glanz_light color = glanz_gradient_at(frame->gradient, draw);
    glanz_light_put(light, glanz_mix16(back->red, color.red, level), glanz_mix16(back->green, color.green, level),
                    glanz_mix16(back->blue, color.blue, level));
}

/* Each place has its own start in the pass; each of its passes draws anew whether it lights up, and in what colour. */
static void twinkle(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *x, const glanz_place *y,
                    uint8_t count) {
    uint32_t share = (uint32_t)frame->number[GLANZ_TWINKLE_PART];
    uint32_t now = frame->turn[0];
    uint32_t lap = (uint16_t)frame->lap[0];
    glanz_light_fill(light, frame->color[0], count);
    for (uint8_t i = 0; i < count; i++) {
        uint32_t start = glanz_hash_here(frame->seed + glanz_place_hash(x[i], y == NULL ? GLANZ_HALF : y[i]));
        uint32_t turn = now + start;
        uint32_t draw = glanz_hash_here(start + glanz_mul32_low((lap + (turn < start)) & 0xFFFFu, 0x9E3779B9u));
        if ((draw & 0xFFFFu) < share) {
            light_up(&light[i], frame, turn, (uint16_t)(draw >> 16));
        }
    }
}

#if GLANZ_FIELDS
static void shade_field(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                        const struct glanz_places *places, uint8_t count) {
    (void)cover;
    twinkle(light, frame, places->x, places->y, count);
}
#else
static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    twinkle(light, frame, places, NULL, count);
}
#endif

GLANZ_CONST struct glanz_effect glanz_effect_twinkle = {
    .version = GLANZ_EFFECT_VERSION,
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
