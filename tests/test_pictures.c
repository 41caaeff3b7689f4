/* SPDX-License-Identifier: MIT */
/* Pictures from files that other libraries wrote: PNG with transparency by cairo, GIF with all that it can do by giflib;
 * scaling, palettes; what a store keeps. */
#include <cairo.h>
#include <check.h>
#include <gif_lib.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include <glanz/linux.h>

#include "import.h"
#include "session.h"
#include "suites.h"

static struct text file; /* what a library wrote */

static void setup(void) {
    memset(&file, 0, sizeof file);
}

static void teardown(void) {
    text_free(&file);
}

static cairo_status_t take_png(void *closure, const unsigned char *data, unsigned int length) {
    text_add((const char *)data, length, closure);
    return CAIRO_STATUS_SUCCESS;
}

static double light_of(int coded) { /* IEC 61966-2-1 */
    double c = coded / 255.0;
    return c <= 0.04045 ? c / 12.92 : pow((c + 0.055) / 1.055, 2.4);
}

START_TEST(png_is_read_with_its_transparency) { /* every cover, colours that a byte times a cover can hold */
    cairo_surface_t *surface = cairo_image_surface_create(CAIRO_FORMAT_ARGB32, 256, 9);
    uint32_t *pixels = (uint32_t *)(void *)cairo_image_surface_get_data(surface);
    for (uint32_t y = 0; y < 9; y++) {
        for (uint32_t x = 0; x < 256; x++) { /* cover x, colour half of it and more: premultiplied */
            uint32_t red = x * (y + 1) / 10;
            pixels[y * 256 + x] = x << 24 | red << 16 | x << 8 | (x / 2);
        }
    }
    cairo_surface_mark_dirty(surface);
    ck_assert_int_eq(cairo_surface_write_to_png_stream(surface, take_png, &file), CAIRO_STATUS_SUCCESS);
    cairo_surface_destroy(surface);
    struct frames frames;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    ck_assert_int_eq(import_read(&frames, file.bytes, file.count, &fault), GLANZ_OK);
    ck_assert(frames.columns == 256 && frames.rows == 9 && frames.count == 1);
    for (uint32_t y = 0; y < 9; y++) {
        for (uint32_t x = 1; x < 256; x++) {
            const uint16_t *point = &frames.points[(y * 256 + x) * 4];
            double cover = x / 255.0;
            double red = light_of((int)lround((double)(x * (y + 1) / 10) * 255 / x)) * cover;
            REQUIRE(fabs(point[3] / 65535.0 - cover) < 1e-4);
            REQUIRE_MSG(fabs(point[1] / 65535.0 - cover) < 1e-3, "green at %u: %u", x, point[1]); /* full green */
            /* PNG keeps a byte of colour: what cairo rounds there is off by one step at the most */
            REQUIRE_MSG(fabs(point[0] / 65535.0 - red) < 0.013 * cover + 1e-4, "red at %u, %u: %f, not %f", x, y,
                        point[0] / 65535.0, red);
        }
    }
    import_free(&frames);
}
END_TEST

static int take_gif(GifFileType *gif, const GifByteType *bytes, int count) {
    text_add((const char *)bytes, (size_t)count, gif->UserData);
    return count;
}

struct part { /* of a moving picture: where, how it goes on, for how long */
    int left, top, columns, rows, disposal, transparent, hundredths, interlaced;
};

