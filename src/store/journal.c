/* SPDX-License-Identifier: MIT */
/* Flash: marks, heads and records, and the index of where the newest of each key lies. */
#include "journal.h"

uint32_t glanz_journal_first_byte(const struct glanz_medium *medium, uint8_t format) {
    return format == FORMAT_OLD ? units(medium, MARK_BYTES) + units(medium, ORDER_BYTES_OLD)
                                : 2u * units(medium, MARK_BYTES) + 2u * units(medium, ORDER_BYTES);
}

uint32_t glanz_journal_head_bytes(const struct glanz_medium *medium, uint8_t format) {
    return units(medium, format == FORMAT_OLD ? HEAD_BYTES_OLD : HEAD_BYTES);
}

/* Bytes on flash of a record. One without bytes has no CRC of its own: its head checks. */
uint32_t glanz_journal_record_bytes(const struct glanz_medium *medium, uint8_t format, uint32_t count) {
    return glanz_journal_head_bytes(medium, format) +
           (count == 0 && format != FORMAT_OLD ? 0 : units(medium, count) + units(medium, CRC_BYTES));
}

/* Kept free in every sector for records that say that another is gone, or that a sector is: else a full store could not be
 * emptied. */
uint32_t glanz_journal_reserve(const struct glanz_medium *medium) {
    return 2u * glanz_journal_record_bytes(medium, FORMAT, 0) + glanz_journal_record_bytes(medium, FORMAT, VOID_BYTES);
}

/* The sector's size in steps of 256 bytes, and which power of two the unit is: another shape is another store. */
uint32_t glanz_journal_shape_of(const struct glanz_medium *medium) {
    uint32_t log = 0;
    while ((1u << log) < medium->unit) {
        log++;
    }
    return (medium->sector_bytes >> 8) << 3 | log;
}

int glanz_journal_is_mark(const uint8_t *mark) {
    return mark[0] == 'G' && mark[1] == 'J' && get(mark + 8, 4) == glanz_crc32(0, mark, 8);
}

int glanz_store_shape(struct glanz_medium *medium, const uint8_t *bytes) {
    if (medium == NULL || bytes == NULL || !glanz_journal_is_mark(bytes) || bytes[2] == 0 || bytes[2] > FORMAT) {
        return 0;
    }
    uint32_t shape = get(bytes + 3, 2);
    medium->sector_bytes = (shape >> 3) << 8;
    medium->unit = (uint8_t)(1u << (shape & 7u));
    return medium->sector_bytes != 0 && medium->unit <= UNIT_MOST;
}

int glanz_journal_valid_medium(const struct glanz_medium *medium) {
    if (medium == NULL || medium->version != 1) {
        return 0;
    }
    if (!is_flash(medium)) {
        return medium->load != NULL && medium->save != NULL;
    }
    return medium->program != NULL && medium->erase != NULL && medium->load == NULL && medium->save == NULL &&
           medium->sectors >= 2 && medium->sector_bytes >= 256 && medium->sector_bytes <= 1ul << 20 &&
           (medium->sector_bytes & 255u) == 0 && medium->unit != 0 && medium->unit <= UNIT_MOST &&
           (medium->unit & (medium->unit - 1)) == 0 && medium->sector_bytes % medium->unit == 0 &&
           medium->sector_bytes <= 0xFFFFFFF0u / medium->sectors;
}

glanz_status glanz_journal_read(const struct glanz_store *store, uint32_t at, uint8_t *bytes, size_t count) {
    return store->medium->read(store->medium->user, at, bytes, count) == GLANZ_OK ? GLANZ_OK : GLANZ_ERR_PORT;
}

/* Program whole units. What can be read back counts, whatever the flash says: a record must not be whole and yet have failed.
 */
int glanz_journal_program(struct glanz_store *store, uint32_t at, const uint8_t *bytes, size_t count) {
    uint8_t seen[GLANZ_STORE_PIECE];
    store->programmed += (uint32_t)count;
    (void)store->medium->program(store->medium->user, at, bytes, count);
    return glanz_journal_read(store, at, seen, count) == GLANZ_OK && memcmp(seen, bytes, count) == 0;
}

/* The same for a few bytes, filled up with 0xFF, and once more behind them. */
int glanz_journal_program_mark(struct glanz_store *store, uint32_t at, const uint8_t *bytes, size_t count) {
    uint8_t padded[UNIT_MOST];
    size_t whole = (size_t)units(store->medium, (uint32_t)count);
    memset(padded, 0xFF, sizeof padded);
    memcpy(padded, bytes, count);
    return glanz_journal_program(store, at, padded, whole) && glanz_journal_program(store, at + (uint32_t)whole, padded, whole);
}

struct place *glanz_journal_find(const struct glanz_store *store, uint16_t key) {
    for (uint16_t i = 0; i < store->place_count; i++) {
        if (store->places[i].key == key) {
            return &store->places[i];
        }
    }
    return NULL;
}

int glanz_journal_note(struct glanz_store *store, uint16_t key, uint32_t at, uint8_t newer) {
    struct place *place = glanz_journal_find(store, key);
    if (place == NULL) {
        if (store->place_count == store->place_capacity) {
            return 0;
        }
        place = &store->places[store->place_count++];
        place->key = key;
    }
    place->at = at;
    place->newer = newer;
    return 1;
}

