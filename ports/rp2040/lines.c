/* SPDX-License-Identifier: MIT */
/* Outputs. One-wire: a state machine of a PIO for each line, fed by a DMA channel, all started within some cycles of each
 * other. Clocked: an SPI, fed by DMA. Nothing waits; the bytes are read where they lie. */
#include "board.h"

#define MACHINES 4u
#define DELAY_MOST 32u /* cycles of one instruction */

/* The program of a line, four instructions that differ in their delays: take a bit while the line is low (and wait here while
 * there is none); high; low for a 0, high for a 1; low. */
#define TAKE(cycles) (0x6021u | ((cycles)-1u) << 8)   /* out x, 1 */
#define HIGH(cycles) (0xE001u | ((cycles)-1u) << 8)   /* set pins, 1 */
#define AS_BIT(cycles) (0xA001u | ((cycles)-1u) << 8) /* mov pins, x */
#define LOW(cycles) (0xE000u | ((cycles)-1u) << 8)    /* set pins, 0 */
#define PIN_IS_OUTPUT 0xE081u                         /* set pindirs, 1 */
#define PIN_LOW 0xE000u

struct line {
    uint8_t used;
    uint8_t clocked;
    uint8_t pio, machine; /* or the SPI's number */
    uint8_t channel;
};

static GLANZ_CONST struct glanz_rig *the_rig;
static struct line lines[GLANZ_OUTPUTS_MOST];
static uint32_t machines[2]; /* in use, bit by bit */
static uint32_t sending[2];  /* machines that have bytes of this frame */
static uint32_t channels;    /* of this frame */
static struct glanz_sending_timer timer;

glanz_status glanz_rp2040_wrong_pin(struct glanz_fault *fault, const char *list, const char *name, uint8_t pin,
                                    const char *expected) {
    glanz_fault_begin(fault);
    glanz_fault_at(fault, list);
    glanz_fault_at(fault, name);
    glanz_fault_at(fault, "pin");
    glanz_fault_add(fault, "pin ");
    glanz_fault_number(fault, pin);
    glanz_fault_add(fault, "; expected ");
    glanz_fault_add(fault, expected);
    return GLANZ_ERR_RIG;
}

/* Cycles of a PIO clock for the four times of a line. The same for every chip: the divider makes a cycle 40 ns. */
#define DIVIDER 5u
static uint32_t cycles_of(uint32_t ns) {
    uint32_t cycles = (ns + DIVIDER * CYCLE_NS / 2u) / (DIVIDER * CYCLE_NS);
    return cycles == 0 ? 1 : cycles;
}

static int begin_one_wire(struct line *line, GLANZ_CONST struct glanz_output *output, uint8_t number) {
    struct glanz_timing times;
    line->pio = number / MACHINES;
    line->machine = number % MACHINES;
    line->channel = number;
    if (glanz_output_timing(output, &times) != GLANZ_OK) {
        return 0;
    }
    uint32_t high = cycles_of(times.zero_high);
    uint32_t bit = cycles_of(times.one_high) - high;
    /* the two bits are equally long: between the low that a 1 asks for and the one that is left of a 0 */
    uint32_t low = (cycles_of(times.one_low) + cycles_of(times.zero_low) - bit) / 2u;
    uint32_t take = low > DELAY_MOST + 2u ? DELAY_MOST : 3u; /* the rest of a long low */
    uint32_t at = line->machine * 4u;
    uint32_t pio = PIO(line->pio);
    uint32_t machine = line->machine;
    REGISTER(pio, PIO_PROGRAM(at)) = TAKE(take);
    REGISTER(pio, PIO_PROGRAM(at + 1u)) = HIGH(high);
    REGISTER(pio, PIO_PROGRAM(at + 2u)) = AS_BIT(bit);
    REGISTER(pio, PIO_PROGRAM(at + 3u)) = LOW(low - take);
    REGISTER(pio, PIO_CLKDIV(machine)) = DIVIDER << 16;
    REGISTER(pio, PIO_EXECCTRL(machine)) = (at + 3u) << 12 | at << 7;
    REGISTER(pio, PIO_SHIFTCTRL(machine)) = 1u << 30 | 8u << 25 | 1u << 17; /* all of the buffer, bytes, highest bit first */
    REGISTER(pio, PIO_PINCTRL(machine)) = 1u << 26 | 1u << 20 | (uint32_t)output->pin << 5 | output->pin;
    REGISTER(pio, PIO_INSTRUCTION(machine)) = PIN_LOW;
    REGISTER(pio, PIO_INSTRUCTION(machine)) = PIN_IS_OUTPUT;
    glanz_rp2040_pin(output->pin, line->pio == 0 ? FUNCTION_PIO0 : FUNCTION_PIO1, PAD_DRIVE_4_MA);
    machines[line->pio] |= 1u << machine;
    return 1;
}