START_TEST(gif_is_composed_as_it_says) { /* parts anywhere, transparent colours, all ways to dispose, interlaced; against a
                                            canvas kept here */
    enum { WIDE = 13, HIGH = 11, PARTS = 60 };
    static const GifColorType colors[8] = {{0, 0, 0},       {255, 0, 0},   {0, 255, 0},   {0, 0, 255},
                                           {255, 255, 255}, {255, 128, 0}, {128, 64, 32}, {7, 77, 177}};
    struct part parts[PARTS];
    uint8_t points[PARTS][WIDE * HIGH];
    int error = 0;
    GifFileType *gif = EGifOpen(&file, take_gif, &error);
    ColorMapObject *map = GifMakeMapObject(8, colors);
    ck_assert_ptr_nonnull(gif);
    EGifSetGifVersion(gif, true);
    ck_assert_int_eq(EGifPutScreenDesc(gif, WIDE, HIGH, 3, 0, map), GIF_OK);
    for (uint32_t p = 0; p < PARTS; p++) {
        uint32_t draw = glanz_hash(p);
        struct part *part = &parts[p];
        part->left = (int)(draw % WIDE);
        part->top = (int)(draw / 16 % HIGH);
        part->columns = 1 + (int)(draw / 256 % (uint32_t)(WIDE - part->left));
        part->rows = 1 + (int)(draw / 4096 % (uint32_t)(HIGH - part->top));
        part->disposal = (int)(draw >> 16 & 3);
        part->transparent = draw >> 18 & 1 ? (int)(draw >> 19 & 7) : NO_TRANSPARENT_COLOR;
        part->hundredths = (int)(draw >> 22 & 31);
        part->interlaced = draw >> 28 & 1;
        GraphicsControlBlock control = {part->disposal, false, part->hundredths, part->transparent};
        GifByteType extension[4];
        EGifGCBToExtension(&control, extension);
        ck_assert_int_eq(EGifPutExtension(gif, GRAPHICS_EXT_FUNC_CODE, 4, extension), GIF_OK);
        ck_assert_int_eq(EGifPutImageDesc(gif, part->left, part->top, part->columns, part->rows, part->interlaced, NULL),
                         GIF_OK);
        static const int first[] = {0, 4, 2, 1};
        static const int step[] = {8, 8, 4, 2};
        for (int i = 0; i < part->columns * part->rows; i++) {
            points[p][i] = (uint8_t)(glanz_hash2(p, (uint32_t)i) & 7);
        }
        for (int pass = 0; pass < (part->interlaced ? 4 : 1); pass++) {
            for (int y = part->interlaced ? first[pass] : 0; y < part->rows; y += part->interlaced ? step[pass] : 1) {
                ck_assert_int_eq(EGifPutLine(gif, &points[p][y * part->columns], part->columns), GIF_OK);
            }
        }
    }
    ck_assert_int_eq(EGifCloseFile(gif, &error), GIF_OK);
    GifFreeMapObject(map);
    struct frames frames;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    glanz_status status = import_read(&frames, file.bytes, file.count, &fault);
    ck_assert_msg(status == GLANZ_OK, "%s", fault.text);
    ck_assert_uint_eq(frames.count, PARTS);
    int canvas[HIGH][WIDE];
    int before[HIGH][WIDE];
    memset(canvas, -1, sizeof canvas); /* nothing anywhere */
    for (int p = 0; p < PARTS; p++) {
        const struct part *part = &parts[p];
        memcpy(before, canvas, sizeof canvas);
        for (int i = 0; i < part->columns * part->rows; i++) {
            if (points[p][i] != part->transparent) {
                canvas[part->top + i / part->columns][part->left + i % part->columns] = points[p][i];
            }
        }
        ck_assert_uint_eq(frames.ms[p], part->hundredths == 0 ? 100 : part->hundredths * 10);
        for (int i = 0; i < WIDE * HIGH; i++) {
            const uint16_t *point = &frames.points[((size_t)p * WIDE * HIGH + (size_t)i) * 4];
            int index = canvas[i / WIDE][i % WIDE];
            REQUIRE(point[3] == (index < 0 ? 0 : 65535));
            REQUIRE(index < 0 ||
                    (point[0] == glanz_linear(colors[index].Red) && point[1] == glanz_linear(colors[index].Green) &&
                     point[2] == glanz_linear(colors[index].Blue)));
        }
        for (int y = part->top; part->disposal == DISPOSE_BACKGROUND && y < part->top + part->rows; y++) {
            for (int x = part->left; x < part->left + part->columns; x++) {
                canvas[y][x] = -1;
            }
        }
        if (part->disposal == DISPOSE_PREVIOUS) {
            memcpy(canvas, before, sizeof canvas);
        }
    }
    import_free(&frames);
}
END_TEST

