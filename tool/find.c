/* SPDX-License-Identifier: MIT */
/* glanz find: asks what is seen of test pictures and works out how the panels of a grid are wired. */
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include <glanz/finder.h>

#include "commands.h"

static const char *const color_names[4] = {"red", "green", "blue", "white"};

struct search {
    struct glanz_finder finder;
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_surface *truth; /* how the simulated panels really hang; NULL: nothing is drawn */
    uint8_t output;
    struct glanz_board *board;
    struct glanz_device *device;
    uint64_t now_us;
};

static void paint(struct glanz_light *light, uint8_t output, uint16_t first, uint8_t count, void *user) {
    const struct search *search = (const struct search *)user;
    static const struct glanz_light dark;
    for (uint8_t i = 0; i < count; i++) {
        light[i] = output == search->output ? glanz_finder_light(&search->finder, (uint16_t)(first + i)) : dark;
    }
}

/* What one sees of the simulated hardware: the chips' lights where they really hang. */
static void draw(struct search *search) {
    uint16_t columns;
    uint16_t rows;
    for (int i = 0; i < 40; i++, search->now_us += 10000) {
        glanz_board_time(search->board, search->now_us);
        (void)glanz_device_frame(search->device, (uint32_t)search->now_us);
    }
    glanz_board_time(search->board, search->now_us - 1);
    if (search->truth == NULL) {
        return;
    }
    glanz_surface_field(&columns, &rows, search->truth);
    char *cells = (char *)calloc((size_t)columns * rows, 1);
    for (uint8_t p = 0; cells != NULL && p < search->truth->piece_count; p++) {
        for (uint16_t i = 0; i < search->truth->pieces[p].leds; i++) {
            glanz_place x;
            glanz_place y;
            glanz_piece_places(&x, &y, search->truth, p, i, 0, 1);
            struct glanz_lit lit =
                glanz_board_lit(search->board, search->truth->pieces[p].output, (uint16_t)(search->truth->pieces[p].first + i));
            char *cell = &cells[(size_t)(y / GLANZ_STEP) * columns + (size_t)(x / GLANZ_STEP)];
            *cell = lit.red && lit.green && lit.blue ? 'W' : lit.red ? 'R' : lit.green ? 'G' : lit.blue ? 'B' : '.';
        }
    }
    for (uint16_t y = 0; cells != NULL && y < rows; y++) {
        fputs("    ", stdout);
        for (uint16_t x = 0; x < columns; x++) {
            char cell = cells[(size_t)y * columns + x];
            printf("%c ", cell == 0 ? ' ' : cell);
        }
        putchar('\n');
    }
    free(cells);
}

/* One of the 16 wirings in words. */
static void tell_wiring(uint8_t wiring, int square) {
    const char *side = (wiring & GLANZ_FROM_RIGHT) != 0 ? "right" : "left";
    const char *end = (wiring & GLANZ_FROM_BOTTOM) != 0 ? "bottom" : "top";
    int columns = (wiring & GLANZ_BY_COLUMNS) != 0;
    const char *to = columns ? ((wiring & GLANZ_FROM_BOTTOM) != 0 ? "above" : "below")
                             : ((wiring & GLANZ_FROM_RIGHT) != 0 ? "left of" : "right of");
    const char *next = columns ? ((wiring & GLANZ_FROM_RIGHT) != 0 ? "left of" : "right of")
                               : ((wiring & GLANZ_FROM_BOTTOM) != 0 ? "above" : "below");
    printf("  %2u  red %s %s, green %s it; ", wiring + 1u, end, side, to);
    /* on square panels both colours fall on one LED, which is blue */
    printf((wiring & GLANZ_ZIGZAG) != 0 ? "%s in the next %s, at its far end\n" : "%s %s red\n",
           columns && !square ? "white" : "blue", (wiring & GLANZ_ZIGZAG) != 0 ? (columns ? "column" : "row") : next);
}

/* An order as it is typed: colours row by row, - for a dark panel. */
static void order_words(char *words, const struct glanz_finder *finder, const uint8_t *panel) {
    words[0] = '\0';
    for (int i = 0; i < finder->across * finder->down; i++) {
        strcat(words, i == 0 ? "" : " ");
        strcat(words, panel[i] == GLANZ_FINDER_DARK ? "-" : color_names[panel[i] - finder->panel]);
    }
}

static void ask(const struct search *search) {
    const struct glanz_finder *finder = &search->finder;
    uint8_t count = (uint8_t)(finder->across * finder->down);
    uint8_t panel[GLANZ_FINDER_PANELS];
    char words[64];
    switch (finder->question) {
    case GLANZ_FINDER_ORDER:
        glanz_finder_order(panel, finder, (uint16_t)(glanz_finder_answers(finder) - 1));
        order_words(words, finder, panel);
        printf("%s%s. Which, row by row from the top left? Such as: %s\n",
               count > 4 ? "Some panels have a colour each" : "Each panel has one colour",
               count > 4 ? ", the others are dark (-)" : "", words);
        break;
    case GLANZ_FINDER_WIRING:
        puts("One panel shows a red, a green, a blue and perhaps a white LED. Which of these is it?");
        for (uint8_t i = 0; i < 16; i++) {
            tell_wiring(i, finder->columns == finder->rows);
        }
        break;
    default:
        printf("Letters%.*s, one a panel, row by row (an L on small panels): is each the right way round? yes or no (y, n)\n",
               count * 3 - 1, " F, G, J, R, P, Q, 4, 7");
        break;
    }
}

