/* SPDX-License-Identifier: MIT */
/** @file
 *  Light: from linear light to the levels a chip can show: gain, white extraction, temporal dither. Pure but for the
 *  remainders it is given.
 */
#ifndef GLANZ_LIGHT_H
#define GLANZ_LIGHT_H

#include <glanz/color.h>

GLANZ_HEADER_BEGIN

/** The dither of one frame. A dither period is 2^depth frames, and all LEDs begin theirs in the same frame. The remainder of
 *  LED i of an output begins at i, its eight bits reversed, and is carried from frame to frame: each LED's mean over a period
 *  is within one 2^depth-th of a chip step, that of any 16 neighbours within an eighth of it, and in every frame the share of
 *  LEDs that are rounded up is the fraction, within 1 of 64. */
struct glanz_dither {
    uint8_t at;    /**< which frame of the period this is, 0 to 2^depth - 1; remainders begin anew at 0 */
    uint8_t depth; /**< 0 to GLANZ_DEPTH_MOST */
    uint8_t open;  /**< 1: no periods; the remainder is carried on for ever and a LED may blink at any pace */
    uint8_t equal; /**< 1: every remainder begins at one half, so that LEDs of one colour stay equal */
    uint8_t dark;  /**< 1: levels of less than one chip step are dark */
};
#define GLANZ_DEPTH_MOST 4 /**< beyond it the rounding to 1/256 chip step would be seen in the means */
#define GLANZ_APART 85u    /**< between the channels of a LED */

/** The depth for a frame interval, so that 2^depth frames last no longer than one blink of the lowest frequency.
 *  @param interval_us time between two frames. @param lowest_hz 1 to 200. */
uint8_t glanz_dither_depth(uint32_t interval_us, uint8_t lowest_hz);

/** The remainders with which a period begins, for a run; nothing where `at` is not 0 or `open` is set.
 *  @param remainders `channels` bytes for each LED. @param first index on the output of the run's first LED. */
void glanz_dither_begin(const struct glanz_dither *dither, uint8_t *remainders, uint8_t channels, uint16_t first,
                        uint8_t count);

/** What is counted while a run becomes bytes. */
enum glanz_ration {
    GLANZ_UNCOUNTED, /**< nothing */
    GLANZ_COUNTED,   /**< light and bytes */
    GLANZ_RATIONED   /**< light; and a byte is rounded up only while that keeps the run within what is spare */
};

/** For the current limit: what light was asked for, what the bytes draw, what rounding up may still draw. */
struct glanz_tally {
    uint8_t ration; /**< enum glanz_ration */
    uint16_t
        charge[4]; /**< by channel: what 1/256 chip step costs, in units of `spare`; rounded up where it is not 256; 1 to 256 */
    int32_t spare; /**< one-wire, rationed: 1/65536 chip steps of the dearest channel; 0 and up, and stays so */
    uint32_t light[4]; /**< added to, by channel: levels before the gain */
    uint32_t bytes[4]; /**< counted: added to, by channel: chip units */
};

/** Dither red, green and blue of a run to bytes in a chip's order, three bytes a LED.
 *  @param bytes,remainders of the run's first LED. @param order as GLANZ_ORDER(). @param gain by channel, 0 to 65536. */
void glanz_dither_colors(struct glanz_tally *tally, uint8_t *bytes, uint8_t *remainders, uint8_t order,
                         const struct glanz_light *light, const uint32_t *gain, uint8_t count);

/** The same for four bytes a LED; the white one is left alone, and counted. */
void glanz_dither_beside(struct glanz_tally *tally, uint8_t *bytes, uint8_t *remainders, uint8_t order,
                         const struct glanz_light *light, const uint32_t *gain, uint8_t count);

/** The same for white levels, one after another; bytes and remainders of white, 4 apart. Before the colours of the
 *  same LEDs. */
void glanz_dither_white(struct glanz_tally *tally, uint8_t *bytes, uint8_t *remainders, const uint16_t *levels, uint32_t gain,
                        uint8_t count);

/** Look at the levels of a channel before they become bytes. Where the dither says so, those of less than one chip step are
 *  made dark. @param channel position among the LED's remainders. @param level_stride from level to level.
 *  @return would any LED change its byte within a period that begins as glanz_dither_begin() does, with levels that stand
 *  still? Of an open dither: is any level not a whole step? */
uint8_t glanz_dither_look(const struct glanz_dither *dither, uint16_t first, uint8_t channel, uint16_t *levels,
                          uint8_t level_stride, uint32_t gain, uint8_t count);

