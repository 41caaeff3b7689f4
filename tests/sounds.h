/* SPDX-License-Identifier: MIT */
/* Made-up sound with what is in it: for tests, figures and the demo. The same seed makes the same samples. */
#ifndef GLANZ_TESTS_SOUNDS_H
#define GLANZ_TESTS_SOUNDS_H

#include <stddef.h>
#include <stdint.h>

enum sound_family {
    SOUND_CLICKS,  /* short clicks at random */
    SOUND_DRUMS,   /* a straight pattern */
    SOUND_BUSY,    /* another one, with more of everything */
    SOUND_SWING,   /* eighths that come late */
    SOUND_CLIPPED, /* straight, 12 dB too loud */
    SOUND_QUIET,   /* straight, 50 dB down */
    SOUND_HUM,     /* straight, with mains hum 20 dB down */
    SOUND_DIRECT,  /* straight, with a direct component of a quarter */
    SOUND_ECHO,    /* straight, in a hall */
    SOUND_TUNE,    /* a plucked tune over a bass */
    SOUND_SOFT,    /* notes that swell within 30 ms */
    SOUND_RAMP,    /* straight, from 90 to 140 a minute */
    SOUND_OFFBEAT, /* hard syncopation */
    SOUND_SPEECH,  /* syllables of noise and tone, at no tempo */
    SOUND_NOISE,   /* steady noise */
    SOUND_SILENCE,
    SOUND_FAMILIES
};

#define SOUND_ONSETS 1200

struct sound {
    int16_t *samples; /* freed by sound_free() */
    size_t count;
    double onsets[SOUND_ONSETS]; /* seconds, in order; none closer than 80 ms */
    size_t onset_count;
    double lows[SOUND_ONSETS]; /* those of low notes and drums */
    size_t low_count;
    double bpm; /* 0: none */
};

extern const char *const sound_names[SOUND_FAMILIES];

/* @param bpm 0: by the seed, 70 to 180. */
struct sound sound_make(enum sound_family family, uint32_t seed, uint32_t rate, double seconds, double bpm);
void sound_free(struct sound *sound);

#endif
