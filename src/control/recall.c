/* SPDX-License-Identifier: MIT */
/* What is put on segments: presets and parts of them, what was there before, what a hand has changed and can take back. */
#include "control.h"

segment_mask glanz_control_preset_segments(GLANZ_CONST struct glanz_show *show, uint8_t preset) {
    segment_mask mask = 0;
    for (uint8_t i = 0; i < show->presets[preset].part_count; i++) {
        mask = (segment_mask)(mask | BIT(show->presets[preset].parts[i].segment));
    }
    return mask;
}

#if GLANZ_SEQUENCES
/* A look like the one that shows, to be given to the engine. */
static GLANZ_CONST struct glanz_look *look_of(struct glanz_look *look, struct glanz_setting *settings,
                                              const struct glanz_showing *showing) {
    if (showing->effect == NULL) {
        return NULL;
    }
    memset(look, 0, sizeof *look);
    look->name = showing->name;
    look->effect = showing->effect;
    look->gradient = showing->gradient;
    look->content = showing->content;
    look->brightness = showing->look_brightness == 0 ? 1 : showing->look_brightness;
    look->settings = settings;
    look->setting_count = showing->effect->param_count;
    for (uint8_t i = 0; i < look->setting_count; i++) {
        settings[i].param = i;
        settings[i].unit = showing->unit[i];
        settings[i].number = showing->number[i];
    }
    return look;
}

static glanz_status put_palette(struct glanz_control *control, uint8_t segment, GLANZ_CONST struct glanz_gradient *gradient,
                                struct glanz_change change) {
    struct glanz_showing showing;
    struct glanz_look look;
    struct glanz_setting settings[GLANZ_PARAMS];
    glanz_status status = glanz_engine_showing(&showing, control->engine, segment);
    showing.gradient = gradient;
    return status != GLANZ_OK || showing.effect == NULL
               ? status
               : glanz_engine_look(control->engine, segment, look_of(&look, settings, &showing), change);
}

glanz_status glanz_control_show_again(struct glanz_control *control, uint8_t segment, const struct glanz_showing *was,
                                      uint8_t aspects, struct glanz_change change) {
    struct glanz_look look;
    struct glanz_setting settings[GLANZ_PARAMS];
    glanz_status status = GLANZ_OK;
    if ((aspects & GLANZ_ASPECT_LOOK) != 0) {
        status = glanz_engine_look(control->engine, segment, look_of(&look, settings, was), change);
    } else if ((aspects & GLANZ_ASPECT_PALETTE) != 0) {
        status = put_palette(control, segment, was->gradient, change);
    }
    if (status == GLANZ_OK && (aspects & GLANZ_ASPECT_ON) != 0) {
        status = glanz_engine_switch(control->engine, segment, was->on, change);
    }
    if (status == GLANZ_OK && (aspects & GLANZ_ASPECT_BRIGHTNESS) != 0) {
        status = glanz_engine_brightness(control->engine, segment, was->brightness, change);
    }
    return status;
}
#endif

#if GLANZ_FIELDS
int glanz_control_preset_fits(const struct glanz_control *control, uint8_t index) {
    GLANZ_CONST struct glanz_preset *preset = &control->show->presets[index];
    size_t bytes = 0;
    for (uint8_t s = 0; s < control->show->segment_count; s++) {
        size_t wanted = glanz_engine_memory(control->engine, s);
        for (uint8_t i = 0; i < preset->part_count; i++) {
            GLANZ_CONST struct glanz_part *part = &preset->parts[i];
            if (part->segment == s && (part->aspects & GLANZ_ASPECT_LOOK) != 0) {
                wanted = glanz_look_memory(&control->show->segments[s], part->look, control->rig);
            }
        }
        bytes += wanted;
    }
    return bytes <= glanz_engine_memory(control->engine, GLANZ_ALL);
}
#endif

