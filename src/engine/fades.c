/* SPDX-License-Identifier: MIT */
/* Looks that come and go: crossfades, several at once, and what waits for them. Known to the engine from the first change on: a
 * program that never changes a look does not link this. */
#include <string.h>

#include "state.h"

static int is_dark(struct segment *segment, uint8_t position) {
    return layer_at(segment, position)->effect == NULL;
}

/* Lightness that light of so much luminance has: the inverse of glanz_lightness(). */
static uint16_t lightness_of(uint32_t gain) {
    uint16_t lightness = 0;
    for (uint16_t bit = 0x8000u; bit != 0; bit = (uint16_t)(bit >> 1)) {
        if (glanz_lightness((uint16_t)(lightness | bit)) <= gain) {
            lightness = (uint16_t)(lightness | bit);
        }
    }
    return lightness;
}

/* Weights of all looks `lead` from now. The shares that they had when the newest came give way to it, evenly in light; to and
 * from dark evenly to the eye: what is lit follows a ramp of lightness, from lit_from to nothing or to full. A look that
 * leaves gives its weight to the others, evenly in time. */
static void find_weights(uint32_t *weights, struct segment *segment, uint32_t lead) {
    uint8_t newest = (uint8_t)(segment->count - 1);
    uint8_t to_dark = (uint8_t)is_dark(segment, newest);
    struct ramp lit = {glanz_timer_at(segment->fade, lead), segment->lit_from, to_dark ? 0 : 65535};
    uint32_t rest = 65536u - glanz_timer_part(&lit.timer);
    uint32_t shares = 0; /* of the older looks that are lit */
    uint32_t taken = 0;
    for (uint8_t i = 0; i < newest; i++) {
        shares += is_dark(segment, i) ? 0 : layer_at(segment, i)->share;
    }
    uint32_t gain = to_dark && shares == 0 ? 0 : !to_dark && lit.from == 65535 ? 65536u : glanz_ramp_gain(&lit);
    uint32_t dark = to_dark ? 0 : 65536u - gain; /* of several that are dark, the first stands for all */
    rest = to_dark ? glanz_ratio(gain, shares) : rest;
    for (uint8_t i = 0; i < newest; i++) {
        uint32_t share = layer_at(segment, i)->share;
        if (is_dark(segment, i)) {
            weights[i] = dark;
            dark = 0;
        } else {
            weights[i] = glanz_share_of(share, rest);
            taken += weights[i];
        }
    }
    weights[newest] = newest == 0 ? 65536u : to_dark ? 65536u - gain : gain > taken ? gain - taken : 0;
    if (segment->leaving == NONE) {
        return;
    }
    struct timer leave = glanz_timer_at(segment->leave, lead);
    uint32_t given = glanz_share_of(weights[segment->leaving], glanz_timer_part(&leave));
    uint32_t others = 65536u - weights[segment->leaving];
    for (uint8_t i = 0; i <= newest; i++) {
        weights[i] =
            i == segment->leaving ? weights[i] - given : weights[i] + glanz_share_of(given, glanz_ratio(weights[i], others));
    }
}

/* The weights of this moment become the shares that a newer look begins with. */
static void take_shares(struct segment *segment, uint32_t lead) {
    uint32_t weights[LAYERS];
    uint32_t sum = 0;
    uint32_t lit = 0;
    find_weights(weights, segment, lead);
    for (uint8_t i = 0; i < segment->count; i++) {
        sum += weights[i];
    }
    for (uint8_t i = 0; i < segment->count; i++) {
        layer_at(segment, i)->share = glanz_ratio(weights[i], sum == 0 ? 1 : sum);
        lit += is_dark(segment, i) ? 0 : layer_at(segment, i)->share;
    }
    segment->lit_from = lightness_of(lit > 65528u ? 65536u : lit);
}

static void remove_layer(struct glanz_engine *engine, struct segment *segment, uint8_t position) {
    uint8_t slot = segment->order[position];
    for (uint8_t i = position; i + 1u < SLOTS_OF(FADES(engine));
         i++) { /* by exchange: a plain move would be a call of memmove() */
        uint8_t next = segment->order[i + 1];
        segment->order[i + 1] = segment->order[i];
        segment->order[i] = next;
    }
    segment->count--;
    if (GLIDES(engine) != NULL) {
        GLIDES(engine)->end(segment, slot);
    }
}

/* The look in the slot after the last becomes the newest; the others have their shares. */
static void admit(struct glanz_engine *engine, struct segment *segment, uint32_t over_ms, uint32_t lead) {
    segment->count++;
    segment->fade = glanz_timer_of(over_ms, lead);
    glanz_remember_newest(engine, segment);
}

