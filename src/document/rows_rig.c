/* SPDX-License-Identifier: MIT */
/* A rig's rows, from the innermost struct outward. Their order is the one in which they are read and written. */
#include "json.h"
#include "rows.h"

const char *const glanz_words_corners[] = {"top left", "top right", "bottom left", "bottom right", NULL};
const char *const glanz_words_alongs[] = {"rows", "columns", NULL};
const char *const glanz_words_turns[] = {"0 deg", "90 deg", "180 deg", "270 deg", NULL};
static const char *const faints[] = {"dither", "dark", NULL};
static const char *const levels[] = {"high", "low", NULL};

/* ---- place and supplies ---- */

#define OF struct glanz_rig
static const struct row place_rows[] = {
    {"latitude",
     {.low = 'N'},
     0,
     ROW_AT(latitude),
     ROW_REQUIRED,
     ROW_HOOK,
     0,
     HOOK_DEGREES,
     0 ROW_WORDS(latitude, NULL, "such as \"53.9312 N\"")},
    {"longitude",
     {.low = 'E'},
     0,
     ROW_AT(longitude),
     ROW_REQUIRED,
     ROW_HOOK,
     0,
     HOOK_DEGREES,
     0 ROW_WORDS(longitude, NULL, "such as \"8.6041 E\"")},
};
static const struct table place_table = {TABLE_ROWS(place_rows), TABLE_PLAIN, TABLE_FLAT, 0,
                                         0 TABLE_WORDS("struct glanz_rig", "place", NULL, NULL)};
#undef OF

#define OF struct glanz_supply
static const struct row supply_rows[] = {
    QUANTITY("volts", millivolts, QUANTITY_VOLTAGE, 1000, 60000, ROW_REQUIRED, "its voltage"),
    QUANTITY("limit", limit_ma, QUANTITY_CURRENT, 1, 1000000, 0, "the most current that may ever be drawn; else no limit"),
};
static const struct table supply_table = {TABLE_ROWS(supply_rows), TABLE_PLAIN, TABLE_FLAT, 0,
                                          offsetof(OF, name) TABLE_WORDS("struct glanz_supply", "supply", NULL, NULL)};
#undef OF

/* ---- outputs ---- */

#define OF struct glanz_stretch
static const struct row stretch_rows[] = {
    POINTER("chip", chip, struct glanz_chip, SCOPE_CHIPS, ROW_REQUIRED, "the part number of its LED chips"),
    COUNT("leds", leds, 1, GLANZ_LEDS_MOST, ROW_REQUIRED, "how many"),
    HOOK("order", order, HOOK_ORDER, 0, "the order in which colours are sent, such as \"GRB\"; else the chip's own"),
    COUNT("parallel", parallel, 1, 255, ROW_ABSENT_ONE, "strips wired in parallel here; each draws current"),
    QUANTITY("white", white_kelvin, QUANTITY_KELVIN, 1000, 12500, 0, "colour of the white LED; else it stays dark"),
    HOOK("trim", trim, HOOK_STRETCH_TRIM, 0, "gain of all channels, or by channel"),
    QUANTITY("white point", white_point, QUANTITY_KELVIN, 2000, 12500, 0,
             "in place of a trim: colour of red, green and blue full together, so that makes look alike"),
    HOOK("current", channel_ua, HOOK_CURRENT, 0, "current of a channel fully on, and of a dark LED; else the chip's"),
};
static const struct table stretch_table = {TABLE_ROWS(stretch_rows), TABLE_STRETCH, TABLE_FLAT, 0,
                                           0 TABLE_WORDS("struct glanz_stretch", "stretch of LEDs", NULL, NULL)};
#undef OF

#define OF struct glanz_output
static const struct row output_rows[] = {
    COUNT("pin", pin, 0, 255, ROW_REQUIRED, "data; the port gives it a meaning"),
    COUNT("clock pin", clock_pin, 0, 255, ROW_CONDITIONAL, "for chips with a clock only, and needed by them"),
    INDEX("supply", supply, SCOPE_SUPPLIES, ROW_REQUIRED, "the supply that its LEDs draw from"),
    COUNT("buffers", buffers, 1, 2, ROW_ABSENT_ONE, "byte buffers; with 2, a frame is shaded while the last is being sent"),
    FLAG("equal leds", equal, 0, "LEDs that are to show the same stay equal in every frame"),
    CHOICE("faint levels", faint_dark, faints, 0, NULL, "what is less than one chip step: dithered, or dark"),
    HOOK("trim", trim, HOOK_TRIM, 0, "gain of the whole line, beside the stretches' own"),
    LIST("line", stretches, struct glanz_stretch, stretch_count, stretch_table, 255, ROW_REQUIRED | ROW_NOT_EMPTY,
         "the LEDs along the data line, in order"),
};
static const struct table output_table = {TABLE_ROWS(output_rows), TABLE_OUTPUT, 0, 0,
                                          offsetof(OF, name) TABLE_WORDS("struct glanz_output", "output", NULL, NULL)};
