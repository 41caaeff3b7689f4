/* SPDX-License-Identifier: MIT */
/* A session's documents while it runs: patches, effects built anew, rigs on trial. */
#include <string.h>

#include "effects.h"
#include "session.h"

static int free_slot(struct session *session) {
    for (int i = 0; i < SESSION_SHOWS; i++) {
        struct document *document = &session->shows[i];
        if (document->show != NULL && i != session->show &&
            !glanz_device_uses(session->device, document->memory, document->memory_size)) {
            document_free(document);
        }
    }
    for (int i = 0; i < SESSION_SHOWS; i++) {
        if (session->shows[i].show == NULL) {
            return i;
        }
    }
    return -1;
}

glanz_status session_patch(struct session *session, const struct text *patch, struct glanz_fault *fault) {
    struct text merged;
    int slot = free_slot(session);
    if (slot < 0) {
        glanz_fault_begin(fault);
        glanz_fault_add(fault, "earlier shows are still fading; try again when they are done");
        return GLANZ_ERR_BUSY;
    }
    glanz_status status = patch_text(&merged, &session->shows[session->show].text, patch, fault);
    if (status != GLANZ_OK) {
        text_free(&merged);
        return status;
    }
    struct text copy = {NULL, 0, 0};
    text_add(merged.bytes, merged.count, &copy);
    status = document_show(&session->shows[slot], merged, glanz_device_rig(session->device), &session->kept, fault);
    if (status == GLANZ_OK) {
        status = glanz_device_set_show(session->device, session->shows[slot].show, 0, fault);
        if (status != GLANZ_OK) {
            document_free(&session->shows[slot]);
        }
    }
    if (status != GLANZ_OK) {
        patch_locate(fault, patch, &copy);
    } else {
        session->show = slot;
    }
    text_free(&copy);
    return status;
}

glanz_status session_show(struct session *session, const struct text *text, struct glanz_fault *fault) {
    struct text copy = {NULL, 0, 0};
    int slot = free_slot(session);
    if (slot < 0) {
        return GLANZ_ERR_BUSY;
    }
    text_add(text->bytes, text->count, &copy);
    glanz_status status = document_show(&session->shows[slot], copy, glanz_device_rig(session->device), &session->kept, fault);
    if (status != GLANZ_OK) {
        return status;
    }
    status = glanz_device_set_show(session->device, session->shows[slot].show, 0, fault);
    if (status == GLANZ_OK) {
        session->show = slot;
    } else {
        document_free(&session->shows[slot]);
    }
    return status;
}

glanz_status session_exchange(struct session *session, const struct exchanged *exchanged, struct glanz_fault *fault) {
    struct glanz_engine *engine = glanz_device_engine(session->device);
    struct text copy = {NULL, 0, 0};
    int slot = free_slot(session);
    if (slot < 0) {
        glanz_fault_begin(fault);
        glanz_fault_add(fault, "earlier shows are still fading; try again when they are done");
        return GLANZ_ERR_BUSY;
    }
    text_add(session->shows[session->show].text.bytes, session->shows[session->show].text.count, &copy);
    glanz_status status = document_show(&session->shows[slot], copy, glanz_device_rig(session->device), &session->kept, fault);
    if (status != GLANZ_OK) {
        return status;
    }
    uint64_t kept = 0; /* pairs that go on as they are, as bits */
    for (int i = 0; exchanged[i].before != NULL; i++) {
        if (exchanged[i].after != NULL && glanz_engine_exchange(engine, exchanged[i].before, exchanged[i].after) == GLANZ_OK) {
            kept |= (uint64_t)1 << i;
        }
    }
    status = glanz_device_set_show(session->device, session->shows[slot].show, 0, fault);
    if (status == GLANZ_OK) {
        session->show = slot;
        return GLANZ_OK;
    }
    for (int i = 0; exchanged[i].before != NULL; i++) {
        if ((kept >> i & 1u) != 0) {
            (void)!glanz_engine_exchange(engine, exchanged[i].after, exchanged[i].before);
        }
    }
    document_free(&session->shows[slot]);
    return status;
}

glanz_status session_try_rig(struct session *session, const struct entry *entry, struct glanz_fault *fault) {
    struct text text;
    struct text copy;
    if (session->trial.rig != NULL && !glanz_device_uses(session->device, session->trial.memory, session->trial.memory_size)) {
        document_free(&session->trial);
    }
    int slot = free_slot(session);
    if (slot < 0 || session->trial.rig != NULL) {
        return GLANZ_ERR_BUSY;
    }
    if (!text_read(&text, entry->name)) {
        return GLANZ_ERR_ABSENT;
    }
    glanz_status status = document_rig(&session->trial, text, fault);
    if (status == GLANZ_OK) {
        memset(&copy, 0, sizeof copy);
        text_add(session->shows[session->show].text.bytes, session->shows[session->show].text.count, &copy);
        status = document_show(&session->shows[slot], copy, session->trial.rig, &session->kept, fault);
    }
    if (status == GLANZ_OK) {
        status = glanz_device_set_rig(session->device, session->trial.rig, session->shows[slot].show,
                                      (uint32_t)(entry->for_us / 1000), fault);
    }
    if (status != GLANZ_OK) {
        document_free(&session->shows[slot]);
        document_free(&session->trial);
        return status;
    }
    session->trial_show = slot;
    return GLANZ_OK;
}
