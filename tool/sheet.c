/* SPDX-License-Identifier: MIT */
/* sheet: pictures of a show: LEDs at their places at chosen moments, or each line over time. */
#include <cairo.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "commands.h"
#include "page.h"

#define MARGIN 40.0

static void run_until(struct session *session, uint64_t time_us, uint64_t last_us) {
    while (session->frame * 1000000u / session->frame_rate <= time_us) {
        (void)session_step(session);
        progress("running", session->now_us, last_us);
    }
    /* what was sent for this moment latches in its own time: look just before the next frame */
    glanz_board_time(session->board, session->frame * 1000000u / session->frame_rate - 1);
}

static int draw_moments(struct session *session, const uint64_t *times, int count, const char *path) {
    struct spot *spots;
    double width;
    double height;
    char label[80];
    cairo_t *cairo;
    GLANZ_CONST struct glanz_rig *rig = session->rig.rig;
    int columns = 66;
    size_t leds = spots_of(&spots, &width, &height, rig, columns);
    double step = (PAGE_WIDTH - 2 * MARGIN - 70) / (width > 24 ? width : 24);
    step = step > 24 ? 24 : step;
    double band = height * step + 34;
    int page_height = (int)(count * band + 2 * MARGIN);
    cairo_surface_t *page = page_new(&cairo, PAGE_WIDTH, page_height > 30000 ? 30000 : page_height);
    for (int i = 0; i < count; i++) {
        double top = MARGIN + i * band;
        run_until(session, times[i], times[count - 1]);
        snprintf(label, sizeof label, "%.2f s", (double)times[i] / 1e6);
        page_text(cairo, MARGIN - 10, top + 14, 14, label);
        for (size_t k = 0; k < leds; k++) {
            uint8_t rgb[3];
            session_seen(rgb, session, spots[k].output, spots[k].led);
            page_led(cairo, MARGIN + 70 + spots[k].x * step, top + spots[k].y * step, step, rgb);
        }
    }
    free(spots);
    return page_save(page, cairo, path);
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

static int run(int argc, const char **argv) {
    static struct session session;
    struct arguments arguments;
    struct glanz_board_setup setup;
    uint64_t times[64];
    uint64_t over_us = 0;
    uint64_t from_us = 0;
    int count = 0;
    int single = 0;
    int code;
    char *at = NULL;
    char *over = NULL;
    char *from = NULL;
    char *inputs = NULL;
    char *sound = NULL;
    char *out = NULL;
    const struct poptOption options[] = {
        {"at", 'a', POPT_ARG_STRING, &at, 0, "moments to draw, LEDs at their places (default 1s,3s,5s)", "TIMES"},
        {"over", 't', POPT_ARG_STRING, &over, 0, "instead: every line over this long a time", "TIME"},
        {"from", 'f', POPT_ARG_STRING, &from, 0, "with --over: from this time on (default 0 s)", "TIME"},
        {"single-frames", 0, POPT_ARG_NONE, &single, 0, "draw single frames, not the mean over a dither period", NULL},
        {"inputs", 'i', POPT_ARG_STRING, &inputs, 0, "input log to play", "FILE"},
        {"sound", 0, POPT_ARG_STRING, &sound, 0, "sound file, - or alsa:NAME that the first input for sound hears", "FILE"},
        {"output", 'o', POPT_ARG_STRING, &out, 0, "the picture (default sheet.png)", "FILE"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_sheet, argc, argv, options, 2, 2, &code)) {
        return code;
    }
    memset(&setup, 0, sizeof setup);
    code = EXIT_GOOD;
    if (at != NULL && over != NULL) {
        complain_plain("sheet: expected either --at or --over");
        code = EXIT_USAGE;
    }
    if (code == EXIT_GOOD && from != NULL && over == NULL) {
        complain_plain("sheet: --from goes with --over");
        code = EXIT_USAGE;
    }
    if (code == EXIT_GOOD && over != NULL &&
        (!time_of(&over_us, over, "--over") || (from != NULL && !time_of(&from_us, from, "--from")))) {
        code = EXIT_USAGE;
    }
    if (code == EXIT_GOOD && over == NULL) {
        count = times_of(times, 64, at == NULL ? "1s,3s,5s" : at);
        code = count == 0 ? EXIT_USAGE : EXIT_GOOD;
    }
    if (code == EXIT_GOOD) {
        setup.sound = sound;
        code = session_open(&session, arguments.path[0], arguments.path[1], inputs, &setup, 0);
    }
    if (code == EXIT_GOOD) {
        const char *path = out == NULL ? "sheet.png" : out;
        session.single_frames = single;
        code =
            over != NULL ? draw_over(&session, from_us, from_us + over_us, path) : draw_moments(&session, times, count, path);
        code = report_misreads(&session) != 0 ? EXIT_FOUND : code;
        session_close(&session);
    }
    free(at);
    free(over);
    free(from);
    free(inputs);
    free(sound);
    free(out);
    arguments_free(&arguments);
    return code;
}

const struct command command_sheet = {"sheet", "draw a show as a PNG: LEDs at chosen moments, or lines over time", "RIG SHOW",
                                      "  glanz sheet demo/rig.json demo/show.json --over 20s -o out/rail.png\n", run};