/* What ends within `lead` from now has ended: the look that leaves is gone, the others have its part, and one that waited comes
 * in; the newest is alone where it has come in. */
static void catch_up(struct glanz_engine *engine, struct segment *segment, uint32_t lead) {
    uint32_t rest = glanz_timer_rest(&segment->leave);
    if (segment->leaving != NONE && rest <= lead) {
        take_shares(segment, rest);
        remove_layer(engine, segment, segment->leaving);
        segment->leaving = NONE;
        if (segment->waiting) {
            segment->waiting = 0;
            admit(engine, segment, segment->waiting_ms, rest);
            layer_at(segment, (uint8_t)(segment->count - 1))->lead_us = rest;
        }
    }
    if (segment->leaving == NONE && glanz_timer_rest(&segment->fade) <= lead) {
        while (segment->count > 1) {
            remove_layer(engine, segment, 0);
        }
    }
}

static void advance_fade(struct glanz_engine *engine, struct segment *segment, uint32_t elapsed) {
    catch_up(engine, segment, elapsed);
    glanz_timer_advance(&segment->fade, elapsed);
    glanz_timer_advance(&segment->leave, elapsed);
}

/* Let another look in: at once when there is room, else the weakest goes first. */
static void enter(struct glanz_engine *engine, struct segment *segment, uint32_t over_ms, uint32_t lead) {
    if (over_ms == 0) { /* a cut: nothing of the old stays */
        segment->count++;
        while (segment->count > 1) {
            remove_layer(engine, segment, 0);
        }
        segment->leaving = NONE;
        segment->waiting = 0;
        glanz_remember_newest(engine, segment);
        return;
    }
    if (segment->count < FADES(engine)) {
        take_shares(segment, lead);
        admit(engine, segment, over_ms, lead);
        return;
    }
    segment->waiting = 1;
    segment->waiting_ms = over_ms;
    if (segment->leaving == NONE) { /* the weakest has half of it at the most, so there is always somebody to give to */
        uint8_t weakest = 0;
        uint32_t weights[LAYERS];
        find_weights(weights, segment, lead);
        for (uint8_t i = 1; i + 1 < segment->count; i++) {
            weakest = weights[i] < weights[weakest] ? i : weakest;
        }
        segment->leaving = weakest;
        segment->leave = glanz_timer_of(LEAVE_MS, lead);
    }
}

/* Without glides another number is another look, which crossfades. */
static int same_look(const struct layer *a, const struct layer *b) {
    return a->effect == b->effect && a->frame.gradient == b->frame.gradient && a->frame.content == b->frame.content &&
           a->brightness == b->brightness && memcmp(a->target, b->target, sizeof a->target) == 0 &&
           memcmp(a->unit, b->unit, sizeof a->unit) == 0;
}

/* Show what the free slot holds: glide when it is the same thing with other numbers, crossfade when it is not. */
static void show_slot(struct glanz_engine *engine, struct segment *segment, struct glanz_change change, uint32_t lead) {
    uint8_t slot = segment->order[segment->count];
    struct layer *fresh = &segment->layer[slot];
    struct layer *newest = layer_at(segment, (uint8_t)(segment->count - 1));
    engine->dirty = 1;
#if GLANZ_FIELDS
    fresh->anew = change.again;
#endif
    if (!change.again) {
        if (!segment->waiting &&
            (GLIDES(engine) != NULL ? GLIDES(engine)->begin(engine, segment, newest, fresh, change.over_ms, lead)
                                    : same_look(newest, fresh))) {
            return;
        }
        for (uint8_t i = 0; i < segment->count; i++) { /* the same effect takes its phases over, from the newest of them */
            if (layer_at(segment, i)->effect == fresh->effect && fresh->effect != NULL) {
                fresh->phase = layer_at(segment, i)->phase;
                fresh->pace = layer_at(segment, i)->pace;
                if (fresh->effect->pass != NULL && GLIDES(engine) != NULL) {
                    GLIDES(engine)->anchor(fresh, fresh->effect->pass(&layer_at(segment, i)->frame));
                }
            }
        }
    }
    enter(engine, segment, change.over_ms, lead);
}

static GLANZ_CONST struct glanz_fades_calls calls = {advance_fade, find_weights, glanz_light_cover};

