/* SPDX-License-Identifier: MIT */
/* Waveforms out of bytes, and chips that read them. The two halves share nothing but the edges: the chips do not know what
 * was meant to be sent. */
#include <stdlib.h>
#include <string.h>

#include "line.h"

/* ---- from bytes to edges ---- */

static int add_edge(struct wave *wave, uint64_t time_ns, uint8_t clock, uint8_t level) {
    if (wave->count == wave->room) {
        size_t room = wave->room == 0 ? 4096 : wave->room * 2;
        struct edge *edges = (struct edge *)realloc(wave->edges, room * sizeof *edges);
        if (edges == NULL) {
            return 0;
        }
        wave->edges = edges;
        wave->room = room;
    }
    wave->edges[wave->count].time_ns = time_ns;
    wave->edges[wave->count].clock = clock;
    wave->edges[wave->count].level = level;
    wave->count++;
    return 1;
}

struct pen { /* draws on the data line */
    struct wave *wave;
    uint64_t at_ns;
    uint8_t level;
    int percent;
    int good;
};

static void draw(struct pen *pen, uint8_t level, uint32_t ns) {
    if (level != pen->level) {
        pen->good = pen->good && add_edge(pen->wave, pen->at_ns, 0, level);
        pen->level = level;
    }
    pen->at_ns += (uint64_t)((int64_t)ns * (100 + pen->percent) / 100);
}

/* A peripheral that is told the four times of the chip. */
static void draw_raw(struct pen *pen, const struct glanz_timing *timing, const uint8_t *bytes, size_t count) {
    for (size_t i = 0; i < count; i++) {
        for (uint8_t mask = 128; mask != 0; mask >>= 1) {
            int one = (bytes[i] & mask) != 0;
            draw(pen, 1, one ? timing->one_high : timing->zero_high);
            draw(pen, 0, one ? timing->one_low : timing->zero_low);
        }
    }
}

/* An SPI: bits of the expanded bytes, the highest first. */
static void draw_spi(struct pen *pen, const struct glanz_slots *slots, const uint8_t *bytes, size_t count) {
    uint8_t expanded[4];
    for (size_t i = 0; i < count; i++) {
        glanz_spi_expand(expanded, slots, bytes + i, 1);
        for (size_t k = 0; k < glanz_spi_size(slots, 1); k++) {
            for (uint8_t mask = 128; mask != 0; mask >>= 1) {
                draw(pen, (expanded[k] & mask) != 0, slots->slot_ns);
            }
        }
    }
}

/* An inverted UART: a high start bit, data from the lowest bit, inverted, a low stop bit. */
static void draw_uart(struct pen *pen, const struct glanz_slots *slots, const uint8_t *bytes, size_t count) {
    uint8_t characters[16];
    size_t step = slots->slots == 3 ? 3 : 1;
    uint8_t data_bits = slots->slots == 3 ? 7 : 6;
    uint8_t padded[3];
    for (size_t i = 0; i < count; i += step) {
        memset(padded, 0, sizeof padded);
        memcpy(padded, bytes + i, count - i < step ? count - i : step);
        pen->good = pen->good && glanz_uart_expand(characters, slots, padded, step) == GLANZ_OK;
        for (size_t k = 0; k < glanz_uart_size(slots, step) && pen->good; k++) {
            draw(pen, 1, slots->slot_ns);
            for (uint8_t bit = 0; bit < data_bits; bit++) {
                draw(pen, !((characters[k] >> bit) & 1), slots->slot_ns);
            }
            draw(pen, 0, slots->slot_ns);
        }
    }
}

static int draw_clocked(struct pen *pen, const struct glanz_chip *chip, const uint8_t *bytes, size_t count) {
    for (size_t i = 0; i < count; i++) {
        for (uint8_t mask = 128; mask != 0; mask >>= 1) {
            draw(pen, (bytes[i] & mask) != 0, chip->zero_high_ns);
            pen->good = pen->good && add_edge(pen->wave, pen->at_ns, 1, 1);
            pen->at_ns += chip->zero_low_ns;
            pen->good = pen->good && add_edge(pen->wave, pen->at_ns, 1, 0);
        }
    }
    return pen->good;
}

