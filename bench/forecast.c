/* SPDX-License-Identifier: MIT */
/* What the scenarios of the tests really cost on a board: instructions a frame, to hold the tool's forecast against. */
#include "board.h"
#include "nowhere.h"
#include "replay.h"

#include <string.h>

static union {
    uint64_t align;
    uint8_t bytes[100000];
} memory;

/* Those with a microphone are left out: nobody pushes sound here, and what it costs is measured by bench/hearing.c. */
static int listens(GLANZ_CONST struct glanz_rig *rig) {
    for (uint8_t i = 0; i < rig->input_count; i++) {
        if (rig->inputs[i].kind == GLANZ_INPUT_SOUND) {
            return 1;
        }
    }
    return 0;
}

int board_main(void) {
    for (uint16_t i = 0; scenarios[i].name != NULL; i++) {
        if (listens(scenarios[i].rig)) {
            continue;
        }
        struct glanz_setup setup;
        struct glanz_device *device = NULL;
        memset(&setup, 0, sizeof setup);
        setup.rig = scenarios[i].rig;
        setup.show = scenarios[i].show;
        setup.port = &port;
        setup.parts = &glanz_everything;
        if (glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK) {
            return 1;
        }
        now_us = 0;
        for (; now_us < 1200000; now_us += 10000) { /* past the fade from dark */
            glanz_device_frame(device, now_us);
        }
        uint32_t shaded = glanz_device_counts(device).shaded;
        uint32_t again = glanz_device_counts(device).again;
        uint32_t began = board_count();
        for (; now_us < 2200000; now_us += 10000) {
            glanz_device_frame(device, now_us);
        }
        uint32_t count = board_count() - began;
        shaded = glanz_device_counts(device).shaded - shaded;
        board_text(scenarios[i].name);
        board_put(' ');
        board_number(count / 100, 10);
        board_put(' ');
        board_number(shaded, 10);
        board_put(' ');
        again = glanz_device_counts(device).again - again;
        for (uint8_t s = 0; s < scenarios[i].rig->supply_count; s++) { /* a limit that holds costs a search every frame */
            again += glanz_engine_limit_scale(glanz_device_engine(device), s) != 65536u;
        }
        board_number(again, 10);
        board_put('\n');
    }
    return 0;
}
