/* SPDX-License-Identifier: MIT */
/* The controller: raw edges become events, events meet triggers, triggers act; the playlist goes on by itself. Everything
 * is done in the order of its own time, which is exact to the microsecond whatever the frame rate. */
#include "control.h"

#define ACTS_MOST 256 /* things done in one call; what is left is done in the next */

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

size_t glanz_control_size(GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity) {
#if GLANZ_SEQUENCES
    size_t segments = align8(sizeof(struct segment) * segment_capacity);
#else
    size_t segments = 0;
    (void)segment_capacity;
#endif
    return rig == NULL ? 0 : align8(sizeof(struct glanz_control)) + align8(sizeof(struct input) * rig->input_count) + segments;
}

glanz_status glanz_control_start(struct glanz_control **out, void *memory, size_t size, struct glanz_engine *engine,
                                 GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity, struct glanz_inbox *inbox) {
    if (out == NULL || memory == NULL || engine == NULL || rig == NULL || ((uintptr_t)memory & (sizeof(void *) - 1u)) != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (size < glanz_control_size(rig, segment_capacity)) {
        return GLANZ_ERR_MEMORY;
    }
    memset(memory, 0, glanz_control_size(rig, segment_capacity));
    struct glanz_control *control = (struct glanz_control *)memory;
    control->inputs = (struct input *)(void *)((uint8_t *)memory + align8(sizeof *control));
    control->rig = rig;
    control->engine = engine;
    control->inbox = inbox;
    control->parts = glanz_engine_parts(engine);
    control->ring_count = inbox == NULL ? 0 : glanz_inbox_open(inbox, rig->input_count);
    for (uint8_t i = 0; i < rig->input_count; i++) {
        control->inputs[i].level = rig->inputs[i].pressed_low ? 1 : 0;
    }
#if GLANZ_SEQUENCES
    control->segments =
        (struct segment *)(void *)((uint8_t *)control->inputs + align8(sizeof(struct input) * rig->input_count));
    control->segment_capacity = segment_capacity;
    for (uint8_t i = 0; i < segment_capacity; i++) {
        control->segments[i].claimed = GLANZ_ALL;
    }
#endif
#if GLANZ_CALENDAR
    control->zone_until = 0xFFFFFFFFu;
#endif
    *out = control;
    return GLANZ_OK;
}

void glanz_control_listen(struct glanz_control *control, glanz_listener listener, void *user) {
    if (control != NULL) {
        control->listener = listener;
        control->listener_user = user;
    }
}

int glanz_control_inside(const struct glanz_control *control) {
#ifdef __AVR__
    (void)control;
    return 0;
#else
    return control->telling || glanz_engine_inside(control->engine);
#endif
}

void glanz_control_notify(struct glanz_control *control, glanz_us at, unsigned what, uint8_t index, uint8_t event,
                          uint8_t item) {
    if (control->listener != NULL) {
        struct glanz_happening happening;
        memset(&happening, 0, sizeof happening);
        happening.at_us = at;
        happening.description = what;
        happening.index = index;
        happening.event = event;
        happening.item = item;
        control->telling = 1;
        control->listener(&happening, control->listener_user);
        control->telling = 0;
    }
}

#if GLANZ_CALENDAR
uint32_t glanz_control_utc_at(const struct glanz_control *control, glanz_us clock) {
    return control->utc + (uint32_t)((clock - control->utc_at) / 1000000u);
}

uint32_t glanz_control_utc(const struct glanz_control *control) {
    return control == NULL || control->utc == 0 ? 0 : glanz_control_utc_at(control, control->last);
}
#endif

/* ---- actions ---- */

uint32_t glanz_control_change_time(GLANZ_CONST struct glanz_show *show, uint32_t over_ms) {
    if (over_ms != GLANZ_OWN_TIME) {
        return over_ms;
    }
    uint32_t change = show->change_ms;
    return change == 0 ? 500 : change == GLANZ_OWN_TIME ? 0 : change;
}

#if GLANZ_SEQUENCES
glanz_status glanz_control_wake(struct glanz_control *control, glanz_us at) {
    struct glanz_change change = {at, glanz_control_change_time(control->show, GLANZ_OWN_TIME), 0};
    if (control->asleep == 0) {
        return GLANZ_OK;
    }
    control->asleep = 0;
    glanz_control_notify(control, at, GLANZ_HAPPENED_SLEEP, 0, 0, 0);
    return glanz_engine_brightness(control->engine, GLANZ_ALL, control->sleep_lightness, change);
}
#endif

/* How many targets of its kind there are: 0 where the number is of no account. */
static uint16_t targets_of(const struct glanz_control *control, GLANZ_CONST struct glanz_action *action) {
    switch (action->kind->value) {
    case GLANZ_VALUE_PRESET: return control->show->preset_count;
    case GLANZ_VALUE_PLAYLIST: return control->show->playlist_count;
    case GLANZ_VALUE_LIGHTNESS: return action->target == GLANZ_ALL ? 256u : control->show->segment_count;
    case GLANZ_VALUE_SEGMENT:
    case GLANZ_VALUE_LOOK: return control->show->segment_count;
    default: return 256u;
    }
}

glanz_status glanz_control_act(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, glanz_us at_us) {
    if (control == NULL || action == NULL || action->kind == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (control->show == NULL || glanz_control_inside(control)) {
        return GLANZ_ERR_STATE;
    }
    struct glanz_change change;
    change.at_us = at_us;
    change.over_ms = glanz_control_change_time(control->show, action->over_ms);
    change.again = action->again;
    if (action->target >= targets_of(control, action)) {
        return GLANZ_ERR_ABSENT;
    }
#ifndef __AVR__
    if ((action->kind->parts & ~glanz_parts_present(control->parts)) != 0) {
        return GLANZ_ERR_ABSENT;
    }
#endif
#if GLANZ_FIELDS
    if (action->kind->value == GLANZ_VALUE_PRESET && control->parts->fields != NULL &&
        !control->parts->fields->preset_fits(control, action->target)) {
        return GLANZ_ERR_MEMORY;
    }
#endif
#if GLANZ_SEQUENCES
    glanz_status awake = action->kind->asleep ? GLANZ_OK : glanz_control_wake(control, at_us);
    if (awake != GLANZ_OK) {
        return awake;
    }
#endif
    return action->kind->act(control, action, change);
}

/* ---- events ---- */

glanz_status glanz_control_act_of_show(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, glanz_us at) {
    glanz_status status = glanz_control_act(control, action, at);
    return GLANZ_SEQUENCES && (status == GLANZ_ERR_ABSENT || status == GLANZ_ERR_STATE) ? GLANZ_OK : status;
}

static glanz_status fire(struct glanz_control *control, uint8_t trigger, glanz_us at) {
    GLANZ_CONST struct glanz_trigger *is = &control->show->triggers[trigger];
    glanz_status status = GLANZ_OK;
    glanz_control_notify(control, at, GLANZ_HAPPENED_TRIGGER, trigger, 0, 0);
    for (uint8_t i = 0; i < is->action_count; i++) {
        glanz_status done = glanz_control_act_of_show(control, &is->actions[i], at);
        status = glanz_status_first(status, done);
    }
    return status;
}

static glanz_status happen(struct glanz_control *control, uint8_t input, uint8_t event, glanz_us at) {
    glanz_status status = GLANZ_OK;
    glanz_control_notify(control, at, GLANZ_HAPPENED_EVENT, input, event, 0);
    for (uint8_t i = 0; control->show != NULL && i < control->show->trigger_count; i++) {
        if (control->show->triggers[i].input == input && control->show->triggers[i].event == event) {
            glanz_status done = fire(control, i, at);
            status = glanz_status_first(status, done);
        }
    }
    return status;
}

static glanz_status change_value(struct glanz_control *control, uint8_t index, uint16_t value, glanz_us at) {
    uint16_t before = control->inputs[index].value;
    control->inputs[index].value = value;
    glanz_status status = GLANZ_OK;
    for (uint8_t i = 0; control->show != NULL && i < control->show->trigger_count; i++) {
        GLANZ_CONST struct glanz_trigger *trigger = &control->show->triggers[i];
        if (trigger->input == index &&
            ((trigger->event == GLANZ_EVENT_RISES && before <= trigger->level && value > trigger->level) ||
             (trigger->event == GLANZ_EVENT_FALLS && before >= trigger->level && value < trigger->level))) {
            glanz_control_notify(control, at, GLANZ_HAPPENED_EVENT, index, trigger->event, 0);
            glanz_status done = fire(control, i, at);
            status = glanz_status_first(status, done);
        }
    }
    return status;
}

/* The button's contacts have closed or opened for good. */
static glanz_status change_press(struct glanz_control *control, uint8_t index, glanz_us at) {
    struct input *input = &control->inputs[index];
    GLANZ_CONST struct glanz_input *is = &control->rig->inputs[index];
    input->pressed = !input->pressed;
    input->settled = at + (is->settle_ms == 0 ? 20u : is->settle_ms) * (glanz_us)1000;
    if (!input->pressed) {
        input->released = at;
        return happen(control, index, GLANZ_EVENT_RELEASED, at);
    }
    glanz_us twice = (is->twice_ms == 0 ? 350u : is->twice_ms) * (glanz_us)1000;
    uint8_t second = input->presses == 1 && at - input->first <= twice;
    input->held = 0;
    glanz_status status = happen(control, index, GLANZ_EVENT_PRESSED, at);
    if (second) {
        input->presses = 0;
        glanz_status done = happen(control, index, GLANZ_EVENT_PRESSED_TWICE, at);
        return glanz_status_first(status, done);
    }
    input->presses = 1;
    input->first = at;
    return status;
}

static uint8_t line_pressed(const struct glanz_control *control, uint8_t index) {
    return control->inputs[index].level != control->rig->inputs[index].pressed_low;
}

/* How long after the last run a time is. */
glanz_us glanz_control_after(const struct glanz_control *control, glanz_us at) {
    return glanz_us_before(at, control->last) ? 0 : at - control->last;
}

/* How long after the last run something falls due at a button by itself; NEVER. */
static glanz_us button_due(const struct glanz_control *control, uint8_t index) {
    const struct input *input = &control->inputs[index];
    GLANZ_CONST struct glanz_input *is = &control->rig->inputs[index];
    glanz_us due = NEVER;
    if (line_pressed(control, index) != input->pressed) {
        due = glanz_control_after(control, input->settled);
    }
    if (input->presses == 1) {
        uint16_t ms = input->pressed ? (is->held_ms == 0 ? 700u : is->held_ms) : is->twice_ms == 0 ? 350u : is->twice_ms;
        glanz_us end = input->first + ms * (glanz_us)1000;
        if (!input->pressed && glanz_us_before(end, input->released)) {
            end = input->released;
        }
        if (!input->pressed || !input->held) {
            end = glanz_control_after(control, end);
            due = end < due ? end : due;
        }
    }
    return due;
}

static glanz_status button_act(struct glanz_control *control, uint8_t index, glanz_us at) {
    struct input *input = &control->inputs[index];
    if (line_pressed(control, index) != input->pressed && !glanz_us_before(at, input->settled)) {
        return change_press(control, index, at);
    }
    uint8_t event = input->pressed ? GLANZ_EVENT_HELD : GLANZ_EVENT_PRESSED_ONCE;
    input->held = input->pressed;
    input->presses = 0;
    return happen(control, index, event, at);
}

/* ---- time ---- */

static glanz_status take_value(struct glanz_control *control, uint8_t index, uint16_t value, glanz_us at) {
    if (control->rig->inputs[index].kind == GLANZ_INPUT_VALUE) {
#if GLANZ_FIELDS
        if (control->parts->fields != NULL) {
            glanz_status status = control->parts->fields->value(control->engine, index, value);
            if (status != GLANZ_OK) {
                return status;
            }
        }
#endif
        return change_value(control, index, value, at);
    }
    control->inputs[index].level = value != 0;
    if (line_pressed(control, index) != control->inputs[index].pressed &&
        !glanz_us_before(at, control->inputs[index].settled)) {
        return change_press(control, index, at); /* the first contact counts at once; what bounces after it does not */
    }
    return GLANZ_OK;
}

/* How long after the last run a pushed time is: not before it, not after this run. */
static glanz_us pushed_after(uint32_t time, uint32_t now, glanz_us since) {
    uint32_t ago = now - time;
    return ago >= 0x80000000u ? since : since > ago ? since - ago : 0;
}

/* What comes next, of everything that has a time. */
struct next {
    glanz_us due;   /* after the last run */
    uint8_t source; /* enum source */
    uint8_t which;  /* player or input */
    uint16_t value;
};
enum source { SOURCE_PLAYLIST, SOURCE_BUTTON, SOURCE_RING, SOURCE_CALENDAR, SOURCE_SLEEP };

static void find_next(struct next *next, struct glanz_control *control, uint32_t now, glanz_us since) {
    next->due = NEVER;
    next->source = SOURCE_PLAYLIST;
    next->which = LISTS(control) == NULL ? 0 : LIST(control, due)(control, &next->due);
    next->value = 0;
    for (uint8_t i = 0; i < control->rig->input_count; i++) {
        const struct entry *found = i < control->ring_count ? glanz_inbox_peek(control->inbox, i) : NULL;
        glanz_us at = found != NULL ? pushed_after(found->time, now, since) : NEVER;
        if (at < next->due) {
            next->due = at;
            next->source = SOURCE_RING;
            next->which = i;
            next->value = found->value;
        }
        at = control->rig->inputs[i].kind == GLANZ_INPUT_BUTTON ? button_due(control, i) : NEVER;
        if (at < next->due) {
            next->due = at;
            next->source = SOURCE_BUTTON;
            next->which = i;
        }
    }
#if GLANZ_SEQUENCES
    if (control->asleep == 1 && glanz_control_after(control, control->sleep_end) < next->due) {
        next->due = glanz_control_after(control, control->sleep_end);
        next->source = SOURCE_SLEEP;
    }
#endif
#if GLANZ_CALENDAR
    if (control->agenda != NULL && control->agenda->due(control) < next->due) {
        next->due = control->agenda->due(control);
        next->source = SOURCE_CALENDAR;
    }
#endif
}

static glanz_status do_next(struct glanz_control *control, glanz_us clock, uint32_t now, uint8_t *done) {
    glanz_us since = clock - control->last;
    struct next next;
    find_next(&next, control, now, since);
    *done = next.due > since;
    if (*done) {
        return GLANZ_OK;
    }
    glanz_us due = control->last + next.due;
    if (next.source == SOURCE_PLAYLIST) {
        return LIST(control, go)(control, next.which, clock);
    }
#if GLANZ_SEQUENCES
    if (next.source == SOURCE_SLEEP) {
        control->asleep = 2;
        return GLANZ_OK;
    }
#endif
#if GLANZ_CALENDAR
    if (next.source == SOURCE_CALENDAR) {
        return control->agenda->go(control, due);
    }
#endif
    if (next.source == SOURCE_BUTTON) {
        return button_act(control, next.which, due);
    }
    ring_count lost = glanz_inbox_take(control->inbox, next.which);
    if (lost != 0) {
        glanz_control_notify(control, due, GLANZ_HAPPENED_LOST, next.which, 0, lost < 255 ? (uint8_t)lost : 255);
    }
    return take_value(control, next.which, next.value, due);
}

GLANZ_NOINLINE glanz_status glanz_control_run(struct glanz_control *control, glanz_us clock_us, uint32_t now_us) {
    if (control == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (control->running || glanz_control_inside(control)) {
        return GLANZ_ERR_STATE;
    }
    control->running = 1;
    glanz_status status = GLANZ_OK;
    uint8_t done = 0;
    for (uint16_t i = 0; i < ACTS_MOST && !done; i++) {
        glanz_status one = do_next(control, clock_us, now_us, &done);
        status = glanz_status_first(status, one);
    }
    control->last = clock_us;
#if GLANZ_CALENDAR
    if (control->agenda != NULL) {
        control->agenda->look(control, clock_us);
    }
#endif
    for (uint8_t i = 0; i < control->rig->input_count; i++) { /* times that wrap must not grow old */
        if (glanz_us_before(control->inputs[i].settled, clock_us)) {
            control->inputs[i].settled = clock_us;
        }
    }
    control->running = 0;
    return status;
}

glanz_us glanz_control_next(const struct glanz_control *control) {
    glanz_us due = NEVER;
    if (control == NULL) {
        return NEVER;
    }
    if (LISTS(control) != NULL) {
        (void)LIST(control, due)(control, &due);
    }
    for (uint8_t i = 0; i < control->rig->input_count; i++) {
        glanz_us at = control->rig->inputs[i].kind == GLANZ_INPUT_BUTTON ? button_due(control, i) : NEVER;
        due = at < due ? at : due;
    }
#if GLANZ_SEQUENCES
    if (control->asleep == 1) {
        due = glanz_control_after(control, control->sleep_end) < due ? glanz_control_after(control, control->sleep_end) : due;
    }
#endif
#if GLANZ_CALENDAR
    glanz_us next = control->agenda == NULL ? NEVER : control->agenda->due(control);
    due = next < due ? next : due;
#endif
    return due == NEVER ? NEVER : control->last + due;
}

#if GLANZ_SEQUENCES
uint8_t glanz_control_asleep(const struct glanz_control *control) {
    return control == NULL ? 0 : control->asleep;
}
#endif

/* ---- a show ---- */

glanz_status glanz_control_begin(struct glanz_control *control, GLANZ_CONST struct glanz_show *show, glanz_us clock_us,
                                 uint8_t quiet, struct glanz_fault *fault) {
    struct glanz_change change = {clock_us, 1000, 0};
    if (control == NULL || show == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (control->show != NULL || control->running || glanz_control_inside(control)) {
        return GLANZ_ERR_STATE;
    }
    glanz_status status =
        GLANZ_CHECKS_OF(control->parts) == NULL ? GLANZ_OK : GLANZ_CHECKS_OF(control->parts)->show(show, control->rig, fault);
    if (status == GLANZ_OK) {
        status = glanz_engine_begin(control->engine, show->segments, show->stack, show->segment_count, show->colors,
                                    show->color_count, fault);
    }
    if (status != GLANZ_OK) {
        return status;
    }
#if GLANZ_CALENDAR
    if (control->agenda != NULL) {
        control->agenda->start(control);
    }
#endif
    control->show = show;
    if (!quiet && show->start != NULL) {
        status = glanz_control_act_of_show(control, show->start, clock_us);
    }
    return status != GLANZ_OK ? status
                              : glanz_engine_brightness(control->engine, GLANZ_ALL,
                                                        show->brightness == 0 ? GLANZ_LIGHTNESS(60) : show->brightness, change);
}

GLANZ_CONST struct glanz_control_part glanz_part_control = {glanz_control_size, glanz_control_start, glanz_control_begin,
                                                            glanz_control_run, glanz_control_listen};
