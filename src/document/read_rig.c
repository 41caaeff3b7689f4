/* SPDX-License-Identifier: MIT */
/* A rig from its document: what its rows leave to hooks. Everything is read into the caller's memory; the check of the rig
 * itself comes last, and its pointer leads back to the line. */
#include <string.h>

#include "read.h"

static const char *const color_keys[] = {"red", "green", "blue", "white", NULL};
static const char *const current_keys[] = {"red", "green", "blue", "white", "idle", NULL};

/* ---- keys ---- */

static uint8_t read_order(struct json *json, int token, uint8_t channels) {
    char text[8];
    static const char letters[] = "RGBW";
    uint8_t order = 0;
    size_t length = glanz_json_is(json, token, JSON_STRING) ? glanz_json_copy(json, token, text, sizeof text) : 0;
    int good = length == channels;
    for (uint8_t i = 0; good && i < channels; i++) {
        const char *letter = strchr(letters, text[i]);
        good = letter != NULL && *letter != '\0';
        order = good ? (uint8_t)(order | ((letter - letters) << (2 * i))) : order;
    }
    order = channels == 3 ? (uint8_t)(order | 0xC0u) : order;
    if (!good || !glanz_order_valid(order, channels)) {
        glanz_json_fail(json, token, "expected each colour of the chip once, such as \"GRB\" or \"GRBW\"", NULL, NULL);
    }
    return order;
}

/* Degrees as "53.9312 N", in 1/10000. */
static int32_t read_degrees(struct json *json, int token, char plus, char minus, int32_t most) {
    char text[24];
    int32_t degrees = 0;
    int32_t share = 10000;
    size_t at = 0;
    if (json->status != GLANZ_OK) {
        return 0;
    }
    if (glanz_json_is(json, token, JSON_STRING) && glanz_json_copy(json, token, text, sizeof text) < sizeof text) {
        while (text[at] >= '0' && text[at] <= '9' && at < 3) {
            degrees = degrees * 10 + (text[at++] - '0');
        }
        degrees *= 10000;
        if (at > 0 && text[at] == '.') {
            for (at++; text[at] >= '0' && text[at] <= '9' && share > 1; at++) {
                share /= 10;
                degrees += (text[at] - '0') * share;
            }
        }
        if (at > 0 && text[at] == ' ' && (text[at + 1] == plus || text[at + 1] == minus) && text[at + 2] == '\0' &&
            degrees <= most) {
            return text[at + 1] == plus ? degrees : -degrees;
        }
    }
    glanz_json_fail(json, token,
                    "expected degrees such as \"53.9312 N\" (to 90) or \"8.6041 E\" (to 180), with at most four decimals", NULL,
                    NULL);
    return 0;
}

static uint16_t read_share(struct json *json, int token, enum quantity kind) {
    return (uint16_t)glanz_json_quantity(json, token, kind, 1, 65535, NULL);
}

static void read_trim(struct json *json, int object, uint16_t *trim) {
    if (glanz_json_is(json, object, JSON_STRING)) { /* one gain for all */
        trim[0] = trim[1] = trim[2] = trim[3] = read_share(json, object, QUANTITY_LIGHTNESS);
        return;
    }
    if (!glanz_json_object(json, object, color_keys)) {
        return;
    }
    for (uint8_t c = 0; c < 4; c++) {
        int token = glanz_json_member(json, object, color_keys[c]);
        if (token >= 0) {
            trim[c] = read_share(json, token, QUANTITY_LIGHTNESS);
        }
    }
}

static void read_currents(struct json *json, int object, struct glanz_stretch *stretch) {
    if (!glanz_json_object(json, object, current_keys)) {
        return;
    }
    memcpy(stretch->channel_ua, stretch->chip->channel_ua, sizeof stretch->channel_ua);
    for (uint8_t c = 0; c < 5; c++) {
        int token = glanz_json_member(json, object, current_keys[c]);
        if (token >= 0) {
            uint16_t *to = c < 4 ? &stretch->channel_ua[c] : &stretch->idle_ua;
            *to = read_share(json, token, QUANTITY_SMALL_CURRENT);
        }
    }
}

