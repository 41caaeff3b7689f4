/* SPDX-License-Identifier: MIT */
/* The walker that reads: structs are entered one after another, those inside each other on a stack of its own. */
#include <string.h>

#include "read.h"

/* ---- names ---- */

static const char *const no_such[SCOPES] = {"no such chip",
                                            "no such font",
                                            "no such effect",
                                            "no such supply",
                                            "no such output",
                                            "no such surface in the rig",
                                            "no such input in the rig",
                                            "no such input in the rig, nor signal in the show",
                                            "no such colour",
                                            "no such look",
                                            "no such segment",
                                            "no such preset",
                                            "no such playlist",
                                            "no such palette",
                                            "no such picture in the show or the store"};

int glanz_read_find(struct reading *reading, int token, enum scope scope) {
    return glanz_find_name(&reading->json, token, &reading->scope[scope], no_such[scope]);
}

glanz_color glanz_read_color(struct reading *reading, int token, enum row_color kind) {
    int plain = kind == ROW_COLOR_PLAIN;
    glanz_color color =
        glanz_json_color(&reading->json, token, plain ? NULL : reading->show->colors, plain ? 0 : reading->show->color_count);
    int named = kind == ROW_COLOR_LIGHT && reading->json.status == GLANZ_OK && (color >> 24) == 3;
    return named ? reading->show->colors[color & 0xFFFFu].color : color;
}

/* ---- values ---- */

static void set_pointer(const struct row *row, void *base, const void *pointer) {
    memcpy((uint8_t *)base + row->at, &pointer, sizeof pointer);
}

static uint32_t read_set(struct json *json, int token, const struct row *row) {
    const char *const *words = (const char *const *)row->arg.refers_to;
    uint32_t set = 0;
    int most = 0;
    while (words[most] != NULL) {
        most++;
    }
    int count = glanz_json_list(json, token, JSON_ARRAY, most);
    for (int at = count == 0 ? -1 : glanz_json_first(json, token); at >= 0; at = glanz_json_next(json, token, at)) {
        set |= 1u << glanz_find_choice(json, at, words);
    }
    if (set == 0 && (row->flags & ROW_NOT_EMPTY) != 0 && json->status == GLANZ_OK) {
        glanz_json_fail(json, token, "expected at least one of: ", NULL, NULL);
        for (int i = 0; i < most; i++) {
            glanz_fault_add(json->fault, i == 0 ? "" : ", ");
            glanz_fault_add(json->fault, words[i]);
        }
    }
    return set;
}

static uint32_t read_quantity(struct json *json, int token, const struct row *row) {
    int32_t each = (row->flags & ROW_SECONDS) != 0 ? 1000 : 1;
    uint32_t number = (uint32_t)glanz_json_quantity(json, token, (enum quantity)row->extra, (int64_t)row->arg.low * each,
                                                    (int64_t)row->high * each, NULL);
    if (number % (uint32_t)each != 0) {
        glanz_json_fail(json, token, "expected whole seconds", NULL, NULL);
    }
    number /= (uint32_t)each;
    if (number == 0 && (row->flags & (ROW_ZERO_ONE | ROW_ZERO_ALL)) != 0) {
        number = (row->flags & ROW_ZERO_ONE) != 0 ? 1u : UINT32_MAX;
    }
    return number;
}

static void read_pointer(struct reading *reading, const struct row *row, int token, void *base) {
    const struct names *names = &reading->scope[row->extra];
    int index = glanz_read_find(reading, token, (enum scope)row->extra);
    if (reading->json.status == GLANZ_OK) {
        const uint8_t *at = (const uint8_t *)names->first + names->step * (size_t)index;
        set_pointer(row, base, names->indirect ? *(const void *const *)(const void *)at : at);
    }
}

