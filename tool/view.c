/* SPDX-License-Identifier: MIT */
/* LEDs as one sees them. Light is added in linear floating point; a field that is full all over comes out as full. */
#include "view.h"

#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "page.h"

#define LENS 0.2 /* steps: the spread of a bare LED */
#define MINUTE (1.0 / 60 / 57.2957795)

double view_spread(double diffuser, double distance, double pitch) {
    double eye = distance * MINUTE / 2.355 / pitch; /* a minute of arc is the width at half height */
    return sqrt(LENS * LENS + diffuser * diffuser / (2.355 * 2.355) + eye * eye);
}

/* What an LED must give at most, so that where all are full together no place is above full. */
static double gain_of(const struct view *view) {
    double most = 1;
    double bound = 3 * view->spread;
    for (size_t i = 0; i < view->leds; i++) {
        double sum = 0;
        for (size_t k = 0; k < view->leds; k++) {
            double x = view->spots[i].x - view->spots[k].x;
            double y = view->spots[i].y - view->spots[k].y;
            if (fabs(x) < bound && fabs(y) < bound) {
                sum += exp(-(x * x + y * y) / (2 * view->spread * view->spread));
            }
        }
        most = sum > most ? sum : most;
    }
    return 1 / most;
}

static int make_stamp(struct view *view) {
    double gain = gain_of(view);
    double spread = view->spread * view->step;
    view->radius = (int)ceil(3 * spread);
    int side = 2 * view->radius + 1;
    view->columns = (int)ceil(view->width * view->step);
    view->rows = (int)ceil(view->height * view->step);
    view->stamp = (float *)calloc((size_t)side * (size_t)side, sizeof *view->stamp);
    view->light = (float *)calloc((size_t)view->columns * (size_t)view->rows * 3, sizeof *view->light);
    for (int y = 0; view->stamp != NULL && y < side; y++) {
        for (int x = 0; x < side; x++) {
            double away = (x - view->radius) * (double)(x - view->radius) + (y - view->radius) * (double)(y - view->radius);
            view->stamp[y * side + x] = (float)(gain * exp(-away / (2 * spread * spread)));
        }
    }
    return view->stamp != NULL && view->light != NULL;
}

int view_open(struct view *view, GLANZ_CONST struct glanz_rig *rig, double room, double most_step, double spread) {
    memset(view, 0, sizeof *view);
    view->leds = spots_of(&view->spots, &view->width, &view->height, rig, 66);
    view->step = room / (view->width > 24 ? view->width : 24);
    view->step = view->step > most_step ? most_step : view->step;
    view->spread = spread;
    return view->spots != NULL && (spread <= 0 || make_stamp(view));
}

void view_close(struct view *view) {
    free(view->spots);
    free(view->stamp);
    free(view->light);
    memset(view, 0, sizeof *view);
}

static void add_stamp(struct view *view, int x, int y, const float color[3]) {
    int side = 2 * view->radius + 1;
    for (int row = y - view->radius < 0 ? 0 : y - view->radius; row <= y + view->radius && row < view->rows; row++) {
        const float *stamp = &view->stamp[(row - y + view->radius) * side];
        for (int column = x - view->radius < 0 ? 0 : x - view->radius; column <= x + view->radius && column < view->columns;
             column++) {
            float part = stamp[column - x + view->radius];
            float *light = &view->light[((size_t)row * (size_t)view->columns + (size_t)column) * 3];
            light[0] += part * color[0];
            light[1] += part * color[1];
            light[2] += part * color[2];
        }
    }
}

static uint32_t code_of(float level) {
    return glanz_coded((uint16_t)lrintf(fminf(level, 1) * 65535));
}

static void draw_light(struct view *view, cairo_t *cairo, double left, double top, const struct session *session) {
    cairo_surface_t *picture = cairo_image_surface_create(CAIRO_FORMAT_RGB24, view->columns, view->rows);
    memset(view->light, 0, (size_t)view->columns * (size_t)view->rows * 3 * sizeof *view->light);
    for (size_t i = 0; i < view->leds; i++) {
        uint8_t rgb[3];
        float color[3];
        session_seen(rgb, session, view->spots[i].output, view->spots[i].led);
        for (int c = 0; c < 3; c++) {
            color[c] = glanz_linear(rgb[c]) / 65535.0f;
        }
        if (color[0] + color[1] + color[2] > 0) {
            add_stamp(view, (int)(view->spots[i].x * view->step), (int)(view->spots[i].y * view->step), color);
        }
    }
    cairo_surface_flush(picture);
    uint8_t *bytes = cairo_image_surface_get_data(picture);
    int stride = cairo_image_surface_get_stride(picture);
    for (int row = 0; bytes != NULL && row < view->rows; row++) {
        uint32_t *pixel = (uint32_t *)(void *)(bytes + (size_t)row * (size_t)stride);
        for (int column = 0; column < view->columns; column++) {
            const float *light = &view->light[((size_t)row * (size_t)view->columns + (size_t)column) * 3];
            pixel[column] = code_of(light[0]) << 16 | code_of(light[1]) << 8 | code_of(light[2]);
        }
    }
    cairo_surface_mark_dirty(picture);
    cairo_set_source_surface(cairo, picture, left, top);
    cairo_paint(cairo);
    cairo_surface_destroy(picture);
}

void view_draw(struct view *view, cairo_t *cairo, double left, double top, const struct session *session) {
    if (view->spread > 0) {
        draw_light(view, cairo, left, top, session);
        return;
    }
    for (size_t i = 0; i < view->leds; i++) {
        uint8_t rgb[3];
        session_seen(rgb, session, view->spots[i].output, view->spots[i].led);
        page_led(cairo, left + view->spots[i].x * view->step, top + view->spots[i].y * view->step, view->step, rgb);
    }
}
