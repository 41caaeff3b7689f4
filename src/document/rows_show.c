/* SPDX-License-Identifier: MIT */
/* A show's rows, from the innermost struct outward. Their order is the one in which they are read and written. */
#include "json.h"
#include "rows.h"

const char *const glanz_words_blends[] = {
    "cover",        "add", "lighter", "darker", "multiply", "mask by brightness", "mask by darkness", "mask by coverage",
    "mask by gaps", NULL};
const char *const glanz_words_betweens[] = {"light", "even", "bands", "codes", NULL};
const char *const glanz_words_edges[] = {"none", "outline", "shadow", NULL};
const char *const glanz_words_mappings[] = {"as the surface", "along",  "across",  "rows", "columns",
                                            "outward",        "around", "slanted", NULL};
const char *const glanz_words_days[] = {"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday", NULL};
const char *const glanz_words_thens[] = {"stay", "dark", "preset", "back", NULL};
const char *const glanz_words_curves[] = {"straight", "gentle", "late", "early", "steps", NULL};
const char *const glanz_words_yields[] = {"until it moves", "until handed back", "never", NULL};
const char *const glanz_words_waves[] = {"sine", "triangle", "saw", "square", "wander", NULL};
const char *const glanz_words_spans[] = {"minute", "hour", "day", "year", NULL};
const char *const glanz_words_states[] = {"current", "brightness", "asleep", "frozen", "playing", NULL};
const char *const glanz_words_hears[] = {"level",     "peak",         "low",        "middle",   "high",  "band",  "onset",
                                         "low onset", "middle onset", "high onset", "beat",     "tempo", "trust", "pitch",
                                         "note",      "silence",      "gone",       "clipping", NULL};
const char *const glanz_words_runs[] = {"by effect", "through time", "along", "across", "outward", "around", NULL};
const char *const glanz_words_combinations[] = {"sum", "difference", "product", "ratio", "larger", "smaller", NULL};

/* ---- colours, palettes, pictures ---- */

#define OF struct glanz_named_color
static const struct row color_rows[] = {COLOR(NULL, color, ROW_COLOR_PLAIN, ROW_REQUIRED, "a colour")};
static const struct table color_table = {TABLE_ROWS(color_rows), TABLE_COLOR, TABLE_VALUE, 0,
                                         offsetof(OF, name) TABLE_WORDS("struct glanz_named_color", "colour", NULL, NULL)};
#undef OF

#define OF struct glanz_color_stop
static const struct row stop_rows[] = {
    QUANTITY("at", at, QUANTITY_LIGHTNESS, 0, 65535, ROW_REQUIRED, "its place, from \"0 %\" to \"100 %\""),
    COLOR("color", color, ROW_COLOR_NAMED, ROW_REQUIRED, "its colour"),
};
static const struct table stop_table = {TABLE_ROWS(stop_rows), TABLE_PLAIN, TABLE_FLAT, 0,
                                        0 TABLE_WORDS("struct glanz_color_stop", "stop", NULL, NULL)};
#undef OF

