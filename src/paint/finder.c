/* SPDX-License-Identifier: MIT */
/* The finder: questions about test pictures, and what their answers mean. */
#include <string.h>

#include <glanz/finder.h>

#if GLANZ_FIELDS

#define DIM 16384u /* of full: many LEDs may be lit at once */

glanz_status glanz_finder_begin(struct glanz_finder *finder, uint16_t columns, uint16_t rows, uint8_t across, uint8_t down) {
    if (finder == NULL || columns < 2 || rows < 2 || columns > 255 || rows > 255 || across < 1 || down < 1 ||
        across > GLANZ_FINDER_PANELS || down > GLANZ_FINDER_PANELS || across * down > GLANZ_FINDER_PANELS) {
        return GLANZ_ERR_ARGUMENT;
    }
    memset(finder, 0, sizeof *finder);
    finder->columns = columns;
    finder->rows = rows;
    finder->across = across;
    finder->down = down;
    finder->question = across * down > 1 ? GLANZ_FINDER_ORDER : GLANZ_FINDER_WIRING;
    return GLANZ_OK;
}

static uint8_t count_of(const struct glanz_finder *finder) {
    return (uint8_t)(finder->across * finder->down);
}

/* Panels whose colours a question of the order shows: the next ones along the line. */
static uint8_t asked_of(const struct glanz_finder *finder) {
    uint8_t left = (uint8_t)(count_of(finder) - finder->panel);
    return left < 4 ? left : 4;
}

/* In how many ways can so many panels hang in so many slots? */
static uint16_t ways_of(uint8_t slots, uint8_t panels) {
    uint16_t ways = 1;
    for (uint8_t i = 0; i < panels; i++) {
        ways = (uint16_t)(ways * (uint8_t)(slots - i));
    }
    return ways;
}

uint16_t glanz_finder_answers(const struct glanz_finder *finder) {
    switch (finder == NULL ? (uint8_t)GLANZ_FINDER_DONE : finder->question) {
    case GLANZ_FINDER_ORDER: return ways_of((uint8_t)(count_of(finder) - finder->panel), asked_of(finder));
    case GLANZ_FINDER_WIRING: return 16;
    case GLANZ_FINDER_LOOK: return 2;
    default: return 0;
    }
}

/* Slots of the panels that are known: a bit each. */
static uint8_t taken_of(const struct glanz_finder *finder) {
    uint8_t taken = 0;
    for (uint8_t i = 0; i < finder->panel; i++) {
        taken = (uint8_t)(taken | 1u << finder->slot[i]);
    }
    return taken;
}

/* A number of mixed base: for each panel in turn, the how-manieth of the slots that are left. */
void glanz_finder_order(uint8_t *panel, const struct glanz_finder *finder, uint16_t answer) {
    if (panel == NULL || finder == NULL) {
        return;
    }
    uint8_t taken = taken_of(finder);
    uint8_t slots = (uint8_t)(count_of(finder) - finder->panel);
    uint8_t asked = asked_of(finder);
    memset(panel, GLANZ_FINDER_DARK, count_of(finder));
    for (uint8_t i = 0; i < asked; i++) {
        uint16_t rest = ways_of((uint8_t)(slots - 1 - i), (uint8_t)(asked - 1 - i));
        uint8_t skip = (uint8_t)(answer / rest % (uint8_t)(slots - i));
        uint8_t at = 0;
        while ((taken >> at & 1) != 0 || skip-- != 0) {
            at++;
        }
        taken = (uint8_t)(taken | 1u << at);
        panel[at] = (uint8_t)(finder->panel + i);
    }
}

/* What an answer tells of where panels hang; where a single one is left it hangs in the slot that is. */
static void take_order(struct glanz_finder *finder, uint16_t answer) {
    uint8_t panel[GLANZ_FINDER_PANELS];
    uint8_t count = count_of(finder);
    glanz_finder_order(panel, finder, answer);
    finder->panel = (uint8_t)(finder->panel + asked_of(finder));
    for (uint8_t slot = 0; slot < count; slot++) {
        if (panel[slot] != GLANZ_FINDER_DARK) {
            finder->slot[panel[slot]] = slot;
        }
    }
    if (count - finder->panel == 1) {
        uint8_t taken = taken_of(finder);
        uint8_t slot = 0;
        while ((taken >> slot & 1) != 0) {
            slot++;
        }
        finder->slot[finder->panel++] = slot;
    }
    if (finder->panel == count) {
        finder->question = GLANZ_FINDER_WIRING;
        finder->panel = 0;
    }
}

