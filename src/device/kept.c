/* SPDX-License-Identifier: MIT */
/* Pictures kept in the store: records of their own, each a name, the picture's bytes, and a checksum over both. */
#include <string.h>

#include <glanz/device.h>

#if GLANZ_FIELDS

static uint32_t get32(const uint8_t *bytes) {
    return (uint32_t)bytes[0] | (uint32_t)bytes[1] << 8 | (uint32_t)bytes[2] << 16 | (uint32_t)bytes[3] << 24;
}

/* A record: the name, closed by 0, the picture, CRC-32. @return 0 for one that does not check. */
static int open_record(struct glanz_picture *picture, const uint8_t *record, size_t count) {
    struct glanz_picture_head head;
    if (count < 8 || glanz_crc32(0, record, count - 4u) != get32(record + count - 4u)) {
        return 0;
    }
    const uint8_t *end = (const uint8_t *)memchr(record, 0, count - 4u);
    if (end == NULL || !glanz_saved_name_valid((const char *)record)) {
        return 0;
    }
    picture->kind = GLANZ_CONTENT_PICTURE;
    picture->name = (const char *)record;
    picture->bytes = end + 1;
    picture->count = (uint32_t)(count - 4u - (size_t)(end + 1 - record));
    return glanz_picture_open(&head, picture->bytes, picture->count, 1) == GLANZ_OK;
}

/* The record with a name, and the first free one; GLANZ_PICTURES_MOST for none. `memory` is for looking at them. */
static glanz_status find_record(uint8_t *found, uint8_t *unused, struct glanz_store *store, const char *name, uint8_t *memory,
                                size_t size) {
    *found = GLANZ_PICTURES_MOST;
    *unused = GLANZ_PICTURES_MOST;
    for (uint8_t i = 0; i < GLANZ_PICTURES_MOST; i++) {
        size_t count = 0;
        glanz_status status = glanz_store_load(store, (uint16_t)(GLANZ_KEY_PICTURES + i), memory, size, &count);
        if (status != GLANZ_OK) {
            return status;
        }
        *unused = count == 0 && *unused == GLANZ_PICTURES_MOST ? i : *unused;
        size_t length = strlen(name) + 1;
        if (count >= length && size >= length && memcmp(memory, name, length) == 0) {
            *found = i;
        }
    }
    return GLANZ_OK;
}

static glanz_status save(struct glanz_store *store, uint8_t number, const uint8_t *record, size_t count) {
    glanz_status status = glanz_store_finish(store); /* whatever is under way */
    if (status == GLANZ_OK) {
        status = glanz_store_save(store, (uint16_t)(GLANZ_KEY_PICTURES + number), record, count);
    }
    return status == GLANZ_OK ? glanz_store_finish(store) : status;
}

glanz_status glanz_pictures_keep(struct glanz_store *store, const char *name, const uint8_t *bytes, size_t count,
                                 uint8_t *memory, size_t size) {
    struct glanz_picture_head head;
    uint8_t found;
    uint8_t unused;
    if (store == NULL || !glanz_saved_name_valid(name) || memory == NULL || (bytes == NULL && count != 0)) {
        return GLANZ_ERR_ARGUMENT;
    }
    size_t length = strlen(name) + 1;
    size_t all = length + count + 4u;
    if (count != 0 && size < all) {
        return GLANZ_ERR_MEMORY;
    }
    if (count != 0 && glanz_picture_open(&head, bytes, (uint32_t)count, 1) != GLANZ_OK) {
        return GLANZ_ERR_DAMAGED;
    }
    glanz_status status = find_record(&found, &unused, store, name, memory, size);
    if (status != GLANZ_OK) {
        return status;
    }
    if (count == 0) {
        return found == GLANZ_PICTURES_MOST ? GLANZ_ERR_ABSENT : save(store, found, NULL, 0);
    }
    found = found == GLANZ_PICTURES_MOST ? unused : found;
    if (found == GLANZ_PICTURES_MOST) {
        return GLANZ_ERR_FULL;
    }
    memcpy(memory, name, length);
    memcpy(memory + length, bytes, count);
    uint32_t crc = glanz_crc32(0, memory, length + count);
    for (uint8_t i = 0; i < 4; i++) {
        memory[length + count + i] = (uint8_t)(crc >> (8 * i));
    }
    return save(store, found, memory, all);
}

glanz_status glanz_pictures_load(struct glanz_store *store, uint8_t *memory, size_t size, struct glanz_picture *pictures,
                                 uint8_t capacity, uint8_t *count, uint8_t *damaged) {
    size_t used = 0;
    if (pictures == NULL || count == NULL || store == NULL || memory == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    *count = 0;
    if (damaged != NULL) {
        *damaged = 0;
    }
    for (uint8_t i = 0; i < GLANZ_PICTURES_MOST; i++) {
        size_t bytes = 0;
        glanz_status status = glanz_store_load(store, (uint16_t)(GLANZ_KEY_PICTURES + i), memory + used, size - used, &bytes);
        if (status != GLANZ_OK) {
            return status;
        }
        if (bytes == 0) {
            continue;
        }
        if (bytes > size - used || *count == capacity) {
            return GLANZ_ERR_MEMORY;
        }
        if (!open_record(&pictures[*count], memory + used, bytes)) {
            if (damaged != NULL) {
                (*damaged)++;
            }
            continue;
        }
        (*count)++;
        used += bytes;
    }
    return GLANZ_OK;
}

#endif
