/* SPDX-License-Identifier: MIT */
/* What a record of a device's store is, in words. */
#include <stdio.h>
#include <string.h>

#include "commands.h"

/* What a record is, as text. */
void store_describe(char *text, size_t capacity, uint16_t key, const uint8_t *bytes, size_t count) {
    char name[GLANZ_NAME_MOST + 1];
    const uint8_t *end = (const uint8_t *)memchr(bytes, 0, count);
    if (key >= GLANZ_KEY_PRESETS && key < GLANZ_KEY_PRESETS + GLANZ_SAVED_MOST) {
        if (glanz_preset_name(name, bytes, count) == GLANZ_OK) {
            snprintf(text, capacity, "preset \"%s\"", name);
        } else {
            snprintf(text, capacity, "a preset that this version does not read");
        }
    } else if (key >= GLANZ_KEY_PICTURES && key < GLANZ_KEY_PICTURES + GLANZ_PICTURES_MOST && end != NULL) {
        snprintf(text, capacity, "picture \"%.*s\"", (int)(end - bytes > GLANZ_NAME_MOST ? GLANZ_NAME_MOST : end - bytes),
                 (const char *)bytes);
    } else if (key == GLANZ_KEY_RESETS && count == 1) {
        snprintf(text, capacity, "early resets: %u", bytes[0]);
    } else {
        snprintf(text, capacity, "%s",
                 key == GLANZ_KEY_RUNNING  ? "what was showing"
                 : key == GLANZ_KEY_RANGES ? "ranges that sensors have learnt"
                 : key == GLANZ_KEY_SINCE  ? "how long that has gone on"
                 : key == GLANZ_KEY_ORDER  ? "the order of presets"
                 : key >= 0x1000           ? "of the program"
                                           : "unknown");
    }
}
