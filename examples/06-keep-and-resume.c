/* SPDX-License-Identifier: MIT */
/* 06: a button that steps through presets kept in flash; a playlist that goes on after the power went. Introduces: a store,
 * saving and recalling, being told of events, resuming. Each line of standard input is a press of the button, a line with a "p"
 * starts the playlist; the end of the input is the plug being pulled. What it keeps is in the file given. */
#include <stdio.h>
#include <string.h>

#include <glanz/document.h>
#include <glanz/linux.h>

static const char rig_text[] =
    "{\"rig\": \"boat shed\", \"supplies\": {\"bench\": {\"volts\": \"5 V\", \"limit\": \"2 A\"}},"
    " \"outputs\": {\"line\": {\"pin\": 5, \"supply\": \"bench\", \"line\": [{\"chip\": \"WS2812B\", \"leds\": 24}]}},"
    " \"surfaces\": {\"shelf\": {\"strip\": [{\"output\": \"line\", \"first\": 0, \"leds\": 24}]}},"
    " \"inputs\": {\"step\": {\"button\": {\"pin\": 2, \"pressed\": \"low\"}}}}";
static const char show_text[] =
    "{\"show\": \"shed\", \"resume\": true, \"change\": \"300 ms\","
    " \"looks\": {\"calm\": {\"effect\": \"plain\", \"color\": \"#204080\"}, \"work\": {\"effect\": \"plain\", \"color\": "
    "\"4000 K\"},"
    "  \"tar\": {\"effect\": \"plain\", \"color\": \"#a04000\"}},"
    " \"segments\": {\"shelf\": {\"surface\": \"shelf\", \"look\": \"calm\"}},"
    " \"presets\": {\"calm\": {\"shelf\": \"calm\"}, \"work\": {\"shelf\": \"work\"}, \"tar\": {\"shelf\": \"tar\"}},"
    " \"playlists\": {\"day\": {\"items\": [{\"preset\": \"calm\", \"hold\": \"8 s\"}, {\"preset\": \"work\", \"hold\": \"8 "
    "s\"},"
    "  {\"preset\": \"tar\", \"hold\": \"8 s\"}]}}}";

static uint64_t now_us;

static void run_for(struct glanz_board *board, struct glanz_device *device, uint32_t ms) {
    for (uint64_t end = now_us + ms * 1000u; now_us < end; now_us += 10000) {
        glanz_board_time(board, now_us);
        (void)glanz_device_frame(device, (uint32_t)now_us);
        glanz_device_idle(device, 5000); /* flash is written in what is left of a frame */
    }
}

static void notify(struct glanz_board *board, struct glanz_device *device, const char *what) {
    uint8_t item = 0;
    struct glanz_lit lit = glanz_board_lit(board, 0, 0);
    uint8_t playlist = glanz_control_playing(glanz_device_control(device), 0, &item);
    printf("%s: red %u green %u blue %u", what, lit.red, lit.green, lit.blue);
    printf(playlist == GLANZ_ALL ? "\n" : ", item %u of the playlist\n", item + 1u);
}

static void pressed(const struct glanz_happening *happening, void *user) {
    if (happening->description == GLANZ_HAPPENED_EVENT && happening->event == GLANZ_EVENT_PRESSED_ONCE) {
        *(int *)user = 1;
    }
}

/* The first start: the looks of the show become presets of the device's own. From now on a visitor may change and save them. */
static void save_first(struct glanz_board *board, struct glanz_device *device, GLANZ_CONST struct glanz_show *show) {
    for (uint8_t i = 0; i < show->preset_count; i++) {
        struct glanz_action recall = {.kind = &glanz_action_recall, .target = i};
        char name[GLANZ_NAME_MOST + 1];
        snprintf(name, sizeof name, "shelf %u", i + 1u);
        if (glanz_device_act(device, &recall) != GLANZ_OK ||
            glanz_device_save(device, name, UINT64_MAX, GLANZ_ASPECTS, 0) != GLANZ_OK) {
            printf("cannot save \"%s\"\n", name);
        }
        do {
            run_for(board, device, 500);
        } while (glanz_device_saving(device));
    }
}

int main(int argc, char **argv) {
    static uint64_t memory[4096];
    static uint64_t documents[2][4096];
    static uint64_t store_memory[1024];
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    static uint64_t values[64]; /* what saved presets bring and the show has not any more */
    struct glanz_setup setup = {
        .parts = &glanz_everything, .effects = glanz_effects, .values = values, .values_size = sizeof values};
    struct glanz_device *device;
    size_t used;
    char line[80];
    int is_pressed = 0;
    uint8_t step = 0;
    if (glanz_rig_read(&setup.rig, &used, documents[0], sizeof documents[0], rig_text, sizeof rig_text - 1, &fault) !=
            GLANZ_OK ||
        glanz_show_read(&setup.show, &used, documents[1], sizeof documents[1], show_text, sizeof show_text - 1, setup.rig,
                        glanz_effects, NULL, 0, &fault) != GLANZ_OK) {
        printf("%s\n", fault.text);
        return 1;
    }
    struct glanz_board *board = glanz_board_open(
        &(struct glanz_board_setup){.hardware = setup.rig, .store = argc > 1 ? argv[1] : "shed.flash"}, &fault);
    if (board == NULL || glanz_store_start(&setup.store, store_memory, sizeof store_memory, glanz_board_medium(board),
                                           GLANZ_DEVICE_RECORDS, GLANZ_RECORD_MOST) != GLANZ_OK) {
        printf("no store: %s\n", fault.text);
        return 1;
    }
    setup.port = glanz_board_port(board);
    if (glanz_device_start(&device, memory, sizeof memory, &setup, &fault) != GLANZ_OK) {
        printf("%s\n", fault.text);
        return 1;
    }
    glanz_device_listen(device, pressed, &is_pressed);
    run_for(board, device, 2000);
    notify(board, device, "after power-on");
    if (glanz_device_saved(device, 0, line) != GLANZ_OK) {
        save_first(board, device, setup.show);
    }
    while (fgets(line, sizeof line, stdin) != NULL) {
        char name[GLANZ_NAME_MOST + 1] = "";
        if (line[0] == 'p') {
            struct glanz_action play = {.kind = &glanz_action_play, .target = 0};
            (void)(glanz_device_act(device, &play) == GLANZ_OK);
        } else { /* the button closes and opens its contact */
            (void)glanz_device_push(device, 0, 0, (uint32_t)now_us);
            (void)glanz_device_push(device, 0, 1, (uint32_t)now_us + 90000u);
        }
        run_for(board, device, 1000);
        if (is_pressed && glanz_device_saved(device, step, name) == GLANZ_OK &&
            glanz_device_recall(device, name, GLANZ_OWN_TIME, NULL) == GLANZ_OK) {
            step = glanz_device_saved(device, (uint8_t)(step + 1), line) == GLANZ_OK ? (uint8_t)(step + 1) : 0;
        }
        is_pressed = 0;
        run_for(board, device, 12000); /* long enough to be kept */
        notify(board, device, name[0] == '\0' ? "the playlist" : name);
    }
    glanz_board_close(board); /* no goodbye to the device: so goes the power */
    return 0;
}
