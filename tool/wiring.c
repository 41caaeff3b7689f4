/* SPDX-License-Identifier: MIT */
/* glanz wiring: where each LED stands and how the data line runs, as a picture, a table, CSV or JSON; faulty places marked. */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "facts.h"
#include "wiring.h"

/* ---- what there is, and what is wrong with it ---- */

static const struct led *sorting;
static int by_place(const void *a, const void *b) {
    const struct led *one = &sorting[*(const size_t *)a];
    const struct led *other = &sorting[*(const size_t *)b];
    return one->x != other->x ? (one->x < other->x ? -1 : 1) : one->y != other->y ? (one->y < other->y ? -1 : 1) : 0;
}
static int by_led(const void *a, const void *b) {
    const struct led *one = &sorting[*(const size_t *)a];
    const struct led *other = &sorting[*(const size_t *)b];
    return one->output != other->output ? one->output - other->output : one->led - other->led;
}

/* Neighbours that are equal in an order are wrong. */
static void mark_equal(struct plan *plan, size_t *order, int (*compare)(const void *, const void *)) {
    sorting = plan->leds;
    qsort(order, plan->count, sizeof *order, compare);
    for (size_t i = 1; i < plan->count; i++) {
        if (compare(&order[i - 1], &order[i]) == 0) {
            plan->leds[order[i - 1]].wrong = 1;
            plan->leds[order[i]].wrong = 1;
        }
    }
}

static void find_wrong(struct plan *plan) {
    size_t *order = (size_t *)calloc(plan->count + 1, sizeof *order);
    for (size_t i = 0; order != NULL && i < plan->count; i++) {
        struct led *led = &plan->leds[i];
        order[i] = i;
        led->wrong = led->x < 0 || led->y < 0 || led->x > plan->columns || led->y > plan->rows ||
                     led->led >= glanz_output_leds(&plan->rig->outputs[led->output]);
    }
    if (order != NULL) {
        mark_equal(plan, order, by_place);
        mark_equal(plan, order, by_led);
    }
    free(order);
    plan->wrong = 0;
    for (size_t i = 0; i < plan->count; i++) {
        plan->wrong += plan->leds[i].wrong;
    }
}

/* As it is mounted, seen from the front or the back. */
static void look_at(struct plan *plan, int turned, int back) {
    for (size_t i = 0; i < plan->count; i++) {
        double x = plan->leds[i].x;
        double y = plan->leds[i].y;
        plan->leds[i].x = turned == 90 ? plan->rows - y : turned == 180 ? plan->columns - x : turned == 270 ? y : x;
        plan->leds[i].y = turned == 90 ? x : turned == 180 ? plan->rows - y : turned == 270 ? plan->columns - x : y;
    }
    if (turned == 90 || turned == 270) {
        double held = plan->columns;
        plan->columns = plan->rows;
        plan->rows = held;
    }
    for (size_t i = 0; back && i < plan->count; i++) {
        plan->leds[i].x = plan->columns - plan->leds[i].x;
    }
}

static int make_plan(struct plan *plan, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_surface *surface) {
    uint16_t columns;
    uint16_t rows;
    size_t at = 0;
    memset(plan, 0, sizeof *plan);
    plan->rig = rig;
    plan->surface = surface;
    for (uint8_t p = 0; p < surface->piece_count; p++) {
        plan->count += surface->pieces[p].leds;
    }
    plan->leds = (struct led *)calloc(plan->count + 1, sizeof *plan->leds);
    if (plan->leds == NULL) {
        return 0;
    }
    glanz_surface_field(&columns, &rows, surface);
    plan->columns = columns;
    plan->rows = rows;
    for (uint8_t p = 0; p < surface->piece_count; p++) {
        GLANZ_CONST struct glanz_piece *piece = &surface->pieces[p];
        for (uint16_t i = 0; i < piece->leds; i++, at++) {
            /* along the data line, which a reversed piece runs against */
            uint16_t of_piece = piece->reversed ? (uint16_t)(piece->leds - 1 - i) : i;
            glanz_place x;
            glanz_place y;
            glanz_piece_places(&x, &y, surface, p, of_piece, 0, 1);
            plan->leds[at].x = x / 65536.0;
            plan->leds[at].y = y / 65536.0;
            plan->leds[at].output = piece->output;
            plan->leds[at].piece = p;
            plan->leds[at].led = (uint16_t)(piece->first + i);
        }
    }
    find_wrong(plan);
    return 1;
}

