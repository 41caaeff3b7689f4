/* SPDX-License-Identifier: MIT */
/* All parts. */
#include <glanz/device.h>

GLANZ_CONST struct glanz_parts glanz_everything = {
    .checks = &glanz_part_checks,
    .control = &glanz_part_control,
    .playlists = &glanz_part_playlists,
#if GLANZ_SEQUENCES
    .hands = &glanz_part_hands,
#endif
    .blends = &glanz_part_blends,
    .limit = &glanz_part_limit,
    .colors = &glanz_part_colors,
#if GLANZ_GLIDES
    .glides = &glanz_part_glides,
#endif
#if GLANZ_FIELDS
    .fields = &glanz_part_fields,
#endif
#if GLANZ_SAVED_MOST > 0
    .saving = &glanz_part_saving,
#endif
#if GLANZ_DRIVES_MOST > 0
    .signals = &glanz_part_signals,
    .sound = &glanz_part_sound,
    .gestures = &glanz_part_gestures,
    .drives = &glanz_part_drives,
#endif
};
