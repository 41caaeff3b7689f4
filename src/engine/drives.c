/* SPDX-License-Identifier: MIT */
/* Drives: what signals lay over the numbers of looks. Each drive that shows has one state, on however many segments: how much
 * of its way is done. It follows its signal at the exact times at which that changes, so that it comes alike at any frame rate.
 */
#include <string.h>

#include "state.h"

#if GLANZ_DRIVES_MOST > 0

#define FINE GLANZ_APPROACH_FINE

/* ---- how far a drive wants to be ---- */

static uint32_t curved(GLANZ_CONST struct glanz_drive *drive, uint32_t way) {
    if (way > 65535u) {
        return way;
    }
    uint32_t square = way * way; /* 0.32 */
    switch (drive->curve) {
    case GLANZ_CURVE_GENTLE:
        return glanz_mul32_high(square, (196608u - 2u * way) << 14) >> 14; /* 3f^2 - 2f^3, exact: it never falls */
    case GLANZ_CURVE_LATE: return square >> 16;
    case GLANZ_CURVE_EARLY: return 65536u - (((65536u - way) >> 1) * ((65536u - way) >> 1) >> 14);
    case GLANZ_CURVE_STEPS: return glanz_ratio((way * drive->steps) >> 16, drive->steps - 1u);
    default: return way;
    }
}

/* The middle holds for a while. @param rest below 65536. */
static uint32_t rested(uint32_t way, uint32_t rest) {
    uint32_t side = (65536u - rest) / 2u;
    if (way < side) {
        return glanz_ratio(way, side) >> 1;
    }
    return way <= 65536u - side ? 32768u : 32768u + (glanz_ratio(way - (65536u - side), side) >> 1);
}

static uint32_t wanted(const struct glanz_engine *engine, GLANZ_CONST struct glanz_drive *drive) {
    uint32_t way = GLANZ_LEVEL_OF(engine->levels[drive->signal]);
    if (drive->end != 0) {
        way = way <= drive->begin ? 0 : glanz_ratio(way - drive->begin, drive->end - drive->begin);
    }
    if (drive->rest != 0) {
        way = rested(way, drive->rest);
    }
    return drive->curve == GLANZ_CURVE_STRAIGHT ? way : curved(drive, way);
}

/* ---- states ---- */

/* Where its signal has it go from now on. */
static void renew(struct drive_state *state, const struct glanz_engine *engine) {
    GLANZ_CONST struct glanz_drive *drive = state->of;
    state->renew = 0;
    state->turns = (engine->levels[drive->signal] & GLANZ_LEVEL_TURN) != 0 && drive->end == 0 && drive->rest == 0 &&
                   drive->curve == GLANZ_CURVE_STRAIGHT;
    state->target = wanted(engine, drive) * FINE;
}

/* One way in one time. @return its mean, 0 to 65536. */
static uint32_t approach(struct drive_state *state, struct glanz_engine *engine, uint32_t target, uint32_t elapsed) {
    uint32_t mean;
    int rises = glanz_approach_rises(state->done, target, state->turns);
    state->done = glanz_approach(&mean, &engine->decay[rises], state->done, target, elapsed,
                                 rises ? state->rise_ms : state->fall_ms, state->turns);
    return mean / FINE;
}

/* A state goes on to a time within the frame, towards what its signal wanted until then. */
static void advance(struct drive_state *state, struct glanz_engine *engine, uint32_t to_us) {
    uint32_t ticks = ((to_us >> 4) - (state->at_us >> 4)) & 0x0FFFFFFFu; /* whole 16 us: sums of parts are exact */
    uint32_t mean = approach(state, engine, state->target, to_us - state->at_us);
    state->at_us = to_us;
    state->mean = glanz_plus(state->mean, mean * (ticks > 32767u ? 32767u : ticks));
}

