/* SPDX-License-Identifier: MIT */
/* The finder: questions about test pictures, and what their answers mean. */
#include <string.h>

#include <glanz/finder.h>

#if GLANZ_FIELDS

#define DIM 16384u /* of full: many LEDs may be lit at once */

static uint16_t leds_of(const struct glanz_finder *finder, uint8_t slot) {
    return (uint16_t)(finder->panels[slot].columns * finder->panels[slot].rows);
}

glanz_status glanz_finder_begin(struct glanz_finder *finder, const struct glanz_panel *hanging, uint8_t count) {
    uint32_t leds = 0;
    if (finder == NULL || hanging == NULL || count < 1 || count > GLANZ_FINDER_PANELS) {
        return GLANZ_ERR_ARGUMENT;
    }
    for (uint8_t i = 0; i < count; i++) {
        if (hanging[i].columns < 2 || hanging[i].rows < 2 || hanging[i].columns > 255 || hanging[i].rows > 255) {
            return GLANZ_ERR_ARGUMENT;
        }
        leds += (uint32_t)hanging[i].columns * hanging[i].rows;
    }
    if (leds > 65535) {
        return GLANZ_ERR_ARGUMENT;
    }
    memset(finder, 0, sizeof *finder);
    for (uint8_t i = 0; i < count; i++) {
        finder->panels[i].columns = hanging[i].columns;
        finder->panels[i].rows = hanging[i].rows;
        finder->panels[i].left = hanging[i].left;
        finder->panels[i].top = hanging[i].top;
    }
    finder->count = count;
    finder->question = count > 1 ? GLANZ_FINDER_ORDER : GLANZ_FINDER_WIRING;
    return GLANZ_OK;
}

/* Slots of the panels that are known: a bit each. */
static uint8_t taken_of(const struct glanz_finder *finder) {
    uint8_t taken = 0;
    for (uint8_t i = 0; i < finder->panel; i++) {
        taken = (uint8_t)(taken | 1u << finder->slot[i]);
    }
    return taken;
}

/* Panels whose colours a question of the order shows: the next four along the line, where all that are left have as many LEDs;
 * else the next one, since where it ends is not known. @param lit the LEDs of each */
static uint8_t asked_of(const struct glanz_finder *finder, uint16_t *lit) {
    uint8_t taken = taken_of(finder);
    uint8_t left = (uint8_t)(finder->count - finder->panel);
    uint16_t least = 65535;
    uint16_t most = 0;
    for (uint8_t slot = 0; slot < finder->count; slot++) {
        if ((taken >> slot & 1) == 0) {
            uint16_t leds = leds_of(finder, slot);
            least = leds < least ? leds : least;
            most = leds > most ? leds : most;
        }
    }
    *lit = least;
    return least != most ? 1 : left < 4 ? left : 4;
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
    uint16_t lit;
    switch (finder == NULL ? (uint8_t)GLANZ_FINDER_DONE : finder->question) {
    case GLANZ_FINDER_ORDER: return ways_of((uint8_t)(finder->count - finder->panel), asked_of(finder, &lit));
    case GLANZ_FINDER_WIRING: return 16;
    case GLANZ_FINDER_LOOK: return 2;
    default: return 0;
    }
}

