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

enum { KEPT_HEAD, KEPT_RATE, KEPT_NORM, KEPT_REACH, KEPT_PASS, KEPT_FLIP };

/* The way of the head until it begins anew: the line and the tail, the ring, or there and back. */
static glanz_place pass(const struct glanz_now *now) {
    glanz_place length = (glanz_place)now->length * GLANZ_STEP;
    if (length > GLANZ_STEP * 10000) {
        return length;
    }
    if (now->number[GLANZ_COMET_WAY] == WAY_BACK) {
        return 2 * length;
    }
    glanz_place tail = now->number[GLANZ_COMET_TAIL] < length ? now->number[GLANZ_COMET_TAIL] : length;
    return now->closed ? length : length + tail + tail / 2;
}

#if GLANZ_GLIDES
static uint32_t anchor(const struct glanz_now *now, glanz_place before) { /* the head */
    uint8_t flip = now->number[GLANZ_COMET_SPEED] < 0;
    uint32_t turn = glanz_turn_kept(flip ? ~now->turn[0] : now->turn[0], before, pass(now));
    return flip ? ~turn : turn;
}
#endif

/* Halvings of light a LED: log2(100) over the tail. */
static uint8_t step(struct glanz_now *now) {
    if (now->fresh) {
        glanz_place wanted = now->number[GLANZ_COMET_TAIL];
        uint32_t tail = wanted < GLANZ_HALF ? (uint32_t)GLANZ_HALF : (uint32_t)wanted;
        uint32_t rate = glanz_times(435412u, 0xFFFFFFFFu / tail); /* 435412 is 65536 log2 100 */
        rate = rate < 64 ? 64 : rate;
        uint32_t reach = glanz_times((uint32_t)16 << 16, 0xFFFFFFFFu / rate);
        now->kept[KEPT_RATE] = (int32_t)rate;
        now->kept[KEPT_NORM] = (int32_t)(0xFFFFFFFFu / (65536u - glanz_halving(rate)) >> 1);
        now->kept[KEPT_REACH] = reach > INT32_MAX ? INT32_MAX : (int32_t)reach;
        now->kept[KEPT_PASS] = (int32_t)pass(now);
        now->kept[KEPT_FLIP] = now->number[GLANZ_COMET_SPEED] < 0; /* running backwards: look at the line from its other end */
    }
    uint32_t turn = now->kept[KEPT_FLIP] ? ~now->turn[0] : now->turn[0];
    now->kept[KEPT_HEAD] = (int32_t)glanz_mul32_high(turn, (uint32_t)now->kept[KEPT_PASS]);
    return 1;
}

static uint32_t tail_at(const struct glanz_now *now, glanz_place behind) {
    if (behind >= now->kept[KEPT_REACH]) {
        return 0;
    }
    return glanz_halving((((uint32_t)behind >> 4) * (uint32_t)now->kept[KEPT_RATE]) >> 12);
}

/* Light of a LED that the head reached `ago` on its way (to its nearer edge): the mean of the tail over the LED. */
static uint32_t level_at(const struct glanz_now *now, glanz_place ago) {
    if (ago < 0) {
        ago += now->kept[KEPT_PASS];
    }
    if (ago >= GLANZ_STEP) {
        return tail_at(now, ago - GLANZ_STEP);
    }
    uint32_t fresh = ((65536u - tail_at(now, ago)) * (uint32_t)now->kept[KEPT_NORM]) >> 15; /* reached in part */
    uint32_t old = tail_at(now, now->kept[KEPT_PASS] - GLANZ_STEP + ago);                   /* left of the last pass */
    uint32_t level = fresh + (((65536u - (uint32_t)ago) * old) >> 16);
    return level > 65536u ? 65536u : level;
}

/* Light at a place, there and back together; more than full where the ways lie over each other. */
static uint32_t both_at(const struct glanz_now *now, glanz_place place) {
    glanz_place length = (glanz_place)now->length * GLANZ_STEP;
    return level_at(now, now->kept[KEPT_HEAD] - place + GLANZ_HALF) +
           level_at(now, now->kept[KEPT_HEAD] - (2 * length - place) + GLANZ_HALF);
}

#define TURN_LEDS 40 /* as far from an end as what is too much there is handed on */

/* What is too much for the LEDs between an end and this place, where the comet has just turned: they hand it on to the next,
 * so that no light is lost. `way` 1: the end is the line's start; -1: its end. */
static uint32_t handed_on(const struct glanz_now *now, glanz_place place, int8_t way) {
    glanz_place length = (glanz_place)now->length * GLANZ_STEP;
    glanz_place from_end = way > 0 ? place : length - place;
    uint32_t leds = (uint32_t)from_end >> 16;
    uint32_t handed = 0;
    for (uint32_t i = leds > TURN_LEDS ? TURN_LEDS + 1u : leds; i != 0; i--) {
        uint32_t level = both_at(now, place - way * (glanz_place)i * GLANZ_STEP) + handed;
        handed = level > 65536u ? level - 65536u : 0;
    }
    return leds > TURN_LEDS ? 0 : handed;
}

/* The end at which it has turned so lately that its ways lie over each other: 1 the start, -1 the end, 0 none. */
static int8_t turned_at(const struct glanz_now *now) {
    glanz_place length = (glanz_place)now->length * GLANZ_STEP;
    glanz_place since = now->kept[KEPT_HEAD] - (now->kept[KEPT_HEAD] >= length ? length : 0);
    if ((((uint32_t)since >> 4) * (uint32_t)now->kept[KEPT_RATE]) >> 12 > (uint32_t)3 << 16) {
        return 0;
    }
    return now->kept[KEPT_HEAD] >= length ? -1 : 1;
}

static void shade(struct glanz_light *light, const struct glanz_now *now, const glanz_place *places, uint8_t count) {
    glanz_place length = (glanz_place)now->length * GLANZ_STEP;
    struct glanz_pair pair = glanz_pair_of(now->color[1], now->color[0]);
    uint8_t back = now->number[GLANZ_COMET_WAY] == WAY_BACK && now->kept[KEPT_PASS] > length;
    int8_t way = back ? turned_at(now) : 0;
    for (uint8_t i = 0; i < count; i++) {
        glanz_place place = now->kept[KEPT_FLIP] ? length - places[i] : places[i];
        uint32_t level = back ? both_at(now, place) : level_at(now, now->kept[KEPT_HEAD] - place + GLANZ_HALF);
        if (way != 0) {
            level += handed_on(now, place, way);
        }
        level = level > 65536u ? 65536u : level;
        glanz_pair_mix(&light[i], &pair, level);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_comet = {
    .name = GLANZ_TEXT("comet"),
    .what = GLANZ_WHAT("a head with a tail that dies away; a pass is once along and out, once round, or there and back"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .pass = pass,
    GLANZ_ANCHOR(anchor).step = step,
    .shade = shade,
};
