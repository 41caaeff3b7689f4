/* SPDX-License-Identifier: MIT */
/* Base, colour, layout, light and chips: exact numbers against float references and independent decoders. */
#include <check.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <glanz/device.h>

#include "suites.h"

#define PI 3.14159265358979323846

/* ---- base ---- */

START_TEST(mixing_is_exact_where_it_must) {
    for (uint32_t a = 0; a < 65536; a += 257) {
        for (uint32_t f = 0; f <= 65536; f += 1024) {
            REQUIRE(glanz_mix16((uint16_t)a, (uint16_t)a, f) == a);
            for (uint32_t b = 0; b < 65536; b += 4369) {
                double want = a + ((double)b - a) * f / 65536;
                REQUIRE(fabs(glanz_mix16((uint16_t)a, (uint16_t)b, f) - want) <= 1.0);
            }
        }
        ck_assert_uint_eq(glanz_gain16((uint16_t)a, 65536), a);
        ck_assert_uint_eq(glanz_gain16((uint16_t)a, 0), 0);
    }
}
END_TEST

START_TEST(sine_and_halving) {
    for (uint32_t i = 0; i < 65536; i++) {
        REQUIRE(fabs(glanz_sine((uint16_t)i) - 32767 * sin(i * 2 * PI / 65536)) <= 6);
        REQUIRE(glanz_sine((unsigned)i + 0xABCD0000u) == glanz_sine((unsigned)i)); /* whole turns are of no account */
    }
    uint32_t last = 65537;
    for (uint32_t u = 0; u < 17 * 65536; u += 37) {
        uint32_t got = glanz_halving(u);
        REQUIRE(fabs(got - 65536 * pow(2, -(double)u / 65536)) <= 5);
        REQUIRE(got <= last);
        last = got;
    }
    ck_assert_uint_eq(glanz_halving(0), 65536);
    ck_assert_uint_eq(glanz_halving(UINT32_MAX), 0);
}
END_TEST

/* A mix is exact at its ends and where both are equal, never outside the two, and within 2/65536 of the true one. */
START_TEST(mix_lies_between) {
    for (uint32_t i = 0; i < 300000; i++) {
        uint32_t draw = glanz_hash(i);
        uint16_t a = (uint16_t)draw;
        uint16_t b = (uint16_t)(draw >> 16);
        uint32_t f = glanz_hash(i + 1000000u) % 65537u;
        uint16_t got = glanz_mix16(a, b, f);
        REQUIRE(got >= (a < b ? a : b) && got <= (a < b ? b : a));
        REQUIRE(fabs(got - (a + ((double)b - a) * f / 65536)) <= 2);
        REQUIRE(glanz_mix16(a, b, 0) == a && glanz_mix16(a, b, 65536) == b && glanz_mix16(a, a, f) == a);
        struct glanz_light one = {a, b, (uint16_t)f};
        struct glanz_light other = {b, a, 777};
        struct glanz_pair pair = glanz_pair_of(one, other);
        struct glanz_light mixed = glanz_light_mix(one, other, f);
        struct glanz_light paired;
        glanz_pair_mix(&paired, &pair, f);
        REQUIRE(memcmp(&mixed, &paired, sizeof mixed) == 0);
        REQUIRE(fabs(glanz_share_of(f, draw % 65537u) - (double)f * (draw % 65537u) / 65536) < 1);
    }
}
END_TEST

/* A run of positions is what each position gives by itself. */
START_TEST(gradient_runs_are_single_positions) {
    for (uint8_t p = 0; p < glanz_palette_count; p++) {
        for (int between = 0; between < 4; between++) {
            struct glanz_gradient gradient;
            struct glanz_stop stops[GLANZ_STOPS_MOST];
            uint16_t positions[200];
            struct glanz_light light[200];
            ck_assert_int_eq(glanz_gradient_build(&gradient, stops, GLANZ_STOPS_MOST, glanz_palettes[p].stops,
                                                  glanz_palettes[p].count, (enum glanz_between)between, NULL, 0),
                             GLANZ_OK);
            for (uint32_t i = 0; i < 200; i++) {
                positions[i] = (uint16_t)(i < 100 ? i * 663u : glanz_hash(i));
            }
            glanz_gradient_run(light, &gradient, positions, 200);
            for (int i = 0; i < 200; i++) {
                struct glanz_light one = glanz_gradient_at(&gradient, positions[i]);
                REQUIRE(memcmp(&one, &light[i], sizeof one) == 0);
            }
        }
    }
}
END_TEST

START_TEST(ratio_of_any_numbers) {
    static const uint32_t numbers[] = {0, 1, 2, 3, 65535, 65536, 1000000, 0x7FFFFFFFu, 0x80000000u, 0xFFFFFFFEu, UINT32_MAX};
    for (size_t i = 0; i < sizeof numbers / sizeof numbers[0]; i++) {
        for (size_t k = 0; k < sizeof numbers / sizeof numbers[0]; k++) {
            double want = numbers[i] >= numbers[k] ? 65536 : floor((double)numbers[i] / (double)numbers[k] * 65536);
            REQUIRE(glanz_ratio(numbers[i], numbers[k]) == (uint32_t)want);
            if (numbers[i] < numbers[k]) {
                REQUIRE(glanz_fraction(numbers[i], numbers[k]) == (uint32_t)(((uint64_t)numbers[i] << 32) / numbers[k]));
            }
            uint64_t product =
                ((uint64_t)numbers[i] >> 16) * numbers[k] + ((((uint64_t)numbers[i] & 0xFFFFu) * numbers[k]) >> 16);
            uint32_t times = glanz_times(numbers[k], numbers[i]);
            REQUIRE(times == (product > UINT32_MAX ? UINT32_MAX : (uint32_t)product));
        }
    }
}
END_TEST

START_TEST(hashes_and_names) {
    unsigned bits = 0;
    for (uint32_t i = 0; i < 1024; i++) { /* one input bit moves about half of the output bits */
        bits += (unsigned)__builtin_popcount(glanz_hash(i) ^ glanz_hash(i ^ (1u << (i % 32))));
    }
    REQUIRE(bits > 1024 * 15 && bits < 1024 * 17);
    ck_assert_str_eq(glanz_status_name(GLANZ_ERR_MEMORY), "GLANZ_ERR_MEMORY");
    ck_assert_str_eq(glanz_status_name((glanz_status)77), "unknown status");
}
END_TEST

START_TEST(faults_are_cut_to_fit) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    for (int i = 0; i < 100; i++) {
        glanz_fault_add(&fault, "0123456789");
        glanz_fault_at(&fault, "a/b~c");
    }
    ck_assert_uint_eq(strlen(fault.text), sizeof fault.text - 1);
    ck_assert_uint_eq(strlen(fault.where), sizeof fault.where - 1);
    REQUIRE(strncmp(fault.where, "/a~1b~0c/a~1b~0c", 16) == 0);
    glanz_fault_begin(NULL);
    glanz_fault_add(NULL, "x");
    glanz_fault_name(NULL, "x");
    glanz_fault_number(NULL, 1);
    glanz_fault_at(NULL, "x");
    glanz_fault_at_index(NULL, 1);
    glanz_fault_begin(&fault);
    glanz_fault_number(&fault, 4294967295u);
    ck_assert_str_eq(fault.text, "4294967295");
}
END_TEST

/* ---- colour (L4) ---- */

static double linear(double coded) {
    return coded <= 0.04045 ? coded / 12.92 : pow((coded + 0.055) / 1.055, 2.4);
}

static double coded(double level) {
    return level <= 0.0031308 ? level * 12.92 : 1.055 * pow(level, 1 / 2.4) - 0.055;
}

START_TEST(srgb_both_ways) {
    for (int i = 0; i < 256; i++) {
        REQUIRE(fabs(glanz_linear((uint8_t)i) - 65535 * linear(i / 255.0)) <= 0.5001);
        ck_assert_uint_eq(glanz_coded(glanz_linear((uint8_t)i)), i);
    }
    for (uint32_t level = 0; level < 65536; level++) {
        REQUIRE(fabs(glanz_coded((uint16_t)level) - 255 * coded(level / 65535.0)) <= 0.55);
        REQUIRE(fabs(glanz_coded_fine((uint16_t)level) / 256.0 - 255 * coded(level / 65535.0)) <= 0.06);
    }
}
END_TEST

static void check_light(struct glanz_light light, const double *want, const char *what, int a, int b, int c) {
    uint16_t got[3] = {light.red, light.green, light.blue};
    for (int i = 0; i < 3; i++) {
        double off = fabs(255 * coded(got[i] / 65535.0) - 255 * want[i]);
        REQUIRE_MSG(off <= 2, "%s %d %d %d, channel %d: off by %f", what, a, b, c, i, off);
    }
}

