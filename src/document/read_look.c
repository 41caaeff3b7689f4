/* SPDX-License-Identifier: MIT */
/* Looks: an effect with its parameters, a palette, and what it shows beside numbers. */
#include <string.h>

#include "read.h"

/* ---- palettes ---- */

void glanz_read_gradient(struct reading *reading, struct glanz_show_palette *palette, const struct glanz_color_stop *chosen,
                         uint8_t count, uint8_t between, int token) {
    struct json *json = &reading->json;
    /* built at the end of the free memory first, to see how many stops it takes */
    uint16_t capacity = (uint16_t)(count * GLANZ_STOPS_EACH > GLANZ_STOPS_MOST ? GLANZ_STOPS_MOST : count * GLANZ_STOPS_EACH);
    struct glanz_gradient *gradient = (struct glanz_gradient *)glanz_json_allocate(json, sizeof *gradient);
    const uint16_t ends = 2; /* a part has two of its own */
    struct glanz_stop *stops = (struct glanz_stop *)glanz_json_allocate(json, sizeof *stops * (size_t)(capacity + ends));
    if (stops == NULL) {
        return;
    }
    if (glanz_gradient_build(gradient, stops, capacity, chosen, count, (enum glanz_between)between, reading->show->colors,
                             reading->show->color_count) != GLANZ_OK) {
        glanz_json_fail(json, token, "expected stops in order, from \"0 %\" to \"100 %\"", NULL, NULL);
        return;
    }
    uint16_t to = palette->part_to == 0 ? 65535 : palette->part_to;
    if (palette->part_from != 0 || to != 65535) {
        glanz_gradient_cut(gradient, stops, palette->part_from, to);
    }
    json->used -=
        (sizeof *stops * (size_t)(capacity + ends - gradient->count)) & ~(size_t)7u; /* give back what it did not take */
    palette->gradient = gradient;
    palette->between = between;
}

/* The gradient of a palette by name: the show's own, or one that comes along, which is built now. */
GLANZ_CONST struct glanz_gradient *glanz_read_palette(struct reading *reading, int token) {
    struct json *json = &reading->json;
    struct glanz_show *show = reading->show;
    for (uint8_t i = 0; glanz_json_is(json, token, JSON_STRING) && i < show->palette_count; i++) {
        if (glanz_json_equal(json, token, show->palettes[i].name)) {
            return show->palettes[i].gradient;
        }
    }
    /* an action by itself is of a show that is there: no list to add to */
    for (uint8_t i = 0; reading->builds && glanz_json_is(json, token, JSON_STRING) && i < glanz_palette_count; i++) {
        if (glanz_json_equal(json, token, glanz_palettes[i].name)) {
            /* the list is this reader's own memory, with room behind it */
            struct glanz_show_palette *palette = &((struct glanz_show_palette *)(uintptr_t)show->palettes)[show->palette_count];
            palette->name = glanz_palettes[i].name;
            glanz_read_gradient(reading, palette, glanz_palettes[i].stops, glanz_palettes[i].count, glanz_palettes[i].between,
                                token);
            show->palette_count++;
            return palette->gradient;
        }
    }
    const char *names[80];
    struct names all = {names, sizeof *names, 0, 0, NULL};
    for (uint8_t i = 0; i < show->palette_count && all.count < 70; i++) {
        names[all.count++] = show->palettes[i].name;
    }
    for (uint8_t i = 0; reading->builds && i < glanz_palette_count && all.count < 80; i++) {
        names[all.count++] = glanz_palettes[i].name;
    }
    (void)glanz_find_name(json, token, &all, "no such palette of the show or the library");
    return NULL;
}

/* ---- what looks show ---- */

