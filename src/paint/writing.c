/* SPDX-License-Identifier: MIT */
/* Writing: UTF-8 text with braces that tell the time or a value, set as a line of glyphs. */
#include <glanz/paint.h>

#if GLANZ_FIELDS

#define BAD 0xFFFFFFFFu

/* ---- UTF-8 (RFC 3629) ---- */

/* The next code; BAD for what is none: cut short, too long a form, a surrogate, a control character. */
static uint32_t next_code(GLANZ_CONST char **text) {
    GLANZ_CONST uint8_t *at = (GLANZ_CONST uint8_t *)*text;
    uint32_t code = at[0];
    uint8_t more = code < 0x80 ? 0 : code >= 0xF0 ? 3 : code >= 0xE0 ? 2 : 1;
    static GLANZ_CONST uint32_t least[4] = {0x20, 0x80, 0x800, 0x10000};
    if ((code >= 0x80 && code < 0xC2) || code > 0xF4) {
        return BAD;
    }
    code &= more == 0 ? 0x7Fu : 0x3Fu >> more;
    for (uint8_t i = 1; i <= more; i++) {
        if ((at[i] & 0xC0u) != 0x80u) {
            return BAD;
        }
        code = code << 6 | (at[i] & 0x3Fu);
    }
    if (code < least[more] || (code >= 0xD800 && code < 0xE000) || code > 0x10FFFF || (code >= 0x7F && code < 0xA0)) {
        return BAD;
    }
    *text += more + 1;
    return code;
}

/* ---- braces ---- */

struct number { /* decimal, as it is written */
    int32_t value;
    uint8_t decimals;
};

/* A number such as -12.5, at most six digits. @return 0 when there is none. */
static int read_number(struct number *number, GLANZ_CONST char **text) {
    GLANZ_CONST char *at = *text;
    uint8_t negative = *at == '-';
    uint8_t digits = 0;
    uint8_t point = 0;
    at += negative;
    number->value = 0;
    number->decimals = 0;
    for (; (*at >= '0' && *at <= '9') || (*at == '.' && !point && digits != 0); at++) {
        if (*at == '.') {
            point = 1;
            continue;
        }
        number->value = number->value * 10 + (*at - '0');
        number->decimals = (uint8_t)(number->decimals + point);
        if (++digits > 6) {
            return 0;
        }
    }
    number->value = negative ? -number->value : number->value;
    *text = at;
    return digits != 0 && (!point || number->decimals != 0);
}

struct brace {
    GLANZ_CONST char *name; /* and its length */
    uint8_t length;
    struct number low, high; /* as the value is told; both of the same decimals */
};

static int starts_with(GLANZ_CONST char *text, GLANZ_CONST char *with) {
    while (*with != '\0' && *text == *with) {
        text++;
        with++;
    }
    return *with == '\0';
}

/* Told with more decimals. @return 0 when it would have more than eight digits. */
static int with_decimals(struct number *number, uint8_t decimals) {
    while (number->decimals < decimals && number->value > -10000000 && number->value < 10000000) {
        number->value *= 10;
        number->decimals++;
    }
    return number->decimals >= decimals;
}

/* What is in a pair of braces, from after the first; moves on past the second. @return 0 when it cannot be read. */
static int read_brace(struct brace *brace, GLANZ_CONST char **text) {
    GLANZ_CONST char *at = *text;
    brace->name = at;
    brace->low.value = 0;
    brace->low.decimals = 0;
    brace->high.value = 100;
    brace->high.decimals = 0;
    for (; *at != '}'; at++) {
        if (*at == '\0' || *at == '{' || at - brace->name > 63) {
            return 0;
        }
    }
    GLANZ_CONST char *end = at;
    brace->length = (uint8_t)(end - brace->name);
    for (GLANZ_CONST char *space = brace->name; space < end; space++) { /* a range at its end, if there is one */
        GLANZ_CONST char *here = space + 1;
        struct number low;
        struct number high;
        if (*space == ' ' && read_number(&low, &here) && starts_with(here, GLANZ_TEXT(" to ")) &&
            (here += 4, read_number(&high, &here)) && here == end) {
            brace->length = (uint8_t)(space - brace->name);
            if (!with_decimals(&low, high.decimals) || !with_decimals(&high, low.decimals)) {
                return 0; /* more digits than are kept */
            }
            brace->low = low;
            brace->high = high;
            break;
        }
    }
    *text = end + 1;
    return brace->length != 0;
}

