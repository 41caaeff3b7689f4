/* SPDX-License-Identifier: MIT */
/* Pattern: blocks of colours as they are written, again and again, standing or moving. */
#include <glanz/effects.h>

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_PATTERN_SPEED] = GLANZ_RATE_ROW("how fast it moves", GLANZ_UNIT_LEDS, 0),
};

static glanz_place pass(const struct glanz_now *now) {
    return now->pattern == NULL || now->pattern->leds == 0 ? GLANZ_STEP : (glanz_place)now->pattern->leds * GLANZ_STEP;
}

static uint8_t step(struct glanz_now *now) {
    now->kept[0] = (int32_t)glanz_repeat_of(pass(now)).scale;
    return now->number[GLANZ_PATTERN_SPEED] != 0;
}

static uint16_t block_at(GLANZ_CONST struct glanz_pattern *pattern, uint16_t cell) {
    uint16_t block = 0;
    while (block + 1 < pattern->count && cell >= pattern->blocks[block].leds) {
        cell = (uint16_t)(cell - pattern->blocks[block].leds);
        block++;
    }
    return block;
}

static void shade(struct glanz_light *light, const struct glanz_now *now, const glanz_place *places, uint8_t count) {
    GLANZ_CONST struct glanz_pattern *pattern = now->pattern;
    struct glanz_repeat repeat = {(uint32_t)now->kept[0], 0, 0};
    uint32_t period = (uint32_t)pass(now);
    uint16_t known = 0xFFFF;
    struct glanz_light color = {0, 0, 0};
    for (uint8_t i = 0; i < count; i++) {
        if (pattern == NULL || pattern->count == 0) {
            light[i] = color;
            continue;
        }
        /* the LED covers two cells in part: the one its lower edge is in, and the next */
        uint32_t edge = glanz_mul32_high(glanz_repeat_turn(&repeat, places[i] - GLANZ_HALF) - now->turn[0], period);
        uint16_t cell = (uint16_t)(edge >> 16);
        uint16_t block = block_at(pattern, cell);
        if (block != known) {
            color = glanz_color_light(pattern->blocks[block].color, NULL, 0);
            known = block;
        }
        light[i] = color;
        uint16_t next = block_at(pattern, cell + 1u >= pattern->leds ? 0 : (uint16_t)(cell + 1u));
        if (next != block && (edge & 0xFFFFu) != 0) {
            light[i] = glanz_light_mix(color, glanz_color_light(pattern->blocks[next].color, NULL, 0), edge & 0xFFFFu);
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_pattern = {
    GLANZ_TEXT("pattern"),
    GLANZ_TEXT("blocks of colours as written, repeating; a pass is the whole pattern once"),
    params,
    GLANZ_COUNT(params),
    GLANZ_NEEDS_PATTERN,
    pass,
    step,
    shade};
