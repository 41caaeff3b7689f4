/* SPDX-License-Identifier: MIT */
/* clang-format off */
/* Costs on each class of CPU, for the forecast. Written by bench/run.sh: do not edit. */
#ifndef GLANZ_TOOL_COSTS_H
#define GLANZ_TOOL_COSTS_H

#define COST_EFFECTS 55

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
    {"Cortex-M0+", 2867, 612, 982, 86.3, 19.9, 253.3, 20.7, 49.8, 101.5, 103.1, {38.9, 64.6, 99.3, 99.3, 88.6}, 76.1, 43.8, 270.5, 102.6, 450.7, 29.0, 36.8, 141.5, 180.9,
     {{"plain", 59.3, 0}, {"breathing", 59.5, -426}, {"filling", 93.0, -490}, {"walker", 71.0, -377}, {"comet", 132.2, 291}, {"escort", 156.8, -478}, {"procession", 113.4, -558}, {"pattern", 184.8, -555}, {"flow", 104.2, -287}, {"swell", 115.9, -559}, {"twinkle", 176.3, -429}, {"motley", 260.9, -515}, {"needle", 71.0, 1489}, {"dissolve", 162.2, -40}, {"bars", 267.6, -556}, {"beam", 285.8, 72}, {"helix", 263.9, 1412}, {"glints", 164.4, -136}, {"rope", 276.6, 306}, {"seabed", 300.1, 826}, {"embers", 305.5, 408}, {"stars", 201.0, -693}, {"snowfall", 151.0, 747}, {"waves", 347.1, -951}, {"surf", 269.2, 2088}, {"wake", 255.5, 5899}, {"shoal", 188.8, -573}, {"weed", 346.9, 55}, {"fogbank", 228.0, 2114}, {"sea sparkle", 304.7, 383}, {"lanterns", 160.0, 12120}, {"gauge", 199.2, -49}, {"clock face", 149.6, 996}, {"sea mark", 82.1, -28}, {"fire", 355.6, 288}, {"rain", 275.8, -1599}, {"ripples", 245.3, 3727}, {"plasma", 288.0, 8}, {"clouds", 272.7, 4040}, {"spokes", 267.4, 1383}, {"colony", 181.9, 888}, {"fireworks", 309.9, 4180}, {"fountain", 112.5, 22667}, {"marbles", 112.7, 9014}, {"tidemark", 169.4, 1034}, {"columns", 287.8, 2304}, {"loudness", 186.9, 2152}, {"sonogram", 338.2, 1227}, {"waveform", 261.1, 1075}, {"throb", 60.4, -118}, {"sparks", 240.3, 1176}, {"hoppers", 112.1, 3371}, {"text", 291.1, 13709}, {"picture", 278.3, 1359}, {"marked", 166.8, 1057}}},
    {"Cortex-M4", 1925, 406, 678, 64.9, 16.2, 172.3, 16.2, 33.0, 30.2, 54.1, {30.0, 51.9, 77.1, 77.1, 60.9}, 58.7, 27.7, 205.4, 63.6, 299.3, 19.0, 26.2, 105.7, 145.7,
     {{"plain", 44.6, 0}, {"breathing", 44.8, -360}, {"filling", 71.2, -363}, {"walker", 55.9, -292}, {"comet", 100.0, 188}, {"escort", 120.0, -367}, {"procession", 87.7, -410}, {"pattern", 111.7, -406}, {"flow", 82.9, -209}, {"swell", 87.3, -410}, {"twinkle", 127.7, -331}, {"motley", 190.5, -531}, {"needle", 55.9, 1102}, {"dissolve", 117.1, -21}, {"bars", 192.2, -421}, {"beam", 212.0, 57}, {"helix", 193.4, 911}, {"glints", 122.0, -92}, {"rope", 193.6, 211}, {"seabed", 211.2, 571}, {"embers", 215.9, 281}, {"stars", 132.2, -387}, {"snowfall", 105.6, 499}, {"waves", 240.5, -673}, {"surf", 198.0, 1551}, {"wake", 190.9, 3832}, {"shoal", 134.9, -406}, {"weed", 240.4, 55}, {"fogbank", 160.6, 1434}, {"sea sparkle", 224.6, 301}, {"lanterns", 117.9, 6987}, {"gauge", 131.7, -3}, {"clock face", 108.7, 673}, {"sea mark", 60.0, -26}, {"fire", 253.4, 190}, {"rain", 188.3, -914}, {"ripples", 183.9, 2953}, {"plasma", 221.3, -60}, {"clouds", 190.2, 2884}, {"spokes", 199.3, 1004}, {"colony", 131.7, 693}, {"fireworks", 205.4, 2625}, {"fountain", 81.4, 14523}, {"marbles", 81.7, 6203}, {"tidemark", 128.6, 293}, {"columns", 197.2, 1245}, {"loudness", 134.8, 1415}, {"sonogram", 247.0, 534}, {"waveform", 190.5, 810}, {"throb", 45.2, -82}, {"sparks", 158.9, 698}, {"hoppers", 81.1, 2201}, {"text", 204.4, 10366}, {"picture", 184.3, 957}, {"marked", 119.3, 707}}},
    {"RV32IMC", 2460, 423, 1101, 61.1, 23.3, 175.3, 15.3, 27.5, 29.9, 46.3, {32.1, 43.6, 56.7, 56.7, 59.6}, 42.7, 27.5, 232.4, 67.8, 362.7, 27.1, 36.0, 124.2, 180.6,
     {{"plain", 52.0, 0}, {"breathing", 52.2, -335}, {"filling", 76.1, -360}, {"walker", 59.5, -264}, {"comet", 109.6, 385}, {"escort", 110.7, -359}, {"procession", 84.0, -401}, {"pattern", 153.1, -399}, {"flow", 86.1, -252}, {"swell", 102.0, -401}, {"twinkle", 150.5, -436}, {"motley", 231.8, -650}, {"needle", 59.5, 1044}, {"dissolve", 119.8, -45}, {"bars", 203.6, -528}, {"beam", 249.9, 28}, {"helix", 210.4, 976}, {"glints", 137.4, -141}, {"rope", 216.1, 187}, {"seabed", 227.2, 702}, {"embers", 237.8, 335}, {"stars", 148.3, -400}, {"snowfall", 122.2, 469}, {"waves", 286.0, -853}, {"surf", 204.7, 1851}, {"wake", 210.2, 4169}, {"shoal", 155.6, -522}, {"weed", 278.7, -94}, {"fogbank", 183.8, 1780}, {"sea sparkle", 252.0, 238}, {"lanterns", 130.2, 7467}, {"gauge", 145.4, -54}, {"clock face", 118.1, 645}, {"sea mark", 68.8, -63}, {"fire", 291.0, 50}, {"rain", 241.3, -1365}, {"ripples", 201.1, 3165}, {"plasma", 242.0, 11}, {"clouds", 216.8, 3293}, {"spokes", 220.3, 689}, {"colony", 150.1, 814}, {"fireworks", 230.5, 3152}, {"fountain", 92.6, 15229}, {"marbles", 93.0, 6423}, {"tidemark", 143.3, 312}, {"columns", 184.8, 1017}, {"loudness", 127.9, 1107}, {"sonogram", 289.5, 532}, {"waveform", 216.7, 757}, {"throb", 52.9, -81}, {"sparks", 197.5, 704}, {"hoppers", 92.3, 2350}, {"text", 229.1, 9508}, {"picture", 193.9, 1737}, {"marked", 128.6, 772}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {46.2, 34.2, 40.3};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {21.8, 18.4, 18.4};
static const double planned_costs[] = {1330, 751, 744}; /* an output */
/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */
static const double signal_costs[] = {341, 180, 221};
static const double drive_costs[] = {1050, 673, 800};

/* sound: instructions a sample of each rate, a sample of each band, a tick of each band, a tick; of tempo a tick, of pitch a sample */
static const double sound_costs[3][6] = {
    {73.9, 49.0, 779.3, 960.9, 4320, 315},
    {42.3, 37.6, 375.5, 1299.8, 3120, 168},
    {42.9, 45.0, 427.1, 1511.7, 3520, 236},
};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 19304
static const struct { const char *name; unsigned bytes; } flash_costs[] = {
    {"plain", 126},
    {"breathing", 274},
    {"filling", 551},
    {"walker", 553},
    {"comet", 1116},
    {"escort", 948},
    {"procession", 689},
    {"pattern", 710},
    {"flow", 515},
    {"swell", 512},
    {"twinkle", 483},
    {"motley", 440},
    {"needle", 344},
    {"dissolve", 756},
    {"bars", 1401},
    {"beam", 859},
    {"helix", 806},
    {"glints", 645},
    {"rope", 652},
    {"seabed", 765},
    {"embers", 794},
    {"stars", 978},
    {"snowfall", 1356},
    {"waves", 863},
    {"surf", 1249},
    {"wake", 1005},
    {"shoal", 920},
    {"weed", 1261},
    {"fogbank", 845},
    {"sea sparkle", 1268},
    {"lanterns", 1115},
    {"gauge", 837},
    {"clock face", 1300},
    {"sea mark", 1155},
    {"fire", 821},
    {"rain", 875},
    {"ripples", 1203},
    {"plasma", 580},
    {"clouds", 887},
    {"spokes", 359},
    {"colony", 1126},
    {"fireworks", 1227},
    {"fountain", 1088},
    {"marbles", 2053},
    {"tidemark", 1116},
    {"columns", 1261},
    {"loudness", 1030},
    {"sonogram", 1306},
    {"waveform", 686},
    {"throb", 392},
    {"sparks", 794},
    {"hoppers", 892},
    {"text", 6142},
    {"picture", 3405},
    {"marked", 424},
    {"one-wire", 707}, {"clocked", 1196}, {"documents", 55931},
    {"calendar", 5996},
    /* parts: control with a button, three presets and crossfades */
    {"control", 9548}, {"playlists", 6828}, {"hands", 3904}, {"glides", 1620}, {"blends", 404}, {"colors", 1828}, {"fields", 12800}, {"drives", 6064}, {"signals", 4580}, {"gestures", 2680}, {"saving", 21784},
    {"sound", 10110}, {"tempo", 2494}, {"pitch", 748},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 4109
#define COST_RAM_SEGMENT 1395
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 80
#define COST_RAM_STORE 4680
#define COST_STACK 2868

#endif