enum told { TOLD_TIME, TOLD_DATE, TOLD_HOUR, TOLD_MINUTE, TOLD_SECOND, TOLD_DAY, TOLD_MONTH, TOLD_YEAR, TOLD_VALUE };
static GLANZ_CONST char *GLANZ_CONST told_names[] = {GLANZ_TEXT("time"),   GLANZ_TEXT("date"),   GLANZ_TEXT("hour"),
                                                     GLANZ_TEXT("minute"), GLANZ_TEXT("second"), GLANZ_TEXT("day"),
                                                     GLANZ_TEXT("month"),  GLANZ_TEXT("year")};

static int is_name(const struct brace *brace, GLANZ_CONST char *name) {
    uint8_t i = 0;
    for (; i < brace->length && name[i] != '\0'; i++) {
        if (name[i] != brace->name[i]) {
            return 0;
        }
    }
    return i == brace->length && name[i] == '\0';
}

static uint8_t told_of(const struct brace *brace) {
    uint8_t told = 0;
    while (told < TOLD_VALUE && !is_name(brace, told_names[told])) {
        told++;
    }
    return told;
}

/* The index of a value, or 255. */
static uint8_t value_of(const struct brace *brace, const struct glanz_world *world) {
    GLANZ_CONST uint8_t *first = (GLANZ_CONST uint8_t *)world->name;
    for (uint8_t i = 0; i < world->values; i++) {
        GLANZ_CONST char *name = *(GLANZ_CONST char *GLANZ_CONST *)(GLANZ_CONST void *)(first + (size_t)world->name_step * i);
        if (name != NULL && is_name(brace, name)) {
            return i;
        }
    }
    return 255;
}

/* ---- what braces tell, as plain letters ---- */

struct notifier {
    char text[GLANZ_TOLD_MOST];
    uint8_t count;
};

static void notify(struct notifier *notifier, char letter) {
    if (notifier->count < GLANZ_TOLD_MOST) {
        notifier->text[notifier->count++] = letter;
    }
}

/* At least so many digits, a point before the last `decimals`. */
static void tell_number(struct notifier *notifier, uint32_t number, uint8_t digits, uint8_t decimals) {
    char reversed[12];
    uint8_t count = 0;
    while (number != 0 || count < digits || count <= decimals) {
        reversed[count++] = (char)('0' + number % 10u);
        number /= 10u;
    }
    while (count != 0) {
        if (count == decimals) {
            notify(notifier, '.');
        }
        notify(notifier, reversed[--count]);
    }
}

static void tell_part(struct notifier *notifier, const struct glanz_world *world, uint32_t number, uint8_t digits) {
    if (world != NULL && world->known) {
        tell_number(notifier, number, digits, 0);
        return;
    }
    for (uint8_t i = 0; i < digits; i++) {
        notify(notifier, '-');
    }
}

