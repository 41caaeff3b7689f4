/* SPDX-License-Identifier: MIT */
/* Light: gain and dither channel after channel over a run, white extraction, blending. The hot loops of a frame.
 *
 * What a rationed run draws: a byte times 256 plus the remainder it leaves is the level plus the remainder it found, so that
 * the bytes of a run exceed its levels by the remainders found less those left. `spare` bounds that sum. */
#include <glanz/light.h>

/* What is best reckoned in. Total of a level in 8.8 steps and a remainder: at most 65535. */
#ifdef __AVR__
typedef uint16_t gain_word;
#else
typedef uint32_t gain_word;
#endif

uint8_t glanz_dither_depth(uint32_t interval_us, uint8_t lowest_hz) {
    uint8_t depth = 0;
    if (interval_us == 0 || interval_us > 500000u) {
        return 0;
    }
    uint32_t period = interval_us * (lowest_hz == 0 ? 1u : lowest_hz); /* of 2^depth frames, in parts of the longest, 10^-6 */
    while (depth < GLANZ_DEPTH_MOST && 2u * period <= 1000000u) {
        period *= 2u;
        depth++;
    }
    return depth;
}

static GLANZ_CONST uint8_t reversed[8] = {0, 128, 64, 192, 32, 160, 96, 224}; /* three bits, from the other end */
static GLANZ_CONST uint8_t same[8] = {0, 0, 0, 0, 0, 0, 0, 0};

#if defined(__AVR__) || defined(__OPTIMIZE_SIZE__)
#define UNROLLED 1 /* flash is scarcer there than time */
#else
#define UNROLLED 4
#endif

/* Of some LEDs that differ in their three low bits. @param way from channel to channel. */
static inline void start_leds(uint8_t *remainders, GLANZ_CONST uint8_t *low, gain_word high, gain_word way, uint8_t channels,
                              uint8_t count) {
    for (GLANZ_CONST uint8_t *end = low + count; low != end; low++) {
        gain_word start = high + *low;
        remainders[0] = (uint8_t)start;
        start += way;
        remainders[1] = (uint8_t)start;
        start += way;
        remainders[2] = (uint8_t)start;
        if (channels == 4) {
            remainders[3] = (uint8_t)(start + way);
        }
        remainders += channels;
    }
}

GLANZ_NOINLINE static void start_some(uint8_t *remainders, GLANZ_CONST uint8_t *low, gain_word high, gain_word way,
                                      uint8_t channels, uint8_t count) {
    if (UNROLLED != 1 && channels == 3) {
        start_leds(remainders, low, high, way, 3, count);
    } else {
        start_leds(remainders, low, high, way, channels, count);
    }
}

void glanz_dither_begin(const struct glanz_dither *dither, uint8_t *remainders, uint8_t channels, uint16_t first,
                        uint8_t count) {
    if (dither->open || dither->at != 0) {
        return;
    }
    for (uint8_t led = (uint8_t)first & 7u; count != 0; led = 0) {
        uint8_t some = (uint8_t)(8u - led) < count ? (uint8_t)(8u - led) : count;
        uint8_t high = (uint8_t)(glanz_dither_start(dither, first, 0) - (dither->equal ? 0 : reversed[led]));
        start_some(remainders, dither->equal ? same : reversed + led, high, dither->equal ? 0 : GLANZ_APART, channels, some);
        remainders += (uint16_t)some * channels;
        first = (uint16_t)(first + some);
        count = (uint8_t)(count - some);
    }
}

/* Half of a step before it is rounded down. */
static inline uint32_t half_step(void) {
    uint32_t half = 32768u;
#if defined(__GNUC__) && defined(__thumb2__) /* in a register, a product and a sum with it are one instruction there */
    __asm__("" : "+r"(half));
#endif
    return half;
}

static inline void dither_one(uint8_t *byte, uint8_t *remainder, uint16_t level, uint16_t gain, uint32_t half) {
#ifdef __AVR__
    gain_word total = (gain_word)glanz_gain16_round(level, gain) + *remainder;
    (void)half;
#else
    gain_word total = (((uint32_t)level * gain + half) >> 16) + *remainder;
#endif
    *remainder = (uint8_t)total;
    *byte = (uint8_t)(total >> 8);
}

