/* SPDX-License-Identifier: MIT */
/* The device: one frame from signals to bytes, and the talk with the port.
 *
 * Invariants: bytes that are being sent are never touched; a frame is handed over whole or not at all; whatever fails, the
 * old rig and show go on. */
#include <string.h>

#include "whole.h"

#define STUCK_US 250000u /* beyond four times the wire time, a sending does not end any more */

/* ---- a frame ---- */

static glanz_status send(struct glanz_device *device) {
    struct glanz_sending list[GLANZ_OUTPUTS_MOST];
    glanz_status status = GLANZ_OK;
    for (uint8_t i = 0; i < device->rig->output_count && status == GLANZ_OK; i++) {
        list[i].output = &device->rig->outputs[i];
        status = glanz_engine_bytes(device->engine, i, &list[i].bytes, &list[i].count);
    }
    if (status == GLANZ_OK) {
        status = device->port->start(device->port->user, list, device->rig->output_count);
    }
    if (status != GLANZ_OK) {
        device->counts.failed++;
        glanz_device_note(device, GLANZ_TEXT("the port could not start sending"));
        return GLANZ_ERR_PORT;
    }
    glanz_engine_sent(device->engine);
    device->counts.sent++;
    device->sent_at = device->clock;
    device->sending = 1;
    device->unsent = 0;
    return GLANZ_OK;
}

/* Is the port still at it? Gives up when it should have ended long ago. */
static glanz_status settle(struct glanz_device *device) {
    if (device->sending && !device->port->busy(device->port->user)) {
        device->sending = 0;
    }
    if (device->sending && device->clock - device->sent_at > (glanz_us)(device->wire_us * 4u + STUCK_US)) {
        device->counts.stuck++;
        glanz_device_note(device, GLANZ_TEXT("a sending does not end"));
        if (device->port->stop != NULL) { /* given up */
            device->sending = 0;
            device->port->stop(device->port->user);
        } else { /* its bytes are still the port's: it is waited for */
            device->sent_at = device->clock;
        }
        return GLANZ_ERR_PORT;
    }
    return GLANZ_OK;
}

static int has_two_buffers(const struct glanz_device *device) {
    for (uint8_t i = 0; i < device->rig->output_count; i++) {
        if (device->rig->outputs[i].buffers != 2 && device->rig->outputs[i].stretches[0].chip->protocol != GLANZ_CLOCKED) {
            return 0;
        }
    }
    return 1;
}

static glanz_status frame(struct glanz_device *device, uint32_t now_us) {
    glanz_status settled = settle(device);
    glanz_status status = GLANZ_OK;
    int changes = 0;
#ifndef __AVR__
    if (device->change != NULL) {
        status = device->change(device);
        changes = status == GLANZ_ERR_BUSY;
        status = changes ? GLANZ_OK : status;
    }
#endif
    if (status == GLANZ_OK && device->control != NULL) {
        status = device->parts->control->run(device->control, device->clock, now_us);
    }
    if (status != GLANZ_OK) {
        return status;
    }
    if (device->sending && (changes || device->unsent || !has_two_buffers(device))) {
        device->counts.busy++;
        status = glanz_engine_advance(device->engine, device->clock);
        return status != GLANZ_OK ? status : settled != GLANZ_OK ? settled : GLANZ_ERR_BUSY;
    }
    uint8_t shaded = 0;
    uint32_t refresh_ms = device->rig->refresh_ms == 0 ? 1000u : device->rig->refresh_ms;
    uint32_t passes = glanz_engine_extra_passes(device->engine);
    status = glanz_engine_frame(device->engine, device->clock, device->counts.sent == 0, &shaded);
    device->counts.again += glanz_engine_extra_passes(device->engine) - passes;
    device->counts.shaded += shaded;
    device->unsent = (uint8_t)(device->unsent | shaded);
    if (status != GLANZ_OK) {
        return status;
    }
    if (!device->unsent && device->clock - device->sent_at < (glanz_us)(refresh_ms * 1000u)) {
        device->counts.still++;
        return settled;
    }
    if (device->sending && device->port->busy(device->port->user)) { /* it may have ended while this frame was shaded */
        return settled;                                              /* it waits in its second buffer */
    }
    status = send(device);
    return glanz_status_first(status, settled);
}

