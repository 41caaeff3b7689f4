/* SPDX-License-Identifier: MIT */
/* Why a store cannot start, in words: which member, what it is, what it should be. */
#include "journal.h"

static glanz_status wrong(struct glanz_fault *fault, GLANZ_CONST char *member, uint32_t is, GLANZ_CONST char *expected) {
    glanz_fault_begin(fault);
    glanz_fault_add(fault, member);
    glanz_fault_add(fault, GLANZ_TEXT(" is "));
    glanz_fault_number(fault, is);
    glanz_fault_add(fault, GLANZ_TEXT("; expected "));
    glanz_fault_add(fault, expected);
    return GLANZ_ERR_ARGUMENT;
}

static glanz_status missing(struct glanz_fault *fault, GLANZ_CONST char *what) {
    glanz_fault_begin(fault);
    glanz_fault_add(fault, what);
    return GLANZ_ERR_ARGUMENT;
}

static glanz_status explain_flash(const struct glanz_medium *medium, struct glanz_fault *fault) {
    if (medium->read == NULL || medium->program == NULL || medium->erase == NULL) {
        return missing(fault, medium->read == NULL
                                  ? GLANZ_TEXT("medium.read is NULL; expected a function, or else load and save")
                              : medium->program == NULL ? GLANZ_TEXT("medium.program is NULL; expected a function")
                                                        : GLANZ_TEXT("medium.erase is NULL; expected a function"));
    }
    if (medium->load != NULL) {
        return missing(fault,
                       GLANZ_TEXT("medium.read and medium.load are both there; expected raw flash or records, not both"));
    }
    if (medium->sectors < 2) {
        return wrong(fault, GLANZ_TEXT("medium.sectors"), medium->sectors, GLANZ_TEXT("2 and up"));
    }
    if (medium->sector_bytes < 256 || medium->sector_bytes > 0x100000u || medium->sector_bytes % 256u != 0) {
        return wrong(fault, GLANZ_TEXT("medium.sector_bytes"), medium->sector_bytes,
                     GLANZ_TEXT("a whole number of the flash's own sectors, 256 to 1048576 in steps of 256"));
    }
    if (medium->sector_bytes > 0xFFFFFFF0u / medium->sectors) {
        return wrong(fault, GLANZ_TEXT("medium.sectors"), medium->sectors, GLANZ_TEXT("less than 4 GB in all"));
    }
    return wrong(fault, GLANZ_TEXT("medium.unit"), medium->unit,
                 GLANZ_TEXT("the bytes that are programmed at once: 1, 2, 4, 8, 16 or 32"));
}

glanz_status glanz_store_explain(const struct glanz_medium *medium, const void *memory, size_t size, uint16_t keys,
                                 uint32_t record_capacity, struct glanz_fault *fault) {
    if (medium == NULL) {
        return missing(fault, GLANZ_TEXT("the medium is NULL; expected what keeps the bytes"));
    }
    if (medium->version != 1) {
        return wrong(fault, GLANZ_TEXT("medium.version"), medium->version, GLANZ_TEXT("1"));
    }
    if ((medium->load == NULL) != (medium->save == NULL)) {
        return missing(fault, medium->load == NULL
                                  ? GLANZ_TEXT("medium.load is NULL, medium.save is not; expected both or neither")
                                  : GLANZ_TEXT("medium.save is NULL, medium.load is not; expected both or neither"));
    }
    if (!glanz_journal_valid_medium(medium)) {
        return explain_flash(medium, fault);
    }
    if (memory == NULL || GLANZ_MISALIGNED(memory) != 0) {
        return missing(fault, memory == NULL
                                  ? GLANZ_TEXT("the store's memory is NULL; expected glanz_store_size() bytes")
                                  : GLANZ_TEXT("the store's memory is not aligned; expected it aligned for a pointer"));
    }
    size_t needed = glanz_store_size(medium, keys, record_capacity);
    return size >= needed ? GLANZ_OK : glanz_fault_memory(fault, GLANZ_TEXT("the store"), needed, size);
}
