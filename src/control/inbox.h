/* SPDX-License-Identifier: MIT */
/* The inbox, as the controller empties it. Private to src/control. */
#ifndef GLANZ_CONTROL_INBOX_H
#define GLANZ_CONTROL_INBOX_H

#include <stdatomic.h>

#include <glanz/control.h>

#ifdef __AVR__ /* bytes are what it reads and writes at once */
typedef uint8_t ring_count;
typedef atomic_uchar atomic_ring_count;
#else
typedef unsigned ring_count;
typedef atomic_uint atomic_ring_count;
#endif

struct entry {
    uint32_t time;
    uint16_t value;
};

struct ring {
    struct entry entries[GLANZ_INBOX];
    atomic_ring_count head;   /* producer: values put into the ring */
    atomic_ring_count newest; /* producer: twice the values that found it full; odd while one is written */
    atomic_uchar bytes[6];    /* producer: the last of them, time and value */
    atomic_ring_count tail;   /* reader: values taken out of the ring */
    atomic_ring_count taken;  /* reader: `newest` that was taken last */
    ring_count seen;          /* reader: of what was peeked at last */
};

struct glanz_inbox {
    struct ring *rings;
    uint32_t lost;
    uint8_t room;
    atomic_uchar inputs; /* of the rig that runs */
};

/* A rig has so many inputs now. */
void glanz_inbox_open(struct glanz_inbox *inbox, uint8_t inputs);
/* The oldest value of an input. @return 0 when there is none. */
int glanz_inbox_peek(struct glanz_inbox *inbox, uint8_t input, struct entry *entry);
/* Take what was peeked at. @return how many values were lost just before it. */
uint32_t glanz_inbox_take(struct glanz_inbox *inbox, uint8_t input);

#endif
