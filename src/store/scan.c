/* SPDX-License-Identifier: MIT */
/* What is there after a start: marks, the way through a sector, the index; and how much of everything there is. */
#include "journal.h"

/* Is all of this still erased? */
static glanz_status is_blank(int *blank, const struct glanz_store *store, uint32_t from, uint32_t to) {
    uint8_t bytes[GLANZ_STORE_PIECE];
    glanz_status status = GLANZ_OK;
    *blank = 1;
    while (from < to && *blank && status == GLANZ_OK) {
        size_t piece = piece_of(to - from);
        status = glanz_journal_read(store, from, bytes, piece);
        *blank = erased(bytes, piece);
        from += (uint32_t)piece;
    }
    return status;
}

/* Bits in which bytes differ from those of a mark of this store. */
static uint8_t unlike_mark(const struct glanz_store *store, const uint8_t *bytes) {
    uint8_t mark[5] = {'G', 'J', FORMAT, 0, 0};
    uint8_t bits = 0;
    put(mark + 3, glanz_journal_shape_of(store->medium), 2);
    for (uint8_t i = 0; i < sizeof mark * 8u; i++) {
        bits = (uint8_t)(bits + (((unsigned)(mark[i >> 3] ^ bytes[i >> 3]) >> (i & 7u)) & 1u));
    }
    return bits;
}

/* What is a sector that was erased for a store, by its second mark? A mark that is there once only was cut short; so nothing
 * lies behind it, and the sector is erased again: whatever holds records has its marks twice.
 * @param whole 1: both copies of the first mark check. */
static glanz_status read_order(struct glanz_store *store, uint16_t number, uint8_t format, uint8_t whole) {
    struct sector *sector = &store->sectors[number];
    uint32_t at = base(store, number) + (format == FORMAT_OLD ? 1u : 2u) * units(store->medium, MARK_BYTES);
    uint8_t size = format == FORMAT_OLD ? ORDER_BYTES_OLD : ORDER_BYTES;
    uint8_t copies = format == FORMAT_OLD ? 1 : 2;
    uint8_t order[ORDER_BYTES];
    uint8_t seen_blank = 0;
    uint8_t good = 0;
    int blank = 0;
    sector->format = format;
    for (uint8_t copy = 0; copy < copies; copy++) {
        glanz_status status = glanz_journal_read(store, at + copy * units(store->medium, size), order, size);
        if (status != GLANZ_OK) {
            return status;
        }
        seen_blank = (uint8_t)(seen_blank + erased(order, size));
        if (get(order + size - 4, 4) == glanz_crc32(0, order, size - 4u) && get(order, 4) < SEQUENCES) {
            good++;
            sector->sequence = get(order, 4);
            if (format != FORMAT_OLD && get(order + 4, 4) >= store->void_to) {
                store->void_to = get(order + 4, 4);
                store->void_sector = (uint16_t)get(order + 8, 2);
            }
        }
    }
    if (good == copies) {
        sector->state = USED;
        return GLANZ_OK;
    }
    uint8_t opened = seen_blank == 0 || (format != FORMAT_OLD && seen_blank == 1);
    uint32_t from = opened ? base(store, number) + glanz_journal_first_byte(store->medium, format) : at;
    glanz_status status = is_blank(&blank, store, from, base(store, number) + store->medium->sector_bytes);
    if (good != 0) {
        store->sequence = sector->sequence > store->sequence ? sector->sequence : store->sequence;
        sector->state = blank ? DIRTY : USED;
    } else if (opened) {
        sector->state = blank ? DIRTY : LOST; /* opening it was cut short, and nothing can be in it; or something is */
    } else {
        /* ready for use, if nothing has fallen on it since; one of the old format is erased for the new one */
        sector->state = blank && whole && format == FORMAT ? CLEAN : DIRTY;
    }
    return status;
}

