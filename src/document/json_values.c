/* SPDX-License-Identifier: MIT */
/* What a token says: strings, names, keys, lists, numbers. */
#include <string.h>

#include "json.h"

char *glanz_json_text(struct json *json, int token) {
    size_t capacity = (size_t)(glanz_json_token(json, token)->end - glanz_json_token(json, token)->start) + 1;
    char *text = (char *)glanz_json_allocate(json, capacity);
    if (text != NULL) {
        glanz_json_copy(json, token, text, capacity);
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
    if (names->before != NULL) {
        if (index < names->before->count) {
            names = names->before;
        } else {
            index -= names->before->count;
        }
    }
    const char *at = (const char *)names->first + names->step * (size_t)index;
    const void *name = *(const void *const *)(const void *)at;
    return names->indirect ? *(const char *const *)name : (const char *)name;
}

struct names glanz_names_listed(const void *list) {
    struct names names = {list, sizeof(void *), 0, 1, NULL};
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
    char *name = glanz_json_is(json, token, JSON_STRING) ? glanz_json_text(json, token) : NULL;
    size_t length = name == NULL ? 0 : strlen(name);
    int plain = length > 0 && length <= 63;
    plain = plain && name != NULL && glanz_text_plain(name);
    if (!plain && json->status == GLANZ_OK) {
        glanz_json_fail(json, token, "expected a name of 1 to 63 bytes without control characters, also of the way of writing",
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

int glanz_json_list(struct json *json, int token, enum json_type type, int most) {
    if (token < 0 || json->status != GLANZ_OK) {
        return 0;
    }
    if (!glanz_json_is(json, token, type)) {
        glanz_json_fail(json, token, type == JSON_OBJECT ? "expected an object { } keyed by name" : "expected a list [ ]", NULL,
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
    if (!glanz_json_is(json, token, JSON_OBJECT)) {
        glanz_json_fail(json, token, "expected an object { }", NULL, NULL);
        return 0;
    }
    struct names names = {keys, sizeof *keys, 0, 0, NULL};
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
    int whole = glanz_json_is(json, token, JSON_PRIMITIVE);
    for (uint32_t i = glanz_json_token(json, token)->start; i < glanz_json_token(json, token)->end && whole; i++) {
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
    char c = json->text[glanz_json_token(json, token)->start];
    if (!glanz_json_is(json, token, JSON_PRIMITIVE) || (c != 't' && c != 'f')) {
        glanz_json_fail(json, token, "expected true or false", NULL, NULL);
    }
    return c == 't';
}
