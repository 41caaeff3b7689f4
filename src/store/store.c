/* SPDX-License-Identifier: MIT */
/* The journal: records appended to sectors of NOR flash that follow each other in a ring.
 *
 * A sector begins with two marks, each in programming units of its own: that it is erased (format, size, wear), written when
 * an erasure has ended; and its number in the sequence, written when it is opened. After them lie records: a head of 8 bytes
 * (kind, key, length, check), the bytes, and CRC-32 over both. A record counts when its CRC is there; the last of a key wins.
 *
 * Invariants: a sector or two are kept erased. When there are no more, the live records of the oldest sector are copied into
 * the newest, and on into an erased one, before the oldest is erased; nothing else is written until then. So at any moment
 * every live record is whole somewhere. A sector without both marks whole holds nothing that was ever confirmed. */
#include <string.h>

#include <glanz/store.h>

#define MARK_BYTES 12u /* "GJ", format, shape (2 bytes), wear (3 bytes), CRC */
#define ORDER_BYTES 8u /* sequence, CRC */
#define HEAD_BYTES 8u  /* kind, key, length (3 bytes), check */
#define CRC_BYTES 4u
#define FORMAT 1u
#define KIND_RECORD 0xA1u
#define KIND_GONE 0xB1u
#define KIND_MOVED 0xB3u /* the same, carried on from another sector */
#define KIND_NONE 0xFFu
#define SEQUENCES 0xFFFF0000u /* no flash lives that long: what is above was never written here */
#define NO_KEY 0x10000u
#define LOOKS 16u /* places looked at in a step */
#define NOWHERE 0xFFFFFFFFu
#define UNIT_MOST 32u

enum state { DIRTY, CLEAN, USED, BAD };
enum task { IDLE, OPEN, WRITE, COLLECT, ERASE, WAIT, LOOK, MARK };

struct sector {
    uint32_t sequence; /* of a used one */
    uint8_t state;
};

struct place { /* where the newest record of a key lies */
    uint32_t at;
    uint16_t key;
    uint16_t newer; /* 1: of a kind that is not known here */
};

struct glanz_store {
    const struct glanz_medium *medium;
    struct sector *sectors;
    struct place *places;
    uint8_t *record;  /* being saved */
    uint8_t *scratch; /* lent to whoever builds and reads records */
    uint32_t record_room;
    uint16_t place_room, place_count;
    uint8_t read_only, pending, gone, task;
    glanz_status result;
    uint16_t key;
    uint16_t head;     /* newest used sector; = sectors: none */
    uint16_t other;    /* sector that is collected or erased */
    uint16_t rounds;   /* sectors erased for this save */
    uint32_t count;    /* bytes of the record being saved */
    uint32_t at;       /* next free byte in the head */
    uint32_t done;     /* bytes of the task that are done */
    uint32_t from;     /* where the record that is copied lies; NOWHERE: none yet */
    uint32_t length;   /* bytes on flash of the record that is written or copied */
    uint32_t crc;      /* so far; while copying: bytes that are copied */
    uint32_t gone_key; /* that is carried on; NO_KEY */
    uint32_t full;     /* a record of so many bytes found no room; 0: not known */
    uint32_t wear, erased, programmed;
    uint16_t damaged, newer;
};

/* ---- small things ---- */

static uint32_t get(const uint8_t *bytes, uint8_t count) {
    uint32_t number = 0;
    for (uint8_t i = 0; i < count; i++) {
        number |= (uint32_t)bytes[i] << (8 * i);
    }
    return number;
}

static void put(uint8_t *bytes, uint32_t number, uint8_t count) {
    for (uint8_t i = 0; i < count; i++) {
        bytes[i] = (uint8_t)(number >> (8 * i));
    }
}

static uint32_t units(const struct glanz_medium *medium, uint32_t bytes) {
    uint32_t unit = medium->unit;
    return (bytes + unit - 1u) & ~(unit - 1u);
}

/* As many bytes as are read or programmed at once. */
static size_t piece_of(uint32_t left) {
    return left < GLANZ_STORE_PIECE ? (size_t)left : (size_t)GLANZ_STORE_PIECE;
}

static uint32_t first_byte(const struct glanz_medium *medium) {
    return units(medium, MARK_BYTES) + units(medium, ORDER_BYTES);
}

/* Bytes on flash of a record. */
static uint32_t record_bytes(const struct glanz_medium *medium, uint32_t count) {
    return units(medium, HEAD_BYTES) + units(medium, count) + units(medium, CRC_BYTES);
}

/* Kept free in every sector for records that say that another is gone: else a full store could not be emptied. */
static uint32_t reserve(const struct glanz_medium *medium) {
    return 2u * record_bytes(medium, 0);
}

