/* SPDX-License-Identifier: MIT */
/* Compose: the light of a run of LEDs along a data line, from the segments that lie over it. Pure: it may be asked again for
 * the same frame, in any parts. */
#include <string.h>

#include "compose.h"

#define CANDIDATES_FEW 4 /* with more of them, one over another, edges are looked for a run at a time */

/* Which part of which surface begins at a LED of an output, and how far it goes. */
static void find_run(struct strip_run *run, GLANZ_CONST struct glanz_rig *rig, uint8_t output, uint16_t led) {
    run->surface = NONE;
    run->backward = 0;
    run->at = 0;
    run->leds = (uint16_t)(glanz_output_leds(&rig->outputs[output]) - led);
    for (uint8_t s = 0; s < rig->surface_count; s++) {
        uint16_t before = 0;
        for (uint8_t p = 0; p < rig->surfaces[s].piece_count; p++) {
            GLANZ_CONST struct glanz_piece *piece = &rig->surfaces[s].pieces[p];
            if (piece->output == output) {
                if (led >= piece->first && led < piece->first + piece->leds) {
                    uint16_t into = (uint16_t)(led - piece->first);
                    run->surface = s;
                    run->backward = piece->reversed;
                    run->at = (uint16_t)(before + (piece->reversed ? piece->leds - 1 - into : into));
                    run->leds = (uint16_t)(piece->leds - into);
                    run->before = before;
                    run->piece = p;
                    return;
                }
                if (piece->first > led && piece->first - led < run->leds) {
                    run->leds = (uint16_t)(piece->first - led);
                }
            }
            before = (uint16_t)(before + piece->leds);
        }
    }
}

#if GLANZ_SEGMENTS_MOST > 8
/* How many segments, in the order of `sorted`, begin before a LED of a surface. */
static uint8_t begin_before(const struct glanz_engine *engine, uint8_t surface, uint32_t led) {
    uint8_t low = 0;
    uint8_t high = engine->segment_count;
    while (low < high) {
        uint8_t middle = (uint8_t)((low + high) >> 1);
        const struct segment *segment = &engine->segments[engine->sorted[middle]];
        if (segment->surface < surface || (segment->surface == surface && segment->first < led)) {
            low = (uint8_t)(middle + 1);
        } else {
            high = middle;
        }
    }
    return low;
}

/* Bottom first: by their rank in the stack. */
static void sort_by_rank(struct overlapping *candidates, const struct glanz_engine *engine) {
    for (uint8_t i = 1; i < candidates->count; i++) {
        uint8_t index = candidates->segment[i];
        uint8_t at = i;
        for (; at > 0 && engine->segments[candidates->segment[at - 1]].rank > engine->segments[index].rank; at--) {
            candidates->segment[at] = candidates->segment[at - 1];
        }
        candidates->segment[at] = index;
    }
}

/* The segments that touch any of `count` LEDs of a strip run, from the far end of the surface on. */
static void find_candidates(struct overlapping *candidates, const struct glanz_engine *engine, const struct strip_run *run,
                            uint16_t count) {
    uint32_t from = run->backward ? run->at + 1u - count : run->at;
    uint32_t next = from + count; /* where the last one found begins */
    candidates->count = 0;
    candidates->apart = 1;
    candidates->at = 0;
    for (uint8_t i = begin_before(engine, run->surface, next); i > 0; i--) {
        uint8_t index = engine->sorted[i - 1];
        const struct segment *segment = &engine->segments[index];
        uint32_t end = (uint32_t)segment->first + segment->leds;
        if (segment->surface != run->surface || segment->reach <= from) {
            break; /* and none that begins before reaches so far */
        }
        if (end > from && segment->opacity != 0) {
            candidates->segment[candidates->count++] = index;
            candidates->apart = (uint8_t)(candidates->apart && (candidates->count == 1 || end <= next));
            next = segment->first;
        }
    }
}

