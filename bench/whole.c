/* SPDX-License-Identifier: MIT */
/* Everything but documents, linked: the whole catalogue, every chip, saved presets, changes while running. */
#include <glanz/glanz.h>

#include <string.h>

#include "board.h"

GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, 60);
GLANZ_ONE_LOOK(glow, pier, glanz_effect_walker);
static GLANZ_DEVICE_MEMORY(memory, 60 * 6, 1, 0, 1);

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    struct glanz_slots slots;
    uint8_t out[12];
    (void)user;
    (void)count;
    if (glanz_output_slots(list[0].output, 3, &slots) == GLANZ_OK) {
        glanz_spi_expand(out, &slots, list[0].bytes, 3);
        board_put((char)out[0]);
    }
    return glanz_uart_expand(out, &slots, list[0].bytes, 3);
}

static int busy(void *user) {
    (void)user;
    return 0;
}

static glanz_status read_flash(void *user, uint32_t at, uint8_t *bytes, size_t count) {
    (void)user;
    (void)at;
    memset(bytes, 0xFF, count);
    return GLANZ_OK;
}

static glanz_status program_flash(void *user, uint32_t at, const uint8_t *bytes, size_t count) {
    (void)user;
    (void)at;
    board_put((char)bytes[count - 1]);
    return GLANZ_OK;
}

static glanz_status erase_flash(void *user, uint32_t sector) {
    (void)user;
    board_put((char)sector);
    return GLANZ_OK;
}

static uint32_t time_us(void *user) {
    (void)user;
    return board_count();
}

static const struct glanz_port port = {2, NULL, start, busy, NULL, NULL, time_us};
static const struct glanz_medium flash = {.version = 1,
                                          .sector_bytes = 4096,
                                          .sectors = 4,
                                          .unit = 4,
                                          .read = read_flash,
                                          .program = program_flash,
                                          .erase = erase_flash};

int board_main(void) {
    struct glanz_setup setup = {
        .rig = &pier, .show = &glow, .port = &port, .effects = glanz_effects, .parts = &glanz_everything};
    static uint64_t store_memory[512];
    struct glanz_device *device;
    struct glanz_missed missed;
    struct glanz_gradient gradient;
    static struct glanz_stop stops[32];
    glanz_status status =
        glanz_store_start(&setup.store, store_memory, sizeof store_memory, &flash, GLANZ_DEVICE_RECORDS, 1024);
    status = status != GLANZ_OK ? status : glanz_device_start(&device, &memory, sizeof memory, &setup, NULL);
    status = status != GLANZ_OK ? status : glanz_device_set_rig(device, &pier, &glow, 100, NULL);
    status = status != GLANZ_OK ? status : glanz_device_keep(device);
    status = status != GLANZ_OK ? status : glanz_device_set_show(device, &glow, 0, NULL);
    status = status != GLANZ_OK ? status : glanz_device_save(device, "one", 1, GLANZ_ASPECTS, 0);
    status = status != GLANZ_OK ? status : glanz_device_recall(device, "one", 100, &missed);
    status = status != GLANZ_OK ? status : glanz_device_forget(device, "one");
    status = status != GLANZ_OK ? status : glanz_device_utc(device, 1792000000u);
    status = status != GLANZ_OK ? status
                                : glanz_gradient_build(&gradient, stops, 32, glanz_palettes[0].stops, glanz_palettes[0].count,
                                                       GLANZ_BETWEEN_LIGHT, NULL, 0);
    board_put(glanz_chip_find("SK6812") == NULL || glanz_effect_find("flow") == NULL ? '-' : '+');
    while (status == GLANZ_OK) {
        status = glanz_device_frame(device, board_count());
        glanz_device_idle(device, 1000);
    }
    return 1;
}
