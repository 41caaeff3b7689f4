/* SPDX-License-Identifier: MIT */
/* palette: palettes of other programs and of ours: read, changed, written in another form, drawn as LEDs show them. */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "commands.h"
#include "page.h"
#include "stops.h"

struct wishes {
    int reverse, even, color, colors, simplify;
    char *rotate, *cut, *insert, *as, *out, *picture;
};

/* "12.5 %" or "12.5%": 0 to 100. @return where it ends, or NULL. */
static const char *share_of_text(double *share, const char *text) {
    char *rest;
    double number = strtod(text, &rest);
    if (rest == text || !(number >= 0 && number <= 100)) {
        return NULL;
    }
    rest += strspn(rest, " ");
    *share = number;
    return *rest == '%' ? rest + 1 : NULL;
}

static int wrong(const char *option, const char *expected) {
    complain_plain("--%s: expected %s", option, expected);
    return EXIT_USAGE;
}

/* All that is asked for, in the order of the options' list. @return an exit code. */
static int change(struct stops *stops, const struct wishes *wishes) {
    double from = 0;
    double to = 0;
    if (wishes->cut != NULL) {
        const char *rest = share_of_text(&from, wishes->cut);
        rest = rest == NULL || strncmp(rest, " to ", 4) != 0 ? NULL : share_of_text(&to, rest + 4);
        if (rest == NULL || *rest != '\0' || to <= from) {
            return wrong("cut", "a part such as \"20 % to 70 %\"");
        }
        stops_cut(stops, from, to);
    }
    if (wishes->reverse) {
        stops_reverse(stops);
    }
    if (wishes->rotate != NULL) {
        const char *rest = share_of_text(&from, wishes->rotate);
        if (rest == NULL || *rest != '\0') {
            return wrong("rotate", "a share such as \"25 %\"");
        }
        stops_rotate(stops, from);
    }
    if (wishes->even) {
        stops_even(stops);
    }
    if (wishes->insert != NULL) {
        const char *rest = share_of_text(&from, wishes->insert);
        if (rest == NULL || *rest != '\0') {
            return wrong("insert", "a place such as \"40 %\"");
        }
        if (!stops_insert(stops, from)) {
            complain_plain("--insert: the palette has 4096 stops; expected fewer");
            return EXIT_REFUSED;
        }
    }
    if (wishes->simplify != 0) {
        int before = stops->count;
        if (wishes->simplify < 2 || wishes->simplify > STOPS_SHOWN) {
            return wrong("simplify", "2 to 64 stops");
        }
        double error = stops_simplify(stops, wishes->simplify);
        fprintf(stderr, "%d stops in place of %d; at most %.0f of 255 off\n", stops->count, before, error);
    }
    return EXIT_GOOD;
}

/* ---- what it looks like ---- */

#define SWATCH 48

/* How many LEDs of 60 show another colour than the one before, when they are this bright: in chip steps of 8 bits. */
static int told_apart(const struct stops *stops, double lightness) {
    double luminance = lightness > 8 ? pow((lightness + 16) / 116, 3) : lightness / 903.3;
    int before[3] = {-1, -1, -1};
    int count = 0;
    for (int i = 0; i < 60; i++) {
        uint8_t rgb[3];
        int steps[3];
        stops_color(rgb, stops, i * 100.0 / 59);
        for (int c = 0; c < 3; c++) {
            steps[c] = (int)lrint(glanz_linear(rgb[c]) * luminance / 257);
        }
        count += memcmp(steps, before, sizeof steps) != 0;
        memcpy(before, steps, sizeof before);
    }
    return count;
}

