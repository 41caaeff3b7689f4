/* SPDX-License-Identifier: MIT */
/* What follows each other in a show's document: playlists, actions, triggers, the calendar. */
#include <string.h>

#include "parts.h"

const char *const glanz_document_days[] = {"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday", NULL};
const char *const glanz_document_thens[] = {"stay", "dark", "preset", "back", NULL};
const char *const glanz_document_aspects[] = {"look", "on", "brightness", "palette", NULL};

static const char *const playlist_keys[] = {"items", "rounds", "shuffled", "then", "then fade", NULL};
static const char *const item_keys[] = {"preset", "playlist", "dark", "hold", "fade", "at", NULL};
static const char *const then_keys[] = {"preset", NULL};
static const char *const trigger_keys[] = {"when", "do", NULL};
static const char *const when_button_keys[] = {"button", "is", NULL};
static const char *const when_value_keys[] = {"value", "rises above", "falls below", NULL};
static const char *const entry_keys[] = {"preset", "playlist", "at", "until", "for",      "every",
                                         "days",   "from",     "to", "fade",  "priority", NULL};

static int has(struct json *json, int object, const char *key) {
    return glanz_json_member(json, object, key);
}

/* ---- playlists ---- */

static uint8_t find_playlist(struct reading *reading, int token) {
    return (uint8_t)glanz_find_name(&reading->json, token, &reading->playlists->name, sizeof *reading->playlists,
                                    reading->show->playlist_count, "no such playlist");
}

static void read_item(struct reading *reading, int object, struct glanz_item *item, uint8_t timed, uint8_t is_last) {
    struct json *json = &reading->json;
    if (!glanz_json_object(json, object, item_keys)) {
        return;
    }
    int preset = has(json, object, "preset");
    int playlist = has(json, object, "playlist");
    int dark = has(json, object, "dark");
    int hold = has(json, object, "hold");
    int fade = has(json, object, "fade");
    int at = has(json, object, "at");
    if ((preset >= 0) + (playlist >= 0) + (dark >= 0) != 1) {
        glanz_json_fail(json, object, "expected one of: preset, playlist, dark", NULL, NULL);
    }
    if ((at >= 0) != timed) {
        glanz_json_fail(json, at >= 0 ? at : object, "expected \"at\" in every item of a playlist, or in none", NULL, NULL);
    }
    if (hold < 0 && playlist < 0 && (!timed || is_last)) {
        glanz_json_fail(json, object, "the key ", "hold", " is missing here");
    } else if (hold >= 0 && timed && !is_last) {
        glanz_json_fail(json, hold, "this item ends when the next begins; expected no \"hold\"", NULL, NULL);
    }
    if (json->status != GLANZ_OK) {
        return;
    }
    if (preset >= 0) {
        item->preset = glanz_read_find_preset(reading, preset);
    } else if (playlist >= 0) {
        item->kind = GLANZ_ITEM_PLAYLIST;
        item->preset = find_playlist(reading, playlist);
    } else {
        item->kind = GLANZ_ITEM_DARK;
        if (!glanz_json_flag(json, dark)) {
            glanz_json_fail(json, dark, "expected true", NULL, NULL);
        }
    }
    item->hold_ms = hold < 0 ? 0 : (uint32_t)glanz_json_quantity(json, hold, QUANTITY_TIME, 0, 86400000, NULL);
    item->fade_ms = fade < 0 ? 0 : (uint32_t)glanz_json_quantity(json, fade, QUANTITY_TIME, 0, 3600000, NULL);
    item->at_ms = at < 0 ? 0 : (uint32_t)glanz_json_quantity(json, at, QUANTITY_TIME, 0, 86400000, NULL);
}

