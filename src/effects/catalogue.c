/* SPDX-License-Identifier: MIT */
/* The catalogue: the one list of all effects, in the order in which one would look through them. */
#include <glanz/effects.h>

/* clang-format off */
GLANZ_CONST struct glanz_effect *GLANZ_CONST glanz_effects[] = {
    &glanz_effect_plain,
    &glanz_effect_breathing,
    &glanz_effect_filling,
    &glanz_effect_walker,
    &glanz_effect_comet,
#if GLANZ_PARAMS >= 7
    &glanz_effect_escort,
#endif
    &glanz_effect_procession,
    &glanz_effect_pattern,
    &glanz_effect_flow,
    &glanz_effect_swell,
    &glanz_effect_twinkle,
    &glanz_effect_motley,
    &glanz_effect_needle,
#if GLANZ_FIELDS
#if GLANZ_PARAMS >= 7
    &glanz_effect_dissolve,
    &glanz_effect_bars,
    &glanz_effect_beam,
    &glanz_effect_helix,
#endif
    &glanz_effect_glints,
    &glanz_effect_rope,
    &glanz_effect_seabed,
    &glanz_effect_embers,
    &glanz_effect_stars,
    &glanz_effect_snowfall,
    &glanz_effect_waves,
    &glanz_effect_surf,
    &glanz_effect_wake,
    &glanz_effect_shoal,
    &glanz_effect_weed,
    &glanz_effect_fogbank,
    &glanz_effect_sea_sparkle,
    &glanz_effect_lanterns,
#if GLANZ_PARAMS >= 7
    &glanz_effect_gauge,
    &glanz_effect_clock_face,
    &glanz_effect_sea_mark,
#endif
    &glanz_effect_fire,
    &glanz_effect_rain,
    &glanz_effect_ripples,
    &glanz_effect_plasma,
    &glanz_effect_clouds,
    &glanz_effect_spokes,
    &glanz_effect_colony,
    &glanz_effect_fireworks,
    &glanz_effect_fountain,
    &glanz_effect_marbles,
    &glanz_effect_tidemark,
#if GLANZ_DRIVES_MOST > 0
    &glanz_effect_columns,
    &glanz_effect_loudness,
    &glanz_effect_sonogram,
    &glanz_effect_waveform,
    &glanz_effect_throb,
    &glanz_effect_sparks,
    &glanz_effect_hoppers,
#endif
    &glanz_effect_text,
    &glanz_effect_picture,
    &glanz_effect_marked,
#endif
    NULL};
/* clang-format on */

GLANZ_CONST struct glanz_effect *glanz_effect_find(const char *name) {
    for (uint8_t i = 0; name != NULL && glanz_effects[i] != NULL; i++) {
        if (glanz_text_equal(glanz_effects[i]->name, name)) {
            return glanz_effects[i];
        }
    }
    return NULL;
}
