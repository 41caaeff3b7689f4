/* SPDX-License-Identifier: MIT */
/* Records of bytes, written and read number by number; and what looks are made of, by value. Private to src/control. */
#ifndef GLANZ_CONTROL_RECORD_H
#define GLANZ_CONTROL_RECORD_H

#include "control.h"

struct writer {
    uint8_t *bytes;
    size_t count, capacity; /* count goes on beyond the room, to tell that it does */
};

struct reader {
    const uint8_t *bytes;
    size_t at, count;
    uint8_t bad, format;
};

struct text { /* a name in a record */
    const uint8_t *bytes;
    uint8_t length;
};

/* Numbers are little-endian, 1 to 4 bytes; a name is a length byte and UTF-8. Reading past the end sets `bad`. */
void glanz_record_put(struct writer *writer, uint32_t number, uint8_t bytes);
void glanz_record_put_name(struct writer *writer, GLANZ_CONST char *name);
uint32_t glanz_record_get(struct reader *reader, uint8_t bytes);
struct text glanz_record_get_name(struct reader *reader);
int glanz_record_is_named(GLANZ_CONST char *name, struct text text);

/* Palette and content of a look by value. Palette: 0, none or the effect's own; 1, stops as they were chosen: how they are
 * mixed (1), how many (1), for each its place (2) and colour (4); 2, built stops: bands (1), how many (1), for each its place
 * (2) and light (6). Content: its kind (0: none, or one that is kept by name), then a pattern's blocks: how many (2), for each
 * LEDs (2) and colour (4); or a text: the font's name, how long it is (2), UTF-8; or marks: how many (2), for each whether it
 * is placed (1), first, LEDs, left, top, columns, rows (2 each), colour (4). */
void glanz_values_put(struct writer *writer, GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_gradient *gradient,
                      GLANZ_CONST void *content);

/* Read past them. */
void glanz_values_skip(struct reader *reader);

/* The same palette and content, for a look: those of `look` (which were found by name) where they are equal, else built in the
 * controller's memory for values. @return 0 when there is no room, or what is read cannot be: nothing is changed. */
int glanz_values_get(struct glanz_look *look, struct reader *reader, struct glanz_control *control);

#endif
