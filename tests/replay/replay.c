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
