/* SPDX-License-Identifier: MIT */
/* Effects of one's own, built anew beside the light. */
#include "watch.h"

#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

#define LOOKS_US 50000 /* how often the file is looked at */

/* @return 1 where the file is another than it was. One that is gone for a moment, as editors have it, is none. */
static int has_changed(struct watch *watch) {
    struct stat info;
    if (stat(watch->path, &info) != 0 || info.st_size == 0 ||
        (info.st_mtim.tv_sec == watch->changed.tv_sec && info.st_mtim.tv_nsec == watch->changed.tv_nsec &&
         info.st_size == watch->size)) {
        return 0;
    }
    watch->changed = info.st_mtim;
    watch->size = info.st_size;
    return 1;
}

int watch_begin(struct watch *watch, const char *path) {
    size_t length = strlen(path);
    if (length < 3 || strcmp(path + length - 2, ".c") != 0) {
        complain_plain("--watch: expected a C file, which can be built anew; \"%s\" is none (--effects takes shared objects)",
                       path);
        return EXIT_USAGE;
    }
    watch->path = path;
    (void)has_changed(watch);
    return effects_load(path);
}

static double since(const struct timespec *then) {
    struct timespec now;
    clock_gettime(CLOCK_REALTIME, &now);
    return (double)(now.tv_sec - then->tv_sec) + (double)(now.tv_nsec - then->tv_nsec) / 1e9;
}

/* Lines for whoever edits: on the screen until the next build, or as plain text. */
static void tell(struct watch *watch, struct session *session, const char *first) {
    text_free(&watch->words);
    text_add(watch->build.words.bytes, watch->build.words.count, &watch->words);
    session_say(session, first, NULL);
    if (session->events == stdout) {
        fputs(watch->words.bytes, stdout);
        fflush(stdout);
    }
}

/* What was built takes the light over. */
static void take_over(struct watch *watch, struct session *session) {
    struct exchanged exchanged[EXCHANGED_MOST + 1];
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    char line[400];
    if (!effects_exchange(exchanged, watch->path, watch->build.object, &watch->build.words)) {
        tell(watch, session, "the effects before go on:");
        return;
    }
    if (session_exchange(session, exchanged, &fault) != GLANZ_OK) {
        effects_restore();
        text_print(&watch->build.words, "glanz: the show does not go with it: %s%s%s%s\n", fault.text,
                   fault.where[0] == '\0' ? "" : " (at ", fault.where, fault.where[0] == '\0' ? "" : ")");
        tell(watch, session, "the effects before go on:");
        return;
    }
    snprintf(line, sizeof line, "%s: built anew, %.2f s after it was saved", watch->path, since(&watch->saved));
    tell(watch, session, line); /* warnings, if there are any */
}

void watch_look(struct watch *watch, struct session *session) {
    uint64_t now = watch->path == NULL ? 0 : glanz_board_real_us(session->board);
    if (watch->path == NULL || (now - watch->looked_us < LOOKS_US && watch->build.pid == 0)) {
        return;
    }
    if (watch->build.pid == 0) {
        watch->looked_us = now;
        if (has_changed(watch)) {
            watch->saved = watch->changed;
            (void)build_begin(&watch->build, watch->path);
        }
        return;
    }
    int state = build_poll(&watch->build, 0);
    if (state < 0) {
        return;
    }
    if (state == 1) {
        take_over(watch, session);
    } else {
        tell(watch, session, "the effects before go on; the build said:");
    }
    build_taken(&watch->build);
}

void watch_end(struct watch *watch) {
    build_free(&watch->build);
    text_free(&watch->words);
}
