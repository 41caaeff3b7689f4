/* SPDX-License-Identifier: MIT */
/* Two texts with a NUL between them: the merge is refused, or gives strict JSON, and merging the same patch once more
 * changes nothing (RFC 7396 patches are idempotent). */
#include "fuzz.h"

static glanz_status merge(struct text *merged, const struct text *target, const struct text *patch, struct glanz_fault *fault) {
    return patch_text(merged, target, patch, fault);
}

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size) {
    const uint8_t *split = size == 0 ? NULL : (const uint8_t *)memchr(data, 0, size);
    if (split == NULL) {
        return 0;
    }
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text target = fuzz_text(data, (size_t)(split - data));
    struct text patch = fuzz_text(split + 1, size - (size_t)(split - data) - 1);
    struct text once = {NULL, 0, 0};
    struct text twice = {NULL, 0, 0};
    glanz_status status = merge(&once, &target, &patch, &fault);
    fuzz_check_fault(status, &fault);
    if (status == GLANZ_OK && once.count < 200000) {
        FUZZ_CHECK(merge(&twice, &once, &patch, &fault) == GLANZ_OK);
        struct text thrice = {NULL, 0, 0};
        FUZZ_CHECK(merge(&thrice, &twice, &patch, &fault) == GLANZ_OK);
        FUZZ_CHECK(thrice.count == twice.count && memcmp(thrice.bytes, twice.bytes, twice.count) == 0);
        text_free(&thrice);
        memcpy(fault.where, "/a/b/0", 7);
        patch_locate(&fault, &patch, &once);
    }
    text_free(&once);
    text_free(&twice);
    text_free(&target);
    text_free(&patch);
    return 0;
}
