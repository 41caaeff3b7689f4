/* SPDX-License-Identifier: MIT */
/* A rig from its document. Everything is read into the caller's memory; the check of the rig itself comes last, and its
 * pointer leads back to the line. */
#include <string.h>

#include "parts.h"

static const char *const rig_keys[] = {"rig",      "frames", "lowest blink", "refresh", "supplies", "outputs",
                                       "surfaces", "inputs", "place",        "zone",    NULL};
static const char *const place_keys[] = {"latitude", "longitude", NULL};
static const char *const supply_keys[] = {"volts", "limit", NULL};
static const char *const output_keys[] = {"pin",        "clock pin",    "supply", "buffers", "trim",
                                          "equal leds", "faint levels", "line",   NULL};
static const char *const stretch_keys[] = {"chip", "leds", "order", "parallel", "white", "trim", "current", NULL};
static const char *const color_keys[] = {"red", "green", "blue", "white", NULL};
static const char *const current_keys[] = {"red", "green", "blue", "white", "idle", NULL};
static const char *const input_keys[] = {"button", "value", NULL};
static const char *const button_keys[] = {"pin", "pressed", "settle", "twice within", "held after", NULL};
static const char *const value_keys[] = {"pin", NULL};

static uint8_t read_order(struct json *json, int token, uint8_t channels) {
    char text[8];
    static const char letters[] = "RGBW";
    uint8_t order = 0;
    size_t length = glanz_json_is(json, token, JSMN_STRING) ? glanz_json_copy(json, token, text, sizeof text) : 0;
    int good = length == channels;
    for (uint8_t i = 0; good && i < channels; i++) {
        const char *letter = strchr(letters, text[i]);
        good = letter != NULL && *letter != '\0';
        order = good ? (uint8_t)(order | ((letter - letters) << (2 * i))) : order;
    }
    order = channels == 3 ? (uint8_t)(order | 0xC0u) : order;
    if (!good || !glanz_order_valid(order, channels)) {
        glanz_json_fail(json, token,
                        channels == 4 ? "expected each of R, G, B and W once, such as \"GRBW\""
                                      : "expected each of R, G and B once, such as \"GRB\"",
                        NULL, NULL);
    }
    return order;
}

static void read_trim(struct json *json, int object, uint16_t *trim) {
    if (glanz_json_is(json, object, JSMN_STRING)) { /* one gain for all */
        uint16_t all = (uint16_t)glanz_json_quantity(json, object, QUANTITY_LIGHTNESS, 1, 65535, NULL);
        trim[0] = trim[1] = trim[2] = trim[3] = all;
        return;
    }
    if (!glanz_json_object(json, object, color_keys)) {
        return;
    }
    for (uint8_t c = 0; c < 4; c++) {
        int token = glanz_json_member(json, object, color_keys[c]);
        if (token >= 0) {
            trim[c] = (uint16_t)glanz_json_quantity(json, token, QUANTITY_LIGHTNESS, 1, 65535, NULL);
        }
    }
}

static void read_currents(struct json *json, int object, struct glanz_stretch *stretch) {
    if (!glanz_json_object(json, object, current_keys)) {
        return;
    }
    memcpy(stretch->channel_ua, stretch->chip->channel_ua, sizeof stretch->channel_ua);
    for (uint8_t c = 0; c < 4; c++) {
        int token = glanz_json_member(json, object, color_keys[c]);
        if (token >= 0) {
            stretch->channel_ua[c] = (uint16_t)glanz_json_quantity(json, token, QUANTITY_SMALL_CURRENT, 1, 65535, NULL);
        }
    }
    int idle = glanz_json_member(json, object, "idle");
    if (idle >= 0) {
        stretch->idle_ua = (uint16_t)glanz_json_quantity(json, idle, QUANTITY_SMALL_CURRENT, 1, 65535, NULL);
    }
}

