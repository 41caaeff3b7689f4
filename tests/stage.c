/* SPDX-License-Identifier: MIT */
#include "stage.h"
#include "suites.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

const char *quoted(const char *text) {
    static char buffers[4][65536];
    static int next;
    char *buffer = buffers[next++ % 4];
    size_t i = 0;
    for (; text[i] != '\0' && i + 1 < sizeof buffers[0]; i++) {
        buffer[i] = (char)(text[i] == '\'' ? '"' : text[i]);
    }
    buffer[i] = '\0';
    return buffer;
}

const char *strip_rig(unsigned leds) {
    static char text[512];
    snprintf(
        text, sizeof text,
        "{'rig':'test','supplies':{'s':{'volts':'5 "
        "V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':%u}]}},"
        "'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':%u}]}},'inputs':{'k':{'button':{'pin':2,'pressed':'low'}}}}",
        leds, leds);
    return text;
}

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    struct stage *stage = (struct stage *)user;
    if (stage->refuse) {
        return GLANZ_ERR_PORT;
    }
    for (uint8_t i = 0; i < count && i < 4; i++) {
        stage->count[i] = list[i].count;
        memcpy(stage->bytes[i], list[i].bytes, list[i].count);
        stage->hash = glanz_crc32(stage->hash, list[i].bytes, list[i].count);
    }
    stage->sent++;
    return GLANZ_OK;
}

static int busy(void *user) {
    return ((const struct stage *)user)->busy;
}

static void stop(void *user) {
    ((struct stage *)user)->stopped++;
}

static uint32_t time_us(void *user) {
    return ((const struct stage *)user)->now_us;
}

static unsigned record_of(uint16_t key) { /* presets first, then the others */
    return key >= 0x100 ? key & 15u : 16u + (key & 15u);
}

static glanz_status load(void *user, uint16_t key, uint8_t *bytes, size_t capacity, size_t *count) {
    struct stage *stage = (struct stage *)user;
    *count = stage->record_count[record_of(key)];
    memcpy(bytes, stage->record[record_of(key)], *count < capacity ? *count : capacity);
    return GLANZ_OK;
}

static glanz_status save(void *user, uint16_t key, const uint8_t *bytes, size_t count) {
    struct stage *stage = (struct stage *)user;
    if (stage->store_full) {
        return GLANZ_ERR_FULL;
    }
    if (count > 0) {
        memcpy(stage->record[record_of(key)], bytes, count);
    }
    stage->record_count[record_of(key)] = count;
    return GLANZ_OK;
}

static void put_log(void *user, const char *line) {
    struct stage *stage = (struct stage *)user;
    if (strlen(stage->logged) + strlen(line) + 2 < sizeof stage->logged) {
        strcat(strcat(stage->logged, line), "\n");
    }
}

static void happen(const struct glanz_happening *what, void *user) {
    static const char *const events[GLANZ_EVENTS] = {
        "pressed",   "once", "twice", "held",  "released", "three",  "repeats", "together",  "up",        "down",     "up-fast",
        "down-fast", "lost", "back",  "rises", "falls",    "enters", "leaves",  "above-for", "below-for", "unchanged"};
    struct stage *stage = (struct stage *)user;
    GLANZ_CONST struct glanz_show *show = glanz_device_show(stage->device);
    char text[160] = "";
    unsigned ms = (unsigned)(what->at_us / 1000);
    switch (what->description) {
    case GLANZ_HAPPENED_EVENT: snprintf(text, sizeof text, "%u:%s ", ms, events[what->event]); break;
    case GLANZ_HAPPENED_TRIGGER: snprintf(text, sizeof text, "%u:trigger-%s ", ms, show->triggers[what->index].name); break;
    case GLANZ_HAPPENED_PRESET: snprintf(text, sizeof text, "%u:preset-%s ", ms, show->presets[what->index].name); break;
    case GLANZ_HAPPENED_ITEM: snprintf(text, sizeof text, "%u:item-%u ", ms, what->item); break;
    case GLANZ_HAPPENED_STOP: snprintf(text, sizeof text, "%u:stop ", ms); break;
    case GLANZ_HAPPENED_ENTRY: snprintf(text, sizeof text, "%u:begins-%s ", ms, show->entries[what->index].name); break;
    case GLANZ_HAPPENED_END: snprintf(text, sizeof text, "%u:ends-%s ", ms, show->entries[what->index].name); break;
    case GLANZ_HAPPENED_SLEEP: snprintf(text, sizeof text, "%u:%s ", ms, what->event ? "sleeps" : "wakes"); break;
    case GLANZ_HAPPENED_SAVED: stage->saves++; break;
    case GLANZ_HAPPENED_UNSAVED: stage->failed_saves++; break;
    case GLANZ_HAPPENED_LOST:
    default: snprintf(text, sizeof text, "%u:lost ", ms); break;
    }
    if (strlen(stage->happened) + strlen(text) < sizeof stage->happened) {
        strcat(stage->happened, text);
    }
}

