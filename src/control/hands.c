/* SPDX-License-Identifier: MIT */
/* What a hand has changed: noted, so that it can be taken back, kept, or left alone by what plays. */
#include "control.h"

#if GLANZ_SEQUENCES

static glanz_status show_again(struct glanz_control *control, uint8_t segment, const struct glanz_showing *was, uint8_t aspects,
                               struct glanz_change change) {
    struct glanz_look look;
    struct glanz_setting settings[GLANZ_PARAMS];
    glanz_status status = GLANZ_OK;
    if ((aspects & GLANZ_ASPECT_LOOK) != 0) {
        status = glanz_engine_look(control->engine, segment, glanz_control_look_of(&look, settings, was), change);
    } else if ((aspects & GLANZ_ASPECT_PALETTE) != 0) {
        status = glanz_control_put_palette(control, segment, was->gradient, change);
    }
    if (status == GLANZ_OK && (aspects & GLANZ_ASPECT_ON) != 0) {
        status = glanz_engine_switch(control->engine, segment, was->on, change);
    }
    if (status == GLANZ_OK && (aspects & GLANZ_ASPECT_BRIGHTNESS) != 0) {
        status = glanz_engine_brightness(control->engine, segment, was->brightness, change);
    }
    return status;
}

#if GLANZ_UNDO > 0
static void note_undo(struct glanz_control *control, uint8_t segment, uint8_t aspects) {
    struct undo *undo = &control->undo[control->undo_at];
    memset(undo, 0, sizeof *undo);
    if (segment != GLANZ_ALL && glanz_engine_showing(control->engine, segment, &undo->was) != GLANZ_OK) {
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

static void note_touch(struct glanz_control *control, segment_mask segments, uint8_t aspects, int gives_up) {
    control->undo_group++;
    control->changes.by_hand++;
    for (uint8_t i = 0; i < control->show->segment_count; i++) {
        if ((segments & BIT(i)) != 0) {
            touch(control, i, aspects, gives_up);
        }
    }
}

static void touch_preset(struct glanz_control *control, uint8_t index) {
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

static void touch_whole(struct glanz_control *control) {
    control->undo_group++;
    control->changes.by_hand++;
    note_undo(control, GLANZ_ALL, 0);
}

void glanz_control_touch(struct glanz_control *control, uint64_t segments, glanz_us at_us) {
    if (control != NULL && control->show != NULL && !glanz_control_inside(control)) {
        (void)(glanz_control_wake(control, at_us) == GLANZ_OK); /* the whole's brightness is always there */
        if (HANDS(control) != NULL) {
            HANDS(control)->touch(control, (segment_mask)segments, GLANZ_ASPECTS, 1);
        }
    }
}

static glanz_status undo(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, struct glanz_change change) {
    (void)action;
#if GLANZ_UNDO > 0
    if (control->undo_count == 0) {
        return GLANZ_ERR_ABSENT;
    }
    uint8_t group = control->undo[((unsigned)control->undo_at + GLANZ_UNDO - 1u) % GLANZ_UNDO].group;
    glanz_status status = GLANZ_OK;
    control->changes.by_hand++;
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        if (control->players[i].depth != 0 && control->players[i].entry == GLANZ_ALL && control->players[i].group == group) {
            LISTS(control)->stop(control, &control->players[i], change.at_us);
        }
    }
    while (control->undo_count > 0) {
        uint8_t at = (uint8_t)(((unsigned)control->undo_at + GLANZ_UNDO - 1u) % GLANZ_UNDO);
        const struct undo *change_of = &control->undo[at];
        if (change_of->group != group) {
            break;
        }
        glanz_status done = change_of->segment == GLANZ_ALL
                                ? glanz_engine_brightness(control->engine, GLANZ_ALL, change_of->lightness, change)
                                : show_again(control, change_of->segment, &change_of->was, change_of->aspects, change);
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

static void note_base(struct glanz_control *control, segment_mask segments) {
    for (uint8_t i = 0; i < control->show->segment_count; i++) {
        struct segment *segment = &control->segments[i];
        if ((segments & BIT(i)) != 0 && !segment->based) {
            segment->based = glanz_engine_showing(control->engine, i, &segment->base) == GLANZ_OK;
        }
    }
}

static glanz_status give(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, struct glanz_change change) {
    uint8_t segment = action->target;
    uint8_t aspects = (uint8_t)action->number;
    struct segment *is = &control->segments[segment];
    uint8_t given = (uint8_t)(is->taken & aspects);
    is->taken = (uint8_t)(is->taken & ~aspects);
#if GLANZ_DRIVES_MOST > 0
    if ((aspects & GLANZ_ASPECT_LOOK) != 0 && control->parts->drives != NULL) {
        (void)(control->parts->drives->release(control->engine, segment) == GLANZ_OK); /* the segment is there */
    }
#endif
    if (given != 0) {
        (void)(LISTS(control) != NULL && LISTS(control)->again(control, segment, change));
    }
    return GLANZ_OK;
}

static glanz_status take(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, struct glanz_change change) {
    struct segment *segment = &control->segments[action->target];
    (void)change;
    segment->taken = (uint8_t)(segment->taken | action->number);
    return GLANZ_OK;
}

GLANZ_CONST struct glanz_hands_part glanz_part_hands = {note_touch, touch_preset, touch_whole, note_base, show_again};

GLANZ_CONST struct glanz_action_kind glanz_action_take_over = {
    .key = GLANZ_TEXT("take over"),
    .description = GLANZ_DESCRIPTION("aspects of a segment: presets and playlists leave them alone"),
    .value = GLANZ_VALUE_SEGMENT,
    .needs = GLANZ_WITH_ASPECTS,
    .parts = GLANZ_PART_HANDS,
    .act = take};
GLANZ_CONST struct glanz_action_kind glanz_action_hand_back = {.key = GLANZ_TEXT("hand back"),
                                                               .description = GLANZ_DESCRIPTION("aspects that were taken over"),
                                                               .value = GLANZ_VALUE_SEGMENT,
                                                               .needs = GLANZ_WITH_ASPECTS,
                                                               .may = GLANZ_WITH_OVER,
                                                               .parts = GLANZ_PART_HANDS,
                                                               .act = give};
GLANZ_CONST struct glanz_action_kind glanz_action_undo = {.key = GLANZ_TEXT("undo"),
                                                          .description = GLANZ_DESCRIPTION("the last change by hand"),
                                                          .value = GLANZ_VALUE_TRUE,
                                                          .may = GLANZ_WITH_OVER,
                                                          .parts = GLANZ_PART_HANDS,
                                                          .act = undo};

#endif
