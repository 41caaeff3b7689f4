/* SPDX-License-Identifier: MIT */
/* play: a show in the terminal, in real time or faster; as plain text where there is no terminal. */
#include <poll.h>
#include <signal.h>
#include <stdlib.h>
#include <string.h>
#include <sys/ioctl.h>
#include <termios.h>
#include <unistd.h>

#include "commands.h"
#include "effects.h"
#include "watch.h"

static volatile sig_atomic_t stopped;

static void on_signal(int number) {
    (void)number;
    stopped = 1;
}

struct screen {
    struct session *session;
    struct spot *spots;
    size_t leds;
    int columns, rows;
    double width, height;
    struct text text;
    char *events; /* what happened, as text */
    size_t event_count;
    struct termios before;
    int raw;
    struct watch *watch;
    int frozen; /* by a key: the show stands still */
    int single; /* one frame all the same */
};

static void put(struct screen *screen, const char *text) {
    text_add(text, strlen(text), &screen->text);
}

static void lay_out(struct screen *screen) { /* the window may have changed */
    struct winsize size = {24, 80, 0, 0};
    if (ioctl(1, TIOCGWINSZ, &size) != 0 || size.ws_col < 10) {
        size.ws_col = 80;
        size.ws_row = 24;
    }
    if (size.ws_col != screen->columns || size.ws_row != screen->rows) {
        free(screen->spots);
        screen->columns = size.ws_col;
        screen->rows = size.ws_row;
        screen->leds = spots_of(&screen->spots, &screen->width, &screen->height, screen->session->rig.rig, size.ws_col / 2);
        put(screen, "\x1b[2J");
    }
}

/* LEDs as pairs of cells, so that they come out about square. */
static void draw_leds(struct screen *screen) {
    char cell[64];
    for (size_t i = 0; i < screen->leds; i++) {
        int x = (int)screen->spots[i].x * 2 + 1;
        int y = (int)screen->spots[i].y + 3;
        uint8_t rgb[3];
        if (y >= screen->rows - 1 || x + 1 > screen->columns) {
            continue;
        }
        session_seen(rgb, screen->session, screen->spots[i].output, screen->spots[i].led);
        snprintf(cell, sizeof cell, "\x1b[%d;%dH\x1b[48;2;%d;%d;%dm  ", y, x, rgb[0], rgb[1], rgb[2]);
        put(screen, cell);
    }
    put(screen, "\x1b[0m");
}

/* What happened last, under the LEDs, as far as there is room. */
static void draw_events(struct screen *screen) {
    if (screen->session->events == NULL) {
        return;
    }
    int top = (int)screen->height + 5;
    int capacity = screen->rows - 1 - top;
    const char *end;
    char place[32];
    fflush(screen->session->events);
    const char *at = screen->events + screen->event_count;
    for (int lines = capacity > 10 ? 10 : capacity; lines > 0 && at > screen->events;) {
        at--;
        lines -= at > screen->events && at[-1] == '\n';
    }
    for (int row = top; row < screen->rows - 1 && row < top + 10; row++, at = end) {
        end = strchr(at, '\n');
        end = end == NULL ? at + strlen(at) : end + 1;
        snprintf(place, sizeof place, "\x1b[%d;1H", row);
        put(screen, place);
        text_add(at, (size_t)(end - at) - (end > at), &screen->text);
        put(screen, "\x1b[K");
    }
}

/* What the compiler said, in place of what happened. */
static void draw_words(struct screen *screen, const char *at) {
    char place[32];
    for (int row = (int)screen->height + 5; row < screen->rows - 1; row++) {
        size_t count = strcspn(at, "\n");
        snprintf(place, sizeof place, "\x1b[%d;1H", row);
        put(screen, place);
        text_add(at, count > (size_t)screen->columns ? (size_t)screen->columns : count, &screen->text);
        put(screen, "\x1b[K");
        at += count + (at[count] == '\n');
    }
}

