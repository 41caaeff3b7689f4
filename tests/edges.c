/* SPDX-License-Identifier: MIT */
/* A million edges, for a thread sanitizer: three producers push as interrupts do, each no further ahead than its ring is long;
 * frames run beside them. Every edge is told, once, at its own time, in the order in which it was pushed. */
#include <pthread.h>
#include <sched.h>
#include <stdatomic.h>
#include <stdio.h>
#include <string.h>

#include "nowhere.h"

#define EDGES 333400u /* of each */
#define AHEAD (GLANZ_INBOX / 2u)
#define LEVEL 32768u
#define FRAME_US 3000u

static const struct glanz_input inputs[3] = {{.name = "bow", .kind = GLANZ_INPUT_VALUE, .pin = 1},
                                             {.name = "mast", .kind = GLANZ_INPUT_VALUE, .pin = 2},
                                             {.name = "stern", .kind = GLANZ_INPUT_VALUE, .pin = 3}};
GLANZ_ONE_STRIP(quay, glanz_chip_ws2812b, 8);
GLANZ_ONE_LOOK(calm, quay, glanz_effect_plain);
#define EDGE(number, edge)                                                                                                     \
    { .name = #edge, .input = number, .event = edge, .level = LEVEL }
static const struct glanz_trigger triggers[] = {EDGE(0, GLANZ_EVENT_RISES), EDGE(0, GLANZ_EVENT_FALLS),
                                                EDGE(1, GLANZ_EVENT_RISES), EDGE(1, GLANZ_EVENT_FALLS),
                                                EDGE(2, GLANZ_EVENT_RISES), EDGE(2, GLANZ_EVENT_FALLS)};

static uint64_t memory[8192];
static struct glanz_device *device;
static atomic_uint told[3]; /* edges of each that were told */
static uint32_t times[3][EDGES];
static atomic_int wrong;

static void listen(const struct glanz_happening *happening, void *user) {
    (void)user;
    if (happening->description != GLANZ_HAPPENED_EVENT || happening->index > 2) {
        return;
    }
    uint32_t at = atomic_load(&told[happening->index]);
    int rises = happening->event == GLANZ_EVENT_RISES;
    /* its own time; where the frame of that was over when it came in, the time of a later frame */
    uint32_t late = at >= EDGES ? 0x80000000u : (uint32_t)happening->at_us - times[happening->index][at];
    if (rises != (at % 2u == 0) || (late != 0 && (late > 0x7FFFFFFFu || happening->at_us % FRAME_US != 0))) {
        printf("input %u, edge %u: not in its order, or not at its time: %u, pushed for %u, rises %d\n", happening->index, at,
               (unsigned)happening->at_us, (unsigned)times[happening->index][at], rises);
        atomic_store(&wrong, 1);
        return;
    }
    atomic_store(&told[happening->index], at + 1u);
}

static void *push(void *which) {
    uint8_t input = (uint8_t)(uintptr_t)which;
    for (uint32_t i = 0; i < EDGES && !atomic_load(&wrong); i++) {
        while (i - atomic_load(&told[input]) >= AHEAD && !atomic_load(&wrong)) { /* the next interrupt comes later */
        }
        times[input][i] = atomic_load(&clock_us);
        uint16_t value = (uint16_t)(glanz_hash2(input, i) % 30000u + (i % 2u == 0 ? LEVEL + 1000u : 0));
        if (glanz_device_push(device, input, value, times[input][i]) != GLANZ_OK) {
            printf("input %u, edge %u: refused\n", input, i);
            atomic_store(&wrong, 1);
        }
    }
    return NULL;
}

int main(void) {
    struct glanz_rig rig = quay;
    struct glanz_show show = calm;
    rig.inputs = inputs;
    rig.input_count = 3;
    show.triggers = triggers;
    show.trigger_count = 6;
    const struct glanz_setup setup = {
        .rig = &rig, .show = &show, .port = &nowhere, .parts = &glanz_everything, .segment_capacity = 1, .input_capacity = 3};
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    if (glanz_device_start(&device, memory, sizeof memory, &setup, &fault) != GLANZ_OK) {
        printf("cannot start: %s\n", fault.text);
        return 1;
    }
    glanz_device_listen(device, listen, NULL);
    (void)(glanz_device_frame(device, 0) == GLANZ_OK);
    for (uint8_t i = 0; i < 3; i++) { /* what they are at first is no edge */
        (void)(glanz_device_push(device, i, 0, 0) == GLANZ_OK);
    }
    atomic_store(&clock_us, FRAME_US);
    (void)(glanz_device_frame(device, FRAME_US) == GLANZ_OK);
    pthread_t threads[3];
    for (uintptr_t i = 0; i < 3; i++) {
        pthread_create(&threads[i], NULL, push, (void *)i);
    }
    uint32_t frames = 0;
    while (!atomic_load(&wrong) && frames < 40000000u &&
           (atomic_load(&told[0]) < EDGES || atomic_load(&told[1]) < EDGES || atomic_load(&told[2]) < EDGES)) {
        uint32_t now = atomic_fetch_add(&clock_us, FRAME_US) + FRAME_US;
        frames++;
        sched_yield(); /* producers may have but one core with it */
        if (glanz_device_frame(device, now) != GLANZ_OK) {
            printf("frame %u failed\n", frames);
            atomic_store(&wrong, 1);
        }
    }
    atomic_store(&wrong, atomic_load(&wrong) | (frames == 40000000u));
    for (int i = 0; i < 3; i++) {
        pthread_join(threads[i], NULL);
    }
    struct glanz_counts counts = glanz_device_counts(device);
    printf("%u edges of three producers in %u frames: %u lost\n",
           atomic_load(&told[0]) + atomic_load(&told[1]) + atomic_load(&told[2]), frames, counts.lost);
    return atomic_load(&wrong) || counts.lost != 0;
}
