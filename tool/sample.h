/* SPDX-License-Identifier: MIT */
/* Looks that show what an effect can do, with whatever it needs beside numbers. */
#ifndef GLANZ_TOOL_SAMPLE_H
#define GLANZ_TOOL_SAMPLE_H

#include <glanz/effects.h>

#include "files.h"

/* The pictures that such looks name, as a show has them. */
#define SAMPLE_PICTURES                                                                                                        \
    "\"pictures\": { \"boat\": { \"rows\": [ \"...w...\", \"..ww...\", \".www...\", \"rrrrrrr\", \".rrrrr.\" ], \"colors\": "  \
    "{ "                                                                                                                       \
    "\"w\": \"#ffffff\", \"r\": \"#c8102e\" } } }"

/* A look of an effect. @param palette the name of one of the show's; NULL: none is named. */
void sample_look(struct text *text, GLANZ_CONST struct glanz_effect *effect, const char *palette);
/* Does what it shows bring its own colours, so that no palette goes with it? */
int sample_is_colored(GLANZ_CONST struct glanz_effect *effect);

#endif
