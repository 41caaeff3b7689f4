/* SPDX-License-Identifier: MIT */
/* Triggers that remember: what stays, enters and leaves, is turned or unchanged; what must go back before it happens again;
 * what is not met again so soon, or acts by turns. Each such trigger has a watch. */
#include "control.h"

#if GLANZ_DRIVES_MOST > 0

#define FAST_US 80000u /* steps that follow each other so soon are fast */
#define STEPS 24u      /* of what has none of its own, from end to end or once round */
#define STEP 65536u    /* one step, in watch->place */

enum { HOLDS = 1, RUNS = 2, UP = 4, DOWN = 8, WAITS = 16 };

static struct watch *find(const struct glanz_control *control, uint8_t trigger) {
    for (uint8_t i = 0; i < GLANZ_WATCHES_MOST && control->watches[i].trigger != 0; i++) {
        if (control->watches[i].trigger == trigger + 1u) {
            return &control->watches[i];
        }
    }
    return NULL;
}

/* ---- where a level is ---- */

static uint32_t limit_of(uint16_t level, uint32_t turns) {
    return turns != 0 ? level : glanz_level_of_value(level);
}

/* So much below or above, but not beyond the ends. */
static uint32_t below(uint32_t level, uint32_t margin) {
    return level > margin ? level - margin : 0;
}

static uint32_t above(uint32_t level, uint32_t margin) {
    return level + margin < GLANZ_LEVEL_FULL ? level + margin : GLANZ_LEVEL_FULL;
}

/* Is it between two ends, widened by a margin? Of an angle: clockwise from the one to the other. */
static int is_between(uint32_t level, uint32_t low, uint32_t high, uint32_t margin, uint32_t turns) {
    if (turns == 0) {
        return level >= below(low, margin) && level <= above(high, margin);
    }
    uint32_t width = ((high - low) & 0xFFFFu) + 2u * margin;
    return width >= 65536u || ((level - low + margin) & 0xFFFFu) <= width;
}

/* Is it so? @param held whether it was: then it must go back by the margin to be no more. */
static int is_so(GLANZ_CONST struct glanz_trigger *trigger, uint32_t level, int held) {
    uint32_t turns = level & GLANZ_LEVEL_TURN;
    uint32_t is = GLANZ_LEVEL_OF(level);
    uint32_t limit = limit_of(trigger->level, turns);
    uint32_t margin = held ? trigger->margin : 0;
    switch (trigger->event) {
    case GLANZ_EVENT_RISES:
    case GLANZ_EVENT_STAYS_ABOVE: return margin == 0 ? is > limit : is > below(limit, margin);
    case GLANZ_EVENT_FALLS:
    case GLANZ_EVENT_STAYS_BELOW: return margin == 0 ? is < limit : is < above(limit, margin);
    default: return is_between(is, limit, limit_of(trigger->upper, turns), margin, turns);
    }
}

/* When a level came past a limit, on its even way to where it is. */
static glanz_us time_of(uint32_t before, uint32_t level, uint32_t limit, uint32_t over, glanz_us at) {
    uint32_t mask = (level & GLANZ_LEVEL_TURN) != 0 ? 0xFFFFu : 0x1FFFFu;
    uint32_t way = (level - before) & mask;
    uint32_t left = (level - limit) & mask;
    if (mask == 0x1FFFFu ? GLANZ_LEVEL_OF(level) < GLANZ_LEVEL_OF(before) : way >= 32768u) { /* downward */
        way = (before - level) & mask;
        left = (limit - level) & mask;
    }
    return way == 0 || left >= way ? at - (left == 0 ? 0u : over) : at - glanz_times(over, glanz_ratio(left, way));
}

/* The limit that it passed when it came to be so, or ceased to be. */
static uint32_t limit_passed(GLANZ_CONST struct glanz_trigger *trigger, uint32_t before, uint32_t level, int left) {
    uint32_t turns = level & GLANZ_LEVEL_TURN;
    uint32_t low = limit_of(trigger->level, turns);
    uint32_t high = limit_of(trigger->upper, turns);
    if (trigger->event != GLANZ_EVENT_ENTERS && trigger->event != GLANZ_EVENT_LEAVES) {
        return low;
    }
    int up = turns != 0 ? ((level - before) & 0xFFFFu) < 32768u : GLANZ_LEVEL_OF(level) > GLANZ_LEVEL_OF(before);
    if (!left) {
        return up ? low : high;
    }
    return up ? (turns != 0 ? (high + trigger->margin) & 0xFFFFu : above(high, trigger->margin))
              : (turns != 0 ? (low - trigger->margin) & 0xFFFFu : below(low, trigger->margin));
}

/* ---- what a level does ---- */

