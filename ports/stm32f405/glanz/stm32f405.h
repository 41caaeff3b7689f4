/* SPDX-License-Identifier: MIT */
/** @file
 *  The STM32F405: one-wire lines by USARTs at 8N1, five slots a bit, through an inverting level shifter; two clocked lines by
 * SPI. Each is fed by DMA; GLANZ_STM32F405_BY_LOOP feeds them by a loop instead, interrupts off, which is for emulators without
 * DMA. Registers alone, no vendor's code. Wiring: ports/stm32f405/README.md. One board; everything here is for the main loop.
 */
#ifndef GLANZ_STM32F405_H
#define GLANZ_STM32F405_H

#include <glanz/device.h>

GLANZ_HEADER_BEGIN

/** The number of a pin in a rig: PA9 is GLANZ_STM32F405_PIN('A', 9), which is 9; PB10 is 26. */
#define GLANZ_STM32F405_PIN(port, number) (((port) - 'A') * 16 + (number))

/** Bytes of characters that a line needs: four for each byte of its LEDs. */
#define GLANZ_STM32F405_CHARACTERS(led_bytes) ((led_bytes)*4u)

/** Set the lines of a rig up. Data pins of one-wire lines: PA9 or PB6 (USART1), PA2 (USART2), PB10 (USART3), PC6 (USART6); of
 * clocked lines: PA7 with clock PA5 (SPI1), PB15 with clock PB13 (SPI2).
 *  @param characters room for the characters of all one-wire lines together: GLANZ_STM32F405_CHARACTERS() of what is sent in a
 * frame.
 *  @param fault says which pin or output it is; may be NULL. @return GLANZ_ERR_RIG, GLANZ_ERR_MEMORY with fault->needed. */
GLANZ_NODISCARD glanz_status glanz_stm32f405_begin(GLANZ_CONST struct glanz_rig *rig, uint8_t *characters, size_t size,
                                                   struct glanz_fault *fault);

/** The port to start a device with. */
extern const struct glanz_port glanz_stm32f405_port;

/** Microseconds since the start; wraps. Main loop only. */
uint32_t glanz_stm32f405_us(void);

/** Sleep until a time of that clock. */
void glanz_stm32f405_wait(uint32_t until_us);

GLANZ_HEADER_END
#endif
