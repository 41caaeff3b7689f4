/* SPDX-License-Identifier: MIT */
/* A port whose bytes go nowhere; its clock is what the includer sets. */
#ifndef BENCH_NOWHERE_H
#define BENCH_NOWHERE_H

#include <glanz/device.h>

static glanz_status nowhere_start(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    (void)list;
    (void)count;
    return GLANZ_OK;
}

static int nowhere_busy(void *user) {
    (void)user;
    return 0;
}

static uint32_t now_us;

static uint32_t nowhere_time(void *user) {
    (void)user;
    return now_us;
}

static const struct glanz_port port = {2, NULL, nowhere_start, nowhere_busy, NULL, NULL, nowhere_time};

#endif
