/* SPDX-License-Identifier: MIT */
/* A show from its document, for a rig. Names are resolved as they are met: colours, palettes, looks, segments, presets,
 * playlists, then what acts on them. */
#include <string.h>

#include "parts.h"

const char *const glanz_document_blends[] = {"cover", "add", "lighter", "darker", "multiply", NULL};
const char *const glanz_document_betweens[] = {"light", "even", "bands", NULL};
static const char *const show_keys[] = {"show",   "brightness", "change",   "colors",  "palettes",  "pictures",
                                        "looks",  "segments",   "stack",    "presets", "playlists", "start",
                                        "resume", "triggers",   "calendar", NULL};
static const char *const palette_keys[] = {"stops", "between", NULL};
static const char *const stop_keys[] = {"at", "color", NULL};
static const char *const segment_keys[] = {"surface", "first",   "leds",       "grain",   "stencil", "reversed", "mirrored",
                                           "blend",   "opacity", "brightness", "on",      "look",    "lies",     "turned",
                                           "part",    "left",    "top",        "columns", "rows",    NULL};
static const char *const part_keys[] = {"look", "on", "brightness", "palette", NULL};

/* ---- small things ---- */

static uint16_t read_lightness(struct json *json, int token) {
    return (uint16_t)glanz_json_quantity(json, token, QUANTITY_LIGHTNESS, 0, 65535, NULL);
}

static uint16_t at_least_one(uint16_t level) { /* 0 would mean "not said" */
    return level == 0 ? 1 : level;
}

/* ---- colours, palettes ---- */

static void read_colors(struct reading *reading, int object) {
    struct json *json = &reading->json;
    int count = glanz_json_list(json, object, JSMN_OBJECT, 255);
    reading->colors = (struct glanz_named_color *)glanz_json_take(json, sizeof *reading->colors * (size_t)count);
    uint16_t index = 0;
    for (int key = count == 0 ? -1 : glanz_json_first(json, object); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, object, key), index++) {
        reading->colors[index].name = glanz_json_name(json, key);
        reading->colors[index].color = glanz_json_color(json, key + 1, NULL, 0);
        if (json->status == GLANZ_OK && strchr(reading->colors[index].name, ',') != NULL) {
            glanz_json_fail(json, key, "expected a colour's name without a comma", NULL, NULL);
        }
    }
    reading->show->color_count = index;
    reading->show->colors = reading->colors;
}

static void build_gradient(struct reading *reading, struct glanz_show_palette *palette, const struct glanz_color_stop *chosen,
                           uint8_t count, uint8_t between, int token) {
    struct json *json = &reading->json;
    /* built at the end of the free memory first, to see how many stops it takes */
    uint16_t room = (uint16_t)(count * GLANZ_STOPS_EACH > GLANZ_STOPS_MOST ? GLANZ_STOPS_MOST : count * GLANZ_STOPS_EACH);
    struct glanz_gradient *gradient = (struct glanz_gradient *)glanz_json_take(json, sizeof *gradient);
    struct glanz_stop *stops = (struct glanz_stop *)glanz_json_take(json, sizeof *stops * room);
    if (stops == NULL) {
        return;
    }
    if (glanz_gradient_build(gradient, stops, room, chosen, count, (enum glanz_between)between, reading->colors,
                             reading->show->color_count) != GLANZ_OK) {
        glanz_json_fail(json, token, "expected stops in order, from \"0 %\" to \"100 %\"", NULL, NULL);
        return;
    }
    json->used -= (sizeof *stops * (size_t)(room - gradient->count)) & ~(size_t)7u; /* give back what it did not take */
    palette->gradient = gradient;
    palette->between = between;
}

