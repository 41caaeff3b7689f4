/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "sounds.h"

#define PI 3.14159265358979323846

const char *const sound_names[SOUND_FAMILIES] = {
    "clicks",    "drums", "busy drums", "swing", "clipped",     "50 dB down", "with hum", "with direct",
    "in a hall", "tune",  "soft notes", "ramp",  "syncopation", "speech",     "noise",    "silence"};

struct maker {
    double *at; /* samples in the making */
    size_t count;
    double rate;
    uint32_t state;
    struct sound *sound;
};

static uint32_t draw(struct maker *maker) {
    maker->state = maker->state * 1664525u + 1013904223u;
    uint32_t x = maker->state;
    x ^= x >> 16;
    x *= 0x7FEB352Du;
    x ^= x >> 15;
    return x;
}

static double uniform(struct maker *maker) { /* -1 to 1 */
    return draw(maker) / 2147483648.0 - 1;
}

/* ---- single sounds; each notes its onset ---- */

static void note_onset(struct maker *maker, double time, int low) {
    struct sound *sound = maker->sound;
    if (sound->onset_count < SOUND_ONSETS) {
        sound->onsets[sound->onset_count++] = time;
    }
    if (low && sound->low_count < SOUND_ONSETS) {
        sound->lows[sound->low_count++] = time;
    }
}

static void click(struct maker *maker, double time, double gain) {
    note_onset(maker, time, 0);
    size_t first = (size_t)(time * maker->rate);
    for (size_t i = 0; i < (size_t)(0.004 * maker->rate) && first + i < maker->count; i++) {
        maker->at[first + i] += gain * uniform(maker) * exp(-(double)i / (0.001 * maker->rate));
    }
}

static void kick(struct maker *maker, double time, double gain) {
    note_onset(maker, time, 1);
    size_t first = (size_t)(time * maker->rate);
    double phase = 0;
    for (size_t i = 0; i < (size_t)(0.3 * maker->rate) && first + i < maker->count; i++) {
        double t = (double)i / maker->rate;
        phase += 2 * PI * (50 + 110 * exp(-t / 0.03)) / maker->rate;
        maker->at[first + i] += gain * 0.8 * sin(phase) * exp(-t / 0.1);
    }
}

static void snare(struct maker *maker, double time, double gain) {
    note_onset(maker, time, 0);
    size_t first = (size_t)(time * maker->rate);
    for (size_t i = 0; i < (size_t)(0.25 * maker->rate) && first + i < maker->count; i++) {
        double t = (double)i / maker->rate;
        maker->at[first + i] += gain * (0.35 * uniform(maker) * exp(-t / 0.06) + 0.3 * sin(2 * PI * 190 * t) * exp(-t / 0.05));
    }
}

static void hat(struct maker *maker, double time, double gain) {
    note_onset(maker, time, 0);
    size_t first = (size_t)(time * maker->rate);
    double before = 0;
    for (size_t i = 0; i < (size_t)(0.1 * maker->rate) && first + i < maker->count; i++) {
        double t = (double)i / maker->rate;
        double x = uniform(maker);
        maker->at[first + i] += gain * 0.12 * (x - before) * exp(-t / 0.025);
        before = x;
    }
}

/* A tone with overtones. @param attack seconds until it is at its loudest. */
static void pluck(struct maker *maker, double time, double hz, double gain, double attack, double decay) {
    note_onset(maker, time, hz < 160);
    size_t first = (size_t)(time * maker->rate);
    for (size_t i = 0; i < (size_t)(4 * decay * maker->rate) && first + i < maker->count; i++) {
        double t = (double)i / maker->rate;
        double shape = t < attack ? t / attack : exp(-(t - attack) / decay);
        double x = 0;
        for (int k = 1; k <= 5 && k * hz < 0.45 * maker->rate; k++) {
            x += sin(2 * PI * hz * k * t) / k;
        }
        maker->at[first + i] += gain * 0.3 * shape * x;
    }
}

/* ---- patterns ---- */

