/* SPDX-License-Identifier: MIT */
/* Names that a document says: which one is meant, or which is nearest. */
#include "parts.h"

/* Which of some names, laid out at equal steps in memory, a token says. */
int glanz_find_name(struct json *json, int token, const char *const *first, size_t step, int count, const char *what) {
    if (json->status != GLANZ_OK) {
        return 0;
    }
    char said[64] = "";
    if (glanz_json_is(json, token, JSMN_STRING)) {
        glanz_json_copy(json, token, said, sizeof said);
    }
    for (int i = 0; i < count && glanz_json_is(json, token, JSMN_STRING); i++) {
        if (glanz_json_equal(json, token, *(const char *const *)(const void *)((const char *)first + step * (size_t)i))) {
            return i;
        }
    }
    const char *nearest = glanz_json_nearest(said, first, step, count);
    glanz_json_fail(json, token, what, NULL, nearest == NULL ? "" : "; did you mean ");
    if (nearest != NULL) {
        glanz_fault_name(json->fault, nearest);
    }
    return 0;
}

uint8_t glanz_find_choice(struct json *json, int token, const char *const *names) {
    char said[64] = "";
    uint8_t count = 0;
    for (; names[count] != NULL; count++) {
        if (json->status != GLANZ_OK ||
            (glanz_json_is(json, token, JSMN_STRING) && glanz_json_equal(json, token, names[count]))) {
            return count;
        }
    }
    if (glanz_json_is(json, token, JSMN_STRING)) {
        glanz_json_copy(json, token, said, sizeof said);
    }
    const char *nearest = glanz_json_nearest(said, names, sizeof *names, count);
    glanz_json_fail(json, token, nearest == NULL ? "expected one of: " : "no such choice; did you mean ", nearest, NULL);
    for (uint8_t i = 0; nearest == NULL && i < count; i++) {
        glanz_fault_add(json->fault, names[i]);
        glanz_fault_add(json->fault, i + 1 < count ? ", " : "");
    }
    return 0;
}

/* The index of a name that a token says, among the keys of an object. */
uint8_t glanz_read_reference(struct json *json, int token, int object, const char *what) {
    if (json->status != GLANZ_OK) {
        return 0;
    }
    uint8_t index = 0;
    const char *names[33];
    char said[64] = "";
    char copies[32][32];
    uint8_t count = 0;
    for (int key = object < 0 ? -1 : glanz_json_first(json, object); key >= 0;
         key = glanz_json_next(json, object, key), index++) {
        if (glanz_json_is(json, token, JSMN_STRING) && glanz_json_same(json, key, json, token)) {
            return index;
        }
        if (count < 32) {
            glanz_json_copy(json, key, copies[count], sizeof copies[count]);
            names[count] = copies[count];
            count++;
        }
    }
    names[count] = NULL;
    if (glanz_json_is(json, token, JSMN_STRING)) {
        glanz_json_copy(json, token, said, sizeof said);
    }
    const char *nearest = glanz_json_nearest(said, names, sizeof *names, count);
    glanz_json_fail(json, token, what, NULL, nearest == NULL ? "" : "; did you mean ");
    if (nearest != NULL) {
        glanz_fault_name(json->fault, nearest);
    }
    return 0;
}
