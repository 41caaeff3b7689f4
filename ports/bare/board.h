/* SPDX-License-Identifier: MIT */
/* What the bare boards here offer to a program, each in its own file: cortex-m.c, riscv.c, avr.c. No C library is started;
 * the linker scripts lay the memory out, the board's first instructions fill it. Made to run in emulators, and as models for
 * a board of your own: see docs/porting.md. */
#ifndef GLANZ_PORTS_BARE_BOARD_H
#define GLANZ_PORTS_BARE_BOARD_H

#include <stdint.h>

/* The program. Its return value ends the emulator: 0 is good. */
int board_main(void);

/* One character, or a text, to the board's UART. */
void board_put(char c);
void board_text(const char *text);
void board_number(uint32_t number, uint8_t base);

/* Instructions done since the start, modulo 2^32; on AVR cycles. Counted by the board's timer: exact where the emulator
 * counts instructions, see each file. */
uint32_t board_count(void);

/* The most stack that was used since the last call of board_stack_mark(), bytes. */
void board_stack_mark(void);
uint32_t board_stack_used(void);

#endif
