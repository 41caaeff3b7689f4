/* SPDX-License-Identifier: MIT */
/* The palette over a background, a run at a time. Private to src/effects. */
#ifndef GLANZ_EFFECTS_OVER_H
#define GLANZ_EFFECTS_OVER_H

#include <glanz/effects.h>

#if GLANZ_FIELDS

/* @param positions of the palette. @param levels how much of it is seen, 0 to 65536; the rest is the first colour. */
static inline void palette_over(struct glanz_light *light, const struct glanz_frame *frame, const uint16_t *positions,
                                const uint32_t *levels, uint8_t count) {
    const struct glanz_light back = frame->color[0];
    glanz_gradient_run(light, frame->gradient, positions, count);
    for (const struct glanz_light *end = light + count; light != end; light++, levels++) {
        uint32_t level = *levels;
        if (level == 0) {
            glanz_light_put(light, back.red, back.green, back.blue);
        } else if (level < 65536u) {
            glanz_light_put(light, glanz_mix16(back.red, light->red, level), glanz_mix16(back.green, light->green, level),
                            glanz_mix16(back.blue, light->blue, level));
        }
    }
}

#endif
#endif
