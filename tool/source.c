/* SPDX-License-Identifier: MIT */
/* source: a rig and a show as C structs that build for every target, with no JSON in the firmware; raw inputs too. Walks the
 * rows by which documents are read; what they leave to hooks has its own functions here. */
#include <ctype.h>
#include <errno.h>
#include <stdlib.h>
#include <string.h>

#include "effects.h"
#include "commands.h"
#include "source.h"

/* A text as a C literal in GLANZ_TEXT(), or NULL. */
void source_put_text(FILE *to, const char *text) {
    if (text == NULL) {
        fputs("NULL", to);
        return;
    }
    fputs("GLANZ_TEXT(\"", to);
    for (; *text != '\0'; text++) {
        unsigned char c = (unsigned char)*text;
        if (c == '"' || c == '\\') {
            fprintf(to, "\\%c", c);
        } else if (c < 32 || c > 126) {
            fprintf(to, "\\%03o", c);
        } else {
            fputc(c, to);
        }
    }
    fputs("\")", to);
}

/* The identifier that ends in a name: small letters and digits, all else an underscore. */
void source_put_identifier(FILE *to, const char *begin, const char *name) {
    fputs(begin, to);
    for (; *name != '\0'; name++) {
        fputc(isalnum((unsigned char)*name) ? tolower((unsigned char)*name) : '_', to);
    }
}

/* The member of an enumeration: the prefix, and a document's word in capitals. */
void source_put_enumerator(FILE *to, const char *prefix, const char *word) {
    fputs(prefix, to);
    for (; *word != '\0'; word++) {
        fputc(isalnum((unsigned char)*word) ? toupper((unsigned char)*word) : '_', to);
    }
}

/* ---- structs ---- */

/* Another row of the same member came before. */
static int stands_already(const struct table *table, uint8_t index) {
    const struct row *row = &table->rows[index];
    for (uint8_t i = 0; i < index; i++) {
        const struct row *other = &table->rows[i];
        if (other->at == row->at && other->kind != ROW_OBJECT && ((other->flags ^ row->flags) & ROW_COMPANION) == 0 &&
            ((other->flags | row->flags) & ROW_ALTERNATIVE) == 0 &&
            (row->kind < ROW_OBJECT || (row->kind == ROW_HOOK && row->extra == HOOK_LEVEL))) {
            return 1;
        }
    }
    return 0;
}

static void put_pointer(const struct source *source, const struct row *row, const void *pointer) {
    if (pointer != NULL && row->extra == SCOPE_LOOKS) {
        source_put_look_of(source, pointer);
    } else if (pointer != NULL) {
        fprintf(source->to, ", .%s = ", row->member);
        source_put_identifier(source->to, row->extra == SCOPE_CHIPS ? "&glanz_chip_" : "&glanz_font_",
                              *(const char *const *)pointer);
    }
}

/* A member's own name, also where it is one of a member: "within" of "region.within". */
static const char *own_name(const struct row *row) {
    const char *dot = strrchr(row->member, '.');
    return dot == NULL ? row->member : dot + 1;
}

static void put_rows(const struct source *source, const struct table *table, const void *base, unsigned beside,
                     const char *suffix);

