/* SPDX-License-Identifier: MIT */
/* A life of a store, as its bytes tell: saves and deletions, power cuts, flipped bits, failures that pass, and now and then any
 * bytes at all in the flash. What was confirmed and not touched stays as it was. */
#include <glanz/nor.h>

#include "fuzz.h"

#define SECTOR_MOST 512u
#define SECTORS_MOST 5u
#define KEYS 6u
#define LENGTH_MOST 120u

struct life {
    const uint8_t *data;
    size_t at, size;
    struct glanz_nor nor;
    struct glanz_store *store;
    uint8_t held[KEYS][LENGTH_MOST];
    size_t count[KEYS];
    uint8_t known[KEYS]; /* 0: bits were flipped, and a record may be lost */
    uint8_t flipped;     /* a bit: what it and a cut do together cannot be foretold */
};

static uint8_t next(struct life *life) {
    return life->at < life->size ? life->data[life->at++] : 0;
}

static uint64_t memory[160];
static uint8_t flash[SECTOR_MOST * SECTORS_MOST];

static void start(struct life *life) {
    FUZZ_CHECK(glanz_store_start(&life->store, memory, sizeof memory, &life->nor.medium, KEYS, LENGTH_MOST) == GLANZ_OK);
}

static int holds(struct life *life, uint16_t key, const uint8_t *bytes, size_t count) {
    uint8_t seen[LENGTH_MOST];
    size_t is = 0;
    return glanz_store_load(life->store, key, seen, sizeof seen, &is) == GLANZ_OK && is == count &&
           memcmp(seen, bytes, count) == 0;
}

static void look(struct life *life) {
    for (uint16_t key = 0; key < KEYS; key++) {
        FUZZ_CHECK(!life->known[key] || holds(life, key, life->held[key], life->count[key]));
    }
}

/* Save a record, perhaps with a cut on the way. */
static void save(struct life *life, uint8_t what) {
    uint16_t key = what % KEYS;
    uint8_t bytes[LENGTH_MOST];
    size_t count = next(life) % (LENGTH_MOST + 1u);
    uint8_t fill = next(life);
    uint8_t cut = next(life);
    memset(bytes, fill, count);
    for (size_t i = 0; (fill & 1u) != 0 && i < count; i++) { /* bytes of any kind, which may look like a record */
        bytes[i] = next(life);
    }
    life->nor.cut_at = (cut & 1u) != 0 && !life->flipped ? life->nor.operations + 1u + cut / 8u : 0;
    life->nor.failing = (cut & 6u) == 2 && !life->flipped ? 60 : 0;
    life->nor.seed = (uint32_t)cut << 8 | fill;
    glanz_status status = glanz_store_save(life->store, key, bytes, count);
    status = status == GLANZ_OK ? glanz_store_finish(life->store) : status;
    life->nor.failing = 0;
    if (life->nor.off) {
        life->nor.off = 0;
        life->nor.erasing = 0;
        life->nor.cut_at = 0;
        start(life);
        if (holds(life, key, bytes, count)) { /* the new one, or the old one; from now on for good */
            status = GLANZ_OK;
        }
    }
    if (status == GLANZ_OK) {
        memcpy(life->held[key], bytes, count);
        life->count[key] = count;
        life->known[key] = 1;
    }
    look(life);
}

/* One bit wrong: every record is intact, or something is said. */
static void flip(struct life *life) {
    uint32_t size = life->nor.medium.sector_bytes * life->nor.medium.sectors;
    uint32_t bit = ((uint32_t)next(life) << 8 | next(life)) % (size * 8u);
    flash[bit >> 3] ^= (uint8_t)(1u << (bit & 7u));
    struct glanz_store_state state;
    start(life);
    glanz_store_look(life->store, &state);
    uint8_t wrong = 0;
    for (uint16_t key = 0; key < KEYS; key++) {
        if (life->known[key] && !holds(life, key, life->held[key], life->count[key])) {
            life->known[key] = 0;
            wrong++;
        }
    }
    FUZZ_CHECK(wrong == 0 || state.damaged != 0 || state.unreadable != 0);
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size) {
    static const uint16_t sizes[] = {256, 512};
    static struct life life;
    memset(&life, 0, sizeof life);
    life.data = data;
    life.size = size;
    memset(flash, 0xFF, sizeof flash);
    uint8_t shape = next(&life);
    uint8_t unit = (uint8_t)(1u << (shape & 3u));
    glanz_nor_begin(&life.nor, flash, sizes[shape >> 2 & 1u], (uint16_t)(2u + (shape >> 3 & 3u)), unit);
    uint8_t any = (shape & 0x80u) != 0;
    if (any) { /* begins with any bytes in the flash: no more is known than that nothing fails */
        for (size_t i = 0; i < sizeof flash && life.at < size; i++) {
            flash[i] = next(&life);
        }
        if (glanz_store_start(&life.store, memory, sizeof memory, &life.nor.medium, KEYS, LENGTH_MOST) != GLANZ_OK) {
            return 0;
        }
    } else {
        start(&life);
        memset(life.known, 1, sizeof life.known);
    }
    for (int i = 0; i < 24 && life.at < size; i++) {
        uint8_t what = next(&life);
        if ((what & 0xF0u) == 0xF0u && !life.flipped) {
            life.flipped = 1;
            flip(&life);
        } else {
            save(&life, what);
        }
    }
    return 0;
}