#undef OF

/* ---- surfaces ---- */

#define OF struct glanz_piece
#define OUTPUT_ROW INDEX("output", output, SCOPE_OUTPUTS, ROW_REQUIRED, "the output they are on")
#define FIRST_ROW COUNT("first", first, 0, GLANZ_LEDS_MOST - 1, ROW_REQUIRED, "the first LED on that output, counted from 0")
#define LEDS_ROW COUNT("leds", leds, 1, GLANZ_LEDS_MOST, ROW_REQUIRED, "how many")
static const struct row piece_rows[] = {
    OUTPUT_ROW,
    FIRST_ROW,
    LEDS_ROW,
    FLAG("reversed", reversed, 0, "the surface runs against the data line here"),
};
static const struct table piece_table = {TABLE_ROWS(piece_rows), TABLE_PLAIN, TABLE_FLAT, 0,
                                         0 TABLE_WORDS("struct glanz_piece", "piece", NULL, NULL)};

/* Panels and rings: their first rows are those of the piece. */
#define BESIDE struct glanz_panel
#define BESIDE_AT(member) (uint16_t) offsetof(BESIDE, member)
#define BESIDE_COUNT(key, member, least, most, flags, what)                                                                    \
    { key, {.low = least}, most, BESIDE_AT(member), (flags) | ROW_COMPANION, ROW_COUNT, 2, 0, 0 ROW_WORDS(member, NULL, what) }
#define BESIDE_FLAG(key, member, what)                                                                                         \
    { key, {NULL}, 1, BESIDE_AT(member), ROW_COMPANION, ROW_FLAG, 1, 0, 0 ROW_WORDS(member, NULL, what) }
#define BESIDE_NAME(what)                                                                                                      \
    { "name", {NULL}, 0, BESIDE_AT(name), ROW_COMPANION, ROW_NAME, 0, 0, 0 ROW_WORDS(name, NULL, what) }
#define WIRING(key, kind, words, most, bit, what)                                                                              \
    { key, {words}, most, BESIDE_AT(wiring), ROW_COMPANION, kind, 0, 0, bit ROW_WORDS(wiring, NULL, what) }
static const struct row panel_rows[] = {
    OUTPUT_ROW,
    FIRST_ROW,
    BESIDE_NAME("for segments that take this panel alone"),
    BESIDE_COUNT("columns", columns, 1, GLANZ_FIELD_MOST, ROW_REQUIRED, "as it would hang unturned"),
    BESIDE_COUNT("rows", rows, 1, GLANZ_FIELD_MOST, ROW_REQUIRED, "as it would hang unturned"),
    WIRING("first led", ROW_CHOICE, glanz_words_corners, 3, 0, "the corner of the first LED, seen from its front"),
    WIRING("along", ROW_CHOICE, glanz_words_alongs, 1, 2, "how the data line runs on from there"),
    WIRING("zigzag", ROW_FLAG, NULL, 1, 3, "every second row (column) runs back"),
    {"turned",
     {glanz_words_turns},
     0,
     BESIDE_AT(turned),
     ROW_COMPANION,
     ROW_CHOICE,
     1,
     0,
     0 ROW_WORDS(turned, NULL, "how it hangs, clockwise")},
    BESIDE_FLAG("mirrored", mirrored, "left and right changed, as seen from the back"),
    BESIDE_COUNT("left", left, 0, GLANZ_FIELD_MOST - 1, 0, "columns to the left of it, in the surface's field"),
    BESIDE_COUNT("top", top, 0, GLANZ_FIELD_MOST - 1, 0, "rows above it"),
};
#undef BESIDE
#define BESIDE struct glanz_circle
static const struct row circle_rows[] = {
    OUTPUT_ROW,
    FIRST_ROW,
    LEDS_ROW,
    BESIDE_NAME("for segments that take this ring alone"),
    {"radius",
     {NULL},
     0,
     BESIDE_AT(radius),
     ROW_COMPANION,
     ROW_HOOK,
     0,
     HOOK_RADIUS,
     0 ROW_WORDS(radius, NULL, "to the LEDs' middles; else so that they are one step apart")},
    {"start",
     {.low = 0},
     65535,
     BESIDE_AT(start),
     ROW_COMPANION,
     ROW_QUANTITY,
     2,
     QUANTITY_ANGLE,
     0 ROW_WORDS(start, NULL, "bearing of its first LED, clockwise from the top")},
    BESIDE_FLAG("counterclockwise", backward, "the way it runs"),
};
#undef BESIDE

