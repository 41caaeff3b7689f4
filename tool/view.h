/* SPDX-License-Identifier: MIT */
/* LEDs at their places, as one sees them: as lamps, or the light that they throw on a diffuser, from afar. */
#ifndef GLANZ_TOOL_VIEW_H
#define GLANZ_TOOL_VIEW_H

#include <cairo.h>

#include "commands.h"

struct view {
    struct spot *spots;
    size_t leds;
    double width, height; /* in steps of LEDs */
    double step;          /* pixels from one LED to the next */
    double spread;        /* of each LED's light, standard deviation in steps; 0: drawn as lamps */
    int radius;           /* of the stamp, pixels */
    float *stamp;         /* what an LED adds around it, 2 * radius + 1 squared */
    float *light;         /* of the picture, linear: columns * rows * 3 */
    int columns, rows;
};

/* Lay out. @param room pixels that it may be wide. @param spread as above. @return 0 when memory is out. */
int view_open(struct view *view, GLANZ_CONST struct glanz_rig *rig, double room, double most_step, double spread);
void view_close(struct view *view);
/* Draw what a session shows now, with its top left corner there. */
void view_draw(struct view *view, cairo_t *cairo, double left, double top, const struct session *session);

/* How far the light of LEDs spreads to the eye: behind a diffuser that spreads it by so many steps, seen from so far, with LEDs
 * so far apart (both in metres). The eye's least angle is a minute of arc. */
double view_spread(double diffuser, double distance, double pitch);

#endif
