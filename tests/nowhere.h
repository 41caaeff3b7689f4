/* SPDX-License-Identifier: MIT */
/* A port that sends nothing anywhere and is never busy; its clock is moved on by a program of several threads. */
#ifndef GLANZ_TESTS_NOWHERE_H
#define GLANZ_TESTS_NOWHERE_H

#include <stdatomic.h>

#include <glanz/glanz.h>

static atomic_uint clock_us;

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    (void)list;
    (void)count;
    return GLANZ_OK;
}

static int busy(void *user) {
    (void)user;
    return 0;
}

static uint32_t time_us(void *user) {
    (void)user;
    return atomic_load(&clock_us);
}

static const struct glanz_port nowhere = {2, NULL, start, busy, NULL, NULL, time_us};

#endif
