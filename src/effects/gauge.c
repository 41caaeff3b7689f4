/* SPDX-License-Identifier: MIT */
/* Gauge: a value on a scale, as a bar that fills it or a pointer that stands on it; the scale's colours are the palette's. */
#include "scale.h"

#if GLANZ_FIELDS && GLANZ_PARAMS >= 6

static GLANZ_CONST char *GLANZ_CONST froms[] = {GLANZ_TEXT("start"), GLANZ_TEXT("end"), GLANZ_TEXT("middle")};
enum { AS_BAR, AS_POINTER };
static GLANZ_CONST char *GLANZ_CONST forms[] = {GLANZ_TEXT("bar"), GLANZ_TEXT("pointer")};

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_GAUGE_BACKGROUND] = GLANZ_COLOR_ROW("background", "behind it", GLANZ_RGB(0, 0, 0)),
    [GLANZ_GAUGE_MARK] = GLANZ_COLOR_ROW("mark", "marks of the scale, where the bar is not", GLANZ_RGB(0x30, 0x38, 0x3C)),
    [GLANZ_GAUGE_VALUE] = GLANZ_PART_ROW("value", "of the scale, such as a signal's", GLANZ_PERCENT(50)),
    [GLANZ_GAUGE_MARKS] =
        GLANZ_PARAM_ROW("marks", "parts that they divide it into", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 0, 24, 5),
    [GLANZ_GAUGE_FORM] = GLANZ_CHOICE_ROW("form", "a bar that fills it, or a pointer", forms, AS_BAR),
    [GLANZ_GAUGE_FROM] = GLANZ_CHOICE_ROW("from", "where the scale begins", froms, SCALE_FROM_START),
};

/* sea green, amber, red */
static GLANZ_CONST struct glanz_stop stops[] = {{0, {0, 26000, 12000}, 119304u},
                                                {36000, {50000, 30000, 0}, 186737u},
                                                {59000, {65535, 3500, 800}, 657226u},
                                                {65535, {65535, 1800, 400}, 0u}};
static GLANZ_CONST struct glanz_gradient warning = {
    .stops = stops, .count = 4, .first = {0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 2}};

enum { KEPT_MARKS, KEPT_SHARE, KEPT_HIGH, KEPT_POINT, KEPT_MARK };

static uint8_t step(struct glanz_frame *frame) {
    struct scale scale = scale_of(frame, frame->number[GLANZ_GAUGE_FROM], frame->number[GLANZ_GAUGE_MARKS]);
    uint32_t value = (uint32_t)frame->number[GLANZ_GAUGE_VALUE];
    frame->kept[KEPT_MARKS] = (int32_t)scale.marks;
    frame->kept[KEPT_SHARE] = (int32_t)scale.share;
    frame->kept[KEPT_HIGH] = (int32_t)glanz_times(scale.all, value);
    frame->kept[KEPT_POINT] = scale.all < GLANZ_STEP ? 0 : (int32_t)glanz_times(scale.all - GLANZ_STEP, value);
    frame->kept[KEPT_MARK] = (int32_t)scale.mark;
    return 0;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    (void)cover;
    for (uint8_t i = 0; i < count; i++) {
        uint32_t way = scale_along(frame, frame->number[GLANZ_GAUGE_FROM], places->x[i]);
        uint32_t over = frame->number[GLANZ_GAUGE_FORM] == AS_BAR ? scale_below(way, (uint32_t)frame->kept[KEPT_HIGH])
                                                                  : scale_point(way, (uint32_t)frame->kept[KEPT_POINT]);
        struct glanz_light at = {0, 0, 0};
        if (over != 0) {
            at = glanz_gradient_at(frame->gradient, scale_share(way, (uint32_t)frame->kept[KEPT_SHARE]));
        }
        if (over < 65536u) {
            uint8_t marked = scale_marked(way, (uint32_t)frame->kept[KEPT_MARK], (uint32_t)frame->kept[KEPT_MARKS]);
            at = glanz_light_mix(frame->color[marked], at, over);
        }
        glanz_light_put(&light[i], at.red, at.green, at.blue);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_gauge = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("gauge"),
    .description = GLANZ_DESCRIPTION("a value on a scale with marks: a bar or a pointer; it stands until its value changes"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &warning,
    .step = step,
    .shade_field = shade,
    .least_columns = 4,
    .least_rows = 1,
};

#endif
