/* SPDX-License-Identifier: MIT */
/* Picture: a still or moving picture, standing or moving over the field, alone or as tiles. Remembers the points of the frame
 * that shows. */
#include "travel.h"

#if GLANZ_FIELDS

static GLANZ_CONST char *GLANZ_CONST turns[] = {GLANZ_TEXT("upright"), GLANZ_TEXT("90 deg"), GLANZ_TEXT("180 deg"),
                                                GLANZ_TEXT("270 deg")};

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_PICTURE_ACROSS] =
        GLANZ_FADED_SHARE_ROW("across", "where it stands: 0 % at the left, 100 % at the right", GLANZ_PERCENT(50)),
    [GLANZ_PICTURE_LEVEL] =
        GLANZ_FADED_SHARE_ROW("level", "how far down: 0 % at the top, 100 % at the bottom", GLANZ_PERCENT(50)),
    [GLANZ_PICTURE_TILED] = GLANZ_FLAG_ROW("tiled", "again and again beside and below itself", 0),
    [GLANZ_PICTURE_TURNED] = GLANZ_CHOICE_ROW("turned", "clockwise", turns, 0),
    [GLANZ_PICTURE_WAY] = GLANZ_CHOICE_ROW("way", "where it moves to", glanz_ways, WAY_STANDING),
    [GLANZ_PICTURE_SPEED] = GLANZ_RATE_ROW("how fast it moves", GLANZ_UNIT_LEDS, GLANZ_FIXED(4)),
};

struct shown {
    struct glanz_picture_head head;
    uint32_t at;      /* byte at which the next frame begins */
    uint32_t left_us; /* until it comes */
    uint16_t frame;   /* the next one's number; 0: none is unpacked yet */
    uint8_t points[];
};

static GLANZ_CONST struct glanz_picture *picture_of(const struct glanz_frame *frame) {
    return (GLANZ_CONST struct glanz_picture *)frame->content;
}

static int open_picture(struct glanz_picture_head *head, const struct glanz_frame *frame, uint8_t whole) {
    GLANZ_CONST struct glanz_picture *picture = picture_of(frame);
    return picture != NULL && glanz_picture_open(head, picture->bytes, picture->count, whole) == GLANZ_OK;
}

static uint32_t memory(const struct glanz_frame *frame) {
    struct glanz_picture_head head;
    return open_picture(&head, frame, 0) ? (uint32_t)offsetof(struct shown, points) + (uint32_t)head.columns * head.rows : 0;
}

/* As it stands, turned. */
static uint16_t wide(const struct glanz_frame *frame, const struct glanz_picture_head *head) {
    return (frame->number[GLANZ_PICTURE_TURNED] & 1) != 0 ? head->rows : head->columns;
}
static uint16_t high(const struct glanz_frame *frame, const struct glanz_picture_head *head) {
    return (frame->number[GLANZ_PICTURE_TURNED] & 1) != 0 ? head->columns : head->rows;
}

static uint8_t is_upright(const struct glanz_frame *frame) {
    return frame->number[GLANZ_PICTURE_WAY] >= WAY_UP;
}

static struct travel travel_of(const struct glanz_frame *frame, const struct glanz_picture_head *head) {
    struct travel travel;
    uint8_t upright = is_upright(frame);
    travel.extent = upright ? high(frame, head) : wide(frame, head);
    travel.field = upright ? frame->rows : frame->length;
    travel.backward = frame->number[GLANZ_PICTURE_WAY] == WAY_RIGHT || frame->number[GLANZ_PICTURE_WAY] == WAY_DOWN;
    travel.again = frame->number[GLANZ_PICTURE_TILED] != 0 ? AGAIN_TILED : AGAIN_AGAIN;
    travel.closed = 0;
    return travel;
}

static glanz_place pass(const struct glanz_frame *frame) {
    struct glanz_picture_head head;
    if (!open_picture(&head, frame, 0)) {
        return GLANZ_STEP;
    }
    struct travel travel = travel_of(frame, &head);
    return glanz_travel_pass(&travel);
}

static void next_frame(struct shown *shown, GLANZ_CONST uint8_t *bytes) {
    if (shown->frame == shown->head.frames || shown->frame == 0) {
        shown->frame = 0;
        shown->at = shown->head.first;
    }
    uint16_t ms = glanz_picture_frame(shown->points, &shown->at, &shown->head, bytes, shown->frame == 0);
    shown->left_us += (ms == 0 ? 1u : ms) * 1000u;
    shown->frame++;
}

