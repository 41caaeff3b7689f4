/* SPDX-License-Identifier: MIT */
/* Nothing lost, nothing half done: inputs that flood, calls from callbacks, memory that is freed as soon as it may be, changes
 * that do not fit, commands with answers. */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <glanz/linux.h>

#include "files.h"
#include "stage.h"
#include "suites.h"

static struct stage stage;

#define BUTTON_RIG                                                                                                             \
    "{'rig':'t','supplies':{'s':{'volts':'5 "                                                                                  \
    "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':20}]}},"                                       \
    "'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':20}]}},"                                                         \
    "'inputs':{'key':{'button':{'pin':9,'pressed':'low'}},'dial':{'value':{'pin':3}}}}"
#define TWO_SEGMENTS "'segments':{'x':{'surface':'a','leds':10,'look':'red'},'y':{'surface':'a','first':10,'look':'red'}}"
#define LOOKS                                                                                                                  \
    "'looks':{'red':{'effect':'plain','color':'#ff0000'},'green':{'effect':'plain','color':'#00ff00'},"                        \
    "'drift':{'effect':'flow','palette':'ice floe'}}"

/* ---- inputs ---- */

static uint32_t seed;

static uint32_t draw(void) {
    seed = glanz_hash(seed + 1u);
    return seed;
}

/* Bursts of edges into a ring that holds few: in order, the newest last, and every one accounted for. */
START_TEST(bursts_keep_their_order_and_the_newest_wins) {
    uint64_t memory[64];
    struct glanz_inbox *inbox;
    ck_assert_int_eq(glanz_inbox_start(&inbox, memory, 8, 1), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_inbox_start(NULL, memory, sizeof memory, 1), GLANZ_ERR_ARGUMENT);
    stage_must_open(&stage, BUTTON_RIG, "{'show':'t'," LOOKS "," TWO_SEGMENTS "}");
    stage_run(&stage, 0, 1000000, 100);
    uint64_t now = 1000000;
    uint32_t lost = 0;
    seed = 5;
    for (int burst = 0; burst < 8000; burst++) {
        uint32_t edges = 1 + draw() % 40u;
        uint8_t level = 1;
        uint32_t refused = 0;
        stage.happened[0] = '\0';
        for (uint32_t i = 0; i < edges; i++) {
            level = i + 1 == edges ? (uint8_t)(burst & 1) : (uint8_t)(draw() & 1u);
            refused += glanz_device_push(stage.device, 0, level, (uint32_t)(now + i * 10u)) == GLANZ_ERR_FULL;
        }
        REQUIRE(refused == (edges > GLANZ_INBOX + 1u ? edges - GLANZ_INBOX - 1u : 0));
        lost += refused;
        now += 10000;
        REQUIRE(stage_frame(&stage, now) == GLANZ_OK);
        REQUIRE(glanz_device_counts(stage.device).lost == lost);
        now += 30000; /* contacts have settled: what counts is the level that came last */
        REQUIRE(stage_frame(&stage, now) == GLANZ_OK);
        stage.happened[0] = '\0';
        now += 800000;
        for (int i = 0; i < 4; i++) {
            REQUIRE(stage_frame(&stage, now + (uint64_t)i) == GLANZ_OK);
        }
        REQUIRE_MSG((strstr(stage.happened, "held") != NULL) == (level == 0), "burst %d ends at level %u: \"%s\"", burst, level,
                    stage.happened);
    }
    ck_assert_uint_gt(lost, 50000);
    printf("8,000 bursts of edges, %u lost and counted: all end in the level that came last\n", lost);
    for (int i = 0; i < 3000; i++) { /* far more than a byte counts */
        (void)glanz_device_push(stage.device, 1, (uint16_t)i, (uint32_t)now);
    }
    REQUIRE(stage_frame(&stage, now + 10000) == GLANZ_OK);
    ck_assert_uint_eq(glanz_device_counts(stage.device).lost, lost + 3000u - GLANZ_INBOX - 1u);
    stage_close(&stage);
}
END_TEST

/* ---- callbacks ---- */

struct inside { /* what is called from inside a callback, and what it says */
    struct stage *stage;
    struct glanz_queue *queue;
    glanz_status status[32];
    unsigned calls, depth, posted;
    int of_medium;
};
static struct inside inside;

