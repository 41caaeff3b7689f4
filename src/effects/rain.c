/* SPDX-License-Identifier: MIT */
/* Rain: drops that fall, column by column, each with a tail above it; on a line several, one behind another. */
#include "upright.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_RAIN_BACKGROUND] = GLANZ_COLOR_ROW("background", "where no drop is", GLANZ_RGB(0, 0, 0)),
    [GLANZ_RAIN_PART] = GLANZ_FADED_SHARE_ROW("share", "how many of the columns have a drop", GLANZ_PERCENT(60)),
    [GLANZ_RAIN_LENGTH] =
        GLANZ_PITCH_ROW("length", "of a drop with its tail", GLANZ_FIXED(0.5), GLANZ_UNIT_LEDS, GLANZ_FIXED(5)),
    [GLANZ_RAIN_SPEED] = GLANZ_RATE_ROW("how fast the slower drops fall", GLANZ_UNIT_LEDS, GLANZ_FIXED(8)),
};

static uint16_t rows_of(const struct glanz_frame *frame) {
    return frame->rows == 1 ? frame->length : frame->rows;
}

/* A drop's way: in at the top, tail out at the bottom. In a pass a slow drop falls twice, a fast one three times. */
static uint32_t way_of(const struct glanz_frame *frame) {
    uint32_t way = ((uint32_t)rows_of(frame) << 16) + (uint32_t)frame->number[GLANZ_RAIN_LENGTH];
    return way > 0x7FFFFFFFu ? 0x7FFFFFFFu : way;
}

static glanz_place pass(const struct glanz_frame *frame) {
    return way_of(frame) > 0x3FFFFFFFu ? INT32_MAX : (glanz_place)(2u * way_of(frame));
}

/* Keeps the way, what one point is of the tail, and how many drops there may be on a line. */
static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        frame->kept[0] = (int32_t)way_of(frame);
        frame->kept[1] = (int32_t)(0xFFFFFFFFu / (uint32_t)frame->number[GLANZ_RAIN_LENGTH]);
        uint32_t apart = 8u + (uint32_t)frame->number[GLANZ_RAIN_LENGTH] / 32768u; /* on a line drops come one behind another */
        uint32_t lanes = 1u + frame->length / apart;
        frame->kept[2] = (int32_t)(lanes > 12u ? 12u : lanes);
    }
    return 1;
}

struct drop {       /* of one column */
    uint32_t known; /* 1 + the column */
    glanz_place head;
    uint8_t falls;
    uint16_t position; /* of its colour in the palette */
};

static void find_drop(struct drop *drop, const struct glanz_frame *frame, uint32_t column) {
    uint32_t hash = glanz_hash2(frame->seed, column);
    uint32_t turn = frame->turn[0] * 2u; /* a pass is two falls, or three */
    uint32_t fallen = (uint32_t)(uint16_t)frame->lap[0] * 2u + (frame->turn[0] >> 31);
    if ((hash & 1u) != 0) {
        turn += frame->turn[0];
        fallen += (uint32_t)(uint16_t)frame->lap[0] + (turn < frame->turn[0]);
    }
    turn += hash;
    fallen += turn < hash;
    uint32_t draw = glanz_hash2(hash, fallen);
    drop->known = 1u + column;
    drop->falls = (draw & 0xFFFFu) < (uint32_t)frame->number[GLANZ_RAIN_PART];
    if (drop->falls) {
        drop->head = (glanz_place)glanz_mul32_high(turn, (uint32_t)frame->kept[0]);
        drop->position = (uint16_t)(draw >> 16);
    }
}

/* A drop over a LED: bright at the head, fading evenly upward. */
static void lay_drop(struct glanz_light *light, const struct glanz_frame *frame, const struct drop *drop, glanz_place y) {
    uint32_t on = drop->falls ? glanz_cover(y, drop->head - frame->number[GLANZ_RAIN_LENGTH], drop->head) : 0;
    if (on == 0) {
        return;
    }
    glanz_place above = drop->head - y;
    uint32_t gone = above < 0 ? 0 : glanz_times((uint32_t)above, (uint32_t)frame->kept[1]);
    uint32_t level = gone > 65535u ? 0 : 65536u - gone;
    uint32_t weight = glanz_share_of(glanz_share_of(level, level), on);
    struct glanz_light color = glanz_gradient_at(frame->gradient, drop->position);
    light_over(light, color, weight);
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    struct upright upright = upright_of(frame, places);
    struct drop drop = {0, 0, 0, 0};
    (void)cover;
    glanz_light_fill(light, frame->color[0], count);
    for (uint32_t lane = 0; upright.line && lane < (uint32_t)frame->kept[2]; lane++) {
        find_drop(&drop, frame, lane);
        for (uint8_t i = 0; drop.falls && i < count; i++) {
            lay_drop(&light[i], frame, &drop, upright_y(&upright, places, i));
        }
    }
    for (uint8_t i = 0; !upright.line && i < count; i++) {
        uint32_t column = (uint32_t)upright.x[i] >> 16;
        if (drop.known != 1u + column) {
            find_drop(&drop, frame, column);
        }
        lay_drop(&light[i], frame, &drop, places->y[i]);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_rain = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("rain"),
    .description = GLANZ_DESCRIPTION("drops that fall, in colours of the palette; in a pass a slow drop falls twice"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .pass = pass,
    .step = step,
    .shade_field = shade,
    .least_columns = 1,
    .least_rows = 6,
};

#endif
