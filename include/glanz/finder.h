/* SPDX-License-Identifier: MIT */
/** @file
 *  Finder: works out how the panels of a grid are wired, from what one sees of test pictures. For one to eight panels of equal
 *  size there are up to 40,320 orders times 16 wirings each; it takes one question for the order (two from six panels on, none
 *  for one panel) and one for each panel, so five at the most for four panels, ten for eight. A last look at letters tells
 *  whether all answers were right. Pure functions; no memory but the struct.
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

#define GLANZ_FINDER_PANELS 8  /**< panels at the most */
#define GLANZ_FINDER_DARK 255u /**< in an answer to the question of the order: a panel without a colour */

/** What is asked. */
enum glanz_finder_question {
    /** The first panel along the data line is red, the second green, the third blue, the fourth white, later ones are dark: in
     *  which order do the colours hang, row by row from the top left? With more panels than five once more, of the later ones.
     *  Answers: glanz_finder_order(). */
    GLANZ_FINDER_ORDER,
    /** On one panel LED 0 is red, the next one green, the one where a second row would begin blue, and where a second column
     * would begin white. What is seen? Answers: the wiring itself, or-ed of enum glanz_wiring, 0 to 15. */
    GLANZ_FINDER_WIRING,
    /** Letters F, G, J, R, P, Q, 4, 7, one a panel, row by row: is each the right way round? Answers: 0 no, 1 yes. No: it
       begins anew. */
    GLANZ_FINDER_LOOK,
    GLANZ_FINDER_DONE /**< nothing: glanz_finder_panels() tells what was found */
};

/** A search. Begin with glanz_finder_begin(); the members are its own. */
struct glanz_finder {
    uint16_t columns, rows;              /**< of each panel, as it hangs */
    uint8_t across, down;                /**< panels beside and below each other */
    uint8_t question;                    /**< enum glanz_finder_question */
    uint8_t panel;                       /**< along the data line, that the question is about; the first one, of the order */
    uint8_t anew;                        /**< times the letters were not right: some answers contradicted what hangs there */
    uint8_t slot[GLANZ_FINDER_PANELS];   /**< where the panel of that number along the line hangs, row by row */
    uint8_t wiring[GLANZ_FINDER_PANELS]; /**< by number along the line */
};

/** @return GLANZ_ERR_ARGUMENT for sizes below 2 x 2 or no panels or more than eight. */
GLANZ_NODISCARD glanz_status glanz_finder_begin(struct glanz_finder *finder, uint16_t columns, uint16_t rows, uint8_t across,
                                                uint8_t down);

/** How many answers the question has; 0 when all is found. */
uint16_t glanz_finder_answers(const struct glanz_finder *finder);

/** An answer to the question of the order: which panel along the line is seen lit in each slot.
 *  @param panel filled, across * down of them, row by row from the top left: 0 the first along the line (red in the first
 *         question, as the fifth is in a second one), 1 the second (green), .. or GLANZ_FINDER_DARK.
 *  @param answer 0 to glanz_finder_answers() - 1 */
void glanz_finder_order(uint8_t *panel, const struct glanz_finder *finder, uint16_t answer);

/** Take an answer and go on. @return GLANZ_ERR_ARGUMENT when there is no such answer, GLANZ_ERR_STATE when all is found, or
 * when the letters were wrong, which the answers before contradict: it has begun anew. */
GLANZ_NODISCARD glanz_status glanz_finder_answer(struct glanz_finder *finder, uint16_t answer);

/** The light of a LED in the picture of this moment. @param led counted along the data line over all panels. */
struct glanz_light glanz_finder_light(const struct glanz_finder *finder, uint16_t led);

/** What was found: panels along the data line, for a surface. @param panels room for across * down. */
void glanz_finder_panels(const struct glanz_finder *finder, struct glanz_panel *panels);

#endif

GLANZ_HEADER_END
#endif
