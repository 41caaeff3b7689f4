/* SPDX-License-Identifier: MIT */
/* prove: bring-up tests of a rig, on simulated hardware that may be wired otherwise than the rig says. */
#include <stdlib.h>
#include <string.h>

#include "commands.h"

#define COLORS_MOST 16

struct proof {
    struct glanz_light colors[COLORS_MOST];
    char names[COLORS_MOST][24];
    int color_count;
    int color;     /* shown now */
    int walk;      /* 1: only one LED */
    int output;    /* -1: all */
    uint16_t led;  /* of the walk */
    uint8_t *some; /* which LEDs, of any output; NULL: all */
};

static void paint(struct glanz_light *light, uint8_t output, uint16_t first, uint8_t count, void *user) {
    const struct proof *proof = (const struct proof *)user;
    static const struct glanz_light dark;
    for (uint8_t i = 0; i < count; i++) {
        uint16_t led = (uint16_t)(first + i);
        int lit = proof->output < 0 || proof->output == output;
        lit = lit && (proof->walk ? led == proof->led : proof->some == NULL || proof->some[led]);
        light[i] = lit ? proof->colors[proof->color] : dark;
    }
}

/* "red, green, #ff8000, 2700 K": the names of bring-up are the LED's own channels. */
static int colors_of(struct proof *proof, const char *text) {
    static const struct {
        const char *name;
        struct glanz_light light;
    } plain[] = {{"red", {65535, 0, 0}},
                 {"green", {0, 65535, 0}},
                 {"blue", {0, 0, 65535}},
                 {"white", {65535, 65535, 65535}},
                 {"dark", {0, 0, 0}}};
    char *copy = strdup(text);
    char *rest = NULL;
    int good = 1;
    proof->color_count = 0;
    for (char *part = strtok_r(copy, ",", &rest); part != NULL && good; part = strtok_r(NULL, ",", &rest)) {
        unsigned hex = 0;
        unsigned kelvin = 0;
        char end = 0;
        part += strspn(part, " ");
        good = 0;
        struct glanz_light *light = &proof->colors[proof->color_count];
        for (size_t i = 0; i < sizeof plain / sizeof plain[0]; i++) {
            if (strcmp(part, plain[i].name) == 0) {
                *light = plain[i].light;
                good = 1;
            }
        }
        if (!good && strlen(part) == 7 && sscanf(part, "#%6x%c", &hex, &end) == 1) {
            *light = glanz_color_light(GLANZ_RGB(hex >> 16, (hex >> 8) & 255u, hex & 255u), NULL, 0);
            good = 1;
        } else if (!good && sscanf(part, "%u K%c", &kelvin, &end) == 1 && kelvin >= 1000 && kelvin <= 12500) {
            *light = glanz_color_light(GLANZ_KELVIN(kelvin), NULL, 0);
            good = 1;
        }
        if (!good || proof->color_count + 1 == COLORS_MOST) {
            complain_plain("--colors: \"%s\": expected red, green, blue, white, dark, #rrggbb or 2700 K, at most 15 of them",
                           part);
            good = 0;
        } else {
            snprintf(proof->names[proof->color_count++], sizeof proof->names[0], "%.20s", part);
        }
    }
    free(copy);
    return good && proof->color_count > 0;
}

/* "0-9, 20" */
static int leds_of(struct proof *proof, const char *text) {
    proof->some = (uint8_t *)calloc(GLANZ_LEDS_MOST + 1, 1);
    const char *at = text;
    while (proof->some != NULL) {
        char *end;
        unsigned long first = strtoul(at, &end, 10);
        unsigned long last = first;
        int good = end != at;
        if (good && *end == '-') {
            at = end + 1;
            last = strtoul(at, &end, 10);
            good = end != at;
        }
        if (!good || last < first || last >= GLANZ_LEDS_MOST) {
            break;
        }
        memset(proof->some + first, 1, last - first + 1);
        if (*end == '\0') {
            return 1;
        }
        at = end + strspn(end, ", ");
        if (at == end) {
            break;
        }
    }
    complain_plain("--leds: \"%s\": expected LEDs and ranges such as \"0-9, 20\"", text);
    return 0;
}

