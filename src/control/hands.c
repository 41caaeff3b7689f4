/* SPDX-License-Identifier: MIT */
/* What a hand has changed: noted, so that it can be taken back, kept, or left alone by what plays. */
#include "control.h"

#if GLANZ_SEQUENCES

static glanz_status show_again(struct glanz_control *control, uint8_t segment, const struct glanz_showing *was, uint8_t aspects,
                               const struct glanz_change *change) {
    struct glanz_look look;
    struct glanz_setting settings[GLANZ_PARAMS];
    glanz_status status = GLANZ_OK;
    if ((aspects & GLANZ_ASPECT_LOOK) != 0) {
        status = glanz_engine_look(control->engine, segment, glanz_control_look_of(&look, settings, was), *change);
    } else if ((aspects & GLANZ_ASPECT_PALETTE) != 0) {
        struct glanz_colors colors;
        glanz_colors_of(&colors, was);
        status = glanz_control_put_colors(control, segment, &colors, change);
        status = status == GLANZ_ERR_ABSENT ? GLANZ_OK : status;
    }
    if (status == GLANZ_OK && (aspects & GLANZ_ASPECT_ON) != 0) {
        status = glanz_engine_switch(control->engine, segment, was->on, *change);
    }
    if (status == GLANZ_OK && (aspects & GLANZ_ASPECT_BRIGHTNESS) != 0) {
        status = glanz_engine_brightness(control->engine, segment, was->brightness, *change);
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

/* ---- what changes for a time ---- */

static void drop(struct glanz_control *control, segment_mask segments, uint8_t aspects) {
    for (uint8_t i = 0; i < GLANZ_PASSING; i++) {
        struct passing *passing = &control->passing[i];
        if (passing->segment == GLANZ_ALL ? segments == 0 : (segments & BIT(passing->segment)) != 0) {
            passing->aspects = (uint8_t)(passing->aspects & ~aspects);
        }
    }
}

static glanz_us passing_due(const struct glanz_control *control, uint8_t *which) {
    glanz_us next = NEVER;
    for (uint8_t i = 0; i < GLANZ_PASSING; i++) {
        glanz_us at = control->passing[i].aspects == 0 ? NEVER : glanz_control_after(control, control->passing[i].until);
        if (at < next) {
            next = at;
            *which = i;
        }
    }
    return next;
}

/* Its time is over: what plays there comes back, or what was there. */
static glanz_status pass(struct glanz_control *control, uint8_t which, glanz_us at) {
    const struct passing *passing = &control->passing[which];
    struct glanz_change change = {at, passing->over_ms, 0};
    uint8_t aspects = passing->aspects;
    control->passing[which].aspects = 0;
    control->changes.by_itself++;
    if (passing->segment == GLANZ_ALL) {
        control->sleep_lightness = passing->lightness; /* it does not wake for that, but wakes to it */
        return control->asleep != 0 ? GLANZ_OK
                                    : glanz_engine_brightness(control->engine, GLANZ_ALL, passing->lightness, change);
    }
    if (LISTS(control) != NULL && LISTS(control)->again(control, passing->segment, &change)) {
        aspects &= GLANZ_ASPECT_BRIGHTNESS | GLANZ_ASPECT_ON; /* which items need not name */
    } else if (passing->by_look && (aspects & (GLANZ_ASPECT_LOOK | GLANZ_ASPECT_PALETTE)) != 0) {
        glanz_status status = glanz_engine_look(control->engine, passing->segment, passing->look, change);
        aspects &= GLANZ_ASPECT_BRIGHTNESS | GLANZ_ASPECT_ON;
        if (status != GLANZ_OK) {
            return status;
        }
    }
    return show_again(control, passing->segment, &passing->was, aspects, &change);
}

/* A change for a time begins; one that runs goes on for longer. Where there is no place, the one that would end first does so
 * now. */
static void note_passing(struct glanz_control *control, uint8_t segment, uint8_t aspects, glanz_us at) {
    uint8_t found = GLANZ_PASSING;
    for (uint8_t i = 0; i < GLANZ_PASSING; i++) {
        found = control->passing[i].aspects != 0 && control->passing[i].segment == segment ? i : found;
    }
    for (uint8_t i = 0; i < GLANZ_PASSING && found == GLANZ_PASSING; i++) {
        found = control->passing[i].aspects == 0 ? i : found;
    }
    if (found == GLANZ_PASSING) {
        (void)passing_due(control, &found);
        (void)(pass(control, found, at) == GLANZ_OK); /* it ends sooner, that is all */
    }
    struct passing *passing = &control->passing[found];
    if (passing->aspects == 0 || passing->segment != segment) {
        memset(passing, 0, sizeof *passing);
        passing->segment = segment;
        if (segment != GLANZ_ALL && glanz_engine_showing(control->engine, segment, &passing->was) != GLANZ_OK) {
            return;
        }
    } else if (segment != GLANZ_ALL) { /* what had not changed for a time is as it is now */
        struct glanz_showing now;
        if (glanz_engine_showing(control->engine, segment, &now) == GLANZ_OK) {
            uint16_t brightness = (passing->aspects & GLANZ_ASPECT_BRIGHTNESS) != 0 ? passing->was.brightness : now.brightness;
            uint8_t on = (passing->aspects & GLANZ_ASPECT_ON) != 0 ? passing->was.on : now.on;
            if ((passing->aspects & (GLANZ_ASPECT_LOOK | GLANZ_ASPECT_PALETTE)) == 0) {
                passing->was = now;
                passing->by_look = 0;
            }
            passing->was.brightness = brightness;
            passing->was.on = on;
        }
    }
    if (segment == GLANZ_ALL && passing->aspects == 0) {
        passing->lightness = glanz_engine_lightness_asked(control->engine);
    }
    /* a palette comes back with its look: both are one then */
    passing->aspects = (uint8_t)(passing->aspects | aspects | ((aspects & GLANZ_ASPECT_PALETTE) != 0 ? GLANZ_ASPECT_LOOK : 0));
    passing->until = at + (glanz_us)control->for_ms * 1000u;
    control->timed |= TIMED_PASSING;
    passing->over_ms = control->for_over_ms;
}

/* Another show is taken: what comes back is of it, by its name. */
static void keep_passing(struct glanz_control *control, GLANZ_CONST struct glanz_show *show) {
    for (uint8_t i = 0; i < GLANZ_PASSING; i++) {
        struct passing *passing = &control->passing[i];
        if (passing->aspects == 0 || passing->segment == GLANZ_ALL) {
            continue;
        }
        GLANZ_CONST char *name = control->show->segments[passing->segment].name;
        GLANZ_CONST char *look = passing->by_look && passing->look != NULL ? passing->look->name : passing->was.name;
        uint8_t segment = GLANZ_ALL;
        for (uint8_t s = 0; s < show->segment_count; s++) {
            segment = glanz_name_equal(show->segments[s].name, name) ? s : segment;
        }
        passing->aspects = segment == GLANZ_ALL ? 0 : passing->aspects;
        passing->segment = segment == GLANZ_ALL ? 0 : segment;
        passing->by_look = 1;
        passing->look = segment == GLANZ_ALL ? NULL : show->segments[segment].look;
        for (uint16_t k = 0; k < show->look_count; k++) {
            passing->look = look != NULL && glanz_name_equal(show->looks[k].name, look) ? &show->looks[k] : passing->look;
        }
        passing->was.effect = NULL;
        passing->was.gradient = NULL;
        passing->was.content = NULL;
        passing->was.name = NULL;
#if GLANZ_DRIVES_MOST > 0
        passing->was.drive_count = 0;
#endif
    }
}

#if GLANZ_UNDO > 0
/* What an item changes on a segment, but for what was taken over. */
static uint8_t changed_by(const struct glanz_control *control, GLANZ_CONST struct glanz_item *item, uint8_t segment) {
    uint8_t aspects = item->kind == GLANZ_ITEM_DARK ? GLANZ_ASPECT_ON : 0;
    GLANZ_CONST struct glanz_preset *preset = &control->show->presets[item->preset];
    for (uint8_t i = 0; item->kind == GLANZ_ITEM_PRESET && i < preset->part_count; i++) {
        aspects = (uint8_t)(aspects | (preset->parts[i].segment == segment ? preset->parts[i].aspects : 0));
    }
    aspects = (uint8_t)(aspects & ~control->segments[segment].taken);
    return (uint8_t)(aspects | ((aspects & GLANZ_ASPECT_LOOK) != 0 ? GLANZ_ASPECT_PALETTE : 0));
}
#endif

/* What an undo would bring back has gone by: it brings back nothing of that. */
static void replaced(struct glanz_control *control, GLANZ_CONST struct glanz_item *item, segment_mask segments, int by_hand,
                     uint8_t group) {
#if GLANZ_UNDO > 0
    for (uint8_t i = 0; i < control->undo_count; i++) { /* the newest first */
        struct undo *undo = &control->undo[((unsigned)control->undo_at + GLANZ_UNDO - 1u - i) % GLANZ_UNDO];
        if (by_hand && undo->group == group) {
            return;
        }
        if (undo->segment != GLANZ_ALL && (segments & BIT(undo->segment)) != 0) {
            undo->aspects = (uint8_t)(undo->aspects & ~changed_by(control, item, undo->segment));
        }
    }
#else
    (void)control;
    (void)item;
    (void)segments;
    (void)by_hand;
    (void)group;
#endif
}

/* One segment of a change by hand. */
static void touch(struct glanz_control *control, uint8_t segment, uint8_t aspects, int gives_up) {
    note_undo(control, segment, aspects);
    if (control->for_ms != 0) {
        note_passing(control, segment, aspects, control->acting_at);
        control->unsaved |= BIT(segment);
        return;
    }
    drop(control, BIT(segment), (aspects & GLANZ_ASPECT_LOOK) != 0 ? (uint8_t)(aspects | GLANZ_ASPECT_PALETTE) : aspects);
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

/* The whole's brightness. */
static void touch_brightness(struct glanz_control *control) {
    note_undo(control, GLANZ_ALL, 0);
    if (control->for_ms != 0) {
        note_passing(control, GLANZ_ALL, GLANZ_ASPECT_BRIGHTNESS, control->acting_at);
    } else {
        drop(control, 0, GLANZ_ASPECT_BRIGHTNESS);
    }
}

static void touch_whole(struct glanz_control *control) {
    control->undo_group++;
    control->changes.by_hand++;
    touch_brightness(control);
}

/* Everything, to be undone at once. */
static void touch_all(struct glanz_control *control) {
    note_touch(control, (segment_mask) ~(segment_mask)0, GLANZ_ASPECTS, 1);
    touch_brightness(control);
}

void glanz_control_touch(struct glanz_control *control, uint64_t segments, glanz_us at_us) {
    if (control != NULL && control->show != NULL && !glanz_control_inside(control)) {
        (void)(glanz_control_wake(control, at_us) == GLANZ_OK); /* the whole's brightness is always there */
        if (HANDS(control) != NULL) {
            HANDS(control)->touch(control, (segment_mask)segments, GLANZ_ASPECTS, 1);
        }
    }
}

static glanz_status undo(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                         const struct glanz_change *change) {
    (void)action;
#if GLANZ_UNDO > 0
    uint8_t newest = (uint8_t)(((unsigned)control->undo_at + GLANZ_UNDO - 1u) % GLANZ_UNDO);
    while (control->undo_count > 0 && control->undo[newest].segment != GLANZ_ALL && control->undo[newest].aspects == 0) {
        control->undo_at = newest; /* a playlist has gone on over it */
        control->undo_count--;
        newest = (uint8_t)(((unsigned)control->undo_at + GLANZ_UNDO - 1u) % GLANZ_UNDO);
    }
    if (control->undo_count == 0) {
        return GLANZ_ERR_ABSENT;
    }
    uint8_t group = control->undo[newest].group;
    glanz_status status = GLANZ_OK;
    control->changes.by_hand++;
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        if (control->players[i].depth != 0 && control->players[i].entry == GLANZ_ALL && control->players[i].group == group) {
            LISTS(control)->stop(control, &control->players[i], change->at_us);
        }
    }
    while (control->undo_count > 0) {
        uint8_t at = (uint8_t)(((unsigned)control->undo_at + GLANZ_UNDO - 1u) % GLANZ_UNDO);
        const struct undo *change_of = &control->undo[at];
        if (change_of->group != group) {
            break;
        }
        drop(control, change_of->segment == GLANZ_ALL ? 0 : BIT(change_of->segment), GLANZ_ASPECTS);
        glanz_status done = change_of->segment == GLANZ_ALL
                                ? glanz_engine_brightness(control->engine, GLANZ_ALL, change_of->lightness, *change)
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

static glanz_status give(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                         const struct glanz_change *change) {
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

static glanz_status take(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                         const struct glanz_change *change) {
    struct segment *segment = &control->segments[action->target];
    (void)change;
    segment->taken = (uint8_t)(segment->taken | action->number);
    return GLANZ_OK;
}

GLANZ_CONST struct glanz_hands_part glanz_part_hands = {.touch = note_touch,
                                                        .touch_preset = touch_preset,
                                                        .touch_whole = touch_whole,
                                                        .touch_all = touch_all,
                                                        .note_base = note_base,
                                                        .show_again = show_again,
                                                        .passing = {passing_due, pass},
                                                        .drop = drop,
                                                        .replaced = replaced,
                                                        .keep = keep_passing,
                                                        .put_palette = glanz_control_put_palette,
                                                        .show_colored = glanz_control_show_colored};

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
