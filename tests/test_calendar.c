/* SPDX-License-Identifier: MIT */
/* The calendar: what shows at each minute against what a plain reading of the entries says, in time zones of the system's own
 * database; clocks that are set, days without a sunset, hours that are left out or come twice. */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include "files.h"
#include "stage.h"
#include "suites.h"

/* ---- time zones: the system's database ---- */

static const char *const zones[] = {"Europe/Berlin",    "Europe/London",    "Europe/Lisbon",       "America/New_York",
                                    "America/St_Johns", "America/Santiago", "Australia/Adelaide",  "Australia/Lord_Howe",
                                    "Pacific/Auckland", "Asia/Kolkata",     "Africa/Johannesburg", "America/Anchorage",
                                    "Atlantic/Azores",  "Europe/Athens",    "America/Phoenix",     "Asia/Tokyo"};

/* The POSIX text at the end of a zone's file. */
static void zone_text(char *text, size_t capacity, const char *zone) {
    char path[200];
    char all[8192];
    snprintf(path, sizeof path, "/usr/share/zoneinfo/%s", zone);
    FILE *file = fopen(path, "rb");
    ck_assert_msg(file != NULL, "%s is missing", path);
    size_t count = fread(all, 1, sizeof all, file);
    fclose(file);
    ck_assert(count > 2 && all[count - 1] == '\n');
    size_t at = count - 1;
    while (all[at - 1] != '\n') {
        at--;
    }
    snprintf(text, capacity, "%.*s", (int)(count - 1 - at), all + at);
}

static int32_t system_offset(time_t utc) {
    struct tm local;
    ck_assert_ptr_nonnull(localtime_r(&utc, &local));
    return (int32_t)local.tm_gmtoff;
}

static void use_zone(const char *name) {
    setenv("TZ", name, 1);
    tzset();
}

/* Every change between 2024 and 2040, to the second, and where the library says the next is. */
START_TEST(zones_of_the_system) {
    char text[100];
    char name[100];
    struct glanz_zone zone;
    unsigned changes = 0;
    zone_text(text, sizeof text, zones[_i]);
    ck_assert_int_eq(glanz_zone_read(&zone, text, NULL), GLANZ_OK);
    snprintf(name, sizeof name, ":%s", zones[_i]);
    use_zone(name);
    uint32_t end = glanz_day_of(2041, 1, 1) * GLANZ_DAY;
    uint32_t utc = glanz_day_of(2024, 1, 1) * GLANZ_DAY;
    while (utc < end) {
        uint32_t until;
        int32_t offset = glanz_zone_offset(&zone, utc, &until);
        REQUIRE_MSG(offset == system_offset((time_t)utc), "%s at %u: %d, the system says %d", text, utc, offset,
                    system_offset((time_t)utc));
        uint32_t step = utc + 6 * 3600; /* no two changes are nearer to each other */
        if (system_offset((time_t)step) == offset) {
            REQUIRE_MSG(until > step, "%s at %u: a change is said to come at %u", text, utc, until);
            utc = step;
            continue;
        }
        uint32_t low = utc;
        uint32_t high = step;
        while (high - low > 1) {
            uint32_t middle = low + (high - low) / 2;
            *(system_offset((time_t)middle) == offset ? &low : &high) = middle;
        }
        REQUIRE_MSG(until == high, "%s: it changes at %u, not at %u", text, high, until);
        utc = high;
        changes++;
    }
    ck_assert(changes == 0 || changes == 34);
    use_zone("UTC");
}
END_TEST

START_TEST(local_times_to_utc_and_back) {
    struct glanz_zone zone;
    ck_assert_int_eq(glanz_zone_read(&zone, "CET-1CEST,M3.5.0,M10.5.0/3", NULL), GLANZ_OK);
    uint32_t spring = glanz_day_of(2026, 3, 29);
    uint32_t autumn = glanz_day_of(2026, 10, 25);
    uint32_t leap = spring * GLANZ_DAY + 3600; /* 01:00 UTC, when 02:00 becomes 03:00 */
    for (uint32_t second = 2 * 3600; second < 3 * 3600; second += 60) {
        ck_assert_uint_eq(glanz_zone_utc(&zone, spring, second), leap); /* they are left out: the moment the clock leaps */
    }
    ck_assert_uint_eq(glanz_zone_utc(&zone, spring, 3 * 3600), leap);
    ck_assert_uint_eq(glanz_zone_utc(&zone, spring, 2 * 3600 - 1), leap - 1);
    ck_assert_uint_eq(glanz_zone_utc(&zone, autumn, 2 * 3600 + 1800), autumn * GLANZ_DAY + 1800); /* comes twice: the first */
    for (uint32_t day = spring - 3; day < autumn + 3; day++) {
        for (uint32_t second = 0; second < GLANZ_DAY; second += 1800) {
            uint32_t utc = glanz_zone_utc(&zone, day, second);
            int64_t local = (int64_t)utc + glanz_zone_offset(&zone, utc, NULL);
            int left_out = day == spring && second >= 7200 && second < 10800;
            REQUIRE(left_out || local == (int64_t)day * GLANZ_DAY + second);
        }
    }
}
END_TEST

