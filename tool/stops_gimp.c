/* SPDX-License-Identifier: MIT */
/* GIMP's palettes and gradients, read. */
#include <math.h>
#include <stdlib.h>

#include "stops_source.h"

/* The next line, without its end, in the room of `line`. @return 0 behind the last. */
static int next_line(struct source *from, char *line, size_t capacity, size_t *begin) {
    if (from->at >= from->count) {
        return 0;
    }
    size_t length = 0;
    *begin = from->at;
    for (; from->at < from->count && from->bytes[from->at] != '\n'; from->at++) {
        if (length + 1 < capacity && from->bytes[from->at] != '\r') {
            line[length++] = from->bytes[from->at];
        }
    }
    from->at++;
    line[length] = '\0';
    return 1;
}

/* "  255 176   0  a name": evenly spread, unless every name is its place, as we write it. */
int stops_read_gpl(struct stops *stops, struct source *from) {
    char line[300];
    size_t begin = 0;
    int places = 1;
    (void)next_line(from, line, sizeof line, &begin);
    while (next_line(from, line, sizeof line, &begin)) {
        unsigned rgb[3];
        int read = 0;
        double place = 0;
        if (strncmp(line, "Name:", 5) == 0) {
            snprintf(stops->name, sizeof stops->name, "%.60s", line + 5 + strspn(line + 5, " "));
            continue;
        }
        if (strcmp(line, "# bands") == 0) { /* as we write it; others have no word for it */
            stops->between = GLANZ_BETWEEN_BANDS;
        }
        if (line[0] == '#' || line[0] == '\0' || strncmp(line, "Columns:", 8) == 0) {
            continue;
        }
        if (sscanf(line, "%9u %9u %9u%n", &rgb[0], &rgb[1], &rgb[2], &read) != 3 || rgb[0] > 255 || rgb[1] > 255 ||
            rgb[2] > 255) {
            return stops_refuse(from, begin, "expected a colour: red, green and blue from 0 to 255, and a name");
        }
        places =
            places && sscanf(line + read, " %lf %%", &place) == 1 && place >= 0 && place <= 100 && strchr(line, '%') != NULL;
        const double color[3] = {rgb[0], rgb[1], rgb[2]};
        if (!stops_add(stops, places ? place / 100 : 0, color)) {
            return stops_refuse(from, begin, "too many colours; expected at most 4096");
        }
        places = places && (stops->count < 2 || stops->list[stops->count - 1].at >= stops->list[stops->count - 2].at);
    }
    if (!places) {
        stops_even(stops);
    }
    return 1;
}

struct part { /* of a GIMP gradient */
    double left, middle, right;
    double from[4], to[4];
    int blend, coloring;
};

static int read_part(struct part *part, const struct source *from, const char *line, size_t begin, double last) {
    int ends[2] = {0, 0};
    int read = sscanf(line, "%lf %lf %lf %lf %lf %lf %lf %lf %lf %lf %lf %d %d %d %d", &part->left, &part->middle, &part->right,
                      &part->from[0], &part->from[1], &part->from[2], &part->from[3], &part->to[0], &part->to[1], &part->to[2],
                      &part->to[3], &part->blend, &part->coloring, &ends[0], &ends[1]);
    if (read != 13 && read != 15) {
        return stops_refuse(from, begin,
                            "expected a part of a gradient: three places, two colours of four numbers, blend, colouring");
    }
    if (part->blend != 0 || part->coloring != 0) {
        return stops_refuse(from, begin, "expected linear parts (0) coloured in RGB (0); others are not read");
    }
    if (ends[0] != 0 || ends[1] != 0) {
        return stops_refuse(from, begin, "expected fixed colours at both ends (0 0)");
    }
    if (!(fabs(part->left - last) <= 1e-4 && part->middle >= part->left && part->right >= part->middle &&
          part->right <= 1.00001)) {
        return stops_refuse(from, begin, "expected parts in order, each beginning where the one before ends, from 0 to 1");
    }
    for (int c = 0; c < 4; c++) {
        if (!(part->from[c] >= 0 && part->from[c] <= 1.00001 && part->to[c] >= 0 && part->to[c] <= 1.00001)) {
            return stops_refuse(from, begin, "expected colours from 0 to 1");
        }
    }
    if (part->from[3] < 0.999 || part->to[3] < 0.999) {
        return stops_refuse(from, begin, "expected opaque colours (alpha 1)");
    }
    for (int c = 0; c < 3; c++) {
        part->from[c] *= 255;
        part->to[c] *= 255;
    }
    return 1;
}

int stops_read_ggr(struct stops *stops, struct source *from) {
    char line[400];
    size_t begin = 0;
    int parts = 0;
    int flat = 1;
    (void)next_line(from, line, sizeof line, &begin);
    if (next_line(from, line, sizeof line, &begin) && strncmp(line, "Name:", 5) == 0) {
        snprintf(stops->name, sizeof stops->name, "%.60s", line + 5 + strspn(line + 5, " "));
        line[0] = '\0';
        (void)next_line(from, line, sizeof line, &begin);
    }
    if (sscanf(line, "%d", &parts) != 1 || parts < 1 || parts > STOPS_MOST / 3) {
        return stops_refuse(from, begin, "expected the number of parts, 1 to 1365");
    }
    double last = 0;
    for (int i = 0; i < parts; i++) {
        struct part part;
        if (!next_line(from, line, sizeof line, &begin)) {
            return stops_refuse(from, from->count, "the file ends; expected as many parts as it says");
        }
        if (!read_part(&part, from, line, begin, last)) {
            return 0;
        }
        last = part.right;
        int before = stops->count;
        (void)stops_add(stops, part.left, part.from);
        if (before > 0 && same_color(&stops->list[before - 1], &stops->list[before]) &&
            fabs(stops->list[before - 1].at - stops->list[before].at) < 1e-4) {
            stops->count = before; /* it goes on */
        }
        if (fabs(part.middle - (part.left + part.right) / 2) > 1e-4) {
            const double mean[3] = {(part.from[0] + part.to[0]) / 2, (part.from[1] + part.to[1]) / 2,
                                    (part.from[2] + part.to[2]) / 2};
            (void)stops_add(stops, part.middle, mean);
        }
        (void)stops_add(stops, part.right, part.to);
        flat = flat && same_color(&stops->list[stops->count - 1],
                                  &stops->list[before > 0 && stops->count - before < 2 ? before - 1 : before]);
    }
    if (last < 0.9999) {
        return stops_refuse(from, begin, "expected the last part to end at 1");
    }
    if (flat && parts > 1) { /* each part in one colour */
        stops->between = GLANZ_BETWEEN_BANDS;
        int kept = 0;
        for (int i = 0; i < stops->count; i++) {
            if (kept == 0 || !same_color(&stops->list[kept - 1], &stops->list[i])) {
                stops->list[kept++] = stops->list[i];
            }
        }
        stops->count = kept;
        return 1;
    }
    if (stops->count == 2 && same_color(&stops->list[0], &stops->list[1])) {
        stops->count = 1;
    }
    if (stops->count > 2 && stops->list[0].at <= 0 &&
        same_color(&stops->list[0], &stops->list[1])) { /* what every palette has before */
        memmove(stops->list, stops->list + 1, sizeof stops->list[0] * (size_t)--stops->count);
    }
    if (stops->count > 2 && stops->list[stops->count - 1].at > 99.9999 &&
        same_color(&stops->list[stops->count - 1], &stops->list[stops->count - 2])) {
        stops->count--;
    }
    return 1;
}