#define OF struct glanz_show_palette
static const struct row palette_rows[] = {
    LIST("stops", chosen, struct glanz_color_stop, chosen_count, stop_table, 64, ROW_NOT_EMPTY,
         "colours and their places, in order"),
    HOOK("of", chosen, HOOK_PALETTE_OF, ROW_CONDITIONAL, "in place of stops: those of a palette of the library"),
    CHOICE("between", between, glanz_words_betweens, ROW_ABSENT_ONE, "GLANZ_BETWEEN_",
           "how colours go over into each other: straight in light, even to the eye, in bands, or as screens mix codes; else "
           "even"),
    QUANTITY("from", part_from, QUANTITY_LIGHTNESS, 0, 65535, 0,
             "a part of the palette alone: where it begins; else at its beginning"),
    QUANTITY("to", part_to, QUANTITY_LIGHTNESS, 1, 65535, 0, "where the part ends; else at its end"),
    CHOICE("runs", runs, glanz_words_runs, 0, "GLANZ_RUNS_",
           "where it runs: as each effect has it, or whatever an effect draws has the colour of its place or time; else by "
           "effect"),
    QUANTITY("span", span, QUANTITY_LIGHTNESS, 1, 65535, 0, "of the whole way there: how far it runs once; else all of it"),
    FLAG("folded", folded, 0, "there and back, so that it has no seam"),
    FLAG("reversed", reversed, 0, "from its end to its beginning"),
    QUANTITY("period", pass_ms, QUANTITY_TIME, 100, DAY_LONG, 0, "it moves on by one run in so long; else it stands"),
};
static const struct table palette_table = {
    TABLE_ROWS(palette_rows), TABLE_PALETTE, TABLE_CONDITIONAL, 0,
    offsetof(OF, name) TABLE_WORDS("struct glanz_show_palette", "palette", NULL,
                                   "\"oneOf\": [ { \"required\": [\"stops\"] }, { \"required\": [\"of\"] } ]")};
#undef OF

#define OF struct glanz_picture
static const struct row picture_rows[] = {
    HOOK("rows", bytes, HOOK_SKETCH, ROW_CONDITIONAL, "rows of letters of equal length; a point or a blank shows nothing"),
    HOOK("colors", bytes, HOOK_SKETCH_COLORS, ROW_CONDITIONAL, "a colour for each letter of the rows"),
    HOOK("data", bytes, HOOK_DATA, 0, "base64, as \"glanz picture\" writes it"),
};
static const struct table picture_table = {
    TABLE_ROWS(picture_rows), TABLE_SKETCH, TABLE_FLAT, 0,
    offsetof(OF, name) TABLE_WORDS("struct glanz_picture", "picture", NULL,
                                   "\"oneOf\": [ { \"required\": [\"data\"] }, { \"required\": [\"rows\", \"colors\"] } ]")};
#undef OF

/* ---- looks, and what they show beside numbers ---- */

#define OF struct glanz_pattern
static const struct row pattern_rows[] = {
    HOOK("blocks", blocks, HOOK_BLOCKS, ROW_REQUIRED, "counts and colours, such as \"3 amber, 1 #ffffff, 2 teal\""),
};
static const struct table pattern_table = {TABLE_ROWS(pattern_rows), TABLE_PLAIN, TABLE_OPEN, 0,
                                           0 TABLE_WORDS("struct glanz_pattern", "pattern", NULL, NULL)};
#undef OF

#define OF struct glanz_writing
static const struct row writing_rows[] = {
    HOOK("text", text, HOOK_TEXT, ROW_REQUIRED,
         "what to write, in at most four lines; in braces time, date, hour, minute, second, day, month, year, time of 12, hour "
         "of "
         "12, am or pm, weekday, month name, or a value of the rig: {tide}, or in numbers of your own {tide 0.0 to 6.5}"),
    POINTER("font", font, struct glanz_font, SCOPE_FONTS, 0, "its letters; else quay"),
    CHOICE("edge", edge, glanz_words_edges, 0, "GLANZ_EDGE_", "what is around the letters; else none"),
    COLOR("edge color", edge_color, ROW_COLOR_PLAIN, 0, "of that; else black"),
    QUANTITY("sideways", sideways, QUANTITY_LIGHTNESS, 0, 65535, ROW_ZERO_ONE,
             "where lines lie that do not move sideways, from 0 % left to 100 % right; else in the middle"),
};
static const struct table writing_table = {TABLE_ROWS(writing_rows), TABLE_PLAIN, TABLE_OPEN, 0,
                                           0 TABLE_WORDS("struct glanz_writing", "writing", NULL, NULL)};
#undef OF

