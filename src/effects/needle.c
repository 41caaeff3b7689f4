/* SPDX-License-Identifier: MIT */
/* Needle: a point at a bearing, as wide as one likes. Round a ring it goes where the bearing says; along a line 0 is its first
 * LED and a whole turn would be its last. */
#include <glanz/effects.h>

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_NEEDLE_COLOR] = GLANZ_COLOR_ROW("color", "the point", GLANZ_KELVIN(2700)),
    [GLANZ_NEEDLE_BACKGROUND] = GLANZ_COLOR_ROW("background", "the rest", GLANZ_RGB(0, 0, 0)),
    [GLANZ_NEEDLE_BEARING] = GLANZ_TURN_ROW("bearing", "where it points; 0 is the first LED", 0),
    [GLANZ_NEEDLE_WIDTH] = GLANZ_SIZE_ROW("width", "of the point", 0, GLANZ_UNIT_LEDS, GLANZ_FIXED(2)),
};

/* Keeps two intervals of the line that the point covers: two where it lies over the seam of a ring. */
static uint8_t step(struct glanz_frame *frame) {
    glanz_place length = (glanz_place)frame->length * GLANZ_STEP;
    glanz_place way = frame->closed ? length : length - GLANZ_STEP;
    glanz_place width = frame->number[GLANZ_NEEDLE_WIDTH] < length ? frame->number[GLANZ_NEEDLE_WIDTH] : length;
    uint32_t turn = (uint32_t)frame->number[GLANZ_NEEDLE_BEARING];
    /* on a line the last bearing is its last LED */
    turn = frame->closed ? turn << 16 : turn << 16 | turn;
    glanz_place from = GLANZ_HALF + (glanz_place)glanz_mul32_high(turn, (uint32_t)way) - width / 2;
    glanz_place seam = !frame->closed ? 0 : from < 0 ? length : -length;
    frame->kept[0] = from;
    frame->kept[1] = from + width;
    frame->kept[2] = seam == 0 ? 0 : from + seam;
    frame->kept[3] = seam == 0 ? 0 : from + width + seam;
    return 0;
}

static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    glanz_cover_run(light, frame->color[1], frame->color[0], frame->kept, places, count);
}

GLANZ_CONST struct glanz_effect glanz_effect_needle = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("needle"),
    .description =
        GLANZ_DESCRIPTION("a point at a bearing: round a ring, or along a line; it stands until its bearing changes"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .step = step,
    .shade = shade,
};
