/* SPDX-License-Identifier: MIT */
/* Segments: which looks are on them, fading and gliding; phases. Nothing here touches a LED. */
#include "state.h"

#include <string.h>

/* How long after the engine's clock a change comes. */
static uint32_t lead_of(const struct glanz_engine *engine, struct glanz_change change) {
    if (!glanz_time_before(engine->clock, change.at_us)) {
        return 0;
    }
    glanz_time lead = change.at_us - engine->clock;
    return lead > 0x0FFFFFFFu ? 0x0FFFFFFFu : (uint32_t)lead;
}

/* ---- numbers of a look ---- */

/* The number that an effect sees: lengths in points. */
static int32_t seen(GLANZ_CONST struct glanz_param *param, int32_t number, uint8_t unit, uint16_t length) {
    if (param->kind == GLANZ_PARAM_LENGTH && unit == GLANZ_UNIT_LENGTHS) {
        return number > GLANZ_FIXED(30000) / (int32_t)length ? GLANZ_FIXED(30000) : number * (int32_t)length;
    }
    return number;
}

/* Laps a microsecond, 48 fractional bits, from a ratio of laps a second. */
static int64_t laps_per_us(uint32_t num, uint32_t den, uint8_t backward) {
    uint32_t whole = num / den;
    whole = whole > 32000u ? 32000u : whole; /* beyond anything that can be seen */
    uint32_t part = glanz_fraction(num % den, den);
    /* times 2^16 / 10^6, which is 281474977 / 2^32 */
    uint64_t pace = (uint64_t)whole * 281474977u + glanz_mul32_high(part, 281474977u);
    return backward ? -(int64_t)pace : (int64_t)pace;
}

/* Laps a microsecond of the look's rate, as it is set. */
static int64_t pace_of(const struct layer *layer) {
    GLANZ_CONST struct glanz_effect *effect = layer->effect;
    uint8_t i = 0;
    while (i < effect->param_count && effect->params[i].kind != GLANZ_PARAM_RATE) {
        i++;
    }
    if (i == effect->param_count || layer->target[i] == 0) {
        return 0;
    }
    uint8_t backward = layer->target[i] < 0;
    uint32_t num = backward ? 0u - (uint32_t)layer->target[i] : (uint32_t)layer->target[i];
    uint32_t den = 65536u;
    if (layer->unit[i] == GLANZ_UNIT_PASS_TIME) {
        den = num;
        num = 1000u;
    } else if (layer->unit[i] != GLANZ_UNIT_PASSES) {
        glanz_place pass = effect->pass == NULL ? (glanz_place)layer->now.length * GLANZ_STEP : effect->pass(&layer->now);
        den = pass < 1 ? 1 : (uint32_t)pass;
        if (layer->unit[i] == GLANZ_UNIT_LENGTHS) {
            while (num > 0xFFFFFFFFu / layer->now.length) { /* faster than can be seen: fewer bits will do */
                num >>= 1;
                den = (den >> 1) + (den == 1);
            }
            num *= layer->now.length;
        }
    }
    return laps_per_us(num, den, backward);
}

static void layer_colors(struct glanz_engine *engine, const struct layer *layer, struct glanz_light *colors) {
    uint8_t rank = 0;
    for (uint8_t i = 0; i < layer->effect->param_count; i++) {
        if (layer->effect->params[i].kind == GLANZ_PARAM_COLOR && rank < GLANZ_COLORS) {
            colors[rank++] = glanz_color_light((glanz_color)layer->target[i], engine->names, engine->name_count);
        }
    }
}

/* Everything as it is set, with no glide. */
void glanz_layer_settle(struct glanz_engine *engine, struct layer *layer) {
    if (layer->effect != NULL) {
        for (uint8_t i = 0; i < layer->effect->param_count; i++) {
            layer->now.number[i] = seen(&layer->effect->params[i], layer->target[i], layer->unit[i], layer->now.length);
        }
        layer_colors(engine, layer, layer->now.color);
    }
    layer->bright_now = layer->brightness;
    layer->changed = 1;
}

