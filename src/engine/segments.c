/* SPDX-License-Identifier: MIT */
/* Segments: laid out and begun; their calls. Nothing here touches a LED. */
#include <string.h>

#include "state.h"

/* How long after the engine's clock a change comes. */
uint32_t glanz_lead_of(const struct glanz_engine *engine, glanz_us at_us) {
    if (!glanz_us_before(engine->clock, at_us)) {
        return 0;
    }
    glanz_us lead = at_us - engine->clock;
    return lead > 0x0FFFFFFFu ? 0x0FFFFFFFu : (uint32_t)lead;
}

struct segment *glanz_segment_of(struct glanz_engine *engine, uint8_t index) {
    return engine == NULL || index >= engine->segment_count ? NULL : &engine->segments[index];
}

glanz_status glanz_segment_ready(const struct glanz_engine *engine, const struct segment *segment) {
    return engine == NULL      ? GLANZ_ERR_ARGUMENT
           : segment == NULL   ? GLANZ_ERR_ABSENT
           : IS_INSIDE(engine) ? GLANZ_ERR_STATE
                               : GLANZ_OK;
}

/* Memory for the newest look, with what another look of the same effect remembers. */
void glanz_remember_newest(struct glanz_engine *engine, struct segment *segment) {
    if (FIELDS(engine) != NULL) {
        FIELDS(engine)->remember(engine, segment);
    }
}

/* ---- the public calls ---- */

