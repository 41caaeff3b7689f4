/* SPDX-License-Identifier: MIT */
/* glanz calendar: days of a show's calendar in seconds: what happened when, a week as a table, a year as a picture. What it
 * tells is what a controller of the library did that was led through these days. */
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include "calendar.h"

/* ---- leading a controller through the days ---- */

static int note(struct course *course, const struct glanz_control *control, uint32_t utc) {
    struct change now;
    memset(&now, 0, sizeof now);
    now.utc = utc;
    for (uint8_t i = 0; i < course->show->segment_count; i++) {
        now.entry[i] = glanz_control_entry(control, i);
    }
    if (course->count != 0 && memcmp(course->changes[course->count - 1].entry, now.entry, sizeof now.entry) == 0) {
        return 1;
    }
    if (course->count == course->capacity) {
        course->capacity = course->capacity * 2 + 256;
        struct change *more = (struct change *)realloc(course->changes, course->capacity * sizeof *more);
        if (more == NULL) {
            return 0;
        }
        course->changes = more;
    }
    course->changes[course->count++] = now;
    return 1;
}

static glanz_status lead(struct course *course, struct glanz_control *control) {
    glanz_us clock = 0;
    glanz_status status = glanz_control_clock(control, course->begin, clock);
    for (uint32_t utc = course->begin; utc < course->end && status == GLANZ_OK;) {
        do { /* nothing may be left to be looked for before the next leap */
            status = glanz_control_run(control, clock, (uint32_t)clock);
        } while (status == GLANZ_OK && glanz_control_looking(control));
        status = status == GLANZ_OK ? glanz_control_run(control, clock, (uint32_t)clock) : status;
        if (status == GLANZ_OK && !note(course, control, utc)) {
            return GLANZ_ERR_MEMORY;
        }
        uint32_t next = glanz_control_entry_due(control);
        next = next < course->end ? next : course->end;
        progress("the calendar", next - course->begin, course->end - course->begin);
        utc = next > utc ? next : utc + 1;
        clock = (glanz_us)(utc - course->begin) * 1000000u;
    }
    return status;
}

static glanz_status run_course(struct course *course) {
    struct glanz_engine *engine = NULL;
    struct glanz_control *control = NULL;
    size_t engine_size = glanz_engine_size(&glanz_everything, course->rig, GLANZ_SEGMENTS_MOST, 0) +
                         glanz_show_memory(course->show, course->rig);
    size_t control_size = glanz_control_size(&glanz_everything, course->rig, GLANZ_SEGMENTS_MOST);
    void *engine_memory = calloc(1, engine_size);
    void *control_memory = calloc(1, control_size);
    glanz_status status = engine_memory == NULL || control_memory == NULL ? GLANZ_ERR_MEMORY : GLANZ_OK;
    if (status == GLANZ_OK) {
        status = glanz_engine_start(&engine, engine_memory, engine_size, &glanz_everything, course->rig, GLANZ_SEGMENTS_MOST, 0,
                                    NULL);
    }
    if (status == GLANZ_OK) {
        status = glanz_control_start(&control, control_memory, control_size, engine, course->rig, GLANZ_SEGMENTS_MOST, NULL);
    }
    status = status != GLANZ_OK ? status : glanz_control_begin(control, course->show, 0, 0, NULL);
    status = status != GLANZ_OK ? status : lead(course, control);
    free(engine_memory);
    free(control_memory);
    return status;
}

/* ---- what came of it ---- */

const char *calendar_entry_name(const struct course *course, uint8_t entry) {
    return entry == GLANZ_ALL ? "-" : course->show->entries[entry].name;
}

/* What shows on a segment at a time. */
static uint8_t shown_at(const struct course *course, uint8_t segment, uint32_t utc) {
    size_t low = 0;
    size_t high = course->count;
    while (high - low > 1) {
        size_t middle = (low + high) / 2;
        *(course->changes[middle].utc <= utc ? &low : &high) = middle;
    }
    return course->count == 0 ? GLANZ_ALL : course->changes[low].entry[segment];
}

