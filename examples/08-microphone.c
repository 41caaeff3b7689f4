/* SPDX-License-Identifier: MIT */
/* 08: a microphone and a strip. Introduces sound: what an interrupt pushes in becomes bands, onsets and a beat; the strip shows
 * the bands, and a trigger could wait for any of them. Here a file is heard: 08-microphone SOUND.wav; on a board a DMA calls.
 */
#include <glanz/linux.h>
#include <glanz/microphone.h>

static const struct glanz_supply supply = {.name = "bench", .millivolts = 5000, .limit_ma = 1500};
static const struct glanz_stretch leds = {.chip = &glanz_chip_ws2812b, .leds = 60};
static const struct glanz_output line = {.name = "line", .stretches = &leds, .stretch_count = 1, .pin = 1};
static const struct glanz_piece piece = {.leds = 60};
static const struct glanz_surface strip = {.name = "strip", .pieces = &piece, .piece_count = 1, .kind = GLANZ_SURFACE_STRIP};
static const struct glanz_input input = {"microphone", GLANZ_INPUT_SOUND, .pin = 2, .hearing = {.rate_hz = 16000, .bands = 10}};
static const struct glanz_rig rig = {.name = "bench",
                                     .supplies = &supply,
                                     .outputs = &line,
                                     .surfaces = &strip,
                                     .inputs = &input,
                                     .supply_count = 1,
                                     .output_count = 1,
                                     .surface_count = 1,
                                     .input_count = 1};

static const struct glanz_setting by_band = {GLANZ_COLUMNS_COLORED, .number = 1};
static const struct glanz_look bands = {"bands", &glanz_effect_columns, .settings = &by_band, .setting_count = 1};
static const struct glanz_segment all = {.name = "all", .look = &bands};
static const struct glanz_show show = {.name = "bands", .looks = &bands, .look_count = 1, .segments = &all, .segment_count = 1};
static const struct glanz_parts parts = {.control = &glanz_part_control,
                                         .limit = &glanz_part_limit,
                                         .fields = &glanz_part_fields,
                                         .signals = &glanz_part_signals,
                                         .sound = &glanz_part_sound};
static GLANZ_SOUND_MEMORY(sound_memory, 10, 0, 0, 0);
static struct glanz_sound *sound;

/* The interrupt's side: half of the DMA's buffer is full. All the work on sound is done here, 5 ms after 5 ms. */
static void half_is_full(const int16_t *samples, size_t count, uint32_t now) {
    glanz_sound_push(sound, samples, count, 1, now);
}

int main(int argc, char **argv) {
    static union {
        uint64_t align;
        uint8_t bytes[GLANZ_DEVICE_SIZE(60 * 6, 1, 1, 1) + 256]; /* and what its effect remembers */
    } memory;
    struct glanz_microphone *microphone = glanz_microphone_open(argc > 1 ? argv[1] : "alsa:default", 16000, NULL);
    struct glanz_board *board = glanz_board_open(&(struct glanz_board_setup){.hardware = &rig}, NULL);
    struct glanz_setup setup = {&rig, &show, glanz_board_port(board), &parts, .sounds = &sound, .sound_count = 1};
    struct glanz_device *device;
    if (microphone == NULL ||
        glanz_sound_start(&sound, &sound_memory, sizeof sound_memory, &(struct glanz_sound_setup){.band_capacity = 10}) !=
            GLANZ_OK ||
        glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK)
        return 1;
    for (uint32_t now = 0; now < 10000000; now += 10000) {
        int16_t samples[160];
        half_is_full(samples, glanz_microphone_read(microphone, samples, 160), now);
        glanz_board_follow(board, now);
        glanz_device_frame(device, now);
        glanz_board_terminal(board, stdout);
    }
}
