/* SPDX-License-Identifier: MIT */
/** @file
 *  Light: from linear light to the levels a chip can show: gain, white extraction, temporal dither. Pure but for the
 *  remainders it is given.
 */
#ifndef GLANZ_LIGHT_H
#define GLANZ_LIGHT_H

#include <glanz/color.h>

#ifdef __cplusplus
extern "C" {
#endif

/** The dither of one frame. A dither period is 2^depth frames; the mean of a level over a LED's period is the nearest
 *  2^depth-th of a chip step, and every period begins afresh, so that nothing blinks slower than one period. The period
 *  of LED i of an output begins in the frames n where (i * 5 + n) is a multiple of 2^depth. */
struct glanz_dither {
    uint16_t frame; /**< n: counts shaded frames, wraps */
    uint8_t depth;  /**< 0 to 7; 0 rounds to the nearest chip step */
    uint8_t open;   /**< 1: no periods; the remainder is carried on for ever and a LED may blink at any pace */
};

/** The depth for a frame interval, so that 2^depth frames last no longer than one blink of the lowest frequency.
 *  @param interval_us time between two frames. @param lowest_hz 1 to 200. */
uint8_t glanz_dither_depth(uint32_t interval_us, uint8_t lowest_hz);

/** Begin the periods that start in this frame: sets the remainders of those LEDs to one half.
 *  @param remainders `channels` bytes for each LED. @param first index on the output of the run's first LED. */
void glanz_dither_begin(const struct glanz_dither *dither, uint8_t *remainders, uint8_t channels, uint16_t first,
                        uint8_t count);

/** Dither red, green and blue of a run to bytes in a chip's order.
 *  @param bytes,remainders first byte of the run; the next LED's is `stride` on: 3, or 4 where white is among them, which is
 * left alone. @param order as GLANZ_ORDER(). @param gain by channel, 0 to 65536.
 *  @param[in,out] sum by channel; the bytes are added.
 *  @param[in,out] restless set to 1 when a level lies between two steps, so that the next frame may differ; not worked out
 *  when it is 1 already. */
void glanz_dither_colors(const struct glanz_dither *dither, uint8_t *bytes, uint8_t *remainders, uint8_t stride, uint8_t order,
                         const struct glanz_light *light, const uint32_t *gain, uint8_t count, uint32_t *sum,
                         uint8_t *restless);

/** The same for white levels, one after another; bytes and remainders of white, 4 apart. @return sum of the bytes. */
uint32_t glanz_dither_white(const struct glanz_dither *dither, uint8_t *bytes, uint8_t *remainders, const uint16_t *levels,
                            uint32_t gain, uint8_t count, uint8_t *restless);

/** Scale a level to 8.8 chip steps: 65535 becomes 65280. */
static inline uint16_t glanz_chip_level(uint16_t level) {
    return (uint16_t)(((uint32_t)level * 65281u + 32768u) >> 16);
}

/** A white LED, ready for extraction. */
struct glanz_white {
    uint32_t gain[3];    /**< its red, green and blue, 0 to 65536; a channel of 0 is not taken from */
    uint32_t inverse[3]; /**< 2^32 over them */
};
/** @param light its colour, as glanz_color_light() gives it. */
struct glanz_white glanz_white_of(struct glanz_light light);

/** White extraction: the white that is in every colour moves to the white LED; the colour stays what it was.
 *  @param levels filled: levels of the white LED. @param light in/out: what is left for red, green and blue. */
void glanz_white_extract(uint16_t *levels, struct glanz_light *light, const struct glanz_white *white, uint8_t count);

/** Blend modes of segments: trade terms. */
enum glanz_blend {
    GLANZ_BLEND_COVER,   /**< lies over what is under it, by its opacity */
    GLANZ_BLEND_ADD,     /**< light on light, up to full */
    GLANZ_BLEND_LIGHTER, /**< channel by channel the larger */
    GLANZ_BLEND_DARKER,  /**< channel by channel the smaller */
    GLANZ_BLEND_MULTIPLY /**< as a colour filter over what is under it */
};
#define GLANZ_BLEND_COUNT 5

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

#ifdef __cplusplus
}
#endif
#endif
