/* SPDX-License-Identifier: MIT */
/* Shoal: fish that swim close together and turn one after another, their sides flashing as they do. The way of the shoal is a
 * closed curve; each fish is on it a little later than the one before, and a little aside. */
#include "upright.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_SHOAL_BACKGROUND] = GLANZ_COLOR_ROW("background", "the water", GLANZ_RGB(0x00, 0x12, 0x24)),
    [GLANZ_SHOAL_COUNT] = GLANZ_PARAM_ROW("count", "fish, of 100 LEDs", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 1, 50, 7),
    [GLANZ_SHOAL_SPREAD] = GLANZ_PART_ROW("spread", "how far from each other they swim", GLANZ_PERCENT(60)),
    [GLANZ_SHOAL_SPEED] = GLANZ_RATE_ROW("rounds", GLANZ_UNIT_PASS_TIME, 15000),
};

/* backs in the deep, silver sides */
static GLANZ_CONST struct glanz_stop stops[] = {
    {0, {300, 2500, 4200}, 107374u}, {40000, {9000, 21000, 24000}, 168199u}, {65535, {60000, 64000, 65535}, 0u}};
static GLANZ_CONST struct glanz_gradient silver = {
    .stops = stops, .count = 3, .first = {0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1}};

/* Of the field, -32767 to 32767 either way: two sines across and two down, so that the way crosses itself. */
static void way_at(int32_t at[2], uint16_t turn) {
    at[0] = (3 * (int32_t)glanz_sine(turn) + glanz_sine((uint16_t)(turn * 3u + 8000u))) / 4;
    int32_t down = 2 * (int32_t)glanz_sine((uint16_t)(turn * 2u + 20000u)) + glanz_sine((uint16_t)(turn * 5u));
    int32_t third = (int32_t)((uint32_t)(down < 0 ? -down : down) * 43691u >> 17); /* exact below 2^17 */
    at[1] = down < 0 ? -third : third;
}

static uint8_t step(struct glanz_frame *frame) {
    if (frame->memory == NULL) {
        return 0;
    }
    struct glanz_raster raster = raster_of(frame);
    uint32_t spread = (uint32_t)frame->number[GLANZ_SHOAL_SPREAD] / 2u;
    int32_t wide = (int32_t)frame->length * (GLANZ_STEP / 2);
    int32_t high = (int32_t)frame->rows * (GLANZ_STEP / 2);
    uint32_t count = count_of(frame, frame->number[GLANZ_SHOAL_COUNT], 60u);
    uint32_t seed = glanz_hash(frame->seed);
    glanz_raster_fill(&raster, frame->color[0]);
    for (uint32_t i = 0; i < count; i++) {
        uint32_t hash = glanz_hash_on(seed, i);
        uint16_t turn = (uint16_t)((frame->turn[0] >> 16) -
                                   glanz_share_of(hash & 0x3FFFu, spread)); /* up to an eighth of the round later */
        int32_t at[2];
        int32_t soon[2];
        way_at(at, turn);
        way_at(soon, (uint16_t)(turn + 200u));
        uint16_t bearing = glanz_bearing(soon[0] - at[0], soon[1] - at[1]);
        /* its own place beside the way, about which it swims to and fro */
        int32_t own = (int32_t)(spread >> 8);
        int32_t aside = (int32_t)(hash >> 16 & 0xFFu) - 128 + glanz_sine((uint16_t)((frame->turn[0] >> 13) + hash)) / 1024;
        int32_t below = (int32_t)(hash >> 24) - 128 + glanz_sine((uint16_t)((frame->turn[0] >> 13) + (hash >> 8))) / 1024;
        glanz_place x = wide + (glanz_place)(((int64_t)wide * (at[0] * 5 / 8 + aside * own)) >> 15);
        glanz_place y = high + (glanz_place)(((int64_t)high * (at[1] * 5 / 8 + below * own)) >> 15);
        y = frame->rows == 1 ? GLANZ_HALF : y;
        /* its side shows while it swims along, and less of it the steeper it goes */
        int32_t side = glanz_sine(bearing);
        uint16_t position = (uint16_t)(2u * (uint32_t)(side < 0 ? -side : side));
        glanz_raster_dot(&raster, x, y, glanz_gradient_at(frame->gradient, position), 65536u);
    }
    return GLANZ_STEP_MOVES;
}

GLANZ_CONST struct glanz_effect glanz_effect_shoal = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("shoal"),
    .description = GLANZ_DESCRIPTION("fish that swim together and turn one after another; a pass is one round"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &silver,
    .step = step,
    .shade_field = raster_shade,
    .memory = raster_memory,
    .least_columns = 8,
    .least_rows = 1,
};

#endif
