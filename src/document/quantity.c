/* SPDX-License-Identifier: MIT */
/* Quantities and colours as text. Decimals are read in millionths; every number is written with as many digits as it takes
 * to read back equal. */
#include <string.h>

#include "json.h"

struct unit {
    const char *name;
    int32_t num; /* number is decimal * num / den */
    int16_t den;
    uint8_t kind; /* enum quantity */
    uint8_t unit; /* enum glanz_unit, for lengths and rates */
};

/* The first unit of a kind is the one written, unless another fits the number better (see glanz_quantity_text). */
static const struct unit units[] = {{"ms", 1, 1, QUANTITY_TIME, 0},
                                    {"s", 1000, 1, QUANTITY_TIME, 0},
                                    {"min", 60000, 1, QUANTITY_TIME, 0},
                                    {"h", 3600000, 1, QUANTITY_TIME, 0},
                                    {"%", 65536, 100, QUANTITY_SHARE, 0},
                                    {"%", 65535, 100, QUANTITY_LIGHTNESS, 0},
                                    {"mA", 1, 1, QUANTITY_CURRENT, 0},
                                    {"A", 1000, 1, QUANTITY_CURRENT, 0},
                                    {"mA", 1000, 1, QUANTITY_SMALL_CURRENT, 0},
                                    {"mV", 1, 1, QUANTITY_VOLTAGE, 0},
                                    {"V", 1000, 1, QUANTITY_VOLTAGE, 0},
                                    {"K", 1, 1, QUANTITY_KELVIN, 0},
                                    {"Hz", 1, 1, QUANTITY_HERTZ, 0},
                                    {"kHz", 1000, 1, QUANTITY_HERTZ, 0},
                                    {"dB", 1, 1, QUANTITY_DECIBEL, 0},
                                    {"deg", 65536, 360, QUANTITY_ANGLE, 0},
                                    {"per s", 1, 1, QUANTITY_FRAMES, 0},
                                    {"leds", 65536, 1, QUANTITY_LENGTH, GLANZ_UNIT_LEDS},
                                    {"led", 65536, 1, QUANTITY_LENGTH, GLANZ_UNIT_LEDS},
                                    {"%", 65536, 100, QUANTITY_LENGTH, GLANZ_UNIT_LENGTHS},
                                    {"leds/s", 65536, 1, QUANTITY_RATE, GLANZ_UNIT_LEDS},
                                    {"lengths/s", 65536, 1, QUANTITY_RATE, GLANZ_UNIT_LENGTHS},
                                    {"passes/s", 65536, 1, QUANTITY_RATE, GLANZ_UNIT_PASSES},
                                    {"ms/pass", 1, 1, QUANTITY_RATE, GLANZ_UNIT_PASS_TIME},
                                    {"s/pass", 1000, 1, QUANTITY_RATE, GLANZ_UNIT_PASS_TIME},
                                    {"min/pass", 60000, 1, QUANTITY_RATE, GLANZ_UNIT_PASS_TIME}};

static const char *const expected[] = {
    [QUANTITY_TIME] = "a time such as \"250 ms\", \"2.5 s\", \"4 min\" or \"1 h\"",
    [QUANTITY_SHARE] = "a share such as \"40 %\"",
    [QUANTITY_LIGHTNESS] = "a lightness such as \"40 %\"",
    [QUANTITY_CURRENT] = "a current such as \"2.4 A\" or \"600 mA\"",
    [QUANTITY_SMALL_CURRENT] = "a current such as \"18.5 mA\" or \"0.6 mA\"",
    [QUANTITY_VOLTAGE] = "a voltage such as \"5 V\"",
    [QUANTITY_KELVIN] = "a colour temperature such as \"4000 K\"",
    [QUANTITY_HERTZ] = "a frequency such as \"25 Hz\" or \"16 kHz\"",
    [QUANTITY_DECIBEL] = "a ratio such as \"36 dB\"",
    [QUANTITY_ANGLE] = "an angle such as \"90 deg\"",
    [QUANTITY_FRAMES] = "a frame rate such as \"100 per s\"",
    [QUANTITY_LENGTH] = "a length such as \"2.5 leds\", or \"40 %\" of the segment",
    [QUANTITY_RATE] = "a speed such as \"12 leds/s\", \"0.1 lengths/s\", \"0.5 passes/s\" or \"8 s/pass\""};
#define UNITS (sizeof units / sizeof units[0])

#define WHOLE_MOST 1000000000 /* beyond every range */

