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
    {"Cortex-M0+", 2865, 604, 981, 85.5, 19.1, 253.2, 20.8, 49.9, 102.8, 103.6, {38.9, 64.6, 99.4, 99.4, 88.6}, 90.5, 47.4, 305.9, 101.7, 451.3, 29.0, 36.8, 146.4, 220.5,
     {{"plain", 60.2, 0}, {"breathing", 60.4, -418}, {"filling", 93.8, -490}, {"walker", 71.9, -377}, {"comet", 133.0, 291}, {"escort", 158.1, -478}, {"procession", 113.5, -558}, {"pattern", 185.7, -555}, {"flow", 108.3, -246}, {"swell", 131.1, -559}, {"twinkle", 215.4, -309}, {"motley", 291.6, -466}, {"needle", 71.9, 1489}, {"dissolve", 229.3, 99}, {"bars", 275.6, -429}, {"beam", 288.0, 192}, {"helix", 283.6, 1562}, {"glints", 215.6, -49}, {"rope", 287.6, 465}, {"seabed", 356.3, 718}, {"embers", 355.6, 506}, {"stars", 297.4, -887}, {"snowfall", 235.0, 826}, {"waves", 367.8, -929}, {"surf", 278.6, 2413}, {"wake", 261.6, 6447}, {"shoal", 273.2, -773}, {"weed", 366.0, 150}, {"fogbank", 363.4, 787}, {"sea sparkle", 335.4, 501}, {"lanterns", 263.7, 17974}, {"gauge", 214.0, 71}, {"clock face", 253.2, 1078}, {"sea mark", 83.3, 92}, {"fire", 422.8, 424}, {"rain", 337.7, -1391}, {"ripples", 294.5, 4782}, {"plasma", 355.0, 140}, {"clouds", 339.5, 5403}, {"spokes", 275.6, 1695}, {"colony", 189.0, 1101}, {"fireworks", 329.7, 4712}, {"fountain", 189.1, 30833}, {"marbles", 192.1, 22207}, {"tidemark", 293.2, 478}, {"columns", 365.8, 1862}, {"loudness", 231.0, 681}, {"sonogram", 339.4, 1345}, {"waveform", 262.3, 1193}, {"throb", 61.2, -124}, {"sparks", 316.1, 1299}, {"hoppers", 188.6, 3781}, {"text", 333.2, 13832}, {"picture", 392.1, 2236}, {"marked", 201.9, 1352}}},
    {"Cortex-M4", 1928, 408, 681, 64.5, 15.8, 169.2, 16.2, 33.1, 32.8, 54.8, {30.1, 52.0, 77.2, 77.2, 61.0}, 70.1, 30.7, 230.0, 64.1, 302.2, 19.0, 26.2, 107.7, 171.7,
     {{"plain", 48.8, 0}, {"breathing", 49.0, -354}, {"filling", 75.4, -363}, {"walker", 60.1, -291}, {"comet", 104.2, 188}, {"escort", 125.5, -367}, {"procession", 94.3, -410}, {"pattern", 116.0, -406}, {"flow", 88.5, -179}, {"swell", 99.0, -411}, {"twinkle", 131.3, -214}, {"motley", 194.1, -413}, {"needle", 60.1, 1102}, {"dissolve", 162.8, 102}, {"bars", 204.5, -283}, {"beam", 216.6, 174}, {"helix", 213.7, 1029}, {"glints", 158.1, 1}, {"rope", 208.5, 360}, {"seabed", 234.6, 416}, {"embers", 231.6, 329}, {"stars", 172.9, -527}, {"snowfall", 135.3, 558}, {"waves", 266.7, -680}, {"surf", 208.6, 1802}, {"wake", 199.2, 4395}, {"shoal", 156.6, -433}, {"weed", 249.3, 162}, {"fogbank", 255.0, 155}, {"sea sparkle", 228.2, 415}, {"lanterns", 172.7, 12357}, {"gauge", 144.3, 114}, {"clock face", 155.3, 732}, {"sea mark", 63.6, 92}, {"fire", 286.3, 230}, {"rain", 189.9, -714}, {"ripples", 224.8, 3697}, {"plasma", 277.3, 72}, {"clouds", 219.5, 3439}, {"spokes", 205.9, 1245}, {"colony", 135.3, 810}, {"fireworks", 217.5, 2981}, {"fountain", 107.6, 17140}, {"marbles", 110.7, 19045}, {"tidemark", 203.4, 15}, {"columns", 251.4, 910}, {"loudness", 185.7, 392}, {"sonogram", 250.6, 647}, {"waveform", 194.1, 924}, {"throb", 49.4, -86}, {"sparks", 162.5, 811}, {"hoppers", 107.2, 2430}, {"text", 238.8, 10482}, {"picture", 263.4, 1336}, {"marked", 150.7, 900}}},
    {"RV32IMC", 2456, 417, 1098, 60.5, 22.6, 175.1, 15.3, 27.6, 31.2, 46.9, {32.1, 43.6, 56.7, 56.7, 59.6}, 58.2, 31.8, 266.3, 67.0, 363.9, 27.1, 36.0, 125.4, 215.0,
     {{"plain", 52.6, 0}, {"breathing", 52.8, -323}, {"filling", 76.7, -360}, {"walker", 60.1, -264}, {"comet", 110.2, 385}, {"escort", 111.5, -359}, {"procession", 84.8, -401}, {"pattern", 153.7, -399}, {"flow", 86.1, -211}, {"swell", 113.8, -402}, {"twinkle", 152.2, -277}, {"motley", 233.5, -493}, {"needle", 60.1, 1044}, {"dissolve", 195.2, 123}, {"bars", 213.3, -378}, {"beam", 251.5, 185}, {"helix", 240.3, 1218}, {"glints", 177.5, -10}, {"rope", 230.2, 400}, {"seabed", 254.6, 556}, {"embers", 265.3, 407}, {"stars", 188.8, -476}, {"snowfall", 142.8, 600}, {"waves", 324.2, -874}, {"surf", 217.7, 2266}, {"wake", 216.8, 4809}, {"shoal", 173.7, -525}, {"weed", 290.8, 19}, {"fogbank", 297.3, 389}, {"sea sparkle", 253.7, 387}, {"lanterns", 170.8, 12068}, {"gauge", 150.5, 103}, {"clock face", 174.1, 733}, {"sea mark", 70.4, 95}, {"fire", 332.8, 130}, {"rain", 242.3, -1125}, {"ripples", 241.2, 4325}, {"plasma", 315.4, 282}, {"clouds", 247.9, 4011}, {"spokes", 224.9, 1018}, {"colony", 151.7, 971}, {"fireworks", 244.3, 3655}, {"fountain", 109.6, 17957}, {"marbles", 112.3, 17118}, {"tidemark", 229.4, 45}, {"columns", 261.6, 838}, {"loudness", 193.0, 373}, {"sonogram", 291.1, 684}, {"waveform", 218.3, 908}, {"throb", 53.5, -89}, {"sparks", 199.1, 853}, {"hoppers", 109.2, 2594}, {"text", 278.0, 9664}, {"picture", 272.7, 2206}, {"marked", 171.5, 1079}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {47.1, 38.4, 41.0};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {20.7, 18.4, 17.2};
static const double planned_costs[] = {1330, 751, 744}; /* an output */
/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */
static const double signal_costs[] = {341, 181, 223};
static const double drive_costs[] = {1046, 671, 797};

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
