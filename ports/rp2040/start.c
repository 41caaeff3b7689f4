/* SPDX-License-Identifier: MIT */
/* The start: vectors, memory, the crystal and the PLLs, the timer; sleeping; the UART for a log. */
#include <stddef.h>

#include "board.h"

extern uint32_t glanz_rp2040_data_from[], glanz_rp2040_data[], glanz_rp2040_data_end[], glanz_rp2040_bss[],
    glanz_rp2040_bss_end[], glanz_rp2040_stack[];

int main(void);
void glanz_rp2040_reset(void);
static void alarm(void);

_Noreturn static void fault(void) {
    glanz_rp2040_say("hard fault");
    for (;;) {
        __asm__ volatile("wfi");
    }
}

__attribute__((section(".vectors"), used)) static const struct {
    uint32_t *stack;
    void (*handler[15])(void);
    void (*interrupt[26])(void);
} vectors = {glanz_rp2040_stack,
             {glanz_rp2040_reset, fault, fault},
             {[IRQ_TIMER0] = alarm,
              [IRQ_DMA0] = glanz_rp2040_samples_are_there,
              [IRQ_IO_BANK0] = glanz_rp2040_edge,
              [IRQ_UART0] = glanz_rp2040_bytes_are_there}};

/* 12 MHz times fbdiv, by two dividers. */
static void begin_pll(uint32_t pll, uint32_t fbdiv, uint32_t divider_1, uint32_t divider_2) {
    REGISTER(pll, PLL_PWR) = 0x2Du;
    REGISTER(pll, PLL_CS) = 1;
    REGISTER(pll, PLL_FBDIV) = fbdiv;
    CLEAR_BITS(pll, PLL_PWR) = 0x21u; /* the PLL and its oscillator */
    while ((REGISTER(pll, PLL_CS) >> 31) == 0) {
    }
    REGISTER(pll, PLL_PRIM) = divider_1 << 16 | divider_2 << 12;
    CLEAR_BITS(pll, PLL_PWR) = 0x08u; /* the dividers */
}

static void begin_clocks(void) {
    REGISTER(XOSC, XOSC_CTRL) = 0xAA0u;
    REGISTER(XOSC, XOSC_STARTUP) = 47; /* 1 ms */
    SET_BITS(XOSC, XOSC_CTRL) = 0xFABu << 12;
    while ((REGISTER(XOSC, XOSC_STATUS) >> 31) == 0) {
    }
    REGISTER(CLOCKS, CLK_REF_CTRL) = 2; /* the crystal */
    while (REGISTER(CLOCKS, CLK_REF_SELECTED) != 1u << 2) {
    }
    REGISTER(CLOCKS, CLK_SYS_CTRL) = 0; /* that, while the PLL begins */
    while (REGISTER(CLOCKS, CLK_SYS_SELECTED) != 1u) {
    }
    uint32_t needed = RESET_PLL_SYS | RESET_PLL_USB | RESET_IO_BANK0 | RESET_PADS_BANK0 | RESET_TIMER | RESET_UART0 |
                      RESET_DMA | RESET_PIO0 | RESET_PIO1 | RESET_SPI0 | RESET_SPI1 | RESET_ADC;
    CLEAR_BITS(RESETS, RESETS_RESET) = RESET_PLL_SYS | RESET_PLL_USB;
    while ((~REGISTER(RESETS, RESETS_DONE) & (RESET_PLL_SYS | RESET_PLL_USB)) != 0) {
    }
    begin_pll(PLL_SYS, 125, 6, 2); /* 1500 MHz, 125 MHz */
    begin_pll(PLL_USB, 64, 4, 4);  /* 768 MHz, 48 MHz */
    REGISTER(CLOCKS, CLK_SYS_CTRL) = 1;
    while (REGISTER(CLOCKS, CLK_SYS_SELECTED) != 1u << 1) {
    }
    REGISTER(CLOCKS, CLK_PERI_CTRL) = CLK_ENABLE;
    REGISTER(CLOCKS, CLK_ADC_DIV) = 1u << 8;
    REGISTER(CLOCKS, CLK_ADC_CTRL) = CLK_ENABLE;
    REGISTER(WATCHDOG, WATCHDOG_TICK) = 12u | 1u << 9; /* microseconds of the crystal */
    CLEAR_BITS(RESETS, RESETS_RESET) = needed;
    while ((~REGISTER(RESETS, RESETS_DONE) & needed) != 0) {
    }
}

