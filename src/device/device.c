/* SPDX-License-Identifier: MIT */
/* The device: lays out the memory, runs one frame from signals to bytes, and talks to the port.
 *
 * Invariants: bytes that are being sent are never touched; a frame is handed over whole or not at all; whatever fails, the
 * old rig and show go on. */
#include <string.h>

#include <glanz/device.h>

#define KEY_PRESETS 0x100u /* records of saved presets: this and those after it */
#define STUCK_US 250000u   /* beyond four times the wire time, a sending does not end any more */

struct saved {
    char name[GLANZ_NAME_MOST + 1]; /* empty: free */
};

struct glanz_device {
    GLANZ_CONST struct glanz_rig *rig, *old_rig, *next_rig;
    GLANZ_CONST struct glanz_show *show, *old_show, *next_show;
    GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects;
    const struct glanz_port *port;
    struct glanz_engine *engine;
    struct glanz_control *control;
    glanz_listener listener;
    void *listener_user;
    size_t size;
    uint64_t clock;
    uint64_t sent_at, trial_end;
    uint32_t last_us, wire_us, next_trial_ms;
    struct glanz_counts counts;
    uint8_t segment_room;
    uint8_t begun;  /* a time is known */
    uint8_t inside; /* in glanz_device_frame() */
    uint8_t sending;
    uint8_t unsent; /* a shaded frame waits for the outputs */
    uint8_t on_trial;
    struct saved saved[GLANZ_SAVED_MOST];
};

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

size_t glanz_device_size(GLANZ_CONST struct glanz_rig *rig, uint8_t segment_room) {
    if (glanz_rig_check(rig, NULL) != GLANZ_OK) {
        return 0;
    }
    return align8(sizeof(struct glanz_device)) + align8(glanz_control_size(rig)) +
           glanz_engine_size(rig, segment_room == 0 ? 1 : segment_room);
}

static glanz_status check_memory(GLANZ_CONST struct glanz_rig *rig, uint8_t segment_room, size_t size,
                                 struct glanz_fault *fault) {
    size_t needed = glanz_device_size(rig, segment_room);
    return size >= needed ? GLANZ_OK : glanz_fault_memory(fault, GLANZ_TEXT("the device"), needed, size);
}

static void note(const struct glanz_device *device, const char *line) {
    if (device->port->log != NULL) {
        device->port->log(device->port->user, line);
    }
}

/* Lay engine and controller out behind the device, for a rig that was checked and fits. */
static glanz_status build(struct glanz_device *device, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show,
                          struct glanz_fault *fault) {
    uint8_t *at = (uint8_t *)device + align8(sizeof *device);
    size_t left = device->size - align8(sizeof *device) - align8(glanz_control_size(rig));
    uint8_t *engine_at = at + align8(glanz_control_size(rig));
    glanz_status status = glanz_engine_start(&device->engine, engine_at, left, rig, device->segment_room, fault);
    if (status == GLANZ_OK) {
        status = glanz_control_start(&device->control, at, glanz_control_size(rig), device->engine, rig);
    }
    if (status != GLANZ_OK) {
        return status;
    }
    glanz_control_listen(device->control, device->listener, device->listener_user);
    device->rig = rig;
    device->show = show;
    device->wire_us = 0;
    for (uint8_t i = 0; i < rig->output_count; i++) {
        uint32_t wire_us = glanz_output_wire_us(&rig->outputs[i]);
        device->wire_us = wire_us > device->wire_us ? wire_us : device->wire_us;
    }
    device->unsent = 0;
    status = glanz_engine_advance(device->engine, device->clock);
    return status != GLANZ_OK ? status : glanz_control_take(device->control, show, device->clock, 1, fault);
}

static uint16_t preset_key(uint8_t number) {
    return (uint16_t)(KEY_PRESETS + number);
}

static void read_saved(struct glanz_device *device) {
    uint8_t record[GLANZ_RECORD_MOST];
    for (uint8_t i = 0; i < GLANZ_SAVED_MOST && device->port->load != NULL; i++) {
        size_t count = 0;
        char name[GLANZ_NAME_MOST + 1];
        if (device->port->load(device->port->user, preset_key(i), record, sizeof record, &count) != GLANZ_OK || count == 0) {
            continue;
        }
        if (count > sizeof record || glanz_preset_name(name, record, count) != GLANZ_OK) {
            note(device, "a saved preset is damaged and was left out");
            continue;
        }
        memcpy(device->saved[i].name, name, sizeof name);
    }
}

