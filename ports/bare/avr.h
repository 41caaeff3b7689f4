/* SPDX-License-Identifier: MIT */
/* What the AVR board offers beside board.h. */
#ifndef GLANZ_PORTS_BARE_AVR_H
#define GLANZ_PORTS_BARE_AVR_H

#include <glanz/device.h>

/* Sends one-wire outputs by a timed loop; the pin of an output is the bit of port B. */
extern const struct glanz_port board_port;

/* Microseconds since the start, wrapping. Interrupt-safe. */
uint32_t board_us(void);

/* Push every edge on INT0 (PD2, pulled up) into the device's first input. */
void board_button(struct glanz_device *device);

#endif