START_TEST(wrong_zones_are_refused) {
    static const char *const wrong[] = {"CE-1",
                                        "CET",
                                        "CET-25",
                                        "CET-1CEST,M13.1.0,M10.5.0",
                                        "CET-1CEST,M3.6.0,M10.5.0",
                                        "CET-1CEST,M3.5.7,M10.5.0",
                                        "CET-1CEST,M3.5.0",
                                        "CET-1CEST,J0,J100",
                                        "CET-1CEST,366,2",
                                        "<+03-3",
                                        "CET-1CEST,M3.5.0,M10.5.0/168",
                                        "CET-1CEST,M3.5.0,M10.5.0x",
                                        "CET-1CEST,M3.5.0/,M10.5.0",
                                        "CET-1:60"};
    struct glanz_zone zone;
    for (size_t i = 0; i < sizeof wrong / sizeof wrong[0]; i++) {
        uint8_t at = 255;
        ck_assert_msg(glanz_zone_read(&zone, wrong[i], &at) == GLANZ_ERR_TEXT, "%s is read", wrong[i]);
        ck_assert_uint_le(at, strlen(wrong[i]));
    }
}
END_TEST

/* ---- the sun ---- */

START_TEST(days_without_sunrise) {
    unsigned up = 0;
    unsigned down = 0;
    unsigned crosses = 0;
    for (uint32_t day = glanz_day_of(2026, 1, 1); day < glanz_day_of(2027, 1, 1); day++) {
        uint32_t rises;
        uint32_t sets;
        enum glanz_sun rising = glanz_sun_crosses(&rises, day, 782000, 156000, 0);
        enum glanz_sun setting = glanz_sun_crosses(&sets, day, 782000, 156000, 1);
        up += rising == GLANZ_SUN_STAYS_UP;
        down += rising == GLANZ_SUN_STAYS_DOWN;
        if (rising == GLANZ_SUN_CROSSES && setting == GLANZ_SUN_CROSSES) {
            crosses++;
            ck_assert_uint_lt(rises, sets);
            ck_assert_uint_lt(sets - rises, GLANZ_DAY);
        }
    }
    ck_assert(up > 115 && up < 135);     /* some four months each, by geometry: 23.4 degrees less 90 - 78.2 */
    ck_assert(down > 100 && down < 120); /* the light's bending makes the day longer */
    ck_assert_uint_gt(crosses, 110);
}
END_TEST

/* ---- a controller by itself, led through time ---- */

struct lead {
    struct document rig, show;
    struct glanz_engine *engine;
    struct glanz_control *control;
    void *engine_memory, *control_memory;
    size_t engine_size, control_size;
    glanz_us clock;
    uint32_t utc;
    unsigned begun[GLANZ_ENTRIES_MOST];
    unsigned stopped; /* playlists */
};
static struct lead lead;

static void began(const struct glanz_happening *happening, void *user) {
    (void)user;
    if (happening->description == GLANZ_HAPPENED_ENTRY) {
        lead.begun[happening->index]++;
    }
    lead.stopped += happening->description == GLANZ_HAPPENED_STOP;
}

/* The power comes on; it is not known yet how late it is. */
static void power_on(void) {
    memset(lead.engine_memory, 0x5A, lead.engine_size);
    memset(lead.control_memory, 0x5A, lead.control_size);
    lead.clock = 0;
    ck_assert_int_eq(
        glanz_engine_start(&lead.engine, lead.engine_memory, lead.engine_size, &glanz_everything, lead.rig.rig, 16, 0, NULL),
        GLANZ_OK);
    ck_assert_int_eq(
        glanz_control_start(&lead.control, lead.control_memory, lead.control_size, lead.engine, lead.rig.rig, 16, NULL),
        GLANZ_OK);
    glanz_control_listen(lead.control, began, NULL);
    ck_assert_int_eq(glanz_control_begin(lead.control, lead.show.show, 0, 0, NULL), GLANZ_OK);
}

static void lead_texts(struct text rig, struct text show) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    memset(&lead, 0, sizeof lead);
    REQUIRE_MSG(document_rig(&lead.rig, rig, &fault) == GLANZ_OK, "%s at %s", fault.text, fault.where);
    REQUIRE_MSG(document_show(&lead.show, show, lead.rig.rig, NULL, &fault) == GLANZ_OK, "%s at %s", fault.text, fault.where);
    lead.engine_size =
        glanz_engine_size(&glanz_everything, lead.rig.rig, 16, 0) + glanz_show_memory(lead.show.show, lead.rig.rig);
    lead.control_size = glanz_control_size(&glanz_everything, lead.rig.rig, 16);
    lead.engine_memory = malloc(lead.engine_size);
    lead.control_memory = malloc(lead.control_size);
    power_on();
}

static void lead_close(void) {
    free(lead.engine_memory);
    free(lead.control_memory);
    document_free(&lead.show);
    document_free(&lead.rig);
    memset(&lead, 0, sizeof lead);
}

static struct text text_of(const char *json) {
    struct text text = {NULL, 0, 0};
    text_add(quoted(json), strlen(json), &text);
    return text;
}

static void run_for(double seconds) {
    glanz_us end = lead.clock + (glanz_us)(seconds * 1e6);
    lead.clock = end;
    ck_assert_int_eq(glanz_control_run(lead.control, lead.clock, (uint32_t)lead.clock), GLANZ_OK);
}

/* A second of frames: enough for all entries to be looked up. */
static void settle(void) {
    for (int i = 0; i < 100; i++) {
        run_for(0.01);
    }
}

static void set_clock(uint32_t utc) {
    ck_assert_int_eq(glanz_control_clock(lead.control, utc, lead.clock), GLANZ_OK);
    lead.utc = utc;
}

/* ---- the demo's calendar, read plainly ---- */

struct reading_day {               /* a day as people see it */
    int year, month, day, weekday; /* weekday 0 Monday */
};

static struct reading_day day_after(struct reading_day from, int days) {
    struct tm tm = {
        .tm_year = from.year - 1900, .tm_mon = from.month - 1, .tm_mday = from.day + days, .tm_hour = 12, .tm_isdst = -1};
    mktime(&tm);
    struct reading_day day = {tm.tm_year + 1900, tm.tm_mon + 1, tm.tm_mday, (tm.tm_wday + 6) % 7};
    return day;
}

