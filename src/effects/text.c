/* SPDX-License-Identifier: MIT */
/* Text: lines of glyphs, standing, moving by fractions of a LED, or letter by letter. Remembers the lines as they are set, and
 * those before: a text that becomes wider or narrower while it moves is changed where it is out of sight. */
#include <string.h>

#include "travel.h"

#if GLANZ_FIELDS

static GLANZ_CONST char *GLANZ_CONST colorings[] = {GLANZ_TEXT("one color"), GLANZ_TEXT("across the text"),
                                                    GLANZ_TEXT("letter by letter"), GLANZ_TEXT("across the field")};
static GLANZ_CONST char *GLANZ_CONST agains[] = {GLANZ_TEXT("again and again"), GLANZ_TEXT("to and fro"), GLANZ_TEXT("once")};

#define WAY_LETTERS 5 /* beside those of pictures */
static GLANZ_CONST char *GLANZ_CONST ways[] = {GLANZ_TEXT("standing"), GLANZ_TEXT("leftward"), GLANZ_TEXT("rightward"),
                                               GLANZ_TEXT("upward"),   GLANZ_TEXT("downward"), GLANZ_TEXT("letter by letter")};

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_TEXT_COLOR] = GLANZ_COLOR_ROW("color", "of the letters", GLANZ_RGB(255, 255, 255)),
    [GLANZ_TEXT_BACKGROUND] = GLANZ_COLOR_ROW("background", "behind the letters", GLANZ_RGB(0, 0, 0)),
    [GLANZ_TEXT_CLEAR] = GLANZ_FLAG_ROW("clear", "what lies under it shows between the letters", 0),
    [GLANZ_TEXT_COLORED] = GLANZ_CHOICE_ROW("colored", "from the one colour, or from the palette", colorings, 0),
    [GLANZ_TEXT_WAY] = GLANZ_CHOICE_ROW("way", "where it moves to, or how it comes", ways, WAY_LEFT),
    [GLANZ_TEXT_AGAIN] = GLANZ_CHOICE_ROW("runs", "how often it moves through", agains, 0),
    [GLANZ_TEXT_LEVEL] = GLANZ_FADED_SHARE_ROW("level", "how far down: 0 % at the top, 100 % at the bottom", GLANZ_PERCENT(50)),
    [GLANZ_TEXT_SPEED] = GLANZ_RATE_ROW("how fast it moves", GLANZ_UNIT_LEDS, GLANZ_FIXED(8)),
};

struct line {
    uint16_t first, count, width; /* of its letters among all; columns */
};

struct block { /* all lines */
    struct line line[GLANZ_WRITING_LINES];
    uint16_t width, total; /* of the widest; of all together */
};

struct text {
    struct block block[2];
    uint16_t version, lap, capacity;
    uint8_t lines;
    uint8_t is;                    /* which block shows */
    uint8_t ready;                 /* 1: it is set */
    uint8_t shown;                 /* 1: in a frame before */
    uint8_t late;                  /* 1: the other block waits to be shown */
    struct glanz_letter letters[]; /* two blocks */
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
    return frame->number[GLANZ_TEXT_WAY] == WAY_UP || frame->number[GLANZ_TEXT_WAY] == WAY_DOWN;
}

/* Does it stay where it is? */
static uint8_t is_standing(const struct glanz_frame *frame) {
    return frame->number[GLANZ_TEXT_WAY] == WAY_STANDING || frame->number[GLANZ_TEXT_WAY] == WAY_LETTERS;
}

/* Rows of all lines: one between two. */
static uint16_t rows_of(const struct glanz_frame *frame, uint8_t lines) {
    return (uint16_t)(lines * (font_of(frame)->rows + 1u) - 1u);
}

static void set_block(struct text *text, const struct glanz_frame *frame, uint8_t which) {
    struct glanz_letter *letters = text->letters + (which != 0 ? text->capacity : 0);
    struct block *block = &text->block[which];
    uint16_t first = 0;
    block->width = 0;
    block->total = 0;
    for (uint8_t i = 0; i < text->lines; i++) {
        struct line *line = &block->line[i];
        line->first = first;
        line->count =
            glanz_writing_set(letters + first, (uint16_t)(text->capacity - first), NULL, writing_of(frame), i, frame->world);
        line->width = letters[first + line->count].at;
        block->width = line->width > block->width ? line->width : block->width;
        block->total = (uint16_t)(block->total + line->width);
        first = (uint16_t)(first + line->count + 1u);
    }
}

