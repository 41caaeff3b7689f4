/* SPDX-License-Identifier: MIT */
/* Levels: from powers to what light can follow: a gain that adapts, a gate that learns the noise, rise and fall. */
#include "hear.h"

#if GLANZ_DRIVES_MOST > 0

#define GATE_LOWEST (FULL_SCALE - DB(80)) /* learnt, at the least and at the most */
#define GATE_HIGHEST (FULL_SCALE - DB(40))
#define ABOVE_NOISE DB(7) /* the gate above the quietest of late */
#define LOUDEST_LEAST (FULL_SCALE - DB(66))

void glanz_levels_begin(struct glanz_sound *sound) {
    int32_t loudest =
        sound->hearing.loudest_db == 0 ? FULL_SCALE - DB(20) : FULL_SCALE - DB((int32_t)sound->hearing.loudest_db);
    sound->gains[0].loudest = loudest * 256;
    sound->gains[1].loudest = loudest * 256;
    sound->floor = 0; /* begins with what is heard first */
    sound->quiet = 0;
    sound->scale = (65535u << 8) / (uint32_t)DB(sound->hearing.span_db);
    sound->adapts = 14885440u / sound->hearing.adapts_ms * 1000u; /* 5 ms ln 2 */
    for (uint8_t i = 0; i < sound->part_count; i++) {
        sound->parts[i].floor = 0;
    }
}

/* The quietest of late: follows down within some ticks, up by one dB a second. */
static void learn_floor(uint32_t *floor, int32_t power, int begins) {
    uint32_t now = (uint32_t)power << 8;
    if (begins) {
        *floor = now;
    } else if (now < *floor) {
        *floor -= (*floor - now + 15u) / 16u;
    } else {
        uint32_t step = DB(1) * 256u / TICKS_PER_S;
        *floor = *floor + step < now ? *floor + step : now;
    }
}

static int32_t gate_of(const struct glanz_sound *sound) {
    if (sound->hearing.gate_db != 0) {
        return FULL_SCALE - DB((int32_t)sound->hearing.gate_db);
    }
    int32_t gate = (int32_t)(sound->floor >> 8) + ABOVE_NOISE;
    return gate < GATE_LOWEST ? GATE_LOWEST : gate > GATE_HIGHEST ? GATE_HIGHEST : gate;
}

/* What the highest level stands for: up at once to what is louder, but for one eighth that it stays behind each tick; down to
 * what is quieter by its half-life, and only while something sounds. */
static void adapt(struct glanz_sound *sound, struct gain *gain, int32_t power, int sounds, int32_t gate) {
    if (sound->hearing.loudest_db != 0 || !sounds) {
        return;
    }
    int32_t least = gate + DB(15) > LOUDEST_LEAST ? gate + DB(15) : LOUDEST_LEAST;
    int32_t to = (power > least ? power : least) * 256;
    if (to > gain->loudest) {
        gain->loudest += (to - gain->loudest) / 8 + 1;
    } else {
        gain->loudest -= (int32_t)glanz_mul32_high((uint32_t)(gain->loudest - to), sound->adapts);
    }
}

static uint16_t level_of(const struct glanz_sound *sound, const struct gain *gain, int32_t power) {
    int32_t span = DB((int32_t)sound->hearing.span_db);
    int32_t above = power - (glanz_over(gain->loudest, 8) - span);
    return above <= 0 ? 0 : above >= span ? 65535u : (uint16_t)(((uint32_t)above * sound->scale) >> 8);
}

/* A level on its way. */
static uint16_t follow(const struct glanz_sound *sound, uint16_t from, uint16_t to) {
    if (to >= from) {
        return (uint16_t)(from + (((uint32_t)(to - from) * sound->lows[0] + 65535u) >> 16));
    }
    return (uint16_t)(from - (((uint32_t)(from - to) * sound->lows[1] + 65535u) >> 16));
}

/* What is left of a power when the noise that is always there is taken out: 256 log2(1 - 2^-(d/256)), by 32. */
static int32_t without_noise(int32_t power, int32_t noise) {
    static GLANZ_CONST int16_t less[] = {1167, 777, 604, 495, 418, 358, 311, 273, 241, 214, 190, 170, 153, 137,
                                         124,  112, 101, 92,  83,  75,  68,  62,  57,  52,  47,  43,  39,  36,
                                         33,   30,  27,  25,  23,  21,  19,  17,  16,  15,  13,  12};
    int32_t above = power - noise;
    if (above <= 0) {
        return 0;
    }
    return above >= (int32_t)(sizeof less / sizeof less[0]) * 32 ? power : power - less[above / 32];
}

static int16_t cdb(int32_t power) {
    return (int16_t)((power - FULL_SCALE) * 301 / 256);
}

/* Bands, and the loudest of each range. */
static void tell_bands(struct glanz_sound *sound, int sounds) {
    uint16_t range[GLANZ_RANGES] = {0, 0, 0, 0};
    for (uint8_t i = 0; i < sound->hearing.bands; i++) {
        int32_t power = glanz_band_power(sound, i);
        const struct part *part = &sound->parts[i * sound->parts_a_band];
        uint16_t level = sounds ? level_of(sound, &sound->gains[0], without_noise(power, (int32_t)(part->floor >> 8))) : 0;
        sound->band[i] = follow(sound, sound->band[i], level);
        uint8_t of = sound->parts[i * sound->parts_a_band + sound->parts_a_band / 2u].range;
        range[of] = level > range[of] ? level : range[of];
    }
    for (uint8_t i = 1; i < GLANZ_RANGES; i++) {
        sound->now.level[i] = follow(sound, sound->now.level[i], range[i]);
    }
}

void glanz_levels_tick(struct glanz_sound *sound, int32_t power, int32_t peak) {
    int32_t most = 0;
    int learns = sound->now.ticks >= SETTLE_TICKS;
    if (learns) {
        learn_floor(&sound->floor, power, sound->now.ticks == SETTLE_TICKS);
    }
    for (uint8_t i = 0; i < sound->hearing.bands; i++) {
        int32_t band = glanz_band_power(sound, i);
        most = band > most ? band : most;
        if (learns) {
            uint32_t *floor = &sound->parts[i * sound->parts_a_band].floor;
            learn_floor(floor, band, *floor == 0);
        }
    }
    int32_t gate = gate_of(sound);
    int sounds = power > gate;
    sound->quiet = sounds ? 0 : sound->quiet + (sound->quiet != UINT32_MAX);
    sound->now.silent = sound->quiet >= (uint32_t)sound->hearing.silence_ms * TICKS_PER_S / 1000u;
    adapt(sound, &sound->gains[0], most, sounds, gate);
    adapt(sound, &sound->gains[1], power, sounds, gate);
    tell_bands(sound, sounds);
    sound->now.level[GLANZ_RANGE_ALL] =
        follow(sound, sound->now.level[GLANZ_RANGE_ALL], sounds ? level_of(sound, &sound->gains[1], power) : 0);
    sound->now.peak = follow(sound, sound->now.peak, sounds ? level_of(sound, &sound->gains[1], peak) : 0);
    sound->now.level_cdb = cdb(power);
    sound->now.peak_cdb = cdb(peak);
    sound->now.gate_cdb = cdb(gate);
    sound->now.loudest_cdb = cdb(glanz_over(sound->gains[0].loudest, 8));
}

#endif
