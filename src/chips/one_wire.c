/* SPDX-License-Identifier: MIT */
/* One-wire chips: three or four bytes a LED in the chip's order, dithered. Times are those of the data sheets; where
 * revisions differ, the reset is the longest and the current the largest. */
#include <string.h>

#include <glanz/chips.h>

static void look_at(struct glanz_put *put, uint8_t position, uint8_t channel, uint16_t *levels, uint8_t stride) {
    if (!put->restless || put->dither->dark) {
        put->restless |= glanz_dither_look(put->dither, put->first, position, levels, stride, put->gain[channel], put->count);
    }
}

static void look_at_colors(struct glanz_put *put) {
    for (uint8_t position = 0; position < put->channels; position++) {
        uint8_t channel = glanz_order_channel(put->order, position);
        if (channel != 3) {
            look_at(put, position, channel, &put->light->red + channel, 3);
        }
    }
}

static void put_colors(struct glanz_put *put) {
    glanz_dither_begin(put->dither, put->remainders, 3, put->first, put->count);
    if (!put->restless || put->dither->dark) {
        look_at_colors(put);
    }
    glanz_dither_colors(&put->tally, put->bytes, put->remainders, put->order, put->light, put->gain, put->count);
}

/* Chips with a white LED: the white that is in the colours, if the stretch says so, goes there. */
static void put_white(struct glanz_put *put) {
    uint16_t white[GLANZ_RUN];
    uint8_t position = 0;
    if (!put->kind.white.known && put->kind.white.kelvin != 0) {
        put->kind.white.ready = glanz_white_of(glanz_color_light(GLANZ_KELVIN(put->kind.white.kelvin), NULL, 0));
        put->kind.white.known = 1;
    }
    if (put->kind.white.known) {
        glanz_white_extract(white, put->light, &put->kind.white.ready, put->count);
    } else {
        memset(white, 0, sizeof white);
    }
    while (glanz_order_channel(put->order, position) != 3) {
        position++;
    }
    glanz_dither_begin(put->dither, put->remainders, 4, put->first, put->count);
    look_at(put, position, 3, white, 1);
    glanz_dither_white(&put->tally, put->bytes + position, put->remainders + position, white, put->gain[3], put->count);
    if (!put->restless || put->dither->dark) {
        look_at_colors(put);
    }
    glanz_dither_beside(&put->tally, put->bytes, put->remainders, put->order, put->light, put->gain, put->count);
}

#define GRB GLANZ_ORDER(1, 0, 2, 3)
#define RGB GLANZ_ORDER(0, 1, 2, 3)

GLANZ_CONST struct glanz_chip glanz_chip_ws2812b = {GLANZ_TEXT("WS2812B"),
                                                    GLANZ_DESCRIPTION("5 V LED with driver, 800 kHz"),
                                                    GLANZ_ONE_WIRE,
                                                    3,
                                                    GRB,
                                                    0,
                                                    3,
                                                    255,
                                                    5000,
                                                    {18500, 18500, 18500, 0},
                                                    1000,
                                                    400,
                                                    850,
                                                    800,
                                                    450,
                                                    150,
                                                    300,
                                                    50,
                                                    put_colors,
                                                    NULL};
GLANZ_CONST struct glanz_chip glanz_chip_sk6812 = {GLANZ_TEXT("SK6812"),
                                                   GLANZ_DESCRIPTION("5 V LED with driver, 800 kHz"),
                                                   GLANZ_ONE_WIRE,
                                                   3,
                                                   GRB,
                                                   0,
                                                   3,
                                                   255,
                                                   5000,
                                                   {18500, 18500, 18500, 0},
                                                   1000,
                                                   300,
                                                   900,
                                                   600,
                                                   600,
                                                   150,
                                                   100,
                                                   80,
                                                   put_colors,
                                                   NULL};
GLANZ_CONST struct glanz_chip glanz_chip_sk6812_rgbw = {GLANZ_TEXT("SK6812-RGBW"),
                                                        GLANZ_DESCRIPTION("the same with a fourth, white LED"),
                                                        GLANZ_ONE_WIRE,
                                                        4,
                                                        GRB,
                                                        0,
                                                        4,
                                                        255,
                                                        5000,
                                                        {18500, 18500, 18500, 18500},
                                                        1000,
                                                        300,
                                                        900,
                                                        600,
                                                        600,
                                                        150,
                                                        100,
                                                        80,
                                                        put_white,
                                                        NULL};
GLANZ_CONST struct glanz_chip glanz_chip_ws2811 = {GLANZ_TEXT("WS2811"),
                                                   GLANZ_DESCRIPTION("driver for three LEDs in series, 12 V, set to 800 kHz"),
                                                   GLANZ_ONE_WIRE,
                                                   3,
                                                   RGB,
                                                   0,
                                                   3,
                                                   255,
                                                   12000,
                                                   {18500, 18500, 18500, 0},
                                                   1000,
                                                   250,
                                                   1000,
                                                   600,
                                                   650,
                                                   75,
                                                   300,
                                                   50,
                                                   put_colors,
                                                   NULL};
GLANZ_CONST struct glanz_chip glanz_chip_ws2811_400 = {GLANZ_TEXT("WS2811-400"),
                                                       GLANZ_DESCRIPTION("the same, set to 400 kHz"),
                                                       GLANZ_ONE_WIRE,
                                                       3,
                                                       RGB,
                                                       0,
                                                       3,
                                                       255,
                                                       12000,
                                                       {18500, 18500, 18500, 0},
                                                       1000,
                                                       500,
                                                       2000,
                                                       1200,
                                                       1300,
                                                       150,
                                                       300,
                                                       50,
                                                       put_colors,
                                                       NULL};
