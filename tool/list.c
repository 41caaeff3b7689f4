/* SPDX-License-Identifier: MIT */
/* list: effects with their parameters, palettes, chips, from the tables that the library itself uses. schema: the same
 * tables as JSON Schema. */
#include <stdlib.h>
#include <string.h>

#include "commands.h"
#include "facts.h"
#include "effects.h"
#include "json.h"

/* A parameter's number as people write it. */
/* Effects of one's own may have been compiled without descriptions. */
static const char *said(const char *description) {
    return description == NULL ? "(compiled without descriptions: see GLANZ_DESCRIPTIONS)" : description;
}

static void number_text(char *out, GLANZ_CONST struct glanz_param *param, int32_t number, uint8_t unit) {
    switch (param->kind) {
    case GLANZ_PARAM_COLOR: glanz_color_text(out, (glanz_color)number); break;
    case GLANZ_PARAM_LENGTH: glanz_quantity_text(out, QUANTITY_LENGTH, number, unit); break;
    case GLANZ_PARAM_RATE: glanz_quantity_text(out, QUANTITY_RATE, number, unit); break;
    case GLANZ_PARAM_SHARE: glanz_quantity_text(out, QUANTITY_SHARE, number, 0); break;
    case GLANZ_PARAM_TURN: glanz_quantity_text(out, QUANTITY_ANGLE, number, 0); break;
    case GLANZ_PARAM_CHOICE: strcpy(out, param->choices[number]); break;
    case GLANZ_PARAM_FLAG: strcpy(out, number ? "true" : "false"); break;
    case GLANZ_PARAM_SIGNAL: strcpy(out, "none"); break;
    default: sprintf(out, "%d", number); break;
    }
}

static void range_text(char *out, GLANZ_CONST struct glanz_param *param) {
    char low[40];
    char high[40];
    switch (param->kind) {
    case GLANZ_PARAM_COLOR: strcpy(out, "colour"); break;
    case GLANZ_PARAM_FLAG: strcpy(out, "true, false"); break;
    case GLANZ_PARAM_TURN: strcpy(out, "an angle"); break;
    case GLANZ_PARAM_SIGNAL: strcpy(out, "a signal"); break;
    case GLANZ_PARAM_CHOICE:
        out[0] = '\0';
        for (int32_t i = 0; i <= param->high; i++) {
            strcat(strcat(out, i == 0 ? "" : ", "), param->choices[i]);
        }
        break;
    case GLANZ_PARAM_RATE:
        number_text(high, param, param->high, param->unit == GLANZ_UNIT_PASS_TIME ? GLANZ_UNIT_PASSES : param->unit);
        sprintf(out, "up to %s either way", high);
        break;
    case GLANZ_PARAM_LENGTH:
        number_text(low, param, param->low, GLANZ_UNIT_LEDS);
        number_text(high, param, param->high, GLANZ_UNIT_LEDS);
        sprintf(out, "%s to %s", low, high);
        break;
    default:
        number_text(low, param, param->low, param->unit);
        number_text(high, param, param->high, param->unit);
        sprintf(out, "%s to %s", low, high);
        break;
    }
}

static void tell_effect(GLANZ_CONST struct glanz_effect *effect) {
    printf("%s\n    %s\n", effect->name, said(effect->description));
    for (uint8_t i = 0; i < effect->param_count; i++) {
        char range[200];
        char standard[64];
        range_text(range, &effect->params[i]);
        number_text(standard, &effect->params[i], effect->params[i].standard, effect->params[i].unit);
        printf("    %-14s %-58s %s; default %s\n", effect->params[i].name, said(effect->params[i].description), range,
               standard);
    }
    if ((effect->needs & GLANZ_NEEDS_GRADIENT) != 0) {
        printf("    %-14s %-58s one of the show's or the library's\n", "palette", "its colours");
    } else {
        printf("    %-14s %-58s one of the show's with \"runs\"\n", "palette", "its colours, by place or time");
    }
    static const char *const contents[][3] = {{"blocks", "the pattern", "such as \"3 amber, 1 white, 2 teal\"; must be given"},
                                              {"text", "{time}, {date} and {tide 0.0 to 6.5} are told", "UTF-8; must be given"},
                                              {"picture", "which one", "of the show or the store; must be given"},
                                              {"marks", "which LEDs, and their colours", "a list; must be given"}};
    if (effect->content != GLANZ_CONTENT_NONE) {
        GLANZ_CONST char *const *content = contents[effect->content - 1];
        printf("    %-14s %-58s %s\n", content[0], content[1], content[2]);
    }
    if (effect->content == GLANZ_CONTENT_WRITING) {
        printf("    %-14s %-58s", "font", "the letters' shape and size");
        for (uint8_t i = 0; glanz_fonts[i] != NULL; i++) {
            printf("%s %s (%u rows)", i == 0 ? "" : ",", glanz_fonts[i]->name, glanz_fonts[i]->rows);
        }
        puts("; default quay");
    }
    if (effect->least_columns != 0 || effect->least_rows != 0) {
        printf("    for fields of %u x %u LEDs and more\n", effect->least_columns, effect->least_rows);
    } else {
        puts(effect->shade_field != NULL ? "    for fields and strips of any size"
                                         : "    for strips, and any surface along a line");
    }
}

