/* SPDX-License-Identifier: MIT */
/* A strip with a button: a short press, two and a long one bring three presets, with crossfades; with WITH_PLAYLIST a short
 * press goes on in a playlist of them. Linked to see what that takes of the flash. */
#include "pier.h"

static GLANZ_CONST struct glanz_input key = {.name = GLANZ_TEXT("key"), .kind = GLANZ_INPUT_BUTTON, .pin = 2, .pressed_low = 1};
static GLANZ_CONST struct glanz_rig pier = {.name = GLANZ_TEXT("pier"),
                                            .supplies = &supply,
                                            .outputs = &output,
                                            .surfaces = &strip,
                                            .inputs = &key,
                                            .supply_count = 1,
                                            .output_count = 1,
                                            .surface_count = 1,
                                            .input_count = 1};

static GLANZ_CONST struct glanz_setting red[] = {{.param = GLANZ_WALKER_COLOR, .number = (int32_t)GLANZ_RGB(200, 30, 0)}};
static GLANZ_CONST struct glanz_setting amber[] = {{.param = GLANZ_WALKER_COLOR, .number = (int32_t)GLANZ_RGB(255, 140, 20)}};
static GLANZ_CONST struct glanz_setting blue[] = {{.param = GLANZ_SWELL_COLOR, .number = (int32_t)GLANZ_RGB(0, 60, 200)},
                                                  {.param = GLANZ_SWELL_BACKGROUND, .number = (int32_t)GLANZ_RGB(0, 0, 20)}};
static GLANZ_CONST struct glanz_look looks[] = {
    {GLANZ_TEXT("dot"), &glanz_effect_walker, NULL, NULL, amber, 1, 0},
    {GLANZ_TEXT("red dot"), &glanz_effect_walker, NULL, NULL, red, 1, 0},
    {GLANZ_TEXT("waves"), &glanz_effect_swell, NULL, NULL, blue, 2, 0},
};
static GLANZ_CONST struct glanz_segment segment = {.name = GLANZ_TEXT("all"), .look = &looks[0]};
static GLANZ_CONST struct glanz_part parts_of[] = {
    {.segment = 0, .aspects = GLANZ_ASPECT_LOOK, .look = &looks[0]},
    {.segment = 0, .aspects = GLANZ_ASPECT_LOOK, .look = &looks[1]},
    {.segment = 0, .aspects = GLANZ_ASPECT_LOOK, .look = &looks[2]},
};
static GLANZ_CONST struct glanz_preset presets[] = {
    {GLANZ_TEXT("one"), &parts_of[0], 1}, {GLANZ_TEXT("two"), &parts_of[1], 1}, {GLANZ_TEXT("three"), &parts_of[2], 1}};
static GLANZ_CONST struct glanz_action actions[] = {
#ifdef WITH_PLAYLIST
    {.kind = &glanz_action_next, .over_ms = GLANZ_OWN_TIME},
#else
    {.kind = &glanz_action_recall, .target = 0, .over_ms = GLANZ_OWN_TIME},
#endif
    {.kind = &glanz_action_recall, .target = 1, .over_ms = GLANZ_OWN_TIME},
    {.kind = &glanz_action_recall, .target = 2, .over_ms = GLANZ_OWN_TIME}};
static GLANZ_CONST struct glanz_trigger triggers[] = {{GLANZ_TEXT("short"), 0, GLANZ_EVENT_PRESSED_ONCE, 0, &actions[0], 1},
                                                      {GLANZ_TEXT("double"), 0, GLANZ_EVENT_PRESSED_TWICE, 0, &actions[1], 1},
                                                      {GLANZ_TEXT("long"), 0, GLANZ_EVENT_HELD, 0, &actions[2], 1}};
#ifdef WITH_PLAYLIST
static GLANZ_CONST struct glanz_item items[] = {{.preset = 0, .fade_ms = 1000, .hold_ms = 5000},
                                                {.preset = 1, .fade_ms = 1000, .hold_ms = 5000},
                                                {.preset = 2, .fade_ms = 1000, .hold_ms = 5000}};
static GLANZ_CONST struct glanz_playlist playlist = {.name = GLANZ_TEXT("round"), .items = items, .item_count = 3};
#endif
static GLANZ_CONST struct glanz_show glow = {.name = GLANZ_TEXT("glow"),
                                             .looks = looks,
                                             .segments = &segment,
                                             .presets = presets,
                                             .triggers = triggers,
#ifdef WITH_PLAYLIST
                                             .playlists = &playlist,
                                             .playlist_count = 1,
#endif
                                             .look_count = 3,
                                             .segment_count = 1,
                                             .preset_count = 3,
                                             .trigger_count = 3};
static GLANZ_CONST struct glanz_parts parts = {.control = &glanz_part_control,
#ifdef WITH_PLAYLIST
                                               .playlists = &glanz_part_playlists,
#endif
                                               .limit = &glanz_part_limit,
                                               ALSO};
static GLANZ_DEVICE_MEMORY(memory, 60 * 6, 1, 1, 1);

int board_main(void) {
    const struct glanz_setup setup = {.rig = &pier, .show = &glow, .port = &port, .parts = &parts};
    struct glanz_device *device;
    if (glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK) {
        return 1;
    }
    for (;;) {
        (void)glanz_device_push(device, 0, (uint16_t)(board_count() >> 20 & 1u), board_count());
        glanz_device_frame(device, board_count());
    }
}
