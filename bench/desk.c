/* SPDX-License-Identifier: MIT */
/* The bench on the desk, under callgrind: each case is dumped on its own; bench/table.py reads the dumps. */
#include "bench.h"

#include <stdio.h>
#include <string.h>
#include <valgrind/callgrind.h>

static char name[64];

void bench_begin(const char *of) {
    snprintf(name, sizeof name, "%s", of);
    CALLGRIND_ZERO_STATS;
}

void bench_end(uint32_t divisor) {
    char label[96];
    snprintf(label, sizeof label, "%s / %u", name, (unsigned)divisor);
    CALLGRIND_DUMP_STATS_AT(label);
}

uint32_t bench_count(void) {
    return 0;
}

void bench_worst(const char *of, uint32_t count) {
    (void)of;
    (void)count;
}

void bench_bytes(const char *of, uint32_t bytes) {
    printf("%s: %u bytes\n", of, (unsigned)bytes);
}

int main(void) {
    bench_run();
    return 0;
}
