/* SPDX-License-Identifier: MIT */
/* The inbox: a ring for each input, which one producer fills, an interrupt or a task, and the main loop empties.
 *
 * A value that finds its ring full goes beside it, as the newest, and so do all after it until the reader has emptied the ring
 * and taken it: so the order stays, the newest is never lost, and what is lost lies between two that are not. The newest is
 * written between two steps of its count, which is odd meanwhile: a reader that sees it odd, or two counts, looks again later.
 * Every count is written by one side only. */
#include <string.h>

#include "inbox.h"

size_t glanz_inbox_size(uint8_t inputs) {
    return (sizeof(struct glanz_inbox) + sizeof(struct ring) * inputs + 7u) & ~(size_t)7u;
}

glanz_status glanz_inbox_start(struct glanz_inbox **inbox, void *memory, size_t size, uint8_t inputs) {
    if (inbox == NULL || memory == NULL || GLANZ_MISALIGNED(memory) != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (size < glanz_inbox_size(inputs)) {
        return GLANZ_ERR_MEMORY;
    }
    memset(memory, 0, size);
    *inbox = (struct glanz_inbox *)memory;
    (*inbox)->capacity = inputs;
    return GLANZ_OK;
}

uint8_t glanz_inbox_open(struct glanz_inbox *inbox, uint8_t inputs) {
    inputs = inputs < inbox->capacity ? inputs : inbox->capacity;
    atomic_store_explicit(&inbox->inputs, inputs, memory_order_release);
    return inputs;
}

unsigned glanz_inbox_lost(const struct glanz_inbox *inbox) {
    return inbox == NULL ? 0 : inbox->lost;
}

#ifdef __AVR__

GLANZ_NOINLINE static glanz_status put(struct ring *ring, struct entry entry) {
    uint8_t head = atomic_load_explicit(&ring->head, memory_order_relaxed);
    uint8_t full = (uint8_t)(head - atomic_load_explicit(&ring->tail, memory_order_relaxed)) >= GLANZ_INBOX;
    head = (uint8_t)(head - full);
    ring->entries[head & (GLANZ_INBOX - 1)] = entry;
    atomic_store_explicit(&ring->head, (uint8_t)(head + 1u), memory_order_release);
    uint8_t lost = (uint8_t)(atomic_load_explicit(&ring->lost, memory_order_relaxed) + full);
    if (lost != ring->told || !full) {
        atomic_store_explicit(&ring->lost, lost, memory_order_relaxed);
    }
    return full ? GLANZ_ERR_FULL : GLANZ_OK;
}

GLANZ_NOINLINE const struct entry *glanz_inbox_peek(struct glanz_inbox *inbox, uint8_t input) {
    struct ring *ring = &inbox->rings[input];
    uint8_t tail = atomic_load_explicit(&ring->tail, memory_order_relaxed);
    return tail == atomic_load_explicit(&ring->head, memory_order_acquire) ? NULL : &ring->entries[tail & (GLANZ_INBOX - 1)];
}

ring_count glanz_inbox_take(struct glanz_inbox *inbox, uint8_t input) {
    struct ring *ring = &inbox->rings[input];
    atomic_store_explicit(&ring->tail, (uint8_t)(atomic_load_explicit(&ring->tail, memory_order_relaxed) + 1u),
                          memory_order_release);
    ring_count lost = (ring_count)(atomic_load_explicit(&ring->lost, memory_order_relaxed) - ring->told);
    ring->told = (uint8_t)(ring->told + lost);
    inbox->lost += lost; /* every byte of flash counts here */
    return lost;
}

#else

/* The last value that found the ring full, written and read while its count tells whether it is whole. */
static void write_last(struct ring *ring, struct entry entry) {
    uint8_t bytes[sizeof entry];
    memcpy(bytes, &entry, sizeof bytes);
    for (uint8_t i = 0; i < sizeof bytes; i++) {
        atomic_store_explicit(&ring->bytes[i], bytes[i], memory_order_release);
    }
}

static void read_last(struct ring *ring) {
    uint8_t bytes[sizeof ring->copy];
    for (uint8_t i = 0; i < sizeof bytes; i++) {
        bytes[i] = atomic_load_explicit(&ring->bytes[i], memory_order_acquire);
    }
    memcpy(&ring->copy, bytes, sizeof bytes);
}

static glanz_status put(struct ring *ring, struct entry entry) {
    unsigned head = atomic_load_explicit(&ring->head, memory_order_relaxed);
    unsigned tail = atomic_load_explicit(&ring->tail, memory_order_acquire);
    unsigned count = atomic_load_explicit(&ring->newest, memory_order_relaxed);
    unsigned taken = atomic_load_explicit(&ring->taken, memory_order_acquire);
    if (count == taken && head - tail < GLANZ_INBOX) {
        ring->entries[head & (GLANZ_INBOX - 1)] = entry;
        atomic_store_explicit(&ring->head, head + 1u, memory_order_release);
        return GLANZ_OK;
    }
    atomic_store_explicit(&ring->newest, count + 1u, memory_order_relaxed);
    write_last(ring, entry);
    atomic_store_explicit(&ring->newest, count + 2u, memory_order_release);
    return count == taken ? GLANZ_OK : GLANZ_ERR_FULL;
}

const struct entry *glanz_inbox_peek(struct glanz_inbox *inbox, uint8_t input) {
    struct ring *ring = &inbox->rings[input];
    unsigned tail = atomic_load_explicit(&ring->tail, memory_order_relaxed);
    unsigned taken = atomic_load_explicit(&ring->taken, memory_order_relaxed);
    /* first whether there is a last one, then the ring: all that came before it is seen there */
    unsigned count = atomic_load_explicit(&ring->newest, memory_order_acquire);
    ring->seen = taken;
    if (tail != atomic_load_explicit(&ring->head, memory_order_acquire)) {
        return &ring->entries[tail & (GLANZ_INBOX - 1)];
    }
    if ((count & 1u) != 0 || count == taken) {
        return NULL;
    }
    read_last(ring);
    if (atomic_load_explicit(&ring->newest, memory_order_acquire) != count) {
        return NULL; /* a newer one comes just now */
    }
    ring->seen = count;
    return &ring->copy;
}

ring_count glanz_inbox_take(struct glanz_inbox *inbox, uint8_t input) {
    struct ring *ring = &inbox->rings[input];
    unsigned taken = atomic_load_explicit(&ring->taken, memory_order_relaxed);
    if (ring->seen == taken) { /* it was of the ring */
        atomic_store_explicit(&ring->tail, atomic_load_explicit(&ring->tail, memory_order_relaxed) + 1u, memory_order_release);
        return 0;
    }
    unsigned lost = (ring->seen - taken) / 2u - 1u;
    atomic_store_explicit(&ring->taken, ring->seen, memory_order_release);
    inbox->lost = (unsigned)-1 - inbox->lost < lost ? (unsigned)-1 : inbox->lost + lost;
    return lost;
}

#endif

glanz_status glanz_inbox_push(struct glanz_inbox *inbox, uint8_t input, uint16_t value, uint32_t time_us) {
    if (inbox == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    uint8_t inputs = atomic_load_explicit(&inbox->inputs, memory_order_acquire);
    struct entry entry = {time_us, value};
    return input < inputs ? put(&inbox->rings[input], entry) : GLANZ_ERR_ABSENT;
}
