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

GLANZ_HEADER_BEGIN

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
/** Kinds of curves. */
#define GLANZ_CURVES 5

/** What happens when a hand sets a number that is driven. What it sets is asked for, and saved, in any case. */
enum glanz_yield {
    GLANZ_YIELD_UNTIL_IT_MOVES,    /**< it holds until the signal has moved by 2 % of the drive's way */
    GLANZ_YIELD_UNTIL_HANDED_BACK, /**< it holds until glanz_engine_release() */
    GLANZ_YIELD_NEVER              /**< the drive stays */
};
/** Kinds of yielding. */
#define GLANZ_YIELDS 3
#define GLANZ_YIELD_BACK_MS 400 /**< how long the number takes from the hand's to the drive's */

#define GLANZ_DRIVE_TURNS (64 * 65536) /**< the most that a drive may turn an angle, either way */
#define GLANZ_DRIVE_BRIGHTNESS                                                                                                 \
    254 /**< in place of a parameter: the brightness of a look, a lightness 0 to 65535; of a segment or                        \
           the whole: a lightness by which theirs is dimmed */
#define GLANZ_DRIVE_OPACITY 253 /**< of a segment: 0 to 65535, times its own */
#define GLANZ_DRIVE_BEARING                                                                                                    \
    252 /**< of a segment that lies slanted and swings: 65536ths of a turn, up to GLANZ_DRIVE_TURNS either way */
#define GLANZ_DRIVE_OF_SEGMENT GLANZ_DRIVE_BEARING /**< from here on it is none of the effect's parameters */

/** A drive: what a signal lays over one number of a look, while it shows. What was asked for stays as it is, and only that is
 *  saved. */
struct glanz_drive {
    uint8_t param;  /**< index of the effect's parameter, or GLANZ_DRIVE_BRIGHTNESS: each once in a look */
    uint8_t signal; /**< index: inputs of the rig, then signals of the show */
    uint8_t unit;   /**< enum glanz_unit of `from` and `to`; NONE: of the parameter's standard */
    uint8_t curve;  /**< enum glanz_curve */
    uint8_t steps;  /**< of GLANZ_CURVE_STEPS: levels, 2 to 255 */
    uint8_t yields; /**< enum glanz_yield */
    uint8_t round;  /**< 1: both ends are the same (a hue all round, an angle whole turns on): where a signal begins again, it
                       goes  on over the seam and not back. Documents find that out */
    uint16_t rest;  /**< part of the way, about its middle, in which the number stays in its middle: 0 to 60000 of 65536 */
    uint16_t rise_ms, fall_ms; /**< half-lives: after this time half of the way up, or down, is done; 0: at once */
    uint32_t begin, end; /**< part of the signal that is followed, 0 to 65536; both 0: all of it. Beyond it the ends hold */
    int32_t from, to;    /**< the number at `begin` and at `end`: as the parameter's kind says. Colours: two that are both
                            GLANZ_HSL() go by hue, saturation and lightness, else straight in light */
};

/* ---- sound ---- */

#define GLANZ_BANDS_MOST 32 /**< bands of one source of sound */

/** How a microphone or a line is listened to. Numbers that are 0 stand for their standard. */
struct glanz_hearing {
    uint16_t rate_hz;    /**< samples a second, 8000 to 48000 */
    uint16_t low_hz;     /**< where the lowest band begins, at least 30; 0 means 60 */
    uint16_t high_hz;    /**< where the highest ends, at most 0.45 of the rate; 0 means 7000, or 0.4 of a lower rate */
    uint8_t bands;       /**< 1 to GLANZ_BANDS_MOST, evenly spaced to the ear, each at least a sixth of an octave; 0 means 8 */
    uint8_t span_db;     /**< from level 0 to the highest, 12 to 72 dB; 0 means 36 */
    uint8_t loudest_db;  /**< what the highest level stands for, dB below a sine at full scale, 1 to 80; 0: it adapts */
    uint8_t gate_db;     /**< below this it is silent, dB below a sine at full scale, 20 to 90; 0: learnt from the noise */
    uint8_t hum_hz;      /**< of the mains, 45 to 65, whose hum is taken out of the bands, with three overtones; 0: none is */
    uint16_t adapts_ms;  /**< half-life with which the highest level comes down to quieter sound, 100 to 60000; 0 means 4000 */
    uint16_t rise_ms;    /**< half-life of levels that rise, at most 5000; 0: at once */
    uint16_t fall_ms;    /**< and of those that fall, at most 5000; 0 means 60 */
    uint16_t silence_ms; /**< how long it is below the gate until it counts as silence, 50 to 60000; 0 means 1000 */
};

