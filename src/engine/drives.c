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
    state->turns = (drive->round || (engine->levels[drive->signal] & GLANZ_LEVEL_TURN) != 0) && drive->end == 0 &&
                   drive->rest == 0 && drive->curve == GLANZ_CURVE_STRAIGHT;
    state->target = wanted(engine, drive) * FINE;
    state->target &= state->turns ? 65536u * FINE - 1u : 0xFFFFFFFFu; /* full is where it begins */
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
    if (state->of == engine->whole && state->of != NULL) {
        return 1;
    }
    for (uint8_t s = 0; s < engine->segment_count; s++) {
        const struct segment *segment = &engine->segments[s];
        GLANZ_CONST struct glanz_segment *is = segment->is;
        if (is->drive_count != 0 && state->of >= is->drives && state->of < is->drives + is->drive_count) {
            return 1;
        }
        for (uint8_t i = by_newest ? (uint8_t)(segment->count - 1u) : 0; i < segment->count; i++) {
            const struct layer *layer = segment->order[i];
            if (layer->drive_count != 0 && state->of >= layer->drives && state->of < layer->drives + layer->drive_count) {
                return 1;
            }
        }
    }
    return 0;
}

/* States that nothing has any more. */
static void forget(struct glanz_engine *engine) {
    engine->drives_awake |= 2u;
    for (uint8_t i = 0; i < GLANZ_DRIVES_MOST; i++) {
        if (engine->drives[i].of != NULL && !is_used(engine, &engine->drives[i], 0)) {
            engine->drives[i].of = NULL;
            engine->drives[i].at_us = (uint32_t)engine->clock; /* a look that comes now may go on from there */
        }
    }
}

static uint16_t kind_of(GLANZ_CONST struct glanz_drive *drive) {
    uint32_t kind = (uint32_t)drive->param << 24 | (uint32_t)drive->signal << 16 | (uint32_t)drive->curve << 8 | drive->steps;
    return (uint16_t)(glanz_hash2(glanz_hash2(kind, drive->begin), drive->end + drive->rest * 65537u) >> 16);
}

