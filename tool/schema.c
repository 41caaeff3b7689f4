/* SPDX-License-Identifier: MIT */
/* schema: JSON Schema (2020-12) of the documents, or a page that explains every key; both made from the rows by which documents
 * are read. docs/ holds what this prints. */
#include <string.h>

#include "commands.h"
#include "log.h"
#include "rows.h"
#include "schema.h"

const struct schema_quantity schema_quantities[] = {
    [QUANTITY_TIME] = {"time", "^[0-9]+([.][0-9]+)? ?(ms|s|min|h)$", "a time, such as `2.5 s`"},
    [QUANTITY_SHARE] = {"share", "^[0-9]+([.][0-9]+)? ?%$", "a share, such as `40 %`"},
    [QUANTITY_LIGHTNESS] = {"share", NULL, "a lightness, such as `40 %`"},
    [QUANTITY_CURRENT] = {"amperes", "^[0-9]+([.][0-9]+)? ?m?A$", "a current, such as `2.4 A`"},
    [QUANTITY_SMALL_CURRENT] = {"milliamperes", "^[0-9]+([.][0-9]+)? ?mA$", "a current, such as `18.5 mA`"},
    [QUANTITY_VOLTAGE] = {"volts", "^[0-9]+([.][0-9]+)? ?m?V$", "a voltage, such as `5 V`"},
    [QUANTITY_KELVIN] = {"kelvin", "^[0-9]+ ?K$", "a colour temperature, such as `4000 K`"},
    [QUANTITY_HERTZ] = {"frequency", "^[0-9]+([.][0-9]+)? ?k?Hz$", "a frequency, such as `25 Hz` or `16 kHz`"},
    [QUANTITY_DECIBEL] = {"decibels", "^-?[0-9]+([.][0-9]+)? ?dB$", "a ratio, such as `36 dB`"},
    [QUANTITY_ANGLE] = {"angle", "^-?[0-9]+([.][0-9]+)? ?deg$", "an angle, such as `90 deg`"},
    [QUANTITY_FRAMES] = {"frames", "^[0-9]+ ?per s$", "a frame rate, such as `100 per s`"},
    [QUANTITY_LENGTH] = {"length", "^[0-9]+([.][0-9]+)? ?(leds?|%)$", "a length, such as `2.5 leds` or `40 %`"},
    [QUANTITY_RATE] = {"rate", "^-?[0-9]+([.][0-9]+)? ?(leds/s|lengths/s|passes/s|ms/pass|s/pass|min/pass)$",
                       "a speed, such as `8 s/pass`"},
};
#define QUANTITIES (sizeof schema_quantities / sizeof schema_quantities[0])

#define SHARE "{ \"$ref\": \"#/$defs/share\" }"
#define MILLIAMPERES "{ \"$ref\": \"#/$defs/milliamperes\" }"
#define CHANNELS(value) "\"red\": " value ", \"green\": " value ", \"blue\": " value ", \"white\": " value

#define TRIM                                                                                                                   \
    {                                                                                                                          \
        "\"oneOf\": [ " SHARE                                                                                                  \
        ", { \"type\": \"object\", \"additionalProperties\": false, \"properties\": { " CHANNELS(SHARE) " } } ]",              \
            "a share, or an object of shares: `red`, `green`, `blue`, `white`"                                                 \
    }

