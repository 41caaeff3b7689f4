/* SPDX-License-Identifier: MIT */
/* The fonts that come along. */
#include <glanz/paint.h>

#if GLANZ_FIELDS
GLANZ_CONST struct glanz_font *GLANZ_CONST glanz_fonts[] = {&glanz_font_buoy, &glanz_font_quay, &glanz_font_tower, NULL};
#endif
