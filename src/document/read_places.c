/* SPDX-License-Identifier: MIT */
/* Surfaces: lines, rings, grids of panels, free points as a list or as a drawing; and what a segment takes of them. */
#include <string.h>

#include "parts.h"

static const char *const surface_keys[] = {"strip",   "ring",    "grid", "rings",  "points", "places",
                                           "drawing", "columns", "rows", "joined", NULL};
static const char *const piece_keys[] = {"output", "first", "leds", "reversed", NULL};
static const char *const panel_keys[] = {"name",   "output", "first",    "columns", "rows", "first led", "along",
                                         "zigzag", "turned", "mirrored", "left",    "top",  NULL};
static const char *const ring_keys[] = {"name", "output", "first", "leds", "radius", "start", "counterclockwise", NULL};

const char *const glanz_document_corners[] = {"top left", "top right", "bottom left", "bottom right", NULL};
const char *const glanz_document_alongs[] = {"rows", "columns", NULL};
const char *const glanz_document_turns[] = {"0 deg", "90 deg", "180 deg", "270 deg", NULL};
const char *const glanz_document_lies[] = {"as the surface", "along", "across", "rows", "columns", "outward", "around", NULL};

static uint32_t read_count(struct json *json, int object, const char *key, uint32_t low, uint32_t high, uint32_t none) {
    int token = glanz_json_member(json, object, key);
    return token < 0 ? none : glanz_json_count(json, token, low, high);
}

static uint8_t read_choice(struct json *json, int object, const char *key, const char *const *names) {
    int token = glanz_json_member(json, object, key);
    return token < 0 ? 0 : glanz_find_choice(json, token, names);
}

static int read_flag(struct json *json, int object, const char *key) {
    int token = glanz_json_member(json, object, key);
    return token >= 0 && glanz_json_flag(json, token);
}

static const char *read_own_name(struct json *json, int object) {
    int token = glanz_json_member(json, object, "name");
    return token < 0 ? NULL : glanz_json_name(json, token);
}

static void read_piece(struct json *json, int object, int outputs, struct glanz_piece *piece, uint32_t leds) {
    piece->output = glanz_read_reference(json, glanz_json_require(json, object, "output"), outputs, "no such output");
    piece->first = (uint16_t)glanz_json_count(json, glanz_json_require(json, object, "first"), 0, GLANZ_LEDS_MOST - 1);
    piece->leds =
        (uint16_t)(leds != 0 ? leds : glanz_json_count(json, glanz_json_require(json, object, "leds"), 1, GLANZ_LEDS_MOST));
}

static void read_panel(struct json *json, int object, int outputs, struct glanz_piece *piece, struct glanz_panel *panel) {
    panel->name = read_own_name(json, object);
    panel->columns = (uint16_t)glanz_json_count(json, glanz_json_require(json, object, "columns"), 1, GLANZ_FIELD_MOST);
    panel->rows = (uint16_t)glanz_json_count(json, glanz_json_require(json, object, "rows"), 1, GLANZ_FIELD_MOST);
    uint32_t leds = (uint32_t)panel->columns * panel->rows;
    if (json->status == GLANZ_OK && leds > GLANZ_LEDS_MOST) {
        glanz_json_fail(json, object, "the panel has more than 32767 LEDs; expected fewer columns or rows", NULL, NULL);
        return;
    }
    read_piece(json, object, outputs, piece, leds);
    uint8_t corner = read_choice(json, object, "first led", glanz_document_corners);
    panel->wiring = (uint8_t)((corner & 1) | (corner & 2) | (read_choice(json, object, "along", glanz_document_alongs) << 2) |
                              (read_flag(json, object, "zigzag") << 3));
    panel->turned = read_choice(json, object, "turned", glanz_document_turns);
    panel->mirrored = read_flag(json, object, "mirrored") != 0;
    panel->left = (uint16_t)read_count(json, object, "left", 0, GLANZ_FIELD_MOST - 1, 0);
    panel->top = (uint16_t)read_count(json, object, "top", 0, GLANZ_FIELD_MOST - 1, 0);
}

