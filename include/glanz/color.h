/* SPDX-License-Identifier: MIT */
/** @file
 *  Colour: what people choose (sRGB, HSL, kelvin) becomes linear light once, here. Gradients with exact stops.
 *  Pure functions; any context.
 */
#ifndef GLANZ_COLOR_H
#define GLANZ_COLOR_H

#include <glanz/base.h>
#include <glanz/parts.h>

GLANZ_HEADER_BEGIN

/** Linear light, 16 bits a channel: 0 dark, 65535 full. Packed, 6 bytes. */
struct glanz_light {
    uint16_t red, green, blue; /**< 0 to 65535, linear */
};

/** A chosen colour in 32 bits: its kind in the top byte, below it the numbers. Build it with the macros. */
typedef uint32_t glanz_color;
/** sRGB, three bytes of 0 to 255 (IEC 61966-2-1). */
#define GLANZ_RGB(red, green, blue) (((glanz_color)(red) << 16) | ((glanz_color)(green) << 8) | (glanz_color)(blue))
/** White of a black body. @param kelvin 1000 to 12500. */
#define GLANZ_KELVIN(kelvin) (((glanz_color)1 << 24) | (glanz_color)(kelvin))
/** Hue 0 to 359 degrees, saturation and lightness 0 to 100 % (CSS Color Level 4, section 7). */
#define GLANZ_HSL(hue, saturation, lightness)                                                                                  \
    (((glanz_color)2 << 24) | ((glanz_color)(hue) << 14) | ((glanz_color)(saturation) << 7) | (glanz_color)(lightness))
/** The colour of a show's list of named colours. @param index 0 to 65535. */
#define GLANZ_NAMED(index) (((glanz_color)3 << 24) | (glanz_color)(index))

/** A named colour of a show. */
struct glanz_named_color {
    GLANZ_CONST char *name;
    glanz_color color; /**< not itself GLANZ_NAMED */
};

/** Linear light of one sRGB byte. */
uint16_t glanz_linear(uint8_t coded);

/** Linear light of a coded level with fractions. @param coded 0 to 65280: 256ths of an sRGB byte. */
uint16_t glanz_linear_fine(uint16_t coded);

/** The sRGB byte nearest to a linear level. */
uint8_t glanz_coded(uint16_t level);

/** The sRGB-coded level with fractions, 0 to 65280: the inverse of glanz_linear_fine() within 1/256 of a byte. */
uint16_t glanz_coded_fine(uint16_t level);

/** Light of a colour. Named colours are looked up in `names`; one that is not there is black.
 *  @param names may be NULL when name_count is 0. */
struct glanz_light glanz_color_light(glanz_color color, GLANZ_CONST struct glanz_named_color *names, uint16_t name_count);

/** The same for one that is known to be GLANZ_RGB: what a program without the part "colors" has. */
struct glanz_light glanz_rgb_light(glanz_color color);

/** The same colour as GLANZ_HSL, to whole degrees and percents: a grey has hue 0. Of white and of what has no hue nothing is
 * lost; anything else is at most half a degree and half a percent off.
 *  @param names may be NULL when name_count is 0. */
glanz_color glanz_color_hsl(glanz_color color, GLANZ_CONST struct glanz_named_color *names, uint16_t name_count);

/** Colours given as kelvin, as HSL, by name. */
struct glanz_colors_part {
    struct glanz_light (*light)(glanz_color color, GLANZ_CONST struct glanz_named_color *names,
                                uint16_t name_count); /**< glanz_color_light() */
    glanz_color (*hsl)(glanz_color color, GLANZ_CONST struct glanz_named_color *names,
                       uint16_t name_count); /**< glanz_color_hsl() */
};

/** Put a light where a run wants it. Channel by channel: small CPUs would call memcpy() for the struct. */
static inline void glanz_light_put(struct glanz_light *to, uint16_t red, uint16_t green, uint16_t blue) {
    to->red = red;
    to->green = green;
    to->blue = blue;
}

/** One light for a whole run. */
static inline void glanz_light_fill(struct glanz_light *light, struct glanz_light color, uint8_t count) {
    uint16_t red = color.red;
    uint16_t green = color.green;
    uint16_t blue = color.blue;
    const struct glanz_light *end = light + count;
#if !defined(__AVR__) && !defined(__OPTIMIZE_SIZE__)
    for (const struct glanz_light *whole = light + (count & 0xFCu); light != whole; light += 4) {
        glanz_light_put(&light[0], red, green, blue);
        glanz_light_put(&light[1], red, green, blue);
        glanz_light_put(&light[2], red, green, blue);
        glanz_light_put(&light[3], red, green, blue);
    }
#endif
    for (; light != end; light++) {
        glanz_light_put(light, red, green, blue);
    }
}

