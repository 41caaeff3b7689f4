/* SPDX-License-Identifier: MIT */
/* A show from its document, for a rig: what its rows leave to hooks. Names are resolved as they are met: colours, palettes,
 * looks, segments, presets, playlists, then what acts on them. */
#include <string.h>

#include "read.h"

/* ---- segments ---- */

/* "take 1, leave 11" */
static void read_stencil(struct json *json, int token, uint8_t *stencil) {
    char text[96];
    size_t length = glanz_json_is(json, token, JSON_STRING) ? glanz_json_copy(json, token, text, sizeof text) : sizeof text;
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

static int read_led(const char **at, uint32_t *led) {
    const char *digits = *at;
    *led = 0;
    while (**at >= '0' && **at <= '9' && *at - digits < 5) {
        *led = *led * 10u + (uint32_t)(*(*at)++ - '0');
    }
    return *at != digits && *led < GLANZ_LEDS_MOST;
}

/* "3, 10 to 19, 29 to 20": picks in the order of their LEDs. */
static void read_picked(struct json *json, int token, struct glanz_region *region) {
    char *text = glanz_json_is(json, token, JSON_STRING) ? glanz_json_text(json, token) : NULL;
    size_t commas = 1;
    for (const char *c = text; c != NULL && *c != '\0'; c++) {
        commas += *c == ',';
    }
    int good = text != NULL && commas <= GLANZ_PICKS_MOST;
    struct glanz_pick *picks = good ? (struct glanz_pick *)glanz_json_allocate(json, sizeof *picks * commas) : NULL;
    uint32_t place = 0;
    region->picks = picks;
    for (const char *at = text; good && picks != NULL;) {
        uint32_t ends[2];
        good = read_led(&at, &ends[0]);
        ends[1] = ends[0];
        if (good && strncmp(at, " to ", 4) == 0) {
            at += 4;
            good = read_led(&at, &ends[1]);
        }
        struct glanz_pick pick = {(uint16_t)(ends[0] < ends[1] ? ends[0] : ends[1]), 0, (uint16_t)place, ends[1] < ends[0]};
        pick.leds = (uint16_t)((ends[0] < ends[1] ? ends[1] - ends[0] : ends[0] - ends[1]) + 1u);
        place += pick.leds;
        good = good && place <= GLANZ_LEDS_MOST;
        uint8_t k = region->pick_count;
        for (; good && k > 0 && picks[k - 1].led > pick.led; k--) { /* at most 255 of them */
            picks[k] = picks[k - 1];
        }
        if (good) {
            picks[k] = pick;
            region->pick_count++;
        }
        if (!good || *at == '\0') {
            break;
        }
        good = at[0] == ',' && at[1] == ' ';
        at += 2;
    }
    if (!good) {
        glanz_json_fail(json, token, "expected LEDs of the surface such as \"3, 10 to 19, 29 to 20\": at most 255 of these",
                        NULL, NULL);
    }
}

/* Each LED once, all of them there, and nothing else that cuts. */
static void check_picked(struct reading *reading, const struct read_frame *frame, const struct glanz_segment *segment,
                         GLANZ_CONST struct glanz_surface *on) {
    static const char *const others[] = {"first", "leds", "stencil", "part", "columns"};
    struct json *json = &reading->json;
    const struct glanz_region *region = &segment->region;
    uint32_t leds = glanz_surface_leds(on);
    int token = glanz_read_token(frame, "picked");
    for (uint8_t i = 0; i < sizeof others / sizeof others[0]; i++) {
        if (glanz_read_token(frame, others[i]) >= 0) {
            glanz_json_fail(json, glanz_read_token(frame, others[i]), "expected no ", others[i], " beside \"picked\"");
            return;
        }
    }
    for (uint8_t i = 0; i < region->pick_count && json->status == GLANZ_OK; i++) {
        GLANZ_CONST struct glanz_pick *pick = &region->picks[i];
        uint32_t end = (uint32_t)pick->led + pick->leds;
        if (end > leds || (i + 1u < region->pick_count && end > region->picks[i + 1].led)) {
            glanz_json_fail(json, token, "LED ", NULL, NULL);
            glanz_fault_number(json->fault, end > leds ? end - 1u : region->picks[i + 1].led);
            glanz_fault_add(json->fault, end > leds ? " is past the end of surface " : " is picked twice from surface ");
            glanz_fault_name(json->fault, on->name);
            glanz_fault_add(json->fault, "; expected each once, of 0 to ");
            glanz_fault_number(json->fault, leds - 1u);
        }
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
    int bearing = glanz_json_member(json, object, "bearing");
    if (bearing >= 0 && segment->region.mapping != GLANZ_MAPPING_SLANTED) {
        glanz_json_fail(json, bearing, "a bearing is for what lies slanted; expected \"lies\": \"slanted\" beside it", NULL,
                        NULL);
        return;
    }
    struct glanz_region own = segment->region;
    int fits = glanz_region_field(&field, &segment->region, on);
    own.within = NULL;
    if (!fits && segment->region.within != NULL && glanz_region_field(&field, &own, on)) {
        glanz_json_fail(json, glanz_json_member(json, object, "within"), "the segment itself, ", NULL, NULL);
        glanz_fault_number(json->fault, field.columns);
        glanz_fault_add(json->fault, " x ");
        glanz_fault_number(json->fault, field.rows);
        glanz_fault_add(json->fault, ", does not lie in it; expected one that it does, of 1023 x 1023 at the most (32767 "
                                     "points by rows or columns), or 32767 x 1");
        return;
    }
    if (!fits) {
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

/* 1 + the index of a panel or ring by name. */
static uint8_t find_part(struct json *json, int token, GLANZ_CONST struct glanz_surface *surface) {
    for (uint8_t i = 0; i < surface->piece_count; i++) {
        const char *name = surface->panels != NULL                                            ? surface->panels[i].name
                           : surface->circles != NULL && surface->kind == GLANZ_SURFACE_RINGS ? surface->circles[i].name
                                                                                              : NULL;
        if (name != NULL && glanz_json_is(json, token, JSON_STRING) && glanz_json_equal(json, token, name)) {
            return (uint8_t)(i + 1);
        }
    }
    glanz_json_fail(json, token, "no such panel or ring on surface ", surface->name, "; expected the \"name\" of one");
    return 0;
}

static void end_segment(struct reading *reading, const struct read_frame *frame) {
    struct json *json = &reading->json;
    struct glanz_segment *segment = (struct glanz_segment *)(void *)frame->base;
    GLANZ_CONST struct glanz_surface *on = &reading->rig->surfaces[segment->surface];
    if (segment->region.pick_count != 0) {
        check_picked(reading, frame, segment, on);
    }
    if (json->status != GLANZ_OK) {
        return;
    }
    segment->seed = glanz_read_token(frame, "seed") >= 0 ? segment->seed : glanz_text_hash(segment->name);
    uint32_t leds = segment->region.piece == 0 ? glanz_surface_leds(on) : on->pieces[segment->region.piece - 1].leds;
    uint32_t end = segment->region.first + (uint32_t)(segment->region.leds == 0 ? 1 : segment->region.leds);
    if (end > leds) {
        int token = glanz_read_token(frame, segment->region.leds == 0 ? "first" : "leds");
        glanz_json_fail(json, token < 0 ? frame->object : token, "the segment ends past surface ", on->name, ", which has ");
        glanz_fault_number(json->fault, leds);
        glanz_fault_add(json->fault, " LEDs; expected \"first\" and \"leds\" to stay within");
        return;
    }
    read_rectangle(json, frame->object, segment, on);
}

static void read_stack(struct reading *reading, int token) {
    struct json *json = &reading->json;
    int count = glanz_json_list(json, token, JSON_ARRAY, GLANZ_SEGMENTS_MOST);
    uint8_t *stack = (uint8_t *)glanz_json_allocate(json, (size_t)count + 1);
    uint64_t seen = 0;
    uint8_t index = 0;
    for (int at = count == 0 ? -1 : glanz_json_first(json, token); at >= 0 && json->status == GLANZ_OK;
         at = glanz_json_next(json, token, at)) {
        uint8_t segment = (uint8_t)glanz_read_find(reading, at, SCOPE_SEGMENTS);
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

/* ---- palettes, pictures, marks ---- */

static void begin_picture(struct reading *reading, const struct read_frame *frame) {
    struct glanz_picture *picture = (struct glanz_picture *)(void *)frame->base;
    int rows = glanz_read_token(frame, "rows");
    int data = glanz_read_token(frame, "data");
    int colors = glanz_read_token(frame, "colors");
    picture->kind = GLANZ_CONTENT_PICTURE;
    if ((rows < 0) == (data < 0) || (rows < 0) != (colors < 0)) {
        glanz_json_fail(&reading->json, frame->object, "expected either \"rows\" and \"colors\", or \"data\"", NULL, NULL);
    } else if (rows >= 0) {
        glanz_read_sketch(reading, rows, colors, picture);
    }
}

static void begin_mark(struct json *json, struct read_frame *frame) {
    struct glanz_mark *mark = (struct glanz_mark *)(void *)frame->base;
    int first = glanz_read_token(frame, "first");
    int left = glanz_read_token(frame, "left");
    int top = glanz_read_token(frame, "top");
    if ((first >= 0) == (left >= 0) || (left < 0) != (top < 0)) {
        glanz_json_fail(json, frame->object,
                        "expected either \"first\" (and \"leds\"), or \"left\" and \"top\" (and \"columns\", \"rows\")", NULL,
                        NULL);
    }
    mark->placed = left >= 0;
}

#define KIND(kind) (1u << GLANZ_SIGNAL_##kind)

/* Which keys go with which kind of signal. */
static void begin_signal(struct json *json, const struct read_frame *frame) {
    static const struct {
        const char *key;
        uint8_t kinds, needed; /* bits of those that may have it, and of those that must */
    } keys[] = {{"period", KIND(WAVE), KIND(WAVE)},
                {"of", KIND(COMBINE) | KIND(SOUND), KIND(COMBINE) | KIND(SOUND)},
                {"and", KIND(COMBINE), KIND(COMBINE)},
                {"phase", KIND(WAVE), 0},
                {"low", KIND(WAVE), 0},
                {"high", KIND(WAVE), 0},
                {"band", KIND(SOUND), 0}};
    struct glanz_signal *signal = (struct glanz_signal *)(void *)frame->base;
    int wave = glanz_read_token(frame, "wave");
    uint8_t is = wave >= 0                                 ? KIND(WAVE)
                 : glanz_read_token(frame, "combine") >= 0 ? KIND(COMBINE)
                 : glanz_read_token(frame, "sound") >= 0   ? KIND(SOUND)
                                                           : 0;
    signal->seed = glanz_text_hash(signal->name);
    signal->high = wave >= 0 ? GLANZ_LEVEL_FULL : 0;
    for (size_t i = 0; i < sizeof keys / sizeof *keys && json->status == GLANZ_OK; i++) {
        int token = glanz_read_token(frame, keys[i].key);
        if (token >= 0 && (keys[i].kinds & is) == 0) {
            glanz_json_fail(json, token, "expected no ", keys[i].key, " with this kind of signal");
        } else if (token < 0 && (keys[i].needed & is) != 0) {
            glanz_json_fail(json, frame->object, "the key ", keys[i].key, " is missing here");
        }
    }
}

/* What a signal of sound listens to has what it names. */
static void end_sound(struct reading *reading, const struct read_frame *frame, const struct glanz_signal *signal) {
    int band = glanz_read_token(frame, "band");
    GLANZ_CONST struct glanz_input *input =
        signal->first < reading->rig->input_count ? &reading->rig->inputs[signal->first] : NULL;
    if (input == NULL || input->kind != GLANZ_INPUT_SOUND) {
        glanz_json_fail(&reading->json, glanz_read_token(frame, "of"), "this is no input for sound; expected one of the rig",
                        NULL, NULL);
    } else if ((band >= 0) != (signal->form == GLANZ_HEARS_BAND)) {
        glanz_json_fail(&reading->json, band >= 0 ? band : frame->object,
                        band >= 0 ? "a band goes with \"sound\": \"band\" only" : "the key band is missing here", NULL, NULL);
    } else if (signal->form == GLANZ_HEARS_BAND && signal->second >= glanz_hearing_filled(&input->hearing).bands) {
        glanz_json_fail(&reading->json, band, "its input has fewer bands", NULL, NULL);
    }
}

/* Both signals of a combination come before it, so that none can be of itself. */
static void end_signal(struct reading *reading, const struct read_frame *frame) {
    struct glanz_signal *signal = (struct glanz_signal *)(void *)frame->base;
    uint32_t own = (uint32_t)(signal - reading->show->signals) + reading->rig->input_count;
    if (signal->kind == GLANZ_SIGNAL_COMBINE && (signal->first >= own || signal->second >= own)) {
        glanz_json_fail(&reading->json, glanz_read_token(frame, signal->first >= own ? "of" : "and"),
                        "a signal is combined of those that stand before it; expected one of them, or an input of the rig",
                        NULL, NULL);
    }
    if (signal->kind == GLANZ_SIGNAL_SOUND) {
        end_sound(reading, frame, signal);
    }
    if (signal->kind == GLANZ_SIGNAL_WAVE && signal->low == signal->high) {
        glanz_json_fail(&reading->json, frame->object, "this wave has no height; expected \"low\" and \"high\" that differ",
                        NULL, NULL);
    }
}

static void read_words(struct json *json, int token, const struct row *row, GLANZ_CONST char **words) {
    uint8_t count = row->at == offsetof(struct glanz_show, weekdays) ? 7 : 12;
    *words = glanz_json_is(json, token, JSON_STRING) ? glanz_json_text(json, token) : NULL;
    if (json->status == GLANZ_OK && !glanz_names_check(*words, count)) {
        glanz_json_fail(json, token,
                        count == 7 ? "expected seven names of at most 16 letters, with commas between, Monday first"
                                   : "expected twelve names of at most 16 letters, with commas between, January first",
                        NULL, NULL);
    }
}

/* ---- the hooks ---- */

static void read_key(struct reading *reading, const struct row *row, int token, void *base) {
    struct json *json = &reading->json;
    void *member = (uint8_t *)base + row->at;
    switch (row->extra) {
    case HOOK_DATA: glanz_read_data(json, token, (struct glanz_picture *)base); break;
    case HOOK_PALETTE: *(GLANZ_CONST struct glanz_gradient **)member = glanz_read_palette(reading, token); break;
    case HOOK_CONTENT: glanz_read_content(reading, token, (struct glanz_look *)base); break;
    case HOOK_BLOCKS: glanz_read_blocks(reading, token, (struct glanz_pattern *)base); break;
    case HOOK_TEXT: glanz_read_text(reading, token, (struct glanz_writing *)base); break;
    case HOOK_WORDS: read_words(json, token, row, (GLANZ_CONST char **)member); break;
    case HOOK_PICTURE: glanz_read_picture(reading, token, (struct glanz_look *)base); break;
    case HOOK_STENCIL: read_stencil(json, token, (uint8_t *)member); break;
    case HOOK_PICKED: read_picked(json, token, &((struct glanz_segment *)base)->region); break;
    case HOOK_PART:
        *(uint8_t *)member = find_part(json, token, &reading->rig->surfaces[((struct glanz_segment *)base)->surface]);
        break;
    case HOOK_STACK: read_stack(reading, token); break;
    case HOOK_THEN: glanz_read_then(reading, token, (struct glanz_playlist *)base); break;
    case HOOK_ON: glanz_read_on(reading, token, (struct glanz_action *)base); break;
    case HOOK_NUMBERS: /* the look was read before */
        if (row->at == offsetof(struct glanz_segment, settings)) {
            struct glanz_segment *segment = (struct glanz_segment *)base;
            glanz_read_numbers(reading, token, segment->look, &segment->settings, &segment->setting_count);
        } else {
            struct glanz_part *part = (struct glanz_part *)base;
            glanz_read_numbers(reading, token, part->look, &part->settings, &part->setting_count);
        }
        break;
    case HOOK_LEVEL: glanz_read_level(reading, row, token, base); break;
    case HOOK_PARAM: glanz_read_param(reading, token, (struct glanz_action *)base); break;
    case HOOK_CHANGE: glanz_read_change(reading, row, token, (struct glanz_action *)base); break;
    case HOOK_MOMENT: glanz_read_moment(json, token, (struct glanz_moment *)member); break;
    case HOOK_DAY: glanz_read_day(json, token, (struct glanz_day *)member); break;
    case HOOK_END: glanz_read_end(reading, row, token, (struct glanz_drive *)base); break;
    default: break; /* read when its struct began */
    }
}

static void begin(struct reading *reading, struct read_frame *frame) {
    switch (frame->table->hook) {
    case TABLE_LOOK: glanz_read_look(reading, frame); break;
    case TABLE_SKETCH: begin_picture(reading, frame); break;
    case TABLE_MARK: begin_mark(&reading->json, frame); break;
    case TABLE_ACTION: glanz_read_action_begin(reading, frame); break;
    case TABLE_SIGNAL: begin_signal(&reading->json, frame); break;
    default: break;
    }
}

static void end(struct reading *reading, struct read_frame *frame) {
    struct json *json = &reading->json;
    switch (frame->table->hook) {
    case TABLE_COLOR:
        if (strchr(((struct glanz_named_color *)(void *)frame->base)->name, ',') != NULL) {
            glanz_json_fail(json, frame->object - 1, "expected a colour's name without a comma", NULL, NULL);
        }
        break;
    case TABLE_PALETTE: glanz_read_palette_end(reading, frame); break;
    case TABLE_LOOK: glanz_read_look_end(&reading->json, frame); break;
    case TABLE_SEGMENT: end_segment(reading, frame); break;
    case TABLE_PART:
        if (glanz_read_token(frame, "look") >= 0 && glanz_read_token(frame, "palette") >= 0) {
            glanz_json_fail(json, glanz_read_token(frame, "palette"),
                            "a look brings its own palette; expected either \"look\" or \"palette\"", NULL, NULL);
        }
        break;
    case TABLE_PLAYLIST: glanz_read_playlist_end(reading, frame); break;
    case TABLE_ACTION: glanz_read_action_end(reading, frame); break;
    case TABLE_WHEN: glanz_read_when_end(reading, frame); break;
    case TABLE_ENTRY: glanz_read_entry_end(reading, frame); break;
    case TABLE_SIGNAL: end_signal(reading, frame); break;
    default: break;
    }
}

const struct hooks glanz_hooks_of_shows = {read_key, glanz_read_dimmed, begin, end};

/* ---- the whole ---- */

glanz_status glanz_show_read(GLANZ_CONST struct glanz_show **out, size_t *used, void *memory, size_t size, const char *text,
                             size_t count, GLANZ_CONST struct glanz_rig *rig,
                             GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects, const struct glanz_picture *kept,
                             uint8_t kept_count, struct glanz_fault *fault) {
    struct reading reading;
    struct json *json = &reading.json;
    if (out == NULL || used == NULL || memory == NULL || text == NULL || rig == NULL || effects == NULL ||
        (kept == NULL && kept_count != 0)) {
        return GLANZ_ERR_ARGUMENT;
    }
    memset(&reading, 0, sizeof reading);
    struct glanz_world world;
    memset(&world, 0, sizeof world);
    world.values = rig->input_count;
    world.name = rig->input_count == 0 ? NULL : &rig->inputs->name;
    world.name_step = sizeof *rig->inputs;
    reading.hooks = &glanz_hooks_of_shows;
    reading.rig = rig;
    reading.builds = 1;
    reading.world = &world;
    reading.kept = kept;
    reading.kept_count = kept_count;
    glanz_names_of(reading.scope, rig, NULL);
    reading.scope[SCOPE_EFFECTS] = glanz_names_listed(effects);
    if (glanz_json_open(json, memory, size, text, count, fault) != GLANZ_OK) {
        return json->status;
    }
    reading.show = (struct glanz_show *)glanz_json_allocate(json, sizeof *reading.show);
    if (reading.show == NULL) {
        return json->status;
    }
    glanz_read(&reading, &glanz_table_show, reading.show, 0);
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
                               GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show,
                               struct glanz_fault *fault) {
    struct reading reading;
    if (action == NULL || memory == NULL || text == NULL || rig == NULL || show == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    memset(&reading, 0, sizeof reading);
    memset(action, 0, sizeof *action);
    struct glanz_show named = *show; /* what names lead to is looked up, and nothing is changed */
    reading.hooks = &glanz_hooks_of_shows;
    reading.show = &named;
    reading.rig = rig;
    glanz_names_of(reading.scope, rig, show);
    if (glanz_json_open(&reading.json, memory, size, text, count, fault) == GLANZ_OK) {
        glanz_read(&reading, &glanz_table_action, action, 0);
    }
    return reading.json.status;
}
