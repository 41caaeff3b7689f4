/* SPDX-License-Identifier: MIT */
/* The smallest useful program: one strip, one look, a port that does nothing. Linked to see what that takes of the flash. */
#include <glanz/device.h>

#include "board.h"

GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, 60);
GLANZ_ONE_LOOK(glow, pier, glanz_effect_walker);
static GLANZ_DEVICE_MEMORY(memory, 60 * 6, 1, 0, 1);

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    board_put((char)list[0].bytes[count]);
    return GLANZ_OK;
}

static int busy(void *user) {
    (void)user;
    return 0;
}

static uint32_t time_us(void *user) {
    (void)user;
    return board_count();
}

static const struct glanz_port port = {2, NULL, start, busy, NULL, NULL, time_us};

int board_main(void) {
    const struct glanz_setup setup = {.rig = &pier, .show = &glow, .port = &port};
    struct glanz_device *device;
    if (glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK) {
        return 1;
    }
    for (;;) {
        glanz_device_frame(device, board_count());
    }
}
