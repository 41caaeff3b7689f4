/* SPDX-License-Identifier: MIT */
/* What records are written and read with. What a recalled preset brings that the show has not lies in memory that the program
 * lends for it, in chunks that are free again once nothing shows them. */
#include "record.h"

#if GLANZ_SAVED_MOST > 0

void glanz_record_put(struct writer *writer, uint32_t number, uint8_t bytes) {
    for (uint8_t i = 0; i < bytes; i++) {
        if (writer->count < writer->capacity) {
            writer->bytes[writer->count] = (uint8_t)(number >> (8 * i));
        }
        writer->count++;
    }
}

void glanz_record_put_name(struct writer *writer, GLANZ_CONST char *name) {
    uint8_t length = 0;
    while (name != NULL && name[length] != '\0' && length < 255) {
        length++;
    }
    glanz_record_put(writer, length, 1);
    for (uint8_t i = 0; i < length; i++) {
        glanz_record_put(writer, (uint8_t)name[i], 1);
    }
}

uint32_t glanz_record_get(struct reader *reader, uint8_t bytes) {
    uint32_t number = 0;
    for (uint8_t i = 0; i < bytes; i++) {
        if (reader->at >= reader->count) {
            reader->bad = 1;
            return 0;
        }
        number |= (uint32_t)reader->bytes[reader->at++] << (8 * i);
    }
    return number;
}

struct text glanz_record_get_name(struct reader *reader) {
    struct text text;
    text.length = (uint8_t)glanz_record_get(reader, 1);
    text.bytes = reader->bytes + reader->at;
    if (reader->at + text.length > reader->count) {
        reader->bad = 1;
        text.length = 0;
    }
    reader->at += text.length;
    return text;
}

int glanz_record_is_named(GLANZ_CONST char *name, struct text text) {
    uint8_t i = 0;
    while (name != NULL && i < text.length && name[i] != '\0' && (uint8_t)name[i] == text.bytes[i]) {
        i++;
    }
    return name != NULL && i == text.length && name[i] == '\0';
}

/* Bytes of a palette, or of a content, behind its first byte; what cannot be is bad. */
void glanz_record_skip(struct reader *reader, uint32_t bytes) {
    if (bytes > reader->count - reader->at) {
        reader->bad = 1;
        return;
    }
    reader->at += (size_t)bytes;
}

uint32_t glanz_record_color(GLANZ_CONST struct glanz_show *show, uint32_t color) {
    return (color >> 24) == 3 && (color & 0xFFFFu) < show->color_count ? show->colors[color & 0xFFFFu].color : color;
}

/* ---- memory for what is read ---- */

struct chunk {
    uint32_t size; /* with this */
    uint32_t used;
};

void glanz_control_values(struct glanz_control *control, void *memory, size_t size) {
    uint8_t *from = (uint8_t *)memory;
    size_t skip = memory == NULL ? 0 : (8u - ((uintptr_t)memory & 7u)) & 7u;
    if (control == NULL || glanz_control_inside(control)) {
        return;
    }
    control->values = NULL;
    control->values_size = 0;
    if (from != NULL && size >= skip + 64u) {
        control->values = from + skip;
        control->values_size = (uint32_t)((size - skip) & ~(size_t)7u);
        struct chunk all = {control->values_size, 0};
        memcpy(control->values, &all, sizeof all);
    }
}

/* Is what lies in this memory shown, or may it come back? */
static int holds(const struct glanz_control *control, const void *memory, size_t size) {
    return glanz_inside(control->values_held, memory, size) || glanz_control_shows(control, memory, size);
}

/* Memory for a value; NULL. What nothing shows any more is free again. */
void *glanz_values_reserve(struct glanz_control *control, size_t bytes) {
    uint32_t wanted = (uint32_t)((bytes + sizeof(struct chunk) + 7u) & ~(size_t)7u);
    struct chunk *open = NULL; /* the free chunk that the next one may join */
    for (uint32_t at = 0; control->values != NULL && at < control->values_size;) {
        struct chunk *chunk = (struct chunk *)(void *)(control->values + at);
        at += chunk->size;
        if (chunk->used && holds(control, chunk + 1, (size_t)chunk->size - sizeof *chunk)) {
            open = NULL;
            continue;
        }
        chunk->used = 0;
        if (open != NULL) {
            open->size += chunk->size;
        } else {
            open = chunk;
        }
        if (open->size >= wanted) {
            uint32_t left = open->size - wanted;
            if (left >= 2u * sizeof(struct chunk)) {
                struct chunk *rest = (struct chunk *)(void *)((uint8_t *)open + wanted);
                rest->size = left;
                rest->used = 0;
                open->size = wanted;
            }
            open->used = 1;
            return open + 1;
        }
    }
    return NULL;
}

void glanz_values_forget(void *value) {
    ((struct chunk *)value - 1)->used = 0;
}

#endif
