/* SPDX-License-Identifier: MIT */
/* schema: JSON Schema (2020-12) of both documents, made from the library's own tables. docs/ holds what this prints. */
#include <string.h>

#include "commands.h"
#include "parts.h"

static const char quantities[] =
    "  \"$defs\": {\n"
    "    \"name\": { \"type\": \"string\", \"minLength\": 1, \"maxLength\": 63 },\n"
    "    \"time\": { \"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]+)? ?(ms|s|min|h)$\" },\n"
    "    \"share\": { \"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]+)? ?%$\" },\n"
    "    \"amperes\": { \"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]+)? ?m?A$\" },\n"
    "    \"milliamperes\": { \"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]+)? ?mA$\" },\n"
    "    \"volts\": { \"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]+)? ?m?V$\" },\n"
    "    \"kelvin\": { \"type\": \"string\", \"pattern\": \"^[0-9]+ ?K$\" },\n"
    "    \"length\": { \"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]+)? ?(leds?|%)$\" },\n"
    "    \"rate\": { \"type\": \"string\", \"pattern\": \"^-?[0-9]+([.][0-9]+)? "
    "?(leds/s|lengths/s|passes/s|ms/pass|s/pass|min/pass)$\" },\n"
    "    \"color\": { \"type\": \"string\", \"description\": \"#rgb, #rrggbb, 2700 K, hsl(210 80% 40%), or a name of colors\" "
    "}";

static void names(const char *const *list) {
    for (int i = 0; list[i] != NULL; i++) {
        printf("%s\"%s\"", i == 0 ? "" : ", ", list[i]);
    }
}

