/* SPDX-License-Identifier: MIT */
/* Looks that come and go: crossfades, several at once, and what waits for them. Known to the engine from the first change on: a
 * program that never changes a look does not link this. */
#include <string.h>

#include "state.h"

static int is_dark(const struct segment *segment, uint8_t position) {
    return segment->order[position]->effect == NULL;
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
static void find_weights(uint32_t *weights, const struct segment *segment, uint32_t lead) {
    uint8_t newest = (uint8_t)(segment->count - 1);
    uint8_t to_dark = (uint8_t)is_dark(segment, newest);
    struct ramp lit = {glanz_timer_at(segment->fade, lead), segment->lit_from, to_dark ? 0 : 65535};
    uint32_t rest = 65536u - glanz_timer_part(&lit.timer);
    uint32_t shares = 0; /* of the older looks that are lit */
    uint32_t taken = 0;
    for (uint8_t i = 0; i < newest; i++) {
        shares += is_dark(segment, i) ? 0 : segment->order[i]->share;
    }
    uint32_t gain = to_dark && shares == 0 ? 0 : !to_dark && lit.from == 65535 ? 65536u : glanz_ramp_gain(&lit);
    uint32_t dark = to_dark ? 0 : 65536u - gain; /* of several that are dark, the first stands for all */
    rest = to_dark ? glanz_ratio(gain, shares) : rest;
    for (uint8_t i = 0; i < newest; i++) {
        uint32_t share = segment->order[i]->share;
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
    uint32_t weights[GLANZ_FADES];
    uint32_t sum = 0;
    uint32_t lit = 0;
    find_weights(weights, segment, lead);
    for (uint8_t i = 0; i < segment->count; i++) {
        sum += weights[i];
    }
    for (uint8_t i = 0; i < segment->count; i++) {
        segment->order[i]->share = glanz_ratio(weights[i], sum == 0 ? 1 : sum);
        lit += is_dark(segment, i) ? 0 : segment->order[i]->share;
    }
    segment->lit_from = lightness_of(lit > 65528u ? 65536u : lit);
}

static void remove_layer(struct glanz_engine *engine, struct segment *segment, uint8_t position) {
    struct layer *layer = segment->order[position];
    for (uint8_t i = position; i + 1u < segment->count; i++) {
        segment->order[i] = segment->order[i + 1];
    }
    segment->count--;
    COUNT_FADING(engine, -1);
    layer->taken = 0;
    if (GLIDES(engine) != NULL) {
        GLIDES(engine)->end(segment, layer);
    }
}

/* The newest of the looks that are there whose phases what was asked for takes over. NULL: none. */
static const struct layer *find_same(const struct segment *segment) {
    const struct layer *same = NULL;
    for (uint8_t i = 0; segment->asked.effect != NULL && !segment->again && i < segment->count; i++) {
        same = segment->order[i]->effect == segment->asked.effect ? segment->order[i] : same;
    }
    return same;
}

/* What was asked for, in a layer that has nothing to lose. @param same may be that layer. */
static void bring_in(struct glanz_engine *engine, struct segment *segment, struct layer *layer, const struct layer *same,
                     uint32_t lead) {
#if GLANZ_GLIDES
    uint8_t anchored = same != NULL && same->effect->pass != NULL && GLIDES(engine) != NULL;
    glanz_place pass = anchored ? same->effect->pass(&same->frame) : 0;
#endif
#if GLANZ_FIELDS
    uint64_t phase = same == NULL ? 0 : same->spread.phase;
#endif
    if (same == NULL) {
        memset(layer, 0, offsetof(struct layer, effect));
    } else if (same != layer) {
        memcpy(layer, same, offsetof(struct layer, effect));
    }
    glanz_layer_fill(engine, segment, layer, lead);
#if GLANZ_FIELDS
    layer->spread.phase = phase;
    layer->anew = segment->again;
#endif
#if GLANZ_GLIDES
    if (anchored) {
        GLIDES(engine)->anchor(layer, pass);
    }
#endif
    glanz_remember_newest(engine, segment);
}

static uint8_t has_room(const struct glanz_engine *engine, const struct segment *segment) {
    return segment->count < GLANZ_FADES && HAS_LAYER(engine);
}

/* Nothing of the old stays. */
static void cut_over(struct glanz_engine *engine, struct segment *segment, uint32_t lead) {
    const struct layer *same = find_same(segment); /* what it holds stays until the layer is filled */
    while (segment->count > 1) {
        remove_layer(engine, segment, 0);
    }
    if (GLIDES(engine) != NULL) {
        GLIDES(engine)->end(segment, segment->order[0]);
    }
    segment->leaving = NONE;
    segment->waiting = 0;
    bring_in(engine, segment, segment->order[0], same, lead);
}

/* What was asked for becomes the newest look beside the others, which have their shares. */
static void admit(struct glanz_engine *engine, struct segment *segment, uint32_t over_ms, uint32_t lead) {
    const struct layer *same = find_same(segment);
    struct layer *layer = glanz_layer_take(engine);
    segment->order[segment->count++] = layer;
    COUNT_FADING(engine, 1);
    segment->waiting = 0;
    segment->fade = glanz_timer_of(over_ms, lead);
    bring_in(engine, segment, layer, same, lead);
}

/* The weakest of a segment's looks but the newest is let go. It has half of it at the most, so there is always somebody to
 * give to. */
static void let_go(struct segment *segment, uint32_t lead) {
    uint8_t weakest = 0;
    uint32_t weights[GLANZ_FADES];
    find_weights(weights, segment, lead);
    for (uint8_t i = 1; i + 1 < segment->count; i++) {
        weakest = weights[i] < weights[weakest] ? i : weakest;
    }
    segment->leaving = weakest;
    segment->leave = glanz_timer_of(LEAVE_MS, lead);
}

/* What ends within `lead` from now has ended: the look that leaves is gone, the others have its part, and one that waited comes
 * in; the newest is alone where it has come in. */
static void catch_up(struct glanz_engine *engine, struct segment *segment, uint32_t lead) {
    uint32_t rest = glanz_timer_rest(&segment->leave);
    if (segment->leaving != NONE && rest <= lead) {
        take_shares(segment, rest);
        remove_layer(engine, segment, segment->leaving);
        segment->leaving = NONE;
        if (segment->waiting && has_room(engine, segment)) {
            admit(engine, segment, segment->waiting_ms, rest);
        }
    }
    if (segment->leaving == NONE && glanz_timer_rest(&segment->fade) <= lead) {
        while (segment->count > 1) {
            remove_layer(engine, segment, 0);
        }
    }
}

#ifndef __AVR__
/* A segment waits for a layer that others have: unless one of them lets one go already, the first that fades does. */
static void hurry(struct glanz_engine *engine) {
    struct segment *first = NULL;
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        struct segment *segment = &engine->segments[s];
        if (segment->count > 1 && segment->leaving != NONE) {
            return;
        }
        first = segment->count > 1 && first == NULL ? segment : first;
    }
    if (first != NULL) {
        let_go(first, 0);
    }
}
#endif

static void advance_fade(struct glanz_engine *engine, struct segment *segment, uint32_t elapsed) {
    catch_up(engine, segment, elapsed);
    glanz_timer_advance(&segment->fade, elapsed);
    glanz_timer_advance(&segment->leave, elapsed);
#ifndef __AVR__ /* what waits has its own there */
    if (segment->waiting && segment->leaving == NONE) {
        if (has_room(engine, segment)) {
            take_shares(segment, 0);
            admit(engine, segment, segment->waiting_ms, 0);
        } else {
            hurry(engine);
        }
    }
#endif
}

/* Let what was asked for in: at once when there is room, else another goes first. */
static void enter(struct glanz_engine *engine, struct segment *segment, uint32_t over_ms, uint32_t lead) {
    if (over_ms == 0) {
        cut_over(engine, segment, lead);
        return;
    }
    if (!segment->waiting && has_room(engine, segment)) {
        take_shares(segment, lead);
        admit(engine, segment, over_ms, lead);
        return;
    }
    segment->waiting = 1;
    segment->waiting_ms = over_ms;
    if (segment->leaving == NONE && segment->count > 1) {
        let_go(segment, lead);
    }
}

/* Without glides another number is another look, which crossfades. */
static int same_look(const struct asked *a, const struct asked *b) {
    return a->effect == b->effect && a->gradient == b->gradient && a->content == b->content && a->brightness == b->brightness &&
#if GLANZ_DRIVES_MOST > 0
           a->drives == b->drives && a->drive_count == b->drive_count && a->held == b->held &&
#endif
           memcmp(a->number, b->number, sizeof a->number) == 0 && memcmp(a->unit, b->unit, sizeof a->unit) == 0;
}

/* Show what is wanted: glide when it is the same thing with other numbers, crossfade when it is not. */
static void show(struct glanz_engine *engine, struct segment *segment, const struct asked *wanted,
                 const struct glanz_change *change, uint32_t lead) {
    struct layer *newest = segment->order[segment->count - 1];
    engine->dirty = 1;
    if (!change->again && !segment->waiting &&
        (GLIDES(engine) != NULL ? GLIDES(engine)->begin(engine, segment, newest, wanted, change->over_ms, lead)
                                : same_look(&segment->asked, wanted))) {
        return;
    }
    segment->asked = *wanted;
    segment->again = change->again;
    enter(engine, segment, change->over_ms, lead);
}

static GLANZ_CONST struct glanz_fades_calls calls = {advance_fade, find_weights, glanz_light_cover};

#if GLANZ_FIELDS
void glanz_engine_settle(struct glanz_engine *engine) {
    for (uint8_t s = 0; engine != NULL && !IS_INSIDE(engine) && s < engine->segment_count; s++) {
        struct segment *segment = &engine->segments[s];
        SET_INSIDE(engine, 1);
        if (segment->waiting) {
            cut_over(engine, segment, 0);
        }
        SET_INSIDE(engine, 0);
        while (segment->count > 1) {
            remove_layer(engine, segment, 0);
        }
        segment->leaving = NONE;
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
    if (NONE_FADES(engine)) {
        return GLANZ_ERR_MEMORY;
    }
    uint32_t lead = glanz_lead_of(engine, change.at_us);
    struct asked wanted;
    engine->fades = &calls;
    SET_INSIDE(engine, 1);
    catch_up(engine, segment, lead);
    uint8_t fits = (uint8_t)(FIELDS(engine) == NULL || FIELDS(engine)->fits(engine, segment, look));
    if (fits) {
        glanz_ask(&wanted, look);
        show(engine, segment, &wanted, &change, lead);
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
    if (NONE_FADES(engine)) {
        return GLANZ_ERR_MEMORY;
    }
    uint32_t lead = glanz_lead_of(engine, change.at_us);
    engine->fades = &calls;
    SET_INSIDE(engine, 1);
    catch_up(engine, segment, lead);
    SET_INSIDE(engine, 0);
    struct asked wanted = segment->asked; /* in the end: of the look that waits, or the newest */
    if (wanted.effect == NULL) {
        return GLANZ_ERR_ABSENT;
    }
    uint8_t unit = setting.unit;
    if (setting.param < wanted.effect->param_count && unit == GLANZ_UNIT_NONE) {
        unit = wanted.effect->params[setting.param].unit;
    }
    if (glanz_setting_check(wanted.effect, setting.param, unit, setting.number) != GLANZ_OK) {
        return GLANZ_ERR_ARGUMENT;
    }
#ifndef __AVR__ /* shows are trusted there */
    if (wanted.effect->params[setting.param].kind == GLANZ_PARAM_COLOR && ((uint32_t)setting.number >> 24) != 0 &&
        engine->parts->colors == NULL) {
        return GLANZ_ERR_ABSENT;
    }
#endif
    wanted.number[setting.param] = setting.number;
    wanted.unit[setting.param] = unit;
#if GLANZ_DRIVES_MOST > 0
    if (DRIVES(engine) != NULL && wanted.drive_count != 0) {
        DRIVES(engine)->hold(&wanted, setting.param);
    }
#endif
    if (segment->waiting) {
        segment->asked = wanted;
        return GLANZ_OK;
    }
    SET_INSIDE(engine, 1);
    show(engine, segment, &wanted, &change, lead);
    SET_INSIDE(engine, 0);
    return GLANZ_OK;
}