/* Is a state of a look that is the newest of its segment, or of any? */
static int is_used(const struct glanz_engine *engine, const struct drive_state *state, int by_newest) {
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        const struct segment *segment = &engine->segments[s];
        for (uint8_t i = by_newest ? (uint8_t)(segment->count - 1u) : 0; i < segment->count; i++) {
            const struct layer *layer = segment->order[i];
            if (layer->drive_count != 0 && state->of >= layer->drives && state->of < layer->drives + layer->drive_count) {
                return 1;
            }
        }
    }
    return 0;
}

/* A state for a drive of a look that comes in: a free one, else that of a look that fades out, whose numbers stay from then on.
 */
static struct drive_state *take(struct glanz_engine *engine, GLANZ_CONST struct glanz_drive *drive) {
    struct drive_state *free = NULL;
    for (uint8_t pass = 0; pass < 2 && free == NULL; pass++) {
        for (uint8_t i = 0; i < GLANZ_DRIVES_MOST && free == NULL; i++) {
            free = is_used(engine, &engine->drives[i], pass) ? NULL : &engine->drives[i];
        }
    }
    if (free != NULL) {
        memset(free, 0, sizeof *free);
        free->of = drive;
        free->signal = drive->signal;
        free->rise_ms = drive->rise_ms;
        free->fall_ms = drive->fall_ms;
        renew(free, engine);
        free->done = free->target;
        free->mean = free->done / FINE;
        free->fresh = 1;
    }
    return free;
}

/* @param newest whether it may take one that nobody needs. @return NULL: there is none. */
static struct drive_state *find(struct glanz_engine *engine, uint8_t *hint, GLANZ_CONST struct glanz_drive *drive, int newest) {
    if (engine->drives[*hint].of == drive) {
        return &engine->drives[*hint];
    }
    struct drive_state *state = NULL;
    for (uint8_t i = 0; i < GLANZ_DRIVES_MOST && state == NULL; i++) {
        state = engine->drives[i].of == drive ? &engine->drives[i] : NULL;
    }
    state = state == NULL && newest ? take(engine, drive) : state;
    *hint = state == NULL ? 0 : (uint8_t)(state - engine->drives);
    return state;
}

/* ---- numbers ---- */

static int32_t number_at(GLANZ_CONST struct glanz_drive *drive, uint32_t done) {
    uint32_t way =
        drive->to > drive->from ? (uint32_t)drive->to - (uint32_t)drive->from : (uint32_t)drive->from - (uint32_t)drive->to;
    uint32_t gone = glanz_times(way, done);
    return (int32_t)(drive->to > drive->from ? (uint32_t)drive->from + gone : (uint32_t)drive->from - gone);
}

static glanz_color named(const struct glanz_engine *engine, int32_t number) {
    glanz_color color = (glanz_color)number;
    uint16_t index = (uint16_t)color;
    return (color >> 24) == 3 && index < engine->name_count ? engine->names[index].color : color;
}

static struct glanz_light light_of(const struct glanz_engine *engine, glanz_color color) {
    return engine->parts->colors->light(color, engine->names, engine->name_count);
}

/* A field of a colour given as HSL, so far on the way. @param part 0 to 65536. */
static uint32_t hsl_field(glanz_color from, glanz_color to, uint8_t shift, uint32_t mask, uint32_t part) {
    uint32_t a = (from >> shift) & mask;
    uint32_t b = (to >> shift) & mask;
    return (b > a ? a + (((b - a) * part + 32768u) >> 16) : a - (((a - b) * part + 32768u) >> 16)) << shift;
}

static glanz_color hsl_at(glanz_color from, glanz_color to, uint32_t part) {
    return (glanz_color)2 << 24 | hsl_field(from, to, 14, 0x1FFu, part) | hsl_field(from, to, 7, 0x7Fu, part) |
           hsl_field(from, to, 0, 0x7Fu, part);
}

