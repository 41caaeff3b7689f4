/* SPDX-License-Identifier: MIT */
/** @file
 *  Calendar: time zones, the sun's rising and setting, and entries that say what is to be shown when. Times are UTC as seconds
 *  since 1 January 1970, until 2106. All functions are pure.
 */
#ifndef GLANZ_CALENDAR_H
#define GLANZ_CALENDAR_H

#include <glanz/base.h>

GLANZ_HEADER_BEGIN

#define GLANZ_DAY 86400u /**< seconds */

/* ---- time zones ---- */

/** When daylight saving begins or ends. */
struct glanz_zone_rule {
    uint8_t kind; /**< 'J' day 1 to 365 without 29 February, 'D' day 0 to 365, 'M' a weekday of a month's week */
    uint8_t month, week, weekday; /**< of 'M': week 5 is the last; weekday 0 is Sunday */
    uint16_t day;                 /**< 0 Sunday to 6, of POSIX TZ */
    int32_t second;               /**< of that day in local time, -167 to 167 hours */
};

/** A time zone, as the TZ variable of POSIX.1 tells it. */
struct glanz_zone {
    int32_t standard, daylight;        /**< seconds east of Greenwich */
    struct glanz_zone_rule begin, end; /**< when daylight saving ends */
    uint8_t has_daylight;              /**< 0: the same all year */
};

/** Read a zone: POSIX.1's TZ, such as "CET-1CEST,M3.5.0,M10.5.0/3", names in <> too, hours of a rule to 167 either way (RFC
 *  8536). NULL or "": UTC.
 *  @param at may be NULL; filled with the byte where it cannot be read on. @return GLANZ_ERR_TEXT. */
GLANZ_NODISCARD glanz_status glanz_zone_read(struct glanz_zone *zone, GLANZ_CONST char *text, uint8_t *at);

/** Seconds east of Greenwich at a time. @param until may be NULL; filled with when that changes next, UINT32_MAX for never. */
int32_t glanz_zone_offset(const struct glanz_zone *zone, uint32_t utc, uint32_t *until);

/** When is it so late there? A time that the clock leaps over: the moment it leaps. One that comes twice: the first.
 *  @param day of the local calendar, days since 1 January 1970. @param second of it, 0 and up; may run on into later days. */
uint32_t glanz_zone_utc(const struct glanz_zone *zone, uint32_t day, uint32_t second);

/* ---- the sun ---- */

/** How the sun stands to an angle on a day. */
enum glanz_sun { GLANZ_SUN_CROSSES, GLANZ_SUN_STAYS_UP, GLANZ_SUN_STAYS_DOWN };

/** When the upper edge of the sun rises or sets on a level horizon, with the usual 34' of refraction: the day's noon is the
 * mean noon of that longitude, and the setting that follows it may be after midnight. Within a minute between 65 degrees north
 * and south; nearer to the poles hills and weather count for more. Source: J. Meeus, Astronomical Algorithms, chapters 15
 * and 25.
 *  @param day of the calendar at that longitude. @param latitude,longitude in 1/10000 degree, north and east positive.
 *  @param sets 0 rising, 1 setting. @param utc filled in any case: where the sun stays up or down, with its highest or lowest
 *  moment of the day. */
enum glanz_sun glanz_sun_crosses(uint32_t *utc, uint32_t day, int32_t latitude, int32_t longitude, uint8_t sets);

GLANZ_HEADER_END
#endif
