/* SPDX-License-Identifier: MIT */
/* Pattern: blocks of colours as they are written, again and again, standing or moving. */
#include <string.h>

#include <glanz/effects.h>

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_PATTERN_SPEED] = GLANZ_RATE_ROW("how fast it moves", GLANZ_UNIT_LEDS, 0),
};

static glanz_place pass(const struct glanz_frame *frame) {
    GLANZ_CONST struct glanz_pattern *pattern = (GLANZ_CONST struct glanz_pattern *)frame->content;
    return pattern == NULL || pattern->leds == 0 ? GLANZ_STEP : (glanz_place)pattern->leds * GLANZ_STEP;
}

/* Keeps how far the pattern has moved on, in points. */
static uint8_t step(struct glanz_frame *frame) {
    frame->kept[0] = (int32_t)glanz_mul32_high(frame->turn[0], (uint32_t)pass(frame));
    return frame->number[GLANZ_PATTERN_SPEED] != 0;
}

/* Where in the pattern a cell lies, and the lights of its block and of the one after it. */
struct cursor {
    uint16_t block;
    uint16_t left; /* cells of the block from here on, this one too */
    struct glanz_light light, next;
};

/* Lights of the blocks met last: what people choose is worked out once a run, not once a LED. */
#define MET 4
struct met {
    uint16_t block[MET]; /* 0xFFFF: none */
    struct glanz_light light[MET];
};

static struct glanz_light light_of(struct met *met, GLANZ_CONST struct glanz_pattern *pattern, uint16_t block) {
    uint8_t slot = (uint8_t)(block % MET);
    if (met->block[slot] != block) {
        met->block[slot] = block;
        met->light[slot] = glanz_color_light(pattern->blocks[block].color, NULL, 0);
    }
    return met->light[slot];
}

static void enter(struct cursor *cursor, struct met *met, GLANZ_CONST struct glanz_pattern *pattern, uint16_t block) {
    cursor->block = block;
    cursor->left = pattern->blocks[block].leds;
    cursor->light = light_of(met, pattern, block);
    cursor->next = light_of(met, pattern, block + 1u >= pattern->count ? 0 : (uint16_t)(block + 1u));
}

static void find(struct cursor *cursor, struct met *met, GLANZ_CONST struct glanz_pattern *pattern, uint16_t cell) {
    uint16_t block = 0;
    while (block + 1u < pattern->count && cell >= pattern->blocks[block].leds) {
        cell = (uint16_t)(cell - pattern->blocks[block].leds);
        block++;
    }
    enter(cursor, met, pattern, block);
    cursor->left = (uint16_t)(cursor->left - cell);
}

static void advance(struct cursor *cursor, struct met *met, GLANZ_CONST struct glanz_pattern *pattern) {
    if (--cursor->left == 0) {
        enter(cursor, met, pattern, cursor->block + 1u >= pattern->count ? 0 : (uint16_t)(cursor->block + 1u));
    }
}

static void retreat(struct cursor *cursor, struct met *met, GLANZ_CONST struct glanz_pattern *pattern) {
    if (++cursor->left > pattern->blocks[cursor->block].leds) {
        enter(cursor, met, pattern, (uint16_t)((cursor->block == 0 ? pattern->count : cursor->block) - 1u));
        cursor->left = 1;
    }
}

/* The cell of the pattern, for one counted along the line from anywhere. */
static uint16_t fold(int32_t cell, uint16_t leds) {
    int32_t rest = cell % (int32_t)leds;
    return (uint16_t)(rest < 0 ? rest + (int32_t)leds : rest);
}

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    GLANZ_CONST struct glanz_pattern *pattern = (GLANZ_CONST struct glanz_pattern *)frame->content;
    struct cursor cursor = {0, 0, {0, 0, 0}, {0, 0, 0}};
    struct met met;
    uint32_t part = 0;
    memset(&met, 0xFF, sizeof met);
    if (pattern == NULL || pattern->count == 0) {
        memset(light, 0, sizeof *light * count);
        return;
    }
    for (uint8_t i = 0; i < count; i++) {
        glanz_place on = i == 0 ? 0 : places[i] - places[i - 1];
        if (on == GLANZ_STEP) {
            advance(&cursor, &met, pattern);
        } else if (on == -GLANZ_STEP) {
            retreat(&cursor, &met, pattern);
        } else {
            /* the LED covers two cells in part: the one its lower edge is in, and the next */
            uint32_t edge = (uint32_t)places[i] - GLANZ_HALF - (uint32_t)frame->kept[0] + ((uint32_t)32768 << 16);
            find(&cursor, &met, pattern, fold((int32_t)(edge >> 16) - 32768, pattern->leds));
            part = edge & 0xFFFFu;
        }
        const struct glanz_light *own = &cursor.light;
        if (cursor.left == 1) {
            glanz_light_put(&light[i], glanz_mix16(own->red, cursor.next.red, part),
                            glanz_mix16(own->green, cursor.next.green, part), glanz_mix16(own->blue, cursor.next.blue, part));
        } else {
            glanz_light_put(&light[i], own->red, own->green, own->blue);
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_pattern = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("pattern"),
    .description = GLANZ_DESCRIPTION("blocks of colours as written, repeating; a pass is the whole pattern once"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .content = GLANZ_CONTENT_PATTERN,
    .pass = pass,
    .step = step,
    .shade = shade,
};
