/* SPDX-License-Identifier: MIT */
/* The journal's memory, what lies on flash, and what its files share: journal.c reads and programs marks, heads and records,
 * scan.c finds what is there, write.c saves step by step. Private to src/store. */
#ifndef GLANZ_STORE_JOURNAL_H
#define GLANZ_STORE_JOURNAL_H

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

/* ---- small things ---- */

static inline uint32_t get(const uint8_t *bytes, uint8_t count) {
    uint32_t number = 0;
    for (uint8_t i = 0; i < count; i++) {
        number |= (uint32_t)bytes[i] << (8 * i);
    }
    return number;
}

static inline void put(uint8_t *bytes, uint32_t number, uint8_t count) {
    for (uint8_t i = 0; i < count; i++) {
        bytes[i] = (uint8_t)(number >> (8 * i));
    }
}

static inline uint32_t units(const struct glanz_medium *medium, uint32_t bytes) {
    uint32_t unit = medium->unit;
    return (bytes + unit - 1u) & ~(unit - 1u);
}

/* As many bytes as are read or programmed at once. */
static inline size_t piece_of(uint32_t left) {
    return left < GLANZ_STORE_PIECE ? (size_t)left : (size_t)GLANZ_STORE_PIECE;
}

static inline int is_flash(const struct glanz_medium *medium) {
    return medium->read != NULL;
}

static inline uint32_t base(const struct glanz_store *store, uint32_t sector) {
    return sector * store->medium->sector_bytes;
}

static inline uint16_t sector_of(const struct glanz_store *store, uint32_t at) {
    return (uint16_t)(at / store->medium->sector_bytes);
}

static inline int erased(const uint8_t *bytes, size_t count) {
    size_t i = 0;
    while (i < count && bytes[i] == 0xFF) {
        i++;
    }
    return i == count;
}

static inline int is_gone(uint8_t kind) {
    return kind == KIND_GONE || kind == KIND_MOVED_OLD;
}

/* ---- journal.c ---- */

uint32_t glanz_journal_first_byte(const struct glanz_medium *medium, uint8_t format);
uint32_t glanz_journal_head_bytes(const struct glanz_medium *medium, uint8_t format);
/* Bytes on flash of a record. One without bytes has no CRC of its own: its head checks. */
uint32_t glanz_journal_record_bytes(const struct glanz_medium *medium, uint8_t format, uint32_t count);
/* Kept free in every sector for records that say that another is gone, or that a sector is: else a full store could not be
 * emptied. */
uint32_t glanz_journal_reserve(const struct glanz_medium *medium);
/* The sector's size in steps of 256 bytes, and which power of two the unit is: another shape is another store. */
uint32_t glanz_journal_shape_of(const struct glanz_medium *medium);
int glanz_journal_is_mark(const uint8_t *mark);
int glanz_journal_valid_medium(const struct glanz_medium *medium);
glanz_status glanz_journal_read(const struct glanz_store *store, uint32_t at, uint8_t *bytes, size_t count);
/* Program whole units. What can be read back counts, whatever the flash says: a record must not be whole and yet have failed.
 */
int glanz_journal_program(struct glanz_store *store, uint32_t at, const uint8_t *bytes, size_t count);
/* The same for a few bytes, filled up with 0xFF, and once more behind them. */
int glanz_journal_program_mark(struct glanz_store *store, uint32_t at, const uint8_t *bytes, size_t count);
struct place *glanz_journal_find(const struct glanz_store *store, uint16_t key);
int glanz_journal_note(struct glanz_store *store, uint16_t key, uint32_t at, uint8_t newer);
void glanz_journal_forget(struct glanz_store *store, uint16_t key);
void glanz_journal_pack_head(const struct glanz_store *store, uint8_t *bytes, const struct head *head, uint32_t at);
/* @return 1 a head, 0 erased, -1 neither, -2 it cannot be read. */
int glanz_journal_read_head(struct head *head, const struct glanz_store *store, uint32_t at);
/* Where the bytes of a record begin. */
uint32_t glanz_journal_bytes_at(const struct glanz_store *store, uint32_t at);
/* CRC of a record, so far: of what its head says. */
glanz_status glanz_journal_begin_crc(uint32_t *crc, const struct glanz_store *store, uint32_t at, const struct head *head);
/* Does the CRC behind a record's bytes match? */
glanz_status glanz_journal_end_crc(int *good, const struct glanz_store *store, uint32_t at, const struct head *head,
                                   uint32_t crc);
/* Does the record with this head check? */
glanz_status glanz_journal_check_record(int *good, const struct glanz_store *store, uint32_t at, const struct head *head);

/* ---- scan.c ---- */

struct walk glanz_journal_walk_from(const struct glanz_store *store, uint16_t sector);
enum found glanz_journal_walk_on(struct walk *walk, const struct glanz_store *store);
/* The used sector with the least sequence above or equal to one; `sectors` for none. */
uint16_t glanz_journal_oldest_from(const struct glanz_store *store, uint32_t sequence);
uint16_t glanz_journal_count_of(const struct glanz_store *store, enum state state);
uint32_t glanz_journal_most_worn(const struct glanz_store *store);
glanz_status glanz_journal_mount(struct glanz_store *store);

/* ---- write.c ---- */

/* Sectors kept erased: one to collect into, and where there are four or more, another in case that one fails. */
uint16_t glanz_journal_spares(const struct glanz_store *store);
glanz_status glanz_journal_save_record(struct glanz_store *store, uint16_t key, const uint8_t *bytes, size_t count);
uint32_t glanz_journal_live_bytes(const struct glanz_store *store, uint16_t sector);
glanz_status glanz_journal_work_on(struct glanz_store *store, uint32_t allowed_us);

#endif
