/* SPDX-License-Identifier: MIT */
/* One frame: shade, compose, light, wire, run after run along each data line; at most twice, see limit.c. */
#include <string.h>

#include "state.h"

/* ---- a frame ---- */

static void pass_over(struct glanz_engine *engine) {
    engine->restless = (uint8_t)(engine->moving | !engine->pure);
    for (uint8_t o = 0; o < OUTPUT_COUNT(engine->rig); o++) {
        glanz_output_shade(engine, o);
    }
}

/* The dither goes on by a frame; a new period where another depth or a pause asks for it. */
static void advance_dither(struct glanz_engine *engine, uint8_t changed) {
    struct glanz_dither *dither = &engine->dither;
    uint8_t lowest = engine->rig->lowest_hz == 0 ? 25 : engine->rig->lowest_hz;
    uint8_t depth = glanz_dither_depth(engine->interval_us - engine->interval_us / 16u, lowest);
    dither->at = (uint8_t)((dither->at + 1u) & ((1u << depth) - 1u));
    if (depth != dither->depth || engine->paused || !engine->started) {
        dither->at = 0;
    }
    dither->depth = depth;
    engine->pure = (uint8_t)(dither->at == 0 || dither->open || (engine->pure && !changed));
}

glanz_status glanz_engine_advance(struct glanz_engine *engine, glanz_us clock_us) {
    if (engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_STATE;
    }
    glanz_us elapsed = glanz_us_before(engine->clock, clock_us) ? clock_us - engine->clock : 0;
    engine->clock += elapsed;
    uint8_t moved = engine->moving;
    SET_INSIDE(engine, 1);
    glanz_segments_advance(engine, elapsed > 0x7FFFFFFFu ? 0x7FFFFFFFu : (uint32_t)elapsed);
    SET_INSIDE(engine, 0);
    engine->dirty = (uint8_t)(engine->dirty | moved); /* what ended since the last frame is to be seen once more */
    return GLANZ_OK;
}

static void unlimited(struct glanz_engine *engine) {
    for (uint8_t o = 0; o < OUTPUT_COUNT(engine->rig); o++) {
        engine->outputs[o].gain = engine->gain;
        engine->outputs[o].ration = GLANZ_UNCOUNTED;
    }
}

static void shade_frame(uint8_t *shaded, struct glanz_engine *engine, glanz_us elapsed, uint8_t force) {
    uint8_t changed = (uint8_t)(engine->dirty | engine->moving | (engine->painter != NULL));
    if (!force && !changed && !engine->restless) {
        engine->paused = 1;
        return;
    }
    if (engine->started && elapsed > 0 && elapsed < 250000u) { /* how fast frames really come decides the dither */
        engine->interval_us = (engine->interval_us * 7u + (uint32_t)elapsed + 4u) / 8u;
    }
    advance_dither(engine, changed);
    engine->dirty = 0;
    engine->gain = glanz_ramp_gain(&engine->brightness);
#if GLANZ_DRIVES_MOST > 0
    engine->gain = engine->whole == NULL ? engine->gain : glanz_share_of(engine->gain, engine->whole_gain);
#endif
    GLANZ_CONST struct glanz_limit_part *limit = engine->parts->limit;
    if (limit != NULL) {
        LIMIT(limit, plan)(engine, 0);
    } else {
        unlimited(engine);
    }
    pass_over(engine);
    if (limit != NULL && !LIMIT(limit, stands)(engine)) { /* the remainders have moved on: a new period */
        engine->dither.at = 0;
        engine->pure = 1;
        engine->extra_passes++;
        LIMIT(limit, plan)(engine, 1);
        pass_over(engine);
    }
    if (limit != NULL) {
        LIMIT(limit, expect)(engine);
    }
    engine->paused = 0;
    engine->started = 1;
    engine->unsent = 1;
    *shaded = 1;
}

GLANZ_NOINLINE glanz_status glanz_engine_frame(struct glanz_engine *engine, glanz_us clock_us, uint8_t force, uint8_t *shaded) {
    if (engine == NULL || shaded == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_us elapsed = glanz_us_before(engine->clock, clock_us) ? clock_us - engine->clock : 0;
    glanz_status status = glanz_engine_advance(engine, clock_us);
    *shaded = 0;
    if (status != GLANZ_OK) {
        return status;
    }
    SET_INSIDE(engine, 1);
    shade_frame(shaded, engine, elapsed, force);
    SET_INSIDE(engine, 0);
    return GLANZ_OK;
}

glanz_status glanz_engine_bytes(const struct glanz_engine *engine, uint8_t output, const uint8_t **bytes, size_t *count) {
    if (bytes == NULL || count == NULL || engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (output >= OUTPUT_COUNT(engine->rig)) {
        return GLANZ_ERR_ABSENT;
    }
    const struct output *from = &engine->outputs[output];
    *bytes = from->bytes[engine->unsent ? from->back : 1 - from->back];
    *count = (size_t)from->size;
    return GLANZ_OK;
}

void glanz_engine_sent(struct glanz_engine *engine) {
    if (engine == NULL || IS_INSIDE(engine)) {
        return;
    }
    for (uint8_t o = 0; engine->unsent && o < OUTPUT_COUNT(engine->rig); o++) {
        engine->outputs[o].shown = engine->outputs[o].drawn;
        engine->outputs[o].back = (uint8_t)(1 - engine->outputs[o].back);
    }
    engine->unsent = 0;
}

GLANZ_CONST struct glanz_parts *glanz_engine_parts(const struct glanz_engine *engine) {
    return engine == NULL ? NULL : engine->parts;
}

int glanz_engine_inside(const struct glanz_engine *engine) {
    return engine != NULL && IS_INSIDE(engine);
}

uint32_t glanz_engine_extra_passes(const struct glanz_engine *engine) {
    return engine == NULL ? 0 : engine->extra_passes;
}

struct glanz_dither glanz_engine_dither(const struct glanz_engine *engine) {
    struct glanz_dither none = {0, 0, 0, 0, 0};
    return engine == NULL ? none : engine->dither;
}

glanz_status glanz_engine_paint(struct glanz_engine *engine, glanz_painter painter, void *user) {
    if (engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_STATE;
    }
    engine->painter = painter;
    engine->painter_user = user;
    engine->dirty = 1;
    return GLANZ_OK;
}