static void tell(const struct stops *stops, int color) {
    printf("%d stops%s%s%s\n", stops->count,
           stops->between == GLANZ_BETWEEN_BANDS   ? ", in bands"
           : stops->between == GLANZ_BETWEEN_EVEN  ? ", even to the eye"
           : stops->between == GLANZ_BETWEEN_LIGHT ? ", straight in light"
                                                   : ", mixed as codes",
           stops->name[0] == '\0' ? "" : ", ", stops->name);
    for (int i = 0; i < stops->count && i < STOPS_SHOWN; i++) {
        const struct stop *stop = &stops->list[i];
        printf("  %7.3f %%  #%02x%02x%02x\n", stop->at, stop->rgb[0], stop->rgb[1], stop->rgb[2]);
    }
    for (int i = 0; i < SWATCH && color; i++) {
        uint8_t rgb[3];
        stops_color(rgb, stops, i * 100.0 / (SWATCH - 1));
        printf("\x1b[48;2;%u;%u;%um ", rgb[0], rgb[1], rgb[2]);
    }
    fputs(color ? "\x1b[0m\n" : "", stdout);
    printf("60 LEDs show %d colours side by side at 100 %% brightness, %d at 30 %%, %d at 10 %%, before dithering\n",
           told_apart(stops, 100), told_apart(stops, 30), told_apart(stops, 10));
}

/* As a screen has it, and as 60 LEDs, at full brightness and dimmed. */
static int draw(const struct stops *stops, const char *path) {
    static const double levels[] = {100, 30, 10};
    cairo_t *cairo;
    cairo_surface_t *page = page_new(&cairo, PAGE_WIDTH, 340);
    page_text(cairo, 40, 30, 14, stops->name[0] == '\0' ? "palette" : stops->name);
    for (int x = 0; x < 1200; x++) {
        uint8_t rgb[3];
        stops_color(rgb, stops, x * 100.0 / 1199);
        cairo_set_source_rgb(cairo, rgb[0] / 255.0, rgb[1] / 255.0, rgb[2] / 255.0);
        cairo_rectangle(cairo, 40 + x, 50, 1.5, 60);
        cairo_fill(cairo);
    }
    for (int i = 0; i < stops->count; i++) { /* where its stops are */
        cairo_set_source_rgb(cairo, 0.78, 0.80, 0.82);
        cairo_rectangle(cairo, 39 + stops->list[i].at * 12, 112, 2, 8);
        cairo_fill(cairo);
    }
    for (int row = 0; row < 3; row++) {
        char label[40];
        double luminance = levels[row] > 8 ? pow((levels[row] + 16) / 116, 3) : levels[row] / 903.3;
        snprintf(label, sizeof label, "60 LEDs at %.0f %% brightness", levels[row]);
        page_text(cairo, 40, 148 + row * 64, 12, label);
        for (int i = 0; i < 60; i++) {
            uint8_t rgb[3];
            stops_color(rgb, stops, i * 100.0 / 59);
            for (int c = 0; c < 3; c++) {
                rgb[c] = glanz_coded((uint16_t)(lrint(glanz_linear(rgb[c]) * luminance / 257) * 257));
            }
            page_led(cairo, 50 + i * 20, 168 + row * 64, 20, rgb);
        }
    }
    return page_save(page, cairo, path);
}

/* ---- the command ---- */

static int is_picture(const struct text *text) {
    return text->count > 8 && (memcmp(text->bytes, "\x89PNG", 4) == 0 || memcmp(text->bytes, "GIF8", 4) == 0);
}

/* @param colors of a picture; 0: as many as are told to be usual. */
static int read_from(struct stops *stops, const char *path, int colors) {
    struct text text = {NULL, 0, 0};
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    if (stops_of_library(stops, path)) {
        return colors == 0 ? EXIT_GOOD : wrong("colors", "a picture to find them in");
    }
    if (!text_read(&text, path)) {
        return EXIT_FILE;
    }
    int picture = is_picture(&text);
    int good = picture ? stops_of_picture(stops, &text, colors == 0 ? 6 : colors, &fault) : stops_read(stops, &text, &fault);
    text_free(&text);
    if (!good) {
        complain(path, &fault);
    }
    if (good && colors != 0 && !picture) {
        return wrong("colors", "a picture to find them in");
    }
    return good ? EXIT_GOOD : EXIT_REFUSED;
}

