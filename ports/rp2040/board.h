/* SPDX-License-Identifier: MIT */
/* What the files of this board share. */
#ifndef GLANZ_RP2040_BOARD_H
#define GLANZ_RP2040_BOARD_H

#include <glanz/rp2040.h>

#include "registers.h"

/* DMA channels: 0 to 7 for one-wire lines, 8 and 9 for the SPIs, 10 and 11 for the ADC. */
#define CHANNEL_SPI 8u
#define CHANNEL_ADC 10u

void glanz_rp2040_pin(uint8_t pin, uint32_t function, uint32_t pad);

/* Interrupts: half of the samples are there; a pin has changed. */
void glanz_rp2040_samples_are_there(void);
void glanz_rp2040_edge(void);
void glanz_rp2040_bytes_are_there(void);

/* @return GLANZ_ERR_RIG with words. */
glanz_status glanz_rp2040_begin_lines(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault);
glanz_status glanz_rp2040_begin_inputs(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault);
/* Say what is wrong with a pin of a rig: "LIST/NAME/pin". */
glanz_status glanz_rp2040_wrong_pin(struct glanz_fault *fault, const char *list, const char *name, uint8_t pin,
                                    const char *expected);

#endif