/** The same with every 0 that stands for a standard replaced by it. */
struct glanz_hearing glanz_hearing_filled(GLANZ_CONST struct glanz_hearing *hearing);

/** What is wrong with a way of listening, and what was expected; NULL: nothing. */
GLANZ_CONST char *glanz_hearing_wrong(GLANZ_CONST struct glanz_hearing *hearing);

/** Edges of bands, in 1/16 Hz: band i lies between edge i and edge i + 1. @param hearing filled. @param edge at most its
 * bands. */
uint32_t glanz_hearing_edge(const struct glanz_hearing *hearing, uint8_t edge);

/** Parts of the range of hearing: the whole, below 200 Hz, from there to 2000 Hz, above. */
enum glanz_range { GLANZ_RANGE_ALL, GLANZ_RANGE_LOW, GLANZ_RANGE_MIDDLE, GLANZ_RANGE_HIGH };
/** Kinds of ranges. */
#define GLANZ_RANGES 4

/** An onset: something begins to sound. */
struct glanz_onset {
    uint16_t count;    /**< of all so far; wraps */
    uint16_t strength; /**< of the newest, 0 to 65535 */
    uint32_t at_us;    /**< when the newest came, by the clock that samples are pushed with */
};

#define GLANZ_WAVE_POINTS 64 /**< of the shape of a sound */

/** What was heard up to the newest tick of 5 ms. Levels run from 0 to 65535. */
struct glanz_heard {
    uint32_t ticks;                         /**< since listening began; 0: nothing was heard yet; after 2^32 - 1 comes 1 */
    uint32_t time_us;                       /**< of the tick's end, by the clock that samples are pushed with */
    uint16_t level[GLANZ_RANGES];           /**< how loud: the mean square of the whole, the loudest band of each range */
    uint16_t peak;                          /**< the largest sample of the tick */
    uint16_t clipped;                       /**< samples at full scale so far; wraps */
    struct glanz_onset onset[GLANZ_RANGES]; /**< of the whole, and of each range */
    uint16_t beats;                         /**< of the beat clock; wraps */
    uint16_t trust;                         /**< in tempo and beat; 0 without them */
    uint32_t beat_us;                       /**< when the newest beat was, by the clock that samples are pushed with */
    uint32_t period_us;                     /**< from beat to beat; 0: not known */
    uint32_t pitch;                         /**< 16.16 semitones above 16.35 Hz (C0); of the main pitch heard last */
    uint16_t pitch_trust;                   /**< 0: no pitch, or not listened for */
    int16_t level_cdb, peak_cdb;            /**< hundredths of dB below a sine at full scale: mean square, largest sample */
    int16_t gate_cdb, loudest_cdb;          /**< the same of the gate and of the highest level of bands */
    const int8_t *wave;   /**< GLANZ_WAVE_POINTS of its shape over some 20 ms, from where it rises through zero, 127 for the
                             largest of late; NULL: not listened for */
    uint8_t silent;       /**< 1: below the gate for so long */
    uint8_t bands;        /**< entries of `band` */
    const uint16_t *band; /**< level of each band, lowest first */
};

GLANZ_HEADER_END
#endif
