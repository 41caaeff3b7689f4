/* SPDX-License-Identifier: MIT */
/* Colours without their look: from what shows to another effect, or from a palette to an effect that takes none. */
#include "control.h"

#if GLANZ_SEQUENCES

static uint8_t takes_palette(GLANZ_CONST struct glanz_effect *effect) {
    return (effect->needs & GLANZ_NEEDS_GRADIENT) != 0;
}

void glanz_colors_of(struct glanz_colors *colors, const struct glanz_showing *showing) {
    memset(colors, 0, sizeof *colors);
    colors->gradient = showing->gradient;
    if (showing->effect == NULL || takes_palette(showing->effect)) {
        return;
    }
    for (uint8_t i = 0; i < showing->effect->param_count; i++) {
        if (showing->effect->params[i].kind == GLANZ_PARAM_COLOR && colors->count < GLANZ_COLORS) {
            colors->color[colors->count++] = (glanz_color)showing->number[i];
        }
    }
}

/* The sRGB code next to a level of light. */
static uint32_t code_of(uint16_t level) {
    uint32_t code = 0;
    for (uint32_t bit = 128; bit != 0; bit >>= 1) {
        code |= glanz_rgb_light(code | bit).blue <= level ? bit : 0;
    }
    uint16_t low = glanz_rgb_light(code).blue;
    return code < 255 && level - low > glanz_rgb_light(code + 1u).blue - level ? code + 1u : code;
}

/* A palette's colour for an effect that takes none: first its lightest, then its darkest, then that in its middle. */
static glanz_color color_of(GLANZ_CONST struct glanz_gradient *gradient, uint8_t rank) {
    struct glanz_light found = glanz_gradient_at(gradient, 32768);
    uint32_t most = 0;
    for (uint32_t at = 0; at < 65536u && rank < 2; at += 4369) { /* 16 places, the ends among them */
        struct glanz_light light = glanz_gradient_at(gradient, (uint16_t)at);
        uint32_t sum = (uint32_t)light.red + light.green + light.blue;
        sum = rank == 0 ? sum + 1u : 196606u - sum;
        found = sum > most ? light : found;
        most = sum > most ? sum : most;
    }
    return code_of(found.red) << 16 | code_of(found.green) << 8 | code_of(found.blue);
}

/* The colours of an effect that takes no palette, as other colours have them. @param settings room for GLANZ_COLORS.
 * @return how many. */
static uint8_t recolor(struct glanz_setting *settings, GLANZ_CONST struct glanz_effect *effect,
                       const struct glanz_colors *colors) {
    uint8_t rank = 0;
    uint8_t most = colors->count != 0 ? colors->count : colors->gradient != NULL ? GLANZ_COLORS : 0;
    for (uint8_t i = 0; i < effect->param_count && rank < most && !takes_palette(effect); i++) {
        if (effect->params[i].kind == GLANZ_PARAM_COLOR) {
            glanz_color color = colors->count != 0 ? colors->color[rank] : color_of(colors->gradient, rank);
            settings[rank].param = i;
            settings[rank].unit = GLANZ_UNIT_NONE;
            settings[rank].number = (int32_t)color;
            rank++;
        }
    }
    return rank;
}

glanz_status glanz_control_put_colors(struct glanz_control *control, uint8_t segment, const struct glanz_colors *colors,
                                      const struct glanz_change *change) {
    struct glanz_showing showing;
    struct glanz_look look;
    struct glanz_setting settings[GLANZ_PARAMS];
    struct glanz_setting over[GLANZ_COLORS];
    glanz_status status = glanz_engine_showing(control->engine, segment, &showing);
    if (status != GLANZ_OK || showing.effect == NULL || control->show->segments[segment].keeps_colors) {
        return status;
    }
    (void)glanz_control_look_of(&look, settings, &showing);
    look.gradient = colors->gradient == NULL ? look.gradient : colors->gradient;
    uint8_t count = recolor(over, look.effect, colors);
    for (uint8_t i = 0; i < count; i++) {
        settings[over[i].param].number = over[i].number;
    }
    return count != 0 || takes_palette(look.effect) ? glanz_engine_look(control->engine, segment, &look, *change)
                                                    : GLANZ_ERR_ABSENT;
}

glanz_status glanz_control_put_palette(struct glanz_control *control, uint8_t segment,
                                       GLANZ_CONST struct glanz_gradient *gradient, const struct glanz_change *change) {
    struct glanz_colors colors;
    memset(&colors, 0, sizeof colors);
    colors.gradient = gradient;
    glanz_status status = glanz_control_put_colors(control, segment, &colors, change);
    return status == GLANZ_ERR_ABSENT ? GLANZ_OK : status; /* it shows no colours of a look's, such as hand-coloured LEDs */
}

glanz_status glanz_control_show_colored(struct glanz_control *control, uint8_t segment, GLANZ_CONST struct glanz_look *is,
                                        const struct glanz_change *change) {
    struct glanz_showing showing;
    struct glanz_colors colors;
    struct glanz_setting settings[GLANZ_PARAMS];
    struct glanz_setting over[GLANZ_COLORS];
    struct glanz_look room;
    glanz_status status = glanz_engine_showing(control->engine, segment, &showing);
    if (status != GLANZ_OK || showing.effect == NULL) {
        return status != GLANZ_OK ? status : glanz_engine_look(control->engine, segment, is, *change);
    }
    glanz_colors_of(&colors, &showing);
    if (colors.count != 0 && colors.gradient == &glanz_gradient_standard) {
        colors.gradient = NULL; /* nobody has chosen that */
    }
    struct glanz_look look = *glanz_look_with(&room, settings, is, over, recolor(over, is->effect, &colors));
    look.gradient = colors.gradient == NULL ? look.gradient : colors.gradient;
    return glanz_engine_look(control->engine, segment, &look, *change);
}

#endif
