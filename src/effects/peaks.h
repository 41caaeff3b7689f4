/* SPDX-License-Identifier: MIT */
/* Peaks that stay at the highest and fall at a look's speed. Private to src/effects. */
#ifndef GLANZ_EFFECTS_PEAKS_H
#define GLANZ_EFFECTS_PEAKS_H

#include <glanz/effects.h>

struct fall {
    uint32_t turn; /* of the step before */
    uint8_t begun;
};

/* How far peaks fall in this step: 65535 is all of the way. @param speed parameter of the first rate; either sign falls. */
static inline uint16_t fallen(struct fall *fall, const struct glanz_frame *frame, uint8_t speed) {
    uint32_t gone = fall->begun ? frame->turn[0] - fall->turn : 0;
    gone = frame->number[speed] < 0 ? 0u - gone : gone;
    fall->turn = frame->turn[0];
    fall->begun = 1;
    return gone >= 0x80000000u ? 65535u : (uint16_t)(gone >> 16);
}

static inline uint16_t peak_of(uint16_t peak, uint16_t fall, uint16_t level) {
    uint16_t left = peak > fall ? (uint16_t)(peak - fall) : 0;
    return level > left ? level : left;
}

#endif
