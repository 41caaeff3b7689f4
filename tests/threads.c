/* SPDX-License-Identifier: MIT */
/* Threads, for a thread sanitizer: one runs the frames and changes rigs and shows; two push inputs, each its own, in bursts;
 * one posts commands; one pushes samples of sound, which are listened to in another way in each rig. The newest value of each
 * input is what counts in the end, and every command is answered. */
#include <pthread.h>
#include <stdatomic.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include "nowhere.h"

#define CHANGES 1000
#define LEVEL 32768

#define LEFT                                                                                                                   \
    { .name = "left", .kind = GLANZ_INPUT_VALUE, .pin = 1 }
#define RIGHT                                                                                                                  \
    { .name = "right", .kind = GLANZ_INPUT_VALUE, .pin = 2 }
#define BELL(rate, count)                                                                                                      \
    {                                                                                                                          \
        .name = "bell", .kind = GLANZ_INPUT_SOUND, .pin = 4, .hearing = {.rate_hz = rate, .bands = count }                     \
    }
static const struct glanz_input inputs[2][4] = {
    {LEFT, RIGHT, BELL(16000, 8)}, {LEFT, RIGHT, {.name = "knock", .kind = GLANZ_INPUT_BUTTON, .pin = 3}, BELL(22050, 12)}};
static GLANZ_SOUND_MEMORY(sound_memory, 12, 1, 1, 1);
static struct glanz_sound *sound;
GLANZ_ONE_STRIP(jetty, glanz_chip_ws2812b, 60);
GLANZ_ONE_STRIP(pier, glanz_chip_sk6812, 30);
static struct glanz_rig rigs[2];
GLANZ_ONE_LOOK(calm, jetty, glanz_effect_breathing);
GLANZ_ONE_LOOK(fast, jetty, glanz_effect_comet);

static const struct glanz_action nothing = {
    .kind = &glanz_action_brightness, .target = GLANZ_ALL, .number = 30000, .over_ms = 0};
static const struct glanz_trigger triggers[] = {
    {.name = "a", .input = 0, .event = GLANZ_EVENT_RISES, .level = LEVEL, .actions = &nothing, .action_count = 1},
    {.name = "b", .input = 0, .event = GLANZ_EVENT_FALLS, .level = LEVEL, .actions = &nothing, .action_count = 1},
    {.name = "c", .input = 1, .event = GLANZ_EVENT_RISES, .level = LEVEL, .actions = &nothing, .action_count = 1},
    {.name = "d", .input = 1, .event = GLANZ_EVENT_FALLS, .level = LEVEL, .actions = &nothing, .action_count = 1},
    {.name = "e", .input = 0, .event = GLANZ_EVENT_TURNED_UP, .actions = &nothing, .action_count = 1},
    {.name = "f",
     .input = 1,
     .event = GLANZ_EVENT_ENTERS,
     .level = 9000,
     .upper = 30000,
     .actions = &nothing,
     .action_count = 1},
    {.name = "g", .input = 1, .event = GLANZ_EVENT_UNCHANGED, .for_ms = 100, .actions = &nothing, .action_count = 1}};
static struct glanz_show shows[2];

static uint64_t memory[16384];
static uint64_t queue_memory[1024];
static struct glanz_device *device;
static struct glanz_queue *queue;
static atomic_int ready, over;

static uint16_t newest[2];
static uint32_t lost[2], pushed[2];

static void *push(void *which) {
    uint8_t input = (uint8_t)(uintptr_t)which;
    while (!atomic_load(&ready)) {
    }
    for (uint32_t i = 0; !atomic_load(&over); i++) {
        uint16_t value = (uint16_t)glanz_hash2(input, i);
        glanz_status status = glanz_device_push(device, input, value, atomic_load(&clock_us));
        if (status == GLANZ_ERR_FULL) {
            lost[input]++;
        } else if (status != GLANZ_OK) {
            printf("a push: %s\n", glanz_status_name(status));
            exit(1);
        }
        newest[input] = value;
        pushed[input]++;
        if (i % 64u == 0) {
            for (volatile int wait = 0; wait < 2000; wait++) {
            }
        }
    }
    return NULL;
}

static unsigned answered, refused;
static uint8_t last_event[2];

static void listen(const struct glanz_happening *happening, void *user) {
    (void)user;
    if (happening->description == GLANZ_HAPPENED_EVENT && happening->index < 2 &&
        (happening->event == GLANZ_EVENT_RISES || happening->event == GLANZ_EVENT_FALLS)) {
        last_event[happening->index] = happening->event;
    }
}

static void *post(void *unused) {
    (void)unused;
    while (!atomic_load(&ready)) {
    }
    while (!atomic_load(&over)) {
        struct glanz_command command;
        uint16_t ticket;
        glanz_status answer;
        memset(&command, 0, sizeof command);
        command.kind = &glanz_command_act;
        command.action.kind = &glanz_action_brightness;
        command.action.number = (uint16_t)(20000u + answered % 20000u);
        if (glanz_queue_post(queue, &command, &ticket) != GLANZ_OK) {
            printf("a post was refused\n");
            exit(1);
        }
        while (glanz_queue_answer(queue, ticket, &answer) == GLANZ_ERR_BUSY && !atomic_load(&over)) {
        }
        answered++;
        refused += answer != GLANZ_OK;
    }
    return NULL;
}