/* A number of mixed base: for each panel in turn, the how-manieth of the slots that are left. */
void glanz_finder_order(uint8_t *panel, const struct glanz_finder *finder, uint16_t answer) {
    if (panel == NULL || finder == NULL) {
        return;
    }
    uint16_t lit;
    uint8_t taken = taken_of(finder);
    uint8_t slots = (uint8_t)(finder->count - finder->panel);
    uint8_t asked = asked_of(finder, &lit);
    memset(panel, GLANZ_FINDER_DARK, finder->count);
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

/* The panels of which nothing is known hang in the slots that are left, in turn. */
static void suppose_order(struct glanz_finder *finder) {
    uint8_t taken = taken_of(finder);
    for (uint8_t slot = 0; slot < finder->count; slot++) {
        if ((taken >> slot & 1) == 0) {
            finder->slot[finder->panel++] = slot;
        }
    }
}

/* What an answer tells of where panels hang; where a single one is left it hangs in the slot that is. */
static void take_order(struct glanz_finder *finder, uint16_t answer) {
    uint8_t panel[GLANZ_FINDER_PANELS];
    uint16_t lit;
    glanz_finder_order(panel, finder, answer);
    finder->panel = (uint8_t)(finder->panel + asked_of(finder, &lit));
    for (uint8_t slot = 0; slot < finder->count; slot++) {
        if (panel[slot] != GLANZ_FINDER_DARK) {
            finder->slot[panel[slot]] = slot;
        }
    }
    if (finder->count - finder->panel == 1) {
        suppose_order(finder);
    }
    if (finder->panel == finder->count) {
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
    if (finder->question == GLANZ_FINDER_ORDER) {
        take_order(finder, answer);
    } else if (finder->question == GLANZ_FINDER_WIRING) {
        finder->panels[finder->slot[finder->panel++]].wiring = (uint8_t)answer;
        finder->question = finder->panel == finder->count ? GLANZ_FINDER_LOOK : GLANZ_FINDER_WIRING;
    } else if (answer != 0) {
        finder->question = GLANZ_FINDER_DONE;
    } else {
        finder->anew++;
        finder->panel = 0;
        finder->question = finder->count > 1 ? GLANZ_FINDER_ORDER : GLANZ_FINDER_WIRING;
        return GLANZ_ERR_STATE;
    }
    return GLANZ_OK;
}

/* From now on the letters are looked at, also at those of panels that are only supposed. */
static void look_at_letters(struct glanz_finder *finder) {
    if (finder->question == GLANZ_FINDER_ORDER) {
        suppose_order(finder);
    }
    finder->panel = finder->count;
    finder->question = GLANZ_FINDER_LOOK;
}

glanz_status glanz_finder_suppose(struct glanz_finder *finder, uint8_t slot, uint8_t wiring) {
    if (finder == NULL || slot >= finder->count || wiring > 15) {
        return GLANZ_ERR_ARGUMENT;
    }
    look_at_letters(finder);
    finder->panels[slot].wiring = wiring;
    return GLANZ_OK;
}

glanz_status glanz_finder_exchange(struct glanz_finder *finder, uint8_t slot, uint8_t other) {
    if (finder == NULL || slot >= finder->count || other >= finder->count) {
        return GLANZ_ERR_ARGUMENT;
    }
    look_at_letters(finder);
    for (uint8_t number = 0; number < finder->count; number++) {
        uint8_t held = finder->slot[number];
        finder->slot[number] = held == slot ? other : held == other ? slot : held;
    }
    return GLANZ_OK;
}

void glanz_finder_panels(const struct glanz_finder *finder, struct glanz_panel *panels) {
    if (finder == NULL || panels == NULL) {
        return;
    }
    for (uint8_t i = 0; i < finder->count; i++) {
        panels[i] = finder->panels[finder->slot[i]];
    }
}

/* ---- pictures ---- */

static const struct glanz_light colors[4] = {{DIM, 0, 0}, {0, DIM, 0}, {0, 0, DIM}, {DIM, DIM, DIM}};

/* Is a place of a panel lit by its letter? On panels too small for letters: an L of the left column and half the bottom row. */
static uint8_t in_letter(const struct glanz_panel *panel, uint8_t slot, uint16_t column, uint16_t row) {
    static GLANZ_CONST char letters[GLANZ_FINDER_PANELS][2] = {"F", "G", "J", "R", "P", "Q", "4", "7"};
    if (panel->rows < 5 || panel->columns < 3) {
        return column == 0 || (row + 1u == panel->rows && column < (panel->columns + 1u) / 2u);
    }
    struct glanz_writing writing = {.kind = GLANZ_CONTENT_WRITING, .text = letters[slot], .font = &glanz_font_buoy};
    struct glanz_letter line[2];
    uint16_t near = 0;
    uint16_t count = glanz_writing_set(line, 2, NULL, &writing, 0, NULL);
    int32_t left = ((int32_t)panel->columns - 3) / 2;
    int32_t top = ((int32_t)panel->rows - 5) / 2;
    return glanz_writing_bit(line, count, &near, &glanz_font_buoy, (int32_t)column - left, (int32_t)row - top);
}

/* The question of the order: each of the panels that are asked about in its colour, as far as it surely goes. */
static struct glanz_light order_light(const struct glanz_finder *finder, uint16_t at) {
    static const struct glanz_light dark;
    uint16_t lit;
    uint8_t asked = asked_of(finder, &lit);
    return at / lit < asked ? colors[at / lit] : dark;
}

struct glanz_light glanz_finder_light(const struct glanz_finder *finder, uint16_t led) {
    struct glanz_light dark = {0, 0, 0};
    if (finder == NULL || finder->question == GLANZ_FINDER_DONE) {
        return dark;
    }
    uint8_t known = finder->question == GLANZ_FINDER_ORDER ? finder->panel : finder->count;
    uint8_t number = 0;
    uint16_t at = led;
    while (number < known && at >= leds_of(finder, finder->slot[number])) {
        at = (uint16_t)(at - leds_of(finder, finder->slot[number++]));
    }
    if (number == known) {
        return finder->question == GLANZ_FINDER_ORDER ? order_light(finder, at) : dark;
    }
    if (finder->question == GLANZ_FINDER_ORDER) {
        return dark; /* its place is known */
    }
    uint8_t slot = finder->slot[number];
    struct glanz_panel panel = finder->panels[slot];
    if (finder->question == GLANZ_FINDER_WIRING) {
        return number != finder->panel ? dark
               : at == 0               ? colors[0]
               : at == 1               ? colors[1]
               : at == panel.columns   ? colors[2]
               : at == panel.rows      ? colors[3]
                                       : dark;
    }
    struct glanz_piece piece = {0, 0, 0, leds_of(finder, slot)};
    struct glanz_surface surface;
    glanz_place x;
    glanz_place y;
    panel.left = 0;
    panel.top = 0;
    memset(&surface, 0, sizeof surface);
    surface.kind = GLANZ_SURFACE_GRID;
    surface.pieces = &piece;
    surface.piece_count = 1;
    surface.panels = &panel;
    glanz_piece_places(&x, &y, &surface, 0, at, 0, 1);
    return in_letter(&panel, slot, (uint16_t)(x / GLANZ_STEP), (uint16_t)(y / GLANZ_STEP)) ? colors[3] : dark;
}

#endif