static void put_row(const struct source *source, const struct table *table, const struct row *row, const void *base,
                    const char *suffix) {
    FILE *to = source->to;
    const struct table *of = (const struct table *)row->arg.refers_to;
    switch ((enum row_kind)row->kind) {
    case ROW_NAME:
        if (glanz_row_list(row, base) != NULL) {
            fprintf(to, ", .%s = ", row->member);
            source_put_text(to, (const char *)glanz_row_list(row, base));
        }
        break;
    case ROW_POINTER: put_pointer(source, row, glanz_row_list(row, base)); break;
    case ROW_OBJECT:
        put_rows(source, of, base, 0, suffix);
        source_put_member(to, row->count_or_prefix, row->high == 0 ? 0 : ((const uint8_t *)base)[row->high]);
        break;
    case ROW_OBJECT_POINTER:
        if (glanz_row_list(row, base) != NULL) {
            fprintf(to, ", .%s = &%s_%s%s", row->member, source->name, own_name(row), suffix);
        }
        break;
    case ROW_LIST:
    case ROW_MAP:
        if (glanz_row_count(row, base) != 0) {
            fprintf(to, ", .%s = %s_%s%s, .%s = %u", row->member, source->name, row->member, suffix, row->count_or_prefix,
                    (unsigned)glanz_row_count(row, base));
            if (of->beside != NULL) {
                fprintf(to, ", .%s = %s_%s%s", of->beside->member, source->name, of->beside->member, suffix);
            }
        }
        break;
    case ROW_HOOK: source_put_hook(source, row, base, suffix); break;
    case ROW_TRUE: break;
    case ROW_FLAG:
    case ROW_COUNT:
    case ROW_CHOICE:
    case ROW_SET:
    case ROW_QUANTITY:
    case ROW_COLOR:
    case ROW_INDEX: {
        struct row whole = *row; /* bits: the whole byte */
        whole.width = row->width == 0 ? 1 : row->width;
        if (glanz_row_get(&whole, base) != 0) {
            source_put_number(to, row, glanz_row_get(&whole, base));
        }
        break;
    }
    }
    if ((row->flags & ROW_ALTERNATIVE) == 0 || row->tag == 0) {
        return; /* 0 is what a struct begins with */
    }
    if (strchr(table->tag_member, '=') != NULL) {
        fputs(", .", to);
        source_put_enumerator(to, table->tag_member, row->key);
    } else {
        source_put_member(to, table->tag_member, row->tag);
    }
}

/* Members that no row names. */
static void put_rest(const struct source *source, const struct table *table, const void *base, const char *suffix) {
    FILE *to = source->to;
    const struct glanz_playlist *list = (const struct glanz_playlist *)base;
    switch (table->hook) {
    case TABLE_PANEL: fprintf(to, ", .leds = %u", ((const struct glanz_piece *)base)->leds); break;
    case TABLE_PALETTE: source_put_gradient_of(source, ((const struct glanz_show_palette *)base)->gradient); break;
    case TABLE_SKETCH:
        fprintf(to, ", .kind = GLANZ_CONTENT_PICTURE, .bytes = %s_bytes%s, .count = %u", source->name, suffix,
                (unsigned)((const struct glanz_picture *)base)->count);
        break;
    case TABLE_MARK: fprintf(to, ", .placed = %u", ((const struct glanz_mark *)base)->placed); break;
    case TABLE_SIGNAL: fprintf(to, ", .seed = 0x%08Xu", (unsigned)((const struct glanz_signal *)base)->seed); break;
    case TABLE_PART:
        fprintf(to, ", .aspects = %u, .segment = %u", ((const struct glanz_part *)base)->aspects,
                ((const struct glanz_part *)base)->segment);
        break;
    case TABLE_PLAYLIST:
        if (list->shuffled) {
            fprintf(to, ", .seed = 0x%08xu", (unsigned)list->seed);
        }
        fputs(list->timed ? ", .timed = 1" : "", to);
        break;
    default: break;
    }
}

static void put_rows(const struct source *source, const struct table *table, const void *base, unsigned beside,
                     const char *suffix) {
    for (uint8_t i = 0; i < table->count; i++) {
        const struct row *row = &table->rows[i];
        int other = (row->flags & ROW_ALTERNATIVE) != 0 && ((const uint8_t *)base)[table->tag] != row->tag;
        if ((row->flags & ROW_COMPANION) == beside && !other && !stands_already(table, i)) {
            put_row(source, table, row, base, suffix);
        }
    }
    if (beside == 0) {
        put_rest(source, table, base, suffix);
    }
}

/* Members, on lines of some 120 columns. */
static void put_wrapped(FILE *to, const char *members) {
    unsigned column = 6;
    int quoted = 0;
    for (const char *c = members; *c != '\0'; c++, column++) {
        quoted ^= *c == '"' && c > members && c[-1] != '\\';
        if (!quoted && column > 100 && c[0] == ' ' && c[1] == '.') {
            fputs("\n    ", to);
            column = 4;
        }
        fputc(*c, to);
    }
}

