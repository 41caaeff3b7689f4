/* SPDX-License-Identifier: MIT */
/* Signals: what is pushed into sensors, dials and knobs becomes a level; waves, the clock and combinations have theirs at each
 * frame. A level that moves by itself counts from the middle of the frame, which comes to what it was on the whole. */
#include "control.h"

#if GLANZ_DRIVES_MOST > 0

#define FINE GLANZ_APPROACH_FINE
#define LONG_US 1000000u /* since the last run: then it does not matter when something changed within */

/* ---- inputs ---- */

static uint32_t part_of(struct range range, uint16_t value) {
    return value <= range.low ? 0 : glanz_ratio((uint32_t)value - range.low, (uint32_t)range.high - range.low);
}

/* @param learnt high 0: nothing was. */
static uint32_t sensor_level(GLANZ_CONST struct glanz_input *is, struct range learnt, uint16_t value) {
    struct range said = {is->low, is->high == 0 ? 65535 : is->high};
    uint32_t level = part_of(learnt.high == 0 ? said : learnt, value);
    return is->reversed ? GLANZ_LEVEL_FULL - level : level;
}

/* Once round is what was learnt, or all readings. */
static uint32_t dial_level(GLANZ_CONST struct glanz_input *is, struct range learnt, uint16_t value) {
    uint16_t angle = learnt.high == 0 ? value : (uint16_t)part_of(learnt, value);
    uint16_t turn = (uint16_t)(angle - is->zero);
    return is->reversed ? (uint16_t)(0u - turn) : turn;
}

static uint16_t steps_of(GLANZ_CONST struct glanz_input *is) {
    return is->steps == 0 ? 24 : is->steps;
}

/* One line after the other changes, in an order that tells the way; two at once tell nothing, nor does a bounce that goes back.
 */
static int8_t knob_way(uint8_t before, uint8_t lines) {
    static const int8_t ways[16] = {0, 1, -1, 0, -1, 0, 0, 1, 1, 0, 0, -1, 0, -1, 1, 0};
    return ways[(before & 3u) << 2 | (lines & 3u)];
}

/* @return its level, with GLANZ_LEVEL_TURN. */
static uint32_t turn_knob(struct sense *sense, GLANZ_CONST struct glanz_input *is, uint8_t lines) {
    uint8_t edges = is->edges == 0 ? 4 : is->edges;
    uint32_t all = (uint32_t)steps_of(is) * edges;
    int8_t way = sense->begun ? knob_way(sense->lines, lines) : 0;
    way = is->reversed ? (int8_t)-way : way;
    sense->lines = lines;
    if (way > 0) {
        sense->done = sense->done < all ? sense->done + 1u : all;
        sense->done = is->endless && sense->done == all ? 0 : sense->done;
    } else if (way < 0) {
        sense->done = sense->done != 0 ? sense->done - 1u : is->endless ? all - 1u : 0;
    }
    /* The step goes on when most of it is done, so that a line that bounces does not take it to and fro. */
    int32_t off = (int32_t)sense->done - (int32_t)(sense->wanted * edges);
    int32_t half = (int32_t)(all / 2u);
    off = !is->endless ? off : off > half ? off - (int32_t)all : off < -half ? off + (int32_t)all : off;
    if (off >= edges - edges / 4) {
        sense->wanted = is->endless && sense->wanted + 1u == steps_of(is) ? 0 : sense->wanted + 1u;
    } else if (-off >= edges - edges / 4) {
        sense->wanted = sense->wanted == 0 ? steps_of(is) - 1u : sense->wanted - 1u;
    }
    uint32_t level = glanz_ratio(sense->wanted, steps_of(is));
    return is->endless ? (level & 0xFFFFu) | GLANZ_LEVEL_TURN : level;
}

static uint32_t turn_of(GLANZ_CONST struct glanz_input *is) {
    return is->kind == GLANZ_INPUT_DIAL ? GLANZ_LEVEL_TURN : 0u;
}

/* A smoothed input goes on to a time. */
static void smooth(struct sense *sense, GLANZ_CONST struct glanz_input *is, uint32_t at_us) {
    uint32_t mean;
    struct glanz_decay decay = {0, 0, 0, 0};
    sense->done = glanz_approach(&mean, &decay, sense->done, sense->wanted, at_us - sense->at_us, is->lag_ms,
                                 is->kind == GLANZ_INPUT_DIAL);
    sense->at_us = at_us;
}

