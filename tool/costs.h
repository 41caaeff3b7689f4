/* SPDX-License-Identifier: MIT */
/* Costs on each class of CPU, for the forecast. Written by bench/run.sh: do not edit. */
#ifndef GLANZ_TOOL_COSTS_H
#define GLANZ_TOOL_COSTS_H

#define COST_EFFECTS 12

struct costs {
    const char *cpu;
    double frame;                        /* instructions a frame whatever is lit: control, one segment, one output, the limit */
    double segment;                      /* for each further segment */
    double output;                       /* for each further output */
    double white, white_unused, clocked; /* a LED more than a one-wire RGB chip */
    double dimmed, placed, grained, stencil; /* a LED: brightness below full; mirror; grain; LEDs that a stencil looks at */
    double blend[5];                         /* a LED: blending, by enum glanz_blend */
    double stop;                             /* each stop of a palette that lies along a segment */
    double part;                             /* each further piece of a surface, or LEDs that none has, on a line */
    double comet_tail;                       /* a LED that a comet's tail lies on, more than a dark one */
    double comet_back;                       /* a LED of a comet that runs there and back, more than of one that does not */
    struct {
        const char *name;
        double led, frame;
    } effect[COST_EFFECTS]; /* a LED, bytes and all; a frame more than a plain one */
};

static const struct costs all_costs[] = {
    {"Cortex-M0+",
     2801,
     948,
     1396,
     83.9,
     21.8,
     303.0,
     16.9,
     46.7,
     94.6,
     95.7,
     {26.9, 50.7, 84.7, 84.7, 77.6},
     53.6,
     329.0,
     29.4,
     33.2,
     {{"plain", 86.1, 0},
      {"breathing", 86.4, 234},
      {"filling", 120.3, 111},
      {"walker", 104.0, 140},
      {"comet", 157.4, 822},
      {"escort", 191.4, 91},
      {"procession", 150.2, 19},
      {"pattern", 207.7, 45},
      {"flow", 151.2, 178},
      {"swell", 168.8, 24},
      {"twinkle", 216.8, -174},
      {"motley", 308.2, -504}}},
    {"Cortex-M4",
     1382,
     541,
     620,
     57.8,
     17.2,
     168.1,
     15.1,
     33.0,
     29.1,
     49.3,
     {22.4, 43.2, 67.2, 67.2, 53.6},
     46.9,
     237.8,
     19.0,
     27.2,
     {{"plain", 64.5, 0},
      {"breathing", 65.7, 69},
      {"filling", 90.1, 56},
      {"walker", 79.3, 110},
      {"comet", 109.4, 600},
      {"escort", 143.6, 54},
      {"procession", 113.6, 13},
      {"pattern", 129.1, 18},
      {"flow", 110.3, 152},
      {"swell", 122.3, 13},
      {"twinkle", 126.4, -96},
      {"motley", 188.1, -420}}},
    {"RV32IMC",
     1771,
     540,
     914,
     56.1,
     24.5,
     197.1,
     14.2,
     25.5,
     24.9,
     40.9,
     {24.3, 34.8, 46.8, 46.8, 52.2},
     43.7,
     249.8,
     27.1,
     34.1,
     {{"plain", 66.6, 0},
      {"breathing", 66.8, 102},
      {"filling", 89.6, 60},
      {"walker", 77.5, 137},
      {"comet", 116.2, 788},
      {"escort", 127.0, 70},
      {"procession", 102.5, 24},
      {"pattern", 165.3, 25},
      {"flow", 112.7, 155},
      {"swell", 135.1, 23},
      {"twinkle", 144.5, -111},
      {"motley", 212.9, -459}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {58.1, 45.1, 47.6};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 27730
static const struct {
    const char *name;
    unsigned bytes;
} flash_costs[] = {
    {"plain", 131},   {"breathing", 371},  {"filling", 722},  {"walker", 633},  {"comet", 1019},
    {"escort", 1063}, {"procession", 770}, {"pattern", 776},  {"flow", 523},    {"swell", 572},
    {"twinkle", 470}, {"motley", 543},     {"one-wire", 733}, {"clocked", 932}, {"documents", 30017},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 805
#define COST_RAM_SEGMENT 928
#define COST_RAM_OUTPUT 35
#define COST_RAM_INPUT 176
#define COST_STACK 1720

#endif
