/* SPDX-License-Identifier: MIT */
/* Covers: what effects that paint parts of the line share. */
#include <glanz/effects.h>

#ifdef __AVR__
void glanz_pair_mix(struct glanz_light *light, const struct glanz_pair *pair, uint32_t f) {
    light->red = glanz_mix16(pair->from.red, pair->to.red, f);
    light->green = glanz_mix16(pair->from.green, pair->to.green, f);
    light->blue = glanz_mix16(pair->from.blue, pair->to.blue, f);
}
#endif

void glanz_cover_run(struct glanz_light *light, struct glanz_light back, struct glanz_light front, const int32_t ends[4],
                     const glanz_place *places, uint8_t count) {
    struct glanz_pair pair = glanz_pair_of(back, front);
    uint16_t red = back.red;
    uint16_t green = back.green;
    uint16_t blue = back.blue;
    /* a LED is touched where its place lies less than half a LED outside */
    uint32_t first = (uint32_t)ends[0] - GLANZ_HALF;
    uint32_t first_span = ends[1] > ends[0] ? (uint32_t)(ends[1] - ends[0]) + GLANZ_STEP : 0;
    uint32_t second = (uint32_t)ends[2] - GLANZ_HALF;
    uint32_t second_span = ends[3] > ends[2] ? (uint32_t)(ends[3] - ends[2]) + GLANZ_STEP : 0;
    for (const glanz_place *end = places + count; places != end; places++) {
        glanz_place place = *places;
        uint8_t which = (uint32_t)place - first < first_span ? 0 : 2;
        if (which == 0 || (uint32_t)place - second < second_span) {
            uint32_t cover = glanz_cover(place, ends[which], ends[which + 1]);
            if (which == 0 && second_span != 0) { /* a LED that both touch */
                cover += glanz_cover(place, ends[2], ends[3]);
            }
            glanz_pair_mix(light, &pair, cover);
        } else {
            glanz_light_put(light, red, green, blue);
        }
        light++;
    }
}