#define OF struct glanz_mark
static const struct row mark_rows[] = {
    COUNT("first", first, 0, GLANZ_LEDS_MOST, ROW_CONDITIONAL, "the first LED along the data line, the segment's first is 0"),
    COUNT("leds", leds, 1, GLANZ_LEDS_MOST, ROW_ABSENT_ONE | ROW_CONDITIONAL, "how many; else 1"),
    COUNT("left", left, 0, GLANZ_LEDS_MOST, ROW_CONDITIONAL, "columns to the left of it"),
    COUNT("top", top, 0, GLANZ_LEDS_MOST, ROW_CONDITIONAL, "rows above it"),
    COUNT("columns", columns, 1, GLANZ_LEDS_MOST, ROW_ABSENT_ONE | ROW_CONDITIONAL, "how many; else 1"),
    COUNT("rows", rows, 1, GLANZ_LEDS_MOST, ROW_ABSENT_ONE | ROW_CONDITIONAL, "how many; else 1"),
    COLOR("color", color, ROW_COLOR_LIGHT, ROW_REQUIRED, "its colour"),
};
static const struct table mark_table = {
    TABLE_ROWS(mark_rows), TABLE_MARK, TABLE_FLAT, 0,
    0 TABLE_WORDS("struct glanz_mark", "mark", NULL,
                  "\"oneOf\": [ { \"required\": [\"first\"] }, { \"required\": [\"left\", \"top\"] } ]")};
#undef OF

#define OF struct glanz_marks
static const struct row marks_rows[] = {
    LIST("marks", list, struct glanz_mark, count, mark_table, 32767, ROW_REQUIRED, "a later one lies over the earlier"),
};
static const struct table marks_table = {TABLE_ROWS(marks_rows), TABLE_PLAIN, TABLE_OPEN, 0,
                                         0 TABLE_WORDS("struct glanz_marks", "marks", NULL, NULL)};
#undef OF

#define OF struct glanz_look
static const struct row shown_rows[] = {
    HOOK("picture", content, HOOK_PICTURE, ROW_REQUIRED, "a picture of the show or the store")};
static const struct table shown_table = {shown_rows,  NULL,       0, 1,
                                         TABLE_PLAIN, TABLE_OPEN, 0, 0 TABLE_WORDS("struct glanz_look", "picture", NULL, NULL)};
const struct table *const glanz_tables_of_contents[] = {NULL, &pattern_table, &writing_table, &shown_table, &marks_table};

static const struct row look_rows[] = {
    HOOK("effect", effect, HOOK_EFFECT, ROW_REQUIRED, "what it does; its parameters are keys beside this one"),
    HOOK("palette", gradient, HOOK_PALETTE, 0, "for effects that take one"),
    HOOK(NULL, content, HOOK_CONTENT, 0, NULL),
    HOOK(NULL, settings, HOOK_SETTINGS, 0, NULL),
    QUANTITY("brightness", brightness, QUANTITY_LIGHTNESS, 0, 65535, ROW_ZERO_ONE | ROW_CONDITIONAL | ROW_DRIVABLE,
             "of this look; else 100 %"),
};
static const struct table look_table = {TABLE_ROWS(look_rows), TABLE_LOOK, TABLE_FLAT | TABLE_OPEN, 0,
                                        offsetof(OF, name) TABLE_WORDS("struct glanz_look", "look", NULL, NULL)};
#undef OF

/* ---- signals ---- */

#define OF struct glanz_signal
#define FORM(key, words, prefix, signal_kind, what)                                                                            \
    { key, {words}, 0, ROW_AT(form), ROW_ALTERNATIVE, ROW_CHOICE, 1, 0, signal_kind ROW_WORDS(form, prefix, what) }
