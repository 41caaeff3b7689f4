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

struct part { /* of a record, as read */
    struct text segment, look, effect, palette;
    uint8_t aspects, on, params;
    uint8_t by_value; /* palette and content follow, read by `values` */
    uint16_t brightness, look_brightness;
    struct reader values;
    struct glanz_setting settings[GLANZ_PARAMS];
};

/* A part of a record: what a segment shows, or some aspects of it. */
/* A colour by value: the list of names may be another one later. */
uint32_t glanz_record_color(GLANZ_CONST struct glanz_show *show, uint32_t color);
void glanz_record_put_part(struct writer *writer, GLANZ_CONST struct glanz_show *show, GLANZ_CONST char *segment,
                           const struct glanz_showing *showing, uint8_t aspects);
void glanz_record_get_part(struct reader *reader, struct part *part, uint8_t with_aspects, uint8_t by_value);
/* Show it. What fits nothing any more is noted. */
void glanz_record_apply(struct glanz_missed *missed, struct glanz_control *control,
                        GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects, const struct part *part, uint8_t aspects,
                        const struct glanz_change *change);
void glanz_record_miss(struct glanz_missed *missed, uint8_t *counter, struct text name);

/* Check a record as a whole, and read its first four bytes; close one with their count of parts and the CRC. */
glanz_status glanz_record_begin(struct reader *reader, uint8_t *parts, uint16_t kind, uint8_t newest, const uint8_t *record,
                                size_t count);
glanz_status glanz_record_end(struct writer *writer, size_t *count, uint8_t parts);

/* Indices by name; the count of them: there is none. */
uint8_t glanz_record_segment(GLANZ_CONST struct glanz_show *show, struct text name);
#if GLANZ_SEQUENCES
uint8_t glanz_record_playlist(GLANZ_CONST struct glanz_show *show, struct text name);
#endif

/* Palette and content of a look by value. Palette: 0, none or the effect's own; 1, stops as they were chosen: how they are
 * mixed (1), how many (1), for each its place (2) and colour (4); 2, built stops: bands (1), how many (1), for each its place
 * (2) and light (6); 4 more, and behind it where it runs: enum glanz_runs, folded, reversed (1 each), span (2), pass_ms (4).
 * Content: its kind (0: none, or one that is kept by name), then a pattern's blocks: how many (2), for each LEDs (2) and colour
 * (4); or a text: the font's name, how long it is (2), UTF-8; or marks: how many (2), for each whether it is placed (1), first,
 * LEDs, left, top, columns, rows (2 each), colour (4). */
void glanz_values_put(struct writer *writer, GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_gradient *gradient,
                      GLANZ_CONST void *content);

/* A palette, or one made of colours; no content. */
void glanz_values_put_colors(struct writer *writer, GLANZ_CONST struct glanz_show *show, const struct glanz_colors *colors);

/* Read past them. */
void glanz_values_skip(struct reader *reader);
/* So many bytes further. */
void glanz_record_skip(struct reader *reader, uint32_t bytes);
/* Memory for a value, until nothing shows it; NULL: there is none. */
void *glanz_values_reserve(struct glanz_control *control, size_t bytes);
void glanz_values_forget(void *value);
/* ---- palettes.c ---- */
/* @param kind 1, and a bit more where what says where it runs follows. */
void glanz_palette_put_chosen(struct writer *writer, GLANZ_CONST struct glanz_show *show, uint8_t kind, uint8_t between,
                              GLANZ_CONST struct glanz_color_stop *chosen, uint8_t count);
void glanz_palette_put(struct writer *writer, GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_gradient *gradient);
void glanz_palette_skip(struct reader *reader);
/* @return 0 if it is damaged, or there is no memory for it and the look has none of that name. */
int glanz_palette_get(struct glanz_look *look, struct reader *reader, struct glanz_control *control);

/* The same palette and content, for a look: those of `look` (which were found by name) where they are equal, else built in the
 * controller's memory for values. @return 0 when there is no room, or what is read cannot be: nothing is changed. */
int glanz_values_get(struct glanz_look *look, struct reader *reader, struct glanz_control *control);

#endif