static void layer_fill(struct glanz_engine *engine, struct segment *segment, struct layer *layer,
                       GLANZ_CONST struct glanz_look *look, uint32_t lead) {
    memset(layer, 0, sizeof *layer);
    layer->name = look == NULL ? NULL : look->name;
    layer->lead_us = lead;
    layer->brightness = 65535;
    layer->now.length = segment->length;
    layer->now.closed = segment->closed;
#if GLANZ_FIELDS
    layer->now.rows = 1;
    layer->now.world = &engine->world;
    if (look != NULL && look->effect->shade_field != NULL) {
        layer->now.length = segment->field.columns;
        layer->now.rows = segment->field.rows;
    }
#endif
    layer->now.gradient = &glanz_gradient_standard;
    layer->now.seed = segment->is->seed;
    if (look != NULL) {
        layer->effect = look->effect;
        for (uint8_t i = 0; i < look->effect->param_count; i++) {
            layer->target[i] = look->effect->params[i].standard;
            layer->unit[i] = look->effect->params[i].unit;
        }
        for (uint8_t i = 0; i < look->setting_count; i++) {
            uint8_t param = look->settings[i].param;
            layer->target[param] = look->settings[i].number;
            if (look->settings[i].unit != GLANZ_UNIT_NONE) {
                layer->unit[param] = look->settings[i].unit;
            }
        }
#if GLANZ_FIELDS
        layer->now.gradient = look->effect->gradient == NULL ? layer->now.gradient : look->effect->gradient;
#endif
        layer->now.gradient = look->gradient == NULL ? layer->now.gradient : look->gradient;
        layer->now.content = look->content;
        layer->brightness = look->brightness == 0 ? 65535 : look->brightness;
    }
    glanz_layer_settle(engine, layer);
    layer->jumps = 1;
}

static struct layer *layer_at(struct segment *segment, uint8_t position) {
    return &segment->layer[segment->order[position]];
}

glanz_status glanz_setting_check(GLANZ_CONST struct glanz_effect *effect, uint8_t index, uint8_t unit, int32_t number) {
    if (index >= effect->param_count) {
        return GLANZ_ERR_ARGUMENT;
    }
    GLANZ_CONST struct glanz_param *param = &effect->params[index];
    int32_t size = param->kind == GLANZ_PARAM_RATE && number < 0 ? (number == INT32_MIN ? INT32_MAX : -number) : number;
    if (unit > GLANZ_UNIT_PASS_TIME || (param->kind == GLANZ_PARAM_LENGTH && unit > GLANZ_UNIT_LENGTHS) ||
        (param->kind != GLANZ_PARAM_COLOR && (size < param->low || size > param->high))) {
        return GLANZ_ERR_ARGUMENT;
    }
    return GLANZ_OK;
}

/* ---- fades ---- */

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

static void remove_layer(struct segment *segment, uint8_t position) {
    uint8_t slot = segment->order[position];
    for (uint8_t i = position; i + 1 < LAYERS; i++) {
        segment->order[i] = segment->order[i + 1];
    }
    segment->order[LAYERS - 1] = slot;
    segment->count--;
    glanz_glide_end(segment, slot);
}

/* Memory for the newest look, with what another look of the same effect remembers. */
static void remember_newest(struct glanz_engine *engine, struct segment *segment) {
    if (FIELDS(engine) != NULL) {
        FIELDS(engine)->remember(engine, segment);
    }
}

/* The look in the slot after the last becomes the newest; the others have their shares. */
static void admit(struct glanz_engine *engine, struct segment *segment, uint32_t over_ms, uint32_t lead) {
    segment->count++;
    segment->fade = glanz_timer_of(over_ms, lead);
    remember_newest(engine, segment);
}

/* What ends within `lead` from now has ended: the look that leaves is gone, the others have its part, and one that waited comes
 * in; the newest is alone where it has come in. */
