/* SPDX-License-Identifier: MIT */
/* Cortex-M0+ and M4 on an MPS2 board (ARM AN385, AN386): vectors, start, UART0, timer 0, semihosting for the end.
 * The timer runs at 25 MHz. With the emulator's counter at 64 ns an instruction (-icount shift=6) it counts 8 ticks for
 * every 5 instructions, so that each instruction is seen. */
#include <stddef.h>

#include "board.h"

extern uint32_t board_data_from[], board_data[], board_data_end[], board_bss[], board_bss_end[], board_stack_end[];

struct uart { /* CMSDK APB UART */
    volatile uint32_t data, state, control, interrupt, divider;
};
struct timer { /* CMSDK APB timer: counts down */
    volatile uint32_t control, value, reload, interrupt;
};
#define UART ((struct uart *)0x40004000u)
#define TIMER ((struct timer *)0x40000000u)
#define PAINT 0x5EA1E7E5u

void board_reset(void);
_Noreturn static void stop(int code);

_Noreturn static void fault(void) {
    board_text("fault\n");
    stop(9);
}

__attribute__((section(".vectors"), used)) static const struct {
    uint32_t *stack;
    void (*handler[15])(void);
} vectors = {board_stack_end, {board_reset, fault, fault}};

/* Semihosting: exit with a code (SYS_EXIT_EXTENDED, ADP_Stopped_ApplicationExit). */
_Noreturn static void stop(int code) {
    uint32_t block[2] = {0x20026u, (uint32_t)code};
    register uint32_t operation __asm__("r0") = 0x20u;
    register uint32_t *parameter __asm__("r1") = block;
    for (;;) {
        __asm__ volatile("bkpt 0xab" : : "r"(operation), "r"(parameter) : "memory");
    }
}

_Noreturn void board_reset(void) {
    for (uint32_t *to = board_data, *from = board_data_from; to < board_data_end;) {
        *to++ = *from++;
    }
    for (uint32_t *to = board_bss; to < board_bss_end;) {
        *to++ = 0;
    }
    UART->divider = 16;
    UART->control = 1;
    TIMER->reload = 0xFFFFFFFFu;
    TIMER->value = 0xFFFFFFFFu;
    TIMER->control = 1;
    board_stack_mark();
    stop(board_main());
}

void board_put(char c) {
    while ((UART->state & 1u) != 0) { /* full */
    }
    UART->data = (uint8_t)c;
}

uint32_t board_count(void) {
    uint32_t ticks = 0xFFFFFFFFu - TIMER->value;
    return ticks / 8u * 5u + ticks % 8u * 5u / 8u;
}

/* Everything below the caller's stack is painted; what is not paint any more was used. */
__attribute__((noinline)) void board_stack_mark(void) {
    volatile uint32_t here = (uint32_t)(uintptr_t)&here - 32u;
    for (volatile uint32_t *at = board_bss_end; (uint32_t)(uintptr_t)at < here; at++) {
        *at = PAINT;
    }
}

uint32_t board_stack_used(void) {
    const uint32_t *at = board_bss_end;
    while (*at == PAINT) {
        at++;
    }
    return (uint32_t)((const uint8_t *)board_stack_end - (const uint8_t *)at);
}
