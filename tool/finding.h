/* SPDX-License-Identifier: MIT */
/* A search for the wiring of panels: what is looked for, and where. */
#ifndef GLANZ_TOOL_FINDING_H
#define GLANZ_TOOL_FINDING_H

#include <glanz/device.h>
#include <glanz/finder.h>
#include <glanz/linux.h>

struct search {
    struct glanz_finder finder;
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_surface *truth; /* how the simulated panels really hang; NULL: nothing is drawn */
    uint8_t output;
    uint16_t first; /* LED of the output where the panels begin */
    struct glanz_board *board;
    struct glanz_device *device;
    uint64_t now_us;
};

/* The options that tell which panels are looked for; NULL where not given. */
struct finding_options {
    char *size, *panels, *output, *surface, *hangs;
};

/* What is looked for. @return EXIT_GOOD; else what was wrong is told */
int finding_begin(struct search *search, GLANZ_CONST struct glanz_rig *rig, const struct finding_options *options);

#endif
