/* SPDX-License-Identifier: MIT */
/** @file
 *  Store: records of bytes under 16-bit keys that outlive the power. On raw NOR flash they lie in a journal of our own; a
 *  platform that keeps records by itself is used as it is.
 *
 *  What is confirmed stays, whenever the power goes: a record is there whole, as it was last confirmed, or as the one that was
 *  just being written. Saving takes many short steps, so that no frame is late; what a step may cost is said here.
 *  Everything is for the main loop, and nothing for the medium's own functions: there load, save and work are GLANZ_ERR_STATE.
 * The journal's format is described in docs/store.md.
 */
#ifndef GLANZ_STORE_H
#define GLANZ_STORE_H

#include <glanz/base.h>

GLANZ_HEADER_BEGIN

/** What keeps the bytes: `load` and `save`, or else `read`, `program` and `erase`. Const, lent as long as the store is used.
 *  Appended to, never changed. */
struct glanz_medium {
    uint16_t version; /**< 1 */
    void *user;       /**< handed to every function */

    /* ---- a platform that keeps records ---- */

    /** Read a record. @param count filled with its size; 0 when there is none under this key. Of a record larger than
     * `capacity` only so much is read, but its whole size told. */
    glanz_status (*load)(void *user, uint16_t key, uint8_t *bytes, size_t capacity, size_t *count);
    /** Write a record whole, or leave the old one whole; count 0 removes it. @return GLANZ_ERR_FULL or GLANZ_ERR_PORT. */
    glanz_status (*save)(void *user, uint16_t key, const uint8_t *bytes, size_t count);

    /* ---- raw NOR flash ---- */

    uint32_t sector_bytes; /**< a whole number of the flash's own sectors, 256 bytes to 1 MB in steps of 256; the largest record
                              fits into one */
    uint16_t sectors;      /**< 2 and up; all are worn alike */
    uint8_t unit;          /**< bytes programmed at once: 1, 2, 4, 8, 16 or 32; none is programmed twice without an erasure */
    uint32_t program_us;   /**< for how long programming GLANZ_STORE_PIECE bytes stalls the CPU; 0: it does not */
    uint32_t erase_us;     /**< for how long erasing stalls the CPU; 0: it does not, and `ready` tells the end */
    /** Read. @param at byte from the store's start. */
    glanz_status (*read)(void *user, uint32_t at, uint8_t *bytes, size_t count);
    /** Program erased bytes, a whole number of units. What was programmed is read back and compared: that
     *  counts, whatever is returned. */
    glanz_status (*program)(void *user, uint32_t at, const uint8_t *bytes, size_t count);
    /** Erase a sector to 0xFF, or begin to. @return GLANZ_ERR_PORT. */
    glanz_status (*erase)(void *user, uint32_t sector);
    /** 1 when an erasure has ended. May be NULL: erase() returns at its end. */
    int (*ready)(void *user);
};

/** What shape of flash a sector's first bytes tell of: for tools that are given an image. @param medium its sector_bytes and
 * unit are filled. @param bytes the first 12 of a sector. @return 0 these begin no sector. */
int glanz_store_shape(struct glanz_medium *medium, const uint8_t *bytes);

#define GLANZ_STORE_PIECE 64 /**< bytes programmed in a step; the flash's own page may be larger */

struct glanz_store; /**< opaque; lives in the caller's memory */

/** Memory for a store, bytes: on raw flash 8 for each key, 12 for each sector, and the largest record twice; else that once. 0
 * for a medium that cannot be. @param keys records that it may have. @param record_capacity bytes of the largest record that is
 * saved and that a device reads; glanz_store_load() by itself has no limit. */
size_t glanz_store_size(const struct glanz_medium *medium, uint16_t keys, uint32_t record_capacity);

/** Find all records. Nothing is written or erased yet, whatever is found; on raw flash everything is read once.
 *  @param memory aligned for a pointer; lent as long as the store is used.
 *  @return GLANZ_ERR_ARGUMENT; GLANZ_ERR_MEMORY for too little of it, or when there are more records than `keys`: nothing can
 * be lost by this; GLANZ_ERR_PORT when reading fails. */
GLANZ_NODISCARD glanz_status glanz_store_start(struct glanz_store **store, void *memory, size_t size,
                                               const struct glanz_medium *medium, uint16_t keys, uint32_t record_capacity);

