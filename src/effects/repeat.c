/* SPDX-License-Identifier: MIT */
/* Repeats: one division when a frame begins, so that shade has none. */
#include <glanz/effects.h>

struct glanz_repeat glanz_repeat_of(glanz_place period) {
    struct glanz_repeat repeat;
    uint32_t points = period < GLANZ_STEP ? (uint32_t)GLANZ_STEP : (uint32_t)period;
    repeat.scale = points == (uint32_t)GLANZ_STEP ? 0xFFFFFFFFu : glanz_fraction((uint32_t)GLANZ_STEP, points);
    repeat.shift = 0;
    while ((repeat.scale >> repeat.shift) > 0xFFFFu) {
        repeat.shift++;
    }
    uint32_t unit = repeat.scale >> repeat.shift;
    repeat.inverse = (uint32_t)(((uint32_t)65536u << 15) / (unit == 0 ? 1 : unit)); /* unit is 2^15 or more: 16 bits */
    return repeat;
}

glanz_place glanz_period_fit(const struct glanz_frame *frame, glanz_place period, glanz_place least) {
    if (!frame->closed) {
        return period;
    }
    uint32_t length = (uint32_t)frame->length * (uint32_t)GLANZ_STEP;
    uint32_t times = (length + (uint32_t)period / 2u) / (uint32_t)period;
    while (times > 1 && length / times < (uint32_t)least) {
        times--;
    }
    return (glanz_place)(length / (times < 1 ? 1u : times));
}

#if GLANZ_GLIDES
uint32_t glanz_turn_kept(uint32_t turn, glanz_place before, glanz_place pass) {
    uint32_t done = glanz_mul32_high(turn, (uint32_t)before);
    return done >= (uint32_t)pass ? 0xFFFFFFFFu : glanz_fraction(done, (uint32_t)pass);
}
#endif