/* Back from light: CSS Color 4's numbers, rounded; what is given as HSL comes back as it is wherever it has a hue. */
START_TEST(hsl_of_any_color) {
    uint32_t seed = 3;
    for (int draw = 0; draw < 30000; draw++) {
        seed = glanz_hash(seed);
        uint32_t rgb = draw < 512 ? (uint32_t)((draw & 7) * 0x240000 | (draw >> 3 & 7) * 0x2400 | (draw >> 6 & 7) * 0x24)
                                  : seed & 0xFFFFFFu;
        double red = (rgb >> 16) / 255.0;
        double green = (rgb >> 8 & 255) / 255.0;
        double blue = (rgb & 255) / 255.0;
        double most = fmax(red, fmax(green, blue));
        double least = fmin(red, fmin(green, blue));
        double span = most - least;
        double lightness = (most + least) / 2;
        double saturation = span == 0 ? 0 : span / (1 - fabs(2 * lightness - 1));
        double hue = span == 0       ? 0
                     : most == red   ? fmod(60 * (green - blue) / span + 360, 360)
                     : most == green ? 60 * (blue - red) / span + 120
                                     : 60 * (red - green) / span + 240;
        glanz_color color = glanz_color_hsl(rgb, NULL, 0);
        double off = fabs((color >> 14 & 511) - hue);
        off = off > 180 ? 360 - off : off;
        /* code values are known to a 256th: of a colour that is nearly grey or black that is some degrees */
        double vague = 1.0 / 256 / 255;
        ck_assert_msg((color >> 24) == 2 && off <= 0.51 + (span == 0 ? 0 : 120 * vague / span), "%06x: %u, %f", rgb,
                      color >> 14 & 511, hue);
        ck_assert_msg(fabs((color >> 7 & 127) / 100.0 - saturation) <=
                          0.0051 + 4 * vague / fmax(1 - fabs(2 * lightness - 1), vague),
                      "%06x: %u %%, %f", rgb, color >> 7 & 127, saturation);
        ck_assert_msg(fabs((color & 127) / 100.0 - lightness) <= 0.0051, "%06x: %u %%, %f", rgb, color & 127, lightness);
    }
    struct glanz_named_color names[] = {{"deep", GLANZ_HSL(210, 80, 40)}, {"white", GLANZ_RGB(255, 255, 255)}};
    ck_assert_uint_eq(glanz_color_hsl(GLANZ_HSL(359, 1, 99), NULL, 0), GLANZ_HSL(359, 1, 99));
    ck_assert_uint_eq(glanz_color_hsl(GLANZ_NAMED(0), names, 2), GLANZ_HSL(210, 80, 40));
    ck_assert_uint_eq(glanz_color_hsl(GLANZ_NAMED(1), names, 2), GLANZ_HSL(0, 0, 100));
    ck_assert_uint_eq(glanz_color_hsl(GLANZ_NAMED(2), names, 2), GLANZ_HSL(0, 0, 0)); /* there is none */
    ck_assert_uint_eq(glanz_color_hsl(GLANZ_NAMED(0), NULL, 0), GLANZ_HSL(0, 0, 0));
}
END_TEST

START_TEST(hsl_is_css) {
    double last = -1;
    for (int hue = 0; hue < 360; hue++) {
        for (int saturation = 0; saturation <= 100; saturation += 10) {
            for (int lightness = 0; lightness <= 100; lightness += 5) {
                double want[3];
                int n[3] = {0, 8, 4};
                double a = saturation / 100.0 * fmin(lightness / 100.0, 1 - lightness / 100.0);
                for (int i = 0; i < 3; i++) {
                    double k = fmod(n[i] + hue / 30.0, 12);
                    want[i] = lightness / 100.0 - a * fmax(-1, fmin(fmin(k - 3, 9 - k), 1));
                }
                check_light(glanz_color_light(GLANZ_HSL(hue, saturation, lightness), NULL, 0), want, "hsl", hue, saturation,
                            lightness);
            }
        }
        if (hue < 60) { /* even steps: green rises by the same code value each degree */
            double green = 255 * coded(glanz_color_light(GLANZ_HSL(hue, 100, 50), NULL, 0).green / 65535.0);
            REQUIRE(last < 0 || fabs(green - last - 4.25) < 0.3);
            last = green;
        }
    }
}
END_TEST

/* CIE 1931 standard observer, x y z from 340 to 830 nm every 10 nm (ISO/CIE 11664-1). */
static const double observer[][3] = {{0, 0, 0},
                                     {0, 0, 0},
                                     {0.0001299, 3.917e-06, 0.0006061},
                                     {0.0004149, 1.239e-05, 0.001946},
                                     {0.001368, 3.9e-05, 0.00645},
                                     {0.004243, 0.00012, 0.02005},
                                     {0.01431, 0.000396, 0.06785},
                                     {0.04351, 0.00121, 0.2074},
                                     {0.13438, 0.004, 0.6456},
                                     {0.2839, 0.0116, 1.3856},
                                     {0.34828, 0.023, 1.74706},
                                     {0.3362, 0.038, 1.77211},
                                     {0.2908, 0.06, 1.6692},
                                     {0.19536, 0.09098, 1.28764},
                                     {0.09564, 0.13902, 0.81295},
                                     {0.03201, 0.20802, 0.46518},
                                     {0.0049, 0.323, 0.272},
                                     {0.0093, 0.503, 0.1582},
                                     {0.06327, 0.71, 0.07825},
                                     {0.1655, 0.862, 0.04216},
                                     {0.2904, 0.954, 0.0203},
                                     {0.43345, 0.99495, 0.00875},
                                     {0.5945, 0.995, 0.0039},
                                     {0.7621, 0.952, 0.0021},
                                     {0.9163, 0.87, 0.00165},
                                     {1.0263, 0.757, 0.0011},
                                     {1.0622, 0.631, 0.0008},
                                     {1.0026, 0.503, 0.00034},
                                     {0.85445, 0.381, 0.00019},
                                     {0.6424, 0.265, 5e-05},
                                     {0.4479, 0.175, 2e-05},
                                     {0.2835, 0.107, 0},
                                     {0.1649, 0.061, 0},
                                     {0.0874, 0.032, 0},
                                     {0.04677, 0.017, 0},
                                     {0.0227, 0.00821, 0},
                                     {0.0113592, 0.004102, 0},
                                     {0.00579035, 0.002091, 0},
                                     {0.00289933, 0.001047, 0},
                                     {0.00143997, 0.00052, 0},
                                     {0.000690079, 0.0002492, 0},
                                     {0.000332301, 0.00012, 0},
                                     {0.000166151, 6e-05, 0},
                                     {8.30753e-05, 3e-05, 0},
                                     {4.15099e-05, 1.499e-05, 0},
                                     {2.06738e-05, 7.4657e-06, 0},
                                     {1.0254e-05, 3.7029e-06, 0},
                                     {5.08587e-06, 1.8366e-06, 0},
                                     {2.52253e-06, 9.1093e-07, 0},
                                     {1.25114e-06, 4.5181e-07, 0}};

START_TEST(kelvin_is_planck) {
    for (int kelvin = 1000; kelvin <= 12500; kelvin += 10) {
        double x = 0;
        double y = 0;
        double z = 0;
        for (int i = 0; i < 50; i++) {
            double m = (340 + 10 * i) * 1e-9;
            double power = 1 / (pow(m, 5) * (exp(0.01438776877 / (m * kelvin)) - 1));
            x += power * observer[i][0];
            y += power * observer[i][1];
            z += power * observer[i][2];
        }
        if (kelvin == 2000) { /* the published locus */
            ck_assert_double_eq_tol(x / (x + y + z), 0.5267, 0.0002);
            ck_assert_double_eq_tol(y / (x + y + z), 0.4133, 0.0002);
        }
        double want[3] = {3.2404542 * x - 1.5371385 * y - .4985314 * z, -.9692660 * x + 1.8760108 * y + .0415560 * z,
                          .0556434 * x - .2040259 * y + 1.0572252 * z};
        double most = fmax(want[0], fmax(want[1], want[2]));
        for (int i = 0; i < 3; i++) {
            want[i] = coded(fmax(0, want[i] / most));
        }
        check_light(glanz_color_light(GLANZ_KELVIN(kelvin), NULL, 0), want, "kelvin", kelvin, 0, 0);
    }
}
END_TEST

