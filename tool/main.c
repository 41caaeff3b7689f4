/* SPDX-License-Identifier: MIT */
/* glanz: the command line. Finds the command; everything else is the command's. */
#include "commands.h"
#include "effects.h"

#include <stdlib.h>
#include <string.h>
#include <time.h>
#include <unistd.h>

#include <glanz/tool.h>

const struct command *const commands[] = {
    &command_check,   &command_play,    &command_sheet,    &command_wire,     &command_prove,  &command_current,
    &command_list,    &command_write,   &command_forecast, &command_source,   &command_schema, &command_font,
    &command_picture, &command_wiring,  &command_find,     &command_calendar, &command_store,  &command_signals,
    &command_hear,    &command_gallery, &command_palette,  &command_tour,     &command_manual, &command_match, NULL};
#define COMMANDS (sizeof commands / sizeof commands[0] - 1u)

static void help(FILE *to) {
    fputs("glanz: rigs and shows of addressable LEDs, on the desk\n\nUsage: glanz COMMAND [OPTION...] [FILE...]\n\n", to);
    for (size_t i = 0; i < COMMANDS; i++) {
        fprintf(to, "  %-8s  %s\n", commands[i]->name, commands[i]->description);
    }
    fputs("\n\"glanz COMMAND --help\" tells more, with an example; \"glanz --version\" (-V) the version. Long options may be "
          "cut\n"
          "short as long as they are unmistakable; \"--\" ends them; \"-\" is standard input or output.\n"
          "Exit codes: 0 done; 1 a document was refused; 2 the call was wrong; 3 a file could not be read or written;\n"
          "4 something is wrong with what was run or looked at (chips misread, a limit passed, a store damaged).\n",
          to);
}

int may_color(void) {
    const char *no = getenv("NO_COLOR");
    return no == NULL || *no == '\0';
}

int report_misreads(struct session *session) {
    int wrong = 0;
    for (uint8_t o = 0; o < session->setup.hardware->output_count; o++) {
        struct glanz_misread misread = glanz_board_misread(session->board, o);
        if (misread.pulses + misread.resets + misread.missing + misread.extra != 0) {
            fprintf(stderr, "glanz: chips misread: %s (%u pulses, %u resets, %u frames short, %u frames long)\n", misread.first,
                    misread.pulses, misread.resets, misread.missing, misread.extra);
            wrong++;
        }
    }
    return wrong;
}

void progress(const char *what, uint64_t done, uint64_t all) {
    static uint64_t last = 101;
    static const char *of;
    static struct timespec since;
    struct timespec now;
    if (all == 0 || clock_gettime(CLOCK_MONOTONIC, &now) != 0) {
        return;
    }
    uint64_t percent = done * 100 / all;
    if (of != what) {
        of = what;
        last = 101;
        since = now;
    }
    if (isatty(2)) {
        if (percent != last) {
            double left = done == 0 ? 0 : (double)(now.tv_sec - since.tv_sec) * (double)(all - done) / (double)done;
            fprintf(stderr,
                    done >= all  ? "\r\x1b[K"
                    : left < 1.5 ? "\r%s: %llu %%\x1b[K"
                                 : "\r%s: %llu %%, %.0f s to go\x1b[K",
                    what, (unsigned long long)percent, left);
        }
    } else if (now.tv_sec - since.tv_sec >= 2 && percent / 10u != last / 10u && last != 101) { /* a line now and then will do */
        fprintf(stderr, "glanz: %s: %llu %%\n", what, (unsigned long long)percent);
    }
    last = percent;
}

int glanz_tool_main(int argc, char **given, GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects) {
    const char **argv = (const char **)(void *)given;
    int code = effects_add(effects);
    if (code != EXIT_GOOD) {
        return code;
    }
    if (argc < 2 || strcmp(argv[1], "--help") == 0 || strcmp(argv[1], "-h") == 0 || strcmp(argv[1], "help") == 0) {
        help(argc < 2 ? stderr : stdout);
        return argc < 2 ? EXIT_USAGE : EXIT_GOOD;
    }
    if (strcmp(argv[1], "--version") == 0 || strcmp(argv[1], "-V") == 0) {
        puts("glanz " GLANZ_VERSION);
        return EXIT_GOOD;
    }
    for (size_t i = 0; i < COMMANDS; i++) {
        if (strcmp(commands[i]->name, argv[1]) == 0) {
            code = commands[i]->run(argc - 1, argv + 1);
            if (fflush(stdout) != 0 && code == EXIT_GOOD) {
                complain_plain("cannot write to standard output");
                code = EXIT_FILE;
            }
            return code;
        }
    }
    const char *near[COMMANDS + 1];
    for (size_t i = 0; i < COMMANDS; i++) {
        near[i] = commands[i]->name;
    }
    near[COMMANDS] = NULL;
    const char *meant = words_nearest(argv[1], near);
    complain_plain(meant == NULL ? "no such command: %s; see \"glanz --help\"" : "no such command: %s; did you mean \"%s\"?",
                   argv[1], meant);
    return EXIT_USAGE;
}
