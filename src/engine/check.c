/* SPDX-License-Identifier: MIT */
/* What looks and segments cannot be. Linked with glanz_part_checks only. */
#include "state.h"

static int can_shade(GLANZ_CONST struct glanz_effect *effect) {
#if GLANZ_FIELDS
    return (effect->shade != NULL) != (effect->shade_field != NULL);
#else
    return effect->shade != NULL;
#endif
}

/* Is there anything in a content? What pictures' bytes and texts say is checked where they come from. */
static int is_empty(GLANZ_CONST struct glanz_content *content) {
    GLANZ_CONST struct glanz_pattern *pattern = (GLANZ_CONST struct glanz_pattern *)(GLANZ_CONST void *)content;
#if GLANZ_FIELDS
    GLANZ_CONST struct glanz_marks *marks = (GLANZ_CONST struct glanz_marks *)(GLANZ_CONST void *)content;
    switch (content->kind) {
    case GLANZ_CONTENT_WRITING: return ((GLANZ_CONST struct glanz_writing *)(GLANZ_CONST void *)content)->text == NULL;
    case GLANZ_CONTENT_PICTURE: return ((GLANZ_CONST struct glanz_picture *)(GLANZ_CONST void *)content)->bytes == NULL;
    case GLANZ_CONTENT_MARKS: return marks->count != 0 && marks->list == NULL;
    default: break;
    }
#endif
    return pattern->blocks == NULL || pattern->count == 0 || pattern->leds == 0;
}

#if GLANZ_DRIVES_MOST > 0
/* What is wrong with both ends of a drive, as numbers of a parameter; NULL: nothing. */
static GLANZ_CONST char *ends_wrong(GLANZ_CONST struct glanz_look *look, GLANZ_CONST struct glanz_drive *drive) {
    GLANZ_CONST struct glanz_param *param = &look->effect->params[drive->param];
    uint8_t unit = drive->unit == GLANZ_UNIT_NONE ? param->unit : drive->unit;
    if (param->kind == GLANZ_PARAM_TURN) {
        return drive->from < -GLANZ_DRIVE_TURNS || drive->from > GLANZ_DRIVE_TURNS || drive->to < -GLANZ_DRIVE_TURNS ||
                       drive->to > GLANZ_DRIVE_TURNS
                   ? GLANZ_TEXT("a drive turns at most 64 times round")
                   : NULL;
    }
    if (param->kind == GLANZ_PARAM_RATE && unit == GLANZ_UNIT_PASS_TIME) {
        return GLANZ_TEXT(
            "a driven rate goes through zero, where a pass takes for ever: expected LEDs, lengths or passes a second");
    }
    if (param->kind == GLANZ_PARAM_RATE && param->change == GLANZ_CHANGE_CROSSFADES &&
        ((drive->from < 0 && drive->to > 0) || (drive->from > 0 && drive->to < 0))) {
        return GLANZ_TEXT("this effect looks the other way when it runs backwards; expected a rate that does not pass zero");
    }
    if (param->kind != GLANZ_PARAM_RATE && param->kind != GLANZ_PARAM_COLOR &&
        (param->change == GLANZ_CHANGE_CROSSFADES || (param->kind != GLANZ_PARAM_LENGTH && param->kind != GLANZ_PARAM_SHARE))) {
        return GLANZ_TEXT("this parameter cannot be driven: between its numbers LEDs would leap");
    }
    return glanz_setting_check(look->effect, drive->param, unit, drive->from) != GLANZ_OK ||
                   glanz_setting_check(look->effect, drive->param, unit, drive->to) != GLANZ_OK
               ? GLANZ_TEXT("an end of a drive is out of its parameter's bounds")
               : NULL;
}

/* What is wrong with a drive whatever it is for; NULL: nothing. */
GLANZ_CONST char *glanz_drive_wrong(GLANZ_CONST struct glanz_drive *drive) {
    if (drive->curve >= GLANZ_CURVES || (drive->curve == GLANZ_CURVE_STEPS && drive->steps < 2)) {
        return GLANZ_TEXT("expected a curve, and for steps at least two");
    }
    if (drive->end > GLANZ_LEVEL_FULL || (drive->end == 0 ? drive->begin != 0 : drive->begin >= drive->end)) {
        return GLANZ_TEXT("the part of the signal that is followed has no width; expected that it ends after it begins");
    }
    if (drive->yields >= GLANZ_YIELDS) {
        return GLANZ_TEXT("expected what the drive does when a hand sets its number");
    }
    if (drive->rest > 60000u) {
        return GLANZ_TEXT("the middle that holds leaves nothing; expected at most 91 %");
    }
    if (drive->param == GLANZ_DRIVE_BRIGHTNESS || drive->param == GLANZ_DRIVE_OPACITY) {
        return drive->from < 0 || drive->from > 65535 || drive->to < 0 || drive->to > 65535
                   ? GLANZ_TEXT("a brightness or an opacity is from 0 to 65535")
                   : NULL;
    }
    return NULL;
}

