/* SPDX-License-Identifier: MIT */
/* Effects of one's own that are built anew whenever their C file is saved, beside a show that runs. */
#ifndef GLANZ_TOOL_WATCH_H
#define GLANZ_TOOL_WATCH_H

#include <time.h>

#include "effects.h"
#include "session.h"

struct watch {
    const char *path;        /* NULL: nothing is watched */
    struct timespec changed; /* the file, when it was looked at last */
    int64_t size;
    struct timespec saved; /* the change that is built now */
    struct build build;
    struct text words; /* what the newest build said; empty: it went well */
    uint64_t looked_us;
};

/* Take the effects for the first time. @return an exit code; it has complained. */
int watch_begin(struct watch *watch, const char *path);
/* Between two frames: look, build beside, take over. Tells the session what came of it. */
void watch_look(struct watch *watch, struct session *session);
void watch_end(struct watch *watch);

#endif
