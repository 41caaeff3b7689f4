/* SPDX-License-Identifier: MIT */
/** @file
 *  Paint: fonts and writing, pictures, LEDs coloured by hand: what looks hold beside numbers. Pure functions; any context.
 */
#ifndef GLANZ_PAINT_H
#define GLANZ_PAINT_H

#include <glanz/color.h>

GLANZ_HEADER_BEGIN

/** What a look may hold beside numbers; every such struct begins with its kind. */
enum glanz_content_kind {
    GLANZ_CONTENT_NONE,
    GLANZ_CONTENT_PATTERN, /**< struct glanz_pattern (effects.h) */
    GLANZ_CONTENT_WRITING, /**< struct glanz_writing */
    GLANZ_CONTENT_PICTURE, /**< struct glanz_picture */
    GLANZ_CONTENT_MARKS    /**< struct glanz_marks */
};
/** How each content begins: its kind tells which struct it is. */
struct glanz_content {
    uint8_t kind; /**< enum glanz_content_kind */
};

#if GLANZ_FIELDS

/* ---- the world: what writing may tell ---- */

struct glanz_heard;
/** The time of day and the values of a rig. */
struct glanz_world {
    uint8_t known;                       /**< 1: day and second are */
    uint8_t values;                      /**< how many */
    uint16_t version;                    /**< another whenever something has changed */
    uint32_t day;                        /**< days since 1 January 1970, local time */
    uint32_t second;                     /**< of the day */
    const uint32_t *level;               /**< the newest, as glanz_engine_level() is told */
    GLANZ_CONST char *GLANZ_CONST *name; /**< of the first; the others lie `name_step` bytes apart */
    uint16_t name_step;                  /**< bytes from one name to the next */
    GLANZ_CONST char *GLANZ_CONST *unit; /**< of the first value, and what it reads at level 0 and at full, thousandths; the */
    GLANZ_CONST int32_t *reads;          /**< others as `name`. NULL: not known */
    GLANZ_CONST char *weekdays, *months; /**< names, Monday and January first, with commas between; NULL: in English */
    const struct glanz_heard *const *heard; /**< what is heard, by input; NULL: nothing is, or no sound is linked */
    uint32_t us;                            /**< of the second */
};

/* ---- fonts and writing ---- */

/** A font: glyphs of bits, column by column. Made from a BDF file by "glanz font". */
struct glanz_font {
    GLANZ_CONST char *name;
    uint8_t rows;                 /**< of every glyph, 1 to 32 */
    uint8_t rise;                 /**< rows above the base line */
    uint16_t count;               /**< glyphs */
    GLANZ_CONST uint16_t *codes;  /**< Unicode, rising */
    GLANZ_CONST uint16_t *starts; /**< count + 1: the first column of each; a glyph is as wide as the way to the next */
    GLANZ_CONST uint8_t *bits;    /**< (rows + 7) / 8 bytes a column; bit 0 is the top row */
};

/** The fonts that come along, smallest first, closed by NULL. Drawn in fonts/, with all letters of Latin-1. */
extern GLANZ_CONST struct glanz_font *GLANZ_CONST glanz_fonts[];
extern GLANZ_CONST struct glanz_font glanz_font_buoy;  /**< 5 rows a capital, 6 in all */
extern GLANZ_CONST struct glanz_font glanz_font_quay;  /**< 7 rows a capital, 8 in all */
extern GLANZ_CONST struct glanz_font glanz_font_tower; /**< 14 rows a capital, 16 in all */

/** A text and how it is written. */
struct glanz_writing {
    uint8_t kind; /**< GLANZ_CONTENT_WRITING */
    /** UTF-8, at most GLANZ_WRITING_LINES lines. In braces: {time}, {date}, {hour}, {minute}, {second}, {day}, {month}, {year},
     *  {time of 12}, {hour of 12}, {am or pm}, {weekday}, {month name}, or the name of a value of the rig: as its unit has it,
     * or with its range as it is to be told: {tide 0.0 to 6.5}. {{ is a brace. */
    GLANZ_CONST char *text;
    GLANZ_CONST struct glanz_font *font; /**< NULL: glanz_font_quay */
    uint8_t edge;                        /**< enum glanz_edge */
    uint16_t sideways;      /**< where lines lie that do not move sideways: 1 left to 65535 right; 0: in the middle */
    glanz_color edge_color; /**< not GLANZ_NAMED; 0: black */
};

