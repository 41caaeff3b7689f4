/* SPDX-License-Identifier: MIT */
/* 08: a microphone and a strip. Introduces sound: what an interrupt pushes in becomes bands, which the strip shows; drives and
 * triggers could follow any of it. Here a file is heard, 08-microphone SOUND.wav, or ALSA; on a board a DMA calls. */
#include <glanz/linux.h>
#include <glanz/microphone.h>

GLANZ_ONE_STRIP(bench, glanz_chip_ws2812b, 60);
GLANZ_ONE_LOOK(bands, bench, glanz_effect_columns);
static const struct glanz_input input = {"microphone", GLANZ_INPUT_SOUND, .pin = 2, .hearing = {.rate_hz = 16000, .bands = 10}};
static const struct glanz_sound_setup ten_bands = {.band_capacity = 10}; /* and neither tempo nor pitch */
static GLANZ_SOUND_MEMORY(sound_memory, 10, 0, 0, 0);
static GLANZ_DEVICE_MEMORY(memory, 60 * 6 + 512, 1, 1, 1); /* 512 for what the effect remembers */
static struct glanz_sound *sound;

/* The interrupt's side: half of the DMA's buffer is full. All the work on sound is done here, 5 ms of it at a time. */
static void half_is_full(const int16_t *samples, size_t count, uint32_t now) {
    glanz_sound_push(sound, samples, count, 1, now);
}

int main(int argc, char **argv) {
    struct glanz_rig rig = bench; /* that strip, and a microphone */
    rig.inputs = &input;
    rig.input_count = 1;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_microphone *microphone = glanz_microphone_open(argc > 1 ? argv[1] : "alsa:default", 16000, &fault);
    struct glanz_board *board = glanz_board_of(&rig, &fault);
    struct glanz_setup setup = {&rig, &bands, glanz_board_port(board), &glanz_everything, .sounds = &sound, .sound_count = 1};
    struct glanz_device *device;
    if (microphone == NULL || board == NULL ||
        glanz_sound_start(&sound, &sound_memory, sizeof sound_memory, &ten_bands) != GLANZ_OK ||
        glanz_device_start(&device, &memory, sizeof memory, &setup, &fault) != GLANZ_OK)
        return glanz_complain(&fault);
    for (uint32_t now = 0; now < 10000000; now += 10000) {
        int16_t samples[160]; /* 10 ms */
        half_is_full(samples, glanz_microphone_read(microphone, samples, 160), now);
        glanz_board_follow(board, now);
        glanz_device_frame(device, now);
        glanz_board_terminal(board, stdout);
    }
}
