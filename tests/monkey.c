/* SPDX-License-Identifier: MIT */
/* A monkey at the public calls: random ones with random values, right and wrong, from outside and from inside callbacks; a port
 * and a flash that fail; documents that are read and freed, effects that are unloaded, as soon as the device says that it uses
 * them no more. What it must not do is crash, hang, read what was freed, or lose a preset that was confirmed. Prints its seed.
 * usage: monkey CALLS [SEED] */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include <glanz/document.h>
#include <glanz/glanz.h>
#include <glanz/nor.h>

#define BLOCKS 12
#define FLASH (6 * 2048)

#define CHECK(condition)                                                                                                       \
    do {                                                                                                                       \
        if (!(condition)) {                                                                                                    \
            printf("call %lu, seed %u: %s does not hold (line %d)\n", calls, first_seed, #condition, __LINE__);                \
            fflush(stdout);                                                                                                    \
            abort();                                                                                                           \
        }                                                                                                                      \
    } while (0)

static unsigned long calls;
static uint32_t first_seed, seed;

static uint32_t draw(uint32_t below) {
    seed = glanz_hash(seed + 0x9E3779B9u);
    return below == 0 ? seed : seed % below;
}

/* ---- what may be freed: documents and effects ---- */

struct block {
    void *memory;
    size_t size;
    GLANZ_CONST struct glanz_rig *rig; /* one of the two, */
    GLANZ_CONST struct glanz_show *show;
    struct glanz_effect *effect; /* or an effect */
};
static struct block blocks[BLOCKS];

static struct glanz_device *device;
static struct glanz_store *store;
static struct glanz_queue *queue;
static GLANZ_CONST struct glanz_rig *rig; /* that the shows are read for */
static uint32_t now_us;
static int depth; /* inside callbacks */

static void free_unused(int sure) {
    for (int i = 0; i < BLOCKS; i++) {
        struct block *block = &blocks[i];
        if (block->memory != NULL && block->rig != rig && (sure || !glanz_device_uses(device, block->memory, block->size))) {
            memset(block->memory, 0xEE, block->size);
            free(block->memory);
            memset(block, 0, sizeof *block);
        }
    }
}

static struct block *free_block(void) {
    for (int i = 0; i < BLOCKS; i++) {
        if (blocks[i].memory == NULL) {
            return &blocks[i];
        }
    }
    return NULL;
}

/* A document with a few things drawn by lot; some cannot be. */
static void write_rig(char *text, size_t capacity) {
    snprintf(text, capacity,
             "{\"rig\":\"m\",\"supplies\":{\"s\":{\"volts\":\"5 V\",\"limit\":\"%u "
             "mA\"}},\"outputs\":{\"o\":{\"pin\":1,\"supply\":\"s\","
             "\"line\":[{\"chip\":\"%s\",\"leds\":%u}]},\"p\":{\"pin\":2,\"supply\":\"s\",\"line\":[{\"chip\":\"WS2812B\","
             "\"leds\":64}]}},"
             "\"surfaces\":{\"a\":{\"strip\":[{\"output\":\"o\",\"first\":0,\"leds\":%u}]},\"b\":{\"grid\":[{\"output\":\"p\","
             "\"first\":0,"
             "\"columns\":8,\"rows\":8}]}},\"inputs\":{\"key\":{\"button\":{\"pin\":9,\"pressed\":\"low\"}},\"dial\":{"
             "\"value\":{\"pin\":3}}%s}}",
             200u + draw(2000), draw(2) ? "WS2812B" : "SK6812-RGBW", 20u + draw(40), 20u + draw(25),
             draw(3) == 0 ? ",\"third\":{\"value\":{\"pin\":4}}" : "");
}

static void write_show(char *text, size_t capacity) {
    static const char *const effects[] = {"plain", "flow",   "fire",   "comet",     "twinkle",
                                          "rain",  "colony", "clouds", "breathing", "nothing"};
    const char *one = effects[draw(10)];
    const char *two = effects[draw(9)];
    snprintf(
        text, capacity,
        "{\"show\":\"m\",\"change\":\"%u ms\",%s\"looks\":{\"one\":{\"effect\":\"%s\"},\"two\":{\"effect\":\"%s\"},"
        "\"own\":{\"effect\":\"plain\",\"color\":\"#%06x\"}},\"segments\":{\"x\":{\"surface\":\"a\",\"leds\":10,\"look\":\"%"
        "s\"},"
        "\"y\":{\"surface\":\"b\",\"look\":\"%s\"}%s},\"presets\":{\"p\":{\"x\":\"two\"},\"q\":{\"y\":\"one\",\"x\":{\"on\":"
        "false}}},"
        "\"playlists\":{\"l\":{\"items\":[{\"preset\":\"p\",\"hold\":\"%u ms\"},{\"preset\":\"q\",\"hold\":\"300 ms\"}]}},"
        "\"triggers\":{\"t\":{\"when\":{\"button\":\"key\",\"is\":\"pressed\"},\"do\":[{\"recall\":\"p\"},{\"play\":\"l\"}]}}}",
        draw(900), draw(2) ? "\"resume\":true," : "", one, two, draw(0x1000000), draw(2) ? "one" : "two",
        draw(2) ? "two" : "own", draw(3) == 0 ? ",\"z\":{\"surface\":\"a\",\"first\":12,\"leds\":5,\"look\":\"own\"}" : "",
        50u + draw(2000));
}

static struct block *read_block(int of_rig) {
    char text[2000];
    struct glanz_fault fault;
    size_t used;
    struct block *block = free_block();
    if (block == NULL) {
        return NULL;
    }
    if (of_rig) {
        write_rig(text, sizeof text);
    } else {
        write_show(text, sizeof text);
    }
    size_t length = draw(8) == 0 ? draw((uint32_t)strlen(text)) : strlen(text); /* some are cut off */
    block->size = glanz_document_memory(text, length);
    block->memory = malloc(block->size);
    glanz_status status = of_rig ? glanz_rig_read(&block->rig, &used, block->memory, block->size, text, length, &fault)
                                 : glanz_show_read(&block->show, &used, block->memory, block->size, text, length, rig,
                                                   glanz_effects, NULL, 0, &fault);
    if (status != GLANZ_OK) {
        CHECK(fault.text[0] != '\0' && glanz_text_plain(fault.text));
        free(block->memory);
        memset(block, 0, sizeof *block);
        return NULL;
    }
    return block;
}

/* ---- an effect that is loaded and unloaded ---- */

static void call(void);

static uint8_t step(struct glanz_frame *now) {
    (void)now;
    if (draw(20) == 0) {
        call();
    }
    return draw(2) ? GLANZ_STEP_MOVES : 0;
}

static void shade(struct glanz_light *light, const struct glanz_frame *now, const glanz_place *place, uint8_t count) {
    (void)place;
    (void)now;
    memset(light, (int)draw(256), count * sizeof *light);
}

static uint32_t memory_of(const struct glanz_frame *now) {
    (void)now;
    return 3000;
}

static void show_own_effect(void) {
    struct block *block = free_block();
    struct glanz_look look;
    struct glanz_change change = {glanz_device_now(device), draw(3) * 300u, (uint8_t)draw(2)};
    if (block == NULL) {
        return;
    }
    block->size = sizeof *block->effect;
    block->memory = calloc(1, block->size);
    block->effect = (struct glanz_effect *)block->memory;
    block->effect->name = "own";
    block->effect->step = step;
    block->effect->shade = shade;
    block->effect->memory = draw(2) ? memory_of : NULL;
    memset(&look, 0, sizeof look);
    look.effect = block->effect;
    glanz_control_touch(glanz_device_control(device), 1u << draw(3), glanz_device_now(device));
    (void)(glanz_engine_look(glanz_device_engine(device), (uint8_t)draw(3), &look, change) == GLANZ_OK);
}

/* ---- port and flash ---- */

static uint8_t sending[400], copy[400];
static const uint8_t *sent_bytes;
static size_t sent_count;
static int busy_for;

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    (void)count;
    (void)sending;
    if (draw(50) == 0) {
        return GLANZ_ERR_PORT;
    }
    sent_bytes = list[0].bytes;
    sent_count = list[0].count < sizeof copy ? list[0].count : sizeof copy;
    memcpy(copy, sent_bytes, sent_count);
    busy_for = draw(30) == 0 ? (int)draw(200) : (int)draw(3);
    if (draw(30) == 0) {
        call();
    }
    return GLANZ_OK;
}

