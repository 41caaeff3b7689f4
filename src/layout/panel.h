/* SPDX-License-Identifier: MIT */
/* Where the LEDs of a panel stand, by how its line is wired. Private to src/layout. */
#ifndef GLANZ_LAYOUT_PANEL_H
#define GLANZ_LAYOUT_PANEL_H

#include <glanz/layout.h>

#if GLANZ_FIELDS

/* How a panel's line runs over the field: from a corner, along lines of `across` LEDs. */
struct walk {
    int16_t x, y;           /* the first LED */
    int8_t fast_x, fast_y;  /* to the next LED of a line */
    int8_t slow_x, slow_y;  /* to the next line */
    uint16_t across, lines; /* LEDs of a line, lines */
    uint8_t zigzag;
};

static inline struct walk walk_of(GLANZ_CONST struct glanz_panel *panel) {
    struct walk walk;
    int16_t columns = (int16_t)panel->columns;
    int16_t rows = (int16_t)panel->rows;
    int8_t right = (panel->wiring & GLANZ_FROM_RIGHT) != 0 ? -1 : 1;
    int8_t down = (panel->wiring & GLANZ_FROM_BOTTOM) != 0 ? -1 : 1;
    uint8_t by_columns = (panel->wiring & GLANZ_BY_COLUMNS) != 0;
    walk.x = (int16_t)(right > 0 ? 0 : columns - 1);
    walk.y = (int16_t)(down > 0 ? 0 : rows - 1);
    if (panel->mirrored) {
        walk.x = (int16_t)(columns - 1 - walk.x);
        right = (int8_t)-right;
    }
    walk.fast_x = by_columns ? 0 : right;
    walk.fast_y = by_columns ? down : 0;
    walk.slow_x = by_columns ? right : 0;
    walk.slow_y = by_columns ? 0 : down;
    walk.across = by_columns ? panel->rows : panel->columns;
    walk.lines = by_columns ? panel->columns : panel->rows;
    walk.zigzag = (panel->wiring & GLANZ_ZIGZAG) != 0;
    for (uint8_t i = 0; i < panel->turned; i++) { /* a quarter clockwise: down becomes left */
        int16_t x = walk.x;
        int8_t fast = walk.fast_x;
        int8_t slow = walk.slow_x;
        walk.x = (int16_t)(rows - 1 - walk.y);
        walk.y = x;
        walk.fast_x = (int8_t)-walk.fast_y;
        walk.fast_y = fast;
        walk.slow_x = (int8_t)-walk.slow_y;
        walk.slow_y = slow;
        int16_t held = columns;
        columns = rows;
        rows = held;
    }
    walk.x = (int16_t)(walk.x + (int16_t)panel->left);
    walk.y = (int16_t)(walk.y + (int16_t)panel->top);
    return walk;
}

/* So many places, each a step on from the one before. */
static inline void places_line(glanz_place *x, glanz_place *y, glanz_place place_x, glanz_place place_y, glanz_place step_x,
                               glanz_place step_y, uint8_t count) {
    const glanz_place *end = x + count;
    if ((count & 1u) != 0) {
        *x++ = place_x;
        *y++ = place_y;
        place_x += step_x;
        place_y += step_y;
    }
    for (; x != end; x += 2, y += 2) {
        x[0] = place_x;
        y[0] = place_y;
        place_x += step_x;
        place_y += step_y;
        x[1] = place_x;
        y[1] = place_y;
        place_x += step_x;
        place_y += step_y;
    }
}

static inline void panel_places(glanz_place *x, glanz_place *y, GLANZ_CONST struct glanz_panel *panel, uint16_t at,
                                uint8_t backward, uint8_t count) {
    struct walk walk = walk_of(panel);
    uint16_t line = (uint16_t)(at / walk.across);
    uint16_t along = (uint16_t)(at - line * walk.across);
    for (uint8_t i = 0; i < count;) { /* a line, or what is asked of it */
        uint16_t left = backward ? (uint16_t)(along + 1) : (uint16_t)(walk.across - along);
        uint8_t part = (uint8_t)(left < (uint16_t)(count - i) ? left : (uint16_t)(count - i));
        uint8_t turned = walk.zigzag && (line & 1u) != 0;
        int32_t column = walk.x + walk.slow_x * (int32_t)line;
        int32_t row = walk.y + walk.slow_y * (int32_t)line;
        int32_t into = turned ? (int32_t)walk.across - 1 - along : along;
        int32_t way = turned != (backward != 0) ? -1 : 1;
        glanz_place place_x = (column + walk.fast_x * into) * GLANZ_STEP + GLANZ_HALF;
        glanz_place place_y = (row + walk.fast_y * into) * GLANZ_STEP + GLANZ_HALF;
        places_line(x + i, y + i, place_x, place_y, walk.fast_x * way * GLANZ_STEP, walk.fast_y * way * GLANZ_STEP, part);
        i = (uint8_t)(i + part);
        line = (uint16_t)(backward ? line - 1 : line + 1);
        along = (uint16_t)(backward ? walk.across - 1 : 0);
    }
}

#endif
#endif