void glanz_journal_forget(struct glanz_store *store, uint16_t key) {
    struct place *place = glanz_journal_find(store, key);
    if (place != NULL) {
        *place = store->places[--store->place_count];
    }
}

/* CRC of a head: its place is in it. */
static uint32_t head_crc(const struct glanz_store *store, uint32_t at, const uint8_t *bytes) {
    uint8_t place[8];
    uint16_t sector = sector_of(store, at);
    put(place, store->sectors[sector].sequence, 4);
    put(place + 4, at - base(store, sector), 4);
    return glanz_crc32(glanz_crc32(0, place, sizeof place), bytes, SUM_BYTES);
}

void glanz_journal_pack_head(const struct glanz_store *store, uint8_t *bytes, const struct head *head, uint32_t at) {
    bytes[0] = head->kind;
    put(bytes + 1, head->key, 2);
    put(bytes + 3, head->length, 3);
    put(bytes + SUM_BYTES, head_crc(store, at, bytes), 4);
}

static void unpack_head(struct head *head, const uint8_t *bytes) {
    head->kind = bytes[0];
    head->corrected = 0;
    head->key = (uint16_t)get(bytes + 1, 2);
    head->length = get(bytes + 3, 3);
}

/* @return 1 a head, 0 erased, -1 neither, -2 it cannot be read. */
int glanz_journal_read_head(struct head *head, const struct glanz_store *store, uint32_t at) {
    uint8_t bytes[HEAD_BYTES];
    uint16_t sector = sector_of(store, at);
    uint8_t format = store->sectors[sector].format;
    uint32_t left = store->medium->sector_bytes - (at - base(store, sector));
    size_t count = format == FORMAT_OLD ? HEAD_BYTES_OLD : HEAD_BYTES;
    if (glanz_journal_read(store, at, bytes, count) != GLANZ_OK) {
        return -2;
    }
    if (bytes[0] == KIND_NONE) { /* no head begins so, not even one with a wrong bit */
        return 0;
    }
    unpack_head(head, bytes);
    int good = format == FORMAT_OLD ? get(bytes + 6, 2) == (glanz_crc32(0, bytes, SUM_BYTES) & 0xFFFFu)
                                    : get(bytes + SUM_BYTES, 4) == head_crc(store, at, bytes);
    for (uint8_t bit = 0; !good && format != FORMAT_OLD && bit < HEAD_BYTES * 8u; bit++) { /* one bit may have flipped */
        bytes[bit >> 3] = (uint8_t)(bytes[bit >> 3] ^ (1u << (bit & 7u)));
        if (get(bytes + SUM_BYTES, 4) == head_crc(store, at, bytes)) {
            unpack_head(head, bytes);
            head->corrected = 1;
            good = 1;
        }
        bytes[bit >> 3] = (uint8_t)(bytes[bit >> 3] ^ (1u << (bit & 7u)));
    }
    return good && head->length <= store->medium->sector_bytes &&
                   glanz_journal_record_bytes(store->medium, format, head->length) <= left
               ? 1
               : -1;
}

/* Where the bytes of a record begin. */
uint32_t glanz_journal_bytes_at(const struct glanz_store *store, uint32_t at) {
    return at + glanz_journal_head_bytes(store->medium, store->sectors[sector_of(store, at)].format);
}

/* CRC of a record, so far: of what its head says. */
glanz_status glanz_journal_begin_crc(uint32_t *crc, const struct glanz_store *store, uint32_t at, const struct head *head) {
    uint8_t bytes[HEAD_BYTES_OLD];
    if (store->sectors[sector_of(store, at)].format == FORMAT_OLD) {
        glanz_status status = glanz_journal_read(store, at, bytes, sizeof bytes);
        *crc = glanz_crc32(0, bytes, sizeof bytes);
        return status;
    }
    bytes[0] = head->kind;
    put(bytes + 1, head->key, 2);
    put(bytes + 3, head->length, 3);
    *crc = glanz_crc32(0, bytes, SUM_BYTES);
    return GLANZ_OK;
}

/* Does the CRC behind a record's bytes match? */
glanz_status glanz_journal_end_crc(int *good, const struct glanz_store *store, uint32_t at, const struct head *head,
                                   uint32_t crc) {
    uint8_t bytes[CRC_BYTES];
    *good = head->length == 0 && store->sectors[sector_of(store, at)].format != FORMAT_OLD;
    if (*good) {
        return GLANZ_OK;
    }
    glanz_status status =
        glanz_journal_read(store, glanz_journal_bytes_at(store, at) + units(store->medium, head->length), bytes, CRC_BYTES);
    *good = status == GLANZ_OK && get(bytes, 4) == crc;
    return status;
}

/* Does the record with this head check? */
glanz_status glanz_journal_check_record(int *good, const struct glanz_store *store, uint32_t at, const struct head *head) {
    uint8_t bytes[GLANZ_STORE_PIECE];
    uint32_t crc;
    glanz_status status = glanz_journal_begin_crc(&crc, store, at, head);
    for (uint32_t done = 0; done < head->length && status == GLANZ_OK;) {
        size_t piece = piece_of(head->length - done);
        status = glanz_journal_read(store, glanz_journal_bytes_at(store, at) + done, bytes, piece);
        crc = glanz_crc32(crc, bytes, piece);
        done += (uint32_t)piece;
    }
    return status == GLANZ_OK ? glanz_journal_end_crc(good, store, at, head, crc) : status;
}