const struct schema_hook schema_hooks[] = {
    [HOOK_LOWEST_BLINK] = {"\"type\": \"string\", \"pattern\": \"^([0-9]+ ?Hz|none)$\"", "a frequency, or `none`"},
    [HOOK_DEGREES] = {"\"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]{1,4})? [NSEW]$\"", "degrees"},
    [HOOK_ORDER] = {"\"type\": \"string\", \"pattern\": \"^[RGB]{3}$|^[RGBW]{4}$\"", "letters"},
    [HOOK_TRIM] = TRIM,
    [HOOK_STRETCH_TRIM] = TRIM,
    [HOOK_CURRENT] = {"\"type\": \"object\", \"additionalProperties\": false, \"properties\": { " CHANNELS(
                          MILLIAMPERES) ", \"idle\": " MILLIAMPERES " }",
                      "an object of currents: `red`, `green`, `blue`, `white`, `idle`"},
    [HOOK_RADIUS] = {"\"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]+)? ?leds?$\"",
                     "a length in LEDs, such as `3.5 leds`"},
    [HOOK_PLACES] = {"\"type\": \"array\", \"items\": { \"type\": \"array\", \"minItems\": 2, \"maxItems\": 2, \"items\": { "
                     "\"type\": \"number\", "
                     "\"minimum\": 0, \"maximum\": 1022 } }",
                     "a list of places, such as `[3, 1.5]`"},
    [HOOK_DRAWING] = {"\"type\": \"array\", \"items\": { \"type\": \"string\", \"pattern\": \"^[0-9a-zA-Z. ]*$\" }",
                      "a list of rows"},
    [HOOK_DATA] = {"\"type\": \"string\", \"pattern\": \"^[A-Za-z0-9+/]+={0,2}$\"", "base64"},
    [HOOK_SKETCH] = {"\"type\": \"array\", \"minItems\": 1, \"maxItems\": 255, \"items\": { \"type\": \"string\", "
                     "\"minLength\": 1, \"maxLength\": 255 }",
                     "a list of rows"},
    [HOOK_SKETCH_COLORS] =
        {"\"type\": \"object\", \"maxProperties\": 100, \"propertyNames\": { \"minLength\": 1, \"maxLength\": 1 }, "
         "\"additionalProperties\": { \"$ref\": \"#/$defs/color\" }",
         "an object of colours"},
    [HOOK_EFFECT] = {"\"type\": \"string\"", "an effect of those below"},
    [HOOK_PALETTE_OF] = {"\"type\": \"string\"", "the name of a palette of the library"},
    [HOOK_PALETTE] = {"\"type\": \"string\"", "the name of a palette"},
    [HOOK_BLOCKS] = {"\"type\": \"string\", \"pattern\": \"^ *[0-9]+ +[^,]+(, *[0-9]+ +[^,]+)*$\"", "text"},
    [HOOK_WORDS] = {"\"type\": \"string\"", "names with commas between"},
    [HOOK_TEXT] = {"\"type\": \"string\", \"maxLength\": 1000", "text"},
    [HOOK_PICTURE] = {"\"type\": \"string\"", "the name of a picture"},
    [HOOK_STENCIL] = {"\"type\": \"string\", \"pattern\": \"^take [0-9]+, leave [0-9]+(, take [0-9]+, leave [0-9]+)*$\"",
                      "text"},
    [HOOK_PICKED] = {"\"type\": \"string\", \"pattern\": \"^[0-9]+( to [0-9]+)?(, [0-9]+( to [0-9]+)?)*$\"", "text"},
    [HOOK_PART] = {"\"type\": \"string\"", "a name"},
    [HOOK_STACK] = {"\"type\": \"array\", \"uniqueItems\": true, \"items\": { \"type\": \"string\" }", "a list of segments"},
    [HOOK_THEN] =
        {"\"oneOf\": [ { \"enum\": [\"stay\", \"dark\", \"back\"] }, { \"type\": \"object\", \"additionalProperties\": false, "
         "\"required\": [\"preset\"], \"properties\": { \"preset\": { \"type\": \"string\" } } } ]",
         "`stay`, `dark`, `back`, or a preset"},
    [HOOK_NUMBERS] = {"\"type\": \"object\", \"additionalProperties\": { \"type\": [\"string\", \"integer\", \"boolean\"] }",
                      "an object of such keys and values"},
    [HOOK_READS] = {"\"type\": \"string\", \"pattern\": \"^-?[0-9]+([.][0-9]+)? to -?[0-9]+([.][0-9]+)? .+$\"",
                    "a range with its unit"},
    [HOOK_LEVEL] = {"\"type\": \"string\", \"pattern\": \"^[-]?[0-9]+([.][0-9]+)? ?[^0-9]+.*$\"",
                    "a level: `40 %`, `90 deg` of an angle, or in the unit of its input"},
    [HOOK_PARAM] = {"\"type\": \"string\"", "the key of a number"},
    [HOOK_CHANGE] = {"\"type\": [\"string\", \"integer\", \"boolean\"]", "a value of that key"},
    [HOOK_ON] = {"\"enum\": [true, false, \"other\"]", "`true`, `false`, `other`"},
    [HOOK_MOMENT] =
        {"\"type\": \"string\", \"pattern\": \"^([0-9]{1,2}:[0-9]{2}(:[0-9]{2})?|sun(rise|set)( [+-] [0-9]+ (s|min|h))?)$\"",
         "a moment of the day"},
    [HOOK_DAY] = {"\"type\": \"string\", \"pattern\": \"^([0-9]{4}-)?[0-9]{1,2}-[0-9]{1,2}$\"", "a day"},
    [HOOK_DRIVES] = {NULL, NULL},
    [HOOK_END] = {"\"type\": \"string\"", "a value of the key that follows"},
};

