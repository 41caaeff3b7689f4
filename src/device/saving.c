/* SPDX-License-Identifier: MIT */
/* A save on its way: begun, and ended with what comes of it. How often the device may save by itself. */
#include <string.h>

#include "whole.h"

#if GLANZ_SAVED_MOST > 0

/* ---- what is under way ---- */

static void happened(struct glanz_device *device, uint16_t key, uint8_t index, uint8_t good) {
    uint8_t own = key == GLANZ_KEY_RESETS || key == GLANZ_KEY_ORDER || key == GLANZ_KEY_SINCE || key == GLANZ_KEY_RANGES;
    if (device->listener != NULL && !own) {
        struct glanz_happening happening;
        memset(&happening, 0, sizeof happening);
        happening.at_us = device->clock;
        happening.description = good ? GLANZ_HAPPENED_SAVED : GLANZ_HAPPENED_UNSAVED;
        happening.index = index;
        device->listener(&happening, device->listener_user);
    }
}

#define APART_US 10000000u /* two records, in the long run */
#define AHEAD 6            /* so many may come sooner */

int glanz_credit_left(struct credit *credit, glanz_us now) {
    for (; credit->taken != 0 && now - credit->at >= APART_US; credit->at += APART_US) {
        credit->taken--;
    }
    return credit->taken < AHEAD;
}

void glanz_credit_take(struct credit *credit, glanz_us now) {
    credit->at = credit->taken == 0 ? now : credit->at;
    credit->taken++;
}

/* A save has come to its end. */
void glanz_saving_end(struct glanz_device *device, glanz_status status) {
    uint16_t key = device->saving;
    uint8_t slot = NONE;
    if (key >= GLANZ_KEY_PRESETS && key < GLANZ_KEY_PRESETS + GLANZ_SAVED_MOST) {
        slot = (uint8_t)(key - GLANZ_KEY_PRESETS);
    }
    device->saving = 0;
    if (device->save_answer != NULL) {
        *device->save_answer = status;
        device->save_answer = NULL;
    }
    if (status == GLANZ_OK) {
        device->counts.saved++;
    } else {
        device->counts.unsaved++;
    }
    if (status != GLANZ_OK) {
        glanz_device_note(device, slot != NONE               ? "a preset could not be saved; the store says no"
                                  : key == GLANZ_KEY_RUNNING ? "what is showing could not be kept; the store says no"
                                                             : "a record could not be saved; the store says no");
        device->spent = (uint8_t)(device->spent | (key == GLANZ_KEY_RUNNING ? SPENT_WHOLE : 0) |
                                  (key == GLANZ_KEY_SINCE ? SPENT_SINCE : 0));
        happened(device, key, slot, 0);
        return;
    }
    if (slot != NONE) {
        size_t count = 0;
        glanz_status there = glanz_store_load(device->store, key, NULL, 0, &count);
        uint8_t *at = (uint8_t *)memchr(device->order, slot, GLANZ_SAVED_MOST);
        if (there == GLANZ_OK && count != 0 && at == NULL) {
            device->order[glanz_slots_count(device)] = slot;
        } else if (count == 0 && at != NULL) {
            size_t rest = (size_t)(device->order + GLANZ_SAVED_MOST - 1 - at);
            memmove(at, at + 1, rest);
            device->order[GLANZ_SAVED_MOST - 1] = NONE;
        }
#if GLANZ_SEQUENCES
        glanz_control_saved(device->control, count == 0 ? 0 : device->saving_segments);
#endif
        device->spent = 0;
    }
    happened(device, key, slot, 1);
}

glanz_status glanz_saving_begin(struct glanz_device *device, uint16_t key, const uint8_t *record, size_t count) {
    glanz_status status = glanz_store_save(device->store, key, record, count);
    if (status == GLANZ_OK) {
        device->saving = key;
        device->save_since = glanz_device_now(device);
        if (!glanz_store_busy(device->store)) { /* it is there already, or the platform keeps records by itself */
            glanz_saving_end(device, GLANZ_OK);
        }
    }
    return status;
}

void glanz_saving_keep(struct glanz_device *device, uint16_t key, const uint8_t *record, size_t count, glanz_status status) {
    if (status == GLANZ_OK) {
        status = glanz_saving_begin(device, key, record, count);
    }
    if (status != GLANZ_OK) {
        device->saving = key;
        glanz_saving_end(device, status);
    }
}

#endif