/* A strip is drawn in rows that fit the page, one after another from the left. */
static void fold_strip(struct plan *plan) {
    int across = plan->columns > 44 ? 44 : (int)plan->columns;
    if (plan->surface->kind != GLANZ_SURFACE_STRIP) {
        return;
    }
    for (size_t i = 0; i < plan->count; i++) {
        int column = (int)plan->leds[i].x;
        plan->leds[i].x = column % across + 0.5;
        plan->leds[i].y = column / across + 0.5;
    }
    plan->rows = ((int)plan->columns + across - 1) / across;
    plan->columns = across;
}

/* ---- tables ---- */

static void put_table(const struct plan *plan) {
    int columns = (int)ceil(plan->columns);
    int rows = (int)ceil(plan->rows);
    char(*cells)[16] = (char(*)[16])calloc((size_t)columns * (size_t)rows, sizeof *cells);
    int several = 0;
    int width = 1;
    if (cells == NULL) {
        return;
    }
    for (size_t i = 1; i < plan->count; i++) {
        several |= plan->leds[i].output != plan->leds[0].output;
    }
    for (size_t i = 0; i < plan->count; i++) {
        const struct led *led = &plan->leds[i];
        int x = (int)floor(led->x);
        int y = (int)floor(led->y);
        if (x >= 0 && y >= 0 && x < columns && y < rows) {
            char *cell = cells[y * columns + x];
            char name[12];
            if (several) {
                snprintf(name, sizeof name, "%c%u", 'A' + led->output % 26, led->led);
            } else {
                snprintf(name, sizeof name, "%u", led->led);
            }
            snprintf(cell, sizeof cells[0], "%s%s", led->wrong || cell[0] != '\0' ? "!" : "", name);
            width = (int)strlen(cell) > width ? (int)strlen(cell) : width;
        }
    }
    printf("surface \"%s\": %zu LEDs, %g x %g\n", plan->surface->name, plan->count, plan->columns, plan->rows);
    for (uint8_t o = 0; several && o < plan->rig->output_count; o++) {
        printf("  %c: output \"%s\"\n", 'A' + o % 26, plan->rig->outputs[o].name);
    }
    for (int y = 0; y < rows; y++) {
        for (int x = 0; x < columns; x++) {
            printf("%s%*s", x == 0 ? "" : " ", width, cells[y * columns + x][0] == '\0' ? "." : cells[y * columns + x]);
        }
        putchar('\n');
    }
    free(cells);
}

/* What a segment's effect sees at a LED: its column and row, or its point of the line; empty where the segment has it not. */
static void seen_at(char *out, size_t capacity, const struct plan *plan, GLANZ_CONST struct glanz_segment *segment,
                    const struct glanz_field *field, uint8_t piece, uint16_t before, uint16_t of_piece) {
    struct glanz_stretch_of run = {piece, 0, before, (uint16_t)(before + of_piece)};
    glanz_place x = 0;
    glanz_place y = GLANZ_HALF;
    uint8_t taken;
    out[0] = '\0';
    if (run.at < field->first || run.at - field->first >= field->leds) {
        return;
    }
    uint8_t some = field->line
                       ? glanz_region_places(&x, &taken, &segment->region, field->leds, (uint16_t)(run.at - field->first), 0, 1)
                       : glanz_field_places(&x, &y, &taken, &segment->region, field, plan->surface, &run, 1);
    if (some == 0) {
        return;
    }
    if (segment->look != NULL && segment->look->effect->shade_field != NULL) {
        snprintf(out, capacity, "%d,%d", (int)(x / GLANZ_STEP), (int)(y / GLANZ_STEP));
    } else {
        glanz_field_line(&x, &y, field, field->line ? 0 : 1);
        snprintf(out, capacity, "%d", (int)(x / GLANZ_STEP));
    }
}

