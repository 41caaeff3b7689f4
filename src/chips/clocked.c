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

#define FULL GLANZ_CLOCKED_FULL

/* One LED on its way. */
struct clocked_led {
    uint8_t field;
    uint8_t channel[3]; /* in the order that is sent */
    uint16_t level[3];  /* 8.8 steps within the field */
    uint8_t byte[3];
};

static uint64_t draws(const struct glanz_put *put, const uint8_t *channel, uint8_t field, const uint8_t *bytes) {
    uint64_t sum = 0;
    for (uint8_t position = 0; position < 3; position++) {
        sum += (uint64_t)put->weight[channel[position]] * ((uint32_t)field * bytes[position]);
    }
    return sum;
}

/* Keep a LED within what is spare above what it shows now: first without rounding up, then scaled down. */
static void ration(struct glanz_put *put, struct clocked_led *led, const uint8_t *shown, uint8_t *remainders) {
    uint64_t may = put->kind.clocked.spare + draws(put, led->channel, shown[0] & 31u, shown + 1);
    uint64_t drawn = draws(put, led->channel, led->field, led->byte);
    if (drawn > may) { /* it is to be brighter, and can be once LEDs further on have latched */
        put->restless = 1;
    }
    for (uint8_t position = 0; position < 3 && drawn > may; position++) {
        uint8_t floor = (uint8_t)(led->level[position] >> 8);
        if (led->byte[position] > floor) {
            led->byte[position] = floor;
            remainders[position] = 255;
            drawn = draws(put, led->channel, led->field, led->byte);
        }
    }
    if (drawn > may) {
        for (uint8_t position = 0; position < 3; position++) {
            led->byte[position] = (uint8_t)(led->byte[position] * may / drawn);
        }
        drawn = draws(put, led->channel, led->field, led->byte);
    }
    put->kind.clocked.spare = may - drawn;
}

static void put_clocked(struct glanz_put *put) {
    glanz_dither_begin(put->dither, put->remainders, 3, put->first, put->count);
    struct clocked_led led;
    if (put->first == 0) {
        put->kind.clocked.spare = (uint64_t)put->kind.clocked.rise_ua * FULL;
    }
    for (uint8_t position = 0; position < 3; position++) {
        led.channel[position] = glanz_order_channel(put->order, position);
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
        led.field = (uint8_t)((((uint32_t)most * 31u) >> 16) + 1u);
        uint32_t factor = widen[led.field];
        for (uint8_t position = 0; position < 3; position++) {
            uint16_t narrow = level[led.channel[position]];
            uint32_t wide = narrow * (factor >> 16) + ((narrow * (factor & 0xFFFFu)) >> 16);
            uint16_t chip = glanz_chip_level((uint16_t)(wide > 65535u ? 65535u : wide));
            chip = put->dither->dark && chip < 256u ? 0 : chip;
            uint16_t total = (uint16_t)(chip + remainders[position]);
            if (!put->restless) {
                put->restless = glanz_level_restless(
                    put->dither, glanz_dither_start(put->dither, (uint16_t)(put->first + i), position), chip);
            }
            led.level[position] = chip;
            remainders[position] = (uint8_t)total;
            led.byte[position] = (uint8_t)(total >> 8);
        }
        if (put->tally.ration == GLANZ_RATIONED) {
            ration(put, &led, shown, remainders);
        }
        bytes[0] = (uint8_t)(0xE0u | led.field);
        for (uint8_t position = 0; position < 3; position++) {
            uint8_t channel = led.channel[position];
            bytes[1 + position] = led.byte[position];
            if (put->tally.ration != GLANZ_UNCOUNTED) {
                put->tally.light[channel] += channel == 0   ? put->light[i].red
                                             : channel == 1 ? put->light[i].green
                                                            : put->light[i].blue;
                put->tally.bytes[channel] += (uint32_t)(led.field * led.byte[position]);
            }
        }
        bytes += 4;
        shown += 4;
        remainders += 3;
    }
}

#define BGR GLANZ_ORDER(2, 1, 0, 3)

GLANZ_CONST struct glanz_chip glanz_chip_apa102 = {GLANZ_TEXT("APA102"),
                                                   GLANZ_DESCRIPTION("5 V LED with driver, data and clock, brightness field"),
                                                   GLANZ_CLOCKED,
                                                   3,
                                                   BGR,
                                                   4,
                                                   4,
                                                   FULL,
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
                                                   GLANZ_DESCRIPTION("the same with constant-current brightness field"),
                                                   GLANZ_CLOCKED,
                                                   3,
                                                   BGR,
                                                   4,
                                                   4,
                                                   FULL,
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