/* A picture of light, drawn at random. */
static struct frames make_frames(uint32_t columns, uint32_t rows, uint32_t seed, uint32_t colors) {
    struct frames frames = {columns, rows, 1, 1, NULL, NULL};
    frames.points = (uint16_t *)calloc((size_t)columns * rows * 4, sizeof *frames.points);
    frames.ms = (uint16_t *)calloc(1, sizeof *frames.ms);
    for (size_t i = 0; i < (size_t)columns * rows; i++) {
        uint32_t draw = glanz_hash2(seed, (uint32_t)i % colors);
        uint32_t cover = draw >> 24;
        frames.points[4 * i + 3] = (uint16_t)(cover * 257u);
        for (int c = 0; c < 3; c++) {
            frames.points[4 * i + (size_t)c] = (uint16_t)(glanz_linear((uint8_t)(draw >> (8 * c))) * cover / 255u);
        }
    }
    return frames;
}

START_TEST(scaling_keeps_the_light) { /* of every channel, whatever the sizes; and a flat picture stays flat */
    for (uint32_t draw = 0; draw < 60; draw++) {
        uint32_t columns = 1 + glanz_hash(draw) % 90;
        uint32_t rows = 1 + glanz_hash(draw + 500) % 70;
        uint32_t to_columns = 1 + glanz_hash(draw + 1000) % columns;
        uint32_t to_rows = 1 + glanz_hash(draw + 1500) % rows;
        struct frames frames = make_frames(columns, rows, draw, draw % 4 == 0 ? 1 : 100000);
        uint16_t flat[4];
        double before[4] = {0, 0, 0, 0};
        double after[4] = {0, 0, 0, 0};
        memcpy(flat, frames.points, sizeof flat);
        for (size_t i = 0; i < (size_t)columns * rows * 4; i++) {
            before[i % 4] += frames.points[i];
        }
        ck_assert_int_eq(import_scale(&frames, to_columns, to_rows, 0), 1);
        ck_assert(frames.columns == to_columns && frames.rows == to_rows);
        for (size_t i = 0; i < (size_t)to_columns * to_rows * 4; i++) {
            after[i % 4] += frames.points[i];
            REQUIRE(draw % 4 != 0 || frames.points[i] == flat[i % 4]);
        }
        for (int c = 0; c < 4; c++) {
            double one = before[c] / (columns * rows);
            double other = after[c] / (to_columns * to_rows);
            REQUIRE_MSG(fabs(one - other) <= 1.0, "%u x %u to %u x %u: %f became %f", columns, rows, to_columns, to_rows, one,
                        other);
        }
        import_free(&frames);
    }
    struct frames wide = make_frames(100, 30, 1, 99);
    ck_assert_int_eq(import_scale(&wide, 20, 12, 1), 1); /* the same proportions: it fits the width */
    ck_assert(wide.columns == 20 && wide.rows == 6);
    ck_assert_int_eq(import_scale(&wide, 300, 300, 1), 1); /* never up */
    ck_assert(wide.columns == 20 && wide.rows == 6);
    import_free(&wide);
}
END_TEST

START_TEST(
    palettes_hold_every_colour_they_can) { /* up to 256 exactly; beyond that the tool says how far off it is, and that is so */
    static const uint32_t colors[] = {1, 2, 17, 256, 3000};
    for (int k = 0; k < 5; k++) {
        struct frames frames = make_frames(60, 50, 7, colors[k]);
        struct packed packed;
        struct glanz_picture_head head;
        static uint8_t points[3000];
        ck_assert_int_eq(import_pack(&packed, &frames), 1);
        const uint8_t *bytes = (const uint8_t *)packed.bytes.bytes;
        ck_assert_int_eq(glanz_picture_open(&head, bytes, (uint32_t)packed.bytes.count, 1), GLANZ_OK);
        ck_assert_uint_le(head.colors, colors[k] < 256 ? colors[k] : 256);
        uint32_t at = head.first;
        (void)glanz_picture_frame(points, &at, &head, bytes, 1);
        int most = 0;
        for (size_t i = 0; i < 3000; i++) {
            const uint8_t *entry = bytes + 12 + 4 * points[i];
            const uint16_t *point = &frames.points[4 * i];
            int cover = (point[3] + 128) / 257;
            int off = abs(entry[3] - cover);
            for (int c = 0; c < 3 && cover != 0; c++) {
                int coded = glanz_coded((uint16_t)((uint64_t)point[c] * 65535u / point[3] > 65535
                                                       ? 65535
                                                       : ((uint64_t)point[c] * 65535u + point[3] / 2u) / point[3]));
                off = abs(entry[c] - coded) > off ? abs(entry[c] - coded) : off;
            }
            most = off > most ? off : most;
        }
        REQUIRE_MSG(most <= (int)packed.off, "%u colours: off by %d, said %u", colors[k], most, packed.off);
        REQUIRE(colors[k] > 256 || packed.off == 0);
        text_free(&packed.bytes);
        import_free(&frames);
    }
}
END_TEST

