/* SPDX-License-Identifier: MIT */
/* Bars: they move over the field in any direction, flat, rounded, or lit at the edge that goes ahead. */
#include "upright.h"

#if GLANZ_FIELDS && GLANZ_PARAMS >= 7

enum { PROFILE_FLAT, PROFILE_ROUNDED, PROFILE_EDGE };
static GLANZ_CONST char *GLANZ_CONST profile_names[] = {GLANZ_TEXT("flat"), GLANZ_TEXT("rounded"), GLANZ_TEXT("lit edge")};

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_BARS_BACKGROUND] = GLANZ_COLOR_ROW("background", "between them", GLANZ_RGB(0, 0, 0)),
    [GLANZ_BARS_WIDTH] = GLANZ_PITCH_ROW("width", "of a bar", GLANZ_FIXED(0.1), GLANZ_UNIT_LEDS, GLANZ_FIXED(4)),
    [GLANZ_BARS_GAP] = GLANZ_PITCH_ROW("gap", "between two", 0, GLANZ_UNIT_LEDS, GLANZ_FIXED(3)),
    [GLANZ_BARS_COLORS] =
        GLANZ_PARAM_ROW("colors", "of the palette, one bar after another", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 1, 16, 3),
    [GLANZ_BARS_PROFILE] = GLANZ_CHOICE_ROW("profile", "light across a bar", profile_names, PROFILE_ROUNDED),
    [GLANZ_BARS_BEARING] = {GLANZ_TEXT("bearing"),
                            GLANZ_DESCRIPTION("where they go: 0 is up, 90 deg right; along a line always "
                                              "along it"),
                            GLANZ_PARAM_TURN, GLANZ_UNIT_NONE, GLANZ_CHANGE_CROSSFADES, 0, 65535, 16384, NULL},
    [GLANZ_BARS_SPEED] = GLANZ_HEADED_RATE_ROW("how fast they move", GLANZ_UNIT_LEDS, GLANZ_FIXED(5)),
};

/* amber, foam, sea green */
static GLANZ_CONST struct glanz_stop stops[] = {
    {0, {65535, 28000, 2200}, 131071u}, {32768, {52000, 60000, 58000}, 131076u}, {65535, {1200, 33000, 27000}, 0u}};
static GLANZ_CONST struct glanz_gradient paint = {
    .stops = stops, .count = 3, .first = {0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1}};

/* 65535 over 1 to 15: of the palette from one colour to the next */
static const GLANZ_FLASH uint16_t parts[16] = {0,    65535, 32767, 21845, 16383, 13107, 10922, 9362,
                                               8191, 7281,  6553,  5957,  5461,  5041,  4681,  4369};

enum { KEPT_ACROSS, KEPT_DOWN, KEPT_SCALE, KEPT_INVERSE, KEPT_WIDTH, KEPT_WIDTHS };

static glanz_place pitch_of(const struct glanz_frame *frame) {
    int32_t width = frame->number[GLANZ_BARS_WIDTH];
    int32_t gap = frame->number[GLANZ_BARS_GAP];
    int32_t pitch = gap > GLANZ_FIXED(30000) - width ? GLANZ_FIXED(30000) : width + gap;
    int32_t most = GLANZ_FIXED(30000) / frame->number[GLANZ_BARS_COLORS];
    pitch = pitch > most ? most : pitch;
    return pitch < GLANZ_STEP ? GLANZ_STEP : pitch;
}

/* Once through the colours. */
static glanz_place pass(const struct glanz_frame *frame) {
    glanz_place colors = frame->number[GLANZ_BARS_COLORS];
    return glanz_period_fit(frame, pitch_of(frame) * colors, colors * GLANZ_STEP);
}

/* A scale times a sine, its sign apart. */
static int32_t turned(uint32_t scale, int32_t sine) {
    uint32_t size = glanz_times(scale, (uint32_t)(sine < 0 ? -sine : sine) * 2u);
    size = size > 0x7FFFFFFFu ? 0x7FFFFFFFu : size;
    return sine < 0 ? -(int32_t)size : (int32_t)size;
}

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        glanz_place cycle = pass(frame);
        struct glanz_repeat pitch = glanz_repeat_of(cycle / frame->number[GLANZ_BARS_COLORS]);
        uint32_t scale = glanz_repeat_of(cycle).scale;
        uint16_t bearing = (uint16_t)frame->number[GLANZ_BARS_BEARING];
        int32_t down = -(int32_t)glanz_sine((uint16_t)(bearing + 16384u));
        int32_t across = glanz_sine(bearing);
        if (frame->closed || frame->rows == 1) { /* all of the way round, so that it fits */
            across = across < 0 ? -32768 : 32768;
        }
        frame->kept[KEPT_ACROSS] = turned(scale, across);
        frame->kept[KEPT_DOWN] = frame->rows == 1 ? 0 : turned(scale, down);
        frame->kept[KEPT_SCALE] = (int32_t)pitch.scale;
        frame->kept[KEPT_INVERSE] = (int32_t)pitch.inverse;
        uint32_t part =
            glanz_fraction((uint32_t)frame->number[GLANZ_BARS_WIDTH], (uint32_t)(cycle / frame->number[GLANZ_BARS_COLORS]));
        part = frame->number[GLANZ_BARS_WIDTH] >= cycle / frame->number[GLANZ_BARS_COLORS] ? 0xFFFFFFFFu : part;
        frame->kept[KEPT_WIDTH] = (int32_t)part;
        frame->kept[KEPT_WIDTHS] = (int32_t)(((0xFFFFFFFFu / ((part >> 16) + 1u)) & ~(uint32_t)31) | pitch.shift);
    }
    return GLANZ_STEP_MOVES;
}

