/* SPDX-License-Identifier: MIT */
/* Plots over time, drawn by gnuplot as a PNG. */
#ifndef GLANZ_TOOL_PLOT_H
#define GLANZ_TOOL_PLOT_H

#include <stdio.h>

struct plot {
    FILE *gnuplot; /* its commands */
    char drawn[64];
    const char *picture;
};

/* Begin: page, colours, axes. @return 1, or 0 and it has been said why. */
int plot_begin(struct plot *plot, const char *picture, const char *y_label);
/* The title of a line, in pieces, of which any may be NULL. gnuplot takes it as it is: nothing in a name is carried out. */
void plot_title(struct plot *plot, const char *first, const char *second, const char *third);
/* A colour for the n-th line. */
const char *plot_shade(unsigned n);
/* Draw it, and put the picture in its place. @return an exit code. */
int plot_end(struct plot *plot);

#endif
