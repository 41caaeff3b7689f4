/* SPDX-License-Identifier: MIT */
/* A document as tokens: opened, walked, and its faults told with their places. Tokens lie at the end of the memory, the first
 * one last. */
#include <string.h>

#include "json.h"

/* ---- places ---- */

static void place(struct glanz_fault *fault, const char *text, size_t at) {
    if (fault == NULL) {
        return;
    }
    fault->line = 1;
    fault->column = 1;
    for (size_t i = 0; i < at; i++) {
        fault->column++;
        if (text[i] == '\n') {
            fault->line++;
            fault->column = 1;
        }
    }
}

/* The JSON pointer of a token: from the root down, always into what it lies in. */
static void point(const struct json *json, int token) {
    for (int at = 0; at != token;) {
        int object = glanz_json_is(json, at, JSON_OBJECT);
        uint32_t index = 0;
        int child = glanz_json_first(json, at);
        for (int next; (next = glanz_json_next(json, at, child)) >= 0 && next <= token; child = next) {
            index++;
        }
        if (object) {
            char key[64];
            glanz_json_copy(json, child, key, sizeof key);
            glanz_fault_at(json->fault, key);
        } else {
            glanz_fault_at_index(json->fault, index);
        }
        at = object && token != child ? child + 1 : child;
    }
}

void glanz_json_fail(struct json *json, int token, const char *text, const char *name, const char *more) {
    if (json->status != GLANZ_OK) {
        return;
    }
    json->status = GLANZ_ERR_TEXT;
    if (json->fault == NULL) {
        return;
    }
    glanz_fault_begin(json->fault);
    glanz_fault_add(json->fault, text);
    if (name != NULL) {
        glanz_fault_name(json->fault, name);
    }
    glanz_fault_add(json->fault, more);
    point(json, token);
    place(json->fault, json->text, glanz_json_token(json, token)->start);
}

void glanz_json_place(const struct json *json, int token, struct glanz_fault *fault) {
    place(fault, json->text, glanz_json_token(json, token)->start);
}

void glanz_json_fail_checked(struct json *json, glanz_status status) {
    if (json->status != GLANZ_OK) {
        return;
    }
    json->status = status;
    if (json->fault != NULL) {
        int token = glanz_json_pointer(json, json->fault->where, 1);
        place(json->fault, json->text, glanz_json_token(json, token)->start);
    }
}

/* ---- opening ---- */

/* Is the string at a place what "of" says? Then it is built each time, not once for all. */
static int is_of(const char *text, size_t at) {
    while (at > 0 && memchr(" \t\r\n:", text[at - 1], 5) != NULL) {
        at--;
    }
    return at >= 4 && memcmp(text + at - 4, "\"of\"", 4) == 0;
}

size_t glanz_document_memory(const char *text, size_t count) {
    if (text == NULL) {
        return 0;
    }
    struct scan scan = {text, 0, count, NULL, 0, 0, NULL};
    (void)glanz_json_scan(&scan);
    size_t needed = 2048 + 3 * count + (size_t)scan.values * (sizeof(struct json_token) + 64);
    uint32_t named = 0;
    for (size_t at = 0; at < count; at++) { /* palettes that come along are built when they are named */
        for (uint8_t i = 0; text[at] == '"' && i < glanz_palette_count && i < 32; i++) {
            size_t length = strlen(glanz_palettes[i].name);
            if (((named >> i & 1u) == 0 || is_of(text, at)) && at + 1 + length < count && text[at + 1 + length] == '"' &&
                memcmp(text + at + 1, glanz_palettes[i].name, length) == 0) {
                named |= is_of(text, at) ? 0 : (uint32_t)1 << i;
                needed += ((size_t)glanz_palettes[i].count * GLANZ_STOPS_EACH + 2) * sizeof(struct glanz_stop) + 64;
            }
        }
    }
    return needed;
}

/* Bytes that reading this document wants; worked out only when there are too few. */
static size_t wanted(const struct json *json) {
    return glanz_document_memory(json->text, json->count);
}

static glanz_status too_little(struct json *json, size_t needed, size_t size) {
    json->status = glanz_fault_memory(json->fault, "reading the document", needed, size);
    return json->status;
}

/* Keys of an object in free memory, sorted by hash, then by their bytes, then as they stand: so that equal ones are neighbours.
 */
struct sorted {
    uint32_t hash;
    int key;
};

static int comes_after(const struct json *json, const struct sorted *a, const struct sorted *b) {
    if (a->hash != b->hash) {
        return a->hash > b->hash;
    }
    int order = glanz_json_order(json, a->key, b->key);
    return order != 0 ? order > 0 : a->key > b->key;
}

/* Let one sink to its place in a heap whose largest is at the root. */
static void sink(const struct json *json, struct sorted *keys, size_t at, size_t count) {
    for (size_t child = 2 * at + 1; child < count; child = 2 * at + 1) {
        child += child + 1 < count && comes_after(json, &keys[child + 1], &keys[child]);
        if (!comes_after(json, &keys[child], &keys[at])) {
            return;
        }
        struct sorted held = keys[at];
        keys[at] = keys[child];
        keys[child] = held;
        at = child;
    }
}

/* The first key of an object that stands there before; -1. Heapsort: n log n whatever the keys are. */
static int twice_in(const struct json *json, int object, struct sorted *keys) {
    size_t count = 0;
    int found = -1;
    for (int key = glanz_json_first(json, object); key >= 0; key = glanz_json_next(json, object, key)) {
        keys[count].hash = glanz_json_hash(json, key);
        keys[count++].key = key;
    }
    for (size_t i = count / 2; i > 0; i--) {
        sink(json, keys, i - 1, count);
    }
    for (size_t left = count; left > 1; left--) {
        struct sorted held = keys[0];
        keys[0] = keys[left - 1];
        keys[left - 1] = held;
        sink(json, keys, 0, left - 1);
    }
    for (size_t i = 1; i < count; i++) {
        if (keys[i].hash == keys[i - 1].hash && glanz_json_order(json, keys[i].key, keys[i - 1].key) == 0 &&
            (found < 0 || keys[i].key < found)) {
            found = keys[i].key;
        }
    }
    return found;
}

