/* SPDX-License-Identifier: MIT */
/* Comet: a head that runs ahead of an exponential tail. The tail lies where the head has been, also after it turned. */
#include <glanz/effects.h>

enum { WAY_AROUND, WAY_BACK };
static GLANZ_CONST char *GLANZ_CONST way_names[] = {GLANZ_TEXT("around"), GLANZ_TEXT("there and back")};

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_COMET_COLOR] = GLANZ_COLOR_ROW("color", "head and tail", GLANZ_KELVIN(4000)),
    [GLANZ_COMET_BACKGROUND] = GLANZ_COLOR_ROW("background", "the rest", GLANZ_RGB(0, 0, 0)),
    [GLANZ_COMET_TAIL] = GLANZ_LENGTH_ROW("tail", "where the tail has fallen to 1 % of the head's light", GLANZ_FIXED(0.01),
                                          GLANZ_UNIT_LEDS, GLANZ_FIXED(12)),
    [GLANZ_COMET_WAY] = GLANZ_CHOICE_ROW("way", "off one end and in at the other, or there and back", way_names, WAY_AROUND),
    [GLANZ_COMET_SPEED] = GLANZ_HEADED_RATE_ROW("how fast the head runs", GLANZ_UNIT_LEDS, GLANZ_FIXED(20)),
};

enum { KEPT_HEAD, KEPT_RATE, KEPT_NORM, KEPT_REACH, KEPT_PASS, KEPT_TURNED };

/* The way of the head until it begins anew: the line and the tail, the ring, or there and back. */
static glanz_place pass(const struct glanz_frame *frame) {
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    if (length > GLANZ_STEP * 10000) {
        return length;
    }
    if (frame->number[GLANZ_COMET_WAY] == WAY_BACK) {
        return 2 * length;
    }
    glanz_place tail = frame->number[GLANZ_COMET_TAIL] < length ? frame->number[GLANZ_COMET_TAIL] : length;
    return frame->closed ? length : length + tail + tail / 2;
}

#if GLANZ_GLIDES
static uint32_t anchor(const struct glanz_frame *frame, glanz_place before) { /* the head */
    uint8_t flip = frame->number[GLANZ_COMET_SPEED] < 0;
    uint32_t turn = glanz_turn_kept(flip ? ~frame->turn[0] : frame->turn[0], before, pass(frame));
    return flip ? ~turn : turn;
}
#endif

/* Running backwards: the line is looked at from its other end. */
static uint8_t is_backward(const struct glanz_frame *frame) {
    return frame->number[GLANZ_COMET_SPEED] < 0;
}

static uint32_t tail_at(const struct glanz_frame *frame, glanz_place behind) {
    if (behind >= frame->kept[KEPT_REACH]) {
        return 0;
    }
    return glanz_halving((((uint32_t)behind >> 4) * (uint32_t)frame->kept[KEPT_RATE]) >> 12);
}

/* Light of a LED that the head reached `ago` on its way (to its nearer edge): the mean of the tail over the LED. */
static uint32_t level_at(const struct glanz_frame *frame, glanz_place ago) {
    if (ago < 0) {
        ago += frame->kept[KEPT_PASS];
    }
    if (ago >= GLANZ_STEP) {
        return tail_at(frame, ago - GLANZ_STEP);
    }
    uint32_t fresh = ((65536u - tail_at(frame, ago)) * (uint32_t)frame->kept[KEPT_NORM]) >> 15; /* reached in part */
    uint32_t old = tail_at(frame, frame->kept[KEPT_PASS] - GLANZ_STEP + ago);                   /* left of the last pass */
    uint32_t level = fresh + (((65536u - (uint32_t)ago) * old) >> 16);
    return level > 65536u ? 65536u : level;
}

/* Light at a place, there and back together; more than full where the ways lie over each other. */
static uint32_t both_at(const struct glanz_frame *frame, glanz_place place) {
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    return level_at(frame, frame->kept[KEPT_HEAD] - place + GLANZ_HALF) +
           level_at(frame, frame->kept[KEPT_HEAD] - (2 * length - place) + GLANZ_HALF);
}

#define TURN_LEDS 40 /* as far from an end as what is too much there is handed on */

/* What is too much for a LED at this place together with what it is handed: it hands it on to the next. */
static uint32_t excess_at(const struct glanz_frame *frame, glanz_place place, uint32_t handed) {
    uint32_t level = both_at(frame, place) + handed;
    return level > 65536u ? level - 65536u : 0;
}

