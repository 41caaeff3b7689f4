/* SPDX-License-Identifier: MIT */
/* Input logs: JSON lines. */
#include "log.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "json.h"

static const char *const aspects[] = {"look", "on", "brightness", "palette", "playlist", NULL}; /* bits of enum glanz_aspect */

#define NAME_OF "{ \"$ref\": \"#/$defs/name\" }"
#define TIME_OF "{ \"$ref\": \"#/$defs/time\" }"
#define AMOUNT_OF "{ \"type\": \"string\", \"pattern\": \"^-?[0-9]+([.][0-9]+)? ?(deg|%)$\" }"
#define OBJECT_OF(what) "{ \"type\": \"object\", \"description\": \"" what "\" }"
#define COUNT_OF(low, high) "{ \"type\": \"integer\", \"minimum\": " #low ", \"maximum\": " #high " }"

const struct log_key log_withs[] = {
    {"level", COUNT_OF(0, 65535)},
    {"for", TIME_OF},
    {"segments", "{ \"type\": \"array\", \"maxItems\": 16, \"items\": " NAME_OF " }"},
    {"aspects",
     "{ \"type\": \"array\", \"maxItems\": 5, \"items\": { \"enum\": [\"look\", \"on\", \"brightness\", \"palette\", "
     "\"playlist\"] } }"},
    {"replace", "{ \"type\": \"boolean\" }"},
    {"as", NAME_OF},
    {"place", COUNT_OF(1, 64)},
    {"to", AMOUNT_OF},
    {"by", AMOUNT_OF},
    {"over", TIME_OF},
    {"file", "{ \"type\": \"string\", \"description\": \"a sound file\" }"},
    {NULL, NULL}};
enum { WITH_TO = 128, WITH_BY = 256, WITH_OVER = 512, WITH_FILE = 1024 };
enum { WITH_LEVEL = 1, WITH_FOR = 2, WITH_SEGMENTS = 4, WITH_ASPECTS = 8, WITH_REPLACE = 16, WITH_AS = 32, WITH_PLACE = 64 };

const struct log_kind log_kinds[] = {
    [ENTRY_INPUT] = {{"input", NAME_OF}, WITH_LEVEL, 0},
    [ENTRY_PRESS] = {{"press", NAME_OF}, WITH_FOR, 0},
    [ENTRY_PATCH] = {{"patch", OBJECT_OF("a merge patch (RFC 7396) for the show")}, 0, 0},
    [ENTRY_SAVE] = {{"save", NAME_OF}, 0, WITH_SEGMENTS | WITH_ASPECTS | WITH_REPLACE},
    [ENTRY_RECALL] = {{"recall", NAME_OF}, 0, 0},
    [ENTRY_TRY_RIG] = {{"try rig", "{ \"type\": \"string\", \"description\": \"a rig's file\" }"}, WITH_FOR, 0},
    [ENTRY_CLOCK] =
        {{"clock", "{ \"type\": \"string\", \"pattern\": \"^[0-9]{4}-[0-9]{2}-[0-9]{2} [0-9]{2}:[0-9]{2}:[0-9]{2}$\" }"}, 0, 0},
    [ENTRY_FORGET] = {{"forget", NAME_OF}, 0, 0},
    [ENTRY_POWER] = {{"power cut", TIME_OF}, 0, 0},
    [ENTRY_DO] = {{"do", OBJECT_OF("an action, as a show's triggers have them")}, 0, 0},
    [ENTRY_RENAME] = {{"rename", NAME_OF}, WITH_AS, 0},
    [ENTRY_COPY] = {{"copy", NAME_OF}, WITH_AS, 0},
    [ENTRY_MOVE] = {{"move", NAME_OF}, WITH_PLACE, 0},
    [ENTRY_KEEP_RIG] = {{"keep rig", "{ \"const\": true }"}, 0, 0},
    [ENTRY_TURN] = {{"turn", NAME_OF}, 0, WITH_TO | WITH_BY | WITH_OVER},
    [ENTRY_HEAR] = {{"hear", NAME_OF}, WITH_FILE, 0},
    {{NULL, NULL}, 0, 0}};

static uint64_t read_time(struct json *json, int token) {
    char text[40];
    uint64_t us = 0;
    if (json->status != GLANZ_OK) {
        return 0;
    }
    if (!glanz_json_is(json, token, JSON_STRING) || glanz_json_copy(json, token, text, sizeof text) >= sizeof text ||
        !time_parse(&us, text)) {
        glanz_json_fail(json, token, "expected a time such as \"250 ms\" or \"2.5 s\"", NULL, NULL);
    }
    return us;
}

static void read_name(struct json *json, int token, char *name, size_t capacity) {
    if (json->status == GLANZ_OK && (!glanz_json_is(json, token, JSON_STRING) ||
                                     glanz_json_copy(json, token, name, capacity) >= capacity || name[0] == '\0')) {
        glanz_json_fail(json, token, "expected a name", NULL, NULL);
    }
}

