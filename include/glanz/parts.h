/* SPDX-License-Identifier: MIT */
/** @file
 *  Parts: what a program links beside the plain frame path, because it names it. A `struct glanz_parts` has a member for each;
 *  a member that is NULL leaves the part out of the program. What a show or a rig needs is looked up when it is taken: a part
 * that is missing is refused by its name. "glanz source" writes just the parts that a show needs; glanz_everything names all.
 *
 *      static const struct glanz_parts parts = {.control = &glanz_part_control, .limit = &glanz_part_limit};
 *      struct glanz_setup setup = {.rig = &rig, .show = &show, .port = &port, .parts = &parts};
 */
#ifndef GLANZ_PARTS_H
#define GLANZ_PARTS_H

#include <glanz/base.h>

GLANZ_HEADER_BEGIN

struct glanz_rig;
struct glanz_show;
struct glanz_control;
struct glanz_engine;
struct glanz_checks_part;    /**< rigs and shows are validated, and what is wrong is said in words */
struct glanz_control_part;   /**< inputs, triggers, presets, actions */
struct glanz_playlists_part; /**< presets one after another */
struct glanz_hands_part;  /**< what a hand changed: undo, take over, hand back; palettes without a look; the calendar and saving
                             need it */
struct glanz_blends_part; /**< segments that let light through, add to it or multiply it, and stencils */
struct glanz_limit_part;  /**< what supplies may give is never exceeded */
struct glanz_glides_part; /**< the same effect with other numbers goes over to them evenly; without it, it crossfades */
struct glanz_colors_part; /**< colours given as kelvin, as HSL, by name */
struct glanz_fields_part; /**< grids, rings of rings and points; effects in two dimensions, and those that remember */
struct glanz_signals_part;  /**< dials, knobs and sensors; signals of shows: waves, the clock, combinations */
struct glanz_gestures_part; /**< triggers that remember: what stays, enters, is turned, comes by turns, not so soon again */
struct glanz_drives_part;   /**< signals laid over the numbers of looks; needs colours beside it */
struct glanz_sound_part;  /**< what microphones hear: as signals, and for effects that live on sound; needs signals beside it */
struct glanz_saving_part; /**< saved presets, and what was showing at the power cut */

/** What is linked. All pointers may be NULL. */
struct glanz_parts {
    GLANZ_CONST struct glanz_checks_part *checks;       /**< glanz_part_checks; without it rigs and shows are trusted */
    GLANZ_CONST struct glanz_control_part *control;     /**< glanz_part_control */
    GLANZ_CONST struct glanz_playlists_part *playlists; /**< glanz_part_playlists */
    GLANZ_CONST struct glanz_hands_part *hands;         /**< glanz_part_hands */
    GLANZ_CONST struct glanz_blends_part *blends;       /**< glanz_part_blends */
    GLANZ_CONST struct glanz_limit_part *limit;         /**< glanz_part_limit */
    GLANZ_CONST struct glanz_glides_part *glides;       /**< glanz_part_glides */
    GLANZ_CONST struct glanz_colors_part *colors;       /**< glanz_part_colors */
    GLANZ_CONST struct glanz_fields_part *fields;       /**< glanz_part_fields */
    GLANZ_CONST struct glanz_saving_part *saving;       /**< glanz_part_saving */
#if GLANZ_DRIVES_MOST > 0
    GLANZ_CONST struct glanz_signals_part *signals;   /**< glanz_part_signals */
    GLANZ_CONST struct glanz_drives_part *drives;     /**< glanz_part_drives */
    GLANZ_CONST struct glanz_gestures_part *gestures; /**< glanz_part_gestures */
    GLANZ_CONST struct glanz_sound_part *sound;       /**< glanz_part_sound */
#endif
};

extern GLANZ_CONST struct glanz_checks_part glanz_part_checks;       /**< for the member "checks" */
extern GLANZ_CONST struct glanz_control_part glanz_part_control;     /**< for the member "control" */
extern GLANZ_CONST struct glanz_playlists_part glanz_part_playlists; /**< for the member "playlists" */
#if GLANZ_SEQUENCES
extern GLANZ_CONST struct glanz_hands_part glanz_part_hands; /**< for the member "hands" */
#endif
extern GLANZ_CONST struct glanz_blends_part glanz_part_blends; /**< for the member "blends" */
extern GLANZ_CONST struct glanz_limit_part glanz_part_limit;   /**< for the member "limit" */
extern GLANZ_CONST struct glanz_colors_part glanz_part_colors; /**< for the member "colors" */
#if GLANZ_GLIDES
extern GLANZ_CONST struct glanz_glides_part glanz_part_glides; /**< for the member "glides" */
#endif
#if GLANZ_FIELDS
extern GLANZ_CONST struct glanz_fields_part glanz_part_fields; /**< for the member "fields" */
#endif
#if GLANZ_SAVED_MOST > 0
extern GLANZ_CONST struct glanz_saving_part glanz_part_saving; /**< for the member "saving" */
#endif
#if GLANZ_DRIVES_MOST > 0
extern GLANZ_CONST struct glanz_signals_part glanz_part_signals;   /**< for the member "signals" */
extern GLANZ_CONST struct glanz_drives_part glanz_part_drives;     /**< for the member "drives" */
extern GLANZ_CONST struct glanz_gestures_part glanz_part_gestures; /**< for the member "gestures" */
extern GLANZ_CONST struct glanz_sound_part glanz_part_sound;       /**< for the member "sound" */
#endif

/** What rigs, shows and looks can need, as bits. */
enum glanz_part_bit {
    GLANZ_PART_CONTROL = 1,
    GLANZ_PART_LIMIT = 2,
    GLANZ_PART_COLORS = 4,
    GLANZ_PART_FIELDS = 8,
    GLANZ_PART_SAVING = 16,
    GLANZ_PART_BLENDS = 32,
    GLANZ_PART_PLAYLISTS = 64,
    GLANZ_PART_HANDS = 128,
    GLANZ_PART_SIGNALS = 256,
    GLANZ_PART_DRIVES = 512,
    GLANZ_PART_GESTURES = 1024,
    GLANZ_PART_SOUND = 2048
};
/** What saving needs: itself and what it brings back. */
#define GLANZ_PARTS_OF_SAVING                                                                                                  \
    (GLANZ_PART_CONTROL | GLANZ_PART_PLAYLISTS | GLANZ_PART_SAVING | (GLANZ_SEQUENCES ? (unsigned)GLANZ_PART_HANDS : 0u))
/** The member of struct glanz_parts that the lowest of these bits stands for, such as "limit"; NULL for 0. */
GLANZ_CONST char *glanz_part_name(unsigned needed);
/** The bits of the parts that are named; 0 for NULL. */
unsigned glanz_parts_present(GLANZ_CONST struct glanz_parts *parts);
/** The parts that a rig and a show need; 0 where one is NULL. Both are to be valid. */
unsigned glanz_parts_needed(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show);

/** The checks of these parts; on AVR there are none: shows are trusted. */
#ifdef __AVR__
#define GLANZ_CHECKS_OF(parts) ((void)(parts), (GLANZ_CONST struct glanz_checks_part *)NULL)
#else
#define GLANZ_CHECKS_OF(parts) ((parts)->checks)
#endif

/** No part: what NULL means. */
extern GLANZ_CONST struct glanz_parts glanz_nothing;
/** All parts, for desktops and large controllers. */
extern GLANZ_CONST struct glanz_parts glanz_everything;

GLANZ_HEADER_END
#endif
