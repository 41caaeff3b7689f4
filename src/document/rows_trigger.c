/* SPDX-License-Identifier: MIT */
/* A show's rows for what inputs and signals do: actions and triggers. */
#include <string.h>

#include "rows.h"

const char *const glanz_words_events[] = {"pressed",
                                          "pressed once",
                                          "pressed twice",
                                          "held",
                                          "released",
                                          "pressed three times",
                                          "repeats",
                                          "pressed together",
                                          "turned up",
                                          "turned down",
                                          "turned up fast",
                                          "turned down fast",
                                          "lost",
                                          "back",
                                          NULL};
const char *const glanz_names_of_events[] = {"rises",       "falls",       "enters",    "leaves",
                                             "stays above", "stays below", "unchanged", NULL};
const char *const glanz_words_aspects[] = {"look", "on", "brightness", "palette", NULL};
const char *const glanz_words_ways[] = {"next", "previous", "random", NULL};

#if GLANZ_DESCRIPTIONS
/* A button does one of its words, or is unchanged; a value one thing with what goes with it. */
#define WHEN_RULES                                                                                                             \
    "\"oneOf\": [ { \"required\": [\"button\", \"is\"], \"maxProperties\": 2, \"properties\": { \"is\": { \"enum\": "          \
    "[\"pressed\", "                                                                                                           \
    "\"pressed once\", \"pressed twice\", \"held\", \"released\", \"pressed three times\", \"repeats\"] } } }, "               \
    "{ \"required\": [\"button\", \"is\", \"with\"], \"maxProperties\": 3, \"properties\": { \"is\": { \"const\": "            \
    "\"pressed together\" } } }, "                                                                                             \
    "{ \"required\": [\"value\", \"is\"], \"maxProperties\": 2, \"properties\": { \"is\": { \"enum\": [\"turned up\", "        \
    "\"turned down\", \"turned up fast\", \"turned down fast\", \"lost\", \"back\"] } } }, "                                   \
    "{ \"required\": [\"value\", \"rises above\"], \"propertyNames\": { \"enum\": [\"value\", \"rises above\", \"margin\"] } " \
    "}, "                                                                                                                      \
    "{ \"required\": [\"value\", \"falls below\"], \"propertyNames\": { \"enum\": [\"value\", \"falls below\", \"margin\"] } " \
    "}, "                                                                                                                      \
    "{ \"required\": [\"value\", \"enters\", \"to\"], \"propertyNames\": { \"enum\": [\"value\", \"enters\", \"to\", "         \
    "\"margin\"] } }, "                                                                                                        \
    "{ \"required\": [\"value\", \"leaves\", \"to\"], \"propertyNames\": { \"enum\": [\"value\", \"leaves\", \"to\", "         \
    "\"margin\"] } }, "                                                                                                        \
    "{ \"required\": [\"value\", \"stays above\", \"for\"], \"propertyNames\": { \"enum\": [\"value\", \"stays above\", "      \
    "\"for\", \"margin\"] } }, "                                                                                               \
    "{ \"required\": [\"value\", \"stays below\", \"for\"], \"propertyNames\": { \"enum\": [\"value\", \"stays below\", "      \
    "\"for\", \"margin\"] } }, "                                                                                               \
    "{ \"required\": [\"button\", \"unchanged for\"], \"propertyNames\": { \"enum\": [\"button\", \"unchanged for\", "         \
    "\"margin\"] } }, "                                                                                                        \
    "{ \"required\": [\"value\", \"unchanged for\"], \"propertyNames\": { \"enum\": [\"value\", \"unchanged for\", "           \
    "\"margin\"] } } ]"
#endif

#define OF struct glanz_action
#define WITH(key, row_kind, member, low_of, high_of, extra_of, flags, bit, what)                                               \
    {                                                                                                                          \
        key, {low_of}, high_of, ROW_AT(member), (flags) | ROW_CONDITIONAL, row_kind, sizeof(((OF *)0)->member), extra_of,      \
            bit ROW_WORDS(member, NULL, what)                                                                                  \
    }