static void read_playlist(struct reading *reading, int object, struct glanz_playlist *playlist) {
    struct json *json = &reading->json;
    if (!glanz_json_object(json, object, playlist_keys)) {
        return;
    }
    int rounds = has(json, object, "rounds");
    int shuffled = has(json, object, "shuffled");
    int then = has(json, object, "then");
    int fade = has(json, object, "then fade");
    int list = glanz_json_require(json, object, "items");
    int count = glanz_json_list(json, list, JSMN_ARRAY, 255);
    struct glanz_item *items = (struct glanz_item *)glanz_json_take(json, sizeof *items * (size_t)count);
    if (json->status == GLANZ_OK && count == 0) {
        glanz_json_fail(json, list, "expected at least one item", NULL, NULL);
    }
    playlist->rounds = rounds < 0 ? 0 : (uint16_t)glanz_json_count(json, rounds, 1, 65535);
    playlist->seed = playlist->name == NULL ? 0 : glanz_text_hash(playlist->name);
    playlist->shuffled = shuffled >= 0 && glanz_json_flag(json, shuffled) != 0;
    playlist->timed = json->status == GLANZ_OK && glanz_json_is(json, glanz_json_first(json, list), JSMN_OBJECT) &&
                      has(json, glanz_json_first(json, list), "at") >= 0;
    if (playlist->timed && playlist->shuffled) {
        glanz_json_fail(json, shuffled, "items that have their times cannot be shuffled", NULL, NULL);
    }
    if (then >= 0 && glanz_json_is(json, then, JSMN_OBJECT)) {
        if (glanz_json_object(json, then, then_keys)) {
            int preset = glanz_json_require(json, then, "preset");
            playlist->then = GLANZ_THEN_PRESET;
            playlist->then_preset = json->status == GLANZ_OK ? glanz_read_find_preset(reading, preset) : 0;
        }
    } else if (then >= 0) {
        playlist->then = glanz_find_choice(json, then, glanz_document_thens);
        if (json->status == GLANZ_OK && playlist->then == GLANZ_THEN_PRESET) {
            glanz_json_fail(json, then, "expected stay, dark, back, or { \"preset\": its name }", NULL, NULL);
        }
    }
    if (then >= 0 && rounds < 0) {
        glanz_json_fail(json, then, "a playlist without \"rounds\" goes on for ever; nothing follows it", NULL, NULL);
    }
    playlist->then_fade_ms = fade < 0 ? 0 : (uint32_t)glanz_json_quantity(json, fade, QUANTITY_TIME, 0, 3600000, NULL);
    for (int at = json->status != GLANZ_OK ? -1 : glanz_json_first(json, list); at >= 0 && json->status == GLANZ_OK;
         at = glanz_json_next(json, list, at)) {
        read_item(reading, at, &items[playlist->item_count++], playlist->timed, glanz_json_next(json, list, at) < 0);
    }
    playlist->items = items;
}

void glanz_read_playlists(struct reading *reading, int object) {
    struct json *json = &reading->json;
    int count = glanz_json_list(json, object, JSMN_OBJECT, 64);
    struct glanz_playlist *made = (struct glanz_playlist *)glanz_json_take(json, sizeof *made * (size_t)count);
    reading->playlists = made;
    reading->show->playlists = reading->playlists;
    for (int key = count == 0 ? -1 : glanz_json_first(json, object); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, object, key)) {
        made[reading->show->playlist_count++].name = glanz_json_name(json, key); /* all names first: they may name each other */
    }
    uint8_t index = 0;
    for (int key = count == 0 || json->status != GLANZ_OK ? -1 : glanz_json_first(json, object);
         key >= 0 && json->status == GLANZ_OK; key = glanz_json_next(json, object, key)) {
        read_playlist(reading, key + 1, &made[index++]);
    }
}

/* ---- actions, triggers ---- */

static uint16_t read_aspects(struct json *json, int token) {
    uint16_t aspects = 0;
    int count = glanz_json_list(json, token, JSMN_ARRAY, 4);
    for (int at = count == 0 ? -1 : glanz_json_first(json, token); at >= 0; at = glanz_json_next(json, token, at)) {
        aspects = (uint16_t)(aspects | 1u << glanz_find_choice(json, at, glanz_document_aspects));
    }
    if (json->status == GLANZ_OK && aspects == 0) {
        glanz_json_fail(json, token, "expected aspects: look, on, brightness, palette", NULL, NULL);
    }
    return aspects;
}