static int alike(const struct course *course, uint8_t one, uint8_t other) {
    for (size_t i = 0; i < course->count; i++) {
        if (course->changes[i].entry[one] != course->changes[i].entry[other]) {
            return 0;
        }
    }
    return 1;
}

static uint8_t rows_of(struct row *rows, const struct course *course) {
    uint8_t count = 0;
    for (uint8_t s = 0; s < course->show->segment_count; s++) {
        if (course->segment != NULL && strcmp(course->segment, course->show->segments[s].name) != 0) {
            continue;
        }
        uint8_t r = 0;
        while (r < count && !alike(course, rows[r].segments[0], s)) {
            r++;
        }
        if (r == count) {
            rows[count++].count = 0;
        }
        rows[r].segments[rows[r].count++] = s;
    }
    return count;
}

void calendar_row_name(char *name, size_t capacity, const struct course *course, const struct row *row) {
    size_t at = 0;
    name[0] = '\0';
    for (uint8_t i = 0; i < row->count && at + 1 < capacity; i++) {
        int wrote =
            snprintf(name + at, capacity - at, "%s%s", i == 0 ? "" : ", ", course->show->segments[row->segments[i]].name);
        at += wrote < 0 ? 0 : (size_t)wrote;
    }
}

static const char *const weekdays[] = {"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"};

uint32_t calendar_local(const struct course *course, uint32_t utc) {
    return (uint32_t)((int64_t)utc + glanz_zone_offset(&course->zone, utc, NULL));
}

static void print_date(uint32_t day) {
    struct glanz_date date = glanz_date_of(day);
    printf("%04u-%02u-%02u %s", date.year, date.month, date.day, weekdays[date.weekday]);
}

static void print_list(const struct course *course, int offsets) {
    uint32_t last_day = 0;
    for (size_t i = 0; i < course->count; i++) {
        const struct change *change = &course->changes[i];
        uint32_t local = calendar_local(course, change->utc);
        uint8_t told[GLANZ_SEGMENTS_MOST] = {0};
        for (uint8_t s = 0; s < course->show->segment_count; s++) {
            uint8_t entry = change->entry[s];
            int same = i == 0 ? entry == GLANZ_ALL : entry == change[-1].entry[s];
            if (same || told[s] || (course->segment != NULL && strcmp(course->segment, course->show->segments[s].name) != 0)) {
                continue;
            }
            if (local / GLANZ_DAY == last_day) {
                printf("%14s", "");
            } else {
                print_date(local / GLANZ_DAY);
            }
            last_day = local / GLANZ_DAY;
            printf("  %02u:%02u:%02u", local / 3600 % 24, local / 60 % 60, local % 60);
            if (offsets) {
                int32_t east = glanz_zone_offset(&course->zone, change->utc, NULL);
                printf("%c%02d:%02d", east < 0 ? '-' : '+', abs(east) / 3600, abs(east) / 60 % 60);
            }
            printf("  %-20s  ", calendar_entry_name(course, entry));
            const char *comma = "";
            for (uint8_t k = s; k < course->show->segment_count; k++) {
                int changed = i == 0 ? change->entry[k] != GLANZ_ALL : change->entry[k] != change[-1].entry[k];
                if (changed && change->entry[k] == entry &&
                    (course->segment == NULL || strcmp(course->segment, course->show->segments[k].name) == 0)) {
                    printf("%s%s", comma, course->show->segments[k].name);
                    comma = ", ";
                    told[k] = 1;
                }
            }
            putchar('\n');
        }
    }
}

/* ---- a week as a table ---- */

#define CELL 17

/* Characters of a text in UTF-8. */
static int characters(const char *text) {
    int count = 0;
    for (; *text != '\0'; text++) {
        count += ((unsigned char)*text & 0xC0) != 0x80;
    }
    return count;
}

