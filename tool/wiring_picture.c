/* SPDX-License-Identifier: MIT */
/* The wiring of a surface as a picture. */
#include <cairo-svg.h>
#include <cairo.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "wiring.h"

#define WIDTH 1280.0
#define MARGIN 46.0

/* One colour an output: well apart, light enough for dark numbers. */
static void output_color(cairo_t *cairo, uint8_t output, double alpha) {
    static const double colors[][3] = {{0.36, 0.70, 0.92}, {0.96, 0.72, 0.30}, {0.52, 0.82, 0.50}, {0.90, 0.55, 0.72},
                                       {0.72, 0.64, 0.94}, {0.40, 0.82, 0.76}, {0.93, 0.60, 0.45}, {0.76, 0.78, 0.40}};
    const double *color = colors[output % 8];
    cairo_set_source_rgba(cairo, color[0], color[1], color[2], alpha);
}

static void put_text(cairo_t *cairo, double x, double y, double size, const char *text, int centered) {
    cairo_text_extents_t extents;
    cairo_select_font_face(cairo, "sans-serif", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cairo, size);
    cairo_text_extents(cairo, text, &extents);
    cairo_move_to(cairo, centered ? x - extents.x_bearing - extents.width / 2 : x,
                  centered ? y - extents.y_bearing - extents.height / 2 : y);
    cairo_show_text(cairo, text);
}

/* An arrow head in the middle of a way. */
static void put_arrow(cairo_t *cairo, double from_x, double from_y, double to_x, double to_y, double size) {
    double angle = atan2(to_y - from_y, to_x - from_x);
    double x = (from_x + to_x) / 2;
    double y = (from_y + to_y) / 2;
    cairo_move_to(cairo, x + size * cos(angle), y + size * sin(angle));
    cairo_line_to(cairo, x + size * cos(angle + 2.5), y + size * sin(angle + 2.5));
    cairo_line_to(cairo, x + size * cos(angle - 2.5), y + size * sin(angle - 2.5));
    cairo_close_path(cairo);
    cairo_fill(cairo);
}

static void draw_borders(cairo_t *cairo, const struct plan *plan, double step) {
    GLANZ_CONST struct glanz_surface *surface = plan->surface;
    for (uint8_t p = 0; surface->kind == GLANZ_SURFACE_GRID && p < surface->piece_count; p++) {
        double left = 1e9;
        double top = 1e9;
        double right = -1e9;
        double bottom = -1e9;
        for (size_t i = 0; i < plan->count; i++) {
            if (plan->leds[i].piece == p) {
                left = fmin(left, plan->leds[i].x - 0.5);
                top = fmin(top, plan->leds[i].y - 0.5);
                right = fmax(right, plan->leds[i].x + 0.5);
                bottom = fmax(bottom, plan->leds[i].y + 0.5);
            }
        }
        output_color(cairo, surface->pieces[p].output, 0.10);
        cairo_rectangle(cairo, left * step, top * step, (right - left) * step, (bottom - top) * step);
        cairo_fill_preserve(cairo);
        output_color(cairo, surface->pieces[p].output, 0.75);
        cairo_set_line_width(cairo, 1.4);
        cairo_stroke(cairo);
        if (surface->piece_count > 1) {
            char label[96];
            snprintf(label, sizeof label, "%u  %s", p, surface->panels[p].name == NULL ? "" : surface->panels[p].name);
            cairo_set_source_rgba(cairo, 1, 1, 1, 0.20);
            put_text(cairo, (left + right) / 2 * step, (top + bottom) / 2 * step, fmin((right - left) * step / 5, 64), label,
                     1);
        }
    }
}

static void draw_line(cairo_t *cairo, const struct plan *plan, double step) {
    for (size_t i = 1; i < plan->count; i++) {
        const struct led *from = &plan->leds[i - 1];
        const struct led *to = &plan->leds[i];
        double away = hypot(to->x - from->x, to->y - from->y);
        int jump = to->output != from->output || to->led != from->led + 1; /* the line goes elsewhere between */
        output_color(cairo, to->output, jump ? 0.45 : 0.85);
        double dashes[] = {step / 6, step / 6};
        cairo_set_dash(cairo, dashes, jump ? 2 : 0, 0);
        cairo_set_line_width(cairo, fmax(1.2, step / 14));
        cairo_move_to(cairo, from->x * step, from->y * step);
        cairo_line_to(cairo, to->x * step, to->y * step);
        cairo_stroke(cairo);
        cairo_set_dash(cairo, NULL, 0, 0);
        int turns = i == 1 || fabs((from->x - plan->leds[i - 2].x) - (to->x - from->x)) > 0.05 ||
                    fabs((from->y - plan->leds[i - 2].y) - (to->y - from->y)) > 0.05;
        if (!jump && (turns || away > 1.6 || i % 16 == 0)) {
            put_arrow(cairo, from->x * step, from->y * step, to->x * step, to->y * step, fmax(3.2, step / 7));
        }
    }
}

/* First and last of the data line in this surface, of each output. */
static int is_end(const struct plan *plan, size_t i, int last) {
    if (last) {
        return i + 1 == plan->count || plan->leds[i + 1].output != plan->leds[i].output;
    }
    return i == 0 || plan->leds[i - 1].output != plan->leds[i].output;
}

