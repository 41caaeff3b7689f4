/* SPDX-License-Identifier: MIT */
/* The colours that stand for a picture: its points in Oklab (CSS Color 4, 9.2), gathered round as many middles as are asked
 * for (Lloyd's algorithm), each middle begun where the most is farthest from those there are. */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "import.h"
#include "stops_source.h"

#define BINS 32768 /* 5 bits a channel */
#define ROUNDS 40

struct bin {
    double lab[3], weight;
};

static void lab_of(double lab[3], const double light[3]) {
    double l = cbrt(0.4122214708 * light[0] + 0.5363325363 * light[1] + 0.0514459929 * light[2]);
    double m = cbrt(0.2119034982 * light[0] + 0.6806995451 * light[1] + 0.1073969566 * light[2]);
    double s = cbrt(0.0883024619 * light[0] + 0.2817188376 * light[1] + 0.6299787005 * light[2]);
    lab[0] = 0.2104542553 * l + 0.7936177850 * m - 0.0040720468 * s;
    lab[1] = 1.9779984951 * l - 2.4285922050 * m + 0.4505937099 * s;
    lab[2] = 0.0259040371 * l + 0.7827717662 * m - 0.8086757660 * s;
}

static void codes_of(double rgb[3], const double lab[3]) {
    double l = pow(lab[0] + 0.3963377774 * lab[1] + 0.2158037573 * lab[2], 3);
    double m = pow(lab[0] - 0.1055613458 * lab[1] - 0.0638541728 * lab[2], 3);
    double s = pow(lab[0] - 0.0894841775 * lab[1] - 1.2914855480 * lab[2], 3);
    const double light[3] = {4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
                             -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
                             -0.0041960863 * l - 0.7034186147 * m + 1.7076147010 * s};
    for (int c = 0; c < 3; c++) {
        rgb[c] = glanz_coded((uint16_t)lrint(fmin(fmax(light[c], 0), 1) * 65535));
    }
}

static double apart(const double a[3], const double b[3]) {
    return (a[0] - b[0]) * (a[0] - b[0]) + (a[1] - b[1]) * (a[1] - b[1]) + (a[2] - b[2]) * (a[2] - b[2]);
}

/* Points of like codes together, as their mean. @return how many there are. */
static int fill_bins(struct bin *bins, const struct frames *frames) {
    int count = 0;
    size_t points = (size_t)frames->columns * frames->rows * frames->count;
    for (size_t i = 0; i < points; i++) {
        const uint16_t *point = &frames->points[i * 4];
        double cover = point[3];
        if (cover < 655) {
            continue;
        }
        double light[3];
        double lab[3];
        unsigned index = 0;
        for (int c = 0; c < 3; c++) {
            light[c] = fmin(point[c] / cover, 1);
            index = index << 5 | (unsigned)glanz_coded((uint16_t)lrint(light[c] * 65535)) >> 3;
        }
        lab_of(lab, light);
        for (int c = 0; c < 3; c++) {
            bins[index].lab[c] += lab[c] * cover;
        }
        bins[index].weight += cover;
    }
    for (int i = 0; i < BINS; i++) {
        if (bins[i].weight > 0) {
            for (int c = 0; c < 3; c++) {
                bins[count].lab[c] = bins[i].lab[c] / bins[i].weight;
            }
            bins[count++].weight = bins[i].weight;
        }
    }
    return count;
}

static int nearest(const double lab[3], double middles[][3], int count) {
    int best = 0;
    for (int i = 1; i < count; i++) {
        best = apart(lab, middles[i]) < apart(lab, middles[best]) ? i : best;
    }
    return best;
}

/* Middles, begun apart from each other. @return how many: no more than there are colours. */
static int begin_middles(double middles[][3], const struct bin *bins, int bin_count, int wanted) {
    int count = 0;
    while (count < wanted) {
        int which = -1;
        double most = 1e-9;
        for (int i = 0; i < bin_count; i++) {
            double away = count == 0 ? 1 : apart(bins[i].lab, middles[nearest(bins[i].lab, middles, count)]);
            double worth = away * sqrt(bins[i].weight);
            if (worth > most && away > 1e-7) {
                most = worth;
                which = i;
            }
        }
        if (which < 0) {
            break;
        }
        memcpy(middles[count++], bins[which].lab, sizeof middles[0]);
    }
    return count;
}

static int by_lightness(const void *a, const void *b) {
    double one = *(const double *)a;
    double other = *(const double *)b;
    return (one > other) - (one < other);
}

int stops_of_picture(struct stops *stops, const struct text *text, int wanted, struct glanz_fault *fault) {
    struct frames frames;
    double middles[STOPS_SHOWN][3];
    if (import_read(&frames, text->bytes, text->count, fault) != GLANZ_OK) {
        return 0;
    }
    struct bin *bins = (struct bin *)calloc(BINS, sizeof *bins);
    int bin_count = bins == NULL ? 0 : fill_bins(bins, &frames);
    int count = begin_middles(middles, bins, bin_count, wanted);
    import_free(&frames);
    for (int round = 0; round < ROUNDS; round++) {
        struct bin sums[STOPS_SHOWN];
        memset(sums, 0, sizeof sums);
        for (int i = 0; i < bin_count; i++) {
            struct bin *sum = &sums[nearest(bins[i].lab, middles, count)];
            for (int c = 0; c < 3; c++) {
                sum->lab[c] += bins[i].lab[c] * bins[i].weight;
            }
            sum->weight += bins[i].weight;
        }
        for (int m = 0; m < count; m++) {
            for (int c = 0; c < 3 && sums[m].weight > 0; c++) {
                middles[m][c] = sums[m].lab[c] / sums[m].weight;
            }
        }
    }
    free(bins);
    if (count == 0) {
        snprintf(fault->text, sizeof fault->text,
                 "nothing of this picture is to be seen; expected points that are not transparent");
        return 0;
    }
    qsort(middles, (size_t)count, sizeof middles[0], by_lightness);
    memset(stops, 0, sizeof *stops);
    stops->between = GLANZ_BETWEEN_EVEN;
    for (int m = 0; m < count; m++) {
        double rgb[3];
        codes_of(rgb, middles[m]);
        (void)stops_add(stops, count == 1 ? 0 : (double)m / (count - 1), rgb);
    }
    return 1;
}
