/* SPDX-License-Identifier: MIT */
/* The memory functions that compilers call, for a toolchain without a C library. */
#include <stddef.h>
#include <stdint.h>

void *memcpy(void *to, const void *from, size_t count);
void *memmove(void *to, const void *from, size_t count);
void *memset(void *to, int value, size_t count);
int memcmp(const void *a, const void *b, size_t count);
void *memchr(const void *bytes, int byte, size_t count);
size_t strlen(const char *text);
int strcmp(const char *a, const char *b);

void *memcpy(void *to, const void *from, size_t count) {
    uint8_t *at = (uint8_t *)to;
    const uint8_t *byte = (const uint8_t *)from;
    while (count-- != 0) {
        *at++ = *byte++;
    }
    return to;
}

void *memmove(void *to, const void *from, size_t count) {
    uint8_t *at = (uint8_t *)to;
    const uint8_t *byte = (const uint8_t *)from;
    if ((uintptr_t)at <= (uintptr_t)byte) {
        return memcpy(to, from, count);
    }
    while (count-- != 0) {
        at[count] = byte[count];
    }
    return to;
}

void *memset(void *to, int value, size_t count) {
    uint8_t *at = (uint8_t *)to;
    while (count-- != 0) {
        *at++ = (uint8_t)value;
    }
    return to;
}

int memcmp(const void *a, const void *b, size_t count) {
    const uint8_t *left = (const uint8_t *)a;
    const uint8_t *right = (const uint8_t *)b;
    for (; count != 0; count--) {
        if (*left != *right) {
            return *left < *right ? -1 : 1;
        }
        left++;
        right++;
    }
    return 0;
}

size_t strlen(const char *text) {
    size_t count = 0;
    while (text[count] != '\0') {
        count++;
    }
    return count;
}

void *memchr(const void *bytes, int byte, size_t count) {
    const uint8_t *at = (const uint8_t *)bytes;
    for (; count != 0; count--, at++) {
        if (*at == (uint8_t)byte) {
            return (void *)(uintptr_t)at;
        }
    }
    return NULL;
}

int strcmp(const char *a, const char *b) {
    while (*a != '\0' && *a == *b) {
        a++;
        b++;
    }
    return (uint8_t)*a - (uint8_t)*b;
}