/* "3 amber, 1 white, 2 teal" */
void glanz_read_blocks(struct reading *reading, int token, struct glanz_pattern *pattern) {
    struct json *json = &reading->json;
    char *text = glanz_json_is(json, token, JSON_STRING) ? glanz_json_text(json, token) : NULL;
    size_t commas = 1;
    for (const char *c = text; c != NULL && *c != '\0'; c++) {
        commas += *c == ',';
    }
    struct glanz_block *blocks = (struct glanz_block *)glanz_json_allocate(json, sizeof *blocks * commas);
    int good = text != NULL && blocks != NULL;
    uint32_t leds = 0;
    uint16_t count = 0;
    for (const char *at = text; good && commas <= 4096;) {
        uint32_t number = 0;
        while (*at == ' ') {
            at++;
        }
        const char *digits = at;
        while (*at >= '0' && *at <= '9' && at - digits < 5) {
            number = number * 10u + (uint32_t)(*at++ - '0');
        }
        good = at != digits && *at == ' ' && number >= 1 && number <= 10000;
        while (*at == ' ') {
            at++;
        }
        const char *end = strchr(at, ',');
        size_t length = end == NULL ? strlen(at) : (size_t)(end - at);
        while (length > 0 && at[length - 1] == ' ') {
            length--;
        }
        glanz_color color = 0;
        good = good && glanz_color_of_text(&color, at, length, reading->show->colors, reading->show->color_count);
        if (good) {
            color = (color >> 24) == 3 ? reading->show->colors[color & 0xFFFFu].color : color;
            blocks[count].leds = (uint16_t)number;
            blocks[count].color = color;
            count++;
            leds += number;
        }
        if (end == NULL) {
            break;
        }
        at = end + 1;
    }
    if (json->status == GLANZ_OK && (!good || leds == 0 || leds > GLANZ_LEDS_MOST)) {
        glanz_json_fail(json, token, "expected blocks such as \"3 amber, 1 #ffffff, 2 teal\": a count and a colour each", NULL,
                        NULL);
    }
    pattern->text = text;
    pattern->blocks = blocks;
    pattern->count = count;
    pattern->leds = (uint16_t)leds;
}

void glanz_read_text(struct reading *reading, int token, struct glanz_writing *writing) {
    struct json *json = &reading->json;
    writing->text = glanz_json_is(json, token, JSON_STRING) ? glanz_json_text(json, token) : NULL;
    uint32_t wrong = writing->text == NULL ? 1 : glanz_writing_check(writing->text, reading->world);
    if (json->status == GLANZ_OK && (wrong != 0 || strlen(writing->text) > 1000)) {
        glanz_json_fail(json, token, "byte ", NULL, NULL);
        glanz_fault_number(json->fault, wrong == 0 ? 1001 : wrong);
        glanz_fault_add(json->fault, ": expected text of at most 1000 bytes and four lines, in braces a word such as {time} or "
                                     "{weekday}, or a value of the rig such as {tide 0.0 to 6.5}");
    }
}

void glanz_read_picture(struct reading *reading, int token, struct glanz_look *look) {
    for (uint8_t i = 0; glanz_json_is(&reading->json, token, JSON_STRING) && i < reading->kept_count; i++) {
        if (glanz_json_equal(&reading->json, token, reading->kept[i].name)) {
            look->content = &reading->kept[i];
            return;
        }
    }
    int index = glanz_read_find(reading, token, SCOPE_PICTURES);
    if (reading->json.status == GLANZ_OK) {
        look->content = &reading->show->pictures[index];
    }
}

/* What its effect needs is read from the same object. */
void glanz_read_content(struct reading *reading, int token, struct glanz_look *look) {
    const struct table *table = glanz_tables_of_contents[look->effect->content];
    if (table == NULL) {
        return;
    }
    struct glanz_content *content = NULL;
    if (table->size != 0) {
        content = (struct glanz_content *)glanz_json_allocate(&reading->json, table->size);
        if (content == NULL) {
            return;
        }
        content->kind = look->effect->content;
        look->content = content;
    }
    glanz_read_enter(reading, table, content == NULL ? (void *)look : (void *)content, NULL, token);
}

/* ---- effects and their parameters ---- */