const char *const schema_scopes[SCOPES] = {"chip",   "font", "effect",  "supply", "output",   "surface", "input",  "signal",
                                           "colour", "look", "segment", "preset", "playlist", "palette", "picture"};

/* ---- JSON ---- */

static void line(int depth) {
    putchar('\n');
    for (int i = 0; i < depth; i++) {
        fputs("  ", stdout);
    }
}

static void text(const char *said) { /* in a string */
    for (; *said != '\0'; said++) {
        if (*said == '"' || *said == '\\') {
            putchar('\\');
        }
        putchar(*said);
    }
}

static void words(const char *const *list) {
    fputs("\"enum\": [", stdout);
    for (int i = 0; list[i] != NULL; i++) {
        printf("%s\"%s\"", i == 0 ? "" : ", ", list[i]);
    }
    putchar(']');
}

static void listed(const void *list) { /* structs that begin with their name */
    struct names names = glanz_names_listed(list);
    fputs("\"enum\": [", stdout);
    for (int i = 0; i < names.count; i++) {
        printf("%s\"%s\"", i == 0 ? "" : ", ", glanz_names_at(&names, i));
    }
    putchar(']');
}

static void schema_table(const struct table *table, int depth);

/* What a row's value must be: the members of its schema. */
static void schema_value(const struct row *row, int depth) {
    const struct table *table = (const struct table *)row->arg.refers_to;
    int some = (row->flags & ROW_NOT_EMPTY) != 0;
    switch ((enum row_kind)row->kind) {
    case ROW_NAME: fputs("\"$ref\": \"#/$defs/name\"", stdout); break;
    case ROW_FLAG: fputs("\"type\": \"boolean\"", stdout); break;
    case ROW_TRUE: fputs("\"const\": true", stdout); break;
    case ROW_COUNT:
        printf("\"type\": \"integer\", \"minimum\": %d, \"maximum\": %u", (int)row->arg.low, (unsigned)row->high);
        break;
    case ROW_CHOICE: words((const char *const *)row->arg.refers_to); break;
    case ROW_SET:
        printf("\"type\": \"array\", \"minItems\": %d, \"uniqueItems\": true, \"items\": { ", some);
        words((const char *const *)row->arg.refers_to);
        fputs(" }", stdout);
        break;
    case ROW_QUANTITY:
        printf((row->flags & ROW_DRIVABLE) != 0 ? "\"oneOf\": [ { \"$ref\": \"#/$defs/%s\" }, { \"$ref\": \"#/$defs/drive\" } ]"
                                                : "\"$ref\": \"#/$defs/%s\"",
               schema_quantities[row->extra].name);
        break;
    case ROW_COLOR: fputs("\"$ref\": \"#/$defs/color\"", stdout); break;
    case ROW_INDEX: fputs("\"type\": \"string\"", stdout); break;
    case ROW_POINTER:
        if (row->extra == SCOPE_CHIPS) {
            listed(glanz_chips);
        } else if (row->extra == SCOPE_FONTS) {
            listed(glanz_fonts);
        } else {
            fputs("\"type\": \"string\"", stdout);
        }
        break;
    case ROW_OBJECT:
    case ROW_OBJECT_POINTER: schema_table(table, depth); break;
    case ROW_LIST:
        printf("\"type\": \"array\", \"minItems\": %d, \"maxItems\": %d, \"items\": { ", some, ROW_COUNT_MOST(row));
        schema_table(table, depth);
        fputs(" }", stdout);
        break;
    case ROW_MAP:
        printf("\"type\": \"object\", \"maxProperties\": %d, \"propertyNames\": { \"$ref\": \"#/$defs/name\" }, "
               "\"additionalProperties\": { ",
               ROW_COUNT_MOST(row));
        schema_table(table, depth);
        fputs(" }", stdout);
        break;
    case ROW_HOOK: fputs(schema_hooks[row->extra].schema, stdout); break;
    }
}

