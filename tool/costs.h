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
    {"Cortex-M0+", 3040, 999, 978, 85.5, 19.1, 253.2, 17.1, 42.7, 95.7, 96.5, {29.3, 51.4, 86.1, 86.1, 75.4}, 81.8, 38.4, 387.1, 95.6, 463.3, 29.0, 36.8, 145.7, 267.4,
     {{"plain", 67.6, 0}, {"breathing", 67.8, -392}, {"filling", 101.2, -464}, {"walker", 79.3, -351}, {"comet", 140.4, 317}, {"escort", 165.5, -452}, {"procession", 120.9, -532}, {"pattern", 193.1, -529}, {"flow", 116.3, -255}, {"swell", 138.5, -533}, {"twinkle", 215.6, -305}, {"motley", 291.8, -443}, {"needle", 79.3, 1500}, {"dissolve", 360.2, 189}, {"bars", 416.7, -614}, {"beam", 333.5, 645}, {"helix", 283.7, 1585}, {"glints", 220.9, -100}, {"rope", 293.9, 984}, {"seabed", 354.7, 773}, {"embers", 351.7, 544}, {"stars", 357.3, -921}, {"snowfall", 268.7, 775}, {"waves", 369.5, -907}, {"surf", 380.0, 4492}, {"wake", 267.1, 6258}, {"shoal", 325.0, -848}, {"weed", 367.3, 184}, {"fogbank", 362.5, 821}, {"sea sparkle", 335.6, 205}, {"lanterns", 327.3, 19876}, {"gauge", 214.1, 79}, {"clock face", 304.2, 715}, {"sea mark", 83.4, 114}, {"fire", 420.3, 427}, {"rain", 338.0, -1370}, {"ripples", 306.9, 5636}, {"plasma", 400.6, 298}, {"clouds", 338.1, 5113}, {"spokes", 314.2, 1375}, {"colony", 189.2, 1124}, {"fireworks", 360.9, 5593}, {"fountain", 224.2, 30538}, {"marbles", 228.3, 27161}, {"tidemark", 293.4, 501}, {"columns", 366.0, 1565}, {"loudness", 231.2, 386}, {"sonogram", 339.6, 1048}, {"waveform", 262.5, 880}, {"throb", 68.6, -448}, {"sparks", 316.2, 1003}, {"hoppers", 223.7, 3412}, {"text", 332.2, 13559}, {"picture", 391.1, 1959}, {"marked", 200.9, 1349}}},
    {"Cortex-M4", 2052, 666, 682, 64.5, 15.8, 169.2, 15.2, 28.5, 28.1, 50.8, {23.7, 43.3, 68.5, 68.5, 52.3}, 77.9, 27.4, 289.3, 58.5, 310.9, 19.0, 26.2, 109.9, 205.5,
     {{"plain", 53.9, 0}, {"breathing", 54.1, -352}, {"filling", 80.5, -360}, {"walker", 65.2, -288}, {"comet", 109.3, 191}, {"escort", 130.5, -364}, {"procession", 99.3, -407}, {"pattern", 121.0, -403}, {"flow", 96.7, -145}, {"swell", 104.0, -408}, {"twinkle", 131.5, -223}, {"motley", 194.3, -412}, {"needle", 65.2, 1108}, {"dissolve", 159.4, 101}, {"bars", 201.9, -278}, {"beam", 248.7, 161}, {"helix", 213.9, 1030}, {"glints", 157.3, 4}, {"rope", 208.5, 340}, {"seabed", 240.2, 399}, {"embers", 239.1, 327}, {"stars", 203.0, -545}, {"snowfall", 146.7, 524}, {"waves", 268.4, -680}, {"surf", 207.5, 1784}, {"wake", 203.4, 4269}, {"shoal", 182.1, -488}, {"weed", 250.6, 174}, {"fogbank", 254.4, 166}, {"sea sparkle", 228.4, 184}, {"lanterns", 205.1, 13582}, {"gauge", 144.5, 118}, {"clock face", 177.6, 492}, {"sea mark", 63.8, 93}, {"fire", 292.8, 269}, {"rain", 190.3, -715}, {"ripples", 233.0, 4249}, {"plasma", 312.8, 166}, {"clouds", 224.9, 3271}, {"spokes", 244.1, 1430}, {"colony", 135.5, 811}, {"fireworks", 240.0, 3645}, {"fountain", 120.3, 16949}, {"marbles", 124.1, 22232}, {"tidemark", 203.6, 16}, {"columns", 251.6, 678}, {"loudness", 185.9, 162}, {"sonogram", 250.8, 415}, {"waveform", 194.3, 700}, {"throb", 54.5, -340}, {"sparks", 162.7, 580}, {"hoppers", 120.0, 2164}, {"text", 238.1, 10268}, {"picture", 262.8, 1118}, {"marked", 150.1, 898}}},
    {"RV32IMC", 2599, 712, 1098, 60.5, 22.6, 175.1, 14.2, 22.3, 25.7, 42.3, {24.7, 33.4, 46.6, 46.6, 49.4}, 72.8, 29.2, 314.7, 57.9, 379.1, 27.1, 36.0, 132.9, 253.9,
     {{"plain", 58.2, 0}, {"breathing", 58.5, -321}, {"filling", 82.4, -358}, {"walker", 65.8, -262}, {"comet", 115.8, 387}, {"escort", 117.2, -357}, {"procession", 90.4, -399}, {"pattern", 159.3, -397}, {"flow", 100.2, -152}, {"swell", 119.4, -400}, {"twinkle", 152.2, -287}, {"motley", 233.5, -493}, {"needle", 65.8, 1050}, {"dissolve", 193.2, 122}, {"bars", 212.0, -376}, {"beam", 275.5, 42}, {"helix", 240.4, 1218}, {"glints", 176.8, -10}, {"rope", 230.2, 390}, {"seabed", 267.2, 517}, {"embers", 281.6, 395}, {"stars", 231.1, -499}, {"snowfall", 167.6, 557}, {"waves", 325.8, -875}, {"surf", 217.5, 2264}, {"wake", 220.9, 4682}, {"shoal", 210.4, -581}, {"weed", 292.0, 30}, {"fogbank", 296.8, 399}, {"sea sparkle", 253.7, 158}, {"lanterns", 215.5, 13306}, {"gauge", 150.5, 107}, {"clock face", 208.7, 478}, {"sea mark", 70.5, 95}, {"fire", 347.1, 191}, {"rain", 242.5, -1127}, {"ripples", 249.2, 4874}, {"plasma", 357.4, 335}, {"clouds", 260.2, 3868}, {"spokes", 262.7, 1228}, {"colony", 151.8, 971}, {"fireworks", 263.9, 4184}, {"fountain", 135.7, 17759}, {"marbles", 139.0, 20355}, {"tidemark", 229.5, 45}, {"columns", 261.7, 608}, {"loudness", 193.1, 145}, {"sonogram", 291.2, 454}, {"waveform", 218.4, 683}, {"throb", 59.1, -339}, {"sparks", 199.2, 624}, {"hoppers", 135.3, 2322}, {"text", 277.4, 9448}, {"picture", 272.1, 1986}, {"marked", 170.9, 1077}}},
};

