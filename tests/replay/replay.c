/* SPDX-License-Identifier: MIT */
#include "replay.h"

#include <string.h>

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    struct replayed *replayed = (struct replayed *)user;
    for (uint8_t i = 0; i < count; i++) {
        replayed->hash = glanz_crc32(replayed->hash, list[i].bytes, list[i].count);
    }
    replayed->sent++;
    return GLANZ_OK;
}

static int busy(void *user) {
    (void)user;
    return 0;
}

#if GLANZ_SAVED_MOST
/* Four sectors of flash that live as long as a scenario: what is saved must be the same everywhere, byte for byte. */
#define SECTOR 1024u
static uint8_t flash[4 * SECTOR];

static glanz_status read_flash(void *user, uint32_t at, uint8_t *bytes, size_t count) {
    (void)user;
    memcpy(bytes, flash + at, count);
    return GLANZ_OK;
}

static glanz_status program_flash(void *user, uint32_t at, const uint8_t *bytes, size_t count) {
    (void)user;
    for (size_t i = 0; i < count; i++) {
        flash[at + i] = (uint8_t)(flash[at + i] & bytes[i]);
    }
    return GLANZ_OK;
}

static glanz_status erase_flash(void *user, uint32_t sector) {
    (void)user;
    memset(flash + sector * SECTOR, 0xFF, SECTOR);
    return GLANZ_OK;
}

static const struct glanz_medium medium = {.version = 1,
                                           .sector_bytes = SECTOR,
                                           .sectors = 4,
                                           .unit = 4,
                                           .read = read_flash,
                                           .program = program_flash,
                                           .erase = erase_flash};

/* Presets are saved, copied, recalled and forgotten while it runs. */
static void keep(struct glanz_device *device, uint16_t frame, uint16_t frames) {
    struct glanz_missed missed;
    glanz_status status = GLANZ_OK;
    if (frame == frames / 4) {
        status = glanz_device_save(device, "quarter", UINT64_MAX, GLANZ_ASPECTS, 0);
    } else if (frame == frames / 2) {
        status = glanz_device_copy(device, "quarter", "once more");
    } else if (frame == frames / 2 + frames / 8) {
        status = glanz_device_forget(device, "quarter");
    } else if (frame == frames / 2 + frames / 4) {
        status = glanz_device_recall(device, "once more", 200, &missed);
    }
    (void)(status == GLANZ_OK); /* one that is refused must be so everywhere */
    glanz_device_idle(device, 2000);
}
#endif

static uint32_t now;

#if GLANZ_DRIVES_MOST > 0
/* What inputs for sound hear: drums at 120 a minute, a tune, noise now and then, in integers alone. */
#define SOURCES 2

static struct source {
    GLANZ_SOUND_MEMORY(memory, GLANZ_BANDS_MOST, 1, 1, 1);
    struct glanz_sound *sound;
    uint32_t rate, made;
} sources[SOURCES];
static struct glanz_sound *sounds[SOURCES];

static int16_t sample_of(const struct source *source, uint32_t at, uint32_t channel) {
    uint32_t beat = source->rate / 2u;
    uint32_t since = at % beat;
    uint32_t note = glanz_hash2(at / (beat / 2u), channel) % 12u;
    int32_t fade = (int32_t)(32u * since / beat);
    int32_t sum = glanz_sine((uint16_t)((uint64_t)at * (180u + 40u * note) * 65536u / source->rate)) / 8;
    sum +=
        since >= source->rate / 8u ? 0 : glanz_sine((uint16_t)((uint64_t)since * 70u * 65536u / source->rate)) / (1 + fade) / 2;
    if ((at / (beat / 2u)) % 4u == 3u) {
        sum += ((int32_t)(glanz_hash2(at, channel) & 0x3FFFu) - 8192) / (1 + (int32_t)(64u * (at % (beat / 2u)) / beat));
    }
    return (int16_t)(at / beat % 12u == 11u ? 0 : sum); /* a rest now and then */
}

static void listen(uint32_t until_us) {
    for (uint32_t s = 0; s < SOURCES; s++) {
        int16_t samples[64];
        uint32_t due = (uint32_t)((uint64_t)until_us * sources[s].rate / 1000000u);
        while (sources[s].made < due) {
            uint32_t count = due - sources[s].made < 64u ? due - sources[s].made : 64u;
            for (uint32_t i = 0; i < count; i++) {
                samples[i] = sample_of(&sources[s], sources[s].made + i, s);
            }
            sources[s].made += count;
            (void)glanz_sound_push(sources[s].sound, samples, count, 1,
                                   (uint32_t)((uint64_t)sources[s].made * 1000000u / sources[s].rate));
        }
    }
}

