/* SPDX-License-Identifier: MIT */
/* Presets and the running state as records of bytes; docs/store.md describes them. Segments and effects are by name, what a
 * look is made of is by value, so a record outlives changes of the show; names have a length byte, numbers are little-endian,
 * CRC-32 of all before it closes a record.
 *
 * A preset: "GP", format, number of parts, its name, (from format 2) the name of a playlist; for each part its segment's name,
 * (from format 2) its aspects (with that of the playlist: one played there, or none did), the names of look, effect and
 * palette, on, brightness, the look's brightness, number of parameters, and for each its unit and number, (from format 3)
 * palette and content by value. The running state: running.c. */
#include "record.h"

#if GLANZ_SAVED_MOST > 0

#define PRESET 0x5047ul /* "GP" */
#define PRESET_FORMAT 3ul

static GLANZ_CONST char *palette_of(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_gradient *gradient) {
    for (uint8_t i = 0; i < show->palette_count; i++) {
        if (show->palettes[i].gradient == gradient) {
            return show->palettes[i].name;
        }
    }
    return NULL;
}

static void put_numbers(struct writer *writer, GLANZ_CONST struct glanz_show *show, const struct glanz_showing *showing) {
    uint8_t params = showing->effect == NULL ? 0 : showing->effect->param_count;
    glanz_record_put(writer, params, 1);
    for (uint8_t i = 0; i < params; i++) {
        uint8_t kind = showing->effect->params[i].kind;
        uint32_t number = (uint32_t)showing->number[i];
        number = kind == GLANZ_PARAM_COLOR ? glanz_record_color(show, number) : number;
        number = kind == GLANZ_PARAM_SIGNAL ? 0 : number; /* and the list of signals too: see find_signals() */
        glanz_record_put(writer, showing->unit[i], 1);
        glanz_record_put(writer, number, 4);
    }
}

/* Colours without a look: those of an effect that takes no palette are its numbers here, and stops of a palette too, for
 * effects that take one. */
static void put_colors(struct writer *writer, GLANZ_CONST struct glanz_show *show, struct glanz_colors *colors) {
    glanz_record_put(writer, colors->count, 1);
    for (uint8_t i = 0; i < colors->count; i++) {
        colors->color[i] = (glanz_color)glanz_record_color(show, colors->color[i]);
        glanz_record_put(writer, 0, 1);
        glanz_record_put(writer, colors->color[i], 4);
    }
    glanz_values_put_colors(writer, show, colors);
}

void glanz_record_put_part(struct writer *writer, GLANZ_CONST struct glanz_show *show, GLANZ_CONST char *segment,
                           const struct glanz_showing *showing, uint8_t aspects) {
    uint8_t look = (aspects & GLANZ_ASPECT_LOOK) != 0;
    struct glanz_colors colors;
    memset(&colors, 0, sizeof colors);
    if ((aspects & GLANZ_ASPECT_PALETTE) != 0 && showing->effect != NULL) {
#if GLANZ_SEQUENCES
        glanz_colors_of(&colors, showing);
        colors.gradient = colors.count != 0 ? NULL : colors.gradient;
#else
        colors.gradient = showing->gradient;
#endif
    }
    glanz_record_put_name(writer, segment);
    glanz_record_put(writer, aspects, 1);
    glanz_record_put_name(writer, look ? showing->name : NULL);
    glanz_record_put_name(writer, !look || showing->effect == NULL ? NULL : showing->effect->name);
    glanz_record_put_name(writer, palette_of(show, look ? showing->gradient : colors.gradient));
    glanz_record_put(writer, showing->on, 1);
    glanz_record_put(writer, showing->brightness, 2);
    glanz_record_put(writer, showing->look_brightness, 2);
    if (look) {
        put_numbers(writer, show, showing);
        glanz_values_put(writer, show, showing->gradient, showing->content);
    } else {
        put_colors(writer, show, &colors);
    }
}

glanz_status glanz_record_end(struct writer *writer, size_t *count, uint8_t parts) {
    if (writer->count + 4 > writer->capacity) {
        return GLANZ_ERR_FULL;
    }
    writer->bytes[3] = parts;
    glanz_record_put(writer, glanz_crc32(0, writer->bytes, writer->count), 4);
    *count = writer->count;
    return GLANZ_OK;
}

