/* SPDX-License-Identifier: MIT */
/* Columns: what each band of a sound holds: in a field as columns with peaks that fall, on a line as stretches as bright. */
#include <glanz/effects.h>
#include <glanz/signals.h>

#include "over.h"
#include "peaks.h"

#if GLANZ_FIELDS && GLANZ_DRIVES_MOST > 0

enum { FROM_BOTTOM, FROM_TOP, FROM_MIDDLE };
static GLANZ_CONST char *GLANZ_CONST froms[] = {GLANZ_TEXT("bottom"), GLANZ_TEXT("top"), GLANZ_TEXT("middle")};
enum { BY_HEIGHT, BY_BAND };
static GLANZ_CONST char *GLANZ_CONST bys[] = {GLANZ_TEXT("height"), GLANZ_TEXT("band")};

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_COLUMNS_BACKGROUND] = GLANZ_COLOR_ROW("background", "behind them", GLANZ_RGB(0, 0, 0)),
    [GLANZ_COLUMNS_HEARS] = GLANZ_SIGNAL_ROW("hears", "an input for sound; else the first"),
    [GLANZ_COLUMNS_FROM] = GLANZ_CHOICE_ROW("from", "where they grow from", froms, FROM_BOTTOM),
    [GLANZ_COLUMNS_COLORED] = GLANZ_CHOICE_ROW("colored by", "what the palette runs over", bys, BY_HEIGHT),
    [GLANZ_COLUMNS_PEAKS] = GLANZ_FLAG_ROW("peaks", "a point that stays at the highest and falls", 1),
    [GLANZ_COLUMNS_SPEED] = GLANZ_RATE_ROW("how fast peaks fall: a pass is all of the height", GLANZ_UNIT_PASS_TIME, 1500),
};

struct memory {
    struct fall fall;
    uint16_t level[GLANZ_BANDS_MOST], peak[GLANZ_BANDS_MOST];
    uint8_t bands;
};

static uint32_t memory(const struct glanz_frame *frame) {
    (void)frame;
    return sizeof(struct memory);
}

static uint8_t step(struct glanz_frame *frame) {
    struct memory *memory = (struct memory *)frame->memory;
    const struct glanz_heard *heard = glanz_frame_heard(frame, GLANZ_COLUMNS_HEARS);
    if (memory == NULL) {
        return 0;
    }
    uint16_t fall = fallen(&memory->fall, frame, GLANZ_COLUMNS_SPEED);
    memory->bands = heard == NULL ? memory->bands : heard->bands;
    uint32_t left = 0;
    for (uint8_t i = 0; i < memory->bands; i++) {
        uint16_t level = heard == NULL ? 0 : heard->band[i];
        memory->level[i] = level;
        memory->peak[i] = peak_of(memory->peak[i], fall, level);
        left |= memory->peak[i];
    }
    frame->kept[0] = memory->bands == 0 ? 0 : (int32_t)(((uint32_t)memory->bands << 16) / frame->length); /* bands a column */
    frame->kept[1] = (int32_t)(0xFFFFFFFFu / frame->rows);
    frame->kept[2] = memory->bands < 2 ? 0 : (int32_t)((65535u << 8) / (memory->bands - 1u)); /* of the palette, a band */
    return left != 0 || heard != NULL ? GLANZ_STEP_MOVES : 0;
}

/* The band at a place, and how far into it. Where there are more bands than columns, the loudest of those that lie there. */
static uint8_t band_at(const struct memory *memory, const struct glanz_frame *frame, glanz_place x, uint32_t *into) {
    uint32_t place = glanz_times_here((uint32_t)(x < GLANZ_HALF ? 0 : x - GLANZ_HALF), (uint32_t)frame->kept[0]);
    uint32_t band = (place + ((uint32_t)frame->kept[0] >> 1)) >> 16;
    band = band >= memory->bands ? memory->bands - 1u : band;
    *into = place + ((uint32_t)frame->kept[0] >> 1) - (band << 16);
    for (uint32_t i = band + 1u; i < memory->bands && i << 16 < place + (uint32_t)frame->kept[0]; i++) {
        band = memory->level[i] > memory->level[band] ? i : band;
    }
    return (uint8_t)band;
}

