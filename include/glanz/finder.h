/* SPDX-License-Identifier: MIT */
/** @file
 *  Finder: works out how the panels of a grid are wired, from what one sees of test pictures. For one to four panels of equal
 *  size there are up to 24 orders times 16 wirings each, 1,572,864 in all; it takes one question for the order (when there are
 *  several panels) and one for each panel, so five at the most. With 24 answers to a question at the most fewer would not do. A
 * last look at letters tells whether all answers were right. Pure functions; no memory but the struct.
 *
 *  A program shows glanz_finder_light() on every LED, asks, and gives the number of the answer to glanz_finder_answer(): from a
 *  list on a screen, or from how often a button was pressed; see examples/05-find-the-wiring.c.
 */
#ifndef GLANZ_FINDER_H
#define GLANZ_FINDER_H

#include <glanz/layout.h>
#include <glanz/paint.h>

GLANZ_HEADER_BEGIN

#if GLANZ_FIELDS

#define GLANZ_FINDER_PANELS 4 /**< panels at the most */

/** What is asked. */
enum glanz_finder_question {
    /** The first panel along the data line is red, the second green, the third blue, the fourth white: in which order do the
     *  colours hang, row by row from the top left? Answers: glanz_finder_order(). */
    GLANZ_FINDER_ORDER,
    /** On one panel LED 0 is red, the next one green, the one where a second row would begin blue, and where a second column
     * would begin white. What is seen? Answers: the wiring itself, or-ed of enum glanz_wiring, 0 to 15. */
    GLANZ_FINDER_WIRING,
    /** Letters F, G, J, R, one a panel, row by row: is each the right way round? Answers: 0 no, 1 yes. No: it begins anew. */
    GLANZ_FINDER_LOOK,
    GLANZ_FINDER_DONE /**< nothing: glanz_finder_panels() tells what was found */
};

/** A search. Begin with glanz_finder_begin(); the members are its own. */
struct glanz_finder {
    uint16_t columns, rows;              /**< of each panel, as it hangs */
    uint8_t across, down;                /**< panels beside and below each other */
    uint8_t question;                    /**< enum glanz_finder_question */
    uint8_t panel;                       /**< along the data line, that the question is about */
    uint8_t anew;                        /**< times the letters were not right: some answers contradicted what hangs there */
    uint8_t slot[GLANZ_FINDER_PANELS];   /**< where the panel of that number along the line hangs, row by row */
    uint8_t wiring[GLANZ_FINDER_PANELS]; /**< by number along the line */
};

/** @return GLANZ_ERR_ARGUMENT for sizes below 2 x 2 or no panels or more than four. */
GLANZ_NODISCARD glanz_status glanz_finder_begin(struct glanz_finder *finder, uint16_t columns, uint16_t rows, uint8_t across,
                                                uint8_t down);

/** How many answers the question has; 0 when all is found. */
uint8_t glanz_finder_answers(const struct glanz_finder *finder);

/** An answer to the question of the order: which panel along the line hangs in each slot. @param panel filled: across * down.
 */
void glanz_finder_order(uint8_t *panel, uint8_t count, uint8_t answer);

/** Take an answer and go on. @return GLANZ_ERR_ARGUMENT when there is no such answer, GLANZ_ERR_STATE when all is found, or
 * when the letters were wrong, which the answers before contradict: it has begun anew. */
GLANZ_NODISCARD glanz_status glanz_finder_answer(struct glanz_finder *finder, uint8_t answer);

/** The light of a LED in the picture of this moment. @param led counted along the data line over all panels. */
struct glanz_light glanz_finder_light(const struct glanz_finder *finder, uint16_t led);

/** What was found: panels along the data line, for a surface. @param panels room for across * down. */
void glanz_finder_panels(const struct glanz_finder *finder, struct glanz_panel *panels);

#endif

GLANZ_HEADER_END
#endif
