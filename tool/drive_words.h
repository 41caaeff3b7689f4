/* SPDX-License-Identifier: MIT */
/* Drives in words. */
#ifndef GLANZ_TOOL_DRIVE_WORDS_H
#define GLANZ_TOOL_DRIVE_WORDS_H

#include <glanz/control.h>

/* What it drives, as documents call it. @param look NULL for a segment's and the whole's. */
const char *drive_name(GLANZ_CONST struct glanz_look *look, GLANZ_CONST struct glanz_drive *drive);
/* A number of it as people write it; at most 63 characters. */
void drive_number_text(char *out, GLANZ_CONST struct glanz_look *look, GLANZ_CONST struct glanz_drive *drive, int32_t number);
/* Print what a show's drives do, a line each, and warn of what may not be meant. */
void drives_tell(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig);

#endif