/* An answer in words as its number. @return 0 when it is none. */
static int read_answer(uint16_t *answer, const struct glanz_finder *finder, const char *text) {
    char *end;
    if (finder->question == GLANZ_FINDER_LOOK) {
        *answer = strcmp(text, "yes") == 0 || strcmp(text, "y") == 0;
        return *answer || strcmp(text, "no") == 0 || strcmp(text, "n") == 0;
    }
    if (finder->question == GLANZ_FINDER_WIRING) {
        long number = strtol(text, &end, 10);
        *answer = (uint16_t)(number - 1);
        return end != text && *end == '\0' && number >= 1 && number <= 16;
    }
    for (uint16_t try = 0; try < glanz_finder_answers(finder); try++) {
        uint8_t panel[GLANZ_FINDER_PANELS];
        char words[64];
        glanz_finder_order(panel, finder, try);
        order_words(words, finder, panel);
        if (strcmp(words, text) == 0) {
            *answer = try;
            return 1;
        }
    }
    return 0;
}

static void print_found(const struct search *search) {
    static const char *const corners[] = {"top left", "top right", "bottom left", "bottom right"};
    struct glanz_panel panels[GLANZ_FINDER_PANELS];
    uint8_t count = (uint8_t)(search->finder.across * search->finder.down);
    glanz_finder_panels(&search->finder, panels);
    puts("\"grid\": [");
    for (uint8_t i = 0; i < count; i++) {
        const struct glanz_panel *panel = &panels[i];
        printf(
            "  { \"output\": \"%s\", \"first\": %u, \"columns\": %u, \"rows\": %u, \"first led\": \"%s\", \"along\": \"%s\"%s",
            search->rig->outputs[search->output].name, (unsigned)i * panel->columns * panel->rows, panel->columns, panel->rows,
            corners[panel->wiring & 3], (panel->wiring & GLANZ_BY_COLUMNS) != 0 ? "columns" : "rows",
            (panel->wiring & GLANZ_ZIGZAG) != 0 ? ", \"zigzag\": true" : "");
        if (count > 1) {
            printf(", \"left\": %u, \"top\": %u", panel->left, panel->top);
        }
        printf(" }%s\n", i + 1 < count ? "," : "");
    }
    puts("]");
}

#define TAKEN_BACK_MOST 64 /* answers */

/* Ask until it is found. Answers come from standard input, a line each. */
static int search_on(struct search *search) {
    static struct glanz_finder before[TAKEN_BACK_MOST]; /* each answer */
    char line[256];
    unsigned questions = 0;
    unsigned answers = 0;
    puts("(\"back\" takes the last answer back)");
    while (search->finder.question != GLANZ_FINDER_DONE) {
        uint16_t answer = 0;
        draw(search);
        ask(search);
        fputs("> ", stdout);
        fflush(stdout);
        if (fgets(line, sizeof line, stdin) == NULL) {
            complain_plain("find: no answer any more; nothing was found");
            return EXIT_REFUSED;
        }
        line[strcspn(line, "\r\n")] = '\0';
        if (!isatty(0)) { /* nobody sees it typed */
            puts(line);
        }
        if (strcmp(line, "back") == 0 || strcmp(line, "b") == 0) {
            if (answers == 0) {
                puts("There is no answer to take back.");
            } else {
                questions -= before[--answers % TAKEN_BACK_MOST].question != GLANZ_FINDER_LOOK && questions > 0;
                search->finder = before[answers % TAKEN_BACK_MOST];
            }
            continue;
        }
        if (!read_answer(&answer, &search->finder, line)) {
            printf("\"%s\" is none of the answers; expected one as above.\n", line);
            continue;
        }
        before[answers++ % TAKEN_BACK_MOST] = search->finder;
        questions += search->finder.question != GLANZ_FINDER_LOOK;
        if (glanz_finder_answer(&search->finder, answer) == GLANZ_ERR_STATE) {
            puts("Then the answers contradict what hangs there: one of them was wrong. Once more from the start.");
            questions = 0;
        }
    }
    printf("Found with %u question%s and the last look:\n", questions, questions == 1 ? "" : "s");
    print_found(search);
    return EXIT_GOOD;
}

static int find_output(struct search *search, const char *name) {
    for (uint8_t o = 0; o < search->rig->output_count; o++) {
        if (name == NULL || strcmp(search->rig->outputs[o].name, name) == 0) {
            search->output = o;
            return 1;
        }
    }
    complain_plain("find: no such output: \"%s\"", name);
    return 0;
}