static glanz_status read_show(struct stage *stage, int slot, const char *text, GLANZ_CONST struct glanz_show **show) {
    size_t used = 0;
    const char *json = quoted(text);
    free(stage->show_memory[slot]);
    stage->show_size[slot] = glanz_document_memory(json, strlen(json));
    stage->show_memory[slot] = malloc(stage->show_size[slot]);
    return glanz_show_read(show, &used, stage->show_memory[slot], stage->show_size[slot], json, strlen(json), stage->rig,
                           glanz_effects, NULL, 0, &stage->fault);
}

static glanz_status take_all(void *user, const struct glanz_sending *list, uint8_t count) {
    (void)user;
    (void)list;
    return count == 0 ? GLANZ_ERR_PORT : GLANZ_OK;
}

static int never_busy(void *user) {
    (void)user;
    return 0;
}

static uint32_t time_of_number(void *user) {
    return *(const uint32_t *)user;
}

struct glanz_port stage_port_to_nowhere(uint32_t *now_us) {
    struct glanz_port port = {2, now_us, take_all, never_busy, NULL, NULL, time_of_number};
    return port;
}

glanz_status stage_open(struct stage *stage, const char *rig, const char *show) {
    memset(stage, 0, sizeof *stage);
    const char *json = quoted(rig);
    size_t used = 0;
    size_t size = glanz_document_memory(json, strlen(json));
    stage->rig_memory = malloc(size);
    glanz_status status = glanz_rig_read(&stage->rig, &used, stage->rig_memory, size, json, strlen(json), &stage->fault);
    if (status == GLANZ_OK) {
        status = read_show(stage, 0, show, &stage->show);
    }
    if (status != GLANZ_OK) {
        return status;
    }
    stage->port.version = 2;
    stage->port.time_us = time_us;
    stage->port.user = stage;
    stage->port.start = start;
    stage->port.busy = busy;
    stage->port.stop = stop;
    stage->medium.version = 1;
    stage->medium.user = stage;
    stage->medium.load = load;
    stage->medium.save = save;
    stage->port.log = put_log;
    stage->values_size = sizeof stage->values;
    stage->memory_size = glanz_device_size(stage->rig, 16) + glanz_show_memory(stage->show, stage->rig) + 65536;
    stage->memory = malloc(stage->memory_size);
    return stage_restart(stage);
}

glanz_status stage_restart(struct stage *stage) {
    struct glanz_setup setup;
    memset(&setup, 0, sizeof setup);
    memset(stage->memory, 0xA5, stage->memory_size); /* what RAM holds after the power came back */
    ck_assert_int_eq(glanz_store_start(&stage->store, stage->store_memory, sizeof stage->store_memory, &stage->medium,
                                       GLANZ_DEVICE_RECORDS, GLANZ_RECORD_MOST),
                     GLANZ_OK);
    setup.store = stage->store;
    setup.values = stage->values;
    setup.values_size = stage->values_size;
    setup.rig = stage->rig;
    setup.show = stage->show;
    setup.port = &stage->port;
    setup.parts = &glanz_everything;
    setup.segment_capacity = 16;
    setup.effects = glanz_effects;
    static const struct glanz_sound_setup all = {&glanz_sound_tempo, &glanz_sound_pitch, &glanz_sound_wave, 0};
    for (int i = 0; i < 2 && stage->sounds[i] == NULL; i++) {
        size_t size = glanz_sound_size(&all);
        stage->sound_memory[i] = malloc(size);
        ck_assert_int_eq(glanz_sound_start(&stage->sounds[i], stage->sound_memory[i], size, &all), GLANZ_OK);
    }
    setup.sounds = stage->sounds;
    setup.sound_count = 2;
    glanz_status status = glanz_device_start(&stage->device, stage->memory, stage->memory_size, &setup, &stage->fault);
    if (status == GLANZ_OK) {
        glanz_device_listen(stage->device, happen, stage);
    }
    return status;
}

