/* SPDX-License-Identifier: MIT */
/* Another show while one runs: what goes on under it, and what is shown anew. */
#include "control.h"

static GLANZ_CONST struct glanz_look *find_look(GLANZ_CONST struct glanz_show *show, GLANZ_CONST char *name) {
    for (uint16_t i = 0; name != NULL && i < show->look_count; i++) {
        if (glanz_name_equal(show->looks[i].name, name)) {
            return &show->looks[i];
        }
    }
    return NULL;
}

static GLANZ_CONST struct glanz_segment *find_segment(GLANZ_CONST struct glanz_show *show, GLANZ_CONST char *name) {
    for (uint8_t i = 0; name != NULL && i < show->segment_count; i++) {
        if (glanz_name_equal(show->segments[i].name, name)) {
            return &show->segments[i];
        }
    }
    return NULL;
}

/* What a segment that was there before is going to show: what the new show says otherwise; else what it showed, under the name
 * of its look. @param keeps set to 1 when that is not of the new show. */
static GLANZ_CONST struct glanz_look *look_after(uint8_t *keeps, const struct glanz_engine *engine, uint8_t shown,
                                                 GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_segment *is,
                                                 GLANZ_CONST struct glanz_segment *was) {
    struct glanz_showing showing;
    GLANZ_CONST char *was_name = was->look == NULL ? NULL : was->look->name;
    GLANZ_CONST char *is_name = is->look == NULL ? NULL : is->look->name;
    GLANZ_CONST struct glanz_look *look = is->look;
    *keeps = 0;
    if (glanz_name_equal(was_name, is_name) && glanz_engine_showing(engine, shown, &showing) == GLANZ_OK) {
        look = showing.effect == NULL ? NULL : find_look(show, showing.name);
        if (look == NULL && showing.effect != NULL && (showing.name == NULL || glanz_name_equal(showing.name, is_name))) {
            look = is->look;
        }
        *keeps = look == NULL;
    }
    return look;
}

#if GLANZ_FIELDS
/* Is there memory for what every segment is going to show? Then taking the show cannot fail any more. */
static glanz_status prepare(const struct glanz_control *control, GLANZ_CONST struct glanz_show *show,
                            struct glanz_fault *fault) {
    size_t bytes = 0;
    for (uint8_t i = 0; i < show->segment_count; i++) {
        GLANZ_CONST struct glanz_segment *is = &show->segments[i];
        GLANZ_CONST struct glanz_segment *was = find_segment(control->show, is->name);
        uint8_t shown = glanz_engine_place(control->engine, is);
        uint8_t keeps = 0;
        GLANZ_CONST struct glanz_look *look =
            was == NULL || shown == GLANZ_ALL ? is->look : look_after(&keeps, control->engine, shown, show, is, was);
        bytes += keeps ? glanz_engine_memory(control->engine, shown) : glanz_look_memory(is, look, control->rig);
    }
    size_t capacity = glanz_engine_memory(control->engine, GLANZ_ALL);
    return bytes <= capacity
               ? GLANZ_OK
               : glanz_parts_memory(control->parts, fault, GLANZ_TEXT("what the show's effects remember"), bytes, capacity);
}
#endif

/* Show it. Where the memory of effects is full of what fades out, or what is about to go, that goes at once. */
static glanz_status renew(struct glanz_control *control, GLANZ_CONST struct glanz_show *show, uint8_t index,
                          GLANZ_CONST struct glanz_segment *was, const struct glanz_change *change) {
    GLANZ_CONST struct glanz_segment *is = &show->segments[index];
    glanz_status status = GLANZ_OK;
    uint8_t keeps = 0;
    GLANZ_CONST struct glanz_look *look = look_after(&keeps, control->engine, index, show, is, was);
#if GLANZ_SEQUENCES
    struct glanz_look room;
    struct glanz_setting settings[GLANZ_PARAMS];
    if (look == is->look) {
        look = glanz_look_with(&room, settings, look, is->settings, is->setting_count);
    }
#endif
    if (!keeps) {
        status = glanz_engine_look(control->engine, index, look, *change);
#if GLANZ_FIELDS
        if (status == GLANZ_ERR_MEMORY) {
            control->parts->fields->settle(control->engine);
            status = glanz_engine_look(control->engine, index, look, *change);
        }
#endif
    }
    if (status == GLANZ_OK && was->brightness != is->brightness) {
        status = glanz_engine_brightness(control->engine, index, is->brightness == 0 ? 65535 : is->brightness, *change);
    }
    if (status == GLANZ_OK && was->off != is->off) {
        status = glanz_engine_switch(control->engine, index, !is->off, *change);
    }
    return status;
}