/* How a segment's effect lies over the LEDs: what it sees, at each LED's place. */
static void put_seen(const struct plan *plan, GLANZ_CONST struct glanz_segment *segment) {
    struct glanz_field field = {0};
    int columns = (int)ceil(plan->columns);
    int rows = (int)ceil(plan->rows);
    char(*cells)[16] = (char(*)[16])calloc((size_t)columns * (size_t)rows, sizeof *cells);
    int width = 1;
    size_t at = 0;
    uint16_t before = 0;
    (void)glanz_region_field(&field, &segment->region, plan->surface);
    for (uint8_t p = 0; cells != NULL && p < plan->surface->piece_count; p++) {
        GLANZ_CONST struct glanz_piece *piece = &plan->surface->pieces[p];
        for (uint16_t i = 0; i < piece->leds; i++, at++) {
            int x = (int)floor(plan->leds[at].x);
            int y = (int)floor(plan->leds[at].y);
            if (x >= 0 && y >= 0 && x < columns && y < rows) {
                char *cell = cells[y * columns + x];
                seen_at(cell, sizeof cells[0], plan, segment, &field, p, before,
                        piece->reversed ? (uint16_t)(piece->leds - 1 - i) : i);
                width = (int)strlen(cell) > width ? (int)strlen(cell) : width;
            }
        }
        before = (uint16_t)(before + piece->leds);
    }
    int fields = segment->look != NULL && segment->look->effect->shade_field != NULL;
    printf("segment \"%s\" on \"%s\": %s sees ", segment->name, plan->surface->name,
           segment->look == NULL ? "an effect" : segment->look->effect->name);
    if (fields) {
        printf("%u columns and %u rows\n", field.columns, field.rows);
    } else {
        printf("a line of %u\n", field.length);
    }
    for (int i = 0; cells != NULL && i < columns * rows; i++) {
        printf("%s%*s%s", i % columns == 0 ? "" : " ", width, cells[i][0] == '\0' ? "." : cells[i],
               (i + 1) % columns == 0 ? "\n" : "");
    }
    free(cells);
}

/* The panel or the circle that a LED belongs to, NULL in a strip. */
static const char *part_of(const struct plan *plan, const struct led *led) {
    GLANZ_CONST struct glanz_surface *surface = plan->surface;
    return surface->panels != NULL    ? surface->panels[led->piece].name
           : surface->circles != NULL ? surface->circles[led->piece].name
                                      : NULL;
}

static void put_facts(struct facts *facts, const struct plan *plan) {
    facts_object(facts, NULL);
    facts_text(facts, "surface", plan->surface->name);
    facts_number(facts, "columns", plan->columns, 3);
    facts_number(facts, "rows", plan->rows, 3);
    facts_number(facts, "wrong", (double)plan->wrong, 0);
    facts_list(facts, "leds");
    for (size_t i = 0; i < plan->count; i++) {
        const struct led *led = &plan->leds[i];
        facts_object(facts, NULL);
        facts_text(facts, "output", plan->rig->outputs[led->output].name);
        facts_number(facts, "led", led->led, 0);
        facts_number(facts, "column", led->x - 0.5, 3);
        facts_number(facts, "row", led->y - 0.5, 3);
        facts_text(facts, "part", part_of(plan, led));
        facts_flag(facts, "wrong", led->wrong);
        facts_end(facts);
    }
    facts_end(facts);
    facts_end(facts);
}

