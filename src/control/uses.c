/* SPDX-License-Identifier: MIT */
/* Which memory a show and a controller hold on to: one walk over all pointers that were lent. */
#include "control.h"

static int gradient_uses(GLANZ_CONST struct glanz_gradient *gradient, const void *memory, size_t size) {
    return gradient != NULL && (glanz_overlaps(gradient, 1, sizeof *gradient, memory, size) ||
                                glanz_overlaps(gradient->stops, gradient->count, sizeof *gradient->stops, memory, size));
}

static int look_uses(GLANZ_CONST struct glanz_look *look, const void *memory, size_t size) {
    return look != NULL && (glanz_overlaps(look, 1, sizeof *look, memory, size) || glanz_inside(look->name, memory, size) ||
                            glanz_inside(look->effect, memory, size) || glanz_inside(look->content, memory, size) ||
                            glanz_overlaps(look->settings, look->setting_count, sizeof *look->settings, memory, size) ||
#if GLANZ_DRIVES_MOST > 0
                            glanz_overlaps(look->drives, look->drive_count, sizeof *look->drives, memory, size) ||
#endif
                            gradient_uses(look->gradient, memory, size));
}

static int action_uses(GLANZ_CONST struct glanz_action *action, const void *memory, size_t size) {
#if GLANZ_SEQUENCES
    if (gradient_uses(action->gradient, memory, size) || glanz_inside(action->param, memory, size)) {
        return 1;
    }
#endif
    return glanz_overlaps(action, 1, sizeof *action, memory, size) ||
           ((action->kind->value == GLANZ_VALUE_LOOK || action->kind->value == GLANZ_VALUE_CONTENT) &&
            look_uses(action->look, memory, size));
}

static int lists_use(GLANZ_CONST struct glanz_show *show, const void *memory, size_t size) {
    int uses = glanz_overlaps(show, 1, sizeof *show, memory, size) || glanz_inside(show->name, memory, size) ||
               glanz_overlaps(show->stack, show->segment_count, 1, memory, size) ||
               glanz_overlaps(show->colors, show->color_count, sizeof *show->colors, memory, size) ||
               glanz_overlaps(show->palettes, show->palette_count, sizeof *show->palettes, memory, size) ||
               glanz_overlaps(show->looks, show->look_count, sizeof *show->looks, memory, size) ||
               glanz_overlaps(show->segments, show->segment_count, sizeof *show->segments, memory, size) ||
               glanz_overlaps(show->presets, show->preset_count, sizeof *show->presets, memory, size) ||
               glanz_overlaps(show->playlists, show->playlist_count, sizeof *show->playlists, memory, size) ||
               glanz_overlaps(show->triggers, show->trigger_count, sizeof *show->triggers, memory, size);
#if GLANZ_CALENDAR
    uses = uses || glanz_overlaps(show->entries, show->entry_count, sizeof *show->entries, memory, size);
    for (uint8_t i = 0; i < show->entry_count && !uses; i++) {
        uses = glanz_inside(show->entries[i].name, memory, size);
    }
#endif
#if GLANZ_DRIVES_MOST > 0
    uses = uses || glanz_overlaps(show->drive, 1, sizeof *show->drive, memory, size);
    for (uint8_t i = 0; i < show->segment_count && !uses; i++) {
        uses = glanz_overlaps(show->segments[i].drives, show->segments[i].drive_count, sizeof *show->segments[i].drives, memory,
                              size);
    }
    uses = uses || glanz_overlaps(show->signals, show->signal_count, sizeof *show->signals, memory, size);
    for (uint8_t i = 0; i < show->signal_count && !uses; i++) {
        uses = glanz_inside(show->signals[i].name, memory, size);
    }
#endif
#if GLANZ_FIELDS
    uses = uses || glanz_overlaps(show->pictures, show->picture_count, sizeof *show->pictures, memory, size);
    for (uint8_t i = 0; i < show->picture_count && !uses; i++) {
        uses = glanz_inside(show->pictures[i].name, memory, size) ||
               glanz_overlaps(show->pictures[i].bytes, (size_t)show->pictures[i].count, 1, memory, size);
    }
#endif
    return uses;
}

