/* SPDX-License-Identifier: MIT */
/* JSON Merge Patch (RFC 7396): objects are merged member by member, null removes, anything else replaces. Both texts are
 * walked side by side; what stays is copied as it was written. */
#include <string.h>

#include "json.h"

struct frame {  /* two objects being merged */
    int target; /* -1: there is none, only the patch's members */
    int patch;
    int at;          /* the next member to look at, or -1 */
    uint8_t adding;  /* 0: the target's members; 1: the patch's own */
    uint8_t written; /* members so far */
};

struct merge {
    const struct json *target, *patch;
    glanz_sink sink;
    void *user;
};

static void put(const struct merge *merge, const char *text) {
    merge->sink(text, strlen(text), merge->user);
}

/* The text of a value as it stands, quotes and all. */
static void copy(const struct merge *merge, const struct json *from, int token) {
    int quote = glanz_json_is(from, token, JSON_STRING);
    merge->sink(from->text + glanz_json_token(from, token)->start - quote,
                (size_t)(glanz_json_token(from, token)->end - glanz_json_token(from, token)->start + 2u * (unsigned)quote),
                merge->user);
}

static void begin_member(const struct merge *merge, struct frame *frame, int depth, const struct json *from, int key) {
    static const char spaces[] = "                                ";
    put(merge, frame->written ? ",\n" : "\n");
    merge->sink(spaces, (size_t)(2 * depth < 32 ? 2 * depth : 32), merge->user);
    copy(merge, from, key);
    put(merge, ": ");
    frame->written = 1;
}

static int find(const struct json *in, int object, const struct json *from, int key) {
    for (int at = object < 0 ? -1 : glanz_json_first(in, object); at >= 0; at = glanz_json_next(in, object, at)) {
        if (glanz_json_same(in, at, from, key)) {
            return at + 1;
        }
    }
    return -1;
}

static void open_frame(const struct merge *merge, struct frame *frame, int target, int patch) {
    frame->target = glanz_json_is(merge->target, target, JSON_OBJECT) ? target : -1;
    frame->patch = patch;
    frame->adding = frame->target < 0;
    frame->written = 0;
    frame->at = frame->adding ? glanz_json_first(merge->patch, patch) : glanz_json_first(merge->target, target);
    put(merge, "{");
}

/* One member of the object on top of the stack. @return 1 when a nested object was opened above it. */
static int merge_member(const struct merge *merge, struct frame *stack, int depth) {
    struct frame *frame = &stack[depth];
    const struct json *from = frame->adding ? merge->patch : merge->target;
    int key = frame->at;
    frame->at = glanz_json_next(from, frame->adding ? frame->patch : frame->target, key);
    int target = frame->adding ? find(merge->target, frame->target, from, key) : key + 1;
    int patch = frame->adding ? key + 1 : find(merge->patch, frame->patch, from, key);
    if ((frame->adding && target >= 0) || (patch >= 0 && glanz_json_is_null(merge->patch, patch))) {
        return 0; /* merged already, or removed */
    }
    begin_member(merge, frame, depth + 1, from, key);
    if (patch < 0) {
        copy(merge, merge->target, target);
    } else if (glanz_json_is(merge->patch, patch, JSON_OBJECT)) {
        open_frame(merge, &stack[depth + 1], target, patch);
        return 1;
    } else {
        copy(merge, merge->patch, patch);
    }
    return 0;
}

static void close_frame(const struct merge *merge, const struct frame *frame, int depth) {
    static const char spaces[] = "                                ";
    if (frame->written) {
        put(merge, "\n");
        merge->sink(spaces, (size_t)(2 * depth < 32 ? 2 * depth : 32), merge->user);
    }
    put(merge, "}");
}

glanz_status glanz_document_merge(glanz_sink sink, void *user, void *memory, size_t size, const char *target,
                                  size_t target_count, const char *patch, size_t patch_count, struct glanz_fault *fault) {
    struct json target_json;
    struct json patch_json;
    struct frame stack[GLANZ_NESTING_MOST + 1];
    if (sink == NULL || memory == NULL || target == NULL || patch == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_status status = glanz_json_open(&target_json, memory, size, target, target_count, fault);
    if (status == GLANZ_OK) { /* the patch's tokens go below the target's */
        status = glanz_json_open(&patch_json, memory, target_json.capacity, patch, patch_count, fault);
    }
    if (status != GLANZ_OK) {
        return status;
    }
    struct merge merge = {&target_json, &patch_json, sink, user};
    if (!glanz_json_is(&patch_json, 0, JSON_OBJECT)) {
        copy(&merge, &patch_json, 0);
        put(&merge, "\n");
        return GLANZ_OK;
    }
    int depth = 0;
    open_frame(&merge, &stack[0], 0, 0);
    while (depth >= 0) {
        struct frame *frame = &stack[depth];
        if (frame->at >= 0) {
            depth += merge_member(&merge, stack, depth);
        } else if (!frame->adding) {
            frame->adding = 1;
            frame->at = glanz_json_first(&patch_json, frame->patch);
        } else {
            close_frame(&merge, frame, depth);
            depth--;
        }
    }
    put(&merge, "\n");
    return GLANZ_OK;
}

/* The key of a patch that has the name which stands at a place of the merged document: what is named there was taken away, or
 * made something else. @return -1 none. */
static int named_in(const struct json *patch, const struct json *merged, const char *pointer) {
    int token = glanz_json_pointer(merged, pointer, 0);
    for (int object = 0; glanz_json_is(merged, token, JSON_STRING) && object < patch->token_count; object++) {
        int key = glanz_json_is(patch, object, JSON_OBJECT) ? glanz_json_first(patch, object) : -1;
        for (; key >= 0; key = glanz_json_next(patch, object, key)) {
            if (glanz_json_same(patch, key, merged, token)) {
                return key;
            }
        }
    }
    return -1;
}

void glanz_document_locate(struct glanz_fault *fault, void *memory, size_t size, const char *patch, size_t patch_count,
                           const char *merged, size_t merged_count) {
    struct json json;
    struct json whole;
    if (fault == NULL || memory == NULL || patch == NULL || merged == NULL ||
        glanz_json_open(&json, memory, size, patch, patch_count, NULL) != GLANZ_OK) {
        return;
    }
    fault->line = 0;
    fault->column = 0;
    int token = glanz_json_pointer(&json, fault->where, 1);
    if (token == 0 && fault->where[0] == '/' &&
        glanz_json_open(&whole, memory, json.capacity, merged, merged_count, NULL) == GLANZ_OK) {
        token = named_in(&json, &whole, fault->where);
    }
    if (token >= 0) {
        glanz_json_place(&json, token, fault);
    }
}
