/* SPDX-License-Identifier: MIT */
/* Weed: stems that stand on the ground and sway, the more the higher up; along a line one stem, with the light that runs up it.
 */
#include "upright.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_WEED_BACKGROUND] = GLANZ_COLOR_ROW("background", "the water", GLANZ_RGB(0x00, 0x0C, 0x16)),
    [GLANZ_WEED_GAP] = GLANZ_PITCH_ROW("gap", "from one stem to the next", GLANZ_FIXED(2), GLANZ_UNIT_LEDS, GLANZ_FIXED(4)),
    [GLANZ_WEED_WIDTH] = GLANZ_SIZE_ROW("width", "of a stem", GLANZ_FIXED(0.5), GLANZ_UNIT_LEDS, GLANZ_FIXED(1.4)),
    [GLANZ_WEED_SWAY] = GLANZ_PART_ROW("sway", "of the gap: how far the tips go to either side", GLANZ_PERCENT(60)),
    [GLANZ_WEED_SPEED] = GLANZ_RATE_ROW("to and fro", GLANZ_UNIT_PASS_TIME, 5000),
};

/* root, stem, tip */
static GLANZ_CONST struct glanz_stop stops[] = {
    {0, {700, 1900, 300}, 126322u}, {34000, {1500, 14000, 2200}, 136196u}, {65535, {24000, 42000, 5200}, 0u}};
static GLANZ_CONST struct glanz_gradient green = {
    .stops = stops, .count = 3, .first = {0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 1}};

enum { KEPT_GAP, KEPT_SCALE, KEPT_ROWS, KEPT_SWAY, KEPT_STEMS };

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        glanz_place gap = glanz_period_fit(frame, frame->number[GLANZ_WEED_GAP], 2 * GLANZ_STEP);
        uint32_t rows = frame->rows == 1 ? frame->length : frame->rows;
        frame->kept[KEPT_GAP] = gap;
        frame->kept[KEPT_SCALE] = (int32_t)glanz_repeat_of(gap).scale;
        frame->kept[KEPT_ROWS] = (int32_t)(0xFFFFFFFFu / (rows << 16));
        frame->kept[KEPT_STEMS] = (int32_t)((((uint32_t)frame->length << 16) + (uint32_t)gap / 2u) / (uint32_t)gap);
        frame->kept[KEPT_SWAY] = (int32_t)glanz_times((uint32_t)gap, (uint32_t)frame->number[GLANZ_WEED_SWAY]);
    }
    return GLANZ_STEP_MOVES;
}

/* How much of a LED a stem covers. @param off of the LED from its foot. @param high 0 to 65535 of the height.
 * @param reach how far aside it may be lit from there. */
static uint32_t covered(const struct glanz_frame *frame, uint32_t stem, glanz_place off, uint32_t high, glanz_place reach) {
    if (off >= reach || off <= -reach) {
        return 0;
    }
    uint32_t draw = glanz_hash_here(frame->seed +
                                    glanz_mul32_low(stem & 0xFFFFu, 0x9E3779B1u)); /* how tall it is, and where in its swing */
    uint32_t tall = 45000u + (draw & 0x3FFFu);
    if (high > tall + 4096u) {
        return 0;
    }
    uint16_t swing = (uint16_t)((frame->turn[0] >> 16) + (draw >> 20) - (high >> 2) + stem * 5000u); /* the tip comes after */
    int32_t sine = glanz_sine(swing);
    uint32_t far = glanz_times_here((uint32_t)frame->kept[KEPT_SWAY], 2u * (uint32_t)(sine < 0 ? -sine : sine));
    glanz_place aside = (glanz_place)glanz_times_here(far, (high * high) >> 16);
    glanz_place half = frame->number[GLANZ_WEED_WIDTH] / 2;
    uint32_t covers = glanz_cover(sine < 0 ? off + aside : off - aside, -half, half);
    uint32_t left = high <= tall ? 65536u : (tall + 4096u - high) * 16u; /* the tip is soft */
    return glanz_share_of(covers, left);
}

static void shade_line(struct glanz_light *light, const struct glanz_frame *frame, const struct glanz_places *places,
                       uint8_t count) {
    for (uint8_t i = 0; i < count; i++) {
        uint32_t high = glanz_times((uint32_t)places->x[i], (uint32_t)frame->kept[KEPT_ROWS]);
        high = high > 65535u ? 65535u : high;
        uint32_t turn = (frame->turn[0] >> 16) - high * 2u;
        uint32_t sway = glanz_share_of((uint32_t)(32768 + glanz_sine((uint16_t)turn)),
                                       glanz_share_of(high, (uint32_t)frame->number[GLANZ_WEED_SWAY]));
        struct glanz_light at = glanz_light_mix(glanz_gradient_at(frame->gradient, (uint16_t)high), frame->color[0], sway);
        glanz_light_put(&light[i], at.red, at.green, at.blue);
    }
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    (void)cover;
    if (frame->rows == 1) {
        shade_line(light, frame, places, count);
        return;
    }
    glanz_place gap = frame->kept[KEPT_GAP];
    uint32_t stems = (uint32_t)frame->kept[KEPT_STEMS];
    glanz_place row = -1;
    uint32_t high = 0;
    glanz_place reach = 0;
    for (uint8_t i = 0; i < count; i++) {
        if (places->y[i] != row) {
            row = places->y[i];
            high = glanz_times((uint32_t)row, (uint32_t)frame->kept[KEPT_ROWS]);
            high = high > 65535u ? 0 : 65535u - high;
            reach = (glanz_place)glanz_times((uint32_t)frame->kept[KEPT_SWAY], (high * high) >> 16) +
                    frame->number[GLANZ_WEED_WIDTH] / 2 + GLANZ_HALF;
        }
        uint32_t at = glanz_mul32_high((uint32_t)places->x[i], (uint32_t)frame->kept[KEPT_SCALE]); /* 16.16 gaps */
        uint32_t stem = at >> 16;
        glanz_place off =
            (glanz_place)glanz_times((uint32_t)gap, at & 0xFFFFu) - gap / 2; /* it stands in the middle of its gap */
        uint32_t before = stem == 0 && frame->closed ? stems - 1u : stem - 1u;
        uint32_t next = stem + 1u == stems && frame->closed ? 0 : stem + 1u;
        /* its own, and those that may lean over */
        uint32_t covers = covered(frame, stem, off, high, reach) + covered(frame, before, off + gap, high, reach) +
                          covered(frame, next, off - gap, high, reach);
        covers = covers > 65536u ? 65536u : covers;
        glanz_light_put(&light[i], frame->color[0].red, frame->color[0].green, frame->color[0].blue);
        if (covers != 0) {
            struct glanz_light color = glanz_gradient_at(frame->gradient, (uint16_t)high);
            light_over(&light[i], color, covers);
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_weed = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("weed"),
    .description = GLANZ_DESCRIPTION("stems on the ground that sway; a pass is once to and fro"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &green,
    .step = step,
    .shade_field = shade,
    .least_columns = 6,
    .least_rows = 1,
};

#endif
