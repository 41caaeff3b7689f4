/* SPDX-License-Identifier: MIT */
/* Which panels glanz find looks for: as its options list them, or as a surface of the rig has them. */
#include <string.h>

#include "commands.h"
#include "finding.h"

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
        complain_plain("find: %s: expected two numbers such as %s", option,
                       most > 8 ? "8x8" : "2x2, or panels such as 16x16+0+0,8x8+16+0");
        return 0;
    }
    return 1;
}

/* Equal panels, row by row. @return how many; 0 refused */
static unsigned equal_panels(struct glanz_panel *hanging, const char *size, const char *panels) {
    unsigned columns;
    unsigned rows;
    unsigned across = 1;
    unsigned down = 1;
    if (!two_numbers(&columns, &rows, size, "--size", 255) ||
        (panels != NULL && !two_numbers(&across, &down, panels, "--panels", 8))) {
        return 0;
    }
    for (unsigned i = 0; i < across * down && i < GLANZ_FINDER_PANELS; i++) {
        hanging[i].columns = (uint16_t)columns;
        hanging[i].rows = (uint16_t)rows;
        hanging[i].left = (uint16_t)(i % across * columns);
        hanging[i].top = (uint16_t)(i / across * rows);
    }
    return across * down;
}

/* Panels as listed: COLUMNSxROWS+LEFT+TOP, separated by commas. @return how many; 0 refused */
static unsigned listed_panels(struct glanz_panel *hanging, const char *panels) {
    unsigned count = 0;
    const char *text = panels;
    do {
        unsigned columns;
        unsigned rows;
        unsigned left;
        unsigned top;
        int length = 0;
        if (sscanf(text, "%3ux%3u+%4u+%4u%n", &columns, &rows, &left, &top, &length) != 4 ||
            (text[length] != '\0' && text[length] != ',') || columns > 255 || rows > 255 || left > GLANZ_FIELD_MOST ||
            top > GLANZ_FIELD_MOST) {
            complain_plain("find: --panels: panel %u: expected columns, rows, left and top such as 16x16+0+0", count + 1);
            return 0;
        }
        if (count < GLANZ_FINDER_PANELS) {
            hanging[count].columns = (uint16_t)columns;
            hanging[count].rows = (uint16_t)rows;
            hanging[count].left = (uint16_t)left;
            hanging[count].top = (uint16_t)top;
        }
        count++;
        text += length + (text[length] == ',');
    } while (*text != '\0');
    return count;
}

/* How a panel of a surface is wired as it hangs, by where its LEDs are: turned and mirrored ones too. */
static uint8_t wiring_of(GLANZ_CONST struct glanz_surface *surface, uint8_t piece, const struct glanz_panel *hanging) {
    glanz_place x[3];
    glanz_place y[3];
    const struct glanz_panel *panel = &surface->panels[piece];
    uint16_t first_row = (panel->wiring & GLANZ_BY_COLUMNS) != 0 ? panel->rows : panel->columns;
    uint16_t at[3] = {0, 1, first_row};
    for (int i = 0; i < 3; i++) {
        glanz_piece_places(&x[i], &y[i], surface, piece, at[i], 0, 1);
    }
    int columns = x[0] == x[1];
    return (uint8_t)((x[0] / GLANZ_STEP != hanging->left ? GLANZ_FROM_RIGHT : 0) |
                     (y[0] / GLANZ_STEP != hanging->top ? GLANZ_FROM_BOTTOM : 0) | (columns ? GLANZ_BY_COLUMNS : 0) |
                     ((columns ? y[2] != y[0] : x[2] != x[0]) ? GLANZ_ZIGZAG : 0));
}

/* The pieces of a surface sorted: along the line, or row by row as they hang. */
static void sort_pieces(uint8_t *order, GLANZ_CONST struct glanz_surface *surface, int along_line) {
    for (uint8_t p = 0; p < surface->piece_count; p++) {
        uint8_t i = p;
        for (; i > 0; i--) {
            uint8_t other = order[i - 1];
            int after = along_line ? surface->pieces[other].first > surface->pieces[p].first
                        : surface->panels[other].top != surface->panels[p].top
                            ? surface->panels[other].top > surface->panels[p].top
                            : surface->panels[other].left > surface->panels[p].left;
            if (!after) {
                break;
            }
            order[i] = other;
        }
        order[i] = p;
    }
}

