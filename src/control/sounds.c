/* SPDX-License-Identifier: MIT */
/* Sound: what microphones hear becomes signals, and what effects that live on sound are shown. Linked with glanz_part_sound. */
#include <glanz/sound.h>

#include "control.h"

#if GLANZ_DRIVES_MOST > 0

#define GONE_US 1000000u  /* without a tick */
#define CLIPS_US 1000000u /* that a clipped sample counts */
#define FALLS_US 60000u   /* in which an onset's level goes down again; the next comes later */
#define LOWEST_PITCH (24u << 16)
#define PITCHES (48u << 16)

/* ---- a source ---- */

static int is_source(GLANZ_CONST struct glanz_rig *rig, uint8_t input) {
    return rig->inputs[input].kind == GLANZ_INPUT_SOUND;
}

static void start_counts(struct glanz_control *control, uint8_t input) {
    for (uint8_t i = 0; control->show != NULL && control->signals != NULL && i < control->show->signal_count; i++) {
        GLANZ_CONST struct glanz_signal *signal = &control->show->signals[i];
        if (signal->kind == GLANZ_SIGNAL_SOUND && signal->first == input) {
            control->signals[i].count = 0;
        }
    }
}

/* What is new at a source. @return 1 where it can be asked. */
static int hear(struct glanz_control *control, uint8_t input, glanz_us clock) {
    struct listening *is = &control->listening[input];
    const struct glanz_heard *heard = is->sound == NULL ? NULL : glanz_sound_heard(is->sound);
    if (heard != NULL && heard->ticks != 0 && heard->ticks != is->ticks) {
        if (heard->ticks - is->ticks >= 0x80000000u) { /* listening has begun anew, and so has counting */
            start_counts(control, input);
            is->clipped = 0;
        }
        is->ticks = heard->ticks;
        is->heard_at = clock;
        is->gone = 0;
    } else if (!is->gone && glanz_us_before(is->heard_at + GONE_US, clock)) {
        is->gone = 1;
    }
    control->heard[input] = is->gone ? NULL : heard;
    if (is->gone) {
        return 0;
    }
    if (heard->clipped != is->clipped) {
        is->clipped = heard->clipped;
        is->clipped_at = clock;
        is->clips = 1;
    } else if (is->clips && glanz_us_before(is->clipped_at + CLIPS_US, clock)) {
        is->clips = 0;
    }
    return 1;
}

/* ---- its signals ---- */

static uint32_t tempo_level(const struct glanz_heard *heard) {
    uint32_t per_minute = heard->period_us == 0 ? 0 : (uint32_t)(60000000ull * 256u / heard->period_us); /* 24.8 */
    uint32_t low = 60u << 8;
    return per_minute <= low ? 0 : glanz_ratio(per_minute - low, 140u << 8);
}

static uint32_t note_level(const struct glanz_heard *heard) {
    uint32_t octave = heard->pitch % (12u << 16);
    return (glanz_ratio(octave, 12u << 16) & 0xFFFFu) | GLANZ_LEVEL_TURN;
}

/* How much of the time from beat to beat has gone by. The clock is drawn to and fro a little; a turn only goes on.
 * @param was the level told last. */
static uint32_t beat_level(const struct glanz_heard *heard, uint32_t now, uint32_t was) {
    if (heard->period_us == 0) {
        return GLANZ_LEVEL_TURN;
    }
    uint32_t since = now - heard->beat_us;
    uint32_t level = since >= 0x80000000u ? 0 : glanz_ratio(since % heard->period_us, heard->period_us) & 0xFFFFu;
    uint32_t back = (was - level) & 0xFFFFu;
    return (back < 16384u ? was & 0xFFFFu : level) | GLANZ_LEVEL_TURN;
}

static uint32_t level_of(const struct listening *is, const struct glanz_heard *heard, GLANZ_CONST struct glanz_signal *signal,
                         uint32_t now, uint32_t was) {
    switch (signal->form) {
    case GLANZ_HEARS_PEAK: return glanz_level_of_value(heard->peak);
    case GLANZ_HEARS_BAND: return signal->second < heard->bands ? glanz_level_of_value(heard->band[signal->second]) : 0;
    case GLANZ_HEARS_BEAT: return beat_level(heard, now, was);
    case GLANZ_HEARS_TEMPO: return tempo_level(heard);
    case GLANZ_HEARS_TRUST: return glanz_level_of_value(heard->trust);
    case GLANZ_HEARS_PITCH: return heard->pitch <= LOWEST_PITCH ? 0 : glanz_ratio(heard->pitch - LOWEST_PITCH, PITCHES);
    case GLANZ_HEARS_NOTE: return note_level(heard);
    case GLANZ_HEARS_SILENCE: return heard->silent ? GLANZ_LEVEL_FULL : 0;
    case GLANZ_HEARS_CLIPPING: return is->clips ? GLANZ_LEVEL_FULL : 0;
    case GLANZ_HEARS_LOW: return glanz_level_of_value(heard->level[GLANZ_RANGE_LOW]);
    case GLANZ_HEARS_MIDDLE: return glanz_level_of_value(heard->level[GLANZ_RANGE_MIDDLE]);
    case GLANZ_HEARS_HIGH: return glanz_level_of_value(heard->level[GLANZ_RANGE_HIGH]);
    default: return signal->form == GLANZ_HEARS_LEVEL ? glanz_level_of_value(heard->level[GLANZ_RANGE_ALL]) : 0;
    }
}

