/* SPDX-License-Identifier: MIT */
/* Actions are done, and whoever listens is told. */
#include "control.h"

void glanz_control_listen(struct glanz_control *control, glanz_listener listener, void *user) {
    if (control != NULL) {
        control->listener = listener;
        control->listener_user = user;
    }
}

int glanz_control_inside(const struct glanz_control *control) {
#ifdef __AVR__
    (void)control;
    return 0;
#else
    return control->telling || glanz_engine_inside(control->engine);
#endif
}

void glanz_control_notify(struct glanz_control *control, glanz_us at, unsigned what, uint8_t index, uint8_t event,
                          uint8_t item) {
    if (control->listener != NULL) {
        struct glanz_happening happening;
        memset(&happening, 0, sizeof happening);
        happening.at_us = at;
        happening.description = what;
        happening.index = index;
        happening.event = event;
        happening.item = item;
        control->telling = 1;
        control->listener(&happening, control->listener_user);
        control->telling = 0;
    }
}

#if GLANZ_CALENDAR
uint32_t glanz_control_utc_at(const struct glanz_control *control, glanz_us clock) {
    return control->utc + (uint32_t)((clock - control->utc_at) / 1000000u);
}

uint32_t glanz_control_utc(const struct glanz_control *control) {
    return control == NULL || control->utc == 0 ? 0 : glanz_control_utc_at(control, control->last);
}
#endif

/* ---- actions ---- */

uint32_t glanz_control_change_time(GLANZ_CONST struct glanz_show *show, uint32_t over_ms) {
    if (over_ms != GLANZ_OWN_TIME) {
        return over_ms;
    }
    uint32_t change = show->change_ms;
    return change == 0 ? 500 : change == GLANZ_OWN_TIME ? 0 : change;
}

#if GLANZ_SEQUENCES
glanz_status glanz_control_wake(struct glanz_control *control, glanz_us at) {
    struct glanz_change change = {at, glanz_control_change_time(control->show, GLANZ_OWN_TIME), 0};
    if (control->asleep == 0) {
        return GLANZ_OK;
    }
    control->asleep = 0;
    glanz_control_notify(control, at, GLANZ_HAPPENED_SLEEP, 0, 0, 0);
    return glanz_engine_brightness(control->engine, GLANZ_ALL, control->sleep_lightness, change);
}
#endif

/* How many targets of its kind there are: 0 where the number is of no account. */
static uint16_t targets_of(const struct glanz_control *control, GLANZ_CONST struct glanz_action *action) {
    switch (action->kind->value) {
    case GLANZ_VALUE_PRESET: return control->show->preset_count;
    case GLANZ_VALUE_PLAYLIST: return control->show->playlist_count;
#if GLANZ_DRIVES_MOST > 0
    case GLANZ_VALUE_INPUT: return SIGNALS(control) == NULL ? 0 : control->rig->input_count;
#endif
    case GLANZ_VALUE_LIGHTNESS: return action->target == GLANZ_ALL ? 256u : control->show->segment_count;
    case GLANZ_VALUE_SEGMENT:
    case GLANZ_VALUE_PALETTE:
    case GLANZ_VALUE_CONTENT:
    case GLANZ_VALUE_LOOK: return control->show->segment_count;
    case GLANZ_VALUE_WAY: return (action->kind->needs & GLANZ_WITH_SEGMENT) != 0 ? control->show->segment_count : 256u;
    default: return 256u;
    }
}

glanz_status glanz_control_act(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, glanz_us at_us) {
    if (control == NULL || action == NULL || action->kind == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (control->show == NULL || glanz_control_inside(control)) {
        return GLANZ_ERR_STATE;
    }
    struct glanz_change change;
    change.at_us = at_us;
    change.over_ms = glanz_control_change_time(control->show, action->over_ms);
    change.again = action->again;
    if (action->target >= targets_of(control, action)) {
        return GLANZ_ERR_ABSENT;
    }
#ifndef __AVR__
    if ((action->kind->parts & ~glanz_parts_present(control->parts)) != 0) {
        return GLANZ_ERR_ABSENT;
    }
#endif
#if GLANZ_FIELDS
    if (action->kind->value == GLANZ_VALUE_PRESET && control->parts->fields != NULL &&
        !control->parts->fields->preset_fits(control, action->target)) {
        return GLANZ_ERR_MEMORY;
    }
#endif
#if GLANZ_SEQUENCES
    glanz_status awake = action->kind->asleep ? GLANZ_OK : glanz_control_wake(control, at_us);
    if (awake != GLANZ_OK) {
        return awake;
    }
#endif
#if GLANZ_SEQUENCES
    if (action->for_ms != 0) {
        control->for_ms = action->for_ms;
        control->for_over_ms = change.over_ms;
        control->acting_at = at_us;
        glanz_status done = action->kind->act(control, action, &change);
        control->for_ms = 0;
        return done;
    }
#endif
    return action->kind->act(control, action, &change);
}

glanz_status glanz_control_act_of_show(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, glanz_us at) {
    glanz_status status = glanz_control_act(control, action, at);
    return GLANZ_SEQUENCES && (status == GLANZ_ERR_ABSENT || status == GLANZ_ERR_STATE) ? GLANZ_OK : status;
}

/* How long after the last run a time is. */
glanz_us glanz_control_after(const struct glanz_control *control, glanz_us at) {
    return glanz_us_before(at, control->last) ? 0 : at - control->last;
}

#if GLANZ_DRIVES_MOST > 0
glanz_status glanz_control_begin_signals(struct glanz_control *control, glanz_us clock) {
#if GLANZ_FIELDS
    glanz_engine_words(control->engine, control->show->weekdays, control->show->months);
#endif
    glanz_status status = GLANZ_OK;
    if (control->parts->drives != NULL) {
        status = control->parts->drives->drive(control->engine, control->show->drive);
    }
    for (uint8_t i = 0; i < control->rig->input_count && control->parts->drives != NULL; i++) { /* known from the start */
        if (control->rig->inputs[i].kind == GLANZ_INPUT_BUTTON) {
            glanz_status told = control->parts->drives->level(control->engine, i, control->inputs[i].value, clock, 0);
            status = glanz_status_first(status, told);
        }
    }
    glanz_status begun = SIGNALS(control) == NULL ? GLANZ_OK : SIGNALS(control)->begin(control, clock);
    if (GESTURES(control) != NULL) {
        GESTURES(control)->begin(control, clock);
    }
    return glanz_status_first(status, begun);
}
#endif
