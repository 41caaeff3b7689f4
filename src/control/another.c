/* SPDX-License-Identifier: MIT */
/* Actions that go to another one of the show's presets, looks or palettes; and back to the start of all. */
#include "control.h"

#if GLANZ_SEQUENCES

/* Which of so many comes, from one that is there; GLANZ_ALL: none is. @param count at least 1. */
static uint16_t another(struct glanz_control *control, uint16_t now, uint16_t count, uint16_t way) {
    if (now >= count) {
        now = way == GLANZ_WAY_PREVIOUS ? 0 : (uint16_t)(count - 1u);
    }
    if (way == GLANZ_WAY_RANDOM && count > 1) {
        control->random_state = glanz_hash(control->random_state + 1u);
        return (uint16_t)((now + 1u + control->random_state % (count - 1u)) % count);
    }
    return (uint16_t)(way == GLANZ_WAY_PREVIOUS ? (now == 0 ? count - 1u : now - 1u) : (now + 1u) % count);
}

static glanz_status another_preset(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                                   const struct glanz_change *change) {
    if (control->show->preset_count == 0) {
        return GLANZ_ERR_ABSENT;
    }
    struct glanz_action recall = *action;
    uint16_t now = control->recalled == 0 ? 0xFFFFu : (uint16_t)(control->recalled - 1u);
    recall.kind = &glanz_action_recall;
    recall.target = (uint8_t)another(control, now, control->show->preset_count, action->number);
    return glanz_action_recall.act(control, &recall, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_another_preset = {
    .key = GLANZ_TEXT("another preset"),
    .description = GLANZ_DESCRIPTION("the next, previous or any other preset of the show"),
    .value = GLANZ_VALUE_WAY,
    .may = GLANZ_WITH_OVER | GLANZ_WITH_AGAIN | GLANZ_WITH_FOR,
    .act = another_preset};

static glanz_status another_look(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                                 const struct glanz_change *change) {
    struct glanz_showing showing;
    glanz_status status = glanz_engine_showing(control->engine, action->target, &showing);
    uint16_t count = control->show->look_count;
    uint16_t now = 0xFFFFu;
    if (status != GLANZ_OK || count == 0) {
        return GLANZ_ERR_ABSENT;
    }
    for (uint16_t i = 0; i < count && showing.name != NULL; i++) {
        now = glanz_name_equal(control->show->looks[i].name, showing.name) ? i : now;
    }
    struct glanz_action look = *action;
    look.kind = &glanz_action_look;
    look.look = &control->show->looks[another(control, now, count, action->number)];
    return glanz_action_look.act(control, &look, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_another_look = {
    .key = GLANZ_TEXT("another look"),
    .description = GLANZ_DESCRIPTION("the next, previous or any other look of the show, on a segment"),
    .value = GLANZ_VALUE_WAY,
    .needs = GLANZ_WITH_SEGMENT,
    .may = GLANZ_WITH_OVER | GLANZ_WITH_FOR,
    .act = another_look};

static glanz_status another_palette(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                                    const struct glanz_change *change) {
    struct glanz_showing showing;
    glanz_status status = glanz_engine_showing(control->engine, action->target, &showing);
    uint16_t count = control->show->palette_count;
    uint16_t now = 0xFFFFu;
    if (status != GLANZ_OK || count == 0) {
        return GLANZ_ERR_ABSENT;
    }
    for (uint16_t i = 0; i < count; i++) {
        now = control->show->palettes[i].gradient == showing.gradient ? i : now;
    }
    struct glanz_action palette = *action;
    palette.kind = &glanz_action_palette;
    palette.gradient = control->show->palettes[another(control, now, count, action->number)].gradient;
    return glanz_action_palette.act(control, &palette, change);
}

GLANZ_CONST struct glanz_action_kind glanz_action_another_palette = {
    .key = GLANZ_TEXT("another palette"),
    .description = GLANZ_DESCRIPTION("the next, previous or any other palette of the show, on a segment"),
    .value = GLANZ_VALUE_WAY,
    .needs = GLANZ_WITH_SEGMENT,
    .may = GLANZ_WITH_OVER | GLANZ_WITH_FOR,
    .parts = GLANZ_PART_HANDS,
    .act = another_palette};

/* ---- all as at the start ---- */

static glanz_status clear_segment(struct glanz_control *control, uint8_t index, const struct glanz_change *change) {
    GLANZ_CONST struct glanz_segment *is = &control->show->segments[index];
    control->segments[index].taken = 0;
#if GLANZ_DRIVES_MOST > 0
    if (control->parts->drives != NULL) {
        (void)(control->parts->drives->release(control->engine, index) == GLANZ_OK); /* the segment is there */
    }
#endif
    struct glanz_look look;
    struct glanz_setting settings[GLANZ_PARAMS];
    glanz_status status = glanz_engine_look(
        control->engine, index, glanz_look_with(&look, settings, is->look, is->settings, is->setting_count), *change);
    if (status == GLANZ_OK) {
        status = glanz_engine_switch(control->engine, index, !is->off, *change);
    }
    return status != GLANZ_OK
               ? status
               : glanz_engine_brightness(control->engine, index, is->brightness == 0 ? 65535 : is->brightness, *change);
}

static glanz_status clear_all(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                              const struct glanz_change *change) {
    GLANZ_CONST struct glanz_show *show = control->show;
    glanz_status status = GLANZ_OK;
    (void)action;
    if (HANDS(control) != NULL) {
        HANDS(control)->touch_all(control);
    }
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        if (control->players[i].depth != 0 && control->players[i].entry == GLANZ_ALL) {
            LISTS(control)->stop(control, &control->players[i], change->at_us);
        }
    }
    if (glanz_engine_frozen(control->engine)) {
        status = glanz_engine_freeze(control->engine, 0, change->at_us);
    }
    for (uint8_t i = 0; i < show->segment_count; i++) {
        glanz_status done = clear_segment(control, i, change);
        status = glanz_status_first(status, done);
    }
    glanz_status bright = glanz_engine_brightness(control->engine, GLANZ_ALL,
                                                  show->brightness == 0 ? GLANZ_LIGHTNESS(60) : show->brightness, *change);
    status = glanz_status_first(status, bright);
    control->recalled = 0;
    if (show->start != NULL && show->start->kind != &glanz_action_clear_all) {
        glanz_status start = glanz_control_act_of_show(control, show->start, change->at_us);
        status = glanz_status_first(status, start);
    }
    return status;
}

GLANZ_CONST struct glanz_action_kind glanz_action_clear_all = {
    .key = GLANZ_TEXT("clear all"),
    .description =
        GLANZ_DESCRIPTION("as at power-on: nothing taken over or frozen, no playlist by hand, what the show begins with"),
    .value = GLANZ_VALUE_TRUE,
    .may = GLANZ_WITH_OVER,
    .act = clear_all};

#endif
