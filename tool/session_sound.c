/* SPDX-License-Identifier: MIT */
/* What a session's inputs for sound hear: files, pipes and devices, pushed up to the time of each frame. */
#include <stdlib.h>
#include <string.h>

#include "session.h"

#define TICK_US 5000u /* samples are pushed in blocks of this, as a DMA would */

int session_open_ears(struct session *session) {
    static const struct glanz_sound_setup setup = {&glanz_sound_tempo, &glanz_sound_pitch, &glanz_sound_wave, 0};
    for (int i = 0; i < SESSION_EARS; i++) {
        size_t size = glanz_sound_size(&setup);
        session->ears[i].memory = calloc(1, size);
        if (session->ears[i].memory == NULL ||
            glanz_sound_start(&session->ears[i].sound, session->ears[i].memory, size, &setup) != GLANZ_OK) {
            return 0;
        }
        session->sounds[i] = session->ears[i].sound;
    }
    return 1;
}

void session_close_ears(struct session *session) {
    for (int i = 0; i < SESSION_EARS; i++) {
        glanz_microphone_close(session->ears[i].microphone);
        free(session->ears[i].memory);
    }
}

glanz_status session_hear(struct session *session, uint8_t input, const char *path, uint64_t at_us, struct glanz_fault *fault) {
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(session->device);
    int index = 0;
    for (uint8_t i = 0; i < input; i++) {
        index += rig->inputs[i].kind == GLANZ_INPUT_SOUND;
    }
    if (input >= rig->input_count || rig->inputs[input].kind != GLANZ_INPUT_SOUND || index >= SESSION_EARS) {
        glanz_fault_begin(fault);
        glanz_fault_name(fault, input < rig->input_count ? rig->inputs[input].name : path);
        glanz_fault_add(fault, " is no input for sound that could hear this");
        return GLANZ_ERR_ARGUMENT;
    }
    struct ear *ear = &session->ears[index];
    struct glanz_fault wrong = GLANZ_FAULT_INIT;
    struct glanz_microphone *microphone = glanz_microphone_open(path, rig->inputs[input].hearing.rate_hz, &wrong);
    if (microphone == NULL) {
        glanz_fault_begin(fault);
        glanz_fault_name(fault, path);
        glanz_fault_add(fault, " ");
        glanz_fault_add(fault, wrong.text);
        return GLANZ_ERR_TEXT;
    }
    if (glanz_microphone_note(microphone) != NULL) {
        complain_plain("%s %s", path, glanz_microphone_note(microphone));
    }
    glanz_microphone_close(ear->microphone);
    ear->microphone = microphone;
    ear->begin_us = at_us;
    ear->samples = 0;
    ear->rate = rig->inputs[input].hearing.rate_hz;
    ear->input = input;
    return GLANZ_OK;
}

/* @return 0: it has ended. */
static int listen(struct session *session, struct ear *ear, uint64_t now_us) {
    int16_t samples[512];
    uint64_t due = (now_us - ear->begin_us) * ear->rate / 1000000u;
    while (ear->samples < due) {
        size_t block = ear->rate * TICK_US / 1000000u;
        size_t count = due - ear->samples < block ? (size_t)(due - ear->samples) : block;
        size_t got = glanz_microphone_read(ear->microphone, samples, count);
        ear->samples += got;
        uint64_t taken_us = ear->begin_us + ear->samples * 1000000u / ear->rate;
        if (got != 0 && session->off_until_us == 0) { /* nobody hears it without power */
            (void)glanz_sound_push(ear->sound, samples, got, 1, (uint32_t)taken_us);
        }
        if (got < count) {
            return 0;
        }
    }
    return 1;
}

void session_listen(struct session *session, uint64_t now_us) {
    for (int i = 0; i < SESSION_EARS; i++) {
        struct ear *ear = &session->ears[i];
        if (ear->microphone != NULL && now_us > ear->begin_us && !listen(session, ear, now_us)) {
            session_say(session, "the sound has ended at", session_signal(session, ear->input));
            glanz_microphone_close(ear->microphone);
            ear->microphone = NULL;
        }
    }
}
