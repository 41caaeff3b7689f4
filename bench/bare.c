/* SPDX-License-Identifier: MIT */
/* The bench on a bare board. */
#include "bench.h"
#include "board.h"

static uint32_t began;

void bench_begin(const char *name) {
    board_text(name);
    board_text(": ");
    board_stack_mark();
    began = board_count();
}

void bench_end(uint32_t divisor) {
    uint32_t count = board_count() - began;
    board_number(count, 10);
    board_text(" / ");
    board_number(divisor, 10);
    board_text(" stack ");
    board_number(board_stack_used(), 10);
    board_put('\n');
}

uint32_t bench_count(void) {
    return board_count();
}

void bench_worst(const char *name, uint32_t count) {
    board_text(name);
    board_text(": ");
    board_number(count, 10);
    board_text(" / 1 stack 0\n");
}

void bench_bytes(const char *name, uint32_t bytes) {
    board_text(name);
    board_text(": ");
    board_number(bytes, 10);
    board_text(" bytes\n");
}

int board_main(void) {
    bench_run();
    return 0;
}