#if GLANZ_FIELDS
void glanz_engine_settle(struct glanz_engine *engine) {
    for (uint8_t s = 0; engine != NULL && !IS_INSIDE(engine) && s < engine->segment_count; s++) {
        struct segment *segment = &engine->segments[s];
        uint8_t waits = segment->waiting;
        segment->count = (uint8_t)(segment->count + waits);
        while (segment->count > 1) {
            remove_layer(engine, segment, 0);
        }
        segment->leaving = NONE;
        segment->waiting = 0;
        if (waits) {
            SET_INSIDE(engine, 1);
            glanz_remember_newest(engine, segment);
            SET_INSIDE(engine, 0);
        }
        engine->dirty = 1;
    }
}
#endif

glanz_status glanz_engine_look(struct glanz_engine *engine, uint8_t index, GLANZ_CONST struct glanz_look *look,
                               struct glanz_change change) {
    struct segment *segment = glanz_segment_of(engine, index);
    glanz_status status = glanz_segment_ready(engine, segment);
    if (status != GLANZ_OK) {
        return status;
    }
    if (look != NULL && GLANZ_CHECKS_OF(engine->parts) != NULL &&
        GLANZ_CHECKS_OF(engine->parts)->look(look, NULL) != GLANZ_OK) {
        return GLANZ_ERR_SHOW;
    }
#ifndef __AVR__ /* shows are trusted there */
    if ((glanz_look_needs(look) & ~glanz_parts_present(engine->parts)) != 0) {
        return GLANZ_ERR_ABSENT;
    }
#endif
    if (FADES(engine) == 1) {
        return GLANZ_ERR_MEMORY;
    }
    uint32_t lead = glanz_lead_of(engine, change);
    engine->fades = &calls;
    SET_INSIDE(engine, 1);
    catch_up(engine, segment, lead);
    uint8_t fits = (uint8_t)(FIELDS(engine) == NULL || FIELDS(engine)->fits(engine, segment, look));
    if (fits) {
        glanz_layer_fill(engine, segment, &segment->layer[segment->order[segment->count]], look, lead);
        show_slot(engine, segment, change, lead);
    }
    SET_INSIDE(engine, 0);
    return fits ? GLANZ_OK : GLANZ_ERR_MEMORY;
}

glanz_status glanz_engine_set(struct glanz_engine *engine, uint8_t index, struct glanz_setting setting,
                              struct glanz_change change) {
    struct segment *segment = glanz_segment_of(engine, index);
    glanz_status status = glanz_segment_ready(engine, segment);
    if (status != GLANZ_OK) {
        return status;
    }
    if (FADES(engine) == 1) {
        return GLANZ_ERR_MEMORY;
    }
    uint32_t lead = glanz_lead_of(engine, change);
    engine->fades = &calls;
    SET_INSIDE(engine, 1);
    catch_up(engine, segment, lead);
    SET_INSIDE(engine, 0);
    /* what is wanted in the end: the look that waits, or the newest */
    struct layer *wanted = layer_at(segment, segment->waiting ? segment->count : (uint8_t)(segment->count - 1));
    if (wanted->effect == NULL) {
        return GLANZ_ERR_ABSENT;
    }
    uint8_t unit = setting.unit;
    if (setting.param < wanted->effect->param_count && unit == GLANZ_UNIT_NONE) {
        unit = wanted->effect->params[setting.param].unit;
    }
    if (glanz_setting_check(wanted->effect, setting.param, unit, setting.number) != GLANZ_OK) {
        return GLANZ_ERR_ARGUMENT;
    }
#ifndef __AVR__ /* shows are trusted there */
    if (wanted->effect->params[setting.param].kind == GLANZ_PARAM_COLOR && ((uint32_t)setting.number >> 24) != 0 &&
        engine->parts->colors == NULL) {
        return GLANZ_ERR_ABSENT;
    }
#endif
    if (segment->waiting) {
        wanted->target[setting.param] = setting.number;
        wanted->unit[setting.param] = unit;
        glanz_layer_settle(engine, wanted);
        return GLANZ_OK;
    }
    struct layer *fresh = &segment->layer[segment->order[segment->count]];
    *fresh = *wanted;
#if GLANZ_FIELDS
    fresh->frame.memory = NULL;
    fresh->frame.capacity = 0;
#endif
    fresh->lead_us = lead;
    fresh->target[setting.param] = setting.number;
    fresh->unit[setting.param] = unit;
    fresh->jumps = 1;
    glanz_layer_settle(engine, fresh);
    SET_INSIDE(engine, 1);
    show_slot(engine, segment, change, lead);
    SET_INSIDE(engine, 0);
    return GLANZ_OK;
}
