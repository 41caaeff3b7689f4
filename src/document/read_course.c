/* SPDX-License-Identifier: MIT */
/* What follows each other in a show's document: playlists, actions, triggers, the calendar; what their rows leave to hooks. */
#include <string.h>

#include "read.h"

/* ---- playlists ---- */

void glanz_read_then(struct reading *reading, int token, struct glanz_playlist *playlist) {
    static const char *const keys[] = {"preset", NULL};
    struct json *json = &reading->json;
    if (glanz_json_is(json, token, JSON_OBJECT)) {
        if (glanz_json_object(json, token, keys)) {
            int preset = glanz_json_require(json, token, keys[0]);
            playlist->then = GLANZ_THEN_PRESET;
            playlist->then_preset = (uint8_t)glanz_read_find(reading, preset, SCOPE_PRESETS);
        }
        return;
    }
    playlist->then = glanz_find_choice(json, token, glanz_words_thens);
    if (json->status == GLANZ_OK && playlist->then == GLANZ_THEN_PRESET) {
        glanz_json_fail(json, token, "expected stay, dark, back, or { \"preset\": its name }", NULL, NULL);
    }
}

static void check_item(struct json *json, int object, const struct glanz_item *item, uint8_t timed, uint8_t is_last) {
    int hold = glanz_json_member(json, object, "hold");
    int at = glanz_json_member(json, object, "at");
    if ((at >= 0) != timed) {
        glanz_json_fail(json, at >= 0 ? at : object, "expected \"at\" in every item of a playlist, or in none", NULL, NULL);
    } else if (hold < 0 && item->kind != GLANZ_ITEM_PLAYLIST && (!timed || is_last)) {
        glanz_json_fail(json, object, "the key ", "hold", " is missing here");
    } else if (hold >= 0 && timed && !is_last) {
        glanz_json_fail(json, hold, "this item ends when the next begins; expected no \"hold\"", NULL, NULL);
    }
}

void glanz_read_playlist_end(struct reading *reading, struct read_frame *frame) {
    struct json *json = &reading->json;
    struct glanz_playlist *playlist = (struct glanz_playlist *)(void *)frame->base;
    int then = glanz_read_token(frame, "then");
    int list = glanz_read_token(frame, "items");
    int token = glanz_json_first(json, list);
    playlist->seed = glanz_text_hash(playlist->name);
    playlist->timed = glanz_json_member(json, token, "at") >= 0;
    if (playlist->timed && playlist->shuffled) {
        glanz_json_fail(json, glanz_read_token(frame, "shuffled"), "items that have their times cannot be shuffled", NULL,
                        NULL);
    }
    if (then >= 0 && playlist->rounds == 0) {
        glanz_json_fail(json, then, "a playlist without \"rounds\" goes on for ever; nothing follows it", NULL, NULL);
    }
    for (uint8_t i = 0; i < playlist->item_count && json->status == GLANZ_OK; i++) {
        check_item(json, token, &playlist->items[i], playlist->timed, i + 1 == playlist->item_count);
        token = glanz_json_next(json, list, token);
    }
}

/* ---- actions, triggers ---- */

void glanz_read_on(struct reading *reading, int token, struct glanz_action *action) {
    struct json *json = &reading->json;
    int other = glanz_json_is(json, token, JSON_STRING) && glanz_json_equal(json, token, "other");
    action->number = other ? 2 : (uint16_t)(glanz_json_flag(json, token) != 0);
}

/* Numbers of the show's looks that an action can change: not choices of words, which are each effect's own. */
void glanz_read_param(struct reading *reading, int token, struct glanz_action *action) {
    struct json *json = &reading->json;
    char name[64];
    GLANZ_CONST struct glanz_param *param = NULL;
    uint8_t of_color = GLANZ_COLOR_WHOLE;
    if (glanz_json_is(json, token, JSON_STRING) && glanz_json_copy(json, token, name, sizeof name) < sizeof name) {
        const char *rest = name;
        for (uint8_t i = GLANZ_COLOR_HUE; i <= GLANZ_COLOR_LIGHTNESS; i++) {
            size_t length = strlen(glanz_color_numbers[i].before);
            if (strncmp(name, glanz_color_numbers[i].before, length) == 0) {
                of_color = i;
                rest = name + length;
            }
        }
        param = glanz_rows_param(reading->show, rest, of_color == GLANZ_COLOR_WHOLE ? ANY_KIND : (uint8_t)GLANZ_PARAM_COLOR);
    }
    if (param == NULL && of_color != GLANZ_COLOR_WHOLE) {
        glanz_json_fail(json, token, "no look of the show has such a colour; expected one of its keys, such as hue of color",
                        NULL, NULL);
        return;
    }
    if (param == NULL) {
        glanz_json_fail(json, token, "no look of the show has such a number; expected one of its keys, such as speed", NULL,
                        NULL);
    } else if (param->kind == GLANZ_PARAM_CHOICE || param->kind == GLANZ_PARAM_SIGNAL) {
        glanz_json_fail(json, token, "this is a choice of words; expected a number, or another look in its place", NULL, NULL);
    } else {
        action->param = param->name;
        action->kind_of_param = param->kind;
        action->of_color = of_color;
        reading->driven = of_color == GLANZ_COLOR_WHOLE ? param : &glanz_color_numbers[of_color].param;
    }
}

