/* SPDX-License-Identifier: MIT */
/* Pictures of a show: as they were packed, or drawn as rows of letters. */
#include <string.h>

#include "read.h"

static int base64_digit(char c) { /* RFC 4648 */
    if (c >= 'A' && c <= 'Z') {
        return c - 'A';
    }
    if (c >= 'a' && c <= 'z') {
        return c - 'a' + 26;
    }
    if (c >= '0' && c <= '9') {
        return c - '0' + 52;
    }
    return c == '+' ? 62 : c == '/' ? 63 : -1;
}

void glanz_read_data(struct json *json, int token, struct glanz_picture *picture) {
    char *text = glanz_json_is(json, token, JSON_STRING) ? glanz_json_text(json, token) : NULL;
    size_t length = text == NULL ? 0 : strlen(text);
    uint32_t bits = 0;
    uint8_t held = 0;
    uint32_t count = 0;
    int good = length >= 4 && length % 4 == 0;
    uint8_t *bytes = (uint8_t *)text; /* what is decoded is shorter than the text: it takes its place */
    while (good && length > 0 && text[length - 1] == '=') {
        length--;
    }
    for (size_t i = 0; good && i < length; i++) {
        int digit = base64_digit(text[i]);
        good = digit >= 0;
        bits = bits << 6 | (uint32_t)(digit & 63);
        held = (uint8_t)(held + 6);
        if (held >= 8) {
            held = (uint8_t)(held - 8);
            bytes[count++] = (uint8_t)(bits >> held);
        }
    }
    struct glanz_picture_head head;
    if (json->status == GLANZ_OK && (!good || glanz_picture_open(&head, bytes, count, 1) != GLANZ_OK)) {
        glanz_json_fail(json, token, "the picture is damaged; expected base64 as \"glanz picture\" writes it", NULL, NULL);
    }
    picture->bytes = bytes;
    picture->count = count;
}

#define LETTERS_MOST 100

struct sketch { /* a picture drawn as rows of text */
    uint8_t palette[(LETTERS_MOST + 1) * 4];
    uint8_t index[128]; /* by letter; 0: none */
    uint16_t colors;
};

static void put_color(struct sketch *sketch, glanz_color color, uint8_t cover) {
    struct glanz_light light = glanz_color_light(color, NULL, 0);
    uint8_t *to = &sketch->palette[4u * sketch->colors++];
    to[0] = glanz_coded(light.red);
    to[1] = glanz_coded(light.green);
    to[2] = glanz_coded(light.blue);
    to[3] = cover;
}

static void read_letters(struct reading *reading, int object, struct sketch *sketch) {
    struct json *json = &reading->json;
    int count = glanz_json_list(json, object, JSON_OBJECT, LETTERS_MOST);
    for (int key = count == 0 ? -1 : glanz_json_first(json, object); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, object, key)) {
        char letter[8];
        if (glanz_json_copy(json, key, letter, sizeof letter) != 1 || (uint8_t)letter[0] > 126) {
            glanz_json_fail(json, key, "expected one letter of the rows", NULL, NULL);
            return;
        }
        glanz_color color = glanz_read_color(reading, key + 1, ROW_COLOR_LIGHT);
        if (json->status == GLANZ_OK) {
            sketch->index[(uint8_t)letter[0]] = (uint8_t)sketch->colors;
            put_color(sketch, color, 255);
        }
    }
}

void glanz_read_sketch(struct reading *reading, int rows, int colors, struct glanz_picture *picture) {
    struct json *json = &reading->json;
    struct sketch sketch;
    struct glanz_picture_head head = {0, 0, 1, 0, 0};
    uint16_t ms = 1000;
    memset(&sketch, 0, sizeof sketch);
    put_color(&sketch, 0, 0);
    read_letters(reading, colors, &sketch);
    head.rows = (uint16_t)glanz_json_list(json, rows, JSON_ARRAY, GLANZ_PICTURE_MOST);
    head.colors = sketch.colors;
    uint8_t *points = NULL;
    uint32_t at = 0;
    for (int token = head.rows == 0 ? -1 : glanz_json_first(json, rows); token >= 0 && json->status == GLANZ_OK;
         token = glanz_json_next(json, rows, token)) {
        char text[GLANZ_PICTURE_MOST + 1];
        size_t length = glanz_json_is(json, token, JSON_STRING) ? glanz_json_copy(json, token, text, sizeof text) : 0;
        if (points == NULL && length != 0 && length <= GLANZ_PICTURE_MOST) {
            head.columns = (uint16_t)length;
            points = (uint8_t *)glanz_json_allocate(json, (size_t)head.columns * head.rows);
        }
        if (json->status == GLANZ_OK && (length != head.columns || length == 0)) {
            glanz_json_fail(json, token, "expected rows of text of equal length, 1 to 255 letters", NULL, NULL);
        }
        for (size_t i = 0; json->status == GLANZ_OK && i < length; i++) {
            uint8_t letter = (uint8_t)text[i];
            points[at] = letter < 127 ? sketch.index[letter] : 0;
            if (points[at++] == 0 && letter != '.' && letter != ' ') {
                glanz_json_fail(json, token,
                                "a letter has no colour; expected it under \"colors\" (a point or a blank shows nothing)", NULL,
                                NULL);
            }
        }
    }
    if (json->status == GLANZ_OK && points == NULL) {
        glanz_json_fail(json, rows, "expected at least one row", NULL, NULL);
    }
    if (json->status != GLANZ_OK) {
        return;
    }
    uint32_t capacity = at + at / 64u + 64u + 4u * sketch.colors;
    uint8_t *bytes = (uint8_t *)glanz_json_allocate(json, capacity);
    picture->bytes = bytes;
    picture->count = bytes == NULL ? 0 : glanz_picture_pack(bytes, capacity, &head, sketch.palette, points, &ms);
}