static uint16_t read_radius(struct json *json, int token) { /* 64ths of a step */
    uint8_t unit = GLANZ_UNIT_NONE;
    int64_t length = glanz_json_quantity(json, token, QUANTITY_LENGTH, GLANZ_FIXED(0.25), GLANZ_FIXED(500), &unit);
    if (json->status == GLANZ_OK && unit != GLANZ_UNIT_LEDS) {
        glanz_json_fail(json, token, "expected a radius in LEDs, such as \"3.5 leds\"", NULL, NULL);
    }
    return (uint16_t)((length + 512) / 1024);
}

static void read_lowest_blink(struct json *json, int token, struct glanz_rig *rig) {
    if (glanz_json_is(json, token, JSON_STRING) && glanz_json_equal(json, token, "none")) {
        rig->free_dither = 1;
    } else {
        rig->lowest_hz = (uint8_t)glanz_json_quantity(json, token, QUANTITY_HERTZ, 1, 200, NULL);
    }
}

static void read_key(struct reading *reading, const struct row *row, int token, void *base) {
    struct json *json = &reading->json;
    void *member = (uint8_t *)base + row->at;
    switch (row->extra) {
    case HOOK_READS: glanz_read_reads(reading, token, (struct glanz_input *)base); break;
    case HOOK_LOWEST_BLINK: read_lowest_blink(json, token, (struct glanz_rig *)base); break;
    case HOOK_DEGREES:
        *(int32_t *)member =
            row->arg.low == 'N' ? read_degrees(json, token, 'N', 'S', 900000) : read_degrees(json, token, 'E', 'W', 1800000);
        break;
    case HOOK_ORDER: *(uint8_t *)member = read_order(json, token, ((struct glanz_stretch *)base)->chip->channels); break;
    case HOOK_STRETCH_TRIM:
    case HOOK_TRIM: read_trim(json, token, (uint16_t *)member); break;
    case HOOK_CURRENT: read_currents(json, token, (struct glanz_stretch *)base); break;
    case HOOK_RADIUS: *(uint16_t *)member = read_radius(json, token); break;
    case HOOK_PLACES: glanz_read_places(json, token, (struct glanz_surface *)base); break;
    default: glanz_read_drawing(json, token, (struct glanz_surface *)base); break;
    }
}

/* ---- structs ---- */

/* Keys that only some kinds of surfaces have. */
static void begin_surface(struct json *json, const struct read_frame *frame) {
    int points = glanz_read_token(frame, "points") >= 0;
    int grid = glanz_read_token(frame, "grid") >= 0;
    int places = glanz_read_token(frame, "places");
    int drawing = glanz_read_token(frame, "drawing");
    const struct {
        const char *key;
        int fits;
    } some[] = {{"places", points},
                {"drawing", points},
                {"columns", grid || points || glanz_read_token(frame, "rings") >= 0},
                {"rows", grid || points || glanz_read_token(frame, "rings") >= 0},
                {"joined", grid}};
    for (size_t i = 0; i < sizeof some / sizeof some[0]; i++) {
        int token = glanz_read_token(frame, some[i].key);
        if (token >= 0 && !some[i].fits) {
            glanz_json_fail(json, token, "expected no ", some[i].key, " with this kind of surface");
        }
    }
    if (points && (places < 0) == (drawing < 0)) {
        glanz_json_fail(json, frame->object, "free points need either \"places\" or a \"drawing\"", NULL, NULL);
    }
}

static void begin(struct reading *reading, struct read_frame *frame) {
    if (frame->table->hook == TABLE_SURFACE) {
        begin_surface(&reading->json, frame);
    }
}

static void end_rig(struct json *json, const struct read_frame *frame) {
    const struct glanz_rig *rig = (const struct glanz_rig *)(const void *)frame->base;
    struct glanz_zone zone;
    uint8_t at = 0;
    if (rig->zone != NULL && glanz_zone_read(&zone, rig->zone, &at) != GLANZ_OK) {
        glanz_json_fail(json, glanz_read_token(frame, "zone"),
                        "expected a time zone of POSIX such as \"CET-1CEST,M3.5.0,M10.5.0/3\"; it cannot be read on from ",
                        rig->zone + at, NULL);
    }
}

