/* SPDX-License-Identifier: MIT */
/* Introduces a show from C structs: written by "glanz source" from the documents of the desk, no JSON in the firmware. This is
 * the tiny build, for an ATmega328P with 72 LEDs on PB1 and a button on PD2:
 *
 *   glanz source demo/tiny.rig.json demo/tiny.show.json --name shelf -o shelf.c
 *   avr-gcc -mmcu=atmega328p ... examples/03-show-in-c.c shelf.c ports/bare/avr.c ports/avr/lines.c and the core (tests/avr.sh has it all) */
#include "avr.h"
#include "board.h"

extern GLANZ_CONST struct glanz_rig shelf_rig;
extern GLANZ_CONST struct glanz_show shelf_show;
extern GLANZ_CONST struct glanz_parts shelf_parts;

static GLANZ_DEVICE_MEMORY(memory, 72 * 6, 1, 1, 1);

int board_main(void) {
    const struct glanz_setup setup = {.rig = &shelf_rig, .show = &shelf_show, .port = &board_port, .parts = &shelf_parts};
    struct glanz_device *device;
    if (glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK) {
        return 1;
    }
    board_button(device);
    for (uint32_t next = board_us();; next += 10000) { /* 100 frames a second */
        while ((int32_t)(board_us() - next) < 0) {
        }
        glanz_device_frame(device, next);
    }
}
