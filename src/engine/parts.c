/* SPDX-License-Identifier: MIT */
/* What the rooms ask of parts that may not be there. */
#include <glanz/engine.h>

glanz_status glanz_parts_memory(GLANZ_CONST struct glanz_parts *parts, struct glanz_fault *fault, GLANZ_CONST char *what,
                                size_t needed, size_t given) {
    if (parts->checks != NULL) {
        return parts->checks->memory(fault, what, needed, given);
    }
    if (fault != NULL) {
        fault->needed = needed;
    }
    return GLANZ_ERR_MEMORY;
}
