/* SPDX-License-Identifier: MIT */
/** @file
 *  Sound: from samples to numbers, in integers, the same on every CPU. Samples are pushed in as they come; 5 ms of them are a
 *  tick; at the end of each, what was heard is made known as a whole.
 *
 *  One context pushes (an interrupt, a task, the main loop), one asks (the main loop, or the device in each frame); neither
 *  waits for the other. The work is done where samples are pushed: docs/bench.md has its cost.
 */
#ifndef GLANZ_SOUND_H
#define GLANZ_SOUND_H

#include <glanz/signals.h>

GLANZ_HEADER_BEGIN

#if GLANZ_DRIVES_MOST > 0

struct glanz_sound; /**< opaque; lives in the caller's memory */

struct glanz_tempo_part;                                /**< tempo and beat */
struct glanz_pitch_part;                                /**< the main pitch */
struct glanz_wave_part;                                 /**< the sound's shape, for looks that draw it */
extern const struct glanz_tempo_part glanz_sound_tempo; /**< tempo and beats */
extern const struct glanz_pitch_part glanz_sound_pitch; /**< the main pitch */
extern const struct glanz_wave_part glanz_sound_wave;   /**< the shape */

/** What is listened for beside levels, bands and onsets: linked because it is named. */
struct glanz_sound_setup {
    const struct glanz_tempo_part *tempo; /**< the address of glanz_sound_tempo; NULL: no tempo and no beat */
    const struct glanz_pitch_part *pitch; /**< the address of glanz_sound_pitch; NULL: no pitch */
    const struct glanz_wave_part *wave;   /**< the address of glanz_sound_wave; NULL: no shape */
    uint8_t band_capacity;                /**< bands that it may be asked for; 0: GLANZ_BANDS_MOST */
};

/** Memory for a source of sound, bytes; 0 for NULL. */
size_t glanz_sound_size(const struct glanz_sound_setup *setup);

/** The same as a constant, an upper bound on every CPU. @param bands that it has room for. @param tempo,pitch,wave 1 or 0. */
#define GLANZ_SOUND_SIZE(bands, tempo, pitch, wave)                                                                            \
    ((size_t)(1660 + 32 * sizeof(void *) + 112 * ((bands) < 18 ? 18 : (bands)) + 12 * (bands) + ((tempo) ? 2800 : 0) +         \
              ((pitch) ? 1200 : 0) + ((wave) ? 560 : 0)))
/** Memory of that size, aligned. @param name of the variable. @param bands,tempo,pitch,wave as above. */
#define GLANZ_SOUND_MEMORY(name, bands, tempo, pitch, wave)                                                                    \
    union {                                                                                                                    \
        uint64_t align;                                                                                                        \
        uint8_t bytes[GLANZ_SOUND_SIZE(bands, tempo, pitch, wave)];                                                            \
    } name

/** Lay it out; it hears nothing until it is told how.
 *  @param memory lent as long as it is used; aligned for a uint64_t. @param setup copied.
 *  @return GLANZ_ERR_ARGUMENT, GLANZ_ERR_MEMORY. */
GLANZ_NODISCARD glanz_status glanz_sound_start(struct glanz_sound **sound, void *memory, size_t size,
                                               const struct glanz_sound_setup *setup);

/** Bands that it has room for. 0 for NULL. */
uint8_t glanz_sound_bands(const struct glanz_sound *sound);

/** Listen in this way, from the next push on, and begin anew. A device does it for the microphones of its rig. From the context
 *  that asks. @param hearing copied. @return GLANZ_ERR_ARGUMENT (see glanz_hearing_wrong()), GLANZ_ERR_MEMORY for more bands
 *  than it has room for. */
GLANZ_NODISCARD glanz_status glanz_sound_listen(struct glanz_sound *sound, GLANZ_CONST struct glanz_hearing *hearing);

/** Push samples, any number of them. From the one context that does.
 *  @param samples signed, 16 bits, full scale 32767. @param step from one to the next, in samples: 1 for mono, 2 for one of two
 *  channels. @param time_us when the last of them was taken, by the clock that frames are told; may wrap.
 *  @return GLANZ_ERR_ARGUMENT, GLANZ_ERR_STATE before it was told how to listen. */
glanz_status glanz_sound_push(struct glanz_sound *sound, const int16_t *samples, size_t count, uint8_t step, uint32_t time_us);

/** What was heard, worked out elsewhere: in place of samples. @param heard copied whole, `band` and `wave` too; bands beyond
 * the capacity are left out, and `wave` without the part for it. @return GLANZ_ERR_ARGUMENT. */
glanz_status glanz_sound_push_heard(struct glanz_sound *sound, const struct glanz_heard *heard);

/** What was heard last; stays as it is until this is asked again. From the context that asks. Where a device has it
 * (setup.sounds), the device asks, and a program takes glanz_control_heard() instead. NULL for NULL. */
const struct glanz_heard *glanz_sound_heard(struct glanz_sound *sound);

/** Power of a band at the newest tick, before gain and gate: hundredths of dB below a sine at full scale. From the context that
 *  pushes; for setting up, and for tests. @return INT16_MIN where there is none. */
int16_t glanz_sound_band_cdb(const struct glanz_sound *sound, uint8_t band);

#endif

GLANZ_HEADER_END
#endif
