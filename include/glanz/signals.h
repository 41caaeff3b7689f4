/* SPDX-License-Identifier: MIT */
/** @file
 *  Signals: named numbers that change with time, and drives, which lay them over the numbers of looks.
 *
 *  A signal's number is its index: first the inputs of the rig, then the signals of the show. Its level runs from 0 to 65536,
 *  both ends among them; a turn is an angle, 0 to 65535 of one full turn, which goes on at 0 after its end.
 */
#ifndef GLANZ_SIGNALS_H
#define GLANZ_SIGNALS_H

#include <glanz/base.h>

#ifdef __cplusplus
extern "C" {
#endif

#define GLANZ_LEVEL_FULL 65536u                  /**< the highest level of a signal */
#define GLANZ_LEVEL_TURN 0x80000000u             /**< or-ed to a level: it is an angle */
#define GLANZ_LEVEL_OF(level) ((level)&0x1FFFFu) /**< without that */

/** A level from a number of 16 bits: 65535 becomes 65536. */
static inline uint32_t glanz_level_of_value(uint16_t value) {
    return (uint32_t)value + (value >> 15);
}

/** How a drive's way lies between its ends. */
enum glanz_curve {
    GLANZ_CURVE_STRAIGHT,
    GLANZ_CURVE_GENTLE, /**< slow at both ends: 3f^2 - 2f^3 */
    GLANZ_CURVE_LATE,   /**< slow at first: f^2 */
    GLANZ_CURVE_EARLY,  /**< fast at first: 1 - (1 - f)^2 */
    GLANZ_CURVE_STEPS   /**< so many levels with jumps between them: see glanz_drive.steps */
};
#define GLANZ_CURVES 5

/** What happens when a hand sets a number that is driven. What it sets is asked for, and saved, in any case. */
enum glanz_yield {
    GLANZ_YIELD_UNTIL_IT_MOVES,    /**< it holds until the signal has moved by 2 % of the drive's way */
    GLANZ_YIELD_UNTIL_HANDED_BACK, /**< it holds until glanz_engine_release() */
    GLANZ_YIELD_NEVER              /**< the drive stays */
};
#define GLANZ_YIELDS 3
#define GLANZ_YIELD_BACK_MS 400 /**< how long the number takes from the hand's to the drive's */

#define GLANZ_DRIVE_TURNS (64 * 65536) /**< the most that a drive may turn an angle, either way */
#define GLANZ_DRIVE_BRIGHTNESS                                                                                                 \
    254 /**< in place of a parameter: the brightness of a look, a lightness 0 to 65535; of a segment or                        \
           the whole: a lightness by which theirs is dimmed */
#define GLANZ_DRIVE_OPACITY 253 /**< of a segment: 0 to 65535, times its own */

/** A drive: what a signal lays over one number of a look, while it shows. What was asked for stays as it is, and only that is
 *  saved. */
struct glanz_drive {
    uint8_t param;  /**< index of the effect's parameter, or GLANZ_DRIVE_BRIGHTNESS: each once in a look */
    uint8_t signal; /**< index: inputs of the rig, then signals of the show */
    uint8_t unit;   /**< enum glanz_unit of `from` and `to`; NONE: of the parameter's standard */
    uint8_t curve;  /**< enum glanz_curve */
    uint8_t steps;  /**< of GLANZ_CURVE_STEPS: levels, 2 to 255 */
    uint8_t yields; /**< enum glanz_yield */
    uint16_t rest;  /**< part of the way, about its middle, in which the number stays in its middle: 0 to 60000 of 65536 */
    uint16_t rise_ms, fall_ms; /**< half-lives: after this time half of the way up, or down, is done; 0: at once */
    uint32_t begin, end; /**< part of the signal that is followed, 0 to 65536; both 0: all of it. Beyond it the ends hold */
    int32_t from, to;    /**< the number at `begin` and at `end`: as the parameter's kind says. Colours: two that are both
                            GLANZ_HSL() go by hue, saturation and lightness, else straight in light */
};

#ifdef __cplusplus
}
#endif
#endif
