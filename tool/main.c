/* SPDX-License-Identifier: MIT */
/* glanz: the command line. Finds the command; everything else is the command's. */
#include "commands.h"
#include "effects.h"

#include <stdlib.h>
#include <string.h>
#include <time.h>
#include <unistd.h>

#include <glanz/tool.h>

static const struct command *const commands[] = {
    &command_check,   &command_play,    &command_sheet,    &command_wire,     &command_prove,  &command_current,
    &command_list,    &command_write,   &command_forecast, &command_source,   &command_schema, &command_font,
    &command_picture, &command_wiring,  &command_find,     &command_calendar, &command_store,  &command_signals,
    &command_hear,    &command_gallery, &command_palette,  &command_tour};
#define COMMANDS (sizeof commands / sizeof commands[0])

static void help(FILE *to) {
    fputs("glanz: rigs and shows of addressable LEDs, on the desk\n\nUsage: glanz COMMAND [OPTION...] [FILE...]\n\n", to);
    for (size_t i = 0; i < COMMANDS; i++) {
        fprintf(to, "  %-8s  %s\n", commands[i]->name, commands[i]->description);
    }
    fputs("\n\"glanz COMMAND --help\" tells more, with an example.\n"
          "Exit codes: 0 done; 1 a document was refused; 2 the call was wrong; 3 a file could not be read or written;\n"
          "4 something is wrong with what was run or looked at (chips misread, a limit passed, a store damaged).\n",
          to);
}

/* Help of one command: popt's own list of options, with what it does before and an example behind. */
static void command_help(poptContext context, const struct command *command) {
    printf("glanz %s: %s\n\n", command->name, command->description);
    fflush(stdout);
    poptPrintHelp(context, stdout, 0);
    printf("\nExample:\n%s", command->example);
}

static void free_list(char **list) {
    for (char **entry = list; entry != NULL && *entry != NULL; entry++) {
        free(*entry);
    }
    free(list);
}

int arguments_parse(struct arguments *arguments, const struct command *command, int argc, const char **argv,
                    const struct poptOption *options, int least, int most, int *code) {
    int asked = 0;
    char usage[128];
    char **own = NULL;
    struct poptOption table[] = {{"help", 'h', POPT_ARG_NONE, &asked, 0, "show this", NULL},
                                 {"effects", 0, POPT_ARG_ARGV, &own, 0,
                                  "effects of your own beside the catalogue, from a C file or a shared object", "FILE"},
                                 {NULL, '\0', POPT_ARG_INCLUDE_TABLE, NULL, 0, "Options:", NULL},
                                 POPT_TABLEEND};
    static const struct poptOption none[] = {POPT_TABLEEND};
    table[2].arg = (void *)(uintptr_t)(options == NULL ? none : options);
    memset(arguments, 0, sizeof *arguments);
    snprintf(usage, sizeof usage, "glanz %s", command->name);
    argv[0] = usage;
    arguments->context = poptGetContext(NULL, argc, argv, table, 0);
    poptSetOtherOptionHelp(arguments->context, command->arguments);
    int result = poptGetNextOpt(arguments->context);
    *code = EXIT_USAGE;
    if (result < -1) {
        complain_plain("%s: %s; see \"glanz %s --help\"", poptBadOption(arguments->context, POPT_BADOPTION_NOALIAS),
                       poptStrerror(result), command->name);
    } else if (asked) {
        command_help(arguments->context, command);
        *code = EXIT_GOOD;
    } else {
        const char *path;
        int count = 0;
        while ((path = poptGetArg(arguments->context)) != NULL) {
            if (count < most) {
                arguments->path[count] = path;
            }
            count++;
        }
        arguments->count = count;
        if (count >= least && count <= most) {
            *code = EXIT_GOOD;
            for (char **file = own; file != NULL && *file != NULL && *code == EXIT_GOOD; file++) {
                *code = effects_load(*file);
            }
            if (*code == EXIT_GOOD) {
                free_list(own);
                return 1;
            }
            free_list(own);
            arguments_free(arguments);
            return 0;
        }
        complain_plain("%s: expected %s; see \"glanz %s --help\"", command->name, command->arguments, command->name);
    }
    free_list(own);
    arguments_free(arguments);
    return 0;
}

void arguments_free(struct arguments *arguments) {
    arguments->context = poptFreeContext(arguments->context);
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
            fprintf(stderr, done >= all ? "\r\x1b[K" : "\r%s: %llu %%", what, (unsigned long long)percent);
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
    if (strcmp(argv[1], "--version") == 0) {
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
    complain_plain("no such command: %s; see \"glanz --help\"", argv[1]);
    return EXIT_USAGE;
}
