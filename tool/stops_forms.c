/* SPDX-License-Identifier: MIT */
/* Forms of palettes: GIMP's two, CSS Images Level 3, section 3.1 (gradients), and a show's JSON. */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "json.h"
#include "stops_source.h"

/* Where: line and column of a byte. */
int stops_refuse(const struct source *from, size_t at, const char *what) {
    struct glanz_fault *fault = from->fault;
    memset(fault, 0, sizeof *fault);
    fault->line = 1;
    fault->column = 1;
    for (size_t i = 0; i < at && i < from->count; i++) {
        fault->column = from->bytes[i] == '\n' ? 1 : fault->column + 1;
        fault->line += from->bytes[i] == '\n';
    }
    snprintf(fault->text, sizeof fault->text, "%s", what);
    return 0;
}

static int begins(const struct source *from, const char *with) {
    return from->count - from->at >= strlen(with) && memcmp(from->bytes + from->at, with, strlen(with)) == 0;
}

int stops_add(struct stops *stops, double at, const double rgb[3]) {
    if (stops->count == STOPS_MOST) {
        return 0;
    }
    struct stop *stop = &stops->list[stops->count++];
    stop->at = fmin(fmax(at, 0), 1) * 100;
    for (int c = 0; c < 3; c++) {
        stop->rgb[c] = (uint8_t)lrint(fmin(fmax(rgb[c], 0), 255));
    }
    return 1;
}

/* A colour of CSS that has no digits. */
static int named_color(double rgb[3], const char *text, size_t length) {
    static const struct {
        const char *name;
        unsigned rgb;
    } names[] = {{"black", 0},        {"silver", 0xC0C0C0}, {"gray", 0x808080},    {"white", 0xFFFFFF}, {"maroon", 0x800000},
                 {"red", 0xFF0000},   {"purple", 0x800080}, {"fuchsia", 0xFF00FF}, {"green", 0x008000}, {"lime", 0x00FF00},
                 {"olive", 0x808000}, {"yellow", 0xFFFF00}, {"navy", 0x000080},    {"blue", 0x0000FF},  {"teal", 0x008080},
                 {"aqua", 0x00FFFF},  {"orange", 0xFFA500}};
    for (size_t i = 0; i < sizeof names / sizeof names[0]; i++) {
        if (strlen(names[i].name) == length && memcmp(names[i].name, text, length) == 0) {
            rgb[0] = names[i].rgb >> 16;
            rgb[1] = names[i].rgb >> 8 & 255;
            rgb[2] = names[i].rgb & 255;
            return 1;
        }
    }
    return 0;
}

static int css_colored(double rgb[3], const char *text, size_t length) {
    glanz_color color;
    if (named_color(rgb, text, length)) {
        return 1;
    }
    if (length == 0 || text[length - 1] == 'K' || !glanz_color_of_text(&color, text, length, NULL, 0)) {
        return 0;
    }
    struct glanz_light light = glanz_color_light(color, NULL, 0);
    rgb[0] = glanz_coded(light.red);
    rgb[1] = glanz_coded(light.green);
    rgb[2] = glanz_coded(light.blue);
    return 1;
}

static int is_blank(char c) {
    return c == ' ' || c == '\t' || c == '\n' || c == '\r';
}

/* "#ffb000 10% 20%", from `at` to `end`. @param at_of filled: -1 where no place is said. */
static int read_css_stop(struct stops *stops, double *at_of, const struct source *from, size_t at, size_t end) {
    double rgb[3];
    size_t color = at;
    int depth = 0;
    while (at < end && (depth > 0 || !is_blank(from->bytes[at]))) {
        depth += (from->bytes[at] == '(') - (from->bytes[at] == ')');
        at++;
    }
    if (!css_colored(rgb, from->bytes + color, at - color)) {
        return stops_refuse(from, color, "expected a colour: #rrggbb, rgb(), hsl(), or one of the sixteen basic names");
    }
    int places = 0;
    for (;;) {
        while (at < end && is_blank(from->bytes[at])) {
            at++;
        }
        if (at == end) {
            break;
        }
        char *rest;
        char number[32];
        snprintf(number, sizeof number, "%.*s", (int)(end - at < 30 ? end - at : 30), from->bytes + at);
        double place = strtod(number, &rest);
        if (rest == number || (*rest != '%' && !(place == 0 && (*rest == '\0' || is_blank(*rest)))) || places == 2 ||
            !(place >= 0 && place <= 100)) {
            return stops_refuse(from, at, "expected a place from 0% to 100%");
        }
        at += (size_t)(rest - number) + (*rest == '%');
        at_of[stops->count] = place / 100;
        if (!stops_add(stops, 0, rgb)) {
            return stops_refuse(from, at, "too many stops; expected at most 4096");
        }
        places++;
    }
    if (places == 0) {
        at_of[stops->count] = -1;
        return stops_add(stops, 0, rgb) ? 1 : stops_refuse(from, color, "too many stops; expected at most 4096");
    }
    return 1;
}

