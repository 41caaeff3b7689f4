/* SPDX-License-Identifier: MIT */
/* BDF, line by line. A glyph becomes as many columns as it advances, or as its ink needs. */
#include "bdf.h"

#include <stdlib.h>
#include <string.h>

#define GLYPHS_MOST 20000
#define COLUMNS_MOST 65000u
#define WIDTH_MOST 64

struct glyph {
    long code, advance, width, height, left, bottom;
    uint8_t rows[256][(WIDTH_MOST + 7) / 8];
};

struct reader {
    const char *at, *end;
    char line[512];
    uint32_t number; /* of the line */
    struct glanz_fault *fault;
    int failed;
};

static void fail(struct reader *reader, const char *text) {
    if (!reader->failed) {
        reader->failed = 1;
        glanz_fault_begin(reader->fault);
        glanz_fault_add(reader->fault, text);
        if (reader->fault != NULL) {
            reader->fault->line = reader->number;
            reader->fault->column = 1;
        }
    }
}

/* The next line that is no comment. @return 0 at the end. */
static int next_line(struct reader *reader) {
    while (!reader->failed && reader->at < reader->end) {
        const char *stop = (const char *)memchr(reader->at, '\n', (size_t)(reader->end - reader->at));
        size_t length = (size_t)((stop == NULL ? reader->end : stop) - reader->at);
        const char *from = reader->at;
        reader->at += length + (stop != NULL);
        reader->number++;
        length -= length > 0 && from[length - 1] == '\r';
        if (length >= sizeof reader->line || memchr(from, '\0', length) != NULL) {
            fail(reader, "the line is too long or not text; expected BDF 2.1");
            return 0;
        }
        memcpy(reader->line, from, length);
        reader->line[length] = '\0';
        if (strncmp(reader->line, "COMMENT", 7) != 0 && length != 0) {
            return 1;
        }
    }
    return 0;
}

static int is_key(const struct reader *reader, const char *key) {
    size_t length = strlen(key);
    return strncmp(reader->line, key, length) == 0 && (reader->line[length] == ' ' || reader->line[length] == '\0');
}

/* Whole numbers after the key. */
static void numbers(struct reader *reader, long *number, int count, long least, long most) {
    char *at = strchr(reader->line, ' ');
    for (int i = 0; i < count; i++) {
        char *from = at;
        number[i] = at == NULL ? 0 : strtol(at, &at, 10);
        if (at == from || number[i] < least || number[i] > most) {
            fail(reader, "expected whole numbers here, and not so large ones");
            number[i] = 0;
            return;
        }
    }
}

static void read_bits(struct reader *reader, struct glyph *glyph) {
    for (long row = 0; row < glyph->height; row++) {
        if (!next_line(reader)) {
            fail(reader, "the file ends in the middle of a glyph; expected a row of bits");
            return;
        }
        long digits = (glyph->width + 7) / 8 * 2;
        if ((long)strspn(reader->line, "0123456789abcdefABCDEF") != (long)strlen(reader->line) ||
            (long)strlen(reader->line) < digits) {
            fail(reader, "expected a row of hexadecimal digits, two for each eight columns of the glyph's BBX");
            return;
        }
        for (long i = 0; i < digits / 2; i++) {
            char two[3] = {reader->line[2 * i], reader->line[2 * i + 1], '\0'};
            glyph->rows[row][i] = (uint8_t)strtoul(two, NULL, 16);
        }
    }
}

/* From after STARTCHAR to ENDCHAR. */
static void read_glyph(struct reader *reader, struct glyph *glyph) {
    long box[4] = {0, 0, 0, 0};
    int has_box = 0;
    int has_bits = 0;
    memset(glyph, 0, sizeof *glyph);
    glyph->code = -1;
    glyph->advance = -1;
    while (next_line(reader) && !is_key(reader, "ENDCHAR")) {
        if (is_key(reader, "ENCODING")) {
            numbers(reader, &glyph->code, 1, -1, 0x10FFFF);
        } else if (is_key(reader, "DWIDTH")) {
            numbers(reader, &glyph->advance, 1, 0, WIDTH_MOST);
        } else if (is_key(reader, "BBX")) {
            numbers(reader, box, 4, -WIDTH_MOST, WIDTH_MOST);
            if (box[0] < 0 || box[1] < 0) {
                fail(reader, "expected a BBX of 0 to 64 columns and rows");
            }
            glyph->width = box[0];
            glyph->height = box[1];
            glyph->left = box[2];
            glyph->bottom = box[3];
            has_box = !reader->failed;
        } else if (is_key(reader, "BITMAP")) {
            if (!has_box) {
                fail(reader, "expected BBX before BITMAP");
                return;
            }
            read_bits(reader, glyph);
            has_bits = 1;
        } else if (is_key(reader, "STARTCHAR") || is_key(reader, "ENDFONT")) {
            fail(reader, "expected ENDCHAR before this");
            return;
        }
    }
    if (!is_key(reader, "ENDCHAR") || !has_bits) {
        fail(reader, "the file ends in the middle of a glyph; expected ENCODING, DWIDTH, BBX, BITMAP and ENDCHAR");
    }
    glyph->advance = glyph->advance < 0 ? glyph->left + glyph->width : glyph->advance;
}

struct row_of { /* glyphs sorted by code */
    long code;
    uint32_t start, columns;
};

static int by_code(const void *a, const void *b) {
    long one = ((const struct row_of *)a)->code;
    long other = ((const struct row_of *)b)->code;
    return one < other ? -1 : one > other;
}

static int is_ink(const struct glyph *glyph, long column, long row) {
    return column >= 0 && column < glyph->width && row >= 0 && row < glyph->height &&
           (glyph->rows[row][column / 8] >> (7 - column % 8) & 1) != 0;
}

