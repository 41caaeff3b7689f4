/* SPDX-License-Identifier: MIT */
/* Light: gain and dither channel after channel over a run, white extraction, blending. The hot loops of a frame. */
#include <glanz/light.h>

uint8_t glanz_dither_depth(uint32_t interval_us, uint8_t lowest_hz) {
    uint32_t longest = 1000000u / (lowest_hz == 0 ? 1u : lowest_hz);
    uint8_t depth = 0;
    while (depth < 7 && interval_us != 0 && interval_us <= longest / 2) {
        longest /= 2;
        depth++;
    }
    return depth;
}

void glanz_dither_begin(const struct glanz_dither *dither, uint8_t *remainders, uint8_t channels, uint16_t first,
                        uint8_t count) {
    if (dither->open) {
        return;
    }
    uint8_t period = (uint8_t)(1u << dither->depth);
    /* (first + k) * 5 + frame is a multiple of the period; 205 undoes 5 modulo 256 */
    uint8_t k = (uint8_t)((uint8_t)(0u - (uint8_t)(dither->frame * 205u) - first) & (uint8_t)(period - 1u));
    if (k >= count) {
        return;
    }
    uint16_t step = (uint16_t)(period * channels);
    uint8_t *at = remainders + (uint16_t)k * channels;
    for (uint8_t times = (uint8_t)(((uint16_t)(count - 1u - k) >> dither->depth) + 1u); times != 0; times--) {
        at[0] = 128;
        at[1] = 128;
        at[2] = 128;
        at[channels - 1] = 128;
        at += step;
    }
}

/* Total of a level in 8.8 steps and a remainder, at most 65535; sum of the bytes of a run, at most 64 * 255. */
#ifdef __AVR__
typedef uint16_t gain_word, run_sum;
#else
typedef uint32_t gain_word, run_sum;
#endif

static inline run_sum dither_one(uint8_t *byte, uint8_t *remainder, uint16_t level, uint16_t gain) {
    gain_word total = (gain_word)glanz_gain16_round(level, gain) + *remainder;
    *remainder = (uint8_t)total;
    *byte = (uint8_t)(total >> 8);
    return total >> 8;
}

/* The tight loop: strides are constants where it is called, so that they cost nothing. Each use is a function of its own:
 * the small CPUs have just enough registers for one. */
static inline uint32_t dither_run(uint8_t *bytes, uint8_t *remainders, uint8_t stride, const uint16_t *levels,
                                  uint8_t level_stride, uint16_t gain, uint8_t count) {
    run_sum sum = 0;
    const uint8_t *end = bytes + (uint16_t)count * stride;
    if ((count & 1u) != 0) {
        sum = dither_one(bytes, remainders, *levels, gain);
        bytes += stride;
        remainders += stride;
        levels += level_stride;
    }
    while (bytes != end) {
        sum += dither_one(bytes, remainders, *levels, gain);
        sum += dither_one(bytes + stride, remainders + stride, levels[level_stride], gain);
        bytes += 2 * stride;
        remainders += 2 * stride;
        levels += 2 * level_stride;
    }
    return sum;
}

#define DITHER_RUN(name, stride, level_stride)                                                                                 \
    GLANZ_NOINLINE static uint32_t name(uint8_t *bytes, uint8_t *remainders, const uint16_t *levels, uint16_t gain,            \
                                        uint8_t count) {                                                                       \
        return dither_run(bytes, remainders, stride, levels, level_stride, gain, count);                                       \
    }
DITHER_RUN(dither_three, 3, 3) /* red, green, blue */
DITHER_RUN(dither_four, 4, 3)  /* the same beside white */
DITHER_RUN(dither_white, 4, 1)

/* Is the mean of a level over a period not a whole step, for any of them? */
GLANZ_NOINLINE static uint8_t lies_between(const struct glanz_dither *dither, const uint16_t *levels, uint8_t level_stride,
                                           uint32_t gain, uint8_t count) {
    uint32_t half = dither->open ? 0 : 128u >> dither->depth;
    uint32_t mask = dither->open ? 0xFFu : 0xFFu & ~(0xFFu >> dither->depth);
    for (uint8_t i = 0; i < count; i++) {
        if (((((*levels * gain + 32768u) >> 16) + half) & mask) != 0) {
            return 1;
        }
        levels += level_stride;
    }
    return 0;
}

/* A gain to 8.8 chip steps: 65535 becomes 65280. */
static uint16_t chip_gain(uint32_t gain) {
    return (uint16_t)((gain * 65281u) >> 16);
}

