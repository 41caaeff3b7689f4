/* SPDX-License-Identifier: MIT */
/* play: a show in the terminal, in real time or faster; as plain text where there is no terminal. */
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include "commands.h"
#include "screen.h"
#include "watch.h"

struct player {
    struct screen screen;
    struct session *session;
    struct watch *watch;
    int frozen; /* by a key: the show stands still */
    int single; /* one frame all the same */
};

/* What happened last, under the LEDs, as far as there is room. */
static void draw_events(struct screen *screen) {
    if (screen->session->events == NULL) {
        return;
    }
    int top = (int)screen->height + 5;
    int capacity = screen->foot - 1 - top;
    const char *end;
    fflush(screen->session->events);
    const char *at = screen->events + screen->event_count;
    for (int lines = capacity > 10 ? 10 : capacity; lines > 0 && at > screen->events;) {
        at--;
        lines -= at > screen->events && at[-1] == '\n';
    }
    for (int row = top; row < screen->foot - 1 && row < top + 10; row++, at = end) {
        end = strchr(at, '\n');
        end = end == NULL ? at + strlen(at) : end + 1;
        screen_line(screen, row, at);
    }
}

/* What the compiler said, in place of what happened. */
static void draw_words(struct screen *screen, const char *at) {
    for (int row = (int)screen->height + 5; row < screen->foot - 1; row++) {
        size_t count = strcspn(at, "\n");
        screen_line(screen, row, at);
        at += count + (at[count] == '\n');
    }
}

/* Which key does what, on the last rows. */
static void put_keys(struct player *player) {
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(player->session->device);
    char text[1200];
    size_t used = (size_t)snprintf(text, sizeof text, "keys: q quit; %s", player->frozen ? "f go on, s one frame" : "f freeze");
    for (uint8_t i = 0; i < rig->input_count && i < 9; i++) {
        int button = rig->inputs[i].kind == GLANZ_INPUT_BUTTON;
        used += (size_t)snprintf(text + used, sizeof text - used,
                                 button ? "; %d press %.60s, %c hold it" : "; %d turn %.60s up, %c down", i + 1,
                                 rig->inputs[i].name, "!\"#$%&'()"[i]);
    }
    screen_foot(&player->screen, text);
}

static void draw(struct player *player) {
    struct session *session = player->session;
    struct screen *screen = &player->screen;
    char line[400];
    uint64_t ua = 0;
    screen_begin(screen);
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(session->device);
    for (uint8_t s = 0; s < rig->supply_count; s++) {
        ua += glanz_engine_supply_ua(glanz_device_engine(session->device), s);
    }
    uint8_t item = 0;
    uint8_t list = glanz_control_playing(glanz_device_control(session->device), 0, &item);
    GLANZ_CONST struct glanz_show *show = glanz_device_show(session->device);
    snprintf(line, sizeof line, "%s  %7.2f s  %5.2f A  %s", show->name, (double)session->now_us / 1e6, (double)ua / 1e6,
             list == GLANZ_ALL ? "" : show->presets[show->playlists[list].items[item].preset].name);
    screen_line(screen, 1, line);
    put_keys(player);
    screen_put_leds(screen);
    if (player->watch->words.count != 0) {
        draw_words(screen, player->watch->words.bytes);
    } else {
        draw_events(screen);
    }
    screen_show(screen);
}

static void take_key(struct player *player) {
    char key = screen_key(&player->screen);
    if (key == 0) {
        return;
    }
    struct session *session = player->session;
    uint64_t at = session->now_us + 1000;
    const char *holds = "!\"#$%&'()";
    const char *hold = strchr(holds, key);
    int input = key >= '1' && key <= '9' ? key - '1' : key == ' ' ? 0 : hold != NULL && key != 0 ? (int)(hold - holds) : -1;
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(session->device);
    if (key == 'q') {
        screen_stop();
    } else if (key == 'f') {
        player->frozen = !player->frozen;
    } else if (key == 's') {
        player->single = player->frozen;
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
    struct player player;
    uint64_t drawn = 0;
    uint64_t held = 0; /* real time in which the show was frozen */
    memset(&player, 0, sizeof player);
    player.session = session;
    player.watch = watch;
    screen_watch_signals();
    if (on_screen) {
        screen_open(&player.screen, session);
    } else {
        session->events = stdout;
    }
    while (!screen_stopped() && (for_us == 0 || session->frame * 1000000u / session->frame_rate < for_us)) {
        if (!player.frozen || player.single) {
            (void)session_step(session);
        }
        player.single = 0;
        watch_look(watch, session);
        if (on_screen) {
            uint64_t real = glanz_board_real_us(session->board);
            if (real - drawn >= 33000 || drawn == 0) {
                draw(&player);
                drawn = real;
            }
            take_key(&player);
            uint64_t due = (uint64_t)((double)session->now_us / speed) + held;
            if (player.frozen) { /* time stands still, for the show and what is pressed alike */
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
        screen_close(&player.screen);
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
    int on_screen = isatty(1) && !plain && may_color();
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

const struct command command_play = {"play",     "play a show in the terminal, or as plain text",
                                     "RIG SHOW", "  glanz play demo/rig.json demo/show.json --inputs demo/visitor.jsonl\n",
                                     run,        LIGHTS_SERIAL};
