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

#define STRIP_RUN_BEGIN                                                                                                        \
    { NONE, 0, 0, 0, 0, 0 } /* before the first LED of an output */

/* Light of a run of LEDs of an output, piece by piece of the surfaces that have them. @param run goes on from call to call
 * along a line. */
void glanz_compose_run(struct glanz_light *light, const struct glanz_engine *engine, struct strip_run *run, uint8_t output,
                       uint16_t led, uint8_t count);

#endif
