/* SPDX-License-Identifier: MIT */
/* What records are written and read with, and the palettes, patterns, texts and marks in them. What a recalled preset brings
 * that the show has not lies in memory that the program lends for it, in chunks that are free again once nothing shows them. */
#include "record.h"

#if GLANZ_SAVED_MOST > 0

void glanz_record_put(struct writer *writer, uint32_t number, uint8_t bytes) {
    for (uint8_t i = 0; i < bytes; i++) {
        if (writer->count < writer->capacity) {
            writer->bytes[writer->count] = (uint8_t)(number >> (8 * i));
        }
        writer->count++;
    }
}

void glanz_record_put_name(struct writer *writer, GLANZ_CONST char *name) {
    uint8_t length = 0;
    while (name != NULL && name[length] != '\0' && length < 255) {
        length++;
    }
    glanz_record_put(writer, length, 1);
    for (uint8_t i = 0; i < length; i++) {
        glanz_record_put(writer, (uint8_t)name[i], 1);
    }
}

uint32_t glanz_record_get(struct reader *reader, uint8_t bytes) {
    uint32_t number = 0;
    for (uint8_t i = 0; i < bytes; i++) {
        if (reader->at >= reader->count) {
            reader->bad = 1;
            return 0;
        }
        number |= (uint32_t)reader->bytes[reader->at++] << (8 * i);
    }
    return number;
}

struct text glanz_record_get_name(struct reader *reader) {
    struct text text;
    text.length = (uint8_t)glanz_record_get(reader, 1);
    text.bytes = reader->bytes + reader->at;
    if (reader->at + text.length > reader->count) {
        reader->bad = 1;
        text.length = 0;
    }
    reader->at += text.length;
    return text;
}

int glanz_record_is_named(GLANZ_CONST char *name, struct text text) {
    uint8_t i = 0;
    while (name != NULL && i < text.length && name[i] != '\0' && (uint8_t)name[i] == text.bytes[i]) {
        i++;
    }
    return name != NULL && i == text.length && name[i] == '\0';
}

/* ---- writing ---- */

uint32_t glanz_record_color(GLANZ_CONST struct glanz_show *show, uint32_t color) {
    return (color >> 24) == 3 && (color & 0xFFFFu) < show->color_count ? show->colors[color & 0xFFFFu].color : color;
}

static void put_chosen(struct writer *writer, GLANZ_CONST struct glanz_show *show, uint8_t between,
                       GLANZ_CONST struct glanz_color_stop *chosen, uint8_t count) {
    glanz_record_put(writer, 1, 1);
    glanz_record_put(writer, between, 1);
    glanz_record_put(writer, count, 1);
    for (uint8_t i = 0; i < count; i++) {
        glanz_record_put(writer, chosen[i].at, 2);
        glanz_record_put(writer, glanz_record_color(show, chosen[i].color), 4);
    }
}

static int same_name(GLANZ_CONST char *a, GLANZ_CONST char *b) {
    while (*a != '\0' && *a == *b) {
        a++;
        b++;
    }
    return *a == *b;
}

/* As it was chosen, which is a tenth of what is built from it, where that is known: the show's own, or the library's. */
static int put_known(struct writer *writer, GLANZ_CONST struct glanz_show *show,
                     GLANZ_CONST struct glanz_show_palette *palette) {
    if (palette->chosen != NULL) {
        put_chosen(writer, show, palette->between, palette->chosen, palette->chosen_count);
        return 1;
    }
    for (uint8_t i = 0; i < glanz_palette_count; i++) {
        if (palette->name != NULL && same_name(glanz_palettes[i].name, palette->name)) {
            put_chosen(writer, show, glanz_palettes[i].between, glanz_palettes[i].stops, glanz_palettes[i].count);
            return 1;
        }
    }
    return 0;
}

static void put_gradient(struct writer *writer, GLANZ_CONST struct glanz_show *show,
                         GLANZ_CONST struct glanz_gradient *gradient) {
    for (uint8_t i = 0; gradient != NULL && i < show->palette_count; i++) {
        if (show->palettes[i].gradient == gradient && put_known(writer, show, &show->palettes[i])) {
            return;
        }
    }
    if (gradient == NULL || gradient == &glanz_gradient_standard || gradient->count > 255) {
        glanz_record_put(writer, 0, 1);
        return;
    }
    glanz_record_put(writer, 2, 1);
    glanz_record_put(writer, gradient->bands, 1);
    glanz_record_put(writer, gradient->count, 1);
    for (uint16_t i = 0; i < gradient->count; i++) {
        glanz_record_put(writer, gradient->stops[i].at, 2);
        glanz_record_put(writer, gradient->stops[i].light.red, 2);
        glanz_record_put(writer, gradient->stops[i].light.green, 2);
        glanz_record_put(writer, gradient->stops[i].light.blue, 2);
    }
}

