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
           (kind == GLANZ_PARAM_COLOR || kind == GLANZ_PARAM_LENGTH || kind == GLANZ_PARAM_SHARE || kind == GLANZ_PARAM_TURN);
}

static int same_gradient(GLANZ_CONST struct glanz_gradient *a, GLANZ_CONST struct glanz_gradient *b) {
    int same = a == b || (a->count == b->count && a->bands == b->bands);
#if GLANZ_FIELDS
    same = same && a->runs == b->runs && a->folded == b->folded && a->reversed == b->reversed && a->span == b->span &&
           a->pass_ms == b->pass_ms;
#endif
    for (uint16_t i = 0; same && a != b && i < a->count; i++) {
        same = a->stops[i].at == b->stops[i].at && a->stops[i].light.red == b->stops[i].light.red &&
               a->stops[i].light.green == b->stops[i].light.green && a->stops[i].light.blue == b->stops[i].light.blue;
    }
    return same;
}

static int same_kind(const struct asked *a, const struct asked *b) { /* does only what can glide differ? */
    if (a->effect != b->effect || a->effect == NULL || !same_gradient(a->gradient, b->gradient) ||
        !glanz_content_equal(a->content, b->content)) {
        return 0;
    }
#if GLANZ_DRIVES_MOST > 0
    if (a->drives != b->drives || a->drive_count != b->drive_count) {
        return 0; /* what a signal lays over one and not over the other differs at once */
    }
#endif
    for (uint8_t i = 0; i < a->effect->param_count; i++) {
        if (!is_fluid(&a->effect->params[i], b->number[i], a->number[i]) &&
            (a->number[i] != b->number[i] || a->unit[i] != b->unit[i])) {
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

/* An angle goes the shorter way. */
static int32_t mix_turn(int32_t from, int32_t to, uint32_t done) {
    uint32_t up = ((uint32_t)to - (uint32_t)from) & 0xFFFFu;
    uint32_t way = up < 32768u ? glanz_times(up, done) : 0u - glanz_times(65536u - up, done);
    return (int32_t)(((uint32_t)from + way) & 0xFFFFu);
}

static void anchor(struct layer *layer, glanz_place before) {
    GLANZ_CONST struct glanz_effect *effect = layer->effect;
    if (effect->anchor != NULL && effect->pass(&layer->frame) != before) {
        uint64_t *phase = &layer->motion[0].phase;
        layer->frame.turn[0] = (uint32_t)(*phase >> 16);
        layer->frame.turn[0] = effect->anchor(&layer->frame, before);
        *phase = (*phase >> 48 << 48) | (uint64_t)layer->frame.turn[0] << 16;
    }
}

static void note(struct numbers *numbers, const struct layer *layer) {
    numbers->brightness = layer->brightness;
    memcpy(numbers->color, layer->frame.color, sizeof numbers->color);
    memcpy(numbers->number, layer->frame.number, sizeof numbers->number);
}

/* Numbers as they are with so much of the glide done; what moves stays where it is. */
static void glide_to(const struct glide *glide, struct layer *layer, uint32_t done) {
    GLANZ_CONST struct glanz_effect *effect = layer->effect;
    glanz_place before = effect->anchor == NULL ? 0 : effect->pass(&layer->frame);
    for (uint8_t i = 0; i < effect->param_count; i++) {
        uint8_t kind = effect->params[i].kind;
        if (kind == GLANZ_PARAM_TURN) {
            layer->frame.number[i] = mix_turn(glide->from.number[i], glide->to.number[i], done);
            continue;
        }
        layer->frame.number[i] = kind == GLANZ_PARAM_LENGTH || kind == GLANZ_PARAM_SHARE
                                     ? mix_number(glide->from.number[i], glide->to.number[i], done)
                                     : glide->to.number[i];
    }
    for (uint8_t i = 0; i < GLANZ_COLORS; i++) {
        layer->frame.color[i] = glanz_light_mix(glide->from.color[i], glide->to.color[i], done);
    }
    layer->brightness = glanz_mix16(glide->from.brightness, glide->to.brightness, done);
    layer->changed = CHANGED_ALL;
    anchor(layer, before);
}

static int begin(struct glanz_engine *engine, struct segment *segment, struct layer *layer, const struct asked *wanted,
                 uint32_t over_ms, uint32_t lead) {
    struct glide *glide = segment->glide;
    if (!same_kind(wanted, &segment->asked)) {
        return 0;
    }
    if (glide->timer.span_us != 0) { /* as far as it has come by then; an older look's stays there */
        struct timer timer = glanz_timer_at(glide->timer, lead);
        glide_to(glide, glide->layer, glanz_timer_part(&timer));
    }
    uint8_t is_new = layer->changed != 0 && glide->timer.span_us == 0; /* no frame has had it: its pace is to be */
    glide->layer = layer;
    glide->timer = glanz_timer_of(over_ms, lead);
    for (uint8_t i = 0; i < GLANZ_RATES; i++) {
        glide->pace[i] = is_new && layer->motion[i].pace == 0 ? glanz_layer_pace(layer, i) : layer->motion[i].pace;
    }
    note(&glide->from, layer);
    segment->asked = *wanted;
#if GLANZ_DRIVES_MOST > 0
    if (DRIVES(engine) != NULL) {
        DRIVES(engine)->let_go(engine, layer, wanted->held);
    }
#endif
    layer->frame.gradient = wanted->gradient;
    layer->frame.content = wanted->content;
    layer->lead_us = lead;
    glanz_layer_settle(engine, layer, wanted); /* what it comes to, and back */
    note(&glide->to, layer);
    layer->brightness = glide->from.brightness;
    memcpy(layer->frame.color, glide->from.color, sizeof layer->frame.color);
    memcpy(layer->frame.number, glide->from.number, sizeof layer->frame.number);
    if (over_ms == 0) {
        glide_to(glide, layer, 65536u);
        layer->jumps = 1;
    }
    return 1;
}

static void end(struct segment *segment, const struct layer *layer) {
    if (segment->glide->layer == layer) {
        segment->glide->timer.span_us = 0;
    }
}

static uint8_t advance(struct segment *segment, struct layer *layer, uint32_t elapsed) {
    struct glide *glide = segment->glide;
    if (glide == NULL || glide->timer.span_us == 0 || layer != glide->layer) {
        return 0;
    }
    glanz_timer_advance(&glide->timer, elapsed);
    uint32_t done = glanz_timer_part(&glide->timer);
    glide_to(glide, layer, done);
    glide->done = done;
    if (done == 65536u) {
        glide->timer.span_us = 0;
    }
    return 1;
}

/* Laps a microsecond on the way of a glide. */
static int64_t pace(const struct segment *segment, uint8_t which, int64_t to) {
    int64_t from = segment->glide->pace[which];
    uint32_t done = segment->glide->done;
    uint64_t way = to > from ? (uint64_t)to - (uint64_t)from : (uint64_t)from - (uint64_t)to;
    uint64_t gone = (way >> 10) * (done >> 6);
    return to > from ? from + (int64_t)gone : from - (int64_t)gone;
}

GLANZ_CONST struct glanz_glides_part glanz_part_glides = {begin, end, advance, anchor, pace};

#endif
