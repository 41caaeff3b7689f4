/* SPDX-License-Identifier: MIT */
/* Colony: the game of life (B3/S23) on a field whose edges join, sown anew when nothing new comes of it. Remembers two bits a
 * cell: is it alive, and was it before. */
#include <string.h>
#include "tints.h"

#include <glanz/effects.h>

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_COLONY_BACKGROUND] = GLANZ_COLOR_ROW("background", "where nothing lives", GLANZ_RGB(0, 0, 0)),
    [GLANZ_COLONY_FILL] = GLANZ_FADED_SHARE_ROW("share", "of the cells that are sown", GLANZ_PERCENT(32)),
    [GLANZ_COLONY_SPEED] = GLANZ_RATE_ROW("generations", GLANZ_UNIT_PASS_TIME, 400),
};

#define CATCH_UP 4u /* generations in one frame, at the most */
#define OLDEST 600u /* generations after which it is sown anew in any case */
#define DULL 12u    /* generations that only repeat before it is sown anew */

struct colony {
    uint32_t sown; /* times; 0: not yet */
    uint32_t hash[2];
    uint16_t age, dull;
    uint16_t lap;    /* the last one counted */
    uint8_t cells[]; /* four to a byte: bit 0 alive, bit 1 alive before */
};

static uint32_t memory(const struct glanz_frame *frame) {
    return (uint32_t)offsetof(struct colony, cells) + ((uint32_t)frame->length * frame->rows + 3u) / 4u;
}

static uint8_t cell_at(const struct colony *colony, uint32_t index) {
    return (uint8_t)((uint8_t)(colony->cells[index >> 2] >> ((index & 3u) * 2u)) & 3);
}

static void set_cell(struct colony *colony, uint32_t index, uint8_t alive) {
    uint8_t bit = (uint8_t)(1u << ((index & 3u) * 2u));
    uint8_t *byte = &colony->cells[index >> 2];
    *byte = (uint8_t)(alive ? *byte | bit : *byte & ~bit);
}

static void age_cells(struct colony *colony, const struct glanz_frame *frame) { /* what is becomes what was */
    uint32_t bytes = ((uint32_t)frame->length * frame->rows + 3u) / 4u;
    for (uint32_t i = 0; i < bytes; i++) {
        uint8_t alive = colony->cells[i] & 0x55u;
        colony->cells[i] = (uint8_t)(alive | alive << 1);
    }
}

static void sow(struct colony *colony, const struct glanz_frame *frame) {
    uint32_t cells = (uint32_t)frame->length * frame->rows;
    colony->sown++;
    colony->age = 0;
    colony->dull = 0;
    age_cells(colony, frame);
    for (uint32_t i = 0; i < cells; i++) {
        uint32_t draw = glanz_hash2(frame->seed + colony->sown, i);
        set_cell(colony, i, (draw & 0xFFFFu) < (uint32_t)frame->number[GLANZ_COLONY_FILL]);
    }
}

/* Living neighbours, before: columns to the left and right of one row. */
static uint8_t row_sum(const struct colony *colony, uint32_t row, uint32_t left, uint32_t at, uint32_t right) {
    return (uint8_t)((cell_at(colony, row + left) >> 1) + (cell_at(colony, row + at) >> 1) +
                     (cell_at(colony, row + right) >> 1));
}

static void generation(struct colony *colony, const struct glanz_frame *frame) {
    uint32_t columns = frame->length;
    uint32_t rows = frame->rows;
    uint32_t hash = 0;
    age_cells(colony, frame);
    for (uint32_t y = 0; y < rows; y++) {
        uint32_t row = y * columns;
        uint32_t above = (y == 0 ? rows - 1 : y - 1) * columns;
        uint32_t below = (y + 1 == rows ? 0 : y + 1) * columns;
        for (uint32_t x = 0; x < columns; x++) {
            uint32_t left = x == 0 ? columns - 1 : x - 1;
            uint32_t right = x + 1 == columns ? 0 : x + 1;
            uint8_t was = (uint8_t)(cell_at(colony, row + x) >> 1);
            uint8_t sum = (uint8_t)(row_sum(colony, above, left, x, right) + row_sum(colony, row, left, x, right) +
                                    row_sum(colony, below, left, x, right) - was);
            uint8_t alive = sum == 3 || (sum == 2 && was);
            if (alive != was) {
                set_cell(colony, row + x, alive);
            }
            hash += alive ? glanz_hash(row + x) : 0;
        }
    }
    colony->age++;
    colony->dull = (uint16_t)(hash == colony->hash[0] || hash == colony->hash[1] ? colony->dull + 1 : 0);
    colony->hash[1] = colony->hash[0];
    colony->hash[0] = hash;
    if (colony->dull >= DULL || colony->age >= OLDEST) {
        sow(colony, frame);
    }
}

static uint8_t step(struct glanz_frame *frame) {
    struct colony *colony = (struct colony *)frame->memory;
    if (colony == NULL) {
        return 0;
    }
    if (colony->sown == 0) {
        sow(colony, frame);
        colony->lap = (uint16_t)frame->lap[0];
    }
    uint16_t laps = (uint16_t)((uint16_t)frame->lap[0] - colony->lap);
    laps = laps > 32767 ? (uint16_t)(0u - laps) : laps; /* backwards it goes on all the same */
    colony->lap = (uint16_t)frame->lap[0];
    for (uint16_t i = 0; i < laps && i < CATCH_UP; i++) {
        generation(colony, frame);
    }
    return 1;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    const struct colony *colony = (const struct colony *)frame->memory;
    uint32_t turn = frame->turn[0] >> 16;
    uint32_t fresh = turn + (turn >> 15);
    const struct glanz_light *back = &frame->color[0];
    (void)cover;
    glanz_light_fill(light, *back, count);
    for (uint8_t i = 0; i < count && colony != NULL; i++) {
        uint32_t x = (uint32_t)places->x[i] >> 16;
        uint32_t y = (uint32_t)places->y[i] >> 16;
        uint32_t index = y * frame->length + x;
        uint8_t cell = x >= frame->length || y >= frame->rows ? 0 : cell_at(colony, index);
        if (cell != 0) { /* one that lives on stays lit; births and deaths fade */
            uint32_t level = cell == 1 ? fresh : 65536u - fresh;
            struct glanz_light color = glanz_gradient_at(frame->gradient, (uint16_t)(glanz_hash2(frame->seed, index) >> 16));
            if (cell == 3) {
                glanz_light_put(&light[i], color.red, color.green, color.blue);
                continue;
            }
            glanz_light_put(&light[i], glanz_mix16(back->red, color.red, level), glanz_mix16(back->green, color.green, level),
                            glanz_mix16(back->blue, color.blue, level));
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_colony = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("colony"),
    .description = GLANZ_DESCRIPTION("cells that are born and die by the rules of the game of life; a pass is a generation"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &glanz_gradient_evening,
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .least_columns = 8,
    .least_rows = 8,
};

#endif
