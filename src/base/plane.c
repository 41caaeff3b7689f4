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

/* Square roots of 64 to 256 256ths, in 65536ths but one for the last. */
static GLANZ_CONST uint16_t roots[193] = {
    32768, 33023, 33276, 33527, 33776, 34024, 34270, 34514, 34756, 34996, 35235, 35472, 35708, 35942, 36175, 36406, 36636,
    36864, 37091, 37316, 37540, 37763, 37985, 38205, 38424, 38642, 38858, 39073, 39287, 39500, 39712, 39923, 40132, 40341,
    40548, 40755, 40960, 41164, 41368, 41570, 41771, 41972, 42171, 42369, 42567, 42763, 42959, 43154, 43348, 43541, 43733,
    43925, 44115, 44305, 44494, 44682, 44869, 45056, 45242, 45427, 45611, 45795, 45977, 46160, 46341, 46522, 46702, 46881,
    47059, 47237, 47415, 47591, 47767, 47942, 48117, 48291, 48465, 48637, 48809, 48981, 49152, 49322, 49492, 49661, 49830,
    49998, 50166, 50332, 50499, 50665, 50830, 50995, 51159, 51323, 51486, 51649, 51811, 51972, 52134, 52294, 52454, 52614,
    52773, 52932, 53090, 53248, 53405, 53562, 53719, 53874, 54030, 54185, 54340, 54494, 54647, 54801, 54954, 55106, 55258,
    55410, 55561, 55712, 55862, 56012, 56162, 56311, 56459, 56608, 56756, 56903, 57051, 57198, 57344, 57490, 57636, 57781,
    57926, 58071, 58215, 58359, 58503, 58646, 58789, 58931, 59073, 59215, 59357, 59498, 59639, 59779, 59919, 60059, 60199,
    60338, 60477, 60615, 60753, 60891, 61029, 61166, 61303, 61440, 61576, 61712, 61848, 61984, 62119, 62254, 62388, 62523,
    62657, 62790, 62924, 63057, 63190, 63323, 63455, 63587, 63719, 63850, 63982, 64113, 64243, 64374, 64504, 64634, 64763,
    64893, 65022, 65151, 65279, 65408, 65535};

/* How many bits a number has. */
static uint_fast8_t bits_of(uint32_t number) {
    static GLANZ_CONST uint8_t bits[16] = {0, 1, 2, 2, 3, 3, 3, 3, 4, 4, 4, 4, 4, 4, 4, 4};
    uint_fast8_t more = 0;
    while (number > 15u) {
        number >>= 4;
        more = (uint_fast8_t)(more + 4u);
    }
    return (uint_fast8_t)(bits[number] + more);
}

uint32_t glanz_distance(int32_t across, int32_t down) {
    uint32_t a = size_of(across);
    uint32_t b = size_of(down);
    uint32_t most = a | b;
    uint_fast8_t shift = bits_of(most >> 15); /* that brings both below 2^15 */
    a >>= shift;
    b >>= shift;
    uint32_t square = a * a + b * b;
    uint_fast8_t half = 0;     /* bits that the root is moved by, to bring the square to 2^30 and more */
    if (square >> 28 == 0) {   /* none of long ways */
        if (square < 65536u) { /* short ones, exactly */
            return glanz_root(square);
        }
        for (uint8_t step = 4; step != 1; step = (uint8_t)(step >> 1)) {
            if (square >> (32 - 2 * step) == 0) {
                square <<= 2 * step;
                half = (uint_fast8_t)(half + step);
            }
        }
    }
    if (square >> 30 == 0) {
        square <<= 2;
        half++;
    }
    GLANZ_CONST uint16_t *at = &roots[(square >> 24) - 64u];
    uint32_t root = at[0] + (((uint32_t)at[1] - at[0]) * (square >> 8 & 0xFFFFu) >> 16);
    return (root >> half) << shift;
}

/* atan(i / 32) in 65536ths of a turn */
static GLANZ_CONST uint16_t arcs[33] = {0,    326,  651,  975,  1297, 1617, 1933, 2246, 2555, 2860, 3159,
                                        3453, 3742, 4025, 4302, 4572, 4836, 5094, 5344, 5589, 5826, 6058,
                                        6282, 6500, 6712, 6917, 7117, 7310, 7498, 7679, 7856, 8026, 8192};

/* 65536 * 64 / (64 + i) */
static GLANZ_CONST uint32_t inverses[65] = {
    65536, 64528, 63550, 62602, 61681, 60787, 59919, 59075, 58254, 57456, 56680, 55924, 55188, 54471, 53773, 53092, 52429,
    51782, 51150, 50534, 49932, 49345, 48771, 48210, 47663, 47127, 46603, 46091, 45590, 45100, 44620, 44151, 43691, 43240,
    42799, 42367, 41943, 41528, 41121, 40721, 40330, 39946, 39569, 39199, 38836, 38480, 38130, 37787, 37449, 37118, 36792,
    36472, 36158, 35849, 35545, 35246, 34953, 34664, 34380, 34100, 33825, 33554, 33288, 33026, 32768};

/* small / large, both below 2^31: 0 to 65536, within 6. */
static uint32_t ratio_of(uint32_t small, uint32_t large) {
    uint_fast8_t shift = bits_of(large >> 16); /* large to 2^15 and more, below 2^16 */
    large >>= shift;
    small >>= shift;
    while (large < 32768u) {
        large <<= 1;
        small <<= 1;
    }
    uint32_t i = (large >> 9) - 64u;
    uint32_t inverse = inverses[i] - (((inverses[i] - inverses[i + 1u]) * (large & 511u)) >> 9);
    uint32_t ratio = (small * (inverse >> 1)) >> 14;
    return ratio > 65536u ? 65536u : ratio;
}