/* What an eye sees on an LED. */
static const char *seen(struct glanz_lit lit) {
    static const char *const names[8] = {"dark", "red", "green", "yellow", "blue", "violet", "turquoise", "white"};
    uint8_t most = lit.red > lit.green ? lit.red : lit.green;
    most = lit.blue > most ? lit.blue : most;
    if (lit.white > most) {
        return "white";
    }
    int mask = most == 0 ? 0 : (lit.red * 4 > most) | (lit.green * 4 > most) << 1 | (lit.blue * 4 > most) << 2;
    return names[mask];
}

/* The colour order that explains what was seen: position p of the line carried channel order[p] and lit as seen[order[p]]. */
static int find_order(GLANZ_CONST struct glanz_stretch *stretch, const char *text) {
    static const char *const names[] = {"red", "green", "blue", "white"};
    static const char letters[] = "RGBW";
    uint8_t channels = stretch->chip->channels;
    uint8_t shown[4] = {9, 9, 9, 9};
    char said[4][16];
    char end;
    int all = 0;
    int count = sscanf(text, " %15[a-z] , %15[a-z] , %15[a-z] , %15[a-z] %c", said[0], said[1], said[2], said[3], &end);
    if (count != channels) {
        complain_plain(
            channels == 4 ? "--seen: expected four colours such as \"green, red, blue, white\": what was seen when red, green, "
                            "blue and white were sent; this chip has a white LED"
                          : "--seen: expected three colours such as \"green, red, blue\": what was seen when red, green and "
                            "blue were sent");
        return EXIT_USAGE;
    }
    for (int i = 0; i < channels; i++) {
        for (uint8_t c = 0; c < channels; c++) {
            if (strcmp(said[i], names[c]) == 0) {
                shown[i] = c;
                all |= 1 << c;
            }
        }
    }
    if (all != (1 << channels) - 1) {
        complain_plain("--seen: %s: expected %s, each once; was another output or stretch lit, or is the chip another?", text,
                       channels == 4 ? "red, green, blue and white" : "red, green and blue");
        return EXIT_REFUSED;
    }
    uint8_t order = stretch->order == GLANZ_ORDER_CHIP ? stretch->chip->order : stretch->order;
    printf("\"order\": \"");
    for (uint8_t p = 0; p < channels; p++) {
        putchar(letters[shown[glanz_order_channel(order, p)]]);
    }
    puts("\"");
    return EXIT_GOOD;
}

/* The LEDs of one stretch of an output. @return 0 and complained: there is none of that number. */
static int leds_of_stretch(struct proof *proof, GLANZ_CONST struct glanz_output *output, int stretch) {
    uint32_t first = 0;
    if (stretch < 1 || stretch > output->stretch_count) {
        complain_plain("--stretch %d: output \"%s\" has %u; expected 1 to %u", stretch, output->name, output->stretch_count,
                       output->stretch_count);
        return 0;
    }
    for (int i = 0; i + 1 < stretch; i++) {
        first += output->stretches[i].leds;
    }
    proof->some = (uint8_t *)calloc(GLANZ_LEDS_MOST + 1, 1);
    if (proof->some != NULL) {
        memset(proof->some + first, 1, output->stretches[stretch - 1].leds);
    }
    return proof->some != NULL;
}

