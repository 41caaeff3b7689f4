/* SPDX-License-Identifier: MIT */
/* Saved presets as records of bytes, format 1: "GP", 1, number of parts, the preset's name; for each part the names of its
 * segment, look, effect and palette, on, brightness, the look's brightness, number of parameters, and for each its unit
 * and number; CRC-32 of all before it. Names have a length byte; numbers are little-endian. Everything is by name, so a
 * record outlives changes of the show. */
#include <string.h>

#include <glanz/control.h>

#define MAGIC 0x015047u /* "GP", 1 */

struct writer {
    uint8_t *bytes;
    size_t count, room; /* count goes on beyond the room, to tell that it does */
};

static void put(struct writer *writer, uint32_t number, uint8_t bytes) {
    for (uint8_t i = 0; i < bytes; i++) {
        if (writer->count < writer->room) {
            writer->bytes[writer->count] = (uint8_t)(number >> (8 * i));
        }
        writer->count++;
    }
}

static void put_name(struct writer *writer, GLANZ_CONST char *name) {
    uint8_t length = 0;
    while (name != NULL && name[length] != '\0' && length < 255) {
        length++;
    }
    put(writer, length, 1);
    for (uint8_t i = 0; i < length; i++) {
        put(writer, (uint8_t)name[i], 1);
    }
}

int glanz_saved_name_valid(const char *name) {
    size_t length = 0;
    for (; name != NULL && name[length] != '\0'; length++) {
        if ((uint8_t)name[length] < 0x20 || (uint8_t)name[length] == 0x7F || length >= GLANZ_NAME_MOST) {
            return 0;
        }
    }
    return length > 0;
}

static GLANZ_CONST char *palette_of(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_gradient *gradient) {
    for (uint8_t i = 0; i < show->palette_count; i++) {
        if (show->palettes[i].gradient == gradient) {
            return show->palettes[i].name;
        }
    }
    return NULL;
}

static void put_part(struct writer *writer, GLANZ_CONST struct glanz_show *show, GLANZ_CONST char *segment,
                     const struct glanz_showing *showing) {
    put_name(writer, segment);
    put_name(writer, showing->name);
    put_name(writer, showing->effect == NULL ? NULL : showing->effect->name);
    put_name(writer, palette_of(show, showing->gradient));
    put(writer, showing->on, 1);
    put(writer, showing->brightness, 2);
    put(writer, showing->look_brightness, 2);
    uint8_t params = showing->effect == NULL ? 0 : showing->effect->param_count;
    put(writer, params, 1);
    for (uint8_t i = 0; i < params; i++) {
        uint32_t number = (uint32_t)showing->number[i];
        if (showing->effect->params[i].kind == GLANZ_PARAM_COLOR && (number >> 24) == 3 &&
            (number & 0xFFFFu) < show->color_count) {
            number = show->colors[number & 0xFFFFu].color; /* the list of names may be another one later */
        }
        put(writer, showing->unit[i], 1);
        put(writer, number, 4);
    }
}

glanz_status glanz_preset_pack(uint8_t *record, size_t *count, size_t room, const struct glanz_engine *engine,
                               GLANZ_CONST struct glanz_show *show, const char *name, uint64_t segments) {
    if (record == NULL || count == NULL || engine == NULL || show == NULL || !glanz_saved_name_valid(name)) {
        return GLANZ_ERR_ARGUMENT;
    }
    struct writer writer = {record, 0, room};
    uint8_t parts = 0;
    put(&writer, MAGIC, 4);
    put(&writer, 0, 1);
    for (size_t i = 0; i < strlen(name); i++) {
        put(&writer, (uint8_t)name[i], 1);
    }
    for (uint8_t i = 0; i < show->segment_count; i++) {
        struct glanz_showing showing;
        if ((segments >> i & 1u) != 0 && glanz_engine_showing(&showing, engine, i) == GLANZ_OK) {
            put_part(&writer, show, show->segments[i].name, &showing);
            parts++;
        }
    }
    if (writer.count + 4 > room) {
        return GLANZ_ERR_FULL;
    }
    record[3] = parts;
    record[4] = (uint8_t)strlen(name);
    put(&writer, glanz_crc32(0, record, writer.count), 4);
    *count = writer.count;
    return GLANZ_OK;
}

struct reader {
    const uint8_t *bytes;
    size_t at, count;
    uint8_t bad;
};

static uint32_t get(struct reader *reader, uint8_t bytes) {
    uint32_t number = 0;
    for (uint8_t i = 0; i < bytes; i++) {
        if (reader->at >= reader->count) {
            reader->bad = 1;
            return 0;
        }
        number |= (uint32_t)reader->bytes[reader->at++] << (8 * i);
    }
    return number;
}

/* A name into 256 bytes. */
static void get_name(struct reader *reader, char *name) {
    uint8_t length = (uint8_t)get(reader, 1);
    for (uint8_t i = 0; i < length; i++) {
        name[i] = (char)get(reader, 1);
    }
    name[length] = '\0';
}

