/* SPDX-License-Identifier: MIT */
/* Blending what lets light through: light that comes times its cover, so that mixing it is plain arithmetic. */
#include <glanz/light.h>

#if GLANZ_FIELDS

static uint16_t blend_channel(uint16_t under, uint16_t over, uint32_t cover, enum glanz_blend blend) {
    uint16_t rest = glanz_gain16(under, 65536u - cover);
    uint16_t part = (uint16_t)(under - rest);
    switch (blend) {
    case GLANZ_BLEND_ADD: rest = under; break;
    case GLANZ_BLEND_LIGHTER: return under > over ? under : over;
    case GLANZ_BLEND_DARKER: over = over < part ? over : part; break;
    case GLANZ_BLEND_MULTIPLY: over = glanz_gain16(under, (uint32_t)over + (over >> 15)); break;
    case GLANZ_BLEND_COVER:
    case GLANZ_BLEND_MASK_BY_BRIGHTNESS:
    case GLANZ_BLEND_MASK_BY_DARKNESS:
    case GLANZ_BLEND_MASK_BY_COVERAGE:
    case GLANZ_BLEND_MASK_BY_GAPS: break;
    }
    uint16_t sum = (uint16_t)(rest + over);
    return sum < over ? 65535 : sum;
}

void glanz_blend_sheer(struct glanz_light *under, const struct glanz_light *over, const uint16_t *cover, const uint8_t *taken,
                       uint8_t count, enum glanz_blend blend, uint32_t opacity) {
    for (uint8_t i = 0; i < count; i++) {
        struct glanz_light *at = &under[taken == NULL ? i : taken[i]];
        uint32_t part = glanz_share_of((uint32_t)cover[i] + (cover[i] >> 15), opacity);
        if (blend == GLANZ_BLEND_COVER && (part == 0 || part == 65536u)) { /* most LEDs, most often */
            if (part != 0) {
                glanz_light_put(at, over[i].red, over[i].green, over[i].blue);
            }
            continue;
        }
        glanz_light_put(at, blend_channel(at->red, glanz_gain16(over[i].red, opacity), part, blend),
                        blend_channel(at->green, glanz_gain16(over[i].green, opacity), part, blend),
                        blend_channel(at->blue, glanz_gain16(over[i].blue, opacity), part, blend));
    }
}

#endif
