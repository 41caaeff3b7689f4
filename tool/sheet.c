/* SPDX-License-Identifier: MIT */
/* sheet: pictures of a show: LEDs at their places at chosen moments, or each line over time. */
#include <cairo.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "commands.h"
#include "moving.h"
#include "page.h"
#include "view.h"

#define MARGIN 40.0
#define MOVING_US 40000 /* from frame to frame; times are told in hundredths of a second */
#define MOVING_MOST_S 60

struct wanted {                  /* what is drawn, and how */
    struct session *sessions[2]; /* one, or two beside each other */
    int count;
    double spread; /* of the light; 0: lamps */
    const char *path;
};

static void run_until(struct session *session, uint64_t time_us, uint64_t last_us) {
    while (session->frame * 1000000u / session->frame_rate <= time_us) {
        (void)session_step(session);
        progress("running", session->now_us, last_us);
    }
    /* what was sent for this moment latches in its own time: look just before the next frame */
    glanz_board_time(session->board, session->frame * 1000000u / session->frame_rate - 1);
}

/* One moment of each session, beside each other; the shows' names over them where there are two. */
static void draw_moment(struct view *view, cairo_t *cairo, const struct wanted *wanted, double left, double top) {
    for (int i = 0; i < wanted->count; i++) {
        double at = left + i * (view->width * view->step + 24);
        if (wanted->count > 1) {
            page_text(cairo, at, top + 12, 13, glanz_device_show(wanted->sessions[i]->device)->name);
        }
        view_draw(view, cairo, at, top + (wanted->count > 1 ? 22 : 0), wanted->sessions[i]);
    }
}

static double height_of(const struct view *view, const struct wanted *wanted) {
    return view->height * view->step + (wanted->count > 1 ? 22 : 0);
}

static int draw_moments(const struct wanted *wanted, const uint64_t *times, int count) {
    struct view view;
    char label[80];
    cairo_t *cairo;
    double room = (PAGE_WIDTH - 2 * MARGIN - 70 - 24.0 * (wanted->count - 1)) / wanted->count;
    if (!view_open(&view, wanted->sessions[0]->rig.rig, room, 24, wanted->spread)) {
        complain_plain("out of memory");
        return EXIT_FILE;
    }
    double band = height_of(&view, wanted) + 34;
    int page_height = (int)(count * band + 2 * MARGIN);
    cairo_surface_t *page = page_new(&cairo, PAGE_WIDTH, page_height > 30000 ? 30000 : page_height);
    for (int i = 0; i < count; i++) {
        double top = MARGIN + i * band;
        for (int k = 0; k < wanted->count; k++) {
            run_until(wanted->sessions[k], times[i], times[count - 1]);
        }
        snprintf(label, sizeof label, "%.2f s", (double)times[i] / 1e6);
        page_text(cairo, MARGIN - 10, top + 14, 14, label);
        draw_moment(&view, cairo, wanted, MARGIN + 70, top);
    }
    view_close(&view);
    return page_save(page, cairo, wanted->path);
}

/* A moving picture, 25 frames a second. */
static int draw_moving(const struct wanted *wanted, uint64_t from_us, uint64_t to_us) {
    struct view view;
    struct output output;
    cairo_t *cairo;
    double room = (720 - 40 - 24.0 * (wanted->count - 1)) / wanted->count;
    if (!view_open(&view, wanted->sessions[0]->rig.rig, room, 24, wanted->spread)) {
        complain_plain("out of memory");
        return EXIT_FILE;
    }
    int columns = (int)(wanted->count * view.width * view.step + 24 * (wanted->count - 1)) + 40;
    int rows = (int)height_of(&view, wanted) + 40;
    if (!output_open(&output, wanted->path)) {
        view_close(&view);
        return EXIT_FILE;
    }
    struct moving *moving = moving_open(output.file, columns, rows);
    int good = moving != NULL;
    for (uint64_t at = from_us; good && at < to_us; at += MOVING_US) {
        cairo_surface_t *page = page_new(&cairo, columns, rows);
        for (int k = 0; k < wanted->count; k++) {
            run_until(wanted->sessions[k], at, to_us);
        }
        draw_moment(&view, cairo, wanted, 20, 20);
        cairo_destroy(cairo);
        good = moving_add(moving, page, MOVING_US / 10000);
        cairo_surface_destroy(page);
    }
    good = moving != NULL && moving_close(moving) && good;
    if (!good) {
        complain_plain("cannot write %s as a moving picture", wanted->path);
    }
    view_close(&view);
    return output_close(&output, good) && good ? EXIT_GOOD : EXIT_FILE;
}

