/* SPDX-License-Identifier: MIT */
/* Writing: UTF-8 text with braces that tell the time or a value, set as lines of glyphs. */
#include "braces.h"

#if GLANZ_FIELDS

/* ---- setting ---- */

static GLANZ_CONST struct glanz_font *font_of(GLANZ_CONST struct glanz_writing *writing) {
    return writing->font == NULL ? &glanz_font_quay : writing->font;
}

/* A glyph's index, or the font's count. */
static uint16_t find_glyph(GLANZ_CONST struct glanz_font *font, uint32_t code) {
    uint16_t low = 0;
    uint16_t high = font->count;
    while (low < high) {
        uint16_t middle = (uint16_t)((low + high) / 2u);
        if (font->codes[middle] < code) {
            low = (uint16_t)(middle + 1);
        } else {
            high = middle;
        }
    }
    return low < font->count && font->codes[low] == code ? low : font->count;
}

static uint8_t box_columns(GLANZ_CONST struct glanz_font *font) { /* the gap after it not counted */
    return (uint8_t)(font->rise < 5 ? 3 : font->rise * 5u / 8u);
}

struct setter {
    struct glanz_letter *letters;
    GLANZ_CONST struct glanz_font *font;
    uint32_t missing;
    uint32_t at;
    uint16_t count, capacity;
};

static void set_code(struct setter *setter, uint32_t code) {
    GLANZ_CONST struct glanz_font *font = setter->font;
    uint16_t glyph = find_glyph(font, code);
    uint8_t none = glyph == font->count;
    uint32_t width = none ? box_columns(font) + 1u : (uint32_t)(font->starts[glyph + 1] - font->starts[glyph]);
    setter->missing = none && setter->missing == 0 ? code : setter->missing;
    if (setter->count + 1u >= setter->capacity || setter->at + width > 32000u) {
        return;
    }
    setter->letters[setter->count].at = (uint16_t)setter->at;
    setter->letters[setter->count].start = none ? GLANZ_BOX : font->starts[glyph];
    setter->count++;
    setter->at += width;
}

uint16_t glanz_writing_capacity(GLANZ_CONST struct glanz_writing *writing) {
    uint32_t letters = 1;
    GLANZ_CONST char *at = writing == NULL || writing->text == NULL ? NULL : writing->text;
    while (at != NULL && *at != '\0' && letters < 8000u) {
        struct brace brace;
        GLANZ_CONST char *inner = at + 1;
        if (*at == '{' && at[1] != '{' && glanz_read_brace(&brace, &inner)) {
            letters += GLANZ_TOLD_MOST;
            at = inner;
            continue;
        }
        at += *at == '{' && at[1] == '{' ? 2 : 1;
        letters++;
    }
    return (uint16_t)letters;
}

uint8_t glanz_writing_lines(GLANZ_CONST struct glanz_writing *writing) {
    uint8_t lines = 1;
    for (GLANZ_CONST char *at = writing == NULL || writing->text == NULL ? GLANZ_TEXT("") : writing->text;
         at != NULL && *at != '\0'; at++) {
        lines = (uint8_t)(lines + (*at == '\n' && lines < GLANZ_WRITING_LINES));
    }
    return lines;
}

uint16_t glanz_writing_set(struct glanz_letter *letters, uint16_t capacity, uint32_t *missing,
                           GLANZ_CONST struct glanz_writing *writing, uint8_t line, const struct glanz_world *world) {
    if (letters == NULL || capacity == 0 || writing == NULL || writing->text == NULL) {
        return 0;
    }
    struct setter setter = {letters, font_of(writing), 0, 0, 0, capacity};
    GLANZ_CONST char *at = writing->text;
    for (; line != 0 && *at != '\0'; at++) {
        line = (uint8_t)(line - (*at == '\n'));
    }
    while (*at != '\0' && *at != '\n') {
        struct brace brace;
        struct notifier notifier;
        uint8_t doubled = *at == '{' && at[1] == '{';
        GLANZ_CONST char *inner = at + 1;
        if (*at == '{' && !doubled && glanz_read_brace(&brace, &inner)) {
            at = inner;
            glanz_tell_brace(&notifier, &brace, world);
            for (uint8_t i = 0; i < notifier.count; i++) {
                set_code(&setter, notifier.text[i]);
            }
            continue;
        }
        at += doubled;
        uint32_t code = glanz_next_code(&at);
        at += code == GLANZ_NO_CODE; /* it was checked; else a box for what is no letter */
        set_code(&setter, code == GLANZ_NO_CODE ? 0xFFFDu : code);
    }
    letters[setter.count].at = (uint16_t)setter.at;
    letters[setter.count].start = GLANZ_BOX;
    if (missing != NULL) {
        *missing = setter.missing;
    }
    return setter.count;
}

uint32_t glanz_writing_check(GLANZ_CONST char *text, const struct glanz_world *world) {
    GLANZ_CONST char *at = text;
    uint8_t lines = 1;
    while (text != NULL && *at != '\0') {
        struct brace brace;
        GLANZ_CONST char *here = at;
        if (*at == '\n' && lines < GLANZ_WRITING_LINES) {
            lines++;
            at++;
            continue;
        }
        if (*at == '{' && at[1] != '{') {
            at++;
            if (!glanz_read_brace(&brace, &at) || glanz_is_unknown(&brace, world)) {
                return (uint32_t)(here - text) + 1u;
            }
            continue;
        }
        at += *at == '{';
        if (glanz_next_code(&at) == GLANZ_NO_CODE) {
            return (uint32_t)(here - text) + 1u;
        }
    }
    return text == NULL;
}

uint8_t glanz_writing_bit(const struct glanz_letter *letters, uint16_t count, uint16_t *near,
                          GLANZ_CONST struct glanz_font *font, int32_t column, int32_t row) {
    if (count == 0 || column < 0 || column >= (int32_t)letters[count].at || row < 0 || row >= (int32_t)font->rows) {
        return 0;
    }
    uint16_t at = *near < count ? *near : 0;
    while (column < (int32_t)letters[at].at) {
        at--;
    }
    while (column >= (int32_t)letters[at + 1].at) {
        at++;
    }
    *near = at;
    uint16_t into = (uint16_t)(column - letters[at].at);
    if (letters[at].start == GLANZ_BOX) { /* a frame as high as a capital */
        uint8_t last = (uint8_t)(box_columns(font) - 1u);
        return row < font->rise && into <= last && (into == 0 || into == last || row == 0 || row + 1 == font->rise);
    }
    uint8_t bytes = (uint8_t)((font->rows + 7u) / 8u);
    uint32_t start = ((uint32_t)letters[at].start + into) * bytes + ((uint32_t)row >> 3);
    return (uint8_t)((uint8_t)(font->bits[start] >> ((uint8_t)row & 7)) & 1);
}

#endif
