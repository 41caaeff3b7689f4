/* SPDX-License-Identifier: MIT */
/* Which rows are written: those that say something. */
#include <string.h>

#include "write.h"

static int item_condition(const struct write_frame *parent, const struct row *row, const struct glanz_item *item) {
    const struct glanz_playlist *playlist = (const struct glanz_playlist *)(const void *)parent->base;
    if (row->at == offsetof(struct glanz_item, at_ms)) {
        return playlist->timed;
    }
    return (item->kind != GLANZ_ITEM_PLAYLIST || item->hold_ms != 0) &&
           (!playlist->timed || item == &playlist->items[playlist->item_count - 1]);
}

static int mark_condition(const struct row *row, const struct glanz_mark *mark) {
    int line = row->at == offsetof(struct glanz_mark, first) || row->at == offsetof(struct glanz_mark, leds);
    return line != mark->placed;
}

static int when_condition(const struct row *row, const struct glanz_trigger *trigger, int of_button) {
    uint8_t event = trigger->event;
    switch (row->at) {
    case offsetof(struct glanz_trigger, input): return of_button == (row->key[0] == 'b');
    case offsetof(struct glanz_trigger, event): return event < GLANZ_EVENT_RISES;
    case offsetof(struct glanz_trigger, other): return event == GLANZ_EVENT_PRESSED_TOGETHER;
    case offsetof(struct glanz_trigger, level): return event == row->tag;
    case offsetof(struct glanz_trigger, upper): return event == GLANZ_EVENT_ENTERS || event == GLANZ_EVENT_LEAVES;
    default: /* how long */
        return row->key[0] == 'u' ? event == GLANZ_EVENT_UNCHANGED
                                  : event == GLANZ_EVENT_STAYS_ABOVE || event == GLANZ_EVENT_STAYS_BELOW;
    }
}

static int is_button(const struct writer *writer, uint8_t input) {
    return input < writer->rig->input_count && writer->rig->inputs[input].kind == GLANZ_INPUT_BUTTON;
}

static int action_condition(const struct row *row, const struct glanz_action *action) {
    if (row->tag == 0) {
        return 1;
    }
    if (((action->kind->needs | action->kind->may) & row->tag) == 0) {
        return 0;
    }
    return row->at == offsetof(struct glanz_action, number) ? 1 : 2;
}

int glanz_write_driven(const struct glanz_look *look, uint8_t param) {
    for (uint8_t i = 0; i < look->drive_count; i++) {
        if (look->drives[i].param == param) {
            return 1;
        }
    }
    return 0;
}

static int segment_condition(const struct row *row, const struct glanz_segment *segment) {
    if (row->at == offsetof(struct glanz_segment, seed)) {
        return segment->seed != glanz_text_hash(segment->name);
    }
    int turns = row->at == offsetof(struct glanz_segment, region.bearing);
    uint8_t param = turns                                                ? GLANZ_DRIVE_BEARING
                    : row->at == offsetof(struct glanz_segment, opacity) ? GLANZ_DRIVE_OPACITY
                                                                         : GLANZ_DRIVE_BRIGHTNESS;
    for (uint8_t i = 0; i < segment->drive_count; i++) {
        if (segment->drives[i].param == param) {
            return 0;
        }
    }
    return 2;
}

static int signal_condition(const struct row *row, const struct glanz_signal *signal) {
    if (row->at == offsetof(struct glanz_signal, first) || row->at == offsetof(struct glanz_signal, second)) {
        return signal->kind == GLANZ_SIGNAL_COMBINE
                   ? (row->flags & ROW_FROM_ONE) == 0
                   : signal->kind == GLANZ_SIGNAL_SOUND &&
                         (row->at == offsetof(struct glanz_signal, first) ||
                          ((row->flags & ROW_FROM_ONE) != 0 && signal->form == GLANZ_HEARS_BAND));
    }
    if (signal->kind != GLANZ_SIGNAL_WAVE) {
        return 0;
    }
    if (row->at == offsetof(struct glanz_signal, high)) {
        return signal->high != GLANZ_LEVEL_FULL && (signal->high != 0 || signal->low != 0);
    }
    return row->at == offsetof(struct glanz_signal, period_ms) ? 1 : 2;
}

