/* SPDX-License-Identifier: MIT */
/* Base: distances, bearings and noise in the plane. Pure functions. */
#include <glanz/base.h>

uint16_t glanz_root(uint32_t number) {
    uint32_t root = 0;
    for (uint32_t bit = 0x40000000u; bit != 0; bit >>= 2) { /* digit by digit, base 4 */
        if (number >= root + bit) {
            number -= root + bit;
            root = (root >> 1) + bit;
        } else {
            root >>= 1;
        }
    }
    return (uint16_t)root;
}

static uint32_t size_of(int32_t number) {
    return number < 0 ? 0u - (uint32_t)number : (uint32_t)number;
}

uint32_t glanz_distance(int32_t across, int32_t down) {
    uint32_t a = size_of(across);
    uint32_t b = size_of(down);
    uint32_t most = a | b;
    uint8_t shift = 0;
    while (most > 32767u) {
        most >>= 1;
        shift++;
    }
    a >>= shift;
    b >>= shift;
    return (uint32_t)glanz_root(a * a + b * b) << shift;
}

/* atan(i / 32) in 65536ths of a turn */
static GLANZ_CONST uint16_t arcs[33] = {0,    326,  651,  975,  1297, 1617, 1933, 2246, 2555, 2860, 3159,
                                        3453, 3742, 4025, 4302, 4572, 4836, 5094, 5344, 5589, 5826, 6058,
                                        6282, 6500, 6712, 6917, 7117, 7310, 7498, 7679, 7856, 8026, 8192};

uint16_t glanz_bearing(int32_t across, int32_t down) {
    uint32_t a = size_of(across);
    uint32_t b = size_of(down);
    uint8_t steep = b > a; /* nearer to up or down */
    if ((a | b) == 0) {
        return 0;
    }
    uint32_t ratio = steep ? glanz_ratio(a, b) : glanz_ratio(b, a);
    uint16_t i = (uint16_t)(ratio >> 11);
    uint16_t arc = arcs[i];
    if (i < 32) {
        arc = (uint16_t)(arc + ((((uint32_t)arcs[i + 1] - arc) * (ratio & 2047u) + 1024u) >> 11));
    }
    arc = steep ? arc : (uint16_t)(16384u - arc); /* from the upright */
    arc = down > 0 ? (uint16_t)(32768u - arc) : arc;
    return across < 0 ? (uint16_t)(0u - arc) : arc;
}

static int16_t corner_of(const struct glanz_noise *noise, int16_t x, int16_t y) {
    if (noise->period_x != 0) {
        x = (int16_t)(x % (int16_t)noise->period_x);
        x = (int16_t)(x < 0 ? x + (int16_t)noise->period_x : x);
    }
    uint32_t hash = glanz_hash(noise->seed ^ ((uint32_t)(uint16_t)x << 16 | (uint16_t)y));
    return glanz_sine((uint16_t)(hash + noise->turn)); /* in the plane of phases all are alike */
}

/* 3f^2 - 2f^3, for 16 bits */
static uint16_t smooth(uint16_t f) {
    uint32_t square = ((uint32_t)f * f) >> 16;
    return (uint16_t)((square * (196608u - 2u * (uint32_t)f)) >> 16);
}

static int32_t between(int32_t a, int32_t b, uint16_t f) { /* both within 16 bits: the product within 32 */
    return a + (int32_t)(((b - a) / 2 * (int32_t)(f >> 1)) / 16384);
}

int16_t glanz_noise_at(struct glanz_noise *noise, int32_t x, int32_t y) {
    uint32_t shifted_x = (uint32_t)x + 0x80000000u; /* floors alike on every compiler */
    uint32_t shifted_y = (uint32_t)y + 0x80000000u;
    int16_t cell_x = (int16_t)((int32_t)(shifted_x >> 16) - 32768);
    int16_t cell_y = (int16_t)((int32_t)(shifted_y >> 16) - 32768);
    if (!noise->known || cell_x != noise->cell_x || cell_y != noise->cell_y) {
        noise->known = 1;
        noise->cell_x = cell_x;
        noise->cell_y = cell_y;
        for (uint8_t i = 0; i < 4; i++) {
            noise->corner[i] = corner_of(noise, (int16_t)(cell_x + (i & 1)), (int16_t)(cell_y + (i >> 1)));
        }
    }
    uint16_t u = smooth((uint16_t)shifted_x);
    int32_t upper = between(noise->corner[0], noise->corner[1], u);
    int32_t lower = between(noise->corner[2], noise->corner[3], u);
    return (int16_t)between(upper, lower, smooth((uint16_t)shifted_y));
}
