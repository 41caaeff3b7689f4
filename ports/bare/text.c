/* SPDX-License-Identifier: MIT */
/* Text and numbers over a board's UART. */
#include "board.h"

void board_text(const char *text) {
    while (*text != '\0') {
        board_put(*text++);
    }
}

void board_number(uint32_t number, uint8_t base) {
    char digits[11];
    uint8_t count = 0;
    do {
        uint8_t digit = (uint8_t)(number % base);
        digits[count++] = (char)(digit < 10 ? '0' + digit : 'a' + digit - 10);
        number /= base;
    } while (number != 0 || (base == 16 && count < 8));
    while (count > 0) {
        board_put(digits[--count]);
    }
}
