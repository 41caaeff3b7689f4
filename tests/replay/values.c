/* SPDX-License-Identifier: MIT */
/* The arithmetic of the core over drawn inputs, each function summed up in one number that has to be the same on every CPU:
 * 8-bit ones too, where an int has 16 bits. */
#include "board.h"

#include <string.h>

#include <glanz/glanz.h>

#define DRAWS 600

static uint32_t drawn;
static uint32_t sum;

static uint32_t draw(void) {
    drawn = glanz_hash(drawn + 0x9E3779B9u);
    return (drawn & 7u) == 0 ? 0 : (drawn & 7u) == 1 ? 0xFFFFFFFFu : drawn >> (drawn & 15u); /* ends, and all sizes */
}

static void add(uint32_t number) {
    uint8_t bytes[4] = {(uint8_t)number, (uint8_t)(number >> 8), (uint8_t)(number >> 16), (uint8_t)(number >> 24)};
    sum = glanz_crc32(sum, bytes, 4);
}

static void add_light(struct glanz_light light) {
    add(light.red);
    add(light.green);
    add(light.blue);
}

static struct glanz_light draw_light(void) { /* one after another: the order of arguments is the compiler's */
    struct glanz_light light;
    light.red = (uint16_t)draw();
    light.green = (uint16_t)draw();
    light.blue = (uint16_t)draw();
    return light;
}

static void notify(const char *name) {
    board_text(name);
    board_text(" 1 frames ");
    board_number(sum, 16);
    board_put('\n');
    sum = 0;
    drawn = 0;
}

static void numbers(void) {
    for (uint16_t i = 0; i < DRAWS; i++) {
        uint32_t a = draw();
        uint32_t b = draw();
        uint32_t f = draw() % 65537u;
        add(glanz_mix16((uint16_t)a, (uint16_t)b, f));
        add(glanz_gain16((uint16_t)a, f));
        add(glanz_gain16_round((uint16_t)a, (uint16_t)b));
        add(glanz_share_of(f, a % 65537u));
        add(glanz_mul32_high(a, b));
        add(glanz_times(a, b));
        add(glanz_ratio(a, b));
        add(a < b ? glanz_fraction(a, b) : 0);
    }
    notify("numbers");
    for (uint16_t i = 0; i < DRAWS; i++) {
        add((uint16_t)glanz_sine((uint16_t)draw()));
        add(glanz_halving(draw()));
        add(glanz_hash(draw()));
    }
    notify("curves");
}

static void colors(void) {
    for (uint16_t i = 0; i < DRAWS; i++) {
        add(glanz_linear_fine((uint16_t)(draw() % 65281u)));
        add(glanz_coded_fine((uint16_t)draw()));
        add(glanz_lightness((uint16_t)draw()));
        add(glanz_lightness_fine(draw() % 16776961u));
        add_light(glanz_color_light(GLANZ_KELVIN(1000u + draw() % 11501u), NULL, 0));
        glanz_color hue = GLANZ_HSL(draw() % 360u, 0u, 0u);
        hue |= GLANZ_HSL(0u, draw() % 101u, 0u);
        hue |= GLANZ_HSL(0u, 0u, draw() % 101u);
        add_light(glanz_color_light(hue, NULL, 0));
        add_light(glanz_color_light(draw() & 0xFFFFFFu, NULL, 0));
    }
    notify("colors");
}

static void light(void) {
    struct glanz_light under[8];
    struct glanz_light over[8];
    uint16_t white[8];
    uint8_t bytes[32];
    uint8_t remainders[32];
    memset(remainders, 128, sizeof remainders);
    for (uint16_t i = 0; i < DRAWS / 6; i++) {
        struct glanz_dither dither = {(uint8_t)(i % 3u), (uint8_t)(draw() % (GLANZ_DEPTH_MOST + 1u)), i & 1u,
                                      (uint8_t)(i % 5u == 0), 0};
        struct glanz_white ready = glanz_white_of(glanz_color_light(GLANZ_KELVIN(1000u + draw() % 11501u), NULL, 0));
        for (uint8_t k = 0; k < 8; k++) {
            under[k] = draw_light();
            over[k] = draw_light();
        }
        glanz_blend_run(under, over, NULL, 8, (enum glanz_blend)(i % GLANZ_BLENDS), draw() % 65537u);
        glanz_white_extract(white, under, &ready, 8);
        glanz_dither_begin(&dither, remainders, 4, i, 8);
        struct glanz_tally tally;
        memset(&tally, 0, sizeof tally);
        tally.ration = (uint8_t)(i / 2u % 3u);
        tally.spare = (int32_t)(draw() % 300000u);
        for (uint8_t c = 0; c < 4; c++) {
            tally.charge[c] = (uint16_t)(256u - i % 2u * (draw() % 200u));
        }
        uint32_t gain[4];
        for (uint8_t c = 0; c < 4; c++) {
            gain[c] = draw() % 65537u;
            add(glanz_dither_look(&dither, i, c, c == 3 ? white : &under[0].red + c, c == 3 ? 1 : 3, gain[c], 8));
        }
        glanz_dither_white(&tally, bytes + 2, remainders + 2, white, gain[3], 8);
        glanz_dither_beside(&tally, bytes, remainders, GLANZ_ORDER(1, 0, 3, 2), under, gain, 8);
        add((uint32_t)tally.spare);
        for (uint8_t c = 0; c < 4; c++) {
            add(tally.light[c]);
            add(tally.bytes[c]);
        }
        glanz_dither_colors(&tally, bytes, remainders, GLANZ_ORDER(2, 0, 1, 3), under, gain, 8);
        for (uint8_t k = 0; k < 32; k++) {
            add(bytes[k]);
        }
    }
    notify("light");
}

