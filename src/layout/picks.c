/* SPDX-License-Identifier: MIT */
/* Regions made of LEDs that are picked, in any order. */
#include "picks.h"

#if GLANZ_FIELDS

/* LEDs that are picked, in order and without a gap along the region. @return 0 when that is not so. */
static uint16_t picked_leds(GLANZ_CONST struct glanz_region *region, uint16_t leds) {
    uint32_t end = 0; /* on the surface */
    uint32_t all = 0;
    uint8_t met = 0;
    for (uint8_t i = 0; i < region->pick_count; i++) {
        GLANZ_CONST struct glanz_pick *pick = &region->picks[i];
        if (pick->leds == 0 || pick->led < end || (uint32_t)pick->led + pick->leds > leds) {
            return 0;
        }
        end = (uint32_t)pick->led + pick->leds;
        all += pick->leds;
    }
    for (uint16_t at = 0; at < all;) { /* from pick to pick along the region */
        uint8_t i = 0;
        while (i < region->pick_count && region->picks[i].place != at) {
            i++;
        }
        if (i == region->pick_count) {
            return 0;
        }
        at = (uint16_t)(at + region->picks[i].leds);
        met++;
    }
    return met == region->pick_count ? (uint16_t)all : 0;
}

int glanz_picks_measure(struct glanz_field *field, GLANZ_CONST struct glanz_region *region, uint16_t leds) {
    GLANZ_CONST struct glanz_pick *last = &region->picks[region->pick_count - 1];
    if (region->first != 0 || region->leds != 0 || region->stencil[0] != 0 || region->columns != 0) {
        return 0;
    }
    field->picked = picked_leds(region, leds);
    field->first = region->picks[0].led;
    field->leds = (uint16_t)(last->led + last->leds - field->first);
    return field->picked != 0;
}

int glanz_pick_place(uint16_t *place, GLANZ_CONST struct glanz_region *region, uint16_t led) {
    uint8_t low = 0;
    uint8_t high = region->pick_count;
    while (high - low > 1) {
        uint8_t middle = (uint8_t)((low + high) / 2);
        if (region->picks[middle].led <= led) {
            low = middle;
        } else {
            high = middle;
        }
    }
    GLANZ_CONST struct glanz_pick *pick = &region->picks[low];
    if (led < pick->led || led - pick->led >= pick->leds) {
        return 0;
    }
    uint16_t into = (uint16_t)(led - pick->led);
    *place = (uint16_t)(pick->place + (pick->backward ? pick->leds - 1u - into : into));
    return 1;
}

#endif
