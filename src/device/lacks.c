/* SPDX-License-Identifier: MIT */
/* Which parts a rig and a show need. */
#include "whole.h"

#if GLANZ_SEQUENCES
static unsigned action_needs(GLANZ_CONST struct glanz_action *action) {
    int colored = (action->kind->may & GLANZ_WITH_NUMBER) != 0 && action->kind_of_param == GLANZ_PARAM_COLOR &&
                  (action->of_color != GLANZ_COLOR_WHOLE || ((uint32_t)action->value >> 24) != 0);
    return action->kind->parts | (action->kind->value == GLANZ_VALUE_INPUT ? (unsigned)GLANZ_PART_SIGNALS : 0u) |
           (action->for_ms != 0 ? (unsigned)GLANZ_PART_HANDS : 0u) | (colored ? (unsigned)GLANZ_PART_COLORS : 0u);
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
    needed |= show->start != NULL ? action_needs(show->start) : 0u;
    for (uint8_t i = 0; i < show->preset_count; i++) {
        for (uint8_t k = 0; k < show->presets[i].part_count; k++) {
            needed |= (show->presets[i].parts[k].aspects & GLANZ_ASPECT_PALETTE) != 0 ? GLANZ_PART_HANDS : 0u;
        }
    }
    for (uint8_t i = 0; i < show->trigger_count; i++) {
        for (uint8_t k = 0; k < show->triggers[i].action_count; k++) {
            needed |= action_needs(&show->triggers[i].actions[k]);
        }
    }
    for (uint8_t i = 0; i < show->playlist_count; i++) {
        needed |= show->playlists[i].then == GLANZ_THEN_BACK ? GLANZ_PART_HANDS : 0u;
    }
#endif
#if GLANZ_DRIVES_MOST > 0
    for (uint8_t i = 0; i < show->trigger_count; i++) {
        needed |= show->triggers[i].condition_count != 0 ? GLANZ_PART_CONTROL | GLANZ_PART_SIGNALS : 0u;
        needed |= glanz_trigger_remembers(&show->triggers[i]) ? GLANZ_PART_CONTROL | GLANZ_PART_GESTURES : 0u;
    }
    needed |= show->drive != NULL ? GLANZ_PART_CONTROL | GLANZ_PART_DRIVES : 0u;
    needed |= show->signal_count != 0 ? GLANZ_PART_CONTROL | GLANZ_PART_SIGNALS : 0u;
    for (uint8_t i = 0; i < rig->input_count; i++) {
        needed |= rig->inputs[i].kind == GLANZ_INPUT_SOUND ? GLANZ_PART_CONTROL | GLANZ_PART_SOUND : 0u;
        needed |= rig->inputs[i].kind > GLANZ_INPUT_VALUE || rig->inputs[i].lost_ms != 0 ? GLANZ_PART_SIGNALS : 0u;
    }
#endif
    for (uint8_t i = 0; i < rig->supply_count; i++) {
        needed |= rig->supplies[i].limit_ma != 0 ? GLANZ_PART_LIMIT : 0u;
    }
    for (uint8_t i = 0; i < show->segment_count; i++) {
        needed |= glanz_segment_needs(&show->segments[i]);
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