static GLANZ_CONST struct glanz_chip *read_chip(struct json *json, int token) {
    char text[32];
    const char *names[16];
    uint8_t count = 0;
    if (json->status != GLANZ_OK) {
        return &glanz_chip_ws2812b;
    }
    text[0] = '\0';
    if (glanz_json_is(json, token, JSMN_STRING) && glanz_json_copy(json, token, text, sizeof text) < sizeof text &&
        glanz_chip_find(text) != NULL) {
        return glanz_chip_find(text);
    }
    for (; glanz_chips[count] != NULL && count < 15; count++) {
        names[count] = glanz_chips[count]->name;
    }
    names[count] = NULL;
    const char *nearest = glanz_json_nearest(text, names, sizeof *names, count);
    glanz_json_fail(json, token, nearest == NULL ? "no such chip; expected one of: " : "no such chip; did you mean ", nearest,
                    NULL);
    for (uint8_t i = 0; i < count && nearest == NULL; i++) {
        glanz_fault_add(json->fault, names[i]);
        glanz_fault_add(json->fault, i + 1 < count ? ", " : "");
    }
    return &glanz_chip_ws2812b;
}

static void read_stretch(struct json *json, int object, struct glanz_stretch *stretch) {
    if (!glanz_json_object(json, object, stretch_keys)) {
        return;
    }
    stretch->chip = read_chip(json, glanz_json_require(json, object, "chip"));
    stretch->leds = (uint16_t)glanz_json_count(json, glanz_json_require(json, object, "leds"), 1, GLANZ_LEDS_MOST);
    int order = glanz_json_member(json, object, "order");
    int parallel = glanz_json_member(json, object, "parallel");
    int white = glanz_json_member(json, object, "white");
    int trim = glanz_json_member(json, object, "trim");
    int current = glanz_json_member(json, object, "current");
    if (order >= 0 && json->status == GLANZ_OK) {
        stretch->order = read_order(json, order, stretch->chip->channels);
    }
    if (parallel >= 0) {
        stretch->parallel = (uint8_t)glanz_json_count(json, parallel, 1, 255);
    }
    if (white >= 0) {
        if (stretch->chip->channels != 4) {
            glanz_json_fail(json, white, "this chip has no white LED; expected no \"white\"", NULL, NULL);
        }
        stretch->white_kelvin = (uint16_t)glanz_json_quantity(json, white, QUANTITY_KELVIN, 1000, 12500, NULL);
    }
    if (trim >= 0) {
        read_trim(json, trim, stretch->trim);
    }
    if (current >= 0) {
        read_currents(json, current, stretch);
    }
}

static void read_output(struct json *json, int object, int supplies, struct glanz_output *output) {
    if (!glanz_json_object(json, object, output_keys)) {
        return;
    }
    output->pin = (uint8_t)glanz_json_count(json, glanz_json_require(json, object, "pin"), 0, 255);
    output->supply = glanz_read_reference(json, glanz_json_require(json, object, "supply"), supplies, "no such supply");
    int clock_pin = glanz_json_member(json, object, "clock pin");
    int buffers = glanz_json_member(json, object, "buffers");
    if (clock_pin >= 0) {
        output->clock_pin = (uint8_t)glanz_json_count(json, clock_pin, 0, 255);
    }
    if (buffers >= 0) {
        output->buffers = (uint8_t)glanz_json_count(json, buffers, 1, 2);
    }
    int equal = glanz_json_member(json, object, "equal leds");
    output->equal = equal >= 0 && glanz_json_flag(json, equal) != 0;
    int faint = glanz_json_member(json, object, "faint levels");
    if (faint >= 0) {
        output->faint_dark = glanz_json_is(json, faint, JSMN_STRING) && glanz_json_equal(json, faint, "dark");
        if (!output->faint_dark && !(glanz_json_is(json, faint, JSMN_STRING) && glanz_json_equal(json, faint, "dither"))) {
            glanz_json_fail(json, faint, "expected \"dither\" or \"dark\"", NULL, NULL);
        }
    }
    int trim = glanz_json_member(json, object, "trim");
    if (trim >= 0) {
        read_trim(json, trim, output->trim);
    }
    int line = glanz_json_require(json, object, "line");
    output->stretch_count = (uint8_t)glanz_json_list(json, line, JSMN_ARRAY, 255);
    struct glanz_stretch *stretches = (struct glanz_stretch *)glanz_json_take(json, sizeof *stretches * output->stretch_count);
    uint8_t index = 0;
    for (int token = line < 0 || stretches == NULL ? -1 : glanz_json_first(json, line); token >= 0 && json->status == GLANZ_OK;
         token = glanz_json_next(json, line, token)) {
        read_stretch(json, token, &stretches[index++]);
    }
    output->stretches = stretches;
    if (json->status == GLANZ_OK && output->stretch_count == 0) {
        glanz_json_fail(json, line, "expected at least one stretch of LEDs", NULL, NULL);
    }
    uint8_t clocked = json->status == GLANZ_OK && stretches[0].chip->protocol == GLANZ_CLOCKED;
    if (json->status == GLANZ_OK && clocked != (clock_pin >= 0)) {
        glanz_json_fail(json, clocked ? object : clock_pin,
                        clocked ? "chips with a clock need a \"clock pin\""
                                : "these chips have no clock; expected no \"clock pin\"",
                        NULL, NULL);
    }
}

