/* SPDX-License-Identifier: MIT */
/* Data lines of the simulated board: the waveform that a peripheral makes of bytes, the chips that read it, and value
 * changes for logic-analyser programs. Private to ports/linux. */
#ifndef GLANZ_LINUX_LINE_H
#define GLANZ_LINUX_LINE_H

#include <glanz/linux.h>

struct edge { /* a line takes a level */
    uint64_t time_ns;
    uint8_t clock; /* 0: data, 1: clock */
    uint8_t level;
};

struct wave { /* edges of one frame on one output, in order of time */
    struct edge *edges;
    size_t count, room;
    uint64_t end_ns;
};

struct line { /* one output's LEDs, as they are wired */
    const struct glanz_output *output;
    const struct glanz_board_setup *setup;
    uint8_t index;
    uint16_t leds;
    struct glanz_lit *lit; /* latched */
    uint8_t *bits;         /* taken in since the last latch, a bit a byte */
    size_t bit_count, bit_room;
    uint64_t rose_ns, fell_ns; /* the last edges of the data line */
    uint8_t level, data_level;
    uint8_t pending;  /* bits wait for a latch */
    uint32_t shift;   /* clocked: the last 32 bits */
    int clocked_bits; /* since the start frame; -1: none seen */
    struct glanz_misread misread;
};

int glanz_wave_make(struct wave *wave, const struct glanz_board_setup *setup, const struct glanz_sending *sending,
                    uint64_t start_ns);
int glanz_line_open(struct line *line, const struct glanz_board_setup *setup, uint8_t index);
void glanz_line_close(struct line *line);
void glanz_line_read(struct line *line, const struct wave *wave);
void glanz_line_idle(struct line *line, uint64_t now_ns); /* nothing has happened on the line up to now */
uint16_t glanz_line_reset_us(const struct glanz_output *output);
void glanz_vcd_begin(FILE *file, const struct glanz_rig *rig);
void glanz_vcd_write(FILE *file, const struct glanz_rig *rig, const struct wave *waves, uint64_t zero_ns);
void glanz_vcd_end(FILE *file, const struct glanz_rig *rig, uint64_t time_ns);

#endif
