/* SPDX-License-Identifier: MIT */
/* The store: power cuts at every operation, worn and full flash, strange contents. */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <glanz/nor.h>

#include "suites.h"

#define KEYS 12
#define RECORD 400
#define FLASH 16384

struct expected { /* what a key must hold */
    uint8_t bytes[RECORD];
    size_t count;
};

struct play { /* a workload, and what it knows */
    struct glanz_nor nor;
    uint8_t flash[FLASH];
    uint64_t memory[600];
    struct glanz_store *store;
    struct expected held[KEYS], coming;
    uint16_t coming_key;
    int is_coming;
    uint32_t seed, cuts;
    int deep; /* cut again while going on after a cut */
};

static uint32_t draw(struct play *play) {
    play->seed = glanz_hash(play->seed + 1u);
    return play->seed;
}

static glanz_status start(struct play *play) {
    return glanz_store_start(&play->store, play->memory, sizeof play->memory, &play->nor.medium, KEYS, RECORD);
}

static int holds(struct glanz_store *store, uint16_t key, const struct expected *expected) {
    uint8_t seen[RECORD];
    size_t count = 0;
    return glanz_store_load(store, key, seen, sizeof seen, &count) == GLANZ_OK && count == expected->count &&
           memcmp(seen, expected->bytes, count) == 0;
}

/* Every key holds what was confirmed last, or, the one that was being written, that. */
static void look_whole(const struct play *play, struct glanz_store *store, const char *when) {
    for (uint16_t key = 0; key < KEYS; key++) {
        int good = holds(store, key, &play->held[key]) ||
                   (play->is_coming && key == play->coming_key && holds(store, key, &play->coming));
        REQUIRE_MSG(good, "%s: key %u is wrong (seed %u, operation %u)", when, key, play->seed, play->nor.operations);
    }
}

/* The power fails here: what a start afterwards finds, and that the store can go on. */
static void cut_here(struct glanz_nor *nor, int erase, uint32_t at, const uint8_t *bytes, size_t count, void *user) {
    struct play *play = (struct play *)user;
    struct play *after = (struct play *)malloc(sizeof *after);
    *after = *play;
    uint32_t seed = glanz_hash(play->seed ^ nor->operations);
    glanz_nor_begin(&after->nor, after->flash, nor->medium.sector_bytes, nor->medium.sectors, nor->medium.unit);
    if (erase) {
        glanz_nor_tear_erase(after->flash + at, count, seed);
    } else {
        glanz_nor_tear_program(after->flash + at, bytes, count, nor->medium.unit, seed);
    }
    REQUIRE(start(after) == GLANZ_OK);
    look_whole(after, after->store, "after the cut");
    play->cuts++;
    uint16_t key = (uint16_t)(seed % KEYS); /* and it goes on: one more record, cut once more on the way now and then */
    struct expected more = play->held[key];
    more.count = more.count == 0 ? 20 : more.count;
    memset(more.bytes, (int)(seed >> 8), more.count);
    after->nor.cut_at = play->deep ? 1u + seed % 7u : 0;
    after->nor.seed = seed;
    glanz_status status = glanz_store_save(after->store, key, more.bytes, more.count);
    status = status == GLANZ_OK ? glanz_store_finish(after->store) : status;
    if (after->nor.off) {
        after->nor.off = 0;
        after->nor.cut_at = 0;
        REQUIRE(start(after) == GLANZ_OK);
        play->cuts++;
    } else {
        struct glanz_store_state state; /* with a large record lost to bad packing in each sector it may be full */
        glanz_store_look(after->store, &state);
        REQUIRE_MSG(status == GLANZ_OK ||
                        (status == GLANZ_ERR_FULL && state.used + (RECORD + 40u) * (nor->medium.sectors - 1u) > state.capacity),
                    "a save after the cut: %s, %u of %u used", glanz_status_name(status), state.used, state.capacity);
    }
    int new_there = holds(after->store, key, &more);
    REQUIRE(new_there || status != GLANZ_OK);
    for (uint16_t k = 0; k < KEYS; k++) {
        int coming = play->is_coming && k == play->coming_key && holds(after->store, k, &play->coming);
        REQUIRE_MSG(holds(after->store, k, &play->held[k]) || coming || (k == key && new_there),
                    "after going on: key %u is wrong (seed %u, operation %u)", k, play->seed, play->nor.operations);
    }
    REQUIRE(after->nor.misuse == 0);
    free(after);
}

static void work_on(struct play *play, int steps) {
    for (int step = 0; step < steps; step++) {
        uint32_t what = draw(play);
        uint16_t key = (uint16_t)(what % KEYS);
        play->coming_key = key;
        play->coming.count = (what >> 8) % 5u == 0 ? 0 : (what >> 8) % 9u == 0 ? RECORD : 1u + (what >> 12) % 150u;
        for (size_t i = 0; i < play->coming.count; i++) {
            play->coming.bytes[i] = (what >> 24) % 4u == 0 ? 0xFF : (uint8_t)draw(play);
        }
        play->is_coming = 1;
        glanz_status status = glanz_store_save(play->store, key, play->coming.bytes, play->coming.count);
        status = status == GLANZ_OK ? glanz_store_finish(play->store) : status;
        REQUIRE_MSG(status == GLANZ_OK || status == GLANZ_ERR_FULL, "%s", glanz_status_name(status));
        play->is_coming = 0;
        if (status == GLANZ_OK) {
            play->held[key] = play->coming;
        }
        look_whole(play, play->store, "in the run");
    }
}

