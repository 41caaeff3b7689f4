/* SPDX-License-Identifier: MIT */
/* Files and messages for the commands. */
#include "files.h"

#include <errno.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

void text_add(const char *bytes, size_t count, void *user) {
    struct text *text = (struct text *)user;
    if (text->count + count + 1 > text->capacity) {
        text->capacity = (text->count + count + 1) * 2;
        text->bytes = (char *)realloc(text->bytes, text->capacity);
        if (text->bytes == NULL) {
            complain_plain("out of memory");
            exit(EXIT_FILE);
        }
    }
    if (count != 0) {
        memcpy(text->bytes + text->count, bytes, count);
    }
    text->count += count;
    text->bytes[text->count] = '\0';
}

void text_print(struct text *text, const char *format, ...) {
    char line[1000];
    va_list list;
    va_start(list, format);
    int count = vsnprintf(line, sizeof line, format, list);
    va_end(list);
    text_add(line, count < 0 ? 0 : (size_t)count < sizeof line ? (size_t)count : sizeof line - 1, text);
}

void text_free(struct text *text) {
    free(text->bytes);
    memset(text, 0, sizeof *text);
}

int text_read(struct text *text, const char *path) {
    char part[65536];
    size_t count;
    memset(text, 0, sizeof *text);
    FILE *file = strcmp(path, "-") == 0 ? stdin : fopen(path, "rb");
    if (file == NULL) {
        complain_plain("cannot open %s: %s", path, strerror(errno));
        return 0;
    }
    text_add("", 0, text);
    while ((count = fread(part, 1, sizeof part, file)) > 0) {
        text_add(part, count, text);
    }
    int bad = ferror(file);
    if (bad) {
        complain_plain("cannot read %s: %s", path, strerror(errno));
        text_free(text);
    }
    if (file != stdin) {
        fclose(file);
    }
    return !bad;
}

void complain(const char *path, const struct glanz_fault *fault) {
    fputs("glanz: ", stderr);
    if (path != NULL) {
        fputs(path, stderr);
        if (fault->line != 0) {
            fprintf(stderr, ":%u:%u", fault->line, fault->column);
        }
        fputs(": ", stderr);
    }
    fputs(fault->text, stderr);
    if (fault->where[0] != '\0') {
        fprintf(stderr, " (at %s)", fault->where);
    }
    fputc('\n', stderr);
}

void complain_plain(const char *format, ...) {
    va_list list;
    va_start(list, format);
    fputs("glanz: ", stderr);
    vfprintf(stderr, format, list);
    fputc('\n', stderr);
    va_end(list);
}

const char *status_words(glanz_status status) {
    switch (status) {
    case GLANZ_OK: return "it is done";
    case GLANZ_ERR_RIG: return "the rig is refused";
    case GLANZ_ERR_SHOW: return "the show is refused";
    case GLANZ_ERR_MEMORY: return "there is too little memory for it";
    case GLANZ_ERR_ABSENT: return "there is none of that name";
    case GLANZ_ERR_BUSY: return "something else is under way; expected it later";
    case GLANZ_ERR_STATE: return "it cannot be done now";
    case GLANZ_ERR_FULL: return "there is no room for it";
    case GLANZ_ERR_DAMAGED: return "it is damaged: it does not check";
    case GLANZ_ERR_NEWER: return "it is of a newer format, and is left alone";
    case GLANZ_ERR_PORT: return "the flash, or the port, says no";
    case GLANZ_ERR_TEXT: return "its text cannot be read";
    case GLANZ_ERR_ARGUMENT:
    default: return "it cannot be so";
    }
}

GLANZ_CONST struct glanz_effect *GLANZ_CONST *document_effects = glanz_effects;

static glanz_status open_memory(struct document *document, struct text text) {
    memset(document, 0, sizeof *document);
    document->text = text;
    document->memory_size = glanz_document_memory(text.bytes, text.count);
    document->memory = malloc(document->memory_size);
    return document->memory == NULL ? GLANZ_ERR_MEMORY : GLANZ_OK;
}

