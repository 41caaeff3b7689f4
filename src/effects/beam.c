/* SPDX-License-Identifier: MIT */
/* Beam: it sweeps round, and what it has met glows on. In a field it turns about the middle, round a ring or a drum along it;
 * along a line it is seen from aside, so that it comes, passes by, and is away for half a turn. */
#include "upright.h"

#if GLANZ_FIELDS && GLANZ_PARAMS >= 7

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_BEAM_COLOR] = GLANZ_COLOR_ROW("color", "the beam", GLANZ_KELVIN(4300)),
    [GLANZ_BEAM_GLOW] = GLANZ_COLOR_ROW("glow", "what it has met", GLANZ_RGB(0x1F, 0x6F, 0x8B)),
    [GLANZ_BEAM_BACKGROUND] = GLANZ_COLOR_ROW("background", "the rest", GLANZ_RGB(0, 0, 0)),
    [GLANZ_BEAM_COUNT] = GLANZ_PARAM_ROW("count", "beams", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 1, 6, 1),
    [GLANZ_BEAM_WIDTH] = GLANZ_TURN_ROW("width", "of a beam", 3641),
    [GLANZ_BEAM_AFTER] =
        GLANZ_FADED_SHARE_ROW("afterglow", "of the way to the next beam: where the glow has fallen to 1 %", GLANZ_PERCENT(70)),
    [GLANZ_BEAM_SPEED] = GLANZ_HEADED_RATE_ROW("turns", GLANZ_UNIT_PASS_TIME, 4000),
};

enum { KEPT_SCALE, KEPT_HALF, KEPT_SOFT, KEPT_INVERSE, KEPT_RATE, KEPT_LEAST };

/* Angles are in 65536ths of the way from one beam to the next. */
static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        uint32_t count = (uint32_t)frame->number[GLANZ_BEAM_COUNT];
        uint32_t across = frame->rows == 1 || frame->rows > frame->length ? frame->length : frame->rows;
        uint32_t soft = 65536u * count / (across * (frame->rows == 1 ? 2u : 3u) + 1u); /* about a LED, half way out */
        uint32_t half = (uint32_t)frame->number[GLANZ_BEAM_WIDTH] * count / 2u;
        uint32_t after = (uint32_t)frame->number[GLANZ_BEAM_AFTER];
        soft = soft < 256u ? 256u : soft > 16384u ? 16384u : soft;
        after = after < 1024u ? 1024u : after;
        frame->kept[KEPT_SCALE] = (int32_t)(0xFFFFFFFFu / frame->length);
        frame->kept[KEPT_HALF] = (int32_t)(half > 32767u ? 32767u : half);
        frame->kept[KEPT_SOFT] = (int32_t)soft;
        frame->kept[KEPT_INVERSE] = (int32_t)(0xFFFFFFFFu / soft);
        frame->kept[KEPT_RATE] =
            (int32_t)((435412u << 8) / (after >> 4)); /* halvings to the next beam, 20.12: log2 100 are 435412 */
        frame->kept[KEPT_LEAST] = (int32_t)glanz_halving((uint32_t)frame->kept[KEPT_RATE] << 4);
    }
    return GLANZ_STEP_MOVES;
}

/* At which part of a turn the beam meets a LED, 0.16. */
static uint16_t met_at(const struct glanz_frame *frame, glanz_place x, glanz_place y) {
    if (frame->rows > 1 && !frame->closed) {
        return glanz_bearing(x - (glanz_place)frame->length * GLANZ_HALF, y - (glanz_place)frame->rows * GLANZ_HALF);
    }
    uint32_t along = glanz_times((uint32_t)x, (uint32_t)frame->kept[KEPT_SCALE]) >> 16;
    if (frame->closed) {
        return (uint16_t)along;
    }
    int32_t aside = (int32_t)along - 32768;
    uint32_t near = glanz_root(((uint32_t)1 << 30) - (uint32_t)(aside * aside));
    return glanz_bearing(aside, -(int32_t)near);
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    struct glanz_pair glow = glanz_pair_of(frame->color[2], frame->color[1]);
    uint8_t back = frame->number[GLANZ_BEAM_SPEED] < 0;
    uint16_t now = (uint16_t)(frame->turn[0] >> 16);
    uint32_t half = (uint32_t)frame->kept[KEPT_HALF];
    uint32_t soft = (uint32_t)frame->kept[KEPT_SOFT];
    uint32_t least = (uint32_t)frame->kept[KEPT_LEAST];
    (void)cover;
    for (uint8_t i = 0; i < count; i++) {
        uint16_t met =
            (uint16_t)((uint16_t)(now - met_at(frame, places->x[i], places->y[i])) * (uint32_t)frame->number[GLANZ_BEAM_COUNT]);
        uint32_t since = back ? (uint16_t)(0u - met) : met;
        uint32_t off = since < 32768u ? since : 65536u - since; /* the middle of a beam */
        uint32_t left = glanz_halving((since * (uint32_t)frame->kept[KEPT_RATE]) >> 12);
        left = left > least ? left - least : 0; /* none of it is left where the next one comes */
        if (since > 65536u - half - soft && off < half + soft) {
            left = 0; /* it is not met yet */
        }
        glanz_pair_mix(&light[i], &glow, left);
        if (off < half + soft) {
            uint32_t level = off <= half ? 65536u : 65536u - glanz_times(off - half, (uint32_t)frame->kept[KEPT_INVERSE]);
            struct glanz_light color = frame->color[0];
            light_over(&light[i], color, level);
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_beam = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("beam"),
    .description = GLANZ_DESCRIPTION("a beam that sweeps round, with afterglow; a pass is one turn"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .step = step,
    .shade_field = shade,
    .least_columns = 6,
    .least_rows = 1,
};

#endif