static time_t at_clock(struct reading_day day, int hour, int minute) {
    struct tm tm = {.tm_year = day.year - 1900,
                    .tm_mon = day.month - 1,
                    .tm_mday = day.day,
                    .tm_hour = hour,
                    .tm_min = minute,
                    .tm_isdst = -1};
    return mktime(&tm);
}

static time_t at_sunset(struct reading_day day) {
    uint32_t utc;
    ck_assert_int_eq(
        glanz_sun_crosses(&utc, glanz_day_of((uint16_t)day.year, (uint8_t)day.month, (uint8_t)day.day), 539312, 86041, 1),
        GLANZ_SUN_CROSSES);
    return (time_t)utc;
}

enum { RAIL = 1, LAMPS = 2, WHEEL = 4, BOARD = 8, TEXT = 16, ANCHOR = 32, ALL = 63 };
struct plain { /* an entry of demo/show.json, as it is meant */
    const char *name;
    unsigned segments;
    int priority;
};
static const struct plain plain[] = {{"opening hours", WHEEL | BOARD | TEXT | ANCHOR, 0},
                                     {"closed on mondays", ALL, 0},
                                     {"rail lights", RAIL | LAMPS, 1},
                                     {"summer evenings", ALL, 2},
                                     {"high water call", TEXT, 4},
                                     {"festival week", ALL, 3},
                                     {"winter lights", WHEEL | ANCHOR, 2},
                                     {"night sleep", ALL, 0}};

/* The windows that an entry has on a day. @return how many */
static int windows(time_t *from, time_t *to, int entry, struct reading_day day) {
    int date = day.month * 100 + day.day;
    switch (entry) {
    case 0: from[0] = at_clock(day, 10, 0), to[0] = at_clock(day, 18, 0); return day.weekday != 0;
    case 1: from[0] = at_clock(day, 9, 0), to[0] = at_clock(day, 22, 30); return day.weekday == 0;
    case 2: from[0] = at_sunset(day) - 1800, to[0] = at_clock(day, 22, 30); return 1;
    case 3:
        from[0] = at_clock(day, 20, 0), to[0] = at_clock(day, 22, 30);
        return date >= 601 && date <= 831 && day.weekday >= 4;
    case 4:
        for (int i = 0; i < 4; i++) {
            from[i] = at_clock(day, 10, 20) + i * 7200;
            to[i] = from[i] + 240;
        }
        return 4;
    case 5: from[0] = at_clock(day, 19, 0), to[0] = at_clock(day, 23, 30); return date >= 718 && date <= 726;
    case 6: from[0] = at_sunset(day), to[0] = at_clock(day, 21, 0); return date >= 1206 || date <= 106;
    default: from[0] = at_clock(day, 22, 30), to[0] = at_clock(day_after(day, 1), 9, 0); return 1;
    }
}

/* The entry that is to show on each segment; -1 none. @return 0 within two seconds of a change, where either may be right. */
static int read_plainly(int *shows, time_t utc) {
    struct tm local;
    localtime_r(&utc, &local);
    struct reading_day today = {local.tm_year + 1900, local.tm_mon + 1, local.tm_mday, 0};
    time_t since[6] = {0};
    for (int s = 0; s < 6; s++) {
        shows[s] = -1;
    }
    for (int back = 2; back >= 0; back--) {
        struct reading_day day = day_after(today, -back);
        for (int e = 0; e < 8; e++) {
            time_t from[4];
            time_t to[4];
            int count = windows(from, to, e, day);
            for (int w = 0; w < count; w++) {
                if (labs((long)(utc - from[w])) <= 2 || labs((long)(utc - to[w])) <= 2) {
                    return 0;
                }
                for (int s = 0; s < 6 && from[w] <= utc && utc < to[w]; s++) {
                    int is = shows[s];
                    if ((plain[e].segments >> s & 1u) != 0 &&
                        (is < 0 || plain[e].priority > plain[is].priority ||
                         (plain[e].priority == plain[is].priority && from[w] >= since[s]))) {
                        shows[s] = e;
                        since[s] = from[w];
                    }
                }
            }
        }
    }
    return 1;
}

static unsigned compare_now(const char *when) {
    int shows[6];
    time_t utc = (time_t)glanz_control_utc(lead.control);
    if (!read_plainly(shows, utc)) {
        return 0;
    }
    for (uint8_t s = 0; s < 6; s++) {
        uint8_t entry = glanz_control_entry(lead.control, s);
        const char *is = entry == GLANZ_ALL ? "nothing" : lead.show.show->entries[entry].name;
        const char *should = shows[s] < 0 ? "nothing" : plain[shows[s]].name;
        REQUIRE_MSG(strcmp(is, should) == 0, "%s, %sUTC %ld, segment %u: %s shows, the calendar says %s", when, ctime(&utc),
                    (long)utc, s, is, should);
    }
    return 1;
}

static void open_demo(void) {
    struct text rig;
    struct text show;
    ck_assert(text_read(&rig, "demo/rig.json") && text_read(&show, "demo/show.json"));
    lead_texts(rig, show);
    use_zone(":Europe/Berlin");
}

