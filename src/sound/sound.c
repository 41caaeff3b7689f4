/* SPDX-License-Identifier: MIT */
/* Sound: memory, samples cut in blocks and ticks, and what was heard handed over without waiting.
 *
 * Whatever the pushes are cut in, the same samples make the same blocks, ticks and numbers. */
#include "hear.h"

#if GLANZ_DRIVES_MOST > 0

/* ---- four slots ---- */

struct four_place glanz_four_write(struct four *four) {
    struct four_place place;
    place.pair = (uint8_t)!atomic_load(&four->reading);
    place.slot = (uint8_t)!atomic_load(&four->slot[place.pair]);
    return place;
}

void glanz_four_written(struct four *four, struct four_place place) {
    atomic_store(&four->slot[place.pair], place.slot);
    atomic_store(&four->latest, place.pair);
}

struct four_place glanz_four_read(struct four *four) {
    struct four_place place;
    place.pair = atomic_load(&four->latest);
    atomic_store(&four->reading, place.pair);
    place.slot = atomic_load(&four->slot[place.pair]);
    return place;
}

static uint8_t index_of(struct four_place place) {
    return (uint8_t)(place.pair * 2u + place.slot);
}

/* ---- memory ---- */

struct aligned {
    uint8_t byte;
    uint64_t number;
};
#define ALIGNED(size) (((size) + 7u) & ~(size_t)7u)

static uint8_t capacity_of(const struct glanz_sound_setup *setup) {
    return setup->band_capacity == 0 ? GLANZ_BANDS_MOST : setup->band_capacity;
}

/* Few bands may be measured in several parts each. */
static uint8_t part_capacity(const struct glanz_sound_setup *setup) {
    return capacity_of(setup) < PARTS_LEAST ? PARTS_LEAST : capacity_of(setup);
}

size_t glanz_sound_size(const struct glanz_sound_setup *setup) {
    return setup == NULL ? 0
                         : ALIGNED(sizeof(struct glanz_sound)) + ALIGNED(sizeof(struct part) * part_capacity(setup)) +
                               ALIGNED(sizeof(uint16_t) * 5u * capacity_of(setup)) +
                               (setup->tempo == NULL ? 0 : ALIGNED(setup->tempo->size)) +
                               (setup->pitch == NULL ? 0 : ALIGNED(setup->pitch->size)) +
                               (setup->wave == NULL ? 0 : ALIGNED(setup->wave->size));
}

