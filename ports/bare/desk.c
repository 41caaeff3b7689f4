/* SPDX-License-Identifier: MIT */
/* A board that is a program on the desk: for what runs on bare boards and is compared here. */
#include <stdio.h>

#include "board.h"

int main(void) {
    return board_main();
}

void board_put(char c) {
    putchar(c);
}

uint32_t board_count(void) {
    return 0;
}

void board_stack_mark(void) {
}

uint32_t board_stack_used(void) {
    return 0;
}
