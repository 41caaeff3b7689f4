/* SPDX-License-Identifier: MIT */
/** @file
 *  Parts: what a program links beside the plain frame path, because it names it. A `struct glanz_parts` has a member for each;
 *  a member that is NULL leaves the part out of the program. What a show or a rig needs is looked up when it is taken: a part that
 *  is missing is refused by its name. "glanz source" writes just the parts that a show needs; glanz_everything names all.
 *
 *      static const struct glanz_parts parts = {.control = &glanz_part_control, .limit = &glanz_part_limit};
 *      struct glanz_setup setup = {.rig = &rig, .show = &show, .port = &port, .parts = &parts};
 */
#ifndef GLANZ_PARTS_H
#define GLANZ_PARTS_H

#include <glanz/base.h>

#ifdef __cplusplus
extern "C" {
#endif

struct glanz_rig;
struct glanz_show;
struct glanz_checks_part;  /**< rigs and shows are validated, and what is wrong is said in words */
struct glanz_control_part; /**< inputs, triggers, presets, actions */
struct glanz_fields_part;  /**< grids, rings of rings and points; effects in two dimensions, and those that remember */
struct glanz_saving_part;  /**< saved presets, and what was showing at the power cut */

/** What is linked. All pointers may be NULL. */
struct glanz_parts {
    GLANZ_CONST struct glanz_checks_part *checks;   /**< glanz_part_checks; without it rigs and shows are trusted */
    GLANZ_CONST struct glanz_control_part *control; /**< glanz_part_control */
    GLANZ_CONST struct glanz_fields_part *fields;   /**< glanz_part_fields */
    GLANZ_CONST struct glanz_saving_part *saving;   /**< glanz_part_saving */
};

extern GLANZ_CONST struct glanz_checks_part glanz_part_checks;
extern GLANZ_CONST struct glanz_control_part glanz_part_control;
#if GLANZ_FIELDS
extern GLANZ_CONST struct glanz_fields_part glanz_part_fields;
#endif
#if GLANZ_SAVED_MOST > 0
extern GLANZ_CONST struct glanz_saving_part glanz_part_saving;
#endif

/** What can be missing, as bits of glanz_parts_needed(), and their names as members of struct glanz_parts. */
enum glanz_part_kind { GLANZ_PART_CONTROL, GLANZ_PART_FIELDS, GLANZ_PART_COUNT };
extern GLANZ_CONST char *GLANZ_CONST glanz_part_names[GLANZ_PART_COUNT];
/** The parts that a rig and a show need. */
uint32_t glanz_parts_needed(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show);

/** All parts, for desktops and large controllers. */
extern GLANZ_CONST struct glanz_parts glanz_everything;

#ifdef __cplusplus
}
#endif
#endif