static const struct row signal_rows[] = {
    FORM("wave", glanz_words_waves, "GLANZ_WAVE_", GLANZ_SIGNAL_WAVE, "goes up and down by itself"),
    FORM("clock", glanz_words_spans, "GLANZ_CLOCK_", GLANZ_SIGNAL_CLOCK,
         "how much of a minute, an hour, a day or a year has passed"),
    FORM("combine", glanz_words_combinations, "GLANZ_COMBINE_", GLANZ_SIGNAL_COMBINE, "two signals as one"),
    FORM("state", glanz_words_states, "GLANZ_STATE_", GLANZ_SIGNAL_STATE,
         "what the device does: the current as a share of what the supply may give, the whole's brightness, or whether it is "
         "so"),
    FORM("sound", glanz_words_hears, "GLANZ_HEARS_", GLANZ_SIGNAL_SOUND,
         "what an input for sound hears: how loud the whole, its low, middle or high part, or a band is; an onset, which jumps "
         "to "
         "half or more; a beat, a turn from one to the next; the tempo, 60 to 200 a minute, and the trust in it; the pitch, C2 "
         "to "
         "C6, or its note, a turn through the octave from C; or whether it is so"),
    QUANTITY("period", period_ms, QUANTITY_TIME, 100, DAY_LONG, ROW_CONDITIONAL, "of a wave"),
    QUANTITY("phase", phase, QUANTITY_ANGLE, 0, 65535, ROW_CONDITIONAL, "of a wave: where in its period it begins; else 0 deg"),
    QUANTITY("low", low, QUANTITY_SHARE, 0, 65536, ROW_CONDITIONAL, "of a wave: its level at the bottom; else 0 %"),
    QUANTITY("high", high, QUANTITY_SHARE, 0, 65536, ROW_CONDITIONAL, "of a wave: its level at the top; else 100 %"),
    INDEX("of", first, SCOPE_SIGNALS, ROW_CONDITIONAL, "of a combination: a signal; of sound: the input that hears it"),
    INDEX("and", second, SCOPE_SIGNALS, ROW_CONDITIONAL, "of a combination: another, or the same"),
    {"band",
     {.low = 1},
     GLANZ_BANDS_MOST,
     ROW_AT(second),
     ROW_CONDITIONAL | ROW_FROM_ONE,
     ROW_COUNT,
     1,
     0,
     0 ROW_WORDS(second, NULL, "of sound, its band: which, counted from the lowest, 1")},
};
static const struct table signal_table = {
    TABLE_ROWS(signal_rows), TABLE_SIGNAL, TABLE_FLAT, offsetof(OF, kind),
    offsetof(OF, name) TABLE_WORDS(
        "struct glanz_signal", "signal", "kind = GLANZ_SIGNAL_",
        "\"dependentRequired\": { \"wave\": [\"period\"], \"combine\": [\"of\", \"and\"], "
        "\"sound\": [\"of\"], \"band\": [\"sound\"], \"and\": [\"combine\"], \"period\": [\"wave\"], \"phase\": [\"wave\"], "
        "\"low\": [\"wave\"], \"high\": [\"wave\"] }")};
#undef OF

#define OF struct glanz_drive
static const struct row drive_rows[] = {
    INDEX("follows", signal, SCOPE_SIGNALS, ROW_REQUIRED, "an input of the rig or a signal of the show"),
    HOOK("from", from, HOOK_END, ROW_REQUIRED, "the number where the signal begins"),
    HOOK("to", to, HOOK_END, ROW_REQUIRED, "the number where it ends"),
    LEVEL_ROW("begins at", begin, LEVEL_OF_DRIVE, 0, 0, "part of the signal that is followed; else 0 %"),
    LEVEL_ROW("ends at", end, LEVEL_OF_DRIVE, 0, 0, "beyond it the number stays; else 100 %"),
    CHOICE("curve", curve, glanz_words_curves, 0, "GLANZ_CURVE_", "how the way lies between its ends; else straight"),
    COUNT("steps", steps, 2, 255, 0, "of the curve steps: levels"),
    CHOICE("yields", yields, glanz_words_yields, 0, "GLANZ_YIELD_", "to a hand that sets the number"),
    QUANTITY("rest", rest, QUANTITY_SHARE, 0, 60000, 0, "part of the signal, about its middle, in which the number stays"),
    QUANTITY("rise", rise_ms, QUANTITY_TIME, 0, 60000, ROW_CONDITIONAL, "half-life of the way up; else 60 ms"),
    QUANTITY("fall", fall_ms, QUANTITY_TIME, 0, 60000, ROW_CONDITIONAL, "half-life of the way down; else 60 ms"),
};
const struct table glanz_table_drive = {TABLE_ROWS(drive_rows), TABLE_DRIVE, TABLE_FLAT, 0,
                                        0 TABLE_WORDS("struct glanz_drive", "drive", NULL, NULL)};
