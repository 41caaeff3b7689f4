/* SPDX-License-Identifier: MIT */
/* Writes one record after another into the RP2040's flash, each over the one before, and says which is confirmed; at its start
 * it says which one it found. Whoever cuts the power must never find less than what was confirmed. */
#include <string.h>

#include <glanz/rp2040.h>

#define BYTES 700u

GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, 60); /* on pin 0, which is the UART's */

static void say(const char *what, uint32_t number) {
    char line[40];
    uint8_t at = 0;
    for (; *what != '\0'; what++) {
        line[at++] = *what;
    }
    for (uint32_t scale = 100000; scale != 0; scale /= 10u) {
        line[at++] = (char)('0' + number / scale % 10u);
    }
    line[at] = '\0';
    glanz_rp2040_say(line);
}

/* A record: its number, and bytes that follow from it. */
static void fill(uint8_t *bytes, uint32_t number) {
    for (uint32_t i = 0; i < BYTES; i++) {
        bytes[i] = (uint8_t)(i < 4 ? number >> 8 * i : number * 31u + i * 7u + (number >> 8));
    }
}

static uint32_t number_of(const uint8_t *bytes) {
    return (uint32_t)bytes[0] | (uint32_t)bytes[1] << 8 | (uint32_t)bytes[2] << 16 | (uint32_t)bytes[3] << 24;
}

int main(void) {
    static uint64_t memory[512];
    static uint8_t bytes[BYTES], expected[BYTES];
    struct glanz_store *store;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    size_t count = 0;
    uint32_t number = 0;
    if (glanz_rp2040_begin(&pier, &fault) == GLANZ_OK) {
        glanz_rp2040_say("pin 0 was taken");
    }
    glanz_rp2040_say(fault.text);
    if (glanz_store_start(&store, memory, sizeof memory, &glanz_rp2040_flash, 8, BYTES + 4) != GLANZ_OK) {
        (void)glanz_store_explain(&glanz_rp2040_flash, memory, sizeof memory, 8, BYTES + 4, &fault);
        glanz_rp2040_say(fault.text);
        return 1;
    }
    if (glanz_store_load(store, 1, bytes, BYTES, &count) != GLANZ_OK) {
        glanz_rp2040_say("damaged");
    } else if (count == BYTES) {
        number = number_of(bytes);
        fill(expected, number);
        if (memcmp(bytes, expected, BYTES) != 0) {
            glanz_rp2040_say("a mix");
        }
    }
    say("found ", number);
    for (;;) {
        number++;
        fill(bytes, number);
        if (glanz_store_save(store, 1, bytes, BYTES) == GLANZ_OK && glanz_store_finish(store) == GLANZ_OK) {
            say("confirmed ", number);
        } else {
            glanz_rp2040_say("it could not be saved");
        }
    }
}
