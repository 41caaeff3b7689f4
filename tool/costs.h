/* SPDX-License-Identifier: MIT */
/* clang-format off */
/* Costs on each class of CPU, for the forecast. Written by bench/run.sh: do not edit. */
#ifndef GLANZ_TOOL_COSTS_H
#define GLANZ_TOOL_COSTS_H

#define COST_EFFECTS 24

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
    {"Cortex-M0+", 3027, 943, 977, 85.2, 19.1, 253.2, 17.1, 42.7, 95.7, 96.2, {29.2, 51.4, 86.1, 86.1, 75.4}, 81.8, 38.9, 387.1, 94.4, 462.6, 29.1, 36.8,
     {{"plain", 67.2, 0}, {"breathing", 67.4, -390}, {"filling", 100.9, -462}, {"walker", 78.9, -349}, {"comet", 140.0, 319}, {"escort", 165.1, -450}, {"procession", 120.5, -530}, {"pattern", 190.5, -527}, {"flow", 115.9, -253}, {"swell", 138.1, -531}, {"twinkle", 215.7, -299}, {"motley", 291.9, -436}, {"needle", 78.9, 1501}, {"fire", 420.4, 434}, {"rain", 310.4, -1328}, {"ripples", 311.6, 5639}, {"plasma", 400.7, 305}, {"clouds", 339.3, 5059}, {"spokes", 314.3, 1382}, {"colony", 189.3, 1131}, {"fireworks", 361.0, 5600}, {"text", 304.1, 13679}, {"picture", 390.0, 1970}, {"marked", 199.8, 1354}}},
    {"Cortex-M4", 2055, 621, 684, 64.4, 15.8, 169.2, 15.2, 28.5, 28.1, 50.6, {23.4, 43.0, 68.2, 68.2, 52.0}, 77.9, 28.0, 285.2, 56.2, 312.4, 19.0, 26.2,
     {{"plain", 53.8, 0}, {"breathing", 54.1, -354}, {"filling", 80.4, -362}, {"walker", 65.2, -290}, {"comet", 109.3, 189}, {"escort", 130.5, -366}, {"procession", 99.3, -409}, {"pattern", 120.5, -405}, {"flow", 96.7, -147}, {"swell", 104.0, -410}, {"twinkle", 132.0, -221}, {"motley", 194.9, -410}, {"needle", 65.2, 1102}, {"fire", 293.3, 271}, {"rain", 178.2, -639}, {"ripples", 233.6, 4136}, {"plasma", 313.4, 168}, {"clouds", 227.3, 3285}, {"spokes", 244.7, 1432}, {"colony", 136.1, 813}, {"fireworks", 240.6, 3647}, {"text", 216.3, 9930}, {"picture", 262.7, 1122}, {"marked", 150.0, 902}}},
    {"RV32IMC", 2632, 684, 1102, 60.4, 22.6, 175.1, 14.2, 22.3, 25.7, 42.2, {24.6, 33.3, 46.4, 46.4, 49.3}, 72.8, 29.6, 308.7, 53.7, 381.0, 27.1, 36.0,
     {{"plain", 58.2, 0}, {"breathing", 58.4, -316}, {"filling", 82.3, -353}, {"walker", 65.7, -258}, {"comet", 115.7, 392}, {"escort", 117.1, -352}, {"procession", 90.3, -394}, {"pattern", 158.5, -392}, {"flow", 100.1, -147}, {"swell", 119.3, -395}, {"twinkle", 152.5, -281}, {"motley", 233.8, -485}, {"needle", 65.7, 1053}, {"fire", 347.3, 199}, {"rain", 199.5, -722}, {"ripples", 246.0, 4871}, {"plasma", 357.7, 343}, {"clouds", 260.9, 3817}, {"spokes", 263.0, 1236}, {"colony", 152.1, 979}, {"fireworks", 264.2, 4192}, {"text", 234.4, 10195}, {"picture", 270.6, 1994}, {"marked", 169.4, 1080}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {47.1, 38.4, 41.0};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {20.7, 18.4, 17.2};
static const double planned_costs[] = {2209, 743, 744}; /* an output */
/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */
static const double signal_costs[] = {234, 135, 165};
static const double drive_costs[] = {846, 515, 655};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 18352
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
    {"text", 5878},
    {"picture", 3279},
    {"marked", 416},
    {"one-wire", 707}, {"clocked", 1196}, {"documents", 43320},
    {"calendar", 5972},
    /* parts: control with a button, three presets and crossfades */
    {"control", 8576}, {"playlists", 6320}, {"hands", 1284}, {"glides", 1464}, {"blends", 404}, {"colors", 944}, {"fields", 8884}, {"drives", 5252}, {"signals", 3368}, {"saving", 17656},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 2992
#define COST_RAM_SEGMENT 1120
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 56
#define COST_RAM_STORE 4664
#define COST_STACK 2340

#endif
