/* SPDX-License-Identifier: MIT */
/* What moves by itself can stand still, and go on by hand. Brightness, fades, glides and what follows signals go on. */
#include "state.h"

#if GLANZ_SEQUENCES

/* How much of a frame's time effects see. */
static void count(struct glanz_engine *engine, uint32_t elapsed) {
    uint32_t rest = elapsed > engine->own_from ? elapsed - engine->own_from : 0;
    engine->own_us = engine->own_next + (engine->frozen ? 0 : rest);
    engine->own_next = 0;
    engine->own_from = 0;
}

glanz_status glanz_engine_freeze(struct glanz_engine *engine, uint8_t frozen, glanz_us at_us) {
    struct glanz_change change = {at_us, 0, 0};
    if (engine == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (IS_INSIDE(engine)) {
        return GLANZ_ERR_STATE;
    }
    uint32_t lead = glanz_lead_of(engine, change.at_us);
    if (lead > engine->own_from) {
        engine->own_next += engine->frozen ? 0 : lead - engine->own_from;
        engine->own_from = lead;
    }
    engine->frozen = frozen != 0;
    engine->own_time = count;
    engine->dirty = 1;
    return GLANZ_OK;
}

glanz_status glanz_engine_step(struct glanz_engine *engine, uint32_t us) {
    if (engine == NULL || us > 0x0FFFFFFFu) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (IS_INSIDE(engine) || !engine->frozen || engine->own_next > 0x0FFFFFFFu) {
        return GLANZ_ERR_STATE;
    }
    engine->own_next += us;
    engine->dirty = 1;
    return GLANZ_OK;
}

int glanz_engine_frozen(const struct glanz_engine *engine) {
    return engine != NULL && engine->frozen;
}

#endif
