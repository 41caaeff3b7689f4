/* SPDX-License-Identifier: MIT */
/* The scenarios on a bare board: a line for each, over the UART. */
#include "board.h"
#include "replay.h"

#ifndef REPLAY_MEMORY
#define REPLAY_MEMORY 400000
#endif
static union {
    uint64_t align;
    uint8_t bytes[REPLAY_MEMORY];
} memory;

int board_main(void) {
    int failed = 0;
    for (uint16_t i = 0; scenarios[i].name != NULL; i++) {
        struct replayed replayed = replay(&scenarios[i], &memory, sizeof memory);
        board_text(scenarios[i].name);
        board_put(' ');
        board_number(replayed.sent, 10);
        board_text(" frames ");
        board_number(replayed.hash, 16);
        board_text(" kept ");
        board_number(replayed.kept, 16);
        if (replayed.status != GLANZ_OK) {
            board_text(" status -");
            board_number((uint32_t)-replayed.status, 10);
            failed = 1;
        }
        board_put('\n');
    }
    board_text("stack ");
    board_number(board_stack_used(), 10);
    board_put('\n');
    return failed;
}