#if GLANZ_DESCRIPTIONS
#define COMPANION(type, member) , type, member
#else
#define COMPANION(type, member)
#endif
static const struct companion panels = {offsetof(struct glanz_surface, panels),
                                        sizeof(struct glanz_panel) COMPANION("struct glanz_panel", "panels")};
static const struct companion circles = {offsetof(struct glanz_surface, circles),
                                         sizeof(struct glanz_circle) COMPANION("struct glanz_circle", "circles")};
static const struct table panel_table = {
    panel_rows,  &panels,    sizeof(OF), ROWS_OF(panel_rows),
    TABLE_PANEL, TABLE_FLAT, 0,          0 TABLE_WORDS("struct glanz_piece", "panel", NULL, NULL)};
static const struct table circle_table = {
    circle_rows, &circles,   sizeof(OF), ROWS_OF(circle_rows),
    TABLE_PLAIN, TABLE_FLAT, 0,          0 TABLE_WORDS("struct glanz_piece", "ring of rings", NULL, NULL)};
#undef OF

#define OF struct glanz_surface
#define PIECES(key, kind, table, what)                                                                                         \
    {                                                                                                                          \
        key, {&(table)}, 255u | (uint32_t)offsetof(OF, piece_count) << 16, ROW_AT(pieces), ROW_ALTERNATIVE | ROW_NOT_EMPTY,    \
            ROW_LIST, 1, 0, kind ROW_WORDS(pieces, "piece_count", what)                                                        \
    }
static const struct row surface_rows[] = {
    PIECES("strip", GLANZ_SURFACE_STRIP, piece_table, "a line with two ends"),
    PIECES("ring", GLANZ_SURFACE_RING, piece_table, "a line whose end joins its start"),
    PIECES("grid", GLANZ_SURFACE_GRID, panel_table, "panels in a field; a plain grid is one"),
    PIECES("rings", GLANZ_SURFACE_RINGS, circle_table, "rings around one middle"),
    PIECES("points", GLANZ_SURFACE_POINTS, piece_table, "LEDs that stand anywhere in a field"),
    COUNT("columns", columns, 1, GLANZ_FIELD_MOST, 0, "of the field; else as it needs"),
    COUNT("rows", rows, 1, GLANZ_FIELD_MOST, 0, "of the field; else as it needs"),
    FLAG("joined", joined, 0, "of a grid: its right edge joins its left, as round a column"),
    HOOK("places", points, HOOK_PLACES, 0, "of points: column and row of each LED, counted from 0"),
    HOOK("drawing", points, HOOK_DRAWING, 0,
         "of points: rows of text with 0 to 9, a to z, A to Z, then 0 again for the LEDs in order"),
};
static const struct table surface_table = {TABLE_ROWS(surface_rows), TABLE_SURFACE, 0, offsetof(OF, kind),
                                           offsetof(OF, name)
                                               TABLE_WORDS("struct glanz_surface", "surface", "kind = GLANZ_SURFACE_",
                                                           "\"not\": { \"required\": [\"places\", \"drawing\"] }")};
#undef OF

/* ---- inputs ---- */

#define OF struct glanz_input
#define PIN_ROW COUNT("pin", pin, 0, 255, ROW_REQUIRED, "the port gives it a meaning")
static const struct row button_rows[] = {
    PIN_ROW,
    CHOICE("pressed", pressed_low, levels, ROW_REQUIRED, NULL, "the line's level when it is pressed"),
    QUANTITY("settle", settle_ms, QUANTITY_TIME, 1, 200, 0, "how long its contacts may bounce; else 20 ms"),
    QUANTITY("twice within", twice_ms, QUANTITY_TIME, 50, 5000, 0,
             "a second press within this is pressed twice, a third within this after it three times; else 350 ms"),
    QUANTITY("held after", held_ms, QUANTITY_TIME, 50, 60000, 0, "a press this long is held; else 700 ms"),
    QUANTITY("repeats after", repeats_ms, QUANTITY_TIME, 60, 5000, 0,
             "the first repeat comes so long after it was held, each one after it an eighth sooner; else 400 ms"),
    QUANTITY("together within", together_ms, QUANTITY_TIME, 20, 1000, 0,
             "two that are pressed within this are pressed together; else 150 ms"),
};
#define READS_ROW                                                                                                              \
    HOOK("reads", unit, HOOK_READS, 0, "what people read at 0 % and at 100 %, such as \"0 to 6.5 m\"; else percent")
