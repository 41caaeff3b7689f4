/* SPDX-License-Identifier: MIT */
/* Glides: the same effect with other numbers and colours goes over to them evenly, with no crossfade. */
#include <string.h>

#include "state.h"

#if GLANZ_GLIDES

/* Can it glide from one number to the other? */
static int is_fluid(GLANZ_CONST struct glanz_param *param, int32_t from, int32_t to) {
    uint8_t kind = param->kind;
    if (kind == GLANZ_PARAM_RATE) {
        return param->change == GLANZ_CHANGE_GLIDES || (from < 0) == (to < 0);
    }
    return param->change == GLANZ_CHANGE_GLIDES &&
           (kind == GLANZ_PARAM_COLOR || kind == GLANZ_PARAM_LENGTH || kind == GLANZ_PARAM_SHARE);
}

static int same_gradient(GLANZ_CONST struct glanz_gradient *a, GLANZ_CONST struct glanz_gradient *b) {
    int same = a == b || (a->count == b->count && a->bands == b->bands);
    for (uint16_t i = 0; same && a != b && i < a->count; i++) {
        same = a->stops[i].at == b->stops[i].at && a->stops[i].light.red == b->stops[i].light.red &&
               a->stops[i].light.green == b->stops[i].light.green && a->stops[i].light.blue == b->stops[i].light.blue;
    }
    return same;
}

static int same_kind(const struct layer *a, const struct layer *b) { /* does only what can glide differ? */
    if (a->effect != b->effect || a->effect == NULL || !same_gradient(a->frame.gradient, b->frame.gradient) ||
        !glanz_content_equal(a->frame.content, b->frame.content)) {
        return 0;
    }
    for (uint8_t i = 0; i < a->effect->param_count; i++) {
        if (!is_fluid(&a->effect->params[i], b->target[i], a->target[i]) &&
            (a->target[i] != b->target[i] || a->unit[i] != b->unit[i])) {
            return 0;
        }
    }
    return 1;
}

static int32_t mix_number(int32_t from, int32_t to, uint32_t done) {
    uint32_t way = to > from ? (uint32_t)to - (uint32_t)from : (uint32_t)from - (uint32_t)to;
    uint32_t gone = glanz_times(way, done);
    return (int32_t)(to > from ? (uint32_t)from + gone : (uint32_t)from - gone);
}

static void anchor(struct layer *layer, glanz_place before) {
    GLANZ_CONST struct glanz_effect *effect = layer->effect;
    if (effect->anchor != NULL && effect->pass(&layer->frame) != before) {
        layer->frame.turn[0] = (uint32_t)(layer->phase >> 16);
        layer->frame.turn[0] = effect->anchor(&layer->frame, before);
        layer->phase = (layer->phase >> 48 << 48) | (uint64_t)layer->frame.turn[0] << 16;
    }
}

/* Numbers as they are with so much of the glide done; what moves stays where it is. */
static void glide_to(struct glanz_engine *engine, const struct glide *glide, struct layer *layer, uint32_t done) {
    GLANZ_CONST struct glanz_effect *effect = layer->effect;
    glanz_place before = effect->anchor == NULL ? 0 : effect->pass(&layer->frame);
    glanz_layer_settle(engine, layer); /* to what is wanted, then back by what is left */
    for (uint8_t i = 0; i < effect->param_count; i++) {
        uint8_t kind = effect->params[i].kind;
        if (kind == GLANZ_PARAM_LENGTH || kind == GLANZ_PARAM_SHARE) {
            layer->frame.number[i] = mix_number(glide->number[i], layer->frame.number[i], done);
        }
    }
    for (uint8_t i = 0; i < GLANZ_COLORS; i++) {
        layer->frame.color[i] = glanz_light_mix(glide->color[i], layer->frame.color[i], done);
    }
    layer->bright_now = glanz_mix16(glide->brightness, layer->brightness, done);
    anchor(layer, before);
}

static int begin(struct glanz_engine *engine, struct segment *segment, struct layer *layer, const struct layer *wanted,
                 uint32_t over_ms, uint32_t lead) {
    struct glide *glide = segment->glide;
    if (!same_kind(wanted, layer)) {
        return 0;
    }
    if (glide->timer.span_us != 0) { /* as far as it has come by then; an older look's stays there */
        struct timer timer = glanz_timer_at(glide->timer, lead);
        glide_to(engine, glide, &segment->layer[glide->slot], glanz_timer_part(&timer));
    }
    glide->slot = (uint8_t)(layer - segment->layer);
    glide->timer = glanz_timer_of(over_ms, lead);
    glide->pace = layer->pace;
    memcpy(glide->number, layer->frame.number, sizeof glide->number);
    memcpy(glide->color, layer->frame.color, sizeof glide->color);
    glide->brightness = layer->bright_now;
    memcpy(layer->target, wanted->target, sizeof layer->target);
    memcpy(layer->unit, wanted->unit, sizeof layer->unit);
    layer->brightness = wanted->brightness;
    layer->name = wanted->name;
    layer->frame.gradient = wanted->frame.gradient;
    layer->frame.content = wanted->frame.content;
    layer->lead_us = lead;
    if (over_ms == 0) {
        glide_to(engine, glide, layer, 65536u);
        layer->jumps = 1;
    }
    return 1;
}

static void end(struct segment *segment, uint8_t slot) {
    if (segment->glide->slot == slot) {
        segment->glide->timer.span_us = 0;
    }
}

static uint8_t advance(struct glanz_engine *engine, struct segment *segment, struct layer *layer, uint32_t elapsed) {
    struct glide *glide = segment->glide;
    if (glide->timer.span_us == 0 || layer != &segment->layer[glide->slot]) {
        return 0;
    }
    glanz_timer_advance(&glide->timer, elapsed);
    uint32_t done = glanz_timer_part(&glide->timer);
    glide_to(engine, glide, layer, done);
    layer->changed = 1;
    glide->done = done;
    if (done == 65536u) {
        glide->timer.span_us = 0;
    }
    return 1;
}

/* Laps a microsecond on the way of a glide. */
static int64_t pace(const struct segment *segment, int64_t to) {
    int64_t from = segment->glide->pace;
    uint32_t done = segment->glide->done;
    uint64_t way = to > from ? (uint64_t)to - (uint64_t)from : (uint64_t)from - (uint64_t)to;
    uint64_t gone = (way >> 10) * (done >> 6);
    return to > from ? from + (int64_t)gone : from - (int64_t)gone;
}

GLANZ_CONST struct glanz_glides_part glanz_part_glides = {begin, end, advance, anchor, pace};

#endif
