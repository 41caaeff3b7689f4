/* SPDX-License-Identifier: MIT */
/* Palettes, changed: reversed, rotated, spread, cut, simplified. */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "stops.h"

void stops_color(uint8_t rgb[3], const struct stops *stops, double at) {
    int i = 0;
    while (i + 1 < stops->count && stops->list[i + 1].at <= at) {
        i++;
    }
    const struct stop *stop = &stops->list[i];
    const struct stop *next = i + 1 < stops->count ? stop + 1 : stop;
    double way = next->at - stop->at;
    double part = way <= 0 || at <= stop->at || stops->bands ? 0 : (at - stop->at) / way;
    for (int c = 0; c < 3; c++) {
        rgb[c] = (uint8_t)lrint(stop->rgb[c] + (next->rgb[c] - stop->rgb[c]) * part);
    }
}

void stops_reverse(struct stops *stops) {
    struct stops old = *stops;
    for (int i = 0; i < old.count; i++) {
        stops->list[i] = old.list[old.count - 1 - i];
        stops->list[i].at = 100 - stops->list[i].at;
        if (old.bands) { /* a band goes from its stop on: its other end becomes its place */
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
    if (!from->bands) {
        stops_color(rgb, from, end);
        add(to, at + (end - begin) * stretch, rgb);
    }
}

void stops_rotate(struct stops *stops, double by) {
    struct stops old = *stops;
    if (by <= 0) {
        return;
    }
    stops->count = 0;
    add_part(stops, &old, 100 - by, 100, 0, 1);
    add_part(stops, &old, 0, 100 - by, by, 1);
}

void stops_even(struct stops *stops) {
    int last = stops->bands ? stops->count : stops->count - 1;
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

/* The largest difference between the two between two places. */
static double difference(const struct stops *a, const struct stops *b, double from, double to) {
    double most = 0;
    for (int i = 0; i <= 64; i++) {
        uint8_t one[3];
        uint8_t other[3];
        stops_color(one, a, from + (to - from) * i / 64);
        stops_color(other, b, from + (to - from) * i / 64);
        for (int c = 0; c < 3; c++) {
            most = fmax(most, abs(one[c] - other[c]));
        }
    }
    return most;
}

static void leave_out(struct stops *stops, int index) {
    memmove(&stops->list[index], &stops->list[index + 1], sizeof stops->list[0] * (size_t)(stops->count - index - 1));
    stops->count--;
}

double stops_simplify(struct stops *stops, int count) {
    static struct stops whole;
    static struct stops less;
    whole = *stops;
    while (stops->count > count && stops->count > 2) {
        int which = 1;
        double least = 1e9;
        for (int i = 1; i + 1 < stops->count; i++) { /* the ends stay */
            less = *stops;
            leave_out(&less, i);
            double error = difference(&whole, &less, stops->list[i - 1].at, stops->list[i + 1].at);
            if (error < least) {
                least = error;
                which = i;
            }
        }
        leave_out(stops, which);
    }
    return difference(&whole, stops, 0, 100);
}