/* Places that were not said lie evenly between those that were, and none lies before the one in front of it. */
static void place_all(struct stops *stops, double *at_of) {
    int count = stops->count;
    at_of[0] = at_of[0] < 0 ? 0 : at_of[0];
    at_of[count - 1] = at_of[count - 1] < 0 ? 1 : at_of[count - 1];
    double most = at_of[0];
    for (int i = 1; i < count; i++) {
        most = at_of[i] >= 0 ? fmax(most, at_of[i]) : most;
        at_of[i] = at_of[i] >= 0 ? most : -1;
    }
    for (int i = 1; i < count; i++) {
        int next = i;
        while (at_of[next] < 0) {
            next++;
        }
        double step = (at_of[next] - at_of[i - 1]) / (next - i + 1);
        for (; i < next; i++) {
            at_of[i] = at_of[i - 1] + step;
        }
    }
    for (int i = 0; i < count; i++) {
        stops->list[i].at = fmin(fmax(at_of[i], 0), 1) * 100;
    }
}

/* Is this which way it runs, and how it is mixed: "to right in oklab", "45deg"? @return -1: mixed in no way that is read. */
static int css_way(struct stops *stops, const char *text, size_t length) {
    static const struct {
        const char *name;
        int between;
    } mixed[] = {{"srgb", GLANZ_BETWEEN_CODES}, {"srgb-linear", GLANZ_BETWEEN_LIGHT}, {"oklab", GLANZ_BETWEEN_EVEN}};
    char copy[100];
    char *words[8] = {NULL};
    int count = 0;
    snprintf(copy, sizeof copy, "%.*s", (int)(length < sizeof copy ? length : sizeof copy - 1), text);
    for (char *word = strtok(copy, " \t\r\n"); word != NULL && count < 8; word = strtok(NULL, " \t\r\n")) {
        words[count++] = word;
    }
    int is_way = 0;
    for (int i = 0; i < count; i++) {
        size_t letters = strlen(words[i]);
        if (strcmp(words[i], "in") == 0 && i + 1 < count) {
            size_t k = 0;
            while (k < 3 && strcmp(words[i + 1], mixed[k].name) != 0) {
                k++;
            }
            if (k == 3 || (i + 2 < count && strcmp(words[i + 2], "to") != 0 && strncmp(words[i + 2], "at", 2) != 0 &&
                           !(words[i + 2][0] >= '0' && words[i + 2][0] <= '9'))) {
                return -1; /* another space, or a hue's longer way */
            }
            stops->between = mixed[k].between;
            is_way = 1;
        }
        is_way = is_way || strcmp(words[i], "to") == 0 || (letters > 3 && strcmp(words[i] + letters - 3, "deg") == 0) ||
                 (letters > 4 && strcmp(words[i] + letters - 4, "turn") == 0);
    }
    return is_way;
}

static int read_css(struct stops *stops, struct source *from) {
    static double at_of[STOPS_MOST];
    size_t at = (size_t)(strchr(strstr(from->bytes + from->at, "gradient("), '(') - from->bytes) + 1;
    int closed = 0;
    int first = 1;
    const char *repeats = strstr(from->bytes + from->at, "repeating-");
    if (repeats != NULL && repeats < from->bytes + at) {
        return stops_refuse(from, (size_t)(repeats - from->bytes), "expected a gradient that does not repeat");
    }
    while (!closed) {
        while (at < from->count && is_blank(from->bytes[at])) {
            at++;
        }
        size_t end = at;
        int depth = 0;
        while (end < from->count && (depth > 0 || (from->bytes[end] != ',' && from->bytes[end] != ')'))) {
            depth += (from->bytes[end] == '(') - (from->bytes[end] == ')');
            end++;
        }
        if (end == from->count) {
            return stops_refuse(from, end, "the text ends; expected ) behind the gradient");
        }
        closed = from->bytes[end] == ')';
        size_t last = end;
        while (last > at && is_blank(from->bytes[last - 1])) {
            last--;
        }
        int way = first ? css_way(stops, from->bytes + at, last - at) : 0;
        if (way < 0) {
            return stops_refuse(from, at, "expected to be mixed in srgb, in srgb-linear or in oklab");
        }
        if (!way && !read_css_stop(stops, at_of, from, at, last)) {
            return 0;
        }
        first = 0;
        at = end + 1;
    }
    if (stops->count == 0) {
        return stops_refuse(from, at, "expected colours in the gradient");
    }
    place_all(stops, at_of);
    int pairs = stops->count > 2 && stops->count % 2 == 0;
    for (int i = 0; pairs && i < stops->count; i++) {
        const struct stop *stop = &stops->list[i];
        pairs = i % 2 == 0              ? same_color(stop, stop + 1)
                : i + 1 == stops->count ? stop->at > 99.9999
                                        : fabs(stop->at - stop[1].at) < 1e-4;
    }
    if (pairs) { /* each colour up to where the next begins */
        stops->between = GLANZ_BETWEEN_BANDS;
        stops->count /= 2;
        for (int i = 0; i < stops->count; i++) {
            stops->list[i] = stops->list[2 * i];
        }
    }
    return 1;
}

