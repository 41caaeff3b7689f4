/* SPDX-License-Identifier: MIT */
/* Strict JSON (RFC 8259): every byte is checked here before jsmn cuts the text into tokens, so tokens can be trusted. */
#include <string.h>

#define JSMN_STATIC
#define JSMN_PARENT_LINKS
#include <jsmn.h>
#define JSMN_HEADER
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

/* The JSON pointer of a token, from the root down: parents are gathered first. */
static void point(const struct json *json, int token) {
    int chain[2 * GLANZ_NESTING_MOST + 4];
    int length = 0;
    for (int at = token; at >= 0 && length < (int)(sizeof chain / sizeof chain[0]); at = json->tokens[at].parent) {
        chain[length++] = at;
    }
    while (length > 0) {
        int at = chain[--length];
        int parent = json->tokens[at].parent;
        if (parent < 0) {
            continue;
        }
        if (json->tokens[parent].type == JSMN_ARRAY) {
            uint32_t index = 0;
            for (int other = glanz_json_first(json, parent); other >= 0 && other != at;
                 other = glanz_json_next(json, parent, other)) {
                index++;
            }
            glanz_fault_at_index(json->fault, index);
        } else if (json->tokens[parent].type == JSMN_OBJECT) {
            char key[64];
            glanz_json_copy(json, at, key, sizeof key);
            glanz_fault_at(json->fault, key);
        }
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
    place(json->fault, json->text, (size_t)json->tokens[token].start);
}

void glanz_json_place(const struct json *json, int token, struct glanz_fault *fault) {
    place(fault, json->text, (size_t)json->tokens[token].start);
}

void glanz_json_fail_checked(struct json *json, glanz_status status) {
    if (json->status != GLANZ_OK) {
        return;
    }
    json->status = status;
    if (json->fault != NULL) {
        int token = glanz_json_pointer(json, json->fault->where, 1);
        place(json->fault, json->text, (size_t)json->tokens[token].start);
    }
}

/* ---- the strict scan ---- */

struct scan {
    const char *text;
    size_t at, count;
    int values; /* keys too: what jsmn will call tokens */
    const char *wrong;
};

static int peek(const struct scan *scan) {
    return scan->at < scan->count ? (uint8_t)scan->text[scan->at] : -1;
}

static void skip_space(struct scan *scan) {
    while (peek(scan) == ' ' || peek(scan) == '\t' || peek(scan) == '\n' || peek(scan) == '\r') {
        scan->at++;
    }
}

static int fail_scan(struct scan *scan, const char *wrong) {
    if (scan->wrong == NULL) {
        scan->wrong = wrong;
    }
    return 0;
}

static int scan_hex4(struct scan *scan, uint32_t *code) {
    *code = 0;
    for (int i = 0; i < 4; i++, scan->at++) {
        int c = peek(scan);
        int digit = c >= '0' && c <= '9'   ? c - '0'
                    : c >= 'a' && c <= 'f' ? c - 'a' + 10
                    : c >= 'A' && c <= 'F' ? c - 'A' + 10
                                           : -1;
        if (digit < 0) {
            return fail_scan(scan, "expected four hex digits after \\u");
        }
        *code = *code * 16u + (uint32_t)digit;
    }
    return 1;
}

static int scan_escape(struct scan *scan) {
    int c = peek(scan);
    scan->at++;
    if (c != 'u') {
        return (c > 0 && strchr("\"\\/bfnrt", c) != NULL) ||
               (scan->at--, fail_scan(scan, "expected an escape of JSON after \\"));
    }
    uint32_t code = 0;
    if (!scan_hex4(scan, &code)) {
        return 0;
    }
    if (code == 0) {
        return fail_scan(scan, "\\u0000 cannot be in a text");
    }
    if (code >= 0xDC00u && code < 0xE000u) {
        return fail_scan(scan, "expected the first half of a surrogate pair first");
    }
    if (code >= 0xD800u && code < 0xDC00u) {
        uint32_t low = 0;
        if (peek(scan) != '\\' || (scan->at++, peek(scan) != 'u') || (scan->at++, !scan_hex4(scan, &low)) || low < 0xDC00u ||
            low >= 0xE000u) {
            return fail_scan(scan, "expected the second half of a surrogate pair");
        }
    }
    return 1;
}

/* One character of UTF-8 (RFC 3629) beyond ASCII. */
static int scan_utf8(struct scan *scan) {
    int c = peek(scan);
    int more = c >= 0xC2 && c < 0xE0 ? 1 : c >= 0xE0 && c < 0xF0 ? 2 : c >= 0xF0 && c < 0xF5 ? 3 : 0;
    int second = scan->at + 1 < scan->count ? (uint8_t)scan->text[scan->at + 1] : 0;
    if (more == 0 || (c == 0xE0 && second < 0xA0) || (c == 0xED && second >= 0xA0) || (c == 0xF0 && second < 0x90) ||
        (c == 0xF4 && second >= 0x90)) {
        return fail_scan(scan, "expected UTF-8");
    }
    scan->at++;
    for (; more > 0; more--, scan->at++) {
        if (peek(scan) < 0x80 || peek(scan) >= 0xC0) {
            return fail_scan(scan, "expected UTF-8");
        }
    }
    return 1;
}

static int scan_string(struct scan *scan) {
    scan->at++;
    scan->values++;
    for (;;) {
        int c = peek(scan);
        if (c < 0) {
            return fail_scan(scan, "the text ends inside a string; expected \"");
        }
        if (c < 0x20) {
            return fail_scan(scan, "a control character in a string; expected it escaped");
        }
        if (c == '"') {
            scan->at++;
            return 1;
        }
        if (c == '\\') {
            scan->at++;
            if (!scan_escape(scan)) {
                return 0;
            }
        } else if (c < 0x80) {
            scan->at++;
        } else if (!scan_utf8(scan)) {
            return 0;
        }
    }
}

static int scan_digits(struct scan *scan) {
    if (peek(scan) < '0' || peek(scan) > '9') {
        return fail_scan(scan, "expected a digit");
    }
    while (peek(scan) >= '0' && peek(scan) <= '9') {
        scan->at++;
    }
    return 1;
}

static int scan_number(struct scan *scan) {
    if (peek(scan) == '-') {
        scan->at++;
    }
    if (peek(scan) == '0') {
        scan->at++;
        if (peek(scan) >= '0' && peek(scan) <= '9') {
            return fail_scan(scan, "a number must not begin with 0");
        }
    } else if (!scan_digits(scan)) {
        return 0;
    }
    if (peek(scan) == '.') {
        scan->at++;
        if (!scan_digits(scan)) {
            return 0;
        }
    }
    if (peek(scan) == 'e' || peek(scan) == 'E') {
        scan->at++;
        if (peek(scan) == '+' || peek(scan) == '-') {
            scan->at++;
        }
        return scan_digits(scan);
    }
    return 1;
}

static int scan_scalar(struct scan *scan) {
    static const char *const words[] = {"true", "false", "null"};
    if (peek(scan) == '"') {
        return scan_string(scan);
    }
    scan->values++;
    if (peek(scan) == '-' || (peek(scan) >= '0' && peek(scan) <= '9')) {
        return scan_number(scan);
    }
    for (int i = 0; i < 3; i++) {
        size_t length = strlen(words[i]);
        if (scan->count - scan->at >= length && memcmp(scan->text + scan->at, words[i], length) == 0) {
            scan->at += length;
            return 1;
        }
    }
    return fail_scan(scan, peek(scan) < 0 ? "the text ends; expected a value" : "expected a value");
}

static int scan_key(struct scan *scan) {
    skip_space(scan);
    if (peek(scan) != '"') {
        return fail_scan(scan, "expected a key in quotes");
    }
    if (!scan_string(scan)) {
        return 0;
    }
    skip_space(scan);
    if (peek(scan) != ':') {
        return fail_scan(scan, "expected : after the key");
    }
    scan->at++;
    return 1;
}

/* After a value: commas and closing brackets, down to the next value. @return 0 at the end or on failure. */
static int scan_on(struct scan *scan, const char *stack, int *depth) {
    while (*depth > 0) {
        skip_space(scan);
        int c = peek(scan);
        char open = stack[*depth - 1];
        if (c == ',') {
            scan->at++;
            return open == '[' || scan_key(scan);
        }
        if (c != (open == '{' ? '}' : ']')) {
            return fail_scan(scan, c < 0         ? "the text ends too early; expected , or a closing bracket"
                                   : open == '{' ? "expected , or }"
                                                 : "expected , or ]");
        }
        scan->at++;
        (*depth)--;
    }
    return 0;
}

static int scan_all(struct scan *scan) {
    char stack[GLANZ_NESTING_MOST];
    int depth = 0;
    for (;;) {
        skip_space(scan);
        int c = peek(scan);
        if (c != '{' && c != '[') {
            if (!scan_scalar(scan)) {
                return 0;
            }
        } else {
            if (depth == GLANZ_NESTING_MOST) {
                return fail_scan(scan, "nested too deep; expected at most 16 levels");
            }
            stack[depth++] = (char)c;
            scan->values++;
            scan->at++;
            skip_space(scan);
            if (peek(scan) != (c == '{' ? '}' : ']')) {
                if (c == '{' && !scan_key(scan)) {
                    return 0;
                }
                continue;
            }
            scan->at++;
            depth--;
        }
        if (!scan_on(scan, stack, &depth)) {
            break;
        }
    }
    skip_space(scan);
    return scan->wrong == NULL && (scan->at == scan->count || fail_scan(scan, "expected the end of the text"));
}

/* ---- opening ---- */

size_t glanz_document_memory(const char *text, size_t count) {
    if (text == NULL) {
        return 0;
    }
    struct scan scan = {text, 0, count, 0, NULL};
    (void)scan_all(&scan);
    size_t needed = 2048 + 3 * count + (size_t)scan.values * (sizeof(jsmntok_t) + 64);
    uint32_t named = 0;
    for (size_t at = 0; at < count; at++) { /* palettes that come along are built when they are named */
        for (uint8_t i = 0; text[at] == '"' && i < glanz_palette_count && i < 32; i++) {
            size_t length = strlen(glanz_palettes[i].name);
            if ((named >> i & 1u) == 0 && at + 1 + length < count && text[at + 1 + length] == '"' &&
                memcmp(text + at + 1, glanz_palettes[i].name, length) == 0) {
                named |= (uint32_t)1 << i;
                needed += (size_t)glanz_palettes[i].count * GLANZ_STOPS_EACH * sizeof(struct glanz_stop) + 64;
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
        if (json->tokens[object].type != JSMN_OBJECT || json->tokens[object].size < 2) {
            continue;
        }
        if ((size_t)json->tokens[object].size * sizeof *keys > json->room) {
            (void)too_little(json, wanted(json), json->room + sizeof(jsmntok_t) * (size_t)json->token_count);
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
    struct scan scan = {text, 0, count, 0, NULL};
    const char *wrong = count > GLANZ_TEXT_MOST ? "the document is too large; expected at most 262144 bytes" : NULL;
    if (wrong != NULL || !scan_all(&scan)) {
        json->status = GLANZ_ERR_TEXT;
        glanz_fault_begin(fault);
        glanz_fault_add(fault, wrong != NULL ? wrong : scan.wrong);
        place(fault, text, scan.at < count ? scan.at : count);
        return json->status;
    }
    size_t tokens_size = sizeof(jsmntok_t) * (size_t)scan.values;
    size_t start = size < tokens_size ? 0 : (size - tokens_size) & ~(size_t)7u;
    if (size < tokens_size || ((uintptr_t)memory & 7u) != 0) {
        return too_little(json, wanted(json), size);
    }
    jsmntok_t *tokens = (jsmntok_t *)(void *)(json->memory + start);
    jsmn_parser parser;
    jsmn_init(&parser);
    json->token_count = jsmn_parse(&parser, text, count, tokens, (unsigned)scan.values);
    json->tokens = tokens;
    json->room = start;
    if (json->token_count != scan.values) { /* jsmn and the scan disagree: do not trust either */
        json->status = GLANZ_ERR_TEXT;
        glanz_fault_begin(fault);
        glanz_fault_add(fault, "the text cannot be read as JSON");
        return json->status;
    }
    refuse_twice(json);
    return json->status;
}

void *glanz_json_take(struct json *json, size_t size) {
    size = (size + 7u) & ~(size_t)7u;
    if (json->status != GLANZ_OK) {
        return NULL;
    }
    if (size > json->room - json->used) {
        (void)too_little(json, wanted(json), json->room + sizeof(jsmntok_t) * (size_t)json->token_count);
        return NULL;
    }
    void *taken = json->memory + json->used;
    json->used += size;
    memset(taken, 0, size);
    return taken;
}

/* ---- walking ---- */

int glanz_json_after(const struct json *json, int token) {
    int end = json->tokens[token].end;
    int after = token + 1;
    while (after < json->token_count && json->tokens[after].start < end) {
        after++;
    }
    return after;
}

int glanz_json_first(const struct json *json, int token) {
    return json->tokens[token].size > 0 && token + 1 < json->token_count ? token + 1 : -1;
}

int glanz_json_next(const struct json *json, int parent, int token) {
    int after = json->tokens[parent].type == JSMN_OBJECT ? glanz_json_after(json, token + 1) : glanz_json_after(json, token);
    return after < json->token_count && json->tokens[after].start < json->tokens[parent].end ? after : -1;
}

int glanz_json_size(const struct json *json, int token) {
    return json->tokens[token].size;
}

int glanz_json_is(const struct json *json, int token, jsmntype_t type) {
    return token >= 0 && json->tokens[token].type == type;
}

int glanz_json_is_null(const struct json *json, int token) {
    return glanz_json_is(json, token, JSMN_PRIMITIVE) && json->text[json->tokens[token].start] == 'n';
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
        if (json->tokens[token].type == JSMN_OBJECT) {
            found = glanz_json_member(json, token, step);
        } else if (json->tokens[token].type == JSMN_ARRAY) {
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

/* ---- strings ---- */

struct letters { /* bytes of a string, unescaped, one after another */
    const char *at, *end;
    char held[4];
    uint8_t count, next;
};

static uint32_t hex4(const char *at) {
    uint32_t code = 0;
    for (int i = 0; i < 4; i++) {
        uint32_t c = (uint8_t)at[i];
        code = code * 16u + (c <= '9' ? c - '0' : (c | 32u) - 'a' + 10u);
    }
    return code;
}

static void hold_utf8(struct letters *letters, uint32_t code) {
    uint8_t more = code < 0x80u ? 0 : code < 0x800u ? 1 : code < 0x10000u ? 2 : 3;
    static const uint8_t lead[4] = {0x00, 0xC0, 0xE0, 0xF0};
    letters->count = (uint8_t)(more + 1);
    letters->next = 0;
    for (uint8_t i = more; i > 0; i--) {
        letters->held[i] = (char)(0x80u | (code & 0x3Fu));
        code >>= 6;
    }
    letters->held[0] = (char)(lead[more] | code);
}

static int next_letter(struct letters *letters) { /* -1 at the end */
    if (letters->next < letters->count) {
        return (uint8_t)letters->held[letters->next++];
    }
    if (letters->at >= letters->end) {
        return -1;
    }
    char c = *letters->at++;
    if (c != '\\') {
        return (uint8_t)c;
    }
    c = *letters->at++;
    if (c != 'u') {
        const char *plain = strchr("b\bf\fn\nr\rt\t", c);
        return c != '"' && c != '\\' && c != '/' && plain != NULL ? plain[1] : c;
    }
    uint32_t code = hex4(letters->at);
    letters->at += 4;
    if (code >= 0xD800u && code < 0xDC00u) {
        code = 0x10000u + ((code - 0xD800u) << 10) + (hex4(letters->at + 2) - 0xDC00u);
        letters->at += 6;
    }
    hold_utf8(letters, code);
    return next_letter(letters);
}

static struct letters letters_of(const struct json *json, int token) {
    struct letters letters;
    memset(&letters, 0, sizeof letters);
    letters.at = json->text + json->tokens[token].start;
    letters.end = json->text + json->tokens[token].end;
    return letters;
}

int glanz_json_equal(const struct json *json, int token, const char *text) {
    struct letters letters = letters_of(json, token);
    int c;
    while ((c = next_letter(&letters)) >= 0) {
        if (*text == '\0' || (uint8_t)*text++ != c) {
            return 0;
        }
    }
    return *text == '\0';
}

int glanz_json_same(const struct json *a, int token, const struct json *b, int other) {
    struct letters left = letters_of(a, token);
    struct letters right = letters_of(b, other);
    for (;;) {
        int c = next_letter(&left);
        if (c != next_letter(&right)) {
            return 0;
        }
        if (c < 0) {
            return 1;
        }
    }
}

int glanz_json_order(const struct json *json, int token, int other) {
    struct letters left = letters_of(json, token);
    struct letters right = letters_of(json, other);
    for (;;) {
        int c = next_letter(&left);
        int d = next_letter(&right);
        if (c != d || c < 0) {
            return c - d;
        }
    }
}

uint32_t glanz_json_hash(const struct json *json, int token) {
    struct letters letters = letters_of(json, token);
    uint32_t hash = 0x811C9DC5u; /* FNV-1a */
    int c;
    while ((c = next_letter(&letters)) >= 0) {
        hash = (hash ^ (uint32_t)c) * 0x01000193u;
    }
    return hash;
}

size_t glanz_json_copy(const struct json *json, int token, char *out, size_t room) {
    struct letters letters = letters_of(json, token);
    size_t length = 0;
    int c;
    while ((c = next_letter(&letters)) >= 0) {
        if (length + 1 < room) {
            out[length] = (char)c;
        }
        length++;
    }
    out[length < room ? length : room - 1] = '\0';
    return length;
}

char *glanz_json_text(struct json *json, int token) {
    size_t room = (size_t)(json->tokens[token].end - json->tokens[token].start) + 1;
    char *text = (char *)glanz_json_take(json, room);
    if (text != NULL) {
        glanz_json_copy(json, token, text, room);
    }
    return text;
}

/* ---- names ---- */

#define NAMES_TOLD 20 /* how many names a message lists at the most */

/* Edits from one word to another (Levenshtein), for words up to 31 letters. */
static unsigned distance(const char *a, const char *b) {
    unsigned row[32];
    size_t length = strlen(b);
    if (length > 31) {
        return 99;
    }
    for (unsigned j = 0; j <= length; j++) {
        row[j] = j;
    }
    for (unsigned i = 1; a[i - 1] != '\0'; i++) {
        unsigned corner = row[0];
        row[0] = i;
        for (unsigned j = 1; j <= length; j++) {
            unsigned best = corner + (a[i - 1] != b[j - 1]);
            best = row[j] + 1 < best ? row[j] + 1 : best;
            best = row[j - 1] + 1 < best ? row[j - 1] + 1 : best;
            corner = row[j];
            row[j] = best;
        }
    }
    return row[length];
}

const char *glanz_names_at(const struct names *names, int index) {
    const char *at = (const char *)names->first + names->step * (size_t)index;
    const void *name = *(const void *const *)(const void *)at;
    return names->indirect ? *(const char *const *)name : (const char *)name;
}

struct names glanz_names_listed(const void *list) {
    struct names names = {list, sizeof(void *), 0, 1};
    while (((const void *const *)list)[names.count] != NULL) {
        names.count++;
    }
    return names;
}

void glanz_json_fail_name(struct json *json, int token, const char *what, const char *said, const struct names *names) {
    const char *nearest = NULL;
    unsigned least = 2 + (unsigned)strlen(said) / 3;
    if (json->status != GLANZ_OK) {
        return;
    }
    for (int i = 0; i < names->count; i++) {
        unsigned edits = distance(said, glanz_names_at(names, i));
        if (edits < least) {
            least = edits;
            nearest = glanz_names_at(names, i);
        }
    }
    glanz_json_fail(json, token, what, NULL, nearest != NULL ? "; did you mean " : "");
    if (nearest != NULL) {
        glanz_fault_name(json->fault, nearest);
    }
    for (int i = 0; i < names->count && names->count <= NAMES_TOLD && nearest == NULL; i++) {
        glanz_fault_add(json->fault, i == 0 ? "; expected one of: " : ", ");
        glanz_fault_add(json->fault, glanz_names_at(names, i));
    }
}

char *glanz_json_name(struct json *json, int token) {
    char *name = glanz_json_is(json, token, JSMN_STRING) ? glanz_json_text(json, token) : NULL;
    size_t length = name == NULL ? 0 : strlen(name);
    int plain = length > 0 && length <= 63;
    plain = plain && name != NULL && glanz_text_plain(name);
    if (!plain && json->status == GLANZ_OK) {
        glanz_json_fail(json, token,
                        "expected a name of 1 to 63 bytes without control characters, also those that turn the way of writing",
                        NULL, NULL);
    }
    return name;
}

int glanz_json_require(struct json *json, int object, const char *key) {
    int token = json->status == GLANZ_OK ? glanz_json_member(json, object, key) : -1;
    if (token < 0 && json->status == GLANZ_OK) {
        glanz_json_fail(json, object, "the key ", key, " is missing here");
    }
    return token;
}

int glanz_json_list(struct json *json, int token, jsmntype_t type, int most) {
    if (token < 0 || json->status != GLANZ_OK) {
        return 0;
    }
    if (!glanz_json_is(json, token, type)) {
        glanz_json_fail(json, token, type == JSMN_OBJECT ? "expected an object { } keyed by name" : "expected a list [ ]", NULL,
                        NULL);
        return 0;
    }
    if (glanz_json_size(json, token) > most) {
        glanz_json_fail(json, token, "too many; expected at most ", NULL, NULL);
        glanz_fault_number(json->fault, (uint32_t)most);
        return 0;
    }
    return glanz_json_size(json, token);
}

int glanz_json_object(struct json *json, int token, const char *const *keys) {
    if (json->status != GLANZ_OK || token < 0) {
        return 0;
    }
    if (json->tokens[token].type != JSMN_OBJECT) {
        glanz_json_fail(json, token, "expected an object { }", NULL, NULL);
        return 0;
    }
    struct names names = {keys, sizeof *keys, 0, 0};
    while (keys != NULL && keys[names.count] != NULL) {
        names.count++;
    }
    for (int key = glanz_json_first(json, token); key >= 0 && keys != NULL; key = glanz_json_next(json, token, key)) {
        int known = 0;
        while (known < names.count && !glanz_json_equal(json, key, keys[known])) {
            known++;
        }
        if (known == names.count) {
            char said[32];
            glanz_json_copy(json, key, said, sizeof said);
            glanz_json_fail_name(json, key, "unknown key", said, &names);
            return 0;
        }
    }
    return 1;
}

/* ---- numbers ---- */

uint32_t glanz_json_count(struct json *json, int token, uint32_t low, uint32_t high) {
    if (json->status != GLANZ_OK) {
        return low;
    }
    uint64_t number = 0;
    int whole = json->tokens[token].type == JSMN_PRIMITIVE;
    for (int i = json->tokens[token].start; i < json->tokens[token].end && whole; i++) {
        char c = json->text[i];
        whole = c >= '0' && c <= '9';
        number = number > 0xFFFFFFFFu ? number : number * 10u + (uint64_t)(c - '0');
    }
    if (!whole || number < low || number > high) {
        glanz_json_fail(json, token, "expected a whole number from ", NULL, NULL);
        glanz_fault_number(json->fault, low);
        glanz_fault_add(json->fault, " to ");
        glanz_fault_number(json->fault, high);
        return low;
    }
    return (uint32_t)number;
}

int glanz_json_flag(struct json *json, int token) {
    char c = json->text[json->tokens[token].start];
    if (json->tokens[token].type != JSMN_PRIMITIVE || (c != 't' && c != 'f')) {
        glanz_json_fail(json, token, "expected true or false", NULL, NULL);
    }
    return c == 't';
}
