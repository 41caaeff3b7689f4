/* SPDX-License-Identifier: MIT */
/* Actions by which what moves stands still, and goes on by single frames. */
#include "control.h"

#if GLANZ_SEQUENCES

static glanz_status freeze(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                           const struct glanz_change *change) {
    uint8_t frozen = action->number == 2 ? !glanz_engine_frozen(control->engine) : action->number != 0;
    return glanz_engine_freeze(control->engine, frozen, change->at_us);
}

GLANZ_CONST struct glanz_action_kind glanz_action_freeze = {.key = GLANZ_TEXT("freeze"),
                                                            .description =
                                                                GLANZ_DESCRIPTION("what moves by itself stands still"),
                                                            .value = GLANZ_VALUE_TRUE,
                                                            .may = GLANZ_WITH_ON,
                                                            .act = freeze};

static glanz_status step(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                         const struct glanz_change *change) {
    uint16_t rate = control->rig->frames_per_s == 0 ? 100 : control->rig->frames_per_s;
    (void)action;
    (void)change;
    return glanz_engine_step(control->engine, 1000000u / rate);
}

GLANZ_CONST struct glanz_action_kind glanz_action_step = {.key = GLANZ_TEXT("step"),
                                                          .description =
                                                              GLANZ_DESCRIPTION("what is frozen moves on by one frame"),
                                                          .value = GLANZ_VALUE_TRUE,
                                                          .act = step};

#endif