static void schema_rig(void) {
    puts("{\n  \"$schema\": \"https://json-schema.org/draft/2020-12/schema\",\n  \"title\": \"Glanz rig: one controller's "
         "hardware\",");
    printf("%s,\n    \"pieces\": { \"type\": \"array\", \"minItems\": 1, \"maxItems\": 255, \"items\": { \"type\": \"object\", "
           "\"additionalProperties\": false,\n"
           "      \"required\": [\"output\", \"first\", \"leds\"], \"properties\": { \"output\": { \"type\": \"string\" },\n"
           "      \"first\": { \"type\": \"integer\", \"minimum\": 0, \"maximum\": 32766 }, \"leds\": { \"type\": \"integer\", "
           "\"minimum\": 1, \"maximum\": 32767 },\n"
           "      \"reversed\": { \"type\": \"boolean\" } } } },\n",
           quantities);
    puts("    \"side\": { \"type\": \"integer\", \"minimum\": 1, \"maximum\": 1023 },\n"
         "    \"panels\": { \"type\": \"array\", \"minItems\": 1, \"maxItems\": 255, \"items\": { \"type\": \"object\", "
         "\"additionalProperties\": false,\n"
         "      \"required\": [\"output\", \"first\", \"columns\", \"rows\"], \"properties\": { \"output\": { \"type\": "
         "\"string\" },\n"
         "      \"name\": { \"$ref\": \"#/$defs/name\" }, \"first\": { \"type\": \"integer\", \"minimum\": 0, \"maximum\": "
         "32766 },\n"
         "      \"columns\": { \"$ref\": \"#/$defs/side\" }, \"rows\": { \"$ref\": \"#/$defs/side\" },\n"
         "      \"left\": { \"type\": \"integer\", \"minimum\": 0, \"maximum\": 1022 }, \"top\": { \"type\": \"integer\", "
         "\"minimum\": "
         "0, \"maximum\": 1022 },\n"
         "      \"zigzag\": { \"type\": \"boolean\" }, \"mirrored\": { \"type\": \"boolean\" },");
    printf("      \"first led\": { \"enum\": [");
    names(glanz_document_corners);
    printf("] }, \"along\": { \"enum\": [");
    names(glanz_document_alongs);
    printf("] }, \"turned\": { \"enum\": [");
    names(glanz_document_turns);
    puts("] } } } },\n"
         "    \"rings\": { \"type\": \"array\", \"minItems\": 1, \"maxItems\": 255, \"items\": { \"type\": \"object\", "
         "\"additionalProperties\": false,\n"
         "      \"required\": [\"output\", \"first\", \"leds\"], \"properties\": { \"output\": { \"type\": \"string\" },\n"
         "      \"name\": { \"$ref\": \"#/$defs/name\" }, \"first\": { \"type\": \"integer\", \"minimum\": 0, \"maximum\": "
         "32766 },\n"
         "      \"leds\": { \"type\": \"integer\", \"minimum\": 1, \"maximum\": 32767 }, \"radius\": { \"type\": \"string\", "
         "\"pattern\": \"^[0-9]+([.][0-9]+)? ?leds?$\" },\n"
         "      \"start\": { \"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]+)? ?deg$\" }, \"counterclockwise\": { "
         "\"type\": "
         "\"boolean\" } } } },\n"
         "    \"trim\": { \"oneOf\": [ { \"$ref\": \"#/$defs/share\" }, { \"type\": \"object\", \"additionalProperties\": "
         "false, "
         "\"properties\": {\n"
         "      \"red\": { \"$ref\": \"#/$defs/share\" }, \"green\": { \"$ref\": \"#/$defs/share\" },\n"
         "      \"blue\": { \"$ref\": \"#/$defs/share\" }, \"white\": { \"$ref\": \"#/$defs/share\" } } } ] }\n  },");
    puts("  \"type\": \"object\", \"additionalProperties\": false,\n  \"required\": [\"rig\", \"supplies\", \"outputs\", "
         "\"surfaces\"],\n  \"properties\": {\n"
         "    \"rig\": { \"$ref\": \"#/$defs/name\" },\n"
         "    \"frames\": { \"type\": \"string\", \"pattern\": \"^[0-9]+ ?per s$\", \"description\": \"how often the program "
         "calls for a frame\" },\n"
         "    \"lowest blink\": { \"type\": \"string\", \"pattern\": \"^([0-9]+ ?Hz|none)$\", \"description\": \"no LED blinks "
         "slower by dither\" },\n"
         "    \"refresh\": { \"$ref\": \"#/$defs/time\" },\n"
         "    \"place\": { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"latitude\", \"longitude\"], "
         "\"properties\": {\n"
         "      \"latitude\": { \"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]{1,4})? [NS]$\" },\n"
         "      \"longitude\": { \"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]{1,4})? [EW]$\" } } },\n"
         "    \"zone\": { \"type\": \"string\", \"minLength\": 4, \"maxLength\": 63, \"description\": \"POSIX TZ, such as "
         "CET-1CEST,M3.5.0,M10.5.0/3\" },\n"
         "    \"supplies\": { \"type\": \"object\", \"minProperties\": 1, \"maxProperties\": 16, \"propertyNames\": { "
         "\"$ref\": \"#/$defs/name\" },\n"
         "      \"additionalProperties\": { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"volts\"],\n"
         "        \"properties\": { \"volts\": { \"$ref\": \"#/$defs/volts\" }, \"limit\": { \"$ref\": \"#/$defs/amperes\" } } "
         "} },");
    puts("    \"outputs\": { \"type\": \"object\", \"minProperties\": 1, \"maxProperties\": 32, \"propertyNames\": { \"$ref\": "
         "\"#/$defs/name\" },\n"
         "      \"additionalProperties\": { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"pin\", "
         "\"supply\", \"line\"],\n"
         "        \"properties\": {\n"
         "          \"pin\": { \"type\": \"integer\", \"minimum\": 0, \"maximum\": 255 },\n"
         "          \"clock pin\": { \"type\": \"integer\", \"minimum\": 0, \"maximum\": 255 },\n"
         "          \"supply\": { \"type\": \"string\" },\n"
         "          \"buffers\": { \"type\": \"integer\", \"minimum\": 1, \"maximum\": 2 },\n"
         "          \"trim\": { \"$ref\": \"#/$defs/trim\" },\n"
         "          \"equal leds\": { \"type\": \"boolean\" },\n"
         "          \"faint levels\": { \"enum\": [\"dither\", \"dark\"] },\n"
         "          \"line\": { \"type\": \"array\", \"minItems\": 1, \"maxItems\": 255,\n"
         "            \"items\": { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"chip\", \"leds\"],\n"
         "              \"properties\": {");
    printf("                \"chip\": { \"enum\": [");
    for (uint8_t i = 0; glanz_chips[i] != NULL; i++) {
        printf("%s\"%s\"", i == 0 ? "" : ", ", glanz_chips[i]->name);
    }
    puts("] },\n"
         "                \"leds\": { \"type\": \"integer\", \"minimum\": 1, \"maximum\": 32767 },\n"
         "                \"order\": { \"type\": \"string\", \"pattern\": \"^[RGB]{3}$|^[RGBW]{4}$\" },\n"
         "                \"parallel\": { \"type\": \"integer\", \"minimum\": 1, \"maximum\": 255 },\n"
         "                \"white\": { \"$ref\": \"#/$defs/kelvin\" },\n"
         "                \"trim\": { \"$ref\": \"#/$defs/trim\" },\n"
         "                \"current\": { \"type\": \"object\", \"additionalProperties\": false, \"properties\": {\n"
         "                  \"red\": { \"$ref\": \"#/$defs/milliamperes\" }, \"green\": { \"$ref\": \"#/$defs/milliamperes\" "
         "},\n"
         "                  \"blue\": { \"$ref\": \"#/$defs/milliamperes\" }, \"white\": { \"$ref\": \"#/$defs/milliamperes\" "
         "},\n"
         "                  \"idle\": { \"$ref\": \"#/$defs/milliamperes\" } } } } } } } } },");
    puts(
        "    \"surfaces\": { \"type\": \"object\", \"maxProperties\": 64, \"propertyNames\": { \"$ref\": \"#/$defs/name\" },\n"
        "      \"additionalProperties\": { \"type\": \"object\", \"additionalProperties\": false,\n"
        "        \"properties\": { \"strip\": { \"$ref\": \"#/$defs/pieces\" }, \"ring\": { \"$ref\": \"#/$defs/pieces\" },\n"
        "          \"points\": { \"$ref\": \"#/$defs/pieces\" }, \"grid\": { \"$ref\": \"#/$defs/panels\" }, \"rings\": { "
        "\"$ref\": "
        "\"#/$defs/rings\" },\n"
        "          \"places\": { \"type\": \"array\", \"items\": { \"type\": \"array\", \"minItems\": 2, \"maxItems\": 2,\n"
        "            \"items\": { \"type\": \"number\", \"minimum\": 0, \"maximum\": 1022 } } },\n"
        "          \"drawing\": { \"type\": \"array\", \"items\": { \"type\": \"string\", \"pattern\": \"^[0-9a-zA-Z. ]*$\" } "
        "},\n"
        "          \"columns\": { \"$ref\": \"#/$defs/side\" }, \"rows\": { \"$ref\": \"#/$defs/side\" }, \"joined\": { "
        "\"type\": "
        "\"boolean\" } },\n"
        "        \"oneOf\": [ { \"required\": [\"strip\"] }, { \"required\": [\"ring\"] }, { \"required\": [\"grid\"] },\n"
        "          { \"required\": [\"rings\"] }, { \"required\": [\"points\"], \"oneOf\": [ { \"required\": [\"places\"] }, { "
        "\"required\": [\"drawing\"] } ] } ] } },\n"
        "    \"inputs\": { \"type\": \"object\", \"maxProperties\": 32, \"propertyNames\": { \"$ref\": \"#/$defs/name\" },\n"
        "      \"additionalProperties\": { \"type\": \"object\", \"additionalProperties\": false, \"minProperties\": 1, "
        "\"maxProperties\": 1,\n"
        "        \"properties\": {\n"
        "          \"button\": { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"pin\", \"pressed\"], "
        "\"properties\": {\n"
        "            \"pin\": { \"type\": \"integer\", \"minimum\": 0, \"maximum\": 255 }, \"pressed\": { \"enum\": [\"low\", "
        "\"high\"] },\n"
        "            \"settle\": { \"$ref\": \"#/$defs/time\" }, \"twice within\": { \"$ref\": \"#/$defs/time\" }, \"held "
        "after\": { \"$ref\": \"#/$defs/time\" } } },\n"
        "          \"value\": { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"pin\"], "
        "\"properties\": {\n"
        "            \"pin\": { \"type\": \"integer\", \"minimum\": 0, \"maximum\": 255 } } } } } }\n  }\n}");
}

