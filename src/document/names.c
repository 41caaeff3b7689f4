/* SPDX-License-Identifier: MIT */
/* Names that a document says: which one is meant, or which is nearest. */
#include "json.h"

int glanz_find_name(struct json *json, int token, const struct names *names, const char *what) {
    char said[64] = "";
    if (json->status != GLANZ_OK) {
        return 0;
    }
    if (glanz_json_is(json, token, JSON_STRING)) {
        for (int i = 0; i < names->count; i++) {
            if (glanz_json_equal(json, token, glanz_names_at(names, i))) {
                return i;
            }
        }
        glanz_json_copy(json, token, said, sizeof said);
    }
    glanz_json_fail_name(json, token, what, said, names);
    return 0;
}

uint8_t glanz_find_choice(struct json *json, int token, const char *const *words) {
    struct names names = {words, sizeof *words, 0, 0, NULL};
    while (words[names.count] != NULL) {
        names.count++;
    }
    return (uint8_t)glanz_find_name(json, token, &names, "no such choice");
}
