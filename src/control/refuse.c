/* SPDX-License-Identifier: MIT */
/* How a show is refused: what part of it, by its name, and what was expected. */
#include "control.h"

glanz_status glanz_show_refuse(struct glanz_fault *fault, GLANZ_CONST char *kind, GLANZ_CONST char *name,
                               GLANZ_CONST char *text) {
    glanz_fault_begin(fault);
    glanz_fault_at(fault, kind);
    glanz_fault_at(fault, name);
    glanz_fault_add(fault, text);
    return GLANZ_ERR_SHOW;
}