/* How far up a place is: 16.16 rows, its lower edge. @param all filled: how many there are. */
static uint32_t up_at(const struct glanz_frame *frame, glanz_place y, uint32_t *all) {
    glanz_place height = (glanz_place)frame->rows * GLANZ_STEP;
    glanz_place up = (frame->number[GLANZ_COLUMNS_FROM] == FROM_TOP ? y : height - y) - GLANZ_HALF;
    *all = (uint32_t)height;
    if (frame->number[GLANZ_COLUMNS_FROM] == FROM_MIDDLE) {
        glanz_place off = height / 2 - y;
        up = (off < 0 ? -off : off) - GLANZ_HALF;
        *all = (uint32_t)height / 2u;
    }
    return up < 0 ? 0 : (uint32_t)up;
}

/* How much of a LED so far up a column and its peak, a LED high, cover. @param all as up_at() fills it. */
static inline uint32_t over_at(const struct glanz_frame *frame, uint16_t level, uint16_t peak, uint32_t up, uint32_t all) {
    uint32_t high = glanz_times_here(all, glanz_level_of_value(level));
    uint32_t over = high <= up ? 0 : high - up > 65536u ? 65536u : high - up;
    if (frame->number[GLANZ_COLUMNS_PEAKS]) {
        uint32_t top = glanz_times_here(all - GLANZ_STEP, glanz_level_of_value(peak));
        uint32_t off = top > up ? top - up : up - top;
        uint32_t lit = peak == 0 || off >= 65536u ? 0 : 65536u - off;
        over = lit > over ? lit : over;
    }
    return over;
}

static inline uint16_t position_of(const struct glanz_frame *frame, uint8_t band, uint32_t share) {
    uint32_t at = frame->number[GLANZ_COLUMNS_COLORED] == BY_BAND ? (band * (uint32_t)frame->kept[2]) >> 8 : share;
    return (uint16_t)(at > 65535u ? 65535u : at);
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    const struct memory *memory = (const struct memory *)frame->memory;
    int gaps = memory != NULL && memory->bands * 3u <= frame->length; /* columns of three LEDs and more stand apart */
    (void)cover;
    if (memory == NULL || memory->bands == 0) {
        glanz_light_fill(light, frame->color[0], count);
        return;
    }
    uint16_t positions[GLANZ_RUN];
    positions[0] = 0; /* also of a run of none */
    uint32_t levels[GLANZ_RUN];
    glanz_place row = -1;
    uint32_t up = 0;
    uint32_t all = 0;
    uint32_t share = 0;
    for (uint8_t i = 0; i < count; i++) {
        uint32_t into;
        uint8_t band = band_at(memory, frame, places->x[i], &into);
        uint16_t level = memory->level[band];
        uint32_t over = glanz_level_of_value(level);
        uint32_t at = level;
        if (frame->rows != 1) {
            if (places->y[i] != row) { /* along a row nothing of this changes */
                row = places->y[i];
                up = up_at(frame, row, &all);
                share = glanz_mul32_high(up, (uint32_t)frame->kept[1]) * (all == (uint32_t)frame->rows << 16 ? 1u : 2u);
            }
            over = over_at(frame, level, memory->peak[band], up, all);
            over = gaps && into + (uint32_t)frame->kept[0] > 65536u ? 0 : over;
            at = share;
        }
        positions[i] = position_of(frame, band, at);
        levels[i] = over;
    }
    palette_over(light, frame, positions, levels, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_columns = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("columns"),
    .description =
        GLANZ_DESCRIPTION("the bands of a sound: columns with peaks that fall, on a line stretches as bright; a pass is "
                          "the fall of a peak"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT | GLANZ_NEEDS_SOUND | GLANZ_NEEDS_CLOCK,
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .gradient = &glanz_gradient_heard,
    .least_columns = 3,
    .least_rows = 1,
};

#endif
