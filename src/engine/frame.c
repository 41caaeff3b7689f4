/* SPDX-License-Identifier: MIT */
/* One frame: shade, compose, light, wire, run after run along each data line; and the strict current limit, for which a
 * frame is shaded again when the scale that the last one suggests turns out wrong. */
#include <string.h>

#include "current.h"
#include "state.h"

#define CLOCKED_BUFFERS 2
#define TRIES 10 /* passes over one frame, at the most, before the last that is sure to stand */

/* ---- memory ---- */

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

static uint32_t remainder_bytes(GLANZ_CONST struct glanz_output *output) {
    uint32_t bytes = 0;
    for (uint8_t i = 0; i < output->stretch_count; i++) {
        bytes += (uint32_t)output->stretches[i].leds * output->stretches[i].chip->channels;
    }
    return bytes;
}

static uint8_t buffers_of(GLANZ_CONST struct glanz_output *output) {
    return output->stretches[0].chip->protocol == GLANZ_CLOCKED ? CLOCKED_BUFFERS : output->buffers == 2 ? 2 : 1;
}

static size_t values_bytes(GLANZ_CONST struct glanz_rig *rig) {
#if GLANZ_FIELDS
    return align8(sizeof(uint16_t) * rig->input_count);
#else
    (void)rig;
    return 0;
#endif
}

size_t glanz_engine_size(GLANZ_CONST struct glanz_rig *rig, uint8_t segment_room) {
    if (rig == NULL || segment_room == 0 || rig->outputs == NULL) {
        return 0;
    }
    size_t size = align8(sizeof(struct glanz_engine)) + align8(sizeof(struct segment) * segment_room) + values_bytes(rig) +
                  align8(sizeof(struct output) * rig->output_count) + align8(sizeof(struct supply) * rig->supply_count);
    for (uint8_t i = 0; i < rig->output_count; i++) {
        size +=
            (size_t)(glanz_output_bytes(&rig->outputs[i]) * buffers_of(&rig->outputs[i]) + remainder_bytes(&rig->outputs[i]));
    }
    return align8(size);
}