static void schema_param(GLANZ_CONST struct glanz_param *param) {
    static const char *const refs[] = {"color", "length", "rate", "share"};
    printf("                \"%s\": { ", param->name);
    if (param->kind <= GLANZ_PARAM_SHARE) {
        printf("\"$ref\": \"#/$defs/%s\"", refs[param->kind]);
    } else if (param->kind == GLANZ_PARAM_COUNT) {
        printf("\"type\": \"integer\", \"minimum\": %d, \"maximum\": %d", param->low, param->high);
    } else if (param->kind == GLANZ_PARAM_FLAG) {
        printf("\"type\": \"boolean\"");
    } else {
        printf("\"enum\": [");
        for (int32_t i = 0; i <= param->high; i++) {
            printf("%s\"%s\"", i == 0 ? "" : ", ", param->choices[i]);
        }
        printf("]");
    }
    printf(", \"description\": \"%s\" },\n", param->what);
}

static void schema_effect(GLANZ_CONST struct glanz_effect *effect) {
    static const char *const required[] = {"", ", \"blocks\"", ", \"text\"", ", \"picture\"", ", \"marks\""};
    printf("            { \"title\": \"%s\", \"type\": \"object\", \"additionalProperties\": false, \"required\": "
           "[\"effect\"%s],\n"
           "              \"description\": \"%s\",\n              \"properties\": {\n",
           effect->name, required[effect->content], effect->what);
    for (uint8_t i = 0; i < effect->param_count; i++) {
        schema_param(&effect->params[i]);
    }
    if ((effect->needs & GLANZ_NEEDS_GRADIENT) != 0) {
        puts("                \"palette\": { \"type\": \"string\" },");
    }
    if (effect->content == GLANZ_CONTENT_WRITING) {
        puts("                \"text\": { \"type\": \"string\", \"maxLength\": 1000 },");
        printf("                \"font\": { \"enum\": [");
        for (uint8_t i = 0; glanz_fonts[i] != NULL; i++) {
            printf("%s\"%s\"", i == 0 ? "" : ", ", glanz_fonts[i]->name);
        }
        puts("] },");
    } else if (effect->content == GLANZ_CONTENT_PICTURE) {
        puts("                \"picture\": { \"type\": \"string\" },");
    } else if (effect->content == GLANZ_CONTENT_MARKS) {
        puts(
            "                \"marks\": { \"type\": \"array\", \"items\": { \"type\": \"object\", "
            "\"additionalProperties\": false, \"required\": [\"color\"], \"properties\": {\n"
            "                  \"color\": { \"$ref\": \"#/$defs/color\" }, \"first\": { \"type\": \"integer\", \"minimum\": 0, "
            "\"maximum\": 32767 },\n"
            "                  \"leds\": { \"type\": \"integer\", \"minimum\": 1, \"maximum\": 32767 },\n"
            "                  \"left\": { \"type\": \"integer\", \"minimum\": 0, \"maximum\": 32767 }, \"top\": { \"type\": "
            "\"integer\", \"minimum\": 0, \"maximum\": 32767 },\n"
            "                  \"columns\": { \"type\": \"integer\", \"minimum\": 1, \"maximum\": 32767 }, \"rows\": { "
            "\"type\": \"integer\", \"minimum\": 1, \"maximum\": 32767 } },\n"
            "                  \"oneOf\": [ { \"required\": [\"first\"] }, { \"required\": [\"left\", \"top\"] } ] } },");
    } else if (effect->content == GLANZ_CONTENT_PATTERN) {
        puts("                \"blocks\": { \"type\": \"string\", \"pattern\": \"^ *[0-9]+ +[^,]+(, *[0-9]+ +[^,]+)*$\" },");
    }
    printf("                \"brightness\": { \"$ref\": \"#/$defs/share\" },\n                \"effect\": { \"const\": \"%s\" "
           "} } }",
           effect->name);
}