int glanz_show_uses(GLANZ_CONST struct glanz_show *show, const void *memory, size_t size) {
    if (show == NULL || memory == NULL || size == 0) {
        return 0;
    }
    int uses = lists_use(show, memory, size) || (show->start != NULL && action_uses(show->start, memory, size));
    for (uint16_t i = 0; i < show->color_count && !uses; i++) {
        uses = glanz_inside(show->colors[i].name, memory, size);
    }
    for (uint8_t i = 0; i < show->palette_count && !uses; i++) {
        GLANZ_CONST struct glanz_show_palette *palette = &show->palettes[i];
        uses = glanz_inside(palette->name, memory, size) || gradient_uses(palette->gradient, memory, size) ||
               glanz_overlaps(palette->chosen, palette->chosen_count, sizeof *palette->chosen, memory, size);
    }
    for (uint16_t i = 0; i < show->look_count && !uses; i++) {
        uses = look_uses(&show->looks[i], memory, size);
    }
    for (uint8_t i = 0; i < show->segment_count && !uses; i++) {
        uses = glanz_inside(show->segments[i].name, memory, size) || look_uses(show->segments[i].look, memory, size);
#if GLANZ_FIELDS
        uses = uses ||
               glanz_overlaps(show->segments[i].region.picks, show->segments[i].region.pick_count, sizeof(struct glanz_pick),
                              memory, size) ||
               glanz_overlaps(show->segments[i].region.within, 1, sizeof(struct glanz_window), memory, size);
#endif
#if GLANZ_SEQUENCES
        uses = uses || glanz_overlaps(show->segments[i].settings, show->segments[i].setting_count, sizeof(struct glanz_setting),
                                      memory, size);
#endif
    }
    for (uint8_t i = 0; i < show->preset_count && !uses; i++) {
        GLANZ_CONST struct glanz_preset *preset = &show->presets[i];
        uses = glanz_inside(preset->name, memory, size) ||
               glanz_overlaps(preset->parts, preset->part_count, sizeof *preset->parts, memory, size);
        for (uint8_t p = 0; p < preset->part_count && !uses; p++) {
            uses = look_uses(preset->parts[p].look, memory, size);
#if GLANZ_SEQUENCES
            uses = uses || gradient_uses(preset->parts[p].gradient, memory, size) ||
                   glanz_overlaps(preset->parts[p].settings, preset->parts[p].setting_count, sizeof(struct glanz_setting),
                                  memory, size);
#endif
        }
    }
    for (uint8_t i = 0; i < show->playlist_count && !uses; i++) {
        GLANZ_CONST struct glanz_playlist *list = &show->playlists[i];
        uses = glanz_inside(list->name, memory, size) ||
               glanz_overlaps(list->items, list->item_count, sizeof *list->items, memory, size);
    }
    for (uint8_t i = 0; i < show->trigger_count && !uses; i++) {
        GLANZ_CONST struct glanz_trigger *trigger = &show->triggers[i];
        uses = glanz_inside(trigger->name, memory, size);
#if GLANZ_DRIVES_MOST > 0
        uses = uses || glanz_overlaps(trigger->conditions, trigger->condition_count, sizeof *trigger->conditions, memory, size);
#endif
        for (uint8_t a = 0; a < trigger->action_count && !uses; a++) {
            uses = action_uses(&trigger->actions[a], memory, size);
        }
    }
    return uses;
}

#if GLANZ_SEQUENCES
static int showing_uses(const struct glanz_showing *showing, const void *memory, size_t size) {
    return glanz_inside(showing->name, memory, size) || glanz_inside(showing->effect, memory, size) ||
#if GLANZ_DRIVES_MOST > 0
           glanz_overlaps(showing->drives, showing->drive_count, sizeof *showing->drives, memory, size) ||
#endif
           glanz_inside(showing->gradient, memory, size) || glanz_inside(showing->content, memory, size);
}
#endif

int glanz_control_shows(const struct glanz_control *control, const void *memory, size_t size) {
    int uses = glanz_engine_uses(control->engine, memory, size);
#if GLANZ_SEQUENCES
    for (uint8_t i = 0; i < control->segment_capacity && !uses; i++) {
        uses = control->segments[i].based && showing_uses(&control->segments[i].base, memory, size);
    }
    for (uint8_t i = 0; i < GLANZ_PASSING && !uses; i++) {
        uses = control->passing[i].aspects != 0 && showing_uses(&control->passing[i].was, memory, size);
    }
#if GLANZ_UNDO > 0
    for (uint8_t i = 0; i < control->undo_count && !uses; i++) {
        const struct undo *undo = &control->undo[((unsigned)control->undo_at + GLANZ_UNDO - 1u - i) % GLANZ_UNDO];
        uses = undo->segment != GLANZ_ALL && showing_uses(&undo->was, memory, size);
    }
#endif
#endif
    return uses;
}

int glanz_control_uses(const struct glanz_control *control, const void *memory, size_t size) {
    if (control == NULL || memory == NULL || size == 0) {
        return 0;
    }
    int uses = glanz_control_shows(control, memory, size) || glanz_show_uses(control->show, memory, size);
#if GLANZ_SAVED_MOST > 0
    uses = uses || glanz_overlaps(control->values, (size_t)control->values_size, 1, memory, size);
#endif
    return uses;
}