static void read_ring(struct json *json, int object, int outputs, struct glanz_piece *piece, struct glanz_circle *circle) {
    int radius = glanz_json_member(json, object, "radius");
    int start = glanz_json_member(json, object, "start");
    circle->name = read_own_name(json, object);
    read_piece(json, object, outputs, piece, 0);
    if (radius >= 0) {
        uint8_t unit = GLANZ_UNIT_NONE;
        int64_t length = glanz_json_quantity(json, radius, QUANTITY_LENGTH, GLANZ_FIXED(0.25), GLANZ_FIXED(500), &unit);
        if (json->status == GLANZ_OK && unit != GLANZ_UNIT_LEDS) {
            glanz_json_fail(json, radius, "expected a radius in LEDs, such as \"3.5 leds\"", NULL, NULL);
        }
        circle->radius = (uint16_t)((length + 512) / 1024);
    }
    if (start >= 0) {
        circle->start = (uint16_t)glanz_json_quantity(json, start, QUANTITY_ANGLE, 0, 65535, NULL);
    }
    circle->backward = read_flag(json, object, "counterclockwise") != 0;
}

/* A decimal number that is not below 0, in 64ths, counted from half a step. */
static uint16_t read_coordinate(struct json *json, int token) {
    uint64_t number = 0; /* millionths */
    uint32_t unit = 1000000;
    int good = glanz_json_is(json, token, JSMN_PRIMITIVE);
    int point = 0;
    for (int i = json->tokens[token].start; good && i < json->tokens[token].end; i++) {
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

static void read_list_of_places(struct json *json, int list, struct glanz_point *points, uint32_t leds) {
    uint32_t index = 0;
    uint32_t count = (uint32_t)glanz_json_list(json, list, JSMN_ARRAY, 65535);
    if (json->status == GLANZ_OK && count != leds) {
        glanz_json_fail(json, list, "expected one place for each LED of the points: ", NULL, NULL);
        glanz_fault_number(json->fault, leds);
        glanz_fault_add(json->fault, ", not ");
        glanz_fault_number(json->fault, count);
    }
    for (int at = json->status != GLANZ_OK ? -1 : glanz_json_first(json, list); at >= 0 && json->status == GLANZ_OK;
         at = glanz_json_next(json, list, at), index++) {
        if (glanz_json_list(json, at, JSMN_ARRAY, 2) != 2) {
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
    *rows = (uint32_t)glanz_json_list(json, list, JSMN_ARRAY, GLANZ_FIELD_MOST);
    *columns = 1;
    for (int at = *rows == 0 ? -1 : glanz_json_first(json, list); at >= 0; at = glanz_json_next(json, list, at)) {
        char none[1];
        size_t length = glanz_json_is(json, at, JSMN_STRING) ? glanz_json_copy(json, at, none, sizeof none) : 0;
        if (!glanz_json_is(json, at, JSMN_STRING) || length > GLANZ_FIELD_MOST) {
            glanz_json_fail(json, at, "expected a row of the drawing as text, at most 1023 letters", NULL, NULL);
            return NULL;
        }
        *columns = length > *columns ? (uint32_t)length : *columns;
    }
    char *cells = (char *)glanz_json_take(json, (size_t)*columns * *rows + 1);
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

/* LED after LED: the mark that comes next, nearest to the LED before where there are several. */
static void read_drawing(struct json *json, int list, struct glanz_surface *surface, struct glanz_point *points,
                         uint32_t leds) {
    uint32_t columns;
    uint32_t rows;
    char *cells = copy_rows(json, list, &columns, &rows);
    if (json->status != GLANZ_OK || cells == NULL) {
        return;
    }
    uint32_t left = 0;
    for (uint32_t i = 0; i < columns * rows; i++) {
        if (cells[i] == '.' || cells[i] == ' ') {
            continue;
        }
        if (strchr(marks, cells[i]) == NULL) {
            glanz_json_fail(json, list,
                            "a drawing marks LEDs with 0 to 9, a to z, A to Z, then 0 again; expected only these, "
                            "points and blanks",
                            NULL, NULL);
            return;
        }
        left++;
    }
    if (left != leds) {
        glanz_json_fail(json, list, "expected one mark for each LED of the points: ", NULL, NULL);
        glanz_fault_number(json->fault, leds);
        glanz_fault_add(json->fault, ", not ");
        glanz_fault_number(json->fault, left);
        return;
    }
    uint32_t x = 0;
    uint32_t y = 0;
    for (uint32_t led = 0; led < leds; led++) {
        uint32_t best = 0xFFFFFFFFu;
        uint32_t nearest = 0;
        uint32_t ties = 0;
        for (uint32_t i = 0; i < columns * rows; i++) {
            if (cells[i] == marks[led % MARKS]) {
                uint32_t square = led == 0 ? 0 : square_of(i % columns, x) + square_of(i / columns, y);
                ties = square == best ? ties + 1 : square < best ? 0 : ties;
                nearest = square < best ? i : nearest;
                best = square < best ? square : best;
            }
        }
        if (best == 0xFFFFFFFFu || ties != 0) {
            char mark[2] = {marks[led % MARKS], '\0'};
            glanz_json_fail(json, list, ties != 0 ? "two marks are as near for LED " : "no mark is left for LED ", NULL, NULL);
            glanz_fault_number(json->fault, led);
            glanz_fault_add(json->fault, ": expected one ");
            glanz_fault_name(json->fault, mark);
            glanz_fault_add(json->fault,
                            ties != 0 ? ", nearer to the LED before than the others" : " after the mark before it");
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

static void read_points(struct json *json, int object, struct glanz_surface *surface) {
    uint32_t leds = glanz_surface_leds(surface);
    int places = glanz_json_member(json, object, "places");
    int drawing = glanz_json_member(json, object, "drawing");
    if ((places < 0) == (drawing < 0)) {
        glanz_json_fail(json, object, "free points need either \"places\" or a \"drawing\"", NULL, NULL);
        return;
    }
    struct glanz_point *points = (struct glanz_point *)glanz_json_take(json, sizeof *points * leds);
    if (points == NULL) {
        return;
    }
    if (places >= 0) {
        read_list_of_places(json, places, points, leds);
    } else {
        read_drawing(json, drawing, surface, points, leds);
    }
    surface->points = points;
}

void glanz_read_surface(struct json *json, int object, int outputs, struct glanz_surface *surface) {
    static const char *const *const keys[] = {piece_keys, piece_keys, panel_keys, ring_keys, piece_keys};
    int list = -1;
    uint8_t kinds = 0;
    if (!glanz_json_object(json, object, surface_keys)) {
        return;
    }
    for (uint8_t kind = 0; kind <= GLANZ_SURFACE_POINTS; kind++) {
        int token = glanz_json_member(json, object, surface_keys[kind]);
        if (token >= 0) {
            surface->kind = kind;
            list = token;
            kinds++;
        }
    }
    if (kinds != 1) {
        glanz_json_fail(json, object, "expected one of \"strip\", \"ring\", \"grid\", \"rings\", \"points\"", NULL, NULL);
        return;
    }
    for (uint8_t i = 5; surface_keys[i] != NULL; i++) { /* places, drawing; columns, rows; joined */
        int token = glanz_json_member(json, object, surface_keys[i]);
        uint8_t fits = i < 7   ? surface->kind == GLANZ_SURFACE_POINTS
                       : i < 9 ? surface->kind >= GLANZ_SURFACE_GRID
                               : surface->kind == GLANZ_SURFACE_GRID;
        if (token >= 0 && !fits) {
            glanz_json_fail(json, token, "expected no ", surface_keys[i], " with this kind of surface");
            return;
        }
    }
    surface->columns = (uint16_t)read_count(json, object, "columns", 1, GLANZ_FIELD_MOST, 0);
    surface->rows = (uint16_t)read_count(json, object, "rows", 1, GLANZ_FIELD_MOST, 0);
    surface->joined = read_flag(json, object, "joined") != 0;
    uint8_t count = (uint8_t)glanz_json_list(json, list, JSMN_ARRAY, 255);
    struct glanz_piece *pieces = (struct glanz_piece *)glanz_json_take(json, sizeof *pieces * count);
    struct glanz_panel *panels = NULL;
    struct glanz_circle *circles = NULL;
    if (surface->kind == GLANZ_SURFACE_GRID) {
        panels = (struct glanz_panel *)glanz_json_take(json, sizeof *panels * count);
    } else if (surface->kind == GLANZ_SURFACE_RINGS) {
        circles = (struct glanz_circle *)glanz_json_take(json, sizeof *circles * count);
    }
    uint8_t index = 0;
    for (int token = json->status != GLANZ_OK || count == 0 ? -1 : glanz_json_first(json, list);
         token >= 0 && json->status == GLANZ_OK; token = glanz_json_next(json, list, token), index++) {
        if (!glanz_json_object(json, token, keys[surface->kind])) {
            return;
        }
        if (panels != NULL) {
            read_panel(json, token, outputs, &pieces[index], &panels[index]);
        } else if (circles != NULL) {
            read_ring(json, token, outputs, &pieces[index], &circles[index]);
        } else {
            read_piece(json, token, outputs, &pieces[index], 0);
            pieces[index].reversed = read_flag(json, token, "reversed") != 0;
        }
    }
    surface->pieces = pieces;
    surface->piece_count = count;
    surface->panels = panels;
    surface->circles = circles;
    if (json->status == GLANZ_OK && count == 0) {
        glanz_json_fail(json, list, "expected at least one piece", NULL, NULL);
    }
    uint32_t leds = 0;
    for (uint8_t i = 0; json->status == GLANZ_OK && i < count; i++) {
        leds += pieces[i].leds;
    }
    if (leds > GLANZ_LEDS_MOST) {
        glanz_json_fail(json, list, "expected at most 32767 LEDs on a surface", NULL, NULL);
    }
    if (surface->kind == GLANZ_SURFACE_POINTS && json->status == GLANZ_OK) {
        read_points(json, object, surface);
    }
}

/* ---- what a segment takes ---- */

/* 1 + the index of a panel or ring by name. */
static uint8_t find_part(struct json *json, int token, GLANZ_CONST struct glanz_surface *surface) {
    for (uint8_t i = 0; i < surface->piece_count; i++) {
        const char *name = surface->panels != NULL                                            ? surface->panels[i].name
                           : surface->circles != NULL && surface->kind == GLANZ_SURFACE_RINGS ? surface->circles[i].name
                                                                                              : NULL;
        if (name != NULL && glanz_json_is(json, token, JSMN_STRING) && glanz_json_equal(json, token, name)) {
            return (uint8_t)(i + 1);
        }
    }
    glanz_json_fail(json, token, "no such panel or ring on surface ", surface->name, "; expected the \"name\" of one");
    return 0;
}

int glanz_read_cut_member(struct json *json, int key, struct glanz_cut *cut, GLANZ_CONST struct glanz_surface *surface) {
    int token = key + 1;
    if (glanz_json_equal(json, key, "lies")) {
        cut->lie = glanz_find_choice(json, token, glanz_document_lies);
    } else if (glanz_json_equal(json, key, "turned")) {
        cut->turned = glanz_find_choice(json, token, glanz_document_turns);
    } else if (glanz_json_equal(json, key, "part")) {
        cut->piece = find_part(json, token, surface);
    } else if (glanz_json_equal(json, key, "left")) {
        cut->left = (uint16_t)glanz_json_count(json, token, 0, GLANZ_FIELD_MOST - 1);
    } else if (glanz_json_equal(json, key, "top")) {
        cut->top = (uint16_t)glanz_json_count(json, token, 0, GLANZ_FIELD_MOST - 1);
    } else if (glanz_json_equal(json, key, "columns")) {
        cut->columns = (uint16_t)glanz_json_count(json, token, 1, GLANZ_FIELD_MOST);
    } else if (glanz_json_equal(json, key, "rows")) {
        cut->rows = (uint16_t)glanz_json_count(json, token, 1, GLANZ_FIELD_MOST);
    } else {
        return 0;
    }
    return 1;
}
