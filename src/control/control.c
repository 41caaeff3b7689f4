/* SPDX-License-Identifier: MIT */
/* The controller: raw edges become events, events meet triggers, triggers act; the playlist goes on by itself. Everything
 * is done in the order of its own time, which is exact to the microsecond whatever the frame rate. */
#include "control.h"

#define ACTS_MOST 256 /* things done in one call; what is left is done in the next */

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

#if GLANZ_DRIVES_MOST > 0
/* What the parts for signals and gestures remember; at the end of the memory, in this order. */
static size_t senses_bytes(GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig) {
    return parts == NULL || parts->signals == NULL ? 0 : parts->signals->size(rig);
}

static size_t listening_bytes(GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig) {
    return parts == NULL || parts->sound == NULL ? 0 : parts->sound->size(rig);
}

static size_t watches_bytes(GLANZ_CONST struct glanz_parts *parts) {
    return parts == NULL || parts->gestures == NULL ? 0 : parts->gestures->size();
}
#endif

size_t glanz_control_size(GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity) {
#if GLANZ_SEQUENCES
    size_t segments = align8(sizeof(struct segment) * segment_capacity);
#else
    size_t segments = 0;
    (void)segment_capacity;
#endif
    if (rig == NULL) {
        return 0;
    }
#if GLANZ_DRIVES_MOST > 0
    segments += senses_bytes(parts, rig) + watches_bytes(parts) + listening_bytes(parts, rig);
#else
    (void)parts;
#endif
    return align8(sizeof(struct glanz_control)) + align8(sizeof(struct input) * rig->input_count) + segments;
}

