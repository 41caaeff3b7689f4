/* SPDX-License-Identifier: MIT */
/* 01: the smallest program. Introduces: a rig of one strip, a show of one look, a device, a simulated board. C and C++. */
#include <glanz/linux.h>

GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, 60);
GLANZ_ONE_LOOK(glow, pier, glanz_effect_comet);
static GLANZ_MEMORY_FOR(memory, pier);

int main(void) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_device *device;
    struct glanz_board *board = glanz_board_of(&pier, &fault);
    struct glanz_setup setup = glanz_setup_of(&pier, &glow, glanz_board_port(board), &glanz_everything);
    if (board == NULL || glanz_device_start(&device, &memory, sizeof memory, &setup, &fault) != GLANZ_OK)
        return glanz_complain(&fault);
    for (uint32_t now = 0; now < 10000000; now += 10000) {
        glanz_board_follow(board, now);
        glanz_device_frame(device, now);
        glanz_board_terminal(board, stdout);
    }
}
