/* SPDX-License-Identifier: MIT */
/* tour: all effects one after another on one's own LEDs, each with any palette; what was liked becomes a show. */
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include "commands.h"
#include "effects.h"
#include "sample.h"
#include "screen.h"

#define LIKED_MOST 64
#define STEP_US 1000000u /* without a terminal: from key to key, and from effect to effect */

struct stop_of_tour {
    int effect;  /* among those that are shown */
    int palette; /* of the library; -1: the effect's own */
};

struct tour {
    struct session *session;
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_effect *effects[300]; /* those that are shown */
    int count;
    struct stop_of_tour at;
    struct stop_of_tour liked[LIKED_MOST];
    int liked_count;
};

/* The palette's name in the show: of an effect that takes none, one that runs along. */
static const char *palette_of(GLANZ_CONST struct glanz_effect *effect, int palette) {
    return palette < 0 || sample_is_colored(effect)      ? NULL
           : (effect->needs & GLANZ_NEEDS_GRADIENT) != 0 ? glanz_palettes[palette].name
                                                         : "along";
}

static void put_quoted(struct text *text, const char *name) { /* names have no control characters */
    text_add("\"", 1, text);
    for (; *name != '\0'; name++) {
        if (*name == '"' || *name == '\\') {
            text_add("\\", 1, text);
        }
        text_add(name, 1, text);
    }
    text_add("\"", 1, text);
}

/* @param look NULL: dark at the start. */
static void put_segments(struct text *text, GLANZ_CONST struct glanz_rig *rig, const char *look) {
    for (uint8_t i = 0; i < rig->surface_count; i++) {
        text_print(text, i == 0 ? " " : ",\n    ");
        put_quoted(text, rig->surfaces[i].name);
        text_print(text, ": { \"surface\": ");
        put_quoted(text, rig->surfaces[i].name);
        if (look != NULL) {
            text_print(text, ", \"look\": \"%s\"", look);
        }
        text_print(text, " }");
    }
}

/* The show of one stop. */
static void put_show(struct text *text, const struct tour *tour) {
    GLANZ_CONST struct glanz_effect *effect = tour->effects[tour->at.effect];
    const char *palette = palette_of(effect, tour->at.palette);
    text_print(text, "{ \"show\": \"tour\", \"change\": \"400 ms\",\n  " SAMPLE_PICTURES ",\n  ");
    if (palette != NULL && strcmp(palette, "along") == 0) {
        text_print(text, "\"palettes\": { \"along\": { \"of\": \"%s\", \"runs\": \"along\", \"folded\": true } },\n  ",
                   glanz_palettes[tour->at.palette].name);
    }
    text_print(text, "\"looks\": { \"look\": ");
    sample_look(text, effect, palette);
    text_print(text, " },\n  \"segments\": {");
    put_segments(text, tour->rig, "look");
    text_print(text, " } }\n");
}

/* Where the tour is, as it would be liked: what brings its own colours has no palette. */
static struct stop_of_tour here(const struct tour *tour) {
    struct stop_of_tour stop = tour->at;
    stop.palette = sample_is_colored(tour->effects[stop.effect]) ? -1 : stop.palette;
    return stop;
}

/* Among those that are liked; -1: it is not. */
static int liked_at(const struct tour *tour) {
    struct stop_of_tour stop = here(tour);
    int i = tour->liked_count - 1;
    while (i >= 0 && (tour->liked[i].effect != stop.effect || tour->liked[i].palette != stop.palette)) {
        i--;
    }
    return i;
}

/* What is liked is named by the effect, and by the palette where there is one. */
static void put_name(struct text *text, const struct tour *tour, const struct stop_of_tour *stop) {
    GLANZ_CONST struct glanz_effect *effect = tour->effects[stop->effect];
    if (palette_of(effect, stop->palette) == NULL) {
        text_print(text, "%s", effect->name);
    } else {
        text_print(text, "%s, %s", effect->name, glanz_palettes[stop->palette].name);
    }
}

