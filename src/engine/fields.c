/* SPDX-License-Identifier: MIT */
/* What effects remember, and the world they tell of. Blocks of memory lie one after another; those of layers that are gone are
 * taken back, by moving the others down, when room is wanted. */
#include <string.h>

#include "compose.h"

#if GLANZ_FIELDS

static uint32_t wanted_by(GLANZ_CONST struct glanz_effect *effect, const struct glanz_frame *frame) {
    uint32_t bytes = effect == NULL || effect->memory == NULL ? 0 : effect->memory(frame);
    return bytes > 65528u ? 65528u : (bytes + 7u) & ~7u;
}

/* The live layer whose block lies first, at or after a place. */
static struct layer *next_block(struct glanz_engine *engine, const uint8_t *from) {
    struct layer *next = NULL;
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        struct segment *segment = &engine->segments[s];
        for (uint8_t i = 0; i < segment->count; i++) {
            struct layer *layer = segment->order[i];
            const uint8_t *at = (const uint8_t *)layer->frame.memory;
            if (at != NULL && at >= from && (next == NULL || at < (const uint8_t *)next->frame.memory)) {
                next = layer;
            }
        }
    }
    return next;
}

/* Bytes that looks on other segments hold. */
static uint32_t live_bytes(const struct glanz_engine *engine, const struct segment *but) {
    uint32_t bytes = 0;
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        const struct segment *segment = &engine->segments[s];
        for (uint8_t i = 0; segment != but && i < segment->count; i++) {
            const struct layer *layer = segment->order[i];
            bytes += layer->frame.memory == NULL ? 0 : layer->frame.capacity;
        }
    }
    return bytes;
}

static void collect(struct glanz_engine *engine) {
    uint8_t *to = engine->pool.bytes;
    for (struct layer *layer = next_block(engine, to); layer != NULL; layer = next_block(engine, to)) {
        memmove(to, layer->frame.memory, (size_t)layer->frame.capacity);
        layer->frame.memory = to;
        to += layer->frame.capacity;
    }
    engine->pool.used = (uint32_t)(to - engine->pool.bytes);
}

/* Bytes that an effect wants on a segment. */
static uint32_t wanted_on(const struct segment *segment, GLANZ_CONST struct glanz_effect *effect, GLANZ_CONST void *content) {
    struct glanz_frame frame;
    if (effect == NULL || effect->memory == NULL) {
        return 0;
    }
    memset(&frame, 0, sizeof frame);
    frame.length = effect->shade_field != NULL ? segment->field.columns : segment->length;
    frame.rows = effect->shade_field != NULL ? segment->field.rows : 1;
    frame.content = content;
    return wanted_by(effect, &frame);
}

static int look_fits(const struct glanz_engine *engine, const struct segment *segment, GLANZ_CONST struct glanz_look *look) {
    uint32_t wanted = look == NULL ? 0 : wanted_on(segment, look->effect, look->content);
    return wanted == 0 || live_bytes(engine, segment) + wanted <= engine->pool.size;
}

static void layer_remember(struct glanz_engine *engine, struct layer *layer) {
    uint32_t bytes = wanted_by(layer->effect, &layer->frame);
    layer->frame.memory = NULL;
    layer->frame.capacity = 0;
    if (bytes == 0) {
        return;
    }
    if (engine->pool.size - engine->pool.used < bytes) {
        collect(engine);
    }
    if (engine->pool.size - engine->pool.used >= bytes) {
        layer->frame.memory = engine->pool.bytes + engine->pool.used;
        layer->frame.capacity = (uint16_t)bytes;
        memset(layer->frame.memory, 0, (size_t)bytes);
        engine->pool.used += bytes;
    }
}

size_t glanz_look_memory(GLANZ_CONST struct glanz_segment *segment, GLANZ_CONST struct glanz_look *look,
                         GLANZ_CONST struct glanz_rig *rig) {
    struct glanz_field field;
    struct glanz_frame frame;
    if (segment == NULL || look == NULL || look->effect == NULL || look->effect->memory == NULL || rig == NULL ||
        segment->surface >= rig->surface_count ||
        !glanz_region_field(&field, &segment->region, &rig->surfaces[segment->surface])) {
        return 0;
    }
    memset(&frame, 0, sizeof frame);
    frame.length = field.columns;
    frame.rows = field.rows;
    frame.content = look->content;
    return (size_t)wanted_by(look->effect, &frame);
}

size_t glanz_engine_memory(const struct glanz_engine *engine, uint8_t index) {
    if (engine == NULL || (index >= engine->segment_count && index != GLANZ_ALL)) {
        return 0;
    }
    const struct segment *segment = &engine->segments[index == GLANZ_ALL ? 0 : index];
    return (size_t)(index == GLANZ_ALL ? engine->pool.size : wanted_on(segment, segment->asked.effect, segment->asked.content));
}