static glanz_status happen(struct glanz_control *control, uint8_t trigger, glanz_us at) {
    GLANZ_CONST struct glanz_trigger *is = &control->show->triggers[trigger];
    glanz_control_notify(control, at, GLANZ_HAPPENED_EVENT, is->input, is->event, 0);
    return glanz_control_fire(control, trigger, at);
}

/* How many steps it has from end to end, or once round. */
static uint32_t steps_of(const struct glanz_control *control, uint8_t signal) {
    GLANZ_CONST struct glanz_input *input = signal < control->rig->input_count ? &control->rig->inputs[signal] : NULL;
    return input == NULL || input->kind != GLANZ_INPUT_KNOB || input->steps == 0 ? STEPS : input->steps;
}

/* Where a level is, in steps of 65536. */
static uint32_t place_of(const struct glanz_control *control, uint8_t signal, uint32_t level) {
    return GLANZ_LEVEL_OF(level) * steps_of(control, signal);
}

static glanz_status turn(struct glanz_control *control, struct watch *watch, uint32_t level, glanz_us at) {
    uint8_t index = (uint8_t)(watch->trigger - 1u);
    GLANZ_CONST struct glanz_trigger *trigger = &control->show->triggers[index];
    uint32_t place = place_of(control, trigger->input, level);
    uint32_t all = steps_of(control, trigger->input) * STEP; /* at most 1000 times 65536 */
    glanz_status status = GLANZ_OK;
    for (;;) {
        uint32_t up = place - watch->place;
        if ((level & GLANZ_LEVEL_TURN) != 0) { /* the shorter way */
            up = place >= watch->place ? up : up + all;
            up = up > all / 2u ? up - all : up;
        }
        uint8_t way = (up >> 31) != 0 ? DOWN : UP;
        if ((way == UP ? up : 0u - up) < STEP - STEP / 4u) { /* so that it does not go to and fro at an edge */
            return status;
        }
        watch->place += way == UP ? STEP : 0u - STEP;
        if ((level & GLANZ_LEVEL_TURN) != 0) {
            watch->place = watch->place == all ? 0 : watch->place > all ? all - STEP : watch->place;
        }
        uint8_t fast = (watch->flags & way) != 0 && at - watch->at <= FAST_US;
        watch->flags = (uint8_t)((watch->flags & ~(UP | DOWN)) | way);
        watch->at = at;
        uint8_t slow_event = way == UP ? GLANZ_EVENT_TURNED_UP : GLANZ_EVENT_TURNED_DOWN;
        uint8_t fast_event = way == UP ? GLANZ_EVENT_TURNED_UP_FAST : GLANZ_EVENT_TURNED_DOWN_FAST;
        if (trigger->event == slow_event || (fast && trigger->event == fast_event)) {
            glanz_status done = happen(control, index, at);
            status = glanz_status_first(status, done);
        }
    }
}

static void run_for(struct watch *watch, GLANZ_CONST struct glanz_trigger *trigger, glanz_us from) {
    watch->at = from + (glanz_us)trigger->for_ms * 1000u;
    watch->flags |= RUNS;
}

static void stay_unchanged(struct watch *watch, GLANZ_CONST struct glanz_trigger *trigger, uint32_t level, glanz_us at) {
    uint32_t is = GLANZ_LEVEL_OF(level);
    uint32_t moved = is > watch->place ? is - watch->place : watch->place - is;
    moved = (level & GLANZ_LEVEL_TURN) != 0 && moved > 32768u ? 65536u - moved : moved;
    if (moved > trigger->margin) {
        watch->place = is;
        run_for(watch, trigger, at);
    }
}

/* It enters or leaves. An even way past both ends in one change does both. */
static glanz_status pass(struct glanz_control *control, struct watch *watch, uint32_t before, uint32_t level, glanz_us at,
                         uint32_t over) {
    uint8_t index = (uint8_t)(watch->trigger - 1u);
    GLANZ_CONST struct glanz_trigger *trigger = &control->show->triggers[index];
    int held = (watch->flags & HOLDS) != 0;
    int holds = is_so(trigger, level, held);
    uint8_t event = trigger->event;
    if (!held && !holds && (level & GLANZ_LEVEL_TURN) == 0 && (event == GLANZ_EVENT_ENTERS || event == GLANZ_EVENT_LEAVES) &&
        (GLANZ_LEVEL_OF(before) < limit_of(trigger->level, 0)) != (GLANZ_LEVEL_OF(level) < limit_of(trigger->level, 0))) {
        int left = event == GLANZ_EVENT_LEAVES;
        if (is_so(trigger, level, 1)) { /* within the margin it has not left */
            watch->flags |= HOLDS;
            return left ? GLANZ_OK
                        : happen(control, index, time_of(before, level, limit_passed(trigger, before, level, 0), over, at));
        }
        return happen(control, index, time_of(before, level, limit_passed(trigger, before, level, left), over, at));
    }
    if (held == holds) {
        return GLANZ_OK;
    }
    watch->flags ^= HOLDS;
    glanz_us when = time_of(before, level, limit_passed(trigger, before, level, held), over, at);
    if (event == GLANZ_EVENT_STAYS_ABOVE || event == GLANZ_EVENT_STAYS_BELOW) {
        watch->flags &= (uint8_t)~RUNS;
        if (holds) {
            run_for(watch, trigger, when);
        }
        return GLANZ_OK;
    }
    return holds != (event == GLANZ_EVENT_LEAVES) ? happen(control, index, when) : GLANZ_OK;
}