/** The same for one level in 8.8 chip steps. @param remainder with which its period begins. */
static inline uint8_t glanz_level_restless(const struct glanz_dither *dither, uint8_t remainder, uint16_t level) {
    uint16_t part = level & 0xFFu;
    if (part == 0 || dither->open) {
        return part != 0;
    }
    return remainder + (uint16_t)(part << dither->depth) > 255u && remainder < (uint16_t)((256u - part) << dither->depth);
}

/** The remainder with which a LED's period begins. */
static inline uint8_t glanz_dither_start(const struct glanz_dither *dither, uint16_t led, uint8_t channel) {
    uint8_t bits = (uint8_t)led;
    bits = (uint8_t)(bits << 4 | bits >> 4);
    bits = (uint8_t)((bits & 0x33u) << 2 | (bits & 0xCCu) >> 2);
    bits = (uint8_t)((bits & 0x55u) << 1 | (bits & 0xAAu) >> 1);
    return dither->equal ? 128u : (uint8_t)(bits + channel * GLANZ_APART);
}

/** Scale a level to 8.8 chip steps: 65535 becomes 65280. */
static inline uint16_t glanz_chip_level(uint16_t level) {
    return (uint16_t)(((uint32_t)level * 65281u + 32768u) >> 16);
}

/** A white LED, ready for extraction. */
struct glanz_white {
    uint32_t gain[3];    /**< its red, green and blue, 0 to 65536; a channel of 0 is not taken from */
    uint32_t inverse[3]; /**< 2^32 over them; 0 for a channel of 0, which sets no bound */
};
/** A white LED of a colour. @param light its colour, as glanz_color_light() gives it. */
struct glanz_white glanz_white_of(struct glanz_light light);

/** White extraction: the white that is in every colour moves to the white LED; the colour stays what it was.
 *  @param levels filled: levels of the white LED. @param light in/out: what is left for red, green and blue. */
void glanz_white_extract(uint16_t *levels, struct glanz_light *light, const struct glanz_white *white, uint8_t count);

/** Blend modes of segments. */
enum glanz_blend {
    GLANZ_BLEND_COVER,    /**< lies over what is under it, by its opacity */
    GLANZ_BLEND_ADD,      /**< light on light, up to full */
    GLANZ_BLEND_LIGHTER,  /**< channel by channel the larger */
    GLANZ_BLEND_DARKER,   /**< channel by channel the smaller */
    GLANZ_BLEND_MULTIPLY, /**< as a colour filter over what is under it */
    /* masks: nothing of the segment is seen. It decides where the one right below it in the stack is, and where what lies under
     * both is instead */
    GLANZ_BLEND_MASK_BY_BRIGHTNESS, /**< by its brightest channel: there as much as that is lit */
    GLANZ_BLEND_MASK_BY_DARKNESS,   /**< there as much as that is not lit */
    GLANZ_BLEND_MASK_BY_COVERAGE,   /**< there as much as its look covers, which texts, pictures and marks tell */
    GLANZ_BLEND_MASK_BY_GAPS        /**< there as much as its look does not cover */
};
#define GLANZ_BLENDS 5 /**< of light with light: those before the masks */
#if GLANZ_FIELDS
/** Kinds of blends. */
#define GLANZ_BLEND_COUNT 9
#else
#define GLANZ_BLEND_COUNT 5
#endif

/** Mix light over light: `weight` of it, 0 to 65536. */
void glanz_light_cover(struct glanz_light *under, const struct glanz_light *over, uint8_t count, uint32_t weight);
/** The same as glanz_blend_run() with GLANZ_BLEND_COVER, whatever `blend` says, for runs of which every LED is taken. */
void glanz_light_over(struct glanz_light *under, const struct glanz_light *over, const uint8_t *taken, uint8_t count,
                      enum glanz_blend blend, uint32_t opacity);

/** Blend `over` into `under`. @param opacity 0 to 65536.
 *  @param taken where in `under` each light of `over` goes; NULL for one after another. */
void glanz_blend_run(struct glanz_light *under, const struct glanz_light *over, const uint8_t *taken, uint8_t count,
                     enum glanz_blend blend, uint32_t opacity);

#if GLANZ_FIELDS
/** The same for lights that tell how much they cover, each `over` being its light times its `cover` (0 to 65535): what is
 *  under a LED not covered stays. With GLANZ_BLEND_MULTIPLY what is not covered multiplies by one. */
void glanz_blend_sheer(struct glanz_light *under, const struct glanz_light *over, const uint16_t *cover, const uint8_t *taken,
                       uint8_t count, enum glanz_blend blend, uint32_t opacity);
#endif

GLANZ_HEADER_END
#endif
