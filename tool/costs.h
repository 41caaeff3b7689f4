/* SPDX-License-Identifier: MIT */
/* clang-format off */
/* Costs on each class of CPU, for the forecast. Written by bench/run.sh: do not edit. */
#ifndef GLANZ_TOOL_COSTS_H
#define GLANZ_TOOL_COSTS_H

#define COST_EFFECTS 27

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
    {"Cortex-M0+", 3277, 975, 977, 85.2, 19.1, 253.2, 17.1, 42.7, 95.7, 96.3, {29.3, 51.5, 86.2, 86.2, 75.5}, 81.8, 38.9, 387.1, 94.4, 462.1, 29.0, 36.8,
     {{"plain", 67.2, 0}, {"breathing", 67.4, -384}, {"filling", 100.9, -457}, {"walker", 78.9, -344}, {"comet", 140.0, 324}, {"escort", 165.1, -445}, {"procession", 120.5, -525}, {"pattern", 190.5, -522}, {"flow", 115.9, -248}, {"swell", 138.1, -526}, {"twinkle", 215.7, -296}, {"motley", 291.9, -431}, {"needle", 78.9, 1499}, {"fire", 420.4, 439}, {"rain", 310.4, -1323}, {"ripples", 311.6, 5644}, {"plasma", 400.7, 310}, {"clouds", 339.3, 5064}, {"spokes", 314.3, 1387}, {"colony", 189.3, 1136}, {"fireworks", 361.0, 5605}, {"fountain", 266.3, 25995}, {"marbles", 270.4, 27173}, {"tidemark", 293.5, 513}, {"text", 304.1, 13684}, {"picture", 390.0, 1971}, {"marked", 199.8, 1354}}},
    {"Cortex-M4", 2214, 642, 684, 64.4, 15.8, 169.2, 15.2, 28.5, 28.1, 50.7, {23.5, 43.1, 68.3, 68.3, 52.1}, 77.9, 28.0, 285.2, 56.2, 312.8, 19.0, 26.2,
     {{"plain", 53.8, 0}, {"breathing", 54.1, -352}, {"filling", 80.4, -360}, {"walker", 65.2, -288}, {"comet", 109.3, 191}, {"escort", 130.5, -364}, {"procession", 99.3, -407}, {"pattern", 120.5, -403}, {"flow", 96.7, -145}, {"swell", 104.0, -408}, {"twinkle", 132.0, -219}, {"motley", 194.9, -408}, {"needle", 65.2, 1104}, {"fire", 293.3, 273}, {"rain", 178.2, -637}, {"ripples", 233.6, 4138}, {"plasma", 313.4, 170}, {"clouds", 227.3, 3287}, {"spokes", 244.7, 1434}, {"colony", 136.1, 815}, {"fireworks", 240.6, 3649}, {"fountain", 121.9, 16297}, {"marbles", 125.7, 22236}, {"tidemark", 204.2, 20}, {"text", 216.3, 9932}, {"picture", 262.7, 1121}, {"marked", 150.0, 902}}},
    {"RV32IMC", 2827, 701, 1102, 60.4, 22.6, 175.1, 14.2, 22.3, 25.7, 42.3, {24.6, 33.4, 46.5, 46.5, 49.4}, 72.8, 29.6, 308.7, 53.7, 380.9, 27.1, 36.0,
     {{"plain", 58.2, 0}, {"breathing", 58.4, -314}, {"filling", 82.3, -351}, {"walker", 65.7, -256}, {"comet", 115.7, 394}, {"escort", 117.1, -350}, {"procession", 90.3, -392}, {"pattern", 158.5, -390}, {"flow", 100.1, -145}, {"swell", 119.3, -393}, {"twinkle", 152.5, -281}, {"motley", 233.8, -483}, {"needle", 65.7, 1050}, {"fire", 347.3, 201}, {"rain", 199.5, -720}, {"ripples", 246.0, 4873}, {"plasma", 357.7, 345}, {"clouds", 260.9, 3819}, {"spokes", 263.0, 1238}, {"colony", 152.1, 981}, {"fireworks", 264.2, 4194}, {"fountain", 134.0, 17135}, {"marbles", 137.3, 20365}, {"tidemark", 229.8, 55}, {"text", 234.4, 10197}, {"picture", 270.6, 1994}, {"marked", 169.4, 1080}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {47.1, 38.4, 41.0};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {20.7, 18.4, 17.2};
static const double planned_costs[] = {2209, 743, 744}; /* an output */
/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */
static const double signal_costs[] = {342, 183, 224};
static const double drive_costs[] = {852, 515, 655};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 18644
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
    {"needle", 336},
    {"fire", 829},
    {"rain", 735},
    {"ripples", 808},
    {"plasma", 578},
    {"clouds", 748},
    {"spokes", 363},
    {"colony", 1118},
    {"fireworks", 1219},
    {"fountain", 1000},
    {"marbles", 1993},
    {"tidemark", 946},
    {"text", 5878},
    {"picture", 3279},
    {"marked", 416},
    {"one-wire", 707}, {"clocked", 1196}, {"documents", 49556},
    {"calendar", 5996},
    /* parts: control with a button, three presets and crossfades */
    {"control", 9596}, {"playlists", 6376}, {"hands", 2764}, {"glides", 1464}, {"blends", 404}, {"colors", 944}, {"fields", 8960}, {"drives", 5640}, {"signals", 4424}, {"gestures", 2640}, {"saving", 16480},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 4024
#define COST_RAM_SEGMENT 1144
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 64
#define COST_RAM_STORE 4664
#define COST_STACK 2396

#endif