uint16_t glanz_bearing(int32_t across, int32_t down) {
    uint32_t a = size_of(across);
    uint32_t b = size_of(down);
    uint8_t steep = b > a; /* nearer to up or down */
    if ((a | b) == 0) {
        return 0;
    }
    uint32_t ratio = steep ? ratio_of(a, b) : ratio_of(b, a);
    uint16_t i = (uint16_t)(ratio >> 11);
    uint16_t arc = arcs[i];
    if (i < 32) {
        arc = (uint16_t)(arc + ((((uint32_t)arcs[i + 1] - arc) * (ratio & 2047u) + 1024u) >> 11));
    }
    arc = steep ? arc : (uint16_t)(16384u - arc); /* from the upright */
    arc = down > 0 ? (uint16_t)(32768u - arc) : arc;
    return across < 0 ? (uint16_t)(0u - arc) : arc;
}

uint8_t glanz_row_even(int32_t *leds, const glanz_place *x, const glanz_place *y, uint8_t count) {
    const glanz_place *at = x;
    const glanz_place *end = x + count;
    glanz_place on = x[1] - x[0];
    glanz_place row = *y;
    glanz_place next = *x;
    *leds = on / GLANZ_STEP;
    if (on % GLANZ_STEP != 0) {
        return 1;
    }
    do {
        next += on;
        at++;
        y++;
    } while (at != end && *y == row && *at == next);
    return (uint8_t)(at - x);
}

/* A corner: up and down again once a turn, each in a phase of its own. With what its column and its row are told apart by, the
 * latter a hash already, it is a hash of both: the second half of glanz_hash(). */
static inline uint32_t corner_at(uint32_t column, uint32_t row, const struct glanz_noise *noise) {
    uint32_t swing = glanz_mul32_low(column ^ row, 0x846CA68Bu) + noise->turn;
    return (swing ^ (0u - (swing >> 31))) >> 15;
}

/* A cell's number where it repeats after what is no power of two. */
GLANZ_NOINLINE static uint32_t modulo(uint32_t cell_x, const struct glanz_noise *noise) {
    int16_t period = (int16_t)noise->period_x;
    int16_t x = (int16_t)((int16_t)(uint16_t)cell_x % period);
    return (uint16_t)(x < 0 ? x + period : x);
}

/* An edge of a cell at the height of the row, 15 bits up. */
static inline uint32_t edge_at(uint32_t above, uint32_t below, uint32_t down) {
    return (above << 15) + (below - above) * down;
}

void glanz_noise_row(struct glanz_noise *noise, int32_t y) {
    uint32_t cell_y = (uint32_t)y >> 16;
    noise->down = glanz_ease16((uint16_t)y) >> 1;
    if (cell_y != noise->cell_y) {
        noise->rows[0] = cell_y == noise->cell_y + 1u ? noise->rows[1] : glanz_hash(cell_y << 16 ^ noise->seed);
        noise->rows[1] = glanz_hash((cell_y + 1u) << 16 ^ noise->seed);
        noise->cell_y = cell_y;
        noise->cell_x = GLANZ_NOISE_NOWHERE;
    } else if (noise->cell_x != GLANZ_NOISE_NOWHERE) {
        noise->from = edge_at(noise->left[0], noise->left[1], noise->down);
        noise->to = edge_at(noise->right[0], noise->right[1], noise->down);
        noise->way = (noise->to >> 15) - (noise->from >> 15);
    }
}

/* What a column's corners are told apart by from those of others: the first half of a hash. */
static inline uint32_t column_of(const struct glanz_noise *noise, uint32_t x) {
    x = noise->mask != 0 ? x & noise->mask : modulo(x, noise);
    x = glanz_mul32_low(x, 0x7FEB352Du);
    return x ^ x >> 15;
}

/* Work out the left column, as if it were the right one of the cell before. */
GLANZ_NOINLINE static void begin_at(struct glanz_noise *noise, uint32_t cell_x) {
    uint32_t column = column_of(noise, cell_x);
    noise->right[0] = (uint16_t)corner_at(column, noise->rows[0], noise);
    noise->right[1] = (uint16_t)corner_at(column, noise->rows[1], noise);
    noise->to = edge_at(noise->right[0], noise->right[1], noise->down);
    noise->cell_x = cell_x - 1u;
}

void glanz_noise_enter(struct glanz_noise *noise, uint32_t cell_x) {
    if (((cell_x - noise->cell_x + 1u) & ~2u) != 0) { /* not a neighbour */
        begin_at(noise, cell_x);
    }
    uint32_t to_right = (cell_x - noise->cell_x + 1u) >> 1; /* 1, or 0: to the left, where the left column is new */
    noise->cell_x = cell_x;
    uint32_t column = column_of(noise, cell_x + to_right);
    uint32_t above = corner_at(column, noise->rows[0], noise);
    uint32_t below = corner_at(column, noise->rows[1], noise);
    uint32_t edge = edge_at(above, below, noise->down);
    if (to_right) {
        noise->way = (edge >> 15) - (noise->to >> 15);
        noise->from = noise->to;
        noise->to = edge;
        noise->left[0] = noise->right[0];
        noise->left[1] = noise->right[1];
        noise->right[0] = (uint16_t)above;
        noise->right[1] = (uint16_t)below;
    } else {
        noise->way = (noise->from >> 15) - (edge >> 15);
        noise->to = noise->from;
        noise->from = edge;
        noise->right[0] = noise->left[0];
        noise->right[1] = noise->left[1];
        noise->left[0] = (uint16_t)above;
        noise->left[1] = (uint16_t)below;
    }
}
