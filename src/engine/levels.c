/* SPDX-License-Identifier: MIT */
/* The levels of all signals, as drives and texts see them. */
#include "state.h"

#if GLANZ_DRIVES_MOST > 0
void glanz_engine_hear(struct glanz_engine *engine, const struct glanz_heard *const *heard) {
#if GLANZ_FIELDS
    if (engine != NULL) {
        engine->world.heard = heard;
    }
#else
    (void)engine;
    (void)heard;
#endif
}
#endif

#if GLANZ_FIELDS || GLANZ_DRIVES_MOST > 0

glanz_status glanz_engine_level(struct glanz_engine *engine, uint8_t signal, uint32_t level, glanz_us at_us, uint32_t over_us) {
    uint8_t turns = (level & GLANZ_LEVEL_TURN) != 0;
    if (engine == NULL || (level & ~GLANZ_LEVEL_TURN) > (turns ? GLANZ_LEVEL_FULL - 1u : GLANZ_LEVEL_FULL)) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (signal >= engine->level_count) {
        return GLANZ_ERR_ABSENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_STATE;
    }
    uint32_t before = engine->levels[signal];
    const uint32_t marks = LEVEL_EVEN | LEVEL_STEPPED;
    if ((before & ~marks) == (level | LEVEL_KNOWN)) {
        return GLANZ_OK;
    }
    uint32_t mark = 0;
#if GLANZ_DRIVES_MOST > 0
    if (DRIVES(engine) != NULL && over_us != 0 && (before & LEVEL_STEPPED) == 0) {
        mark = LEVEL_EVEN; /* what follows it finds out by itself */
        engine->drives_awake |= 2u;
    } else if (DRIVES(engine) != NULL) {
        DRIVES(engine)->follow(engine, signal, glanz_lead_of(engine, at_us) - over_us / 2u);
        mark = over_us == 0 ? LEVEL_STEPPED : 0;
    }
#else
    (void)at_us;
    (void)over_us;
#endif
    engine->levels[signal] = level | LEVEL_KNOWN | mark;
#if GLANZ_DRIVES_MOST > 0
    if (DRIVES(engine) != NULL) {
#if GLANZ_FIELDS
        DRIVES(engine)->pulse(engine, signal, before, level, glanz_lead_of(engine, at_us), over_us);
#endif
        if ((before & LEVEL_KNOWN) == 0) {
            DRIVES(engine)->set(engine, signal);
        }
    }
#endif
#if GLANZ_FIELDS
    if (signal < engine->world.values) { /* texts show inputs only */
        engine->world.version++;
    }
#endif
    return GLANZ_OK;
}

#endif