#define LOST_ROWS                                                                                                              \
    QUANTITY("lost after", lost_ms, QUANTITY_TIME, 100, 86400000, 0,                                                           \
             "it is lost when nothing was pushed in for so long; else never"),                                                 \
        QUANTITY("lost is", lost_level, QUANTITY_LIGHTNESS, 0, 65535, 0, "what counts while it is lost; else 0 %")
static const struct row value_rows[] = {PIN_ROW, READS_ROW, LOST_ROWS};
#define REVERSED_ROW FLAG("reversed", reversed, 0, "it counts the other way round")
#define LAG_ROW                                                                                                                \
    QUANTITY("lag", lag_ms, QUANTITY_TIME, 0, 10000, 0, "half-life with which its noise is smoothed; else not at all")
static const struct row sensor_rows[] = {
    PIN_ROW,
    QUANTITY("low", low, QUANTITY_LIGHTNESS, 0, 65535, 0, "the reading that counts as 0 %; else 0 %"),
    QUANTITY("high", high, QUANTITY_LIGHTNESS, 0, 65535, 0, "the reading that counts as 100 %; else 100 %"),
    REVERSED_ROW,
    LAG_ROW,
    READS_ROW,
    LOST_ROWS,
};
static const struct row dial_rows[] = {
    PIN_ROW,
    QUANTITY("zero", zero, QUANTITY_ANGLE, 0, 65535, 0, "the angle that counts as 0 deg"),
    REVERSED_ROW,
    LAG_ROW,
};
static const struct row knob_rows[] = {
    PIN_ROW,
    COUNT("second pin", second_pin, 0, 255, ROW_REQUIRED, "of its other line"),
    COUNT("steps", steps, 2, 1000, 0, "from end to end, or once round; else 24"),
    COUNT("edges", edges, 1, 4, 0, "changes of its lines in one step: 1, 2 or 4; else 4"),
    FLAG("endless", endless, 0, "its end joins its start: it is an angle"),
    REVERSED_ROW,
    READS_ROW,
};
static const struct row sound_rows[] = {
    PIN_ROW,
    QUANTITY("rate", hearing.rate_hz, QUANTITY_HERTZ, 8000, 48000, ROW_REQUIRED, "samples a second that are pushed in"),
    COUNT("bands", hearing.bands, 1, GLANZ_BANDS_MOST, 0, "evenly spaced to the ear; else 8"),
    QUANTITY("from", hearing.low_hz, QUANTITY_HERTZ, 30, 20000, 0, "where the lowest band begins; else 60 Hz"),
    QUANTITY("to", hearing.high_hz, QUANTITY_HERTZ, 60, 21600, 0,
             "where the highest band ends; else 7 kHz, or 0.4 of a lower rate"),
    QUANTITY("span", hearing.span_db, QUANTITY_DECIBEL, 12, 72, 0, "from 0 % to 100 % of its levels; else 36 dB"),
    QUANTITY("loudest", hearing.loudest_db, QUANTITY_DECIBEL, 1, 80, 0,
             "what 100 % stands for, below full scale; else it adapts to what is heard"),
    QUANTITY("adapts", hearing.adapts_ms, QUANTITY_TIME, 100, 60000, 0,
             "half-life with which 100 % comes down to quieter sound; else 4 s"),
    QUANTITY("gate", hearing.gate_db, QUANTITY_DECIBEL, 20, 90, 0,
             "what is below this is no sound, below full scale; else learnt from the noise"),
    QUANTITY("hum", hearing.hum_hz, QUANTITY_HERTZ, 45, 65, 0,
             "of the mains, 50 Hz or 60 Hz: it is taken out of the bands, with three overtones; else it stays"),
    QUANTITY("rise", hearing.rise_ms, QUANTITY_TIME, 0, 5000, 0, "half-life of levels that rise; else at once"),
    QUANTITY("fall", hearing.fall_ms, QUANTITY_TIME, 0, 5000, 0, "half-life of levels that fall; else 60 ms"),
    QUANTITY("silence", hearing.silence_ms, QUANTITY_TIME, 50, 60000, 0,
             "it is silent when it was below the gate for so long; else 1 s"),
};
#define INPUT_TABLE(id, title)                                                                                                 \
    static const struct table id##_table = {TABLE_ROWS(id##_rows), TABLE_PLAIN, TABLE_FLAT, 0,                                 \
                                            0 TABLE_WORDS("struct glanz_input", title, NULL, NULL)}