static void tell_value(struct notifier *notifier, const struct brace *brace, const struct glanz_world *world) {
    uint8_t index = world == NULL ? 255 : value_of(brace, world);
    if (index == 255) {
        notify(notifier, '-');
        return;
    }
    int32_t way = brace->high.value - brace->low.value; /* each below 10^6, at most 10^12 when filled up to 6 decimals */
    uint32_t size = way < 0 ? 0u - (uint32_t)way : (uint32_t)way;
    uint32_t level = world->level[index] & 0x1FFFFu;
    uint32_t gone = glanz_times(size, level) + ((size & 0xFFFFu) * level % 65536u >= 32768u ? 1u : 0u);
    int32_t number = way < 0 ? brace->low.value - (int32_t)gone : brace->low.value + (int32_t)gone;
    if (number < 0) {
        notify(notifier, '-');
    }
    tell_number(notifier, number < 0 ? 0u - (uint32_t)number : (uint32_t)number, 1, brace->low.decimals);
}

static void tell_brace(struct notifier *notifier, const struct brace *brace, const struct glanz_world *world) {
    uint32_t second = world == NULL ? 0 : world->second;
    struct glanz_date date = glanz_date_of(world == NULL ? 0 : world->day);
    notifier->count = 0;
    switch (told_of(brace)) {
    case TOLD_TIME:
        tell_part(notifier, world, second / 3600u, 2);
        notify(notifier, ':');
        tell_part(notifier, world, second / 60u % 60u, 2);
        break;
    case TOLD_DATE: /* ISO 8601 */
        tell_part(notifier, world, date.year, 4);
        notify(notifier, '-');
        tell_part(notifier, world, date.month, 2);
        notify(notifier, '-');
        tell_part(notifier, world, date.day, 2);
        break;
    case TOLD_HOUR: tell_part(notifier, world, second / 3600u, 2); break;
    case TOLD_MINUTE: tell_part(notifier, world, second / 60u % 60u, 2); break;
    case TOLD_SECOND: tell_part(notifier, world, second % 60u, 2); break;
    case TOLD_DAY: tell_part(notifier, world, date.day, 1); break;
    case TOLD_MONTH: tell_part(notifier, world, date.month, 1); break;
    case TOLD_YEAR: tell_part(notifier, world, date.year, 4); break;
    default: tell_value(notifier, brace, world); break;
    }
}

/* ---- setting ---- */

static GLANZ_CONST struct glanz_font *font_of(GLANZ_CONST struct glanz_writing *writing) {
    return writing->font == NULL ? &glanz_font_quay : writing->font;
}

/* A glyph's index, or the font's count. */
static uint16_t find_glyph(GLANZ_CONST struct glanz_font *font, uint32_t code) {
    uint16_t low = 0;
    uint16_t high = font->count;
    while (low < high) {
        uint16_t middle = (uint16_t)((low + high) / 2u);
        if (font->codes[middle] < code) {
            low = (uint16_t)(middle + 1);
        } else {
            high = middle;
        }
    }
    return low < font->count && font->codes[low] == code ? low : font->count;
}

static uint8_t box_columns(GLANZ_CONST struct glanz_font *font) { /* the gap after it not counted */
    return (uint8_t)(font->rise < 5 ? 3 : font->rise * 5u / 8u);
}

struct setter {
    struct glanz_letter *letters;
    GLANZ_CONST struct glanz_font *font;
    uint32_t missing;
    uint32_t at;
    uint16_t count, capacity;
};

static void set_code(struct setter *setter, uint32_t code) {
    GLANZ_CONST struct glanz_font *font = setter->font;
    uint16_t glyph = find_glyph(font, code);
    uint8_t none = glyph == font->count;
    uint32_t width = none ? box_columns(font) + 1u : (uint32_t)(font->starts[glyph + 1] - font->starts[glyph]);
    setter->missing = none && setter->missing == 0 ? code : setter->missing;
    if (setter->count + 1u >= setter->capacity || setter->at + width > 32000u) {
        return;
    }
    setter->letters[setter->count].at = (uint16_t)setter->at;
    setter->letters[setter->count].start = none ? GLANZ_BOX : font->starts[glyph];
    setter->count++;
    setter->at += width;
}