glanz_status document_rig(struct document *document, struct text text, struct glanz_fault *fault) {
    size_t used = 0;
    glanz_status status = open_memory(document, text);
    if (status == GLANZ_OK) {
        status = glanz_rig_read(&document->rig, &used, document->memory, document->memory_size, text.bytes, text.count, fault);
    }
    if (status != GLANZ_OK) {
        document_free(document);
    }
    return status;
}

glanz_status document_show(struct document *document, struct text text, GLANZ_CONST struct glanz_rig *rig,
                           const struct kept *kept, struct glanz_fault *fault) {
    size_t used = 0;
    glanz_status status = open_memory(document, text);
    if (status == GLANZ_OK) {
        status = glanz_show_read(&document->show, &used, document->memory, document->memory_size, text.bytes, text.count, rig,
                                 document_effects, kept == NULL ? NULL : kept->pictures, kept == NULL ? 0 : kept->count, fault);
    }
    if (status != GLANZ_OK) {
        document_free(document);
    }
    return status;
}

void tell_missing(FILE *to, GLANZ_CONST struct glanz_show *show) {
    for (uint16_t i = 0; i < show->look_count; i++) {
        GLANZ_CONST struct glanz_look *look = &show->looks[i];
        struct glanz_letter none;
        uint32_t missing = 0;
        if (look->effect->content == GLANZ_CONTENT_WRITING) {
            GLANZ_CONST struct glanz_writing *writing = (GLANZ_CONST struct glanz_writing *)look->content;
            for (uint8_t line = 0; line < glanz_writing_lines(writing) && missing == 0; line++) {
                (void)glanz_writing_set(&none, 1, &missing, writing, line, NULL);
            }
            if (missing != 0) {
                fprintf(to, "  warning: look \"%s\": the font \"%s\" has no glyph for U+%04X; it is shown as a box\n",
                        look->name, writing->font == NULL ? glanz_font_quay.name : writing->font->name, (unsigned)missing);
            }
        }
    }
}

void document_free(struct document *document) {
    text_free(&document->text);
    free(document->memory);
    memset(document, 0, sizeof *document);
}

glanz_status patch_text(struct text *merged, const struct text *target, const struct text *patch, struct glanz_fault *fault) {
    size_t size = glanz_document_memory(target->bytes, target->count) + glanz_document_memory(patch->bytes, patch->count);
    void *memory = malloc(size);
    memset(merged, 0, sizeof *merged);
    if (memory == NULL) {
        return GLANZ_ERR_MEMORY;
    }
    glanz_status status =
        glanz_document_merge(text_add, merged, memory, size, target->bytes, target->count, patch->bytes, patch->count, fault);
    free(memory);
    return status;
}

void patch_locate(struct glanz_fault *fault, const struct text *patch, const struct text *merged) {
    size_t size = glanz_document_memory(patch->bytes, patch->count) + glanz_document_memory(merged->bytes, merged->count);
    void *memory = malloc(size);
    if (memory != NULL) {
        glanz_document_locate(fault, memory, size, patch->bytes, patch->count, merged->bytes, merged->count);
    }
    free(memory);
}

int time_parse(uint64_t *us, const char *text) {
    static const struct {
        const char *name;
        double us;
    } units[] = {{"us", 1}, {"ms", 1e3}, {"s", 1e6}, {"min", 6e7}, {"h", 3.6e9}};
    size_t digits = strspn(text, "0123456789.");
    char *end;
    double number = strtod(text, &end);
    if (digits == 0 || end != text + digits) { /* as people write it: no sign, no exponent, nothing hexadecimal */
        return 0;
    }
    while (*end == ' ') {
        end++;
    }
    for (size_t i = 0; end != text && i < sizeof units / sizeof units[0]; i++) {
        if (strcmp(end, units[i].name) == 0 && number >= 0 && number * units[i].us < 1e15) {
            *us = (uint64_t)(number * units[i].us + 0.5);
            return 1;
        }
    }
    return 0;
}

int time_of(uint64_t *us, const char *text, const char *what) {
    if (!time_parse(us, text)) {
        complain_plain("%s: \"%s\" is no time; expected one such as \"250 ms\", \"2.5 s\", \"4 min\" or \"1 h\"", what, text);
        return 0;
    }
    return 1;
}
