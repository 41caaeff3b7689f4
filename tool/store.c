/* SPDX-License-Identifier: MIT */
/* glanz store: images of a store's flash: what is in them, whether it checks, what differs; records taken out, put in, saved
 * from a damaged image; an image to be flashed with the firmware. */
#include <dirent.h>
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

#include <glanz/nor.h>

#include "commands.h"
#include "facts.h"

#define KEYS 4096
#define RECORD_MOST ((1u << 20) - 64u)

struct image {
    const char *path;
    struct text flash;
    struct glanz_nor nor;
    struct glanz_store *store;
    struct glanz_store_state state;
    void *memory;
};

static void image_close(struct image *image) {
    free(image->memory);
    text_free(&image->flash);
    memset(image, 0, sizeof *image);
}

static glanz_status mount(struct image *image) {
    const struct glanz_medium *medium = &image->nor.medium;
    size_t size = glanz_store_size(medium, KEYS, medium->sector_bytes);
    image->memory = size == 0 ? NULL : malloc(size);
    glanz_status status = size == 0 ? GLANZ_ERR_ARGUMENT : image->memory == NULL ? GLANZ_ERR_MEMORY : GLANZ_OK;
    if (status == GLANZ_OK) {
        status = glanz_store_start(&image->store, image->memory, size, medium, KEYS, medium->sector_bytes);
    }
    if (status == GLANZ_OK) {
        glanz_store_look(image->store, &image->state);
    }
    return status;
}

/* Read an image into memory; the file is not touched. */
static int image_open(struct image *image, const char *path) {
    struct glanz_medium shape;
    size_t at = 0;
    memset(image, 0, sizeof *image);
    image->path = path;
    if (!text_read(&image->flash, path)) {
        return EXIT_FILE;
    }
    while (at + 12 <= image->flash.count && !glanz_store_shape(&shape, (const uint8_t *)image->flash.bytes + at)) {
        at += 256; /* the first sector may have been caught while it was erased */
    }
    if (at + 12 > image->flash.count) {
        complain_plain("%s: no sector of a store in %zu bytes; expected an image of its flash", path, image->flash.count);
        return EXIT_REFUSED;
    }
    size_t sectors = image->flash.count / shape.sector_bytes;
    if (image->flash.count % shape.sector_bytes != 0 || sectors < 2 || sectors > 0xFFFF) {
        complain_plain("%s: %zu bytes, byte %zu tells of sectors of %u; expected two or more whole ones", path,
                       image->flash.count, at, (unsigned)shape.sector_bytes);
        return EXIT_REFUSED;
    }
    glanz_nor_begin(&image->nor, (uint8_t *)image->flash.bytes, shape.sector_bytes, (uint16_t)sectors, shape.unit);
    glanz_status status = mount(image);
    if (status != GLANZ_OK) {
        complain_plain("%s: %s", path, status_words(status));
        return EXIT_REFUSED;
    }
    return EXIT_GOOD;
}

/* ---- records ---- */

/* A record read whole; NULL: it does not check. Free it. */
static uint8_t *record_of(size_t *count, struct image *image, uint16_t key) {
    if (glanz_store_load(image->store, key, NULL, 0, count) != GLANZ_OK) {
        return NULL;
    }
    uint8_t *bytes = (uint8_t *)malloc(*count + 1);
    if (bytes != NULL && glanz_store_load(image->store, key, bytes, *count, count) != GLANZ_OK) {
        free(bytes);
        return NULL;
    }
    return bytes;
}

/* Keys in rising order. */
static int by_key(const void *a, const void *b) {
    return *(const uint16_t *)a - *(const uint16_t *)b;
}

static uint16_t keys_of(uint16_t *keys, const struct image *image) {
    uint16_t count = 0;
    while (count < KEYS && glanz_store_key(image->store, count, &keys[count]) == GLANZ_OK) {
        count++;
    }
    qsort(keys, count, sizeof *keys, by_key);
    return count;
}