/* The way that a drive has done which follows the same alike: of a look that is there, or was until now. @return 0: none. */
static int find_alike(uint32_t *done, const struct glanz_engine *engine, uint16_t kind) {
    for (uint8_t i = 0; i < GLANZ_DRIVES_MOST; i++) {
        const struct drive_state *state = &engine->drives[i];
        if (state->kind == kind && (state->of != NULL || (uint32_t)engine->clock - state->at_us < 250000u)) {
            *done = state->done;
            return 1;
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
        uint32_t done = 0;
        uint16_t kind = kind_of(drive);
        int alike = find_alike(&done, engine, kind);
        memset(free, 0, sizeof *free);
        free->of = drive;
        free->kind = kind;
        free->signal = drive->signal;
        free->rise_ms = drive->rise_ms;
        free->fall_ms = drive->fall_ms;
        renew(free, engine);
        free->done = alike ? done : free->target;
        free->moves = free->done != free->target;
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

/* ---- looks ---- */

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

/* Does a hand still hold a number against its drive? */
static int is_held(struct layer *layer, struct driven *driven, uint8_t index, const struct drive_state *state) {
    uint16_t bit = (uint16_t)(1u << index);
    uint16_t at = (uint16_t)(state->target / (2u * FINE)); /* of 32768: its ends are within 16 bits */
    if ((layer->held & bit) == 0) {
        return 0;
    }
    if ((driven->noted & bit) == 0) {
        driven->noted |= bit;
        driven->held_at[index] = at;
    }
    uint16_t moved =
        at > driven->held_at[index] ? (uint16_t)(at - driven->held_at[index]) : (uint16_t)(driven->held_at[index] - at);
    moved = state->turns && moved > 16384u ? (uint16_t)(32768u - moved) : moved;
    if (layer->drives[index].yields == GLANZ_YIELD_UNTIL_HANDED_BACK || moved <= 655u || layer->returning != 0) {
        return 1; /* those that come back do so one after another */
    }
    layer->held = (uint16_t)(layer->held & ~bit);
    layer->returning |= bit;
    return 0;
}

/* How much of a drive is seen: all, or what has come back of it since a hand has let go. */
static uint32_t part_of(const struct layer *layer, const struct driven *driven, uint8_t index) {
    return (layer->returning >> index & 1u) == 0 ? 65536u : glanz_timer_part(&driven->back);
}

/* Numbers that come back to their drives go on doing so. @return 1 while they do. */
static uint8_t advance_back(struct layer *layer, struct driven *driven, uint16_t before, uint32_t elapsed) {
    if (layer->returning == 0) {
        return 0;
    }
    if (before == 0) { /* it begins */
        driven->back = glanz_timer_of(GLANZ_YIELD_BACK_MS, 0);
    } else {
        glanz_timer_advance(&driven->back, elapsed);
    }
    if (glanz_timer_part(&driven->back) > 65535u) {
        driven->noted = (uint16_t)(driven->noted & ~layer->returning);
        layer->returning = 0;
        return 0;
    }
    return 1;
}

static uint8_t apply(struct glanz_engine *engine, struct segment *segment, struct layer *layer, uint32_t elapsed,
                     uint8_t gliding) {
    if (layer->drive_count == 0 || ((engine->drives_awake & 1u) == 0 && !gliding && layer->changed == 0)) {
        return 0;
    }
    struct driven *driven = &engine->driven[layer - engine->layers];
    int newest = segment->order[segment->count - 1] == layer;
#if GLANZ_GLIDES
    int anchored = layer->effect->anchor != NULL && GLIDES(engine) != NULL;
    glanz_place before = anchored ? layer->effect->pass(&layer->frame) : 0;
#endif
    uint16_t returning = layer->returning;
    struct drive_state *states[GLANZ_DRIVES_EACH];
    uint8_t moves = layer->changed;
    for (uint8_t i = 0; i < layer->drive_count; i++) {
        states[i] = find(engine, &driven->state[i], &layer->drives[i], newest);
        if (states[i] != NULL) {
            finish(states[i], engine, elapsed);
            states[i] = is_held(layer, driven, i, states[i]) ? NULL : states[i];
        }
    }
    uint8_t backs = advance_back(layer, driven, returning, elapsed);
    engine->drives_awake = (uint8_t)(engine->drives_awake | backs << 1);
    layer->paced = 0;
    for (uint8_t i = 0; i < layer->drive_count; i++) {
        if (states[i] != NULL) {
            moves |= states[i]->moves;
            layer->changed = (uint8_t)(layer->changed | glanz_drive_lay(engine, segment, layer, &layer->drives[i], states[i],
                                                                        part_of(layer, driven, i), gliding));
        }
    }
#if GLANZ_GLIDES
    if (anchored) {
        GLIDES(engine)->anchor(layer, before);
    }
#endif
    for (uint8_t i = 0; i < layer->drive_count; i++) { /* with the pass that the numbers give */
        if (states[i] != NULL && is_rate(layer, &layer->drives[i])) {
            glanz_drive_lay_rate(engine, segment, layer, &layer->drives[i], states[i], part_of(layer, driven, i), gliding);
        }
    }
    return moves || backs || layer->changed != 0;
}

/* What a drive of no effect's parameter gives at the end of this frame. @param full where there was no room for it. */
static uint16_t given(struct glanz_engine *engine, GLANZ_CONST struct glanz_drive *drive, uint32_t elapsed, uint8_t *moves,
                      uint16_t full) {
    uint8_t hint = 0;
    struct drive_state *state = find(engine, &hint, drive, 1);
    if (state != NULL && (engine->drives_awake & 1u) != 0) {
        finish(state, engine, elapsed);
        *moves |= state->moves;
    }
    return state == NULL ? full : (uint16_t)glanz_drive_number(drive, state->done / FINE);
}

/* How much light a drive of a brightness or an opacity leaves, 0 to 65536. */
static uint32_t left_by(struct glanz_engine *engine, GLANZ_CONST struct glanz_drive *drive, uint32_t elapsed, uint8_t *moves) {
    uint16_t number = given(engine, drive, elapsed, moves, 65535u);
    return drive->param == GLANZ_DRIVE_OPACITY ? glanz_level_of_value(number) : glanz_lightness(number);
}

static uint8_t dim(struct glanz_engine *engine, struct segment *segment, uint32_t elapsed) {
    uint8_t moves = 0;
    if (segment == NULL) {
        uint32_t before = engine->whole_gain;
        engine->whole_gain = engine->whole == NULL ? 65536u : left_by(engine, engine->whole, elapsed, &moves);
        return moves || before != engine->whole_gain;
    }
    GLANZ_CONST struct glanz_segment *is = segment->is;
    uint32_t gain = glanz_ramp_gain(&segment->brightness);
    uint32_t cover = glanz_ramp_now(&segment->cover);
    uint32_t opacity = glanz_share_of(cover + (cover >> 15), glanz_ramp_gain(&segment->presence));
    for (uint8_t i = 0; i < is->drive_count; i++) {
#if GLANZ_FIELDS
        if (is->drives[i].param == GLANZ_DRIVE_BEARING) {
            uint16_t before = segment->field.bearing;
            segment->field.bearing = given(engine, &is->drives[i], elapsed, &moves, before);
            moves |= before != segment->field.bearing;
            continue;
        }
#endif
        uint32_t left = left_by(engine, &is->drives[i], elapsed, &moves);
        gain = is->drives[i].param == GLANZ_DRIVE_OPACITY ? gain : glanz_share_of(gain, left);
        opacity = is->drives[i].param == GLANZ_DRIVE_OPACITY ? glanz_share_of(opacity, left) : opacity;
    }
    moves = (uint8_t)(moves != 0 || gain != segment->gain || opacity != segment->opacity);
    segment->gain = gain;
    segment->opacity = opacity;
    return moves;
}

glanz_status glanz_engine_drive(struct glanz_engine *engine, GLANZ_CONST struct glanz_drive *drive) {
    if (engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (DRIVES(engine) == NULL) {
        return GLANZ_ERR_ABSENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_STATE;
    }
    engine->whole = NULL; /* what it had, perhaps at the same place of memory, is gone for good */
    forget(engine);
    engine->whole = drive;
    engine->dirty = 1;
    return GLANZ_OK;
}

/* A hand has set a parameter: a drive that yields holds still from now on. */
static void hold(struct asked *asked, uint8_t param) {
    for (uint8_t i = 0; i < asked->drive_count; i++) {
        if (asked->drives[i].param == param && asked->drives[i].yields != GLANZ_YIELD_NEVER) {
            asked->held |= (uint16_t)(1u << i);
        }
    }
}

static void let_go(struct glanz_engine *engine, struct layer *layer, uint16_t held) {
    uint16_t released = (uint16_t)(layer->held & ~held);
    layer->held = held;
    if (released != 0) { /* what comes back already begins anew from the hand's number, a little */
        layer->returning |= released;
        engine->driven[layer - engine->layers].back = glanz_timer_of(GLANZ_YIELD_BACK_MS, 0);
        engine->drives_awake |= 2u;
        engine->dirty = 1;
    }
}

glanz_status glanz_engine_release(struct glanz_engine *engine, uint8_t index) {
    struct segment *segment = glanz_segment_of(engine, index);
    glanz_status status = glanz_segment_ready(engine, segment);
    if (status != GLANZ_OK) {
        return status;
    }
    segment->asked.held = 0;
    if (DRIVES(engine) != NULL && !segment->waiting) {
        let_go(engine, segment->order[segment->count - 1], 0);
    }
    return GLANZ_OK;
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
    forget(engine);
    layer->drives = asked->drives;
    layer->drive_count = asked->drive_count;
    layer->held = asked->held;
    memset(&engine->driven[layer - engine->layers], 0, sizeof *engine->driven);
}

/* ---- memory ---- */

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

static size_t levels_bytes(GLANZ_CONST struct glanz_rig *rig) {
    size_t count = (size_t)rig->input_count + GLANZ_SIGNALS_MOST;
    return align8(sizeof(uint32_t) * count) + (GLANZ_FIELDS ? align8(sizeof(struct pulse) * count) : 0);
}

static size_t size(GLANZ_CONST struct glanz_rig *rig, uint8_t layers) {
    return levels_bytes(rig) + align8(sizeof(struct drive_state) * GLANZ_DRIVES_MOST) + align8(sizeof(struct driven) * layers);
}

static void start(struct glanz_engine *engine) {
    uint8_t *at = (uint8_t *)engine->levels + levels_bytes(engine->rig);
    engine->level_count = (uint16_t)(engine->rig->input_count + GLANZ_SIGNALS_MOST);
    engine->drive_calls = engine->parts->drives->calls;
    engine->whole_gain = 65536u;
#if GLANZ_FIELDS
    engine->pulses = (struct pulse *)(void *)((uint8_t *)engine->levels + align8(sizeof(uint32_t) * engine->level_count));
#endif
    engine->drives = (struct drive_state *)(void *)at;
    engine->driven = (struct driven *)(void *)(at + align8(sizeof(struct drive_state) * GLANZ_DRIVES_MOST));
}

static GLANZ_CONST struct glanz_drives_calls calls = {
#if GLANZ_FIELDS
    .pulse = glanz_pulse,
    .tell = glanz_pulse_tell,
#endif
    .size = size,
    .start = start,
    .apply = apply,
    .begin = begin,
    .follow = follow,
    .set = set,
    .let_go = let_go,
    .dim = dim,
    .hold = hold,
};
GLANZ_CONST struct glanz_drives_part glanz_part_drives = {&calls, glanz_engine_level, glanz_engine_release, glanz_engine_drive};

#endif
