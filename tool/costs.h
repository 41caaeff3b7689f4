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
    {"Cortex-M0+", 3492, 998, 1256, 83.8, 17.6, 252.3, 17.1, 46.7, 94.6, 96.3, {26.3, 48.3, 84.1, 84.1, 73.3}, 53.7, 32.9, 386.8, 99.5, 341.4, 29.0, 36.8,
     {{"plain", 80.0, 0}, {"breathing", 80.2, -334}, {"filling", 114.0, -443}, {"walker", 97.8, -366}, {"comet", 163.1, 338}, {"escort", 185.0, -454}, {"procession", 143.9, -534}, {"pattern", 200.7, -509}, {"flow", 144.7, -367}, {"swell", 162.3, -534}, {"twinkle", 262.3, -442}, {"motley", 340.3, -672}, {"fire", 749.4, -1344}, {"rain", 476.2, -2059}, {"ripples", 332.3, 5479}, {"plasma", 563.8, 25}, {"clouds", 591.3, 8042}, {"spokes", 330.2, 552}, {"colony", 266.4, 1152}, {"fireworks", 388.9, 5717}, {"text", 314.5, 13544}, {"picture", 400.4, 1822}, {"marked", 252.1, 27}}},
    {"Cortex-M4", 2300, 618, 930, 63.7, 15.1, 168.6, 15.2, 33.0, 29.1, 49.7, {21.2, 40.7, 66.0, 66.0, 49.7}, 46.9, 21.4, 285.7, 62.4, 256.6, 19.0, 26.3,
     {{"plain", 61.0, 0}, {"breathing", 62.2, -352}, {"filling", 86.6, -365}, {"walker", 75.9, -313}, {"comet", 117.9, 191}, {"escort", 140.1, -367}, {"procession", 110.1, -407}, {"pattern", 125.5, -403}, {"flow", 106.9, -268}, {"swell", 118.8, -408}, {"twinkle", 145.1, -369}, {"motley", 201.7, -590}, {"fire", 483.0, -990}, {"rain", 191.0, -834}, {"ripples", 241.7, 3957}, {"plasma", 356.3, -167}, {"clouds", 374.9, 4848}, {"spokes", 244.4, 514}, {"colony", 147.5, 626}, {"fireworks", 248.6, 3467}, {"text", 222.4, 9751}, {"picture", 268.8, 943}, {"marked", 194.7, -71}}},
    {"RV32IMC", 2858, 668, 1376, 59.3, 21.5, 174.5, 14.2, 25.5, 24.9, 41.6, {22.7, 32.0, 45.2, 45.2, 48.0}, 43.7, 24.1, 309.6, 60.0, 269.1, 27.1, 38.0,
     {{"plain", 64.6, 0}, {"breathing", 64.8, -312}, {"filling", 87.6, -354}, {"walker", 75.5, -278}, {"comet", 124.2, 396}, {"escort", 125.0, -344}, {"procession", 100.5, -390}, {"pattern", 163.2, -388}, {"flow", 110.6, -258}, {"swell", 133.1, -391}, {"twinkle", 174.7, -427}, {"motley", 240.6, -676}, {"fire", 638.6, -1191}, {"rain", 207.2, -931}, {"ripples", 253.6, 4680}, {"plasma", 407.4, 123}, {"clouds", 507.2, 6842}, {"spokes", 262.0, 353}, {"colony", 169.6, 797}, {"fireworks", 271.8, 4002}, {"text", 239.5, 10005}, {"picture", 275.7, 1805}, {"marked", 202.5, 158}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {49.6, 39.2, 42.4};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {20.7, 18.4, 17.2};
static const double planned_costs[] = {1603, 277, 297}; /* an output */

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 52424
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
    {"fire", 703},
    {"rain", 767},
    {"ripples", 816},
    {"plasma", 550},
    {"clouds", 608},
    {"spokes", 363},
    {"colony", 1082},
    {"fireworks", 1255},
    {"text", 1703},
    {"picture", 1337},
    {"marked", 420},
    {"one-wire", 707}, {"clocked", 1196}, {"documents", 47835},
    {"calendar", 5960}, {"store", 15207},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 2048
#define COST_RAM_SEGMENT 1112
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 32
#define COST_RAM_STORE 4664
#define COST_STACK 2464

#endif
