/* SPDX-License-Identifier: MIT */
/* Actions on what shows on a segment, whatever that is: one of its numbers, its palette, what its effect shows, from its start.
 */
#include "control.h"

#if GLANZ_SEQUENCES

/* ---- a number ---- */

/* Which parameter of an effect has this name and kind; GLANZ_PARAMS: none. */
static uint8_t find_param(GLANZ_CONST struct glanz_effect *effect, GLANZ_CONST struct glanz_action *action) {
    for (uint8_t i = 0; i < effect->param_count; i++) {
        if (effect->params[i].kind == action->kind_of_param && glanz_name_equal(effect->params[i].name, action->param)) {
            return i;
        }
    }
    return GLANZ_PARAMS;
}

static int64_t times(int64_t number, int32_t share) {
    return number * share / 65536;
}

/* A time for a pass, so many times faster. It neither becomes none, which would be at rest, nor stays as it is. */
static int64_t sooner(int64_t time, int32_t share) {
    int64_t whole = (time < 0 ? -time : time) * 65536;
    int64_t by = share < 0 ? -(int64_t)share : share;
    int64_t is = (by < 65536 ? whole + by - 1 : whole) / by;
    is = is == 0 && time != 0 ? 1 : is;
    return (time < 0) != (share < 0) ? -is : is;
}

/* A number within its bounds; an angle goes round. */
static int32_t within(GLANZ_CONST struct glanz_param *param, int64_t number) {
    int64_t low = param->kind == GLANZ_PARAM_RATE ? -(int64_t)param->high : param->low;
    if (param->kind == GLANZ_PARAM_TURN) {
        return (int32_t)((uint32_t)number & 0xFFFFu);
    }
    if (param->kind == GLANZ_PARAM_COLOR) {
        return (int32_t)number;
    }
    return (int32_t)(number < low ? low : number > param->high ? param->high : number);
}

/* A part of a colour, which steps by whole degrees and percents. @param full of `value`, for all of it. */
static uint32_t color_part(GLANZ_CONST struct glanz_action *action, uint32_t was, int32_t all) {
    int64_t value = (int64_t)action->value * all; /* 16.16 */
    if (action->by == GLANZ_CHANGE_TIMES) {
        value = (int64_t)action->value * was;
    } else if (action->by == GLANZ_CHANGE_BY) {
        value += (int64_t)was << 16;
    }
    int64_t whole = (value + 32768) >> 16;
    if (all == 360) {
        whole %= 360;
        return (uint32_t)(whole < 0 ? whole + 360 : whole);
    }
    return (uint32_t)(whole < 0 ? 0 : whole > all ? all : whole);
}

/* One of the numbers of a colour changed. */
static glanz_status changed_color(struct glanz_setting *setting, const struct glanz_control *control,
                                  GLANZ_CONST struct glanz_action *action, int32_t asked) {
    if (control->parts->colors == NULL) {
        return GLANZ_ERR_ABSENT;
    }
    glanz_color color = control->parts->colors->hsl((glanz_color)asked, control->show->colors, control->show->color_count);
    uint32_t hue = (color >> 14) & 0x1FFu;
    uint32_t saturation = (color >> 7) & 0x7Fu;
    uint32_t lightness = color & 0x7Fu;
    hue = action->of_color == GLANZ_COLOR_HUE ? color_part(action, hue, 360) : hue;
    saturation = action->of_color == GLANZ_COLOR_SATURATION ? color_part(action, saturation, 100) : saturation;
    lightness = action->of_color == GLANZ_COLOR_LIGHTNESS ? color_part(action, lightness, 100) : lightness;
    setting->unit = GLANZ_UNIT_NONE;
    setting->number = (int32_t)GLANZ_HSL(hue, saturation, lightness);
    return GLANZ_OK;
}

/* What an action makes of a number that was asked for. @return 0: it cannot, for its unit is another. */
static int changed(struct glanz_setting *setting, GLANZ_CONST struct glanz_param *param,
                   GLANZ_CONST struct glanz_action *action, int32_t asked, uint8_t unit) {
    int64_t number = action->value;
    setting->unit = action->unit == GLANZ_UNIT_NONE ? unit : action->unit;
    if (action->by == GLANZ_CHANGE_TIMES) {
        int is_time = unit == GLANZ_UNIT_PASS_TIME;
        number = is_time && action->value != 0 ? sooner(asked, action->value) : times(asked, action->value);
        setting->unit = is_time && action->value == 0 ? (uint8_t)GLANZ_UNIT_PASSES : unit; /* at rest */
    } else if (action->by == GLANZ_CHANGE_BY) {
        if (setting->unit != unit) {
            return 0;
        }
        number += asked;
    }
    setting->number = within(param, number);
    return 1;
}

