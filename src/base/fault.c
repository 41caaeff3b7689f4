/* SPDX-License-Identifier: MIT */
/* Faults: messages built without a formatter. What does not fit is cut; the text always ends with NUL. */
#include <glanz/base.h>

#if GLANZ_CHECKS

static void append(char *text, size_t room, char c) {
    size_t at = 0;
    while (at < room && text[at] != '\0') {
        at++;
    }
    if (at + 1 < room) {
        text[at] = c;
        text[at + 1] = '\0';
    }
}

static void append_number(char *text, size_t room, uint32_t number) {
    char digits[10];
    uint8_t count = 0;
    do {
        digits[count++] = (char)('0' + number % 10u);
        number /= 10u;
    } while (number != 0);
    while (count > 0) {
        append(text, room, digits[--count]);
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
    for (; fault != NULL && text != NULL && *text != '\0'; text++) {
        append(fault->text, sizeof fault->text, *text);
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
            append(fault->where, sizeof fault->where, *key);
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

#else /* nothing is checked that would have to be told in words */

void glanz_fault_begin(struct glanz_fault *fault) {
    (void)fault;
}

void glanz_fault_add(struct glanz_fault *fault, GLANZ_CONST char *text) {
    (void)fault;
    (void)text;
}

void glanz_fault_name(struct glanz_fault *fault, GLANZ_CONST char *name) {
    (void)fault;
    (void)name;
}

void glanz_fault_number(struct glanz_fault *fault, uint32_t number) {
    (void)fault;
    (void)number;
}

void glanz_fault_at(struct glanz_fault *fault, GLANZ_CONST char *key) {
    (void)fault;
    (void)key;
}

void glanz_fault_at_index(struct glanz_fault *fault, uint32_t index) {
    (void)fault;
    (void)index;
}

glanz_status glanz_fault_memory(struct glanz_fault *fault, GLANZ_CONST char *what, size_t needed, size_t given) {
    (void)what;
    (void)given;
    if (fault != NULL) {
        fault->needed = needed;
    }
    return GLANZ_ERR_MEMORY;
}

#endif