/* A reading has another level from a time on; smoothed where it is to be. */
static glanz_status read_level(struct glanz_control *control, uint8_t input, uint32_t wanted, glanz_us at) {
    GLANZ_CONST struct glanz_input *is = &control->rig->inputs[input];
    struct sense *sense = &control->senses[input];
    if (is->lag_ms != 0 && sense->begun) {
        if (sense->done == sense->wanted) { /* it was at rest */
            sense->at_us = (uint32_t)at;
        }
        smooth(sense, is, (uint32_t)at);
        sense->wanted = wanted * FINE;
        return GLANZ_OK; /* its level is told at the frame */
    }
    sense->begun = 1;
    sense->at_us = (uint32_t)at;
    sense->wanted = wanted * FINE;
    sense->done = wanted * FINE;
    return glanz_control_change_level(control, input, &control->inputs[input].value, wanted | turn_of(is), at, 0);
}

static glanz_status take(struct glanz_control *control, uint8_t input, uint16_t value, glanz_us at) {
    GLANZ_CONST struct glanz_input *is = &control->rig->inputs[input];
    struct sense *sense = &control->senses[input];
    glanz_status status = GLANZ_OK;
    if (is->kind == GLANZ_INPUT_KNOB) {
        uint32_t turned = turn_knob(sense, is, (uint8_t)value);
        sense->begun = 1;
        return glanz_control_change_level(control, input, &control->inputs[input].value, turned, at, 0);
    }
    sense->heard = at;
    sense->raw = value;
    if (sense->learns) {
        sense->seen.low = value < sense->seen.low ? value : sense->seen.low;
        sense->seen.high = value > sense->seen.high ? value : sense->seen.high;
    }
    control->timed |= TIMED_LOST;
    if (sense->lost) {
        sense->lost = 0;
        status = glanz_control_happen(control, input, GLANZ_EVENT_BACK, at);
    }
    uint32_t level = is->kind == GLANZ_INPUT_DIAL ? dial_level(is, sense->range, value) : sensor_level(is, sense->range, value);
    glanz_status done = read_level(control, input, level, at);
    return glanz_status_first(status, done);
}

static glanz_us lost_due(const struct glanz_control *control, uint8_t *input) {
    glanz_us next = NEVER;
    for (uint8_t i = 0; i < control->rig->input_count; i++) {
        uint32_t ms = control->rig->inputs[i].lost_ms;
        if (ms != 0 && control->senses[i].begun && !control->senses[i].lost) {
            glanz_us at = glanz_control_after(control, control->senses[i].heard + (glanz_us)ms * 1000u);
            *input = at < next ? i : *input;
            next = at < next ? at : next;
        }
    }
    return next;
}

static glanz_status lose(struct glanz_control *control, uint8_t input, glanz_us at) {
    control->senses[input].lost = 1;
    glanz_status status = read_level(control, input, glanz_level_of_value(control->rig->inputs[input].lost_level), at);
    glanz_status told = glanz_control_happen(control, input, GLANZ_EVENT_LOST, at);
    return glanz_status_first(status, told);
}

/* ---- signals of the show ---- */

/* A level drawn by lot for each period. */
static uint32_t wander(uint32_t seed, uint32_t period) {
    return glanz_hash2(seed, period) >> 16;
}

/* @param turn of the period, 0.32. @param period which one. @return 0 to 65536. */
static uint32_t wave_level(GLANZ_CONST struct glanz_signal *signal, uint32_t turn, uint32_t period) {
    uint32_t part = turn >> 16;
    switch (signal->form) {
    case GLANZ_WAVE_SINE: return glanz_level_of_value((uint16_t)((int32_t)glanz_sine((uint16_t)part) + 32768));
    case GLANZ_WAVE_TRIANGLE: return part < 32768u ? part * 2u : (65536u - part) * 2u;
    case GLANZ_WAVE_SAW: return glanz_level_of_value((uint16_t)part);
    case GLANZ_WAVE_SQUARE: return part < 32768u ? GLANZ_LEVEL_FULL : 0;
    default:
        return glanz_level_of_value(glanz_mix16((uint16_t)wander(signal->seed, period),
                                                (uint16_t)wander(signal->seed, period + 1u), glanz_ease16((uint16_t)part)));
    }
}

/* Where a wave is: periods in the upper half. */
static uint64_t wave_turns(GLANZ_CONST struct glanz_signal *signal, const struct signal_state *state, glanz_us clock) {
    return (((uint64_t)clock * state->rate) >> state->shift) + ((uint64_t)signal->phase << 16); /* it wraps as it should */
}

