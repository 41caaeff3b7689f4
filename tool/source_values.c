/* SPDX-License-Identifier: MIT */
/* What looks, palettes and surfaces have beside rows, as C: lists of stops, blocks, marks, points, settings, pictures. */
#include <stdlib.h>
#include <string.h>

#include "effects.h"
#include "commands.h"
#include "drive_words.h"
#include "source.h"

/* ---- values ---- */

void source_put_member(FILE *to, const char *member, unsigned number) { /* 0 need not be said */
    if (number != 0) {
        fprintf(to, ", .%s = %u", member, number);
    }
}

static void put_array(FILE *to, const char *member, const uint16_t *numbers) {
    if ((numbers[0] | numbers[1] | numbers[2] | numbers[3]) != 0) {
        fprintf(to, ", .%s = {%u, %u, %u, %u}", member, numbers[0], numbers[1], numbers[2], numbers[3]);
    }
}

static void put_order(FILE *to, uint8_t order) {
    if (order != GLANZ_ORDER_CHIP) {
        fprintf(to, ", .order = GLANZ_ORDER(%u, %u, %u, %u)", glanz_order_channel(order, 0), glanz_order_channel(order, 1),
                glanz_order_channel(order, 2), glanz_order_channel(order, 3));
    }
}

void source_put_gradient_of(const struct source *source, const void *gradient) {
    for (unsigned i = 0; gradient != NULL && i < source->show->palette_count; i++) {
        if (source->show->palettes[i].gradient == gradient) {
            fprintf(source->to, ", .gradient = &%s_gradient_%u", source->name, i);
            return;
        }
    }
}

void source_put_look_of(const struct source *source, const void *look) {
    if (look != NULL) {
        fprintf(source->to, ", .look = &%s_looks[%u]", source->name,
                (unsigned)((GLANZ_CONST struct glanz_look *)look - source->show->looks));
    }
}

/* Which picture of the show a look shows; -1: none of them. */
int source_picture_of(const struct source *source, GLANZ_CONST struct glanz_look *look) {
    for (int i = 0; i < source->show->picture_count; i++) {
        if (look->content == &source->show->pictures[i]) {
            return i;
        }
    }
    return -1;
}

static void put_look(const struct source *source, GLANZ_CONST struct glanz_look *look, const char *suffix) {
    if (effects_path(look->effect) != NULL) {
        fprintf(source->to, ", .effect = &%s", effects_symbol(look->effect));
    } else {
        source_put_identifier(source->to, ", .effect = &glanz_effect_", look->effect->name);
    }
    if (source_picture_of(source, look) >= 0) {
        fprintf(source->to, ", .content = &%s_pictures[%d]", source->name, source_picture_of(source, look));
    } else if (look->content != NULL) {
        fprintf(source->to, ", .content = &%s_content%s", source->name, suffix);
    }
    if (look->setting_count != 0) {
        fprintf(source->to, ", .settings = %s_settings%s, .setting_count = %u", source->name, suffix, look->setting_count);
    }
    if (look->drive_count != 0) {
        fprintf(source->to, ", .drives = %s_drives%s, .drive_count = %u", source->name, suffix, look->drive_count);
    }
}

static void put_stencil(FILE *to, const uint8_t *stencil) {
    for (int i = 0; stencil[0] != 0 && i < GLANZ_STENCIL; i++) {
        fprintf(to, i == 0 ? ", .region.stencil = {%u" : ", %u", stencil[i]);
    }
    fputs(stencil[0] != 0 ? "}" : "", to);
}

static void put_picked(FILE *to, GLANZ_CONST struct glanz_region *region) {
    for (uint8_t i = 0; i < region->pick_count; i++) {
        GLANZ_CONST struct glanz_pick *pick = &region->picks[i];
        fputs(i == 0 ? ", .region.picks = (GLANZ_CONST struct glanz_pick[]){" : ", ", to);
        fprintf(to, "{%u, %u, %u, %u}", pick->led, pick->leds, pick->place, pick->backward);
    }
    if (region->pick_count != 0) {
        fprintf(to, "}, .region.pick_count = %u", region->pick_count);
    }
}

