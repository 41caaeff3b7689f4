/* SPDX-License-Identifier: MIT */
/* The journal: records appended to sectors of NOR flash that follow each other in a ring.
 *
 * A sector begins with two marks, each written twice: that it is erased (format, size, wear), when an erasure has ended; and
 * its number in the sequence with what is void by then, when it is opened. After them lie records: a head (kind, key, length,
 * and a CRC that also covers the sector's number and the place in it, so that bytes of a record are never taken for another),
 * the bytes, and their CRC. A record counts when it checks; the last of a key wins.
 *
 * Invariants: a sector or two are kept erased. When there are no more, the live records of the oldest sector are copied on,
 * then a record says that all sectors up to it are void, and only then it is erased: whatever an erasure that is cut short
 * leaves is not read again. Nothing else is written while no sector is erased. So at any moment every live record is whole
 * somewhere, and a record that says that a key is gone is needed no longer than its own sector. */
#include "journal.h"

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

size_t glanz_store_size(const struct glanz_medium *medium, uint16_t keys, uint32_t record_capacity) {
    if (!glanz_journal_valid_medium(medium)) {
        return 0;
    }
    if (!is_flash(medium)) {
        return align8(sizeof(struct glanz_store)) + align8((size_t)record_capacity);
    }
    return align8(sizeof(struct glanz_store)) + align8((size_t)record_capacity) +
           align8(sizeof(struct sector) * medium->sectors) + align8(sizeof(struct place) * keys) +
           align8((size_t)record_capacity);
}

