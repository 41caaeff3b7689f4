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
    for (; k < count; k = (uint8_t)(k + period)) {
        for (uint8_t c = 0; c < channels; c++) {
            remainders[(uint16_t)k * channels + c] = 128;
        }
    }
}

/* The tight loop: strides are constants where it is called, so that they cost nothing. */
static inline uint32_t dither_run(uint8_t *bytes, uint8_t *remainders, uint8_t stride, const uint16_t *levels,
                                  uint8_t level_stride, uint32_t gain, uint8_t count) {
    uint32_t sum = 0;
#define DITHER_ONE(i)                                                                                                          \
    do {                                                                                                                       \
        uint32_t total = ((levels[(i)*level_stride] * gain + 32768u) >> 16) + remainders[(i)*stride];                          \
        remainders[(i)*stride] = (uint8_t)total;                                                                               \
        total >>= 8;                                                                                                           \
        bytes[(i)*stride] = (uint8_t)total;                                                                                    \
        sum += total;                                                                                                          \
    } while (0)
    for (; count >= 4; count = (uint8_t)(count - 4)) {
        DITHER_ONE(0);
        DITHER_ONE(1);
        DITHER_ONE(2);
        DITHER_ONE(3);
        bytes += 4 * stride;
        remainders += 4 * stride;
        levels += 4 * level_stride;
    }
    for (; count != 0; count--) {
        DITHER_ONE(0);
        bytes += stride;
        remainders += stride;
        levels += level_stride;
    }
    return sum;
}

/* Is the mean of a level over a period not a whole step, for any of them? */
static uint8_t lies_between(const struct glanz_dither *dither, const uint16_t *levels, uint8_t level_stride, uint32_t gain,
                            uint8_t count) {
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

uint32_t glanz_dither_channel(const struct glanz_dither *dither, uint8_t *bytes, uint8_t *remainders, uint8_t stride,
                              const uint16_t *levels, uint8_t level_stride, uint32_t gain, uint8_t count, uint8_t *restless) {
    gain = (gain * 65281u) >> 16; /* to 8.8 chip steps: 65535 becomes 65280 */
    if (!*restless) {
        *restless = lies_between(dither, levels, level_stride, gain, count);
    }
    if (stride == 3 && level_stride == 3) {
        return dither_run(bytes, remainders, 3, levels, 3, gain, count);
    }
    return dither_run(bytes, remainders, stride, levels, level_stride, gain, count);
}

void glanz_white_extract(uint16_t *white, struct glanz_light *light, const struct glanz_light *white_light, uint8_t count) {
    for (uint8_t i = 0; i < count; i++) {
        if (white_light == NULL) {
            white[i] = 0;
            continue;
        }
        /* the most white that no channel is too small for */
        uint32_t most = 65535;
        uint32_t share = white_light->red == 0 ? 65535u : ((uint32_t)light[i].red * 65535u) / white_light->red;
        most = share < most ? share : most;
        share = white_light->green == 0 ? 65535u : ((uint32_t)light[i].green * 65535u) / white_light->green;
        most = share < most ? share : most;
        share = white_light->blue == 0 ? 65535u : ((uint32_t)light[i].blue * 65535u) / white_light->blue;
        most = share < most ? share : most;
        white[i] = (uint16_t)most;
        light[i].red = (uint16_t)(light[i].red - (most * white_light->red) / 65535u);
        light[i].green = (uint16_t)(light[i].green - (most * white_light->green) / 65535u);
        light[i].blue = (uint16_t)(light[i].blue - (most * white_light->blue) / 65535u);
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

void glanz_blend_run(struct glanz_light *under, const struct glanz_light *over, const uint8_t *taken, uint8_t count,
                     enum glanz_blend blend, uint32_t opacity) {
    for (uint8_t i = 0; i < count; i++) {
        struct glanz_light *at = &under[taken == NULL ? i : taken[i]];
        struct glanz_light mixed = over[i];
        if (blend == GLANZ_BLEND_ADD) { /* light on light: only what is added is made less */
            mixed = glanz_light_scale(mixed, opacity);
            at->red = add16(at->red, mixed.red);
            at->green = add16(at->green, mixed.green);
            at->blue = add16(at->blue, mixed.blue);
            continue;
        }
        if (blend != GLANZ_BLEND_COVER) {
            mixed.red = blend_channel(at->red, mixed.red, blend);
            mixed.green = blend_channel(at->green, mixed.green, blend);
            mixed.blue = blend_channel(at->blue, mixed.blue, blend);
        }
        *at = glanz_light_mix(*at, mixed, opacity);
    }
}
