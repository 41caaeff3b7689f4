/* SPDX-License-Identifier: MIT */
/* The shape of the sound: some 20 ms of it, begun where it rises through zero, so that a tone seems to stand. */
#include "hear.h"

#if GLANZ_DRIVES_MOST > 0

#define RING 128u /* twice the points: the older half is searched for a beginning */

struct wave {
    int8_t shown[4][GLANZ_WAVE_POINTS]; /* lent: nothing but tick() may write them */
    int16_t heard[RING];
    int32_t sum;
    int32_t largest;      /* of late, 24.8 */
    uint8_t step, filled; /* samples that are one point, and how many there are of it */
    uint8_t at;           /* the oldest */
};

static void begin(struct glanz_sound *sound) {
    struct wave *wave = (struct wave *)sound->wave;
    memset((uint8_t *)wave + offsetof(struct wave, heard), 0, sizeof *wave - offsetof(struct wave, heard));
    wave->step = (uint8_t)((sound->hearing.rate_hz + 1600u) / 3200u);
    sound->now.wave = wave->shown[0];
}

static void hear(struct glanz_sound *sound, const int32_t *samples, uint8_t count) {
    struct wave *wave = (struct wave *)sound->wave;
    for (uint8_t i = 0; i < count; i++) {
        wave->sum += samples[i];
        if (++wave->filled == wave->step) {
            int32_t mean = wave->sum / ((int32_t)wave->step << SIGNAL_BITS);
            mean = mean > 32767 ? 32767 : mean < -32767 ? -32767 : mean;
            int32_t size = (mean < 0 ? -mean : mean) * 256;
            wave->largest = size > wave->largest ? size : wave->largest - wave->largest / 8192; /* half of it in 2 s */
            wave->heard[wave->at] = (int16_t)mean;
            wave->at = (uint8_t)((wave->at + 1u) % RING);
            wave->sum = 0;
            wave->filled = 0;
        }
    }
}

static const int8_t *tick(struct glanz_sound *sound, uint8_t slot, const int8_t *elsewhere) {
    struct wave *wave = (struct wave *)sound->wave;
    if (elsewhere != NULL) {
        memcpy(wave->shown[slot], elsewhere, GLANZ_WAVE_POINTS);
        return wave->shown[slot];
    }
    uint32_t first = RING - GLANZ_WAVE_POINTS; /* the newest, unless it rises through zero earlier */
    for (uint32_t i = first; i != 0; i--) {
        if (wave->heard[(wave->at + i - 1u) % RING] < 0 && wave->heard[(wave->at + i) % RING] >= 0) {
            first = i;
            break;
        }
    }
    int32_t full = wave->largest / 256 < 64 ? 64 : wave->largest / 256; /* what is quieter than that is not made larger */
    int32_t gain = 127 * 65536 / full;
    for (uint32_t i = 0; i < GLANZ_WAVE_POINTS; i++) {
        int32_t x = glanz_over(wave->heard[(wave->at + first + i) % RING] * gain, 16);
        wave->shown[slot][i] = (int8_t)(x > 127 ? 127 : x < -127 ? -127 : x);
    }
    return wave->shown[slot];
}

const struct glanz_wave_part glanz_sound_wave = {sizeof(struct wave), begin, hear, tick};

#endif
