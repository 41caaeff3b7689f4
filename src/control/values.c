/* SPDX-License-Identifier: MIT */
/* Patterns, texts and marks in records, beside their palettes. */
#include "record.h"

#if GLANZ_SAVED_MOST > 0

/* ---- writing ---- */

static void put_pattern(struct writer *writer, GLANZ_CONST struct glanz_pattern *pattern) {
    glanz_record_put(writer, pattern->count, 2);
    for (uint16_t i = 0; i < pattern->count; i++) {
        glanz_record_put(writer, pattern->blocks[i].leds, 2);
        glanz_record_put(writer, pattern->blocks[i].color, 4);
    }
}

#if GLANZ_FIELDS
#define STYLED 0x8000u /* beside a text's length: what is around it, and where it lies, follow it */
#define STYLE_BYTES 7u

static void put_writing(struct writer *writer, GLANZ_CONST struct glanz_writing *writing) {
    uint16_t length = 0;
    while (writing->text[length] != '\0' && length < 32767u) {
        length++;
    }
    glanz_record_put_name(writer, writing->font == NULL ? NULL : writing->font->name);
    uint8_t styled = writing->edge != 0 || writing->sideways != 0 || writing->edge_color != 0;
    glanz_record_put(writer, length | (styled ? STYLED : 0u), 2);
    for (uint16_t i = 0; i < length; i++) {
        glanz_record_put(writer, (uint8_t)writing->text[i], 1);
    }
    if (styled) {
        glanz_record_put(writer, writing->edge, 1);
        glanz_record_put(writer, writing->sideways, 2);
        glanz_record_put(writer, writing->edge_color, 4);
    }
}

static void put_marks(struct writer *writer, GLANZ_CONST struct glanz_marks *marks) {
    glanz_record_put(writer, marks->count, 2);
    for (uint16_t i = 0; i < marks->count; i++) {
        GLANZ_CONST struct glanz_mark *mark = &marks->list[i];
        const uint16_t numbers[6] = {mark->first, mark->leds, mark->left, mark->top, mark->columns, mark->rows};
        glanz_record_put(writer, mark->placed, 1);
        for (uint8_t k = 0; k < 6; k++) {
            glanz_record_put(writer, numbers[k], 2);
        }
        glanz_record_put(writer, mark->color, 4);
    }
}
#endif

void glanz_values_put(struct writer *writer, GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_gradient *gradient,
                      GLANZ_CONST void *content) {
    uint8_t kind = content == NULL ? GLANZ_CONTENT_NONE : ((GLANZ_CONST struct glanz_content *)content)->kind;
    glanz_palette_put(writer, show, gradient);
#if GLANZ_FIELDS
    kind = kind == GLANZ_CONTENT_PICTURE ? GLANZ_CONTENT_NONE : kind; /* pictures are kept by name, beside the presets */
#endif
    glanz_record_put(writer, kind, 1);
    if (kind == GLANZ_CONTENT_PATTERN) {
        put_pattern(writer, (GLANZ_CONST struct glanz_pattern *)content);
#if GLANZ_FIELDS
    } else if (kind == GLANZ_CONTENT_WRITING) {
        put_writing(writer, (GLANZ_CONST struct glanz_writing *)content);
    } else if (kind == GLANZ_CONTENT_MARKS) {
        put_marks(writer, (GLANZ_CONST struct glanz_marks *)content);
#endif
    }
}

void glanz_values_put_colors(struct writer *writer, GLANZ_CONST struct glanz_show *show, const struct glanz_colors *colors) {
    struct glanz_color_stop stops[GLANZ_COLORS];
    for (uint8_t i = 0; i < colors->count; i++) {
        stops[i].at = colors->count < 2 ? 0 : (uint16_t)(65535u * i / (colors->count - 1u));
        stops[i].color = colors->color[i];
    }
    if (colors->count != 0) {
        glanz_palette_put_chosen(writer, show, 1, GLANZ_BETWEEN_LIGHT, stops, colors->count);
    } else {
        glanz_palette_put(writer, show, colors->gradient);
    }
    glanz_record_put(writer, GLANZ_CONTENT_NONE, 1);
}

/* ---- reading ---- */

#if GLANZ_FIELDS
static void skip_writing(struct reader *reader) {
    uint32_t length = glanz_record_get(reader, 2);
    glanz_record_skip(reader, (length & ~STYLED) + ((length & STYLED) != 0 ? STYLE_BYTES : 0u));
}
#endif

static void skip_content(struct reader *reader) {
    uint8_t kind = (uint8_t)glanz_record_get(reader, 1);
    switch (kind) {
    case GLANZ_CONTENT_NONE: break;
    case GLANZ_CONTENT_PATTERN: glanz_record_skip(reader, glanz_record_get(reader, 2) * 6u); break;
#if GLANZ_FIELDS
    case GLANZ_CONTENT_WRITING:
        (void)glanz_record_get_name(reader);
        skip_writing(reader);
        break;
    case GLANZ_CONTENT_MARKS: glanz_record_skip(reader, glanz_record_get(reader, 2) * 17u); break;
#endif
    default: reader->bad = 1; break;
    }
}

void glanz_values_skip(struct reader *reader) {
    glanz_palette_skip(reader);
    skip_content(reader);
}

