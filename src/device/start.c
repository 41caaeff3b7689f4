/* SPDX-License-Identifier: MIT */
/* The device's start: what it needs is looked up, the memory laid out, the show begun; and its clock. */
#include <string.h>

#include "whole.h"

#define BYTE_US 20u /* of the slowest chips */

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

static size_t size_of(GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity,
                      uint8_t input_capacity, uint8_t fading) {
    return align8(sizeof(struct glanz_device)) + glanz_inbox_size(input_capacity) +
           (parts->control == NULL ? 0 : align8(parts->control->size(parts, rig, segment_capacity))) +
           glanz_engine_size(parts, rig, segment_capacity, fading);
}

glanz_status glanz_device_fits(GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig,
                               GLANZ_CONST struct glanz_show *show, uint8_t segment_capacity, uint8_t input_capacity,
                               uint8_t fading, size_t size, struct glanz_fault *fault) {
    if (rig->input_count > input_capacity) {
        if (GLANZ_CHECKS_OF(parts) != NULL) {
            GLANZ_CHECKS_OF(parts)->inputs_most(fault, rig->input_count, input_capacity);
        }
        return GLANZ_ERR_MEMORY;
    }
    size_t needed = size_of(parts, rig, segment_capacity, input_capacity, fading);
#if GLANZ_FIELDS
    needed += parts->fields == NULL ? 0 : parts->fields->memory(show, rig);
#else
    (void)show;
#endif
    if (size >= needed) {
        return GLANZ_OK;
    }
    if (GLANZ_CHECKS_OF(parts) != NULL) {
        return GLANZ_CHECKS_OF(parts)->device_memory(fault, needed, size, parts, rig, show, input_capacity, segment_capacity);
    }
    return glanz_parts_memory(parts, fault, NULL, needed, size);
}

#ifndef __AVR__
void glanz_device_note(const struct glanz_device *device, const char *line) {
    if (device->port->log != NULL && line != NULL) {
        device->port->log(device->port->user, line);
    }
}
#endif

/* Lay engine and controller out behind the device, for a rig that was checked and fits. */
glanz_status glanz_device_build(struct glanz_device *device, GLANZ_CONST struct glanz_rig *rig,
                                GLANZ_CONST struct glanz_show *show, struct glanz_fault *fault) {
    size_t fixed = align8(sizeof *device) + glanz_inbox_size(device->input_capacity); /* never laid out anew */
    uint8_t *at = (uint8_t *)device + fixed;
    GLANZ_CONST struct glanz_control_part *control = device->parts->control;
    size_t control_size = control == NULL ? 0 : control->size(device->parts, rig, device->segment_capacity);
    size_t left = device->size - fixed - align8(control_size);
    uint8_t *engine_at = at + align8(control_size);
#if GLANZ_CALENDAR
    uint32_t utc = device->clock_calls == NULL ? 0 : device->clock_calls->utc(device->control);
#endif
    glanz_status status = glanz_engine_start(&device->engine, engine_at, left, device->parts, rig, device->segment_capacity,
                                             FADING_OF(device), fault);
    if (status == GLANZ_OK && control != NULL) {
        status =
            control->start(&device->control, at, control_size, device->engine, rig, device->segment_capacity, device->inbox);
    }
    if (status != GLANZ_OK) {
        return status;
    }
    if (control != NULL) {
        control->listen(device->control, device->listener, device->listener_user);
    }
#if GLANZ_DRIVES_MOST > 0
    if (control != NULL && device->parts->sound != NULL) {
        status = device->parts->sound->attach(device->control, device->sounds, device->sound_count);
        if (status != GLANZ_OK) {
            return status;
        }
    }
#endif
#if GLANZ_SAVED_MOST > 0
    if (SAVING(device) != NULL) {
        SAVING(device)->lend(device);
    }
#endif
    device->rig = rig;
    device->show = show;
    device->wire_us = 0;
    for (uint8_t i = 0; i < rig->output_count; i++) {
        uint32_t wire_us = glanz_output_bytes(&rig->outputs[i]) * BYTE_US;
        device->wire_us = wire_us > device->wire_us ? wire_us : device->wire_us;
    }
    device->unsent = 0;
    status = glanz_engine_advance(device->engine, device->clock);
#if GLANZ_CALENDAR
    if (utc != 0 && status == GLANZ_OK) {
        status = device->clock_calls->notify(device->control, utc, device->clock);
    }
#endif
    return status != GLANZ_OK ? status : glanz_device_begin(device, fault);
}

