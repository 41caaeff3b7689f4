/* SPDX-License-Identifier: MIT */
/* Pictures as compact bytes: "GI", 1, bits of an index; columns, rows, frames, colours (two bytes each, little-endian); the
 * palette, four bytes a colour; for each frame its milliseconds and runs; CRC-32 of all before it.
 *
 * A run begins with a byte: its upper two bits say what, n is the lower six and one.
 *   0  n points, as indices packed from the lowest bit
 *   1  n points of the index in the next byte
 *   2  n points as they were: in the frame before; in the first frame, in the row above
 *   3  as 2, of 256 (n - 1) + the next byte + 1 points */
#include <glanz/paint.h>

#if GLANZ_FIELDS

#define HEAD 12u

static uint32_t get16(GLANZ_CONST uint8_t *bytes, uint32_t at) {
    return (uint32_t)bytes[at] | (uint32_t)bytes[at + 1] << 8;
}

static uint8_t bits_of(uint16_t colors) {
    return colors <= 2 ? 1 : colors <= 4 ? 2 : colors <= 16 ? 4 : 8;
}

/* How many points a run is, and how many bytes. @return 0 when it is cut short. */
static uint32_t run_size(uint32_t *bytes_taken, GLANZ_CONST uint8_t *bytes, uint32_t at, uint32_t end, uint8_t bits) {
    if (at >= end) {
        return 0;
    }
    uint32_t n = (bytes[at] & 63u) + 1u;
    uint8_t what = bytes[at] >> 6;
    *bytes_taken = what == 0 ? 1u + (n * bits + 7u) / 8u : what == 2 ? 1u : 2u;
    if (*bytes_taken > end - at) {
        return 0;
    }
    return what == 3 ? (n - 1u) * 256u + bytes[at + 1] + 1u : n;
}

static uint8_t packed(GLANZ_CONST uint8_t *bytes, uint32_t at, uint32_t index, uint8_t bits) {
    uint32_t bit = index * bits;
    return (uint8_t)(bytes[at + bit / 8u] >> (bit & 7u) & (uint8_t)((1u << bits) - 1u));
}

/* Is a frame whole? @return the byte after it, or 0. */
static uint32_t check_frame(const struct glanz_picture_head *head, GLANZ_CONST uint8_t *bytes, uint32_t at, uint32_t end) {
    uint8_t bits = bits_of(head->colors);
    uint32_t left = (uint32_t)head->columns * head->rows;
    if (at + 2u > end) {
        return 0;
    }
    at += 2;
    while (left != 0) {
        uint32_t taken = 0;
        uint32_t n = run_size(&taken, bytes, at, end, bits);
        if (n == 0 || n > left) {
            return 0;
        }
        uint8_t what = bytes[at] >> 6;
        for (uint32_t i = 0; what == 0 && i < n; i++) {
            if (packed(bytes, at + 1u, i, bits) >= head->colors) {
                return 0;
            }
        }
        if (what == 1 && bytes[at + 1] >= head->colors) {
            return 0;
        }
        at += taken;
        left -= n;
    }
    return at;
}

static uint32_t crc_of(GLANZ_CONST uint8_t *bytes, uint32_t count) {
#ifdef __AVR__ /* byte by byte out of flash */
    uint32_t crc = 0;
    for (uint32_t i = 0; i < count; i++) {
        uint8_t byte = bytes[i];
        crc = glanz_crc32(crc, &byte, 1);
    }
    return crc;
#else
    return glanz_crc32(0, bytes, count);
#endif
}