INPUT_TABLE(button, "button");
INPUT_TABLE(value, "value");
INPUT_TABLE(sensor, "sensor");
INPUT_TABLE(dial, "dial");
INPUT_TABLE(knob, "knob");
static const struct table sound_table = {TABLE_ROWS(sound_rows), TABLE_HEARING, TABLE_FLAT, 0,
                                         0 TABLE_WORDS("struct glanz_input", "sound", NULL, NULL)};
#define INPUT_ROW(key, table, input_kind, what)                                                                                \
    { key, {&(table)}, 0, 0, ROW_ALTERNATIVE, ROW_OBJECT, 0, 0, input_kind ROW_WORDS(, NULL, what) }
static const struct row input_rows[] = {
    INPUT_ROW("button", button_table, GLANZ_INPUT_BUTTON, "raw edges of a switch"),
    INPUT_ROW("value", value_table, GLANZ_INPUT_VALUE, "a number from 0 to 65535 that is pushed in"),
    INPUT_ROW("sensor", sensor_table, GLANZ_INPUT_SENSOR, "a reading that is pushed in: a potentiometer, light, a distance"),
    INPUT_ROW("dial", dial_table, GLANZ_INPUT_DIAL, "an angle that is pushed in, and goes round"),
    INPUT_ROW("knob", knob_table, GLANZ_INPUT_KNOB, "an encoder, by its two lines"),
    INPUT_ROW("sound", sound_table, GLANZ_INPUT_SOUND, "samples of a microphone or a line; its level is how loud it is"),
};
static const struct table input_table = {TABLE_ROWS(input_rows), TABLE_PLAIN, TABLE_FLAT, offsetof(OF, kind),
                                         offsetof(OF, name)
                                             TABLE_WORDS("struct glanz_input", "input", "kind = GLANZ_INPUT_", NULL)};
#undef OF

/* ---- the whole ---- */

#define OF struct glanz_rig
static const struct row rig_rows[] = {
    NAME("rig", name, ROW_REQUIRED, "its name"),
    QUANTITY("frames", frames_per_s, QUANTITY_FRAMES, 1, 1000, 0, "how often the program calls for a frame; else 100 per s"),
    HOOK("lowest blink", lowest_hz, HOOK_LOWEST_BLINK, 0, "no LED blinks slower than this by dither, or \"none\"; else 25 Hz"),
    QUANTITY("refresh", refresh_ms, QUANTITY_TIME, 20, 60000, 0, "a still frame is sent again after this; else 1 s"),
    {"place",
     {&place_table},
     offsetof(OF, placed),
     0,
     0,
     ROW_OBJECT,
     0,
     0,
     0 ROW_WORDS(, "placed", "where it stands, for sunrise and sunset")},
    NAME("zone", zone, 0, "its time zone as POSIX writes it, such as CET-1CEST,M3.5.0,M10.5.0/3; else UTC"),
    MAP("supplies", supplies, struct glanz_supply, supply_count, supply_table, GLANZ_SUPPLIES_MOST, SCOPE_SUPPLIES,
        ROW_REQUIRED, "power supplies"),
    MAP("outputs", outputs, struct glanz_output, output_count, output_table, GLANZ_OUTPUTS_MOST, SCOPE_OUTPUTS, ROW_REQUIRED,
        "data lines"),
    MAP("surfaces", surfaces, struct glanz_surface, surface_count, surface_table, 64, SCOPE_SURFACES, ROW_REQUIRED,
        "what LEDs are as one sees them; segments are cut from these"),
    MAP("inputs", inputs, struct glanz_input, input_count, input_table, 32, SCOPE_INPUTS, 0, "what pushes edges or values in"),
};
const struct table glanz_table_rig = {TABLE_ROWS(rig_rows), TABLE_RIG, 0, 0,
                                      0 TABLE_WORDS("struct glanz_rig", "rig", NULL, NULL)};
#undef OF
