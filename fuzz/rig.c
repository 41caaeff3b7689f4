/* SPDX-License-Identifier: MIT */
/* Any text: a rig is refused with a reason, or taken, and then what is written reads back to the same text. */
#include "fuzz.h"

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct document first;
    glanz_status status = document_rig(&first, fuzz_text(data, size), &fault);
    fuzz_check_fault(status, &fault);
    FUZZ_CHECK(status != GLANZ_ERR_MEMORY); /* the bound holds */
    if (status == GLANZ_OK) {
        struct text once = {NULL, 0, 0};
        struct text twice = {NULL, 0, 0};
        struct document again;
        FUZZ_CHECK(glanz_rig_write(first.rig, text_add, &once) == GLANZ_OK);
        struct text copy = fuzz_text((const uint8_t *)once.bytes, once.count);
        FUZZ_CHECK(document_rig(&again, copy, &fault) == GLANZ_OK);
        FUZZ_CHECK(glanz_rig_write(again.rig, text_add, &twice) == GLANZ_OK);
        FUZZ_CHECK(once.count == twice.count && memcmp(once.bytes, twice.bytes, once.count) == 0);
        text_free(&once);
        text_free(&twice);
        document_free(&again);
        document_free(&first);
    }
    return 0;
}
