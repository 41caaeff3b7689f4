/* SPDX-License-Identifier: MIT */
/* Rig, show and device: in C, so that on AVR they lie in flash. */
#include "light.h"

GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, LIGHT_LEDS);
GLANZ_ONE_LOOK(glow, pier, glanz_effect_comet);
static GLANZ_MEMORY_FOR(memory, pier);
static struct glanz_device *device;

const char *light_begin(const struct glanz_port *port) {
#ifdef __AVR__
    struct glanz_setup setup = glanz_setup_of(&pier, &glow, port, NULL);
    return glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) == GLANZ_OK ? NULL : "it does not begin";
#else
    static GLANZ_CONST struct glanz_parts parts = {.checks = &glanz_part_checks};
    static struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_setup setup = glanz_setup_of(&pier, &glow, port, &parts);
    return glanz_device_start(&device, &memory, sizeof memory, &setup, &fault) == GLANZ_OK ? NULL : fault.text;
#endif
}

void light_frame(uint32_t now_us) {
    (void)glanz_device_frame(device, now_us);
}

glanz_status light_slots(struct glanz_slots *slots) {
    return glanz_output_slots(&pier.outputs[0], 4, slots);
}