/* A show of what was liked: a look and a preset of each, and a playlist that goes through them. */
static void put_liked(struct text *text, const struct tour *tour) {
    GLANZ_CONST struct glanz_rig *rig = tour->rig;
    text_print(text, "{\n  \"show\": \"liked\",\n  \"change\": \"400 ms\",\n  " SAMPLE_PICTURES ",\n  \"palettes\": {");
    int put = 0;
    for (int p = 0; p < glanz_palette_count; p++) { /* those that run, for effects that take none */
        int used = 0;
        for (int i = 0; i < tour->liked_count; i++) {
            const char *name = palette_of(tour->effects[tour->liked[i].effect], tour->liked[i].palette);
            used = used || (tour->liked[i].palette == p && name != NULL && strcmp(name, "along") == 0);
        }
        if (used) {
            text_print(text, "%s\n    \"%s along\": { \"of\": \"%s\", \"runs\": \"along\", \"folded\": true }",
                       put++ == 0 ? "" : ",", glanz_palettes[p].name, glanz_palettes[p].name);
        }
    }
    text_print(text, " },\n  \"looks\": {");
    for (int i = 0; i < tour->liked_count; i++) {
        char running[100];
        GLANZ_CONST struct glanz_effect *effect = tour->effects[tour->liked[i].effect];
        const char *name = palette_of(effect, tour->liked[i].palette);
        if (name != NULL && strcmp(name, "along") == 0) {
            snprintf(running, sizeof running, "%s along", glanz_palettes[tour->liked[i].palette].name);
            name = running;
        }
        text_print(text, "%s\n    \"", i == 0 ? "" : ",");
        put_name(text, tour, &tour->liked[i]);
        text_print(text, "\": ");
        sample_look(text, effect, name);
    }
    text_print(text, " },\n  \"segments\": {");
    put_segments(text, rig, NULL);
    text_print(text, " },\n  \"presets\": {");
    for (int i = 0; i < tour->liked_count; i++) {
        text_print(text, "%s\n    \"", i == 0 ? "" : ",");
        put_name(text, tour, &tour->liked[i]);
        text_print(text, "\": {");
        for (uint8_t s = 0; s < rig->surface_count; s++) {
            text_print(text, s == 0 ? " " : ", ");
            put_quoted(text, rig->surfaces[s].name);
            text_print(text, ": \"");
            put_name(text, tour, &tour->liked[i]);
            text_print(text, "\"");
        }
        text_print(text, " }");
    }
    text_print(text, " },\n  \"playlists\": { \"liked\": { \"items\": [");
    for (int i = 0; i < tour->liked_count; i++) {
        text_print(text, "%s\n    { \"preset\": \"", i == 0 ? "" : ",");
        put_name(text, tour, &tour->liked[i]);
        text_print(text, "\", \"hold\": \"20 s\", \"fade\": \"1 s\" }");
    }
    text_print(text, " ] } },\n  \"start\": { \"play\": \"liked\" }\n}\n");
}

static int write_liked(const struct tour *tour, const char *path) {
    struct text text = {NULL, 0, 0};
    struct document show;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    if (tour->liked_count == 0) {
        puts("nothing was liked; no show was written");
        return EXIT_GOOD;
    }
    put_liked(&text, tour);
    struct text copy = {NULL, 0, 0};
    text_add(text.bytes, text.count, &copy);
    int good = document_show(&show, copy, tour->rig, NULL, &fault) == GLANZ_OK; /* the copy goes over to it */
    if (!good) {
        complain(path, &fault);
        text_free(&text);
        return EXIT_REFUSED;
    }
    document_free(&show);
    good = output_bytes(path, text.bytes, text.count);
    text_free(&text);
    if (good) {
        printf("%s: %d liked, as presets and a playlist; try: glanz play RIG \"%s\"\n", path, tour->liked_count, path);
    }
    return good ? EXIT_GOOD : EXIT_FILE;
}

