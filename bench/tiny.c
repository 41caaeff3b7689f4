/* SPDX-License-Identifier: MIT */
/* The bench of the tiny build: 72 LEDs, each look of demo/tiny.show.json standing, one crossfade, and the stages by
 * themselves. In cycles. */
#include "board.h"
#include "nowhere.h"

extern GLANZ_CONST struct glanz_rig shelf_rig;
extern GLANZ_CONST struct glanz_show shelf_show;
extern GLANZ_CONST struct glanz_parts shelf_parts;

#define FRAMES 20

static GLANZ_DEVICE_MEMORY(memory, 72 * 6, 1, 1, 1);
static GLANZ_CONST struct glanz_action recalls[5] = {{&glanz_action_recall, 0, 0, 300, NULL, 0},
                                                     {&glanz_action_recall, 1, 0, 300, NULL, 0},
                                                     {&glanz_action_recall, 2, 0, 300, NULL, 0},
                                                     {&glanz_action_recall, 3, 0, 300, NULL, 0},
                                                     {&glanz_action_recall, 4, 0, 300, NULL, 0}};
static struct glanz_device *device;

static void frames(uint8_t count) {
    for (uint8_t i = 0; i < count; i++) {
        now_us += 10000;
        glanz_device_frame(device, now_us);
    }
}

static void measure(char name) {
    uint32_t began = board_count();
    frames(FRAMES);
    board_put(name);
    board_put(' ');
    uint32_t count = (board_count() - began) / FRAMES;
    for (uint32_t digit = 1000000; digit != 0; digit /= 10) {
        board_put((char)('0' + count / digit % 10));
    }
    board_put('\n');
}

int board_main(void) {
    const struct glanz_setup setup = {.rig = &shelf_rig, .show = &shelf_show, .port = &port, .parts = &shelf_parts};
    if (glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK) {
        return 1;
    }
    frames(110);
    for (uint8_t i = 0; i < 5; i++) {
        if (glanz_device_act(device, &recalls[i]) != GLANZ_OK) {
            return 2;
        }
        if (i == 4) {
            measure('x'); /* walker to swell, both at once */
        }
        frames(40);
        measure((char)('0' + i));
    }
    return 0;
}
