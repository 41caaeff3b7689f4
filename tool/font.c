/* SPDX-License-Identifier: MIT */
/* glanz font: a BDF font as C tables, or shown in the terminal. */
#include "bdf.h"
#include "commands.h"

#include <ctype.h>
#include <stdlib.h>
#include <string.h>

static void put_list(const char *type, const char *name, const char *what, uint32_t count) {
    printf("static GLANZ_CONST %s %s_%s[%u] = {", type, name, what, (unsigned)count);
}

static void put_source(const struct glanz_font *font, const char *name, const char *file) {
    uint32_t bytes = (uint32_t)font->starts[font->count] * ((font->rows + 7u) / 8u);
    printf("/* SPDX-License-Identifier: MIT */\n/* Written by \"glanz font\" from %s: %u glyphs of %u rows, %u bytes. Do not "
           "edit. */\n"
           "#include <glanz/paint.h>\n\n#if GLANZ_FIELDS\n\n/* clang-format off */\n",
           file, font->count, font->rows, (unsigned)(bytes + 4u * font->count + 2u));
    put_list("uint16_t", name, "codes", font->count);
    for (uint16_t i = 0; i < font->count; i++) {
        printf("%s0x%04X,", i % 16 == 0 ? "\n    " : " ", font->codes[i]);
    }
    puts("\n};");
    put_list("uint16_t", name, "starts", font->count + 1u);
    for (uint32_t i = 0; i <= font->count; i++) {
        printf("%s%u,", i % 20 == 0 ? "\n    " : " ", font->starts[i]);
    }
    puts("\n};");
    put_list("uint8_t", name, "bits", bytes);
    for (uint32_t i = 0; i < bytes; i++) {
        printf("%s%u,", i % 28 == 0 ? "\n    " : " ", font->bits[i]);
    }
    printf("\n};\n\nGLANZ_CONST struct glanz_font glanz_font_%s = {\n    GLANZ_TEXT(\"%s\"), %u, %u, %u, %s_codes, %s_starts, "
           "%s_bits};\n"
           "/* clang-format on */\n\n#endif\n",
           name, name, font->rows, font->rise, font->count, name, name, name);
}

static int show_text(const struct glanz_font *font, const char *text) {
    struct glanz_writing writing = {.kind = GLANZ_CONTENT_WRITING, .text = text, .font = font};
    uint16_t capacity = glanz_writing_capacity(&writing);
    struct glanz_letter *letters = (struct glanz_letter *)calloc(capacity, sizeof *letters);
    uint32_t missing = 0;
    uint32_t wrong = glanz_writing_check(text, NULL);
    if (letters == NULL || wrong != 0) {
        complain_plain("byte %u of the text: expected UTF-8, and braces around \"time\", \"date\" or the name of a value",
                       (unsigned)wrong);
        free(letters);
        return EXIT_REFUSED;
    }
    uint16_t count = glanz_writing_set(letters, capacity, &missing, &writing, 0, NULL);
    uint16_t near = 0;
    for (int32_t row = 0; row < font->rows; row++) {
        for (int32_t column = 0; column < letters[count].at; column++) {
            fputs(glanz_writing_bit(letters, count, &near, font, column, row) ? "##" : "..", stdout);
        }
        putchar('\n');
    }
    printf("%u columns, %u rows\n", letters[count].at, font->rows);
    if (missing != 0) {
        fprintf(stderr, "glanz: the font has no glyph for U+%04X; it is shown as a box\n", (unsigned)missing);
    }
    free(letters);
    return EXIT_GOOD;
}

static int is_identifier(const char *name) {
    for (const char *at = name; *at != '\0'; at++) {
        if (!islower((unsigned char)*at) && *at != '_' && (at == name || !isdigit((unsigned char)*at))) {
            return 0;
        }
    }
    return name[0] != '\0' && strlen(name) < 32;
}

static int run(int argc, const char **argv) {
    char *name = NULL;
    char *text = NULL;
    const struct poptOption options[] = {
        {"name", 'n', POPT_ARG_STRING, &name, 0, "name of the font in C; else the file's", "NAME"},
        {"text", 't', POPT_ARG_STRING, &text, 0, "show this text in the font, write no C", "TEXT"},
        POPT_TABLEEND};
    struct arguments arguments;
    struct bdf bdf;
    struct text file;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    char own[32] = "";
    int code;
    if (!arguments_parse(&arguments, &command_font, argc, argv, options, 1, 1, &code)) {
        return code;
    }
    const char *path = arguments.path[0];
    const char *base = strrchr(path, '/') == NULL ? path : strrchr(path, '/') + 1;
    snprintf(own, sizeof own, "%.*s", (int)strcspn(base, "."), base);
    code = EXIT_FILE;
    if (!is_identifier(name == NULL ? own : name)) {
        complain_plain("font: expected a name of small letters, digits and _ (--name), not \"%s\"", name == NULL ? own : name);
        code = EXIT_USAGE;
    } else if (text_read(&file, path)) {
        code = EXIT_REFUSED;
        if (bdf_read(&bdf, file.bytes, file.count, &fault) != GLANZ_OK) {
            complain(path, &fault);
        } else {
            if (bdf.left_out != 0) {
                fprintf(stderr, "glanz: %u glyphs without a code up to U+FFFF or without width are left out\n", bdf.left_out);
            }
            code = EXIT_GOOD;
            if (text != NULL) {
                code = show_text(&bdf.font, text);
            } else {
                put_source(&bdf.font, name == NULL ? own : name, base);
            }
            bdf_free(&bdf);
        }
        text_free(&file);
    }
    free(name);
    free(text);
    arguments_free(&arguments);
    return code;
}

const struct command command_font = {"font", "a BDF font as C tables, or shown", "FONT.bdf",
                                     "  glanz font fonts/quay.bdf > src/paint/font_quay.c\n"
                                     "  glanz font fonts/buoy.bdf --text \"Ebbe 2.4 m\"\n", run, 0};
