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

struct wave { /* edges of one frame on one output, or of a part of it, in order of time */
    struct edge *edges;
    size_t count, capacity;
    uint64_t end_ns;
};

struct pen { /* a peripheral that draws on a data line */
    struct wave *wave;
    uint64_t at_ns;
    uint8_t level;
    uint8_t unit; /* bytes that are drawn together */
    int good;
    struct drawing { /* all that the shape of a byte's wave depends on; no padding but zeros */
        enum { PEN_RAW, PEN_SPI, PEN_UART, PEN_CLOCKED } kind;
        int percent;
        struct glanz_timing timing;
        struct glanz_slots slots;
    } how;
};

struct seen { /* what chips of one kind read a byte's wave as, when nothing was wrong with it */
    uint8_t known, value;
    uint32_t fell_ns, took_ns; /* its last falling edge and its end, from its begin */
};

struct line { /* one output's LEDs, as they are wired */
    const struct glanz_output *output;
    const struct glanz_board_setup *setup;
    uint8_t index;
    uint16_t leds;
    struct glanz_lit *lit; /* latched */
    uint8_t *bits;         /* taken in since the last latch, eight a byte, the first highest */
    size_t bit_count, bit_capacity;
    uint64_t rose_ns, fell_ns; /* the last edges of the data line */
    uint8_t data_level;
    uint8_t pending;  /* bits wait for a latch */
    uint32_t shift;   /* clocked: the last 32 bits */
    int clocked_bits; /* since the start frame; -1: none seen */
    struct glanz_misread misread;
    struct seen (*seen)[256]; /* by stretch; of waves that were drawn like `drawn` */
    struct drawing drawn;
    struct wave piece;
};

/* Slots a bit of a form that is not raw. */
uint8_t glanz_form_slots(enum glanz_form form);
/* Begin to draw a frame. 0 when the form does not fit the chips. */
int glanz_pen_begin(struct pen *pen, const struct glanz_board_setup *setup, const struct glanz_output *output,
                    struct wave *wave, uint64_t start_ns);
/* Draw a unit, of which `count` bytes are there; at the end, the line goes low. 0 without memory. */
int glanz_pen_draw(struct pen *pen, const uint8_t *bytes, size_t count);
int glanz_pen_end(struct pen *pen);

int glanz_line_open(struct line *line, const struct glanz_board_setup *setup, uint8_t index);
void glanz_line_close(struct line *line);
/* Clock bytes out and have the chips read them. Where `whole` is given, all edges of the frame are in it afterwards. A wave
 * that the chips have read before, with nothing wrong, is not drawn again: they see in it what they saw. Sets the time of its
 * end. 0 without memory. */
int glanz_line_send(struct line *line, const struct glanz_sending *sending, uint64_t start_ns, struct wave *whole,
                    uint64_t *end_ns);
/* The chips read edges. */
void glanz_line_read(struct line *line, const struct wave *wave);
void glanz_line_idle(struct line *line, uint64_t now_ns); /* nothing has happened on the line up to now */
uint16_t glanz_line_reset_us(const struct glanz_output *output);
void glanz_vcd_begin(FILE *file, const struct glanz_rig *rig);
void glanz_vcd_write(FILE *file, const struct glanz_rig *rig, const struct wave *waves, uint64_t zero_ns);
void glanz_vcd_end(FILE *file, const struct glanz_rig *rig, uint64_t time_ns);

/* serial.c. @return 0: the fault says why; or the line is gone. */
int glanz_line_open_serial(int *serial, const struct glanz_board_setup *setup, struct glanz_fault *fault);
int glanz_line_put_serial(int serial, GLANZ_CONST struct glanz_rig *rig, const struct glanz_sending *list, uint8_t count);
void glanz_line_close_serial(int serial);

#endif
