/* SPDX-License-Identifier: MIT */
/* Pages on which LEDs are drawn. */
#include "page.h"
#include "files.h"
#include "output.h"

void page_text(cairo_t *cairo, double x, double y, double size, const char *text) {
    cairo_select_font_face(cairo, "sans-serif", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cairo, size);
    cairo_set_source_rgb(cairo, 0.78, 0.80, 0.82);
    cairo_move_to(cairo, x, y);
    cairo_show_text(cairo, text);
}

cairo_surface_t *page_new(cairo_t **cairo, int width, int height) {
    cairo_surface_t *page = cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height);
    *cairo = cairo_create(page);
    cairo_set_source_rgb(*cairo, 0.075, 0.085, 0.1);
    cairo_paint(*cairo);
    return page;
}

void page_led(cairo_t *cairo, double x, double y, double size, const uint8_t *rgb) {
    double red = rgb[0] / 255.0;
    double green = rgb[1] / 255.0;
    double blue = rgb[2] / 255.0;
    cairo_pattern_t *halo = cairo_pattern_create_radial(x, y, size * 0.3, x, y, size * 1.5);
    double most = red > green ? red : green;
    cairo_pattern_add_color_stop_rgba(halo, 0, red, green, blue, 0.4 * (blue > most ? blue : most)); /* a dark one has none */
    cairo_pattern_add_color_stop_rgba(halo, 1, red, green, blue, 0);
    cairo_set_source(cairo, halo);
    cairo_arc(cairo, x, y, size * 1.5, 0, 2 * 3.14159265);
    cairo_fill(cairo);
    cairo_pattern_destroy(halo);
    cairo_arc(cairo, x, y, size * 0.42, 0, 2 * 3.14159265);
    cairo_set_source_rgb(cairo, red, green, blue);
    cairo_fill_preserve(cairo);
    cairo_set_source_rgba(cairo, 0.6, 0.62, 0.66, 0.35);
    cairo_set_line_width(cairo, 0.7);
    cairo_stroke(cairo);
}

int page_save(cairo_surface_t *page, cairo_t *cairo, const char *path) {
    cairo_destroy(cairo);
    int good = output_png(path, page);
    cairo_surface_destroy(page);
    return good ? EXIT_GOOD : EXIT_FILE;
}