static void put_pattern(struct writer *writer, GLANZ_CONST struct glanz_pattern *pattern) {
    glanz_record_put(writer, pattern->count, 2);
    for (uint16_t i = 0; i < pattern->count; i++) {
        glanz_record_put(writer, pattern->blocks[i].leds, 2);
        glanz_record_put(writer, pattern->blocks[i].color, 4);
    }
}

#if GLANZ_FIELDS
static void put_writing(struct writer *writer, GLANZ_CONST struct glanz_writing *writing) {
    uint16_t length = 0;
    while (writing->text[length] != '\0' && length < 65535u) {
        length++;
    }
    glanz_record_put_name(writer, writing->font == NULL ? NULL : writing->font->name);
    glanz_record_put(writer, length, 2);
    for (uint16_t i = 0; i < length; i++) {
        glanz_record_put(writer, (uint8_t)writing->text[i], 1);
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
    put_gradient(writer, show, gradient);
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
        put_chosen(writer, show, GLANZ_BETWEEN_LIGHT, stops, colors->count);
    } else {
        put_gradient(writer, show, colors->gradient);
    }
    glanz_record_put(writer, GLANZ_CONTENT_NONE, 1);
}

/* ---- memory for what is read ---- */

struct chunk {
    uint32_t size; /* with this */
    uint32_t used;
};

void glanz_control_values(struct glanz_control *control, void *memory, size_t size) {
    uint8_t *from = (uint8_t *)memory;
    size_t skip = memory == NULL ? 0 : (8u - ((uintptr_t)memory & 7u)) & 7u;
    if (control == NULL || glanz_control_inside(control)) {
        return;
    }
    control->values = NULL;
    control->values_size = 0;
    if (from != NULL && size >= skip + 64u) {
        control->values = from + skip;
        control->values_size = (uint32_t)((size - skip) & ~(size_t)7u);
        struct chunk all = {control->values_size, 0};
        memcpy(control->values, &all, sizeof all);
    }
}

/* Is what lies in this memory shown, or may it come back? */
static int holds(const struct glanz_control *control, const void *memory, size_t size) {
    return glanz_inside(control->values_held, memory, size) || glanz_control_shows(control, memory, size);
}

/* Memory for a value; NULL. What nothing shows any more is free again. */
static void *reserve(struct glanz_control *control, size_t bytes) {
    uint32_t wanted = (uint32_t)((bytes + sizeof(struct chunk) + 7u) & ~(size_t)7u);
    struct chunk *open = NULL; /* the free chunk that the next one may join */
    for (uint32_t at = 0; control->values != NULL && at < control->values_size;) {
        struct chunk *chunk = (struct chunk *)(void *)(control->values + at);
        at += chunk->size;
        if (chunk->used && holds(control, chunk + 1, (size_t)chunk->size - sizeof *chunk)) {
            open = NULL;
            continue;
        }
        chunk->used = 0;
        if (open != NULL) {
            open->size += chunk->size;
        } else {
            open = chunk;
        }
        if (open->size >= wanted) {
            uint32_t left = open->size - wanted;
            if (left >= 2u * sizeof(struct chunk)) {
                struct chunk *rest = (struct chunk *)(void *)((uint8_t *)open + wanted);
                rest->size = left;
                rest->used = 0;
                open->size = wanted;
            }
            open->used = 1;
            return open + 1;
        }
    }
    return NULL;
}

/* ---- reading ---- */

/* Bytes of a palette, or of a content, behind its first byte; what cannot be is bad. */
static void skip(struct reader *reader, uint32_t bytes) {
    if (bytes > reader->count - reader->at) {
        reader->bad = 1;
        return;
    }
    reader->at += (size_t)bytes;
}

static void skip_gradient(struct reader *reader) {
    uint8_t kind = (uint8_t)glanz_record_get(reader, 1);
    if (kind != 0) {
        uint8_t between = (uint8_t)glanz_record_get(reader, 1);
        uint8_t count = (uint8_t)glanz_record_get(reader, 1);
        reader->bad =
            reader->bad || kind > 2 || count == 0 || (kind == 1 ? between > GLANZ_BETWEEN_BANDS || count > 64 : between > 1);
        skip(reader, (uint32_t)count * (kind == 1 ? 6u : 8u));
    }
}

