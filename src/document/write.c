/* SPDX-License-Identifier: MIT */
/* Rigs and shows as documents. Members that hold their default are left out, as they may be when read. */
#include <string.h>

#include "parts.h"

struct writer {
    glanz_sink sink;
    void *user;
    uint8_t depth;
    uint8_t flat;  /* inside an object on one line, so many levels */
    uint8_t empty; /* nothing written yet at this level */
};

static void put(struct writer *writer, const char *text) {
    writer->sink(text, strlen(text), writer->user);
}

static void put_string(struct writer *writer, const char *text) {
    static const char hex[] = "0123456789abcdef";
    put(writer, "\"");
    for (; *text != '\0'; text++) {
        char escaped[8] = "\\u00";
        if (*text == '"' || *text == '\\') {
            escaped[1] = *text;
            escaped[2] = '\0';
            put(writer, escaped);
        } else if ((uint8_t)*text < 0x20) {
            escaped[4] = hex[((uint8_t)*text >> 4) & 15];
            escaped[5] = hex[*text & 15];
            escaped[6] = '\0';
            put(writer, escaped);
        } else {
            writer->sink(text, 1, writer->user);
        }
    }
    put(writer, "\"");
}

static void next(struct writer *writer) { /* before each member or element */
    if (writer->flat) {
        put(writer, writer->empty ? " " : ", ");
    } else {
        put(writer, writer->empty ? "\n" : ",\n");
        for (uint8_t i = 0; i < writer->depth; i++) {
            put(writer, "  ");
        }
    }
    writer->empty = 0;
}

static void key(struct writer *writer, const char *name) {
    next(writer);
    put_string(writer, name);
    put(writer, ": ");
}

static void open(struct writer *writer, const char *bracket, int flat) {
    put(writer, bracket);
    writer->depth++;
    writer->flat = (uint8_t)(writer->flat + (writer->flat || flat));
    writer->empty = 1;
}

static void close(struct writer *writer, const char *bracket) {
    writer->depth--;
    if (writer->flat) {
        put(writer, writer->empty ? "" : " ");
        writer->flat--;
    } else if (!writer->empty) {
        put(writer, "\n");
        for (uint8_t i = 0; i < writer->depth; i++) {
            put(writer, "  ");
        }
    }
    writer->empty = 0;
    put(writer, bracket);
}

static void string_member(struct writer *writer, const char *name, const char *text) {
    key(writer, name);
    put_string(writer, text == NULL ? "" : text);
}

static void count_member(struct writer *writer, const char *name, uint32_t number) {
    char text[16];
    size_t at = sizeof text - 1;
    text[at] = '\0';
    do {
        text[--at] = (char)('0' + number % 10u);
        number /= 10u;
    } while (number != 0);
    key(writer, name);
    put(writer, text + at);
}

static void flag_member(struct writer *writer, const char *name, int flag) {
    key(writer, name);
    put(writer, flag ? "true" : "false");
}

static void quantity_member(struct writer *writer, const char *name, enum quantity kind, int64_t number, uint8_t unit) {
    char text[40];
    glanz_quantity_text(text, kind, number, unit);
    string_member(writer, name, text);
}

/* A level that stands for "not said" when it is 0, and for 0 when it is 1. */
static void level_member(struct writer *writer, const char *name, uint16_t level) {
    if (level != 0) {
        quantity_member(writer, name, QUANTITY_LIGHTNESS, level == 1 ? 0 : level, 0);
    }
}

static char *put_digits(char *at, uint32_t number, int least) {
    char reversed[10];
    int count = 0;
    do {
        reversed[count++] = (char)('0' + number % 10u);
        number /= 10u;
    } while (number != 0 || count < least);
    while (count > 0) {
        *at++ = reversed[--count];
    }
    *at = '\0';
    return at;
}

static void degrees_member(struct writer *writer, const char *name, int32_t degrees, const char *ways) {
    char text[24];
    uint32_t size = (uint32_t)(degrees < 0 ? -degrees : degrees);
    char *at = put_digits(text, size / 10000u, 1);
    *at++ = '.';
    at = put_digits(at, size % 10000u, 4);
    at[0] = ' ';
    at[1] = ways[degrees < 0];
    at[2] = '\0';
    string_member(writer, name, text);
}