int32_t glanz_read_number(struct reading *reading, int token, GLANZ_CONST struct glanz_param *param, int32_t angle,
                          uint8_t *unit) {
    struct json *json = &reading->json;
    *unit = GLANZ_UNIT_NONE;
    switch (param->kind) {
    case GLANZ_PARAM_COLOR: return (int32_t)glanz_read_color(reading, token, ROW_COLOR_NAMED);
    case GLANZ_PARAM_TURN: return (int32_t)glanz_json_quantity(json, token, QUANTITY_ANGLE, -angle, angle, NULL);
    case GLANZ_PARAM_LENGTH: return (int32_t)glanz_json_quantity(json, token, QUANTITY_LENGTH, param->low, param->high, unit);
    case GLANZ_PARAM_RATE: return (int32_t)glanz_json_quantity(json, token, QUANTITY_RATE, param->low, param->high, unit);
    case GLANZ_PARAM_SHARE: return (int32_t)glanz_json_quantity(json, token, QUANTITY_SHARE, param->low, param->high, NULL);
    case GLANZ_PARAM_COUNT: return (int32_t)glanz_json_count(json, token, (uint32_t)param->low, (uint32_t)param->high);
    case GLANZ_PARAM_FLAG: return glanz_json_flag(json, token);
    case GLANZ_PARAM_SIGNAL: return glanz_read_find(reading, token, SCOPE_SIGNALS) + 1;
    default: {
        const char *names[17];
        uint8_t count = 0;
        for (; count <= param->high && count < 16; count++) {
            names[count] = param->choices[count];
        }
        names[count] = NULL;
        return glanz_find_choice(json, token, names);
    }
    }
}

/* Numbers of a look that are others on a segment, or in a preset. */
void glanz_read_numbers(struct reading *reading, int token, GLANZ_CONST struct glanz_look *look,
                        GLANZ_CONST struct glanz_setting **settings, uint8_t *count) {
    struct json *json = &reading->json;
    const char *keys[GLANZ_PARAMS + 1];
    if (look == NULL) {
        glanz_json_fail(json, token, "expected a \"look\" whose numbers these are", NULL, NULL);
        return;
    }
    GLANZ_CONST struct glanz_effect *effect = look->effect;
    for (uint8_t i = 0; i < effect->param_count; i++) {
        keys[i] = effect->params[i].name;
    }
    keys[effect->param_count] = NULL;
    if (!glanz_json_object(json, token, keys)) {
        return;
    }
    struct glanz_setting *list = (struct glanz_setting *)glanz_json_allocate(json, sizeof *list * effect->param_count);
    *settings = list;
    for (uint8_t i = 0; json->status == GLANZ_OK && i < effect->param_count; i++) {
        int member = glanz_json_member(json, token, keys[i]);
        if (member >= 0) {
            list[*count].param = i;
            list[*count].number = glanz_read_number(reading, member, &effect->params[i], 65535, &list[*count].unit);
            *count = (uint8_t)(*count + 1u);
        }
    }
}

/* ---- drives ---- */

static GLANZ_CONST struct glanz_param lightness = {.name = "brightness", .kind = GLANZ_PARAM_COUNT, .high = 65535};

static GLANZ_CONST struct glanz_param bearing = {.name = "bearing", .kind = GLANZ_PARAM_TURN};

/* One end of a drive; both are in one unit. */
void glanz_read_end(struct reading *reading, const struct row *row, int token, struct glanz_drive *drive) {
    GLANZ_CONST struct glanz_param *param = reading->driven;
    uint8_t unit = GLANZ_UNIT_NONE;
    int32_t number = param == &lightness
                         ? (int32_t)glanz_json_quantity(&reading->json, token, QUANTITY_LIGHTNESS, 0, 65535, NULL)
                         : glanz_read_number(reading, token, param, GLANZ_DRIVE_TURNS, &unit);
    memcpy((uint8_t *)drive + row->at, &number, sizeof number);
    if (row->at == offsetof(struct glanz_drive, from)) {
        drive->unit = unit;
    } else if (drive->unit != unit) {
        glanz_json_fail(&reading->json, token, "expected the unit that \"from\" has", NULL, NULL);
    }
}

