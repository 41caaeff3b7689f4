/* SPDX-License-Identifier: MIT */
/* Readers of parts of documents, each in a file of its own. Private to src/document. */
#ifndef GLANZ_DOCUMENT_PARTS_H
#define GLANZ_DOCUMENT_PARTS_H

#include "json.h"

/* Which of some names, laid out at equal steps in memory, a token says. Fails with `what` and the nearest. */
int glanz_find_name(struct json *json, int token, const char *const *first, size_t step, int count, const char *what);
/* Which of a list closed by NULL. */
uint8_t glanz_find_choice(struct json *json, int token, const char *const *names);
/* The index of a name that a token says, among the keys of an object. */
uint8_t glanz_read_reference(struct json *json, int token, int object, const char *what);

/* A surface of a rig. */
void glanz_read_surface(struct json *json, int object, int outputs, struct glanz_surface *surface);
/* Columns, rows and how effects lie, of a segment. @return 0 for a key that is not of these. */
int glanz_read_cut_member(struct json *json, int key, struct glanz_cut *cut, GLANZ_CONST struct glanz_surface *surface);

struct named { /* what contents may name */
    const struct glanz_named_color *colors;
    uint16_t color_count;
    const struct glanz_picture *pictures, *kept;
    uint8_t picture_count, kept_count;
    const struct glanz_world *world;
};

struct reading {
    struct json json;
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects;
    struct glanz_show *show;
    struct glanz_named_color *colors;
    struct glanz_show_palette *palettes;
    uint8_t palette_room;
    const struct glanz_look *looks;
    const struct glanz_segment *segments;
    const struct glanz_preset *presets;
    const struct glanz_playlist *playlists;
    struct named named;
};

GLANZ_CONST struct glanz_look *glanz_read_find_look(struct reading *reading, int token);
uint8_t glanz_read_find_segment(struct reading *reading, int token);
uint8_t glanz_read_find_preset(struct reading *reading, int token);

/* What follows each other: playlists, actions, triggers, the calendar. */
void glanz_read_playlists(struct reading *reading, int object);
void glanz_read_action(struct reading *reading, int object, struct glanz_action *action);
void glanz_read_trigger(struct reading *reading, int object, struct glanz_trigger *trigger);
void glanz_read_calendar(struct reading *reading, int object);

/* A picture of a show; its name is read already. */
void glanz_read_picture(struct json *json, int object, struct glanz_picture *picture, const struct named *named);
/* What a look shows, of the kind its effect needs; its keys, closed by NULL. */
const void *glanz_read_content(struct json *json, int look, uint8_t kind, const struct named *named);
extern const char *const *const glanz_content_keys[5];

/* Choices that are read and written. */
extern const char *const glanz_document_corners[];
extern const char *const glanz_document_alongs[];
extern const char *const glanz_document_turns[];
extern const char *const glanz_document_lies[];
extern const char *const glanz_document_days[];
extern const char *const glanz_document_thens[];
extern const char *const glanz_document_aspects[];

#endif
