/* SPDX-License-Identifier: MIT */
/* What the walker that writes and its hooks put: JSON, the values of rows, the beginning of a struct. */
#include <string.h>

#include "write.h"

/* ---- JSON ---- */

void glanz_write_put(struct writer *writer, const char *text) {
    writer->sink(text, strlen(text), writer->user);
}

void glanz_write_string(struct writer *writer, const char *text) {
    static const char hex[] = "0123456789abcdef";
    glanz_write_put(writer, "\"");
    for (; *text != '\0'; text++) {
        char escaped[8] = "\\u00";
        if (*text == '"' || *text == '\\') {
            escaped[1] = *text;
            escaped[2] = '\0';
            glanz_write_put(writer, escaped);
        } else if ((uint8_t)*text < 0x20) {
            escaped[4] = hex[((uint8_t)*text >> 4) & 15];
            escaped[5] = hex[*text & 15];
            escaped[6] = '\0';
            glanz_write_put(writer, escaped);
        } else {
            writer->sink(text, 1, writer->user);
        }
    }
    glanz_write_put(writer, "\"");
}

void glanz_write_next(struct writer *writer) {
    if (writer->flat) {
        glanz_write_put(writer, writer->empty ? " " : ", ");
    } else {
        glanz_write_put(writer, writer->empty ? "\n" : ",\n");
        for (uint8_t i = 0; i < writer->depth; i++) {
            glanz_write_put(writer, "  ");
        }
    }
    writer->empty = 0;
}

void glanz_write_key(struct writer *writer, const char *key) {
    glanz_write_next(writer);
    glanz_write_string(writer, key);
    glanz_write_put(writer, ": ");
}

void glanz_write_open(struct writer *writer, const char *bracket, int flat) {
    glanz_write_put(writer, bracket);
    writer->depth++;
    writer->flat = (uint8_t)(writer->flat + (writer->flat || flat));
    writer->empty = 1;
}

void glanz_write_close(struct writer *writer, const char *bracket) {
    writer->depth--;
    if (writer->flat) {
        glanz_write_put(writer, writer->empty ? "" : " ");
        writer->flat--;
    } else if (!writer->empty) {
        glanz_write_put(writer, "\n");
        for (uint8_t i = 0; i < writer->depth; i++) {
            glanz_write_put(writer, "  ");
        }
    }
    writer->empty = 0;
    glanz_write_put(writer, bracket);
}

char *glanz_write_digits(char *at, uint32_t number, int least) {
    char reversed[10];
    int count = 0;
    do {
        reversed[count++] = (char)('0' + number % 10u);
        number /= 10u;
    } while (number != 0 || count < least);
    while (count > 0) {
        *at++ = reversed[--count];
    }
    *at = '\0';
    return at;
}

void glanz_write_number(struct writer *writer, uint32_t number) {
    char text[16];
    glanz_write_digits(text, number, 1);
    glanz_write_put(writer, text);
}

void glanz_write_quantity(struct writer *writer, enum quantity kind, int64_t number, uint8_t unit) {
    char text[40];
    glanz_quantity_text(text, kind, number, unit);
    glanz_write_string(writer, text);
}

void glanz_write_color(struct writer *writer, glanz_color color) {
    char text[40];
    if ((color >> 24) == 3 && (color & 0xFFFFu) < writer->show->color_count) {
        glanz_write_string(writer, writer->show->colors[color & 0xFFFFu].name);
        return;
    }
    glanz_color_text(text, color);
    glanz_write_string(writer, text);
}

/* ---- values ---- */

static const char *name_of(const struct writer *writer, const struct row *row, const void *base) {
    const struct names *names = &writer->scope[row->extra];
    int index = (int)glanz_row_get(row, base);
    return index < names->count ? glanz_names_at(names, index) : "";
}

static void write_set(struct writer *writer, const struct row *row, uint32_t set) {
    const char *const *words = (const char *const *)row->arg.refers_to;
    glanz_write_open(writer, "[", 1);
    for (int i = 0; words[i] != NULL; i++) {
        if ((set >> i & 1u) != 0) {
            glanz_write_next(writer);
            glanz_write_string(writer, words[i]);
        }
    }
    glanz_write_close(writer, "]");
}

static int64_t said_quantity(const struct row *row, uint32_t number) {
    uint32_t most = row->width == 4 ? UINT32_MAX : (1u << 8 * row->width) - 1u;
    int zero = ((row->flags & ROW_ZERO_ONE) != 0 && number == 1) || ((row->flags & ROW_ZERO_ALL) != 0 && number == most);
    return zero ? 0 : (row->flags & ROW_SECONDS) != 0 ? (int64_t)number * 1000 : number;
}

void glanz_write_value(struct writer *writer, const struct row *row, const void *base) {
    uint32_t number = row->kind < ROW_FLAG ? 0 : glanz_row_get(row, base);
    switch ((enum row_kind)row->kind) {
    case ROW_NAME: glanz_write_string(writer, (const char *)glanz_row_list(row, base)); break;
    case ROW_TRUE: glanz_write_put(writer, "true"); break;
    case ROW_FLAG: glanz_write_put(writer, (number != 0) != ((row->flags & ROW_INVERTED) != 0) ? "true" : "false"); break;
    case ROW_COUNT: glanz_write_number(writer, number + ((row->flags & ROW_FROM_ONE) != 0)); break;
    case ROW_CHOICE: glanz_write_string(writer, ((const char *const *)row->arg.refers_to)[number]); break;
    case ROW_SET: write_set(writer, row, number); break;
    case ROW_QUANTITY: glanz_write_quantity(writer, (enum quantity)row->extra, said_quantity(row, number), 0); break;
    case ROW_COLOR: glanz_write_color(writer, number); break;
    case ROW_INDEX: glanz_write_string(writer, name_of(writer, row, base)); break;
    case ROW_POINTER: glanz_write_string(writer, *(const char *const *)glanz_row_list(row, base)); break;
    case ROW_OBJECT:
    case ROW_OBJECT_POINTER:
    case ROW_LIST:
    case ROW_MAP:
    case ROW_HOOK: break;
    }
}

/* ---- structs ---- */

void glanz_write_enter(struct writer *writer, const struct table *table, const void *base, const void *beside, int bare) {
    struct write_frame *frame = &writer->frames[writer->frame_count++];
    memset(frame, 0, sizeof *frame);
    frame->table = table;
    frame->base = (const uint8_t *)base;
    frame->beside = (const uint8_t *)beside;
    frame->bare = (uint8_t)(bare || (table->flags & TABLE_VALUE) != 0);
    if (!frame->bare) {
        glanz_write_open(writer, "{", (table->flags & TABLE_FLAT) != 0);
    }
}