/* A decimal number without its sign, whole and in millionths. */
struct decimal {
    int64_t whole; /* at most WHOLE_MOST */
    int32_t part;
    uint8_t negative;
    uint8_t finer; /* there is more behind the millionths */
};

/* A decimal at the start of a text. @return its length, 0 when there is none. */
static size_t read_decimal(const char *text, struct decimal *decimal) {
    size_t at = 0;
    int32_t scale = 1000000;
    decimal->whole = 0;
    decimal->part = 0;
    decimal->finer = 0;
    decimal->negative = text[0] == '-';
    at += (size_t)decimal->negative;
    size_t begin = at;
    while (text[at] >= '0' && text[at] <= '9') {
        decimal->whole = decimal->whole >= WHOLE_MOST / 10 ? WHOLE_MOST : decimal->whole * 10 + (text[at] - '0');
        at++;
    }
    if (at == begin) {
        return 0;
    }
    if (text[at] == '.') {
        size_t point = at++;
        for (; text[at] >= '0' && text[at] <= '9'; at++) {
            scale /= 10;
            decimal->part += (text[at] - '0') * scale;
            decimal->finer = (uint8_t)(decimal->finer | (scale == 0 && text[at] != '0'));
        }
        if (at == point + 1) {
            return 0;
        }
    }
    return at;
}

/* A decimal in a unit, rounded to the nearest. @param above set to 1 where the exact number is above the rounded one. */
static int64_t in_unit(const struct decimal *decimal, const struct unit *unit, uint8_t *above) {
    int64_t whole = decimal->whole * unit->num;
    int64_t den = 1000000 * (int64_t)unit->den;
    int64_t rest = whole % unit->den * 1000000 + (int64_t)decimal->part * unit->num; /* of `den` */
    int64_t number = whole / unit->den + rest / den;
    rest %= den;
    *above = (uint8_t)(rest != 0 && rest < den / 2);
    return number + (rest != 0 && rest >= den / 2);
}

static void refuse_range(struct json *json, int token, const char *text, enum quantity kind, int64_t low, int64_t high,
                         uint8_t unit) {
    char bound[32];
    glanz_quantity_text(bound, kind, high, unit);
    if (kind == QUANTITY_RATE) {
        glanz_json_fail(json, token, text, NULL, " is too fast or too slow; expected at most ");
    } else {
        char least[32];
        glanz_quantity_text(least, kind, low, unit);
        glanz_json_fail(json, token, text, NULL, " is out of range; expected ");
        glanz_fault_add(json->fault, least);
        glanz_fault_add(json->fault, " to ");
    }
    glanz_fault_add(json->fault, bound);
}

int64_t glanz_json_quantity(struct json *json, int token, enum quantity kind, int64_t low, int64_t high, uint8_t *unit) {
    if (json->status != GLANZ_OK) {
        return low;
    }
    char text[64];
    struct decimal decimal;
    size_t at = 0;
    if (glanz_json_is(json, token, JSON_STRING) && glanz_json_copy(json, token, text, sizeof text) < sizeof text) {
        at = read_decimal(text, &decimal);
    }
    if (at != 0) {
        at += text[at] == ' ';
        for (size_t i = 0; i < UNITS; i++) {
            if (units[i].kind == kind && strcmp(units[i].name, text + at) == 0) {
                uint8_t above;
                int64_t size = in_unit(&decimal, &units[i], &above);
                int64_t number = decimal.negative ? -size : size;
                int64_t sized = kind == QUANTITY_RATE ? size : number;
                if (sized < low || sized > high || (sized == high && above && !decimal.negative)) {
                    refuse_range(json, token, text, kind, low, high, units[i].unit);
                    return low;
                }
                if (decimal.finer) {
                    glanz_json_fail(json, token, text, NULL, " has more decimals than can be kept; expected at most six");
                    return low;
                }
                if (size == 0 && (decimal.whole != 0 || decimal.part != 0)) { /* it would be something else */
                    char least[32];
                    glanz_quantity_text(least, kind, 1, units[i].unit);
                    glanz_json_fail(json, token, text, NULL, " is too small to be kept; expected 0, or at least ");
                    glanz_fault_add(json->fault, least);
                    return low;
                }
                if (unit != NULL) {
                    *unit = units[i].unit;
                }
                return number;
            }
        }
    }
    glanz_json_fail(json, token, "expected ", NULL, expected[kind]);
    return low;
}

static char *put_number(char *out, uint64_t number) {
    char digits[20];
    int count = 0;
    do {
        digits[count++] = (char)('0' + number % 10u);
        number /= 10u;
    } while (number != 0);
    while (count > 0) {
        *out++ = digits[--count];
    }
    *out = '\0';
    return out;
}