static glanz_status recall_part(struct glanz_control *control, GLANZ_CONST struct glanz_part *part,
                                struct glanz_change change) {
    glanz_status status = GLANZ_OK;
    uint8_t aspects = part->aspects;
#if GLANZ_SEQUENCES
    aspects = (uint8_t)(aspects & ~control->segments[part->segment].taken);
    if ((aspects & GLANZ_ASPECT_LOOK) != 0 && (control->segments[part->segment].taken & GLANZ_ASPECT_PALETTE) != 0 &&
        part->look != NULL) { /* the look, in the palette that was taken over */
        struct glanz_showing showing;
        struct glanz_look look = *part->look;
        status = glanz_engine_showing(&showing, control->engine, part->segment);
        look.gradient = showing.effect == NULL ? look.gradient : showing.gradient;
        status = status != GLANZ_OK ? status : glanz_engine_look(control->engine, part->segment, &look, change);
    } else
#endif
        if ((aspects & GLANZ_ASPECT_LOOK) != 0) {
        status = glanz_engine_look(control->engine, part->segment, part->look, change);
    }
#if GLANZ_SEQUENCES
    if ((aspects & GLANZ_ASPECT_PALETTE) != 0 && status == GLANZ_OK) {
        status = put_palette(control, part->segment, part->gradient, change);
    }
#endif
    if ((aspects & GLANZ_ASPECT_ON) != 0 && status == GLANZ_OK) {
        status = glanz_engine_switch(control->engine, part->segment, part->on, change);
    }
    if ((aspects & GLANZ_ASPECT_BRIGHTNESS) != 0 && status == GLANZ_OK) {
        status = glanz_engine_brightness(control->engine, part->segment, part->brightness, change);
    }
    return status;
}

glanz_status glanz_control_recall(struct glanz_control *control, uint8_t index, segment_mask segments,
                                  struct glanz_change change) {
    GLANZ_CONST struct glanz_preset *preset = &control->show->presets[index];
    glanz_status status = GLANZ_OK;
    glanz_control_tell(control, change.at_us, GLANZ_HAPPENED_PRESET, index, 0, 0);
#if GLANZ_FIELDS
    /* What all of it wants fits together, but some may have to wait for what others give back: see take.c. */
    for (uint8_t turn = 0; segments != 0 && turn <= control->show->segment_count; turn++) {
        segment_mask wait = 0;
        for (uint8_t i = 0; i < preset->part_count; i++) {
            if ((segments & BIT(preset->parts[i].segment)) != 0) {
                glanz_status one = recall_part(control, &preset->parts[i], change);
                wait |= one == GLANZ_ERR_MEMORY ? BIT(preset->parts[i].segment) : 0;
                status = status == GLANZ_OK && one != GLANZ_ERR_MEMORY ? one : status;
            }
        }
        segments = wait;
        if (wait != 0) {
            glanz_engine_settle(control->engine);
        }
    }
    return segments != 0 && status == GLANZ_OK ? GLANZ_ERR_MEMORY : status;
#else
    for (uint8_t i = 0; i < preset->part_count && status == GLANZ_OK; i++) {
        GLANZ_CONST struct glanz_part *part = &preset->parts[i];
        if ((segments & BIT(part->segment)) != 0) {
            status = recall_part(control, part, change);
        }
    }
    return status;
#endif
}

#if GLANZ_SEQUENCES

/* ---- changes by hand ---- */

#if GLANZ_UNDO > 0
static void note_undo(struct glanz_control *control, uint8_t segment, uint8_t aspects) {
    struct undo *undo = &control->undo[control->undo_at];
    memset(undo, 0, sizeof *undo);
    if (segment != GLANZ_ALL && glanz_engine_showing(&undo->was, control->engine, segment) != GLANZ_OK) {
        return;
    }
    undo->lightness = glanz_engine_lightness(control->engine);
    undo->segment = segment;
    undo->aspects = aspects;
    undo->group = control->undo_group;
    control->undo_at = (uint8_t)((control->undo_at + 1) % GLANZ_UNDO);
    control->undo_count = (uint8_t)(control->undo_count < GLANZ_UNDO ? control->undo_count + 1 : GLANZ_UNDO);
}
#else
static void note_undo(struct glanz_control *control, uint8_t segment, uint8_t aspects) {
    (void)control;
    (void)segment;
    (void)aspects;
}
#endif

/* One segment of a change by hand. */
static void touch(struct glanz_control *control, uint8_t segment, uint8_t aspects, int gives_up) {
    note_undo(control, segment, aspects);
    if (gives_up) {
        control->segments[segment].by_hand = control->segments[segment].claimed != GLANZ_ALL;
        control->segments[segment].based = 0;
    }
    control->unsaved |= BIT(segment);
}

void glanz_control_note_touch(struct glanz_control *control, segment_mask segments, uint8_t aspects, int gives_up) {
    control->undo_group++;
    control->changes.by_hand++;
    for (uint8_t i = 0; i < control->show->segment_count; i++) {
        if ((segments & BIT(i)) != 0) {
            touch(control, i, aspects, gives_up);
        }
    }
}