#if GLANZ_SEQUENCES
/* The playlist by hand that plays on some of these segments; NULL. */
static GLANZ_CONST char *playlist_on(const struct glanz_control *control, uint64_t segments) {
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        const struct player *player = &control->players[i];
        if (player->depth != 0 && player->entry == GLANZ_ALL && (player->segments & segments) != 0) {
            return control->show->playlists[player->levels[0].list].name;
        }
    }
    return NULL;
}
#endif

glanz_status glanz_preset_pack(const struct glanz_control *control, const char *name, uint64_t segments, uint8_t aspects,
                               uint8_t *record, size_t capacity, size_t *count) {
    if (record == NULL || count == NULL || control == NULL || control->show == NULL || !glanz_saved_name_valid(name) ||
        aspects == 0 || aspects > GLANZ_ASPECTS) {
        return GLANZ_ERR_ARGUMENT;
    }
    struct writer writer = {record, 0, capacity};
    GLANZ_CONST struct glanz_show *show = control->show;
    GLANZ_CONST char *playlist = NULL;
#if GLANZ_SEQUENCES
    playlist = (aspects & GLANZ_ASPECT_PLAYLIST) != 0 ? playlist_on(control, segments) : NULL;
#endif
    uint8_t parts = 0;
    glanz_record_put(&writer, PRESET | PRESET_FORMAT << 16, 4);
    glanz_record_put(&writer, (uint32_t)strlen(name), 1);
    for (size_t i = 0; i < strlen(name); i++) {
        glanz_record_put(&writer, (uint8_t)name[i], 1);
    }
    glanz_record_put_name(&writer, playlist);
    for (uint8_t i = 0; i < show->segment_count; i++) {
        struct glanz_showing showing;
        if ((segments >> i & 1u) != 0 && glanz_engine_showing(control->engine, i, &showing) == GLANZ_OK) {
            glanz_record_put_part(&writer, show, show->segments[i].name, &showing, aspects);
            parts++;
        }
    }
    return glanz_record_end(&writer, count, parts);
}

/* ---- reading ---- */

/* Check a record as a whole, and read its first four bytes. */
glanz_status glanz_record_begin(struct reader *reader, uint8_t *parts, uint16_t kind, uint8_t newest, const uint8_t *record,
                                size_t count) {
    if (record == NULL || count < 10) {
        return GLANZ_ERR_DAMAGED;
    }
    struct reader check = {record, count - 4, count, 0, 0};
    struct reader begins = {record, 0, count - 4, 0, 0};
    *reader = begins;
    if (glanz_record_get(&check, 4) != glanz_crc32(0, record, count - 4) || glanz_record_get(reader, 2) != kind) {
        return GLANZ_ERR_DAMAGED;
    }
    reader->format = (uint8_t)glanz_record_get(reader, 1);
    *parts = (uint8_t)glanz_record_get(reader, 1);
    return reader->format == 0 ? GLANZ_ERR_DAMAGED : reader->format > newest ? GLANZ_ERR_NEWER : GLANZ_OK;
}

static glanz_status begin_preset(struct reader *reader, uint8_t *parts, char *name, struct text *playlist,
                                 const uint8_t *record, size_t count) {
    char own[GLANZ_NAME_MOST + 1];
    glanz_status status = glanz_record_begin(reader, parts, PRESET, PRESET_FORMAT, record, count);
    if (status != GLANZ_OK) {
        return status;
    }
    struct text text = glanz_record_get_name(reader);
    if (reader->bad || text.length > GLANZ_NAME_MOST) {
        return GLANZ_ERR_DAMAGED;
    }
    memcpy(own, text.bytes, text.length);
    own[text.length] = '\0';
    struct text none = {record, 0};
    *playlist = reader->format >= 2 ? glanz_record_get_name(reader) : none;
    if (reader->bad || !glanz_saved_name_valid(own) || strlen(own) != text.length) {
        return GLANZ_ERR_DAMAGED;
    }
    if (name != NULL) {
        memcpy(name, own, sizeof own);
    }
    return GLANZ_OK;
}