void glanz_dither_colors(const struct glanz_dither *dither, uint8_t *bytes, uint8_t *remainders, uint8_t stride, uint8_t order,
                         const struct glanz_light *light, const uint32_t *gain, uint8_t count, uint32_t *sum,
                         uint8_t *restless) {
    for (uint8_t position = 0; position < stride; position++) {
        uint8_t channel = (uint8_t)(order & 3u);
        order = (uint8_t)(order >> 2);
        if (channel == 3) {
            continue;
        }
        const uint16_t *levels = &light->red + channel;
        uint16_t of_channel = chip_gain(gain[channel]);
        if (!*restless) {
            *restless = lies_between(dither, levels, 3, of_channel, count);
        }
        sum[channel] += stride == 3 ? dither_three(bytes + position, remainders + position, levels, of_channel, count)
                                    : dither_four(bytes + position, remainders + position, levels, of_channel, count);
    }
}

uint32_t glanz_dither_white(const struct glanz_dither *dither, uint8_t *bytes, uint8_t *remainders, const uint16_t *levels,
                            uint32_t gain, uint8_t count, uint8_t *restless) {
    if (!*restless) {
        *restless = lies_between(dither, levels, 1, chip_gain(gain), count);
    }
    return dither_white(bytes, remainders, levels, chip_gain(gain), count);
}

struct glanz_white glanz_white_of(struct glanz_light light) {
    struct glanz_white white;
    white.gain[0] = (uint32_t)light.red + (light.red >> 15);
    white.gain[1] = (uint32_t)light.green + (light.green >> 15);
    white.gain[2] = (uint32_t)light.blue + (light.blue >> 15);
    for (uint8_t i = 0; i < 3; i++) {
        uint32_t gain = white.gain[i];
        white.inverse[i] = gain < 2 ? 0xFFFFFFFFu : 0xFFFFFFFFu / gain + (0xFFFFFFFFu % gain + 1u == gain);
    }
    return white;
}

/* The most white that a level is enough for. */
static inline uint32_t share_of_white(uint16_t level, uint32_t inverse) {
    return level * (inverse >> 16) + ((level * (inverse & 0xFFFFu)) >> 16);
}

void glanz_white_extract(uint16_t *levels, struct glanz_light *light, const struct glanz_white *white, uint8_t count) {
    for (uint8_t i = 0; i < count; i++) {
        uint32_t most = share_of_white(light[i].red, white->inverse[0]);
        uint32_t share = share_of_white(light[i].green, white->inverse[1]);
        most = share < most ? share : most;
        share = share_of_white(light[i].blue, white->inverse[2]);
        most = share < most ? share : most;
        most = most > 65535u ? 65535u : most;
        levels[i] = (uint16_t)most;
        light[i].red = (uint16_t)(light[i].red - glanz_gain16((uint16_t)most, white->gain[0]));
        light[i].green = (uint16_t)(light[i].green - glanz_gain16((uint16_t)most, white->gain[1]));
        light[i].blue = (uint16_t)(light[i].blue - glanz_gain16((uint16_t)most, white->gain[2]));
    }
}

static uint16_t add16(uint16_t a, uint16_t b) {
    uint16_t sum = (uint16_t)(a + b);
    return sum < a ? 65535 : sum;
}

static uint16_t blend_channel(uint16_t under, uint16_t over, enum glanz_blend blend) {
    if (blend == GLANZ_BLEND_MULTIPLY) {
        return glanz_gain16(under, (uint32_t)over + (over >> 15));
    }
    return (blend == GLANZ_BLEND_LIGHTER) == (over > under) ? over : under;
}

/* The common case by itself: cover, one after another. */
static void cover_run(struct glanz_light *under, const struct glanz_light *over, uint8_t count, uint32_t opacity) {
    for (const struct glanz_light *end = under + count; under != end; under++) {
        under->red = glanz_mix16(under->red, over->red, opacity);
        under->green = glanz_mix16(under->green, over->green, opacity);
        under->blue = glanz_mix16(under->blue, over->blue, opacity);
        over++;
    }
}

void glanz_blend_run(struct glanz_light *under, const struct glanz_light *over, const uint8_t *taken, uint8_t count,
                     enum glanz_blend blend, uint32_t opacity) {
    if (blend == GLANZ_BLEND_COVER && taken == NULL) {
        cover_run(under, over, count, opacity);
        return;
    }
    for (uint8_t i = 0; i < count; i++) {
        struct glanz_light *at = &under[taken == NULL ? i : taken[i]];
        uint16_t red = over[i].red;
        uint16_t green = over[i].green;
        uint16_t blue = over[i].blue;
        if (blend == GLANZ_BLEND_ADD) { /* light on light: only what is added is made less */
            glanz_light_put(at, add16(at->red, glanz_gain16(red, opacity)), add16(at->green, glanz_gain16(green, opacity)),
                            add16(at->blue, glanz_gain16(blue, opacity)));
            continue;
        }
        if (blend != GLANZ_BLEND_COVER) {
            red = blend_channel(at->red, red, blend);
            green = blend_channel(at->green, green, blend);
            blue = blend_channel(at->blue, blue, blend);
        }
        glanz_light_put(at, glanz_mix16(at->red, red, opacity), glanz_mix16(at->green, green, opacity),
                        glanz_mix16(at->blue, blue, opacity));
    }
}