static void call_everything(void) {
    struct glanz_action action;
    struct glanz_setting setting = {0, 0, 0};
    struct glanz_change change = {0, 0, 0};
    struct glanz_fault fault;
    struct glanz_light light;
    uint8_t shaded;
    struct glanz_device *device = inside.depth != 0 || inside.stage == NULL ? NULL : inside.stage->device;
    struct glanz_engine *engine = glanz_device_engine(device);
    struct glanz_control *control = glanz_device_control(device);
    memset(&action, 0, sizeof action);
    action.kind = &glanz_action_switch;
    action.number = 2;
    unsigned n = 0;
    if (device == NULL) { /* at the start there is none yet */
        return;
    }
    inside.depth++;
    inside.status[n++] = glanz_device_frame(device, 0);
    inside.status[n++] = glanz_device_act(device, &action);
    inside.status[n++] = glanz_device_set_show(device, inside.stage->show, 0, &fault);
    inside.status[n++] = glanz_device_set_rig(device, inside.stage->rig, inside.stage->show, 0, &fault);
    inside.status[n++] = glanz_device_keep(device);
    inside.status[n++] = glanz_device_save(device, "x", 1, GLANZ_ASPECTS, 1);
    inside.status[n++] = glanz_device_recall(device, "p", 0, NULL);
    inside.status[n++] = glanz_device_forget(device, "x");
    inside.status[n++] = glanz_device_rename(device, "x", "y");
    inside.status[n++] = glanz_device_copy(device, "x", "y");
    inside.status[n++] = glanz_device_move(device, "x", 0);
    inside.status[n++] = glanz_device_utc(device, 1800000000u);
    inside.status[n++] = glanz_device_leave_safe(device);
    inside.status[n++] = glanz_device_serve(device, inside.queue);
    inside.status[n++] = glanz_device_set(device, "s", "speed", 1, GLANZ_UNIT_NONE, 0, &fault);
    inside.status[n++] = glanz_device_set_color(device, "s", "color", 1, 0, &fault);
    inside.status[n++] = glanz_device_set_palette(device, "s", &glanz_gradient_standard, 0, &fault);
    inside.status[n++] = glanz_device_set_content(device, "s", &inside, 0, &fault);
    if (glanz_engine_inside(engine)) {
        inside.status[n++] = glanz_engine_look(engine, 0, NULL, change);
        inside.status[n++] = glanz_engine_set(engine, 0, setting, change);
        inside.status[n++] = glanz_engine_brightness(engine, 0, 0, change);
        inside.status[n++] = glanz_engine_switch(engine, 0, 0, change);
        inside.status[n++] = glanz_engine_paint(engine, NULL, NULL);
        inside.status[n++] = glanz_engine_frame(engine, 0, 1, &shaded);
        inside.status[n++] = glanz_engine_light(engine, 0, 0, &light, 1);
        inside.status[n++] = glanz_control_act(control, &action, 0);
    }
    if (inside.of_medium) {
        uint8_t byte = 0;
        size_t count;
        inside.status[n++] = glanz_store_load(inside.stage->store, 1, &byte, 1, &count);
        inside.status[n++] = glanz_store_save(inside.stage->store, 1, &byte, 1);
        inside.status[n++] = glanz_store_work(inside.stage->store, 0);
        inside.of_medium = 0;
    }
    glanz_device_idle(device, 1000000);
    for (unsigned i = 0; i < n; i++) {
        REQUIRE_MSG(inside.status[i] == GLANZ_ERR_STATE, "call %u from inside a callback: %s", i,
                    glanz_status_name(inside.status[i]));
    }
    (void)glanz_device_now(device); /* what only tells may be asked */
    (void)glanz_device_counts(device);
    (void)glanz_device_uses(device, &action, sizeof action);
    struct glanz_showing showing;
    (void)(glanz_engine_showing(engine, 0, &showing) == GLANZ_OK);
    (void)glanz_device_push(device, 1, 5, inside.stage->now_us);
    inside.depth--;
    inside.calls++;
}

static void listens(const struct glanz_happening *happening, void *user) {
    (void)happening;
    (void)user;
    call_everything();
    if (inside.posted < 3) { /* what is wanted is posted */
        struct glanz_command command;
        memset(&command, 0, sizeof command);
        command.kind = &glanz_command_act;
        command.action.kind = &glanz_action_switch;
        command.action.target = 1;
        inside.posted += glanz_queue_post(inside.queue, &command, NULL) == GLANZ_OK;
    }
}

static void paints(struct glanz_light *light, uint8_t output, uint16_t first, uint8_t count, void *user) {
    (void)output;
    (void)first;
    (void)user;
    memset(light, 0x11, count * sizeof *light);
    call_everything();
}

static uint8_t steps(struct glanz_frame *now) {
    (void)now;
    call_everything();
    return GLANZ_STEP_MOVES;
}

static void shades(struct glanz_light *light, const struct glanz_frame *now, const glanz_place *place, uint8_t count) {
    (void)place;
    (void)now;
    memset(light, 0x22, count * sizeof *light);
    call_everything();
}

static glanz_status starts(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    (void)list;
    (void)count;
    call_everything();
    return GLANZ_OK;
}

static int is_busy(void *user) {
    (void)user;
    call_everything();
    return 0;
}

static void logs(void *user, const char *line) {
    (void)user;
    (void)line;
    call_everything();
}

static glanz_status (*own_load)(void *user, uint16_t key, uint8_t *bytes, size_t capacity, size_t *count);
static glanz_status loads(void *user, uint16_t key, uint8_t *bytes, size_t capacity, size_t *count) {
    inside.of_medium = 1;
    call_everything();
    return own_load(user, key, bytes, capacity, count);
}

static glanz_status (*own_save)(void *user, uint16_t key, const uint8_t *bytes, size_t count);
static glanz_status saves(void *user, uint16_t key, const uint8_t *bytes, size_t count) {
    inside.of_medium = 1;
    call_everything();
    return own_save(user, key, bytes, count);
}

static struct glanz_effect own_effect(void) {
    struct glanz_effect effect;
    memset(&effect, 0, sizeof effect);
    effect.name = "own";
    effect.version = GLANZ_EFFECT_VERSION;
    effect.step = steps;
    effect.shade = shades;
    return effect;
}

