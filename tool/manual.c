/* SPDX-License-Identifier: MIT */
/* manual: man pages and completions of shells, from what the commands say of themselves for --help. */
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

#include "commands.h"

enum { MAN, BASH, ZSH, FISH };

static struct { /* the command that is described just now */
    FILE *to;
    int form;
} writing;

static int is_end(const struct poptOption *option) {
    return option->longName == NULL && option->arg == NULL;
}

/* ---- man pages ---- */

/* A text for man: backslashes and what a line must not begin with. */
static void put_roff(FILE *to, const char *text) {
    for (const char *at = text; *at != '\0'; at++) {
        if ((at == text || at[-1] == '\n') && (*at == '.' || *at == '\'')) {
            fputs("\\&", to);
        }
        fputs(*at == '\\' ? "\\e" : *at == '-' ? "\\-" : "", to);
        if (*at != '\\' && *at != '-') {
            putc(*at, to);
        }
    }
}

static void put_man_options(FILE *to, const struct poptOption *options) {
    for (; !is_end(options); options++) {
        if (options->argInfo == POPT_ARG_INCLUDE_TABLE) {
            put_man_options(to, (const struct poptOption *)options->arg);
            continue;
        }
        fputs(".TP\n", to);
        if (options->shortName != '\0') {
            fprintf(to, "\\fB\\-%c\\fR, ", options->shortName);
        }
        fputs("\\fB\\-\\-", to);
        put_roff(to, options->longName);
        fputs("\\fR", to);
        if (options->argDescrip != NULL) {
            fprintf(to, "=\\fI%s\\fR", options->argDescrip);
        }
        putc('\n', to);
        put_roff(to, options->descrip);
        putc('\n', to);
    }
}

static void put_man(FILE *to, const struct command *command, const struct poptOption *options) {
    fprintf(to, ".TH GLANZ\\-%s 1 \"\" \"glanz %s\" \"Glanz\"\n.SH NAME\nglanz\\-%s \\- ", command->name, GLANZ_VERSION,
            command->name);
    put_roff(to, command->description);
    fprintf(to, "\n.SH SYNOPSIS\n.B glanz %s\n[\\fIOPTION\\fR...] ", command->name);
    put_roff(to, command->arguments);
    fputs("\n.SH OPTIONS\n", to);
    put_man_options(to, options);
    fputs(".SH EXAMPLE\n.nf\n", to);
    put_roff(to, command->example);
    fputs(".fi\n.SH SEE ALSO\n.BR glanz (1)\n", to);
}

static void put_man_of_all(FILE *to) {
    fprintf(to,
            ".TH GLANZ 1 \"\" \"glanz %s\" \"Glanz\"\n.SH NAME\nglanz \\- rigs and shows of addressable LEDs, on the desk\n"
            ".SH SYNOPSIS\n.B glanz\n\\fICOMMAND\\fR [\\fIOPTION\\fR...] [\\fIFILE\\fR...]\n.SH COMMANDS\n",
            GLANZ_VERSION);
    for (int i = 0; commands[i] != NULL; i++) {
        fprintf(to, ".TP\n.BR glanz\\-%s (1)\n", commands[i]->name);
        put_roff(to, commands[i]->description);
        putc('\n', to);
    }
    fputs(".SH OPTIONS\nLong options may be cut short as long as they are unmistakable; \\fB\\-\\-\\fR ends them; \\fB\\-\\fR "
          "is standard input or "
          "output.\n.SH EXIT STATUS\n0 done; 1 a document was refused; 2 the call was wrong; 3 a file could not be read or "
          "written; 4 something "
          "is wrong with what was run or looked at.\n.SH ENVIRONMENT\n.TP\n.B NO_COLOR\nSet and not empty: no colours, not on "
          "a terminal either.\n"
          ".TP\n.B CC\nThe C compiler for effects of one's own.\n",
          to);
}

/* ---- completions ---- */

static void put_names(FILE *to, const struct poptOption *options) {
    for (; !is_end(options); options++) {
        if (options->argInfo == POPT_ARG_INCLUDE_TABLE) {
            put_names(to, (const struct poptOption *)options->arg);
        } else {
            fprintf(to, " --%s", options->longName);
        }
    }
}

/* In single quotes. */
static void put_quoted(FILE *to, const char *text, const char *quote) {
    for (; *text != '\0'; text++) {
        if (*text == '\'') {
            fputs(quote, to);
        } else {
            putc(*text, to);
        }
    }
}

static void put_zsh_options(FILE *to, const struct poptOption *options) {
    for (; !is_end(options); options++) {
        if (options->argInfo == POPT_ARG_INCLUDE_TABLE) {
            put_zsh_options(to, (const struct poptOption *)options->arg);
            continue;
        }
        fprintf(to, " '--%s%s[", options->longName, options->argDescrip == NULL ? "" : "=");
        for (const char *at = options->descrip; *at != '\0'; at++) { /* brackets and colons have a meaning there */
            fputs(*at == '\'' ? "'\\''" : *at == '[' || *at == ']' ? "" : *at == ':' ? "\\:" : "", to);
            if (*at != '\'' && *at != '[' && *at != ']' && *at != ':') {
                putc(*at, to);
            }
        }
        fprintf(to, options->argDescrip == NULL ? "]'" : "]:%s:_files'", options->argDescrip);
    }
}