/* Which action an object is; its value in `token`. */
static GLANZ_CONST struct glanz_action_kind *action_kind(struct json *json, int object, int *token) {
    GLANZ_CONST struct glanz_action_kind *kind = NULL;
    uint8_t said = 0;
    for (uint8_t i = 0; glanz_actions[i] != NULL; i++) {
        int at = has(json, object, glanz_actions[i]->key);
        if (at >= 0) {
            kind = glanz_actions[i];
            *token = at;
            said++;
        }
    }
    if (said != 1 && json->status == GLANZ_OK) {
        glanz_json_fail(json, object, "expected one of: ", NULL, NULL);
        for (uint8_t i = 0; glanz_actions[i] != NULL; i++) {
            glanz_fault_add(json->fault, i == 0 ? "" : ", ");
            glanz_fault_add(json->fault, glanz_actions[i]->key);
        }
    }
    return kind;
}

/* A key that goes with some actions only: there where it must be, and nowhere else. */
static void goes_with(struct json *json, int object, const char *name, int needed, int allowed) {
    int token = has(json, object, name);
    if (token >= 0 && !allowed) {
        glanz_json_fail(json, token, "expected no ", name, " with this action");
    } else if (token < 0 && needed) {
        glanz_json_fail(json, object, "the key ", name, " is missing here");
    }
}

/* Keys that go with others, in the order of enum glanz_action_with. */
static const char *const with_keys[] = {"segment", "on", "item", "aspects", "over", "again"};
#define WITHS (sizeof with_keys / sizeof with_keys[0])

static int check_action_keys(struct json *json, int object) {
    const char *keys[32 + WITHS];
    uint8_t count = 0;
    for (; glanz_actions[count] != NULL && count < 31; count++) {
        keys[count] = glanz_actions[count]->key;
    }
    for (uint8_t i = 0; i < WITHS; i++) {
        keys[count++] = with_keys[i];
    }
    keys[count] = NULL;
    return glanz_json_object(json, object, keys);
}

/* What the action's own key says. */
static void read_value(struct reading *reading, int token, struct glanz_action *action) {
    struct json *json = &reading->json;
    switch (action->kind->value) {
    case GLANZ_VALUE_PRESET: action->target = glanz_read_find_preset(reading, token); break;
    case GLANZ_VALUE_PLAYLIST:
        action->target = (uint8_t)glanz_find_name(json, token, &reading->playlists->name, sizeof *reading->playlists,
                                                  reading->show->playlist_count, "no such playlist");
        break;
    case GLANZ_VALUE_SEGMENT: action->target = glanz_read_find_segment(reading, token); break;
    case GLANZ_VALUE_LIGHTNESS:
        action->number = (uint16_t)glanz_json_quantity(json, token, QUANTITY_LIGHTNESS, 0, 65535, NULL);
        action->target = GLANZ_ALL;
        break;
    case GLANZ_VALUE_LOOK: action->look = glanz_read_find_look(reading, token); break;
    case GLANZ_VALUE_TIME:
        action->over_ms = (uint32_t)glanz_json_quantity(json, token, QUANTITY_TIME, 1000, 86400000, NULL);
        break;
    default:
        if (!glanz_json_flag(json, token)) {
            glanz_json_fail(json, token, "expected true", NULL, NULL);
        }
        break;
    }
}

/* What a key beside it says. */
static void read_with(struct reading *reading, int token, uint8_t with, struct glanz_action *action) {
    struct json *json = &reading->json;
    switch (with) {
    case GLANZ_WITH_SEGMENT: action->target = glanz_read_find_segment(reading, token); break;
    case GLANZ_WITH_ON:
        action->number = glanz_json_is(json, token, JSMN_STRING) && glanz_json_equal(json, token, "other")
                             ? 2
                             : (uint16_t)(glanz_json_flag(json, token) != 0);
        break;
    case GLANZ_WITH_ITEM:
        action->number = (uint16_t)(glanz_json_count(json, token, 1, reading->playlists[action->target].item_count) - 1u);
        break;
    case GLANZ_WITH_ASPECTS: action->number = read_aspects(json, token); break;
    case GLANZ_WITH_OVER: action->over_ms = (uint32_t)glanz_json_quantity(json, token, QUANTITY_TIME, 0, 3600000, NULL); break;
    default: action->again = glanz_json_flag(json, token) != 0; break;
    }
}

