/* SPDX-License-Identifier: MIT */
/* Walker: a dot of any size that runs round, or there and back. */
#include <glanz/effects.h>

enum { WAY_AROUND, WAY_BACK };
static GLANZ_CONST char *GLANZ_CONST way_names[] = {GLANZ_TEXT("around"), GLANZ_TEXT("there and back")};

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_WALKER_COLOR] = GLANZ_COLOR_ROW("color", "the dot", GLANZ_KELVIN(2700)),
    [GLANZ_WALKER_BACKGROUND] = GLANZ_COLOR_ROW("background", "the rest", GLANZ_RGB(0, 0, 0)),
    [GLANZ_WALKER_SIZE] = GLANZ_PITCH_ROW("size", "length of the dot", 0, GLANZ_UNIT_LEDS, GLANZ_FIXED(1.5)),
    [GLANZ_WALKER_WAY] = GLANZ_CHOICE_ROW("way", "off one end and in at the other, or there and back", way_names, WAY_AROUND),
    [GLANZ_WALKER_SPEED] = GLANZ_RATE_ROW("how fast it runs", GLANZ_UNIT_LEDS, GLANZ_FIXED(10)),
};

static glanz_place size_of(const struct glanz_frame *frame) {
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    return frame->number[GLANZ_WALKER_SIZE] < length ? frame->number[GLANZ_WALKER_SIZE] : length;
}

/* Round a ring: the ring. Along a line: until the dot has left it whole. There and back: both ways. */
static glanz_place pass(const struct glanz_frame *frame) {
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    if (frame->number[GLANZ_WALKER_WAY] == WAY_BACK) {
        glanz_place way = length - size_of(frame);
        return way < GLANZ_STEP / 4 ? GLANZ_STEP / 2 : way < GLANZ_STEP * 16383 ? 2 * way : way;
    }
    return frame->closed || length > GLANZ_STEP * 16383 ? length : length + size_of(frame);
}

#if GLANZ_GLIDES
/* The edge in front stays: there and back as far from where it turns, else as far on its way. */
static uint32_t anchor(const struct glanz_frame *frame, glanz_place before) {
    uint32_t turn = frame->turn[0];
    if (frame->number[GLANZ_WALKER_WAY] == WAY_BACK) {
        uint32_t left = glanz_turn_kept(~(turn << 1), before / 2, pass(frame) / 2);
        return (turn & 0x80000000u) | ~left >> 1;
    }
    uint8_t flip = frame->number[GLANZ_WALKER_SPEED] < 0;
    turn = glanz_turn_kept(flip ? ~turn : turn, before, pass(frame));
    return flip ? ~turn : turn;
}
#endif

/* Keeps two intervals of the line that the dot covers: two where it lies over the seam of a ring. */
static uint8_t step(struct glanz_frame *frame) {
    uint32_t turn = frame->turn[0];
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    glanz_place size = size_of(frame);
    glanz_place from;
    if (frame->number[GLANZ_WALKER_WAY] == WAY_BACK) {
        turn = (turn & 0x80000000u) != 0 ? ~turn << 1 : turn << 1;
        from = (glanz_place)glanz_mul32_high(turn, (uint32_t)(length - size));
    } else { /* its front is where it has come to; along a line it comes in from outside */
        from = (glanz_place)glanz_mul32_high(turn, (uint32_t)pass(frame));
        from -= size;
    }
    glanz_place seam = !frame->closed ? 0 : from < 0 ? length : -length;
    frame->kept[0] = from;
    frame->kept[1] = from + size;
    frame->kept[2] = seam == 0 ? 0 : from + seam;
    frame->kept[3] = seam == 0 ? 0 : from + size + seam;
    return 1;
}

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    glanz_cover_run(light, frame->color[1], frame->color[0], frame->kept, places, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_walker = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("walker"),
    .description = GLANZ_DESCRIPTION("a running dot; a pass is once round, or there and back"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .pass = pass,
    GLANZ_ANCHOR(anchor).step = step,
    .shade = shade,
};