/** Two lights that every LED of a run mixes, made ready so that each channel is one product. */
#ifdef __AVR__ /* 16-bit products there */
struct glanz_pair {
    struct glanz_light from, to;
};
/** A pair to mix between. @param from,to linear light. */
static inline struct glanz_pair glanz_pair_of(struct glanz_light from, struct glanz_light to) {
    struct glanz_pair pair;
    pair.from = from;
    pair.to = to;
    return pair;
}
void glanz_pair_mix(struct glanz_light *light, const struct glanz_pair *pair, uint32_t f);
#else
struct glanz_pair {
    uint32_t from[3], way[3]; /**< times 2^15; how much it changes, modulo 2^32 */
};
/** A pair to mix between. @param from,to linear light. */
static inline struct glanz_pair glanz_pair_of(struct glanz_light from, struct glanz_light to) {
    struct glanz_pair pair;
    pair.from[0] = (uint32_t)from.red << 15;
    pair.from[1] = (uint32_t)from.green << 15;
    pair.from[2] = (uint32_t)from.blue << 15;
    pair.way[0] = (uint32_t)to.red - from.red;
    pair.way[1] = (uint32_t)to.green - from.green;
    pair.way[2] = (uint32_t)to.blue - from.blue;
    return pair;
}
/** As glanz_light_mix() of the two: the sum is never below 0, so that it rounds down as glanz_mix16() does. @param f 0 to
 * 65536. */
static inline void glanz_pair_mix(struct glanz_light *light, const struct glanz_pair *pair, uint32_t f) {
    f >>= 1;
    light->red = (uint16_t)((pair->from[0] + pair->way[0] * f) >> 15);
    light->green = (uint16_t)((pair->from[1] + pair->way[1] * f) >> 15);
    light->blue = (uint16_t)((pair->from[2] + pair->way[2] * f) >> 15);
}
#endif

/** Mix two lights; f as in glanz_mix16(). */
static inline struct glanz_light glanz_light_mix(struct glanz_light a, struct glanz_light b, uint32_t f) {
    struct glanz_light mixed;
    mixed.red = glanz_mix16(a.red, b.red, f);
    mixed.green = glanz_mix16(a.green, b.green, f);
    mixed.blue = glanz_mix16(a.blue, b.blue, f);
    return mixed;
}

/** Scale a light; gain 0 to 65536. */
static inline struct glanz_light glanz_light_scale(struct glanz_light a, uint32_t gain) {
    a.red = glanz_gain16(a.red, gain);
    a.green = glanz_gain16(a.green, gain);
    a.blue = glanz_gain16(a.blue, gain);
    return a;
}

/** Gains that make LEDs whose full red, green and blue together are white of a colour temperature show the white of sRGB
 *  (6504 K): what chips of different makes need to look alike. By the black-body locus (CIE 1931), the largest gain full.
 *  @param trim filled: red, green, blue, as a stretch has them. @param kelvin 2,000 to 12,500, as measured or from the data
 *  sheet. */
void glanz_white_trim(uint16_t *trim, uint16_t kelvin);

/** How bright a lightness is: CIE 1976 L* to luminance (CIE 15:2004, 8.2.1).
 *  @param lightness 0 to 65535 for 0 to 100 %.
 *  @return gain 0 to 65536, within 1.5 of the exact value. */
uint32_t glanz_lightness(uint16_t lightness);

/** The same with eight more bits. @param lightness 0 to 16776960: 256ths of the above. */
uint32_t glanz_lightness_fine(uint32_t lightness);

/** One stop of a gradient, in light. Filled by glanz_gradient_build(). */
struct glanz_stop {
    uint16_t at;              /**< 0 to 65535 along the gradient */
    struct glanz_light light; /**< the light at this stop */
    uint32_t per;             /**< 2^32 over the distance to the next stop; 0 where there is none */
};

/** Where a gradient runs. */
enum glanz_runs {
    GLANZ_RUNS_BY_EFFECT,    /**< where the effect has it */
    GLANZ_RUNS_THROUGH_TIME, /**< everywhere the same, as time goes by */
    GLANZ_RUNS_ALONG,        /**< along the line, or from the left edge of a field */
    GLANZ_RUNS_ACROSS,       /**< from the top edge */
    GLANZ_RUNS_OUTWARD,      /**< from the middle */
    GLANZ_RUNS_AROUND        /**< around the middle, or a ring, or a drum whose edges join */
};

