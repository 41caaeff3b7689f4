/* SPDX-License-Identifier: MIT */
#ifndef LIGHT_H
#define LIGHT_H

#include <glanz/glanz.h>
#ifdef __AVR__
#include <glanz/avr.h>
#endif

#define LIGHT_LEDS 60

GLANZ_HEADER_BEGIN
/* Begin. @return NULL, or what is wrong in words. */
const char *light_begin(const struct glanz_port *port);
void light_frame(uint32_t now_us);
/* How a bit of these LEDs is made on an SPI. */
glanz_status light_slots(struct glanz_slots *slots);
GLANZ_HEADER_END
#endif
