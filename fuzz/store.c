/* SPDX-License-Identifier: MIT */
/* Any bytes as the flash of a store: it starts, reads and saves, and what it says is confirmed is there after a start. The
 * first byte chooses the shape; marks and records get checksums that fit, so that what lies behind them is reached. */
#include <glanz/nor.h>

#include "fuzz.h"

#define SECTOR 512u
#define SECTORS 4u

/* Checksums where there is a mark or a head, so that not everything is thrown away at once. */
static void check_sums(uint8_t *flash, uint8_t unit) {
    for (uint32_t s = 0; s < SECTORS; s++) {
        uint8_t *mark = flash + s * SECTOR;
        uint32_t second = 12u + unit - 1u - (12u + unit - 1u) % unit;
        if (mark[0] != 'G') {
            continue;
        }
        uint32_t log = 0;
        while ((1u << log) < unit) {
            log++;
        }
        mark[1] = 'J';
        mark[2] = mark[2] % 3 == 0 ? 2 : 1;
        mark[3] = (uint8_t)((SECTOR >> 8) << 3 | log);
        mark[4] = (uint8_t)((SECTOR >> 8) << 3 >> 8);
        uint32_t crc = glanz_crc32(0, mark, 8);
        for (int i = 0; i < 4; i++) {
            mark[8 + i] = (uint8_t)(crc >> 8 * i);
        }
        crc = glanz_crc32(0, mark + second, 4);
        for (uint32_t i = 0; i < 4 && mark[second] != 0xFF; i++) {
            mark[second + 4 + i] = (uint8_t)(crc >> 8 * i);
        }
        for (uint32_t at = second + 8; at + 64 < SECTOR; at++) {
            uint8_t *head = mark + at;
            if (head[0] != 0xA1 && head[0] != 0xB1 && head[0] != 0xB3 && head[0] != 0xA2) {
                continue;
            }
            head[4] = head[5] = 0; /* of such a length that it fits */
            head[3] = head[3] & 63u;
            head[2] = 0;
            crc = glanz_crc32(0, head, 6);
            head[6] = (uint8_t)crc;
            head[7] = (uint8_t)(crc >> 8);
        }
    }
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size) {
    static uint8_t flash[SECTOR * SECTORS];
    static uint64_t memory[1024];
    struct glanz_nor nor;
    struct glanz_store *store;
    uint8_t bytes[SECTOR];
    uint8_t seen[SECTOR];
    uint8_t unit = (uint8_t)(1u << (size == 0 ? 2 : data[0] % 6u));
    memset(flash, 0xFF, sizeof flash);
    memcpy(flash, data, size < sizeof flash ? size : sizeof flash);
    check_sums(flash, unit);
    glanz_nor_begin(&nor, flash, SECTOR, SECTORS, unit);
    if (glanz_store_start(&store, memory, sizeof memory, &nor.medium, 300, 200) != GLANZ_OK) {
        return 0;
    }
    size_t count = 0;
    uint16_t key = 0;
    for (uint16_t i = 0; glanz_store_key(&key, store, i) == GLANZ_OK; i++) {
        (void)(glanz_store_load(store, key, bytes, sizeof bytes, &count) == GLANZ_OK);
    }
    struct glanz_store_state state;
    glanz_store_look(&state, store);
    for (uint16_t i = 0; i < 24; i++) {
        memset(bytes, i + 1, sizeof bytes);
        size_t length = 20u + 7u * i;
        glanz_status status = glanz_store_save(store, i % 5u, bytes, length);
        status = status == GLANZ_OK ? glanz_store_finish(store) : status;
        if (status != GLANZ_OK) {
            continue; /* full, or of a newer format */
        }
        FUZZ_CHECK(!state.read_only);
        FUZZ_CHECK(glanz_store_start(&store, memory, sizeof memory, &nor.medium, 300, 200) == GLANZ_OK);
        FUZZ_CHECK(glanz_store_load(store, i % 5u, seen, sizeof seen, &count) == GLANZ_OK && count == length);
        FUZZ_CHECK(memcmp(seen, bytes, length) == 0);
    }
    return 0;
}