/* What is a sector? */
static glanz_status read_marks(struct glanz_store *store, uint16_t number) {
    uint8_t mark[MARK_BYTES];
    struct sector *sector = &store->sectors[number];
    uint8_t format = 0;
    uint8_t good = 0;
    uint8_t alike = 0;
    sector->state = DIRTY;
    for (uint8_t copy = 0; copy < 2; copy++) {
        glanz_status status =
            glanz_journal_read(store, base(store, number) + copy * units(store->medium, MARK_BYTES), mark, sizeof mark);
        if (status != GLANZ_OK) {
            return status;
        }
        if (glanz_journal_is_mark(mark) && mark[2] > FORMAT) {
            store->read_only = 1;
            return GLANZ_OK;
        }
        if (glanz_journal_is_mark(mark) && mark[2] != 0 && get(mark + 3, 2) == glanz_journal_shape_of(store->medium) &&
            (copy == 0 || mark[2] != FORMAT_OLD)) {
            sector->wear = get(mark + 5, 3);
            format = mark[2];
            good++;
        } else if (unlike_mark(store, mark) <= ALIKE) {
            alike = 1;
        }
        if (format == FORMAT_OLD) { /* has it once */
            break;
        }
    }
    if (good != 0) {
        return read_order(store, number, format, good == 2);
    }
    if (!alike) {
        return GLANZ_OK;
    }
    /* damaged, but its second mark may tell that it is in use */
    glanz_status status = read_order(store, number, FORMAT, 0);
    store->corrected = (uint16_t)(store->corrected + (sector->state == USED));
    sector->state = sector->state == USED ? USED : LOST;
    return status;
}

struct walk glanz_journal_walk_from(const struct glanz_store *store, uint16_t sector) {
    struct walk walk;
    memset(&walk, 0, sizeof walk);
    walk.sector = sector;
    walk.at = glanz_journal_first_byte(store->medium, store->sectors[sector].format);
    walk.end = walk.at;
    return walk;
}

enum found glanz_journal_walk_on(struct walk *walk, const struct glanz_store *store) {
    const struct glanz_medium *medium = store->medium;
    uint8_t format = store->sectors[walk->sector].format;
    while (walk->at + glanz_journal_record_bytes(medium, format, 0) <= medium->sector_bytes) {
        int good = 0;
        walk->from = base(store, walk->sector) + walk->at;
        int is = glanz_journal_read_head(&walk->head, store, walk->from);
        if (is == -2 || (is == 1 && glanz_journal_check_record(&good, store, walk->from, &walk->head) != GLANZ_OK)) {
            return UNREAD;
        }
        if (is == 1 && !good && walk->head.corrected) {
            is = -1; /* no head at all */
        }
        walk->strange = (uint8_t)(is != -1 ? 0 : walk->strange < 2 ? walk->strange + 1 : 2);
        walk->at += is == 1 ? glanz_journal_record_bytes(medium, format, walk->head.length) : medium->unit;
        if (is != 0) {
            walk->end = walk->at;
            return is != 1 ? STRANGE : good ? WHOLE : TORN;
        }
    }
    return END;
}

/* Note the records of a used sector. @param end filled with where the next could begin. */
static glanz_status scan(struct glanz_store *store, uint16_t number, uint32_t *end) {
    struct walk walk = glanz_journal_walk_from(store, number);
    enum found found;
    while ((found = glanz_journal_walk_on(&walk, store)) != END) {
        if (found == UNREAD) {
            return GLANZ_ERR_PORT;
        }
        if (found != WHOLE) {
            store->damaged = (uint16_t)(store->damaged + (found == TORN || walk.strange == 1));
            continue;
        }
        store->corrected = (uint16_t)(store->corrected + walk.head.corrected);
        if (is_gone(walk.head.kind)) {
            glanz_journal_forget(store, walk.head.key);
        } else if (walk.head.kind != KIND_VOID &&
                   !glanz_journal_note(store, walk.head.key, walk.from, walk.head.kind != KIND_RECORD)) {
            return GLANZ_ERR_MEMORY;
        }
    }
    *end = walk.end;
    return GLANZ_OK;
}

/* What the newest sector says is void. Those before it have told the ones that were opened after them. */
static glanz_status scan_void(struct glanz_store *store, uint16_t number) {
    struct walk walk = glanz_journal_walk_from(store, number);
    enum found found;
    while ((found = glanz_journal_walk_on(&walk, store)) != END) {
        uint8_t bytes[VOID_BYTES];
        if (found == UNREAD) {
            return GLANZ_ERR_PORT;
        }
        if (found == WHOLE && walk.head.kind == KIND_VOID && walk.head.length == VOID_BYTES) {
            if (glanz_journal_read(store, glanz_journal_bytes_at(store, walk.from), bytes, sizeof bytes) != GLANZ_OK) {
                return GLANZ_ERR_PORT;
            }
            if (get(bytes, 4) >= store->void_to) {
                store->void_to = get(bytes, 4);
                store->void_sector = (uint16_t)get(bytes + 4, 2);
            }
        }
    }
    return GLANZ_OK;
}

