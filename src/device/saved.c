/* SPDX-License-Identifier: MIT */
/* What a device keeps in its store: presets, found by name, in an order of their own; what is showing, to be resumed; and how
 * often it was reset early, which ends in a safe look. Steps of a save are done where there is time for them. */
#include <string.h>

#include "whole.h"

/* A preset of the show. */
static glanz_status recall_shown(struct glanz_device *device, const char *name, uint32_t over_ms) {
    struct glanz_action action;
    memset(&action, 0, sizeof action);
    action.kind = &glanz_action_recall;
    action.over_ms = over_ms;
    for (uint8_t i = 0; i < device->show->preset_count; i++) {
        if (glanz_text_equal(device->show->presets[i].name, name)) {
            action.target = i;
            return glanz_control_act(device->control, &action, glanz_device_now(device));
        }
    }
    return GLANZ_ERR_ABSENT;
}

#if GLANZ_SAVED_MOST > 0

#define NONE 255
#define HEAD_BYTES (5 + GLANZ_NAME_MOST) /* of a record, name included */

static uint16_t preset_key(uint8_t slot) {
    return (uint16_t)(GLANZ_KEY_PRESETS + slot);
}

/* The name of the preset in a slot, without reading it whole. @return 0 when there is none. */
static int slot_name(const struct glanz_device *device, char *name, uint8_t slot) {
    uint8_t head[HEAD_BYTES];
    size_t count = 0;
    if (glanz_store_load(device->store, preset_key(slot), head, sizeof head, &count) != GLANZ_OK || count < 10 ||
        head[4] > GLANZ_NAME_MOST) {
        return 0;
    }
    memcpy(name, head + 5, head[4]);
    name[head[4]] = '\0';
    return 1;
}

static void pack_order(uint8_t *record, const struct glanz_device *device) {
    memcpy(record, "GO\1", 3);
    memcpy(record + 3, device->order, GLANZ_SAVED_MOST);
}

static int has_slot(const struct glanz_device *device, uint8_t slot) {
    return memchr(device->order, slot, GLANZ_SAVED_MOST) != NULL;
}

static uint8_t count_saved(const struct glanz_device *device) {
    uint8_t count = 0;
    while (count < GLANZ_SAVED_MOST && device->order[count] != NONE) {
        count++;
    }
    return count;
}

/* Whether a slot holds a preset that can be read; notes what stands in the way. */
static int readable(struct glanz_device *device, uint8_t slot) {
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    size_t count = 0;
    char name[GLANZ_NAME_MOST + 1];
    glanz_status status = glanz_store_load(device->store, preset_key(slot), record, capacity, &count);
    if (status == GLANZ_OK && count == 0) {
        return 0;
    }
    if (status == GLANZ_OK) {
        status = count > capacity ? GLANZ_ERR_DAMAGED : glanz_preset_name(name, record, count);
    }
    if (status != GLANZ_OK) {
        glanz_device_note(device, status == GLANZ_ERR_NEWER ? "a saved preset is of a newer format and was left alone"
                                                            : "a saved preset is damaged and was left out");
    }
    return status == GLANZ_OK;
}

static void read_saved(struct glanz_device *device) {
    uint8_t record[3 + GLANZ_SAVED_MOST];
    size_t count = 0;
    uint8_t at = 0;
    memset(device->order, NONE, sizeof device->order);
    if (device->store == NULL) {
        return;
    }
    if (glanz_store_load(device->store, GLANZ_KEY_ORDER, record, sizeof record, &count) != GLANZ_OK || count < 3 ||
        count > sizeof record || memcmp(record, "GO\1", 3) != 0) {
        count = 3;
    }
    for (size_t i = 3; i < count; i++) {
        if (record[i] < GLANZ_SAVED_MOST && !has_slot(device, record[i]) && readable(device, record[i])) {
            device->order[at++] = record[i];
        }
    }
    for (uint8_t slot = 0; slot < GLANZ_SAVED_MOST; slot++) { /* those that the order does not have yet come last */
        if (!has_slot(device, slot) && readable(device, slot)) {
            device->order[at++] = slot;
        }
    }
}

