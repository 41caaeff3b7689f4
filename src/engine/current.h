/* SPDX-License-Identifier: MIT */
/* Current of a stretch, from its own figures or the chip's, strips in parallel counted. Private to the engine. */
#ifndef GLANZ_ENGINE_CURRENT_H
#define GLANZ_ENGINE_CURRENT_H

#include <glanz/engine.h>

uint32_t glanz_stretch_channel_ua(GLANZ_CONST struct glanz_stretch *stretch, uint8_t channel);
uint32_t glanz_stretch_idle_ua(GLANZ_CONST struct glanz_stretch *stretch);

/* What the chips of a one-wire output's first stretches allow in common. */
glanz_status glanz_output_window(struct glanz_timing *least, struct glanz_timing *most, GLANZ_CONST struct glanz_output *output,
                                 uint8_t count);

#endif
