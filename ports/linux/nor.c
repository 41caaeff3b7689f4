/* SPDX-License-Identifier: MIT */
/* Simulated NOR flash, which can lose its power at any operation. */
#include <string.h>

#include <glanz/nor.h>

#define PAGE 64u

static uint32_t draw(uint32_t *seed) {
    *seed = glanz_hash(*seed + 0x9E3779B9u);
    return *seed;
}

void glanz_nor_tear_program(uint8_t *flash, const uint8_t *bytes, size_t count, uint8_t unit, uint32_t seed) {
    size_t whole = count / unit == 0 ? 0 : draw(&seed) % (count / unit + 1u) * unit;
    for (size_t i = 0; i < count && i < whole + unit; i++) {
        uint8_t mask = i < whole ? 0 : (uint8_t)draw(&seed); /* bits that were not reached */
        flash[i] = (uint8_t)(flash[i] & (bytes[i] | mask));
    }
}

void glanz_nor_tear_erase(uint8_t *sector, size_t count, uint32_t seed) {
    uint32_t way = draw(&seed) % 4u; /* sometimes hardly begun, or all but done */
    for (size_t page = 0; page < count; page += PAGE) {
        uint32_t left = draw(&seed) % 3u;
        left = way == 0 ? 0 : way == 1 ? 1 : left;
        for (size_t i = page; i < page + PAGE && i < count; i++) {
            sector[i] = left == 0 ? sector[i] : left == 1 ? 0xFF : (uint8_t)(sector[i] | draw(&seed));
        }
    }
    if (way == 3) {
        for (size_t i = 0; i < count; i++) {
            sector[i] = (uint8_t)draw(&seed);
        }
    }
}

static glanz_status read(void *user, uint32_t at, uint8_t *bytes, size_t count) {
    const struct glanz_nor *nor = (const struct glanz_nor *)user;
    if (nor->off || nor->erasing != 0 || (uint64_t)at + count > (uint64_t)nor->medium.sector_bytes * nor->medium.sectors) {
        return GLANZ_ERR_PORT;
    }
    memcpy(bytes, nor->bytes + at, count);
    return GLANZ_OK;
}

static int is_worn(const struct glanz_nor *nor, uint32_t sector, enum glanz_worn how) {
    return nor->worn != NULL && nor->worn[sector] == how;
}

/* Does this operation fail by chance? */
static int fails(struct glanz_nor *nor) {
    if (nor->failing == 0 || draw(&nor->seed) % 1000u >= nor->failing) {
        return 0;
    }
    nor->failed++;
    return 1;
}

static glanz_status program(void *user, uint32_t at, const uint8_t *bytes, size_t count) {
    struct glanz_nor *nor = (struct glanz_nor *)user;
    uint32_t unit = nor->medium.unit;
    if (nor->off) {
        return GLANZ_ERR_PORT;
    }
    if (at % unit != 0 || count % unit != 0 || nor->erasing != 0 ||
        (uint64_t)at + count > (uint64_t)nor->medium.sector_bytes * nor->medium.sectors) {
        nor->misuse++;
        return GLANZ_ERR_PORT;
    }
    if (nor->before != NULL) {
        nor->before(nor, 0, at, bytes, count, nor->before_user);
    }
    uint32_t sector = at / nor->medium.sector_bytes;
    for (size_t i = 0; i < count; i++) {
        nor->misuse += nor->bytes[at + i] != 0xFF && nor->worn == NULL;
    }
    if (++nor->operations == nor->cut_at) {
        glanz_nor_tear_program(nor->bytes + at, bytes, count, nor->medium.unit, nor->seed);
        nor->off = 1;
        return GLANZ_ERR_PORT;
    }
    if (fails(nor)) {
        glanz_nor_tear_program(nor->bytes + at, bytes, count, nor->medium.unit, draw(&nor->seed));
        return draw(&nor->seed) % 2u == 0 ? GLANZ_OK : GLANZ_ERR_PORT;
    }
    for (size_t i = 0; i < count; i++) { /* a worn sector keeps some bits as they were, and the chip does not notice */
        uint8_t keeps = is_worn(nor, sector, GLANZ_WORN_PROGRAM) && (at + i) % 37u == 5u ? 0x10 : 0;
        nor->bytes[at + i] = (uint8_t)(nor->bytes[at + i] & (bytes[i] | keeps));
    }
    return GLANZ_OK;
}

static glanz_status erase(void *user, uint32_t sector) {
    struct glanz_nor *nor = (struct glanz_nor *)user;
    if (nor->off || sector >= nor->medium.sectors) {
        return GLANZ_ERR_PORT;
    }
    uint32_t size = nor->medium.sector_bytes;
    if (nor->before != NULL) {
        nor->before(nor, 1, sector * size, NULL, size, nor->before_user);
    }
    if (++nor->operations == nor->cut_at) {
        glanz_nor_tear_erase(nor->bytes + sector * size, size, nor->seed);
        nor->off = 1;
        return GLANZ_ERR_PORT;
    }
    if (fails(nor)) {
        glanz_nor_tear_erase(nor->bytes + sector * size, size, draw(&nor->seed));
        return draw(&nor->seed) % 2u == 0 ? GLANZ_OK : GLANZ_ERR_PORT;
    }
    if (is_worn(nor, sector, GLANZ_WORN_ERASE)) {
        return GLANZ_ERR_PORT; /* it says so */
    }
    memset(nor->bytes + sector * size, 0xFF, size);
    if (is_worn(nor, sector, GLANZ_WORN_PROGRAM)) {
        nor->bytes[sector * size + size - 3u] = 0xFE; /* and one bit does not come back, which it does not say */
    }
    nor->erasing = nor->medium.erase_us == 0 ? 3 : 0;
    return GLANZ_OK;
}

static int ready(void *user) {
    struct glanz_nor *nor = (struct glanz_nor *)user;
    nor->erasing = (uint8_t)(nor->erasing == 0 ? 0 : nor->erasing - 1);
    return nor->erasing == 0;
}

void glanz_nor_begin(struct glanz_nor *nor, uint8_t *bytes, uint32_t sector_bytes, uint16_t sectors, uint8_t unit) {
    memset(nor, 0, sizeof *nor);
    nor->bytes = bytes;
    nor->medium.version = 1;
    nor->medium.user = nor;
    nor->medium.sector_bytes = sector_bytes;
    nor->medium.sectors = sectors;
    nor->medium.unit = unit;
    nor->medium.read = read;
    nor->medium.program = program;
    nor->medium.erase = erase;
    nor->medium.ready = ready;
}
