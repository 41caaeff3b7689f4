/* SPDX-License-Identifier: MIT */
/* Any bytes as a PNG, a GIF or a packed picture: refused with a reason, or a picture that packs, opens and unpacks to the same
 * points. */
#include "import.h"
#include "fuzz.h"

/* A packed picture, straight: what opens can be unpacked. */
static void open_packed(const uint8_t *data, size_t size) {
    struct glanz_picture_head head;
    if (size > 0xFFFFFF || glanz_picture_open(&head, data, (uint32_t)size, 1) != GLANZ_OK) {
        return;
    }
    uint8_t *points = (uint8_t *)calloc((size_t)head.columns * head.rows, 1);
    uint32_t at = head.first;
    for (uint16_t i = 0; points != NULL && i < head.frames; i++) {
        (void)glanz_picture_frame(points, &at, &head, data, i == 0);
        for (uint32_t k = 0; k < (uint32_t)head.columns * head.rows; k++) {
            uint16_t cover;
            FUZZ_CHECK(points[k] < head.colors);
            (void)glanz_picture_light(&cover, data, points[k]);
        }
    }
    FUZZ_CHECK(points == NULL || at + 4 == size);
    free(points);
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct frames frames;
    struct packed packed;
    open_packed(data, size);
    /* what claims to be vast takes time, not care: PNG and GIF sizes are bounded here */
    if (size > 24 && data[0] == 0x89 && (data[16] | data[17] | data[18] >> 2 | data[20] | data[21] | data[22] >> 2) != 0) {
        return 0;
    }
    if (size > 10 && data[0] == 'G' && ((data[7] | data[9]) & 0xFE) != 0) {
        return 0;
    }
    if (import_read(&frames, (const char *)data, size, &fault) != GLANZ_OK) {
        FUZZ_CHECK(fault.text[0] != '\0');
        return 0;
    }
    FUZZ_CHECK(frames.count > 0 && frames.count <= GLANZ_PICTURE_FRAMES);
    if (import_scale(&frames, 20, 12, 1) && import_pack(&packed, &frames)) {
        FUZZ_CHECK(frames.columns <= 20 && frames.rows <= 12);
        open_packed((const uint8_t *)packed.bytes.bytes, packed.bytes.count);
        struct glanz_picture_head head;
        FUZZ_CHECK(glanz_picture_open(&head, (const uint8_t *)packed.bytes.bytes, (uint32_t)packed.bytes.count, 1) == GLANZ_OK);
        text_free(&packed.bytes);
    }
    import_free(&frames);
    return 0;
}