static glanz_status change(struct glanz_control *control, uint8_t index, uint32_t before, uint32_t level, glanz_us at,
                           uint32_t over) {
    struct watch *watch = find(control, index);
    GLANZ_CONST struct glanz_trigger *trigger = &control->show->triggers[index];
    control->timed |= TIMED_WATCHES;
    if (watch == NULL || !GLANZ_EVENT_IS_OF_LEVEL(trigger->event) || trigger->event == GLANZ_EVENT_LOST ||
        trigger->event == GLANZ_EVENT_BACK) {
        return GLANZ_OK;
    }
    if (trigger->event <= GLANZ_EVENT_TURNED_DOWN_FAST) {
        return turn(control, watch, level, at);
    }
    if (trigger->event == GLANZ_EVENT_UNCHANGED) {
        stay_unchanged(watch, trigger, level, at);
        return GLANZ_OK;
    }
    return pass(control, watch, before, level, at, over);
}

/* ---- two buttons ---- */

/* The other button of a trigger, where both are down now, the second soon after the first; NULL. */
static struct input *joined_with(struct glanz_control *control, GLANZ_CONST struct glanz_trigger *trigger, uint8_t index) {
    if (trigger->event != GLANZ_EVENT_PRESSED_TOGETHER || (trigger->input != index && trigger->other != index)) {
        return NULL;
    }
    struct input *other = &control->inputs[trigger->input == index ? trigger->other : trigger->input];
    uint16_t within = control->rig->inputs[trigger->input].together_ms;
    glanz_us since = control->inputs[index].first - other->first;
    return other->pressed && other->presses == 1 && since <= (within == 0 ? 150u : within) * (glanz_us)1000 ? other : NULL;
}

/* Two buttons are down together: neither is pressed once then, nor held. */
static glanz_status press_together(struct glanz_control *control, uint8_t index, glanz_us at) {
    glanz_status status = GLANZ_OK;
    uint8_t count = control->show == NULL ? 0 : control->show->trigger_count;
    for (uint8_t i = 0; i < count; i++) {
        GLANZ_CONST struct glanz_trigger *trigger = &control->show->triggers[i];
        if (joined_with(control, trigger, index) != NULL) {
            glanz_control_notify(control, at, GLANZ_HAPPENED_EVENT, trigger->input, GLANZ_EVENT_PRESSED_TOGETHER, 0);
            glanz_status done = glanz_control_fire(control, i, at);
            status = glanz_status_first(status, done);
        }
    }
    for (uint8_t i = 0; i < count; i++) { /* after all of them were met */
        struct input *other = joined_with(control, &control->show->triggers[i], index);
        if (other != NULL) {
            control->inputs[index].presses = 0;
            other->presses = 0;
        }
    }
    return status;
}

/* ---- a show begins ---- */

static void begin_watch(struct glanz_control *control, struct watch *watch, GLANZ_CONST struct glanz_trigger *trigger,
                        glanz_us clock) {
    uint32_t level = glanz_control_level(control, trigger->input);
    if (!GLANZ_EVENT_IS_OF_LEVEL(trigger->event) || trigger->event == GLANZ_EVENT_LOST || trigger->event == GLANZ_EVENT_BACK) {
        return;
    }
    if (trigger->event <= GLANZ_EVENT_TURNED_DOWN_FAST) { /* the step that is nearest */
        uint32_t place = (place_of(control, trigger->input, level) + STEP / 2u) & ~(STEP - 1u);
        int round = (level & GLANZ_LEVEL_TURN) != 0 && place == steps_of(control, trigger->input) * STEP;
        watch->place = round ? 0 : place;
        return;
    }
    watch->place = GLANZ_LEVEL_OF(level);
    if (trigger->event == GLANZ_EVENT_UNCHANGED) {
        run_for(watch, trigger, clock);
    } else if (is_so(trigger, level, 0)) {
        watch->flags = HOLDS;
        if (trigger->event == GLANZ_EVENT_STAYS_ABOVE || trigger->event == GLANZ_EVENT_STAYS_BELOW) {
            run_for(watch, trigger, clock);
        }
    }
}

