/* SPDX-License-Identifier: MIT */
/* The simulated board: port functions, time, store, log. The waveform and the chips that read it are in line.c. */
#include <errno.h>
#include <fcntl.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <time.h>
#include <unistd.h>

#include <glanz/nor.h>

#include "line.h"

struct glanz_board {
    struct glanz_board_setup setup;
    struct glanz_port port;
    struct line *lines; /* one for each output of the hardware */
    struct wave *waves; /* their edges of the frame on its way, while a VCD is written */
    uint64_t now_us, busy_until_us;
    struct past { /* what was shown from then on, output after output; a ring */
        uint64_t from_us;
        struct glanz_lit *lit;
    } past[GLANZ_SEEN_MOST];
    uint8_t past_at; /* the newest of them; what is lit now follows it */
    uint64_t lit_from_us;
    struct timespec opened;
    struct glanz_nor nor;
    uint8_t *flash;
    size_t flash_size;
    int serial; /* -1: none */
};

/* ---- sending ---- */

static struct line *line_at_pin(struct glanz_board *board, uint8_t pin) {
    for (uint8_t i = 0; i < board->setup.hardware->output_count; i++) {
        if (board->setup.hardware->outputs[i].pin == pin) {
            return &board->lines[i];
        }
    }
    return NULL;
}

/* What is lit now becomes the past. */
static void keep_past(struct glanz_board *board) {
    board->past_at = (uint8_t)((board->past_at + 1u) % GLANZ_SEEN_MOST);
    struct past *past = &board->past[board->past_at];
    struct glanz_lit *to = past->lit;
    past->from_us = board->lit_from_us;
    board->lit_from_us = board->now_us;
    for (uint8_t i = 0; i < board->setup.hardware->output_count; i++) {
        memcpy(to, board->lines[i].lit, sizeof *to * board->lines[i].leds);
        to += board->lines[i].leds;
    }
}

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    struct glanz_board *board = (struct glanz_board *)user;
    uint64_t end_ns = board->now_us * 1000u;
    int traced = board->setup.vcd != NULL && board->now_us >= board->setup.vcd_from_us;
    if (board->setup.fail_start) {
        return GLANZ_ERR_PORT;
    }
    if (board->setup.sent != NULL) {
        board->setup.sent(board->setup.user, list, count);
    }
    if (board->serial >= 0 && !glanz_line_put_serial(board->serial, board->setup.hardware, list, count)) {
        return GLANZ_ERR_PORT;
    }
    keep_past(board);
    for (uint8_t i = 0; i < board->setup.hardware->output_count; i++) {
        board->waves[i].count = 0;
    }
    for (uint8_t i = 0; i < count; i++) {
        struct line *line = line_at_pin(board, list[i].output->pin);
        if (line == NULL) {
            continue; /* nothing is wired there */
        }
        uint64_t line_ns;
        if (!glanz_line_send(line, &list[i], board->now_us * 1000u, traced ? &board->waves[line - board->lines] : NULL,
                             &line_ns)) {
            return GLANZ_ERR_PORT;
        }
        line_ns += (uint64_t)glanz_line_reset_us(list[i].output) * 1000u;
        end_ns = line_ns > end_ns ? line_ns : end_ns;
    }
    if (traced) {
        glanz_vcd_write(board->setup.vcd, board->setup.hardware, board->waves, board->setup.vcd_from_us * 1000u);
    }
    board->busy_until_us = (end_ns + 999u) / 1000u;
    return GLANZ_OK;
}

static int busy(void *user) {
    const struct glanz_board *board = (const struct glanz_board *)user;
    return board->setup.never_end ? board->busy_until_us != 0 : board->now_us < board->busy_until_us;
}

static void stop(void *user) {
    struct glanz_board *board = (struct glanz_board *)user;
    board->busy_until_us = 0;
}

static uint32_t time_us(void *user) {
    return (uint32_t)((const struct glanz_board *)user)->now_us;
}

static void put_log(void *user, const char *text) {
    const struct glanz_board *board = (const struct glanz_board *)user;
    if (board->setup.log != NULL) {
        fprintf(board->setup.log, "%.3f s: %s\n", (double)board->now_us / 1e6, text);
    }
}

/* ---- the store: NOR flash in a file ---- */

#define SECTOR_BYTES 8192u
#define SECTORS 8u
#define UNIT 4u