static void read_palettes(struct reading *reading, int object) {
    struct json *json = &reading->json;
    int count = glanz_json_list(json, object, JSMN_OBJECT, 64);
    reading->palette_room = (uint8_t)(count + glanz_palette_count);
    reading->palettes = (struct glanz_show_palette *)glanz_json_take(json, sizeof *reading->palettes * reading->palette_room);
    for (int key = count == 0 ? -1 : glanz_json_first(json, object); key >= 0; key = glanz_json_next(json, object, key)) {
        struct glanz_show_palette *palette = &reading->palettes[reading->show->palette_count];
        if (!glanz_json_object(json, key + 1, palette_keys)) {
            return;
        }
        palette->name = glanz_json_name(json, key);
        int list = glanz_json_require(json, key + 1, "stops");
        int stops = glanz_json_list(json, list, JSMN_ARRAY, 64);
        int between_token = glanz_json_member(json, key + 1, "between");
        uint8_t between =
            between_token < 0 ? GLANZ_BETWEEN_EVEN : glanz_find_choice(json, between_token, glanz_document_betweens);
        struct glanz_color_stop *chosen = (struct glanz_color_stop *)glanz_json_take(json, sizeof *chosen * (size_t)stops);
        if (json->status == GLANZ_OK && stops == 0) {
            glanz_json_fail(json, list, "expected at least one stop", NULL, NULL);
        }
        uint8_t index = 0;
        for (int stop = json->status != GLANZ_OK ? -1 : glanz_json_first(json, list); stop >= 0;
             stop = glanz_json_next(json, list, stop)) {
            if (!glanz_json_object(json, stop, stop_keys)) {
                return;
            }
            chosen[index].at = read_lightness(json, glanz_json_require(json, stop, "at"));
            int color = glanz_json_require(json, stop, "color");
            chosen[index].color =
                json->status != GLANZ_OK ? 0 : glanz_json_color(json, color, reading->colors, reading->show->color_count);
            if (json->status == GLANZ_OK && index > 0 && chosen[index].at < chosen[index - 1].at) {
                glanz_json_fail(json, stop, "a stop lies before the one above it; expected them in order", NULL, NULL);
            }
            index++;
        }
        if (json->status != GLANZ_OK) {
            return;
        }
        palette->chosen = chosen;
        palette->chosen_count = (uint8_t)stops;
        build_gradient(reading, palette, chosen, (uint8_t)stops, between, list);
        reading->show->palette_count++;
    }
    reading->show->palettes = reading->palettes;
}

/* The gradient of a palette by name: the show's own, or one that comes along, which is built now. */
static const struct glanz_gradient *find_palette(struct reading *reading, int token) {
    struct json *json = &reading->json;
    uint8_t count = reading->show->palette_count;
    for (uint8_t i = 0; json->status == GLANZ_OK && i < count; i++) {
        if (glanz_json_is(json, token, JSMN_STRING) && glanz_json_equal(json, token, reading->palettes[i].name)) {
            return reading->palettes[i].gradient;
        }
    }
    for (uint8_t i = 0; json->status == GLANZ_OK && i < glanz_palette_count; i++) {
        if (glanz_json_is(json, token, JSMN_STRING) && glanz_json_equal(json, token, glanz_palettes[i].name)) {
            struct glanz_show_palette *palette = &reading->palettes[count];
            palette->name = glanz_palettes[i].name;
            build_gradient(reading, palette, glanz_palettes[i].stops, glanz_palettes[i].count, glanz_palettes[i].between,
                           token);
            reading->show->palette_count++;
            return palette->gradient;
        }
    }
    if (json->status == GLANZ_OK) {
        char said[64] = "";
        const char *names[80];
        uint8_t at = 0;
        for (uint8_t i = 0; i < count && at < 70; i++) {
            names[at++] = reading->palettes[i].name;
        }
        for (uint8_t i = 0; i < glanz_palette_count && at < 79; i++) {
            names[at++] = glanz_palettes[i].name;
        }
        names[at] = NULL;
        if (glanz_json_is(json, token, JSMN_STRING)) {
            glanz_json_copy(json, token, said, sizeof said);
        }
        const char *nearest = glanz_json_nearest(said, names, sizeof *names, at);
        glanz_json_fail(json, token, "no such palette", NULL,
                        nearest == NULL ? "; expected one of the show's or the library's" : "; did you mean ");
        if (nearest != NULL) {
            glanz_fault_name(json->fault, nearest);
        }
    }
    return NULL;
}

/* ---- looks ---- */

