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
#include <string.h>

#include <glanz/store.h>

#define MARK_BYTES 12u  /* "GJ", format, shape (2 bytes), wear (3 bytes), CRC */
#define ORDER_BYTES 14u /* sequence, void up to, sector that was voided last (2 bytes), CRC */
#define HEAD_BYTES 10u  /* kind, key, length (3 bytes), CRC over sequence, offset and these 6 */
#define SUM_BYTES 6u    /* of the head that the record's CRC covers */
#define CRC_BYTES 4u
#define VOID_BYTES 6u /* sequence, sector */
#define FORMAT 2u
#define FORMAT_OLD 1u /* read: marks once, an order of 8 bytes, heads of 8 with half a CRC, kept ends of 12 */
#define ORDER_BYTES_OLD 8u
#define HEAD_BYTES_OLD 8u
#define KIND_RECORD 0xA1u
#define KIND_GONE 0xB1u
#define KIND_MOVED_OLD 0xB3u /* gone, carried on from another sector */
#define KIND_VOID 0xC1u
#define KIND_NONE 0xFFu
#define SEQUENCES 0xFFFF0000u /* no flash lives that long: what is above was never written here */
#define NOWHERE 0xFFFFFFFFu
#define UNIT_MOST 32u
#define TRIES 3u     /* at a sector, before it is left alone for a while */
#define BAD_SAVES 64 /* after so many saves it is tried once more */
#define ALIKE 6      /* bits in which a damaged mark may differ from one */

enum state { DIRTY, CLEAN, USED, BAD, LOST }; /* LOST: its marks cannot be read, but it was in use */
enum task { IDLE, OPEN, WRITE, COLLECT, ERASE, WAIT, LOOK, MARK };

struct sector {
    uint32_t sequence; /* of a used one */
    uint32_t wear;     /* erasures */
    uint8_t state;
    uint8_t tries; /* that failed, one after another */
    uint8_t format;
};

struct place { /* where the newest record of a key lies */
    uint32_t at;
    uint16_t key;
    uint16_t newer; /* 1: of a kind that is not known here */
};

struct head {
    uint8_t kind;
    uint8_t corrected; /* one bit of it was wrong */
    uint16_t key;
    uint32_t length; /* of the bytes */
};

