/* SPDX-License-Identifier: MIT */
/* The commands, and what they share. */
#ifndef GLANZ_TOOL_COMMANDS_H
#define GLANZ_TOOL_COMMANDS_H

#include <popt.h>

#include "output.h"
#include "session.h"

struct command {
    const char *name;
    const char *description;
    const char *arguments;
    const char *example; /* lines to try, run in the project's folder */
    int (*run)(int argc, const char **argv);
};

extern const struct command command_check, command_list, command_play, command_sheet, command_wire, command_prove,
    command_current, command_write, command_source, command_forecast, command_schema, command_font, command_picture,
    command_wiring, command_find, command_calendar, command_store, command_signals, command_hear, command_gallery,
    command_palette, command_tour;

/* Parse options and arguments. @return the arguments (at least `least`, at most `most` of them, NULL-terminated), or NULL
 * with *code set, when help was asked for or the call was wrong. Free with arguments_free(). */
struct arguments {
    poptContext context;
    const char *path[8];
    int count;
};
int arguments_parse(struct arguments *arguments, const struct command *command, int argc, const char **argv,
                    const struct poptOption *options, int least, int most, int *code);
void arguments_free(struct arguments *arguments);

/* The simulated chips' reports of all outputs, on standard error. @return how many lines had something wrong. */
int report_misreads(struct session *session);

/* Progress on standard error: as it goes on a terminal, else a line for each tenth once it has taken two seconds. */
void progress(const char *what, uint64_t done, uint64_t all);

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
