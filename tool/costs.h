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
    {"Cortex-M0+", 3008, 1004, 977, 85.2, 19.1, 253.2, 17.1, 42.7, 95.7, 96.6, {29.4, 51.5, 86.3, 86.3, 75.5}, 81.8, 38.3, 387.1, 95.6, 462.7, 29.0, 36.8, 145.6, 267.3,
     {{"plain", 67.4, 0}, {"breathing", 67.6, -376}, {"filling", 101.1, -448}, {"walker", 79.1, -335}, {"comet", 140.2, 333}, {"escort", 165.3, -436}, {"procession", 120.7, -516}, {"pattern", 190.7, -513}, {"flow", 116.1, -239}, {"swell", 138.3, -517}, {"twinkle", 215.4, -302}, {"motley", 291.6, -427}, {"needle", 79.1, 1501}, {"dissolve", 358.8, 205}, {"bars", 448.7, -103}, {"beam", 333.3, 661}, {"helix", 283.5, 1601}, {"glints", 208.7, 296}, {"rope", 293.7, 1000}, {"seabed", 354.5, 789}, {"embers", 351.5, 560}, {"stars", 236.3, 30171}, {"snowfall", 227.4, 11975}, {"waves", 369.3, -891}, {"surf", 382.2, 4483}, {"wake", 266.8, 6274}, {"shoal", 220.0, 25971}, {"weed", 367.0, 200}, {"fogbank", 361.1, 837}, {"sea sparkle", 350.2, 571}, {"lanterns", 327.1, 19892}, {"gauge", 213.9, 80}, {"clock face", 302.7, 731}, {"sea mark", 83.2, 130}, {"fire", 420.0, 443}, {"rain", 337.8, -1354}, {"ripples", 306.7, 5652}, {"plasma", 400.4, 314}, {"clouds", 337.9, 5129}, {"spokes", 313.9, 1391}, {"colony", 189.0, 1140}, {"fireworks", 360.7, 5609}, {"fountain", 224.0, 30554}, {"marbles", 228.1, 27177}, {"tidemark", 293.2, 517}, {"columns", 365.8, 1581}, {"loudness", 231.0, 402}, {"sonogram", 339.4, 1064}, {"waveform", 262.2, 896}, {"throb", 68.4, -432}, {"sparks", 316.0, 1019}, {"hoppers", 223.5, 3428}, {"text", 301.7, 13838}, {"picture", 389.7, 1973}, {"marked", 199.5, 1349}}},
    {"Cortex-M4", 2050, 671, 684, 64.4, 15.8, 169.2, 15.2, 28.5, 28.1, 50.9, {23.6, 43.1, 68.4, 68.4, 52.1}, 77.9, 27.3, 289.3, 58.5, 313.2, 19.0, 26.2, 109.9, 205.4,
     {{"plain", 54.0, 0}, {"breathing", 54.2, -344}, {"filling", 80.6, -352}, {"walker", 65.3, -280}, {"comet", 109.4, 199}, {"escort", 130.6, -356}, {"procession", 99.4, -399}, {"pattern", 120.7, -395}, {"flow", 96.8, -137}, {"swell", 104.1, -400}, {"twinkle", 131.5, -223}, {"motley", 194.3, -404}, {"needle", 65.3, 1110}, {"dissolve", 158.7, 109}, {"bars", 231.1, 142}, {"beam", 248.7, 169}, {"helix", 213.9, 1038}, {"glints", 152.0, 175}, {"rope", 208.5, 348}, {"seabed", 240.2, 407}, {"embers", 239.1, 335}, {"stars", 128.3, 18753}, {"snowfall", 122.8, 7058}, {"waves", 268.4, -672}, {"surf", 207.7, 1787}, {"wake", 203.4, 4277}, {"shoal", 117.8, 15967}, {"weed", 250.6, 182}, {"fogbank", 253.8, 174}, {"sea sparkle", 240.5, 457}, {"lanterns", 205.1, 13590}, {"gauge", 144.5, 120}, {"clock face", 177.0, 498}, {"sea mark", 63.8, 101}, {"fire", 292.8, 277}, {"rain", 190.3, -707}, {"ripples", 233.0, 4254}, {"plasma", 312.8, 174}, {"clouds", 224.9, 3279}, {"spokes", 244.1, 1438}, {"colony", 135.5, 819}, {"fireworks", 240.0, 3653}, {"fountain", 120.3, 16954}, {"marbles", 124.1, 22240}, {"tidemark", 203.6, 24}, {"columns", 251.6, 686}, {"loudness", 185.9, 170}, {"sonogram", 250.8, 423}, {"waveform", 194.3, 707}, {"throb", 54.6, -334}, {"sparks", 162.7, 585}, {"hoppers", 120.0, 2170}, {"text", 214.3, 10051}, {"picture", 262.2, 1126}, {"marked", 149.5, 898}}},
    {"RV32IMC", 2604, 722, 1102, 60.4, 22.6, 175.1, 14.2, 22.3, 25.7, 42.4, {24.7, 33.4, 46.6, 46.6, 49.4}, 72.8, 29.2, 314.7, 57.9, 381.1, 27.1, 36.0, 132.8, 253.9,
     {{"plain", 58.2, 0}, {"breathing", 58.5, -310}, {"filling", 82.4, -347}, {"walker", 65.8, -252}, {"comet", 115.8, 398}, {"escort", 117.2, -346}, {"procession", 90.4, -388}, {"pattern", 158.6, -386}, {"flow", 100.2, -141}, {"swell", 119.4, -389}, {"twinkle", 152.2, -282}, {"motley", 233.5, -482}, {"needle", 65.8, 1049}, {"dissolve", 191.4, 133}, {"bars", 240.8, 108}, {"beam", 275.5, 53}, {"helix", 240.3, 1229}, {"glints", 169.8, 181}, {"rope", 230.2, 401}, {"seabed", 267.1, 528}, {"embers", 281.6, 406}, {"stars", 144.0, 21724}, {"snowfall", 138.0, 8638}, {"waves", 325.8, -864}, {"surf", 217.4, 2265}, {"wake", 220.9, 4693}, {"shoal", 134.0, 19026}, {"weed", 291.9, 41}, {"fogbank", 295.1, 410}, {"sea sparkle", 265.6, 465}, {"lanterns", 215.5, 13317}, {"gauge", 150.5, 106}, {"clock face", 206.9, 489}, {"sea mark", 70.5, 106}, {"fire", 347.0, 202}, {"rain", 242.5, -1116}, {"ripples", 249.2, 4882}, {"plasma", 357.4, 346}, {"clouds", 260.2, 3879}, {"spokes", 262.7, 1239}, {"colony", 151.7, 982}, {"fireworks", 263.9, 4195}, {"fountain", 135.6, 17767}, {"marbles", 139.0, 20366}, {"tidemark", 229.4, 56}, {"columns", 261.7, 619}, {"loudness", 193.0, 156}, {"sonogram", 291.1, 465}, {"waveform", 218.4, 694}, {"throb", 59.1, -331}, {"sparks", 199.2, 632}, {"hoppers", 135.3, 2330}, {"text", 232.6, 10332}, {"picture", 270.3, 1993}, {"marked", 169.1, 1077}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {47.1, 38.4, 41.0};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {20.7, 18.4, 17.2};
static const double planned_costs[] = {2209, 743, 744}; /* an output */
/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */
static const double signal_costs[] = {342, 184, 224};
static const double drive_costs[] = {862, 529, 667};

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
#define COST_RAM_SEGMENT 1416
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 80
#define COST_RAM_STORE 4680
#define COST_STACK 2596

#endif
