/* SPDX-License-Identifier: MIT */
/* Where LEDs are drawn: strips as rows, all else where it stands in its field; surfaces beside each other as long as they
 * fit, then below. */
#include <stdlib.h>

#include "commands.h"

static void put_spots(struct spot *spots, GLANZ_CONST struct glanz_surface *surface, uint8_t index, double left, double top,
                      int columns) {
    uint16_t at = 0;
    for (uint8_t p = 0; p < surface->piece_count; p++) {
        GLANZ_CONST struct glanz_piece *piece = &surface->pieces[p];
        for (uint16_t i = 0; i < piece->leds; i++, at++) {
            struct spot *spot = &spots[at];
            glanz_place x = 0;
            glanz_place y = 0;
            glanz_piece_places(&x, &y, surface, p, i, 0, 1);
            spot->surface = index;
            spot->output = piece->output;
            spot->led = (uint16_t)(piece->first + (piece->reversed ? piece->leds - 1 - i : i));
            spot->x = left + x / 65536.0;
            spot->y = top + y / 65536.0;
            if (surface->kind == GLANZ_SURFACE_STRIP) {
                spot->x = left + at % columns + 0.5;
                spot->y = top + at / columns + 0.5;
            }
        }
    }
}

size_t spots_of(struct spot **out, double *width, double *height, GLANZ_CONST struct glanz_rig *rig, int columns) {
    size_t all = 0;
    size_t count = 0;
    for (uint8_t s = 0; s < rig->surface_count; s++) {
        all += glanz_surface_leds(&rig->surfaces[s]);
    }
    struct spot *spots = (struct spot *)calloc(all == 0 ? 1 : all, sizeof *spots);
    double x = 0;
    double y = 0;
    double shelf = 0; /* height of the surfaces that stand side by side here */
    *width = 1;
    for (uint8_t s = 0; spots != NULL && s < rig->surface_count; s++) {
        GLANZ_CONST struct glanz_surface *surface = &rig->surfaces[s];
        uint16_t wide;
        uint16_t high;
        glanz_surface_field(&wide, &high, surface);
        if (surface->kind == GLANZ_SURFACE_STRIP) {
            high = (uint16_t)((wide + columns - 1) / columns);
            wide = (uint16_t)(wide < columns ? wide : columns);
        }
        if (x > 0 && x + wide > columns) {
            y += shelf + 1;
            x = 0;
            shelf = 0;
        }
        put_spots(&spots[count], surface, s, x, y, columns);
        count += glanz_surface_leds(surface);
        x += wide;
        shelf = high > shelf ? high : shelf;
        *width = x > *width ? x : *width;
        x += 2;
    }
    *height = y + shelf < 1 ? 1 : y + shelf;
    *out = spots;
    return spots == NULL ? 0 : all;
}