static int draw_over(struct session *session, uint64_t from_us, uint64_t to_us, const char *path) {
    GLANZ_CONST struct glanz_rig *rig = session->rig.rig;
    char label[128];
    int height = 760;
    double leds = 0;
    cairo_t *cairo;
    for (uint8_t s = 0; s < rig->surface_count; s++) {
        leds += glanz_surface_leds(&rig->surfaces[s]);
    }
    cairo_surface_t *page = page_new(&cairo, PAGE_WIDTH, height);
    cairo_set_antialias(cairo, CAIRO_ANTIALIAS_NONE);
    int shots = PAGE_WIDTH - (int)(2 * MARGIN) - 20;
    double gaps = 30.0 * (rig->surface_count - 1);
    double step = (height - 2 * MARGIN - 40 - gaps) / (leds < 1 ? 1 : leds);
    for (int x = 0; x < shots; x++) {
        run_until(session, from_us + (to_us - from_us) * (uint64_t)x / (uint64_t)shots, to_us);
        double y = MARGIN + 16;
        for (uint8_t s = 0; s < rig->surface_count; s++) {
            uint16_t here = glanz_surface_leds(&rig->surfaces[s]);
            uint16_t at = 0;
            for (uint8_t p = 0; p < rig->surfaces[s].piece_count; p++) {
                GLANZ_CONST struct glanz_piece *piece = &rig->surfaces[s].pieces[p];
                for (uint16_t i = 0; i < piece->leds; i++, at++) {
                    uint16_t led = (uint16_t)(piece->first + (piece->reversed ? piece->leds - 1 - i : i));
                    uint8_t rgb[3];
                    session_seen(rgb, session, piece->output, led);
                    cairo_set_source_rgb(cairo, rgb[0] / 255.0, rgb[1] / 255.0, rgb[2] / 255.0);
                    cairo_rectangle(cairo, MARGIN + 20 + x, y + at * step, 1, step + 0.5);
                    cairo_fill(cairo);
                }
            }
            if (x == 0) {
                snprintf(label, sizeof label, "%s, LED 0 to %u downwards", rig->surfaces[s].name, here - 1u);
                page_text(cairo, MARGIN + 20, y - 5, 12, label);
            }
            y += here * step + 30;
        }
    }
    for (int i = 0; i <= 10; i++) {
        snprintf(label, sizeof label, "%.1f s", ((double)from_us + (double)(to_us - from_us) * i / 10) / 1e6);
        page_text(cairo, MARGIN + 8 + shots * i / 10.0, height - MARGIN + 8, 12, label);
    }
    return page_save(page, cairo, path);
}

/* "0s, 2.5s, 5s" */
static int times_of(uint64_t *times, int capacity, const char *text) {
    int count = 0;
    char *copy = strdup(text);
    char *rest = NULL;
    for (char *part = strtok_r(copy, ",", &rest); part != NULL; part = strtok_r(NULL, ",", &rest)) {
        if (count == capacity || !time_of(&times[count], part, "--at")) {
            count = 0;
            break;
        }
        if (count > 0 && times[count] < times[count - 1]) {
            complain_plain("--at: expected times in order");
            count = 0;
            break;
        }
        count++;
    }
    free(copy);
    return count;
}

