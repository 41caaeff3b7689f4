/* SPDX-License-Identifier: MIT */
/** @file
 *  Layout: surfaces made of pieces of data lines, segments cut from surfaces, and the place of each LED in its segment.
 *  Pure functions; any context.
 */
#ifndef GLANZ_LAYOUT_H
#define GLANZ_LAYOUT_H

#include <glanz/base.h>

GLANZ_HEADER_BEGIN

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
    GLANZ_SURFACE_RING,  /**< a line whose end joins its start */
    GLANZ_SURFACE_GRID,  /**< panels in a field: each piece is one panel; a plain grid is one */
    GLANZ_SURFACE_RINGS, /**< rings around one middle: each piece is one ring */
    GLANZ_SURFACE_POINTS /**< LEDs that stand anywhere in a field */
};

#if GLANZ_FIELDS
/** How the data line runs through a panel, or-ed; 0: from the top left along rows, every row from the left. */
enum glanz_wiring {
    GLANZ_FROM_RIGHT = 1,  /**< the first LED is in a right corner */
    GLANZ_FROM_BOTTOM = 2, /**< the first LED is in a bottom corner */
    GLANZ_BY_COLUMNS = 4,  /**< along columns */
    GLANZ_ZIGZAG = 8       /**< every second row (column) runs back */
};

/** A panel: the piece of the same index, and where it hangs. First its wiring as seen from its own front, then mirrored, then
 *  turned, then placed. */
struct glanz_panel {
    GLANZ_CONST char *name; /**< NULL: none */
    uint16_t left, top;     /**< of its top left corner as it hangs, in the surface's field */
    uint16_t columns, rows; /**< as it would hang unturned; columns * rows is the piece's LEDs */
    uint8_t wiring;         /**< enum glanz_wiring, or-ed */
    uint8_t turned;         /**< quarter turns clockwise, 0 to 3 */
    uint8_t mirrored;       /**< 1: left and right changed, as seen from the back */
};

/** A ring: the piece of the same index. */
struct glanz_circle {
    GLANZ_CONST char *name; /**< NULL: none */
    uint16_t radius;        /**< to the LEDs' middles, 64ths of a step; 0: so that its LEDs are one step apart */
    uint16_t start;         /**< bearing of the first LED, 65536 a turn, clockwise from the top */
    uint8_t backward;       /**< 1: counterclockwise */
};

/** Where a LED stands in a field, 64ths of a step from the top left. */
struct glanz_point {
    uint16_t x, y; /**< across and down, in 65536ths of the field */
};
#endif

/** A named set of LEDs with their places: its pieces one after another. */
struct glanz_surface {
    GLANZ_CONST char *name;
    GLANZ_CONST struct glanz_piece *pieces; /**< a list of piece_count, in the order in which it is looked at */
    uint8_t piece_count;
    uint8_t kind; /**< enum glanz_surface_kind */
#if GLANZ_FIELDS
    uint8_t joined;         /**< grids: 1: the right edge joins the left, as round a column */
    uint16_t columns, rows; /**< of the field, 1 to GLANZ_FIELD_MOST; 0: as they need (strips and rings always) */
    GLANZ_CONST struct glanz_panel *panels;   /**< one for each piece; grids only */
    GLANZ_CONST struct glanz_circle *circles; /**< one for each piece of rings, one for a ring; NULL: all standard */
    GLANZ_CONST struct glanz_point *points;   /**< one for each LED, in the order of the pieces; points only */
#endif
};

#define GLANZ_FIELD_MOST 1023 /**< columns or rows of a field */

/** LEDs of a surface: the sum of its pieces. 0 for NULL. */
uint16_t glanz_surface_leds(GLANZ_CONST struct glanz_surface *surface);

