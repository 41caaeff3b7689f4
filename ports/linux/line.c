/* SPDX-License-Identifier: MIT */
/* Chips that read a data line: by its edges and their data sheets, and nothing else. */
#include <stdlib.h>
#include <string.h>

#include "line.h"

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
    line->bit_capacity = (size_t)line->leds * 32 + 4096;
    line->bits = (uint8_t *)calloc(line->bit_capacity / 8, 1);
    line->seen = (struct seen(*)[256])calloc(line->output->stretch_count, sizeof *line->seen);
    line->clocked_bits = -1;
    for (uint16_t i = 0; line->lit != NULL && i < line->leds; i++) {
        line->lit[i].field = 31;
    }
    return line->lit != NULL && line->bits != NULL && line->seen != NULL;
}

void glanz_line_close(struct line *line) {
    free(line->lit);
    free(line->bits);
    free(line->seen);
    free(line->piece.edges);
}

static void report(struct line *line, uint32_t *counter, const char *what, uint64_t ns, const char *expected) {
    if ((*counter)++ == 0 && line->misread.first[0] == '\0') {
        snprintf(line->misread.first, sizeof line->misread.first, "output \"%.40s\": %s of %llu ns; expected %s",
                 line->output->name, what, (unsigned long long)ns, expected);
    }
}

/* Where each channel, red to white, lies in a LED's bytes. */
static void find_channels(uint8_t *from, const struct glanz_stretch *stretch) {
    uint8_t order = stretch->order == GLANZ_ORDER_CHIP ? stretch->chip->order : stretch->order;
    for (uint8_t i = 0; i < stretch->chip->channels; i++) {
        from[glanz_order_channel(order, i)] = i;
    }
}

static void light_up(struct glanz_lit *lit, const uint8_t *values, const uint8_t *from, uint8_t channels) {
    lit->red = values[from[0]];
    lit->green = values[from[1]];
    lit->blue = values[from[2]];
    lit->white = channels == 4 ? values[from[3]] : 0;
}

/* A reset: every chip that has all its bits shows them; a chip that has only some keeps what it showed. */
static void latch(struct line *line, uint64_t now_ns) {
    size_t bytes = line->bit_count / 8;
    size_t at = 0;
    uint16_t led = 0;
    for (uint8_t i = 0; i < line->output->stretch_count; i++) {
        const struct glanz_stretch *stretch = &line->output->stretches[i];
        uint16_t end = (uint16_t)(led + stretch->leds);
        uint8_t channels = stretch->chip->channels;
        uint8_t from[4] = {0, 0, 0, 0};
        find_channels(from, stretch);
        for (; led < end && bytes - at >= channels; led++) {
            light_up(&line->lit[led], line->bits + at, from, channels);
            at += channels;
        }
        if (led < end) {
            break;
        }
    }
    if (led < line->leds && line->misread.missing++ == 0 && line->misread.first[0] == '\0') {
        snprintf(line->misread.first, sizeof line->misread.first,
                 "output \"%.40s\": the frame ended at LED %u of %u, after %zu bits", line->output->name, led, line->leds,
                 line->bit_count);
    }
    if (led == line->leds && at * 8 != line->bit_count && line->misread.extra++ == 0 && line->misread.first[0] == '\0') {
        snprintf(line->misread.first, sizeof line->misread.first, "output \"%.40s\": %zu bits too many", line->output->name,
                 line->bit_count - at * 8);
    }
    line->bit_count = 0;
    line->pending = 0;
    if (line->setup->latched != NULL) {
        line->setup->latched(line->setup->user, line->index, now_ns / 1000u);
    }
}

static int bit_at(const struct line *line, size_t index) {
    return line->bits[index / 8] >> (7 - index % 8) & 1;
}

static void add_bit(struct line *line, int one) {
    if (line->bit_count < line->bit_capacity) {
        uint8_t mask = (uint8_t)(128u >> line->bit_count % 8);
        uint8_t *byte = &line->bits[line->bit_count++ / 8];
        *byte = (uint8_t)(one ? *byte | mask : *byte & ~mask);
    }
}

static int within(uint64_t ns, uint32_t time, uint32_t tolerance) {
    return ns + tolerance >= time && ns <= (uint64_t)time + tolerance;
}

/* The stretch whose chip a bit is for: it is that chip's data sheet by which the bit is read. Bits behind the last chip's are
 * its own. `end`, unless NULL: the first bit of the next stretch. */
static uint8_t stretch_of_bit(const struct line *line, size_t index, size_t *end) {
    uint8_t last = (uint8_t)(line->output->stretch_count - 1);
    size_t bit = 0;
    uint8_t at = 0;
    for (;; at++) {
        bit += (size_t)line->output->stretches[at].leds * line->output->stretches[at].chip->channels * 8;
        if (index < bit || at == last) {
            break;
        }
    }
    if (end != NULL) {
        *end = at == last ? SIZE_MAX : bit;
    }
    return at;
}