static int64_t read_by(struct reading *reading, int token, struct glanz_action *action) {
    GLANZ_CONST struct glanz_param *param = reading->driven;
    struct json *json = &reading->json;
    switch (param->kind) {
    case GLANZ_PARAM_TURN: return glanz_json_quantity(json, token, QUANTITY_ANGLE, -65535, 65535, NULL);
    case GLANZ_PARAM_LENGTH: return glanz_json_quantity(json, token, QUANTITY_LENGTH, -param->high, param->high, &action->unit);
    case GLANZ_PARAM_RATE: return glanz_json_quantity(json, token, QUANTITY_RATE, param->low, param->high, &action->unit);
    case GLANZ_PARAM_SHARE: return glanz_json_quantity(json, token, QUANTITY_SHARE, -param->high, param->high, NULL);
    default: glanz_json_fail(json, token, "this number can be set only; expected \"to\"", NULL, NULL); return 0;
    }
}

/* How it changes: each is of its own key. */
void glanz_read_change(struct reading *reading, const struct row *row, int token, struct glanz_action *action) {
    struct json *json = &reading->json;
    if (action->param == NULL) {
        return; /* refused at the end, for there is no "number" */
    }
    action->by = (uint8_t)row->arg.low;
    const int32_t least = action->of_color == GLANZ_COLOR_HUE ? 91 : 327; /* half a degree, half a percent */
    switch (action->by) {
    case GLANZ_CHANGE_TO: action->value = glanz_read_number(reading, token, reading->driven, 65535, &action->unit); break;
    case GLANZ_CHANGE_BY:
        action->value = (int32_t)read_by(reading, token, action);
        if (action->of_color != GLANZ_COLOR_WHOLE && (uint32_t)(action->value + least) <= 2u * (uint32_t)least) {
            glanz_json_fail(json, token, "a colour goes by whole degrees and percents; expected more than that", NULL, NULL);
        }
        break;
    default:
        action->value = (int32_t)glanz_json_quantity(json, token, QUANTITY_SHARE, -65536 * 100, 65536 * 100, NULL);
        if (reading->driven->kind == GLANZ_PARAM_COLOR || reading->driven->kind == GLANZ_PARAM_FLAG ||
            reading->driven->kind == GLANZ_PARAM_TURN) {
            glanz_json_fail(json, token, "this cannot be multiplied; expected \"to\"", NULL, NULL);
        }
    }
}

static void check_change(struct json *json, const struct read_frame *frame) {
    uint8_t said = 0;
    said = (uint8_t)(said + (glanz_read_token(frame, "to") >= 0) + (glanz_read_token(frame, "by") >= 0));
    said = (uint8_t)(said + (glanz_read_token(frame, "times") >= 0));
    if (glanz_read_token(frame, "number") < 0) {
        glanz_json_fail(json, frame->object, "the key ", "number", " is missing here");
    } else if (said != 1) {
        glanz_json_fail(json, frame->object, "expected one of: to, by, times", NULL, NULL);
    }
}

/* Which action an object is; its value in `token`. */
static GLANZ_CONST struct glanz_action_kind *action_kind(struct json *json, int object, int *token) {
    GLANZ_CONST struct glanz_action_kind *kind = NULL;
    uint8_t said = 0;
    for (uint8_t i = 0; glanz_actions[i] != NULL; i++) {
        int at = glanz_json_member(json, object, glanz_actions[i]->key);
        if (at >= 0) {
            kind = glanz_actions[i];
            *token = at;
            said++;
        }
    }
    if (said != 1) {
        glanz_json_fail(json, object, "expected one of: ", NULL, NULL);
        for (uint8_t i = 0; glanz_actions[i] != NULL; i++) {
            glanz_fault_add(json->fault, i == 0 ? "" : ", ");
            glanz_fault_add(json->fault, glanz_actions[i]->key);
        }
    }
    return kind;
}