/* ---- going about ---- */

/* Show where the tour is. What has just been left may still fade: then it is tried again with the next frame. @return done */
static int show_stop(struct tour *tour) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text = {NULL, 0, 0};
    put_show(&text, tour);
    glanz_status status = session_show(tour->session, &text, &fault);
    text_free(&text);
    if (status != GLANZ_OK && status != GLANZ_ERR_BUSY) {
        complain("tour", &fault);
    }
    return status != GLANZ_ERR_BUSY;
}

/* @return 1 where something else is to be shown. */
static int take_key(struct tour *tour, char key) {
    int liked = liked_at(tour);
    switch (key) {
    case 'n':
    case ' ': tour->at.effect = (tour->at.effect + 1) % tour->count; return 1;
    case 'b': tour->at.effect = (tour->at.effect + tour->count - 1) % tour->count; return 1;
    case 'p': tour->at.palette = tour->at.palette + 1 == glanz_palette_count ? -1 : tour->at.palette + 1; return 1;
    case 'o': tour->at.palette = tour->at.palette < 0 ? glanz_palette_count - 1 : tour->at.palette - 1; return 1;
    case 'l':
        if (liked >= 0) {
            tour->liked_count--;
            memmove(&tour->liked[liked], &tour->liked[liked + 1], sizeof tour->liked[0] * (size_t)(tour->liked_count - liked));
        } else if (tour->liked_count < LIKED_MOST) {
            tour->liked[tour->liked_count++] = here(tour);
        }
        return 0;
    case 'q': screen_stop(); return 0;
    default: return 0;
    }
}

static void words_of(char *line, size_t size, const struct tour *tour) {
    GLANZ_CONST struct glanz_effect *effect = tour->effects[tour->at.effect];
    snprintf(line, size, "%d of %d  %s: %s%s%s%s", tour->at.effect + 1, tour->count, effect->name, effect->description,
             here(tour).palette < 0 ? "" : "; palette ", here(tour).palette < 0 ? "" : glanz_palettes[tour->at.palette].name,
             liked_at(tour) >= 0 ? "; liked" : "");
}

static void draw(struct screen *screen, const struct tour *tour) {
    char line[400];
    screen_begin(screen);
    words_of(line, sizeof line, tour);
    screen_line(screen, 1, line);
    snprintf(line, sizeof line,
             "keys: n next, b back; p, o palettes; l like it or no more (%d liked); q quit and write the show",
             tour->liked_count);
    screen_foot(screen, line);
    screen_put_leds(screen);
    screen_show(screen);
}

static void go_on_screen(struct tour *tour, uint64_t each_us) {
    struct screen screen;
    uint64_t drawn = 0;
    uint64_t since = 0;
    int due = 0;
    screen_open(&screen, tour->session);
    while (!screen_stopped()) {
        (void)session_step(tour->session);
        uint64_t real = glanz_board_real_us(tour->session->board);
        char key = screen_key(&screen);
        if (key != 0) {
            since = real;
            due |= take_key(tour, key);
        }
        if (each_us != 0 && real - since > each_us) {
            since = real;
            due |= take_key(tour, 'n');
        }
        due = due && !show_stop(tour);
        if (real - drawn >= 33000) {
            draw(&screen, tour);
            drawn = real;
        }
        glanz_board_wait_until(tour->session->board, tour->session->now_us);
    }
    screen_close(&screen);
}

/* Keys from a pipe, one a second of the show's time; none: all of them once. */
static void go_plain(struct tour *tour) {
    char line[400];
    int key = getchar();
    int alone = key == EOF;
    int left = alone ? tour->count - 1 : 0;
    int shows = 1;
    while (!screen_stopped()) {
        if (shows) {
            words_of(line, sizeof line, tour);
            puts(line);
        }
        for (uint64_t until = tour->session->frame + STEP_US / (1000000u / tour->session->frame_rate);
             tour->session->frame < until;) {
            (void)session_step(tour->session);
        }
        if (alone ? left-- == 0 : key == EOF) {
            break;
        }
        shows = take_key(tour, alone ? 'n' : (char)key);
        for (int i = 0; shows && i < 100 && !show_stop(tour); i++) {
            (void)session_step(tour->session);
        }
        if (!alone && key == 'l') {
            puts(liked_at(tour) >= 0 ? "  liked" : "  no more liked");
        }
        do {
            key = alone ? key : getchar();
        } while (key == '\n');
    }
}