static uint32_t wave(GLANZ_CONST struct glanz_signal *signal, uint64_t turns) {
    uint32_t level = wave_level(signal, (uint32_t)turns, (uint32_t)(turns >> 32));
    uint32_t high = signal->high == 0 && signal->low == 0 ? GLANZ_LEVEL_FULL : signal->high;
    return high >= signal->low ? signal->low + glanz_share_of(high - signal->low, level)
                               : signal->low - glanz_share_of(signal->low - high, level);
}

/* Where a wave jumps: at the start of its period, a square in the middle too. @return 1 when it did so since the last run;
 * where it was then, and how long after the last run, is filled. */
static int find_jump(uint64_t *turns, uint32_t *after, const struct glanz_control *control,
                     GLANZ_CONST struct glanz_signal *signal, const struct signal_state *state, glanz_us clock) {
    if (signal->form != GLANZ_WAVE_SAW && signal->form != GLANZ_WAVE_SQUARE) {
        return 0;
    }
    uint64_t before = wave_turns(signal, state, control->last);
    uint64_t now = wave_turns(signal, state, clock);
    uint64_t jump = now & (signal->form == GLANZ_WAVE_SAW ? ~(uint64_t)0xFFFFFFFFu : ~(uint64_t)0x7FFFFFFFu);
    if (jump <= before || now - before > UINT32_MAX) {
        return 0;
    }
    *turns = jump;
    *after = glanz_times((uint32_t)(clock - control->last), glanz_ratio((uint32_t)(jump - before), (uint32_t)(now - before)));
    return 1;
}

static uint32_t clock_level(const struct glanz_control *control, uint8_t span) {
    uint32_t day = 0;
    uint32_t second = 0;
    uint32_t us = 0;
    if (!glanz_engine_time(control->engine, &day, &second, &us)) {
        return GLANZ_LEVEL_TURN;
    }
    uint32_t level;
    switch (span) {
    case GLANZ_CLOCK_MINUTE: level = glanz_ratio(second % 60u * 10000u + us / 100u, 600000u); break;
    case GLANZ_CLOCK_HOUR: level = glanz_ratio(second % 3600u * 100u + us / 10000u, 360000u); break;
    case GLANZ_CLOCK_DAY: level = glanz_ratio(second, GLANZ_DAY); break;
    default: {
        uint16_t year = glanz_date_of(day).year;
        uint32_t first = glanz_day_of(year, 1, 1);
        uint32_t days = glanz_day_of((uint16_t)(year + 1u), 1, 1) - first;
        level = glanz_ratio((day - first) * GLANZ_DAY + second, days * GLANZ_DAY);
        break;
    }
    }
    return (level & 0xFFFFu) | GLANZ_LEVEL_TURN;
}

static uint32_t combine(const struct glanz_control *control, GLANZ_CONST struct glanz_signal *signal) {
    uint32_t a = GLANZ_LEVEL_OF(glanz_control_level(control, signal->first));
    uint32_t b = GLANZ_LEVEL_OF(glanz_control_level(control, signal->second));
    switch (signal->form) {
    case GLANZ_COMBINE_SUM: return a + b > GLANZ_LEVEL_FULL ? GLANZ_LEVEL_FULL : a + b;
    case GLANZ_COMBINE_DIFFERENCE: return a > b ? a - b : 0;
    case GLANZ_COMBINE_PRODUCT: return glanz_share_of(a, b);
    case GLANZ_COMBINE_RATIO: return a == 0 ? 0 : glanz_ratio(a, b);
    case GLANZ_COMBINE_LARGER: return a > b ? a : b;
    default: return a < b ? a : b;
    }
}

/* The highest share of a supply's limit that is drawn. */
static uint32_t current_level(const struct glanz_control *control) {
    uint32_t most = 0;
    for (uint8_t i = 0; i < control->rig->supply_count; i++) {
        uint32_t limit = control->rig->supplies[i].limit_ma;
        if (limit != 0) {
            uint32_t drawn = glanz_engine_supply_ua(control->engine, i) / 1000u;
            uint32_t share = glanz_ratio(drawn < limit ? drawn : limit, limit);
            most = share > most ? share : most;
        }
    }
    return most;
}