static void put_then(FILE *to, GLANZ_CONST struct glanz_playlist *list) {
    if (list->then != GLANZ_THEN_STAY) {
        source_put_enumerator(to, ", .then = GLANZ_THEN_", glanz_words_thens[list->then]);
        fprintf(to, ", .then_preset = %u", list->then_preset);
    }
}

static void put_numbers(FILE *to, GLANZ_CONST struct glanz_setting *settings, uint8_t count) {
    for (uint8_t i = 0; i < count; i++) {
        fprintf(to, "%s{%u, %u, %d}", i == 0 ? ", .settings = (GLANZ_CONST struct glanz_setting[]){" : ", ", settings[i].param,
                settings[i].unit, (int)settings[i].number);
    }
    if (count != 0) {
        fprintf(to, "}, .setting_count = %u", count);
    }
}

/* Which number an action changes, and how. */
static void put_change(FILE *to, const struct glanz_action *action) {
    if (action->param != NULL) {
        fputs(", .param = ", to);
        source_put_text(to, action->param);
        source_put_member(to, "kind_of_param", action->kind_of_param);
        source_put_member(to, "by", action->by);
        source_put_member(to, "unit", action->unit);
        source_put_member(to, "of_color", action->of_color);
        fprintf(to, ", .value = %d", (int)action->value);
    }
}

void source_put_hook(const struct source *source, const struct row *row, const void *base, const char *suffix) {
    FILE *to = source->to;
    const void *member = (const uint8_t *)base + row->at;
    const struct glanz_rig *rig = (const struct glanz_rig *)base;
    const struct glanz_day *day = (const struct glanz_day *)member;
    const struct glanz_moment *moment = (const struct glanz_moment *)member;
    switch (row->extra) {
    case HOOK_LOWEST_BLINK:
        source_put_member(to, "lowest_hz", rig->lowest_hz);
        source_put_member(to, "free_dither", rig->free_dither);
        break;
    case HOOK_DEGREES:
        if (rig->placed) {
            fprintf(to, ", .%s = %d", row->member, (int)*(const int32_t *)member);
        }
        break;
    case HOOK_ORDER: put_order(to, *(const uint8_t *)member); break;
    case HOOK_STRETCH_TRIM:
    case HOOK_TRIM: put_array(to, row->member, (const uint16_t *)member); break;
    case HOOK_CURRENT:
        put_array(to, row->member, (const uint16_t *)member);
        source_put_member(to, "idle_ua", ((const struct glanz_stretch *)base)->idle_ua);
        break;
    case HOOK_RADIUS:
    case HOOK_ON: source_put_member(to, row->member, *(const uint16_t *)member); break;
    case HOOK_PLACES:
        if (((const struct glanz_surface *)base)->kind == GLANZ_SURFACE_POINTS) {
            fprintf(to, ", .points = %s_points%s", source->name, suffix);
        }
        break;
    case HOOK_WORDS:
        if (*(GLANZ_CONST char *const *)member != NULL) {
            fprintf(to, ", .%s = ", row->member);
            source_put_text(to, *(GLANZ_CONST char *const *)member);
        }
        break;
    case HOOK_EFFECT: put_look(source, (const struct glanz_look *)base, suffix); break;
    case HOOK_DRIVES:
        if (base == (const void *)source->show) {
            if (source->show->drive != NULL) {
                fprintf(to, ", .drive = %s_whole_0", source->name);
            }
        } else if (((const struct glanz_segment *)base)->drive_count != 0) {
            fprintf(to, ", .drives = %s_dimming%s, .drive_count = %u", source->name, suffix,
                    ((const struct glanz_segment *)base)->drive_count);
            source_put_member(to, "region.swings", ((const struct glanz_segment *)base)->region.swings);
        }
        break;
    case HOOK_PALETTE: source_put_gradient_of(source, glanz_row_list(row, base)); break;
    case HOOK_STENCIL: put_stencil(to, (const uint8_t *)member); break;
    case HOOK_PICKED: put_picked(to, &((const struct glanz_segment *)base)->region); break;
    case HOOK_PART: source_put_member(to, row->member, *(const uint8_t *)member); break;
    case HOOK_STACK:
        if (glanz_row_list(row, base) != NULL) {
            fprintf(to, ", .stack = %s_stack", source->name);
        }
        break;
    case HOOK_THEN: put_then(to, (const struct glanz_playlist *)base); break;
    case HOOK_KIND: /* "take over" is glanz_action_take_over */
        source_put_identifier(to, ", .kind = &glanz_action_", ((const struct glanz_action *)base)->kind->key);
        source_put_look_of(source, ((const struct glanz_action *)base)->look);
        source_put_gradient_of(source, ((const struct glanz_action *)base)->gradient);
        break;
    case HOOK_NUMBERS:
        if (row->at == offsetof(struct glanz_segment, settings) && row->extra == HOOK_NUMBERS) {
            put_numbers(to, ((const struct glanz_segment *)base)->settings,
                        ((const struct glanz_segment *)base)->setting_count);
        } else {
            put_numbers(to, ((const struct glanz_part *)base)->settings, ((const struct glanz_part *)base)->setting_count);
        }
        break;
    case HOOK_LEVEL: source_put_member(to, row->member, glanz_row_get(row, base)); break;
    case HOOK_READS:
        if (((const struct glanz_input *)base)->unit != NULL) {
            fputs(", .unit = ", to);
            source_put_text(to, ((const struct glanz_input *)base)->unit);
            fprintf(to, ", .reads_low = %d, .reads_high = %d", (int)((const struct glanz_input *)base)->reads_low,
                    (int)((const struct glanz_input *)base)->reads_high);
        }
        break;
    case HOOK_PARAM: put_change(to, (const struct glanz_action *)base); break;
    case HOOK_MOMENT:
        if (moment->kind != GLANZ_MOMENT_NONE) {
            fprintf(to, ", .%s = {%u, %d}", row->member, moment->kind, (int)moment->second);
        }
        break;
    case HOOK_DAY:
        if (day->month != 0) {
            fprintf(to, ", .%s = {%u, %u, %u}", row->member, day->year, day->month, day->day);
        }
        break;
    default: break; /* what they show stands in arrays of its own */
    }
}

