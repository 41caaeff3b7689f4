/* SPDX-License-Identifier: MIT */
/* Segments of another show, while one runs: those that stay go on. */
#include <string.h>

#include "state.h"

#if GLANZ_FIELDS
static int same_picks(GLANZ_CONST struct glanz_region *is, GLANZ_CONST struct glanz_region *was) {
    int same = is->pick_count == was->pick_count;
    for (uint8_t i = 0; i < is->pick_count && same; i++) {
        GLANZ_CONST struct glanz_pick *a = &is->picks[i];
        GLANZ_CONST struct glanz_pick *b = &was->picks[i];
        same = a->led == b->led && a->leds == b->leds && a->place == b->place && (a->backward != 0) == (b->backward != 0);
    }
    return same;
}
#endif

#if GLANZ_FIELDS
static int same_window(GLANZ_CONST struct glanz_window *is, GLANZ_CONST struct glanz_window *was) {
    return is == was || (is != NULL && was != NULL && is->columns == was->columns && is->rows == was->rows &&
                         is->left == was->left && is->top == was->top);
}
#endif

static int same_place(const struct segment *segment, GLANZ_CONST struct glanz_segment *is,
                      GLANZ_CONST struct glanz_segment *was) {
    return is->name != NULL && glanz_name_equal(is->name, was->name) && is->surface == was->surface &&
           is->region.first == was->region.first && is->region.leds == was->region.leds &&
           is->region.grain == was->region.grain &&
#if GLANZ_FIELDS
           is->region.mapping == was->region.mapping && is->region.turned == was->region.turned &&
           is->region.swings == was->region.swings && is->region.bearing == was->region.bearing &&
           is->region.piece == was->region.piece && is->region.left == was->region.left && is->region.top == was->region.top &&
           is->region.columns == was->region.columns && is->region.rows == was->region.rows &&
           same_picks(&is->region, &was->region) && same_window(is->region.within, was->region.within) &&
#endif
           is->region.mirrored == was->region.mirrored && segment->leds != 0;
}

uint8_t glanz_engine_place(const struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segment) {
    for (uint8_t old = 0; engine != NULL && segment != NULL && old < engine->segment_count; old++) {
        if (same_place(&engine->segments[old], segment, engine->segments[old].is)) {
            return old;
        }
    }
    return GLANZ_ALL;
}

/* Each keeps its own looks: they go along. */
static void exchange(struct segment *a, struct segment *b) {
    uint8_t *left = (uint8_t *)a; /* byte by byte: a whole segment is too much for small stacks */
    uint8_t *right = (uint8_t *)b;
    for (size_t i = 0; i < sizeof *a; i++) {
        uint8_t held = left[i];
        left[i] = right[i];
        right[i] = held;
    }
}

/* Bring a segment that stays to its new index by a swap, or begin it. `is` still tells the old. */
static void place_segment(struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segments, uint8_t i,
                          const struct glanz_change *change) {
    uint8_t found_at = NONE;
    for (uint8_t old = i; old < engine->segment_count; old++) {
        if (same_place(&engine->segments[old], &segments[i], engine->segments[old].is)) {
            found_at = old;
            break;
        }
    }
    if (found_at == NONE) {
        if (i < engine->segment_count && engine->segment_count < engine->segment_capacity) {
            exchange(&engine->segments[i], &engine->segments[engine->segment_count++]); /* it may be wanted further on */
        }
        glanz_segment_begin(engine, &engine->segments[i], &segments[i]);
        engine->segments[i].is = &segments[i];
        if (i >= engine->segment_count) {
            engine->segment_count = (uint8_t)(i + 1);
        }
        return;
    }
    if (found_at != i) {
        exchange(&engine->segments[i], &engine->segments[found_at]);
    }
    glanz_segment_lay(engine, &engine->segments[i], &segments[i], change);
}

glanz_status glanz_engine_set_segments(struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segments,
                                       GLANZ_CONST uint8_t *stack, uint8_t count, GLANZ_CONST struct glanz_named_color *names,
                                       uint16_t name_count, struct glanz_change change, struct glanz_fault *fault) {
    glanz_status status = glanz_segments_lend(engine, segments, stack, count, names, name_count, fault);
    if (status != GLANZ_OK) {
        return status;
    }
    SET_INSIDE(engine, 1);
    for (uint8_t i = 0; i < count; i++) {
        place_segment(engine, segments, i, &change);
    }
    for (uint8_t i = count; i < engine->segment_count; i++) {
        glanz_segment_clear(engine, &engine->segments[i]);
    }
    SET_INSIDE(engine, 0);
    engine->segment_count = count;
    glanz_segments_sort(engine);
    engine->dirty = 1;
    return GLANZ_OK;
}

int glanz_engine_uses(const struct glanz_engine *engine, const void *memory, size_t size) {
    if (engine == NULL || memory == NULL) {
        return 0;
    }
    if (glanz_inside(engine->parts, memory, size) || glanz_inside(engine->stack, memory, size) ||
        glanz_inside(engine->names, memory, size)) {
        return 1;
    }
#if GLANZ_DRIVES_MOST > 0
    if (glanz_overlaps(engine->whole, 1, sizeof *engine->whole, memory, size)) {
        return 1;
    }
#endif
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        const struct segment *segment = &engine->segments[s];
        const struct asked *asked = &segment->asked;
        if (glanz_inside(segment->is, memory, size) || glanz_inside(asked->name, memory, size) ||
            glanz_inside(asked->effect, memory, size) || glanz_inside(asked->gradient, memory, size) ||
            glanz_inside(asked->content, memory, size)) {
            return 1;
        }
#if GLANZ_DRIVES_MOST > 0
        if (glanz_overlaps(asked->drives, asked->drive_count, sizeof *asked->drives, memory, size)) {
            return 1;
        }
#endif
        for (uint8_t i = 0; i < segment->count; i++) {
            const struct layer *layer = segment->order[i];
            if (glanz_inside(layer->effect, memory, size) || glanz_inside(layer->frame.gradient, memory, size) ||
                glanz_inside(layer->frame.content, memory, size)) {
                return 1;
            }
#if GLANZ_DRIVES_MOST > 0
            if (glanz_overlaps(layer->drives, layer->drive_count, sizeof *layer->drives, memory, size)) {
                return 1;
            }
#endif
        }
    }
    return 0;
}
