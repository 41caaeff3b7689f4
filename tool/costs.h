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
    {"Cortex-M0+", 2852, 608, 981, 85.5, 19.1, 253.2, 17.4, 49.9, 102.7, 103.5, {38.8, 64.5, 99.3, 99.3, 88.5}, 90.5, 47.3, 305.9, 101.7, 451.4, 29.0, 36.8, 146.4, 220.5,
     {{"plain", 60.2, 0}, {"breathing", 60.4, -414}, {"filling", 93.9, -486}, {"walker", 71.9, -373}, {"comet", 133.0, 295}, {"escort", 158.1, -474}, {"procession", 113.5, -554}, {"pattern", 185.7, -551}, {"flow", 108.3, -242}, {"swell", 131.1, -555}, {"twinkle", 215.4, -306}, {"motley", 291.6, -462}, {"needle", 71.9, 1489}, {"dissolve", 229.2, 103}, {"bars", 275.5, -425}, {"beam", 288.0, 196}, {"helix", 283.5, 1566}, {"glints", 215.5, -45}, {"rope", 287.6, 469}, {"seabed", 356.3, 722}, {"embers", 355.5, 510}, {"stars", 297.4, -883}, {"snowfall", 234.9, 830}, {"waves", 367.8, -925}, {"surf", 278.6, 2417}, {"wake", 261.5, 6451}, {"shoal", 273.1, -769}, {"weed", 366.0, 154}, {"fogbank", 363.3, 791}, {"sea sparkle", 335.4, 496}, {"lanterns", 263.7, 17978}, {"gauge", 213.9, 71}, {"clock face", 253.2, 1070}, {"sea mark", 83.2, 96}, {"fire", 422.8, 428}, {"rain", 337.6, -1387}, {"ripples", 294.5, 4777}, {"plasma", 355.0, 144}, {"clouds", 339.5, 5398}, {"spokes", 275.5, 1699}, {"colony", 189.0, 1105}, {"fireworks", 329.7, 4716}, {"fountain", 189.0, 30828}, {"marbles", 192.1, 22211}, {"tidemark", 293.2, 482}, {"columns", 365.8, 1857}, {"loudness", 231.0, 676}, {"sonogram", 339.4, 1340}, {"waveform", 262.2, 1188}, {"throb", 61.2, -134}, {"sparks", 316.0, 1294}, {"hoppers", 188.6, 3776}, {"text", 333.1, 13824}, {"picture", 392.1, 2228}, {"marked", 201.9, 1352}}},
    {"Cortex-M4", 1914, 412, 681, 64.5, 15.8, 169.2, 15.3, 33.1, 32.8, 54.8, {30.1, 52.0, 77.2, 77.2, 61.0}, 70.1, 30.7, 230.0, 64.1, 302.1, 19.0, 26.2, 107.7, 171.7,
     {{"plain", 48.8, 0}, {"breathing", 49.0, -348}, {"filling", 75.4, -356}, {"walker", 60.1, -284}, {"comet", 104.2, 195}, {"escort", 125.4, -360}, {"procession", 94.2, -403}, {"pattern", 115.9, -399}, {"flow", 88.4, -172}, {"swell", 98.9, -404}, {"twinkle", 131.3, -207}, {"motley", 194.1, -406}, {"needle", 60.1, 1102}, {"dissolve", 162.8, 109}, {"bars", 204.4, -276}, {"beam", 216.6, 181}, {"helix", 213.7, 1036}, {"glints", 158.0, 8}, {"rope", 208.4, 367}, {"seabed", 234.6, 423}, {"embers", 231.5, 336}, {"stars", 172.9, -520}, {"snowfall", 135.2, 565}, {"waves", 266.6, -673}, {"surf", 208.5, 1809}, {"wake", 199.1, 4402}, {"shoal", 156.6, -426}, {"weed", 249.3, 169}, {"fogbank", 255.0, 162}, {"sea sparkle", 228.2, 410}, {"lanterns", 172.7, 12364}, {"gauge", 144.3, 114}, {"clock face", 155.3, 726}, {"sea mark", 63.6, 99}, {"fire", 286.2, 237}, {"rain", 189.9, -707}, {"ripples", 224.8, 3692}, {"plasma", 277.3, 79}, {"clouds", 219.4, 3434}, {"spokes", 205.9, 1252}, {"colony", 135.3, 817}, {"fireworks", 217.4, 2988}, {"fountain", 107.5, 17135}, {"marbles", 110.7, 19052}, {"tidemark", 203.4, 22}, {"columns", 251.4, 905}, {"loudness", 185.7, 388}, {"sonogram", 250.6, 642}, {"waveform", 194.0, 919}, {"throb", 49.4, -94}, {"sparks", 162.5, 806}, {"hoppers", 107.2, 2425}, {"text", 238.7, 10476}, {"picture", 263.4, 1329}, {"marked", 150.7, 900}}},
    {"RV32IMC", 2447, 426, 1098, 60.5, 22.6, 175.1, 14.4, 27.5, 31.1, 46.8, {31.8, 43.3, 56.4, 56.4, 59.3}, 58.2, 31.7, 266.3, 67.0, 364.3, 27.1, 36.0, 125.3, 215.0,
     {{"plain", 52.8, 0}, {"breathing", 53.0, -317}, {"filling", 76.9, -354}, {"walker", 60.3, -258}, {"comet", 110.3, 391}, {"escort", 111.7, -353}, {"procession", 84.9, -395}, {"pattern", 153.9, -393}, {"flow", 86.2, -205}, {"swell", 113.9, -396}, {"twinkle", 152.2, -272}, {"motley", 233.5, -487}, {"needle", 60.3, 1044}, {"dissolve", 195.2, 129}, {"bars", 213.4, -372}, {"beam", 251.6, 191}, {"helix", 240.3, 1224}, {"glints", 177.5, -4}, {"rope", 230.3, 406}, {"seabed", 254.6, 562}, {"embers", 265.3, 413}, {"stars", 188.9, -470}, {"snowfall", 142.8, 606}, {"waves", 324.2, -868}, {"surf", 217.8, 2272}, {"wake", 216.9, 4815}, {"shoal", 173.7, -519}, {"weed", 290.9, 25}, {"fogbank", 297.4, 395}, {"sea sparkle", 253.7, 381}, {"lanterns", 170.8, 12074}, {"gauge", 150.5, 103}, {"clock face", 174.1, 726}, {"sea mark", 70.5, 101}, {"fire", 332.8, 136}, {"rain", 242.3, -1119}, {"ripples", 241.2, 4319}, {"plasma", 315.5, 288}, {"clouds", 248.0, 4004}, {"spokes", 224.9, 1024}, {"colony", 151.7, 977}, {"fireworks", 244.3, 3661}, {"fountain", 109.6, 17951}, {"marbles", 112.3, 17124}, {"tidemark", 229.4, 51}, {"columns", 261.7, 832}, {"loudness", 193.0, 367}, {"sonogram", 291.1, 678}, {"waveform", 218.4, 902}, {"throb", 53.6, -100}, {"sparks", 199.2, 847}, {"hoppers", 109.3, 2588}, {"text", 278.0, 9657}, {"picture", 272.7, 2200}, {"marked", 171.5, 1079}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {47.1, 38.4, 41.0};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {20.7, 18.4, 17.2};
static const double planned_costs[] = {1330, 751, 744}; /* an output */
/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */
static const double signal_costs[] = {341, 181, 223};
static const double drive_costs[] = {1061, 675, 807};

/* sound: instructions a sample of each rate, a sample of each band, a tick of each band, a tick; of tempo a tick, of pitch a sample */
static const double sound_costs[3][6] = {
    {55.2, 75.9, 368.6, 2354.8, 4720, 316},
    {35.1, 49.7, 184.5, 2024.0, 2880, 168},
    {36.1, 57.0, 247.9, 2033.7, 3280, 236},
};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 19276
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
    {"twinkle", 491},
    {"motley", 448},
    {"needle", 344},
    {"dissolve", 736},
    {"bars", 1393},
    {"beam", 859},
    {"helix", 826},
    {"glints", 661},
    {"rope", 664},
    {"seabed", 761},
    {"embers", 802},
    {"stars", 980},
    {"snowfall", 1366},
    {"waves", 879},
    {"surf", 1253},
    {"wake", 1017},
    {"shoal", 916},
    {"weed", 1257},
    {"fogbank", 833},
    {"sea sparkle", 1272},
    {"lanterns", 1123},
    {"gauge", 829},
    {"clock face", 1300},
    {"sea mark", 1155},
    {"fire", 845},
    {"rain", 871},
    {"ripples", 1199},
    {"plasma", 586},
    {"clouds", 911},
    {"spokes", 371},
    {"colony", 1126},
    {"fireworks", 1227},
    {"fountain", 1058},
    {"marbles", 2019},
    {"tidemark", 1002},
    {"columns", 1233},
    {"loudness", 930},
    {"sonogram", 1306},
    {"waveform", 686},
    {"throb", 392},
    {"sparks", 794},
    {"hoppers", 902},
    {"text", 6142},
    {"picture", 3285},
    {"marked", 424},
    {"one-wire", 707}, {"clocked", 1196}, {"documents", 55562},
    {"calendar", 5996},
    /* parts: control with a button, three presets and crossfades */
    {"control", 9544}, {"playlists", 6784}, {"hands", 3904}, {"glides", 1620}, {"blends", 404}, {"colors", 1828}, {"fields", 12616}, {"drives", 5968}, {"signals", 4572}, {"gestures", 2680}, {"saving", 21716},
    {"sound", 10166}, {"tempo", 1740}, {"pitch", 748},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 4109
#define COST_RAM_SEGMENT 1395
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 80
#define COST_RAM_STORE 4680
#define COST_STACK 2888

#endif