int glanz_wave_make(struct wave *wave, const struct glanz_board_setup *setup, const struct glanz_sending *sending,
                    uint64_t start_ns) {
    const struct glanz_chip *chip = sending->output->stretches[0].chip;
    struct pen pen = {wave, start_ns, 0, setup->skew_percent, 1};
    struct glanz_slots slots;
    uint8_t *kept = NULL;
    const uint8_t *bytes = sending->bytes;
    size_t count = sending->count;
    wave->count = 0;
    if (setup->drop_byte != 0 && setup->drop_byte <= count) { /* as when a DMA transfer comes up short */
        kept = (uint8_t *)malloc(count);
        if (kept == NULL) {
            return 0;
        }
        memcpy(kept, bytes, setup->drop_byte - 1u);
        memcpy(kept + setup->drop_byte - 1, bytes + setup->drop_byte, count - setup->drop_byte);
        bytes = kept;
        count--;
    }
    if (chip->protocol == GLANZ_CLOCKED) {
        draw_clocked(&pen, chip, bytes, count);
    } else if (setup->form == GLANZ_FORM_RAW) {
        struct glanz_timing timing;
        pen.good = glanz_output_timing(&timing, sending->output) == GLANZ_OK;
        if (pen.good) {
            draw_raw(&pen, &timing, bytes, count);
        }
    } else {
        uint8_t per_bit = setup->form == GLANZ_FORM_SPI3 || setup->form == GLANZ_FORM_UART3 ? 3 : 4;
        pen.good = glanz_output_slots(&slots, sending->output, per_bit) == GLANZ_OK;
        if (pen.good && (setup->form == GLANZ_FORM_SPI3 || setup->form == GLANZ_FORM_SPI4)) {
            draw_spi(&pen, &slots, bytes, count);
        } else if (pen.good) {
            draw_uart(&pen, &slots, bytes, count);
        }
    }
    draw(&pen, 0, 0);
    wave->end_ns = pen.at_ns;
    free(kept);
    return pen.good;
}

/* ---- from edges to light ---- */

uint16_t glanz_line_reset_us(const struct glanz_output *output) {
    uint16_t reset = 0;
    for (uint8_t i = 0; i < output->stretch_count; i++) {
        reset = output->stretches[i].chip->reset_us > reset ? output->stretches[i].chip->reset_us : reset;
    }
    return reset;
}

int glanz_line_open(struct line *line, const struct glanz_board_setup *setup, uint8_t index) {
    memset(line, 0, sizeof *line);
    line->setup = setup;
    line->index = index;
    line->output = &setup->hardware->outputs[index];
    line->leds = glanz_output_leds(line->output);
    line->lit = (struct glanz_lit *)calloc(line->leds, sizeof *line->lit);
    line->bit_room = (size_t)line->leds * 32 + 4096;
    line->bits = (uint8_t *)malloc(line->bit_room);
    line->clocked_bits = -1;
    for (uint16_t i = 0; line->lit != NULL && i < line->leds; i++) {
        line->lit[i].field = 31;
    }
    return line->lit != NULL && line->bits != NULL;
}

void glanz_line_close(struct line *line) {
    free(line->lit);
    free(line->bits);
}

static void report(struct line *line, uint32_t *counter, const char *what, uint64_t ns, const char *expected) {
    if ((*counter)++ == 0 && line->misread.first[0] == '\0') {
        snprintf(line->misread.first, sizeof line->misread.first, "output \"%.40s\": %s of %llu ns; expected %s",
                 line->output->name, what, (unsigned long long)ns, expected);
    }
}

static const struct glanz_stretch *stretch_of(const struct line *line, uint16_t led) {
    const struct glanz_stretch *stretch = line->output->stretches;
    while (led >= stretch->leds) {
        led = (uint16_t)(led - stretch->leds);
        stretch++;
    }
    return stretch;
}

static void light_up(struct line *line, uint16_t led, const uint8_t *values) {
    const struct glanz_stretch *stretch = stretch_of(line, led);
    uint8_t order = stretch->order == GLANZ_ORDER_CHIP ? stretch->chip->order : stretch->order;
    uint8_t channels[4] = {0, 0, 0, 0};
    for (uint8_t i = 0; i < stretch->chip->channels; i++) {
        channels[glanz_order_channel(order, i)] = values[i];
    }
    line->lit[led].red = channels[0];
    line->lit[led].green = channels[1];
    line->lit[led].blue = channels[2];
    line->lit[led].white = channels[3];
}

/* A reset: every chip that has all its bits shows them; a chip that has only some keeps what it showed. */
static void latch(struct line *line, uint64_t now_ns) {
    size_t bit = 0;
    uint16_t led = 0;
    for (; led < line->leds; led++) {
        size_t wanted = (size_t)stretch_of(line, led)->chip->channels * 8;
        uint8_t values[4] = {0, 0, 0, 0};
        if (line->bit_count - bit < wanted) {
            break;
        }
        for (size_t i = 0; i < wanted; i++) {
            values[i / 8] = (uint8_t)(values[i / 8] << 1 | line->bits[bit + i]);
        }
        light_up(line, led, values);
        bit += wanted;
    }
    if (led < line->leds && line->misread.missing++ == 0 && line->misread.first[0] == '\0') {
        snprintf(line->misread.first, sizeof line->misread.first,
                 "output \"%.40s\": the frame ended at LED %u of %u, after %zu bits", line->output->name, led, line->leds,
                 line->bit_count);
    }
    if (led == line->leds && bit != line->bit_count && line->misread.extra++ == 0 && line->misread.first[0] == '\0') {
        snprintf(line->misread.first, sizeof line->misread.first, "output \"%.40s\": %zu bits too many", line->output->name,
                 line->bit_count - bit);
    }
    line->bit_count = 0;
    line->pending = 0;
    if (line->setup->latched != NULL) {
        line->setup->latched(line->setup->user, line->index, now_ns / 1000u);
    }
}