static GLANZ_CONST char *drive_wrong(GLANZ_CONST struct glanz_look *look, uint8_t index) {
    GLANZ_CONST struct glanz_drive *drive = &look->drives[index];
    for (uint8_t i = 0; i < index; i++) {
        if (look->drives[i].param == drive->param) {
            return GLANZ_TEXT("two drives follow signals for the same number");
        }
    }
    GLANZ_CONST char *wrong = glanz_drive_wrong(drive);
    if (wrong != NULL || drive->param == GLANZ_DRIVE_BRIGHTNESS) {
        return wrong;
    }
    return drive->param >= look->effect->param_count ? GLANZ_TEXT("a drive is for a parameter that the effect has not")
                                                     : ends_wrong(look, drive);
}

/* May a segment's bearing be driven? */
static int swings(GLANZ_CONST struct glanz_segment *segment) {
#if GLANZ_FIELDS
    return segment->region.mapping == GLANZ_MAPPING_SLANTED && segment->region.swings;
#else
    (void)segment;
    return 0;
#endif
}

static GLANZ_CONST char *segment_drives_wrong(GLANZ_CONST struct glanz_segment *segment) {
    unsigned before = 0;
    for (uint8_t i = 0; i < segment->drive_count; i++) {
        uint8_t param = segment->drives == NULL ? 0 : segment->drives[i].param;
        unsigned bit =
            param < GLANZ_DRIVE_OF_SEGMENT || param > GLANZ_DRIVE_BRIGHTNESS ? 0 : 1u << (param - GLANZ_DRIVE_OF_SEGMENT);
        if (bit == 0 || (before & bit) != 0) {
            return GLANZ_TEXT("expected a drive of its brightness, of its opacity, of its bearing, each once");
        }
        if (param == GLANZ_DRIVE_BEARING && !swings(segment)) {
            return GLANZ_TEXT("its bearing is driven; expected that it lies slanted and may swing");
        }
        before |= bit;
        if (glanz_drive_wrong(&segment->drives[i]) != NULL) {
            return glanz_drive_wrong(&segment->drives[i]);
        }
    }
    return NULL;
}
#endif

/* What the effect itself says of numbers that are each in bounds. @param settings over those of the look. */
static GLANZ_CONST char *numbers_wrong(GLANZ_CONST struct glanz_look *look, GLANZ_CONST struct glanz_setting *settings,
                                       uint8_t count) {
    int32_t number[GLANZ_PARAMS];
    if (look->effect->validate == NULL) {
        return NULL;
    }
    for (uint8_t i = 0; i < look->effect->param_count; i++) {
        number[i] = look->effect->params[i].standard;
    }
    for (uint8_t i = 0; i < look->setting_count; i++) { /* those of the look may not have been looked at yet */
        if (look->settings != NULL && look->settings[i].param < look->effect->param_count) {
            number[look->settings[i].param] = look->settings[i].number;
        }
    }
    for (uint8_t i = 0; i < count; i++) {
        number[settings[i].param] = settings[i].number;
    }
    return look->effect->validate(number);
}