/* The same, for as many LEDs as it is good to know them for, up to the end of the piece: each edge is looked for among all of
 * them, so where there are many, one over another, it is not far. */
static void find_ahead(struct strip_run *run, const struct glanz_engine *engine) {
    run->known = run->crowded && run->leds > GLANZ_RUN ? GLANZ_RUN : run->leds;
    find_candidates(&run->candidates, engine, run, run->known);
    if (run->candidates.count > CANDIDATES_FEW && !run->candidates.apart && run->known > GLANZ_RUN) {
        run->crowded = 1;
        run->known = GLANZ_RUN;
        find_candidates(&run->candidates, engine, run, run->known);
    }
    if (!run->candidates.apart) {
        sort_by_rank(&run->candidates, engine);
    }
}

/* Where none lies over another: the one at the run's first LED, or none before the next begins. */
static uint16_t find_next(struct overlapping *overlapping, const struct glanz_engine *engine, struct overlapping *candidates,
                          const struct strip_run *run, uint16_t count) {
    overlapping->count = 0;
    if (candidates->at == candidates->count) {
        return count;
    }
    uint8_t index = candidates->segment[run->backward ? candidates->at : candidates->count - 1u - candidates->at];
    const struct segment *segment = &engine->segments[index];
    uint16_t first = segment->first;
    uint16_t end = (uint16_t)(first + segment->leds);
    uint16_t edge = run->backward ? (uint16_t)(run->at - end + 1) : (uint16_t)(first - run->at); /* where it begins */
    if (run->at >= first && run->at < end) {
        overlapping->segment[overlapping->count++] = index;
        edge = run->backward ? (uint16_t)(run->at - first + 1) : (uint16_t)(end - run->at);
        candidates->at = (uint8_t)(candidates->at + (edge <= count));
    }
    return edge < count ? edge : count;
}
#else /* so few are looked through as they lie in the stack */
static void find_candidates(struct overlapping *candidates, const struct glanz_engine *engine, const struct strip_run *run,
                            uint16_t count) {
    uint32_t from = run->backward ? run->at + 1u - count : run->at;
    uint32_t to = from + count;
    candidates->count = 0;
    for (uint8_t i = 0; i < engine->segment_count; i++) {
        uint8_t index = engine->stack == NULL ? i : engine->stack[i];
        const struct segment *segment = &engine->segments[index];
        uint16_t first = segment->first;
        if (first < to && (uint32_t)first + segment->leds > from && segment->surface == run->surface && segment->opacity != 0) {
            candidates->segment[candidates->count++] = index;
        }
    }
}

static void find_ahead(struct strip_run *run, const struct glanz_engine *engine) {
    run->known = run->leds;
    find_candidates(&run->candidates, engine, run, run->known);
}
#endif

/* Of those, the ones over the run's first LED, without what an opaque one hides.
 * @return for how many LEDs that stays so, at the most `count`. */
static uint16_t find_overlapping(struct overlapping *overlapping, const struct glanz_engine *engine,
                                 struct overlapping *candidates, const struct strip_run *run, uint16_t count) {
#if GLANZ_SEGMENTS_MOST > 8
    if (candidates->apart) {
        return find_next(overlapping, engine, candidates, run, count);
    }
#endif
    overlapping->count = 0;
    for (uint8_t i = 0; i < candidates->count; i++) {
        const struct segment *segment = &engine->segments[candidates->segment[i]];
        uint16_t first = segment->first;
        uint16_t end = (uint16_t)(first + segment->leds);
        uint16_t edge;
        if (run->at >= first && run->at < end) {
            if (segment->opaque) {
                overlapping->count = 0;
            }
            overlapping->segment[overlapping->count++] = candidates->segment[i];
            edge = run->backward ? (uint16_t)(run->at - first + 1) : (uint16_t)(end - run->at);
        } else if (run->backward ? run->at >= end : run->at < first) {
            edge = run->backward ? (uint16_t)(run->at - end + 1) : (uint16_t)(first - run->at);
        } else {
            continue;
        }
        count = edge < count ? edge : count;
    }
    return count;
}