#undef OF

/* ---- segments, presets ---- */

#define OF struct glanz_window
static const struct row window_rows[] = {
    COUNT("columns", columns, 1, 32767, ROW_REQUIRED, "of the larger field"),
    COUNT("rows", rows, 1, GLANZ_FIELD_MOST, ROW_ABSENT_ONE, "of the larger field; else 1"),
    COUNT("left", left, 0, 32766, 0, "columns of it to the left of the segment"),
    COUNT("top", top, 0, GLANZ_FIELD_MOST - 1, 0, "rows of it above the segment"),
};
static const struct table window_table = {TABLE_ROWS(window_rows), TABLE_WINDOW, TABLE_FLAT, 0,
                                          0 TABLE_WORDS("struct glanz_window", "window", NULL, NULL)};
#undef OF

#define OF struct glanz_segment
static const struct row segment_rows[] = {
    INDEX("surface", surface, SCOPE_SURFACES, ROW_REQUIRED, "the surface of the rig that it is cut from"),
    COUNT("first", region.first, 0, GLANZ_LEDS_MOST - 1, 0, "its first LED on the surface; else 0"),
    COUNT("leds", region.leds, 1, GLANZ_LEDS_MOST, 0, "how many; else all that follow"),
    COUNT("grain", region.grain, 1, 255, ROW_ABSENT_ONE, "neighbouring LEDs that show one point together"),
    HOOK("stencil", region.stencil, HOOK_STENCIL, 0, "LEDs that it takes and leaves in turn, such as \"take 1, leave 3\""),
    HOOK(
        "picked", region.picks, HOOK_PICKED, 0,
        "these LEDs alone, in this order, such as \"3, 10 to 19, 29 to 20\"; without first, leds, stencil, part and rectangle"),
    FLAG("reversed", region.reversed, 0, "counted from the far end"),
    FLAG("mirrored", region.mirrored, 0, "the second half mirrors the first"),
    CHOICE("lies", region.mapping, glanz_words_mappings, 0, NULL, "how effects lie over it"),
    CHOICE("turned", region.turned, glanz_words_turns, 0, NULL, "clockwise"),
    QUANTITY("bearing", region.bearing, QUANTITY_ANGLE, 0, 65535, ROW_CONDITIONAL | ROW_DRIVABLE,
             "of what lies slanted: where its line runs to; else 0 deg, upward, and 90 deg is to the right"),
    HOOK("part", region.piece, HOOK_PART, 0, "the name of the one panel or ring that it takes"),
    COUNT("left", region.left, 0, GLANZ_FIELD_MOST - 1, 0, "of a rectangle: columns to the left of it"),
    COUNT("top", region.top, 0, GLANZ_FIELD_MOST - 1, 0, "of a rectangle: rows above it"),
    COUNT("columns", region.columns, 1, GLANZ_FIELD_MOST, 0, "of a rectangle"),
    COUNT("rows", region.rows, 1, GLANZ_FIELD_MOST, 0, "of a rectangle"),
    OBJECT_POINTER(
        "within", region.within, struct glanz_window, window_table, 0,
        "a larger field that effects see, of which the segment is a part: several segments show one picture, with gaps"),
    CHOICE("blend", blend, glanz_words_blends, 0, "GLANZ_BLEND_",
           "over what lies under it; a mask decides where the segment right below it in the stack shows"),
    QUANTITY("opacity", opacity, QUANTITY_LIGHTNESS, 0, 65535, ROW_ZERO_ONE | ROW_CONDITIONAL | ROW_DRIVABLE, "else 100 %"),
    QUANTITY("brightness", brightness, QUANTITY_LIGHTNESS, 0, 65535, ROW_ZERO_ONE | ROW_CONDITIONAL | ROW_DRIVABLE,
             "at the start; else 100 %"),
    HOOK(NULL, drives, HOOK_DRIVES, 0, NULL),
    FLAG("on", off, ROW_INVERTED, "at the start"),
    POINTER("look", look, struct glanz_look, SCOPE_LOOKS, 0, "at the start; else dark"),
    FLAG("keeps colors", keeps_colors, 0, "palettes that presets, playlists and hands put on it change nothing there"),
    HOOK("numbers", settings, HOOK_NUMBERS, 0, "of that look, which are others here: keys and values as the look has them"),
    COUNT("seed", seed, 0, UINT32_MAX, ROW_CONDITIONAL,
          "of what it draws by lot; two of one seed do so alike; else of its name"),
};
static const struct table segment_table = {TABLE_ROWS(segment_rows), TABLE_SEGMENT, TABLE_FLAT, 0,
                                           offsetof(OF, name) TABLE_WORDS("struct glanz_segment", "segment", NULL, NULL)};