/* Which SPI has these pins? 2: none. */
static uint8_t spi_of(uint8_t data, uint8_t clock) {
    return (data == 3 || data == 19) && (clock == 2 || clock == 18)     ? 0
           : (data == 11 || data == 15) && (clock == 10 || clock == 14) ? 1
                                                                        : 2;
}

static void begin_clocked(struct line *line, GLANZ_CONST struct glanz_output *output, uint8_t spi) {
    uint32_t half = output->stretches[0].chip->zero_high_ns;
    uint32_t divider = (2u * half + CYCLE_NS - 1u) / CYCLE_NS; /* of 125 MHz, never faster than the chip may */
    divider = divider < 2 ? 2 : divider + (divider & 1u);
    uint32_t again = (divider + 253u) / 254u; /* the first divider is even, at most 254 */
    line->clocked = 1;
    line->pio = spi;
    line->channel = (uint8_t)(CHANNEL_SPI + spi);
    REGISTER(SPI(spi), SPI_CR1) = 0;
    REGISTER(SPI(spi), SPI_CPSR) = (divider / again + 1u) & ~1u;
    REGISTER(SPI(spi), SPI_CR0) = (again - 1u) << 8 | 7u; /* 8 bits, the clock rests low, taken at its rise */
    REGISTER(SPI(spi), SPI_DMACR) = 2;
    REGISTER(SPI(spi), SPI_CR1) = 2;
    glanz_rp2040_pin(output->pin, FUNCTION_SPI, PAD_DRIVE_4_MA);
    glanz_rp2040_pin(output->clock_pin, FUNCTION_SPI, PAD_DRIVE_4_MA);
}

