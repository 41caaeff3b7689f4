/* SPDX-License-Identifier: MIT */
/* Options and arguments of commands: popt, and around it help, options cut short, and words that were nearly right. */
#include "commands.h"
#include "effects.h"

#include <stdlib.h>
#include <string.h>

const char *words_nearest(const char *word, const char *const *words) {
    const char *nearest = NULL;
    size_t length = strlen(word);
    size_t best = length / 3 + 2; /* more changes than that are another word */
    for (; *words != NULL; words++) {
        size_t other = strlen(*words);
        size_t row[80];
        if (other >= sizeof row / sizeof row[0] || length >= 80) {
            continue;
        }
        for (size_t j = 0; j <= other; j++) {
            row[j] = j;
        }
        for (size_t i = 1; i <= length; i++) { /* changes of one letter, letter by letter */
            size_t corner = row[0];
            row[0] = i;
            for (size_t j = 1; j <= other; j++) {
                size_t changed = corner + (word[i - 1] != (*words)[j - 1]);
                size_t less = (row[j] < row[j - 1] ? row[j] : row[j - 1]) + 1;
                corner = row[j];
                row[j] = changed < less ? changed : less;
            }
        }
        if (row[other] < best) {
            best = row[other];
            nearest = *words;
        }
    }
    return nearest;
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

void (*arguments_describe)(const struct command *command, const struct poptOption *options);

/* ---- long options cut short, and those that there are not ---- */

static const struct poptOption *find_option(const struct poptOption *options, const char *name, size_t count, int *found) {
    const struct poptOption *last = NULL;
    for (; options->longName != NULL || options->arg != NULL; options++) {
        if (options->argInfo == POPT_ARG_INCLUDE_TABLE) {
            const struct poptOption *inner = find_option((const struct poptOption *)options->arg, name, count, found);
            last = inner == NULL ? last : inner;
        } else if (options->longName != NULL && strncmp(options->longName, name, count) == 0) {
            *found += strlen(options->longName) == count ? 1000 : 1; /* one that is written out counts alone */
            if (*found % 1000 == 1 || strlen(options->longName) == count) {
                last = options;
            }
        }
    }
    return last;
}

static void list_options(const struct poptOption *options, const char **names, size_t most) {
    size_t count = 0;
    while (names[count] != NULL) {
        count++;
    }
    for (; options->longName != NULL || options->arg != NULL; options++) {
        if (options->argInfo == POPT_ARG_INCLUDE_TABLE) {
            list_options((const struct poptOption *)options->arg, names, most);
            while (names[count] != NULL) {
                count++;
            }
        } else if (options->longName != NULL && count + 1 < most) {
            names[count++] = options->longName;
            names[count] = NULL;
        }
    }
}

/* Long options that are cut short are written out in place. @return 0 and complained: there is none, or there are several. */
static int write_out(const struct command *command, const struct poptOption *table, int argc, const char **argv, char **made) {
    for (int i = 1; i < argc && strcmp(argv[i], "--") != 0; i++) {
        size_t count = strncmp(argv[i], "--", 2) == 0 ? strcspn(argv[i] + 2, "=") : 0;
        int found = 0;
        const struct poptOption *option = count == 0 ? NULL : find_option(table, argv[i] + 2, count, &found);
        if (count == 0 || found >= 1000) {
            continue;
        }
        if (found != 1) {
            const char *names[64] = {NULL};
            char name[64];
            list_options(table, names, 64);
            snprintf(name, sizeof name, "%.*s", (int)(count < 60 ? count : 60), argv[i] + 2);
            const char *meant = found > 1 ? NULL : words_nearest(name, names);
            if (meant != NULL) {
                complain_plain("%s: no such option: --%s; did you mean \"--%s\"?", command->name, name, meant);
            } else {
                complain_plain(found > 1 ? "%s: --%s could be several options; expected more of it: see \"glanz %s --help\""
                                         : "%s: no such option: --%s; see \"glanz %s --help\"",
                               command->name, name, command->name);
            }
            return 0;
        }
        size_t size = strlen(option->longName) + strlen(argv[i]) + 4;
        made[i] = (char *)malloc(size);
        if (made[i] == NULL) {
            return 0;
        }
        snprintf(made[i], size, "--%s%s", option->longName, argv[i] + 2 + count);
        argv[i] = made[i];
    }
    return 1;
}

static char *store_given, *serial_given; /* to the one command that runs */
const char *serial_line;
const char *store_seen;

#define WORDS_MOST 256 /* of a call whose options may be cut short */

int arguments_parse(struct arguments *arguments, const struct command *command, int argc, const char **argv,
                    const struct poptOption *options, int least, int most, int *code) {
    int asked = 0;
    char usage[128];
    char **own = NULL;
    struct poptOption table[] = {{"help", 'h', POPT_ARG_NONE, &asked, 0, "show this", NULL},
                                 {"effects", 0, POPT_ARG_ARGV, &own, 0,
                                  "effects of your own beside the catalogue, from a C file or a shared object", "FILE"},
                                 {NULL, '\0', POPT_ARG_INCLUDE_TABLE, NULL, 0, "Options:", NULL},
                                 POPT_TABLEEND,
                                 POPT_TABLEEND,
                                 POPT_TABLEEND};
    static const struct poptOption none[] = {POPT_TABLEEND};
    static const struct poptOption common[] = {
        {"store", 0, POPT_ARG_STRING, &store_given, 0,
         "image of a store: its pictures and presets are seen, and it is not changed", "FILE"},
        {"serial", 0, POPT_ARG_STRING, &serial_given, 0,
         "a board's serial line, such as /dev/ttyACM0 or /dev/ttyUSB0@1000000: its LEDs show it too", "DEVICE"}};
    table[2].arg = (void *)(uintptr_t)(options == NULL ? none : options);
    for (int i = 0; i < 2; i++) { /* before what is the command's own */
        if ((command->common & (1 << i)) != 0) {
            int at = 2;
            while (table[at].argInfo != POPT_ARG_INCLUDE_TABLE) {
                at++;
            }
            table[at + 1] = table[at];
            table[at] = common[i];
        }
    }
    memset(arguments, 0, sizeof *arguments);
    if (arguments_describe != NULL) {
        arguments_describe(command, table);
        *code = EXIT_GOOD;
        return 0;
    }
    *code = EXIT_USAGE;
    if (argc <= WORDS_MOST && !write_out(command, table, argc, argv, arguments->made)) {
        arguments_free(arguments);
        return 0;
    }
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
        store_seen = store_given;
        session_lent_store = store_given;
        serial_line = session_serial_line = serial_given;
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
    for (size_t i = 0; i < WORDS_MOST; i++) {
        free(arguments->made[i]);
        arguments->made[i] = NULL;
    }
}