void glanz_record_get_part(struct reader *reader, struct part *part, uint8_t with_aspects, uint8_t by_value) {
    part->segment = glanz_record_get_name(reader);
    part->aspects =
        with_aspects ? (uint8_t)glanz_record_get(reader, 1) : GLANZ_ASPECT_LOOK | GLANZ_ASPECT_ON | GLANZ_ASPECT_BRIGHTNESS;
    part->look = glanz_record_get_name(reader);
    part->effect = glanz_record_get_name(reader);
    part->palette = glanz_record_get_name(reader);
    part->on = (uint8_t)glanz_record_get(reader, 1);
    part->brightness = (uint16_t)glanz_record_get(reader, 2);
    part->look_brightness = (uint16_t)glanz_record_get(reader, 2);
    part->params = (uint8_t)glanz_record_get(reader, 1);
    for (uint8_t i = 0; i < part->params; i++) {
        struct glanz_setting setting;
        setting.param = i;
        setting.unit = (uint8_t)glanz_record_get(reader, 1);
        setting.number = (int32_t)glanz_record_get(reader, 4);
        if (i < GLANZ_PARAMS) {
            part->settings[i] = setting;
        }
    }
    if (part->params > GLANZ_PARAMS) {
        reader->bad = 1;
    }
    part->by_value = by_value;
    part->values = *reader;
    if (by_value) {
        glanz_values_skip(reader);
    }
}

glanz_status glanz_preset_name(char *name, const uint8_t *record, size_t count) {
    struct reader reader;
    struct text playlist;
    uint8_t parts;
    return name == NULL ? GLANZ_ERR_ARGUMENT : begin_preset(&reader, &parts, name, &playlist, record, count);
}

glanz_status glanz_preset_rename(uint8_t *record, size_t *count, size_t capacity, const char *name) {
    struct reader reader;
    struct text playlist;
    uint8_t parts;
    if (count == NULL || !glanz_saved_name_valid(name)) {
        return GLANZ_ERR_ARGUMENT;
    }
    glanz_status status = begin_preset(&reader, &parts, NULL, &playlist, record, *count);
    if (status != GLANZ_OK) {
        return status;
    }
    size_t length = strlen(name);
    size_t rest = *count - 4u - 5u - record[4];
    if (5u + length + rest + 4u > capacity) {
        return GLANZ_ERR_FULL;
    }
    memmove(record + 5 + length, record + 5 + record[4], rest);
    record[4] = (uint8_t)length;
    memcpy(record + 5, name, length);
    struct writer writer = {record, 5u + length + rest, capacity};
    return glanz_record_end(&writer, count, parts);
}

/* ---- showing ---- */

void glanz_record_miss(struct glanz_missed *missed, uint8_t *counter, struct text name) {
    (*counter)++;
    if (missed->first[0] == '\0') {
        uint8_t length = name.length < GLANZ_NAME_MOST ? name.length : GLANZ_NAME_MOST;
        memcpy(missed->first, name.bytes, length);
        missed->first[length] = '\0';
    }
}

uint8_t glanz_record_segment(GLANZ_CONST struct glanz_show *show, struct text name) {
    uint8_t segment = 0;
    while (segment < show->segment_count && !glanz_record_is_named(show->segments[segment].name, name)) {
        segment++;
    }
    return segment;
}

/* What a part names, of what is there. */
static void find_look(struct glanz_look *look, GLANZ_CONST struct glanz_show *show,
                      GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects, const struct part *part) {
    memset(look, 0, sizeof *look);
    for (uint8_t i = 0; effects[i] != NULL && part->effect.length != 0; i++) {
        look->effect = glanz_record_is_named(effects[i]->name, part->effect) ? effects[i] : look->effect;
    }
    for (uint8_t i = 0; i < show->palette_count && part->palette.length != 0; i++) {
        look->gradient =
            glanz_record_is_named(show->palettes[i].name, part->palette) ? show->palettes[i].gradient : look->gradient;
    }
    for (uint16_t i = 0; i < show->look_count && part->look.length != 0; i++) {
        if (glanz_record_is_named(show->looks[i].name, part->look)) {
            look->name = show->looks[i].name;
            look->content = show->looks[i].content;
#if GLANZ_DRIVES_MOST > 0
            if (look->effect == show->looks[i].effect) { /* how hands and signals lead is the show's */
                look->drives = show->looks[i].drives;
                look->drive_count = show->looks[i].drive_count;
            }
#endif
        }
    }
}