/* Signs apart: only so the product of a place below zero comes out right. */
static inline uint32_t turn_along(const struct glanz_repeat *repeat, uint8_t back, glanz_place place) {
    uint32_t turn = glanz_repeat_turn(repeat, place);
    return back ? 0u - turn : turn;
}

static struct glanz_repeat repeat_of(int32_t scale) {
    struct glanz_repeat repeat = {(uint32_t)(scale < 0 ? -scale : scale), 0, 0};
    return repeat;
}

/* How bright a bar is where `into` of it has gone by, 0 to 65535. */
static uint32_t profile_at(const struct glanz_frame *frame, uint32_t into) {
    if (frame->number[GLANZ_BARS_PROFILE] == PROFILE_ROUNDED) { /* a crest like a sine's */
        return (uint32_t)(32768 - (int32_t)glanz_sine((uint16_t)(into + 16384u)));
    }
    into = frame->number[GLANZ_BARS_SPEED] < 0 ? 65535u - into : into;
    return (into * into) >> 16;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    const struct glanz_repeat pitch = {(uint32_t)frame->kept[KEPT_SCALE], (uint32_t)frame->kept[KEPT_INVERSE],
                                       (uint8_t)(frame->kept[KEPT_WIDTHS] & 31)};
    uint32_t width = (uint32_t)frame->kept[KEPT_WIDTH];
    uint32_t widths = (uint32_t)frame->kept[KEPT_WIDTHS] & ~(uint32_t)31; /* one over it */
    uint32_t colors = (uint32_t)frame->number[GLANZ_BARS_COLORS];
    uint8_t is_flat = frame->number[GLANZ_BARS_PROFILE] == PROFILE_FLAT;
    const struct glanz_repeat across = repeat_of(frame->kept[KEPT_ACROSS]);
    const struct glanz_repeat downward = repeat_of(frame->kept[KEPT_DOWN]);
    uint8_t leftward = frame->kept[KEPT_ACROSS] < 0;
    glanz_place row = -1;
    uint32_t down = 0;
    uint32_t found = 0xFFFFFFFFu; /* the bar whose colour this is */
    struct glanz_light color = {0, 0, 0};
    (void)cover;
    glanz_light_fill(light, frame->color[0], count);
    for (uint8_t i = 0; i < count; i++) {
        if (places->y[i] != row) {
            row = places->y[i];
            down = turn_along(&downward, frame->kept[KEPT_DOWN] < 0, row) - frame->turn[0];
        }
        uint32_t cycle = turn_along(&across, leftward, places->x[i]) + down;
        uint32_t turn = cycle * colors; /* of the bar and its gap */
        uint32_t level = width == 0xFFFFFFFFu ? 65536u : glanz_repeat_cover(&pitch, turn + pitch.scale / 2u, width);
        if (level == 0) {
            continue;
        }
        uint32_t bar = glanz_mul32_high(cycle, colors);
        if (turn > width) { /* only its edge reaches here: which it is */
            uint8_t next = turn - width > 0u - turn;
            bar = !next ? bar : bar + 1u == colors ? 0 : bar + 1u;
            turn = next ? 0 : width;
        }
        if (!is_flat) {
            uint32_t into = glanz_times(turn >> 16, widths);
            level = glanz_share_of(level, profile_at(frame, into > 65535u ? 65535u : into));
        }
        if (bar != found) { /* neighbours most often are of one bar */
            found = bar;
            color = glanz_gradient_at(frame->gradient, (uint16_t)(bar * parts[colors - 1u]));
        }
        light_over(&light[i], color, level);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_bars = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("bars"),
    .description = GLANZ_DESCRIPTION("bars in colours of the palette that move in any direction; a pass is once through the "
                                     "colours"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &paint,
    .pass = pass,
    .step = step,
    .shade_field = shade,
    .least_columns = 4,
    .least_rows = 1,
};

#endif