void glanz_read_action(struct reading *reading, int object, struct glanz_action *action) {
    struct json *json = &reading->json;
    int token = -1;
    if (!check_action_keys(json, object)) {
        return;
    }
    GLANZ_CONST struct glanz_action_kind *kind = action_kind(json, object, &token);
    if (json->status != GLANZ_OK) {
        return;
    }
    action->kind = kind;
    action->over_ms = GLANZ_OWN_TIME;
    action->number = (kind->may & GLANZ_WITH_ON) != 0; /* on, where nothing is said */
    for (uint8_t i = 0; i < WITHS; i++) {
        goes_with(json, object, with_keys[i], kind->needs >> i & 1, (kind->needs | kind->may) >> i & 1);
    }
    if (json->status == GLANZ_OK) {
        read_value(reading, token, action);
    }
    for (uint8_t i = 0; i < WITHS && json->status == GLANZ_OK; i++) {
        int with = has(json, object, with_keys[i]);
        if (with >= 0) {
            read_with(reading, with, (uint8_t)(1u << i), action);
        }
    }
}

static uint8_t find_input(struct reading *reading, int token, uint8_t kind) {
    struct json *json = &reading->json;
    uint8_t index =
        (uint8_t)glanz_find_name(json, token, reading->rig->input_count == 0 ? NULL : &reading->rig->inputs->name,
                                 sizeof *reading->rig->inputs, reading->rig->input_count, "no such input in the rig");
    if (json->status == GLANZ_OK && reading->rig->inputs[index].kind != kind) {
        glanz_json_fail(json, token,
                        kind == GLANZ_INPUT_BUTTON ? "expected a button; this input is a value"
                                                   : "expected a value; this input is a button",
                        NULL, NULL);
    }
    return index;
}

void glanz_read_trigger(struct reading *reading, int object, struct glanz_trigger *trigger) {
    struct json *json = &reading->json;
    if (!glanz_json_object(json, object, trigger_keys)) {
        return;
    }
    int when = glanz_json_require(json, object, "when");
    int list = glanz_json_require(json, object, "do");
    if (json->status != GLANZ_OK || !glanz_json_object(json, when, NULL)) {
        return;
    }
    int button = has(json, when, "button");
    if (!glanz_json_object(json, when, button >= 0 ? when_button_keys : when_value_keys)) {
        return;
    }
    if (button >= 0) {
        trigger->input = find_input(reading, button, GLANZ_INPUT_BUTTON);
        int is = glanz_json_require(json, when, "is");
        trigger->event = json->status != GLANZ_OK ? 0 : glanz_find_choice(json, is, glanz_document_events);
        if (json->status == GLANZ_OK && trigger->event >= GLANZ_EVENT_RISES) {
            glanz_json_fail(
                json, is,
                "a button does not rise or fall; expected one of: pressed, pressed once, pressed twice, held, released", NULL,
                NULL);
        }
    } else {
        int value = glanz_json_require(json, when, "value");
        int rises = has(json, when, "rises above");
        int falls = has(json, when, "falls below");
        if ((rises < 0) == (falls < 0)) {
            glanz_json_fail(json, when, "expected either \"rises above\" or \"falls below\"", NULL, NULL);
        }
        if (json->status == GLANZ_OK) {
            trigger->input = find_input(reading, value, GLANZ_INPUT_VALUE);
            trigger->event = rises >= 0 ? GLANZ_EVENT_RISES : GLANZ_EVENT_FALLS;
            trigger->level =
                (uint16_t)glanz_json_quantity(json, rises >= 0 ? rises : falls, QUANTITY_LIGHTNESS, 0, 65535, NULL);
        }
    }
    int count = glanz_json_list(json, list, JSMN_ARRAY, 32);
    struct glanz_action *actions = (struct glanz_action *)glanz_json_take(json, sizeof *actions * (size_t)count);
    if (json->status == GLANZ_OK && count == 0) {
        glanz_json_fail(json, list, "expected at least one action", NULL, NULL);
    }
    for (int at = json->status != GLANZ_OK ? -1 : glanz_json_first(json, list); at >= 0 && json->status == GLANZ_OK;
         at = glanz_json_next(json, list, at)) {
        glanz_read_action(reading, at, &actions[trigger->action_count++]);
    }
    trigger->actions = actions;
}

