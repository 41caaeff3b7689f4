/* SPDX-License-Identifier: MIT */
/* Sonogram: what was heard, moving along. In a field rows are bands, low ones below, and the palette tells how loud each is; on
 * a line the palette tells which part of the range is loudest, and the brightness how loud. The newest is at the left edge. */
#include <glanz/effects.h>
#include <glanz/signals.h>

#if GLANZ_FIELDS && GLANZ_DRIVES_MOST > 0

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_SONOGRAM_BACKGROUND] = GLANZ_COLOR_ROW("background", "of what is silent", GLANZ_RGB(0, 0, 0)),
    [GLANZ_SONOGRAM_HEARS] = GLANZ_SIGNAL_ROW("hears", "an input for sound; else the first"),
    [GLANZ_SONOGRAM_SPEED] = GLANZ_HEADED_RATE_ROW("how fast it moves along", GLANZ_UNIT_LENGTHS, GLANZ_FIXED(0.25)),
};

struct memory {
    uint32_t place; /* LED steps moved so far */
    uint16_t head;  /* the newest step */
    uint8_t begun;
    uint8_t now[GLANZ_BANDS_MOST]; /* since then: the highest of each row */
    uint8_t level[1];              /* steps of so many rows */
};

static uint16_t steps_of(const struct glanz_frame *frame) {
    return (uint16_t)(frame->length + 1u);
}

static uint16_t rows_of(const struct glanz_frame *frame) { /* on a line: where in the range, how loud */
    return frame->rows == 1 ? 2 : frame->rows > GLANZ_BANDS_MOST ? GLANZ_BANDS_MOST : frame->rows;
}

static uint32_t memory(const struct glanz_frame *frame) {
    uint32_t bytes = (uint32_t)sizeof(struct memory) + (uint32_t)steps_of(frame) * rows_of(frame);
    return bytes > 65528u ? 0 : bytes;
}

/* A row of what is heard now: bands are shared out among rows. */
static uint8_t row_now(const struct glanz_heard *heard, const struct glanz_frame *frame, uint16_t row) {
    if (heard == NULL || heard->bands == 0) {
        return 0;
    }
    if (frame->rows == 1) {
        uint32_t sum = 0;
        uint32_t all = 0;
        for (uint8_t i = 0; i < heard->bands; i++) { /* its middle, the loud ones counting more */
            uint32_t weight = (uint32_t)heard->band[i] * heard->band[i] >> 20;
            sum += weight * i;
            all += weight;
        }
        uint32_t most = heard->bands > 1 ? heard->bands - 1u : 1u;
        return row == 1 ? (uint8_t)(heard->level[GLANZ_RANGE_ALL] >> 8) : all == 0 ? 0 : (uint8_t)(sum * 255u / (all * most));
    }
    uint32_t rows = rows_of(frame);
    uint32_t from = row * heard->bands / rows;
    uint32_t to = ((row + 1u) * heard->bands + rows - 1u) / rows;
    uint16_t most = 0;
    for (uint32_t i = from; i < to && i < heard->bands; i++) {
        most = heard->band[i] > most ? heard->band[i] : most;
    }
    return (uint8_t)(most >> 8);
}

static uint8_t step(struct glanz_frame *frame) {
    struct memory *memory = (struct memory *)frame->memory;
    const struct glanz_heard *heard = glanz_frame_heard(frame, GLANZ_SONOGRAM_HEARS);
    if (memory == NULL) {
        return 0;
    }
    uint64_t place =
        ((uint64_t)(uint16_t)frame->lap[0] * frame->length << 16) + (((uint64_t)frame->turn[0] * frame->length) >> 16);
    uint32_t whole = (uint32_t)(place >> 16);
    uint32_t all = (uint32_t)frame->length << 13; /* laps are folded by 8,192 */
    uint32_t gone = memory->begun ? (whole + all - memory->place % all) % all : 0;
    gone = gone > all / 2u ? all - gone : gone;
    uint16_t rows = rows_of(frame);
    memory->begun = 1;
    memory->place = whole;
    for (uint16_t r = 0; r < rows; r++) {
        uint8_t now = row_now(heard, frame, r);
        memory->now[r] = frame->rows == 1 ? now : now > memory->now[r] ? now : memory->now[r];
    }
    for (uint32_t i = 0; i < gone && i < steps_of(frame); i++) {
        memory->head = (uint16_t)(memory->head + 1u >= steps_of(frame) ? 0 : memory->head + 1u);
        for (uint16_t r = 0; r < rows; r++) {
            memory->level[(uint32_t)memory->head * rows + r] = memory->now[r];
        }
    }
    for (uint16_t r = 0; r < rows && gone != 0; r++) {
        memory->now[r] = row_now(heard, frame, r);
    }
    frame->kept[0] = (int32_t)((uint32_t)place & 0xFFFFu);
    frame->kept[1] = (int32_t)(((uint32_t)rows << 16) / frame->rows);
    return GLANZ_STEP_MOVES;
}

