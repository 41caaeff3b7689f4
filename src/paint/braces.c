/* SPDX-License-Identifier: MIT */
/* Braces in texts: what they say, and what they tell: the time, or a value. */
#include "braces.h"

#if GLANZ_FIELDS

/* ---- UTF-8 (RFC 3629) ---- */

uint32_t glanz_next_code(GLANZ_CONST char **text) {
    GLANZ_CONST uint8_t *at = (GLANZ_CONST uint8_t *)*text;
    uint32_t code = at[0];
    uint8_t more = code < 0x80 ? 0 : code >= 0xF0 ? 3 : code >= 0xE0 ? 2 : 1;
    static GLANZ_CONST uint32_t least[4] = {0x20, 0x80, 0x800, 0x10000};
    if ((code >= 0x80 && code < 0xC2) || code > 0xF4) {
        return GLANZ_NO_CODE;
    }
    code &= more == 0 ? 0x7Fu : 0x3Fu >> more;
    for (uint8_t i = 1; i <= more; i++) {
        if ((at[i] & 0xC0u) != 0x80u) {
            return GLANZ_NO_CODE;
        }
        code = code << 6 | (at[i] & 0x3Fu);
    }
    if (code < least[more] || (code >= 0xD800 && code < 0xE000) || code > 0x10FFFF || (code >= 0x7F && code < 0xA0)) {
        return GLANZ_NO_CODE;
    }
    *text += more + 1;
    return code;
}

/* ---- braces ---- */

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
int glanz_read_brace(struct brace *brace, GLANZ_CONST char **text) {
    GLANZ_CONST char *at = *text;
    brace->name = at;
    brace->ranged = 0;
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
            brace->ranged = 1;
            brace->low = low;
            brace->high = high;
            break;
        }
    }
    *text = end + 1;
    return brace->length != 0;
}

enum told {
    TOLD_TIME,
    TOLD_DATE,
    TOLD_HOUR,
    TOLD_MINUTE,
    TOLD_SECOND,
    TOLD_DAY,
    TOLD_MONTH,
    TOLD_YEAR,
    TOLD_TIME_OF_12,
    TOLD_HOUR_OF_12,
    TOLD_HALF,
    TOLD_WEEKDAY,
    TOLD_MONTH_NAME,
    TOLD_VALUE
};
static GLANZ_CONST char *GLANZ_CONST told_names[] = {
    GLANZ_TEXT("time"),     GLANZ_TEXT("date"),    GLANZ_TEXT("hour"),      GLANZ_TEXT("minute"),     GLANZ_TEXT("second"),
    GLANZ_TEXT("day"),      GLANZ_TEXT("month"),   GLANZ_TEXT("year"),      GLANZ_TEXT("time of 12"), GLANZ_TEXT("hour of 12"),
    GLANZ_TEXT("am or pm"), GLANZ_TEXT("weekday"), GLANZ_TEXT("month name")};
static GLANZ_CONST char english_weekdays[] = "Monday,Tuesday,Wednesday,Thursday,Friday,Saturday,Sunday";
static GLANZ_CONST char english_months[] =
    "January,February,March,April,May,June,July,August,September,October,November,December";

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

/* ---- what braces tell ---- */

