/* SPDX-License-Identifier: MIT */
/* The inbox, as the controller empties it. Private to src/control. */
#ifndef GLANZ_CONTROL_INBOX_H
#define GLANZ_CONTROL_INBOX_H

#include <stdatomic.h>

#include <glanz/control.h>

struct entry {
    uint32_t time;
    uint16_t value;
};

#ifdef __AVR__
/* It reads and writes bytes at once; and its producers are interrupts, which have ended when anybody else goes on: the newest
 * can go over the one before it, in the ring, without being read half-way. */
typedef uint8_t ring_count;
struct ring {
    struct entry entries[GLANZ_INBOX];
    atomic_uchar head; /* producer: values put into the ring */
    atomic_uchar lost; /* producer: values that were lost; stays 255 ahead of `told` */
    atomic_uchar tail; /* reader: values taken out of the ring */
    uint8_t told;      /* reader: of those lost */
};
#else
typedef unsigned ring_count;
struct ring {
    struct entry entries[GLANZ_INBOX];
    atomic_uint head;                         /* producer: values put into the ring */
    atomic_uint newest;                       /* producer: twice the values that found it full; odd while one is written */
    atomic_uchar bytes[sizeof(struct entry)]; /* producer: the last of them */
    atomic_uint tail;                         /* reader: values taken out of the ring */
    atomic_uint taken;                        /* reader: `newest` that was taken last */
    unsigned seen;                            /* reader: of what was peeked at last */
    struct entry copy;                        /* reader: of the last of them */
};
#endif

struct glanz_inbox {
    unsigned lost;
    uint8_t capacity;
    atomic_uchar inputs; /* of the rig that runs */
    struct ring rings[];
};

/* A rig has so many inputs now. @return how many of them have a ring. */
uint8_t glanz_inbox_open(struct glanz_inbox *inbox, uint8_t inputs);
/* The oldest value of an input, until the next is asked for; NULL when there is none. */
const struct entry *glanz_inbox_peek(struct glanz_inbox *inbox, uint8_t input);
/* Take what was peeked at. @return how many values were lost just before it. */
ring_count glanz_inbox_take(struct glanz_inbox *inbox, uint8_t input);

#endif
