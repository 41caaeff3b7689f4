/* SPDX-License-Identifier: MIT */
/* What signals and drives of a show cannot be. Linked with glanz_part_checks only. */
#include "control.h"

#if GLANZ_DRIVES_MOST > 0

/* Is there an input of the rig, or a signal before it, of its name? */
static int is_named_twice(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig, uint8_t index) {
    GLANZ_CONST char *name = show->signals[index].name;
    for (uint8_t i = 0; name != NULL && i < rig->input_count; i++) {
        if (rig->inputs[i].name != NULL && glanz_name_equal(rig->inputs[i].name, name)) {
            return 1;
        }
    }
    for (uint8_t i = 0; name != NULL && i < index; i++) {
        if (show->signals[i].name != NULL && glanz_name_equal(show->signals[i].name, name)) {
            return 1;
        }
    }
    return 0;
}

static GLANZ_CONST char *sound_wrong(GLANZ_CONST struct glanz_signal *signal, GLANZ_CONST struct glanz_rig *rig) {
    if (signal->first >= rig->input_count || rig->inputs[signal->first].kind != GLANZ_INPUT_SOUND) {
        return GLANZ_TEXT("it listens to what is no input for sound");
    }
    return signal->form == GLANZ_HEARS_BAND && signal->second >= glanz_hearing_filled(&rig->inputs[signal->first].hearing).bands
               ? GLANZ_TEXT("its source has fewer bands")
               : NULL;
}

static glanz_status check_signals(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                                  struct glanz_fault *fault) {
    static GLANZ_CONST uint8_t forms[] = {GLANZ_WAVE_WANDER, GLANZ_CLOCK_YEAR, GLANZ_COMBINE_SMALLER, GLANZ_STATE_PLAYING,
                                          GLANZ_HEARS_CLIPPING};
    for (uint8_t i = 0; i < show->signal_count; i++) {
        GLANZ_CONST struct glanz_signal *signal = &show->signals[i];
        GLANZ_CONST char *wrong = NULL;
        if (i >= GLANZ_SIGNALS_MOST || rig->input_count + show->signal_count > 254) {
            wrong = GLANZ_TEXT("more signals than the library was built for: GLANZ_SIGNALS_MOST");
        } else if (is_named_twice(show, rig, i)) {
            wrong = GLANZ_TEXT("an input of the rig, or another signal, has this name; expected one of its own");
        } else if (signal->kind > GLANZ_SIGNAL_SOUND || signal->form > forms[signal->kind]) {
            wrong = GLANZ_TEXT("expected a wave, the clock, a combination, a state or sound");
        } else if (signal->kind == GLANZ_SIGNAL_WAVE && (signal->period_ms < 100 || signal->period_ms > 86400000u)) {
            wrong = GLANZ_TEXT("expected a period from 100 ms to 24 h");
        } else if (signal->kind == GLANZ_SIGNAL_WAVE && (signal->low > GLANZ_LEVEL_FULL || signal->high > GLANZ_LEVEL_FULL ||
                                                         (signal->low == signal->high && signal->low != 0))) {
            wrong = GLANZ_TEXT("a wave between two levels that are the same; expected two from 0 to 100 %");
        } else if (signal->kind == GLANZ_SIGNAL_COMBINE &&
                   (signal->first >= rig->input_count + i || signal->second >= rig->input_count + i)) {
            wrong = GLANZ_TEXT("expected two signals that come before this one");
        } else if (signal->kind == GLANZ_SIGNAL_SOUND) {
            wrong = sound_wrong(signal, rig);
        }
        if (wrong != NULL) {
            return glanz_show_refuse(fault, GLANZ_TEXT("signals"), signal->name, wrong);
        }
    }
    return GLANZ_OK;
}

/* Drives of one thing: what they follow is there, and all of them are not too many. */
static glanz_status check_followed(GLANZ_CONST struct glanz_drive *drives, uint8_t drive_count, uint16_t signals,
                                   uint16_t *count, struct glanz_fault *fault, GLANZ_CONST char *where,
                                   GLANZ_CONST char *name) {
    for (uint8_t i = 0; i < drive_count; i++) {
        if (drives[i].signal >= signals) {
            return glanz_show_refuse(
                fault, where, name, GLANZ_TEXT("a drive follows what is neither an input of the rig nor a signal of the show"));
        }
        if (++*count > GLANZ_DRIVES_MOST) {
            return glanz_show_refuse(fault, where, name,
                                     GLANZ_TEXT("more drives than the library was built for: GLANZ_DRIVES_MOST"));
        }
    }
    return GLANZ_OK;
}

/* What a look's effect reacts to is there. */
static glanz_status check_pulses(GLANZ_CONST struct glanz_look *look, uint16_t signals, struct glanz_fault *fault) {
    for (uint8_t i = 0; look->effect != NULL && look->settings != NULL && i < look->setting_count; i++) {
        GLANZ_CONST struct glanz_setting *setting = &look->settings[i];
        if (setting->param < look->effect->param_count && look->effect->params[setting->param].kind == GLANZ_PARAM_SIGNAL &&
            (setting->number < 0 || setting->number > signals)) {
            return glanz_show_refuse(
                fault, GLANZ_TEXT("looks"), look->name,
                GLANZ_TEXT("its effect reacts to what is neither an input of the rig nor a signal of the show"));
        }
    }
    return GLANZ_OK;
}

static glanz_status check_drives(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                                 struct glanz_fault *fault) {
    uint16_t count = 0;
    uint16_t signals = (uint16_t)(rig->input_count + show->signal_count);
    glanz_status status = GLANZ_OK;
    for (uint16_t i = 0; i < show->look_count && status == GLANZ_OK; i++) {
        status = check_pulses(&show->looks[i], signals, fault);
        status = status != GLANZ_OK ? status
                                    : check_followed(show->looks[i].drives, show->looks[i].drive_count, signals, &count, fault,
                                                     GLANZ_TEXT("looks"), show->looks[i].name);
    }
    for (uint8_t i = 0; i < show->segment_count && status == GLANZ_OK; i++) {
        if (show->segments[i].drive_count != 0 && show->segments[i].drives == NULL) {
            return glanz_show_refuse(fault, GLANZ_TEXT("segments"), show->segments[i].name,
                                     GLANZ_TEXT("its list of drives is NULL"));
        }
        status = check_followed(show->segments[i].drives, show->segments[i].drive_count, signals, &count, fault,
                                GLANZ_TEXT("segments"), show->segments[i].name);
    }
    if (status == GLANZ_OK && show->drive != NULL) {
        GLANZ_CONST char *wrong = show->drive->param != GLANZ_DRIVE_BRIGHTNESS ? GLANZ_TEXT("expected a drive of brightness")
                                                                               : glanz_drive_wrong(show->drive);
        status = wrong != NULL ? glanz_show_refuse(fault, GLANZ_TEXT("brightness"), NULL, wrong)
                               : check_followed(show->drive, 1, signals, &count, fault, GLANZ_TEXT("brightness"), NULL);
    }
    return status;
}

glanz_status glanz_signals_check(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                                 struct glanz_fault *fault) {
    glanz_status status = check_signals(show, rig, fault);
    return status == GLANZ_OK ? check_drives(show, rig, fault) : status;
}

#endif