static const struct {
    uint32_t sector_bytes;
    uint16_t sectors;
    uint8_t unit;
} shapes[] = {{1024, 8, 1}, {2048, 3, 4}, {1024, 4, 8}, {4096, 2, 16}, {2048, 5, 32}, {4096, 4, 2}, {1024, 6, 4}};

START_TEST(no_power_cut_loses_anything) {
    uint32_t cuts = 0;
    uint32_t wanted = test_long()   ? 145000
                      : test_slow() ? 4000
                                    : 14500; /* seven of these make more than a million, or 100,000 */
    for (uint32_t round = 0; cuts < wanted; round++) {
        struct play *play = (struct play *)calloc(1, sizeof *play);
        play->seed = 77u * (uint32_t)_i + round + test_seed(5u);
        play->deep = round % 2 == 1;
        memset(play->flash, round % 3 == 2 ? 0xA5 : 0xFF, sizeof play->flash);
        glanz_nor_begin(&play->nor, play->flash, shapes[_i].sector_bytes, shapes[_i].sectors, shapes[_i].unit);
        play->nor.before = cut_here;
        play->nor.before_user = play;
        REQUIRE(start(play) == GLANZ_OK);
        work_on(play, 150);
        REQUIRE(play->nor.misuse == 0);
        REQUIRE(play->nor.operations > 300);
        cuts += play->cuts;
        free(play);
    }
    printf("power cuts, sectors of %u bytes, units of %u: %u\n", shapes[_i].sector_bytes, shapes[_i].unit, cuts);
    ck_assert_uint_ge(cuts, wanted);
}
END_TEST

static void begin(struct play *play, uint32_t sector_bytes, uint16_t sectors, uint8_t unit) {
    memset(play, 0, sizeof *play);
    memset(play->flash, 0xFF, sizeof play->flash);
    glanz_nor_begin(&play->nor, play->flash, sector_bytes, sectors, unit);
    play->seed = 3;
    ck_assert_int_eq(start(play), GLANZ_OK);
}

static glanz_status save(struct play *play, uint16_t key, uint8_t fill, size_t count) {
    struct expected record;
    memset(record.bytes, fill, sizeof record.bytes);
    record.count = count;
    glanz_status status = glanz_store_save(play->store, key, record.bytes, count);
    status = status == GLANZ_OK ? glanz_store_finish(play->store) : status;
    if (status == GLANZ_OK) {
        play->held[key] = record;
    }
    return status;
}

START_TEST(worn_sectors_are_left_out) {
    for (uint32_t mask = 1; mask < 64; mask++) { /* every set of bad ones among six, both kinds */
        for (int kind = GLANZ_WORN_ERASE; kind <= GLANZ_WORN_PROGRAM; kind++) {
            static struct play play;
            uint8_t worn[6] = {0};
            begin(&play, 1024, 6, 4);
            work_on(&play, 40);
            for (int i = 0; i < 6; i++) {
                worn[i] = (mask >> i & 1u) != 0 ? (uint8_t)kind : 0;
            }
            play.nor.worn = worn;
            for (int boot = 0; boot < 3; boot++) {
                int refused = 0;
                for (int i = 0; i < 60; i++) {
                    uint16_t key = (uint16_t)(draw(&play) % KEYS);
                    glanz_status status =
                        save(&play, key, (uint8_t)draw(&play), draw(&play) % 6u == 0 ? 0 : 1 + draw(&play) % 100u);
                    REQUIRE(status == GLANZ_OK || status == GLANZ_ERR_FULL);
                    refused += status != GLANZ_OK;
                    look_whole(&play, play.store, "with worn sectors");
                }
                struct glanz_store_state state;
                glanz_store_look(play.store, &state);
                REQUIRE_MSG(mask != 1 || refused == 0 || state.used + 5u * RECORD > state.capacity,
                            "one bad sector of six must not matter: %u of %u used", state.used, state.capacity);
                REQUIRE(start(&play) == GLANZ_OK);
                look_whole(&play, play.store, "after a restart with worn sectors");
            }
        }
    }
}
END_TEST

START_TEST(a_full_store_refuses_and_can_be_emptied) {
    static struct play play;
    begin(&play, 1024, 2, 8);
    glanz_status status = GLANZ_OK;
    uint16_t saved = 0;
    while (status == GLANZ_OK) {
        status = save(&play, saved, (uint8_t)saved, 200);
        saved = (uint16_t)(saved + (status == GLANZ_OK));
        ck_assert_uint_lt(saved, KEYS);
    }
    ck_assert_int_eq(status, GLANZ_ERR_FULL);
    ck_assert_uint_ge(saved, 3);
    look_whole(&play, play.store, "full");
    struct glanz_store_state state;
    glanz_store_look(play.store, &state);
    ck_assert_uint_le(state.used, state.capacity);
    uint32_t worn = state.erased;
    for (int i = 0; i < 50; i++) {
        ck_assert_int_eq(save(&play, saved, 9, 200), GLANZ_ERR_FULL);
    }
    glanz_store_look(play.store, &state);
    ck_assert_uint_eq(state.erased, worn); /* asking again and again does not wear it */
    for (uint16_t key = 0; key < saved; key++) {
        ck_assert_int_eq(save(&play, key, 0, 0), GLANZ_OK);
    }
    ck_assert_int_eq(save(&play, 0, 7, 300), GLANZ_OK);
    look_whole(&play, play.store, "emptied");
    ck_assert_int_eq(start(&play), GLANZ_OK);
    look_whole(&play, play.store, "emptied and started");
    ck_assert_int_eq(glanz_store_save(play.store, 1, play.flash, RECORD + 1), GLANZ_ERR_FULL);
    ck_assert_int_eq(glanz_store_save(play.store, 1, NULL, 1), GLANZ_ERR_ARGUMENT);
}
END_TEST