static void moment_member(struct writer *writer, const char *name, GLANZ_CONST struct glanz_moment *moment) {
    char text[40];
    char *at = text;
    if (moment->kind == GLANZ_MOMENT_CLOCK) {
        at = put_digits(at, (uint32_t)moment->second / 3600u, 2);
        *at++ = ':';
        at = put_digits(at, (uint32_t)moment->second / 60u % 60u, 2);
        if (moment->second % 60 != 0) {
            *at++ = ':';
            put_digits(at, (uint32_t)moment->second % 60u, 2);
        }
    } else {
        uint32_t size = (uint32_t)(moment->second < 0 ? -moment->second : moment->second);
        strcpy(text, moment->kind == GLANZ_MOMENT_SUNRISE ? "sunrise" : "sunset");
        if (size != 0) {
            at += strlen(text);
            strcpy(at, moment->second < 0 ? " - " : " + ");
            at = put_digits(at + 3, size % 60u != 0 ? size : size % 3600u != 0 ? size / 60u : size / 3600u, 1);
            strcpy(at, size % 60u != 0 ? " s" : size % 3600u != 0 ? " min" : " h");
        }
    }
    string_member(writer, name, text);
}

static void day_member(struct writer *writer, const char *name, GLANZ_CONST struct glanz_day *day) {
    char text[16];
    char *at = text;
    if (day->year != 0) {
        at = put_digits(at, day->year, 4);
        *at++ = '-';
    }
    at = put_digits(at, day->month, 2);
    *at++ = '-';
    put_digits(at, day->day, 2);
    string_member(writer, name, text);
}

/* ---- rig ---- */

static const char *const channel_names[] = {"red", "green", "blue", "white"};

static void write_trim(struct writer *writer, GLANZ_CONST uint16_t *trim) {
    if (trim[0] == 0 && trim[1] == 0 && trim[2] == 0 && trim[3] == 0) {
        return;
    }
    if (trim[0] == trim[1] && trim[0] == trim[2] && trim[0] == trim[3]) {
        quantity_member(writer, "trim", QUANTITY_LIGHTNESS, trim[0], 0);
        return;
    }
    key(writer, "trim");
    open(writer, "{", 1);
    for (uint8_t c = 0; c < 4; c++) {
        if (trim[c] != 0) {
            quantity_member(writer, channel_names[c], QUANTITY_LIGHTNESS, trim[c], 0);
        }
    }
    close(writer, "}");
}

static void write_stretch(struct writer *writer, GLANZ_CONST struct glanz_stretch *stretch) {
    static const char letters[] = "RGBW";
    next(writer);
    open(writer, "{", 1);
    string_member(writer, "chip", stretch->chip->name);
    count_member(writer, "leds", stretch->leds);
    if (stretch->order != GLANZ_ORDER_CHIP) {
        char order[5] = "";
        for (uint8_t i = 0; i < stretch->chip->channels; i++) {
            order[i] = letters[glanz_order_channel(stretch->order, i)];
        }
        string_member(writer, "order", order);
    }
    if (stretch->parallel > 1) {
        count_member(writer, "parallel", stretch->parallel);
    }
    if (stretch->white_kelvin != 0) {
        quantity_member(writer, "white", QUANTITY_KELVIN, stretch->white_kelvin, 0);
    }
    write_trim(writer, stretch->trim);
    uint8_t own = stretch->channel_ua[0] != 0 || stretch->channel_ua[1] != 0 || stretch->channel_ua[2] != 0 ||
                  stretch->channel_ua[3] != 0;
    if (own || stretch->idle_ua != 0) {
        key(writer, "current");
        open(writer, "{", 1);
        for (uint8_t c = 0; c < 4; c++) {
            if (stretch->channel_ua[c] != 0) {
                quantity_member(writer, channel_names[c], QUANTITY_SMALL_CURRENT, stretch->channel_ua[c], 0);
            }
        }
        if (stretch->idle_ua != 0) {
            quantity_member(writer, "idle", QUANTITY_SMALL_CURRENT, stretch->idle_ua, 0);
        }
        close(writer, "}");
    }
    close(writer, "}");
}

static void write_output(struct writer *writer, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_output *output) {
    key(writer, output->name);
    open(writer, "{", 0);
    count_member(writer, "pin", output->pin);
    if (output->stretches[0].chip->protocol == GLANZ_CLOCKED) {
        count_member(writer, "clock pin", output->clock_pin);
    }
    string_member(writer, "supply", rig->supplies[output->supply].name);
    if (output->buffers > 1) {
        count_member(writer, "buffers", output->buffers);
    }
    if (output->equal) {
        flag_member(writer, "equal leds", 1);
    }
    if (output->faint_dark) {
        string_member(writer, "faint levels", "dark");
    }
    write_trim(writer, output->trim);
    key(writer, "line");
    open(writer, "[", 0);
    for (uint8_t i = 0; i < output->stretch_count; i++) {
        write_stretch(writer, &output->stretches[i]);
    }
    close(writer, "]");
    close(writer, "}");
}

static void write_piece(struct writer *writer, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_piece *piece,
                        uint8_t with_leds) {
    string_member(writer, "output", rig->outputs[piece->output].name);
    count_member(writer, "first", piece->first);
    if (with_leds) {
        count_member(writer, "leds", piece->leds);
    }
    if (piece->reversed) {
        flag_member(writer, "reversed", 1);
    }
}