/* Print a text cut or filled to so many places. */
static void cell(const char *text, int places) {
    int all = characters(text);
    int shown = all > places ? places - 1 : all;
    for (int done = 0; *text != '\0'; text++) {
        done += ((unsigned char)*text & 0xC0) != 0x80;
        if (done > shown) {
            break;
        }
        putchar(*text);
    }
    if (all > places) {
        fputs("\xe2\x80\xa6", stdout);
    }
    printf("%*s", all > places ? 0 : places - all, "");
}

/* The first change of a row between two times. @return 0 none. */
static int change_between(uint32_t *utc, uint8_t *entry, const struct course *course, uint8_t segment, uint32_t from,
                          uint32_t to) {
    for (size_t i = 0; i < course->count; i++) {
        const struct change *change = &course->changes[i];
        if (i > 0 && change->utc >= from && change->utc < to && change->entry[segment] != change[-1].entry[segment]) {
            *utc = change->utc;
            *entry = change->entry[segment];
            return 1;
        }
    }
    return 0;
}

static void print_rule(uint32_t days) {
    fputs("-------", stdout);
    for (uint32_t d = 0; d < days; d++) {
        fputs("+------------------", stdout);
    }
    putchar('\n');
}

static void print_week(const struct course *course, const struct row *row) {
    char name[400];
    uint8_t segment = row->segments[0];
    calendar_row_name(name, sizeof name, course, row);
    printf("%s\n\n       ", name);
    for (uint32_t d = 0; d < course->days; d++) {
        struct glanz_date date = glanz_date_of(course->first_day + d);
        printf("| %s %02u-%02u        ", weekdays[date.weekday], date.month, date.day);
    }
    putchar('\n');
    print_rule(course->days);
    fputs("begins ", stdout);
    for (uint32_t d = 0; d < course->days; d++) {
        fputs("|", stdout);
        cell(calendar_entry_name(course, shown_at(course, segment, glanz_zone_utc(&course->zone, course->first_day + d, 0))),
             CELL + 1);
    }
    putchar('\n');
    for (uint32_t hour = 0; hour < 24; hour++) {
        uint32_t at[7];
        uint32_t utc[7];
        uint8_t entry[7];
        int left = 0;
        for (uint32_t d = 0; d < course->days; d++) {
            at[d] = glanz_zone_utc(&course->zone, course->first_day + d, hour * 3600);
            left |= change_between(&utc[d], &entry[d], course, segment, at[d],
                                   glanz_zone_utc(&course->zone, course->first_day + d, hour * 3600 + 3600));
        }
        for (int first = 1; left; first = 0) { /* a line for each change within the hour */
            if (first) {
                printf("%02u     ", hour);
            } else {
                fputs("       ", stdout);
            }
            left = 0;
            for (uint32_t d = 0; d < course->days; d++) {
                char text[64] = "";
                uint32_t to = glanz_zone_utc(&course->zone, course->first_day + d, hour * 3600 + 3600);
                if (change_between(&utc[d], &entry[d], course, segment, at[d], to)) {
                    snprintf(text, sizeof text, ":%02u %s", calendar_local(course, utc[d]) / 60 % 60,
                             calendar_entry_name(course, entry[d]));
                    at[d] = utc[d] + 1;
                    left |= change_between(&utc[d], &entry[d], course, segment, at[d], to);
                }
                fputs("|", stdout);
                cell(text, CELL + 1);
            }
            putchar('\n');
        }
    }
    print_rule(course->days);
    putchar('\n');
}

/* ---- the sun and the clock, day by day ---- */

static void print_sun_time(const struct course *course, uint32_t day, uint8_t sets) {
    uint32_t utc;
    switch (glanz_sun_crosses(&utc, day, course->rig->latitude, course->rig->longitude, sets)) {
    case GLANZ_SUN_STAYS_UP: fputs("  stays up", stdout); break;
    case GLANZ_SUN_STAYS_DOWN: fputs("  stays down", stdout); break;
    case GLANZ_SUN_CROSSES:
    default: {
        uint32_t local = calendar_local(course, utc);
        printf("  %02u:%02u:%02u", local / 3600 % 24, local / 60 % 60, local % 60);
        break;
    }
    }
}

