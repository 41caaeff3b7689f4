/* SPDX-License-Identifier: MIT */
/** @file
 *  ATmega at 16 MHz: one-wire lines on port B by a timed loop. The pin of an output in the rig is the bit of port B: on boards that
 *  number pins, 0 is pin 8 of an ATmega328P.
 */
#ifndef GLANZ_AVR_H
#define GLANZ_AVR_H

#include <glanz/device.h>

GLANZ_HEADER_BEGIN

/** Send all outputs of a list, one after another, with interrupts off: 30 us a LED. What comes meanwhile waits. The line rests for
 *  300 us afterwards, which the port's busy() must count. For a port's start(). */
void glanz_avr_send(const struct glanz_sending *list, uint8_t count);

GLANZ_HEADER_END
#endif
