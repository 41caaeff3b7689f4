/* SPDX-License-Identifier: MIT */
/* All commands, with an effect of one's own built in. */
#include <stddef.h>

#include <glanz/tool.h>

extern GLANZ_CONST struct glanz_effect harbour_lighthouse;
static GLANZ_CONST struct glanz_effect *GLANZ_CONST own[] = {&harbour_lighthouse, NULL};

int main(int argc, char **argv) {
    return glanz_tool_main(argc, argv, own);
}
