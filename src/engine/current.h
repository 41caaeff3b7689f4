/* SPDX-License-Identifier: MIT */
/* Current of a stretch, from its own figures or the chip's, strips in parallel counted. Private to the engine. */
#ifndef GLANZ_ENGINE_CURRENT_H
#define GLANZ_ENGINE_CURRENT_H

#include <glanz/engine.h>

uint32_t glanz_stretch_channel_ua(GLANZ_CONST struct glanz_stretch *stretch, uint8_t channel);
uint32_t glanz_stretch_idle_ua(GLANZ_CONST struct glanz_stretch *stretch);

#endif
