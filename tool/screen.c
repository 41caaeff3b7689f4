/* SPDX-License-Identifier: MIT */
/* The terminal, by its standard sequences (ECMA-48), and true colour. */
#include "screen.h"

#include <poll.h>
#include <signal.h>
#include <stdlib.h>
#include <string.h>
#include <sys/ioctl.h>
#include <unistd.h>

#include "effects.h"

static volatile sig_atomic_t stopped;

static void on_signal(int number) {
    (void)number;
    stopped = 1;
}

int screen_stopped(void) {
    return stopped;
}

void screen_stop(void) {
    stopped = 1;
}

void screen_watch_signals(void) {
    static const int ends[] = {SIGINT, SIGTERM, SIGQUIT, SIGHUP}; /* the terminal is set back before it ends */
    for (size_t i = 0; i < sizeof ends / sizeof ends[0]; i++) {
        signal(ends[i], on_signal);
    }
}

void screen_put(struct screen *screen, const char *text) {
    text_add(text, strlen(text), &screen->text);
}

void screen_line(struct screen *screen, int row, const char *text) {
    char place[32];
    size_t count = strcspn(text, "\n");
    snprintf(place, sizeof place, "\x1b[%d;1H", row);
    screen_put(screen, place);
    text_add(text, count > (size_t)screen->columns ? (size_t)screen->columns : count, &screen->text);
    screen_put(screen, "\x1b[K");
}

#define FOOT_MOST 5 /* rows */

void screen_foot(struct screen *screen, const char *text) {
    size_t wide = (size_t)screen->columns;
    size_t counts[FOOT_MOST];
    int before = screen->foot;
    int rows = 0;
    for (const char *at = text; *at != '\0' && rows < FOOT_MOST; at += counts[rows++]) {
        counts[rows] = strlen(at);
        if (counts[rows] > wide) {
            size_t end = wide;
            while (end > 2 && (at[end - 1] != ' ' || at[end - 2] != ';')) {
                end--;
            }
            counts[rows] = end > 2 ? end : wide;
        }
    }
    screen->foot = screen->rows - rows + 1;
    for (int row = before < 1 ? screen->foot : before; row < screen->foot; row++) {
        screen_line(screen, row, "");
    }
    for (int i = 0; i < rows; text += counts[i++]) {
        char line[400];
        snprintf(line, sizeof line, "%.*s", (int)counts[i], text);
        screen_line(screen, screen->foot + i, line);
    }
}

void screen_begin(struct screen *screen) {
    struct winsize size = {24, 80, 0, 0};
    if (ioctl(1, TIOCGWINSZ, &size) != 0 || size.ws_col < 10) {
        size.ws_col = 80;
        size.ws_row = 24;
    }
    if (size.ws_col != screen->columns || size.ws_row != screen->rows) {
        free(screen->spots);
        screen->columns = size.ws_col;
        screen->rows = size.ws_row;
        screen->foot = size.ws_row;
        screen->leds = spots_of(&screen->spots, &screen->width, &screen->height, screen->session->rig.rig, size.ws_col / 2);
        screen_put(screen, "\x1b[2J");
    }
}

/* LEDs as pairs of cells, so that they come out about square. */
void screen_put_leds(struct screen *screen) {
    char cell[64];
    for (size_t i = 0; i < screen->leds; i++) {
        int x = (int)screen->spots[i].x * 2 + 1;
        int y = (int)screen->spots[i].y + 3;
        uint8_t rgb[3];
        if (y >= screen->foot - 1 || x + 1 > screen->columns) {
            continue;
        }
        session_seen(rgb, screen->session, screen->spots[i].output, screen->spots[i].led);
        snprintf(cell, sizeof cell, "\x1b[%d;%dH\x1b[48;2;%d;%d;%dm  ", y, x, rgb[0], rgb[1], rgb[2]);
        screen_put(screen, cell);
    }
    screen_put(screen, "\x1b[0m");
}

void screen_show(struct screen *screen) {
    fwrite(screen->text.bytes, 1, screen->text.count, stdout);
    fflush(stdout);
    screen->text.count = 0;
}

static const struct screen *open_now;

/* A signal's handler ends the program: the terminal as it was. */
static void restore_terminal(void) {
    static const char back[] = "\x1b[0m\x1b[?25h\x1b[?1049l";
    if (open_now != NULL) {
        (void)!write(1, back, sizeof back - 1);
        if (open_now->raw) {
            tcsetattr(0, TCSANOW, &open_now->before);
        }
    }
}

void screen_open(struct screen *screen, struct session *session) {
    struct termios raw;
    memset(screen, 0, sizeof *screen);
    screen->session = session;
    screen_watch_signals();
    open_now = screen;
    effects_before_end = restore_terminal;
    if (isatty(0) && tcgetattr(0, &screen->before) == 0) {
        raw = screen->before;
        raw.c_lflag &= ~(tcflag_t)(ICANON | ECHO);
        raw.c_cc[VMIN] = 0;
        raw.c_cc[VTIME] = 0;
        screen->raw = tcsetattr(0, TCSANOW, &raw) == 0;
    }
    fputs("\x1b[?1049h\x1b[?25l\x1b[2J", stdout);
    screen->session->events = open_memstream(&screen->events, &screen->event_count);
    if (screen->session->events != NULL) {
        fflush(screen->session->events);
    }
}

void screen_close(struct screen *screen) {
    open_now = NULL;
    fputs("\x1b[0m\x1b[?25h\x1b[?1049l", stdout);
    fflush(stdout);
    if (screen->raw) {
        tcsetattr(0, TCSANOW, &screen->before);
    }
    if (screen->session->events != NULL) {
        fclose(screen->session->events);
        screen->session->events = NULL;
    }
    free(screen->events);
    free(screen->spots);
    text_free(&screen->text);
}

char screen_key(const struct screen *screen) {
    struct pollfd ready = {0, POLLIN, 0};
    char key = 0;
    return !screen->raw || poll(&ready, 1, 0) <= 0 || read(0, &key, 1) != 1 ? 0 : key;
}
