/* SPDX-License-Identifier: MIT */
/* Runs a firmware on an emulated ATmega328P. What its pins do is traced: simulated LED chips read the waveform by their data
 * sheets' times and latch, and what they hold is compared with the bytes that the firmware said it was sending. The button is
 * pressed, with bounces, by an input log. Prints what the UART says, frames, cycles, and the deepest stack.
 * A firmware that sends nothing may have its bytes summed up instead. usage: emulate FIRMWARE.elf MILLISECONDS [RIG [INPUTS]]
 */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <simavr/avr_ioport.h>
#include <simavr/avr_uart.h>
#include <simavr/sim_avr.h>
#include <simavr/sim_elf.h>

#include "line.h"
#include "log.h"

#define HZ 16000000u

struct pin { /* an output's data line */
    struct line line;
    struct wave wave;
    uint8_t expected[1024];
    size_t count;
    unsigned frames, wrong;
    uint32_t hash;
    uint64_t edge_cycle, highs[64]; /* the last edge; high pulses by length in cycles */
};

static avr_t *avr;
static GLANZ_CONST struct glanz_rig *rig;
static struct glanz_board_setup setup;
static struct pin pins[8];
static uint8_t output_of[8]; /* by bit of port B; 255: none */
static unsigned ended = 256;
static uint32_t all_hash;
static unsigned summed;

static uint64_t now_ns(void) {
    return (uint64_t)avr->cycle * 125u / 2u;
}

/* A frame is over: the chips latch; what they hold must be what was sent. */
static void close_frame(struct pin *pin) {
    if (pin->wave.count == 0) {
        return;
    }
    pin->wave.end_ns = now_ns();
    glanz_line_read(&pin->line, &pin->wave);
    glanz_line_idle(&pin->line, now_ns() + 1000000u);
    pin->wave.count = 0;
    const struct glanz_output *output = pin->line.output;
    size_t at = 0;
    for (uint16_t i = 0; i < pin->line.leds; i++) {
        const struct glanz_chip *chip = output->stretches[0].chip;
        uint8_t order = output->stretches[0].order == GLANZ_ORDER_CHIP ? chip->order : output->stretches[0].order;
        for (uint8_t position = 0; position < chip->channels; position++) {
            uint8_t channel = glanz_order_channel(order, position);
            const struct glanz_lit *lit = &pin->line.lit[i];
            const uint8_t levels[4] = {lit->red, lit->green, lit->blue, lit->white};
            pin->wrong += levels[channel] != pin->expected[at++];
        }
    }
    pin->wrong += at != pin->count;
    pin->hash = glanz_crc32(pin->hash, pin->expected, pin->count);
    all_hash = glanz_crc32(all_hash, pin->expected, pin->count);
    pin->frames++;
}

static void pin_changed(struct avr_irq_t *irq, uint32_t value, void *user) {
    struct pin *pin = (struct pin *)user;
    (void)irq;
    if (pin->wave.count == pin->wave.capacity) {
        pin->wave.capacity = pin->wave.capacity * 2 + 4096;
        pin->wave.edges = (struct edge *)realloc(pin->wave.edges, pin->wave.capacity * sizeof *pin->wave.edges);
    }
    if (pin->wave.edges == NULL || (pin->wave.count == 0 && value == 0)) {
        return; /* the pin becomes an output: low as it was */
    }
    if (value == 0) {
        uint64_t high = avr->cycle - pin->edge_cycle;
        pin->highs[high < 64 ? high : 63]++;
    }
    pin->edge_cycle = avr->cycle;
    struct edge edge = {now_ns(), 0, (uint8_t)value};
    pin->wave.edges[pin->wave.count++] = edge;
}

/* The firmware tells what it is going to send: the address in GPIOR1 and 2, then the pin's bit in GPIOR0; or that it ends. */
static void told(struct avr_irq_t *irq, uint32_t value, void *user) {
    (void)irq;
    (void)user;
    if ((value & 0x40u) != 0) {
        ended = value & 0x3Fu;
        return;
    }
    if (value == 0x80u) { /* bytes that go to no pin */
        uint16_t at = (uint16_t)(avr->data[0x4A] << 8 | avr->data[0x4B]);
        all_hash = glanz_crc32(all_hash, avr->data + at, glanz_output_bytes(&rig->outputs[0]));
        summed++;
        return;
    }
    for (uint8_t bit = 0; bit < 6; bit++) {
        if ((value & (1u << bit)) != 0 && output_of[bit] != 255) {
            struct pin *pin = &pins[output_of[bit]];
            uint16_t at = (uint16_t)(avr->data[0x4A] << 8 | avr->data[0x4B]);
            close_frame(pin);
            pin->count = glanz_output_bytes(pin->line.output);
            memcpy(pin->expected, avr->data + at, pin->count);
        }
    }
}

static void said(struct avr_irq_t *irq, uint32_t value, void *user) {
    (void)irq;
    (void)user;
    putchar((int)value);
}

static void write_told(struct avr_t *which, avr_io_addr_t address, uint8_t value, void *user) {
    which->data[address] = value;
    told(NULL, value, user);
}

/* A press as a switch makes it: contacts bounce for some milliseconds at both ends. */
static void bounce(uint64_t from_ns, uint64_t for_ns, uint64_t *at, uint8_t *level, int *count) {
    static const uint32_t edges[] = {0, 180000, 260000, 900000, 1100000, 2300000, 2400000}; /* ns, ends closed */
    for (int end = 0; end < 2; end++) {
        for (int i = 0; i < 7 && *count < 500; i++) {
            at[*count] = from_ns + (end ? for_ns : 0) + edges[i];
            level[(*count)++] = (uint8_t)((i + end) % 2);
        }
    }
}

