/* SPDX-License-Identifier: MIT */
/* What rows leave to hooks when a rig or a show is written. */
#include <string.h>

#include "write.h"

/* ---- keys of a rig ---- */

static const char *const channel_names[] = {"red", "green", "blue", "white"};

static void write_degrees(struct writer *writer, const struct row *row, int32_t degrees) {
    char text[24];
    uint32_t size = (uint32_t)(degrees < 0 ? -degrees : degrees);
    char *at = glanz_write_digits(text, size / 10000u, 1);
    *at++ = '.';
    at = glanz_write_digits(at, size % 10000u, 4);
    at[0] = ' ';
    at[1] = (row->arg.low == 'N' ? "NS" : "EW")[degrees < 0];
    at[2] = '\0';
    glanz_write_key(writer, row->key);
    glanz_write_string(writer, text);
}

static void write_channels(struct writer *writer, enum quantity kind, const uint16_t *channels) {
    for (uint8_t c = 0; c < 4; c++) {
        if (channels[c] != 0) {
            glanz_write_key(writer, channel_names[c]);
            glanz_write_quantity(writer, kind, channels[c], 0);
        }
    }
}

static void write_trim(struct writer *writer, const uint16_t *trim) {
    if ((trim[0] | trim[1] | trim[2] | trim[3]) == 0) {
        return;
    }
    glanz_write_key(writer, "trim");
    if (trim[0] == trim[1] && trim[0] == trim[2] && trim[0] == trim[3]) {
        glanz_write_quantity(writer, QUANTITY_LIGHTNESS, trim[0], 0);
        return;
    }
    glanz_write_open(writer, "{", 1);
    write_channels(writer, QUANTITY_LIGHTNESS, trim);
    glanz_write_close(writer, "}");
}

static void write_words(struct writer *writer, const struct row *row, GLANZ_CONST char *words) {
    if (words != NULL) {
        glanz_write_key(writer, row->key);
        glanz_write_string(writer, words);
    }
}

static void write_own_trim(struct writer *writer, const struct glanz_stretch *stretch) {
    if (stretch->white_point == 0) {
        write_trim(writer, stretch->trim);
    }
}

static void write_current(struct writer *writer, const struct glanz_stretch *stretch) {
    const uint16_t *own = stretch->channel_ua;
    if ((own[0] | own[1] | own[2] | own[3] | stretch->idle_ua) == 0) {
        return;
    }
    glanz_write_key(writer, "current");
    glanz_write_open(writer, "{", 1);
    write_channels(writer, QUANTITY_SMALL_CURRENT, own);
    if (stretch->idle_ua != 0) {
        glanz_write_key(writer, "idle");
        glanz_write_quantity(writer, QUANTITY_SMALL_CURRENT, stretch->idle_ua, 0);
    }
    glanz_write_close(writer, "}");
}

static void write_order(struct writer *writer, const struct glanz_stretch *stretch) {
    char order[5] = "";
    for (uint8_t i = 0; i < stretch->chip->channels; i++) {
        order[i] = "RGBW"[glanz_order_channel(stretch->order, i)];
    }
    if (stretch->order != GLANZ_ORDER_CHIP) {
        glanz_write_key(writer, "order");
        glanz_write_string(writer, order);
    }
}

static void write_lowest_blink(struct writer *writer, const struct glanz_rig *rig) {
    if (rig->free_dither || rig->lowest_hz != 0) {
        glanz_write_key(writer, "lowest blink");
    }
    if (rig->free_dither) {
        glanz_write_string(writer, "none");
    } else if (rig->lowest_hz != 0) {
        glanz_write_quantity(writer, QUANTITY_HERTZ, rig->lowest_hz, 0);
    }
}

