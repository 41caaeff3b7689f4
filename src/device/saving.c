/* SPDX-License-Identifier: MIT */
/* What a device keeps in its store, on its way there and back: steps of a save are done where there is time for them; what is
 * showing is kept, to be resumed; and how often it was reset early, which ends in a safe look. */
#include <string.h>

#include "whole.h"

#if GLANZ_SAVED_MOST > 0

/* ---- what is under way ---- */

static void happened(struct glanz_device *device, uint16_t key, uint8_t index, uint8_t good) {
    if (device->listener != NULL && key != GLANZ_KEY_RESETS && key != GLANZ_KEY_ORDER) {
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
static void end_save(struct glanz_device *device, glanz_status status) {
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
        device->spent = key == GLANZ_KEY_RUNNING;
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
            end_save(device, GLANZ_OK);
        }
    }
    return status;
}

#if GLANZ_SEQUENCES
#define SETTLE_US 2000000u                               /* after the last change by hand */
#define PLAYING_US ((glanz_us)GLANZ_RESUME_S * 1000000u) /* when only playlists go on */

/* Is it time to keep what is showing? */
static int running_due(struct glanz_device *device) {
    struct glanz_changes now = glanz_control_changes(device->control);
    if (now.by_hand != device->seen.by_hand) {
        device->changed_at = device->clock;
        device->seen = now;
    }
    if (!device->show->resume || device->safe || device->spent || device->effects == NULL ||
        !glanz_credit_left(&device->running, device->clock)) {
        return 0;
    }
    return (now.by_hand != device->kept.by_hand && device->clock - device->changed_at >= SETTLE_US) ||
           (now.by_itself != device->kept.by_itself && device->clock - device->kept_at >= PLAYING_US);
}

static void keep_running(struct glanz_device *device) {
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    size_t count = 0;
    device->kept = glanz_control_changes(device->control);
    device->kept_at = device->clock;
    glanz_credit_take(&device->running, device->clock);
    glanz_status status = glanz_running_pack(device->control, record, capacity, &count);
    if (status == GLANZ_OK) {
        status = glanz_saving_begin(device, GLANZ_KEY_RUNNING, record, count);
    }
    if (status != GLANZ_OK) {
        device->saving = GLANZ_KEY_RUNNING;
        end_save(device, status);
    }
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
        else if (running_due(device)) {
            keep_running(device);
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
        end_save(device, status);
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
        size_t capacity;
        uint8_t *record = glanz_store_scratch(device->store, &capacity);
        size_t count = 0;
        glanz_status status = glanz_store_load(device->store, GLANZ_KEY_RUNNING, record, capacity, &count);
        if (status == GLANZ_OK && count != 0 && count <= capacity) {
            status = glanz_control_begin(device->control, device->show, device->clock, 1, fault);
            if (status != GLANZ_OK) {
                return status;
            }
            status = glanz_running_unpack(device->control, device->effects, record, count, device->clock, NULL);
            if (status == GLANZ_OK) {
                return GLANZ_OK;
            }
        }
        if (status != GLANZ_OK) {
            glanz_device_note(device, GLANZ_TEXT("what was last showing cannot be read"));
        }
    }
#endif
    return glanz_control_begin(device->control, device->show, device->clock, 0, fault);
}

static glanz_status begin(struct glanz_device *device, struct glanz_fault *fault) {
    glanz_status status = begin_show(device, fault);
#if GLANZ_SEQUENCES
    device->seen = glanz_control_changes(device->control);
    device->kept = device->seen; /* the start itself is nothing to be kept */
    device->kept_at = device->clock;
#endif
    return status;
}

static void lend(struct glanz_device *device) {
    glanz_control_values(device->control, device->values, device->values_size);
}

GLANZ_CONST struct glanz_saving_part glanz_part_saving = {count_reset, glanz_slots_read, lend, begin, keep};

#endif