static double jitter(struct maker *maker) {
    return uniform(maker) * 0.004;
}

/* @param late of an eighth, of the beat. */
static void drums(struct maker *maker, double seconds, double bpm, double to_bpm, double late, int busy) {
    double time = 0.35 + 0.1 * (1 + uniform(maker));
    for (int eighth = 0; time < seconds - 0.3; eighth++) {
        double now = bpm + (to_bpm - bpm) * time / seconds;
        double beat = 60 / now;
        double at = time + (eighth % 2 ? late * beat : 0) + jitter(maker);
        double gain = 0.8 + 0.2 * uniform(maker);
        int place = eighth % 8;
        if (place == 0 || place == 4 || (busy && place == 5)) {
            kick(maker, at, gain);
        } else if (place == 2 || place == 6) {
            snare(maker, at, gain);
        } else {
            hat(maker, at, gain);
        }
        if (busy && beat / 4 > 0.085) {
            hat(maker, at + beat / 4, 0.8 * gain);
        }
        time += beat / 2;
    }
}

static void tune(struct maker *maker, double seconds, double bpm, double attack) {
    static const int steps[] = {0, 2, 4, 7, 9, 12, 7, 4};
    double beat = 60 / bpm;
    for (int i = 0; 0.4 + i * beat / 2 < seconds - 0.5; i++) {
        double at = 0.4 + i * beat / 2 + jitter(maker);
        if (attack < 0.01 && i % 2 == 0) {
            pluck(maker, at, 65.4 * pow(2, (i / 8 % 2 ? 5 : 0) / 12.0), 0.9, 0.004, 0.2);
        }
        if (attack > 0.01 ? i % 2 == 0 : 1) {
            pluck(maker, at, 262 * pow(2, steps[draw(maker) % 8u] / 12.0), 0.6, attack, attack > 0.01 ? 0.25 : 0.12);
        }
    }
}

static void offbeat(struct maker *maker, double seconds, double bpm) {
    static const int hits[] = {0, 3, 6, 10, 12, 15};
    double step = 60 / bpm / 4;
    for (int bar = 0; 0.4 + (bar + 1) * 16 * step < seconds; bar++) {
        for (int i = 0; i < 6; i++) {
            double at = 0.4 + (bar * 16 + hits[i]) * step + jitter(maker);
            if (i % 2) {
                snare(maker, at, 0.9);
            } else {
                kick(maker, at, 0.9);
            }
        }
    }
}

static void speech(struct maker *maker, double seconds) {
    double time = 0.4;
    while (time < seconds - 0.5) {
        double length = 0.08 + 0.06 * (1 + uniform(maker));
        double hz = 140 + 40 * uniform(maker);
        pluck(maker, time, hz, 0.7, 0.02, length / 2);
        if (draw(maker) % 3u == 0) {
            hat(maker, time + length, 0.7);
        }
        time += length + 0.05 + 0.15 * (1 + uniform(maker));
    }
}

/* A hall: four combs of different length beside the dry sound (M. Schroeder, "Natural sounding artificial reverberation",
 * Journal of the Audio Engineering Society 10, 1962). */
static void echo(struct maker *maker) {
    static const double lengths[] = {0.0297, 0.0371, 0.0411, 0.0437};
    double *wet = calloc(maker->count, sizeof *wet);
    double *line = calloc(maker->count, sizeof *line);
    for (int k = 0; k < 4; k++) {
        size_t back = (size_t)(lengths[k] * maker->rate);
        double gain = pow(10, -3 * lengths[k] / 0.6); /* 60 dB in 0.6 s */
        for (size_t i = 0; i < maker->count; i++) {
            line[i] = maker->at[i] + (i >= back ? gain * line[i - back] : 0);
            wet[i] += i >= back ? 0.25 * line[i - back] : 0;
        }
    }
    for (size_t i = 0; i < maker->count; i++) {
        maker->at[i] = maker->at[i] * 0.8 + wet[i] * 0.3;
    }
    free(wet);
    free(line);
}