/* Are both ends of it the same, so that a signal that begins again goes on? */
static int is_round(GLANZ_CONST struct glanz_param *param, const struct glanz_drive *drive) {
    uint32_t from = (uint32_t)drive->from;
    uint32_t to = (uint32_t)drive->to;
    if (param->kind == GLANZ_PARAM_TURN) {
        return from != to && ((to - from) & 0xFFFFu) == 0;
    }
    uint32_t hue = (from >> 14) & 0x1FFu;
    uint32_t hue_to = (to >> 14) & 0x1FFu;
    return param->kind == GLANZ_PARAM_COLOR && from >> 24 == 2 && to >> 24 == 2 && ((from ^ to) & 0x3FFFu) == 0 &&
           (hue == hue_to + 360u || hue_to == hue + 360u);
}

static void read_drive(struct reading *reading, int token, uint8_t index, GLANZ_CONST struct glanz_param *param,
                       struct glanz_drive *drive) {
    if (param != &lightness && !IS_DRIVABLE(param)) {
        glanz_json_fail(&reading->json, token,
                        "this cannot follow a signal: between its numbers LEDs would leap; expected a value", NULL, NULL);
        return;
    }
    drive->param = index;
    drive->rise_ms = DRIVE_SMOOTH_MS;
    drive->fall_ms = DRIVE_SMOOTH_MS;
    reading->driven = param;
    glanz_read_plain(reading, &glanz_table_drive, drive, token);
    drive->end = drive->begin != 0 && drive->end == 0 ? GLANZ_LEVEL_FULL : drive->end;
    drive->round = (uint8_t)is_round(param, drive);
    if (reading->json.status == GLANZ_OK && drive->end != 0 && drive->begin >= drive->end) {
        glanz_json_fail(&reading->json, glanz_json_member(&reading->json, token, "ends at"),
                        "this part of the signal has no width; expected more than \"begins at\"", NULL, NULL);
    }
    if (reading->json.status == GLANZ_OK && (drive->curve == GLANZ_CURVE_STEPS) != (drive->steps != 0)) {
        glanz_json_fail(&reading->json, token, "expected \"steps\" with the curve \"steps\", and only there", NULL, NULL);
    }
}

#define SEGMENT_DRIVES 3 /* bearing, opacity, brightness */

/* What a signal dims a segment or the whole by, or turns a slanted segment by. */
void glanz_read_dimmed(struct reading *reading, const struct row *row, int token, void *base) {
    struct json *json = &reading->json;
    int whole = base == (void *)reading->show;
    int turns = strcmp(row->key, bearing.name) == 0;
    uint8_t param = turns                              ? GLANZ_DRIVE_BEARING
                    : strcmp(row->key, "opacity") == 0 ? GLANZ_DRIVE_OPACITY
                                                       : GLANZ_DRIVE_BRIGHTNESS;
    struct glanz_segment *segment = (struct glanz_segment *)base;
    struct glanz_drive *drives =
        whole || segment->drive_count == 0
            ? (struct glanz_drive *)glanz_json_allocate(json, sizeof *drives * (whole ? 1u : SEGMENT_DRIVES))
            : (struct glanz_drive *)(uintptr_t)segment->drives; /* this reader's own memory */
    if (drives == NULL) {
        return;
    }
    if (whole) {
        reading->show->drive = drives;
        reading->show->brightness = 65535;
    } else {
        segment->drives = drives;
        drives += segment->drive_count++;
        segment->region.swings = (uint8_t)(segment->region.swings | turns);
    }
    read_drive(reading, token, param, turns ? &bearing : &lightness, drives);
}

