/* SPDX-License-Identifier: MIT */
/* Palettes of other programs and of ours: read, changed, written. Colours are sRGB bytes. */
#ifndef GLANZ_TOOL_STOPS_H
#define GLANZ_TOOL_STOPS_H

#include <glanz/color.h>

#include "files.h"

#define STOPS_MOST 4096
#define STOPS_SHOWN 64 /* that a show's palette may have */

struct stop {
    double at; /* 0 to 100 % */
    uint8_t rgb[3];
};

struct stops {
    struct stop list[STOPS_MOST];
    int count;
    int between; /* enum glanz_between; others' are GLANZ_BETWEEN_CODES or BANDS */
    char name[64];
};

enum stops_form { STOPS_JSON, STOPS_CSS, STOPS_GPL, STOPS_GGR, STOPS_FORMS };
extern const char *const stops_forms[STOPS_FORMS];

/* Read a GIMP palette or gradient, a CSS gradient, or the JSON of a palette. @return 0: the fault says where and why. */
int stops_read(struct stops *stops, const struct text *text, struct glanz_fault *fault);
void stops_write(struct text *text, const struct stops *stops, enum stops_form form);
/* The colours that stand for a PNG or GIF picture, at most so many, from dark to light. @return 0: the fault says why. */
int stops_of_picture(struct stops *stops, const struct text *text, int wanted, struct glanz_fault *fault);
/* One of the library. @return 0: there is none of that name. */
int stops_of_library(struct stops *stops, const char *name);

void stops_color(uint8_t rgb[3], const struct stops *stops, double at);
void stops_reverse(struct stops *stops);
/* On by so much; what leaves at the end comes in at the beginning. */
void stops_rotate(struct stops *stops, double by);
void stops_even(struct stops *stops);
/* The part between two places, spread over the whole. */
void stops_cut(struct stops *stops, double from, double to);
/* One more, with the colour that is there already. @return 0: there is no room. */
int stops_insert(struct stops *stops, double at);
/* As many more as it takes for colours mixed straight in their bytes, as GIMP does. @return 0: there is no room. */
int stops_to_codes(struct stops *stops);
/* Down to so many, leaving out what is missed least. @return the largest error, in 255ths of a channel. */
double stops_simplify(struct stops *stops, int count);

#endif