struct glanz_store {
    const struct glanz_medium *medium;
    struct sector *sectors;
    struct place *places;
    uint8_t *record;  /* being saved */
    uint8_t *scratch; /* lent to whoever builds and reads records */
    uint32_t record_capacity;
    uint16_t place_capacity, place_count;
    uint8_t read_only, pending, gone, task;
    uint8_t inside; /* the medium is being called: it may not call the store */
    glanz_status result;
    uint16_t key;
    uint16_t head;   /* newest used sector; = sectors: none */
    uint16_t other;  /* sector that is collected, opened or erased */
    uint16_t rounds; /* sectors erased, or that failed, for this save */
    uint16_t saves;  /* since bad sectors were tried again */
    uint32_t count;  /* bytes of the record being saved */
    uint32_t at;     /* next free byte in the head */
    uint32_t done;   /* bytes of the task that are done */
    struct head job; /* that is being written */
    uint32_t source; /* where its bytes lie on flash; NOWHERE: in memory */
    uint8_t collecting;
    uint8_t void_bytes[VOID_BYTES];
    uint32_t sequence;    /* the highest that a sector was given, whether that came out right or not */
    uint32_t crc;         /* of what is written, so far */
    uint32_t void_to;     /* sectors of a sequence up to this hold nothing any more */
    uint16_t void_sector; /* the last of them; = sectors: none */
    uint32_t full;        /* a record of so many bytes found no room; 0: not known */
    uint32_t erased, programmed;
    uint16_t damaged, corrected;
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

static uint32_t first_byte(const struct glanz_medium *medium, uint8_t format) {
    return format == FORMAT_OLD ? units(medium, MARK_BYTES) + units(medium, ORDER_BYTES_OLD)
                                : 2u * units(medium, MARK_BYTES) + 2u * units(medium, ORDER_BYTES);
}

static uint32_t head_bytes(const struct glanz_medium *medium, uint8_t format) {
    return units(medium, format == FORMAT_OLD ? HEAD_BYTES_OLD : HEAD_BYTES);
}

/* Bytes on flash of a record. One without bytes has no CRC of its own: its head checks. */
static uint32_t record_bytes(const struct glanz_medium *medium, uint8_t format, uint32_t count) {
    return head_bytes(medium, format) +
           (count == 0 && format != FORMAT_OLD ? 0 : units(medium, count) + units(medium, CRC_BYTES));
}

/* Kept free in every sector for records that say that another is gone, or that a sector is: else a full store could not be
 * emptied. */
static uint32_t reserve(const struct glanz_medium *medium) {
    return 2u * record_bytes(medium, FORMAT, 0) + record_bytes(medium, FORMAT, VOID_BYTES);
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
    if (medium == NULL || bytes == NULL || !is_mark(bytes) || bytes[2] == 0 || bytes[2] > FORMAT) {
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

static uint16_t sector_of(const struct glanz_store *store, uint32_t at) {
    return (uint16_t)(at / store->medium->sector_bytes);
}

/* Program whole units. What can be read back counts, whatever the flash says: a record must not be whole and yet have failed.
 */
static int program(struct glanz_store *store, uint32_t at, const uint8_t *bytes, size_t count) {
    uint8_t seen[GLANZ_STORE_PIECE];
    store->programmed += (uint32_t)count;
    (void)store->medium->program(store->medium->user, at, bytes, count);
    return read(store, at, seen, count) == GLANZ_OK && memcmp(seen, bytes, count) == 0;
}

/* The same for a few bytes, filled up with 0xFF, and once more behind them. */
static int program_mark(struct glanz_store *store, uint32_t at, const uint8_t *bytes, size_t count) {
    uint8_t padded[UNIT_MOST];
    size_t whole = (size_t)units(store->medium, (uint32_t)count);
    memset(padded, 0xFF, sizeof padded);
    memcpy(padded, bytes, count);
    return program(store, at, padded, whole) && program(store, at + (uint32_t)whole, padded, whole);
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

static void forget(struct glanz_store *store, uint16_t key) {
    struct place *place = find(store, key);
    if (place != NULL) {
        *place = store->places[--store->place_count];
    }
}

/* ---- reading what is there ---- */

/* CRC of a head: its place is in it. */
static uint32_t head_crc(const struct glanz_store *store, uint32_t at, const uint8_t *bytes) {
    uint8_t place[8];
    uint16_t sector = sector_of(store, at);
    put(place, store->sectors[sector].sequence, 4);
    put(place + 4, at - base(store, sector), 4);
    return glanz_crc32(glanz_crc32(0, place, sizeof place), bytes, SUM_BYTES);
}

static void pack_head(const struct glanz_store *store, uint8_t *bytes, const struct head *head, uint32_t at) {
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
static int read_head(struct head *head, const struct glanz_store *store, uint32_t at) {
    uint8_t bytes[HEAD_BYTES];
    uint16_t sector = sector_of(store, at);
    uint8_t format = store->sectors[sector].format;
    uint32_t left = store->medium->sector_bytes - (at - base(store, sector));
    size_t count = format == FORMAT_OLD ? HEAD_BYTES_OLD : HEAD_BYTES;
    if (read(store, at, bytes, count) != GLANZ_OK) {
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
    return good && head->length <= store->medium->sector_bytes && record_bytes(store->medium, format, head->length) <= left
               ? 1
               : -1;
}

/* Where the bytes of a record begin. */
static uint32_t bytes_at(const struct glanz_store *store, uint32_t at) {
    return at + head_bytes(store->medium, store->sectors[sector_of(store, at)].format);
}

/* CRC of a record, so far: of what its head says. */
static glanz_status begin_crc(uint32_t *crc, const struct glanz_store *store, uint32_t at, const struct head *head) {
    uint8_t bytes[HEAD_BYTES_OLD];
    if (store->sectors[sector_of(store, at)].format == FORMAT_OLD) {
        glanz_status status = read(store, at, bytes, sizeof bytes);
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
static glanz_status end_crc(int *good, const struct glanz_store *store, uint32_t at, const struct head *head, uint32_t crc) {
    uint8_t bytes[CRC_BYTES];
    *good = head->length == 0 && store->sectors[sector_of(store, at)].format != FORMAT_OLD;
    if (*good) {
        return GLANZ_OK;
    }
    glanz_status status = read(store, bytes_at(store, at) + units(store->medium, head->length), bytes, CRC_BYTES);
    *good = status == GLANZ_OK && get(bytes, 4) == crc;
    return status;
}

/* Does the record with this head check? */
static glanz_status check_record(int *good, const struct glanz_store *store, uint32_t at, const struct head *head) {
    uint8_t bytes[GLANZ_STORE_PIECE];
    uint32_t crc;
    glanz_status status = begin_crc(&crc, store, at, head);
    for (uint32_t done = 0; done < head->length && status == GLANZ_OK;) {
        size_t piece = piece_of(head->length - done);
        status = read(store, bytes_at(store, at) + done, bytes, piece);
        crc = glanz_crc32(crc, bytes, piece);
        done += (uint32_t)piece;
    }
    return status == GLANZ_OK ? end_crc(good, store, at, head, crc) : status;
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

/* Bits in which bytes differ from those of a mark of this store. */
static uint8_t unlike_mark(const struct glanz_store *store, const uint8_t *bytes) {
    uint8_t mark[5] = {'G', 'J', FORMAT, 0, 0};
    uint8_t bits = 0;
    put(mark + 3, shape_of(store->medium), 2);
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
        glanz_status status = read(store, at + copy * units(store->medium, size), order, size);
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
    uint32_t from = opened ? base(store, number) + first_byte(store->medium, format) : at;
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
        glanz_status status = read(store, base(store, number) + copy * units(store->medium, MARK_BYTES), mark, sizeof mark);
        if (status != GLANZ_OK) {
            return status;
        }
        if (is_mark(mark) && mark[2] > FORMAT) {
            store->read_only = 1;
            return GLANZ_OK;
        }
        if (is_mark(mark) && mark[2] != 0 && get(mark + 3, 2) == shape_of(store->medium) &&
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

/* A way through the records of a sector. Nothing is looked for inside a record, whether it checks or not. */
struct walk {
    uint16_t sector;
    uint32_t at;     /* in the sector: where to look next */
    uint32_t end;    /* behind the last that is not erased */
    uint32_t from;   /* in the store: where what was found lies */
    uint8_t strange; /* units that are nothing, one after another */
    struct head head;
};
enum found { END, WHOLE, TORN, STRANGE, UNREAD };

static struct walk walk_from(const struct glanz_store *store, uint16_t sector) {
    struct walk walk;
    memset(&walk, 0, sizeof walk);
    walk.sector = sector;
    walk.at = first_byte(store->medium, store->sectors[sector].format);
    walk.end = walk.at;
    return walk;
}

static enum found walk_on(struct walk *walk, const struct glanz_store *store) {
    const struct glanz_medium *medium = store->medium;
    uint8_t format = store->sectors[walk->sector].format;
    while (walk->at + record_bytes(medium, format, 0) <= medium->sector_bytes) {
        int good = 0;
        walk->from = base(store, walk->sector) + walk->at;
        int is = read_head(&walk->head, store, walk->from);
        if (is == -2 || (is == 1 && check_record(&good, store, walk->from, &walk->head) != GLANZ_OK)) {
            return UNREAD;
        }
        if (is == 1 && !good && walk->head.corrected) {
            is = -1; /* no head at all */
        }
        walk->strange = (uint8_t)(is != -1 ? 0 : walk->strange < 2 ? walk->strange + 1 : 2);
        walk->at += is == 1 ? record_bytes(medium, format, walk->head.length) : medium->unit;
        if (is != 0) {
            walk->end = walk->at;
            return is != 1 ? STRANGE : good ? WHOLE : TORN;
        }
    }
    return END;
}

static int is_gone(uint8_t kind) {
    return kind == KIND_GONE || kind == KIND_MOVED_OLD;
}

/* Note the records of a used sector. @param end filled with where the next could begin. */
static glanz_status scan(struct glanz_store *store, uint16_t number, uint32_t *end) {
    struct walk walk = walk_from(store, number);
    enum found found;
    while ((found = walk_on(&walk, store)) != END) {
        if (found == UNREAD) {
            return GLANZ_ERR_PORT;
        }
        if (found != WHOLE) {
            store->damaged = (uint16_t)(store->damaged + (found == TORN || walk.strange == 1));
            continue;
        }
        store->corrected = (uint16_t)(store->corrected + walk.head.corrected);
        if (is_gone(walk.head.kind)) {
            forget(store, walk.head.key);
        } else if (walk.head.kind != KIND_VOID && !note(store, walk.head.key, walk.from, walk.head.kind != KIND_RECORD)) {
            return GLANZ_ERR_MEMORY;
        }
    }
    *end = walk.end;
    return GLANZ_OK;
}

/* What the newest sector says is void. Those before it have told the ones that were opened after them. */
static glanz_status scan_void(struct glanz_store *store, uint16_t number) {
    struct walk walk = walk_from(store, number);
    enum found found;
    while ((found = walk_on(&walk, store)) != END) {
        uint8_t bytes[VOID_BYTES];
        if (found == UNREAD) {
            return GLANZ_ERR_PORT;
        }
        if (found == WHOLE && walk.head.kind == KIND_VOID && walk.head.length == VOID_BYTES) {
            if (read(store, bytes_at(store, walk.from), bytes, sizeof bytes) != GLANZ_OK) {
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

static uint32_t most_worn(const struct glanz_store *store) {
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

static glanz_status mount(struct glanz_store *store) {
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
            sector->wear = most_worn(store); /* not known any more */
        }
    }
    for (uint16_t i = oldest_from(store, 0); status == GLANZ_OK && i < medium->sectors;
         i = oldest_from(store, store->sectors[i].sequence + 1u)) {
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

/* ---- starting ---- */

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

size_t glanz_store_size(const struct glanz_medium *medium, uint16_t keys, uint32_t record_capacity) {
    if (!valid_medium(medium)) {
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
    if (out == NULL || memory == NULL || !valid_medium(medium) || ((uintptr_t)memory & (sizeof(void *) - 1u)) != 0) {
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
        glanz_status status = mount(store);
        if (status != GLANZ_OK) {
            return status;
        }
    }
    *out = store;
    return GLANZ_OK;
}

/* ---- loading ---- */

static glanz_status load_record(struct glanz_store *store, uint16_t key, uint8_t *bytes, size_t capacity, size_t *count) {
    if (count == NULL || (bytes == NULL && capacity != 0)) {
        return GLANZ_ERR_ARGUMENT;
    }
    *count = 0;
    if (!is_flash(store->medium)) {
        uint8_t none;
        return store->medium->load(store->medium->user, key, bytes == NULL ? &none : bytes, capacity, count);
    }
    const struct place *place = find(store, key);
    if (place == NULL) {
        return GLANZ_OK;
    }
    if (place->newer) {
        return GLANZ_ERR_NEWER;
    }
    struct head head;
    int is = read_head(&head, store, place->at);
    if (is != 1) {
        return is == -2 ? GLANZ_ERR_PORT : GLANZ_ERR_DAMAGED;
    }
    size_t wanted = head.length < capacity ? (size_t)head.length : capacity;
    glanz_status status = wanted == 0 ? GLANZ_OK : read(store, bytes_at(store, place->at), bytes, wanted);
    if (status == GLANZ_OK && wanted == head.length) { /* read whole: does it still check? */
        uint32_t crc = 0;
        int good = 0;
        status = begin_crc(&crc, store, place->at, &head);
        status = status == GLANZ_OK ? end_crc(&good, store, place->at, &head, glanz_crc32(crc, bytes, wanted)) : status;
        if (status == GLANZ_OK && !good) {
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
    if (place->newer || read_head(&head, store, place->at) != 1 || head.length != count) {
        return 0;
    }
    for (uint32_t done = 0; done < count;) {
        size_t piece = piece_of((uint32_t)count - done);
        if (read(store, bytes_at(store, place->at) + done, seen, piece) != GLANZ_OK || memcmp(seen, bytes + done, piece) != 0) {
            return 0;
        }
        done += (uint32_t)piece;
    }
    return check_record(&good, store, place->at, &head) == GLANZ_OK && good;
}

/* Sectors kept erased: one to collect into, and where there are four or more, another in case that one fails. */
static uint16_t spares(const struct glanz_store *store) {
    return store->medium->sectors - count_of(store, BAD) >= 4 ? 2 : 1;
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

static glanz_status save_record(struct glanz_store *store, uint16_t key, const uint8_t *bytes, size_t count) {
    if (bytes == NULL && count != 0) {
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
    uint32_t most = store->medium->sector_bytes - first_byte(store->medium, FORMAT) - reserve(store->medium);
    if (count > store->record_capacity || count > most || record_bytes(store->medium, FORMAT, (uint32_t)count) > most ||
        (place == NULL && store->place_count == store->place_capacity) ||
        (count != 0 && store->full != 0 && record_bytes(store->medium, FORMAT, (uint32_t)count) >= store->full)) {
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
    uint32_t head_end = head_bytes(medium, FORMAT);
    uint32_t bytes_end = head_end + units(medium, store->job.length);
    memset(piece, 0xFF, GLANZ_STORE_PIECE);
    if (store->done < head_end) {
        pack_head(store, piece, &store->job, base(store, store->head) + store->at);
        store->crc = glanz_crc32(0, piece, SUM_BYTES);
        *count = head_end;
    } else if (store->done < bytes_end) {
        uint32_t from = store->done - head_end;
        size_t bytes = piece_of(store->job.length - from);
        const uint8_t *memory = store->job.kind == KIND_VOID && store->source == NOWHERE ? store->void_bytes : store->record;
        if (store->source == NOWHERE) {
            memcpy(piece, memory + from, bytes);
        } else if (read(store, store->source + from, piece, bytes) != GLANZ_OK) {
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
        store->full = record_bytes(store->medium, FORMAT, store->count);
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

static uint32_t live_bytes(const struct glanz_store *store, uint16_t sector) {
    uint32_t bytes = 0;
    for (uint16_t i = 0; i < store->place_count; i++) {
        if (sector_of(store, store->places[i].at) == sector) {
            struct head head;
            if (read_head(&head, store, store->places[i].at) != 1) {
                return store->medium->sector_bytes; /* better not touched */
            }
            bytes += record_bytes(store->medium, FORMAT, head.length);
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
        if (read(store, one + done, a, piece) != GLANZ_OK || read(store, other + done, b, piece) != GLANZ_OK ||
            memcmp(a, b, piece) != 0) {
            return 0;
        }
    }
    return 1;
}

/* Does a used sector other than the newest hold a record whole? */
static int lies_elsewhere(const struct glanz_store *store, uint32_t at, const struct head *wanted) {
    for (uint16_t s = 0; s < store->medium->sectors; s++) {
        struct walk walk = walk_from(store, s);
        enum found found = END;
        while (store->sectors[s].state == USED && s != store->head && (found = walk_on(&walk, store)) != END &&
               found != UNREAD) {
            if (found == WHOLE && (walk.head.kind == wanted->kind || (is_gone(walk.head.kind) && is_gone(wanted->kind))) &&
                walk.head.key == wanted->key && walk.head.length == wanted->length &&
                equal_bytes(store, bytes_at(store, walk.from), bytes_at(store, at), wanted->length)) {
                return 1;
            }
        }
    }
    return 0;
}

/* Does the newest sector hold nothing but copies of records that lie whole in an older one? Then it may go again. */
static int only_copies(const struct glanz_store *store) {
    struct walk walk = walk_from(store, store->head);
    enum found found;
    while ((found = walk_on(&walk, store)) != END) {
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
    uint32_t need = record_bytes(medium, FORMAT, store->count) + (store->gone ? 0 : reserve(medium));
    uint16_t clean = count_of(store, CLEAN);
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
    } else if (clean > (store->rounds > medium->sectors ? 1 : spares(store))) {
        begin(store, OPEN, first_of(store, CLEAN));
    } else if (dirty < medium->sectors) {
        begin(store, ERASE, dirty);
    } else if (clean > 0 && headed) {
        begin(store, COLLECT, oldest_from(store, 0));
    } else if (headed && count_of(store, USED) > 1 && only_copies(store)) { /* cut short while collecting: begin again */
        begin(store, ERASE, store->head);
    } else if (headed && count_of(store, USED) > 1 &&
               store->at + live_bytes(store, oldest_from(store, 0)) + record_bytes(medium, FORMAT, VOID_BYTES) <=
                   medium->sector_bytes) { /* no erased sector: a smaller store than before, or worn out */
        begin(store, COLLECT, oldest_from(store, 0));
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
    if (!program_mark(store, base(store, sector) + 2u * units(store->medium, MARK_BYTES), order, sizeof order)) {
        failed(store, sector);
        return;
    }
    store->sectors[sector].state = USED;
    store->sectors[sector].sequence = store->sequence;
    store->sectors[sector].format = FORMAT;
    store->head = sector;
    store->at = first_byte(store->medium, FORMAT);
}

/* A record is whole on flash. */
static void end_write(struct glanz_store *store) {
    uint32_t at = base(store, store->head) + store->at;
    store->at += record_bytes(store->medium, FORMAT, store->job.length);
    store->sectors[store->head].tries = 0;
    if (store->collecting) {
        store->task = COLLECT;
        if (store->job.kind == KIND_VOID && store->source == NOWHERE) {
            begin(store, ERASE, store->other);
        } else {
            (void)note(store, store->job.key, at, store->job.kind != KIND_RECORD);
        }
        return;
    }
    if (store->gone) {
        forget(store, store->key);
        store->full = 0;
    } else {
        store->full = find(store, store->key) == NULL ? store->full : 0; /* the one before makes room */
        (void)note(store, store->key, at, 0);
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
    if (program(store, base(store, store->head) + store->at + store->done, piece, (size_t)count)) {
        store->done += count;
        if (store->done >= record_bytes(store->medium, FORMAT, store->job.length)) {
            end_write(store);
        }
        return;
    }
    /* behind what did not come out right, it is tried again */
    struct sector *head = &store->sectors[store->head];
    store->at += record_bytes(store->medium, FORMAT, store->job.length);
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
        if (make_room(store, record_bytes(store->medium, FORMAT, VOID_BYTES))) {
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
    int is = read_head(&head, store, place->at);
    if (is == -2 || (is == 1 && check_record(&good, store, place->at, &head) != GLANZ_OK)) {
        fail(store, GLANZ_ERR_PORT);
    } else if (is != 1 || !good) {
        store->damaged++;
        forget(store, place->key); /* gone bad where it lay; there is nothing to move */
    } else if (make_room(store, record_bytes(store->medium, FORMAT, head.length))) {
        begin_write(store, head.kind, head.key, head.length, bytes_at(store, place->at));
    }
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
        failed(store, sector);
    }
}

static void do_look(struct glanz_store *store) {
    uint8_t bytes[GLANZ_STORE_PIECE];
    for (uint8_t i = 0; i < 4 && store->done < store->medium->sector_bytes; i++) {
        size_t count = piece_of(store->medium->sector_bytes - store->done);
        if (read(store, base(store, store->other) + store->done, bytes, count) != GLANZ_OK || !erased(bytes, count)) {
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
    put(mark + 3, shape_of(store->medium), 2);
    put(mark + 5, sector->wear + 1u, 3);
    put(mark + 8, glanz_crc32(0, mark, 8), 4);
    if (program_mark(store, base(store, store->other), mark, sizeof mark)) {
        sector->wear++;
        sector->tries = 0;
        sector->state = CLEAN;
        store->task = IDLE;
    } else {
        failed(store, store->other);
    }
}

static glanz_status work_on(struct glanz_store *store, uint32_t allowed_us) {
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
    glanz_status status = save_record(store, key, bytes, count);
    store->inside = 0;
    return status;
}

glanz_status glanz_store_work(struct glanz_store *store, uint32_t allowed_us) {
    if (store == NULL || store->inside) {
        return store == NULL ? GLANZ_ERR_ARGUMENT : GLANZ_ERR_STATE;
    }
    store->inside = 1;
    glanz_status status = work_on(store, allowed_us);
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

/* ---- looking ---- */

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
        state->used += live_bytes(store, i);
    }
    state->records = (uint16_t)(store->place_count - state->newer);
    state->damaged = store->damaged;
    state->bad = count_of(store, BAD);
    state->clean = count_of(store, CLEAN);
    state->corrected = store->corrected;
    state->unreadable = count_of(store, LOST);
    state->capacity = (uint32_t)(store->medium->sectors - state->bad - spares(store)) *
                      (store->medium->sector_bytes - first_byte(store->medium, FORMAT) - reserve(store->medium));
    state->wear = most_worn(store);
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
