/* SPDX-License-Identifier: MIT */
/* The tiny scenario on an ATmega328P with nothing else in its flash: no UART, no checksum. The emulator is told where the bytes
 * of each frame lie, and sums them up itself. */
#include <avr/io.h>

#include "replay.h"

extern GLANZ_CONST struct glanz_rig tiny_rig;
extern GLANZ_CONST struct glanz_show tiny_show;
extern GLANZ_CONST struct glanz_parts tiny_parts;
extern GLANZ_CONST struct glanz_pushed tiny_pushed[];

static GLANZ_DEVICE_MEMORY(memory, 72 * 6, 1, 1, 1);

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    for (uint8_t i = 0; i < count; i++) {
        GPIOR1 = (uint8_t)((uint16_t)list[i].bytes >> 8);
        GPIOR2 = (uint8_t)(uint16_t)list[i].bytes;
        GPIOR0 = 0x80; /* sum up */
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

static const struct glanz_port port = {2, NULL, start, busy, NULL, NULL, time_us};

int main(void) {
    const struct glanz_setup setup = {.rig = &tiny_rig, .show = &tiny_show, .port = &port, .parts = &tiny_parts};
    GLANZ_CONST struct glanz_pushed *pushed = tiny_pushed;
    struct glanz_device *device;
    uint8_t code = glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK;
    for (; now < 4000000u && code == 0; now += 10000u) {
        for (; pushed->time_us <= now; pushed++) {
            glanz_device_push(device, pushed->input, pushed->value, pushed->time_us);
        }
        code = glanz_device_frame(device, now) != GLANZ_OK;
    }
    GPIOR0 = 0x40u | code;
    for (;;) {
    }
}
