/* SPDX-License-Identifier: MIT */
/* Presets that are saved in the store, found by name, in an order of their own. */
#include <string.h>

#include "whole.h"

/* A preset of the show. */
static glanz_status recall_shown(struct glanz_device *device, GLANZ_CONST char *name, const struct glanz_change *change) {
    struct glanz_action action;
    memset(&action, 0, sizeof action);
    action.kind = &glanz_action_recall;
    action.over_ms = change->over_ms;
    action.again = change->again;
    for (uint8_t i = 0; i < device->show->preset_count; i++) {
        if (glanz_text_equal(device->show->presets[i].name, name)) {
            action.target = i;
            return glanz_control_act(device->control, &action, change->at_us);
        }
    }
    return GLANZ_ERR_ABSENT;
}

/* A change by a call, now. */
static struct glanz_change change_now(const struct glanz_device *device, uint32_t over_ms) {
    uint32_t own = device->show->change_ms == 0                ? 500u
                   : device->show->change_ms == GLANZ_OWN_TIME ? 0
                                                               : device->show->change_ms;
    struct glanz_change change = {glanz_device_now(device), over_ms == GLANZ_OWN_TIME ? own : over_ms, 0};
    return change;
}

#if GLANZ_SAVED_MOST > 0

/* Where in the order a name is; GLANZ_SAVED_MOST: nowhere. */
static uint8_t find_saved(const struct glanz_device *device, const char *name) {
    char own[GLANZ_NAME_MOST + 1];
    for (uint8_t i = 0; i < GLANZ_SAVED_MOST && device->order[i] != NONE; i++) {
        if (glanz_slot_name(device, own, device->order[i]) && strcmp(own, name) == 0) {
            return i;
        }
    }
    return GLANZ_SAVED_MOST;
}

/* A slot in which nothing lies, or what is damaged; presets of a newer format are left alone. */
static uint8_t free_slot(const struct glanz_device *device) {
    uint8_t damaged = NONE;
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    for (uint8_t slot = 0; slot < GLANZ_SAVED_MOST; slot++) {
        char name[GLANZ_NAME_MOST + 1];
        size_t count = 0;
        glanz_status status = glanz_store_load(device->store, glanz_slot_key(slot), record, capacity, &count);
        if (glanz_slots_have(device, slot) || (status != GLANZ_OK && status != GLANZ_ERR_DAMAGED)) {
            continue;
        }
        if (status == GLANZ_OK && count == 0) {
            return slot;
        }
        int bad =
            status == GLANZ_ERR_DAMAGED || count > capacity || glanz_preset_name(name, record, count) == GLANZ_ERR_DAMAGED;
        damaged = bad ? slot : damaged;
    }
    return damaged;
}

/* What stands in the way of saving anything now. */
static glanz_status can_save(const struct glanz_device *device, const char *name) {
    return device == NULL || !glanz_saved_name_valid(name) ? GLANZ_ERR_ARGUMENT
           : device->store == NULL                         ? GLANZ_ERR_ABSENT
           : glanz_device_saving(device)                   ? GLANZ_ERR_BUSY
                                                           : GLANZ_OK;
}

static glanz_status save_showing(struct glanz_device *device, const char *name, uint64_t segments, uint8_t aspects,
                                 uint8_t replace) {
    glanz_status status = can_save(device, name);
    if (status != GLANZ_OK) {
        return status;
    }
    uint8_t place = find_saved(device, name);
    if (place < GLANZ_SAVED_MOST && !replace) {
        return GLANZ_ERR_STATE;
    }
    uint8_t slot = place < GLANZ_SAVED_MOST ? device->order[place] : free_slot(device);
    if (slot == NONE) {
        return GLANZ_ERR_FULL;
    }
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    size_t count = 0;
    status = glanz_preset_pack(device->control, name, segments, aspects, record, capacity, &count);
    device->saving_segments = segments;
    return status == GLANZ_OK ? glanz_saving_begin(device, glanz_slot_key(slot), record, count) : status;
}