static unsigned samples_pushed;

static void *sing(void *unused) {
    int16_t samples[200];
    (void)unused;
    while (!atomic_load(&ready)) {
    }
    for (uint32_t i = 0; !atomic_load(&over); i++) {
        uint32_t count = 1u + i % 200u;
        for (uint32_t k = 0; k < count; k++) {
            samples[k] = (int16_t)(glanz_sine((uint16_t)((i * 200u + k) * 2500u)) / (1 + (int)(i % 16u)));
        }
        if (glanz_sound_push(sound, samples, count, 1, atomic_load(&clock_us)) != GLANZ_OK) {
            printf("samples were refused\n");
            exit(1);
        }
        samples_pushed += count;
    }
    return NULL;
}

/* What was heard is whole: of one way to listen or of the other. @return 0: it is not. */
static int heard_whole(void) {
    uint8_t bell = (uint8_t)(glanz_device_rig(device)->input_count - 1u);
    const struct glanz_heard *heard = glanz_control_heard(glanz_device_control(device), bell);
    return heard == NULL || ((heard->bands == 8 || heard->bands == 12) && heard->band != NULL && heard->ticks != 0);
}

int main(void) {
    rigs[0] = jetty;
    rigs[1] = pier;
    for (int i = 0; i < 2; i++) {
        rigs[i].inputs = inputs[i];
        rigs[i].input_count = (uint8_t)(3 + i);
    }
    shows[0] = calm;
    shows[1] = fast;
    for (int i = 0; i < 2; i++) {
        shows[i].triggers = triggers;
        shows[i].trigger_count = 7;
    }
    const struct glanz_setup setup = {.rig = &rigs[0],
                                      .show = &shows[0],
                                      .port = &nowhere,
                                      .parts = &glanz_everything,
                                      .segment_capacity = 2,
                                      .sounds = &sound,
                                      .sound_count = 1,
                                      .input_capacity = 4};
    static const struct glanz_sound_setup all = {&glanz_sound_tempo, &glanz_sound_pitch, &glanz_sound_wave, 12};
    if (glanz_sound_start(&sound, &sound_memory, sizeof sound_memory, &all) != GLANZ_OK ||
        glanz_device_start(&device, memory, sizeof memory, &setup, NULL) != GLANZ_OK ||
        glanz_queue_start(&queue, queue_memory, sizeof queue_memory, 4) != GLANZ_OK ||
        glanz_device_serve(device, queue) != GLANZ_OK) {
        printf("cannot start\n");
        return 1;
    }
    glanz_device_listen(device, listen, NULL);
    pthread_t threads[4];
    pthread_create(&threads[0], NULL, push, (void *)0);
    pthread_create(&threads[1], NULL, push, (void *)1);
    pthread_create(&threads[2], NULL, post, NULL);
    pthread_create(&threads[3], NULL, sing, NULL);
    atomic_store(&ready, 1);
    unsigned changes = 0;
    unsigned frames = 0;
    unsigned quiet = 0;    /* frames without a change, at the end */
    while (quiet < 3000) { /* time enough for every input to be on either side of the level since the last rig */
        uint32_t now = atomic_fetch_add(&clock_us, 5000u) + 5000u;
        glanz_status status = glanz_device_frame(device, now);
        frames++;
        if (changes == CHANGES) {
            quiet++;
            struct timespec pause = {0, 100000};
            nanosleep(&pause, NULL);
        } else if (status == GLANZ_OK && frames % 3u == 0) {
            changes++;
            status =
                glanz_device_set_rig(device, &rigs[changes % 2u], &shows[changes % 3u == 0], changes % 5u == 0 ? 7 : 0, NULL);
        } else if (status == GLANZ_OK && frames % 3u == 2) {
            status = glanz_device_set_show(device, &shows[frames % 2u], 0, NULL);
            status = status == GLANZ_ERR_BUSY ? GLANZ_OK : status;
        }
        if (!heard_whole()) {
            printf("frame %u: what was heard is not whole\n", frames);
            return 1;
        }
        if (status != GLANZ_OK) {
            printf("frame %u: %s\n", frames, glanz_status_name(status));
            return 1;
        }
    }
    atomic_store(&over, 1);
    for (int i = 0; i < 4; i++) {
        pthread_join(threads[i], NULL);
    }
    for (int i = 0; i < 40; i++) { /* what the rings still hold */
        (void)(glanz_device_frame(device, atomic_fetch_add(&clock_us, 5000u)) == GLANZ_OK);
    }
    uint32_t counted = glanz_device_counts(device).lost;
    printf("%u frames, %u changes of rig; %u values pushed, %u lost; %u commands answered; %u samples\n", frames, changes,
           pushed[0] + pushed[1], counted, answered, samples_pushed);
    /* a push may be told that it lost the value before it, just when that is taken: it never is the other way round */
    if (counted > lost[0] + lost[1] || counted == 0 || answered < 50 || refused > answered / 2u) {
        printf("the counts are wrong\n");
        return 1;
    }
    for (int i = 0; i < 2; i++) {
        if (last_event[i] != (newest[i] > LEVEL ? GLANZ_EVENT_RISES : GLANZ_EVENT_FALLS)) {
            printf("input %d: the newest value, %u, is not what counts\n", i, newest[i]);
            return 1;
        }
    }
    return 0;
}
