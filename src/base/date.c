/* SPDX-License-Identifier: MIT */
/* The Gregorian calendar: years from March, in 400-year rounds of 146,097 days. */
#include <glanz/base.h>

#define MARCH_OF_0 719468u /* days from 1 March of year 0 to 1 January 1970 */

struct glanz_date glanz_date_of(uint32_t day) {
    struct glanz_date date;
    date.weekday = (uint8_t)((day + 3u) % 7u); /* 1 January 1970 was a Thursday */
    day += MARCH_OF_0;
    uint32_t of_round = day % 146097u;
    uint32_t year = (of_round - of_round / 1460u + of_round / 36524u - of_round / 146096u) / 365u;
    uint32_t of_year = of_round - (365u * year + year / 4u - year / 100u);
    uint32_t month = (5u * of_year + 2u) / 153u;
    date.day = (uint8_t)(of_year - (153u * month + 2u) / 5u + 1u);
    date.month = (uint8_t)(month < 10u ? month + 3u : month - 9u);
    date.year = (uint16_t)(year + day / 146097u * 400u + (date.month <= 2u));
    return date;
}

uint32_t glanz_day_of(uint16_t year, uint8_t month, uint8_t day) {
    uint32_t march = month > 2 ? month - 3u : month + 9u;
    uint32_t years = month > 2 ? year : year - 1u;
    return years * 365u + years / 4u - years / 100u + years / 400u + (153u * march + 2u) / 5u + day - 1u - MARCH_OF_0;
}