#if GLANZ_FIELDS
/** Neighbouring LEDs of a surface, somewhere along a region. */
struct glanz_pick {
    uint16_t led;     /**< the first of them on the surface, from 0 */
    uint16_t leds;    /**< how many, at least 1 */
    uint16_t place;   /**< along the region, from 0: of the first of them, or of the last when they run backward */
    uint8_t backward; /**< 1: the next LED is a place before this one */
};
#define GLANZ_PICKS_MOST 255 /**< of a region */
#endif

#if GLANZ_FIELDS
/** A window on a larger field: segments of several surfaces that lie in one field, with gaps or without, show one picture.
 * Sizes are points of the effect: LEDs, or grains. */
struct glanz_window {
    uint16_t columns; /**< of the larger field, 1 to GLANZ_FIELD_MOST, or to 32,767 along a line of one row */
    uint16_t rows;    /**< of the larger field, 1 to GLANZ_FIELD_MOST */
    uint16_t left;    /**< its columns to the left of the segment's own field */
    uint16_t top;     /**< its rows above that */
};
#endif

/** Take-and-leave counts that a stencil may have. */
#define GLANZ_STENCIL 8

/** How a segment lies over its surface. */
struct glanz_region {
    uint16_t first;                 /**< first LED on the surface, from 0 */
    uint16_t leds;                  /**< how many; 0 means all that follow */
    uint8_t grain;                  /**< neighbouring LEDs that show one point together; 0 means 1 */
    uint8_t reversed;               /**< 1: counted from the far end */
    uint8_t mirrored;               /**< 1: the second half mirrors the first */
    uint8_t stencil[GLANZ_STENCIL]; /**< take, leave, take, leave...; 0 ends; all 0 takes every LED */
#if GLANZ_FIELDS
    uint8_t mapping;                   /**< enum glanz_mapping */
    uint8_t turned;                    /**< quarter turns clockwise that the effect is turned by, 0 to 3 */
    uint8_t swings;                    /**< slanted: 1: a drive may turn the bearing; its line is then as long as the field's
                                            diagonal, whatever the bearing */
    uint16_t bearing;                  /**< slanted: where its line runs to, in 65536ths of a turn, clockwise; 0: upward */
    uint8_t piece;                     /**< 1 + index of the one panel or ring taken; 0: all */
    uint16_t left, top, columns, rows; /**< rectangle of the surface's field, or of the panel's; 0 columns: all of it */
    uint8_t pick_count;                /**< 0: none, else the region is made of these LEDs alone, and has no part of these:
                                            first, leds, stencil, piece, rectangle */
    GLANZ_CONST struct glanz_pick
        *picks; /**< in the order of their LEDs; effects run along their places unless a mapping is set */
    GLANZ_CONST struct glanz_window *within; /**< the field that effects see, of which this is a part; NULL: its own */
#endif
};

#if GLANZ_FIELDS
/** How effects lie over a segment. An effect for fields sees columns and rows, but for ALONG (a line of one row) and AROUND
 *  (columns around, rows outward). An effect for lines sees the one line that is said here. */
enum glanz_mapping {
    GLANZ_MAPPING_OWN,     /**< along for strips and rings, across for grids, rings of rings and points */
    GLANZ_MAPPING_ALONG,   /**< along the data line */
    GLANZ_MAPPING_ACROSS,  /**< from left to right; turned: downward */
    GLANZ_MAPPING_ROWS,    /**< row after row, as one reads */
    GLANZ_MAPPING_COLUMNS, /**< column after column */
    GLANZ_MAPPING_OUTWARD, /**< from the middle outward */
    GLANZ_MAPPING_AROUND,  /**< around the middle, clockwise from the top */
    GLANZ_MAPPING_SLANTED  /**< at a bearing, from one edge of the field to the other */
};
/** Kinds of mappings. */
#define GLANZ_MAPPINGS 8

