/* SPDX-License-Identifier: MIT */
/* Another show or rig while the device runs: taken whole or refused whole, a rig for good or on trial. */
#include "whole.h"

#ifndef __AVR__ /* see struct glanz_device */

/* The rig and the show before the trial. The same rig: only the show goes back. */
static glanz_status go_back(struct glanz_device *device) {
    GLANZ_CONST struct glanz_rig *rig = device->trial.old_rig;
    GLANZ_CONST struct glanz_show *show = device->trial.old_show;
    glanz_status status = GLANZ_ERR_MEMORY;
    device->trial.runs = 0;
    device->trial.old_rig = NULL;
    if (rig == device->rig) {
        glanz_device_note(device, GLANZ_TEXT("the show on trial was not confirmed: back to the one before"));
        status = glanz_control_set_show(device->control, show, glanz_device_now(device), NULL);
        device->show = status == GLANZ_OK ? show : device->show;
    } else {
        glanz_device_note(device, GLANZ_TEXT("the rig on trial was not confirmed: back to the one before"));
    }
    return status == GLANZ_OK ? GLANZ_OK : glanz_device_build(device, rig, show, NULL); /* from dark */
}

/* What ran before the trial that begins now. */
static void begin_trial(struct glanz_device *device, uint32_t ms) {
    if (ms != 0 && !device->trial.runs) {
        device->trial.old_rig = device->rig;
        device->trial.old_show = device->show;
    }
    device->trial.runs = ms != 0;
    device->trial.end = device->clock + (glanz_us)ms * 1000u;
    if (ms == 0) {
        device->trial.old_rig = NULL;
    }
}

/* At a frame boundary: take the rig that waits, or go back from one on trial whose time is over. @return GLANZ_ERR_BUSY when
 * that has to wait for the outputs: no frame may be shaded, or with two buffers they were never free. */
static glanz_status change(struct glanz_device *device) {
    int over = device->trial.runs && device->clock >= device->trial.end;
    if (device->sending) {
        return over || device->trial.next_rig != NULL ? GLANZ_ERR_BUSY : GLANZ_OK;
    }
    if (device->trial.next_rig != NULL) {
        GLANZ_CONST struct glanz_rig *rig = device->trial.next_rig;
        begin_trial(device, device->trial.next_ms);
        device->trial.next_rig = NULL;
        return glanz_device_build(device, rig, device->trial.next_show, NULL);
    }
    return over ? go_back(device) : GLANZ_OK;
}

static glanz_status check(const struct glanz_device *device, GLANZ_CONST struct glanz_rig *rig,
                          GLANZ_CONST struct glanz_show *show, struct glanz_fault *fault) {
    glanz_status status =
        GLANZ_CHECKS_OF(device->parts) == NULL ? GLANZ_OK : GLANZ_CHECKS_OF(device->parts)->show(show, rig, fault);
    status = status != GLANZ_OK
                 ? status
                 : glanz_parts_lacking(fault, glanz_parts_needed(rig, show) & ~glanz_parts_present(device->parts));
#if GLANZ_DRIVES_MOST > 0
    if (status == GLANZ_OK && device->parts->sound != NULL) {
        status = device->parts->sound->fits(rig, show, device->sounds, device->sound_count, fault);
    }
#endif
    return status;
}

