/* SPDX-License-Identifier: MIT */
/* Text: a line of glyphs, standing or moving by fractions of a LED. Remembers the line as it is set, and the one before: a
 * text that becomes wider or narrower while it moves is changed where it is out of sight. */
#include <string.h>

#include "travel.h"

#if GLANZ_FIELDS

static GLANZ_CONST char *GLANZ_CONST colorings[] = {GLANZ_TEXT("one color"), GLANZ_TEXT("across the text"),
                                                    GLANZ_TEXT("letter by letter"), GLANZ_TEXT("across the field")};
static GLANZ_CONST char *GLANZ_CONST agains[] = {GLANZ_TEXT("again and again"), GLANZ_TEXT("to and fro"), GLANZ_TEXT("once")};

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_TEXT_COLOR] = GLANZ_COLOR_ROW("color", "of the letters", GLANZ_RGB(255, 255, 255)),
    [GLANZ_TEXT_BACKGROUND] = GLANZ_COLOR_ROW("background", "behind the letters", GLANZ_RGB(0, 0, 0)),
    [GLANZ_TEXT_CLEAR] = GLANZ_FLAG_ROW("clear", "what lies under it shows between the letters", 0),
    [GLANZ_TEXT_COLORED] = GLANZ_CHOICE_ROW("colored", "from the one colour, or from the palette", colorings, 0),
    [GLANZ_TEXT_WAY] = GLANZ_CHOICE_ROW("way", "where it moves to", glanz_ways, WAY_LEFT),
    [GLANZ_TEXT_AGAIN] = GLANZ_CHOICE_ROW("runs", "how often it moves through", agains, 0),
    [GLANZ_TEXT_LEVEL] = GLANZ_FADED_SHARE_ROW("level", "how far down: 0 % at the top, 100 % at the bottom", GLANZ_PERCENT(50)),
    [GLANZ_TEXT_SPEED] = GLANZ_RATE_ROW("how fast it moves", GLANZ_UNIT_LEDS, GLANZ_FIXED(8)),
};

struct line {
    uint16_t count, width;
};

struct text {
    struct line line[2];
    uint16_t version, lap, capacity;
    uint8_t is;                    /* which line shows */
    uint8_t ready;                 /* 1: it is set */
    uint8_t shown;                 /* 1: in a frame before */
    uint8_t late;                  /* 1: the other line waits to be shown */
    struct glanz_letter letters[]; /* two lines */
};

static GLANZ_CONST struct glanz_writing *writing_of(const struct glanz_frame *frame) {
    return (GLANZ_CONST struct glanz_writing *)frame->content;
}

static GLANZ_CONST struct glanz_font *font_of(const struct glanz_frame *frame) {
    GLANZ_CONST struct glanz_writing *writing = writing_of(frame);
    return writing == NULL || writing->font == NULL ? &glanz_font_quay : writing->font;
}

static uint32_t memory(const struct glanz_frame *frame) {
    return (uint32_t)(offsetof(struct text, letters) +
                      2u * sizeof(struct glanz_letter) * glanz_writing_capacity(writing_of(frame)));
}

static uint8_t is_upright(const struct glanz_frame *frame) {
    return frame->number[GLANZ_TEXT_WAY] >= WAY_UP;
}

static struct travel travel_of(const struct glanz_frame *frame, uint16_t width) {
    struct travel travel;
    uint8_t upright = is_upright(frame);
    travel.extent = upright ? font_of(frame)->rows : width;
    travel.field = upright ? frame->rows : frame->length;
    travel.backward = frame->number[GLANZ_TEXT_WAY] == WAY_RIGHT || frame->number[GLANZ_TEXT_WAY] == WAY_DOWN;
    travel.again = (uint8_t)frame->number[GLANZ_TEXT_AGAIN];
    travel.closed = !upright && frame->closed;
    return travel;
}

static void set_line(struct text *text, const struct glanz_frame *frame, uint8_t which) {
    struct glanz_letter *letters = text->letters + (which != 0 ? text->capacity : 0);
    text->line[which].count = glanz_writing_set(letters, text->capacity, NULL, writing_of(frame), frame->world);
    text->line[which].width = letters[text->line[which].count].at;
}

/* The text, set: its first pass hangs on how long it is. NULL without memory. */
static struct text *text_of(const struct glanz_frame *frame) {
    struct text *text = (struct text *)frame->memory;
    if (text != NULL && !text->ready) {
        text->capacity = glanz_writing_capacity(writing_of(frame));
        text->version = frame->world->version;
        set_line(text, frame, 0);
        text->ready = 1;
    }
    return text;
}

static uint16_t width_of(const struct glanz_frame *frame) {
    const struct text *text = text_of(frame);
    return text == NULL ? 0 : text->line[text->is].width;
}

static glanz_place pass(const struct glanz_frame *frame) {
    struct travel travel = travel_of(frame, width_of(frame));
    return glanz_travel_pass(&travel);
}

