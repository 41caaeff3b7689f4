/* SPDX-License-Identifier: MIT */
/* Pictures from files: PNG by cairo, GIF by giflib; scaled in linear light, packed with a palette of up to 256 colours. */
#include "import.h"

#include <cairo.h>
#include <gif_lib.h>
#include <stdlib.h>
#include <string.h>

static glanz_status fail(struct glanz_fault *fault, const char *text) {
    glanz_fault_begin(fault);
    glanz_fault_add(fault, text);
    return GLANZ_ERR_TEXT;
}

struct source { /* bytes that a library reads */
    const uint8_t *bytes;
    size_t count, at;
};

static int take_frames(struct frames *frames, uint32_t columns, uint32_t rows) {
    memset(frames, 0, sizeof *frames);
    frames->columns = columns;
    frames->rows = rows;
    return columns != 0 && rows != 0 && columns <= IMPORT_SIDE_MOST && rows <= IMPORT_SIDE_MOST;
}

/* Room for one more frame. @return its points, or NULL. */
static uint16_t *add_frame(struct frames *frames, uint16_t ms) {
    size_t all = (size_t)frames->columns * frames->rows;
    if (frames->count == frames->capacity) {
        uint32_t capacity = frames->capacity * 2 + 1;
        uint16_t *points = (uint16_t *)realloc(frames->points, all * capacity * 4 * sizeof *points);
        uint16_t *times = (uint16_t *)realloc(frames->ms, capacity * sizeof *times);
        frames->points = points == NULL ? frames->points : points;
        frames->ms = times == NULL ? frames->ms : times;
        if (points == NULL || times == NULL) {
            return NULL;
        }
        frames->capacity = capacity;
    }
    frames->ms[frames->count] = ms;
    return frames->points + all * 4 * frames->count++;
}

void import_free(struct frames *frames) {
    free(frames->points);
    free(frames->ms);
    memset(frames, 0, sizeof *frames);
}

static void put_point(uint16_t *to, uint8_t red, uint8_t green, uint8_t blue, uint8_t cover) {
    to[0] = (uint16_t)(glanz_linear(red) * (uint32_t)cover / 255u);
    to[1] = (uint16_t)(glanz_linear(green) * (uint32_t)cover / 255u);
    to[2] = (uint16_t)(glanz_linear(blue) * (uint32_t)cover / 255u);
    to[3] = (uint16_t)(cover * 257u);
}

/* ---- PNG (ISO/IEC 15948) ---- */

static cairo_status_t read_png(void *closure, unsigned char *data, unsigned int length) {
    struct source *source = (struct source *)closure;
    if (length > source->count - source->at) {
        return CAIRO_STATUS_READ_ERROR;
    }
    memcpy(data, source->bytes + source->at, length);
    source->at += length;
    return CAIRO_STATUS_SUCCESS;
}

static uint32_t big32(const uint8_t *bytes) {
    return (uint32_t)bytes[0] << 24 | (uint32_t)bytes[1] << 16 | (uint32_t)bytes[2] << 8 | bytes[3];
}

static glanz_status import_png(struct frames *frames, struct source *source, struct glanz_fault *fault) {
    if (source->count < 33 || memcmp(source->bytes + 12, "IHDR", 4) != 0) {
        return fail(fault, "the PNG ends in its head; expected a whole file");
    }
    if (!take_frames(frames, big32(source->bytes + 16), big32(source->bytes + 20))) {
        return fail(fault, "the picture is too large; expected 1 to 4096 columns and rows");
    }
    cairo_surface_t *surface = cairo_image_surface_create_from_png_stream(read_png, source);
    cairo_format_t format = cairo_image_surface_get_format(surface);
    int good = cairo_surface_status(surface) == CAIRO_STATUS_SUCCESS &&
               (format == CAIRO_FORMAT_ARGB32 || format == CAIRO_FORMAT_RGB24) &&
               cairo_image_surface_get_width(surface) == (int)frames->columns &&
               cairo_image_surface_get_height(surface) == (int)frames->rows;
    uint16_t *points = good ? add_frame(frames, 1000) : NULL;
    const unsigned char *data = good ? cairo_image_surface_get_data(surface) : NULL;
    size_t stride = good ? (size_t)cairo_image_surface_get_stride(surface) : 0;
    for (uint32_t y = 0; points != NULL && y < frames->rows; y++) {
        for (uint32_t x = 0; x < frames->columns; x++, points += 4) {
            uint32_t pixel; /* in the machine's byte order; coded colour times cover */
            memcpy(&pixel, data + y * stride + x * 4u, 4);
            uint8_t cover = format == CAIRO_FORMAT_RGB24 ? 255 : (uint8_t)(pixel >> 24);
            uint8_t color[3] = {(uint8_t)(pixel >> 16), (uint8_t)(pixel >> 8), (uint8_t)pixel};
            for (int c = 0; c < 3 && cover != 0; c++) {
                uint32_t own = (color[c] * 255u + cover / 2u) / cover;
                color[c] = (uint8_t)(own > 255u ? 255u : own);
            }
            put_point(points, color[0], color[1], color[2], cover);
        }
    }
    cairo_surface_destroy(surface);
    if (frames->count == 0) {
        import_free(frames);
        return fail(fault,
                    good ? "out of memory" : "the PNG is damaged, or of a kind that is not read; expected 8 bits a channel");
    }
    return GLANZ_OK;
}