static uint32_t state_level(const struct glanz_control *control, uint8_t state) {
    uint8_t is = 0;
    switch (state) {
    case GLANZ_STATE_CURRENT: return current_level(control);
    case GLANZ_STATE_BRIGHTNESS: return glanz_level_of_value(glanz_engine_lightness(control->engine));
#if GLANZ_SEQUENCES
    case GLANZ_STATE_ASLEEP: is = control->asleep != 0; break;
    case GLANZ_STATE_FROZEN: is = glanz_engine_frozen(control->engine) != 0; break;
#endif
    default:
        for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
            is = (uint8_t)(is | (control->players[i].depth != 0));
        }
        break;
    }
    return is ? GLANZ_LEVEL_FULL : 0;
}

static uint32_t level_now(const struct glanz_control *control, uint8_t index, glanz_us clock) {
    GLANZ_CONST struct glanz_signal *signal = &control->show->signals[index];
    return signal->kind == GLANZ_SIGNAL_SOUND   ? control->signals[index].level /* told as it is heard */
           : signal->kind == GLANZ_SIGNAL_WAVE  ? wave(signal, wave_turns(signal, &control->signals[index], clock))
           : signal->kind == GLANZ_SIGNAL_CLOCK ? clock_level(control, signal->form)
           : signal->kind == GLANZ_SIGNAL_STATE ? state_level(control, signal->form)
                                                : combine(control, signal);
}

static void begin_wave(struct signal_state *state, GLANZ_CONST struct glanz_signal *signal) {
    uint64_t rate = UINT64_MAX / ((uint64_t)signal->period_ms * 1000u); /* 2^64 a period */
    state->shift = 32;
    while (rate > UINT32_MAX) {
        rate >>= 1;
        state->shift--;
    }
    state->rate = (uint32_t)rate;
}

/* Where signals of a show are when it begins; no trigger hears of that. */
static glanz_status begin(struct glanz_control *control, glanz_us clock) {
    glanz_status status = GLANZ_OK;
    memset(control->signals, 0, sizeof *control->signals * GLANZ_SIGNALS_MOST);
    control->sensing = control->show->signal_count != 0;
    for (uint8_t i = 0; i < control->rig->input_count; i++) {
        control->sensing = (uint8_t)(control->sensing || control->rig->inputs[i].lag_ms != 0);
    }
    for (uint8_t i = 0; i < control->show->signal_count; i++) {
        GLANZ_CONST struct glanz_signal *signal = &control->show->signals[i];
        if (signal->kind == GLANZ_SIGNAL_WAVE) {
            begin_wave(&control->signals[i], signal);
        }
        control->signals[i].level = level_now(control, i, clock);
        if (control->parts->drives != NULL) {
            glanz_status told = control->parts->drives->level(control->engine, (uint8_t)(control->rig->input_count + i),
                                                              control->signals[i].level, clock, 0);
            status = glanz_status_first(status, told);
        }
    }
    return status;
}

static glanz_status change_signal(struct glanz_control *control, uint8_t index, uint32_t level, glanz_us at, uint32_t over) {
    uint32_t *was = &control->signals[index].level;
    return level == *was
               ? GLANZ_OK
               : glanz_control_change_level(control, (uint8_t)(control->rig->input_count + index), was, level, at, over);
}

static glanz_status run_wave(struct glanz_control *control, uint8_t index, glanz_us clock) {
    GLANZ_CONST struct glanz_signal *signal = &control->show->signals[index];
    struct signal_state *state = &control->signals[index];
    uint64_t turns = 0;
    glanz_us since = clock - control->last;
    glanz_status status = GLANZ_OK;
    uint32_t jump;
    if (since <= LONG_US && find_jump(&turns, &jump, control, signal, state, clock)) {
        status = change_signal(control, index, wave(signal, turns), control->last + jump, 0);
        since -= jump;
    }
    glanz_status last = change_signal(control, index, wave(signal, wave_turns(signal, state, clock)), clock,
                                      since > LONG_US ? 0 : (uint32_t)since);
    return glanz_status_first(status, last);
}

