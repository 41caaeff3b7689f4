/* SPDX-License-Identifier: MIT */
/* Light over light: cover, add, lighter, darker, multiply. */
#include <glanz/light.h>

static uint16_t add16(uint16_t a, uint16_t b) {
    uint16_t sum = (uint16_t)(a + b);
    return sum < a ? 65535 : sum;
}

static uint16_t blend_channel(uint16_t under, uint16_t over, enum glanz_blend blend) {
    if (blend == GLANZ_BLEND_MULTIPLY) {
        return glanz_gain16(under, (uint32_t)over + (over >> 15));
    }
    return (blend == GLANZ_BLEND_LIGHTER) == (over > under) ? over : under;
}

void glanz_blend_run(struct glanz_light *under, const struct glanz_light *over, const uint8_t *taken, uint8_t count,
                     enum glanz_blend blend, uint32_t opacity) {
    if (blend == GLANZ_BLEND_COVER && taken == NULL) {
        glanz_light_cover(under, over, count, opacity);
        return;
    }
    for (uint8_t i = 0; i < count; i++) {
        struct glanz_light *at = &under[taken == NULL ? i : taken[i]];
        uint16_t red = over[i].red;
        uint16_t green = over[i].green;
        uint16_t blue = over[i].blue;
        if (blend == GLANZ_BLEND_ADD) { /* light on light: only what is added is made less */
            glanz_light_put(at, add16(at->red, glanz_gain16(red, opacity)), add16(at->green, glanz_gain16(green, opacity)),
                            add16(at->blue, glanz_gain16(blue, opacity)));
            continue;
        }
        if (blend != GLANZ_BLEND_COVER) {
            red = blend_channel(at->red, red, blend);
            green = blend_channel(at->green, green, blend);
            blue = blend_channel(at->blue, blue, blend);
        }
        glanz_light_put(at, glanz_mix16(at->red, red, opacity), glanz_mix16(at->green, green, opacity),
                        glanz_mix16(at->blue, blue, opacity));
    }
}
