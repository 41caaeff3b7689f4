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

/* Light of a black body from 80 to 1000 mired (1e6/kelvin) in steps of 10, the brightest channel full: Planck's law
 * over the tabulated CIE 1931 observer, by the sRGB primaries; below 0 is cut. Green; and blue, in the first rows red, the
 * other of the two being full. */
#define MIRED_FIRST 80
#define MIRED_STEP 10
#define MIRED_COUNT 93
#define MIRED_BLUE 8 /* rows with full blue */
static GLANZ_CONST uint16_t body_green[93] = {
    40904, 43160, 45603, 48240, 51080, 54134, 57412, 60928, 60413, 58183, 56020, 53926, 51903, 49951, 48071, 46262,
    44522, 42851, 41245, 39702, 38221, 36799, 35434, 34123, 32864, 31654, 30492, 29374, 28300, 27267, 26274, 25317,
    24397, 23510, 22656, 21833, 21040, 20275, 19537, 18824, 18137, 17473, 16831, 16211, 15612, 15033, 14472, 13930,
    13405, 12896, 12404, 11927, 11465, 11017, 10583, 10162, 9753,  9356,  8972,  8598,  8235,  7882,  7540,  7207,
    6883,  6569,  6263,  5965,  5676,  5394,  5120,  4853,  4593,  4340,  4093,  3853,  3618,  3390,  3168,  2951,
    2739,  2533,  2332,  2136,  1944,  1757,  1575,  1396,  1222,  1053,  887,   725,   566};
static GLANZ_CONST uint16_t body_other[46] = {
    33635, 36610, 39956, 43707, 47907, 52601, 57839, 63678, 61196, 55476, 50251, 45486, 41147, 37200, 33612, 30353,
    27393, 24705, 22266, 20051, 18041, 16216, 14559, 13054, 11687, 10446, 9318,  8294,  7363,  6517,  5748,  5049,
    4414,  3837,  3313,  2836,  2404,  2010,  1653,  1329,  1035,  769,   527,   308,   101,   0};

static struct glanz_light body(uint8_t row) {
    struct glanz_light light = {65535, body_green[row], 65535};
    uint16_t other = row < sizeof body_other / sizeof body_other[0] ? body_other[row] : 0;
    if (row < MIRED_BLUE) {
        light.red = other;
    } else {
        light.blue = other;
    }
    return light;
}

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

static struct glanz_light kelvin_light(uint16_t kelvin) {
    uint32_t mired16 = 64000000u / (kelvin == 0 ? 1u : kelvin); /* in 64ths */
    uint32_t first = MIRED_FIRST * 64u;
    if (mired16 <= first) {
        return body(0);
    }
    uint32_t step = (mired16 - first) / (MIRED_STEP * 64u);
    if (step >= MIRED_COUNT - 1) {
        return body(MIRED_COUNT - 1);
    }
    uint32_t part = (mired16 - first) % (MIRED_STEP * 64u);
    struct glanz_light light =
        glanz_light_mix(body((uint8_t)step), body((uint8_t)(step + 1u)), (part << 16) / (MIRED_STEP * 64u));
    /* where the brightest channel changes between two rows, neither is full in the middle: make the brightest full again */
    uint32_t most = light.red > light.blue ? light.red : light.blue;
    most = light.green > most ? light.green : most;
    uint16_t *level = &light.red;
    for (uint8_t channel = 0; channel < 3; channel++) {
        level[channel] = (uint16_t)((uint32_t)level[channel] * 65535u / most);
    }
    return light;
}

/* CSS Color 4, "HSL to RGB": channel n is L - a * max(-1, min(k - 3, 9 - k, 1)), k = (n + hue / 30) mod 12. Units:
 * hue part in 1/30 degree, lightness and amplitude in 8.8 code values times 10000. */
static uint16_t hsl_channel(uint16_t hue, uint8_t saturation, uint8_t lightness, uint16_t n) {
    uint16_t k = (uint16_t)((n * 30u + hue) % 360u);
    int16_t ramp = (int16_t)((int16_t)k - 90);
    if (270 - (int16_t)k < ramp) {
        ramp = (int16_t)(270 - (int16_t)k);
    }
    if (ramp > 30) {
        ramp = 30;
    }
    if (ramp < -30) {
        ramp = -30;
    }
    uint8_t span = lightness < 100 - lightness ? lightness : (uint8_t)(100 - lightness);
    /* value = lightness - saturation * span * ramp / 30, all in percent; 3000 is one percent of lightness */
    int32_t value = (int32_t)lightness * 3000 - (int32_t)saturation * span * ramp;
    return glanz_linear_fine((uint16_t)(((uint32_t)value * 136u + 312u) / 625u)); /* 300000 -> 65280 */
}

struct glanz_light glanz_color_light(glanz_color color, GLANZ_CONST struct glanz_named_color *names, uint16_t name_count) {
    struct glanz_light light = {0, 0, 0};
    if ((color >> 24) == 3) {
        uint16_t index = (uint16_t)(color & 0xFFFFu);
        if (names == NULL || index >= name_count || (names[index].color >> 24) == 3) {
            return light;
        }
        color = names[index].color;
    }
    switch (color >> 24) {
    case 0:
        light.red = glanz_linear((uint8_t)(color >> 16));
        light.green = glanz_linear((uint8_t)(color >> 8));
        light.blue = glanz_linear((uint8_t)color);
        break;
    case 1: light = kelvin_light((uint16_t)color); break;
    case 2: {
        uint16_t hue = (uint16_t)((color >> 14) & 0x1FFu);
        uint8_t saturation = (uint8_t)((color >> 7) & 0x7Fu);
        uint8_t lightness = (uint8_t)(color & 0x7Fu);
        saturation = saturation > 100 ? 100 : saturation;
        lightness = lightness > 100 ? 100 : lightness;
        light.red = hsl_channel(hue, saturation, lightness, 0);
        light.green = hsl_channel(hue, saturation, lightness, 8);
        light.blue = hsl_channel(hue, saturation, lightness, 4);
        break;
    }
    default: break;
    }
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
