/* SPDX-License-Identifier: MIT */
/* glanz find: asks what is seen of test pictures and works out how the panels of a grid are wired. */
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include "commands.h"
#include "finding.h"

static const char *const color_names[4] = {"red", "green", "blue", "white"};
static const char *const corners[] = {"top left", "top right", "bottom left", "bottom right"};

static void paint(struct glanz_light *light, uint8_t output, uint16_t first, uint8_t count, void *user) {
    const struct search *search = (const struct search *)user;
    static const struct glanz_light dark;
    for (uint8_t i = 0; i < count; i++) {
        uint16_t led = (uint16_t)(first + i);
        light[i] = output == search->output && led >= search->first
                       ? glanz_finder_light(&search->finder, (uint16_t)(led - search->first))
                       : dark;
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
    for (int i = 0; i < finder->count; i++) {
        strcat(words, i == 0 ? "" : " ");
        strcat(words, panel[i] == GLANZ_FINDER_DARK ? "-" : color_names[panel[i] - finder->panel]);
    }
}

static void ask(const struct search *search) {
    const struct glanz_finder *finder = &search->finder;
    const struct glanz_panel *panel = &finder->panels[finder->slot[finder->panel % GLANZ_FINDER_PANELS]];
    uint8_t numbers[GLANZ_FINDER_PANELS];
    char words[64];
    switch (finder->question) {
    case GLANZ_FINDER_ORDER:
        glanz_finder_order(numbers, finder, (uint16_t)(glanz_finder_answers(finder) - 1));
        order_words(words, finder, numbers);
        printf("%s%s. Which, %s? Such as: %s\n",
               strchr(words, '-') != NULL ? "Some panels are lit" : "Each panel has one colour",
               strchr(words, '-') != NULL ? ", each in one colour, the others are dark (-)" : "",
               "panel by panel as they were listed, row by row from the top left", words);
        break;
    case GLANZ_FINDER_WIRING:
        puts("One panel shows a red, a green, a blue and perhaps a white LED. Which of these is it?");
        for (uint8_t i = 0; i < 16; i++) {
            tell_wiring(i, panel->columns == panel->rows);
        }
        break;
    default:
        printf("Letters%.*s, one a panel (an L on small panels): is each the right way round? yes or no (y, n),\n",
               finder->count * 3 - 1, " F, G, J, R, P, Q, 4, 7");
        printf("or what panel 1%s is in your opinion, and look again: \"1 bottom right\", \"1 columns zigzag\", \"1 rows "
               "straight\"%s\n",
               finder->count > 1 ? ", 2, .." : "", finder->count > 1 ? ", \"swap 1 2\"" : "");
        break;
    }
}

/* What a panel is taken for. */
static void tell_panel(const struct glanz_finder *finder, uint8_t slot) {
    const struct glanz_panel *panel = &finder->panels[slot];
    uint8_t number = 0;
    while (finder->slot[number] != slot) {
        number++;
    }
    printf("Panel %u, %ux%u at %u, %u, is number %u along the line: first LED %s, along %s, %s.\n", slot + 1u, panel->columns,
           panel->rows, panel->left, panel->top, number + 1u, corners[panel->wiring & 3],
           (panel->wiring & GLANZ_BY_COLUMNS) != 0 ? "columns" : "rows",
           (panel->wiring & GLANZ_ZIGZAG) != 0 ? "zigzag" : "all one way");
}

/* A word about a panel's wiring. @return 0 when it is none. */
static int read_word(uint8_t *wiring, const char *word) {
    static const struct {
        const char *word;
        uint8_t bit, set;
    } words[] = {{"left", GLANZ_FROM_RIGHT, 0},    {"right", GLANZ_FROM_RIGHT, 1}, {"top", GLANZ_FROM_BOTTOM, 0},
                 {"bottom", GLANZ_FROM_BOTTOM, 1}, {"rows", GLANZ_BY_COLUMNS, 0},  {"columns", GLANZ_BY_COLUMNS, 1},
                 {"straight", GLANZ_ZIGZAG, 0},    {"zigzag", GLANZ_ZIGZAG, 1}};
    for (size_t i = 0; i < sizeof words / sizeof words[0]; i++) {
        if (strcmp(word, words[i].word) == 0) {
            *wiring = (uint8_t)(words[i].set ? *wiring | words[i].bit : *wiring & ~words[i].bit);
            return 1;
        }
    }
    return 0;
}

/* "try", "swap 1 2", "2 bottom right columns": a supposition. @return 0 when it is none; nothing is changed then. */
static int read_supposition(struct glanz_finder *finder, const char *text) {
    char line[256];
    char *rest;
    unsigned a;
    unsigned b;
    int length = 0;
    if (sscanf(text, "swap %u %u%n", &a, &b, &length) == 2 && text[length] == '\0' && a - 1 < finder->count &&
        b - 1 < finder->count && glanz_finder_exchange(finder, (uint8_t)(a - 1), (uint8_t)(b - 1)) == GLANZ_OK) {
        tell_panel(finder, (uint8_t)(a - 1));
        tell_panel(finder, (uint8_t)(b - 1));
        return 1;
    }
    if (strcmp(text, "try") == 0) { /* the letters with what is known so far */
        return glanz_finder_suppose(finder, 0, finder->panels[0].wiring) == GLANZ_OK;
    }
    snprintf(line, sizeof line, "%s", text);
    char *word = strtok_r(line, " ", &rest);
    a = word != NULL && strlen(word) == 1 ? (unsigned)(word[0] - '0') : 0;
    word = strtok_r(NULL, " ", &rest);
    if (a - 1 >= finder->count || word == NULL) {
        return 0;
    }
    uint8_t wiring = finder->panels[a - 1].wiring;
    for (; word != NULL; word = strtok_r(NULL, " ", &rest)) {
        if (!read_word(&wiring, word)) {
            return 0;
        }
    }
    if (glanz_finder_suppose(finder, (uint8_t)(a - 1), wiring) != GLANZ_OK) {
        return 0;
    }
    tell_panel(finder, (uint8_t)(a - 1));
    return 1;
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
    struct glanz_panel panels[GLANZ_FINDER_PANELS];
    unsigned first = search->first;
    uint8_t count = search->finder.count;
    glanz_finder_panels(&search->finder, panels);
    puts("\"grid\": [");
    for (uint8_t i = 0; i < count; i++) {
        const struct glanz_panel *panel = &panels[i];
        printf(
            "  { \"output\": \"%s\", \"first\": %u, \"columns\": %u, \"rows\": %u, \"first led\": \"%s\", \"along\": \"%s\"%s",
            search->rig->outputs[search->output].name, first, panel->columns, panel->rows, corners[panel->wiring & 3],
            (panel->wiring & GLANZ_BY_COLUMNS) != 0 ? "columns" : "rows",
            (panel->wiring & GLANZ_ZIGZAG) != 0 ? ", \"zigzag\": true" : "");
        if (count > 1 || panel->left != 0 || panel->top != 0) {
            printf(", \"left\": %u, \"top\": %u", panel->left, panel->top);
        }
        printf(" }%s\n", i + 1 < count ? "," : "");
        first += (unsigned)panel->columns * panel->rows;
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
    puts("(\"back\" takes the last answer back, \"try\" shows the letters at once, to change by hand what a panel is taken "
         "for)");
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
        struct glanz_finder supposed = search->finder;
        if (read_supposition(&supposed, line)) {
            before[answers++ % TAKEN_BACK_MOST] = search->finder;
            search->finder = supposed;
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
    struct finding_options told;
    struct document rig;
    struct text text;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    void *memory = NULL;
    int code;
    memset(&search, 0, sizeof search);
    memset(&rig, 0, sizeof rig);
    memset(&told, 0, sizeof told);
    const struct poptOption options[] = {
        {"size", 's', POPT_ARG_STRING, &told.size, 0, "columns and rows of a panel as it hangs", "CxR"},
        {"panels", 'p', POPT_ARG_STRING, &told.panels, 0,
         "panels beside and below each other, eight at the most (default 1x1); of different sizes: a list of columns, rows, "
         "left and top of each, such as 16x16+0+0,8x8+16+0",
         "CxR|LIST"},
        {"output", 'o', POPT_ARG_STRING, &told.output, 0, "the output they are on (default the first)", "NAME"},
        {"surface", '\0', POPT_ARG_STRING, &told.surface, 0,
         "in place of these three, the panels of this surface; begins with what the rig takes them for", "NAME"},
        {"hangs", 'w', POPT_ARG_STRING, &told.hangs, 0,
         "the surface of the rig that the simulated panels really are; draws them", "NAME"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_find, argc, argv, options, 1, 1, &code)) {
        return code;
    }
    if (!text_read(&text, arguments.path[0])) {
        code = EXIT_FILE;
    } else if (document_rig(&rig, text, &fault) != GLANZ_OK) {
        complain(arguments.path[0], &fault);
        code = EXIT_REFUSED;
    } else {
        code = finding_begin(&search, rig.rig, &told);
    }
    if (code == EXIT_GOOD) {
        code = begin(&search, &memory) ? search_on(&search) : EXIT_REFUSED;
    }
    glanz_board_close(search.board);
    free(memory);
    document_free(&rig);
    free(told.size);
    free(told.panels);
    free(told.output);
    free(told.surface);
    free(told.hangs);
    arguments_free(&arguments);
    return code;
}

const struct command command_find = {
    "find", "find out how panels are wired, from what one sees",
    "RIG",  "  glanz find demo/rig.json --output \"board line\" --size 40x10 --hangs \"tide board\"\n",
    run,    LIGHTS_SERIAL};
