/* SPDX-License-Identifier: MIT */
/* From segments to the light of a run. Private to src/engine. */
#ifndef GLANZ_ENGINE_COMPOSE_H
#define GLANZ_ENGINE_COMPOSE_H

#include "state.h"

struct strip_run {    /* neighbouring LEDs of one surface, on the way along a data line */
    uint8_t surface;  /* NONE: LEDs that no surface has */
    uint8_t backward; /* 1: against the surface's own direction */
    uint16_t at;      /* the first LED's index on the surface */
    uint16_t leds;    /* until this changes */
    uint16_t before;  /* LEDs of the surface's pieces before this one */
    uint8_t piece;
};

/* Where the LEDs of a run stand in one segment. */
struct run_places {
    const glanz_place *line; /* as effects for lines see them: x, or line_x */
    glanz_place x[GLANZ_RUN];
#if GLANZ_FIELDS
    glanz_place y[GLANZ_RUN];
    glanz_place line_x[GLANZ_RUN];
    uint16_t index[GLANZ_RUN];
#endif
    uint8_t taken[GLANZ_RUN];
};

#define STRIP_RUN_BEGIN                                                                                                        \
    { NONE, 0, 0, 0, 0, 0 } /* before the first LED of an output */

/* Light of a run of LEDs of an output, piece by piece of the surfaces that have them. @param run goes on from call to call
 * along a line. */
void glanz_compose_run(struct glanz_light *light, const struct glanz_engine *engine, struct strip_run *run, uint8_t output,
                       uint16_t led, uint8_t count);

/* The light of one look. @param cover NULL where no look of the segment tells it. */
void glanz_shade_layer(struct glanz_light *light, uint16_t *cover, const struct layer *layer, uint32_t gain,
                       const struct run_places *run_places, uint8_t count);

#endif