static glanz_status run(struct glanz_control *control, glanz_us clock) {
    uint32_t over = clock - control->last > LONG_US ? 0 : (uint32_t)(clock - control->last);
    glanz_status status = GLANZ_OK;
    for (uint8_t i = 0; i < control->rig->input_count; i++) {
        GLANZ_CONST struct glanz_input *is = &control->rig->inputs[i];
        struct sense *sense = &control->senses[i];
        if (is->lag_ms != 0 && sense->done != sense->wanted) {
            smooth(sense, is, (uint32_t)clock);
            glanz_status done = glanz_control_change_level(control, i, &control->inputs[i].value,
                                                           sense->done / FINE | turn_of(is), clock, over);
            status = glanz_status_first(status, done);
        }
    }
    for (uint8_t i = 0; control->show != NULL && i < control->show->signal_count; i++) {
        GLANZ_CONST struct glanz_signal *signal = &control->show->signals[i];
        int jumps = signal->kind == GLANZ_SIGNAL_STATE && signal->form != GLANZ_STATE_BRIGHTNESS;
        glanz_status done = signal->kind == GLANZ_SIGNAL_WAVE
                                ? run_wave(control, i, clock)
                                : change_signal(control, i, level_now(control, i, clock), clock, jumps ? 0 : over);
        status = glanz_status_first(status, done);
    }
    return status;
}

uint32_t glanz_control_level(const struct glanz_control *control, uint8_t signal) {
    if (control == NULL) {
        return 0;
    }
    if (signal < control->rig->input_count) {
        return control->inputs[signal].value;
    }
    signal = (uint8_t)(signal - control->rig->input_count);
    return control->signals == NULL || control->show == NULL || signal >= control->show->signal_count
               ? 0
               : control->signals[signal].level;
}

/* ---- triggers ---- */

/* Has an angle come past another, the shorter way? @param up 1: upward. */
static int has_turned_past(uint32_t before, uint32_t level, uint16_t past, int up) {
    uint16_t way = (uint16_t)(up ? level - before : before - level);
    uint16_t to = (uint16_t)(up ? past - before : before - past);
    return way != 0 && way < 32768u && to < way;
}

static int passed(GLANZ_CONST struct glanz_trigger *trigger, uint32_t before, uint32_t level, uint32_t over, glanz_us *at) {
    int up = trigger->event == GLANZ_EVENT_RISES;
    uint32_t turns = level & GLANZ_LEVEL_TURN;
    uint32_t past = turns != 0 ? trigger->level : glanz_level_of_value(trigger->level);
    if (!up && trigger->event != GLANZ_EVENT_FALLS) {
        return 0;
    }
    if (turns != 0 ? !has_turned_past(before, level, trigger->level, up)
        : up       ? before > past || level <= past
                   : before < past || level >= past) {
        return 0;
    }
    uint32_t mask = turns != 0 ? 0xFFFFu : 0x1FFFFu;
    uint32_t left = (up ? level - past : past - level) & mask;
    uint32_t all = (up ? level - before : before - level) & mask;
    *at -= glanz_times(over, glanz_ratio(left, all));
    return 1;
}

/* A level at a time within the run: waves are what they are then, all else is what was told last. */
static uint32_t level_at(const struct glanz_control *control, uint8_t signal, glanz_us at) {
    uint8_t index = (uint8_t)(signal - control->rig->input_count);
    return signal >= control->rig->input_count && index < control->show->signal_count &&
                   control->show->signals[index].kind == GLANZ_SIGNAL_WAVE
               ? level_now(control, index, at)
               : glanz_control_level(control, signal);
}

static int allows(const struct glanz_control *control, GLANZ_CONST struct glanz_trigger *trigger, glanz_us at) {
    for (uint8_t i = 0; i < trigger->condition_count; i++) {
        GLANZ_CONST struct glanz_condition *condition = &trigger->conditions[i];
        uint32_t level = level_at(control, condition->signal, at);
        uint32_t limit = (level & GLANZ_LEVEL_TURN) != 0 ? condition->level : glanz_level_of_value(condition->level);
        uint32_t is = GLANZ_LEVEL_OF(level);
        if (condition->below ? is >= limit : is <= limit) {
            return 0;
        }
    }
    return 1;
}

/* ---- memory ---- */

static size_t senses_size(GLANZ_CONST struct glanz_rig *rig) {
    return (sizeof(struct sense) * rig->input_count + 7u) & ~(size_t)7u;
}

static size_t size(GLANZ_CONST struct glanz_rig *rig) {
    return senses_size(rig) + ((sizeof(struct signal_state) * GLANZ_SIGNALS_MOST + 7u) & ~(size_t)7u);
}

static void start(struct glanz_control *control) {
    control->signals = (struct signal_state *)(void *)((uint8_t *)control->senses + senses_size(control->rig));
}

GLANZ_CONST struct glanz_signals_part glanz_part_signals = {size, start, passed, allows, take, begin, run, {lost_due, lose}};

#endif