/* Map the file, made and erased if it is not there. One that is there tells its shape itself. */
static int open_flash(struct glanz_board *board, struct glanz_fault *fault) {
    const char *path = board->setup.store;
    struct glanz_medium shape = {
        .sector_bytes = board->setup.store_sector_bytes == 0 ? SECTOR_BYTES : board->setup.store_sector_bytes, .unit = UNIT};
    struct stat is;
    int file = open(path, O_RDWR | O_CREAT, 0666);
    int good = file >= 0 && fstat(file, &is) == 0;
    size_t size = good ? (size_t)is.st_size : 0;
    uint8_t mark[12];
    for (size_t at = 0; at + sizeof mark <= size &&
                        !(pread(file, mark, sizeof mark, (off_t)at) == (ssize_t)sizeof mark && glanz_store_shape(&shape, mark));
         at += 256) {
    }
    uint32_t sector_bytes = shape.sector_bytes;
    if (good && size == 0) {
        size = (size_t)sector_bytes * SECTORS;
    }
    if (good && S_ISREG(is.st_mode) && size % sector_bytes == 0) { /* all of it, now: a full disk must not be found out later */
        int reason = posix_fallocate(file, 0, (off_t)size);
        good = reason == 0;
        errno = reason;
        if (!good && is.st_size == 0) {
            (void)unlink(path);
        }
    }
    if (good && (size % sector_bytes != 0 || size / sector_bytes < 2 || size / sector_bytes > 0xFFFFu)) {
        glanz_fault_begin(fault);
        glanz_fault_name(fault, path);
        glanz_fault_add(fault, " is no image of a store: expected a file of two or more sectors of ");
        glanz_fault_number(fault, sector_bytes);
        glanz_fault_add(fault, " bytes");
        close(file);
        return 0;
    }
    void *bytes = good ? mmap(NULL, size, PROT_READ | PROT_WRITE, MAP_SHARED, file, 0) : MAP_FAILED;
    if (file >= 0) {
        close(file);
    }
    if (bytes == MAP_FAILED) {
        glanz_fault_begin(fault);
        glanz_fault_add(fault, "cannot open the store ");
        glanz_fault_name(fault, path);
        glanz_fault_add(fault, ": ");
        glanz_fault_add(fault, strerror(errno));
        return 0;
    }
    board->flash = (uint8_t *)bytes;
    board->flash_size = size;
    if (is.st_size == 0) {
        memset(board->flash, 0xFF, size);
    }
    glanz_nor_begin(&board->nor, board->flash, sector_bytes, (uint16_t)(size / sector_bytes), shape.unit);
    board->nor.medium.program_us = 0;
    return 1;
}

/* ---- opening ---- */

static int check_forms(const struct glanz_board_setup *setup, struct glanz_fault *fault) {
    struct glanz_slots slots;
    uint8_t count = glanz_form_slots(setup->form);
    for (uint8_t o = 0; o < setup->hardware->output_count && setup->form != GLANZ_FORM_RAW; o++) {
        const struct glanz_chip *chip = setup->hardware->outputs[o].stretches[0].chip;
        if (chip->protocol == GLANZ_ONE_WIRE && glanz_output_slots(&setup->hardware->outputs[o], count, &slots) != GLANZ_OK) {
            glanz_fault_begin(fault);
            glanz_fault_at(fault, "outputs");
            glanz_fault_at(fault, setup->hardware->outputs[o].name);
            glanz_fault_number(fault, count);
            glanz_fault_add(fault, " slots a bit cannot keep the times of ");
            glanz_fault_name(fault, chip->name);
            glanz_fault_add(fault, count == 3 ? "; expected a form with 4 or 5" : "; expected another form");
            return 0;
        }
    }
    return 1;
}