static void fill_cover(uint16_t *cover, uint8_t count) {
    for (uint8_t i = 0; cover != NULL && i < count; i++) {
        cover[i] = 65535;
    }
}

static void dim_run(struct glanz_light *light, uint32_t gain, uint8_t count) {
    for (uint8_t i = 0; gain != 65536u && i < count; i++) {
        glanz_light_put(&light[i], glanz_gain16(light[i].red, gain), glanz_gain16(light[i].green, gain),
                        glanz_gain16(light[i].blue, gain));
    }
}

/* @param cover NULL where no look of the segment tells it. */
GLANZ_NOINLINE void glanz_shade_layer(struct glanz_light *light, uint16_t *cover, const struct layer *layer, uint32_t gain,
                                      const struct run_places *run_places, uint8_t count) {
    if (layer->effect == NULL) {
        memset(light, 0, sizeof *light * count);
        fill_cover(cover, count);
        return;
    }
#if GLANZ_FIELDS
    uint8_t tells = cover != NULL && (layer->effect->needs & GLANZ_NEEDS_COVER) != 0;
    if (layer->spreads != NULL) {
        layer->spreads->shade(light, tells ? cover : NULL, layer, run_places, count);
    } else if (layer->effect->shade_field != NULL) {
        struct glanz_places places = {run_places->x, run_places->y, run_places->index};
        layer->effect->shade_field(light, tells ? cover : NULL, &layer->frame, &places, count);
    } else {
        layer->effect->shade(light, &layer->frame, run_places->line, count);
    }
    if (!tells) {
        fill_cover(cover, count);
    }
#else
    layer->effect->shade(light, &layer->frame, run_places->line, count);
#endif
    if (layer->brightness != 65535) {
        gain = glanz_share_of(gain, glanz_lightness(layer->brightness));
    }
    dim_run(light, gain, count);
}

#if SHORT_WAYS
/* What compose() comes to where one simple segment lies there alone. */
static void shade_simple(struct glanz_light *light, const struct segment *segment, const struct strip_run *run, uint8_t count) {
    const struct layer *layer = segment->order[0];
    glanz_place places[GLANZ_RUN];
    uint16_t at = (uint16_t)(run->at - segment->first);
    uint8_t reversed = segment->is->region.reversed;
    at = reversed ? (uint16_t)(segment->leds - 1u - at) : at;
    glanz_places_row(places, (glanz_place)at * GLANZ_STEP + GLANZ_HALF,
                     (run->backward != 0) != (reversed != 0) ? -GLANZ_STEP : GLANZ_STEP, count);
    layer->effect->shade(light, &layer->frame, places, count);
    if (segment->opaque == SEGMENT_IS_DIMMED) {
        dim_run(light, glanz_share_of(segment->gain, glanz_lightness(layer->brightness)), count);
    }
}
#endif

static void shade_segment(struct glanz_light *light, struct glanz_light *spare, const struct glanz_engine *engine,
                          const struct segment *segment, const struct run_places *run_places, uint8_t count) {
    for (uint8_t i = 0; i < segment->count; i++) {
        const struct layer *layer = segment->order[i];
        if (i == 0 || layer->weight != 0) { /* one that was cut to since the last frame has no weight yet */
            glanz_shade_layer(i == 0 ? light : spare, NULL, layer, segment->gain, run_places, count);
        }
        if (i != 0 && layer->weight != 0) {
            engine->fades->mix(light, spare, count, layer->weight);
        }
    }
}

/* @return how many of the run's LEDs the segment takes. */
static uint8_t find_run_places(struct run_places *run_places, const struct glanz_engine *engine, const struct segment *segment,
                               const struct strip_run *run, uint8_t count) {
#if GLANZ_FIELDS
    if (FIELDS(engine) != NULL && (!segment->field.line || segment->plane || (segment->needs & GLANZ_NEEDS_INDEX) != 0)) {
        return FIELDS(engine)->find_run_places(run_places, engine, segment, run, count);
    }
#else
    (void)engine;
#endif
    run_places->line = run_places->x;
    return glanz_region_places(run_places->x, run_places->taken, &segment->is->region, segment->leds,
                               (uint16_t)(run->at - segment->first), run->backward, count);
}

