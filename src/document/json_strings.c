/* SPDX-License-Identifier: MIT */
/* What a token is, and its string, letter by letter, without its escapes. */
#include <string.h>

#include "json.h"

const struct json_token *glanz_json_token(const struct json *json, int token) {
    return &json->tokens[-1 - token];
}

/* A string's token begins behind its quote; nothing else can stand there. */
int glanz_json_is(const struct json *json, int token, enum json_type type) {
    if (token < 0) {
        return 0;
    }
    uint32_t start = glanz_json_token(json, token)->start;
    char c = json->text[start];
    enum json_type is = start > 0 && json->text[start - 1] == '"' ? JSON_STRING
                        : c == '{'                                ? JSON_OBJECT
                        : c == '['                                ? JSON_ARRAY
                                                                  : JSON_PRIMITIVE;
    return is == type;
}

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
    letters.at = json->text + glanz_json_token(json, token)->start;
    letters.end = json->text + glanz_json_token(json, token)->end;
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

size_t glanz_json_copy(const struct json *json, int token, char *out, size_t capacity) {
    struct letters letters = letters_of(json, token);
    size_t length = 0;
    int c;
    while ((c = next_letter(&letters)) >= 0) {
        if (length + 1 < capacity) {
            out[length] = (char)c;
        }
        length++;
    }
    out[length < capacity ? length : capacity - 1] = '\0';
    return length;
}