/* A place of 16 bits as it was written: the share with the fewest digits that comes to it. */
static double share_of(uint16_t at) {
    for (double fine = 100; fine <= 1e5; fine *= 10) {
        double share = rint(at / 65535.0 * fine) / fine;
        if (fabs(share * 65535 - at) < 0.75) {
            return share;
        }
    }
    return at / 65535.0;
}

/* As a show's palette: read by the same reader, in a show about it. */
static int read_json(struct stops *stops, struct source *from) {
    static const char head[] = "{\"show\":\"palette\",\"looks\":{},\"segments\":{},\"palettes\":{\"palette\":";
    static const char rig_text[] =
        "{\"rig\":\"r\",\"supplies\":{\"s\":{\"volts\":\"5 "
        "V\"}},\"outputs\":{\"o\":{\"pin\":1,\"supply\":\"s\",\"line\":[{\"chip\":"
        "\"WS2812B\",\"leds\":1}]}},\"surfaces\":{\"a\":{\"strip\":[{\"output\":\"o\",\"first\":0,\"leds\":1}]}}}";
    struct document rig;
    struct document show;
    struct text text = {NULL, 0, 0};
    text_add(rig_text, sizeof rig_text - 1, &text);
    if (document_rig(&rig, text, from->fault) != GLANZ_OK) {
        return 0;
    }
    memset(&text, 0, sizeof text);
    text_add(head, sizeof head - 1, &text);
    text_add(from->bytes, from->count, &text);
    text_add("}}", 2, &text);
    int good = document_show(&show, text, rig.rig, NULL, from->fault) == GLANZ_OK;
    if (good) {
        GLANZ_CONST struct glanz_show_palette *palette = &show.show->palettes[0];
        stops->between = palette->between;
        for (int i = 0; i < palette->chosen_count; i++) {
            struct glanz_light light = glanz_color_light(palette->chosen[i].color, NULL, 0);
            const double rgb[3] = {glanz_coded(light.red), glanz_coded(light.green), glanz_coded(light.blue)};
            (void)stops_add(stops, share_of(palette->chosen[i].at), rgb);
        }
        document_free(&show);
    } else if (from->fault->line == 1 && from->fault->column >= sizeof head) {
        from->fault->column -= (uint32_t)(sizeof head - 1);
    }
    document_free(&rig);
    return good;
}

int stops_read(struct stops *stops, const struct text *text, struct glanz_fault *fault) {
    struct source from = {text->bytes == NULL ? "" : text->bytes, text->count, 0, fault};
    memset(stops, 0, sizeof *stops);
    stops->between = GLANZ_BETWEEN_CODES;
    if (memchr(from.bytes, '\0', from.count) != NULL || begins(&from, "\xFF\xFE") || begins(&from, "\xFE\xFF")) {
        return stops_refuse(&from, 0, "this is no UTF-8 text; expected a GIMP palette or gradient, a CSS gradient, or JSON");
    }
    from.at = begins(&from, "\xEF\xBB\xBF") ? 3 : 0;
    int good;
    if (begins(&from, "GIMP Palette")) {
        good = stops_read_gpl(stops, &from);
    } else if (begins(&from, "GIMP Gradient")) {
        good = stops_read_ggr(stops, &from);
    } else {
        while (from.at < from.count && is_blank(from.bytes[from.at])) {
            from.at++;
        }
        char *copy = strndup(from.bytes, from.count); /* closed by 0, for searching */
        const char *kept = from.bytes;
        from.bytes = copy;
        const char *found = strstr(copy + from.at, "gradient(");
        good = begins(&from, "{") ? (from.bytes = kept, read_json(stops, &from))
               : found != NULL
                   ? read_css(stops, &from)
                   : stops_refuse(&from, from.at, "expected a GIMP palette or gradient, a CSS gradient, or a palette in JSON");
        free(copy);
    }
    return good && stops->count == 0 ? stops_refuse(&from, from.count, "expected at least one colour") : good;
}

int stops_of_library(struct stops *stops, const char *name) {
    memset(stops, 0, sizeof *stops);
    for (uint8_t i = 0; i < glanz_palette_count; i++) {
        if (strcmp(glanz_palettes[i].name, name) == 0) {
            snprintf(stops->name, sizeof stops->name, "%s", name);
            stops->between = glanz_palettes[i].between;
            for (int k = 0; k < glanz_palettes[i].count; k++) {
                struct glanz_light light = glanz_color_light(glanz_palettes[i].stops[k].color, NULL, 0);
                const double rgb[3] = {glanz_coded(light.red), glanz_coded(light.green), glanz_coded(light.blue)};
                (void)stops_add(stops, share_of(glanz_palettes[i].stops[k].at), rgb);
            }
            return 1;
        }
    }
    return 0;
}