/* "3 amber, 1 white, 2 teal" */
static const struct glanz_pattern *read_pattern(struct reading *reading, int token) {
    struct json *json = &reading->json;
    char *text = glanz_json_is(json, token, JSMN_STRING) ? glanz_json_text(json, token) : NULL;
    struct glanz_pattern *pattern = (struct glanz_pattern *)glanz_json_take(json, sizeof *pattern);
    size_t commas = 1;
    for (const char *c = text; c != NULL && *c != '\0'; c++) {
        commas += *c == ',';
    }
    struct glanz_block *blocks = (struct glanz_block *)glanz_json_take(json, sizeof *blocks * commas);
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
        good = good && glanz_color_of_text(&color, at, length, reading->colors, reading->show->color_count);
        if (good) {
            color = (color >> 24) == 3 ? reading->colors[color & 0xFFFFu].color : color;
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
    if (json->status != GLANZ_OK) {
        return NULL;
    }
    pattern->kind = GLANZ_CONTENT_PATTERN;
    pattern->text = text;
    pattern->blocks = blocks;
    pattern->count = count;
    pattern->leds = (uint16_t)leds;
    return pattern;
}

static void read_setting(struct reading *reading, int token, GLANZ_CONST struct glanz_param *param,
                         struct glanz_setting *setting) {
    struct json *json = &reading->json;
    uint8_t unit = GLANZ_UNIT_NONE;
    switch (param->kind) {
    case GLANZ_PARAM_COLOR:
        setting->number = (int32_t)glanz_json_color(json, token, reading->colors, reading->show->color_count);
        break;
    case GLANZ_PARAM_LENGTH:
        setting->number = (int32_t)glanz_json_quantity(json, token, QUANTITY_LENGTH, param->low, param->high, &unit);
        break;
    case GLANZ_PARAM_RATE:
        setting->number = (int32_t)glanz_json_quantity(json, token, QUANTITY_RATE, param->low, param->high, &unit);
        break;
    case GLANZ_PARAM_SHARE:
        setting->number = (int32_t)glanz_json_quantity(json, token, QUANTITY_SHARE, param->low, param->high, NULL);
        break;
    case GLANZ_PARAM_COUNT:
        setting->number = (int32_t)glanz_json_count(json, token, (uint32_t)param->low, (uint32_t)param->high);
        break;
    case GLANZ_PARAM_FLAG: setting->number = glanz_json_flag(json, token); break;
    default: {
        const char *names[17];
        uint8_t count = 0;
        for (; count <= param->high && count < 16; count++) {
            names[count] = param->choices[count];
        }
        names[count] = NULL;
        setting->number = glanz_find_choice(json, token, names);
        break;
    }
    }
    setting->unit = unit;
}

static GLANZ_CONST struct glanz_effect *find_effect(struct reading *reading, int token) {
    struct json *json = &reading->json;
    const char *names[65];
    uint8_t count = 0;
    for (; reading->effects[count] != NULL && count < 64; count++) {
        names[count] = reading->effects[count]->name;
    }
    names[count] = NULL;
    int found = glanz_find_name(json, token, names, sizeof *names, count, "no such effect");
    return json->status == GLANZ_OK ? reading->effects[found] : NULL;
}

static void read_look(struct reading *reading, int object, struct glanz_look *look) {
    struct json *json = &reading->json;
    if (!glanz_json_object(json, object, NULL)) {
        return;
    }
    look->effect = find_effect(reading, glanz_json_require(json, object, "effect"));
    if (look->effect == NULL) {
        return;
    }
    const char *keys[GLANZ_PARAMS + 8];
    uint8_t known = 0;
    for (; known < look->effect->param_count; known++) {
        keys[known] = look->effect->params[known].name;
    }
    keys[known++] = "effect";
    keys[known++] = "brightness";
    if ((look->effect->needs & GLANZ_NEEDS_GRADIENT) != 0) {
        keys[known++] = "palette";
    }
    for (uint8_t i = 0; look->effect->content < 5 && glanz_content_keys[look->effect->content][i] != NULL; i++) {
        keys[known++] = glanz_content_keys[look->effect->content][i];
    }
    keys[known] = NULL;
    if (!glanz_json_object(json, object, keys)) {
        return;
    }
    int palette = glanz_json_member(json, object, "palette");
    int blocks = glanz_json_member(json, object, "blocks");
    int brightness = glanz_json_member(json, object, "brightness");
    struct glanz_setting *settings =
        (struct glanz_setting *)glanz_json_take(json, sizeof *settings * look->effect->param_count);
    for (uint8_t i = 0; settings != NULL && i < look->effect->param_count; i++) {
        int token = glanz_json_member(json, object, look->effect->params[i].name);
        if (token >= 0) {
            settings[look->setting_count].param = i;
            read_setting(reading, token, &look->effect->params[i], &settings[look->setting_count]);
            look->setting_count++;
        }
    }
    look->settings = settings;
    look->gradient = palette < 0 ? NULL : find_palette(reading, palette);
    look->content =
        blocks >= 0 ? read_pattern(reading, blocks) : glanz_read_content(json, object, look->effect->content, &reading->named);
    look->brightness = brightness < 0 ? 0 : at_least_one(read_lightness(json, brightness));
    if (look->effect->content == GLANZ_CONTENT_PATTERN && blocks < 0) {
        glanz_json_fail(json, object, "the key ", "blocks", " is missing here");
    }
}

/* ---- segments ---- */

/* "take 1, leave 11" */
static void read_stencil(struct json *json, int token, uint8_t *stencil) {
    char text[96];
    size_t length = glanz_json_is(json, token, JSMN_STRING) ? glanz_json_copy(json, token, text, sizeof text) : sizeof text;
    int good = length < sizeof text;
    const char *at = text;
    uint8_t count = 0;
    while (good) {
        const char *word = count % 2 == 0 ? "take " : "leave ";
        uint32_t number = 0;
        good = count < GLANZ_STENCIL && strncmp(at, word, strlen(word)) == 0;
        at += good ? strlen(word) : 0;
        const char *digits = at;
        while (good && *at >= '0' && *at <= '9' && at - digits < 4) {
            number = number * 10u + (uint32_t)(*at++ - '0');
        }
        good = good && number >= 1 && number <= 255;
        if (good) {
            stencil[count++] = (uint8_t)number;
        }
        if (!good || *at == '\0') {
            break;
        }
        good = at[0] == ',' && at[1] == ' ';
        at += 2;
    }
    if (!good || count % 2 != 0) {
        glanz_json_fail(json, token, "expected a stencil such as \"take 1, leave 3\": up to four pairs, 1 to 255 each", NULL,
                        NULL);
    }
}

/* Is the rectangle whole, and does it take LEDs of the surface? */
static void read_rectangle(struct json *json, int object, const struct glanz_segment *segment,
                           GLANZ_CONST struct glanz_surface *on) {
    struct glanz_field field;
    int columns = glanz_json_member(json, object, "columns");
    int rows = glanz_json_member(json, object, "rows");
    int left = glanz_json_member(json, object, "left");
    if ((columns < 0) != (rows < 0) || (columns < 0 && (left >= 0 || glanz_json_member(json, object, "top") >= 0))) {
        glanz_json_fail(json,
                        columns >= 0 ? columns
                        : rows >= 0  ? rows
                                     : object,
                        "a rectangle needs \"columns\" and \"rows\", and may have \"left\" and \"top\"", NULL, NULL);
        return;
    }
    if (!glanz_cut_field(&field, &segment->cut, on)) {
        uint16_t wide;
        uint16_t high;
        glanz_surface_field(&wide, &high, on);
        glanz_json_fail(json, columns >= 0 ? columns : object, "takes no LED of surface ", on->name,
                        " or reaches out of it; expected a rectangle with LEDs, within ");
        glanz_fault_number(json->fault, wide);
        glanz_fault_add(json->fault, " x ");
        glanz_fault_number(json->fault, high);
    }
}

static void read_segment(struct reading *reading, int object, struct glanz_segment *segment) {
    struct json *json = &reading->json;
    if (!glanz_json_object(json, object, segment_keys)) {
        return;
    }
    int surface = glanz_json_require(json, object, "surface");
    if (json->status != GLANZ_OK) {
        return;
    }
    segment->surface =
        (uint8_t)glanz_find_name(json, surface, reading->rig->surface_count == 0 ? NULL : &reading->rig->surfaces->name,
                                 sizeof *reading->rig->surfaces, reading->rig->surface_count, "no such surface in the rig");
    for (int key = glanz_json_first(json, object); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, object, key)) {
        int token = key + 1;
        if (glanz_read_cut_member(json, key, &segment->cut, &reading->rig->surfaces[segment->surface])) {
            continue;
        }
        if (glanz_json_equal(json, key, "first")) {
            segment->cut.first = (uint16_t)glanz_json_count(json, token, 0, GLANZ_LEDS_MOST - 1);
        } else if (glanz_json_equal(json, key, "leds")) {
            segment->cut.leds = (uint16_t)glanz_json_count(json, token, 1, GLANZ_LEDS_MOST);
        } else if (glanz_json_equal(json, key, "grain")) {
            segment->cut.grain = (uint8_t)glanz_json_count(json, token, 1, 255);
        } else if (glanz_json_equal(json, key, "stencil")) {
            read_stencil(json, token, segment->cut.stencil);
        } else if (glanz_json_equal(json, key, "reversed")) {
            segment->cut.reversed = glanz_json_flag(json, token) != 0;
        } else if (glanz_json_equal(json, key, "mirrored")) {
            segment->cut.mirrored = glanz_json_flag(json, token) != 0;
        } else if (glanz_json_equal(json, key, "blend")) {
            segment->blend = glanz_find_choice(json, token, glanz_document_blends);
        } else if (glanz_json_equal(json, key, "opacity")) {
            segment->opacity = at_least_one(read_lightness(json, token));
        } else if (glanz_json_equal(json, key, "brightness")) {
            segment->brightness = at_least_one(read_lightness(json, token));
        } else if (glanz_json_equal(json, key, "on")) {
            segment->off = !glanz_json_flag(json, token);
        } else if (glanz_json_equal(json, key, "look")) {
            segment->look = glanz_read_find_look(reading, token);
        }
    }
    if (json->status != GLANZ_OK) {
        return;
    }
    GLANZ_CONST struct glanz_surface *on = &reading->rig->surfaces[segment->surface];
    uint32_t leds = segment->cut.piece == 0 ? glanz_surface_leds(on) : on->pieces[segment->cut.piece - 1].leds;
    uint32_t end = segment->cut.first + (uint32_t)(segment->cut.leds == 0 ? 1 : segment->cut.leds);
    if (end > leds) {
        int token = glanz_json_member(json, object, segment->cut.leds == 0 ? "first" : "leds");
        glanz_json_fail(json, token, "the segment ends past surface ", on->name, ", which has ");
        glanz_fault_number(json->fault, leds);
        glanz_fault_add(json->fault, " LEDs; expected \"first\" and \"leds\" to stay within");
        return;
    }
    read_rectangle(json, object, segment, on);
}

