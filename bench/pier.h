/* SPDX-License-Identifier: MIT */
/* The strip, the supply and the port of the programs that are linked to see their size. */
#ifndef BENCH_PIER_H
#define BENCH_PIER_H

#include <glanz/device.h>

#include "board.h"

#ifndef ALSO
#define ALSO /* another part, to see what it takes */
#endif

static GLANZ_CONST struct glanz_supply supply = {GLANZ_TEXT("supply"), 5000, 2000};
static GLANZ_CONST struct glanz_stretch stretch = {&glanz_chip_ws2812b, 60, 0, 0, 0, {0}, {0}, 0};
static GLANZ_CONST struct glanz_output output = {.name = GLANZ_TEXT("line"), .stretches = &stretch, .stretch_count = 1};
static GLANZ_CONST struct glanz_piece piece = {0, 0, 0, 60};
static GLANZ_CONST struct glanz_surface strip = {
    .name = GLANZ_TEXT("strip"), .pieces = &piece, .piece_count = 1, .kind = GLANZ_SURFACE_STRIP};

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    board_put((char)list[0].bytes[count]);
    return GLANZ_OK;
}

static int busy(void *user) {
    (void)user;
    return 0;
}

static uint32_t time_us(void *user) {
    (void)user;
    return board_count();
}

static const struct glanz_port port = {2, NULL, start, busy, NULL, NULL, time_us};

#endif