static uint32_t level_gone(GLANZ_CONST struct glanz_signal *signal) {
    return signal->form == GLANZ_HEARS_SILENCE || signal->form == GLANZ_HEARS_GONE ? GLANZ_LEVEL_FULL
           : signal->form == GLANZ_HEARS_BEAT || signal->form == GLANZ_HEARS_NOTE  ? GLANZ_LEVEL_TURN
                                                                                   : 0;
}

static glanz_status tell(struct glanz_control *control, uint8_t index, uint32_t level, glanz_us at, uint32_t over) {
    uint32_t *was = &control->signals[index].level;
    return level == *was
               ? GLANZ_OK
               : glanz_control_change_level(control, (uint8_t)(control->rig->input_count + index), was, level, at, over);
}

/* Each onset is an edge of its own, at its time; then the level goes down evenly. */
static glanz_status tell_onsets(struct glanz_control *control, uint8_t index, const struct glanz_onset *onset, glanz_us clock,
                                uint32_t now) {
    struct signal_state *state = &control->signals[index];
    glanz_status status = GLANZ_OK;
    uint32_t peak = GLANZ_LEVEL_FULL / 2u + 1u + onset->strength / 2u;
    if (onset->count != state->count) {
        glanz_us at = control->last + glanz_control_pushed_after(onset->at_us, now, clock - control->last);
        uint16_t news = (uint16_t)(onset->count - state->count);
        for (uint16_t i = 0; i < news && i < 8; i++) {
            glanz_status down = tell(control, index, 0, at, 0);
            glanz_status up = tell(control, index, peak, at, 0);
            status = glanz_status_first(status, glanz_status_first(down, up));
        }
        state->count = onset->count;
        state->rate = onset->at_us;
    }
    uint32_t since = now - state->rate;
    uint32_t level = state->level == 0 || since >= FALLS_US ? 0 : peak - glanz_share_of(peak, glanz_ratio(since, FALLS_US));
    glanz_status fall = tell(control, index, level, clock, level == 0 ? 0 : (uint32_t)(clock - control->last));
    return glanz_status_first(status, fall);
}

static int of_onsets(uint8_t form) {
    return form >= GLANZ_HEARS_ONSET && form <= GLANZ_HEARS_HIGH_ONSET;
}

/* A signal that has just begun tells what begins from now on. Where something is heard that is not asked for again: what is
 * lent would be given back. */
static void begin_counting(struct glanz_control *control, uint8_t index) {
    struct signal_state *state = &control->signals[index];
    GLANZ_CONST struct glanz_signal *signal = &control->show->signals[index];
    const struct glanz_heard *heard = control->heard[signal->first];
    struct glanz_sound *sound = control->listening[signal->first].sound;
    if (heard == NULL && sound != NULL) { /* the source is gone, and may come back */
        heard = glanz_sound_heard(sound);
    }
    state->shift = 1;
    state->count = heard == NULL || !of_onsets(signal->form) ? 0 : heard->onset[signal->form - GLANZ_HEARS_ONSET].count;
}

static glanz_status tell_signal(struct glanz_control *control, uint8_t index, glanz_us clock, uint32_t now) {
    GLANZ_CONST struct glanz_signal *signal = &control->show->signals[index];
    const struct glanz_heard *heard = control->heard[signal->first];
    uint32_t over = clock - control->last > 1000000u ? 0 : (uint32_t)(clock - control->last);
    if (!control->signals[index].shift) {
        begin_counting(control, index);
    }
    if (heard == NULL) {
        return tell(control, index, level_gone(signal), clock, 0);
    }
    if (of_onsets(signal->form)) {
        return tell_onsets(control, index, &heard->onset[signal->form - GLANZ_HEARS_ONSET], clock, now);
    }
    uint32_t level = level_of(&control->listening[signal->first], heard, signal, now, control->signals[index].level);
    return tell(control, index, level, clock, signal->form >= GLANZ_HEARS_SILENCE ? 0 : over);
}