START_TEST(garbage_and_other_sizes) {
    static struct play play;
    begin(&play, 1024, 8, 4);
    for (uint32_t fill = 0; fill < 300; fill++) { /* anything may be there at first */
        for (size_t i = 0; i < 8192; i++) {
            play.flash[i] = fill < 2 ? (uint8_t)(fill * 0x55u) : (uint8_t)draw(&play);
        }
        ck_assert_int_eq(start(&play), GLANZ_OK);
        memset(play.held, 0, sizeof play.held);
        look_whole(&play, play.store, "garbage");
        ck_assert_int_eq(save(&play, 3, 1, 100), GLANZ_OK);
        ck_assert_int_eq(start(&play), GLANZ_OK);
        look_whole(&play, play.store, "after garbage");
    }
    for (uint16_t key = 0; key < KEYS; key++) { /* larger and smaller than before: what is in the sectors there are is read */
        ck_assert_int_eq(save(&play, key, (uint8_t)(key + 1), 100), GLANZ_OK);
    }
    play.nor.medium.sectors = 16;
    memset(play.flash + 8192, 0x33, 8192);
    ck_assert_int_eq(start(&play), GLANZ_OK);
    look_whole(&play, play.store, "larger");
    work_on(&play, 100);
    ck_assert_int_eq(start(&play), GLANZ_OK);
    look_whole(&play, play.store, "larger, used");
    play.nor.medium.sectors = 8;
    ck_assert_int_eq(start(&play), GLANZ_OK);
    struct glanz_store_state state;
    glanz_store_look(play.store, &state);
    for (uint16_t i = 0; i < state.records; i++) {
        uint16_t key;
        size_t count;
        uint8_t bytes[RECORD];
        ck_assert_int_eq(glanz_store_key(play.store, i, &key), GLANZ_OK);
        ck_assert_int_eq(glanz_store_load(play.store, key, bytes, sizeof bytes, &count), GLANZ_OK);
    }
    memset(play.held, 0, sizeof play.held);
    for (uint16_t key = 0; key < KEYS; key++) {
        ck_assert_int_eq(save(&play, key, (uint8_t)(key + 40), 60), GLANZ_OK);
    }
    look_whole(&play, play.store, "smaller, used");
}
END_TEST

static void put32(uint8_t *bytes, uint32_t number) {
    for (int i = 0; i < 4; i++) {
        bytes[i] = (uint8_t)(number >> (8 * i));
    }
}

/* The CRC of a head of 10 bytes at a place of a sector with a sequence number, and one of a record with its bytes behind it. */
static void sign_head(uint8_t *head, uint32_t sequence, uint32_t offset) {
    uint8_t place[8];
    put32(place, sequence);
    put32(place + 4, offset);
    put32(head + 6, glanz_crc32(glanz_crc32(0, place, 8), head, 6));
}

START_TEST(a_newer_store_is_left_alone) {
    static struct play play;
    uint8_t before[FLASH];
    begin(&play, 1024, 4, 4);
    ck_assert_int_eq(save(&play, 1, 5, 50), GLANZ_OK);
    uint8_t *mark = play.flash; /* of a sector in use: its format becomes 3 */
    while (memcmp(mark, "GJ", 2) != 0) {
        mark += 1024;
    }
    mark[2] = 3;
    put32(mark + 8, glanz_crc32(0, mark, 8));
    memcpy(before, play.flash, sizeof before);
    ck_assert_int_eq(start(&play), GLANZ_OK);
    struct glanz_store_state state;
    glanz_store_look(play.store, &state);
    ck_assert_int_eq(state.read_only, 1);
    ck_assert_int_eq(save(&play, 1, 6, 50), GLANZ_ERR_NEWER);
    ck_assert_mem_eq(before, play.flash, sizeof before);

    begin(&play, 1024, 4, 4); /* one record of a newer kind among others */
    ck_assert_int_eq(save(&play, 1, 5, 48), GLANZ_OK);
    ck_assert_int_eq(save(&play, 2, 6, 48), GLANZ_OK);
    uint8_t *head = play.flash;
    while (head[0] != 0xA1 || head[1] != 2) {
        head++;
    }
    head[0] = 0xA7;
    sign_head(head, 1, (uint32_t)(head - play.flash) % 1024u);
    put32(head + 12 + 48, glanz_crc32(glanz_crc32(0, head, 6), head + 12, 48));
    uint8_t seen[60];
    size_t count;
    for (int round = 0; round < 80; round++) { /* it is carried along while others are written */
        ck_assert_int_eq(start(&play), GLANZ_OK);
        glanz_store_look(play.store, &state);
        ck_assert_int_eq(state.newer, 1);
        ck_assert_int_eq(glanz_store_load(play.store, 2, seen, sizeof seen, &count), GLANZ_ERR_NEWER);
        ck_assert_int_eq(save(&play, 2, 1, 10), GLANZ_ERR_NEWER);
        ck_assert_int_eq(save(&play, 1, (uint8_t)(round + 7), 200), GLANZ_OK);
    }
}
END_TEST