/* Where in the order a name is; GLANZ_SAVED_MOST: nowhere. */
static uint8_t find_saved(const struct glanz_device *device, const char *name) {
    char own[GLANZ_NAME_MOST + 1];
    for (uint8_t i = 0; i < GLANZ_SAVED_MOST && device->order[i] != NONE; i++) {
        if (slot_name(device, own, device->order[i]) && strcmp(own, name) == 0) {
            return i;
        }
    }
    return GLANZ_SAVED_MOST;
}

/* A slot in which nothing lies, or what is damaged; presets of a newer format are left alone. */
static uint8_t free_slot(const struct glanz_device *device) {
    uint8_t damaged = NONE;
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    for (uint8_t slot = 0; slot < GLANZ_SAVED_MOST; slot++) {
        char name[GLANZ_NAME_MOST + 1];
        size_t count = 0;
        glanz_status status = glanz_store_load(device->store, preset_key(slot), record, capacity, &count);
        if (has_slot(device, slot) || (status != GLANZ_OK && status != GLANZ_ERR_DAMAGED)) {
            continue;
        }
        if (status == GLANZ_OK && count == 0) {
            return slot;
        }
        int bad =
            status == GLANZ_ERR_DAMAGED || count > capacity || glanz_preset_name(name, record, count) == GLANZ_ERR_DAMAGED;
        damaged = bad ? slot : damaged;
    }
    return damaged;
}

static void end_save(struct glanz_device *device, glanz_status status);

static glanz_status begin_save(struct glanz_device *device, uint16_t key, const uint8_t *record, size_t count) {
    glanz_status status = glanz_store_save(device->store, key, record, count);
    if (status == GLANZ_OK) {
        device->saving = key;
        device->save_since = glanz_device_now(device);
        if (!glanz_store_busy(device->store)) { /* it is there already, or the platform keeps records by itself */
            end_save(device, GLANZ_OK);
        }
    }
    return status;
}

/* What stands in the way of saving anything now. */
static glanz_status can_save(const struct glanz_device *device, const char *name) {
    return device == NULL || !glanz_saved_name_valid(name) ? GLANZ_ERR_ARGUMENT
           : device->store == NULL                         ? GLANZ_ERR_ABSENT
           : glanz_device_saving(device)                   ? GLANZ_ERR_BUSY
                                                           : GLANZ_OK;
}

static glanz_status save_showing(struct glanz_device *device, const char *name, uint64_t segments, uint8_t aspects,
                                 uint8_t replace) {
    glanz_status status = can_save(device, name);
    if (status != GLANZ_OK) {
        return status;
    }
    uint8_t place = find_saved(device, name);
    if (place < GLANZ_SAVED_MOST && !replace) {
        return GLANZ_ERR_STATE;
    }
    uint8_t slot = place < GLANZ_SAVED_MOST ? device->order[place] : free_slot(device);
    if (slot == NONE) {
        return GLANZ_ERR_FULL;
    }
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    size_t count = 0;
    status = glanz_preset_pack(device->control, name, segments, aspects, record, capacity, &count);
    device->saving_segments = segments;
    return status == GLANZ_OK ? begin_save(device, preset_key(slot), record, count) : status;
}

static glanz_status recall(struct glanz_device *device, struct glanz_missed *missed, const char *name, uint32_t over_ms) {
    if (device == NULL || name == NULL || name[0] == '\0') {
        return GLANZ_ERR_ARGUMENT;
    }
    uint8_t place = device->store == NULL ? GLANZ_SAVED_MOST : find_saved(device, name);
    if (place < GLANZ_SAVED_MOST && device->effects != NULL) {
        size_t capacity;
        uint8_t *record = glanz_store_scratch(device->store, &capacity);
        size_t count = 0;
        glanz_status status = glanz_store_load(device->store, preset_key(device->order[place]), record, capacity, &count);
        uint32_t own = device->show->change_ms == 0                ? 500u
                       : device->show->change_ms == GLANZ_OWN_TIME ? 0
                                                                   : device->show->change_ms;
        struct glanz_change change = {glanz_device_now(device), over_ms == GLANZ_OWN_TIME ? own : over_ms, 0};
        return status != GLANZ_OK ? status
                                  : glanz_preset_unpack(device->control, device->effects, record,
                                                        count < capacity ? count : capacity, change, missed);
    }
    if (missed != NULL) {
        memset(missed, 0, sizeof *missed);
    }
    return recall_shown(device, name, over_ms);
}

