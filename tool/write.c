/* SPDX-License-Identifier: MIT */
/* write: a rig or a show, patched if asked, as a document again; and how commands read both. */
#include <stdlib.h>
#include <string.h>

#include "commands.h"

int documents_read(struct document *rig, struct document *show, const char *rig_path, const char *show_path,
                   const char *patch_path) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text;
    struct text patch;
    static struct kept kept; /* pictures: they are looked at until the end */
    static uint8_t *kept_memory;
    memset(rig, 0, sizeof *rig);
    memset(show, 0, sizeof *show);
    memset(&patch, 0, sizeof patch);
    if (patch_path != NULL && show_path == NULL) {
        complain_plain("--patch: expected a show to patch");
        return EXIT_USAGE;
    }
    int code = store_seen_pictures(&kept, &kept_memory);
    if (code != EXIT_GOOD) {
        return code;
    }
    if (!text_read(&text, rig_path)) {
        return EXIT_FILE;
    }
    if (document_rig(rig, text, &fault) != GLANZ_OK) {
        complain(rig_path, &fault);
        return EXIT_REFUSED;
    }
    if (show_path == NULL) {
        return EXIT_GOOD;
    }
    if (!text_read(&text, show_path)) {
        return EXIT_FILE;
    }
    if (patch_path != NULL) {
        struct text merged;
        if (!text_read(&patch, patch_path)) {
            text_free(&text);
            return EXIT_FILE;
        }
        glanz_status status = document_show(show, text, rig->rig, &kept, &fault);
        if (status != GLANZ_OK) {
            complain(show_path, &fault);
            text_free(&patch);
            return EXIT_REFUSED;
        }
        status = patch_text(&merged, &show->text, &patch, &fault);
        document_free(show);
        if (status == GLANZ_OK) {
            struct text copy = {NULL, 0, 0};
            text_add(merged.bytes, merged.count, &copy);
            status = document_show(show, merged, rig->rig, &kept, &fault);
            if (status != GLANZ_OK) {
                patch_locate(&fault, &patch, &copy);
            }
            text_free(&copy);
        }
        text_free(&patch);
        if (status != GLANZ_OK) {
            complain(patch_path, &fault);
            return EXIT_REFUSED;
        }
        return EXIT_GOOD;
    }
    if (document_show(show, text, rig->rig, &kept, &fault) != GLANZ_OK) {
        complain(show_path, &fault);
        return EXIT_REFUSED;
    }
    return EXIT_GOOD;
}

static void to_text(const char *bytes, size_t count, void *user) {
    text_add(bytes, count, user);
}

static int run_write(int argc, const char **argv) {
    struct arguments arguments;
    struct document rig;
    struct document show;
    struct text out = {NULL, 0, 0};
    char *patch = NULL;
    char *path = NULL;
    int code;
    const struct poptOption options[] = {
        {"patch", 'p', POPT_ARG_STRING, &patch, 0, "apply this merge patch to the show first", "FILE"},
        {"output", 'o', POPT_ARG_STRING, &path, 0, "where to write; else standard output", "FILE"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_write, argc, argv, options, 1, 2, &code)) {
        return code;
    }
    code = documents_read(&rig, &show, arguments.path[0], arguments.path[1], patch);
    if (code == EXIT_GOOD) {
        glanz_status status =
            show.show == NULL ? glanz_rig_write(rig.rig, to_text, &out) : glanz_show_write(show.show, rig.rig, to_text, &out);
        code = status != GLANZ_OK ? EXIT_REFUSED
               : output_bytes(path == NULL ? "-" : path, out.bytes, out.count) ? EXIT_GOOD
                                                                               : EXIT_FILE;
    }
    text_free(&out);
    document_free(&show);
    document_free(&rig);
    free(patch);
    free(path);
    arguments_free(&arguments);
    return code;
}

const struct command command_write = {"write",      "write a rig, or the show for it, as a document again",
                                      "RIG [SHOW]", "  glanz write demo/rig.json demo/show.json --patch demo/blue.patch.json\n",
                                      run_write,    SEES_STORE};