/* ---- what has been lost once ---- */

/* A life: random saves and deletions, with the power failing at random, also soon after it has come back. */
START_TEST(deletions_stay_through_torn_erasures) {
    static const uint16_t sector_counts[] = {2, 3, 4, 8};
    uint16_t sectors = sector_counts[_i / 3];
    uint8_t unit = (uint8_t)(_i % 3 == 0 ? 1 : _i % 3 == 1 ? 4 : 16);
    uint32_t wanted = test_long() ? 200000 : test_slow() ? 3000 : 20000;
    uint32_t cuts = 0;
    uint32_t deletions = 0;
    uint32_t sector_bytes = sectors > 3 ? 512 : 1024;
    for (uint32_t life = 0; cuts < wanted; life++) {
        static struct play play;
        begin(&play, sector_bytes, sectors, unit);
        play.seed = test_seed(9u) * 131u + (uint32_t)_i * 7919u + life;
        for (int saves = 0; saves < 400 && cuts < wanted; saves++) {
            uint32_t what = draw(&play);
            uint16_t key = (uint16_t)(what % 5u);
            play.coming.count = (what >> 8) % 3u == 0 ? 0 : 1u + (what >> 12) % 60u;
            memset(play.coming.bytes, (int)(what >> 24), play.coming.count);
            deletions += play.coming.count == 0;
            play.coming_key = key;
            play.is_coming = 1;
            play.nor.seed = draw(&play);
            play.nor.cut_at = play.nor.operations + 1u + draw(&play) % (what >> 20 & 1u ? 40u : 6u);
            glanz_status status = glanz_store_save(play.store, key, play.coming.bytes, play.coming.count);
            status = status == GLANZ_OK ? glanz_store_finish(play.store) : status;
            if (play.nor.off) {
                play.nor.off = 0;
                play.nor.erasing = 0;
                cuts++;
                REQUIRE(start(&play) == GLANZ_OK);
                look_whole(&play, play.store, "after a cut");
                if (holds(play.store, key, &play.coming)) { /* the old one, or the new one, and then for good */
                    play.held[key] = play.coming;
                }
            } else if (status == GLANZ_OK) {
                play.held[key] = play.coming;
            } else {
                REQUIRE_MSG(status == GLANZ_ERR_FULL, "%s", glanz_status_name(status));
            }
            play.is_coming = 0;
            look_whole(&play, play.store, "in a life");
        }
        REQUIRE(play.nor.misuse == 0);
    }
    printf("a life with %u power cuts and %u deletions, %u sectors of %u bytes, units of %u: nothing lost, nothing back\n",
           cuts, deletions, sectors, sector_bytes, unit);
}
END_TEST

/* Twenty records, one of them deleted, one written twice; every bit of the flash flipped once. */
START_TEST(any_flipped_bit_is_survived_or_reported) {
    static const uint8_t shapes_of[][2] = {{2, 4}, {4, 1}, {3, 16}};
    static struct play play;
    static uint8_t image[FLASH];
    uint32_t flips = 0;
    uint32_t lost = 0;
    uint32_t corrected = 0;
    begin(&play, _i == 0 ? 4096 : 1024, shapes_of[_i][0], shapes_of[_i][1]);
    uint32_t size = play.nor.medium.sector_bytes * play.nor.medium.sectors;
    struct glanz_store *store;
    static uint64_t memory[900];
    static struct expected records[20];
    ck_assert_int_eq(glanz_store_start(&store, memory, sizeof memory, &play.nor.medium, 24, 64), GLANZ_OK);
    for (uint16_t round = 0; round < 3; round++) {
        for (uint16_t key = 0; key < 20; key++) {
            records[key].count = round == 2 && key % 7 == 3 ? 0 : 4u + key;
            memset(records[key].bytes, key * 11 + round * (key % 2), records[key].count);
            ck_assert_int_eq(glanz_store_save(store, key, records[key].bytes, records[key].count), GLANZ_OK);
            ck_assert_int_eq(glanz_store_finish(store), GLANZ_OK);
        }
    }
    memcpy(image, play.flash, size);
    for (uint32_t bit = 0; bit < size * 8u; bit += test_slow() ? 7u : 1u) {
        memcpy(play.flash, image, size);
        play.flash[bit >> 3] ^= (uint8_t)(1u << (bit & 7u));
        struct glanz_store_state state;
        REQUIRE(glanz_store_start(&store, memory, sizeof memory, &play.nor.medium, 24, 64) == GLANZ_OK);
        glanz_store_look(store, &state);
        uint32_t wrong = 0;
        for (uint16_t key = 0; key < 20; key++) {
            wrong += !holds(store, key, &records[key]);
        }
        REQUIRE_MSG(wrong <= 1, "bit %u: %u records are not what they were", bit, wrong);
        REQUIRE_MSG(wrong == 0 || state.damaged == 1, "bit %u: a record is lost and nothing is said", bit);
        REQUIRE_MSG(state.unreadable == 0, "bit %u: a sector is lost", bit);
        lost += wrong;
        corrected += state.corrected;
        flips++;
        if (bit % 61u == 0) { /* and it goes on */
            REQUIRE(glanz_store_save(store, 21, records[1].bytes, 5) == GLANZ_OK && glanz_store_finish(store) == GLANZ_OK);
            uint32_t after = 0;
            for (uint16_t key = 0; key < 20; key++) {
                after += !holds(store, key, &records[key]);
            }
            REQUIRE_MSG(after == wrong, "bit %u: %u records are wrong after a save, %u before", bit, after, wrong);
        }
    }
    printf("%u single flips of %u sectors with 20 records: %u heads corrected, %u records lost and reported, no sector\n",
           flips, shapes_of[_i][0], corrected, lost);
    ck_assert_uint_gt(corrected, 0);
}
END_TEST

