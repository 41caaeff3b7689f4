/* SPDX-License-Identifier: MIT */
/* The effects that looks may name: the catalogue, and those of one's own from shared objects or C files. */
#ifndef GLANZ_TOOL_EFFECTS_H
#define GLANZ_TOOL_EFFECTS_H

#include <sys/types.h>

#include <glanz/effects.h>

#include "files.h"

/* All of them, closed by NULL; the list stays where it is, those of one's own come last. */
GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects_all(void);
GLANZ_CONST struct glanz_effect *effects_find(const char *name);
/* Is it one of one's own? @return the path of the file it came from, else NULL. */
const char *effects_path(GLANZ_CONST struct glanz_effect *effect);
/* The name by which C reaches it, as the shared object has it; NULL: it is static there. */
const char *effects_symbol(GLANZ_CONST struct glanz_effect *effect);

/* Take effects that are built in. Complains and returns an exit code other than 0 on failure. */
int effects_add(GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects);
/* Take the effects of a shared object, or of a C file, which is compiled first. They have been checked in a process of its own
 * before. Complains and returns an exit code other than 0 on failure; then none of them is there. */
int effects_load(const char *path);

/* The other editions of effects of a C file, one by one; NULL on both sides closes it. */
struct exchanged {
    GLANZ_CONST struct glanz_effect *before; /* NULL: it is new */
    GLANZ_CONST struct glanz_effect *after;  /* NULL: it is gone */
};
#define EXCHANGED_MOST 32
/* Take what was built from a file in place of what was taken from it before. @return 0, and why in `words`: nothing was
 * changed. */
int effects_exchange(struct exchanged *exchanged, const char *path, const char *object, struct text *words);
/* All as before the exchange. */
void effects_restore(void);

/* Where a crash within an effect of one's own ends the program, this is called first, in the signal's handler. */
extern void (*effects_before_end)(void);

/* ---- build.c: compiling and checking, beside what runs ---- */
struct build {
    pid_t pid;         /* 0: none is under way */
    char object[256];  /* the shared object */
    struct text words; /* what the compiler said, or what is wrong: lines */
};
/* Begin: compile where it is a C file, then check. @return 0 and complained. */
int build_begin(struct build *build, const char *path);
/* @return -1 while it is under way, 1 when it is good, 0 when not; then `words` says why, and may have warnings in any case. */
int build_poll(struct build *build, int wait);
/* The object is open, or not wanted: its file may go. */
void build_taken(const struct build *build);
void build_free(struct build *build);
/* Leave nothing behind; also in a signal's handler. */
void build_end(void);

/* ---- contract.c ---- */
/* Check a shared object against the contract, in this process, which it may crash. @param path for words. @param stage told
 * before each thing that may: at least 160 characters. @return 1, or 0 with what is wrong in `words`. */
int contract_check(const char *object, const char *path, char *stage, struct text *words);
/* The set of effects of a shared object that is open; NULL: `words` says why it is none. */
const struct glanz_effect_set *contract_set(void *object, struct text *words);

#endif