#undef OF

#define OF struct glanz_part
static const struct row part_rows[] = {
    {"look",
     {NULL},
     0,
     ROW_AT(look),
     ROW_ASPECT,
     ROW_POINTER,
     0,
     SCOPE_LOOKS,
     GLANZ_ASPECT_LOOK ROW_WORDS(look, NULL, "what it shows")},
    {"palette",
     {NULL},
     0,
     ROW_AT(gradient),
     ROW_ASPECT,
     ROW_HOOK,
     0,
     HOOK_PALETTE,
     GLANZ_ASPECT_PALETTE ROW_WORDS(gradient, NULL, "the palette alone: the effect that runs takes it over")},
    {"on", {NULL}, 1, ROW_AT(on), ROW_ASPECT, ROW_FLAG, 1, 0, GLANZ_ASPECT_ON ROW_WORDS(on, NULL, "on or off")},
    {"brightness",
     {.low = 0},
     65535,
     ROW_AT(brightness),
     ROW_ASPECT,
     ROW_QUANTITY,
     2,
     QUANTITY_LIGHTNESS,
     GLANZ_ASPECT_BRIGHTNESS ROW_WORDS(brightness, NULL, "of the segment")},
    HOOK("numbers", settings, HOOK_NUMBERS, 0, "of that look, which are others here: keys and values as the look has them"),
    QUANTITY("later", later_ms, QUANTITY_TIME, 0, 600000, 0, "it comes so much later than the preset is recalled"),
};
static const struct table part_table = {
    TABLE_ROWS(part_rows), TABLE_PART, TABLE_FLAT | TABLE_SHORTHAND, offsetof(OF, aspects),
    0 TABLE_WORDS("struct glanz_part", "part of a preset", "aspects", "\"not\": { \"required\": [\"look\", \"palette\"] }")};
_Static_assert(offsetof(OF, settings) != offsetof(struct glanz_segment, settings),
               "the hook for numbers tells them apart by that");
_Static_assert(offsetof(OF, segment) == 0, "a keyed map puts the index into the first byte");
#undef OF

#define OF struct glanz_preset
static const struct row preset_rows[] = {
    MAP(NULL, parts, struct glanz_part, part_count, part_table, GLANZ_SEGMENTS_MOST, SCOPE_SEGMENTS, ROW_KEYED,
        "by segment: the name of a look, or a part"),
};
static const struct table preset_table = {TABLE_ROWS(preset_rows), TABLE_PLAIN, TABLE_VALUE | TABLE_FLAT, 0,
                                          offsetof(OF, name) TABLE_WORDS("struct glanz_preset", "preset", NULL, NULL)};