static glanz_status begin(struct reader *reader, uint8_t *parts, char *name, const uint8_t *record, size_t count) {
    char long_name[256];
    if (record == NULL || count < 10) {
        return GLANZ_ERR_DAMAGED;
    }
    reader->bytes = record;
    reader->at = 0;
    reader->count = count - 4;
    reader->bad = 0;
    struct reader check = {record, count - 4, count, 0};
    if (get(&check, 4) != glanz_crc32(0, record, count - 4) || get(reader, 3) != MAGIC) {
        return GLANZ_ERR_DAMAGED;
    }
    *parts = (uint8_t)get(reader, 1);
    get_name(reader, long_name);
    if (reader->bad || !glanz_saved_name_valid(long_name)) {
        return GLANZ_ERR_DAMAGED;
    }
    if (name != NULL) {
        memcpy(name, long_name, strlen(long_name) + 1);
    }
    return GLANZ_OK;
}

struct part { /* of a record, as read */
    char segment[256], look[256], effect[256], palette[256];
    uint8_t on, params;
    uint16_t brightness, look_brightness;
    struct glanz_setting settings[GLANZ_PARAMS];
};

static void get_part(struct reader *reader, struct part *part) {
    get_name(reader, part->segment);
    get_name(reader, part->look);
    get_name(reader, part->effect);
    get_name(reader, part->palette);
    part->on = (uint8_t)get(reader, 1);
    part->brightness = (uint16_t)get(reader, 2);
    part->look_brightness = (uint16_t)get(reader, 2);
    part->params = (uint8_t)get(reader, 1);
    for (uint8_t i = 0; i < part->params; i++) {
        struct glanz_setting setting;
        setting.param = i;
        setting.unit = (uint8_t)get(reader, 1);
        setting.number = (int32_t)get(reader, 4);
        if (i < GLANZ_PARAMS) {
            part->settings[i] = setting;
        }
    }
    if (part->params > GLANZ_PARAMS) {
        reader->bad = 1;
    }
}

glanz_status glanz_preset_name(char *name, const uint8_t *record, size_t count) {
    struct reader reader;
    uint8_t parts;
    return name == NULL ? GLANZ_ERR_ARGUMENT : begin(&reader, &parts, name, record, count);
}

/* @return 0 when the part names what is not there. */
static int apply(struct glanz_engine *engine, GLANZ_CONST struct glanz_show *show,
                 GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects, const struct part *part, struct glanz_change change) {
    uint8_t segment = 0;
    while (segment < show->segment_count && !glanz_text_equal(show->segments[segment].name, part->segment)) {
        segment++;
    }
    if (segment == show->segment_count) {
        return 0;
    }
    struct glanz_look look;
    memset(&look, 0, sizeof look);
    for (uint8_t i = 0; effects[i] != NULL && part->effect[0] != '\0'; i++) {
        if (glanz_text_equal(effects[i]->name, part->effect)) {
            look.effect = effects[i];
        }
    }
    for (uint8_t i = 0; i < show->palette_count && part->palette[0] != '\0'; i++) {
        if (glanz_text_equal(show->palettes[i].name, part->palette)) {
            look.gradient = show->palettes[i].gradient;
        }
    }
    for (uint16_t i = 0; i < show->look_count && part->look[0] != '\0'; i++) {
        if (glanz_text_equal(show->looks[i].name, part->look)) {
            look.name = show->looks[i].name;
            look.content = show->looks[i].content;
        }
    }
    look.settings = part->settings;
    look.setting_count = part->params;
    look.brightness = part->look_brightness;
    if ((look.effect == NULL && part->effect[0] != '\0') || (look.gradient == NULL && part->palette[0] != '\0')) {
        return 0;
    }
    return glanz_engine_look(engine, segment, look.effect == NULL ? NULL : &look, change) == GLANZ_OK &&
           glanz_engine_switch(engine, segment, part->on, change) == GLANZ_OK &&
           glanz_engine_brightness(engine, segment, part->brightness, change) == GLANZ_OK;
}

glanz_status glanz_preset_unpack(uint8_t *missed, struct glanz_engine *engine, GLANZ_CONST struct glanz_show *show,
                                 GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects, const uint8_t *record, size_t count,
                                 struct glanz_change change) {
    if (engine == NULL || show == NULL || effects == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    struct reader reader;
    struct part part;
    uint8_t parts;
    glanz_status status = begin(&reader, &parts, NULL, record, count);
    for (uint8_t i = 0; i < parts && status == GLANZ_OK; i++) {
        get_part(&reader, &part);
        status = reader.bad ? GLANZ_ERR_DAMAGED : GLANZ_OK;
    }
    if (status != GLANZ_OK || reader.at != reader.count) {
        return GLANZ_ERR_DAMAGED;
    }
    uint8_t gone = 0;
    (void)begin(&reader, &parts, NULL, record, count);
    for (uint8_t i = 0; i < parts; i++) {
        get_part(&reader, &part);
        gone = (uint8_t)(gone + !apply(engine, show, effects, &part, change));
    }
    if (missed != NULL) {
        *missed = gone;
    }
    return GLANZ_OK;
}
