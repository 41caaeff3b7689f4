/* SPDX-License-Identifier: MIT */
/* 07: two dials and a ring. Introduces inputs that turn, drives, and what an interrupt pushes in: one dial points a light
 * round a ring of 24 LEDs, the other turns its hue. Here the loop turns both; on a board an encoder or an ADC is read. */
#include <glanz/linux.h>

enum { BEARING, HUE };
static const struct glanz_supply supply = {.name = "bench", .millivolts = 5000, .limit_ma = 800};
static const struct glanz_stretch leds = {.chip = &glanz_chip_ws2812b, .leds = 24};
static const struct glanz_output line = {.name = "line", .stretches = &leds, .stretch_count = 1, .pin = 1};
static const struct glanz_piece piece = {.leds = 24};
static const struct glanz_surface ring = {.name = "ring", .pieces = &piece, .piece_count = 1, .kind = GLANZ_SURFACE_RING};
static const struct glanz_input dials[] = {{"bearing", GLANZ_INPUT_DIAL, .pin = 2}, {"hue", GLANZ_INPUT_DIAL, .pin = 3}};
static const struct glanz_rig rig = {"wheel",
                                     100,
                                     .supplies = &supply,
                                     .outputs = &line,
                                     .surfaces = &ring,
                                     .inputs = dials,
                                     .supply_count = 1,
                                     .output_count = 1,
                                     .surface_count = 1,
                                     .input_count = 2};

static const struct glanz_drive drives[] = {
    {GLANZ_NEEDLE_BEARING, BEARING, .to = 65536, .rise_ms = 30, .fall_ms = 30},
    {GLANZ_NEEDLE_COLOR, HUE, .from = GLANZ_HSL(0, 100, 50), .to = GLANZ_HSL(360, 100, 50), .rise_ms = 60, .fall_ms = 60}};
static const struct glanz_look needle = {"needle", &glanz_effect_needle, .drives = drives, .drive_count = 2};
static const struct glanz_segment all = {.name = "all", .look = &needle};
static const struct glanz_show show = {
    .name = "dials", .looks = &needle, .look_count = 1, .segments = &all, .segment_count = 1};
static const struct glanz_parts parts = {.control = &glanz_part_control,
                                         .limit = &glanz_part_limit,
                                         .colors = &glanz_part_colors,
                                         .signals = &glanz_part_signals,
                                         .drives = &glanz_part_drives};

int main(void) {
    static GLANZ_DEVICE_MEMORY(memory, 24 * 6, 1, 2, 1);
    struct glanz_board *board = glanz_board_open(&(struct glanz_board_setup){.hardware = &rig}, NULL);
    struct glanz_setup setup = {.rig = &rig, .show = &show, .port = glanz_board_port(board), .parts = &parts};
    struct glanz_device *device;
    if (glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK)
        return 1;
    for (uint32_t now = 0; now < 10000000; now += 10000) {
        glanz_device_push(device, BEARING, (uint16_t)(now / 40), now); /* in an interrupt: the angle, and when it was read */
        glanz_device_push(device, HUE, (uint16_t)(now / 130), now);
        glanz_board_follow(board, now);
        glanz_device_frame(device, now);
        glanz_board_terminal(board, stdout);
    }
}
