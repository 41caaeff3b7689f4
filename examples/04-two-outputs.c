/* SPDX-License-Identifier: MIT */
/* Introduces two outputs and a button on a bare board, with rig and show written by hand: 24 LEDs of a rail on PB1
 * and 16 of a post on PB2, one line to the eye; each press of the button on PD2 goes on to the other of two presets. For an
 * ATmega328P; tests/avr.sh builds it. */
#include "avr.h"
#include "board.h"

static GLANZ_CONST struct glanz_supply supply = {.millivolts = 5000, .limit_ma = 600};
static GLANZ_CONST struct glanz_stretch rail_leds = {.chip = &glanz_chip_ws2812b, .leds = 24};
static GLANZ_CONST struct glanz_stretch post_leds = {.chip = &glanz_chip_ws2812b, .leds = 16};
static GLANZ_CONST struct glanz_output outputs[] = {{.stretches = &rail_leds, .stretch_count = 1, .pin = 1},
                                                    {.stretches = &post_leds, .stretch_count = 1, .pin = 2}};
/* One line over both: the rail, and then the post that is wired the other way. */
static GLANZ_CONST struct glanz_piece pieces[] = {{.output = 0, .leds = 24}, {.output = 1, .leds = 16, .reversed = 1}};
static GLANZ_CONST struct glanz_surface walk = {.pieces = pieces, .piece_count = 2, .kind = GLANZ_SURFACE_STRIP};
static GLANZ_CONST struct glanz_input button = {.kind = GLANZ_INPUT_BUTTON, .pin = 2, .pressed_low = 1};
static GLANZ_CONST struct glanz_rig rig = {.supplies = &supply,
                                           .supply_count = 1,
                                           .outputs = outputs,
                                           .output_count = 2,
                                           .surfaces = &walk,
                                           .surface_count = 1,
                                           .inputs = &button,
                                           .input_count = 1};

static GLANZ_CONST struct glanz_setting brass[] = {{GLANZ_PLAIN_COLOR, GLANZ_UNIT_NONE, (int32_t)GLANZ_RGB(0xFF, 0xA0, 0x30)}};
static GLANZ_CONST struct glanz_setting turning[] = {{GLANZ_WALKER_SIZE, GLANZ_UNIT_LEDS, GLANZ_FIXED(3)},
                                                     {GLANZ_WALKER_SPEED, GLANZ_UNIT_LEDS, GLANZ_FIXED(8)}};
static GLANZ_CONST struct glanz_look still = {.effect = &glanz_effect_plain, .settings = brass, .setting_count = 1};
static GLANZ_CONST struct glanz_look runs = {.effect = &glanz_effect_walker, .settings = turning, .setting_count = 2};
static GLANZ_CONST struct glanz_segment segment = {.look = &still};
static GLANZ_CONST struct glanz_part day = {.aspects = GLANZ_ASPECT_LOOK, .look = &still};
static GLANZ_CONST struct glanz_part night = {.aspects = GLANZ_ASPECT_LOOK, .look = &runs};
static GLANZ_CONST struct glanz_preset presets[] = {{.parts = &night, .part_count = 1}, {.parts = &day, .part_count = 1}};
static GLANZ_CONST struct glanz_item items[] = {{.preset = 0, .fade_ms = 300, .hold_ms = 1200000},
                                                {.preset = 1, .fade_ms = 300, .hold_ms = 1200000}};
static GLANZ_CONST struct glanz_playlist watch = {.items = items, .item_count = 2};
static GLANZ_CONST struct glanz_action next = {.kind = &glanz_action_next, .target = 0};
static GLANZ_CONST struct glanz_trigger pressed = {.event = GLANZ_EVENT_PRESSED, .actions = &next, .action_count = 1};
static GLANZ_CONST struct glanz_show show = {.segments = &segment,
                                             .segment_count = 1,
                                             .presets = presets,
                                             .preset_count = 2,
                                             .playlists = &watch,
                                             .playlist_count = 1,
                                             .triggers = &pressed,
                                             .trigger_count = 1};

static GLANZ_CONST struct glanz_parts parts = {
    .control = &glanz_part_control, .playlists = &glanz_part_playlists, .limit = &glanz_part_limit};
static GLANZ_DEVICE_MEMORY(memory, (24 + 16) * 6, 2, 1, 1);

int board_main(void) {
    const struct glanz_setup setup = {.rig = &rig, .show = &show, .port = &board_port, .parts = &parts};
    struct glanz_device *device;
    if (glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK) {
        return 1;
    }
    board_button(device);
    for (uint32_t next_us = board_us();; next_us += 10000) {
        while ((int32_t)(board_us() - next_us) < 0) {
        }
        glanz_device_frame(device, next_us);
    }
}