/* ---- the whole ---- */

static int compare(const void *a, const void *b) {
    double x = *(const double *)a - *(const double *)b;
    return x < 0 ? -1 : x > 0;
}

/* Onsets in order; those that come within 80 ms of one are part of it. */
static size_t merge(double *list, size_t count) {
    qsort(list, count, sizeof *list, compare);
    size_t kept = 0;
    for (size_t i = 0; i < count; i++) {
        if (kept == 0 || list[i] - list[kept - 1] > 0.08) {
            list[kept++] = list[i];
        }
    }
    return kept;
}

static void fill(struct maker *maker, enum sound_family family, double seconds, double bpm) {
    switch (family) {
    case SOUND_CLICKS:
        for (double t = 0.4; t < seconds - 0.3; t += 0.15 + 0.2 * (1 + uniform(maker))) {
            click(maker, t, 0.8);
        }
        break;
    case SOUND_BUSY: drums(maker, seconds, bpm, bpm, 0, 1); break;
    case SOUND_SWING: drums(maker, seconds, bpm, bpm, 0.16, 0); break;
    case SOUND_RAMP: drums(maker, seconds, 90, 140, 0, 0); break;
    case SOUND_TUNE: tune(maker, seconds, bpm, 0.004); break;
    case SOUND_SOFT: tune(maker, seconds, bpm, 0.03); break;
    case SOUND_OFFBEAT: offbeat(maker, seconds, bpm); break;
    case SOUND_SPEECH: speech(maker, seconds); break;
    case SOUND_NOISE:
        for (size_t i = 0; i < maker->count; i++) {
            maker->at[i] = 0.1 * uniform(maker);
        }
        break;
    case SOUND_SILENCE: break;
    case SOUND_DRUMS:
    case SOUND_CLIPPED:
    case SOUND_QUIET:
    case SOUND_HUM:
    case SOUND_DIRECT:
    case SOUND_ECHO:
    case SOUND_FAMILIES:
    default: drums(maker, seconds, bpm, bpm, 0, 0); break;
    }
}

struct sound sound_make(enum sound_family family, uint32_t seed, uint32_t rate, double seconds, double bpm) {
    struct sound sound;
    memset(&sound, 0, sizeof sound);
    struct maker maker = {NULL, (size_t)(seconds * rate), rate, seed * 2654435761u + 12345u, &sound};
    maker.at = calloc(maker.count, sizeof *maker.at);
    sound.samples = malloc(maker.count * sizeof *sound.samples);
    sound.count = maker.count;
    bpm = bpm != 0 ? bpm : 125 + 55 * uniform(&maker);
    int steady = family != SOUND_CLICKS && family != SOUND_RAMP && family < SOUND_SPEECH;
    sound.bpm = steady ? bpm : 0;
    fill(&maker, family, seconds, bpm);
    if (family == SOUND_ECHO) {
        echo(&maker);
    }
    double gain = family == SOUND_CLIPPED ? 4 : family == SOUND_QUIET ? pow(10, -50 / 20.0) : 0.5;
    double bed = family == SOUND_SILENCE || family == SOUND_QUIET ? 0.00003 : 0.0005;
    for (size_t i = 0; i < maker.count; i++) {
        double t = (double)i / rate;
        double x = gain * maker.at[i] + bed * uniform(&maker);
        x +=
            family == SOUND_HUM ? 0.05 * sin(2 * PI * 50 * t) + 0.02 * sin(2 * PI * 100 * t) + 0.02 * sin(2 * PI * 150 * t) : 0;
        x += family == SOUND_DIRECT ? 0.25 : 0;
        x = x > 1 ? 1 : x < -1 ? -1 : x;
        sound.samples[i] = (int16_t)lrint(32767 * x);
    }
    free(maker.at);
    sound.onset_count = merge(sound.onsets, sound.onset_count);
    sound.low_count = merge(sound.lows, sound.low_count);
    return sound;
}

void sound_free(struct sound *sound) {
    free(sound->samples);
    sound->samples = NULL;
}
