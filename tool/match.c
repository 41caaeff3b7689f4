/* SPDX-License-Identifier: MIT */
/* match: LEDs of two makes made equal to the eye, from what one sees of patches beside each other. */
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include <glanz/match.h>

#include "commands.h"

static const char *const channel_names[GLANZ_MATCH_CHANNELS] = {"red", "green", "blue"};

struct side { /* LEDs of one make: a stretch of an output */
    uint8_t output;
    uint8_t stretch;
    uint16_t first, leds;
    uint16_t gain[GLANZ_MATCH_CHANNELS];
};

struct matching {
    struct side side[2];
    struct glanz_match match;
    GLANZ_CONST struct glanz_rig *rig,
        *truth; /* truth: its trims are how bright the simulated LEDs really are; NULL: unknown */
};

/* A third of the LEDs in each colour. */
static void paint(struct glanz_light *light, uint8_t output, uint16_t first, uint8_t count, void *user) {
    const struct matching *matching = (const struct matching *)user;
    static const struct glanz_light dark;
    for (uint8_t i = 0; i < count; i++) {
        light[i] = dark;
        for (int s = 0; s < 2; s++) {
            const struct side *side = &matching->side[s];
            uint32_t at = (uint32_t)first + i - side->first;
            if (output == side->output && first + i >= side->first && at < side->leds) {
                uint32_t channel = at * GLANZ_MATCH_CHANNELS / side->leds;
                *(&light[i].red + channel) = side->gain[channel];
            }
        }
    }
}

/* "rail line" or "rail line/2": a stretch, from 1. */
static int side_of(struct side *side, GLANZ_CONST struct glanz_rig *rig, const char *text, const char *option) {
    const char *slash = text == NULL ? NULL : strrchr(text, '/');
    size_t length = text == NULL ? 0 : slash == NULL ? strlen(text) : (size_t)(slash - text);
    unsigned long number = slash == NULL ? 1 : strtoul(slash + 1, NULL, 10);
    for (uint8_t o = 0; text != NULL && o < rig->output_count; o++) {
        GLANZ_CONST struct glanz_output *output = &rig->outputs[o];
        if (strlen(output->name) == length && strncmp(output->name, text, length) == 0 && number >= 1 &&
            number <= output->stretch_count) {
            side->output = o;
            side->stretch = (uint8_t)(number - 1);
            side->first = 0;
            for (unsigned long s = 0; s + 1 < number; s++) {
                side->first = (uint16_t)(side->first + output->stretches[s].leds);
            }
            side->leds = output->stretches[number - 1].leds;
            if (side->leds < GLANZ_MATCH_CHANNELS) {
                complain_plain("%s %s: it has %u LEDs; expected three and more", option, text, side->leds);
                return 0;
            }
            return 1;
        }
    }
    complain_plain("%s %s: expected an output of the rig, and behind a slash which of its stretches, such as \"rail line/2\"",
                   option, text == NULL ? "(nothing)" : text);
    return 0;
}

static double trim_of(GLANZ_CONST struct glanz_rig *rig, const struct side *side, int channel) {
    GLANZ_CONST struct glanz_output *output = &rig->outputs[side->output];
    uint16_t stretch = output->stretches[side->stretch].trim[channel];
    uint16_t line = output->trim[channel];
    return (stretch == 0 ? 1 : stretch / 65535.0) * (line == 0 ? 1 : line / 65535.0);
}

/* What one would see of simulated LEDs of different makes. */
static void draw(const struct matching *matching) {
    for (int c = 0; c < GLANZ_MATCH_CHANNELS && matching->truth != NULL; c++) {
        double light[2];
        for (int s = 0; s < 2; s++) {
            const struct side *side = &matching->side[s];
            light[s] = side->gain[c] / 65535.0 * trim_of(matching->rig, side, c) * trim_of(matching->truth, side, c);
        }
        printf("    %-5s  first %5.1f %%, second %5.1f %%\n", channel_names[c], light[0] * 100, light[1] * 100);
    }
}

static int read_answer(uint8_t *seen, const char *line) {
    char word[GLANZ_MATCH_CHANNELS][16];
    char end;
    if (sscanf(line, "%15s %15s %15s %c", word[0], word[1], word[2], &end) != GLANZ_MATCH_CHANNELS) {
        return 0;
    }
    for (int c = 0; c < GLANZ_MATCH_CHANNELS; c++) {
        static const char *const words[] = {"dimmer", "alike", "brighter"};
        uint8_t i = 0;
        while (i < 3 && strncmp(words[i], word[c], strlen(word[c])) != 0) {
            i++;
        }
        if (i == 3) {
            return 0;
        }
        seen[c] = i;
    }
    return 1;
}

static void print_found(const struct matching *matching) {
    for (int s = 0; s < 2; s++) {
        const struct side *side = &matching->side[s];
        printf("output \"%s\", stretch %u: \"trim\": { ", matching->rig->outputs[side->output].name, side->stretch + 1u);
        for (int c = 0; c < GLANZ_MATCH_CHANNELS; c++) {
            GLANZ_CONST struct glanz_stretch *stretch = &matching->rig->outputs[side->output].stretches[side->stretch];
            double before = stretch->trim[c] == 0 ? 1 : stretch->trim[c] / 65535.0;
            printf("%s\"%s\": \"%.1f %%\"", c == 0 ? "" : ", ", channel_names[c], side->gain[c] / 655.35 * before);
        }
        puts(" }");
    }
}