/* Sixty days (a quarter of them under sanitizers), a look each minute, and the power goes again and again. */
START_TEST(sixty_days_with_power_cuts) {
    static const struct reading_day begins[] = {{2026, 6, 12, 0}, {2026, 9, 20, 0}, {2026, 11, 24, 0}, {2027, 2, 10, 0}};
    uint32_t seed = 11u + (uint32_t)_i;
    unsigned compared = 0;
    unsigned cuts = 0;
    open_demo();
    uint32_t begin = (uint32_t)at_clock(begins[_i], 0, 0);
    set_clock(begin);
    settle();
    uint32_t offset = 1; /* of the clock to the minute */
    uint32_t days = test_slow() ? 15 : 60;
    for (uint32_t minute = 1; minute < days * 1440; minute++) {
        seed = glanz_hash(seed + minute);
        if (seed % 900 == 0) { /* off for a while, and when it is on again, the time is not known at once */
            minute += seed % 700 / 10;
            power_on();
            run_for(seed % 7);
            set_clock(begin + minute * 60 + offset);
            settle();
            cuts++;
            compared += compare_now("after the power went");
            offset = 2;
            continue;
        }
        run_for(begin + minute * 60 + offset - glanz_control_utc(lead.control));
        compared += compare_now("minute by minute");
    }
    printf("%u days from %d-%02d-%02d: %u minutes compared, %u power cuts\n", (unsigned)days, begins[_i].year, begins[_i].month,
           begins[_i].day, compared, cuts);
    ck_assert_uint_gt(compared, days * 1330);
    ck_assert_uint_gt(cuts, days * 5 / 6);
    lead_close();
    use_zone("UTC");
}
END_TEST

/* The clock is set, by anything: what should be on then comes on. Small steps begin nothing twice and leave nothing out. */
START_TEST(clocks_are_set) {
    open_demo();
    struct reading_day day = {2026, 7, 10, 0};
    uint32_t begin = (uint32_t)at_clock(day, 12, 0);
    uint32_t seed = 3;
    settle();
    ck_assert_uint_eq(glanz_control_entry(lead.control, 0), GLANZ_ALL); /* not known yet: nothing of the calendar */
    set_clock(begin);
    settle();
    for (int i = 0; i < 200; i++) {
        seed = glanz_hash(seed);
        run_for(seed % 4000);
        uint32_t now = glanz_control_utc(lead.control);
        int32_t far = (int32_t)(seed >> 4) % (200 * 86400);
        set_clock(now > begin + 100 * 86400 ? begin : now + (uint32_t)far);
        settle();
        (void)compare_now("after the clock was set");
    }
    set_clock((uint32_t)at_clock(day, 9, 30));
    settle();
    memset(lead.begun, 0, sizeof lead.begun);
    for (int i = 0; i < 15 * 3600 / 30; i++) { /* a clock that is put right every half minute by up to a minute */
        seed = glanz_hash(seed);
        uint32_t should = (uint32_t)at_clock(day, 9, 30) + 1u + (uint32_t)i * 30u;
        run_for(30);
        ck_assert_int_eq(glanz_control_clock(lead.control, should + seed % 40u, lead.clock), GLANZ_OK);
    }
    for (uint8_t e = 0; e < lead.show.show->entry_count; e++) {
        const char *name = lead.show.show->entries[e].name;
        unsigned expected = strcmp(name, "high water call") == 0                                       ? 4
                            : strcmp(name, "opening hours") == 0                                       ? 1
                            : strcmp(name, "summer evenings") == 0 || strcmp(name, "night sleep") == 0 ? 1
                                                                                                       : 0;
        ck_assert_msg(lead.begun[e] == expected || (strcmp(name, "opening hours") == 0 && lead.begun[e] == 5),
                      "%s began %u times", name, lead.begun[e]);
    }
    lead_close();
    use_zone("UTC");
}
END_TEST

static const char small_rig[] = "{'rig':'t','place':{'latitude':'%s','longitude':'15.6 "
                                "E'},'zone':'CET-1CEST,M3.5.0,M10.5.0/3','supplies':{'s':{'volts':'5 V'}},"
                                "'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':10}]}},"
                                "'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':10}]}}}";

static void open_small(const char *latitude, const char *entries) {
    char rig[1000];
    char show[2000];
    snprintf(rig, sizeof rig, small_rig, latitude);
    snprintf(
        show, sizeof show,
        "{'show':'t','looks':{'red':{'effect':'plain','color':'#ff0000'},'green':{'effect':'plain','color':'#00ff00'},'blue':{'"
        "effect':'plain',"
        "'color':'#0000ff'}},'segments':{'s':{'surface':'a','look':'red'},'t':{'surface':'a','look':'red','blend':'lighter'}},'"
        "stack':['s','t'],"
        "'presets':{'p':{'s':'green'},'q':{'s':'blue','t':'blue'}},"
        "'playlists':{'l':{'items':[{'preset':'p','hold':'10 s'},{'preset':'q','hold':'20 s'}]}},'calendar':{%s}}",
        entries);
    lead_texts(text_of(rig), text_of(show));
}

static const char *shown(uint8_t segment) {
    struct glanz_showing showing;
    ck_assert_int_eq(glanz_engine_showing(lead.engine, segment, &showing), GLANZ_OK);
    return showing.name;
}

START_TEST(no_sunset_no_entry) {
    open_small("78.2 N",
               "'dusk':{'preset':'p','at':'sunset - 10 min','for':'2 h'},'noon':{'preset':'q','at':'12:00','for':'1 h'}");
    set_clock(glanz_day_of(2026, 1, 1) * GLANZ_DAY);
    settle();
    unsigned by_season[4] = {0};
    for (uint32_t day = 0; day < 365; day++) {
        memset(lead.begun, 0, sizeof lead.begun);
        for (int i = 0; i < 24; i++) {
            run_for(3600);
            run_for(0.01);
        }
        ck_assert_uint_eq(lead.begun[1] + lead.begun[0] > 0, 1);
        by_season[day / 92] += lead.begun[0] > 1 ? 1 : lead.begun[0];
    }
    ck_assert_uint_lt(by_season[0], 70); /* polar night until February, polar day from April to August */
    ck_assert_uint_gt(by_season[0], 30);
    ck_assert_uint_lt(by_season[1], 25);
    ck_assert_uint_lt(by_season[3], 45);
    lead_close();
}
END_TEST

