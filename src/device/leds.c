/* SPDX-License-Identifier: MIT */
/* What the LEDs of a rig take of a device's memory. */
#include <glanz/device.h>

uint32_t glanz_rig_led_bytes(GLANZ_CONST struct glanz_rig *rig) {
    uint32_t bytes = 0;
    for (uint8_t o = 0; rig != NULL && o < rig->output_count; o++) {
        GLANZ_CONST struct glanz_output *output = &rig->outputs[o];
        uint8_t clocked = output->stretches[0].chip->protocol == GLANZ_CLOCKED;
        for (uint8_t i = 0; i < output->stretch_count; i++) {
            uint32_t each = output->stretches[i].chip->channels * (output->buffers == 2 ? 3u : 2u);
            bytes += output->stretches[i].leds * (clocked ? 12u : each);
        }
        bytes += clocked ? 40u : 0u;
    }
    return bytes;
}