static int ask(struct matching *matching, struct glanz_board *board, struct glanz_device *device) {
    char line[256];
    uint64_t now_us = 0;
    for (;;) {
        uint8_t seen[GLANZ_MATCH_CHANNELS];
        glanz_match_gains(&matching->match, matching->side[0].gain, matching->side[1].gain);
        for (int i = 0; i < 40; i++, now_us += 10000) {
            glanz_board_time(board, now_us);
            (void)glanz_device_frame(device, (uint32_t)now_us);
        }
        if (glanz_match_done(&matching->match)) {
            printf("Found with %u questions:\n", matching->match.asked);
            print_found(matching);
            return EXIT_GOOD;
        }
        draw(matching);
        puts("Red, green, blue: is the second patch brighter, dimmer or alike? Three words, or their first letters, such as: b "
             "a d");
        fputs("> ", stdout);
        fflush(stdout);
        if (fgets(line, sizeof line, stdin) == NULL) {
            complain_plain("match: no answer any more; nothing was found");
            return EXIT_REFUSED;
        }
        line[strcspn(line, "\r\n")] = '\0';
        if (!isatty(0)) {
            puts(line);
        }
        if (!read_answer(seen, line) || glanz_match_answer(&matching->match, seen) != GLANZ_OK) {
            printf("\"%s\" is no answer; expected three words as above.\n", line);
        }
    }
}

static int match_on(struct matching *matching, int lightness) {
    static struct glanz_show nothing;
    struct glanz_board_setup board_setup;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct glanz_device *device = NULL;
    size_t size = glanz_device_size(matching->rig, 1);
    void *memory = calloc(1, size);
    memset(&board_setup, 0, sizeof board_setup);
    board_setup.hardware = matching->rig;
    board_setup.serial = serial_line;
    nothing.name = "nothing";
    nothing.brightness = (uint16_t)((uint32_t)lightness * 65535u / 100u);
    struct glanz_board *board = glanz_board_open(&board_setup, &fault);
    struct glanz_setup setup = glanz_setup_of(matching->rig, &nothing, glanz_board_port(board), &glanz_everything);
    int code = EXIT_REFUSED;
    setup.segment_capacity = 1;
    glanz_match_begin(&matching->match);
    if (board == NULL || memory == NULL || glanz_device_start(&device, memory, size, &setup, &fault) != GLANZ_OK ||
        glanz_engine_paint(glanz_device_engine(device), paint, matching) != GLANZ_OK) {
        complain(NULL, &fault);
    } else {
        code = ask(matching, board, device);
    }
    glanz_board_close(board);
    free(memory);
    return code;
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    struct document rig;
    struct document truth;
    struct document none;
    static struct matching matching;
    char *first = NULL;
    char *second = NULL;
    char *hardware = NULL;
    int lightness = 60;
    int code;
    const struct poptOption options[] = {
        {"first", '1', POPT_ARG_STRING, &first, 0,
         "the LEDs that stay as they are, if they can: an output, or one of its stretches", "NAME[/N]"},
        {"second", '2', POPT_ARG_STRING, &second, 0, "those that are to look like them", "NAME[/N]"},
        {"brightness", 'b', POPT_ARG_INT, &lightness, 0, "lightness in per cent (default 60)", "PERCENT"},
        {"hardware", 'H', POPT_ARG_STRING, &hardware, 0,
         "a rig whose trims tell how bright the simulated LEDs really are; draws what is seen", "RIG"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_match, argc, argv, options, 1, 1, &code)) {
        return code;
    }
    memset(&matching, 0, sizeof matching);
    memset(&truth, 0, sizeof truth);
    if (lightness < 1 || lightness > 100) {
        complain_plain("--brightness: expected 1 to 100");
        code = EXIT_USAGE;
        memset(&rig, 0, sizeof rig);
    } else {
        code = documents_read(&rig, &none, arguments.path[0], NULL, NULL);
        code = code == EXIT_GOOD && hardware != NULL ? documents_read(&truth, &none, hardware, NULL, NULL) : code;
    }
    if (code == EXIT_GOOD && hardware != NULL &&
        (truth.rig->output_count != rig.rig->output_count ||
         truth.rig->outputs[0].stretch_count != rig.rig->outputs[0].stretch_count)) {
        complain_plain("--hardware %s: expected the same outputs and stretches as in %s, with other trims", hardware,
                       arguments.path[0]);
        code = EXIT_REFUSED;
    }
    if (code == EXIT_GOOD) {
        matching.rig = rig.rig;
        matching.truth = hardware == NULL ? NULL : truth.rig;
        code = side_of(&matching.side[0], rig.rig, first, "--first") && side_of(&matching.side[1], rig.rig, second, "--second")
                   ? EXIT_GOOD
                   : EXIT_USAGE;
    }
    if (code == EXIT_GOOD) {
        code = match_on(&matching, lightness);
    }
    document_free(&rig);
    document_free(&truth);
    free(first);
    free(second);
    free(hardware);
    arguments_free(&arguments);
    return code;
}

const struct command command_match = {"match", "make LEDs of two makes look alike: asks what one sees, and tells the trims",
                                      "RIG",   "  glanz match demo/rig.json --first \"rail line/1\" --second \"rail line/2\"\n",
                                      run,     LIGHTS_SERIAL};