/* The list of a save: names, or aspects. */
static void read_lists(struct json *json, int segments, int list, struct entry *entry) {
    int count = glanz_json_list(json, segments, JSON_ARRAY, (int)(sizeof entry->segments / sizeof entry->segments[0]));
    for (int at = count == 0 ? -1 : glanz_json_first(json, segments); at >= 0 && json->status == GLANZ_OK;
         at = glanz_json_next(json, segments, at)) {
        read_name(json, at, entry->segments[entry->segment_count++], sizeof entry->segments[0]);
    }
    count = glanz_json_list(json, list, JSON_ARRAY, 5);
    for (int at = count == 0 ? -1 : glanz_json_first(json, list); at >= 0 && json->status == GLANZ_OK;
         at = glanz_json_next(json, list, at)) {
        entry->aspects = (uint8_t)(entry->aspects | 1u << glanz_find_choice(json, at, aspects));
    }
}

/* How far a hand turns something: degrees or a share. */
static void read_amount(struct json *json, int token, struct entry *entry) {
    char text[40] = "";
    size_t length = glanz_json_is(json, token, JSON_STRING) ? glanz_json_copy(json, token, text, sizeof text) : 0;
    entry->angle = length > 3 && length < sizeof text && strcmp(text + length - 3, "deg") == 0;
    entry->to = entry->angle ? glanz_json_quantity(json, token, QUANTITY_ANGLE, -GLANZ_DRIVE_TURNS, GLANZ_DRIVE_TURNS, NULL)
                             : glanz_json_quantity(json, token, QUANTITY_SHARE, -65536, 65536, NULL);
}

/* What goes with a kind of entry: there where it must be, nowhere else. */
static void read_withs(struct json *json, const struct log_kind *kind, struct entry *entry) {
    int said[sizeof log_withs / sizeof log_withs[0]];
    for (unsigned i = 0; log_withs[i].key != NULL; i++) {
        said[i] = glanz_json_member(json, 0, log_withs[i].key);
        if (said[i] >= 0 && ((kind->needs | kind->may) >> i & 1u) == 0) {
            glanz_json_fail(json, said[i], "expected no ", log_withs[i].key, " with this entry");
        } else if (said[i] < 0 && (kind->needs >> i & 1u) != 0) {
            glanz_json_fail(json, 0, "the key ", log_withs[i].key, " is missing here");
        }
    }
    if (json->status != GLANZ_OK) {
        return;
    }
    entry->level = said[0] < 0 ? 0 : (uint16_t)glanz_json_count(json, said[0], 0, 65535);
    entry->for_us = said[1] < 0 ? entry->for_us : read_time(json, said[1]);
    read_lists(json, said[2], said[3], entry);
    entry->replace = said[4] >= 0 && glanz_json_flag(json, said[4]);
    if (said[5] >= 0) {
        read_name(json, said[5], entry->as, sizeof entry->as);
    }
    entry->place = said[6] < 0 ? 0 : (uint8_t)glanz_json_count(json, said[6], 1, 64);
    entry->for_us = said[9] < 0 ? entry->for_us : read_time(json, said[9]);
    if (said[10] >= 0) {
        read_name(json, said[10], entry->as, sizeof entry->as);
    }
    if (entry->kind == ENTRY_TURN) {
        entry->by = said[8] >= 0;
        if ((said[7] < 0) == (said[8] < 0)) {
            glanz_json_fail(json, 0, "expected either \"to\" or \"by\" with a turn", NULL, NULL);
        } else {
            read_amount(json, entry->by ? said[8] : said[7], entry);
        }
    }
}

int clock_parse(uint32_t *day, uint32_t *second, const char *text) {
    int number[6];
    int length = 0;
    if (sscanf(text, "%4d-%2d-%2d %2d:%2d:%2d%n", &number[0], &number[1], &number[2], &number[3], &number[4], &number[5],
               &length) != 6 ||
        text[length] != '\0' || number[0] < 1970 || number[0] > 2105 || number[1] < 1 || number[1] > 12 || number[2] < 1 ||
        number[2] > 31 || number[3] < 0 || number[3] > 23 || number[4] < 0 || number[4] > 59 || number[5] < 0 ||
        number[5] > 59) {
        return 0;
    }
    *day = glanz_day_of((uint16_t)number[0], (uint8_t)number[1], (uint8_t)number[2]);
    *second = (uint32_t)(number[3] * 3600 + number[4] * 60 + number[5]);
    return glanz_date_of(*day).day == number[2]; /* a month may be shorter */
}

