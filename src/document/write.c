/* SPDX-License-Identifier: MIT */
/* Rigs and shows as documents: the walker that writes. Members that hold their default are left out, as they may be when
 * read. */
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
    const char *const *words = (const char *const *)row->is.of;
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
    return zero ? 0 : number;
}

void glanz_write_value(struct writer *writer, const struct row *row, const void *base) {
    uint32_t number = row->kind < ROW_FLAG ? 0 : glanz_row_get(row, base);
    switch ((enum row_kind)row->kind) {
    case ROW_NAME: glanz_write_string(writer, (const char *)glanz_row_list(row, base)); break;
    case ROW_TRUE: glanz_write_put(writer, "true"); break;
    case ROW_FLAG: glanz_write_put(writer, (number != 0) != ((row->flags & ROW_INVERTED) != 0) ? "true" : "false"); break;
    case ROW_COUNT: glanz_write_number(writer, number + ((row->flags & ROW_FROM_ONE) != 0)); break;
    case ROW_CHOICE: glanz_write_string(writer, ((const char *const *)row->is.of)[number]); break;
    case ROW_SET: write_set(writer, row, number); break;
    case ROW_QUANTITY: glanz_write_quantity(writer, (enum quantity)row->extra, said_quantity(row, number), 0); break;
    case ROW_COLOR: glanz_write_color(writer, number); break;
    case ROW_INDEX: glanz_write_string(writer, name_of(writer, row, base)); break;
    case ROW_POINTER: glanz_write_string(writer, *(const char *const *)glanz_row_list(row, base)); break;
    case ROW_OBJECT:
    case ROW_OWN:
    case ROW_LIST:
    case ROW_MAP:
    case ROW_HOOK: break;
    }
}

/* ---- which rows are written ---- */

static uint32_t listed(const struct row *row, const void *base) {
    const struct table *table = (const struct table *)row->is.of;
    uint32_t count = glanz_row_count(row, base);
    uint32_t shown = 0;
    for (uint32_t i = 0; i < count; i++) {
        const uint8_t *at = (const uint8_t *)glanz_row_list(row, base) + (size_t)table->size * i;
        shown += (table->flags & TABLE_ASKED) == 0 || glanz_write_listed(table, at);
    }
    return shown;
}

static int is_written(const struct writer *writer, const struct place *place, const struct row *row, const void *base) {
    const struct table *table = place->table;
    int asked = (row->flags & ROW_ASKED) != 0 ? glanz_write_asked(writer, place, row) : 2;
    if (asked != 2) {
        return asked;
    }
    if ((row->flags & ROW_ONE) != 0) {
        return place->base[table->tag] == row->tag;
    }
    if ((row->flags & ROW_ASPECT) != 0) {
        return (place->base[table->tag] & row->tag) != 0;
    }
    if ((row->flags & ROW_REQUIRED) != 0) {
        return 1;
    }
    uint32_t most = row->width == 4 ? UINT32_MAX : (1u << 8 * row->width) - 1u;
    switch ((enum row_kind)row->kind) {
    case ROW_NAME:
    case ROW_POINTER:
    case ROW_OWN: return glanz_row_list(row, base) != NULL;
    case ROW_OBJECT: return row->high == 0 || place->base[row->high] != 0;
    case ROW_LIST: return glanz_row_count(row, base) != 0;
    case ROW_MAP: return (row->flags & ROW_KEYED) != 0 || listed(row, base) != 0;
    case ROW_HOOK:
    case ROW_TRUE: return 1;
    case ROW_COUNT:
        if (glanz_row_get(row, base) < (uint32_t)row->is.low) {
            return 0; /* what stands for "not said" */
        }
        break;
    case ROW_FLAG:
    case ROW_CHOICE:
    case ROW_SET:
    case ROW_QUANTITY:
    case ROW_COLOR:
    case ROW_INDEX: break;
    }
    uint32_t number = glanz_row_get(row, base);
    uint32_t standard = (row->flags & ROW_ELSE_ONE) != 0 ? 1u : (row->flags & ROW_ELSE_ALL) != 0 ? most : 0u;
    return number != standard;
}

/* ---- the walk ---- */

void glanz_write_enter(struct writer *writer, const struct table *table, const void *base, const void *beside, int bare) {
    struct place *place = &writer->places[writer->places_count++];
    memset(place, 0, sizeof *place);
    place->table = table;
    place->base = (const uint8_t *)base;
    place->beside = (const uint8_t *)beside;
    place->bare = (uint8_t)(bare || (table->flags & TABLE_VALUE) != 0);
    if (!place->bare) {
        glanz_write_open(writer, "{", (table->flags & TABLE_FLAT) != 0);
    }
}

