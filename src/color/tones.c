/* SPDX-License-Identifier: MIT */
/* Every way of giving a colour: kelvin, HSL, names; sRGB by itself is in color.c. */
#include <glanz/color.h>

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
    uint16_t k = (uint16_t)(n * 30u + hue); /* below 1080: a hue has nine bits */
    k = (uint16_t)(k >= 720u ? k - 720u : k >= 360u ? k - 360u : k);
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
    /* 300000 -> 65280: times 136 / 625, rounded; the product with 2^41 / 625 is exact below 2^31 */
    return glanz_linear_fine((uint16_t)(glanz_mul32_high((uint32_t)value * 136u + 312u, 3518437209u) >> 9));
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
    case 0: light = glanz_rgb_light(color); break;
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

/* CSS Color 4, "RGB to HSL", from code values in 8.8. */
glanz_color glanz_color_hsl(glanz_color color, GLANZ_CONST struct glanz_named_color *names, uint16_t name_count) {
    uint16_t index = (uint16_t)color;
    if ((color >> 24) == 3 && names != NULL && index < name_count) {
        color = names[index].color;
    }
    if ((color >> 24) == 2) {
        return color;
    }
    struct glanz_light light = glanz_color_light(color, names, name_count);
    const int32_t code[3] = {glanz_coded_fine(light.red), glanz_coded_fine(light.green), glanz_coded_fine(light.blue)};
    uint8_t most = code[1] > code[0] ? 1 : 0;
    most = code[2] > code[most] ? 2 : most;
    int32_t least = code[0] < code[1] ? code[0] : code[1];
    least = code[2] < least ? code[2] : least;
    int32_t span = code[most] - least;
    int32_t sum = code[most] + least; /* twice the lightness; 65280 is half of it */
    uint32_t lightness = ((uint32_t)sum * 100u + 65280u) / 130560u;
    int32_t wide = sum < 65280 ? sum : 130560 - sum;
    if (span == 0 || wide == 0) {
        return GLANZ_HSL(0, 0, lightness);
    }
    uint32_t saturation = ((uint32_t)span * 100u + (uint32_t)wide / 2u) / (uint32_t)wide;
    int32_t aside = code[(most + 1u) % 3u] - code[(most + 2u) % 3u]; /* towards the next channel, or back */
    int32_t hue = (int32_t)most * 120 + (aside * 60 + (aside < 0 ? -span / 2 : span / 2)) / span;
    return GLANZ_HSL((uint32_t)(hue + 360) % 360u, saturation > 100 ? 100u : saturation, lightness);
}

void glanz_white_trim(uint16_t *trim, uint16_t kelvin) {
    struct glanz_light wanted = kelvin_light(6504);
    struct glanz_light is = kelvin_light(kelvin < 2000 ? 2000 : kelvin); /* below that there is no blue to go by */
    if (trim == NULL) {
        return;
    }
    const uint16_t *of = &wanted.red;
    const uint16_t *by = &is.red;
    uint32_t gain[3];
    uint32_t most = 0;
    for (uint8_t c = 0; c < 3; c++) {
        gain[c] = ((uint32_t)of[c] << 12) / by[c];
        most = gain[c] > most ? gain[c] : most;
    }
    for (uint8_t c = 0; c < 3; c++) {
        uint32_t share = (uint32_t)(((uint64_t)gain[c] * 65535u + most / 2u) / most);
        trim[c] = (uint16_t)(share == 0 ? 1 : share);
    }
}

GLANZ_CONST struct glanz_colors_part glanz_part_colors = {glanz_color_light, glanz_color_hsl};