glanz_status glanz_control_start(struct glanz_control **out, void *memory, size_t size, struct glanz_engine *engine,
                                 GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity, struct glanz_inbox *inbox) {
    if (out == NULL || memory == NULL || engine == NULL || rig == NULL || GLANZ_MISALIGNED(memory) != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    size_t needed = glanz_control_size(glanz_engine_parts(engine), rig, segment_capacity);
    if (size < needed) {
        return GLANZ_ERR_MEMORY;
    }
    memset(memory, 0, needed);
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
#if GLANZ_DRIVES_MOST > 0
    uint8_t *end = (uint8_t *)memory + needed;
    if (listening_bytes(control->parts, rig) != 0) {
        end -= listening_bytes(control->parts, rig);
        control->listening = (struct listening *)(void *)end;
    }
    if (GESTURES(control) != NULL) {
        end -= watches_bytes(control->parts);
        control->watches = (struct watch *)(void *)end;
    }
    if (SIGNALS(control) != NULL) {
        control->senses = (struct sense *)(void *)(end - senses_bytes(control->parts, rig));
        SIGNALS(control)->start(control);
    }
#endif
#if GLANZ_CALENDAR
    control->zone_until = 0xFFFFFFFFu;
#endif
    *out = control;
    return GLANZ_OK;
}

/* ---- time ---- */

static glanz_status take_value(struct glanz_control *control, uint8_t index, uint16_t value, glanz_us at) {
#if GLANZ_DRIVES_MOST > 0
    if (control->rig->inputs[index].lost_ms != 0 && SIGNALS(control) != NULL) {
        return SIGNALS(control)->take(control, index, value, at);
    }
#endif
    if (control->rig->inputs[index].kind == GLANZ_INPUT_VALUE) {
        return glanz_control_change_level(control, index, &control->inputs[index].value, LEVEL_OF_VALUE(value), at, 0);
    }
#if GLANZ_DRIVES_MOST > 0
    if (control->rig->inputs[index].kind > GLANZ_INPUT_VALUE) {
        return SIGNALS(control) == NULL ? GLANZ_OK : SIGNALS(control)->take(control, index, value, at);
    }
#endif
    control->inputs[index].level = value != 0;
    if (glanz_button_line(control, index) != control->inputs[index].pressed &&
        !glanz_us_before(at, control->inputs[index].settled)) {
        return glanz_button_change(control, index, at); /* the first contact counts at once; what bounces after it does not */
    }
    return GLANZ_OK;
}

glanz_us glanz_control_pushed_after(uint32_t time, uint32_t now, glanz_us since) {
    uint32_t ago = now - time;
    return ago >= 0x80000000u ? since : since > ago ? since - ago : 0;
}

/* Parts that have things with a time. */
#define TIMED ((GLANZ_DRIVES_MOST > 0 ? 2 : 0) + (GLANZ_SEQUENCES ? 1 : 0))
#if TIMED > 0
static GLANZ_CONST struct timed *timed_of(const struct glanz_control *control, uint8_t index) {
    GLANZ_CONST struct timed *timed = NULL;
#if GLANZ_DRIVES_MOST > 0
    if (index == 0 && SIGNALS(control) != NULL) {
        timed = &SIGNALS(control)->lost;
    } else if (index == 1 && GESTURES(control) != NULL) {
        timed = &GESTURES(control)->watches;
    }
#endif
#if GLANZ_SEQUENCES
    if (index == TIMED - 1 && HANDS(control) != NULL) {
        timed = &HANDS(control)->passing;
    }
#endif
    return timed;
}
#endif

/* What comes next, of everything that has a time. */
struct next {
    glanz_us due;   /* after the last run */
    uint8_t source; /* enum source */
    uint8_t which;  /* player or input */
    uint16_t value;
};
enum source { SOURCE_PLAYLIST, SOURCE_BUTTON, SOURCE_RING, SOURCE_CALENDAR, SOURCE_SLEEP, SOURCE_TIMED };

static void find_next(struct next *next, struct glanz_control *control, uint32_t now, glanz_us since) {
    next->due = NEVER;
    next->source = SOURCE_PLAYLIST;
    next->which = LISTS(control) == NULL ? 0 : LIST(control, due)(control, &next->due);
    next->value = 0;
    for (uint8_t i = 0; i < control->rig->input_count; i++) {
        const struct entry *found = i < control->ring_count ? glanz_inbox_peek(control->inbox, i) : NULL;
        glanz_us at = found != NULL ? glanz_control_pushed_after(found->time, now, since) : NEVER;
        if (at < next->due) {
            next->due = at;
            next->source = SOURCE_RING;
            next->which = i;
            next->value = found->value;
        }
        at = control->rig->inputs[i].kind == GLANZ_INPUT_BUTTON ? glanz_button_due(control, i) : NEVER;
        if (at < next->due) {
            next->due = at;
            next->source = SOURCE_BUTTON;
            next->which = i;
        }
    }
#if TIMED > 0
    for (uint8_t i = 0; control->timed >> i != 0; i++) {
        uint8_t which = 0;
        GLANZ_CONST struct timed *timed = timed_of(control, i);
        glanz_us at = timed == NULL ? NEVER : timed->due(control, &which);
        control->timed = (uint8_t)(at == NEVER ? control->timed & ~(1u << i) : control->timed);
        if (at < next->due) {
            next->due = at;
            next->source = (uint8_t)(SOURCE_TIMED + i);
            next->which = which;
        }
    }
#endif
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
    if (next.source == SOURCE_PLAYLIST) { /* after a pause it may leave rounds out, but not past what the calendar does */
#if GLANZ_CALENDAR
        glanz_us entry = control->agenda == NULL ? NEVER : control->agenda->due(control);
        clock = entry < since ? control->last + entry : clock;
#endif
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
        return glanz_button_act(control, next.which, due);
    }
#if TIMED > 0
    if (next.source >= SOURCE_TIMED) {
        return timed_of(control, (uint8_t)(next.source - SOURCE_TIMED))->go(control, next.which, due);
    }
#endif
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
#if GLANZ_DRIVES_MOST > 0
    if (control->heard != NULL) {
        glanz_status heard = SOUND(control)->run(control, clock_us, now_us);
        status = glanz_status_first(status, heard);
    }
    if (control->sensing) {
        glanz_status signals = SIGNALS(control)->run(control, clock_us);
        status = glanz_status_first(status, signals);
    }
    if (GESTURES(control) != NULL && control->watches[0].trigger != 0) {
        GESTURES(control)->rest(control, clock_us);
    }
#endif
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
        glanz_us at = control->rig->inputs[i].kind == GLANZ_INPUT_BUTTON ? glanz_button_due(control, i) : NEVER;
        due = at < due ? at : due;
    }
#if TIMED > 0
    for (uint8_t i = 0; control->timed >> i != 0; i++) {
        uint8_t which;
        GLANZ_CONST struct timed *timed = timed_of(control, i);
        glanz_us at = timed == NULL ? NEVER : timed->due(control, &which);
        due = at < due ? at : due;
    }
#endif
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
#if GLANZ_DRIVES_MOST > 0
    status = glanz_control_begin_signals(control, clock_us);
#endif
    if (status == GLANZ_OK && !quiet && show->start != NULL) {
        status = glanz_control_act_of_show(control, show->start, clock_us);
    }
    return status != GLANZ_OK ? status
                              : glanz_engine_brightness(control->engine, GLANZ_ALL,
                                                        show->brightness == 0 ? GLANZ_LIGHTNESS(60) : show->brightness, change);
}

GLANZ_CONST struct glanz_control_part glanz_part_control = {glanz_control_size, glanz_control_start, glanz_control_begin,
                                                            glanz_control_run, glanz_control_listen};
