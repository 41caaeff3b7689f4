/* SPDX-License-Identifier: MIT */
/* The same on the desk: the scenarios built in as C; or, with arguments NAME FRAMES RIG SHOW [INPUTS], one from its
 * documents. */
#include <stdio.h>
#include <stdlib.h>

#include "replay.h"

#ifdef REPLAY_DOCUMENTS
#include <string.h>

#include "log.h"

/* Documents and raw inputs read from files, as a scenario. */
static int from_documents(char **argument, int count) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct document rig;
    struct document show;
    struct log log = {NULL, 0};
    struct text text;
    struct scenario scenario = {argument[0], NULL, NULL, NULL, NULL, (uint16_t)atoi(argument[1])};
    static GLANZ_CONST struct glanz_effect *effects[100];
    document_effects = replay_effects(effects);
    memset(&rig, 0, sizeof rig);
    memset(&show, 0, sizeof show);
    if (!text_read(&text, argument[2]) || document_rig(&rig, text, &fault) != GLANZ_OK || !text_read(&text, argument[3]) ||
        document_show(&show, text, rig.rig, NULL, &fault) != GLANZ_OK) {
        complain(argument[0], &fault);
        return 1;
    }
    if (count == 5 && (!text_read(&text, argument[4]) || log_read(&log, text.bytes, text.count, &fault) != GLANZ_OK)) {
        complain(argument[4], &fault);
        return 1;
    }
    struct glanz_pushed *pushed = (struct glanz_pushed *)calloc(log.count + 1, sizeof *pushed);
    for (size_t i = 0; i < log.count; i++) {
        pushed[i].time_us = (uint32_t)log.entries[i].at_us;
        pushed[i].value = log.entries[i].level;
        while (!glanz_text_equal(rig.rig->inputs[pushed[i].input].name, log.entries[i].name)) {
            pushed[i].input++;
        }
    }
    pushed[log.count].time_us = 0xFFFFFFFFu;
    scenario.rig = rig.rig;
    scenario.show = show.show;
    scenario.pushed = pushed;
    static uint64_t memory[50000];
    struct replayed replayed = replay(&scenario, memory, sizeof memory);
    printf("%s %u frames %08x kept %08x", scenario.name, replayed.sent, (unsigned)replayed.hash, (unsigned)replayed.kept);
    printf(replayed.status == GLANZ_OK ? "\n" : " status %d\n", (int)replayed.status);
    return replayed.status != GLANZ_OK;
}

int main(int argc, char **argv) {
    int failed = 0;
    for (int i = 1; i < argc;) { /* scenarios one after another, each ended by -- */
        int count = 0;
        while (i + count < argc && strcmp(argv[i + count], "--") != 0) {
            count++;
        }
        failed |= from_documents(argv + i, count);
        i += count + 1;
    }
    return failed;
}
#else
int main(void) {
    static uint64_t memory[50000];
    int failed = 0;
    for (int i = 0; scenarios[i].name != NULL; i++) {
        struct replayed replayed = replay(&scenarios[i], memory, sizeof memory);
        printf("%s %u frames %08x kept %08x", scenarios[i].name, replayed.sent, (unsigned)replayed.hash,
               (unsigned)replayed.kept);
        printf(replayed.status == GLANZ_OK ? "\n" : " status %d\n", (int)replayed.status);
        failed |= replayed.status != GLANZ_OK;
    }
    return failed;
}
#endif
