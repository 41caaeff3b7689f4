/* SPDX-License-Identifier: MIT */
/* Local time, for texts and signals that follow it: it goes on once it was told, whatever else is linked. */
#include "state.h"

#if GLANZ_FIELDS
static void advance(struct glanz_engine *engine, uint32_t elapsed) {
    if (elapsed < 1000000u - engine->world.us) { /* within the second: no division in most frames */
        engine->world.us += elapsed;
        return;
    }
    uint32_t rest = elapsed % 1000000u + engine->world.us;
    uint32_t seconds = elapsed / 1000000u + rest / 1000000u;
    engine->world.us = rest % 1000000u;
    engine->world.second += seconds;
    engine->world.day += engine->world.second / 86400u;
    engine->world.second %= 86400u;
    engine->world.version++;
}

glanz_status glanz_engine_clock(struct glanz_engine *engine, uint32_t day, uint32_t second) {
    if (engine == NULL || second >= 86400u || day > 2932896u) { /* 31 December 9999 */
        return GLANZ_ERR_ARGUMENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_STATE;
    }
    engine->world.known = 1;
    engine->world.day = day;
    engine->world.second = second;
    engine->world.version++;
    engine->world.us = 0;
    engine->tell_time = advance;
    return GLANZ_OK;
}
#endif

#if GLANZ_FIELDS || GLANZ_DRIVES_MOST > 0
int glanz_engine_time(const struct glanz_engine *engine, uint32_t *day, uint32_t *second, uint32_t *us) {
#if GLANZ_FIELDS
    if (engine != NULL && engine->world.known) {
        *day = engine->world.day;
        *second = engine->world.second;
        *us = engine->world.us;
        return 1;
    }
#else
    (void)engine;
#endif
    *day = 0;
    *second = 0;
    *us = 0;
    return 0;
}
#endif
