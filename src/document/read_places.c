/* SPDX-License-Identifier: MIT */
/* Free points of a surface, as a list of places or as a drawing. */
#include <string.h>

#include "read.h"

/* A decimal number that is not below 0, in 64ths, counted from half a step. */
static uint16_t read_coordinate(struct json *json, int token) {
    uint64_t number = 0; /* millionths */
    uint32_t unit = 1000000;
    int good = glanz_json_is(json, token, JSON_PRIMITIVE);
    int point = 0;
    for (uint32_t i = glanz_json_token(json, token)->start; good && i < glanz_json_token(json, token)->end; i++) {
        char c = json->text[i];
        if (c == '.' && !point) {
            point = 1;
            continue;
        }
        good = c >= '0' && c <= '9' && number < 4000000000u;
        unit = point ? unit / 10u : unit;
        number = point ? number + (uint64_t)(c - '0') * unit : number * 10u + (uint64_t)(c - '0') * 1000000u;
    }
    if (!good || number > (GLANZ_FIELD_MOST - 1) * (uint64_t)1000000) {
        glanz_json_fail(json, token, "expected a number from 0 to 1022, such as 3 or 3.25", NULL, NULL);
        return 0;
    }
    return (uint16_t)(((number + 500000u) * 64u + 500000u) / 1000000u);
}

static struct glanz_point *points_of(struct json *json, struct glanz_surface *surface, uint32_t *leds) {
    *leds = glanz_surface_leds(surface);
    struct glanz_point *points = (struct glanz_point *)glanz_json_allocate(json, sizeof *points * *leds);
    surface->points = points;
    return points;
}

void glanz_read_places(struct json *json, int list, struct glanz_surface *surface) {
    uint32_t leds;
    struct glanz_point *points = points_of(json, surface, &leds);
    uint32_t index = 0;
    uint32_t count = (uint32_t)glanz_json_list(json, list, JSON_ARRAY, 65535);
    if (json->status == GLANZ_OK && count != leds) {
        glanz_json_fail(json, list, "expected one place for each LED of the points: ", NULL, NULL);
        glanz_fault_number(json->fault, leds);
        glanz_fault_add(json->fault, ", not ");
        glanz_fault_number(json->fault, count);
    }
    for (int at = json->status != GLANZ_OK ? -1 : glanz_json_first(json, list); at >= 0 && json->status == GLANZ_OK;
         at = glanz_json_next(json, list, at), index++) {
        if (glanz_json_list(json, at, JSON_ARRAY, 2) != 2) {
            glanz_json_fail(json, at, "expected a place such as [3, 1.5]: column and row, counted from 0", NULL, NULL);
            return;
        }
        points[index].x = read_coordinate(json, glanz_json_first(json, at));
        points[index].y = read_coordinate(json, glanz_json_next(json, at, glanz_json_first(json, at)));
    }
}

static const char marks[] = "0123456789abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ";
#define MARKS (sizeof marks - 1)

/* The rows of a drawing as text, in a buffer of `columns` letters each, filled up with blanks. */
static char *copy_rows(struct json *json, int list, uint32_t *columns, uint32_t *rows) {
    *rows = (uint32_t)glanz_json_list(json, list, JSON_ARRAY, GLANZ_FIELD_MOST);
    *columns = 1;
    for (int at = *rows == 0 ? -1 : glanz_json_first(json, list); at >= 0; at = glanz_json_next(json, list, at)) {
        char none[1];
        size_t length = glanz_json_is(json, at, JSON_STRING) ? glanz_json_copy(json, at, none, sizeof none) : 0;
        if (!glanz_json_is(json, at, JSON_STRING) || length > GLANZ_FIELD_MOST) {
            glanz_json_fail(json, at, "expected a row of the drawing as text, at most 1023 letters", NULL, NULL);
            return NULL;
        }
        *columns = length > *columns ? (uint32_t)length : *columns;
    }
    char *cells = (char *)glanz_json_allocate(json, (size_t)*columns * *rows + 1);
    uint32_t row = 0;
    for (int at = cells == NULL || *rows == 0 ? -1 : glanz_json_first(json, list); at >= 0;
         at = glanz_json_next(json, list, at), row++) {
        char text[GLANZ_FIELD_MOST + 1];
        size_t length = glanz_json_copy(json, at, text, sizeof text);
        memset(cells + (size_t)row * *columns, ' ', *columns);
        memcpy(cells + (size_t)row * *columns, text, length);
    }
    return cells;
}

