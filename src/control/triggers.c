/* SPDX-License-Identifier: MIT */
/* Triggers: what an input does, or a level that is passed, meets those that wait for it, and they act. */
#include "control.h"

#if GLANZ_DRIVES_MOST > 0
#define FULL_LEVEL(level) (level)
#else
#define FULL_LEVEL(level) glanz_level_of_value(level)
#endif

glanz_status glanz_control_fire(struct glanz_control *control, uint8_t trigger, glanz_us at) {
    GLANZ_CONST struct glanz_trigger *is = &control->show->triggers[trigger];
    glanz_status status = GLANZ_OK;
    uint8_t first = 0;
    uint8_t count = is->action_count;
#if GLANZ_DRIVES_MOST > 0
    if (SIGNALS(control) != NULL && !SIGNALS(control)->allows(control, is, at)) {
        return GLANZ_OK;
    }
    if (GESTURES(control) != NULL && !GESTURES(control)->admits(control, trigger, at, &first, &count)) {
        return GLANZ_OK;
    }
#endif
    glanz_control_notify(control, at, GLANZ_HAPPENED_TRIGGER, trigger, 0, 0);
    for (uint8_t i = 0; i < count; i++) {
        glanz_status done = glanz_control_act_of_show(control, &is->actions[first + i], at);
        status = glanz_status_first(status, done);
    }
    return status;
}

glanz_status glanz_control_happen(struct glanz_control *control, uint8_t input, uint8_t event, glanz_us at) {
    glanz_status status = GLANZ_OK;
    glanz_control_notify(control, at, GLANZ_HAPPENED_EVENT, input, event, 0);
    for (uint8_t i = 0; control->show != NULL && i < control->show->trigger_count; i++) {
        if (control->show->triggers[i].input == input && control->show->triggers[i].event == event) {
            glanz_status done = glanz_control_fire(control, i, at);
            status = glanz_status_first(status, done);
        }
    }
    return status;
}

static int has_passed(const struct glanz_control *control, GLANZ_CONST struct glanz_trigger *trigger, signal_level before,
                      signal_level level, uint32_t over, glanz_us *at) {
#if GLANZ_DRIVES_MOST > 0
    if (SIGNALS(control) != NULL) {
        return SIGNALS(control)->passed(trigger, before, level, over, at);
    }
#endif
    (void)control;
    (void)over;
    (void)at;
    signal_level limit = LEVEL_OF_VALUE(trigger->level);
    return (trigger->event == GLANZ_EVENT_RISES && before <= limit && level > limit) ||
           (trigger->event == GLANZ_EVENT_FALLS && before >= limit && level < limit);
}

glanz_status glanz_control_change_level(struct glanz_control *control, uint8_t signal, signal_level *was, signal_level level,
                                        glanz_us at, uint32_t over) {
    signal_level before = *was;
    glanz_status status = GLANZ_OK;
    *was = level;
#if GLANZ_DRIVES_MOST > 0
    if (control->parts->drives != NULL) {
        status = control->parts->drives->level(control->engine, signal, level, at, over);
    } else
#endif
    {
#if GLANZ_FIELDS
        if (control->parts->fields != NULL && signal < control->rig->input_count) {
            status = control->parts->fields->level(control->engine, signal, FULL_LEVEL(level), at, 0);
        }
#endif
    }
    for (uint8_t i = 0; control->show != NULL && i < control->show->trigger_count; i++) {
        GLANZ_CONST struct glanz_trigger *trigger = &control->show->triggers[i];
        glanz_us passed = at;
        if (trigger->input != signal) {
            continue;
        }
#if GLANZ_DRIVES_MOST > 0
        if (trigger->event >= GLANZ_EVENT_ENTERS || trigger->margin != 0 || trigger->event < GLANZ_EVENT_LOST) {
            glanz_status seen =
                GESTURES(control) == NULL ? GLANZ_OK : GESTURES(control)->change(control, i, before, level, at, over);
            status = glanz_status_first(status, seen);
            continue;
        }
#endif
        if (has_passed(control, trigger, before, level, over, &passed)) {
            glanz_control_notify(control, passed, GLANZ_HAPPENED_EVENT, signal, trigger->event, 0);
            glanz_status done = glanz_control_fire(control, i, passed);
            status = glanz_status_first(status, done);
        }
    }
    return status;
}
