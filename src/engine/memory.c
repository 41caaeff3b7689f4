/* SPDX-License-Identifier: MIT */
/* What effects remember, and the world they tell of. Blocks of memory lie one after another; those of layers that are gone are
 * taken back, by moving the others down, when room is wanted. */
#include <string.h>

#include "state.h"

#if GLANZ_FIELDS

static uint32_t wanted_by(GLANZ_CONST struct glanz_effect *effect, const struct glanz_now *now) {
    uint32_t bytes = effect == NULL || effect->memory == NULL ? 0 : effect->memory(now);
    return bytes > 65528u ? 65528u : (bytes + 7u) & ~7u;
}

/* The live layer whose block lies first, at or after a place. */
static struct layer *next_block(struct glanz_engine *engine, const uint8_t *from) {
    struct layer *next = NULL;
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        struct segment *segment = &engine->segments[s];
        for (uint8_t i = 0; i < segment->count; i++) {
            struct layer *layer = &segment->layer[segment->order[i]];
            const uint8_t *at = (const uint8_t *)layer->now.memory;
            if (at != NULL && at >= from && (next == NULL || at < (const uint8_t *)next->now.memory)) {
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
            const struct layer *layer = &segment->layer[segment->order[i]];
            bytes += layer->now.memory == NULL ? 0 : layer->now.room;
        }
    }
    return bytes;
}

static void collect(struct glanz_engine *engine) {
    uint8_t *to = engine->pool.bytes;
    for (struct layer *layer = next_block(engine, to); layer != NULL; layer = next_block(engine, to)) {
        memmove(to, layer->now.memory, (size_t)layer->now.room);
        layer->now.memory = to;
        to += layer->now.room;
    }
    engine->pool.used = (uint32_t)(to - engine->pool.bytes);
}

int glanz_look_fits(const struct glanz_engine *engine, const struct segment *segment, GLANZ_CONST struct glanz_look *look) {
    struct glanz_now now;
    if (look == NULL || look->effect->memory == NULL) {
        return 1;
    }
    memset(&now, 0, sizeof now);
    now.length = look->effect->shade_field != NULL ? segment->field.columns : segment->length;
    now.rows = look->effect->shade_field != NULL ? segment->field.rows : 1;
    now.content = look->content;
    return live_bytes(engine, segment) + wanted_by(look->effect, &now) <= engine->pool.size;
}

void glanz_layer_remember(struct glanz_engine *engine, struct layer *layer) {
    uint32_t bytes = wanted_by(layer->effect, &layer->now);
    layer->now.memory = NULL;
    layer->now.room = 0;
    if (bytes == 0) {
        return;
    }
    if (engine->pool.size - engine->pool.used < bytes) {
        collect(engine);
    }
    if (engine->pool.size - engine->pool.used >= bytes) {
        layer->now.memory = engine->pool.bytes + engine->pool.used;
        layer->now.room = (uint16_t)bytes;
        memset(layer->now.memory, 0, (size_t)bytes);
        engine->pool.used += bytes;
    }
}

size_t glanz_look_memory(GLANZ_CONST struct glanz_segment *segment, GLANZ_CONST struct glanz_look *look,
                         GLANZ_CONST struct glanz_rig *rig) {
    struct glanz_field field;
    struct glanz_now now;
    if (segment == NULL || look == NULL || look->effect == NULL || look->effect->memory == NULL || rig == NULL ||
        segment->surface >= rig->surface_count || !glanz_cut_field(&field, &segment->cut, &rig->surfaces[segment->surface])) {
        return 0;
    }
    memset(&now, 0, sizeof now);
    now.length = field.columns;
    now.rows = field.rows;
    now.content = look->content;
    return (size_t)wanted_by(look->effect, &now);
}

size_t glanz_engine_memory(const struct glanz_engine *engine, uint8_t index) {
    if (engine == NULL || (index >= engine->segment_count && index != GLANZ_ALL)) {
        return 0;
    }
    const struct segment *segment = &engine->segments[index == GLANZ_ALL ? 0 : index];
    const struct layer *layer = &segment->layer[segment->order[segment->waiting ? segment->count : segment->count - 1]];
    return (size_t)(index == GLANZ_ALL ? engine->pool.size : wanted_by(layer->effect, &layer->now));
}

/* ---- the world ---- */

void glanz_world_advance(struct glanz_engine *engine, uint32_t elapsed) {
    uint32_t rest = elapsed % 1000000u + engine->second_us;
    uint32_t seconds = elapsed / 1000000u + rest / 1000000u;
    engine->second_us = rest % 1000000u;
    if (!engine->world.known || seconds == 0) {
        return;
    }
    engine->world.second += seconds;
    engine->world.day += engine->world.second / 86400u;
    engine->world.second %= 86400u;
    engine->world.version++;
}

glanz_status glanz_engine_clock(struct glanz_engine *engine, uint32_t day, uint32_t second) {
    if (engine == NULL || second >= 86400u || day > 2932896u) { /* 31 December 9999 */
        return GLANZ_ERR_ARGUMENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_ORDER;
    }
    engine->world.known = 1;
    engine->world.day = day;
    engine->world.second = second;
    engine->world.version++;
    engine->second_us = 0;
    return GLANZ_OK;
}

glanz_status glanz_engine_value(struct glanz_engine *engine, uint8_t input, uint16_t value) {
    if (engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (input >= engine->rig->input_count) {
        return GLANZ_ERR_ABSENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_ORDER;
    }
    engine->world.version = (uint16_t)(engine->world.version + (engine->values[input] != value));
    engine->values[input] = value;
    return GLANZ_OK;
}

#endif
