/* SPDX-License-Identifier: MIT */
/* Which parts a rig and a show need; and whether a program has them. */
#include "whole.h"

GLANZ_CONST char *GLANZ_CONST glanz_part_names[GLANZ_PART_COUNT] = {GLANZ_TEXT("control"), GLANZ_TEXT("fields")};

#if GLANZ_FIELDS
/* A look's effect that wants what only fields have. */
static int wants_field(GLANZ_CONST struct glanz_look *look) {
    return look != NULL && look->effect != NULL &&
           (look->effect->shade_field != NULL || look->effect->memory != NULL || look->effect->needs != 0);
}

static int needs_fields(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    int needs = 0;
    for (uint8_t i = 0; i < rig->surface_count; i++) {
        needs |= rig->surfaces[i].kind > GLANZ_SURFACE_RING;
    }
    for (uint8_t i = 0; i < show->segment_count; i++) {
        GLANZ_CONST struct glanz_cut *cut = &show->segments[i].cut;
        needs |= cut->lie != GLANZ_LIE_OWN || cut->turned != 0 || cut->piece != 0 || cut->columns != 0 ||
                 wants_field(show->segments[i].look);
    }
    for (uint16_t i = 0; i < show->look_count; i++) {
        needs |= wants_field(&show->looks[i]);
    }
    return needs;
}
#endif

uint32_t glanz_parts_needed(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    uint32_t needed = 0;
#if GLANZ_FIELDS
    needed |= needs_fields(rig, show) ? 1u << GLANZ_PART_FIELDS : 0;
#else
    (void)rig;
#endif
    if (show->preset_count != 0 || show->playlist_count != 0 || show->trigger_count != 0 || show->start != NULL ||
#if GLANZ_CALENDAR
        show->entry_count != 0 ||
#endif
        show->resume) {
        needed |= 1u << GLANZ_PART_CONTROL;
    }
    return needed;
}

static uint32_t present(GLANZ_CONST struct glanz_parts *parts) {
    uint32_t there = parts->control != NULL ? 1u << GLANZ_PART_CONTROL : 0;
    there |= parts->fields != NULL ? 1u << GLANZ_PART_FIELDS : 0;
    return there;
}

glanz_status glanz_device_lacks_part(struct glanz_fault *fault, GLANZ_CONST char *name) {
    glanz_fault_begin(fault);
    glanz_fault_add(fault, GLANZ_TEXT("this needs a part that the program has not named; expected in glanz_setup.parts: "));
    glanz_fault_add(fault, name);
    return GLANZ_ERR_ABSENT;
}

glanz_status glanz_device_lacks(GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig,
                                GLANZ_CONST struct glanz_show *show, struct glanz_fault *fault) {
    uint32_t lacking = glanz_parts_needed(rig, show) & ~present(parts);
    uint8_t first = 0;
    if (lacking == 0) {
        return GLANZ_OK;
    }
    while ((lacking >> first & 1u) == 0) {
        first++;
    }
    return glanz_device_lacks_part(fault, glanz_part_names[first]);
}
