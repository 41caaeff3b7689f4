/* SPDX-License-Identifier: MIT */
/* Real LEDs for every command of the tool: what `glanz play --serial /dev/ttyACM0@1000000` and its kin send is put on the lines
 * of the rig. Needs no engine. Wire a USB serial adapter's output to pin 1. */
#include <glanz/rp2040.h>
#include <glanz/serial.h>

#include "museum.h"

#define BAUD 1000000u

static uint8_t memory[2u * museum_frame_bytes];

int main(void) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_serial serial;
    uint8_t bytes[256];
    if (glanz_rp2040_begin(&museum_rig, &fault) != GLANZ_OK ||
        glanz_serial_begin(&serial, &museum_rig, &glanz_rp2040_port, memory, sizeof memory) != GLANZ_OK) {
        glanz_rp2040_say(fault.text);
        return 1;
    }
    glanz_rp2040_listen(BAUD);
    for (;;) {
        size_t count = glanz_rp2040_heard(bytes, sizeof bytes);
        (void)glanz_serial_take(&serial, bytes, count);
        if (count == 0) {
            glanz_rp2040_wait(glanz_rp2040_us() + 100);
        }
    }
}