static void property(const char *key, const char *what, const struct row *row, int depth, int *first) {
    fputs(*first ? "" : ",", stdout);
    *first = 0;
    line(depth);
    printf("\"%s\": { ", key);
    schema_value(row, depth);
    if (what != NULL) {
        fputs(", \"description\": \"", stdout);
        text(what);
        putchar('"');
    }
    fputs(" }", stdout);
}

static void properties(const struct table *table, int depth, int *first) {
    for (uint8_t i = 0; i < table->count; i++) {
        if (table->rows[i].key != NULL) {
            property(table->rows[i].key, table->rows[i].description, &table->rows[i], depth, first);
        }
    }
}

/* The keys of rows that have a flag. */
static void required(const struct table *table, unsigned flag, const char *begin, const char *between, const char *end) {
    int some = 0;
    for (uint8_t i = 0; i < table->count; i++) {
        if ((table->rows[i].flags & flag) != 0 && table->rows[i].key != NULL) {
            printf("%s\"%s\"", some++ ? between : begin, table->rows[i].key);
        }
    }
    fputs(some ? end : "", stdout);
}

static void schema_object(const struct table *table, int depth) {
    int first = 1;
    fputs("\"type\": \"object\", \"additionalProperties\": false, ", stdout);
    required(table, ROW_REQUIRED, "\"required\": [", ", ", "], ");
    required(table, ROW_ALTERNATIVE, "\"oneOf\": [ { \"required\": [", "] }, { \"required\": [", "] } ], ");
    if (table->rules != NULL) {
        printf("%s, ", table->rules);
    }
    fputs("\"properties\": {", stdout);
    properties(table, depth + 1, &first);
    line(depth);
    putchar('}');
}

static void schema_table(const struct table *table, int depth) {
    if (table->hook == TABLE_LOOK) {
        fputs("\"$ref\": \"#/$defs/look\"", stdout);
    } else if (table->hook == TABLE_ACTION) {
        fputs("\"$ref\": \"#/$defs/action\"", stdout);
    } else if ((table->flags & TABLE_VALUE) != 0) {
        schema_value(&table->rows[0], depth);
    } else if ((table->flags & TABLE_SHORTHAND) != 0) {
        fputs("\"oneOf\": [ { \"type\": \"string\" }, { ", stdout);
        schema_object(table, depth);
        fputs(" } ]", stdout);
    } else {
        schema_object(table, depth);
    }
}

/* ---- looks and actions: a schema for each of their kinds ---- */

const struct table *schema_table_of(const struct table *table, const char *key) {
    uint8_t i = 0;
    while (table->rows[i].key == NULL || strcmp(table->rows[i].key, key) != 0) {
        i++;
    }
    return (const struct table *)table->rows[i].arg.refers_to;
}

