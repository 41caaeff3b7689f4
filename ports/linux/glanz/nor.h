/* SPDX-License-Identifier: MIT */
/** @file
 *  Simulated NOR flash: bits go from 1 to 0 when they are programmed and back only a sector at a time; the power can fail in
 *  the middle of any operation; sectors wear out. Lives in the caller's bytes, which may be a file mapped into memory.
 */
#ifndef GLANZ_NOR_H
#define GLANZ_NOR_H

#include <glanz/store.h>

GLANZ_HEADER_BEGIN

/** What a worn sector refuses. */
enum glanz_worn { GLANZ_WORN_NOT, GLANZ_WORN_ERASE, GLANZ_WORN_PROGRAM };

/** A simulated NOR flash, and what goes wrong with it. */
struct glanz_nor {
    struct glanz_medium medium; /**< hand this to a store; filled by glanz_nor_begin() */
    uint8_t *bytes;             /**< the whole flash */
    uint32_t operations;        /**< programmings and erasures so far */
    uint32_t cut_at;            /**< the power fails in the operation with this number, counted from 1; 0: never */
    uint32_t seed;              /**< of what a torn operation leaves */
    uint32_t misuse;            /**< units programmed twice, or out of line: a real flash would not stand it */
    uint8_t off;                /**< the power has failed: nothing works until it is set to 0 */
    uint8_t erasing;            /**< calls of ready() until an erasure has ended */
    const uint8_t *worn;        /**< enum glanz_worn for each sector; NULL: all good */
    uint16_t failing;           /**< of 1,000 operations, those that fail by chance, with or without saying so */
    uint32_t failed;            /**< how many did */
    /** Called before each operation, whole as it would be; for tests that want to stop there. May be NULL. */
    void (*before)(struct glanz_nor *nor, int erase, uint32_t at, const uint8_t *bytes, size_t count, void *user);
    void *before_user; /**< handed to it */
};

/** Set a flash up over bytes that are there. @param unit see struct glanz_medium. */
void glanz_nor_begin(struct glanz_nor *nor, uint8_t *bytes, uint32_t sector_bytes, uint16_t sectors, uint8_t unit);

/** What a programming leaves that is cut short: some units whole, one with some of its bits, the rest untouched. */
void glanz_nor_tear_program(uint8_t *flash, const uint8_t *bytes, size_t count, uint8_t unit, uint32_t seed);
/** What an erasure leaves that is cut short: page by page old, erased, or anything. */
void glanz_nor_tear_erase(uint8_t *sector, size_t count, uint32_t seed);

GLANZ_HEADER_END
#endif