struct glanz_board *glanz_board_open(const struct glanz_board_setup *setup, struct glanz_fault *fault) {
    if (setup == NULL || setup->hardware == NULL) {
        glanz_fault_begin(fault);
        glanz_fault_add(fault, setup == NULL ? "the board's setup is NULL; expected a struct glanz_board_setup"
                                             : "setup.hardware is NULL; expected the rig that is wired to the board");
        return NULL;
    }
    if (glanz_rig_check(setup->hardware, fault) != GLANZ_OK || !check_forms(setup, fault)) {
        return NULL;
    }
    struct glanz_board *board = (struct glanz_board *)calloc(1, sizeof *board);
    if (board == NULL) {
        (void)glanz_fault_memory(fault, "the simulated board", sizeof *board, 0);
        return NULL;
    }
    uint8_t outputs = setup->hardware->output_count;
    board->serial = -1;
    board->setup = *setup;
    board->lines = (struct line *)calloc(outputs, sizeof *board->lines);
    board->waves = (struct wave *)calloc(outputs, sizeof *board->waves);
    int good = board->lines != NULL && board->waves != NULL;
    for (uint8_t o = 0; good && o < outputs; o++) {
        good = glanz_line_open(&board->lines[o], &board->setup, o);
    }
    size_t leds = 0;
    for (uint8_t o = 0; good && o < outputs; o++) {
        leds += board->lines[o].leds;
    }
    struct glanz_lit *pasts = (struct glanz_lit *)calloc(leds == 0 ? 1 : leds * GLANZ_SEEN_MOST, sizeof *pasts);
    good = good && pasts != NULL;
    for (uint8_t i = 0; i < GLANZ_SEEN_MOST; i++) {
        board->past[i].lit = good ? pasts + i * leds : pasts;
    }
    board->port.version = 2;
    board->port.time_us = time_us;
    board->port.user = board;
    board->port.start = start;
    board->port.busy = busy;
    board->port.stop = stop;
    board->port.log = put_log;
    if (good && setup->store != NULL) {
        good = open_flash(board, fault);
    }
    good = good && (setup->serial == NULL || glanz_line_open_serial(&board->serial, setup, fault));
    if (!good) {
        glanz_board_close(board);
        return NULL;
    }
    clock_gettime(CLOCK_MONOTONIC, &board->opened);
    if (setup->vcd != NULL) {
        glanz_vcd_begin(setup->vcd, setup->hardware);
    }
    return board;
}

struct glanz_board *glanz_board_of(GLANZ_CONST struct glanz_rig *hardware, struct glanz_fault *fault) {
    struct glanz_board_setup setup;
    memset(&setup, 0, sizeof setup);
    setup.hardware = hardware;
    return glanz_board_open(&setup, fault);
}

int glanz_complain(const struct glanz_fault *fault) {
    const char *text = fault == NULL || fault->text[0] == '\0' ? "it failed without a word" : fault->text;
    fflush(stdout);
    fprintf(stderr, fault == NULL || fault->where[0] == '\0' ? "glanz: %s\n" : "glanz: %s (at %s)\n", text,
            fault == NULL ? "" : fault->where);
    return 1;
}

void glanz_board_close(struct glanz_board *board) {
    if (board == NULL) {
        return;
    }
    if (board->serial >= 0) {
        glanz_line_close_serial(board->serial);
    }
    for (uint8_t o = 0; o < board->setup.hardware->output_count; o++) {
        if (board->lines != NULL) {
            glanz_line_close(&board->lines[o]);
        }
        if (board->waves != NULL) {
            free(board->waves[o].edges);
        }
    }
    free(board->lines);
    free(board->waves);
    free(board->past[0].lit);
    if (board->flash != NULL) {
        munmap(board->flash, board->flash_size);
    }
    free(board);
}

const struct glanz_port *glanz_board_port(struct glanz_board *board) {
    return board == NULL ? NULL : &board->port;
}

const struct glanz_medium *glanz_board_medium(struct glanz_board *board) {
    return board == NULL || board->flash == NULL ? NULL : &board->nor.medium;
}

/* ---- time ---- */

void glanz_board_time(struct glanz_board *board, uint64_t now_us) {
    if (board == NULL || now_us < board->now_us) {
        return;
    }
    if (board->serial >= 0) {
        glanz_board_wait_until(board, now_us);
    }
    board->now_us = now_us;
    for (uint8_t o = 0; o < board->setup.hardware->output_count; o++) {
        glanz_line_idle(&board->lines[o], now_us * 1000u);
    }
}

uint64_t glanz_board_real_us(const struct glanz_board *board) {
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (uint64_t)((now.tv_sec - board->opened.tv_sec) * 1000000 + (now.tv_nsec - board->opened.tv_nsec) / 1000);
}

void glanz_board_wait_until(const struct glanz_board *board, uint64_t time_us) {
    uint64_t now = glanz_board_real_us(board);
    if (time_us > now) {
        struct timespec rest = {(time_t)((time_us - now) / 1000000u), (long)((time_us - now) % 1000000u) * 1000};
        nanosleep(&rest, NULL);
    }
}

void glanz_board_follow(struct glanz_board *board, uint64_t now_us) {
    if (board != NULL) {
        glanz_board_wait_until(board, now_us);
        glanz_board_time(board, now_us);
    }
}

void glanz_board_skew(struct glanz_board *board, int percent) {
    if (board != NULL) {
        board->setup.skew_percent = percent;
    }
}

void glanz_board_finish(struct glanz_board *board) {
    if (board != NULL) {
        glanz_board_time(board, board->busy_until_us > board->now_us ? board->busy_until_us : board->now_us);
        if (board->setup.vcd != NULL && board->now_us >= board->setup.vcd_from_us) {
            glanz_vcd_end(board->setup.vcd, board->setup.hardware, (board->now_us - board->setup.vcd_from_us) * 1000u);
        }
    }
}

