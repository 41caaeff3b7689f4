/* SPDX-License-Identifier: MIT */
/* source: a rig and a show as C structs that build for every target, with no JSON in the firmware; raw inputs too. Walks the
 * rows by which documents are read; what they leave to hooks has its own functions here. */
#include <ctype.h>
#include <errno.h>
#include <stdlib.h>
#include <string.h>

#include "commands.h"
#include "rows.h"

struct source { /* where it goes, and what the names begin with */
    FILE *to;
    const char *name;
    GLANZ_CONST struct glanz_show *show;
};

/* A text as a C literal in GLANZ_TEXT(), or NULL. */
static void put_text(FILE *to, const char *text) {
    if (text == NULL) {
        fputs("NULL", to);
        return;
    }
    fputs("GLANZ_TEXT(\"", to);
    for (; *text != '\0'; text++) {
        unsigned char c = (unsigned char)*text;
        if (c == '"' || c == '\\') {
            fprintf(to, "\\%c", c);
        } else if (c < 32 || c > 126) {
            fprintf(to, "\\%03o", c);
        } else {
            fputc(c, to);
        }
    }
    fputs("\")", to);
}

/* The identifier that ends in a name: small letters and digits, all else an underscore. */
static void put_identifier(FILE *to, const char *begin, const char *name) {
    fputs(begin, to);
    for (; *name != '\0'; name++) {
        fputc(isalnum((unsigned char)*name) ? tolower((unsigned char)*name) : '_', to);
    }
}

/* The member of an enumeration: the prefix, and a document's word in capitals. */
static void put_enumerator(FILE *to, const char *prefix, const char *word) {
    fputs(prefix, to);
    for (; *word != '\0'; word++) {
        fputc(isalnum((unsigned char)*word) ? toupper((unsigned char)*word) : '_', to);
    }
}

/* ---- values ---- */