/* What kind of action, the value of its own key, and the keys that go with it: there where they must be, nowhere else. */
void glanz_read_action_begin(struct reading *reading, struct read_frame *frame) {
    struct json *json = &reading->json;
    struct glanz_action *action = (struct glanz_action *)(void *)frame->base;
    const char *keys[48 + ROWS_MOST];
    int count = 0;
    int value = -1;
    for (; glanz_actions[count] != NULL && count < 47; count++) {
        keys[count] = glanz_actions[count]->key;
    }
    keys[glanz_read_keys(keys, count, frame->table)] = NULL;
    if (!glanz_json_object(json, frame->object, keys)) {
        return;
    }
    GLANZ_CONST struct glanz_action_kind *kind = action_kind(json, frame->object, &value);
    if (json->status != GLANZ_OK) {
        return;
    }
    action->kind = kind;
    action->over_ms = GLANZ_OWN_TIME;
    action->number = (kind->may & GLANZ_WITH_ON) != 0; /* on, where nothing is said */
    for (uint8_t i = 0; i < frame->table->count; i++) {
        const struct row *row = &frame->table->rows[i];
        if (row->tag != 0 && frame->token[i] < 0 && (kind->needs & row->tag) != 0) {
            glanz_json_fail(json, frame->object, "the key ", row->key, " is missing here");
        } else if (row->tag != 0 && ((kind->needs | kind->may) & row->tag) == 0) {
            if (frame->token[i] >= 0) {
                glanz_json_fail(json, frame->token[i], "expected no ", row->key, " with this action");
            }
            frame->token[i] = NOT_APPLICABLE;
        }
    }
    if (json->status == GLANZ_OK) {
        glanz_read_value(reading, &glanz_rows_of_values[kind->value], value, action);
        uint8_t input = kind->value == GLANZ_VALUE_INPUT && json->status == GLANZ_OK ? reading->rig->inputs[action->target].kind
                                                                                     : GLANZ_INPUT_SENSOR;
        if (input != GLANZ_INPUT_SENSOR && input != GLANZ_INPUT_DIAL) {
            glanz_json_fail(json, value, "this input has no range of readings; expected a sensor or a dial", NULL, NULL);
        }
        if (json->status == GLANZ_OK && kind->value == GLANZ_VALUE_CONTENT && action->look->content == NULL) {
            glanz_json_fail(json, value, "this look shows no text, picture, marks or pattern; expected one that does", NULL,
                            NULL);
        }
    }
}

void glanz_read_action_end(struct reading *reading, struct read_frame *frame) {
    const struct glanz_action *action = (const struct glanz_action *)(const void *)frame->base;
    int item = glanz_read_token(frame, "item");
    if ((action->kind->may & GLANZ_WITH_NUMBER) != 0) {
        check_change(&reading->json, frame);
    }
    if (item >= 0) { /* how many there are is known now */
        (void)glanz_json_count(&reading->json, item, 1, reading->show->playlists[action->target].item_count);
    }
}

/* A button, or anything else, as the key says. */
static void check_input(struct reading *reading, int token, uint8_t index, int button) {
    int is_button = index < reading->rig->input_count && reading->rig->inputs[index].kind == GLANZ_INPUT_BUTTON;
    if (token >= 0 && is_button != button) {
        glanz_json_fail(&reading->json, token,
                        button ? "expected a button; this input is a value" : "expected a value; this input is a button", NULL,
                        NULL);
    }
}

/* Keys of a "when" that say what happens, the events they stand for, and the keys that must go with them, then those that may.
 */
static const struct {
    const char *key;
    uint8_t event;
    const char *needs, *may;
} waits[] = {{"is", 0, NULL, NULL},
             {"rises above", GLANZ_EVENT_RISES, NULL, "margin"},
             {"falls below", GLANZ_EVENT_FALLS, NULL, "margin"},
             {"enters", GLANZ_EVENT_ENTERS, "to", "margin"},
             {"leaves", GLANZ_EVENT_LEAVES, "to", "margin"},
             {"stays above", GLANZ_EVENT_STAYS_ABOVE, "for", "margin"},
             {"stays below", GLANZ_EVENT_STAYS_BELOW, "for", "margin"},
             {"unchanged for", GLANZ_EVENT_UNCHANGED, NULL, "margin"}};