/* ---- looking ---- */

struct glanz_lit glanz_board_lit(const struct glanz_board *board, uint8_t output, uint16_t led) {
    struct glanz_lit dark = {0, 0, 0, 0, 31};
    if (board == NULL || output >= board->setup.hardware->output_count || led >= board->lines[output].leds) {
        return dark;
    }
    return board->lines[output].lit[led];
}

struct glanz_misread glanz_board_misread(const struct glanz_board *board, uint8_t output) {
    struct glanz_misread none;
    memset(&none, 0, sizeof none);
    return board == NULL || output >= board->setup.hardware->output_count ? none : board->lines[output].misread;
}

void glanz_lit_coded(uint8_t *rgb, struct glanz_lit lit) {
    uint32_t levels[3] = {lit.red, lit.green, lit.blue};
    for (int c = 0; c < 3; c++) {
        uint32_t level = (levels[c] + lit.white) * 257u * lit.field / 31u;
        rgb[c] = glanz_coded((uint16_t)(level > 65535u ? 65535u : level));
    }
}

static void add_light(double *sums, struct glanz_lit lit, double us) {
    sums[0] += (lit.red + lit.white) * lit.field / 31.0 * us;
    sums[1] += (lit.green + lit.white) * lit.field / 31.0 * us;
    sums[2] += (lit.blue + lit.white) * lit.field / 31.0 * us;
}

void glanz_board_seen(uint8_t *rgb, const struct glanz_board *board, uint8_t output, uint16_t led, uint32_t window_us) {
    double sums[3] = {0, 0, 0};
    if (board == NULL || output >= board->setup.hardware->output_count || led >= board->lines[output].leds) {
        rgb[0] = rgb[1] = rgb[2] = 0;
        return;
    }
    size_t at = led;
    for (uint8_t i = 0; i < output; i++) {
        at += board->lines[i].leds;
    }
    uint64_t window = window_us == 0 ? 40000 : window_us;
    uint64_t first = board->now_us > window ? board->now_us - window : 0;
    uint64_t until = board->now_us;
    uint64_t from = board->lit_from_us > first ? board->lit_from_us : first;
    double seen = (double)(until - from) + (until == from);
    add_light(sums, board->lines[output].lit[led], seen);
    until = board->lit_from_us;
    for (uint8_t i = 0; i < GLANZ_SEEN_MOST && until > first; i++) {
        const struct past *past = &board->past[(board->past_at + GLANZ_SEEN_MOST - i) % GLANZ_SEEN_MOST];
        from = past->from_us > first ? past->from_us : first;
        if (until > from) {
            add_light(sums, past->lit[at], (double)(until - from));
            seen += (double)(until - from);
        }
        until = past->from_us;
    }
    for (int c = 0; c < 3; c++) {
        double level = sums[c] / seen * 257 + 0.5;
        rgb[c] = glanz_coded((uint16_t)(level > 65535 ? 65535 : level));
    }
}

void glanz_board_terminal(const struct glanz_board *board, FILE *to) {
    for (uint8_t o = 0; o < board->setup.hardware->output_count; o++) {
        for (uint16_t i = 0; i < board->lines[o].leds; i++) {
            uint8_t rgb[3];
            glanz_board_seen(rgb, board, o, i, 0);
            fprintf(to, "\x1b[48;2;%d;%d;%dm ", rgb[0], rgb[1], rgb[2]);
        }
        fputs("\x1b[0m ", to);
    }
    fputs("\r", to);
    fflush(to);
}

/* ---- a switch ---- */

uint8_t glanz_bounce(uint32_t *times, uint8_t *levels, uint8_t capacity, uint32_t time_us, uint8_t level, uint32_t seed) {
    if (times == NULL || levels == NULL || capacity == 0) {
        return 0;
    }
    uint32_t draw = glanz_hash(seed ^ time_us);
    uint8_t extra = (uint8_t)(draw % 5u) * 2u; /* up to four bounces, each two edges, within some 6 ms */
    uint8_t count = 0;
    times[count] = time_us;
    levels[count++] = level;
    for (uint8_t i = 0; i < extra && count < capacity; i++) {
        draw = glanz_hash(draw);
        time_us += 40u + draw % 700u;
        times[count] = time_us;
        levels[count++] = i % 2 == 0 ? !level : level;
    }
    if (levels[count - 1] != level) {
        count--;
    }
    return count;
}
