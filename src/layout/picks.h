/* SPDX-License-Identifier: MIT */
/* LEDs that a region picks. Private to src/layout. */
#ifndef GLANZ_LAYOUT_PICKS_H
#define GLANZ_LAYOUT_PICKS_H

#include <glanz/layout.h>

#if GLANZ_FIELDS
/* What of the field follows from the LEDs that a region picks, of so many. @return 0 where they are none, or another cut stands
 * beside them. */
int glanz_picks_measure(struct glanz_field *field, GLANZ_CONST struct glanz_region *region, uint16_t leds);
/* Where along the region a LED of the surface is. @return 0: it is not picked. */
int glanz_pick_place(uint16_t *place, GLANZ_CONST struct glanz_region *region, uint16_t led);
#endif

#endif
