/* SPDX-License-Identifier: MIT */
/* Looks that show what an effect can do. */
#include "sample.h"

/* What an effect shows beside numbers. */
static const char *content_of(GLANZ_CONST struct glanz_effect *effect) {
    switch (effect->content) {
    case GLANZ_CONTENT_PATTERN: return ", \"blocks\": \"3 #ffb000, 1 #ffffff, 2 #008f8a\"";
    case GLANZ_CONTENT_WRITING: return ", \"text\": \"High water {time}\"";
    case GLANZ_CONTENT_PICTURE: return ", \"picture\": \"boat\", \"way\": \"rightward\"";
    case GLANZ_CONTENT_MARKS:
        return ", \"marks\": [ { \"first\": 4, \"leds\": 9, \"color\": \"#c8102e\" }, { \"first\": 40, \"color\": \"#00843d\" "
               "} ]";
    default: return "";
    }
}

int sample_is_colored(GLANZ_CONST struct glanz_effect *effect) {
    return effect->content != GLANZ_CONTENT_NONE && effect->content != GLANZ_CONTENT_WRITING;
}

void sample_look(struct text *text, GLANZ_CONST struct glanz_effect *effect, const char *palette) {
    text_print(text, "{ \"effect\": \"%s\"%s", effect->name, content_of(effect));
    if (palette != NULL) {
        text_print(text, ", \"palette\": \"%s\"", palette);
    }
    text_print(text, " }");
}
