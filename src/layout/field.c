/* SPDX-License-Identifier: MIT */
/* Fields: where the LEDs of grids, rings and free points stand, and what a segment sees of them. Places are worked out from
 * the wiring when they are asked for; only free points have a table. */
#include <glanz/layout.h>

#include "panel.h"
#include "picks.h"

#if GLANZ_FIELDS

#define SIXTY_FOURTH (GLANZ_STEP / 64)

/* ---- places on a surface ---- */

/* Radius in 64ths of a step. */
static uint16_t radius_of(GLANZ_CONST struct glanz_circle *circle, uint16_t leds) {
    if (circle != NULL && circle->radius != 0) {
        return circle->radius;
    }
    uint32_t radius = ((uint32_t)leds * 10430u + 512u) >> 10; /* 64 / (2 pi) */
    return (uint16_t)(radius > 65535u ? 65535u : radius);
}

static GLANZ_CONST struct glanz_circle *circle_of(GLANZ_CONST struct glanz_surface *surface, uint8_t piece) {
    return surface->circles == NULL ? NULL : &surface->circles[surface->kind == GLANZ_SURFACE_RING ? 0 : piece];
}

static void circle_places(glanz_place *x, glanz_place *y, GLANZ_CONST struct glanz_surface *surface, uint8_t piece, uint16_t at,
                          uint8_t backward, uint8_t count) {
    GLANZ_CONST struct glanz_circle *circle = circle_of(surface, piece);
    uint16_t leds = surface->pieces[piece].leds;
    if (surface->kind == GLANZ_SURFACE_RING) { /* its pieces make one ring */
        leds = glanz_surface_leds(surface);
        for (uint8_t i = 0; i < piece; i++) {
            at = (uint16_t)(at + surface->pieces[i].leds);
        }
    }
    uint16_t columns;
    uint16_t rows;
    glanz_surface_field(&columns, &rows, surface);
    int32_t radius = radius_of(circle, leds);
    uint16_t start = circle == NULL ? 0 : circle->start;
    uint8_t counter = circle != NULL && circle->backward;
    uint32_t step = leds < 2 ? 0 : glanz_fraction(1, leds);
    for (uint8_t i = 0; i < count; i++) {
        uint16_t arc = (uint16_t)((step * at + 32768u) >> 16);
        uint16_t bearing = (uint16_t)(counter ? start - arc : start + arc);
        x[i] = (glanz_place)columns * GLANZ_HALF + radius * glanz_sine(bearing) / 32;
        y[i] = (glanz_place)rows * GLANZ_HALF - radius * glanz_sine((uint16_t)(bearing + 16384u)) / 32;
        at = (uint16_t)(backward ? at - 1 : at + 1);
    }
}

void glanz_piece_places(glanz_place *x, glanz_place *y, GLANZ_CONST struct glanz_surface *surface, uint8_t piece, uint16_t at,
                        uint8_t backward, uint8_t count) {
    uint16_t before = 0;
    for (uint8_t i = 0; i < piece && surface->kind != GLANZ_SURFACE_GRID; i++) {
        before = (uint16_t)(before + surface->pieces[i].leds);
    }
    switch (surface->kind) {
    case GLANZ_SURFACE_GRID: panel_places(x, y, &surface->panels[piece], at, backward, count); break;
    case GLANZ_SURFACE_RING:
    case GLANZ_SURFACE_RINGS: circle_places(x, y, surface, piece, at, backward, count); break;
    default:
        for (uint8_t i = 0; i < count; i++) {
            uint16_t led = (uint16_t)(before + (backward ? at - i : at + i));
            uint8_t point = surface->kind == GLANZ_SURFACE_POINTS;
            x[i] = point ? surface->points[led].x * SIXTY_FOURTH : (glanz_place)led * GLANZ_STEP + GLANZ_HALF;
            y[i] = point ? surface->points[led].y * SIXTY_FOURTH : GLANZ_HALF;
        }
        break;
    }
}

/* Columns and rows that a panel takes as it hangs. */
static uint16_t hung_columns(GLANZ_CONST struct glanz_panel *panel) {
    return (panel->turned & 1u) != 0 ? panel->rows : panel->columns;
}
static uint16_t hung_rows(GLANZ_CONST struct glanz_panel *panel) {
    return (panel->turned & 1u) != 0 ? panel->columns : panel->rows;
}

static uint16_t larger(uint16_t a, uint16_t b) {
    return a > b ? a : b;
}