static int within(uint64_t ns, uint32_t time, uint32_t tolerance) {
    return ns + tolerance >= time && ns <= (uint64_t)time + tolerance;
}

/* The chip that a bit is for: it is that chip's data sheet by which the bit is read. */
static const struct glanz_chip *chip_of_bit(const struct line *line, size_t index) {
    size_t bit = 0;
    for (uint8_t i = 0; i < line->output->stretch_count; i++) {
        bit += (size_t)line->output->stretches[i].leds * line->output->stretches[i].chip->channels * 8;
        if (index < bit) {
            return line->output->stretches[i].chip;
        }
    }
    return line->output->stretches[line->output->stretch_count - 1].chip;
}

static void read_low(struct line *line, uint64_t now_ns) { /* the low that ends now */
    const struct glanz_chip *chip = chip_of_bit(line, line->bit_count == 0 ? 0 : line->bit_count - 1);
    uint64_t low = now_ns - line->fell_ns;
    if (!line->pending) {
        return;
    }
    if (low >= (uint64_t)glanz_line_reset_us(line->output) * 1000u) {
        latch(line, line->fell_ns + (uint64_t)glanz_line_reset_us(line->output) * 1000u);
    } else if (low >= (uint64_t)chip->reset_least_us * 1000u) {
        report(line, &line->misread.resets, "a reset", low, "the chip's full reset time");
    } else {
        int one = line->bits[line->bit_count - 1];
        if (!within(low, one ? chip->one_low_ns : chip->zero_low_ns, chip->tolerance_ns)) {
            report(line, &line->misread.pulses, "a low", low, "the data sheet's low within its tolerance");
        }
    }
}

static void read_one_wire(struct line *line, const struct edge *edge) {
    if (edge->level) {
        read_low(line, edge->time_ns);
        line->rose_ns = edge->time_ns;
        return;
    }
    const struct glanz_chip *chip = chip_of_bit(line, line->bit_count);
    uint64_t high = edge->time_ns - line->rose_ns;
    int one = within(high, chip->one_high_ns, chip->tolerance_ns);
    int zero = within(high, chip->zero_high_ns, chip->tolerance_ns);
    if (one == zero) { /* neither, or both: the chip decides at the middle */
        if (!one) {
            report(line, &line->misread.pulses, "a high", high, "the data sheet's high within its tolerance");
        }
        one = high * 2 > (uint64_t)chip->zero_high_ns + chip->one_high_ns;
    }
    if (line->bit_count < line->bit_room) {
        line->bits[line->bit_count++] = (uint8_t)one;
    }
    line->fell_ns = edge->time_ns;
    line->pending = 1;
}

/* Clocked chips: 32 zero bits begin a frame; then 32 bits a LED, each lit as soon as it has its bits. */
static void read_clocked(struct line *line, const struct edge *edge) {
    if (!edge->clock) {
        line->data_level = edge->level;
        return;
    }
    if (!edge->level) {
        return;
    }
    line->shift = line->shift << 1 | line->data_level;
    if (line->clocked_bits < 0) {
        line->bit_count = line->data_level ? 0 : line->bit_count + 1; /* counts zeros in a row */
        if (line->bit_count >= 32) {
            line->clocked_bits = 0;
            line->bit_count = 0;
        }
        return;
    }
    line->clocked_bits++;
    if (line->clocked_bits % 32 != 0) {
        return;
    }
    uint32_t led = (uint32_t)line->clocked_bits / 32 - 1;
    if (led < line->leds && (line->shift >> 29) == 7) {
        uint8_t values[3] = {(uint8_t)(line->shift >> 16), (uint8_t)(line->shift >> 8), (uint8_t)line->shift};
        light_up(line, (uint16_t)led, values);
        line->lit[led].field = (uint8_t)(line->shift >> 24) & 31u;
    } else if (led < line->leds && line->misread.missing++ == 0 && line->misread.first[0] == '\0') {
        snprintf(line->misread.first, sizeof line->misread.first, "output \"%.40s\": LED %u has no 111 at its start",
                 line->output->name, led);
    }
}