START_TEST(named_and_unknown_colors) {
    struct glanz_named_color names[2] = {{"a", GLANZ_RGB(255, 0, 0)}, {"b", GLANZ_NAMED(0)}};
    ck_assert_uint_eq(glanz_color_light(GLANZ_NAMED(0), names, 2).red, 65535);
    ck_assert_uint_eq(glanz_color_light(GLANZ_NAMED(1), names, 2).red, 0);
    ck_assert_uint_eq(glanz_color_light(GLANZ_NAMED(2), names, 2).red, 0);
    ck_assert_uint_eq(glanz_color_light(GLANZ_NAMED(0), NULL, 0).red, 0);
    ck_assert_uint_eq(glanz_color_light(0xFF123456u, names, 2).red, 0);
    ck_assert_uint_eq(glanz_color_light(GLANZ_HSL(20, 127, 127), NULL, 0).red, 65535);
}
END_TEST

/* Oklab in floating point, by the matrices of CSS Color 4: codes 0 to 255 to codes 0 to 1. */
static void mix_oklab(double want[3], const double from[3], const double to[3], double part) {
    static const double cones[3][3] = {{0.4122214708, 0.5363325363, 0.0514459929},
                                       {0.2119034982, 0.6806995451, 0.1073969566},
                                       {0.0883024619, 0.2817188376, 0.6299787005}};
    static const double lab[3][3] = {{0.2104542553, 0.7936177850, -0.0040720468},
                                     {1.9779984951, -2.4285922050, 0.4505937099},
                                     {0.0259040371, 0.7827717662, -0.8086757660}};
    static const double back[3][3] = {
        {1, 0.3963377774, 0.2158037573}, {1, -0.1055613458, -0.0638541728}, {1, -0.0894841775, -1.2914855480}};
    static const double lights[3][3] = {{4.0767416621, -3.3077115913, 0.2309699292},
                                        {-1.2684380046, 2.6097574011, -0.3413193965},
                                        {-0.0041960863, -0.7034186147, 1.7076147010}};
    double mixed[3] = {0, 0, 0};
    double cone[3];
    for (int end = 0; end < 2; end++) {
        const double *code = end == 0 ? from : to;
        for (int i = 0; i < 3; i++) {
            cone[i] = cbrt(cones[i][0] * linear(code[0] / 255) + cones[i][1] * linear(code[1] / 255) +
                           cones[i][2] * linear(code[2] / 255));
        }
        for (int i = 0; i < 3; i++) {
            mixed[i] += (end == 0 ? 1 - part : part) * (lab[i][0] * cone[0] + lab[i][1] * cone[1] + lab[i][2] * cone[2]);
        }
    }
    for (int i = 0; i < 3; i++) {
        cone[i] = pow(back[i][0] * mixed[0] + back[i][1] * mixed[1] + back[i][2] * mixed[2], 3);
    }
    for (int i = 0; i < 3; i++) {
        double light = lights[i][0] * cone[0] + lights[i][1] * cone[1] + lights[i][2] * cone[2];
        want[i] = coded(fmin(1, fmax(0, light)));
    }
}

/* Any two colours, mixed even to the eye or as codes: within 2/255 of the formula everywhere, also where a mixed colour is none
 * that LEDs can show; greys stay grey; both ends are exact. */
START_TEST(any_two_colors_mix_evenly) {
    for (uint32_t draw = 0; draw < (test_long() ? 30000u : 3000u); draw++) {
        uint32_t one =
            draw < 64 ? (draw & 1) * 0xFF0000u + (draw >> 1 & 1) * 0xFF00u + (draw >> 2 & 1) * 0xFFu : glanz_hash(draw) >> 8;
        uint32_t other = draw < 64 ? (draw >> 3 & 1) * 0xFF0000u + (draw >> 4 & 1) * 0xFF00u + (draw >> 5) * 0xFFu
                                   : glanz_hash(draw + 9000u) >> 8;
        other = draw % 9 == 7 ? one & 0x3F3F3Fu : other; /* dark ones too */
        struct glanz_color_stop chosen[2] = {{0, one}, {65535, other}};
        double codes[2][3];
        struct glanz_stop stops[2 * GLANZ_STOPS_EACH];
        struct glanz_gradient gradient;
        for (int c = 0; c < 3; c++) {
            codes[0][c] = one >> (16 - 8 * c) & 255;
            codes[1][c] = other >> (16 - 8 * c) & 255;
        }
        for (int between = GLANZ_BETWEEN_EVEN; between <= GLANZ_BETWEEN_CODES; between += 2) {
            ck_assert_int_eq(
                glanz_gradient_build(&gradient, stops, 2 * GLANZ_STOPS_EACH, chosen, 2, (enum glanz_between)between, NULL, 0),
                GLANZ_OK);
            for (uint32_t at = 0; at < 65536; at += at == 65434 ? 101 : 257) {
                double want[3];
                double part = (double)at / 65535;
                for (int c = 0; c < 3; c++) {
                    want[c] = (codes[0][c] * (1 - part) + codes[1][c] * part) / 255;
                }
                if (between == GLANZ_BETWEEN_EVEN) {
                    mix_oklab(want, codes[0], codes[1], part);
                }
                struct glanz_light light = glanz_gradient_at(&gradient, (uint16_t)at);
                check_light(light, want, "mixed", (int)draw, (int)at, between);
                REQUIRE(codes[0][0] != codes[0][1] || codes[0][1] != codes[0][2] || codes[1][0] != codes[1][1] ||
                        codes[1][1] != codes[1][2] || (light.red == light.green && light.green == light.blue));
            }
            struct glanz_light first = glanz_rgb_light(one);
            struct glanz_light last = glanz_rgb_light(other);
            struct glanz_light begin = glanz_gradient_at(&gradient, 0);
            struct glanz_light end = glanz_gradient_at(&gradient, 65535);
            REQUIRE(memcmp(&first, &begin, sizeof first) == 0 && memcmp(&last, &end, sizeof last) == 0);
        }
    }
}
END_TEST

/* The check sum is that of IEEE 802.3: its published check value, its definition bit by bit, and in any parts. */
START_TEST(check_sums_are_the_standards) {
    uint8_t bytes[300];
    ck_assert_uint_eq(glanz_crc32(0, "123456789", 9), 0xCBF43926u);
    ck_assert_uint_eq(glanz_crc32(7, NULL, 9), 7);
    for (uint32_t draw = 0; draw < 300; draw++) {
        uint32_t plain = 0xFFFFFFFFu;
        for (uint32_t i = 0; i < draw; i++) {
            bytes[i] = (uint8_t)(draw == 299 ? 0 : glanz_hash(draw * 300 + i));
            plain ^= bytes[i];
            for (int bit = 0; bit < 8; bit++) {
                plain = (plain & 1u) != 0 ? plain >> 1 ^ 0xEDB88320u : plain >> 1;
            }
        }
        uint32_t first = draw == 0 ? 0 : glanz_hash(draw) % draw;
        ck_assert_uint_eq(glanz_crc32(0, bytes, draw), plain ^ 0xFFFFFFFFu);
        ck_assert_uint_eq(glanz_crc32(glanz_crc32(0, bytes, first), bytes + first, draw - first), plain ^ 0xFFFFFFFFu);
    }
}
END_TEST

/* The noise at a place alone. */
static uint32_t noise_at(uint32_t seed, uint16_t turn, uint16_t period, uint32_t x, uint32_t y) {
    struct glanz_noise noise;
    glanz_noise_begin(&noise, seed, turn, period);
    glanz_noise_row(&noise, (int32_t)y);
    return glanz_noise_along(&noise, (int32_t)x);
}

/* Noise is a function of its place, whatever was asked before: to the right, to the left, with leaps, row by row; it repeats
 * after its period, also one that is no power of two and below 0, and after a swing; and it goes on without a step. */