void glanz_read_value(struct reading *reading, const struct row *row, int token, void *base) {
    struct json *json = &reading->json;
    uint32_t number = 0;
    switch ((enum row_kind)row->kind) {
    case ROW_NAME: set_pointer(row, base, glanz_json_name(json, token)); return;
    case ROW_POINTER: read_pointer(reading, row, token, base); return;
    case ROW_HOOK: reading->hooks->key(reading, row, token, base); return;
    case ROW_TRUE:
        if (!glanz_json_flag(json, token)) {
            glanz_json_fail(json, token, "expected true", NULL, NULL);
        }
        return;
    case ROW_FLAG: number = (uint32_t)(glanz_json_flag(json, token) != ((row->flags & ROW_INVERTED) != 0)); break;
    case ROW_COUNT:
        number = glanz_json_count(json, token, (uint32_t)row->arg.low, row->high) - ((row->flags & ROW_FROM_ONE) != 0);
        break;
    case ROW_CHOICE: number = glanz_find_choice(json, token, (const char *const *)row->arg.refers_to); break;
    case ROW_SET: number = read_set(json, token, row); break;
    case ROW_QUANTITY: number = read_quantity(json, token, row); break;
    case ROW_COLOR: number = glanz_read_color(reading, token, (enum row_color)row->extra); break;
    case ROW_INDEX: number = (uint32_t)glanz_read_find(reading, token, (enum scope)row->extra); break;
    case ROW_OBJECT:
    case ROW_OBJECT_POINTER:
    case ROW_LIST:
    case ROW_MAP: return;
    }
    if (json->status == GLANZ_OK) {
        glanz_row_set(row, base, number);
    }
}

/* ---- structs ---- */

int glanz_read_keys(const char **keys, int count, const struct table *table) {
    for (uint8_t i = 0; i < table->count; i++) {
        if (table->rows[i].key != NULL) {
            keys[count++] = table->rows[i].key;
        }
    }
    return count;
}

int glanz_read_token(const struct read_frame *frame, const char *key) {
    for (uint8_t i = 0; i < frame->table->count; i++) {
        if (frame->table->rows[i].key != NULL && strcmp(frame->table->rows[i].key, key) == 0) {
            return frame->token[i];
        }
    }
    return ABSENT;
}

/* Which rows the keys of an object are. */
static void read_keys(struct json *json, struct read_frame *frame) {
    const struct table *table = frame->table;
    for (int key = glanz_json_first(json, frame->object); key >= 0; key = glanz_json_next(json, frame->object, key)) {
        uint8_t row = 0;
        while (row < table->count && (table->rows[row].key == NULL || !glanz_json_equal(json, key, table->rows[row].key))) {
            row++;
        }
        if (row < table->count) {
            frame->token[row] = key + 1;
        } else if ((table->flags & TABLE_OPEN) == 0) {
            const char *keys[ROWS_MOST + 1];
            keys[glanz_read_keys(keys, 0, table)] = NULL;
            (void)glanz_json_object(json, frame->object, keys);
            return;
        }
    }
}

/* Is there what must be, and one of those that only one can be of? */
static void check_keys(struct json *json, const struct read_frame *frame) {
    const struct table *table = frame->table;
    uint8_t ones = 0;
    uint8_t said = 0;
    for (uint8_t i = 0; i < table->count; i++) {
        const struct row *row = &table->rows[i];
        if ((row->flags & ROW_REQUIRED) != 0 && frame->token[i] == ABSENT) {
            glanz_json_fail(json, frame->object, "the key ", row->key, " is missing here");
        }
        ones = (uint8_t)(ones + ((row->flags & ROW_ALTERNATIVE) != 0));
        said = (uint8_t)(said + ((row->flags & ROW_ALTERNATIVE) != 0 && frame->token[i] >= 0));
    }
    if (ones == 0 || said == 1 || json->status != GLANZ_OK) {
        return;
    }
    glanz_json_fail(json, frame->object, "expected one of: ", NULL, NULL);
    for (uint8_t i = 0; i < table->count; i++) {
        if ((table->rows[i].flags & ROW_ALTERNATIVE) != 0) {
            glanz_fault_add(json->fault, i == 0 || (table->rows[i - 1].flags & ROW_ALTERNATIVE) == 0 ? "" : ", ");
            glanz_fault_add(json->fault, table->rows[i].key);
        }
    }
}