START_TEST(every_call_from_every_callback_is_a_status) {
    static uint64_t queue_memory[400];
    static struct glanz_effect effect;
    static struct glanz_look look;
    struct glanz_change change = {0, 0, 0};
    effect = own_effect();
    memset(&look, 0, sizeof look);
    look.name = "own";
    look.effect = &effect;
    memset(&inside, 0, sizeof inside);
    stage_must_open(&stage, BUTTON_RIG,
                    "{'show':'t','change':'0 s'," LOOKS "," TWO_SEGMENTS ",'presets':{'p':{'x':'green'}},"
                    "'triggers':{'t':{'when':{'button':'key','is':'pressed'},'do':[{'recall':'p'}]}}}");
    inside.stage = &stage;
    ck_assert_int_eq(glanz_queue_start(&inside.queue, queue_memory, sizeof queue_memory, 4), GLANZ_OK);
    ck_assert_int_eq(glanz_device_serve(stage.device, inside.queue), GLANZ_OK);
    own_load = stage.medium.load;
    own_save = stage.medium.save;
    stage.medium.load = loads;
    stage.medium.save = saves;
    stage.port.start = starts;
    stage.port.busy = is_busy;
    stage.port.log = logs;
    stage_run(&stage, 0, 500000, 100);
    unsigned from_port = inside.calls;
    ck_assert_uint_gt(from_port, 50);
    glanz_device_listen(stage.device, listens, NULL);
    ck_assert_int_eq(glanz_device_push(stage.device, 0, 0, 500000), GLANZ_OK);
    stage_run(&stage, 500000, 600000, 100);
    ck_assert_uint_gt(inside.posted, 0);
    struct glanz_showing showing;
    ck_assert_int_eq(glanz_engine_showing(glanz_device_engine(stage.device), 0, &showing), GLANZ_OK);
    ck_assert_str_eq(showing.name, "green"); /* the trigger was not disturbed */
    ck_assert_int_eq(glanz_engine_showing(glanz_device_engine(stage.device), 1, &showing), GLANZ_OK);
    ck_assert_uint_eq(showing.on, 0); /* and what was posted was done after it */
    ck_assert_int_eq(glanz_device_save(stage.device, "kept", UINT64_MAX, GLANZ_ASPECTS, 1), GLANZ_OK);
    ck_assert_int_eq(glanz_device_recall(stage.device, "kept", 0, NULL), GLANZ_OK);
    ck_assert_int_eq(inside.of_medium, 0);
    unsigned before = inside.calls;
    ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 0, &look, change), GLANZ_OK);
    stage_run(&stage, 600000, 700000, 100);
    ck_assert_uint_gt(inside.calls, before + 20);
    before = inside.calls;
    ck_assert_int_eq(glanz_engine_paint(glanz_device_engine(stage.device), paints, NULL), GLANZ_OK);
    stage_run(&stage, 700000, 800000, 100);
    ck_assert_uint_gt(inside.calls, before + 10);
    stage.port.log = NULL;
    inside.depth = 1;
    stage_close(&stage);
}
END_TEST

/* ---- memory that was lent ---- */

/* A look of the program's own: it says when it may go, not before nor later. */
START_TEST(own_looks_are_used_until_nothing_can_bring_them_back) {
    struct glanz_change change = {0, 0, 0};
    struct glanz_look *look = (struct glanz_look *)calloc(1, sizeof *look);
    struct glanz_effect *effect = (struct glanz_effect *)calloc(1, sizeof *effect);
    char *name = strdup("own");
    stage_must_open(&stage, BUTTON_RIG, "{'show':'t','change':'0 s'," LOOKS "," TWO_SEGMENTS "}");
    stage_run(&stage, 0, 100000, 100);
    memset(&inside, 0, sizeof inside);
    inside.depth = 1; /* nothing is called from it here */
    *effect = own_effect();
    look->name = name;
    look->effect = effect;
    stage_do(&stage, "{'look':'green','segment':'x'}");
    glanz_control_touch(glanz_device_control(stage.device), 1, glanz_device_now(stage.device));
    ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 0, look, change), GLANZ_OK);
    stage_run(&stage, 100000, 200000, 100);
    ck_assert(!glanz_device_uses(stage.device, look, sizeof *look)); /* copied */
    ck_assert(glanz_device_uses(stage.device, effect, sizeof *effect) && glanz_device_uses(stage.device, name, 4));
    free(look);
    stage_do(&stage, "{'look':'red','segment':'x'}"); /* replaced, but an undo would bring it back */
    stage_run(&stage, 200000, 300000, 100);
    ck_assert(glanz_device_uses(stage.device, effect, sizeof *effect) && glanz_device_uses(stage.device, name, 4));
    stage_do(&stage, "{'undo':true}");
    stage_run(&stage, 300000, 400000, 100);
    ck_assert(glanz_device_uses(stage.device, effect, sizeof *effect));
    for (int i = 0; i < GLANZ_UNDO + 1; i++) { /* changed so often that no undo goes back to it */
        stage_do(&stage, i % 2 == 0 ? "{'look':'red','segment':'x'}" : "{'look':'green','segment':'x'}");
    }
    stage_run(&stage, 400000, 500000, 100);
    ck_assert(!glanz_device_uses(stage.device, effect, sizeof *effect) && !glanz_device_uses(stage.device, name, 4));
    memset(effect, 0xEE, sizeof *effect);
    free(effect);
    free(name);
    for (int i = 0; i < GLANZ_UNDO + 2; i++) {
        struct glanz_action undo;
        memset(&undo, 0, sizeof undo);
        undo.kind = &glanz_action_undo;
        (void)(glanz_device_act(stage.device, &undo) == GLANZ_OK);
        stage_run(&stage, 500000 + (uint64_t)i * 100000u, 600000 + (uint64_t)i * 100000u, 100);
    }
    ck_assert(glanz_device_uses(stage.device, stage.show_memory[0], stage.show_size[0]));
    ck_assert(glanz_device_uses(stage.device, &stage.port, sizeof stage.port));
    stage_close(&stage);
}
END_TEST