/* ---- GIF (89a) ---- */

static int read_gif(GifFileType *gif, GifByteType *to, int count) {
    struct source *source = (struct source *)gif->UserData;
    size_t left = source->count - source->at;
    size_t some = (size_t)count < left ? (size_t)count : left;
    memcpy(to, source->bytes + source->at, some);
    source->at += some;
    return (int)some;
}

struct canvas {
    uint8_t *rgba, *before; /* before: for frames that are taken back */
    uint32_t columns, rows;
};

static void clear_part(struct canvas *canvas, const GifImageDesc *part) {
    for (int y = 0; y < part->Height; y++) {
        memset(canvas->rgba + ((size_t)(part->Top + y) * canvas->columns + (size_t)part->Left) * 4u, 0,
               (size_t)part->Width * 4u);
    }
}

/* One picture of the file onto the canvas. @return 0 when it is damaged. */
static int draw_part(struct canvas *canvas, GifFileType *gif, int transparent) {
    const GifImageDesc *part = &gif->Image;
    const ColorMapObject *map = part->ColorMap != NULL ? part->ColorMap : gif->SColorMap;
    GifPixelType line[IMPORT_SIDE_MOST];
    static const int first[] = {0, 4, 2, 1};
    static const int step[] = {8, 8, 4, 2};
    if (map == NULL || part->Left < 0 || part->Top < 0 || part->Width <= 0 || part->Height <= 0 ||
        part->Left + part->Width > (int)canvas->columns || part->Top + part->Height > (int)canvas->rows) {
        return 0;
    }
    for (int pass = part->Interlace ? 0 : 3; pass < 4; pass++) {
        for (int y = part->Interlace ? first[pass] : 0; y < part->Height; y += part->Interlace ? step[pass] : 1) {
            if (DGifGetLine(gif, line, part->Width) == GIF_ERROR) {
                return 0;
            }
            uint8_t *to = canvas->rgba + ((size_t)(part->Top + y) * canvas->columns + (size_t)part->Left) * 4u;
            for (int x = 0; x < part->Width; x++, to += 4) {
                if (line[x] >= map->ColorCount) {
                    return 0;
                }
                if (line[x] != transparent) {
                    const GifColorType *color = &map->Colors[line[x]];
                    to[0] = color->Red;
                    to[1] = color->Green;
                    to[2] = color->Blue;
                    to[3] = 255;
                }
            }
        }
    }
    return 1;
}

/* A picture, the time it stands, and what is to become of it. @return what is wrong, or NULL. */
static const char *read_part(struct frames *frames, struct canvas *canvas, GifFileType *gif,
                             const GraphicsControlBlock *control) {
    size_t all = (size_t)canvas->columns * canvas->rows;
    if (DGifGetImageDesc(gif) == GIF_ERROR) {
        return "the GIF is damaged; expected a whole file";
    }
    if (frames->count >= GLANZ_PICTURE_FRAMES || all * (frames->count + 1u) > IMPORT_POINTS_MOST) {
        return "the GIF has too many pictures; expected at most 1000, and 64 million points together";
    }
    memcpy(canvas->before, canvas->rgba, all * 4u);
    if (!draw_part(canvas, gif, control->TransparentColor)) {
        return "a picture in the GIF is damaged; expected one that lies within the whole";
    }
    /* hundredths of a second; a picture without a time stands for a tenth */
    uint32_t ms = control->DelayTime <= 0 ? 100u : (uint32_t)control->DelayTime * 10u;
    uint16_t *to = add_frame(frames, (uint16_t)(ms > 65535u ? 65535u : ms));
    if (to == NULL) {
        return "out of memory";
    }
    for (size_t i = 0; i < all; i++) {
        const uint8_t *from = canvas->rgba + i * 4u;
        put_point(to + i * 4u, from[0], from[1], from[2], from[3]);
    }
    if (control->DisposalMode == DISPOSE_BACKGROUND) {
        clear_part(canvas, &gif->Image);
    } else if (control->DisposalMode == DISPOSE_PREVIOUS) {
        memcpy(canvas->rgba, canvas->before, all * 4u);
    }
    return NULL;
}

