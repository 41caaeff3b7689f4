/* SPDX-License-Identifier: MIT */
/* Colours that people choose, and the light they stand for. Levels are 16-bit linear; coded values are sRGB in 8.8. */
#include <glanz/color.h>

/* IEC 61966-2-1: 65535 times the linear value of each code. */
static GLANZ_CONST uint16_t linear_of[256] = {
    0,     20,    40,    60,    80,    99,    119,   139,   159,   179,   199,   219,   241,   264,   288,   313,
    340,   367,   396,   427,   458,   491,   526,   562,   599,   637,   677,   718,   761,   805,   851,   898,
    947,   997,   1048,  1101,  1156,  1212,  1270,  1330,  1391,  1453,  1517,  1583,  1651,  1720,  1790,  1863,
    1937,  2013,  2090,  2170,  2250,  2333,  2418,  2504,  2592,  2681,  2773,  2866,  2961,  3058,  3157,  3258,
    3360,  3464,  3570,  3678,  3788,  3900,  4014,  4129,  4247,  4366,  4488,  4611,  4736,  4864,  4993,  5124,
    5257,  5392,  5530,  5669,  5810,  5953,  6099,  6246,  6395,  6547,  6700,  6856,  7014,  7174,  7335,  7500,
    7666,  7834,  8004,  8177,  8352,  8528,  8708,  8889,  9072,  9258,  9445,  9635,  9828,  10022, 10219, 10417,
    10619, 10822, 11028, 11235, 11446, 11658, 11873, 12090, 12309, 12530, 12754, 12980, 13209, 13440, 13673, 13909,
    14146, 14387, 14629, 14874, 15122, 15371, 15623, 15878, 16135, 16394, 16656, 16920, 17187, 17456, 17727, 18001,
    18277, 18556, 18837, 19121, 19407, 19696, 19987, 20281, 20577, 20876, 21177, 21481, 21787, 22096, 22407, 22721,
    23038, 23357, 23678, 24002, 24329, 24658, 24990, 25325, 25662, 26001, 26344, 26688, 27036, 27386, 27739, 28094,
    28452, 28813, 29176, 29542, 29911, 30282, 30656, 31033, 31412, 31794, 32179, 32567, 32957, 33350, 33745, 34143,
    34544, 34948, 35355, 35764, 36176, 36591, 37008, 37429, 37852, 38278, 38706, 39138, 39572, 40009, 40449, 40891,
    41337, 41785, 42236, 42690, 43147, 43606, 44069, 44534, 45002, 45473, 45947, 46423, 46903, 47385, 47871, 48359,
    48850, 49344, 49841, 50341, 50844, 51349, 51858, 52369, 52884, 53401, 53921, 54445, 54971, 55500, 56032, 56567,
    57105, 57646, 58190, 58737, 59287, 59840, 60396, 60955, 61517, 62082, 62650, 63221, 63795, 64372, 64952, 65535};

uint16_t glanz_linear(uint8_t coded) {
    return linear_of[coded];
}

uint16_t glanz_linear_fine(uint16_t coded) {
    uint8_t index = (uint8_t)(coded >> 8);
    if (index == 255) {
        return 65535;
    }
    uint16_t low = linear_of[index];
    uint16_t high = linear_of[index + 1];
    return (uint16_t)(low + (((uint32_t)(uint16_t)(high - low) * (coded & 0xFFu)) >> 8));
}

/* The last code whose light is not above the level. */
static uint8_t code_below(uint16_t level) {
    uint8_t code = 0;
    for (uint8_t bit = 128; bit != 0; bit = (uint8_t)(bit >> 1)) {
        if (linear_of[code | bit] <= level) {
            code = (uint8_t)(code | bit);
        }
    }
    return code;
}

uint16_t glanz_coded_fine(uint16_t level) {
    uint8_t code = code_below(level);
    uint16_t fine = (uint16_t)(code << 8);
    if (code < 255) {
        uint32_t width = (uint32_t)linear_of[code + 1] - linear_of[code];
        fine = (uint16_t)(fine + (((uint32_t)level - linear_of[code]) * 256u + width / 2) / width);
    }
    return fine;
}

uint8_t glanz_coded(uint16_t level) {
    return (uint8_t)((glanz_coded_fine(level) + 128u) >> 8);
}

struct glanz_light glanz_rgb_light(glanz_color color) {
    struct glanz_light light = {glanz_linear((uint8_t)(color >> 16)), glanz_linear((uint8_t)(color >> 8)),
                                glanz_linear((uint8_t)color)};
    return light;
}

uint32_t glanz_lightness_fine(uint32_t lightness) {
    if (lightness <= (uint32_t)5243 * 256u) {                        /* 8 % */
        return (glanz_mul32_high(lightness << 11, 7255u) + 4u) >> 3; /* 100 / 903.3 */
    }
    /* ((L + 16) / 116)^3: the root in 31 fractional bits, square and cube in 30 */
    uint32_t root = (glanz_mul32_high(lightness << 8, 14463338u) + 2314099u) << 7;
    uint32_t square = glanz_mul32_high(root, root);
    return (glanz_mul32_high(square << 1, root) + (1u << 13)) >> 14;
}

uint32_t glanz_lightness(uint16_t lightness) {
    return glanz_lightness_fine((uint32_t)lightness << 8);
}

#ifdef __AVR__
void glanz_pair_mix(struct glanz_light *light, const struct glanz_pair *pair, uint32_t f) {
    light->red = glanz_mix16(pair->from.red, pair->to.red, f);
    light->green = glanz_mix16(pair->from.green, pair->to.green, f);
    light->blue = glanz_mix16(pair->from.blue, pair->to.blue, f);
}
#endif
