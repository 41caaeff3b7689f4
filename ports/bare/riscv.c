/* SPDX-License-Identifier: MIT */
/* RV32IMC on the emulator's "virt" board: start, 16550 UART, test finisher for the end. The count is the CPU's own counter
 * of instructions retired (minstret), exact with -icount. */
#include <stddef.h>

#include "board.h"

extern uint32_t board_bss[], board_bss_end[], board_stack_end[];

#define UART ((volatile uint8_t *)0x10000000u)
#define FINISHER ((volatile uint32_t *)0x00100000u)
#define PAINT 0x5EA1E7E5u

void board_begin(void);
_Noreturn void board_run(void);

__attribute__((naked, section(".start"))) void board_begin(void) {
    __asm__ volatile(".option arch, +zicsr\n"
                     "la sp, board_stack_end\n"
                     "la t0, board_fault\n"
                     "csrw mtvec, t0\n"
                     "j board_run\n");
}

__attribute__((aligned(4), used)) _Noreturn static void board_fault(void) {
    board_text("fault\n");
    for (;;) {
        *FINISHER = (9u << 16) | 0x3333u;
    }
}

_Noreturn void board_run(void) {
    for (uint32_t *to = board_bss; to < board_bss_end;) {
        *to++ = 0;
    }
    board_stack_mark();
    uint32_t code = (uint32_t)board_main();
    for (;;) {
        *FINISHER = code == 0 ? 0x5555u : (code << 16) | 0x3333u;
    }
}

void board_put(char c) {
    while ((UART[5] & 0x20u) == 0) { /* not empty */
    }
    UART[0] = (uint8_t)c;
}

uint32_t board_count(void) {
    uint32_t count;
    __asm__ volatile(".option arch, +zicsr\n csrr %0, minstret" : "=r"(count));
    return count;
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