/* Every list that a rig and a show name is found by the walk, and so is nothing beside it. */
START_TEST(every_byte_that_is_named_is_used) {
    struct document rig;
    struct document show;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text;
    ck_assert(text_read(&text, "demo/rig.json") && document_rig(&rig, text, &fault) == GLANZ_OK);
    ck_assert(text_read(&text, "demo/show.json") && document_show(&show, text, rig.rig, NULL, &fault) == GLANZ_OK);
    size_t used[2] = {0, 0};
    for (size_t at = 0; at < rig.memory_size; at++) {
        used[0] += glanz_rig_uses(rig.rig, (uint8_t *)rig.memory + at, 1) != 0;
        ck_assert(!glanz_show_uses(show.show, (uint8_t *)rig.memory + at, 1));
    }
    for (size_t at = 0; at < show.memory_size; at++) {
        used[1] += glanz_show_uses(show.show, (uint8_t *)show.memory + at, 1) != 0;
    }
    const void *const lists[] = {show.show,
                                 show.show->colors,
                                 show.show->palettes,
                                 show.show->looks,
                                 show.show->segments,
                                 show.show->stack,
                                 show.show->presets,
                                 show.show->playlists,
                                 show.show->triggers,
                                 show.show->entries,
                                 show.show->pictures,
                                 show.show->presets->parts,
                                 show.show->playlists->items,
                                 show.show->looks->settings};
    for (size_t i = 0; i < sizeof lists / sizeof lists[0]; i++) {
        REQUIRE_MSG(lists[i] == NULL || glanz_show_uses(show.show, lists[i], 1), "list %zu", i);
    }
    ck_assert(glanz_rig_uses(rig.rig, rig.rig->outputs, 1) && glanz_rig_uses(rig.rig, rig.rig->surfaces->pieces, 1) &&
              glanz_rig_uses(rig.rig, rig.rig->inputs->name, 1) && glanz_rig_uses(rig.rig, rig.rig->zone, 1));
    ck_assert(!glanz_rig_uses(NULL, rig.memory, 9) && !glanz_rig_uses(rig.rig, NULL, 9) &&
              !glanz_rig_uses(rig.rig, rig.memory, 0));
    ck_assert(!glanz_show_uses(NULL, rig.memory, 9) && !glanz_show_uses(show.show, NULL, 9) &&
              !glanz_show_uses(show.show, show.memory, 0));
    ck_assert(!glanz_control_uses(NULL, rig.memory, 9) && !glanz_device_uses(NULL, rig.memory, 9));
    printf("of the demo %zu bytes of the rig and %zu of the show are named\n", used[0], used[1]);
    ck_assert(used[0] > 500 && used[1] > 4000);
    document_free(&show);
    document_free(&rig);
}
END_TEST

static uint32_t much(const struct glanz_frame *now) {
    (void)now;
    return 60000;
}

/* A show that does not fit beside what a program shows by itself: refused, and all goes on as before. */
START_TEST(a_show_that_does_not_fit_changes_nothing) {
    static struct glanz_effect effect;
    static struct glanz_look big;
    struct glanz_change change = {0, 0, 0};
    effect = own_effect();
    effect.memory = much;
    memset(&inside, 0, sizeof inside);
    inside.depth = 1;
    memset(&big, 0, sizeof big);
    big.name = "big";
    big.effect = &effect;
    static const char first[] =
        "{'show':'t','change':'0 s','looks':{'red':{'effect':'plain','color':'#ff0000'},'blaze':{'effect':'fire'}},"
        "'segments':{'x':{'surface':'a','leds':10,'look':'red'},'y':{'surface':'a','first':10,'look':'red'}}}";
    stage_must_open(&stage, BUTTON_RIG, first);
    stage_run(&stage, 0, 1500000, 100);
    ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 0, &big, change), GLANZ_OK);
    stage_run(&stage, 1500000, 1600000, 100);
    size_t capacity = glanz_engine_memory(glanz_device_engine(stage.device), GLANZ_ALL);
    size_t held = glanz_engine_memory(glanz_device_engine(stage.device), 0);
    ck_assert_uint_eq(held, 60000);
    /* fill what is left, so that not even a small fire fits */
    glanz_status status = glanz_engine_look(glanz_device_engine(stage.device), 1, &big, change);
    ck_assert_int_eq(status, capacity >= 120000 ? GLANZ_OK : GLANZ_ERR_MEMORY);
    struct glanz_show hungry = *stage.show;
    struct glanz_segment segments[2] = {stage.show->segments[0], stage.show->segments[1]};
    struct glanz_look more = {"more", &effect, NULL, NULL, NULL, 0, 0, 0, NULL};
    segments[1].look = &more;
    hungry.segments = segments;
    GLANZ_CONST struct glanz_show *before = glanz_device_show(stage.device);
    uint32_t hash = stage.hash;
    ck_assert_int_eq(glanz_device_set_show(stage.device, &hungry, 0, &stage.fault), GLANZ_ERR_MEMORY);
    ck_assert_uint_gt(stage.fault.needed, 0);
    ck_assert_ptr_eq(glanz_device_show(stage.device), before);
    ck_assert(!glanz_device_uses(stage.device, &hungry, sizeof hungry) &&
              !glanz_device_uses(stage.device, segments, sizeof segments));
    ck_assert_uint_eq(stage.hash, hash);
    struct glanz_showing showing; /* a preset that does not fit is not half shown either */
    struct glanz_part parts[2] = {{.segment = 0, .aspects = GLANZ_ASPECT_BRIGHTNESS, .brightness = 9000},
                                  {.segment = 1, .aspects = GLANZ_ASPECT_LOOK, .look = &more}};
    struct glanz_preset preset = {"both", parts, 2};
    struct glanz_show with = *stage.show;
    with.presets = &preset;
    with.preset_count = 1;
    if (capacity < 120000) {
        struct glanz_action recall;
        memset(&recall, 0, sizeof recall);
        recall.kind = &glanz_action_recall;
        glanz_status taken = glanz_device_set_show(stage.device, &with, 0, &stage.fault);
        ck_assert(taken == GLANZ_OK || taken == GLANZ_ERR_MEMORY);
        if (taken == GLANZ_OK) {
            ck_assert_int_eq(glanz_device_act(stage.device, &recall), GLANZ_ERR_MEMORY);
            ck_assert_int_eq(glanz_engine_showing(glanz_device_engine(stage.device), 0, &showing), GLANZ_OK);
            ck_assert_uint_ne(showing.brightness, 9000);
            ck_assert_uint_eq(glanz_control_undoable(glanz_device_control(stage.device)), 0);
            ck_assert_int_eq(glanz_device_set_show(stage.device, stage.show, 0, &stage.fault), GLANZ_OK);
        }
    }
    stage_do(&stage, "{'look':'red','segment':'x'}"); /* the controller still has the old show */
    stage_run(&stage, 1600000, 1700000, 100);
    ck_assert_uint_eq(stage_led(&stage, 0, 3, 0), stage_led(&stage, 0, 13, 0));
    stage_close(&stage);
}
END_TEST

