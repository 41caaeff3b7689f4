/* SPDX-License-Identifier: MIT */
/* Any bytes as a saved preset, with a checksum that fits: refused or shown, never more. */
#include "fuzz.h"

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size) {
    static struct document rig;
    static struct document show;
    static uint64_t memory[32768];
    static const char text[] =
        "{\"show\":\"s\",\"looks\":{\"l\":{\"effect\":\"pattern\",\"blocks\":\"2 #fff, 1 #00f\"},\"m\":{\"effect\":\"comet\"}},"
        "\"segments\":{\"one\":{\"surface\":\"a\",\"look\":\"l\"},\"two\":{\"surface\":\"b\",\"look\":\"m\"}}}";
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_engine *engine = NULL;
    uint8_t record[GLANZ_RECORD_MOST + 64];
    uint8_t stack[2] = {0, 1};
    uint8_t missed = 0;
    uint8_t shaded = 0;
    char name[GLANZ_NAME_MOST + 1];
    struct glanz_change change = {0, 0};
    if (rig.rig == NULL) {
        fuzz_open_rig(&rig);
        FUZZ_CHECK(document_show(&show, fuzz_text((const uint8_t *)text, sizeof text - 1), rig.rig, NULL, &fault) == GLANZ_OK);
    }
    if (size > GLANZ_RECORD_MOST) {
        return 0;
    }
    memcpy(record, data, size);
    uint32_t crc = glanz_crc32(0, record, size);
    for (int i = 0; i < 4; i++) {
        record[size + (size_t)i] = (uint8_t)(crc >> (8 * i));
    }
    FUZZ_CHECK(glanz_engine_start(&engine, memory, sizeof memory, rig.rig, 4, &fault) == GLANZ_OK);
    FUZZ_CHECK(glanz_engine_take(engine, show.show->segments, stack, 2, NULL, 0, change, &fault) == GLANZ_OK);
    if (glanz_preset_name(name, record, size + 4) == GLANZ_OK) {
        (void)glanz_preset_unpack(&missed, engine, show.show, glanz_effects, record, size + 4, change);
    }
    for (uint64_t i = 1; i < 4; i++) {
        FUZZ_CHECK(glanz_engine_frame(&shaded, engine, i * 333333, 1) == GLANZ_OK);
    }
    return 0;
}