glanz_status glanz_look_check(GLANZ_CONST struct glanz_look *look, struct glanz_fault *fault) {
    if (look == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    GLANZ_CONST char *wrong = NULL;
    GLANZ_CONST struct glanz_content *content = (GLANZ_CONST struct glanz_content *)look->content;
    if (look->effect == NULL || !can_shade(look->effect) || look->effect->param_count > GLANZ_PARAMS) {
        wrong = GLANZ_TEXT("a look needs an effect");
    } else if (look->effect->version != GLANZ_EFFECT_VERSION) {
        wrong = GLANZ_TEXT(
            "its effect is of another version than the library; expected .version = GLANZ_EFFECT_VERSION, built anew");
    } else if (look->effect->content != GLANZ_CONTENT_NONE && (content == NULL || content->kind != look->effect->content)) {
        wrong = GLANZ_TEXT("this effect needs what it is to show: \"blocks\", \"text\", a \"picture\" or \"marks\"");
    } else if (content != NULL && look->effect->content != GLANZ_CONTENT_NONE && is_empty(content)) {
        wrong = GLANZ_TEXT("nothing is in what this effect is to show; expected blocks, a text, a picture's bytes or marks");
    }
    uint8_t colors = 0;
    uint8_t rates = 0;
    if (wrong == NULL && ((look->setting_count != 0 && look->settings == NULL) ||
                          (look->effect->param_count != 0 && look->effect->params == NULL))) {
        wrong = GLANZ_TEXT("its list of settings, or its effect's of parameters, is NULL");
    }
    for (uint8_t i = 0; wrong == NULL && i < look->effect->param_count; i++) {
        colors = (uint8_t)(colors + (look->effect->params[i].kind == GLANZ_PARAM_COLOR));
        rates = (uint8_t)(rates + (look->effect->params[i].kind == GLANZ_PARAM_RATE));
    }
    if (wrong == NULL && (colors > GLANZ_COLORS || rates > GLANZ_RATES)) {
        wrong = GLANZ_TEXT("the effect has more colours or rates than the engine keeps");
    }
    for (uint8_t i = 0; wrong == NULL && i < look->setting_count; i++) {
        if (glanz_setting_check(look->effect, look->settings[i].param, look->settings[i].unit, look->settings[i].number) !=
            GLANZ_OK) {
            wrong = GLANZ_TEXT("a setting is out of its parameter's bounds");
        }
    }
    wrong = wrong == NULL ? numbers_wrong(look, NULL, 0) : wrong;
#if GLANZ_DRIVES_MOST > 0
    for (uint8_t i = 0; wrong == NULL && i < look->drive_count; i++) {
        wrong = look->drives == NULL ? GLANZ_TEXT("its list of drives is NULL") : drive_wrong(look, i);
    }
#endif
    if (wrong != NULL) {
        glanz_fault_begin(fault);
        glanz_fault_at(fault, GLANZ_TEXT("looks"));
        glanz_fault_at(fault, look->name);
        glanz_fault_add(fault, wrong);
        return GLANZ_ERR_SHOW;
    }
    return GLANZ_OK;
}

/* LEDs that a region counts its own from: of the surface, or of the panel or ring it takes. */
static uint32_t segment_surface_leds(GLANZ_CONST struct glanz_region *region, GLANZ_CONST struct glanz_surface *surface) {
#if GLANZ_FIELDS
    if (region->piece != 0 && region->piece <= surface->piece_count) {
        return surface->pieces[region->piece - 1].leds;
    }
#else
    (void)region;
#endif
    return glanz_surface_leds(surface);
}

#if GLANZ_FIELDS
static glanz_status check_field(GLANZ_CONST struct glanz_region *region, GLANZ_CONST struct glanz_surface *surface,
                                struct glanz_fault *fault) {
    struct glanz_field field;
    if (region->pick_count != 0 && (region->picks == NULL || !glanz_region_field(&field, region, surface))) {
        glanz_fault_at(fault, GLANZ_TEXT("picked"));
        glanz_fault_add(fault, GLANZ_TEXT("expected LEDs of surface "));
        glanz_fault_name(fault, surface->name);
        glanz_fault_add(fault, GLANZ_TEXT(", each once, in order, places without a gap, and no other cut beside it"));
        return GLANZ_ERR_SHOW;
    }
    if (region->within != NULL && !glanz_region_field(&field, region, surface)) {
        struct glanz_region own = *region;
        own.within = NULL;
        if (glanz_region_field(&field, &own, surface)) {
            glanz_fault_at(fault, GLANZ_TEXT("within"));
            glanz_fault_add(fault, GLANZ_TEXT("the segment itself, "));
            glanz_fault_number(fault, field.columns);
            glanz_fault_add(fault, GLANZ_TEXT(" x "));
            glanz_fault_number(fault, field.rows);
            glanz_fault_add(fault, GLANZ_TEXT(", does not lie in it; expected one that it does, of 1023 x 1023 at the most "
                                              "(32767 points by rows or columns), or 32767 x 1"));
            return GLANZ_ERR_SHOW;
        }
    }
    if (!glanz_region_field(&field, region, surface)) {
        uint16_t columns;
        uint16_t rows;
        glanz_surface_field(&columns, &rows, surface);
        glanz_fault_at(fault, GLANZ_TEXT("rectangle"));
        glanz_fault_add(fault, GLANZ_TEXT("takes no LED of surface "));
        glanz_fault_name(fault, surface->name);
        glanz_fault_add(fault, GLANZ_TEXT(" or reaches out of it; expected a rectangle with LEDs, within "));
        glanz_fault_number(fault, columns);
        glanz_fault_add(fault, GLANZ_TEXT(" columns and "));
        glanz_fault_number(fault, rows);
        glanz_fault_add(fault, GLANZ_TEXT(" rows"));
        return GLANZ_ERR_SHOW;
    }
    return GLANZ_OK;
}
#endif

static glanz_status check_segment(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_segment *segment,
                                  struct glanz_fault *fault) {
    glanz_fault_begin(fault);
    glanz_fault_at(fault, GLANZ_TEXT("segments"));
    glanz_fault_at(fault, segment->name);
    if (segment->surface >= rig->surface_count) {
        glanz_fault_at(fault, GLANZ_TEXT("surface"));
        glanz_fault_add(fault, GLANZ_TEXT("expected a surface of the rig"));
        return GLANZ_ERR_SHOW;
    }
    GLANZ_CONST struct glanz_surface *surface = &rig->surfaces[segment->surface];
    uint32_t leds = segment_surface_leds(&segment->region, surface);
    uint32_t end = (uint32_t)segment->region.first + (segment->region.leds == 0 ? 1u : segment->region.leds);
    if (end > leds) {
        glanz_fault_at(fault, segment->region.leds == 0 ? GLANZ_TEXT("first") : GLANZ_TEXT("leds"));
        glanz_fault_add(fault, GLANZ_TEXT("the segment reaches LED "));
        glanz_fault_number(fault, end - 1u);
        glanz_fault_add(fault, GLANZ_TEXT(", past the end of surface "));
        glanz_fault_name(fault, surface->name);
        glanz_fault_add(fault, GLANZ_TEXT("; expected at most LED "));
        glanz_fault_number(fault, leds - 1u);
        return GLANZ_ERR_SHOW;
    }
#if GLANZ_FIELDS
    if (check_field(&segment->region, surface, fault) != GLANZ_OK) {
        return GLANZ_ERR_SHOW;
    }
#endif
    if (segment->blend >= GLANZ_BLEND_COUNT) {
        glanz_fault_at(fault, GLANZ_TEXT("blend"));
        glanz_fault_add(fault, GLANZ_TEXT("expected a blend mode"));
        return GLANZ_ERR_SHOW;
    }
#if GLANZ_DRIVES_MOST > 0
    GLANZ_CONST char *wrong = segment_drives_wrong(segment);
    if (wrong != NULL) {
        glanz_fault_add(fault, wrong);
        return GLANZ_ERR_SHOW;
    }
#endif
    return segment->look == NULL ? GLANZ_OK : glanz_look_check(segment->look, fault);
}

/* Numbers of its look that are others. */
static glanz_status check_numbers(GLANZ_CONST struct glanz_segment *segment, struct glanz_fault *fault) {
#if GLANZ_SEQUENCES
    if (!glanz_settings_fit(segment->look, segment->settings, segment->setting_count)) {
        glanz_fault_begin(fault);
        glanz_fault_at(fault, GLANZ_TEXT("segments"));
        glanz_fault_at(fault, segment->name);
        glanz_fault_at(fault, GLANZ_TEXT("numbers"));
        glanz_fault_add(fault, GLANZ_TEXT("expected numbers of its look, within their bounds"));
        return GLANZ_ERR_SHOW;
    }
#else
    (void)segment;
    (void)fault;
#endif
    return GLANZ_OK;
}

#if GLANZ_SEQUENCES
int glanz_settings_fit(GLANZ_CONST struct glanz_look *look, GLANZ_CONST struct glanz_setting *settings, uint8_t count) {
    for (uint8_t i = 0; i < count; i++) {
        if (settings == NULL || look == NULL || look->effect == NULL ||
            glanz_setting_check(look->effect, settings[i].param, settings[i].unit, settings[i].number) != GLANZ_OK) {
            return 0;
        }
    }
    return count == 0 || numbers_wrong(look, settings, count) == NULL;
}
#endif

glanz_status glanz_segments_check(GLANZ_CONST struct glanz_segment *segments, GLANZ_CONST uint8_t *stack, uint8_t count,
                                  GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault) {
    struct glanz_fault found = GLANZ_FAULT_INIT;
    if (rig == NULL || (segments == NULL && count != 0)) {
        return GLANZ_ERR_ARGUMENT;
    }
    for (uint8_t i = 0; i < count; i++) {
        glanz_status status = check_segment(rig, &segments[i], &found);
        status = status == GLANZ_OK ? check_numbers(&segments[i], &found) : status;
        if (status == GLANZ_OK && stack != NULL && stack[i] >= count) {
            glanz_fault_begin(&found);
            glanz_fault_at(&found, GLANZ_TEXT("stack"));
            glanz_fault_add(&found, GLANZ_TEXT("expected a segment of the show"));
            status = GLANZ_ERR_SHOW;
        }
        if (status != GLANZ_OK) {
            if (fault != NULL) {
                *fault = found;
            }
            return status;
        }
    }
    return GLANZ_OK;
}