/* Of a rationed run. What a byte draws above its level is the remainder that goes less the one that comes; only where that is
 * more than is spare, and so only after rounding up, the byte stays below, and at most one step of light is kept back.
 * @return what is spare. */
static inline int32_t ration_one(int32_t spare, uint8_t *byte, uint8_t *remainder, uint16_t level, uint16_t gain) {
#ifdef __AVR__
    gain_word total = glanz_gain16_round(level, gain);
#else /* the same, with no constant that wants a register */
    gain_word total = (((uint32_t)level * gain >> 15) + 1u) >> 1;
#endif
    spare -= (int32_t)*remainder;
    total += *remainder;
    spare += (int32_t)(uint8_t)total;
    *remainder = (uint8_t)total;
    *byte = (uint8_t)(total >> 8);
    if (spare < 0) {
        spare += 256;
        *remainder = 255;
        *byte = (uint8_t)(*byte - 1u);
    }
    return spare;
}

/* The tight loops: strides are constants where they are called, so that they cost nothing. Each use is a function of its own:
 * the small CPUs have just enough registers for one. */
static inline void dither_run(uint8_t *bytes, uint8_t *remainders, uint8_t stride, const uint16_t *levels, uint8_t level_stride,
                              uint16_t gain, uint8_t count) {
    const uint8_t *end = bytes + (uint16_t)count * stride;
    const uint8_t *odd = UNROLLED == 1 ? end : bytes + (uint16_t)(count % 4u) * stride;
    const uint32_t half = half_step();
    while (bytes != odd) {
        dither_one(bytes, remainders, *levels, gain, half);
        bytes += stride;
        remainders += stride;
        levels += level_stride;
    }
    while (UNROLLED != 1 && bytes != end) {
        dither_one(bytes, remainders, *levels, gain, half);
        dither_one(bytes + stride, remainders + stride, levels[level_stride], gain, half);
        dither_one(bytes + 2 * stride, remainders + 2 * stride, levels[2 * level_stride], gain, half);
        dither_one(bytes + 3 * stride, remainders + 3 * stride, levels[3 * level_stride], gain, half);
        bytes += 4 * stride;
        remainders += 4 * stride;
        levels += 4 * level_stride;
    }
}

static inline int32_t ration_run(int32_t spare, uint8_t *bytes, uint8_t *remainders, uint8_t stride, const uint16_t *levels,
                                 uint8_t level_stride, uint16_t gain, uint8_t count) {
    const uint8_t *end = bytes + (uint16_t)count * stride;
    const uint8_t *odd = UNROLLED == 1 ? end : bytes + (uint16_t)(count % 4u) * stride;
    while (bytes != odd) {
        spare = ration_one(spare, bytes, remainders, *levels, gain);
        bytes += stride;
        remainders += stride;
        levels += level_stride;
    }
    while (UNROLLED != 1 && bytes != end) {
        spare = ration_one(spare, bytes, remainders, *levels, gain);
        spare = ration_one(spare, bytes + stride, remainders + stride, levels[level_stride], gain);
        spare = ration_one(spare, bytes + 2 * stride, remainders + 2 * stride, levels[2 * level_stride], gain);
        spare = ration_one(spare, bytes + 3 * stride, remainders + 3 * stride, levels[3 * level_stride], gain);
        bytes += 4 * stride;
        remainders += 4 * stride;
        levels += 4 * level_stride;
    }
    return spare;
}

#define DITHER_RUN(name, stride, level_stride)                                                                                 \
    GLANZ_NOINLINE static void name(uint8_t *bytes, uint8_t *remainders, const uint16_t *levels, uint16_t gain,                \
                                    uint8_t count) {                                                                           \
        dither_run(bytes, remainders, stride, levels, level_stride, gain, count);                                              \
    }                                                                                                                          \
    GLANZ_NOINLINE static int32_t name##_rationed(int32_t spare, uint8_t *bytes, uint8_t *remainders, const uint16_t *levels,  \
                                                  uint16_t gain, uint8_t count) {                                              \
        return ration_run(spare, bytes, remainders, stride, levels, level_stride, gain, count);                                \
    }