/* 64ths of a step as a place counted from 0, in decimals. */
static void write_coordinate(struct writer *writer, uint16_t at) {
    char text[32];
    uint32_t from = at < 32 ? 0 : at - 32u;
    glanz_quantity_text(text, QUANTITY_LENGTH, (int64_t)from * 1024, GLANZ_UNIT_LEDS);
    *strchr(text, ' ') = '\0';
    glanz_write_next(writer);
    glanz_write_put(writer, text);
}

static void write_places(struct writer *writer, const struct glanz_surface *surface) {
    uint16_t leds = glanz_surface_leds(surface);
    if (surface->kind != GLANZ_SURFACE_POINTS) {
        return;
    }
    glanz_write_key(writer, "places");
    glanz_write_open(writer, "[", 0);
    for (uint16_t i = 0; i < leds; i++) {
        glanz_write_next(writer);
        glanz_write_open(writer, "[", 1);
        write_coordinate(writer, surface->points[i].x);
        write_coordinate(writer, surface->points[i].y);
        glanz_write_close(writer, "]");
    }
    glanz_write_close(writer, "]");
}

/* ---- keys of a show ---- */

static void write_blocks(struct writer *writer, const struct glanz_pattern *pattern) {
    char text[40];
    glanz_write_key(writer, "blocks");
    if (pattern->text != NULL) {
        glanz_write_string(writer, pattern->text);
        return;
    }
    glanz_write_put(writer, "\"");
    for (uint16_t i = 0; i < pattern->count; i++) {
        glanz_write_put(writer, i == 0 ? "" : ", ");
        glanz_write_number(writer, pattern->blocks[i].leds);
        glanz_write_put(writer, " ");
        glanz_color_text(text, pattern->blocks[i].color);
        glanz_write_put(writer, text);
    }
    glanz_write_put(writer, "\"");
}

