/* SPDX-License-Identifier: MIT */
/* A scale along a field, for bars and pointers on it: from either end or from the middle to both. Private to src/effects. */
#ifndef GLANZ_EFFECTS_SCALE_H
#define GLANZ_EFFECTS_SCALE_H

#include <glanz/effects.h>

#if GLANZ_FIELDS

enum scale_from { SCALE_FROM_START, SCALE_FROM_END, SCALE_FROM_MIDDLE };

struct scale {      /* as `kept` keeps it, so that shade finds it there */
    uint32_t all;   /* 16.16 LEDs */
    uint32_t share; /* of it a LED, 2.30 */
    uint32_t mark;  /* from one mark to the next, 16.16 LEDs; 0: none */
    uint32_t marks; /* one over that, 0.32 of points */
};

static inline struct scale scale_of(const struct glanz_frame *frame, int32_t from, int32_t marks) {
    struct scale scale;
    scale.all = from == SCALE_FROM_MIDDLE ? ((uint32_t)frame->length << 16) / 2u : (uint32_t)frame->length << 16;
    scale.share = 0xFFFFFFFFu / (scale.all >> 15);
    scale.mark = marks == 0 ? 0 : scale.all / (uint32_t)marks;
    scale.marks = scale.mark == 0 ? 0 : 0xFFFFFFFFu / scale.mark;
    return scale;
}

/* How far along a place is: 16.16 LEDs, its nearer edge. */
static inline uint32_t scale_along(const struct glanz_frame *frame, int32_t from, glanz_place x) {
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    glanz_place off = length / 2 - x;
    glanz_place way = from == SCALE_FROM_START ? x : from == SCALE_FROM_END ? length - x : off < 0 ? -off : off;
    return way < GLANZ_HALF ? 0 : (uint32_t)(way - GLANZ_HALF);
}

/* How much of a LED lies below a height, 0 to 65536. */
static inline uint32_t scale_below(uint32_t way, uint32_t high) {
    return high <= way ? 0 : high - way > 65536u ? 65536u : high - way;
}

/* How much of it a point one LED wide covers. */
static inline uint32_t scale_point(uint32_t way, uint32_t at) {
    uint32_t off = at > way ? at - way : way - at;
    return off >= 65536u ? 0 : 65536u - off;
}

/* Does a mark stand there? */
static inline uint8_t scale_marked(uint32_t way, uint32_t mark, uint32_t marks) {
    uint32_t at = way + 32768u;
    return mark > (uint32_t)GLANZ_STEP && at - glanz_mul32_high(at, marks) * mark < 65536u;
}

/* The place's share of the scale, 0 to 65535. */
static inline uint16_t scale_share(uint32_t way, uint32_t share) {
    uint32_t part = (way >> 8) * (share >> 9) >> 14;
    return (uint16_t)(part > 65535u ? 65535u : part);
}

#endif
#endif
