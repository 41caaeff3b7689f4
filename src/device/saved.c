/* SPDX-License-Identifier: MIT */
/* Presets saved while running: records in the port's store, found by name. */
#include <string.h>

#include "whole.h"

#define KEY_PRESETS 0x100u /* records of saved presets: this and those after it */

/* A preset of the show. */
static glanz_status recall_shown(struct glanz_device *device, const char *name, uint32_t over_ms) {
    struct glanz_action action;
    memset(&action, 0, sizeof action);
    action.kind = GLANZ_ACTION_RECALL;
    action.over_ms = over_ms;
    for (uint8_t i = 0; i < device->show->preset_count; i++) {
        if (glanz_text_equal(device->show->presets[i].name, name)) {
            action.target = i;
            return glanz_control_act(device->control, &action, device->clock);
        }
    }
    return GLANZ_ERR_ABSENT;
}

#if GLANZ_SAVED_MOST > 0

static uint16_t preset_key(uint8_t number) {
    return (uint16_t)(KEY_PRESETS + number);
}

void glanz_device_read_saved(struct glanz_device *device) {
    uint8_t record[GLANZ_RECORD_MOST];
    for (uint8_t i = 0; i < GLANZ_SAVED_MOST && device->port->load != NULL; i++) {
        size_t count = 0;
        char name[GLANZ_NAME_MOST + 1];
        if (device->port->load(device->port->user, preset_key(i), record, sizeof record, &count) != GLANZ_OK || count == 0) {
            continue;
        }
        if (count > sizeof record || glanz_preset_name(name, record, count) != GLANZ_OK) {
            glanz_device_note(device, "a saved preset is damaged and was left out");
            continue;
        }
        memcpy(device->saved[i].name, name, sizeof name);
    }
}

static uint8_t find_saved(const struct glanz_device *device, const char *name) {
    uint8_t number = 0;
    while (number < GLANZ_SAVED_MOST && strcmp(device->saved[number].name, name) != 0) {
        number++;
    }
    return number;
}

glanz_status glanz_device_save(struct glanz_device *device, const char *name, uint64_t segments, uint8_t replace) {
    if (device == NULL || name == NULL || name[0] == '\0') {
        return GLANZ_ERR_ARGUMENT;
    }
    if (device->port->save == NULL) {
        return GLANZ_ERR_ABSENT;
    }
    uint8_t number = find_saved(device, name);
    if (number < GLANZ_SAVED_MOST && !replace) {
        return GLANZ_ERR_ORDER;
    }
    number = number == GLANZ_SAVED_MOST ? find_saved(device, "") : number;
    if (number == GLANZ_SAVED_MOST) {
        return GLANZ_ERR_FULL;
    }
    uint8_t record[GLANZ_RECORD_MOST];
    size_t count = 0;
    glanz_status status = glanz_preset_pack(record, &count, sizeof record, device->engine, device->show, name, segments);
    if (status == GLANZ_OK) {
        status = device->port->save(device->port->user, preset_key(number), record, count);
    }
    if (status == GLANZ_OK) {
        memcpy(device->saved[number].name, name, strlen(name) + 1);
    }
    return status;
}

glanz_status glanz_device_recall(struct glanz_device *device, uint8_t *missed, const char *name, uint32_t over_ms) {
    if (device == NULL || name == NULL || name[0] == '\0') {
        return GLANZ_ERR_ARGUMENT;
    }
    uint8_t number = find_saved(device, name);
    if (number < GLANZ_SAVED_MOST && device->effects != NULL) {
        uint8_t record[GLANZ_RECORD_MOST];
        size_t count = 0;
        glanz_status status = device->port->load(device->port->user, preset_key(number), record, sizeof record, &count);
        uint32_t own = device->show->change_ms == 0                ? 500u
                       : device->show->change_ms == GLANZ_OWN_TIME ? 0
                                                                   : device->show->change_ms;
        struct glanz_change change = {device->clock, over_ms == GLANZ_OWN_TIME ? own : over_ms};
        return status != GLANZ_OK
                   ? status
                   : glanz_preset_unpack(missed, device->engine, device->show, device->effects, record, count, change);
    }
    if (missed != NULL) {
        *missed = 0;
    }
    return recall_shown(device, name, over_ms);
}

glanz_status glanz_device_forget(struct glanz_device *device, const char *name) {
    if (device == NULL || name == NULL || name[0] == '\0') {
        return GLANZ_ERR_ARGUMENT;
    }
    uint8_t number = find_saved(device, name);
    if (number == GLANZ_SAVED_MOST) {
        return GLANZ_ERR_ABSENT;
    }
    glanz_status status = device->port->save(device->port->user, preset_key(number), NULL, 0);
    if (status == GLANZ_OK) {
        device->saved[number].name[0] = '\0';
    }
    return status;
}

const char *glanz_device_saved(const struct glanz_device *device, uint8_t number) {
    for (uint8_t i = 0; device != NULL && i < GLANZ_SAVED_MOST; i++) {
        if (device->saved[i].name[0] != '\0' && number-- == 0) {
            return device->saved[i].name;
        }
    }
    return NULL;
}

#else /* nothing can be saved; presets of the show can be recalled by name */

void glanz_device_read_saved(struct glanz_device *device) {
    (void)device;
}

glanz_status glanz_device_save(struct glanz_device *device, const char *name, uint64_t segments, uint8_t replace) {
    (void)segments;
    (void)replace;
    return device == NULL || name == NULL || name[0] == '\0' ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_ABSENT;
}

glanz_status glanz_device_recall(struct glanz_device *device, uint8_t *missed, const char *name, uint32_t over_ms) {
    if (device == NULL || name == NULL || name[0] == '\0') {
        return GLANZ_ERR_ARGUMENT;
    }
    if (missed != NULL) {
        *missed = 0;
    }
    return recall_shown(device, name, over_ms);
}

glanz_status glanz_device_forget(struct glanz_device *device, const char *name) {
    return device == NULL || name == NULL || name[0] == '\0' ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_ABSENT;
}

const char *glanz_device_saved(const struct glanz_device *device, uint8_t number) {
    (void)device;
    (void)number;
    return NULL;
}

#endif
