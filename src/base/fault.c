/* SPDX-License-Identifier: MIT */
/* Faults: messages built without a formatter. What does not fit is cut; the text always ends with NUL. */
#include <glanz/base.h>

/* Bytes of a character at a text's start that is no letter but tells a terminal something: a control, or one that turns the
 * way of writing (Unicode's bidirectional controls). 0: it is one to be shown. */
static uint8_t is_control(GLANZ_CONST char *text) {
    uint8_t a = (uint8_t)text[0];
    if (a < 0x20 || a == 0x7F) {
        return 1;
    }
    uint8_t b = a < 0x80 ? 0 : (uint8_t)text[1];
    if ((a == 0xC2 && b >= 0x80 && b < 0xA0) || (a == 0xD8 && b == 0x9C)) { /* C1; U+061C */
        return 2;
    }
    uint8_t c = a != 0xE2 || b == 0 ? 0 : (uint8_t)text[2];
    return (b == 0x80 && (c == 0x8E || c == 0x8F || (c >= 0xA8 && c <= 0xAE))) || (b == 0x81 && c >= 0xA6 && c <= 0xA9) ? 3 : 0;
}

int glanz_text_plain(GLANZ_CONST char *text) {
    while (text != NULL && *text != '\0' && is_control(text) == 0) {
        text++;
    }
    return text != NULL && *text == '\0';
}

static void append(char *text, size_t capacity, char c) {
    size_t at = 0;
    while (at < capacity && text[at] != '\0') {
        at++;
    }
    if (at + 1 < capacity) {
        text[at] = c;
        text[at + 1] = '\0';
    }
}

static void append_number(char *text, size_t capacity, uint32_t number) {
    char digits[10];
    uint8_t count = 0;
    do {
        digits[count++] = (char)('0' + number % 10u);
        number /= 10u;
    } while (number != 0);
    while (count > 0) {
        append(text, capacity, digits[--count]);
    }
}

/* A text as it can be shown: what is no letter becomes a question mark. */
static void append_plain(char *to, size_t capacity, GLANZ_CONST char *text) {
    while (text != NULL && *text != '\0') {
        uint8_t skip = is_control(text);
        append(to, capacity, skip == 0 ? *text : '?');
        text += skip == 0 ? 1 : skip;
    }
}

void glanz_fault_begin(struct glanz_fault *fault) {
    if (fault != NULL) {
        fault->text[0] = '\0';
        fault->where[0] = '\0';
        fault->needed = 0;
        fault->line = 0;
        fault->column = 0;
    }
}

void glanz_fault_add(struct glanz_fault *fault, GLANZ_CONST char *text) {
    if (fault != NULL) {
        append_plain(fault->text, sizeof fault->text, text);
    }
}

void glanz_fault_name(struct glanz_fault *fault, GLANZ_CONST char *name) {
    if (fault != NULL) {
        append(fault->text, sizeof fault->text, '"');
        glanz_fault_add(fault, name);
        append(fault->text, sizeof fault->text, '"');
    }
}

void glanz_fault_number(struct glanz_fault *fault, uint32_t number) {
    if (fault != NULL) {
        append_number(fault->text, sizeof fault->text, number);
    }
}

void glanz_fault_at(struct glanz_fault *fault, GLANZ_CONST char *key) {
    if (fault == NULL) {
        return;
    }
    append(fault->where, sizeof fault->where, '/');
    for (; key != NULL && *key != '\0'; key++) {
        if (*key == '~' || *key == '/') { /* RFC 6901, section 3 */
            append(fault->where, sizeof fault->where, '~');
            append(fault->where, sizeof fault->where, *key == '~' ? '0' : '1');
        } else {
            uint8_t skip = is_control(key);
            append(fault->where, sizeof fault->where, skip == 0 ? *key : '?');
            key += skip == 0 ? 0 : skip - 1;
        }
    }
}

void glanz_fault_at_index(struct glanz_fault *fault, uint32_t index) {
    if (fault != NULL) {
        append(fault->where, sizeof fault->where, '/');
        append_number(fault->where, sizeof fault->where, index);
    }
}

glanz_status glanz_fault_memory(struct glanz_fault *fault, GLANZ_CONST char *what, size_t needed, size_t given) {
    glanz_fault_begin(fault);
    glanz_fault_add(fault, GLANZ_TEXT("too little memory for "));
    glanz_fault_add(fault, what);
    glanz_fault_add(fault, GLANZ_TEXT(": "));
    glanz_fault_number(fault, (uint32_t)needed);
    glanz_fault_add(fault, GLANZ_TEXT(" bytes needed, "));
    glanz_fault_number(fault, (uint32_t)given);
    glanz_fault_add(fault, GLANZ_TEXT(" given"));
    if (fault != NULL) {
        fault->needed = needed;
    }
    return GLANZ_ERR_MEMORY;
}