static void print_sun(const struct course *course) {
    int32_t before = glanz_zone_offset(&course->zone, course->begin, NULL);
    fputs("day             sunrise   sunset\n", stdout);
    for (uint32_t day = course->first_day; day < course->first_day + course->days; day++) {
        int32_t east = glanz_zone_offset(&course->zone, glanz_zone_utc(&course->zone, day, 86399), NULL);
        print_date(day);
        print_sun_time(course, day, 0);
        print_sun_time(course, day, 1);
        if (east != before) {
            printf("  the clock is set from %+d to %+d min", (int)(before / 60), (int)(east / 60));
        }
        before = east;
        putchar('\n');
    }
}

/* ---- the command ---- */

static int day_parse(uint32_t *day, const char *text) {
    unsigned year;
    unsigned month;
    unsigned of_month;
    int length = 0;
    if (text == NULL) { /* today; the calendar's picture begins with the year */
        *day = (uint32_t)(time(NULL) / GLANZ_DAY);
        return 1;
    }
    if (sscanf(text, "%4u-%2u-%2u%n", &year, &month, &of_month, &length) != 3 || text[length] != '\0' || year < 1971 ||
        year > 2100 || month < 1 || month > 12 || of_month < 1) {
        return 0;
    }
    *day = glanz_day_of((uint16_t)year, (uint8_t)month, (uint8_t)of_month);
    struct glanz_date date = glanz_date_of(*day);
    return date.month == month && date.day == of_month;
}

static int has_segment(const struct course *course) {
    for (uint8_t i = 0; i < course->show->segment_count; i++) {
        if (course->segment == NULL || strcmp(course->segment, course->show->segments[i].name) == 0) {
            return 1;
        }
    }
    return 0;
}

struct wish {
    char *from, *picture, *segment;
    int days, week, sun, offsets;
    int json;
};

static int notify(struct course *course, const struct wish *wish) {
    struct row rows[GLANZ_SEGMENTS_MOST];
    if (wish->sun) {
        print_sun(course);
        return EXIT_GOOD;
    }
    glanz_status status = run_course(course);
    if (status != GLANZ_OK) {
        complain_plain("calendar: %s", status_words(status));
        return EXIT_FOUND;
    }
    uint8_t count = rows_of(rows, course);
    if (wish->picture != NULL) {
        return calendar_draw_year(course, rows, count, wish->picture);
    }
    for (uint8_t r = 0; r < count && wish->week; r++) {
        print_week(course, &rows[r]);
    }
    if (!wish->week) {
        (wish->json ? calendar_print_facts : print_list)(course, wish->offsets);
    }
    if (!wish->json) {
        puts("-: nothing of the calendar; what was there before");
    }
    return EXIT_GOOD;
}

#define NOT_SAID (-1)