static int busy(void *user) {
    (void)user;
    if (busy_for > 0) {
        CHECK(memcmp(copy, sent_bytes, sent_count) == 0); /* what is being sent is not touched */
        busy_for--;
    }
    return busy_for > 0;
}

static void stop(void *user) {
    (void)user;
    busy_for = 0;
}

static uint32_t time_us(void *user) {
    (void)user;
    return now_us;
}

static void put_log(void *user, const char *line) {
    (void)user;
    CHECK(line != NULL);
    if (draw(10) == 0) {
        call();
    }
}

static struct glanz_port port = {2, NULL, start, busy, stop, put_log, time_us};
static struct glanz_nor nor;
static uint8_t flash[FLASH];
static uint64_t store_memory[1200];
static uint64_t values[200];
static uint64_t device_memory[40000];
static uint64_t queue_memory[400];

static void listen(const struct glanz_happening *happening, void *user) {
    (void)user;
    CHECK(happening->description <= GLANZ_HAPPENED_UNSAVED);
    if (draw(4) == 0) {
        call();
    }
}

static void paint(struct glanz_light *light, uint8_t output, uint16_t first, uint8_t count, void *user) {
    (void)output;
    (void)first;
    (void)user;
    memset(light, 0x40, count * sizeof *light);
    if (draw(40) == 0) {
        call();
    }
}

