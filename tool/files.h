/* SPDX-License-Identifier: MIT */
/* Files and messages for the commands. */
#ifndef GLANZ_TOOL_FILES_H
#define GLANZ_TOOL_FILES_H

#include <stdio.h>

#include <glanz/document.h>

/* Exit codes of every command. */
enum { EXIT_GOOD = 0, EXIT_REFUSED = 1, EXIT_USAGE = 2, EXIT_FILE = 3, EXIT_FOUND = 4 };

struct text { /* a file's bytes, or anything that grows */
    char *bytes;
    size_t count, capacity;
};

/* Read a whole file; "-" is standard input. On failure prints why and returns 0. */
int text_read(struct text *text, const char *path);
void text_add(const char *bytes, size_t count, void *text); /* a glanz_sink */
void text_print(struct text *text, const char *format, ...) __attribute__((format(printf, 2, 3)));
void text_free(struct text *text);

/* One line on standard error: FILE:LINE:COLUMN: message (at POINTER). */
void complain(const char *path, const struct glanz_fault *fault);
/* One line: glanz: text. */
void complain_plain(const char *format, ...) __attribute__((format(printf, 1, 2)));

/* What a status means, in words; for messages that have nothing better to say. */
const char *status_words(glanz_status status);

/* Pictures of a store, which shows may name. */
struct kept {
    struct glanz_picture pictures[32];
    uint8_t count;
};

/* A document read from a text: a rig or a show and the memory it lies in. */
struct document {
    struct text text;
    void *memory;
    size_t memory_size;
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_show *show;
};
/* The effects that looks may name, closed by NULL: glanz_effects, and whatever is loaded beside them. */
extern GLANZ_CONST struct glanz_effect *GLANZ_CONST *document_effects;
/* Read; on failure the fault is filled, nothing is kept, and the status returned. Takes the text over. */
glanz_status document_rig(struct document *document, struct text text, struct glanz_fault *fault);
glanz_status document_show(struct document *document, struct text text, GLANZ_CONST struct glanz_rig *rig,
                           const struct kept *kept, struct glanz_fault *fault);
/* A line for each text with a letter that its font has not. */
void tell_missing(FILE *to, GLANZ_CONST struct glanz_show *show);
void document_free(struct document *document);

/* The text of a document with a merge patch applied; on failure the fault is about the patch. */
glanz_status patch_text(struct text *merged, const struct text *target, const struct text *patch, struct glanz_fault *fault);
/* A merged document was refused: turn the fault's place into one of the patch. */
void patch_locate(struct glanz_fault *fault, const struct text *patch, const struct text *merged);

/* Microseconds from "2.5 s", "250 ms", "40 us", "4 min", "1 h"; 0 otherwise. time_of() complains, naming `what`. */
int time_parse(uint64_t *us, const char *text);
int time_of(uint64_t *us, const char *text, const char *what);

#endif