/* A time that the clock leaps over begins when it leaps; one that comes twice, once. */
START_TEST(hours_left_out_and_twice) {
    open_small("53 N", "'early':{'preset':'p','at':'02:30','for':'10 "
                       "min'},'each':{'preset':'q','at':'01:00','until':'05:00','every':'30 min','for':'1 min'}");
    uint32_t days[] = {glanz_day_of(2026, 3, 29), glanz_day_of(2026, 10, 25), glanz_day_of(2026, 5, 5)};
    for (int d = 0; d < 3; d++) {
        uint32_t midnight = days[d] * GLANZ_DAY - (d == 0 ? 3600u : 7200u);
        uint32_t early = 0;
        power_on();
        memset(lead.begun, 0, sizeof lead.begun);
        set_clock(midnight);
        settle();
        for (int i = 0; i < 6 * 60; i++) {
            unsigned before = lead.begun[0];
            run_for(60);
            early = lead.begun[0] != before ? glanz_control_utc(lead.control) : early;
        }
        ck_assert_uint_eq(lead.begun[0], 1);
        /* 01:00 UTC the leap; 00:30 UTC the first 02:30 in autumn; 00:30 UTC in May */
        uint32_t expected = days[d] * GLANZ_DAY + (d == 0 ? 3600u : 1800u);
        ck_assert_uint_le(early - expected, 62);
        ck_assert_uint_eq(lead.begun[1], d == 0 ? 6 : d == 1 ? 10 : 8); /* every half hour of the real time between 1 and 5 */
    }
    lead_close();
}
END_TEST

/* What a hand shows stays until the next entry; after an entry comes back what was there before, a playlist where it would be.
 */
START_TEST(hands_and_entries) {
    struct glanz_action look = {.kind = &glanz_action_look, .target = 0, .over_ms = 0};
    struct glanz_action play = {.kind = &glanz_action_play, .target = 0, .over_ms = 0};
    open_small("53 N", "'one':{'preset':'p','at':'12:00','until':'13:00','fade':'1 "
                       "s'},'two':{'preset':'q','at':'12:30','for':'10 min','priority':3}");
    uint32_t noon = glanz_day_of(2026, 2, 3) * GLANZ_DAY + 11 * 3600;
    set_clock(noon - 600);
    settle();
    ck_assert_str_eq(shown(0), "red");
    run_for(700);
    ck_assert_str_eq(shown(0), "green");
    ck_assert_str_eq(shown(1), "red"); /* an entry takes only the segments of its preset */
    look.look = &lead.show.show->looks[0];
    ck_assert_int_eq(glanz_control_act(lead.control, &look, lead.clock), GLANZ_OK);
    run_for(60);
    ck_assert_str_eq(shown(0), "red");
    ck_assert_uint_eq(glanz_control_entry(lead.control, 0), GLANZ_ALL);
    run_for(1800);
    ck_assert_str_eq(shown(0), "blue"); /* the next entry takes it from the hand */
    run_for(600);
    ck_assert_str_eq(shown(0), "green"); /* and gives it to the entry that still is */
    ck_assert_str_eq(shown(1), "red");
    run_for(1800);
    ck_assert_str_eq(shown(0), "red");
    run_for(36000);
    ck_assert_int_eq(glanz_control_act(lead.control, &play, lead.clock), GLANZ_OK); /* a playlist; the entry passes over it */
    run_for(12 * 3600);
    uint8_t item = 9;
    ck_assert_uint_eq(glanz_control_playing(lead.control, 0, &item), 0);
    run_for(3600 + 900);
    ck_assert_uint_eq(glanz_control_playing(lead.control, 0, &item), 0);
    ck_assert(strcmp(shown(0), item == 0 ? "green" : "blue") == 0);
    lead_close();
}
END_TEST

/* An entry with priority passes over a part of a playlist of the calendar, which goes on under it. */
START_TEST(a_playlist_under_an_entry) {
    open_small(
        "53 N",
        "'list':{'playlist':'l','at':'10:00','until':'14:00'},'over':{'preset':'p','at':'11:00','until':'11:30','priority':3},"
        "'gone':{'preset':'q','at':'09:00','from':'2020-01-01','to':'2021-01-01'}");
    uint32_t ten = glanz_day_of(2026, 2, 3) * GLANZ_DAY + 9 * 3600;
    set_clock(ten - 60);
    settle();
    settle();
    ck_assert(!glanz_control_looking(lead.control));
    run_for(60 + 3600 + 5);
    ck_assert_str_eq(shown(0), "green"); /* the entry's */
    ck_assert_uint_eq(glanz_control_entry(lead.control, 1), 0);
    run_for(1800);
    for (int i = 0; i < 40; i++) { /* the playlist's again, at the place where it would be: 10 s green, 20 s blue */
        run_for(3.3);
        uint32_t in_round = (glanz_control_utc(lead.control) - ten) % 30;
        if (in_round % 10 != 0 && in_round % 10 != 9) {
            ck_assert_str_eq(shown(0), in_round < 10 ? "green" : "blue");
        }
    }
    run_for(2.5 * 3600);
    ck_assert_str_eq(shown(0), "red");
    ck_assert_uint_eq(lead.begun[2], 0);
    lead_close();
}
END_TEST