static void *get_pattern(struct reader *reader, struct glanz_control *control) {
    uint16_t count = (uint16_t)glanz_record_get(reader, 2);
    struct glanz_pattern *pattern =
        (struct glanz_pattern *)glanz_values_reserve(control, sizeof *pattern + count * sizeof(struct glanz_block));
    if (pattern == NULL) {
        return NULL;
    }
    struct glanz_block *blocks = (struct glanz_block *)(void *)(pattern + 1);
    uint32_t leds = 0;
    uint8_t good = 1;
    for (uint16_t i = 0; i < count; i++) {
        blocks[i].leds = (uint16_t)glanz_record_get(reader, 2);
        blocks[i].color = glanz_record_get(reader, 4);
        leds += blocks[i].leds;
        good = (uint8_t)(good && blocks[i].leds != 0);
    }
    if (!good || leds == 0 || leds > GLANZ_LEDS_MOST) {
        glanz_values_forget(pattern); /* as a show's pattern cannot be */
        return NULL;
    }
    memset(pattern, 0, sizeof *pattern);
    pattern->kind = GLANZ_CONTENT_PATTERN;
    pattern->blocks = blocks;
    pattern->count = count;
    pattern->leds = (uint16_t)leds;
    return pattern;
}

#if GLANZ_FIELDS
static void *get_writing(const struct glanz_look *look, struct reader *reader, struct glanz_control *control) {
    struct text font = glanz_record_get_name(reader);
    uint32_t head = glanz_record_get(reader, 2);
    uint16_t length = (uint16_t)(head & ~STYLED);
    struct glanz_writing *writing = (struct glanz_writing *)glanz_values_reserve(control, sizeof *writing + length + 1u);
    if (writing != NULL) {
        GLANZ_CONST struct glanz_writing *other = (GLANZ_CONST struct glanz_writing *)look->content;
        char *letters = (char *)(writing + 1);
        memset(writing, 0, sizeof *writing);
        writing->kind = GLANZ_CONTENT_WRITING;
        writing->text = letters;
        for (uint16_t i = 0; i < length; i++) {
            letters[i] = (char)glanz_record_get(reader, 1);
        }
        letters[length] = '\0';
        if ((head & STYLED) != 0) {
            writing->edge = (uint8_t)glanz_record_get(reader, 1);
            writing->sideways = (uint16_t)glanz_record_get(reader, 2);
            writing->edge_color = glanz_record_get(reader, 4);
        }
        /* a font is code, and found by its name: among those of the show's looks; none is the standard */
        for (uint16_t i = 0; i < control->show->look_count && font.length != 0; i++) {
            GLANZ_CONST struct glanz_writing *own = (GLANZ_CONST struct glanz_writing *)control->show->looks[i].content;
            if (own != NULL && own->kind == GLANZ_CONTENT_WRITING && own->font != NULL &&
                glanz_record_is_named(own->font->name, font)) {
                writing->font = own->font;
            }
        }
        writing->font = writing->font == NULL && other != NULL ? other->font : writing->font;
    }
    return writing;
}

static void *get_marks(struct reader *reader, struct glanz_control *control) {
    uint16_t count = (uint16_t)glanz_record_get(reader, 2);
    struct glanz_marks *marks =
        (struct glanz_marks *)glanz_values_reserve(control, sizeof *marks + count * sizeof(struct glanz_mark));
    if (marks != NULL) {
        struct glanz_mark *list = (struct glanz_mark *)(void *)(marks + 1);
        memset(marks, 0, sizeof *marks);
        marks->kind = GLANZ_CONTENT_MARKS;
        marks->count = count;
        marks->list = list;
        for (uint16_t i = 0; i < count; i++) {
            list[i].placed = (uint8_t)glanz_record_get(reader, 1);
            list[i].first = (uint16_t)glanz_record_get(reader, 2);
            list[i].leds = (uint16_t)glanz_record_get(reader, 2);
            list[i].left = (uint16_t)glanz_record_get(reader, 2);
            list[i].top = (uint16_t)glanz_record_get(reader, 2);
            list[i].columns = (uint16_t)glanz_record_get(reader, 2);
            list[i].rows = (uint16_t)glanz_record_get(reader, 2);
            list[i].color = glanz_record_get(reader, 4);
        }
    }
    return marks;
}
#endif

int glanz_values_get(struct glanz_look *look, struct reader *reader, struct glanz_control *control) {
    GLANZ_CONST struct glanz_gradient *named = look->gradient;
    if (!glanz_palette_get(look, reader, control)) {
        return 0;
    }
    /* hold the palette, should it have been built, while the content looks for room */
    void *palette = look->gradient != named ? (void *)(uintptr_t)look->gradient : NULL;
    uint8_t kind = (uint8_t)glanz_record_get(reader, 1);
    void *content = NULL;
    control->values_held = palette;
    if (kind == GLANZ_CONTENT_PATTERN) {
        content = get_pattern(reader, control);
#if GLANZ_FIELDS
    } else if (kind == GLANZ_CONTENT_WRITING) {
        content = get_writing(look, reader, control);
    } else if (kind == GLANZ_CONTENT_MARKS) {
        content = get_marks(reader, control);
#endif
    }
    control->values_held = NULL;
    if (kind == GLANZ_CONTENT_NONE) {
        return 1;
    }
    if (content != NULL && glanz_content_equal(look->content, content)) {
        glanz_values_forget(content);
    } else if (content != NULL) {
        look->content = content;
    }
    return content != NULL || look->content != NULL; /* without room, the one of that name must do */
}

#endif