/* Each third bit of the marks flipped once. @return how many times a record was lost; that is always told. */
static uint32_t flip_marks(struct play *play, uint32_t keys, uint32_t cut, uint32_t *flips) {
    static uint8_t image[3 * 256];
    uint32_t told = 0;
    memcpy(image, play->flash, sizeof image);
    for (uint32_t bit = cut % 3u; bit < 3 * 64 * 8; bit += 3) {
        struct glanz_store_state state;
        play->flash[bit / 512 * 256 + bit % 512 / 8] ^= (uint8_t)(1u << (bit & 7u));
        REQUIRE(start(play) == GLANZ_OK);
        glanz_store_look(play->store, &state);
        uint8_t whole = 1;
        for (uint16_t key = 0; key < keys; key++) {
            whole = whole && holds(play->store, key, &play->held[key]);
        }
        REQUIRE_MSG(whole || state.damaged != 0 || state.unreadable != 0, "cut %u, bit %u: lost, and nothing is said", cut,
                    bit);
        told += !whole;
        *flips += 1;
        memcpy(play->flash, image, sizeof image);
    }
    REQUIRE(start(play) == GLANZ_OK);
    return told;
}

/* A cut at each operation of a life, then a few saves more, and after each a bit of the marks flipped: a mark that a cut left
 * there only once is not relied on. */
START_TEST(a_cut_and_then_a_flipped_bit) {
    static struct play play;
    static const uint8_t units_of[] = {1, 2, 4};
    uint32_t flips = 0;
    uint32_t told = 0;
    uint32_t cut = 1;
    for (int off = 1; off; cut += test_slow() ? 17 : 1) {
        begin(&play, 256, 3, units_of[_i]);
        play.nor.cut_at = cut;
        play.nor.seed = cut * 77u;
        off = 0;
        for (uint16_t i = 0; i < 40 && off < 12; i++) {
            uint16_t key = (uint16_t)(i & 1u);
            play.held[key].count = 4u + i * 5u % 14u;
            memset(play.held[key].bytes, i + 1, play.held[key].count);
            off += off != 0;
            for (int again = 0; again < 2 && !holds(play.store, key, &play.held[key]); again++) {
                glanz_status status = glanz_store_save(play.store, key, play.held[key].bytes, play.held[key].count);
                status = status == GLANZ_OK ? glanz_store_finish(play.store) : status;
                if (play.nor.off) {
                    off = 1;
                    play.nor.off = 0;
                    play.nor.cut_at = 0;
                    REQUIRE(start(&play) == GLANZ_OK);
                }
            }
            REQUIRE(holds(play.store, key, &play.held[key]));
            told += off != 0 && i > 0 ? flip_marks(&play, 2, cut, &flips) : 0;
        }
    }
    printf("%u cuts, then %u flips of marks and first records: %u records lost, all told\n", cut, flips, told);
    ck_assert_uint_gt(cut, 50);
}
END_TEST

/* Both copies of both marks gone: it is told, and the sector is the last that is used again. */
START_TEST(unreadable_is_not_empty) {
    static struct play play;
    struct glanz_store_state state;
    begin(&play, 1024, 4, 4);
    for (uint16_t key = 0; key < 8; key++) {
        ck_assert_int_eq(save(&play, key, (uint8_t)(key + 1), 90), GLANZ_OK);
    }
    uint32_t used = 0;
    while (play.flash[used + 24] == 0xFF) {
        used += 1024;
    }
    play.flash[used + 2] ^= 4; /* both copies of the first mark: the second still tells what the sector is */
    play.flash[used + 12 + 9] ^= 1;
    ck_assert_int_eq(start(&play), GLANZ_OK);
    glanz_store_look(play.store, &state);
    ck_assert_uint_eq(state.unreadable, 0);
    ck_assert_uint_eq(state.corrected, 1);
    look_whole(&play, play.store, "without its first mark");
    play.flash[used + 24 + 1] ^= 4; /* and both of the second */
    play.flash[used + 40 + 2] ^= 1;
    static uint8_t before[FLASH];
    memcpy(before, play.flash, FLASH);
    ck_assert_int_eq(start(&play), GLANZ_OK);
    glanz_store_look(play.store, &state);
    ck_assert_uint_eq(state.unreadable, 1);
    memset(play.held, 0, sizeof play.held);
    for (int i = 0; i < 10; i++) {
        ck_assert_int_eq(save(&play, 3, (uint8_t)i, 50), GLANZ_OK);
    }
    ck_assert_mem_eq(before + used, play.flash + used, 1024);
    for (int i = 0; i < 100; i++) { /* nothing else is free: it goes on */
        ck_assert_int_eq(save(&play, (uint16_t)(i % 6), (uint8_t)i, 380), GLANZ_OK);
        if (i % 6 >= 2) {
            ck_assert_int_eq(save(&play, (uint16_t)(i % 6), 0, 0), GLANZ_OK);
        }
        look_whole(&play, play.store, "with an unreadable sector");
    }
}
END_TEST