static void put_fish_options(FILE *to, const struct command *command, const struct poptOption *options) {
    for (; !is_end(options); options++) {
        if (options->argInfo == POPT_ARG_INCLUDE_TABLE) {
            put_fish_options(to, command, (const struct poptOption *)options->arg);
            continue;
        }
        fprintf(to, "complete -c glanz -n '__fish_seen_subcommand_from %s' -l %s", command->name, options->longName);
        if (options->shortName != '\0') {
            fprintf(to, " -s %c", options->shortName);
        }
        fputs(options->argDescrip == NULL ? " -d '" : " -r -d '", to);
        put_quoted(to, options->descrip, "\\'");
        fputs("'\n", to);
    }
}

static void describe(const struct command *command, const struct poptOption *options) {
    FILE *to = writing.to;
    switch (writing.form) {
    case MAN: put_man(to, command, options); break;
    case BASH:
        fprintf(to, "    %s) words=\"", command->name);
        put_names(to, options);
        fputs("\" ;;\n", to);
        break;
    case ZSH:
        fprintf(to, "    %s) _arguments", command->name);
        put_zsh_options(to, options);
        fputs(" '*:file:_files' ;;\n", to);
        break;
    default:
        fprintf(to, "complete -c glanz -n __fish_use_subcommand -a %s -d '", command->name);
        put_quoted(to, command->description, "\\'");
        fputs("'\n", to);
        put_fish_options(to, command, options);
        break;
    }
}

/* Have a command tell its options. */
static void describe_command(const struct command *command, FILE *to, int form) {
    const char *argv[] = {command->name, NULL};
    writing.to = to;
    writing.form = form;
    arguments_describe = describe;
    (void)command->run(1, argv);
    arguments_describe = NULL;
}

static void put_completion(FILE *to, int form) {
    static const char bash[] = "# bash completion of glanz\n_glanz() {\n  local word=${COMP_WORDS[COMP_CWORD]} words=\"\"\n"
                               "  if [ \"$COMP_CWORD\" = 1 ]; then\n    words=\"";
    static const char zsh[] = "#compdef glanz\n_glanz() {\n  local -a names\n  if (( CURRENT == 2 )); then\n    names=(";
    static const char *const begins[] = {"", bash, zsh, "# fish completion of glanz\n"};
    fputs(begins[form], to);
    for (int i = 0; commands[i] != NULL && form != FISH; i++) {
        if (form == BASH) {
            fprintf(to, " %s", commands[i]->name);
        } else {
            fprintf(to, " '%s:", commands[i]->name);
            put_quoted(to, commands[i]->description, "'\\''");
            putc('\'', to);
        }
    }
    fputs(form == BASH
              ? "\"\n    COMPREPLY=($(compgen -W \"$words\" -- \"$word\"))\n    return\n  fi\n  case ${COMP_WORDS[1]} in\n"
          : form == ZSH ? ")\n    _describe command names\n    return\n  fi\n  local name=$words[2]\n  shift words\n  (( "
                          "CURRENT-- ))\n  case $name in\n"
                        : "",
          to);
    for (int i = 0; commands[i] != NULL; i++) {
        describe_command(commands[i], to, form);
    }
    fputs(form == BASH  ? "  esac\n  case $word in\n    -*) COMPREPLY=($(compgen -W \"$words\" -- \"$word\")) ;;\n    *) "
                          "COMPREPLY=($(compgen -f -- \"$word\")) ;;\n"
                          "  esac\n}\ncomplete -o filenames -F _glanz glanz\n"
          : form == ZSH ? "  esac\n}\n_glanz \"$@\"\n"
                        : "",
          to);
}

static int put_pages(const char *folder) {
    char path[1200];
    if (mkdir(folder, 0777) != 0 && errno != EEXIST) {
        complain_plain("cannot make the folder %s: %s", folder, strerror(errno));
        return EXIT_FILE;
    }
    for (int i = -1; i < 0 || commands[i] != NULL; i++) {
        struct output output;
        snprintf(path, sizeof path, i < 0 ? "%s/glanz.1" : "%s/glanz-%s.1", folder, i < 0 ? "" : commands[i]->name);
        if (!output_open(&output, path)) {
            return EXIT_FILE;
        }
        if (i < 0) {
            put_man_of_all(output.file);
        } else {
            describe_command(commands[i], output.file, MAN);
        }
        if (!output_close(&output, 1)) {
            return EXIT_FILE;
        }
    }
    return EXIT_GOOD;
}

static int run(int argc, const char **argv) {
    static const char *const shells[] = {"", "bash", "zsh", "fish"};
    struct arguments arguments;
    char *folder = NULL;
    char *shell = NULL;
    int code;
    const struct poptOption options[] = {
        {"man", 'm', POPT_ARG_STRING, &folder, 0, "write a man page of each command, and glanz.1, into this folder", "FOLDER"},
        {"completion", 'c', POPT_ARG_STRING, &shell, 0, "write the completion of a shell to standard output: bash, zsh or fish",
         "SHELL"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_manual, argc, argv, options, 0, 0, &code)) {
        return code;
    }
    int form = BASH;
    while (shell != NULL && form <= FISH && strcmp(shell, shells[form]) != 0) {
        form++;
    }
    if (form > FISH || (folder == NULL) == (shell == NULL)) {
        complain_plain(form > FISH ? "--completion %s: expected bash, zsh or fish"
                                   : "manual: expected --man FOLDER or --completion SHELL%s",
                       form > FISH ? shell : "");
        code = EXIT_USAGE;
    } else if (folder != NULL) {
        code = put_pages(folder);
    } else {
        put_completion(stdout, form);
    }
    free(folder);
    free(shell);
    arguments_free(&arguments);
    return code;
}

const struct command command_manual = {
    "manual", "man pages, and completions of shells, from what the commands say themselves", "",
    "  glanz manual --man out/man\n  glanz manual --completion bash > /etc/bash_completion.d/glanz\n", run, 0};
