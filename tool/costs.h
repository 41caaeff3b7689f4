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
    {"Cortex-M0+", 3014, 993, 977, 85.2, 19.1, 253.2, 17.1, 42.7, 95.7, 96.5, {29.4, 51.6, 86.3, 86.3, 75.6}, 81.8, 38.3, 387.1, 95.6, 462.6, 29.0, 36.8, 145.7, 267.4,
     {{"plain", 67.4, 0}, {"breathing", 67.6, -390}, {"filling", 101.0, -463}, {"walker", 79.0, -350}, {"comet", 140.2, 318}, {"escort", 165.3, -451}, {"procession", 120.7, -531}, {"pattern", 190.7, -528}, {"flow", 116.1, -254}, {"swell", 138.3, -532}, {"twinkle", 215.4, -304}, {"motley", 291.5, -442}, {"needle", 79.0, 1500}, {"dissolve", 358.7, 190}, {"bars", 448.6, -118}, {"beam", 333.3, 646}, {"helix", 283.5, 1586}, {"glints", 219.5, -99}, {"rope", 293.7, 985}, {"seabed", 354.5, 774}, {"embers", 351.5, 545}, {"stars", 357.0, -920}, {"snowfall", 268.5, 771}, {"waves", 369.3, -906}, {"surf", 382.1, 4468}, {"wake", 266.8, 6259}, {"shoal", 324.7, -847}, {"weed", 367.0, 185}, {"fogbank", 361.0, 822}, {"sea sparkle", 335.3, 207}, {"lanterns", 327.1, 19877}, {"gauge", 213.9, 79}, {"clock face", 302.7, 716}, {"sea mark", 83.2, 116}, {"fire", 420.0, 428}, {"rain", 337.8, -1369}, {"ripples", 306.7, 5638}, {"plasma", 400.4, 299}, {"clouds", 337.9, 5114}, {"spokes", 313.9, 1376}, {"colony", 189.0, 1125}, {"fireworks", 360.6, 5594}, {"fountain", 223.9, 30540}, {"marbles", 228.0, 27162}, {"tidemark", 293.2, 502}, {"columns", 365.7, 1566}, {"loudness", 230.9, 387}, {"sonogram", 339.4, 1049}, {"waveform", 262.2, 881}, {"throb", 68.4, -446}, {"sparks", 316.0, 1005}, {"hoppers", 223.4, 3414}, {"text", 301.7, 13823}, {"picture", 389.7, 1959}, {"marked", 199.5, 1349}}},
    {"Cortex-M4", 2052, 666, 684, 64.4, 15.8, 169.2, 15.2, 28.5, 28.1, 50.9, {23.6, 43.2, 68.4, 68.4, 52.2}, 77.9, 27.3, 289.3, 58.5, 313.2, 19.0, 26.2, 109.9, 205.5,
     {{"plain", 54.0, 0}, {"breathing", 54.2, -352}, {"filling", 80.6, -360}, {"walker", 65.3, -288}, {"comet", 109.4, 191}, {"escort", 130.6, -364}, {"procession", 99.4, -407}, {"pattern", 120.7, -403}, {"flow", 96.8, -145}, {"swell", 104.1, -408}, {"twinkle", 131.5, -223}, {"motley", 194.3, -412}, {"needle", 65.3, 1108}, {"dissolve", 158.7, 101}, {"bars", 231.1, 134}, {"beam", 248.7, 161}, {"helix", 213.9, 1030}, {"glints", 156.7, 4}, {"rope", 208.5, 340}, {"seabed", 240.2, 399}, {"embers", 239.1, 327}, {"stars", 203.0, -545}, {"snowfall", 146.7, 530}, {"waves", 268.4, -680}, {"surf", 207.7, 1779}, {"wake", 203.4, 4269}, {"shoal", 182.1, -488}, {"weed", 250.6, 174}, {"fogbank", 253.8, 166}, {"sea sparkle", 228.4, 184}, {"lanterns", 205.1, 13582}, {"gauge", 144.5, 118}, {"clock face", 177.0, 492}, {"sea mark", 63.8, 93}, {"fire", 292.8, 269}, {"rain", 190.3, -715}, {"ripples", 233.0, 4249}, {"plasma", 312.8, 166}, {"clouds", 224.9, 3271}, {"spokes", 244.1, 1430}, {"colony", 135.5, 811}, {"fireworks", 240.0, 3645}, {"fountain", 120.3, 16949}, {"marbles", 124.1, 22232}, {"tidemark", 203.6, 16}, {"columns", 251.6, 678}, {"loudness", 185.9, 162}, {"sonogram", 250.8, 415}, {"waveform", 194.3, 700}, {"throb", 54.6, -340}, {"sparks", 162.7, 580}, {"hoppers", 120.0, 2164}, {"text", 214.3, 10043}, {"picture", 262.2, 1118}, {"marked", 149.5, 898}}},
    {"RV32IMC", 2602, 711, 1102, 60.4, 22.6, 175.1, 14.2, 22.3, 25.7, 42.4, {24.7, 33.4, 46.6, 46.6, 49.4}, 72.8, 29.2, 314.7, 57.9, 381.1, 27.1, 36.0, 132.9, 253.9,
     {{"plain", 58.2, 0}, {"breathing", 58.5, -321}, {"filling", 82.4, -358}, {"walker", 65.8, -262}, {"comet", 115.8, 387}, {"escort", 117.2, -357}, {"procession", 90.4, -399}, {"pattern", 158.6, -397}, {"flow", 100.2, -152}, {"swell", 119.4, -400}, {"twinkle", 152.2, -287}, {"motley", 233.5, -493}, {"needle", 65.8, 1050}, {"dissolve", 191.4, 122}, {"bars", 240.8, 97}, {"beam", 275.5, 42}, {"helix", 240.3, 1218}, {"glints", 175.0, -10}, {"rope", 230.2, 390}, {"seabed", 267.1, 517}, {"embers", 281.6, 395}, {"stars", 231.1, -499}, {"snowfall", 167.6, 554}, {"waves", 325.8, -875}, {"surf", 217.4, 2254}, {"wake", 220.9, 4682}, {"shoal", 210.4, -581}, {"weed", 291.9, 30}, {"fogbank", 295.1, 399}, {"sea sparkle", 253.7, 158}, {"lanterns", 215.5, 13306}, {"gauge", 150.5, 107}, {"clock face", 206.9, 478}, {"sea mark", 70.5, 95}, {"fire", 347.0, 191}, {"rain", 242.5, -1127}, {"ripples", 249.2, 4874}, {"plasma", 357.4, 335}, {"clouds", 260.2, 3868}, {"spokes", 262.7, 1228}, {"colony", 151.7, 971}, {"fireworks", 263.9, 4184}, {"fountain", 135.6, 17759}, {"marbles", 139.0, 20355}, {"tidemark", 229.4, 45}, {"columns", 261.7, 608}, {"loudness", 193.0, 145}, {"sonogram", 291.1, 454}, {"waveform", 218.4, 683}, {"throb", 59.1, -339}, {"sparks", 199.2, 624}, {"hoppers", 135.3, 2322}, {"text", 232.6, 10321}, {"picture", 270.3, 1986}, {"marked", 169.1, 1077}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {47.1, 38.4, 41.0};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {20.7, 18.4, 17.2};
static const double planned_costs[] = {2209, 743, 744}; /* an output */
/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */
static const double signal_costs[] = {342, 184, 224};
static const double drive_costs[] = {871, 529, 671};

/* sound: instructions a sample of each rate, a sample of each band, a tick of each band, a tick; of tempo a tick, of pitch a sample */
static const double sound_costs[3][6] = {
    {55.2, 75.9, 368.6, 2354.8, 4720, 316},
    {35.1, 49.7, 184.5, 2024.0, 2880, 168},
    {36.1, 57.0, 247.9, 2033.7, 3280, 236},
};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 19196
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
    {"dissolve", 732},
    {"bars", 1353},
    {"beam", 855},
    {"helix", 822},
    {"glints", 657},
    {"rope", 660},
    {"seabed", 757},
    {"embers", 798},
    {"stars", 960},
    {"snowfall", 1248},
    {"waves", 875},
    {"surf", 1249},
    {"wake", 1013},
    {"shoal", 896},
    {"weed", 1253},
    {"fogbank", 829},
    {"sea sparkle", 1268},
    {"lanterns", 1155},
    {"gauge", 825},
    {"clock face", 1320},
    {"sea mark", 1151},
    {"fire", 841},
    {"rain", 867},
    {"ripples", 1195},
    {"plasma", 582},
    {"clouds", 907},
    {"spokes", 367},
    {"colony", 1122},
    {"fireworks", 1223},
    {"fountain", 1038},
    {"marbles", 1999},
    {"tidemark", 998},
    {"columns", 1229},
    {"loudness", 926},
    {"sonogram", 1302},
    {"waveform", 682},
    {"throb", 388},
    {"sparks", 790},
    {"hoppers", 882},
    {"text", 5902},
    {"picture", 3281},
    {"marked", 420},
    {"one-wire", 707}, {"clocked", 1196}, {"documents", 52952},
    {"calendar", 5996},
    /* parts: control with a button, three presets and crossfades */
    {"control", 9468}, {"playlists", 6784}, {"hands", 3888}, {"glides", 1528}, {"blends", 404}, {"colors", 944}, {"fields", 11708}, {"drives", 5964}, {"signals", 4572}, {"gestures", 2680}, {"saving", 20484},
    {"sound", 10166}, {"tempo", 1740}, {"pitch", 748},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 4088
#define COST_RAM_SEGMENT 1392
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 80
#define COST_RAM_STORE 4680
#define COST_STACK 2596

#endif
