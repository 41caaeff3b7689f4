/* SPDX-License-Identifier: MIT */
/* Numbers that go to where they are wanted by half-lives, alike at any frame rate. */
#include <glanz/base.h>

#define WHOLE (65536u * GLANZ_APPROACH_FINE)
#define LN2 2977044472u /* 2^32 ln 2 */

/* Within a quarter of a half-life: 1 - e^-x = x - x^2/2 + x^3/6, and its mean x/2 - x^2/6 + x^3/24, within x^3/24 of
 * themselves. */
static void decay_short(struct glanz_decay *decay, uint32_t x) {
    uint32_t square = glanz_mul32_high(x, x);
    uint32_t cube = glanz_mul32_high(square, x);
    uint32_t sixth = glanz_mul32_high(cube, 715827883u); /* a call is cheaper than a division where there is none */
    decay->gone = x - square / 2u + sixth;
    decay->mean = x / 2u - glanz_mul32_high(square, 715827883u) + sixth / 4u;
}

/* @param lives half-lives that pass, 16.16, a quarter to 32. */
static void decay_long(struct glanz_decay *decay, uint32_t lives) {
    uint32_t gone = 65536u - glanz_halving(lives);
    /* (1 - 2^-u) / (u ln 2) is what is left on the mean; 1 / ln 2 is 94548 / 65536 */
    uint32_t left = gone * 47274u / (lives >> 1);
    decay->gone = gone > 65535u ? 0xFFFFFFFFu : gone << 16;
    decay->mean = (65536u - left) << 16;
}

static void decay_of(struct glanz_decay *decay, uint32_t elapsed_us, uint16_t half_ms) {
    uint32_t half = half_ms * (uint32_t)1000u;
    uint8_t shift = 0;
    decay->elapsed_us = elapsed_us;
    decay->half_ms = half_ms;
    decay->gone = elapsed_us == 0 ? 0 : 0xFFFFFFFFu;
    decay->mean = decay->gone;
    if (elapsed_us / 32u >= half || elapsed_us == 0) {
        return;
    }
    for (; elapsed_us < 0x800000u; elapsed_us <<= 8) { /* a quotient of 16 bits at least, whatever passes */
        shift = (uint8_t)(shift + 8);
    }
    for (; elapsed_us < 0x80000000u; elapsed_us <<= 1) {
        shift++;
    }
    for (; half > 65535u; half >>= 1) {
        shift++;
    }
    uint32_t lives = elapsed_us / half; /* times 2^shift, 2^15 to 2^17 at half-lives of a second and more; else up to 2^22 */
    if (shift >= 34 || (shift >= 18 && lives >> (shift - 2) == 0)) { /* a quarter of a half-life and less */
        uint8_t up = 0;
        for (; lives < 0x80000000u; lives <<= 1) {
            up++;
        }
        uint32_t x = glanz_mul32_high(lives, LN2);
        uint8_t down = (uint8_t)(shift + up - 32);
        decay_short(decay, down > 31 ? 0 : x >> down);
    } else {
        decay_long(decay, shift >= 16 ? lives >> (shift - 16) : lives << (16 - shift));
    }
}

uint32_t glanz_approach(uint32_t *mean, struct glanz_decay *decay, uint32_t from, uint32_t to, uint32_t elapsed_us,
                        uint16_t half_ms, int turns) {
    uint32_t up = (to - from) & (turns ? WHOLE - 1u : 0xFFFFFFFFu);
    uint8_t rises = turns ? up < WHOLE / 2u : to > from;
    uint32_t left = rises ? up : turns ? WHOLE - up : from - to;
    *mean = to;
    if (half_ms == 0 || left == 0) {
        return to;
    }
    if (decay->elapsed_us != elapsed_us || decay->half_ms != half_ms) {
        decay_of(decay, elapsed_us, half_ms);
    }
    uint32_t away = left - glanz_mul32_high(left, decay->mean);
    *mean = rises ? to - away : to + away;
    left -= glanz_mul32_high(left, decay->gone);
    left = left < GLANZ_APPROACH_FINE / 2u ? 0 : left; /* there */
    uint32_t now = rises ? to - left : to + left;
    if (turns) {
        *mean &= WHOLE - 1u;
        now &= WHOLE - 1u;
    }
    return now;
}

int glanz_approach_rises(uint32_t from, uint32_t to, int turns) {
    return turns ? ((to - from) & (WHOLE - 1u)) < WHOLE / 2u : to > from;
}