/* ---- the part ---- */

static void remember(struct glanz_engine *engine, struct segment *segment) {
    struct layer *newest = segment->order[segment->count - 1];
    layer_remember(engine, newest);
    for (uint8_t i = 0; newest->frame.memory != NULL && !newest->anew && i + 1 < segment->count; i++) {
        const struct layer *other = segment->order[i];
        if (other->effect == newest->effect && other->frame.capacity == newest->frame.capacity && other->frame.memory != NULL &&
            glanz_content_equal(other->frame.content, newest->frame.content)) {
            memcpy(newest->frame.memory, other->frame.memory, newest->frame.capacity);
        }
    }
}

static void lay(struct segment *segment, GLANZ_CONST struct glanz_surface *surface) {
    (void)glanz_region_field(&segment->field, &segment->is->region, surface); /* it was checked */
    segment->first = segment->field.first;
    segment->leds = segment->field.leds;
    segment->length = segment->field.length;
    segment->closed = segment->field.closed;
}

static uint8_t find_run_places(struct run_places *run_places, const struct glanz_engine *engine, const struct segment *segment,
                               const struct strip_run *run, uint8_t count) {
    GLANZ_CONST struct glanz_region *region = &segment->is->region;
    uint16_t at = (uint16_t)(run->at - segment->first);
    uint8_t some = count;
    run_places->line = run_places->x;
    if (segment->field.line) {
        some = glanz_region_places(run_places->x, run_places->taken, region, segment->leds, at, run->backward, count);
        for (uint8_t i = 0; segment->plane && i < some; i++) {
            run_places->y[i] = GLANZ_HALF;
        }
    } else {
        struct glanz_stretch_of stretch = {run->piece, run->backward, run->before, run->at};
        some = glanz_field_places(run_places->x, run_places->y, run_places->taken, region, &segment->field,
                                  &engine->rig->surfaces[run->surface], &stretch, count);
        if (segment->field.mapping >= GLANZ_MAPPING_ROWS && segment->field.mapping != GLANZ_MAPPING_AROUND) {
            memcpy(run_places->line_x, run_places->x, sizeof *run_places->x * some);
            glanz_field_line(run_places->line_x, run_places->y, &segment->field, some);
            run_places->line = run_places->line_x;
        }
    }
    for (uint8_t i = 0; (segment->needs & GLANZ_NEEDS_INDEX) != 0 && i < some; i++) {
        uint8_t into = segment->field.sparse ? run_places->taken[i] : i;
        run_places->index[i] = (uint16_t)(run->backward ? at - into : at + into);
    }
    return some;
}

#if GLANZ_RATES > 1
/* The phase of a second rate goes on, as that of the first does: see advance_phase(). @return 1 while it moves. */
static uint8_t second(const struct glanz_engine *engine, const struct segment *segment, struct layer *layer, uint8_t gliding,
                      uint32_t elapsed) {
    struct motion *motion = &layer->motion[1];
    uint32_t early = elapsed;
    if ((layer->changed & CHANGED_PACE) != 0 && layer->lead_us <= elapsed) {
        early = layer->lead_us + (layer->jumps ? 0 : (elapsed - layer->lead_us) / 2u);
    }
    motion->phase += (uint64_t)motion->pace * early;
    if ((layer->changed & CHANGED_PACE) != 0 && layer->lead_us <= elapsed) {
        motion->pace = glanz_layer_pace(layer, 1);
        motion->pace = gliding ? GLIDES(engine)->pace(segment, 1, motion->pace) : motion->pace;
#if GLANZ_DRIVES_MOST > 0
        motion->pace = (layer->paced & 2u) != 0 ? engine->driven[layer - engine->layers].pace[1] : motion->pace;
#endif
        motion->phase += (uint64_t)motion->pace * (elapsed - early);
    }
    glanz_motion_tell(layer, 1);
    return motion->pace != 0;
}
#endif

static void begin(struct glanz_engine *engine) {
    GLANZ_CONST struct glanz_rig *rig = engine->rig;
    struct glanz_world *world = &engine->world;
    world->level = engine->levels;
    world->values = rig->input_count;
    world->name_step = sizeof *rig->inputs;
    world->name = rig->input_count == 0 ? NULL : &rig->inputs->name;
#if GLANZ_DRIVES_MOST > 0
    world->unit = rig->input_count == 0 ? NULL : &rig->inputs->unit;
    world->reads = rig->input_count == 0 ? NULL : &rig->inputs->reads_low;
#endif
    glanz_find_masks(engine);
}

GLANZ_CONST struct glanz_fields_calls glanz_fields_calls = {
    lay,    find_run_places, glanz_compose_sheer, begin, remember, look_fits, glanz_spread_begin, glanz_blend_run,
#if GLANZ_RATES > 1
    second,
#endif
};

#endif
