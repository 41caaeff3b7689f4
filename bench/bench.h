/* SPDX-License-Identifier: MIT */
/* The bench: cases that run alike on every board. A board counts what lies between begin and end: instructions, on AVR
 * cycles. */
#ifndef GLANZ_BENCH_H
#define GLANZ_BENCH_H

#include <stdint.h>

/* Count from here, and print "name count divisor" at the end: the count of one thing is count/divisor. */
void bench_begin(const char *name);
void bench_end(uint32_t divisor);
/* What has been counted so far, for the worst of many; the desk cannot tell, and says 0. Print such a worst. */
uint32_t bench_count(void);
void bench_worst(const char *name, uint32_t count);
/* Print "name bytes" of memory. */
void bench_bytes(const char *name, uint32_t bytes);

/* All cases that this target has room for. */
void bench_run(void);

#endif
