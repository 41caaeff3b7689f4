/* SPDX-License-Identifier: MIT */
/* Another show or rig while the device runs: taken whole or refused whole, a rig for good or on trial. */
#include "whole.h"

#if GLANZ_LIVE

glanz_status glanz_device_change(struct glanz_device *device) {
    if (device->trial.next_rig != NULL && !device->sending) {
        GLANZ_CONST struct glanz_rig *was_rig = device->rig;
        GLANZ_CONST struct glanz_show *was_show = device->show;
        glanz_status status = glanz_device_build(device, device->trial.next_rig, device->trial.next_show, NULL);
        if (device->trial.next_ms != 0 && !device->trial.runs) {
            device->trial.old_rig = was_rig;
            device->trial.old_show = was_show;
        }
        device->trial.runs = device->trial.next_ms != 0;
        device->trial.end = device->clock + (glanz_time)device->trial.next_ms * 1000u;
        device->trial.next_rig = NULL;
        if (!device->trial.runs) {
            device->trial.old_rig = NULL;
        }
        return status;
    }
    if (device->trial.runs && device->clock >= device->trial.end && !device->sending) {
        device->trial.runs = 0;
        glanz_device_note(device, GLANZ_TEXT("the rig on trial was not confirmed: back to the one before"));
        glanz_status status = glanz_device_build(device, device->trial.old_rig, device->trial.old_show, NULL);
        device->trial.old_rig = NULL;
        return status;
    }
    return GLANZ_OK;
}

glanz_status glanz_device_take_show(struct glanz_device *device, GLANZ_CONST struct glanz_show *show,
                                    struct glanz_fault *fault) {
    if (device == NULL || show == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (device->inside) {
        return GLANZ_ERR_ORDER;
    }
    if (device->trial.next_rig != NULL) {
        return GLANZ_ERR_BUSY; /* another rig comes with the next frame */
    }
    glanz_status status = GLANZ_OK;
    if (show->segment_count <= device->segment_room) { /* else the engine tells */
        status = glanz_device_room(device->rig, show, device->segment_room, device->size, fault);
    }
    if (status == GLANZ_OK && glanz_device_safe(device) == 0) {
        status = glanz_control_take(device->control, show, glanz_device_now(device), 0, fault);
    }
    if (status == GLANZ_OK) {
        device->show = show;
    }
    if (status == GLANZ_OK && glanz_device_safe(device) != 0) {
        status = glanz_device_leave_safe(device);
    }
    return status;
}

glanz_status glanz_device_take_rig(struct glanz_device *device, GLANZ_CONST struct glanz_rig *rig,
                                   GLANZ_CONST struct glanz_show *show, uint32_t trial_ms, struct glanz_fault *fault) {
    if (device == NULL || rig == NULL || show == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (device->inside) {
        return GLANZ_ERR_ORDER;
    }
    glanz_status status = glanz_rig_check(rig, fault);
    if (status == GLANZ_OK) {
        status = glanz_show_check(show, rig, fault);
    }
    if (status == GLANZ_OK) {
        status = glanz_device_room(rig, show, device->segment_room, device->size, fault);
    }
    if (status == GLANZ_OK && show->segment_count > device->segment_room) {
        status = glanz_device_room(rig, show, show->segment_count, 0, fault);
    }
    if (status == GLANZ_OK) {
        device->trial.next_rig = rig;
        device->trial.next_show = show;
        device->trial.next_ms = trial_ms;
    }
    return status;
}

glanz_status glanz_device_keep_rig(struct glanz_device *device) {
    if (device == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (device->trial.next_rig != NULL && device->trial.next_ms != 0) {
        device->trial.next_ms = 0;
        return GLANZ_OK;
    }
    if (!device->trial.runs) {
        return GLANZ_ERR_ORDER;
    }
    device->trial.runs = 0;
    device->trial.old_rig = NULL;
    return GLANZ_OK;
}

uint32_t glanz_device_trial_ms(const struct glanz_device *device) {
    if (device == NULL || !device->trial.runs) {
        return 0;
    }
    return device->clock >= device->trial.end ? 1 : (uint32_t)((device->trial.end - device->clock + 999u) / 1000u);
}

int glanz_device_change_uses(const struct glanz_device *device, const void *memory, size_t size) {
    const struct trial *trial = &device->trial;
    return glanz_inside(trial->next_rig, memory, size) ||
           (trial->next_rig != NULL && glanz_inside(trial->next_show, memory, size)) ||
           glanz_inside(trial->old_rig, memory, size) ||
           (trial->old_rig != NULL && glanz_inside(trial->old_show, memory, size));
}

#else /* the rig and the show of the start stay */

glanz_status glanz_device_change(struct glanz_device *device) {
    (void)device;
    return GLANZ_OK;
}

glanz_status glanz_device_take_show(struct glanz_device *device, GLANZ_CONST struct glanz_show *show,
                                    struct glanz_fault *fault) {
    (void)fault;
    return device == NULL || show == NULL ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_ABSENT;
}

glanz_status glanz_device_take_rig(struct glanz_device *device, GLANZ_CONST struct glanz_rig *rig,
                                   GLANZ_CONST struct glanz_show *show, uint32_t trial_ms, struct glanz_fault *fault) {
    (void)trial_ms;
    (void)fault;
    return device == NULL || rig == NULL || show == NULL ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_ABSENT;
}

glanz_status glanz_device_keep_rig(struct glanz_device *device) {
    return device == NULL ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_ORDER;
}

uint32_t glanz_device_trial_ms(const struct glanz_device *device) {
    (void)device;
    return 0;
}

int glanz_device_change_uses(const struct glanz_device *device, const void *memory, size_t size) {
    (void)device;
    (void)memory;
    (void)size;
    return 0;
}

#endif