/* The one kind that a line is; its value in `token`. */
static int kind_of(struct json *json, int *token) {
    const char *keys[sizeof log_kinds / sizeof log_kinds[0] + sizeof log_withs / sizeof log_withs[0] + 1];
    int count = 0;
    int kind = -1;
    keys[count++] = "at";
    for (int i = 0; log_kinds[i].own.key != NULL; i++) {
        keys[count++] = log_kinds[i].own.key;
    }
    for (int i = 0; log_withs[i].key != NULL; i++) {
        keys[count++] = log_withs[i].key;
    }
    keys[count] = NULL;
    if (!glanz_json_object(json, 0, keys)) {
        return -1;
    }
    for (int i = 0; log_kinds[i].own.key != NULL; i++) {
        int value = glanz_json_member(json, 0, log_kinds[i].own.key);
        if (value >= 0 && kind >= 0) {
            glanz_json_fail(json, 0, "expected one thing a line", NULL, NULL);
        }
        kind = value >= 0 ? i : kind;
        *token = value >= 0 ? value : *token;
    }
    if (kind < 0) {
        glanz_json_fail(json, 0, "expected one of: ", NULL, NULL);
        for (int i = 0; log_kinds[i].own.key != NULL; i++) {
            glanz_fault_add(json->fault, i == 0 ? "" : ", ");
            glanz_fault_add(json->fault, log_kinds[i].own.key);
        }
    }
    return kind;
}

static void read_entry(struct json *json, struct entry *entry) {
    int token = -1;
    int kind = kind_of(json, &token);
    if (kind < 0) {
        return;
    }
    entry->kind = (enum entry_kind)kind;
    entry->at_us = read_time(json, glanz_json_require(json, 0, "at"));
    if (json->status == GLANZ_OK && (kind == ENTRY_PATCH || kind == ENTRY_DO)) {
        int quote = glanz_json_is(json, token, JSON_STRING);
        text_add(json->text + glanz_json_token(json, token)->start - quote,
                 (size_t)(glanz_json_token(json, token)->end - glanz_json_token(json, token)->start + 2u * (unsigned)quote),
                 &entry->patch);
    } else if (kind == ENTRY_KEEP_RIG) {
        if (json->status == GLANZ_OK && !glanz_json_flag(json, token)) {
            glanz_json_fail(json, token, "expected true", NULL, NULL);
        }
    } else if (kind == ENTRY_POWER) {
        entry->for_us = read_time(json, token);
    } else {
        read_name(json, token, entry->name, sizeof entry->name);
    }
    uint32_t day;
    uint32_t second;
    if (json->status == GLANZ_OK && kind == ENTRY_CLOCK && !clock_parse(&day, &second, entry->name)) {
        glanz_json_fail(json, token, "expected a date and time that there is, such as \"2026-06-20 21:40:00\"", NULL, NULL);
    }
    read_withs(json, &log_kinds[kind], entry);
}

glanz_status log_read(struct log *log, const char *bytes, size_t count, struct glanz_fault *fault) {
    memset(log, 0, sizeof *log);
    size_t capacity = 0;
    unsigned line = 0;
    glanz_status status = GLANZ_OK;
    for (size_t at = 0; at < count && status == GLANZ_OK;) {
        const char *end = (const char *)memchr(bytes + at, '\n', count - at);
        size_t length = end == NULL ? count - at : (size_t)(end - bytes) - at;
        size_t begin = at;
        at += length + 1;
        line++;
        size_t blank = 0;
        while (blank < length &&
               (bytes[begin + blank] == ' ' || bytes[begin + blank] == '\t' || bytes[begin + blank] == '\r')) {
            blank++;
        }
        if (blank == length) {
            continue;
        }
        if (log->count == capacity) {
            capacity = capacity * 2 + 16;
            struct entry *entries = (struct entry *)realloc(log->entries, capacity * sizeof *entries);
            if (entries == NULL) {
                status = GLANZ_ERR_MEMORY;
                break;
            }
            log->entries = entries;
        }
        struct json json;
        struct entry *entry = &log->entries[log->count];
        memset(entry, 0, sizeof *entry);
        size_t size = glanz_document_memory(bytes + begin, length);
        void *memory = malloc(size);
        status = memory == NULL ? GLANZ_ERR_MEMORY : glanz_json_open(&json, memory, size, bytes + begin, length, fault);
        if (status == GLANZ_OK) {
            read_entry(&json, entry);
            if (json.status == GLANZ_OK && log->count > 0 && entry->at_us < log->entries[log->count - 1].at_us) {
                glanz_json_fail(&json, glanz_json_member(&json, 0, "at"),
                                "this is before the line above; expected times in order", NULL, NULL);
            }
            status = json.status;
        }
        free(memory);
        entry->line = line;
        text_add(bytes + begin, length, &entry->source);
        log->count++;
    }
    if (status != GLANZ_OK) {
        if (fault != NULL) {
            fault->line = line;
        }
        log_free(log);
    }
    return status;
}

void log_free(struct log *log) {
    for (size_t i = 0; i < log->count; i++) {
        text_free(&log->entries[i].patch);
        text_free(&log->entries[i].source);
    }
    free(log->entries);
    memset(log, 0, sizeof *log);
}