/** A gradient ready to be asked: exact stops and an index by the top four bits of the position. */
struct glanz_gradient {
    GLANZ_CONST struct glanz_stop *stops; /**< at least one, in order of `at` */
    uint16_t count;
    uint8_t bands;     /**< 1: each stop's light holds until the next */
    uint8_t first[16]; /**< by sixteenth: the piece that is there */
#if GLANZ_FIELDS
    uint8_t runs;     /**< enum glanz_runs. Any effect shows it there, one that takes no palette too: whatever it draws is in
                         these colours, over its background */
    uint8_t folded;   /**< 1: there and back, so that it has no seam */
    uint8_t reversed; /**< 1: from its end to its beginning */
    uint16_t span;    /**< how far it runs once, of the whole way, 1 to 65535; 0: all of it */
    uint32_t pass_ms; /**< it moves on by that in so long; 0: it stands */
#endif
};

/** How light runs between two stops. */
enum glanz_between {
    GLANZ_BETWEEN_LIGHT, /**< straight in linear light */
    GLANZ_BETWEEN_EVEN,  /**< even to the eye: straight in Oklab (CSS Color 4, 9.2) */
    GLANZ_BETWEEN_BANDS, /**< hard bands; with a stop at the very end all move up by one part in so many, so that it is seen */
    GLANZ_BETWEEN_CODES  /**< as screens and pictures do: straight in sRGB code values */
};

/** Two lights to be mixed even to the eye. With 64-bit products: for what is worked out once, not for each LED. */
struct glanz_even {
    uint32_t from[3], to[3]; /**< roots of the cones' responses, 0 to 65535 */
};
/** Begin: what two colours are in the even space. @param even filled. @param from,to linear light. */
void glanz_even_begin(struct glanz_even *even, struct glanz_light from, struct glanz_light to);
/** The colour between the two. @param f 0 to 65536. Within 1/255, sRGB-coded, of Oklab; at both ends within the same of the
 * lights themselves. */
struct glanz_light glanz_even_at(const struct glanz_even *even, uint32_t f);

/** A stop as it was chosen. */
struct glanz_color_stop {
    uint16_t at;       /**< 0 to 65535 */
    glanz_color color; /**< as people choose it */
};

/** Stops a gradient may have once built. */
#define GLANZ_STOPS_MOST 250
/** Stops that each chosen stop may become at the most (what is not straight in light adds some). */
#define GLANZ_STOPS_EACH 16

/** Build a gradient in the caller's memory.
 *  @param gradient filled; it refers to `stops`, which must live as long.
 *  @param stops room for stop_capacity stops; chosen_count * GLANZ_STOPS_EACH is always enough.
 *  @param chosen 1 to 64 stops, `at` never falling.
 *  @return GLANZ_ERR_ARGUMENT, or GLANZ_ERR_MEMORY when stop_capacity is too small. */
GLANZ_NODISCARD glanz_status glanz_gradient_build(struct glanz_gradient *gradient, struct glanz_stop *stops,
                                                  uint16_t stop_capacity, const struct glanz_color_stop *chosen,
                                                  uint16_t chosen_count, enum glanz_between between,
                                                  GLANZ_CONST struct glanz_named_color *names, uint16_t name_count);

/** Make a gradient of stops that have their places and lights already: works out the rest of them, and the index. `bands` is
 * set by the caller. @param stops `at` never falling; at least one. */
void glanz_gradient_index(struct glanz_gradient *gradient, struct glanz_stop *stops, uint16_t count);

/** The part of a gradient between two places, spread over the whole; lights between stops stay what they were.
 *  @param stops those of the gradient, with room for two more. @param from below `to`; else nothing is done. */
void glanz_gradient_cut(struct glanz_gradient *gradient, struct glanz_stop *stops, uint16_t from, uint16_t to);

/** The gradient of looks that name none. */
extern GLANZ_CONST struct glanz_gradient glanz_gradient_standard;

/** The light at a position, 0 to 65535, of a built gradient. */
struct glanz_light glanz_gradient_at(GLANZ_CONST struct glanz_gradient *gradient, uint16_t position);

/** The same for a run of positions; cheap where neighbours are between the same two stops. */
void glanz_gradient_run(struct glanz_light *light, GLANZ_CONST struct glanz_gradient *gradient, const uint16_t *positions,
                        uint8_t count);

/** A gradient that comes with the library. */
struct glanz_palette {
    GLANZ_CONST char *name;
    GLANZ_CONST char *description;              /**< one line: what it looks like */
    GLANZ_CONST struct glanz_color_stop *stops; /**< a list of count */
    uint8_t count;
    uint8_t between; /**< enum glanz_between */
};

/** The palettes that come along: a list and its length. Each is built into a gradient when a show asks for it. */
extern GLANZ_CONST struct glanz_palette glanz_palettes[];
extern const uint8_t glanz_palette_count; /**< entries of glanz_palettes */

GLANZ_HEADER_END
#endif
