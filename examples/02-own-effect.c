/* SPDX-License-Identifier: MIT */
/* 02: an effect of your own, examples/effects/lighthouse.c, in a program. Introduces: a look written in C that names it. The same
 * file is what "glanz play --watch" takes. */
#include <glanz/linux.h>

extern GLANZ_CONST struct glanz_effect harbour_lighthouse;

GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, 60);
GLANZ_ONE_LOOK(beam, pier, harbour_lighthouse);

int main(void) {
    static GLANZ_DEVICE_MEMORY(memory, 60 * 6, 1, 0, 1);
    struct glanz_board *board = glanz_board_open(&(struct glanz_board_setup){.hardware = &pier}, NULL);
    struct glanz_setup setup = {.rig = &pier, .show = &beam, .port = glanz_board_port(board), .parts = &glanz_everything};
    struct glanz_device *device;
    if (glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK)
        return 1;
    for (uint64_t frame = 0; frame < 10000000; frame += 10000) {
        glanz_board_follow(board, frame);
        glanz_device_frame(device, (uint32_t)frame);
        glanz_board_terminal(board, stdout);
    }
}
