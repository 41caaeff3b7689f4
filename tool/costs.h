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
    {"Cortex-M0+", 2939, 1034, 1465, 82.9, 20.8, 305.8, 16.9, 46.7, 94.6, 96.9, {27.3, 51.2, 85.1, 85.1, 78.0}, 53.6, 32.8, 383.7, 99.5, 341.5, 29.4, 33.2,
     {{"plain", 85.2, 0}, {"breathing", 85.5, 248}, {"filling", 119.4, 125}, {"walker", 103.0, 154}, {"comet", 156.4, 836}, {"escort", 190.4, 105}, {"procession", 149.2, 33}, {"pattern", 206.7, 59}, {"flow", 150.3, 192}, {"swell", 167.8, 38}, {"twinkle", 215.9, -177}, {"motley", 307.3, -490}, {"fire", 754.9, -804}, {"rain", 481.4, -1539}, {"ripples", 337.1, 5983}, {"plasma", 564.7, 572}, {"clouds", 574.4, 182}, {"spokes", 335.5, 1151}, {"colony", 271.8, 1708}, {"fireworks", 392.5, 6336}, {"text", 320.1, 14093}, {"picture", 363.5, 4761}, {"marked", 258.2, 295}}},
    {"Cortex-M4", 1446, 635, 648, 57.1, 16.6, 169.5, 15.2, 33.0, 29.1, 49.9, {21.9, 42.6, 66.6, 66.6, 53.0}, 46.9, 21.4, 283.5, 62.4, 250.0, 19.0, 27.2,
     {{"plain", 64.6, 0}, {"breathing", 65.8, 75}, {"filling", 90.2, 62}, {"walker", 79.4, 116}, {"comet", 109.5, 606}, {"escort", 143.7, 60}, {"procession", 113.7, 19}, {"pattern", 129.2, 24}, {"flow", 110.4, 158}, {"swell", 122.4, 19}, {"twinkle", 126.5, -97}, {"motley", 188.2, -414}, {"fire", 486.6, -565}, {"rain", 194.6, -410}, {"ripples", 244.9, 4375}, {"plasma", 352.2, 258}, {"clouds", 358.2, 126}, {"spokes", 247.9, 939}, {"colony", 151.1, 1050}, {"fireworks", 251.8, 3914}, {"text", 226.0, 10176}, {"picture", 239.9, 3161}, {"marked", 198.2, 149}}},
    {"RV32IMC", 1852, 639, 972, 55.1, 23.5, 199.4, 14.2, 25.5, 24.9, 41.5, {23.7, 34.2, 46.2, 46.2, 51.6}, 43.7, 23.9, 307.1, 60.0, 265.9, 27.1, 34.1,
     {{"plain", 66.8, 0}, {"breathing", 67.0, 107}, {"filling", 89.8, 65}, {"walker", 77.7, 142}, {"comet", 116.3, 793}, {"escort", 127.2, 75}, {"procession", 102.7, 29}, {"pattern", 165.4, 30}, {"flow", 112.8, 160}, {"swell", 135.3, 28}, {"twinkle", 144.6, -112}, {"motley", 213.0, -454}, {"fire", 640.6, -774}, {"rain", 209.2, -513}, {"ripples", 255.4, 5089}, {"plasma", 400.1, 540}, {"clouds", 474.9, 39}, {"spokes", 264.0, 771}, {"colony", 171.6, 1214}, {"fireworks", 273.6, 4438}, {"text", 241.6, 10422}, {"picture", 248.8, 3791}, {"marked", 204.6, 370}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {55.3, 43.3, 45.7};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 37206
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
    {"rain", 747},
    {"ripples", 780},
    {"plasma", 458},
    {"clouds", 512},
    {"spokes", 359},
    {"colony", 1078},
    {"fireworks", 1171},
    {"text", 1699},
    {"picture", 1325},
    {"marked", 416},
    {"one-wire", 531}, {"clocked", 830}, {"documents", 39837},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 853
#define COST_RAM_SEGMENT 1032
#define COST_RAM_OUTPUT 35
#define COST_RAM_INPUT 176
#define COST_STACK 2312

#endif
