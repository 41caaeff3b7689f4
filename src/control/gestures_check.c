/* SPDX-License-Identifier: MIT */
/* What a trigger cannot wait for. Linked with glanz_part_checks only. */
#include "control.h"

#if GLANZ_DRIVES_MOST > 0

#define DAY_MS 86400000u

/* Is a signal an angle? Combinations are levels. */
static int is_turn(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig, uint8_t signal) {
    if (signal >= rig->input_count) {
        return glanz_signal_turns(&show->signals[signal - rig->input_count]);
    }
    GLANZ_CONST struct glanz_input *input = &rig->inputs[signal];
    return input->kind == GLANZ_INPUT_DIAL || (input->kind == GLANZ_INPUT_KNOB && input->endless);
}

/* Of what comes between two ends, and leaves them. */
static GLANZ_CONST char *range_wrong(GLANZ_CONST struct glanz_trigger *trigger, int turns) {
    uint16_t width = (uint16_t)(trigger->upper - trigger->level);
    if (trigger->upper == trigger->level || (!turns && trigger->upper < trigger->level)) {
        return GLANZ_TEXT("expected a range with a width: its upper end above its lower one");
    }
    if (turns ? width + (uint32_t)2 * trigger->margin >= 65536u
              : trigger->level <= trigger->margin && (uint32_t)trigger->upper + trigger->margin >= 65535u) {
        return GLANZ_TEXT("with this margin the range is never left; expected a smaller one");
    }
    return NULL;
}

static int lasts(GLANZ_CONST struct glanz_trigger *trigger) {
    return trigger->event == GLANZ_EVENT_STAYS_ABOVE || trigger->event == GLANZ_EVENT_STAYS_BELOW ||
           trigger->event == GLANZ_EVENT_UNCHANGED;
}

GLANZ_CONST char *glanz_gesture_wrong(GLANZ_CONST struct glanz_trigger *trigger, GLANZ_CONST struct glanz_show *show,
                                      GLANZ_CONST struct glanz_rig *rig) {
    uint8_t event = trigger->event;
    int turns = is_turn(show, rig, trigger->input);
    if (event == GLANZ_EVENT_PRESSED_TOGETHER && (trigger->other >= rig->input_count || trigger->other == trigger->input ||
                                                  rig->inputs[trigger->other].kind != GLANZ_INPUT_BUTTON)) {
        return GLANZ_TEXT("expected another button that is pressed together with this one");
    }
    if ((event == GLANZ_EVENT_LOST || event == GLANZ_EVENT_BACK) &&
        (trigger->input >= rig->input_count || rig->inputs[trigger->input].lost_ms == 0)) {
        return GLANZ_TEXT("this is never lost; expected an input whose rig says after how long it is");
    }
    if (lasts(trigger) ? trigger->for_ms < 100 || trigger->for_ms > DAY_MS : trigger->for_ms != 0) {
        return GLANZ_TEXT("expected from 100 ms to 24 h for what stays or is unchanged, and nothing for anything else");
    }
    if (trigger->margin != 0 && (event < GLANZ_EVENT_RISES || (turns && event <= GLANZ_EVENT_FALLS))) {
        return GLANZ_TEXT("expected no margin with what this waits for");
    }
    if (trigger->wait_ms > DAY_MS) {
        return GLANZ_TEXT("expected at most 24 h in which it is not met again");
    }
    return event == GLANZ_EVENT_ENTERS || event == GLANZ_EVENT_LEAVES ? range_wrong(trigger, turns) : NULL;
}

#endif