/* "30 m", "16.7 mm": metres. @return 0 and complained. */
static int metres_of(double *metres, const char *text, const char *what) {
    char *rest;
    double number = strtod(text, &rest);
    rest += strspn(rest, " ");
    double unit = strcmp(rest, "m") == 0 ? 1 : strcmp(rest, "cm") == 0 ? 0.01 : strcmp(rest, "mm") == 0 ? 0.001 : 0;
    if (rest == text || unit == 0 || !(number > 0 && number * unit < 1e5)) {
        complain_plain("%s: \"%s\" is no length; expected one such as \"5 m\", \"40 cm\" or \"16.7 mm\"", what, text);
        return 0;
    }
    *metres = number * unit;
    return 1;
}

struct wishes {
    char *at, *over, *from, *inputs, *sound, *out, *beside, *diffuser, *distance, *pitch;
    int single, gif;
};

static int usage(const char *text) {
    complain_plain("sheet: %s", text);
    return EXIT_USAGE;
}

/* How the light is seen. @return an exit code. */
static int spread_of(double *spread, const struct wishes *wishes) {
    double diffuser = 0;
    double distance = 0;
    double pitch = 1.0 / 60; /* 60 LEDs a metre */
    char *rest = NULL;
    if (wishes->diffuser != NULL) {
        diffuser = strtod(wishes->diffuser, &rest);
        rest += strspn(rest, " ");
        if (rest == wishes->diffuser || strncmp(rest, "led", 3) != 0 || !(diffuser > 0 && diffuser <= 20)) {
            return usage("--diffuser: expected how wide it makes a LED, such as \"1.5 leds\", at most 20");
        }
    }
    if ((wishes->distance != NULL && !metres_of(&distance, wishes->distance, "--distance")) ||
        (wishes->pitch != NULL && !metres_of(&pitch, wishes->pitch, "--pitch"))) {
        return EXIT_USAGE;
    }
    if (wishes->pitch != NULL && wishes->distance == NULL) {
        return usage("--pitch goes with --distance");
    }
    if (diffuser > 0 || distance > 0) {
        *spread = view_spread(diffuser, distance, pitch);
        if (*spread > 25) {
            return usage("seen from there it is a point; expected a distance of at most some hundred metres");
        }
    }
    return EXIT_GOOD;
}

/* What goes with what. @return an exit code. */
static int check_wishes(const struct wishes *wishes) {
    return wishes->at != NULL && wishes->over != NULL     ? usage("expected either --at or --over")
           : wishes->from != NULL && wishes->over == NULL ? usage("--from goes with --over")
           : wishes->beside != NULL && wishes->sound != NULL && strcmp(wishes->sound, "-") == 0
               ? usage("--beside: both shows hear the sound, and a pipe can be read once; expected a file")
           : wishes->gif && wishes->over == NULL ? usage("--gif goes with --over, how long it is to be")
           : wishes->over != NULL && !wishes->gif &&
                   (wishes->beside != NULL || wishes->diffuser != NULL || wishes->distance != NULL)
               ? usage("--beside, --diffuser and --distance go with --at or --gif")
               : EXIT_GOOD;
}

static int draw(struct wanted *wanted, const struct wishes *wishes, uint64_t from_us, uint64_t over_us, const uint64_t *times,
                int count) {
    wanted->path = wishes->out != NULL ? wishes->out : wishes->gif ? "sheet.gif" : "sheet.png";
    for (int i = 0; i < wanted->count; i++) {
        wanted->sessions[i]->single_frames = wishes->single;
    }
    int code = wishes->gif            ? draw_moving(wanted, from_us, from_us + over_us)
               : wishes->over != NULL ? draw_over(wanted->sessions[0], from_us, from_us + over_us, wanted->path)
                                      : draw_moments(wanted, times, count);
    for (int i = 0; i < wanted->count; i++) {
        code = report_misreads(wanted->sessions[i]) != 0 ? EXIT_FOUND : code;
    }
    return code;
}

