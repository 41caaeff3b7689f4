/* SPDX-License-Identifier: MIT */
/** @file
 *  Matching: LEDs of two makes made equal to the eye, from what one sees. Both show a patch of red, of green and of blue; for
 * each one says whether the second is brighter, dimmer or alike. Six such questions at the most find trims that are right
 * within 3 %, for LEDs of which one is up to three times as bright as the other. Pure functions; no memory but the struct.
 *
 *  A program shows the patches with the gains of glanz_match_gains() (linear light), asks, and gives the answers to
 *  glanz_match_answer(); at the end the gains are the trims.
 */
#ifndef GLANZ_MATCH_H
#define GLANZ_MATCH_H

#include <glanz/base.h>

GLANZ_HEADER_BEGIN

#define GLANZ_MATCH_CHANNELS 3  /**< red, green, blue */
#define GLANZ_MATCH_QUESTIONS 6 /**< at the most */

/** What is seen of the second patch beside the first. */
enum glanz_match_seen {
    GLANZ_MATCH_DIMMER,  /**< it is dimmer */
    GLANZ_MATCH_ALIKE,   /**< both are alike: this channel is done */
    GLANZ_MATCH_BRIGHTER /**< it is brighter */
};

/** A search. Begin with glanz_match_begin(); the members are its own. */
struct glanz_match {
    uint32_t low[GLANZ_MATCH_CHANNELS];  /**< second over first, 2.30: at least so much */
    uint32_t high[GLANZ_MATCH_CHANNELS]; /**< and at most */
    uint8_t asked;                       /**< questions so far */
};

/** Begin. @param match filled. */
void glanz_match_begin(struct glanz_match *match);

/** The gains to show now, and the trims at the end: one of the two is full. @param first,second filled for each channel, 1 to
 * 65535. */
void glanz_match_gains(const struct glanz_match *match, uint16_t first[GLANZ_MATCH_CHANNELS],
                       uint16_t second[GLANZ_MATCH_CHANNELS]);

/** Take what was seen of the gains before. @param match begun. @param seen enum glanz_match_seen for each channel.
 *  @return GLANZ_ERR_ARGUMENT for one that is none, GLANZ_ERR_STATE when all is found. */
GLANZ_NODISCARD glanz_status glanz_match_answer(struct glanz_match *match, const uint8_t seen[GLANZ_MATCH_CHANNELS]);

/** Is all found? @param match begun. */
int glanz_match_done(const struct glanz_match *match);

GLANZ_HEADER_END
#endif