glanz_status glanz_sound_start(struct glanz_sound **sound, void *memory, size_t size, const struct glanz_sound_setup *setup) {
    if (sound == NULL || memory == NULL || setup == NULL || setup->band_capacity > GLANZ_BANDS_MOST ||
        (uintptr_t)memory % offsetof(struct aligned, number) != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (size < glanz_sound_size(setup)) {
        return GLANZ_ERR_MEMORY;
    }
    memset(memory, 0, glanz_sound_size(setup));
    struct glanz_sound *is = (struct glanz_sound *)memory;
    uint8_t *next = (uint8_t *)memory + ALIGNED(sizeof *is);
    is->setup = *setup;
    is->parts = (struct part *)(void *)next;
    next += ALIGNED(sizeof(struct part) * part_capacity(setup));
    is->levels = (uint16_t *)(void *)next;
    is->band = is->levels + 4u * capacity_of(setup);
    next += ALIGNED(sizeof(uint16_t) * 5u * capacity_of(setup));
    if (setup->tempo != NULL) {
        is->tempo = next;
        next += ALIGNED(setup->tempo->size);
    }
    if (setup->pitch != NULL) {
        is->pitch = next;
        next += ALIGNED(setup->pitch->size);
    }
    is->wave = setup->wave != NULL ? next : NULL;
    for (uint8_t i = 0; i < 4; i++) {
        is->heard[i].band = is->levels + i * capacity_of(setup);
    }
    *sound = is;
    return GLANZ_OK;
}

uint8_t glanz_sound_bands(const struct glanz_sound *sound) {
    return sound == NULL ? 0 : capacity_of(&sound->setup);
}

/* ---- how to listen ---- */

glanz_status glanz_sound_listen(struct glanz_sound *sound, GLANZ_CONST struct glanz_hearing *hearing) {
    if (sound == NULL || hearing == NULL || glanz_hearing_wrong(hearing) != NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (glanz_hearing_filled(hearing).bands > capacity_of(&sound->setup)) {
        return GLANZ_ERR_MEMORY;
    }
    struct four_place place = glanz_four_write(&sound->wish_four);
    sound->wishes[index_of(place)] = glanz_hearing_filled(hearing);
    sound->wish_count = (uint8_t)(sound->wish_count == 255 ? 1 : sound->wish_count + 1);
    sound->wished[index_of(place)] = sound->wish_count;
    glanz_four_written(&sound->wish_four, place);
    return GLANZ_OK;
}

/* Of a level's way to go in a tick: 1 - 2^(-5 ms / half-life), 0.16. */
static uint16_t share_a_tick(uint16_t half_life_ms) {
    return (uint16_t)(half_life_ms == 0 ? 65535u : 65535u - glanz_halving((65536u * 5u) / half_life_ms) * 65535u / 65536u);
}

static void begin(struct glanz_sound *sound) {
    uint32_t rate = sound->hearing.rate_hz;
    sound->filled = 0;
    sound->phase = 0;
    sound->samples = 0;
    sound->sum = 0;
    sound->peak = 0;
    sound->direct = 0;
    sound->direct_shift = 8; /* a high-pass at 3 to 5 Hz */
    while ((rate >> sound->direct_shift) > 31u) {
        sound->direct_shift++;
    }
    uint32_t most = (rate + TICKS_PER_S - 1u) / TICKS_PER_S; /* samples in a tick */
    uint32_t blocks = (most + BLOCK - 1u) / BLOCK;
    sound->even = (uint16_t)((most + blocks - 1u) / blocks);
    sound->lows[0] = share_a_tick(sound->hearing.rise_ms);
    sound->lows[1] = share_a_tick(sound->hearing.fall_ms);
    memset(&sound->now, 0, sizeof sound->now);
    memset(sound->band, 0, sizeof(uint16_t) * capacity_of(&sound->setup));
    sound->now.bands = sound->hearing.bands;
    glanz_bands_lay_out(sound);
    glanz_levels_begin(sound);
    glanz_onsets_begin(sound);
    if (sound->setup.tempo != NULL) {
        sound->setup.tempo->begin(sound);
    }
    if (sound->setup.pitch != NULL) {
        sound->setup.pitch->begin(sound);
    }
    if (sound->setup.wave != NULL) {
        sound->setup.wave->begin(sound);
    }
}

static void take_wish(struct glanz_sound *sound) {
    struct four_place place = glanz_four_read(&sound->wish_four);
    if (sound->wished[index_of(place)] != sound->wish_taken) {
        sound->wish_taken = sound->wished[index_of(place)];
        sound->hearing = sound->wishes[index_of(place)];
        begin(sound);
    }
}

/* ---- samples ---- */

static void publish(struct glanz_sound *sound, const struct glanz_heard *heard, const uint16_t *band) {
    struct four_place place = glanz_four_write(&sound->four);
    struct glanz_heard *slot = &sound->heard[index_of(place)];
    uint16_t *levels = sound->levels + index_of(place) * capacity_of(&sound->setup);
    *slot = *heard;
    slot->bands = heard->bands > capacity_of(&sound->setup) ? capacity_of(&sound->setup) : heard->bands;
    memcpy(levels, band, sizeof *levels * slot->bands);
    slot->band = levels;
    slot->wave = sound->setup.wave == NULL || heard->wave == NULL
                     ? NULL
                     : sound->setup.wave->tick(sound, index_of(place), heard == &sound->now ? NULL : heard->wave);
    glanz_four_written(&sound->four, place);
}

/* @param end_us when its last sample was taken. */
static void tick(struct glanz_sound *sound, uint32_t end_us) {
    int32_t mean = (int32_t)(glanz_log2(sound->samples) >> 8);
    int32_t power = glanz_power_of(sound->sum) - mean + 2 * SIGNAL_BITS * 256;
    int32_t peak = glanz_power_of(sound->peak) - 256 + 2 * SIGNAL_BITS * 256;      /* of a sine that reaches so far */
    sound->now.ticks = sound->now.ticks == UINT32_MAX ? 1 : sound->now.ticks + 1u; /* never 0 again */
    sound->now.time_us = end_us;
    glanz_bands_tick(sound);
    glanz_levels_tick(sound, power < 0 ? 0 : power, peak < 0 ? 0 : peak);
    glanz_onsets_tick(sound);
    if (sound->setup.pitch != NULL) {
        sound->setup.pitch->tick(sound);
    }
    publish(sound, &sound->now, sound->band);
    sound->samples = 0;
    sound->sum = 0;
    sound->peak = 0;
}

/* A block: what stands still is taken out, the whole is measured, then the bands. */
static void hear_block(struct glanz_sound *sound) {
    int32_t samples[BLOCK + 1]; /* one behind them is read, and not used */
    uint8_t shift = sound->direct_shift;
    int32_t direct = sound->direct;
    uint64_t sum = sound->sum;
    uint32_t most = sound->peak;
    uint32_t count = sound->filled;
    const int16_t *from = sound->block;
    int32_t *to = samples;
    for (const int32_t *end = samples + count; to != end;) {
        int32_t x = *from++;
        if ((uint32_t)(x + INT16_MAX) > 2u * INT16_MAX - 1u) { /* the largest there is, either way */
            sound->now.clipped++;
        }
        x = x * (1 << SIGNAL_BITS) - glanz_over(direct, shift);
        direct += x;
        *to++ = x;
        uint32_t size = (uint32_t)glanz_over(x, SIGNAL_BITS);
        uint32_t square = size * size; /* what stands still is no peak */
        most = square > most ? square : most;
        sum += square;
    }
    *to = 0;
    sound->peak = most;
    sound->direct = direct;
    sound->sum = sum;
    sound->samples = (uint16_t)(sound->samples + sound->filled);
    if (sound->setup.pitch != NULL) {
        sound->setup.pitch->hear(sound, samples, sound->filled);
    }
    if (sound->setup.wave != NULL) {
        sound->setup.wave->hear(sound, samples, sound->filled);
    }
    glanz_bands_hear(sound, samples, sound->filled);
    sound->filled = 0;
}

static void copy(struct glanz_sound *sound, const int16_t *samples, uint32_t count, uint8_t step) {
    int16_t *to = sound->block + sound->filled;
    int16_t *end = to + count;
    sound->filled = (uint8_t)(sound->filled + count);
    sound->phase += TICKS_PER_S * count;
    for (; to != end; samples += step) {
        *to++ = *samples;
    }
}

glanz_status glanz_sound_push(struct glanz_sound *sound, const int16_t *samples, size_t count, uint8_t step, uint32_t time_us) {
    if (sound == NULL || (samples == NULL && count != 0) || step == 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    take_wish(sound);
    uint32_t rate = sound->hearing.rate_hz;
    if (rate == 0) {
        return GLANZ_ERR_STATE;
    }
    while (count != 0) {
        uint32_t room = (uint32_t)(sound->even - sound->filled);
        uint32_t due = (rate - sound->phase + TICKS_PER_S - 1u) / TICKS_PER_S; /* until the tick ends */
        uint32_t now = due < room ? due : room;
        now = now < count ? now : (uint32_t)count;
        copy(sound, samples, now, step);
        samples += now * step;
        count -= now;
        if (now == due || now == room) {
            hear_block(sound);
        }
        if (now == due) {
            sound->phase -= rate;
            tick(sound, time_us - (uint32_t)((uint64_t)(count < 1000000u ? count : 1000000u) * 1000000u / rate));
        }
    }
    return GLANZ_OK;
}

glanz_status glanz_sound_push_heard(struct glanz_sound *sound, const struct glanz_heard *heard) {
    if (sound == NULL || heard == NULL || (heard->bands != 0 && heard->band == NULL)) {
        return GLANZ_ERR_ARGUMENT;
    }
    publish(sound, heard, heard->band);
    return GLANZ_OK;
}

const struct glanz_heard *glanz_sound_heard(struct glanz_sound *sound) {
    return sound == NULL ? NULL : &sound->heard[index_of(glanz_four_read(&sound->four))];
}

int16_t glanz_sound_band_cdb(const struct glanz_sound *sound, uint8_t band) {
    if (sound == NULL || sound->hearing.rate_hz == 0 || band >= sound->hearing.bands || sound->now.ticks == 0) {
        return INT16_MIN;
    }
    return (int16_t)((glanz_band_power(sound, band) - FULL_SCALE) * 301 / 256);
}

#endif