uint16_t glanz_writing_capacity(GLANZ_CONST struct glanz_writing *writing) {
    uint32_t letters = 1;
    GLANZ_CONST char *at = writing == NULL || writing->text == NULL ? NULL : writing->text;
    while (at != NULL && *at != '\0' && letters < 8000u) {
        struct brace brace;
        GLANZ_CONST char *inner = at + 1;
        if (*at == '{' && at[1] != '{' && read_brace(&brace, &inner)) {
            letters += GLANZ_TOLD_MOST;
            at = inner;
            continue;
        }
        at += *at == '{' && at[1] == '{' ? 2 : 1;
        letters++;
    }
    return (uint16_t)letters;
}

uint16_t glanz_writing_set(struct glanz_letter *letters, uint16_t capacity, uint32_t *missing,
                           GLANZ_CONST struct glanz_writing *writing, const struct glanz_world *world) {
    if (letters == NULL || capacity == 0 || writing == NULL || writing->text == NULL) {
        return 0;
    }
    struct setter setter = {letters, font_of(writing), 0, 0, 0, capacity};
    GLANZ_CONST char *at = writing->text;
    while (*at != '\0') {
        struct brace brace;
        struct notifier notifier;
        uint8_t doubled = *at == '{' && at[1] == '{';
        GLANZ_CONST char *inner = at + 1;
        if (*at == '{' && !doubled && read_brace(&brace, &inner)) {
            at = inner;
            tell_brace(&notifier, &brace, world);
            for (uint8_t i = 0; i < notifier.count; i++) {
                set_code(&setter, (uint8_t)notifier.text[i]);
            }
            continue;
        }
        at += doubled;
        uint32_t code = next_code(&at);
        at += code == BAD; /* it was checked; else a box for what is no letter */
        set_code(&setter, code == BAD ? 0xFFFDu : code);
    }
    letters[setter.count].at = (uint16_t)setter.at;
    letters[setter.count].start = GLANZ_BOX;
    if (missing != NULL) {
        *missing = setter.missing;
    }
    return setter.count;
}

uint32_t glanz_writing_check(GLANZ_CONST char *text, const struct glanz_world *world) {
    GLANZ_CONST char *at = text;
    while (text != NULL && *at != '\0') {
        struct brace brace;
        GLANZ_CONST char *here = at;
        if (*at == '{' && at[1] != '{') {
            at++;
            if (!read_brace(&brace, &at) ||
                (told_of(&brace) == TOLD_VALUE && world != NULL && value_of(&brace, world) == 255)) {
                return (uint32_t)(here - text) + 1u;
            }
            continue;
        }
        at += *at == '{';
        if (next_code(&at) == BAD) {
            return (uint32_t)(here - text) + 1u;
        }
    }
    return text == NULL;
}

uint8_t glanz_writing_bit(const struct glanz_letter *letters, uint16_t count, uint16_t *near,
                          GLANZ_CONST struct glanz_font *font, int32_t column, int32_t row) {
    if (count == 0 || column < 0 || column >= (int32_t)letters[count].at || row < 0 || row >= (int32_t)font->rows) {
        return 0;
    }
    uint16_t at = *near < count ? *near : 0;
    while (column < (int32_t)letters[at].at) {
        at--;
    }
    while (column >= (int32_t)letters[at + 1].at) {
        at++;
    }
    *near = at;
    uint16_t into = (uint16_t)(column - letters[at].at);
    if (letters[at].start == GLANZ_BOX) { /* a frame as high as a capital */
        uint8_t last = (uint8_t)(box_columns(font) - 1u);
        return row < font->rise && into <= last && (into == 0 || into == last || row == 0 || row + 1 == font->rise);
    }
    uint8_t bytes = (uint8_t)((font->rows + 7u) / 8u);
    uint32_t start = ((uint32_t)letters[at].start + into) * bytes + ((uint32_t)row >> 3);
    return (uint8_t)((uint8_t)(font->bits[start] >> ((uint8_t)row & 7)) & 1);
}

#endif