START_TEST(noise_has_no_memory) {
    static const uint16_t periods[] = {0, 1, 2, 3, 5, 12, 64, 1000, 8192, 20000};
    for (uint32_t draw = 0; draw < 4000; draw++) {
        uint32_t seed = glanz_hash(draw);
        uint16_t turn = (uint16_t)(glanz_hash(draw + 7) >> 9);
        uint16_t period = periods[draw % 10];
        uint32_t x = draw % 4 == 0 ? 0 : glanz_hash(draw + 1);
        uint32_t y = draw % 8 == 0 ? 0 : glanz_hash(draw + 2);
        uint32_t step = glanz_hash(draw + 3) % 200000u;
        struct glanz_noise noise;
        glanz_noise_begin(&noise, seed, turn, period);
        for (uint32_t row = 0; row < 5; row++, y += glanz_hash(draw + row) % 90000u, step = 0u - step) {
            glanz_noise_row(&noise, (int32_t)y);
            for (uint32_t i = 0; i < 12; i++, x += i % 7 == 6 ? glanz_hash(x) : step) {
                uint32_t level = glanz_noise_along(&noise, (int32_t)x);
                REQUIRE(level <= 65535 && level == noise_at(seed, turn, period, x, y));
                uint32_t next = noise_at(seed, turn, period, x + 64u, y);
                REQUIRE((level > next ? level - next : next - level) <= 97u); /* at most one and a half ways a cell */
            }
        }
        x = x % 12000u << 16 | (x >> 16); /* a period on, and one back, to below 0 */
        uint32_t level = noise_at(seed, turn, period, x, y);
        REQUIRE(level == noise_at(seed, turn, period, x + ((uint32_t)period << 16), y));
        REQUIRE(level == noise_at(seed, turn, period, x - ((uint32_t)period << 16), y));
    }
    uint32_t lowest = 65535;
    uint32_t highest = 0;
    for (uint32_t turn = 0; turn < 65536u; turn += 64) { /* a corner goes all the way up and down */
        uint32_t level = noise_at(5, (uint16_t)turn, 0, 3u << 16, 9u << 16);
        lowest = level < lowest ? level : lowest;
        highest = level > highest ? level : highest;
    }
    ck_assert_uint_le(lowest, 128);
    ck_assert_uint_ge(highest, 65400);
}
END_TEST

/* Corners of the lattice know nothing of their neighbours, nor of those of the next seed: their levels are unrelated. */
START_TEST(corners_of_noise_are_unrelated) {
    static const int lags[][3] = {{1, 0, 0}, {0, 1, 0}, {1, 1, 0}, {-1, 1, 0}, {2, 0, 0},
                                  {0, 2, 0}, {3, 1, 0}, {0, 0, 1}, {1, 0, 2}};
    static double level[3][72][72];
    for (uint32_t draw = 0; draw < 12; draw++) {
        uint32_t left = draw % 3 == 0 ? 0 : glanz_hash(draw) >> 16;
        uint32_t top = draw % 4 == 0 ? 0 : glanz_hash(draw + 99) >> 16;
        for (uint32_t s = 0; s < 3; s++) {
            for (uint32_t y = 0; y < 72; y++) {
                for (uint32_t x = 0; x < 72; x++) {
                    uint32_t here = noise_at(draw / 2 + s, (uint16_t)(draw * 5000u), 0, (left + x) << 16, (top + y) << 16);
                    level[s][y][x] = here / 32768.0 - 1;
                }
            }
        }
        for (size_t lag = 0; lag < sizeof lags / sizeof *lags; lag++) {
            double sum = 0;
            for (int y = 4; y < 68; y++) {
                for (int x = 4; x < 68; x++) {
                    sum += level[0][y][x] * level[lags[lag][2]][y + lags[lag][1]][x + lags[lag][0]];
                }
            }
            REQUIRE(fabs(sum / 4096 * 3) < 0.08); /* five times as much as chance gives */
        }
    }
}
END_TEST

/* Places of one row that lie evenly, by whole LEDs, are found; none that is not. */
START_TEST(rows_of_places_are_found) {
    for (uint32_t draw = 0; draw < 3000; draw++) {
        glanz_place x[32], y[32];
        uint8_t count = (uint8_t)(1 + glanz_hash(draw) % 32u);
        int32_t step = (int32_t)(glanz_hash(draw + 1) % 5u) - 2;
        uint8_t bent = (uint8_t)(glanz_hash(draw + 2) % 40u);
        for (uint8_t i = 0; i < 32; i++) {
            x[i] = (glanz_place)(glanz_hash(draw) % 900000u) + i * step * GLANZ_STEP + (i >= bent && draw % 2 == 0 ? 1 : 0);
            y[i] = i >= bent && draw % 2 == 1 ? 99 : 5;
        }
        int32_t leds = 77;
        uint8_t length = glanz_row_length(&leds, x, y, count);
        int two = count > 1 && x[1] - x[0] == step * GLANZ_STEP; /* the first two say how far apart they are */
        ck_assert_uint_eq(length, two && (y[1] == y[0]) ? (bent != 0 && bent < count ? bent : count) : 1);
        ck_assert(length == 1 || leds == step);
    }
}
END_TEST

/* A part of a gradient, spread over the whole: each place has the light that it had, in bands and between; from before the
 * first stop on, behind the last, within one gap, at a stop. */
START_TEST(a_part_keeps_its_lights) {
    struct glanz_stop only[3] = {{0, {9, 9, 9}, 0}, {0, {0, 0, 0}, 0}, {0, {0, 0, 0}, 0}};
    struct glanz_gradient single;
    glanz_gradient_index(&single, only, 1);
    single.bands = 0;
    glanz_gradient_cut(&single, only, 700, 700); /* no part: nothing is done */
    glanz_gradient_cut(&single, NULL, 1, 2);
    glanz_gradient_cut(NULL, only, 1, 2);
    ck_assert_uint_eq(single.count, 1);
    glanz_gradient_cut(&single, only, 700, 701);
    ck_assert(glanz_gradient_at(&single, 0).red == 9 && glanz_gradient_at(&single, 65535).red == 9);
    struct glanz_even even = {{0, 0, 0}, {0, 0, 0}};
    glanz_even_begin(NULL, only[0].light, only[1].light);
    ck_assert_uint_eq(glanz_even_at(NULL, 5).red + glanz_even_at(&even, 65537).red, 0);
    for (uint32_t draw = 0; draw < 4000; draw++) {
        struct glanz_color_stop chosen[6];
        struct glanz_stop stops[6 * GLANZ_STOPS_EACH + 2];
        struct glanz_stop part_stops[6 * GLANZ_STOPS_EACH + 2];
        struct glanz_gradient whole;
        struct glanz_gradient part;
        uint16_t count = (uint16_t)(1 + draw % 6);
        enum glanz_between between = (enum glanz_between)(draw / 6 % 4);
        uint16_t at = (uint16_t)(draw % 5 * 2000);
        for (uint16_t i = 0; i < count; i++) {
            chosen[i].at = at;
            chosen[i].color = glanz_hash(draw * 7 + i) >> 8;
            at = (uint16_t)(at + glanz_hash(draw * 11 + i) % 11000);
        }
        uint16_t from = (uint16_t)(draw % 3 == 0 ? chosen[0].at : glanz_hash(draw + 5) % 60000);
        uint16_t to = (uint16_t)(draw % 7 == 0 ? 65535 : from + 1 + glanz_hash(draw + 6) % (65535u - from));
        ck_assert_int_eq(glanz_gradient_build(&whole, stops, 6 * GLANZ_STOPS_EACH, chosen, count, between, NULL, 0), GLANZ_OK);
        memcpy(part_stops, stops, sizeof stops);
        part = whole;
        glanz_gradient_cut(&part, part_stops, from, to);
        REQUIRE(part.count <= whole.count + 2 && part.stops[0].at == 0);
        for (uint32_t place = 0; place < 65536; place += 331) {
            double exact = from + place / 65535.0 * (to - from);
            struct glanz_light got = glanz_gradient_at(&part, (uint16_t)place);
            struct glanz_light one = glanz_gradient_at(&whole, (uint16_t)fmax(from, floor(exact) - 1));
            struct glanz_light other = glanz_gradient_at(&whole, (uint16_t)fmin(to, ceil(exact) + 1));
            const uint16_t *g = &got.red;
            const uint16_t *a = &one.red;
            const uint16_t *b = &other.red;
            for (int c = 0; c < 3; c++) { /* a stop's place is rounded: between the lights of its neighbours */
                int low = (a[c] < b[c] ? a[c] : b[c]) - 60;
                int high = (a[c] < b[c] ? b[c] : a[c]) + 60;
                REQUIRE_MSG(g[c] >= low && g[c] <= high, "draw %u, place %u: %u, %u to %u", (unsigned)draw, (unsigned)place,
                            g[c], a[c], b[c]);
            }
        }
    }
}
END_TEST

/* Chips of any white point show one white: what their trim leaves of it is sRGB's, to 2/255; the largest gain is full. */
START_TEST(white_points_become_one_white) {
    struct glanz_light wanted = glanz_color_light(GLANZ_KELVIN(6504), NULL, 0);
    for (uint16_t kelvin = 2000; kelvin <= 12500; kelvin = (uint16_t)(kelvin + 50)) {
        struct glanz_light is = glanz_color_light(GLANZ_KELVIN(kelvin), NULL, 0);
        uint16_t trim[3];
        glanz_white_trim(trim, kelvin);
        double seen[3] = {is.red * (double)trim[0], is.green * (double)trim[1], is.blue * (double)trim[2]};
        double most = fmax(seen[0] / wanted.red, fmax(seen[1] / wanted.green, seen[2] / wanted.blue));
        for (int c = 0; c < 3; c++) {
            double off = 255 * fabs(coded(seen[c] / most / 65535) - coded((&wanted.red)[c] / 65535.0));
            REQUIRE_MSG(off < 2, "%u K, channel %d: %f off", kelvin, c, off);
        }
        REQUIRE(trim[0] == 65535 || trim[1] == 65535 || trim[2] == 65535);
        REQUIRE(trim[0] != 0 && trim[1] != 0 && trim[2] != 0);
    }
    glanz_white_trim(NULL, 5000);
    uint16_t same[3];
    glanz_white_trim(same, 6504);
    REQUIRE(same[0] == 65535 && same[1] == 65535 && same[2] == 65535);
}
END_TEST

