/* SPDX-License-Identifier: MIT */
/* Pages on which LEDs are drawn. */
#ifndef GLANZ_TOOL_PAGE_H
#define GLANZ_TOOL_PAGE_H

#include <stdint.h>

#include <cairo.h>

#define PAGE_WIDTH 1280

/* A dark page. @param cairo filled: draws on it. */
cairo_surface_t *page_new(cairo_t **cairo, int width, int height);
void page_text(cairo_t *cairo, double x, double y, double size, const char *text);
/* A lamp: a disc of what it shows, its light around it, and a rim so that a dark one is seen. @param size from one to the next
 */
void page_led(cairo_t *cairo, double x, double y, double size, const uint8_t *rgb);
/* Write it as a PNG, and free both. @return an exit code. */
int page_save(cairo_surface_t *page, cairo_t *cairo, const char *path);

#endif
