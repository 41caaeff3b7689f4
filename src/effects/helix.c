/* SPDX-License-Identifier: MIT */
/* Helix: two strands about an axis that turns; what is behind is darker, and what is in front hides it. Along a line one looks
 * at its edge. */
#include <glanz/effects.h>

#if GLANZ_FIELDS && GLANZ_PARAMS >= 6

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_HELIX_FIRST] = GLANZ_COLOR_ROW("first", "a strand", GLANZ_RGB(0xFF, 0x9A, 0x3C)),
    [GLANZ_HELIX_SECOND] = GLANZ_COLOR_ROW("second", "the other", GLANZ_RGB(0x1E, 0x8F, 0xA8)),
    [GLANZ_HELIX_BACKGROUND] = GLANZ_COLOR_ROW("background", "behind them", GLANZ_RGB(0, 0, 0)),
    [GLANZ_HELIX_PITCH] =
        GLANZ_PITCH_ROW("pitch", "along the axis, once round", GLANZ_FIXED(2), GLANZ_UNIT_LEDS, GLANZ_FIXED(16)),
    [GLANZ_HELIX_WIDTH] = GLANZ_SIZE_ROW("width", "of a strand", GLANZ_FIXED(0.5), GLANZ_UNIT_LEDS, GLANZ_FIXED(1.6)),
    [GLANZ_HELIX_SPEED] = GLANZ_RATE_ROW("turns", GLANZ_UNIT_PASS_TIME, 3000),
};

/* Keeps turns a point, and how far from the axis strands go, half a LED. */
static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        glanz_place pitch = glanz_period_fit(frame, frame->number[GLANZ_HELIX_PITCH], 2 * GLANZ_STEP);
        glanz_place rows = (glanz_place)frame->rows * GLANZ_STEP;
        glanz_place width = frame->number[GLANZ_HELIX_WIDTH] < rows ? frame->number[GLANZ_HELIX_WIDTH] : rows;
        frame->kept[0] = (int32_t)glanz_repeat_of(pitch).scale;
        frame->kept[1] = (rows - width) / 2;
        frame->kept[2] = width;
    }
    return GLANZ_STEP_MOVES;
}

/* How much of a LED a strand covers, by how far off its middle is, 0 to 65536. */
static uint32_t cover_at(const struct glanz_frame *frame, glanz_place off) {
    return glanz_cover(off, -(frame->kept[2] / 2), frame->kept[2] - frame->kept[2] / 2);
}

static void lay_over(struct glanz_light *light, const struct glanz_light *color, uint32_t gain, uint32_t level) {
    glanz_light_put(light, glanz_mix16(light->red, glanz_gain16(color->red, gain), level),
                    glanz_mix16(light->green, glanz_gain16(color->green, gain), level),
                    glanz_mix16(light->blue, glanz_gain16(color->blue, gain), level));
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    struct glanz_repeat repeat = {(uint32_t)frame->kept[0], 0, 0};
    uint8_t is_line = frame->rows == 1;
    uint32_t reach = (uint32_t)frame->kept[1] >> 8;
    glanz_place middle = (glanz_place)frame->rows * GLANZ_HALF;
    (void)cover;
    glanz_light_fill(light, frame->color[2], count);
    for (uint8_t i = 0; i < count; i++) {
        uint16_t turn = (uint16_t)((glanz_repeat_turn(&repeat, places->x[i]) - frame->turn[0]) >> 16);
        int32_t near = glanz_sine((uint16_t)(turn + 16384u)); /* how far in front the first one is; the other as far behind */
        uint32_t front = (uint32_t)(near < 0 ? -near : near);
        uint32_t gain = 65536u - ((32767u - front) >> 1) - ((32767u - front) >> 2); /* in front: full; aside: five eighths */
        uint32_t behind = gain - front - front / 8u;
        const struct glanz_light *ahead = &frame->color[near < 0];
        const struct glanz_light *back = &frame->color[near >= 0];
        uint32_t covers = 65536u;
        uint32_t covers_back = 0;
        if (is_line) { /* the one in front alone, and between them both */
            covers = 32768u + front;
            covers_back = 65536u;
        } else {
            int32_t sine = glanz_sine(turn);
            int32_t aside = (int32_t)((reach * (uint32_t)(sine < 0 ? -sine : sine)) >> 7);
            aside = ((turn & 0x8000u) != 0) != (near < 0) ? -aside : aside;
            glanz_place off = places->y[i] - middle;
            covers = cover_at(frame, off - aside);
            covers_back = cover_at(frame, off + aside);
        }
        if (covers_back != 0) {
            lay_over(&light[i], back, behind, covers_back);
        }
        if (covers != 0) {
            lay_over(&light[i], ahead, gain, covers);
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_helix = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("helix"),
    .description = GLANZ_DESCRIPTION("two strands that turn about an axis, with depth; a pass is one turn"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .step = step,
    .shade_field = shade,
    .least_columns = 6,
    .least_rows = 1,
};

#endif