static void draw(struct screen *screen) {
    struct session *session = screen->session;
    char line[400];
    uint64_t ua = 0;
    lay_out(screen);
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(session->device);
    for (uint8_t s = 0; s < rig->supply_count; s++) {
        ua += glanz_engine_supply_ua(glanz_device_engine(session->device), s);
    }
    uint8_t item = 0;
    uint8_t list = glanz_control_playing(glanz_device_control(session->device), 0, &item);
    GLANZ_CONST struct glanz_show *show = glanz_device_show(session->device);
    snprintf(line, sizeof line, "\x1b[1;1H%s  %7.2f s  %5.2f A  %s\x1b[K", show->name, (double)session->now_us / 1e6,
             (double)ua / 1e6, list == GLANZ_ALL ? "" : show->presets[show->playlists[list].items[item].preset].name);
    put(screen, line);
    draw_leds(screen);
    if (screen->watch->words.count != 0) {
        draw_words(screen, screen->watch->words.bytes);
    } else {
        draw_events(screen);
    }
    snprintf(line, sizeof line, "\x1b[%d;1Hkeys: ", screen->rows);
    put(screen, line);
    for (uint8_t i = 0; i < rig->input_count && i < 9; i++) {
        int button = rig->inputs[i].kind == GLANZ_INPUT_BUTTON;
        snprintf(line, sizeof line, button ? "%d press %s, %c hold it; " : "%d turn %s up, %c down; ", i + 1,
                 rig->inputs[i].name, "!\"#$%&'()"[i]);
        put(screen, line);
    }
    put(screen, screen->frozen ? "f go on, s one frame; q quit\x1b[K" : "f freeze; q quit\x1b[K");
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

static void open_screen(struct screen *screen) {
    struct termios raw;
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

static void close_screen(struct screen *screen) {
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

static void take_key(struct screen *screen) {
    struct pollfd ready = {0, POLLIN, 0};
    char key = 0;
    if (!screen->raw || poll(&ready, 1, 0) <= 0 || read(0, &key, 1) != 1) {
        return;
    }
    struct session *session = screen->session;
    uint64_t at = session->now_us + 1000;
    const char *holds = "!\"#$%&'()";
    const char *hold = strchr(holds, key);
    int input = key >= '1' && key <= '9' ? key - '1' : key == ' ' ? 0 : hold != NULL && key != 0 ? (int)(hold - holds) : -1;
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(session->device);
    if (key == 'q') {
        stopped = 1;
    } else if (key == 'f') {
        screen->frozen = !screen->frozen;
    } else if (key == 's') {
        screen->single = screen->frozen;
    } else if (input >= 0 && input < rig->input_count && rig->inputs[input].kind == GLANZ_INPUT_BUTTON) {
        session_press(session, (uint8_t)input, at, hold != NULL ? 900000 : 90000);
    } else if (input >= 0 && input < rig->input_count) {
        (void)session_turn(session, (uint8_t)input, hold != NULL ? -2731 : 2731, 1, at, 100000); /* 15 degrees, or 1/24 */
    }
}

/* Without a terminal: a line a second with the mean of each surface, and what happens in between. */
static void tell_second(struct session *session) {
    GLANZ_CONST struct glanz_rig *rig = session->rig.rig;
    printf("%9.3f s ", (double)session->now_us / 1e6);
    for (uint8_t s = 0; s < rig->surface_count; s++) {
        uint32_t sum[3] = {0, 0, 0};
        uint16_t leds = glanz_surface_leds(&rig->surfaces[s]);
        for (uint8_t p = 0; p < rig->surfaces[s].piece_count; p++) {
            GLANZ_CONST struct glanz_piece *piece = &rig->surfaces[s].pieces[p];
            for (uint16_t i = 0; i < piece->leds; i++) {
                uint8_t rgb[3];
                session_seen(rgb, session, piece->output, (uint16_t)(piece->first + i));
                for (int c = 0; c < 3; c++) {
                    sum[c] += rgb[c];
                }
            }
        }
        printf(" %s #%02x%02x%02x", rig->surfaces[s].name, sum[0] / leds, sum[1] / leds, sum[2] / leds);
    }
    uint64_t ua = 0;
    for (uint8_t s = 0; s < rig->supply_count; s++) {
        ua += glanz_engine_supply_ua(glanz_device_engine(session->device), s);
    }
    printf("  %.2f A\n", (double)ua / 1e6);
    fflush(stdout); /* whoever reads along sees it now */
}

static void play(struct session *session, struct watch *watch, uint64_t for_us, double speed, int on_screen) {
    struct screen screen;
    uint64_t drawn = 0;
    uint64_t held = 0; /* real time in which the show was frozen */
    memset(&screen, 0, sizeof screen);
    screen.session = session;
    screen.watch = watch;
    static const int ends[] = {SIGINT, SIGTERM, SIGQUIT, SIGHUP}; /* the terminal is set back before it ends */
    for (size_t i = 0; i < sizeof ends / sizeof ends[0]; i++) {
        signal(ends[i], on_signal);
    }
    if (on_screen) {
        open_screen(&screen);
    } else {
        session->events = stdout;
    }
    while (!stopped && (for_us == 0 || session->frame * 1000000u / session->frame_rate < for_us)) {
        if (!screen.frozen || screen.single) {
            (void)session_step(session);
        }
        screen.single = 0;
        watch_look(watch, session);
        if (on_screen) {
            uint64_t real = glanz_board_real_us(session->board);
            if (real - drawn >= 33000 || drawn == 0) {
                draw(&screen);
                drawn = real;
            }
            take_key(&screen);
            uint64_t due = (uint64_t)((double)session->now_us / speed) + held;
            if (screen.frozen) { /* time stands still, for the show and what is pressed alike */
                held += real + 5000 > due ? real + 5000 - due : 0;
                due = (uint64_t)((double)session->now_us / speed) + held;
            }
            glanz_board_wait_until(session->board, due);
            continue;
        }
        if (watch->path != NULL) { /* someone edits beside it */
            glanz_board_wait_until(session->board, (uint64_t)((double)session->now_us / speed));
        }
        if (session->now_us % 1000000u < 1000000u / session->frame_rate) {
            tell_second(session);
        }
    }
    if (on_screen) {
        close_screen(&screen);
    }
}

static int run(int argc, const char **argv) {
    static struct session session;
    struct arguments arguments;
    struct glanz_board_setup setup;
    struct output recorded;
    uint64_t for_us = 0;
    double speed = 1;
    int plain = 0;
    int single = 0;
    int code;
    struct watch watch;
    char *watched = NULL;
    char *inputs = NULL;
    char *sound = NULL;
    char *record = NULL;
    char *store = NULL;
    char *time_text = NULL;
    const struct poptOption options[] = {
        {"for", 't', POPT_ARG_STRING, &time_text, 0, "end after this time (default: until q; without a terminal 10 s)", "TIME"},
        {"speed", 'x', POPT_ARG_DOUBLE, &speed, 0, "on the terminal, so many times as fast as real (default 1)", "FACTOR"},
        {"inputs", 'i', POPT_ARG_STRING, &inputs, 0, "input log to play", "FILE"},
        {"sound", 0, POPT_ARG_STRING, &sound, 0, "sound file, - or alsa:NAME that the first input for sound hears", "FILE"},
        {"record", 0, POPT_ARG_STRING, &record, 0, "write all that comes in, edges and values raw, as an input log", "FILE"},
        {"store", 's', POPT_ARG_STRING, &store, 0, "image of a NOR flash in which presets are saved; made if needed", "FILE"},
        {"watch", 0, POPT_ARG_STRING, &watched, 0,
         "effects of your own from this C file, built anew whenever it is saved; the light goes on", "FILE"},
        {"single-frames", 0, POPT_ARG_NONE, &single, 0, "show single frames, not the mean over a dither period", NULL},
        {"plain", 'p', POPT_ARG_NONE, &plain, 0, "plain text, as without a terminal", NULL},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_play, argc, argv, options, 2, 2, &code)) {
        return code;
    }
    int on_screen = isatty(1) && !plain;
    code = time_text != NULL && !time_of(&for_us, time_text, "--for") ? EXIT_USAGE : EXIT_GOOD;
    if (code == EXIT_GOOD && !(speed > 0.01 && speed <= 10000)) {
        complain_plain("--speed: expected 0.01 to 10000");
        code = EXIT_USAGE;
    }
    memset(&watch, 0, sizeof watch);
    code = code == EXIT_GOOD && watched != NULL ? watch_begin(&watch, watched) : code;
    for_us = for_us == 0 && !on_screen && watched == NULL ? 10000000 : for_us;
    memset(&setup, 0, sizeof setup);
    setup.store = store;
    setup.log = on_screen ? NULL : stderr;
    if (code == EXIT_GOOD) {
        setup.sound = sound;
        code = session_open(&session, arguments.path[0], arguments.path[1], inputs, &setup, 0);
    }
    if (code == EXIT_GOOD && !output_open(&recorded, record)) {
        session_close(&session);
        code = EXIT_FILE;
    }
    if (code == EXIT_GOOD) {
        session.record = recorded.file;
        session.single_frames = single;
        play(&session, &watch, for_us, speed, on_screen);
        glanz_board_finish(session.board);
        code = report_misreads(&session) != 0 ? EXIT_FOUND : session.complaints != 0 ? EXIT_REFUSED : EXIT_GOOD;
        code = output_close(&recorded, 1) ? code : EXIT_FILE;
        session_close(&session);
    }
    watch_end(&watch);
    free(watched);
    free(inputs);
    free(sound);
    free(record);
    free(store);
    free(time_text);
    arguments_free(&arguments);
    return code;
}

const struct command command_play = {"play", "play a show in the terminal, or as plain text", "RIG SHOW",
                                     "  glanz play demo/rig.json demo/show.json --inputs demo/visitor.jsonl\n", run};
