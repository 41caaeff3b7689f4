/* SPDX-License-Identifier: MIT */
/* When an entry of the calendar begins and ends: pure, from the entry, the place and the time. */
#include <glanz/control.h>

#if GLANZ_CALENDAR

#define NEVER_ENDS 0xFFFFFFFFu
#define LONGEST (18u * 3600u) /* from a clock time to the sun's, or the other way round */

static int32_t by_day(const struct glanz_date *date, GLANZ_CONST struct glanz_day *day, uint8_t with_year) {
    return ((with_year ? (int32_t)date->year - day->year : 0) * 16 + date->month - day->month) * 32 + date->day - day->day;
}

static int has_day(GLANZ_CONST struct glanz_entry *entry, uint32_t day) {
    struct glanz_date date = glanz_date_of(day);
    if (entry->weekdays != 0 && ((unsigned)entry->weekdays >> date.weekday & 1u) == 0) {
        return 0;
    }
    if (entry->from.month == 0) {
        return 1;
    }
    uint8_t years = entry->from.year != 0;
    int after = by_day(&date, &entry->from, years) >= 0;
    int before = by_day(&date, &entry->to, years) <= 0;
    int around = !years && (entry->to.month * 32 + entry->to.day < entry->from.month * 32 + entry->from.day);
    return around ? after || before : after && before;
}

/* @return 0 where the sun does not rise or set. */
static int moment_on(uint32_t *utc, GLANZ_CONST struct glanz_moment *moment, const struct glanz_where *where, uint32_t day) {
    if (moment->kind == GLANZ_MOMENT_CLOCK) {
        *utc = glanz_zone_utc(&where->zone, day, (uint32_t)moment->second);
        return 1;
    }
    if (glanz_sun_crosses(utc, day, where->latitude, where->longitude, moment->kind == GLANZ_MOMENT_SUNSET) !=
        GLANZ_SUN_CROSSES) {
        return 0;
    }
    *utc += (uint32_t)moment->second;
    return 1;
}

/* What a day that an entry has has of it: from when to when. @return 0 nothing. */
static int window_on(uint32_t *start, uint32_t *end, GLANZ_CONST struct glanz_entry *entry, const struct glanz_where *where,
                     uint32_t day) {
    if (!moment_on(start, &entry->at, where, day)) {
        return 0;
    }
    *end = NEVER_ENDS;
    if (entry->until.kind != GLANZ_MOMENT_NONE) {
        int mixed = (entry->at.kind == GLANZ_MOMENT_CLOCK) != (entry->until.kind == GLANZ_MOMENT_CLOCK);
        int found = moment_on(end, &entry->until, where, day) && *end > *start;
        if (!found) {
            found = moment_on(end, &entry->until, where, day + 1u) && *end > *start;
        }
        if (!found || (mixed && *end - *start > LONGEST)) {
            return 0;
        }
    } else if (entry->for_s != 0) {
        *end = *start + entry->for_s;
    }
    return 1;
}

/* Cut a window to its part number `part`. */
static void cut(uint32_t *start, uint32_t *end, GLANZ_CONST struct glanz_entry *entry, uint32_t part) {
    if (entry->every_s != 0) {
        *start += part * entry->every_s;
        uint32_t own = entry->for_s == 0 ? *end : *start + entry->for_s;
        *end = own < *end ? own : *end;
    }
}

/* Days that an entry does not have cost little: a step of the search passes so many of them. */
#define STEP 8

static uint32_t day_of(const struct glanz_where *where, uint32_t utc) {
    return (uint32_t)(((int64_t)utc + glanz_zone_offset(&where->zone, utc, NULL)) / GLANZ_DAY);
}

int glanz_entry_last(GLANZ_CONST struct glanz_entry *entry, const struct glanz_where *where, uint32_t utc, int16_t *from_day,
                     uint8_t steps, uint32_t *start, uint32_t *end) {
    uint32_t today = day_of(where, utc);
    int16_t left = (int16_t)(steps * STEP);
    for (; left > 0; (*from_day)--) {
        int64_t day = (int64_t)today + *from_day;
        if (day < 1 || !has_day(entry, (uint32_t)day)) {
            left--;
            continue;
        }
        left = (int16_t)(left - STEP);
        if (window_on(start, end, entry, where, (uint32_t)day) && *start <= utc) {
            uint32_t last = *end - 1u < utc ? *end - 1u : utc;
            cut(start, end, entry, entry->every_s == 0 ? 0 : (last - *start) / entry->every_s);
            return 1;
        }
    }
    return 0;
}

int glanz_entry_next(GLANZ_CONST struct glanz_entry *entry, const struct glanz_where *where, uint32_t utc, int16_t *from_day,
                     uint8_t steps, uint32_t *start, uint32_t *end) {
    uint32_t today = day_of(where, utc);
    int16_t left = (int16_t)(steps * STEP);
    for (; left > 0; (*from_day)++) {
        int64_t day = (int64_t)today + *from_day;
        if (day < 1 || !has_day(entry, (uint32_t)day)) {
            left--;
            continue;
        }
        left = (int16_t)(left - STEP);
        if (!window_on(start, end, entry, where, (uint32_t)day)) {
            continue;
        }
        uint32_t part = entry->every_s == 0 || utc < *start ? 0 : (utc - *start) / entry->every_s + 1u;
        uint32_t begins = *start + part * entry->every_s;
        if (begins > utc && begins < *end) {
            cut(start, end, entry, part);
            return 1;
        }
    }
    return 0;
}

#endif