DITHER_RUN(dither_three, 3, 3) /* red, green, blue */
DITHER_RUN(dither_four, 4, 3)  /* the same beside white */
DITHER_RUN(dither_white, 4, 1)

GLANZ_NOINLINE static void sum_colors(uint32_t *sums, const struct glanz_light *light, uint8_t count) {
    uint32_t red = sums[0];
    uint32_t green = sums[1];
    uint32_t blue = sums[2];
    const struct glanz_light *end = light + count;
    for (const struct glanz_light *odd = UNROLLED == 1 ? end : light + count % 2u; light != odd; light++) {
        red += light->red;
        green += light->green;
        blue += light->blue;
    }
    for (; UNROLLED != 1 && light != end; light += 2) {
        red += light[0].red;
        green += light[0].green;
        blue += light[0].blue;
        red += light[1].red;
        green += light[1].green;
        blue += light[1].blue;
    }
    sums[0] = red;
    sums[1] = green;
    sums[2] = blue;
}

static uint32_t sum_white(const uint16_t *levels, uint8_t count) {
    uint32_t sum = 0;
    for (const uint16_t *end = levels + count; levels != end; levels++) {
        sum += *levels;
    }
    return sum;
}

#if GLANZ_OUTPUTS_MOST > 1
static inline void sum_bytes(uint32_t *sums, const uint8_t *bytes, uint8_t stride, uint8_t order, uint8_t count) {
    uint32_t sum[4] = {0, 0, 0, 0};
    for (const uint8_t *end = bytes + (uint16_t)count * stride; bytes != end; bytes += stride) {
        sum[0] += bytes[0];
        sum[1] += bytes[1];
        sum[2] += bytes[2];
        sum[3] += stride == 4 ? bytes[3] : 0;
    }
    for (uint8_t position = 0; position < stride; position++) {
        sums[order & 3u] += sum[position];
        order = (uint8_t)(order >> 2);
    }
}
#endif

/* A gain to 8.8 chip steps: 65535 becomes 65280. */
static uint16_t chip_gain(uint32_t gain) {
    return (uint16_t)((gain * 65281u) >> 16);
}

/* What is spare in parts of a channel's own step, which costs no more than the dearest; and what is left of it after some. */
static int32_t spare_steps(const struct glanz_tally *tally) {
    return tally->spare >> 8;
}

static void spend(struct glanz_tally *tally, uint8_t channel, int32_t spent) {
    uint16_t charge = tally->charge[channel]; /* what is given back is rounded down */
    int32_t cost = spent * (int32_t)(spent < 0 && charge < 256u ? charge - 1u : charge);
    tally->spare = tally->spare > INT32_MAX / 2 && cost < 0 ? tally->spare : tally->spare - cost;
}

/* The loops for a stride: none is linked that no chip asks for. */
struct loops {
    void (*run)(uint8_t *bytes, uint8_t *remainders, const uint16_t *levels, uint16_t gain, uint8_t count);
    int32_t (*rationed)(int32_t spare, uint8_t *bytes, uint8_t *remainders, const uint16_t *levels, uint16_t gain,
                        uint8_t count);
    uint8_t stride;
};

GLANZ_INLINE void dither_colors(struct glanz_tally *tally, uint8_t *bytes, uint8_t *remainders, struct loops loops,
                                uint8_t order, const struct glanz_light *light, const uint32_t *gain, uint8_t count) {
    uint8_t stride = loops.stride;
    uint8_t ration = tally->ration;
    uint32_t channels = order; /* two bits each */
    for (uint8_t position = 0; position < stride; position++, channels >>= 2) {
        uint8_t channel = (uint8_t)(channels & 3u);
        if (stride == 4 && channel == 3) {
            continue; /* white is done by itself */
        }
        const uint16_t *levels = &light->red + channel;
        uint16_t factor = chip_gain(gain[channel]);
        if (ration == GLANZ_RATIONED) {
            int32_t spare = spare_steps(tally);
            spend(tally, channel,
                  spare - loops.rationed(spare, bytes + position, remainders + position, levels, factor, count));
        } else {
            loops.run(bytes + position, remainders + position, levels, factor, count);
        }
    }
    if (ration != GLANZ_UNCOUNTED) {
        sum_colors(tally->light, light, count);
    }
#if GLANZ_OUTPUTS_MOST > 1 /* a supply of one output need not know what is lit */
    if (ration == GLANZ_COUNTED) {
        sum_bytes(tally->bytes, bytes, stride, order, count);
    }
#endif
}

