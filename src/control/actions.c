/* SPDX-License-Identifier: MIT */
/* Actions on presets, brightness, segments and looks: a row and a function each. What can be undone is noted first. */
#include "control.h"

static glanz_status recall(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, struct glanz_change change) {
#if GLANZ_SEQUENCES
    if (HANDS(control) != NULL) {
        HANDS(control)->touch_preset(control, action->target);
    }
#endif
    return glanz_control_recall(control, action->target, (segment_mask) ~(segment_mask)0, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_recall = {
    GLANZ_TEXT("recall"), GLANZ_WHAT("show a preset"), GLANZ_VALUE_PRESET, 0, GLANZ_WITH_OVER | GLANZ_WITH_AGAIN, 0, 0, recall};

static glanz_status brighten(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, struct glanz_change change) {
#if GLANZ_SEQUENCES
    if (HANDS(control) != NULL && action->target == GLANZ_ALL) {
        HANDS(control)->touch_whole(control);
    } else if (HANDS(control) != NULL) {
        HANDS(control)->touch(control, BIT(action->target), GLANZ_ASPECT_BRIGHTNESS, 0);
    }
#endif
    return glanz_engine_brightness(control->engine, action->target, action->number, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_brightness = {GLANZ_TEXT("brightness"),
                                                                GLANZ_WHAT("lightness of the whole, or of a segment"),
                                                                GLANZ_VALUE_LIGHTNESS,
                                                                0,
                                                                GLANZ_WITH_SEGMENT | GLANZ_WITH_OVER,
                                                                0,
                                                                0,
                                                                brighten};

static glanz_status switch_segment(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                                   struct glanz_change change) {
    uint8_t on = action->number != 0;
#if GLANZ_SEQUENCES
    if (HANDS(control) != NULL) {
        HANDS(control)->touch(control, BIT(action->target), GLANZ_ASPECT_ON, 0);
    }
#endif
    if (action->number == 2) {
        struct glanz_showing showing;
        glanz_status status = glanz_engine_showing(&showing, control->engine, action->target);
        if (status != GLANZ_OK) {
            return status;
        }
        on = !showing.on;
    }
    return glanz_engine_switch(control->engine, action->target, on, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_switch = {
    GLANZ_TEXT("switch"), GLANZ_WHAT("a segment on, off, or the other"), GLANZ_VALUE_SEGMENT, GLANZ_WITH_ON, GLANZ_WITH_OVER, 0,
    0,                    switch_segment};

static glanz_status show_look(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, struct glanz_change change) {
#if GLANZ_SEQUENCES
    if (HANDS(control) != NULL) {
        HANDS(control)->touch(control, BIT(action->target), GLANZ_ASPECT_LOOK, 1);
    }
#endif
    return glanz_engine_look(control->engine, action->target, action->look, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_look = {GLANZ_TEXT("look"),
                                                          GLANZ_WHAT("a look on a segment"),
                                                          GLANZ_VALUE_LOOK,
                                                          GLANZ_WITH_SEGMENT,
                                                          GLANZ_WITH_OVER | GLANZ_WITH_AGAIN,
                                                          0,
                                                          0,
                                                          show_look};

#if GLANZ_SEQUENCES
static glanz_status sleep(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, struct glanz_change change) {
    (void)action;
    if (control->asleep != 0) {
        return GLANZ_OK;
    }
    control->sleep_lightness = glanz_engine_lightness(control->engine);
    control->asleep = 1;
    control->sleep_end = change.at_us + (glanz_time)change.over_ms * 1000u;
    glanz_control_tell(control, change.at_us, GLANZ_HAPPENED_SLEEP, 0, 1, 0);
    return glanz_engine_brightness(control->engine, GLANZ_ALL, 0, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_sleep = {
    GLANZ_TEXT("sleep"), GLANZ_WHAT("dim the whole evenly, then dark"), GLANZ_VALUE_TIME, 0, 0, 0, 1, sleep};
#endif