#define TEXT "{ \"$ref\": \"#/$defs/text\" }"
#define TIME_OF "{ \"$ref\": \"#/$defs/time\" }"

/* By enum glanz_action_value, and by the bits of enum glanz_action_with. */
static const char *const values[] = {"{ \"const\": true }", TEXT, TEXT, TEXT, "{ \"$ref\": \"#/$defs/share\" }", TEXT, TIME_OF};
static const struct {
    const char *key, *schema;
} withs[] = {{"segment", TEXT},
             {"on", "{ \"enum\": [true, false, \"other\"] }"},
             {"item", "{ \"type\": \"integer\", \"minimum\": 1, \"maximum\": 255 }"},
             {"aspects", "{ \"$ref\": \"#/$defs/aspects\" }"},
             {"over", TIME_OF},
             {"again", "{ \"type\": \"boolean\" }"}};

static void schema_action(const struct glanz_action_kind *kind) {
    printf("      { \"type\": \"object\", \"description\": \"%s\", \"additionalProperties\": false, \"required\": [\"%s\"",
           kind->what, kind->key);
    for (size_t i = 0; i < sizeof withs / sizeof withs[0]; i++) {
        if ((kind->needs >> i & 1) != 0) {
            printf(", \"%s\"", withs[i].key);
        }
    }
    printf("], \"properties\": { \"%s\": %s", kind->key, values[kind->value]);
    for (size_t i = 0; i < sizeof withs / sizeof withs[0]; i++) {
        if (((kind->needs | kind->may) >> i & 1) != 0) {
            printf(", \"%s\": %s", withs[i].key, withs[i].schema);
        }
    }
    fputs(" } }", stdout);
}

