/* SPDX-License-Identifier: MIT */
/* The words of a show's language. */
#include "state.h"

#if GLANZ_FIELDS

void glanz_engine_words(struct glanz_engine *engine, GLANZ_CONST char *weekdays, GLANZ_CONST char *months) {
    if (engine != NULL) {
        engine->world.weekdays = weekdays;
        engine->world.months = months;
        engine->world.version++;
    }
}

#endif
