/* SPDX-License-Identifier: MIT */
/* The terminal: LEDs of a session as cells of colour, keys one by one. */
#ifndef GLANZ_TOOL_SCREEN_H
#define GLANZ_TOOL_SCREEN_H

#include <termios.h>

#include "commands.h"

struct screen {
    struct session *session;
    struct spot *spots;
    size_t leds;
    int columns, rows;
    int foot; /* the first row of screen_foot() */
    double width, height;
    struct text text; /* on its way */
    char *events;     /* what happened, as text */
    size_t event_count;
    struct termios before;
    int raw;
};

/* Take the terminal over, and what happens in the session as text. Signals that end a program end what runs in it first. */
void screen_open(struct screen *screen, struct session *session);
void screen_close(struct screen *screen);
/* Did one of those signals come, or was it ended by hand? */
int screen_stopped(void);
void screen_stop(void);
/* Signals that end a program are noted from now on; screen_open() does so too. */
void screen_watch_signals(void);

/* Lay out anew when the window has changed; before a picture is drawn. */
void screen_begin(struct screen *screen);
void screen_put(struct screen *screen, const char *text);
/* A line, cleared to its end. @param row from 1 on. */
void screen_line(struct screen *screen, int row, const char *text);
/* The last rows, as many as it takes: broken behind "; ". */
void screen_foot(struct screen *screen, const char *text);
void screen_put_leds(struct screen *screen);
/* All that was put goes out. */
void screen_show(struct screen *screen);
/* A key that was pressed; 0: none. */
char screen_key(const struct screen *screen);

#endif
