/* SPDX-License-Identifier: MIT */
/* The inbox: a ring for each input, which one producer fills, an interrupt or a task, and the main loop empties.
 *
 * A value that finds its ring full goes beside it, as the newest, and so do all after it until the reader has emptied the ring
 * and taken it: so the order stays, the newest is never lost, and what is lost lies between two that are not. The newest is
 * written between two steps of its count, which is odd meanwhile: a reader that sees it odd, or two counts, looks again later.
 * Every count is written by one side only. */
#include <string.h>

#include "inbox.h"

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

size_t glanz_inbox_size(uint8_t inputs) {
    return align8(sizeof(struct glanz_inbox)) + align8(sizeof(struct ring) * inputs);
}

glanz_status glanz_inbox_start(struct glanz_inbox **inbox, void *memory, size_t size, uint8_t inputs) {
    if (inbox == NULL || memory == NULL || ((uintptr_t)memory & (sizeof(void *) - 1u)) != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (size < glanz_inbox_size(inputs)) {
        return GLANZ_ERR_MEMORY;
    }
    memset(memory, 0, glanz_inbox_size(inputs));
    *inbox = (struct glanz_inbox *)memory;
    (*inbox)->rings = (struct ring *)(void *)((uint8_t *)memory + align8(sizeof **inbox));
    (*inbox)->room = inputs;
    return GLANZ_OK;
}

void glanz_inbox_open(struct glanz_inbox *inbox, uint8_t inputs) {
    atomic_store_explicit(&inbox->inputs, inputs, memory_order_release);
}

uint32_t glanz_inbox_lost(const struct glanz_inbox *inbox) {
    return inbox == NULL ? 0 : inbox->lost;
}

glanz_status glanz_inbox_push(struct glanz_inbox *inbox, uint8_t input, uint16_t value, uint32_t time_us) {
    if (inbox == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (input >= inbox->room || input >= atomic_load_explicit(&inbox->inputs, memory_order_acquire)) {
        return GLANZ_ERR_ABSENT;
    }
    struct ring *ring = &inbox->rings[input];
    ring_count head = atomic_load_explicit(&ring->head, memory_order_relaxed);
    ring_count tail = atomic_load_explicit(&ring->tail, memory_order_acquire);
    ring_count count = atomic_load_explicit(&ring->newest, memory_order_relaxed);
    ring_count taken = atomic_load_explicit(&ring->taken, memory_order_acquire);
    if (count == taken && (ring_count)(head - tail) < GLANZ_INBOX) {
        ring->entries[head & (GLANZ_INBOX - 1)].time = time_us;
        ring->entries[head & (GLANZ_INBOX - 1)].value = value;
        atomic_store_explicit(&ring->head, (ring_count)(head + 1u), memory_order_release);
        return GLANZ_OK;
    }
    ring_count next = (ring_count)(count + 2u);
    next = next == taken ? (ring_count)(count - 2u) : next; /* on small CPUs it may have gone around: it goes on counting as many */
    atomic_store_explicit(&ring->newest, (ring_count)(count + 1u), memory_order_relaxed);
    for (uint8_t i = 0; i < 4; i++) {
        atomic_store_explicit(&ring->bytes[i], (uint8_t)(time_us >> (8 * i)), memory_order_release);
    }
    atomic_store_explicit(&ring->bytes[4], (uint8_t)value, memory_order_release);
    atomic_store_explicit(&ring->bytes[5], (uint8_t)(value >> 8), memory_order_release);
    atomic_store_explicit(&ring->newest, next, memory_order_release);
    return count == taken ? GLANZ_OK : GLANZ_ERR_FULL;
}

int glanz_inbox_peek(struct glanz_inbox *inbox, uint8_t input, struct entry *entry) {
    struct ring *ring = &inbox->rings[input];
    ring_count tail = atomic_load_explicit(&ring->tail, memory_order_relaxed);
    if (tail != atomic_load_explicit(&ring->head, memory_order_acquire)) {
        *entry = ring->entries[tail & (GLANZ_INBOX - 1)];
        ring->seen = atomic_load_explicit(&ring->taken, memory_order_relaxed);
        return 1;
    }
    ring_count count = atomic_load_explicit(&ring->newest, memory_order_acquire);
    if ((count & 1u) != 0 || count == atomic_load_explicit(&ring->taken, memory_order_relaxed)) {
        return 0;
    }
    uint32_t time = 0;
    for (uint8_t i = 0; i < 4; i++) {
        time |= (uint32_t)atomic_load_explicit(&ring->bytes[i], memory_order_acquire) << (8 * i);
    }
    unsigned low = atomic_load_explicit(&ring->bytes[4], memory_order_acquire);
    unsigned high = atomic_load_explicit(&ring->bytes[5], memory_order_acquire);
    if (atomic_load_explicit(&ring->newest, memory_order_acquire) != count) {
        return 0; /* a newer one comes just now */
    }
    entry->time = time;
    entry->value = (uint16_t)(low | high << 8);
    ring->seen = count;
    return 1;
}

uint32_t glanz_inbox_take(struct glanz_inbox *inbox, uint8_t input) {
    struct ring *ring = &inbox->rings[input];
    ring_count taken = atomic_load_explicit(&ring->taken, memory_order_relaxed);
    if (ring->seen == taken) { /* it was of the ring */
        atomic_store_explicit(&ring->tail, (ring_count)(atomic_load_explicit(&ring->tail, memory_order_relaxed) + 1u),
                              memory_order_release);
        return 0;
    }
    uint32_t lost = (uint32_t)((ring_count)(ring->seen - taken) >> 1) - 1u;
    atomic_store_explicit(&ring->taken, ring->seen, memory_order_release);
    inbox->lost = inbox->lost > 0xFFFFFFFFu - lost ? 0xFFFFFFFFu : inbox->lost + lost;
    return lost;
}