/* Where is everything from here on still erased? */
static glanz_status erased_from(struct glanz_store *store, uint32_t *end) {
    uint8_t bytes[GLANZ_STORE_PIECE];
    uint32_t at = store->medium->sector_bytes;
    while (at > *end) {
        size_t piece = piece_of(at - *end);
        glanz_status status = glanz_journal_read(store, base(store, store->head) + at - (uint32_t)piece, bytes, piece);
        if (status != GLANZ_OK) {
            return status;
        }
        for (size_t i = piece; i > 0; i--) {
            if (bytes[i - 1] != 0xFF) {
                *end = units(store->medium, at - (uint32_t)(piece - i));
                return GLANZ_OK;
            }
        }
        at -= (uint32_t)piece;
    }
    return GLANZ_OK;
}

/* The used sector with the least sequence above or equal to one; `sectors` for none. */
uint16_t glanz_journal_oldest_from(const struct glanz_store *store, uint32_t sequence) {
    uint16_t found = store->medium->sectors;
    for (uint16_t i = 0; i < store->medium->sectors; i++) {
        if (store->sectors[i].state == USED && store->sectors[i].sequence >= sequence &&
            (found == store->medium->sectors || store->sectors[i].sequence < store->sectors[found].sequence)) {
            found = i;
        }
    }
    return found;
}

uint16_t glanz_journal_count_of(const struct glanz_store *store, enum state state) {
    uint16_t count = 0;
    for (uint16_t i = 0; i < store->medium->sectors; i++) {
        count = (uint16_t)(count + (store->sectors[i].state == state));
    }
    return count;
}

uint32_t glanz_journal_most_worn(const struct glanz_store *store) {
    uint32_t wear = 0;
    for (uint16_t i = 0; i < store->medium->sectors; i++) {
        wear = store->sectors[i].wear > wear ? store->sectors[i].wear : wear;
    }
    return wear;
}

static uint16_t newest(const struct glanz_store *store) {
    uint16_t found = store->medium->sectors;
    for (uint16_t i = 0; i < store->medium->sectors; i++) {
        if (store->sectors[i].state == USED &&
            (found == store->medium->sectors || store->sectors[i].sequence > store->sectors[found].sequence)) {
            found = i;
        }
    }
    return found;
}

glanz_status glanz_journal_mount(struct glanz_store *store) {
    const struct glanz_medium *medium = store->medium;
    uint32_t end = 0;
    store->place_count = 0;
    store->damaged = 0;
    store->corrected = 0;
    store->void_to = 0;
    store->void_sector = medium->sectors;
    for (uint16_t i = 0; i < medium->sectors; i++) {
        if (store->sectors[i].state != BAD) {
            glanz_status status = read_marks(store, i);
            if (status != GLANZ_OK) {
                return status;
            }
        }
    }
    store->head = newest(store);
    glanz_status status = store->head == medium->sectors ? GLANZ_OK : scan_void(store, store->head);
    uint32_t highest = store->head == medium->sectors ? 0 : store->sectors[store->head].sequence;
    highest = highest < store->void_to ? store->void_to : highest;
    store->sequence = store->sequence < highest ? highest : store->sequence;
    for (uint16_t i = 0; i < medium->sectors; i++) {
        struct sector *sector = &store->sectors[i];
        if ((sector->state == USED && sector->sequence <= store->void_to) ||
            (sector->state == LOST && i == store->void_sector)) {
            sector->state = DIRTY; /* its erasure was cut short */
        }
        if (sector->wear == 0 && sector->state != CLEAN) {
            sector->wear = glanz_journal_most_worn(store); /* not known any more */
        }
    }
    for (uint16_t i = glanz_journal_oldest_from(store, 0); status == GLANZ_OK && i < medium->sectors;
         i = glanz_journal_oldest_from(store, store->sectors[i].sequence + 1u)) {
        status = scan(store, i, &end);
    }
    if (status != GLANZ_OK || store->head == medium->sectors) {
        return status;
    }
    store->at = end;
    status = erased_from(store, &store->at);
    /* a step that was cut short may have left bits that still read as erased: nothing goes where it may have been */
    store->at += GLANZ_STORE_PIECE;
    if (store->sectors[store->head].format != FORMAT) { /* nothing new goes into an old one */
        store->at = medium->sector_bytes;
    }
    return status;
}
