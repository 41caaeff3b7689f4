/* SPDX-License-Identifier: MIT */
/* prove: bring-up tests of a rig, on simulated hardware that may be wired otherwise than the rig says. */
#include <stdlib.h>
#include <string.h>

#include "commands.h"
#include "facts.h"

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
    int json;
    struct facts facts;
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
static int find_order(struct proof *proof, GLANZ_CONST struct glanz_stretch *stretch, const char *text) {
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
    char found[5] = "";
    for (uint8_t p = 0; p < channels; p++) {
        found[p] = letters[shown[glanz_order_channel(order, p)]];
    }
    if (proof->json) {
        facts_open(&proof->facts, stdout);
        facts_text(&proof->facts, "order", found);
        facts_end(&proof->facts);
    } else {
        printf("\"order\": \"%s\"\n", found);
    }
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

/* What was seen on neighbouring LEDs of one output, where one colour was sent. */
static void tell_seen(struct proof *proof, const char *output, const char *sent, const char *color, unsigned first,
                      unsigned last) {
    if (proof->json) {
        facts_object(&proof->facts, NULL);
        facts_text(&proof->facts, "output", output);
        facts_text(&proof->facts, "sent", sent);
        facts_text(&proof->facts, "seen", color);
        facts_number(&proof->facts, "first", first, 0);
        facts_number(&proof->facts, "last", last, 0);
        facts_end(&proof->facts);
    } else if (proof->walk) {
        printf("%s: LED %u is %s\n", output, first, color);
    } else if (first == 0) {
        printf("%s: sent %s, seen %s on LEDs 0 to %u", output, sent, color, last);
    } else {
        printf(", %s on LEDs %u to %u", color, first, last);
    }
}

/* What is seen of an output after a step of the proof. */
static void look_at(struct proof *proof, struct glanz_board *board, GLANZ_CONST struct glanz_rig *hardware, uint8_t output) {
    uint16_t leds = glanz_output_leds(&hardware->outputs[output]);
    const char *name = hardware->outputs[output].name;
    if ((proof->output >= 0 && proof->output != output) || (proof->walk && proof->led >= leds)) {
        return;
    }
    if (proof->walk) {
        tell_seen(proof, name, proof->names[0], seen(glanz_board_lit(board, output, proof->led)), proof->led, proof->led);
        return;
    }
    for (uint16_t i = 0, from = 0; i <= leds; i++) {
        const char *here = seen(glanz_board_lit(board, output, from));
        if (i == leds || strcmp(seen(glanz_board_lit(board, output, i)), here) != 0) {
            tell_seen(proof, name, proof->names[proof->color], here, from, i - 1u);
            from = i;
        }
    }
    if (!proof->json) {
        putchar('\n');
    }
}

/* Chips that read a waveform otherwise than it was meant are told. @return whether one did */
static int tell_misread(struct proof *proof, struct glanz_board *board, uint8_t outputs) {
    int wrong = 0;
    if (proof->json) {
        facts_end(&proof->facts); /* of what was seen */
        facts_list(&proof->facts, "misread");
    }
    for (uint8_t o = 0; o < outputs; o++) {
        struct glanz_misread misread = glanz_board_misread(board, o);
        if (misread.first[0] != '\0') {
            fprintf(stderr, "glanz: chips misread: %s\n", misread.first);
            wrong = 1;
            if (proof->json) {
                facts_text(&proof->facts, NULL, misread.first);
            }
        }
    }
    if (proof->json) {
        facts_end(&proof->facts);
        facts_end(&proof->facts);
    }
    return wrong;
}

/* Steps of the proof: colours, or LEDs of the longest output that the dot walks. */
static int steps_of(const struct proof *proof, GLANZ_CONST struct glanz_rig *rig) {
    int steps = proof->walk ? 0 : proof->color_count;
    for (uint8_t o = 0; proof->walk && o < rig->output_count; o++) {
        int leds = glanz_output_leds(&rig->outputs[o]);
        if (proof->output < 0 || proof->output == o) {
            steps = leds > steps ? leds : steps;
        }
    }
    return steps;
}

static uint64_t run_until(struct glanz_device *device, struct glanz_board *board, uint64_t now, uint64_t end) {
    for (; now < end; now += 10000) {
        glanz_board_time(board, now);
        (void)glanz_device_frame(device, (uint32_t)now);
    }
    glanz_board_time(board, now);
    return now;
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
    if (proof->json) {
        facts_open(&proof->facts, stdout);
        facts_list(&proof->facts, "seen");
    }
    uint64_t now = run_until(device, board, 0, 1200000); /* up from dark, with the first colour */
    int steps = steps_of(proof, rig);
    for (int step = 0; step < steps; step++) {
        proof->led = (uint16_t)step;
        proof->color = proof->walk ? 0 : step;
        now = run_until(device, board, now, now + pace_us);
        for (uint8_t o = 0; o < hardware->output_count; o++) {
            look_at(proof, board, hardware, o);
        }
    }
    int wrong = tell_misread(proof, board, hardware->output_count);
    free(memory);
    glanz_board_close(board);
    return wrong ? EXIT_FOUND : EXIT_GOOD;
}

/* The rig at a path. @return EXIT_GOOD; else what was wrong is told */
static int read_rig(struct document *rig, const char *path) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text;
    if (!text_read(&text, path)) {
        return EXIT_FILE;
    }
    if (document_rig(rig, text, &fault) != GLANZ_OK) {
        complain(path, &fault);
        return EXIT_REFUSED;
    }
    return EXIT_GOOD;
}