/* What a look's effect reacts to is the show's, as drives are: that of its look of that name. */
static void find_signals(struct glanz_setting *settings, const struct glanz_look *look, GLANZ_CONST struct glanz_show *show) {
    for (uint8_t i = 0; look->effect != NULL && i < look->setting_count; i++) {
        if (settings[i].param >= look->effect->param_count ||
            look->effect->params[settings[i].param].kind != GLANZ_PARAM_SIGNAL) {
            continue;
        }
        settings[i].number = 0;
        for (uint16_t k = 0; k < show->look_count; k++) {
            GLANZ_CONST struct glanz_look *of = &show->looks[k];
            for (uint8_t s = 0; of->effect == look->effect && look->name == of->name && s < of->setting_count; s++) {
                settings[i].number = of->settings[s].param == settings[i].param ? of->settings[s].number : settings[i].number;
            }
        }
    }
}

void glanz_record_apply(struct glanz_missed *missed, struct glanz_control *control,
                        GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects, const struct part *part, uint8_t aspects,
                        const struct glanz_change *change) {
    GLANZ_CONST struct glanz_show *show = control->show;
    uint8_t segment = glanz_record_segment(show, part->segment);
    if (segment == show->segment_count) {
        glanz_record_miss(missed, &missed->segments, part->segment);
        return;
    }
    aspects = (uint8_t)(aspects & part->aspects);
    struct glanz_look look;
    find_look(&look, show, effects, part);
    struct glanz_setting settings[GLANZ_PARAMS];
    memcpy(settings, part->settings, sizeof settings);
    look.settings = settings;
    look.setting_count = part->params;
    find_signals(settings, &look, show);
    look.brightness = part->look_brightness;
    if (part->by_value && (part->aspects & (GLANZ_ASPECT_LOOK | GLANZ_ASPECT_PALETTE)) != 0) {
        struct reader values = part->values;
        if (!glanz_values_get(&look, &values, control)) {
            glanz_record_miss(missed, &missed->looks, part->look.length != 0 ? part->look : part->palette);
            return;
        }
    }
    uint8_t colored = (aspects & (GLANZ_ASPECT_LOOK | GLANZ_ASPECT_PALETTE)) != 0;
    if ((aspects & GLANZ_ASPECT_LOOK) != 0 && look.effect == NULL && part->effect.length != 0) {
        glanz_record_miss(missed, &missed->looks, part->effect);
    } else if (colored && look.gradient == NULL && part->palette.length != 0) { /* by name, and it is gone */
        glanz_record_miss(missed, &missed->looks, part->palette);
    } else if ((aspects & GLANZ_ASPECT_LOOK) != 0) {
        if (glanz_engine_look(control->engine, segment, look.effect == NULL ? NULL : &look, *change) != GLANZ_OK) {
            glanz_record_miss(missed, &missed->looks, part->look);
        }
#if GLANZ_SEQUENCES
    } else if ((aspects & GLANZ_ASPECT_PALETTE) != 0) {
        struct glanz_colors colors;
        memset(&colors, 0, sizeof colors);
        colors.gradient = look.gradient == NULL && part->params == 0 ? &glanz_gradient_standard : look.gradient;
        for (; colors.count < part->params && colors.count < GLANZ_COLORS; colors.count++) {
            colors.color[colors.count] = (glanz_color)settings[colors.count].number;
        }
        (void)glanz_control_put_colors(control, segment, &colors, change);
#endif
    }
    glanz_status status = GLANZ_OK;
    if ((aspects & GLANZ_ASPECT_ON) != 0) {
        status = glanz_engine_switch(control->engine, segment, part->on, *change);
    }
    if ((aspects & GLANZ_ASPECT_BRIGHTNESS) != 0 && status == GLANZ_OK) {
        status = glanz_engine_brightness(control->engine, segment, part->brightness, *change);
    }
    if (status != GLANZ_OK) {
        glanz_record_miss(missed, &missed->segments, part->segment);
    }
}