static void write_panel(struct writer *writer, GLANZ_CONST struct glanz_panel *panel) {
    if (panel->name != NULL) {
        string_member(writer, "name", panel->name);
    }
    count_member(writer, "columns", panel->columns);
    count_member(writer, "rows", panel->rows);
    string_member(writer, "first led", glanz_document_corners[panel->wiring & 3]);
    string_member(writer, "along", glanz_document_alongs[(panel->wiring & GLANZ_BY_COLUMNS) != 0]);
    if ((panel->wiring & GLANZ_ZIGZAG) != 0) {
        flag_member(writer, "zigzag", 1);
    }
    if (panel->turned != 0) {
        string_member(writer, "turned", glanz_document_turns[panel->turned]);
    }
    if (panel->mirrored) {
        flag_member(writer, "mirrored", 1);
    }
    if (panel->left != 0) {
        count_member(writer, "left", panel->left);
    }
    if (panel->top != 0) {
        count_member(writer, "top", panel->top);
    }
}

static void write_circle(struct writer *writer, GLANZ_CONST struct glanz_circle *circle) {
    if (circle->name != NULL) {
        string_member(writer, "name", circle->name);
    }
    if (circle->radius != 0) {
        quantity_member(writer, "radius", QUANTITY_LENGTH, circle->radius * 1024, GLANZ_UNIT_LEDS);
    }
    if (circle->start != 0) {
        quantity_member(writer, "start", QUANTITY_ANGLE, circle->start, 0);
    }
    if (circle->backward) {
        flag_member(writer, "counterclockwise", 1);
    }
}

/* 64ths of a step as a place counted from 0, in decimals. */
static void put_coordinate(struct writer *writer, uint16_t at) {
    char text[32];
    uint32_t from = at < 32 ? 0 : at - 32u;
    glanz_quantity_text(text, QUANTITY_LENGTH, (int64_t)from * 1024, GLANZ_UNIT_LEDS);
    *strchr(text, ' ') = '\0';
    next(writer);
    put(writer, text);
}

static void write_places(struct writer *writer, GLANZ_CONST struct glanz_surface *surface) {
    uint16_t leds = glanz_surface_leds(surface);
    key(writer, "places");
    open(writer, "[", 0);
    for (uint16_t i = 0; i < leds; i++) {
        next(writer);
        open(writer, "[", 1);
        put_coordinate(writer, surface->points[i].x);
        put_coordinate(writer, surface->points[i].y);
        close(writer, "]");
    }
    close(writer, "]");
}

static void write_surface(struct writer *writer, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_surface *surface) {
    static const char *const kinds[] = {"strip", "ring", "grid", "rings", "points"};
    key(writer, surface->name);
    open(writer, "{", 0);
    key(writer, kinds[surface->kind]);
    open(writer, "[", 0);
    for (uint8_t i = 0; i < surface->piece_count; i++) {
        next(writer);
        open(writer, "{", 1);
        write_piece(writer, rig, &surface->pieces[i], surface->kind != GLANZ_SURFACE_GRID);
        if (surface->kind == GLANZ_SURFACE_GRID) {
            write_panel(writer, &surface->panels[i]);
        } else if (surface->kind == GLANZ_SURFACE_RINGS && surface->circles != NULL) {
            write_circle(writer, &surface->circles[i]);
        }
        close(writer, "}");
    }
    close(writer, "]");
    if (surface->kind == GLANZ_SURFACE_POINTS) {
        write_places(writer, surface);
    }
    if (surface->columns != 0) {
        count_member(writer, "columns", surface->columns);
    }
    if (surface->rows != 0) {
        count_member(writer, "rows", surface->rows);
    }
    if (surface->joined) {
        flag_member(writer, "joined", 1);
    }
    close(writer, "}");
}

static void write_input(struct writer *writer, GLANZ_CONST struct glanz_input *input) {
    key(writer, input->name);
    open(writer, "{", 1);
    key(writer, input->kind == GLANZ_INPUT_BUTTON ? "button" : "value");
    open(writer, "{", 1);
    count_member(writer, "pin", input->pin);
    if (input->kind == GLANZ_INPUT_BUTTON) {
        string_member(writer, "pressed", input->pressed_low ? "low" : "high");
        if (input->settle_ms != 0) {
            quantity_member(writer, "settle", QUANTITY_TIME, input->settle_ms, 0);
        }
        if (input->twice_ms != 0) {
            quantity_member(writer, "twice within", QUANTITY_TIME, input->twice_ms, 0);
        }
        if (input->held_ms != 0) {
            quantity_member(writer, "held after", QUANTITY_TIME, input->held_ms, 0);
        }
    }
    close(writer, "}");
    close(writer, "}");
}

