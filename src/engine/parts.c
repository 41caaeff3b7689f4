/* SPDX-License-Identifier: MIT */
/* What the rooms ask of parts that may not be there. */
#include <glanz/engine.h>

GLANZ_CONST struct glanz_parts glanz_nothing = {.checks = NULL};

unsigned glanz_parts_present(GLANZ_CONST struct glanz_parts *parts) {
    if (parts == NULL) {
        return 0;
    }
    /* in a loop: avr-gcc 5.4 breaks down over a choice between numbers by a pointer that is read from flash */
    GLANZ_CONST void *const members[] = {
        parts->control,
        parts->limit,
        parts->colors,
        parts->fields,
        parts->saving,
        parts->blends,
        parts->playlists,
        parts->hands,
#if GLANZ_DRIVES_MOST > 0
        parts->signals,
        parts->drives,
        parts->gestures,
        parts->sound
#endif
    };
    static GLANZ_CONST uint16_t bits[] = {
        GLANZ_PART_CONTROL,
        GLANZ_PART_LIMIT,
        GLANZ_PART_COLORS,
        GLANZ_PART_FIELDS | GLANZ_PART_BLENDS, /* which fields bring along */
        GLANZ_PART_SAVING,
        GLANZ_PART_BLENDS,
        GLANZ_PART_PLAYLISTS,
        GLANZ_PART_HANDS,
#if GLANZ_DRIVES_MOST > 0
        GLANZ_PART_SIGNALS,
        GLANZ_PART_DRIVES,
        GLANZ_PART_GESTURES,
        GLANZ_PART_SOUND
#endif
    };
    unsigned present = 0;
    for (uint8_t i = 0; i < sizeof bits / sizeof bits[0]; i++) {
        if (members[i] != NULL) {
            present |= bits[i];
        }
    }
    return present;
}

unsigned glanz_look_needs(GLANZ_CONST struct glanz_look *look) {
    unsigned needs = 0;
    if (look == NULL || look->effect == NULL) {
        return 0;
    }
#if GLANZ_FIELDS
    if (look->effect->shade_field != NULL || look->effect->memory != NULL || look->effect->needs != 0) {
        needs = GLANZ_PART_FIELDS;
    }
#endif
#if GLANZ_FIELDS && GLANZ_RATES > 1
    needs |= look->effect->second_pass != NULL ? (unsigned)GLANZ_PART_FIELDS : 0u;
#endif
#if GLANZ_FIELDS
    needs |= look->gradient != NULL && look->gradient->runs != GLANZ_RUNS_BY_EFFECT ? (unsigned)GLANZ_PART_FIELDS : 0u;
#endif
    for (uint8_t i = 0; i < look->effect->param_count; i++) {
        int32_t color = look->effect->params[i].standard;
        for (uint8_t k = 0; k < look->setting_count; k++) {
            color = look->settings[k].param == i ? look->settings[k].number : color;
        }
#if GLANZ_DRIVES_MOST > 0
        needs |= look->effect->params[i].kind == GLANZ_PARAM_SIGNAL && color != 0
                     ? (unsigned)GLANZ_PART_DRIVES | GLANZ_PART_COLORS
                     : 0u;
#endif
        if (look->effect->params[i].kind == GLANZ_PARAM_COLOR && ((uint32_t)color >> 24) != 0) {
            needs |= GLANZ_PART_COLORS;
        }
    }
#if GLANZ_DRIVES_MOST > 0
    needs |= look->drive_count != 0 ? GLANZ_PART_DRIVES | GLANZ_PART_COLORS : 0u; /* colours go by hue */
#endif
    return needs;
}

#if GLANZ_FIELDS
static unsigned cut_needs(GLANZ_CONST struct glanz_region *region) {
    return region->mapping != GLANZ_MAPPING_OWN || region->pick_count != 0 || region->turned != 0 || region->piece != 0 ||
                   region->columns != 0 || region->within != NULL
               ? GLANZ_PART_FIELDS
               : 0u;
}
#endif

unsigned glanz_segment_needs(GLANZ_CONST struct glanz_segment *segment) {
    unsigned needs = segment == NULL ? 0 : glanz_look_needs(segment->look);
    if (segment != NULL &&
        (segment->blend != GLANZ_BLEND_COVER || segment->opacity != 0 || segment->off || segment->region.stencil[0] != 0)) {
        needs |= GLANZ_PART_BLENDS;
    }
#if GLANZ_DRIVES_MOST > 0
    for (uint8_t i = 0; segment != NULL && i < segment->drive_count; i++) {
        needs |= segment->drives[i].param == GLANZ_DRIVE_OPACITY ? GLANZ_PART_DRIVES | GLANZ_PART_BLENDS : GLANZ_PART_DRIVES;
    }
#endif
#if GLANZ_FIELDS
    needs |= segment == NULL ? 0u : cut_needs(&segment->region);
    needs |= segment == NULL || segment->region.pick_count == 0 ? 0u : GLANZ_PART_BLENDS;
    needs |= segment == NULL || segment->blend < GLANZ_BLENDS ? 0u : GLANZ_PART_FIELDS;
#endif
    return needs;
}

GLANZ_CONST char *glanz_part_name(unsigned needed) {
    return (needed & GLANZ_PART_CONTROL) != 0     ? GLANZ_TEXT("control")
           : (needed & GLANZ_PART_LIMIT) != 0     ? GLANZ_TEXT("limit")
           : (needed & GLANZ_PART_COLORS) != 0    ? GLANZ_TEXT("colors")
           : (needed & GLANZ_PART_FIELDS) != 0    ? GLANZ_TEXT("fields")
           : (needed & GLANZ_PART_SAVING) != 0    ? GLANZ_TEXT("saving")
           : (needed & GLANZ_PART_BLENDS) != 0    ? GLANZ_TEXT("blends")
           : (needed & GLANZ_PART_PLAYLISTS) != 0 ? GLANZ_TEXT("playlists")
           : (needed & GLANZ_PART_HANDS) != 0     ? GLANZ_TEXT("hands")
           : (needed & GLANZ_PART_SIGNALS) != 0   ? GLANZ_TEXT("signals")
           : (needed & GLANZ_PART_DRIVES) != 0    ? GLANZ_TEXT("drives")
           : (needed & GLANZ_PART_GESTURES) != 0  ? GLANZ_TEXT("gestures")
           : (needed & GLANZ_PART_SOUND) != 0     ? GLANZ_TEXT("sound")
                                                  : NULL;
}

glanz_status glanz_parts_lacking(struct glanz_fault *fault, unsigned lacking) {
    if (lacking == 0) {
        return GLANZ_OK;
    }
#ifdef __AVR__ /* no words there */
    (void)fault;
#else
    glanz_fault_begin(fault);
    glanz_fault_add(fault, GLANZ_TEXT("this needs a part that the program has not named; expected in struct glanz_parts: "));
    glanz_fault_add(fault, glanz_part_name(lacking));
#endif
    return GLANZ_ERR_ABSENT;
}

glanz_status glanz_parts_memory(GLANZ_CONST struct glanz_parts *parts, struct glanz_fault *fault, GLANZ_CONST char *what,
                                size_t needed, size_t given) {
    if (GLANZ_CHECKS_OF(parts) != NULL) {
        return GLANZ_CHECKS_OF(parts)->memory(fault, what, needed, given);
    }
    if (fault != NULL) {
        fault->needed = needed;
    }
    return GLANZ_ERR_MEMORY;
}
