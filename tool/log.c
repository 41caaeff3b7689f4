/* SPDX-License-Identifier: MIT */
/* Input logs: JSON lines. */
#include "log.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "json.h"

static const char *const kinds[] = {"input",     "press", "patch",  "save", "recall", "try rig",  "clock", "forget",
                                    "power cut", "do",    "rename", "copy", "move",   "keep rig", NULL};
static const char *const keys[] = {"at",       "input",    "level",   "press",     "for", "patch",  "save", "recall",
                                   "try rig",  "clock",    "forget",  "power cut", "do",  "rename", "copy", "move",
                                   "keep rig", "segments", "aspects", "replace",   "as",  "place",  NULL};
static const char *const aspects[] = {"look", "on", "brightness", "palette", "playlist", NULL}; /* bits of enum glanz_aspect */

static uint64_t read_time(struct json *json, int token) {
    char text[40];
    uint64_t us = 0;
    if (json->status != GLANZ_OK) {
        return 0;
    }
    if (!glanz_json_is(json, token, JSMN_STRING) || glanz_json_copy(json, token, text, sizeof text) >= sizeof text ||
        !time_parse(&us, text)) {
        glanz_json_fail(json, token, "expected a time such as \"250 ms\" or \"2.5 s\"", NULL, NULL);
    }
    return us;
}

static void read_name(struct json *json, int token, char *name, size_t room) {
    if (json->status == GLANZ_OK &&
        (!glanz_json_is(json, token, JSMN_STRING) || glanz_json_copy(json, token, name, room) >= room || name[0] == '\0')) {
        glanz_json_fail(json, token, "expected a name", NULL, NULL);
    }
}

/* What belongs to one kind of entry only. */
static int owned(struct json *json, const char *key, int belongs) {
    int token = glanz_json_member(json, 0, key);
    if (token >= 0 && !belongs && json->status == GLANZ_OK) {
        glanz_json_fail(json, token, "this key does not go with that entry", NULL, NULL);
    }
    return json->status == GLANZ_OK ? token : -1;
}

/* What a save, a rename and such are told besides. */
static void read_saving(struct json *json, struct entry *entry) {
    int list = owned(json, "segments", entry->kind == ENTRY_SAVE);
    int count =
        list < 0 ? 0 : glanz_json_list(json, list, JSMN_ARRAY, (int)(sizeof entry->segments / sizeof entry->segments[0]));
    for (int at = count == 0 ? -1 : glanz_json_first(json, list); at >= 0 && json->status == GLANZ_OK;
         at = glanz_json_next(json, list, at)) {
        read_name(json, at, entry->segments[entry->segment_count++], sizeof entry->segments[0]);
    }
    list = owned(json, "aspects", entry->kind == ENTRY_SAVE);
    count = list < 0 ? 0 : glanz_json_list(json, list, JSMN_ARRAY, 5);
    for (int at = count == 0 ? -1 : glanz_json_first(json, list); at >= 0 && json->status == GLANZ_OK;
         at = glanz_json_next(json, list, at)) {
        char name[20] = "";
        int which = 0;
        read_name(json, at, name, sizeof name);
        while (aspects[which] != NULL && strcmp(aspects[which], name) != 0) {
            which++;
        }
        if (aspects[which] == NULL && json->status == GLANZ_OK) {
            glanz_json_fail(json, at, "expected one of: look, on, brightness, palette, playlist", NULL, NULL);
        }
        entry->aspects = (uint8_t)(entry->aspects | 1u << which);
    }
    int replace = owned(json, "replace", entry->kind == ENTRY_SAVE);
    entry->replace = replace >= 0 && glanz_json_flag(json, replace);
    int renames = entry->kind == ENTRY_RENAME || entry->kind == ENTRY_COPY;
    int as = owned(json, "as", renames);
    int place = owned(json, "place", entry->kind == ENTRY_MOVE);
    if (json->status == GLANZ_OK && ((renames && as < 0) || (entry->kind == ENTRY_MOVE && place < 0))) {
        glanz_json_fail(json, 0, "the key ", renames ? "as" : "place", " is missing here");
    }
    if (as >= 0) {
        read_name(json, as, entry->as, sizeof entry->as);
    }
    entry->place = place < 0 ? 0 : (uint8_t)glanz_json_count(json, place, 1, 64);
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

static void read_entry(struct json *json, struct entry *entry) {
    int kind = -1;
    if (!glanz_json_object(json, 0, keys)) {
        return;
    }
    for (int i = 0; kinds[i] != NULL; i++) {
        if (glanz_json_member(json, 0, kinds[i]) >= 0) {
            if (kind >= 0) {
                glanz_json_fail(json, 0, "expected one thing a line", NULL, NULL);
            }
            kind = i;
        }
    }
    if (kind < 0) {
        glanz_json_fail(
            json, 0,
            "expected one of: input, press, patch, save, recall, try rig, clock, forget, power cut, do, rename, copy, "
            "move, keep rig",
            NULL, NULL);
        return;
    }
    entry->kind = (enum entry_kind)kind;
    entry->at_us = read_time(json, glanz_json_require(json, 0, "at"));
    int token = glanz_json_member(json, 0, kinds[kind]);
    int duration = glanz_json_member(json, 0, "for");
    int level = glanz_json_member(json, 0, "level");
    if (json->status == GLANZ_OK && (kind == ENTRY_PATCH || kind == ENTRY_DO)) {
        int quote = glanz_json_is(json, token, JSMN_STRING);
        text_add(json->text + json->tokens[token].start - quote,
                 (size_t)(json->tokens[token].end - json->tokens[token].start + 2 * quote), &entry->patch);
    } else if (kind == ENTRY_KEEP_RIG) {
        if (json->status == GLANZ_OK && !glanz_json_flag(json, token)) {
            glanz_json_fail(json, token, "expected true", NULL, NULL);
        }
    } else {
        read_name(json, token, entry->name, sizeof entry->name);
    }
    uint32_t day;
    uint32_t second;
    if (json->status == GLANZ_OK && kind == ENTRY_CLOCK && !clock_parse(&day, &second, entry->name)) {
        glanz_json_fail(json, token, "expected a date and time that there is, such as \"2026-06-20 21:40:00\"", NULL, NULL);
    }
    read_saving(json, entry);
    if (json->status == GLANZ_OK && (kind == ENTRY_INPUT) != (level >= 0)) {
        glanz_json_fail(json, level >= 0 ? level : 0,
                        level >= 0 ? "expected \"level\" only with \"input\"" : "the key \"level\" is missing here", NULL,
                        NULL);
    }
    entry->level = level < 0 ? 0 : (uint16_t)glanz_json_count(json, level, 0, 65535);
    if (json->status == GLANZ_OK && (kind == ENTRY_PRESS || kind == ENTRY_TRY_RIG) != (duration >= 0)) {
        glanz_json_fail(json, duration >= 0 ? duration : 0,
                        duration >= 0 ? "expected no \"for\" with this" : "the key \"for\" is missing here", NULL, NULL);
    }
    entry->for_us = kind == ENTRY_POWER ? read_time(json, token) : duration < 0 ? 0 : read_time(json, duration);
}

glanz_status log_read(struct log *log, const char *bytes, size_t count, struct glanz_fault *fault) {
    memset(log, 0, sizeof *log);
    size_t room = 0;
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
        if (log->count == room) {
            room = room * 2 + 16;
            struct entry *entries = (struct entry *)realloc(log->entries, room * sizeof *entries);
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
