/* SPDX-License-Identifier: MIT */
/* The cases of the bench: whole frames of every effect, single stages, crossfades, segments, sizes. */
#include "bench.h"

#include <string.h>

#include <glanz/glanz.h>

#include "nowhere.h"

#define LEDS 256
#define FRAMES 60
#define WARM 20

static union {
    uint64_t align;
    void *align_pointer;
    uint8_t bytes[260000];
} memory;

/* A rig of one surface over a number of outputs of equal length, and a show of some segments on it. */
struct stage {
    struct glanz_supply supply;
    struct glanz_stretch stretch;
    struct glanz_output output[16];
    struct glanz_piece piece[64];
    struct glanz_panel panel[64];
    struct glanz_surface surface;
    struct glanz_input input;
    struct glanz_rig rig;
    struct glanz_look look[GLANZ_SEGMENTS_MOST];
    struct glanz_segment segment[GLANZ_SEGMENTS_MOST];
    uint8_t stack[GLANZ_SEGMENTS_MOST];
    struct glanz_preset preset;
    struct glanz_part part;
    struct glanz_item item;
    struct glanz_playlist playlist;
    struct glanz_action action;
    struct glanz_trigger trigger[8];
    struct glanz_show show;
    struct glanz_device *device;
    uint32_t frame;
};
static struct stage stage;

static struct glanz_stop stops[6] = {{0, {167, 2070, 9032}, 0},        {13000, {1101, 7666, 12980}, 0},
                                     {26000, {8119, 8587, 8587}, 0},   {39000, {47000, 13000, 2500}, 0},
                                     {52000, {60000, 30000, 9000}, 0}, {65535, {65535, 46000, 20000}, 0}};
static struct glanz_gradient gradient;
static const struct glanz_block blocks[] = {{3, GLANZ_RGB(255, 176, 0)}, {1, GLANZ_KELVIN(2900)}, {2, GLANZ_RGB(0, 143, 138)}};
static const struct glanz_pattern pattern = {GLANZ_CONTENT_PATTERN, NULL, blocks, 3, 6};
static const struct glanz_setting pattern_speed = {GLANZ_PATTERN_SPEED, GLANZ_UNIT_LEDS, GLANZ_FIXED(2.5)};

/* A gradient of six stops, ready for use. */
static void ready_gradient(void) {
    gradient.stops = stops;
    gradient.count = 6;
    for (uint16_t i = 0, stop = 0; i < 16; i++) {
        while (stop + 1 < 6 && stops[stop + 1].at <= (uint32_t)i << 12) {
            stop++;
        }
        gradient.first[i] = (uint8_t)stop;
    }
    for (uint16_t i = 0; i + 1 < 6; i++) {
        stops[i].per = 0xFFFFFFFFu / (uint32_t)(stops[i + 1].at - stops[i].at);
    }
}

static const struct glanz_writing writing = {GLANZ_CONTENT_WRITING, "High water 2.4 m", &glanz_font_quay};
static const struct glanz_mark mark[] = {{0, 3, 9, 0, 0, 0, 0, GLANZ_RGB(255, 90, 0)},
                                         {1, 0, 0, 2, 2, 5, 3, GLANZ_RGB(0, 90, 255)},
                                         {0, 40, 1, 0, 0, 0, 0, GLANZ_RGB(9, 9, 9)}};
static const struct glanz_marks marks = {GLANZ_CONTENT_MARKS, 3, mark};
static struct glanz_picture picture = {GLANZ_CONTENT_PICTURE, NULL, NULL, 0};

/* A picture of 12 x 8 points in four colours. */
static void ready_picture(void) {
    static uint8_t bytes[400];
    static uint8_t points[96];
    static const uint8_t palette[16] = {0, 0, 0, 0, 255, 120, 0, 255, 0, 90, 200, 255, 250, 250, 240, 255};
    static const uint16_t ms = 1000;
    static const struct glanz_picture_head head = {12, 8, 1, 4, 0};
    for (uint8_t i = 0; i < 96; i++) {
        points[i] = (uint8_t)(glanz_hash(i / 3u) & 3u);
    }
    picture.count = glanz_picture_pack(bytes, sizeof bytes, &head, palette, points, &ms);
    picture.bytes = bytes;
}

static void fill_look(struct glanz_look *look, const struct glanz_effect *effect) {
    memset(look, 0, sizeof *look);
    look->effect = effect;
    look->gradient = &gradient;
    const void *const contents[] = {NULL, NULL, &writing, &picture, &marks};
    look->content = contents[effect->content];
    if (effect->content == GLANZ_CONTENT_PATTERN) {
        look->content = &pattern;
        look->settings = &pattern_speed;
        look->setting_count = 1;
    }
}