static void schema_param(GLANZ_CONST struct glanz_param *param, int *first) {
    static const char *const refs[] = {"color", "length", "rate", "share"};
    printf("%s\n        \"%s\": { ", *first ? "" : ",", param->name);
    *first = 0;
    fputs(IS_DRIVABLE(param) ? "\"oneOf\": [ { " : "", stdout);
    if (param->kind <= GLANZ_PARAM_SHARE) {
        printf("\"$ref\": \"#/$defs/%s\"", refs[param->kind]);
    } else if (param->kind == GLANZ_PARAM_TURN) {
        printf("\"$ref\": \"#/$defs/angle\"");
    } else if (param->kind == GLANZ_PARAM_COUNT) {
        printf("\"type\": \"integer\", \"minimum\": %d, \"maximum\": %d", (int)param->low, (int)param->high);
    } else if (param->kind == GLANZ_PARAM_FLAG) {
        printf("\"type\": \"boolean\"");
    } else if (param->kind == GLANZ_PARAM_SIGNAL) {
        printf("\"type\": \"string\"");
    } else {
        printf("\"enum\": [");
        for (int32_t i = 0; i <= param->high; i++) {
            printf("%s\"%s\"", i == 0 ? "" : ", ", param->choices[i]);
        }
        printf("]");
    }
    printf("%s, \"description\": \"%s\" }", IS_DRIVABLE(param) ? " }, { \"$ref\": \"#/$defs/drive\" } ]" : "",
           param->description);
}

static void schema_look(GLANZ_CONST struct glanz_effect *effect, const struct table *looks) {
    const struct table *content = glanz_tables_of_contents[effect->content];
    int first = 0;
    printf("      { \"title\": \"%s\", \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"effect\"",
           effect->name);
    if (content != NULL) {
        required(content, ROW_REQUIRED, ", ", ", ", "");
    }
    printf("], \"description\": \"%s\", \"properties\": {\n        \"effect\": { \"const\": \"%s\" }", effect->description,
           effect->name);
    for (uint8_t i = 0; i < effect->param_count; i++) {
        schema_param(&effect->params[i], &first);
    }
    for (uint8_t i = 0; i < looks->count; i++) {
        const struct row *row = &looks->rows[i];
        int fits = row->key != NULL && (row->kind != ROW_HOOK || row->extra == HOOK_PALETTE);
        if (fits) {
            property(row->key, row->description, row, 4, &first);
        }
    }
    if (content != NULL) {
        properties(content, 4, &first);
    }
    fputs(" } }", stdout);
}

static void schema_action(const struct glanz_action_kind *kind) {
    const struct table *table = &glanz_table_action;
    int first = 1;
    printf("      { \"type\": \"object\", \"description\": \"%s\", \"additionalProperties\": false, \"required\": [\"%s\"",
           kind->description, kind->key);
    for (uint8_t i = 0; i < table->count; i++) {
        if ((kind->needs & table->rows[i].tag) != 0) {
            printf(", \"%s\"", table->rows[i].key);
        }
    }
    if ((kind->may & GLANZ_WITH_NUMBER) != 0) {
        fputs(
            ", \"number\"], \"oneOf\": [ { \"required\": [\"to\"] }, { \"required\": [\"by\"] }, { \"required\": [\"times\"] }",
            stdout);
    }
    fputs("], \"properties\": {", stdout);
    property(kind->key, NULL, &glanz_rows_of_values[kind->value], 4, &first);
    for (uint8_t i = 0; i < table->count; i++) {
        if (((kind->needs | kind->may) & table->rows[i].tag) != 0) {
            property(table->rows[i].key, table->rows[i].description, &table->rows[i], 4, &first);
        }
    }
    fputs(" } }", stdout);
}

/* ---- documents ---- */

static void begin(const char *title) {
    printf("{\n  \"$schema\": \"https://json-schema.org/draft/2020-12/schema\",\n  \"title\": \"%s\",\n  \"$defs\": {\n"
           "    \"name\": { \"type\": \"string\", \"minLength\": 1, \"maxLength\": 63 },\n",
           title);
    for (size_t i = 0; i < QUANTITIES; i++) {
        if (schema_quantities[i].pattern != NULL) {
            printf("    \"%s\": { \"type\": \"string\", \"pattern\": \"%s\" },\n", schema_quantities[i].name,
                   schema_quantities[i].pattern);
        }
    }
    fputs("    \"color\": { \"type\": \"string\", \"description\": \"#rgb, #rrggbb (# may be left out), 2700 K, hsl(210 80% "
          "40%), "
          "rgb(255 176 0), or a name of colors\" }",
          stdout);
}

