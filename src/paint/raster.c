/* SPDX-License-Identifier: MIT */
/* A small picture in light that an effect draws on, with sub-pixel tools that add light, and hands out samples of. */
#include <string.h>

#include <glanz/paint.h>

#if GLANZ_FIELDS

void glanz_raster_fill(const struct glanz_raster *raster, struct glanz_light light) {
    uint32_t count = (uint32_t)raster->columns * raster->rows;
    struct glanz_light *cell = raster->cells;
    if ((count & 1u) != 0) {
        glanz_light_put(cell++, light.red, light.green, light.blue);
    }
    for (const struct glanz_light *end = raster->cells + count; cell != end; cell += 2) {
        glanz_light_put(&cell[0], light.red, light.green, light.blue);
        glanz_light_put(&cell[1], light.red, light.green, light.blue);
    }
}

static uint16_t plus(uint16_t a, uint32_t b) {
    uint32_t sum = a + b;
    return (uint16_t)(sum > 65535u ? 65535u : sum);
}

/* Some of a light onto a cell. @param level 0 to 65536 */
static void add(const struct glanz_raster *raster, int32_t column, int32_t row, const struct glanz_light *light,
                uint32_t level) {
    if (level == 0 || (uint32_t)column >= raster->columns || (uint32_t)row >= raster->rows) {
        return;
    }
    struct glanz_light *cell = &raster->cells[(uint32_t)row * raster->columns + (uint32_t)column];
    cell->red = plus(cell->red, glanz_gain16(light->red, level));
    cell->green = plus(cell->green, glanz_gain16(light->green, level));
    cell->blue = plus(cell->blue, glanz_gain16(light->blue, level));
}

void glanz_raster_dot(const struct glanz_raster *raster, glanz_place x, glanz_place y, struct glanz_light light,
                      uint32_t level) {
    int32_t left = x - GLANZ_HALF; /* the cell whose middle is not right of it, and how far it is on to the next */
    int32_t top = y - GLANZ_HALF;
    int32_t column = left >= 0 ? left / GLANZ_STEP : -((GLANZ_STEP - 1 - left) / GLANZ_STEP);
    int32_t row = top >= 0 ? top / GLANZ_STEP : -((GLANZ_STEP - 1 - top) / GLANZ_STEP);
    uint32_t right = (uint32_t)(left - column * GLANZ_STEP);
    uint32_t down = (uint32_t)(top - row * GLANZ_STEP);
    uint32_t above = glanz_share_of(level, 65536u - down);
    uint32_t below = level - above;
    uint32_t above_right = glanz_share_of(above, right);
    uint32_t below_right = glanz_share_of(below, right);
    add(raster, column, row, &light, above - above_right);
    add(raster, column + 1, row, &light, above_right);
    add(raster, column, row + 1, &light, below - below_right);
    add(raster, column + 1, row + 1, &light, below_right);
}

/* A stroke from one point to another: where it begins and ends, and a unit vector along it, of 15 bits. */
struct stroke {
    const glanz_place *ends; /* x, y; x, y */
    uint32_t length;
    int32_t ux, uy;
};

static struct stroke stroke_of(const glanz_place ends[4]) {
    int32_t dx = ends[2] - ends[0];
    int32_t dy = ends[3] - ends[1];
    struct stroke line = {ends, (dx | dy) == 0 ? 0 : glanz_distance(dx, dy), 0, 0};
    if (line.length >= 256) {
        line.ux = (int32_t)((int64_t)dx * 32768 / (int64_t)line.length);
        line.uy = (int32_t)((int64_t)dy * 32768 / (int64_t)line.length);
    }
    return line;
}

/* How far a point is from a stroke. */
static uint32_t away(int32_t x, int32_t y, const struct stroke *line) {
    int32_t px = x - line->ends[0];
    int32_t py = y - line->ends[1];
    if (line->length < 256) {
        return glanz_distance(px, py);
    }
    int64_t along = ((int64_t)px * line->ux + (int64_t)py * line->uy) / 32768;
    if (along <= 0) {
        return glanz_distance(px, py);
    }
    if (along >= (int64_t)line->length) {
        return glanz_distance(x - line->ends[2], y - line->ends[3]);
    }
    int64_t across = ((int64_t)py * line->ux - (int64_t)px * line->uy) / 32768;
    return (uint32_t)(across < 0 ? -across : across);
}

