/* SPDX-License-Identifier: MIT */
/* clang-format off */
/* Costs on each class of CPU, for the forecast. Written by bench/run.sh: do not edit. */
#ifndef GLANZ_TOOL_COSTS_H
#define GLANZ_TOOL_COSTS_H

#define COST_EFFECTS 12

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
    {"Cortex-M0+", 2802, 964, 1396, 82.9, 20.8, 305.7, 16.9, 46.7, 94.6, 95.7, {26.8, 50.7, 84.6, 84.6, 77.5}, 53.6, 10.0, 250.0, 60.0, 332.3, 29.4, 33.2,
     {{"plain", 83.4, 0}, {"breathing", 83.7, 233}, {"filling", 117.6, 110}, {"walker", 101.3, 139}, {"comet", 154.7, 821}, {"escort", 188.7, 90}, {"procession", 147.4, 18}, {"pattern", 205.0, 44}, {"flow", 148.5, 177}, {"swell", 166.1, 23}, {"twinkle", 214.1, -175}, {"motley", 305.5, -505}}},
    {"Cortex-M4", 1383, 561, 620, 57.1, 16.6, 169.5, 15.1, 33.0, 29.1, 49.4, {22.7, 43.4, 67.4, 67.4, 53.8}, 46.9, 10.0, 250.0, 60.0, 240.3, 19.0, 27.2,
     {{"plain", 62.5, 0}, {"breathing", 63.7, 68}, {"filling", 88.1, 55}, {"walker", 77.3, 109}, {"comet", 107.4, 599}, {"escort", 141.6, 53}, {"procession", 111.6, 12}, {"pattern", 127.1, 17}, {"flow", 108.3, 151}, {"swell", 120.3, 12}, {"twinkle", 124.4, -97}, {"motley", 186.1, -421}}},
    {"RV32IMC", 1771, 564, 915, 55.1, 23.5, 199.4, 14.2, 25.5, 24.9, 40.9, {24.2, 34.7, 46.7, 46.7, 52.2}, 43.7, 10.0, 250.0, 60.0, 254.1, 27.1, 34.1,
     {{"plain", 64.8, 0}, {"breathing", 65.0, 103}, {"filling", 87.8, 61}, {"walker", 75.7, 138}, {"comet", 114.3, 789}, {"escort", 125.2, 71}, {"procession", 100.7, 25}, {"pattern", 163.5, 26}, {"flow", 110.9, 156}, {"swell", 133.3, 24}, {"twinkle", 142.7, -110}, {"motley", 211.0, -458}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {55.3, 43.2, 45.7};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 27774
static const struct { const char *name; unsigned bytes; } flash_costs[] = {
    {"plain", 98},
    {"breathing", 246},
    {"filling", 505},
    {"walker", 475},
    {"comet", 774},
    {"escort", 838},
    {"procession", 633},
    {"pattern", 684},
    {"flow", 347},
    {"swell", 454},
    {"twinkle", 347},
    {"motley", 384},
    {"one-wire", 531}, {"clocked", 830}, {"documents", 30017},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 805
#define COST_RAM_SEGMENT 928
#define COST_RAM_OUTPUT 35
#define COST_RAM_INPUT 176
#define COST_STACK 1720

#endif
