/* SPDX-License-Identifier: MIT */
/* What is put on segments: presets and parts of them, what was there before, what a hand has changed and can take back. */
#include "control.h"

segment_mask glanz_control_preset_segments(GLANZ_CONST struct glanz_show *show, uint8_t preset) {
    segment_mask mask = 0;
    for (uint8_t i = 0; i < show->presets[preset].part_count; i++) {
        mask = (segment_mask)(mask | BIT(show->presets[preset].parts[i].segment));
    }
    return mask;
}

#if GLANZ_SEQUENCES
/* A look like the one that shows, to be given to the engine. */
GLANZ_CONST struct glanz_look *glanz_control_look_of(struct glanz_look *look, struct glanz_setting *settings,
                                                     const struct glanz_showing *showing) {
    if (showing->effect == NULL) {
        return NULL;
    }
    memset(look, 0, sizeof *look);
    look->name = showing->name;
    look->effect = showing->effect;
    look->gradient = showing->gradient;
    look->content = showing->content;
    look->brightness = showing->look_brightness == 0 ? 1 : showing->look_brightness;
#if GLANZ_DRIVES_MOST > 0
    look->drives = showing->drives;
    look->drive_count = showing->drive_count;
#endif
    look->settings = settings;
    look->setting_count = showing->effect->param_count;
    for (uint8_t i = 0; i < look->setting_count; i++) {
        settings[i].param = i;
        settings[i].unit = showing->unit[i];
        settings[i].number = showing->number[i];
    }
    return look;
}
#endif

static glanz_status recall_part(struct glanz_control *control, GLANZ_CONST struct glanz_part *part,
                                const struct glanz_change *change) {
    glanz_status status = GLANZ_OK;
    uint8_t aspects = part->aspects;
#if GLANZ_SEQUENCES
    struct glanz_look room;
    struct glanz_setting settings[GLANZ_PARAMS];
    GLANZ_CONST struct glanz_look *is = glanz_look_with(&room, settings, part->look, part->settings, part->setting_count);
    struct glanz_change later = *change;
    later.at_us += (glanz_us)part->later_ms * 1000u;
    change = &later;
    aspects = (uint8_t)(aspects & ~control->segments[part->segment].taken);
    if ((aspects & GLANZ_ASPECT_LOOK) != 0 && (control->segments[part->segment].taken & GLANZ_ASPECT_PALETTE) != 0 &&
        part->look != NULL) { /* the look, in the palette that was taken over */
        status = HANDS(control)->show_colored(control, part->segment, is, change);
    } else
#else
    GLANZ_CONST struct glanz_look *is = part->look;
#endif
        if ((aspects & GLANZ_ASPECT_LOOK) != 0) {
        status = glanz_engine_look(control->engine, part->segment, is, *change);
    }
#if GLANZ_SEQUENCES
    if ((aspects & GLANZ_ASPECT_PALETTE) != 0 && status == GLANZ_OK) {
        status = HANDS(control)->put_palette(control, part->segment, part->gradient, change);
    }
#endif
    if ((aspects & GLANZ_ASPECT_ON) != 0 && status == GLANZ_OK) {
        status = glanz_engine_switch(control->engine, part->segment, part->on, *change);
    }
    if ((aspects & GLANZ_ASPECT_BRIGHTNESS) != 0 && status == GLANZ_OK) {
        status = glanz_engine_brightness(control->engine, part->segment, part->brightness, *change);
    }
    return status;
}

glanz_status glanz_control_recall(struct glanz_control *control, uint8_t index, segment_mask segments,
                                  const struct glanz_change *change) {
    GLANZ_CONST struct glanz_preset *preset = &control->show->presets[index];
    glanz_status status = GLANZ_OK;
    glanz_control_notify(control, change->at_us, GLANZ_HAPPENED_PRESET, index, 0, 0);
#if GLANZ_SEQUENCES
    control->recalled = (uint8_t)(index + 1u);
#endif
#if GLANZ_FIELDS
    /* What all of it wants fits together, but some may have to wait for what others give back: see take.c. */
    for (uint8_t turn = 0; segments != 0 && turn <= control->show->segment_count; turn++) {
        segment_mask wait = 0;
        for (uint8_t i = 0; i < preset->part_count; i++) {
            if ((segments & BIT(preset->parts[i].segment)) != 0) {
                glanz_status one = recall_part(control, &preset->parts[i], change);
                wait |= one == GLANZ_ERR_MEMORY ? BIT(preset->parts[i].segment) : 0;
                status = status == GLANZ_OK && one != GLANZ_ERR_MEMORY ? one : status;
            }
        }
        segments = wait;
        if (wait != 0) { /* only effects of fields remember */
            control->parts->fields->settle(control->engine);
        }
    }
    return segments != 0 && status == GLANZ_OK ? GLANZ_ERR_MEMORY : status;
#else
    for (uint8_t i = 0; i < preset->part_count && status == GLANZ_OK; i++) {
        GLANZ_CONST struct glanz_part *part = &preset->parts[i];
        if ((segments & BIT(part->segment)) != 0) {
            status = recall_part(control, part, change);
        }
    }
    return status;
#endif
}