void source_put_number(FILE *to, const struct row *row, uint32_t number) {
    int count = 0;
    const char *const *list = (const char *const *)row->arg.refers_to;
    while (row->kind == ROW_CHOICE && list[count] != NULL) {
        count++;
    }
    fprintf(to, ", .%s = ", row->member);
    if (row->kind == ROW_CHOICE && row->count_or_prefix != NULL && number < (uint32_t)count) {
        source_put_enumerator(to, row->count_or_prefix, list[number]);
    } else if ((row->flags & ROW_ABSENT_ALL) != 0 && number == (row->width == 4 ? GLANZ_OWN_TIME : GLANZ_ALL)) {
        fputs(row->width == 4 ? "GLANZ_OWN_TIME" : "GLANZ_ALL", to);
    } else if (row->kind == ROW_COLOR) {
        fprintf(to, "0x%08Xu", (unsigned)number);
    } else {
        fprintf(to, row->width == 4 ? "%uu" : "%u", (unsigned)number);
    }
}

/* ---- lists ---- */

static void put_gradient(const struct source *source, GLANZ_CONST struct glanz_show_palette *palette, unsigned index) {
    FILE *to = source->to;
    GLANZ_CONST struct glanz_gradient *gradient = palette->gradient;
    fprintf(to, "\nstatic GLANZ_CONST struct glanz_stop %s_stops_%u[] = {\n", source->name, index);
    for (uint16_t i = 0; i < gradient->count; i++) {
        GLANZ_CONST struct glanz_stop *stop = &gradient->stops[i];
        fprintf(to, "    {%u, {%u, %u, %u}, %uu},\n", stop->at, stop->light.red, stop->light.green, stop->light.blue,
                (unsigned)stop->per);
    }
    fprintf(to,
            "};\nstatic GLANZ_CONST struct glanz_gradient %s_gradient_%u = {.stops = %s_stops_%u, .count = %u, .bands = %u, "
            ".first = {",
            source->name, index, source->name, index, gradient->count, gradient->bands);
    for (int i = 0; i < 16; i++) {
        fprintf(to, i == 0 ? "%u" : ", %u", gradient->first[i]);
    }
    fputs("}", to);
    if (gradient->runs != GLANZ_RUNS_BY_EFFECT) {
        fprintf(to, ", .runs = %u, .folded = %u, .reversed = %u, .span = %u, .pass_ms = %uu", gradient->runs, gradient->folded,
                gradient->reversed, gradient->span, (unsigned)gradient->pass_ms);
    }
    fputs("};\n", to);
}