static uint32_t square_of(uint32_t a, uint32_t b) {
    uint32_t away = a > b ? a - b : b - a;
    return away * away;
}

/* The nearest of a LED's marks to the LED before, which stands at x and y. @return its cell, `cells` when there is none or two
 * are as near: told. */
static uint32_t find_mark(struct json *json, int list, const char *drawn, uint32_t columns, uint32_t cells, uint32_t led,
                          uint32_t x, uint32_t y) {
    uint32_t best = 0xFFFFFFFFu;
    uint32_t nearest = 0;
    int tied = 0; /* another is as near */
    for (uint32_t i = 0; i < cells; i++) {
        if (drawn[i] == marks[led % MARKS]) {
            uint32_t square = led == 0 ? 0 : square_of(i % columns, x) + square_of(i / columns, y);
            tied = square == best || (square > best && tied);
            nearest = square < best ? i : nearest;
            best = square < best ? square : best;
        }
    }
    if (best != 0xFFFFFFFFu && !tied) {
        return nearest;
    }
    char mark[2] = {marks[led % MARKS], '\0'};
    glanz_json_fail(json, list, tied ? "two marks are as near for LED " : "no mark is left for LED ", NULL, NULL);
    glanz_fault_number(json->fault, led);
    glanz_fault_add(json->fault, ": expected one ");
    glanz_fault_name(json->fault, mark);
    glanz_fault_add(json->fault, tied ? ", nearer to the LED before than the others" : " after the mark before it");
    return cells;
}

/* LED after LED: the mark that comes next, nearest to the LED before where there are several. */
void glanz_read_drawing(struct json *json, int list, struct glanz_surface *surface) {
    uint32_t leds;
    struct glanz_point *points = points_of(json, surface, &leds);
    uint32_t columns;
    uint32_t rows;
    char *cells = copy_rows(json, list, &columns, &rows);
    if (json->status != GLANZ_OK || cells == NULL) {
        return;
    }
    uint32_t left = 0;
    uint32_t count = columns * rows;
    for (uint32_t i = 0; i < count; i++) {
        if (cells[i] == '.' || cells[i] == ' ') {
            continue;
        }
        if (strchr(marks, cells[i]) == NULL) {
            glanz_json_fail(json, list, "expected 0 to 9, a to z, A to Z and 0 again for LEDs, then points and blanks", NULL,
                            NULL);
            return;
        }
        left++;
    }
    if (left != leds) {
        glanz_json_fail(json, list, "expected one mark for each LED: ", NULL, NULL);
        glanz_fault_number(json->fault, leds);
        glanz_fault_add(json->fault, ", not ");
        glanz_fault_number(json->fault, left);
        return;
    }
    uint32_t x = 0;
    uint32_t y = 0;
    for (uint32_t led = 0; led < leds; led++) {
        uint32_t nearest = find_mark(json, list, cells, columns, count, led, x, y);
        if (nearest == count) {
            return;
        }
        cells[nearest] = '.';
        x = nearest % columns;
        y = nearest / columns;
        points[led].x = (uint16_t)(x * 64u + 32u);
        points[led].y = (uint16_t)(y * 64u + 32u);
    }
    surface->columns = surface->columns == 0 ? (uint16_t)columns : surface->columns;
    surface->rows = surface->rows == 0 ? (uint16_t)rows : surface->rows;
}