void glanz_control_touch_preset(struct glanz_control *control, uint8_t index) {
    GLANZ_CONST struct glanz_preset *preset = &control->show->presets[index];
    segment_mask segments = glanz_control_preset_segments(control->show, index);
    control->undo_group++;
    control->changes.by_hand++;
    for (uint8_t i = 0; i < control->show->segment_count; i++) {
        uint8_t aspects = 0;
        for (uint8_t p = 0; p < preset->part_count; p++) {
            aspects = (uint8_t)(aspects | (preset->parts[p].segment == i ? preset->parts[p].aspects : 0));
        }
        if ((segments & BIT(i)) != 0) {
            touch(control, i, aspects, 1);
        }
    }
}

void glanz_control_touch_whole(struct glanz_control *control) {
    control->undo_group++;
    control->changes.by_hand++;
    note_undo(control, GLANZ_ALL, 0);
}

void glanz_control_touch(struct glanz_control *control, uint64_t segments, glanz_time at_us) {
    if (control != NULL && control->show != NULL && !glanz_control_inside(control)) {
        (void)(glanz_control_wake(control, at_us) == GLANZ_OK); /* the whole's brightness is always there */
        glanz_control_note_touch(control, (segment_mask)segments, GLANZ_ASPECTS, 1);
    }
}

glanz_status glanz_control_undo(struct glanz_control *control, struct glanz_change change) {
#if GLANZ_UNDO > 0
    if (control->undo_count == 0) {
        return GLANZ_ERR_ABSENT;
    }
    uint8_t group = control->undo[((unsigned)control->undo_at + GLANZ_UNDO - 1u) % GLANZ_UNDO].group;
    glanz_status status = GLANZ_OK;
    control->changes.by_hand++;
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        if (control->players[i].depth != 0 && control->players[i].entry == GLANZ_ALL && control->players[i].group == group) {
            glanz_control_stop_player(control, &control->players[i], change.at_us);
        }
    }
    while (control->undo_count > 0) {
        uint8_t at = (uint8_t)(((unsigned)control->undo_at + GLANZ_UNDO - 1u) % GLANZ_UNDO);
        const struct undo *undo = &control->undo[at];
        if (undo->group != group) {
            break;
        }
        glanz_status done = undo->segment == GLANZ_ALL
                                ? glanz_engine_brightness(control->engine, GLANZ_ALL, undo->lightness, change)
                                : glanz_control_show_again(control, undo->segment, &undo->was, undo->aspects, change);
        status = glanz_status_first(status, done);
        control->undo_at = at;
        control->undo_count--;
    }
    return status;
#else
    (void)control;
    (void)change;
    return GLANZ_ERR_ABSENT;
#endif
}

uint8_t glanz_control_undoable(const struct glanz_control *control) {
    return control == NULL ? 0 : control->undo_count;
}

uint64_t glanz_control_unsaved(const struct glanz_control *control) {
    return control == NULL ? 0 : control->unsaved;
}

void glanz_control_saved(struct glanz_control *control, uint64_t segments) {
    if (control != NULL && !glanz_control_inside(control)) {
        control->unsaved &= (segment_mask)~segments;
    }
}

struct glanz_changes glanz_control_changes(const struct glanz_control *control) {
    struct glanz_changes none = {0, 0};
    return control == NULL ? none : control->changes;
}

uint8_t glanz_control_taken(const struct glanz_control *control, uint8_t segment) {
    return control == NULL || control->show == NULL || segment >= control->show->segment_count
               ? 0
               : control->segments[segment].taken;
}

/* ---- what passes ---- */

void glanz_control_note_base(struct glanz_control *control, segment_mask segments) {
    for (uint8_t i = 0; i < control->show->segment_count; i++) {
        struct segment *segment = &control->segments[i];
        if ((segments & BIT(i)) != 0 && !segment->based) {
            segment->based = glanz_engine_showing(&segment->base, control->engine, i) == GLANZ_OK;
        }
    }
}

glanz_status glanz_control_give(struct glanz_control *control, uint8_t segment, uint8_t aspects, struct glanz_change change) {
    struct segment *is = &control->segments[segment];
    uint8_t given = (uint8_t)(is->taken & aspects);
    is->taken = (uint8_t)(is->taken & ~aspects);
    if (given != 0) {
        (void)glanz_control_play_again(control, segment, change);
    }
    return GLANZ_OK;
}

#endif
