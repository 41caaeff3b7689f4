/* SPDX-License-Identifier: MIT */
/* gallery: every effect on a strip over time and on a grid at moments, as it is and with a palette that runs along: pages for a
 * browser, a show of each to play, and two contact sheets. */
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

#include "commands.h"
#include "effects.h"
#include "page.h"
#include "sample.h"

#define LEDS 60 /* of the strip */
#define COLUMNS 16
#define ROWS 10
#define SHOTS 300  /* of the strip, over time */
#define LASTS 10u  /* seconds */
#define MOMENTS 3  /* of the grid */
#define FRAMES 50u /* a second */
#define SETTINGS 2 /* as it is; with a palette that runs along */
#define NAME_MOST 40

struct shots { /* of one effect with one setting */
    uint8_t strip[SHOTS][LEDS][3];
    uint8_t grid[MOMENTS][ROWS * COLUMNS][3];
};

static const char rig_text[] = "{\n  \"rig\": \"gallery\",\n  \"supplies\": { \"supply\": { \"volts\": \"5 V\" } },\n  "
                               "\"outputs\": {\n    \"strip line\": { \"pin\": 1, "
                               "\"supply\": \"supply\", \"line\": [ { \"chip\": \"WS2812B\", \"leds\": 60 } ] },\n    \"grid "
                               "line\": { \"pin\": 2, \"supply\": \"supply\", "
                               "\"line\": [ { \"chip\": \"WS2812B\", \"leds\": 160 } ] }\n  },\n  \"surfaces\": {\n    "
                               "\"strip\": { \"strip\": [ { \"output\": \"strip line\", "
                               "\"first\": 0, \"leds\": 60 } ] },\n    \"grid\": { \"grid\": [ { \"output\": \"grid line\", "
                               "\"first\": 0, \"columns\": 16, \"rows\": 10, "
                               "\"first led\": \"top left\", \"along\": \"rows\", \"zigzag\": true } ] }\n  },\n  \"inputs\": "
                               "{ \"microphone\": { \"sound\": { \"pin\": 3, \"rate\": "
                               "\"16 kHz\" } } }\n}\n";

static void put_show(struct text *text, GLANZ_CONST struct glanz_effect *effect, int setting) {
    text_print(text,
               "{\n  \"show\": \"%s\",\n  \"brightness\": \"100 %%\",\n  \"change\": \"0 s\",\n  \"palettes\": { \"dawn "
               "along\": { \"stops\": [\n    { "
               "\"at\": \"0 %%\", \"color\": \"#7a2f6b\" }, { \"at\": \"50 %%\", \"color\": \"#ff6b4c\" }, { \"at\": \"100 "
               "%%\", \"color\": "
               "\"#ffe0a0\" } ],\n    \"runs\": \"along\", \"folded\": true, \"period\": \"8 s\" } },\n  " SAMPLE_PICTURES
               ",\n  \"looks\": { \"look\": ",
               effect->name);
    sample_look(text, effect, setting != 0 ? "dawn along" : NULL);
    text_print(
        text,
        " },\n  \"segments\": { \"strip\": { \"surface\": \"strip\", \"look\": \"look\" }, \"grid\": { \"surface\": \"grid\", "
        "\"look\": \"look\" } }\n}\n");
}

/* FOLDER/NAMEENDING, blanks made hyphens. */
static void path_of(char *path, size_t capacity, const char *folder, const char *name, const char *ending) {
    int length = snprintf(path, capacity, "%s/", folder);
    for (const char *c = name; *c != '\0' && (size_t)length + 1 < capacity; c++) {
        path[length++] = *c == ' ' ? '-' : *c;
    }
    snprintf(path + length, capacity - (size_t)length, "%s", ending);
}

static int put_file(const char *folder, const char *name, const char *ending, const char *bytes, size_t count) {
    char path[1000];
    path_of(path, sizeof path, folder, name, ending);
    return output_bytes(path, bytes, count) ? EXIT_GOOD : EXIT_FILE;
}

/* Run a show, and look at it. */
static int shoot(struct shots *shots, const char *rig, const char *show, const char *inputs, char *sound) {
    static struct session session;
    struct glanz_board_setup setup;
    memset(&setup, 0, sizeof setup);
    setup.sound = sound;
    int code = session_open(&session, rig, show, inputs, &setup, FRAMES);
    for (uint32_t x = 0; x < SHOTS && code == EXIT_GOOD; x++) {
        while (session.frame * 1000000u / FRAMES <= (uint64_t)LASTS * 1000000u * x / SHOTS) {
            (void)session_step(&session);
        }
        glanz_board_time(session.board, session.frame * 1000000u / FRAMES - 1);
        for (uint16_t i = 0; i < LEDS; i++) {
            session_seen(shots->strip[x][i], &session, 0, i);
        }
        uint32_t second = x / (SHOTS / LASTS);
        if (x % (SHOTS / LASTS) == 0 && second % 2 == 1 && second / 2 < MOMENTS) {
            for (uint16_t i = 0; i < ROWS * COLUMNS; i++) {
                uint16_t row = i / COLUMNS;
                uint16_t column = i % COLUMNS;
                session_seen(shots->grid[second / 2][i], &session, 1,
                             (uint16_t)(row * COLUMNS + (row % 2 != 0 ? COLUMNS - 1 - column : column)));
            }
        }
    }
    if (code == EXIT_GOOD) {
        session_close(&session);
    }
    return code;
}

