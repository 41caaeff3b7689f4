/* SPDX-License-Identifier: MIT */
/* Strict JSON (RFC 8259): every byte is checked, and a token noted for each value and key. */
#include <string.h>

#include "json.h"

/* A value begins here. @return its token's index, whether there is room for it or not. */
static int begin_token(struct scan *scan, size_t start) {
    int token = scan->values++;
    if (token < scan->capacity) {
        scan->tokens[-1 - token].start = (uint32_t)start;
    }
    return token;
}

static void end_token(struct scan *scan, int token, size_t end) {
    if (token < scan->capacity) {
        scan->tokens[-1 - token].end = (uint32_t)end;
        scan->tokens[-1 - token].after = (uint32_t)scan->values;
    }
}

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
    int token = begin_token(scan, ++scan->at);
    for (;;) {
        int c = peek(scan);
        if (c < 0) {
            return fail_scan(scan, "the text ends inside a string; expected \"");
        }
        if (c < 0x20) {
            return fail_scan(scan, "a control character in a string; expected it escaped");
        }
        if (c == '"') {
            end_token(scan, token, scan->at++);
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

static int scan_word(struct scan *scan) {
    static const char *const words[] = {"true", "false", "null"};
    for (int i = 0; i < 3; i++) {
        size_t length = strlen(words[i]);
        if (scan->count - scan->at >= length && memcmp(scan->text + scan->at, words[i], length) == 0) {
            scan->at += length;
            return 1;
        }
    }
    return fail_scan(scan, peek(scan) < 0 ? "the text ends; expected a value" : "expected a value");
}

static int scan_scalar(struct scan *scan) {
    int c = peek(scan);
    if (c == '"') {
        return scan_string(scan);
    }
    int token = begin_token(scan, scan->at);
    int good = c == '-' || (c >= '0' && c <= '9') ? scan_number(scan) : scan_word(scan);
    end_token(scan, token, scan->at);
    return good;
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

struct opened { /* a bracket that is not closed yet */
    int token;
    char bracket;
};

/* After a value: commas and closing brackets, down to the next value. @return 0 at the end or on failure. */
static int scan_on(struct scan *scan, const struct opened *stack, int *depth) {
    while (*depth > 0) {
        skip_space(scan);
        int c = peek(scan);
        char open = stack[*depth - 1].bracket;
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
        end_token(scan, stack[*depth].token, scan->at);
    }
    return 0;
}

int glanz_json_scan(struct scan *scan) {
    struct opened stack[GLANZ_NESTING_MOST];
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
            stack[depth].bracket = (char)c;
            stack[depth++].token = begin_token(scan, scan->at++);
            skip_space(scan);
            if (peek(scan) != (c == '{' ? '}' : ']')) {
                if (c == '{' && !scan_key(scan)) {
                    return 0;
                }
                continue;
            }
            scan->at++;
            depth--;
            end_token(scan, stack[depth].token, scan->at);
        }
        if (!scan_on(scan, stack, &depth)) {
            break;
        }
    }
    skip_space(scan);
    return scan->wrong == NULL && (scan->at == scan->count || fail_scan(scan, "expected the end of the text"));
}
