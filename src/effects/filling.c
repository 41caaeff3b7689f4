/* SPDX-License-Identifier: MIT */
/* Filling: a run that grows and shrinks, from an end, both ends or the middle. */
#include <glanz/effects.h>

enum { FROM_START, FROM_END, FROM_BOTH, FROM_MIDDLE };
enum { WAY_ONCE, WAY_AGAIN, WAY_BACK };
static GLANZ_CONST char *GLANZ_CONST from_names[] = {GLANZ_TEXT("start"), GLANZ_TEXT("end"), GLANZ_TEXT("both ends"),
                                                     GLANZ_TEXT("middle")};
static GLANZ_CONST char *GLANZ_CONST way_names[] = {GLANZ_TEXT("once"), GLANZ_TEXT("again"), GLANZ_TEXT("there and back")};

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_FILLING_COLOR] = GLANZ_COLOR_ROW("color", "the filled part", GLANZ_KELVIN(2700)),
    [GLANZ_FILLING_BACKGROUND] = GLANZ_COLOR_ROW("background", "the rest", GLANZ_RGB(0, 0, 0)),
    [GLANZ_FILLING_FROM] = GLANZ_CHOICE_ROW("from", "where it grows from", from_names, FROM_START),
    [GLANZ_FILLING_WAY] =
        GLANZ_CHOICE_ROW("way", "fill once and stay, fill again and again, or grow and shrink", way_names, WAY_BACK),
    [GLANZ_FILLING_SPEED] = GLANZ_RATE_ROW("how fast the edge moves", GLANZ_UNIT_PASS_TIME, 8000),
};

static glanz_place travel(const struct glanz_frame *frame) { /* how far an edge goes */
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    return frame->number[GLANZ_FILLING_FROM] >= FROM_BOTH ? length / 2 : length;
}

static glanz_place pass(const struct glanz_frame *frame) {
    glanz_place way = travel(frame);
    return frame->number[GLANZ_FILLING_WAY] == WAY_BACK && way < GLANZ_STEP * 16383 ? 2 * way : way;
}

/* Keeps two intervals of the line that are filled. */
static uint8_t step(struct glanz_frame *frame) {
    uint32_t turn = frame->turn[0];
    uint8_t moves = 1;
    if (frame->number[GLANZ_FILLING_WAY] == WAY_BACK) {
        turn = (turn & 0x80000000u) != 0 ? ~turn << 1 : turn << 1;
    } else if (frame->number[GLANZ_FILLING_WAY] == WAY_ONCE) { /* from empty to full, or, begun backward, from full to empty */
        if (frame->kept[4] == 0) {
            frame->kept[4] = frame->number[GLANZ_FILLING_SPEED] < 0 ? -1 : 1;
        }
        int16_t own = frame->kept[4] < 0 ? -1 : 0;
        if (frame->lap[0] != own) {
            turn = frame->lap[0] > own ? 0xFFFFFFFFu : 0;
            moves = 0;
        }
    }
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    glanz_place level = (glanz_place)glanz_mul32_high(turn, (uint32_t)travel(frame)) + (turn == 0xFFFFFFFFu ? 1 : 0);
    frame->kept[0] = 0;
    frame->kept[1] = level;
    frame->kept[2] = 0;
    frame->kept[3] = 0;
    switch (frame->number[GLANZ_FILLING_FROM]) {
    case FROM_END:
        frame->kept[0] = length - level;
        frame->kept[1] = length;
        break;
    case FROM_BOTH:
        frame->kept[2] = length - level;
        frame->kept[3] = length;
        break;
    case FROM_MIDDLE:
        frame->kept[0] = length / 2 - level;
        frame->kept[1] = length / 2 + level;
        break;
    default: break;
    }
    return moves;
}

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    glanz_cover_run(light, frame->color[1], frame->color[0], frame->kept, places, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_filling = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("filling"),
    .description = GLANZ_DESCRIPTION("a run that grows and shrinks; a pass is one filling, there and back where it goes back"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .pass = pass,
    .step = step,
    .shade = shade,
};