static void places(void) {
    for (uint16_t i = 0; i < DRAWS; i++) {
        struct glanz_repeat repeat = glanz_repeat_of((glanz_place)(draw() % 0x7FFFFFFFu));
        glanz_place place = (glanz_place)(draw() % 0x40000000u) - 0x20000000;
        add(repeat.scale);
        add(glanz_repeat_turn(&repeat, place));
        uint32_t high = draw();
        add(glanz_repeat_cover(&repeat, high, draw()));
        glanz_place from = place - (glanz_place)(draw() % 65536u);
        add(glanz_cover(place, from, place + (glanz_place)(draw() % 65536u)));
    }
    notify("places");
}

/* Light of an effect at drawn moments and numbers. */
static void effect(const char *name, GLANZ_CONST struct glanz_effect *effect) {
    static GLANZ_CONST struct glanz_block blocks[] = {
        {3, GLANZ_RGB(255, 176, 0)}, {1, GLANZ_KELVIN(2900)}, {2, GLANZ_RGB(0, 143, 138)}};
    static GLANZ_CONST struct glanz_pattern pattern = {GLANZ_CONTENT_PATTERN, NULL, blocks, 3, 6};
    for (uint8_t moment = 0; moment < 12; moment++) {
        struct glanz_frame frame;
        glanz_place places[8];
        struct glanz_light shaded[8];
        uint8_t colors = 0;
        memset(&frame, 0, sizeof frame);
        frame.length = (uint16_t)(1u + draw() % 300u);
        frame.closed = moment & 1u;
        frame.params_changed = 1;
        frame.seed = draw();
        frame.gradient = &glanz_gradient_standard;
        frame.content = &pattern;
        frame.turn[0] = draw();
        frame.lap[0] = (int16_t)(draw() % 9u) - 4;
        for (uint8_t i = 0; i < effect->param_count; i++) {
            GLANZ_CONST struct glanz_param *param = &effect->params[i];
            frame.number[i] = param->standard;
            if (param->kind == GLANZ_PARAM_COLOR) {
                frame.color[colors++] = draw_light();
            } else if (param->kind == GLANZ_PARAM_LENGTH) {
                frame.number[i] = (int32_t)(65536u + draw() % 2000000u);
            } else if (param->kind == GLANZ_PARAM_CHOICE || param->kind == GLANZ_PARAM_FLAG) {
                frame.number[i] = (int32_t)(draw() % (uint32_t)(param->high + 1));
            }
        }
        add(effect->pass == NULL ? 0 : (uint32_t)effect->pass(&frame));
        add(effect->step == NULL ? 0 : effect->step(&frame));
        uint16_t first = (uint16_t)(draw() % frame.length);
        for (uint8_t i = 0; i < 8; i++) {
            places[i] = (glanz_place)((first + i) % frame.length) * GLANZ_STEP + GLANZ_HALF;
        }
#if GLANZ_FIELDS
        if (effect->shade == NULL) { /* for fields too: a line is one of them */
            glanz_place middle[8];
            struct glanz_places field = {places, middle, NULL};
            for (uint8_t i = 0; i < 8; i++) {
                middle[i] = GLANZ_HALF;
            }
            frame.rows = 1;
            effect->shade_field(shaded, NULL, &frame, &field, 8);
        } else
#endif
            effect->shade(shaded, &frame, places, 8);
        for (uint8_t i = 0; i < 8; i++) {
            add_light(shaded[i]);
        }
    }
    notify(name);
}

int board_main(void) {
    numbers();
    colors();
    light();
    places();
    effect("plain", &glanz_effect_plain);
    effect("breathing", &glanz_effect_breathing);
    effect("filling", &glanz_effect_filling);
    effect("walker", &glanz_effect_walker);
    effect("comet", &glanz_effect_comet);
    effect("procession", &glanz_effect_procession);
    effect("pattern", &glanz_effect_pattern);
    effect("flow", &glanz_effect_flow);
    effect("swell", &glanz_effect_swell);
    effect("twinkle", &glanz_effect_twinkle);
    effect("motley", &glanz_effect_motley);
    return 0;
}