/* All of it for scripts. */
static int look_facts(struct image *image) {
    static uint16_t keys[KEYS];
    uint16_t count = keys_of(keys, image);
    int wrong = image->state.damaged != 0 || image->state.unreadable != 0;
    struct facts facts;
    facts_open(&facts, stdout);
    facts_number(&facts, "sectors", image->nor.medium.sectors, 0);
    facts_number(&facts, "sector_bytes", image->nor.medium.sector_bytes, 0);
    facts_number(&facts, "used", image->state.used, 0);
    facts_number(&facts, "capacity", image->state.capacity, 0);
    facts_number(&facts, "wear", image->state.wear, 0);
    facts_number(&facts, "damaged", image->state.damaged, 0);
    facts_number(&facts, "corrected", image->state.corrected, 0);
    facts_number(&facts, "unreadable_sectors", image->state.unreadable, 0);
    facts_list(&facts, "records");
    for (uint16_t i = 0; i < count; i++) {
        char text[200] = "";
        size_t bytes = 0;
        uint8_t *record = record_of(&bytes, image, keys[i]);
        wrong = wrong || record == NULL;
        if (record != NULL) {
            store_describe(text, sizeof text, keys[i], record, bytes);
        }
        facts_object(&facts, NULL);
        facts_number(&facts, "key", keys[i], 0);
        facts_number(&facts, "bytes", (double)bytes, 0);
        facts_flag(&facts, "checks", record != NULL);
        facts_text(&facts, "what", record == NULL ? NULL : text);
        facts_end(&facts);
        free(record);
    }
    facts_end(&facts);
    facts_end(&facts);
    return wrong ? EXIT_FOUND : EXIT_GOOD;
}

/* ---- list, verify, compare ---- */

static int look(struct image *image, int list) {
    static uint16_t keys[KEYS];
    uint16_t count = keys_of(keys, image);
    const struct glanz_medium *medium = &image->nor.medium;
    unsigned wrong = 0;
    if (list) {
        printf("%u sectors of %u bytes, units of %u; %u records in %u bytes of %u; worn by %u erasures at the most\n",
               medium->sectors, (unsigned)medium->sector_bytes, medium->unit, image->state.records, (unsigned)image->state.used,
               (unsigned)image->state.capacity, (unsigned)image->state.wear);
        for (uint16_t i = 0; i < medium->sectors; i++) {
            printf(i % 16 != 0 ? " %u"
                   : i == 0    ? "erasures of each sector: %u"
                               : "\n                         %u",
                   (unsigned)glanz_store_wear(image->store, i));
        }
        printf("\n");
    }
    for (uint16_t i = 0; i < count; i++) {
        char text[200];
        size_t bytes = 0;
        uint8_t *record = record_of(&bytes, image, keys[i]);
        if (record == NULL) {
            wrong++;
            printf("  0x%04x            does not check, or is of a newer format\n", keys[i]);
            continue;
        }
        store_describe(text, sizeof text, keys[i], record, bytes);
        if (list) {
            printf("  0x%04x  %5zu bytes  %s\n", keys[i], bytes, text);
        }
        free(record);
    }
    if (image->state.read_only) {
        printf("%s: of a newer format; it is left alone\n", image->path);
    }
    if (image->state.damaged != 0) {
        printf("%s: %u %s torn or damaged; what was confirmed there before counts\n", image->path, image->state.damaged,
               image->state.damaged == 1 ? "place is" : "places are");
    }
    if (image->state.unreadable != 0) {
        printf("%s: the marks of %u sectors in use cannot be read; what they held is lost\n", image->path,
               image->state.unreadable);
    }
    if (image->state.corrected == 1) {
        printf("%s: a mark, or the head of a record, was damaged and put right; --repair writes it anew\n", image->path);
    } else if (image->state.corrected != 0) {
        printf("%s: %u marks and heads of records were damaged and put right; --repair writes them anew\n", image->path,
               image->state.corrected);
    }
    if (wrong == 0 && image->state.damaged == 0 && image->state.unreadable == 0 && !image->state.read_only) {
        printf("%s: all of it checks\n", image->path);
        return EXIT_GOOD;
    }
    return EXIT_FOUND;
}

