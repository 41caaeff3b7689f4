/* SPDX-License-Identifier: MIT */
/* An action by which hands tap a tempo. */
#include "control.h"

#if GLANZ_SEQUENCES

#define TAP_LEAST_US 150000u /* sooner is a bounce */
#define TAP_MOST_US 2500000u /* later begins anew */
#define TAPS 8               /* intervals that count */

/* Another tap. @return the mean time between them, milliseconds; 0: it is the first. */
static uint32_t tap_interval(struct glanz_control *control, glanz_us at) {
    glanz_us since = at - control->tapped;
    if (control->taps != 0 && since < TAP_LEAST_US) {
        return 0;
    }
    glanz_us mean = control->taps < 2 ? since : (control->tapped - control->tapped_first) / (control->taps - 1u);
    control->tapped = at;
    if (control->taps == 0 || since > TAP_MOST_US || since > mean + mean / 4u || since < mean - mean / 4u) { /* another tempo */
        control->taps = 1;
        control->tapped_first = at;
        return 0;
    }
    if (control->taps > TAPS) { /* the oldest is forgotten */
        control->tapped_first += mean;
    } else {
        control->taps++;
    }
    return (uint32_t)(((at - control->tapped_first) / (control->taps - 1u) + 500u) / 1000u);
}

static glanz_status tap(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                        const struct glanz_change *change) {
    struct glanz_showing showing;
    uint32_t ms = tap_interval(control, change->at_us);
    glanz_status status = glanz_engine_showing(control->engine, action->target, &showing);
    uint8_t count = status != GLANZ_OK || showing.effect == NULL ? 0 : showing.effect->param_count;
    for (uint8_t i = 0; i < count && ms != 0; i++) {
        if (showing.effect->params[i].kind == GLANZ_PARAM_RATE) {
            struct glanz_setting setting = {i, GLANZ_UNIT_PASS_TIME, showing.number[i] < 0 ? -(int32_t)ms : (int32_t)ms};
            if (HANDS(control) != NULL) {
                HANDS(control)->touch(control, BIT(action->target), GLANZ_ASPECT_LOOK, 1);
            }
            return glanz_engine_set(control->engine, action->target, setting, *change);
        }
    }
    return status;
}

GLANZ_CONST struct glanz_action_kind glanz_action_tap = {
    .key = GLANZ_TEXT("tap"),
    .description =
        GLANZ_DESCRIPTION("a pass of what a segment shows takes as long as from one tap to the next, of the last eight"),
    .value = GLANZ_VALUE_SEGMENT,
    .may = GLANZ_WITH_OVER,
    .act = tap};

#endif