void stage_close_shows(struct stage *stage, const char *show) {
    stage->show_slot = 0;
    REQUIRE_MSG(read_show(stage, 0, show, &stage->show) == GLANZ_OK, "%s", stage->fault.text);
}

void stage_do(struct stage *stage, const char *action) {
    struct glanz_action is;
    static char memory[4096];
    const char *json = quoted(action);
    REQUIRE_MSG(glanz_action_read(&is, memory, sizeof memory, json, strlen(json), stage->rig, stage->show, &stage->fault) ==
                    GLANZ_OK,
                "%s: %s", action, stage->fault.text);
    REQUIRE_MSG(glanz_device_act(stage->device, &is) == GLANZ_OK, "%s is refused", action);
}

void stage_must_open(struct stage *stage, const char *rig, const char *show) {
    glanz_status status = stage_open(stage, rig, show);
    REQUIRE_MSG(status == GLANZ_OK, "%s: %s at %s", glanz_status_name(status), stage->fault.text, stage->fault.where);
}

void stage_close(struct stage *stage) {
    free(stage->rig_memory);
    free(stage->show_memory[0]);
    free(stage->show_memory[1]);
    free(stage->memory);
    free(stage->sound_memory[0]);
    free(stage->sound_memory[1]);
    memset(stage, 0, sizeof *stage);
}

glanz_status stage_frame(struct stage *stage, uint64_t now_us) {
    stage->now_us = (uint32_t)now_us;
    return glanz_device_frame(stage->device, (uint32_t)now_us);
}

void stage_run(struct stage *stage, uint64_t from, uint64_t to, uint32_t rate) {
    for (uint64_t i = 0; from + i * 1000000u / rate < to; i++) {
        (void)stage_frame(stage, from + i * 1000000u / rate);
    }
}

glanz_status stage_show(struct stage *stage, const char *text) {
    GLANZ_CONST struct glanz_show *show = NULL;
    int slot = 1 - stage->show_slot;
    if (stage->show_memory[slot] != NULL &&
        glanz_device_uses(stage->device, stage->show_memory[slot], stage->show_size[slot])) {
        return GLANZ_ERR_BUSY;
    }
    glanz_status status = read_show(stage, slot, text, &show);
    if (status == GLANZ_OK) {
        status = glanz_device_set_show(stage->device, show, 0, &stage->fault);
    }
    if (status == GLANZ_OK) {
        stage->show_slot = slot;
        stage->show = show;
    }
    return status;
}

uint8_t stage_led(const struct stage *stage, uint8_t output, uint16_t led, uint8_t channel) {
    GLANZ_CONST struct glanz_stretch *stretch = stage->rig->outputs[output].stretches;
    size_t at = stretch->chip->head_bytes;
    while (led >= stretch->leds) {
        at += (size_t)stretch->leds * stretch->chip->led_bytes;
        led = (uint16_t)(led - stretch->leds);
        stretch++;
    }
    uint8_t order = stretch->order == GLANZ_ORDER_CHIP ? stretch->chip->order : stretch->order;
    size_t skip = (size_t)(stretch->chip->led_bytes - stretch->chip->channels);
    for (uint8_t p = 0; p < stretch->chip->channels; p++) {
        if (glanz_order_channel(order, p) == channel) {
            return stage->bytes[output][at + (size_t)led * stretch->chip->led_bytes + skip + p];
        }
    }
    return 0;
}

uint32_t stage_sum(const struct stage *stage, uint8_t output, uint8_t channel) {
    uint32_t sum = 0;
    for (uint16_t i = 0; i < glanz_output_leds(&stage->rig->outputs[output]); i++) {
        sum += stage_led(stage, output, i, channel);
    }
    return sum;
}
