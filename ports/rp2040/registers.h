/* SPDX-License-Identifier: MIT */
/* Registers of the RP2040, as its data sheet has them: those that the board uses. */
#ifndef GLANZ_RP2040_REGISTERS_H
#define GLANZ_RP2040_REGISTERS_H

#include <stdint.h>

#define REGISTER(base, offset) (*(volatile uint32_t *)((base) + (offset)))
#define SET_BITS(base, offset) REGISTER((base) + 0x2000u, offset) /* atomic aliases, section 2.1.2 */
#define CLEAR_BITS(base, offset) REGISTER((base) + 0x3000u, offset)

/* 2.14 resets */
#define RESETS 0x4000C000u
#define RESETS_RESET 0x0u
#define RESETS_DONE 0x8u
#define RESET_ADC (1u << 0)
#define RESET_DMA (1u << 2)
#define RESET_IO_BANK0 (1u << 5)
#define RESET_PADS_BANK0 (1u << 8)
#define RESET_PIO0 (1u << 10)
#define RESET_PIO1 (1u << 11)
#define RESET_PLL_SYS (1u << 12)
#define RESET_PLL_USB (1u << 13)
#define RESET_SPI0 (1u << 16)
#define RESET_SPI1 (1u << 17)
#define RESET_TIMER (1u << 21)
#define RESET_UART0 (1u << 22)

/* 2.15 clocks, 2.16 crystal, 2.18 PLLs, 4.7 watchdog's tick */
#define CLOCKS 0x40008000u
#define CLK_REF_CTRL 0x30u
#define CLK_REF_SELECTED 0x38u
#define CLK_SYS_CTRL 0x3Cu
#define CLK_SYS_SELECTED 0x44u
#define CLK_PERI_CTRL 0x48u
#define CLK_ADC_CTRL 0x60u
#define CLK_ADC_DIV 0x64u
#define CLK_ENABLE (1u << 11)
#define XOSC 0x40024000u
#define XOSC_CTRL 0x0u
#define XOSC_STATUS 0x4u
#define XOSC_STARTUP 0xCu
#define PLL_SYS 0x40028000u
#define PLL_USB 0x4002C000u
#define PLL_CS 0x0u
#define PLL_PWR 0x4u
#define PLL_FBDIV 0x8u
#define PLL_PRIM 0xCu
#define WATCHDOG 0x40058000u
#define WATCHDOG_TICK 0x2Cu

/* 2.19 pins, 2.3.1 single-cycle input and output */
#define IO_BANK0 0x40014000u
#define IO_CTRL(pin) ((pin)*8u + 4u)
#define IO_INTR(pin) (0xF0u + (pin) / 8u * 4u)
#define IO_PROC0_INTE(pin) (0x100u + (pin) / 8u * 4u)
#define IO_PROC0_INTS(pin) (0x120u + (pin) / 8u * 4u)
#define IO_EDGE_LOW 4u
#define IO_EDGE_HIGH 8u
#define FUNCTION_SPI 1u
#define FUNCTION_UART 2u
#define FUNCTION_SIO 5u
#define FUNCTION_PIO0 6u
#define FUNCTION_PIO1 7u
#define FUNCTION_NONE 31u
#define PADS_BANK0 0x4001C000u
#define PAD(pin) (4u + (pin)*4u)
#define PAD_SCHMITT 0x02u
#define PAD_PULL_DOWN 0x04u
#define PAD_PULL_UP 0x08u
#define PAD_DRIVE_4_MA 0x10u
#define PAD_INPUT 0x40u
#define PAD_NO_OUTPUT 0x80u
#define SIO 0xD0000000u
#define SIO_GPIO_IN 0x4u

/* 4.6 timer */
#define TIMER 0x40054000u
#define TIMER_ALARM0 0x10u
#define TIMER_RAW_LOW 0x28u
#define TIMER_INTR 0x34u
#define TIMER_INTE 0x38u

