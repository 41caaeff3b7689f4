/* SPDX-License-Identifier: MIT */
/* What the readers of palettes share. */
#ifndef GLANZ_TOOL_STOPS_SOURCE_H
#define GLANZ_TOOL_STOPS_SOURCE_H

#include <string.h>

#include "stops.h"

struct source { /* a text, and where in it we are */
    const char *bytes;
    size_t count, at;
    struct glanz_fault *fault;
};

/* Say what is wrong, with line and column of a byte. @return 0 */
int stops_refuse(const struct source *from, size_t at, const char *what);
/* One more, at a place from 0 to 1, held within. @return 0: there is no room. */
int stops_add(struct stops *stops, double at, const double rgb[3]);

static inline int same_color(const struct stop *a, const struct stop *b) {
    return memcmp(a->rgb, b->rgb, 3) == 0;
}

int stops_read_gpl(struct stops *stops, struct source *from);
int stops_read_ggr(struct stops *stops, struct source *from);

#endif