/* Bytes of a record that look like records, at their very places, in this format and the one before, torn at every step. */
START_TEST(records_inside_records_are_only_bytes) {
    static struct play play;
    static uint8_t image[FLASH];
    static uint8_t bytes[RECORD];
    uint32_t cuts = 0;
    for (int old = 0; old < 2; old++) {
        begin(&play, 1024, 4, 4);
        ck_assert_int_eq(save(&play, 1, 77, 40), GLANZ_OK);
        ck_assert_int_eq(save(&play, 2, 78, 12), GLANZ_OK);
        memcpy(image, play.flash, FLASH);
        uint32_t sector = 0;
        while (image[sector + 24] == 0xFF) {
            sector += 1024;
        }
        uint32_t offset = 2u * 12u + 2u * 16u + 12u + 40u + 4u + 12u + 12u + 4u + 12u; /* behind its head */
        for (uint32_t at = 0; at + 28 <= RECORD; at += 28) { /* key 1 with other bytes, and a deletion of key 2 */
            uint8_t *head = bytes + at;
            static const uint8_t wants[6] = {0xA1, 1, 0, 8, 0, 0};
            memcpy(head, wants, 6);
            memset(head + 10, 0xEE, 18);
            if (old) {
                uint32_t crc = glanz_crc32(0, head, 6);
                head[6] = (uint8_t)crc;
                head[7] = (uint8_t)(crc >> 8);
                put32(head + 16, glanz_crc32(0, head, 16));
            } else {
                sign_head(head, 1, offset + at);
                put32(head + 20, glanz_crc32(glanz_crc32(0, head, 6), head + 12, 8));
            }
        }
        for (uint32_t cut = 1; cut < 10; cut++) {
            for (uint32_t seed = 0; seed < (test_slow() ? 60u : 300u); seed++) {
                memcpy(play.flash, image, FLASH);
                play.nor.operations = 0;
                play.nor.cut_at = 0;
                ck_assert_int_eq(start(&play), GLANZ_OK);
                play.nor.cut_at = cut;
                play.nor.seed = seed;
                REQUIRE(glanz_store_save(play.store, 5, bytes, RECORD) == GLANZ_OK);
                (void)(glanz_store_finish(play.store) == GLANZ_OK);
                play.nor.cut_at = 0;
                play.nor.off = 0;
                REQUIRE(start(&play) == GLANZ_OK);
                REQUIRE(holds(play.store, 1, &play.held[1]) && holds(play.store, 2, &play.held[2]));
                cuts++;
            }
        }
        memcpy(play.flash, image, FLASH); /* and whole, with every bit of its head wrong once */
        ck_assert_int_eq(start(&play), GLANZ_OK);
        ck_assert_int_eq(glanz_store_save(play.store, 5, bytes, RECORD), GLANZ_OK);
        ck_assert_int_eq(glanz_store_finish(play.store), GLANZ_OK);
        for (uint32_t bit = 0; bit < 96; bit++) {
            play.flash[sector + offset + 64 - 12 + bit / 8] ^= (uint8_t)(1u << bit % 8u);
            REQUIRE(start(&play) == GLANZ_OK);
            REQUIRE(holds(play.store, 1, &play.held[1]) && holds(play.store, 2, &play.held[2]));
            play.flash[sector + offset + 64 - 12 + bit / 8] ^= (uint8_t)(1u << bit % 8u);
        }
    }
    ck_assert_uint_eq(cuts, 2u * 9u * (test_slow() ? 60u : 300u));
}
END_TEST

START_TEST(passing_failures_are_tried_again) {
    static const uint8_t units_of[] = {1, 4, 16};
    for (uint16_t sectors = 2; sectors <= 6; sectors += 2) {
        static struct play play;
        uint32_t good = 0;
        begin(&play, 1024, sectors, units_of[sectors / 2 - 1]);
        play.nor.failing = 10;
        play.nor.seed = sectors;
        for (int i = 0; i < (test_slow() ? 4000 : 20000); i++) {
            uint16_t key = (uint16_t)(draw(&play) % 6u);
            glanz_status status = save(&play, key, (uint8_t)draw(&play), draw(&play) % 8u == 0 ? 0 : 1u + draw(&play) % 60u);
            REQUIRE_MSG(status == GLANZ_OK, "save %d: %s", i, glanz_status_name(status));
            look_whole(&play, play.store, "with failures that pass");
            good++;
        }
        play.nor.failing = 0;
        ck_assert_int_eq(start(&play), GLANZ_OK);
        look_whole(&play, play.store, "after failures that passed");
        printf("%u saves, %u of %u operations failed: all saved, %u sectors\n", good, play.nor.failed, play.nor.operations,
               sectors);
        ck_assert_uint_gt(play.nor.failed, 50);
    }
}
END_TEST

/* A store as the format before wrote it: five records, one of them deleted. */
static const uint8_t format_1[1024] = {
#include "store_format_1.h"
};