START_TEST(a_show_on_trial_goes_back) {
    static const char red[] = "{'show':'one','brightness':'100 %','change':'0 s'," LOOKS "," TWO_SEGMENTS "}";
    stage_must_open(&stage, BUTTON_RIG, red);
    struct stage *other = (struct stage *)calloc(1, sizeof *other);
    stage_must_open(
        other, BUTTON_RIG,
        "{'show':'two','brightness':'100 %','change':'0 s'," LOOKS
        ",'segments':{'x':{'surface':'a','leds':10,'look':'green'},'y':{'surface':'a','first':10,'look':'green'}}}");
    stage_run(&stage, 0, 1500000, 100);
    ck_assert_int_eq(glanz_device_set_show(stage.device, other->show, 2000, NULL), GLANZ_OK);
    ck_assert(glanz_device_uses(stage.device, stage.show, sizeof *stage.show)); /* it may come back */
    stage_run(&stage, 1500000, 3400000, 100);
    ck_assert_uint_eq(stage_led(&stage, 0, 3, 1), 255);
    ck_assert_uint_gt(glanz_device_trial_ms(stage.device), 0);
    stage_run(&stage, 3400000, 3600000, 100);
    ck_assert_uint_eq(stage_led(&stage, 0, 3, 0), 255);
    ck_assert_uint_eq(stage_led(&stage, 0, 3, 1), 0);
    ck_assert_ptr_eq(glanz_device_show(stage.device), stage.show);
    ck_assert(!glanz_device_uses(stage.device, other->show, sizeof *other->show));
    ck_assert_int_eq(glanz_device_keep(stage.device), GLANZ_ERR_STATE);
    ck_assert_int_eq(glanz_device_set_show(stage.device, other->show, 2000, NULL), GLANZ_OK); /* and kept */
    stage_run(&stage, 3600000, 3700000, 100);
    ck_assert_int_eq(glanz_device_keep(stage.device), GLANZ_OK);
    stage_run(&stage, 3700000, 7000000, 100);
    ck_assert_uint_eq(stage_led(&stage, 0, 3, 1), 255);
    ck_assert(!glanz_device_uses(stage.device, stage.show, sizeof *stage.show));
    stage_close(other);
    free(other);
    stage_close(&stage);
}
END_TEST

START_TEST(undo_of_a_palette_leaves_the_look_alone) {
    struct glanz_showing showing;
    stage_must_open(
        &stage, BUTTON_RIG,
        "{'show':'t','change':'0 s','palettes':{'sea':{'stops':[{'at':'0 %','color':'#0000ff'},{'at':'100 "
        "%','color':'#00ffff'}]},'sun':{'stops':[{'at':'0 %','color':'#ff0000'},{'at':'100 %','color':'#ffff00'}]}},"
        "'looks':{'a':{'effect':'flow','palette':'sea'},'b':{'effect':'flow','palette':'sea','span':'50 %'},"
        "'red':{'effect':'plain','color':'#ff0000'}},"
        "'segments':{'x':{'surface':'a','look':'a'}},'presets':{'warm':{'x':{'palette':'sun'}}}}");
    stage_run(&stage, 0, 100000, 100);
    stage_do(&stage, "{'recall':'warm'}");
    stage_run(&stage, 100000, 200000, 100);
    struct glanz_change change = {200000, 0, 0};
    ck_assert_int_eq(glanz_engine_look(glanz_device_engine(stage.device), 0, &stage.show->looks[1], change), GLANZ_OK);
    stage_do(&stage, "{'undo':true}");
    ck_assert_int_eq(glanz_engine_showing(glanz_device_engine(stage.device), 0, &showing), GLANZ_OK);
    ck_assert_str_eq(showing.name, "b"); /* not the look of before */
    ck_assert_ptr_eq(showing.gradient, stage.show->looks[0].gradient);
    stage_close(&stage);
}
END_TEST

