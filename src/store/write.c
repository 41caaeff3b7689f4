/* SPDX-License-Identifier: MIT */
/* Saving: a record, and what must be done for it, in steps. */
#include "journal.h"

/* Is the record under a key these bytes already? */
static int same(const struct glanz_store *store, const struct place *place, const uint8_t *bytes, size_t count) {
    uint8_t seen[GLANZ_STORE_PIECE];
    struct head head;
    int good;
    if (place->newer || glanz_journal_read_head(&head, store, place->at) != 1 || head.length != count) {
        return 0;
    }
    for (uint32_t done = 0; done < count;) {
        size_t piece = piece_of((uint32_t)count - done);
        if (glanz_journal_read(store, glanz_journal_bytes_at(store, place->at) + done, seen, piece) != GLANZ_OK ||
            memcmp(seen, bytes + done, piece) != 0) {
            return 0;
        }
        done += (uint32_t)piece;
    }
    return glanz_journal_check_record(&good, store, place->at, &head) == GLANZ_OK && good;
}

/* Sectors kept erased: one to collect into, and where there are four or more, another in case that one fails. */
uint16_t glanz_journal_spares(const struct glanz_store *store) {
    return store->medium->sectors - glanz_journal_count_of(store, BAD) >= 4 ? 2 : 1;
}

/* Sectors that failed are tried once more; or those that cannot be read are used again. @return 0 when there is none. */
static int try_again(struct glanz_store *store, enum state state) {
    int found = 0;
    for (uint16_t i = 0; i < store->medium->sectors; i++) {
        if (store->sectors[i].state == state) {
            store->sectors[i].tries = TRIES - 1u;
            store->sectors[i].state = DIRTY;
            found = 1;
        }
    }
    store->saves = 0;
    return found;
}

