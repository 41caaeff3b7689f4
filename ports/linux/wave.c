/* SPDX-License-Identifier: MIT */
/* Waveforms out of bytes: what a peripheral does to a data line. */
#include <stdlib.h>
#include <string.h>

#include "line.h"

static void add_edge(struct pen *pen, uint8_t clock, uint8_t level) {
    struct wave *wave = pen->wave;
    if (wave->count == wave->capacity) {
        size_t capacity = wave->capacity == 0 ? 4096 : wave->capacity * 2;
        struct edge *edges = (struct edge *)realloc(wave->edges, capacity * sizeof *edges);
        if (edges == NULL) {
            pen->good = 0;
            return;
        }
        wave->edges = edges;
        wave->capacity = capacity;
    }
    wave->edges[wave->count].time_ns = pen->at_ns;
    wave->edges[wave->count].clock = clock;
    wave->edges[wave->count].level = level;
    wave->count++;
}

static void draw(struct pen *pen, uint8_t level, uint32_t ns) {
    if (level != pen->level) {
        add_edge(pen, 0, level);
        pen->level = level;
    }
    pen->at_ns += (uint64_t)((int64_t)ns * (100 + pen->how.percent) / 100);
}

/* A peripheral that is told the four times of the chip. */
static void draw_raw(struct pen *pen, uint8_t byte) {
    const struct glanz_timing *timing = &pen->how.timing;
    for (uint8_t mask = 128; mask != 0; mask >>= 1) {
        int one = (byte & mask) != 0;
        draw(pen, 1, one ? timing->one_high : timing->zero_high);
        draw(pen, 0, one ? timing->one_low : timing->zero_low);
    }
}

/* An SPI: bits of the expanded byte, the highest first. */
static void draw_spi(struct pen *pen, uint8_t byte) {
    uint8_t expanded[4];
    glanz_spi_expand(expanded, &pen->how.slots, &byte, 1);
    for (size_t k = 0; k < glanz_spi_size(&pen->how.slots, 1); k++) {
        for (uint8_t mask = 128; mask != 0; mask >>= 1) {
            draw(pen, (expanded[k] & mask) != 0, pen->how.slots.slot_ns);
        }
    }
}

/* An inverted UART: a high start bit, data from the lowest bit, inverted, a low stop bit. */
static void draw_uart(struct pen *pen, const uint8_t *bytes, size_t count) {
    uint8_t characters[16];
    uint8_t data_bits = pen->how.slots.slots == 3 ? 7 : pen->how.slots.slots == 4 ? 6 : 8;
    uint8_t padded[3] = {0, 0, 0};
    memcpy(padded, bytes, count);
    pen->good = pen->good && glanz_uart_expand(characters, &pen->how.slots, padded, pen->unit) == GLANZ_OK;
    for (size_t k = 0; k < glanz_uart_size(&pen->how.slots, pen->unit) && pen->good; k++) {
        draw(pen, 1, pen->how.slots.slot_ns);
        for (uint8_t bit = 0; bit < data_bits; bit++) {
            draw(pen, !((characters[k] >> bit) & 1), pen->how.slots.slot_ns);
        }
        draw(pen, 0, pen->how.slots.slot_ns);
    }
}

static void draw_clocked(struct pen *pen, uint8_t byte) {
    for (uint8_t mask = 128; mask != 0; mask >>= 1) {
        draw(pen, (byte & mask) != 0, pen->how.timing.zero_high);
        add_edge(pen, 1, 1);
        pen->at_ns += pen->how.timing.zero_low;
        add_edge(pen, 1, 0);
    }
}

uint8_t glanz_form_slots(enum glanz_form form) {
    return form == GLANZ_FORM_SPI3 || form == GLANZ_FORM_UART3 ? 3 : form == GLANZ_FORM_UART5 ? 5 : 4;
}

int glanz_pen_begin(struct pen *pen, const struct glanz_board_setup *setup, const struct glanz_output *output,
                    struct wave *wave, uint64_t start_ns) {
    const struct glanz_chip *chip = output->stretches[0].chip;
    memset(pen, 0, sizeof *pen);
    pen->wave = wave;
    pen->at_ns = start_ns;
    pen->unit = 1;
    pen->good = 1;
    pen->how.percent = setup->skew_percent;
    if (chip->protocol == GLANZ_CLOCKED) {
        pen->how.kind = PEN_CLOCKED;
        pen->how.timing.zero_high = chip->zero_high_ns;
        pen->how.timing.zero_low = chip->zero_low_ns;
    } else if (setup->form == GLANZ_FORM_RAW) {
        pen->how.kind = PEN_RAW;
        pen->good = glanz_output_timing(output, &pen->how.timing) == GLANZ_OK;
    } else {
        pen->how.kind = setup->form == GLANZ_FORM_SPI3 || setup->form == GLANZ_FORM_SPI4 ? PEN_SPI : PEN_UART;
        pen->unit = setup->form == GLANZ_FORM_UART3 ? 3 : 1;
        pen->good = glanz_output_slots(output, glanz_form_slots(setup->form), &pen->how.slots) == GLANZ_OK;
    }
    return pen->good;
}

int glanz_pen_draw(struct pen *pen, const uint8_t *bytes, size_t count) {
    switch (pen->how.kind) {
    case PEN_CLOCKED: draw_clocked(pen, *bytes); break;
    case PEN_RAW: draw_raw(pen, *bytes); break;
    case PEN_SPI: draw_spi(pen, *bytes); break;
    case PEN_UART:
    default: draw_uart(pen, bytes, count); break;
    }
    return pen->good;
}

int glanz_pen_end(struct pen *pen) {
    draw(pen, 0, 0);
    return pen->good;
}