static void catch_up(struct glanz_engine *engine, struct segment *segment, uint32_t lead) {
    uint32_t rest = glanz_timer_rest(&segment->leave);
    if (segment->leaving != NONE && rest <= lead) {
        take_shares(segment, rest);
        remove_layer(segment, segment->leaving);
        segment->leaving = NONE;
        if (segment->waiting) {
            segment->waiting = 0;
            admit(engine, segment, segment->waiting_ms, rest);
            layer_at(segment, (uint8_t)(segment->count - 1))->lead_us = rest;
        }
    }
    if (segment->leaving == NONE && glanz_timer_rest(&segment->fade) <= lead) {
        while (segment->count > 1) {
            remove_layer(segment, 0);
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
            remove_layer(segment, 0);
        }
        segment->leaving = NONE;
        segment->waiting = 0;
        remember_newest(engine, segment);
        return;
    }
    if (segment->count < GLANZ_FADES) {
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

/* ---- time ---- */

GLANZ_NOINLINE static void turn_by(struct layer *layer, uint32_t elapsed) {
    layer->phase += (uint64_t)layer->pace * elapsed; /* wraps as it should */
}

GLANZ_NOINLINE static void advance_phase(const struct segment *segment, struct layer *layer, uint8_t gliding,
                                         uint32_t elapsed) {
    uint32_t early = elapsed; /* of this frame, at the pace of the last */
    if (layer->changed) {     /* in its middle, or when new numbers came; a pace that glides is the old for half of the rest */
        early = layer->lead_us < elapsed ? layer->lead_us : elapsed;
        layer->lead_us -= early;
        early += layer->jumps ? 0 : (elapsed - early) / 2u;
    } else if (layer->pace == 0) {
        return;
    }
    turn_by(layer, early);
    if (layer->changed) {
        layer->pace = pace_of(layer);
        layer->pace = gliding ? glanz_glide_pace(segment, layer->pace) : layer->pace;
        layer->jumps = 0;
        turn_by(layer, elapsed - early);
    }
    uint32_t high = (uint32_t)(layer->phase >> 32);
    uint16_t laps = (uint16_t)(high >> 16);
    if (laps > 16384 && laps < 49152) { /* far out either way: nearer by 8192 laps */
        laps = (uint16_t)(laps < 32768 ? laps - 8192 : laps + 8192);
        high = ((uint32_t)laps << 16) | (high & 0xFFFFu);
        layer->phase = ((uint64_t)high << 32) | (uint32_t)layer->phase;
    }
    layer->now.lap[0] = (int16_t)(laps < 32768 ? (int32_t)laps : (int32_t)laps - 65536);
    layer->now.turn[0] = (high << 16) | ((uint32_t)layer->phase >> 16);
}

/* One look further. @return 1 when it may move on by itself. */
static uint8_t advance_layer(struct glanz_engine *engine, struct segment *segment, struct layer *layer, uint32_t elapsed) {
    uint8_t gliding = glanz_glide_advance(engine, segment, layer, elapsed);
    advance_phase(segment, layer, gliding, elapsed);
    uint8_t moves = layer->pace != 0;
#if GLANZ_FIELDS
    uint8_t by_itself = (layer->effect->needs & GLANZ_NEEDS_CLOCK) != 0;
    layer->now.elapsed_us = elapsed;
#else
    const uint8_t by_itself = 0;
#endif
    uint8_t told = 0;
    if (layer->effect->step != NULL && (layer->changed || layer->moves || moves || by_itself)) {
        layer->now.fresh = layer->changed;
        told = layer->effect->step(&layer->now);
        moves = (told & GLANZ_STEP_MOVES) != 0 && (moves || by_itself);
    }
    layer->moves = moves;
    layer->changed = (told & GLANZ_STEP_PASS) != 0; /* the pace anew with the next frame */
    return gliding || (moves && segment->opacity != 0);
}

/* Opacity and gain of a segment at this frame. @return 1 while they are on their way. */
GLANZ_NOINLINE static uint8_t advance_ramps(struct segment *segment, uint32_t elapsed) {
    if (!segment->stale) {
        return 0;
    }
    segment->stale = (uint8_t)(glanz_ramp_advance(&segment->presence, elapsed) | glanz_ramp_advance(&segment->cover, elapsed) |
                               glanz_ramp_advance(&segment->brightness, elapsed));
    uint32_t opacity = glanz_ramp_now(&segment->cover);
    segment->opacity = glanz_share_of(opacity + (opacity >> 15), glanz_ramp_gain(&segment->presence));
    segment->gain = glanz_ramp_gain(&segment->brightness);
    return segment->stale;
}

void glanz_segments_advance(struct glanz_engine *engine, uint32_t elapsed) {
    uint8_t moving = glanz_ramp_advance(&engine->brightness, elapsed);
    if (FIELDS(engine) != NULL) {
        FIELDS(engine)->advance(engine, elapsed);
    }
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        struct segment *segment = &engine->segments[s];
        if (segment->count > 1) {
            advance_fade(engine, segment, elapsed);
        }
#if GLANZ_FIELDS
        segment->needs = 0;
        segment->plane = 0;
#endif
        moving = (uint8_t)(moving | advance_ramps(segment, elapsed) | (segment->count > 1));
        uint32_t sum = 0;
        uint32_t weights[LAYERS];
        if (segment->count > 1) {
            find_weights(weights, segment, 0);
        }
        for (uint8_t i = 0; i < segment->count; i++) {
            struct layer *layer = layer_at(segment, i);
            layer->weight = 65536u;
            if (segment->count > 1) {
                sum += weights[i];
                layer->weight = i == 0 ? 65536u : glanz_ratio(weights[i], sum);
            }
            if (layer->effect != NULL) {
#if GLANZ_FIELDS
                segment->needs = (uint8_t)(segment->needs | layer->effect->needs);
                if (layer->effect->shade_field != NULL) {
                    segment->plane = 1;
                }
#endif
                moving = (uint8_t)(moving | advance_layer(engine, segment, layer, elapsed));
            }
        }
    }
    engine->moving = moving;
}

/* ---- the public calls ---- */

static struct segment *segment_of(struct glanz_engine *engine, uint8_t index) {
    return engine == NULL || index >= engine->segment_count ? NULL : &engine->segments[index];
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
        if (!segment->waiting && glanz_glide_begin(engine, segment, newest, fresh, change.over_ms, lead)) {
            return;
        }
        for (uint8_t i = 0; i < segment->count; i++) { /* the same effect takes its phases over, from the newest of them */
            if (layer_at(segment, i)->effect == fresh->effect && fresh->effect != NULL) {
                fresh->phase = layer_at(segment, i)->phase;
                fresh->pace = layer_at(segment, i)->pace;
                if (fresh->effect->pass != NULL) {
                    glanz_layer_anchor(fresh, fresh->effect->pass(&layer_at(segment, i)->now));
                }
            }
        }
    }
    enter(engine, segment, change.over_ms, lead);
}

