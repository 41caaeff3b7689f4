/* SPDX-License-Identifier: MIT */
/* Any bytes as a saved preset and as what was showing, with a checksum that fits: refused or shown, never more. */
#include "fuzz.h"

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size) {
    static struct document rig;
    static struct document show;
    static uint64_t memory[32768];
    static uint64_t control_memory[8192];
    static const char text[] =
        "{\"show\":\"s\",\"looks\":{\"l\":{\"effect\":\"pattern\",\"blocks\":\"2 #fff, 1 #00f\"},\"m\":{\"effect\":\"comet\"}},"
        "\"segments\":{\"one\":{\"surface\":\"a\",\"look\":\"l\"},\"two\":{\"surface\":\"b\",\"look\":\"m\"}},"
        "\"presets\":{\"p\":{\"one\":\"l\"},\"q\":{\"two\":{\"on\":false}}},"
        "\"playlists\":{\"r\":{\"items\":[{\"preset\":\"p\",\"hold\":\"1 s\"},{\"preset\":\"q\",\"hold\":\"1 "
        "s\"}],\"shuffled\":true},"
        "\"s\":{\"items\":[{\"playlist\":\"r\",\"hold\":\"3 s\"}]}}}";
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_engine *engine = NULL;
    struct glanz_control *control = NULL;
    uint8_t record[GLANZ_RECORD_MOST + 64];
    struct glanz_missed missed;
    uint8_t shaded = 0;
    char name[GLANZ_NAME_MOST + 1];
    struct glanz_change change = {0, 0, 0};
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
    FUZZ_CHECK(glanz_engine_start(&engine, memory, sizeof memory, &glanz_everything, rig.rig, 4, 0, &fault) == GLANZ_OK);
    FUZZ_CHECK(glanz_control_start(&control, control_memory, sizeof control_memory, engine, rig.rig, 4, NULL) == GLANZ_OK);
    FUZZ_CHECK(glanz_control_begin(control, show.show, 0, 0, &fault) == GLANZ_OK);
    if (glanz_preset_name(name, record, size + 4) == GLANZ_OK) {
        (void)(glanz_preset_unpack(control, glanz_effects, record, size + 4, change, &missed) == GLANZ_OK);
    }
    uint32_t since_ms = size == 0 ? 0 : (uint32_t)data[size - 1] << (data[0] % 25u);
    (void)(glanz_running_unpack(control, glanz_effects, record, size + 4, 0, since_ms, &missed) == GLANZ_OK);
    (void)(glanz_ranges_unpack(control, record, size + 4) == GLANZ_OK);
    for (uint64_t i = 1; i < 8; i++) {
        FUZZ_CHECK(glanz_control_run(control, i * 333333, (uint32_t)i * 333333u) == GLANZ_OK);
        FUZZ_CHECK(glanz_engine_frame(engine, i * 333333, 1, &shaded) == GLANZ_OK);
    }
    return 0;
}