/* The text, set: its first pass hangs on how long it is. NULL without memory. */
static struct text *text_of(const struct glanz_frame *frame) {
    struct text *text = (struct text *)frame->memory;
    if (text != NULL && !text->ready) {
        text->capacity = glanz_writing_capacity(writing_of(frame));
        text->lines = glanz_writing_lines(writing_of(frame));
        text->version = frame->world->version;
        set_block(text, frame, 0);
        text->ready = 1;
    }
    return text;
}

static struct travel travel_of(const struct glanz_frame *frame, uint16_t width, uint8_t lines) {
    struct travel travel;
    uint8_t upright = is_upright(frame);
    travel.extent = upright ? rows_of(frame, lines) : width;
    travel.field = upright ? frame->rows : frame->length;
    travel.backward = frame->number[GLANZ_TEXT_WAY] == WAY_RIGHT || frame->number[GLANZ_TEXT_WAY] == WAY_DOWN;
    travel.again = (uint8_t)frame->number[GLANZ_TEXT_AGAIN];
    travel.closed = !upright && frame->closed;
    return travel;
}

/* Letter by letter: in over all of its columns, there for a field's length, and out again. */
static uint32_t letters_pass(const struct glanz_frame *frame, uint16_t total) {
    return frame->number[GLANZ_TEXT_AGAIN] == AGAIN_ONCE ? (uint32_t)total + 1u : 2u * total + frame->length;
}

static glanz_place pass(const struct glanz_frame *frame) {
    const struct text *text = text_of(frame);
    const struct block *block = text == NULL ? NULL : &text->block[text->is];
    if (frame->number[GLANZ_TEXT_WAY] == WAY_LETTERS) {
        uint32_t points = letters_pass(frame, block == NULL ? 0 : block->total);
        return (glanz_place)(points > 32767u ? 32767u : points) * GLANZ_STEP;
    }
    struct travel travel = travel_of(frame, block == NULL ? 0 : block->width, text == NULL ? 1 : text->lines);
    return glanz_travel_pass(&travel);
}

/* Keeps up to which column letters have come, and up to which they have gone, 16.16. */
static void find_edges(struct glanz_frame *frame, uint16_t total) {
    glanz_place all = (glanz_place)total * GLANZ_STEP;
    glanz_place at = (glanz_place)glanz_mul32_high(frame->turn[0], (uint32_t)pass(frame));
    glanz_place behind = at - all - (glanz_place)frame->length * GLANZ_STEP; /* since it began to go */
    uint8_t again = (uint8_t)frame->number[GLANZ_TEXT_AGAIN];
    frame->kept[3] = again == AGAIN_ONCE && frame->lap[0] != 0 ? all + GLANZ_STEP : at;
    frame->kept[4] = again == AGAIN_ONCE || behind < 0 ? 0 : behind;
    if (again == AGAIN_BOUNCE && behind > 0) { /* out the way it came */
        frame->kept[3] = all - behind;
        frame->kept[4] = 0;
    }
}

/* Where lines lie that do not move sideways, as a share of the room. */
static int32_t sideways_of(const struct glanz_frame *frame) {
    GLANZ_CONST struct glanz_writing *writing = writing_of(frame);
    return writing == NULL || writing->sideways == 0 ? 32768
           : writing->sideways == 1                  ? 0
                                                     : writing->sideways + (writing->sideways >> 15);
}

/* Keeps where the block's first column and top row are. */
static uint8_t step(struct glanz_frame *frame) {
    struct text *text = text_of(frame);
    uint8_t standing = is_standing(frame);
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
        set_block(text, frame, !text->is);
        text->late = 1;
    }
    uint8_t same = text->block[0].width == text->block[1].width && text->block[0].total == text->block[1].total;
    if (text->late && (same || standing || is_upright(frame) || text->lap != (uint16_t)frame->lap[0])) {
        text->is = !text->is;
        text->late = 0;
        anew = !same;
        other = 1;
    }
    text->lap = (uint16_t)frame->lap[0];
    const struct block *block = &text->block[text->is];
    uint16_t width = block->width;
    uint16_t rows = rows_of(frame, text->lines);
    struct travel travel = travel_of(frame, width, text->lines);
    frame->kept[0] = width > frame->length ? 0 : glanz_travel_rest(width, frame->length, sideways_of(frame));
    frame->kept[1] = glanz_travel_rest(rows, frame->rows, frame->number[GLANZ_TEXT_LEVEL]);
    if (!standing && travel.again == AGAIN_ONCE && frame->lap[0] != 0) {
        frame->kept[1] = -(glanz_place)rows * GLANZ_STEP - 2 * GLANZ_STEP; /* it has been */
    } else if (!standing) {
        frame->kept[is_upright(frame) ? 1 : 0] = glanz_travel_place(&travel, frame);
    } else if (frame->number[GLANZ_TEXT_WAY] == WAY_LETTERS) {
        find_edges(frame, block->total);
        standing = travel.again == AGAIN_ONCE && frame->lap[0] != 0;
    }
    frame->kept[2] = travel.closed && !standing && travel.again == AGAIN_AGAIN && frame->number[GLANZ_TEXT_WAY] != WAY_LETTERS
                         ? (int32_t)(glanz_travel_pass(&travel) / GLANZ_STEP)
                         : 0;
    uint8_t moves = other || anew || (!standing && frame->number[GLANZ_TEXT_SPEED] != 0);
    return (uint8_t)((moves ? GLANZ_STEP_MOVES : 0) | (anew ? GLANZ_STEP_PASS : 0));
}