/* Two colours given as HSL go by their numbers, in steps of a degree with light between them; others straight in light. */
static struct glanz_light color_at(const struct glanz_engine *engine, GLANZ_CONST struct glanz_drive *drive, uint32_t done) {
    glanz_color from = named(engine, drive->from);
    glanz_color to = named(engine, drive->to);
    if ((from >> 24) != 2 || (to >> 24) != 2) {
        return glanz_light_mix(light_of(engine, from), light_of(engine, to), done);
    }
    uint32_t hue = (from >> 14) & 0x1FFu;
    uint32_t hue_to = (to >> 14) & 0x1FFu;
    uint32_t way = hue > hue_to ? hue - hue_to : hue_to - hue;
    uint32_t parts = way > 100u ? way : 100u; /* no field goes by more than one in each */
    uint32_t at = done * parts;               /* 16.16 */
    uint32_t each = 0xFFFFFFFFu / parts;      /* 2^32ths of the way, a little less */
    uint32_t part = ((at >> 16) * each + 65535u) >> 16;
    struct glanz_light light = light_of(engine, hsl_at(from, to, part));
    return done > 65535u ? light
                         : glanz_light_mix(light, light_of(engine, hsl_at(from, to, part + (each >> 16) + 1u)), at & 0xFFFFu);
}

/* Laps a microsecond at a rate. */
static int64_t pace_of(struct driven *driven, struct layer *layer, uint8_t unit, int32_t rate) {
    if (driven->unit == 0) {
        layer->rate = 65536;
        layer->rate_unit = unit;
        driven->unit = glanz_layer_pace(layer);
        driven->unit = driven->unit > (int64_t)1 << 42 ? (int64_t)1 << 42 : driven->unit; /* beyond anything that can be seen */
    }
    uint32_t size = rate < 0 ? 0u - (uint32_t)rate : (uint32_t)rate;
    uint64_t pace = ((uint64_t)driven->unit * (size >> 8)) >> 8; /* below 2^43 times 2^22 */
    return rate < 0 ? -(int64_t)pace : (int64_t)pace;
}

/* The number of a drive into the look as its effect sees it. @return enum changed. */
static uint8_t lay(const struct glanz_engine *engine, struct layer *layer, GLANZ_CONST struct glanz_drive *drive,
                   const struct drive_state *state) {
    uint32_t done = state->done / FINE;
    if (drive->param == GLANZ_DRIVE_BRIGHTNESS) {
        layer->brightness = (uint16_t)number_at(drive, done);
        return CHANGED_NUMBERS;
    }
    GLANZ_CONST struct glanz_param *param = &layer->effect->params[drive->param];
    uint8_t unit = drive->unit == GLANZ_UNIT_NONE ? param->unit : drive->unit;
    if (param->kind == GLANZ_PARAM_COLOR) {
        uint8_t rank = 0;
        for (uint8_t i = 0; i < drive->param; i++) {
            rank = (uint8_t)(rank + (layer->effect->params[i].kind == GLANZ_PARAM_COLOR));
        }
        if (rank < GLANZ_COLORS) {
            layer->frame.color[rank] = color_at(engine, drive, done);
        }
        return CHANGED_NUMBERS;
    }
    int32_t number = glanz_number_seen(param, number_at(drive, done), unit, layer->frame.length);
    number = param->kind == GLANZ_PARAM_TURN ? (int32_t)((uint32_t)number & 0xFFFFu) : number;
    int same = layer->frame.number[drive->param] == number;
    layer->frame.number[drive->param] = number;
    return same ? 0 : param->kind != GLANZ_PARAM_RATE && layer->effect->pass != NULL ? CHANGED_ALL : CHANGED_NUMBERS;
}