static void put_pattern(const struct source *source, GLANZ_CONST struct glanz_pattern *pattern, unsigned index) {
    FILE *to = source->to;
    fprintf(to, "\nstatic GLANZ_CONST struct glanz_block %s_blocks_%u[] = {", source->name, index);
    for (uint16_t i = 0; i < pattern->count; i++) {
        fprintf(to, "%s{%u, 0x%08Xu}", i == 0 ? "" : ", ", pattern->blocks[i].leds, (unsigned)pattern->blocks[i].color);
    }
    fprintf(to, "};\nstatic GLANZ_CONST struct glanz_pattern %s_content_%u = {GLANZ_CONTENT_PATTERN, ", source->name, index);
    source_put_text(to, pattern->text);
    fprintf(to, ", %s_blocks_%u, %u, %u};\n", source->name, index, pattern->count, pattern->leds);
}

static void put_marks(const struct source *source, GLANZ_CONST struct glanz_marks *marks, unsigned index) {
    FILE *to = source->to;
    fprintf(to, "\nstatic GLANZ_CONST struct glanz_mark %s_marks_%u[] = {\n", source->name, index);
    for (uint16_t i = 0; i < marks->count; i++) {
        GLANZ_CONST struct glanz_mark *mark = &marks->list[i];
        fprintf(to, "    {%u, %u, %u, %u, %u, %u, %u, 0x%08Xu},\n", mark->placed, mark->first, mark->leds, mark->left,
                mark->top, mark->columns, mark->rows, (unsigned)mark->color);
    }
    fprintf(to, "};\nstatic GLANZ_CONST struct glanz_marks %s_content_%u = {GLANZ_CONTENT_MARKS, %u, %s_marks_%u};\n",
            source->name, index, marks->count, source->name, index);
}

static void put_bytes(const struct source *source, const struct glanz_picture *picture, unsigned index) {
    fprintf(source->to, "\nstatic GLANZ_CONST uint8_t %s_bytes_%u[] = {", source->name, index);
    for (uint32_t i = 0; i < picture->count; i++) {
        fprintf(source->to, "%s%u,", i % 28 == 0 ? "\n    " : " ", picture->bytes[i]);
    }
    fputs("\n};\n", source->to);
}

/* A picture of the store, which the show has not. */
static void put_picture(const struct source *source, const struct glanz_picture *picture, unsigned index) {
    put_bytes(source, picture, 1000 + index);
    fprintf(source->to, "static GLANZ_CONST struct glanz_picture %s_content_%u = {GLANZ_CONTENT_PICTURE, ", source->name,
            index);
    source_put_text(source->to, picture->name);
    fprintf(source->to, ", %s_bytes_%u, %u};\n", source->name, 1000 + index, (unsigned)picture->count);
}

static void put_content(const struct source *source, GLANZ_CONST struct glanz_look *look, unsigned index) {
    switch (look->effect->content) {
    case GLANZ_CONTENT_PATTERN: put_pattern(source, (GLANZ_CONST struct glanz_pattern *)look->content, index); break;
    case GLANZ_CONTENT_MARKS: put_marks(source, (GLANZ_CONST struct glanz_marks *)look->content, index); break;
    case GLANZ_CONTENT_PICTURE: put_picture(source, (GLANZ_CONST struct glanz_picture *)look->content, index); break;
    case GLANZ_CONTENT_WRITING: {
        GLANZ_CONST struct glanz_writing *writing = (GLANZ_CONST struct glanz_writing *)look->content;
        fprintf(source->to, "\nstatic GLANZ_CONST struct glanz_writing %s_content_%u = {GLANZ_CONTENT_WRITING, ", source->name,
                index);
        source_put_text(source->to, writing->text);
        fprintf(source->to, writing->font == NULL ? ", NULL, " : ", &glanz_font_%s, ",
                writing->font == NULL ? "" : writing->font->name);
        fprintf(source->to, "%u, %u, 0x%08Xu};\n", writing->edge, writing->sideways, (unsigned)writing->edge_color);
        break;
    }
    default: break;
    }
}