/* A struct in braces. Each member is put with ", " before it; the first one's is left out. */
static void put_struct(const struct source *source, const struct table *table, const struct row *row, const void *base,
                       unsigned beside, const char *suffix) {
    char *bytes = NULL;
    size_t count = 0;
    struct source inner = *source;
    inner.to = open_memstream(&bytes, &count);
    if (inner.to == NULL) {
        return;
    }
    if (row->kind == ROW_MAP && (row->flags & ROW_KEYED) == 0) {
        const char *name;
        memcpy(&name, (const uint8_t *)base + table->name, sizeof name);
        fputs(", .name = ", inner.to);
        source_put_text(inner.to, name);
    }
    put_rows(&inner, table, base, beside, suffix);
    fclose(inner.to);
    fputc('{', source->to);
    put_wrapped(source->to, count > 2 ? bytes + 2 : "0");
    fputc('}', source->to);
    free(bytes);
}

/* ---- lists: those inside first ---- */

static void put_lists(const struct source *source, const struct table *table, const void *base, const char *suffix);

static void put_list(const struct source *source, const struct row *row, const void *base, const char *suffix) {
    const struct table *table = (const struct table *)row->arg.refers_to;
    uint32_t count = glanz_row_count(row, base);
    const uint8_t *first = (const uint8_t *)glanz_row_list(row, base);
    char inner[64];
    for (uint32_t i = 0; i < count; i++) {
        snprintf(inner, sizeof inner, "%s_%u", suffix, (unsigned)i);
        source_put_before(source, table, first + table->size * i, i);
        put_lists(source, table, first + table->size * i, inner);
    }
    if (count == 0) {
        return;
    }
    fprintf(source->to, "\nstatic GLANZ_CONST %s %s_%s%s[] = {\n", table->type, source->name, row->member, suffix);
    for (uint32_t i = 0; i < count; i++) {
        snprintf(inner, sizeof inner, "%s_%u", suffix, (unsigned)i);
        fputs("    ", source->to);
        put_struct(source, table, row, first + table->size * i, 0, inner);
        fputs(",\n", source->to);
    }
    fputs("};\n", source->to);
    if (table->beside == NULL) {
        return;
    }
    fprintf(source->to, "\nstatic GLANZ_CONST %s %s_%s%s[] = {\n", table->beside->type, source->name, table->beside->member,
            suffix);
    memcpy(&first, (const uint8_t *)base + table->beside->at, sizeof first);
    for (uint32_t i = 0; i < count; i++) {
        fputs("    ", source->to);
        put_struct(source, table, row, first + table->beside->size * i, ROW_COMPANION, suffix);
        fputs(",\n", source->to);
    }
    fputs("};\n", source->to);
}

static void put_lists(const struct source *source, const struct table *table, const void *base, const char *suffix) {
    for (uint8_t i = 0; i < table->count; i++) {
        const struct row *row = &table->rows[i];
        int other = (row->flags & ROW_ALTERNATIVE) != 0 && ((const uint8_t *)base)[table->tag] != row->tag;
        if ((row->kind == ROW_LIST || row->kind == ROW_MAP) && !other) {
            put_list(source, row, base, suffix);
        } else if (row->kind == ROW_OBJECT_POINTER && glanz_row_list(row, base) != NULL) {
            const struct table *of = (const struct table *)row->arg.refers_to;
            fprintf(source->to, "\nstatic GLANZ_CONST %s %s_%s%s = ", of->type, source->name, own_name(row), suffix);
            put_struct(source, of, row, glanz_row_list(row, base), 0, suffix);
            fputs(";\n", source->to);
        }
    }
}

static void put_stack(const struct source *source) {
    if (source->show->stack == NULL) {
        return;
    }
    fprintf(source->to, "\nstatic GLANZ_CONST uint8_t %s_stack[] = {", source->name);
    for (uint8_t i = 0; i < source->show->segment_count; i++) {
        fprintf(source->to, i == 0 ? "%u" : ", %u", source->show->stack[i]);
    }
    fputs("};\n", source->to);
}

static void put_document(const struct source *source, const struct table *table, const void *base, const char *what) {
    struct row row = {0};
    put_lists(source, table, base, "");
    fprintf(source->to, "\nGLANZ_CONST %s %s_%s = ", table->type, source->name, what);
    put_struct(source, table, &row, base, 0, "");
    fputs(";\n", source->to);
}