static void end_stretch(struct json *json, const struct read_frame *frame) {
    struct glanz_stretch *stretch = (struct glanz_stretch *)(void *)frame->base;
    int point = glanz_read_token(frame, "white point");
    if (point >= 0 && glanz_read_token(frame, "trim") >= 0) {
        glanz_json_fail(json, point, "expected either a \"trim\" or a \"white point\"; the whole line's trim goes with both",
                        NULL, NULL);
        return;
    }
    if (point >= 0) {
        glanz_white_trim(stretch->trim, stretch->white_point);
    }
    int white = glanz_read_token(frame, "white");
    if (white >= 0 && stretch->chip->channels != 4) {
        glanz_json_fail(json, white, "this chip has no white LED; expected no \"white\"", NULL, NULL);
    }
}

static void end_hearing(struct json *json, const struct read_frame *frame) {
    GLANZ_CONST char *wrong = glanz_hearing_wrong(&((const struct glanz_input *)(const void *)frame->base)->hearing);
    if (wrong != NULL) {
        glanz_json_fail(json, frame->object, wrong, NULL, NULL);
    }
}

static void end_output(struct json *json, const struct read_frame *frame) {
    const struct glanz_output *output = (const struct glanz_output *)(const void *)frame->base;
    int clock_pin = glanz_read_token(frame, "clock pin");
    uint8_t clocked = output->stretches[0].chip->protocol == GLANZ_CLOCKED;
    if (clocked != (clock_pin >= 0)) {
        glanz_json_fail(json, clocked ? frame->object : clock_pin,
                        clocked ? "chips with a clock need a \"clock pin\""
                                : "these chips have no clock; expected no \"clock pin\"",
                        NULL, NULL);
    }
}

static void end_panel(struct json *json, const struct read_frame *frame) {
    struct glanz_piece *piece = (struct glanz_piece *)(void *)frame->base;
    const struct glanz_panel *panel = (const struct glanz_panel *)(const void *)frame->beside;
    uint32_t leds = (uint32_t)panel->columns * panel->rows;
    if (leds > GLANZ_LEDS_MOST) {
        glanz_json_fail(json, frame->object, "the panel has more than 32767 LEDs; expected fewer columns or rows", NULL, NULL);
    }
    piece->leds = (uint16_t)leds;
}

/* The pieces are read: do they fit, before places are asked for each of their LEDs? */
static void check_pieces(struct json *json, const struct read_frame *frame) {
    const struct glanz_surface *surface = (const struct glanz_surface *)(const void *)frame->base;
    uint32_t leds = 0;
    for (uint8_t i = 0; i < surface->piece_count; i++) {
        leds += surface->pieces[i].leds;
    }
    if (leds > GLANZ_LEDS_MOST) {
        glanz_json_fail(json, frame->token[surface->kind], "expected at most 32767 LEDs on a surface", NULL, NULL);
    }
}

static void end(struct reading *reading, struct read_frame *frame) {
    struct json *json = &reading->json;
    switch (frame->table->hook) {
    case TABLE_RIG: end_rig(json, frame); break;
    case TABLE_STRETCH: end_stretch(json, frame); break;
    case TABLE_HEARING: end_hearing(json, frame); break;
    case TABLE_OUTPUT: end_output(json, frame); break;
    case TABLE_PANEL: end_panel(json, frame); break;
    default: check_pieces(json, frame); break;
    }
}

static const struct hooks hooks = {read_key, NULL, begin, end};

glanz_status glanz_rig_read(GLANZ_CONST struct glanz_rig **out, size_t *used, void *memory, size_t size, const char *text,
                            size_t count, struct glanz_fault *fault) {
    struct reading reading;
    struct json *json = &reading.json;
    if (out == NULL || used == NULL || memory == NULL || text == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    memset(&reading, 0, sizeof reading);
    reading.hooks = &hooks;
    glanz_names_of(reading.scope, NULL, NULL);
    if (glanz_json_open(json, memory, size, text, count, fault) != GLANZ_OK) {
        return json->status;
    }
    struct glanz_rig *rig = (struct glanz_rig *)glanz_json_allocate(json, sizeof *rig);
    if (rig != NULL) {
        glanz_read(&reading, &glanz_table_rig, rig, 0);
    }
    glanz_status status = json->status == GLANZ_OK ? glanz_rig_check(rig, fault) : GLANZ_OK;
    if (status != GLANZ_OK) {
        glanz_json_fail_checked(json, status);
    }
    if (json->status == GLANZ_OK || status == GLANZ_ERR_RIG) {
        *out = rig;
        *used = json->used;
    }
    return json->status;
}