/* One struct of a list: its name, then itself. */
static void write_listed(struct writer *writer, struct place *place, const struct row *row) {
    const struct table *table = (const struct table *)row->is.of;
    const uint8_t *parent = ROW_BASE(row, place->base, place->beside);
    const uint8_t *base = (const uint8_t *)glanz_row_list(row, parent) + (size_t)table->size * place->index;
    const uint8_t *beside = NULL;
    if (table->beside != NULL) {
        memcpy(&beside, parent + table->beside->at, sizeof beside);
        beside = beside == NULL ? NULL : beside + (size_t)table->beside->size * place->index;
    }
    place->index++;
    if ((table->flags & TABLE_ASKED) != 0 && !glanz_write_listed(table, base)) {
        return;
    }
    if (row->kind == ROW_LIST) {
        glanz_write_next(writer);
    } else if ((row->flags & ROW_KEYED) != 0) {
        glanz_write_key(writer, glanz_names_at(&writer->scope[row->extra - 1], *base));
    } else {
        const char *name;
        memcpy(&name, base + table->name, sizeof name);
        glanz_write_key(writer, name);
    }
    if ((table->flags & TABLE_SHORT) != 0 && base[table->tag] == table->rows[0].tag) {
        glanz_write_value(writer, &table->rows[0], base);
    } else {
        glanz_write_enter(writer, table, base, beside, 0);
    }
}

static void write_row(struct writer *writer, struct place *place) {
    const struct row *row = &place->table->rows[place->row];
    const uint8_t *base = ROW_BASE(row, place->base, place->beside);
    int list = row->kind == ROW_LIST || row->kind == ROW_MAP;
    if (base == NULL || !is_written(writer, place, row, base)) {
        place->row++;
        return;
    }
    if (!list) {
        place->row++; /* what is entered now comes before the next row */
    }
    if (row->kind == ROW_HOOK) {
        glanz_write_hook(writer, row, base);
        return;
    }
    if (row->key != NULL) {
        glanz_write_key(writer, row->key);
    }
    if (list) {
        place->listing = 1;
        place->index = 0;
        glanz_write_open(writer, row->kind == ROW_MAP ? "{" : "[",
                         (place->table->flags & (TABLE_VALUE | TABLE_FLAT)) == (TABLE_VALUE | TABLE_FLAT));
    } else if (row->kind == ROW_OBJECT) {
        glanz_write_enter(writer, (const struct table *)row->is.of, place->base, place->beside, 0);
    } else if (row->kind == ROW_OWN) {
        glanz_write_enter(writer, (const struct table *)row->is.of, glanz_row_list(row, base), NULL, 0);
    } else {
        glanz_write_value(writer, row, base);
    }
}

static void write_all(struct writer *writer, const struct table *table, const void *base) {
    glanz_write_enter(writer, table, base, NULL, 0);
    while (writer->places_count > 0) {
        struct place *place = &writer->places[writer->places_count - 1];
        const struct row *row = &place->table->rows[place->row];
        if (place->listing) {
            if (place->index < glanz_row_count(row, ROW_BASE(row, place->base, place->beside))) {
                write_listed(writer, place, row);
            } else {
                glanz_write_close(writer, row->kind == ROW_MAP ? "}" : "]");
                place->listing = 0;
                place->row++;
            }
        } else if (place->row < place->table->count) {
            write_row(writer, place);
        } else {
            writer->places_count--;
            if (!place->bare) {
                glanz_write_close(writer, "}");
            }
        }
    }
    glanz_write_put(writer, "\n");
}

static void begin(struct writer *writer, glanz_sink sink, void *user, GLANZ_CONST struct glanz_rig *rig,
                  GLANZ_CONST struct glanz_show *show) {
    memset(writer, 0, sizeof *writer);
    writer->sink = sink;
    writer->user = user;
    writer->empty = 1;
    writer->rig = rig;
    writer->show = show;
    glanz_names_of(writer->scope, rig, show);
}

glanz_status glanz_rig_write(GLANZ_CONST struct glanz_rig *rig, glanz_sink sink, void *user) {
    struct writer writer;
    if (sink == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_status status = glanz_rig_check(rig, NULL);
    if (status == GLANZ_OK) {
        begin(&writer, sink, user, rig, NULL);
        write_all(&writer, &glanz_table_rig, rig);
    }
    return status;
}

glanz_status glanz_show_write(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig, glanz_sink sink,
                              void *user) {
    struct writer writer;
    if (sink == NULL || show == NULL || rig == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_status status = glanz_show_check(show, rig, NULL);
    if (status == GLANZ_OK) {
        begin(&writer, sink, user, rig, show);
        write_all(&writer, &glanz_table_show, show);
    }
    return status;
}
