/* SPDX-License-Identifier: MIT */
#include <glanz/base.h>

uint32_t glanz_version(void) {
    return GLANZ_VERSION_NUMBER;
}