static void schema_rig(void) {
    begin("Glanz rig: one controller's hardware");
    fputs("\n  },\n  ", stdout);
    schema_object(&glanz_table_rig, 1);
    puts("\n}");
}

static void schema_show(void) {
    begin("Glanz show: what to see on a rig");
    fputs(",\n    \"look\": { \"oneOf\": [\n", stdout);
    for (uint8_t i = 0; glanz_effects[i] != NULL; i++) {
        schema_look(glanz_effects[i], schema_table_of(&glanz_table_show, "looks"));
        puts(glanz_effects[i + 1] == NULL ? " ] }," : ",");
    }
    fputs("    \"action\": { \"oneOf\": [\n", stdout);
    for (size_t i = 0; glanz_actions[i] != NULL; i++) {
        schema_action(glanz_actions[i]);
        puts(glanz_actions[i + 1] != NULL ? "," : " ] },");
    }
    fputs("    \"drive\": { ", stdout);
    schema_object(&glanz_table_drive, 3);
    puts(" }");
    fputs("  },\n  ", stdout);
    schema_object(&glanz_table_show, 1);
    puts("\n}");
}

/* One line of an input log. Patches and actions are objects of their own documents. */
static void schema_log(void) {
    puts(
        "{\n  \"$schema\": \"https://json-schema.org/draft/2020-12/schema\",\n  \"title\": \"Glanz input log: one line of "
        "it\",\n"
        "  \"$defs\": {\n    \"name\": { \"type\": \"string\", \"minLength\": 1, \"maxLength\": 63 },\n"
        "    \"time\": { \"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]+)? *(us|ms|s|min|h)$\" }\n  },\n  \"oneOf\": [");
    for (size_t k = 0; log_kinds[k].own.key != NULL; k++) {
        const struct log_kind *kind = &log_kinds[k];
        printf("    { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"at\", \"%s\"", kind->own.key);
        for (unsigned i = 0; log_withs[i].key != NULL; i++) {
            if ((kind->needs >> i & 1u) != 0) {
                printf(", \"%s\"", log_withs[i].key);
            }
        }
        printf("],\n      \"properties\": { \"at\": { \"$ref\": \"#/$defs/time\" }, \"%s\": %s", kind->own.key,
               kind->own.schema);
        for (unsigned i = 0; log_withs[i].key != NULL; i++) {
            if (((kind->needs | kind->may) >> i & 1u) != 0) {
                printf(", \"%s\": %s", log_withs[i].key, log_withs[i].schema);
            }
        }
        printf(" } }%s\n", log_kinds[k + 1].own.key != NULL ? "," : "");
    }
    puts("  ]\n}");
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    int code;
    int as_page = 0;
    const struct poptOption options[] = {
        {"page", 'p', POPT_ARG_NONE, &as_page, 0, "print a page that explains every key instead (rig and show)", NULL},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_schema, argc, argv, options, 1, 1, &code)) {
        return code;
    }
    code = EXIT_GOOD;
    int rig = strcmp(arguments.path[0], "rig") == 0;
    if (as_page && (rig || strcmp(arguments.path[0], "show") == 0)) {
        schema_page(rig ? &glanz_table_rig : &glanz_table_show, arguments.path[0]);
    } else if (as_page) {
        complain_plain("schema --page: no such document: %s; expected rig or show", arguments.path[0]);
        code = EXIT_USAGE;
    } else if (rig) {
        schema_rig();
    } else if (strcmp(arguments.path[0], "show") == 0) {
        schema_show();
    } else if (strcmp(arguments.path[0], "log") == 0) {
        schema_log();
    } else {
        complain_plain("schema: no such document: %s; expected rig, show or log", arguments.path[0]);
        code = EXIT_USAGE;
    }
    arguments_free(&arguments);
    return code;
}

const struct command command_schema = {"schema", "print the JSON Schema of a document, or what its keys are",
                                       "rig | show | log", "  glanz schema show\n  glanz schema rig --page\n", run, 0};
