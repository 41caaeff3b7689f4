/* SPDX-License-Identifier: MIT */
/* clang-format off */
/* Costs on each class of CPU, for the forecast. Written by bench/run.sh: do not edit. */
#ifndef GLANZ_TOOL_COSTS_H
#define GLANZ_TOOL_COSTS_H

#define COST_EFFECTS 34

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
    double spread, radial;          /* a LED whose palette runs by place; outward or around */
    struct { const char *name; double led, frame; } effect[COST_EFFECTS]; /* a LED, bytes and all; a frame more than a plain one */
};

static const struct costs all_costs[] = {
    {"Cortex-M0+", 2995, 978, 977, 85.2, 19.1, 253.2, 17.1, 42.7, 95.7, 96.3, {29.3, 51.5, 86.3, 86.3, 75.5}, 81.8, 38.3, 387.1, 95.6, 462.6, 29.1, 36.8, 0, 0,
     {{"plain", 67.2, 0}, {"breathing", 67.4, -384}, {"filling", 100.9, -456}, {"walker", 78.9, -343}, {"comet", 140.0, 325}, {"escort", 165.1, -444}, {"procession", 120.5, -524}, {"pattern", 190.5, -521}, {"flow", 115.9, -247}, {"swell", 138.1, -525}, {"twinkle", 215.1, -297}, {"motley", 291.3, -430}, {"needle", 78.9, 1495}, {"fire", 419.8, 440}, {"rain", 309.8, -1322}, {"ripples", 306.4, 5648}, {"plasma", 400.1, 311}, {"clouds", 338.7, 5187}, {"spokes", 313.7, 1388}, {"colony", 188.7, 1137}, {"fireworks", 360.4, 5606}, {"fountain", 223.7, 30550}, {"marbles", 227.8, 27174}, {"tidemark", 292.9, 514}, {"columns", 365.5, 1639}, {"loudness", 229.8, 412}, {"sonogram", 339.1, 1061}, {"waveform", 262.0, 893}, {"throb", 68.2, -438}, {"sparks", 313.6, 958}, {"hoppers", 223.2, 3425}, {"text", 303.5, 13684}, {"picture", 389.4, 1972}, {"marked", 199.2, 1354}}},
    {"Cortex-M4", 2034, 649, 683, 64.4, 15.8, 169.2, 15.1, 28.5, 28.1, 50.7, {23.5, 43.1, 68.3, 68.3, 52.1}, 77.8, 27.3, 289.3, 58.5, 311.9, 19.0, 26.2, 0, 0,
     {{"plain", 53.8, 0}, {"breathing", 54.1, -348}, {"filling", 80.4, -357}, {"walker", 65.2, -285}, {"comet", 109.3, 194}, {"escort", 130.5, -361}, {"procession", 99.3, -404}, {"pattern", 120.5, -400}, {"flow", 96.7, -142}, {"swell", 104.0, -405}, {"twinkle", 131.4, -219}, {"motley", 194.2, -405}, {"needle", 65.2, 1109}, {"fire", 292.6, 276}, {"rain", 177.5, -634}, {"ripples", 232.8, 4256}, {"plasma", 312.7, 173}, {"clouds", 226.6, 3340}, {"spokes", 244.0, 1437}, {"colony", 135.4, 818}, {"fireworks", 239.9, 3652}, {"fountain", 120.2, 16955}, {"marbles", 124.0, 22239}, {"tidemark", 203.5, 23}, {"columns", 251.5, 699}, {"loudness", 186.0, 196}, {"sonogram", 250.7, 422}, {"waveform", 194.1, 707}, {"throb", 54.5, -336}, {"sparks", 162.4, 581}, {"hoppers", 119.9, 2171}, {"text", 215.7, 9935}, {"picture", 262.0, 1127}, {"marked", 149.3, 902}}},
    {"RV32IMC", 2589, 702, 1102, 60.4, 22.6, 175.1, 14.2, 22.3, 25.7, 42.3, {24.6, 33.4, 46.5, 46.5, 49.4}, 72.8, 29.2, 314.7, 57.9, 381.0, 27.1, 36.0, 0, 0,
     {{"plain", 58.2, 0}, {"breathing", 58.4, -315}, {"filling", 82.3, -352}, {"walker", 65.7, -257}, {"comet", 115.7, 393}, {"escort", 117.1, -351}, {"procession", 90.3, -393}, {"pattern", 158.5, -391}, {"flow", 100.1, -146}, {"swell", 119.3, -394}, {"twinkle", 152.1, -281}, {"motley", 233.4, -484}, {"needle", 65.7, 1047}, {"fire", 346.9, 200}, {"rain", 199.1, -721}, {"ripples", 248.9, 4885}, {"plasma", 357.3, 344}, {"clouds", 260.5, 3888}, {"spokes", 262.6, 1237}, {"colony", 151.7, 980}, {"fireworks", 263.8, 4193}, {"fountain", 135.5, 17768}, {"marbles", 138.9, 20364}, {"tidemark", 229.4, 54}, {"columns", 261.6, 630}, {"loudness", 194.4, 176}, {"sonogram", 291.1, 463}, {"waveform", 218.3, 692}, {"throb", 59.0, -333}, {"sparks", 198.1, 593}, {"hoppers", 135.2, 2331}, {"text", 234.0, 10196}, {"picture", 270.2, 1994}, {"marked", 168.9, 1080}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {47.1, 38.4, 41.0};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {20.7, 18.4, 17.2};
static const double planned_costs[] = {2209, 743, 744}; /* an output */
/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */
static const double signal_costs[] = {342, 184, 224};
static const double drive_costs[] = {871, 534, 671};

/* sound: instructions a sample of each rate, a sample of each band, a tick of each band, a tick; of tempo a tick, of pitch a sample */
static const double sound_costs[3][6] = {
    {55.2, 75.9, 368.6, 2354.8, 4720, 316},
    {35.1, 49.7, 184.5, 2024.0, 2880, 168},
    {36.1, 57.0, 247.9, 2033.7, 3280, 236},
};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 19052
static const struct { const char *name; unsigned bytes; } flash_costs[] = {
    {"plain", 122},
    {"breathing", 270},
    {"filling", 547},
    {"walker", 549},
    {"comet", 1112},
    {"escort", 924},
    {"procession", 673},
    {"pattern", 706},
    {"flow", 525},
    {"swell", 500},
    {"twinkle", 487},
    {"motley", 444},
    {"needle", 340},
    {"fire", 833},
    {"rain", 739},
    {"ripples", 1203},
    {"plasma", 582},
    {"clouds", 871},
    {"spokes", 367},
    {"colony", 1122},
    {"fireworks", 1223},
    {"fountain", 1034},
    {"marbles", 1999},
    {"tidemark", 998},
    {"columns", 1229},
    {"loudness", 870},
    {"sonogram", 1302},
    {"waveform", 682},
    {"throb", 388},
    {"sparks", 768},
    {"hoppers", 882},
    {"text", 5878},
    {"picture", 3281},
    {"marked", 420},
    {"one-wire", 707}, {"clocked", 1196}, {"documents", 51987},
    {"calendar", 5996},
    /* parts: control with a button, three presets and crossfades */
    {"control", 9468}, {"playlists", 6784}, {"hands", 3888}, {"glides", 1480}, {"blends", 404}, {"colors", 944}, {"fields", 9676}, {"drives", 5980}, {"signals", 4572}, {"gestures", 2680}, {"saving", 19388},
    {"sound", 10100}, {"tempo", 1740}, {"pitch", 748},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 4088
#define COST_RAM_SEGMENT 1296
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 80
#define COST_RAM_STORE 4680
#define COST_STACK 2404

#endif