static int run(int argc, const char **argv) {
    static struct session sessions[2];
    struct wanted wanted = {{&sessions[0], &sessions[1]}, 0, 0, NULL};
    struct arguments arguments;
    struct glanz_board_setup setup;
    struct wishes wishes;
    uint64_t times[64];
    uint64_t over_us = 0;
    uint64_t from_us = 0;
    int count = 0;
    int code;
    memset(&wishes, 0, sizeof wishes);
    const struct poptOption options[] = {
        {"at", 'a', POPT_ARG_STRING, &wishes.at, 0, "moments to draw, LEDs at their places (default 1s,3s,5s)", "TIMES"},
        {"over", 't', POPT_ARG_STRING, &wishes.over, 0, "instead: every line over this long a time", "TIME"},
        {"from", 'f', POPT_ARG_STRING, &wishes.from, 0, "with --over: from this time on (default 0 s)", "TIME"},
        {"gif", 'g', POPT_ARG_NONE, &wishes.gif, 0, "with --over: LEDs at their places as a moving picture, at most a minute",
         NULL},
        {"beside", 0, POPT_ARG_STRING, &wishes.beside, 0, "another show of the same rig beside it", "SHOW"},
        {"diffuser", 0, POPT_ARG_STRING, &wishes.diffuser, 0,
         "behind a diffuser that makes each so wide (at half its light), such as \"1.5 leds\"", "LENGTH"},
        {"distance", 0, POPT_ARG_STRING, &wishes.distance, 0, "seen from so far, such as \"30 m\"", "LENGTH"},
        {"pitch", 0, POPT_ARG_STRING, &wishes.pitch, 0, "with --distance: from LED to LED (default 16.7 mm)", "LENGTH"},
        {"single-frames", 0, POPT_ARG_NONE, &wishes.single, 0, "draw single frames, not the mean over a dither period", NULL},
        {"inputs", 'i', POPT_ARG_STRING, &wishes.inputs, 0, "input log to play", "FILE"},
        {"sound", 0, POPT_ARG_STRING, &wishes.sound, 0, "sound file, - or alsa:NAME that the first input for sound hears",
         "FILE"},
        {"output", 'o', POPT_ARG_STRING, &wishes.out, 0, "the picture (default sheet.png, sheet.gif)", "FILE"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_sheet, argc, argv, options, 2, 2, &code)) {
        return code;
    }
    memset(&setup, 0, sizeof setup);
    code = check_wishes(&wishes);
    code = code == EXIT_GOOD ? spread_of(&wanted.spread, &wishes) : code;
    if (code == EXIT_GOOD && wishes.over != NULL &&
        (!time_of(&over_us, wishes.over, "--over") || (wishes.from != NULL && !time_of(&from_us, wishes.from, "--from")))) {
        code = EXIT_USAGE;
    }
    if (code == EXIT_GOOD && wishes.gif && (over_us == 0 || over_us > MOVING_MOST_S * 1000000u)) {
        code = usage("--gif: expected some seconds, at most a minute");
    }
    if (code == EXIT_GOOD && wishes.over == NULL) {
        count = times_of(times, 64, wishes.at == NULL ? "1s,3s,5s" : wishes.at);
        code = count == 0 ? EXIT_USAGE : EXIT_GOOD;
    }
    setup.sound = wishes.sound;
    for (int i = 0; i < (wishes.beside != NULL ? 2 : 1) && code == EXIT_GOOD; i++) {
        code =
            session_open(&sessions[i], arguments.path[0], i == 0 ? arguments.path[1] : wishes.beside, wishes.inputs, &setup, 0);
        wanted.count += code == EXIT_GOOD;
    }
    code = code == EXIT_GOOD ? draw(&wanted, &wishes, from_us, over_us, times, count) : code;
    for (int i = 0; i < wanted.count; i++) {
        session_close(&sessions[i]);
    }
    free(wishes.at);
    free(wishes.over);
    free(wishes.from);
    free(wishes.beside);
    free(wishes.diffuser);
    free(wishes.distance);
    free(wishes.pitch);
    free(wishes.inputs);
    free(wishes.sound);
    free(wishes.out);
    arguments_free(&arguments);
    return code;
}

const struct command command_sheet = {"sheet", "draw a show: LEDs at chosen moments, lines over time, or as a moving picture",
                                      "RIG SHOW", "  glanz sheet demo/rig.json demo/show.json --over 20s -o out/rail.png\n", run, SEES_STORE};