static int run_proof(struct proof *proof, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_rig *hardware,
                     uint64_t pace_us, uint32_t lightness) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_board_setup board_setup;
    struct glanz_show show;
    struct glanz_setup setup;
    struct glanz_device *device = NULL;
    memset(&board_setup, 0, sizeof board_setup);
    memset(&show, 0, sizeof show);
    memset(&setup, 0, sizeof setup);
    board_setup.hardware = hardware;
    board_setup.serial = serial_line;
    struct glanz_board *board = glanz_board_open(&board_setup, &fault);
    size_t size = glanz_device_size(rig, 1);
    void *memory = malloc(size);
    show.name = "bring-up";
    show.brightness = (uint16_t)lightness;
    setup.rig = rig;
    setup.show = &show;
    setup.port = glanz_board_port(board);
    setup.parts = &glanz_everything;
    if (board == NULL || memory == NULL || glanz_device_start(&device, memory, size, &setup, &fault) != GLANZ_OK ||
        glanz_engine_paint(glanz_device_engine(device), paint, proof) != GLANZ_OK) {
        complain(NULL, &fault);
        free(memory);
        glanz_board_close(board);
        return EXIT_REFUSED;
    }
    uint64_t now = 0;
    int steps = 0;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        int leds = glanz_output_leds(&rig->outputs[o]);
        if (proof->walk && (proof->output < 0 || proof->output == o)) {
            steps = leds > steps ? leds : steps;
        }
    }
    steps = proof->walk ? steps : proof->color_count;
    for (; now < 1200000; now += 10000) { /* up from dark, with the first colour */
        glanz_board_time(board, now);
        (void)glanz_device_frame(device, (uint32_t)now);
    }
    for (int step = 0; step < steps; step++) {
        uint64_t end = now + pace_us;
        proof->led = (uint16_t)step;
        proof->color = proof->walk ? 0 : step;
        for (; now < end; now += 10000) {
            glanz_board_time(board, now);
            (void)glanz_device_frame(device, (uint32_t)now);
        }
        glanz_board_time(board, now);
        for (uint8_t o = 0; o < hardware->output_count; o++) {
            uint16_t leds = glanz_output_leds(&hardware->outputs[o]);
            if ((proof->output >= 0 && proof->output != o) || (proof->walk && step >= leds)) {
                continue;
            }
            if (proof->walk) {
                printf("%s: LED %d is %s\n", hardware->outputs[o].name, step, seen(glanz_board_lit(board, o, (uint16_t)step)));
                continue;
            }
            printf("%s: sent %s, seen", hardware->outputs[o].name, proof->names[step]);
            for (uint16_t i = 0, from = 0; i <= leds; i++) {
                const char *here = seen(glanz_board_lit(board, o, from));
                if (i == leds || strcmp(seen(glanz_board_lit(board, o, i)), here) != 0) {
                    printf("%s %s on LEDs %u to %u", from == 0 ? "" : ",", here, from, i - 1u);
                    from = i;
                }
            }
            putchar('\n');
        }
    }
    int wrong = 0;
    for (uint8_t o = 0; o < hardware->output_count; o++) {
        struct glanz_misread misread = glanz_board_misread(board, o);
        if (misread.first[0] != '\0') {
            fprintf(stderr, "glanz: chips misread: %s\n", misread.first);
            wrong = 1;
        }
    }
    free(memory);
    glanz_board_close(board);
    return wrong ? EXIT_FOUND : EXIT_GOOD;
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    struct document rig;
    struct document hardware;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct proof proof;
    struct text text;
    int code;
    int walk = 0;
    int brightness = 40;
    int stretch = 0;
    uint64_t pace_us = 500000;
    char *colors = NULL;
    char *leds = NULL;
    char *output = NULL;
    char *pace = NULL;
    char *truth = NULL;
    char *seen_text = NULL;
    const struct poptOption options[] = {
        {"colors", 'c', POPT_ARG_STRING, &colors, 0, "colours one after another (default red, green, blue, white)", "COLORS"},
        {"leds", 'l', POPT_ARG_STRING, &leds, 0, "only these LEDs, such as \"0-9, 20\" (default all)", "LEDS"},
        {"output", 'o', POPT_ARG_STRING, &output, 0, "only this output (default all)", "NAME"},
        {"walk", 'w', POPT_ARG_NONE, &walk, 0, "a dot of the first colour that walks the data line", NULL},
        {"pace", 'p', POPT_ARG_STRING, &pace, 0, "time for each colour, or each LED of the walk (default 500 ms)", "TIME"},
        {"brightness", 'b', POPT_ARG_INT, &brightness, 0, "lightness in per cent (default 40)", "PERCENT"},
        {"hardware", 'H', POPT_ARG_STRING, &truth, 0, "what is really wired, if other than the rig says", "RIG"},
        {"seen", 's', POPT_ARG_STRING, &seen_text, 0,
         "find the colour order of a stretch: what was seen for red, green, blue (and white where it has one)", "COLORS"},
        {"stretch", 0, POPT_ARG_INT, &stretch, 0,
         "only this stretch of the output, from 1 (default: all; with --seen the first)", "NUMBER"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_prove, argc, argv, options, 1, 1, &code)) {
        return code;
    }
    memset(&proof, 0, sizeof proof);
    memset(&rig, 0, sizeof rig);
    memset(&hardware, 0, sizeof hardware);
    proof.walk = walk;
    proof.output = -1;
    code = EXIT_USAGE;
    int good = colors_of(&proof, colors == NULL ? (walk ? "white" : "red, green, blue, white") : colors);
    good = good && (leds == NULL || leds_of(&proof, leds));
    good = good && (pace == NULL || time_of(&pace_us, pace, "--pace"));
    if (good && walk + (leds != NULL) + (stretch != 0) > 1) {
        complain_plain("prove: expected one of --walk, --leds, --stretch");
        good = 0;
    }
    if (good && seen_text != NULL && (walk || leds != NULL || colors != NULL || truth != NULL || pace != NULL)) {
        complain_plain("prove: --seen only takes --output and --stretch");
        good = 0;
    }
    if (good && (brightness < 1 || brightness > 100)) {
        complain_plain("--brightness: expected 1 to 100");
        good = 0;
    }
    if (good) {
        code = EXIT_FILE;
        good = text_read(&text, arguments.path[0]);
    }
    if (good) {
        code = EXIT_REFUSED;
        good = document_rig(&rig, text, &fault) == GLANZ_OK;
        if (!good) {
            complain(arguments.path[0], &fault);
        }
    }
    if (good && truth != NULL) {
        code = EXIT_FILE;
        good = text_read(&text, truth);
        if (good) {
            code = EXIT_REFUSED;
            good = document_rig(&hardware, text, &fault) == GLANZ_OK;
            if (!good) {
                complain(truth, &fault);
            }
        }
    }
    for (uint8_t o = 0; good && output != NULL && o < rig.rig->output_count; o++) {
        proof.output = strcmp(rig.rig->outputs[o].name, output) == 0 ? o : proof.output;
    }
    if (good && output != NULL && proof.output < 0) {
        complain_plain("--output: no such output in the rig: %s", output);
        code = EXIT_REFUSED;
        good = 0;
    }
    if (good && stretch != 0) {
        proof.output = proof.output < 0 ? 0 : proof.output;
        code = EXIT_USAGE;
        good = leds_of_stretch(&proof, &rig.rig->outputs[proof.output], stretch);
    }
    if (good && seen_text != NULL) {
        code = find_order(&rig.rig->outputs[proof.output < 0 ? 0 : proof.output].stretches[stretch == 0 ? 0 : stretch - 1],
                          seen_text);
    } else if (good) {
        code =
            run_proof(&proof, rig.rig, truth == NULL ? rig.rig : hardware.rig, pace_us, (uint32_t)brightness * 65535u / 100u);
    }
    free(proof.some);
    free(colors);
    free(leds);
    free(output);
    free(pace);
    free(truth);
    free(seen_text);
    document_free(&hardware);
    document_free(&rig);
    arguments_free(&arguments);
    return code;
}

const struct command command_prove = {"prove",
                                      "bring-up tests: known colours, single LEDs, a walking dot, the colour order",
                                      "RIG",
                                      "  glanz prove demo/rig.json --colors red,green,blue --leds 0-9 --output \"rail line\"\n"
                                      "  glanz prove demo/rig.json --seen green,red,blue\n",
                                      run,
                                      LIGHTS_SERIAL};