static int condition(const struct writer *writer, const struct write_frame *frame, const struct row *row) {
    const void *base = frame->base;
    switch (frame->table->hook) {
    case TABLE_OUTPUT: return ((const struct glanz_output *)base)->stretches[0].chip->protocol == GLANZ_CLOCKED;
    case TABLE_SKETCH: return 0;  /* pictures are written as they were packed */
    case TABLE_PALETTE: return 0; /* and palettes with their stops */
    case TABLE_MARK: return mark_condition(row, (const struct glanz_mark *)base);
    case TABLE_WHEN:
        return when_condition(row, (const struct glanz_trigger *)base,
                              is_button(writer, ((const struct glanz_trigger *)base)->input));
    case TABLE_ACTION: return action_condition(row, (const struct glanz_action *)base);
    case TABLE_LOOK: return glanz_write_driven((const struct glanz_look *)base, GLANZ_DRIVE_BRIGHTNESS) ? 0 : 2;
    case TABLE_SHOW: return ((const struct glanz_show *)base)->drive != NULL ? 0 : 2;
    case TABLE_SEGMENT: return segment_condition(row, (const struct glanz_segment *)base);
    case TABLE_SIGNAL: return signal_condition(row, (const struct glanz_signal *)base);
    case TABLE_DRIVE: return glanz_row_get(row, base) != DRIVE_SMOOTH_MS;
    default: return item_condition(&writer->frames[writer->frame_count - 2], row, (const struct glanz_item *)base);
    }
}

int glanz_write_includes(const struct table *table, const void *base) {
    return table->hook != TABLE_PALETTE || ((const struct glanz_show_palette *)base)->chosen != NULL;
}

static uint32_t listed(const struct row *row, const void *base) {
    const struct table *table = (const struct table *)row->arg.refers_to;
    uint32_t count = glanz_row_count(row, base);
    uint32_t shown = 0;
    for (uint32_t i = 0; i < count; i++) {
        const uint8_t *at = (const uint8_t *)glanz_row_list(row, base) + (size_t)table->size * i;
        shown += (table->flags & TABLE_CONDITIONAL) == 0 || glanz_write_includes(table, at);
    }
    return shown;
}

int glanz_write_row_wanted(const struct writer *writer, const struct write_frame *frame, const struct row *row,
                           const void *base) {
    const struct table *table = frame->table;
    int asked = (row->flags & ROW_CONDITIONAL) != 0 ? condition(writer, frame, row) : 2;
    if (asked != 2) {
        return asked;
    }
    if ((row->flags & ROW_ALTERNATIVE) != 0) {
        return frame->base[table->tag] == row->tag;
    }
    if ((row->flags & ROW_ASPECT) != 0) {
        return (frame->base[table->tag] & row->tag) != 0;
    }
    if ((row->flags & ROW_REQUIRED) != 0) {
        return 1;
    }
    uint32_t most = row->width >= 4 ? UINT32_MAX : (1u << 8 * row->width) - 1u;
    switch ((enum row_kind)row->kind) {
    case ROW_NAME:
    case ROW_POINTER:
    case ROW_OBJECT_POINTER: return glanz_row_list(row, base) != NULL;
    case ROW_OBJECT: return row->high == 0 || frame->base[row->high] != 0;
    case ROW_LIST: return glanz_row_count(row, base) != 0;
    case ROW_MAP: return (row->flags & ROW_KEYED) != 0 || listed(row, base) != 0;
    case ROW_HOOK:
    case ROW_TRUE: return 1;
    case ROW_COUNT:
        if (glanz_row_get(row, base) < (uint32_t)row->arg.low) {
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
    uint32_t standard = (row->flags & ROW_ABSENT_ONE) != 0 ? 1u : (row->flags & ROW_ABSENT_ALL) != 0 ? most : 0u;
    return number != standard;
}
