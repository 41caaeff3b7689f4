/* SPDX-License-Identifier: MIT */
/* Covers: what effects that paint parts of the line share. */
#include <glanz/effects.h>

/* Over the background lies one interval; `other` is what a second covers of LEDs that both touch, NULL for none. */
static void lay_interval(struct glanz_light *light, const struct glanz_pair *pair, const int32_t *interval,
                         const int32_t *other, const glanz_place *places, uint8_t count) {
    if (interval[1] <= interval[0]) {
        return;
    }
    /* a LED is touched where its place lies less than half a LED outside */
    uint32_t first = (uint32_t)interval[0] - GLANZ_HALF;
    uint32_t span = (uint32_t)(interval[1] - interval[0]) + GLANZ_STEP;
    const glanz_place *place = places;
    for (const glanz_place *end = places + count; place != end; place++) {
        if ((uint32_t)*place - first < span) {
            uint32_t cover = glanz_cover(*place, interval[0], interval[1]);
            cover += other == NULL ? 0 : glanz_cover(*place, other[0], other[1]);
            glanz_pair_mix(light + (place - places), pair, cover);
        }
    }
}

void glanz_cover_run(struct glanz_light *light, struct glanz_light back, struct glanz_light front, const int32_t ends[4],
                     const glanz_place *places, uint8_t count) {
    struct glanz_pair pair = glanz_pair_of(back, front);
    uint8_t two = ends[3] > ends[2];
    glanz_light_fill(light, back, count);
    lay_interval(light, &pair, ends, two ? ends + 2 : NULL, places, count);
    if (two) {
        lay_interval(light, &pair, ends + 2, ends, places, count);
    }
}
