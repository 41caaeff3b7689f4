/* SPDX-License-Identifier: MIT */
/* One thing of what shows changed by names. */
#include "whole.h"

#if GLANZ_SEQUENCES

/* What is wrong with a name, and what was expected. */
static void say(struct glanz_fault *fault, GLANZ_CONST char *text, const char *name, GLANZ_CONST char *expected) {
    glanz_fault_begin(fault);
    glanz_fault_add(fault, text);
#ifndef __AVR__ /* where faults take text from flash */
    glanz_fault_name(fault, name == NULL ? "" : name);
#else
    (void)name;
#endif
    glanz_fault_add(fault, expected);
}

/* The segment of that name that shows something; GLANZ_ALL and a status otherwise. */
static uint8_t find_segment(struct glanz_showing *showing, const struct glanz_device *device, const char *name,
                            struct glanz_fault *fault, glanz_status *status) {
    uint8_t count = name == NULL || device->control == NULL ? 0 : device->show->segment_count;
    uint8_t i = 0;
    while (i < count && !glanz_text_equal(device->show->segments[i].name, name)) {
        i++;
    }
    *status = i < count ? glanz_engine_showing(device->engine, i, showing) : GLANZ_ERR_ABSENT;
    if (*status == GLANZ_OK && showing->effect != NULL) {
        return i;
    }
    *status = GLANZ_ERR_ABSENT;
    if (device->control == NULL) {
        say(fault, GLANZ_TEXT("nothing can be set on "), name, GLANZ_TEXT("; expected the part for control"));
    } else if (i < count) {
        say(fault, GLANZ_TEXT("dark is segment "), name, GLANZ_TEXT("; expected one that shows something"));
    } else {
        say(fault, GLANZ_TEXT("no such segment: "), name, GLANZ_TEXT("; expected one of the show"));
    }
    return GLANZ_ALL;
}

/* A change that the engine did not take. */
static glanz_status refused(struct glanz_fault *fault, glanz_status status, const char *name) {
    if (status != GLANZ_OK) {
        say(fault, GLANZ_TEXT("refused for "), name,
            status == GLANZ_ERR_SHOW     ? GLANZ_TEXT("; expected a valid look")
            : status == GLANZ_ERR_MEMORY ? GLANZ_TEXT("; expected more memory for what effects remember")
                                         : GLANZ_TEXT("; expected a part that the program has not named"));
    }
    return status;
}

/* @param color 1: a colour is to be set, else a number. */
static glanz_status set(struct glanz_device *device, const char *segment, const char *param, struct glanz_setting setting,
                        uint8_t color, uint32_t over_ms, struct glanz_fault *fault) {
    struct glanz_showing showing;
    glanz_status status;
    uint8_t index = find_segment(&showing, device, segment, fault, &status);
    if (status != GLANZ_OK) {
        return status;
    }
    GLANZ_CONST struct glanz_effect *effect = showing.effect;
    uint8_t i = 0;
    while (i < effect->param_count && (param == NULL || !glanz_text_equal(effect->params[i].name, param))) {
        i++;
    }
    if (i == effect->param_count) {
        say(fault, GLANZ_TEXT("no such parameter: "), param, GLANZ_TEXT("; expected one of the effect that shows"));
        return GLANZ_ERR_ABSENT;
    }
    setting.param = i;
    status = (effect->params[i].kind == GLANZ_PARAM_COLOR) == color
                 ? glanz_control_set(device->control, index, setting, over_ms, glanz_device_now(device))
                 : GLANZ_ERR_ARGUMENT;
    if (status == GLANZ_ERR_ARGUMENT) {
        say(fault, GLANZ_TEXT("cannot be set so: "), param,
            color ? GLANZ_TEXT("; expected a parameter that is a colour")
                  : GLANZ_TEXT("; expected a number within its bounds, in a unit of its kind"));
        return status;
    }
    return refused(fault, status, param);
}

glanz_status glanz_device_set(struct glanz_device *device, const char *segment, const char *param, int32_t number,
                              enum glanz_unit unit, uint32_t over_ms, struct glanz_fault *fault) {
    struct glanz_setting setting = {0, (uint8_t)((unsigned)unit > GLANZ_UNIT_PASS_TIME ? 255 : unit), number};
    DEVICE_ENTER(device);
    return glanz_device_leave(device, set(device, segment, param, setting, 0, over_ms, fault));
}

glanz_status glanz_device_set_color(struct glanz_device *device, const char *segment, const char *param, glanz_color color,
                                    uint32_t over_ms, struct glanz_fault *fault) {
    struct glanz_setting setting = {0, GLANZ_UNIT_NONE, (int32_t)color};
    DEVICE_ENTER(device);
    return glanz_device_leave(device, set(device, segment, param, setting, 1, over_ms, fault));
}

glanz_status glanz_device_set_palette(struct glanz_device *device, const char *segment,
                                      GLANZ_CONST struct glanz_gradient *gradient, uint32_t over_ms,
                                      struct glanz_fault *fault) {
    struct glanz_showing showing;
    glanz_status status;
    DEVICE_ENTER(device);
    uint8_t index = find_segment(&showing, device, segment, fault, &status);
    if (status == GLANZ_OK && (gradient == NULL || (showing.effect->needs & GLANZ_NEEDS_GRADIENT) == 0)) {
        say(fault, GLANZ_TEXT("no palette for "), segment, GLANZ_TEXT("; expected one, and an effect that takes it"));
        status = GLANZ_ERR_ARGUMENT;
    } else if (status == GLANZ_OK) {
        status = refused(fault, glanz_control_set_palette(device->control, index, gradient, over_ms, glanz_device_now(device)),
                         segment);
    }
    return glanz_device_leave(device, status);
}

glanz_status glanz_device_set_content(struct glanz_device *device, const char *segment, GLANZ_CONST void *content,
                                      uint32_t over_ms, struct glanz_fault *fault) {
    struct glanz_showing showing;
    glanz_status status;
    DEVICE_ENTER(device);
    uint8_t index = find_segment(&showing, device, segment, fault, &status);
    if (status == GLANZ_OK) {
        status = glanz_control_set_content(device->control, index, content, over_ms, glanz_device_now(device));
        if (status == GLANZ_ERR_ARGUMENT) {
            say(fault, GLANZ_TEXT("not for "), segment, GLANZ_TEXT("; expected a content of the kind that its effect shows"));
        } else {
            status = refused(fault, status, segment);
        }
    }
    return glanz_device_leave(device, status);
}

#endif