/* ---- the parts ---- */

/* What the show needs; and, where it has presets or actions, glides, so that it changes as it does on the desk. A show that
 * resumes has what saving needs, which takes no part without a store. */
static void put_parts(const struct source *source, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show) {
    unsigned needed = glanz_parts_needed(rig, show) | (show->resume ? GLANZ_PARTS_OF_SAVING : 0u);
    int saves = (needed & GLANZ_PART_SAVING) != 0; /* which a build may be without */
    needed &= ~(unsigned)GLANZ_PART_SAVING;
    fprintf(source->to, "\nGLANZ_CONST struct glanz_parts %s_parts = {\n", source->name);
    for (unsigned left = needed; left != 0;) {
        const char *name = glanz_part_name(left);
        fprintf(source->to, "    .%s = &glanz_part_%s,\n", name, name);
        unsigned bit = 1;
        while ((left & bit) == 0 || strcmp(glanz_part_name(bit), name) != 0) {
            bit <<= 1;
        }
        left &= ~bit;
    }
    if ((needed & (GLANZ_PART_CONTROL | GLANZ_PART_DRIVES)) != 0) {
        fputs("#if GLANZ_GLIDES\n    .glides = &glanz_part_glides,\n#endif\n", source->to);
    }
    if (saves) {
        fputs("#if GLANZ_SAVED_MOST > 0\n    .saving = &glanz_part_saving,\n#endif\n", source->to);
    }
    fputs("};\n", source->to);
}

/* ---- the inputs ---- */

static int put_inputs(const struct source *source, GLANZ_CONST struct glanz_rig *rig, const char *path) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text;
    struct log log;
    if (!text_read(&text, path)) {
        return EXIT_FILE;
    }
    glanz_status status = log_read(&log, text.bytes, text.count, &fault);
    text_free(&text);
    if (status != GLANZ_OK) {
        complain(path, &fault);
        return EXIT_REFUSED;
    }
    int code = EXIT_GOOD;
    fprintf(source->to, "\nGLANZ_CONST struct glanz_pushed %s_pushed[] = {\n", source->name);
    for (size_t i = 0; i < log.count && code == EXIT_GOOD; i++) {
        uint8_t input = 0;
        while (input < rig->input_count && !glanz_text_equal(rig->inputs[input].name, log.entries[i].name)) {
            input++;
        }
        if (log.entries[i].kind != ENTRY_INPUT || input == rig->input_count || log.entries[i].at_us > UINT32_MAX) {
            complain_plain(
                "%s:%u: C source takes raw edges and values only, of inputs of the rig and within the first 71 minutes; "
                "make such a log with \"glanz play --record\"",
                path, log.entries[i].line);
            code = EXIT_REFUSED;
        } else {
            fprintf(source->to, "    {%uu, %u, %u},\n", (unsigned)log.entries[i].at_us, log.entries[i].level, input);
        }
    }
    fprintf(source->to, "    {0xFFFFFFFFu, 0, 0}, /* the end */\n};\n");
    log_free(&log);
    return code;
}

/* ---- the command ---- */

static int valid_name(const char *name) {
    for (const char *c = name; *c != '\0'; c++) {
        if (!(islower((unsigned char)*c) || *c == '_' || (c != name && isdigit((unsigned char)*c)))) {
            return 0;
        }
    }
    return name[0] != '\0' && strlen(name) < 40;
}

/* Does no look before it have its effect? */
static int is_first(GLANZ_CONST struct glanz_show *show, uint16_t index) {
    uint16_t i = 0;
    while (show->looks[i].effect != show->looks[index].effect) {
        i++;
    }
    return i == index;
}

static int write_header(FILE *to, const struct session *session, const char *name, const char *inputs) {
    (void)inputs;
    source_put_header(to, name, session->rig.rig, session->shows[0].show);
    return EXIT_GOOD;
}

