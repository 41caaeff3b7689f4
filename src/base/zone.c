/* SPDX-License-Identifier: MIT */
/* Time zones as POSIX.1 (2008), section 8.3, writes them, with the wider hours of RFC 8536. */
#include <glanz/calendar.h>

#if GLANZ_CALENDAR

struct reader {
    GLANZ_CONST char *text;
    uint8_t at;
    uint8_t bad;
};

static char look(const struct reader *reader) {
    return reader->at == 255 ? '\0' : reader->text[reader->at];
}

static int take(struct reader *reader, char wanted) {
    if (look(reader) != wanted || wanted == '\0') {
        return 0;
    }
    reader->at++;
    return 1;
}

static int is_digit(char c) {
    return c >= '0' && c <= '9';
}

static int32_t number(struct reader *reader, int32_t low, int32_t high) {
    int32_t read = 0;
    uint8_t begin = reader->at;
    while (is_digit(look(reader)) && read <= high) {
        read = read * 10 + (look(reader) - '0');
        reader->at++;
    }
    if (reader->at == begin || read < low || read > high) {
        reader->at = begin;
        reader->bad = 1;
    }
    return reader->bad ? low : read;
}

/* A name: three letters or more, or three signs or more in <>. */
static void skip_name(struct reader *reader) {
    uint8_t quoted = (uint8_t)take(reader, '<');
    uint8_t begin = reader->at;
    for (;;) {
        char c = look(reader);
        int letter = (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z');
        if (!letter && !(quoted && (is_digit(c) || c == '+' || c == '-'))) {
            break;
        }
        reader->at++;
    }
    if (reader->at - begin < 3 || (quoted && !take(reader, '>'))) {
        reader->bad = 1;
    }
}

/* [+-]hh[:mm[:ss]] in seconds. */
static int32_t time_of(struct reader *reader, int32_t hours_most) {
    uint8_t minus = (uint8_t)take(reader, '-');
    if (!minus) {
        (void)take(reader, '+');
    }
    int32_t second = number(reader, 0, hours_most) * 3600;
    if (!reader->bad && take(reader, ':')) {
        second += number(reader, 0, 59) * 60;
        if (!reader->bad && take(reader, ':')) {
            second += number(reader, 0, 59);
        }
    }
    return minus ? -second : second;
}

static void read_rule(struct reader *reader, struct glanz_zone_rule *rule) {
    rule->month = 1;
    rule->week = 1;
    rule->weekday = 0;
    rule->day = 0;
    if (take(reader, 'M')) {
        rule->kind = 'M';
        rule->month = (uint8_t)number(reader, 1, 12);
        reader->bad = (uint8_t)(reader->bad || (!take(reader, '.')));
        rule->week = reader->bad ? 1 : (uint8_t)number(reader, 1, 5);
        reader->bad = (uint8_t)(reader->bad || (!reader->bad && !take(reader, '.')));
        rule->weekday = reader->bad ? 0 : (uint8_t)number(reader, 0, 6);
    } else if (take(reader, 'J')) {
        rule->kind = 'J';
        rule->day = (uint16_t)number(reader, 1, 365);
    } else {
        rule->kind = 'D';
        rule->day = (uint16_t)number(reader, 0, 365);
    }
    rule->second = !reader->bad && take(reader, '/') ? time_of(reader, 167) : 7200;
}

glanz_status glanz_zone_read(struct glanz_zone *zone, GLANZ_CONST char *text, uint8_t *at) {
    struct reader reader = {text, 0, 0};
    static const struct glanz_zone utc = {0, 0, {'D', 1, 1, 0, 0, 0}, {'D', 1, 1, 0, 0, 0}, 0};
    if (zone == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    *zone = utc;
    if (text == NULL || text[0] == '\0') {
        return GLANZ_OK;
    }
    skip_name(&reader);
    zone->standard = reader.bad ? 0 : -time_of(&reader, 24);
    zone->daylight = zone->standard;
    if (!reader.bad && look(&reader) != '\0') {
        zone->has_daylight = 1;
        skip_name(&reader);
        zone->daylight = zone->standard + 3600;
        if (!reader.bad && look(&reader) != ',') {
            zone->daylight = -time_of(&reader, 24);
        }
        reader.bad = (uint8_t)(reader.bad || (!reader.bad && !take(&reader, ','))); /* the rules are required here */
        if (!reader.bad) {
            read_rule(&reader, &zone->begin);
        }
        reader.bad = (uint8_t)(reader.bad || (!reader.bad && !take(&reader, ',')));
        if (!reader.bad) {
            read_rule(&reader, &zone->end);
        }
    }
    if (reader.bad || look(&reader) != '\0') {
        *zone = utc;
        if (at != NULL) {
            *at = reader.at;
        }
        return GLANZ_ERR_TEXT;
    }
    return GLANZ_OK;
}

/* The local second at which a rule strikes in a year, since 1970, by the clock as it was before. */
static int64_t strikes(const struct glanz_zone_rule *rule, uint16_t year) {
    uint32_t first = glanz_day_of(year, 1, 1);
    uint32_t day = first + rule->day;
    if (rule->kind == 'J') {
        uint8_t leap = glanz_day_of(year, 3, 1) - first == 60;
        day = first + rule->day - 1u + (leap && rule->day >= 60 ? 1u : 0u);
    } else if (rule->kind == 'M') {
        day = glanz_day_of(year, rule->month, 1);
        uint32_t next =
            rule->month == 12 ? glanz_day_of((uint16_t)(year + 1u), 1, 1) : glanz_day_of(year, (uint8_t)(rule->month + 1u), 1);
        uint8_t weekday = (uint8_t)((glanz_date_of(day).weekday + 1u) % 7u); /* from Sunday */
        day += (rule->weekday + 7u - weekday) % 7u + (rule->week - 1u) * 7u;
        day -= day >= next ? 7u : 0;
    }
    return (int64_t)day * GLANZ_DAY + rule->second;
}

int32_t glanz_zone_offset(const struct glanz_zone *zone, uint32_t utc, uint32_t *until) {
    if (until != NULL) {
        *until = 0xFFFFFFFFu;
    }
    if (zone == NULL || !zone->has_daylight) {
        return zone == NULL ? 0 : zone->standard;
    }
    uint16_t year = glanz_date_of(utc / GLANZ_DAY).year;
    int64_t last = INT64_MIN;
    int64_t next = INT64_MAX;
    int32_t offset = zone->standard;
    for (int8_t around = -1; around <= 1; around++) { /* rules may strike across New Year */
        uint16_t of = (uint16_t)((int32_t)year + around);
        int64_t changes[2];
        changes[0] = strikes(&zone->begin, of) - zone->standard;
        changes[1] = strikes(&zone->end, of) - zone->daylight;
        for (uint8_t i = 0; i < 2; i++) {
            if (changes[i] <= (int64_t)utc && changes[i] >= last) {
                last = changes[i];
                offset = i == 0 ? zone->daylight : zone->standard;
            } else if (changes[i] > (int64_t)utc && changes[i] < next) {
                next = changes[i];
            }
        }
    }
    if (until != NULL && next <= 0xFFFFFFFFu) {
        *until = (uint32_t)next;
    }
    return offset;
}

uint32_t glanz_zone_utc(const struct glanz_zone *zone, uint32_t day, uint32_t second) {
    int64_t local = (int64_t)day * GLANZ_DAY + second;
    int32_t standard = zone == NULL ? 0 : zone->standard;
    int32_t daylight = zone == NULL ? 0 : zone->daylight;
    int64_t early = local - (daylight > standard ? daylight : standard);
    int64_t late = local - (daylight > standard ? standard : daylight);
    early = early < 0 ? 0 : early > 0xFFFFFFFF ? 0xFFFFFFFF : early;
    late = late < 0 ? 0 : late > 0xFFFFFFFF ? 0xFFFFFFFF : late;
    uint32_t until;
    if (early + glanz_zone_offset(zone, (uint32_t)early, &until) == local) {
        return (uint32_t)early;
    }
    if (late + glanz_zone_offset(zone, (uint32_t)late, NULL) == local) {
        return (uint32_t)late;
    }
    return until != 0xFFFFFFFFu && until <= (uint32_t)late ? until : (uint32_t)early; /* leapt over */
}

#endif
