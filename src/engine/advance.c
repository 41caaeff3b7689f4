/* SPDX-License-Identifier: MIT */
/* Segments moved on by a frame: phases, and ramps of brightness, presence and opacity. Nothing here touches a LED. */
#include "state.h"

GLANZ_NOINLINE static void turn_by(struct layer *layer, uint32_t elapsed) {
#if defined(GLANZ_MUL32_CALL) && SHORT_WAYS /* a product of 64 bits is a long call there */
    if (elapsed <= 65535u) {
        uint64_t pace = (uint64_t)layer->motion[0].pace;
        uint32_t low = (uint32_t)pace;
        uint64_t sum = ((uint64_t)((low >> 16) * elapsed) << 16) + (low & 0xFFFFu) * elapsed;
        layer->motion[0].phase += sum + ((uint64_t)((uint32_t)(pace >> 32) * elapsed) << 32);
        return;
    }
#endif
    layer->motion[0].phase += (uint64_t)layer->motion[0].pace * elapsed; /* wraps as it should */
}

GLANZ_NOINLINE static void advance_phase(const struct glanz_engine *engine, const struct segment *segment, struct layer *layer,
                                         uint8_t gliding, uint32_t elapsed) {
    uint32_t early = elapsed; /* of this frame, at the pace of the last */
    uint8_t renewed = (layer->changed & CHANGED_PACE) != 0;
#if GLANZ_SEQUENCES
    if (layer->lead_us > elapsed) { /* it comes in a later frame */
        layer->lead_us -= elapsed;
        renewed = 0;
    }
#endif
    if (renewed) { /* in its middle, or when new numbers came; a pace that glides is the old for half of the rest */
        early = layer->lead_us < elapsed ? layer->lead_us : elapsed;
        layer->lead_us -= early;
        early += layer->jumps ? 0 : (elapsed - early) / 2u;
    } else if (layer->motion[0].pace == 0) {
        return;
    }
    turn_by(layer, early);
    if (renewed) {
        layer->motion[0].pace = glanz_layer_pace(layer, 0);
        layer->motion[0].pace = gliding ? GLIDES(engine)->pace(segment, 0, layer->motion[0].pace) : layer->motion[0].pace;
#if GLANZ_DRIVES_MOST > 0
        layer->motion[0].pace =
            (layer->paced & 1u) != 0 ? engine->driven[layer - engine->layers].pace[0] : layer->motion[0].pace;
#endif
        layer->jumps = 0;
        turn_by(layer, elapsed - early);
    }
    glanz_motion_tell(layer, 0);
}

/* What its effect makes of the time. @return enum glanz_step, or-ed, and SPREAD_MOVES */
static uint8_t step_layer(struct layer *layer, uint32_t elapsed, uint8_t due) {
    layer->frame.params_changed = layer->changed != 0;
#if GLANZ_FIELDS
    if (layer->spreads != NULL) {
        return layer->spreads->step(layer, elapsed, due);
    }
#else
    (void)elapsed;
#endif
    return due ? layer->effect->step(&layer->frame) : 0;
}

#define LAYER_MOVES 1
#define LAYER_IS_AWAKE 2

/* One look further. @return LAYER_MOVES when it may move on by itself, LAYER_IS_AWAKE where the next frame may find anything
 * new. */
static uint8_t advance_layer(struct glanz_engine *engine, struct segment *segment, struct layer *layer, uint32_t elapsed) {
#if GLANZ_GLIDES
    uint8_t gliding =
        segment->glide != NULL && segment->glide->timer.span_us != 0 ? GLIDES(engine)->advance(segment, layer, elapsed) : 0;
#else
    const uint8_t gliding = 0;
#endif
#if GLANZ_DRIVES_MOST > 0
    uint8_t driven = layer->drive_count == 0 ? 0 : DRIVES(engine)->apply(engine, segment, layer, elapsed, gliding);
#else
    const uint8_t driven = 0;
#endif
#if GLANZ_SEQUENCES
    elapsed = engine->own_time == NULL ? elapsed : engine->own_us;
#endif
#if GLANZ_RATES > 1 && GLANZ_FIELDS
    uint8_t moves =
        layer->rates > 1 && FIELDS(engine) != NULL && FIELDS(engine)->second(engine, segment, layer, gliding, elapsed);
#else
    uint8_t moves = 0;
#endif
    advance_phase(engine, segment, layer, gliding, elapsed);
    moves = (uint8_t)(moves || layer->motion[0].pace != 0);
#if GLANZ_SEQUENCES
    uint8_t frozen = engine->own_time != NULL && engine->own_us == 0;
#else
    const uint8_t frozen = 0;
#endif
#if GLANZ_FIELDS
    uint8_t by_itself = (layer->effect->needs & GLANZ_NEEDS_CLOCK) != 0;
    layer->frame.elapsed_us = elapsed;
#if GLANZ_DRIVES_MOST > 0
    if ((layer->effect->needs & GLANZ_NEEDS_PULSES) != 0 && DRIVES(engine) != NULL) {
        DRIVES(engine)->tell(engine, layer);
    }
#endif
#else
    const uint8_t by_itself = 0;
#endif
    uint8_t awake = layer->changed || layer->moves || moves || by_itself;
    uint8_t due = layer->effect->step != NULL && awake;
    uint8_t told = step_layer(layer, elapsed, due);
    if (due) {
        moves = (told & GLANZ_STEP_MOVES) != 0 && (moves || by_itself);
    }
    layer->moves = moves;
    layer->changed = (told & GLANZ_STEP_PASS) != 0 ? CHANGED_ALL : 0; /* the pace anew with the next frame */
#if GLANZ_SEQUENCES
    layer->changed = (uint8_t)(layer->changed | (layer->lead_us != 0 ? CHANGED_PACE : 0));
#endif
    moves = gliding || driven || ((moves || (told & SPREAD_MOVES) != 0) && !frozen && segment->opacity != 0);
#if GLANZ_FIELDS
    awake = awake || layer->spreads != NULL;
#endif
#if GLANZ_DRIVES_MOST > 0 && !SHORT_WAYS
    awake = awake || layer->drive_count != 0;
#endif
    return (uint8_t)(moves | awake << 1);
}