void glanz_read_enter(struct reading *reading, const struct table *table, void *base, void *beside, int token) {
    struct json *json = &reading->json;
    if (json->status != GLANZ_OK) {
        return;
    }
    if (reading->depth == READ_FRAMES_MOST) { /* only tables that are nested deeper than the constant says come here */
        glanz_json_fail(json, token, "nested too deep", NULL, NULL);
        return;
    }
    struct read_frame *frame = &reading->frames[reading->depth++];
    memset(frame, 0, sizeof *frame);
    frame->table = table;
    frame->base = (uint8_t *)base;
    frame->beside = (uint8_t *)beside;
    frame->object = token;
    frame->list = -1;
    for (uint8_t i = 0; i < ROWS_MOST; i++) {
        frame->token[i] = ABSENT;
    }
    if ((table->flags & TABLE_VALUE) != 0 ||
        ((table->flags & TABLE_SHORTHAND) != 0 && glanz_json_is(json, token, JSON_STRING))) {
        frame->token[0] = token;
    } else if (glanz_json_object(json, token, NULL)) {
        read_keys(json, frame);
        check_keys(json, frame);
    }
    if (json->status == GLANZ_OK && table->hook != TABLE_PLAIN) {
        reading->hooks->begin(reading, frame);
    }
}

/* ---- lists ---- */

static void read_names(struct reading *reading, const struct row *row, int object, uint8_t *first) {
    struct json *json = &reading->json;
    const struct table *table = (const struct table *)row->arg.refers_to;
    int count = 0;
    for (int key = glanz_json_first(json, object); key >= 0; key = glanz_json_next(json, object, key), count++) {
        if ((row->flags & ROW_KEYED) != 0) {
            first[(size_t)table->size * (size_t)count] = (uint8_t)glanz_read_find(reading, key, (enum scope)(row->extra - 1));
        } else {
            const char *name = glanz_json_name(json, key);
            memcpy(first + (size_t)table->size * (size_t)count + table->name, &name, sizeof name);
        }
    }
    if (row->extra != 0 && (row->flags & ROW_KEYED) == 0) { /* from here on they may be named */
        struct names *scope = &reading->scope[row->extra - 1];
        struct names names = {count == 0 ? NULL : first + table->name, table->size, count, 0, scope->before};
        names.count += scope->before == NULL ? 0 : scope->before->count;
        *scope = names;
    }
}

static void begin_list(struct reading *reading, struct read_frame *frame, const struct row *row, int token) {
    struct json *json = &reading->json;
    const struct table *table = (const struct table *)row->arg.refers_to;
    uint8_t *base = ROW_STRUCT(row, frame->base, frame->beside);
    int count = glanz_json_list(json, token, row->kind == ROW_MAP ? JSON_OBJECT : JSON_ARRAY, ROW_COUNT_MOST(row));
    int spare = (row->flags & ROW_PALETTE_SPACE) != 0 ? glanz_palette_count : 0;
    if (json->status == GLANZ_OK && count == 0 && (row->flags & ROW_NOT_EMPTY) != 0) {
        glanz_json_fail(json, token, "expected at least one", NULL, NULL);
    }
    uint8_t *first = (uint8_t *)glanz_json_allocate(json, (size_t)table->size * (size_t)(count + spare));
    uint8_t *beside =
        table->beside == NULL ? NULL : (uint8_t *)glanz_json_allocate(json, (size_t)table->beside->size * (size_t)count);
    if (json->status != GLANZ_OK) {
        return;
    }
    set_pointer(row, base, first);
    if (table->beside != NULL) {
        memcpy(base + table->beside->at, &beside, sizeof beside);
    }
    if (row->width == 1) {
        base[row->high >> 16] = (uint8_t)count;
    } else {
        *(uint16_t *)(void *)(base + (row->high >> 16)) = (uint16_t)count;
    }
    if (row->kind == ROW_MAP && token >= 0) {
        read_names(reading, row, token, first);
    }
    if (count != 0) {
        frame->list = token;
        frame->element = glanz_json_first(json, token);
        frame->index = 0;
    }
}

/* The next struct of the list. */
static void next_of_list(struct reading *reading, struct read_frame *frame) {
    const struct row *row = &frame->table->rows[frame->row];
    const struct table *table = (const struct table *)row->arg.refers_to;
    int token = frame->element;
    if (token < 0) {
        frame->list = -1;
        frame->row++;
        return;
    }
    uint8_t *base = ROW_STRUCT(row, frame->base, frame->beside);
    uint8_t *first;
    uint8_t *beside = NULL;
    memcpy(&first, base + row->at, sizeof first);
    if (table->beside != NULL) {
        memcpy(&beside, base + table->beside->at, sizeof beside);
        beside += (size_t)table->beside->size * frame->index;
    }
    frame->element = glanz_json_next(&reading->json, frame->list, token);
    glanz_read_enter(reading, table, first + (size_t)table->size * frame->index++, beside,
                     row->kind == ROW_MAP ? token + 1 : token);
}