/* The power comes back. */
static void boot(void) {
    struct glanz_setup setup;
    struct glanz_fault fault;
    memset(&setup, 0, sizeof setup);
    nor.off = 0;
    nor.erasing = 0;
    nor.cut_at = draw(4) == 0 ? nor.operations + 1u + draw(400) : 0;
    nor.seed = draw(0);
    CHECK(glanz_store_start(&store, store_memory, sizeof store_memory, &nor.medium, GLANZ_DEVICE_RECORDS, GLANZ_RECORD_MOST) ==
          GLANZ_OK);
    memset(device_memory, (int)draw(256), sizeof device_memory);
    device = NULL;
    busy_for = 0;
    free_unused(1);
    struct block *show = NULL;
    while (show == NULL) {
        show = read_block(0);
    }
    setup.rig = rig;
    setup.show = show->show;
    setup.port = &port;
    setup.parts = &glanz_everything;
    setup.segment_capacity = 3;
    setup.fading = (uint8_t)draw(7); /* 0: as many as there can be; else some wait for others */
    setup.input_capacity = (uint8_t)(2u + draw(2));
    setup.input_capacity = setup.input_capacity < rig->input_count ? rig->input_count : setup.input_capacity;
    setup.effects = glanz_effects;
    setup.store = store;
    setup.values = values;
    setup.values_size = sizeof values;
    glanz_status status = glanz_device_start(&device, device_memory, sizeof device_memory, &setup, &fault);
    CHECK(status == GLANZ_OK);
    glanz_device_listen(device, listen, NULL);
    CHECK(glanz_queue_start(&queue, queue_memory, sizeof queue_memory, 4) == GLANZ_OK);
    CHECK(glanz_device_serve(device, queue) == GLANZ_OK);
}

/* ---- the calls ---- */

static const char *const names[] = {"a", "b", "preset", "p", "", "x\x01y", "a name that is by far too long for a preset", "ä"};

static void post(void) {
    static const struct glanz_command_kind *const kinds[] = {&glanz_command_act,    &glanz_command_recall, &glanz_command_save,
                                                             &glanz_command_rename, &glanz_command_copy,   &glanz_command_move,
                                                             &glanz_command_forget, &glanz_command_call};
    struct glanz_command command;
    uint16_t ticket;
    glanz_status answer;
    memset(&command, 0, sizeof command);
    command.kind = draw(20) == 0 ? NULL : kinds[draw(8)];
    snprintf(command.name, sizeof command.name, "%.31s", names[draw(8)]);
    snprintf(command.other, sizeof command.other, "%.31s", names[draw(8)]);
    command.segments = draw(0);
    command.aspects = (uint8_t)draw(64);
    command.replace = (uint8_t)draw(2);
    command.place = (uint8_t)draw(5);
    command.over_ms = draw(3) * 500u;
    command.action.kind = draw(16) == 0 ? NULL : glanz_actions[draw(15)];
    command.action.target = (uint8_t)draw(5);
    command.action.number = (uint16_t)draw(0);
    (void)(glanz_queue_post(queue, draw(30) == 0 ? NULL : &command, draw(2) ? &ticket : NULL) == GLANZ_OK);
    (void)(glanz_queue_answer(queue, (uint16_t)draw(2000), &answer) == GLANZ_OK);
    for (uint16_t i = 0; i < 8; i++) {
        (void)(glanz_queue_answer(queue, (uint16_t)(ticket - i), &answer) == GLANZ_OK);
    }
}

