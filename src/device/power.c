/* SPDX-License-Identifier: MIT */
/* From power-on to power-off: how often it was reset early, which ends in a safe look; what shows at the start; and while it
 * runs, steps of saves where there is time for them. */
#include <string.h>

#include "whole.h"

#if GLANZ_SAVED_MOST > 0

#if GLANZ_SEQUENCES
/* What sensors have learnt is kept at once. @return 0: nothing was. */
static int keep_ranges(struct glanz_device *device) {
#if GLANZ_DRIVES_MOST > 0
    if (glanz_control_ranged(device->control) != device->ranged) {
        size_t capacity;
        uint8_t *record = glanz_store_scratch(device->store, &capacity);
        size_t count = 0;
        device->ranged = glanz_control_ranged(device->control);
        glanz_status status = glanz_ranges_pack(device->control, record, capacity, &count);
        glanz_saving_keep(device, GLANZ_KEY_RANGES, record, count, status);
        return 1;
    }
#endif
    (void)device;
    return 0;
}
#endif

#define AGAIN_US 250000u /* between two steps that a frame waits for */

static void keep(struct glanz_device *device, uint32_t spare_us, int still) {
    static const uint8_t none = 0;
    if (device->saving == 0) {
        if (!device->old_enough && device->clock >= (glanz_us)GLANZ_EARLY_MS * 1000u) {
            device->old_enough = 1; /* whatever it was that reset it, it has not come back */
            (void)(glanz_saving_begin(device, GLANZ_KEY_RESETS, &none, 1) == GLANZ_OK);
        }
#if GLANZ_SEQUENCES
        else if (!keep_ranges(device)) {
            glanz_resume_keep(device);
        }
#endif
    }
    if (device->saving == 0) {
        return;
    }
    glanz_us next = still ? glanz_control_next(device->control) : device->clock;
    if (next > device->clock) { /* nothing moves: there is time */
        glanz_us quiet = next - device->clock;
        spare_us = quiet > 1000000u ? 1000000u : quiet > spare_us ? (uint32_t)quiet : spare_us;
    }
    glanz_status status = glanz_store_work(device->store, spare_us);
    if (status == GLANZ_ERR_BUSY && device->clock - device->save_since > (glanz_us)GLANZ_PATIENCE_MS * 1000u) {
        device->counts.stalls++;
        device->save_since += AGAIN_US; /* the next steps get time to be done beside the frames again */
        status = glanz_store_work(device->store, 0xFFFFFFFFu);
    }
    if (status != GLANZ_ERR_BUSY) {
        glanz_saving_end(device, status);
    }
}

/* ---- the start ---- */

#define EARLY_MOST 3

static uint8_t count_reset(struct glanz_device *device) {
    uint8_t early = 0;
    size_t count = 0;
    if (glanz_store_load(device->store, GLANZ_KEY_RESETS, &early, 1, &count) != GLANZ_OK || count != 1) {
        early = 0;
    }
    uint8_t next = early < 255 ? (uint8_t)(early + 1) : early;
    glanz_status status = glanz_store_save(device->store, GLANZ_KEY_RESETS, &next, 1);
    if (status == GLANZ_OK) {
        status = glanz_store_finish(device->store);
    }
    if (status != GLANZ_OK) {
        glanz_device_note(device, GLANZ_TEXT("the store cannot be written to"));
    }
    return early >= EARLY_MOST ? early : 0;
}

/* A dim, warm light: about a hundredth of the full current. */
static void dim(struct glanz_light *light, uint8_t output, uint16_t first, uint8_t count, void *user) {
    (void)output;
    (void)first;
    (void)user;
    for (uint8_t i = 0; i < count; i++) {
        light[i].red = 900;
        light[i].green = 520;
        light[i].blue = 200;
    }
}

static glanz_status begin_show(struct glanz_device *device, struct glanz_fault *fault) {
    if (device->safe != 0) {
        struct glanz_change change = {device->clock, 1000, 0};
        glanz_device_note(device, GLANZ_TEXT("reset again and again soon after its start: a safe look, without the show"));
        glanz_status status = glanz_engine_paint(device->engine, dim, NULL);
        return status != GLANZ_OK ? status : glanz_engine_brightness(device->engine, GLANZ_ALL, 65535, change);
    }
#if GLANZ_SEQUENCES
    if (device->show->resume && device->store != NULL && device->effects != NULL) {
        int resumed = 0;
        glanz_status status = glanz_resume_begin(device, &resumed, fault);
        if (status != GLANZ_OK || resumed) {
            return status;
        }
    }
#endif
    return glanz_control_begin(device->control, device->show, device->clock, 0, fault);
}

static glanz_status begin(struct glanz_device *device, struct glanz_fault *fault) {
#if GLANZ_SEQUENCES
    device->kept_at = device->clock;
    device->since_at = device->clock;
#endif
    glanz_status status = begin_show(device, fault);
#if GLANZ_SEQUENCES
    device->seen = glanz_control_changes(device->control);
    device->kept = device->seen; /* the start itself is nothing to be kept */
#endif
    return status;
}

static void lend(struct glanz_device *device) {
    glanz_control_values(device->control, device->values, device->values_size);
#if GLANZ_SEQUENCES
    glanz_control_recaller(device->control, glanz_saved_recall, device);
#if GLANZ_DRIVES_MOST > 0
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    size_t count = 0;
    glanz_status status = glanz_store_load(device->store, GLANZ_KEY_RANGES, record, capacity, &count);
    if (status == GLANZ_OK && count != 0 && count <= capacity) {
        status = glanz_ranges_unpack(device->control, record, count);
    }
    if (status != GLANZ_OK) {
        glanz_device_note(device, GLANZ_TEXT("the ranges that sensors have learnt cannot be read"));
    }
    device->ranged = glanz_control_ranged(device->control);
#endif
#endif
}

GLANZ_CONST struct glanz_saving_part glanz_part_saving = {count_reset, glanz_slots_read, lend, begin, keep};

#endif
