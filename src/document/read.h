/* SPDX-License-Identifier: MIT */
/* Reading by rows: the walker, and the hooks of each document. Private to src/document. */
#ifndef GLANZ_DOCUMENT_READ_H
#define GLANZ_DOCUMENT_READ_H

#include "json.h"
#include "rows.h"

#define READ_FRAMES_MOST 5 /* structs inside each other */

#define ABSENT (-1)
#define NOT_APPLICABLE (-2) /* a row that this struct has not: neither read nor set to what "not said" means */

struct read_frame { /* a struct that is being read */
    const struct table *table;
    uint8_t *base, *beside;
    int object;
    int list, element; /* of the row's list; its next element, or -1 */
    uint16_t index;
    uint8_t row;
    int token[ROWS_MOST]; /* the value of each row; ABSENT, NOT_APPLICABLE */
};

struct reading {
    struct json json;
    const struct hooks *hooks;
    GLANZ_CONST struct glanz_rig *rig; /* of a show, or an action */
    uint8_t builds;                    /* a show: palettes of the library may be added to it */
    struct glanz_show *show;
    const struct glanz_picture *kept; /* pictures of the store */
    uint8_t kept_count;
    const struct glanz_world *world;
    uint8_t palette_capacity; /* of the show's list of palettes */
    struct names scope[SCOPES];
    GLANZ_CONST struct glanz_param *driven; /* the parameter of the drive that is being read */
    uint8_t depth;
    struct read_frame frames[READ_FRAMES_MOST];
};

struct hooks { /* of a document */
    void (*key)(struct reading *reading, const struct row *row, int token, void *base);
    void (*drive)(struct reading *reading, const struct row *row, int token, void *base); /* in place of a row's value */
    void (*begin)(struct reading *reading, struct read_frame *frame);                     /* of a table; its keys are known */
    void (*end)(struct reading *reading, struct read_frame *frame);                       /* all its rows are read */
};

/* Read a document, or an object of it, from a token. */
void glanz_read(struct reading *reading, const struct table *table, void *base, int token);
/* Enter a struct: what is in it is read before what follows. */
void glanz_read_enter(struct reading *reading, const struct table *table, void *base, void *beside, int token);
/* Read an object all of whose rows are plain values, at once. */
void glanz_read_plain(struct reading *reading, const struct table *table, void *base, int object);
/* One row's value from a token. */
void glanz_read_value(struct reading *reading, const struct row *row, int token, void *base);
/* The value of a key of the table that is being read, or below 0. */
int glanz_read_token(const struct read_frame *frame, const char *key);
/* Keys of a table into a list, which is not closed. @return how many there are then. */
int glanz_read_keys(const char **keys, int count, const struct table *table);

/* Which name of a scope a token says. */
int glanz_read_find(struct reading *reading, int token, enum scope scope);
/* A colour, with the names of the show. */
glanz_color glanz_read_color(struct reading *reading, int token, enum row_color kind);

/* The hooks that have files of their own. */
void glanz_read_places(struct json *json, int list, struct glanz_surface *surface);
void glanz_read_drawing(struct json *json, int list, struct glanz_surface *surface);
void glanz_read_data(struct json *json, int token, struct glanz_picture *picture);
void glanz_read_sketch(struct reading *reading, int rows, int colors, struct glanz_picture *picture);
GLANZ_CONST struct glanz_gradient *glanz_read_palette(struct reading *reading, int token);
void glanz_read_palette_end(struct reading *reading, const struct read_frame *frame);
void glanz_read_look_end(struct json *json, const struct read_frame *frame);
void glanz_read_gradient(struct reading *reading, struct glanz_show_palette *palette, const struct glanz_color_stop *chosen,
                         uint8_t count, uint8_t between, int token);
void glanz_read_look(struct reading *reading, struct read_frame *frame);
void glanz_read_dimmed(struct reading *reading, const struct row *row, int token, void *base);
void glanz_read_end(struct reading *reading, const struct row *row, int token, struct glanz_drive *drive);
void glanz_read_content(struct reading *reading, int token, struct glanz_look *look);
void glanz_read_blocks(struct reading *reading, int token, struct glanz_pattern *pattern);
void glanz_read_text(struct reading *reading, int token, struct glanz_writing *writing);
void glanz_read_picture(struct reading *reading, int token, struct glanz_look *look);
void glanz_read_action_begin(struct reading *reading, struct read_frame *frame);
void glanz_read_action_end(struct reading *reading, struct read_frame *frame);
void glanz_read_on(struct reading *reading, int token, struct glanz_action *action);
void glanz_read_numbers(struct reading *reading, int token, GLANZ_CONST struct glanz_look *look,
                        GLANZ_CONST struct glanz_setting **settings, uint8_t *count);
void glanz_read_reads(struct reading *reading, int token, struct glanz_input *input);
void glanz_read_level(struct reading *reading, const struct row *row, int token, void *base);
void glanz_read_param(struct reading *reading, int token, struct glanz_action *action);
void glanz_read_change(struct reading *reading, const struct row *row, int token, struct glanz_action *action);
/* A number of a parameter. @param angle the most of an angle, either way. */
int32_t glanz_read_number(struct reading *reading, int token, GLANZ_CONST struct glanz_param *param, int32_t angle,
                          uint8_t *unit);
void glanz_read_then(struct reading *reading, int token, struct glanz_playlist *playlist);
void glanz_read_playlist_end(struct reading *reading, struct read_frame *frame);
void glanz_read_when_end(struct reading *reading, struct read_frame *frame);
void glanz_read_entry_end(struct reading *reading, struct read_frame *frame);
void glanz_read_moment(struct json *json, int token, struct glanz_moment *moment);
void glanz_read_day(struct json *json, int token, struct glanz_day *day);

extern const struct hooks glanz_hooks_of_shows;

#endif
