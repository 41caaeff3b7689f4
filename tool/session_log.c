/* SPDX-License-Identifier: MIT */
/* What the entries of an input log do in a session. */
#include <stdlib.h>
#include <string.h>

#include "session.h"

static int set_clock(struct session *session, const char *text) {
    struct glanz_zone zone;
    uint32_t day;
    uint32_t second;
    if (!clock_parse(&day, &second, text) ||
        glanz_zone_read(&zone, glanz_device_rig(session->device)->zone, NULL) != GLANZ_OK) {
        return 0;
    }
    return glanz_device_utc(session->device, glanz_zone_utc(&zone, day, second)) == GLANZ_OK;
}

static glanz_status do_action(struct session *session, const struct text *text, struct glanz_fault *fault) {
    struct glanz_action action;
    size_t size = glanz_document_memory(text->bytes, text->count);
    void *memory = malloc(size);
    glanz_status status = memory == NULL
                              ? GLANZ_ERR_MEMORY
                              : glanz_action_read(&action, memory, size, text->bytes, text->count,
                                                  glanz_device_rig(session->device), glanz_device_show(session->device), fault);
    status = status == GLANZ_OK ? glanz_device_act(session->device, &action) : status;
    free(memory);
    return status;
}

/* The power comes back: the same board, the same flash, and everything from the start. */
void session_power_on(struct session *session) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text;
    memset(&text, 0, sizeof text);
    text_add(session->begun.bytes, session->begun.count, &text);
    session->off_until_us = 0;
    for (int i = 0; i < SESSION_SHOWS; i++) { /* patches and trials were in RAM alone */
        document_free(&session->shows[i]);
    }
    document_free(&session->trial);
    session->show = 0;
    session->trial_show = -1;
    (void)document_show(&session->shows[0], text, session->rig.rig, &session->kept, &fault); /* as at the start */
    free(session->store_memory);
    session->store = store_open(&session->store_memory, session->board, session->setup.store);
    if (session_start(session, &fault) != GLANZ_OK) {
        complain("after the power cut", &fault);
        session->complaints++;
    }
    session_say(session, "the power is back", NULL);
}

/* Save what shows, or the part of it that the entry names. */
static glanz_status save_what_shows(struct session *session, const struct entry *entry, struct glanz_fault *fault) {
    GLANZ_CONST struct glanz_show *show = glanz_device_show(session->device);
    uint64_t segments = entry->segment_count == 0 ? UINT64_MAX : 0;
    for (uint8_t i = 0; i < entry->segment_count; i++) {
        uint8_t at = 0;
        while (at < show->segment_count && strcmp(show->segments[at].name, entry->segments[i]) != 0) {
            at++;
        }
        if (at == show->segment_count) {
            glanz_fault_add(fault, "no such segment: ");
            glanz_fault_name(fault, entry->segments[i]);
            return GLANZ_ERR_ABSENT;
        }
        segments |= (uint64_t)1 << at;
    }
    return glanz_device_save(session->device, entry->name, segments, entry->aspects == 0 ? GLANZ_ASPECTS : entry->aspects,
                             entry->replace);
}

static glanz_status recall_saved(struct session *session, const struct entry *entry) {
    struct glanz_missed missed;
    memset(&missed, 0, sizeof missed);
    glanz_status status = glanz_device_recall(session->device, entry->name, GLANZ_OWN_TIME, &missed);
    session_say(session, status == GLANZ_OK ? "recalled preset" : "could not recall preset", entry->name);
    if (missed.segments + missed.looks != 0) {
        session_say(session, "some of it is not there any more, first", missed.first);
    }
    return status;
}

/* A preset gets a name, by copy or not. */
static glanz_status name_saved(struct session *session, const struct entry *entry) {
    glanz_status status = entry->kind == ENTRY_COPY ? glanz_device_copy(session->device, entry->name, entry->as)
                                                    : glanz_device_rename(session->device, entry->name, entry->as);
    session_say(session, status == GLANZ_OK ? "names a preset" : "could not name a preset", entry->as);
    return status;
}

static glanz_status push_entry(struct session *session, const struct entry *entry, struct glanz_fault *fault) {
    int input = session_input(session, entry->name);
    if (input < 0) {
        glanz_fault_add(fault, "no such input: ");
        glanz_fault_name(fault, entry->name);
        return GLANZ_ERR_ABSENT;
    }
    GLANZ_CONST struct glanz_input *is = &glanz_device_rig(session->device)->inputs[input];
    if (entry->kind == ENTRY_TURN && (!hand_can(is) || (entry->angle && !hand_turns(is)))) {
        glanz_fault_name(fault, entry->name);
        glanz_fault_add(fault, hand_can(is) ? " has a way with two ends; expected a share of it such as \"40 %\""
                                            : " is a button; expected a dial, a knob, a sensor or a value");
        return GLANZ_ERR_ARGUMENT;
    }
    if (entry->kind == ENTRY_TURN) {
        (void)session_turn(session, (uint8_t)input, entry->to, entry->by, entry->at_us, entry->for_us);
    } else if (entry->kind == ENTRY_INPUT) {
        session_push(session, (uint8_t)input, entry->level, entry->at_us);
    } else {
        session_press(session, (uint8_t)input, entry->at_us, entry->for_us);
    }
    return GLANZ_OK;
}

