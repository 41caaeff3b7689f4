/* SPDX-License-Identifier: MIT */
/* What the files of sound share. Private to src/sound.
 *
 * A signal has two bits below the sample's last: a sine at full scale is 131068. Coefficients have 12 bits below the point;
 * every result fits 32 bits. Powers are logarithms to the base 2 with 8 bits below the point: 1 is 0.0118 dB. */
#ifndef GLANZ_SOUND_HEAR_H
#define GLANZ_SOUND_HEAR_H

#include <stdatomic.h>
#include <string.h>

#include <glanz/sound.h>

#if GLANZ_DRIVES_MOST > 0

#define OCTAVES 9      /* rates, each half of the one above: at 48 kHz down to 188 Hz */
#define BLOCK 80       /* samples worked on together; a tick is cut evenly into so many at the most */
#define PARTS_LEAST 18 /* nine octaves and a half in six bands of three parts */
#define TICKS_PER_S 200u
#define HUMS 4            /* of the mains: itself and three overtones */
#define SETTLE_TICKS 40u  /* from the start until resonators show what sounds */
#define SIGNAL_BITS 2     /* of a signal, below the sample's last */
#define FULL_SCALE 8448   /* the power of a sine at full scale */
#define DB(db) ((db)*85)  /* 85.04 a dB */
#define NO_POWER (-32768) /* nothing was measured yet */

/* One of three resonators in a row, and what it remembers. */
struct resonator {
    int16_t gain, first, second; /* y = gain (x - x[-2]) + first y[-1] - second y[-2] */
    uint32_t next, later;        /* what is to be added to the next sample, and to that after it */
};

/* A part of the range that is measured: a band, or where bands are wide, one of several in it. */
struct part {
    struct resonator resonators[3];
    uint8_t octave; /* whose rate it is measured at */
    uint8_t range;  /* enum glanz_range */
    int16_t cosine; /* of the angle a sample at its middle, 2.14: where ticks have few samples; else 0 */
    int16_t offset; /* added to the logarithm of what was summed */
    int16_t power;
    int32_t last;       /* sample that came through */
    uint8_t is_quiet;   /* was, in the tick before: then all bits of the signal are measured */
    int16_t earlier[3]; /* how far above what is audible, ticks before */
    uint32_t floor;     /* 24.8: the quietest of late */
    uint32_t rise;      /* 24.8: by how much it rises in a tick, on average */
    uint64_t sum;       /* of squares, in this tick */
    int64_t cross;      /* of products of neighbours */
};

/* A half-band filter of two branches of all-passes, that hands on every second sample. */
struct halver {
    int32_t even[3], odd[3];
    int32_t waiting; /* what the branch of even samples came to, while the odd one is awaited */
    uint8_t is_waiting;
};

struct octave {
    struct halver halver;
    int32_t last;  /* sample of the block before */
    uint8_t first; /* of the parts that are measured here */
    uint8_t count;
    uint16_t samples; /* in this tick */
};

/* Which of four slots is written and which is read, without waiting: H. Simpson, "Four-slot fully asynchronous communication
 * mechanism", IEE Proceedings 137 E (1990). */
struct four {
    atomic_uchar latest, reading;
    atomic_uchar slot[2];
};
struct four_place {
    uint8_t pair, slot;
};
struct four_place glanz_four_write(struct four *four);
void glanz_four_written(struct four *four, struct four_place place);
struct four_place glanz_four_read(struct four *four);

/* A level's way in time. */
struct gain {
    int32_t loudest; /* 24.8 */
};

/* What decides about onsets of one range. */
struct watch {
    uint32_t mean; /* of its rises, 24.8 */
    uint16_t rest; /* ticks in which none can come */
    uint16_t rise; /* in this tick */
    uint16_t parts;
    uint32_t share; /* 65536 over their number */
};

struct glanz_sound {
    struct glanz_sound_setup setup;
    struct glanz_hearing hearing; /* filled; rate 0: it was not told how to listen */
    struct four wish_four;
    struct glanz_hearing wishes[4];
    uint8_t wished[4];       /* which wish this is */
    uint8_t wish_count;      /* of the one that asks */
    atomic_uchar wish_known; /* a wish was left */
    uint8_t wish_taken;      /* by the one that pushes */

    struct four four;
    struct glanz_heard heard[4];
    uint16_t *levels;       /* four times as many as there is room for */
    struct glanz_heard now; /* as the next tick will be told, but for `band` */
    uint16_t *band;

    struct octave octaves[OCTAVES];
    struct resonator hums[HUMS]; /* what they pass is taken out */
    uint8_t hum_octave;          /* at whose rate; none has the number OCTAVES */
    struct part *parts;
    uint8_t part_count, parts_a_band, octave_count, direct_shift, is_steep;
    uint8_t filled; /* samples in the block */
    int16_t block[BLOCK];
    uint32_t phase;    /* of the tick: so many of rate_hz, TICKS_PER_S a sample */
    uint16_t samples;  /* in this tick */
    uint16_t even;     /* samples of a block */
    uint16_t lows[2];  /* 65536 - what is kept of a level that rises, falls, in a tick */
    int32_t direct;    /* what stands still in the signal, with direct_shift bits more */
    uint64_t sum;      /* of squares of the whole, in this tick */
    uint32_t peak;     /* the largest of them */
    uint32_t block_us; /* when its last sample was taken */

    struct gain gains[2]; /* of bands, and of the whole */
    uint32_t scale;       /* levels a unit of power, 24.8 */
    uint32_t adapts;      /* of the way down to quieter sound in a tick, 0.32 */
    uint32_t floor;       /* of the whole, 24.8 */
    uint32_t quiet;       /* ticks below the gate */
    int32_t audible;      /* loudest of late, for onsets, 24.8 */
    struct watch watches[GLANZ_RANGES];

    void *tempo, *pitch, *wave; /* memory of these parts; NULL */
};

struct glanz_tempo_part {
    size_t size;
    void (*begin)(struct glanz_sound *sound);
    void (*tick)(struct glanz_sound *sound, uint32_t rise, uint32_t low_rise);
};
struct glanz_pitch_part {
    size_t size;
    void (*begin)(struct glanz_sound *sound);
    void (*hear)(struct glanz_sound *sound, const int32_t *samples, uint8_t count); /* a block, at the full rate */
    void (*tick)(struct glanz_sound *sound);
};

struct glanz_wave_part {
    size_t size;
    void (*begin)(struct glanz_sound *sound);
    void (*hear)(struct glanz_sound *sound, const int32_t *samples, uint8_t count);
    /* For one of four slots. @param elsewhere its shape, where it was worked out elsewhere; else NULL. */
    const int8_t *(*tick)(struct glanz_sound *sound, uint8_t slot, const int8_t *elsewhere);
};

/* ---- bands.c: resonators laid out, and the logarithms of what they measure ---- */
void glanz_bands_lay_out(struct glanz_sound *sound);
void glanz_bands_hear(struct glanz_sound *sound, int32_t *samples, uint8_t count);
void glanz_bands_tick(struct glanz_sound *sound);
/* A band's power from its parts'. */
int32_t glanz_band_power(const struct glanz_sound *sound, uint8_t band);
/* ---- levels.c: gain, gate, silence ---- */
void glanz_levels_begin(struct glanz_sound *sound);
void glanz_levels_tick(struct glanz_sound *sound, int32_t power, int32_t peak);
/* ---- onsets.c ---- */
void glanz_onsets_begin(struct glanz_sound *sound);
void glanz_onsets_tick(struct glanz_sound *sound);

/* Power of a sum of squares. */
int32_t glanz_power_of(uint64_t sum);

#endif
#endif