/* A rate turns the phase by its mean over the frame. */
static void lay_rate(struct layer *layer, struct driven *driven, GLANZ_CONST struct glanz_drive *drive,
                     const struct drive_state *state) {
    GLANZ_CONST struct glanz_param *param = &layer->effect->params[drive->param];
    uint8_t unit = drive->unit == GLANZ_UNIT_NONE ? param->unit : drive->unit;
    if ((layer->changed & CHANGED_PACE) != 0) {
        driven->unit = 0;
    }
    driven->pace = pace_of(driven, layer, unit, number_at(drive, state->mean));
    layer->rate = number_at(drive, state->done / FINE);
    layer->rate_unit = unit;
    layer->paced = 1;
    if (!layer->jumps) {
        layer->pace = driven->pace;
    }
}

static int is_rate(const struct layer *layer, GLANZ_CONST struct glanz_drive *drive) {
    return drive->param != GLANZ_DRIVE_BRIGHTNESS && layer->effect->params[drive->param].kind == GLANZ_PARAM_RATE;
}

/* The middle of two ways; of two angles on the shorter one. */
static uint32_t middle(uint32_t a, uint32_t b, uint8_t turns) {
    if (!turns) {
        return a / 2u + b / 2u;
    }
    uint32_t up = (b - a) & (65536u * FINE - 1u);
    return (up < 32768u * FINE ? a + up / 2u : b + (65536u * FINE - up) / 2u) & (65536u * FINE - 1u);
}

/* The state at the end of this frame, and its mean over it. */
static void finish(struct drive_state *state, struct glanz_engine *engine, uint32_t elapsed) {
    uint32_t now = (uint32_t)engine->clock;
    uint8_t even = (engine->levels[state->signal] & LEVEL_EVEN) != 0 && !state->summed;
    if (state->moves == 0 && !even) {
        state->mean = state->done / FINE;
        return;
    }
    if (state->at_us == now && !state->summed && !state->fresh) { /* another segment asked already */
        engine->drives_awake = (uint8_t)(engine->drives_awake | state->moves << 1);
        return;
    }
    uint8_t moved = state->moves;
    uint32_t before = state->target;
    if (state->renew || even) {
        renew(state, engine);
    }
    if (!state->summed) { /* all of the frame at once */
        uint32_t target = even ? middle(before, state->target, state->turns) : state->target;
        state->mean = approach(state, engine, target, elapsed);
        state->done = state->done == target ? state->target : state->done; /* no half-life: it is where the signal is */
        state->at_us = now;
    } else {
        advance(state, engine, now);
        uint32_t ticks = ((now >> 4) - ((now - elapsed) >> 4)) & 0x0FFFFFFFu;
        state->mean = ticks == 0 || ticks > 32767u ? state->done / FINE : state->mean / ticks;
        state->mean = state->mean > 65536u ? 65536u : state->mean;
    }
    state->summed = 0;
    state->fresh = 0;
    state->moves = state->done != state->target || before != state->target;
    /* the frame after it has come to rest is the first with its last number as its mean */
    engine->drives_awake = (uint8_t)(engine->drives_awake | (state->moves | moved) << 1);
}

static uint8_t apply(struct glanz_engine *engine, struct segment *segment, struct layer *layer, uint32_t elapsed,
                     uint8_t gliding) {
    if (layer->drive_count == 0 || ((engine->drives_awake & 1u) == 0 && !gliding && layer->changed == 0)) {
        return 0;
    }
    struct driven *driven = &engine->driven[layer - engine->layers];
    int newest = segment->order[segment->count - 1] == layer;
    GLANZ_CONST struct glanz_effect *effect = layer->effect;
#if GLANZ_GLIDES
    int anchored = effect->anchor != NULL && GLIDES(engine) != NULL;
    glanz_place before = anchored ? effect->pass(&layer->frame) : 0;
#endif
    uint8_t moves = layer->changed;
    for (uint8_t i = 0; i < layer->drive_count; i++) {
        GLANZ_CONST struct glanz_drive *drive = &layer->drives[i];
        struct drive_state *state = find(engine, &driven->state[i], drive, newest);
        if (state != NULL) {
            finish(state, engine, elapsed);
            moves |= state->moves;
            layer->changed = (uint8_t)(layer->changed | lay(engine, layer, drive, state));
        }
    }
#if GLANZ_GLIDES
    if (anchored) {
        GLIDES(engine)->anchor(layer, before);
    }
#endif
    for (uint8_t i = 0; i < layer->drive_count; i++) { /* with the pass that the numbers give */
        GLANZ_CONST struct glanz_drive *drive = &layer->drives[i];
        if (is_rate(layer, drive) && engine->drives[driven->state[i]].of == drive) {
            lay_rate(layer, driven, drive, &engine->drives[driven->state[i]]);
        }
    }
    return moves || layer->changed != 0;
}

