/* SPDX-License-Identifier: MIT */
/* The commands, and what they share. */
#ifndef GLANZ_TOOL_COMMANDS_H
#define GLANZ_TOOL_COMMANDS_H

#include <popt.h>

#include "output.h"
#include "session.h"

#define SEES_STORE 1    /* --store: the image of a store whose pictures and presets it sees and does not change */
#define LIGHTS_SERIAL 2 /* --serial: real LEDs show what the simulated ones do */

struct command {
    const char *name;
    const char *description;
    const char *arguments;
    const char *example; /* lines to try, run in the project's folder */
    int (*run)(int argc, const char **argv);
    int common; /* options that several have: SEES_STORE, LIGHTS_SERIAL, or-ed */
};

extern const struct command command_check, command_list, command_play, command_sheet, command_wire, command_prove,
    command_current, command_write, command_source, command_forecast, command_schema, command_font, command_picture,
    command_wiring, command_find, command_calendar, command_store, command_signals, command_hear, command_gallery,
    command_palette, command_tour, command_manual, command_match;
extern const struct command *const commands[]; /* all of them, closed by NULL */

/* Set: a command tells its options and does nothing. For manual.c. */
extern void (*arguments_describe)(const struct command *command, const struct poptOption *options);
/* The word of a list, closed by NULL, that is nearly this one; NULL: none is. */
const char *words_nearest(const char *word, const char *const *words);

/* Parse options and arguments. @return the arguments (at least `least`, at most `most` of them, NULL-terminated), or NULL
 * with *code set, when help was asked for or the call was wrong. Free with arguments_free(). */
struct arguments {
    poptContext context;
    const char *path[8];
    int count;
    char *made[256]; /* options that were written out */
};
int arguments_parse(struct arguments *arguments, const struct command *command, int argc, const char **argv,
                    const struct poptOption *options, int least, int most, int *code);
void arguments_free(struct arguments *arguments);

/* Read a rig and, unless its path is NULL, a show, patched if asked. Both are to be freed in any case. @return an exit code. */
int documents_read(struct document *rig, struct document *show, const char *rig_path, const char *show_path,
                   const char *patch_path);

/* The serial line that --serial named; NULL: none. */
extern const char *serial_line;
/* The image that --store named; NULL: none. */
extern const char *store_seen;
/* Its pictures, for commands that run nothing. Free the memory. @return an exit code. */
int store_seen_pictures(struct kept *kept, uint8_t **memory);

/* May there be colours? Not where NO_COLOR is set and not empty; the commands that are light are plain text then. */
int may_color(void);

/* The simulated chips' reports of all outputs, on standard error. @return how many lines had something wrong. */
int report_misreads(struct session *session);

/* Progress on standard error: as it goes on a terminal, else a line for each tenth once it has taken two seconds. */
void progress(const char *what, uint64_t done, uint64_t all);

/* What a record of a store is, as text. */
void store_describe(char *text, size_t capacity, uint16_t key, const uint8_t *bytes, size_t count);

/* Where an LED is drawn: on a plane in steps of LEDs, y down. */
struct spot {
    double x, y;
    uint8_t surface;
    uint8_t output;
    uint16_t led;
};
/* Spots of all LEDs of a rig, surface under surface. @return how many; *width and *height are the plane's. Free the array. */
size_t spots_of(struct spot **spots, double *width, double *height, GLANZ_CONST struct glanz_rig *rig, int columns);

#endif
