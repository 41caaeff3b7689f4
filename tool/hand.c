/* SPDX-License-Identifier: MIT */
/* Hands on dials, knobs, sensors and values: turned over a time, read as hardware reads them. A sensor's readings are noisy, a
 * knob's contacts bounce. */
#include <string.h>

#include "hand.h"

#define READ_US 5000u /* between two readings */
#define NOISE 100     /* of a sensor, either way, of 65536 */

/* What the hardware reads at a level, or at an angle. */
static uint16_t raw_of(GLANZ_CONST struct glanz_input *is, int64_t at) {
    if (is->kind == GLANZ_INPUT_DIAL) {
        return (uint16_t)(is->zero + (is->reversed ? -at : at));
    }
    int64_t low = is->kind == GLANZ_INPUT_SENSOR ? is->low : 0;
    int64_t high = is->kind == GLANZ_INPUT_SENSOR && is->high != 0 ? is->high : 65535;
    at = is->reversed ? 65536 - at : at;
    int64_t raw = low + ((high - low) * at + 32768) / 65536;
    return (uint16_t)(raw < 0 ? 0 : raw > 65535 ? 65535 : raw);
}

void hand_note(struct hand *hand, GLANZ_CONST struct glanz_input *is, uint16_t raw) {
    if (hand->moves || is->kind == GLANZ_INPUT_BUTTON || is->kind == GLANZ_INPUT_KNOB) {
        return;
    }
    if (is->kind == GLANZ_INPUT_DIAL) {
        uint16_t turn = (uint16_t)(raw - is->zero);
        hand->at = is->reversed ? (uint16_t)(0u - turn) : turn;
        return;
    }
    int64_t low = is->kind == GLANZ_INPUT_SENSOR ? is->low : 0;
    int64_t high = is->kind == GLANZ_INPUT_SENSOR && is->high != 0 ? is->high : 65535;
    int64_t at = ((int64_t)raw - low) * 65536 / (high - low);
    at = at < 0 ? 0 : at > 65536 ? 65536 : at;
    hand->at = is->reversed ? 65536 - at : at;
}

int hand_can(GLANZ_CONST struct glanz_input *is) {
    return is->kind != GLANZ_INPUT_BUTTON;
}

int hand_turns(GLANZ_CONST struct glanz_input *is) {
    return is->kind == GLANZ_INPUT_DIAL || (is->kind == GLANZ_INPUT_KNOB && is->endless);
}

void hand_move(struct hand *hand, GLANZ_CONST struct glanz_input *is, int64_t to, int by, uint64_t at_us, uint64_t over_us) {
    if (by) {
        to += hand->at;
    } else if (hand_turns(is)) { /* the shorter way */
        int64_t way = (to - hand->at) % 65536;
        way = way > 32768 ? way - 65536 : way < -32768 ? way + 65536 : way;
        to = hand->at + way;
    }
    if (!hand_turns(is)) {
        to = to < 0 ? 0 : to > 65536 ? 65536 : to;
    }
    hand->from = hand->at;
    hand->to = to;
    hand->begin_us = at_us;
    hand->end_us = at_us + over_us;
    hand->next_us = at_us;
    hand->moves = 1;
}

static int64_t place_at(const struct hand *hand, uint64_t at_us) {
    if (at_us >= hand->end_us) {
        return hand->to;
    }
    return hand->from + (hand->to - hand->from) * (int64_t)(at_us - hand->begin_us) / (int64_t)(hand->end_us - hand->begin_us);
}

/* The lines of a knob, one edge nearer to where the hand is. @return how many readings it gives, bounces among them. */
static int turn_knob(struct hand *hand, GLANZ_CONST struct glanz_input *is, struct hand_reading *readings) {
    static const uint8_t lines[4] = {0, 1, 3, 2};
    int64_t edges = is->edges == 0 ? 4 : is->edges;
    int64_t all = (is->steps == 0 ? 24 : is->steps) * edges;
    int64_t wanted = (hand->at * all + (hand->at < 0 ? -32768 : 32768)) / 65536;
    if (!hand->knows_lines) {
        hand->knows_lines = 1;
        readings[0] = (struct hand_reading){0, lines[0]};
        return 1;
    }
    if (hand->edges == wanted) {
        return 0;
    }
    uint16_t before = lines[(is->reversed ? -hand->edges : hand->edges) & 3];
    hand->edges += hand->edges < wanted ? 1 : -1;
    uint16_t after = lines[(is->reversed ? -hand->edges : hand->edges) & 3];
    readings[0] = (struct hand_reading){0, after};
    readings[1] = (struct hand_reading){150, before};
    readings[2] = (struct hand_reading){400, after};
    return 3;
}

int hand_read(struct hand *hand, GLANZ_CONST struct glanz_input *is, struct hand_reading *readings, uint32_t seed) {
    int count = 1;
    uint64_t at_us = hand->next_us;
    hand->at = place_at(hand, at_us);
    hand->next_us += READ_US;
    int ended = at_us >= hand->end_us;
    if (is->kind == GLANZ_INPUT_KNOB) {
        count = turn_knob(hand, is, readings);
        hand->moves = (uint8_t)(!ended || count != 0);
        return count;
    }
    int32_t noise = is->kind == GLANZ_INPUT_SENSOR
                        ? (int32_t)(glanz_hash2(seed, (uint32_t)(at_us / READ_US)) % (2u * NOISE + 1u)) - NOISE
                        : 0;
    int32_t raw = raw_of(is, hand->at) + noise;
    readings[0].after_us = 0;
    readings[0].value = (uint16_t)(is->kind == GLANZ_INPUT_SENSOR && raw < 0       ? 0
                                   : is->kind == GLANZ_INPUT_SENSOR && raw > 65535 ? 65535
                                                                                   : raw);
    hand->moves = (uint8_t)!ended;
    return count;
}