static const char *read_records(struct frames *frames, struct canvas *canvas, GifFileType *gif) {
    GraphicsControlBlock control = {DISPOSAL_UNSPECIFIED, false, 0, NO_TRANSPARENT_COLOR};
    const char *wrong = NULL;
    GifRecordType record = UNDEFINED_RECORD_TYPE;
    while (wrong == NULL && record != TERMINATE_RECORD_TYPE) {
        GifByteType *extension = NULL;
        int code = 0;
        if (DGifGetRecordType(gif, &record) == GIF_ERROR) {
            return "the GIF is cut short or damaged; expected a whole file";
        }
        if (record == IMAGE_DESC_RECORD_TYPE) {
            wrong = read_part(frames, canvas, gif, &control);
            control.TransparentColor = NO_TRANSPARENT_COLOR;
            control.DisposalMode = DISPOSAL_UNSPECIFIED;
            control.DelayTime = 0;
        } else if (record == EXTENSION_RECORD_TYPE) {
            if (DGifGetExtension(gif, &code, &extension) == GIF_ERROR) {
                return "the GIF is damaged; expected a whole file";
            }
            if (code == GRAPHICS_EXT_FUNC_CODE && extension != NULL) {
                (void)DGifExtensionToGCB(extension[0], extension + 1, &control);
            }
            while (extension != NULL) {
                if (DGifGetExtensionNext(gif, &extension) == GIF_ERROR) {
                    return "the GIF is damaged; expected a whole file";
                }
            }
        }
    }
    return wrong != NULL ? wrong : frames->count == 0 ? "the GIF has no picture; expected one at least" : NULL;
}

static glanz_status import_gif(struct frames *frames, struct source *source, struct glanz_fault *fault) {
    int error = 0;
    const char *wrong = NULL;
    GifFileType *gif = DGifOpen(source, read_gif, &error);
    if (gif == NULL) {
        return fail(fault, "the GIF is damaged in its head; expected a whole file");
    }
    if (!take_frames(frames, (uint32_t)gif->SWidth, (uint32_t)gif->SHeight)) {
        wrong = "the picture is too large; expected 1 to 4096 columns and rows";
    } else {
        struct canvas canvas = {NULL, NULL, frames->columns, frames->rows};
        size_t bytes = (size_t)canvas.columns * canvas.rows * 4u;
        canvas.rgba = (uint8_t *)calloc(1, bytes);
        canvas.before = (uint8_t *)calloc(1, bytes);
        wrong = canvas.rgba == NULL || canvas.before == NULL ? "out of memory" : read_records(frames, &canvas, gif);
        free(canvas.rgba);
        free(canvas.before);
    }
    (void)DGifCloseFile(gif, &error);
    if (wrong != NULL) {
        import_free(frames);
        return fail(fault, wrong);
    }
    return GLANZ_OK;
}

glanz_status import_read(struct frames *frames, const char *bytes, size_t count, struct glanz_fault *fault) {
    static const uint8_t png[] = {0x89, 'P', 'N', 'G', 13, 10, 26, 10};
    struct source source = {(const uint8_t *)bytes, count, 0};
    memset(frames, 0, sizeof *frames);
    if (count > IMPORT_BYTES_MOST) {
        return fail(fault, "the file is too large; expected at most 32 MB");
    }
    if (count >= sizeof png && memcmp(bytes, png, sizeof png) == 0) {
        return import_png(frames, &source, fault);
    }
    if (count >= 6 && (memcmp(bytes, "GIF87a", 6) == 0 || memcmp(bytes, "GIF89a", 6) == 0)) {
        return import_gif(frames, &source, fault);
    }
    return fail(fault, "neither a PNG nor a GIF; expected one of the two");
}

/* ---- scaling ---- */