START_TEST(null_lists_are_refused) {
    stage_must_open(
        &stage, BUTTON_RIG,
        "{'show':'t','palettes':{'sea':{'stops':[{'at':'0 %','color':'#0000ff'},{'at':'100 %','color':'#00ffff'}]}}," LOOKS
        "," TWO_SEGMENTS ",'presets':{'p':{'x':'green'}},'playlists':{'l':{'items':[{'preset':'p','hold':'1 s'}]}},"
        "'triggers':{'t':{'when':{'button':'key','is':'pressed'},'do':[{'recall':'p'}]}}}");
    struct glanz_fault fault;
    for (int which = 0; which < 9; which++) {
        struct glanz_show show = *stage.show;
        struct glanz_preset preset = show.presets[0];
        struct glanz_playlist list = show.playlists[0];
        struct glanz_trigger trigger = show.triggers[0];
        switch (which) {
        case 0: show.palettes = NULL; break;
        case 1: show.looks = NULL; break;
        case 2: show.segments = NULL; break;
        case 3: show.presets = NULL; break;
        case 4: show.playlists = NULL; break;
        case 5: show.triggers = NULL; break;
        case 6:
            preset.parts = NULL;
            show.presets = &preset;
            break;
        case 7:
            list.items = NULL;
            show.playlists = &list;
            break;
        default:
            trigger.actions = NULL;
            show.triggers = &trigger;
            break;
        }
        ck_assert_int_eq(glanz_show_check(&show, stage.rig, &fault), GLANZ_ERR_SHOW);
        ck_assert(strstr(fault.text, "NULL") != NULL);
        ck_assert_int_eq(glanz_device_set_show(stage.device, &show, 0, &fault), GLANZ_ERR_SHOW);
    }
    struct glanz_look look = stage.show->looks[0];
    look.settings = NULL;
    look.setting_count = 3;
    ck_assert_int_eq(glanz_look_check(&look, &fault), GLANZ_ERR_SHOW);
    stage_close(&stage);
}
END_TEST

/* A sending that never ends, on a port that cannot stop it: its bytes are left alone. */
START_TEST(bytes_that_are_being_sent_are_never_touched) {
    stage_must_open(&stage, BUTTON_RIG, "{'show':'t'," LOOKS ",'segments':{'x':{'surface':'a','look':'drift'}}}");
    stage.port.stop = NULL;
    stage_run(&stage, 0, 500000, 100);
    const uint8_t *bytes;
    size_t count;
    uint8_t copy[100];
    stage.busy = 1;
    (void)stage_frame(&stage, 510000);
    ck_assert_int_eq(glanz_engine_bytes(glanz_device_engine(stage.device), 0, &bytes, &count), GLANZ_OK);
    memcpy(copy, bytes, count);
    uint32_t sent = glanz_device_counts(stage.device).sent;
    unsigned told = 0;
    for (uint64_t now = 520000; now < 5000000; now += 10000) {
        told += stage_frame(&stage, now) == GLANZ_ERR_PORT;
        REQUIRE(memcmp(copy, bytes, count) == 0);
    }
    ck_assert_uint_eq(glanz_device_counts(stage.device).sent, sent);
    ck_assert_uint_gt(told, 5);
    ck_assert_uint_eq(glanz_device_counts(stage.device).stuck, told);
    stage.busy = 0; /* it has ended after all: everything goes on */
    stage_run(&stage, 5000000, 5200000, 100);
    ck_assert_uint_gt(glanz_device_counts(stage.device).sent, sent + 5);
    stage_close(&stage);
}
END_TEST

/* ---- commands with answers ---- */

static glanz_status switches_off(struct glanz_device *device, void *user) {
    struct glanz_change change = {glanz_device_now(device), 0, 0};
    ++*(int *)user;
    return glanz_engine_switch(glanz_device_engine(device), 0, 0, change);
}

static uint16_t post(struct glanz_queue *queue, const struct glanz_command_kind *kind, const char *name, const char *other) {
    struct glanz_command command;
    uint16_t ticket = 0;
    memset(&command, 0, sizeof command);
    command.kind = kind;
    command.segments = UINT64_MAX;
    command.aspects = GLANZ_ASPECTS;
    command.replace = 1;
    command.over_ms = GLANZ_OWN_TIME;
    strcpy(command.name, name);
    strcpy(command.other, other);
    REQUIRE(glanz_queue_post(queue, &command, &ticket) == GLANZ_OK);
    return ticket;
}

