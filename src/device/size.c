/* SPDX-License-Identifier: MIT */
/* How much memory a device with all parts takes, for programs that ask before they start one. */
#include "whole.h"

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

size_t glanz_device_size(GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity) {
    if (glanz_rig_check(rig, NULL) != GLANZ_OK) {
        return 0;
    }
    return align8(sizeof(struct glanz_device)) + glanz_inbox_size(rig->input_count) +
           align8(glanz_control_size(&glanz_everything, rig, segment_capacity == 0 ? 1 : segment_capacity)) +
           glanz_engine_size(&glanz_everything, rig, segment_capacity == 0 ? 1 : segment_capacity, 0);
}

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