#if GLANZ_SEQUENCES
/* What was noted leads into the old show: it is forgotten. What hands and the calendar hold stays, by the segment's name. */
static void rename_notes(struct glanz_control *control, GLANZ_CONST struct glanz_show *old,
                         GLANZ_CONST struct glanz_show *show) {
    uint8_t taken[GLANZ_SEGMENTS_MOST];
    uint8_t claimed[GLANZ_SEGMENTS_MOST];
    uint8_t by_hand[GLANZ_SEGMENTS_MOST];
    uint32_t claimed_at[GLANZ_SEGMENTS_MOST];
    for (uint8_t i = 0; i < show->segment_count; i++) {
        taken[i] = 0;
        claimed[i] = GLANZ_ALL;
        by_hand[i] = 0;
        claimed_at[i] = 0;
        for (uint8_t k = 0; k < old->segment_count; k++) {
            if (glanz_name_equal(show->segments[i].name, old->segments[k].name)) {
                taken[i] = control->segments[k].taken;
                claimed[i] = control->segments[k].claimed;
                by_hand[i] = control->segments[k].by_hand;
                claimed_at[i] = control->segments[k].claimed_at;
            }
        }
    }
    for (uint8_t i = 0; i < show->segment_count; i++) {
        control->segments[i].taken = taken[i];
        control->segments[i].claimed = claimed[i];
        control->segments[i].by_hand = by_hand[i];
        control->segments[i].claimed_at = claimed_at[i];
    }
    for (uint8_t i = 0; i < control->segment_capacity; i++) { /* also of those that the new show has not */
        control->segments[i].based = 0;
    }
    control->undo_count = 0;
    control->unsaved = 0;
    control->recalled = 0;
    if (HANDS(control) != NULL) {
        HANDS(control)->keep(control, show);
    }
}
#endif

glanz_status glanz_control_set_show(struct glanz_control *control, GLANZ_CONST struct glanz_show *show, glanz_us clock_us,
                                    struct glanz_fault *fault) {
    if (control == NULL || show == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (control->show == NULL || control->running || glanz_control_inside(control)) {
        return GLANZ_ERR_STATE;
    }
    GLANZ_CONST struct glanz_show *old = control->show;
    struct glanz_change change = {clock_us, glanz_control_change_time(show, GLANZ_OWN_TIME), 0};
    glanz_status status =
        GLANZ_CHECKS_OF(control->parts) == NULL ? GLANZ_OK : GLANZ_CHECKS_OF(control->parts)->show(show, control->rig, fault);
#if GLANZ_FIELDS
    if (status == GLANZ_OK && control->parts->fields != NULL) {
        status = prepare(control, show, fault);
    }
#endif
    if (status == GLANZ_OK) {
        status = glanz_engine_set_segments(control->engine, show->segments, show->stack, show->segment_count, show->colors,
                                           show->color_count, change, fault);
    }
    if (status != GLANZ_OK) {
        return status;
    }
#if GLANZ_SEQUENCES
    if (LISTS(control) != NULL) {
        LISTS(control)->keep(control, show);
    }
#endif
#if GLANZ_SEQUENCES
    rename_notes(control, old, show);
#endif
#if GLANZ_CALENDAR
    if (control->agenda != NULL) {
        control->agenda->take(control, show);
    }
#endif
    control->show = show;
#if GLANZ_DRIVES_MOST > 0
    status = glanz_control_begin_signals(control, clock_us);
#endif
    /* What all of them want together fits, so at each turn there is one more at least whose look fits beside the others'. */
    segment_mask left = (segment_mask) ~(segment_mask)0;
    for (uint8_t turn = 0; left != 0 && turn <= show->segment_count; turn++) {
        for (uint8_t i = 0; i < show->segment_count && status == GLANZ_OK; i++) {
            GLANZ_CONST struct glanz_segment *was = (left & BIT(i)) == 0 ? NULL : find_segment(old, show->segments[i].name);
            status = was == NULL ? GLANZ_OK : renew(control, show, i, was, &change);
            left = status == GLANZ_ERR_MEMORY ? left : left & ~BIT(i);
            status = status == GLANZ_ERR_MEMORY ? GLANZ_OK : status;
        }
        left = show->segment_count < sizeof left * 8u ? left & (BIT(show->segment_count) - 1u) : left;
    }
    if (status == GLANZ_OK && old->brightness != show->brightness) {
        status = glanz_engine_brightness(control->engine, GLANZ_ALL,
                                         show->brightness == 0 ? GLANZ_LIGHTNESS(60) : show->brightness, change);
    }
    return status;
}
