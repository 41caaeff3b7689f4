/* SPDX-License-Identifier: MIT */
/* Wake: something passes, and behind it waves run aside in a wedge and die away. Half the angle of a wake is 19.47 degrees,
 * whatever passes and how fast: W. Thomson, "On ship waves" (1887). */
#include <glanz/effects.h>

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_WAKE_COLOR] = GLANZ_COLOR_ROW("color", "what passes", GLANZ_RGB(0xFF, 0xC8, 0x7A)),
    [GLANZ_WAKE_SIZE] = GLANZ_PITCH_ROW("size", "of it", GLANZ_FIXED(0.5), GLANZ_UNIT_LEDS, GLANZ_FIXED(2)),
    [GLANZ_WAKE_LENGTH] =
        GLANZ_PITCH_ROW("length", "of the wake, until it has died away", GLANZ_FIXED(2), GLANZ_UNIT_LEDS, GLANZ_FIXED(24)),
    [GLANZ_WAKE_WAVE] = GLANZ_PITCH_ROW("waves", "from crest to crest", GLANZ_FIXED(1), GLANZ_UNIT_LEDS, GLANZ_FIXED(4)),
    [GLANZ_WAKE_SPEED] = GLANZ_HEADED_RATE_ROW("how fast it passes", GLANZ_UNIT_LEDS, GLANZ_FIXED(7)),
};

/* a trough, still water, lifted water, a crest */
static GLANZ_CONST struct glanz_stop stops[] = {{0, {0, 250, 900}, 262143u},
                                                {16384, {60, 1900, 3700}, 181866u},
                                                {40000, {3000, 19000, 21000}, 168199u},
                                                {65535, {52000, 63000, 64000}, 0u}};
static GLANZ_CONST struct glanz_gradient water = {
    .stops = stops, .count = 4, .first = {0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 2, 2, 2, 2, 2, 2}};

enum { KEPT_AT, KEPT_FADE, KEPT_SCALE };

#define SPREAD 23170u /* tangent of half its angle, 0.16: 1 over the root of 8 */

/* On, over the field, and until its wake has gone; round a closed field once. */
static glanz_place pass(const struct glanz_frame *frame) {
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    glanz_place wake = frame->number[GLANZ_WAKE_LENGTH];
    if (frame->closed) {
        return length;
    }
    return length > 0x3FFFFFFF || wake > 0x3FFFFFFF ? INT32_MAX : length + wake;
}

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        frame->kept[KEPT_FADE] = (int32_t)(0xFFFFFFFFu / (uint32_t)frame->number[GLANZ_WAKE_LENGTH]);
        frame->kept[KEPT_SCALE] = (int32_t)glanz_repeat_of(frame->number[GLANZ_WAKE_WAVE]).scale;
    }
    uint32_t turn = frame->number[GLANZ_WAKE_SPEED] < 0 ? ~frame->turn[0] : frame->turn[0];
    frame->kept[KEPT_AT] = (int32_t)glanz_mul32_high(turn, (uint32_t)pass(frame));
    return GLANZ_STEP_MOVES;
}

/* How high the water stands, 0 to 65535 about 16384, so far behind and aside. */
static uint32_t water_at(const struct glanz_frame *frame, glanz_place behind, glanz_place aside) {
    uint32_t gone = glanz_times((uint32_t)behind, (uint32_t)frame->kept[KEPT_FADE]);
    uint32_t edge = glanz_times((uint32_t)behind, SPREAD) + GLANZ_HALF;
    if (gone >= 65536u || (uint32_t)aside > edge + GLANZ_STEP) {
        return 16384u;
    }
    struct glanz_repeat repeat = {(uint32_t)frame->kept[KEPT_SCALE], 0, 0};
    uint32_t left = 65536u - gone;
    left = glanz_share_of(left, left);
    uint32_t inside = (uint32_t)aside <= edge ? 65536u : edge + GLANZ_STEP - (uint32_t)aside;
    uint32_t near =
        65536u -
        (edge > (uint32_t)aside ? (edge - (uint32_t)aside > 131072u ? 49152u : (edge - (uint32_t)aside) * 3u / 8u) : 0);
    int32_t wave = glanz_sine((uint16_t)(glanz_repeat_turn(&repeat, behind - aside) >> 16)); /* crests fall back outward */
    uint32_t strength = glanz_share_of(glanz_share_of(left, inside), near);
    uint32_t rise = glanz_share_of((uint32_t)(wave + 32767), strength);
    uint32_t calm = glanz_share_of(16384u, 65536u - strength);
    return calm + rise > 65535u ? 65535u : calm + rise;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    glanz_place half = frame->number[GLANZ_WAKE_SIZE] / 2;
    uint8_t back = frame->number[GLANZ_WAKE_SPEED] < 0;
    (void)cover;
    for (uint8_t i = 0; i < count; i++) {
        glanz_place behind = frame->kept[KEPT_AT] - (back ? length - places->x[i] : places->x[i]);
        glanz_place aside = places->y[i] - (glanz_place)frame->rows * GLANZ_HALF;
        aside = aside < 0 ? -aside : aside;
        if (frame->closed && behind < -half - GLANZ_HALF) {
            behind += length;
        }
        uint32_t height = behind < 0 ? 16384u : water_at(frame, behind, aside);
        struct glanz_light at = glanz_gradient_at(frame->gradient, (uint16_t)height);
        if (behind < half + GLANZ_STEP && behind > -half - GLANZ_STEP && aside < half + GLANZ_STEP) {
            uint32_t covers = glanz_cover((glanz_place)glanz_distance(behind, aside), -half, half);
            at = glanz_light_mix(at, frame->color[0], covers);
        }
        glanz_light_put(&light[i], at.red, at.green, at.blue);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_wake = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("wake"),
    .description = GLANZ_DESCRIPTION("something passes, and its wake runs aside and dies away; a pass is once over the field"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &water,
    .pass = pass,
    .step = step,
    .shade_field = shade,
    .least_columns = 8,
    .least_rows = 1,
};

#endif
