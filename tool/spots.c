/* SPDX-License-Identifier: MIT */
/* Where LEDs are drawn: strips as rows, rings as circles, one surface under the other. */
#include <math.h>
#include <stdlib.h>

#include "commands.h"

size_t spots_of(struct spot **out, double *width, double *height, GLANZ_CONST struct glanz_rig *rig, int columns) {
    size_t all = 0;
    size_t count = 0;
    for (uint8_t s = 0; s < rig->surface_count; s++) {
        all += glanz_surface_leds(&rig->surfaces[s]);
    }
    struct spot *spots = (struct spot *)calloc(all == 0 ? 1 : all, sizeof *spots);
    double y = 0;
    *width = 1;
    for (uint8_t s = 0; spots != NULL && s < rig->surface_count; s++) {
        GLANZ_CONST struct glanz_surface *surface = &rig->surfaces[s];
        uint16_t leds = glanz_surface_leds(surface);
        double radius = leds * 1.05 / (2 * 3.14159265358979);
        uint16_t at = 0;
        for (uint8_t p = 0; p < surface->piece_count; p++) {
            GLANZ_CONST struct glanz_piece *piece = &surface->pieces[p];
            for (uint16_t i = 0; i < piece->leds; i++, at++, count++) {
                struct spot *spot = &spots[count];
                double angle = at * 2 * 3.14159265358979 / leds;
                spot->output = piece->output;
                spot->led = (uint16_t)(piece->first + (piece->reversed ? piece->leds - 1 - i : i));
                if (surface->kind == GLANZ_SURFACE_RING) {
                    spot->x = radius + 0.5 + radius * sin(angle);
                    spot->y = y + radius + 0.5 - radius * cos(angle);
                } else {
                    spot->x = at % columns + 0.5;
                    spot->y = y + at / columns + 0.5;
                }
                *width = spot->x + 0.5 > *width ? spot->x + 0.5 : *width;
            }
        }
        y += surface->kind == GLANZ_SURFACE_RING ? 2 * radius + 2 : (leds + columns - 1) / columns + 1;
    }
    *height = y > 1 ? y - 1 : 1;
    *out = spots;
    return spots == NULL ? 0 : all;
}