static void put_csv(const struct plan *plan, int heading) {
    if (heading) {
        puts("surface,index,output,led,column,row,part,wrong");
    }
    for (size_t i = 0; i < plan->count; i++) {
        const struct led *led = &plan->leds[i];
        const char *part = part_of(plan, led);
        printf("\"%s\",%zu,\"%s\",%u,%g,%g,\"%s\",%u\n", plan->surface->name, i, plan->rig->outputs[led->output].name, led->led,
               led->x - 0.5, led->y - 0.5, part == NULL ? "" : part, led->wrong);
    }
}

/* ---- the command ---- */

/* Read a rig; one that cannot be, but could be read, too. */
static int read_rig(struct document *document, const char *path, int *refused) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text;
    memset(document, 0, sizeof *document);
    if (!text_read(&text, path)) {
        return EXIT_FILE;
    }
    size_t used = 0;
    document->text = text;
    document->memory_size = glanz_document_memory(text.bytes, text.count);
    document->memory = malloc(document->memory_size);
    if (document->memory == NULL) {
        return EXIT_FILE;
    }
    glanz_status status =
        glanz_rig_read(&document->rig, &used, document->memory, document->memory_size, text.bytes, text.count, &fault);
    *refused = status != GLANZ_OK;
    if (*refused) {
        complain(path, &fault);
    }
    return status == GLANZ_OK || (status == GLANZ_ERR_RIG && document->rig != NULL) ? EXIT_GOOD : EXIT_REFUSED;
}

struct wish {
    char *surface, *output, *segment;
    int table, csv, json, back, turned;
    struct facts facts;
};

static int do_surface(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_surface *surface, struct wish *wish,
                      int heading) {
    struct plan plan;
    int code = EXIT_GOOD;
    if (!make_plan(&plan, rig, surface)) {
        complain_plain("out of memory");
        return EXIT_FILE;
    }
    look_at(&plan, wish->turned, wish->back);
    if (wish->json) {
        put_facts(&wish->facts, &plan);
    } else if (wish->csv) {
        put_csv(&plan, heading);
    } else if (wish->table || wish->output == NULL) {
        fold_strip(&plan);
        put_table(&plan);
    }
    if (wish->output != NULL) {
        fold_strip(&plan);
        code = wiring_draw(&plan, wish->output, wish->back);
    }
    free(plan.leds);
    return code;
}

static int do_surfaces(GLANZ_CONST struct glanz_rig *rig, const char *path, struct wish *wish) {
    int code = EXIT_GOOD;
    int found = 0;
    for (uint8_t s = 0; code == EXIT_GOOD && s < rig->surface_count; s++) {
        GLANZ_CONST struct glanz_surface *surface = &rig->surfaces[s];
        int drawn_already = wish->output != NULL && wish->surface == NULL && found;
        if ((wish->surface == NULL || strcmp(wish->surface, surface->name) == 0) && !drawn_already) {
            if (wish->json && !found) {
                facts_open(&wish->facts, stdout);
                facts_list(&wish->facts, "surfaces");
            }
            code = do_surface(rig, surface, wish, !found);
            found = 1;
        }
    }
    if (wish->json && found) {
        facts_end(&wish->facts);
        facts_end(&wish->facts);
    }
    if (code == EXIT_GOOD && !found) {
        complain_plain("no such surface in %s: \"%s\"", path, wish->surface == NULL ? "" : wish->surface);
        code = EXIT_REFUSED;
    }
    return code;
}

