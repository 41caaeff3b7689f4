/* SPDX-License-Identifier: MIT */
/* Pitch: by the normalised square difference of the signal and itself so much later (P. McLeod and G. Wyvill, "A smarter way to
 * find pitch", International Computer Music Conference 2005), at about 4000 samples a second, some lags in each tick. */
#include "hear.h"

#if GLANZ_DRIVES_MOST > 0

#define WINDOW 240u
#define LAGS 64u     /* the longest: 63 Hz */
#define SHORTEST 2u  /* where searching begins; the highest pitch is 1000 Hz */
#define EACH_TICK 8u /* lags */
#define REACH (WINDOW - LAGS)
#define CLEAR 19660 /* 0.6 of 32767: below that there is no pitch */

struct pitch {
    int16_t heard[WINDOW]; /* a ring */
    int16_t window[WINDOW];
    int16_t fits[LAGS + 1u]; /* by lag, -32767 to 32767 */
    uint8_t step, filled;    /* samples that are one, and how many there are of it */
    uint8_t at;              /* the oldest in the ring */
    uint8_t lag;             /* that comes next; 0: a new window */
    int32_t sum;
    uint32_t rate; /* in 1/16 Hz */
};

static void begin(struct glanz_sound *sound) {
    struct pitch *pitch = (struct pitch *)sound->pitch;
    memset(pitch, 0, sizeof *pitch);
    pitch->step = (uint8_t)((sound->hearing.rate_hz + 2000u) / 4000u);
    pitch->rate = (uint32_t)sound->hearing.rate_hz * 16u / pitch->step;
}

static void hear(struct glanz_sound *sound, const int32_t *samples, uint8_t count) {
    struct pitch *pitch = (struct pitch *)sound->pitch;
    for (uint8_t i = 0; i < count; i++) {
        pitch->sum += samples[i];
        if (++pitch->filled == pitch->step) {
            int32_t mean = pitch->sum / ((int32_t)pitch->step << SIGNAL_BITS);
            pitch->heard[pitch->at] = (int16_t)(mean > 32767 ? 32767 : mean < -32767 ? -32767 : mean);
            pitch->at = (uint8_t)(pitch->at + 1u == WINDOW ? 0 : pitch->at + 1u);
            pitch->sum = 0;
            pitch->filled = 0;
        }
    }
}

/* The newest samples, so that the largest has eleven bits: then all sums fit. @return 0: too quiet. */
static int take_window(struct pitch *pitch) {
    int32_t most = 0;
    for (uint32_t i = 0; i < WINDOW; i++) {
        int32_t x = pitch->heard[i];
        most = x > most ? x : -x > most ? -x : most;
    }
    if (most < 16) {
        return 0;
    }
    int32_t gain = 2047 * 4096 / most; /* 20.12 */
    for (uint32_t i = 0; i < WINDOW; i++) {
        uint32_t from = pitch->at + i < WINDOW ? pitch->at + i : pitch->at + i - WINDOW;
        pitch->window[i] = (int16_t)glanz_over(pitch->heard[from] * gain, 12);
    }
    return 1;
}

static int16_t fit_at(const struct pitch *pitch, uint32_t lag) {
    int32_t product = 0;
    int32_t power = 0;
    for (uint32_t i = 0; i < REACH; i++) {
        int32_t a = pitch->window[i];
        int32_t b = pitch->window[i + lag];
        product += a * b;
        power += (a * a + b * b) >> 1;
    }
    int32_t full = (power >> 15) + 1;
    int32_t fit = product / full;
    return (int16_t)(fit > 32767 ? 32767 : fit < -32767 ? -32767 : fit);
}

/* How high a parabola through three fits reaches; 0 where the middle one is no peak. @param aside filled: where it does, in
 * 1/1024 of a lag. */
static int32_t top_of(const struct pitch *pitch, uint32_t lag, int32_t *aside) {
    int32_t left = pitch->fits[lag - 1u];
    int32_t middle = pitch->fits[lag];
    int32_t right = pitch->fits[lag + 1u];
    int32_t bend = left - 2 * middle + right;
    if (middle < left || middle < right || bend >= 0) {
        return 0;
    }
    *aside = (left - right) * 512 / bend;
    int32_t top = middle + *aside * (right - left) / 4096;
    return top > 32767 ? 32767 : top;
}

/* The first peak that is nearly as high as the highest: later ones are of several periods.
 * @return its lag, 22.10; 0: none. @param fit filled: how high it is. */
static uint32_t period_of(const struct pitch *pitch, int32_t *fit) {
    int32_t most = CLEAR;
    int32_t aside = 0;
    uint32_t lag = SHORTEST;
    while (lag < LAGS && pitch->fits[lag] > 0) { /* down from where it is all but itself */
        lag++;
    }
    uint32_t from = lag;
    for (; lag < LAGS; lag++) {
        int32_t top = top_of(pitch, lag, &aside);
        most = top > most ? top : most;
    }
    for (lag = from; lag < LAGS; lag++) {
        *fit = top_of(pitch, lag, &aside);
        if (*fit > most / 5 * 4) {
            return (uint32_t)((int32_t)(lag << 10) + aside);
        }
    }
    return 0;
}

static void tell(struct glanz_sound *sound, const struct pitch *pitch) {
    int32_t fit = 0;
    uint32_t fine = period_of(pitch, &fit);
    if (fine == 0) {
        sound->now.pitch_trust = 0;
        return;
    }
    uint32_t octaves = glanz_log2(pitch->rate) + (10u << 16) - glanz_log2(fine); /* above 1/16 Hz */
    const uint32_t lowest = 526343u;                                             /* of 16.35 Hz */
    sound->now.pitch = octaves > lowest ? (octaves - lowest) * 12u : 0;
    sound->now.pitch_trust = (uint16_t)(fit * 2);
}

static void tick(struct glanz_sound *sound) {
    struct pitch *pitch = (struct pitch *)sound->pitch;
    if (pitch->lag == 0) {
        if (!take_window(pitch)) {
            sound->now.pitch_trust = 0;
            return;
        }
        pitch->lag = SHORTEST - 1u;
    }
    for (uint32_t i = 0; i < EACH_TICK && pitch->lag <= LAGS; i++, pitch->lag++) {
        pitch->fits[pitch->lag] = fit_at(pitch, pitch->lag);
    }
    if (pitch->lag > LAGS) {
        pitch->lag = 0;
        tell(sound, pitch);
    }
}

const struct glanz_pitch_part glanz_sound_pitch = {sizeof(struct pitch), begin, hear, tick};

#endif