static void read_stack(struct reading *reading, int token) {
    struct json *json = &reading->json;
    if (token < 0) {
        return;
    }
    int count = glanz_json_list(json, token, JSMN_ARRAY, GLANZ_SEGMENTS_MOST);
    uint8_t *stack = (uint8_t *)glanz_json_take(json, (size_t)count + 1);
    uint64_t seen = 0;
    uint8_t index = 0;
    for (int at = count == 0 ? -1 : glanz_json_first(json, token); at >= 0 && json->status == GLANZ_OK;
         at = glanz_json_next(json, token, at)) {
        uint8_t segment = glanz_read_find_segment(reading, at);
        if (json->status == GLANZ_OK && (seen >> segment & 1u) != 0) {
            glanz_json_fail(json, at, "the segment stands twice in the stack; expected each once", NULL, NULL);
            return;
        }
        seen |= (uint64_t)1 << segment;
        stack[index++] = segment;
    }
    if (json->status == GLANZ_OK && index != reading->show->segment_count) {
        glanz_json_fail(json, token, "expected every segment of the show once, bottom first", NULL, NULL);
    }
    reading->show->stack = stack;
}

/* ---- presets, playlists ---- */

static void read_preset(struct reading *reading, int object, struct glanz_preset *preset) {
    struct json *json = &reading->json;
    int count = glanz_json_list(json, object, JSMN_OBJECT, GLANZ_SEGMENTS_MOST);
    struct glanz_part *parts = (struct glanz_part *)glanz_json_take(json, sizeof *parts * (size_t)count);
    for (int key = count == 0 ? -1 : glanz_json_first(json, object); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, object, key)) {
        struct glanz_part *part = &parts[preset->part_count++];
        part->segment = glanz_read_find_segment(reading, key);
        if (glanz_json_is(json, key + 1, JSMN_STRING)) {
            part->aspects = GLANZ_ASPECT_LOOK;
            part->look = glanz_read_find_look(reading, key + 1);
            continue;
        }
        if (!glanz_json_object(json, key + 1, part_keys)) {
            return;
        }
        int look = glanz_json_member(json, key + 1, "look");
        int on = glanz_json_member(json, key + 1, "on");
        int brightness = glanz_json_member(json, key + 1, "brightness");
        if (look >= 0) {
            part->aspects |= GLANZ_ASPECT_LOOK;
            part->look = glanz_read_find_look(reading, look);
        }
        int palette = glanz_json_member(json, key + 1, "palette");
        if (palette >= 0) {
            part->aspects |= GLANZ_ASPECT_PALETTE;
            part->gradient = find_palette(reading, palette);
            if (look >= 0) {
                glanz_json_fail(json, palette, "a look brings its own palette; expected either \"look\" or \"palette\"", NULL,
                                NULL);
            }
        }
        if (on >= 0) {
            part->aspects |= GLANZ_ASPECT_ON;
            part->on = glanz_json_flag(json, on) != 0;
        }
        if (brightness >= 0) {
            part->aspects |= GLANZ_ASPECT_BRIGHTNESS;
            part->brightness = read_lightness(json, brightness);
        }
    }
    preset->parts = parts;
}

