/* SPDX-License-Identifier: MIT */
/* Any text, font, field and moment: checked text and any other is set within its room and drawn, whole or in parts, alike. */
#include "fuzz.h"

#include <stddef.h>

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size) {
    static const char *const names[] = {"tide", "bell {"};
    static uint64_t memory[4096];
    uint32_t values[2] = {33000, GLANZ_LEVEL_FULL};
    if (size < 12 || size > 700) {
        return 0;
    }
    char *text = (char *)malloc(size - 11);
    memcpy(text, data + 12, size - 12);
    text[size - 12] = '\0';
    struct glanz_world world = {data[0] & 1, 2, 0, data[1] * 9000u, data[2] * 337u, values, names, sizeof *names};
    struct glanz_writing writing = {
        GLANZ_CONTENT_WRITING, text, glanz_fonts[data[3] % 3], data[11] % 3, (uint16_t)(data[11] * 257u), GLANZ_RGB(9, 0, 60)};
    (void)glanz_writing_check(text, &world);
    uint16_t capacity = glanz_writing_capacity(&writing);
    struct glanz_letter *letters = (struct glanz_letter *)malloc(sizeof *letters * capacity);
    uint16_t count = glanz_writing_set(letters, capacity, NULL, &writing, 0, &world);
    FUZZ_CHECK(count < capacity);
    free(letters);
    struct glanz_frame now;
    memset(&now, 0, sizeof now);
    now.length = (uint16_t)(1 + data[4]);
    now.rows = (uint16_t)(1 + data[5] % 32);
    now.closed = data[0] >> 1 & 1;
    now.content = &writing;
    now.world = &world;
    now.gradient = &glanz_gradient_standard;
    now.turn[0] = (uint32_t)data[6] << 24 | (uint32_t)data[7] << 16 | 77u;
    now.lap[0] = (int16_t)(data[8] & 3);
    now.number[GLANZ_TEXT_CLEAR] = data[9] & 1;
    now.number[GLANZ_TEXT_COLORED] = data[9] >> 1 & 3;
    now.number[GLANZ_TEXT_WAY] = (data[9] >> 3) % 6;
    now.number[GLANZ_TEXT_AGAIN] = (data[9] >> 6) % 3;
    now.number[GLANZ_TEXT_LEVEL] = data[10] * 257;
    now.number[GLANZ_TEXT_SPEED] = 65536;
    now.capacity = (uint16_t)glanz_effect_text.memory(&now);
    if (now.capacity <= sizeof memory) {
        glanz_place x[16];
        glanz_place y[16];
        struct glanz_light whole[16];
        struct glanz_light part;
        uint16_t cover[16];
        uint16_t one;
        memset(memory, 0, sizeof memory);
        now.memory = memory;
        (void)glanz_effect_text.step(&now);
        values[0] = (uint16_t)(data[11] * 257);
        world.version++;
        (void)glanz_effect_text.step(&now);
        FUZZ_CHECK(glanz_effect_text.pass(&now) > 0);
        for (int i = 0; i < 16; i++) {
            x[i] = (glanz_place)((uint32_t)(i * data[11] + data[6]) % now.length) * GLANZ_STEP + GLANZ_HALF;
            y[i] = (glanz_place)((uint32_t)i % now.rows) * GLANZ_STEP + GLANZ_HALF;
        }
        struct glanz_places places = {x, y, NULL};
        glanz_effect_text.shade_field(whole, cover, &now, &places, 16);
        for (int i = 0; i < 16; i++) {
            struct glanz_places alone = {x + i, y + i, NULL};
            glanz_effect_text.shade_field(&part, &one, &now, &alone, 1);
            FUZZ_CHECK(memcmp(&part, &whole[i], sizeof part) == 0 && one == cover[i]);
        }
    }
    free(text);
    return 0;
}
