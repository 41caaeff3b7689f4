/* SPDX-License-Identifier: MIT */
/* Buttons: raw edges, which bounce, become presses, and what one does with them. */
#include "control.h"

#if GLANZ_SEQUENCES
static int waits_for(const struct glanz_control *control, uint8_t index, uint8_t event) {
    for (uint8_t i = 0; control->show != NULL && i < control->show->trigger_count; i++) {
        if (control->show->triggers[i].input == index && control->show->triggers[i].event == event) {
            return 1;
        }
    }
    return 0;
}
#endif

glanz_status glanz_button_change(struct glanz_control *control, uint8_t index, glanz_us at) {
    struct input *input = &control->inputs[index];
    GLANZ_CONST struct glanz_input *is = &control->rig->inputs[index];
    input->pressed = !input->pressed;
#if GLANZ_DRIVES_MOST > 0
    uint32_t level = input->pressed ? GLANZ_LEVEL_FULL : 0; /* pressed is all of a signal's level */
    int followed = control->parts->drives != NULL || GESTURES(control) != NULL;
    glanz_status told = followed ? glanz_control_change_level(control, index, &input->value, level, at, 0) : GLANZ_OK;
    input->value = level;
    if (told != GLANZ_OK) {
        return told;
    }
#endif
    input->settled = at + (is->settle_ms == 0 ? 20u : is->settle_ms) * (glanz_us)1000;
    if (!input->pressed) {
        input->released = at;
        return glanz_control_happen(control, index, GLANZ_EVENT_RELEASED, at);
    }
    glanz_us twice = (is->twice_ms == 0 ? 350u : is->twice_ms) * (glanz_us)1000;
    uint8_t second = input->presses == 1 && at - input->first <= twice;
    input->held = 0;
    glanz_status status = glanz_control_happen(control, index, GLANZ_EVENT_PRESSED, at);
#if GLANZ_SEQUENCES
    input->repeat_ms = 0;
    if (input->presses == 2 && at - input->first <= twice) {
        input->presses = 0;
        glanz_status third = glanz_control_happen(control, index, GLANZ_EVENT_PRESSED_THREE_TIMES, at);
        return glanz_status_first(status, third);
    }
#endif
    if (second) {
        input->presses = 0;
#if GLANZ_SEQUENCES
        input->presses = waits_for(control, index, GLANZ_EVENT_PRESSED_THREE_TIMES) ? 2 : 0;
#endif
        input->first = at;
        glanz_status done = glanz_control_happen(control, index, GLANZ_EVENT_PRESSED_TWICE, at);
        return glanz_status_first(status, done);
    }
    input->presses = 1;
    input->first = at;
#if GLANZ_DRIVES_MOST > 0
    if (GESTURES(control) != NULL) {
        glanz_status together = GESTURES(control)->together(control, index, at);
        status = glanz_status_first(status, together);
    }
#endif
    return status;
}

uint8_t glanz_button_line(const struct glanz_control *control, uint8_t index) {
    return control->inputs[index].level != control->rig->inputs[index].pressed_low;
}

glanz_us glanz_button_due(const struct glanz_control *control, uint8_t index) {
    const struct input *input = &control->inputs[index];
    GLANZ_CONST struct glanz_input *is = &control->rig->inputs[index];
    glanz_us due = NEVER;
    if (glanz_button_line(control, index) != input->pressed) {
        due = glanz_control_after(control, input->settled);
    }
    if (input->presses == 1) {
        uint16_t ms = input->pressed ? (is->held_ms == 0 ? 700u : is->held_ms) : is->twice_ms == 0 ? 350u : is->twice_ms;
        glanz_us end = input->first + ms * (glanz_us)1000;
        if (!input->pressed && glanz_us_before(end, input->released)) {
            end = input->released;
        }
        if (!input->pressed || !input->held) {
            end = glanz_control_after(control, end);
            due = end < due ? end : due;
        }
    }
#if GLANZ_SEQUENCES
    if (input->repeat_ms != 0 && input->pressed) {
        glanz_us next = glanz_control_after(control, input->first + input->repeat_ms * (glanz_us)1000);
        due = next < due ? next : due;
    }
#endif
    return due;
}

#if GLANZ_SEQUENCES
#define REPEAT_LEAST_MS 60

/* The first, after it was held. */
static uint16_t repeats_after(GLANZ_CONST struct glanz_input *is) {
#if GLANZ_DRIVES_MOST > 0
    return is->repeats_ms == 0 ? 400 : is->repeats_ms;
#else
    (void)is;
    return 400;
#endif
}
#endif

glanz_status glanz_button_act(struct glanz_control *control, uint8_t index, glanz_us at) {
    struct input *input = &control->inputs[index];
    if (glanz_button_line(control, index) != input->pressed && !glanz_us_before(at, input->settled)) {
        return glanz_button_change(control, index, at);
    }
#if GLANZ_SEQUENCES
    if (input->repeat_ms != 0 && input->pressed) {
        uint16_t sooner = (uint16_t)(input->repeat_ms - input->repeat_ms / 8u);
        input->repeat_ms = sooner < REPEAT_LEAST_MS ? REPEAT_LEAST_MS : sooner;
        input->first = at;
        return glanz_control_happen(control, index, GLANZ_EVENT_REPEATS, at);
    }
    if (input->pressed && waits_for(control, index, GLANZ_EVENT_REPEATS)) {
        input->repeat_ms = repeats_after(&control->rig->inputs[index]);
        input->first = at;
    }
#endif
    uint8_t event = input->pressed ? GLANZ_EVENT_HELD : GLANZ_EVENT_PRESSED_ONCE;
    input->held = input->pressed;
    input->presses = 0;
    return glanz_control_happen(control, index, event, at);
}