#define NAME "{ \"$ref\": \"#/$defs/name\" }"
#define TIME "{ \"$ref\": \"#/$defs/time\" }"

static void schema_show(void) {
    puts("{\n  \"$schema\": \"https://json-schema.org/draft/2020-12/schema\",\n  \"title\": \"Glanz show: what to see on a "
         "rig\",");
    printf("%s,\n    \"text\": { \"type\": \"string\" }, \"aspects\": { \"type\": \"array\", \"minItems\": 1, \"maxItems\": 4, "
           "\"items\": { "
           "\"enum\": [",
           quantities);
    names(glanz_document_aspects);
    puts("] } },\n    \"action\": { \"oneOf\": [");
    for (size_t i = 0; glanz_actions[i] != NULL; i++) {
        schema_action(glanz_actions[i]);
        puts(glanz_actions[i + 1] != NULL ? "," : " ] },");
    }
    puts("    \"moment\": { \"type\": \"string\", \"pattern\": \"^([0-9]{1,2}:[0-9]{2}(:[0-9]{2})?|sun(rise|set)( [+-] [0-9]+ "
         "(s|min|h))?)$\" },\n"
         "    \"day\": { \"type\": \"string\", \"pattern\": \"^([0-9]{4}-)?[0-9]{1,2}-[0-9]{1,2}$\" }\n  },");
    puts("  \"type\": \"object\", \"additionalProperties\": false,\n  \"required\": [\"show\", \"looks\", \"segments\"],\n  "
         "\"properties\": {\n"
         "    \"show\": { \"$ref\": \"#/$defs/name\" },\n    \"brightness\": { \"$ref\": \"#/$defs/share\" },\n    \"change\": "
         "{ \"$ref\": \"#/$defs/time\" },\n"
         "    \"colors\": { \"type\": \"object\", \"maxProperties\": 255, \"propertyNames\": { \"$ref\": \"#/$defs/name\" }, "
         "\"additionalProperties\": { \"$ref\": \"#/$defs/color\" } },\n"
         "    \"palettes\": { \"type\": \"object\", \"maxProperties\": 64, \"propertyNames\": { \"$ref\": \"#/$defs/name\" },\n"
         "      \"additionalProperties\": { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"stops\"], "
         "\"properties\": {\n"
         "        \"stops\": { \"type\": \"array\", \"minItems\": 1, \"maxItems\": 64, \"items\": { \"type\": \"object\", "
         "\"additionalProperties\": false,\n"
         "          \"required\": [\"at\", \"color\"], \"properties\": { \"at\": { \"$ref\": \"#/$defs/share\" }, \"color\": { "
         "\"$ref\": \"#/$defs/color\" } } } },");
    printf("        \"between\": { \"enum\": [");
    names(glanz_document_betweens);
    puts("] } } } },\n    \"pictures\": { \"type\": \"object\", \"maxProperties\": 255, \"propertyNames\": { \"$ref\": "
         "\"#/$defs/name\" },\n"
         "      \"additionalProperties\": { \"type\": \"object\", \"additionalProperties\": false, \"properties\": {\n"
         "        \"data\": { \"type\": \"string\", \"pattern\": \"^[A-Za-z0-9+/]+={0,2}$\" },\n"
         "        \"rows\": { \"type\": \"array\", \"minItems\": 1, \"maxItems\": 255, \"items\": { \"type\": \"string\", "
         "\"minLength\": 1, \"maxLength\": 255 } },\n"
         "        \"colors\": { \"type\": \"object\", \"maxProperties\": 100, \"propertyNames\": { \"minLength\": 1, "
         "\"maxLength\": 1 },\n"
         "          \"additionalProperties\": { \"$ref\": \"#/$defs/color\" } } },\n"
         "        \"oneOf\": [ { \"required\": [\"data\"] }, { \"required\": [\"rows\", \"colors\"] } ] } },\n"
         "    \"looks\": { \"type\": \"object\", \"maxProperties\": 1000, \"propertyNames\": { \"$ref\": "
         "\"#/$defs/name\" },\n"
         "      \"additionalProperties\": { \"oneOf\": [");
    for (uint8_t i = 0; glanz_effects[i] != NULL; i++) {
        schema_effect(glanz_effects[i]);
        puts(glanz_effects[i + 1] == NULL ? " ] } }," : ",");
    }
    puts(
        "    \"segments\": { \"type\": \"object\", \"maxProperties\": 64, \"propertyNames\": { \"$ref\": \"#/$defs/name\" },\n"
        "      \"additionalProperties\": { \"type\": \"object\", \"additionalProperties\": false, \"required\": "
        "[\"surface\"], \"properties\": {\n"
        "        \"surface\": { \"type\": \"string\" }, \"first\": { \"type\": \"integer\", \"minimum\": 0, \"maximum\": "
        "32766 },\n"
        "        \"leds\": { \"type\": \"integer\", \"minimum\": 1, \"maximum\": 32767 }, \"grain\": { \"type\": \"integer\", "
        "\"minimum\": 1, \"maximum\": 255 },\n"
        "        \"stencil\": { \"type\": \"string\", \"pattern\": \"^take [0-9]+, leave [0-9]+(, take [0-9]+, leave "
        "[0-9]+)*$\" },\n"
        "        \"reversed\": { \"type\": \"boolean\" }, \"mirrored\": { \"type\": \"boolean\" }, \"part\": { \"type\": "
        "\"string\" "
        "},\n"
        "        \"left\": { \"type\": \"integer\", \"minimum\": 0, \"maximum\": 1022 }, \"top\": { \"type\": \"integer\", "
        "\"minimum\": 0, \"maximum\": 1022 },\n"
        "        \"columns\": { \"type\": \"integer\", \"minimum\": 1, \"maximum\": 1023 }, \"rows\": { \"type\": \"integer\", "
        "\"minimum\": 1, \"maximum\": 1023 },");
    printf("        \"lies\": { \"enum\": [");
    names(glanz_document_lies);
    printf("] }, \"turned\": { \"enum\": [");
    names(glanz_document_turns);
    puts("] },");
    printf("        \"blend\": { \"enum\": [");
    names(glanz_document_blends);
    puts(
        "] },\n        \"opacity\": { \"$ref\": \"#/$defs/share\" }, \"brightness\": { \"$ref\": \"#/$defs/share\" },\n"
        "        \"on\": { \"type\": \"boolean\" }, \"look\": { \"type\": \"string\" } } } },\n"
        "    \"stack\": { \"type\": \"array\", \"uniqueItems\": true, \"items\": { \"type\": \"string\" } },\n"
        "    \"presets\": { \"type\": \"object\", \"maxProperties\": 255, \"propertyNames\": { \"$ref\": \"#/$defs/name\" },\n"
        "      \"additionalProperties\": { \"type\": \"object\", \"additionalProperties\": { \"oneOf\": [ { \"type\": "
        "\"string\" },\n"
        "        { \"type\": \"object\", \"additionalProperties\": false, \"properties\": { \"look\": { \"type\": \"string\" "
        "},\n"
        "          \"on\": { \"type\": \"boolean\" }, \"brightness\": { \"$ref\": \"#/$defs/share\" }, \"palette\": { "
        "\"type\": "
        "\"string\" } } } ] } } },\n"
        "    \"playlists\": { \"type\": \"object\", \"maxProperties\": 64, \"propertyNames\": { \"$ref\": \"#/$defs/name\" },\n"
        "      \"additionalProperties\": { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"items\"], "
        "\"properties\": {\n"
        "        \"rounds\": { \"type\": \"integer\", \"minimum\": 1, \"maximum\": 65535 },\n"
        "        \"items\": { \"type\": \"array\", \"minItems\": 1, \"maxItems\": 255, \"items\": { \"type\": \"object\", "
        "\"additionalProperties\": false,\n"
        "          \"properties\": { \"preset\": { \"type\": \"string\" }, \"playlist\": { \"type\": \"string\" }, \"dark\": { "
        "\"const\": true },\n"
        "            \"hold\": { \"$ref\": \"#/$defs/time\" }, \"fade\": { \"$ref\": \"#/$defs/time\" }, \"at\": { \"$ref\": "
        "\"#/$defs/time\" } },\n"
        "          \"oneOf\": [ { \"required\": [\"preset\"] }, { \"required\": [\"playlist\"] }, { \"required\": [\"dark\"] } "
        "] } },\n"
        "        \"shuffled\": { \"type\": \"boolean\" }, \"then fade\": { \"$ref\": \"#/$defs/time\" },\n"
        "        \"then\": { \"oneOf\": [ { \"enum\": [\"stay\", \"dark\", \"back\"] }, { \"type\": \"object\", "
        "\"additionalProperties\": false, "
        "\"required\": [\"preset\"],\n"
        "          \"properties\": { \"preset\": { \"type\": \"string\" } } } ] } } } },\n"
        "    \"start\": { \"$ref\": \"#/$defs/action\" }, \"resume\": { \"type\": \"boolean\" },");
    printf(
        "    \"calendar\": { \"type\": \"object\", \"maxProperties\": %d, \"propertyNames\": { \"$ref\": \"#/$defs/name\" },\n"
        "      \"additionalProperties\": { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"at\"], "
        "\"properties\": {\n"
        "        \"preset\": { \"type\": \"string\" }, \"playlist\": { \"type\": \"string\" }, \"at\": { \"$ref\": "
        "\"#/$defs/moment\" }, "
        "\"until\": { \"$ref\": \"#/$defs/moment\" },\n"
        "        \"for\": { \"$ref\": \"#/$defs/time\" }, \"every\": { \"$ref\": \"#/$defs/time\" }, \"fade\": { \"$ref\": "
        "\"#/$defs/time\" },\n"
        "        \"from\": { \"$ref\": \"#/$defs/day\" }, \"to\": { \"$ref\": \"#/$defs/day\" }, \"priority\": { \"type\": "
        "\"integer\", "
        "\"minimum\": 0, \"maximum\": 255 },\n"
        "        \"days\": { \"type\": \"array\", \"minItems\": 1, \"maxItems\": 7, \"items\": { \"enum\": [",
        GLANZ_ENTRIES_MOST);
    names(glanz_document_days);
    puts("] } } },\n        \"oneOf\": [ { \"required\": [\"preset\"] }, { \"required\": [\"playlist\"] } ],\n"
         "        \"dependentRequired\": { \"from\": [\"to\"], \"to\": [\"from\"], \"every\": [\"until\"] } } },");
    puts(
        "    \"triggers\": { \"type\": \"object\", \"maxProperties\": 255, \"propertyNames\": { \"$ref\": \"#/$defs/name\" },\n"
        "      \"additionalProperties\": { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"when\", "
        "\"do\"], \"properties\": {\n"
        "        \"when\": { \"oneOf\": [\n"
        "          { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"button\", \"is\"], "
        "\"properties\": { \"button\": { \"type\": \"string\" },\n"
        "            \"is\": { \"enum\": [\"pressed\", \"pressed once\", \"pressed twice\", \"held\", \"released\"] } } },\n"
        "          { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"value\"], \"minProperties\": 2, "
        "\"maxProperties\": 2, \"properties\": {\n"
        "            \"value\": { \"type\": \"string\" }, \"rises above\": { \"$ref\": \"#/$defs/share\" }, \"falls below\": { "
        "\"$ref\": \"#/$defs/share\" } } } ] },\n"
        "        \"do\": { \"type\": \"array\", \"minItems\": 1, \"maxItems\": 32, \"items\": { \"$ref\": \"#/$defs/action\" } "
        "} } } }\n  }\n}");
}