static void notify(struct notifier *notifier, uint32_t letter) {
    if (notifier->count < GLANZ_TOLD_MOST) {
        notifier->text[notifier->count++] = (uint16_t)(letter > 0xFFFFu ? 0xFFFDu : letter);
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
        notify(notifier, (uint8_t)reversed[--count]);
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

/* The name with this index among names with commas between. */
static void tell_name(struct notifier *notifier, GLANZ_CONST char *names, uint32_t index) {
    while (index != 0 && *names != '\0') {
        index -= *names++ == ',' ? 1u : 0u;
    }
    while (*names == ' ') {
        names++;
    }
    while (*names != ',' && *names != '\0') {
        uint32_t code = glanz_next_code(&names);
        if (code == GLANZ_NO_CODE) {
            return;
        }
        notify(notifier, code);
    }
}

int glanz_names_check(GLANZ_CONST char *names, uint8_t count) {
    uint8_t letters = 0;
    if (names == NULL) {
        return 0;
    }
    for (;;) {
        while (letters == 0 && *names == ' ') {
            names++;
        }
        if (*names == ',' || *names == '\0') {
            if (letters == 0 || letters > GLANZ_WORD_MOST || count == 0) {
                return 0;
            }
            count--;
            letters = 0;
            if (*names++ == '\0') {
                return count == 0;
            }
        } else if (glanz_next_code(&names) == GLANZ_NO_CODE || ++letters > GLANZ_WORD_MOST) {
            return 0;
        }
    }
}

/* As the rig's unit has it: with so many decimals that the range has two digits or three. */
static void find_unit(struct brace *brace, GLANZ_CONST char **unit, const struct glanz_world *world, uint8_t index) {
    size_t at = (size_t)world->name_step * index;
    *unit = NULL;
    if (world->unit == NULL || world->reads == NULL) {
        return;
    }
    *unit = *(GLANZ_CONST char *GLANZ_CONST *)(GLANZ_CONST void *)((GLANZ_CONST uint8_t *)world->unit + at);
    if (*unit != NULL) {
        GLANZ_CONST int32_t *reads = (GLANZ_CONST int32_t *)(GLANZ_CONST void *)((GLANZ_CONST uint8_t *)world->reads + at);
        int32_t low = reads[0];
        int32_t high = reads[1];
        uint32_t most = low < 0 ? 0u - (uint32_t)low : (uint32_t)low;
        most =
            (high < 0 ? 0u - (uint32_t)high : (uint32_t)high) > most ? (high < 0 ? 0u - (uint32_t)high : (uint32_t)high) : most;
        uint8_t decimals = most < 1000u ? 2 : most < 20000u ? 1 : 0;
        int32_t by = decimals == 2 ? 10 : decimals == 1 ? 100 : 1000;
        brace->low.value = low / by;
        brace->high.value = high / by;
        brace->low.decimals = decimals;
    }
}

static void tell_value(struct notifier *notifier, struct brace *brace, const struct glanz_world *world) {
    uint8_t index = world == NULL ? 255 : value_of(brace, world);
    GLANZ_CONST char *unit = NULL;
    if (index == 255) {
        notify(notifier, '-');
        return;
    }
    if (!brace->ranged) {
        find_unit(brace, &unit, world, index);
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
    if (unit != NULL) {
        notify(notifier, ' ');
        tell_name(notifier, unit, 0);
    }
}

void glanz_tell_brace(struct notifier *notifier, struct brace *brace, const struct glanz_world *world) {
    uint32_t second = world == NULL ? 0 : world->second;
    struct glanz_date date = glanz_date_of(world == NULL ? 0 : world->day);
    uint32_t hour = second / 3600u;
    uint32_t of_12 = hour % 12u == 0 ? 12u : hour % 12u;
    uint8_t known = world != NULL && world->known;
    notifier->count = 0;
    switch (told_of(brace)) {
    case TOLD_TIME_OF_12:
        tell_part(notifier, world, of_12, 1);
        notify(notifier, ':');
        tell_part(notifier, world, second / 60u % 60u, 2);
        break;
    case TOLD_HOUR_OF_12: tell_part(notifier, world, of_12, 1); break;
    case TOLD_HALF:
        notify(notifier, known ? (hour < 12u ? 'a' : 'p') : '-');
        notify(notifier, known ? 'm' : '-');
        break;
    case TOLD_WEEKDAY: /* 1 January 1970 was a Thursday */
        tell_name(notifier,
                  !known                    ? GLANZ_TEXT("-")
                  : world->weekdays == NULL ? english_weekdays
                                            : world->weekdays,
                  known ? (world->day + 3u) % 7u : 0u);
        break;
    case TOLD_MONTH_NAME:
        tell_name(notifier,
                  !known                  ? GLANZ_TEXT("-")
                  : world->months == NULL ? english_months
                                          : world->months,
                  known ? date.month - 1u : 0u);
        break;
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

int glanz_is_unknown(const struct brace *brace, const struct glanz_world *world) {
    return told_of(brace) == TOLD_VALUE && world != NULL && value_of(brace, world) == 255;
}

#endif