/** Why a store cannot start with these, in words: which member of the medium or which argument, what it is, what was expected.
 *  For programs whose glanz_store_start() failed, or that ask before. Reads nothing from the medium.
 *  @param memory,size,keys,record_capacity as for glanz_store_start(). @param fault may be NULL.
 *  @return GLANZ_ERR_ARGUMENT, GLANZ_ERR_MEMORY with fault->needed, or GLANZ_OK where nothing is wrong with them: then it is
 * the flash that failed, or that holds more records than `keys`. */
glanz_status glanz_store_explain(const struct glanz_medium *medium, const void *memory, size_t size, uint16_t keys,
                                 uint32_t record_capacity, struct glanz_fault *fault);

/** Read a record: the last that was confirmed. @param count its whole size, 0 when there is none; at most `capacity` are read.
 *  @param bytes may be NULL with room 0, to learn the size.
 *  @return GLANZ_ERR_NEWER for one of a newer format, GLANZ_ERR_DAMAGED when it does not check any more, or what the medium
 *          says. */
GLANZ_NODISCARD glanz_status glanz_store_load(struct glanz_store *store, uint16_t key, uint8_t *bytes, size_t capacity,
                                              size_t *count);

/** Begin to save a record in place of the one under its key; count 0 removes it. The bytes are copied. It is confirmed when
 *  glanz_store_work() says GLANZ_OK; until then the one before is what a power cut leaves. A record that is there already costs
 *  nothing.
 *  @return GLANZ_ERR_BUSY while another is being saved; GLANZ_ERR_FULL when it is larger than a sector or the memory, or
 * nothing can be made free for it, or there are as many keys as were asked for; GLANZ_ERR_NEWER in a store of a newer format,
 *          which is left alone. */
GLANZ_NODISCARD glanz_status glanz_store_save(struct glanz_store *store, uint16_t key, const uint8_t *bytes, size_t count);

/** Do one step: program at most GLANZ_STORE_PIECE bytes, or look at a record to be moved, or begin to erase a sector.
 *  @param allowed_us for how long the CPU may be stalled; a step that stalls longer waits.
 *  @return GLANZ_OK when nothing is left to do; GLANZ_ERR_BUSY when there is; or how the save failed (once): GLANZ_ERR_FULL,
 *          GLANZ_ERR_PORT. What was confirmed before stays. */
glanz_status glanz_store_work(struct glanz_store *store, uint32_t allowed_us);

/** All steps that are left, for programs that may wait, as before the first frame. */
GLANZ_NODISCARD glanz_status glanz_store_finish(struct glanz_store *store);

/** Memory in which a record can be built or read, so that none lies on the stack: the store's record_capacity. It is the
 * device's while one uses the store; never read nor written by the store itself. */
uint8_t *glanz_store_scratch(const struct glanz_store *store, size_t *capacity);

/** Is a save under way? */
int glanz_store_busy(const struct glanz_store *store);

/** What a store is like. */
struct glanz_store_state {
    uint16_t records;    /**< that can be loaded */
    uint16_t newer;      /**< of a newer format: left alone */
    uint16_t damaged;    /**< torn or damaged records met at the start; the ones before them count */
    uint16_t corrected;  /**< marks of sectors, and heads of records with one wrong bit, that were put right */
    uint16_t unreadable; /**< sectors in use whose marks cannot be read: what they held is lost. They are left as they are
                              until nothing else is free */
    uint16_t bad;        /**< sectors that failed three times one after another; they are tried again now and then */
    uint16_t clean;      /**< erased sectors */
    uint32_t used;       /**< bytes of flash that these records take */
    uint32_t capacity;   /**< that all records may take together; one sector is kept free, two of four and more */
    uint32_t wear;       /**< erasures of the most worn sector */
    uint32_t erased;     /**< erasures since the start */
    uint32_t programmed; /**< bytes programmed since the start */
    uint8_t read_only;   /**< 1: the store is of a newer format */
};
/** Tell what it is like now. @param state filled. */
void glanz_store_look(const struct glanz_store *store, struct glanz_store_state *state);

/** Erasures of one sector, as its mark counts them; 0 for one that there is not. */
uint32_t glanz_store_wear(const struct glanz_store *store, uint16_t sector);

/** Keys that hold a record, by number from 0. @return GLANZ_ERR_ABSENT past the last, or on a medium that cannot tell. */
GLANZ_NODISCARD glanz_status glanz_store_key(const struct glanz_store *store, uint16_t number, uint16_t *key);

GLANZ_HEADER_END
#endif
