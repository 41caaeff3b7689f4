/* SPDX-License-Identifier: MIT */
/* Pictures from PNG and GIF files: read, scaled, packed. */
#ifndef GLANZ_TOOL_IMPORT_H
#define GLANZ_TOOL_IMPORT_H

#include "files.h"

#define IMPORT_SIDE_MOST 4096        /* columns or rows of a file's picture */
#define IMPORT_BYTES_MOST 33554432u  /* of a file */
#define IMPORT_POINTS_MOST 67108864u /* of all frames together */

/* Frames of linear light times cover, 16 bits a channel, and how long each stands. */
struct frames {
    uint32_t columns, rows, count, capacity;
    uint16_t *points; /* frame after frame: red, green, blue, cover */
    uint16_t *ms;
};

/* Read a PNG or GIF file's bytes. @return GLANZ_ERR_TEXT with the fault's text; nothing to free then. */
glanz_status import_read(struct frames *frames, const char *bytes, size_t count, struct glanz_fault *fault);
void import_free(struct frames *frames);

/* Scale down to a size, each point the mean of what it covers; the same proportions when `keep` is 1. Never up. */
int import_scale(struct frames *frames, uint32_t columns, uint32_t rows, int keep);

struct packed { /* what packing did */
    struct text bytes;
    uint32_t colors;      /* of the palette */
    uint32_t colors_were; /* before it was cut down to 256 */
    unsigned off;         /* most that a channel is off by it, of 255 */
};

/* Pack. @return 0 when memory is out or the picture has more points than pictures may. */
int import_pack(struct packed *packed, const struct frames *frames);

#endif
