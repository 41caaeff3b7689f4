/* SPDX-License-Identifier: MIT */
/* Palettes that several effects have of their own, where a look names none. Private to src/effects. */
#ifndef GLANZ_EFFECTS_TINTS_H
#define GLANZ_EFFECTS_TINTS_H

#include <glanz/effects.h>

#if GLANZ_FIELDS
extern GLANZ_CONST struct glanz_gradient glanz_gradient_festive; /* amber, coral, rose, sky, sea green: lanterns at a quay */
extern GLANZ_CONST struct glanz_gradient glanz_gradient_evening; /* night blue, violet, rose, amber, pale gold */
#endif

#endif
