/* SPDX-License-Identifier: MIT */
/* A rig and a show as C source. */
#ifndef GLANZ_TOOL_SOURCE_H
#define GLANZ_TOOL_SOURCE_H

#include <stdio.h>

#include <glanz/device.h>

#include "rows.h"

struct source { /* where it goes, and what the names begin with */
    FILE *to;
    const char *name;
    GLANZ_CONST struct glanz_show *show;
};

/* A text as a C literal in GLANZ_TEXT(), or NULL. */
void source_put_text(FILE *to, const char *text);
/* The index of a look's picture among the show's; -1: it has none of them. */
int source_picture_of(const struct source *source, GLANZ_CONST struct glanz_look *look);
/* An identifier that ends in a name; the member of an enumeration; a number, and what is left to a hook, of a row. */
void source_put_member(FILE *to, const char *member, unsigned number);
void source_put_gradient_of(const struct source *source, const void *gradient);
void source_put_look_of(const struct source *source, const void *look);
void source_put_hook(const struct source *source, const struct row *row, const void *base, const char *suffix);
void source_put_number(FILE *to, const struct row *row, uint32_t number);
void source_put_identifier(FILE *to, const char *begin, const char *name);
void source_put_enumerator(FILE *to, const char *prefix, const char *word);
/* What a struct of a table points to, before it. */
void source_put_before(const struct source *source, const struct table *table, const void *base, unsigned index);

/* What dims the whole, as a list of one. */
void source_put_whole(const struct source *source);

/* source_header.c */
void source_put_declarations(FILE *to, const char *name, GLANZ_CONST struct glanz_rig *rig,
                             GLANZ_CONST struct glanz_show *show);
void source_put_header(FILE *to, const char *name, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show);

#endif
