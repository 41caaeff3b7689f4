/* SPDX-License-Identifier: MIT */
/* The STM32F405: start, clock, and the lines. Register numbers are those of the reference manual RM0090. */
#include <glanz/stm32f405.h>

#define REGISTER(base, offset) (*(volatile uint32_t *)((base) + (offset)))
#define RCC 0x40023800u
#define FLASH_ACR 0x40023C00u
#define PWR_CR 0x40007000u
#define GPIO(port) (0x40020000u + (port)*0x400u)
#define SYSTICK 0xE000E010u
#ifndef GLANZ_STM32F405_CRYSTAL_MHZ
#define GLANZ_STM32F405_CRYSTAL_MHZ 8
#endif
#define CPU_MHZ 168u
#define SLOTS 5u /* a bit: 8N1 has ten slots a character, two bits */

extern uint32_t glanz_stm32f405_data_from[], glanz_stm32f405_data[], glanz_stm32f405_data_end[], glanz_stm32f405_bss[],
    glanz_stm32f405_bss_end[], glanz_stm32f405_stack[];
int main(void);
void glanz_stm32f405_reset(void);
static void tick(void);

_Noreturn static void fault_handler(void) {
    for (;;) {
        __asm__ volatile("wfi");
    }
}

__attribute__((section(".vectors"), used)) static const struct {
    uint32_t *stack;
    void (*handler[15])(void);
} vectors = {glanz_stm32f405_stack,
             {glanz_stm32f405_reset, fault_handler, fault_handler, fault_handler, fault_handler, fault_handler, [14] = tick}};

/* ---- clock and time ---- */

static volatile uint32_t milliseconds;

static void tick(void) {
    milliseconds++;
}

uint32_t glanz_stm32f405_us(void) {
    for (;;) { /* until no millisecond ended between the two */
        uint32_t before = milliseconds;
        uint32_t left = REGISTER(SYSTICK, 8);
        if (before == milliseconds) {
            return before * 1000u + (CPU_MHZ * 1000u - 1u - left) / CPU_MHZ;
        }
    }
}

void glanz_stm32f405_wait(uint32_t until_us) {
    while ((int32_t)(until_us - glanz_stm32f405_us()) > 0) {
        if ((int32_t)(until_us - glanz_stm32f405_us()) > 1000) {
            __asm__ volatile("wfi");
        }
    }
}

static void begin_clock(void) {
    REGISTER(RCC, 0x40) |= 1u << 28; /* power control */
    REGISTER(PWR_CR, 0) |= 1u << 14; /* full speed */
    REGISTER(FLASH_ACR, 0) = 0x705u; /* 5 wait states, caches, prefetch */
    REGISTER(RCC, 0x00) |= 1u << 16; /* the crystal */
#ifndef GLANZ_STM32F405_BY_LOOP      /* an emulator without a clock tree never says that it runs */
    while ((REGISTER(RCC, 0x00) & 1u << 17) == 0) {
    }
#endif
    /* 1 MHz in, times 336, by 2; 7 for USB */
    REGISTER(RCC, 0x04) = GLANZ_STM32F405_CRYSTAL_MHZ | 336u << 6 | 1u << 22 | 7u << 24;
    REGISTER(RCC, 0x00) |= 1u << 24;
#ifndef GLANZ_STM32F405_BY_LOOP
    while ((REGISTER(RCC, 0x00) & 1u << 25) == 0) {
    }
#endif
    REGISTER(RCC, 0x08) = 2u | 5u << 10 | 4u << 13;      /* 168 MHz; APB1 42, APB2 84 */
    REGISTER(RCC, 0x30) |= 7u | 3u << 21;                /* ports A to C, both DMAs */
    REGISTER(RCC, 0x40) |= 3u << 17 | 1u << 14;          /* USART2, USART3, SPI2 */
    REGISTER(RCC, 0x44) |= 1u << 4 | 1u << 5 | 1u << 12; /* USART1, USART6, SPI1 */
    REGISTER(SYSTICK, 4) = CPU_MHZ * 1000u - 1u;
    REGISTER(SYSTICK, 8) = 0;
    REGISTER(SYSTICK, 0) = 7;
}

_Noreturn void glanz_stm32f405_reset(void) {
    for (uint32_t *to = glanz_stm32f405_data, *from = glanz_stm32f405_data_from; to < glanz_stm32f405_data_end;) {
        *to++ = *from++;
    }
    for (uint32_t *to = glanz_stm32f405_bss; to < glanz_stm32f405_bss_end;) {
        *to++ = 0;
    }
    begin_clock();
    (void)main();
    for (;;) {
        __asm__ volatile("wfi");
    }
}

/* ---- lines ---- */