/* Keeps where the line's first column and top row are. */
static uint8_t step(struct glanz_frame *frame) {
    struct text *text = text_of(frame);
    uint8_t standing = frame->number[GLANZ_TEXT_WAY] == WAY_STANDING;
    uint8_t anew = 0;
    uint8_t other = 0;
    if (text == NULL) {
        return 0;
    }
    if (!text->shown) {
        text->shown = 1;
        anew = 1;
    }
    if (text->version != frame->world->version) {
        text->version = frame->world->version;
        set_line(text, frame, !text->is);
        text->late = 1;
    }
    uint8_t same = text->line[0].width == text->line[1].width;
    if (text->late && (same || standing || is_upright(frame) || text->lap != (uint16_t)frame->lap[0])) {
        text->is = !text->is;
        text->late = 0;
        anew = !same;
        other = 1;
    }
    text->lap = (uint16_t)frame->lap[0];
    uint16_t width = text->line[text->is].width;
    uint16_t rows = font_of(frame)->rows;
    struct travel travel = travel_of(frame, width);
    frame->kept[0] = width > frame->length ? 0 : glanz_travel_rest(width, frame->length, 32768);
    frame->kept[1] = glanz_travel_rest(rows, frame->rows, frame->number[GLANZ_TEXT_LEVEL]);
    if (!standing && travel.again == AGAIN_ONCE && frame->lap[0] != 0) {
        frame->kept[1] = -(glanz_place)rows * GLANZ_STEP - GLANZ_STEP; /* it has been */
    } else if (!standing) {
        frame->kept[is_upright(frame) ? 1 : 0] = glanz_travel_place(&travel, frame);
    }
    frame->kept[2] =
        travel.closed && !standing && travel.again == AGAIN_AGAIN ? (int32_t)(glanz_travel_pass(&travel) / GLANZ_STEP) : 0;
    uint8_t moves = other || anew || (!standing && frame->number[GLANZ_TEXT_SPEED] != 0);
    return (uint8_t)((moves ? GLANZ_STEP_MOVES : 0) | (anew ? GLANZ_STEP_PASS : 0));
}

struct reader { /* of one line's bits */
    const struct glanz_letter *letters;
    GLANZ_CONST struct glanz_font *font;
    uint16_t count, near;
};

/* How much of a LED the letters cover, 0 to 65536: four bits by how much of each lies under it. */
static uint32_t cover_at(struct reader *reader, glanz_place x, glanz_place y, int32_t period) {
    uint32_t edge_x = (uint32_t)(x - GLANZ_HALF) + 0x80000000u; /* floors alike everywhere */
    uint32_t edge_y = (uint32_t)(y - GLANZ_HALF) + 0x80000000u;
    int32_t column = (int32_t)(edge_x >> 16) - 32768;
    int32_t row = (int32_t)(edge_y >> 16) - 32768;
    uint32_t right = edge_x & 0xFFFFu;
    uint32_t below = edge_y & 0xFFFFu;
    uint32_t cover = 0;
    if (period == 0 && (column < -1 || column >= (int32_t)reader->letters[reader->count].at || row < -1 ||
                        row >= (int32_t)reader->font->rows)) {
        return 0; /* beside the line */
    }
    for (uint8_t i = 0; i < 4; i++) {
        uint32_t part_x = (i & 1) != 0 ? right : 65536u - right;
        uint32_t part_y = (i & 2) != 0 ? below : 65536u - below;
        int32_t at = column + (i & 1);
        if (part_x == 0 || part_y == 0) {
            continue;
        }
        if (period != 0) {
            at %= period;
            at = at < 0 ? at + period : at;
        }
        if (glanz_writing_bit(reader->letters, reader->count, &reader->near, reader->font, at, row + (i >> 1))) {
            cover += glanz_share_of(part_x, part_y);
        }
    }
    return cover;
}

/* Where in the palette the colour of a place lies. */
static uint16_t position_of(const struct glanz_frame *frame, const struct reader *reader, glanz_place x, glanz_place across) {
    uint32_t width = reader->letters[reader->count].at;
    switch (frame->number[GLANZ_TEXT_COLORED]) {
    case 1: return (uint16_t)(x <= 0 ? 0 : glanz_ratio((uint32_t)x, width << 16) * 65535u >> 16);
    case 2: return (uint16_t)(reader->near * 40503u); /* by the golden section: neighbours differ */
    default: return (uint16_t)(glanz_ratio((uint32_t)across, (uint32_t)frame->length << 16) * 65535u >> 16);
    }
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    const struct text *text = (const struct text *)frame->memory;
    uint8_t clear = frame->number[GLANZ_TEXT_CLEAR] != 0;
    struct glanz_light back = frame->color[GLANZ_TEXT_BACKGROUND];
    struct glanz_light color = frame->color[GLANZ_TEXT_COLOR];
    struct glanz_light none = {0, 0, 0};
    struct reader reader = {NULL, font_of(frame), 0, 0};
    back = clear ? none : back;
    if (text != NULL && text->ready) {
        reader.letters = text->letters + (text->is ? text->capacity : 0);
        reader.count = text->line[text->is].count;
    }
    for (uint8_t i = 0; i < count; i++) {
        glanz_place x = places->x[i] - frame->kept[0];
        uint32_t part = reader.count == 0 ? 0 : cover_at(&reader, x, places->y[i] - frame->kept[1], frame->kept[2]);
        if (part != 0 && frame->number[GLANZ_TEXT_COLORED] != 0) {
            color = glanz_gradient_at(frame->gradient, position_of(frame, &reader, x, places->x[i]));
        }
        light[i] = part == 0 ? back : glanz_light_mix(back, color, part);
        if (cover != NULL) {
            cover[i] = (uint16_t)(!clear || part > 65535u ? 65535u : part);
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_text = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("text"),
    .description = GLANZ_DESCRIPTION("a line of text, standing or moving; a pass takes it through the field once"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT | GLANZ_NEEDS_CLOCK | GLANZ_NEEDS_COVER,
    .content = GLANZ_CONTENT_WRITING,
    .pass = pass,
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .least_columns = 5,
    .least_rows = 5,
};

#endif
