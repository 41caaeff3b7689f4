/* SPDX-License-Identifier: MIT */
/* Fixed ticks of a phase, for simulations. */
#include <glanz/effects.h>

#if GLANZ_FIELDS

#define TICKS_MOST 64

uint8_t glanz_frame_ticks(uint32_t *last, uint32_t *part, const struct glanz_frame *frame, uint8_t bits) {
    uint32_t mask = (0x2000u << bits) - 1u; /* laps are folded by 8,192 */
    uint32_t now = ((uint32_t)(uint16_t)frame->lap[0] << bits | frame->turn[0] >> (32u - bits)) & mask;
    uint32_t gone = (now - *last) & mask;
    gone = gone > mask / 2u ? mask + 1u - gone : gone; /* backwards */
    *last = now;
    *part = frame->turn[0] << bits >> 16;
    return (uint8_t)(gone > TICKS_MOST ? TICKS_MOST : gone);
}

#endif