glanz_status glanz_device_start(struct glanz_device **out, void *memory, size_t size, const struct glanz_setup *setup,
                                struct glanz_fault *fault) {
    if (out == NULL || memory == NULL || setup == NULL || setup->rig == NULL || setup->show == NULL || setup->port == NULL ||
        setup->port->version != 1 || setup->port->start == NULL || setup->port->busy == NULL ||
        (setup->port->load == NULL) != (setup->port->save == NULL) || setup->segment_room > GLANZ_SEGMENTS_MOST ||
        ((uintptr_t)memory & (sizeof(void *) - 1u)) != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    uint8_t room = setup->segment_room != 0 ? setup->segment_room : setup->show->segment_count;
    room = room == 0 ? 1 : room;
    glanz_status status = glanz_rig_check(setup->rig, fault);
    if (status == GLANZ_OK) {
        status = glanz_show_check(setup->show, setup->rig, fault);
    }
    if (status == GLANZ_OK) {
        status = check_memory(setup->rig, room, size, fault);
    }
    if (status != GLANZ_OK) {
        return status;
    }
    struct glanz_device *device = (struct glanz_device *)memory;
    memset(device, 0, sizeof *device);
    device->port = setup->port;
    device->effects = setup->effects;
    device->size = size;
    device->segment_room = room;
    status = build(device, setup->rig, setup->show, fault);
    if (status == GLANZ_OK) {
        read_saved(device);
        *out = device;
    }
    return status;
}

/* ---- a frame ---- */

static glanz_status send(struct glanz_device *device) {
    struct glanz_sending list[GLANZ_OUTPUTS_MOST];
    glanz_status status = GLANZ_OK;
    for (uint8_t i = 0; i < device->rig->output_count && status == GLANZ_OK; i++) {
        list[i].output = &device->rig->outputs[i];
        status = glanz_engine_bytes(&list[i].bytes, &list[i].count, device->engine, i);
    }
    if (status == GLANZ_OK) {
        status = device->port->start(device->port->user, list, device->rig->output_count);
    }
    if (status != GLANZ_OK) {
        device->counts.failed++;
        note(device, "the port could not start sending");
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
    if (device->sending && device->clock - device->sent_at > (uint64_t)device->wire_us * 4u + STUCK_US) {
        device->counts.stuck++;
        device->sending = 0;
        note(device, "a sending did not end and was given up");
        if (device->port->stop != NULL) {
            device->port->stop(device->port->user);
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

static glanz_status change_rig(struct glanz_device *device) {
    if (device->next_rig != NULL && !device->sending) {
        GLANZ_CONST struct glanz_rig *was_rig = device->rig;
        GLANZ_CONST struct glanz_show *was_show = device->show;
        glanz_status status = build(device, device->next_rig, device->next_show, NULL);
        if (device->next_trial_ms != 0 && !device->on_trial) {
            device->old_rig = was_rig;
            device->old_show = was_show;
        }
        device->on_trial = device->next_trial_ms != 0;
        device->trial_end = device->clock + (uint64_t)device->next_trial_ms * 1000u;
        device->next_rig = NULL;
        if (!device->on_trial) {
            device->old_rig = NULL;
        }
        return status;
    }
    if (device->on_trial && device->clock >= device->trial_end && !device->sending) {
        device->on_trial = 0;
        note(device, "the rig on trial was not confirmed: back to the one before");
        glanz_status status = build(device, device->old_rig, device->old_show, NULL);
        device->old_rig = NULL;
        return status;
    }
    return GLANZ_OK;
}

static glanz_status frame(struct glanz_device *device, uint32_t now_us) {
    glanz_status settled = settle(device);
    glanz_status status = change_rig(device);
    if (status == GLANZ_OK) {
        status = glanz_control_run(device->control, device->clock, now_us);
    }
    if (status != GLANZ_OK) {
        return status;
    }
    if (device->sending && (!has_two_buffers(device) || device->unsent)) {
        device->counts.busy++;
        status = glanz_engine_advance(device->engine, device->clock);
        return status == GLANZ_OK ? GLANZ_ERR_BUSY : status;
    }
    uint8_t shaded = 0;
    uint32_t refresh_ms = device->rig->refresh_ms == 0 ? 1000u : device->rig->refresh_ms;
    uint32_t passes = glanz_engine_extra_passes(device->engine);
    status = glanz_engine_frame(&shaded, device->engine, device->clock, device->counts.sent == 0);
    device->counts.again += glanz_engine_extra_passes(device->engine) - passes;
    device->counts.shaded += shaded;
    device->unsent = (uint8_t)(device->unsent | shaded);
    if (status != GLANZ_OK) {
        return status;
    }
    if (!device->unsent && device->clock - device->sent_at < (uint64_t)refresh_ms * 1000u) {
        device->counts.still++;
        return settled;
    }
    if (device->sending) {
        return settled; /* it waits in its second buffer */
    }
    status = send(device);
    return status == GLANZ_OK ? settled : status;
}

glanz_status glanz_device_frame(struct glanz_device *device, uint32_t now_us) {
    if (device == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (device->inside) {
        return GLANZ_ERR_ORDER;
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
    device->inside = 1;
    glanz_status status = frame(device, now_us);
    device->inside = 0;
    return status;
}

glanz_status glanz_device_push(struct glanz_device *device, uint8_t input, uint16_t value, uint32_t time_us) {
    return device == NULL ? GLANZ_ERR_ARGUMENT : glanz_control_push(device->control, input, value, time_us);
}

/* ---- rigs and shows ---- */

glanz_status glanz_device_take_show(struct glanz_device *device, GLANZ_CONST struct glanz_show *show,
                                    struct glanz_fault *fault) {
    if (device == NULL || show == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (device->inside) {
        return GLANZ_ERR_ORDER;
    }
    if (device->next_rig != NULL) {
        return GLANZ_ERR_BUSY; /* another rig comes with the next frame */
    }
    glanz_status status = glanz_control_take(device->control, show, device->clock, 0, fault);
    if (status == GLANZ_OK) {
        device->show = show;
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
        status = check_memory(rig, device->segment_room, device->size, fault);
    }
    if (status == GLANZ_OK && show->segment_count > device->segment_room) {
        status = check_memory(rig, show->segment_count, 0, fault);
    }
    if (status == GLANZ_OK) {
        device->next_rig = rig;
        device->next_show = show;
        device->next_trial_ms = trial_ms;
    }
    return status;
}

glanz_status glanz_device_keep_rig(struct glanz_device *device) {
    if (device == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (device->next_rig != NULL && device->next_trial_ms != 0) {
        device->next_trial_ms = 0;
        return GLANZ_OK;
    }
    if (!device->on_trial) {
        return GLANZ_ERR_ORDER;
    }
    device->on_trial = 0;
    device->old_rig = NULL;
    return GLANZ_OK;
}

uint32_t glanz_device_trial_ms(const struct glanz_device *device) {
    if (device == NULL || !device->on_trial) {
        return 0;
    }
    return device->clock >= device->trial_end ? 1 : (uint32_t)((device->trial_end - device->clock + 999u) / 1000u);
}

static int inside(GLANZ_CONST void *pointer, const void *memory, size_t size) {
    return pointer != NULL && (uintptr_t)pointer >= (uintptr_t)memory && (uintptr_t)pointer - (uintptr_t)memory < size;
}

int glanz_device_uses(const struct glanz_device *device, const void *memory, size_t size) {
    if (device == NULL || memory == NULL) {
        return 0;
    }
    return inside(device->rig, memory, size) || inside(device->show, memory, size) || inside(device->next_rig, memory, size) ||
           (device->next_rig != NULL && inside(device->next_show, memory, size)) || inside(device->old_rig, memory, size) ||
           (device->old_rig != NULL && inside(device->old_show, memory, size)) ||
           glanz_engine_uses(device->engine, memory, size);
}

/* ---- saved presets ---- */

static uint8_t find_saved(const struct glanz_device *device, const char *name) {
    uint8_t number = 0;
    while (number < GLANZ_SAVED_MOST && strcmp(device->saved[number].name, name) != 0) {
        number++;
    }
    return number;
}

glanz_status glanz_device_save(struct glanz_device *device, const char *name, uint64_t segments, uint8_t replace) {
    if (device == NULL || name == NULL || name[0] == '\0') {
        return GLANZ_ERR_ARGUMENT;
    }
    if (device->port->save == NULL) {
        return GLANZ_ERR_ABSENT;
    }
    uint8_t number = find_saved(device, name);
    if (number < GLANZ_SAVED_MOST && !replace) {
        return GLANZ_ERR_ORDER;
    }
    number = number == GLANZ_SAVED_MOST ? find_saved(device, "") : number;
    if (number == GLANZ_SAVED_MOST) {
        return GLANZ_ERR_FULL;
    }
    uint8_t record[GLANZ_RECORD_MOST];
    size_t count = 0;
    glanz_status status = glanz_preset_pack(record, &count, sizeof record, device->engine, device->show, name, segments);
    if (status == GLANZ_OK) {
        status = device->port->save(device->port->user, preset_key(number), record, count);
    }
    if (status == GLANZ_OK) {
        memcpy(device->saved[number].name, name, strlen(name) + 1);
    }
    return status;
}

glanz_status glanz_device_recall(struct glanz_device *device, uint8_t *missed, const char *name, uint32_t over_ms) {
    if (device == NULL || name == NULL || name[0] == '\0') {
        return GLANZ_ERR_ARGUMENT;
    }
    uint8_t number = find_saved(device, name);
    struct glanz_action action;
    memset(&action, 0, sizeof action);
    action.kind = GLANZ_ACTION_RECALL;
    action.over_ms = over_ms;
    if (number < GLANZ_SAVED_MOST && device->effects != NULL) {
        uint8_t record[GLANZ_RECORD_MOST];
        size_t count = 0;
        glanz_status status = device->port->load(device->port->user, preset_key(number), record, sizeof record, &count);
        uint32_t own = device->show->change_ms == 0                ? 500u
                       : device->show->change_ms == GLANZ_OWN_TIME ? 0
                                                                   : device->show->change_ms;
        struct glanz_change change = {device->clock, over_ms == GLANZ_OWN_TIME ? own : over_ms};
        return status != GLANZ_OK
                   ? status
                   : glanz_preset_unpack(missed, device->engine, device->show, device->effects, record, count, change);
    }
    for (uint8_t i = 0; i < device->show->preset_count; i++) {
        if (glanz_text_equal(device->show->presets[i].name, name)) {
            action.target = i;
            if (missed != NULL) {
                *missed = 0;
            }
            return glanz_control_act(device->control, &action, device->clock);
        }
    }
    return GLANZ_ERR_ABSENT;
}

glanz_status glanz_device_forget(struct glanz_device *device, const char *name) {
    if (device == NULL || name == NULL || name[0] == '\0') {
        return GLANZ_ERR_ARGUMENT;
    }
    uint8_t number = find_saved(device, name);
    if (number == GLANZ_SAVED_MOST) {
        return GLANZ_ERR_ABSENT;
    }
    glanz_status status = device->port->save(device->port->user, preset_key(number), NULL, 0);
    if (status == GLANZ_OK) {
        device->saved[number].name[0] = '\0';
    }
    return status;
}

const char *glanz_device_saved(const struct glanz_device *device, uint8_t number) {
    for (uint8_t i = 0; device != NULL && i < GLANZ_SAVED_MOST; i++) {
        if (device->saved[i].name[0] != '\0' && number-- == 0) {
            return device->saved[i].name;
        }
    }
    return NULL;
}

/* ---- the rest ---- */

glanz_status glanz_device_act(struct glanz_device *device, GLANZ_CONST struct glanz_action *action) {
    return device == NULL ? GLANZ_ERR_ARGUMENT : glanz_control_act(device->control, action, device->clock);
}

void glanz_device_listen(struct glanz_device *device, glanz_listener listener, void *user) {
    if (device != NULL) {
        device->listener = listener;
        device->listener_user = user;
        glanz_control_listen(device->control, listener, user);
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

uint64_t glanz_device_clock(const struct glanz_device *device) {
    return device == NULL ? 0 : device->clock;
}

struct glanz_counts glanz_device_counts(const struct glanz_device *device) {
    struct glanz_counts none;
    memset(&none, 0, sizeof none);
    return device == NULL ? none : device->counts;
}