static void write_data(struct writer *writer, const struct glanz_picture *picture) {
    static const char digits[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/"; /* RFC 4648 */
    glanz_write_key(writer, "data");
    glanz_write_put(writer, "\"");
    for (uint32_t i = 0; i < picture->count; i += 3) {
        uint32_t left = picture->count - i;
        uint32_t three = (uint32_t)picture->bytes[i] << 16 | (left > 1 ? (uint32_t)picture->bytes[i + 1] << 8 : 0) |
                         (left > 2 ? picture->bytes[i + 2] : 0u);
        char text[5] = {digits[three >> 18], digits[three >> 12 & 63u], left > 1 ? digits[three >> 6 & 63u] : '=',
                        left > 2 ? digits[three & 63u] : '=', '\0'};
        glanz_write_put(writer, text);
    }
    glanz_write_put(writer, "\"");
}

static void write_palette(struct writer *writer, const struct row *row, const void *base) {
    const void *gradient = glanz_row_list(row, base);
    for (uint8_t i = 0; gradient != NULL && i < writer->show->palette_count; i++) {
        if (writer->show->palettes[i].gradient == gradient) {
            glanz_write_key(writer, row->key);
            glanz_write_string(writer, writer->show->palettes[i].name);
            return;
        }
    }
}

static void write_content(struct writer *writer, const struct glanz_look *look) {
    const struct table *table = glanz_tables_of_contents[look->effect->content];
    if (table != NULL && look->content != NULL) {
        glanz_write_enter(writer, table, table->size == 0 ? (const void *)look : look->content, NULL, 1);
    }
}

static void write_number(struct writer *writer, GLANZ_CONST struct glanz_param *param, uint8_t said, int32_t number) {
    static const uint8_t kinds[] = {0, QUANTITY_LENGTH, QUANTITY_RATE, QUANTITY_SHARE};
    uint8_t unit = said == GLANZ_UNIT_NONE ? param->unit : said;
    switch (param->kind) {
    case GLANZ_PARAM_COLOR: glanz_write_color(writer, (glanz_color)number); break;
    case GLANZ_PARAM_TURN: glanz_write_quantity(writer, QUANTITY_ANGLE, number, 0); break;
    case GLANZ_PARAM_LENGTH:
    case GLANZ_PARAM_RATE:
    case GLANZ_PARAM_SHARE:
        glanz_write_quantity(writer, (enum quantity)kinds[param->kind], number, param->kind == GLANZ_PARAM_SHARE ? 0 : unit);
        break;
    case GLANZ_PARAM_COUNT: glanz_write_number(writer, (uint32_t)number); break;
    case GLANZ_PARAM_FLAG: glanz_write_put(writer, number ? "true" : "false"); break;
    case GLANZ_PARAM_SIGNAL: glanz_write_string(writer, glanz_names_at(&writer->scope[SCOPE_SIGNALS], number - 1)); break;
    default: glanz_write_string(writer, param->choices[number]); break;
    }
}

static void write_end(struct writer *writer, const struct row *row, const struct glanz_drive *drive, int32_t number) {
    glanz_write_key(writer, row->key);
    if (drive->param >= GLANZ_DRIVE_OF_SEGMENT) {
        glanz_write_quantity(writer, drive->param == GLANZ_DRIVE_BEARING ? QUANTITY_ANGLE : QUANTITY_LIGHTNESS, number, 0);
    } else {
        write_number(writer, &writer->driven->effect->params[drive->param], drive->unit, number);
    }
}

/* On one line. Plain rows, and hooks that are ends. */
static void write_drive(struct writer *writer, const struct glanz_drive *drive) {
    const struct table *table = &glanz_table_drive;
    glanz_write_enter(writer, table, drive, NULL, 0);
    struct write_frame *frame = &writer->frames[writer->frame_count - 1];
    for (uint8_t i = 0; i < table->count; i++) {
        const struct row *row = &table->rows[i];
        if (row->kind == ROW_HOOK && row->extra == HOOK_LEVEL) {
            glanz_write_level(writer, row, drive);
        } else if (row->kind == ROW_HOOK) {
            write_end(writer, row, drive, row->at == offsetof(struct glanz_drive, from) ? drive->from : drive->to);
        } else if (glanz_write_row_wanted(writer, frame, row, drive)) {
            glanz_write_key(writer, row->key);
            glanz_write_value(writer, row, drive);
        }
    }
    writer->frame_count--;
    glanz_write_close(writer, "}");
}

/* What dims a segment, or the whole. */
static void write_dimmed(struct writer *writer, const void *base) {
    static const char *const keys[] = {"bearing", "opacity", "brightness"};
    const struct glanz_segment *segment = base == (const void *)writer->show ? NULL : (const struct glanz_segment *)base;
    uint8_t count = segment == NULL ? writer->show->drive != NULL : segment->drive_count;
    for (uint8_t i = 0; i < count; i++) {
        GLANZ_CONST struct glanz_drive *drive = segment == NULL ? writer->show->drive : &segment->drives[i];
        glanz_write_key(writer, keys[drive->param - GLANZ_DRIVE_OF_SEGMENT]);
        write_drive(writer, drive);
    }
}

/* Parameters that are set, then what follows a signal. */
static void write_settings(struct writer *writer, const struct glanz_look *look) {
    for (uint8_t i = 0; i < look->setting_count; i++) {
        GLANZ_CONST struct glanz_setting *setting = &look->settings[i];
        GLANZ_CONST struct glanz_param *param = &look->effect->params[setting->param];
        if (!glanz_write_driven(look, setting->param) && (param->kind != GLANZ_PARAM_SIGNAL || setting->number != 0)) {
            glanz_write_key(writer, param->name);
            write_number(writer, param, setting->unit, setting->number);
        }
    }
    writer->driven = look;
    for (uint8_t i = 0; i < look->drive_count; i++) {
        GLANZ_CONST struct glanz_drive *drive = &look->drives[i];
        glanz_write_key(writer,
                        drive->param == GLANZ_DRIVE_BRIGHTNESS ? "brightness" : look->effect->params[drive->param].name);
        write_drive(writer, drive);
    }
}

static void write_numbers(struct writer *writer, GLANZ_CONST struct glanz_look *look,
                          GLANZ_CONST struct glanz_setting *settings, uint8_t count) {
    if (count == 0) {
        return;
    }
    glanz_write_key(writer, "numbers");
    glanz_write_open(writer, "{", 1);
    for (uint8_t i = 0; i < count; i++) {
        GLANZ_CONST struct glanz_param *param = &look->effect->params[settings[i].param];
        if (param->kind != GLANZ_PARAM_SIGNAL || settings[i].number != 0) {
            glanz_write_key(writer, param->name);
            write_number(writer, param, settings[i].unit, settings[i].number);
        }
    }
    glanz_write_close(writer, "}");
}

/* Of a segment, or of a part of a preset. */
static void write_numbers_of(struct writer *writer, const struct row *row, const void *base) {
    const struct glanz_segment *segment = (const struct glanz_segment *)base;
    const struct glanz_part *part = (const struct glanz_part *)base;
    if (row->at == offsetof(struct glanz_segment, settings)) {
        write_numbers(writer, segment->look, segment->settings, segment->setting_count);
    } else {
        write_numbers(writer, part->look, part->settings, part->setting_count);
    }
}

static void write_stencil(struct writer *writer, const uint8_t *stencil) {
    if (stencil[0] == 0) {
        return;
    }
    glanz_write_key(writer, "stencil");
    glanz_write_put(writer, "\"");
    for (uint8_t i = 0; i < GLANZ_STENCIL && stencil[i] != 0; i++) {
        glanz_write_put(writer, i == 0 ? "" : ", ");
        glanz_write_put(writer, i % 2 == 0 ? "take " : "leave ");
        glanz_write_number(writer, stencil[i]);
    }
    glanz_write_put(writer, "\"");
}

static void write_picked(struct writer *writer, GLANZ_CONST struct glanz_region *region) {
    if (region->pick_count == 0) {
        return;
    }
    glanz_write_key(writer, "picked");
    uint16_t place = 0;
    for (uint8_t done = 0; done < region->pick_count; done++) {
        uint8_t i = 0;
        while (i + 1 < region->pick_count && region->picks[i].place != place) {
            i++;
        }
        GLANZ_CONST struct glanz_pick *pick = &region->picks[i];
        uint32_t last = pick->led + pick->leds - 1u;
        glanz_write_put(writer, done == 0 ? "\"" : ", ");
        glanz_write_number(writer, pick->backward ? last : pick->led);
        if (pick->leds > 1) {
            glanz_write_put(writer, " to ");
            glanz_write_number(writer, pick->backward ? pick->led : last);
        }
        place = (uint16_t)(place + pick->leds);
    }
    glanz_write_put(writer, "\"");
}

static void write_part(struct writer *writer, const struct glanz_segment *segment) {
    GLANZ_CONST struct glanz_surface *surface = &writer->rig->surfaces[segment->surface];
    uint8_t piece = segment->region.piece;
    if (piece != 0) {
        glanz_write_key(writer, "part");
        glanz_write_string(writer,
                           surface->panels != NULL ? surface->panels[piece - 1].name : surface->circles[piece - 1].name);
    }
}

static void write_stack(struct writer *writer, const struct glanz_show *show) {
    if (show->stack == NULL) {
        return;
    }
    glanz_write_key(writer, "stack");
    glanz_write_open(writer, "[", 1);
    for (uint8_t i = 0; i < show->segment_count; i++) {
        glanz_write_next(writer);
        glanz_write_string(writer, show->segments[show->stack[i]].name);
    }
    glanz_write_close(writer, "]");
}

static void write_then(struct writer *writer, const struct glanz_playlist *playlist) {
    if (playlist->then == GLANZ_THEN_STAY) {
        return;
    }
    glanz_write_key(writer, "then");
    if (playlist->then == GLANZ_THEN_PRESET) {
        glanz_write_open(writer, "{", 1);
        glanz_write_key(writer, "preset");
        glanz_write_string(writer, writer->show->presets[playlist->then_preset].name);
        glanz_write_close(writer, "}");
    } else {
        glanz_write_string(writer, glanz_words_thens[playlist->then]);
    }
}

/* The action's own key. */
static void write_kind(struct writer *writer, const struct glanz_action *action) {
    const struct row *row = &glanz_rows_of_values[action->kind->value];
    if (row->kind != ROW_HOOK) {
        glanz_write_key(writer, action->kind->key);
        glanz_write_value(writer, row, action);
        return;
    }
    struct row palette = *row;
    palette.key = action->kind->key;
    write_palette(writer, &palette, action);
}

static void write_param(struct writer *writer, const struct row *row, const struct glanz_action *action) {
    char name[80];
    size_t length = strlen(glanz_color_numbers[action->of_color].before);
    if (action->param != NULL && strlen(action->param) < 64) {
        memcpy(name, glanz_color_numbers[action->of_color].before, length + 1u);
        memcpy(name + length, action->param, strlen(action->param) + 1u);
        glanz_write_key(writer, row->key);
        glanz_write_string(writer, name);
    }
}

static void write_change(struct writer *writer, const struct row *row, const struct glanz_action *action) {
    GLANZ_CONST struct glanz_param *param =
        action->param == NULL ? NULL : glanz_rows_param(writer->show, action->param, action->kind_of_param);
    if (param == NULL || action->by != (uint8_t)row->arg.low) {
        return;
    }
    param = action->of_color == GLANZ_COLOR_WHOLE ? param : &glanz_color_numbers[action->of_color].param;
    glanz_write_key(writer, row->key);
    if (action->by == GLANZ_CHANGE_TIMES) {
        glanz_write_quantity(writer, QUANTITY_SHARE, action->value, 0);
    } else {
        write_number(writer, param, action->unit, action->value);
    }
}

static void write_on(struct writer *writer, const struct glanz_action *action) {
    glanz_write_key(writer, "on");
    glanz_write_put(writer, action->number == 2 ? "\"other\"" : action->number ? "true" : "false");
}

static void write_moment(struct writer *writer, const char *key, const struct glanz_moment *moment) {
    char text[40];
    if (moment->kind == GLANZ_MOMENT_NONE) {
        return;
    }
    char *at = text;
    if (moment->kind == GLANZ_MOMENT_CLOCK) {
        at = glanz_write_digits(at, (uint32_t)moment->second / 3600u, 2);
        *at++ = ':';
        at = glanz_write_digits(at, (uint32_t)moment->second / 60u % 60u, 2);
        if (moment->second % 60 != 0) {
            *at++ = ':';
            glanz_write_digits(at, (uint32_t)moment->second % 60u, 2);
        }
    } else {
        uint32_t size = (uint32_t)(moment->second < 0 ? -moment->second : moment->second);
        strcpy(text, moment->kind == GLANZ_MOMENT_SUNRISE ? "sunrise" : "sunset");
        if (size != 0) {
            at += strlen(text);
            strcpy(at, moment->second < 0 ? " - " : " + ");
            at = glanz_write_digits(at + 3, size % 60u != 0 ? size : size % 3600u != 0 ? size / 60u : size / 3600u, 1);
            strcpy(at, size % 60u != 0 ? " s" : size % 3600u != 0 ? " min" : " h");
        }
    }
    glanz_write_key(writer, key);
    glanz_write_string(writer, text);
}

static void write_day(struct writer *writer, const char *key, const struct glanz_day *day) {
    char text[16];
    if (day->month == 0) {
        return;
    }
    char *at = text;
    if (day->year != 0) {
        at = glanz_write_digits(at, day->year, 4);
        *at++ = '-';
    }
    at = glanz_write_digits(at, day->month, 2);
    *at++ = '-';
    glanz_write_digits(at, day->day, 2);
    glanz_write_key(writer, key);
    glanz_write_string(writer, text);
}

void glanz_write_hook(struct writer *writer, const struct row *row, const void *base) {
    const void *member = (const uint8_t *)base + row->at;
    const struct glanz_look *look = (const struct glanz_look *)base;
    switch (row->extra) {
    case HOOK_LOWEST_BLINK: write_lowest_blink(writer, (const struct glanz_rig *)base); break;
    case HOOK_DEGREES: write_degrees(writer, row, *(const int32_t *)member); break;
    case HOOK_ORDER: write_order(writer, (const struct glanz_stretch *)base); break;
    case HOOK_STRETCH_TRIM: write_own_trim(writer, (const struct glanz_stretch *)base); break;
    case HOOK_TRIM: write_trim(writer, (const uint16_t *)member); break;
    case HOOK_CURRENT: write_current(writer, (const struct glanz_stretch *)base); break;
    case HOOK_RADIUS:
        if (*(const uint16_t *)member != 0) {
            glanz_write_key(writer, row->key);
            glanz_write_quantity(writer, QUANTITY_LENGTH, *(const uint16_t *)member * 1024, GLANZ_UNIT_LEDS);
        }
        break;
    case HOOK_PLACES: write_places(writer, (const struct glanz_surface *)base); break;
    case HOOK_DATA: write_data(writer, (const struct glanz_picture *)base); break;
    case HOOK_EFFECT:
        glanz_write_key(writer, row->key);
        glanz_write_string(writer, look->effect->name);
        break;
    case HOOK_KIND: write_kind(writer, (const struct glanz_action *)base); break;
    case HOOK_PALETTE: write_palette(writer, row, base); break;
    case HOOK_CONTENT: write_content(writer, look); break;
    case HOOK_SETTINGS: write_settings(writer, look); break;
    case HOOK_DRIVES: write_dimmed(writer, base); break;
    case HOOK_BLOCKS: write_blocks(writer, (const struct glanz_pattern *)base); break;
    case HOOK_WORDS: write_words(writer, row, *(GLANZ_CONST char *const *)member); break;
    case HOOK_TEXT:
        glanz_write_key(writer, row->key);
        glanz_write_string(writer, ((const struct glanz_writing *)base)->text);
        break;
    case HOOK_PICTURE:
        glanz_write_key(writer, row->key);
        glanz_write_string(writer, ((const struct glanz_picture *)look->content)->name);
        break;
    case HOOK_STENCIL: write_stencil(writer, (const uint8_t *)member); break;
    case HOOK_PICKED: write_picked(writer, &((const struct glanz_segment *)base)->region); break;
    case HOOK_PART: write_part(writer, (const struct glanz_segment *)base); break;
    case HOOK_STACK: write_stack(writer, (const struct glanz_show *)base); break;
    case HOOK_THEN: write_then(writer, (const struct glanz_playlist *)base); break;
    case HOOK_ON: write_on(writer, (const struct glanz_action *)base); break;
    case HOOK_NUMBERS: write_numbers_of(writer, row, base); break;
    case HOOK_READS: glanz_write_reads(writer, row->key, (const struct glanz_input *)base); break;
    case HOOK_LEVEL: glanz_write_level(writer, row, base); break;
    case HOOK_CHANGE: write_change(writer, row, (const struct glanz_action *)base); break;
    case HOOK_PARAM: write_param(writer, row, (const struct glanz_action *)base); break;
    case HOOK_MOMENT: write_moment(writer, row->key, (const struct glanz_moment *)member); break;
    case HOOK_DAY: write_day(writer, row->key, (const struct glanz_day *)member); break;
    default: break; /* drawings are written as places, pictures as data */
    }
}