static void refuse_twice(struct json *json) {
    struct sorted *keys = (struct sorted *)(void *)json->memory;
    for (int object = 0; object < json->token_count && json->status == GLANZ_OK; object++) {
        size_t count = glanz_json_is(json, object, JSON_OBJECT) ? (size_t)glanz_json_size(json, object) : 0;
        if (count < 2) {
            continue;
        }
        if (count * sizeof *keys > json->capacity) {
            (void)too_little(json, wanted(json), json->capacity + sizeof(struct json_token) * (size_t)json->token_count);
            return;
        }
        int key = twice_in(json, object, keys);
        if (key >= 0) {
            char name[64];
            glanz_json_copy(json, key, name, sizeof name);
            glanz_json_fail(json, key, "", name, " stands twice in one object; expected each key once");
        }
    }
}

glanz_status glanz_json_open(struct json *json, void *memory, size_t size, const char *text, size_t count,
                             struct glanz_fault *fault) {
    memset(json, 0, sizeof *json);
    json->text = text;
    json->count = count;
    json->fault = fault;
    json->memory = (uint8_t *)memory;
    uintptr_t end = ((uintptr_t)memory + size) & ~(uintptr_t)7u;
    size_t capacity = ((uintptr_t)memory & 7u) != 0 || end < (uintptr_t)memory ? 0 : (size_t)(end - (uintptr_t)memory);
    size_t most = capacity / sizeof(struct json_token);
    struct scan scan = {text, 0, count, (struct json_token *)(void *)(json->memory + capacity), 0, 0, NULL};
    scan.capacity = most > GLANZ_TEXT_MOST ? GLANZ_TEXT_MOST : (int)most;
    const char *wrong = count > GLANZ_TEXT_MOST ? "the document is too large; expected at most 262144 bytes" : NULL;
    if (wrong != NULL || !glanz_json_scan(&scan)) {
        json->status = GLANZ_ERR_TEXT;
        glanz_fault_begin(fault);
        glanz_fault_add(fault, wrong != NULL ? wrong : scan.wrong);
        place(fault, text, scan.at < count ? scan.at : count);
        return json->status;
    }
    if (scan.values > scan.capacity) {
        return too_little(json, wanted(json), size);
    }
    json->token_count = scan.values;
    json->tokens = scan.tokens;
    json->capacity = (capacity - sizeof(struct json_token) * (size_t)scan.values) & ~(size_t)7u;
    refuse_twice(json);
    return json->status;
}

void *glanz_json_allocate(struct json *json, size_t size) {
    size = (size + 7u) & ~(size_t)7u;
    if (json->status != GLANZ_OK) {
        return NULL;
    }
    if (size > json->capacity - json->used) {
        (void)too_little(json, wanted(json), json->capacity + sizeof(struct json_token) * (size_t)json->token_count);
        return NULL;
    }
    void *taken = json->memory + json->used;
    json->used += size;
    memset(taken, 0, size);
    return taken;
}

/* ---- walking ---- */

int glanz_json_after(const struct json *json, int token) {
    return (int)glanz_json_token(json, token)->after;
}

int glanz_json_first(const struct json *json, int token) {
    return glanz_json_after(json, token) > token + 1 ? token + 1 : -1;
}

int glanz_json_next(const struct json *json, int parent, int token) {
    int after = glanz_json_after(json, glanz_json_is(json, parent, JSON_OBJECT) ? token + 1 : token);
    return after < glanz_json_after(json, parent) ? after : -1;
}

int glanz_json_size(const struct json *json, int token) {
    int size = 0;
    for (int at = glanz_json_first(json, token); at >= 0; at = glanz_json_next(json, token, at)) {
        size++;
    }
    return size;
}

int glanz_json_is_null(const struct json *json, int token) {
    return glanz_json_is(json, token, JSON_PRIMITIVE) && json->text[glanz_json_token(json, token)->start] == 'n';
}

int glanz_json_member(const struct json *json, int object, const char *key) {
    for (int at = glanz_json_first(json, object); at >= 0; at = glanz_json_next(json, object, at)) {
        if (glanz_json_equal(json, at, key)) {
            return at + 1;
        }
    }
    return -1;
}

int glanz_json_pointer(const struct json *json, const char *pointer, int deepest) {
    int token = 0;
    while (*pointer == '/') {
        char step[64];
        size_t length = 0;
        for (pointer++; *pointer != '\0' && *pointer != '/'; pointer++) {
            char c = *pointer;
            if (c == '~' && (pointer[1] == '0' || pointer[1] == '1')) {
                c = pointer[1] == '0' ? '~' : '/';
                pointer++;
            }
            if (length + 1 < sizeof step) {
                step[length++] = c;
            }
        }
        step[length] = '\0';
        int found = -1;
        if (glanz_json_is(json, token, JSON_OBJECT)) {
            found = glanz_json_member(json, token, step);
        } else if (glanz_json_is(json, token, JSON_ARRAY)) {
            uint32_t index = 0;
            for (size_t i = 0; i < length; i++) {
                index = index * 10u + (uint32_t)(step[i] - '0');
            }
            for (found = glanz_json_first(json, token); found >= 0 && index > 0; index--) {
                found = glanz_json_next(json, token, found);
            }
        }
        if (found < 0) {
            return deepest ? token : -1;
        }
        token = found;
    }
    return token;
}
