/* SPDX-License-Identifier: MIT */
/* The pictures of an image that --store names, for commands that run nothing. */
#include <stdlib.h>
#include <string.h>

#include <glanz/nor.h>

#include "commands.h"

#define KEPT_BYTES (4u << 20)

int store_seen_pictures(struct kept *kept, uint8_t **memory) {
    struct text image;
    struct glanz_medium shape;
    struct glanz_nor nor;
    struct glanz_store *store = NULL;
    size_t at = 0;
    memset(kept, 0, sizeof *kept);
    free(*memory);
    *memory = NULL;
    if (store_seen == NULL) {
        return EXIT_GOOD;
    }
    if (!text_read(&image, store_seen)) {
        return EXIT_FILE;
    }
    while (at + 12 <= image.count && !glanz_store_shape(&shape, (const uint8_t *)image.bytes + at)) {
        at += 256;
    }
    glanz_status status = GLANZ_ERR_DAMAGED;
    void *room = NULL;
    if (at + 12 <= image.count && image.count % shape.sector_bytes == 0 && image.count / shape.sector_bytes >= 2) {
        glanz_nor_begin(&nor, (uint8_t *)image.bytes, shape.sector_bytes, (uint16_t)(image.count / shape.sector_bytes),
                        shape.unit);
        size_t size = glanz_store_size(&nor.medium, 4096, shape.sector_bytes);
        room = malloc(size);
        *memory = (uint8_t *)malloc(KEPT_BYTES);
        status = room == NULL || *memory == NULL ? GLANZ_ERR_MEMORY
                                                 : glanz_store_start(&store, room, size, &nor.medium, 4096, shape.sector_bytes);
    }
    if (status == GLANZ_OK) {
        uint8_t damaged = 0;
        status = glanz_pictures_load(store, *memory, KEPT_BYTES, kept->pictures,
                                     (uint8_t)(sizeof kept->pictures / sizeof kept->pictures[0]), &kept->count, &damaged);
    }
    if (status != GLANZ_OK) {
        complain_plain("%s: no pictures could be read; expected an image of a store: see \"glanz store\"", store_seen);
    }
    free(room);
    text_free(&image);
    return status == GLANZ_OK ? EXIT_GOOD : EXIT_REFUSED;
}