/* Lay out a rig of `leds` LEDs on `outputs` lines, and `segments` that share them evenly, with no device yet. */
static void lay(const struct glanz_chip *chip, uint16_t leds, uint8_t outputs, uint8_t segments,
                const struct glanz_effect *effect) {
    memset(&stage, 0, sizeof stage);
    stage.supply.millivolts = 5000;
    stage.supply.limit_ma = (uint32_t)leds * 70u;
    stage.stretch.chip = chip;
    stage.stretch.leds = (uint16_t)(leds / outputs);
    for (uint8_t i = 0; i < outputs; i++) {
        stage.output[i].stretches = &stage.stretch;
        stage.output[i].stretch_count = 1;
        stage.output[i].pin = (uint8_t)(2 * i);
        stage.output[i].clock_pin = (uint8_t)(2 * i + 1);
        stage.piece[i].output = i;
        stage.piece[i].leds = stage.stretch.leds;
    }
    stage.surface.pieces = stage.piece;
    stage.surface.piece_count = outputs;
    stage.rig.supplies = &stage.supply;
    stage.rig.outputs = stage.output;
    stage.rig.surfaces = &stage.surface;
    stage.rig.inputs = &stage.input;
    stage.rig.supply_count = 1;
    stage.rig.output_count = outputs;
    stage.rig.surface_count = 1;
    stage.rig.input_count = 1;
    for (uint8_t i = 0; i < segments; i++) {
        fill_look(&stage.look[i], effect);
        stage.segment[i].look = &stage.look[i];
        stage.segment[i].region.first = (uint16_t)((uint32_t)leds / segments * i);
        stage.segment[i].region.leds = (uint16_t)(leds / segments);
        stage.stack[i] = i;
    }
    stage.show.brightness = GLANZ_LIGHTNESS(80);
    stage.show.looks = stage.look;
    stage.show.segments = stage.segment;
    stage.show.stack = stage.stack;
    stage.show.look_count = segments;
    stage.show.segment_count = segments;
}

/* The same on zigzag panels of 16 x 16 (or less), side by side, evenly over the outputs. */
static void lay_panels(uint16_t leds, uint8_t outputs, uint8_t panels, const struct glanz_effect *effect) {
    uint16_t each = (uint16_t)(leds / panels);
    uint8_t side = each >= 256 ? 16 : 8;
    lay(&glanz_chip_ws2812b, leds, outputs, 1, effect);
    for (uint8_t i = 0; i < panels; i++) {
        uint8_t of_output = (uint8_t)(panels / outputs);
        stage.piece[i].output = (uint8_t)(i / of_output);
        stage.piece[i].first = (uint16_t)(i % of_output * each);
        stage.piece[i].leds = each;
        stage.panel[i].columns = side;
        stage.panel[i].rows = side;
        stage.panel[i].left = (uint16_t)(i % 8 * side);
        stage.panel[i].top = (uint16_t)(i / 8 * side);
        stage.panel[i].wiring = GLANZ_ZIGZAG;
    }
    stage.surface.kind = GLANZ_SURFACE_GRID;
    stage.surface.panels = stage.panel;
    stage.surface.piece_count = panels;
}

static void frames(uint16_t count) {
    for (uint16_t i = 0; i < count; i++) {
        stage.frame += 10000;
        now_us = (uint32_t)stage.frame;
        glanz_device_frame(stage.device, stage.frame);
    }
}

/* What is heard while looks on sound are measured: loud, in twelve bands. */
static const uint16_t heard_bands[12] = {60000, 52000, 45000, 61000, 38000, 30000, 42000, 26000, 33000, 20000, 14000, 9000};
static const int8_t heard_wave[GLANZ_WAVE_POINTS] = {0, 20, 60, 110, 60, 10, -40, -100, -30};
static const struct glanz_heard heard = {
    .wave = heard_wave, .ticks = 1, .level = {50000, 60000, 61000, 42000}, .bands = 12, .band = heard_bands};
static const struct glanz_heard *const hear_all[1] = {&heard};

