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
    {"Cortex-M0+", 3040, 1030, 1465, 82.9, 20.8, 305.8, 16.9, 46.7, 94.6, 96.9, {27.3, 51.1, 85.1, 85.1, 78.0}, 53.6, 32.8, 383.7, 99.5, 341.4, 29.4, 33.2,
     {{"plain", 85.2, 0}, {"breathing", 85.5, 251}, {"filling", 119.4, 128}, {"walker", 103.0, 157}, {"comet", 156.4, 839}, {"escort", 190.4, 108}, {"procession", 149.2, 36}, {"pattern", 206.7, 62}, {"flow", 150.3, 195}, {"swell", 167.8, 41}, {"twinkle", 215.9, -173}, {"motley", 307.3, -487}, {"fire", 754.9, -800}, {"rain", 481.4, -1534}, {"ripples", 337.1, 5988}, {"plasma", 564.7, 577}, {"clouds", 574.4, 187}, {"spokes", 335.5, 1156}, {"colony", 271.8, 1713}, {"fireworks", 392.5, 6341}, {"text", 320.1, 14098}, {"picture", 363.5, 4765}, {"marked", 258.2, 297}}},
    {"Cortex-M4", 1496, 633, 648, 57.1, 16.6, 169.5, 15.2, 33.0, 29.1, 49.9, {21.9, 42.6, 66.6, 66.6, 53.0}, 46.9, 21.4, 283.5, 62.4, 250.0, 19.0, 27.2,
     {{"plain", 64.6, 0}, {"breathing", 65.8, 75}, {"filling", 90.2, 62}, {"walker", 79.4, 116}, {"comet", 109.5, 606}, {"escort", 143.7, 60}, {"procession", 113.7, 19}, {"pattern", 129.2, 24}, {"flow", 110.4, 158}, {"swell", 122.4, 19}, {"twinkle", 126.5, -97}, {"motley", 188.2, -414}, {"fire", 486.6, -563}, {"rain", 194.6, -408}, {"ripples", 244.9, 4377}, {"plasma", 352.2, 260}, {"clouds", 358.2, 128}, {"spokes", 247.9, 941}, {"colony", 151.1, 1052}, {"fireworks", 251.8, 3916}, {"text", 226.0, 10178}, {"picture", 239.9, 3162}, {"marked", 198.2, 151}}},
    {"RV32IMC", 1933, 636, 972, 55.1, 23.5, 199.4, 14.2, 25.5, 24.9, 41.5, {23.7, 34.2, 46.2, 46.2, 51.6}, 43.7, 23.9, 307.1, 60.0, 265.9, 27.1, 34.1,
     {{"plain", 66.8, 0}, {"breathing", 67.0, 105}, {"filling", 89.8, 63}, {"walker", 77.7, 140}, {"comet", 116.3, 791}, {"escort", 127.2, 73}, {"procession", 102.7, 27}, {"pattern", 165.4, 28}, {"flow", 112.8, 158}, {"swell", 135.3, 26}, {"twinkle", 144.6, -112}, {"motley", 213.0, -456}, {"fire", 640.6, -774}, {"rain", 209.2, -514}, {"ripples", 255.4, 5088}, {"plasma", 400.1, 539}, {"clouds", 474.9, 38}, {"spokes", 264.0, 770}, {"colony", 171.6, 1213}, {"fireworks", 273.6, 4437}, {"text", 241.6, 10421}, {"picture", 248.8, 3789}, {"marked", 204.6, 372}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {55.3, 43.3, 45.7};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 46538
static const struct { const char *name; unsigned bytes; } flash_costs[] = {
    {"plain", 114},
    {"breathing", 262},
    {"filling", 521},
    {"walker", 491},
    {"comet", 790},
    {"escort", 854},
    {"procession", 649},
    {"pattern", 700},
    {"flow", 363},
    {"swell", 470},
    {"twinkle", 363},
    {"motley", 400},
    {"fire", 699},
    {"rain", 763},
    {"ripples", 780},
    {"plasma", 458},
    {"clouds", 512},
    {"spokes", 359},
    {"colony", 1078},
    {"fireworks", 1171},
    {"text", 1699},
    {"picture", 1333},
    {"marked", 416},
    {"one-wire", 531}, {"clocked", 830}, {"documents", 46724},
    {"calendar", 5920}, {"store", 13672},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 1781
#define COST_RAM_SEGMENT 1104
#define COST_RAM_OUTPUT 35
#define COST_RAM_INPUT 176
#define COST_RAM_STORE 4632
#define COST_STACK 2360

#endif
