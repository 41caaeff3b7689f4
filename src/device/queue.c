/* SPDX-License-Identifier: MIT */
/* Commands with answers, posted by a task, an interrupt or a callback, done by the main loop between two frames.
 *
 * A slot goes from free to posted (by the producer) to done (by the main loop) and to free again (by whoever takes the
 * answer); each step is a release, each look an acquire, so that only one side touches a slot at a time. */
#include <stdatomic.h>
#include <string.h>

#include "whole.h"

#ifndef __AVR__ /* see struct glanz_device */

#define TURNS 4 /* commands of a queue in one frame */

enum state { FREE, POSTED, DONE };

struct slot {
    atomic_uchar state;
    uint8_t unasked; /* nobody waits for the answer */
    uint16_t ticket;
    glanz_status answer;
    struct glanz_command command;
};

struct glanz_queue {
    struct slot *slots;
    struct glanz_queue *following; /* of the same device */
    uint16_t tickets;              /* producer: given so far */
    uint8_t capacity;
    uint8_t next;        /* producer: the slot that is posted into next */
    uint8_t turn;        /* main loop: the slot that is done next */
    uint8_t merged;      /* slots before it that get the same answer */
    uint8_t waits;       /* its save is under way */
    glanz_status result; /* of it; GLANZ_ERR_BUSY: not yet */
};

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

size_t glanz_queue_size(uint8_t capacity) {
    return align8(sizeof(struct glanz_queue)) + align8(sizeof(struct slot) * capacity);
}