/* ---- the calendar ---- */

/* A number of at most so many digits. @return where it ends, or NULL. */
static const char *digits(const char *text, uint32_t *number, int most) {
    const char *begin = text;
    *number = 0;
    while (*text >= '0' && *text <= '9' && text - begin < most) {
        *number = *number * 10u + (uint32_t)(*text++ - '0');
    }
    return text == begin ? NULL : text;
}

static int read_clock(const char *text, int32_t *second) {
    uint32_t hour;
    uint32_t minute;
    uint32_t rest = 0;
    text = digits(text, &hour, 2);
    text = text == NULL || *text != ':' ? NULL : digits(text + 1, &minute, 2);
    if (text != NULL && *text == ':') {
        text = digits(text + 1, &rest, 2);
    }
    if (text == NULL || *text != '\0' || hour > 23 || minute > 59 || rest > 59) {
        return 0;
    }
    *second = (int32_t)(hour * 3600u + minute * 60u + rest);
    return 1;
}

static int read_sun(const char *text, int32_t *second) {
    uint32_t number;
    int32_t sign;
    *second = 0;
    if (*text == '\0') {
        return 1;
    }
    if (text[0] != ' ' || (text[1] != '+' && text[1] != '-') || text[2] != ' ') {
        return 0;
    }
    sign = text[1] == '-' ? -1 : 1;
    text = digits(text + 3, &number, 5);
    uint32_t each = text == NULL                ? 0
                    : strcmp(text, " h") == 0   ? 3600u
                    : strcmp(text, " min") == 0 ? 60u
                    : strcmp(text, " s") == 0   ? 1u
                                                : 0;
    if (each == 0 || number > 43200u / each) {
        return 0;
    }
    *second = sign * (int32_t)(number * each);
    return 1;
}

static void read_moment(struct json *json, int token, struct glanz_moment *moment) {
    char text[40];
    int good = 0;
    if (glanz_json_is(json, token, JSMN_STRING) && glanz_json_copy(json, token, text, sizeof text) < sizeof text) {
        moment->kind = strncmp(text, "sunrise", 7) == 0  ? GLANZ_MOMENT_SUNRISE
                       : strncmp(text, "sunset", 6) == 0 ? GLANZ_MOMENT_SUNSET
                                                         : GLANZ_MOMENT_CLOCK;
        good = moment->kind == GLANZ_MOMENT_CLOCK     ? read_clock(text, &moment->second)
               : moment->kind == GLANZ_MOMENT_SUNRISE ? read_sun(text + 7, &moment->second)
                                                      : read_sun(text + 6, &moment->second);
    }
    if (!good) {
        glanz_json_fail(json, token,
                        "expected a time such as \"18:30\", \"sunrise\", \"sunset - 30 min\" (to 12 h from the sun)", NULL,
                        NULL);
    }
}

static void read_day(struct json *json, int token, struct glanz_day *day) {
    char text[16];
    const char *at = NULL;
    uint32_t year = 0;
    uint32_t month = 0;
    uint32_t of_month = 0;
    if (glanz_json_is(json, token, JSMN_STRING) && glanz_json_copy(json, token, text, sizeof text) < sizeof text) {
        at = text;
        if (strlen(text) == 10) {
            at = digits(at, &year, 4);
            at = at == NULL || *at != '-' || year < 2000 || year > 2099 ? NULL : at + 1;
        }
        at = at == NULL ? NULL : digits(at, &month, 2);
        at = at == NULL || *at != '-' ? NULL : digits(at + 1, &of_month, 2);
    }
    int there = at != NULL && *at == '\0' && month >= 1 && month <= 12 && of_month >= 1;
    if (there) { /* a day that the month has not runs on into the next */
        struct glanz_date date =
            glanz_date_of(glanz_day_of(year == 0 ? 2024 : (uint16_t)year, (uint8_t)month, (uint8_t)of_month));
        there = date.month == month && date.day == of_month;
    }
    if (!there) {
        glanz_json_fail(json, token, "expected a day such as \"12-24\", or \"2026-07-10\" (month and day there must be)", NULL,
                        NULL);
        return;
    }
    day->year = (uint16_t)year;
    day->month = (uint8_t)month;
    day->day = (uint8_t)of_month;
}