/** What is around letters. */
enum glanz_edge {
    GLANZ_EDGE_NONE,
    GLANZ_EDGE_OUTLINE, /**< on all four sides */
    GLANZ_EDGE_SHADOW   /**< one LED to the right and down */
};

#define GLANZ_WRITING_LINES 4 /**< of a text, one under another */
#define GLANZ_TOLD_MOST 16    /**< letters that a pair of braces may become */
#define GLANZ_WORD_MOST 16    /**< letters of a weekday's or month's name that are told */

/** A glyph where it stands in a line of text. */
struct glanz_letter {
    uint16_t at;    /**< its first column in the line */
    uint16_t start; /**< its first column in the font; GLANZ_BOX: a box for what the font has not */
};
/** A letter that the font does not have: drawn as a box. */
#define GLANZ_BOX 0xFFFF

/** Room that a writing needs at the most, in letters, the one that closes the line included. */
uint16_t glanz_writing_capacity(GLANZ_CONST struct glanz_writing *writing);

/** How many lines a text has; at least 1. */
uint8_t glanz_writing_lines(GLANZ_CONST struct glanz_writing *writing);

/** Are these names, so many of them, of 1 to GLANZ_WORD_MOST letters each, with commas between? Blanks after a comma do not
 *  count. @param count 7 weekdays, or 12 months. */
int glanz_names_check(GLANZ_CONST char *names, uint8_t count);

/** Set a line: letters one after another, closed by one whose `at` is the line's width. @param line of the text, 0 and up.
 *  @param capacity of `letters`; what does not fit is left out. @param world may be NULL: then nothing is known.
 *  @param missing set to the first code the font has not, or 0; may be NULL. @return letters, without the closing one. */
uint16_t glanz_writing_set(struct glanz_letter *letters, uint16_t capacity, uint32_t *missing,
                           GLANZ_CONST struct glanz_writing *writing, uint8_t line, const struct glanz_world *world);

/** Is the text well formed? @return 0 when it is, else 1 + the byte where it is not: UTF-8, braces, ranges, names that `world`
 *  does not have (NULL: any name will do). */
uint32_t glanz_writing_check(GLANZ_CONST char *text, const struct glanz_world *world);

/** A bit of a set line. @param near any letter's index, best that of a neighbour: set to the letter found. */
uint8_t glanz_writing_bit(const struct glanz_letter *letters, uint16_t count, uint16_t *near,
                          GLANZ_CONST struct glanz_font *font, int32_t column, int32_t row);

/* ---- pictures ---- */

#define GLANZ_PICTURE_MOST 255    /**< columns or rows of a picture */
#define GLANZ_PICTURE_FRAMES 1000 /**< of a moving picture */

/** A picture, still or moving, as compact bytes: a palette of up to 256 colours with transparency, and for each frame how long
 *  it stands and runs of equal points, points as above, points as before. The format is in docs/design.md; "glanz picture"
 *  writes it, and the same bytes are kept in the store. */
struct glanz_picture {
    uint8_t kind; /**< GLANZ_CONTENT_PICTURE */
    GLANZ_CONST char *name;
    GLANZ_CONST uint8_t *bytes; /**< as glanz_picture_pack() made them */
    uint32_t count;
};

/** What the head of a picture says. */
struct glanz_picture_head {
    uint16_t columns, rows; /**< 1 to GLANZ_PICTURE_MOST */
    uint16_t frames;        /**< 1 and up */
    uint16_t colors;        /**< 1 to 256 */
    uint32_t first;         /**< byte at which the first frame begins */
};

/** Read the head, and check all of it: sizes, every frame's runs, the checksum. @param whole 0: the head only; 1: all; 2: all
 * but the checksum, which takes longest.
 *  @return GLANZ_ERR_DAMAGED, or GLANZ_ERR_ARGUMENT for NULL. */