glanz_status glanz_engine_brightness(struct glanz_engine *engine, uint8_t index, uint16_t lightness,
                                     struct glanz_change change) {
    if (engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    struct segment *segment = glanz_segment_of(engine, index);
    if (segment == NULL && index != GLANZ_ALL) {
        return GLANZ_ERR_ABSENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_STATE;
    }
    glanz_ramp_to(segment == NULL ? &engine->brightness : &segment->brightness, lightness, change.over_ms,
                  glanz_lead_of(engine, change.at_us));
    if (segment != NULL) {
        segment->stale = 1;
    }
    engine->dirty = 1;
    return GLANZ_OK;
}

glanz_status glanz_engine_switch(struct glanz_engine *engine, uint8_t index, uint8_t on, struct glanz_change change) {
    struct segment *segment = glanz_segment_of(engine, index);
    glanz_status status = glanz_segment_ready(engine, segment);
    if (status != GLANZ_OK) {
        return status;
    }
    engine->blend = engine->blend == NULL ? glanz_light_over : engine->blend; /* what fades in or out lets light through */
    segment->on = on != 0;
    glanz_ramp_to(&segment->presence, on ? 65535 : 0, change.over_ms, glanz_lead_of(engine, change.at_us));
    segment->stale = 1;
    engine->dirty = 1;
    return GLANZ_OK;
}

glanz_status glanz_engine_showing(const struct glanz_engine *engine, uint8_t index, struct glanz_showing *showing) {
    if (showing == NULL || engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (index >= engine->segment_count) {
        return GLANZ_ERR_ABSENT;
    }
    const struct segment *segment = &engine->segments[index];
    const struct asked *asked = &segment->asked;
    memset(showing, 0, sizeof *showing);
    showing->name = asked->name;
    showing->effect = asked->effect;
    showing->gradient = asked->gradient;
    showing->content = asked->content;
    memcpy(showing->number, asked->number, sizeof showing->number);
    memcpy(showing->unit, asked->unit, sizeof showing->unit);
#if GLANZ_DRIVES_MOST > 0
    showing->drives = asked->drives;
    showing->drive_count = asked->drive_count;
#endif
    showing->look_brightness = asked->brightness;
    showing->brightness = segment->brightness.to;
    showing->on = segment->on;
    showing->fading = segment->count;
    return GLANZ_OK;
}

glanz_status glanz_engine_seen(const struct glanz_engine *engine, uint8_t index, struct glanz_seen *seen) {
    if (seen == NULL || engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    memset(seen, 0, sizeof *seen);
    if (index >= engine->segment_count) {
        return GLANZ_ERR_ABSENT;
    }
    const struct segment *segment = &engine->segments[index];
    const struct layer *layer = segment->order[segment->count - 1];
    if (layer->effect == NULL) {
        return GLANZ_ERR_ABSENT;
    }
    memcpy(seen->number, layer->frame.number, sizeof seen->number);
    memcpy(seen->color, layer->frame.color, sizeof seen->color);
    seen->brightness = layer->brightness;
    return GLANZ_OK;
}

uint16_t glanz_engine_lightness_asked(const struct glanz_engine *engine) {
    return engine == NULL ? 0 : engine->brightness.to;
}

uint16_t glanz_engine_lightness(const struct glanz_engine *engine) {
    return engine == NULL ? 0 : glanz_ramp_now(&engine->brightness);
}

/* ---- a show's segments ---- */

static uint16_t full_if_none(uint16_t level) {
    return level == 0 ? 65535 : level;
}

void glanz_segment_lay(const struct glanz_engine *engine, struct segment *segment, GLANZ_CONST struct glanz_segment *is,
                       const struct glanz_change *change) {
    GLANZ_CONST struct glanz_surface *surface = &engine->rig->surfaces[is->surface];
    segment->is = is;
    segment->surface = is->surface;
    if (FIELDS(engine) != NULL) {
        FIELDS(engine)->lay(segment, surface);
    } else {
        uint16_t leds = glanz_surface_leds(surface);
        segment->first = is->region.first;
        segment->leds = is->region.leds == 0 ? (uint16_t)(leds - is->region.first) : is->region.leds;
        segment->length = glanz_region_length(&is->region, segment->leds);
        segment->closed = surface->kind == GLANZ_SURFACE_RING && segment->leds == leds && !is->region.mirrored;
#if GLANZ_FIELDS
        segment->field.line = 1;
        segment->field.columns = segment->length;
        segment->field.rows = 1;
        segment->field.sparse = is->region.stencil[0] != 0;
#endif
    }
    if (segment->cover.to != full_if_none(is->opacity)) {
        glanz_ramp_to(&segment->cover, full_if_none(is->opacity), change->over_ms, glanz_lead_of(engine, change->at_us));
        segment->stale = 1;
    }
}

struct layer *glanz_layer_take(struct glanz_engine *engine) {
    struct layer *layer = engine->layers;
    while (layer->taken) {
        layer++;
    }
    memset(layer, 0, sizeof *layer);
    layer->taken = 1;
    return layer;
}

void glanz_segment_clear(struct glanz_engine *engine, struct segment *segment) {
    for (uint8_t i = 0; i < segment->count; i++) {
        segment->order[i]->taken = 0;
        COUNT_FADING(engine, -(i != 0));
    }
    segment->count = 0;
    segment->waiting = 0;
}

void glanz_segment_begin(struct glanz_engine *engine, struct segment *segment, GLANZ_CONST struct glanz_segment *is) {
    struct glanz_change at_once = {0, 0, 0};
    glanz_segment_clear(engine, segment);
#if GLANZ_GLIDES
    struct glide *glide = segment->glide;
#endif
    memset(segment, 0, sizeof *segment);
#if GLANZ_GLIDES
    segment->glide = glide;
    if (glide != NULL) {
        memset(glide, 0, sizeof *glide);
    }
#endif
    glanz_segment_lay(engine, segment, is, &at_once);
    segment->order[0] = glanz_layer_take(engine);
    segment->count = 1;
    segment->leaving = NONE;
    segment->stale = 1;
    segment->on = !is->off;
    segment->presence.to = is->off ? 0 : 65535;
    segment->presence.from = segment->presence.to;
    segment->brightness.to = full_if_none(is->brightness);
    segment->brightness.from = segment->brightness.to;
    glanz_ask(&segment->asked, is->look);
#if GLANZ_SEQUENCES
    for (uint8_t i = 0; i < is->setting_count; i++) {
        GLANZ_CONST struct glanz_setting *own = &is->settings[i];
        segment->asked.number[own->param] = own->number;
        segment->asked.unit[own->param] = own->unit == GLANZ_UNIT_NONE ? segment->asked.unit[own->param] : own->unit;
    }
#endif
    glanz_layer_fill(engine, segment, segment->order[0], 0);
    glanz_remember_newest(engine, segment);
}

/* Check what is lent, and note it. */
glanz_status glanz_segments_lend(struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segments,
                                 GLANZ_CONST uint8_t *stack, uint8_t count, GLANZ_CONST struct glanz_named_color *names,
                                 uint16_t name_count, struct glanz_fault *fault) {
    if (engine == NULL || (segments == NULL && count != 0) || (names == NULL && name_count != 0)) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_STATE;
    }
    GLANZ_CONST struct glanz_checks_part *checks = GLANZ_CHECKS_OF(engine->parts);
    if (count > engine->segment_capacity) {
        if (checks != NULL) {
            checks->segments_most(fault, count, engine->segment_capacity);
        }
        if (fault != NULL) {
            fault->needed = glanz_engine_size(engine->parts, engine->rig, count, FADING_WANTED(engine));
        }
        return GLANZ_ERR_MEMORY;
    }
    glanz_status status = checks == NULL ? GLANZ_OK : checks->segments(segments, stack, count, engine->rig, fault);
#ifndef __AVR__ /* shows are trusted there */
    for (uint8_t i = 0; i < count && status == GLANZ_OK; i++) {
        status = glanz_parts_lacking(fault, glanz_segment_needs(&segments[i]) & ~glanz_parts_present(engine->parts));
    }
#endif
    if (status == GLANZ_OK) {
        engine->stack = stack;
        engine->names = names;
        engine->name_count = name_count;
    }
    return status;
}

#if GLANZ_SEGMENTS_MOST > 8
void glanz_segments_sort(struct glanz_engine *engine) {
    for (uint8_t i = 0; i < engine->segment_count; i++) {
        uint8_t at = i;
        struct segment *segment = &engine->segments[i];
        for (; at > 0; at--) {
            const struct segment *before = &engine->segments[engine->sorted[at - 1]];
            if (before->surface < segment->surface ||
                (before->surface == segment->surface && before->first <= segment->first)) {
                break;
            }
            engine->sorted[at] = engine->sorted[at - 1];
        }
        engine->sorted[at] = i;
        engine->segments[engine->stack == NULL ? i : engine->stack[i]].rank = i;
    }
    for (uint8_t i = 0; i < engine->segment_count; i++) {
        struct segment *segment = &engine->segments[engine->sorted[i]];
        const struct segment *before = i == 0 ? segment : &engine->segments[engine->sorted[i - 1]];
        uint16_t end = (uint16_t)(segment->first + segment->leds);
        segment->reach = i != 0 && before->surface == segment->surface && before->reach > end ? before->reach : end;
    }
#if GLANZ_FIELDS
    if (FIELDS(engine) != NULL) {
        FIELDS(engine)->begin(engine);
    }
#endif
}
#elif GLANZ_FIELDS
void glanz_segments_sort(struct glanz_engine *engine) {
    if (FIELDS(engine) != NULL) {
        FIELDS(engine)->begin(engine);
    }
}
#endif

glanz_status glanz_engine_begin(struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segments,
                                GLANZ_CONST uint8_t *stack, uint8_t count, GLANZ_CONST struct glanz_named_color *names,
                                uint16_t name_count, struct glanz_fault *fault) {
    glanz_status status = glanz_segments_lend(engine, segments, stack, count, names, name_count, fault);
    if (status != GLANZ_OK) {
        return status;
    }
    SET_INSIDE(engine, 1);
    for (uint8_t i = 0; i < count; i++) {
        glanz_segment_begin(engine, &engine->segments[i], &segments[i]);
    }
    for (uint8_t i = count; i < engine->segment_count; i++) {
        glanz_segment_clear(engine, &engine->segments[i]);
    }
    SET_INSIDE(engine, 0);
    engine->brightness.from = 0;
    engine->brightness.to = 0;
    engine->segment_count = count;
    glanz_segments_sort(engine);
    engine->dirty = 1;
    return GLANZ_OK;
}