/* A row of a step ago. */
static uint32_t level_of(const struct memory *memory, const struct glanz_frame *frame, uint32_t ago, uint32_t row) {
    ago = ago >= steps_of(frame) ? steps_of(frame) - 1u : ago;
    uint32_t at = memory->head >= ago ? memory->head - ago : memory->head + (uint32_t)steps_of(frame) - ago;
    return memory->level[at * rows_of(frame) + row] * 257u;
}

/* What has come to a place. @param way 16.16 LEDs from where the newest is. */
static uint32_t level_at(const struct memory *memory, const struct glanz_frame *frame, glanz_place way, uint32_t row) {
    glanz_place on = way - frame->kept[0];
    if (on < 0) {
        uint32_t part = (uint32_t)(on + GLANZ_STEP);
        return glanz_mix16((uint16_t)(memory->now[row] * 257u), (uint16_t)level_of(memory, frame, 0, row), part);
    }
    uint32_t ago = (uint32_t)on >> 16;
    return glanz_mix16((uint16_t)level_of(memory, frame, ago, row), (uint16_t)level_of(memory, frame, ago + 1u, row),
                       (uint32_t)on & 0xFFFFu);
}

/* Light over the background; quiet sound is far darker than loud. */
static void lit(struct glanz_light *light, const struct glanz_frame *frame, uint32_t at, uint32_t level) {
    uint32_t square = glanz_share_of(glanz_level_of_value((uint16_t)level), level);
    struct glanz_light is =
        glanz_light_mix(frame->color[0], glanz_gradient_at(frame->gradient, (uint16_t)at), glanz_share_of(square, square));
    glanz_light_put(light, is.red, is.green, is.blue); /* not assigned: that would be memcpy on Cortex-M0+ */
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    const struct memory *memory = (const struct memory *)frame->memory;
    int backward = frame->number[GLANZ_SONOGRAM_SPEED] < 0;
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    (void)cover;
    if (memory == NULL) {
        glanz_light_fill(light, frame->color[0], count);
        return;
    }
    for (uint8_t i = 0; i < count; i++) {
        glanz_place way = (backward ? length - places->x[i] : places->x[i]) - GLANZ_HALF;
        way = way < 0 ? 0 : way;
        if (frame->rows == 1) {
            uint32_t at = level_at(memory, frame, way, 0);
            uint32_t level = level_at(memory, frame, way, 1);
            lit(&light[i], frame, at, level);
        } else {
            glanz_place up = (glanz_place)frame->rows * GLANZ_STEP - places->y[i];
            uint32_t row = up < 0 ? 0 : glanz_times_here((uint32_t)up, (uint32_t)frame->kept[1]) >> 16;
            row = row >= rows_of(frame) ? rows_of(frame) - 1u : row;
            uint32_t level = level_at(memory, frame, way, row);
            lit(&light[i], frame, glanz_share_of(level, level), level);
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_sonogram = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("sonogram"),
    .description =
        GLANZ_DESCRIPTION("what was heard, moving along: bands as rows of a field, on a line as colours; a pass is the "
                          "length"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT | GLANZ_NEEDS_SOUND | GLANZ_NEEDS_CLOCK,
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .gradient = &glanz_gradient_heard,
    .least_columns = 5,
    .least_rows = 1,
};

#endif