static void put_settings(const struct source *source, GLANZ_CONST struct glanz_look *look, unsigned index) {
    if (look->setting_count == 0) {
        return;
    }
    fprintf(source->to, "\nstatic GLANZ_CONST struct glanz_setting %s_settings_%u[] = {\n", source->name, index);
    for (uint8_t s = 0; s < look->setting_count; s++) {
        GLANZ_CONST struct glanz_param *param = &look->effect->params[look->settings[s].param];
        fprintf(source->to, "    {%u, %u, %d}, /* %s */\n", look->settings[s].param, look->settings[s].unit,
                (int)look->settings[s].number, param->name);
    }
    fputs("};\n", source->to);
}

static void put_drive(const struct source *source, GLANZ_CONST struct glanz_drive *drive, const char *name) {
    fprintf(source->to, "    {.param = %u, .signal = %u, .from = %d, .to = %d", drive->param, drive->signal, (int)drive->from,
            (int)drive->to);
    source_put_member(source->to, "unit", drive->unit);
    if (drive->curve != GLANZ_CURVE_STRAIGHT) {
        source_put_enumerator(source->to, ", .curve = GLANZ_CURVE_", glanz_words_curves[drive->curve]);
    }
    source_put_member(source->to, "steps", drive->steps);
    if (drive->yields != GLANZ_YIELD_UNTIL_IT_MOVES) {
        source_put_enumerator(source->to, ", .yields = GLANZ_YIELD_", glanz_words_yields[drive->yields]);
    }
    source_put_member(source->to, "rest", drive->rest);
    source_put_member(source->to, "round", drive->round);
    source_put_member(source->to, "rise_ms", drive->rise_ms);
    source_put_member(source->to, "fall_ms", drive->fall_ms);
    source_put_member(source->to, "begin", drive->begin);
    source_put_member(source->to, "end", drive->end);
    fprintf(source->to, "}, /* %s */\n", name);
}

/* @param of NULL, or the look. */
static void put_drives(const struct source *source, GLANZ_CONST struct glanz_drive *drives, uint8_t count,
                       GLANZ_CONST struct glanz_look *of, const char *what, unsigned index) {
    if (count == 0) {
        return;
    }
    fprintf(source->to, "\nstatic GLANZ_CONST struct glanz_drive %s_%s_%u[] = {\n", source->name, what, index);
    for (uint8_t i = 0; i < count; i++) {
        put_drive(source, &drives[i], drive_name(of, &drives[i]));
    }
    fputs("};\n", source->to);
}

void source_put_whole(const struct source *source) {
    put_drives(source, source->show->drive, source->show->drive != NULL, NULL, "whole", 0);
}

static void put_points(const struct source *source, const struct glanz_surface *surface, unsigned index) {
    if (surface->kind != GLANZ_SURFACE_POINTS) {
        return;
    }
    uint16_t leds = glanz_surface_leds(surface);
    fprintf(source->to, "\nstatic GLANZ_CONST struct glanz_point %s_points_%u[] = {", source->name, index);
    for (uint16_t i = 0; i < leds; i++) {
        fprintf(source->to, "%s{%u, %u},", i % 8 == 0 ? "\n    " : " ", surface->points[i].x, surface->points[i].y);
    }
    fputs("\n};\n", source->to);
}

void source_put_before(const struct source *source, const struct table *table, const void *base, unsigned index) {
    const struct glanz_look *look = (const struct glanz_look *)base;
    switch (table->hook) {
    case TABLE_SURFACE: put_points(source, (const struct glanz_surface *)base, index); break;
    case TABLE_SEGMENT:
        put_drives(source, ((const struct glanz_segment *)base)->drives, ((const struct glanz_segment *)base)->drive_count,
                   NULL, "dimming", index);
        break;
    case TABLE_PALETTE: put_gradient(source, (const struct glanz_show_palette *)base, index); break;
    case TABLE_SKETCH: put_bytes(source, (const struct glanz_picture *)base, index); break;
    case TABLE_LOOK:
        if (look->content != NULL && source_picture_of(source, look) < 0) {
            put_content(source, look, index);
        }
        put_settings(source, look, index);
        put_drives(source, look->drives, look->drive_count, look, "drives", index);
        break;
    default: break;
    }
}
