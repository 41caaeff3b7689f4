/* SPDX-License-Identifier: MIT */
/* Days of a show's calendar, as a controller was led through them: what glanz calendar tells and draws. */
#ifndef GLANZ_TOOL_CALENDAR_H
#define GLANZ_TOOL_CALENDAR_H

#include "commands.h"

struct change { /* what shows from a time on */
    uint32_t utc;
    uint8_t entry[GLANZ_SEGMENTS_MOST]; /* GLANZ_ALL: nothing of the calendar */
};

struct course {
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_show *show;
    struct glanz_zone zone;
    uint32_t first_day, days, begin, end;
    struct change *changes;
    size_t count, capacity;
    const char *segment; /* of the user's choice; NULL: all */
};

/* Segments that always show the same entry are one row. */
struct row {
    uint8_t segments[GLANZ_SEGMENTS_MOST];
    uint8_t count;
};

const char *calendar_entry_name(const struct course *course, uint8_t entry);
/* The segments of a row, as a text. */
void calendar_row_name(char *name, size_t capacity, const struct course *course, const struct row *row);
uint32_t calendar_local(const struct course *course, uint32_t utc);

/* The days as a picture, row by row. @return an exit code. */
int calendar_draw_year(const struct course *course, const struct row *rows, uint8_t count, const char *path);

/* The list as JSON. */
void calendar_print_facts(const struct course *course, int offsets);

#endif
