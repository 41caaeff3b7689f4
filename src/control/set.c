/* SPDX-License-Identifier: MIT */
/* One thing of what shows changed by hand: it goes the way of an action, with a look that differs in just that. */
#include "control.h"

#if GLANZ_SEQUENCES

struct shown { /* what shows, as a look that can be changed */
    struct glanz_showing showing;
    struct glanz_look look;
    struct glanz_setting settings[GLANZ_PARAMS];
};

static glanz_status find(struct shown *shown, struct glanz_control *control, uint8_t segment) {
    if (control == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_status status = glanz_engine_showing(control->engine, segment, &shown->showing);
    if (status == GLANZ_OK && glanz_control_look_of(&shown->look, shown->settings, &shown->showing) == NULL) {
        status = GLANZ_ERR_ABSENT;
    }
    return status;
}

static glanz_status show(struct glanz_control *control, uint8_t segment, const struct shown *shown, uint32_t over_ms,
                         glanz_us at_us) {
    struct glanz_action action = {.kind = &glanz_action_look, .target = segment, .over_ms = over_ms, .look = &shown->look};
    return glanz_control_act(control, &action, at_us);
}

struct setting_action { /* what an action cannot say */
    struct glanz_action action;
    struct glanz_setting setting;
};

static glanz_status act_setting(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                                const struct glanz_change *change) {
    const struct setting_action *all = (const struct setting_action *)action;
    if (HANDS(control) != NULL) {
        HANDS(control)->touch(control, BIT(action->target), GLANZ_ASPECT_LOOK, 1);
    }
    return glanz_engine_set(control->engine, action->target, all->setting, *change);
}

static GLANZ_CONST struct glanz_action_kind set_kind = {
    .key = GLANZ_TEXT("set"), .value = GLANZ_VALUE_SEGMENT, .act = act_setting};

glanz_status glanz_control_set(struct glanz_control *control, uint8_t segment, struct glanz_setting setting, uint32_t over_ms,
                               glanz_us at_us) {
    struct shown shown;
    glanz_status status = find(&shown, control, segment);
    if (status != GLANZ_OK) {
        return status;
    }
    GLANZ_CONST struct glanz_effect *effect = shown.look.effect;
    if (setting.unit == GLANZ_UNIT_NONE && setting.param < effect->param_count) {
        setting.unit = effect->params[setting.param].unit;
    }
    status = glanz_setting_check(effect, setting.param, setting.unit, setting.number);
    if (status != GLANZ_OK) {
        return status;
    }
    struct setting_action action = {{.kind = &set_kind, .target = segment, .over_ms = over_ms}, setting};
    return glanz_control_act(control, &action.action, at_us);
}

glanz_status glanz_control_set_palette(struct glanz_control *control, uint8_t segment,
                                       GLANZ_CONST struct glanz_gradient *gradient, uint32_t over_ms, glanz_us at_us) {
    struct shown shown;
    glanz_status status = gradient == NULL ? GLANZ_ERR_ARGUMENT : find(&shown, control, segment);
    if (status != GLANZ_OK) {
        return status;
    }
    shown.look.gradient = gradient;
    return show(control, segment, &shown, over_ms, at_us);
}

glanz_status glanz_control_set_content(struct glanz_control *control, uint8_t segment, GLANZ_CONST void *content,
                                       uint32_t over_ms, glanz_us at_us) {
    struct shown shown;
    glanz_status status = content == NULL ? GLANZ_ERR_ARGUMENT : find(&shown, control, segment);
    if (status == GLANZ_OK && ((GLANZ_CONST struct glanz_content *)content)->kind != shown.look.effect->content) {
        status = GLANZ_ERR_ARGUMENT;
    }
    if (status != GLANZ_OK) {
        return status;
    }
    shown.look.content = content;
    return show(control, segment, &shown, over_ms, at_us);
}

#endif