/* Where a line can be: its pins, its peripheral, the DMA stream and channel that feed it (RM0090, tables 42 and 43). */
struct place {
    uint8_t pin, clock_pin, alternate;
    uint8_t clocked;
    uint8_t mhz; /* of its bus */
    uint8_t stream, channel;
    uint32_t peripheral, dma;
};
static const struct place places[] = {
    {GLANZ_STM32F405_PIN('A', 9), 0, 7, 0, 84, 7, 4, 0x40011000u, 0x40026400u},                             /* USART1 */
    {GLANZ_STM32F405_PIN('B', 6), 0, 7, 0, 84, 7, 4, 0x40011000u, 0x40026400u},                             /* the same */
    {GLANZ_STM32F405_PIN('A', 2), 0, 7, 0, 42, 6, 4, 0x40004400u, 0x40026000u},                             /* USART2 */
    {GLANZ_STM32F405_PIN('B', 10), 0, 7, 0, 42, 3, 4, 0x40004800u, 0x40026000u},                            /* USART3 */
    {GLANZ_STM32F405_PIN('C', 6), 0, 8, 0, 84, 6, 5, 0x40011400u, 0x40026400u},                             /* USART6 */
    {GLANZ_STM32F405_PIN('A', 7), GLANZ_STM32F405_PIN('A', 5), 5, 1, 84, 3, 3, 0x40013000u, 0x40026400u},   /* SPI1 */
    {GLANZ_STM32F405_PIN('B', 15), GLANZ_STM32F405_PIN('B', 13), 5, 1, 42, 4, 0, 0x40003800u, 0x40026000u}, /* SPI2 */
};
#define PLACES (sizeof places / sizeof places[0])

struct line {
    const struct place *place;
    struct glanz_slots slots;
    uint8_t *characters;
    size_t count; /* of this frame */
    const uint8_t *bytes;
};

static GLANZ_CONST struct glanz_rig *the_rig;
static struct line lines[GLANZ_OUTPUTS_MOST];
static uint32_t sending; /* lines of this frame */
static struct glanz_sending_timer timer;

static glanz_status wrong_output(struct glanz_fault *fault, GLANZ_CONST struct glanz_output *output, const char *expected) {
    glanz_fault_begin(fault);
    glanz_fault_at(fault, "outputs");
    glanz_fault_at(fault, output->name);
    glanz_fault_at(fault, "pin");
    glanz_fault_add(fault, "pin ");
    glanz_fault_number(fault, output->pin);
    glanz_fault_add(fault, "; expected ");
    glanz_fault_add(fault, expected);
    return GLANZ_ERR_RIG;
}

static void begin_pin(uint8_t pin, uint8_t alternate) {
    uint32_t port = GPIO((uint32_t)pin / 16u);
    uint32_t number = pin % 16u;
    uint32_t half = 0x20u + number / 8u * 4u;
    REGISTER(port, half) = (REGISTER(port, half) & ~(15u << number % 8u * 4u)) | (uint32_t)alternate << number % 8u * 4u;
    REGISTER(port, 0x08) |= 2u << number * 2u; /* fast */
    REGISTER(port, 0x00) = (REGISTER(port, 0x00) & ~(3u << number * 2u)) | 2u << number * 2u;
}

/* Dividers are of sixteenths; with eight samples a slot the last bit has no place. The nearest below and above are tried. */
static int begin_usart(struct line *line, GLANZ_CONST struct glanz_output *output) {
    if (glanz_output_slots(output, SLOTS, &line->slots) != GLANZ_OK) {
        return 0;
    }
    uint32_t divider =
        (line->slots.slot_ns * line->place->mhz + 500u) / 1000u; /* cycles of the bus a slot, with eight samples */
    uint32_t usart = line->place->peripheral;
    REGISTER(usart, 0x0C) = 0;
    REGISTER(usart, 0x08) = divider / 8u << 4 | divider % 8u;
    REGISTER(usart, 0x14) = 1u << 7;                       /* DMA */
    REGISTER(usart, 0x0C) = 1u << 15 | 1u << 13 | 1u << 3; /* eight samples, on, sends */
    return 1;
}

static void begin_spi(const struct line *line, GLANZ_CONST struct glanz_output *output) {
    uint32_t spi = line->place->peripheral;
    uint32_t power = 0; /* the bus by 2, 4, 8 .. 256: never faster than the chip may */
    while (power < 7u && (2000u << power) / line->place->mhz < 2u * output->stretches[0].chip->zero_high_ns) {
        power++;
    }
    REGISTER(spi, 0x04) = 2;                                                  /* DMA */
    REGISTER(spi, 0x00) = 1u << 9 | 1u << 8 | power << 3 | 1u << 6 | 1u << 2; /* no select, on, master */
}

static const struct place *place_of(GLANZ_CONST struct glanz_output *output, uint8_t clocked) {
    for (uint32_t i = 0; i < PLACES; i++) {
        if (places[i].pin == output->pin && places[i].clocked == clocked &&
            (!clocked || places[i].clock_pin == output->clock_pin)) {
            return &places[i];
        }
    }
    return NULL;
}