struct building {
    struct row_of *rows;
    uint8_t *bits;
    uint32_t count, columns;
    long ascent, descent;
    unsigned left_out;
};

/* A glyph's columns behind the others. */
static void add_glyph(struct reader *reader, struct building *building, const struct glyph *glyph) {
    long high = building->ascent + building->descent;
    long bytes = (high + 7) / 8;
    long shift = glyph->left < 0 ? -glyph->left : 0; /* ink that begins before its place */
    long ink = glyph->left + shift + glyph->width;
    long columns = ink > glyph->advance ? ink : glyph->advance;
    if (glyph->code < 0 || glyph->code > 0xFFFF) {
        building->left_out++;
        return;
    }
    if (building->count == GLYPHS_MOST || building->columns + (uint32_t)columns > COLUMNS_MOST) {
        fail(reader, "more glyphs than a font may have; expected at most 20000, 65000 columns together");
        return;
    }
    if (columns == 0) {
        building->left_out++;
        return;
    }
    struct row_of *row = &building->rows[building->count++];
    row->code = glyph->code;
    row->start = building->columns;
    row->columns = (uint32_t)columns;
    for (long x = 0; x < columns; x++) {
        uint8_t *column = building->bits + (building->columns + (uint32_t)x) * (uint32_t)bytes;
        for (long y = 0; y < high; y++) {
            long of_glyph = y - (building->ascent - glyph->bottom - glyph->height);
            if (is_ink(glyph, x - glyph->left - shift, of_glyph)) {
                column[y / 8] = (uint8_t)(column[y / 8] | 1u << (y % 8));
            }
        }
    }
    building->columns += (uint32_t)columns;
}

static void finish(struct bdf *bdf, struct building *building, struct reader *reader) {
    size_t bytes = (size_t)(building->ascent + building->descent + 7) / 8;
    qsort(building->rows, building->count, sizeof *building->rows, by_code);
    bdf->codes = (uint16_t *)calloc(building->count + 1u, sizeof *bdf->codes);
    bdf->starts = (uint16_t *)calloc(building->count + 1u, sizeof *bdf->starts);
    bdf->bits = (uint8_t *)calloc(building->columns + 1u, bytes);
    if (bdf->codes == NULL || bdf->starts == NULL || bdf->bits == NULL) {
        fail(reader, "out of memory");
        return;
    }
    uint32_t at = 0;
    for (uint32_t i = 0; i < building->count; i++) {
        if (i > 0 && building->rows[i].code == building->rows[i - 1].code) {
            fail(reader, "two glyphs have the same ENCODING; expected each code once");
            return;
        }
        bdf->codes[i] = (uint16_t)building->rows[i].code;
        bdf->starts[i] = (uint16_t)at;
        memcpy(bdf->bits + at * bytes, building->bits + building->rows[i].start * bytes, building->rows[i].columns * bytes);
        at += building->rows[i].columns;
    }
    bdf->starts[building->count] = (uint16_t)at;
    bdf->left_out = building->left_out;
    bdf->font.name = "font";
    bdf->font.rows = (uint8_t)(building->ascent + building->descent);
    bdf->font.rise = (uint8_t)building->ascent;
    bdf->font.count = (uint16_t)building->count;
    bdf->font.codes = bdf->codes;
    bdf->font.starts = bdf->starts;
    bdf->font.bits = bdf->bits;
}

glanz_status bdf_read(struct bdf *bdf, const char *bytes, size_t count, struct glanz_fault *fault) {
    struct reader reader = {bytes, bytes + count, "", 0, fault, 0};
    struct building building = {NULL, NULL, 0, 0, -1, -1, 0};
    struct glyph *glyph = (struct glyph *)malloc(sizeof *glyph);
    memset(bdf, 0, sizeof *bdf);
    building.rows = (struct row_of *)calloc(GLYPHS_MOST, sizeof *building.rows);
    building.bits = (uint8_t *)calloc(COLUMNS_MOST, 4);
    if (glyph == NULL || building.rows == NULL || building.bits == NULL) {
        fail(&reader, "out of memory");
    } else if (!next_line(&reader) || !is_key(&reader, "STARTFONT")) {
        fail(&reader, "expected STARTFONT: a BDF file");
    }
    int ended = 0;
    while (!ended && next_line(&reader)) {
        if (is_key(&reader, "FONT_ASCENT")) {
            numbers(&reader, &building.ascent, 1, 1, 32);
        } else if (is_key(&reader, "FONT_DESCENT")) {
            numbers(&reader, &building.descent, 1, 0, 31);
        } else if (is_key(&reader, "STARTCHAR")) {
            if (building.ascent < 1 || building.descent < 0 || building.ascent + building.descent > 32) {
                fail(&reader, "expected FONT_ASCENT and FONT_DESCENT before the glyphs, 32 rows at the most together");
                break;
            }
            read_glyph(&reader, glyph);
            if (!reader.failed) {
                add_glyph(&reader, &building, glyph);
            }
        } else if (is_key(&reader, "ENDFONT")) {
            ended = 1;
        }
    }
    if (!ended) {
        fail(&reader, "the file ends too early; expected ENDFONT");
    } else if (building.count == 0) {
        fail(&reader, "no glyph with a code in this font; expected at least one");
    }
    if (!reader.failed) {
        finish(bdf, &building, &reader);
    }
    free(glyph);
    free(building.rows);
    free(building.bits);
    if (reader.failed) {
        bdf_free(bdf);
    }
    return reader.failed ? GLANZ_ERR_TEXT : GLANZ_OK;
}

void bdf_free(struct bdf *bdf) {
    free(bdf->codes);
    free(bdf->starts);
    free(bdf->bits);
    memset(bdf, 0, sizeof *bdf);
}
