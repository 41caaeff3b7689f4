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
    {"Cortex-M0+", 3485, 828, 1271, 83.8, 17.6, 252.3, 17.1, 46.7, 91.6, 99.7, {28.3, 50.7, 85.5, 85.5, 74.7}, 53.7, 34.3, 386.8, 99.5, 403.3, 29.1, 36.8,
     {{"plain", 81.1, 0}, {"breathing", 81.3, -340}, {"filling", 115.2, -449}, {"walker", 99.0, -372}, {"comet", 164.3, 332}, {"escort", 186.2, -460}, {"procession", 145.0, -540}, {"pattern", 202.9, -515}, {"flow", 145.9, -373}, {"swell", 163.5, -540}, {"twinkle", 264.8, -440}, {"motley", 342.9, -678}, {"fire", 491.8, -107}, {"rain", 431.4, -2065}, {"ripples", 334.8, 5473}, {"plasma", 423.8, 210}, {"clouds", 397.7, 5665}, {"spokes", 332.7, 546}, {"colony", 269.0, 1146}, {"fireworks", 391.5, 5711}, {"text", 318.2, 13538}, {"picture", 404.2, 1808}, {"marked", 253.6, 82}}},
    {"Cortex-M4", 2301, 518, 929, 63.7, 15.1, 168.6, 15.2, 33.0, 29.1, 51.9, {22.6, 42.2, 67.4, 67.4, 51.2}, 46.9, 22.2, 285.7, 62.4, 297.5, 19.0, 26.3,
     {{"plain", 61.8, 0}, {"breathing", 63.0, -354}, {"filling", 87.4, -368}, {"walker", 76.6, -316}, {"comet", 118.7, 188}, {"escort", 140.9, -370}, {"procession", 110.9, -410}, {"pattern", 127.1, -406}, {"flow", 107.6, -271}, {"swell", 119.6, -411}, {"twinkle", 146.6, -372}, {"motley", 203.2, -593}, {"fire", 307.5, -69}, {"rain", 186.5, -822}, {"ripples", 243.2, 3954}, {"plasma", 319.7, 65}, {"clouds", 243.5, 3248}, {"spokes", 245.9, 511}, {"colony", 149.1, 623}, {"fireworks", 250.1, 3464}, {"text", 224.6, 9748}, {"picture", 271.0, 941}, {"marked", 196.9, -31}}},
    {"RV32IMC", 2862, 573, 1384, 59.3, 21.5, 174.5, 14.2, 25.1, 24.6, 43.2, {24.6, 33.2, 46.4, 46.4, 49.2}, 43.7, 25.0, 309.6, 60.0, 294.8, 27.1, 38.0,
     {{"plain", 65.5, 0}, {"breathing", 65.7, -314}, {"filling", 88.5, -356}, {"walker", 76.4, -280}, {"comet", 125.1, 394}, {"escort", 125.9, -346}, {"procession", 101.4, -392}, {"pattern", 165.0, -390}, {"flow", 111.5, -260}, {"swell", 134.0, -393}, {"twinkle", 176.4, -427}, {"motley", 242.4, -678}, {"fire", 383.8, -275}, {"rain", 208.1, -915}, {"ripples", 255.4, 4678}, {"plasma", 363.2, 224}, {"clouds", 286.3, 4020}, {"spokes", 263.8, 351}, {"colony", 171.4, 795}, {"fireworks", 273.6, 4000}, {"text", 242.5, 10003}, {"picture", 278.7, 1801}, {"marked", 204.6, 213}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {49.6, 39.2, 42.4};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {20.7, 18.4, 17.2};
static const double planned_costs[] = {1616, 287, 313}; /* an output */

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 17332
static const struct { const char *name; unsigned bytes; } flash_costs[] = {
    {"plain", 118},
    {"breathing", 266},
    {"filling", 547},
    {"walker", 553},
    {"comet", 1124},
    {"escort", 878},
    {"procession", 657},
    {"pattern", 704},
    {"flow", 375},
    {"swell", 478},
    {"twinkle", 403},
    {"motley", 440},
    {"fire", 803},
    {"rain", 743},
    {"ripples", 816},
    {"plasma", 578},
    {"clouds", 740},
    {"spokes", 363},
    {"colony", 1082},
    {"fireworks", 1255},
    {"text", 5888},
    {"picture", 3289},
    {"marked", 420},
    {"one-wire", 707}, {"clocked", 1196}, {"documents", 38909},
    {"calendar", 6016},
    /* parts: control with a button, three presets and crossfades */
    {"control", 7476}, {"playlists", 6224}, {"hands", 1284}, {"glides", 1356}, {"blends", 404}, {"colors", 944}, {"fields", 8552}, {"saving", 17412},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 2093
#define COST_RAM_SEGMENT 1123
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 32
#define COST_RAM_STORE 4664
#define COST_STACK 2340

#endif
