/* SPDX-License-Identifier: MIT */
/* Fireworks: shells that climb and burst into sparks, which slow down, sink and die away. */
#include "upright.h"
#include "tints.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_FIREWORKS_BACKGROUND] = GLANZ_COLOR_ROW("background", "the night", GLANZ_RGB(0, 0, 4)),
    [GLANZ_FIREWORKS_SHELLS] = GLANZ_PARAM_ROW("shells", "in the air at once", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 1, 5, 2),
    [GLANZ_FIREWORKS_SPARKS] = GLANZ_PARAM_ROW("sparks", "of a shell", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 3, 40, 12),
    [GLANZ_FIREWORKS_SPEED] = GLANZ_RATE_ROW("shells", GLANZ_UNIT_PASS_TIME, 3000),
};

#define SHELL 30000u /* light of a shell that climbs, of 65536 */
#define OPENS 6000u  /* of 65536: the part of a burst in which it opens */
#define CLIMB 22938u /* of 65536: the part of its pass in which a shell climbs */

struct shell {
    int32_t x, y;   /* of its head, or of the middle of its burst */
    int32_t reach;  /* how far its quickest sparks are from there; 0: it still climbs */
    uint32_t level; /* 0 to 65536 */
    uint32_t seed;
    struct glanz_light color;
};

/* Everything of a shell at this moment. Sparks: reach times 1 - (1 - t)^2 for the air, sinking with t^2. */
static struct shell find_shell(const struct glanz_frame *frame, const struct upright *upright, uint8_t number) {
    struct shell shell;
    uint32_t start = glanz_fraction(number, (uint32_t)frame->number[GLANZ_FIREWORKS_SHELLS]);
    uint32_t turn = frame->turn[0] + start;
    uint32_t draw = glanz_hash2(frame->seed + number, (uint16_t)(frame->lap[0] + (turn < start)));
    uint32_t t = turn >> 16;
    uint32_t high = (uint32_t)upright->rows << 16;
    uint32_t least = upright->columns < upright->rows ? upright->columns : upright->rows;
    least = upright->line ? upright->rows / 3u : least;
    uint32_t apex = high / 8u + glanz_mul32_high(draw << 16, high / 3u); /* from the top edge */
    shell.seed = draw;
    shell.x = upright->line ? GLANZ_HALF : (int32_t)((8192u + (draw >> 16) * 3u / 4u) * upright->columns);
    shell.color = glanz_gradient_at(frame->gradient, (uint16_t)glanz_hash(draw));
    if (t < CLIMB) {
        uint32_t left = 65536u - (t << 16) / CLIMB;                                                    /* slower and slower */
        shell.y = (int32_t)(apex + glanz_times(high + GLANZ_STEP - apex, glanz_share_of(left, left))); /* from below the edge */
        shell.reach = 0;
        shell.level = SHELL;
        return shell;
    }
    uint32_t gone = ((t - CLIMB) << 16) / (65536u - CLIMB);
    uint32_t left = 65536u - gone;
    uint32_t out = 65536u - glanz_share_of(glanz_share_of(left, left), left);
    shell.reach = (int32_t)(glanz_times((least << 16) / 2u + GLANZ_HALF, out)) + 1;
    shell.y = (int32_t)(apex + glanz_times(high / 4u, glanz_share_of(gone, gone)));
    /* it opens with the light that the shell had, and is soon at its brightest */
    uint32_t open = gone < OPENS ? SHELL + glanz_times(65536u - SHELL, (gone << 16) / OPENS) : 65536u;
    shell.level = glanz_share_of(open, 65536u - glanz_share_of(gone, gone));
    return shell;
}

/* How much of a burst's light falls on a LED: which spark lies nearest by bearing, and how near it is. */
static uint32_t burst_at(const struct shell *shell, int32_t across, int32_t down, uint32_t sparks) {
    int32_t away = (int32_t)glanz_distance(across, down);
    if (away > shell->reach + GLANZ_STEP) {
        return 0;
    }
    uint32_t bearing = (uint32_t)glanz_bearing(across, down) * sparks + (shell->seed & 0xFFFFu);
    uint32_t spark = (bearing + 32768u) >> 16;
    spark = spark >= sparks ? spark - sparks : spark;
    int32_t aside = (int32_t)(bearing & 0xFFFFu);
    aside = aside > 32768 ? 65536 - aside : aside;                    /* of the way between two sparks */
    uint32_t pace = 40000u + (glanz_hash2(shell->seed, spark) >> 18); /* 0.6 to 0.86 of the quickest */
    int32_t own = (int32_t)glanz_times((uint32_t)shell->reach, pace + 9000u);
    int32_t off = away - own;
    /* at `away` two sparks are 2 pi away / sparks apart */
    uint32_t side = glanz_times((uint32_t)away, (uint32_t)aside * 6u / sparks);
    uint32_t length = off > 0 ? (uint32_t)off : (uint32_t)(-off) / 2u; /* a short tail behind it */
    uint32_t level = length >= 65536u ? 0 : 65536u - length;
    return side >= 65536u ? 0 : glanz_share_of(level, 65536u - side);
}

static void shade_shell(struct glanz_light *light, const struct glanz_frame *frame, const struct upright *upright,
                        const struct glanz_places *places, uint8_t count, uint8_t number) {
    struct shell shell = find_shell(frame, upright, number);
    int32_t near = shell.reach + GLANZ_STEP;
    for (uint8_t i = 0; i < count; i++) {
        int32_t across = upright->line ? 0 : upright->x[i] - shell.x;
        int32_t down = upright_y(upright, places, i) - shell.y;
        if (across > near || across < -near || down > near || down < -near) {
            continue;
        }
        uint32_t level;
        if (shell.reach == 0) {
            int32_t aside = across < 0 ? -across : across;
            int32_t along = down < 0 ? -down : down;
            level = glanz_share_of((uint32_t)(GLANZ_STEP - aside), (uint32_t)(GLANZ_STEP - along));
        } else {
            level = burst_at(&shell, across, down, (uint32_t)frame->number[GLANZ_FIREWORKS_SPARKS]);
        }
        light_add(&light[i], shell.color, glanz_share_of(level, shell.level));
    }
}

static uint8_t step(struct glanz_frame *frame) {
    (void)frame;
    return 1;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    struct upright upright = upright_of(frame, places);
    (void)cover;
    glanz_light_fill(light, frame->color[0], count);
    for (uint8_t number = 0; number < (uint8_t)frame->number[GLANZ_FIREWORKS_SHELLS]; number++) {
        shade_shell(light, frame, &upright, places, count, number);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_fireworks = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("fireworks"),
    .description = GLANZ_DESCRIPTION("shells that climb and burst, in colours of the palette; a pass is one shell"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &glanz_gradient_festive,
    .step = step,
    .shade_field = shade,
    .least_columns = 7,
    .least_rows = 7,
};

#endif
