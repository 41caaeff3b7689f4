/* SPDX-License-Identifier: MIT */
/* Clocked chips with a brightness field of 5 bits beside 8 bits a channel. The field multiplies, so the smallest field
 * that can carry a colour gives up to 31 times finer steps in low light. A frame is 32 zero bits, 32 bits a LED, and then
 * enough zero bits to clock the data through to the last LED (half a bit a LED) and to latch it (32 more). */
#include <glanz/chips.h>

static uint16_t tail_clocked(uint16_t leds) {
    return (uint16_t)(4u + (leds + 15u) / 16u);
}

/* 31 / field in 16.16, rounded up so that a full level stays full. */
static uint32_t widen(uint8_t field) {
    return (31u * 65536u + field - 1u) / field;
}

static void put_clocked(struct glanz_put *put) {
    glanz_dither_begin(put->dither, put->remainders, 3, put->first, put->count);
    uint16_t half = put->dither->open ? 0 : (uint16_t)(128u >> put->dither->depth);
    uint16_t mask = put->dither->open ? 0xFF : (uint16_t)(0xFFu & ~(0xFFu >> put->dither->depth));
    for (uint8_t i = 0; i < put->count; i++) {
        uint16_t level[3];
        level[0] = glanz_gain16(put->light[i].red, put->gain[0]);
        level[1] = glanz_gain16(put->light[i].green, put->gain[1]);
        level[2] = glanz_gain16(put->light[i].blue, put->gain[2]);
        uint16_t most = level[0] > level[1] ? level[0] : level[1];
        most = level[2] > most ? level[2] : most;
        uint8_t field = (uint8_t)((((uint32_t)most * 31u) >> 16) + 1u);
        uint32_t factor = widen(field);
        uint8_t *bytes = put->bytes + (size_t)i * 4;
        const uint8_t *shown = put->shown + (size_t)i * 4;
        uint8_t *remainders = put->remainders + (size_t)i * 3;
        int64_t difference = 0;
        uint8_t shown_field = shown[0] & 31u;
        bytes[0] = (uint8_t)(0xE0u | field);
        for (uint8_t position = 0; position < 3; position++) {
            uint8_t channel = glanz_order_channel(put->order, position);
            uint32_t wide = (uint32_t)(((uint64_t)level[channel] * factor) >> 16);
            uint16_t chip = glanz_chip_level((uint16_t)(wide > 65535u ? 65535u : wide));
            uint16_t total = (uint16_t)(chip + remainders[position]);
            uint8_t byte = (uint8_t)(total >> 8);
            remainders[position] = (uint8_t)total;
            if (((chip + half) & mask) != 0) {
                put->restless = 1;
            }
            bytes[1 + position] = byte;
            put->sum[channel] += (uint32_t)field * byte;
            difference += (int64_t)put->weight[channel] * ((int32_t)field * byte - (int32_t)shown_field * shown[1 + position]);
        }
        put->rise += difference;
        put->rise_most = put->rise > put->rise_most ? put->rise : put->rise_most;
    }
}

#define BGR GLANZ_ORDER(2, 1, 0, 3)

GLANZ_CONST struct glanz_chip glanz_chip_apa102 = {GLANZ_TEXT("APA102"),
                                                   GLANZ_TEXT("5 V LED with driver, data and clock, brightness field"),
                                                   GLANZ_CLOCKED,
                                                   3,
                                                   BGR,
                                                   4,
                                                   4,
                                                   31 * 255,
                                                   5000,
                                                   {20000, 20000, 20000, 0},
                                                   1000,
                                                   500,
                                                   500,
                                                   500,
                                                   500,
                                                   450,
                                                   0,
                                                   0,
                                                   put_clocked,
                                                   tail_clocked};
GLANZ_CONST struct glanz_chip glanz_chip_sk9822 = {GLANZ_TEXT("SK9822"),
                                                   GLANZ_TEXT("the same with constant-current brightness field"),
                                                   GLANZ_CLOCKED,
                                                   3,
                                                   BGR,
                                                   4,
                                                   4,
                                                   31 * 255,
                                                   5000,
                                                   {18500, 18500, 18500, 0},
                                                   1000,
                                                   500,
                                                   500,
                                                   500,
                                                   500,
                                                   450,
                                                   0,
                                                   0,
                                                   put_clocked,
                                                   tail_clocked};
