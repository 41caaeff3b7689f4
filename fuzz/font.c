/* SPDX-License-Identifier: MIT */
/* Any bytes as a BDF font: refused with a line, or tables in order, in which every glyph can be read. */
#include "bdf.h"
#include "fuzz.h"

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct bdf bdf;
    glanz_status status = bdf_read(&bdf, (const char *)data, size, &fault);
    if (status != GLANZ_OK) {
        FUZZ_CHECK(fault.text[0] != '\0');
        return 0;
    }
    unsigned lit = 0;
    for (uint16_t i = 0; i < bdf.font.count; i++) {
        struct glanz_letter letters[2] = {{0, bdf.font.starts[i]},
                                          {(uint16_t)(bdf.font.starts[i + 1] - bdf.font.starts[i]), 0}};
        uint16_t candidates = 0;
        FUZZ_CHECK(i == 0 || bdf.font.codes[i] > bdf.font.codes[i - 1]);
        FUZZ_CHECK(bdf.font.starts[i + 1] > bdf.font.starts[i]);
        for (int32_t x = 0; x < letters[1].at; x++) {
            for (int32_t y = 0; y < bdf.font.rows; y++) {
                lit += glanz_writing_bit(letters, 1, &candidates, &bdf.font, x, y);
            }
        }
    }
    FUZZ_CHECK(lit <= (unsigned)bdf.font.starts[bdf.font.count] * bdf.font.rows);
    bdf_free(&bdf);
    return 0;
}