glanz_status glanz_journal_save_record(struct glanz_store *store, uint16_t key, const uint8_t *bytes, size_t count) {
    if (bytes == NULL && count != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (!is_flash(store->medium)) {
        return store->medium->save(store->medium->user, key, bytes, count);
    }
    const struct place *place = glanz_journal_find(store, key);
    if (store->read_only || (place != NULL && place->newer)) {
        return GLANZ_ERR_NEWER;
    }
    if (store->pending) {
        return GLANZ_ERR_BUSY;
    }
    if (place == NULL ? count == 0 : count != 0 && same(store, place, bytes, count)) {
        return GLANZ_OK;
    }
    uint32_t most =
        store->medium->sector_bytes - glanz_journal_first_byte(store->medium, FORMAT) - glanz_journal_reserve(store->medium);
    if (count > store->record_capacity || count > most ||
        glanz_journal_record_bytes(store->medium, FORMAT, (uint32_t)count) > most ||
        (place == NULL && store->place_count == store->place_capacity) ||
        (count != 0 && store->full != 0 && glanz_journal_record_bytes(store->medium, FORMAT, (uint32_t)count) >= store->full)) {
        return GLANZ_ERR_FULL;
    }
    if (count != 0) {
        memcpy(store->record, bytes, count);
    }
    store->key = key;
    store->count = (uint32_t)count;
    store->gone = count == 0;
    store->pending = 1;
    store->rounds = 0;
    store->result = GLANZ_OK;
    if (++store->saves >= BAD_SAVES) {
        (void)try_again(store, BAD);
    }
    return GLANZ_OK;
}

/* Go over to a task. */
static void begin(struct glanz_store *store, enum task task, uint16_t sector) {
    store->task = (uint8_t)task;
    store->other = sector;
    store->done = 0;
    store->collecting = task == COLLECT;
}

/* Write a record at the end of the head. @param source its bytes on flash; NOWHERE: in memory. */
static void begin_write(struct glanz_store *store, uint8_t kind, uint16_t key, uint32_t count, uint32_t source) {
    store->job.kind = kind;
    store->job.key = key;
    store->job.length = count;
    store->source = source;
    store->done = 0;
    store->task = WRITE;
}

/* One piece of the record that is written, with its head before and its CRC after it, in units. @return GLANZ_ERR_PORT when
 * its bytes cannot be read. */
static glanz_status next_piece(struct glanz_store *store, uint8_t *piece, uint32_t *count) {
    const struct glanz_medium *medium = store->medium;
    uint32_t head_end = glanz_journal_head_bytes(medium, FORMAT);
    uint32_t bytes_end = head_end + units(medium, store->job.length);
    memset(piece, 0xFF, GLANZ_STORE_PIECE);
    if (store->done < head_end) {
        glanz_journal_pack_head(store, piece, &store->job, base(store, store->head) + store->at);
        store->crc = glanz_crc32(0, piece, SUM_BYTES);
        *count = head_end;
    } else if (store->done < bytes_end) {
        uint32_t from = store->done - head_end;
        size_t bytes = piece_of(store->job.length - from);
        const uint8_t *memory = store->job.kind == KIND_VOID && store->source == NOWHERE ? store->void_bytes : store->record;
        if (store->source == NOWHERE) {
            memcpy(piece, memory + from, bytes);
        } else if (glanz_journal_read(store, store->source + from, piece, bytes) != GLANZ_OK) {
            return GLANZ_ERR_PORT;
        }
        store->crc = glanz_crc32(store->crc, piece, bytes);
        *count = units(medium, (uint32_t)bytes);
    } else {
        put(piece, store->crc, 4);
        *count = units(medium, CRC_BYTES);
    }
    return GLANZ_OK;
}

static void fail(struct glanz_store *store, glanz_status status) {
    store->pending = 0;
    store->result = status;
    store->task = IDLE;
    if (status == GLANZ_ERR_FULL && !store->gone) {
        store->full = glanz_journal_record_bytes(store->medium, FORMAT, store->count);
    }
}

/* A sector did not do what it was told. */
static void failed(struct glanz_store *store, uint16_t number) {
    struct sector *sector = &store->sectors[number];
    store->rounds++;
    sector->tries = (uint8_t)(sector->tries + 1u);
    sector->state = sector->tries >= TRIES ? BAD : DIRTY;
    store->task = IDLE;
}

uint32_t glanz_journal_live_bytes(const struct glanz_store *store, uint16_t sector) {
    uint32_t bytes = 0;
    for (uint16_t i = 0; i < store->place_count; i++) {
        if (sector_of(store, store->places[i].at) == sector) {
            struct head head;
            if (glanz_journal_read_head(&head, store, store->places[i].at) != 1) {
                return store->medium->sector_bytes; /* better not touched */
            }
            bytes += glanz_journal_record_bytes(store->medium, FORMAT, head.length);
        }
    }
    return bytes;
}

/* Do two records hold the same bytes? */
static int equal_bytes(const struct glanz_store *store, uint32_t one, uint32_t other, uint32_t length) {
    uint8_t a[GLANZ_STORE_PIECE / 2];
    uint8_t b[GLANZ_STORE_PIECE / 2];
    for (uint32_t done = 0; done < length; done += (uint32_t)sizeof a) {
        size_t piece = length - done < sizeof a ? (size_t)(length - done) : sizeof a;
        if (glanz_journal_read(store, one + done, a, piece) != GLANZ_OK ||
            glanz_journal_read(store, other + done, b, piece) != GLANZ_OK || memcmp(a, b, piece) != 0) {
            return 0;
        }
    }
    return 1;
}

/* Does a used sector other than the newest hold a record whole? */
static int lies_elsewhere(const struct glanz_store *store, uint32_t at, const struct head *wanted) {
    for (uint16_t s = 0; s < store->medium->sectors; s++) {
        struct walk walk = glanz_journal_walk_from(store, s);
        enum found found = END;
        while (store->sectors[s].state == USED && s != store->head && (found = glanz_journal_walk_on(&walk, store)) != END &&
               found != UNREAD) {
            if (found == WHOLE && (walk.head.kind == wanted->kind || (is_gone(walk.head.kind) && is_gone(wanted->kind))) &&
                walk.head.key == wanted->key && walk.head.length == wanted->length &&
                equal_bytes(store, glanz_journal_bytes_at(store, walk.from), glanz_journal_bytes_at(store, at),
                            wanted->length)) {
                return 1;
            }
        }
    }
    return 0;
}

/* Does the newest sector hold nothing but copies of records that lie whole in an older one? Then it may go again. */
static int only_copies(const struct glanz_store *store) {
    struct walk walk = glanz_journal_walk_from(store, store->head);
    enum found found;
    while ((found = glanz_journal_walk_on(&walk, store)) != END) {
        if (found == UNREAD || (found == WHOLE && (walk.head.kind == KIND_GONE || walk.head.kind == KIND_VOID ||
                                                   !lies_elsewhere(store, walk.from, &walk.head)))) {
            return 0;
        }
    }
    return 1;
}

static uint16_t first_of(const struct glanz_store *store, enum state state) {
    for (uint16_t i = 1; i <= store->medium->sectors; i++) { /* from the head on, around: all are worn alike */
        uint16_t sector = (uint16_t)((store->head + i) % store->medium->sectors);
        if (store->sectors[sector].state == state) {
            return sector;
        }
    }
    return store->medium->sectors;
}

/* What is to be done next for the record that waits. */
static void decide(struct glanz_store *store) {
    const struct glanz_medium *medium = store->medium;
    uint32_t need =
        glanz_journal_record_bytes(medium, FORMAT, store->count) + (store->gone ? 0 : glanz_journal_reserve(medium));
    uint16_t clean = glanz_journal_count_of(store, CLEAN);
    uint16_t dirty = first_of(store, DIRTY);
    int headed = store->head < medium->sectors;
    int tries_left = store->rounds <= medium->sectors * 2u;
    if (store->rounds > medium->sectors * 3u + TRIES) {
        fail(store, GLANZ_ERR_FULL);
    } else if (store->void_sector < medium->sectors && store->sectors[store->void_sector].state == DIRTY && tries_left) {
        begin(store, ERASE, store->void_sector); /* while it is known why it cannot be read */
    } else if (clean > 0 && headed && store->at + need <= medium->sector_bytes) {
        begin(store, WRITE, store->head);
        begin_write(store, store->gone ? KIND_GONE : KIND_RECORD, store->key, store->count, NOWHERE);
    } else if (clean > (store->rounds > medium->sectors ? 1 : glanz_journal_spares(store))) {
        begin(store, OPEN, first_of(store, CLEAN));
    } else if (dirty < medium->sectors) {
        begin(store, ERASE, dirty);
    } else if (clean > 0 && headed) {
        begin(store, COLLECT, glanz_journal_oldest_from(store, 0));
    } else if (headed && glanz_journal_count_of(store, USED) > 1 &&
               only_copies(store)) { /* cut short while collecting: begin again */
        begin(store, ERASE, store->head);
    } else if (headed && glanz_journal_count_of(store, USED) > 1 &&
               store->at + glanz_journal_live_bytes(store, glanz_journal_oldest_from(store, 0)) +
                       glanz_journal_record_bytes(medium, FORMAT, VOID_BYTES) <=
                   medium->sector_bytes) { /* no erased sector: a smaller store than before, or worn out */
        begin(store, COLLECT, glanz_journal_oldest_from(store, 0));
    } else if (!try_again(store, LOST) && !try_again(store, BAD)) {
        fail(store, GLANZ_ERR_FULL);
    }
}

static void do_open(struct glanz_store *store) {
    uint8_t order[ORDER_BYTES];
    uint16_t sector = store->other;
    put(order, ++store->sequence, 4);
    put(order + 4, store->void_to, 4);
    put(order + 8, store->void_sector, 2);
    put(order + 10, glanz_crc32(0, order, 10), 4);
    store->task = IDLE;
    if (!glanz_journal_program_mark(store, base(store, sector) + 2u * units(store->medium, MARK_BYTES), order, sizeof order)) {
        failed(store, sector);
        return;
    }
    store->sectors[sector].state = USED;
    store->sectors[sector].sequence = store->sequence;
    store->sectors[sector].format = FORMAT;
    store->head = sector;
    store->at = glanz_journal_first_byte(store->medium, FORMAT);
}

/* A record is whole on flash. */
static void end_write(struct glanz_store *store) {
    uint32_t at = base(store, store->head) + store->at;
    store->at += glanz_journal_record_bytes(store->medium, FORMAT, store->job.length);
    store->sectors[store->head].tries = 0;
    if (store->collecting) {
        store->task = COLLECT;
        if (store->job.kind == KIND_VOID && store->source == NOWHERE) {
            begin(store, ERASE, store->other);
        } else {
            (void)glanz_journal_note(store, store->job.key, at, store->job.kind != KIND_RECORD);
        }
        return;
    }
    if (store->gone) {
        glanz_journal_forget(store, store->key);
        store->full = 0;
    } else {
        store->full = glanz_journal_find(store, store->key) == NULL ? store->full : 0; /* the one before makes room */
        (void)glanz_journal_note(store, store->key, at, 0);
    }
    store->task = IDLE;
    store->pending = 0;
}

static void do_write(struct glanz_store *store) {
    uint8_t piece[GLANZ_STORE_PIECE];
    uint32_t count = 0;
    if (next_piece(store, piece, &count) != GLANZ_OK) {
        fail(store, GLANZ_ERR_PORT);
        return;
    }
    if (glanz_journal_program(store, base(store, store->head) + store->at + store->done, piece, (size_t)count)) {
        store->done += count;
        if (store->done >= glanz_journal_record_bytes(store->medium, FORMAT, store->job.length)) {
            end_write(store);
        }
        return;
    }
    /* behind what did not come out right, it is tried again */
    struct sector *head = &store->sectors[store->head];
    store->at += glanz_journal_record_bytes(store->medium, FORMAT, store->job.length);
    head->tries = (uint8_t)(head->tries + 1u);
    if (head->tries >= TRIES) { /* what it has stays readable, nothing more goes into it */
        head->tries = 0;
        store->rounds++;
        store->at = store->medium->sector_bytes;
    }
    store->task = store->collecting ? COLLECT : IDLE;
}

/* Is there room for a record in the head, unless that is collected itself, or in one that is opened for it? */
static int make_room(struct glanz_store *store, uint32_t length) {
    if (store->head != store->other && store->at + length <= store->medium->sector_bytes) {
        return 1;
    }
    uint16_t spare = first_of(store, CLEAN);
    uint16_t other = store->other;
    if (spare == store->medium->sectors) { /* decided anew: it may hold copies only, and go */
        store->rounds++;
        store->task = IDLE;
        return 0;
    }
    store->other = spare;
    do_open(store);
    store->task = store->sectors[spare].state == USED ? (uint8_t)COLLECT : (uint8_t)IDLE;
    store->other = other;
    return store->task == COLLECT && store->at + length <= store->medium->sector_bytes;
}

/* The next live record of the sector that is collected. @return its place, or NULL when there is none any more. */
static struct place *next_live(const struct glanz_store *store) {
    for (uint16_t i = 0; i < store->place_count; i++) {
        if (sector_of(store, store->places[i].at) == store->other) {
            return &store->places[i];
        }
    }
    return NULL;
}

static void do_collect(struct glanz_store *store) {
    const struct place *place = next_live(store);
    uint32_t to = store->sectors[store->other].sequence;
    if (place == NULL) {
        /* all that lives in it lies further on: from now on, it and those before it hold nothing */
        if (make_room(store, glanz_journal_record_bytes(store->medium, FORMAT, VOID_BYTES))) {
            store->void_to = to;
            store->void_sector = store->other;
            put(store->void_bytes, to, 4);
            put(store->void_bytes + 4, store->other, 2);
            begin_write(store, KIND_VOID, 0, VOID_BYTES, NOWHERE);
        }
        return;
    }
    struct head head;
    int good = 0;
    int is = glanz_journal_read_head(&head, store, place->at);
    if (is == -2 || (is == 1 && glanz_journal_check_record(&good, store, place->at, &head) != GLANZ_OK)) {
        fail(store, GLANZ_ERR_PORT);
    } else if (is != 1 || !good) {
        store->damaged++;
        glanz_journal_forget(store, place->key); /* gone bad where it lay; there is nothing to move */
    } else if (make_room(store, glanz_journal_record_bytes(store->medium, FORMAT, head.length))) {
        begin_write(store, head.kind, head.key, head.length, glanz_journal_bytes_at(store, place->at));
    }
}

static void do_erase(struct glanz_store *store) {
    uint16_t sector = store->other;
    if (sector == store->head) { /* it holds copies only: go on from what the others have */
        store->sectors[sector].state = BAD;
        (void)glanz_journal_mount(store);
    }
    uint8_t bad = store->medium->erase(store->medium->user, sector) != GLANZ_OK;
    store->erased++;
    store->rounds++;
    store->sectors[sector].state = DIRTY;
    store->other = sector;
    store->done = 0;
    store->task = WAIT;
    if (bad) {
        failed(store, sector);
    }
}

static void do_look(struct glanz_store *store) {
    uint8_t bytes[GLANZ_STORE_PIECE];
    for (uint8_t i = 0; i < 4 && store->done < store->medium->sector_bytes; i++) {
        size_t count = piece_of(store->medium->sector_bytes - store->done);
        if (glanz_journal_read(store, base(store, store->other) + store->done, bytes, count) != GLANZ_OK ||
            !erased(bytes, count)) {
            failed(store, store->other);
            return;
        }
        store->done += (uint32_t)count;
    }
    if (store->done == store->medium->sector_bytes) {
        store->task = MARK;
    }
}

static void do_mark(struct glanz_store *store) {
    uint8_t mark[MARK_BYTES] = {'G', 'J', FORMAT, 0};
    struct sector *sector = &store->sectors[store->other];
    put(mark + 3, glanz_journal_shape_of(store->medium), 2);
    put(mark + 5, sector->wear + 1u, 3);
    put(mark + 8, glanz_crc32(0, mark, 8), 4);
    if (glanz_journal_program_mark(store, base(store, store->other), mark, sizeof mark)) {
        sector->wear++;
        sector->tries = 0;
        sector->state = CLEAN;
        store->task = IDLE;
    } else {
        failed(store, store->other);
    }
}

glanz_status glanz_journal_work_on(struct glanz_store *store, uint32_t allowed_us) {
    if (!is_flash(store->medium) || (!store->pending && store->task == IDLE)) {
        return GLANZ_OK;
    }
    uint32_t stalls = store->task == ERASE ? store->medium->erase_us
                      : store->task == OPEN || store->task == WRITE || store->task == COLLECT || store->task == MARK
                          ? store->medium->program_us
                          : 0;
    if (stalls > allowed_us) {
        return GLANZ_ERR_BUSY;
    }
    switch (store->task) {
    case IDLE: decide(store); break;
    case OPEN: do_open(store); break;
    case WRITE: do_write(store); break;
    case COLLECT: do_collect(store); break;
    case ERASE: do_erase(store); break;
    case WAIT:
        if (store->medium->ready == NULL || store->medium->ready(store->medium->user)) {
            store->task = LOOK;
        }
        break;
    case LOOK: do_look(store); break;
    default: do_mark(store); break;
    }
    if (store->pending || store->task != IDLE) {
        return GLANZ_ERR_BUSY;
    }
    glanz_status result = store->result;
    store->result = GLANZ_OK;
    return result;
}
