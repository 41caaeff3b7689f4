/* SPDX-License-Identifier: MIT */
/* Clocked chips with a brightness field of 5 bits beside 8 bits a channel. The field multiplies, so the smallest field
 * that can carry a colour gives up to 31 times finer steps in low light. A frame is 32 zero bits, 32 bits a LED, and then
 * enough zero bits to clock the data through to the last LED (half a bit a LED) and to latch it (32 more). */
#include <glanz/chips.h>

static uint16_t tail_clocked(uint16_t leds) {
    return (uint16_t)(4u + (leds + 15u) / 16u);
}

/* 31 / field in 16.16, rounded up so that a full level stays full; 0 is not used. */
static GLANZ_CONST uint32_t widen[32] = {0,      2031616, 1015808, 677206, 507904, 406324, 338603, 290231,
                                         253952, 225736,  203162,  184693, 169302, 156279, 145116, 135442,
                                         126976, 119507,  112868,  106928, 101581, 96744,  92347,  88332,
                                         84651,  81265,   78140,   75246,  72558,  70056,  67721,  65536};

/* A current in sixteenths, so that what a LED adds fits 32 bits: up for what is new, down for what goes. */
#define UNIT 16u
#define FULL (31u * 255u)

static void put_clocked(struct glanz_put *put) {
    glanz_dither_begin(put->dither, put->remainders, 3, put->first, put->count);
    uint16_t half = put->dither->open ? 0 : (uint16_t)(128u >> put->dither->depth);
    uint16_t mask = put->dither->open ? 0xFF : (uint16_t)(0xFFu & ~(0xFFu >> put->dither->depth));
    uint16_t between = 0;
    uint8_t channels[3];
    uint32_t more[3];
    uint32_t less[3];
    uint32_t sum[3] = {0, 0, 0};
    for (uint8_t position = 0; position < 3; position++) {
        channels[position] = glanz_order_channel(put->order, position);
        less[position] = put->weight[channels[position]] / UNIT;
        more[position] = (put->weight[channels[position]] + UNIT - 1u) / UNIT;
    }
    uint8_t *bytes = put->bytes;
    const uint8_t *shown = put->shown;
    uint8_t *remainders = put->remainders;
    for (uint8_t i = 0; i < put->count; i++) {
        uint16_t level[3];
        level[0] = glanz_gain16(put->light[i].red, put->gain[0]);
        level[1] = glanz_gain16(put->light[i].green, put->gain[1]);
        level[2] = glanz_gain16(put->light[i].blue, put->gain[2]);
        uint16_t most = level[0] > level[1] ? level[0] : level[1];
        most = level[2] > most ? level[2] : most;
        uint8_t field = (uint8_t)((((uint32_t)most * 31u) >> 16) + 1u);
        uint32_t factor = widen[field];
        uint8_t shown_field = shown[0] & 31u;
        uint32_t rises = 0;
        uint32_t falls = 0;
        bytes[0] = (uint8_t)(0xE0u | field);
        for (uint8_t position = 0; position < 3; position++) {
            uint16_t narrow = level[channels[position]];
            uint32_t wide = narrow * (factor >> 16) + ((narrow * (factor & 0xFFFFu)) >> 16);
            uint16_t chip = glanz_chip_level((uint16_t)(wide > 65535u ? 65535u : wide));
            uint16_t total = (uint16_t)(chip + remainders[position]);
            uint16_t units = (uint16_t)(field * (total >> 8));
            remainders[position] = (uint8_t)total;
            bytes[1 + position] = (uint8_t)(total >> 8);
            between = (uint16_t)(between | (chip + half));
            sum[position] += units;
            rises += more[position] * units;
            falls += less[position] * (uint32_t)(shown_field * shown[1 + position]);
        }
        put->kind.rise.sum += rises;
        put->kind.rise.sum -= falls;
        put->kind.rise.most = put->kind.rise.sum > put->kind.rise.most ? put->kind.rise.sum : put->kind.rise.most;
        bytes += 4;
        shown += 4;
        remainders += 3;
    }
    for (uint8_t position = 0; position < 3; position++) {
        put->sum[channels[position]] += sum[position];
    }
    put->kind.rise.ua = put->kind.rise.most == 0
                            ? 0
                            : glanz_times((uint32_t)(put->kind.rise.most >> 10) + 1u, (((uint32_t)1 << 30) + FULL - 1u) / FULL);
    if ((between & mask) != 0) {
        put->restless = 1;
    }
}

#define BGR GLANZ_ORDER(2, 1, 0, 3)

GLANZ_CONST struct glanz_chip glanz_chip_apa102 = {GLANZ_TEXT("APA102"),
                                                   GLANZ_WHAT("5 V LED with driver, data and clock, brightness field"),
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
                                                   GLANZ_WHAT("the same with constant-current brightness field"),
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