void glanz_line_read(struct line *line, const struct wave *wave) {
    int clocked = line->output->stretches[0].chip->protocol == GLANZ_CLOCKED;
    if (clocked) {
        line->clocked_bits = -1;
        line->bit_count = 0;
    }
    for (size_t i = 0; i < wave->count; i++) {
        if (clocked) {
            read_clocked(line, &wave->edges[i]);
        } else {
            read_one_wire(line, &wave->edges[i]);
        }
    }
    if (clocked) {
        /* the last LED sees its data only after half a clock of delay for each LED before it */
        int32_t through = line->clocked_bits - (int32_t)line->leds * 32;
        if (through < (line->leds + 1) / 2 && line->misread.missing++ == 0 && line->misread.first[0] == '\0') {
            snprintf(line->misread.first, sizeof line->misread.first,
                     "output \"%.40s\": the data is not clocked through to the last LED", line->output->name);
        }
        if (line->setup->latched != NULL) {
            line->setup->latched(line->setup->user, line->index, wave->end_ns / 1000u);
        }
    }
}

void glanz_line_idle(struct line *line, uint64_t now_ns) {
    if (line->pending && now_ns > line->fell_ns &&
        now_ns - line->fell_ns >= (uint64_t)glanz_line_reset_us(line->output) * 1000u) {
        latch(line, line->fell_ns + (uint64_t)glanz_line_reset_us(line->output) * 1000u);
    }
}

/* ---- value changes (IEEE 1364-2005, clause 18) ---- */

#define LEAD_NS 100000u /* the lines are seen idle for so long first: decoders want an edge to begin with */

/* In steps of 50 ns, which all waves are made of but those of slots of other lengths; decoders take every step one by one.
 * Counted in the time scale's 10 ns. */
static uint64_t vcd_time(uint64_t time_ns) {
    return (time_ns + LEAD_NS + 25u) / 50u * 5u;
}

static void every_line(FILE *file, const struct glanz_rig *rig) { /* all low */
    for (uint8_t o = 0; o < rig->output_count; o++) {
        fprintf(file, "0%c\n", '!' + o * 2);
        if (rig->outputs[o].stretches[0].chip->protocol == GLANZ_CLOCKED) {
            fprintf(file, "0%c\n", '!' + o * 2 + 1);
        }
    }
}

void glanz_vcd_end(FILE *file, const struct glanz_rig *rig, uint64_t time_ns) {
    fprintf(file, "#%llu\n", (unsigned long long)vcd_time(time_ns));
    every_line(file, rig);
}

static void wire_name(FILE *file, const char *name, const char *ending) {
    for (; *name != '\0'; name++) { /* identifiers there have no spaces */
        int plain = (*name >= 'a' && *name <= 'z') || (*name >= 'A' && *name <= 'Z') || (*name >= '0' && *name <= '9');
        fputc(plain ? *name : '_', file);
    }
    fputs(ending, file);
}

void glanz_vcd_begin(FILE *file, const struct glanz_rig *rig) {
    fputs("$version Glanz " GLANZ_VERSION " $end\n$timescale 10 ns $end\n$scope module lines $end\n", file);
    for (uint8_t o = 0; o < rig->output_count; o++) {
        fprintf(file, "$var wire 1 %c ", '!' + o * 2);
        wire_name(file, rig->outputs[o].name, " $end\n");
        if (rig->outputs[o].stretches[0].chip->protocol == GLANZ_CLOCKED) {
            fprintf(file, "$var wire 1 %c ", '!' + o * 2 + 1);
            wire_name(file, rig->outputs[o].name, "_clock $end\n");
        }
    }
    fputs("$upscope $end\n$enddefinitions $end\n#0\n$dumpvars\n", file);
    every_line(file, rig);
    fputs("$end\n", file);
}

void glanz_vcd_write(FILE *file, const struct glanz_rig *rig, const struct wave *waves, uint64_t zero_ns) {
    size_t at[GLANZ_OUTPUTS_MOST] = {0};
    uint64_t written = UINT64_MAX;
    for (;;) { /* the earliest edge of all lines, again and again */
        int earliest = -1;
        for (int o = 0; o < rig->output_count; o++) {
            if (at[o] < waves[o].count &&
                (earliest < 0 || waves[o].edges[at[o]].time_ns < waves[earliest].edges[at[earliest]].time_ns)) {
                earliest = o;
            }
        }
        if (earliest < 0) {
            return;
        }
        const struct edge *edge = &waves[earliest].edges[at[earliest]++];
        uint64_t time = vcd_time(edge->time_ns - zero_ns);
        if (time != written) {
            fprintf(file, "#%llu\n", (unsigned long long)time);
            written = time;
        }
        fprintf(file, "%c%c\n", '0' + edge->level, '!' + earliest * 2 + edge->clock);
    }
}