glanz_status glanz_queue_start(struct glanz_queue **queue, void *memory, size_t size, uint8_t capacity) {
    if (queue == NULL || memory == NULL || capacity == 0 || ((uintptr_t)memory & 7u) != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (size < glanz_queue_size(capacity)) {
        return GLANZ_ERR_MEMORY;
    }
    memset(memory, 0, glanz_queue_size(capacity));
    *queue = (struct glanz_queue *)memory;
    (*queue)->slots = (struct slot *)(void *)((uint8_t *)memory + align8(sizeof **queue));
    (*queue)->capacity = capacity;
    return GLANZ_OK;
}

/* ---- the producer ---- */

static int is_name(const char *name) {
    return memchr(name, 0, GLANZ_NAME_MOST + 1u) != NULL;
}

glanz_status glanz_queue_post(struct glanz_queue *queue, const struct glanz_command *command, uint16_t *ticket) {
    if (queue == NULL || command == NULL || command->kind == NULL || !is_name(command->name) || !is_name(command->other)) {
        return GLANZ_ERR_ARGUMENT;
    }
    struct slot *slot = &queue->slots[queue->next];
    if (atomic_load_explicit(&slot->state, memory_order_acquire) != FREE) {
        return GLANZ_ERR_FULL;
    }
    queue->tickets++;
    queue->next = (uint8_t)(queue->next + 1 == queue->capacity ? 0 : queue->next + 1);
    slot->command = *command;
    slot->ticket = queue->tickets;
    slot->unasked = ticket == NULL;
    if (ticket != NULL) {
        *ticket = slot->ticket;
    }
    atomic_store_explicit(&slot->state, POSTED, memory_order_release);
    return GLANZ_OK;
}

glanz_status glanz_queue_answer(struct glanz_queue *queue, uint16_t ticket, glanz_status *answer) {
    if (queue == NULL || answer == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    for (uint8_t i = 0; i < queue->capacity; i++) {
        struct slot *slot = &queue->slots[i];
        uint8_t state = atomic_load_explicit(&slot->state, memory_order_acquire);
        if (state != FREE && slot->ticket == ticket && !slot->unasked) {
            if (state == POSTED) {
                return GLANZ_ERR_BUSY;
            }
            *answer = slot->answer;
            atomic_store_explicit(&slot->state, FREE, memory_order_release);
            return GLANZ_OK;
        }
    }
    return GLANZ_ERR_ABSENT;
}

/* ---- the main loop ---- */

static struct slot *slot_at(const struct glanz_queue *queue, unsigned ahead) {
    return &queue->slots[(queue->turn + ahead) % queue->capacity];
}

static int is_posted(struct slot *slot) {
    return atomic_load_explicit(&slot->state, memory_order_acquire) == POSTED;
}

static void answer(struct slot *slot, glanz_status status) {
    slot->answer = status;
    atomic_store_explicit(&slot->state, slot->unasked ? FREE : DONE, memory_order_release);
}

/* The command whose turn it is has ended, and with it those that were merged into it. */
static void finish(struct glanz_queue *queue, glanz_status status) {
    for (uint8_t i = queue->merged; i > 0; i--) {
        answer(slot_at(queue, (unsigned)queue->capacity - i), status);
    }
    answer(slot_at(queue, 0), status);
    queue->merged = 0;
    queue->turn = (uint8_t)(queue->turn + 1 == queue->capacity ? 0 : queue->turn + 1);
}

#if GLANZ_SAVED_MOST > 0
static int same_save(const struct glanz_command *one, const struct glanz_command *other) {
    return one->kind == &glanz_command_save && other->kind == one->kind && strcmp(one->name, other->name) == 0 &&
           one->segments == other->segments && one->aspects == other->aspects && one->replace == other->replace &&
           one->replace != 0;
}

/* A save that does not end at once. @return 0 when it has to wait. */
static int save(struct glanz_device *device, struct glanz_queue *queue) {
    struct slot *slot = slot_at(queue, 0);
    if (queue->waits) {
        if (queue->result == GLANZ_ERR_BUSY) {
            return 0;
        }
        queue->waits = 0;
        finish(queue, queue->result);
        return 1;
    }
    if (queue->merged + 1u < queue->capacity && is_posted(slot_at(queue, 1)) &&
        same_save(&slot->command, &slot_at(queue, 1)->command)) { /* the one behind it saves what shows then */
        queue->merged++;
        queue->turn = (uint8_t)(queue->turn + 1 == queue->capacity ? 0 : queue->turn + 1);
        return 1;
    }
    if (glanz_device_saving(device) || !glanz_credit_left(&device->commands, device->clock)) {
        return 0;
    }
    glanz_credit_take(&device->commands, device->clock);
    queue->result = GLANZ_ERR_BUSY;
    device->save_answer = &queue->result;
    glanz_status status = slot->command.kind->run(device, &slot->command);
    if (status != GLANZ_OK || queue->result != GLANZ_ERR_BUSY) {
        device->save_answer = NULL;
        finish(queue, status != GLANZ_OK ? status : queue->result);
        return 1;
    }
    if (!glanz_device_saving(device)) { /* there was nothing to save */
        device->save_answer = NULL;
        finish(queue, GLANZ_OK);
        return 1;
    }
    queue->waits = 1;
    return 0;
}
#endif

static void serve(struct glanz_device *device) {
    for (struct glanz_queue *queue = device->queues; queue != NULL; queue = queue->following) {
        int goes_on = 1;
        for (uint8_t i = 0; i < TURNS && goes_on; i++) {
            struct slot *slot = slot_at(queue, 0);
            if (!is_posted(slot)) {
                break;
            }
#if GLANZ_SAVED_MOST > 0
            if (slot->command.kind->saves) {
                goes_on = save(device, queue);
                continue;
            }
#endif
            finish(queue, slot->command.kind->run(device, &slot->command));
        }
    }
}

const struct glanz_queue *glanz_queue_after(const struct glanz_queue *queue) {
    return queue->following;
}

glanz_status glanz_device_serve(struct glanz_device *device, struct glanz_queue *queue) {
    if (queue == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    DEVICE_ENTER(device);
    glanz_status status = GLANZ_OK;
    for (const struct glanz_queue *other = device->queues; other != NULL; other = other->following) {
        status = other == queue ? GLANZ_ERR_STATE : status;
    }
    if (status == GLANZ_OK) {
        queue->following = device->queues;
        device->queues = queue;
        device->serve = serve;
    }
    return glanz_device_leave(device, status);
}

/* ---- kinds of commands ---- */

static glanz_status run_act(struct glanz_device *device, const struct glanz_command *command) {
    return glanz_device_act(device, &command->action);
}

static glanz_status run_recall(struct glanz_device *device, const struct glanz_command *command) {
    return glanz_device_recall(device, command->name, command->over_ms, NULL);
}

static glanz_status run_call(struct glanz_device *device, const struct glanz_command *command) {
    return command->call == NULL ? GLANZ_ERR_ARGUMENT : command->call(device, command->user);
}

const struct glanz_command_kind glanz_command_act = {run_act, 0};
const struct glanz_command_kind glanz_command_recall = {run_recall, 0};
const struct glanz_command_kind glanz_command_call = {run_call, 0};

#if GLANZ_SAVED_MOST > 0
static glanz_status run_save(struct glanz_device *device, const struct glanz_command *command) {
    return glanz_device_save(device, command->name, command->segments, command->aspects, command->replace);
}

static glanz_status run_rename(struct glanz_device *device, const struct glanz_command *command) {
    return glanz_device_rename(device, command->name, command->other);
}

static glanz_status run_copy(struct glanz_device *device, const struct glanz_command *command) {
    return glanz_device_copy(device, command->name, command->other);
}

static glanz_status run_move(struct glanz_device *device, const struct glanz_command *command) {
    return glanz_device_move(device, command->name, command->place);
}

static glanz_status run_forget(struct glanz_device *device, const struct glanz_command *command) {
    return glanz_device_forget(device, command->name);
}

const struct glanz_command_kind glanz_command_save = {run_save, 1};
const struct glanz_command_kind glanz_command_rename = {run_rename, 1};
const struct glanz_command_kind glanz_command_copy = {run_copy, 1};
const struct glanz_command_kind glanz_command_move = {run_move, 1};
const struct glanz_command_kind glanz_command_forget = {run_forget, 1};
#endif

#endif