static void skip_content(struct reader *reader) {
    uint8_t kind = (uint8_t)glanz_record_get(reader, 1);
    switch (kind) {
    case GLANZ_CONTENT_NONE: break;
    case GLANZ_CONTENT_PATTERN: skip(reader, glanz_record_get(reader, 2) * 6u); break;
#if GLANZ_FIELDS
    case GLANZ_CONTENT_WRITING:
        (void)glanz_record_get_name(reader);
        skip(reader, glanz_record_get(reader, 2));
        break;
    case GLANZ_CONTENT_MARKS: skip(reader, glanz_record_get(reader, 2) * 17u); break;
#endif
    default: reader->bad = 1; break;
    }
}

void glanz_values_skip(struct reader *reader) {
    skip_gradient(reader);
    skip_content(reader);
}

static int same_gradient(GLANZ_CONST struct glanz_gradient *a, const struct glanz_gradient *b) {
    int same = a != NULL && a->count == b->count && a->bands == b->bands;
    for (uint16_t i = 0; same && i < a->count; i++) {
        same = a->stops[i].at == b->stops[i].at && a->stops[i].light.red == b->stops[i].light.red &&
               a->stops[i].light.green == b->stops[i].light.green && a->stops[i].light.blue == b->stops[i].light.blue;
    }
    return same;
}

static void forget(void *value) {
    ((struct chunk *)value - 1)->used = 0;
}

/* Built stops become a gradient as chosen ones do: in light, or as bands. */
static glanz_status read_stops(struct glanz_gradient *gradient, struct glanz_stop *stops, struct reader *reader, uint8_t bands,
                               uint16_t count) {
    gradient->bands = bands;
    for (uint16_t i = 0; i < count; i++) {
        stops[i].at = (uint16_t)glanz_record_get(reader, 2);
        stops[i].light.red = (uint16_t)glanz_record_get(reader, 2);
        stops[i].light.green = (uint16_t)glanz_record_get(reader, 2);
        stops[i].light.blue = (uint16_t)glanz_record_get(reader, 2);
        if (i > 0 && stops[i].at < stops[i - 1].at) {
            return GLANZ_ERR_DAMAGED;
        }
    }
    glanz_gradient_index(gradient, stops, count);
    return GLANZ_OK;
}

static int get_gradient(struct glanz_look *look, struct reader *reader, struct glanz_control *control) {
    uint8_t kind = (uint8_t)glanz_record_get(reader, 1);
    if (kind == 0) {
        return 1;
    }
    uint8_t between = (uint8_t)glanz_record_get(reader, 1);
    uint16_t count = (uint16_t)glanz_record_get(reader, 1);
    uint16_t most = kind == 2 ? count : (uint16_t)(between == GLANZ_BETWEEN_EVEN ? count * GLANZ_STOPS_EACH : count);
    most = most > GLANZ_STOPS_MOST && kind == 1 ? GLANZ_STOPS_MOST : most;
    struct glanz_gradient *gradient =
        (struct glanz_gradient *)reserve(control, sizeof *gradient + most * sizeof(struct glanz_stop));
    if (gradient == NULL) {
        return look->gradient != NULL; /* the one of that name must do */
    }
    struct glanz_stop *stops = (struct glanz_stop *)(void *)(gradient + 1);
    glanz_status status;
    memset(gradient, 0, sizeof *gradient);
    if (kind == 2) {
        status = read_stops(gradient, stops, reader, between, count);
    } else {
        struct glanz_color_stop chosen[64];
        for (uint16_t i = 0; i < count; i++) {
            chosen[i].at = (uint16_t)glanz_record_get(reader, 2);
            chosen[i].color = glanz_record_get(reader, 4);
        }
        status = glanz_gradient_build(gradient, stops, most, chosen, count, (enum glanz_between)between, NULL, 0);
    }
    if (status != GLANZ_OK || same_gradient(look->gradient, gradient)) {
        forget(gradient);
        return status == GLANZ_OK || look->gradient != NULL;
    }
    look->gradient = gradient;
    return 1;
}

static void *get_pattern(struct reader *reader, struct glanz_control *control) {
    uint16_t count = (uint16_t)glanz_record_get(reader, 2);
    struct glanz_pattern *pattern =
        (struct glanz_pattern *)reserve(control, sizeof *pattern + count * sizeof(struct glanz_block));
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
        forget(pattern); /* as a show's pattern cannot be */
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
    uint16_t length = (uint16_t)glanz_record_get(reader, 2);
    struct glanz_writing *writing = (struct glanz_writing *)reserve(control, sizeof *writing + length + 1u);
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
    struct glanz_marks *marks = (struct glanz_marks *)reserve(control, sizeof *marks + count * sizeof(struct glanz_mark));
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
    if (!get_gradient(look, reader, control)) {
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
        forget(content);
    } else if (content != NULL) {
        look->content = content;
    }
    return content != NULL || look->content != NULL; /* without room, the one of that name must do */
}

#endif
