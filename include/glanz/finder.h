/* SPDX-License-Identifier: MIT */
/** @file
 *  Finder: works out how the panels of a grid are wired, from what one sees of test pictures. For one to eight panels there are
 *  up to 40,320 orders times 16 wirings each. One question for each panel tells its wiring. Of panels with equally many LEDs
 *  one question more tells the order (two from six panels on, none for one panel): five at the most for four panels, ten for
 *  eight. Of unequal ones the order takes a question for each panel but the last, until those that are left are equal. A last
 *  look at letters tells whether all answers were right. Or one tries what one supposes, with the letters changing at once:
 *  glanz_finder_suppose(), glanz_finder_exchange(). Pure functions; no memory but the struct.
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
     *  which order do the colours hang, slot by slot? With more panels than five once more, of the later ones. Where panels
     *  have unequally many LEDs one at a time is red, as far as the smallest goes. Answers: glanz_finder_order(). */
    GLANZ_FINDER_ORDER,
    /** On one panel LED 0 is red, the next one green, the one where a second row would begin blue, and where a second column
     * would begin white. What is seen? Answers: the wiring itself, or-ed of enum glanz_wiring, 0 to 15. */
    GLANZ_FINDER_WIRING,
    /** Letters F, G, J, R, P, Q, 4, 7, one a panel, slot by slot: is each the right way round? Answers: 0 no, 1 yes. No: it
       begins anew. */
    GLANZ_FINDER_LOOK,
    GLANZ_FINDER_DONE /**< nothing: glanz_finder_panels() tells what was found */
};

/** A search. Begin with glanz_finder_begin(); the members are its own. A slot is where a panel hangs, by its index in the list
 *  that it began with; a panel's number is its index along the data line. */
struct glanz_finder {
    struct glanz_panel panels[GLANZ_FINDER_PANELS]; /**< by slot: where it hangs, its size as it hangs, its wiring so far */
    uint8_t count;
    uint8_t question;                  /**< enum glanz_finder_question */
    uint8_t panel;                     /**< number of the panel that the question is about; the first one, of the order */
    uint8_t anew;                      /**< times the letters were not right: some answers contradicted what hangs there */
    uint8_t slot[GLANZ_FINDER_PANELS]; /**< where the panel of each number hangs */
};

/** @param hanging where the panels hang and how large they are there: left, top, columns, rows (2 to 255); row by row from the
 *         top left, or in any order in which people will answer. Other members are ignored; copied.
 *  @param count 1 to GLANZ_FINDER_PANELS
 *  @return GLANZ_ERR_ARGUMENT for other sizes or counts, or more than 65,535 LEDs. */
GLANZ_NODISCARD glanz_status glanz_finder_begin(struct glanz_finder *finder, const struct glanz_panel *hanging, uint8_t count);

/** How many answers the question has; 0 when all is found. */
uint16_t glanz_finder_answers(const struct glanz_finder *finder);

/** An answer to the question of the order: which panel along the line is seen lit in each slot.
 *  @param panel filled, one a slot: the number of the panel that is lit there, glanz_finder.panel for red, one more for green,
 *         .., or GLANZ_FINDER_DARK.
 *  @param answer 0 to glanz_finder_answers() - 1 */
void glanz_finder_order(uint8_t *panel, const struct glanz_finder *finder, uint16_t answer);

/** Take an answer and go on. @return GLANZ_ERR_ARGUMENT when there is no such answer, GLANZ_ERR_STATE when all is found, or
 * when the letters were wrong, which the answers before contradict: it has begun anew. */
GLANZ_NODISCARD glanz_status glanz_finder_answer(struct glanz_finder *finder, uint16_t answer);

/** Say how one supposes a panel to be wired, and look at the letters as they are with that. At any time, as often as one likes,
 *  also after all is found. Answers so far stay; what nobody answered yet is supposed too: from the top left, by rows, all one
 *  way, the numbers in the order of the slots.
 *  @param slot where the panel hangs
 *  @param wiring or-ed of enum glanz_wiring
 *  @return GLANZ_ERR_ARGUMENT for a slot or wiring that there is not: nothing is changed. */
GLANZ_NODISCARD glanz_status glanz_finder_suppose(struct glanz_finder *finder, uint8_t slot, uint8_t wiring);

/** Suppose that two panels hang the other way about: each takes the other's number along the line. Else as
 *  glanz_finder_suppose(). @param slot where one hangs @param other where the other hangs */
GLANZ_NODISCARD glanz_status glanz_finder_exchange(struct glanz_finder *finder, uint8_t slot, uint8_t other);

/** The light of a LED in the picture of this moment. @param led counted along the data line over all panels. */
struct glanz_light glanz_finder_light(const struct glanz_finder *finder, uint16_t led);

/** What was found: panels along the data line, for a surface. @param panels filled, room for as many as it began with. */
void glanz_finder_panels(const struct glanz_finder *finder, struct glanz_panel *panels);

#endif

GLANZ_HEADER_END
#endif