/** What a region sees of its surface, worked out once. */
struct glanz_field {
    uint16_t first, leds;              /**< the LEDs that may belong to it, on the surface */
    uint16_t columns, rows;            /**< its own field, turned and halved as it says: what an effect for fields sees */
    uint16_t length;                   /**< points of its line: what an effect for lines sees */
    uint8_t closed;                    /**< 1: the line's end, or the field's right edge, joins its start */
    uint8_t mapping;                   /**< enum glanz_mapping, never OWN for a line */
    uint8_t line;                      /**< 1: a plain line of LEDs: glanz_region_places() tells all */
    uint8_t sparse;                    /**< 1: not every LED between first and first + leds belongs to it */
    uint16_t picked;                   /**< LEDs that are picked; 0: all */
    uint16_t left, top, width, height; /**< the rectangle, on the surface's field */
    union {
        glanz_place middle_x; /**< of the region's field, before it is halved; but for slanted */
        uint16_t bearing;     /**< slanted: where its line runs to, now */
    };
    glanz_place middle_y;             /**< likewise */
    uint16_t within_left, within_top; /**< where it lies in the field that effects see */
};

/** Columns and rows of a surface's field; 1 row for strips. */
void glanz_surface_field(uint16_t *columns, uint16_t *rows, GLANZ_CONST struct glanz_surface *surface);

/** Work out what a region sees. @return 0 when it takes no LED, or reaches out of its surface or its window. */
int glanz_region_field(struct glanz_field *field, GLANZ_CONST struct glanz_region *region,
                       GLANZ_CONST struct glanz_surface *surface);

/** Places on a surface's field of neighbouring LEDs of one piece.
 *  @param at the first LED's index in the piece, along the surface. @param backward 1: the next LED is at - 1. */
void glanz_piece_places(glanz_place *x, glanz_place *y, GLANZ_CONST struct glanz_surface *surface, uint8_t piece, uint16_t at,
                        uint8_t backward, uint8_t count);

/** Neighbouring LEDs of one piece of a surface. */
struct glanz_stretch_of {
    uint8_t piece;    /**< its index */
    uint8_t backward; /**< 1: the next LED of the run is at - 1 */
    uint16_t before;  /**< LEDs of the pieces before it */
    uint16_t at;      /**< the first LED's index on the surface */
};

/** Places in a region's own field.
 *  @param taken filled with the indices into the run of the LEDs taken, when the field is `partly`.
 *  @return LEDs taken. */
uint8_t glanz_field_places(glanz_place *x, glanz_place *y, uint8_t *taken, GLANZ_CONST struct glanz_region *region,
                           const struct glanz_field *field, GLANZ_CONST struct glanz_surface *surface,
                           const struct glanz_stretch_of *run, uint8_t count);

/** Turn places in a region's own field into the line that an effect for lines sees there. */
void glanz_field_line(glanz_place *x, const glanz_place *y, const struct glanz_field *field, uint8_t count);
#endif

/** Grains (points of its own) along a region of `leds` LEDs: what an effect sees as the segment's length. */
uint16_t glanz_region_length(GLANZ_CONST struct glanz_region *region, uint16_t leds);

/** Does a stencil take this LED, counted from the region's first? An empty one takes all. */
int glanz_stencil_takes(GLANZ_CONST uint8_t *stencil, uint16_t at);

/** A row of places, each so far from the one before. */
void glanz_places_row(glanz_place *places, glanz_place first, glanz_place step, uint8_t count);

/** Places of a run of LEDs in a region.
 *  @param places room for `count`; filled with the places of the LEDs taken.
 *  @param taken room for `count`; filled with the indices into the run of the LEDs taken, when there is a stencil. May be NULL.
 *  @param leds LEDs of the region.
 *  @param at the run's first LED, counted from the region's first; below `leds`.
 *  @param backward 1: the next LED of the run is at - 1.
 *  @return LEDs taken: `count` when there is no stencil, and then `taken` is not written. */
uint8_t glanz_region_places(glanz_place *places, uint8_t *taken, GLANZ_CONST struct glanz_region *region, uint16_t leds,
                            uint16_t at, uint8_t backward, uint8_t count);

GLANZ_HEADER_END
#endif