static void swatch(GLANZ_CONST struct glanz_gradient *gradient, int color) {
    for (int i = 0; i < 48; i++) {
        struct glanz_light light = glanz_gradient_at(gradient, (uint16_t)(i * 65535 / 47));
        if (color) {
            printf("\x1b[48;2;%u;%u;%um ", glanz_coded(light.red), glanz_coded(light.green), glanz_coded(light.blue));
        } else if (i % 12 == 0 || i == 47) {
            printf(" #%02x%02x%02x", glanz_coded(light.red), glanz_coded(light.green), glanz_coded(light.blue));
        }
    }
    puts(color ? "\x1b[0m" : "");
}

static int tell_palettes(int color) {
    static struct glanz_stop stops[GLANZ_STOPS_MOST];
    for (uint8_t i = 0; i < glanz_palette_count; i++) {
        struct glanz_gradient gradient;
        if (glanz_gradient_build(&gradient, stops, GLANZ_STOPS_MOST, glanz_palettes[i].stops, glanz_palettes[i].count,
                                 (enum glanz_between)glanz_palettes[i].between, NULL, 0) != GLANZ_OK) {
            return EXIT_FOUND;
        }
        printf("%-16s %-67s ", glanz_palettes[i].name, glanz_palettes[i].description);
        swatch(&gradient, color);
    }
    return EXIT_GOOD;
}

static void tell_chips(void) {
    for (uint8_t i = 0; glanz_chips[i] != NULL; i++) {
        GLANZ_CONST struct glanz_chip *chip = glanz_chips[i];
        struct glanz_slots slots;
        printf("%-12s %s; %u bytes a LED, %.1f us each on the wire, %.1f mA a channel, %.1f mA dark\n", chip->name,
               chip->description, chip->led_bytes, glanz_chip_led_ns(chip) / 1000.0, chip->channel_ua[0] / 1000.0,
               chip->idle_ua / 1000.0);
        for (uint8_t count = 3; count <= 5 && chip->protocol == GLANZ_ONE_WIRE; count++) {
            struct glanz_timing least = {0, 0, 0, 0};
            struct glanz_timing most = {65535, 65535, 65535, 65535};
            if (glanz_timing_narrow(&least, &most, chip) == GLANZ_OK &&
                glanz_slots_fit(&slots, &least, &most, count) == GLANZ_OK) {
                printf("             %s with %u slots a bit of %u ns\n", count == 5 ? "UART" : "SPI or UART", count,
                       (unsigned)slots.slot_ns);
            }
        }
    }
}

/* ---- the same for scripts ---- */

static void effect_facts(struct facts *facts, GLANZ_CONST struct glanz_effect *effect) {
    facts_object(facts, NULL);
    facts_text(facts, "name", effect->name);
    facts_text(facts, "description", effect->description);
    facts_list(facts, "parameters");
    for (uint8_t i = 0; i < effect->param_count; i++) {
        char range[200];
        char standard[64];
        range_text(range, &effect->params[i]);
        number_text(standard, &effect->params[i], effect->params[i].standard, effect->params[i].unit);
        facts_object(facts, NULL);
        facts_text(facts, "name", effect->params[i].name);
        facts_text(facts, "description", effect->params[i].description);
        facts_text(facts, "range", range);
        facts_text(facts, "default", standard);
        facts_end(facts);
    }
    facts_end(facts);
    facts_flag(facts, "palette", (effect->needs & GLANZ_NEEDS_GRADIENT) != 0);
    facts_number(facts, "least_columns", effect->least_columns, 0);
    facts_number(facts, "least_rows", effect->least_rows, 0);
    facts_flag(facts, "fields", effect->shade_field != NULL);
    facts_end(facts);
}

