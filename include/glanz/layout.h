/* SPDX-License-Identifier: MIT */
/** @file
 *  Layout: surfaces made of pieces of data lines, segments cut from surfaces, and the place of each LED in its segment.
 *  Pure functions; any context.
 */
#ifndef GLANZ_LAYOUT_H
#define GLANZ_LAYOUT_H

#include <glanz/base.h>

#ifdef __cplusplus
extern "C" {
#endif

/** Neighbouring LEDs of one output that a surface is made of. */
struct glanz_piece {
    uint8_t output;   /**< index into the rig's outputs */
    uint8_t reversed; /**< 1: the surface runs against the data line here */
    uint16_t first;   /**< first LED on the output, from 0 */
    uint16_t leds;    /**< 1 and up */
};

/** What a surface is. */
enum glanz_surface_kind {
    GLANZ_SURFACE_STRIP, /**< a line with two ends */
    GLANZ_SURFACE_RING   /**< a line whose end joins its start */
};

/** A named set of LEDs with their places: its pieces one after another. */
struct glanz_surface {
    GLANZ_CONST char *name;
    GLANZ_CONST struct glanz_piece *pieces;
    uint8_t piece_count;
    uint8_t kind; /**< enum glanz_surface_kind */
};

/** LEDs of a surface: the sum of its pieces. 0 for NULL. */
uint16_t glanz_surface_leds(GLANZ_CONST struct glanz_surface *surface);

/** Take-and-leave counts that a stencil may have. */
#define GLANZ_STENCIL 8

/** How a segment lies over its surface. */
struct glanz_cut {
    uint16_t first;                 /**< first LED on the surface, from 0 */
    uint16_t leds;                  /**< how many; 0 means all that follow */
    uint8_t grain;                  /**< neighbouring LEDs that show one point together; 0 means 1 */
    uint8_t reversed;               /**< 1: counted from the far end */
    uint8_t mirrored;               /**< 1: the second half mirrors the first */
    uint8_t stencil[GLANZ_STENCIL]; /**< take, leave, take, leave...; 0 ends; all 0 takes every LED */
};

/** Grains (points of its own) along a cut of `leds` LEDs: what an effect sees as the segment's length. */
uint16_t glanz_cut_length(GLANZ_CONST struct glanz_cut *cut, uint16_t leds);

/** Places of a run of LEDs in a cut.
 *  @param places room for `count`; filled with the places of the LEDs taken.
 *  @param taken room for `count`; filled with the indices into the run of the LEDs taken, when there is a stencil.
 *  @param leds LEDs of the cut.
 *  @param at the run's first LED, counted from the cut's first; below `leds`.
 *  @param backward 1: the next LED of the run is at - 1.
 *  @return LEDs taken: `count` when there is no stencil, and then `taken` is not written. */
uint8_t glanz_cut_places(glanz_place *places, uint8_t *taken, GLANZ_CONST struct glanz_cut *cut, uint16_t leds, uint16_t at,
                         uint8_t backward, uint8_t count);

#ifdef __cplusplus
}
#endif
#endif