struct reader { /* of a block's bits, line by line */
    const struct glanz_frame *frame;
    const struct glanz_letter *all;     /* of the block */
    const struct glanz_letter *letters; /* of the line */
    const struct block *block;
    GLANZ_CONST struct glanz_font *font;
    int32_t shift;                /* columns before the line */
    uint16_t count, near, before; /* letters of the line; one of them; columns of the lines above */
    uint16_t rows;                /* of all lines */
    uint8_t line, lines, typed;
};

static void take_line(struct reader *reader, uint8_t which) {
    const struct line *line = &reader->block->line[which];
    reader->line = which;
    reader->letters = reader->all + line->first;
    reader->count = line->count;
    reader->near = 0;
    reader->before = 0;
    for (uint8_t i = 0; i < which; i++) {
        reader->before = (uint16_t)(reader->before + reader->block->line[i].width);
    }
    reader->shift =
        reader->lines == 1 ? 0 : glanz_travel_rest(line->width, reader->block->width, sideways_of(reader->frame)) / GLANZ_STEP;
}

/* A bit of one of several lines. */
static uint8_t bit_at(struct reader *reader, int32_t column, int32_t row) {
    uint8_t line = 0;
    int32_t pitch = (int32_t)reader->font->rows + 1;
    while (row >= pitch && line + 1 < reader->lines) {
        row -= pitch;
        line++;
    }
    if (line != reader->line) {
        take_line(reader, line);
    }
    return glanz_writing_bit(reader->letters, reader->count, &reader->near, reader->font, column - reader->shift, row);
}

/* How much of a letter has come and not yet gone, 0 to 65536. */
static uint32_t letter_share(const struct reader *reader) {
    const struct glanz_letter *letter = &reader->letters[reader->near];
    glanz_place begin = (glanz_place)(reader->before + letter->at) * GLANZ_STEP;
    glanz_place end = (glanz_place)(reader->before + letter[1].at) * GLANZ_STEP;
    glanz_place come = reader->frame->kept[3];
    glanz_place gone = reader->frame->kept[4];
    uint32_t there = come <= begin ? 0 : come >= end ? 65536u : glanz_ratio((uint32_t)(come - begin), (uint32_t)(end - begin));
    uint32_t left = gone <= begin ? 65536u
                    : gone >= end ? 0
                                  : 65536u - glanz_ratio((uint32_t)(gone - begin), (uint32_t)(end - begin));
    return glanz_share_of(there, left);
}

/* How much of a LED the letters cover, 0 to 65536: four bits by how much of each lies under it. */
static uint32_t cover_at(struct reader *reader, glanz_place x, glanz_place y, int32_t period) {
    uint32_t edge_x = (uint32_t)(x - GLANZ_HALF) + 0x80000000u; /* floors alike everywhere */
    uint32_t edge_y = (uint32_t)(y - GLANZ_HALF) + 0x80000000u;
    int32_t column = (int32_t)(edge_x >> 16) - 32768;
    int32_t row = (int32_t)(edge_y >> 16) - 32768;
    uint32_t right = edge_x & 0xFFFFu;
    uint32_t below = edge_y & 0xFFFFu;
    uint32_t cover = 0;
    if (period == 0 && (column < -1 || column >= (int32_t)reader->block->width || row < -1 || row >= (int32_t)reader->rows)) {
        return 0; /* beside the lines */
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
        if (reader->lines > 1
                ? bit_at(reader, at, row + (i >> 1))
                : glanz_writing_bit(reader->letters, reader->count, &reader->near, reader->font, at, row + (i >> 1))) {
            uint32_t part = glanz_share_of(part_x, part_y);
            cover += reader->typed ? glanz_share_of(part, letter_share(reader)) : part;
        }
    }
    return cover;
}