static void print_facts(const char *what, GLANZ_CONST struct glanz_effect *only) {
    struct facts facts;
    facts_open(&facts, stdout);
    facts_list(&facts, what);
    for (int i = 0; strcmp(what, "effects") == 0 && effects_all()[i] != NULL; i++) {
        if (only == NULL || effects_all()[i] == only) {
            effect_facts(&facts, effects_all()[i]);
        }
    }
    for (uint8_t i = 0; strcmp(what, "palettes") == 0 && i < glanz_palette_count; i++) {
        facts_object(&facts, NULL);
        facts_text(&facts, "name", glanz_palettes[i].name);
        facts_text(&facts, "description", glanz_palettes[i].description);
        facts_number(&facts, "stops", glanz_palettes[i].count, 0);
        facts_end(&facts);
    }
    for (uint8_t i = 0; strcmp(what, "chips") == 0 && glanz_chips[i] != NULL; i++) {
        facts_object(&facts, NULL);
        facts_text(&facts, "name", glanz_chips[i]->name);
        facts_text(&facts, "description", glanz_chips[i]->description);
        facts_number(&facts, "bytes_a_led", glanz_chips[i]->led_bytes, 0);
        facts_number(&facts, "us_a_led", glanz_chip_led_ns(glanz_chips[i]) / 1000.0, 1);
        facts_number(&facts, "ma_a_channel", glanz_chips[i]->channel_ua[0] / 1000.0, 1);
        facts_number(&facts, "ma_dark", glanz_chips[i]->idle_ua / 1000.0, 1);
        facts_number(&facts, "volts", glanz_chips[i]->millivolts / 1000.0, 1);
        facts_end(&facts);
    }
    facts_end(&facts);
    facts_end(&facts);
}

static int run_list(int argc, const char **argv) {
    struct arguments arguments;
    int code;
    int color = 0;
    int json = 0;
    const struct poptOption options[] = {
        {"color", 'c', POPT_ARG_NONE, &color, 0, "palettes as true colour of a terminal", NULL},
        {"json", 'j', POPT_ARG_NONE, &json, 0, "as JSON, for scripts", NULL},
        POPT_TABLEEND};
    if (!arguments_parse(&arguments, &command_list, argc, argv, options, 1, 2, &code)) {
        return code;
    }
    code = EXIT_GOOD;
    const char *what = arguments.path[0];
    if (color && strcmp(what, "palettes") != 0) {
        complain_plain("list: --color goes with palettes");
        code = EXIT_USAGE;
    } else if (strcmp(what, "effects") == 0 && arguments.count == 2) {
        GLANZ_CONST struct glanz_effect *effect = effects_find(arguments.path[1]);
        if (effect == NULL) {
            const char *names[301] = {NULL};
            for (int i = 0; i < 300 && effects_all()[i] != NULL; i++) {
                names[i] = effects_all()[i]->name;
            }
            const char *meant = words_nearest(arguments.path[1], names);
            complain_plain(meant == NULL ? "no such effect: %s; see \"glanz list effects\""
                                         : "no such effect: %s; did you mean \"%s\"?",
                           arguments.path[1], meant);
            code = EXIT_REFUSED;
        } else if (json) {
            print_facts(what, effect);
        } else {
            tell_effect(effect);
        }
    } else if (arguments.count == 2) {
        complain_plain("list: expected a name only after \"effects\"");
        code = EXIT_USAGE;
    } else if (json && (strcmp(what, "effects") == 0 || strcmp(what, "palettes") == 0 || strcmp(what, "chips") == 0)) {
        print_facts(what, NULL);
    } else if (strcmp(what, "effects") == 0) {
        for (uint8_t i = 0; effects_all()[i] != NULL; i++) {
            tell_effect(effects_all()[i]);
        }
    } else if (strcmp(what, "palettes") == 0) {
        code = tell_palettes(color && may_color());
    } else if (strcmp(what, "chips") == 0) {
        tell_chips();
    } else {
        complain_plain("list: no such list: %s; expected one of: effects, palettes, chips", what);
        code = EXIT_USAGE;
    }
    arguments_free(&arguments);
    return code;
}

const struct command command_list = {"list", "effects with their parameters, palettes, or chips",
                                     "effects [NAME] | palettes | chips", "  glanz list effects comet\n", run_list, 0};