START_TEST(commands_are_done_in_order_and_answered) {
    static uint64_t memory[2000];
    struct glanz_queue *queue;
    struct glanz_queue *tight;
    glanz_status answer;
    int called = 0;
    ck_assert_int_eq(glanz_queue_start(&queue, memory, 100, 12), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_queue_start(&queue, memory, sizeof memory, 0), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_queue_start(&queue, memory, sizeof memory, 12), GLANZ_OK);
    stage_must_open(&stage, BUTTON_RIG, "{'show':'t','change':'0 s'," LOOKS "," TWO_SEGMENTS ",'presets':{'p':{'x':'green'}}}");
    ck_assert_int_eq(glanz_device_serve(stage.device, queue), GLANZ_OK);
    ck_assert_int_eq(glanz_device_serve(stage.device, queue), GLANZ_ERR_STATE);
    stage_run(&stage, 0, 100000, 100);
    uint16_t save = post(queue, &glanz_command_save, "one", "");
    uint16_t recall = post(queue, &glanz_command_recall, "p", "");
    uint16_t nobody = post(queue, &glanz_command_recall, "nobody", "");
    struct glanz_command call;
    uint16_t ticket;
    memset(&call, 0, sizeof call);
    call.kind = &glanz_command_call;
    call.call = switches_off;
    call.user = &called;
    ck_assert_int_eq(glanz_queue_post(queue, &call, &ticket), GLANZ_OK);
    ck_assert_int_eq(glanz_queue_answer(queue, save, &answer), GLANZ_ERR_BUSY);
    stage_run(&stage, 100000, 400000, 100);
    ck_assert_int_eq(glanz_queue_answer(queue, save, &answer), GLANZ_OK);
    ck_assert_int_eq(answer, GLANZ_OK);
    ck_assert_int_eq(glanz_queue_answer(queue, save, &answer), GLANZ_ERR_ABSENT); /* taken */
    ck_assert_int_eq(glanz_queue_answer(queue, recall, &answer), GLANZ_OK);
    ck_assert_int_eq(answer, GLANZ_OK);
    ck_assert_int_eq(glanz_queue_answer(queue, nobody, &answer), GLANZ_OK);
    ck_assert_int_eq(answer, GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_queue_answer(queue, ticket, &answer), GLANZ_OK);
    ck_assert(answer == GLANZ_OK && called == 1);
    /* names: copied, renamed, moved, forgotten */
    uint16_t tickets[4] = {post(queue, &glanz_command_copy, "one", "two"), post(queue, &glanz_command_rename, "one", "three"),
                           post(queue, &glanz_command_move, "three", ""), post(queue, &glanz_command_forget, "two", "")};
    stage_run(&stage, 400000, 1400000, 100);
    for (int i = 0; i < 4; i++) {
        ck_assert_int_eq(glanz_queue_answer(queue, tickets[i], &answer), GLANZ_OK);
        ck_assert_int_eq(answer, GLANZ_OK);
    }
    char name[GLANZ_NAME_MOST + 1];
    ck_assert_int_eq(glanz_device_saved(stage.device, 0, name), GLANZ_OK);
    ck_assert_str_eq(name, "three");
    ck_assert_int_eq(glanz_device_saved(stage.device, 1, name), GLANZ_ERR_ABSENT);
    /* bounded; a store that fails is told */
    static uint64_t small[200];
    ck_assert_int_eq(glanz_queue_start(&tight, small, sizeof small, 2), GLANZ_OK);
    ck_assert_int_eq(glanz_device_serve(stage.device, tight), GLANZ_OK);
    uint16_t first = post(tight, &glanz_command_recall, "p", "");
    (void)post(tight, &glanz_command_recall, "p", "");
    ck_assert_int_eq(glanz_queue_post(tight, &call, NULL), GLANZ_ERR_FULL);
    stage_run(&stage, 1400000, 1500000, 100);
    ck_assert_int_eq(glanz_queue_post(tight, &call, NULL), GLANZ_ERR_FULL); /* answers are not taken */
    ck_assert_int_eq(glanz_queue_answer(tight, first, &answer), GLANZ_OK);
    ck_assert_int_eq(glanz_queue_post(tight, &call, NULL), GLANZ_OK);
    ck_assert_int_eq(glanz_queue_post(tight, NULL, NULL), GLANZ_ERR_ARGUMENT);
    stage.store_full = 1;
    stage_run(&stage, 1500000, 20000000, 20);
    uint16_t full = post(queue, &glanz_command_save, "four", "");
    stage_run(&stage, 20000000, 21000000, 100);
    ck_assert_int_eq(glanz_queue_answer(queue, full, &answer), GLANZ_OK);
    ck_assert_int_eq(answer, GLANZ_ERR_FULL);
    stage_close(&stage);
}
END_TEST

/* A client that saves without end: the flash is spared, and it is told of each. */
START_TEST(saves_by_commands_are_merged_and_rationed) {
    static uint64_t memory[3000];
    struct glanz_queue *queue;
    glanz_status answer;
    ck_assert_int_eq(glanz_queue_start(&queue, memory, sizeof memory, 16), GLANZ_OK);
    stage_must_open(&stage, BUTTON_RIG, "{'show':'t','change':'0 s'," LOOKS "," TWO_SEGMENTS "}");
    ck_assert_int_eq(glanz_device_serve(stage.device, queue), GLANZ_OK);
    stage_run(&stage, 0, 100000, 100);
    unsigned before = stage.saves;
    uint16_t tickets[16];
    for (int i = 0; i < 16; i++) {
        tickets[i] = post(queue, &glanz_command_save, "same", "");
    }
    stage_run(&stage, 100000, 1000000, 100);
    for (int i = 0; i < 16; i++) {
        ck_assert_int_eq(glanz_queue_answer(queue, tickets[i], &answer), GLANZ_OK);
        ck_assert_int_eq(answer, GLANZ_OK);
    }
    ck_assert_uint_eq(stage.saves, before + 1);
    before = stage.saves;
    unsigned posted = 0;
    uint16_t last = 0;
    for (uint64_t now = 1000000; now < 601000000; now += 50000) { /* ten minutes, another name each time */
        char name[8];
        snprintf(name, sizeof name, "n%u", posted % 12u);
        if (last == 0 || glanz_queue_answer(queue, last, &answer) == GLANZ_OK) {
            last = post(queue, &glanz_command_save, name, "");
            stage_do(&stage, posted % 24u < 12u ? "{'look':'green','segment':'x'}" : "{'look':'red','segment':'x'}");
            posted++;
        }
        (void)stage_frame(&stage, now);
    }
    printf("ten minutes of saving without end: %u saves\n", stage.saves - before);
    ck_assert_uint_le(stage.saves - before, 6 + 61);
    ck_assert_uint_ge(stage.saves - before, 55);
    stage_close(&stage);
}
END_TEST

/* ---- sixty days ---- */

struct life { /* the demo on a device, for as long as one likes */
    struct document rig, show;
    struct glanz_device *device;
    void *memory;
    struct glanz_port port;
    uint32_t now_us;
};

static void life_open(struct life *life) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_setup setup;
    struct text text;
    memset(life, 0, sizeof *life);
    REQUIRE(text_read(&text, "demo/rig.json") && document_rig(&life->rig, text, &fault) == GLANZ_OK);
    REQUIRE(text_read(&text, "demo/show.json") && document_show(&life->show, text, life->rig.rig, NULL, &fault) == GLANZ_OK);
    size_t size = glanz_device_size(life->rig.rig, 16) + glanz_show_memory(life->show.show, life->rig.rig);
    life->memory = malloc(size);
    memset(&setup, 0, sizeof setup);
    life->port = stage_port_to_nowhere(&life->now_us);
    setup.rig = life->rig.rig;
    setup.show = life->show.show;
    setup.port = &life->port;
    setup.parts = &glanz_everything;
    setup.segment_capacity = 16;
    REQUIRE_MSG(glanz_device_start(&life->device, life->memory, size, &setup, &fault) == GLANZ_OK, "%s", fault.text);
    REQUIRE(glanz_device_utc(life->device, 1784246400u) == GLANZ_OK);         /* 17 July 2026 */
    for (life->now_us = 0; life->now_us < 5000000u; life->now_us += 10000u) { /* until the calendar has been looked through */
        REQUIRE(glanz_device_frame(life->device, life->now_us) == GLANZ_OK);
    }
}

