/* SPDX-License-Identifier: MIT */
/* Palettes in records: as they were chosen, where that is known, else as they were built; and where they run. */
#include "record.h"

#if GLANZ_SAVED_MOST > 0

/* Where it runs, behind it: its kind has another bit then. */
#define KIND_RUNS 4u
#define RUNS_BYTES 9u
static void put_runs(struct writer *writer, GLANZ_CONST struct glanz_gradient *gradient) {
#if GLANZ_FIELDS
    if (gradient->runs != GLANZ_RUNS_BY_EFFECT) {
        glanz_record_put(writer, gradient->runs, 1);
        glanz_record_put(writer, gradient->folded, 1);
        glanz_record_put(writer, gradient->reversed, 1);
        glanz_record_put(writer, gradient->span, 2);
        glanz_record_put(writer, gradient->pass_ms, 4);
    }
#else
    (void)writer;
    (void)gradient;
#endif
}

static uint8_t kind_of(uint8_t kind, GLANZ_CONST struct glanz_gradient *gradient) {
#if GLANZ_FIELDS
    return (uint8_t)(kind | (gradient != NULL && gradient->runs != GLANZ_RUNS_BY_EFFECT ? KIND_RUNS : 0u));
#else
    (void)gradient;
    return kind;
#endif
}

void glanz_palette_put_chosen(struct writer *writer, GLANZ_CONST struct glanz_show *show, uint8_t kind, uint8_t between,
                              GLANZ_CONST struct glanz_color_stop *chosen, uint8_t count) {
    glanz_record_put(writer, kind, 1);
    glanz_record_put(writer, between, 1);
    glanz_record_put(writer, count, 1);
    for (uint8_t i = 0; i < count; i++) {
        glanz_record_put(writer, chosen[i].at, 2);
        glanz_record_put(writer, glanz_record_color(show, chosen[i].color), 4);
    }
}

static int same_name(GLANZ_CONST char *a, GLANZ_CONST char *b) {
    while (*a != '\0' && *a == *b) {
        a++;
        b++;
    }
    return *a == *b;
}

/* As it was chosen, which is a tenth of what is built from it, where that is known: the show's own, or the library's. */
static int put_known(struct writer *writer, GLANZ_CONST struct glanz_show *show,
                     GLANZ_CONST struct glanz_show_palette *palette) {
    if (palette->chosen != NULL && palette->part_from == 0 && palette->part_to == 0) {
        glanz_palette_put_chosen(writer, show, kind_of(1, palette->gradient), palette->between, palette->chosen,
                                 palette->chosen_count);
        return 1;
    }
    for (uint8_t i = 0; palette->chosen == NULL && i < glanz_palette_count; i++) {
        if (palette->name != NULL && same_name(glanz_palettes[i].name, palette->name)) {
            glanz_palette_put_chosen(writer, show, 1, glanz_palettes[i].between, glanz_palettes[i].stops,
                                     glanz_palettes[i].count);
            return 1;
        }
    }
    return 0;
}

void glanz_palette_put(struct writer *writer, GLANZ_CONST struct glanz_show *show,
                       GLANZ_CONST struct glanz_gradient *gradient) {
    for (uint8_t i = 0; gradient != NULL && i < show->palette_count; i++) {
        if (show->palettes[i].gradient == gradient && put_known(writer, show, &show->palettes[i])) {
            put_runs(writer, gradient);
            return;
        }
    }
    if (gradient == NULL || gradient == &glanz_gradient_standard || gradient->count > 255) {
        glanz_record_put(writer, 0, 1);
        return;
    }
    glanz_record_put(writer, kind_of(2, gradient), 1);
    glanz_record_put(writer, gradient->bands, 1);
    glanz_record_put(writer, gradient->count, 1);
    for (uint16_t i = 0; i < gradient->count; i++) {
        glanz_record_put(writer, gradient->stops[i].at, 2);
        glanz_record_put(writer, gradient->stops[i].light.red, 2);
        glanz_record_put(writer, gradient->stops[i].light.green, 2);
        glanz_record_put(writer, gradient->stops[i].light.blue, 2);
    }
    put_runs(writer, gradient);
}

/* ---- reading ---- */

void glanz_palette_skip(struct reader *reader) {
    uint8_t kind = (uint8_t)glanz_record_get(reader, 1);
    uint32_t runs = (kind & KIND_RUNS) != 0 ? RUNS_BYTES : 0;
    kind = (uint8_t)(kind & ~KIND_RUNS);
    if (kind != 0 || runs != 0) {
        uint8_t between = (uint8_t)glanz_record_get(reader, 1);
        uint8_t count = (uint8_t)glanz_record_get(reader, 1);
        reader->bad = reader->bad || kind == 0 || kind > 2 || count == 0 ||
                      (kind == 1 ? between > GLANZ_BETWEEN_CODES || count > 64 : between > 1);
        glanz_record_skip(reader, (uint32_t)count * (kind == 1 ? 6u : 8u) + runs);
    }
}

