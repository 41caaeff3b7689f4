/* SPDX-License-Identifier: MIT */
/* The smallest useful program: one strip with a limit, one look, a port that does nothing. Linked to see what that takes of the
 * flash. */
#include "pier.h"

static GLANZ_CONST struct glanz_rig pier = {.name = GLANZ_TEXT("pier"),
                                            .supplies = &supply,
                                            .outputs = &output,
                                            .surfaces = &strip,
                                            .supply_count = 1,
                                            .output_count = 1,
                                            .surface_count = 1};
static GLANZ_CONST struct glanz_parts parts = {.limit = &glanz_part_limit, ALSO};
static GLANZ_CONST struct glanz_setting red[] = {{.param = GLANZ_WALKER_COLOR, .number = (int32_t)GLANZ_RGB(200, 30, 0)},
                                                 {.param = GLANZ_WALKER_BACKGROUND, .number = (int32_t)GLANZ_RGB(0, 0, 0)}};
static GLANZ_CONST struct glanz_look dot = {GLANZ_TEXT("dot"), &glanz_effect_walker, NULL, NULL, red, 2, 0};
static GLANZ_CONST struct glanz_segment all = {.name = GLANZ_TEXT("all"), .look = &dot};
static GLANZ_CONST struct glanz_show glow = {
    .name = GLANZ_TEXT("glow"), .looks = &dot, .segments = &all, .look_count = 1, .segment_count = 1};
static GLANZ_DEVICE_MEMORY(memory, 60 * 6, 1, 0, 1);

int board_main(void) {
    const struct glanz_setup setup = {.rig = &pier, .show = &glow, .port = &port, .parts = &parts, .fading = GLANZ_NO_FADING};
    struct glanz_device *device;
    if (glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK) {
        return 1;
    }
    for (;;) {
        glanz_device_frame(device, board_count());
    }
}
