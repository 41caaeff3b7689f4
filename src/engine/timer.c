/* SPDX-License-Identifier: MIT */
/* Timers and ramps: all that takes its time in the engine. They know no clock, only how much of a span is done. */
#include "state.h"

uint32_t glanz_timer_part(const struct timer *timer) { /* done, 0 to 65536 */
    return timer->done_us > timer->span_us ? 0 : glanz_ratio(timer->done_us, timer->span_us);
}

uint32_t glanz_timer_rest(const struct timer *timer) { /* until it ends, microseconds */
    return timer->span_us - timer->done_us;            /* right too before it begins: wraps back */
}

void glanz_timer_advance(struct timer *timer, uint32_t elapsed) {
    if (timer->done_us > timer->span_us) {
        uint32_t lead = 0u - timer->done_us;
        if (elapsed < lead) {
            timer->done_us += elapsed;
            return;
        }
        elapsed -= lead;
        timer->done_us = 0;
    }
    timer->done_us = glanz_timer_rest(timer) > elapsed ? timer->done_us + elapsed : timer->span_us;
}

struct timer glanz_timer_at(struct timer timer, uint32_t lead) {
    glanz_timer_advance(&timer, lead);
    return timer;
}

/* A span of at most 66 minutes, which leaves room for the lead. */
struct timer glanz_timer_of(uint32_t over_ms, uint32_t lead) {
    struct timer timer;
    timer.done_us = 0u - lead;
    timer.span_us = over_ms > 4000000u ? 4000000000u : over_ms * 1000u;
    return timer;
}

uint16_t glanz_ramp_now(const struct ramp *ramp) {
    return glanz_mix16(ramp->from, ramp->to, glanz_timer_part(&ramp->timer));
}

int glanz_ramp_runs(const struct ramp *ramp) {
    return ramp->from != ramp->to && ramp->timer.done_us != ramp->timer.span_us;
}

uint32_t glanz_ramp_gain(const struct ramp *ramp) {
    const struct timer *timer = &ramp->timer;
    if (ramp->from == ramp->to || timer->done_us >= timer->span_us) {
        return glanz_lightness(glanz_ramp_now(ramp));
    }
    /* with eight more bits than the ramp's ends have: a slow fade has finer steps than 1/65536 of its way */
    uint32_t done = glanz_fraction(timer->done_us, timer->span_us);
    uint32_t from = (uint32_t)ramp->from << 8;
    uint32_t to = (uint32_t)ramp->to << 8;
    return glanz_lightness_fine(to > from ? from + glanz_mul32_high(to - from, done)
                                          : from - glanz_mul32_high(from - to, done));
}

void glanz_ramp_to(struct ramp *ramp, uint16_t to, uint32_t over_ms, uint32_t lead) {
    struct timer timer = glanz_timer_at(ramp->timer, lead);
    ramp->from = glanz_mix16(ramp->from, ramp->to, glanz_timer_part(&timer));
    ramp->to = to;
    ramp->timer = glanz_timer_of(over_ms, lead);
}

uint8_t glanz_ramp_advance(struct ramp *ramp, uint32_t elapsed) {
    if (ramp->timer.done_us == ramp->timer.span_us) {
        return 0;
    }
    glanz_timer_advance(&ramp->timer, elapsed);
    return (uint8_t)glanz_ramp_runs(ramp);
}