void glanz_dither_colors(struct glanz_tally *tally, uint8_t *bytes, uint8_t *remainders, uint8_t order,
                         const struct glanz_light *light, const uint32_t *gain, uint8_t count) {
    const struct loops loops = {dither_three, dither_three_rationed, 3};
    dither_colors(tally, bytes, remainders, loops, order, light, gain, count);
}

void glanz_dither_beside(struct glanz_tally *tally, uint8_t *bytes, uint8_t *remainders, uint8_t order,
                         const struct glanz_light *light, const uint32_t *gain, uint8_t count) {
    const struct loops loops = {dither_four, dither_four_rationed, 4};
    dither_colors(tally, bytes, remainders, loops, order, light, gain, count);
}

void glanz_dither_white(struct glanz_tally *tally, uint8_t *bytes, uint8_t *remainders, const uint16_t *levels, uint32_t gain,
                        uint8_t count) {
    uint16_t factor = chip_gain(gain);
    if (tally->ration == GLANZ_RATIONED) {
        int32_t spare = spare_steps(tally);
        spend(tally, 3, spare - dither_white_rationed(spare, bytes, remainders, levels, factor, count));
    } else {
        dither_white(bytes, remainders, levels, factor, count);
    }
    if (tally->ration != GLANZ_UNCOUNTED) {
        tally->light[3] += sum_white(levels, count);
    }
}

uint8_t glanz_dither_look(const struct glanz_dither *dither, uint16_t first, uint8_t channel, uint16_t *levels,
                          uint8_t level_stride, uint32_t gain, uint8_t count) {
    uint16_t factor = chip_gain(gain);
    uint8_t restless = 0;
    for (; count != 0 && (!restless || dither->dark); count--) {
        uint16_t level = glanz_gain16_round(*levels, factor);
        if (dither->dark && level < 256u) {
            *levels = 0;
            level = 0;
        }
        restless |= glanz_level_restless(dither, glanz_dither_start(dither, first, channel), level);
        levels += level_stride;
        first++;
    }
    return restless;
}

struct glanz_white glanz_white_of(struct glanz_light light) {
    struct glanz_white white;
    white.gain[0] = (uint32_t)light.red + (light.red >> 15);
    white.gain[1] = (uint32_t)light.green + (light.green >> 15);
    white.gain[2] = (uint32_t)light.blue + (light.blue >> 15);
    for (uint8_t i = 0; i < 3; i++) {
        uint32_t gain = white.gain[i];
        white.inverse[i] = gain < 2 ? 0 : 0xFFFFFFFFu / gain + (0xFFFFFFFFu % gain + 1u == gain);
    }
    return white;
}

/* The most white that a level is enough for. */
static inline uint32_t share_of_white(uint16_t level, uint32_t inverse) {
    return inverse == 0 ? 65535u : level * (inverse >> 16) + ((level * (inverse & 0xFFFFu)) >> 16);
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

void glanz_light_over(struct glanz_light *under, const struct glanz_light *over, const uint8_t *taken, uint8_t count,
                      enum glanz_blend blend, uint32_t opacity) {
    (void)blend;
    (void)taken; /* only segments that take every LED are without the part for blending */
    glanz_light_cover(under, over, count, opacity);
}

void glanz_light_cover(struct glanz_light *under, const struct glanz_light *over, uint8_t count, uint32_t opacity) {
    for (const struct glanz_light *end = under + count; under != end; under++) {
        under->red = glanz_mix16(under->red, over->red, opacity);
        under->green = glanz_mix16(under->green, over->green, opacity);
        under->blue = glanz_mix16(under->blue, over->blue, opacity);
        over++;
    }
}