static void follow(struct glanz_engine *engine, uint8_t signal, uint32_t lead) {
    uint32_t now = (uint32_t)engine->clock;
    for (uint8_t i = 0; i < GLANZ_DRIVES_MOST; i++) {
        struct drive_state *state = &engine->drives[i];
        if (state->of == NULL || state->signal != signal) {
            continue;
        }
        if (state->renew) { /* the second change in a frame: what it was told then is to be known */
            if (!is_used(engine, state, 0)) {
                state->of = NULL;
                continue;
            }
            renew(state, engine);
        }
        if (!state->summed) { /* it begins with this frame */
            state->at_us = now;
            state->mean = 0;
            state->summed = 1;
        }
        if ((int32_t)(now + lead - state->at_us) > 0) {
            advance(state, engine, now + lead);
        }
        state->renew = 1;
        state->moves = 1;
        engine->drives_awake |= 2u;
    }
}

/* A signal is told for the first time: what follows it begins there. */
static void set(struct glanz_engine *engine, uint8_t signal) {
    for (uint8_t i = 0; i < GLANZ_DRIVES_MOST; i++) {
        struct drive_state *state = &engine->drives[i];
        if (state->of != NULL && state->signal == signal && is_used(engine, state, 0)) {
            renew(state, engine);
            state->done = state->target;
            engine->drives_awake |= 2u;
        }
    }
}

/* The layer has none yet, so that what another look had, perhaps at the same place of memory, is gone for good. */
static void begin(struct glanz_engine *engine, struct layer *layer, const struct asked *asked) {
    engine->drives_awake |= 2u;
    for (uint8_t i = 0; i < GLANZ_DRIVES_MOST; i++) {
        if (engine->drives[i].of != NULL && !is_used(engine, &engine->drives[i], 0)) {
            engine->drives[i].of = NULL;
        }
    }
    layer->drives = asked->drives;
    layer->drive_count = asked->drive_count;
}

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

static size_t levels_bytes(GLANZ_CONST struct glanz_rig *rig) {
    return align8(sizeof(uint32_t) * ((size_t)rig->input_count + GLANZ_SIGNALS_MOST));
}

static size_t size(GLANZ_CONST struct glanz_rig *rig, uint8_t layers) {
    return levels_bytes(rig) + align8(sizeof(struct drive_state) * GLANZ_DRIVES_MOST) + align8(sizeof(struct driven) * layers);
}

static void start(struct glanz_engine *engine) {
    uint8_t *at = (uint8_t *)engine->levels + levels_bytes(engine->rig);
    engine->level_count = (uint16_t)(engine->rig->input_count + GLANZ_SIGNALS_MOST);
    engine->drive_calls = engine->parts->drives->calls;
    engine->drives = (struct drive_state *)(void *)at;
    engine->driven = (struct driven *)(void *)(at + align8(sizeof(struct drive_state) * GLANZ_DRIVES_MOST));
}

static GLANZ_CONST struct glanz_drives_calls calls = {size, start, apply, begin, follow, set};
GLANZ_CONST struct glanz_drives_part glanz_part_drives = {&calls, glanz_engine_level};

#endif
