/* SPDX-License-Identifier: MIT */
/* The engine's memory: how much there must be, and how it is laid out. */
#include <string.h>

#include "state.h"

#define CLOCKED_BUFFERS 2

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

#if GLANZ_SEGMENTS_MOST > 8
#define SORTED_BYTES(segment_capacity) align8(segment_capacity)
#else
#define SORTED_BYTES(segment_capacity) 0
#endif

static uint32_t remainder_bytes(GLANZ_CONST struct glanz_output *output) {
    uint32_t bytes = 0;
    for (uint8_t i = 0; i < output->stretch_count; i++) {
        bytes += (uint32_t)output->stretches[i].leds * output->stretches[i].chip->channels;
    }
    return bytes;
}

static uint8_t buffers_of(GLANZ_CONST struct glanz_output *output) {
    return output->stretches[0].chip->protocol == GLANZ_CLOCKED ? CLOCKED_BUFFERS : output->buffers == 2 ? 2 : 1;
}

/* Looks that may fade beside one of each segment. */
static uint8_t fading_of(uint8_t segment_capacity, uint8_t fading) {
#ifdef __AVR__
    (void)fading;
    return (uint8_t)(segment_capacity * (GLANZ_FADES - 1u));
#else
    uint8_t most = (uint8_t)(segment_capacity * (GLANZ_FADES - 1u));
    return fading == GLANZ_NO_FADING ? 0 : fading == 0 || fading > most ? most : fading;
#endif
}

static size_t layers_bytes(uint8_t segment_capacity, uint8_t fading) {
    return align8(sizeof(struct layer) * (size_t)(segment_capacity + fading_of(segment_capacity, fading)));
}

static size_t glides_bytes(GLANZ_CONST struct glanz_parts *parts, uint8_t segment_capacity, uint8_t fading) {
#if GLANZ_GLIDES
    return parts->glides == NULL || fading == GLANZ_NO_FADING ? 0 : align8(sizeof(struct glide) * segment_capacity);
#else
    (void)parts;
    (void)segment_capacity;
    (void)fading;
    return 0;
#endif
}

/* Levels of signals, for those who want them, and what drives remember. */
static size_t signals_bytes(GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity,
                            uint8_t fading) {
#if GLANZ_DRIVES_MOST > 0
    if (parts->drives != NULL) {
        return parts->drives->calls->size(rig, (uint8_t)(segment_capacity + fading_of(segment_capacity, fading)));
    }
#endif
    (void)segment_capacity;
    (void)fading;
#if GLANZ_FIELDS
    return parts->fields == NULL ? 0 : align8(sizeof(uint32_t) * rig->input_count);
#else
    (void)parts;
    (void)rig;
    return 0;
#endif
}

size_t glanz_engine_size(GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity,
                         uint8_t fading) {
    if (rig == NULL || segment_capacity == 0 || rig->outputs == NULL) {
        return 0;
    }
    parts = parts == NULL ? &glanz_nothing : parts;
    size_t size = align8(sizeof(struct glanz_engine)) + align8(sizeof(struct segment) * segment_capacity) +
                  layers_bytes(segment_capacity, fading) + glides_bytes(parts, segment_capacity, fading) +
                  SORTED_BYTES(segment_capacity) + signals_bytes(parts, rig, segment_capacity, fading) +
                  align8(sizeof(struct output) * OUTPUT_COUNT(rig)) + align8(sizeof(struct supply) * SUPPLY_COUNT(rig));
    for (uint8_t i = 0; i < OUTPUT_COUNT(rig); i++) {
        size +=
            (size_t)(glanz_output_bytes(&rig->outputs[i]) * buffers_of(&rig->outputs[i]) + remainder_bytes(&rig->outputs[i]));
    }
    return align8(size);
}

/* The remainders of an output's dither, where they are never begun anew. */
static void begin_remainders(const struct output *output, GLANZ_CONST struct glanz_output *is) {
    const struct glanz_dither begin = {0, 0, 0, 0, 0};
    uint8_t *remainders = output->remainders;
    uint16_t first = 0;
    for (uint8_t i = 0; i < is->stretch_count; i++) {
        GLANZ_CONST struct glanz_stretch *stretch = &is->stretches[i];
        for (uint16_t led = 0; led < stretch->leds; led++) {
            glanz_dither_begin(&begin, remainders, stretch->chip->channels, first++, 1);
            remainders += stretch->chip->channels;
        }
    }
}

