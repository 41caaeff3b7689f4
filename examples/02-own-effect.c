/* SPDX-License-Identifier: MIT */
/* 02: an effect of your own. Introduces: parameters, a phase that the engine moves on, shade. A lighthouse: a beam that
 * sweeps along the line, brightest in its middle. */
#include <glanz/linux.h>

enum { COLOR, WIDTH, SPEED };

static const struct glanz_param params[] = {
    [COLOR] = GLANZ_COLOR_ROW("color", "the beam", GLANZ_KELVIN(4500)),
    [WIDTH] = GLANZ_LENGTH_ROW("width", "from edge to edge", GLANZ_FIXED(1), GLANZ_UNIT_LEDS, GLANZ_FIXED(12)),
    [SPEED] = GLANZ_RATE_ROW("sweeps", GLANZ_UNIT_PASS_TIME, 4000),
};

/* A pass takes the beam along the whole line. turn[0] says how much of it is done; the engine moves it on. */
static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    glanz_place middle = (glanz_place)glanz_mul32_high(frame->turn[0], (uint32_t)frame->length << 16);
    for (uint8_t i = 0; i < count; i++) {
        glanz_place away = places[i] > middle ? places[i] - middle : middle - places[i];
        uint32_t level = 65536u - glanz_ratio((uint32_t)away * 2u, (uint32_t)frame->number[WIDTH]);
        light[i] = glanz_light_scale(frame->color[COLOR], level);
    }
}

static const struct glanz_effect lighthouse = {.version = GLANZ_EFFECT_VERSION,
                                               .name = "lighthouse",
                                               .description = "a beam that sweeps along; a pass is one sweep",
                                               .params = params,
                                               .param_count = GLANZ_COUNT(params),
                                               .shade = shade};

GLANZ_ONE_STRIP(pier, glanz_chip_ws2812b, 60);
GLANZ_ONE_LOOK(beam, pier, lighthouse);

int main(void) {
    static GLANZ_DEVICE_MEMORY(memory, 60 * 6, 1, 0, 1);
    struct glanz_board *board = glanz_board_open(&(struct glanz_board_setup){.hardware = &pier}, NULL);
    struct glanz_setup setup = {.rig = &pier, .show = &beam, .port = glanz_board_port(board), .parts = &glanz_everything};
    struct glanz_device *device;
    if (glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK)
        return 1;
    for (uint64_t frame = 0; frame < 10000000; frame += 10000) {
        glanz_board_follow(board, frame);
        glanz_device_frame(device, (uint32_t)frame);
        glanz_board_terminal(board, stdout);
    }
}
