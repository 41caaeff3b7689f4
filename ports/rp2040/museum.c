/* SPDX-License-Identifier: MIT */
/* The harbour museum on an RP2040: rig and show of demo/, written as C by "glanz source". Buttons, dial and microphone are
 * live, presets are kept in flash. Forty frames a second: the tide board's 400 LEDs take 12 ms of each on the wire. */
#include <glanz/rp2040.h>

#include "museum.h"

#ifndef FRAME_US
#define FRAME_US 13334u /* what the museum's rig asks for: 75 frames a second */
#endif
#define IDLE_US 250u      /* between looks whether a waiting frame can go out */
#ifndef FRAMES
#define FRAMES UINT32_MAX /* two years */
#endif
#define FIRST_US 1000000u /* frames count from here, whatever the start took */
#define VALUES_BYTES 8192

static GLANZ_MEMORY_FOR(memory, museum);
static GLANZ_SOUND_MEMORY(sound_memory, 12, 1, 1, 1);
static uint64_t store_memory[1024];
static uint64_t values[VALUES_BYTES / 8];

/* ---- what came in, told when there is time ---- */

static struct {
    uint32_t time_us;
    uint16_t value;
    uint8_t input;
} pushed[64];
static volatile uint8_t pushed_end;
static uint8_t pushed_begin;

static void note(uint8_t input, uint16_t value, uint32_t time_us) {
    uint8_t at = pushed_end;
    pushed[at & 63u].time_us = time_us;
    pushed[at & 63u].value = value;
    pushed[at & 63u].input = input;
    pushed_end = (uint8_t)(at + 1u);
}

static char *put_number(char *to, uint32_t number) {
    char digits[10];
    uint8_t count = 0;
    do {
        digits[count++] = (char)('0' + number % 10u);
        number /= 10u;
    } while (number != 0);
    while (count > 0) {
        *to++ = digits[--count];
    }
    *to++ = ' ';
    *to = '\0';
    return to;
}

static void say_numbers(const char *what, const uint32_t *numbers, uint8_t count) {
    char line[96];
    char *at = line;
    while (*what != '\0') {
        *at++ = *what++;
    }
    for (uint8_t i = 0; i < count; i++) {
        at = put_number(at, numbers[i]);
    }
    glanz_rp2040_say(line);
}

static void say_pushed(void) {
    while (pushed_begin != pushed_end) {
        const uint32_t numbers[] = {pushed[pushed_begin & 63u].input, pushed[pushed_begin & 63u].value,
                                    pushed[pushed_begin & 63u].time_us};
        say_numbers("pushed ", numbers, 3);
        pushed_begin++;
    }
}

/* ---- what happens ---- */

static void listen(const struct glanz_happening *happening, void *user) {
    (void)user;
    if (happening->description == GLANZ_HAPPENED_SAVED) {
        glanz_rp2040_say("saved");
    }
}

static int fail(const struct glanz_fault *fault) {
    glanz_rp2040_say(fault->where);
    glanz_rp2040_say(fault->text);
    return 1;
}

int main(void) {
    static struct glanz_fault fault = GLANZ_FAULT_INIT;
    static const struct glanz_sound_setup hears = {&glanz_sound_tempo, &glanz_sound_pitch, &glanz_sound_wave, 12};
    struct glanz_sound *sound;
    struct glanz_device *device;
    struct glanz_setup setup = glanz_setup_of(&museum_rig, &museum_show, &glanz_rp2040_port, &glanz_everything);
    setup.effects = glanz_effects;
    setup.values = values;
    setup.values_size = sizeof values;
    for (uint8_t i = 0; i < museum_rig.input_count; i++) {
        if (museum_rig.inputs[i].kind == GLANZ_INPUT_SOUND) {
            setup.sounds = &sound;
            setup.sound_count = 1;
        }
    }
    if (glanz_rp2040_begin(&museum_rig, &fault) != GLANZ_OK) {
        return fail(&fault);
    }
    if (glanz_store_start(&setup.store, store_memory, sizeof store_memory, &glanz_rp2040_flash, GLANZ_DEVICE_RECORDS,
                          GLANZ_RECORD_MOST) != GLANZ_OK) {
        (void)glanz_store_explain(&glanz_rp2040_flash, store_memory, sizeof store_memory, GLANZ_DEVICE_RECORDS,
                                  GLANZ_RECORD_MOST, &fault);
        return fail(&fault);
    }
    if (glanz_sound_start(&sound, &sound_memory, sizeof sound_memory, &hears) != GLANZ_OK ||
        glanz_device_start(&device, &memory, sizeof memory, &setup, &fault) != GLANZ_OK) {
        return fail(&fault);
    }
    glanz_device_listen(device, listen, NULL);
    char name[GLANZ_NAME_MOST + 1];
    for (uint8_t i = 0; glanz_device_saved(device, i, name) == GLANZ_OK; i++) {
        glanz_rp2040_say(name);
    }
    glanz_rp2040_watch(note);
    glanz_rp2040_attach(device, sound);
    uint32_t busiest = 0;
    for (uint32_t frame = 0; frame < FRAMES; frame++) {
        uint32_t now = FIRST_US + frame * FRAME_US;
        glanz_rp2040_wait(now);
        (void)glanz_device_frame(device, now);
        uint32_t took = glanz_rp2040_us() - now;
        busiest = took > busiest ? took : busiest;
        say_pushed();
        if (frame % 40u == 39u) {
            struct glanz_counts counts = glanz_device_counts(device);
            const uint32_t numbers[] = {counts.frames, counts.sent, counts.busy, counts.failed + counts.stuck,
                                        counts.saved,  busiest};
            say_numbers("frames sent busy failed saved longest: ", numbers, 6);
            busiest = 0;
        }
        for (uint32_t spent; (spent = glanz_rp2040_us() - now) < FRAME_US;) {
            glanz_device_idle(device, FRAME_US - spent);
            spent = glanz_rp2040_us() - now + IDLE_US;
            glanz_rp2040_wait(now + (spent < FRAME_US ? spent : FRAME_US));
        }
    }
}
