/* SPDX-License-Identifier: MIT */
/* Dissolve: one LED after another goes over into a colour, in no order, and back; over a background, or over what lies under
 * the segment. */
#include <glanz/effects.h>

#if GLANZ_FIELDS && GLANZ_PARAMS >= 6

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_DISSOLVE_COLOR] = GLANZ_COLOR_ROW("color", "into which LEDs go over", GLANZ_RGB(0xF2, 0x8C, 0x28)),
    [GLANZ_DISSOLVE_BACKGROUND] = GLANZ_COLOR_ROW("background", "out of which they do", GLANZ_RGB(0x03, 0x1C, 0x33)),
    [GLANZ_DISSOLVE_CLEAR] = GLANZ_FLAG_ROW("clear", "what lies under the segment in place of the background", 0),
    [GLANZ_DISSOLVE_SOFT] = GLANZ_SHARE_ROW("soft", "of the way: how long each LED takes", GLANZ_PERCENT(20)),
    [GLANZ_DISSOLVE_ONCE] = GLANZ_FLAG_ROW("once", "over and no way back; a pass is that", 0),
    [GLANZ_DISSOLVE_SPEED] = GLANZ_RATE_ROW("there and back", GLANZ_UNIT_PASS_TIME, 9000),
};

enum { KEPT_LEVEL, KEPT_DRAW, KEPT_INVERSE, KEPT_SOFT, KEPT_WAY };

static uint8_t step(struct glanz_frame *frame) {
    uint32_t turn = frame->turn[0];
    uint32_t draw = (uint32_t)(uint16_t)frame->lap[0] * 2u + (turn >> 31);
    uint8_t moves = GLANZ_STEP_MOVES;
    if (frame->params_changed) {
        int32_t soft = frame->number[GLANZ_DISSOLVE_SOFT];
        frame->kept[KEPT_SOFT] = soft < 256 ? 256 : soft;
        frame->kept[KEPT_INVERSE] = (int32_t)(0xFFFFFFFFu / (uint32_t)frame->kept[KEPT_SOFT]);
    }
    if (frame->number[GLANZ_DISSOLVE_ONCE] != 0) {
        if (frame->kept[KEPT_WAY] == 0) {
            frame->kept[KEPT_WAY] = frame->number[GLANZ_DISSOLVE_SPEED] < 0 ? -1 : 1;
        }
        int16_t own = frame->kept[KEPT_WAY] < 0 ? -1 : 0;
        draw = 0;
        if (frame->lap[0] != own) {
            turn = frame->lap[0] > own ? 0xFFFFFFFFu : 0;
            moves = 0;
        }
    } else {
        turn = (turn & 0x80000000u) != 0 ? ~turn << 1 : turn << 1;
    }
    uint32_t gone = turn >> 16;
    gone += turn >> 31; /* 65536 at the end */
    frame->kept[KEPT_LEVEL] = (int32_t)(gone + glanz_share_of(gone, (uint32_t)frame->kept[KEPT_SOFT]));
    frame->kept[KEPT_DRAW] = (int32_t)glanz_hash2(frame->seed, draw);
    return moves;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    uint8_t is_clear = cover != NULL && frame->number[GLANZ_DISSOLVE_CLEAR] != 0;
    struct glanz_light none = {0, 0, 0};
    struct glanz_pair pair = glanz_pair_of(is_clear ? none : frame->color[1], frame->color[0]);
    uint32_t soft = (uint32_t)frame->kept[KEPT_SOFT];
    for (uint8_t i = 0; i < count; i++) {
        uint32_t begins =
            glanz_hash_here((uint32_t)frame->kept[KEPT_DRAW] + glanz_place_hash(places->x[i], places->y[i])) >> 16;
        uint32_t reached = (uint32_t)frame->kept[KEPT_LEVEL] > begins ? (uint32_t)frame->kept[KEPT_LEVEL] - begins : 0;
        uint32_t level = reached >= soft ? 65536u : glanz_times_here(reached, (uint32_t)frame->kept[KEPT_INVERSE]);
        glanz_pair_mix(&light[i], &pair, level);
        if (cover != NULL) {
            cover[i] = is_clear ? (uint16_t)(level > 65535u ? 65535u : level) : (uint16_t)65535u;
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_dissolve = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("dissolve"),
    .description = GLANZ_DESCRIPTION("LEDs go over into a colour one by one, in no order, and back; a pass is there and back"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_COVER,
    .step = step,
    .shade_field = shade,
    .least_columns = 4,
    .least_rows = 1,
};

#endif