/* A hand plays what the calendar plays: stopped, it is told once, since then it plays nowhere. */
START_TEST(a_playlist_that_plays_twice_stops_once) {
    struct glanz_action play = {.kind = &glanz_action_play, .target = 0, .over_ms = 0};
    struct glanz_action stop = {.kind = &glanz_action_stop, .target = 0, .over_ms = 0};
    open_small("53 N", "'e':{'playlist':'l','at':'10:00','until':'14:00'}");
    set_clock(glanz_day_of(2026, 2, 3) * GLANZ_DAY + 9 * 3600 + 600);
    settle();
    ck_assert_int_eq(glanz_control_act(lead.control, &play, lead.clock), GLANZ_OK);
    run_for(5);
    ck_assert_uint_eq(glanz_control_playing(lead.control, 0, NULL), 0);
    ck_assert_uint_eq(glanz_control_playing(lead.control, 1, NULL), 0);
    lead.stopped = 0;
    ck_assert_int_eq(glanz_control_act(lead.control, &stop, lead.clock), GLANZ_OK);
    run_for(5);
    ck_assert_uint_eq(lead.stopped, 1);
    ck_assert_uint_eq(glanz_control_playing(lead.control, 0, NULL), GLANZ_ALL);
    ck_assert_int_eq(glanz_control_act(lead.control, &play, lead.clock), GLANZ_OK); /* one alone is told too */
    run_for(5);
    ck_assert_int_eq(glanz_control_act(lead.control, &stop, lead.clock), GLANZ_OK);
    run_for(5);
    ck_assert_uint_eq(lead.stopped, 2);
    lead_close();
}
END_TEST

/* Another show takes the calendar's playlist over where it is; one without the entry ends it. */
START_TEST(a_patched_playlist_plays_on) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct document other[2];
    memset(other, 0, sizeof other);
    open_small("53 N", "'e':{'playlist':'l','at':'10:00','until':'14:00'}");
    uint32_t ten = glanz_day_of(2026, 2, 3) * GLANZ_DAY + 9 * 3600;
    set_clock(ten + 600);
    settle();
    uint8_t item = 9;
    for (int round = 0; round < 2; round++) {
        char show[1500];
        snprintf(show, sizeof show,
                 "{'show':'t','looks':{'red':{'effect':'plain','color':'#ff0000'},'green':{'effect':'plain','color':'#00ff10'},"
                 "'blue':{'effect':'plain',"
                 "'color':'#0000ff'}},'segments':{'s':{'surface':'a','look':'red'},'t':{'surface':'a','look':'red','blend':'"
                 "lighter'}},'stack':['s','t'],"
                 "'presets':{'p':{'s':'green'},'q':{'s':'blue','t':'blue'}},'playlists':{'first':{'items':[{'preset':'p','hold'"
                 ":'1 s'}]},"
                 "'l':{'items':[{'preset':'p','hold':'10 s'},{'preset':'q','hold':'20 s'}]}},'calendar':{%s}}",
                 round == 0 ? "'e':{'playlist':'l','at':'10:00','until':'14:00'}"
                            : "'f':{'preset':'p','at':'13:00','for':'1 min'}");
        ck_assert_int_eq(document_show(&other[round], text_of(show), lead.rig.rig, NULL, &fault), GLANZ_OK);
        ck_assert_int_eq(glanz_control_set_show(lead.control, other[round].show, lead.clock, NULL), GLANZ_OK);
        settle();
        ck_assert_uint_eq(glanz_control_playing(lead.control, 0, &item), round == 0 ? 1 : GLANZ_ALL);
        for (int i = 0; i < 20 && round == 0; i++) {
            run_for(3.3);
            uint32_t in_round = (glanz_control_utc(lead.control) - ten) % 30;
            if (in_round % 10 != 0 && in_round % 10 != 9) {
                ck_assert_str_eq(shown(0), in_round < 10 ? "green" : "blue");
            }
        }
    }
    run_for(5);
    ck_assert_str_eq(shown(0), "red");
    lead_close();
    document_free(&other[0]);
    document_free(&other[1]);
}
END_TEST

/* A playlist that the calendar began before the power came is where it would be had it run all the time. */
START_TEST(late_is_where_it_would_be) {
    static const char *names[4000];
    static const char rest[] = "'presets':{'p':{'s':'green'},'q':{'s':'blue'},'r':{'s':'red'}},'playlists':{'in':{'rounds':2,'"
                               "shuffled':true,'items':[{'preset':'p',"
                               "'hold':'7 s'},{'preset':'q','hold':'5 s'},{'preset':'r','hold':'11 "
                               "s'}]},'timed':{'rounds':3,'items':[{'preset':'r','at':'0 s'},"
                               "{'preset':'q','at':'4.5 s'},{'preset':'p','at':'9.1 s','hold':'2 "
                               "s'}]},'out':{%s'items':[{'playlist':'in'},{'preset':'p','hold':'3 s',"
                               "'fade':'1 s'},{'playlist':'timed','hold':'20 s'},{'playlist':'in','hold':'30 "
                               "s'}]}},'calendar':{'e':{'playlist':'out','at':'10:00'}}}";
    char rig[1000];
    char show[2500];
    char text[2000];
    snprintf(rig, sizeof rig, small_rig, "53 N");
    snprintf(text, sizeof text, rest, _i == 0 ? "" : "'rounds':25,'then':{'preset':'r'},");
    snprintf(
        show, sizeof show,
        "{'show':'t','change':'0 "
        "s','looks':{'red':{'effect':'plain','color':'#ff0000'},'green':{'effect':'plain','color':'#00ff00'},'blue':{'effect':"
        "'plain','color':'#0000ff'}},'segments':{'s':{'surface':'a','look':'red'}},%s",
        text);
    lead_texts(text_of(rig), text_of(show));
    uint32_t ten = glanz_day_of(2026, 2, 3) * GLANZ_DAY + 9 * 3600;
    set_clock(ten - 10);
    settle();
    run_for(9);
    for (int i = 0; i < 4000; i++) {
        names[i] = shown(0); /* at ten o'clock and i seconds */
        run_for(1);
    }
    ck_assert(_i == 0 || strcmp(names[3999], "red") == 0); /* 25 rounds are over by then */
    uint32_t seed = 8;
    for (int i = 0; i < 150; i++) {
        seed = glanz_hash(seed);
        uint32_t late = 5 + seed % 3900;
        power_on();
        set_clock(ten + late);
        settle(); /* one second */
        const char *is = shown(0);
        REQUIRE_MSG(strcmp(is, names[late + 1]) == 0 || strcmp(is, names[late]) == 0, "%u s late: %s, had it run: %s", late, is,
                    names[late + 1]);
    }
    lead_close();
}
END_TEST