#if GLANZ_FIELDS
void glanz_engine_settle(struct glanz_engine *engine) {
    for (uint8_t s = 0; engine != NULL && !IS_INSIDE(engine) && s < engine->segment_count; s++) {
        struct segment *segment = &engine->segments[s];
        uint8_t waits = segment->waiting;
        segment->count = (uint8_t)(segment->count + waits);
        while (segment->count > 1) {
            remove_layer(segment, 0);
        }
        segment->leaving = NONE;
        segment->waiting = 0;
        if (waits) {
            SET_INSIDE(engine, 1);
            remember_newest(engine, segment);
            SET_INSIDE(engine, 0);
        }
        engine->dirty = 1;
    }
}
#endif

glanz_status glanz_engine_look(struct glanz_engine *engine, uint8_t index, GLANZ_CONST struct glanz_look *look,
                               struct glanz_change change) {
    struct segment *segment = segment_of(engine, index);
    if (engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (segment == NULL) {
        return GLANZ_ERR_ABSENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_ORDER;
    }
    if (look != NULL && engine->parts->checks != NULL && engine->parts->checks->look(look, NULL) != GLANZ_OK) {
        return GLANZ_ERR_SHOW;
    }
    uint32_t lead = lead_of(engine, change);
    SET_INSIDE(engine, 1);
    catch_up(engine, segment, lead);
    uint8_t fits = (uint8_t)(FIELDS(engine) == NULL || FIELDS(engine)->fits(engine, segment, look));
    if (fits) {
        layer_fill(engine, segment, &segment->layer[segment->order[segment->count]], look, lead);
        show_slot(engine, segment, change, lead);
    }
    SET_INSIDE(engine, 0);
    return fits ? GLANZ_OK : GLANZ_ERR_MEMORY;
}

glanz_status glanz_engine_set(struct glanz_engine *engine, uint8_t index, struct glanz_setting setting,
                              struct glanz_change change) {
    struct segment *segment = segment_of(engine, index);
    if (engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (segment == NULL) {
        return GLANZ_ERR_ABSENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_ORDER;
    }
    uint32_t lead = lead_of(engine, change);
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
    if (segment->waiting) {
        wanted->target[setting.param] = setting.number;
        wanted->unit[setting.param] = unit;
        glanz_layer_settle(engine, wanted);
        return GLANZ_OK;
    }
    struct layer *fresh = &segment->layer[segment->order[segment->count]];
    *fresh = *wanted;
#if GLANZ_FIELDS
    fresh->now.memory = NULL;
    fresh->now.room = 0;
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

glanz_status glanz_engine_brightness(struct glanz_engine *engine, uint8_t index, uint16_t lightness,
                                     struct glanz_change change) {
    if (engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    struct segment *segment = segment_of(engine, index);
    if (segment == NULL && index != GLANZ_ALL) {
        return GLANZ_ERR_ABSENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_ORDER;
    }
    glanz_ramp_to(segment == NULL ? &engine->brightness : &segment->brightness, lightness, change.over_ms,
                  lead_of(engine, change));
    if (segment != NULL) {
        segment->stale = 1;
    }
    engine->dirty = 1;
    return GLANZ_OK;
}

glanz_status glanz_engine_switch(struct glanz_engine *engine, uint8_t index, uint8_t on, struct glanz_change change) {
    struct segment *segment = segment_of(engine, index);
    if (engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (segment == NULL) {
        return GLANZ_ERR_ABSENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_ORDER;
    }
    segment->on = on != 0;
    glanz_ramp_to(&segment->presence, on ? 65535 : 0, change.over_ms, lead_of(engine, change));
    segment->stale = 1;
    engine->dirty = 1;
    return GLANZ_OK;
}

glanz_status glanz_engine_showing(struct glanz_showing *showing, const struct glanz_engine *engine, uint8_t index) {
    if (showing == NULL || engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (index >= engine->segment_count) {
        return GLANZ_ERR_ABSENT;
    }
    const struct segment *segment = &engine->segments[index];
    const struct layer *layer = &segment->layer[segment->order[segment->waiting ? segment->count : segment->count - 1]];
    memset(showing, 0, sizeof *showing);
    showing->name = layer->name;
    showing->effect = layer->effect;
    showing->gradient = layer->now.gradient;
    showing->content = layer->now.content;
    memcpy(showing->number, layer->target, sizeof showing->number);
    memcpy(showing->unit, layer->unit, sizeof showing->unit);
    showing->look_brightness = layer->brightness;
    showing->brightness = segment->brightness.to;
    showing->on = segment->on;
    showing->fading = segment->count;
    return GLANZ_OK;
}

uint16_t glanz_engine_lightness(const struct glanz_engine *engine) {
    return engine == NULL ? 0 : glanz_ramp_now(&engine->brightness);
}

/* ---- a show's segments ---- */

static uint16_t full_if_none(uint16_t level) {
    return level == 0 ? 65535 : level;
}

static void lay_segment(const struct glanz_engine *engine, struct segment *segment, GLANZ_CONST struct glanz_segment *is,
                        struct glanz_change change) {
    GLANZ_CONST struct glanz_surface *surface = &engine->rig->surfaces[is->surface];
    segment->is = is;
    segment->surface = is->surface;
    if (FIELDS(engine) != NULL) {
        FIELDS(engine)->lay(segment, surface);
    } else {
        uint16_t leds = glanz_surface_leds(surface);
        segment->first = is->cut.first;
        segment->leds = is->cut.leds == 0 ? (uint16_t)(leds - is->cut.first) : is->cut.leds;
        segment->length = glanz_cut_length(&is->cut, segment->leds);
        segment->closed = surface->kind == GLANZ_SURFACE_RING && segment->leds == leds && !is->cut.mirrored;
#if GLANZ_FIELDS
        segment->field.line = 1;
        segment->field.columns = segment->length;
        segment->field.rows = 1;
        segment->field.partly = is->cut.stencil[0] != 0;
#endif
    }
    if (segment->cover.to != full_if_none(is->opacity)) {
        glanz_ramp_to(&segment->cover, full_if_none(is->opacity), change.over_ms, lead_of(engine, change));
        segment->stale = 1;
    }
}

static void begin_segment(struct glanz_engine *engine, struct segment *segment, GLANZ_CONST struct glanz_segment *is) {
    struct glanz_change at_once = {0, 0, 0};
    memset(segment, 0, sizeof *segment);
    lay_segment(engine, segment, is, at_once);
    for (uint8_t i = 0; i < LAYERS; i++) {
        segment->order[i] = i;
    }
    segment->count = 1;
    segment->leaving = NONE;
    segment->stale = 1;
    segment->on = !is->off;
    segment->presence.to = is->off ? 0 : 65535;
    segment->presence.from = segment->presence.to;
    segment->brightness.to = full_if_none(is->brightness);
    segment->brightness.from = segment->brightness.to;
    layer_fill(engine, segment, &segment->layer[0], is->look, 0);
    remember_newest(engine, segment);
}

/* Check what is lent, and note it. */
static glanz_status lend(struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segments, GLANZ_CONST uint8_t *stack,
                         uint8_t count, GLANZ_CONST struct glanz_named_color *names, uint16_t name_count,
                         struct glanz_fault *fault) {
    if (engine == NULL || (segments == NULL && count != 0) || (names == NULL && name_count != 0)) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_ORDER;
    }
    GLANZ_CONST struct glanz_checks_part *checks = engine->parts->checks;
    if (count > engine->segment_room) {
        if (checks != NULL) {
            checks->count(fault, GLANZ_TEXT("segments"), count, engine->segment_room);
        }
        if (fault != NULL) {
            fault->needed = glanz_engine_size(engine->rig, count);
        }
        return GLANZ_ERR_MEMORY;
    }
    glanz_status status = checks == NULL ? GLANZ_OK : checks->segments(segments, stack, count, engine->rig, fault);
    if (status == GLANZ_OK) {
        engine->stack = stack;
        engine->names = names;
        engine->name_count = name_count;
    }
    return status;
}

glanz_status glanz_engine_begin(struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segments,
                                GLANZ_CONST uint8_t *stack, uint8_t count, GLANZ_CONST struct glanz_named_color *names,
                                uint16_t name_count, struct glanz_fault *fault) {
    glanz_status status = lend(engine, segments, stack, count, names, name_count, fault);
    if (status != GLANZ_OK) {
        return status;
    }
    SET_INSIDE(engine, 1);
    for (uint8_t i = 0; i < count; i++) {
        begin_segment(engine, &engine->segments[i], &segments[i]);
    }
    SET_INSIDE(engine, 0);
    engine->segment_count = count;
    engine->dirty = 1;
    return GLANZ_OK;
}

static int same_place(const struct segment *segment, GLANZ_CONST struct glanz_segment *is,
                      GLANZ_CONST struct glanz_segment *was) {
    return is->name != NULL && glanz_name_equal(is->name, was->name) && is->surface == was->surface &&
           is->cut.first == was->cut.first && is->cut.leds == was->cut.leds && is->cut.grain == was->cut.grain &&
#if GLANZ_FIELDS
           is->cut.lie == was->cut.lie && is->cut.turned == was->cut.turned && is->cut.piece == was->cut.piece &&
           is->cut.left == was->cut.left && is->cut.top == was->cut.top && is->cut.columns == was->cut.columns &&
           is->cut.rows == was->cut.rows &&
#endif
           is->cut.mirrored == was->cut.mirrored && segment->leds != 0;
}

uint8_t glanz_engine_place(const struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segment) {
    for (uint8_t old = 0; engine != NULL && segment != NULL && old < engine->segment_count; old++) {
        if (same_place(&engine->segments[old], segment, engine->segments[old].is)) {
            return old;
        }
    }
    return GLANZ_ALL;
}

/* Bring a segment that stays to its new index by a swap, or begin it. `is` still tells the old. */
static void place_segment(struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segments, uint8_t i,
                          struct glanz_change change) {
    uint8_t found_at = NONE;
    for (uint8_t old = i; old < engine->segment_count; old++) {
        if (same_place(&engine->segments[old], &segments[i], engine->segments[old].is)) {
            found_at = old;
            break;
        }
    }
    if (found_at == NONE) {
        if (i < engine->segment_count && engine->segment_count < engine->segment_room) {
            engine->segments[engine->segment_count++] = engine->segments[i]; /* it may be wanted further on */
        }
        begin_segment(engine, &engine->segments[i], &segments[i]);
        engine->segments[i].is = &segments[i];
        if (i >= engine->segment_count) {
            engine->segment_count = (uint8_t)(i + 1);
        }
        return;
    }
    if (found_at != i) {
        struct segment *a = &engine->segments[i];
        struct segment *b = &engine->segments[found_at];
        uint8_t *left = (uint8_t *)a;
        uint8_t *right = (uint8_t *)b;
        for (size_t byte = 0; byte < sizeof *a; byte++) {
            uint8_t held = left[byte];
            left[byte] = right[byte];
            right[byte] = held;
        }
    }
    lay_segment(engine, &engine->segments[i], &segments[i], change);
}
glanz_status glanz_engine_take(struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segments,
                               GLANZ_CONST uint8_t *stack, uint8_t count, GLANZ_CONST struct glanz_named_color *names,
                               uint16_t name_count, struct glanz_change change, struct glanz_fault *fault) {
    glanz_status status = lend(engine, segments, stack, count, names, name_count, fault);
    if (status != GLANZ_OK) {
        return status;
    }
    SET_INSIDE(engine, 1);
    for (uint8_t i = 0; i < count; i++) {
        place_segment(engine, segments, i, change);
    }
    SET_INSIDE(engine, 0);
    engine->segment_count = count;
    engine->dirty = 1;
    return GLANZ_OK;
}

int glanz_engine_uses(const struct glanz_engine *engine, const void *memory, size_t size) {
    if (engine == NULL || memory == NULL) {
        return 0;
    }
    if (glanz_inside(engine->stack, memory, size) || glanz_inside(engine->names, memory, size)) {
        return 1;
    }
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        const struct segment *segment = &engine->segments[s];
        uint8_t slots = (uint8_t)(segment->count + (segment->waiting ? 1 : 0));
        if (glanz_inside(segment->is, memory, size)) {
            return 1;
        }
        for (uint8_t i = 0; i < slots; i++) {
            const struct layer *layer = &segment->layer[segment->order[i]];
            if (glanz_inside(layer->name, memory, size) || glanz_inside(layer->effect, memory, size) ||
                glanz_inside(layer->now.gradient, memory, size) || glanz_inside(layer->now.content, memory, size)) {
                return 1;
            }
        }
    }
    return 0;
}
