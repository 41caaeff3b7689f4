/* SPDX-License-Identifier: MIT */
/* Rope: strands laid round each other, rounded, that run along; across a field one sees the rope as thick as it is high. */
#include <glanz/effects.h>

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_ROPE_STRANDS] = GLANZ_PARAM_ROW("strands", "of the rope", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 2, 6, 3),
    [GLANZ_ROPE_LAY] = GLANZ_PITCH_ROW("lay", "along the rope, until a strand has gone round once", GLANZ_FIXED(2),
                                       GLANZ_UNIT_LEDS, GLANZ_FIXED(18)),
    [GLANZ_ROPE_GROOVE] = GLANZ_SHARE_ROW("groove", "how dark it is between two strands", GLANZ_PERCENT(85)),
    [GLANZ_ROPE_SPEED] = GLANZ_RATE_ROW("how fast it runs", GLANZ_UNIT_LEDS, GLANZ_FIXED(4)),
};

/* hemp, tarred and bright */
static GLANZ_CONST struct glanz_stop stops[] = {
    {0, {22000, 9800, 2600}, 131071u}, {32768, {41000, 24500, 8800}, 131076u}, {65535, {60000, 44000, 22000}, 0u}};
static GLANZ_CONST struct glanz_gradient hemp = {
    .stops = stops, .count = 3, .first = {0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1}};

static glanz_place pass(const struct glanz_frame *frame) {
    return glanz_period_fit(frame, frame->number[GLANZ_ROPE_LAY], 2 * GLANZ_STEP);
}

static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        frame->kept[0] = (int32_t)glanz_repeat_of(pass(frame)).scale;
        frame->kept[1] = (int32_t)(0xFFFFFFFFu / frame->rows);
        frame->kept[2] = (int32_t)(65535u / ((uint32_t)frame->number[GLANZ_ROPE_STRANDS] * 2u));
    }
    return GLANZ_STEP_MOVES;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    struct glanz_repeat repeat = {(uint32_t)frame->kept[0], 0, 0};
    uint32_t strands = (uint32_t)frame->number[GLANZ_ROPE_STRANDS];
    uint32_t groove = (uint32_t)frame->number[GLANZ_ROPE_GROOVE];
    uint16_t each = (uint16_t)frame->kept[2];
    glanz_place row = -1;
    uint32_t bent = 0;
    uint32_t round = 65536u;
    (void)cover;
    for (uint8_t i = 0; i < count; i++) {
        if (places->y[i] != row && frame->rows > 1) { /* from edge to edge is half way round it */
            row = places->y[i];
            uint32_t across = glanz_times((uint32_t)row, (uint32_t)frame->kept[1]) >> 17; /* half a turn */
            int32_t up = glanz_sine((uint16_t)across);
            bent = across << 16;
            round = 24576u + (uint32_t)up + (uint32_t)up / 4u; /* its rims are darker */
            round = round > 65536u ? 65536u : round;
        }
        uint32_t turn = glanz_repeat_turn(&repeat, places->x[i]) + bent - frame->turn[0];
        uint32_t strand = glanz_mul32_high(turn, strands);
        uint32_t into = (turn * strands) >> 17; /* half a turn from groove to groove */
        uint32_t crest = (uint32_t)glanz_sine((uint16_t)into) * 2u;
        uint32_t level = 65536u - glanz_share_of(65534u - crest, groove);
        struct glanz_light color = glanz_gradient_at(frame->gradient, (uint16_t)((2u * strand + 1u) * each));
        level = glanz_share_of(glanz_share_of(level, level), round);
        glanz_light_put(&light[i], glanz_gain16(color.red, level), glanz_gain16(color.green, level),
                        glanz_gain16(color.blue, level));
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_rope = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("rope"),
    .description =
        GLANZ_DESCRIPTION("a twisted rope that runs along, its strands in colours of the palette; a pass is one lay"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &hemp,
    .pass = pass,
    .step = step,
    .shade_field = shade,
    .least_columns = 6,
    .least_rows = 1,
};

#endif