/* 2.5 DMA */
#define DMA 0x50000000u
#define DMA_READ(channel) ((channel)*0x40u)
#define DMA_WRITE(channel) ((channel)*0x40u + 0x4u)
#define DMA_COUNT(channel) ((channel)*0x40u + 0x8u)
#define DMA_CTRL_TRIGGER(channel) ((channel)*0x40u + 0xCu)
#define DMA_CTRL(channel) ((channel)*0x40u + 0x10u)
#define DMA_INTE0 0x404u
#define DMA_INTS0 0x40Cu
#define DMA_TRIGGER 0x430u
#define DMA_ABORT 0x444u
#define DMA_ENABLE 1u
#define DMA_BYTES 0u
#define DMA_HALVES (1u << 2)
#define DMA_READ_ON (1u << 4)
#define DMA_WRITE_ON (1u << 5)
#define DMA_RING_WRITE(bits) ((bits) << 6 | 1u << 10) /* the address goes round in so many bits */
#define DMA_CHAIN(channel) ((channel) << 11)
#define DMA_REQUEST(number) ((number) << 15)
#define DMA_QUIET (1u << 21)
#define DMA_BUSY (1u << 24)

/* 3 PIO */
#define PIO(number) (0x50200000u + (number)*0x100000u)
#define PIO_CTRL 0x0u
#define PIO_FSTAT 0x4u
#define PIO_FDEBUG 0x8u
#define PIO_TX(machine) (0x10u + (machine)*4u)
#define PIO_PROGRAM(at) (0x48u + (at)*4u)
#define PIO_CLKDIV(machine) (0xC8u + (machine)*0x18u)
#define PIO_EXECCTRL(machine) (0xCCu + (machine)*0x18u)
#define PIO_SHIFTCTRL(machine) (0xD0u + (machine)*0x18u)
#define PIO_INSTRUCTION(machine) (0xD8u + (machine)*0x18u)
#define PIO_PINCTRL(machine) (0xDCu + (machine)*0x18u)

/* 4.4 SPI, 4.2 UART, 4.9 ADC */
#define SPI(number) (0x4003C000u + (number)*0x4000u)
#define SPI_CR0 0x0u
#define SPI_CR1 0x4u
#define SPI_DATA 0x8u
#define SPI_SR 0xCu
#define SPI_CPSR 0x10u
#define SPI_DMACR 0x24u
#define UART0 0x40034000u
#define UART_DATA 0x0u
#define UART_FLAGS 0x18u
#define UART_IBRD 0x24u
#define UART_FBRD 0x28u
#define UART_LCR 0x2Cu
#define UART_CR 0x30u
#define UART_IMSC 0x38u
#define UART_ICR 0x44u
#define ADC 0x4004C000u
#define ADC_CS 0x0u
#define ADC_FCS 0x8u
#define ADC_FIFO 0xCu
#define ADC_DIV 0x10u

/* 4.10 the flash's interface */
#define XIP_CTRL 0x14000000u
#define XIP_FLUSH 0x4u
#define SSI 0x18000000u
#define SSI_CTRLR0 0x0u
#define SSI_CTRLR1 0x4u
#define SSI_ENABLE 0x8u
#define SSI_SER 0x10u
#define SSI_BAUDR 0x14u
#define SSI_SR 0x28u
#define SSI_DATA 0x60u
#define SSI_SPI_CTRLR0 0xF4u
#define IO_QSPI 0x40018000u
#define IO_QSPI_SS_CTRL 0xCu

/* the CPU's own */
#define NVIC_ENABLE 0xE000E100u
#define NVIC_DISABLE 0xE000E180u
#define IRQ_TIMER0 0u
#define IRQ_DMA0 11u
#define IRQ_IO_BANK0 13u
#define IRQ_UART0 20u

#define CPU_HZ 125000000u
#define CYCLE_NS 8u

#endif
