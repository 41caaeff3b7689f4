/* SPDX-License-Identifier: MIT */
/* Palettes, changed: reversed, rotated, spread, cut, simplified. */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "stops.h"

/* The last of those at a place or before it; the first, where none is. */
static int stop_before(const struct stops *stops, double at) {
    int low = 0;
    int high = stops->count;
    while (high - low > 1) {
        int middle = (low + high) / 2;
        *(stops->list[middle].at <= at ? &low : &high) = middle;
    }
    return low;
}

static void mix(uint8_t rgb[3], const struct stop *stop, const struct stop *next, double at, int between) {
    double way = next->at - stop->at;
    double part = way <= 0 || at <= stop->at || between == GLANZ_BETWEEN_BANDS ? 0 : (at - stop->at) / way;
    struct glanz_light light[2];
    struct glanz_even even;
    if (between == GLANZ_BETWEEN_CODES || part <= 0 || part >= 1) {
        for (int c = 0; c < 3; c++) {
            rgb[c] = (uint8_t)lrint(stop->rgb[c] + (next->rgb[c] - stop->rgb[c]) * fmin(part, 1));
        }
        return;
    }
    for (int end = 0; end < 2; end++) {
        const uint8_t *from = end == 0 ? stop->rgb : next->rgb;
        light[end] = glanz_rgb_light(GLANZ_RGB(from[0], from[1], from[2]));
    }
    uint32_t f = (uint32_t)lrint(part * 65536);
    glanz_even_begin(&even, light[0], light[1]);
    light[0] = between == GLANZ_BETWEEN_EVEN ? glanz_even_at(&even, f) : glanz_light_mix(light[0], light[1], f);
    rgb[0] = glanz_coded(light[0].red);
    rgb[1] = glanz_coded(light[0].green);
    rgb[2] = glanz_coded(light[0].blue);
}

void stops_color(uint8_t rgb[3], const struct stops *stops, double at) {
    int i = stop_before(stops, at);
    mix(rgb, &stops->list[i], &stops->list[i + 1 < stops->count ? i + 1 : i], at, stops->between);
}

void stops_reverse(struct stops *stops) {
    struct stops old = *stops;
    for (int i = 0; i < old.count; i++) {
        stops->list[i] = old.list[old.count - 1 - i];
        stops->list[i].at = 100 - stops->list[i].at;
        if (old.between == GLANZ_BETWEEN_BANDS) { /* a band goes from its stop on: its other end becomes its place */
            stops->list[i].at = i == 0 ? 0 : 100 - old.list[old.count - i].at;
        }
    }
}

static void add(struct stops *stops, double at, const uint8_t rgb[3]) {
    if (stops->count < STOPS_MOST) {
        stops->list[stops->count].at = at;
        memcpy(stops->list[stops->count++].rgb, rgb, 3);
    }
}

/* The part from one place to another, laid from a place on. */
static void add_part(struct stops *to, const struct stops *from, double begin, double end, double at, double stretch) {
    uint8_t rgb[3];
    stops_color(rgb, from, begin);
    add(to, at, rgb);
    for (int i = 0; i < from->count; i++) {
        if (from->list[i].at > begin && from->list[i].at < end) {
            add(to, at + (from->list[i].at - begin) * stretch, from->list[i].rgb);
        }
    }
    if (from->between != GLANZ_BETWEEN_BANDS) {
        int i = stop_before(from, end);
        while (i > 0 && from->list[i].at >= end) { /* before a step that stands there */
            i--;
        }
        mix(rgb, &from->list[i], &from->list[i + 1 < from->count ? i + 1 : i], end, from->between);
        add(to, at + (end - begin) * stretch, rgb);
    }
}

void stops_rotate(struct stops *stops, double by) {
    struct stops old = *stops;
    by = fmod(by, 100);
    if (by <= 0) {
        return;
    }
    stops->count = 0;
    add_part(stops, &old, 100 - by, 100, 0, 1);
    add_part(stops, &old, 0, 100 - by, by, 1);
}