/* ---- the store ---- */

static struct glanz_board *open_board(const char *path) {
    GLANZ_ONE_STRIP(any, glanz_chip_ws2812b, 1);
    struct glanz_board_setup with;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    memset(&with, 0, sizeof with);
    with.store = path;
    with.hardware = &any;
    struct glanz_board *board = glanz_board_open(&with, &fault);
    ck_assert_ptr_nonnull(board);
    return board;
}

START_TEST(store_keeps_pictures) { /* by name, in place of one of that name; full, forgotten, damaged: each told, and nothing
                                      else lost */
    char folder[] = "/tmp/glanz-pictures-XXXXXX";
    static uint8_t memory[60000];
    static uint8_t packed[33][300];
    uint32_t count[33];
    ck_assert_ptr_nonnull(mkdtemp(folder));
    char path[64];
    snprintf(path, sizeof path, "%s/store.flash", folder);
    struct glanz_board *board = open_board(path);
    void *store_memory;
    struct glanz_store *store = store_open(&store_memory, board, path);
    struct glanz_picture pictures[GLANZ_PICTURES_MOST];
    uint8_t loaded = 9;
    uint8_t damaged = 9;
    ck_assert_int_eq(glanz_pictures_load(store, memory, sizeof memory, pictures, GLANZ_PICTURES_MOST, &loaded, &damaged),
                     GLANZ_OK);
    ck_assert(loaded == 0 && damaged == 0);
    for (int i = 0; i < 33; i++) {
        static const uint8_t palette[8] = {1, 2, 3, 255, 9, 8, 7, 255};
        static const uint16_t ms = 5;
        uint8_t points[100];
        char name[8];
        struct glanz_picture_head head = {10, (uint16_t)(1 + i % 10), 1, 2, 0};
        for (uint32_t k = 0; k < 100; k++) {
            points[k] = (uint8_t)(glanz_hash2((uint32_t)i, k) & 1);
        }
        count[i] = glanz_picture_pack(packed[i], sizeof packed[i], &head, palette, points, &ms);
        snprintf(name, sizeof name, "p%d", i);
        ck_assert_int_eq(glanz_pictures_keep(store, name, packed[i], count[i], memory, sizeof memory),
                         i < 32 ? GLANZ_OK : GLANZ_ERR_FULL);
    }
    ck_assert_int_eq(glanz_pictures_keep(store, "p7", packed[32], count[32], memory, sizeof memory),
                     GLANZ_OK);                                                                   /* in its place */
    ck_assert_int_eq(glanz_pictures_keep(store, "p9", NULL, 0, memory, sizeof memory), GLANZ_OK); /* forgotten */
    ck_assert_int_eq(glanz_pictures_keep(store, "p9", NULL, 0, memory, sizeof memory), GLANZ_ERR_ABSENT);
    ck_assert_int_eq(glanz_pictures_keep(store, "", packed[0], count[0], memory, sizeof memory), GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(
        glanz_pictures_keep(store, "a name of more than thirty-one bytes", packed[0], count[0], memory, sizeof memory),
        GLANZ_ERR_ARGUMENT);
    ck_assert_int_eq(glanz_pictures_keep(store, "x", packed[0], count[0] - 1, memory, sizeof memory), GLANZ_ERR_DAMAGED);
    ck_assert_int_eq(glanz_pictures_keep(store, "x", packed[0], count[0], memory, 10), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_pictures_keep(NULL, "x", packed[0], count[0], memory, sizeof memory), GLANZ_ERR_ARGUMENT);
    glanz_board_close(board);
    char line[200];
    free(store_memory);
    board = open_board(path); /* a restart */
    store = store_open(&store_memory, board, path);
    memcpy(memory, "p3\0and this is no picture", 24); /* another program wrote there */
    ck_assert_int_eq(glanz_store_save(store, GLANZ_KEY_PICTURES + 3, memory, 24), GLANZ_OK);
    ck_assert_int_eq(glanz_store_finish(store), GLANZ_OK);
    ck_assert_int_eq(glanz_pictures_load(store, memory, sizeof memory, pictures, GLANZ_PICTURES_MOST, &loaded, &damaged),
                     GLANZ_OK);
    ck_assert_uint_eq(loaded, 30);
    ck_assert_uint_eq(damaged, 1);
    for (uint8_t i = 0; i < loaded; i++) {
        int number = atoi(pictures[i].name + 1);
        int is = number == 7 ? 32 : number;
        ck_assert(number != 9 && number != 3);
        ck_assert_uint_eq(pictures[i].count, count[is]);
        ck_assert_mem_eq(pictures[i].bytes, packed[is], count[is]);
    }
    ck_assert_int_eq(glanz_pictures_load(store, memory, 500, pictures, GLANZ_PICTURES_MOST, &loaded, NULL), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_pictures_load(store, memory, sizeof memory, pictures, 2, &loaded, NULL), GLANZ_ERR_MEMORY);
    ck_assert_int_eq(glanz_pictures_load(store, memory, sizeof memory, NULL, 2, &loaded, NULL), GLANZ_ERR_ARGUMENT);
    free(store_memory);
    glanz_board_close(board);
    snprintf(line, sizeof line, "rm -r %s", folder);
    ck_assert_int_eq(system(line), 0);
}
END_TEST

/* ---- moving pictures that the tool writes, read by the reader of others' ---- */

static void write_file(const char *path, const char *text) {
    FILE *made = fopen(path, "w");
    ck_assert_ptr_nonnull(made);
    for (; *text != '\0'; text++) {
        fputc(*text == '\'' ? '"' : *text, made);
    }
    ck_assert_int_eq(fclose(made), 0);
}

/* The codes of a point of a frame. */
static void point_at(int rgb[3], const struct frames *frames, uint32_t frame, double x, double y) {
    const uint16_t *point = &frames->points[((frame * frames->rows + (uint32_t)y) * frames->columns + (uint32_t)x) * 4];
    for (int c = 0; c < 3; c++) {
        rgb[c] = glanz_coded(point[c]);
    }
}

static void draw_moving(struct frames *frames, const char *folder, const char *options) {
    char line[600];
    char path[200];
    struct text text;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    snprintf(path, sizeof path, "%s/m.gif", folder);
    snprintf(line, sizeof line, "%s sheet %s/rig.json %s/show.json --gif %s -o %s 2> /dev/null", GLANZ_TOOL_PATH, folder,
             folder, options, path);
    ck_assert_msg(system(line) == 0, "%s", line);
    ck_assert(text_read(&text, path));
    ck_assert_int_eq(import_read(frames, text.bytes, text.count, &fault), GLANZ_OK);
    text_free(&text);
}

START_TEST(moving_pictures_show_the_leds) {
    char folder[] = "/tmp/glanz-moving-XXXXXX";
    char path[300];
    struct frames frames;
    int rgb[3];
    ck_assert_ptr_nonnull(mkdtemp(folder));
    snprintf(path, sizeof path, "%s/rig.json", folder);
    write_file(
        path,
        "{'rig':'t','supplies':{'s':{'volts':'5 V'}},'outputs':{'o':{'pin':1,'supply':'s','line':[{'chip':'WS2812B','leds':60}]"
        "}},'surfaces':{'a':{'strip':[{'output':'o','first':0,'leds':60}]}}}");
    snprintf(path, sizeof path, "%s/show.json", folder);
    write_file(
        path,
        "{'show':'one','brightness':'100 %','looks':{'l':{'effect':'walker','color':'#ff8000','background':'#002040','size':'1 "
        "leds','speed':'25 leds/s'}},'segments':{'a':{'surface':'a','look':'l'}}}");
    draw_moving(&frames, folder, "--over 2s --from 1s");
    double step = 680.0 / 60;
    ck_assert_uint_eq(frames.count, 50);
    for (uint32_t i = 0; i < frames.count; i++) { /* every 40 ms the dot is a LED further, also in the picture */
        ck_assert_uint_eq(frames.ms[i], 40);
        int brightest = -1;
        int most = 0;
        for (int led = 0; led < 60; led++) {
            point_at(rgb, &frames, i, 20 + (led + 0.5) * step, 20 + 0.5 * step);
            brightest = rgb[0] > most ? led : brightest;
            most = rgb[0] > most ? rgb[0] : most;
        }
        ck_assert_msg((brightest - 23 - (int)i + 120) % 60 < 3, "frame %u: LED %d", i, brightest);
        point_at(rgb, &frames, i, 20 + ((brightest + 30) % 60 + 0.5) * step, 20 + 0.5 * step);
        ck_assert(rgb[0] < 30 && abs(rgb[1] - 0x20) < 24 && abs(rgb[2] - 0x40) < 24);
    }
    import_free(&frames);
    /* behind a diffuser: full is full in the middle of all, less at the end of the line, nothing where nothing is */
    write_file(
        path,
        "{'show':'two','brightness':'100 %','looks':{'l':{'effect':'plain','color':'#ffffff'}},'segments':{'a':{'surface':'a',"
        "'first':0,'leds':40,'look':'l'}}}");
    draw_moving(&frames, folder, "--over 80ms --from 2s --diffuser '2 leds'");
    point_at(rgb, &frames, 1, 20 + 20 * step, 20 + 0.5 * step);
    ck_assert(rgb[0] > 245 && rgb[1] > 245 && rgb[2] > 245);
    point_at(rgb, &frames, 1, 20 + 39.9 * step, 20 + 0.5 * step);
    ck_assert(rgb[0] > 150 && rgb[0] < 215); /* half the light: code 188 */
    point_at(rgb, &frames, 1, 20 + 50 * step, 20 + 0.5 * step);
    ck_assert_int_lt(rgb[0], 8);
    import_free(&frames);
    /* two beside each other */
    snprintf(path, sizeof path, "%s/other.json", folder);
    write_file(path, "{'show':'other','brightness':'100 "
                     "%','looks':{'l':{'effect':'plain','color':'#00ff00'}},'segments':{'a':{'surface':'a',"
                     "'look':'l'}}}");
    char options[400];
    snprintf(options, sizeof options, "--over 40ms --from 2s --beside %s", path);
    draw_moving(&frames, folder, options);
    step = (680 - 24) / 2.0 / 60;
    point_at(rgb, &frames, 0, 20 + 5.5 * step, 20 + 22 + 0.5 * step);
    ck_assert(rgb[0] > 200 && rgb[1] > 200);
    point_at(rgb, &frames, 0, 20 + 60 * step + 24 + 5.5 * step, 20 + 22 + 0.5 * step);
    ck_assert(rgb[0] < 60 && rgb[1] > 200);
    import_free(&frames);
    snprintf(options, sizeof options, "rm -r %s", folder);
    ck_assert_int_eq(system(options), 0);
}
END_TEST

Suite *pictures_suite(void) {
    Suite *suite = suite_create("pictures");
    TCase *tcase = tcase_create("Pictures");
    tcase_set_timeout(tcase, 120);
    tcase_add_checked_fixture(tcase, setup, teardown);
    tcase_add_test(tcase, png_is_read_with_its_transparency);
    tcase_add_test(tcase, moving_pictures_show_the_leds);
    tcase_add_test(tcase, gif_is_composed_as_it_says);
    tcase_add_test(tcase, scaling_keeps_the_light);
    tcase_add_test(tcase, palettes_hold_every_colour_they_can);
    tcase_add_test(tcase, store_keeps_pictures);
    suite_add_tcase(suite, tcase);
    return suite;
}