/* A press that bounces, or a new value, at a time: the same in every life. */
static void life_push(struct life *life, uint32_t number, uint64_t time) {
    uint32_t times[16];
    uint8_t levels[16];
    uint8_t button = 0;
    uint8_t value = 0;
    for (uint8_t i = 0; i < life->rig.rig->input_count; i++) {
        button = life->rig.rig->inputs[i].kind == GLANZ_INPUT_BUTTON ? i : button;
        value = life->rig.rig->inputs[i].kind == GLANZ_INPUT_VALUE ? i : value;
    }
    if (number % 3u == 0) {
        (void)glanz_device_push(life->device, value, (uint16_t)glanz_hash(number), (uint32_t)time);
        return;
    }
    uint8_t low = life->rig.rig->inputs[button].pressed_low;
    for (uint8_t end = 0; end < 2; end++) { /* some short, some held, some twice */
        uint32_t later = end == 0 ? 0 : number % 7u == 0 ? 900000u : 90000u;
        uint8_t count = glanz_bounce(times, levels, 6, (uint32_t)(time + later), end == 0 ? !low : low, number * 2u + end);
        for (uint8_t i = 0; i < count; i++) {
            (void)glanz_device_push(life->device, button, levels[i], times[i]);
        }
    }
}

/* The demo for sixty days with a visitor every twenty minutes, the 32-bit clock going around 1,200 times: two frame rates come
 * to the same every day, and nothing is stuck. */
START_TEST(sixty_days_of_visitors) {
    static struct life lives[2];
    static const uint64_t steps[2] = {10000000u, 30000000u};
    static uint8_t records[2][GLANZ_RECORD_MOST];
    size_t counts[2];
    uint32_t days = test_slow() ? 6 : 60;
    uint32_t presses = 0;
    for (int i = 0; i < 2; i++) {
        life_open(&lives[i]);
    }
    for (uint32_t day = 0; day < days; day++) {
        for (int i = 0; i < 2; i++) {
            for (uint64_t at = 0; at < 86400000000u; at += steps[i]) {
                uint64_t now = day * 86400000000u + at + steps[i];
                uint64_t before = now - steps[i];
                for (uint64_t visit = before / 1200000000u; visit <= now / 1200000000u; visit++) {
                    uint64_t when = visit * 1200000000u + 7000000u + glanz_hash((uint32_t)visit) % 60000000u;
                    if (when > before && when <= now) {
                        lives[i].now_us = (uint32_t)when;
                        life_push(&lives[i], (uint32_t)visit, when);
                        presses++;
                    }
                }
                lives[i].now_us = (uint32_t)now;
                glanz_status status = glanz_device_frame(lives[i].device, (uint32_t)now);
                REQUIRE_MSG(status == GLANZ_OK, "day %u: %s", day, glanz_status_name(status));
            }
            REQUIRE(glanz_running_pack(glanz_device_control(lives[i].device), records[i], GLANZ_RECORD_MOST, &counts[i]) ==
                    GLANZ_OK);
        }
        size_t at = 0;
        while (at < counts[0] && records[0][at] == records[1][at]) {
            at++;
        }
        REQUIRE_MSG(counts[0] == counts[1] && at == counts[0],
                    "day %u: the two are not the same from byte %zu of %zu and %zu on", day, at, counts[0], counts[1]);
    }
    struct glanz_counts all = glanz_device_counts(lives[0].device);
    REQUIRE(all.failed == 0 && all.stuck == 0 && all.backward == 0 && all.lost == 0);
    printf("%u days of the demo, %u visitors, frames every 10 s and every 30 s: the same every midnight; %u frames, %u still\n",
           days, presses / 2u, all.frames, all.still);
    for (int i = 0; i < 2; i++) {
        free(lives[i].memory);
        document_free(&lives[i].show);
        document_free(&lives[i].rig);
    }
}
END_TEST

Suite *safe_suite(void) {
    Suite *suite = suite_create("safe");
    TCase *tcase = tcase_create("safe");
    tcase_set_timeout(tcase, 300);
    tcase_add_test(tcase, bursts_keep_their_order_and_the_newest_wins);
    tcase_add_test(tcase, every_call_from_every_callback_is_a_status);
    tcase_add_test(tcase, own_looks_are_used_until_nothing_can_bring_them_back);
    tcase_add_test(tcase, every_byte_that_is_named_is_used);
    tcase_add_test(tcase, a_show_that_does_not_fit_changes_nothing);
    tcase_add_test(tcase, a_show_on_trial_goes_back);
    tcase_add_test(tcase, undo_of_a_palette_leaves_the_look_alone);
    tcase_add_test(tcase, null_lists_are_refused);
    tcase_add_test(tcase, bytes_that_are_being_sent_are_never_touched);
    tcase_add_test(tcase, commands_are_done_in_order_and_answered);
    tcase_add_test(tcase, saves_by_commands_are_merged_and_rationed);
    tcase_add_test(tcase, sixty_days_of_visitors);
    suite_add_tcase(suite, tcase);
    return suite;
}