void glanz_surface_field(uint16_t *columns, uint16_t *rows, GLANZ_CONST struct glanz_surface *surface) {
    uint16_t wide = 1;
    uint16_t high = 1;
    uint16_t leds = glanz_surface_leds(surface);
    if (surface->kind == GLANZ_SURFACE_STRIP) {
        wide = leds;
    } else if (surface->kind == GLANZ_SURFACE_GRID) {
        for (uint8_t i = 0; i < surface->piece_count; i++) {
            GLANZ_CONST struct glanz_panel *panel = &surface->panels[i];
            wide = larger(wide, (uint16_t)(panel->left + hung_columns(panel)));
            high = larger(high, (uint16_t)(panel->top + hung_rows(panel)));
        }
    } else if (surface->kind == GLANZ_SURFACE_POINTS) {
        for (uint16_t i = 0; i < leds && (surface->columns == 0 || surface->rows == 0); i++) {
            wide = larger(wide, (uint16_t)((surface->points[i].x + 32u + 63u) / 64u));
            high = larger(high, (uint16_t)((surface->points[i].y + 32u + 63u) / 64u));
        }
    } else {
        uint16_t radius = 0;
        for (uint8_t i = 0; i < surface->piece_count; i++) {
            uint16_t own = surface->kind == GLANZ_SURFACE_RING ? leds : surface->pieces[i].leds;
            radius = larger(radius, radius_of(circle_of(surface, i), own));
        }
        wide = (uint16_t)((2u * radius + 64u + 63u) / 64u);
        high = wide;
    }
    *columns = surface->columns != 0 && surface->kind >= GLANZ_SURFACE_GRID ? surface->columns : wide;
    *rows = surface->rows != 0 && surface->kind >= GLANZ_SURFACE_GRID ? surface->rows : high;
}

/* ---- what a region sees ---- */

static uint8_t in_rectangle(const struct glanz_field *field, glanz_place x, glanz_place y) {
    uint16_t column = (uint16_t)(x / GLANZ_STEP);
    uint16_t row = (uint16_t)(y / GLANZ_STEP);
    return column >= field->left && column - field->left < field->width && row >= field->top &&
           row - field->top < field->height;
}

#define NARROW 16

/* Narrow a field to the LEDs between the first and the last in its rectangle. */
static void narrow(struct glanz_field *field, GLANZ_CONST struct glanz_surface *surface) {
    uint16_t before = 0;
    uint16_t first = 0;
    uint16_t end = 0;
    for (uint8_t p = 0; p < surface->piece_count; p++) {
        uint16_t leds = surface->pieces[p].leds;
        for (uint16_t i = 0; i < leds; i = (uint16_t)(i + NARROW)) { /* some at a time: the walk is set up once for them */
            glanz_place x[NARROW];
            glanz_place y[NARROW];
            uint8_t some = (uint8_t)(leds - i < NARROW ? leds - i : NARROW);
            glanz_piece_places(x, y, surface, p, i, 0, some);
            for (uint8_t k = 0; k < some; k++) {
                uint16_t at = (uint16_t)(before + i + k);
                if (at >= field->first && at - field->first < field->leds && in_rectangle(field, x[k], y[k])) {
                    first = end == 0 ? at : first;
                    end = (uint16_t)(at + 1);
                }
            }
        }
        before = (uint16_t)(before + surface->pieces[p].leds);
    }
    field->first = first;
    field->leds = (uint16_t)(end - first);
}

/* A call of its own: avr-gcc 5 breaks off where it is inlined. */
static GLANZ_NOINLINE uint8_t has_rectangle(GLANZ_CONST struct glanz_region *region) {
    return region->columns != 0;
}

static GLANZ_NOINLINE uint8_t has_window(GLANZ_CONST struct glanz_region *region) {
    return region->within != NULL;
}

/* The rectangle of the surface's field. @return 0 when it reaches out. */
static int rectangle_of(struct glanz_field *field, GLANZ_CONST struct glanz_region *region,
                        GLANZ_CONST struct glanz_surface *surface) {
    field->left = 0;
    field->top = 0;
    glanz_surface_field(&field->width, &field->height, surface);
    if (region->piece != 0 && surface->kind == GLANZ_SURFACE_GRID) {
        GLANZ_CONST struct glanz_panel *panel = &surface->panels[region->piece - 1];
        field->left = panel->left;
        field->top = panel->top;
        field->width = hung_columns(panel);
        field->height = hung_rows(panel);
    }
    if (has_rectangle(region)) {
        if ((uint32_t)region->left + region->columns > field->width || region->rows == 0 ||
            (uint32_t)region->top + region->rows > field->height) {
            return 0;
        }
        field->left = (uint16_t)(field->left + region->left);
        field->top = (uint16_t)(field->top + region->top);
        field->width = region->columns;
        field->height = region->rows;
    }
    return 1;
}

