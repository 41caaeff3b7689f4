/* SPDX-License-Identifier: MIT */
/* 02: an effect of your own, examples/effects/lighthouse.c, in a program. Introduces: a look written in C that names it. The
 * same file is what "glanz play --watch" takes. */
#include <glanz/linux.h>

extern GLANZ_CONST struct glanz_effect harbour_lighthouse;

GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, 60);
GLANZ_ONE_LOOK(beam, pier, harbour_lighthouse);
static GLANZ_MEMORY_FOR(memory, pier);

int main(void) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_device *device;
    struct glanz_board *board = glanz_board_of(&pier, &fault);
    struct glanz_setup setup = glanz_setup_of(&pier, &beam, glanz_board_port(board), &glanz_everything);
    if (board == NULL || glanz_device_start(&device, &memory, sizeof memory, &setup, &fault) != GLANZ_OK)
        return glanz_complain(&fault);
    for (uint32_t now = 0; now < 10000000; now += 10000) {
        glanz_board_follow(board, now);
        glanz_device_frame(device, now);
        glanz_board_terminal(board, stdout);
    }
}