static uint32_t read_time(struct json *json, int object, const char *key, int64_t low, int64_t high) {
    int token = glanz_json_member(json, object, key);
    return token < 0 ? 0 : (uint32_t)glanz_json_quantity(json, token, QUANTITY_TIME, low, high, NULL);
}

static void read_input(struct json *json, int object, struct glanz_input *input) {
    if (!glanz_json_object(json, object, input_keys)) {
        return;
    }
    int button = glanz_json_member(json, object, "button");
    int value = glanz_json_member(json, object, "value");
    if ((button < 0) == (value < 0)) {
        glanz_json_fail(json, object, "expected either \"button\" or \"value\"", NULL, NULL);
        return;
    }
    input->kind = (uint8_t)(button < 0 ? GLANZ_INPUT_VALUE : GLANZ_INPUT_BUTTON);
    int is = button < 0 ? value : button;
    if (!glanz_json_object(json, is, button < 0 ? value_keys : button_keys)) {
        return;
    }
    input->pin = (uint8_t)glanz_json_count(json, glanz_json_require(json, is, "pin"), 0, 255);
    if (button < 0) {
        return;
    }
    int pressed = glanz_json_require(json, is, "pressed");
    if (json->status == GLANZ_OK && !glanz_json_equal(json, pressed, "low") && !glanz_json_equal(json, pressed, "high")) {
        glanz_json_fail(json, pressed, "expected \"low\" or \"high\": the line's level when it is pressed", NULL, NULL);
    }
    input->pressed_low = json->status == GLANZ_OK && glanz_json_equal(json, pressed, "low");
    input->settle_ms = (uint8_t)read_time(json, is, "settle", 1, 200);
    input->twice_ms = (uint16_t)read_time(json, is, "twice within", 50, 5000);
    input->held_ms = (uint16_t)read_time(json, is, "held after", 50, 60000);
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
    if (glanz_json_is(json, token, JSMN_STRING) && glanz_json_copy(json, token, text, sizeof text) < sizeof text) {
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
                    plus == 'N' ? "expected degrees such as \"53.9312 N\" or \"33.9 S\", to 90, with at most four decimals"
                                : "expected degrees such as \"8.6041 E\" or \"70.2 W\", to 180, with at most four decimals",
                    NULL, NULL);
    return 0;
}

