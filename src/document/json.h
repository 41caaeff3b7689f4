/* SPDX-License-Identifier: MIT */
/* Strict JSON for the document room: validated text, tokens, faults with places, memory. Private to src/document. */
#ifndef GLANZ_DOCUMENT_JSON_H
#define GLANZ_DOCUMENT_JSON_H

#include <glanz/document.h>

enum json_type { JSON_PRIMITIVE, JSON_STRING, JSON_ARRAY, JSON_OBJECT };

struct json_token {      /* a value or a key */
    uint32_t start, end; /* its bytes in the text; of a string without the quotes */
    uint32_t after;      /* the token behind it and all in it */
};

struct scan { /* a text on its way to tokens */
    const char *text;
    size_t at, count;
    struct json_token *tokens; /* their end: the first one lies before it */
    int capacity, values;      /* tokens that there is room for, and that there are */
    const char *wrong;
};
int glanz_json_scan(struct scan *scan); /* 0: something is wrong at `at` */

struct json {
    const char *text;
    size_t count;
    const struct json_token *tokens; /* their end */
    int token_count;
    uint8_t *memory; /* what is built grows from its start; the tokens lie at its end */
    size_t used, capacity;
    struct glanz_fault *fault;
    glanz_status status; /* the first failure; everything after it does nothing */
};

/* Read a text into tokens at the end of memory. */
glanz_status glanz_json_open(struct json *json, void *memory, size_t size, const char *text, size_t count,
                             struct glanz_fault *fault);

/* Fail at a token: text, a quoted name (may be NULL), more text. Only the first failure counts. */
void glanz_json_fail(struct json *json, int token, const char *text, const char *name, const char *more);
/* The same with the status of a check, whose fault tells the pointer already. */
void glanz_json_fail_checked(struct json *json, glanz_status status);

/* Memory, zeroed; NULL (and failed) when there is no more. */
void *glanz_json_allocate(struct json *json, size_t size);

const struct json_token *glanz_json_token(const struct json *json, int token);
/* Walking: the token after a value and all in it; members are key, value, key, value... */
int glanz_json_after(const struct json *json, int token);
int glanz_json_first(const struct json *json, int token);                    /* first key or element, or -1 */
int glanz_json_next(const struct json *json, int parent, int token);         /* next sibling, or -1 */
int glanz_json_size(const struct json *json, int token);                     /* members or elements */
int glanz_json_member(const struct json *json, int object, const char *key); /* its value, or -1 */
int glanz_json_pointer(const struct json *json, const char *pointer,
                       int deepest); /* the token there, or -1, or the deepest there is */

int glanz_json_equal(const struct json *json, int token, const char *text); /* a string, unescaped */
int glanz_json_same(const struct json *a, int token, const struct json *b, int other);
char *glanz_json_text(struct json *json, int token); /* a copy of a string, unescaped */
/* Line and column of a token. */
void glanz_json_place(const struct json *json, int token, struct glanz_fault *fault);
/* Bytes of two strings of one text compared: below 0, 0, above 0. */
int glanz_json_order(const struct json *json, int token, int other);
uint32_t glanz_json_hash(const struct json *json, int token);
size_t glanz_json_copy(const struct json *json, int token, char *out,
                       size_t capacity); /* the same into a buffer, cut; its length */
int glanz_json_is(const struct json *json, int token, enum json_type type);
int glanz_json_is_null(const struct json *json, int token);

/* An object with only these keys (list closed by NULL): fails with the nearest known one otherwise. */
int glanz_json_object(struct json *json, int token, const char *const *keys);
/* Names at equal steps in memory; indirect: pointers to structs that begin with their name. */
struct names {
    const void *first;
    size_t step;
    int count; /* with those before */
    int indirect;
    const struct names *before; /* others, counted before these; or NULL */
};
const char *glanz_names_at(const struct names *names, int index);
/* Structs that begin with their name, from a list of pointers closed by NULL. */
struct names glanz_names_listed(const void *list);
/* Fail: what is wrong, and the name nearest to what was said; or all of them, where none is near and they are few. */
void glanz_json_fail_name(struct json *json, int token, const char *what, const char *said, const struct names *names);
/* Which of some names a token says. Fails with `what`. */
int glanz_find_name(struct json *json, int token, const struct names *names, const char *what);
/* Which of a list closed by NULL. */
uint8_t glanz_find_choice(struct json *json, int token, const char *const *words);
/* A copy of a name: 1 to 63 bytes, no control characters. */
char *glanz_json_name(struct json *json, int token);
/* The value at a key that must be there. */
int glanz_json_require(struct json *json, int object, const char *key);
/* Entries of an object or list that may be there, at most so many. */
int glanz_json_list(struct json *json, int token, enum json_type type, int most);

/* Numbers and quantities; fail with what was expected. */
uint32_t glanz_json_count(struct json *json, int token, uint32_t low, uint32_t high);
int glanz_json_flag(struct json *json, int token);

enum quantity {                         /* what a quantity may be, and the unit of its number */
                QUANTITY_TIME,          /* ms */
                QUANTITY_SHARE,         /* 65536 is 100 % */
                QUANTITY_LIGHTNESS,     /* 65535 is 100 % */
                QUANTITY_CURRENT,       /* mA */
                QUANTITY_SMALL_CURRENT, /* uA */
                QUANTITY_VOLTAGE,       /* mV */
                QUANTITY_KELVIN,
                QUANTITY_HERTZ,
                QUANTITY_DECIBEL,
                QUANTITY_ANGLE,  /* 65536 a turn */
                QUANTITY_FRAMES, /* per s */
                QUANTITY_LENGTH, /* 16.16, unit by text */
                QUANTITY_RATE    /* 16.16 or ms, unit by text */
};
int64_t glanz_json_quantity(struct json *json, int token, enum quantity kind, int64_t low, int64_t high, uint8_t *unit);
/* A quantity as text, which reads back equal; room for 32 bytes. */
void glanz_quantity_text(char *out, enum quantity kind, int64_t number, uint8_t unit);

/* A colour: hex, kelvin, hsl(), or a name of the list. */
glanz_color glanz_json_color(struct json *json, int token, const struct glanz_named_color *names, uint16_t name_count);
int glanz_color_of_text(glanz_color *color, const char *text, size_t length, const struct glanz_named_color *names,
                        uint16_t name_count);
void glanz_color_text(char *out, glanz_color color); /* room for 32 bytes; not for named ones */

#endif
