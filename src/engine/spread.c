/* SPDX-License-Identifier: MIT */
/* Where a palette runs, when that is not the effect's choice: through time, along, across, out from the middle, around. The
 * effect draws in white then, its background black, and what it draws is multiplied by the palette at each place; the
 * background is mixed in where it draws nothing. So it is one mechanism for all effects, with a palette or without. */
#include <string.h>

#include "compose.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_stop white_stop[] = {{0, {65535, 65535, 65535}, 0}};
static GLANZ_CONST struct glanz_gradient white = {.stops = white_stop, .count = 1, .first = {0}};

/* Everything white but the background. @return its rank among the colours, or GLANZ_COLORS. */
static uint8_t make_white(struct glanz_frame *frame, GLANZ_CONST struct glanz_effect *effect) {
    uint8_t rank = 0;
    uint8_t background = GLANZ_COLORS;
    frame->gradient = &white;
    for (uint8_t i = 0; i < effect->param_count && rank < GLANZ_COLORS; i++) {
        if (effect->params[i].kind != GLANZ_PARAM_COLOR) {
            continue;
        }
        uint8_t is_background = (uint8_t)glanz_text_equal(effect->params[i].name, "background");
        background = is_background ? rank : background;
        memset(&frame->color[rank++], is_background ? 0 : 255, sizeof frame->color[0]);
    }
    return background;
}

/* How far the palette runs once, or there and back: 16.16 of `extent` points. At least a point. */
static uint32_t period_of(GLANZ_CONST struct glanz_gradient *gradient, uint32_t extent) {
    uint32_t span = gradient->span == 0 ? 65536u : gradient->span;
    uint32_t period = glanz_times(extent, span);
    period = gradient->folded ? (period > 0x3FFFFFFFu ? 0x7FFFFFFFu : period * 2u) : period;
    return period < (uint32_t)GLANZ_STEP ? (uint32_t)GLANZ_STEP : period;
}

static void lay(struct layer *layer, const struct segment *segment) {
    GLANZ_CONST struct glanz_gradient *gradient = layer->frame.gradient;
    struct spread *spread = &layer->spread;
    uint8_t is_line = layer->effect->shade != NULL && gradient->runs == GLANZ_RUNS_ALONG;
    spread->columns = is_line ? segment->length : segment->field.columns;
    spread->rows = is_line ? 1 : segment->field.rows;
    spread->closed = segment->closed;
    uint32_t extent = gradient->runs == GLANZ_RUNS_ACROSS ? (uint32_t)spread->rows << 16
                      : gradient->runs == GLANZ_RUNS_OUTWARD
                          ? glanz_distance((int32_t)spread->columns << 15, (int32_t)spread->rows << 15)
                          : (uint32_t)spread->columns << 16;
    extent = extent == 0 ? (uint32_t)GLANZ_STEP : extent;
    uint32_t period = period_of(gradient, extent);
    uint8_t is_round = gradient->runs == GLANZ_RUNS_AROUND || (gradient->runs == GLANZ_RUNS_ALONG && segment->closed);
    uint32_t times = (extent + period / 2u) / period; /* round a closed surface a whole number of times */
    times = times == 0 ? 1 : times;
    spread->times = times > 65535u ? 65535u : (uint16_t)times;
    spread->scale =
        is_round ? glanz_repeat_of((glanz_place)(extent / times)).scale : glanz_repeat_of((glanz_place)period).scale;
    spread->pace = gradient->pass_ms == 0 ? 0 : ((uint64_t)1 << 48) / ((uint64_t)gradient->pass_ms * 1000u);
}