/* ---- the whole ---- */

static void read_all(struct reading *reading) {
    struct json *json = &reading->json;
    struct glanz_show *show = reading->show;
    int name = glanz_json_require(json, 0, "show");
    int brightness = glanz_json_member(json, 0, "brightness");
    int change = glanz_json_member(json, 0, "change");
    show->name = json->status == GLANZ_OK ? glanz_json_name(json, name) : NULL;
    show->brightness = brightness < 0 ? 0 : at_least_one(read_lightness(json, brightness));
    if (change >= 0) {
        show->change_ms = (uint32_t)glanz_json_quantity(json, change, QUANTITY_TIME, 0, 3600000, NULL);
        show->change_ms = show->change_ms == 0 ? GLANZ_OWN_TIME : show->change_ms;
    }
    read_colors(reading, glanz_json_member(json, 0, "colors"));
    read_palettes(reading, glanz_json_member(json, 0, "palettes"));

    int pictures = glanz_json_member(json, 0, "pictures");
    int picture_count = glanz_json_list(json, pictures, JSMN_OBJECT, 255);
    struct glanz_picture *picture = (struct glanz_picture *)glanz_json_take(json, sizeof *picture * (size_t)picture_count);
    reading->named.colors = reading->colors;
    reading->named.color_count = show->color_count;
    reading->named.pictures = picture;
    show->pictures = picture;
    for (int key = picture_count == 0 ? -1 : glanz_json_first(json, pictures); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, pictures, key)) {
        picture[show->picture_count].name = glanz_json_name(json, key);
        glanz_read_picture(json, key + 1, &picture[show->picture_count], &reading->named);
        show->picture_count++;
    }
    reading->named.picture_count = show->picture_count;

    int looks = glanz_json_require(json, 0, "looks");
    int count = glanz_json_list(json, looks, JSMN_OBJECT, 1000);
    struct glanz_look *made_looks = (struct glanz_look *)glanz_json_take(json, sizeof *made_looks * (size_t)count);
    reading->looks = made_looks;
    show->looks = reading->looks;
    for (int key = count == 0 ? -1 : glanz_json_first(json, looks); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, looks, key)) {
        struct glanz_look *look = &made_looks[show->look_count];
        look->name = glanz_json_name(json, key);
        read_look(reading, key + 1, look);
        show->look_count++;
    }

    int segments = glanz_json_require(json, 0, "segments");
    count = glanz_json_list(json, segments, JSMN_OBJECT, GLANZ_SEGMENTS_MOST);
    struct glanz_segment *made_segments = (struct glanz_segment *)glanz_json_take(json, sizeof *made_segments * (size_t)count);
    reading->segments = made_segments;
    show->segments = reading->segments;
    for (int key = count == 0 ? -1 : glanz_json_first(json, segments); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, segments, key)) {
        struct glanz_segment *segment = &made_segments[show->segment_count];
        segment->name = glanz_json_name(json, key);
        segment->seed = glanz_text_hash(segment->name);
        read_segment(reading, key + 1, segment);
        show->segment_count++;
    }
    read_stack(reading, glanz_json_member(json, 0, "stack"));

    int presets = glanz_json_member(json, 0, "presets");
    count = glanz_json_list(json, presets, JSMN_OBJECT, 255);
    struct glanz_preset *made_presets = (struct glanz_preset *)glanz_json_take(json, sizeof *made_presets * (size_t)count);
    reading->presets = made_presets;
    show->presets = reading->presets;
    for (int key = count == 0 ? -1 : glanz_json_first(json, presets); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, presets, key)) {
        struct glanz_preset *preset = &made_presets[show->preset_count];
        preset->name = glanz_json_name(json, key);
        read_preset(reading, key + 1, preset);
        show->preset_count++;
    }

    glanz_read_playlists(reading, glanz_json_member(json, 0, "playlists"));

    int start = glanz_json_member(json, 0, "start");
    if (start >= 0 && json->status == GLANZ_OK) {
        struct glanz_action *action = (struct glanz_action *)glanz_json_take(json, sizeof *action);
        if (action != NULL) {
            glanz_read_action(reading, start, action);
        }
        show->start = action;
    }

    int resume = glanz_json_member(json, 0, "resume");
    show->resume = resume >= 0 && glanz_json_flag(json, resume) != 0;

    int triggers = glanz_json_member(json, 0, "triggers");
    count = glanz_json_list(json, triggers, JSMN_OBJECT, 255);
    struct glanz_trigger *trigger = (struct glanz_trigger *)glanz_json_take(json, sizeof *trigger * (size_t)count);
    show->triggers = trigger;
    for (int key = count == 0 ? -1 : glanz_json_first(json, triggers); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, triggers, key)) {
        trigger[show->trigger_count].name = glanz_json_name(json, key);
        glanz_read_trigger(reading, key + 1, &trigger[show->trigger_count]);
        show->trigger_count++;
    }
    glanz_read_calendar(reading, glanz_json_member(json, 0, "calendar"));
}

