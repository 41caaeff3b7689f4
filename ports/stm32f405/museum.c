/* SPDX-License-Identifier: MIT */
/* The harbour museum's show on an STM32F405: rig and show written as C by "glanz source" under the name "museum". */
#include <glanz/stm32f405.h>

#include "museum.h"

#ifndef FRAME_US
#define FRAME_US 25000u
#endif
#define IDLE_US 500u /* between looks whether a waiting frame can go out */
#define FIRST_US 100000u

static GLANZ_MEMORY_FOR(memory, museum);
static uint8_t characters[GLANZ_STM32F405_CHARACTERS(museum_frame_bytes)];

static int begin(struct glanz_device **device, struct glanz_fault *fault) {
    struct glanz_setup setup = glanz_setup_of(&museum_rig, &museum_show, &glanz_stm32f405_port, &glanz_everything);
    return glanz_stm32f405_begin(&museum_rig, characters, sizeof characters, fault) == GLANZ_OK &&
           glanz_device_start(device, &memory, sizeof memory, &setup, fault) == GLANZ_OK;
}

#ifdef FRAMES /* so many, and then the emulator ends: exit by semihosting */
static void stop(uint32_t code) {
    uint32_t block[2] = {0x20026u, code};
    register uint32_t operation __asm__("r0") = 0x20u;
    register uint32_t *parameter __asm__("r1") = block;
    __asm__ volatile("bkpt 0xab" : : "r"(operation), "r"(parameter) : "memory");
}
#else
#define FRAMES 0xFFFFFFFFu
static void stop(uint32_t code) {
    (void)code;
}
#endif

int main(void) {
    struct glanz_fault fault = GLANZ_FAULT_INIT; /* look at it with a debugger where it does not begin */
    struct glanz_device *device;
    int good = begin(&device, &fault);
    for (uint32_t frame = 0; good && frame < FRAMES; frame++) {
        uint32_t now = FIRST_US + frame * FRAME_US;
        glanz_stm32f405_wait(now);
        (void)glanz_device_frame(device, now);
        for (uint32_t spent = IDLE_US; spent < FRAME_US;
             spent += IDLE_US) { /* a frame that waits goes out when lines are free */
            glanz_stm32f405_wait(now + spent);
            glanz_device_idle(device, FRAME_US - spent);
        }
    }
    stop(good ? 0 : 1);
    return 1;
}