/* of a LED's cost: the light stage, done once however many segments lie over it */
static const double light_costs[] = {47.1, 38.4, 41.0};
/* more, where a limit can bind and does not */
static const double counted_costs[] = {20.7, 18.4, 17.2};
static const double planned_costs[] = {2209, 743, 744}; /* an output */
/* a frame: a signal of the show, and a driven number, on average over their kinds, moving */
static const double signal_costs[] = {341, 181, 223};
static const double drive_costs[] = {871, 540, 669};

/* sound: instructions a sample of each rate, a sample of each band, a tick of each band, a tick; of tempo a tick, of pitch a sample */
static const double sound_costs[3][6] = {
    {55.2, 75.9, 368.6, 2354.8, 4720, 316},
    {35.1, 49.7, 184.5, 2024.0, 2880, 168},
    {36.1, 57.0, 247.9, 2033.7, 3280, 236},
};

/* flash on Cortex-M0+ at -Os: a program with one chip and one effect, and what others add */
#define COST_FLASH 19100
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
    {"bars", 1357},
    {"beam", 859},
    {"helix", 826},
    {"glints", 661},
    {"rope", 664},
    {"seabed", 761},
    {"embers", 802},
    {"stars", 1016},
    {"snowfall", 1298},
    {"waves", 879},
    {"surf", 1253},
    {"wake", 1017},
    {"shoal", 952},
    {"weed", 1257},
    {"fogbank", 833},
    {"sea sparkle", 1272},
    {"lanterns", 1159},
    {"gauge", 829},
    {"clock face", 1348},
    {"sea mark", 1155},
    {"fire", 845},
    {"rain", 871},
    {"ripples", 1199},
    {"plasma", 586},
    {"clouds", 911},
    {"spokes", 371},
    {"colony", 1126},
    {"fireworks", 1227},
    {"fountain", 1042},
    {"marbles", 2003},
    {"tidemark", 1002},
    {"columns", 1233},
    {"loudness", 930},
    {"sonogram", 1306},
    {"waveform", 686},
    {"throb", 392},
    {"sparks", 794},
    {"hoppers", 886},
    {"text", 6142},
    {"picture", 3285},
    {"marked", 424},
    {"one-wire", 707}, {"clocked", 1196}, {"documents", 54592},
    {"calendar", 5996},
    /* parts: control with a button, three presets and crossfades */
    {"control", 9540}, {"playlists", 6784}, {"hands", 3904}, {"glides", 1620}, {"blends", 404}, {"colors", 984}, {"fields", 12416}, {"drives", 5972}, {"signals", 4576}, {"gestures", 2680}, {"saving", 21680},
    {"sound", 10166}, {"tempo", 1740}, {"pitch", 748},
};

/* RAM on 32-bit CPUs: the device by itself, and what each adds; stack at the deepest */
#define COST_RAM 4104
#define COST_RAM_SEGMENT 1392
#define COST_RAM_OUTPUT 72
#define COST_RAM_INPUT 80
#define COST_RAM_STORE 4680
#define COST_STACK 2744

#endif