static glanz_status run(struct glanz_control *control, glanz_us clock, uint32_t now) {
    glanz_status status = GLANZ_OK;
    for (uint8_t i = 0; i < control->rig->input_count; i++) {
        if (is_source(control->rig, i)) {
            int hears = hear(control, i, clock);
            uint32_t level = hears ? glanz_level_of_value(control->heard[i]->level[GLANZ_RANGE_ALL]) : 0;
            uint32_t over = clock - control->last > 1000000u ? 0 : (uint32_t)(clock - control->last);
            if (level != control->inputs[i].value) {
                glanz_status told = glanz_control_change_level(control, i, &control->inputs[i].value, level, clock, over);
                status = glanz_status_first(status, told);
            }
        }
    }
    for (uint8_t i = 0; control->show != NULL && control->signals != NULL && i < control->show->signal_count; i++) {
        if (control->show->signals[i].kind == GLANZ_SIGNAL_SOUND) {
            glanz_status told = tell_signal(control, i, clock, now);
            status = glanz_status_first(status, told);
        }
    }
    return status;
}

/* ---- memory ---- */

static size_t size(GLANZ_CONST struct glanz_rig *rig) {
    size_t sources = 0;
    for (uint8_t i = 0; i < rig->input_count; i++) {
        sources += (size_t)is_source(rig, i);
    }
    size_t each = sizeof(struct listening) + sizeof(const struct glanz_heard *);
    return sources == 0 ? 0 : (each * rig->input_count + 7u) & ~(size_t)7u;
}

static glanz_status attach(struct glanz_control *control, struct glanz_sound *const *sounds, uint8_t count) {
    glanz_status status = GLANZ_OK;
    uint8_t source = 0;
    if (control->listening == NULL) {
        return GLANZ_OK;
    }
    control->heard = (const struct glanz_heard **)(void *)(control->listening + control->rig->input_count);
    for (uint8_t i = 0; i < control->rig->input_count; i++) {
        control->listening[i].gone = 1;
        if (is_source(control->rig, i) && source < count && sounds[source] != NULL) {
            control->listening[i].sound = sounds[source];
            glanz_status told = glanz_sound_listen(sounds[source], &control->rig->inputs[i].hearing);
            status = glanz_status_first(status, told);
        }
        source = (uint8_t)(source + is_source(control->rig, i));
    }
    glanz_engine_hear(control->engine, control->heard);
    return status;
}

static int listens(GLANZ_CONST struct glanz_show *show) {
    int is = 0;
    for (uint8_t i = 0; i < show->signal_count; i++) {
        is = is || show->signals[i].kind == GLANZ_SIGNAL_SOUND;
    }
#if GLANZ_FIELDS
    for (uint16_t i = 0; i < show->look_count; i++) {
        is = is || (show->looks[i].effect != NULL && (show->looks[i].effect->needs & GLANZ_NEEDS_SOUND) != 0);
    }
#endif
    return is;
}

static glanz_status fits(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show,
                         struct glanz_sound *const *sounds, uint8_t count, struct glanz_fault *fault) {
    int is_heard = listens(show);
    uint8_t source = 0;
    for (uint8_t i = 0; i < rig->input_count; i++) {
        if (!is_source(rig, i)) {
            continue;
        }
        glanz_status status = GLANZ_ERR_RIG;
        GLANZ_CONST char *wrong = glanz_hearing_wrong(&rig->inputs[i].hearing);
        if (wrong == NULL) {
            int there = source < count && sounds != NULL && sounds[source] != NULL;
            uint8_t bands = glanz_hearing_filled(&rig->inputs[i].hearing).bands;
            status = GLANZ_ERR_MEMORY;
            wrong = !there && is_heard
                        ? GLANZ_TEXT("nobody listens: the setup has fewer sounds than the rig has inputs for sound")
                    : there && bands > glanz_sound_bands(sounds[source])
                        ? GLANZ_TEXT("it has more bands than its sound has room for: see band_capacity")
                        : NULL;
        }
        if (wrong != NULL) {
            if (fault != NULL) {
                glanz_fault_begin(fault);
                glanz_fault_add(fault, GLANZ_TEXT("input "));
                glanz_fault_name(fault, rig->inputs[i].name);
                glanz_fault_add(fault, GLANZ_TEXT(": "));
                glanz_fault_add(fault, wrong);
            }
            return status;
        }
        source++;
    }
    return GLANZ_OK;
}

const struct glanz_heard *glanz_control_heard(const struct glanz_control *control, uint8_t input) {
    return control == NULL || control->heard == NULL || input >= control->rig->input_count ? NULL : control->heard[input];
}

GLANZ_CONST struct glanz_sound_part glanz_part_sound = {size, attach, fits, run};

#endif
