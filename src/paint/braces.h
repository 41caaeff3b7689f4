/* SPDX-License-Identifier: MIT */
/* What is in braces, and what it tells. Private to src/paint. */
#ifndef GLANZ_PAINT_BRACES_H
#define GLANZ_PAINT_BRACES_H

#include <glanz/paint.h>

#if GLANZ_FIELDS

#define GLANZ_NO_CODE 0xFFFFFFFFu

/* The next code of UTF-8 (RFC 3629); GLANZ_NO_CODE for what is none: cut short, too long a form, a surrogate, a control
 * character. */
uint32_t glanz_next_code(GLANZ_CONST char **text);

struct number { /* decimal, as it is written */
    int32_t value;
    uint8_t decimals;
};

struct brace {
    GLANZ_CONST char *name; /* and its length */
    uint8_t length;
    uint8_t ranged;          /* the text says a range */
    struct number low, high; /* as the value is told; both of the same decimals */
};

struct notifier {
    uint16_t text[GLANZ_TOLD_MOST]; /* codes of the basic plane */
    uint8_t count;
};

/* What is in a pair of braces, from after the first; moves on past the second. @return 0 when it cannot be read. */
int glanz_read_brace(struct brace *brace, GLANZ_CONST char **text);
/* Is it the name of a value, and of none that `world` has? NULL: any name will do. */
int glanz_is_unknown(const struct brace *brace, const struct glanz_world *world);
void glanz_tell_brace(struct notifier *notifier, struct brace *brace, const struct glanz_world *world);

#endif
#endif