/* Segments, looks, outputs, behind the engine. @return what is behind them. */
static uint8_t *lay_state(struct glanz_engine *engine, uint8_t fading) {
    uint8_t segment_capacity = engine->segment_capacity;
    uint8_t *at = (uint8_t *)engine + align8(sizeof *engine);
    engine->segments = (struct segment *)(void *)at;
    at += align8(sizeof(struct segment) * segment_capacity);
    engine->layers = (struct layer *)(void *)at;
#ifndef __AVR__
    engine->fading_most = fading_of(segment_capacity, fading);
    engine->fading_wanted = fading;
#endif
    at += layers_bytes(segment_capacity, fading);
#if GLANZ_GLIDES
    for (uint8_t i = 0; engine->parts->glides != NULL && fading != GLANZ_NO_FADING && i < segment_capacity; i++) {
        engine->segments[i].glide = (struct glide *)(void *)at + i;
    }
    at += glides_bytes(engine->parts, segment_capacity, fading);
#endif
#if GLANZ_SEGMENTS_MOST > 8
    engine->sorted = at;
    at += SORTED_BYTES(segment_capacity);
#endif
    engine->outputs = (struct output *)(void *)at;
    at += align8(sizeof(struct output) * OUTPUT_COUNT(engine->rig));
    engine->supplies = (struct supply *)(void *)at;
    at += align8(sizeof(struct supply) * SUPPLY_COUNT(engine->rig));
#if GLANZ_FIELDS || GLANZ_DRIVES_MOST > 0
    engine->levels = (uint32_t *)(void *)at;
#endif
#if GLANZ_DRIVES_MOST > 0
    if (engine->parts->drives != NULL) {
        engine->parts->drives->calls->start(engine);
    }
#endif
    at += signals_bytes(engine->parts, engine->rig, segment_capacity, fading);
    return at;
}

/* Buffers of each output. */
static void lay_outputs(struct glanz_engine *engine, uint8_t *at) {
    GLANZ_CONST struct glanz_rig *rig = engine->rig;
    for (uint8_t i = 0; i < OUTPUT_COUNT(rig); i++) {
        GLANZ_CONST struct glanz_output *is = &rig->outputs[i];
        struct output *output = &engine->outputs[i];
        output->size = glanz_output_bytes(is);
        for (uint8_t b = 0; b < 2; b++) {
            output->bytes[b] = at;
            if (b + 1 < buffers_of(is) || b == 1) {
                at += output->size;
            }
        }
        output->remainders = at;
        output->clocked = is->stretches[0].chip->protocol == GLANZ_CLOCKED;
        at += remainder_bytes(is);
        begin_remainders(output, is);
        if (engine->parts->limit != NULL) {
            LIMIT(engine->parts->limit, start)(output, is);
        }
    }
}

glanz_status glanz_engine_start(struct glanz_engine **out, void *memory, size_t size, GLANZ_CONST struct glanz_parts *parts,
                                GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity, uint8_t fading,
                                struct glanz_fault *fault) {
    if (out == NULL || memory == NULL || rig == NULL || segment_capacity == 0 || segment_capacity > GLANZ_SEGMENTS_MOST ||
        GLANZ_MISALIGNED(memory) != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    parts = parts == NULL ? &glanz_nothing : parts;
    if (GLANZ_CHECKS_OF(parts) != NULL) {
        glanz_status status = GLANZ_CHECKS_OF(parts)->rig(rig, fault);
        if (status != GLANZ_OK) {
            return status;
        }
    }
    size_t needed = glanz_engine_size(parts, rig, segment_capacity, fading);
    if (size < needed) {
        return glanz_parts_memory(parts, fault, GLANZ_TEXT("the engine"), needed, size);
    }
    memset(memory, 0, needed);
    struct glanz_engine *engine = (struct glanz_engine *)memory;
    engine->parts = parts;
    engine->blend = parts->blends == NULL ? NULL : parts->blends->run;
    engine->rig = rig;
    engine->segment_capacity = segment_capacity;
    uint8_t *at = lay_state(engine, fading);
#if GLANZ_FIELDS
    engine->fields = parts->fields == NULL ? NULL : parts->fields->calls;
    engine->blend = engine->fields == NULL ? engine->blend : engine->fields->blend;
    if (engine->fields != NULL && engine->level_count == 0) {
        engine->level_count = rig->input_count;
    }
    engine->pool.bytes = (uint8_t *)memory + needed;
    engine->pool.size = (uint32_t)((size - needed) & ~(size_t)7u);
#endif
    lay_outputs(engine, at);
    engine->interval_us = 1000000u / (rig->frames_per_s == 0 ? 100u : rig->frames_per_s);
    engine->brightness.from = 65535;
    engine->brightness.to = 65535;
    engine->dither.open = rig->free_dither;
    engine->dirty = 1;
    *out = engine;
    return GLANZ_OK;
}