/* Without a controller: the segments with their looks, from dark. */
static glanz_status begin_plain(struct glanz_device *device, struct glanz_fault *fault) {
    GLANZ_CONST struct glanz_show *show = device->show;
    struct glanz_change change = {device->clock, 1000, 0};
    glanz_status status = glanz_engine_begin(device->engine, show->segments, show->stack, show->segment_count, show->colors,
                                             show->color_count, fault);
    return status != GLANZ_OK ? status
                              : glanz_engine_brightness(device->engine, GLANZ_ALL,
                                                        show->brightness == 0 ? GLANZ_LIGHTNESS(60) : show->brightness, change);
}

glanz_status glanz_device_begin(struct glanz_device *device, struct glanz_fault *fault) {
#if GLANZ_SAVED_MOST > 0
    if (SAVING(device) != NULL) {
        return SAVING(device)->begin(device, fault);
    }
#endif
    return device->control == NULL ? begin_plain(device, fault)
                                   : device->parts->control->begin(device->control, device->show, device->clock, 0, fault);
}

uint8_t glanz_device_safe(const struct glanz_device *device) {
#if GLANZ_SAVED_MOST > 0
    return device == NULL ? 0 : device->safe;
#else
    (void)device;
    return 0;
#endif
}

glanz_status glanz_device_leave_safe(struct glanz_device *device) {
    DEVICE_ENTER(device);
    glanz_status status = GLANZ_ERR_STATE;
#if GLANZ_SAVED_MOST > 0
    if (device->safe != 0) {
        device->safe = 0;
        status = glanz_engine_paint(device->engine, NULL, NULL);
        status = status == GLANZ_OK ? glanz_device_begin(device, NULL) : status;
    }
#endif
    return glanz_device_leave(device, status);
}

/* What a rig and a show need is there. */
static glanz_status check_parts(const struct glanz_setup *setup, GLANZ_CONST struct glanz_parts *parts,
                                struct glanz_fault *fault) {
    GLANZ_CONST struct glanz_checks_part *checks = GLANZ_CHECKS_OF(parts);
    glanz_status status = checks == NULL ? GLANZ_OK : checks->rig(setup->rig, fault);
    if (status == GLANZ_OK && checks != NULL) {
        status = checks->show(setup->show, setup->rig, fault);
    }
    if (status != GLANZ_OK) {
        return status;
    }
#ifdef __AVR__ /* shows are trusted there, but for what would be worst: no limit, or a button without effect */
    return (setup->rig->supplies->limit_ma != 0 && parts->limit == NULL) ||
                   (setup->show->trigger_count != 0 && parts->control == NULL)
               ? GLANZ_ERR_ABSENT
               : GLANZ_OK;
#else
    unsigned needed = glanz_parts_needed(setup->rig, setup->show);
#if GLANZ_SAVED_MOST > 0
    needed |= setup->store != NULL ? GLANZ_PARTS_OF_SAVING : 0u;
#endif
    status = glanz_parts_lacking(fault, needed & ~glanz_parts_present(parts));
#if GLANZ_DRIVES_MOST > 0
    if (status == GLANZ_OK && parts->sound != NULL) {
        status = parts->sound->fits(setup->rig, setup->show, setup->sounds, setup->sound_count, fault);
    }
#endif
    return status;
#endif
}

