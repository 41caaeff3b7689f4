/* SPDX-License-Identifier: MIT */
/* What the parts of the forecast share. */
#ifndef GLANZ_TOOL_FORECAST_H
#define GLANZ_TOOL_FORECAST_H

#include <glanz/control.h>

#define COUNT(list) (sizeof(list) / sizeof((list)[0]))

/* Bytes of code and constants of the parts that are linked, beside the show itself; on a Cortex-M0+. */
unsigned forecast_flash(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show);
/* Of one part or effect; 0 for what was not measured. */
unsigned forecast_flash_of(const char *name);
/* Does a signal of the show take something between these of what is heard at an input? */
int forecast_hears(GLANZ_CONST struct glanz_show *show, uint8_t input, uint8_t least, uint8_t most);
/* Bytes of the device's memory on a 32-bit chip. @param led_bytes filled: those of them for LEDs. */
unsigned forecast_ram(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show, unsigned *led_bytes);

struct cover { /* LEDs that a segment lies over, and those that it lights */
    uint32_t over, lit;
};

struct cover forecast_cover_of(GLANZ_CONST struct glanz_segment *segment, GLANZ_CONST struct glanz_rig *rig);
/* What a segment shows after a preset (255: at the start). @param on,brightness filled. */
GLANZ_CONST struct glanz_look *forecast_look_of(GLANZ_CONST struct glanz_show *show, uint8_t preset, uint8_t segment,
                                                uint8_t *on, uint16_t *brightness);
/* Is the segment at a position of the stack hidden then by an opaque one above it that covers all of it? */
int forecast_hidden(GLANZ_CONST struct glanz_show *show, uint8_t preset, GLANZ_CONST struct glanz_rig *rig, uint8_t position);

#endif