/* Why an entry could not be done. */
static void complain_of(struct session *session, const struct entry *entry, glanz_status status, struct glanz_fault *fault) {
    char where[300];
    session->complaints++;
    if (status == GLANZ_ERR_STATE && (entry->kind == ENTRY_SAVE || entry->kind == ENTRY_RENAME || entry->kind == ENTRY_COPY)) {
        glanz_fault_add(fault, "there is a preset of that name already");
        glanz_fault_add(fault, entry->kind == ENTRY_SAVE ? "; \"replace\": true writes over it" : "");
    }
    if (fault->text[0] == '\0') {
        if (entry->name[0] != '\0') {
            glanz_fault_name(fault, entry->name);
            glanz_fault_add(fault, ": ");
        }
        glanz_fault_add(fault, status_words(status));
    }
    snprintf(where, sizeof where, "%s, line %u", session->log_path == NULL ? "inputs" : session->log_path, entry->line);
    fault->line = 0; /* the log's line is what one can go to; the pointer leads into the patch */
    complain(where, fault);
}

void session_do(struct session *session, const struct entry *entry) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    glanz_status status = GLANZ_OK;
    glanz_board_time(session->board, entry->at_us); /* it counts from its own moment */
    if (session->record != NULL && entry->kind != ENTRY_INPUT && entry->kind != ENTRY_PRESS &&
        entry->kind != ENTRY_TURN) { /* those as raw edges */
        fprintf(session->record, "%.*s\n", (int)entry->source.count, entry->source.bytes);
    }
    switch (entry->kind) {
    case ENTRY_INPUT:
    case ENTRY_TURN:
    case ENTRY_PRESS: status = push_entry(session, entry, &fault); break;
    case ENTRY_HEAR: {
        int input = session_input(session, entry->name);
        if (input >= 0) {
            status = session_hear(session, (uint8_t)input, entry->as, entry->at_us, &fault);
        } else {
            glanz_fault_add(&fault, "no such input: ");
            glanz_fault_name(&fault, entry->name);
            status = GLANZ_ERR_ABSENT;
        }
        break;
    }
    case ENTRY_PATCH:
        status = session_patch(session, &entry->patch, &fault);
        session_say(session, status == GLANZ_OK ? "the show was patched" : "a patch was refused", NULL);
        break;
    case ENTRY_SAVE:
        status = save_what_shows(session, entry, &fault);
        session_say(session, status == GLANZ_OK ? "saves preset" : "could not save preset", entry->name);
        break;
    case ENTRY_RECALL: status = recall_saved(session, entry); break;
    case ENTRY_FORGET:
        status = glanz_device_forget(session->device, entry->name);
        session_say(session, status == GLANZ_OK ? "forgets preset" : "could not forget preset", entry->name);
        break;
    case ENTRY_RENAME:
    case ENTRY_COPY: status = name_saved(session, entry); break;
    case ENTRY_MOVE:
        status = glanz_device_move(session->device, entry->name, (uint8_t)(entry->place - 1u));
        session_say(session, status == GLANZ_OK ? "moves preset" : "could not move preset", entry->name);
        break;
    case ENTRY_POWER:
        session_say(session, "the power is cut", NULL);
        session->off_until_us = entry->at_us + entry->for_us;
        session->planned = 0;
        break;
    case ENTRY_DO: status = do_action(session, &entry->patch, &fault); break;
    case ENTRY_TRY_RIG:
        status = session_try_rig(session, entry, &fault);
        session_say(session, status == GLANZ_OK ? "rig on trial" : "refused the rig", entry->name);
        break;
    case ENTRY_CLOCK:
        if (!set_clock(session, entry->name)) {
            glanz_fault_add(&fault, "the time could not be set");
            status = GLANZ_ERR_TEXT;
        }
        break;
    case ENTRY_KEEP_RIG:
    default:
        status = glanz_device_keep(session->device);
        if (status == GLANZ_OK && session->trial_show >= 0) {
            session->show = session->trial_show;
        }
        session_say(session, status == GLANZ_OK ? "the rig is kept" : "no rig is on trial", NULL);
        break;
    }
    if (status != GLANZ_OK) {
        complain_of(session, entry, status, &fault);
    }
}
