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

#endif
