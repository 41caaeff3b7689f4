/* SPDX-License-Identifier: MIT */
/* Loudness: how loud it is, as a bar with a peak that falls. Its length is even in dB; marks divide it evenly. */
#include <glanz/effects.h>
#include <glanz/signals.h>

#include "over.h"
#include "peaks.h"
#include "scale.h"

#if GLANZ_FIELDS && GLANZ_DRIVES_MOST > 0

static GLANZ_CONST char *GLANZ_CONST froms[] = {GLANZ_TEXT("start"), GLANZ_TEXT("end"), GLANZ_TEXT("middle")};

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_LOUDNESS_BACKGROUND] = GLANZ_COLOR_ROW("background", "behind it", GLANZ_RGB(0, 0, 0)),
    [GLANZ_LOUDNESS_HEARS] = GLANZ_SIGNAL_ROW("hears", "an input for sound; else the first"),
    [GLANZ_LOUDNESS_FROM] = GLANZ_CHOICE_ROW("from", "where it grows from", froms, SCALE_FROM_START),
    [GLANZ_LOUDNESS_MARKS] = GLANZ_PARAM_ROW("marks", "that divide it evenly: with a span of 36 dB and 6 marks one is 6 dB",
                                             GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 0, 24, 0),
    [GLANZ_LOUDNESS_PEAKS] = GLANZ_FLAG_ROW("peaks", "a point that stays at the highest and falls", 1),
    [GLANZ_LOUDNESS_SPEED] = GLANZ_RATE_ROW("how fast the peak falls: a pass is all of the bar", GLANZ_UNIT_PASS_TIME, 2000),
};

struct memory {
    struct fall fall;
    uint16_t level, peak;
};

static uint32_t memory(const struct glanz_frame *frame) {
    (void)frame;
    return sizeof(struct memory);
}

static uint8_t step(struct glanz_frame *frame) {
    struct memory *memory = (struct memory *)frame->memory;
    const struct glanz_heard *heard = glanz_frame_heard(frame, GLANZ_LOUDNESS_HEARS);
    if (memory == NULL) {
        return 0;
    }
    uint16_t fall = fallen(&memory->fall, frame, GLANZ_LOUDNESS_SPEED);
    memory->level = heard == NULL ? 0 : heard->level[GLANZ_RANGE_ALL];
    memory->peak = peak_of(memory->peak, fall, memory->level);
    struct scale scale = scale_of(frame, frame->number[GLANZ_LOUDNESS_FROM], frame->number[GLANZ_LOUDNESS_MARKS]);
    frame->kept[0] = (int32_t)scale.marks;
    frame->kept[1] = (int32_t)scale.share;
    frame->kept[2] = (int32_t)glanz_times(scale.all, glanz_level_of_value(memory->level));
    frame->kept[3] =
        scale.all < GLANZ_STEP ? 0 : (int32_t)glanz_times(scale.all - GLANZ_STEP, glanz_level_of_value(memory->peak));
    frame->kept[4] = memory->peak;
    frame->kept[5] = (int32_t)scale.mark;
    return memory->peak != 0 || heard != NULL ? GLANZ_STEP_MOVES : 0;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    (void)cover;
    if (frame->memory == NULL) {
        glanz_light_fill(light, frame->color[0], count);
        return;
    }
    const glanz_place *x = places->x;
    uint16_t positions[GLANZ_RUN];
    positions[0] = 0; /* also of a run of none */
    const uint32_t high = (uint32_t)frame->kept[2];
    const uint32_t peak = (uint32_t)frame->kept[3];
    const uint8_t peaks = frame->number[GLANZ_LOUDNESS_PEAKS] && frame->kept[4] != 0;
    const uint32_t share = (uint32_t)frame->kept[1];
    const int32_t from = frame->number[GLANZ_LOUDNESS_FROM];
    uint32_t levels[GLANZ_RUN];
    for (uint8_t i = 0; i < count; i++) {
        uint32_t way = scale_along(frame, from, x[i]);
        uint32_t over = scale_below(way, high);
        if (peaks) {
            uint32_t lit = scale_point(way, peak);
            over = lit > over ? lit : over;
        }
        if (over < 6554u && scale_marked(way, (uint32_t)frame->kept[5], (uint32_t)frame->kept[0])) {
            over = 6554u; /* a tenth of the light, on one LED */
        }
        positions[i] = scale_share(way, share);
        levels[i] = over;
    }
    palette_over(light, frame, positions, levels, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_loudness = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("loudness"),
    .description =
        GLANZ_DESCRIPTION("how loud a sound is: a bar that is even in dB, with a peak that falls; a pass is its fall"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT | GLANZ_NEEDS_SOUND | GLANZ_NEEDS_CLOCK,
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .gradient = &glanz_gradient_heard,
    .least_columns = 4,
    .least_rows = 1,
};

#endif