/* The panels of a surface of the rig, and what the rig takes them for. @return 0 refused */
static int begin_surface(struct search *search, GLANZ_CONST struct glanz_surface *surface) {
    struct glanz_panel hanging[GLANZ_FINDER_PANELS];
    uint8_t along[GLANZ_FINDER_PANELS];
    uint8_t rows[GLANZ_FINDER_PANELS];
    uint8_t slot_of[GLANZ_FINDER_PANELS];
    if (surface->kind != GLANZ_SURFACE_GRID || surface->piece_count == 0 || surface->piece_count > GLANZ_FINDER_PANELS) {
        complain_plain("find: surface \"%s\": expected a grid of one to eight panels", surface->name);
        return 0;
    }
    sort_pieces(along, surface, 1);
    sort_pieces(rows, surface, 0);
    search->output = surface->pieces[along[0]].output;
    search->first = surface->pieces[along[0]].first;
    unsigned next = search->first;
    for (uint8_t i = 0; i < surface->piece_count; i++) {
        const struct glanz_panel *panel = &surface->panels[rows[i]];
        hanging[i] = *panel;
        hanging[i].columns = (panel->turned & 1) != 0 ? panel->rows : panel->columns;
        hanging[i].rows = (panel->turned & 1) != 0 ? panel->columns : panel->rows;
        slot_of[rows[i]] = i;
        if (surface->pieces[along[i]].output != search->output || surface->pieces[along[i]].first != next) {
            complain_plain("find: surface \"%s\": expected panels that follow each other on one output", surface->name);
            return 0;
        }
        next += surface->pieces[along[i]].leds;
    }
    int good = glanz_finder_begin(&search->finder, hanging, surface->piece_count) == GLANZ_OK;
    for (uint8_t i = 0; good && i < surface->piece_count; i++) {
        good = glanz_finder_suppose(&search->finder, i, wiring_of(surface, rows[i], &hanging[i])) == GLANZ_OK &&
               glanz_finder_exchange(&search->finder, slot_of[along[i]], search->finder.slot[i]) == GLANZ_OK;
    }
    if (!good) {
        complain_plain("find: surface \"%s\": expected panels of 2x2 LEDs to 255x255", surface->name);
    }
    return good;
}

static GLANZ_CONST struct glanz_surface *find_surface(GLANZ_CONST struct glanz_rig *rig, const char *name) {
    for (uint8_t s = 0; s < rig->surface_count; s++) {
        if (strcmp(rig->surfaces[s].name, name) == 0) {
            return &rig->surfaces[s];
        }
    }
    complain_plain("find: no such surface: \"%s\"", name);
    return NULL;
}

/* Two panels that hang over each other. @return 1 told */
static int told_overlap(const struct glanz_panel *hanging, unsigned count) {
    for (unsigned i = 1; i < count; i++) {
        for (unsigned k = 0; k < i; k++) {
            const struct glanz_panel *a = &hanging[k];
            const struct glanz_panel *b = &hanging[i];
            if (a->left < b->left + b->columns && b->left < a->left + a->columns && a->top < b->top + b->rows &&
                b->top < a->top + a->rows) {
                complain_plain("find: --panels: panel %u lies over panel %u; expected places of their own", i + 1, k + 1);
                return 1;
            }
        }
    }
    return 0;
}

/* Panels as the options list them. @return how many; 0 refused, told */
static unsigned told_panels(struct glanz_panel *hanging, const struct finding_options *options) {
    struct glanz_finder probe;
    int listed = options->panels != NULL && strchr(options->panels, '+') != NULL;
    memset(hanging, 0, GLANZ_FINDER_PANELS * sizeof *hanging);
    if (listed && options->size != NULL) {
        complain_plain("find: --size: expected none beside a list of panels");
        return 0;
    }
    unsigned count = listed ? listed_panels(hanging, options->panels) : equal_panels(hanging, options->size, options->panels);
    if (count != 0 && (count > GLANZ_FINDER_PANELS || glanz_finder_begin(&probe, hanging, (uint8_t)count) != GLANZ_OK)) {
        complain_plain("find: expected panels of 2x2 LEDs and more, eight at the most");
        return 0;
    }
    return told_overlap(hanging, count) ? 0 : count;
}

int finding_begin(struct search *search, GLANZ_CONST struct glanz_rig *rig, const struct finding_options *options) {
    struct glanz_panel hanging[GLANZ_FINDER_PANELS];
    unsigned leds = 0;
    search->rig = rig;
    if (options->surface != NULL && (options->size != NULL || options->panels != NULL || options->output != NULL)) {
        complain_plain("find: --surface takes the place of --size, --panels and --output");
        return EXIT_USAGE;
    }
    if (options->hangs != NULL && (search->truth = find_surface(rig, options->hangs)) == NULL) {
        return EXIT_REFUSED;
    }
    if (options->surface != NULL) {
        GLANZ_CONST struct glanz_surface *surface = find_surface(rig, options->surface);
        return surface != NULL && begin_surface(search, surface) ? EXIT_GOOD : EXIT_REFUSED;
    }
    unsigned count = told_panels(hanging, options);
    if (count == 0) {
        return EXIT_USAGE;
    }
    for (unsigned i = 0; i < count; i++) {
        leds += (unsigned)hanging[i].columns * hanging[i].rows;
    }
    if (!find_output(search, options->output)) {
        return EXIT_REFUSED;
    }
    if (leds > glanz_output_leds(&rig->outputs[search->output])) {
        complain_plain("find: the panels have %u LEDs, output \"%s\" has %u", leds, rig->outputs[search->output].name,
                       glanz_output_leds(&rig->outputs[search->output]));
        return EXIT_REFUSED;
    }
    return glanz_finder_begin(&search->finder, hanging, (uint8_t)count) == GLANZ_OK ? EXIT_GOOD : EXIT_REFUSED;
}
