/* SPDX-License-Identifier: MIT */
/* Runs a target over files or folders, without a fuzzing engine; prints how many. */
#include <dirent.h>
#include <stdio.h>

#include "fuzz.h"

static unsigned ran;

static void run_file(const char *path) {
    struct text text;
    if (text_read(&text, path)) {
        (void)LLVMFuzzerTestOneInput((const uint8_t *)text.bytes, text.count);
        text_free(&text);
        ran++;
    }
}

int main(int argc, char **argv) {
    for (int i = 1; i < argc; i++) {
        DIR *folder = opendir(argv[i]);
        const struct dirent *entry;
        if (folder == NULL) {
            run_file(argv[i]);
            continue;
        }
        while ((entry = readdir(folder)) != NULL) {
            char path[4096];
            if (entry->d_name[0] != '.' && snprintf(path, sizeof path, "%s/%s", argv[i], entry->d_name) < (int)sizeof path) {
                run_file(path);
            }
        }
        closedir(folder);
    }
    printf("%u inputs\n", ran);
    return ran == 0;
}
