/* SPDX-License-Identifier: MIT */
/* glanz: the command line, with the effects of the catalogue. */
#include <stddef.h>

#include <glanz/tool.h>

int main(int argc, char **argv) {
    return glanz_tool_main(argc, argv, NULL);
}
