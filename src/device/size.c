/* SPDX-License-Identifier: MIT */
/* How much memory a device with all parts takes, for programs that ask before they start one. */
#include "whole.h"

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

size_t glanz_device_size(GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity) {
    if (glanz_rig_check(rig, NULL) != GLANZ_OK) {
        return 0;
    }
    return align8(sizeof(struct glanz_device)) + glanz_inbox_size(rig->input_count) +
           align8(glanz_control_size(&glanz_everything, rig, segment_capacity == 0 ? 1 : segment_capacity)) +
           glanz_engine_size(&glanz_everything, rig, segment_capacity == 0 ? 1 : segment_capacity, 0);
}