static int two_numbers(unsigned *a, unsigned *b, const char *text, const char *option, unsigned most) {
    int length = 0;
    if (text == NULL || sscanf(text, "%ux%u%n", a, b, &length) != 2 || text[length] != '\0' || *a < 1 || *b < 1 || *a > most ||
        *b > most) {
        complain_plain("find: %s: expected two numbers such as %s", option, most > 8 ? "8x8" : "2x2");
        return 0;
    }
    return 1;
}

/* A device that shows nothing but the pictures, on the simulated board. */
static int begin(struct search *search, void **memory) {
    static struct glanz_show nothing;
    struct glanz_board_setup setup;
    struct glanz_setup start;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    size_t size = glanz_device_size(search->rig, 1);
    memset(&setup, 0, sizeof setup);
    memset(&start, 0, sizeof start);
    nothing.name = "nothing";
    nothing.brightness = 65535;
    nothing.change_ms = GLANZ_OWN_TIME;
    setup.hardware = search->rig;
    setup.serial = serial_line;
    search->board = glanz_board_open(&setup, &fault);
    *memory = calloc(1, size);
    start.rig = search->rig;
    start.show = &nothing;
    start.segment_capacity = 1;
    start.port = search->board == NULL ? NULL : glanz_board_port(search->board);
    start.parts = &glanz_everything;
    return search->board != NULL && *memory != NULL &&
           glanz_device_start(&search->device, *memory, size, &start, &fault) == GLANZ_OK &&
           glanz_engine_paint(glanz_device_engine(search->device), paint, search) == GLANZ_OK;
}

static int run(int argc, const char **argv) {
    struct search search;
    struct arguments arguments;
    struct document rig;
    struct text text;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    char *panels = NULL;
    char *size = NULL;
    char *output = NULL;
    char *truth = NULL;
    void *memory = NULL;
    unsigned across = 1;
    unsigned down = 1;
    unsigned columns = 0;
    unsigned rows = 0;
    int code;
    memset(&search, 0, sizeof search);
    memset(&rig, 0, sizeof rig);
    const struct poptOption options[] = {
        {"size", 's', POPT_ARG_STRING, &size, 0, "columns and rows of a panel as it hangs", "CxR"},
        {"panels", 'p', POPT_ARG_STRING, &panels, 0, "panels beside and below each other, eight at the most (default 1x1)",
         "CxR"},
        {"output", 'o', POPT_ARG_STRING, &output, 0, "the output they are on (default the first)", "NAME"},
        {"hangs", 'w', POPT_ARG_STRING, &truth, 0, "the surface of the rig that the simulated panels really are; draws them",
         "NAME"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_find, argc, argv, options, 1, 1, &code)) {
        return code;
    }
    code = EXIT_USAGE;
    if (two_numbers(&columns, &rows, size, "--size", 255) &&
        (panels == NULL || two_numbers(&across, &down, panels, "--panels", 8))) {
        code = glanz_finder_begin(&search.finder, (uint16_t)columns, (uint16_t)rows, (uint8_t)across, (uint8_t)down) == GLANZ_OK
                   ? EXIT_GOOD
                   : EXIT_USAGE;
        if (code != EXIT_GOOD) {
            complain_plain("find: expected panels of 2x2 LEDs and more, eight at the most");
        }
    }
    if (code == EXIT_GOOD && !text_read(&text, arguments.path[0])) {
        code = EXIT_FILE;
    } else if (code == EXIT_GOOD && document_rig(&rig, text, &fault) != GLANZ_OK) {
        complain(arguments.path[0], &fault);
        code = EXIT_REFUSED;
    }
    if (code == EXIT_GOOD) {
        search.rig = rig.rig;
        for (uint8_t s = 0; s < rig.rig->surface_count; s++) {
            if (truth != NULL && strcmp(rig.rig->surfaces[s].name, truth) == 0) {
                search.truth = &rig.rig->surfaces[s];
            }
        }
        uint32_t leds = columns * rows * across * down;
        code = EXIT_REFUSED;
        if (truth != NULL && search.truth == NULL) {
            complain_plain("find: no such surface: \"%s\"", truth);
        } else if (find_output(&search, output) && leds > glanz_output_leds(&rig.rig->outputs[search.output])) {
            complain_plain("find: the panels have %u LEDs, output \"%s\" has %u", (unsigned)leds,
                           rig.rig->outputs[search.output].name, glanz_output_leds(&rig.rig->outputs[search.output]));
        } else if (begin(&search, &memory)) {
            code = search_on(&search);
        }
    }
    glanz_board_close(search.board);
    free(memory);
    document_free(&rig);
    free(panels);
    free(size);
    free(output);
    free(truth);
    arguments_free(&arguments);
    return code;
}

const struct command command_find = {
    "find", "find out how panels are wired, from what one sees",
    "RIG",  "  glanz find demo/rig.json --output \"board line\" --size 40x10 --hangs \"tide board\"\n",
    run,    LIGHTS_SERIAL};
