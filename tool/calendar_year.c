/* SPDX-License-Identifier: MIT */
/* A year of the calendar as a picture. */
#include <cairo.h>
#include <stdlib.h>
#include <string.h>

#include "calendar.h"

#define WIDTH 1280
#define HEIGHT 800
#define LEFT 62.0
#define RIGHT 24.0

/* Twelve colours told apart at a glance; darker where a segment is switched off. */
static void hue(cairo_t *cairo, uint8_t entry, int off) {
    static const double colors[][3] = {{0.93, 0.71, 0.25}, {0.24, 0.50, 0.78}, {0.82, 0.38, 0.27}, {0.38, 0.66, 0.52},
                                       {0.62, 0.44, 0.74}, {0.86, 0.82, 0.66}, {0.24, 0.60, 0.70}, {0.50, 0.52, 0.80},
                                       {0.58, 0.61, 0.27}, {0.62, 0.72, 0.84}, {0.62, 0.40, 0.25}, {0.78, 0.60, 0.78}};
    double share = off ? 0.36 : 1;
    if (entry == GLANZ_ALL) {
        cairo_set_source_rgb(cairo, 0.17, 0.18, 0.20);
    } else {
        const double *color = colors[entry % (sizeof colors / sizeof colors[0])];
        cairo_set_source_rgb(cairo, color[0] * share, color[1] * share, color[2] * share);
    }
}

/* Does an entry switch a segment off? GLANZ_ALL: every segment that it has. */
static int switches_off(const struct course *course, uint8_t entry, uint8_t segment) {
    if (entry == GLANZ_ALL || course->show->entries[entry].is_playlist) {
        return 0;
    }
    GLANZ_CONST struct glanz_preset *preset = &course->show->presets[course->show->entries[entry].target];
    int off = 0;
    for (uint8_t i = 0; i < preset->part_count; i++) {
        GLANZ_CONST struct glanz_part *part = &preset->parts[i];
        if (segment == GLANZ_ALL || part->segment == segment) {
            off = (part->aspects & GLANZ_ASPECT_ON) != 0 && !part->on;
            if (!off) {
                return 0;
            }
        }
    }
    return off;
}

static void label(cairo_t *cairo, double x, double y, double size, const char *text, double align) {
    cairo_text_extents_t extents;
    cairo_select_font_face(cairo, "sans-serif", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cairo, size);
    cairo_set_source_rgb(cairo, 0.80, 0.82, 0.84);
    cairo_text_extents(cairo, text, &extents);
    cairo_move_to(cairo, x - extents.x_advance * align, y);
    cairo_show_text(cairo, text);
}

struct panel {
    double top, height, day; /* day: width of one */
};

/* What shows, day after day, as bars from hour to hour; what is too short to be seen comes last, and is made a line. */
static void draw_bars(cairo_t *cairo, const struct course *course, const struct panel *panel, uint8_t segment) {
    cairo_set_antialias(cairo, CAIRO_ANTIALIAS_NONE);
    size_t next;
    for (size_t k = 0; k < 2 * course->count; k = next) {
        size_t i = k % course->count;
        uint8_t entry = course->changes[i].entry[segment];
        size_t after = i + 1;
        while (after < course->count && course->changes[after].entry[segment] == entry) {
            after++;
        }
        next = k - i + after;
        uint32_t from = calendar_local(course, course->changes[i].utc);
        uint32_t to = calendar_local(course, after < course->count ? course->changes[after].utc : course->end);
        if (((to - from) * panel->height / GLANZ_DAY < 1.5) != (k >= course->count)) {
            continue;
        }
        hue(cairo, entry, switches_off(course, entry, segment));
        for (uint32_t day = from / GLANZ_DAY; day * GLANZ_DAY < to; day++) {
            uint32_t start = from > day * GLANZ_DAY ? from - day * GLANZ_DAY : 0;
            uint32_t stop = to < (day + 1) * GLANZ_DAY ? to - day * GLANZ_DAY : GLANZ_DAY;
            double high = (stop - start) * panel->height / GLANZ_DAY;
            cairo_rectangle(cairo, LEFT + (day - course->first_day) * panel->day,
                            panel->top + start * panel->height / GLANZ_DAY, panel->day, high < 1 ? 1 : high);
        }
        cairo_fill(cairo);
    }
    cairo_set_antialias(cairo, CAIRO_ANTIALIAS_DEFAULT);
}

/* The sun's line: in local time, with a leap where the clock leaps. */
static void draw_sun(cairo_t *cairo, const struct course *course, const struct panel *panel, uint8_t sets) {
    for (int pass = 0; pass < 2; pass++) { /* a dark line under a light one, to be seen on any colour */
        double before = -1;
        for (uint32_t d = 0; d < course->days; d++) {
            uint32_t utc;
            if (glanz_sun_crosses(&utc, course->first_day + d, course->rig->latitude, course->rig->longitude, sets) !=
                GLANZ_SUN_CROSSES) {
                before = -1;
                continue;
            }
            double y = panel->top + (calendar_local(course, utc) % GLANZ_DAY) * panel->height / GLANZ_DAY;
            double x = LEFT + (d + 0.5) * panel->day;
            int leaps = before < 0 || y - before > panel->height / 40 || before - y > panel->height / 40;
            (leaps ? cairo_move_to : cairo_line_to)(cairo, x, y);
            before = y;
        }
        cairo_set_line_width(cairo, pass == 0 ? 3.4 : 1.4);
        cairo_set_source_rgba(cairo, pass == 0 ? 0 : 1, pass == 0 ? 0 : 1, pass == 0 ? 0 : 0.92, pass == 0 ? 0.55 : 0.95);
        cairo_stroke(cairo);
    }
}

