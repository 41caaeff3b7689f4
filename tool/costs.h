/* SPDX-License-Identifier: MIT */
/* clang-format off */
/* Costs on each class of CPU, for the forecast. Written by bench/run.sh: do not edit. */
#ifndef GLANZ_TOOL_COSTS_H
#define GLANZ_TOOL_COSTS_H

#define COST_EFFECTS 23

struct costs {
    const char *cpu;
    double frame;     /* instructions a frame whatever is lit: control, one segment, one output, the limit */
    double segment;   /* for each further segment */
    double output;    /* for each further output */
    double white, white_unused, clocked; /* a LED more than a one-wire RGB chip */
    double dimmed, placed, grained, stencil; /* a LED: brightness below full; mirror; grain; LEDs that a stencil looks at */
    double blend[5];                /* a LED: blending, by enum glanz_blend */
    double stop;                    /* each stop of a palette that lies along a segment */
    double field, lying, turned;    /* a LED: on panels; lying in rows, columns, outward or around; turned by quarters */
    double part;                    /* each further piece of a surface, or LEDs that none has, on a line */
    double comet_tail;              /* a LED that a comet's tail lies on, more than a dark one */
    double comet_back;              /* a LED of a comet that runs there and back, more than of one that does not */
    struct { const char *name; double led, frame; } effect[COST_EFFECTS]; /* a LED, bytes and all; a frame more than a plain one */
};

static const struct costs all_costs[] = {
    {"Cortex-M0+", 2963, 930, 1023, 85.2, 19.1, 253.2, 17.1, 42.7, 95.7, 96.2, {29.2, 51.3, 86.1, 86.1, 75.3}, 81.8, 38.9, 387.1, 94.4, 460.5, 29.1, 36.8,
     {{"plain", 67.3, 0}, {"breathing", 67.5, -396}, {"filling", 101.0, -468}, {"walker", 79.0, -355}, {"comet", 140.2, 313}, {"escort", 165.3, -456}, {"procession", 120.7, -536}, {"pattern", 190.7, -533}, {"flow", 116.1, -259}, {"swell", 138.2, -537}, {"twinkle", 215.8, -300}, {"motley", 292.0, -442}, {"fire", 420.4, 428}, {"rain", 310.5, -1334}, {"ripples", 311.7, 5633}, {"plasma", 400.8, 299}, {"clouds", 339.4, 5053}, {"spokes", 314.4, 1376}, {"colony", 189.4, 1125}, {"fireworks", 361.1, 5594}, {"text", 304.1, 13674}, {"picture", 390.0, 1968}, {"marked", 199.8, 1354}}},
    {"Cortex-M4", 1972, 609, 680, 64.4, 15.8, 169.2, 15.2, 28.5, 28.1, 50.7, {23.4, 43.0, 68.2, 68.2, 52.0}, 77.9, 28.0, 285.2, 56.2, 314.7, 19.0, 26.2,
     {{"plain", 54.0, 0}, {"breathing", 54.2, -354}, {"filling", 80.6, -363}, {"walker", 65.3, -292}, {"comet", 109.4, 188}, {"escort", 130.6, -367}, {"procession", 99.4, -410}, {"pattern", 120.7, -406}, {"flow", 96.8, -148}, {"swell", 104.1, -411}, {"twinkle", 132.2, -220}, {"motley", 195.0, -411}, {"fire", 293.4, 270}, {"rain", 178.3, -640}, {"ripples", 233.7, 4135}, {"plasma", 313.5, 167}, {"clouds", 227.4, 3284}, {"spokes", 244.8, 1431}, {"colony", 136.2, 812}, {"fireworks", 240.7, 3646}, {"text", 216.4, 9929}, {"picture", 262.8, 1121}, {"marked", 150.0, 902}}},
    {"RV32IMC", 2554, 668, 1137, 60.4, 22.6, 175.1, 14.2, 22.3, 25.7, 42.2, {24.5, 33.2, 46.4, 46.4, 49.2}, 72.8, 29.6, 308.7, 53.7, 377.1, 27.1, 36.0,
     {{"plain", 58.2, 0}, {"breathing", 58.4, -316}, {"filling", 82.3, -353}, {"walker", 65.7, -258}, {"comet", 115.8, 392}, {"escort", 117.1, -352}, {"procession", 90.4, -394}, {"pattern", 158.6, -392}, {"flow", 100.1, -147}, {"swell", 119.4, -395}, {"twinkle", 152.6, -281}, {"motley", 233.9, -485}, {"fire", 347.4, 199}, {"rain", 199.5, -722}, {"ripples", 246.0, 4871}, {"plasma", 357.8, 343}, {"clouds", 260.9, 3817}, {"spokes", 263.1, 1236}, {"colony", 152.1, 979}, {"fireworks", 264.2, 4192}, {"text", 234.4, 10195}, {"picture", 270.6, 1994}, {"marked", 169.4, 1080}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {47.1, 38.4, 41.0};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {20.7, 18.4, 17.2};
static const double planned_costs[] = {2209, 743, 744}; /* an output */
/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */
static const double signal_costs[] = {234, 166, 135};
static const double drive_costs[] = {827, 633, 506};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 17624
static const struct { const char *name; unsigned bytes; } flash_costs[] = {
    {"plain", 118},
    {"breathing", 266},
    {"filling", 543},
    {"walker", 545},
    {"comet", 1108},
    {"escort", 920},
    {"procession", 669},
    {"pattern", 702},
    {"flow", 521},
    {"swell", 496},
    {"twinkle", 483},
    {"motley", 440},
    {"fire", 829},
    {"rain", 735},
    {"ripples", 808},
    {"plasma", 578},
    {"clouds", 748},
    {"spokes", 363},
    {"colony", 1118},
    {"fireworks", 1219},
    {"text", 5878},
    {"picture", 3279},
    {"marked", 416},
    {"one-wire", 707}, {"clocked", 1196}, {"documents", 38902},
    {"calendar", 5968},
    /* parts: control with a button, three presets and crossfades */
    {"control", 7760}, {"playlists", 6340}, {"hands", 1284}, {"glides", 1364}, {"blends", 404}, {"colors", 944}, {"fields", 8720}, {"saving", 17476},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 2104
#define COST_RAM_SEGMENT 912
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 32
#define COST_RAM_STORE 4664
#define COST_STACK 2340

#endif
