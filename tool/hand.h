/* SPDX-License-Identifier: MIT */
/* Hands on dials, knobs, sensors and values. */
#ifndef GLANZ_TOOL_HAND_H
#define GLANZ_TOOL_HAND_H

#include <glanz/engine.h>

struct hand { /* on one input; all 0 at the start */
    uint64_t begin_us, end_us, next_us;
    int64_t from, to, at; /* 65536 is all of its way, or a turn */
    int64_t edges;        /* of a knob, as it was turned */
    uint8_t moves, knows_lines;
};

struct hand_reading { /* what the hardware reads, so long after `next_us` */
    uint32_t after_us;
    uint16_t value;
};
#define HAND_READINGS 3 /* at once, at the most */

/* Can a hand turn it? And does it go round? */
int hand_can(GLANZ_CONST struct glanz_input *is);
int hand_turns(GLANZ_CONST struct glanz_input *is);
/* Turn it to a place, angles the shorter way; or by so much. */
void hand_move(struct hand *hand, GLANZ_CONST struct glanz_input *is, int64_t to, int by, uint64_t at_us, uint64_t over_us);
/* Something else has pushed a reading in: the hand is where that says. */
void hand_note(struct hand *hand, GLANZ_CONST struct glanz_input *is, uint16_t raw);
/* The next readings, at hand->next_us, which moves on. @return how many. */
int hand_read(struct hand *hand, GLANZ_CONST struct glanz_input *is, struct hand_reading *readings, uint32_t seed);

#endif
