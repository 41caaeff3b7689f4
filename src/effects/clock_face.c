/* SPDX-License-Identifier: MIT */
/* Clock face: one with hands in a field; on a ring and along a line points for the hour, the minute and the second. The first
 * LED of a ring is twelve. Dark but for its marks until the time is known. */
#include "upright.h"

#if GLANZ_FIELDS && GLANZ_PARAMS >= 6

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_CLOCK_FACE_HOUR] = GLANZ_COLOR_ROW("hour", "its hand or point", GLANZ_RGB(0xFF, 0x7A, 0x1E)),
    [GLANZ_CLOCK_FACE_MINUTE] = GLANZ_COLOR_ROW("minute", "its hand or point", GLANZ_RGB(0x2E, 0xB8, 0xB0)),
    [GLANZ_CLOCK_FACE_SECOND] = GLANZ_COLOR_ROW("second", "its hand or point; black for none", GLANZ_RGB(0xB8, 0xC4, 0xCC)),
    [GLANZ_CLOCK_FACE_MARKS] =
        GLANZ_SHARE_ROW("marks", "how bright the hours are marked, in the colour of the hour", GLANZ_PERCENT(6)),
    [GLANZ_CLOCK_FACE_SWEEP] = GLANZ_FLAG_ROW("sweep", "the second goes on evenly in place of once a second", 1),
    [GLANZ_CLOCK_FACE_CLEAR] = GLANZ_FLAG_ROW("clear", "what lies under the segment is seen between them", 0),
};

/* A point or a hand at a part of a turn, 0.32, as long as a share of the radius, as wide as so many 256ths of a LED. */
static void draw(const struct glanz_raster *raster, uint8_t closed, uint32_t turn, uint32_t reach, glanz_place width,
                 struct glanz_light color) {
    glanz_place length = (glanz_place)raster->columns * GLANZ_STEP;
    if (raster->rows == 1) {
        glanz_place x = (glanz_place)glanz_mul32_high(turn, (uint32_t)length) + (closed ? GLANZ_HALF : 0);
        glanz_place half = width > GLANZ_STEP ? (width - GLANZ_STEP) / 2 : 0;
        for (glanz_place by = 0; by != INT32_MAX; by = closed && by == 0 ? (x > length / 2 ? -length : length) : INT32_MAX) {
            const glanz_place ends[4] = {x - half + by, GLANZ_HALF, x + half + by, GLANZ_HALF}; /* and over the seam */
            if (half == 0) {
                glanz_raster_dot(raster, x + by, GLANZ_HALF, color, 65536u);
            } else {
                glanz_raster_line(raster, ends, GLANZ_STEP, color, 65536u);
            }
        }
        return;
    }
    uint16_t bearing = (uint16_t)(turn >> 16);
    glanz_place middle_x = length / 2;
    glanz_place middle_y = (glanz_place)raster->rows * GLANZ_HALF;
    glanz_place radius = (middle_x < middle_y ? middle_x : middle_y) - GLANZ_HALF;
    int64_t far = (int64_t)glanz_times((uint32_t)(radius < 0 ? 0 : radius), reach);
    const glanz_place ends[4] = {middle_x, middle_y, middle_x + (glanz_place)((far * glanz_sine(bearing)) >> 15),
                                 middle_y - (glanz_place)((far * glanz_sine((uint16_t)(bearing + 16384u))) >> 15)};
    glanz_raster_line(raster, ends, width, color, 65536u);
}

static void draw_marks(const struct glanz_raster *raster, const struct glanz_frame *frame) {
    struct glanz_light color = glanz_light_scale(frame->color[0], (uint32_t)frame->number[GLANZ_CLOCK_FACE_MARKS]);
    uint32_t least = raster->rows == 1 ? raster->columns / 2u : raster->rows < raster->columns ? raster->rows : raster->columns;
    uint32_t count = least >= 11u ? 12u : 4u; /* where they would touch, every third */
    for (uint32_t i = 0; i < count; i++) {
        uint32_t turn = i * (0xFFFFFFFFu / count + 1u);
        if (raster->rows == 1) {
            draw(raster, frame->closed, turn, 65536u, GLANZ_STEP, color);
            continue;
        }
        uint16_t bearing = (uint16_t)(turn >> 16);
        glanz_place x = (glanz_place)raster->columns * GLANZ_HALF;
        glanz_place y = (glanz_place)raster->rows * GLANZ_HALF;
        int32_t radius = (x < y ? x : y) - GLANZ_HALF;
        x += (glanz_place)(((int64_t)radius * glanz_sine(bearing)) >> 15);
        y -= (glanz_place)(((int64_t)radius * glanz_sine((uint16_t)(bearing + 16384u))) >> 15);
        glanz_raster_dot(raster, x, y, color, 65536u);
    }
}

#define OF_HOURS 99420u /* 2^32 over the seconds of half a day, of an hour, of a minute */
#define OF_MINUTES 1193046u
#define OF_SECONDS 71582788u

static uint8_t step(struct glanz_frame *frame) {
    const struct glanz_world *world = frame->world;
    if (frame->memory == NULL) {
        return 0;
    }
    struct glanz_raster raster = raster_of(frame);
    struct glanz_light none = {0, 0, 0};
    glanz_raster_fill(&raster, none);
    draw_marks(&raster, frame);
    if (world == NULL || !world->known) {
        return GLANZ_STEP_MOVES;
    }
    uint8_t is_line = raster.rows == 1;
    uint32_t least = is_line ? raster.columns : raster.rows < raster.columns ? raster.rows : raster.columns;
    glanz_place width = is_line ? (glanz_place)(least * (uint32_t)GLANZ_STEP / 24u) : GLANZ_STEP + (glanz_place)(least * 2048u);
    uint32_t part = frame->number[GLANZ_CLOCK_FACE_SWEEP] != 0 ? glanz_times(world->us, 281474977u) : 0; /* of a second, 0.16 */
    uint32_t second = world->second % 60u;
    uint32_t turn = second * OF_SECONDS + glanz_times(OF_SECONDS, part);
    draw(&raster, frame->closed, world->second % 43200u * OF_HOURS, 34000u, width, frame->color[0]);
    draw(&raster, frame->closed, world->second % 3600u * OF_MINUTES, 56000u, width * 2 / 3, frame->color[1]);
    draw(&raster, frame->closed, turn, 62000u, GLANZ_STEP * 2 / 3, frame->color[2]);
    return GLANZ_STEP_MOVES;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    uint8_t is_clear = frame->number[GLANZ_CLOCK_FACE_CLEAR] != 0;
    struct glanz_light none = {0, 0, 0};
    if (frame->memory == NULL) {
        glanz_light_fill(light, none, count);
    } else {
        raster_shade(light, NULL, frame, places, count);
    }
    for (uint8_t i = 0; cover != NULL && i < count; i++) {
        uint16_t most = light[i].red > light[i].green ? light[i].red : light[i].green;
        most = light[i].blue > most ? light[i].blue : most;
        cover[i] = is_clear ? most : 65535;
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_clock_face = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("clock face"),
    .description = GLANZ_DESCRIPTION("the time as a face with hands, or as points on a ring or a line; it goes with the time"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_CLOCK | GLANZ_NEEDS_COVER,
    .step = step,
    .shade_field = shade,
    .memory = raster_memory,
    .least_columns = 7,
    .least_rows = 1,
};

#endif
