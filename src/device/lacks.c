/* SPDX-License-Identifier: MIT */
/* Which parts a rig and a show need; and whether a program has them. */
#include "whole.h"

GLANZ_CONST char *glanz_part_name(unsigned needed) {
    return (needed & GLANZ_PART_CONTROL) != 0     ? GLANZ_TEXT("control")
           : (needed & GLANZ_PART_LIMIT) != 0     ? GLANZ_TEXT("limit")
           : (needed & GLANZ_PART_COLORS) != 0    ? GLANZ_TEXT("colors")
           : (needed & GLANZ_PART_FIELDS) != 0    ? GLANZ_TEXT("fields")
           : (needed & GLANZ_PART_SAVING) != 0    ? GLANZ_TEXT("saving")
           : (needed & GLANZ_PART_BLENDS) != 0    ? GLANZ_TEXT("blends")
           : (needed & GLANZ_PART_PLAYLISTS) != 0 ? GLANZ_TEXT("playlists")
           : (needed & GLANZ_PART_HANDS) != 0     ? GLANZ_TEXT("hands")
                                                  : NULL;
}

#if GLANZ_FIELDS
static unsigned cut_needs(GLANZ_CONST struct glanz_cut *cut) {
    return cut->lie != GLANZ_LIE_OWN || cut->turned != 0 || cut->piece != 0 || cut->columns != 0 ? GLANZ_PART_FIELDS : 0u;
}
#endif

/* Looks of presets and actions are looks of the show, as documents have them; one that is not is refused when it is shown. */
unsigned glanz_parts_needed(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    if (rig == NULL || show == NULL) {
        return 0;
    }
    unsigned needed = show->resume ? GLANZ_PART_CONTROL : 0u;
    if (show->preset_count != 0 || show->playlist_count != 0 || show->trigger_count != 0 || show->start != NULL) {
        needed |= GLANZ_PART_CONTROL;
    }
    needed |= show->playlist_count != 0 ? GLANZ_PART_PLAYLISTS : 0u;
#if GLANZ_CALENDAR
    needed |= show->entry_count != 0 ? GLANZ_PART_CONTROL | GLANZ_PART_HANDS : 0u;
#endif
#if GLANZ_SEQUENCES
    needed |= show->start != NULL ? show->start->kind->parts : 0u;
    for (uint8_t i = 0; i < show->trigger_count; i++) {
        for (uint8_t k = 0; k < show->triggers[i].action_count; k++) {
            needed |= show->triggers[i].actions[k].kind->parts;
        }
    }
    for (uint8_t i = 0; i < show->playlist_count; i++) {
        needed |= show->playlists[i].then == GLANZ_THEN_BACK ? GLANZ_PART_HANDS : 0u;
    }
#endif
    for (uint8_t i = 0; i < rig->supply_count; i++) {
        needed |= rig->supplies[i].limit_ma != 0 ? GLANZ_PART_LIMIT : 0u;
    }
    for (uint8_t i = 0; i < show->segment_count; i++) {
        GLANZ_CONST struct glanz_segment *segment = &show->segments[i];
        needed |= glanz_look_needs(segment->look);
        needed |= segment->blend != GLANZ_BLEND_COVER || segment->opacity != 0 || segment->off || segment->cut.stencil[0] != 0
                      ? GLANZ_PART_BLENDS
                      : 0u;
#if GLANZ_FIELDS
        needed |= cut_needs(&segment->cut);
#endif
    }
    for (uint16_t i = 0; i < show->look_count; i++) {
        needed |= glanz_look_needs(&show->looks[i]);
    }
#if GLANZ_FIELDS
    for (uint8_t i = 0; i < rig->surface_count; i++) {
        needed |= rig->surfaces[i].kind > GLANZ_SURFACE_RING ? GLANZ_PART_FIELDS : 0u;
    }
#endif
    return needed;
}

glanz_status glanz_device_lacks(struct glanz_fault *fault, unsigned lacking) {
    if (lacking == 0) {
        return GLANZ_OK;
    }
#ifdef __AVR__ /* no words there */
    (void)fault;
#else
    glanz_fault_begin(fault);
    glanz_fault_add(fault, GLANZ_TEXT("this needs a part that the program has not named; expected in glanz_setup.parts: "));
    glanz_fault_add(fault, glanz_part_name(lacking));
#endif
    return GLANZ_ERR_ABSENT;
}
