/* SPDX-License-Identifier: MIT */
/* Rigs and shows as documents: the walker that writes. Members that hold their default are left out, as they may be when
 * read. */
#include <string.h>

#include "write.h"

/* ---- the walk ---- */

/* One struct of a list: its name, then itself. */
static void write_listed(struct writer *writer, struct write_frame *frame, const struct row *row) {
    const struct table *table = (const struct table *)row->arg.refers_to;
    const uint8_t *parent = ROW_STRUCT(row, frame->base, frame->beside);
    const uint8_t *base = (const uint8_t *)glanz_row_list(row, parent) + (size_t)table->size * frame->index;
    const uint8_t *beside = NULL;
    if (table->beside != NULL) {
        memcpy(&beside, parent + table->beside->at, sizeof beside);
        beside = beside == NULL ? NULL : beside + (size_t)table->beside->size * frame->index;
    }
    frame->index++;
    if ((table->flags & TABLE_CONDITIONAL) != 0 && !glanz_write_includes(table, base)) {
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
    const struct glanz_part *part = (const struct glanz_part *)(const void *)base; /* the one that has a shorthand */
    if ((table->flags & TABLE_SHORTHAND) != 0 && base[table->tag] == table->rows[0].tag && part->setting_count == 0 &&
        part->later_ms == 0) {
        glanz_write_value(writer, &table->rows[0], base);
    } else {
        glanz_write_enter(writer, table, base, beside, 0);
    }
}

static void write_row(struct writer *writer, struct write_frame *frame) {
    const struct row *row = &frame->table->rows[frame->row];
    const uint8_t *base = ROW_STRUCT(row, frame->base, frame->beside);
    int list = row->kind == ROW_LIST || row->kind == ROW_MAP;
    if (base == NULL || !glanz_write_row_wanted(writer, frame, row, base)) {
        frame->row++;
        return;
    }
    if (!list) {
        frame->row++; /* what is entered now comes before the next row */
    }
    if (row->kind == ROW_HOOK) {
        glanz_write_hook(writer, row, base);
        return;
    }
    if (row->key != NULL) {
        glanz_write_key(writer, row->key);
    }
    if (list) {
        frame->listing = 1;
        frame->index = 0;
        glanz_write_open(writer, row->kind == ROW_MAP ? "{" : "[",
                         (frame->table->flags & (TABLE_VALUE | TABLE_FLAT)) == (TABLE_VALUE | TABLE_FLAT));
    } else if (row->kind == ROW_OBJECT) {
        glanz_write_enter(writer, (const struct table *)row->arg.refers_to, frame->base, frame->beside, 0);
    } else if (row->kind == ROW_OBJECT_POINTER) {
        glanz_write_enter(writer, (const struct table *)row->arg.refers_to, glanz_row_list(row, base), NULL, 0);
    } else {
        glanz_write_value(writer, row, base);
    }
}

static void write_all(struct writer *writer, const struct table *table, const void *base) {
    glanz_write_enter(writer, table, base, NULL, 0);
    while (writer->frame_count > 0) {
        struct write_frame *frame = &writer->frames[writer->frame_count - 1];
        const struct row *row = &frame->table->rows[frame->row];
        if (frame->listing) {
            if (frame->index < glanz_row_count(row, ROW_STRUCT(row, frame->base, frame->beside))) {
                write_listed(writer, frame, row);
            } else {
                glanz_write_close(writer, row->kind == ROW_MAP ? "}" : "]");
                frame->listing = 0;
                frame->row++;
            }
        } else if (frame->row < frame->table->count) {
            write_row(writer, frame);
        } else {
            writer->frame_count--;
            if (!frame->bare) {
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
