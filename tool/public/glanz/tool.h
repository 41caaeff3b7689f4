/* SPDX-License-Identifier: MIT */
/** @file
 *  The command line as a library: a program of one's own that has all commands, with effects of one's own built in. For desktops;
 *  uses the heap, files and the terminal.
 */
#ifndef GLANZ_TOOL_H
#define GLANZ_TOOL_H

#include <glanz/effects.h>

GLANZ_HEADER_BEGIN

/** Run a command as `glanz` does.
 *  @param argc,argv as main() has them. @param effects of one's own, beside the catalogue: a list closed by NULL, lent for good;
 *  NULL: none. One whose name is taken is refused.
 *  @return the exit code: 0 done; 1 a document was refused; 2 the call was wrong; 3 a file could not be read or written; 4
 *  something is wrong with what was run or looked at.
 *  Example: int main(int argc, char **argv) { return glanz_tool_main(argc, argv, my_effects); } */
int glanz_tool_main(int argc, char **argv, GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects);

GLANZ_HEADER_END
#endif