glanz_status glanz_device_frame(struct glanz_device *device, uint32_t now_us) {
    if (device == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (IS_INSIDE(device) || device->framing) {
        return GLANZ_ERR_STATE;
    }
    uint32_t elapsed = device->begun ? now_us - device->last_us : 0;
    if (elapsed >= 0x80000000u) { /* backwards: time goes on from here */
        device->counts.backward++;
        elapsed = 0;
    }
    device->begun = 1;
    device->last_us = now_us;
    device->clock += elapsed;
    device->counts.frames++;
    device->framing = 1;
#ifndef __AVR__
    if (device->serve != NULL) {
        device->serve(device);
    }
#endif
    SET_INSIDE(device, 1);
#if GLANZ_SAVED_MOST
    uint32_t still = device->counts.still;
    glanz_status status = frame(device, now_us);
    if (SAVING(device) != NULL) {
        SAVING(device)->keep(device, 0, device->counts.still != still);
    }
#else
    glanz_status status = frame(device, now_us);
#endif
    SET_INSIDE(device, 0);
    device->framing = 0;
    return status;
}

#ifndef __AVR__
void glanz_device_idle(struct glanz_device *device, uint32_t spare_us) {
    if (device == NULL || IS_INSIDE(device)) {
        return;
    }
    SET_INSIDE(device, 1);
    if (device->unsent && device->sending && !device->port->busy(device->port->user)) {
        device->sending = 0; /* a frame has waited for that in its second buffer */
        (void)send(device);  /* counted when the port refuses; the next frame tries again */
    }
#if GLANZ_SAVED_MOST
    if (SAVING(device) != NULL) {
        SAVING(device)->keep(device, spare_us, 0);
    }
#else
    (void)spare_us;
#endif
    SET_INSIDE(device, 0);
}
#else /* a loop sends: nothing waits, nothing is saved */
void glanz_device_idle(struct glanz_device *device, uint32_t spare_us) {
    (void)device;
    (void)spare_us;
}
#endif

glanz_status glanz_device_push(struct glanz_device *device, uint8_t input, uint16_t value, uint32_t time_us) {
    return device == NULL ? GLANZ_ERR_ARGUMENT : glanz_inbox_push(device->inbox, input, value, time_us);
}

/* ---- the rest ---- */

glanz_status glanz_device_act(struct glanz_device *device, GLANZ_CONST struct glanz_action *action) {
    DEVICE_ENTER(device);
    glanz_status status = GLANZ_ERR_ABSENT;
    if (device->control != NULL) {
        status = glanz_control_act(device->control, action, glanz_device_now(device));
    }
    return glanz_device_leave(device, status);
}

void glanz_device_listen(struct glanz_device *device, glanz_listener listener, void *user) {
    if (device != NULL) {
        device->listener = listener;
        device->listener_user = user;
        if (device->control != NULL) {
            device->parts->control->listen(device->control, listener, user);
        }
    }
}

struct glanz_engine *glanz_device_engine(struct glanz_device *device) {
    return device == NULL ? NULL : device->engine;
}

struct glanz_control *glanz_device_control(struct glanz_device *device) {
    return device == NULL ? NULL : device->control;
}

GLANZ_CONST struct glanz_rig *glanz_device_rig(const struct glanz_device *device) {
    return device == NULL ? NULL : device->rig;
}

GLANZ_CONST struct glanz_show *glanz_device_show(const struct glanz_device *device) {
    return device == NULL ? NULL : device->show;
}

#if GLANZ_CALENDAR
glanz_status glanz_device_utc(struct glanz_device *device, uint32_t utc) {
    static GLANZ_CONST struct clock_calls calls = {glanz_control_utc, glanz_control_clock};
    DEVICE_ENTER(device);
    glanz_status status = GLANZ_ERR_ABSENT;
    if (device->control != NULL) {
        device->clock_calls = &calls;
        status = glanz_control_clock(device->control, utc, glanz_device_now(device));
    }
    return glanz_device_leave(device, status);
}
#endif

glanz_us glanz_device_clock(const struct glanz_device *device) {
    return device == NULL ? 0 : device->clock;
}

struct glanz_counts glanz_device_counts(const struct glanz_device *device) {
    struct glanz_counts none;
    memset(&none, 0, sizeof none);
    if (device == NULL) {
        return none;
    }
    struct glanz_counts counts = device->counts;
    counts.lost = glanz_inbox_lost(device->inbox);
    return counts;
}