/* ---- the walk ---- */

static void read_absent(const struct row *row, void *base) {
    if ((row->flags & ROW_ABSENT_ONE) != 0) {
        glanz_row_set(row, base, 1);
    } else if ((row->flags & ROW_ABSENT_ALL) != 0) {
        glanz_row_set(row, base, UINT32_MAX);
    }
}

static void read_row(struct reading *reading, struct read_frame *frame) {
    struct json *json = &reading->json;
    const struct row *row = &frame->table->rows[frame->row];
    int token = frame->token[frame->row];
    uint8_t *base = ROW_STRUCT(row, frame->base, frame->beside);
    if (row->kind == ROW_LIST || row->kind == ROW_MAP) {
        if (token >= 0 || (row->flags & (ROW_PALETTE_SPACE | ROW_ALTERNATIVE)) == ROW_PALETTE_SPACE) {
            begin_list(reading, frame, row, token);
        }
        frame->row = (uint8_t)(frame->row + (frame->list < 0));
    } else {
        frame->row++; /* what is entered now comes before the next row */
    }
    if (token < 0) {
        if (row->key == NULL && row->kind == ROW_HOOK) {
            reading->hooks->key(reading, row, frame->object, base);
        } else if (token == ABSENT) {
            read_absent(row, base);
        }
        return;
    }
    if ((row->flags & (ROW_ALTERNATIVE | ROW_ASPECT)) != 0) {
        frame->base[frame->table->tag] =
            (uint8_t)((row->flags & ROW_ALTERNATIVE) != 0 ? row->tag : frame->base[frame->table->tag] | row->tag);
    }
    if (row->kind == ROW_OBJECT) {
        if (row->high != 0) {
            base[row->high] = 1;
        }
        glanz_read_enter(reading, (const struct table *)row->arg.refers_to, frame->base, frame->beside, token);
    } else if (row->kind == ROW_OBJECT_POINTER) {
        void *own = glanz_json_allocate(json, ((const struct table *)row->arg.refers_to)->size);
        set_pointer(row, base, own);
        glanz_read_enter(reading, (const struct table *)row->arg.refers_to, own, NULL, token);
    } else if ((row->flags & ROW_DRIVABLE) != 0 && glanz_json_is(json, token, JSON_OBJECT)) {
        reading->hooks->drive(reading, row, token, base);
    } else {
        glanz_read_value(reading, row, token, base);
    }
}

void glanz_read_plain(struct reading *reading, const struct table *table, void *base, int object) {
    struct json *json = &reading->json;
    const char *keys[ROWS_MOST + 1];
    keys[glanz_read_keys(keys, 0, table)] = NULL;
    if (!glanz_json_object(json, object, keys)) {
        return;
    }
    for (uint8_t i = 0; i < table->count && json->status == GLANZ_OK; i++) {
        const struct row *row = &table->rows[i];
        int token = glanz_json_member(json, object, row->key);
        if (token >= 0) {
            glanz_read_value(reading, row, token, base);
        } else if ((row->flags & ROW_REQUIRED) != 0) {
            glanz_json_fail(json, object, "the key ", row->key, " is missing here");
        } else {
            read_absent(row, base);
        }
    }
}

void glanz_read(struct reading *reading, const struct table *table, void *base, int token) {
    uint8_t depth = reading->depth;
    glanz_read_enter(reading, table, base, NULL, token);
    while (reading->depth > depth && reading->json.status == GLANZ_OK) {
        struct read_frame *frame = &reading->frames[reading->depth - 1];
        if (frame->list >= 0) {
            next_of_list(reading, frame);
        } else if (frame->row < frame->table->count) {
            read_row(reading, frame);
        } else {
            if (frame->table->hook != TABLE_PLAIN) {
                reading->hooks->end(reading, frame);
            }
            reading->depth--;
        }
    }
    reading->depth = depth;
}
