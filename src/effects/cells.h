/* SPDX-License-Identifier: MIT */
/* Noise laid over a field: how wide its cells are, so that they go round a closed one. Private to src/effects. */
#ifndef GLANZ_EFFECTS_CELLS_H
#define GLANZ_EFFECTS_CELLS_H

#include <glanz/effects.h>

#if GLANZ_FIELDS

#define CELLS_PERIOD 8192u /* cells after which noise repeats: a whole number of passes where laps are folded back */

struct cells {
    uint32_t scale;  /* cells a point, 0.32 */
    uint16_t period; /* of the noise; on a closed field so many go round */
};

/* Cells of a closed field, once round: twice as many and twice again, the nearest to a size. */
static inline uint32_t cells_round(const struct glanz_frame *frame, uint32_t size) {
    uint32_t points = (uint32_t)frame->length << 16;
    uint32_t cells = 2;
    while (cells < CELLS_PERIOD && points / cells > size + size / 2u) {
        cells *= 2u;
    }
    return cells;
}

/* @param size of a cell that is asked for, 16.16 points; at least one is taken. */
static inline struct cells cells_of(const struct glanz_frame *frame, int32_t size) {
    uint32_t wide = (uint32_t)(size < GLANZ_STEP ? GLANZ_STEP : size);
    struct cells cells = {0xFFFFFFFFu / wide, (uint16_t)CELLS_PERIOD};
    if (frame->closed) {
        uint32_t round = cells_round(frame, wide);
        cells.scale = (round << 16) / frame->length;
        cells.period = (uint16_t)round;
    }
    return cells;
}

/* Where so many cells a pass have gone by, 16.16 cells. */
static inline uint32_t cells_gone(const struct glanz_frame *frame, uint32_t a_pass) {
    uint32_t drift = a_pass << 16;
    return (uint32_t)(uint16_t)frame->lap[0] * drift + glanz_mul32_high(frame->turn[0], drift);
}

#endif
#endif
