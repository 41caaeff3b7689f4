/* SPDX-License-Identifier: MIT */
/* Files that commands write. */
#ifndef GLANZ_TOOL_OUTPUT_H
#define GLANZ_TOOL_OUTPUT_H

#include <stdio.h>

#include <cairo.h>

/* A file on its way: written beside the one of its name, and put in its place only when all of it is there. What is no regular
 * file, a pipe or a device, is written to straight; "-" is standard output. */
struct output {
    FILE *file; /* NULL: none was asked for */
    const char *path;
    char *place;  /* that is to be replaced: the path, links followed; NULL: written straight */
    char *beside; /* meanwhile */
};

/* Begin. @param path NULL: none is wanted. @return 1, or 0 and it has been said why: nothing was touched. */
int output_open(struct output *output, const char *path);
/* End: put it in its place, or, where `keep` is 0, leave what was there as it was. @return 1, or 0 and it has been said why. */
int output_close(struct output *output, int keep);

/* A whole file, and a page of cairo as a PNG. @return 1, or 0 and it has been said why; what was there before stays. */
int output_bytes(const char *path, const void *bytes, size_t count);
int output_png(const char *path, cairo_surface_t *page);
/* For cairo: writes to the FILE that `file` is. */
cairo_status_t output_piece(void *file, const unsigned char *bytes, unsigned count);

#endif
