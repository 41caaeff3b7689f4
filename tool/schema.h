/* SPDX-License-Identifier: MIT */
/* What values look like: for the JSON Schema, and for people. */
#ifndef GLANZ_TOOL_SCHEMA_H
#define GLANZ_TOOL_SCHEMA_H

#include "rows.h"

struct schema_quantity { /* by enum quantity */
    const char *name, *pattern, *example;
};
extern const struct schema_quantity schema_quantities[];

struct schema_hook { /* what hooks take, by enum row_hook */
    const char *schema, *words;
};
extern const struct schema_hook schema_hooks[];

extern const char *const schema_scopes[SCOPES]; /* what an index is of */

/* The table that a key of another leads to. */
const struct table *schema_table_of(const struct table *table, const char *key);

/* Print the page of a document. */
void schema_page(const struct table *root, const char *title);

#endif