void glanz_raster_line(const struct glanz_raster *raster, const glanz_place ends[4], glanz_place width,
                       struct glanz_light light, uint32_t level) {
    const struct stroke line = stroke_of(ends);
    glanz_place half = width / 2;
    glanz_place reach = half + GLANZ_HALF;
    glanz_place left = (ends[0] < ends[2] ? ends[0] : ends[2]) - reach;
    glanz_place right = (ends[0] > ends[2] ? ends[0] : ends[2]) + reach;
    glanz_place top = (ends[1] < ends[3] ? ends[1] : ends[3]) - reach;
    glanz_place bottom = (ends[1] > ends[3] ? ends[1] : ends[3]) + reach;
    int32_t first = left < 0 ? 0 : left / GLANZ_STEP;
    int32_t last = right / GLANZ_STEP >= raster->columns ? raster->columns - 1 : right < 0 ? -1 : right / GLANZ_STEP;
    int32_t below = bottom / GLANZ_STEP >= raster->rows ? raster->rows - 1 : bottom < 0 ? -1 : bottom / GLANZ_STEP;
    for (int32_t row = top < 0 ? 0 : top / GLANZ_STEP; row <= below; row++) {
        for (int32_t column = first; column <= last; column++) {
            /* a cell is one wide: of one whose middle is so far off, this much is covered */
            int32_t over = reach - (int32_t)away(column * GLANZ_STEP + GLANZ_HALF, row * GLANZ_STEP + GLANZ_HALF, &line);
            int32_t most = width < GLANZ_STEP ? width : GLANZ_STEP;
            over = over < 0 ? 0 : over > most ? most : over;
            add(raster, column, row, &light, glanz_share_of((uint32_t)over, level));
        }
    }
}

static const struct glanz_light *cell_at(const struct glanz_raster *raster, int32_t column, int32_t row) {
    column = column < 0 ? 0 : column >= raster->columns ? raster->columns - 1 : column;
    row = row < 0 ? 0 : row >= raster->rows ? raster->rows - 1 : row;
    return &raster->cells[(uint32_t)row * raster->columns + (uint32_t)column];
}

struct glanz_light glanz_raster_at(const struct glanz_raster *raster, glanz_place x, glanz_place y) {
    int32_t left = x - GLANZ_HALF < 0 ? 0 : x - GLANZ_HALF;
    int32_t top = y - GLANZ_HALF < 0 ? 0 : y - GLANZ_HALF;
    int32_t column = left / GLANZ_STEP;
    int32_t row = top / GLANZ_STEP;
    uint32_t right = (uint32_t)left & 0xFFFFu;
    uint32_t down = (uint32_t)top & 0xFFFFu;
    const struct glanz_light *cell = cell_at(raster, column, row);
    struct glanz_light light;
    if ((right | down) == 0) { /* the middle of a cell, as most LEDs are */
        glanz_light_put(&light, cell->red, cell->green, cell->blue);
        return light;
    }
    light = glanz_light_mix(*cell, *cell_at(raster, column + 1, row), right);
    return down == 0
               ? light
               : glanz_light_mix(
                     light, glanz_light_mix(*cell_at(raster, column, row + 1), *cell_at(raster, column + 1, row + 1), right),
                     down);
}

void glanz_raster_run(struct glanz_light *light, const struct glanz_raster *raster, const glanz_place *x, const glanz_place *y,
                      uint8_t count) {
    const struct glanz_light *row = raster->cells;
    uint32_t wide = 0; /* of the row of cells that lies where `lies` is, as most LEDs do; 0: none does */
    glanz_place lies = INT32_MIN;
    for (const struct glanz_light *end = light + count; light != end; light++, x++, y++) {
        uint32_t left = (uint32_t)*x - GLANZ_HALF;
        if (*y != lies) {
            lies = *y;
            uint32_t down = (uint32_t)lies - GLANZ_HALF;
            wide = (down & 0xFFFFu) == 0 && down >> 16 < raster->rows ? (uint32_t)raster->columns << 16 : 0;
            row = wide != 0 ? raster->cells + (down >> 16) * raster->columns : row;
        }
        if (left < wide && (left & 0xFFFFu) == 0) {
            const struct glanz_light *cell = &row[left >> 16];
            glanz_light_put(light, cell->red, cell->green, cell->blue);
        } else {
            struct glanz_light at = glanz_raster_at(raster, *x, *y);
            glanz_light_put(light, at.red, at.green, at.blue);
        }
    }
}

#endif