/* The sector's size in steps of 256 bytes, and which power of two the unit is: another shape is another store. */
static uint32_t shape_of(const struct glanz_medium *medium) {
    uint32_t log = 0;
    while ((1u << log) < medium->unit) {
        log++;
    }
    return (medium->sector_bytes >> 8) << 3 | log;
}

static int is_mark(const uint8_t *mark) {
    return mark[0] == 'G' && mark[1] == 'J' && get(mark + 8, 4) == glanz_crc32(0, mark, 8);
}

int glanz_store_shape(struct glanz_medium *medium, const uint8_t *bytes) {
    if (medium == NULL || bytes == NULL || !is_mark(bytes) || bytes[2] != FORMAT) {
        return 0;
    }
    uint32_t shape = get(bytes + 3, 2);
    medium->sector_bytes = (shape >> 3) << 8;
    medium->unit = (uint8_t)(1u << (shape & 7u));
    return medium->sector_bytes != 0 && medium->unit <= UNIT_MOST;
}

static int is_flash(const struct glanz_medium *medium) {
    return medium->read != NULL;
}

static int valid_medium(const struct glanz_medium *medium) {
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

static glanz_status read(const struct glanz_store *store, uint32_t at, uint8_t *bytes, size_t count) {
    return store->medium->read(store->medium->user, at, bytes, count) == GLANZ_OK ? GLANZ_OK : GLANZ_ERR_PORT;
}

static uint32_t base(const struct glanz_store *store, uint32_t sector) {
    return sector * store->medium->sector_bytes;
}

/* Program whole units, and look whether they came out right. */
static int program(struct glanz_store *store, uint32_t at, const uint8_t *bytes, size_t count) {
    uint8_t seen[GLANZ_STORE_PIECE];
    store->programmed += (uint32_t)count;
    return store->medium->program(store->medium->user, at, bytes, count) == GLANZ_OK &&
           read(store, at, seen, count) == GLANZ_OK && memcmp(seen, bytes, count) == 0;
}

/* The same for a few bytes, filled up with 0xFF. */
static int program_mark(struct glanz_store *store, uint32_t at, const uint8_t *bytes, size_t count) {
    uint8_t padded[UNIT_MOST];
    memset(padded, 0xFF, sizeof padded);
    memcpy(padded, bytes, count);
    return program(store, at, padded, (size_t)units(store->medium, (uint32_t)count));
}

static int erased(const uint8_t *bytes, size_t count) {
    size_t i = 0;
    while (i < count && bytes[i] == 0xFF) {
        i++;
    }
    return i == count;
}

/* ---- the index ---- */

static struct place *find(const struct glanz_store *store, uint16_t key) {
    for (uint16_t i = 0; i < store->place_count; i++) {
        if (store->places[i].key == key) {
            return &store->places[i];
        }
    }
    return NULL;
}

static int note(struct glanz_store *store, uint16_t key, uint32_t at, uint8_t newer) {
    struct place *place = find(store, key);
    if (place == NULL) {
        if (store->place_count == store->place_room) {
            return 0;
        }
        place = &store->places[store->place_count++];
        place->key = key;
    }
    place->at = at;
    place->newer = newer;
    return 1;
}

static void forget(struct glanz_store *store, uint16_t key) {
    struct place *place = find(store, key);
    if (place != NULL) {
        *place = store->places[--store->place_count];
    }
}

/* ---- reading what is there ---- */

struct head {
    uint8_t kind;
    uint16_t key;
    uint32_t length; /* of the bytes */
};

static void pack_head(uint8_t *bytes, const struct head *head) {
    bytes[0] = head->kind;
    put(bytes + 1, head->key, 2);
    put(bytes + 3, head->length, 3);
    put(bytes + 6, glanz_crc32(0, bytes, 6), 2);
}

/* @return 1 a head, 0 erased, -1 neither. */
static int unpack_head(struct head *head, const struct glanz_store *store, const uint8_t *bytes, uint32_t left) {
    if (erased(bytes, HEAD_BYTES)) {
        return 0;
    }
    head->kind = bytes[0];
    head->key = (uint16_t)get(bytes + 1, 2);
    head->length = get(bytes + 3, 3);
    return head->kind != KIND_NONE && get(bytes + 6, 2) == (glanz_crc32(0, bytes, 6) & 0xFFFFu) &&
                   head->length <= store->medium->sector_bytes && record_bytes(store->medium, head->length) <= left
               ? 1
               : -1;
}

/* Does the record with this head check? */
static glanz_status check_record(int *good, const struct glanz_store *store, uint32_t at, const struct head *head) {
    uint8_t bytes[GLANZ_STORE_PIECE];
    glanz_status status = read(store, at, bytes, HEAD_BYTES);
    uint32_t crc = glanz_crc32(0, bytes, HEAD_BYTES);
    at += units(store->medium, HEAD_BYTES);
    for (uint32_t done = 0; done < head->length && status == GLANZ_OK;) {
        size_t piece = piece_of(head->length - done);
        status = read(store, at + done, bytes, piece);
        crc = glanz_crc32(crc, bytes, piece);
        done += (uint32_t)piece;
    }
    if (status == GLANZ_OK) {
        status = read(store, at + units(store->medium, head->length), bytes, CRC_BYTES);
    }
    *good = status == GLANZ_OK && get(bytes, 4) == crc;
    return status;
}

/* Is all of this still erased? */
static glanz_status is_blank(int *blank, const struct glanz_store *store, uint32_t from, uint32_t to) {
    uint8_t bytes[GLANZ_STORE_PIECE];
    glanz_status status = GLANZ_OK;
    *blank = 1;
    while (from < to && *blank && status == GLANZ_OK) {
        size_t piece = piece_of(to - from);
        status = read(store, from, bytes, piece);
        *blank = erased(bytes, piece);
        from += (uint32_t)piece;
    }
    return status;
}

/* What is a sector, by its marks? */
static glanz_status read_marks(struct glanz_store *store, uint16_t number) {
    int blank = 0;
    uint8_t mark[MARK_BYTES];
    uint8_t order[ORDER_BYTES];
    struct sector *sector = &store->sectors[number];
    uint32_t at = base(store, number);
    glanz_status status = read(store, at, mark, sizeof mark);
    if (status == GLANZ_OK) {
        status = read(store, at + units(store->medium, MARK_BYTES), order, sizeof order);
    }
    sector->state = DIRTY;
    if (status != GLANZ_OK || !is_mark(mark)) {
        return status;
    }
    if (mark[2] > FORMAT) {
        store->read_only = 1;
        return GLANZ_OK;
    }
    uint32_t wear = get(mark + 5, 3);
    store->wear = wear > store->wear ? wear : store->wear;
    if (mark[2] == FORMAT && get(mark + 3, 2) == shape_of(store->medium)) {
        if (erased(order, sizeof order)) { /* ready for use, if nothing has fallen on it since */
            status = is_blank(&blank, store, at + units(store->medium, MARK_BYTES), at + store->medium->sector_bytes);
            sector->state = blank ? CLEAN : DIRTY;
        } else if (get(order + 4, 4) == glanz_crc32(0, order, 4) && get(order, 4) < SEQUENCES) {
            sector->state = USED;
            sector->sequence = get(order, 4);
        }
    }
    return status;
}

/* Note the records of a used sector. @param end filled with where the next could begin. */
static glanz_status scan(struct glanz_store *store, uint16_t number, uint32_t *end) {
    const struct glanz_medium *medium = store->medium;
    uint32_t at = first_byte(medium);
    *end = at;
    while (at + record_bytes(medium, 0) <= medium->sector_bytes) {
        uint8_t bytes[HEAD_BYTES];
        struct head head;
        int good = 0;
        glanz_status status = read(store, base(store, number) + at, bytes, sizeof bytes);
        if (status != GLANZ_OK) {
            return status;
        }
        int is = unpack_head(&head, store, bytes, medium->sector_bytes - at);
        if (is == 1) {
            status = check_record(&good, store, base(store, number) + at, &head);
            if (status != GLANZ_OK) {
                return status;
            }
            if (!good) {
                store->damaged++;
            } else if (head.kind == KIND_GONE || head.kind == KIND_MOVED) {
                forget(store, head.key);
            } else if (!note(store, head.key, base(store, number) + at, head.kind != KIND_RECORD)) {
                return GLANZ_ERR_MEMORY;
            }
        }
        if (is == -1) {
            store->damaged =
                (uint16_t)(store->damaged +
                           (at == *end)); /* the first unit of something torn; the rest is looked through for whole records */
        }
        at += is == 1 && good ? record_bytes(medium, head.length) : medium->unit;
        if (is != 0) {
            *end = at;
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
        glanz_status status = read(store, base(store, store->head) + at - (uint32_t)piece, bytes, piece);
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
static uint16_t oldest_from(const struct glanz_store *store, uint32_t sequence) {
    uint16_t found = store->medium->sectors;
    for (uint16_t i = 0; i < store->medium->sectors; i++) {
        if (store->sectors[i].state == USED && store->sectors[i].sequence >= sequence &&
            (found == store->medium->sectors || store->sectors[i].sequence < store->sectors[found].sequence)) {
            found = i;
        }
    }
    return found;
}

static uint16_t count_of(const struct glanz_store *store, enum state state) {
    uint16_t count = 0;
    for (uint16_t i = 0; i < store->medium->sectors; i++) {
        count = (uint16_t)(count + (store->sectors[i].state == state));
    }
    return count;
}

static glanz_status mount(struct glanz_store *store) {
    const struct glanz_medium *medium = store->medium;
    uint32_t end = 0;
    store->place_count = 0;
    store->damaged = 0;
    store->head = medium->sectors;
    for (uint16_t i = 0; i < medium->sectors; i++) {
        if (store->sectors[i].state == BAD) {
            continue;
        }
        glanz_status status = read_marks(store, i);
        if (status != GLANZ_OK) {
            return status;
        }
    }
    for (uint16_t i = oldest_from(store, 0); i < medium->sectors; i = oldest_from(store, store->sectors[i].sequence + 1u)) {
        glanz_status status = scan(store, i, &end);
        if (status != GLANZ_OK) {
            return status;
        }
        store->head = i;
    }
    store->at = end;
    if (store->head == medium->sectors) {
        return GLANZ_OK;
    }
    glanz_status status = erased_from(store, &store->at);
    /* a step that was cut short may have left bits that still read as erased: nothing goes where it may have been */
    store->at += GLANZ_STORE_PIECE;
    return status;
}

/* ---- starting ---- */

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

size_t glanz_store_size(const struct glanz_medium *medium, uint16_t keys, uint32_t record_room) {
    if (!valid_medium(medium)) {
        return 0;
    }
    if (!is_flash(medium)) {
        return align8(sizeof(struct glanz_store)) + align8((size_t)record_room);
    }
    return align8(sizeof(struct glanz_store)) + align8((size_t)record_room) + align8(sizeof(struct sector) * medium->sectors) +
           align8(sizeof(struct place) * keys) + align8((size_t)record_room);
}

glanz_status glanz_store_start(struct glanz_store **out, void *memory, size_t size, const struct glanz_medium *medium,
                               uint16_t keys, uint32_t record_room) {
    if (out == NULL || memory == NULL || !valid_medium(medium) || ((uintptr_t)memory & (sizeof(void *) - 1u)) != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (size < glanz_store_size(medium, keys, record_room)) {
        return GLANZ_ERR_MEMORY;
    }
    struct glanz_store *store = (struct glanz_store *)memory;
    memset(store, 0, sizeof *store);
    store->medium = medium;
    store->record_room = record_room;
    store->scratch = (uint8_t *)memory + align8(sizeof *store);
    if (is_flash(medium)) {
        uint8_t *at = store->scratch + align8((size_t)record_room);
        store->sectors = (struct sector *)(void *)at;
        memset(at, 0, sizeof(struct sector) * medium->sectors);
        at += align8(sizeof(struct sector) * medium->sectors);
        store->places = (struct place *)(void *)at;
        store->place_room = keys;
        store->record = at + align8(sizeof(struct place) * keys);
        glanz_status status = mount(store);
        if (status != GLANZ_OK) {
            return status;
        }
    }
    *out = store;
    return GLANZ_OK;
}

/* ---- loading ---- */

glanz_status glanz_store_load(struct glanz_store *store, uint16_t key, uint8_t *bytes, size_t room, size_t *count) {
    if (store == NULL || count == NULL || (bytes == NULL && room != 0)) {
        return GLANZ_ERR_ARGUMENT;
    }
    *count = 0;
    if (!is_flash(store->medium)) {
        uint8_t none;
        return store->medium->load(store->medium->user, key, bytes == NULL ? &none : bytes, room, count);
    }
    const struct place *place = find(store, key);
    if (place == NULL) {
        return GLANZ_OK;
    }
    if (place->newer) {
        return GLANZ_ERR_NEWER;
    }
    uint8_t packed[HEAD_BYTES];
    struct head head;
    glanz_status status = read(store, place->at, packed, sizeof packed);
    if (status != GLANZ_OK) {
        return status;
    }
    if (unpack_head(&head, store, packed, store->medium->sector_bytes - place->at % store->medium->sector_bytes) != 1) {
        return GLANZ_ERR_DAMAGED;
    }
    size_t wanted = head.length < room ? (size_t)head.length : room;
    status = wanted == 0 ? GLANZ_OK : read(store, place->at + units(store->medium, HEAD_BYTES), bytes, wanted);
    if (status == GLANZ_OK && wanted == head.length) { /* read whole: does it still check? */
        uint32_t crc = glanz_crc32(glanz_crc32(0, packed, sizeof packed), bytes, wanted);
        status =
            read(store, place->at + units(store->medium, HEAD_BYTES) + units(store->medium, head.length), packed, CRC_BYTES);
        if (status == GLANZ_OK && get(packed, 4) != crc) {
            return GLANZ_ERR_DAMAGED;
        }
    }
    *count = (size_t)head.length;
    return status;
}

/* ---- saving ---- */

/* Is the record under a key these bytes already? */
static int same(const struct glanz_store *store, const struct place *place, const uint8_t *bytes, size_t count) {
    uint8_t seen[GLANZ_STORE_PIECE];
    struct head head;
    int good;
    if (place->newer || read(store, place->at, seen, HEAD_BYTES) != GLANZ_OK ||
        unpack_head(&head, store, seen, store->medium->sector_bytes) != 1 || head.length != count) {
        return 0;
    }
    for (uint32_t done = 0; done < count;) {
        size_t piece = piece_of((uint32_t)count - done);
        if (read(store, place->at + units(store->medium, HEAD_BYTES) + done, seen, piece) != GLANZ_OK ||
            memcmp(seen, bytes + done, piece) != 0) {
            return 0;
        }
        done += (uint32_t)piece;
    }
    return check_record(&good, store, place->at, &head) == GLANZ_OK && good;
}

glanz_status glanz_store_save(struct glanz_store *store, uint16_t key, const uint8_t *bytes, size_t count) {
    if (store == NULL || (bytes == NULL && count != 0)) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (!is_flash(store->medium)) {
        return store->medium->save(store->medium->user, key, bytes, count);
    }
    const struct place *place = find(store, key);
    if (store->read_only || (place != NULL && place->newer)) {
        return GLANZ_ERR_NEWER;
    }
    if (store->pending) {
        return GLANZ_ERR_BUSY;
    }
    if (place == NULL ? count == 0 : count != 0 && same(store, place, bytes, count)) {
        return GLANZ_OK;
    }
    uint32_t most = store->medium->sector_bytes - first_byte(store->medium) - reserve(store->medium);
    if (count > store->record_room || count > most || record_bytes(store->medium, (uint32_t)count) > most ||
        (place == NULL && store->place_count == store->place_room) ||
        (count != 0 && store->full != 0 && record_bytes(store->medium, (uint32_t)count) >= store->full)) {
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
    return GLANZ_OK;
}

/* One piece of the record being saved, with its head before and its CRC after it, in units. @return 0 when all are done. */
static uint32_t next_piece(const struct glanz_store *store, uint8_t *piece) {
    const struct glanz_medium *medium = store->medium;
    uint32_t head_end = units(medium, HEAD_BYTES);
    uint32_t bytes_end = head_end + units(medium, store->count);
    memset(piece, 0xFF, GLANZ_STORE_PIECE);
    if (store->done < head_end) {
        struct head head = {store->gone ? KIND_GONE : KIND_RECORD, store->key, store->count};
        pack_head(piece, &head);
        return head_end;
    }
    if (store->done < bytes_end) {
        uint32_t from = store->done - head_end;
        uint32_t left = store->count - from;
        size_t bytes = piece_of(left);
        memcpy(piece, store->record + from, bytes);
        return units(medium, (uint32_t)bytes);
    }
    put(piece, store->crc, 4);
    return store->done < bytes_end + units(medium, CRC_BYTES) ? units(medium, CRC_BYTES) : 0;
}

/* Go over to a task. */
static void begin(struct glanz_store *store, enum task task, uint16_t sector) {
    store->task = (uint8_t)task;
    store->other = sector;
    store->done = 0;
    store->from = NOWHERE;
}

static void fail(struct glanz_store *store, glanz_status status) {
    store->pending = 0;
    store->result = status;
    if (status == GLANZ_ERR_FULL && !store->gone) {
        store->full = record_bytes(store->medium, store->count);
    }
}

/* A sector that does not take bytes: what it has stays readable, nothing more goes into it. */
static void close_head(struct glanz_store *store) {
    store->at = store->medium->sector_bytes;
    store->task = IDLE;
}

static uint16_t sector_of(const struct glanz_store *store, uint32_t at) {
    return (uint16_t)(at / store->medium->sector_bytes);
}

static uint32_t live_bytes(const struct glanz_store *store, uint16_t sector) {
    uint32_t bytes = 0;
    for (uint16_t i = 0; i < store->place_count; i++) {
        if (sector_of(store, store->places[i].at) == sector) {
            uint8_t packed[HEAD_BYTES];
            struct head head;
            if (read(store, store->places[i].at, packed, sizeof packed) != GLANZ_OK ||
                unpack_head(&head, store, packed, store->medium->sector_bytes) != 1) {
                return store->medium->sector_bytes; /* better not touched */
            }
            bytes += record_bytes(store->medium, head.length);
        }
    }
    return bytes;
}

/* Are all live records of the newest sector copies of ones that lie whole in an older one? Then it may go again. */
static int only_copies(const struct glanz_store *store) {
    for (uint16_t i = 0; i < store->place_count; i++) {
        const struct place *place = &store->places[i];
        int found = 0;
        if (sector_of(store, place->at) != store->head) {
            continue;
        }
        for (uint16_t s = 0; s < store->medium->sectors && !found; s++) {
            if (store->sectors[s].state != USED || s == store->head) {
                continue;
            }
            uint8_t mine[HEAD_BYTES];
            uint8_t packed[HEAD_BYTES];
            struct head head;
            uint32_t at = first_byte(store->medium);
            if (read(store, place->at, mine, sizeof mine) != GLANZ_OK) {
                return 0;
            }
            while (!found && at + record_bytes(store->medium, 0) <= store->medium->sector_bytes) {
                if (read(store, base(store, s) + at, packed, sizeof packed) != GLANZ_OK) {
                    return 0;
                }
                int is = unpack_head(&head, store, packed, store->medium->sector_bytes - at);
                int good = 0;
                if (is == 1 && memcmp(packed, mine, sizeof mine) == 0 &&
                    check_record(&good, store, base(store, s) + at, &head) == GLANZ_OK && good) {
                    uint8_t a[CRC_BYTES];
                    uint8_t b[CRC_BYTES];
                    uint32_t crc_at = units(store->medium, HEAD_BYTES) + units(store->medium, head.length);
                    found = read(store, place->at + crc_at, a, sizeof a) == GLANZ_OK &&
                            read(store, base(store, s) + at + crc_at, b, sizeof b) == GLANZ_OK && memcmp(a, b, sizeof a) == 0;
                }
                at += is == 1 ? record_bytes(store->medium, head.length) : store->medium->unit;
            }
        }
        if (!found) {
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

/* Sectors kept erased: one to collect into, and where there are four or more, another in case that one fails. */
static uint16_t spares(const struct glanz_store *store) {
    return store->medium->sectors - count_of(store, BAD) >= 4 ? 2 : 1;
}

/* What is to be done next for the record that waits. */
static void decide(struct glanz_store *store) {
    const struct glanz_medium *medium = store->medium;
    uint32_t need = record_bytes(medium, store->count) + (store->gone ? 0 : reserve(medium));
    uint16_t clean = count_of(store, CLEAN);
    uint16_t dirty = first_of(store, DIRTY);
    int headed = store->head < medium->sectors;
    if (store->rounds > medium->sectors * 2u) {
        fail(store, GLANZ_ERR_FULL);
    } else if (clean > 0 && headed && store->at + need <= medium->sector_bytes) {
        begin(store, WRITE, store->head);
        store->length = record_bytes(medium, store->count);
        uint8_t head[HEAD_BYTES];
        struct head is = {store->gone ? KIND_GONE : KIND_RECORD, store->key, store->count};
        pack_head(head, &is);
        store->crc = glanz_crc32(0, head, sizeof head);
    } else if (clean > (store->rounds > medium->sectors ? 1 : spares(store))) {
        begin(store, OPEN, first_of(store, CLEAN));
    } else if (dirty < medium->sectors) {
        begin(store, ERASE, dirty);
    } else if (clean > 0 && headed) {
        begin(store, COLLECT, oldest_from(store, 0));
    } else { /* no erased sector: cut short while collecting, a smaller store than before, or worn out */
        uint32_t least = NOWHERE;
        uint16_t best = medium->sectors;
        for (uint16_t i = 0; i < medium->sectors; i++) {
            uint32_t live = store->sectors[i].state == USED && i != store->head ? live_bytes(store, i) : NOWHERE;
            if (live < least) {
                least = live;
                best = i;
            }
        }
        if (headed && count_of(store, USED) > 1 && only_copies(store)) {
            begin(store, ERASE, store->head);
        } else if (best < medium->sectors && (least == 0 || store->at + least <= medium->sector_bytes)) {
            begin(store, COLLECT, best);
        } else {
            fail(store, GLANZ_ERR_FULL);
        }
    }
}

static void do_open(struct glanz_store *store) {
    uint8_t order[ORDER_BYTES];
    uint16_t sector = store->other;
    uint32_t sequence = store->head < store->medium->sectors ? store->sectors[store->head].sequence + 1u : 1u;
    put(order, sequence, 4);
    put(order + 4, glanz_crc32(0, order, 4), 4);
    if (!program_mark(store, base(store, sector) + units(store->medium, MARK_BYTES), order, sizeof order)) {
        store->sectors[sector].state = BAD;
        store->rounds++;
    } else {
        store->sectors[sector].state = USED;
        store->sectors[sector].sequence = sequence;
        store->head = sector;
        store->at = first_byte(store->medium);
    }
    store->task = IDLE;
}

static void do_write(struct glanz_store *store) {
    uint8_t piece[GLANZ_STORE_PIECE];
    uint32_t count = next_piece(store, piece);
    uint32_t at = base(store, store->head) + store->at + store->done;
    uint32_t head_end = units(store->medium, HEAD_BYTES);
    if (store->done >= head_end && store->done < head_end + units(store->medium, store->count)) {
        uint32_t left = store->count - (store->done - head_end);
        store->crc = glanz_crc32(store->crc, piece, (size_t)(left < count ? left : count));
    }
    if (!program(store, at, piece, (size_t)count)) {
        store->rounds++;
        close_head(store);
        return;
    }
    store->done += count;
    if (store->done < store->length) {
        return;
    }
    if (store->gone) {
        forget(store, store->key);
        store->full = 0;
    } else {
        store->full = find(store, store->key) == NULL ? store->full : 0; /* the one before makes room */
        (void)note(store, store->key, base(store, store->head) + store->at, 0);
    }
    store->at += store->length;
    store->task = IDLE;
    store->pending = 0;
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

/* With a sector that cannot be erased, a deleted record in it would come back: what says that it is gone must be kept. */
static int keeps_gone(const struct glanz_store *store) {
    return count_of(store, BAD) != 0;
}

/* Look at a few places of the collected sector for a record that says that a key is gone. An older record of that key may lie
 * in the same sector, and an erasure that is cut short may leave just that: so it is carried on once; when the sector it was
 * carried to is collected, the one it came from is erased for good. @return 1 found, 0 not yet, -1 none any more. */
static int next_gone(struct glanz_store *store) {
    const struct glanz_medium *medium = store->medium;
    store->done = store->done < first_byte(medium) ? first_byte(medium) : store->done;
    for (uint8_t i = 0; i < LOOKS; i++) {
        uint8_t packed[HEAD_BYTES];
        struct head head;
        uint32_t at = base(store, store->other) + store->done;
        int good = 0;
        if (store->done + record_bytes(medium, 0) > medium->sector_bytes ||
            read(store, at, packed, sizeof packed) != GLANZ_OK) {
            return -1;
        }
        store->done += medium->unit;
        if (unpack_head(&head, store, packed, medium->sector_bytes) == 1 && head.length == 0 && find(store, head.key) == NULL &&
            (head.kind == KIND_GONE || (head.kind == KIND_MOVED && keeps_gone(store))) &&
            check_record(&good, store, at, &head) == GLANZ_OK && good) {
            store->from = at;
            store->gone_key = head.key;
            store->length = record_bytes(medium, 0);
            return 1;
        }
    }
    return 0;
}

/* A record that says that a key is gone, carried on: with its CRC, in whole units. */
static int write_moved(struct glanz_store *store) {
    uint8_t bytes[2 * UNIT_MOST];
    struct head head = {KIND_MOVED, (uint16_t)store->gone_key, 0};
    memset(bytes, 0xFF, sizeof bytes);
    pack_head(bytes, &head);
    put(bytes + units(store->medium, HEAD_BYTES), glanz_crc32(0, bytes, HEAD_BYTES), 4);
    return program(store, base(store, store->head) + store->at, bytes, (size_t)store->length);
}

static void do_collect(struct glanz_store *store) {
    const struct glanz_medium *medium = store->medium;
    uint8_t piece[GLANZ_STORE_PIECE];
    if (store->from == NOWHERE) { /* look for the next */
        const struct place *place = next_live(store);
        if (place != NULL) {
            uint8_t packed[HEAD_BYTES];
            struct head head;
            int good = 0;
            if (read(store, place->at, packed, sizeof packed) != GLANZ_OK) {
                fail(store, GLANZ_ERR_PORT);
                store->task = IDLE;
                return;
            }
            if (unpack_head(&head, store, packed, medium->sector_bytes) != 1 ||
                check_record(&good, store, place->at, &head) != GLANZ_OK || !good) {
                store->damaged++;
                forget(store, place->key); /* gone bad where it lay; there is nothing to move */
                return;
            }
            store->from = place->at;
            store->length = record_bytes(medium, head.length);
            store->gone_key = NO_KEY;
        } else {
            int found = next_gone(store);
            if (found < 0) {
                begin(store, ERASE, store->other);
            }
            if (found <= 0) {
                return;
            }
        }
        store->crc = 0;
        if (store->at + store->length > medium->sector_bytes) {
            uint16_t spare = first_of(store, CLEAN);
            uint16_t other = store->other;
            if (spare == medium->sectors) {
                fail(store, GLANZ_ERR_FULL);
                store->task = IDLE;
                return;
            }
            store->other = spare;
            do_open(store);
            store->task = store->sectors[spare].state == USED ? (uint8_t)COLLECT : (uint8_t)IDLE;
            store->other = other;
        }
        return;
    }
    uint32_t left = store->length - store->crc;
    size_t count = piece_of(left);
    if (store->gone_key != NO_KEY) {
        if (!write_moved(store)) {
            store->rounds++;
            close_head(store);
            return;
        }
        store->at += store->length;
        store->from = NOWHERE;
        return;
    }
    if (read(store, store->from + store->crc, piece, count) != GLANZ_OK) {
        fail(store, GLANZ_ERR_PORT);
        store->task = IDLE;
        return;
    }
    if (!program(store, base(store, store->head) + store->at + store->crc, piece, count)) {
        store->rounds++;
        close_head(store);
        return;
    }
    store->crc += (uint32_t)count;
    if (store->crc == store->length) {
        for (uint16_t i = 0; i < store->place_count; i++) {
            if (store->places[i].at == store->from) {
                store->places[i].at = base(store, store->head) + store->at;
            }
        }
        store->at += store->length;
        store->from = NOWHERE;
    }
}

/* Erasing failed, or the sector is not erased after it: it is used no more. */
static void give_up_sector(struct glanz_store *store) {
    static const uint8_t nothing[UNIT_MOST] = {0};
    store->sectors[store->other].state = BAD;
    /* zeros in its marks, so that what it had is not taken for anything later; it may not even take these */
    uint32_t count = units(store->medium, MARK_BYTES);
    (void)store->medium->program(store->medium->user, base(store, store->other), nothing,
                                 count < UNIT_MOST ? (size_t)count : UNIT_MOST);
    store->task = IDLE;
}

static void do_erase(struct glanz_store *store) {
    uint16_t sector = store->other;
    if (sector == store->head) { /* it holds copies only: go on from what the others have */
        store->sectors[sector].state = BAD;
        (void)mount(store);
    }
    uint8_t bad = store->medium->erase(store->medium->user, sector) != GLANZ_OK;
    store->erased++;
    store->rounds++;
    store->sectors[sector].state = DIRTY;
    store->other = sector;
    store->done = 0;
    store->task = WAIT;
    if (bad) {
        give_up_sector(store);
    }
}

static void do_look(struct glanz_store *store) {
    uint8_t bytes[GLANZ_STORE_PIECE];
    for (uint8_t i = 0; i < 4 && store->done < store->medium->sector_bytes; i++) {
        size_t count = piece_of(store->medium->sector_bytes - store->done);
        if (read(store, base(store, store->other) + store->done, bytes, count) != GLANZ_OK || !erased(bytes, count)) {
            give_up_sector(store);
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
    put(mark + 3, shape_of(store->medium), 2);
    put(mark + 5, ++store->wear, 3);
    put(mark + 8, glanz_crc32(0, mark, 8), 4);
    if (program_mark(store, base(store, store->other), mark, sizeof mark)) {
        store->sectors[store->other].state = CLEAN;
        store->task = IDLE;
    } else {
        give_up_sector(store);
    }
}

glanz_status glanz_store_work(struct glanz_store *store, uint32_t allowed_us) {
    if (store == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
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

glanz_status glanz_store_finish(struct glanz_store *store) {
    glanz_status status;
    do {
        status = glanz_store_work(store, 0xFFFFFFFFu);
    } while (status == GLANZ_ERR_BUSY);
    return status;
}

uint8_t *glanz_store_scratch(const struct glanz_store *store, size_t *room) {
    if (room != NULL) {
        *room = store == NULL ? 0 : (size_t)store->record_room;
    }
    return store == NULL ? NULL : store->scratch;
}

int glanz_store_busy(const struct glanz_store *store) {
    return store != NULL && (store->pending || store->task != IDLE);
}

/* ---- looking ---- */

void glanz_store_look(struct glanz_store_state *state, const struct glanz_store *store) {
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
        state->used += live_bytes(store, i);
    }
    state->records = (uint16_t)(store->place_count - state->newer);
    state->damaged = store->damaged;
    state->bad = count_of(store, BAD);
    state->clean = count_of(store, CLEAN);
    state->room = (uint32_t)(store->medium->sectors - state->bad - spares(store)) *
                  (store->medium->sector_bytes - first_byte(store->medium) - reserve(store->medium));
    state->wear = store->wear;
    state->erased = store->erased;
    state->programmed = store->programmed;
    state->read_only = store->read_only;
}

glanz_status glanz_store_key(uint16_t *key, const struct glanz_store *store, uint16_t number) {
    if (key == NULL || store == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (!is_flash(store->medium) || number >= store->place_count) {
        return GLANZ_ERR_ABSENT;
    }
    *key = store->places[number].key;
    return GLANZ_OK;
}
