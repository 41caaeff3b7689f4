/* SPDX-License-Identifier: MIT */
/* Actions on presets, brightness, segments and looks: a row and a function each. What can be undone is noted first. */
#include "control.h"

#define DIMMEST 1311 /* 2 %: one that dims can see what it does */

static glanz_status recall(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                           const struct glanz_change *change) {
#if GLANZ_SEQUENCES
    if (HANDS(control) != NULL) {
        HANDS(control)->touch_preset(control, action->target);
    }
#endif
    return glanz_control_recall(control, action->target, (segment_mask) ~(segment_mask)0, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_recall = {.key = GLANZ_TEXT("recall"),
                                                            .description = GLANZ_DESCRIPTION("show a preset"),
                                                            .value = GLANZ_VALUE_PRESET,
                                                            .may = GLANZ_WITH_OVER | GLANZ_WITH_AGAIN | GLANZ_WITH_FOR,
                                                            .act = recall};

static glanz_status brighten(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                             const struct glanz_change *change) {
#if GLANZ_SEQUENCES
    if (HANDS(control) != NULL && action->target == GLANZ_ALL) {
        HANDS(control)->touch_whole(control);
    } else if (HANDS(control) != NULL) {
        HANDS(control)->touch(control, BIT(action->target), GLANZ_ASPECT_BRIGHTNESS, 0);
    }
#endif
    return glanz_engine_brightness(control->engine, action->target, action->number, *change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_brightness = {
    .key = GLANZ_TEXT("brightness"),
    .description = GLANZ_DESCRIPTION("lightness of the whole, or of a segment"),
    .value = GLANZ_VALUE_LIGHTNESS,
    .may = GLANZ_WITH_SEGMENT | GLANZ_WITH_OVER | GLANZ_WITH_FOR,
    .act = brighten};

static glanz_status switch_segment(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                                   const struct glanz_change *change) {
    uint8_t on = action->number != 0;
#if GLANZ_SEQUENCES
    if (HANDS(control) != NULL) {
        HANDS(control)->touch(control, BIT(action->target), GLANZ_ASPECT_ON, 0);
    }
#endif
    if (action->number == 2) {
        struct glanz_showing showing;
        glanz_status status = glanz_engine_showing(control->engine, action->target, &showing);
        if (status != GLANZ_OK) {
            return status;
        }
        on = !showing.on;
    }
    return glanz_engine_switch(control->engine, action->target, on, *change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_switch = {.key = GLANZ_TEXT("switch"),
                                                            .description = GLANZ_DESCRIPTION("a segment on, off, or the other"),
                                                            .value = GLANZ_VALUE_SEGMENT,
                                                            .needs = GLANZ_WITH_ON,
                                                            .may = GLANZ_WITH_OVER | GLANZ_WITH_FOR,
                                                            .act = switch_segment};

static glanz_status show_look(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                              const struct glanz_change *change) {
#if GLANZ_SEQUENCES
    if (HANDS(control) != NULL) {
        HANDS(control)->touch(control, BIT(action->target), GLANZ_ASPECT_LOOK, 1);
    }
#endif
    return glanz_engine_look(control->engine, action->target, action->look, *change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_look = {.key = GLANZ_TEXT("look"),
                                                          .description = GLANZ_DESCRIPTION("a look on a segment"),
                                                          .value = GLANZ_VALUE_LOOK,
                                                          .needs = GLANZ_WITH_SEGMENT,
                                                          .may = GLANZ_WITH_OVER | GLANZ_WITH_AGAIN | GLANZ_WITH_FOR,
                                                          .act = show_look};

#if GLANZ_SEQUENCES
/* By so much lighter or darker than what was asked for last, on its way or there. */
static glanz_status brighten_by(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, int32_t by,
                                const struct glanz_change *change) {
    struct glanz_showing showing;
    int32_t to = glanz_engine_lightness_asked(control->engine);
    if (action->target != GLANZ_ALL) {
        glanz_status status = glanz_engine_showing(control->engine, action->target, &showing);
        if (status != GLANZ_OK) {
            return status;
        }
        to = showing.brightness;
    }
    to += by;
    struct glanz_action set = {.target = action->target,
                               .number = (uint16_t)(to > 65535     ? 65535
                                                    : to < DIMMEST ? DIMMEST
                                                                   : to)};
    return brighten(control, &set, change);
}

static glanz_status lighter(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                            const struct glanz_change *change) {
    return brighten_by(control, action, action->number, change);
}

static glanz_status darker(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                           const struct glanz_change *change) {
    return brighten_by(control, action, -(int32_t)action->number, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_brighten = {.key = GLANZ_TEXT("brighten"),
                                                              .description = GLANZ_DESCRIPTION("by so much lighter"),
                                                              .value = GLANZ_VALUE_LIGHTNESS,
                                                              .may = GLANZ_WITH_SEGMENT | GLANZ_WITH_OVER | GLANZ_WITH_FOR,
                                                              .act = lighter};

GLANZ_CONST struct glanz_action_kind glanz_action_dim = {.key = GLANZ_TEXT("dim"),
                                                         .description =
                                                             GLANZ_DESCRIPTION("by so much darker, but not below 2 %"),
                                                         .value = GLANZ_VALUE_LIGHTNESS,
                                                         .may = GLANZ_WITH_SEGMENT | GLANZ_WITH_OVER | GLANZ_WITH_FOR,
                                                         .act = darker};

static glanz_status sleep(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                          const struct glanz_change *change) {
    (void)action;
    if (control->asleep != 0) {
        return GLANZ_OK;
    }
    control->sleep_lightness = glanz_engine_lightness(control->engine);
    control->asleep = 1;
    control->sleep_end = change->at_us + (glanz_us)change->over_ms * 1000u;
    glanz_control_notify(control, change->at_us, GLANZ_HAPPENED_SLEEP, 0, 1, 0);
    return glanz_engine_brightness(control->engine, GLANZ_ALL, 0, *change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_sleep = {.key = GLANZ_TEXT("sleep"),
                                                           .description = GLANZ_DESCRIPTION("dim the whole evenly, then dark"),
                                                           .value = GLANZ_VALUE_TIME,
                                                           .asleep = 1,
                                                           .act = sleep};
#endif
