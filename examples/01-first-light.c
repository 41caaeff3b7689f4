/* SPDX-License-Identifier: MIT */
/* 01: the smallest program. Introduces: a rig of one strip, a show of one look, a device, a simulated board. */
#include <glanz/linux.h>

GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, 60);
GLANZ_ONE_LOOK(glow, pier, glanz_effect_comet);

int main(void) {
    static GLANZ_DEVICE_MEMORY(memory, 60 * 6, 1, 0, 1);
    struct glanz_board *board = glanz_board_open(&(struct glanz_board_setup){.hardware = &pier}, NULL);
    struct glanz_setup setup = {.rig = &pier, .show = &glow, .port = glanz_board_port(board), .parts = &glanz_everything};
    struct glanz_device *device;
    if (glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK)
        return 1;
    for (uint64_t now = 0; now < 10000000; now += 10000) {
        glanz_board_follow(board, now);
        glanz_device_frame(device, (uint32_t)now);
        glanz_board_terminal(board, stdout);
    }
}
