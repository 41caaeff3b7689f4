/* SPDX-License-Identifier: MIT */
/* Writing by rows: JSON put piece by piece, the walker, and the hooks. Private to src/document. */
#ifndef GLANZ_DOCUMENT_WRITE_H
#define GLANZ_DOCUMENT_WRITE_H

#include "rows.h"

#define WRITE_FRAMES_MOST 6 /* structs inside each other */

struct write_frame { /* a struct that is being written */
    const struct table *table;
    const uint8_t *base, *beside;
    uint16_t index; /* of the row's list; its next struct */
    uint8_t row, listing, bare;
};

struct writer {
    glanz_sink sink;
    void *user;
    uint8_t depth;
    uint8_t flat;  /* inside an object on one line, so many levels */
    uint8_t empty; /* nothing written yet at this level */
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_show *show;
    struct names scope[SCOPES];
    const struct glanz_look *driven; /* the look whose drive is being written */
    uint8_t frame_count;
    struct write_frame frames[WRITE_FRAMES_MOST];
};

/* ---- JSON ---- */

void glanz_write_put(struct writer *writer, const char *text);
void glanz_write_string(struct writer *writer, const char *text);
void glanz_write_next(struct writer *writer); /* before each element */
void glanz_write_key(struct writer *writer, const char *key);
void glanz_write_open(struct writer *writer, const char *bracket, int flat);
void glanz_write_close(struct writer *writer, const char *bracket);
char *glanz_write_digits(char *at, uint32_t number, int least);
void glanz_write_number(struct writer *writer, uint32_t number);
void glanz_write_quantity(struct writer *writer, enum quantity kind, int64_t number, uint8_t unit);
void glanz_write_color(struct writer *writer, glanz_color color);

/* ---- hooks ---- */

/* Does a signal drive a parameter of a look? */
int glanz_write_driven(const struct glanz_look *look, uint8_t param);
/* What the ends of an input read, and a level in that. */
void glanz_write_reads(struct writer *writer, const char *key, const struct glanz_input *input);
void glanz_write_level(struct writer *writer, const struct row *row, const void *base);
/* Is a row written? */
int glanz_write_row_wanted(const struct writer *writer, const struct write_frame *frame, const struct row *row,
                           const void *base);
/* Is a struct of a list written? */
int glanz_write_includes(const struct table *table, const void *base);
/* A row of a hook: its key and its value, or nothing. */
void glanz_write_hook(struct writer *writer, const struct row *row, const void *base);
/* A value of an effect's parameter, or of an action, by a row. */
void glanz_write_value(struct writer *writer, const struct row *row, const void *base);
/* Enter a struct whose keys are those of the object that is being written. */
void glanz_write_enter(struct writer *writer, const struct table *table, const void *base, const void *beside, int bare);

#endif