/* Where the comet has turned so lately that its ways lie over each other, no light is to be lost: what is too much is handed on
 * away from the end. As many LEDs from there may get some; negative at the line's end, 0 for none. */
static int32_t turned_by(const struct glanz_frame *frame) {
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    uint8_t at_end = frame->kept[KEPT_HEAD] >= length;
    glanz_place since = frame->kept[KEPT_HEAD] - (at_end ? length : 0);
    if ((((uint32_t)since >> 4) * (uint32_t)frame->kept[KEPT_RATE]) >> 12 > (uint32_t)3 << 16) {
        return 0;
    }
    int32_t leds = 0;
    uint32_t handed = 0;
    for (int32_t i = 0; i < TURN_LEDS && i < frame->length && (handed != 0 || i <= (since >> 16) + 1); i++) {
        glanz_place from_end = i * GLANZ_STEP + GLANZ_HALF;
        handed = excess_at(frame, at_end ? length - from_end : from_end, handed);
        leds = handed != 0 ? i + 2 : leds;
    }
    return at_end ? -leds : leds;
}

/* What a LED at this place gets from those between it and that end. */
static uint32_t handed_on(const struct glanz_frame *frame, glanz_place place) {
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    int32_t leds = frame->kept[KEPT_TURNED];
    int32_t between = (leds > 0 ? place : length - place) >> 16;
    uint32_t handed = 0;
    if (between > (leds > 0 ? leds : -leds)) {
        return 0;
    }
    for (int32_t i = between; i != 0; i--) {
        handed = excess_at(frame, leds > 0 ? place - i * GLANZ_STEP : place + i * GLANZ_STEP, handed);
    }
    return handed;
}

/* Halvings of light a LED: log2(100) over the tail. */
static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        glanz_place wanted = frame->number[GLANZ_COMET_TAIL];
        uint32_t tail = wanted < GLANZ_HALF ? (uint32_t)GLANZ_HALF : (uint32_t)wanted;
        uint32_t rate = glanz_times(435412u, 0xFFFFFFFFu / tail); /* 435412 is 65536 log2 100 */
        rate = rate < 64 ? 64 : rate;
        uint32_t reach = glanz_times((uint32_t)16 << 16, 0xFFFFFFFFu / rate);
        frame->kept[KEPT_RATE] = (int32_t)rate;
        frame->kept[KEPT_NORM] = (int32_t)(0xFFFFFFFFu / (65536u - glanz_halving(rate)) >> 1);
        frame->kept[KEPT_REACH] = reach > INT32_MAX ? INT32_MAX : (int32_t)reach;
        frame->kept[KEPT_PASS] = (int32_t)pass(frame);
    }
    uint32_t turn = is_backward(frame) ? ~frame->turn[0] : frame->turn[0];
    frame->kept[KEPT_HEAD] = (int32_t)glanz_mul32_high(turn, (uint32_t)frame->kept[KEPT_PASS]);
    frame->kept[KEPT_TURNED] = frame->number[GLANZ_COMET_WAY] == WAY_BACK && !frame->closed &&
                                       frame->kept[KEPT_PASS] > (glanz_place)frame->length * GLANZ_STEP
                                   ? turned_by(frame)
                                   : 0;
    return 1;
}

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    struct glanz_pair pair = glanz_pair_of(frame->color[1], frame->color[0]);
    uint8_t back = frame->number[GLANZ_COMET_WAY] == WAY_BACK && frame->kept[KEPT_PASS] > length;
    for (uint8_t i = 0; i < count; i++) {
        glanz_place place = is_backward(frame) ? length - places[i] : places[i];
        uint32_t level = back ? both_at(frame, place) : level_at(frame, frame->kept[KEPT_HEAD] - place + GLANZ_HALF);
        if (frame->kept[KEPT_TURNED] != 0) {
            level += handed_on(frame, place);
        }
        level = level > 65536u ? 65536u : level;
        glanz_pair_mix(&light[i], &pair, level);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_comet = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("comet"),
    .description =
        GLANZ_DESCRIPTION("a head with a tail that dies away; a pass is once along and out, once round, or there and back"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .pass = pass,
    GLANZ_ANCHOR(anchor).step = step,
    .shade = shade,
};
