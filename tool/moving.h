/* SPDX-License-Identifier: MIT */
/* Moving pictures: GIF, written frame by frame. */
#ifndef GLANZ_TOOL_MOVING_H
#define GLANZ_TOOL_MOVING_H

#include <cairo.h>
#include <stdint.h>

#include "output.h"

struct moving;

/* Begin a picture that repeats for ever. @return NULL: it has been said why. */
struct moving *moving_open(FILE *file, int columns, int rows);
/* One frame, of an image of RGB24, that stands for so many hundredths of a second. @return 0 when it cannot be written. */
int moving_add(struct moving *moving, cairo_surface_t *image, unsigned hundredths);
/* @return 0 when it could not be written whole. */
int moving_close(struct moving *moving);

#endif