static void begin_uart(void) {
    REGISTER(UART0, UART_IBRD) = 67; /* 125 MHz / 16 / 115200 = 67.82 */
    REGISTER(UART0, UART_FBRD) = 52;
    REGISTER(UART0, UART_LCR) = 0x70u; /* 8 bits, with the buffer */
    REGISTER(UART0, UART_CR) = 0x101u; /* on, sends */
    glanz_rp2040_pin(0, FUNCTION_UART, PAD_DRIVE_4_MA);
}

_Noreturn void glanz_rp2040_reset(void) {
    for (uint32_t *to = glanz_rp2040_data, *from = glanz_rp2040_data_from; to < glanz_rp2040_data_end;) {
        *to++ = *from++;
    }
    for (uint32_t *to = glanz_rp2040_bss; to < glanz_rp2040_bss_end;) {
        *to++ = 0;
    }
    begin_clocks();
    begin_uart();
    REGISTER(TIMER, TIMER_INTE) = 1;
    REGISTER(NVIC_ENABLE, 0) = 1u << IRQ_TIMER0;
    (void)main();
    for (;;) {
        __asm__ volatile("wfi");
    }
}

void glanz_rp2040_pin(uint8_t pin, uint32_t function, uint32_t pad) {
    REGISTER(PADS_BANK0, PAD(pin)) = pad;
    REGISTER(IO_BANK0, IO_CTRL(pin)) = function;
}

uint32_t glanz_rp2040_us(void) {
    return REGISTER(TIMER, TIMER_RAW_LOW);
}

static void alarm(void) {
    REGISTER(TIMER, TIMER_INTR) = 1;
}

void glanz_rp2040_wait(uint32_t until_us) {
    while ((int32_t)(until_us - glanz_rp2040_us()) > 2) { /* other interrupts wake it too */
        REGISTER(TIMER, TIMER_ALARM0) = until_us;
        if ((int32_t)(until_us - glanz_rp2040_us()) > 2) {
            __asm__ volatile("wfi");
        }
    }
    while ((int32_t)(until_us - glanz_rp2040_us()) > 0) {
    }
}

void glanz_rp2040_say(const char *line) {
    for (const char *at = line; line != NULL; at++) {
        while ((REGISTER(UART0, UART_FLAGS) & 1u << 5) != 0) {
        }
        REGISTER(UART0, UART_DATA) = *at == '\0' ? '\n' : (uint8_t)*at;
        if (*at == '\0') {
            return;
        }
    }
}

/* ---- what comes in ---- */

#define HEARD 4096u
static uint8_t heard[HEARD];
static volatile uint32_t heard_end;
static uint32_t heard_begin;

void glanz_rp2040_bytes_are_there(void) {
    REGISTER(UART0, UART_ICR) = 1u << 6 | 1u << 4; /* enough of them, or none for a while */
    while ((REGISTER(UART0, UART_FLAGS) & 1u << 4) == 0) {
        heard[heard_end % HEARD] = (uint8_t)REGISTER(UART0, UART_DATA);
        heard_end = heard_end + 1u;
    }
}

void glanz_rp2040_listen(uint32_t baud) {
    uint32_t parts = (CPU_HZ / 16u * 64u + baud / 2u) / baud; /* 64ths of the divider */
    REGISTER(UART0, UART_CR) = 0;
    REGISTER(UART0, UART_IBRD) = parts / 64u;
    REGISTER(UART0, UART_FBRD) = parts % 64u;
    REGISTER(UART0, UART_LCR) = 0x70u;
    REGISTER(UART0, UART_IMSC) = 1u << 6 | 1u << 4;
    REGISTER(UART0, UART_CR) = 0x301u; /* on, sends and takes */
    glanz_rp2040_pin(1, FUNCTION_UART, PAD_INPUT | PAD_SCHMITT | PAD_PULL_UP | PAD_NO_OUTPUT);
    REGISTER(NVIC_ENABLE, 0) = 1u << IRQ_UART0;
}

size_t glanz_rp2040_heard(uint8_t *bytes, size_t capacity) {
    size_t count = 0;
    uint32_t end = heard_end;
    if (end - heard_begin > HEARD) { /* too slow: the oldest are gone */
        heard_begin = end - HEARD;
    }
    while (count < capacity && heard_begin != end) {
        bytes[count++] = heard[heard_begin++ % HEARD];
    }
    return count;
}