#undef OF

/* ---- playlists ---- */

#define OF struct glanz_item
#define ITEM(key, row_kind, scope, item_kind, what)                                                                            \
    { key, {NULL}, 0, ROW_AT(preset), ROW_ALTERNATIVE, row_kind, 1, scope, item_kind ROW_WORDS(preset, NULL, what) }
static const struct row item_rows[] = {
    QUANTITY("at", at_ms, QUANTITY_TIME, 0, DAY_LONG, ROW_CONDITIONAL,
             "when it begins, after the playlist's start: in every item, or in none"),
    ITEM("preset", ROW_INDEX, SCOPE_PRESETS, GLANZ_ITEM_PRESET, "a preset"),
    ITEM("playlist", ROW_INDEX, SCOPE_PLAYLISTS, GLANZ_ITEM_PLAYLIST, "a playlist, to its end or for `hold`"),
    ITEM("dark", ROW_TRUE, 0, GLANZ_ITEM_DARK, "the playlist's segments are off"),
    QUANTITY("hold", hold_ms, QUANTITY_TIME, 0, DAY_LONG, ROW_CONDITIONAL, "how long it shows"),
    QUANTITY("fade", fade_ms, QUANTITY_TIME, 0, HOUR, 0, "crossfade into it; else none"),
};
static const struct table item_table = {TABLE_ROWS(item_rows), TABLE_PLAIN, TABLE_FLAT, offsetof(OF, kind),
                                        0 TABLE_WORDS("struct glanz_item", "item", "kind = GLANZ_ITEM_", NULL)};
#undef OF

#define OF struct glanz_playlist
static const struct row playlist_rows[] = {
    LIST("items", items, struct glanz_item, item_count, item_table, 255, ROW_REQUIRED | ROW_NOT_EMPTY, "one after another"),
    COUNT("rounds", rounds, 1, 65535, 0, "times through; else for ever"),
    FLAG("shuffled", shuffled, 0, "each once a round, in another order"),
    HOOK("then", then, HOOK_THEN, 0, "what follows: stay, dark, back, or { \"preset\": its name }"),
    QUANTITY("then fade", then_fade_ms, QUANTITY_TIME, 0, HOUR, 0, "how long that takes to come"),
};
static const struct table playlist_table = {
    TABLE_ROWS(playlist_rows), TABLE_PLAYLIST, 0, 0,
    offsetof(OF, name)
        TABLE_WORDS("struct glanz_playlist", "playlist", NULL, "\"dependentRequired\": { \"then\": [\"rounds\"] }")};
#undef OF

/* ---- the calendar ---- */

#define OF struct glanz_entry
#define TARGET(key, scope, is_playlist, what)                                                                                  \
    { key, {NULL}, 0, ROW_AT(target), ROW_ALTERNATIVE, ROW_INDEX, 1, scope, is_playlist ROW_WORDS(target, NULL, what) }
static const struct row entry_rows[] = {
    TARGET("preset", SCOPE_PRESETS, 0, "a preset that shows"),
    TARGET("playlist", SCOPE_PLAYLISTS, 1, "a playlist that plays"),
    HOOK("at", at, HOOK_MOMENT, ROW_REQUIRED, "when it begins, such as \"18:30\", \"sunrise\", \"sunset - 30 min\""),
    HOOK("until", until, HOOK_MOMENT, 0, "when it ends, after it began"),
    QUANTITY("for", for_s, QUANTITY_TIME, 1, 7 * 86400, ROW_SECONDS, "how long it lasts"),
    QUANTITY("every", every_s, QUANTITY_TIME, 60, 86400, ROW_SECONDS, "again and again until `until`"),
    SET("days", weekdays, glanz_words_days, 0, "else every day"),
    HOOK("from", from, HOOK_DAY, 0, "the first day, such as \"12-24\", or \"2026-07-10\""),
    HOOK("to", to, HOOK_DAY, 0, "the last day"),
    QUANTITY("fade", fade_ms, QUANTITY_TIME, 0, HOUR, ROW_ABSENT_ALL, "how long it takes to come; else as the show changes"),
    COUNT("priority", priority, 0, 255, 0, "where two overlap the higher shows, then the one that began later"),
};
static const struct table entry_table = {
    TABLE_ROWS(entry_rows), TABLE_ENTRY, TABLE_FLAT, offsetof(OF, is_playlist),
    offsetof(OF, name)
        TABLE_WORDS("struct glanz_entry", "entry of the calendar", "is_playlist",
                    "\"dependentRequired\": { \"from\": [\"to\"], \"to\": [\"from\"], \"every\": [\"until\"] }")};
