/* SPDX-License-Identifier: MIT */
/** @file
 *  The RP2040: a board with up to eight one-wire lines at once by PIO and DMA, two clocked lines by SPI and DMA, buttons and
 *  encoders by interrupt, dials, sensors and one microphone by the ADC and DMA, and a store at the flash's end. Registers
 * alone, no vendor's code. Wiring and what it takes: ports/rp2040/README.md.
 *
 *  One board, on the first core. Everything here is for the main loop.
 */
#ifndef GLANZ_RP2040_H
#define GLANZ_RP2040_H

#include <glanz/device.h>

GLANZ_HEADER_BEGIN

#define GLANZ_RP2040_LINES 8         /**< one-wire outputs at once */
#define GLANZ_RP2040_INPUTS 16       /**< inputs of a rig */
#define GLANZ_RP2040_SECTORS 16      /**< of 4,096 bytes each, at the end of 2 MB of flash */
#define GLANZ_RP2040_TICK_SAMPLES 64 /**< of each ADC pin in 4 ms: all are read 16,000 times a second */

/** Set pins and peripherals up as a rig says. Pins: of one-wire outputs any of 2 to 22; of clocked ones those of SPI0 (data 3
 * or 19, clock 2 or 18) and SPI1 (data 11 or 15, clock 10 or 14); buttons and encoders any of 2 to 22, pulled to where they
 * rest; dials, sensors and the microphone 26 to 29. Inputs of the kind "value" get nothing.
 *  @param rig lent as long as the board runs. @param fault says which pin or output it is; may be NULL.
 *  @return GLANZ_ERR_RIG. */
GLANZ_NODISCARD glanz_status glanz_rp2040_begin(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault);

/** The port to start a device with. */
extern const struct glanz_port glanz_rp2040_port;

/** The flash to start a store with: 64 KB behind the program. What programs and erases runs from RAM, interrupts off. */
extern const struct glanz_medium glanz_rp2040_flash;

/** From now on edges, angles and samples go to a device. @param sound where the microphone's samples go; NULL: nowhere. */
void glanz_rp2040_attach(struct glanz_device *device, struct glanz_sound *sound);

/** Be told of all that is pushed in, from interrupts: to record it. NULL: nobody. */
void glanz_rp2040_watch(void (*pushed)(uint8_t input, uint16_t value, uint32_t time_us));

/** Microseconds since the start; wraps. Any context. */
uint32_t glanz_rp2040_us(void);

/** Sleep until a time of that clock; at once when it has passed. */
void glanz_rp2040_wait(uint32_t until_us);

/** One line to the UART on pin 0: 115,200 baud. Waits while it is full. */
void glanz_rp2040_say(const char *line);

/** The UART on pins 0 (out) and 1 (in) at another rate, and take in what comes. @param baud up to 3,000,000. */
void glanz_rp2040_listen(uint32_t baud);

/** What came in since the last call, gathered by an interrupt: 4,096 bytes are kept. @return how many are in `bytes`. */
size_t glanz_rp2040_heard(uint8_t *bytes, size_t capacity);

GLANZ_HEADER_END
#endif