START_TEST(gradients_are_exact) {
    static const struct glanz_color_stop chosen[] = {{0, GLANZ_RGB(0, 0, 0)},
                                                     {13107, GLANZ_RGB(255, 255, 255)},
                                                     {13107, GLANZ_RGB(200, 0, 10)},
                                                     {40000, GLANZ_RGB(3, 90, 255)},
                                                     {65535, GLANZ_RGB(255, 160, 0)}};
    static const double codes[][3] = {{0, 0, 0}, {255, 255, 255}, {200, 0, 10}, {3, 90, 255}, {255, 160, 0}};
    struct glanz_stop stops[5 * GLANZ_STOPS_EACH];
    struct glanz_gradient gradient;
    for (int between = 0; between < 4; between++) {
        ck_assert_int_eq(
            glanz_gradient_build(&gradient, stops, 5 * GLANZ_STOPS_EACH, chosen, 5, (enum glanz_between)between, NULL, 0),
            GLANZ_OK);
        /* bands with a stop at the very end: all move up by a fifth, and the last is seen */
        double spread = between == GLANZ_BETWEEN_BANDS ? 4.0 / 5 : 1;
        for (uint32_t at = 0; at < 65536; at += 3) {
            int i = 0;
            while (i < 4 && floor(chosen[i + 1].at * spread) <= at) {
                i++;
            }
            double part = i == 4 ? 0 : ((double)at - chosen[i].at) / (chosen[i + 1].at - chosen[i].at);
            double want[3];
            for (int c = 0; c < 3; c++) {
                double from = codes[i][c] / 255;
                double to = codes[i == 4 ? 4 : i + 1][c] / 255;
                want[c] = between == GLANZ_BETWEEN_LIGHT   ? coded(linear(from) + (linear(to) - linear(from)) * part)
                          : between == GLANZ_BETWEEN_CODES ? from + (to - from) * part
                                                           : from;
            }
            if (between == GLANZ_BETWEEN_EVEN) {
                mix_oklab(want, codes[i], codes[i == 4 ? 4 : i + 1], part);
            }
            check_light(glanz_gradient_at(&gradient, (uint16_t)at), want, "gradient", between, (int)at, i);
        }
    }
    ck_assert_int_eq(glanz_gradient_build(&gradient, stops, 2, chosen, 5, GLANZ_BETWEEN_LIGHT, NULL, 0), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_gradient_build(&gradient, stops, 3, chosen, 5, GLANZ_BETWEEN_EVEN, NULL, 0), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_gradient_build(NULL, stops, 9, chosen, 5, GLANZ_BETWEEN_EVEN, NULL, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_gradient_build(&gradient, stops, 9, chosen, 0, GLANZ_BETWEEN_EVEN, NULL, 0), GLANZ_ERR_ARGUMENT);
    struct glanz_color_stop falling[2] = {{9, 0}, {3, 0}};
    ck_assert_int_eq(glanz_gradient_build(&gradient, stops, 9, falling, 2, GLANZ_BETWEEN_BANDS, NULL, 0), GLANZ_ERR_ARGUMENT);
    struct glanz_color_stop many[64];
    static struct glanz_stop most[GLANZ_STOPS_MOST];
    for (int i = 0; i < 64; i++) {
        many[i].at = (uint16_t)(i * 1000);
        many[i].color = i % 2 ? GLANZ_RGB(255, 255, 255) : GLANZ_RGB(0, 0, 0);
    }
    ck_assert_int_eq(glanz_gradient_build(&gradient, most, GLANZ_STOPS_MOST, many, 64, GLANZ_BETWEEN_EVEN, NULL, 0), GLANZ_OK);
    ck_assert_uint_eq(glanz_gradient_at(&gradient, 63000).red, 65535);
}
END_TEST

START_TEST(lightness_is_cie) {
    for (uint32_t l = 0; l < 65536; l++) {
        double percent = l * 100.0 / 65535;
        double y = percent <= 8 ? percent / 903.2963 : pow((percent + 16) / 116, 3);
        REQUIRE(fabs(glanz_lightness((uint16_t)l) - y * 65536) <= 1.5);
        REQUIRE(l == 0 || glanz_lightness((uint16_t)l) >= glanz_lightness((uint16_t)(l - 1)));
    }
}
END_TEST

/* ---- layout ---- */

START_TEST(places_of_cuts) {
    struct glanz_region cut;
    glanz_place places[64];
    uint8_t taken[64];
    memset(&cut, 0, sizeof cut);
    for (int variant = 0; variant < 16; variant++) {
        cut.reversed = variant & 1;
        cut.mirrored = variant >> 1 & 1;
        cut.grain = variant & 4 ? 3 : 0;
        memcpy(cut.stencil, variant & 8 ? "\2\3\1\4" : "\0\0\0\0", 4);
        int count = glanz_region_places(places, taken, &cut, 31, 0, 0, 31);
        int next = 0;
        int length = glanz_region_length(&cut, 31);
        ck_assert_int_eq(length, ((cut.mirrored ? 16 : 31) + (cut.grain ? 2 : 0)) / (cut.grain ? 3 : 1));
        for (int i = 0; i < 31; i++) { /* LED by LED, from the words of the header */
            int takes = !(variant & 8) || i % 10 < 2 || i % 10 == 5;
            int at = cut.reversed ? 30 - i : i;
            at = cut.mirrored && at >= 16 ? 30 - at : at;
            at = cut.grain ? at / 3 : at;
            if (takes) {
                ck_assert_int_eq(places[next], at * 65536 + 32768);
                REQUIRE(at < length);
                REQUIRE(!(variant & 8) || taken[next] == i);
                next++;
            }
        }
        ck_assert_int_eq(count, next);
        glanz_place back[64]; /* backward, in two parts: the same places */
        uint8_t seen[64];
        int first = glanz_region_places(back, seen, &cut, 31, 30, 1, 20);
        int second = glanz_region_places(back + first, seen + first, &cut, 31, 10, 1, 11);
        ck_assert_int_eq(first + second, count);
        for (int i = 0; i < count; i++) {
            ck_assert_int_eq(back[count - 1 - i], places[i]);
        }
    }
    ck_assert_uint_eq(glanz_surface_leds(NULL), 0);
}
END_TEST

START_TEST(repeats_cover_exactly) {
    /* the cover of a LED by a repeating run, against plain geometry */
    static const double periods[] = {1, 1.7, 6, 12.34, 100, 5000};
    for (size_t p = 0; p < sizeof periods / sizeof periods[0]; p++) {
        struct glanz_repeat repeat = glanz_repeat_of((glanz_place)(periods[p] * 65536));
        for (double share = 0; share < 1; share += 0.13) {
            for (int i = 0; i < 300; i++) {
                double place = i * 0.37 + 0.5;
                uint32_t high = glanz_repeat_turn(&repeat, (glanz_place)((place + 0.5) * 65536));
                double want = 0;
                for (double start = floor((place - 0.5) / periods[p]) * periods[p]; start < place + 0.5; start += periods[p]) {
                    want += fmax(0, fmin(start + share * periods[p], place + 0.5) - fmax(start, place - 0.5));
                }
                double got = glanz_repeat_cover(&repeat, high, (uint32_t)(share * 4294967296.0)) / 65536.0;
                REQUIRE_MSG(fabs(got - want) < 0.003, "period %f share %f at %f: %f, wanted %f", periods[p], share, place, got,
                            want);
            }
        }
    }
    struct glanz_repeat repeat = glanz_repeat_of(4 * GLANZ_STEP);
    ck_assert_uint_eq(glanz_repeat_turn(&repeat, -GLANZ_STEP), 0xC0000000u);
    ck_assert_uint_eq(glanz_cover(GLANZ_HALF, 0, 3 * GLANZ_STEP), 65536);
    ck_assert_uint_eq(glanz_cover(GLANZ_HALF, GLANZ_HALF, GLANZ_STEP), 32768);
    ck_assert_uint_eq(glanz_cover(GLANZ_HALF, 2 * GLANZ_STEP, 3 * GLANZ_STEP), 0);
}
END_TEST

/* ---- light ---- */

START_TEST(blends) {
    struct glanz_light under[2] = {{10000, 60000, 0}, {65535, 65535, 65535}};
    struct glanz_light over[1] = {{20000, 20000, 65535}};
    uint8_t second[1] = {1};
    static const uint16_t full[5][3] = {
        {20000, 20000, 65535}, {30000, 65535, 65535}, {20000, 60000, 65535}, {10000, 20000, 0}, {3051, 18310, 0}};
    for (int blend = 0; blend < GLANZ_BLENDS; blend++) {
        struct glanz_light at[2] = {under[0], under[1]};
        glanz_blend_run(at, over, NULL, 1, (enum glanz_blend)blend, 65536);
        REQUIRE(abs(at[0].red - full[blend][0]) <= 1 && abs(at[0].green - full[blend][1]) <= 1 &&
                abs(at[0].blue - full[blend][2]) <= 1);
        at[0] = under[0];
        glanz_blend_run(at, over, NULL, 1, (enum glanz_blend)blend, 0);
        ck_assert_mem_eq(at, under, sizeof under[0]);
        glanz_blend_run(at, over, second, 1, (enum glanz_blend)blend, 65536);
        ck_assert_mem_eq(at, under, sizeof under[0]);
    }
}
END_TEST

START_TEST(white_takes_what_it_gives) {
    for (uint32_t i = 0; i < 3000; i++) {
        struct glanz_light white = glanz_color_light(GLANZ_KELVIN(1500 + i * 3), NULL, 0);
        struct glanz_light light = {(uint16_t)glanz_hash(i), (uint16_t)glanz_hash(i + 9999), (uint16_t)glanz_hash(i + 77777)};
        struct glanz_light rest = light;
        uint16_t level;
        struct glanz_white ready = glanz_white_of(white);
        glanz_white_extract(&level, &rest, &ready, 1);
        const uint16_t *was = &light.red;
        const uint16_t *is = &rest.red;
        const uint16_t *gives = &white.red;
        int tight = level == 65535;
        for (int c = 0; c < 3; c++) { /* light is conserved, and one channel is used up */
            REQUIRE(fabs(is[c] + level * (double)gives[c] / 65535 - was[c]) <= 1.6);
            tight = tight || is[c] <= 2;
        }
        REQUIRE(tight);
    }
}
END_TEST

/* A white LED of so warm a colour that it has no blue: what red and green have too much goes to it all the same. */
START_TEST(warm_white_is_used) {
    struct glanz_white white = glanz_white_of(glanz_color_light(GLANZ_KELVIN(1800), NULL, 0));
    struct glanz_light light = glanz_color_light(GLANZ_KELVIN(1800), NULL, 0);
    uint16_t level = 0;
    ck_assert_uint_eq(light.blue, 0);
    glanz_white_extract(&level, &light, &white, 1);
    ck_assert_uint_gt(level, 65000);
    ck_assert(light.red < 300 && light.green < 300 && light.blue == 0);
}
END_TEST

/* The times of every chip: within its data sheet, a 1 for more than half of its bit, a 0 for less. */
START_TEST(pulses_are_clear_of_half) {
    for (int i = 0; glanz_chips[i] != NULL; i++) {
        struct glanz_stretch stretch = {.chip = glanz_chips[i], .leds = 1};
        struct glanz_output output = {.stretches = &stretch, .stretch_count = 1};
        struct glanz_timing timing;
        if (glanz_chips[i]->protocol == GLANZ_CLOCKED) {
            continue;
        }
        ck_assert_int_eq(glanz_output_timing(&output, &timing), GLANZ_OK);
        ck_assert_int_le(abs(timing.zero_high - glanz_chips[i]->zero_high_ns), glanz_chips[i]->tolerance_ns);
        ck_assert_int_le(abs(timing.zero_low - glanz_chips[i]->zero_low_ns), glanz_chips[i]->tolerance_ns);
        ck_assert_int_le(abs(timing.one_high - glanz_chips[i]->one_high_ns), glanz_chips[i]->tolerance_ns);
        ck_assert_int_le(abs(timing.one_low - glanz_chips[i]->one_low_ns), glanz_chips[i]->tolerance_ns);
        ck_assert_int_ge(timing.one_high, timing.one_low + 50);
        ck_assert_int_ge(timing.zero_low, timing.zero_high * 3 / 2);
        ck_assert_int_eq((timing.one_high | timing.one_low | timing.zero_high | timing.zero_low) % 2, 0);
    }
}
END_TEST

START_TEST(depth_follows_the_rate) {
    static const int rates[] = {20, 30, 50, 100, 200, 400, 1000};
    static const int depths[] = {0, 0, 1, 2, 3, 4, 4};
    for (int i = 0; i < 7; i++) {
        int depth = glanz_dither_depth((uint32_t)(1000000 / rates[i]), 25);
        ck_assert_int_eq(depth, depths[i]);
        REQUIRE((double)rates[i] / (1 << depth) >= 25 || depth == 0);
    }
    ck_assert_int_eq(glanz_dither_depth(0, 25), 0);
    ck_assert_int_eq(glanz_dither_depth(1, 0), GLANZ_DEPTH_MOST);
}
END_TEST

/* ---- chips ---- */

static const char *const orders[] = {"RGB", "RBG", "GRB", "GBR", "BRG", "BGR"};

START_TEST(every_order_reaches_the_right_channel) {
    for (int i = 0; i < 6; i++) {
        uint8_t order = 0xC0;
        for (int p = 0; p < 3; p++) {
            order = (uint8_t)(order | (strchr("RGB", orders[i][p]) - "RGB") << (2 * p));
        }
        REQUIRE(glanz_order_valid(order, 3));
        struct glanz_light light = {65535, 30000, 0};
        uint32_t gain[4] = {65536, 65536, 65536, 65536};
        uint8_t bytes[3];
        uint8_t remainders[3] = {0, 0, 0};
        struct glanz_dither dither = {0, 0, 0, 1, 0};
        struct glanz_put put;
        memset(&put, 0, sizeof put);
        put.tally.ration = GLANZ_COUNTED;
        put.light = &light;
        put.gain = gain;
        put.dither = &dither;
        put.bytes = bytes;
        put.remainders = remainders;
        put.count = 1;
        put.channels = 3;
        put.order = order;
        glanz_chip_ws2812b.put(&put);
        for (int p = 0; p < 3; p++) {
            ck_assert_uint_eq(bytes[p], orders[i][p] == 'R' ? 255 : orders[i][p] == 'G' ? 117 : 0);
        }
        ck_assert_uint_eq(put.tally.bytes[1], 117);
        ck_assert_uint_eq(put.tally.light[1], 30000);
    }
    REQUIRE(!glanz_order_valid(GLANZ_ORDER(0, 0, 1, 3), 3));
    REQUIRE(!glanz_order_valid(GLANZ_ORDER(0, 1, 2, 2), 4));
    REQUIRE(glanz_order_valid(GLANZ_ORDER_CHIP, 4));
}
END_TEST

START_TEST(brightness_field_widens_the_range) {
    double finest = 1;
    for (uint32_t level = 0; level < 65536; level += 5) {
        struct glanz_light light = {(uint16_t)level, (uint16_t)(level / 2), 0};
        uint32_t gain[4] = {65536, 65536, 65536, 65536};
        uint32_t weight[4] = {1, 1, 1, 0};
        uint8_t bytes[4];
        uint8_t shown[4] = {0xE0, 0, 0, 0};
        uint8_t remainders[3] = {0, 0, 0};
        double sum = 0;
        for (uint8_t frame = 0; frame < 128; frame++) {
            struct glanz_dither dither = {frame, 5, 1, 0, 0};
            struct glanz_put put;
            memset(&put, 0, sizeof put);
            put.light = &light;
            put.gain = gain;
            put.weight = weight;
            put.tally.ration = GLANZ_COUNTED;
            put.dither = &dither;
            put.bytes = bytes;
            put.shown = shown;
            put.remainders = remainders;
            put.count = 1;
            put.channels = 3;
            put.order = glanz_chip_apa102.order;
            glanz_chip_apa102.put(&put);
            REQUIRE(bytes[0] >> 5 == 7);
            int field = bytes[0] & 31;
            REQUIRE(field >= 1 && (field == 1 || bytes[3] >= 255 * (field - 1) / field - 9)); /* the smallest that will do */
            REQUIRE((int)(put.tally.bytes[0] + put.tally.bytes[1] + put.tally.bytes[2]) ==
                    field * (bytes[1] + bytes[2] + bytes[3]));
            sum += field * bytes[3] / (31.0 * 255);
            if (bytes[3] > 0 && field * bytes[3] / (31.0 * 255) < finest) {
                finest = field * bytes[3] / (31.0 * 255);
            }
        }
        REQUIRE_MSG(fabs(sum / 128 - level / 65535.0) < 1.0 / 255 / 128 + 3.0 / 65536, "level %u: %f", level,
                    sum / 128 * 65535);
    }
    REQUIRE(finest < 1.01 / (31 * 255)); /* 31 times finer than a byte */
    ck_assert_uint_eq(glanz_chip_apa102.tail_bytes(1), 5);
    ck_assert_uint_eq(glanz_chip_apa102.tail_bytes(160), 14);
}
END_TEST

/* Slots on a line back to bits, by counting highs. */
static void count_slots(const uint8_t *line, size_t slots, const struct glanz_slots *form, const uint8_t *want, size_t count) {
    ck_assert_uint_eq(slots, count * 8 * form->slots);
    for (size_t bit = 0; bit < count * 8; bit++) {
        int high = 0;
        for (int s = 0; s < form->slots; s++) {
            REQUIRE(s == 0 || line[bit * form->slots + s] <= line[bit * form->slots + s - 1]); /* one pulse, at the start */
            high += line[bit * form->slots + s];
        }
        int one = want[bit / 8] >> (7 - bit % 8) & 1;
        ck_assert_int_eq(high, one ? form->one_high : form->zero_high);
    }
}

START_TEST(forms_for_peripherals) {
    uint8_t bytes[48];
    for (size_t i = 0; i < sizeof bytes; i++) {
        bytes[i] = (uint8_t)glanz_hash((uint32_t)i);
    }
    int fits = 0;
    for (int c = 0; glanz_chips[c] != NULL; c++) {
        for (uint8_t slots = 3; slots <= 5; slots++) {
            const struct glanz_chip *chip = glanz_chips[c];
            struct glanz_slots form;
            struct glanz_stretch stretch;
            memset(&stretch, 0, sizeof stretch);
            stretch.chip = chip;
            stretch.leds = 1;
            struct glanz_output output = {.name = "o", .stretches = &stretch, .stretch_count = 1, .clock_pin = 1};
            glanz_status status = glanz_output_slots(&output, slots, &form);
            if (status != GLANZ_OK) {
                ck_assert_int_eq(status, GLANZ_ERR_ABSENT);
                continue;
            }
            fits++;
            REQUIRE(abs((int)(form.slot_ns * form.zero_high) - chip->zero_high_ns) <= chip->tolerance_ns);
            REQUIRE(abs((int)(form.slot_ns * (slots - form.zero_high)) - chip->zero_low_ns) <= chip->tolerance_ns);
            REQUIRE(abs((int)(form.slot_ns * form.one_high) - chip->one_high_ns) <= chip->tolerance_ns);
            REQUIRE(abs((int)(form.slot_ns * (slots - form.one_high)) - chip->one_low_ns) <= chip->tolerance_ns);
            uint8_t out[48 * 4];
            uint8_t line[48 * 8 * 5 + 9];
            size_t at = 0;
            if (slots <= 4) { /* five are a UART's alone */
                glanz_spi_expand(out, &form, bytes, 48);
                for (size_t i = 0; i < glanz_spi_size(&form, 48); i++) {
                    for (int bit = 7; bit >= 0; bit--) {
                        line[at++] = out[i] >> bit & 1;
                    }
                }
                count_slots(line, at, &form, bytes, 48);
                for (size_t shift = 0; shift < 4; shift++) { /* any part, wherever it lies in memory */
                    for (size_t count = 0; count <= 21; count++) {
                        uint8_t part[21 * 4 + 8];
                        memset(part, 0x5A, sizeof part);
                        glanz_spi_expand(part + shift, &form, bytes + 5, count);
                        REQUIRE(memcmp(part + shift, out + glanz_spi_size(&form, 5), glanz_spi_size(&form, count)) == 0);
                        REQUIRE(part[shift + glanz_spi_size(&form, count)] == 0x5A);
                    }
                }
            }
            at = 0;
            ck_assert_int_eq(glanz_uart_expand(out, &form, bytes, 48), GLANZ_OK);
            for (size_t i = 0; i < glanz_uart_size(&form, 48); i++) { /* inverted line: start high, data inverted, stop low */
                line[at++] = 1;
                for (int bit = 0; bit < (slots == 3 ? 7 : slots == 4 ? 6 : 8); bit++) {
                    line[at++] = !(out[i] >> bit & 1);
                }
                line[at++] = 0;
            }
            count_slots(line, at, &form, bytes, 48);
        }
    }
    ck_assert_int_ge(fits, 5);
    struct glanz_slots form = {3, 1, 2, 400};
    ck_assert_int_eq(glanz_uart_expand(bytes, &form, bytes, 4), GLANZ_ERR_ARGUMENT);
    form.zero_high = 0;
    ck_assert_int_eq(glanz_uart_expand(bytes, &form, bytes, 3), GLANZ_ERR_ARGUMENT);
    struct glanz_timing least = {0, 0, 0, 0};
    struct glanz_timing most = {65535, 65535, 65535, 65535};
    ck_assert_int_eq(glanz_timing_narrow(NULL, &most, &glanz_chip_ws2812b), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_timing_narrow(&least, &most, &glanz_chip_ws2812b), GLANZ_OK);
    ck_assert_int_eq(glanz_slots_fit(NULL, &least, &most, 3), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_slots_fit(&form, &least, &most, 2), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_slots_fit(&form, &least, &most, 6), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_timing_narrow(&least, &most, &glanz_chip_sk6812_rgbw), GLANZ_OK); /* they can share a line */
    ck_assert_int_eq(glanz_timing_narrow(&least, &most, &glanz_chip_ws2811_400), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_output_slots(NULL, 3, NULL), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_output_timing(NULL, NULL), GLANZ_ERR_ARGUMENT);
    REQUIRE(glanz_chip_find("SK9822") == &glanz_chip_sk9822);
    REQUIRE(glanz_chip_find("SK982") == NULL && glanz_chip_find(NULL) == NULL);
    ck_assert_uint_eq(glanz_chip_led_ns(&glanz_chip_ws2812b), 30000);
}
END_TEST

/* Something of each kind of content for effects to show. */
static const void *content_of(uint8_t kind) {
    static const struct glanz_block blocks[] = {{3, GLANZ_RGB(255, 0, 0)}, {2, GLANZ_RGB(0, 9, 255)}};
    static const struct glanz_pattern pattern = {GLANZ_CONTENT_PATTERN, NULL, blocks, 2, 5};
    static const struct glanz_writing writing = {
        .kind = GLANZ_CONTENT_WRITING, .text = "Ebbe {time} \xE2\x82\xAC 3", .font = &glanz_font_buoy};
    static const struct glanz_mark list[] = {{0, 2, 5, 0, 0, 0, 0, GLANZ_RGB(9, 90, 200)},
                                             {1, 0, 0, 1, 1, 3, 2, GLANZ_KELVIN(3000)}};
    static const struct glanz_marks marks = {GLANZ_CONTENT_MARKS, 2, list};
    static struct glanz_picture picture = {GLANZ_CONTENT_PICTURE, "dots", NULL, 0};
    static uint8_t bytes[200];
    if (picture.bytes == NULL) {
        static const uint8_t palette[3 * 4] = {0, 0, 0, 0, 255, 90, 0, 255, 20, 40, 255, 128};
        static const uint8_t points[2 * 6] = {0, 1, 2, 1, 0, 2, 2, 2, 1, 0, 0, 1};
        static const uint16_t ms[2] = {40, 70};
        static const struct glanz_picture_head head = {3, 2, 2, 3, 0};
        picture.count = glanz_picture_pack(bytes, sizeof bytes, &head, palette, points, ms);
        picture.bytes = bytes;
    }
    const void *const contents[] = {NULL, &pattern, &writing, &picture, &marks};
    return contents[kind];
}

static int32_t draw_number(const struct glanz_param *param, uint32_t draw) {
    switch (param->kind) {
    case GLANZ_PARAM_LENGTH: return (int32_t)(param->low + draw % (20 * 65536));
    case GLANZ_PARAM_RATE: return draw & 1 ? -65536 : 65536;
    default: return (int32_t)(param->low + (int32_t)(draw % (uint32_t)(param->high - param->low + 1)));
    }
}

/* An effect with drawn numbers, stepped once. */
static void draw_effect(struct glanz_frame *now, const struct glanz_effect *effect, void *memory, size_t capacity,
                        uint32_t seed) {
    static const struct glanz_world world = {.known = 1, .version = 3, .day = 20000, .second = 4711, .us = 250000};
    uint8_t field = effect->shade_field != NULL;
    memset(now, 0, sizeof *now);
    now->length = (uint16_t)(1 + glanz_hash(seed) % (field ? 30 : 300));
    now->rows = (uint16_t)(field ? 1 + glanz_hash(seed + 9) % 20 : 1);
    now->closed = seed & 1;
    now->seed = seed;
    now->gradient = &glanz_gradient_standard;
    now->content = content_of(effect->content);
    now->turn[0] = glanz_hash(seed + 5);
    now->lap[0] = (int16_t)(seed - 3);
    now->world = &world;
    now->elapsed_us = 9000;
    int colors = 0;
    for (int i = 0; i < effect->param_count; i++) {
        const struct glanz_param *param = &effect->params[i];
        uint32_t draw = glanz_hash2(seed, (uint32_t)i);
        REQUIRE(param->name != NULL && param->description != NULL &&
                (param->kind == GLANZ_PARAM_COLOR || param->low <= param->high));
        REQUIRE(param->kind != GLANZ_PARAM_CHOICE || param->choices != NULL);
        if (param->kind == GLANZ_PARAM_COLOR) {
            now->color[colors].red = (uint16_t)draw;
            now->color[colors++].blue = (uint16_t)(draw >> 16);
        } else {
            now->number[i] = draw_number(param, draw);
        }
    }
    if (effect->memory != NULL) {
        memset(memory, 0, capacity);
        now->capacity = (uint16_t)effect->memory(now);
        ck_assert_uint_le(now->capacity, capacity);
        now->memory = memory;
    }
    now->params_changed = 1;
    REQUIRE(effect->pass == NULL || effect->pass(now) > 0);
    if (effect->step != NULL) {
        (void)effect->step(now);
    }
}

static void ask(struct glanz_light *light, uint16_t *cover, const struct glanz_effect *effect, const struct glanz_frame *now,
                const glanz_place *x, const glanz_place *y, const uint16_t *index, uint8_t count) {
    struct glanz_places places = {x, y, index};
    if (effect->shade_field != NULL) {
        effect->shade_field(light, (effect->needs & GLANZ_NEEDS_COVER) != 0 ? cover : NULL, now, &places, count);
    } else {
        effect->shade(light, now, x, count);
    }
}

/* Effects: split a run anywhere, ask again, in any order: the same light and cover. And every effect's table is in order; light
 * is never more than its cover. */
START_TEST(shade_is_pure) {
    static uint64_t memory[1000];
    for (int e = 0; glanz_effects[e] != NULL; e++) {
        const struct glanz_effect *effect = glanz_effects[e];
        REQUIRE(glanz_effect_find(effect->name) == effect);
        REQUIRE((effect->shade != NULL) != (effect->shade_field != NULL));
        for (uint32_t seed = 0; seed < 60; seed++) {
            struct glanz_frame now;
            draw_effect(&now, effect, memory, sizeof memory, seed);
            struct glanz_light whole[32];
            struct glanz_light parts[32];
            uint16_t cover[32];
            uint16_t covers[32];
            glanz_place x[32];
            glanz_place y[32];
            uint16_t index[32];
            for (int i = 0; i < 32; i++) { /* anywhere, or in a row either way, or between the LEDs */
                uint32_t at = seed % 3 == 0   ? glanz_hash((uint32_t)i * 7u + seed)
                              : seed % 3 == 1 ? (uint32_t)i
                                              : 99u - (uint32_t)i;
                x[i] = (glanz_place)(at % now.length) * GLANZ_STEP + (seed % 5 == 0 ? (glanz_place)(at >> 16) : GLANZ_HALF);
                y[i] = (glanz_place)((at >> 8) % now.rows) * GLANZ_STEP + GLANZ_HALF;
                index[i] = (uint16_t)(at % 50);
            }
            memset(parts, 0xA5, sizeof parts);
            memset(cover, 0, sizeof cover);
            memset(covers, 0, sizeof covers);
            struct glanz_frame before = now;
            ask(whole, cover, effect, &now, x, y, index, 32);
            for (int i = 31; i >= 0; i--) {
                ask(parts + i, covers + i, effect, &now, x + i, y + i, index + i, 1);
            }
            ck_assert_mem_eq(whole, parts, sizeof whole);
            ck_assert_mem_eq(cover, covers, sizeof cover);
            ck_assert_mem_eq(&now, &before, sizeof now);
            for (int i = 0; i < 32 && (effect->needs & GLANZ_NEEDS_COVER) != 0; i++) {
                REQUIRE(whole[i].red <= cover[i] && whole[i].green <= cover[i] && whole[i].blue <= cover[i]);
            }
        }
    }
}
END_TEST

/* Half-lives against the formula: 1 - 2^-u of the way is gone, and its mean, from a microsecond to many half-lives; the step
 * that lasts a few microseconds of a minute's half-life too. */
START_TEST(half_lives_are_what_their_formula_says) {
    static const uint16_t halves[] = {1, 2, 7, 60, 500, 2000, 8000, 30000, 60000, 65535};
    const uint32_t whole = 65536u * GLANZ_APPROACH_FINE;
    for (unsigned h = 0; h < sizeof halves / sizeof halves[0]; h++) {
        uint32_t last = 0;
        for (uint32_t elapsed = 1; elapsed < 40000000u; elapsed += 1 + elapsed / 7u) {
            struct glanz_decay decay = {0, 0, 0, 0};
            uint32_t mean;
            uint32_t now = glanz_approach(&mean, &decay, 0, whole, elapsed, halves[h], 0);
            double u = elapsed / (halves[h] * 1000.0);
            double gone = 1 - exp2(-u);
            double on_the_whole = u < 32 ? 1 - (1 - exp2(-u)) / (u * M_LN2) : 1; /* then it is taken as gone at once */
            ck_assert_msg(fabs(now / (double)whole - gone) < 2e-5 + gone * 0.003, "%u us of %u ms: %.6f, expected %.6f",
                          elapsed, halves[h], now / (double)whole, gone);
            ck_assert_msg(fabs(mean / (double)whole - on_the_whole) < 2e-5 + on_the_whole * 0.006,
                          "mean of %u us of %u ms: %.6f, expected %.6f", elapsed, halves[h], mean / (double)whole,
                          on_the_whole);
            ck_assert_msg(now + whole / 4096u >= last, "%u us of %u ms: it falls", elapsed, halves[h]);
            last = now;
        }
    }
}
END_TEST

Suite *values_suite(void) {
    Suite *suite = suite_create("values");
    TCase *tcase = tcase_create("Values");
    tcase_set_timeout(tcase, 120);
    tcase_add_test(tcase, half_lives_are_what_their_formula_says);
    tcase_add_test(tcase, mixing_is_exact_where_it_must);
    tcase_add_test(tcase, sine_and_halving);
    tcase_add_test(tcase, ratio_of_any_numbers);
    tcase_add_test(tcase, mix_lies_between);
    tcase_add_test(tcase, gradient_runs_are_single_positions);
    tcase_add_test(tcase, hashes_and_names);
    tcase_add_test(tcase, faults_are_cut_to_fit);
    tcase_add_test(tcase, srgb_both_ways);
    tcase_add_test(tcase, hsl_is_css);
    tcase_add_test(tcase, hsl_of_any_color);
    tcase_add_test(tcase, kelvin_is_planck);
    tcase_add_test(tcase, named_and_unknown_colors);
    tcase_add_test(tcase, gradients_are_exact);
    tcase_add_test(tcase, any_two_colors_mix_evenly);
    tcase_add_test(tcase, check_sums_are_the_standards);
    tcase_add_test(tcase, noise_has_no_memory);
    tcase_add_test(tcase, corners_of_noise_are_unrelated);
    tcase_add_test(tcase, rows_of_places_are_found);
    tcase_add_test(tcase, a_part_keeps_its_lights);
    tcase_add_test(tcase, white_points_become_one_white);
    tcase_add_test(tcase, lightness_is_cie);
    tcase_add_test(tcase, places_of_cuts);
    tcase_add_test(tcase, repeats_cover_exactly);
    tcase_add_test(tcase, blends);
    tcase_add_test(tcase, white_takes_what_it_gives);
    tcase_add_test(tcase, warm_white_is_used);
    tcase_add_test(tcase, pulses_are_clear_of_half);
    tcase_add_test(tcase, depth_follows_the_rate);
    tcase_add_test(tcase, every_order_reaches_the_right_channel);
    tcase_add_test(tcase, brightness_field_widens_the_range);
    tcase_add_test(tcase, forms_for_peripherals);
    tcase_add_test(tcase, shade_is_pure);
    suite_add_tcase(suite, tcase);
    return suite;
}