glanz_status glanz_rig_write(GLANZ_CONST struct glanz_rig *rig, glanz_sink sink, void *user) {
    if (sink == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_status status = glanz_rig_check(rig, NULL);
    if (status != GLANZ_OK) {
        return status;
    }
    struct writer writing = {sink, user, 0, 0, 1};
    struct writer *writer = &writing;
    open(writer, "{", 0);
    string_member(writer, "rig", rig->name);
    if (rig->frames_per_s != 0) {
        quantity_member(writer, "frames", QUANTITY_FRAMES, rig->frames_per_s, 0);
    }
    if (rig->free_dither) {
        string_member(writer, "lowest blink", "none");
    } else if (rig->lowest_hz != 0) {
        quantity_member(writer, "lowest blink", QUANTITY_HERTZ, rig->lowest_hz, 0);
    }
    if (rig->refresh_ms != 0) {
        quantity_member(writer, "refresh", QUANTITY_TIME, rig->refresh_ms, 0);
    }
    if (rig->placed) {
        key(writer, "place");
        open(writer, "{", 1);
        degrees_member(writer, "latitude", rig->latitude, "NS");
        degrees_member(writer, "longitude", rig->longitude, "EW");
        close(writer, "}");
    }
    if (rig->zone != NULL) {
        string_member(writer, "zone", rig->zone);
    }
    key(writer, "supplies");
    open(writer, "{", 0);
    for (uint8_t i = 0; i < rig->supply_count; i++) {
        key(writer, rig->supplies[i].name);
        open(writer, "{", 1);
        quantity_member(writer, "volts", QUANTITY_VOLTAGE, rig->supplies[i].millivolts, 0);
        if (rig->supplies[i].limit_ma != 0) {
            quantity_member(writer, "limit", QUANTITY_CURRENT, rig->supplies[i].limit_ma, 0);
        }
        close(writer, "}");
    }
    close(writer, "}");
    key(writer, "outputs");
    open(writer, "{", 0);
    for (uint8_t i = 0; i < rig->output_count; i++) {
        write_output(writer, rig, &rig->outputs[i]);
    }
    close(writer, "}");
    key(writer, "surfaces");
    open(writer, "{", 0);
    for (uint8_t i = 0; i < rig->surface_count; i++) {
        write_surface(writer, rig, &rig->surfaces[i]);
    }
    close(writer, "}");
    if (rig->input_count != 0) {
        key(writer, "inputs");
        open(writer, "{", 0);
        for (uint8_t i = 0; i < rig->input_count; i++) {
            write_input(writer, &rig->inputs[i]);
        }
        close(writer, "}");
    }
    close(writer, "}");
    put(writer, "\n");
    return GLANZ_OK;
}

/* ---- show ---- */

static void color_member(struct writer *writer, const char *name, GLANZ_CONST struct glanz_show *show, glanz_color color) {
    char text[40];
    if ((color >> 24) == 3 && (color & 0xFFFFu) < show->color_count) {
        string_member(writer, name, show->colors[color & 0xFFFFu].name);
        return;
    }
    glanz_color_text(text, color);
    string_member(writer, name, text);
}

static void write_palette(struct writer *writer, GLANZ_CONST struct glanz_show *show,
                          GLANZ_CONST struct glanz_show_palette *palette) {
    key(writer, palette->name);
    open(writer, "{", 0);
    key(writer, "stops");
    open(writer, "[", 0);
    for (uint8_t i = 0; i < palette->chosen_count; i++) {
        next(writer);
        open(writer, "{", 1);
        quantity_member(writer, "at", QUANTITY_LIGHTNESS, palette->chosen[i].at, 0);
        color_member(writer, "color", show, palette->chosen[i].color);
        close(writer, "}");
    }
    close(writer, "]");
    string_member(writer, "between", glanz_document_betweens[palette->between]);
    close(writer, "}");
}

static void write_blocks(struct writer *writer, GLANZ_CONST struct glanz_pattern *pattern) {
    char text[40];
    if (pattern->text != NULL) {
        string_member(writer, "blocks", pattern->text);
        return;
    }
    key(writer, "blocks");
    put(writer, "\"");
    for (uint16_t i = 0; i < pattern->count; i++) {
        glanz_quantity_text(text, QUANTITY_HERTZ, pattern->blocks[i].leds, 0);
        *strchr(text, ' ') = '\0';
        put(writer, i == 0 ? "" : ", ");
        put(writer, text);
        put(writer, " ");
        glanz_color_text(text, pattern->blocks[i].color);
        put(writer, text);
    }
    put(writer, "\"");
}

static void write_writing(struct writer *writer, GLANZ_CONST struct glanz_writing *writing) {
    string_member(writer, "text", writing->text);
    if (writing->font != NULL) {
        string_member(writer, "font", writing->font->name);
    }
}

static void write_marks(struct writer *writer, GLANZ_CONST struct glanz_marks *marks) {
    char text[40];
    key(writer, "marks");
    open(writer, "[", 0);
    for (uint16_t i = 0; i < marks->count; i++) {
        GLANZ_CONST struct glanz_mark *mark = &marks->list[i];
        next(writer);
        open(writer, "{", 1);
        count_member(writer, mark->placed ? "left" : "first", mark->placed ? mark->left : mark->first);
        if (mark->placed) {
            count_member(writer, "top", mark->top);
            count_member(writer, "columns", mark->columns);
            count_member(writer, "rows", mark->rows);
        } else {
            count_member(writer, "leds", mark->leds);
        }
        glanz_color_text(text, mark->color);
        string_member(writer, "color", text);
        close(writer, "}");
    }
    close(writer, "]");
}

static void write_content(struct writer *writer, GLANZ_CONST struct glanz_look *look) {
    GLANZ_CONST void *content = look->content;
    switch (look->effect->content) {
    case GLANZ_CONTENT_PATTERN: write_blocks(writer, (GLANZ_CONST struct glanz_pattern *)content); break;
    case GLANZ_CONTENT_WRITING: write_writing(writer, (GLANZ_CONST struct glanz_writing *)content); break;
    case GLANZ_CONTENT_PICTURE: string_member(writer, "picture", ((GLANZ_CONST struct glanz_picture *)content)->name); break;
    case GLANZ_CONTENT_MARKS: write_marks(writer, (GLANZ_CONST struct glanz_marks *)content); break;
    default: break;
    }
}

static void write_picture(struct writer *writer, GLANZ_CONST struct glanz_picture *picture) {
    static const char digits[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/"; /* RFC 4648 */
    key(writer, picture->name);
    open(writer, "{", 1);
    key(writer, "data");
    put(writer, "\"");
    for (uint32_t i = 0; i < picture->count; i += 3) {
        uint32_t left = picture->count - i;
        uint32_t three = (uint32_t)picture->bytes[i] << 16 | (left > 1 ? (uint32_t)picture->bytes[i + 1] << 8 : 0) |
                         (left > 2 ? picture->bytes[i + 2] : 0u);
        char text[5] = {digits[three >> 18], digits[three >> 12 & 63u], left > 1 ? digits[three >> 6 & 63u] : '=',
                        left > 2 ? digits[three & 63u] : '=', '\0'};
        put(writer, text);
    }
    put(writer, "\"");
    close(writer, "}");
}

static void write_setting(struct writer *writer, GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_effect *effect,
                          GLANZ_CONST struct glanz_setting *setting) {
    GLANZ_CONST struct glanz_param *param = &effect->params[setting->param];
    uint8_t unit = setting->unit == GLANZ_UNIT_NONE ? param->unit : setting->unit;
    switch (param->kind) {
    case GLANZ_PARAM_COLOR: color_member(writer, param->name, show, (glanz_color)setting->number); break;
    case GLANZ_PARAM_LENGTH: quantity_member(writer, param->name, QUANTITY_LENGTH, setting->number, unit); break;
    case GLANZ_PARAM_RATE: quantity_member(writer, param->name, QUANTITY_RATE, setting->number, unit); break;
    case GLANZ_PARAM_SHARE: quantity_member(writer, param->name, QUANTITY_SHARE, setting->number, 0); break;
    case GLANZ_PARAM_COUNT: count_member(writer, param->name, (uint32_t)setting->number); break;
    case GLANZ_PARAM_FLAG: flag_member(writer, param->name, setting->number); break;
    default: string_member(writer, param->name, param->choices[setting->number]); break;
    }
}

static void write_look(struct writer *writer, GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_look *look) {
    key(writer, look->name);
    open(writer, "{", 1);
    string_member(writer, "effect", look->effect->name);
    for (uint8_t i = 0; i < show->palette_count; i++) {
        if (look->gradient != NULL && show->palettes[i].gradient == look->gradient) {
            string_member(writer, "palette", show->palettes[i].name);
        }
    }
    if (look->content != NULL) {
        write_content(writer, look);
    }
    for (uint8_t i = 0; i < look->setting_count; i++) {
        write_setting(writer, show, look->effect, &look->settings[i]);
    }
    level_member(writer, "brightness", look->brightness);
    close(writer, "}");
}

static void write_stencil(struct writer *writer, GLANZ_CONST uint8_t *stencil) {
    char text[40];
    key(writer, "stencil");
    put(writer, "\"");
    for (uint8_t i = 0; i < GLANZ_STENCIL && stencil[i] != 0; i++) {
        glanz_quantity_text(text, QUANTITY_HERTZ, stencil[i], 0);
        *strchr(text, ' ') = '\0';
        put(writer, i == 0 ? "" : ", ");
        put(writer, i % 2 == 0 ? "take " : "leave ");
        put(writer, text);
    }
    put(writer, "\"");
}

/* How effects lie, and the rectangle or part taken. */
static void write_cut(struct writer *writer, GLANZ_CONST struct glanz_cut *cut, GLANZ_CONST struct glanz_surface *surface) {
    if (cut->lie != GLANZ_LIE_OWN) {
        string_member(writer, "lies", glanz_document_lies[cut->lie]);
    }
    if (cut->turned != 0) {
        string_member(writer, "turned", glanz_document_turns[cut->turned]);
    }
    if (cut->piece != 0) {
        string_member(writer, "part",
                      surface->panels != NULL ? surface->panels[cut->piece - 1].name : surface->circles[cut->piece - 1].name);
    }
    if (cut->columns != 0) {
        count_member(writer, "left", cut->left);
        count_member(writer, "top", cut->top);
        count_member(writer, "columns", cut->columns);
        count_member(writer, "rows", cut->rows);
    }
}

static void write_segment(struct writer *writer, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_segment *segment) {
    key(writer, segment->name);
    open(writer, "{", 1);
    string_member(writer, "surface", rig->surfaces[segment->surface].name);
    if (segment->cut.first != 0) {
        count_member(writer, "first", segment->cut.first);
    }
    if (segment->cut.leds != 0) {
        count_member(writer, "leds", segment->cut.leds);
    }
    if (segment->cut.grain > 1) {
        count_member(writer, "grain", segment->cut.grain);
    }
    if (segment->cut.stencil[0] != 0) {
        write_stencil(writer, segment->cut.stencil);
    }
    if (segment->cut.reversed) {
        flag_member(writer, "reversed", 1);
    }
    if (segment->cut.mirrored) {
        flag_member(writer, "mirrored", 1);
    }
    write_cut(writer, &segment->cut, &rig->surfaces[segment->surface]);
    if (segment->blend != GLANZ_BLEND_COVER) {
        string_member(writer, "blend", glanz_document_blends[segment->blend]);
    }
    level_member(writer, "opacity", segment->opacity);
    level_member(writer, "brightness", segment->brightness);
    if (segment->off) {
        flag_member(writer, "on", 0);
    }
    if (segment->look != NULL) {
        string_member(writer, "look", segment->look->name);
    }
    close(writer, "}");
}

static void write_preset(struct writer *writer, GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_preset *preset) {
    key(writer, preset->name);
    open(writer, "{", 1);
    for (uint8_t i = 0; i < preset->part_count; i++) {
        GLANZ_CONST struct glanz_part *part = &preset->parts[i];
        key(writer, show->segments[part->segment].name);
        if (part->aspects == GLANZ_ASPECT_LOOK) {
            put_string(writer, part->look->name);
            continue;
        }
        open(writer, "{", 1);
        if ((part->aspects & GLANZ_ASPECT_LOOK) != 0) {
            string_member(writer, "look", part->look->name);
        }
        for (uint8_t k = 0; (part->aspects & GLANZ_ASPECT_PALETTE) != 0 && k < show->palette_count; k++) {
            if (show->palettes[k].gradient == part->gradient) {
                string_member(writer, "palette", show->palettes[k].name);
            }
        }
        if ((part->aspects & GLANZ_ASPECT_ON) != 0) {
            flag_member(writer, "on", part->on);
        }
        if ((part->aspects & GLANZ_ASPECT_BRIGHTNESS) != 0) {
            quantity_member(writer, "brightness", QUANTITY_LIGHTNESS, part->brightness, 0);
        }
        close(writer, "}");
    }
    close(writer, "}");
}

static void write_playlist(struct writer *writer, GLANZ_CONST struct glanz_show *show,
                           GLANZ_CONST struct glanz_playlist *playlist) {
    key(writer, playlist->name);
    open(writer, "{", 0);
    key(writer, "items");
    open(writer, "[", 0);
    for (uint8_t i = 0; i < playlist->item_count; i++) {
        next(writer);
        open(writer, "{", 1);
        GLANZ_CONST struct glanz_item *item = &playlist->items[i];
        if (playlist->timed) {
            quantity_member(writer, "at", QUANTITY_TIME, item->at_ms, 0);
        }
        if (item->kind == GLANZ_ITEM_DARK) {
            flag_member(writer, "dark", 1);
        } else if (item->kind == GLANZ_ITEM_PLAYLIST) {
            string_member(writer, "playlist", show->playlists[item->preset].name);
        } else {
            string_member(writer, "preset", show->presets[item->preset].name);
        }
        if ((item->kind != GLANZ_ITEM_PLAYLIST || item->hold_ms != 0) && (!playlist->timed || i + 1 == playlist->item_count)) {
            quantity_member(writer, "hold", QUANTITY_TIME, item->hold_ms, 0);
        }
        if (item->fade_ms != 0) {
            quantity_member(writer, "fade", QUANTITY_TIME, item->fade_ms, 0);
        }
        close(writer, "}");
    }
    close(writer, "]");
    if (playlist->rounds != 0) {
        count_member(writer, "rounds", playlist->rounds);
    }
    if (playlist->shuffled) {
        flag_member(writer, "shuffled", 1);
    }
    if (playlist->then == GLANZ_THEN_PRESET) {
        key(writer, "then");
        open(writer, "{", 1);
        string_member(writer, "preset", show->presets[playlist->then_preset].name);
        close(writer, "}");
    } else if (playlist->then != GLANZ_THEN_STAY) {
        string_member(writer, "then", glanz_document_thens[playlist->then]);
    }
    if (playlist->then_fade_ms != 0) {
        quantity_member(writer, "then fade", QUANTITY_TIME, playlist->then_fade_ms, 0);
    }
    close(writer, "}");
}

static void write_entry(struct writer *writer, GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_entry *entry) {
    key(writer, entry->name);
    open(writer, "{", 1);
    string_member(writer, entry->is_playlist ? "playlist" : "preset",
                  entry->is_playlist ? show->playlists[entry->target].name : show->presets[entry->target].name);
    moment_member(writer, "at", &entry->at);
    if (entry->until.kind != GLANZ_MOMENT_NONE) {
        moment_member(writer, "until", &entry->until);
    }
    if (entry->for_s != 0) {
        quantity_member(writer, "for", QUANTITY_TIME, (int64_t)entry->for_s * 1000, 0);
    }
    if (entry->every_s != 0) {
        quantity_member(writer, "every", QUANTITY_TIME, (int64_t)entry->every_s * 1000, 0);
    }
    if (entry->weekdays != 0) {
        key(writer, "days");
        open(writer, "[", 1);
        for (uint8_t i = 0; i < 7; i++) {
            if ((entry->weekdays >> i & 1u) != 0) {
                next(writer);
                put_string(writer, glanz_document_days[i]);
            }
        }
        close(writer, "]");
    }
    if (entry->from.month != 0) {
        day_member(writer, "from", &entry->from);
        day_member(writer, "to", &entry->to);
    }
    if (entry->fade_ms != GLANZ_OWN_TIME) {
        quantity_member(writer, "fade", QUANTITY_TIME, entry->fade_ms, 0);
    }
    if (entry->priority != 0) {
        count_member(writer, "priority", entry->priority);
    }
    close(writer, "}");
}

static void write_aspects(struct writer *writer, uint16_t aspects) {
    key(writer, "aspects");
    open(writer, "[", 1);
    for (uint8_t i = 0; i < 4; i++) {
        if ((aspects >> i & 1u) != 0) {
            next(writer);
            put_string(writer, glanz_document_aspects[i]);
        }
    }
    close(writer, "]");
}

static void write_action(struct writer *writer, GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_action *action) {
    GLANZ_CONST struct glanz_action_kind *kind = action->kind;
    uint8_t with = kind->needs | kind->may;
    open(writer, "{", 1);
    switch (kind->value) {
    case GLANZ_VALUE_PRESET: string_member(writer, kind->key, show->presets[action->target].name); break;
    case GLANZ_VALUE_PLAYLIST: string_member(writer, kind->key, show->playlists[action->target].name); break;
    case GLANZ_VALUE_SEGMENT: string_member(writer, kind->key, show->segments[action->target].name); break;
    case GLANZ_VALUE_LIGHTNESS: quantity_member(writer, kind->key, QUANTITY_LIGHTNESS, action->number, 0); break;
    case GLANZ_VALUE_LOOK: string_member(writer, kind->key, action->look->name); break;
    case GLANZ_VALUE_TIME: quantity_member(writer, kind->key, QUANTITY_TIME, action->over_ms, 0); break;
    default: flag_member(writer, kind->key, 1); break;
    }
    if ((with & GLANZ_WITH_ON) != 0 && action->number == 2) {
        string_member(writer, "on", "other");
    } else if ((with & GLANZ_WITH_ON) != 0) {
        flag_member(writer, "on", action->number);
    }
    if ((with & GLANZ_WITH_ITEM) != 0) {
        count_member(writer, "item", action->number + 1u);
    }
    if ((with & GLANZ_WITH_ASPECTS) != 0) {
        write_aspects(writer, action->number);
    }
    if ((with & GLANZ_WITH_SEGMENT) != 0 && action->target != GLANZ_ALL) {
        string_member(writer, "segment", show->segments[action->target].name);
    }
    if ((with & GLANZ_WITH_OVER) != 0 && action->over_ms != GLANZ_OWN_TIME) {
        quantity_member(writer, "over", QUANTITY_TIME, action->over_ms, 0);
    }
    if ((with & GLANZ_WITH_AGAIN) != 0 && action->again) {
        flag_member(writer, "again", 1);
    }
    close(writer, "}");
}

static void write_trigger(struct writer *writer, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show,
                          GLANZ_CONST struct glanz_trigger *trigger) {
    key(writer, trigger->name);
    open(writer, "{", 0);
    key(writer, "when");
    open(writer, "{", 1);
    if (trigger->event >= GLANZ_EVENT_RISES) {
        string_member(writer, "value", rig->inputs[trigger->input].name);
        quantity_member(writer, trigger->event == GLANZ_EVENT_RISES ? "rises above" : "falls below", QUANTITY_LIGHTNESS,
                        trigger->level, 0);
    } else {
        string_member(writer, "button", rig->inputs[trigger->input].name);
        string_member(writer, "is", glanz_document_events[trigger->event]);
    }
    close(writer, "}");
    key(writer, "do");
    open(writer, "[", 0);
    for (uint8_t i = 0; i < trigger->action_count; i++) {
        next(writer);
        write_action(writer, show, &trigger->actions[i]);
    }
    close(writer, "]");
    close(writer, "}");
}

static void write_colors_and_palettes(struct writer *writer, GLANZ_CONST struct glanz_show *show) {
    if (show->color_count != 0) {
        key(writer, "colors");
        open(writer, "{", 0);
        for (uint16_t i = 0; i < show->color_count; i++) {
            color_member(writer, show->colors[i].name, show, show->colors[i].color);
        }
        close(writer, "}");
    }
    uint8_t own = 0;
    for (uint8_t i = 0; i < show->palette_count; i++) {
        own = (uint8_t)(own + (show->palettes[i].chosen != NULL));
    }
    if (own != 0) {
        key(writer, "palettes");
        open(writer, "{", 0);
        for (uint8_t i = 0; i < show->palette_count; i++) {
            if (show->palettes[i].chosen != NULL) {
                write_palette(writer, show, &show->palettes[i]);
            }
        }
        close(writer, "}");
    }
}

glanz_status glanz_show_write(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig, glanz_sink sink,
                              void *user) {
    if (sink == NULL || show == NULL || rig == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_status status = glanz_show_check(show, rig, NULL);
    if (status != GLANZ_OK) {
        return status;
    }
    struct writer writing = {sink, user, 0, 0, 1};
    struct writer *writer = &writing;
    open(writer, "{", 0);
    string_member(writer, "show", show->name);
    level_member(writer, "brightness", show->brightness);
    if (show->change_ms != 0) {
        quantity_member(writer, "change", QUANTITY_TIME, show->change_ms == GLANZ_OWN_TIME ? 0 : show->change_ms, 0);
    }
    write_colors_and_palettes(writer, show);
    if (show->picture_count != 0) {
        key(writer, "pictures");
        open(writer, "{", 0);
        for (uint8_t i = 0; i < show->picture_count; i++) {
            write_picture(writer, &show->pictures[i]);
        }
        close(writer, "}");
    }
    key(writer, "looks");
    open(writer, "{", 0);
    for (uint16_t i = 0; i < show->look_count; i++) {
        write_look(writer, show, &show->looks[i]);
    }
    close(writer, "}");
    key(writer, "segments");
    open(writer, "{", 0);
    for (uint8_t i = 0; i < show->segment_count; i++) {
        write_segment(writer, rig, &show->segments[i]);
    }
    close(writer, "}");
    if (show->stack != NULL) {
        key(writer, "stack");
        open(writer, "[", 1);
        for (uint8_t i = 0; i < show->segment_count; i++) {
            next(writer);
            put_string(writer, show->segments[show->stack[i]].name);
        }
        close(writer, "]");
    }
    if (show->preset_count != 0) {
        key(writer, "presets");
        open(writer, "{", 0);
        for (uint8_t i = 0; i < show->preset_count; i++) {
            write_preset(writer, show, &show->presets[i]);
        }
        close(writer, "}");
    }
    if (show->playlist_count != 0) {
        key(writer, "playlists");
        open(writer, "{", 0);
        for (uint8_t i = 0; i < show->playlist_count; i++) {
            write_playlist(writer, show, &show->playlists[i]);
        }
        close(writer, "}");
    }
    if (show->start != NULL) {
        key(writer, "start");
        write_action(writer, show, show->start);
    }
    if (show->resume) {
        flag_member(writer, "resume", 1);
    }
    if (show->trigger_count != 0) {
        key(writer, "triggers");
        open(writer, "{", 0);
        for (uint8_t i = 0; i < show->trigger_count; i++) {
            write_trigger(writer, rig, show, &show->triggers[i]);
        }
        close(writer, "}");
    }
    if (show->entry_count != 0) {
        key(writer, "calendar");
        open(writer, "{", 0);
        for (uint8_t i = 0; i < show->entry_count; i++) {
            write_entry(writer, show, &show->entries[i]);
        }
        close(writer, "}");
    }
    close(writer, "}");
    put(writer, "\n");
    return GLANZ_OK;
}
