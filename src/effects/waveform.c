/* SPDX-License-Identifier: MIT */
/* Waveform: the shape of the sound: in a field as a line, on a line of LEDs as brightness, rising and falling in two colours.
 */
#include <glanz/effects.h>
#include <glanz/signals.h>

#if GLANZ_FIELDS && GLANZ_DRIVES_MOST > 0

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_WAVEFORM_COLOR] = GLANZ_COLOR_ROW("color", "above the middle", GLANZ_RGB(255, 170, 60)),
    [GLANZ_WAVEFORM_BELOW] = GLANZ_COLOR_ROW("below", "below it", GLANZ_RGB(30, 160, 170)),
    [GLANZ_WAVEFORM_BACKGROUND] = GLANZ_COLOR_ROW("background", "behind it", GLANZ_RGB(0, 0, 0)),
    [GLANZ_WAVEFORM_HEARS] = GLANZ_SIGNAL_ROW("hears", "an input for sound; else the first"),
};

#define POINTS GLANZ_WAVE_POINTS

struct memory {
    int8_t point[POINTS];
};

static uint32_t memory(const struct glanz_frame *frame) {
    (void)frame;
    return sizeof(struct memory);
}

static uint8_t step(struct glanz_frame *frame) {
    struct memory *memory = (struct memory *)frame->memory;
    const struct glanz_heard *heard = glanz_frame_heard(frame, GLANZ_WAVEFORM_HEARS);
    uint8_t lit = 0;
    if (memory == NULL) {
        return 0;
    }
    int listens = heard != NULL && heard->wave != NULL && heard->level[GLANZ_RANGE_ALL] != 0;
    for (uint8_t i = 0; i < POINTS; i++) {
        memory->point[i] = listens ? heard->wave[i] : 0;
        lit = (uint8_t)(lit | (memory->point[i] != 0));
    }
    frame->kept[0] = (int32_t)(((uint32_t)(POINTS - 1u) << 16) / frame->length); /* points a LED */
    frame->kept[1] = lit;
    return listens || lit ? GLANZ_STEP_MOVES : 0;
}

/* The shape at a place, -127 to 127, 8 bits below the point. */
static int32_t shape_at(const struct memory *memory, const struct glanz_frame *frame, glanz_place x) {
    uint32_t at = x <= 0 ? 0 : glanz_times_here((uint32_t)x, (uint32_t)frame->kept[0]);
    uint32_t first = at >> 16 > POINTS - 2u ? POINTS - 2u : at >> 16;
    int32_t part = (int32_t)((at >> 8) & 0xFFu);
    return memory->point[first] * (256 - part) + memory->point[first + 1u] * part;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    const struct memory *memory = (const struct memory *)frame->memory;
    (void)cover;
    if (memory == NULL || frame->kept[1] == 0) {
        glanz_light_fill(light, frame->color[2], count);
        return;
    }
    for (uint8_t i = 0; i < count; i++) {
        int32_t shape = shape_at(memory, frame, places->x[i]); /* at most 32512 */
        uint32_t level;
        int above = shape >= 0;
        if (frame->rows == 1) {
            level = (uint32_t)(shape < 0 ? -shape : shape) * 2u;
        } else { /* the line goes through all that lies between the shape at either edge of the LED */
            int32_t other = shape_at(memory, frame, places->x[i] - GLANZ_HALF);
            int32_t next = shape_at(memory, frame, places->x[i] + GLANZ_HALF);
            int32_t high = (other > next ? other : next) * frame->rows; /* in 65024ths of a row, above the middle */
            int32_t low = (other < next ? other : next) * frame->rows;
            int32_t y = (int32_t)((uint32_t)frame->rows << 15) - places->y[i]; /* 16.16 rows above the middle */
            int32_t off = y > high ? y - high : y < low ? low - y : 0;
            level = off >= 65536 ? 0 : 65536u - (uint32_t)off;
            above = y >= 0;
        }
        struct glanz_light is = glanz_light_mix(frame->color[2], above ? frame->color[0] : frame->color[1], level);
        glanz_light_put(&light[i], is.red, is.green, is.blue);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_waveform = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("waveform"),
    .description = GLANZ_DESCRIPTION("the shape of a sound: a line in a field, on a line of LEDs brightness"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_SOUND | GLANZ_NEEDS_CLOCK,
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .least_columns = 5,
    .least_rows = 1,
};

#endif