static glanz_status adjust(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                           const struct glanz_change *change) {
    struct glanz_showing showing;
    struct glanz_setting setting;
    glanz_status status = glanz_engine_showing(control->engine, action->target, &showing);
    uint8_t param = status != GLANZ_OK || showing.effect == NULL ? GLANZ_PARAMS : find_param(showing.effect, action);
    if (param == GLANZ_PARAMS) {
        return GLANZ_ERR_ABSENT;
    }
    setting.param = param;
    if (action->of_color != GLANZ_COLOR_WHOLE) {
        status = changed_color(&setting, control, action, showing.number[param]);
    } else if (!changed(&setting, &showing.effect->params[param], action, showing.number[param], showing.unit[param])) {
        status = GLANZ_ERR_ABSENT;
    }
    if (status != GLANZ_OK) {
        return status;
    }
    if (HANDS(control) != NULL) {
        HANDS(control)->touch(control, BIT(action->target), GLANZ_ASPECT_LOOK, 1);
    }
    return glanz_engine_set(control->engine, action->target, setting, *change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_adjust = {
    .key = GLANZ_TEXT("adjust"),
    .description = GLANZ_DESCRIPTION("a number of what shows on a segment, where its effect has one of that name"),
    .value = GLANZ_VALUE_SEGMENT,
    .may = GLANZ_WITH_NUMBER | GLANZ_WITH_OVER | GLANZ_WITH_FOR,
    .act = adjust};

/* ---- palette, content, from the start ---- */

static glanz_status put_palette(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                                const struct glanz_change *change) {
    struct glanz_showing showing;
    struct glanz_colors colors;
    glanz_status status = glanz_engine_showing(control->engine, action->target, &showing);
    if (status != GLANZ_OK || showing.effect == NULL) {
        return GLANZ_ERR_ABSENT;
    }
    glanz_colors_of(&colors, &showing);
    if (colors.count == 0 && (showing.effect->needs & GLANZ_NEEDS_GRADIENT) == 0) {
        return GLANZ_ERR_ABSENT;
    }
    HANDS(control)->touch(control, BIT(action->target), GLANZ_ASPECT_PALETTE, 1);
    return glanz_control_put_palette(control, action->target, action->gradient, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_palette = {
    .key = GLANZ_TEXT("palette"),
    .description = GLANZ_DESCRIPTION(
        "a palette on what shows on a segment: an effect that takes none gets its lightest and darkest colours"),
    .value = GLANZ_VALUE_PALETTE,
    .needs = GLANZ_WITH_SEGMENT,
    .may = GLANZ_WITH_OVER | GLANZ_WITH_FOR,
    .parts = GLANZ_PART_HANDS,
    .act = put_palette};

/* What shows with something of it changed. @param content NULL: as it is. */
static glanz_status show_again(struct glanz_control *control, uint8_t segment, GLANZ_CONST void *content,
                               const struct glanz_change *change) {
    struct glanz_showing showing;
    struct glanz_look look;
    struct glanz_setting settings[GLANZ_PARAMS];
    glanz_status status = glanz_engine_showing(control->engine, segment, &showing);
    if (status != GLANZ_OK || showing.effect == NULL ||
        (content != NULL && ((GLANZ_CONST struct glanz_content *)content)->kind != showing.effect->content)) {
        return GLANZ_ERR_ABSENT;
    }
    showing.content = content == NULL ? showing.content : content;
    if (HANDS(control) != NULL) {
        HANDS(control)->touch(control, BIT(segment), GLANZ_ASPECT_LOOK, 1);
    }
    return glanz_engine_look(control->engine, segment, glanz_control_look_of(&look, settings, &showing), *change);
}

static glanz_status put_content(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                                const struct glanz_change *change) {
    return action->look == NULL || action->look->content == NULL
               ? GLANZ_ERR_ABSENT
               : show_again(control, action->target, action->look->content, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_content = {
    .key = GLANZ_TEXT("content"),
    .description = GLANZ_DESCRIPTION("what a look shows (its text, picture, marks or pattern), on what shows on a segment"),
    .value = GLANZ_VALUE_CONTENT,
    .needs = GLANZ_WITH_SEGMENT,
    .may = GLANZ_WITH_OVER | GLANZ_WITH_FOR,
    .act = put_content};

static glanz_status begin_again(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                                const struct glanz_change *change) {
    struct glanz_change again = *change;
    again.again = 1;
    return show_again(control, action->target, NULL, &again);
}

GLANZ_CONST struct glanz_action_kind glanz_action_begin_again = {.key = GLANZ_TEXT("begin again"),
                                                                 .description =
                                                                     GLANZ_DESCRIPTION("what a segment shows, from its start"),
                                                                 .value = GLANZ_VALUE_SEGMENT,
                                                                 .may = GLANZ_WITH_OVER,
                                                                 .act = begin_again};

#endif
