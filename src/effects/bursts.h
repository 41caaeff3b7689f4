/* SPDX-License-Identifier: MIT */
/* What begins at each pulse of a signal, from the very moment at which it came, or by itself again and again. Private to
 * src/effects. Times are in 65536ths of a pass, laps above. */
#ifndef GLANZ_EFFECTS_BURSTS_H
#define GLANZ_EFFECTS_BURSTS_H

#include <glanz/effects.h>

#if GLANZ_FIELDS

#define NOT_BY_ITSELF 32u /* in place of bits of a pass */

struct burst {
    uint32_t begin;
    uint16_t seed; /* how many had begun before */
    uint8_t runs;
};

struct bursts {
    uint32_t last; /* the last of those that began by themselves */
    uint16_t pulses, count;
    uint8_t begun, next;
};

static inline uint32_t burst_now(const struct glanz_frame *frame) {
    return (uint32_t)(uint16_t)frame->lap[0] << 16 | frame->turn[0] >> 16;
}

/* Since when a burst runs, either way. */
static inline uint32_t burst_time(const struct glanz_frame *frame, const struct burst *burst) {
    uint32_t time = (burst_now(frame) - burst->begin) & 0x1FFFFFFFu; /* laps are folded by 8,192 */
    return time > 0x0FFFFFFFu ? 0x20000000u - time : time;
}

/* If one is due it takes the place of the oldest. @param each by itself: bits of a pass between two; NOT_BY_ITSELF: at pulses.
 * @return 1 if one began. */
static inline uint8_t burst_begins(struct bursts *bursts, struct burst *list, uint8_t capacity, const struct glanz_frame *frame,
                                   uint8_t each) {
    uint32_t begin = burst_now(frame);
    uint8_t is_due = 0;
    if (each != NOT_BY_ITSELF) {
        uint32_t slot = begin >> each;
        is_due = !bursts->begun || slot != bursts->last;
        bursts->last = slot;
        begin = slot << each;
    } else if (bursts->begun && frame->pulses != bursts->pulses) {
        is_due = 1;
        begin -= frame->pulse_turn >> 16;
    }
    bursts->pulses = frame->pulses;
    bursts->begun = 1;
    if (is_due) {
        struct burst *burst = &list[bursts->next % capacity]; /* there may be room for fewer than before */
        bursts->next = (uint8_t)((bursts->next + 1u) % capacity);
        burst->begin = begin;
        burst->seed = bursts->count++;
        burst->runs = 1;
    }
    return is_due;
}

#endif

#endif