void glanz_quantity_text(char *out, enum quantity kind, int64_t number, uint8_t unit) {
    const struct unit *best = NULL;
    for (size_t i = 0; i < UNITS; i++) { /* the largest unit in which the number is at least one, else the first */
        if (units[i].kind == kind && units[i].unit == unit && strcmp(units[i].name, "led") != 0) {
            int64_t size = number < 0 ? -number : number;
            int64_t hundredth = units[i].num < 100 ? 1 : units[i].num / 100; /* not more than two decimals */
            if (best == NULL || (size >= units[i].num / units[i].den && units[i].num > best->num && size % hundredth == 0)) {
                best = &units[i];
            }
        }
    }
    if (number < 0) {
        *out++ = '-';
        number = -number;
    }
    uint64_t den = (uint64_t)best->den;
    uint64_t num = (uint64_t)best->num;
    uint64_t whole = (uint64_t)number * den / num;
    uint64_t rest = (uint64_t)number * den % num;
    /* the fewest digits that read back equal */
    uint64_t scale = 1;
    uint64_t part = 0;
    for (int digits = 0; digits <= 6; digits++, scale *= 10) {
        part = (rest * scale + num / 2) / num;
        uint64_t micro = part * (1000000u / scale);
        uint64_t back = ((whole * 1000000u + micro) * num + 500000u * den) / (1000000u * den);
        if (back == (uint64_t)number) {
            break;
        }
    }
    if (part >= scale) {
        whole += 1;
        part -= scale;
    }
    out = put_number(out, whole);
    if (part != 0) {
        *out++ = '.';
        for (uint64_t digit = scale / 10; digit > 0; digit /= 10) {
            *out++ = (char)('0' + part / digit % 10);
        }
    }
    *out++ = ' ';
    strcpy(out, best->name);
}

/* ---- colours ---- */

static int hex_digit(char c) {
    return c >= '0' && c <= '9' ? c - '0' : c >= 'a' && c <= 'f' ? c - 'a' + 10 : c >= 'A' && c <= 'F' ? c - 'A' + 10 : -1;
}

/* Three or six digits. */
static int hex_color(glanz_color *color, const char *text, size_t length) {
    if (length != 3 && length != 6) {
        return 0;
    }
    glanz_color value = 0;
    for (size_t i = 0; i < length; i++) {
        int digit = hex_digit(text[i]);
        if (digit < 0) {
            return 0;
        }
        value = value * 16u + (glanz_color)digit;
        value = length == 3 ? value * 16u + (glanz_color)digit : value;
    }
    *color = value;
    return 1;
}

/* A number of CSS, rounded to a whole one. @return bytes it takes, or 0. */
static size_t css_number(uint32_t *number, const char *text, size_t length) {
    size_t at = 0;
    *number = 0;
    while (at < length && text[at] >= '0' && text[at] <= '9' && at < 4) {
        *number = *number * 10u + (uint32_t)(text[at++] - '0');
    }
    if (at == 0 || at == 4) {
        return 0;
    }
    if (at + 1 < length && text[at] == '.' && text[at + 1] >= '0' && text[at + 1] <= '9') {
        *number += text[++at] >= '5';
        while (at < length && text[at] >= '0' && text[at] <= '9') {
            at++;
        }
    }
    return at;
}

struct css_part {
    const char *unit; /* that it has, or may have */
    uint8_t must;
    uint32_t most;
};

/* "hsl(210 80% 40%)", "rgb(255, 176, 0)": three numbers with blanks or commas between them, as CSS writes them. */
static int css_color(uint32_t numbers[3], const char *text, size_t length, const struct css_part parts[3]) {
    size_t at = 4;
    int commas = memchr(text, ',', length) != NULL;
    for (int i = 0; i < 3; i++) {
        size_t unit = strlen(parts[i].unit);
        size_t digits = css_number(&numbers[i], text + at, length - at);
        at += digits;
        int has = unit != 0 && length - at >= unit && memcmp(text + at, parts[i].unit, unit) == 0;
        if (digits == 0 || numbers[i] > parts[i].most || (parts[i].must && !has)) {
            return 0;
        }
        at += has ? unit : 0;
        if (commas && i < 2 && (at >= length || text[at++] != ',')) {
            return 0;
        }
        size_t blanks = at;
        while (at < length && text[at] == ' ') {
            at++;
        }
        if (!commas && i < 2 && blanks == at) {
            return 0;
        }
    }
    return at + 1 == length && text[at] == ')';
}

