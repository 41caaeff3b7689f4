/* SPDX-License-Identifier: MIT */
/* For effects with an up and a down: on a line of LEDs, along it is up. Private to src/effects. */
#ifndef GLANZ_EFFECTS_UPRIGHT_H
#define GLANZ_EFFECTS_UPRIGHT_H

#include <glanz/effects.h>

#if GLANZ_FIELDS

struct upright {
    const glanz_place *x;
    const glanz_place *y;
    uint16_t columns, rows;
    uint8_t line; /* 1: y counts from the far end of the line, x is of no account */
};

static inline struct upright upright_of(const struct glanz_frame *frame, const struct glanz_places *places) {
    struct upright upright = {places->x, places->y, frame->length, frame->rows, 0};
    upright.line = frame->rows == 1 && frame->length > 1;
    if (upright.line) {
        upright.x = places->y;
        upright.columns = 1;
        upright.rows = frame->length;
    }
    return upright;
}

/* Rows below the top edge. */
static inline glanz_place upright_y(const struct upright *upright, const struct glanz_places *places, uint8_t i) {
    return upright->line ? (glanz_place)upright->rows * GLANZ_STEP - places->x[i] : places->y[i];
}

/* How many there are of what is told for 100 LEDs: at least one. */
static inline uint32_t count_of(const struct glanz_frame *frame, int32_t of_100, uint32_t most) {
    uint32_t count = ((uint32_t)frame->length * frame->rows / 4u * (uint32_t)of_100 + 12u) / 25u;
    return count < 1u ? 1u : count > most ? most : count;
}

/* ---- what is drawn on a raster before it is shaded ---- */

/* The raster behind what an effect remembers besides. @param head bytes of that, a multiple of 8. */
static inline struct glanz_raster upright_raster(const struct glanz_frame *frame, uint32_t head) {
    struct glanz_raster raster = {(struct glanz_light *)(void *)((uint8_t *)frame->memory + head), frame->length, frame->rows};
    if (frame->rows == 1 && frame->length > 1) { /* along a line is up */
        raster.columns = 1;
        raster.rows = frame->length;
    }
    return raster;
}

/* Bytes of both; 0 where there are more than an effect can have. */
static inline uint32_t upright_raster_memory(const struct glanz_frame *frame, uint32_t head) {
    uint32_t bytes = head + GLANZ_RASTER_BYTES(frame->length, frame->rows);
    return bytes > 65528u ? 0 : bytes;
}

/* Without memory, the background. */
static inline void upright_raster_shade(struct glanz_light *light, const struct glanz_frame *frame,
                                        const struct glanz_places *places, uint8_t count, uint32_t head) {
    if (frame->memory == NULL) {
        glanz_light_fill(light, frame->color[0], count);
        return;
    }
    struct glanz_raster raster = upright_raster(frame, head);
    if (frame->rows != 1 || frame->length <= 1) {
        glanz_raster_run(light, &raster, places->x, places->y, count);
        return;
    }
    glanz_place x[GLANZ_RUN];
    glanz_place y[GLANZ_RUN];
    for (uint8_t i = 0; i < count; i++) {
        x[i] = GLANZ_HALF;
        y[i] = (glanz_place)raster.rows * GLANZ_STEP - places->x[i];
    }
    glanz_raster_run(light, &raster, x, y, count);
}

/* The same for a raster that lies as the field does, and is all that the effect remembers. */
static inline uint32_t raster_memory(const struct glanz_frame *frame) {
    uint32_t bytes = GLANZ_RASTER_BYTES(frame->length, frame->rows);
    return bytes > 65528u ? 0 : bytes;
}

static inline struct glanz_raster raster_of(const struct glanz_frame *frame) {
    struct glanz_raster raster = {(struct glanz_light *)frame->memory, frame->length, frame->rows};
    return raster;
}

/* A thin line: points one LED apart, and what is left at its end. Cheaper than glanz_raster_line(). */
static inline void raster_streak(const struct glanz_raster *raster, const glanz_place ends[4], struct glanz_light light,
                                 uint32_t level) {
    int32_t across = ends[2] - ends[0];
    int32_t down = ends[3] - ends[1];
    uint32_t left = glanz_distance(across, down);
    int32_t points = (int32_t)(left >> 16) + 1;
    int32_t step_x = points > 1 ? across / (int32_t)((left + 255u) >> 8) * 256 : 0; /* one LED on */
    int32_t step_y = points > 1 ? down / (int32_t)((left + 255u) >> 8) * 256 : 0;
    glanz_place x = ends[0];
    glanz_place y = ends[1];
    for (int32_t i = 0; i < points; i++, x += step_x, y += step_y) {
        uint32_t part = i + 1 < points || i == 0 ? level : glanz_share_of(level, left & 0xFFFFu);
        glanz_raster_dot(raster, x, y, light, part);
    }
}

/* As an effect's shade_field. Without memory, the background. */
static inline void raster_shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                                const struct glanz_places *places, uint8_t count) {
    (void)cover;
    if (frame->memory == NULL) {
        glanz_light_fill(light, frame->color[0], count);
        return;
    }
    struct glanz_raster raster = raster_of(frame);
    glanz_raster_run(light, &raster, places->x, places->y, count);
}

/* ---- light ---- */

static inline uint16_t level_add(uint16_t a, uint32_t b) {
    uint32_t sum = a + b;
    return (uint16_t)(sum > 65535u ? 65535u : sum);
}

/* A colour over a light, by how much it covers, 0 to 65536. */
static inline void light_over(struct glanz_light *light, struct glanz_light color, uint32_t covers) {
    glanz_light_put(light, glanz_mix16(light->red, color.red, covers), glanz_mix16(light->green, color.green, covers),
                    glanz_mix16(light->blue, color.blue, covers));
}

/* Some of a colour onto a light. @param level 0 to 65536 */
static inline void light_add(struct glanz_light *light, struct glanz_light color, uint32_t level) {
    glanz_light_put(light, level_add(light->red, glanz_gain16(color.red, level)),
                    level_add(light->green, glanz_gain16(color.green, level)),
                    level_add(light->blue, glanz_gain16(color.blue, level)));
}

#endif
#endif