static glanz_status forget(struct glanz_device *device, const char *name) {
    glanz_status status = can_save(device, name);
    uint8_t place = status == GLANZ_OK ? find_saved(device, name) : GLANZ_SAVED_MOST;
    if (status != GLANZ_OK || place == GLANZ_SAVED_MOST) {
        return status != GLANZ_OK ? status : GLANZ_ERR_ABSENT;
    }
    return begin_save(device, preset_key(device->order[place]), NULL, 0);
}

/* Save a preset under another name, in its own slot or a free one. */
static glanz_status name_again(struct glanz_device *device, const char *name, const char *other, uint8_t copy) {
    glanz_status status = can_save(device, name);
    if (status != GLANZ_OK || !glanz_saved_name_valid(other)) {
        return status != GLANZ_OK ? status : GLANZ_ERR_ARGUMENT;
    }
    uint8_t place = find_saved(device, name);
    if (place == GLANZ_SAVED_MOST || find_saved(device, other) < GLANZ_SAVED_MOST) {
        return place == GLANZ_SAVED_MOST ? GLANZ_ERR_ABSENT : GLANZ_ERR_STATE;
    }
    uint8_t slot = copy ? free_slot(device) : device->order[place];
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    size_t count = 0;
    status = slot == NONE ? GLANZ_ERR_FULL
                          : glanz_store_load(device->store, preset_key(device->order[place]), record, capacity, &count);
    if (status == GLANZ_OK) {
        status = count > capacity ? GLANZ_ERR_DAMAGED : glanz_preset_rename(record, &count, capacity, other);
    }
    device->saving_segments = 0;
    return status == GLANZ_OK ? begin_save(device, preset_key(slot), record, count) : status;
}

static glanz_status move(struct glanz_device *device, const char *name, uint8_t place) {
    glanz_status status = can_save(device, name);
    uint8_t from = status == GLANZ_OK ? find_saved(device, name) : GLANZ_SAVED_MOST;
    if (status != GLANZ_OK || from == GLANZ_SAVED_MOST || place >= count_saved(device)) {
        return status != GLANZ_OK ? status : GLANZ_ERR_ABSENT;
    }
    uint8_t before[GLANZ_SAVED_MOST];
    uint8_t record[3 + GLANZ_SAVED_MOST];
    uint8_t slot = device->order[from];
    memcpy(before, device->order, sizeof before);
    memmove(device->order + from, device->order + from + 1, GLANZ_SAVED_MOST - 1u - from);
    memmove(device->order + place + 1, device->order + place, GLANZ_SAVED_MOST - 1u - place);
    device->order[place] = slot;
    pack_order(record, device);
    status = begin_save(device, GLANZ_KEY_ORDER, record, sizeof record);
    if (status != GLANZ_OK) {
        memcpy(device->order, before, sizeof before);
    }
    return status;
}

/* Each of them from outside, not from inside a callback. */

glanz_status glanz_device_save(struct glanz_device *device, const char *name, uint64_t segments, uint8_t aspects,
                               uint8_t replace) {
    DEVICE_ENTER(device);
    return glanz_device_leave(device, save_showing(device, name, segments, aspects, replace));
}

glanz_status glanz_device_recall(struct glanz_device *device, const char *name, uint32_t over_ms, struct glanz_missed *missed) {
    DEVICE_ENTER(device);
    return glanz_device_leave(device, recall(device, missed, name, over_ms));
}

glanz_status glanz_device_forget(struct glanz_device *device, const char *name) {
    DEVICE_ENTER(device);
    return glanz_device_leave(device, forget(device, name));
}

