/* SPDX-License-Identifier: MIT */
/* The calendar's changes for scripts. */
#include <string.h>

#include "calendar.h"
#include "facts.h"

void calendar_print_facts(const struct course *course, int offsets) {
    struct facts facts;
    (void)offsets; /* they are always told */
    facts_open(&facts, stdout);
    facts_list(&facts, "changes");
    for (size_t i = 0; i < course->count; i++) {
        const struct change *change = &course->changes[i];
        uint32_t local = calendar_local(course, change->utc);
        int32_t east = glanz_zone_offset(&course->zone, change->utc, NULL);
        struct glanz_date date = glanz_date_of(local / GLANZ_DAY);
        for (uint8_t s = 0; s < course->show->segment_count; s++) {
            char time[48];
            uint8_t before = i == 0 ? GLANZ_ALL : change[-1].entry[s];
            if (change->entry[s] == before ||
                (course->segment != NULL && strcmp(course->segment, course->show->segments[s].name) != 0)) {
                continue;
            }
            snprintf(time, sizeof time, "%04u-%02u-%02uT%02u:%02u:%02u%c%02d:%02d", date.year, date.month, date.day,
                     local / 3600 % 24, local / 60 % 60, local % 60, east < 0 ? '-' : '+', (east < 0 ? -east : east) / 3600,
                     (east < 0 ? -east : east) / 60 % 60);
            facts_object(&facts, NULL);
            facts_text(&facts, "time", time);
            facts_number(&facts, "utc", change->utc, 0);
            facts_text(&facts, "segment", course->show->segments[s].name);
            facts_text(&facts, "entry", change->entry[s] == GLANZ_ALL ? NULL : calendar_entry_name(course, change->entry[s]));
            facts_end(&facts);
        }
    }
    facts_end(&facts);
    facts_end(&facts);
}