static void draw_axes(cairo_t *cairo, const struct course *course, const struct panel *panel, int months) {
    static const char *const names[] = {"January", "February", "March",     "April",   "May",      "June",
                                        "July",    "August",   "September", "October", "November", "December"};
    int step = panel->height > 300 ? 3 : 6;
    for (int hour = 0; hour <= 24; hour += step) {
        char text[16];
        double y = panel->top + hour * panel->height / 24;
        snprintf(text, sizeof text, "%02d:00", hour);
        label(cairo, LEFT - 6, y + 4, 11, text, 1);
        cairo_set_source_rgba(cairo, 1, 1, 1, 0.16);
        cairo_set_line_width(cairo, 1);
        cairo_move_to(cairo, LEFT, y);
        cairo_line_to(cairo, LEFT + course->days * panel->day, y);
        cairo_stroke(cairo);
    }
    for (uint32_t d = 0; d < course->days; d++) {
        struct glanz_date date = glanz_date_of(course->first_day + d);
        if (date.day != 1) {
            continue;
        }
        double x = LEFT + d * panel->day;
        cairo_set_source_rgba(cairo, 1, 1, 1, 0.25);
        cairo_move_to(cairo, x, panel->top);
        cairo_line_to(cairo, x, panel->top + panel->height);
        cairo_stroke(cairo);
        if (months && x + 60 < WIDTH) {
            label(cairo, x + 3, panel->top + panel->height + 16, 11, names[date.month - 1], 0);
        }
    }
}

static void draw_legend(cairo_t *cairo, const struct course *course, double y) {
    double x = LEFT;
    for (uint8_t i = 0; i <= course->show->entry_count; i++) {
        uint8_t entry = i < course->show->entry_count ? i : GLANZ_ALL;
        const char *name = entry == GLANZ_ALL ? "nothing of the calendar" : calendar_entry_name(course, entry);
        cairo_text_extents_t extents;
        cairo_set_font_size(cairo, 12);
        cairo_text_extents(cairo, name, &extents);
        if (x + extents.x_advance + 30 > WIDTH - RIGHT) {
            x = LEFT;
            y += 20;
        }
        hue(cairo, entry, switches_off(course, entry, GLANZ_ALL));
        cairo_rectangle(cairo, x, y - 10, 12, 12);
        cairo_fill(cairo);
        label(cairo, x + 18, y, 12, name, 0);
        x += extents.x_advance + 38;
    }
    if (x + 290 > WIDTH - RIGHT) {
        x = LEFT;
        y += 20;
    }
    cairo_set_source_rgb(cairo, 1, 1, 0.92);
    cairo_set_line_width(cairo, 1.6);
    cairo_move_to(cairo, x, y - 4);
    cairo_line_to(cairo, x + 14, y - 4);
    cairo_stroke(cairo);
    label(cairo, x + 20, y, 12, "sunrise and sunset; darker: switched off", 0);
}

int calendar_draw_year(const struct course *course, const struct row *rows, uint8_t count, const char *path) {
    char text[500];
    uint8_t drawn = count > 5 ? 5 : count;
    cairo_surface_t *page = cairo_image_surface_create(CAIRO_FORMAT_RGB24, WIDTH, HEIGHT);
    cairo_t *cairo = cairo_create(page);
    struct glanz_date first = glanz_date_of(course->first_day);
    struct glanz_date last = glanz_date_of(course->first_day + course->days - 1);
    cairo_set_source_rgb(cairo, 0.085, 0.095, 0.11);
    cairo_paint(cairo);
    snprintf(text, sizeof text, "%s: the calendar, %04u-%02u-%02u to %04u-%02u-%02u", course->show->name, first.year,
             first.month, first.day, last.year, last.month, last.day);
    label(cairo, LEFT, 30, 16, text, 0);
    double top = 48;
    double each = (HEIGHT - top - 84) / drawn;
    struct panel panel = {0, 0, (WIDTH - LEFT - RIGHT) / course->days};
    for (uint8_t r = 0; r < drawn; r++) {
        panel.top = top + r * each + 16;
        panel.height = each - 28;
        calendar_row_name(text, sizeof text, course, &rows[r]);
        label(cairo, LEFT, panel.top - 5, 12, text, 0);
        draw_bars(cairo, course, &panel, rows[r].segments[0]);
        draw_axes(cairo, course, &panel, r + 1 == drawn);
        draw_sun(cairo, course, &panel, 0);
        draw_sun(cairo, course, &panel, 1);
    }
    draw_legend(cairo, course, HEIGHT - 42);
    int good = output_png(path, page);
    cairo_destroy(cairo);
    cairo_surface_destroy(page);
    if (!good) {
        return EXIT_FILE;
    }
    if (drawn < count) {
        complain_plain("calendar: %u of %u different courses are drawn; the others with --segment", drawn, count);
    }
    return EXIT_GOOD;
}