static const struct row action_rows[] = {
    WITH(NULL, ROW_HOOK, kind, NULL, 0, HOOK_KIND, 0, 0, NULL),
    WITH("on", ROW_HOOK, number, NULL, 0, HOOK_ON, 0, GLANZ_WITH_ON, "true, false, or \"other\""),
    WITH("item", ROW_COUNT, number, .low = 1, 255, 0, ROW_FROM_ONE, GLANZ_WITH_ITEM, "which item, counted from 1"),
    WITH("aspects", ROW_SET, number, glanz_words_aspects, 0, 0, ROW_NOT_EMPTY, GLANZ_WITH_ASPECTS, "what of the segment"),
    WITH("segment", ROW_INDEX, target, NULL, 0, SCOPE_SEGMENTS, ROW_ABSENT_ALL, GLANZ_WITH_SEGMENT,
         "the segment that is meant"),
    WITH("over", ROW_QUANTITY, over_ms, .low = 0, HOUR, QUANTITY_TIME, ROW_ABSENT_ALL, GLANZ_WITH_OVER,
         "how long the change takes; else the show's"),
    WITH("again", ROW_FLAG, again, NULL, 1, 0, 0, GLANZ_WITH_AGAIN, "begins anew, even where it shows already"),
    WITH("number", ROW_HOOK, param, NULL, 0, HOOK_PARAM, 0, GLANZ_WITH_NUMBER,
         "the key of a number of a look, such as speed; of a colour also \"hue of color\", saturation, lightness"),
    WITH("to", ROW_HOOK, value, .low = GLANZ_CHANGE_TO, 0, HOOK_CHANGE, 0, GLANZ_WITH_NUMBER, "it is that"),
    WITH("by", ROW_HOOK, value, .low = GLANZ_CHANGE_BY, 0, HOOK_CHANGE, 0, GLANZ_WITH_NUMBER, "so much more, or less"),
    WITH("times", ROW_HOOK, value, .low = GLANZ_CHANGE_TIMES, 0, HOOK_CHANGE, 0, GLANZ_WITH_NUMBER,
         "so many times, such as \"150 %\""),
    WITH("for", ROW_QUANTITY, for_ms, .low = 100, DAY_LONG, QUANTITY_TIME, 0, GLANZ_WITH_FOR,
         "then what was before comes back; else for good"),
};
const struct table glanz_table_action = {TABLE_ROWS(action_rows), TABLE_ACTION, TABLE_FLAT | TABLE_OPEN, 0,
                                         0 TABLE_WORDS("struct glanz_action", "action", NULL, NULL)};

#define VALUE(row_kind, member, low_of, high_of, extra_of)                                                                     \
    {                                                                                                                          \
        NULL, {low_of}, high_of, ROW_AT(member), ROW_REQUIRED, row_kind, sizeof(((OF *)0)->member), extra_of,                  \
            0 ROW_WORDS(member, NULL, NULL)                                                                                    \
    }
const struct row glanz_rows_of_values[] = {
    /* by enum glanz_action_value */
    VALUE(ROW_TRUE, target, NULL, 0, 0),
    VALUE(ROW_INDEX, target, NULL, 0, SCOPE_PRESETS),
    VALUE(ROW_INDEX, target, NULL, 0, SCOPE_PLAYLISTS),
    VALUE(ROW_INDEX, target, NULL, 0, SCOPE_SEGMENTS),
    VALUE(ROW_QUANTITY, number, .low = 0, 65535, QUANTITY_LIGHTNESS),
    VALUE(ROW_POINTER, look, NULL, 0, SCOPE_LOOKS),
    VALUE(ROW_QUANTITY, over_ms, .low = 1000, DAY_LONG, QUANTITY_TIME),
    VALUE(ROW_HOOK, gradient, NULL, 0, HOOK_PALETTE),
    VALUE(ROW_POINTER, look, NULL, 0, SCOPE_LOOKS),
    VALUE(ROW_CHOICE, number, glanz_words_ways, 0, 0),
    VALUE(ROW_NAME, param, NULL, 0, 0),
    VALUE(ROW_INDEX, target, NULL, 0, SCOPE_INPUTS),
};

const struct color_number glanz_color_numbers[4] = {{"", {.kind = GLANZ_PARAM_COLOR}},
                                                    {"hue of ", {.kind = GLANZ_PARAM_TURN, .high = 65535}},
                                                    {"saturation of ", {.kind = GLANZ_PARAM_SHARE, .high = 65536}},
                                                    {"lightness of ", {.kind = GLANZ_PARAM_SHARE, .high = 65536}}};