/* One line of an input log. Patches and actions are objects of their own documents. */
static void schema_log(void) {
    static const struct {
        const char *required, *properties;
    } entries[] = {
        {"\"input\", \"level\"",
         "\"input\": " NAME ", \"level\": { \"type\": \"integer\", \"minimum\": 0, \"maximum\": 65535 }"},
        {"\"press\", \"for\"", "\"press\": " NAME ", \"for\": " TIME},
        {"\"patch\"", "\"patch\": { \"type\": \"object\", \"description\": \"a merge patch (RFC 7396) for the show\" }"},
        {"\"save\"", "\"save\": " NAME ", \"segments\": { \"type\": \"array\", \"maxItems\": 16, \"items\": " NAME
                     " }, \"aspects\": { \"type\": \"array\", \"maxItems\": 5, \"items\": { \"enum\": [\"look\", \"on\", "
                     "\"brightness\", \"palette\", \"playlist\"] } }, \"replace\": { \"type\": \"boolean\" }"},
        {"\"recall\"", "\"recall\": " NAME},
        {"\"try rig\", \"for\"", "\"try rig\": { \"type\": \"string\", \"description\": \"a rig's file\" }, \"for\": " TIME},
        {"\"keep rig\"", "\"keep rig\": { \"const\": true }"},
        {"\"clock\"",
         "\"clock\": { \"type\": \"string\", \"pattern\": \"^[0-9]{4}-[0-9]{2}-[0-9]{2} [0-9]{2}:[0-9]{2}:[0-9]{2}$\" }"},
        {"\"forget\"", "\"forget\": " NAME},
        {"\"rename\", \"as\"", "\"rename\": " NAME ", \"as\": " NAME},
        {"\"copy\", \"as\"", "\"copy\": " NAME ", \"as\": " NAME},
        {"\"move\", \"place\"", "\"move\": " NAME ", \"place\": { \"type\": \"integer\", \"minimum\": 1, \"maximum\": 64 }"},
        {"\"power cut\"", "\"power cut\": " TIME},
        {"\"do\"", "\"do\": { \"type\": \"object\", \"description\": \"an action, as a show's triggers have them\" }"},
    };
    puts(
        "{\n  \"$schema\": \"https://json-schema.org/draft/2020-12/schema\",\n  \"title\": \"Glanz input log: one line of "
        "it\",\n"
        "  \"$defs\": {\n    \"name\": { \"type\": \"string\", \"minLength\": 1, \"maxLength\": 63 },\n"
        "    \"time\": { \"type\": \"string\", \"pattern\": \"^[0-9]+([.][0-9]+)? *(us|ms|s|min|h)$\" }\n  },\n  \"oneOf\": [");
    for (size_t i = 0; i < sizeof entries / sizeof entries[0]; i++) {
        printf("    { \"type\": \"object\", \"additionalProperties\": false, \"required\": [\"at\", %s],\n"
               "      \"properties\": { \"at\": { \"$ref\": \"#/$defs/time\" }, %s } }%s\n",
               entries[i].required, entries[i].properties, i + 1 < sizeof entries / sizeof entries[0] ? "," : "");
    }
    puts("  ]\n}");
}

static int run(int argc, const char **argv) {
    struct arguments arguments;
    int code;
    if (!arguments_parse(&arguments, &command_schema, argc, argv, NULL, 1, 1, &code)) {
        return code;
    }
    code = EXIT_GOOD;
    if (strcmp(arguments.path[0], "rig") == 0) {
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

const struct command command_schema = {"schema", "print the JSON Schema of a document", "rig | show | log",
                                       "  glanz schema show\n", run};