/* Another show with the same calendar: what shows goes on; an entry that is gone goes; one that is new comes. */
START_TEST(a_patched_show_keeps_its_calendar) {
    struct glanz_action look = {.kind = &glanz_action_look, .target = 0, .over_ms = 0};
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct document other;
    memset(&other, 0, sizeof other);
    open_small("53 N", "'one':{'preset':'q','at':'12:00','until':'18:00'}");
    set_clock(glanz_day_of(2026, 2, 3) * GLANZ_DAY + 12 * 3600);
    settle();
    ck_assert_uint_eq(lead.begun[0], 1);
    look.look = &lead.show.show->looks[0];
    ck_assert_int_eq(glanz_control_act(lead.control, &look, lead.clock), GLANZ_OK); /* a hand shows something else on s */
    run_for(1);
    for (int round = 0; round < 2; round++) {
        char show[1200];
        struct document before = other;
        memset(&other, 0, sizeof other);
        snprintf(show, sizeof show,
                 "{'show':'t','looks':{'red':{'effect':'plain','color':'#ff0000'},'blue':{'effect':'plain','color':'#0000f0'}},"
                 "'segments':{'s':{'surface':'a','look':'red'},'t':{'surface':'a','look':'red','blend':'lighter'}},'stack':['s'"
                 ",'t'],"
                 "'presets':{'q':{'s':'blue','t':'blue'},'r':{'s':'red'}},'calendar':{%s}}",
                 round == 0 ? "'zero':{'preset':'r','at':'19:00','for':'1 h'},'one':{'preset':'q','at':'12:00','until':'18:00'}"
                            : "'zero':{'preset':'r','at':'10:00','for':'5 h'}");
        ck_assert_int_eq(document_show(&other, text_of(show), lead.rig.rig, NULL, &fault), GLANZ_OK);
        memset(lead.begun, 0, sizeof lead.begun);
        ck_assert_int_eq(glanz_control_set_show(lead.control, other.show, lead.clock, NULL), GLANZ_OK);
        settle();
        ck_assert_uint_eq(lead.begun[0], round);
        ck_assert_uint_eq(lead.begun[1], 0);
        ck_assert_uint_eq(glanz_control_entry(lead.control, 0), round == 0 ? GLANZ_ALL : 0); /* still the hand's */
        ck_assert_uint_eq(glanz_control_entry(lead.control, 1), round == 0 ? 1 : GLANZ_ALL);
        ck_assert_str_eq(shown(1), round == 0 ? "blue" : "red");
        run_for(10);
        document_free(&before);
    }
    document_free(&other);
    lead_close();
}
END_TEST

/* ---- what is refused ---- */

struct refused {
    const char *part, *says, *where;
};

