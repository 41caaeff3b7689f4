/* SPDX-License-Identifier: MIT */
/* Palettes, written: GIMP's two forms, CSS gradients, a show's JSON. */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "rows.h"
#include "stops.h"

const char *const stops_forms[STOPS_FORMS] = {"json", "css", "gpl", "ggr"};

/* In percent, to a thousandth, without zeros at the end. */
static const char *percent(char *out, size_t capacity, double at) {
    for (int digits = 0; digits <= 3; digits++) {
        snprintf(out, capacity, "%.*f", digits, at);
        if (fabs(atof(out) - at) < 0.0005) {
            break;
        }
    }
    return out;
}

static void put_part(struct text *text, double from, double to, const uint8_t *left, const uint8_t *right) {
    text_print(text, "%.6f %.6f %.6f %.6f %.6f %.6f 1.000000 %.6f %.6f %.6f 1.000000 0 0\n", from, (from + to) / 2, to,
               left[0] / 255.0, left[1] / 255.0, left[2] / 255.0, right[0] / 255.0, right[1] / 255.0, right[2] / 255.0);
}

static void write_ggr(struct text *text, const struct stops *stops) {
    const struct stop *first = &stops->list[0];
    const struct stop *last = &stops->list[stops->count - 1];
    int before = first->at > 0.0004;
    int behind = last->at < 99.9996 || stops->count == 1 || stops->between == GLANZ_BETWEEN_BANDS;
    text_print(text, "GIMP Gradient\nName: %s\n%d\n", stops->name[0] == '\0' ? "palette" : stops->name,
               stops->count - 1 + before + behind);
    if (before) {
        put_part(text, 0, first->at / 100, first->rgb, first->rgb);
    }
    for (int i = 0; i + 1 < stops->count; i++) {
        const struct stop *stop = &stops->list[i];
        put_part(text, stop->at / 100, stop[1].at / 100, stop->rgb,
                 stops->between == GLANZ_BETWEEN_BANDS ? stop->rgb : stop[1].rgb);
    }
    if (behind) {
        put_part(text, last->at / 100, 1, last->rgb, last->rgb);
    }
}

static void write_css(struct text *text, const struct stops *stops) {
    char at[24];
    text_print(text, "linear-gradient(to right%s",
               stops->between == GLANZ_BETWEEN_EVEN    ? " in oklab"
               : stops->between == GLANZ_BETWEEN_LIGHT ? " in srgb-linear"
                                                       : "");
    for (int i = 0; i < stops->count; i++) {
        const struct stop *stop = &stops->list[i];
        text_print(text, ", #%02x%02x%02x %s%%", stop->rgb[0], stop->rgb[1], stop->rgb[2], percent(at, sizeof at, stop->at));
        if (stops->between == GLANZ_BETWEEN_BANDS) { /* to where the next begins */
            text_print(text, " %s%%", percent(at, sizeof at, i + 1 < stops->count ? stop[1].at : 100));
        }
    }
    text_print(text, ")\n");
}

void stops_write(struct text *text, const struct stops *wanted, enum stops_form form) {
    static struct stops copy;
    const struct stops *stops = wanted;
    char at[24];
    if (form == STOPS_GGR || form == STOPS_GPL) {
        copy = *wanted;
        (void)stops_to_codes(&copy); /* where there is no room, as near as it comes */
        stops = &copy;
    }
    switch (form) {
    case STOPS_CSS: write_css(text, stops); return;
    case STOPS_GGR: write_ggr(text, stops); return;
    case STOPS_GPL:
        text_print(text, "GIMP Palette\nName: %s\nColumns: %d\n#%s\n", stops->name[0] == '\0' ? "palette" : stops->name,
                   stops->count < 16 ? stops->count : 16, stops->between == GLANZ_BETWEEN_BANDS ? " bands" : "");
        for (int i = 0; i < stops->count; i++) {
            const struct stop *stop = &stops->list[i];
            text_print(text, "%3u %3u %3u\t%s %%\n", stop->rgb[0], stop->rgb[1], stop->rgb[2],
                       percent(at, sizeof at, stop->at));
        }
        return;
    case STOPS_FORMS:
    case STOPS_JSON: break;
    }
    text_print(text, "{ \"stops\": [\n");
    for (int i = 0; i < stops->count; i++) {
        const struct stop *stop = &stops->list[i];
        text_print(text, "    { \"at\": \"%s %%\", \"color\": \"#%02x%02x%02x\" }%s\n", percent(at, sizeof at, stop->at),
                   stop->rgb[0], stop->rgb[1], stop->rgb[2], i + 1 < stops->count ? "," : "");
    }
    text_print(text, "  ], \"between\": \"%s\" }\n", glanz_words_betweens[stops->between]);
}
