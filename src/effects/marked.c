/* SPDX-License-Identifier: MIT */
/* Marked: single LEDs, stretches and rectangles in colours chosen by hand. */
#include <glanz/effects.h>

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_MARKED_BACKGROUND] = GLANZ_COLOR_ROW("background", "of all that is not marked", GLANZ_RGB(0, 0, 0)),
    [GLANZ_MARKED_CLEAR] = GLANZ_FLAG_ROW("clear", "what lies under it shows there", 1),
};

static int marks_it(GLANZ_CONST struct glanz_mark *mark, uint16_t index, glanz_place x, glanz_place y) {
    if (!mark->placed) {
        return index >= mark->first && index - mark->first < mark->leds;
    }
    int32_t column = x / GLANZ_STEP;
    int32_t row = y / GLANZ_STEP;
    return column >= (int32_t)mark->left && column - (int32_t)mark->left < (int32_t)mark->columns &&
           row >= (int32_t)mark->top && row - (int32_t)mark->top < (int32_t)mark->rows;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    GLANZ_CONST struct glanz_marks *marks = (GLANZ_CONST struct glanz_marks *)frame->content;
    struct glanz_light none = {0, 0, 0};
    uint8_t clear = frame->number[GLANZ_MARKED_CLEAR] != 0;
    uint16_t known = 0; /* 1 + the mark whose light is */
    struct glanz_light color = none;
    for (uint8_t i = 0; i < count; i++) {
        uint16_t mark = marks == NULL ? 0 : marks->count;
        while (mark != 0 && !marks_it(&marks->list[mark - 1u], places->index[i], places->x[i], places->y[i])) {
            mark--;
        }
        if (mark != 0 && mark != known) {
            color = glanz_color_light(marks->list[mark - 1u].color, NULL, 0);
            known = mark;
        }
        light[i] = mark != 0 ? color : clear ? none : frame->color[GLANZ_MARKED_BACKGROUND];
        if (cover != NULL) {
            cover[i] = mark == 0 && clear ? 0 : 65535;
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_marked = {
    .name = GLANZ_TEXT("marked"),
    .description = GLANZ_DESCRIPTION("LEDs coloured by hand, one by one, by stretches and by rectangles"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_INDEX | GLANZ_NEEDS_COVER,
    .content = GLANZ_CONTENT_MARKS,
    .shade_field = shade,
};

#endif
