/* SPDX-License-Identifier: MIT */
/* 05: a device with one button finds out how its panel is wired. Introduces: a button, its events, a painter, the finder. A
 * short press steps to the next answer of docs/wirings.md, a long one takes it. Here somebody presses who sees the simulated
 * panel. */
#include <string.h>

#include <glanz/finder.h>
#include <glanz/linux.h>

static const struct glanz_supply supply = {"supply", 5000, 2000};
static const struct glanz_stretch stretch = {.chip = &glanz_chip_ws2812b, .leds = 64};
static const struct glanz_output output = {
    .name = "panel line", .stretches = &stretch, .stretch_count = 1, .pin = 1, .clock_pin = 2};
/* no double presses here: each counts, and the last may be long */
static const struct glanz_input button = {.name = "button", .kind = GLANZ_INPUT_BUTTON, .pin = 3, .twice_ms = 1};
static const struct glanz_rig rig = {.name = "one panel",
                                     .supplies = &supply,
                                     .outputs = &output,
                                     .inputs = &button,
                                     .supply_count = 1,
                                     .output_count = 1,
                                     .input_count = 1};
static const struct glanz_show nothing = {.name = "nothing", .brightness = 65535};

struct search {
    struct glanz_finder finder;
    uint8_t answer;
};

static void paint(struct glanz_light *light, uint8_t line, uint16_t first, uint8_t count, void *user) {
    (void)line;
    for (uint8_t i = 0; i < count; i++) {
        light[i] = glanz_finder_light(&((struct search *)user)->finder, (uint16_t)(first + i));
    }
}

static void hear(const struct glanz_happening *happening, void *user) {
    struct search *search = (struct search *)user;
    if (happening->description != GLANZ_HAPPENED_EVENT) {
        return;
    }
    if (happening->event == GLANZ_EVENT_PRESSED) {
        search->answer++; /* the long press, too, begins as a press */
    } else if (happening->event == GLANZ_EVENT_HELD) {
        uint16_t answers = glanz_finder_answers(&search->finder);
        if (answers != 0 && glanz_finder_answer(&search->finder, (uint16_t)((search->answer - 1) % answers)) != GLANZ_OK) {
            puts("the letter was wrong: once more");
        }
        search->answer = 0;
    }
}

int main(void) {
    static GLANZ_DEVICE_MEMORY(memory, 64 * 6, 1, 1, 1);
    static const int presses[] = {16, 2}; /* wiring 16 of the list; then "yes", the second of two */
    static struct search search;
    struct glanz_board *board = glanz_board_open(&(struct glanz_board_setup){.hardware = &rig}, NULL);
    struct glanz_setup setup = {.rig = &rig, .show = &nothing, .port = glanz_board_port(board), .parts = &glanz_everything};
    struct glanz_device *device;
    uint64_t now = 0;
    if (glanz_device_start(&device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK ||
        glanz_finder_begin(&search.finder, &(struct glanz_panel){.columns = 8, .rows = 8}, 1) != GLANZ_OK ||
        glanz_engine_paint(glanz_device_engine(device), paint, &search) != GLANZ_OK) {
        return 1;
    }
    glanz_device_listen(device, hear, &search);
    for (int question = 0; question < 2; question++) {
        for (int press = 0; press < presses[question]; press++) {
            uint64_t up = now + (press + 1 < presses[question] ? 100000u : 900000u); /* the last one is long */
            glanz_device_push(device, 0, 1, (uint32_t)now);
            for (uint64_t end = up + 150000u; now < end; now += 10000) {
                if (now == up) {
                    glanz_device_push(device, 0, 0, (uint32_t)now);
                }
                glanz_board_time(board, now);
                glanz_device_frame(device, (uint32_t)now);
            }
        }
    }
    struct glanz_panel found;
    glanz_finder_panels(&search.finder, &found);
    printf("found: from the %s %s, along %s, %s\n", (found.wiring & GLANZ_FROM_BOTTOM) != 0 ? "bottom" : "top",
           (found.wiring & GLANZ_FROM_RIGHT) != 0 ? "right" : "left",
           (found.wiring & GLANZ_BY_COLUMNS) != 0 ? "columns" : "rows",
           (found.wiring & GLANZ_ZIGZAG) != 0 ? "zigzag" : "all one way");
    glanz_board_close(board);
    return search.finder.question == GLANZ_FINDER_DONE ? 0 : 1;
}
