/* SPDX-License-Identifier: MIT */
/* Facts for scripts: JSON, written as it is told. */
#ifndef GLANZ_TOOL_FACTS_H
#define GLANZ_TOOL_FACTS_H

#include <stdio.h>

#define FACTS_DEPTH 16

struct facts {
    FILE *to;
    int depth;
    unsigned char any[FACTS_DEPTH]; /* something stands in the object or list of that depth */
    char close[FACTS_DEPTH];
};

/* All of it is one object; end with facts_end(), which closes the innermost one. @param name NULL in a list. */
void facts_open(struct facts *facts, FILE *to);
void facts_object(struct facts *facts, const char *name);
void facts_list(struct facts *facts, const char *name);
void facts_end(struct facts *facts);
void facts_text(struct facts *facts, const char *name, const char *text); /* NULL: null */
void facts_number(struct facts *facts, const char *name, double number, int decimals);
void facts_flag(struct facts *facts, const char *name, int is);

#endif