/* One line of `from` points to one of `to`, each the mean of what it covers, in 1/to of a point. */
static void scale_line(uint16_t *out, size_t out_step, const uint16_t *in, size_t in_step, uint32_t from, uint32_t to) {
    for (uint32_t i = 0; i < to; i++) {
        uint64_t sum[4] = {0, 0, 0, 0};
        uint64_t low = (uint64_t)i * from;
        uint64_t high = low + from;
        for (uint64_t k = low / to; k * to < high; k++) {
            uint64_t begin = k * to > low ? k * to : low;
            uint64_t end = (k + 1) * to < high ? (k + 1) * to : high;
            for (int c = 0; c < 4; c++) {
                sum[c] += in[k * in_step + (size_t)c] * (end - begin);
            }
        }
        for (int c = 0; c < 4; c++) {
            out[i * out_step + (size_t)c] = (uint16_t)((sum[c] + from / 2u) / from);
        }
    }
}

int import_scale(struct frames *frames, uint32_t columns, uint32_t rows, int keep) {
    if (keep && (uint64_t)frames->columns * rows > (uint64_t)columns * frames->rows) {
        rows = (uint32_t)(((uint64_t)frames->rows * columns + frames->columns / 2u) / frames->columns);
    } else if (keep) {
        columns = (uint32_t)(((uint64_t)frames->columns * rows + frames->rows / 2u) / frames->rows);
    }
    columns = columns < 1 ? 1 : columns > frames->columns ? frames->columns : columns;
    rows = rows < 1 ? 1 : rows > frames->rows ? frames->rows : rows;
    if (columns == frames->columns && rows == frames->rows) {
        return 1;
    }
    uint16_t *wide = (uint16_t *)malloc((size_t)columns * frames->rows * 8u);
    uint16_t *small = (uint16_t *)malloc((size_t)columns * rows * frames->count * 8u);
    for (uint32_t f = 0; wide != NULL && small != NULL && f < frames->count; f++) {
        const uint16_t *from = frames->points + (size_t)f * frames->columns * frames->rows * 4u;
        uint16_t *to = small + (size_t)f * columns * rows * 4u;
        for (uint32_t y = 0; y < frames->rows; y++) {
            scale_line(wide + (size_t)y * columns * 4u, 4, from + (size_t)y * frames->columns * 4u, 4, frames->columns,
                       columns);
        }
        for (uint32_t x = 0; x < columns; x++) {
            scale_line(to + (size_t)x * 4u, (size_t)columns * 4u, wide + (size_t)x * 4u, (size_t)columns * 4u, frames->rows,
                       rows);
        }
    }
    free(wide);
    if (wide == NULL || small == NULL) {
        free(small);
        return 0;
    }
    free(frames->points);
    frames->points = small;
    frames->columns = columns;
    frames->rows = rows;
    frames->capacity = frames->count;
    return 1;
}

/* ---- the palette ---- */

struct tint { /* a colour of the picture, coded; and how many points have it */
    uint8_t rgba[4];
    uint32_t points;
    uint32_t becomes; /* index into the palette */
};

/* Light times cover, 16 bits, as coded colour and cover. */
static void tint_of(uint8_t *rgba, const uint16_t *point) {
    rgba[3] = (uint8_t)((point[3] + 128u) / 257u);
    for (int c = 0; c < 3; c++) {
        uint32_t own = point[3] == 0 ? 0 : (uint32_t)(((uint64_t)point[c] * 65535u + point[3] / 2u) / point[3]);
        rgba[c] = rgba[3] == 0 ? 0 : glanz_coded((uint16_t)(own > 65535u ? 65535u : own));
    }
}

static int by_color(const void *a, const void *b) {
    return memcmp(((const struct tint *)a)->rgba, ((const struct tint *)b)->rgba, 4);
}

static int sort_channel; /* of the next sorting */
static int by_channel(const void *a, const void *b) {
    int one = ((const struct tint *)a)->rgba[sort_channel];
    int other = ((const struct tint *)b)->rgba[sort_channel];
    return one != other ? one - other : by_color(a, b);
}

struct box { /* neighbouring tints that become one colour */
    struct tint *first;
    uint32_t count;
};

/* The channel in which a box is widest, and how wide. */
static int width_of(int *channel, const struct box *box) {
    int widest = -1;
    for (int c = 0; c < 4; c++) {
        int low = 255;
        int high = 0;
        for (uint32_t i = 0; i < box->count; i++) {
            low = box->first[i].rgba[c] < low ? box->first[i].rgba[c] : low;
            high = box->first[i].rgba[c] > high ? box->first[i].rgba[c] : high;
        }
        if (high - low > widest) {
            widest = high - low;
            *channel = c;
        }
    }
    return widest;
}