glanz_status glanz_rig_read(GLANZ_CONST struct glanz_rig **out, size_t *used, void *memory, size_t size, const char *text,
                            size_t count, struct glanz_fault *fault) {
    struct json reading;
    struct json *json = &reading;
    if (out == NULL || used == NULL || memory == NULL || text == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (glanz_json_open(json, memory, size, text, count, fault) != GLANZ_OK || !glanz_json_object(json, 0, rig_keys)) {
        return json->status;
    }
    struct glanz_rig *rig = (struct glanz_rig *)glanz_json_take(json, sizeof *rig);
    int supplies = glanz_json_require(json, 0, "supplies");
    int outputs = glanz_json_require(json, 0, "outputs");
    int surfaces = glanz_json_require(json, 0, "surfaces");
    int inputs = glanz_json_member(json, 0, "inputs");
    uint8_t supply_count = (uint8_t)glanz_json_list(json, supplies, JSMN_OBJECT, GLANZ_SUPPLIES_MOST);
    uint8_t output_count = (uint8_t)glanz_json_list(json, outputs, JSMN_OBJECT, GLANZ_OUTPUTS_MOST);
    uint8_t surface_count = (uint8_t)glanz_json_list(json, surfaces, JSMN_OBJECT, 64);
    uint8_t input_count = (uint8_t)glanz_json_list(json, inputs, JSMN_OBJECT, 32);
    struct glanz_supply *supply = (struct glanz_supply *)glanz_json_take(json, sizeof *supply * supply_count);
    struct glanz_output *output = (struct glanz_output *)glanz_json_take(json, sizeof *output * output_count);
    struct glanz_surface *surface = (struct glanz_surface *)glanz_json_take(json, sizeof *surface * surface_count);
    struct glanz_input *input = (struct glanz_input *)glanz_json_take(json, sizeof *input * input_count);
    int name = glanz_json_require(json, 0, "rig");
    int frames = glanz_json_member(json, 0, "frames");
    int lowest = glanz_json_member(json, 0, "lowest blink");
    if (json->status != GLANZ_OK) {
        return json->status;
    }
    rig->name = glanz_json_name(json, name);
    int place = glanz_json_member(json, 0, "place");
    int zone = glanz_json_member(json, 0, "zone");
    if (place >= 0 && glanz_json_object(json, place, place_keys)) {
        rig->placed = 1;
        rig->latitude = read_degrees(json, glanz_json_require(json, place, "latitude"), 'N', 'S', 900000);
        rig->longitude = read_degrees(json, glanz_json_require(json, place, "longitude"), 'E', 'W', 1800000);
    }
    if (zone >= 0) {
        struct glanz_zone read;
        uint8_t at = 0;
        rig->zone = glanz_json_name(json, zone);
        if (json->status == GLANZ_OK && glanz_zone_read(&read, &at, rig->zone) != GLANZ_OK) {
            glanz_json_fail(
                json, zone,
                "expected a time zone as POSIX writes it, such as \"CET-1CEST,M3.5.0,M10.5.0/3\"; this one cannot be "
                "read on from ",
                rig->zone + at, NULL);
        }
    }
    rig->refresh_ms = (uint16_t)read_time(json, 0, "refresh", 20, 60000);
    rig->frames_per_s = frames < 0 ? 0 : (uint16_t)glanz_json_quantity(json, frames, QUANTITY_FRAMES, 1, 1000, NULL);
    if (lowest >= 0 && glanz_json_is(json, lowest, JSMN_STRING) && glanz_json_equal(json, lowest, "none")) {
        rig->free_dither = 1;
    } else if (lowest >= 0) {
        rig->lowest_hz = (uint8_t)glanz_json_quantity(json, lowest, QUANTITY_HERTZ, 1, 200, NULL);
    }
    uint8_t index = 0;
    for (int key = glanz_json_first(json, supplies); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, supplies, key), index++) {
        supply[index].name = glanz_json_name(json, key);
        if (glanz_json_object(json, key + 1, supply_keys)) {
            int limit = glanz_json_member(json, key + 1, "limit");
            supply[index].millivolts = (uint32_t)glanz_json_quantity(json, glanz_json_require(json, key + 1, "volts"),
                                                                     QUANTITY_VOLTAGE, 1000, 60000, NULL);
            supply[index].limit_ma =
                limit < 0 ? 0 : (uint32_t)glanz_json_quantity(json, limit, QUANTITY_CURRENT, 1, 1000000, NULL);
        }
    }
    index = 0;
    for (int key = glanz_json_first(json, outputs); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, outputs, key), index++) {
        output[index].name = glanz_json_name(json, key);
        read_output(json, key + 1, supplies, &output[index]);
    }
    index = 0;
    for (int key = glanz_json_first(json, surfaces); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, surfaces, key), index++) {
        surface[index].name = glanz_json_name(json, key);
        glanz_read_surface(json, key + 1, outputs, &surface[index]);
    }
    index = 0;
    for (int key = input_count == 0 ? -1 : glanz_json_first(json, inputs); key >= 0 && json->status == GLANZ_OK;
         key = glanz_json_next(json, inputs, key), index++) {
        input[index].name = glanz_json_name(json, key);
        read_input(json, key + 1, &input[index]);
    }
    rig->supplies = supply;
    rig->outputs = output;
    rig->surfaces = surface;
    rig->inputs = input;
    rig->supply_count = supply_count;
    rig->output_count = output_count;
    rig->surface_count = surface_count;
    rig->input_count = input_count;
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