static void act(void) {
    struct glanz_action action;
    memset(&action, 0, sizeof action);
    action.kind = draw(16) == 0 ? NULL : glanz_actions[draw(15)];
    action.target = draw(8) == 0 ? (uint8_t)draw(256) : (uint8_t)draw(3);
    action.number = (uint16_t)(draw(2) ? draw(4) : draw(0));
    action.over_ms = draw(4) == 0 ? GLANZ_OWN_TIME : draw(3000);
    action.again = (uint8_t)draw(2);
    (void)(glanz_device_act(device, draw(50) == 0 ? NULL : &action) == GLANZ_OK);
}

static void take(void) {
    struct glanz_fault fault;
    if (draw(6) == 0) {
        struct block *block = read_block(1);
        GLANZ_CONST struct glanz_rig *was = rig;
        if (block != NULL) {
            rig = block->rig;
            struct block *show = read_block(0);
            glanz_status status =
                show == NULL ? GLANZ_ERR_SHOW : glanz_device_set_rig(device, rig, show->show, draw(2) * draw(3000), &fault);
            rig = status == GLANZ_OK ? rig : was;
        }
        return;
    }
    rig = glanz_device_rig(device);
    struct block *show = read_block(0);
    if (show != NULL) {
        (void)(glanz_device_set_show(device, show->show, draw(3) == 0 ? draw(3000) : 0, &fault) == GLANZ_OK);
    }
}

static void ask(void) {
    struct glanz_showing showing;
    struct glanz_light light[8];
    const uint8_t *bytes;
    size_t count;
    uint8_t item;
    char name[GLANZ_NAME_MOST + 1];
    struct glanz_engine *engine = glanz_device_engine(device);
    struct glanz_control *control = glanz_device_control(device);
    (void)(glanz_engine_showing(engine, (uint8_t)draw(5), &showing) == GLANZ_OK);
    (void)(glanz_engine_light(engine, (uint8_t)draw(4), (uint16_t)draw(80), light, (uint16_t)draw(9)) == GLANZ_OK);
    (void)(glanz_engine_bytes(engine, (uint8_t)draw(4), &bytes, &count) == GLANZ_OK);
    (void)glanz_engine_demand_ua(engine, (uint8_t)draw(4));
    (void)glanz_engine_supply_ua(engine, (uint8_t)draw(3));
    (void)glanz_control_playing(control, (uint8_t)draw(6), &item);
    (void)glanz_control_next(control);
    (void)glanz_control_undoable(control);
    (void)(glanz_device_saved(device, (uint8_t)draw(20), name) == GLANZ_OK);
    (void)glanz_device_trial_ms(device);
    (void)glanz_device_counts(device);
    (void)glanz_device_uses(device, (const uint8_t *)device_memory + draw(3000), draw(3000));
}

