/* SPDX-License-Identifier: MIT */
/* What was heard, over time: bands, onsets, the beat clock, loudness with its gate. */
#include <cairo.h>
#include <math.h>
#include <stdio.h>

#include "commands.h"
#include "hearing.h"

#define WIDTH 1280
#define HEIGHT 800
#define LEFT 92.0
#define RIGHT 1256.0
#define BANDS_TOP 64.0
#define BANDS_BOTTOM 404.0
#define ONSETS_TOP 428.0
#define ROW 26.0
#define BEATS_TOP 556.0
#define LEVEL_TOP 612.0
#define LEVEL_BOTTOM 752.0
#define LOWEST_DB (-90.0)

struct page {
    cairo_t *cairo;
    const struct hearing *hearing;
    double seconds;
};

static void put_text(cairo_t *cairo, double x, double y, double size, const char *text, double align) {
    cairo_text_extents_t extents;
    cairo_select_font_face(cairo, "sans-serif", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cairo, size);
    cairo_text_extents(cairo, text, &extents);
    cairo_move_to(cairo, x - extents.x_advance * align, y);
    cairo_show_text(cairo, text);
}

static void ink(cairo_t *cairo, double light) {
    cairo_set_source_rgb(cairo, light, light, light * 1.03);
}

static double x_of(const struct page *page, double seconds) {
    return LEFT + (RIGHT - LEFT) * seconds / page->seconds;
}

static double end_of(const struct heard_tick *tick) {
    return tick->end;
}

/* From the ground over violet and orange to a warm white. */
static void heat(cairo_t *cairo, double level) {
    static const double stops[5][3] = {
        {0.09, 0.10, 0.13}, {0.27, 0.18, 0.44}, {0.72, 0.30, 0.36}, {0.95, 0.62, 0.24}, {1, 0.96, 0.82}};
    int at = level >= 1 ? 3 : (int)(level * 4);
    double part = level * 4 - at;
    cairo_set_source_rgb(cairo, stops[at][0] + (stops[at + 1][0] - stops[at][0]) * part,
                         stops[at][1] + (stops[at + 1][1] - stops[at][1]) * part,
                         stops[at][2] + (stops[at + 1][2] - stops[at][2]) * part);
}

static void draw_bands(const struct page *page) {
    const struct hearing *hearing = page->hearing;
    uint8_t bands = hearing->how.bands;
    double height = (BANDS_BOTTOM - BANDS_TOP) / bands;
    int columns = (int)(RIGHT - LEFT);
    for (int c = 0; c < columns; c++) { /* the highest level in each column of dots */
        size_t from = hearing->count * (size_t)c / (size_t)columns;
        size_t to = hearing->count * (size_t)(c + 1) / (size_t)columns;
        for (uint8_t b = 0; b < bands; b++) {
            uint16_t most = 0;
            for (size_t i = from; i < to || i == from; i++) {
                most = hearing->ticks[i].band[b] > most ? hearing->ticks[i].band[b] : most;
            }
            heat(page->cairo, most / 65535.0);
            cairo_rectangle(page->cairo, LEFT + c, BANDS_BOTTOM - (b + 1) * height + 1, 1, height - 1);
            cairo_fill(page->cairo);
        }
    }
    for (uint8_t b = 0; b <= bands; b = (uint8_t)(b + (bands > 16 ? 4 : bands > 8 ? 2 : 1))) {
        char text[32];
        double hz = glanz_hearing_edge(&hearing->how, b) / 16.0;
        snprintf(text, sizeof text, hz < 1000 ? "%.0f Hz" : "%.1f kHz", hz < 1000 ? hz : hz / 1000);
        ink(page->cairo, 0.75);
        put_text(page->cairo, LEFT - 8, BANDS_BOTTOM - b * height + 4, 12, text, 1);
    }
}

static void draw_onsets(const struct page *page) {
    static const char *const names[] = {"onsets", "low", "middle", "high"};
    static const double colors[][3] = {{0.92, 0.92, 0.90}, {0.85, 0.42, 0.33}, {0.90, 0.72, 0.30}, {0.36, 0.68, 0.68}};
    for (int range = 0; range < GLANZ_RANGES; range++) {
        double y = ONSETS_TOP + ROW * range;
        ink(page->cairo, 0.75);
        put_text(page->cairo, LEFT - 8, y + ROW - 8, 12, names[range], 1);
        ink(page->cairo, 0.16);
        cairo_rectangle(page->cairo, LEFT, y, RIGHT - LEFT, ROW - 4);
        cairo_fill(page->cairo);
        cairo_set_source_rgb(page->cairo, colors[range][0], colors[range][1], colors[range][2]);
        for (size_t i = 0; i < page->hearing->count; i++) {
            const struct heard_tick *tick = &page->hearing->ticks[i];
            if (tick->begun >> range & 1) {
                double height = (ROW - 4) * (0.25 + 0.75 * tick->heard.onset[range].strength / 65535.0);
                cairo_rectangle(page->cairo, x_of(page, tick->onset[range]) - 1, y + ROW - 4 - height, 2, height);
                cairo_fill(page->cairo);
            }
        }
    }
}

