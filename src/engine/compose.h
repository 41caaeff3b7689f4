/* SPDX-License-Identifier: MIT */
/* From segments to the light of a run. Private to src/engine. */
#ifndef GLANZ_ENGINE_COMPOSE_H
#define GLANZ_ENGINE_COMPOSE_H

#include "state.h"

struct overlapping {                      /* segments over a stretch of a surface */
    uint8_t segment[GLANZ_SEGMENTS_MOST]; /* bottom first; where none lies over another, as the run comes to them */
    uint8_t count;
    uint8_t apart; /* none lies over another */
    uint8_t at;    /* apart: the one that the run is at, or comes to */
};

struct strip_run {    /* neighbouring LEDs of one surface, on the way along a data line */
    uint8_t surface;  /* NONE: LEDs that no surface has */
    uint8_t backward; /* 1: against the surface's own direction */
    uint16_t at;      /* the first LED's index on the surface */
    uint16_t before;  /* LEDs of the surface's pieces before this one */
    uint8_t piece;
    uint16_t same;   /* LEDs over which the same segments lie: those of `overlapping` */
    uint16_t known;  /* LEDs after them that `candidates` is good for */
    uint16_t leds;   /* LEDs after them of the same piece */
    uint8_t crowded; /* many segments lie one over another */
    struct overlapping overlapping, candidates;
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

/* Before the first LED of an output. */
static inline void strip_run_begin(struct strip_run *run) {
    run->same = 0;
    run->leds = 0;
    run->overlapping.segment[0] = 0;
}

/* Light of a run of LEDs of an output, piece by piece of the surfaces that have them. @param run goes on from call to call
 * along a line. */
void glanz_compose_run(struct glanz_light *light, const struct glanz_engine *engine, struct strip_run *run, uint8_t output,
                       uint16_t led, uint8_t count);

/* The light of one look. @param cover NULL where no look of the segment tells it. */
void glanz_shade_layer(struct glanz_light *light, uint16_t *cover, const struct layer *layer, uint32_t gain,
                       const struct run_places *run_places, uint8_t count);

#if GLANZ_FIELDS
/* Does a segment whose looks tell what they cover come to just their light, where nothing lies under it? */
static inline int is_sheer_on_dark(const struct segment *segment) {
    return (segment->needs & GLANZ_NEEDS_COVER) != 0 && segment->masked == 0 && segment->is->blend == GLANZ_BLEND_COVER &&
           segment->opacity == 65536u && !segment->field.sparse;
}

/* ---- sheer.c; as in struct glanz_fields_calls ---- */
uint8_t glanz_compose_sheer(struct glanz_light *light, struct glanz_light *over, struct glanz_light *spare,
                            struct run_places *places, const struct glanz_engine *engine, const struct overlapping *overlapping,
                            uint8_t at, const struct strip_run *run, uint8_t count);
void glanz_find_masks(struct glanz_engine *engine);
/* ---- spread.c ---- */
extern GLANZ_CONST struct glanz_spread_calls glanz_spread_calls;
void glanz_spread_begin(struct layer *layer, const struct segment *segment);
#endif

#endif