/* Which row of a look is its brightness. */
static uint8_t brightness_row(const struct read_frame *frame) {
    uint8_t i = 0;
    while (frame->table->rows[i].key == NULL || strcmp(frame->table->rows[i].key, "brightness") != 0) {
        i++;
    }
    return i;
}

/* Parameters, each a value or what it follows. */
static void read_params(struct reading *reading, struct read_frame *frame, struct glanz_look *look) {
    struct json *json = &reading->json;
    GLANZ_CONST struct glanz_effect *effect = look->effect;
    int brightness = glanz_read_token(frame, "brightness");
    size_t driven = brightness >= 0 && glanz_json_is(json, brightness, JSON_OBJECT);
    for (uint8_t i = 0; i < effect->param_count; i++) {
        int token = glanz_json_member(json, frame->object, effect->params[i].name);
        driven += token >= 0 && glanz_json_is(json, token, JSON_OBJECT);
    }
    struct glanz_setting *settings = (struct glanz_setting *)glanz_json_allocate(json, sizeof *settings * effect->param_count);
    struct glanz_drive *drives = driven == 0 ? NULL : (struct glanz_drive *)glanz_json_allocate(json, sizeof *drives * driven);
    look->settings = settings;
    look->drives = drives;
    for (uint8_t i = 0; json->status == GLANZ_OK && i < effect->param_count; i++) {
        int token = glanz_json_member(json, frame->object, effect->params[i].name);
        if (token >= 0 && glanz_json_is(json, token, JSON_OBJECT)) {
            read_drive(reading, token, i, &effect->params[i], &drives[look->drive_count++]);
        } else if (token >= 0) {
            struct glanz_setting *setting = &settings[look->setting_count++];
            setting->param = i;
            setting->number = glanz_read_number(reading, token, &effect->params[i], 65535, &setting->unit);
        }
    }
    if (json->status == GLANZ_OK && look->drive_count < driven) {
        read_drive(reading, brightness, GLANZ_DRIVE_BRIGHTNESS, &lightness, &drives[look->drive_count++]);
        frame->token[brightness_row(frame)] = NOT_APPLICABLE;
    }
}

/* The effect, which says what other keys there are, and its parameters. */
void glanz_read_look(struct reading *reading, struct read_frame *frame) {
    struct json *json = &reading->json;
    struct glanz_look *look = (struct glanz_look *)(void *)frame->base;
    int index = glanz_read_find(reading, glanz_read_token(frame, "effect"), SCOPE_EFFECTS);
    if (json->status != GLANZ_OK) {
        return;
    }
    GLANZ_CONST struct glanz_effect *effect =
        ((GLANZ_CONST struct glanz_effect * GLANZ_CONST *)reading->scope[SCOPE_EFFECTS].first)[index];
    look->effect = effect;
    const char *keys[GLANZ_PARAMS + ROWS_MOST];
    int known = 0;
    for (; known < effect->param_count; known++) {
        keys[known] = effect->params[known].name;
    }
    for (uint8_t i = 0; i < frame->table->count; i++) {
        const struct row *row = &frame->table->rows[i];
        if (row->key != NULL) {
            keys[known++] = row->key;
        }
    }
    if (glanz_tables_of_contents[effect->content] != NULL) {
        known = glanz_read_keys(keys, known, glanz_tables_of_contents[effect->content]);
    }
    keys[known] = NULL;
    if (!glanz_json_object(json, frame->object, keys)) {
        return;
    }
    for (int i = effect->param_count; i < known; i++) {
        int token = glanz_json_member(json, frame->object, keys[i]);
        if (strcmp(keys[i], "brightness") != 0 && token >= 0 && glanz_json_is(json, token, JSON_OBJECT) &&
            glanz_json_member(json, token, "follows") >= 0) {
            glanz_json_fail(json, token,
                            "this cannot follow a signal; expected a value, or in a text the input in braces, as {tide 0.0 to "
                            "6.5}",
                            NULL, NULL);
            return;
        }
    }
    read_params(reading, frame, look);
}

