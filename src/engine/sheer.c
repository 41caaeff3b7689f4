/* SPDX-License-Identifier: MIT */
/* Segments that let light through LED by LED: looks that tell what they cover, and masks. */
#include "compose.h"

#if GLANZ_FIELDS

/* Light and cover of a segment; of looks that crossfade both are mixed alike. */
static void shade_sheer(struct glanz_light *over, uint16_t *cover, struct glanz_light *spare, const struct segment *segment,
                        const struct run_places *run_places, uint8_t count) {
    uint16_t spare_cover[GLANZ_RUN];
    for (uint8_t i = 0; i < segment->count; i++) {
        const struct layer *layer = segment->order[i];
        if (i == 0) {
            glanz_shade_layer(over, cover, layer, segment->gain, run_places, count);
        } else if (layer->weight != 0) {
            glanz_shade_layer(spare, spare_cover, layer, segment->gain, run_places, count);
            glanz_light_cover(over, spare, count, layer->weight);
            for (uint8_t k = 0; k < count; k++) {
                cover[k] = glanz_mix16(cover[k], spare_cover[k], layer->weight);
            }
        }
    }
}

static void lay_sheer(struct glanz_light *light, struct glanz_light *over, struct glanz_light *spare, const uint32_t *shares,
                      const struct segment *segment, const struct run_places *run_places, uint8_t count) {
    uint16_t cover[GLANZ_RUN];
    const uint8_t *taken = segment->field.sparse ? run_places->taken : NULL;
    shade_sheer(over, cover, spare, segment, run_places, count);
    for (uint8_t i = 0; shares != NULL && i < count; i++) {
        uint32_t share = shares[taken == NULL ? i : taken[i]];
        cover[i] = glanz_gain16(cover[i], share);
        glanz_light_put(&over[i], glanz_gain16(over[i].red, share), glanz_gain16(over[i].green, share),
                        glanz_gain16(over[i].blue, share));
    }
    glanz_blend_sheer(light, over, cover, taken, count, (enum glanz_blend)segment->is->blend, segment->opacity);
}

static uint16_t brightest(const struct glanz_light *light) {
    uint16_t most = light->red > light->green ? light->red : light->green;
    return light->blue > most ? light->blue : most;
}

/* One mask's part in what is left. */
static void lay_mask(uint32_t *shares, const struct segment *mask, const struct glanz_light *over, const uint16_t *cover,
                     const uint8_t *taken, uint8_t count) {
    uint8_t blend = mask->is->blend;
    uint8_t by_cover = blend == GLANZ_BLEND_MASK_BY_COVERAGE || blend == GLANZ_BLEND_MASK_BY_GAPS;
    uint8_t inverse = blend == GLANZ_BLEND_MASK_BY_DARKNESS || blend == GLANZ_BLEND_MASK_BY_GAPS;
    for (uint8_t i = 0; i < count; i++) {
        uint32_t level = by_cover ? cover[i] : brightest(&over[i]);
        level += level >> 15;
        level = inverse ? 65536u - level : level;
        level = 65536u - glanz_share_of(65536u - level, mask->opacity);
        uint32_t *share = &shares[taken == NULL ? i : taken[i]];
        *share = glanz_share_of(*share, level);
    }
}

/* What the masks over a segment leave of it. @param shares filled: of each LED of the run, 0 to 65536.
 * @return the index of the last of them. */
static uint8_t lay_masks(uint32_t *shares, struct glanz_light *over, struct glanz_light *spare, struct run_places *places,
                         const struct glanz_engine *engine, const struct overlapping *overlapping, uint8_t at,
                         const struct strip_run *run, uint8_t count) {
    uint16_t cover[GLANZ_RUN];
    uint8_t rank = engine->segments[overlapping->segment[at]].rank;
    for (uint8_t i = 0; i < count; i++) {
        shares[i] = 65536u;
    }
    for (uint8_t next = (uint8_t)(at + 1u); next < overlapping->count; next++) {
        const struct segment *mask = &engine->segments[overlapping->segment[next]];
        rank++;
        if (mask->is->blend < GLANZ_BLENDS || mask->rank != rank) {
            break;
        }
        at = next;
        uint8_t some = FIELDS(engine)->find_run_places(places, engine, mask, run, count);
        if (some != 0) {
            shade_sheer(over, cover, spare, mask, places, some);
            lay_mask(shares, mask, over, cover, mask->field.sparse ? places->taken : NULL, some);
        }
    }
    return at;
}

uint8_t glanz_compose_sheer(struct glanz_light *light, struct glanz_light *over, struct glanz_light *spare,
                            struct run_places *places, const struct glanz_engine *engine, const struct overlapping *overlapping,
                            uint8_t at, const struct strip_run *run, uint8_t count) {
    const struct segment *segment = &engine->segments[overlapping->segment[at]];
    uint32_t shares[GLANZ_RUN];
    uint8_t last = at;
    if (segment->is->blend >= GLANZ_BLENDS) {
        return at; /* a mask by itself has nothing to decide */
    }
    if (segment->masked != 0) {
        last = lay_masks(shares, over, spare, places, engine, overlapping, at, run, count);
    }
    uint8_t some = FIELDS(engine)->find_run_places(places, engine, segment, run, count);
#if SHORT_WAYS
    if (at == 0 && is_sheer_on_dark(segment)) {
        uint16_t cover[GLANZ_RUN];
        shade_sheer(light, cover, spare, segment, places, some);
        return last;
    }
#endif
    if (some != 0) {
        lay_sheer(light, over, spare, last != at ? shares : NULL, segment, places, some);
    }
    return last;
}

void glanz_find_masks(struct glanz_engine *engine) {
    uint8_t above = 0; /* is a mask */
    for (uint8_t i = engine->segment_count; i > 0; i--) {
        struct segment *segment = &engine->segments[engine->stack == NULL ? i - 1 : engine->stack[i - 1]];
        uint8_t is = segment->is->blend >= GLANZ_BLENDS;
        segment->rank = (uint8_t)(i - 1);
        segment->masked = (is | above) != 0 ? SEGMENT_IS_MASKED : 0;
        above = is;
    }
}

#endif