glanz_status glanz_finder_answer(struct glanz_finder *finder, uint16_t answer) {
    if (finder == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (finder->question == GLANZ_FINDER_DONE) {
        return GLANZ_ERR_STATE;
    }
    if (answer >= glanz_finder_answers(finder)) {
        return GLANZ_ERR_ARGUMENT;
    }
    uint8_t count = count_of(finder);
    if (finder->question == GLANZ_FINDER_ORDER) {
        take_order(finder, answer);
    } else if (finder->question == GLANZ_FINDER_WIRING) {
        finder->wiring[finder->panel++] = (uint8_t)answer;
        finder->question = finder->panel == count ? GLANZ_FINDER_LOOK : GLANZ_FINDER_WIRING;
    } else if (answer != 0) {
        finder->question = GLANZ_FINDER_DONE;
    } else {
        finder->anew++;
        finder->panel = 0;
        finder->question = count > 1 ? GLANZ_FINDER_ORDER : GLANZ_FINDER_WIRING;
        return GLANZ_ERR_STATE;
    }
    return GLANZ_OK;
}

void glanz_finder_panels(const struct glanz_finder *finder, struct glanz_panel *panels) {
    if (finder == NULL || panels == NULL) {
        return;
    }
    for (uint8_t i = 0; i < count_of(finder); i++) {
        memset(&panels[i], 0, sizeof panels[i]);
        panels[i].columns = finder->columns;
        panels[i].rows = finder->rows;
        panels[i].left = (uint16_t)(finder->slot[i] % finder->across * finder->columns);
        panels[i].top = (uint16_t)(finder->slot[i] / finder->across * finder->rows);
        panels[i].wiring = finder->wiring[i];
    }
}

/* ---- pictures ---- */

static const struct glanz_light colors[4] = {{DIM, 0, 0}, {0, DIM, 0}, {0, 0, DIM}, {DIM, DIM, DIM}};

/* Is a place of a panel lit by its letter? On panels too small for letters: an L of the left column and half the bottom row. */
static uint8_t in_letter(const struct glanz_finder *finder, uint8_t slot, uint16_t column, uint16_t row) {
    static GLANZ_CONST char letters[GLANZ_FINDER_PANELS][2] = {"F", "G", "J", "R", "P", "Q", "4", "7"};
    if (finder->rows < 5 || finder->columns < 3) {
        return column == 0 || (row + 1u == finder->rows && column < (finder->columns + 1u) / 2u);
    }
    struct glanz_writing writing = {.kind = GLANZ_CONTENT_WRITING, .text = letters[slot], .font = &glanz_font_buoy};
    struct glanz_letter line[2];
    uint16_t near = 0;
    uint16_t count = glanz_writing_set(line, 2, NULL, &writing, 0, NULL);
    int32_t left = ((int32_t)finder->columns - 3) / 2;
    int32_t top = ((int32_t)finder->rows - 5) / 2;
    return glanz_writing_bit(line, count, &near, &glanz_font_buoy, (int32_t)column - left, (int32_t)row - top);
}

struct glanz_light glanz_finder_light(const struct glanz_finder *finder, uint16_t led) {
    struct glanz_light dark = {0, 0, 0};
    if (finder == NULL || finder->question == GLANZ_FINDER_DONE) {
        return dark;
    }
    uint16_t of_panel = (uint16_t)(finder->columns * finder->rows);
    uint8_t panel = (uint8_t)(led / of_panel);
    uint16_t at = (uint16_t)(led % of_panel);
    if (panel >= count_of(finder)) {
        return dark;
    }
    if (finder->question == GLANZ_FINDER_ORDER) {
        return panel >= finder->panel && panel - finder->panel < 4 ? colors[panel - finder->panel] : dark;
    }
    if (finder->question == GLANZ_FINDER_WIRING) {
        return panel != finder->panel  ? dark
               : at == 0               ? colors[0]
               : at == 1               ? colors[1]
               : at == finder->columns ? colors[2]
               : at == finder->rows    ? colors[3]
                                       : dark;
    }
    struct glanz_panel panels[GLANZ_FINDER_PANELS];
    struct glanz_piece piece = {0, 0, 0, of_panel};
    struct glanz_surface surface;
    glanz_place x;
    glanz_place y;
    glanz_finder_panels(finder, panels);
    panels[panel].left = 0;
    panels[panel].top = 0;
    memset(&surface, 0, sizeof surface);
    surface.kind = GLANZ_SURFACE_GRID;
    surface.pieces = &piece;
    surface.piece_count = 1;
    surface.panels = &panels[panel];
    glanz_piece_places(&x, &y, &surface, 0, at, 0, 1);
    return in_letter(finder, finder->slot[panel], (uint16_t)(x / GLANZ_STEP), (uint16_t)(y / GLANZ_STEP)) ? colors[3] : dark;
}

#endif
