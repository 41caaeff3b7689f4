/* SPDX-License-Identifier: MIT */
/* Lanterns: a row of them hangs from the top and swings, a gust going along it; along a line they swing to and fro on it. */
#include "upright.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_LANTERNS_BACKGROUND] = GLANZ_COLOR_ROW("background", "the night", GLANZ_RGB(0x01, 0x02, 0x06)),
    [GLANZ_LANTERNS_COUNT] = GLANZ_PARAM_ROW("count", "lanterns", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 1, 30, 4),
    [GLANZ_LANTERNS_SIZE] = GLANZ_PITCH_ROW("size", "of each", GLANZ_FIXED(0.5), GLANZ_UNIT_LEDS, GLANZ_FIXED(2)),
    [GLANZ_LANTERNS_SWING] =
        GLANZ_PART_ROW("swing", "how far they go; 100 %: a third of the way to the next", GLANZ_PERCENT(85)),
    [GLANZ_LANTERNS_SPEED] = GLANZ_RATE_ROW("to and fro", GLANZ_UNIT_PASS_TIME, 3000),
};

/* paper in amber, red, pale yellow */
static GLANZ_CONST struct glanz_stop stops[] = {
    {0, {65535, 21000, 1500}, 131071u}, {32768, {60000, 4200, 1200}, 131076u}, {65535, {65535, 47000, 14000}, 0u}};
static GLANZ_CONST struct glanz_gradient paper = {
    .stops = stops, .count = 3, .first = {0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1}};

static uint8_t step(struct glanz_frame *frame) {
    if (frame->memory == NULL) {
        return 0;
    }
    struct glanz_raster raster = raster_of(frame);
    uint32_t count = (uint32_t)frame->number[GLANZ_LANTERNS_COUNT];
    uint32_t gap = ((uint32_t)frame->length << 16) / count;
    glanz_place rows = (glanz_place)frame->rows * GLANZ_STEP;
    glanz_place size = frame->number[GLANZ_LANTERNS_SIZE];
    size = size > (glanz_place)gap / 2 && gap > 2u * (uint32_t)GLANZ_HALF ? (glanz_place)gap / 2 : size;
    uint32_t swing = glanz_share_of(gap / 3u, (uint32_t)frame->number[GLANZ_LANTERNS_SWING]);
    glanz_raster_fill(&raster, frame->color[0]);
    for (uint32_t i = 0; i < count; i++) {
        uint32_t draw = glanz_hash2(frame->seed, i);
        uint16_t turn = (uint16_t)((frame->turn[0] >> 16) - i * 9000u); /* the gust comes to one after another */
        int32_t gust = (int32_t)3 * 32767 +
                       (int32_t)glanz_sine(
                           (uint16_t)((frame->lap[0] & 7) * 8192 + (int32_t)(frame->turn[0] >> 19) - (int32_t)(i * 4000u)));
        int32_t aside = (int32_t)(((int64_t)swing * glanz_sine(turn)) >> 15);
        aside = (int32_t)(((int64_t)aside * gust) >> 17);
        glanz_place x = (glanz_place)(gap * i + gap / 2u) + aside;
        /* it hangs as low as half the height and a draw, and swings up on its string */
        glanz_place string = rows / 2 + (glanz_place)glanz_mul32_high(draw, (uint32_t)rows / 5u);
        glanz_place lift =
            frame->rows == 1 ? 0 : (glanz_place)((int64_t)aside * aside / (string < GLANZ_STEP ? GLANZ_STEP : string) / 2);
        glanz_place y = frame->rows == 1 ? GLANZ_HALF : string - (lift > string / 2 ? string / 2 : lift);
        const glanz_place ends[4] = {x, y, x, y};
        /* flames are not steady */
        int32_t flicker = glanz_sine((uint16_t)((frame->turn[0] >> 14) + draw)) +
                          glanz_sine((uint16_t)((frame->turn[0] >> 16) * 7u + (draw >> 8)));
        uint32_t position = count == 1 ? 0 : (i % 3u) * 32767u;
        struct glanz_light color = glanz_gradient_at(frame->gradient, (uint16_t)position);
        if (frame->rows > 2) {
            const glanz_place held[4] = {(glanz_place)(gap * i + gap / 2u), 0, x, y - size / 2};
            raster_streak(&raster, held, color, 2500u); /* its string, hardly lit */
        }
        glanz_raster_line(&raster, ends, size, color, (uint32_t)(57344 + flicker / 8));
    }
    return GLANZ_STEP_MOVES;
}

GLANZ_CONST struct glanz_effect glanz_effect_lanterns = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("lanterns"),
    .description = GLANZ_DESCRIPTION("a row of lanterns that swing; a pass is once to and fro"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &paper,
    .step = step,
    .shade_field = raster_shade,
    .memory = raster_memory,
    .least_columns = 8,
    .least_rows = 1,
};

#endif