/* Opacity and gain of a segment at this frame. @return 1 while they are on their way. */
GLANZ_NOINLINE static uint8_t advance_ramps(struct segment *segment, uint32_t elapsed) {
    if (!segment->stale) {
        return 0;
    }
    segment->stale = (uint8_t)(glanz_ramp_advance(&segment->presence, elapsed) | glanz_ramp_advance(&segment->cover, elapsed) |
                               glanz_ramp_advance(&segment->brightness, elapsed));
    uint32_t opacity = glanz_ramp_now(&segment->cover);
    segment->opacity = glanz_share_of(opacity + (opacity >> 15), glanz_ramp_gain(&segment->presence));
    segment->gain = glanz_ramp_gain(&segment->brightness);
    return segment->stale;
}

#if SHORT_WAYS
/* A plain line of LEDs with one look for lines, of which all is seen. */
static int is_simple(const struct segment *segment) {
    const struct layer *layer = segment->order[0];
    if (segment->count != 1 || layer->effect == NULL || layer->effect->shade == NULL || segment->is->region.grain > 1 ||
        segment->is->region.mirrored) {
        return 0;
    }
#if GLANZ_FIELDS
    return segment->field.line && !segment->plane && (segment->needs & GLANZ_NEEDS_INDEX) == 0;
#else
    return 1;
#endif
}
#endif

/* Does it hide all that lies under it? @return enum opaque */
static uint8_t opaque_of(const struct segment *segment) {
#if GLANZ_FIELDS
    if (segment->field.sparse || (segment->needs & SEGMENT_IS_SHEER) != 0) {
        return SEGMENT_IS_NOT_OPAQUE;
    }
#endif
    if (segment->is->blend != GLANZ_BLEND_COVER || segment->opacity != 65536u || segment->is->region.stencil[0] != 0) {
        return SEGMENT_IS_NOT_OPAQUE;
    }
#if SHORT_WAYS
    return !is_simple(segment)                                                 ? SEGMENT_IS_OPAQUE
           : segment->gain == 65536u && segment->order[0]->brightness == 65535 ? SEGMENT_IS_SIMPLE
                                                                               : SEGMENT_IS_DIMMED;
#else
    return SEGMENT_IS_OPAQUE;
#endif
}

void glanz_segments_find_opaque(struct glanz_engine *engine) {
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        engine->segments[s].opaque = opaque_of(&engine->segments[s]);
    }
}

#if SHORT_WAYS && GLANZ_SEGMENTS_MOST > 8
/* Does a look that is awake do nothing but run on at its pace? */
static int runs_on(const struct segment *segment) {
    const struct layer *layer = segment->order[0];
#if GLANZ_GLIDES
    if (segment->glide != NULL && segment->glide->timer.span_us != 0) {
        return 0;
    }
#endif
#if GLANZ_FIELDS
    if (layer->spreads != NULL) {
        return 0;
    }
#endif
#if GLANZ_RATES > 1
    if (layer->rates > 1) {
        return 0;
    }
#endif
    return segment->count == 1 && !segment->waiting && !segment->stale && layer->effect != NULL && layer->changed == 0 &&
           layer->lead_us == 0 && layer->motion[0].pace != 0 &&
           (layer->effect->needs & (GLANZ_NEEDS_CLOCK | GLANZ_NEEDS_PULSES)) == 0;
}

/* A look runs on: what advance_layer() comes to then. @return 1 while it moves. */
static uint8_t run_on(struct segment *segment, uint32_t elapsed) {
    struct layer *layer = segment->order[0];
    uint8_t told = GLANZ_STEP_MOVES;
    turn_by(layer, elapsed);
    glanz_motion_tell(layer, 0);
    layer->frame.params_changed = 0;
#if GLANZ_FIELDS
    layer->frame.elapsed_us = elapsed;
#endif
    if (layer->effect->step != NULL) {
        told = layer->effect->step(&layer->frame);
    }
    layer->moves = (told & GLANZ_STEP_MOVES) != 0;
    if ((told & GLANZ_STEP_PASS) != 0) { /* the pace anew with the next frame */
        layer->changed = CHANGED_ALL;
        segment->course = COURSE_OPEN;
    }
    return layer->moves && segment->opacity != 0;
}
#endif