static int compare(struct image *one, const char *path) {
    static uint16_t keys[2][KEYS];
    struct image other;
    unsigned differ = 0;
    int code = image_open(&other, path);
    if (code != EXIT_GOOD) {
        image_close(&other);
        return code;
    }
    uint16_t counts[2] = {keys_of(keys[0], one), keys_of(keys[1], &other)};
    for (uint16_t a = 0, b = 0; a < counts[0] || b < counts[1];) {
        int both = a < counts[0] && b < counts[1];
        int first = a < counts[0] && (!both || keys[0][a] <= keys[1][b]);
        int second = b < counts[1] && (!both || keys[1][b] <= keys[0][a]);
        uint16_t key = first ? keys[0][a] : keys[1][b];
        size_t sizes[2] = {0, 0};
        uint8_t *records[2] = {first ? record_of(&sizes[0], one, key) : NULL,
                               second ? record_of(&sizes[1], &other, key) : NULL};
        char text[200] = "does not check";
        int shown = records[0] == NULL;
        if (records[shown] != NULL) {
            store_describe(text, sizeof text, key, records[shown], sizes[shown]);
        }
        if (!first || !second) {
            printf("  0x%04x  only in %s: %s\n", key, first ? one->path : path, text);
            differ++;
        } else if (records[0] == NULL || records[1] == NULL || sizes[0] != sizes[1] ||
                   memcmp(records[0], records[1], sizes[0]) != 0) {
            printf("  0x%04x  differs: %s, %zu and %zu bytes\n", key, text, sizes[0], sizes[1]);
            differ++;
        }
        free(records[0]);
        free(records[1]);
        a = (uint16_t)(a + first);
        b = (uint16_t)(b + second);
    }
    printf(differ == 0 ? "the same %u records\n" : "%u records differ\n", differ == 0 ? counts[0] : differ);
    image_close(&other);
    return differ == 0 ? EXIT_GOOD : EXIT_FOUND;
}

/* ---- making images ---- */

static int image_new(struct image *image, const char *path, uint32_t sector_bytes, uint16_t sectors, uint8_t unit) {
    memset(image, 0, sizeof *image);
    image->path = path;
    image->flash.count = (size_t)sector_bytes * sectors;
    image->flash.bytes = (char *)malloc(image->flash.count);
    if (image->flash.bytes == NULL) {
        return EXIT_FILE;
    }
    memset(image->flash.bytes, 0xFF, image->flash.count);
    glanz_nor_begin(&image->nor, (uint8_t *)image->flash.bytes, sector_bytes, sectors, unit);
    if (mount(image) != GLANZ_OK) {
        complain_plain(
            "store: no store has %u sectors of %u bytes, units of %u; expected 2 or more of 256 bytes to 1 MB in steps of 256, "
            "units of 1, 2, 4, 8, 16 or 32",
            sectors, (unsigned)sector_bytes, unit);
        return EXIT_USAGE;
    }
    return EXIT_GOOD;
}

static int put_record(struct image *image, uint16_t key, const uint8_t *bytes, size_t count) {
    glanz_status status = glanz_store_save(image->store, key, bytes, count);
    status = status == GLANZ_OK ? glanz_store_finish(image->store) : status;
    if (status != GLANZ_OK) {
        complain_plain("%s: record 0x%04x of %zu bytes: %s", image->path, key, count,
                       status == GLANZ_ERR_FULL ? "the store is too small for it" : status_words(status));
        return EXIT_REFUSED;
    }
    return EXIT_GOOD;
}

/* All records that check, from one image into another. */
static int carry(struct image *to, struct image *from, unsigned *lost) {
    static uint16_t keys[KEYS];
    uint16_t count = keys_of(keys, from);
    int code = EXIT_GOOD;
    for (uint16_t i = 0; i < count && code == EXIT_GOOD; i++) {
        size_t bytes = 0;
        uint8_t *record = record_of(&bytes, from, keys[i]);
        if (record == NULL) {
            printf("  0x%04x  is lost\n", keys[i]);
            (*lost)++;
        } else {
            code = put_record(to, keys[i], record, bytes);
        }
        free(record);
    }
    return code;
}

