/* SPDX-License-Identifier: MIT */
/* Files that commands write: whole, or not at all. */
#include "output.h"

#include <errno.h>
#include <limits.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

#include "files.h"

static int fails(const char *path) {
    complain_plain("cannot write %s: %s", path, strerror(errno != 0 ? errno : EIO));
    return 0;
}

/* The file to be replaced; NULL: there is something else than a file, which is written to. */
static char *place_of(const char *path) {
    struct stat is;
    char *place = realpath(path, NULL);
    if (place == NULL) {
        return strdup(path);
    }
    if (stat(place, &is) == 0 && !S_ISREG(is.st_mode)) {
        free(place);
        return NULL;
    }
    return place;
}

int output_open(struct output *output, const char *path) {
    memset(output, 0, sizeof *output);
    output->path = path;
    if (path == NULL) {
        return 1;
    }
    if (strcmp(path, "-") == 0) {
        output->file = stdout;
        return 1;
    }
    errno = 0;
    output->place = place_of(path);
    if (output->place == NULL) {
        output->file = fopen(path, "wb");
        return output->file != NULL || fails(path);
    }
    struct stat is;
    mode_t mask = umask(0);
    umask(mask);
    mode_t mode = stat(output->place, &is) == 0 ? is.st_mode & 07777 : 0666 & ~mask;
    if (access(output->place, F_OK) == 0 && access(output->place, W_OK) != 0) {
        free(output->place);
        output->place = NULL;
        return fails(path);
    }
    size_t capacity = strlen(output->place) + 16;
    output->beside = (char *)malloc(capacity);
    snprintf(output->beside, capacity, "%s.XXXXXX", output->place);
    int file = mkstemp(output->beside);
    output->file = file < 0 || fchmod(file, mode) != 0 ? NULL : fdopen(file, "wb");
    if (output->file == NULL) {
        (void)fails(path);
        if (file >= 0) {
            close(file);
            (void)unlink(output->beside);
        }
        free(output->beside);
        free(output->place);
        memset(output, 0, sizeof *output);
        return 0;
    }
    return 1;
}

int output_close(struct output *output, int keep) {
    int good = 1;
    if (output->file != NULL) {
        errno = 0;
        good = fflush(output->file) == 0 && !ferror(output->file);
        int reason = errno;
        if (output->file != stdout) {
            good = good && (output->beside == NULL || fsync(fileno(output->file)) == 0);
            reason = reason == 0 ? errno : reason;
            good = (fclose(output->file) == 0) && good;
            reason = reason == 0 ? errno : reason;
        }
        if (output->beside != NULL && good && keep) {
            good = rename(output->beside, output->place) == 0;
            reason = errno;
        }
        if (output->beside != NULL && (!good || !keep)) {
            (void)unlink(output->beside);
        }
        errno = reason;
        good = good || fails(output->path);
    }
    free(output->beside);
    free(output->place);
    memset(output, 0, sizeof *output);
    return good;
}

int output_bytes(const char *path, const void *bytes, size_t count) {
    struct output output;
    if (!output_open(&output, path)) {
        return 0;
    }
    (void)fwrite(bytes, 1, count, output.file); /* what fails is seen at the end */
    return output_close(&output, 1);
}

cairo_status_t output_piece(void *file, const unsigned char *bytes, unsigned count) {
    return fwrite(bytes, 1, count, (FILE *)file) == count ? CAIRO_STATUS_SUCCESS : CAIRO_STATUS_WRITE_ERROR;
}

int output_png(const char *path, cairo_surface_t *page) {
    struct output output;
    if (!output_open(&output, path)) {
        return 0;
    }
    cairo_status_t status = cairo_surface_write_to_png_stream(page, output_piece, output.file);
    if (status != CAIRO_STATUS_SUCCESS && status != CAIRO_STATUS_WRITE_ERROR) {
        complain_plain("cannot draw %s: %s", path, cairo_status_to_string(status));
        (void)output_close(&output, 0);
        return 0;
    }
    return output_close(&output, 1);
}