START_TEST(the_format_before_is_read_and_goes_over) {
    static struct play play;
    memset(&play, 0, sizeof play);
    memcpy(play.flash, format_1, sizeof format_1);
    glanz_nor_begin(&play.nor, play.flash, 512, 2, 4);
    play.seed = 1;
    ck_assert_int_eq(start(&play), GLANZ_OK);
    static const uint8_t last[5] = {0, 8, 5, 0, 7};
    for (uint16_t key = 1; key <= 4; key++) {
        play.held[key].count = key == 3 ? 0 : 10u + 7u * key;
        memset(play.held[key].bytes, last[key] * 16 + key, play.held[key].count);
    }
    look_whole(&play, play.store, "as it was");
    struct glanz_store_state state;
    glanz_store_look(play.store, &state);
    ck_assert_uint_eq(state.records, 3);
    ck_assert_uint_eq(state.damaged, 0);
    static uint8_t image[FLASH];
    memcpy(image, play.flash, FLASH);
    uint32_t cuts = 0;
    for (uint32_t cut = 1; cut < 60; cut++) { /* it goes over to the new one, whenever the power fails on the way */
        for (uint32_t seed = 0; seed < 50; seed++) {
            memcpy(play.flash, image, FLASH);
            play.nor.operations = 0;
            play.nor.cut_at = 0;
            ck_assert_int_eq(start(&play), GLANZ_OK);
            play.nor.cut_at = cut;
            play.nor.seed = seed;
            struct expected was = play.held[1];
            (void)(save(&play, 1, 99, 33) == GLANZ_OK);
            cuts += play.nor.off;
            play.nor.cut_at = 0;
            play.nor.off = 0;
            play.nor.erasing = 0;
            REQUIRE(start(&play) == GLANZ_OK);
            struct expected now = was;
            memset(now.bytes, 99, 33);
            now.count = 33;
            REQUIRE(holds(play.store, 1, &was) || holds(play.store, 1, &now));
            play.held[1] = holds(play.store, 1, &now) ? now : was;
            look_whole(&play, play.store, "cut on the way");
            ck_assert_int_eq(save(&play, 1, 98, 20), GLANZ_OK);
            look_whole(&play, play.store, "and on");
            play.held[1] = was;
        }
    }
    ck_assert_uint_gt(cuts, 500);
    ck_assert_int_eq(save(&play, 1, 98, 17), GLANZ_OK);
    ck_assert_int_eq(start(&play), GLANZ_OK);
    look_whole(&play, play.store, "in the new format");
}
END_TEST