static int same_gradient(GLANZ_CONST struct glanz_gradient *a, const struct glanz_gradient *b) {
    int same = a != NULL && a->count == b->count && a->bands == b->bands;
    for (uint16_t i = 0; same && i < a->count; i++) {
        same = a->stops[i].at == b->stops[i].at && a->stops[i].light.red == b->stops[i].light.red &&
               a->stops[i].light.green == b->stops[i].light.green && a->stops[i].light.blue == b->stops[i].light.blue;
    }
#if GLANZ_FIELDS
    same = same && a->runs == b->runs && a->folded == b->folded && a->reversed == b->reversed && a->span == b->span &&
           a->pass_ms == b->pass_ms;
#endif
    return same;
}

static int get_runs(struct glanz_gradient *gradient, struct reader *reader) {
    uint8_t runs = (uint8_t)glanz_record_get(reader, 1);
    uint8_t folded = (uint8_t)glanz_record_get(reader, 1);
    uint8_t reversed = (uint8_t)glanz_record_get(reader, 1);
    uint16_t span = (uint16_t)glanz_record_get(reader, 2);
    uint32_t pass_ms = glanz_record_get(reader, 4);
    if (runs > GLANZ_RUNS_AROUND || folded > 1 || reversed > 1) {
        return 0;
    }
#if GLANZ_FIELDS
    gradient->runs = runs;
    gradient->folded = folded;
    gradient->reversed = reversed;
    gradient->span = span;
    gradient->pass_ms = pass_ms;
#else
    (void)gradient;
    (void)span;
    (void)pass_ms;
#endif
    return 1;
}

/* Built stops become a gradient as chosen ones do: in light, or as bands. */
static glanz_status read_stops(struct glanz_gradient *gradient, struct glanz_stop *stops, struct reader *reader, uint8_t bands,
                               uint16_t count) {
    gradient->bands = bands;
    for (uint16_t i = 0; i < count; i++) {
        stops[i].at = (uint16_t)glanz_record_get(reader, 2);
        stops[i].light.red = (uint16_t)glanz_record_get(reader, 2);
        stops[i].light.green = (uint16_t)glanz_record_get(reader, 2);
        stops[i].light.blue = (uint16_t)glanz_record_get(reader, 2);
        if (i > 0 && stops[i].at < stops[i - 1].at) {
            return GLANZ_ERR_DAMAGED;
        }
    }
    glanz_gradient_index(gradient, stops, count);
    return GLANZ_OK;
}

int glanz_palette_get(struct glanz_look *look, struct reader *reader, struct glanz_control *control) {
    uint8_t kind = (uint8_t)glanz_record_get(reader, 1);
    uint8_t runs = (kind & KIND_RUNS) != 0;
    kind = (uint8_t)(kind & ~KIND_RUNS);
    if (kind == 0) {
        return 1;
    }
    uint8_t between = (uint8_t)glanz_record_get(reader, 1);
    uint16_t count = (uint16_t)glanz_record_get(reader, 1);
    uint8_t is_straight = between == GLANZ_BETWEEN_LIGHT || between == GLANZ_BETWEEN_BANDS;
    uint16_t most = kind == 2 || is_straight ? count : (uint16_t)(count * GLANZ_STOPS_EACH);
    most = most > GLANZ_STOPS_MOST && kind == 1 ? GLANZ_STOPS_MOST : most;
    struct glanz_gradient *gradient =
        (struct glanz_gradient *)glanz_values_reserve(control, sizeof *gradient + most * sizeof(struct glanz_stop));
    if (gradient == NULL) {
        return look->gradient != NULL; /* the one of that name must do */
    }
    struct glanz_stop *stops = (struct glanz_stop *)(void *)(gradient + 1);
    glanz_status status;
    memset(gradient, 0, sizeof *gradient);
    if (kind == 2) {
        status = read_stops(gradient, stops, reader, between, count);
    } else {
        struct glanz_color_stop chosen[64];
        for (uint16_t i = 0; i < count; i++) {
            chosen[i].at = (uint16_t)glanz_record_get(reader, 2);
            chosen[i].color = glanz_record_get(reader, 4);
        }
        status = glanz_gradient_build(gradient, stops, most, chosen, count, (enum glanz_between)between, NULL, 0);
    }
    if (status == GLANZ_OK && runs && !get_runs(gradient, reader)) {
        status = GLANZ_ERR_DAMAGED;
    }
    if (status != GLANZ_OK || same_gradient(look->gradient, gradient)) {
        glanz_values_forget(gradient);
        return status == GLANZ_OK || look->gradient != NULL;
    }
    look->gradient = gradient;
    return 1;
}

#endif