static int carry_folder(struct image *to, const char *folder) {
    DIR *is = opendir(folder);
    int code = EXIT_GOOD;
    unsigned packed = 0;
    if (is == NULL) {
        complain_plain("cannot read %s: %s", folder, strerror(errno));
        return EXIT_FILE;
    }
    for (struct dirent *file = readdir(is); file != NULL && code == EXIT_GOOD; file = readdir(is)) {
        unsigned key;
        int length = 0;
        char path[4096];
        struct text text;
        if (file->d_name[0] == '.') {
            continue;
        }
        if (sscanf(file->d_name, "0x%4x.record%n", &key, &length) != 1 || file->d_name[length] != '\0' || length == 0) {
            complain_plain("%s/%s: no record; expected names such as 0x1000.record", folder, file->d_name);
            code = EXIT_REFUSED;
            break;
        }
        snprintf(path, sizeof path, "%s/%s", folder, file->d_name);
        if (!text_read(&text, path)) {
            code = EXIT_FILE;
            break;
        }
        if (text.count == 0) {
            complain_plain("%s: is empty; expected bytes", path);
            code = EXIT_REFUSED;
        } else {
            code = put_record(to, (uint16_t)key, (const uint8_t *)text.bytes, text.count);
        }
        packed++;
        text_free(&text);
    }
    closedir(is);
    if (code == EXIT_GOOD && packed == 0) {
        complain_plain("%s: no records; expected files such as 0x1000.record", folder);
        code = EXIT_REFUSED;
    }
    return code;
}

static int finish_image(struct image *image, unsigned lost) {
    if (!output_bytes(image->path, image->flash.bytes, image->flash.count)) {
        return EXIT_FILE;
    }
    glanz_store_look(image->store, &image->state);
    printf("%s: %u records, %zu bytes", image->path, image->state.records, image->flash.count);
    printf(lost != 0 ? "; %u are lost\n" : "\n", lost);
    return lost != 0 ? EXIT_FOUND : EXIT_GOOD;
}

static int repair(struct image *image) {
    struct image whole;
    unsigned lost = 0;
    const struct glanz_medium *medium = &image->nor.medium;
    if (image->state.read_only) {
        complain_plain("%s: of a newer format; it is left alone", image->path);
        return EXIT_REFUSED;
    }
    int code = image_new(&whole, image->path, medium->sector_bytes, medium->sectors, medium->unit);
    code = code == EXIT_GOOD ? carry(&whole, image, &lost) : code;
    code = code == EXIT_GOOD ? finish_image(&whole, lost) : code;
    image_close(&whole);
    return code;
}

static int unpack(struct image *image, const char *folder) {
    static uint16_t keys[KEYS];
    uint16_t count = keys_of(keys, image);
    unsigned lost = 0;
    if (mkdir(folder, 0777) != 0 && errno != EEXIST) {
        complain_plain("cannot make %s: %s", folder, strerror(errno));
        return EXIT_FILE;
    }
    for (uint16_t i = 0; i < count; i++) {
        char path[4096];
        size_t bytes = 0;
        uint8_t *record = record_of(&bytes, image, keys[i]);
        snprintf(path, sizeof path, "%s/0x%04x.record", folder, keys[i]);
        lost += record == NULL;
        int wrong = record != NULL && !output_bytes(path, record, bytes);
        free(record);
        if (wrong) {
            return EXIT_FILE;
        }
    }
    printf("%s: %u records", folder, count - lost);
    printf(lost != 0 ? "; %u do not check\n" : "\n", lost);
    return lost != 0 ? EXIT_FOUND : EXIT_GOOD;
}

#define NOT_SAID (-1)

struct wish {
    char *compare, *unpack, *pack;
    int verify, repair, replace, sectors, sector_bytes, unit;
};