static void draw_strip(cairo_t *cairo, double x, double y, double height, const struct shots *shots) {
    cairo_save(cairo);
    cairo_set_antialias(cairo, CAIRO_ANTIALIAS_NONE);
    for (int shot = 0; shot < SHOTS; shot++) {
        for (int i = 0; i < LEDS; i++) {
            const uint8_t *rgb = shots->strip[shot][i];
            cairo_set_source_rgb(cairo, rgb[0] / 255.0, rgb[1] / 255.0, rgb[2] / 255.0);
            cairo_rectangle(cairo, x + shot, y + i * height / LEDS, 1, height / LEDS + 0.5);
            cairo_fill(cairo);
        }
    }
    cairo_restore(cairo);
}

static void draw_grid(cairo_t *cairo, double x, double y, double step, const struct shots *shots, int moment) {
    for (int i = 0; i < ROWS * COLUMNS; i++) {
        page_led(cairo, x + (i % COLUMNS + 0.5) * step, y + (i / COLUMNS + 0.5) * step, step, shots->grid[moment][i]);
    }
}

/* ---- an effect's own page, and the contact sheets ---- */

static int draw_effect(const char *folder, GLANZ_CONST struct glanz_effect *effect, const struct shots *shots, int settings) {
    char path[1000];
    cairo_t *cairo;
    cairo_surface_t *page = page_new(&cairo, PAGE_WIDTH, 40 + settings * 200);
    page_text(cairo, 20, 26, 16, effect->name);
    page_text(cairo, 180, 26, 12, effect->description);
    for (int s = 0; s < settings; s++) {
        double y = 60 + s * 200;
        page_text(cairo, 20, y - 8, 12,
                  s == 0 ? "60 LEDs over 10 s, and 16 x 10 after 1, 3 and 5 s" : "with a palette that runs along");
        draw_strip(cairo, 20, y, 160, &shots[s]);
        for (int m = 0; m < MOMENTS; m++) {
            draw_grid(cairo, 350 + m * 305, y, 16, &shots[s], m);
        }
    }
    path_of(path, sizeof path, folder, effect->name, ".png");
    return page_save(page, cairo, path);
}

#define STRIPS_ACROSS 4
#define GRIDS_ACROSS 8

struct sheets {
    cairo_t *strips, *grids;
    cairo_surface_t *strips_page, *grids_page;
};

static void begin_sheets(struct sheets *sheets, int count) {
    sheets->strips_page = page_new(&sheets->strips, PAGE_WIDTH, 20 + (count + STRIPS_ACROSS - 1) / STRIPS_ACROSS * 94);
    sheets->grids_page = page_new(&sheets->grids, PAGE_WIDTH, 20 + (count + GRIDS_ACROSS - 1) / GRIDS_ACROSS * 122);
}

static void add_to_sheets(const struct sheets *sheets, int index, const char *name, const struct shots *shots) {
    double x = 12 + index % STRIPS_ACROSS * 316;
    double y = 26 + index / STRIPS_ACROSS * 94;
    page_text(sheets->strips, x, y - 5, 11, name);
    draw_strip(sheets->strips, x, y, 66, shots);
    x = 12 + index % GRIDS_ACROSS * 158;
    y = 26 + index / GRIDS_ACROSS * 122;
    page_text(sheets->grids, x, y - 5, 11, name);
    draw_grid(sheets->grids, x, y, 9, shots, 1);
}

static void put_html(struct text *html, GLANZ_CONST struct glanz_effect *effect) {
    char line[1200];
    char file[NAME_MOST];
    path_of(file, sizeof file, ".", effect->name, "");
    int length = snprintf(line, sizeof line,
                          "<section id=\"%s\"><h2>%s</h2><p>%s.</p><p><code>glanz play rig.json %s.show.json</code></p>"
                          "<img src=\"%s.png\" alt=\"%s on a strip over time and on a grid\"></section>\n",
                          file + 2, effect->name, effect->description, file + 2, file + 2, effect->name);
    text_add(line, (size_t)length, html);
}

/* @param asked effects by name; none: all. */
static int is_asked(GLANZ_CONST struct glanz_effect *effect, const struct arguments *asked, const char *sound) {
    int named = asked->count == 0;
    for (int i = 0; i < asked->count; i++) {
        named = named || strcmp(asked->path[i], effect->name) == 0;
    }
    return named && (sound != NULL || (effect->needs & GLANZ_NEEDS_SOUND) == 0); /* in silence they are dark */
}

