/* SPDX-License-Identifier: MIT */
/* GIF by giflib: each frame with 256 colours of its own. */
#include "moving.h"

#include <gif_lib.h>
#include <stdlib.h>
#include <string.h>

#include "files.h"

struct moving {
    GifFileType *gif;
    int columns, rows;
    GifByteType *plane[3], *indices;
};

static int put_bytes(GifFileType *gif, const GifByteType *bytes, int count) {
    return (int)fwrite(bytes, 1, (size_t)count, (FILE *)gif->UserData);
}

struct moving *moving_open(FILE *file, int columns, int rows) {
    struct moving *moving = (struct moving *)calloc(1, sizeof *moving);
    int error = 0;
    size_t points = (size_t)columns * (size_t)rows;
    static const unsigned char again[] = {1, 0, 0};
    if (moving == NULL) {
        return NULL;
    }
    moving->columns = columns;
    moving->rows = rows;
    for (int c = 0; c < 3; c++) {
        moving->plane[c] = (GifByteType *)malloc(points);
    }
    moving->indices = (GifByteType *)malloc(points);
    moving->gif = EGifOpen(file, put_bytes, &error);
    if (moving->gif == NULL || moving->indices == NULL || moving->plane[0] == NULL || moving->plane[1] == NULL ||
        moving->plane[2] == NULL) {
        (void)moving_close(moving);
        return NULL;
    }
    EGifSetGifVersion(moving->gif, true);
    if (EGifPutScreenDesc(moving->gif, columns, rows, 8, 0, NULL) != GIF_OK ||
        EGifPutExtensionLeader(moving->gif, APPLICATION_EXT_FUNC_CODE) != GIF_OK ||
        EGifPutExtensionBlock(moving->gif, 11, "NETSCAPE2.0") != GIF_OK ||
        EGifPutExtensionBlock(moving->gif, sizeof again, again) != GIF_OK || EGifPutExtensionTrailer(moving->gif) != GIF_OK) {
        (void)moving_close(moving);
        return NULL;
    }
    return moving;
}

int moving_add(struct moving *moving, cairo_surface_t *image, unsigned hundredths) {
    GraphicsControlBlock control = {DISPOSE_DO_NOT, false, (int)hundredths, NO_TRANSPARENT_COLOR};
    GifByteType block[4];
    int colors = 256;
    cairo_surface_flush(image);
    const uint8_t *bytes = cairo_image_surface_get_data(image);
    int stride = cairo_image_surface_get_stride(image);
    for (int row = 0; row < moving->rows; row++) {
        const uint32_t *pixel = (const uint32_t *)(const void *)(bytes + (size_t)row * (size_t)stride);
        for (int column = 0; column < moving->columns; column++) {
            for (int c = 0; c < 3; c++) {
                moving->plane[c][(size_t)row * (size_t)moving->columns + (size_t)column] =
                    (GifByteType)(pixel[column] >> (16 - 8 * c));
            }
        }
    }
    ColorMapObject *map = GifMakeMapObject(256, NULL);
    int good = map != NULL && GifQuantizeBuffer((unsigned)moving->columns, (unsigned)moving->rows, &colors, moving->plane[0],
                                                moving->plane[1], moving->plane[2], moving->indices, map->Colors) == GIF_OK;
    (void)EGifGCBToExtension(&control, block);
    good = good && EGifPutExtension(moving->gif, GRAPHICS_EXT_FUNC_CODE, sizeof block, block) == GIF_OK &&
           EGifPutImageDesc(moving->gif, 0, 0, moving->columns, moving->rows, false, map) == GIF_OK;
    for (int row = 0; good && row < moving->rows; row++) {
        good = EGifPutLine(moving->gif, moving->indices + (size_t)row * (size_t)moving->columns, moving->columns) == GIF_OK;
    }
    GifFreeMapObject(map);
    return good;
}

int moving_close(struct moving *moving) {
    int error = 0;
    int good = moving->gif == NULL || EGifCloseFile(moving->gif, &error) == GIF_OK;
    for (int c = 0; c < 3; c++) {
        free(moving->plane[c]);
    }
    free(moving->indices);
    free(moving);
    return good;
}
