/* SPDX-License-Identifier: MIT */
/* Places: LED i of a region stands at i + 1/2 steps; grain, mirror and reverse only change the place, never the effect. */
#include <glanz/layout.h>

#if defined(__AVR__) || defined(__OPTIMIZE_SIZE__)
#define UNROLLED 1 /* flash is scarcer there than time */
#else
#define UNROLLED 4
#endif

uint16_t glanz_surface_leds(GLANZ_CONST struct glanz_surface *surface) {
    uint16_t leds = 0;
    for (uint8_t i = 0; surface != NULL && i < surface->piece_count; i++) {
        leds = (uint16_t)(leds + surface->pieces[i].leds);
    }
    return leds;
}

uint16_t glanz_region_length(GLANZ_CONST struct glanz_region *region, uint16_t leds) {
    uint8_t grain = region->grain == 0 ? 1 : region->grain;
    uint16_t half = region->mirrored ? (uint16_t)((leds + 1u) / 2u) : leds;
    return (uint16_t)((half + grain - 1u) / grain);
}

/* Does the stencil take this LED? */
static uint8_t stencil_takes(GLANZ_CONST uint8_t *stencil, uint16_t period, uint16_t at) {
    at = (uint16_t)(at % period);
    for (uint8_t i = 0; i < GLANZ_STENCIL && stencil[i] != 0; i++) {
        if (at < stencil[i]) {
            return (uint8_t) !(i & 1u);
        }
        at = (uint16_t)(at - stencil[i]);
    }
    return 0;
}

static uint16_t period_of(GLANZ_CONST uint8_t *stencil) {
    uint16_t period = 0;
    for (uint8_t i = 0; i < GLANZ_STENCIL && stencil[i] != 0; i++) {
        period = (uint16_t)(period + stencil[i]);
    }
    return period;
}

int glanz_stencil_takes(GLANZ_CONST uint8_t *stencil, uint16_t at) {
    uint16_t period = period_of(stencil);
    return period == 0 || stencil_takes(stencil, period, at);
}

static glanz_place place_of(GLANZ_CONST struct glanz_region *region, uint16_t leds, uint16_t at) {
    if (region->reversed) {
        at = (uint16_t)(leds - 1u - at);
    }
    if (region->mirrored && at >= (leds + 1u) / 2u) {
        at = (uint16_t)(leds - 1u - at);
    }
    if (region->grain > 1) {
        at = (uint16_t)((unsigned)at / region->grain); /* unsigned: no division that small CPUs have to link beside */
    }
    return (glanz_place)at * GLANZ_STEP + GLANZ_HALF;
}

void glanz_places_row(glanz_place *places, glanz_place first, glanz_place step, uint8_t count) {
    const glanz_place *end = places + count;
    for (const glanz_place *odd = UNROLLED == 1 ? end : places + count % 4u; places != odd; places++) {
        *places = first;
        first += step;
    }
    for (; UNROLLED != 1 && places != end; places += 4) {
        places[0] = first;
        places[1] = first += step;
        places[2] = first += step;
        places[3] = first += step;
        first += step;
    }
}

uint8_t glanz_region_places(glanz_place *places, uint8_t *taken, GLANZ_CONST struct glanz_region *region, uint16_t leds,
                            uint16_t at, uint8_t backward, uint8_t count) {
    uint16_t period = period_of(region->stencil);
    if (period == 0 && region->grain <= 1 && !region->mirrored) { /* a plain line: by far the most common */
        glanz_place step = (backward != 0) != (region->reversed != 0) ? -GLANZ_STEP : GLANZ_STEP;
        glanz_place place = place_of(region, leds, at);
        glanz_places_row(places, place, step, count);
        return count;
    }
    uint8_t found = 0;
    for (uint8_t i = 0; i < count; i++) {
        uint16_t here = (uint16_t)(backward ? at - i : at + i);
        if (period == 0 || stencil_takes(region->stencil, period, here)) {
            places[found] = place_of(region, leds, here);
            if (period != 0 && taken != NULL) {
                taken[found] = i;
            }
            found++;
        }
    }
    return found;
}
