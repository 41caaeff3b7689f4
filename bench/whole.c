/* SPDX-License-Identifier: MIT */
/* Everything but documents, linked: the whole catalogue, every chip, saved presets, changes while running. */
#include <glanz/glanz.h>

#include "board.h"

GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, 60);
GLANZ_ONE_LOOK(glow, pier, glanz_effect_walker);
static GLANZ_DEVICE_MEMORY(memory, 60 * 6, 1, 0, 1);

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    struct glanz_slots slots;
    uint8_t out[12];
    (void)user;
    (void)count;
    if (glanz_output_slots(&slots, list[0].output, 3) == GLANZ_OK) {
        glanz_spi_expand(out, &slots, list[0].bytes, 3);
        board_put((char)out[0]);
    }
    return glanz_uart_expand(out, &slots, list[0].bytes, 3);
}

static int busy(void *user) {
    (void)user;
    return 0;
}

static glanz_status load(void *user, uint16_t key, uint8_t *bytes, size_t room, size_t *count) {
    (void)user;
    (void)key;
    (void)bytes;
    (void)room;
    *count = 0;
    return GLANZ_OK;
}

static glanz_status save(void *user, uint16_t key, const uint8_t *bytes, size_t count) {
    (void)user;
    (void)key;
    board_put((char)bytes[count - 1]);
    return GLANZ_OK;
}

static const struct glanz_port port = {1, NULL, start, busy, NULL, load, save, NULL};

int board_main(void) {
    const struct glanz_setup setup = {.rig = &pier, .show = &glow, .port = &port, .effects = glanz_effects};
    struct glanz_device *device;
    uint8_t missed;
    struct glanz_gradient gradient;
    static struct glanz_stop stops[32];
    glanz_status status = glanz_device_start(&device, &memory, sizeof memory, &setup, NULL);
    status = status != GLANZ_OK ? status : glanz_device_take_rig(device, &pier, &glow, 100, NULL);
    status = status != GLANZ_OK ? status : glanz_device_keep_rig(device);
    status = status != GLANZ_OK ? status : glanz_device_take_show(device, &glow, NULL);
    status = status != GLANZ_OK ? status : glanz_device_save(device, "one", 1, 0);
    status = status != GLANZ_OK ? status : glanz_device_recall(device, &missed, "one", 100);
    status = status != GLANZ_OK ? status : glanz_device_forget(device, "one");
    status = status != GLANZ_OK ? status
                                : glanz_gradient_build(&gradient, stops, 32, glanz_palettes[0].stops, glanz_palettes[0].count,
                                                       GLANZ_BETWEEN_LIGHT, NULL, 0);
    board_put(glanz_chip_find("SK6812") == NULL || glanz_effect_find("flow") == NULL ? '-' : '+');
    while (status == GLANZ_OK) {
        status = glanz_device_frame(device, board_count());
    }
    return 1;
}