#undef OF

/* ---- the whole ---- */

#define OF struct glanz_show
static const struct row show_rows[] = {
    NAME("show", name, ROW_REQUIRED, "its name"),
    MAP("signals", signals, struct glanz_signal, signal_count, signal_table, GLANZ_SIGNALS_MOST, SCOPE_SIGNALS, 0,
        "waves, the clock and combinations, beside the inputs of the rig"),
    QUANTITY("brightness", brightness, QUANTITY_LIGHTNESS, 0, 65535, ROW_ZERO_ONE | ROW_CONDITIONAL | ROW_DRIVABLE,
             "of the whole; else 60 %"),
    HOOK(NULL, drive, HOOK_DRIVES, 0, NULL),
    HOOK("weekdays", weekdays, HOOK_WORDS, 0, "their names in texts, Monday first, with commas between; else in English"),
    HOOK("months", months, HOOK_WORDS, 0, "their names in texts, January first, with commas between; else in English"),
    QUANTITY("change", change_ms, QUANTITY_TIME, 0, HOUR, ROW_ZERO_ALL, "how long changes take; else 500 ms"),
    MAP("colors", colors, struct glanz_named_color, color_count, color_table, 255, SCOPE_COLORS, 0, "colours by name"),
    MAP("palettes", palettes, struct glanz_show_palette, palette_count, palette_table, 64, SCOPE_PALETTES, ROW_PALETTE_SPACE,
        "beside those that come with the library"),
    MAP("pictures", pictures, struct glanz_picture, picture_count, picture_table, 255, SCOPE_PICTURES, 0, "pictures by name"),
    MAP("looks", looks, struct glanz_look, look_count, look_table, 1000, SCOPE_LOOKS, ROW_REQUIRED,
        "effects with their parameters"),
    MAP("segments", segments, struct glanz_segment, segment_count, segment_table, GLANZ_SEGMENTS_MOST, SCOPE_SEGMENTS,
        ROW_REQUIRED, "parts of surfaces that show one look each"),
    HOOK("stack", stack, HOOK_STACK, 0, "every segment once, bottom first; else in their own order"),
    MAP("presets", presets, struct glanz_preset, preset_count, preset_table, 255, SCOPE_PRESETS, 0,
        "what segments show, by name; others are left alone"),
    MAP("playlists", playlists, struct glanz_playlist, playlist_count, playlist_table, 64, SCOPE_PLAYLISTS, 0,
        "presets one after another"),
    OBJECT_POINTER("start", start, struct glanz_action, glanz_table_action, 0, "done at power-on"),
    FLAG("resume", resume, 0, "at power-on, what was last showing comes back instead"),
    MAP("triggers", triggers, struct glanz_trigger, trigger_count, glanz_table_trigger, 255, -1, 0, "what inputs do"),
    MAP("calendar", entries, struct glanz_entry, entry_count, entry_table, GLANZ_ENTRIES_MOST, -1, 0, "what shows, and when"),
};
const struct table glanz_table_show = {TABLE_ROWS(show_rows), TABLE_SHOW, 0, 0,
                                       0 TABLE_WORDS("struct glanz_show", "show", NULL, NULL)};
#undef OF