static glanz_status take_show(struct glanz_device *device, GLANZ_CONST struct glanz_show *show, uint32_t trial_ms,
                              struct glanz_fault *fault) {
    uint8_t of_rig = device->trial.runs && device->trial.old_rig != device->rig;
    if (device->trial.next_rig != NULL || (of_rig && trial_ms != 0)) {
        return GLANZ_ERR_BUSY; /* another rig comes with the next frame, or is on trial */
    }
    glanz_status status = GLANZ_OK;
    if (show->segment_count <= device->segment_capacity) { /* else the engine tells */
        status = check(device, device->rig, show, fault);
        status = status != GLANZ_OK ? status
                                    : glanz_device_fits(device->parts, device->rig, show, device->segment_capacity,
                                                        device->input_capacity, FADING_OF(device), device->size, fault);
    }
    uint8_t safe = glanz_device_safe(device);
    if (device->control == NULL) {
        return glanz_parts_lacking(fault, GLANZ_PART_CONTROL);
    }
    if (status == GLANZ_OK && safe == 0) {
        status = glanz_control_set_show(device->control, show, glanz_device_now(device), fault);
    }
    if (status == GLANZ_OK) {
        device->change = change;
        if (!of_rig) {
            begin_trial(device, trial_ms);
        }
        device->show = show;
    }
    return status;
}

glanz_status glanz_device_set_show(struct glanz_device *device, GLANZ_CONST struct glanz_show *show, uint32_t trial_ms,
                                   struct glanz_fault *fault) {
    if (show == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    DEVICE_ENTER(device);
    glanz_status status = glanz_device_leave(device, take_show(device, show, trial_ms, fault));
    return status == GLANZ_OK && glanz_device_safe(device) != 0 ? glanz_device_leave_safe(device) : status;
}

static glanz_status take_rig(struct glanz_device *device, GLANZ_CONST struct glanz_rig *rig,
                             GLANZ_CONST struct glanz_show *show, uint32_t trial_ms, struct glanz_fault *fault) {
    glanz_status status = GLANZ_CHECKS_OF(device->parts) == NULL ? GLANZ_OK : GLANZ_CHECKS_OF(device->parts)->rig(rig, fault);
    if (status == GLANZ_OK) {
        status = check(device, rig, show, fault);
    }
    if (status == GLANZ_OK) {
        status = glanz_device_fits(device->parts, rig, show, device->segment_capacity, device->input_capacity,
                                   FADING_OF(device), device->size, fault);
    }
    if (status == GLANZ_OK && show->segment_count > device->segment_capacity) {
        status = glanz_device_fits(device->parts, rig, show, show->segment_count, device->input_capacity, FADING_OF(device), 0,
                                   fault);
    }
    if (status == GLANZ_OK) {
        device->change = change;
        device->trial.next_rig = rig;
        device->trial.next_show = show;
        device->trial.next_ms = trial_ms;
    }
    return status;
}

glanz_status glanz_device_set_rig(struct glanz_device *device, GLANZ_CONST struct glanz_rig *rig,
                                  GLANZ_CONST struct glanz_show *show, uint32_t trial_ms, struct glanz_fault *fault) {
    if (rig == NULL || show == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    DEVICE_ENTER(device);
    return glanz_device_leave(device, take_rig(device, rig, show, trial_ms, fault));
}

glanz_status glanz_device_keep(struct glanz_device *device) {
    DEVICE_ENTER(device);
    if (device->trial.next_rig != NULL && device->trial.next_ms != 0) {
        device->trial.next_ms = 0;
        return glanz_device_leave(device, GLANZ_OK);
    }
    glanz_status status = device->trial.runs ? GLANZ_OK : GLANZ_ERR_STATE;
    device->trial.runs = 0;
    device->trial.old_rig = NULL;
    return glanz_device_leave(device, status);
}

uint32_t glanz_device_trial_ms(const struct glanz_device *device) {
    if (device == NULL || !device->trial.runs) {
        return 0;
    }
    return device->clock >= device->trial.end ? 1 : (uint32_t)((device->trial.end - device->clock + 999u) / 1000u);
}

int glanz_device_change_uses(const struct glanz_device *device, const void *memory, size_t size) {
    const struct trial *trial = &device->trial;
    return (trial->next_rig != NULL &&
            (glanz_rig_uses(trial->next_rig, memory, size) || glanz_show_uses(trial->next_show, memory, size))) ||
           (trial->old_rig != NULL &&
            (glanz_rig_uses(trial->old_rig, memory, size) || glanz_show_uses(trial->old_show, memory, size)));
}

#endif