static uint32_t read_seconds(struct json *json, int token, uint32_t low, uint32_t high) {
    return (uint32_t)(glanz_json_quantity(json, token, QUANTITY_TIME, (int64_t)low * 1000, (int64_t)high * 1000, NULL) / 1000);
}

static void read_entry(struct reading *reading, int object, struct glanz_entry *entry) {
    struct json *json = &reading->json;
    if (!glanz_json_object(json, object, entry_keys)) {
        return;
    }
    int preset = has(json, object, "preset");
    int playlist = has(json, object, "playlist");
    int until = has(json, object, "until");
    int lasts = has(json, object, "for");
    int every = has(json, object, "every");
    int days = has(json, object, "days");
    int from = has(json, object, "from");
    int to = has(json, object, "to");
    int fade = has(json, object, "fade");
    int priority = has(json, object, "priority");
    int at = glanz_json_require(json, object, "at");
    if ((preset >= 0) == (playlist >= 0)) {
        glanz_json_fail(json, object, "expected either a preset or a playlist", NULL, NULL);
    }
    if ((from >= 0) != (to >= 0)) {
        glanz_json_fail(json, object, "expected \"from\" and \"to\" together", NULL, NULL);
    }
    if (lasts >= 0 && until >= 0 && every < 0) {
        glanz_json_fail(json, lasts, "expected either \"for\" or \"until\"", NULL, NULL);
    }
    if (json->status != GLANZ_OK) {
        return;
    }
    read_moment(json, at, &entry->at);
    entry->is_playlist = playlist >= 0;
    entry->target = playlist >= 0 ? find_playlist(reading, playlist) : glanz_read_find_preset(reading, preset);
    if (until >= 0) {
        read_moment(json, until, &entry->until);
    }
    entry->for_s = lasts < 0 ? 0 : read_seconds(json, lasts, 1, 7u * GLANZ_DAY);
    entry->every_s = every < 0 ? 0 : read_seconds(json, every, 60, GLANZ_DAY);
    if (from >= 0) {
        read_day(json, from, &entry->from);
        read_day(json, to, &entry->to);
    }
    int count = glanz_json_list(json, days, JSMN_ARRAY, 7);
    for (int day = count == 0 ? -1 : glanz_json_first(json, days); day >= 0 && json->status == GLANZ_OK;
         day = glanz_json_next(json, days, day)) {
        entry->weekdays = (uint8_t)(entry->weekdays | 1u << glanz_find_choice(json, day, glanz_document_days));
    }
    entry->fade_ms = fade < 0 ? GLANZ_OWN_TIME : (uint32_t)glanz_json_quantity(json, fade, QUANTITY_TIME, 0, 3600000, NULL);
    entry->priority = priority < 0 ? 0 : (uint8_t)glanz_json_count(json, priority, 0, 255);
}

void glanz_read_calendar(struct reading *reading, int object) {
    struct json *json = &reading->json;
    int count = glanz_json_list(json, object, JSMN_OBJECT, GLANZ_ENTRIES_MOST);
    struct glanz_entry *entries = (struct glanz_entry *)glanz_json_take(json, sizeof *entries * (size_t)count);
    reading->show->entries = entries;
    for (int key = count == 0 ? -1 : glanz_json_first(json, object); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, object, key)) {
        struct glanz_entry *entry = &entries[reading->show->entry_count];
        entry->name = glanz_json_name(json, key);
        read_entry(reading, key + 1, entry);
        reading->show->entry_count++;
    }
}
