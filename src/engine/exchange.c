/* SPDX-License-Identifier: MIT */
/* An effect in another edition of itself, while it runs: on the desk, when its source was changed. */
#include "state.h"

#ifndef __AVR__ /* for the desk */

static int same_params(GLANZ_CONST struct glanz_effect *a, GLANZ_CONST struct glanz_effect *b) {
    for (uint8_t i = 0; i < a->param_count; i++) {
        GLANZ_CONST struct glanz_param *one = &a->params[i];
        GLANZ_CONST struct glanz_param *other = &b->params[i];
        if (one->kind != other->kind || one->unit != other->unit || one->change != other->change || one->low != other->low ||
            one->high != other->high || !glanz_text_equal(one->name, other->name)) {
            return 0;
        }
    }
    return 1;
}

/* Does what layers of the one remember fit the other? */
static int same_memory(const struct glanz_engine *engine, GLANZ_CONST struct glanz_effect *before,
                       GLANZ_CONST struct glanz_effect *after) {
#if GLANZ_FIELDS
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        const struct segment *segment = &engine->segments[s];
        for (uint8_t i = 0; i < segment->count; i++) {
            const struct layer *layer = segment->order[i];
            if (layer->effect == before && (before->memory == NULL ? 0 : before->memory(&layer->frame)) !=
                                               (after->memory == NULL ? 0 : after->memory(&layer->frame))) {
                return 0;
            }
        }
    }
    return (before->shade == NULL) == (after->shade == NULL);
#else
    (void)engine;
    (void)before;
    (void)after;
    return 1;
#endif
}

glanz_status glanz_engine_exchange(struct glanz_engine *engine, GLANZ_CONST struct glanz_effect *before,
                                   GLANZ_CONST struct glanz_effect *after) {
    if (engine == NULL || before == NULL || after == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_BUSY;
    }
    if (after->version != GLANZ_EFFECT_VERSION || before->param_count != after->param_count ||
        before->content != after->content || before->needs != after->needs || !same_params(before, after) ||
        !same_memory(engine, before, after)) {
        return GLANZ_ERR_STATE;
    }
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        struct segment *segment = &engine->segments[s];
        segment->asked.effect = segment->asked.effect == before ? after : segment->asked.effect;
        for (uint8_t i = 0; i < segment->count; i++) {
            struct layer *layer = segment->order[i];
            if (layer->effect == before) {
                layer->effect = after;
                layer->changed = CHANGED_ALL;
            }
        }
    }
    engine->dirty = 1;
    return GLANZ_OK;
}

#endif
