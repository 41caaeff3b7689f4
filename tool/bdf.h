/* SPDX-License-Identifier: MIT */
/* Fonts from BDF files (Glyph Bitmap Distribution Format 2.1, Adobe specification 5005). */
#ifndef GLANZ_TOOL_BDF_H
#define GLANZ_TOOL_BDF_H

#include "files.h"

/* A font read from a file: its tables are its own. */
struct bdf {
    struct glanz_font font;
    uint16_t *codes, *starts;
    uint8_t *bits;
    unsigned left_out; /* glyphs without a code up to U+FFFF */
};

/* Read a font. @return GLANZ_ERR_TEXT with the fault's line and text. Free with bdf_free(). */
glanz_status bdf_read(struct bdf *bdf, const char *bytes, size_t count, struct glanz_fault *fault);
void bdf_free(struct bdf *bdf);

#endif