static int write_all(FILE *to, const struct session *session, const char *name, const char *inputs) {
    struct source source = {to, name, session->shows[0].show};
    GLANZ_CONST struct glanz_rig *rig = session->rig.rig;
    GLANZ_CONST struct glanz_show *show = session->shows[0].show;
    fputs("/* Written by \"glanz source\" from a rig and a show. */\n#include <glanz/device.h>\n\n", to);
    source_put_declarations(to, name, rig, show);
    for (uint16_t i = 0; i < show->look_count; i++) { /* effects of one's own, once each */
        if (effects_path(show->looks[i].effect) != NULL && is_first(show, i)) {
            fprintf(to, "extern GLANZ_CONST struct glanz_effect %s; /* %s */\n", effects_symbol(show->looks[i].effect),
                    effects_path(show->looks[i].effect));
        }
    }
    if (inputs != NULL) {
        fprintf(to, "extern GLANZ_CONST struct glanz_pushed %s_pushed[];\n", name);
    }
    put_document(&source, &glanz_table_rig, rig, "rig");
    put_stack(&source);
    source_put_whole(&source);
    put_document(&source, &glanz_table_show, show, "show");
    put_parts(&source, rig, show);
    return inputs == NULL ? EXIT_GOOD : put_inputs(&source, rig, inputs);
}

/* Can C reach every effect that the show names? */
static int can_name_all(GLANZ_CONST struct glanz_show *show) {
    for (uint16_t i = 0; i < show->look_count; i++) {
        GLANZ_CONST struct glanz_effect *effect = show->looks[i].effect;
        if (effects_path(effect) != NULL && effects_symbol(effect) == NULL) {
            complain_plain(
                "look \"%s\": the effect \"%s\" is static in %s; expected it without, so that a show in C can name it",
                show->looks[i].name, effect->name, effects_path(effect));
            return 0;
        }
    }
    return 1;
}

/* Written whole to memory first: on a failure there is no half a file. */
static int write_file(int (*write)(FILE *to, const struct session *session, const char *name, const char *inputs),
                      const struct session *session, const char *name, const char *inputs, const char *out) {
    char *bytes = NULL;
    size_t count = 0;
    FILE *memory = open_memstream(&bytes, &count);
    int code = memory == NULL ? EXIT_FILE : write(memory, session, name == NULL ? "my" : name, inputs);
    if (memory != NULL && fclose(memory) != 0) {
        code = EXIT_FILE;
    }
    if (code == EXIT_GOOD) {
        code = output_bytes(out == NULL ? "-" : out, bytes, count) ? EXIT_GOOD : EXIT_FILE;
    }
    free(bytes);
    return code;
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    char *name = NULL;
    char *inputs = NULL;
    char *out = NULL;
    char *header = NULL;
    int code;
    const struct poptOption options[] = {
        {"name", 'n', POPT_ARG_STRING, &name, 0, "what the structs' names begin with (default: my)", "NAME"},
        {"inputs", 'i', POPT_ARG_STRING, &inputs, 0, "write this log of raw edges and values too", "FILE"},
        {"output", 'o', POPT_ARG_STRING, &out, 0, "where to write; else standard output", "FILE"},
        {"header", 0, POPT_ARG_STRING, &header, 0, "write what a program needs of it here: names, and how much memory", "FILE"},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_source, argc, argv, options, 2, 2, &code)) {
        return code;
    }
    struct session session;
    struct glanz_board_setup setup;
    memset(&session, 0, sizeof session);
    memset(&setup, 0, sizeof setup);
    if (name != NULL && !valid_name(name)) {
        complain_plain("--name %s: expected small letters, digits and underscores, a letter first, at most 39", name);
        code = EXIT_USAGE;
    } else if ((code = session_open(&session, arguments.path[0], arguments.path[1], NULL, &setup, 100)) == EXIT_GOOD) {
        code = can_name_all(session.shows[0].show) ? EXIT_GOOD : EXIT_REFUSED;
    }
    if (code == EXIT_GOOD) {
        code = write_file(write_all, &session, name, inputs, out);
    }
    if (code == EXIT_GOOD && header != NULL) {
        code = write_file(write_header, &session, name, NULL, header);
    }
    session_close(&session);
    free(name);
    free(inputs);
    free(out);
    free(header);
    arguments_free(&arguments);
    return code;
}

const struct command command_source = {
    "source",   "write a rig and a show as C source that builds for every target",
    "RIG SHOW", "  glanz source demo/rig.json demo/show.json --name museum -o museum.c --header museum.h\n",
    run,        SEES_STORE};