/* How the segments of a show lie, or one of them. */
static int do_segments(GLANZ_CONST struct glanz_rig *rig, const char *path, const struct wish *wish) {
    struct document show;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text;
    int found = 0;
    if (!text_read(&text, path)) {
        return EXIT_FILE;
    }
    if (document_show(&show, text, rig, NULL, &fault) != GLANZ_OK) {
        complain(path, &fault);
        return EXIT_REFUSED;
    }
    for (uint8_t i = 0; i < show.show->segment_count; i++) {
        GLANZ_CONST struct glanz_segment *segment = &show.show->segments[i];
        struct plan plan;
        if ((wish->segment == NULL || strcmp(wish->segment, segment->name) == 0) &&
            make_plan(&plan, rig, &rig->surfaces[segment->surface])) {
            look_at(&plan, wish->turned, wish->back);
            fold_strip(&plan);
            put_seen(&plan, segment);
            free(plan.leds);
            found = 1;
        }
    }
    if (!found) {
        complain_plain("no such segment in %s: \"%s\"", path, wish->segment == NULL ? "" : wish->segment);
    }
    document_free(&show);
    return found ? EXIT_GOOD : EXIT_REFUSED;
}

static int run(int argc, const char **argv) {
    struct wish wish;
    struct arguments arguments;
    struct document document;
    int refused = 0;
    int code;
    memset(&wish, 0, sizeof wish);
    memset(&document, 0, sizeof document);
    const struct poptOption options[] = {
        {"surface", 'f', POPT_ARG_STRING, &wish.surface, 0, "this surface; else all of them, or the first to draw", "NAME"},
        {"output", 'o', POPT_ARG_STRING, &wish.output, 0, "draw it: a file that ends in .png or .svg", "FILE"},
        {"table", 't', POPT_ARG_NONE, &wish.table, 0, "a text table: each LED's index at its place (the default)", NULL},
        {"csv", 'c', POPT_ARG_NONE, &wish.csv, 0, "a line for each LED, for a spreadsheet", NULL},
        {"json", 'j', POPT_ARG_NONE, &wish.json, 0, "as JSON, for scripts: each LED's output, place and part", NULL},
        {"segment", 's', POPT_ARG_STRING, &wish.segment, 0, "with a show: this segment; else all", "NAME"},
        {"back", 'b', POPT_ARG_NONE, &wish.back, 0, "as seen from the back", NULL},
        {"turned", 'r', POPT_ARG_INT, &wish.turned, 0, "turned clockwise as it is mounted: 90, 180 or 270", "DEGREES"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_wiring, argc, argv, options, 1, 2, &code)) {
        return code;
    }
    code = EXIT_GOOD;
    if (wish.turned != 0 && wish.turned != 90 && wish.turned != 180 && wish.turned != 270) {
        complain_plain("wiring: --turned: expected 90, 180 or 270");
        code = EXIT_USAGE;
    } else if (arguments.count == 2 ? wish.table || wish.csv || wish.json || wish.output != NULL || wish.surface != NULL
                                    : wish.segment != NULL) {
        complain_plain(arguments.count == 2 ? "wiring: with a show only --segment, --back and --turned"
                                            : "wiring: --segment needs a show");
        code = EXIT_USAGE;
    } else if (wish.table + wish.csv + wish.json > 1) {
        complain_plain("wiring: expected one of --table, --csv and --json");
        code = EXIT_USAGE;
    }
    code = code == EXIT_GOOD ? read_rig(&document, arguments.path[0], &refused) : code;
    if (code == EXIT_GOOD && arguments.count == 2) {
        code = refused ? EXIT_REFUSED : do_segments(document.rig, arguments.path[1], &wish);
    } else if (code == EXIT_GOOD) {
        code = do_surfaces(document.rig, arguments.path[0], &wish);
    }
    code = code == EXIT_GOOD && refused ? EXIT_REFUSED : code;
    document_free(&document);
    free(wish.surface);
    free(wish.segment);
    free(wish.output);
    arguments_free(&arguments);
    return code;
}

const struct command command_wiring = {"wiring",
                                       "where each LED stands and how the data line runs",
                                       "RIG [SHOW]",
                                       "  glanz wiring demo/rig.json --surface \"tide board\" --output out/board.png\n"
                                       "  glanz wiring demo/rig.json --surface \"painted anchor\"\n"
                                       "  glanz wiring demo/rig.json demo/show.json --segment anchor\n",
                                       run,
                                       0};