/* ---- where they end ---- */

/* Stops of a palette of the library. @param between how they are mixed there too */
static void take_stops(struct json *json, int token, struct glanz_show_palette *palette, int between) {
    struct names names = {&glanz_palettes[0].name, sizeof glanz_palettes[0], glanz_palette_count, 0, NULL};
    int index = glanz_find_name(json, token, &names, "no such palette of the library");
    if (json->status == GLANZ_OK) {
        palette->chosen = glanz_palettes[index].stops;
        palette->chosen_count = glanz_palettes[index].count;
        palette->between = between ? glanz_palettes[index].between : palette->between;
    }
}

void glanz_read_palette_end(struct reading *reading, const struct read_frame *frame) {
    struct json *json = &reading->json;
    struct glanz_show_palette *palette = (struct glanz_show_palette *)(void *)frame->base;
    int list = glanz_read_token(frame, "stops");
    int of = glanz_read_token(frame, "of");
    if ((list < 0) == (of < 0)) {
        glanz_json_fail(json, of < 0 ? frame->object : of, "expected either \"stops\" or \"of\", a palette of the library",
                        NULL, NULL);
        return;
    }
    if (of >= 0) {
        take_stops(json, of, palette, glanz_read_token(frame, "between") < 0);
        list = of;
    }
    int token = list == of ? -1 : glanz_json_first(json, list);
    for (uint8_t i = 1; list != of && i < palette->chosen_count; i++) {
        token = glanz_json_next(json, list, token);
        if (palette->chosen[i].at < palette->chosen[i - 1].at) {
            glanz_json_fail(json, token, "a stop lies before the one above it; expected them in order", NULL, NULL);
            return;
        }
    }
    if (palette->part_from >= (palette->part_to == 0 ? 65535 : palette->part_to)) {
        token = glanz_read_token(frame, "from");
        glanz_json_fail(json, token, "a palette's part ends where it begins; expected \"from\" below \"to\"", NULL, NULL);
        return;
    }
    glanz_read_gradient(reading, palette, palette->chosen, palette->chosen_count, palette->between, list);
    struct glanz_gradient *gradient = (struct glanz_gradient *)(uintptr_t)palette->gradient; /* this reader's own memory */
    if (json->status == GLANZ_OK && gradient != NULL) {
        gradient->runs = palette->runs;
        gradient->folded = palette->folded;
        gradient->reversed = palette->reversed;
        gradient->span = palette->span;
        gradient->pass_ms = palette->pass_ms;
    }
}

void glanz_read_look_end(struct json *json, const struct read_frame *frame) {
    const struct glanz_look *look = (const struct glanz_look *)(const void *)frame->base;
    int token = glanz_read_token(frame, "palette");
    uint8_t content = look->effect->content;
    int edge = glanz_json_member(json, frame->object, "edge color");
    if (json->status == GLANZ_OK && content == GLANZ_CONTENT_WRITING && edge >= 0 &&
        ((GLANZ_CONST struct glanz_writing *)look->content)->edge == GLANZ_EDGE_NONE) {
        glanz_json_fail(json, edge, "there is no edge to colour; expected \"edge\" beside it", NULL, NULL);
        return;
    }
    if (json->status == GLANZ_OK && token >= 0 && content != GLANZ_CONTENT_NONE && content != GLANZ_CONTENT_WRITING) {
        glanz_json_fail(json, token, "this effect has the colors of what it shows; expected no palette", NULL, NULL);
        return;
    }
    if (json->status == GLANZ_OK && token >= 0 && (look->effect->needs & GLANZ_NEEDS_GRADIENT) == 0 &&
        (look->gradient == NULL || look->gradient->runs == GLANZ_RUNS_BY_EFFECT)) {
        glanz_json_fail(
            json, token,
            "this effect has no use for a palette of its own; expected one that \"runs\" through time, along, across, "
            "outward or around",
            NULL, NULL);
    }
}
