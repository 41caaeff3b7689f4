/* SPDX-License-Identifier: MIT */
/* LX106 (ESP8266) with nothing but the CPU: UART 0 and the cycle counter. No emulator of it is packaged, so this is compiled
 * and linked only. A program for real hardware sits on the maker's kit, which brings start, memory layout and Wi-Fi. */
#include "board.h"

#define UART_FIFO ((volatile uint32_t *)0x60000000u)
#define UART_STATUS ((volatile uint32_t *)0x6000001Cu)

void board_put(char c) {
    while (((*UART_STATUS >> 16) & 0xFFu) > 126u) { /* full */
    }
    *UART_FIFO = (uint8_t)c;
}

uint32_t board_count(void) {
    uint32_t count;
    __asm__ volatile("rsr %0, ccount" : "=r"(count));
    return count;
}

void board_stack_mark(void) {
}

uint32_t board_stack_used(void) {
    return 0;
}

void board_begin(void);
void board_begin(void) {
    (void)board_main();
    for (;;) {
    }
}