static void draw_leds(cairo_t *cairo, const struct plan *plan, double step) {
    for (size_t i = 0; i < plan->count; i++) {
        const struct led *led = &plan->leds[i];
        double x = led->x * step;
        double y = led->y * step;
        int first = is_end(plan, i, 0);
        int last = is_end(plan, i, 1);
        char label[8];
        cairo_arc(cairo, x, y, step * 0.40, 0, 2 * 3.14159265);
        if (led->wrong) {
            cairo_set_source_rgb(cairo, 0.86, 0.12, 0.16);
        } else {
            output_color(cairo, led->output, 1);
        }
        cairo_fill(cairo);
        if (first || last) {
            cairo_arc(cairo, x, y, step * (first ? 0.45 : 0.43), 0, 2 * 3.14159265);
            cairo_set_source_rgb(cairo, first ? 1.0 : 0.95, first ? 1.0 : 0.45, first ? 1.0 : 0.30);
            cairo_set_line_width(cairo, fmax(1.6, step / 11));
            cairo_stroke(cairo);
        }
        /* every number where there is room; on small LEDs those where the line turns, and every eighth */
        int turns = first || last ||
                    (i > 0 && i + 1 < plan->count &&
                     (fabs(plan->leds[i + 1].x - 2 * led->x + plan->leds[i - 1].x) > 0.05 ||
                      fabs(plan->leds[i + 1].y - 2 * led->y + plan->leds[i - 1].y) > 0.05));
        if (step >= 21 || turns || led->led % 8 == 0) {
            snprintf(label, sizeof label, "%u", led->led);
            cairo_set_source_rgb(cairo, led->wrong ? 1 : 0.04, led->wrong ? 1 : 0.06, led->wrong ? 1 : 0.10);
            double size = step * (step < 21 ? 0.46 : strlen(label) > 3 ? 0.30 : strlen(label) > 2 ? 0.36 : 0.42);
            if (step < 21) { /* wider than the LED: on a tag of its colour */
                double wide = size * 0.64 * (double)strlen(label) + 2;
                cairo_save(cairo);
                if (led->wrong) {
                    cairo_set_source_rgb(cairo, 0.86, 0.12, 0.16);
                } else {
                    output_color(cairo, led->output, 1);
                }
                cairo_rectangle(cairo, x - wide / 2, y - size * 0.6, wide, size * 1.2);
                cairo_fill(cairo);
                cairo_restore(cairo);
            }
            put_text(cairo, x, y, size, label, 1);
        }
    }
}

static void draw_legend(cairo_t *cairo, const struct plan *plan, double y, int back) {
    char text[200];
    double x = MARGIN;
    cairo_set_source_rgb(cairo, 0.90, 0.91, 0.92);
    snprintf(text, sizeof text, "%s: %zu LEDs, %g x %g, seen from the %s", plan->surface->name, plan->count, plan->columns,
             plan->rows, back ? "back" : "front");
    put_text(cairo, x, y - 22, 17, text, 0);
    for (uint8_t o = 0; o < plan->rig->output_count; o++) {
        size_t of_output = 0;
        for (size_t i = 0; i < plan->count; i++) {
            of_output += plan->leds[i].output == o;
        }
        if (of_output != 0 && x < WIDTH - 260) {
            output_color(cairo, o, 1);
            cairo_arc(cairo, x + 6, y - 5, 6, 0, 2 * 3.14159265);
            cairo_fill(cairo);
            snprintf(text, sizeof text, "%s (%zu)", plan->rig->outputs[o].name, of_output);
            cairo_set_source_rgb(cairo, 0.78, 0.80, 0.82);
            put_text(cairo, x + 18, y, 13, text, 0);
            x += 40 + 7.6 * (double)strlen(text);
        }
    }
    cairo_set_source_rgb(cairo, plan->wrong != 0 ? 0.96 : 0.62, plan->wrong != 0 ? 0.42 : 0.64, plan->wrong != 0 ? 0.42 : 0.67);
    if (plan->wrong != 0) {
        snprintf(text, sizeof text, "%zu LEDs in red: outside, or on a place or a line that another has", plan->wrong);
    } else {
        snprintf(text, sizeof text, "white ring: first LED   red ring: last LED");
    }
    put_text(cairo, x + 4, y, 13, text, 0);
}

static double step_of(const struct plan *plan) {
    double step = (WIDTH - 2 * MARGIN) / plan->columns;
    double high = 8000 / plan->rows;
    step = step > 64 ? 64 : step;
    return step > high ? high : step;
}

int wiring_draw(const struct plan *plan, const char *path, int back) {
    double step = step_of(plan);
    double height = plan->rows * step + 2 * MARGIN + 50;
    size_t length = strlen(path);
    int svg = length > 4 && strcmp(path + length - 4, ".svg") == 0;
    struct output output;
    if (!output_open(&output, svg ? path : NULL)) {
        return EXIT_FILE;
    }
    cairo_surface_t *page = svg ? cairo_svg_surface_create_for_stream(output_piece, output.file, WIDTH, height)
                                : cairo_image_surface_create(CAIRO_FORMAT_RGB24, (int)WIDTH, (int)height);
    cairo_t *cairo = cairo_create(page);
    cairo_set_source_rgb(cairo, 0.075, 0.085, 0.1);
    cairo_paint(cairo);
    draw_legend(cairo, plan, MARGIN + 26, back);
    cairo_translate(cairo, (WIDTH - plan->columns * step) / 2, MARGIN + 50);
    draw_borders(cairo, plan, step);
    draw_line(cairo, plan, step);
    draw_leds(cairo, plan, step);
    cairo_destroy(cairo);
    int good = svg || output_png(path, page);
    cairo_surface_finish(page);
    cairo_surface_destroy(page);
    good = output_close(&output, 1) && good;
    return good ? EXIT_GOOD : EXIT_FILE;
}
