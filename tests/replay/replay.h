/* SPDX-License-Identifier: MIT */
/* A show played again from its inputs, on any CPU: what comes out is one number. */
#ifndef GLANZ_TESTS_REPLAY_H
#define GLANZ_TESTS_REPLAY_H

#include <glanz/device.h>

struct scenario {
    const char *name;
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_show *show;
    GLANZ_CONST struct glanz_parts *parts;   /* of a show in C: just what it needs; NULL: all */
    GLANZ_CONST struct glanz_pushed *pushed; /* NULL: nothing */
    uint16_t frames;                         /* 100 a second */
};

struct replayed {
    glanz_status status;
    uint16_t sent; /* frames handed to the port */
    uint32_t hash; /* CRC-32 of all bytes that went out, output after output */
    uint32_t kept; /* CRC-32 of the flash with all that was saved */
};

/* Play a scenario from its start in the memory given. */
struct replayed replay(const struct scenario *scenario, void *memory, size_t size);

/* The scenarios built into this program; closed by one without a name. */
extern const struct scenario scenarios[];

/* The catalogue and the effect that is no part of it, closed by NULL; into room for 100. */
static inline GLANZ_CONST struct glanz_effect *GLANZ_CONST *replay_effects(GLANZ_CONST struct glanz_effect **list) {
    extern GLANZ_CONST struct glanz_effect harbour_lighthouse; /* examples/effects/lighthouse.c */
    int count = 0;
    for (; glanz_effects[count] != NULL; count++) {
        list[count] = glanz_effects[count];
    }
    list[count] = &harbour_lighthouse;
    list[count + 1] = NULL;
    return list;
}

#endif
