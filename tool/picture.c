/* SPDX-License-Identifier: MIT */
/* glanz picture: a PNG or GIF as a compact picture: for a show, for a store, and on the LEDs at once. */
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include "commands.h"
#include "import.h"

struct wish { /* what the command was asked for */
    const char *name;
    char *given, *size, *output, *store, *rig, *surface, *time; /* as popt gives them: to be freed */
    char own_name[32];
};

static void wish_free(struct wish *wish) {
    char *const all[] = {wish->given, wish->size, wish->output, wish->store, wish->rig, wish->surface, wish->time};
    for (size_t i = 0; i < sizeof all / sizeof all[0]; i++) {
        free(all[i]);
    }
}

static void put_base64(FILE *to, const uint8_t *bytes, size_t count) {
    static const char digits[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    for (size_t i = 0; i < count; i += 3) {
        size_t left = count - i;
        uint32_t three =
            (uint32_t)bytes[i] << 16 | (left > 1 ? (uint32_t)bytes[i + 1] << 8 : 0) | (left > 2 ? bytes[i + 2] : 0u);
        fprintf(to, "%c%c%c%c", digits[three >> 18], digits[three >> 12 & 63u], left > 1 ? digits[three >> 6 & 63u] : '=',
                left > 2 ? digits[three & 63u] : '=');
    }
}

static void put_patch(FILE *to, const struct wish *wish, const struct packed *packed) {
    fprintf(to, "{ \"pictures\": { \"%s\": { \"data\": \"", wish->name);
    put_base64(to, (const uint8_t *)packed->bytes.bytes, packed->bytes.count);
    fputs("\" } } }\n", to);
}

static void notify(const struct wish *wish, const struct frames *frames, const struct packed *packed) {
    uint32_t bits = packed->colors <= 2 ? 1 : packed->colors <= 4 ? 2 : packed->colors <= 16 ? 4 : 8;
    size_t plain = ((size_t)frames->columns * frames->rows * bits + 7) / 8 * frames->count + 4 * packed->colors + 16;
    uint64_t ms = 0;
    for (uint32_t i = 0; i < frames->count; i++) {
        ms += frames->ms[i];
    }
    fprintf(stderr, "\"%s\": %u x %u, %u colours, %zu bytes (%zu as plain indices)", wish->name, frames->columns, frames->rows,
            packed->colors, packed->bytes.count, plain);
    if (frames->count > 1) {
        fprintf(stderr, "; %u pictures, %.2f s", frames->count, (double)ms / 1000.0);
    }
    fputc('\n', stderr);
    if (packed->colors_were > packed->colors) {
        fprintf(stderr, "glanz: %u colours were cut down to %u; a channel is off by %u of 255 at the most\n",
                packed->colors_were, packed->colors, packed->off);
    }
}

static int keep(const struct wish *wish, const struct packed *packed, GLANZ_CONST struct glanz_rig *rig) {
    struct glanz_board_setup setup;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    uint8_t *memory = (uint8_t *)malloc(packed->bytes.count + 64);
    memset(&setup, 0, sizeof setup);
    setup.store = wish->store;
    setup.hardware = rig;
    struct glanz_board *board = glanz_board_open(&setup, &fault);
    if (board == NULL) {
        complain("picture", &fault);
        free(memory);
        return EXIT_FILE;
    }
    void *store_memory = NULL;
    struct glanz_store *store = store_open(&store_memory, board, wish->store);
    glanz_status status = store == NULL || memory == NULL
                              ? GLANZ_ERR_PORT
                              : glanz_pictures_keep(store, wish->name, (const uint8_t *)packed->bytes.bytes,
                                                    packed->bytes.count, memory, packed->bytes.count + 64);
    if (status != GLANZ_OK) {
        complain_plain("cannot keep \"%s\" in %s: %s", wish->name, wish->store,
                       status == GLANZ_ERR_ARGUMENT ? "expected a name of 1 to 31 bytes" : status_words(status));
    }
    glanz_board_close(board);
    free(store_memory);
    free(memory);
    return status == GLANZ_OK ? EXIT_GOOD : EXIT_FILE;
}

/* What the simulated chips show, by rows and columns of the surface. */
static void tell_lit(struct session *session, GLANZ_CONST struct glanz_surface *surface) {
    uint16_t columns;
    uint16_t rows;
    glanz_surface_field(&columns, &rows, surface);
    char(*cells)[8] = (char(*)[8])calloc((size_t)columns * rows, sizeof *cells);
    for (uint8_t p = 0; cells != NULL && p < surface->piece_count; p++) {
        GLANZ_CONST struct glanz_piece *piece = &surface->pieces[p];
        for (uint16_t i = 0; i < piece->leds; i++) {
            glanz_place x;
            glanz_place y;
            uint8_t rgb[3];
            glanz_piece_places(&x, &y, surface, p, i, 0, 1);
            size_t at = (size_t)(y / GLANZ_STEP) * columns + (size_t)(x / GLANZ_STEP);
            uint16_t led = (uint16_t)(piece->first + (piece->reversed ? piece->leds - 1 - i : i));
            session_seen(rgb, session, piece->output, led);
            if (at < (size_t)columns * rows) {
                snprintf(cells[at], sizeof cells[at], "%02x%02x%02x", rgb[0], rgb[1], rgb[2]);
            }
        }
    }
    printf("%.2f s\n", (double)session->now_us / 1e6);
    for (size_t i = 0; cells != NULL && i < (size_t)columns * rows; i++) {
        printf("%s%s", cells[i][0] == '\0' ? "......" : cells[i], (i + 1) % columns == 0 ? "\n" : " ");
    }
    free(cells);
}

/* A show of nothing but the picture, on the simulated board. */
static int show_it(const struct wish *wish, const struct packed *packed, uint64_t for_us) {
    static struct session session;
    struct glanz_board_setup setup;
    char path[] = "/tmp/glanz-picture-XXXXXX";
    int descriptor = mkstemp(path);
    FILE *show = descriptor < 0 ? NULL : fdopen(descriptor, "w");
    if (show == NULL) {
        complain_plain("cannot write a show for the picture in /tmp");
        return EXIT_FILE;
    }
    fprintf(show, "{\"show\":\"one picture\",\"brightness\":\"100 %%\",\"change\":\"0 s\",");
    if (wish->store == NULL) {
        fprintf(show, "\"pictures\":{\"%s\":{\"data\":\"", wish->name);
        put_base64(show, (const uint8_t *)packed->bytes.bytes, packed->bytes.count);
        fputs("\"}},", show);
    }
    fprintf(show,
            "\"looks\":{\"it\":{\"effect\":\"picture\",\"picture\":\"%s\"}},\"segments\":{\"all\":{\"surface\":\"%s\",\"look\":"
            "\"it\"}}}",
            wish->name, wish->surface);
    fclose(show);
    memset(&setup, 0, sizeof setup);
    setup.store = wish->store;
    int code = session_open(&session, wish->rig, path, NULL, &setup, 0);
    unlink(path);
    if (code != EXIT_GOOD) {
        return code;
    }
    while (session.frame * 1000000u / session.frame_rate <= for_us) {
        (void)session_step(&session);
    }
    glanz_board_time(session.board, session.frame * 1000000u / session.frame_rate - 1);
    for (uint8_t s = 0; s < session.rig.rig->surface_count; s++) {
        if (strcmp(session.rig.rig->surfaces[s].name, wish->surface) == 0) {
            tell_lit(&session, &session.rig.rig->surfaces[s]);
        }
    }
    code = report_misreads(&session) != 0 ? EXIT_FOUND : EXIT_GOOD;
    session_close(&session);
    return code;
}

/* The size of the surface to show it on, and a rig for the store. */
static int find_size(struct document *rig, uint32_t *columns, uint32_t *rows, const struct wish *wish) {
    struct text text;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    if (!text_read(&text, wish->rig)) {
        return EXIT_FILE;
    }
    if (document_rig(rig, text, &fault) != GLANZ_OK) {
        complain(wish->rig, &fault);
        return EXIT_REFUSED;
    }
    for (uint8_t s = 0; s < rig->rig->surface_count; s++) {
        if (strcmp(rig->rig->surfaces[s].name, wish->surface) == 0) {
            uint16_t wide;
            uint16_t high;
            glanz_surface_field(&wide, &high, &rig->rig->surfaces[s]);
            *columns = wide;
            *rows = high;
            return EXIT_GOOD;
        }
    }
    complain_plain("no such surface in %s: \"%s\"", wish->rig, wish->surface);
    return EXIT_REFUSED;
}

static int make(const struct wish *wish, const char *path, uint32_t columns, uint32_t rows, struct packed *packed) {
    struct text file;
    struct frames frames;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    if (!text_read(&file, path)) {
        return EXIT_FILE;
    }
    glanz_status status = import_read(&frames, file.bytes, file.count, &fault);
    text_free(&file);
    if (status != GLANZ_OK) {
        complain(path, &fault);
        return EXIT_REFUSED;
    }
    columns = columns > GLANZ_PICTURE_MOST ? GLANZ_PICTURE_MOST : columns;
    rows = rows > GLANZ_PICTURE_MOST ? GLANZ_PICTURE_MOST : rows;
    int good = import_scale(&frames, columns, rows, 1) && import_pack(packed, &frames);
    if (good) {
        notify(wish, &frames, packed);
    } else {
        complain_plain("%s: out of memory", path);
    }
    import_free(&frames);
    return good ? EXIT_GOOD : EXIT_REFUSED;
}

static int is_plain_name(const char *name) {
    for (const char *at = name; *at != '\0'; at++) {
        if ((unsigned char)*at < 0x20 || *at == '"' || *at == '\\' || *at == 0x7F) {
            return 0;
        }
    }
    return name[0] != '\0' && strlen(name) <= GLANZ_NAME_MOST;
}

/* @return 0 when what was asked for does not go together. */
static int check_wish(struct wish *wish, const char *path, uint32_t *columns, uint32_t *rows, uint64_t *for_us) {
    const char *base = strrchr(path, '/') == NULL ? path : strrchr(path, '/') + 1;
    const char *end = strrchr(base, '.');
    snprintf(wish->own_name, sizeof wish->own_name, "%.*s", (int)(end == NULL ? strlen(base) : (size_t)(end - base)), base);
    wish->name = wish->given == NULL ? wish->own_name : wish->given;
    int length = 0;
    if (!is_plain_name(wish->name)) {
        complain_plain("picture: expected a name of 1 to 31 bytes without quotes (--name)");
    } else if ((wish->rig == NULL) != (wish->surface == NULL) || (wish->time != NULL && wish->rig == NULL)) {
        complain_plain("picture: --rig, --surface and --for go together");
    } else if (wish->size != NULL &&
               (sscanf(wish->size, "%ux%u%n", columns, rows, &length) != 2 || wish->size[length] != '\0' || *columns < 1 ||
                *rows < 1 || *columns > GLANZ_PICTURE_MOST || *rows > GLANZ_PICTURE_MOST)) {
        complain_plain("picture: --size: expected a size such as 20x12, at most 255x255");
    } else {
        return wish->time == NULL || time_of(for_us, wish->time, "--for");
    }
    return 0;
}

static int run(int argc, const char **argv) {
    struct wish wish;
    struct packed packed;
    struct document rig;
    struct arguments arguments;
    uint32_t columns = GLANZ_PICTURE_MOST;
    uint32_t rows = GLANZ_PICTURE_MOST;
    uint64_t for_us = 2000000;
    int code;
    memset(&wish, 0, sizeof wish);
    memset(&packed, 0, sizeof packed);
    memset(&rig, 0, sizeof rig);
    const struct poptOption options[] = {
        {"name", 'n', POPT_ARG_STRING, &wish.given, 0, "its name in shows and in the store; else the file's", "NAME"},
        {"size", 's', POPT_ARG_STRING, &wish.size, 0, "scale it down to fit; else to the surface, or not at all", "CxR"},
        {"output", 'o', POPT_ARG_STRING, &wish.output, 0, "write a patch that brings it into a show; - for standard output",
         "FILE"},
        {"keep", 'k', POPT_ARG_STRING, &wish.store, 0, "keep it in this store, the image of a NOR flash", "FILE"},
        {"rig", 'r', POPT_ARG_STRING, &wish.rig, 0, "show it on this rig, simulated, and tell what the chips light", "RIG"},
        {"surface", 'f', POPT_ARG_STRING, &wish.surface, 0, "on this surface", "NAME"},
        {"for", 't', POPT_ARG_STRING, &wish.time, 0, "for so long (default 2 s)", "TIME"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_picture, argc, argv, options, 1, 1, &code)) {
        wish_free(&wish);
        return code;
    }
    code = check_wish(&wish, arguments.path[0], &columns, &rows, &for_us) ? EXIT_GOOD : EXIT_USAGE;
    if (code == EXIT_GOOD && wish.rig != NULL) {
        uint32_t wide;
        uint32_t high;
        code = find_size(&rig, &wide, &high, &wish);
        columns = wish.size != NULL || code != EXIT_GOOD ? columns : wide;
        rows = wish.size != NULL || code != EXIT_GOOD ? rows : high;
    }
    if (code == EXIT_GOOD) {
        code = make(&wish, arguments.path[0], columns, rows, &packed);
    }
    if (code == EXIT_GOOD && wish.store != NULL) {
        GLANZ_ONE_STRIP(any, glanz_chip_ws2812b, 1); /* a board for the store alone */
        code = keep(&wish, &packed, wish.rig != NULL ? rig.rig : &any);
    }
    if (code == EXIT_GOOD && wish.output != NULL) {
        struct output to;
        if (output_open(&to, wish.output)) {
            put_patch(to.file, &wish, &packed);
            code = output_close(&to, 1) ? EXIT_GOOD : EXIT_FILE;
        } else {
            code = EXIT_FILE;
        }
    }
    if (code == EXIT_GOOD && wish.rig != NULL) {
        code = show_it(&wish, &packed, for_us);
    }
    text_free(&packed.bytes);
    document_free(&rig);
    wish_free(&wish);
    arguments_free(&arguments);
    return code;
}

const struct command command_picture = {"picture", "a PNG or GIF for a show, a store, or on the LEDs at once", "FILE",
                                        "  glanz picture demo/boat.png --rig demo/rig.json --surface \"tide board\"\n"
                                        "  glanz picture demo/waves.gif --keep out/store.flash -o out/waves.patch\n", run, 0};