glanz_status glanz_rp2040_begin_lines(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault) {
    uint8_t one_wire = 0;
    uint32_t pins = 0;
    uint8_t spis = 0;
    the_rig = rig;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        GLANZ_CONST struct glanz_output *output = &rig->outputs[o];
        lines[o].used = 1;
        if (output->pin < 2 || output->pin > 22 || (pins & 1u << output->pin) != 0) {
            return glanz_rp2040_wrong_pin(fault, "outputs", output->name, output->pin, "one of 2 to 22 that nothing else has");
        }
        pins |= 1u << output->pin;
        if (output->stretches[0].chip->protocol == GLANZ_CLOCKED) {
            uint8_t spi = spi_of(output->pin, output->clock_pin);
            if (spi > 1 || (spis & 1u << spi) != 0) {
                return glanz_rp2040_wrong_pin(
                    fault, "outputs", output->name, output->pin,
                    "data 3 or 19 with clock 2 or 18, or data 11 or 15 with clock 10 or 14, each pair once");
            }
            spis |= (uint8_t)(1u << spi);
            begin_clocked(&lines[o], output, spi);
        } else if (one_wire == GLANZ_RP2040_LINES || !begin_one_wire(&lines[o], output, one_wire++)) {
            return glanz_rp2040_wrong_pin(fault, "outputs", output->name, output->pin,
                                          "at most 8 one-wire outputs, each of chips whose times agree");
        }
    }
    return GLANZ_OK;
}

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    sending[0] = sending[1] = channels = 0;
    for (uint8_t i = 0; i < count; i++) {
        const struct line *line = &lines[list[i].output - the_rig->outputs];
        uint32_t request = line->clocked ? 16u + 2u * line->pio : line->pio * 8u + line->machine;
        uint32_t to = line->clocked ? SPI(line->pio) + SPI_DATA : PIO(line->pio) + PIO_TX(line->machine);
        REGISTER(DMA, DMA_READ(line->channel)) = (uint32_t)(uintptr_t)list[i].bytes;
        REGISTER(DMA, DMA_WRITE(line->channel)) = to;
        REGISTER(DMA, DMA_COUNT(line->channel)) = (uint32_t)list[i].count;
        REGISTER(DMA, DMA_CTRL(line->channel)) =
            DMA_QUIET | DMA_REQUEST(request) | DMA_CHAIN((uint32_t)line->channel) | DMA_READ_ON | DMA_BYTES | DMA_ENABLE;
        channels |= 1u << line->channel;
        if (!line->clocked) {
            sending[line->pio] |= 1u << line->machine;
        }
    }
    for (uint32_t p = 0; p < 2; p++) { /* from the start of their programs, dividers in step */
        REGISTER(PIO(p), PIO_CTRL) = 0;
        for (uint32_t m = 0; m < MACHINES; m++) {
            if ((machines[p] & 1u << m) != 0) {
                REGISTER(PIO(p), PIO_INSTRUCTION(m)) = m * 4u; /* jmp */
            }
        }
        REGISTER(PIO(p), PIO_CTRL) = machines[p] << 8 | machines[p] << 4;
    }
    REGISTER(DMA, DMA_TRIGGER) = channels;
    __asm__ volatile("cpsid i");
    REGISTER(PIO(0), PIO_CTRL) = machines[0];
    REGISTER(PIO(1), PIO_CTRL) = machines[1];
    __asm__ volatile("cpsie i");
    glanz_sending_begin(&timer, list, count, glanz_rp2040_us());
    return GLANZ_OK;
}

/* Has the hardware taken every byte? What it still has in its own shift register ends before the reset time does. */
static int is_taken(void) {
    for (uint32_t channel = 0; channel < CHANNEL_ADC; channel++) {
        if ((channels & 1u << channel) != 0 && (REGISTER(DMA, DMA_CTRL(channel)) & DMA_BUSY) != 0) {
            return 0;
        }
    }
    for (uint32_t p = 0; p < 2; p++) {
        if ((REGISTER(PIO(p), PIO_FSTAT) >> 24 & sending[p]) != sending[p]) {
            return 0;
        }
    }
    for (uint32_t spi = 0; spi < 2; spi++) {
        if ((channels & 1u << (CHANNEL_SPI + spi)) != 0 && (REGISTER(SPI(spi), SPI_SR) & 0x10u) != 0) {
            return 0;
        }
    }
    return 1;
}

static int busy(void *user) {
    (void)user;
    return glanz_sending_runs(&timer, glanz_rp2040_us()) || !is_taken();
}

static void stop(void *user) {
    (void)user;
    REGISTER(DMA, DMA_ABORT) = channels;
    for (uint32_t p = 0; p < 2; p++) {
        REGISTER(PIO(p), PIO_CTRL) = 0;
        for (uint32_t m = 0; m < MACHINES; m++) { /* what is left in a buffer goes when its kind changes */
            REGISTER(PIO(p), PIO_SHIFTCTRL(m)) ^= 1u << 30;
            REGISTER(PIO(p), PIO_SHIFTCTRL(m)) ^= 1u << 30;
        }
    }
}

static void put_log(void *user, const char *line) {
    (void)user;
    glanz_rp2040_say(line);
}

static uint32_t time_us(void *user) {
    (void)user;
    return glanz_rp2040_us();
}

const struct glanz_port glanz_rp2040_port = {
    .version = 2, .start = start, .busy = busy, .stop = stop, .log = put_log, .time_us = time_us};
