/* SPDX-License-Identifier: MIT */
/* Whether any part of the device still needs a piece of memory. */
#include "whole.h"

int glanz_device_uses(const struct glanz_device *device, const void *memory, size_t size) {
    if (device == NULL || memory == NULL || size == 0) {
        return 0;
    }
    int uses = glanz_rig_uses(device->rig, memory, size) || glanz_show_uses(device->show, memory, size) ||
               glanz_control_uses(device->control, memory, size) || glanz_inside(device->port, memory, size) ||
               glanz_inside(device->effects, memory, size) || glanz_inside(device->parts, memory, size);
#if GLANZ_DRIVES_MOST > 0
    uses = uses || glanz_overlaps(device->sounds, device->sound_count, sizeof *device->sounds, memory, size);
    for (uint8_t i = 0; i < device->sound_count && !uses; i++) {
        uses = glanz_inside(device->sounds[i], memory, size);
    }
#endif
#ifndef __AVR__
    uses = uses || glanz_device_change_uses(device, memory, size);
    for (const struct glanz_queue *queue = device->queues; queue != NULL && !uses; queue = glanz_queue_after(queue)) {
        uses = glanz_inside(queue, memory, size);
    }
#endif
#if GLANZ_SAVED_MOST > 0
    uses = uses || glanz_inside(device->store, memory, size) || glanz_inside(device->values, memory, size);
#endif
    return uses;
}