glanz_status glanz_picture_open(struct glanz_picture_head *head, GLANZ_CONST uint8_t *bytes, uint32_t count, uint8_t whole) {
    if (head == NULL || bytes == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (count < HEAD + 4u || bytes[0] != 'G' || bytes[1] != 'I' || bytes[2] != 1) {
        return GLANZ_ERR_DAMAGED;
    }
    head->columns = (uint16_t)get16(bytes, 4);
    head->rows = (uint16_t)get16(bytes, 6);
    head->frames = (uint16_t)get16(bytes, 8);
    head->colors = (uint16_t)get16(bytes, 10);
    head->first = HEAD + 4u * head->colors;
    if (head->columns == 0 || head->columns > GLANZ_PICTURE_MOST || head->rows == 0 || head->rows > GLANZ_PICTURE_MOST ||
        head->frames == 0 || head->frames > GLANZ_PICTURE_FRAMES || head->colors == 0 || head->colors > 256 ||
        bytes[3] != bits_of(head->colors) || head->first + 4u > count) {
        return GLANZ_ERR_DAMAGED;
    }
    uint32_t end = count - 4u;
    uint32_t at = head->first;
    for (uint16_t i = 0; whole && i < head->frames; i++) {
        at = check_frame(head, bytes, at, end);
        if (at == 0) {
            return GLANZ_ERR_DAMAGED;
        }
    }
    if (whole && (at != end || (whole == 1 && crc_of(bytes, end) != (get16(bytes, end) | get16(bytes, end + 2u) << 16)))) {
        return GLANZ_ERR_DAMAGED;
    }
    return GLANZ_OK;
}

uint16_t glanz_picture_frame(uint8_t *points, uint32_t *at, const struct glanz_picture_head *head, GLANZ_CONST uint8_t *bytes,
                             uint8_t first) {
    uint8_t bits = bits_of(head->colors);
    uint32_t all = (uint32_t)head->columns * head->rows;
    uint32_t from = *at + 2u;
    uint16_t ms = (uint16_t)get16(bytes, *at);
    for (uint32_t done = 0; done < all;) {
        uint32_t taken = 0;
        uint32_t n = run_size(&taken, bytes, from, 0xFFFFFFFFu, bits);
        uint8_t what = bytes[from] >> 6;
        n = n > all - done ? all - done : n;
        for (uint32_t i = 0; i < n && (what < 2 || first); i++, done++) {
            if (what == 0) {
                points[done] = packed(bytes, from + 1u, i, bits);
            } else if (what == 1) {
                points[done] = bytes[from + 1u];
            } else {
                points[done] = done < head->columns ? 0 : points[done - head->columns];
            }
        }
        done += what < 2 || first ? 0 : n;
        from += taken;
    }
    *at = from;
    return ms;
}

struct glanz_light glanz_picture_light(uint16_t *cover, GLANZ_CONST uint8_t *bytes, uint8_t index) {
    GLANZ_CONST uint8_t *color = bytes + HEAD + 4u * index;
    struct glanz_light light = {glanz_linear(color[0]), glanz_linear(color[1]), glanz_linear(color[2])};
    *cover = (uint16_t)(color[3] * 257u);
    return color[3] == 255 ? light : glanz_light_scale(light, (uint32_t)*cover + (*cover >> 15));
}

/* ---- packing ---- */

struct packer {
    uint8_t *bytes;
    uint32_t count, capacity;
};

static void put(struct packer *packer, uint32_t byte) {
    if (packer->count < packer->capacity) {
        packer->bytes[packer->count] = (uint8_t)byte;
    }
    packer->count++;
}

static void put16(struct packer *packer, uint32_t number) {
    put(packer, number & 255u);
    put(packer, number >> 8);
}

static uint8_t as_before(const uint8_t *points, const uint8_t *before, uint32_t at, uint16_t columns) {
    uint8_t was = before != NULL ? before[at] : at < columns ? 0 : points[at - columns];
    return points[at] == was;
}

static uint32_t keep_length(const uint8_t *points, const uint8_t *before, uint32_t at, uint32_t all, uint16_t columns) {
    uint32_t n = 0;
    while (at + n < all && n < 16384u && as_before(points, before, at + n, columns)) {
        n++;
    }
    return n;
}

static uint32_t same_length(const uint8_t *points, uint32_t at, uint32_t all) {
    uint32_t n = 1;
    while (at + n < all && n < 64u && points[at + n] == points[at]) {
        n++;
    }
    return n;
}

static void put_points(struct packer *packer, const uint8_t *points, uint32_t n, uint8_t bits) {
    uint32_t byte = 0;
    uint8_t filled = 0;
    put(packer, n - 1u);
    for (uint32_t i = 0; i < n; i++) {
        byte |= (uint32_t)points[i] << filled;
        filled = (uint8_t)(filled + bits);
        if (filled == 8 || i + 1 == n) {
            put(packer, byte);
            byte = 0;
            filled = 0;
        }
    }
}

static void pack_frame(struct packer *packer, const uint8_t *points, const uint8_t *before, uint32_t all, uint16_t columns,
                       uint8_t bits) {
    uint32_t at = 0;
    uint32_t loose = 0; /* points before `at` that are not in a run yet */
    while (at < all) {
        uint32_t keep = keep_length(points, before, at, all, columns);
        uint32_t same = same_length(points, at, all);
        uint8_t keeps = keep * bits >= 12u && keep >= same;
        uint8_t repeats = same * bits >= 20u || (keeps && keep < same);
        keeps = keeps || at + keep == all; /* a rest that stays as it is */
        if (loose != 0 && (keeps || repeats || loose == 64u)) {
            put_points(packer, points + at - loose, loose, bits);
            loose = 0;
        }
        if (keeps) {
            put(packer, keep <= 64u ? 0x80u | (keep - 1u) : 0xC0u | (keep - 1u) >> 8);
            if (keep > 64u) {
                put(packer, (keep - 1u) & 255u);
            }
            at += keep;
        } else if (repeats) {
            put(packer, 0x40u | (same - 1u));
            put(packer, points[at]);
            at += same;
        } else {
            loose++;
            at++;
        }
    }
    if (loose != 0) {
        put_points(packer, points + at - loose, loose, bits);
    }
}

uint32_t glanz_picture_pack(uint8_t *bytes, uint32_t capacity, const struct glanz_picture_head *head, const uint8_t *palette,
                            const uint8_t *points, const uint16_t *ms) {
    struct packer packer = {bytes, 0, capacity};
    if (bytes == NULL || head == NULL || palette == NULL || points == NULL || ms == NULL || head->columns == 0 ||
        head->columns > GLANZ_PICTURE_MOST || head->rows == 0 || head->rows > GLANZ_PICTURE_MOST || head->frames == 0 ||
        head->frames > GLANZ_PICTURE_FRAMES || head->colors == 0 || head->colors > 256) {
        return 0;
    }
    uint32_t all = (uint32_t)head->columns * head->rows;
    put(&packer, 'G');
    put(&packer, 'I');
    put(&packer, 1);
    put(&packer, bits_of(head->colors));
    put16(&packer, head->columns);
    put16(&packer, head->rows);
    put16(&packer, head->frames);
    put16(&packer, head->colors);
    for (uint32_t i = 0; i < 4u * head->colors; i++) {
        put(&packer, palette[i]);
    }
    for (uint16_t i = 0; i < head->frames; i++) {
        put16(&packer, ms[i]);
        pack_frame(&packer, points + i * all, i == 0 ? NULL : points + (i - 1u) * all, all, head->columns,
                   bits_of(head->colors));
    }
    if (packer.count + 4u > capacity) {
        return 0;
    }
    uint32_t crc = glanz_crc32(0, bytes, (size_t)packer.count);
    put16(&packer, crc & 0xFFFFu);
    put16(&packer, crc >> 16);
    return packer.count;
}

#endif
