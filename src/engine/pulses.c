/* SPDX-License-Identifier: MIT */
/* Pulses: when a signal rose past its middle, or an angle past zero, so that effects begin something at the exact time. Linked
 * with glanz_part_drives only. */
#include "state.h"

#if GLANZ_DRIVES_MOST > 0 && GLANZ_FIELDS

void glanz_pulse(struct glanz_engine *engine, uint8_t signal, uint32_t before, uint32_t level, uint32_t lead, uint32_t over) {
    struct pulse *is = &engine->pulses[signal];
    uint32_t way = 0; /* that it has gone since, and all of it */
    uint32_t all = 0;
    if ((before & LEVEL_KNOWN) == 0) {
        return;
    }
    if ((level & GLANZ_LEVEL_TURN) != 0) { /* past zero, the shorter way */
        all = (level - before) & 0xFFFFu;
        way = level & 0xFFFFu;
        if (all >= 32768u || way >= all) {
            return;
        }
    } else {
        uint32_t was = GLANZ_LEVEL_OF(before);
        if (was > 32768u || GLANZ_LEVEL_OF(level) <= 32768u) {
            return;
        }
        all = GLANZ_LEVEL_OF(level) - was;
        way = GLANZ_LEVEL_OF(level) - 32768u;
    }
    is->at_us = (uint32_t)engine->clock + lead - glanz_times(over, glanz_ratio(way, all));
    is->count++;
}

void glanz_pulse_tell(const struct glanz_engine *engine, struct layer *layer) {
    GLANZ_CONST struct glanz_effect *effect = layer->effect;
    layer->frame.pulses = 0;
    layer->frame.pulse_turn = 0;
    for (uint8_t i = 0; i < effect->param_count; i++) {
        uint32_t signal = (uint32_t)layer->frame.number[i];
        if (effect->params[i].kind == GLANZ_PARAM_SIGNAL && signal != 0 && signal <= engine->level_count) {
            const struct pulse *pulse = &engine->pulses[signal - 1u];
            uint32_t ago = (uint32_t)engine->clock - pulse->at_us;
            uint64_t pace = (uint64_t)(layer->motion[0].pace < 0 ? -layer->motion[0].pace
                                                                 : layer->motion[0].pace); /* laps a microsecond, 48 bits */
            uint64_t laps = ago > 0x7FFFFFFFu ? 0 : pace * ago;
            layer->frame.pulses = pulse->count;
            layer->frame.pulse_turn = (laps >> 48) != 0 ? 0xFFFFFFFFu : (uint32_t)(laps >> 16);
            return;
        }
    }
}

#endif
