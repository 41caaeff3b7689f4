/* SPDX-License-Identifier: MIT */
/* Any text: an input log is refused with its line, or read with times that never fall. */
#include "log.h"

#include "fuzz.h"

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text = fuzz_text(data, size);
    struct log log;
    glanz_status status = log_read(&log, text.bytes, text.count, &fault);
    fuzz_check_fault(status, &fault);
    FUZZ_CHECK(status == GLANZ_OK || fault.line > 0);
    for (size_t i = 1; status == GLANZ_OK && i < log.count; i++) {
        FUZZ_CHECK(log.entries[i].at_us >= log.entries[i - 1].at_us);
    }
    log_free(&log);
    text_free(&text);
    return 0;
}