static void put_member(FILE *to, const char *member, unsigned number) { /* 0 need not be said */
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

static void put_gradient_of(const struct source *source, const void *gradient) {
    for (unsigned i = 0; gradient != NULL && i < source->show->palette_count; i++) {
        if (source->show->palettes[i].gradient == gradient) {
            fprintf(source->to, ", .gradient = &%s_gradient_%u", source->name, i);
            return;
        }
    }
}

static void put_look_of(const struct source *source, const void *look) {
    if (look != NULL) {
        fprintf(source->to, ", .look = &%s_looks[%u]", source->name,
                (unsigned)((GLANZ_CONST struct glanz_look *)look - source->show->looks));
    }
}

/* Which picture of the show a look shows; -1: none of them. */
static int picture_of(const struct source *source, GLANZ_CONST struct glanz_look *look) {
    for (int i = 0; i < source->show->picture_count; i++) {
        if (look->content == &source->show->pictures[i]) {
            return i;
        }
    }
    return -1;
}

static void put_look(const struct source *source, GLANZ_CONST struct glanz_look *look, const char *suffix) {
    put_identifier(source->to, ", .effect = &glanz_effect_", look->effect->name);
    if (picture_of(source, look) >= 0) {
        fprintf(source->to, ", .content = &%s_pictures[%d]", source->name, picture_of(source, look));
    } else if (look->content != NULL) {
        fprintf(source->to, ", .content = &%s_content%s", source->name, suffix);
    }
    if (look->setting_count != 0) {
        fprintf(source->to, ", .settings = %s_settings%s, .setting_count = %u", source->name, suffix, look->setting_count);
    }
}

static void put_stencil(FILE *to, const uint8_t *stencil) {
    for (int i = 0; stencil[0] != 0 && i < GLANZ_STENCIL; i++) {
        fprintf(to, i == 0 ? ", .region.stencil = {%u" : ", %u", stencil[i]);
    }
    fputs(stencil[0] != 0 ? "}" : "", to);
}

static void put_then(FILE *to, GLANZ_CONST struct glanz_playlist *list) {
    if (list->then != GLANZ_THEN_STAY) {
        put_enumerator(to, ", .then = GLANZ_THEN_", glanz_words_thens[list->then]);
        fprintf(to, ", .then_preset = %u", list->then_preset);
    }
}

static void put_hook(const struct source *source, const struct row *row, const void *base, const char *suffix) {
    FILE *to = source->to;
    const void *member = (const uint8_t *)base + row->at;
    const struct glanz_rig *rig = (const struct glanz_rig *)base;
    const struct glanz_day *day = (const struct glanz_day *)member;
    const struct glanz_moment *moment = (const struct glanz_moment *)member;
    switch (row->extra) {
    case HOOK_LOWEST_BLINK:
        put_member(to, "lowest_hz", rig->lowest_hz);
        put_member(to, "free_dither", rig->free_dither);
        break;
    case HOOK_DEGREES:
        if (rig->placed) {
            fprintf(to, ", .%s = %d", row->member, (int)*(const int32_t *)member);
        }
        break;
    case HOOK_ORDER: put_order(to, *(const uint8_t *)member); break;
    case HOOK_TRIM: put_array(to, row->member, (const uint16_t *)member); break;
    case HOOK_CURRENT:
        put_array(to, row->member, (const uint16_t *)member);
        put_member(to, "idle_ua", ((const struct glanz_stretch *)base)->idle_ua);
        break;
    case HOOK_RADIUS:
    case HOOK_ON: put_member(to, row->member, *(const uint16_t *)member); break;
    case HOOK_PLACES:
        if (((const struct glanz_surface *)base)->kind == GLANZ_SURFACE_POINTS) {
            fprintf(to, ", .points = %s_points%s", source->name, suffix);
        }
        break;
    case HOOK_EFFECT: put_look(source, (const struct glanz_look *)base, suffix); break;
    case HOOK_PALETTE: put_gradient_of(source, glanz_row_list(row, base)); break;
    case HOOK_STENCIL: put_stencil(to, (const uint8_t *)member); break;
    case HOOK_PART: put_member(to, row->member, *(const uint8_t *)member); break;
    case HOOK_STACK:
        if (glanz_row_list(row, base) != NULL) {
            fprintf(to, ", .stack = %s_stack", source->name);
        }
        break;
    case HOOK_THEN: put_then(to, (const struct glanz_playlist *)base); break;
    case HOOK_KIND: /* "take over" is glanz_action_take_over */
        put_identifier(to, ", .kind = &glanz_action_", ((const struct glanz_action *)base)->kind->key);
        put_look_of(source, ((const struct glanz_action *)base)->look);
        break;
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

static void put_number(FILE *to, const struct row *row, uint32_t number) {
    int count = 0;
    const char *const *list = (const char *const *)row->arg.refers_to;
    while (row->kind == ROW_CHOICE && list[count] != NULL) {
        count++;
    }
    fprintf(to, ", .%s = ", row->member);
    if (row->kind == ROW_CHOICE && row->count_or_prefix != NULL && number < (uint32_t)count) {
        put_enumerator(to, row->count_or_prefix, list[number]);
    } else if ((row->flags & ROW_ABSENT_ALL) != 0 && number == (row->width == 4 ? GLANZ_OWN_TIME : GLANZ_ALL)) {
        fputs(row->width == 4 ? "GLANZ_OWN_TIME" : "GLANZ_ALL", to);
    } else if (row->kind == ROW_COLOR) {
        fprintf(to, "0x%08Xu", (unsigned)number);
    } else {
        fprintf(to, row->width == 4 ? "%uu" : "%u", (unsigned)number);
    }
}

/* ---- structs ---- */

/* Another row of the same member came before. */
static int stands_already(const struct table *table, uint8_t index) {
    const struct row *row = &table->rows[index];
    for (uint8_t i = 0; i < index; i++) {
        const struct row *other = &table->rows[i];
        if (other->at == row->at && other->kind != ROW_OBJECT && ((other->flags ^ row->flags) & ROW_COMPANION) == 0 &&
            ((other->flags | row->flags) & ROW_ALTERNATIVE) == 0 && row->kind < ROW_OBJECT) {
            return 1;
        }
    }
    return 0;
}

static void put_pointer(const struct source *source, const struct row *row, const void *pointer) {
    if (pointer != NULL && row->extra == SCOPE_LOOKS) {
        put_look_of(source, pointer);
    } else if (pointer != NULL) {
        fprintf(source->to, ", .%s = ", row->member);
        put_identifier(source->to, row->extra == SCOPE_CHIPS ? "&glanz_chip_" : "&glanz_font_", *(const char *const *)pointer);
    }
}

static void put_rows(const struct source *source, const struct table *table, const void *base, unsigned beside,
                     const char *suffix);

static void put_row(const struct source *source, const struct table *table, const struct row *row, const void *base,
                    const char *suffix) {
    FILE *to = source->to;
    const struct table *of = (const struct table *)row->arg.refers_to;
    switch ((enum row_kind)row->kind) {
    case ROW_NAME:
        if (glanz_row_list(row, base) != NULL) {
            fprintf(to, ", .%s = ", row->member);
            put_text(to, (const char *)glanz_row_list(row, base));
        }
        break;
    case ROW_POINTER: put_pointer(source, row, glanz_row_list(row, base)); break;
    case ROW_OBJECT:
        put_rows(source, of, base, 0, suffix);
        put_member(to, row->count_or_prefix, row->high == 0 ? 0 : ((const uint8_t *)base)[row->high]);
        break;
    case ROW_OBJECT_POINTER:
        if (glanz_row_list(row, base) != NULL) {
            fprintf(to, ", .%s = &%s_%s%s", row->member, source->name, row->member, suffix);
        }
        break;
    case ROW_LIST:
    case ROW_MAP:
        if (glanz_row_count(row, base) != 0) {
            fprintf(to, ", .%s = %s_%s%s, .%s = %u", row->member, source->name, row->member, suffix, row->count_or_prefix,
                    (unsigned)glanz_row_count(row, base));
            if (of->beside != NULL) {
                fprintf(to, ", .%s = %s_%s%s", of->beside->member, source->name, of->beside->member, suffix);
            }
        }
        break;
    case ROW_HOOK: put_hook(source, row, base, suffix); break;
    case ROW_TRUE: break;
    case ROW_FLAG:
    case ROW_COUNT:
    case ROW_CHOICE:
    case ROW_SET:
    case ROW_QUANTITY:
    case ROW_COLOR:
    case ROW_INDEX: {
        struct row whole = *row; /* bits: the whole byte */
        whole.width = row->width == 0 ? 1 : row->width;
        if (glanz_row_get(&whole, base) != 0) {
            put_number(to, row, glanz_row_get(&whole, base));
        }
        break;
    }
    }
    if ((row->flags & ROW_ALTERNATIVE) == 0 || row->tag == 0) {
        return; /* 0 is what a struct begins with */
    }
    if (strchr(table->tag_member, '=') != NULL) {
        fputs(", .", to);
        put_enumerator(to, table->tag_member, row->key);
    } else {
        put_member(to, table->tag_member, row->tag);
    }
}

/* Members that no row names. */
static void put_rest(const struct source *source, const struct table *table, const void *base, const char *suffix) {
    FILE *to = source->to;
    const struct glanz_playlist *list = (const struct glanz_playlist *)base;
    switch (table->hook) {
    case TABLE_PANEL: fprintf(to, ", .leds = %u", ((const struct glanz_piece *)base)->leds); break;
    case TABLE_PALETTE: put_gradient_of(source, ((const struct glanz_show_palette *)base)->gradient); break;
    case TABLE_SKETCH:
        fprintf(to, ", .kind = GLANZ_CONTENT_PICTURE, .bytes = %s_bytes%s, .count = %u", source->name, suffix,
                (unsigned)((const struct glanz_picture *)base)->count);
        break;
    case TABLE_MARK: fprintf(to, ", .placed = %u", ((const struct glanz_mark *)base)->placed); break;
    case TABLE_SEGMENT: fprintf(to, ", .seed = 0x%08Xu", (unsigned)((const struct glanz_segment *)base)->seed); break;
    case TABLE_PART:
        fprintf(to, ", .aspects = %u, .segment = %u", ((const struct glanz_part *)base)->aspects,
                ((const struct glanz_part *)base)->segment);
        break;
    case TABLE_PLAYLIST:
        if (list->shuffled) {
            fprintf(to, ", .seed = 0x%08xu", (unsigned)list->seed);
        }
        fputs(list->timed ? ", .timed = 1" : "", to);
        break;
    default: break;
    }
}

static void put_rows(const struct source *source, const struct table *table, const void *base, unsigned beside,
                     const char *suffix) {
    for (uint8_t i = 0; i < table->count; i++) {
        const struct row *row = &table->rows[i];
        int other = (row->flags & ROW_ALTERNATIVE) != 0 && ((const uint8_t *)base)[table->tag] != row->tag;
        if ((row->flags & ROW_COMPANION) == beside && !other && !stands_already(table, i)) {
            put_row(source, table, row, base, suffix);
        }
    }
    if (beside == 0) {
        put_rest(source, table, base, suffix);
    }
}

/* Members, on lines of some 120 columns. */
static void put_wrapped(FILE *to, const char *members) {
    unsigned column = 6;
    int quoted = 0;
    for (const char *c = members; *c != '\0'; c++, column++) {
        quoted ^= *c == '"' && c > members && c[-1] != '\\';
        if (!quoted && column > 100 && c[0] == ' ' && c[1] == '.') {
            fputs("\n    ", to);
            column = 4;
        }
        fputc(*c, to);
    }
}

/* A struct in braces. Each member is put with ", " before it; the first one's is left out. */
static void put_struct(const struct source *source, const struct table *table, const struct row *row, const void *base,
                       unsigned beside, const char *suffix) {
    char *bytes = NULL;
    size_t count = 0;
    struct source inner = *source;
    inner.to = open_memstream(&bytes, &count);
    if (inner.to == NULL) {
        return;
    }
    if (row->kind == ROW_MAP && (row->flags & ROW_KEYED) == 0) {
        const char *name;
        memcpy(&name, (const uint8_t *)base + table->name, sizeof name);
        fputs(", .name = ", inner.to);
        put_text(inner.to, name);
    }
    put_rows(&inner, table, base, beside, suffix);
    fclose(inner.to);
    fputc('{', source->to);
    put_wrapped(source->to, count > 2 ? bytes + 2 : "0");
    fputc('}', source->to);
    free(bytes);
}

/* ---- what looks and palettes have beside rows ---- */

static void put_gradient(const struct source *source, GLANZ_CONST struct glanz_show_palette *palette, unsigned index) {
    FILE *to = source->to;
    GLANZ_CONST struct glanz_gradient *gradient = palette->gradient;
    fprintf(to, "\nstatic GLANZ_CONST struct glanz_stop %s_stops_%u[] = {\n", source->name, index);
    for (uint16_t i = 0; i < gradient->count; i++) {
        GLANZ_CONST struct glanz_stop *stop = &gradient->stops[i];
        fprintf(to, "    {%u, {%u, %u, %u}, %uu},\n", stop->at, stop->light.red, stop->light.green, stop->light.blue,
                (unsigned)stop->per);
    }
    fprintf(to, "};\nstatic GLANZ_CONST struct glanz_gradient %s_gradient_%u = {%s_stops_%u, %u, %u, {", source->name, index,
            source->name, index, gradient->count, gradient->bands);
    for (int i = 0; i < 16; i++) {
        fprintf(to, i == 0 ? "%u" : ", %u", gradient->first[i]);
    }
    fputs("}};\n", to);
}
static void put_pattern(const struct source *source, GLANZ_CONST struct glanz_pattern *pattern, unsigned index) {
    FILE *to = source->to;
    fprintf(to, "\nstatic GLANZ_CONST struct glanz_block %s_blocks_%u[] = {", source->name, index);
    for (uint16_t i = 0; i < pattern->count; i++) {
        fprintf(to, "%s{%u, 0x%08Xu}", i == 0 ? "" : ", ", pattern->blocks[i].leds, (unsigned)pattern->blocks[i].color);
    }
    fprintf(to, "};\nstatic GLANZ_CONST struct glanz_pattern %s_content_%u = {GLANZ_CONTENT_PATTERN, ", source->name, index);
    put_text(to, pattern->text);
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
    put_text(source->to, picture->name);
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
        put_text(source->to, writing->text);
        fprintf(source->to, writing->font == NULL ? ", NULL};\n" : ", &glanz_font_%s};\n",
                writing->font == NULL ? "" : writing->font->name);
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

static void put_before(const struct source *source, const struct table *table, const void *base, unsigned index) {
    const struct glanz_look *look = (const struct glanz_look *)base;
    switch (table->hook) {
    case TABLE_SURFACE: put_points(source, (const struct glanz_surface *)base, index); break;
    case TABLE_PALETTE: put_gradient(source, (const struct glanz_show_palette *)base, index); break;
    case TABLE_SKETCH: put_bytes(source, (const struct glanz_picture *)base, index); break;
    case TABLE_LOOK:
        if (look->content != NULL && picture_of(source, look) < 0) {
            put_content(source, look, index);
        }
        put_settings(source, look, index);
        break;
    default: break;
    }
}

/* ---- lists: those inside first ---- */

static void put_lists(const struct source *source, const struct table *table, const void *base, const char *suffix);

static void put_list(const struct source *source, const struct row *row, const void *base, const char *suffix) {
    const struct table *table = (const struct table *)row->arg.refers_to;
    uint32_t count = glanz_row_count(row, base);
    const uint8_t *first = (const uint8_t *)glanz_row_list(row, base);
    char inner[64];
    for (uint32_t i = 0; i < count; i++) {
        snprintf(inner, sizeof inner, "%s_%u", suffix, (unsigned)i);
        put_before(source, table, first + table->size * i, i);
        put_lists(source, table, first + table->size * i, inner);
    }
    if (count == 0) {
        return;
    }
    fprintf(source->to, "\nstatic GLANZ_CONST %s %s_%s%s[] = {\n", table->type, source->name, row->member, suffix);
    for (uint32_t i = 0; i < count; i++) {
        snprintf(inner, sizeof inner, "%s_%u", suffix, (unsigned)i);
        fputs("    ", source->to);
        put_struct(source, table, row, first + table->size * i, 0, inner);
        fputs(",\n", source->to);
    }
    fputs("};\n", source->to);
    if (table->beside == NULL) {
        return;
    }
    fprintf(source->to, "\nstatic GLANZ_CONST %s %s_%s%s[] = {\n", table->beside->type, source->name, table->beside->member,
            suffix);
    memcpy(&first, (const uint8_t *)base + table->beside->at, sizeof first);
    for (uint32_t i = 0; i < count; i++) {
        fputs("    ", source->to);
        put_struct(source, table, row, first + table->beside->size * i, ROW_COMPANION, suffix);
        fputs(",\n", source->to);
    }
    fputs("};\n", source->to);
}

static void put_lists(const struct source *source, const struct table *table, const void *base, const char *suffix) {
    for (uint8_t i = 0; i < table->count; i++) {
        const struct row *row = &table->rows[i];
        int other = (row->flags & ROW_ALTERNATIVE) != 0 && ((const uint8_t *)base)[table->tag] != row->tag;
        if ((row->kind == ROW_LIST || row->kind == ROW_MAP) && !other) {
            put_list(source, row, base, suffix);
        } else if (row->kind == ROW_OBJECT_POINTER && glanz_row_list(row, base) != NULL) {
            const struct table *of = (const struct table *)row->arg.refers_to;
            fprintf(source->to, "\nstatic GLANZ_CONST %s %s_%s%s = ", of->type, source->name, row->member, suffix);
            put_struct(source, of, row, glanz_row_list(row, base), 0, suffix);
            fputs(";\n", source->to);
        }
    }
}

static void put_stack(const struct source *source) {
    if (source->show->stack == NULL) {
        return;
    }
    fprintf(source->to, "\nstatic GLANZ_CONST uint8_t %s_stack[] = {", source->name);
    for (uint8_t i = 0; i < source->show->segment_count; i++) {
        fprintf(source->to, i == 0 ? "%u" : ", %u", source->show->stack[i]);
    }
    fputs("};\n", source->to);
}

static void put_document(const struct source *source, const struct table *table, const void *base, const char *what) {
    struct row row = {0};
    put_lists(source, table, base, "");
    fprintf(source->to, "\nGLANZ_CONST %s %s_%s = ", table->type, source->name, what);
    put_struct(source, table, &row, base, 0, "");
    fputs(";\n", source->to);
}

/* ---- the parts ---- */

/* What the show needs; and, where it has presets or actions, glides, so that it changes as it does on the desk. A show that
 * resumes has what saving needs, which takes no part without a store. */
static void put_parts(const struct source *source, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    unsigned needed =
        glanz_parts_needed(rig, show) | (show->resume ? GLANZ_PARTS_OF_SAVING & ~(unsigned)GLANZ_PART_SAVING : 0u);
    fprintf(source->to, "\nGLANZ_CONST struct glanz_parts %s_parts = {\n", source->name);
    for (unsigned left = needed; left != 0;) {
        const char *name = glanz_part_name(left);
        fprintf(source->to, "    .%s = &glanz_part_%s,\n", name, name);
        unsigned bit = 1;
        while ((left & bit) == 0 || strcmp(glanz_part_name(bit), name) != 0) {
            bit <<= 1;
        }
        left &= ~bit;
    }
    if ((needed & GLANZ_PART_CONTROL) != 0) {
        fputs("#if GLANZ_GLIDES\n    .glides = &glanz_part_glides,\n#endif\n", source->to);
    }
    if (show->resume) {
        fputs("#if GLANZ_SAVED_MOST > 0\n    .saving = &glanz_part_saving,\n#endif\n", source->to);
    }
    fputs("};\n", source->to);
}

/* ---- the inputs ---- */

static int put_inputs(const struct source *source, GLANZ_CONST struct glanz_rig *rig, const char *path) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text;
    struct log log;
    if (!text_read(&text, path)) {
        return EXIT_FILE;
    }
    glanz_status status = log_read(&log, text.bytes, text.count, &fault);
    text_free(&text);
    if (status != GLANZ_OK) {
        complain(path, &fault);
        return EXIT_REFUSED;
    }
    int code = EXIT_GOOD;
    fprintf(source->to, "\nGLANZ_CONST struct glanz_pushed %s_pushed[] = {\n", source->name);
    for (size_t i = 0; i < log.count && code == EXIT_GOOD; i++) {
        uint8_t input = 0;
        while (input < rig->input_count && !glanz_text_equal(rig->inputs[input].name, log.entries[i].name)) {
            input++;
        }
        if (log.entries[i].kind != ENTRY_INPUT || input == rig->input_count || log.entries[i].at_us > UINT32_MAX) {
            complain_plain(
                "%s:%u: C source takes raw edges and values only, of inputs of the rig and within the first 71 minutes; "
                "make such a log with \"glanz play --record\"",
                path, log.entries[i].line);
            code = EXIT_REFUSED;
        } else {
            fprintf(source->to, "    {%uu, %u, %u},\n", (unsigned)log.entries[i].at_us, log.entries[i].level, input);
        }
    }
    fprintf(source->to, "    {0xFFFFFFFFu, 0, 0}, /* the end */\n};\n");
    log_free(&log);
    return code;
}

/* ---- the command ---- */

static int valid_name(const char *name) {
    for (const char *c = name; *c != '\0'; c++) {
        if (!(islower((unsigned char)*c) || *c == '_' || (c != name && isdigit((unsigned char)*c)))) {
            return 0;
        }
    }
    return name[0] != '\0' && strlen(name) < 40;
}

static int write_all(FILE *to, const struct session *session, const char *name, const char *inputs) {
    struct source source = {to, name, session->shows[0].show};
    GLANZ_CONST struct glanz_rig *rig = session->rig.rig;
    GLANZ_CONST struct glanz_show *show = session->shows[0].show;
    uint32_t led_bytes = 0;
    for (uint8_t o = 0; o < rig->output_count; o++) {
        uint8_t clocked = rig->outputs[o].stretches[0].chip->protocol == GLANZ_CLOCKED;
        for (uint8_t i = 0; i < rig->outputs[o].stretch_count; i++) {
            GLANZ_CONST struct glanz_stretch *stretch = &rig->outputs[o].stretches[i];
            uint32_t each = stretch->chip->channels * ((rig->outputs[o].buffers == 2 ? 2u : 1u) + 1u);
            led_bytes += stretch->leds * (clocked ? 12u : each);
        }
        led_bytes += clocked ? 40u : 0u;
    }
    led_bytes += (uint32_t)glanz_show_memory(show, rig); /* for effects that remember */
    fprintf(to,
            "/* Written by \"glanz source\" from a rig and a show.\n"
            " * In your program:\n"
            " *     extern GLANZ_CONST struct glanz_rig %s_rig;\n"
            " *     extern GLANZ_CONST struct glanz_show %s_show;\n"
            " *     extern GLANZ_CONST struct glanz_parts %s_parts;\n"
            " *     static GLANZ_DEVICE_MEMORY(memory, %u, %u, %u, %u); */\n"
            "#include <glanz/device.h>\n\n"
            "extern GLANZ_CONST struct glanz_rig %s_rig;\nextern GLANZ_CONST struct glanz_show %s_show;\n"
            "extern GLANZ_CONST struct glanz_parts %s_parts;\n",
            name, name, name, (unsigned)led_bytes, rig->output_count, rig->input_count, show->segment_count, name, name, name);
    if (inputs != NULL) {
        fprintf(to, "extern GLANZ_CONST struct glanz_pushed %s_pushed[];\n", name);
    }
    put_document(&source, &glanz_table_rig, rig, "rig");
    put_stack(&source);
    put_document(&source, &glanz_table_show, show, "show");
    put_parts(&source, rig, show);
    return inputs == NULL ? EXIT_GOOD : put_inputs(&source, rig, inputs);
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    char *name = NULL;
    char *inputs = NULL;
    char *out = NULL;
    int code;
    const struct poptOption options[] = {
        {"name", 'n', POPT_ARG_STRING, &name, 0, "what the structs' names begin with (default: my)", "NAME"},
        {"inputs", 'i', POPT_ARG_STRING, &inputs, 0, "write this log of raw edges and values too", "FILE"},
        {"output", 'o', POPT_ARG_STRING, &out, 0, "where to write; else standard output", "FILE"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_source, argc, argv, options, 2, 2, &code)) {
        return code;
    }
    struct session session;
    struct glanz_board_setup setup;
    memset(&setup, 0, sizeof setup);
    if (name != NULL && !valid_name(name)) {
        complain_plain("--name %s: expected small letters, digits and underscores, a letter first, at most 39", name);
        code = EXIT_USAGE;
    } else if ((code = session_open(&session, arguments.path[0], arguments.path[1], NULL, &setup, 100)) == EXIT_GOOD) {
        /* written whole to memory first: on a failure there is no half a file */
        char *bytes = NULL;
        size_t count = 0;
        FILE *memory = open_memstream(&bytes, &count);
        code = memory == NULL ? EXIT_FILE : write_all(memory, &session, name == NULL ? "my" : name, inputs);
        if (memory != NULL && fclose(memory) != 0) {
            code = EXIT_FILE;
        }
        if (code == EXIT_GOOD) {
            code = output_bytes(out == NULL ? "-" : out, bytes, count) ? EXIT_GOOD : EXIT_FILE;
        }
        free(bytes);
        session_close(&session);
    }
    free(name);
    free(inputs);
    free(out);
    arguments_free(&arguments);
    return code;
}

const struct command command_source = {"source", "write a rig and a show as C source that builds for every target", "RIG SHOW",
                                       "  glanz source demo/rig.json demo/show.json --name museum -o museum.c\n", run};
