/* SPDX-License-Identifier: MIT */
/* The first 252 bytes of the flash, which the chip's ROM loads into RAM and runs: they let the CPU read the flash as memory, by the
 * command 03h that every serial flash has, and go on with the program behind them. uf2.py adds the checksum (data sheet, 2.8.1.3). */
    .syntax unified
    .cpu cortex-m0plus
    .thumb
    .section .boot2, "ax"
    .global glanz_rp2040_boot2
    .type glanz_rp2040_boot2, %function
    .thumb_func
glanz_rp2040_boot2:
    ldr r3, =0x18000000         /* SSI */
    movs r1, #0
    str r1, [r3, #0x08]         /* off */
    movs r1, #4
    str r1, [r3, #0x14]         /* clk_sys / 4 */
    ldr r1, =0x001F0300         /* CTRLR0: one line, 32 bits, read after a command */
    str r1, [r3, #0x00]
    movs r1, #0
    str r1, [r3, #0x04]         /* CTRLR1: one word at once */
    ldr r1, =0x03000218         /* SPI_CTRLR0: command 03h, 8 bits, then 24 of address */
    ldr r0, =0x180000F4
    str r1, [r0]
    movs r1, #1
    str r1, [r3, #0x08]         /* on */
    ldr r0, =0x10000100         /* the vectors */
    ldr r1, =0xE000ED08
    str r0, [r1]
    ldm r0, {r0, r1}
    msr msp, r0
    bx r1
    .ltorg