static int write_as(const struct stops *stops, const struct wishes *wishes) {
    struct text text = {NULL, 0, 0};
    int form = 0;
    while (form < STOPS_FORMS && strcmp(stops_forms[form], wishes->as) != 0) {
        form++;
    }
    if (form == STOPS_FORMS) {
        return wrong("as", "json, css, gpl or ggr");
    }
    if (form == STOPS_JSON && stops->count > STOPS_SHOWN) {
        complain_plain("a show's palette has at most 64 stops, and this one %d; expected --simplify with fewer", stops->count);
        return EXIT_REFUSED;
    }
    stops_write(&text, stops, (enum stops_form)form);
    int good = output_bytes(wishes->out == NULL ? "-" : wishes->out, text.bytes, text.count);
    text_free(&text);
    return good ? EXIT_GOOD : EXIT_FILE;
}

static int run(int argc, const char **argv) {
    static struct stops stops;
    struct arguments arguments;
    struct wishes wishes;
    int code;
    memset(&wishes, 0, sizeof wishes);
    const struct poptOption options[] = {
        {"colors", 0, POPT_ARG_INT, &wishes.colors, 0, "of a picture: how many are to stand for it, 1 to 64 (default 6)",
         "COUNT"},
        {"cut", 0, POPT_ARG_STRING, &wishes.cut, 0, "a part, such as \"20 % to 70 %\", spread over the whole", "PART"},
        {"reverse", 0, POPT_ARG_NONE, &wishes.reverse, 0, "from its end to its beginning", NULL},
        {"rotate", 0, POPT_ARG_STRING, &wishes.rotate, 0, "on by so much", "SHARE"},
        {"even", 0, POPT_ARG_NONE, &wishes.even, 0, "stops evenly spread", NULL},
        {"insert", 0, POPT_ARG_STRING, &wishes.insert, 0, "one more stop there, with the colour that is there already",
         "PLACE"},
        {"simplify", 0, POPT_ARG_INT, &wishes.simplify, 0, "down to so many stops; tells the error", "COUNT"},
        {"as", 'a', POPT_ARG_STRING, &wishes.as, 0, "write it: json (for a show), css, gpl or ggr (GIMP's palette, gradient)",
         "FORM"},
        {"output", 'o', POPT_ARG_STRING, &wishes.out, 0, "with --as: where to (default standard output)", "FILE"},
        {"picture", 'p', POPT_ARG_STRING, &wishes.picture, 0, "draw it, as a screen shows it and as LEDs do, also dimmed",
         "FILE"},
        {"color", 'c', POPT_ARG_NONE, &wishes.color, 0, "with a line in true colour of a terminal", NULL},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_palette, argc, argv, options, 1, 1, &code)) {
        return code;
    }
    code = wishes.out != NULL && wishes.as == NULL            ? wrong("output", "--as beside it")
           : wishes.colors < 0 || wishes.colors > STOPS_SHOWN ? wrong("colors", "1 to 64")
                                                              : read_from(&stops, arguments.path[0], wishes.colors);
    if (code == EXIT_GOOD) {
        code = change(&stops, &wishes);
    }
    if (code == EXIT_GOOD && wishes.as != NULL) {
        code = write_as(&stops, &wishes);
    } else if (code == EXIT_GOOD) {
        tell(&stops, wishes.color && may_color());
    }
    if (code == EXIT_GOOD && wishes.picture != NULL) {
        code = draw(&stops, wishes.picture);
    }
    free(wishes.rotate);
    free(wishes.cut);
    free(wishes.insert);
    free(wishes.as);
    free(wishes.out);
    free(wishes.picture);
    arguments_free(&arguments);
    return code;
}

const struct command command_palette = {"palette", "a palette of a file or the library: told, changed, in another form, drawn",
                                        "FILE|NAME", "  glanz palette \"lamp oil\" --reverse --as css\n", run, 0};