static int begin(struct tour *tour, struct session *session, const char *rig_path, struct glanz_board_setup *setup) {
    struct document rig;
    struct text text = {NULL, 0, 0};
    struct text show = {NULL, 0, 0};
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    if (!text_read(&text, rig_path)) {
        return EXIT_FILE;
    }
    if (document_rig(&rig, text, &fault) != GLANZ_OK) {
        complain(rig_path, &fault);
        return EXIT_REFUSED;
    }
    for (int e = 0; effects_all()[e] != NULL; e++) {
        if (setup->sound != NULL || (effects_all()[e]->needs & GLANZ_NEEDS_SOUND) == 0) {
            tour->effects[tour->count++] = effects_all()[e];
        }
    }
    tour->session = session;
    tour->at.palette = -1;
    tour->rig = rig.rig; /* for the first show's text */
    put_show(&show, tour);
    int code = session_open_text(session, rig_path, &show, setup);
    tour->rig = code == EXIT_GOOD ? session->rig.rig : NULL;
    document_free(&rig);
    return code;
}

static int run(int argc, const char **argv) {
    static struct session session;
    static struct tour tour;
    struct arguments arguments;
    struct glanz_board_setup setup;
    uint64_t each_us = 0;
    int plain = 0;
    int replace = 0;
    int code;
    char *each = NULL;
    char *sound = NULL;
    char *out = NULL;
    const struct poptOption options[] = {
        {"output", 'o', POPT_ARG_STRING, &out, 0, "the show of what was liked (default liked.show.json)", "FILE"},
        {"replace", 0, POPT_ARG_NONE, &replace, 0, "also where that file is there already", NULL},
        {"each", 'e', POPT_ARG_STRING, &each, 0, "go on by itself after so long without a key (default: never)", "TIME"},
        {"sound", 0, POPT_ARG_STRING, &sound, 0, "sound file that looks on sound hear; without one they are left out", "FILE"},
        {"plain", 'p', POPT_ARG_NONE, &plain, 0, "plain text, keys from standard input, as without a terminal", NULL},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_tour, argc, argv, options, 1, 1, &code)) {
        return code;
    }
    memset(&setup, 0, sizeof setup);
    setup.sound = sound;
    code = each != NULL && !time_of(&each_us, each, "--each") ? EXIT_USAGE : EXIT_GOOD;
    const char *path = out == NULL ? "liked.show.json" : out;
    if (code == EXIT_GOOD && !replace && strcmp(path, "-") != 0 && access(path, F_OK) == 0) {
        complain_plain("tour: %s is there already; expected another name after --output, or --replace", path);
        code = EXIT_USAGE;
    }
    code = code == EXIT_GOOD ? begin(&tour, &session, arguments.path[0], &setup) : code;
    if (code == EXIT_GOOD) {
        if (isatty(1) && !plain && may_color()) {
            go_on_screen(&tour, each_us);
        } else {
            go_plain(&tour);
        }
        code = write_liked(&tour, path);
        code = report_misreads(&session) != 0 ? EXIT_FOUND : code;
        session_close(&session);
    }
    free(each);
    free(sound);
    free(out);
    arguments_free(&arguments);
    return code;
}

const struct command command_tour = {
    "tour", "walk through all effects on your own LEDs, with any palette; what you like becomes a show",
    "RIG",  "  glanz tour demo/rig.json -o out/liked.show.json\n",
    run,    LIGHTS_SERIAL};