void stops_even(struct stops *stops) {
    int last = stops->between == GLANZ_BETWEEN_BANDS ? stops->count : stops->count - 1;
    for (int i = 0; i < stops->count; i++) {
        stops->list[i].at = last == 0 ? 0 : 100.0 * i / last;
    }
}

void stops_cut(struct stops *stops, double from, double to) {
    struct stops old = *stops;
    stops->count = 0;
    add_part(stops, &old, from, to, 0, 100 / (to - from));
}

int stops_insert(struct stops *stops, double at) {
    uint8_t rgb[3];
    int i = stops->count;
    if (stops->count == STOPS_MOST) {
        return 0;
    }
    stops_color(rgb, stops, at);
    for (; i > 0 && stops->list[i - 1].at > at; i--) {
        stops->list[i] = stops->list[i - 1];
    }
    stops->list[i].at = at;
    memcpy(stops->list[i].rgb, rgb, 3);
    stops->count++;
    return 1;
}

/* The largest difference from a palette where two stops stand for all between them. */
static double difference(const struct stops *whole, const struct stop *stop, const struct stop *next) {
    double most = 0;
    for (int i = 0; i <= 64; i++) {
        double at = stop->at + (next->at - stop->at) * i / 64 - (i == 64 ? 1e-9 : 0);
        uint8_t one[3];
        uint8_t other[3];
        stops_color(one, whole, at);
        mix(other, stop, next, at, whole->between);
        for (int c = 0; c < 3; c++) {
            most = fmax(most, abs(one[c] - other[c]));
        }
    }
    return most;
}

int stops_to_codes(struct stops *stops) {
    struct stops whole = *stops;
    if (whole.between == GLANZ_BETWEEN_CODES || whole.between == GLANZ_BETWEEN_BANDS) {
        return 1;
    }
    stops->between = GLANZ_BETWEEN_CODES;
    for (int i = 0; i + 1 < stops->count;) {
        struct stop *stop = &stops->list[i];
        double middle = (stop->at + stop[1].at) / 2;
        uint8_t rgb[3];
        double most = 0;
        for (int k = 1; k < 8; k++) {
            uint8_t wanted[3];
            double at = stop->at + (stop[1].at - stop->at) * k / 8;
            stops_color(wanted, &whole, at);
            mix(rgb, stop, stop + 1, at, GLANZ_BETWEEN_CODES);
            for (int c = 0; c < 3; c++) {
                most = fmax(most, abs(wanted[c] - rgb[c]));
            }
        }
        if (most <= 2 || stop[1].at - stop->at < 0.05) {
            i++;
            continue;
        }
        if (stops->count == STOPS_MOST) {
            return 0;
        }
        stops_color(rgb, &whole, middle);
        memmove(stop + 2, stop + 1, sizeof *stop * (size_t)(stops->count - i - 1));
        stop[1].at = middle;
        memcpy(stop[1].rgb, rgb, 3);
        stops->count++;
    }
    return 1;
}

double stops_simplify(struct stops *stops, int count) {
    static struct stops whole;
    static double missed[STOPS_MOST]; /* what leaving one out would cost */
    double error = 0;
    whole = *stops;
    for (int i = 1; i + 1 < stops->count; i++) { /* the ends stay */
        missed[i] = difference(&whole, &stops->list[i - 1], &stops->list[i + 1]);
    }
    while (stops->count > count && stops->count > 2) {
        int which = 1;
        for (int i = 2; i + 1 < stops->count; i++) {
            which = missed[i] < missed[which] ? i : which;
        }
        stops->count--;
        memmove(&stops->list[which], &stops->list[which + 1], sizeof stops->list[0] * (size_t)(stops->count - which));
        memmove(&missed[which], &missed[which + 1], sizeof missed[0] * (size_t)(stops->count - which));
        for (int i = which - 1; i <= which; i++) {
            if (i > 0 && i + 1 < stops->count) {
                missed[i] = difference(&whole, &stops->list[i - 1], &stops->list[i + 1]);
            }
        }
    }
    for (int i = 0; i + 1 < stops->count; i++) {
        error = fmax(error, difference(&whole, &stops->list[i], &stops->list[i + 1]));
    }
    return error;
}
