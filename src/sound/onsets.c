/* SPDX-License-Identifier: MIT */
/* Onsets: by how much the bands rise in loudness, against how much they commonly do. */
#include "hear.h"

#if GLANZ_DRIVES_MOST > 0

#define AUDIBLE DB(36)         /* below the loudest of late */
#define NOISE DB(8)            /* above the quietest of late */
#define REST_TICKS 14u         /* 70 ms: no other one comes sooner */
#define LEAST_RISE 60u         /* of a range's parts on average: 0.7 dB, beside one and a half times the mean */
#define LEAST_RISE_OF_FEW 150u /* of a range alone: noise rises further where it is measured in few parts */

void glanz_onsets_begin(struct glanz_sound *sound) {
    memset(sound->watches, 0, sizeof sound->watches);
    sound->audible = 0;
    for (uint8_t i = 0; i < GLANZ_RANGES; i++) {
        sound->watches[i].mean = DB(1) * 256; /* until it is known */
    }
    for (uint8_t i = 0; i < sound->part_count; i++) {
        sound->watches[sound->parts[i].range].parts++;
        sound->watches[GLANZ_RANGE_ALL].parts++;
    }
    for (uint8_t i = 0; i < GLANZ_RANGES; i++) {
        sound->watches[i].share = sound->watches[i].parts == 0 ? 0 : 65536u / sound->watches[i].parts;
    }
}

static void decide(struct glanz_sound *sound, uint8_t range, uint32_t rise) {
    struct watch *watch = &sound->watches[range];
    struct glanz_onset *onset = &sound->now.onset[range];
    uint32_t limit = (range == GLANZ_RANGE_ALL ? LEAST_RISE : LEAST_RISE_OF_FEW) + (watch->mean >> 8) * 3u / 2u;
    watch->rise = (uint16_t)rise;
    if (watch->rest != 0) {
        watch->rest--;
    } else if (rise > limit) {
        watch->rest = REST_TICKS;
        onset->count++;
        onset->at_us = sound->now.time_us;
        uint32_t strength = (rise - limit) * (65536u / DB(18)) + 16384u;
        onset->strength = (uint16_t)(strength > 65535u ? 65535u : strength);
    }
    watch->mean += (rise << 8) / 128u;
    watch->mean -= watch->mean / 128u;
}

void glanz_onsets_tick(struct glanz_sound *sound) {
    uint32_t rises[GLANZ_RANGES] = {0, 0, 0, 0};
    int32_t most = 0;
    for (uint8_t i = 0; i < sound->part_count; i++) {
        most = sound->parts[i].power > most ? sound->parts[i].power : most;
    }
    int32_t decayed = sound->audible - DB(12) * 256 / (int32_t)TICKS_PER_S;
    sound->audible = most * 256 > decayed ? most * 256 : decayed;
    int32_t from = glanz_over(sound->audible, 8) - AUDIBLE;
    for (uint8_t i = 0; i < sound->part_count; i++) {
        struct part *part = &sound->parts[i];
        int32_t noise = (int32_t)(part->floor >> 8) + NOISE;
        int32_t least = from > noise ? from : noise;
        int32_t above = part->power > least ? part->power - least : 0;
        int32_t before = part->earlier[0] > part->earlier[1] ? part->earlier[0] : part->earlier[1];
        before = part->earlier[2] > before ? part->earlier[2] : before;
        uint32_t rise = above > before ? (uint32_t)(above - before) : 0;
        uint32_t common = (part->rise >> 8) * 7u; /* so much it does by itself: noise */
        if (rise > common) {
            rises[part->range] += rise - common;
        }
        part->rise += (rise << 8) / 64u;
        part->rise -= part->rise / 64u;
        part->earlier[2] = part->earlier[1];
        part->earlier[1] = part->earlier[0];
        part->earlier[0] = (int16_t)above;
    }
    if (sound->now.ticks < SETTLE_TICKS) {
        return;
    }
    rises[GLANZ_RANGE_ALL] = rises[GLANZ_RANGE_LOW] + rises[GLANZ_RANGE_MIDDLE] + rises[GLANZ_RANGE_HIGH];
    if (sound->setup.tempo != NULL) {
        sound->setup.tempo->tick(sound, rises[GLANZ_RANGE_ALL], rises[GLANZ_RANGE_LOW]);
    }
    for (uint8_t i = 0; i < GLANZ_RANGES; i++) {
        if (sound->watches[i].parts != 0) {
            decide(sound, i, (rises[i] * sound->watches[i].share) >> 16);
        }
    }
}

#endif
