/* SPDX-License-Identifier: MIT */
/* Glints: every LED is a facet that flashes when the light that goes round meets it, on top of whatever lies under it. */
#include <glanz/effects.h>

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_GLINTS_PART] = GLANZ_FADED_SHARE_ROW("share", "how many of the LEDs flash each time", GLANZ_PERCENT(45)),
    [GLANZ_GLINTS_LENGTH] = GLANZ_SHARE_ROW("length", "of a flash, of the time that the light takes round", GLANZ_PERCENT(12)),
    [GLANZ_GLINTS_SPREAD] = GLANZ_FADED_SHARE_ROW(
        "spread", "how unlike their neighbours facets lie; 0: a front of light passes", GLANZ_PERCENT(80)),
    [GLANZ_GLINTS_SPEED] = GLANZ_RATE_ROW("how fast the light goes round", GLANZ_UNIT_PASS_TIME, 4000),
};

/* sunlight: pale yellow to white */
static GLANZ_CONST struct glanz_stop stops[] = {{0, {65535, 52000, 34000}, 65537u}, {65535, {65535, 65535, 65535}, 0u}};
static GLANZ_CONST struct glanz_gradient sunlight = {.stops = stops, .count = 2, .first = {0}};

/* Keeps half a flash, one over it, and turns a point. */
static uint8_t step(struct glanz_frame *frame) {
    if (frame->params_changed) {
        uint32_t half = (uint32_t)frame->number[GLANZ_GLINTS_LENGTH] / 2u;
        half = half < 64u ? 64u : half;
        frame->kept[0] = (int32_t)half;
        frame->kept[1] = (int32_t)(0xFFFFFFFFu / half);
        frame->kept[2] = (int32_t)(0xFFFFFFFFu / frame->length);
    }
    return GLANZ_STEP_MOVES;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    struct glanz_repeat repeat = {(uint32_t)frame->kept[2], 0, 0};
    uint32_t spread = (uint32_t)frame->number[GLANZ_GLINTS_SPREAD];
    uint32_t lap = (uint16_t)frame->lap[0];
    struct glanz_light none = {0, 0, 0};
    glanz_light_fill(light, none, count);
    for (uint8_t i = 0; i < count; i++) {
        uint32_t facet = glanz_hash_here(frame->seed + glanz_place_hash(places->x[i], places->y[i]));
        uint32_t start = (facet >> 16) * spread - glanz_repeat_turn(&repeat, places->x[i]);
        uint32_t turn = frame->turn[0] + start;
        uint32_t away = ((turn & 0x80000000u) != 0 ? turn - 0x80000000u : 0x80000000u - turn) >> 16;
        if (cover != NULL) {
            cover[i] = 0;
        }
        if (away >= (uint32_t)frame->kept[0]) {
            continue;
        }
        uint32_t draw = glanz_hash(facet + ((lap + (turn < start)) & 0x1FFFu));
        if ((draw & 0xFFFFu) >= (uint32_t)frame->number[GLANZ_GLINTS_PART]) {
            continue;
        }
        uint32_t level = 65535u - glanz_times(away, (uint32_t)frame->kept[1]);
        level = (level * level) >> 16;
        struct glanz_light color = glanz_gradient_at(frame->gradient, (uint16_t)(draw >> 16));
        glanz_light_put(&light[i], glanz_gain16(color.red, level), glanz_gain16(color.green, level),
                        glanz_gain16(color.blue, level));
        if (cover != NULL) {
            cover[i] = (uint16_t)level;
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_glints = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("glints"),
    .description =
        GLANZ_DESCRIPTION("flashes as of facets that a light meets, on top of what lies under them; a pass takes the "
                          "light round once"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT | GLANZ_NEEDS_COVER,
    .gradient = &sunlight,
    .step = step,
    .shade_field = shade,
    .least_columns = 4,
    .least_rows = 1,
};

#endif