START_TEST(misuse_is_a_status) {
    static struct play play;
    struct glanz_store *store;
    struct glanz_store_state state;
    uint16_t key;
    size_t count;
    begin(&play, 1024, 4, 4);
    struct glanz_medium medium = play.nor.medium;
    ck_assert_uint_eq(glanz_store_size(NULL, 1, 1), 0);
    ck_assert_int_eq(glanz_store_start(NULL, play.memory, sizeof play.memory, &medium, 4, 64), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_start(&store, NULL, 9, &medium, 4, 64), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_start(&store, play.memory, 100, &medium, 4, 64), GLANZ_ERR_MEMORY);
    medium.unit = 3;
    ck_assert_uint_eq(glanz_store_size(&medium, 1, 1), 0);
    medium.unit = 4;
    medium.sectors = 1;
    ck_assert_int_eq(glanz_store_start(&store, play.memory, sizeof play.memory, &medium, 4, 64), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_work(NULL, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_save(NULL, 1, NULL, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_load(play.store, 1, NULL, 1, &count), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_store_key(play.store, 0, &key), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_store_key(play.store, 0, NULL), GLANZ_ERR_ARGUMENT);
    glanz_store_look(play.store, NULL);
    glanz_store_look(NULL, &state);
    ck_assert_uint_eq(state.records, 0);
    ck_assert_int_eq(glanz_store_busy(NULL), 0);

    ck_assert_int_eq(glanz_store_save(play.store, 1, play.flash, 100),
                     GLANZ_OK); /* one at a time, and only in steps that are allowed */
    ck_assert_int_eq(glanz_store_save(play.store, 2, play.flash, 100), GLANZ_ERR_BUSY);
    play.nor.medium.erase_us = 45000;
    for (int i = 0; i < 100; i++) {
        ck_assert_int_eq(glanz_store_work(play.store, 44999), GLANZ_ERR_BUSY);
    }
    ck_assert_uint_eq(play.nor.operations, 0);
    ck_assert_int_eq(glanz_store_finish(play.store), GLANZ_OK);
    ck_assert_int_eq(glanz_store_busy(play.store), 0);
    uint32_t operations = play.nor.operations;
    memset(play.memory + 500, 0, 100);
    uint8_t again[100];
    ck_assert_int_eq(glanz_store_load(play.store, 1, again, sizeof again, &count), GLANZ_OK);
    ck_assert_int_eq(glanz_store_save(play.store, 1, again, count), GLANZ_OK); /* the same once more costs nothing */
    ck_assert_int_eq(glanz_store_busy(play.store), 0);
    ck_assert_uint_eq(play.nor.operations, operations);
    for (uint16_t k = 0; k < 4; k++) {
        ck_assert_int_eq(save(&play, k, 1, 30), GLANZ_OK);
    }
    ck_assert_int_eq(glanz_store_start(&store, play.memory, sizeof play.memory, &play.nor.medium, 3, 64), GLANZ_ERR_MEMORY);
}
END_TEST

START_TEST(wear_is_even) {
    static struct play play;
    begin(&play, 1024, 6, 4);
    uint32_t erasures[6] = {0};
    for (uint32_t i = 0; i < 20000; i++) {
        uint8_t bytes[40];
        memset(bytes, 0, sizeof bytes);
        memcpy(bytes, &i, sizeof i);
        ck_assert_int_eq(glanz_store_save(play.store, (uint16_t)(i % 3u), bytes, sizeof bytes), GLANZ_OK);
        ck_assert_int_eq(glanz_store_finish(play.store), GLANZ_OK);
    }
    uint32_t least = UINT32_MAX;
    uint32_t most = 0;
    uint32_t sum = 0;
    for (int s = 0; s < 6; s++) { /* the wear count of each sector's mark */
        uint8_t *mark = play.flash + 1024 * s + 5;
        erasures[s] = (uint32_t)mark[0] | (uint32_t)mark[1] << 8 | (uint32_t)mark[2] << 16;
        ck_assert_uint_eq(erasures[s], glanz_store_wear(play.store, (uint16_t)s));
        sum += erasures[s];
        least = erasures[s] < least ? erasures[s] : least;
        most = erasures[s] > most ? erasures[s] : most;
    }
    ck_assert_uint_le(most - least, 1);
    struct glanz_store_state state;
    glanz_store_look(play.store, &state);
    ck_assert_uint_eq(state.wear, most); /* each sector's own */
    ck_assert_uint_eq(state.erased, sum);
    printf("20,000 saves of 40 bytes in 6 KB: %u erasures, %u bytes programmed\n", state.erased, state.programmed);
    ck_assert_uint_lt(state.erased, 20000u * 60u / 900u);
}
END_TEST

/* A platform that keeps records is used as it is. */
struct kept {
    uint8_t bytes[4][64];
    size_t count[4];
};

static glanz_status kept_load(void *user, uint16_t key, uint8_t *bytes, size_t capacity, size_t *count) {
    struct kept *kept = (struct kept *)user;
    *count = key < 4 ? kept->count[key] : 0;
    memcpy(bytes, kept->bytes[key % 4], *count < capacity ? *count : capacity);
    return GLANZ_OK;
}

static glanz_status kept_save(void *user, uint16_t key, const uint8_t *bytes, size_t count) {
    struct kept *kept = (struct kept *)user;
    if (key >= 4 || count > 64) {
        return GLANZ_ERR_FULL;
    }
    kept->count[key] = count;
    memcpy(kept->bytes[key], bytes == NULL ? kept->bytes[key] : bytes, count);
    return GLANZ_OK;
}

START_TEST(records_of_the_platform) {
    static struct kept kept;
    struct glanz_medium medium;
    uint64_t memory[40];
    struct glanz_store *store;
    uint8_t seen[8];
    size_t count;
    memset(&medium, 0, sizeof medium);
    medium.version = 1;
    medium.user = &kept;
    medium.load = kept_load;
    medium.save = kept_save;
    ck_assert_int_eq(glanz_store_start(&store, memory, sizeof memory, &medium, 0, 0), GLANZ_OK);
    ck_assert_int_eq(glanz_store_save(store, 2, (const uint8_t *)"rope", 4), GLANZ_OK);
    ck_assert_int_eq(glanz_store_finish(store), GLANZ_OK);
    ck_assert_int_eq(glanz_store_load(store, 2, seen, sizeof seen, &count), GLANZ_OK);
    ck_assert_uint_eq(count, 4);
    ck_assert_mem_eq(seen, "rope", 4);
    ck_assert_int_eq(glanz_store_save(store, 9, seen, 4), GLANZ_ERR_FULL);
    medium.save = NULL;
    ck_assert_int_eq(glanz_store_start(&store, memory, sizeof memory, &medium, 0, 0), GLANZ_ERR_ARGUMENT);
}
END_TEST

Suite *store_suite(void) {
    Suite *suite = suite_create("store");
    TCase *power = tcase_create("power");
    tcase_set_timeout(power, 300);
    tcase_add_loop_test(power, no_power_cut_loses_anything, 0, sizeof shapes / sizeof shapes[0]);
    tcase_add_loop_test(power, deletions_stay_through_torn_erasures, 0, 12);
    tcase_add_loop_test(power, any_flipped_bit_is_survived_or_reported, 0, 3);
    tcase_add_loop_test(power, a_cut_and_then_a_flipped_bit, 0, 3);
    suite_add_tcase(suite, power);
    TCase *failing = tcase_create("failing");
    tcase_set_timeout(failing, 120);
    tcase_add_test(failing, worn_sectors_are_left_out);
    tcase_add_test(failing, a_full_store_refuses_and_can_be_emptied);
    tcase_add_test(failing, garbage_and_other_sizes);
    tcase_add_test(failing, a_newer_store_is_left_alone);
    tcase_add_test(failing, unreadable_is_not_empty);
    tcase_add_test(failing, records_inside_records_are_only_bytes);
    tcase_add_test(failing, passing_failures_are_tried_again);
    tcase_add_test(failing, the_format_before_is_read_and_goes_over);
    suite_add_tcase(suite, failing);
    TCase *core = tcase_create("core");
    tcase_set_timeout(core, 60);
    tcase_add_test(core, misuse_is_a_status);
    tcase_add_test(core, wear_is_even);
    tcase_add_test(core, records_of_the_platform);
    suite_add_tcase(suite, core);
    return suite;
}
