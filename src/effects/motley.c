/* SPDX-License-Identifier: MIT */
/* Motley: every point its own random colour of the palette, changing now and then. */
#include <glanz/effects.h>

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_MOTLEY_CHANGE] =
        GLANZ_SHARE_ROW("change", "share of the time spent changing from one colour to the next", GLANZ_PERCENT(25)),
    [GLANZ_MOTLEY_SPEED] = GLANZ_RATE_ROW("colours a point shows", GLANZ_UNIT_PASS_TIME, 4000),
};

static uint8_t step(struct glanz_frame *frame) {
    uint32_t change = (uint32_t)frame->number[GLANZ_MOTLEY_CHANGE];
    frame->kept[0] = (int32_t)(change < 64 ? 0 : 0xFFFFFFFFu / change); /* 65536 over the share, 16.16 */
    return 1;
}

static uint16_t draw(uint32_t start, uint16_t lap) {
    return (uint16_t)(glanz_hash(start ^ glanz_mul32_low(lap, 0x9E3779B9u)) >> 16);
}

static void show(struct glanz_light *light, const struct glanz_frame *frame, uint32_t place) {
    uint32_t change = (uint32_t)frame->number[GLANZ_MOTLEY_CHANGE];
    uint32_t start = glanz_hash(frame->seed + place);
    uint32_t turn = frame->turn[0] + start;
    uint16_t lap = (uint16_t)(frame->lap[0] + (turn < start ? 1 : 0));
    struct glanz_light color = glanz_gradient_at(frame->gradient, draw(start, lap));
    uint32_t part = turn >> 16;
    if (part < change) {
        uint32_t done = frame->kept[0] == 0 ? 65536u : (part * (uint32_t)frame->kept[0]) >> 16;
        struct glanz_light was = glanz_gradient_at(frame->gradient, draw(start, (uint16_t)(lap - 1u)));
        glanz_light_put(light, glanz_mix16(was.red, color.red, done), glanz_mix16(was.green, color.green, done),
                        glanz_mix16(was.blue, color.blue, done));
    } else {
        glanz_light_put(light, color.red, color.green, color.blue);
    }
}

#if GLANZ_FIELDS
static void shade_field(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                        const struct glanz_places *places, uint8_t count) {
    (void)cover;
    for (uint8_t i = 0; i < count; i++) {
        show(&light[i], frame, glanz_place_hash(places->x[i], places->y[i]));
    }
}
#else
static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    for (uint8_t i = 0; i < count; i++) {
        show(&light[i], frame, glanz_place_hash(places[i], GLANZ_HALF));
    }
}
#endif

GLANZ_CONST struct glanz_effect glanz_effect_motley = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("motley"),
    .description = GLANZ_DESCRIPTION("every point a random colour that changes now and then; a pass is one colour"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .step = step,
#if GLANZ_FIELDS
    .shade_field = shade_field,
#else
    .shade = shade,
#endif
};