/* Each beat, the brighter the more it is trusted; and the tempo where it has changed. */
static void draw_beats(const struct page *page) {
    double told = -10;
    double tempo = 0;
    ink(page->cairo, 0.75);
    put_text(page->cairo, LEFT - 8, BEATS_TOP + 16, 12, "beat", 1);
    ink(page->cairo, 0.16);
    cairo_rectangle(page->cairo, LEFT, BEATS_TOP, RIGHT - LEFT, 22);
    cairo_fill(page->cairo);
    for (size_t i = 0; i < page->hearing->count; i++) {
        const struct heard_tick *tick = &page->hearing->ticks[i];
        if (!tick->beat) {
            continue;
        }
        double x = x_of(page, tick->last_beat);
        double now = 60e6 / tick->heard.period_us;
        cairo_set_source_rgba(page->cairo, 0.55, 0.78, 0.45, 0.15 + 0.85 * tick->heard.trust / 65535.0);
        cairo_arc(page->cairo, x, BEATS_TOP + 11, 4.5, 0, 6.2832);
        cairo_fill(page->cairo);
        if (tick->heard.trust > 16000 && (told < 0 || fabs(now / tempo - 1) > 0.03) && x - told > 70) {
            char text[32];
            snprintf(text, sizeof text, "%.1f / min", now);
            ink(page->cairo, 0.75);
            put_text(page->cairo, x, BEATS_TOP + 38, 12, text, 0);
            told = x;
            tempo = now;
        }
    }
}

static double y_of(int16_t cdb) {
    double db = cdb / 100.0 < LOWEST_DB ? LOWEST_DB : cdb / 100.0;
    return LEVEL_BOTTOM - (LEVEL_BOTTOM - LEVEL_TOP) * (db - LOWEST_DB) / -LOWEST_DB;
}

static void draw_line(const struct page *page, size_t member, double width) {
    size_t step = page->hearing->count / 4000 + 1;
    cairo_set_line_width(page->cairo, width);
    for (size_t i = 0; i < page->hearing->count; i += step) {
        const struct heard_tick *tick = &page->hearing->ticks[i];
        int16_t cdb = *(const int16_t *)(const void *)((const char *)&tick->heard + member);
        cairo_line_to(page->cairo, x_of(page, end_of(tick)), y_of(cdb));
    }
    cairo_stroke(page->cairo);
}

static void draw_level(const struct page *page) {
    for (int db = 0; db >= (int)LOWEST_DB; db -= 30) {
        char text[16];
        snprintf(text, sizeof text, "%d dB", db);
        ink(page->cairo, 0.75);
        put_text(page->cairo, LEFT - 8, y_of((int16_t)(db * 100)) + 4, 12, text, 1);
        ink(page->cairo, 0.22);
        cairo_rectangle(page->cairo, LEFT, y_of((int16_t)(db * 100)), RIGHT - LEFT, 1);
        cairo_fill(page->cairo);
    }
    for (size_t i = 0; i < page->hearing->count; i++) { /* where it is silent */
        if (page->hearing->ticks[i].heard.silent) {
            cairo_set_source_rgba(page->cairo, 0.45, 0.55, 0.75, 0.25);
            cairo_rectangle(page->cairo, x_of(page, end_of(&page->hearing->ticks[i]) - 0.005), LEVEL_TOP,
                            (RIGHT - LEFT) * 0.005 / page->seconds, LEVEL_BOTTOM - LEVEL_TOP);
            cairo_fill(page->cairo);
        }
    }
    cairo_set_source_rgb(page->cairo, 0.44, 0.72, 0.92);
    draw_line(page, offsetof(struct glanz_heard, level_cdb), 1.2);
    cairo_set_source_rgb(page->cairo, 0.85, 0.42, 0.33);
    draw_line(page, offsetof(struct glanz_heard, gate_cdb), 1.6);
    cairo_set_source_rgb(page->cairo, 0.90, 0.72, 0.30);
    draw_line(page, offsetof(struct glanz_heard, loudest_cdb), 1.6);
}

static void draw_axis(const struct page *page) {
    double step = page->seconds > 60 ? 10 : page->seconds > 24 ? 5 : page->seconds > 8 ? 2 : page->seconds > 3 ? 1 : 0.25;
    for (double t = 0; t <= page->seconds + 1e-6; t += step) {
        char text[24];
        snprintf(text, sizeof text, step < 1 ? "%.2f s" : "%.0f s", t);
        ink(page->cairo, 0.75);
        put_text(page->cairo, x_of(page, t), LEVEL_BOTTOM + 20, 12, text, 0.5);
    }
}

int hearing_picture(const struct hearing *hearing, const char *path) {
    char title[256];
    cairo_surface_t *surface = cairo_image_surface_create(CAIRO_FORMAT_RGB24, WIDTH, HEIGHT);
    struct page page = {cairo_create(surface), hearing, end_of(&hearing->ticks[hearing->count - 1])};
    cairo_set_source_rgb(page.cairo, 0.078, 0.086, 0.102);
    cairo_paint(page.cairo);
    snprintf(title, sizeof title, "%s: levels of %u bands, 0 to 100 %%", hearing->name, hearing->how.bands);
    ink(page.cairo, 0.92);
    put_text(page.cairo, LEFT, 40, 18, title, 0);
    draw_bands(&page);
    draw_onsets(&page);
    draw_beats(&page);
    draw_level(&page);
    draw_axis(&page);
    ink(page.cairo, 0.75);
    put_text(page.cairo, RIGHT, HEIGHT - 12, 12,
             "blue: loudness; red: the gate; yellow: what 100 % stands for; grey-blue: silence", 1);
    int fine = output_png(path, surface);
    cairo_destroy(page.cairo);
    cairo_surface_destroy(surface);
    return fine;
}
