/* SPDX-License-Identifier: MIT */
/** @file
 *  The Linux port: a simulated board. Bytes are clocked out as a waveform on each data line, and simulated LED chips read
 *  that waveform by the times of their data sheets and latch as they do. What they misread is reported. Time is the
 *  caller's: it can run as fast as the processor allows, or follow the real clock.
 *
 *  Uses the heap and files; for desktops only.
 */
#ifndef GLANZ_LINUX_H
#define GLANZ_LINUX_H

#include <stdio.h>

#include <glanz/device.h>

GLANZ_HEADER_BEGIN

struct glanz_board; /**< opaque */

/** How one-wire bytes are clocked out. */
enum glanz_form {
    GLANZ_FORM_RAW,   /**< a peripheral that knows the chip's four times */
    GLANZ_FORM_SPI3,  /**< an SPI, 3 slots a bit */
    GLANZ_FORM_SPI4,  /**< an SPI, 4 slots a bit */
    GLANZ_FORM_UART3, /**< an inverted UART, 7 data bits, 3 slots a bit */
    GLANZ_FORM_UART4, /**< an inverted UART, 6 data bits, 4 slots a bit */
    GLANZ_FORM_UART5  /**< an inverted UART, 8 data bits, 5 slots a bit */
};

/** What a simulated LED shows: the bytes it latched, by channel, and its brightness field (31 on chips without). */
struct glanz_lit {
    uint8_t red, green, blue, white, field; /**< 0 to 255; of the field 0 to 31 */
};

/** What the chips on a line found wrong. */
struct glanz_misread {
    uint32_t pulses;  /**< pulses out of the data sheet's tolerance */
    uint32_t resets;  /**< lows too short for every revision to latch, too long for a bit */
    uint32_t missing; /**< frames that ended before every LED had its bits, or within a byte */
    uint32_t extra;   /**< frames with bits for more LEDs than there are */
    char first[160];  /**< the first of them in words; empty when there was none */
};

/** How a board is set up. Zero means default. */
struct glanz_board_setup {
    GLANZ_CONST struct glanz_rig *hardware; /**< what is really wired; a rig that runs may say otherwise */
    enum glanz_form form;                   /**< of one-wire outputs */
    const char *store;                      /**< file with the image of a NOR flash, made if needed; NULL: no store */
    uint32_t store_sector_bytes;            /**< of its sectors; 0 means 8192, of which a new one has eight */
    FILE *vcd;                              /**< every edge of every line goes here as IEEE 1364 value changes; NULL: none */
    uint64_t vcd_from_us;                   /**< edges before this time are left out of it, and its time begins here */
    const char *sound;                      /**< for the tool: what the first input for sound hears; NULL: nothing */
    FILE *log;                              /**< the device's log lines; NULL: none */
    /** A serial line, such as "/dev/ttyACM0" or "/dev/ttyUSB0@1000000" with its baud (default 115200): every frame goes there
     * too, in the form of glanz/serial.h, and the board's time follows the real clock. NULL: none. */
    const char *serial;
    int skew_percent;   /**< clock the line out so much too slow (positive) or too fast: to see chips misread */
    uint16_t drop_byte; /**< leave out this byte of every frame, counted from 1; 0: none */
    int fail_start;     /**< the port refuses to start sending */
    int never_end;      /**< sending never ends */
    /** Called for every frame that is handed over to be sent. */
    void (*sent)(void *user, const struct glanz_sending *list, uint8_t count);
    /** And for every frame that LEDs latched. */
    void (*latched)(void *user, uint8_t output, uint64_t time_us);
    void *user; /**< handed to both */
};

/** Open a simulated board. @return NULL when the setup, memory, the store's file, or a form that does not fit a chip's data
 *  sheet stands in the way; `fault` (may be NULL) says which. */
struct glanz_board *glanz_board_open(const struct glanz_board_setup *setup, struct glanz_fault *fault);
/** The same with the hardware that a rig says, and all else as it comes. */
struct glanz_board *glanz_board_of(GLANZ_CONST struct glanz_rig *hardware, struct glanz_fault *fault);
/** Close it; NULL is allowed. */
void glanz_board_close(struct glanz_board *board);

/** Say on standard error what went wrong, and where. @return 1, as the exit code of a program. */
int glanz_complain(const struct glanz_fault *fault);

/** The port to start a device with. Valid until the board is closed. */
const struct glanz_port *glanz_board_port(struct glanz_board *board);

/** What the store's bytes lie in, to start a store with; NULL without one. Valid until the board is closed. */
const struct glanz_medium *glanz_board_medium(struct glanz_board *board);

/** Set the board's time, microseconds since it was opened; never backwards. */
void glanz_board_time(struct glanz_board *board, uint64_t now_us);

/** From the next frame on clock the lines out so much too slow or too fast, as skew_percent: a clock that drifts. */
void glanz_board_skew(struct glanz_board *board, int percent);

/** Real time since the board was opened, microseconds, and a wait until a time of it. */
uint64_t glanz_board_real_us(const struct glanz_board *board);
/** Wait for the real clock. @param time_us microseconds since the board was opened. */
void glanz_board_wait_until(const struct glanz_board *board, uint64_t time_us);

/** Follow the real clock: wait until a time of it, and make it the board's time. */
void glanz_board_follow(struct glanz_board *board, uint64_t now_us);

/** End what is still on the lines, so that the last frame latches. */
void glanz_board_finish(struct glanz_board *board);

/** What an LED shows now. Outputs and LEDs are those of the hardware rig. */
struct glanz_lit glanz_board_lit(const struct glanz_board *board, uint8_t output, uint16_t led);
/** What the eye sees of an LED: the mean of the light that it showed over a time up to now, three sRGB bytes.
 *  @param window_us the time, such as a dither period; 0 means 40 ms; at most the last GLANZ_SEEN_MOST frames. */
void glanz_board_seen(uint8_t *rgb, const struct glanz_board *board, uint8_t output, uint16_t led, uint32_t window_us);
#define GLANZ_SEEN_MOST 32 /**< frames that a board remembers */
/** What went wrong on a line. */
struct glanz_misread glanz_board_misread(const struct glanz_board *board, uint8_t output);

/** Edges of a switch that bounces, as a real one does: for a press or a release at a time.
 *  @param times,levels room for `room` (16 are enough). @param seed differs from press to press.
 *  @return how many. */
uint8_t glanz_bounce(uint32_t *times, uint8_t *levels, uint8_t room, uint32_t time_us, uint8_t level, uint32_t seed);

/** Draw what the eye sees of the LEDs (glanz_board_seen()) as one line of a terminal, true colour; moves the cursor back to the
 *  line's start. */
void glanz_board_terminal(const struct glanz_board *board, FILE *to);

/** How a LED looks on a screen: three sRGB bytes of what it shows. */
void glanz_lit_coded(uint8_t *rgb, struct glanz_lit lit);

GLANZ_HEADER_END
#endif