glanz_status glanz_device_rename(struct glanz_device *device, const char *name, const char *other) {
    DEVICE_ENTER(device);
    return glanz_device_leave(device, name_again(device, name, other, 0));
}

glanz_status glanz_device_copy(struct glanz_device *device, const char *name, const char *other) {
    DEVICE_ENTER(device);
    return glanz_device_leave(device, name_again(device, name, other, 1));
}

glanz_status glanz_device_move(struct glanz_device *device, const char *name, uint8_t place) {
    DEVICE_ENTER(device);
    return glanz_device_leave(device, move(device, name, place));
}

glanz_status glanz_device_saved(const struct glanz_device *device, uint8_t number, char *name) {
    if (device == NULL || name == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    return device->store != NULL && number < GLANZ_SAVED_MOST && device->order[number] != NONE &&
                   slot_name(device, name, device->order[number])
               ? GLANZ_OK
               : GLANZ_ERR_ABSENT;
}

int glanz_device_saving(const struct glanz_device *device) {
    return device != NULL && device->saving != 0;
}

/* ---- what is under way ---- */

static void happened(struct glanz_device *device, uint16_t key, uint8_t index, uint8_t good) {
    if (device->listener != NULL && key != GLANZ_KEY_RESETS && key != GLANZ_KEY_ORDER) {
        struct glanz_happening happening;
        memset(&happening, 0, sizeof happening);
        happening.at_us = device->clock;
        happening.description = good ? GLANZ_HAPPENED_SAVED : GLANZ_HAPPENED_UNSAVED;
        happening.index = index;
        device->listener(&happening, device->listener_user);
    }
}

#define APART_US 10000000u /* two records, in the long run */
#define AHEAD 6            /* so many may come sooner */

int glanz_credit_left(struct credit *credit, glanz_us now) {
    for (; credit->taken != 0 && now - credit->at >= APART_US; credit->at += APART_US) {
        credit->taken--;
    }
    return credit->taken < AHEAD;
}

void glanz_credit_take(struct credit *credit, glanz_us now) {
    credit->at = credit->taken == 0 ? now : credit->at;
    credit->taken++;
}

/* A save has come to its end. */
static void end_save(struct glanz_device *device, glanz_status status) {
    uint16_t key = device->saving;
    uint8_t slot = NONE;
    if (key >= GLANZ_KEY_PRESETS && key < GLANZ_KEY_PRESETS + GLANZ_SAVED_MOST) {
        slot = (uint8_t)(key - GLANZ_KEY_PRESETS);
    }
    device->saving = 0;
    if (device->save_answer != NULL) {
        *device->save_answer = status;
        device->save_answer = NULL;
    }
    if (status == GLANZ_OK) {
        device->counts.saved++;
    } else {
        device->counts.unsaved++;
    }
    if (status != GLANZ_OK) {
        glanz_device_note(device, slot != NONE               ? "a preset could not be saved; the store says no"
                                  : key == GLANZ_KEY_RUNNING ? "what is showing could not be kept; the store says no"
                                                             : "a record could not be saved; the store says no");
        device->spent = key == GLANZ_KEY_RUNNING;
        happened(device, key, slot, 0);
        return;
    }
    if (slot != NONE) {
        size_t count = 0;
        glanz_status there = glanz_store_load(device->store, key, NULL, 0, &count);
        uint8_t *at = (uint8_t *)memchr(device->order, slot, GLANZ_SAVED_MOST);
        if (there == GLANZ_OK && count != 0 && at == NULL) {
            device->order[count_saved(device)] = slot;
        } else if (count == 0 && at != NULL) {
            size_t rest = (size_t)(device->order + GLANZ_SAVED_MOST - 1 - at);
            memmove(at, at + 1, rest);
            device->order[GLANZ_SAVED_MOST - 1] = NONE;
        }
#if GLANZ_SEQUENCES
        glanz_control_saved(device->control, count == 0 ? 0 : device->saving_segments);
#endif
        device->spent = 0;
    }
    happened(device, key, slot, 1);
}

#if GLANZ_SEQUENCES
#define SETTLE_US 2000000u                               /* after the last change by hand */
#define PLAYING_US ((glanz_us)GLANZ_RESUME_S * 1000000u) /* when only playlists go on */

/* Is it time to keep what is showing? */
static int running_due(struct glanz_device *device) {
    struct glanz_changes now = glanz_control_changes(device->control);
    if (now.by_hand != device->seen.by_hand) {
        device->changed_at = device->clock;
        device->seen = now;
    }
    if (!device->show->resume || device->safe || device->spent || device->effects == NULL ||
        !glanz_credit_left(&device->running, device->clock)) {
        return 0;
    }
    return (now.by_hand != device->kept.by_hand && device->clock - device->changed_at >= SETTLE_US) ||
           (now.by_itself != device->kept.by_itself && device->clock - device->kept_at >= PLAYING_US);
}

static void keep_running(struct glanz_device *device) {
    size_t capacity;
    uint8_t *record = glanz_store_scratch(device->store, &capacity);
    size_t count = 0;
    device->kept = glanz_control_changes(device->control);
    device->kept_at = device->clock;
    glanz_credit_take(&device->running, device->clock);
    glanz_status status = glanz_running_pack(device->control, record, capacity, &count);
    if (status == GLANZ_OK) {
        status = begin_save(device, GLANZ_KEY_RUNNING, record, count);
    }
    if (status != GLANZ_OK) {
        device->saving = GLANZ_KEY_RUNNING;
        end_save(device, status);
    }
}
#endif

#define AGAIN_US 250000u /* between two steps that a frame waits for */

static void keep(struct glanz_device *device, uint32_t spare_us, int still) {
    static const uint8_t none = 0;
    if (device->saving == 0) {
        if (!device->old_enough && device->clock >= (glanz_us)GLANZ_EARLY_MS * 1000u) {
            device->old_enough = 1; /* whatever it was that reset it, it has not come back */
            (void)(begin_save(device, GLANZ_KEY_RESETS, &none, 1) == GLANZ_OK);
        }
#if GLANZ_SEQUENCES
        else if (running_due(device)) {
            keep_running(device);
        }
#endif
    }
    if (device->saving == 0) {
        return;
    }
    glanz_us next = still ? glanz_control_next(device->control) : device->clock;
    if (next > device->clock) { /* nothing moves: there is time */
        glanz_us quiet = next - device->clock;
        spare_us = quiet > 1000000u ? 1000000u : quiet > spare_us ? (uint32_t)quiet : spare_us;
    }
    glanz_status status = glanz_store_work(device->store, spare_us);
    if (status == GLANZ_ERR_BUSY && device->clock - device->save_since > (glanz_us)GLANZ_PATIENCE_MS * 1000u) {
        device->counts.stalls++;
        device->save_since += AGAIN_US; /* the next steps get time to be done beside the frames again */
        status = glanz_store_work(device->store, 0xFFFFFFFFu);
    }
    if (status != GLANZ_ERR_BUSY) {
        end_save(device, status);
    }
}

/* ---- the start ---- */

#define EARLY_MOST 3

static uint8_t count_reset(struct glanz_device *device) {
    uint8_t early = 0;
    size_t count = 0;
    if (glanz_store_load(device->store, GLANZ_KEY_RESETS, &early, 1, &count) != GLANZ_OK || count != 1) {
        early = 0;
    }
    uint8_t next = early < 255 ? (uint8_t)(early + 1) : early;
    glanz_status status = glanz_store_save(device->store, GLANZ_KEY_RESETS, &next, 1);
    if (status == GLANZ_OK) {
        status = glanz_store_finish(device->store);
    }
    if (status != GLANZ_OK) {
        glanz_device_note(device, GLANZ_TEXT("the store cannot be written to"));
    }
    return early >= EARLY_MOST ? early : 0;
}

/* A dim, warm light: about a hundredth of the full current. */
static void dim(struct glanz_light *light, uint8_t output, uint16_t first, uint8_t count, void *user) {
    (void)output;
    (void)first;
    (void)user;
    for (uint8_t i = 0; i < count; i++) {
        light[i].red = 900;
        light[i].green = 520;
        light[i].blue = 200;
    }
}

static glanz_status begin_show(struct glanz_device *device, struct glanz_fault *fault) {
    if (device->safe != 0) {
        struct glanz_change change = {device->clock, 1000, 0};
        glanz_device_note(device, GLANZ_TEXT("reset again and again soon after its start: a safe look, without the show"));
        glanz_status status = glanz_engine_paint(device->engine, dim, NULL);
        return status != GLANZ_OK ? status : glanz_engine_brightness(device->engine, GLANZ_ALL, 65535, change);
    }
#if GLANZ_SEQUENCES
    if (device->show->resume && device->store != NULL && device->effects != NULL) {
        size_t capacity;
        uint8_t *record = glanz_store_scratch(device->store, &capacity);
        size_t count = 0;
        glanz_status status = glanz_store_load(device->store, GLANZ_KEY_RUNNING, record, capacity, &count);
        if (status == GLANZ_OK && count != 0 && count <= capacity) {
            status = glanz_control_begin(device->control, device->show, device->clock, 1, fault);
            if (status != GLANZ_OK) {
                return status;
            }
            status = glanz_running_unpack(device->control, device->effects, record, count, device->clock, NULL);
            if (status == GLANZ_OK) {
                return GLANZ_OK;
            }
        }
        if (status != GLANZ_OK) {
            glanz_device_note(device, GLANZ_TEXT("what was last showing cannot be read"));
        }
    }
#endif
    return glanz_control_begin(device->control, device->show, device->clock, 0, fault);
}

static glanz_status begin(struct glanz_device *device, struct glanz_fault *fault) {
    glanz_status status = begin_show(device, fault);
#if GLANZ_SEQUENCES
    device->seen = glanz_control_changes(device->control);
    device->kept = device->seen; /* the start itself is nothing to be kept */
    device->kept_at = device->clock;
#endif
    return status;
}

static void lend(struct glanz_device *device) {
    glanz_control_values(device->control, device->values, device->values_size);
}

GLANZ_CONST struct glanz_saving_part glanz_part_saving = {count_reset, read_saved, lend, begin, keep};

#else /* nothing can be saved; presets of the show can be recalled by name */

glanz_status glanz_device_save(struct glanz_device *device, const char *name, uint64_t segments, uint8_t aspects,
                               uint8_t replace) {
    (void)segments;
    (void)aspects;
    (void)replace;
    return device == NULL || name == NULL || name[0] == '\0' ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_ABSENT;
}

glanz_status glanz_device_recall(struct glanz_device *device, const char *name, uint32_t over_ms, struct glanz_missed *missed) {
    if (device == NULL || name == NULL || name[0] == '\0') {
        return GLANZ_ERR_ARGUMENT;
    }
    if (missed != NULL) {
        memset(missed, 0, sizeof *missed);
    }
    return recall_shown(device, name, over_ms);
}

glanz_status glanz_device_forget(struct glanz_device *device, const char *name) {
    return device == NULL || name == NULL || name[0] == '\0' ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_ABSENT;
}

glanz_status glanz_device_rename(struct glanz_device *device, const char *name, const char *other) {
    return other == NULL ? GLANZ_ERR_ARGUMENT : glanz_device_forget(device, name);
}

glanz_status glanz_device_copy(struct glanz_device *device, const char *name, const char *other) {
    return other == NULL ? GLANZ_ERR_ARGUMENT : glanz_device_forget(device, name);
}

glanz_status glanz_device_move(struct glanz_device *device, const char *name, uint8_t place) {
    (void)place;
    return glanz_device_forget(device, name);
}

glanz_status glanz_device_saved(const struct glanz_device *device, uint8_t number, char *name) {
    (void)number;
    return device == NULL || name == NULL ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_ABSENT;
}

int glanz_device_saving(const struct glanz_device *device) {
    (void)device;
    return 0;
}

#endif
