/* SPDX-License-Identifier: MIT */
/* The LEDs of a surface, as glanz wiring tells and draws them. */
#ifndef GLANZ_TOOL_WIRING_H
#define GLANZ_TOOL_WIRING_H

#include "commands.h"

struct led { /* of the surface that is drawn */
    double x, y;
    uint8_t output, piece;
    uint16_t led;
    uint8_t wrong; /* stands where another does, outside the field, or is claimed twice */
};

struct plan {
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_surface *surface;
    struct led *leds;
    size_t count, wrong;
    double columns, rows; /* of the field, as it is looked at */
};

/* The plan as a picture, PNG or SVG by the path's end. @return an exit code. */
int wiring_draw(const struct plan *plan, const char *path, int back);

#endif