/* What the setup says, in memory that holds nothing yet. */
static void begin_device(struct glanz_device *device, const struct glanz_setup *setup, GLANZ_CONST struct glanz_parts *parts) {
    memset(device, 0, sizeof *device);
    device->parts = parts;
    device->port = setup->port;
    device->effects = setup->effects;
#if GLANZ_DRIVES_MOST > 0
    device->sounds = setup->sounds;
    device->sound_count = setup->sound_count;
#endif
#ifndef __AVR__
    device->fading = setup->fading;
#endif
#if GLANZ_SAVED_MOST > 0
    device->store = setup->store;
    device->values = setup->values;
    device->values_size = setup->values_size;
#endif
}

glanz_status glanz_device_start_as(struct glanz_device **out, void *memory, size_t size, const struct glanz_setup *setup,
                                   struct glanz_fault *fault, uint32_t layout) {
    if (layout != (uint32_t)GLANZ_LAYOUT) { /* then the setup may lie otherwise, but for what it begins with */
        if (setup != NULL && setup->parts != NULL && GLANZ_CHECKS_OF(setup->parts) != NULL) {
            GLANZ_CHECKS_OF(setup->parts)->layout(fault);
        }
        return GLANZ_ERR_ARGUMENT;
    }
    if (out == NULL || memory == NULL || setup == NULL || setup->rig == NULL || setup->show == NULL || setup->port == NULL ||
        setup->port->version != 2 || setup->port->start == NULL || setup->port->busy == NULL || setup->port->time_us == NULL ||
        setup->segment_capacity > GLANZ_SEGMENTS_MOST || GLANZ_MISALIGNED(memory) != 0) {
        if (setup != NULL && setup->parts != NULL && GLANZ_CHECKS_OF(setup->parts) != NULL) {
            GLANZ_CHECKS_OF(setup->parts)->misuse(fault, out, memory, setup);
        }
        return GLANZ_ERR_ARGUMENT;
    }
#ifndef __AVR__
    if (setup->fading == GLANZ_NO_FADING && setup->parts != NULL && setup->parts->control != NULL) {
        if (setup->parts->checks != NULL) {
            setup->parts->checks->fading(fault);
        }
        return GLANZ_ERR_ARGUMENT; /* looks change by the controller */
    }
#endif
    uint8_t capacity = setup->segment_capacity != 0 ? setup->segment_capacity : setup->show->segment_count;
    capacity = capacity == 0 ? 1 : capacity;
    uint8_t inputs = setup->input_capacity != 0 ? setup->input_capacity : setup->rig->input_count;
    GLANZ_CONST struct glanz_parts *parts = setup->parts == NULL ? &glanz_nothing : setup->parts;
    glanz_status status = check_parts(setup, parts, fault);
    if (status == GLANZ_OK) {
        status = glanz_device_fits(parts, setup->rig, setup->show, capacity, inputs, FADING_OF(setup), size, fault);
    }
    if (status != GLANZ_OK) {
        return status;
    }
    struct glanz_device *device = (struct glanz_device *)memory;
    begin_device(device, setup, parts);
    device->size = size;
    device->segment_capacity = capacity;
    device->input_capacity = inputs;
    SET_INSIDE(device, 1);
#if GLANZ_SAVED_MOST > 0
    device->safe = SAVING(device) == NULL ? 0 : SAVING(device)->count_reset(device);
#endif
    status = glanz_inbox_start(&device->inbox, (uint8_t *)memory + align8(sizeof *device), glanz_inbox_size(inputs), inputs);
    if (status == GLANZ_OK) {
        status = glanz_device_build(device, setup->rig, setup->show, fault);
    }
    SET_INSIDE(device, 0);
    if (status == GLANZ_OK) {
#if GLANZ_SAVED_MOST > 0
        if (SAVING(device) != NULL) {
            SAVING(device)->read_saved(device);
        }
#endif
        *out = device;
    }
    return status;
}

glanz_us glanz_device_now(const struct glanz_device *device) {
    if (device == NULL) {
        return 0;
    }
    if (device->framing || !device->begun) { /* inside a frame it is the frame's time */
        return device->clock;
    }
    uint32_t since = device->port->time_us(device->port->user) - device->last_us;
    return since < 0x80000000u ? device->clock + since : device->clock;
}