GLANZ_NODISCARD glanz_status glanz_picture_open(struct glanz_picture_head *head, GLANZ_CONST uint8_t *bytes, uint32_t count,
                                                uint8_t whole);

/** Unpack the next frame over the one before it, of an opened and checked picture.
 *  @param points columns * rows indices into the palette; the frame before, or anything for the first.
 *  @param at where the frame begins; set to the next one's. @param first 1 for the first frame.
 *  @return milliseconds that it stands. */
uint16_t glanz_picture_frame(uint8_t *points, uint32_t *at, const struct glanz_picture_head *head, GLANZ_CONST uint8_t *bytes,
                             uint8_t first);

/** Light of a point of a picture, times how much it covers, and that: 0 to 65535. */
struct glanz_light glanz_picture_light(uint16_t *cover, GLANZ_CONST uint8_t *bytes, uint8_t index);

/** Pack frames. For tools; the only one that needs room: `capacity` bytes for the outcome.
 *  @param palette colors * 4 bytes: sRGB red, green, blue, and cover. @param points frames * columns * rows indices.
 *  @param ms frames times. @return bytes packed, or 0 when they would not fit, or the sizes are out of bounds. */
uint32_t glanz_picture_pack(uint8_t *bytes, uint32_t capacity, const struct glanz_picture_head *head, const uint8_t *palette,
                            const uint8_t *points, const uint16_t *ms);

/* ---- LEDs coloured by hand ---- */

/** Some LEDs and their colour: a stretch of the line, or a rectangle of the field. */
struct glanz_mark {
    uint8_t placed;         /**< 1: left, top, columns, rows count; 0: first and leds */
    uint16_t first, leds;   /**< LEDs along the data line, the segment's first is 0 */
    uint16_t left, top;     /**< the segment's top left LED is 0, 0 */
    uint16_t columns, rows; /**< LEDs across and down */
    glanz_color color;      /**< not GLANZ_NAMED */
};

/** Marks, a later one over the earlier. */
struct glanz_marks {
    uint8_t kind; /**< GLANZ_CONTENT_MARKS */
    uint16_t count;
    GLANZ_CONST struct glanz_mark *list; /**< a list of count */
};

/* ---- rasters ---- */

/** A small picture in light, in cells one LED wide; in the memory of an effect, drawn anew in each step. Places are those of
 *  LEDs: the middle of the first cell is at GLANZ_HALF, GLANZ_HALF. Light is added, and held at full. */
struct glanz_raster {
    struct glanz_light *cells; /**< row after row from the top */
    uint16_t columns, rows;    /**< places across and down */
};
/** Bytes of its cells. */
#define GLANZ_RASTER_BYTES(columns, rows) ((uint32_t)sizeof(struct glanz_light) * (columns) * (rows))

/** One light everywhere. */
void glanz_raster_fill(const struct glanz_raster *raster, struct glanz_light light);
/** A point of light, shared out among the cells about it: the sum is the same wherever it stands, but beyond the edge it is
 * lost.
 *  @param level 0 to 65536: how much of the light. */
void glanz_raster_dot(const struct glanz_raster *raster, glanz_place x, glanz_place y, struct glanz_light light,
                      uint32_t level);
/** A line with round ends, or with both ends alike a disc; its edge is soft by one cell. Along a row it covers each cell just
 * as far as it reaches into it; a disc has its area within an eighth.
 *  @param ends x and y of one, x and y of the other. @param width from edge to edge, from 0. */
void glanz_raster_line(const struct glanz_raster *raster, const glanz_place ends[4], glanz_place width,
                       struct glanz_light light, uint32_t level);
/** The light at a place: between the middles of cells evenly. */
struct glanz_light glanz_raster_at(const struct glanz_raster *raster, glanz_place x, glanz_place y);

/** The same at the places of a run: much less a LED where most are in the middle of a cell.
 *  @param light filled, room for `count`
 *  @param x from the left edge, `count` of them
 *  @param y from the top edge, `count` of them */
void glanz_raster_run(struct glanz_light *light, const struct glanz_raster *raster, const glanz_place *x, const glanz_place *y,
                      uint8_t count);

#endif

GLANZ_HEADER_END
#endif