static int hsl_color(glanz_color *color, const char *text, size_t length) {
    static const struct css_part parts[3] = {{"deg", 0, 360}, {"%", 1, 100}, {"%", 1, 100}};
    uint32_t numbers[3];
    if (!css_color(numbers, text, length, parts)) {
        return 0;
    }
    *color = GLANZ_HSL(numbers[0], numbers[1], numbers[2]);
    return 1;
}

static int rgb_color(glanz_color *color, const char *text, size_t length) {
    static const struct css_part bytes[3] = {{"", 0, 255}, {"", 0, 255}, {"", 0, 255}};
    static const struct css_part shares[3] = {{"%", 1, 100}, {"%", 1, 100}, {"%", 1, 100}};
    uint32_t numbers[3];
    if (css_color(numbers, text, length, bytes)) {
        *color = GLANZ_RGB(numbers[0], numbers[1], numbers[2]);
        return 1;
    }
    if (css_color(numbers, text, length, shares)) {
        *color =
            GLANZ_RGB((numbers[0] * 255u + 50u) / 100u, (numbers[1] * 255u + 50u) / 100u, (numbers[2] * 255u + 50u) / 100u);
        return 1;
    }
    return 0;
}

int glanz_color_of_text(glanz_color *color, const char *text, size_t length, const struct glanz_named_color *names,
                        uint16_t name_count) {
    for (uint16_t i = 0; i < name_count; i++) {
        if (strlen(names[i].name) == length && memcmp(names[i].name, text, length) == 0) {
            *color = GLANZ_NAMED(i);
            return 1;
        }
    }
    if (length > 0 && text[0] == '#') {
        return hex_color(color, text + 1, length - 1);
    }
    if (hex_color(color, text, length)) {
        return 1;
    }
    if (length > 4 && memcmp(text, "rgb(", 4) == 0) {
        return rgb_color(color, text, length);
    }
    if (length > 4 && memcmp(text, "hsl(", 4) == 0) {
        return hsl_color(color, text, length);
    }
    if (length >= 5 && length < 9 && text[length - 1] == 'K') {
        uint32_t kelvin = 0;
        size_t at = 0;
        while (at < length && text[at] >= '0' && text[at] <= '9') {
            kelvin = kelvin * 10u + (uint32_t)(text[at++] - '0');
        }
        at += text[at] == ' ';
        *color = GLANZ_KELVIN(kelvin);
        return at == length - 1 && kelvin >= 1000 && kelvin <= 12500;
    }
    return 0;
}

/* Digits and a K, whatever they say. */
static int is_kelvin(const char *text, size_t length) {
    size_t at = 0;
    while (at < length && ((text[at] >= '0' && text[at] <= '9') || text[at] == ' ')) {
        at++;
    }
    return at > 0 && at + 1 == length && text[at] == 'K';
}

glanz_color glanz_json_color(struct json *json, int token, const struct glanz_named_color *names, uint16_t name_count) {
    glanz_color color = 0;
    char text[64] = "";
    if (json->status != GLANZ_OK) {
        return 0;
    }
    size_t length = glanz_json_is(json, token, JSON_STRING) ? glanz_json_copy(json, token, text, sizeof text) : 0;
    if (length == 0 || length >= sizeof text || !glanz_color_of_text(&color, text, length, names, name_count)) {
        if (length < sizeof text && is_kelvin(text, length)) {
            glanz_json_fail(json, token, text, NULL, " is out of range; expected 1000 K to 12500 K");
            return 0;
        }
        struct names all = {names == NULL ? NULL : &names->name, sizeof *names, length == 0 ? 0 : name_count, 0, NULL};
        glanz_json_fail_name(
            json, token,
            "expected a colour: \"#rrggbb\", \"2700 K\", \"hsl(210 80% 40%)\", \"rgb(255 176 0)\", or a name of \"colors\"",
            text, &all);
    }
    return color;
}

void glanz_color_text(char *out, glanz_color color) {
    static const char hex[] = "0123456789abcdef";
    if ((color >> 24) == 1) {
        out = put_number(out, color & 0xFFFFu);
        strcpy(out, " K");
    } else if ((color >> 24) == 2) {
        strcpy(out, "hsl(");
        out = put_number(out + 4, (color >> 14) & 0x1FFu);
        *out++ = ' ';
        out = put_number(out, (color >> 7) & 0x7Fu);
        strcpy(out, "% ");
        out = put_number(out + 2, color & 0x7Fu);
        strcpy(out, "%)");
    } else {
        *out++ = '#';
        for (int shift = 20; shift >= 0; shift -= 4) {
            *out++ = hex[(color >> shift) & 15u];
        }
        *out = '\0';
    }
}
