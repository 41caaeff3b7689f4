/* SPDX-License-Identifier: MIT */
/* What the rooms ask of parts that may not be there. */
#include <glanz/engine.h>

GLANZ_CONST struct glanz_parts glanz_nothing;

unsigned glanz_parts_present(GLANZ_CONST struct glanz_parts *parts) {
    return (parts->control != NULL ? GLANZ_PART_CONTROL : 0u) | (parts->limit != NULL ? GLANZ_PART_LIMIT : 0u) |
           (parts->colors != NULL ? GLANZ_PART_COLORS : 0u) | (parts->fields != NULL ? GLANZ_PART_FIELDS : 0u) |
           (parts->saving != NULL ? GLANZ_PART_SAVING : 0u) |
           (parts->blends != NULL || parts->fields != NULL ? GLANZ_PART_BLENDS : 0u) | /* fields bring them along */
           (parts->playlists != NULL ? GLANZ_PART_PLAYLISTS : 0u) | (parts->hands != NULL ? GLANZ_PART_HANDS : 0u);
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
    for (uint8_t i = 0; i < look->effect->param_count; i++) {
        int32_t color = look->effect->params[i].standard;
        for (uint8_t k = 0; k < look->setting_count; k++) {
            color = look->settings[k].param == i ? look->settings[k].number : color;
        }
        if (look->effect->params[i].kind == GLANZ_PARAM_COLOR && ((uint32_t)color >> 24) != 0) {
            needs |= GLANZ_PART_COLORS;
        }
    }
    return needs;
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