static uint16_t whole_steps(uint32_t place) { /* rounded up, at least 1 */
    return (uint16_t)(place < 1 ? 1 : (place + 65535u) >> 16);
}

/* The larger field in place of the region's own. @return 0 when it does not lie in it. */
static int look_through(struct glanz_field *field, GLANZ_CONST struct glanz_window *window) {
    if (window == NULL) {
        return 1;
    }
    if (window->rows > GLANZ_FIELD_MOST || window->columns > (window->rows == 1 ? 32767u : (unsigned)GLANZ_FIELD_MOST) ||
        (uint32_t)window->left + field->columns > window->columns || (uint32_t)window->top + field->rows > window->rows) {
        return 0;
    }
    field->columns = window->columns;
    field->rows = window->rows;
    field->within_left = window->left;
    field->within_top = window->top;
    field->middle_x = (glanz_place)window->columns * GLANZ_HALF;
    field->middle_y = (glanz_place)window->rows * GLANZ_HALF;
    field->closed = 0;
    return 1;
}

/* Points of a line that crosses the field at its bearing; for one that swings, at any. */
static uint16_t crossing(const struct glanz_field *field, uint8_t swings, uint8_t is_ring) {
    uint32_t across = (uint32_t)field->columns << 16;
    uint32_t down = (uint32_t)field->rows << 16;
    if (is_ring) {
        return whole_steps(across > down ? across : down);
    }
    if (swings) {
        return whole_steps(glanz_distance((glanz_place)across, (glanz_place)down));
    }
    int32_t right = glanz_sine(field->bearing);
    int32_t up = glanz_sine((uint16_t)(field->bearing + 16384u));
    uint32_t parts = (uint32_t)field->columns * (uint32_t)(right < 0 ? -right : right) +
                     (uint32_t)field->rows * (uint32_t)(up < 0 ? -up : up); /* 32768ths */
    return whole_steps(parts * 2u);
}

/* Sizes along the ways an effect may lie. @return 0 when a line would be too long, or the window is none. */
static int measure(struct glanz_field *field, GLANZ_CONST struct glanz_region *region, uint8_t kind) {
    uint8_t round = kind != GLANZ_SURFACE_GRID && !has_window(region);
    uint16_t columns = (region->turned & 1u) != 0 ? field->height : field->width;
    uint16_t rows = (region->turned & 1u) != 0 ? field->width : field->height;
    uint32_t grain = region->grain == 0 ? 1 : region->grain;
    field->middle_x = (glanz_place)((columns + grain - 1u) / grain) * GLANZ_HALF;
    field->middle_y = (glanz_place)((rows + grain - 1u) / grain) * GLANZ_HALF;
    columns = region->mirrored ? (uint16_t)((columns + 1u) / 2u) : columns;
    field->columns = (uint16_t)((columns + grain - 1u) / grain);
    field->rows = (uint16_t)((rows + grain - 1u) / grain);
    if (!look_through(field, region->within)) {
        return 0;
    }
    field->length = field->columns;
    if (field->mapping == GLANZ_MAPPING_ROWS || field->mapping == GLANZ_MAPPING_COLUMNS) {
        uint32_t cells = (uint32_t)field->columns * field->rows;
        field->length = (uint16_t)cells;
        return cells <= 32767u;
    }
    if (field->mapping == GLANZ_MAPPING_SLANTED) {
        field->bearing = region->bearing;
        field->length = crossing(field, region->swings, round && kind != GLANZ_SURFACE_POINTS);
        field->closed = 0;
    }
    if (field->mapping == GLANZ_MAPPING_OUTWARD || field->mapping == GLANZ_MAPPING_AROUND) {
        glanz_place x = (glanz_place)field->columns * GLANZ_HALF;
        glanz_place y = (glanz_place)field->rows * GLANZ_HALF;
        uint16_t outward = whole_steps(round ? (uint32_t)(x > y ? x : y) : glanz_distance(x, y));
        uint16_t around = (uint16_t)((((uint32_t)field->columns + field->rows) * 201u + 64u) / 128u); /* pi by mean radius */
        field->length = field->mapping == GLANZ_MAPPING_OUTWARD ? outward : around;
        if (field->mapping == GLANZ_MAPPING_AROUND) {
            field->columns = around;
            field->rows = outward;
            field->closed = 1;
        }
    }
    return 1;
}

