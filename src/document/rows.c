/* SPDX-License-Identifier: MIT */
/* What every walker over rows needs: members of structs by offset, and names by scope. */
#include "rows.h"

#include <glanz/chips.h>

/* ---- members ---- */

static const uint8_t *member_of(const struct row *row, const void *base) {
    return (const uint8_t *)base + row->at;
}

uint32_t glanz_row_get(const struct row *row, const void *base) {
    const uint8_t *member = member_of(row, base);
    switch (row->width) {
    case 0: return (uint32_t)*member >> row->tag & row->high;
    case 1: return *member;
    case 2: return *(const uint16_t *)(const void *)member;
    default: return *(const uint32_t *)(const void *)member;
    }
}

void glanz_row_set(const struct row *row, void *base, uint32_t number) {
    uint8_t *member = (uint8_t *)base + row->at;
    switch (row->width) {
    case 0: *member = (uint8_t)(*member | number << row->tag); break;
    case 1: *member = (uint8_t)number; break;
    case 2: *(uint16_t *)(void *)member = (uint16_t)number; break;
    default: *(uint32_t *)(void *)member = number; break;
    }
}

uint32_t glanz_row_count(const struct row *row, const void *base) {
    const uint8_t *number = (const uint8_t *)base + (row->high >> 16);
    return row->width == 1 ? *number : *(const uint16_t *)(const void *)number;
}

const void *glanz_row_list(const struct row *row, const void *base) {
    return *(const void *const *)(const void *)member_of(row, base);
}

/* ---- names ---- */

#define NAMES_OF(list, many)                                                                                                   \
    (struct names) {                                                                                                           \
        (many) == 0 ? NULL : &(list)->name, sizeof *(list), (many), 0, NULL                                                    \
    }

void glanz_names_of(struct names *scopes, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    scopes[SCOPE_CHIPS] = glanz_names_listed(glanz_chips);
    scopes[SCOPE_FONTS] = glanz_names_listed(glanz_fonts);
    if (rig != NULL) {
        scopes[SCOPE_SUPPLIES] = NAMES_OF(rig->supplies, rig->supply_count);
        scopes[SCOPE_OUTPUTS] = NAMES_OF(rig->outputs, rig->output_count);
        scopes[SCOPE_SURFACES] = NAMES_OF(rig->surfaces, rig->surface_count);
        scopes[SCOPE_INPUTS] = NAMES_OF(rig->inputs, rig->input_count);
        scopes[SCOPE_SIGNALS] = NAMES_OF(rig->inputs, 0);
        scopes[SCOPE_SIGNALS].count = rig->input_count;
        scopes[SCOPE_SIGNALS].before = &scopes[SCOPE_INPUTS];
    }
    if (show != NULL) {
        if (show->signal_count != 0) {
            scopes[SCOPE_SIGNALS].first = &show->signals->name;
            scopes[SCOPE_SIGNALS].step = sizeof *show->signals;
            scopes[SCOPE_SIGNALS].count += show->signal_count;
        }
        scopes[SCOPE_COLORS] = NAMES_OF(show->colors, show->color_count);
        scopes[SCOPE_LOOKS] = NAMES_OF(show->looks, show->look_count);
        scopes[SCOPE_SEGMENTS] = NAMES_OF(show->segments, show->segment_count);
        scopes[SCOPE_PRESETS] = NAMES_OF(show->presets, show->preset_count);
        scopes[SCOPE_PLAYLISTS] = NAMES_OF(show->playlists, show->playlist_count);
        scopes[SCOPE_PALETTES] = NAMES_OF(show->palettes, show->palette_count);
        scopes[SCOPE_PICTURES] = NAMES_OF(show->pictures, show->picture_count);
    }
}