/* Where each LED of a run lies in the palette. */
static void find_positions(uint16_t *positions, const struct layer *layer, const struct run_places *places, uint8_t count) {
    GLANZ_CONST struct glanz_gradient *gradient = layer->frame.gradient;
    const struct spread *spread = &layer->spread;
    const struct glanz_repeat repeat = {spread->scale, 0, 0};
    const glanz_place *along = layer->effect->shade != NULL ? places->line : places->x;
    uint32_t gone = (uint32_t)(layer->spread.phase >> 16);
    for (uint8_t i = 0; i < count; i++) {
        int32_t across = places->x[i] - (glanz_place)spread->columns * GLANZ_HALF;
        int32_t down = places->y[i] - (glanz_place)spread->rows * GLANZ_HALF;
        uint32_t turn = 0;
        switch (gradient->runs) {
        case GLANZ_RUNS_ALONG: turn = glanz_repeat_turn(&repeat, along[i]); break;
        case GLANZ_RUNS_ACROSS: turn = glanz_repeat_turn(&repeat, places->y[i]); break;
        case GLANZ_RUNS_OUTWARD: turn = glanz_repeat_turn(&repeat, (glanz_place)glanz_distance(across, down)); break;
        case GLANZ_RUNS_AROUND:
            turn = spread->closed || spread->rows == 1 ? glanz_repeat_turn(&repeat, places->x[i])
                                                       : ((uint32_t)glanz_bearing(across, down) << 16) * spread->times;
            break;
        default: break;
        }
        turn -= gone;
        if (gradient->folded) {
            turn = (turn & 0x80000000u) != 0 ? ~turn << 1 : turn << 1;
        }
        positions[i] = (uint16_t)((gradient->reversed ? ~turn : turn) >> 16);
    }
}

/* ---- what a layer with such a palette does ---- */

void glanz_spread_begin(struct layer *layer, const struct segment *segment) {
    layer->spreads = layer->effect != NULL && layer->frame.gradient->runs != GLANZ_RUNS_BY_EFFECT ? &glanz_spread_calls : NULL;
    if (layer->spreads != NULL) {
        lay(layer, segment);
    }
}

/* What an effect draws into its memory is white too. */
static uint8_t step(struct layer *layer, uint32_t elapsed, uint8_t due) {
    struct glanz_light color[GLANZ_COLORS];
    GLANZ_CONST struct glanz_gradient *gradient = layer->frame.gradient;
    uint8_t told = 0;
    layer->spread.phase += layer->spread.pace * elapsed; /* wraps as it should */
    if (due) {
        memcpy(color, layer->frame.color, sizeof color);
        (void)make_white(&layer->frame, layer->effect);
        told = layer->effect->step(&layer->frame);
        memcpy(layer->frame.color, color, sizeof color);
        layer->frame.gradient = gradient;
    }
    return layer->spread.pace == 0 ? told : (uint8_t)(told | SPREAD_MOVES);
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct layer *layer, const struct run_places *run_places,
                  uint8_t count) {
    struct glanz_frame frame;
    struct glanz_light palette[GLANZ_RUN];
    uint16_t positions[GLANZ_RUN];
    static const struct glanz_light none = {0, 0, 0};
    positions[0] = 0; /* a compiler that sees the whole program takes a run to be empty perhaps, and warns */
    memcpy(&frame, &layer->frame, sizeof frame);
    uint8_t rank = make_white(&frame, layer->effect);
    const struct glanz_light *background = rank == GLANZ_COLORS ? &none : &layer->frame.color[rank];
    if (layer->effect->shade_field != NULL) {
        struct glanz_places places = {run_places->x, run_places->y, run_places->index};
        layer->effect->shade_field(light, cover, &frame, &places, count);
    } else {
        layer->effect->shade(light, &frame, run_places->line, count);
    }
    find_positions(positions, layer, run_places, count);
    glanz_gradient_run(palette, layer->frame.gradient, positions, count);
    for (uint8_t i = 0; i < count; i++) {
        uint32_t drawn = light[i].green;
        uint32_t covered = cover == NULL ? 65535u : cover[i];
        uint32_t rest = covered > drawn ? covered - drawn : 0;
        drawn += drawn >> 15;
        rest += rest >> 15;
        glanz_light_put(&light[i], (uint16_t)(glanz_gain16(palette[i].red, drawn) + glanz_gain16(background->red, rest)),
                        (uint16_t)(glanz_gain16(palette[i].green, drawn) + glanz_gain16(background->green, rest)),
                        (uint16_t)(glanz_gain16(palette[i].blue, drawn) + glanz_gain16(background->blue, rest)));
    }
}

GLANZ_CONST struct glanz_spread_calls glanz_spread_calls = {step, shade};

#endif
