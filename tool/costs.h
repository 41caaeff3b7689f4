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
    {"Cortex-M0+", 2761, 604, 877, 86.3, 19.9, 253.3, 20.7, 49.8, 101.5, 103.1, {38.9, 64.6, 99.4, 99.4, 88.6}, 76.1, 43.8, 270.5, 102.6, 450.6, 29.0, 36.8, 141.5, 180.9,
     {{"plain", 59.3, 0}, {"breathing", 59.5, -426}, {"filling", 93.0, -490}, {"walker", 71.0, -377}, {"comet", 132.1, 291}, {"escort", 156.8, -478}, {"procession", 113.4, -558}, {"pattern", 184.8, -555}, {"flow", 104.2, -287}, {"swell", 115.9, -559}, {"twinkle", 176.2, -429}, {"motley", 260.9, -515}, {"needle", 71.0, 1489}, {"dissolve", 162.2, -40}, {"bars", 267.6, -556}, {"beam", 285.8, 72}, {"helix", 263.9, 1412}, {"glints", 164.4, -136}, {"rope", 276.6, 306}, {"seabed", 296.4, 923}, {"embers", 302.6, 433}, {"stars", 201.0, -693}, {"snowfall", 151.0, 747}, {"waves", 347.1, -951}, {"surf", 269.1, 2088}, {"wake", 255.5, 5899}, {"shoal", 188.7, -573}, {"weed", 346.8, 55}, {"fogbank", 211.2, 4093}, {"sea sparkle", 304.7, 382}, {"lanterns", 160.0, 12120}, {"gauge", 199.2, -49}, {"clock face", 149.6, 995}, {"sea mark", 82.0, -28}, {"fire", 285.3, 705}, {"rain", 275.8, -1599}, {"ripples", 245.2, 3726}, {"plasma", 288.0, 8}, {"clouds", 252.6, 3331}, {"spokes", 267.3, 1383}, {"colony", 181.9, 888}, {"fireworks", 309.8, 4180}, {"fountain", 112.4, 22666}, {"marbles", 112.7, 9014}, {"tidemark", 169.4, 1034}, {"columns", 287.7, 2303}, {"loudness", 186.8, 2152}, {"sonogram", 338.2, 1226}, {"waveform", 261.0, 1074}, {"throb", 60.3, -120}, {"sparks", 240.3, 1175}, {"hoppers", 112.0, 3370}, {"text", 291.1, 13708}, {"picture", 278.4, 1358}, {"marked", 166.8, 1057}}},
    {"Cortex-M4", 1844, 408, 597, 64.9, 16.2, 172.3, 16.2, 33.0, 30.3, 54.2, {30.1, 52.0, 77.2, 77.2, 61.0}, 58.7, 27.7, 205.4, 63.6, 301.3, 19.0, 26.2, 105.7, 145.7,
     {{"plain", 44.6, 0}, {"breathing", 44.8, -360}, {"filling", 71.2, -363}, {"walker", 55.9, -292}, {"comet", 100.0, 188}, {"escort", 120.0, -367}, {"procession", 87.7, -410}, {"pattern", 111.7, -406}, {"flow", 82.9, -209}, {"swell", 87.3, -410}, {"twinkle", 127.8, -331}, {"motley", 190.6, -531}, {"needle", 55.9, 1102}, {"dissolve", 117.1, -21}, {"bars", 192.2, -421}, {"beam", 212.0, 57}, {"helix", 193.4, 911}, {"glints", 122.1, -92}, {"rope", 193.7, 211}, {"seabed", 212.3, 746}, {"embers", 216.7, 322}, {"stars", 132.3, -387}, {"snowfall", 105.7, 499}, {"waves", 240.5, -673}, {"surf", 198.1, 1551}, {"wake", 191.0, 3832}, {"shoal", 135.0, -406}, {"weed", 240.5, 55}, {"fogbank", 156.0, 3211}, {"sea sparkle", 224.7, 301}, {"lanterns", 118.0, 6987}, {"gauge", 131.8, -3}, {"clock face", 108.8, 673}, {"sea mark", 60.1, -26}, {"fire", 223.0, 467}, {"rain", 188.3, -914}, {"ripples", 184.0, 2953}, {"plasma", 221.4, -60}, {"clouds", 187.7, 2568}, {"spokes", 199.4, 1004}, {"colony", 131.8, 693}, {"fireworks", 205.4, 2625}, {"fountain", 81.4, 14523}, {"marbles", 81.8, 6203}, {"tidemark", 128.6, 293}, {"columns", 197.3, 1245}, {"loudness", 134.9, 1415}, {"sonogram", 247.1, 534}, {"waveform", 190.5, 810}, {"throb", 45.2, -82}, {"sparks", 159.0, 698}, {"hoppers", 81.1, 2201}, {"text", 204.5, 10366}, {"picture", 184.4, 957}, {"marked", 119.4, 707}}},
    {"RV32IMC", 2022, 420, 661, 61.1, 23.3, 175.3, 15.3, 27.5, 29.9, 46.3, {32.1, 43.6, 56.7, 56.7, 59.6}, 42.7, 27.5, 232.4, 67.8, 362.7, 27.1, 36.0, 124.2, 180.6,
     {{"plain", 52.0, 0}, {"breathing", 52.2, -335}, {"filling", 76.1, -360}, {"walker", 59.5, -264}, {"comet", 109.6, 385}, {"escort", 110.7, -359}, {"procession", 83.9, -401}, {"pattern", 153.1, -399}, {"flow", 86.1, -252}, {"swell", 102.0, -401}, {"twinkle", 150.5, -436}, {"motley", 231.8, -650}, {"needle", 59.5, 1044}, {"dissolve", 119.7, -45}, {"bars", 203.6, -528}, {"beam", 249.9, 28}, {"helix", 210.3, 976}, {"glints", 137.3, -141}, {"rope", 216.1, 187}, {"seabed", 222.3, 1083}, {"embers", 238.7, 414}, {"stars", 148.2, -400}, {"snowfall", 122.2, 469}, {"waves", 286.0, -853}, {"surf", 204.6, 1851}, {"wake", 210.2, 4169}, {"shoal", 155.5, -522}, {"weed", 278.7, -94}, {"fogbank", 176.1, 4324}, {"sea sparkle", 252.0, 234}, {"lanterns", 130.2, 7467}, {"gauge", 145.4, -54}, {"clock face", 118.0, 643}, {"sea mark", 68.8, -63}, {"fire", 256.1, 690}, {"rain", 241.3, -1365}, {"ripples", 201.1, 3161}, {"plasma", 242.0, 11}, {"clouds", 205.5, 3330}, {"spokes", 220.3, 689}, {"colony", 150.0, 814}, {"fireworks", 230.5, 3152}, {"fountain", 92.6, 15225}, {"marbles", 93.0, 6423}, {"tidemark", 143.3, 312}, {"columns", 184.8, 1015}, {"loudness", 127.9, 1105}, {"sonogram", 289.4, 530}, {"waveform", 216.7, 755}, {"throb", 52.8, -85}, {"sparks", 197.5, 700}, {"hoppers", 92.3, 2346}, {"text", 229.0, 9506}, {"picture", 193.8, 1735}, {"marked", 128.5, 772}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {46.2, 34.2, 40.3};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {21.8, 18.4, 18.4};
static const double planned_costs[] = {1330, 751, 744}; /* an output */
/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */
static const double signal_costs[] = {279, 169, 211};
static const double drive_costs[] = {1007, 674, 804};

/* sound: instructions a sample of each rate, a sample of each band, a tick of each band, a tick; of tempo a tick, of pitch a sample */
static const double sound_costs[3][6] = {
    {72.9, 49.4, 764.7, 992.9, 4320, 314},
    {42.4, 37.6, 372.6, 1300.0, 3200, 167},
    {42.9, 45.0, 427.1, 1511.7, 3520, 236},
};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 19236
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
    {"seabed", 833},
    {"embers", 786},
    {"stars", 978},
    {"snowfall", 1356},
    {"waves", 863},
    {"surf", 1249},
    {"wake", 1005},
    {"shoal", 920},
    {"weed", 1261},
    {"fogbank", 1049},
    {"sea sparkle", 1268},
    {"lanterns", 1115},
    {"gauge", 837},
    {"clock face", 1300},
    {"sea mark", 1155},
    {"fire", 843},
    {"rain", 875},
    {"ripples", 1203},
    {"plasma", 580},
    {"clouds", 965},
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
    {"one-wire", 707}, {"clocked", 1196}, {"documents", 55955},
    {"calendar", 5912},
    /* parts: control with a button, three presets and crossfades */
    {"control", 9228}, {"playlists", 6696}, {"hands", 3860}, {"glides", 1620}, {"blends", 404}, {"colors", 1848}, {"fields", 12656}, {"drives", 5924}, {"signals", 4572}, {"gestures", 2680}, {"saving", 21780},
    {"sound", 10464}, {"tempo", 2494}, {"pitch", 748},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 4109
#define COST_RAM_SEGMENT 1395
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 80
#define COST_RAM_STORE 4680
#define COST_STACK 2872

#endif