/* One that was saved, else one of the show. */
static glanz_status recall_named(struct glanz_device *device, struct glanz_missed *missed, GLANZ_CONST char *name,
                                 const struct glanz_change *change) {
    uint8_t place = device->store == NULL ? GLANZ_SAVED_MOST : find_saved(device, name);
    if (place == GLANZ_SAVED_MOST || device->effects == NULL) {
        return recall_shown(device, name, change);
    }
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    size_t count = 0;
    glanz_status status = glanz_store_load(device->store, glanz_slot_key(device->order[place]), record, capacity, &count);
    return status != GLANZ_OK ? status
                              : glanz_preset_unpack(device->control, device->effects, record,
                                                    count < capacity ? count : capacity, *change, missed);
}

#if GLANZ_SEQUENCES
glanz_status glanz_saved_recall(void *user, GLANZ_CONST char *name, const struct glanz_change *change) {
    return recall_named((struct glanz_device *)user, NULL, name, change);
}
#endif

static glanz_status recall(struct glanz_device *device, struct glanz_missed *missed, const char *name, uint32_t over_ms) {
    if (device == NULL || name == NULL || name[0] == '\0') {
        return GLANZ_ERR_ARGUMENT;
    }
    if (missed != NULL) {
        memset(missed, 0, sizeof *missed);
    }
    struct glanz_change change = change_now(device, over_ms);
    return recall_named(device, missed, name, &change);
}

static glanz_status forget(struct glanz_device *device, const char *name) {
    glanz_status status = can_save(device, name);
    uint8_t place = status == GLANZ_OK ? find_saved(device, name) : GLANZ_SAVED_MOST;
    if (status != GLANZ_OK || place == GLANZ_SAVED_MOST) {
        return status != GLANZ_OK ? status : GLANZ_ERR_ABSENT;
    }
    return glanz_saving_begin(device, glanz_slot_key(device->order[place]), NULL, 0);
}

/* Save a preset under another name, in its own slot or a free one. */
static glanz_status name_again(struct glanz_device *device, const char *name, const char *other, uint8_t copy) {
    glanz_status status = can_save(device, name);
    if (status != GLANZ_OK || !glanz_saved_name_valid(other)) {
        return status != GLANZ_OK ? status : GLANZ_ERR_ARGUMENT;
    }
    uint8_t place = find_saved(device, name);
    if (place == GLANZ_SAVED_MOST || find_saved(device, other) < GLANZ_SAVED_MOST) {
        return place == GLANZ_SAVED_MOST ? GLANZ_ERR_ABSENT : GLANZ_ERR_STATE;
    }
    uint8_t slot = copy ? free_slot(device) : device->order[place];
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    size_t count = 0;
    status = slot == NONE ? GLANZ_ERR_FULL
                          : glanz_store_load(device->store, glanz_slot_key(device->order[place]), record, capacity, &count);
    if (status == GLANZ_OK) {
        status = count > capacity ? GLANZ_ERR_DAMAGED : glanz_preset_rename(record, &count, capacity, other);
    }
    device->saving_segments = 0;
    return status == GLANZ_OK ? glanz_saving_begin(device, glanz_slot_key(slot), record, count) : status;
}

static glanz_status move(struct glanz_device *device, const char *name, uint8_t place) {
    glanz_status status = can_save(device, name);
    uint8_t from = status == GLANZ_OK ? find_saved(device, name) : GLANZ_SAVED_MOST;
    if (status != GLANZ_OK || from == GLANZ_SAVED_MOST || place >= glanz_slots_count(device)) {
        return status != GLANZ_OK ? status : GLANZ_ERR_ABSENT;
    }
    uint8_t before[GLANZ_SAVED_MOST];
    uint8_t record[3 + GLANZ_SAVED_MOST];
    uint8_t slot = device->order[from];
    memcpy(before, device->order, sizeof before);
    memmove(device->order + from, device->order + from + 1, GLANZ_SAVED_MOST - 1u - from);
    memmove(device->order + place + 1, device->order + place, GLANZ_SAVED_MOST - 1u - place);
    device->order[place] = slot;
    glanz_slots_pack(record, device);
    status = glanz_saving_begin(device, GLANZ_KEY_ORDER, record, sizeof record);
    if (status != GLANZ_OK) {
        memcpy(device->order, before, sizeof before);
    }
    return status;
}

