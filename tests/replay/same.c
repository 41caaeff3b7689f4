/* SPDX-License-Identifier: MIT */
/* Rigs and shows in C against the documents that they were made from: written as documents both, they are the same text.
 * usage: same FOLDER: with NAME.rig.json and NAME.show.json for each scenario */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "files.h"
#include "replay.h"

#include <glanz/document.h>

static void sink(const char *bytes, size_t count, void *user) {
    text_add(bytes, count, (struct text *)user);
}

static int written(struct text *rig_text, struct text *show_text, GLANZ_CONST struct glanz_rig *rig,
                   GLANZ_CONST struct glanz_show *show) {
    memset(rig_text, 0, sizeof *rig_text);
    memset(show_text, 0, sizeof *show_text);
    return glanz_rig_write(rig, sink, rig_text) == GLANZ_OK && glanz_show_write(show, rig, sink, show_text) == GLANZ_OK;
}

static int compare(const struct scenario *scenario, const char *folder) {
    char path[400];
    struct text text;
    struct text from_document[2];
    struct text from_c[2];
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    GLANZ_CONST struct glanz_rig *rig = NULL;
    GLANZ_CONST struct glanz_show *show = NULL;
    GLANZ_CONST struct glanz_effect *effects[100];
    size_t used = 0;
    size_t size = 4u << 20;
    uint8_t *memory = (uint8_t *)malloc(2 * size);
    snprintf(path, sizeof path, "%s/%s.rig.json", folder, scenario->name);
    int good = memory != NULL && text_read(&text, path) &&
               glanz_rig_read(&rig, &used, memory, size, text.bytes, text.count, &fault) == GLANZ_OK;
    snprintf(path, sizeof path, "%s/%s.show.json", folder, scenario->name);
    good = good && text_read(&text, path) &&
           glanz_show_read(&show, &used, memory + size, size, text.bytes, text.count, rig, replay_effects(effects), NULL, 0,
                           &fault) == GLANZ_OK;
    good = good && written(&from_document[0], &from_document[1], rig, show) &&
           written(&from_c[0], &from_c[1], scenario->rig, scenario->show);
    if (!good) {
        printf("%s: cannot be read or written: %s\n", scenario->name, fault.text);
        return 0;
    }
    for (int i = 0; i < 2; i++) {
        if (from_document[i].count != from_c[i].count ||
            memcmp(from_document[i].bytes, from_c[i].bytes, from_c[i].count) != 0) {
            printf("%s: the %s in C is another:\n%.*s\n---\n%.*s\n", scenario->name, i == 0 ? "rig" : "show",
                   (int)from_document[i].count, from_document[i].bytes, (int)from_c[i].count, from_c[i].bytes);
            good = 0;
        }
        text_free(&from_document[i]);
        text_free(&from_c[i]);
    }
    free(memory);
    return good;
}

int main(int argc, char **argv) {
    int failed = argc != 2;
    int count = 0;
    for (; argc == 2 && scenarios[count].name != NULL; count++) {
        failed += !compare(&scenarios[count], argv[1]);
    }
    printf("%d rigs and shows in C written as documents: %d are not what they were made from\n", count, failed);
    return failed != 0;
}
