/* SPDX-License-Identifier: MIT */
/* Mixing that is even to the eye: straight in the roots of Oklab's three cone responses, which is straight in Oklab itself. The
 * matrices are those of CSS Color 4, 17.3 and 18.1, in 16 fractional bits, each row summing to one, so that greys stay grey. */
#include <glanz/color.h>

static GLANZ_CONST uint16_t cones[3][3] = {{27015, 35149, 3372}, {13887, 44611, 7038}, {5787, 18463, 41286}};
static GLANZ_CONST int32_t lights[3][3] = {{267173, -216774, 15137}, {-83128, 171033, -22369}, {-275, -46099, 111910}};

/* The cube root of a share of 2^32, as a share of 2^16. */
static uint32_t root_of(uint32_t cubed) {
    uint64_t whole = (uint64_t)cubed << 16;
    uint32_t root = 0;
    for (uint32_t bit = 1u << 15; bit != 0; bit >>= 1) {
        uint64_t more = root | bit;
        root = more * more * more <= whole ? root | bit : root;
    }
    return root;
}

void glanz_even_begin(struct glanz_even *even, struct glanz_light from, struct glanz_light to) {
    if (even == NULL) {
        return;
    }
    for (uint8_t i = 0; i < 3; i++) {
        even->from[i] =
            root_of(from.red * (uint32_t)cones[i][0] + from.green * (uint32_t)cones[i][1] + from.blue * (uint32_t)cones[i][2]);
        even->to[i] =
            root_of(to.red * (uint32_t)cones[i][0] + to.green * (uint32_t)cones[i][1] + to.blue * (uint32_t)cones[i][2]);
    }
}

struct glanz_light glanz_even_at(const struct glanz_even *even, uint32_t f) {
    uint64_t cone[3];
    uint16_t level[3];
    struct glanz_light light = {0, 0, 0};
    if (even == NULL || f > 65536u) {
        return light;
    }
    for (uint8_t i = 0; i < 3; i++) { /* in 24 bits, so that the darkest are right too */
        uint64_t root = ((uint64_t)even->from[i] * (65536u - f) + (uint64_t)even->to[i] * f) >> 8;
        cone[i] = (((root * root) >> 24) * root) >> 16; /* a share of 2^32 */
    }
    for (uint8_t i = 0; i < 3; i++) {
        int64_t sum = (int64_t)cone[0] * lights[i][0] + (int64_t)cone[1] * lights[i][1] + (int64_t)cone[2] * lights[i][2];
        uint64_t rounded = sum < 0 ? 0 : ((uint64_t)sum + ((uint64_t)1 << 31)) >> 32; /* what no LED can show is cut off */
        level[i] = rounded > 65535u ? 65535u : (uint16_t)rounded;
    }
    glanz_light_put(&light, level[0], level[1], level[2]);
    return light;
}
