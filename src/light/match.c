/* SPDX-License-Identifier: MIT */
/* LEDs of two makes made equal: the ratio of each channel lies between two bounds, and the answer halves what is between them,
 * as a ratio: the middle is the geometric mean. Three to one either way, halved six times, is 1.7 % either way. */
#include <glanz/match.h>

#define ONE (1ul << 30)
#define MOST (3ul << 30) /* three times as bright */

void glanz_match_begin(struct glanz_match *match) {
    for (uint8_t c = 0; match != NULL && c < GLANZ_MATCH_CHANNELS; c++) {
        match->low[c] = (uint32_t)(ONE / 3u);
        match->high[c] = (uint32_t)MOST;
    }
    if (match != NULL) {
        match->asked = 0;
    }
}

/* The geometric mean: each root has half of the binary places. */
static uint32_t middle_of(const struct glanz_match *match, uint8_t channel) {
    return (uint32_t)glanz_root(match->low[channel]) * glanz_root(match->high[channel]);
}

static uint16_t gain_of(uint32_t ratio) {
    return (uint16_t)(ratio > 65535u ? 65535u : ratio == 0 ? 1u : ratio);
}

void glanz_match_gains(const struct glanz_match *match, uint16_t first[GLANZ_MATCH_CHANNELS],
                       uint16_t second[GLANZ_MATCH_CHANNELS]) {
    if (match == NULL || first == NULL || second == NULL) {
        return;
    }
    for (uint8_t c = 0; c < GLANZ_MATCH_CHANNELS; c++) {
        uint32_t middle = middle_of(match, c);
        first[c] = gain_of(glanz_ratio(middle, (uint32_t)ONE)); /* what is the brighter one comes down to the other */
        second[c] = gain_of(glanz_ratio((uint32_t)ONE, middle));
    }
}

int glanz_match_done(const struct glanz_match *match) {
    uint8_t open = 0;
    for (uint8_t c = 0; match != NULL && c < GLANZ_MATCH_CHANNELS; c++) {
        open = (uint8_t)(open + (match->low[c] != match->high[c]));
    }
    return match == NULL || open == 0 || match->asked >= GLANZ_MATCH_QUESTIONS;
}

glanz_status glanz_match_answer(struct glanz_match *match, const uint8_t seen[GLANZ_MATCH_CHANNELS]) {
    if (match == NULL || seen == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (glanz_match_done(match)) {
        return GLANZ_ERR_STATE;
    }
    for (uint8_t c = 0; c < GLANZ_MATCH_CHANNELS; c++) {
        if (seen[c] > GLANZ_MATCH_BRIGHTER) {
            return GLANZ_ERR_ARGUMENT;
        }
    }
    for (uint8_t c = 0; c < GLANZ_MATCH_CHANNELS; c++) {
        uint32_t middle = middle_of(match, c);
        if (match->low[c] == match->high[c]) {
            continue; /* found before */
        }
        match->low[c] = seen[c] == GLANZ_MATCH_DIMMER ? match->low[c] : middle;
        match->high[c] = seen[c] == GLANZ_MATCH_BRIGHTER ? match->high[c] : middle;
    }
    match->asked++;
    return GLANZ_OK;
}