/* Keeps where the picture's left and top edges are. A moving picture catches up by eight frames at the most. */
static uint8_t step(struct glanz_frame *frame) {
    struct shown *shown = (struct shown *)frame->memory;
    uint8_t moves = frame->number[GLANZ_PICTURE_WAY] != WAY_STANDING && frame->number[GLANZ_PICTURE_SPEED] != 0;
    if (shown == NULL) {
        return 0;
    }
    if (shown->frame == 0) {
        if (!open_picture(&shown->head, frame, 2)) {
            return 0; /* bytes that are no picture show nothing */
        }
        next_frame(shown, picture_of(frame)->bytes);
    } else if (shown->head.frames > 1) {
        uint32_t elapsed = frame->elapsed_us;
        for (uint8_t i = 0; i < 8 && elapsed >= shown->left_us; i++) {
            elapsed -= shown->left_us;
            shown->left_us = 0;
            next_frame(shown, picture_of(frame)->bytes);
        }
        shown->left_us -= elapsed < shown->left_us ? elapsed : shown->left_us - 1u;
    }
    struct travel travel = travel_of(frame, &shown->head);
    frame->kept[0] = glanz_travel_rest(wide(frame, &shown->head), frame->length, frame->number[GLANZ_PICTURE_ACROSS]);
    frame->kept[1] = glanz_travel_rest(high(frame, &shown->head), frame->rows, frame->number[GLANZ_PICTURE_LEVEL]);
    if (frame->number[GLANZ_PICTURE_WAY] != WAY_STANDING) {
        frame->kept[is_upright(frame) ? 1 : 0] = glanz_travel_place(&travel, frame);
    }
    return (uint8_t)(moves || shown->head.frames > 1 ? GLANZ_STEP_MOVES : 0);
}

/* The index at a point of the picture as it stands, or -1. */
static int32_t point_at(const struct shown *shown, const struct glanz_frame *frame, int32_t x, int32_t y) {
    int32_t across = wide(frame, &shown->head);
    int32_t down = high(frame, &shown->head);
    if (frame->number[GLANZ_PICTURE_TILED] != 0) {
        x %= across;
        y %= down;
        x = x < 0 ? x + across : x;
        y = y < 0 ? y + down : y;
    }
    if (x < 0 || y < 0 || x >= across || y >= down) {
        return -1;
    }
    int32_t u = x;
    int32_t v = y;
    switch (frame->number[GLANZ_PICTURE_TURNED]) {
    case 1:
        u = y;
        v = across - 1 - x;
        break;
    case 2:
        u = across - 1 - x;
        v = down - 1 - y;
        break;
    case 3:
        u = down - 1 - y;
        v = x;
        break;
    default: break;
    }
    return shown->points[v * (int32_t)shown->head.columns + u];
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    const struct shown *shown = (const struct shown *)frame->memory;
    struct glanz_light black = {0, 0, 0};
    int32_t known = -1;
    struct glanz_light color = black;
    uint16_t color_cover = 0;
    if (shown == NULL || shown->frame == 0) {
        glanz_light_fill(light, black, count);
        for (uint8_t i = 0; cover != NULL && i < count; i++) {
            cover[i] = 0;
        }
        return;
    }
    for (uint8_t i = 0; i < count; i++) {
        uint32_t edge_x = (uint32_t)(places->x[i] - frame->kept[0] - GLANZ_HALF) + 0x80000000u;
        uint32_t edge_y = (uint32_t)(places->y[i] - frame->kept[1] - GLANZ_HALF) + 0x80000000u;
        uint8_t taps = (uint8_t)(((edge_x & 0xFFFFu) != 0) | (((edge_y & 0xFFFFu) != 0) << 1)); /* beside the first */
        uint32_t covered = 0;
        light[i] = black;
        for (uint8_t k = 0; k <= taps; k++) {
            if ((k & taps) != k) {
                continue; /* all of it lies on the points before */
            }
            uint32_t part_x = (k & 1) != 0 ? edge_x & 0xFFFFu : 65536u - (edge_x & 0xFFFFu);
            uint32_t part_y = (k & 2) != 0 ? edge_y & 0xFFFFu : 65536u - (edge_y & 0xFFFFu);
            uint32_t part = glanz_share_of(part_x, part_y);
            int32_t index = part == 0 ? -1
                                      : point_at(shown, frame, (int32_t)(edge_x >> 16) - 32768 + (k & 1),
                                                 (int32_t)(edge_y >> 16) - 32768 + (k >> 1));
            if (index < 0) {
                continue;
            }
            if (index != known) {
                color = glanz_picture_light(&color_cover, picture_of(frame)->bytes, (uint8_t)index);
                known = index;
            }
            light[i].red = (uint16_t)(light[i].red + glanz_gain16(color.red, part));
            light[i].green = (uint16_t)(light[i].green + glanz_gain16(color.green, part));
            light[i].blue = (uint16_t)(light[i].blue + glanz_gain16(color.blue, part));
            covered += glanz_gain16(color_cover, part);
        }
        if (cover != NULL) {
            cover[i] = (uint16_t)covered;
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_picture = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("picture"),
    .description = GLANZ_DESCRIPTION("a still or moving picture; a pass takes it through the field once, or one tile on"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_CLOCK | GLANZ_NEEDS_COVER,
    .content = GLANZ_CONTENT_PICTURE,
    .pass = pass,
    .step = step,
    .shade_field = shade,
    .memory = memory,
};

#endif
