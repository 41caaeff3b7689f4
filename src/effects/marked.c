/* SPDX-License-Identifier: MIT */
/* Marked: single LEDs, stretches and rectangles in colours chosen by hand. */
#include <glanz/effects.h>

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_MARKED_BACKGROUND] = GLANZ_COLOR_ROW("background", "of all that is not marked", GLANZ_RGB(0, 0, 0)),
    [GLANZ_MARKED_CLEAR] = GLANZ_FLAG_ROW("clear", "what lies under it shows there", 1),
};

/* Does a mark of a rectangle hold this point? */
static int holds(GLANZ_CONST struct glanz_mark *mark, glanz_place x, glanz_place y) {
    uint32_t column = (uint32_t)x >> 16;
    uint32_t row = (uint32_t)y >> 16;
    return column - mark->left < mark->columns && row - mark->top < mark->rows;
}

/* One mark over what lies under it. Its colour is worked out for the first LED that it marks. */
static void lay_mark(struct glanz_light *light, uint16_t *cover, GLANZ_CONST struct glanz_mark *mark,
                     const struct glanz_places *places, uint8_t count) {
    struct glanz_light color = {0, 0, 0};
    uint8_t known = 0;
    uint16_t first = mark->first;
    uint16_t leds = mark->leds;
    for (uint8_t i = 0; i < count; i++) {
        if (mark->placed ? !holds(mark, places->x[i], places->y[i]) : (uint16_t)(places->index[i] - first) >= leds) {
            continue;
        }
        if (!known) {
            color = glanz_color_light(mark->color, NULL, 0);
            known = 1;
        }
        glanz_light_put(&light[i], color.red, color.green, color.blue);
        if (cover != NULL) {
            cover[i] = 65535;
        }
    }
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    GLANZ_CONST struct glanz_marks *marks = (GLANZ_CONST struct glanz_marks *)frame->content;
    struct glanz_light none = {0, 0, 0};
    uint8_t clear = frame->number[GLANZ_MARKED_CLEAR] != 0;
    glanz_light_fill(light, clear ? none : frame->color[GLANZ_MARKED_BACKGROUND], count);
    for (uint8_t i = 0; cover != NULL && i < count; i++) {
        cover[i] = clear ? 0 : 65535;
    }
    for (uint16_t mark = 0; marks != NULL && mark < marks->count; mark++) { /* the last one wins */
        lay_mark(light, cover, &marks->list[mark], places, count);
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_marked = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("marked"),
    .description = GLANZ_DESCRIPTION("LEDs coloured by hand, one by one, by stretches and by rectangles"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_INDEX | GLANZ_NEEDS_COVER,
    .content = GLANZ_CONTENT_MARKS,
    .shade_field = shade,
};

#endif