#if SHORT_WAYS && GLANZ_SEGMENTS_MOST > 8
/* Courses that hold in this frame; COURSE_NONE for one that does not. */
struct courses {
    uint8_t runs, rests, driven_runs, driven_rests;
};

static struct courses courses_of(const struct glanz_engine *engine) {
    struct courses courses = {COURSE_NONE, COURSE_NONE, COURSE_NONE, COURSE_NONE};
    if (engine->dirty) {
        return courses;
    }
    courses.rests = COURSE_RESTS;
    courses.runs = COURSE_RUNS;
#if GLANZ_SEQUENCES
    courses.runs = engine->own_time == NULL ? COURSE_RUNS : COURSE_NONE;
#endif
#if GLANZ_DRIVES_MOST > 0
    if ((engine->drives_awake & 1u) == 0) {
        courses.driven_rests = COURSE_RESTS | COURSE_DRIVEN;
        courses.driven_runs = courses.runs == COURSE_NONE ? COURSE_NONE : COURSE_RUNS | COURSE_DRIVEN;
    }
#endif
    return courses;
}
#endif

/* One segment further, with all that it may bring. @return 1 while it moves. */
static uint8_t advance_segment(struct glanz_engine *engine, struct segment *segment, uint32_t elapsed) {
    if (segment->count > 1 || segment->waiting) {
        engine->fades->advance(engine, segment, elapsed);
    }
#if GLANZ_FIELDS
    segment->needs = segment->masked;
    segment->plane = 0;
#endif
    uint8_t told = (uint8_t)(advance_ramps(segment, elapsed) | (segment->count > 1) | segment->waiting);
#if GLANZ_DRIVES_MOST > 0
    if (segment->is->drive_count != 0 && DRIVES(engine) != NULL) {
        told = (uint8_t)(told | DRIVES(engine)->dim(engine, segment, elapsed) | (SHORT_WAYS ? 0 : LAYER_IS_AWAKE));
    }
#endif
    uint32_t sum = 0;
    uint32_t weights[GLANZ_FADES];
    if (segment->count > 1) {
        engine->fades->weights(weights, segment, 0);
    }
    for (uint8_t i = 0; i < segment->count; i++) {
        struct layer *layer = segment->order[i];
        layer->weight = 65536u;
        if (segment->count > 1) {
            sum += weights[i];
            layer->weight = i == 0 ? 65536u : glanz_ratio(weights[i], sum);
        }
        if (layer->effect != NULL) {
#if GLANZ_FIELDS
            segment->needs = (uint8_t)(segment->needs | layer->effect->needs);
            if (layer->effect->shade_field != NULL || layer->spreads != NULL) {
                segment->plane = 1;
            }
#endif
            told = (uint8_t)(told | advance_layer(engine, segment, layer, elapsed));
        }
    }
    segment->opaque = opaque_of(segment);
#if GLANZ_SEGMENTS_MOST > 8
    segment->course = told == 0 ? COURSE_RESTS : COURSE_OPEN; /* each call that asks for something makes the engine dirty */
#if SHORT_WAYS
    segment->course = told != 0 && runs_on(segment) ? COURSE_RUNS : segment->course;
#if GLANZ_DRIVES_MOST > 0
    if (segment->is->drive_count != 0 || segment->order[0]->drive_count != 0) {
        segment->course |= COURSE_DRIVEN;
    }
#endif
#endif
#endif
    return told & LAYER_MOVES;
}

void glanz_segments_advance(struct glanz_engine *engine, uint32_t elapsed) {
    uint8_t moving = glanz_ramp_advance(&engine->brightness, elapsed);
#if GLANZ_DRIVES_MOST > 0
    engine->drives_awake >>= 1;
    if (engine->whole != NULL) {
        moving = (uint8_t)(moving | DRIVES(engine)->dim(engine, NULL, elapsed));
    }
#endif
#if GLANZ_SEQUENCES
    if (engine->own_time != NULL) {
        engine->own_time(engine, elapsed);
    }
#endif
#if GLANZ_FIELDS
    if (engine->tell_time != NULL) {
        engine->tell_time(engine, elapsed);
    }
#endif
#if SHORT_WAYS && GLANZ_SEGMENTS_MOST > 8
    const struct courses courses = courses_of(engine);
#endif
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        struct segment *segment = &engine->segments[s];
#if GLANZ_SEGMENTS_MOST > 8
#if SHORT_WAYS
        if (segment->course == courses.runs || segment->course == courses.driven_runs) {
            moving = (uint8_t)(moving | run_on(segment, elapsed));
            continue;
        }
        if (segment->course == courses.rests || segment->course == courses.driven_rests) {
            continue;
        }
#else
        if (segment->course == COURSE_RESTS && !engine->dirty) {
            continue;
        }
#endif
#endif
        moving = (uint8_t)(moving | advance_segment(engine, segment, elapsed));
    }
    engine->moving = moving;
}