glanz_status glanz_stm32f405_begin(GLANZ_CONST struct glanz_rig *rig, uint8_t *characters, size_t size,
                                   struct glanz_fault *fault) {
    size_t used = 0;
    the_rig = rig;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        GLANZ_CONST struct glanz_output *output = &rig->outputs[o];
        struct line *line = &lines[o];
        uint8_t clocked = output->stretches[0].chip->protocol == GLANZ_CLOCKED;
        line->place = place_of(output, clocked);
        for (uint8_t i = 0; line->place != NULL && i < o; i++) {
            line->place = lines[i].place->peripheral == line->place->peripheral ? NULL : line->place;
        }
        if (line->place == NULL) {
            return wrong_output(fault, output,
                                clocked ? "PA7 (7) with clock PA5 (5), or PB15 (31) with PB13 (29), each once"
                                        : "PA9 (9) or PB6 (22), PA2 (2), PB10 (26), PC6 (38), each USART once");
        }
        begin_pin(output->pin, line->place->alternate);
        if (clocked) {
            begin_pin(output->clock_pin, line->place->alternate);
            begin_spi(line, output);
            continue;
        }
        if (!begin_usart(line, output)) {
            return wrong_output(fault, output, "chips whose times five slots a bit can keep: see \"glanz list chips\"");
        }
        line->characters = characters + used;
        used += GLANZ_STM32F405_CHARACTERS(glanz_output_bytes(output));
        if (used > size || characters == NULL) {
            return glanz_fault_memory(fault, "the characters of the lines", used, size);
        }
    }
    return GLANZ_OK;
}

#ifndef GLANZ_STM32F405_BY_LOOP
static uint32_t flag_shift(uint32_t stream) {
    return (stream & 1u) * 6u + (stream >> 1 & 1u) * 16u;
}

static void feed(const struct line *line) {
    uint32_t dma = line->place->dma;
    uint32_t stream = line->place->stream;
    uint32_t at = 0x10u + stream * 0x18u;
    REGISTER(dma, at) = 0;
    while ((REGISTER(dma, at) & 1u) != 0) { /* two cycles of the bus at most */
    }
    REGISTER(dma, 0x08u + stream / 4u * 4u) = 0x3Du << flag_shift(stream);
    REGISTER(dma, at + 0x04u) = (uint32_t)line->count;
    REGISTER(dma, at + 0x08u) = line->place->peripheral + (line->place->clocked ? 0x0Cu : 0x04u);
    REGISTER(dma, at + 0x0Cu) = (uint32_t)(uintptr_t)line->bytes;
    REGISTER(dma, at + 0x14u) = 0;
    REGISTER(dma, at) = (uint32_t)line->place->channel << 25 | 2u << 16 | 1u << 10 | 1u << 6; /* from memory, byte by byte */
}

static void feed_all(void) {
    for (uint8_t o = 0; o < the_rig->output_count; o++) {
        if ((sending & 1u << o) != 0) {
            feed(&lines[o]);
        }
    }
    for (uint8_t o = 0; o < the_rig->output_count; o++) { /* together, but for some cycles */
        if ((sending & 1u << o) != 0) {
            REGISTER(lines[o].place->dma, 0x10u + lines[o].place->stream * 0x18u) |= 1;
        }
    }
}

static int is_taken(void) {
    for (uint8_t o = 0; o < the_rig->output_count; o++) {
        if ((sending & 1u << o) != 0 && (REGISTER(lines[o].place->dma, 0x10u + lines[o].place->stream * 0x18u) & 1u) != 0) {
            return 0;
        }
    }
    return 1;
}
#else
/* One character after another, whichever line has room: where there is no DMA. */
static void feed_all(void) {
    size_t at[GLANZ_OUTPUTS_MOST] = {0};
    for (uint32_t left = sending; left != 0;) {
        for (uint8_t o = 0; o < the_rig->output_count; o++) {
            uint32_t peripheral = lines[o].place->peripheral;
            if ((left & 1u << o) == 0 || (REGISTER(peripheral, lines[o].place->clocked ? 0x08u : 0x00u) &
                                          (lines[o].place->clocked ? 2u : 1u << 7)) == 0) {
                continue;
            }
            REGISTER(peripheral, lines[o].place->clocked ? 0x0Cu : 0x04u) = lines[o].bytes[at[o]];
            left &= ~((uint32_t)(++at[o] == lines[o].count) << o);
        }
    }
}

static int is_taken(void) {
    return 1;
}
#endif

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    sending = 0;
    for (uint8_t i = 0; i < count; i++) {
        uint32_t o = (uint32_t)(list[i].output - the_rig->outputs);
        struct line *line = &lines[o];
        line->bytes = list[i].bytes;
        line->count = list[i].count;
        if (!line->place->clocked) {
            if (glanz_uart_expand(line->characters, &line->slots, list[i].bytes, list[i].count) != GLANZ_OK) {
                return GLANZ_ERR_PORT;
            }
            line->bytes = line->characters;
            line->count = glanz_uart_size(&line->slots, list[i].count);
        }
        sending |= 1u << o;
    }
    feed_all();
    glanz_sending_begin(&timer, list, count, glanz_stm32f405_us());
    return GLANZ_OK;
}

static int busy(void *user) {
    (void)user;
    return glanz_sending_runs(&timer, glanz_stm32f405_us()) || !is_taken();
}

static uint32_t time_us(void *user) {
    (void)user;
    return glanz_stm32f405_us();
}

const struct glanz_port glanz_stm32f405_port = {.version = 2, .start = start, .busy = busy, .time_us = time_us};