static int is_sparse(const struct segment *segment) {
#if GLANZ_FIELDS
    return segment->field.sparse;
#else
    return segment->is->region.stencil[0] != 0;
#endif
}

/* Does a segment at the bottom put light on every LED it lies over? */
static int fills_run(const struct glanz_engine *engine, const struct segment *segment) {
#if SHORT_WAYS && GLANZ_FIELDS
    return segment->opaque || (FIELDS(engine) != NULL && is_sheer_on_dark(segment));
#else
    (void)engine;
    return segment->opaque;
#endif
}

/* Light of LEDs over which the same segments lie. */
static void compose(struct glanz_light *light, const struct glanz_engine *engine, const struct overlapping *overlapping,
                    const struct strip_run *run, uint8_t count) {
    struct run_places run_places;
    struct glanz_light over[GLANZ_RUN];
    struct glanz_light spare[GLANZ_RUN];
    if (overlapping->count == 0 || !fills_run(engine, &engine->segments[overlapping->segment[0]])) {
        memset(light, 0, sizeof *light * count);
    }
    for (uint8_t i = 0; i < overlapping->count; i++) {
        const struct segment *segment = &engine->segments[overlapping->segment[i]];
#if GLANZ_FIELDS
        if ((segment->needs & SEGMENT_IS_SHEER) != 0 && FIELDS(engine) != NULL) {
            i = FIELDS(engine)->compose_sheer(light, over, spare, &run_places, engine, overlapping, i, run, count);
            continue;
        }
#endif
        uint8_t some = find_run_places(&run_places, engine, segment, run, count);
        if (some == 0) {
            continue;
        }
        if (!segment->opaque && engine->blend == NULL) {
            continue;
        }
        shade_segment(segment->opaque ? light : over, spare, engine, segment, &run_places, some);
        if (!segment->opaque) {
            engine->blend(light, over, is_sparse(segment) ? run_places.taken : NULL, some, (enum glanz_blend)segment->is->blend,
                          segment->opacity);
        }
    }
}

/* Which segments lie over the LED that the run has come to, and for how many LEDs that stays so. */
GLANZ_NOINLINE static void look_ahead(const struct glanz_engine *engine, struct strip_run *run, uint8_t output, uint16_t led) {
    if (run->leds == 0) {
        find_run(run, engine->rig, output, led);
        run->known = 0;
        run->crowded = 0;
    }
    if (run->known == 0) {
        find_ahead(run, engine);
    }
    run->same = find_overlapping(&run->overlapping, engine, &run->candidates, run, run->known);
    run->leds = (uint16_t)(run->leds - run->same);
    run->known = (uint16_t)(run->known - run->same);
}

void glanz_compose_run(struct glanz_light *light, const struct glanz_engine *engine, struct strip_run *run, uint8_t output,
                       uint16_t led, uint8_t count) {
    while (count != 0) {
        if (run->same == 0) {
            look_ahead(engine, run, output, led);
        }
        uint8_t part = (uint8_t)(run->same < count ? run->same : count);
#if SHORT_WAYS
        const struct segment *bottom = &engine->segments[run->overlapping.segment[0]];
        if (run->overlapping.count == 1 && bottom->opaque >= SEGMENT_IS_SIMPLE) {
            shade_simple(light, bottom, run, part);
        } else {
            compose(light, engine, &run->overlapping, run, part);
        }
#else
        compose(light, engine, &run->overlapping, run, part);
#endif
        run->same = (uint16_t)(run->same - part);
        run->at = (uint16_t)(run->backward ? run->at - part : run->at + part);
        light += part;
        led = (uint16_t)(led + part);
        count = (uint8_t)(count - part);
    }
}
