/* SPDX-License-Identifier: MIT */
/* Names under which something may be saved. */
#include <glanz/control.h>

/* Bytes of the character of UTF-8 that begins here; 0 for none. */
static uint8_t character(const uint8_t *at) {
    uint8_t length = at[0] < 0x80                    ? 1
                     : at[0] >= 0xC2 && at[0] < 0xE0 ? 2
                     : (at[0] & 0xF0u) == 0xE0       ? 3
                     : at[0] >= 0xF0 && at[0] < 0xF5 ? 4
                                                     : 0;
    for (uint8_t i = 1; i < length; i++) {
        if ((at[i] & 0xC0u) != 0x80) {
            return 0;
        }
    }
    if ((at[0] == 0xE0 && at[1] < 0xA0) || (at[0] == 0xED && at[1] >= 0xA0) || (at[0] == 0xF0 && at[1] < 0x90) ||
        (at[0] == 0xF4 && at[1] >= 0x90)) {
        return 0; /* longer than it need be, half a pair, or beyond the last */
    }
    return length;
}

int glanz_saved_name_valid(const char *name) {
    const uint8_t *at = (const uint8_t *)name;
    size_t length = 0;
    while (at != NULL && at[length] != '\0') {
        uint8_t bytes = character(at + length);
        if (bytes == 0 || length + bytes > GLANZ_NAME_MOST) {
            return 0;
        }
        length += bytes;
    }
    return length > 0 && glanz_text_plain(name);
}
