/* SPDX-License-Identifier: MIT */
/* Any text: a show is refused with a reason, or taken, runs for some frames, and reads back from what is written. */
#include <glanz/device.h>

#include "../bench/nowhere.h"
#include "fuzz.h"

static void run(const struct document *rig, const struct document *show) {
    static uint64_t memory[32768];
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_setup setup;
    struct glanz_device *device = NULL;
    memset(&setup, 0, sizeof setup);
    setup.rig = rig->rig;
    setup.show = show->show;
    setup.port = &port;
    setup.parts = &glanz_everything;
    setup.effects = glanz_effects;
    FUZZ_CHECK(glanz_device_start(&device, memory, sizeof memory, &setup, &fault) == GLANZ_OK);
    for (uint32_t i = 0; i < 12; i++) {
        (void)glanz_device_push(device, 0, i % 3 != 0, i * 170000u);
        (void)glanz_device_push(device, 1, (uint16_t)(i * 9999u), i * 170000u);
        (void)glanz_device_push(device, 2, (uint16_t)(i * 23456u), i * 170000u);
        (void)glanz_device_push(device, 3, (uint16_t)(i & 3u), i * 170000u);
        glanz_device_frame(device, i * 170000u + 10u);
        FUZZ_CHECK(glanz_engine_supply_ua(glanz_device_engine(device), 0) <= 1000000u);
    }
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size) {
    static struct document rig;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct document first;
    if (rig.rig == NULL) {
        fuzz_open_rig(&rig);
    }
    glanz_status status = document_show(&first, fuzz_text(data, size), rig.rig, NULL, &fault);
    fuzz_check_fault(status, &fault);
    FUZZ_CHECK(status != GLANZ_ERR_MEMORY);
    if (status == GLANZ_OK) {
        struct text once = {NULL, 0, 0};
        struct text twice = {NULL, 0, 0};
        struct document again;
        run(&rig, &first);
        FUZZ_CHECK(glanz_show_write(first.show, rig.rig, text_add, &once) == GLANZ_OK);
        struct text copy = fuzz_text((const uint8_t *)once.bytes, once.count);
        FUZZ_CHECK(document_show(&again, copy, rig.rig, NULL, &fault) == GLANZ_OK);
        FUZZ_CHECK(glanz_show_write(again.show, rig.rig, text_add, &twice) == GLANZ_OK);
        FUZZ_CHECK(once.count == twice.count && memcmp(once.bytes, twice.bytes, once.count) == 0);
        text_free(&once);
        text_free(&twice);
        document_free(&again);
        document_free(&first);
    }
    return 0;
}