glanz_status glanz_engine_start(struct glanz_engine **out, void *memory, size_t size, GLANZ_CONST struct glanz_rig *rig,
                                uint8_t segment_room, struct glanz_fault *fault) {
    if (out == NULL || memory == NULL || rig == NULL || segment_room == 0 || segment_room > GLANZ_SEGMENTS_MOST ||
        ((uintptr_t)memory & (sizeof(void *) - 1u)) != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_status status = glanz_rig_check(rig, fault);
    if (status != GLANZ_OK) {
        return status;
    }
    size_t needed = glanz_engine_size(rig, segment_room);
    if (size < needed) {
        return glanz_fault_memory(fault, GLANZ_TEXT("the engine"), needed, size);
    }
    memset(memory, 0, needed);
    uint8_t *at = (uint8_t *)memory;
    struct glanz_engine *engine = (struct glanz_engine *)(void *)at;
    at += align8(sizeof *engine);
    engine->segments = (struct segment *)(void *)at;
    at += align8(sizeof(struct segment) * segment_room);
    engine->outputs = (struct output *)(void *)at;
    at += align8(sizeof(struct output) * rig->output_count);
    engine->supplies = (struct supply *)(void *)at;
    at += align8(sizeof(struct supply) * rig->supply_count);
    engine->rig = rig;
    engine->segment_room = segment_room;
#if GLANZ_FIELDS
    engine->values = (uint16_t *)(void *)at;
    at += values_bytes(rig);
    engine->world.value = engine->values;
    engine->world.values = rig->input_count;
    engine->world.name = rig->input_count == 0 ? NULL : &rig->inputs->name;
    engine->world.name_step = sizeof *rig->inputs;
    engine->pool.bytes = (uint8_t *)memory + needed;
    engine->pool.size = (uint32_t)((size - needed) & ~(size_t)7u);
#endif
    for (uint8_t i = 0; i < rig->output_count; i++) {
        GLANZ_CONST struct glanz_output *is = &rig->outputs[i];
        struct output *output = &engine->outputs[i];
        output->size = glanz_output_bytes(is);
        for (uint8_t b = 0; b < 2; b++) {
            output->bytes[b] = at;
            if (b + 1 < buffers_of(is) || b == 1) {
                at += output->size;
            }
        }
        output->remainders = at;
        uint32_t remainders = remainder_bytes(is);
        for (uint32_t r = 0; r < remainders; r++) {
            output->remainders[r] = (uint8_t)(r * 157u); /* spreads the steps evenly over neighbours */
        }
        at += remainders;
        output->idle_ua = glanz_output_ua(is, 0);
    }
    for (uint8_t i = 0; i < rig->supply_count; i++) {
        engine->supplies[i].scale = 65536;
        engine->supplies[i].used = 65536;
    }
    engine->interval_us = 1000000u / (rig->frames_per_s == 0 ? 100u : rig->frames_per_s);
    engine->brightness.from = 65535;
    engine->brightness.to = 65535;
    engine->dither.open = rig->free_dither;
    engine->dirty = 1;
    *out = engine;
    return GLANZ_OK;
}

/* ---- compose ---- */

struct strip_run {    /* neighbouring LEDs of one surface, on the way along a data line */
    uint8_t surface;  /* NONE: LEDs that no surface has */
    uint8_t backward; /* 1: against the surface's own direction */
    uint16_t at;      /* the first LED's index on the surface */
    uint16_t leds;    /* until this changes */
    uint16_t before;  /* LEDs of the surface's pieces before this one */
    uint8_t piece;
};

/* Which part of which surface begins at a LED of an output, and how far it goes. */
static struct strip_run find_run(GLANZ_CONST struct glanz_rig *rig, uint8_t output, uint16_t led, uint16_t leds) {
    struct strip_run run = {NONE, 0, 0, (uint16_t)(leds - led), 0, 0};
    for (uint8_t s = 0; s < rig->surface_count; s++) {
        uint16_t before = 0;
        for (uint8_t p = 0; p < rig->surfaces[s].piece_count; p++) {
            GLANZ_CONST struct glanz_piece *piece = &rig->surfaces[s].pieces[p];
            if (piece->output == output) {
                if (led >= piece->first && led < piece->first + piece->leds) {
                    uint16_t into = (uint16_t)(led - piece->first);
                    run.surface = s;
                    run.backward = piece->reversed;
                    run.at = (uint16_t)(before + (piece->reversed ? piece->leds - 1 - into : into));
                    run.leds = (uint16_t)(piece->leds - into);
                    run.before = before;
                    run.piece = p;
                    return run;
                }
                if (piece->first > led && piece->first - led < run.leds) {
                    run.leds = (uint16_t)(piece->first - led);
                }
            }
            before = (uint16_t)(before + piece->leds);
        }
    }
    return run;
}

struct touching { /* segments over a stretch of a surface, bottom first */
    uint8_t segment[GLANZ_SEGMENTS_MOST];
    uint8_t count;
};

static int is_opaque(const struct segment *segment) {
#if GLANZ_FIELDS
    if (segment->field.partly || (segment->needs & GLANZ_NEEDS_COVER) != 0) {
        return 0;
    }
#endif
    return segment->is->blend == GLANZ_BLEND_COVER && segment->opacity == 65536u && segment->is->cut.stencil[0] == 0;
}

/* The segments that touch any of `count` LEDs of a strip run. */
static void find_near(struct touching *near, const struct glanz_engine *engine, const struct strip_run *run, uint8_t count) {
    uint32_t from = run->backward ? run->at + 1u - count : run->at;
    uint32_t to = from + count;
    near->count = 0;
    for (uint8_t i = 0; i < engine->segment_count; i++) {
        uint8_t index = engine->stack == NULL ? i : engine->stack[i];
        const struct segment *segment = &engine->segments[index];
        uint16_t first = segment->first;
        if (first < to && (uint32_t)first + segment->leds > from && segment->surface == run->surface && segment->opacity != 0) {
            near->segment[near->count++] = index;
        }
    }
}

/* Of those, the ones over the run's first LED, without what an opaque one hides.
 * @return for how many LEDs that stays so, at the most `count`. */
static uint8_t find_touching(struct touching *touching, const struct glanz_engine *engine, const struct touching *near,
                             const struct strip_run *run, uint8_t count) {
    touching->count = 0;
    for (uint8_t i = 0; i < near->count; i++) {
        const struct segment *segment = &engine->segments[near->segment[i]];
        uint16_t first = segment->first;
        uint16_t end = (uint16_t)(first + segment->leds);
        uint16_t edge;
        if (run->at >= first && run->at < end) {
            if (is_opaque(segment)) {
                touching->count = 0;
            }
            touching->segment[touching->count++] = near->segment[i];
            edge = run->backward ? (uint16_t)(run->at - first + 1) : (uint16_t)(end - run->at);
        } else if (run->backward ? run->at >= end : run->at < first) {
            edge = run->backward ? (uint16_t)(run->at - end + 1) : (uint16_t)(first - run->at);
        } else {
            continue;
        }
        count = (uint8_t)(edge < count ? edge : count);
    }
    return count;
}

/* Where the LEDs of a run stand in one segment. */
struct spots {
    const glanz_place *line; /* as effects for lines see them: x, or line_x */
    glanz_place x[GLANZ_RUN];
#if GLANZ_FIELDS
    glanz_place y[GLANZ_RUN];
    glanz_place line_x[GLANZ_RUN];
    uint16_t index[GLANZ_RUN];
#endif
    uint8_t taken[GLANZ_RUN];
};

static void fill_cover(uint16_t *cover, uint8_t count) {
    for (uint8_t i = 0; cover != NULL && i < count; i++) {
        cover[i] = 65535;
    }
}

/* @param cover NULL where no look of the segment tells it. */
static void shade_layer(struct glanz_light *light, uint16_t *cover, const struct layer *layer, uint32_t gain,
                        const struct spots *spots, uint8_t count) {
    if (layer->effect == NULL) {
        memset(light, 0, sizeof *light * count);
        fill_cover(cover, count);
        return;
    }
#if GLANZ_FIELDS
    uint8_t tells = cover != NULL && (layer->effect->needs & GLANZ_NEEDS_COVER) != 0;
    if (layer->effect->shade_field != NULL) {
        struct glanz_places places = {spots->x, spots->y, spots->index};
        layer->effect->shade_field(light, tells ? cover : NULL, &layer->now, &places, count);
    } else {
        layer->effect->shade(light, &layer->now, spots->line, count);
    }
    if (!tells) {
        fill_cover(cover, count);
    }
#else
    layer->effect->shade(light, &layer->now, spots->line, count);
#endif
    if (layer->bright_now != 65535) {
        gain = glanz_share_of(gain, glanz_lightness(layer->bright_now));
    }
    if (gain != 65536u) {
        for (uint8_t i = 0; i < count; i++) {
            glanz_light_put(&light[i], glanz_gain16(light[i].red, gain), glanz_gain16(light[i].green, gain),
                            glanz_gain16(light[i].blue, gain));
        }
    }
}

static void shade_segment(struct glanz_light *light, struct glanz_light *spare, const struct segment *segment,
                          const struct spots *spots, uint8_t count) {
    for (uint8_t i = 0; i < segment->count; i++) {
        const struct layer *layer = &segment->layer[segment->order[i]];
        if (i == 0) {
            shade_layer(light, NULL, layer, segment->gain, spots, count);
        } else if (layer->weight != 0) {
            shade_layer(spare, NULL, layer, segment->gain, spots, count);
            glanz_blend_run(light, spare, NULL, count, GLANZ_BLEND_COVER, layer->weight);
        }
    }
}

#if GLANZ_FIELDS
/* A segment with a look that lets what is under it through: light and cover are mixed alike, then laid over it. */
static void compose_sheer(struct glanz_light *light, struct glanz_light *over, struct glanz_light *spare,
                          const struct segment *segment, const struct spots *spots, uint8_t count) {
    uint16_t cover[GLANZ_RUN];
    uint16_t spare_cover[GLANZ_RUN];
    for (uint8_t i = 0; i < segment->count; i++) {
        const struct layer *layer = &segment->layer[segment->order[i]];
        if (i == 0) {
            shade_layer(over, cover, layer, segment->gain, spots, count);
        } else if (layer->weight != 0) {
            shade_layer(spare, spare_cover, layer, segment->gain, spots, count);
            glanz_blend_run(over, spare, NULL, count, GLANZ_BLEND_COVER, layer->weight);
            for (uint8_t k = 0; k < count; k++) {
                cover[k] = glanz_mix16(cover[k], spare_cover[k], layer->weight);
            }
        }
    }
    glanz_blend_sheer(light, over, cover, segment->field.partly ? spots->taken : NULL, count,
                      (enum glanz_blend)segment->is->blend, segment->opacity);
}

static uint8_t find_spots(struct spots *spots, const struct glanz_engine *engine, const struct segment *segment,
                          const struct strip_run *run, uint8_t count) {
    GLANZ_CONST struct glanz_cut *cut = &segment->is->cut;
    uint16_t at = (uint16_t)(run->at - segment->first);
    uint8_t some = count;
    spots->line = spots->x;
    if (segment->field.line) {
        some = glanz_cut_places(spots->x, spots->taken, cut, segment->leds, at, run->backward, count);
        for (uint8_t i = 0; segment->plane && i < some; i++) {
            spots->y[i] = GLANZ_HALF;
        }
    } else {
        struct glanz_stretch_of stretch = {run->piece, run->backward, run->before, run->at};
        some = glanz_field_places(spots->x, spots->y, spots->taken, cut, &segment->field, &engine->rig->surfaces[run->surface],
                                  &stretch, count);
        if (segment->field.lie >= GLANZ_LIE_ROWS && segment->field.lie <= GLANZ_LIE_OUTWARD) {
            memcpy(spots->line_x, spots->x, sizeof *spots->x * some);
            glanz_field_line(spots->line_x, spots->y, &segment->field, some);
            spots->line = spots->line_x;
        }
    }
    for (uint8_t i = 0; (segment->needs & GLANZ_NEEDS_INDEX) != 0 && i < some; i++) {
        uint8_t into = segment->field.partly ? spots->taken[i] : i;
        spots->index[i] = (uint16_t)(run->backward ? at - into : at + into);
    }
    return some;
}
#else
static uint8_t find_spots(struct spots *spots, const struct glanz_engine *engine, const struct segment *segment,
                          const struct strip_run *run, uint8_t count) {
    (void)engine;
    spots->line = spots->x;
    return glanz_cut_places(spots->x, spots->taken, &segment->is->cut, segment->leds, (uint16_t)(run->at - segment->first),
                            run->backward, count);
}
#endif

static int is_partly(const struct segment *segment) {
#if GLANZ_FIELDS
    return segment->field.partly;
#else
    return segment->is->cut.stencil[0] != 0;
#endif
}

/* Light of LEDs over which the same segments lie. */
static void compose(struct glanz_light *light, const struct glanz_engine *engine, const struct touching *touching,
                    const struct strip_run *run, uint8_t count) {
    struct spots spots;
    struct glanz_light over[GLANZ_RUN];
    struct glanz_light spare[GLANZ_RUN];
    if (touching->count == 0 || !is_opaque(&engine->segments[touching->segment[0]])) {
        memset(light, 0, sizeof *light * count);
    }
    for (uint8_t i = 0; i < touching->count; i++) {
        const struct segment *segment = &engine->segments[touching->segment[i]];
        uint8_t some = find_spots(&spots, engine, segment, run, count);
        if (some == 0) {
            continue;
        }
#if GLANZ_FIELDS
        if ((segment->needs & GLANZ_NEEDS_COVER) != 0) {
            compose_sheer(light, over, spare, segment, &spots, some);
            continue;
        }
#endif
        if (is_opaque(segment)) {
            shade_segment(light, spare, segment, &spots, some);
        } else {
            shade_segment(over, spare, segment, &spots, some);
            glanz_blend_run(light, over, is_partly(segment) ? spots.taken : NULL, some, (enum glanz_blend)segment->is->blend,
                            segment->opacity);
        }
    }
}

/* Light of a run of LEDs of an output, piece by piece of the surfaces that have them. */
static void compose_run(struct glanz_light *light, const struct glanz_engine *engine, struct strip_run *run, uint8_t output,
                        uint16_t led, uint8_t count) {
    struct touching near;
    struct touching touching;
    near.count = 0;
    uint8_t known = 0; /* LEDs that `near` is good for */
    for (uint8_t done = 0; done < count;) {
        if (run->leds == 0) {
            *run = find_run(engine->rig, output, (uint16_t)(led + done), glanz_output_leds(&engine->rig->outputs[output]));
            known = 0;
        }
        if (known == 0) {
            known = (uint8_t)(count - done);
            known = (uint8_t)(run->leds < known ? run->leds : known);
            find_near(&near, engine, run, known);
        }
        uint8_t part = find_touching(&touching, engine, &near, run, known);
        compose(light + done, engine, &touching, run, part);
        run->leds = (uint16_t)(run->leds - part);
        run->at = (uint16_t)(run->backward ? run->at - part : run->at + part);
        known = (uint8_t)(known - part);
        done = (uint8_t)(done + part);
    }
}

/* ---- one pass over all outputs ---- */

static uint32_t trim_of(uint16_t trim) {
    return trim == 0 || trim == 65535 ? 65536u : trim;
}

/* What a stretch asks of its chip. What the chip keeps along the line stays. */
static void begin_stretch(struct glanz_put *put, uint32_t *gains, uint32_t *weights, GLANZ_CONST struct glanz_output *output,
                          GLANZ_CONST struct glanz_stretch *stretch, uint32_t gain) {
    for (uint8_t c = 0; c < 4; c++) {
        gains[c] = glanz_share_of(glanz_share_of(trim_of(stretch->trim[c]), trim_of(output->trim[c])), gain);
        weights[c] = glanz_stretch_channel_ua(stretch, c);
        put->sum[c] = 0;
    }
    put->channels = stretch->chip->channels;
    put->order = stretch->order == GLANZ_ORDER_CHIP ? stretch->chip->order : stretch->order;
    if (stretch->chip->protocol != GLANZ_CLOCKED) {
        put->kind.white.kelvin = stretch->white_kelvin;
        put->kind.white.known = 0;
    }
}

/* Current of a stretch by the sums of its bytes, rounded up. */
static uint32_t stretch_ua(const struct glanz_put *put, uint16_t full) {
    uint32_t ua = 0;
    for (uint8_t c = 0; c < put->channels; c++) {
        ua += put->sum[c] / full * put->weight[c] + (put->sum[c] % full * put->weight[c] + full - 1u) / full;
    }
    return ua;
}

static void shade_output(struct glanz_engine *engine, uint8_t index, uint32_t gain) {
    GLANZ_CONST struct glanz_output *is = &engine->rig->outputs[index];
    struct output *output = &engine->outputs[index];
    struct strip_run run = {NONE, 0, 0, 0, 0, 0};
    struct glanz_light light[GLANZ_RUN];
    uint32_t gains[4];
    uint32_t weights[4];
    struct glanz_put put;
    memset(&put, 0, sizeof put);
    put.light = light;
    put.gain = gains;
    put.weight = weights;
    put.dither = &engine->dither;
    put.bytes = output->bytes[output->back] + is->stretches[0].chip->head_bytes;
    put.shown = output->bytes[1 - output->back] + is->stretches[0].chip->head_bytes;
    put.remainders = output->remainders;
    put.restless = engine->moving; /* known already: the next frame is shaded in any case */
    output->fresh_ua = 0;
    for (uint8_t s = 0; s < is->stretch_count; s++) {
        GLANZ_CONST struct glanz_stretch *stretch = &is->stretches[s];
        begin_stretch(&put, gains, weights, is, stretch, gain);
        for (uint16_t left = stretch->leds; left != 0; left = (uint16_t)(left - put.count)) {
            put.count = (uint8_t)(left > GLANZ_RUN ? GLANZ_RUN : left);
            if (engine->painter != NULL) {
                engine->painter(light, index, put.first, put.count, engine->painter_user);
            } else {
                compose_run(light, engine, &run, index, put.first, put.count);
            }
            stretch->chip->put(&put);
            uint16_t bytes = (uint16_t)(put.count * stretch->chip->led_bytes);
            put.bytes += bytes;
            put.shown += bytes;
            put.remainders += (uint16_t)(put.count * put.channels);
            put.first = (uint16_t)(put.first + put.count);
        }
        output->fresh_ua += stretch_ua(&put, stretch->chip->full);
    }
    engine->restless = (uint8_t)(engine->restless | put.restless);
    output->rise_ua = is->stretches[0].chip->protocol == GLANZ_CLOCKED ? put.kind.rise.ua : 0;
}

/* ---- the current limit ---- */

/* What a supply would draw at the most, were its outputs' new frame scaled by a 16.16 factor of what it is now. Rigs whose
 * supplies could draw more than 32 bits of microamps are refused; what would overflow here is far beyond any limit. */
static uint32_t drawn_at(const struct glanz_engine *engine, uint8_t supply, uint32_t factor) {
    uint32_t drawn = 0;
    for (uint8_t o = 0; o < engine->rig->output_count; o++) {
        if (engine->rig->outputs[o].supply == supply) {
            const struct output *output = &engine->outputs[o];
            uint32_t most = glanz_times(output->fresh_ua, factor);
            most = most > output->shown_ua ? most : output->shown_ua;
            if (output->rise_ua != 0) { /* clocked: what is new is added LED after LED */
                uint32_t crossing = glanz_plus(output->shown_ua, glanz_times(output->rise_ua, factor));
                most = crossing > most ? crossing : most;
            }
            drawn = glanz_plus(drawn, glanz_plus(output->idle_ua, most));
        }
    }
    return drawn;
}

static uint32_t idle_of(const struct glanz_engine *engine, uint8_t supply) {
    uint32_t idle = 0;
    for (uint8_t o = 0; o < engine->rig->output_count; o++) {
        idle += engine->rig->outputs[o].supply == supply ? engine->outputs[o].idle_ua : 0;
    }
    return idle;
}

uint32_t glanz_engine_supply_ua(const struct glanz_engine *engine, uint8_t supply) {
    uint32_t ua = 0;
    for (uint8_t o = 0; engine != NULL && o < engine->rig->output_count; o++) {
        ua += engine->rig->outputs[o].supply == supply ? glanz_engine_output_ua(engine, o) : 0;
    }
    return ua;
}

static uint32_t limit_of(const struct glanz_engine *engine, uint8_t supply) { /* microamps; 0: none */
    return engine->rig->supplies[supply].limit_ma * 1000u;
}

/* Does the frame stand for this supply? If not, the scale for another try is set. */
static int supply_stands(struct glanz_engine *engine, uint8_t index, uint8_t tries) {
    struct supply *supply = &engine->supplies[index];
    uint32_t limit = limit_of(engine, index);
    supply->used = supply->scale;
    if (limit == 0) {
        return 1;
    }
    uint32_t idle = idle_of(engine, index);
    uint32_t room = limit - idle;
    uint32_t drawn = drawn_at(engine, index, 65536u);
    uint32_t aim = idle + room - room / 128;
    if (drawn <= limit && (supply->used == 65536u || drawn - idle >= room - room / 64)) {
        return 1;
    }
    if (drawn <= limit) {
        supply->good = supply->used;
    } else {
        supply->bad = supply->used;
        if (tries <= 1) { /* back to what stood; dark always does: only what is lit already is drawn */
            supply->scale = tries == 1 && supply->good < supply->used ? supply->good : 0;
            return 0;
        }
    }
    uint32_t shown = drawn_at(engine, index, 0); /* what is lit already cannot be made less */
    uint32_t between = shown + ((limit - shown) >> (TRIES + 1 - tries));
    aim = between > aim ? between : aim;
    /* the largest scale that keeps to the aim, found by halves: outputs count only for what they add to what they show */
    uint32_t low = 0;
    uint32_t full = 0xFFFFFFFFu / (supply->used < 64 ? 64u : supply->used) + 1u; /* no limit at all */
    uint32_t high = full + 1;
    while (high - low > 1) {
        uint32_t middle = (low + high) / 2;
        if (drawn_at(engine, index, middle) <= aim) {
            low = middle;
        } else {
            high = middle;
        }
    }
    uint32_t scale = low == full ? 65536u : glanz_times(supply->used, low);
    scale = scale > 65536u ? 65536u : scale;
    if (drawn <= limit && ((scale < 65536u && scale <= supply->used + supply->used / 256u) || tries == 0)) {
        return 1; /* darker than it need be, but no more would fit */
    }
    uint8_t turn = supply->good != 0 && supply->bad <= 65536u && tries % 2 == 0;
    if (turn || scale >= supply->bad) { /* it bends: clocked LEDs add nothing, then much */
        scale = (supply->good + supply->bad) / 2u;
    }
    supply->scale = scale;
    return 0;
}

/* The scale that the next frame begins with: what would have made this one right. Where a change of outputs held this one
 * back, the next will be lighter though nothing moves. */
static void predict(struct glanz_engine *engine, uint8_t index) {
    struct supply *supply = &engine->supplies[index];
    uint32_t limit = limit_of(engine, index);
    uint32_t idle = idle_of(engine, index);
    uint32_t drawn = glanz_engine_supply_ua(engine, index) - idle;
    uint32_t scale = 65536u;
    uint32_t want = limit - idle - (limit - idle) / 128;
    if (limit != 0 && drawn != 0 && (drawn > want || supply->used != 65536u)) {
        if (want / 65536u < drawn) { /* else even 1/65536 of it would do */
            scale = glanz_times(supply->used, (want / drawn << 16) + glanz_ratio(want % drawn, drawn));
        }
        scale = scale > 65536u ? 65536u : scale;
    }
    supply->scale = scale;
    if (scale > supply->used + supply->used / 64u || (scale == 65536u && supply->used != 65536u)) {
        engine->dirty = 1;
    }
}

/* ---- a frame ---- */

static void pass_over(struct glanz_engine *engine, uint32_t brightness) {
    engine->restless = 0;
    for (uint8_t o = 0; o < engine->rig->output_count; o++) {
        uint32_t scale = engine->supplies[engine->rig->outputs[o].supply].scale;
        shade_output(engine, o, glanz_share_of(brightness, scale));
    }
}

glanz_status glanz_engine_advance(struct glanz_engine *engine, glanz_time clock_us) {
    if (engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_time elapsed = glanz_time_before(engine->clock, clock_us) ? clock_us - engine->clock : 0;
    engine->clock += elapsed;
    uint8_t moved = engine->moving;
    glanz_segments_advance(engine, elapsed > 0x7FFFFFFFu ? 0x7FFFFFFFu : (uint32_t)elapsed);
    engine->dirty = (uint8_t)(engine->dirty | moved); /* what ended since the last frame is to be seen once more */
    return GLANZ_OK;
}

GLANZ_NOINLINE glanz_status glanz_engine_frame(uint8_t *shaded, struct glanz_engine *engine, glanz_time clock_us,
                                               uint8_t force) {
    if (engine == NULL || shaded == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_time elapsed = glanz_time_before(engine->clock, clock_us) ? clock_us - engine->clock : 0;
    glanz_status status = glanz_engine_advance(engine, clock_us);
    *shaded = 0;
    if (status != GLANZ_OK) {
        return status;
    }
    if (!force && !engine->dirty && !engine->moving && !engine->restless && engine->painter == NULL) {
        return GLANZ_OK;
    }
    if (engine->started && elapsed > 0 && elapsed < 250000u) { /* how fast frames really come decides the dither */
        engine->interval_us = (engine->interval_us * 7u + (uint32_t)elapsed + 4u) / 8u;
    }
    uint8_t lowest = engine->rig->lowest_hz == 0 ? 25 : engine->rig->lowest_hz;
    engine->dither.depth = glanz_dither_depth(engine->interval_us - engine->interval_us / 16u, lowest);
    uint32_t brightness = glanz_ramp_gain(&engine->brightness);
    uint8_t tries = TRIES;
    for (uint8_t s = 0; s < engine->rig->supply_count; s++) {
        engine->supplies[s].good = 0;
        engine->supplies[s].bad = 65537;
    }
    for (uint8_t stands = 0; !stands;) {
        pass_over(engine, brightness);
        stands = 1;
        for (uint8_t s = 0; s < engine->rig->supply_count; s++) {
            if (!supply_stands(engine, s, tries)) {
                stands = 0;
            }
        }
        engine->extra_passes += !stands;
        tries = (uint8_t)(tries - (tries > 0));
    }
    engine->dirty = 0;
    for (uint8_t s = 0; s < engine->rig->supply_count; s++) {
        predict(engine, s);
    }
    engine->dither.frame++;
    engine->started = 1;
    engine->unsent = 1;
    *shaded = 1;
    return GLANZ_OK;
}

glanz_status glanz_engine_bytes(const uint8_t **bytes, size_t *count, const struct glanz_engine *engine, uint8_t output) {
    if (bytes == NULL || count == NULL || engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (output >= engine->rig->output_count) {
        return GLANZ_ERR_ABSENT;
    }
    const struct output *from = &engine->outputs[output];
    *bytes = from->bytes[engine->unsent ? from->back : 1 - from->back];
    *count = (size_t)from->size;
    return GLANZ_OK;
}

void glanz_engine_sent(struct glanz_engine *engine) {
    for (uint8_t o = 0; engine != NULL && engine->unsent && o < engine->rig->output_count; o++) {
        engine->outputs[o].shown_ua = engine->outputs[o].fresh_ua;
        engine->outputs[o].back = (uint8_t)(1 - engine->outputs[o].back);
    }
    if (engine != NULL) {
        engine->unsent = 0;
    }
}

uint32_t glanz_engine_output_ua(const struct glanz_engine *engine, uint8_t output) {
    return engine == NULL || output >= engine->rig->output_count
               ? 0
               : engine->outputs[output].fresh_ua + engine->outputs[output].idle_ua;
}

uint32_t glanz_engine_limit_scale(const struct glanz_engine *engine, uint8_t supply) {
    return engine == NULL || supply >= engine->rig->supply_count ? 0 : engine->supplies[supply].used;
}

uint32_t glanz_engine_extra_passes(const struct glanz_engine *engine) {
    return engine == NULL ? 0 : engine->extra_passes;
}

struct glanz_dither glanz_engine_dither(const struct glanz_engine *engine) {
    struct glanz_dither none = {0, 0, 0};
    return engine == NULL ? none : engine->dither;
}

glanz_status glanz_engine_paint(struct glanz_engine *engine, glanz_painter painter, void *user) {
    if (engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    engine->painter = painter;
    engine->painter_user = user;
    engine->dirty = 1;
    return GLANZ_OK;
}