/* LEDs that a region counts its own from: all of the surface, or of one of its pieces. */
static uint16_t leds_from(uint16_t *from, GLANZ_CONST struct glanz_surface *surface, uint8_t piece) {
    for (uint8_t i = 0; i + 1 < piece; i++) {
        *from = (uint16_t)(*from + surface->pieces[i].leds);
    }
    return piece != 0 ? surface->pieces[piece - 1].leds : glanz_surface_leds(surface);
}

int glanz_region_field(struct glanz_field *field, GLANZ_CONST struct glanz_region *region,
                       GLANZ_CONST struct glanz_surface *surface) {
    uint8_t mapping = region->mapping;
    uint8_t piece = region->piece;
    if (piece > surface->piece_count || mapping >= GLANZ_MAPPINGS || region->turned > 3) {
        return 0;
    }
    uint16_t from = 0;
    uint16_t leds = leds_from(&from, surface, piece);
    if (region->first >= leds || (uint32_t)region->first + region->leds > leds) {
        return 0;
    }
    field->first = (uint16_t)(from + region->first);
    field->leds = region->leds == 0 ? (uint16_t)(leds - region->first) : region->leds;
    field->picked = 0;
    if (region->pick_count != 0) {
        if (piece != 0 || !glanz_picks_measure(field, region, leds)) {
            return 0;
        }
    }
    uint8_t one_ring = surface->kind == GLANZ_SURFACE_RINGS && (piece != 0 || surface->piece_count == 1);
    if (mapping == GLANZ_MAPPING_OWN && (region->pick_count != 0 || surface->kind <= GLANZ_SURFACE_RING || one_ring)) {
        mapping = GLANZ_MAPPING_ALONG; /* it is a line */
    }
    field->mapping = mapping;
    field->sparse = region->stencil[0] != 0 || field->picked != 0;
    field->line = mapping == GLANZ_MAPPING_ALONG && !has_rectangle(region) && field->picked == 0 && !has_window(region);
    field->within_left = 0;
    field->within_top = 0;
    if (!rectangle_of(field, region, surface)) {
        return 0;
    }
    if (has_rectangle(region)) {
        field->sparse = 1;
        narrow(field, surface);
        if (field->leds == 0) {
            return 0;
        }
    }
    field->closed = 0;
    if (mapping == GLANZ_MAPPING_ALONG) {
        uint8_t ring = surface->kind == GLANZ_SURFACE_RING || one_ring;
        field->length = glanz_region_length(region, field->picked != 0 ? field->picked : field->leds);
        field->columns = field->length;
        field->rows = 1;
        field->closed = ring && field->leds == leds && field->picked == 0 && !region->mirrored;
        int fits = look_through(field, region->within);
        field->length = field->columns;
        return fits;
    }
    uint16_t columns;
    uint16_t rows;
    glanz_surface_field(&columns, &rows, surface);
    field->closed = surface->joined && field->width == columns && !region->mirrored && (region->turned & 1u) == 0;
    return measure(field, region, surface->kind);
}

/* ---- places in a region ---- */

/* Does the region take this LED, by its place and its stencil? */
static uint8_t takes(GLANZ_CONST struct glanz_region *region, const struct glanz_field *field, uint16_t at, glanz_place x,
                     glanz_place y) {
    if (has_rectangle(region) && !in_rectangle(field, x, y)) {
        return 0;
    }
    return (uint8_t)glanz_stencil_takes(region->stencil, (uint16_t)(at - field->first));
}

/* One place of the surface's field as the region sees it. */
static void see(glanz_place *x, glanz_place *y, GLANZ_CONST struct glanz_region *region, const struct glanz_field *field) {
    glanz_place wide = (glanz_place)field->width * GLANZ_STEP;
    glanz_place high = (glanz_place)field->height * GLANZ_STEP;
    glanz_place u = *x - (glanz_place)field->left * GLANZ_STEP;
    glanz_place v = *y - (glanz_place)field->top * GLANZ_STEP;
    glanz_place held = u;
    switch (region->turned) {
    case 1:
        u = v;
        v = wide - held;
        break;
    case 2:
        u = wide - u;
        v = high - v;
        break;
    case 3:
        u = high - v;
        v = held;
        break;
    default: break;
    }
    glanz_place span = (region->turned & 1u) != 0 ? high : wide;
    u = region->reversed ? span - u : u;
    u = region->mirrored && u > span / 2 ? span - u : u;
    if (region->grain > 1) {
        u = u / GLANZ_STEP / region->grain * GLANZ_STEP + GLANZ_HALF;
        v = v / GLANZ_STEP / region->grain * GLANZ_STEP + GLANZ_HALF;
    }
    *x = u + (glanz_place)field->within_left * GLANZ_STEP;
    *y = v + (glanz_place)field->within_top * GLANZ_STEP;
}