static int is_sending(void) { /* has a line moved within the last quarter of a millisecond? */
    for (uint8_t o = 0; rig != NULL && o < rig->output_count && o < 6; o++) {
        if (pins[o].wave.count != 0 && avr->cycle - pins[o].edge_cycle < HZ / 4000u) {
            return 1;
        }
    }
    return 0;
}

int main(int argc, char **argv) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct document document;
    struct text text;
    struct log log = {NULL, 0};
    elf_firmware_t firmware;
    uint64_t press_ns[500];
    uint8_t press_level[500];
    int presses = 0;
    if (argc < 3) {
        return 2;
    }
    memset(&document, 0, sizeof document);
    memset(output_of, 255, sizeof output_of);
    if (argc > 3) {
        if (!text_read(&text, argv[3]) || document_rig(&document, text, &fault) != GLANZ_OK) {
            complain(argv[3], &fault);
            return 1;
        }
        rig = document.rig;
    }
    if (argc > 4) {
        if (!text_read(&text, argv[4]) || log_read(&log, text.bytes, text.count, &fault) != GLANZ_OK) {
            complain(argv[4], &fault);
            return 1;
        }
        for (size_t i = 0; i < log.count; i++) {
            bounce(log.entries[i].at_us * 1000u, log.entries[i].for_us * 1000u, press_ns, press_level, &presses);
        }
    }
    memset(&firmware, 0, sizeof firmware);
    if (elf_read_firmware(argv[1], &firmware) != 0) {
        return 3;
    }
    avr = avr_make_mcu_by_name("atmega328p");
    avr_init(avr);
    avr->frequency = HZ;
    avr->log = LOG_ERROR;
    avr_load_firmware(avr, &firmware);
    avr_register_io_write(avr, 0x3E, write_told, NULL); /* GPIOR0 */
    uint32_t flags = 0;
    avr_ioctl(avr, AVR_IOCTL_UART_GET_FLAGS('0'), &flags);
    flags &= ~(uint32_t)AVR_UART_FLAG_STDIO;
    avr_ioctl(avr, AVR_IOCTL_UART_SET_FLAGS('0'), &flags);
    avr_irq_register_notify(avr_io_getirq(avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_OUTPUT), said, NULL);
    setup.hardware = rig;
    for (uint8_t o = 0; rig != NULL && o < rig->output_count && o < 6; o++) {
        if (!glanz_line_open(&pins[o].line, &setup, o)) {
            return 3;
        }
        output_of[rig->outputs[o].pin & 7u] = o;
        avr_irq_register_notify(avr_io_getirq(avr, AVR_IOCTL_IOPORT_GETIRQ('B'), rig->outputs[o].pin), pin_changed, &pins[o]);
    }
    avr_irq_t *button = avr_io_getirq(avr, AVR_IOCTL_IOPORT_GETIRQ('D'), 2);
    avr_raise_irq(button, 1);
    uint16_t lowest = avr->ramend;
    uint16_t last = 0;
    unsigned steady = 0;
    uint64_t end_cycle = (uint64_t)atoi(argv[2]) * (HZ / 1000u);
    int press = 0;
    int state = cpu_Running;
    while ((avr->cycle < end_cycle || is_sending()) && ended == 256 && state != cpu_Done && state != cpu_Crashed) {
        while (press < presses && now_ns() >= press_ns[press]) {
            avr_raise_irq(button, press_level[press++]);
        }
        state = avr_run(avr);
        /* the two halves of the pointer are written one after another: only what stays for some instructions counts */
        uint16_t stack = (uint16_t)(avr->data[R_SPL] | avr->data[R_SPH] << 8);
        steady = stack == last ? steady + 1 : 0;
        last = stack;
        lowest = steady > 3 && stack < lowest && stack > 0x100 ? stack : lowest;
    }
    int bad = state == cpu_Crashed || (ended != 256 && ended != 0);
    uint32_t sent = 0;
    for (uint8_t o = 0; rig != NULL && o < rig->output_count && o < 6; o++) {
        close_frame(&pins[o]);
        struct glanz_misread misread = pins[o].line.misread;
        printf("output \"%s\": %u frames decoded, %u bytes wrong, %u pulses misread, %u resets, %u frames short, %u long; high "
               "pulses:",
               rig->outputs[o].name, pins[o].frames, pins[o].wrong, misread.pulses, misread.resets, misread.missing,
               misread.extra);
        for (int i = 0; i < 64; i++) {
            if (pins[o].highs[i] != 0) {
                printf(" %llu of %d cycles", (unsigned long long)pins[o].highs[i], i);
            }
        }
        printf("\n");
        bad = bad || pins[o].frames + summed == 0 ||
              pins[o].wrong + misread.pulses + misread.resets + misread.missing + misread.extra != 0;
        sent += pins[o].frames;
    }
    if (ended != 256) {
        printf("ended with %u after %llu cycles\n", ended, (unsigned long long)avr->cycle);
    }
    printf("sent %u frames %08x\n", (unsigned)sent + summed, (unsigned)all_hash);
    unsigned fixed = firmware.datasize + firmware.bsssize;
    printf("RAM: %u bytes fixed, %u of stack at the deepest, %u of %u\n", fixed, avr->ramend - lowest,
           fixed + avr->ramend - lowest, avr->ramend + 1u - 0x100u);
    bad = bad || fixed + avr->ramend - lowest > avr->ramend + 1u - 0x100u;
    printf("flash: %u of %u bytes\n", firmware.flashsize, avr->flashend + 1u);
    document_free(&document);
    log_free(&log);
    return bad;
}
