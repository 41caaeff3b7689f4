/* SPDX-License-Identifier: MIT */
/* What is showing is kept, to come back after the power went. A record of all of it follows what hands change, and once in a
 * while what the show does by itself. In between a small one says how long that has gone on, so that playlists come back to
 * where they were. */
#include "whole.h"

#if GLANZ_SAVED_MOST > 0 && GLANZ_SEQUENCES

#define SETTLE_US 2000000u                                                 /* after the last change by hand */
#define SINCE_US ((glanz_us)GLANZ_RESUME_S * 1000000u)                     /* while playlists go on */
#define WHOLE_US (SINCE_US > 900000000u ? SINCE_US : (glanz_us)900000000u) /* what has changed by itself */

/* Is it time to keep all of it? */
static int whole_due(struct glanz_device *device) {
    struct glanz_changes now = glanz_control_changes(device->control);
    if (now.by_hand != device->seen.by_hand) {
        device->changed_at = device->clock;
        device->seen = now;
    }
    if ((device->spent & SPENT_WHOLE) != 0 || !glanz_credit_left(&device->running, device->clock)) {
        return 0;
    }
    return (now.by_hand != device->kept.by_hand && device->clock - device->changed_at >= SETTLE_US) ||
           (now.by_itself != device->kept.by_itself && device->clock - device->kept_at >= WHOLE_US) ||
           (device->kept_check == 0 && device->clock - device->kept_at >= SINCE_US && glanz_control_goes_on(device->control));
}

static uint32_t since_ms(const struct glanz_device *device) {
    glanz_us since = (device->clock - device->kept_at) / 1000u + device->before_ms;
    return since > 0xFFFFFFFFu ? 0xFFFFFFFFu : (uint32_t)since;
}

static int since_due(const struct glanz_device *device) {
    return device->kept_check != 0 && device->spent == 0 && device->clock - device->since_at >= SINCE_US &&
           glanz_control_goes_on(device->control);
}

static void put32(uint8_t *bytes, uint32_t number) {
    for (uint8_t i = 0; i < 4; i++) {
        bytes[i] = (uint8_t)(number >> (8 * i));
    }
}

static uint32_t get32(const uint8_t *bytes) {
    return (uint32_t)bytes[0] | (uint32_t)bytes[1] << 8 | (uint32_t)bytes[2] << 16 | (uint32_t)bytes[3] << 24;
}

/* What tells a record of what is showing from others; never 0. */
static uint32_t check_of(const uint8_t *record, size_t count) {
    uint32_t check = glanz_crc32(0, record, count);
    return check == 0 ? 1 : check;
}

void glanz_resume_keep(struct glanz_device *device) {
    if (!device->show->resume || device->safe || device->effects == NULL) {
        return;
    }
    if (whole_due(device)) {
        size_t capacity;
        uint8_t *record = glanz_store_scratch(device->store, &capacity);
        size_t count = 0;
        device->kept = glanz_control_changes(device->control);
        device->kept_at = device->clock;
        device->since_at = device->clock;
        device->before_ms = 0;
        glanz_credit_take(&device->running, device->clock);
        glanz_status status = glanz_running_pack(device->control, record, capacity, &count);
        device->kept_check = status == GLANZ_OK ? check_of(record, count) : 0;
        glanz_saving_keep(device, GLANZ_KEY_RUNNING, record, count, status);
    } else if (since_due(device)) {
        uint8_t record[8];
        device->since_at = device->clock;
        put32(record, device->kept_check);
        put32(record + 4, since_ms(device));
        glanz_saving_keep(device, GLANZ_KEY_SINCE, record, sizeof record, GLANZ_OK);
    }
}

/* How long what was kept had gone on. A time that belongs to another record does not count. */
static uint32_t kept_since(const struct glanz_device *device) {
    uint8_t record[8];
    size_t count = 0;
    return glanz_store_load(device->store, GLANZ_KEY_SINCE, record, sizeof record, &count) == GLANZ_OK &&
                   count == sizeof record && get32(record) == device->kept_check
               ? get32(record + 4)
               : 0;
}

glanz_status glanz_resume_begin(struct glanz_device *device, int *resumed, struct glanz_fault *fault) {
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    size_t count = 0;
    glanz_status status = glanz_store_load(device->store, GLANZ_KEY_RUNNING, record, capacity, &count);
    if (status == GLANZ_OK && count != 0 && count <= capacity) {
        status = glanz_control_begin(device->control, device->show, device->clock, 1, fault);
        if (status != GLANZ_OK) {
            return status;
        }
        uint32_t check = check_of(record, count);
        device->kept_check = check;
        device->before_ms = kept_since(device);
        status = glanz_running_unpack(device->control, device->effects, record, count, device->clock, device->before_ms, NULL);
        *resumed = status == GLANZ_OK;
    }
    if (!*resumed) {
        device->kept_check = 0;
        device->before_ms = 0;
    }
    if (status != GLANZ_OK) {
        glanz_device_note(device, GLANZ_TEXT("what was last showing cannot be read"));
    }
    return GLANZ_OK;
}

#endif
