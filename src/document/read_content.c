/* SPDX-License-Identifier: MIT */
/* What looks show beside numbers: text, pictures, marks. */
#include <string.h>

#include "parts.h"

static const char *const no_keys[] = {NULL};
static const char *const pattern_keys[] = {"blocks", NULL};
static const char *const text_keys[] = {"text", "font", NULL};
static const char *const picture_look_keys[] = {"picture", NULL};
static const char *const marks_keys[] = {"marks", NULL};
const char *const *const glanz_content_keys[5] = {no_keys, pattern_keys, text_keys, picture_look_keys, marks_keys};

static const char *const picture_keys[] = {"rows", "colors", "data", NULL};
static const char *const mark_keys[] = {"first", "leds", "left", "top", "columns", "rows", "color", NULL};

/* ---- pictures ---- */

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

static void read_data(struct json *json, int token, struct glanz_picture *picture) {
    char *text = glanz_json_is(json, token, JSMN_STRING) ? glanz_json_text(json, token) : NULL;
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

struct sketch { /* a picture drawn as rows of text */
    uint8_t palette[256 * 4];
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

static void read_letters(struct json *json, int object, struct sketch *sketch, const struct named *named) {
    int count = glanz_json_list(json, object, JSMN_OBJECT, 100);
    for (int key = count == 0 ? -1 : glanz_json_first(json, object); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, object, key)) {
        char letter[8];
        if (glanz_json_copy(json, key, letter, sizeof letter) != 1 || (uint8_t)letter[0] > 126) {
            glanz_json_fail(json, key, "expected one letter of the rows", NULL, NULL);
            return;
        }
        glanz_color color = glanz_json_color(json, key + 1, named->colors, named->color_count);
        if (json->status == GLANZ_OK) {
            color = (color >> 24) == 3 ? named->colors[color & 0xFFFFu].color : color;
            sketch->index[(uint8_t)letter[0]] = (uint8_t)sketch->colors;
            put_color(sketch, color, 255);
        }
    }
}

static void read_rows(struct json *json, int rows, int colors, struct glanz_picture *picture, const struct named *named) {
    struct sketch sketch;
    struct glanz_picture_head head = {0, 0, 1, 0, 0};
    uint16_t ms = 1000;
    memset(&sketch, 0, sizeof sketch);
    put_color(&sketch, 0, 0);
    read_letters(json, colors, &sketch, named);
    head.rows = (uint16_t)glanz_json_list(json, rows, JSMN_ARRAY, GLANZ_PICTURE_MOST);
    head.colors = sketch.colors;
    uint8_t *points = NULL;
    uint32_t at = 0;
    for (int token = head.rows == 0 ? -1 : glanz_json_first(json, rows); token >= 0 && json->status == GLANZ_OK;
         token = glanz_json_next(json, rows, token)) {
        char text[GLANZ_PICTURE_MOST + 1];
        size_t length = glanz_json_is(json, token, JSMN_STRING) ? glanz_json_copy(json, token, text, sizeof text) : 0;
        if (points == NULL && length != 0 && length <= GLANZ_PICTURE_MOST) {
            head.columns = (uint16_t)length;
            points = (uint8_t *)glanz_json_take(json, (size_t)head.columns * head.rows);
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
    uint32_t room = at + at / 64u + 64u + 4u * sketch.colors;
    uint8_t *bytes = (uint8_t *)glanz_json_take(json, room);
    picture->bytes = bytes;
    picture->count = bytes == NULL ? 0 : glanz_picture_pack(bytes, room, &head, sketch.palette, points, &ms);
}

void glanz_read_picture(struct json *json, int object, struct glanz_picture *picture, const struct named *named) {
    if (!glanz_json_object(json, object, picture_keys)) {
        return;
    }
    int rows = glanz_json_member(json, object, "rows");
    int data = glanz_json_member(json, object, "data");
    int colors = glanz_json_member(json, object, "colors");
    picture->kind = GLANZ_CONTENT_PICTURE;
    if ((rows < 0) == (data < 0) || (rows < 0) != (colors < 0)) {
        glanz_json_fail(json, object, "expected either \"rows\" and \"colors\", or \"data\"", NULL, NULL);
    } else if (data >= 0) {
        read_data(json, data, picture);
    } else {
        read_rows(json, rows, colors, picture, named);
    }
}

static const void *find_picture(struct json *json, int token, const struct named *named) {
    for (uint8_t i = 0; glanz_json_is(json, token, JSMN_STRING) && i < named->kept_count; i++) {
        if (glanz_json_equal(json, token, named->kept[i].name)) {
            return &named->kept[i];
        }
    }
    int index = glanz_find_name(json, token, named->picture_count == 0 ? NULL : &named->pictures->name, sizeof *named->pictures,
                                named->picture_count, "no such picture in the show or the store");
    return json->status == GLANZ_OK ? &named->pictures[index] : NULL;
}

/* ---- text ---- */

static const void *read_writing(struct json *json, int look, const struct named *named) {
    struct glanz_writing *writing = (struct glanz_writing *)glanz_json_take(json, sizeof *writing);
    int text = glanz_json_require(json, look, "text");
    int font = glanz_json_member(json, look, "font");
    if (writing == NULL || json->status != GLANZ_OK) {
        return NULL;
    }
    writing->kind = GLANZ_CONTENT_WRITING;
    writing->text = glanz_json_is(json, text, JSMN_STRING) ? glanz_json_text(json, text) : NULL;
    uint32_t wrong = writing->text == NULL ? 1 : glanz_writing_check(writing->text, named->world);
    if (json->status == GLANZ_OK && (writing->text == NULL || wrong != 0 || strlen(writing->text) > 1000)) {
        glanz_json_fail(json, text, "byte ", NULL, NULL);
        glanz_fault_number(json->fault, wrong == 0 ? 1001 : wrong);
        glanz_fault_add(json->fault,
                        ": expected text of at most 1000 bytes; in braces time, date, hour, minute, second, day, month, "
                        "year, or a value of the rig such as {tide 0.0 to 6.5}");
    }
    if (font >= 0 && json->status == GLANZ_OK) {
        const char *names[9];
        uint8_t count = 0;
        for (; glanz_fonts[count] != NULL && count < 8; count++) {
            names[count] = glanz_fonts[count]->name;
        }
        names[count] = NULL;
        uint8_t index = glanz_find_choice(json, font, names);
        writing->font = json->status == GLANZ_OK ? glanz_fonts[index] : NULL;
    }
    return writing;
}

/* ---- marks ---- */

static uint16_t read_count(struct json *json, int object, const char *key, uint32_t low, uint16_t none) {
    int token = glanz_json_member(json, object, key);
    return token < 0 ? none : (uint16_t)glanz_json_count(json, token, low, GLANZ_LEDS_MOST);
}

static const void *read_marks(struct json *json, int look, const struct named *named) {
    int list = glanz_json_require(json, look, "marks");
    int count = glanz_json_list(json, list, JSMN_ARRAY, 32767);
    struct glanz_marks *marks = (struct glanz_marks *)glanz_json_take(json, sizeof *marks);
    struct glanz_mark *mark = (struct glanz_mark *)glanz_json_take(json, sizeof *mark * (size_t)count);
    if (marks == NULL || mark == NULL || json->status != GLANZ_OK) {
        return NULL;
    }
    marks->kind = GLANZ_CONTENT_MARKS;
    marks->list = mark;
    for (int at = count == 0 ? -1 : glanz_json_first(json, list); at >= 0 && json->status == GLANZ_OK;
         at = glanz_json_next(json, list, at)) {
        if (!glanz_json_object(json, at, mark_keys)) {
            return NULL;
        }
        int first = glanz_json_member(json, at, "first");
        int left = glanz_json_member(json, at, "left");
        int top = glanz_json_member(json, at, "top");
        int color = glanz_json_require(json, at, "color");
        if ((first >= 0) == (left >= 0) || (left < 0) != (top < 0)) {
            glanz_json_fail(json, at,
                            "expected either \"first\" (and \"leds\"), or \"left\" and \"top\" (and \"columns\", \"rows\")",
                            NULL, NULL);
            return NULL;
        }
        if (json->status != GLANZ_OK) {
            return NULL;
        }
        glanz_color said = glanz_json_color(json, color, named->colors, named->color_count);
        mark->color = (said >> 24) == 3 ? named->colors[said & 0xFFFFu].color : said;
        mark->placed = left >= 0;
        mark->first = read_count(json, at, "first", 0, 0);
        mark->leds = read_count(json, at, "leds", 1, 1);
        mark->left = read_count(json, at, "left", 0, 0);
        mark->top = read_count(json, at, "top", 0, 0);
        mark->columns = read_count(json, at, "columns", 1, 1);
        mark->rows = read_count(json, at, "rows", 1, 1);
        mark++;
        marks->count++;
    }
    return marks;
}

const void *glanz_read_content(struct json *json, int look, uint8_t kind, const struct named *named) {
    switch (kind) {
    case GLANZ_CONTENT_WRITING: return read_writing(json, look, named);
    case GLANZ_CONTENT_PICTURE: {
        int token = glanz_json_require(json, look, "picture");
        return json->status == GLANZ_OK ? find_picture(json, token, named) : NULL;
    }
    case GLANZ_CONTENT_MARKS: return read_marks(json, look, named);
    default: return NULL;
    }
}