/* What a trigger is and waits for, as a number: in another show the same one goes on where it was. */
static uint32_t kind_of(GLANZ_CONST struct glanz_trigger *trigger) {
    uint32_t kind = trigger->name == NULL ? 0 : glanz_text_hash(trigger->name);
    kind = glanz_hash2(kind, (uint32_t)trigger->input << 24 | (uint32_t)trigger->event << 16 | trigger->level);
    kind = glanz_hash2(kind, (uint32_t)trigger->upper << 16 | trigger->margin);
    return glanz_hash2(kind, trigger->for_ms);
}

static void begin(struct glanz_control *control, glanz_us clock) {
    uint8_t count = 0;
    control->timed |= TIMED_WATCHES;
    for (uint8_t i = 0; i < control->show->trigger_count && count < GLANZ_WATCHES_MOST; i++) {
        GLANZ_CONST struct glanz_trigger *trigger = &control->show->triggers[i];
        if (!glanz_trigger_remembers(trigger)) {
            continue;
        }
        uint32_t kind = kind_of(trigger);
        uint8_t old = count;
        while (old < GLANZ_WATCHES_MOST && (control->watches[old].trigger == 0 || control->watches[old].kind != kind)) {
            old++;
        }
        struct watch watch;
        memset(&watch, 0, sizeof watch);
        if (old < GLANZ_WATCHES_MOST) { /* it changes places with the one that is here */
            watch = control->watches[old];
            control->watches[old] = control->watches[count];
        } else {
            for (old = count; old + 1 < GLANZ_WATCHES_MOST && control->watches[old].trigger != 0;) {
                old++; /* the one that is here goes where none is, or is the last to be lost */
            }
            control->watches[old] = control->watches[count];
            begin_watch(control, &watch, trigger, clock);
        }
        watch.kind = kind;
        watch.trigger = (uint8_t)(i + 1u);
        control->watches[count++] = watch;
    }
    memset(&control->watches[count], 0, sizeof *control->watches * (size_t)(GLANZ_WATCHES_MOST - count));
}

/* ---- time ---- */

static glanz_us due(const struct glanz_control *control, uint8_t *which) {
    glanz_us next = NEVER;
    for (uint8_t i = 0; i < GLANZ_WATCHES_MOST && control->watches[i].trigger != 0; i++) {
        glanz_us at = (control->watches[i].flags & RUNS) == 0 ? NEVER : glanz_control_after(control, control->watches[i].at);
        if (at < next) {
            next = at;
            *which = i;
        }
    }
    return next;
}

static glanz_status go(struct glanz_control *control, uint8_t which, glanz_us at) {
    struct watch *watch = &control->watches[which];
    watch->flags &= (uint8_t)~RUNS;
    return happen(control, (uint8_t)(watch->trigger - 1u), at);
}

/* A trigger is met: whether it acts, and by which of its actions. */
static int admits(struct glanz_control *control, uint8_t trigger, glanz_us at, uint8_t *first, uint8_t *count) {
    struct watch *watch = find(control, trigger);
    GLANZ_CONST struct glanz_trigger *is = &control->show->triggers[trigger];
    if (watch == NULL) {
        return 1;
    }
    if ((watch->flags & WAITS) != 0 && glanz_us_before(at, watch->until)) {
        return 0;
    }
    watch->flags = (uint8_t)(is->wait_ms != 0 ? watch->flags | WAITS : watch->flags & ~WAITS);
    watch->until = at + (glanz_us)is->wait_ms * 1000u;
    if (is->by_turns && *count != 0) {
        *first = (uint8_t)(watch->turn % *count);
        watch->turn = (uint8_t)((*first + 1u) % *count);
        *count = 1;
    }
    return 1;
}

/* Times that wrap must not grow old. */
static void rest(struct glanz_control *control, glanz_us clock) {
    for (uint8_t i = 0; i < GLANZ_WATCHES_MOST && control->watches[i].trigger != 0; i++) {
        if ((control->watches[i].flags & WAITS) != 0 && !glanz_us_before(clock, control->watches[i].until)) {
            control->watches[i].flags &= (uint8_t)~WAITS;
        }
        if ((control->watches[i].flags & (UP | DOWN)) != 0 && clock - control->watches[i].at > FAST_US) {
            control->watches[i].flags &= (uint8_t) ~(UP | DOWN);
        }
    }
}

static size_t size(void) {
    return (sizeof(struct watch) * GLANZ_WATCHES_MOST + 7u) & ~(size_t)7u;
}

GLANZ_CONST struct glanz_gestures_part glanz_part_gestures = {size, begin, change, admits, press_together, {due, go}, rest};

#endif