/* Each of them from outside, not from inside a callback. */

glanz_status glanz_device_save(struct glanz_device *device, const char *name, uint64_t segments, uint8_t aspects,
                               uint8_t replace) {
    DEVICE_ENTER(device);
    return glanz_device_leave(device, save_showing(device, name, segments, aspects, replace));
}

glanz_status glanz_device_recall(struct glanz_device *device, const char *name, uint32_t over_ms, struct glanz_missed *missed) {
    DEVICE_ENTER(device);
    return glanz_device_leave(device, recall(device, missed, name, over_ms));
}

glanz_status glanz_device_forget(struct glanz_device *device, const char *name) {
    DEVICE_ENTER(device);
    return glanz_device_leave(device, forget(device, name));
}

glanz_status glanz_device_rename(struct glanz_device *device, const char *name, const char *other) {
    DEVICE_ENTER(device);
    return glanz_device_leave(device, name_again(device, name, other, 0));
}

glanz_status glanz_device_copy(struct glanz_device *device, const char *name, const char *other) {
    DEVICE_ENTER(device);
    return glanz_device_leave(device, name_again(device, name, other, 1));
}

glanz_status glanz_device_move(struct glanz_device *device, const char *name, uint8_t place) {
    DEVICE_ENTER(device);
    return glanz_device_leave(device, move(device, name, place));
}

glanz_status glanz_device_saved(const struct glanz_device *device, uint8_t number, char *name) {
    if (device == NULL || name == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    return device->store != NULL && number < GLANZ_SAVED_MOST && device->order[number] != NONE &&
                   glanz_slot_name(device, name, device->order[number])
               ? GLANZ_OK
               : GLANZ_ERR_ABSENT;
}

int glanz_device_saving(const struct glanz_device *device) {
    return device != NULL && device->saving != 0;
}

#else /* nothing can be saved; presets of the show can be recalled by name */

glanz_status glanz_device_save(struct glanz_device *device, const char *name, uint64_t segments, uint8_t aspects,
                               uint8_t replace) {
    (void)segments;
    (void)aspects;
    (void)replace;
    return device == NULL || name == NULL || name[0] == '\0' ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_ABSENT;
}

glanz_status glanz_device_recall(struct glanz_device *device, const char *name, uint32_t over_ms, struct glanz_missed *missed) {
    if (device == NULL || name == NULL || name[0] == '\0') {
        return GLANZ_ERR_ARGUMENT;
    }
    if (missed != NULL) {
        memset(missed, 0, sizeof *missed);
    }
    struct glanz_change change = change_now(device, over_ms);
    return recall_shown(device, name, &change);
}

glanz_status glanz_device_forget(struct glanz_device *device, const char *name) {
    return device == NULL || name == NULL || name[0] == '\0' ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_ABSENT;
}

glanz_status glanz_device_rename(struct glanz_device *device, const char *name, const char *other) {
    return other == NULL ? GLANZ_ERR_ARGUMENT : glanz_device_forget(device, name);
}

glanz_status glanz_device_copy(struct glanz_device *device, const char *name, const char *other) {
    return other == NULL ? GLANZ_ERR_ARGUMENT : glanz_device_forget(device, name);
}

glanz_status glanz_device_move(struct glanz_device *device, const char *name, uint8_t place) {
    (void)place;
    return glanz_device_forget(device, name);
}

glanz_status glanz_device_saved(const struct glanz_device *device, uint8_t number, char *name) {
    (void)number;
    return device == NULL || name == NULL ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_ABSENT;
}

int glanz_device_saving(const struct glanz_device *device) {
    (void)device;
    return 0;
}

#endif