glanz_status glanz_store_start(struct glanz_store **out, void *memory, size_t size, const struct glanz_medium *medium,
                               uint16_t keys, uint32_t record_capacity) {
    if (out == NULL || memory == NULL || !glanz_journal_valid_medium(medium) ||
        GLANZ_MISALIGNED(memory) != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (size < glanz_store_size(medium, keys, record_capacity)) {
        return GLANZ_ERR_MEMORY;
    }
    struct glanz_store *store = (struct glanz_store *)memory;
    memset(store, 0, sizeof *store);
    store->medium = medium;
    store->record_capacity = record_capacity;
    store->scratch = (uint8_t *)memory + align8(sizeof *store);
    if (is_flash(medium)) {
        uint8_t *at = store->scratch + align8((size_t)record_capacity);
        store->sectors = (struct sector *)(void *)at;
        memset(at, 0, sizeof(struct sector) * medium->sectors);
        at += align8(sizeof(struct sector) * medium->sectors);
        store->places = (struct place *)(void *)at;
        store->place_capacity = keys;
        store->record = at + align8(sizeof(struct place) * keys);
        glanz_status status = glanz_journal_mount(store);
        if (status != GLANZ_OK) {
            return status;
        }
    }
    *out = store;
    return GLANZ_OK;
}

static glanz_status load_record(struct glanz_store *store, uint16_t key, uint8_t *bytes, size_t capacity, size_t *count) {
    if (count == NULL || (bytes == NULL && capacity != 0)) {
        return GLANZ_ERR_ARGUMENT;
    }
    *count = 0;
    if (!is_flash(store->medium)) {
        uint8_t none;
        return store->medium->load(store->medium->user, key, bytes == NULL ? &none : bytes, capacity, count);
    }
    const struct place *place = glanz_journal_find(store, key);
    if (place == NULL) {
        return GLANZ_OK;
    }
    if (place->newer) {
        return GLANZ_ERR_NEWER;
    }
    struct head head;
    int is = glanz_journal_read_head(&head, store, place->at);
    if (is != 1) {
        return is == -2 ? GLANZ_ERR_PORT : GLANZ_ERR_DAMAGED;
    }
    size_t wanted = head.length < capacity ? (size_t)head.length : capacity;
    glanz_status status =
        wanted == 0 ? GLANZ_OK : glanz_journal_read(store, glanz_journal_bytes_at(store, place->at), bytes, wanted);
    if (status == GLANZ_OK && wanted == head.length) { /* read whole: does it still check? */
        uint32_t crc = 0;
        int good = 0;
        status = glanz_journal_begin_crc(&crc, store, place->at, &head);
        status = status == GLANZ_OK ? glanz_journal_end_crc(&good, store, place->at, &head, glanz_crc32(crc, bytes, wanted))
                                    : status;
        if (status == GLANZ_OK && !good) {
            return GLANZ_ERR_DAMAGED;
        }
    }
    *count = (size_t)head.length;
    return status;
}

/* Each of them from outside, not from inside the medium. */

glanz_status glanz_store_load(struct glanz_store *store, uint16_t key, uint8_t *bytes, size_t capacity, size_t *count) {
    if (store == NULL || store->inside) {
        return store == NULL ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_STATE;
    }
    store->inside = 1;
    glanz_status status = load_record(store, key, bytes, capacity, count);
    store->inside = 0;
    return status;
}

glanz_status glanz_store_save(struct glanz_store *store, uint16_t key, const uint8_t *bytes, size_t count) {
    if (store == NULL || store->inside) {
        return store == NULL ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_STATE;
    }
    store->inside = 1;
    glanz_status status = glanz_journal_save_record(store, key, bytes, count);
    store->inside = 0;
    return status;
}

glanz_status glanz_store_work(struct glanz_store *store, uint32_t allowed_us) {
    if (store == NULL || store->inside) {
        return store == NULL ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_STATE;
    }
    store->inside = 1;
    glanz_status status = glanz_journal_work_on(store, allowed_us);
    store->inside = 0;
    return status;
}

glanz_status glanz_store_finish(struct glanz_store *store) {
    glanz_status status;
    do {
        status = glanz_store_work(store, 0xFFFFFFFFu);
    } while (status == GLANZ_ERR_BUSY);
    return status;
}

uint8_t *glanz_store_scratch(const struct glanz_store *store, size_t *capacity) {
    if (capacity != NULL) {
        *capacity = store == NULL ? 0 : (size_t)store->record_capacity;
    }
    return store == NULL ? NULL : store->scratch;
}

int glanz_store_busy(const struct glanz_store *store) {
    return store != NULL && (store->pending || store->task != IDLE);
}

void glanz_store_look(const struct glanz_store *store, struct glanz_store_state *state) {
    if (state == NULL) {
        return;
    }
    memset(state, 0, sizeof *state);
    if (store == NULL || !is_flash(store->medium)) {
        return;
    }
    for (uint16_t i = 0; i < store->place_count; i++) {
        state->newer = (uint16_t)(state->newer + store->places[i].newer);
    }
    for (uint16_t i = 0; i < store->medium->sectors; i++) {
        state->used += glanz_journal_live_bytes(store, i);
    }
    state->records = (uint16_t)(store->place_count - state->newer);
    state->damaged = store->damaged;
    state->bad = glanz_journal_count_of(store, BAD);
    state->clean = glanz_journal_count_of(store, CLEAN);
    state->corrected = store->corrected;
    state->unreadable = glanz_journal_count_of(store, LOST);
    state->capacity =
        (uint32_t)(store->medium->sectors - state->bad - glanz_journal_spares(store)) *
        (store->medium->sector_bytes - glanz_journal_first_byte(store->medium, FORMAT) - glanz_journal_reserve(store->medium));
    state->wear = glanz_journal_most_worn(store);
    state->erased = store->erased;
    state->programmed = store->programmed;
    state->read_only = store->read_only;
}

glanz_status glanz_store_key(const struct glanz_store *store, uint16_t number, uint16_t *key) {
    if (key == NULL || store == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (!is_flash(store->medium) || number >= store->place_count) {
        return GLANZ_ERR_ABSENT;
    }
    *key = store->places[number].key;
    return GLANZ_OK;
}

uint32_t glanz_store_wear(const struct glanz_store *store, uint16_t sector) {
    return store == NULL || !is_flash(store->medium) || sector >= store->medium->sectors ? 0 : store->sectors[sector].wear;
}
