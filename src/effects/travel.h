/* SPDX-License-Identifier: MIT */
/* How writing and pictures move over a field. Private to src/effects. */
#ifndef GLANZ_EFFECTS_TRAVEL_H
#define GLANZ_EFFECTS_TRAVEL_H

#include <glanz/effects.h>

#if GLANZ_FIELDS

enum way { WAY_STANDING, WAY_LEFT, WAY_RIGHT, WAY_UP, WAY_DOWN };
extern GLANZ_CONST char *GLANZ_CONST glanz_ways[5];

enum again { AGAIN_AGAIN, AGAIN_BOUNCE, AGAIN_ONCE, AGAIN_TILED };

struct travel {
    uint16_t extent, field; /* points of what moves, and of the field, along the way */
    uint8_t backward;       /* to the right, or down */
    uint8_t again;
    uint8_t closed;
};

/* Points of a pass, 16.16. */
glanz_place glanz_travel_pass(const struct travel *travel);

/* Where its first point is, 16.16, from the field's edge. */
glanz_place glanz_travel_place(const struct travel *travel, const struct glanz_frame *frame);

/* Where something that stands lies, whole points: `share` of the room that is left, or of what sticks out. */
glanz_place glanz_travel_rest(uint16_t extent, uint16_t field, int32_t share);

#endif
#endif