static int draw_all(const char *folder, const struct arguments *asked, char *sound) {
    static struct shots shots[SETTINGS];
    static const char head[] =
        "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>Effects</title><style>body{background:#14171b;"
        "color:#cfd3d8;font-family:sans-serif;max-width:1290px;margin:2em auto}img{max-width:100%;border:1px solid "
        "#2b3138}code{color:#e8c27a}h2{margin-bottom:0}</style></head><body><h1>Effects</h1>\n<p><a "
        "href=\"strips.png\">strips</a>, <a "
        "href=\"grids.png\">grids</a></p>\n";
    struct text html = {NULL, 0, 0};
    struct sheets sheets;
    char rig[1000];
    char inputs[1000];
    int all = 0;
    int shown = 0;
    int code = put_file(folder, "rig", ".json", rig_text, sizeof rig_text - 1);
    static const char clock[] = "{\"at\": \"0 s\", \"clock\": \"2026-06-20 10:08:30\"}\n";
    code = code == EXIT_GOOD ? put_file(folder, "clock", ".jsonl", clock, sizeof clock - 1) : code;
    path_of(rig, sizeof rig, folder, "rig", ".json");
    path_of(inputs, sizeof inputs, folder, "clock", ".jsonl");
    for (int e = 0; effects_all()[e] != NULL; e++) {
        all += is_asked(effects_all()[e], asked, sound);
    }
    text_add(head, sizeof head - 1, &html);
    begin_sheets(&sheets, all);
    for (int e = 0; effects_all()[e] != NULL && code == EXIT_GOOD; e++) {
        GLANZ_CONST struct glanz_effect *effect = effects_all()[e];
        int settings = sample_is_colored(effect) ? 1 : SETTINGS;
        if (!is_asked(effect, asked, sound)) {
            continue;
        }
        progress("drawing", (uint64_t)shown, (uint64_t)all);
        for (int s = settings - 1; s >= 0 && code == EXIT_GOOD; s--) { /* the show that stays is the first */
            char show[1000];
            struct text text = {NULL, 0, 0};
            put_show(&text, effect, s);
            code = put_file(folder, effect->name, ".show.json", text.bytes, text.count);
            path_of(show, sizeof show, folder, effect->name, ".show.json");
            code = code == EXIT_GOOD ? shoot(&shots[s], rig, show, inputs, sound) : code;
            text_free(&text);
        }
        if (code == EXIT_GOOD) {
            code = draw_effect(folder, effect, shots, settings);
            add_to_sheets(&sheets, shown++, effect->name, &shots[0]);
            put_html(&html, effect);
        }
    }
    text_add("</body></html>\n", 15, &html);
    code = code == EXIT_GOOD ? put_file(folder, "index", ".html", html.bytes, html.count) : code;
    text_free(&html);
    char path[1000];
    path_of(path, sizeof path, folder, "strips", ".png");
    int strips = page_save(sheets.strips_page, sheets.strips, path);
    path_of(path, sizeof path, folder, "grids", ".png");
    int grids = page_save(sheets.grids_page, sheets.grids, path);
    if (code == EXIT_GOOD && strips == EXIT_GOOD && grids == EXIT_GOOD) {
        printf("%s: %d effects; index.html, strips.png, grids.png, a show of each\n", folder, shown);
        if (sound == NULL && asked->count == 0) {
            puts("looks on sound are left out, for they are dark in silence: give --sound");
        }
    }
    return code != EXIT_GOOD ? code : strips != EXIT_GOOD ? strips : grids;
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    int code;
    char *sound = NULL;
    char *out = NULL;
    const struct poptOption options[] = {
        {"output", 'o', POPT_ARG_STRING, &out, 0, "the folder, made if needed (default gallery)", "FOLDER"},
        {"sound", 0, POPT_ARG_STRING, &sound, 0, "sound file that looks on sound hear", "FILE"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_gallery, argc, argv, options, 0, 8, &code)) {
        return code;
    }
    const char *folder = out == NULL ? "gallery" : out;
    const char *unknown = NULL;
    for (int i = 0; i < arguments.count; i++) {
        unknown = effects_find(arguments.path[i]) == NULL ? arguments.path[i] : unknown;
    }
    if (unknown != NULL) {
        complain_plain("gallery: no such effect: %s; see \"glanz list effects\"", unknown);
        code = EXIT_USAGE;
    } else if (strlen(folder) > 900) {
        complain_plain("--output: expected a path of at most 900 bytes");
        code = EXIT_USAGE;
    } else if (mkdir(folder, 0777) != 0 && errno != EEXIST) {
        complain_plain("%s: %s", folder, strerror(errno));
        code = EXIT_FILE;
    } else {
        code = draw_all(folder, &arguments, sound);
    }
    free(sound);
    free(out);
    arguments_free(&arguments);
    return code;
}

const struct command command_gallery = {"gallery", "draw every effect, on a strip over time and on a grid", "[EFFECT...]",
                                        "  glanz gallery -o out/gallery\n", run, 0};
