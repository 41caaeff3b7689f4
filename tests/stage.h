/* SPDX-License-Identifier: MIT */
/* A stage for tests: a device run from documents, whose bytes are caught as they go out. Documents are written with ' for ". */
#ifndef GLANZ_TESTS_STAGE_H
#define GLANZ_TESTS_STAGE_H

#include <glanz/device.h>
#include <glanz/document.h>

#define STAGE_BYTES 70000

struct stage {
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_show *show;
    struct glanz_device *device;
    struct glanz_port port;
    struct glanz_fault fault;
    void *rig_memory, *show_memory[2], *memory;
    size_t memory_size, show_size[2];
    int show_slot;
    uint8_t bytes[4][STAGE_BYTES]; /* of the last frame sent */
    size_t count[4];
    uint32_t hash; /* CRC-32 of all bytes sent, in order */
    unsigned sent;
    int busy, refuse; /* what the port says */
    uint32_t now_us;  /* the port's clock: of the last frame, unless a test moves it on */
    unsigned stopped;
    uint8_t record[32][GLANZ_RECORD_MOST];
    size_t record_count[32];
    int store_full;
    struct glanz_medium medium; /* records of a platform */
    struct glanz_store *store;
    uint64_t store_memory[1024];
    uint64_t values[1024]; /* what saved presets bring */
    size_t values_size;    /* bytes of it that are lent */
    unsigned saves, failed_saves;
    struct glanz_sound *sounds[2]; /* of the rig's inputs for sound */
    void *sound_memory[2];
    char happened[4096]; /* events in words, one after another */
    char logged[8192];
};

/* A port that takes everything and is never busy; its clock is what the number says. */
struct glanz_port stage_port_to_nowhere(uint32_t *now_us);
/* Open; on failure the status is returned and the stage's fault says why. Close in any case. */
glanz_status stage_open(struct stage *stage, const char *rig, const char *show);
/* The same, where it must succeed. */
void stage_must_open(struct stage *stage, const char *rig, const char *show);
/* The power goes and comes back: what the store keeps is all that is left. The stage's medium may be another by then. */
glanz_status stage_restart(struct stage *stage);
/* Do an action, written as a show's triggers have it. */
void stage_do(struct stage *stage, const char *action);
/* Forget every show but this, read anew: as at a start of the firmware. The device is to be started again then. */
void stage_close_shows(struct stage *stage, const char *show);
void stage_close(struct stage *stage);
/* One frame at a time in microseconds. */
glanz_status stage_frame(struct stage *stage, uint64_t now_us);
/* Frames from the last up to a time, so many a second. `from` and `to` in microseconds; frames at from, from + 1/rate ... */
void stage_run(struct stage *stage, uint64_t from, uint64_t to, uint32_t rate);
/* Take another show text; as glanz_device_set_show(). */
glanz_status stage_show(struct stage *stage, const char *show);
/* A byte of the last frame, by channel (0 red ... 3 white), decoded with the output's order. */
uint8_t stage_led(const struct stage *stage, uint8_t output, uint16_t led, uint8_t channel);
/* All bytes of a channel of an output added up. */
uint32_t stage_sum(const struct stage *stage, uint8_t output, uint8_t channel);
/* ' to ", into a buffer that lives until the next call but three. */
const char *quoted(const char *text);

/* One strip of WS2812B, so many LEDs, no limit. */
const char *strip_rig(unsigned leds);

#endif