#if GLANZ_SEQUENCES
uint8_t glanz_record_playlist(GLANZ_CONST struct glanz_show *show, struct text name) {
    uint8_t list = 0;
    while (list < show->playlist_count && !glanz_record_is_named(show->playlists[list].name, name)) {
        list++;
    }
    return list;
}
#endif

#if GLANZ_SEQUENCES
/* What goes on where a preset is about to show gives way. @return the playlist that it plays; 255: none. */
static uint8_t take_over(struct glanz_control *control, segment_mask segments, segment_mask playing, struct text playlist,
                         glanz_us at, struct glanz_missed *gone) {
    uint8_t list = playlist.length == 0 ? 255 : glanz_record_playlist(control->show, playlist);
    if (playlist.length != 0 && list == control->show->playlist_count) {
        glanz_record_miss(gone, &gone->looks, playlist);
        list = 255;
    }
    (void)(glanz_control_wake(control, at) == GLANZ_OK); /* the whole's brightness is always there */
    HANDS(control)->touch(control, list == 255 ? segments : segments | LISTS(control)->segments(control->show, list),
                          GLANZ_ASPECTS, 1);
    for (uint8_t i = 0; i < GLANZ_PLAYERS && list == 255; i++) { /* none played there when it was saved */
        struct player *player = &control->players[i];
        if (player->depth != 0 && player->entry == GLANZ_ALL && (player->segments & playing) != 0) {
            LISTS(control)->stop(control, player, at);
        }
    }
    return list;
}
#endif

glanz_status glanz_preset_unpack(struct glanz_control *control, GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects,
                                 const uint8_t *record, size_t count, struct glanz_change change, struct glanz_missed *missed) {
    struct reader reader;
    struct part part;
    struct text playlist;
    struct glanz_missed gone;
    uint8_t parts;
    segment_mask segments = 0;
#if GLANZ_SEQUENCES
    segment_mask playing = 0;
#endif
    if (control == NULL || control->show == NULL || effects == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (glanz_control_inside(control)) {
        return GLANZ_ERR_STATE;
    }
    glanz_status status = begin_preset(&reader, &parts, NULL, &playlist, record, count);
    for (uint8_t i = 0; i < parts && status == GLANZ_OK; i++) {
        glanz_record_get_part(&reader, &part, reader.format >= 2, reader.format >= 3);
        uint8_t segment = reader.bad ? control->show->segment_count : glanz_record_segment(control->show, part.segment);
        segments = (segment_mask)(segments | (segment < control->show->segment_count ? BIT(segment) : 0));
#if GLANZ_SEQUENCES
        playing |= segment < control->show->segment_count && (part.aspects & GLANZ_ASPECT_PLAYLIST) != 0 ? BIT(segment) : 0;
#endif
        status = reader.bad ? GLANZ_ERR_DAMAGED : GLANZ_OK;
    }
    if (status == GLANZ_OK && reader.at != reader.count) {
        status = GLANZ_ERR_DAMAGED;
    }
    if (status != GLANZ_OK) {
        return status;
    }
    memset(&gone, 0, sizeof gone);
#if GLANZ_SEQUENCES
    uint8_t list = take_over(control, segments, playing, playlist, change.at_us, &gone);
#endif
    (void)begin_preset(&reader, &parts, NULL, &playlist, record, count);
    for (uint8_t i = 0; i < parts; i++) {
        glanz_record_get_part(&reader, &part, reader.format >= 2, reader.format >= 3);
        glanz_record_apply(&gone, control, effects, &part, GLANZ_ASPECTS, &change);
    }
#if GLANZ_SEQUENCES
    if (list != 255) {
        status = LISTS(control)->play(control, list, GLANZ_ALL, change.at_us);
    }
    glanz_control_saved(control, segments);
#endif
    if (missed != NULL) {
        *missed = gone;
    }
    return status;
}

#endif