static void open_sources(struct glanz_setup *setup) {
    static const struct glanz_sound_setup all = {&glanz_sound_tempo, &glanz_sound_pitch, &glanz_sound_wave, 0};
    uint32_t count = 0;
    memset(sounds, 0, sizeof sounds);
    for (uint8_t i = 0; i < SOURCES; i++) {
        sources[i].rate = 0;
        sources[i].made = 0;
    }
    for (uint8_t i = 0; i < setup->rig->input_count; i++) {
        if (setup->rig->inputs[i].kind == GLANZ_INPUT_SOUND && count < SOURCES &&
            glanz_sound_start(&sounds[count], &sources[count].memory, sizeof sources[count].memory, &all) == GLANZ_OK) {
            sources[count].sound = sounds[count];
            sources[count].rate = setup->rig->inputs[i].hearing.rate_hz;
            count++;
        }
    }
    setup->sounds = sounds;
    setup->sound_count = (uint8_t)count;
}
#endif

static uint32_t time_us(void *user) {
    (void)user;
    return now;
}

struct replayed replay(const struct scenario *scenario, void *memory, size_t size) {
    struct replayed replayed = {GLANZ_OK, 0, 0, 0};
    struct glanz_port port;
    struct glanz_setup setup;
    struct glanz_device *device = NULL;
    GLANZ_CONST struct glanz_pushed *pushed = scenario->pushed;
    memset(&port, 0, sizeof port);
    memset(&setup, 0, sizeof setup);
    port.version = 2;
    port.time_us = time_us;
    port.user = &replayed;
    port.start = start;
    port.busy = busy;
    setup.rig = scenario->rig;
    setup.show = scenario->show;
    setup.port = &port;
    /* the show's own parts, where it is written in C, and what saving needs */
    GLANZ_CONST struct glanz_parts *all = &glanz_everything;
    struct glanz_parts parts = scenario->parts == NULL ? *all : *scenario->parts;
    parts.control = all->control;
    parts.playlists = all->playlists;
    parts.hands = all->hands;
    parts.saving = all->saving;
    parts.glides = all->glides;
    setup.parts = &parts;
#if GLANZ_DRIVES_MOST > 0
    open_sources(&setup);
#endif
#if GLANZ_SAVED_MOST
    static uint64_t store_memory[(256 + 2 * 912) / 8 + GLANZ_DEVICE_RECORDS];
    memset(flash, 0xFF, sizeof flash);
    setup.effects = glanz_effects;
    replayed.status = glanz_store_start(&setup.store, store_memory, sizeof store_memory, &medium, GLANZ_DEVICE_RECORDS, 900);
    if (replayed.status != GLANZ_OK) {
        return replayed;
    }
#endif
    replayed.status = glanz_device_start(&device, memory, size, &setup, NULL);
#if GLANZ_FIELDS
    if (replayed.status == GLANZ_OK) { /* a day at noon, for what tells the time */
        replayed.status = glanz_engine_clock(glanz_device_engine(device), 20780, 43199);
    }
#endif
#if GLANZ_CALENDAR
    if (replayed.status == GLANZ_OK && scenario->show->entry_count != 0) {
        replayed.status = glanz_device_utc(device, 20780u * 86400u + 43199u);
    }
#endif
    for (uint16_t i = 0; i < scenario->frames && replayed.status == GLANZ_OK; i++) {
        now = (uint32_t)i * 10000u;
        for (; pushed != NULL && pushed->time_us <= now; pushed++) {
            glanz_device_push(device, pushed->input, pushed->value, pushed->time_us);
        }
#if GLANZ_DRIVES_MOST > 0
        if (setup.sound_count != 0) {
            listen(now);
        }
#endif
        replayed.status = glanz_device_frame(device, now);
#if GLANZ_SAVED_MOST
        if (replayed.status == GLANZ_OK && strcmp(scenario->name, "tiny") != 0) { /* the tiny build keeps nothing */
            keep(device, i, scenario->frames);
        }
#endif
    }
#if GLANZ_SAVED_MOST
    replayed.kept = glanz_crc32(0, flash, sizeof flash);
#endif
    return replayed;
}
