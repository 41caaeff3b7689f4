/* SPDX-License-Identifier: MIT */
/* What can be, but may not be meant: advice on a rig and a show, each with what to change. */
#ifndef GLANZ_TOOL_ADVICE_H
#define GLANZ_TOOL_ADVICE_H

#include "facts.h"
#include "files.h"

struct advice {
    const char *kind; /* too slow, too dark, too hot, too small, never seen, not as meant */
    char where[128];  /* JSON pointer */
    char text[400];
};

struct advices {
    struct advice list[128];
    int count; /* also of those that have no room any more */
};

void advise(struct advices *advices, const char *kind, const char *list, const char *name, const char *format, ...)
    __attribute__((format(printf, 5, 6)));
void advise_rig(struct advices *advices, GLANZ_CONST struct glanz_rig *rig);
void advise_show(struct advices *advices, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show);

/* Lines of text; or a list of facts. */
void advices_print(const struct advices *advices, FILE *to);
void advices_facts(const struct advices *advices, struct facts *facts);

#endif