#define PLAYLISTS(text) "'playlists':{" text "}"
#define ENTRY(text) "'calendar':{'e':{" text "}}"
static const struct refused refused[] = {
    {PLAYLISTS("'a':{'items':[{'playlist':'a'}]}"), "none within itself", "/playlists/a/items/0"},
    {PLAYLISTS("'a':{'rounds':1,'items':[{'playlist':'b'}]},'b':{'rounds':1,'items':[{'playlist':'a'}]}"), "none within itself",
     "/playlists/"},
    {PLAYLISTS("'a':{'items':[{'playlist':'b'}]},'b':{'items':[{'playlist':'c'}]},'c':{'items':[{'playlist':'d'}]},'d':{'items'"
               ":[{'preset':'p','hold':'1 s'}]}"),
     "at most 3", "/playlists/"},
    {PLAYLISTS("'a':{'items':[{'playlist':'b'},{'preset':'p','hold':'1 s'}]},'b':{'items':[{'preset':'p','hold':'1 s'}]}"),
     "would never come", "/playlists/a/items/0"},
    {PLAYLISTS("'a':{'items':[{'preset':'p','at':'1 s'},{'preset':'p','at':'2 s','hold':'1 s'}]}"), "the first at 0 s",
     "/playlists/a/items/0"},
    {PLAYLISTS("'a':{'items':[{'preset':'p','at':'0 s'},{'preset':'p','hold':'1 s'}]}"), "expected \"at\" in every item",
     "/playlists/a/items/1"},
    {PLAYLISTS("'a':{'items':[{'preset':'p','at':'0 s'},{'preset':'p','at':'2 s'},{'preset':'p','at':'2 s','hold':'1 s'}]}"),
     "times in order", "/playlists/a/items/2"},
    {PLAYLISTS("'a':{'shuffled':true,'items':[{'preset':'p','at':'0 s'},{'preset':'p','at':'2 s','hold':'1 s'}]}"),
     "cannot be shuffled", "/playlists/a/shuffled"},
    {PLAYLISTS("'a':{'then':'dark','items':[{'preset':'p','hold':'1 s'}]}"), "goes on for ever", "/playlists/a/then"},
    {PLAYLISTS("'a':{'rounds':1,'then':'off','items':[{'preset':'p','hold':'1 s'}]}"), "expected one of: stay",
     "/playlists/a/then"},
    {PLAYLISTS("'a':{'items':[{'preset':'none','hold':'1 s'}]}"), "no such preset", "/playlists/a/items/0/preset"},
    {PLAYLISTS("'a':{'items':[{'dark':false,'hold':'1 s'}]}"), "expected true", "/playlists/a/items/0/dark"},
    {ENTRY("'preset':'p','at':'25:00'"), "expected a time such as", "/calendar/e/at"},
    {ENTRY("'preset':'p','at':'sunset - 13 h'"), "to 12 h", "/calendar/e/at"},
    {ENTRY("'preset':'p','at':'moonrise'"), "expected a time such as", "/calendar/e/at"},
    {ENTRY("'preset':'p','at':'10:00','until':'11:00','for':'5 min'"), "expected either \"for\" or \"until\"",
     "/calendar/e/for"},
    {ENTRY("'preset':'p','at':'10:00','every':'5 min'"), "until", "/calendar/e"},
    {ENTRY("'preset':'p','at':'10:00','from':'02-30','to':'03-01'"), "month and day there must be", "/calendar/e/from"},
    {ENTRY("'preset':'p','at':'10:00','from':'02-20'"), "together", "/calendar/e"},
    {ENTRY("'preset':'p','at':'10:00','from':'2026-02-20','to':'03-01'"), "", "/calendar/e"},
    {ENTRY("'preset':'p','at':'10:00','from':'2026-04-20','to':'2026-03-01'"), "", "/calendar/e"},
    {ENTRY("'preset':'p','at':'10:00','days':['mon']"), "monday", "/calendar/e/days/0"},
    {ENTRY("'preset':'none','at':'10:00'"), "no such preset", "/calendar/e/preset"},
    {ENTRY("'preset':'p','at':'10:00','for':'1500 ms'"), "expected whole seconds", "/calendar/e/for"},
    {ENTRY("'preset':'p','at':'10:00','for':'90.5 s'"), "expected whole seconds", "/calendar/e/for"},
    {ENTRY("'preset':'p','playlist':'p','at':'10:00'"), "one of: preset, playlist", "/calendar/e"},
    {ENTRY("'at':'10:00'"), "one of: preset, playlist", "/calendar/e"},
    {"'start':{'jump':'l'}", "item", "/start"},
    {"'start':{'take over':'s','aspects':['colour']}", "look, on, brightness, palette", "/start/aspects/0"},
    {"'start':{'sleep':'5 ms'}", "out of range", "/start/sleep"},
    {"'start':{'undo':false}", "expected true", "/start/undo"}};

START_TEST(wrong_courses_are_refused) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    char rig[1000];
    char text[2000];
    struct document document;
    struct document show;
    memset(&document, 0, sizeof document);
    memset(&show, 0, sizeof show);
    snprintf(rig, sizeof rig, small_rig, "53 N");
    ck_assert_int_eq(document_rig(&document, text_of(rig), &fault), GLANZ_OK);
    snprintf(text, sizeof text,
             "{'show':'t','looks':{'red':{'effect':'plain'}},'segments':{'s':{'surface':'a','look':'red'}},'presets':{'p':{'s':"
             "'red'}},%s}",
             refused[_i].part);
    glanz_status status = document_show(&show, text_of(text), document.rig, NULL, &fault);
    ck_assert_msg(status != GLANZ_OK, "%s is taken", refused[_i].part);
    ck_assert_msg(strstr(fault.text, refused[_i].says) != NULL &&
                      strncmp(fault.where, refused[_i].where, strlen(refused[_i].where)) == 0,
                  "%s: \"%s\" at %s", refused[_i].part, fault.text, fault.where);
    document_free(&show);
    document_free(&document);
}
END_TEST

Suite *calendar_suite(void) {
    Suite *suite = suite_create("calendar");
    TCase *times = tcase_create("times");
    tcase_set_timeout(times, 300);
    tcase_add_loop_test(times, zones_of_the_system, 0, (int)(sizeof zones / sizeof zones[0]));
    tcase_add_test(times, local_times_to_utc_and_back);
    tcase_add_test(times, wrong_zones_are_refused);
    tcase_add_test(times, days_without_sunrise);
    suite_add_tcase(suite, times);
    TCase *days = tcase_create("days");
    tcase_set_timeout(days, 600);
    tcase_add_loop_test(days, sixty_days_with_power_cuts, 0, 4);
    tcase_add_test(days, clocks_are_set);
    tcase_add_test(days, no_sunset_no_entry);
    tcase_add_test(days, hours_left_out_and_twice);
    tcase_add_test(days, hands_and_entries);
    tcase_add_loop_test(days, late_is_where_it_would_be, 0, 2);
    tcase_add_test(days, a_patched_show_keeps_its_calendar);
    tcase_add_test(days, a_playlist_under_an_entry);
    tcase_add_test(days, a_playlist_that_plays_twice_stops_once);
    tcase_add_test(days, a_patched_playlist_plays_on);
    suite_add_tcase(suite, days);
    TCase *wrong = tcase_create("refused");
    tcase_set_timeout(wrong, 120);
    tcase_add_loop_test(wrong, wrong_courses_are_refused, 0, (int)(sizeof refused / sizeof refused[0]));
    suite_add_tcase(suite, wrong);
    return suite;
}
