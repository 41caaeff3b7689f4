/* SPDX-License-Identifier: MIT */
/* Tidemark: what a level was, moving along: on a line as colour and brightness, in a field as columns as high as it. The newest
 * is at the left edge, or first on a line. One level a LED step is remembered; what lies between is between them. */
#include <glanz/effects.h>

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_TIDEMARK_BACKGROUND] = GLANZ_COLOR_ROW("background", "above it", GLANZ_RGB(0, 0, 0)),
    [GLANZ_TIDEMARK_LEVEL] = GLANZ_SHARE_ROW("level", "how high it stands now; to follow a signal", GLANZ_PERCENT(50)),
    [GLANZ_TIDEMARK_SPEED] = GLANZ_HEADED_RATE_ROW("how fast it moves along", GLANZ_UNIT_LENGTHS, GLANZ_FIXED(0.2)),
};

struct memory {
    uint32_t place; /* LED steps moved so far */
    uint16_t head;  /* where the newest level is */
    uint16_t begun;
    uint16_t level[1]; /* of so many as the segment is long, and two: 0 to 65535 */
};

static uint16_t count_of(const struct glanz_frame *frame) {
    return (uint16_t)(frame->length + 2u);
}

static uint32_t memory(const struct glanz_frame *frame) {
    return (uint32_t)sizeof(struct memory) + 2u * count_of(frame);
}

/* LED steps so far, 16.16: laps of a length are folded by 8,192. */
static uint64_t place_of(const struct glanz_frame *frame) {
    return ((uint64_t)(uint16_t)frame->lap[0] * frame->length << 16) + (((uint64_t)frame->turn[0] * frame->length) >> 16);
}

static uint16_t now_of(const struct glanz_frame *frame) {
    uint32_t level = (uint32_t)frame->number[GLANZ_TIDEMARK_LEVEL];
    return (uint16_t)(level > 65535u ? 65535u : level);
}

static uint8_t step(struct glanz_frame *frame) {
    struct memory *memory = (struct memory *)frame->memory;
    if (memory == NULL) {
        return 0;
    }
    uint64_t place = place_of(frame);
    uint32_t whole = (uint32_t)(place >> 16);
    uint16_t now = now_of(frame);
    uint16_t before = (uint16_t)frame->kept[1];
    uint32_t all = (uint32_t)frame->length << 13;
    uint32_t gone = (whole + all - memory->place % all) % all;
    gone = gone > all / 2u ? all - gone : gone; /* the other way */
    if (!memory->begun) {
        for (uint16_t i = 0; i < count_of(frame); i++) {
            memory->level[i] = 0;
        }
        memory->begun = 1;
        gone = 0;
        before = now;
    }
    memory->place = whole;
    uint32_t most = gone > count_of(frame) ? count_of(frame) : gone;
    /* the level went evenly from the last frame's to this one's: as it was when each step was done */
    uint32_t first = 65536u - (uint32_t)frame->kept[0];
    uint32_t way = (most << 16) + ((uint32_t)place & 0xFFFFu) - (uint32_t)frame->kept[0];
    for (uint32_t i = 0; i < most; i++) {
        uint32_t done = first + (i << 16);
        memory->head = (uint16_t)(memory->head + 1u >= count_of(frame) ? 0 : memory->head + 1u);
        memory->level[memory->head] = glanz_mix16(before, now, done >= way ? 65536u : glanz_ratio(done, way));
    }
    frame->kept[0] = (int32_t)((uint32_t)place & 0xFFFFu);
    frame->kept[1] = now;
    frame->kept[2] = (int32_t)(0xFFFFFFFFu / frame->rows); /* so that shade divides nothing */
    frame->kept[3] = frame->kept[0] == 0 ? 0 : (int32_t)(0xFFFFFFFFu / (uint32_t)frame->kept[0]);
    return GLANZ_STEP_MOVES;
}

/* The level that has come to a place. @param way 16.16 LEDs from where the newest is, at most the length. */
static uint16_t level_at(const struct memory *memory, const struct glanz_frame *frame, glanz_place way) {
    glanz_place on = way - frame->kept[0];
    if (on < 0) { /* since the last whole step */
        return glanz_mix16(memory->level[memory->head], (uint16_t)frame->kept[1],
                           ((uint32_t)-on * (uint32_t)frame->kept[3]) >> 16);
    }
    uint32_t count = count_of(frame);
    uint32_t ago = (uint32_t)on >> 16 < count ? (uint32_t)on >> 16 : count - 1u;
    uint32_t at = memory->head >= ago ? memory->head - ago : memory->head + count - ago;
    uint32_t before = ago + 1u == count ? at : at == 0 ? count - 1u : at - 1u;
    return glanz_mix16(memory->level[at], memory->level[before], (uint32_t)on & 0xFFFFu);
}

static uint32_t level_of(const struct glanz_frame *frame, glanz_place x) {
    const struct memory *memory = (const struct memory *)frame->memory;
    glanz_place way = frame->number[GLANZ_TIDEMARK_SPEED] < 0 ? (glanz_place)frame->length * GLANZ_STEP - x : x;
    way -= GLANZ_HALF;
    return memory == NULL ? now_of(frame) : level_at(memory, frame, way < 0 ? 0 : way);
}

static void shade_line(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *x, uint8_t count) {
    for (uint8_t i = 0; i < count; i++) {
        uint32_t level = level_of(frame, x[i]);
        light[i] = glanz_light_mix(frame->color[0], glanz_gradient_at(frame->gradient, (uint16_t)level), level + (level >> 15));
    }
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    struct glanz_light color = frame->color[0]; /* of the palette, in the row */
    const struct glanz_light back = color;
    glanz_place row = -1;
    uint32_t from = 0; /* the row's lower edge, 16.16 rows from the bottom */
    (void)cover;
    if (frame->rows == 1) {
        shade_line(light, frame, places->x, count);
        return;
    }
    for (uint8_t i = 0; i < count; i++) {
        if (places->y[i] != row) {
            row = places->y[i];
            from = (uint32_t)((glanz_place)frame->rows * GLANZ_STEP - row - GLANZ_HALF);
            from = from > 0x7FFFFFFFu ? 0 : from;
            color = glanz_gradient_at(frame->gradient, (uint16_t)glanz_mul32_high(from, (uint32_t)frame->kept[2]));
        }
        uint32_t high = level_of(frame, places->x[i]) * frame->rows; /* 16.16 rows from the bottom */
        if (high <= from) {
            glanz_light_put(&light[i], back.red, back.green, back.blue);
        } else if (high - from >= 65536u) {
            glanz_light_put(&light[i], color.red, color.green, color.blue);
        } else {
            uint32_t over = high - from;
            glanz_light_put(&light[i], glanz_mix16(back.red, color.red, over), glanz_mix16(back.green, color.green, over),
                            glanz_mix16(back.blue, color.blue, over));
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_tidemark = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("tidemark"),
    .description = GLANZ_DESCRIPTION("what a level was, moving along: as light on a line, as columns in a field; a pass is the "
                                     "length"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .step = step,
    .shade_field = shade,
    .memory = memory,
};

#endif