/* From the middle of the field: bearing times the way around, and distance. */
static void polar(glanz_place *x, glanz_place *y, const struct glanz_field *field) {
    int32_t across = *x - field->middle_x;
    int32_t down = *y - field->middle_y;
    *x = (glanz_place)((uint32_t)glanz_bearing(across, down) * field->length);
    *y = (glanz_place)glanz_distance(across, down);
}

/* Times a sine, 32768 being 1: whole steps and parts of one apart, so that 32 bits do. */
static inline int32_t times_sine(glanz_place place, int32_t sine) {
    return glanz_over(place, 16) * sine * 2 + glanz_over((place & 0xFFFF) * sine, 15);
}

/* At a bearing, from the middle of what effects see. */
static void slant(glanz_place *x, const glanz_place *y, const struct glanz_field *field, uint8_t count) {
    int32_t right = glanz_sine(field->bearing);
    int32_t up = glanz_sine((uint16_t)(field->bearing + 16384u));
    glanz_place middle_x = (glanz_place)field->columns * GLANZ_HALF;
    glanz_place middle_y = (glanz_place)field->rows * GLANZ_HALF;
    glanz_place half = (glanz_place)field->length * GLANZ_HALF;
    for (uint8_t i = 0; i < count; i++) {
        x[i] = half + times_sine(x[i] - middle_x, right) - times_sine(y[i] - middle_y, up);
    }
}

void glanz_field_line(glanz_place *x, const glanz_place *y, const struct glanz_field *field, uint8_t count) {
    if (field->mapping == GLANZ_MAPPING_SLANTED) {
        slant(x, y, field, count);
        return;
    }
    for (uint8_t i = 0; i < count; i++) {
        if (field->mapping == GLANZ_MAPPING_ROWS) {
            x[i] += y[i] / GLANZ_STEP * field->columns * GLANZ_STEP;
        } else if (field->mapping == GLANZ_MAPPING_COLUMNS) {
            x[i] = y[i] + x[i] / GLANZ_STEP * field->rows * GLANZ_STEP;
        } else if (field->mapping == GLANZ_MAPPING_OUTWARD) {
            x[i] = (glanz_place)glanz_distance(x[i] - field->middle_x, y[i] - field->middle_y);
        }
    }
}

uint8_t glanz_field_places(glanz_place *x, glanz_place *y, uint8_t *taken, GLANZ_CONST struct glanz_region *region,
                           const struct glanz_field *field, GLANZ_CONST struct glanz_surface *surface,
                           const struct glanz_stretch_of *run, uint8_t count) {
    uint8_t found = 0;
    uint8_t plain = !field->sparse;
    uint8_t moved = (uint8_t)(region->turned | region->reversed | region->mirrored | (region->grain > 1)) != 0 ||
                    field->left != 0 || field->top != 0 || field->within_left != 0 || field->within_top != 0;
    glanz_piece_places(x, y, surface, run->piece, (uint16_t)(run->at - run->before), run->backward, count);
    if (plain && !moved && field->mapping != GLANZ_MAPPING_AROUND && field->mapping != GLANZ_MAPPING_ALONG) {
        return count;
    }
    for (uint8_t i = 0; i < count; i++) {
        uint16_t at = (uint16_t)(run->backward ? run->at - i : run->at + i);
        uint16_t place = (uint16_t)(at - field->first);
        if (!plain && !(field->picked != 0 ? glanz_pick_place(&place, region, at) : takes(region, field, at, x[i], y[i]))) {
            continue;
        }
        if (field->sparse) {
            taken[found] = i;
        }
        x[found] = x[i];
        y[found] = y[i];
        if (field->mapping == GLANZ_MAPPING_ALONG) {
            glanz_region_places(&x[found], NULL, region, field->picked != 0 ? field->picked : field->leds, place, 0, 1);
            x[found] += (glanz_place)field->within_left * GLANZ_STEP;
            y[found] = (glanz_place)field->within_top * GLANZ_STEP + GLANZ_HALF;
        } else {
            see(&x[found], &y[found], region, field);
            if (field->mapping == GLANZ_MAPPING_AROUND) {
                polar(&x[found], &y[found], field);
            }
        }
        found++;
    }
    return found;
}

#endif
