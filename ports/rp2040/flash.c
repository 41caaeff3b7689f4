/* SPDX-License-Identifier: MIT */
/* The store's flash: 64 KB at its end, by the commands that every serial NOR flash has (06h, 02h, 20h, 05h). While they run the
 * flash cannot be read as memory: they, and all that they call, lie in RAM, and interrupts wait. */
#include "board.h"

#define FLASH_MEMORY 0x10000000u
#define STORE_AT (2u * 1024u * 1024u - GLANZ_RP2040_SECTORS * 4096u)
#define IN_RAM __attribute__((section(".ram_code"), noinline, long_call))
#define INLINE static inline __attribute__((always_inline))
#define PIECE 64u

/* The interface as a plain SPI of bytes, and back as boot2.S has it; what was cached is forgotten. */
INLINE void leave_memory(void) {
    REGISTER(SSI, SSI_ENABLE) = 0;
    REGISTER(SSI, SSI_CTRLR0) = 7u << 16; /* 8 bits, both ways */
    REGISTER(SSI, SSI_CTRLR1) = 0;
    REGISTER(SSI, SSI_SER) = 1;
    REGISTER(SSI, SSI_ENABLE) = 1;
}

INLINE void enter_memory(void) {
    REGISTER(SSI, SSI_ENABLE) = 0;
    REGISTER(SSI, SSI_CTRLR0) = 0x001F0300u;
    REGISTER(SSI, SSI_CTRLR1) = 0;
    REGISTER(SSI, SSI_SPI_CTRLR0) = 0x03000218u;
    REGISTER(SSI, SSI_ENABLE) = 1;
    REGISTER(IO_QSPI, IO_QSPI_SS_CTRL) = 0;
    REGISTER(XIP_CTRL, XIP_FLUSH) = 1;
    (void)REGISTER(XIP_CTRL, XIP_FLUSH); /* reads at its end */
}

INLINE void select(int is) {
    REGISTER(IO_QSPI, IO_QSPI_SS_CTRL) = is ? 2u << 8 : 3u << 8;
}

/* One byte out, one in. */
INLINE uint32_t exchange(uint32_t byte) {
    REGISTER(SSI, SSI_DATA) = byte;
    while ((REGISTER(SSI, SSI_SR) & 8u) == 0) {
    }
    return REGISTER(SSI, SSI_DATA);
}

INLINE void command(uint32_t code, uint32_t at) {
    select(1);
    exchange(0x06); /* write enable */
    select(0);
    select(1);
    exchange(code);
    exchange(at >> 16 & 255u);
    exchange(at >> 8 & 255u);
    exchange(at & 255u);
}

INLINE void finish(void) {
    uint32_t state;
    select(0);
    do {
        select(1);
        exchange(0x05);
        state = exchange(0);
        select(0);
    } while ((state & 1u) != 0);
}

IN_RAM static void program_now(uint32_t at, const uint8_t *bytes, uint32_t count) {
    leave_memory();
    command(0x02, at);
    for (const volatile uint8_t *byte = bytes; byte < bytes + count; byte++) {
        exchange(*byte);
    }
    finish();
    enter_memory();
}

IN_RAM static void erase_now(uint32_t at) {
    leave_memory();
    command(0x20, at);
    finish();
    enter_memory();
}

static glanz_status read_flash(void *user, uint32_t at, uint8_t *bytes, size_t count) {
    (void)user;
    const volatile uint8_t *from = (const volatile uint8_t *)(uintptr_t)(FLASH_MEMORY + STORE_AT + at);
    for (size_t i = 0; i < count; i++) {
        bytes[i] = from[i];
    }
    return GLANZ_OK;
}

static glanz_status program_flash(void *user, uint32_t at, const uint8_t *bytes, size_t count) {
    (void)user;
    uint8_t copy[PIECE]; /* it may come from the flash itself */
    while (count > 0) {
        uint32_t piece = 256u - (at & 255u); /* no page's end is crossed */
        piece = piece > PIECE ? PIECE : piece;
        piece = piece > count ? (uint32_t)count : piece;
        for (uint32_t i = 0; i < piece; i++) {
            copy[i] = bytes[i];
        }
        __asm__ volatile("cpsid i" ::: "memory");
        program_now(STORE_AT + at, copy, piece);
        __asm__ volatile("cpsie i" ::: "memory");
        at += piece;
        bytes += piece;
        count -= piece;
    }
    return GLANZ_OK;
}

static glanz_status erase_flash(void *user, uint32_t sector) {
    (void)user;
    __asm__ volatile("cpsid i" ::: "memory");
    erase_now(STORE_AT + sector * 4096u);
    __asm__ volatile("cpsie i" ::: "memory");
    return GLANZ_OK;
}

const struct glanz_medium glanz_rp2040_flash = {.version = 1,
                                                .sector_bytes = 4096,
                                                .sectors = GLANZ_RP2040_SECTORS,
                                                .unit = 1,
                                                .program_us = 700, /* 64 bytes of a page, and what the bus takes */
                                                .erase_us = 60000,
                                                .read = read_flash,
                                                .program = program_flash,
                                                .erase = erase_flash};
