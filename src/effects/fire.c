/* SPDX-License-Identifier: MIT */
/* Fire: noise that rises, hot at the bottom. */
#include "upright.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_FIRE_HEAT] = GLANZ_SHARE_ROW("heat", "from a faint glow to a blaze", GLANZ_PERCENT(60)),
    [GLANZ_FIRE_DETAIL] = GLANZ_PITCH_ROW("flames", "how wide a flame is", GLANZ_FIXED(1), GLANZ_UNIT_LEDS, GLANZ_FIXED(2.5)),
    [GLANZ_FIRE_SPEED] = GLANZ_RATE_ROW("how fast the flames rise", GLANZ_UNIT_LEDS, GLANZ_FIXED(9)),
};

/* black, red heat, orange, yellow, nearly white; straight in light */
static GLANZ_CONST struct glanz_stop stops[] = {{0, {0, 0, 0}, 390451u},
                                                {11000, {4014, 80, 0}, 226050u},
                                                {30000, {44069, 1651, 0}, 238609u},
                                                {48000, {65535, 16656, 340}, 357913u},
                                                {60000, {65535, 44069, 7666}, 775965u},
                                                {65535, {65535, 59287, 40449}, 0u}};
static GLANZ_CONST struct glanz_gradient heat = {
    .stops = stops, .count = 6, .first = {0, 0, 0, 1, 1, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3, 4}};

#define RISE 8 /* cells of the slower noise that rise in a pass: 8,192 laps of it are 2^16 cells, where noise repeats */

static glanz_place flame_of(const struct glanz_frame *frame) {
    return frame->number[GLANZ_FIRE_DETAIL] < GLANZ_STEP ? GLANZ_STEP : frame->number[GLANZ_FIRE_DETAIL];
}

static glanz_place pass(const struct glanz_frame *frame) { /* flames are twice as high as wide */
    return flame_of(frame) > GLANZ_STEP * 2047 ? INT32_MAX : 2 * RISE * flame_of(frame);
}

/* Keeps cells a point, and cells that have risen. */
static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        uint16_t rows = frame->rows == 1 ? frame->length : frame->rows;
        frame->kept[0] = (int32_t)(0xFFFFFFFFu / (uint32_t)flame_of(frame));
        frame->kept[2] = (int32_t)(0xFFFFFFFFu / ((uint32_t)rows << 16));
    }
    frame->kept[1] = (int32_t)((uint32_t)(uint16_t)frame->lap[0] * ((uint32_t)RISE << 16) +
                               glanz_mul32_high(frame->turn[0], (uint32_t)RISE << 16));
    return 1;
}

struct flames {
    struct glanz_noise coarse, fine;
    uint32_t step; /* cells from a place to the next */
    int32_t base;  /* what is left of the heat at the height of the row */
};

/* How hot it is along a row, 0 to 65535: noise and what is left of the heat. @param x cells of the first */
GLANZ_NOINLINE static void heat_run(uint16_t *positions, uint8_t count, struct flames *flames, uint32_t x) {
    const uint16_t *end = positions + count;
    do {
        uint32_t flicker = glanz_noise_along(&flames->fine, (int32_t)(x * 2u)) >> 1;
        uint32_t bent = x + flicker; /* so that no flame stands like a wall */
        uint32_t noise = glanz_noise_along(&flames->coarse, (int32_t)bent);
        int32_t level = flames->base + (int32_t)(noise - (noise >> 2) + flicker);
        if ((uint32_t)level >> 16 != 0) {
            level = level < 0 ? 0 : -1;
        }
        *positions++ = (uint16_t)level;
        x += flames->step;
    } while (positions != end);
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    uint16_t positions[GLANZ_RUN];
    struct upright upright = upright_of(frame, places);
    struct flames flames;
    glanz_noise_begin(&flames.coarse, frame->seed, (uint16_t)(frame->turn[0] >> 16), 0);
    glanz_noise_begin(&flames.fine, frame->seed ^ 0x5DEECE66u, (uint16_t)(frame->turn[0] >> 15), 0);
    uint32_t cells = (uint32_t)frame->kept[0];
    uint32_t hot = (uint32_t)frame->number[GLANZ_FIRE_HEAT];
    (void)cover;
    for (uint8_t i = 0; i < count;) {
        uint32_t row = (uint32_t)upright_y(&upright, places, i);
        uint32_t height = 65536u - glanz_times_here(row, (uint32_t)frame->kept[2]); /* 0 at the bottom, 65536 at the top */
        flames.base = (int32_t)(hot / 2u + hot / 8u) - 14960 - (int32_t)((height + (height * (height >> 1) >> 16)) * 3u / 4u);
        uint32_t down = glanz_times_here(row, cells) / 2u + (uint32_t)frame->kept[1];
        int32_t leds = 0;
        uint8_t same = upright.line ? 1 : glanz_row_length(&leds, &places->x[i], &places->y[i], (uint8_t)(count - i));
        glanz_noise_row(&flames.coarse, (int32_t)down);
        glanz_noise_row(&flames.fine, (int32_t)(down * 2u));
        flames.step = (uint32_t)leds * cells;
        heat_run(&positions[i], same, &flames, glanz_times_here((uint32_t)upright.x[i], cells));
        i = (uint8_t)(i + same);
    }
    glanz_gradient_run(light, frame->gradient, positions, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_fire = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("fire"),
    .description = GLANZ_DESCRIPTION("flames that rise; a pass is eight flames high"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &heat,
    .pass = pass,
    .step = step,
    .shade_field = shade,
    .least_columns = 3,
    .least_rows = 6,
};

#endif