GLANZ_CONST struct glanz_param *glanz_rows_param(GLANZ_CONST struct glanz_show *show, const char *name, uint8_t kind) {
    for (uint16_t i = 0; i < show->look_count; i++) {
        GLANZ_CONST struct glanz_effect *effect = show->looks[i].effect;
        for (uint8_t k = 0; k < effect->param_count; k++) {
            if ((kind == ANY_KIND || effect->params[k].kind == kind) && strcmp(effect->params[k].name, name) == 0) {
                return &effect->params[k];
            }
        }
    }
    return NULL;
}

#undef OF

#define OF struct glanz_trigger
#define LEVEL(key, member, event, what) LEVEL_ROW(key, member, LEVEL_OF_TRIGGER, ROW_CONDITIONAL, event, what)
static const struct row when_rows[] = {
    INDEX("button", input, SCOPE_INPUTS, ROW_CONDITIONAL, "a button of the rig"),
    INDEX("value", input, SCOPE_SIGNALS, ROW_CONDITIONAL, "any other input of the rig, or a signal of the show"),
    CHOICE("is", event, glanz_words_events, ROW_CONDITIONAL, "GLANZ_EVENT_",
           "what the button does, or a value: turned up, turned down, turned up fast, turned down fast, lost, back"),
    INDEX("with", other, SCOPE_INPUTS, ROW_CONDITIONAL, "the other button, of those that are pressed together"),
    LEVEL("rises above", level, GLANZ_EVENT_RISES, "what the value does"),
    LEVEL("falls below", level, GLANZ_EVENT_FALLS, "what the value does"),
    LEVEL("enters", level, GLANZ_EVENT_ENTERS, "it comes between this and \"to\"; of an angle clockwise"),
    LEVEL("leaves", level, GLANZ_EVENT_LEAVES, "it was between this and \"to\", and is no more"),
    LEVEL("to", upper, 0, "the upper end"),
    LEVEL("stays above", level, GLANZ_EVENT_STAYS_ABOVE, "it does so for as long as \"for\" says"),
    LEVEL("stays below", level, GLANZ_EVENT_STAYS_BELOW, "it does so for as long as \"for\" says"),
    QUANTITY("for", for_ms, QUANTITY_TIME, 100, DAY_LONG, ROW_CONDITIONAL, "how long"),
    QUANTITY("unchanged for", for_ms, QUANTITY_TIME, 100, DAY_LONG, ROW_CONDITIONAL,
             "it has not moved for so long, or not by more than \"margin\"; a button too"),
    LEVEL_ROW("margin", margin, LEVEL_OF_MARGIN, 0, 0,
              "by so much a level must go back before the same can happen again; else not at all"),
};
#undef LEVEL
static const struct table when_table = {TABLE_ROWS(when_rows), TABLE_WHEN, TABLE_FLAT, 0,
                                        0 TABLE_WORDS("struct glanz_trigger", "condition", NULL, WHEN_RULES)};
#undef OF

#define OF struct glanz_condition
static const struct row condition_rows[] = {
    INDEX("value", signal, SCOPE_SIGNALS, ROW_REQUIRED, "an input of the rig, or a signal of the show"),
    LEVEL_ROW("above", level, LEVEL_OF_CONDITION, ROW_ALTERNATIVE, 0, "its level is above this; of an angle, part of a turn"),
    LEVEL_ROW("below", level, LEVEL_OF_CONDITION, ROW_ALTERNATIVE, 1, "its level is below this"),
};
static const struct table condition_table = {TABLE_ROWS(condition_rows), TABLE_PLAIN, TABLE_FLAT, offsetof(OF, below),
                                             0 TABLE_WORDS("struct glanz_condition", "condition beside", "below", NULL)};
#undef OF

#define OF struct glanz_trigger
static const struct row trigger_rows[] = {
    OBJECT("when", when_table, ROW_REQUIRED, "what it waits for"),
    LIST("while", conditions, struct glanz_condition, condition_count, condition_table, 16, 0,
         "what must be so at that moment, all of it; else nothing is done"),
    QUANTITY("not again within", wait_ms, QUANTITY_TIME, 0, DAY_LONG, 0, "after it was met it is not met for so long"),
    LIST("do", actions, struct glanz_action, action_count, glanz_table_action, 32, ROW_REQUIRED | ROW_NOT_EMPTY,
         "what is done then"),
    FLAG("by turns", by_turns, 0, "of what is done one thing each time, in order"),
};
const struct table glanz_table_trigger = {TABLE_ROWS(trigger_rows), TABLE_PLAIN, 0, 0,
                                          offsetof(OF, name) TABLE_WORDS("struct glanz_trigger", "trigger", NULL, NULL)};
#undef OF