static int begin(void) {
    struct glanz_setup setup;
    memset(&setup, 0, sizeof setup);
    setup.rig = &stage.rig;
    setup.show = &stage.show;
    setup.port = &port;
    setup.parts = &glanz_everything;
    stage.frame = 0;
    now_us = 0;
    if (glanz_device_start(&stage.device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK) {
        return 0;
    }
    glanz_engine_hear(glanz_device_engine(stage.device), hear_all); /* for looks that live on sound */
    frames(150);                                                    /* past the fade from dark, and on until nothing glides */
    return 1;
}

static void measure(const char *name, uint16_t count, uint32_t things) {
    if (begin()) {
        bench_begin(name);
        frames(count);
        bench_end(count * things);
    }
}

/* Every effect on 256 LEDs, and on 64: what is between the two is the cost of a LED alone. */
static void run_effects(void) {
    static char name[40] = "effect ";
    for (uint8_t i = 0; glanz_effects[i] != NULL; i++) {
        const struct glanz_effect *effect = glanz_effects[i];
        strncpy(name + 7, effect->name, sizeof name - 8);
        if (effect->shade_field != NULL) {
            lay_panels(LEDS, 1, 1, effect);
        } else {
            lay(&glanz_chip_ws2812b, LEDS, 1, 1, effect);
        }
        measure(name, FRAMES, LEDS);
        if (effect->shade_field != NULL) {
            lay_panels(64, 1, 1, effect);
        } else {
            lay(&glanz_chip_ws2812b, 64, 1, 1, effect);
        }
        measure(name + 6, FRAMES, 1); /* " NAME": a whole frame */
    }
}

/* The walker again, and plain white, where a limit might bind and where it does. */
static void run_limits(void) {
    static const struct {
        const char *name;
        uint32_t limit_ma;
        const struct glanz_effect *effect;
    } cases[] = {{"limit none, walker", 0, &glanz_effect_walker},    {"limit loose, walker", 3000, &glanz_effect_walker},
                 {"limit binds, walker", 300, &glanz_effect_walker}, {"limit none, plain", 0, &glanz_effect_plain},
                 {"limit loose, plain", 14000, &glanz_effect_plain}, {"limit binds, plain", 2000, &glanz_effect_plain}};
    for (uint8_t i = 0; i < sizeof cases / sizeof cases[0]; i++) {
        lay(&glanz_chip_ws2812b, LEDS, 1, 1, cases[i].effect);
        stage.supply.limit_ma = cases[i].limit_ma;
        measure(cases[i].name, FRAMES, LEDS);
    }
    stage.supply.limit_ma = 0;
}

/* Grids: the cost of places, and of many panels. */
static void run_panels(void) {
    lay_panels(LEDS, 1, 1, &glanz_effect_flow);
    measure("panels 256", FRAMES, LEDS);
    stage.segment[0].region.mapping = GLANZ_MAPPING_ROWS;
    measure("panels rows", FRAMES, LEDS);
    stage.segment[0].region.mapping = GLANZ_MAPPING_AROUND;
    measure("panels around", FRAMES, LEDS);
    stage.segment[0].region.mapping = GLANZ_MAPPING_SLANTED;
    stage.segment[0].region.bearing = 5000;
    measure("panels slanted", FRAMES, LEDS);
    stage.segment[0].region.bearing = 0;
    stage.segment[0].region.mapping = GLANZ_MAPPING_OWN;
    stage.segment[0].region.turned = 1;
    measure("panels turned", FRAMES, LEDS);
    lay_panels(16384, 16, 64, &glanz_effect_flow);
    measure("panels 16384", 10, 16384);
    lay_panels(LEDS, 1, 1, &glanz_effect_plasma);
    measure("panels plasma 256", FRAMES, LEDS);
    lay_panels(16384, 16, 64, &glanz_effect_plasma);
    measure("panels plasma 16384", 10, 16384);
}

/* ---- stages ---- */

static void run_light(const char *name, const struct glanz_chip *chip, enum glanz_ration ration) {
    static struct glanz_light light[GLANZ_RUN];
    static uint8_t bytes[GLANZ_RUN * 4];
    static uint8_t remainders[GLANZ_RUN * 4];
    struct glanz_dither dither = {1, 2, 0, 0, 0};
    const uint32_t gain[4] = {60000, 55000, 50000, 60000};
    const uint32_t weight[4] = {18500, 18500, 18500, 18500};
    struct glanz_put put;
    memset(&put, 0, sizeof put);
    for (uint8_t i = 0; i < GLANZ_RUN; i++) {
        light[i].red = (uint16_t)(i * 2011u);
        light[i].green = (uint16_t)(i * 1373u);
        light[i].blue = (uint16_t)(i * 701u);
    }
    put.light = light;
    put.count = GLANZ_RUN;
    put.bytes = bytes;
    put.shown = bytes;
    put.remainders = remainders;
    put.gain = gain;
    put.weight = weight;
    put.dither = &dither;
    put.channels = chip->channels;
    if (chip->protocol != GLANZ_CLOCKED) {
        put.kind.white.kelvin = 4000;
    }
    put.restless = 1;
    put.order = chip->order;
    put.tally.ration = (uint8_t)ration;
    put.tally.spare = INT32_C(2) << 16;
    put.kind.clocked.rise_ua = chip->protocol == GLANZ_CLOCKED ? 10000000u : put.kind.clocked.rise_ua;
    for (uint8_t c = 0; c < 4; c++) {
        put.tally.charge[c] = 256;
    }
    bench_begin(name);
    for (uint16_t i = 0; i < 100; i++) {
        dither.at = (uint8_t)(i & 3u); /* a quarter of the frames begin a period */
        chip->put(&put);
    }
    bench_end(100 * GLANZ_RUN);
}

static void run_stages(void) {
    static struct glanz_light under[GLANZ_RUN];
    static struct glanz_light over[GLANZ_RUN];
    static glanz_place places[GLANZ_RUN];
    static uint8_t bytes[96];
    static uint8_t slots[96 * 4];
    struct glanz_slots spi = {3, 1, 2, 416};
    struct glanz_region cut;
    memset(&cut, 0, sizeof cut);
    for (uint8_t i = 0; i < 96; i++) {
        bytes[i] = (uint8_t)(i * 37u);
    }
    run_light("stage light", &glanz_chip_ws2812b, GLANZ_UNCOUNTED);
    run_light("stage light counted", &glanz_chip_ws2812b, GLANZ_COUNTED);
    run_light("stage light rationed", &glanz_chip_ws2812b, GLANZ_RATIONED);
    run_light("stage light RGBW", &glanz_chip_sk6812_rgbw, GLANZ_UNCOUNTED);
    run_light("stage light clocked", &glanz_chip_apa102, GLANZ_UNCOUNTED);
    run_light("stage light clocked rationed", &glanz_chip_apa102, GLANZ_RATIONED);
    bench_begin("stage SPI 3 slots");
    for (uint16_t i = 0; i < 50; i++) {
        glanz_spi_expand(slots, &spi, bytes, 96);
    }
    bench_end(50 * 32);
    spi.slots = 4;
    bench_begin("stage SPI 4 slots");
    for (uint16_t i = 0; i < 50; i++) {
        glanz_spi_expand(slots, &spi, bytes, 96);
    }
    bench_end(50 * 32);
    bench_begin("stage blend cover");
    for (uint16_t i = 0; i < 100; i++) {
        glanz_blend_run(under, over, NULL, GLANZ_RUN, GLANZ_BLEND_COVER, 30000);
    }
    bench_end(100 * GLANZ_RUN);
    bench_begin("stage blend add");
    for (uint16_t i = 0; i < 100; i++) {
        glanz_blend_run(under, over, NULL, GLANZ_RUN, GLANZ_BLEND_ADD, 65536);
    }
    bench_end(100 * GLANZ_RUN);
    bench_begin("stage places");
    for (uint16_t i = 0; i < 100; i++) {
        (void)glanz_region_places(places, NULL, &cut, 200, 10, 0, GLANZ_RUN);
    }
    bench_end(100 * GLANZ_RUN);
    bench_begin("stage gradient");
    for (uint16_t i = 0; i < 1000; i++) {
        under[i % GLANZ_RUN] = glanz_gradient_at(&gradient, (uint16_t)(i * 61u));
    }
    bench_end(1000);
}

/* ---- what is added ---- */

static void run_crossfade(void) {
    lay(&glanz_chip_ws2812b, LEDS, 1, 1, &glanz_effect_flow);
    fill_look(&stage.look[1], &glanz_effect_swell);
    if (begin()) {
        struct glanz_change change = {glanz_device_clock(stage.device), 2000, 0};
        (void)!glanz_engine_look(glanz_device_engine(stage.device), 0, &stage.look[1], change);
        frames(WARM);
        bench_begin("crossfade flow to swell");
        frames(FRAMES);
        bench_end(FRAMES * LEDS);
    }
}

/* Transparent segments of one colour over the whole strip, so that each is a full further layer. */
static void run_overlapping(const char *name, uint8_t segments) {
    lay(&glanz_chip_ws2812b, LEDS, 1, segments, &glanz_effect_plain);
    for (uint8_t i = 0; i < segments; i++) {
        stage.segment[i].region.first = 0;
        stage.segment[i].region.leds = LEDS;
        stage.segment[i].opacity = i == 0 ? 0 : 30000;
    }
    measure(name, FRAMES, LEDS);
}

static void run_segments(void) {
    static const struct {
        const char *name;
        uint8_t segments;
    } cases[] = {{"segments 1", 1}, {"segments 4", 4}, {"segments 16", 16}, {"segments 64", 64}};
    run_overlapping("overlapping 1", 1);
    run_overlapping("overlapping 2", 2);
    run_overlapping("overlapping 3", 3);
    for (uint8_t i = 0; i < 4; i++) { /* walkers that move, 16 LEDs and less each: whole frames */
        lay(&glanz_chip_ws2812b, LEDS, 1, cases[i].segments, &glanz_effect_walker);
        measure(cases[i].name, FRAMES, 1);
    }
}

/* Frames in which nothing is shaded: black everywhere, so that dither is at rest. */
static void run_still(void) {
    static const struct glanz_setting black = {GLANZ_PLAIN_COLOR, 0, GLANZ_RGB(0, 0, 0)};
    lay(&glanz_chip_ws2812b, LEDS, 1, 1, &glanz_effect_plain);
    stage.look[0].settings = &black;
    stage.look[0].setting_count = 1;
    measure("still", FRAMES, 1);
}

/* Control by itself: 8 dark segments, a playlist, 8 triggers; nothing is shaded. */
static void run_control(void) {
    static const struct glanz_setting black = {GLANZ_PLAIN_COLOR, 0, GLANZ_RGB(0, 0, 0)};
    lay(&glanz_chip_ws2812b, 64, 1, 8, &glanz_effect_plain);
    for (uint8_t i = 0; i < 8; i++) {
        stage.look[i].settings = &black;
        stage.look[i].setting_count = 1;
        stage.trigger[i].event = i % GLANZ_EVENT_PRESSED_TOGETHER;
        stage.trigger[i].actions = &stage.action;
        stage.trigger[i].action_count = 1;
    }
    stage.part.aspects = GLANZ_ASPECT_LOOK;
    stage.part.look = &stage.look[0];
    stage.preset.parts = &stage.part;
    stage.preset.part_count = 1;
    stage.item.hold_ms = 60000;
    stage.playlist.items = &stage.item;
    stage.playlist.item_count = 1;
    stage.action.kind = &glanz_action_play;
    stage.show.presets = &stage.preset;
    stage.show.preset_count = 1;
    stage.show.playlists = &stage.playlist;
    stage.show.playlist_count = 1;
    stage.show.triggers = stage.trigger;
    stage.show.trigger_count = 8;
    stage.show.start = &stage.action;
    measure("control 8 segments", FRAMES, 1);
}

/* Sixteen drives of mixed kinds on eight segments of one LED: moved by eight waves and combinations or by
 * one wave, at rest, or not there. */
enum driven { DRIVES_NONE, DRIVES_REST, DRIVES_ONE_WAVE, DRIVES_MOVE };
static void run_driven(const char *name, enum driven driven) {
    static struct glanz_drive drives[16];
    static struct glanz_signal signals[8];
    static const struct glanz_setting black = {GLANZ_WALKER_COLOR, 0, GLANZ_RGB(0, 0, 0)};
    lay(&glanz_chip_ws2812b, 8, 1, 8, &glanz_effect_walker);
    memset(drives, 0, sizeof drives);
    memset(signals, 0, sizeof signals);
    for (uint8_t i = 0; i < 8; i++) {
        signals[i].kind = i < 6 ? GLANZ_SIGNAL_WAVE : GLANZ_SIGNAL_COMBINE;
        signals[i].form = i < 6 ? (uint8_t)(i % 5) : (uint8_t)(i == 6 ? GLANZ_COMBINE_PRODUCT : GLANZ_COMBINE_SUM);
        signals[i].period_ms = 3000 + 700u * i;
        signals[i].first = 1;
        signals[i].second = 2;
        stage.look[i].settings = &black;
        stage.look[i].setting_count = 1;
        stage.look[i].drives = &drives[2 * i];
        stage.look[i].drive_count = driven == DRIVES_NONE ? 0 : 2;
    }
    for (uint8_t i = 0; i < 16; i++) {
        uint8_t kind = (uint8_t)(i % 4);
        drives[i].param = kind == 0   ? GLANZ_WALKER_SPEED
                          : kind == 1 ? GLANZ_WALKER_COLOR
                          : kind == 2 ? GLANZ_DRIVE_BRIGHTNESS
                                      : GLANZ_WALKER_BACKGROUND;
        drives[i].signal = driven == DRIVES_MOVE ? (uint8_t)(1 + i % 8) : driven == DRIVES_ONE_WAVE;
        drives[i].from = 0;
        drives[i].to = kind == 0   ? GLANZ_FIXED(20)
                       : kind == 1 ? (int32_t)GLANZ_HSL(300, 100, 50)
                       : kind == 2 ? 65535
                                   : (int32_t)GLANZ_RGB(0, 40, 60);
        drives[i].unit = kind == 0 ? GLANZ_UNIT_LEDS : GLANZ_UNIT_NONE;
        drives[i].curve = (uint8_t)(i % 3);
        drives[i].rise_ms = i < 8 ? 60 : 0;
        drives[i].fall_ms = i < 8 ? 200 : 0;
    }
    stage.input.kind = GLANZ_INPUT_VALUE;
    stage.show.signals = signals;
    stage.show.signal_count = driven == DRIVES_MOVE ? 8 : driven == DRIVES_ONE_WAVE;
    measure(name, FRAMES, 1);
}

static void run_drives(void) {
    run_driven("drives none", DRIVES_NONE);
    run_driven("drives at rest", DRIVES_REST);
    run_driven("drives by one wave", DRIVES_ONE_WAVE);
    run_driven("drives that move", DRIVES_MOVE);
}

/* Eight triggers that remember what a wave does; the same that wait for nothing but that it rises. */
static void run_gestures(void) {
    static struct glanz_signal wave;
    for (uint8_t watch = 0; watch < 2; watch++) {
        static const uint8_t events[] = {GLANZ_EVENT_ENTERS,      GLANZ_EVENT_LEAVES,    GLANZ_EVENT_STAYS_ABOVE,
                                         GLANZ_EVENT_STAYS_BELOW, GLANZ_EVENT_UNCHANGED, GLANZ_EVENT_TURNED_UP,
                                         GLANZ_EVENT_RISES,       GLANZ_EVENT_FALLS};
        lay(&glanz_chip_ws2812b, 8, 1, 1, &glanz_effect_walker);
        memset(&wave, 0, sizeof wave);
        wave.period_ms = 3000;
        stage.show.signals = &wave;
        stage.show.signal_count = 1;
        stage.action.kind = &glanz_action_freeze;
        for (uint8_t i = 0; i < 8; i++) {
            stage.trigger[i].input = 1;
            stage.trigger[i].event = watch ? events[i] : GLANZ_EVENT_RISES;
            stage.trigger[i].level = 60000;
            stage.trigger[i].upper = 64000;
            stage.trigger[i].margin = watch && events[i] != GLANZ_EVENT_TURNED_UP ? 500 : 0;
            stage.trigger[i].for_ms = watch && i >= 2 && i < 5 ? 10000 : 0;
            stage.trigger[i].actions = &stage.action;
            stage.trigger[i].action_count = 1;
        }
        stage.input.kind = GLANZ_INPUT_VALUE;
        stage.show.triggers = stage.trigger;
        stage.show.trigger_count = 8;
        measure(watch ? "gestures" : "gestures none", FRAMES, 1);
    }
}

/* What effects draw on a raster of 16 x 16, one of each. */
static void run_raster(void) {
    static struct glanz_light cells[256];
    const struct glanz_raster raster = {cells, 16, 16};
    const struct glanz_light white = {60000, 60000, 60000};
    bench_begin("raster dot");
    for (int32_t i = 0; i < 64; i++) {
        glanz_raster_dot(&raster, 100000 + i * 7001, 200000 + i * 3001, white, 60000);
    }
    bench_end(64);
    bench_begin("raster disc");
    for (int32_t i = 0; i < 64; i++) {
        const glanz_place ends[4] = {200000 + i * 7001, 300000 + i * 3001, 200000 + i * 7001, 300000 + i * 3001};
        glanz_raster_line(&raster, ends, 2 * GLANZ_STEP, white, 60000);
    }
    bench_end(64);
    bench_begin("raster sample");
    uint32_t sum = 0;
    for (int32_t i = 0; i < 256; i++) {
        sum += glanz_raster_at(&raster, (i % 16) * GLANZ_STEP + GLANZ_HALF, i / 16 * GLANZ_STEP + GLANZ_HALF).red;
    }
    bench_end(256);
    cells[0].red = (uint16_t)sum; /* so that it is worked out */
}

/* What other rigs and cuts add to a flow on 256 LEDs. */
static void run_forms(void) {
    lay(&glanz_chip_sk6812_rgbw, LEDS, 1, 1, &glanz_effect_flow);
    stage.stretch.white_kelvin = 4000;
    measure("form white", FRAMES, LEDS);
    lay(&glanz_chip_sk6812_rgbw, LEDS, 1, 1, &glanz_effect_flow);
    measure("form white unused", FRAMES, LEDS);
    lay(&glanz_chip_apa102, LEDS, 1, 1, &glanz_effect_flow);
    measure("form clocked", FRAMES, LEDS);
    lay(&glanz_chip_ws2812b, LEDS, 4, 1, &glanz_effect_flow);
    measure("form 4 outputs", FRAMES, LEDS);
    lay(&glanz_chip_ws2812b, LEDS, 1, 1, &glanz_effect_flow);
    stage.segment[0].brightness = 30000;
    measure("form dimmed", FRAMES, LEDS);
    lay(&glanz_chip_ws2812b, LEDS, 1, 1, &glanz_effect_flow);
    stage.segment[0].region.mirrored = 1;
    measure("form mirrored", FRAMES, LEDS);
    stage.segment[0].region.mirrored = 0;
    stage.segment[0].region.grain = 3;
    measure("form grained", FRAMES, LEDS);
    lay(&glanz_chip_ws2812b, LEDS, 1, 2, &glanz_effect_flow);
    stage.segment[0].region.leds = LEDS;
    stage.segment[1].region.first = 0;
    stage.segment[1].region.leds = LEDS;
    stage.segment[1].region.stencil[0] = 1;
    stage.segment[1].region.stencil[1] = 11;
    measure("form stencil", FRAMES, LEDS);
}

/* A gradient of many stops, and LEDs that the surface leaves out at both ends. */
static void run_rough(void) {
    static struct glanz_stop many[61];
    static struct glanz_gradient fine;
    for (uint16_t i = 0; i < 61; i++) {
        many[i].at = (uint16_t)(i * 65535u / 60u);
        many[i].per = 0xFFFFFFFFu / 1092u;
        glanz_light_put(&many[i].light, (uint16_t)(i * 1000u), (uint16_t)(i * 700u), (uint16_t)(60000u - i * 900u));
    }
    fine = gradient;
    fine.stops = many;
    fine.count = 61;
    for (uint8_t i = 0; i < 16; i++) {
        fine.first[i] = (uint8_t)(i * 60u / 16u);
    }
    lay(&glanz_chip_ws2812b, LEDS, 1, 1, &glanz_effect_flow);
    stage.look[0].gradient = &fine;
    measure("form 61 stops", FRAMES, LEDS);
    struct glanz_gradient along = glanz_gradient_standard;
    along.runs = GLANZ_RUNS_ALONG;
    along.folded = 1;
    along.pass_ms = 4000;
    lay_panels(LEDS, 1, 1, &glanz_effect_plain);
    measure("panels plain", FRAMES, LEDS);
    lay_panels(LEDS, 1, 1, &glanz_effect_plain);
    stage.look[0].gradient = &along;
    measure("form along", FRAMES, LEDS);
    struct glanz_gradient outward = along;
    outward.runs = GLANZ_RUNS_OUTWARD;
    lay_panels(LEDS, 1, 1, &glanz_effect_plain);
    stage.look[0].gradient = &outward;
    measure("form outward", FRAMES, LEDS);
    lay(&glanz_chip_ws2812b, LEDS, 1, 1, &glanz_effect_flow);
    stage.piece[0].first = 3;
    stage.piece[0].leds = LEDS - 6;
    stage.segment[0].region.leds = LEDS - 6;
    measure("form gaps", FRAMES, LEDS);
}

/* Blend modes: plain over plain, all LEDs; and the comet that turns back, which is asked twice. */
static void run_blends(void) {
    static const struct {
        const char *name;
        uint8_t blend;
    } cases[] = {{"form add", GLANZ_BLEND_ADD}, {"form lighter", GLANZ_BLEND_LIGHTER}, {"form multiply", GLANZ_BLEND_MULTIPLY}};
    static const struct glanz_setting back = {GLANZ_COMET_WAY, GLANZ_UNIT_NONE, 1};
    for (uint8_t i = 0; i < 3; i++) {
        lay(&glanz_chip_ws2812b, LEDS, 1, 2, &glanz_effect_plain);
        stage.segment[0].region.leds = LEDS;
        stage.segment[1].region.first = 0;
        stage.segment[1].region.leds = LEDS;
        stage.segment[1].blend = cases[i].blend;
        stage.segment[1].opacity = 45000;
        measure(cases[i].name, FRAMES, LEDS);
    }
    lay(&glanz_chip_ws2812b, LEDS, 1, 1, &glanz_effect_comet);
    stage.look[0].settings = &back;
    stage.look[0].setting_count = 1;
    measure("form comet back", FRAMES, LEDS);
    static const struct glanz_setting tail = {GLANZ_COMET_TAIL, GLANZ_UNIT_LEDS, GLANZ_FIXED(300)};
    lay(&glanz_chip_ws2812b, LEDS, 1, 1, &glanz_effect_comet);
    stage.look[0].settings = &tail;
    stage.look[0].setting_count = 1;
    measure("form comet tail", FRAMES, LEDS);
}

static void run_sizes(void) {
    static const struct {
        const char *name;
        uint16_t leds;
        uint8_t outputs;
    } cases[] = {{"size 16", 16, 1},     {"size 64", 64, 1},     {"size 256", 256, 1},
                 {"size 1024", 1024, 1}, {"size 4096", 4096, 4}, {"size 16384", 16384, 16}};
    for (uint8_t i = 0; i < sizeof cases / sizeof cases[0]; i++) {
        lay(&glanz_chip_ws2812b, cases[i].leds, cases[i].outputs, 1, &glanz_effect_flow);
        measure(cases[i].name, cases[i].leds > 1000 ? 10 : FRAMES, cases[i].leds);
    }
}

/* ---- saving beside a moving show, and the calendar: the worst step ---- */

#define SECTOR 4096u
static uint8_t flash[4 * SECTOR];

static glanz_status read_flash(void *user, uint32_t at, uint8_t *bytes, size_t count) {
    (void)user;
    memcpy(bytes, flash + at, count);
    return GLANZ_OK;
}

static glanz_status program_flash(void *user, uint32_t at, const uint8_t *bytes, size_t count) {
    (void)user;
    memcpy(flash + at, bytes, count);
    return GLANZ_OK;
}

static glanz_status erase_flash(void *user, uint32_t sector) {
    (void)user;
    memset(flash + sector * SECTOR, 0xFF, SECTOR);
    return GLANZ_OK;
}

static const struct glanz_medium flash_medium = {.version = 1,
                                                 .sector_bytes = SECTOR,
                                                 .sectors = 4,
                                                 .unit = 4,
                                                 .read = read_flash,
                                                 .program = program_flash,
                                                 .erase = erase_flash};

static void keep_worst(uint32_t *worst, uint32_t began) {
    uint32_t count = bench_count() - began;
    *worst = count > *worst ? count : *worst;
}

static void run_saving(void) {
    static uint64_t store_memory[700];
    struct glanz_setup setup;
    uint32_t still = 0;
    uint32_t beside = 0;
    uint32_t idle = 0;
    uint32_t packing = 0;
    uint32_t unused = 0;
    uint32_t begun;
    lay(&glanz_chip_ws2812b, LEDS, 1, 8, &glanz_effect_flow);
    for (uint8_t i = 0; i < 8; i++) {
        stage.segment[i].name = (const char *)"a\0b\0c\0d\0e\0f\0g\0h" + 2 * i;
        stage.look[i].name = stage.segment[i].name;
    }
    memset(flash, 0xFF, sizeof flash);
    memset(&setup, 0, sizeof setup);
    setup.rig = &stage.rig;
    setup.show = &stage.show;
    setup.port = &port;
    setup.parts = &glanz_everything;
    setup.effects = glanz_effects;
    if (bench_count() == 0 ||
        glanz_store_start(&setup.store, store_memory, sizeof store_memory, &flash_medium, GLANZ_DEVICE_RECORDS,
                          GLANZ_RECORD_MOST) != GLANZ_OK ||
        glanz_device_start(&stage.device, &memory, sizeof memory, &setup, NULL) != GLANZ_OK) {
        return; /* the desk cannot tell */
    }
    for (uint32_t frame = 0; frame < 600; frame++) {
        const char *name = (const char *)"one\0two\0six" + 4 * (frame % 3u);
        uint8_t saving = (uint8_t)glanz_device_saving(stage.device);
        begun = bench_count();
        (void)glanz_device_frame(stage.device, frame * 10000u);
        keep_worst(saving ? &beside : frame > 100 ? &still : &unused, begun);
        begun = bench_count();
        glanz_device_idle(stage.device, 5000);
        keep_worst(&idle, begun);
        if (frame > 100 && !saving) {
            begun = bench_count();
            if (glanz_device_save(stage.device, name, UINT64_MAX, (uint8_t)(GLANZ_ASPECT_LOOK | (frame & 6u)), 1) == GLANZ_OK) {
                keep_worst(&packing, begun);
            }
        }
    }
    bench_worst("saving: begin, a preset of 8 segments", packing);
    bench_worst("saving: a step", idle);
    bench_worst("saving: a frame beside it, more than without", beside > still ? beside - still : 0);
    bench_bytes("saving: presets saved", glanz_device_counts(stage.device).saved);
}

static void run_calendar(void) {
    static struct glanz_entry entries[GLANZ_ENTRIES_MOST];
    uint32_t look = 0;
    uint32_t idle = 0;
    uint32_t change = 0;
    glanz_us clock = 0;
    lay(&glanz_chip_ws2812b, LEDS, 1, 8, &glanz_effect_flow);
    memset(entries, 0, sizeof entries);
    for (uint8_t i = 0; i < GLANZ_ENTRIES_MOST; i++) { /* dear ones: by the sun, on some days of the year */
        entries[i].name = "entry";
        entries[i].at.kind = GLANZ_MOMENT_SUNSET;
        entries[i].until.kind = GLANZ_MOMENT_SUNRISE;
        entries[i].at.second = 60 * i;
        entries[i].from.month = i < 8 ? 0 : 5;
        entries[i].to.month = i < 8 ? 0 : 6;
        entries[i].from.day = entries[i].to.day = i < 8 ? 0 : 9;
    }
    stage.rig.placed = 1;
    stage.rig.latitude = 539312;
    stage.rig.longitude = 86041;
    stage.rig.zone = "CET-1CEST,M3.5.0,M10.5.0/3";
    stage.show.entries = entries;
    stage.show.entry_count = GLANZ_ENTRIES_MOST;
    stage.show.presets = &stage.preset;
    stage.show.preset_count = 1;
    stage.preset.parts = &stage.part;
    stage.preset.part_count = 1;
    stage.part.aspects = GLANZ_ASPECT_ON;
    if (bench_count() == 0) {
        return;
    }
    if (!begin()) {
        return;
    }
    struct glanz_control *control = glanz_device_control(stage.device);
    if (glanz_device_utc(stage.device, 1792000000u) != GLANZ_OK) {
        return;
    }
    clock = glanz_device_clock(stage.device);
    for (uint32_t i = 0; i < 4000; i++) {
        uint8_t looking = (uint8_t)glanz_control_looking(control);
        uint32_t due = glanz_control_entry_due(control);
        clock += looking ? 10000u : 600000000u;
        uint32_t begun = bench_count();
        (void)(glanz_control_run(control, clock, (uint32_t)clock) == GLANZ_OK);
        keep_worst(looking ? &look : glanz_control_utc(control) >= due ? &change : &idle, begun);
    }
    bench_worst("calendar: a call that looks ahead", look);
    bench_worst("calendar: a change of what shows", change);
    bench_worst("calendar: a call with nothing to do", idle);
}

static void run_memory(void) {
    lay(&glanz_chip_ws2812b, LEDS, 1, 8, &glanz_effect_plain);
    bench_bytes("RAM device, 256 LEDs, 8 segments", (uint32_t)glanz_device_size(&stage.rig, 8));
    bench_bytes("RAM device, 256 LEDs, 1 segment", (uint32_t)glanz_device_size(&stage.rig, 1));
    bench_bytes("RAM engine, 256 LEDs, 1 segment", (uint32_t)glanz_engine_size(&glanz_everything, &stage.rig, 1, 0));
    bench_bytes("RAM engine, 256 LEDs, 1 segment, two looks at once",
                (uint32_t)glanz_engine_size(&glanz_everything, &stage.rig, 1, 1));
    bench_bytes("RAM engine, 256 LEDs, 1 segment, a look that stays",
                (uint32_t)glanz_engine_size(NULL, &stage.rig, 1, GLANZ_NO_FADING));
    bench_bytes("RAM saved by 3 fading looks, 8 segments", (uint32_t)(glanz_engine_size(&glanz_everything, &stage.rig, 8, 0) -
                                                                      glanz_engine_size(&glanz_everything, &stage.rig, 8, 3)));
    bench_bytes("RAM control, 1 input", (uint32_t)glanz_control_size(&glanz_everything, &stage.rig, 8));
    bench_bytes("RAM control, 1 segment, 1 input", (uint32_t)glanz_control_size(&glanz_everything, &stage.rig, 1));
    stage.rig.input_count = 0;
    bench_bytes("RAM control, no input", (uint32_t)glanz_control_size(&glanz_everything, &stage.rig, 8));
    bench_bytes("RAM store", (uint32_t)glanz_store_size(&flash_medium, GLANZ_DEVICE_RECORDS, GLANZ_RECORD_MOST));
    lay(&glanz_chip_ws2812b, LEDS, 4, 8, &glanz_effect_plain);
    bench_bytes("RAM device, 256 LEDs on 4 outputs, 8 segments", (uint32_t)glanz_device_size(&stage.rig, 8));
}

void bench_run(void) {
    ready_gradient();
    ready_picture();
    run_effects();
    run_limits();
    run_panels();
    run_stages();
    run_crossfade();
    run_segments();
    run_still();
    run_control();
    run_drives();
    run_gestures();
    run_raster();
    run_forms();
    run_rough();
    run_blends();
    run_sizes();
    run_saving();
    run_calendar();
    run_memory();
}