/* The output of a name, all for NULL. @return 0 there is none, told */
static int choose_output(struct proof *proof, GLANZ_CONST struct glanz_rig *rig, const char *name) {
    for (uint8_t o = 0; name != NULL && o < rig->output_count; o++) {
        proof->output = strcmp(rig->outputs[o].name, name) == 0 ? o : proof->output;
    }
    if (name != NULL && proof->output < 0) {
        complain_plain("--output: no such output in the rig: %s", name);
        return 0;
    }
    return 1;
}

struct wish {
    char *colors, *leds, *output, *pace, *truth, *seen;
    int walk, brightness, stretch;
    uint64_t pace_us;
};

/* Do the options go together? @return 0 refused */
static int wish_read(struct proof *proof, struct wish *wish) {
    if (!colors_of(proof, wish->colors != NULL ? wish->colors
                          : wish->walk         ? "white"
                                               : "red, green, blue, white") ||
        (wish->leds != NULL && !leds_of(proof, wish->leds)) ||
        (wish->pace != NULL && !time_of(&wish->pace_us, wish->pace, "--pace"))) {
        return 0;
    }
    if (wish->walk + (wish->leds != NULL) + (wish->stretch != 0) > 1) {
        complain_plain("prove: expected one of --walk, --leds, --stretch");
        return 0;
    }
    if (wish->seen != NULL &&
        (wish->walk || wish->leds != NULL || wish->colors != NULL || wish->truth != NULL || wish->pace != NULL)) {
        complain_plain("prove: --seen only takes --output and --stretch");
        return 0;
    }
    if (wish->brightness < 1 || wish->brightness > 100) {
        complain_plain("--brightness: expected 1 to 100");
        return 0;
    }
    return 1;
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    struct document rig;
    struct document hardware;
    struct proof proof;
    struct wish wish = {.brightness = 40, .pace_us = 500000};
    int code;
    memset(&proof, 0, sizeof proof);
    memset(&rig, 0, sizeof rig);
    memset(&hardware, 0, sizeof hardware);
    const struct poptOption options[] = {
        {"colors", 'c', POPT_ARG_STRING, &wish.colors, 0, "colours one after another (default red, green, blue, white)",
         "COLORS"},
        {"leds", 'l', POPT_ARG_STRING, &wish.leds, 0, "only these LEDs, such as \"0-9, 20\" (default all)", "LEDS"},
        {"output", 'o', POPT_ARG_STRING, &wish.output, 0, "only this output (default all)", "NAME"},
        {"walk", 'w', POPT_ARG_NONE, &wish.walk, 0, "a dot of the first colour that walks the data line", NULL},
        {"pace", 'p', POPT_ARG_STRING, &wish.pace, 0, "time for each colour, or each LED of the walk (default 500 ms)", "TIME"},
        {"brightness", 'b', POPT_ARG_INT, &wish.brightness, 0, "lightness in per cent (default 40)", "PERCENT"},
        {"hardware", 'H', POPT_ARG_STRING, &wish.truth, 0, "what is really wired, if other than the rig says", "RIG"},
        {"seen", 's', POPT_ARG_STRING, &wish.seen, 0,
         "find the colour order of a stretch: what was seen for red, green, blue (and white where it has one)", "COLORS"},
        {"stretch", 0, POPT_ARG_INT, &wish.stretch, 0,
         "only this stretch of the output, from 1 (default: all; with --seen the first)", "NUMBER"},
        {"json", 'j', POPT_ARG_NONE, &proof.json, 0, "as JSON, for scripts: each output's LEDs, what was sent and seen", NULL},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_prove, argc, argv, options, 1, 1, &code)) {
        return code;
    }
    proof.walk = wish.walk;
    proof.output = -1;
    code = wish_read(&proof, &wish) ? read_rig(&rig, arguments.path[0]) : EXIT_USAGE;
    if (code == EXIT_GOOD && wish.truth != NULL) {
        code = read_rig(&hardware, wish.truth);
    }
    if (code == EXIT_GOOD && !choose_output(&proof, rig.rig, wish.output)) {
        code = EXIT_REFUSED;
    }
    if (code == EXIT_GOOD && wish.stretch != 0) {
        proof.output = proof.output < 0 ? 0 : proof.output;
        code = leds_of_stretch(&proof, &rig.rig->outputs[proof.output], wish.stretch) ? EXIT_GOOD : EXIT_USAGE;
    }
    if (code == EXIT_GOOD && wish.seen != NULL) {
        GLANZ_CONST struct glanz_output *output = &rig.rig->outputs[proof.output < 0 ? 0 : proof.output];
        code = find_order(&proof, &output->stretches[wish.stretch == 0 ? 0 : wish.stretch - 1], wish.seen);
    } else if (code == EXIT_GOOD) {
        code = run_proof(&proof, rig.rig, wish.truth == NULL ? rig.rig : hardware.rig, wish.pace_us,
                         (uint32_t)wish.brightness * 65535u / 100u);
    }
    free(proof.some);
    free(wish.colors);
    free(wish.leds);
    free(wish.output);
    free(wish.pace);
    free(wish.truth);
    free(wish.seen);
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
