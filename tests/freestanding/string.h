/* SPDX-License-Identifier: MIT */
/* For compilers that come without a C library: the functions of <string.h> that the core uses; the firmware brings them. */
#ifndef GLANZ_TESTS_STRING_H
#define GLANZ_TESTS_STRING_H

#include <stddef.h>

void *memcpy(void *to, const void *from, size_t count);
void *memmove(void *to, const void *from, size_t count);
void *memset(void *to, int byte, size_t count);
int memcmp(const void *a, const void *b, size_t count);
void *memchr(const void *bytes, int byte, size_t count);
size_t strlen(const char *text);
int strcmp(const char *a, const char *b);

#endif
