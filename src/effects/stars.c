/* SPDX-License-Identifier: MIT */
/* Stars: they come out of the middle, rush by and grow streaks; along a line to both its ends. */
#include "upright.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_STARS_BACKGROUND] = GLANZ_COLOR_ROW("background", "the dark between them", GLANZ_RGB(0, 0, 0)),
    [GLANZ_STARS_COUNT] = GLANZ_PARAM_ROW("count", "stars at once, of 100 LEDs", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 1, 50, 8),
    [GLANZ_STARS_STREAK] = GLANZ_PART_ROW("streak", "of the way: how long a streak grows", GLANZ_PERCENT(12)),
    [GLANZ_STARS_SPEED] = GLANZ_RATE_ROW("how fast they rush by", GLANZ_UNIT_PASS_TIME, 3500),
};

/* starlight: cold, white, warm */
static GLANZ_CONST struct glanz_stop stops[] = {
    {0, {33000, 43000, 65535}, 131071u}, {32768, {65535, 65535, 62000}, 131076u}, {65535, {65535, 47000, 24000}, 0u}};
static GLANZ_CONST struct glanz_gradient starlight = {
    .stops = stops, .count = 3, .first = {0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1}};

/* From the middle: a way out, 0 to 65536, along a bearing, told as its sine across and down; far away it is slow. */
static void place_of(glanz_place at[2], const struct glanz_frame *frame, int32_t across, int32_t down, uint32_t reach,
                     uint32_t gone) {
    int32_t way = (int32_t)(glanz_times(reach, glanz_share_of(gone, gone)) >> 8);
    at[0] = (glanz_place)frame->length * GLANZ_HALF + (glanz_place)((int64_t)way * across >> 7);
    at[1] = (glanz_place)frame->rows * GLANZ_HALF + (glanz_place)((int64_t)way * down >> 7);
}

static uint8_t step(struct glanz_frame *frame) {
    if (frame->memory == NULL) {
        return 0;
    }
    struct glanz_raster raster = raster_of(frame);
    uint32_t streak = (uint32_t)frame->number[GLANZ_STARS_STREAK];
    uint32_t count = count_of(frame, frame->number[GLANZ_STARS_COUNT], 60u);
    uint32_t reach = (frame->rows == 1 ? (uint32_t)frame->length << 15
                                       : glanz_distance((int32_t)frame->length << 15, (int32_t)frame->rows << 15)) +
                     65536u;
    uint32_t seed = glanz_hash(frame->seed);
    glanz_raster_fill(&raster, frame->color[0]);
    for (uint32_t i = 0; i < count; i++) {
        uint32_t start = glanz_hash_on(seed, i);
        uint32_t turn = frame->turn[0] + start;
        uint32_t draw = glanz_hash2(start, ((uint32_t)(uint16_t)frame->lap[0] + (turn < start)) & 0x1FFFu);
        uint32_t gone = (turn >> 16) + (turn >> 31);
        int32_t across = glanz_sine((uint16_t)draw); /* its bearing */
        int32_t down = -(int32_t)glanz_sine((uint16_t)(draw + 16384u));
        if (frame->rows == 1) {
            across = across < 0 ? -32767 : 32767;
            down = 0;
        }
        glanz_place ends[4];
        place_of(&ends[0], frame, across, down, reach, gone);
        place_of(&ends[2], frame, across, down, reach, gone - glanz_share_of(gone, streak));
        raster_streak(&raster, ends, glanz_gradient_at(frame->gradient, (uint16_t)(draw >> 16)),
                      glanz_share_of(gone, gone)); /* it comes from dark */
    }
    return GLANZ_STEP_MOVES;
}

GLANZ_CONST struct glanz_effect glanz_effect_stars = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("stars"),
    .description = GLANZ_DESCRIPTION("stars that rush by, out of the middle; a pass takes each from there to the edge"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &starlight,
    .step = step,
    .shade_field = raster_shade,
    .memory = raster_memory,
    .least_columns = 6,
    .least_rows = 1,
};

#endif