/* Where in the palette the colour of a place lies. */
static uint16_t position_of(const struct glanz_frame *frame, const struct reader *reader, glanz_place x, glanz_place across) {
    uint32_t width = reader->block->width;
    switch (frame->number[GLANZ_TEXT_COLORED]) {
    case 1: return (uint16_t)(x <= 0 ? 0 : glanz_ratio((uint32_t)x, width << 16) * 65535u >> 16);
    case 2: /* by the golden section: neighbours differ */
        return (uint16_t)(((uint32_t)(reader->letters - reader->all) + reader->near) * 40503u);
    default: return (uint16_t)(glanz_ratio((uint32_t)across, (uint32_t)frame->length << 16) * 65535u >> 16);
    }
}

/* How much of a LED what is around the letters covers, where they do not. */
static uint32_t edge_at(struct reader *reader, uint8_t edge, glanz_place x, glanz_place y, int32_t period) {
    static const int8_t sides[4][2] = {{1, 0}, {-1, 0}, {0, 1}, {0, -1}};
    uint32_t most = 0;
    if (edge == GLANZ_EDGE_SHADOW) {
        return cover_at(reader, x - GLANZ_STEP, y - GLANZ_STEP, period);
    }
    for (uint8_t i = 0; i < 4 && most < 65536u; i++) {
        uint32_t cover = cover_at(reader, x + sides[i][0] * GLANZ_STEP, y + sides[i][1] * GLANZ_STEP, period);
        most = cover > most ? cover : most;
    }
    return most;
}

static void begin_reader(struct reader *reader, const struct glanz_frame *frame) {
    const struct text *text = (const struct text *)frame->memory;
    memset(reader, 0, sizeof *reader);
    reader->frame = frame;
    reader->font = font_of(frame);
    if (text != NULL && text->ready) {
        reader->all = text->letters + (text->is ? text->capacity : 0);
        reader->block = &text->block[text->is];
        reader->lines = text->lines;
        reader->rows = rows_of(frame, text->lines);
        reader->typed = frame->number[GLANZ_TEXT_WAY] == WAY_LETTERS;
        take_line(reader, 0);
    }
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    GLANZ_CONST struct glanz_writing *writing = writing_of(frame);
    uint8_t clear = frame->number[GLANZ_TEXT_CLEAR] != 0;
    uint8_t edge = writing == NULL ? (uint8_t)GLANZ_EDGE_NONE : writing->edge;
    struct glanz_light back = frame->color[GLANZ_TEXT_BACKGROUND];
    struct glanz_light color = frame->color[GLANZ_TEXT_COLOR];
    struct glanz_light none = {0, 0, 0};
    struct glanz_light around = edge != GLANZ_EDGE_NONE ? glanz_color_light(writing->edge_color, NULL, 0) : none;
    struct reader reader;
    begin_reader(&reader, frame);
    back = clear ? none : back;
    for (uint8_t i = 0; i < count; i++) {
        glanz_place x = places->x[i] - frame->kept[0];
        glanz_place y = places->y[i] - frame->kept[1];
        struct glanz_light lit = back;
        uint32_t part = 0;
        uint32_t beside = 0;
        if (reader.block != NULL) {
            beside = edge == GLANZ_EDGE_NONE ? 0 : edge_at(&reader, edge, x, y, frame->kept[2]);
            part = cover_at(&reader, x, y, frame->kept[2]);
        }
        if (beside != 0) {
            lit = glanz_light_mix(lit, around, beside);
        }
        if (part != 0 && frame->number[GLANZ_TEXT_COLORED] != 0) {
            color = glanz_gradient_at(frame->gradient, position_of(frame, &reader, x, places->x[i]));
        }
        light[i] = part == 0 ? lit : glanz_light_mix(lit, color, part);
        if (cover != NULL) {
            uint32_t all = beside == 0 ? part : 65536u - glanz_share_of(65536u - part, 65536u - beside);
            cover[i] = (uint16_t)(!clear || all > 65535u ? 65535u : all);
        }
    }
}

GLANZ_CONST struct glanz_effect glanz_effect_text = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("text"),
    .description =
        GLANZ_DESCRIPTION("lines of text, standing, moving or letter by letter; a pass takes it through the field once"),
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
