/* SPDX-License-Identifier: MIT */
/* A program outside the project: one strip, a second of frames, printed as the sum of its bytes. */
#include <stdio.h>

#include <glanz/glanz.h>

GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, 30);
GLANZ_ONE_LOOK(glow, pier, glanz_effect_walker);

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    uint32_t *sum = (uint32_t *)user;
    for (uint8_t i = 0; i < count; i++) {
        *sum = glanz_crc32(*sum, list[i].bytes, list[i].count);
    }
    return GLANZ_OK;
}

static int busy(void *user) {
    (void)user;
    return 0;
}

static uint32_t now;

static uint32_t time_us(void *user) {
    (void)user;
    return now;
}

int main(void) {
    static GLANZ_DEVICE_MEMORY(memory, 30 * 6, 1, 0, 1);
    uint32_t sum = 0;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    const struct glanz_port port = {2, &sum, start, busy, NULL, NULL, time_us};
    const struct glanz_setup setup = {.rig = &pier, .show = &glow, .port = &port, .parts = &glanz_everything};
    struct glanz_device *device;
    if (glanz_device_start(&device, &memory, sizeof memory, &setup, &fault) != GLANZ_OK) {
        printf("%s\n", fault.text);
        return 1;
    }
    for (; now < 1000000; now += 10000) {
        glanz_device_frame(device, now);
    }
    printf("%08x\n", (unsigned)sum);
    return 0;
}