glanz_status glanz_show_read(GLANZ_CONST struct glanz_show **out, size_t *used, void *memory, size_t size, const char *text,
                             size_t count, GLANZ_CONST struct glanz_rig *rig,
                             GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects, const struct glanz_picture *kept,
                             uint8_t kept_count, struct glanz_fault *fault) {
    struct reading reading;
    if (out == NULL || used == NULL || memory == NULL || text == NULL || rig == NULL || effects == NULL ||
        (kept == NULL && kept_count != 0)) {
        return GLANZ_ERR_ARGUMENT;
    }
    memset(&reading, 0, sizeof reading);
    reading.rig = rig;
    reading.effects = effects;
    struct glanz_world world;
    memset(&world, 0, sizeof world);
    world.values = rig->input_count;
    world.name = rig->input_count == 0 ? NULL : &rig->inputs->name;
    world.name_step = sizeof *rig->inputs;
    reading.named.world = &world;
    reading.named.kept = kept;
    reading.named.kept_count = kept == NULL ? 0 : kept_count;
    struct json *json = &reading.json;
    if (glanz_json_open(json, memory, size, text, count, fault) != GLANZ_OK || !glanz_json_object(json, 0, show_keys)) {
        return json->status;
    }
    reading.show = (struct glanz_show *)glanz_json_take(json, sizeof *reading.show);
    if (reading.show == NULL) {
        return json->status;
    }
    read_all(&reading);
    glanz_status status = json->status == GLANZ_OK ? glanz_show_check(reading.show, rig, fault) : GLANZ_OK;
    if (status != GLANZ_OK) {
        glanz_json_fail_checked(json, status);
    }
    if (json->status == GLANZ_OK) {
        *out = reading.show;
        *used = json->used;
    }
    return json->status;
}

glanz_status glanz_action_read(struct glanz_action *action, void *memory, size_t size, const char *text, size_t count,
                               GLANZ_CONST struct glanz_show *show, struct glanz_fault *fault) {
    struct reading reading;
    if (action == NULL || memory == NULL || text == NULL || show == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    memset(&reading, 0, sizeof reading);
    memset(action, 0, sizeof *action);
    struct glanz_show named = *show; /* what names lead to is looked up, and nothing is changed */
    reading.show = &named;
    reading.looks = show->looks;
    reading.segments = show->segments;
    reading.presets = show->presets;
    reading.playlists = show->playlists;
    if (glanz_json_open(&reading.json, memory, size, text, count, fault) == GLANZ_OK) {
        glanz_read_action(&reading, 0, action);
    }
    return reading.json.status;
}