static int pack(const char *path, const struct wish *wish) {
    struct image image;
    struct image from;
    struct stat is;
    unsigned lost = 0;
    if (stat(path, &is) == 0 && !wish->replace) {
        complain_plain("%s is there already; --replace makes it anew", path);
        return EXIT_USAGE;
    }
    if (wish->sectors < 2 || wish->sectors > 0xFFFF || wish->sector_bytes < 256 || wish->unit < 1 || wish->unit > 32) {
        complain_plain("store: expected --sectors 2 to 65535, --sector-bytes 256 to 1048576, --unit 1 to 32");
        return EXIT_USAGE;
    }
    int code = image_new(&image, path, (uint32_t)wish->sector_bytes, (uint16_t)wish->sectors, (uint8_t)wish->unit);
    if (code == EXIT_GOOD && stat(wish->pack, &is) == 0 && !S_ISDIR(is.st_mode)) {
        code = image_open(&from, wish->pack);
        code = code == EXIT_GOOD ? carry(&image, &from, &lost) : code;
        image_close(&from);
    } else if (code == EXIT_GOOD) {
        code = carry_folder(&image, wish->pack);
    }
    code = code == EXIT_GOOD ? finish_image(&image, lost) : code;
    image_close(&image);
    return code;
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    struct image image;
    struct wish wish = {NULL, NULL, NULL, 0, 0, 0, NOT_SAID, NOT_SAID, NOT_SAID};
    int json = 0;
    int code;
    const struct poptOption options[] = {
        {"json", 'j', POPT_ARG_NONE, &json, 0, "what is in it as JSON, for scripts", NULL},
        {"verify", 'v', POPT_ARG_NONE, &wish.verify, 0, "only tell whether all of it checks", NULL},
        {"compare", 'c', POPT_ARG_STRING, &wish.compare, 0, "with another image, record by record", "IMAGE"},
        {"repair", 'r', POPT_ARG_NONE, &wish.repair, 0, "make it anew, with all records that check", NULL},
        {"unpack", 'u', POPT_ARG_STRING, &wish.unpack, 0, "each record as a file of its own", "FOLDER"},
        {"pack", 'p', POPT_ARG_STRING, &wish.pack, 0, "make it, from such files or the records of an image", "FOLDER|IMAGE"},
        {"sectors", 's', POPT_ARG_INT, &wish.sectors, 0, "of a new image (8)", "NUMBER"},
        {"sector-bytes", 'b', POPT_ARG_INT, &wish.sector_bytes, 0, "of each (8192)", "NUMBER"},
        {"unit", 't', POPT_ARG_INT, &wish.unit, 0, "bytes that the flash programs at once (4)", "NUMBER"},
        {"replace", 'f', POPT_ARG_NONE, &wish.replace, 0, "even if the image is there", NULL},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_store, argc, argv, options, 1, 1, &code)) {
        return code;
    }
    memset(&image, 0, sizeof image);
    if (wish.verify + wish.repair + (wish.compare != NULL) + (wish.unpack != NULL) + (wish.pack != NULL) > 1) {
        complain_plain("store: expected one of --verify, --compare, --repair, --unpack, --pack");
        code = EXIT_USAGE;
    } else if (wish.pack == NULL &&
               (wish.sectors != NOT_SAID || wish.sector_bytes != NOT_SAID || wish.unit != NOT_SAID || wish.replace)) {
        complain_plain("store: --sectors, --sector-bytes, --unit and --replace go with --pack");
        code = EXIT_USAGE;
    } else if (wish.pack != NULL) {
        wish.sectors = wish.sectors == NOT_SAID ? 8 : wish.sectors;
        wish.sector_bytes = wish.sector_bytes == NOT_SAID ? 8192 : wish.sector_bytes;
        wish.unit = wish.unit == NOT_SAID ? 4 : wish.unit;
        code = pack(arguments.path[0], &wish);
    } else {
        code = image_open(&image, arguments.path[0]);
        code = code != EXIT_GOOD      ? code
               : wish.compare != NULL ? compare(&image, wish.compare)
               : wish.repair          ? repair(&image)
               : wish.unpack != NULL  ? unpack(&image, wish.unpack)
               : json                 ? look_facts(&image)
                                      : look(&image, !wish.verify);
    }
    image_close(&image);
    free(wish.compare);
    free(wish.unpack);
    free(wish.pack);
    arguments_free(&arguments);
    return code;
}

const struct command command_store = {
    "store", "what is in an image of a store's flash; checked, compared, repaired, packed", "IMAGE",
    "  glanz store out/store\n"
    "  glanz store out/store --unpack out/records\n"
    "  glanz store out/flash.bin --pack out/records --sectors 4 --sector-bytes 4096 --replace\n", run, 0};
