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
    {"Cortex-M0+", 2865, 604, 981, 86.3, 19.9, 253.3, 20.8, 49.9, 102.7, 103.5, {38.9, 64.6, 99.3, 99.3, 88.6}, 90.5, 46.5, 305.9, 101.7, 451.3, 29.0, 36.8, 146.4, 220.6,
     {{"plain", 59.3, 0}, {"breathing", 59.5, -422}, {"filling", 93.0, -490}, {"walker", 71.0, -377}, {"comet", 132.1, 291}, {"escort", 157.2, -478}, {"procession", 112.6, -558}, {"pattern", 184.8, -555}, {"flow", 107.4, -246}, {"swell", 124.7, -558}, {"twinkle", 176.2, -429}, {"motley", 260.8, -515}, {"needle", 71.0, 1489}, {"dissolve", 162.2, -40}, {"bars", 271.3, -542}, {"beam", 286.7, 72}, {"helix", 271.6, 1442}, {"glints", 166.8, -138}, {"rope", 280.6, 317}, {"seabed", 319.5, 568}, {"embers", 316.3, 379}, {"stars", 203.8, -652}, {"snowfall", 151.1, 749}, {"waves", 350.4, -961}, {"surf", 272.2, 2164}, {"wake", 259.3, 6048}, {"shoal", 190.7, -594}, {"weed", 349.1, 42}, {"fogbank", 238.3, 1814}, {"sea sparkle", 304.6, 382}, {"lanterns", 165.3, 12976}, {"gauge", 199.1, -49}, {"clock face", 149.8, 1002}, {"sea mark", 82.0, -28}, {"fire", 385.0, 214}, {"rain", 310.7, -1372}, {"ripples", 290.6, 4540}, {"plasma", 342.4, -39}, {"clouds", 304.0, 4656}, {"spokes", 274.3, 1575}, {"colony", 181.8, 888}, {"fireworks", 322.4, 4540}, {"fountain", 112.4, 22556}, {"marbles", 113.0, 10891}, {"tidemark", 169.3, 1034}, {"columns", 290.6, 2328}, {"loudness", 191.4, 2322}, {"sonogram", 338.1, 1226}, {"waveform", 261.0, 1074}, {"throb", 60.3, -120}, {"sparks", 240.2, 1175}, {"hoppers", 112.0, 3370}, {"text", 291.0, 13708}, {"picture", 278.3, 1358}, {"marked", 166.7, 1057}}},
    {"Cortex-M4", 1927, 408, 681, 64.9, 16.2, 172.3, 16.2, 33.1, 32.9, 54.8, {30.1, 52.0, 77.2, 77.2, 61.0}, 70.1, 30.9, 230.0, 64.1, 302.2, 19.0, 26.2, 107.7, 171.7,
     {{"plain", 44.6, 0}, {"breathing", 44.8, -356}, {"filling", 71.2, -363}, {"walker", 55.9, -292}, {"comet", 100.0, 188}, {"escort", 121.3, -367}, {"procession", 90.0, -410}, {"pattern", 111.7, -406}, {"flow", 84.2, -179}, {"swell", 92.7, -410}, {"twinkle", 127.8, -331}, {"motley", 190.6, -531}, {"needle", 55.9, 1102}, {"dissolve", 117.1, -21}, {"bars", 200.2, -398}, {"beam", 213.1, 57}, {"helix", 206.4, 911}, {"glints", 124.4, -90}, {"rope", 202.9, 232}, {"seabed", 213.9, 330}, {"embers", 218.4, 231}, {"stars", 134.6, -363}, {"snowfall", 106.1, 501}, {"waves", 257.3, -767}, {"surf", 203.2, 1649}, {"wake", 195.3, 4176}, {"shoal", 138.7, -440}, {"weed", 244.3, 46}, {"fogbank", 161.0, 1064}, {"sea sparkle", 224.7, 301}, {"lanterns", 121.5, 7595}, {"gauge", 131.8, -3}, {"clock face", 109.1, 684}, {"sea mark", 60.1, -26}, {"fire", 266.5, 117}, {"rain", 186.4, -831}, {"ripples", 220.8, 3539}, {"plasma", 269.6, -56}, {"clouds", 200.2, 3133}, {"spokes", 202.4, 1127}, {"colony", 131.8, 693}, {"fireworks", 214.0, 2864}, {"fountain", 81.5, 14498}, {"marbles", 82.1, 7422}, {"tidemark", 128.7, 293}, {"columns", 197.3, 1260}, {"loudness", 136.1, 1522}, {"sonogram", 247.1, 534}, {"waveform", 190.6, 810}, {"throb", 45.2, -82}, {"sparks", 159.0, 698}, {"hoppers", 81.2, 2201}, {"text", 204.5, 10366}, {"picture", 184.4, 957}, {"marked", 119.4, 707}}},
    {"RV32IMC", 2459, 420, 1098, 61.1, 23.3, 175.3, 15.3, 27.6, 31.2, 46.9, {32.1, 43.6, 56.7, 56.7, 59.6}, 58.2, 30.2, 266.3, 67.0, 363.9, 27.1, 36.0, 125.4, 215.0,
     {{"plain", 52.0, 0}, {"breathing", 52.2, -328}, {"filling", 76.1, -360}, {"walker", 59.5, -264}, {"comet", 109.6, 385}, {"escort", 110.9, -359}, {"procession", 84.2, -401}, {"pattern", 153.1, -399}, {"flow", 85.5, -211}, {"swell", 107.2, -399}, {"twinkle", 150.6, -436}, {"motley", 231.9, -650}, {"needle", 59.5, 1044}, {"dissolve", 119.8, -45}, {"bars", 208.6, -527}, {"beam", 249.9, 28}, {"helix", 227.1, 1061}, {"glints", 132.1, -140}, {"rope", 222.4, 214}, {"seabed", 235.7, 476}, {"embers", 249.7, 305}, {"stars", 151.6, -363}, {"snowfall", 122.8, 472}, {"waves", 305.2, -933}, {"surf", 210.6, 1994}, {"wake", 214.2, 4348}, {"shoal", 160.3, -569}, {"weed", 284.3, -121}, {"fogbank", 188.4, 1411}, {"sea sparkle", 252.1, 234}, {"lanterns", 135.7, 8357}, {"gauge", 145.4, -54}, {"clock face", 118.5, 659}, {"sea mark", 68.8, -63}, {"fire", 318.2, -32}, {"rain", 240.7, -1282}, {"ripples", 238.1, 4037}, {"plasma", 301.6, 33}, {"clouds", 233.8, 3799}, {"spokes", 223.3, 861}, {"colony", 150.1, 814}, {"fireworks", 242.6, 3497}, {"fountain", 92.7, 15351}, {"marbles", 93.5, 8275}, {"tidemark", 143.3, 312}, {"columns", 185.0, 1035}, {"loudness", 129.8, 1254}, {"sonogram", 289.5, 530}, {"waveform", 216.7, 755}, {"throb", 52.8, -85}, {"sparks", 197.5, 700}, {"hoppers", 92.4, 2346}, {"text", 229.1, 9506}, {"picture", 193.9, 1735}, {"marked", 128.5, 772}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {46.2, 34.2, 40.3};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {21.8, 18.4, 18.4};
static const double planned_costs[] = {1330, 751, 744}; /* an output */
/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */
static const double signal_costs[] = {342, 181, 222};
static const double drive_costs[] = {1049, 673, 799};

/* sound: instructions a sample of each rate, a sample of each band, a tick of each band, a tick; of tempo a tick, of pitch a sample */
static const double sound_costs[3][6] = {
    {69.8, 50.8, 739.5, 948.3, 3360, 314},
    {42.4, 37.9, 368.3, 1247.0, 2240, 168},
    {42.9, 45.2, 421.8, 1417.7, 2880, 236},
};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 19288
static const struct { const char *name; unsigned bytes; } flash_costs[] = {
    {"plain", 126},
    {"breathing", 274},
    {"filling", 551},
    {"walker", 553},
    {"comet", 1116},
    {"escort", 928},
    {"procession", 677},
    {"pattern", 710},
    {"flow", 529},
    {"swell", 504},
    {"twinkle", 483},
    {"motley", 440},
    {"needle", 344},
    {"dissolve", 756},
    {"bars", 1393},
    {"beam", 859},
    {"helix", 826},
    {"glints", 661},
    {"rope", 664},
    {"seabed", 729},
    {"embers", 766},
    {"stars", 978},
    {"snowfall", 1356},
    {"waves", 879},
    {"surf", 1253},
    {"wake", 1017},
    {"shoal", 924},
    {"weed", 1257},
    {"fogbank", 803},
    {"sea sparkle", 1268},
    {"lanterns", 1123},
    {"gauge", 837},
    {"clock face", 1300},
    {"sea mark", 1155},
    {"fire", 803},
    {"rain", 883},
    {"ripples", 1199},
    {"plasma", 586},
    {"clouds", 861},
    {"spokes", 371},
    {"colony", 1126},
    {"fireworks", 1227},
    {"fountain", 1060},
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
    {"one-wire", 707}, {"clocked", 1196}, {"documents", 55600},
    {"calendar", 5996},
    /* parts: control with a button, three presets and crossfades */
    {"control", 9540}, {"playlists", 6784}, {"hands", 3904}, {"glides", 1620}, {"blends", 404}, {"colors", 1828}, {"fields", 12664}, {"drives", 5968}, {"signals", 4572}, {"gestures", 2680}, {"saving", 21716},
    {"sound", 10170}, {"tempo", 1796}, {"pitch", 748},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 4109
#define COST_RAM_SEGMENT 1395
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 80
#define COST_RAM_STORE 4680
#define COST_STACK 2872

#endif
