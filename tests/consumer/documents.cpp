// SPDX-License-Identifier: MIT
// A program in C++ of a rig and a show that were written as C: a second of frames.
#include <glanz/linux.h>

#include "museum.h"

static GLANZ_MEMORY_FOR(memory, museum);
static GLANZ_SOUND_MEMORY(sound_memory, 12, 1, 1, 1);

int main() {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_sound_setup listens = {};
    struct glanz_sound *sound = nullptr;
    struct glanz_device *device = nullptr;
    listens.band_capacity = 12;
    listens.tempo = &glanz_sound_tempo;
    listens.pitch = &glanz_sound_pitch;
    listens.wave = &glanz_sound_wave;
    struct glanz_board *board = glanz_board_of(&museum_rig, &fault);
    struct glanz_setup setup = glanz_setup_of(&museum_rig, &museum_show, glanz_board_port(board), &museum_parts);
    setup.sounds = &sound;
    setup.sound_count = 1;
    if (board == nullptr || glanz_sound_start(&sound, &sound_memory, sizeof sound_memory, &listens) != GLANZ_OK ||
        glanz_device_start(&device, &memory, sizeof memory, &setup, &fault) != GLANZ_OK)
        return glanz_complain(&fault);
    for (uint32_t now = 0; now < 1000000; now += 10000) {
        glanz_board_time(board, now);
        if (glanz_device_frame(device, now) != GLANZ_OK)
            return 1;
    }
    glanz_board_finish(board);
    struct glanz_counts counts = glanz_device_counts(device);
    printf("%u frames, %u sent\n", static_cast<unsigned>(counts.frames), static_cast<unsigned>(counts.sent));
    glanz_board_close(board);
    return counts.sent == 0;
}
