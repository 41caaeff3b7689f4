/* SPDX-License-Identifier: MIT */
/* Slots of the store for presets that are saved, and the order in which they are listed: a record "GO", format 1, slots. */
#include <string.h>

#include "whole.h"

#if GLANZ_SAVED_MOST > 0

#define HEAD_BYTES (5 + GLANZ_NAME_MOST) /* of a record, name included */

uint16_t glanz_slot_key(uint8_t slot) {
    return (uint16_t)(GLANZ_KEY_PRESETS + slot);
}

/* The name of the preset in a slot, without reading it whole. @return 0 when there is none. */
int glanz_slot_name(const struct glanz_device *device, char *name, uint8_t slot) {
    uint8_t head[HEAD_BYTES];
    size_t count = 0;
    if (glanz_store_load(device->store, glanz_slot_key(slot), head, sizeof head, &count) != GLANZ_OK || count < 10 ||
        head[4] > GLANZ_NAME_MOST) {
        return 0;
    }
    memcpy(name, head + 5, head[4]);
    name[head[4]] = '\0';
    return 1;
}

void glanz_slots_pack(uint8_t *record, const struct glanz_device *device) {
    memcpy(record, "GO\1", 3);
    memcpy(record + 3, device->order, GLANZ_SAVED_MOST);
}

int glanz_slots_have(const struct glanz_device *device, uint8_t slot) {
    return memchr(device->order, slot, GLANZ_SAVED_MOST) != NULL;
}

uint8_t glanz_slots_count(const struct glanz_device *device) {
    uint8_t count = 0;
    while (count < GLANZ_SAVED_MOST && device->order[count] != NONE) {
        count++;
    }
    return count;
}

/* Whether a slot holds a preset that can be read; notes what stands in the way. */
static int readable(struct glanz_device *device, uint8_t slot) {
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    size_t count = 0;
    char name[GLANZ_NAME_MOST + 1];
    glanz_status status = glanz_store_load(device->store, glanz_slot_key(slot), record, capacity, &count);
    if (status == GLANZ_OK && count == 0) {
        return 0;
    }
    if (status == GLANZ_OK) {
        status = count > capacity ? GLANZ_ERR_DAMAGED : glanz_preset_name(name, record, count);
    }
    if (status != GLANZ_OK) {
        glanz_device_note(device, status == GLANZ_ERR_NEWER ? "a saved preset is of a newer format and was left alone"
                                                            : "a saved preset is damaged and was left out");
    }
    return status == GLANZ_OK;
}

void glanz_slots_read(struct glanz_device *device) {
    uint8_t record[3 + GLANZ_SAVED_MOST];
    size_t count = 0;
    uint8_t at = 0;
    memset(device->order, NONE, sizeof device->order);
    if (device->store == NULL) {
        return;
    }
    if (glanz_store_load(device->store, GLANZ_KEY_ORDER, record, sizeof record, &count) != GLANZ_OK || count < 3 ||
        count > sizeof record || memcmp(record, "GO\1", 3) != 0) {
        count = 3;
    }
    for (size_t i = 3; i < count; i++) {
        if (record[i] < GLANZ_SAVED_MOST && !glanz_slots_have(device, record[i]) && readable(device, record[i])) {
            device->order[at++] = record[i];
        }
    }
    for (uint8_t slot = 0; slot < GLANZ_SAVED_MOST; slot++) { /* those that the order does not have yet come last */
        if (!glanz_slots_have(device, slot) && readable(device, slot)) {
            device->order[at++] = slot;
        }
    }
}

#endif