static int check_wish(struct course *course, const struct wish *wish) {
    course->days = wish->week ? 7 : wish->days != NOT_SAID ? (uint32_t)wish->days : wish->picture != NULL ? 365 : 1;
    course->segment = wish->segment;
    if (!day_parse(&course->first_day, wish->from)) {
        complain_plain("calendar: --from %s: expected a day such as 2026-07-18, 1971 to 2100", wish->from);
    } else if (wish->days != NOT_SAID && (wish->days < 1 || wish->days > 10000 || wish->week)) {
        complain_plain(wish->week ? "calendar: --week has seven days; expected no --days"
                                  : "calendar: --days: expected 1 to 10000");
    } else if (wish->picture != NULL && (course->days < 28 || course->days > 731)) {
        complain_plain("calendar: --picture: expected 28 to 731 days");
    } else if ((wish->picture != NULL) + wish->week + wish->sun > 1) {
        complain_plain("calendar: expected one of --picture, --week, --sun");
    } else if (wish->sun && wish->segment != NULL) {
        complain_plain("calendar: the sun is the same for all segments; expected no --segment with --sun");
    } else if (wish->json && (wish->sun || wish->week || wish->picture != NULL)) {
        complain_plain("calendar: --json goes with the list only");
    } else if (wish->offsets && (wish->sun || wish->week || wish->picture != NULL)) {
        complain_plain("calendar: --offsets goes with the list only");
    } else {
        return EXIT_GOOD;
    }
    return EXIT_USAGE;
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    struct document rig;
    struct document show;
    struct course course;
    struct text text;
    struct wish wish = {NULL, NULL, NULL, NOT_SAID, 0, 0, 0, 0};
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    int code;
    memset(&rig, 0, sizeof rig);
    memset(&show, 0, sizeof show);
    memset(&course, 0, sizeof course);
    const struct poptOption options[] = {
        {"from", 'f', POPT_ARG_STRING, &wish.from, 0, "the first day (today)", "2026-07-18"},
        {"days", 'd', POPT_ARG_INT, &wish.days, 0, "how many (1; a picture: 365)", "NUMBER"},
        {"week", 'w', POPT_ARG_NONE, &wish.week, 0, "seven days as tables", NULL},
        {"picture", 'p', POPT_ARG_STRING, &wish.picture, 0, "draw it: days across, hours down", "FILE.png"},
        {"segment", 's', POPT_ARG_STRING, &wish.segment, 0, "this one only; else all", "NAME"},
        {"sun", 'u', POPT_ARG_NONE, &wish.sun, 0, "only when the sun rises and sets, and the clock is set", NULL},
        {"json", 'j', POPT_ARG_NONE, &wish.json, 0, "the list as JSON, for scripts", NULL},
        {"offsets", 'z', POPT_ARG_NONE, &wish.offsets, 0, "tell how far each time is east of Greenwich", NULL},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_calendar, argc, argv, options, 2, 2, &code)) {
        return code;
    }
    code = check_wish(&course, &wish);
    if (code == EXIT_GOOD && !text_read(&text, arguments.path[0])) {
        code = EXIT_FILE;
    } else if (code == EXIT_GOOD && document_rig(&rig, text, &fault) != GLANZ_OK) {
        complain(arguments.path[0], &fault);
        code = EXIT_REFUSED;
    }
    if (code == EXIT_GOOD && !text_read(&text, arguments.path[1])) {
        code = EXIT_FILE;
    } else if (code == EXIT_GOOD && document_show(&show, text, rig.rig, NULL, &fault) != GLANZ_OK) {
        complain(arguments.path[1], &fault);
        code = EXIT_REFUSED;
    }
    course.rig = rig.rig;
    course.show = show.show;
    if (code == EXIT_GOOD && (course.show->entry_count == 0 || !has_segment(&course))) {
        if (course.show->entry_count == 0) {
            complain_plain("%s has no calendar", arguments.path[1]);
        } else {
            complain_plain("no such segment in %s: \"%s\"", arguments.path[1], wish.segment);
        }
        code = EXIT_REFUSED;
    }
    if (code == EXIT_GOOD) {
        (void)(glanz_zone_read(&course.zone, course.rig->zone, NULL) == GLANZ_OK); /* the rig's check has read it */
        course.begin = glanz_zone_utc(&course.zone, course.first_day, 0);
        course.end = glanz_zone_utc(&course.zone, course.first_day + course.days, 0);
        code = notify(&course, &wish);
    }
    free(course.changes);
    document_free(&show);
    document_free(&rig);
    free(wish.from);
    free(wish.picture);
    free(wish.segment);
    arguments_free(&arguments);
    return code;
}

const struct command command_calendar = {
    "calendar", "days of a show's calendar in seconds, a week as a table, a year as a picture", "RIG SHOW",
    "  glanz calendar demo/rig.json demo/show.json --from 2026-07-17 --days 3\n"
    "  glanz calendar demo/rig.json demo/show.json --from 2026-07-13 --week --segment rail\n"
    "  glanz calendar demo/rig.json demo/show.json --from 2026-01-01 --picture out/year.png\n", run, 0};