#define WAITS ((uint8_t)(sizeof waits / sizeof waits[0]))

/* What it waits for: one thing. @return which of `waits`; WAITS after a refusal. */
static uint8_t find_wait(struct json *json, const struct read_frame *frame) {
    uint8_t found = WAITS;
    uint8_t said = 0;
    for (uint8_t i = 0; i < WAITS; i++) {
        if (glanz_read_token(frame, waits[i].key) >= 0) {
            found = i;
            said++;
        }
    }
    if (said != 1) {
        glanz_json_fail(json, frame->object, "expected one of: ", NULL, NULL);
        for (uint8_t i = 0; i < WAITS; i++) {
            glanz_fault_add(json->fault, i == 0 ? "" : ", ");
            glanz_fault_add(json->fault, waits[i].key);
        }
        return WAITS;
    }
    return found;
}

/* A key goes with what it waits for, or not. */
static void check_beside(struct json *json, const struct read_frame *frame, const char *key, const char *needs,
                         const char *may) {
    int token = glanz_read_token(frame, key);
    int needed = needs != NULL && strcmp(key, needs) == 0;
    if (needed && token < 0) {
        glanz_json_fail(json, frame->object, "the key ", key, " is missing here");
    } else if (token >= 0 && !needed && (may == NULL || strcmp(key, may) != 0)) {
        glanz_json_fail(json, token, "expected no ", key, " with this");
    }
}

void glanz_read_when_end(struct reading *reading, struct read_frame *frame) {
    static const char *const beside[] = {"with", "to", "for", "margin"};
    struct json *json = &reading->json;
    struct glanz_trigger *trigger = (struct glanz_trigger *)(void *)frame->base;
    int button = glanz_read_token(frame, "button");
    int value = glanz_read_token(frame, "value");
    if ((button < 0) == (value < 0)) {
        glanz_json_fail(json, frame->object, "expected one of: button, value", NULL, NULL);
        return;
    }
    uint8_t wait = find_wait(json, frame);
    if (wait == WAITS) {
        return;
    }
    trigger->event = wait == 0 ? trigger->event : waits[wait].event;
    const char *needs = wait == 0 && trigger->event == GLANZ_EVENT_PRESSED_TOGETHER ? "with" : waits[wait].needs;
    for (uint8_t i = 0; i < 4 && json->status == GLANZ_OK; i++) {
        check_beside(json, frame, beside[i], needs, waits[wait].may);
    }
    if (json->status != GLANZ_OK) {
        return;
    }
    check_input(reading, button, trigger->input, 1);
    check_input(reading, value, trigger->input, 0);
    if (json->status == GLANZ_OK && trigger->event != GLANZ_EVENT_UNCHANGED &&
        GLANZ_EVENT_IS_OF_LEVEL(trigger->event) != (value >= 0)) {
        glanz_json_fail(json, glanz_read_token(frame, waits[wait].key),
                        value < 0
                            ? "a button does not do this; expected one of: pressed, pressed once, pressed twice, pressed three "
                              "times, pressed together, held, repeats, released"
                            : "only a button does this; expected of a value one of: turned up, turned down, turned up fast, "
                              "turned down fast, lost, back, or rises above, falls below and their like",
                        NULL, NULL);
    }
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

void glanz_read_moment(struct json *json, int token, struct glanz_moment *moment) {
    char text[40];
    int good = 0;
    if (glanz_json_is(json, token, JSON_STRING) && glanz_json_copy(json, token, text, sizeof text) < sizeof text) {
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

void glanz_read_day(struct json *json, int token, struct glanz_day *day) {
    char text[16];
    const char *at = NULL;
    uint32_t year = 0;
    uint32_t month = 0;
    uint32_t of_month = 0;
    if (glanz_json_is(json, token, JSON_STRING) && glanz_json_copy(json, token, text, sizeof text) < sizeof text) {
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

void glanz_read_entry_end(struct reading *reading, struct read_frame *frame) {
    struct json *json = &reading->json;
    int lasts = glanz_read_token(frame, "for");
    if ((glanz_read_token(frame, "from") >= 0) != (glanz_read_token(frame, "to") >= 0)) {
        glanz_json_fail(json, frame->object, "expected \"from\" and \"to\" together", NULL, NULL);
    }
    if (lasts >= 0 && glanz_read_token(frame, "until") >= 0 && glanz_read_token(frame, "every") < 0) {
        glanz_json_fail(json, lasts, "expected either \"for\" or \"until\"", NULL, NULL);
    }
}