static const struct glanz_chip *chip_of_bit(const struct line *line, size_t index) {
    return line->output->stretches[stretch_of_bit(line, index, NULL)].chip;
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
        if (!within(low, bit_at(line, line->bit_count - 1) ? chip->one_low_ns : chip->zero_low_ns, chip->tolerance_ns)) {
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
    add_bit(line, one);
    line->fell_ns = edge->time_ns;
    line->pending = 1;
}

/* A clocked LED has its 32 bits. All chips on a line with a clock have the same form. */
static void light_up_clocked(struct line *line, uint32_t led) {
    if (led < line->leds && (line->shift >> 29) == 7) {
        uint8_t values[3] = {(uint8_t)(line->shift >> 16), (uint8_t)(line->shift >> 8), (uint8_t)line->shift};
        const struct glanz_stretch *stretch = line->output->stretches;
        for (uint32_t before = led; before >= stretch->leds; stretch++) {
            before -= stretch->leds;
        }
        uint8_t from[4] = {0, 0, 0, 0};
        find_channels(from, stretch);
        light_up(&line->lit[led], values, from, 3);
        line->lit[led].field = (uint8_t)(line->shift >> 24) & 31u;
    } else if (led < line->leds && line->misread.missing++ == 0 && line->misread.first[0] == '\0') {
        snprintf(line->misread.first, sizeof line->misread.first, "output \"%.40s\": LED %u has no 111 at its start",
                 line->output->name, led);
    }
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
    if (line->clocked_bits % 32 == 0) {
        light_up_clocked(line, (uint32_t)line->clocked_bits / 32 - 1);
    }
}

static int is_clocked(const struct line *line) {
    return line->output->stretches[0].chip->protocol == GLANZ_CLOCKED;
}

static void begin_frame(struct line *line) {
    if (is_clocked(line)) {
        line->clocked_bits = -1;
        line->bit_count = 0;
    }
}

static void read_edges(struct line *line, const struct wave *wave, size_t from) {
    if (is_clocked(line)) {
        for (size_t i = from; i < wave->count; i++) {
            read_clocked(line, &wave->edges[i]);
        }
    } else {
        for (size_t i = from; i < wave->count; i++) {
            read_one_wire(line, &wave->edges[i]);
        }
    }
}

static void end_frame(struct line *line, uint64_t end_ns) {
    if (!is_clocked(line)) {
        return;
    }
    /* the last LED sees its data only after half a clock of delay for each LED before it */
    int32_t through = line->clocked_bits - (int32_t)line->leds * 32;
    if (through < (line->leds + 1) / 2 && line->misread.missing++ == 0 && line->misread.first[0] == '\0') {
        snprintf(line->misread.first, sizeof line->misread.first,
                 "output \"%.40s\": the data is not clocked through to the last LED", line->output->name);
    }
    if (line->setup->latched != NULL) {
        line->setup->latched(line->setup->user, line->index, end_ns / 1000u);
    }
}

void glanz_line_read(struct line *line, const struct wave *wave) {
    begin_frame(line);
    read_edges(line, wave, 0);
    end_frame(line, wave->end_ns);
}

/* ---- waves that were read before ---- */

/* One-wire: take bytes in whose waves are known, up to the first that is not, or the next chip's. The low before each is known
 * to be right but for the first. Returns how many. */
static size_t take_seen(struct line *line, struct pen *pen, const uint8_t *bytes, size_t count, int fresh) {
    size_t end;
    const struct seen *seen = line->seen[stretch_of_bit(line, line->bit_count, &end)];
    uint64_t at_ns = pen->at_ns, fell_ns = line->fell_ns;
    uint8_t *to = line->bits + line->bit_count / 8;
    size_t i = 0;
    end = (end < line->bit_capacity ? end : line->bit_capacity) - line->bit_count;
    count = count < end / 8 ? count : end / 8;
    if (count > 0 && seen[bytes[0]].known && fresh) {
        read_low(line, at_ns); /* which may latch */
        to = line->bits + line->bit_count / 8;
    }
    for (; i < count && seen[bytes[i]].known; i++) {
        const struct seen *of = &seen[bytes[i]];
        to[i] = of->value;
        fell_ns = at_ns + of->fell_ns;
        at_ns += of->took_ns;
    }
    if (i > 0) {
        line->bit_count += i * 8;
        line->fell_ns = fell_ns;
        line->pending = 1;
        pen->at_ns = at_ns;
    }
    return i;
}

/* Clocked: the same, behind the start frame. */
static size_t take_seen_clocked(struct line *line, struct pen *pen, const uint8_t *bytes, size_t count) {
    const struct seen *seen = line->seen[0];
    size_t i = 0;
    for (; i < count && seen[bytes[i]].known; i++) {
        line->shift = line->shift << 8 | seen[bytes[i]].value;
        line->clocked_bits += 8;
        if (line->clocked_bits % 32 == 0) {
            light_up_clocked(line, (uint32_t)line->clocked_bits / 32 - 1);
        }
        pen->at_ns += seen[bytes[i]].took_ns;
    }
    if (i > 0) {
        pen->level = bytes[i - 1] & 1;
        line->data_level = line->shift & 1;
    }
    return i;
}

/* Draw a byte's wave and have it read. Returns 1 when nothing was wrong with it, which is remembered then. */
static int read_unit(struct line *line, struct pen *pen, const uint8_t *bytes, size_t count) {
    struct wave *wave = pen->wave;
    uint64_t from_ns = pen->at_ns;
    size_t from = wave->count, bit = line->bit_count;
    uint32_t wrong = line->misread.pulses + line->misread.resets;
    if (!glanz_pen_draw(pen, bytes, count)) {
        return 0;
    }
    if (!is_clocked(line) && wave->count > from) { /* a latch at its begin is the frame's before */
        read_low(line, wave->edges[from].time_ns);
        bit = line->bit_count;
        line->rose_ns = wave->edges[from++].time_ns;
        wrong = line->misread.pulses + line->misread.resets;
    }
    read_edges(line, wave, from);
    if (pen->unit != 1) {
        return 0;
    }
    struct seen *of = &line->seen[is_clocked(line) ? 0 : stretch_of_bit(line, bit, NULL)][*bytes];
    of->took_ns = (uint32_t)(pen->at_ns - from_ns);
    if (is_clocked(line)) {
        of->value = (uint8_t)line->shift;
        of->known = 1; /* these chips have no times to miss: every clock is a bit */
    } else if (line->bit_count == bit + 8 && bit % 8 == 0 && line->misread.pulses + line->misread.resets == wrong) {
        const struct glanz_chip *chip = chip_of_bit(line, bit);
        of->value = line->bits[bit / 8];
        of->fell_ns = (uint32_t)(line->fell_ns - from_ns);
        of->known = (uint8_t)within(pen->at_ns - line->fell_ns, of->value & 1 ? chip->one_low_ns : chip->zero_low_ns,
                                    chip->tolerance_ns);
        return of->known;
    }
    return 0;
}

static void forget_seen(struct line *line, const struct pen *pen) {
    if (memcmp(&line->drawn, &pen->how, sizeof line->drawn) != 0) {
        memset(line->seen, 0, sizeof *line->seen * line->output->stretch_count);
        line->drawn = pen->how;
    }
}

/* Bytes one after the other; `fresh`: the low before the next is still to be judged. */
static int send_bytes(struct line *line, struct pen *pen, const uint8_t *bytes, size_t count, int whole, int *fresh) {
    for (size_t i = 0; i < count;) {
        size_t taken = 0;
        if (whole || pen->unit != 1) {
            /* every edge is wanted */
        } else if (is_clocked(line)) {
            taken =
                line->clocked_bits >= 0 && line->clocked_bits % 8 == 0 ? take_seen_clocked(line, pen, bytes + i, count - i) : 0;
        } else if (line->bit_count % 8 == 0) {
            taken = take_seen(line, pen, bytes + i, count - i, *fresh);
        }
        if (taken == 0) {
            size_t unit = count - i < pen->unit ? count - i : pen->unit;
            pen->wave->count = whole ? pen->wave->count : 0;
            *fresh = !read_unit(line, pen, bytes + i, unit);
            if (!pen->good) {
                return 0;
            }
            taken = unit;
        } else {
            *fresh = 0;
        }
        i += taken;
    }
    return 1;
}

int glanz_line_send(struct line *line, const struct glanz_sending *sending, uint64_t start_ns, struct wave *whole,
                    uint64_t *end_ns) {
    struct pen pen;
    size_t drop = line->setup->drop_byte; /* as when a DMA transfer comes up short */
    int fresh = 1;
    struct wave *wave = whole != NULL ? whole : &line->piece;
    wave->count = 0;
    if (!glanz_pen_begin(&pen, line->setup, sending->output, wave, start_ns)) {
        return 0;
    }
    forget_seen(line, &pen);
    begin_frame(line);
    size_t first = drop != 0 && drop <= sending->count ? drop - 1 : sending->count;
    size_t second = first < sending->count ? sending->count - first - 1 : 0;
    if (!send_bytes(line, &pen, sending->bytes, first, whole != NULL, &fresh) ||
        !send_bytes(line, &pen, sending->bytes + sending->count - second, second, whole != NULL, &fresh)) {
        return 0;
    }
    size_t drawn = wave->count;
    if (!glanz_pen_end(&pen)) {
        return 0;
    }
    read_edges(line, wave, drawn);
    wave->end_ns = *end_ns = pen.at_ns;
    end_frame(line, pen.at_ns);
    return 1;
}

void glanz_line_idle(struct line *line, uint64_t now_ns) {
    if (line->pending && now_ns > line->fell_ns &&
        now_ns - line->fell_ns >= (uint64_t)glanz_line_reset_us(line->output) * 1000u) {
        latch(line, line->fell_ns + (uint64_t)glanz_line_reset_us(line->output) * 1000u);
    }
}