/* One call, from wherever. */
static void call(void) {
    struct glanz_change change = {glanz_device_now(device) + draw(2) * draw(2000000), draw(2) * draw(4000), (uint8_t)draw(2)};
    struct glanz_setting setting = {(uint8_t)draw(9), (uint8_t)draw(6), (int32_t)draw(0)};
    const char *name = names[draw(8)];
    if (device == NULL || depth > 2) {
        return;
    }
    depth++;
    calls++;
    switch (draw(24)) {
    case 0: act(); break;
    case 1:
        (void)(glanz_device_save(device, name, draw(2) ? UINT64_MAX : draw(8), (uint8_t)draw(64), (uint8_t)draw(2)) ==
               GLANZ_OK);
        break;
    case 2: (void)(glanz_device_recall(device, draw(20) == 0 ? NULL : name, draw(1000), NULL) == GLANZ_OK); break;
    case 3: (void)(glanz_device_forget(device, name) == GLANZ_OK); break;
    case 4: (void)(glanz_device_rename(device, name, names[draw(8)]) == GLANZ_OK); break;
    case 5: (void)(glanz_device_copy(device, name, draw(20) == 0 ? NULL : names[draw(8)]) == GLANZ_OK); break;
    case 6: (void)(glanz_device_move(device, name, (uint8_t)draw(5)) == GLANZ_OK); break;
    case 7:
    case 8:
        (void)glanz_device_push(device, (uint8_t)draw(4), (uint16_t)(draw(2) ? draw(2) : draw(0)), now_us - draw(30000));
        break;
    case 9: post(); break;
    case 10: ask(); break;
    case 11: (void)(glanz_engine_look(glanz_device_engine(device), (uint8_t)draw(4), NULL, change) == GLANZ_OK); break;
    case 12: (void)(glanz_engine_set(glanz_device_engine(device), (uint8_t)draw(4), setting, change) == GLANZ_OK); break;
    case 13:
        (void)(glanz_engine_brightness(glanz_device_engine(device), draw(2) ? GLANZ_ALL : (uint8_t)draw(5), (uint16_t)draw(0),
                                       change) == GLANZ_OK);
        break;
    case 14:
        (void)(glanz_engine_switch(glanz_device_engine(device), (uint8_t)draw(5), (uint8_t)draw(3), change) == GLANZ_OK);
        break;
    case 15: (void)(glanz_engine_paint(glanz_device_engine(device), draw(3) == 0 ? paint : NULL, NULL) == GLANZ_OK); break;
    case 16: (void)(glanz_device_utc(device, draw(0)) == GLANZ_OK); break;
    case 17: glanz_device_idle(device, draw(2) * draw(2000000)); break;
    case 18: (void)(glanz_device_keep(device) == GLANZ_OK); break;
    case 19: (void)(glanz_device_leave_safe(device) == GLANZ_OK); break;
    case 20: (void)glanz_device_frame(device, now_us); break;
    case 21: glanz_engine_settle(glanz_device_engine(device)); break;
    case 22:
        if (depth == 1) {
            take();
        }
        break;
    default:
        if (depth == 1) {
            show_own_effect();
        }
        break;
    }
    depth--;
}

/* What the store has confirmed is there after a restart. */
static void power_cut(void) {
    char before[GLANZ_SAVED_MOST][GLANZ_NAME_MOST + 1];
    char after[GLANZ_NAME_MOST + 1];
    uint8_t count = 0;
    int quiet = !glanz_device_saving(device) && !nor.off;
    while (count < GLANZ_SAVED_MOST && glanz_device_saved(device, count, before[count]) == GLANZ_OK) {
        count++;
    }
    do { /* the power may go again while the store is mended */
        boot();
    } while (nor.off);
    for (uint8_t i = 0; quiet && i < count; i++) {
        int found = 0;
        for (uint8_t k = 0; glanz_device_saved(device, k, after) == GLANZ_OK; k++) {
            found = found || strcmp(after, before[i]) == 0;
        }
        CHECK(found);
    }
}

int main(int argc, char **argv) {
    unsigned long wanted = argc > 1 ? strtoul(argv[1], NULL, 10) : 100000;
    first_seed = argc > 2 ? (uint32_t)strtoul(argv[2], NULL, 10) : (uint32_t)time(NULL);
    printf("monkey: seed %u\n", first_seed);
    fflush(stdout);
    seed = first_seed;
    memset(flash, 0xFF, sizeof flash);
    glanz_nor_begin(&nor, flash, 2048, 6, 4);
    nor.medium.program_us = 300;
    nor.medium.erase_us = 40000;
    struct block *first = NULL;
    while (first == NULL) {
        first = read_block(1);
    }
    rig = first->rig;
    boot();
    unsigned long frames = 0;
    unsigned long cuts = 0;
    while (calls < wanted) {
        for (uint32_t i = draw(6); i > 0; i--) {
            call();
            CHECK(depth == 0);
        }
        now_us += draw(10) == 0 ? draw(3000000) : 10000u;
        port.stop = draw(400) == 0 ? NULL : stop;
        nor.failing = draw(3) == 0 ? 5 : 0;
        glanz_status status = glanz_device_frame(device, now_us);
        CHECK(status == GLANZ_OK || status == GLANZ_ERR_BUSY || status == GLANZ_ERR_PORT || status == GLANZ_ERR_MEMORY ||
              status == GLANZ_ERR_ARGUMENT || status == GLANZ_ERR_ABSENT || status == GLANZ_ERR_SHOW ||
              status == GLANZ_ERR_STATE);
        frames++;
        rig = glanz_device_rig(device);
        free_unused(0);
        if (nor.off || draw(3000) == 0) {
            cuts++;
            power_cut();
        }
    }
    printf("%lu calls, %lu frames, %lu power cuts: nothing\n", calls, frames, cuts);
    device = NULL;
    rig = NULL;
    free_unused(1);
    return 0;
}
