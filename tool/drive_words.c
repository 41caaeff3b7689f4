/* SPDX-License-Identifier: MIT */
/* Drives in words: what follows what, and what may not be meant. */
#include "drive_words.h"

#include <stdio.h>
#include <string.h>

#include "json.h"

const char *drive_name(GLANZ_CONST struct glanz_look *look, GLANZ_CONST struct glanz_drive *drive) {
    return drive->param == GLANZ_DRIVE_OPACITY                      ? "opacity"
           : drive->param == GLANZ_DRIVE_BEARING                    ? "bearing"
           : drive->param == GLANZ_DRIVE_BRIGHTNESS || look == NULL ? "brightness"
                                                                    : look->effect->params[drive->param].name;
}

void drive_number_text(char *out, GLANZ_CONST struct glanz_look *look, GLANZ_CONST struct glanz_drive *drive, int32_t number) {
    static const uint8_t kinds[] = {0, QUANTITY_LENGTH, QUANTITY_RATE, QUANTITY_SHARE};
    if (drive->param == GLANZ_DRIVE_BEARING) {
        glanz_quantity_text(out, QUANTITY_ANGLE, number, 0);
        return;
    }
    if (drive->param >= GLANZ_DRIVE_OF_SEGMENT || look == NULL) {
        glanz_quantity_text(out, QUANTITY_LIGHTNESS, number, 0);
        return;
    }
    GLANZ_CONST struct glanz_param *param = &look->effect->params[drive->param];
    uint8_t unit = drive->unit == GLANZ_UNIT_NONE ? param->unit : drive->unit;
    if (param->kind == GLANZ_PARAM_TURN) {
        glanz_quantity_text(out, QUANTITY_ANGLE, number, 0);
    } else if (param->kind != GLANZ_PARAM_COLOR) {
        glanz_quantity_text(out, (enum quantity)kinds[param->kind], number, param->kind == GLANZ_PARAM_SHARE ? 0 : unit);
    } else if (((glanz_color)number >> 24) == 3) {
        strcpy(out, "a named colour");
    } else {
        glanz_color_text(out, (glanz_color)number);
    }
}

static int is_turn(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig, uint8_t signal) {
    if (signal < rig->input_count) {
        return rig->inputs[signal].kind == GLANZ_INPUT_DIAL ||
               (rig->inputs[signal].kind == GLANZ_INPUT_KNOB && rig->inputs[signal].endless);
    }
    return glanz_signal_turns(&show->signals[signal - rig->input_count]);
}

/* Does the end of its way join its start? */
static int closes(GLANZ_CONST struct glanz_look *look, GLANZ_CONST struct glanz_drive *drive) {
    if (drive->param == GLANZ_DRIVE_BEARING || (look != NULL && drive->param < GLANZ_DRIVE_OF_SEGMENT &&
                                                look->effect->params[drive->param].kind == GLANZ_PARAM_TURN)) {
        return (drive->to - drive->from) % 65536 == 0 && drive->end == 0 && drive->rest == 0 &&
               drive->curve == GLANZ_CURVE_STRAIGHT;
    }
    if (look != NULL && drive->param < GLANZ_DRIVE_OF_SEGMENT && look->effect->params[drive->param].kind == GLANZ_PARAM_COLOR &&
        (drive->from >> 24) == 2 && (drive->to >> 24) == 2) {
        int32_t a = drive->from >> 14 & 0x1FF;
        int32_t b = drive->to >> 14 & 0x1FF;
        return (drive->from & 0x3FFF) == (drive->to & 0x3FFF) && (a - b) % 360 == 0;
    }
    return drive->from == drive->to;
}

static void tell(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_look *look,
                 GLANZ_CONST struct glanz_drive *drive, const char *of, const char *name) {
    char from[64];
    char to[64];
    const char *signal = drive->signal < rig->input_count ? rig->inputs[drive->signal].name
                                                          : show->signals[drive->signal - rig->input_count].name;
    drive_number_text(from, look, drive, drive->from);
    drive_number_text(to, look, drive, drive->to);
    printf("  %s%s%s%s: %s follows \"%s\" from %s to %s\n", of, name == NULL ? "" : " \"", name == NULL ? "" : name,
           name == NULL ? "" : "\"", drive_name(look, drive), signal, from, to);
    if (is_turn(show, rig, drive->signal) && !closes(look, drive)) {
        printf(
            "    warning: \"%s\" goes round, and this leaps from its end to its start there; follow a part of it that is never "
            "left, or close the way: 0 to 360 deg, hsl(0 ...) to hsl(360 ...)\n",
            signal);
    }
    if (drive->signal >= rig->input_count) {
        GLANZ_CONST struct glanz_signal *is = &show->signals[drive->signal - rig->input_count];
        uint32_t low = is->low < is->high ? is->low : is->high;
        uint32_t high = is->high > is->low ? is->high : is->low == 0 ? GLANZ_LEVEL_FULL : is->low;
        uint32_t end = drive->end == 0 ? GLANZ_LEVEL_FULL : drive->end;
        if (is->kind == GLANZ_SIGNAL_WAVE && (high <= drive->begin || low >= end)) {
            printf("    warning: \"%s\" never comes into the part that is followed; this stands still\n", signal);
        }
    }
}

void drives_tell(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig) {
    for (uint16_t i = 0; i < show->look_count; i++) {
        for (uint8_t k = 0; k < show->looks[i].drive_count; k++) {
            tell(show, rig, &show->looks[i], &show->looks[i].drives[k], "look", show->looks[i].name);
        }
    }
    for (uint8_t i = 0; i < show->segment_count; i++) {
        for (uint8_t k = 0; k < show->segments[i].drive_count; k++) {
            tell(show, rig, NULL, &show->segments[i].drives[k], "segment", show->segments[i].name);
        }
    }
    if (show->drive != NULL) {
        tell(show, rig, NULL, show->drive, "the whole", NULL);
    }
}