/* Cut the box that is widest in two at the middle of its points, until there are 256. */
static uint32_t cut_boxes(struct box *boxes, struct tint *tints, uint32_t count) {
    uint32_t made = 1;
    boxes[0].first = tints;
    boxes[0].count = count;
    while (made < 256) {
        uint32_t best = 0;
        int widest = 0;
        for (uint32_t i = 0; i < made; i++) {
            int channel;
            int width = boxes[i].count < 2 ? 0 : width_of(&channel, &boxes[i]);
            best = width > widest ? i : best;
            widest = width > widest ? width : widest;
        }
        if (widest == 0) {
            break;
        }
        (void)width_of(&sort_channel, &boxes[best]);
        qsort(boxes[best].first, boxes[best].count, sizeof *tints, by_channel);
        uint64_t all = 0;
        for (uint32_t i = 0; i < boxes[best].count; i++) {
            all += boxes[best].first[i].points;
        }
        uint64_t half = 0;
        uint32_t at = 0;
        while (at + 1 < boxes[best].count - 1 && half * 2 < all) {
            half += boxes[best].first[at++].points;
        }
        at = at == 0 ? 1 : at;
        boxes[made].first = boxes[best].first + at;
        boxes[made].count = boxes[best].count - at;
        boxes[best].count = at;
        made++;
    }
    return made;
}

/* The mean of a box by its points; and how far its colours are from it. */
static unsigned mean_of(uint8_t *rgba, struct box *box, uint32_t index) {
    unsigned off = 0;
    for (int c = 0; c < 4; c++) {
        uint64_t sum = 0;
        uint64_t points = 0;
        for (uint32_t i = 0; i < box->count; i++) {
            sum += (uint64_t)box->first[i].rgba[c] * box->first[i].points;
            points += box->first[i].points;
        }
        rgba[c] = (uint8_t)((sum + points / 2u) / points);
    }
    for (uint32_t i = 0; i < box->count; i++) {
        box->first[i].becomes = index;
        for (int c = 0; c < 4; c++) {
            unsigned away = (unsigned)abs((int)box->first[i].rgba[c] - rgba[c]);
            off = away > off ? away : off;
        }
    }
    return off;
}

int import_pack(struct packed *packed, const struct frames *frames) {
    size_t all = (size_t)frames->columns * frames->rows * frames->count;
    struct tint *tints = (struct tint *)calloc(all, sizeof *tints);
    uint8_t *points = (uint8_t *)malloc(all);
    struct box boxes[256];
    uint8_t palette[256 * 4];
    uint32_t count = 0;
    memset(packed, 0, sizeof *packed);
    if (tints == NULL || points == NULL || frames->columns > GLANZ_PICTURE_MOST || frames->rows > GLANZ_PICTURE_MOST) {
        free(tints);
        free(points);
        return 0;
    }
    for (size_t i = 0; i < all; i++) {
        tint_of(tints[i].rgba, frames->points + i * 4u);
        tints[i].points = 1;
    }
    qsort(tints, all, sizeof *tints, by_color);
    for (size_t i = 0; i < all; i++) {
        if (count > 0 && by_color(&tints[count - 1], &tints[i]) == 0) {
            tints[count - 1].points++;
        } else {
            tints[count++] = tints[i];
        }
    }
    packed->colors_were = count;
    uint32_t made = cut_boxes(boxes, tints, count);
    for (uint32_t i = 0; i < made; i++) {
        unsigned off = mean_of(palette + 4u * i, &boxes[i], i);
        packed->off = off > packed->off ? off : packed->off;
    }
    qsort(tints, count, sizeof *tints, by_color);
    for (size_t i = 0; i < all; i++) {
        struct tint wanted;
        tint_of(wanted.rgba, frames->points + i * 4u);
        const struct tint *found = (const struct tint *)bsearch(&wanted, tints, count, sizeof *tints, by_color);
        points[i] = (uint8_t)(found == NULL ? 0 : found->becomes);
    }
    struct glanz_picture_head head = {(uint16_t)frames->columns, (uint16_t)frames->rows, (uint16_t)frames->count,
                                      (uint16_t)made, 0};
    uint32_t capacity = (uint32_t)(all + all / 32u + 2u * frames->count + 4096u);
    packed->colors = made;
    packed->bytes.bytes = (char *)malloc(capacity);
    packed->bytes.capacity = capacity;
    if (packed->bytes.bytes != NULL) {
        packed->bytes.count = glanz_picture_pack((uint8_t *)packed->bytes.bytes, capacity, &head, palette, points, frames->ms);
    }
    free(tints);
    free(points);
    return packed->bytes.count != 0;
}
