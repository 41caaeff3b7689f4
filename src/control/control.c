/* SPDX-License-Identifier: MIT */
/* The controller: raw edges become events, events meet triggers, triggers act; the playlist goes on by itself. Everything
 * is done in the order of its own time, which is exact to the microsecond whatever the frame rate.
 *
 * Each input has a ring that one producer writes, an interrupt perhaps, and the main loop reads: head and tail are single
 * bytes, each written by one side only. */
#include <stdatomic.h>
#include <string.h>

#include <glanz/control.h>

#define NEVER GLANZ_NEVER
#define ACTS_MOST 256 /* things done in one call; what is left is done in the next */

struct entry {
    uint32_t time;
    uint16_t value;
};

struct input {
    struct entry ring[GLANZ_INBOX];
    atomic_uchar head; /* written by the producer */
    atomic_uchar tail; /* written by the reader */
    atomic_uchar late; /* counts values that found the ring full */
    struct entry latest;
    uint8_t late_seen;
    uint8_t level;   /* of the line, as last pushed */
    uint8_t pressed; /* debounced */
    uint8_t presses; /* 1: one short press may become two */
    uint8_t held;
    uint16_t value;
    glanz_time settled;  /* contacts are not listened to before this */
    glanz_time first;    /* when the first press came; while `presses` is 1 */
    glanz_time released; /* while `presses` is 1 and it is not pressed */
};

struct glanz_control {
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_show *show;
    struct glanz_engine *engine;
    struct input *inputs;
    glanz_listener listener;
    void *listener_user;
    glanz_time last;     /* the clock of the last run */
    glanz_time item_end; /* when the playlist goes on; while one runs */
    uint16_t rounds;     /* done */
    uint8_t playlist;    /* GLANZ_ALL: none */
    uint8_t item;
    uint8_t running; /* inside glanz_control_run() */
};

static size_t align8(size_t size) {
    return (size + 7u) & ~(size_t)7u;
}

size_t glanz_control_size(GLANZ_CONST struct glanz_rig *rig) {
    return rig == NULL ? 0 : align8(sizeof(struct glanz_control)) + align8(sizeof(struct input) * rig->input_count);
}

glanz_status glanz_control_start(struct glanz_control **out, void *memory, size_t size, struct glanz_engine *engine,
                                 GLANZ_CONST struct glanz_rig *rig) {
    if (out == NULL || memory == NULL || engine == NULL || rig == NULL || ((uintptr_t)memory & (sizeof(void *) - 1u)) != 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (size < glanz_control_size(rig)) {
        return GLANZ_ERR_MEMORY;
    }
    memset(memory, 0, glanz_control_size(rig));
    struct glanz_control *control = (struct glanz_control *)memory;
    control->inputs = (struct input *)(void *)((uint8_t *)memory + align8(sizeof *control));
    control->rig = rig;
    control->engine = engine;
    control->playlist = GLANZ_ALL;
    for (uint8_t i = 0; i < rig->input_count; i++) {
        control->inputs[i].level = rig->inputs[i].pressed_low ? 1 : 0;
    }
    *out = control;
    return GLANZ_OK;
}

void glanz_control_listen(struct glanz_control *control, glanz_listener listener, void *user) {
    if (control != NULL) {
        control->listener = listener;
        control->listener_user = user;
    }
}

static void tell(struct glanz_control *control, glanz_time at, int what, uint8_t index, uint8_t event, uint8_t item) {
    if (control->listener != NULL) {
        struct glanz_happening happening;
        memset(&happening, 0, sizeof happening);
        happening.at_us = at;
        switch (what) {
        case GLANZ_HAPPENED_EVENT: happening.what = GLANZ_HAPPENED_EVENT; break;
        case GLANZ_HAPPENED_TRIGGER: happening.what = GLANZ_HAPPENED_TRIGGER; break;
        case GLANZ_HAPPENED_PRESET: happening.what = GLANZ_HAPPENED_PRESET; break;
        case GLANZ_HAPPENED_ITEM: happening.what = GLANZ_HAPPENED_ITEM; break;
        case GLANZ_HAPPENED_STOP: happening.what = GLANZ_HAPPENED_STOP; break;
        default: happening.what = GLANZ_HAPPENED_LOST; break;
        }
        happening.index = index;
        happening.event = event;
        happening.item = item;
        control->listener(&happening, control->listener_user);
    }
}

/* ---- actions ---- */

static uint32_t change_time(GLANZ_CONST struct glanz_show *show, uint32_t over_ms) {
    if (over_ms != GLANZ_OWN_TIME) {
        return over_ms;
    }
    uint32_t change = show->change_ms;
    return change == 0 ? 500 : change == GLANZ_OWN_TIME ? 0 : change;
}

static glanz_status recall(struct glanz_control *control, uint8_t index, struct glanz_change change) {
    GLANZ_CONST struct glanz_preset *preset = &control->show->presets[index];
    glanz_status status = GLANZ_OK;
    tell(control, change.at_us, GLANZ_HAPPENED_PRESET, index, 0, 0);
    for (uint8_t i = 0; i < preset->part_count && status == GLANZ_OK; i++) {
        GLANZ_CONST struct glanz_part *part = &preset->parts[i];
        if ((part->aspects & GLANZ_ASPECT_LOOK) != 0) {
            status = glanz_engine_look(control->engine, part->segment, part->look, change);
        }
        if ((part->aspects & GLANZ_ASPECT_ON) != 0 && status == GLANZ_OK) {
            status = glanz_engine_switch(control->engine, part->segment, part->on, change);
        }
        if ((part->aspects & GLANZ_ASPECT_BRIGHTNESS) != 0 && status == GLANZ_OK) {
            status = glanz_engine_brightness(control->engine, part->segment, part->brightness, change);
        }
    }
    return status;
}

static glanz_time item_us(GLANZ_CONST struct glanz_item *item) {
    glanz_time ms = (glanz_time)item->fade_ms + item->hold_ms;
    return ms > GLANZ_TIME_FAR / 1000u ? GLANZ_TIME_FAR : ms * 1000u;
}

static glanz_status show_item(struct glanz_control *control, uint8_t playlist, uint8_t item, glanz_time at) {
    GLANZ_CONST struct glanz_playlist *list = &control->show->playlists[playlist];
    control->playlist = playlist;
    control->item = item;
    control->item_end = at + item_us(&list->items[item]);
    tell(control, at, GLANZ_HAPPENED_ITEM, playlist, 0, item);
    struct glanz_change change;
    change.at_us = at;
    change.over_ms = list->items[item].fade_ms;
    return recall(control, list->items[item].preset, change);
}

static void stop_playing(struct glanz_control *control, glanz_time at) {
    tell(control, at, GLANZ_HAPPENED_STOP, control->playlist, 0, control->item);
    control->playlist = GLANZ_ALL;
}

static glanz_status step_playlist(struct glanz_control *control, uint8_t index, uint8_t back, glanz_time at) {
    GLANZ_CONST struct glanz_playlist *list = &control->show->playlists[index];
    if (control->playlist != index) {
        control->rounds = 0;
        return show_item(control, index, 0, at);
    }
    uint8_t item = back ? (uint8_t)(control->item == 0 ? list->item_count - 1 : control->item - 1)
                        : (uint8_t)(control->item + 1 >= list->item_count ? 0 : control->item + 1);
    return show_item(control, index, item, at);
}

/* The playlist's own way on, at the end of an item. */
static glanz_status next_item(struct glanz_control *control, glanz_time clock) {
    GLANZ_CONST struct glanz_playlist *list = &control->show->playlists[control->playlist];
    glanz_time at = control->item_end;
    glanz_time round = 0;
    for (uint8_t i = 0; i < list->item_count; i++) {
        round += item_us(&list->items[i]);
    }
    if (list->rounds == 0 && clock - at > round) { /* the clock leapt: leave whole rounds out */
        at += (clock - at) / round * round;
    }
    if (control->item + 1 < list->item_count) {
        return show_item(control, control->playlist, (uint8_t)(control->item + 1), at);
    }
    control->rounds++;
    if (list->rounds != 0 && control->rounds >= list->rounds) {
        stop_playing(control, at);
        return GLANZ_OK;
    }
    return show_item(control, control->playlist, 0, at);
}

glanz_status glanz_control_act(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, glanz_time at_us) {
    if (control == NULL || action == NULL || action->kind >= GLANZ_ACTION_KINDS) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (control->show == NULL) {
        return GLANZ_ERR_ORDER;
    }
    struct glanz_change change;
    change.at_us = at_us;
    change.over_ms = change_time(control->show, action->over_ms);
    uint8_t target = action->target;
    uint8_t is_list = action->kind >= GLANZ_ACTION_PLAY && action->kind <= GLANZ_ACTION_PREVIOUS;
    if (is_list && target >= control->show->playlist_count) {
        return GLANZ_ERR_ABSENT;
    }
    switch (action->kind) {
    case GLANZ_ACTION_RECALL: return target < control->show->preset_count ? recall(control, target, change) : GLANZ_ERR_ABSENT;
    case GLANZ_ACTION_PLAY: control->rounds = 0; return show_item(control, target, 0, at_us);
    case GLANZ_ACTION_STOP:
        if (control->playlist == target) {
            stop_playing(control, at_us);
        }
        return GLANZ_OK;
    case GLANZ_ACTION_NEXT: return step_playlist(control, target, 0, at_us);
    case GLANZ_ACTION_PREVIOUS: return step_playlist(control, target, 1, at_us);
    case GLANZ_ACTION_BRIGHTNESS: return glanz_engine_brightness(control->engine, target, action->number, change);
    case GLANZ_ACTION_SWITCH: {
        uint8_t on = action->number != 0;
        if (action->number == 2) {
            struct glanz_showing showing;
            glanz_status status = glanz_engine_showing(&showing, control->engine, target);
            if (status != GLANZ_OK) {
                return status;
            }
            on = !showing.on;
        }
        return glanz_engine_switch(control->engine, target, on, change);
    }
    default: return glanz_engine_look(control->engine, target, action->look, change);
    }
}

/* ---- events ---- */

static glanz_status fire(struct glanz_control *control, uint8_t trigger, glanz_time at) {
    GLANZ_CONST struct glanz_trigger *is = &control->show->triggers[trigger];
    glanz_status status = GLANZ_OK;
    tell(control, at, GLANZ_HAPPENED_TRIGGER, trigger, 0, 0);
    for (uint8_t i = 0; i < is->action_count; i++) {
        glanz_status done = glanz_control_act(control, &is->actions[i], at);
        status = status == GLANZ_OK ? done : status;
    }
    return status;
}

static glanz_status happen(struct glanz_control *control, uint8_t input, uint8_t event, glanz_time at) {
    glanz_status status = GLANZ_OK;
    tell(control, at, GLANZ_HAPPENED_EVENT, input, event, 0);
    for (uint8_t i = 0; control->show != NULL && i < control->show->trigger_count; i++) {
        if (control->show->triggers[i].input == input && control->show->triggers[i].event == event) {
            glanz_status done = fire(control, i, at);
            status = status == GLANZ_OK ? done : status;
        }
    }
    return status;
}

static glanz_status change_value(struct glanz_control *control, uint8_t index, uint16_t value, glanz_time at) {
    uint16_t before = control->inputs[index].value;
    control->inputs[index].value = value;
    glanz_status status = GLANZ_OK;
    for (uint8_t i = 0; control->show != NULL && i < control->show->trigger_count; i++) {
        GLANZ_CONST struct glanz_trigger *trigger = &control->show->triggers[i];
        if (trigger->input == index &&
            ((trigger->event == GLANZ_EVENT_RISES && before <= trigger->level && value > trigger->level) ||
             (trigger->event == GLANZ_EVENT_FALLS && before >= trigger->level && value < trigger->level))) {
            tell(control, at, GLANZ_HAPPENED_EVENT, index, trigger->event, 0);
            glanz_status done = fire(control, i, at);
            status = status == GLANZ_OK ? done : status;
        }
    }
    return status;
}

/* The button's contacts have closed or opened for good. */
static glanz_status change_press(struct glanz_control *control, uint8_t index, glanz_time at) {
    struct input *input = &control->inputs[index];
    GLANZ_CONST struct glanz_input *is = &control->rig->inputs[index];
    input->pressed = !input->pressed;
    input->settled = at + (is->settle_ms == 0 ? 20u : is->settle_ms) * (glanz_time)1000;
    if (!input->pressed) {
        input->released = at;
        return happen(control, index, GLANZ_EVENT_RELEASED, at);
    }
    glanz_time twice = (is->twice_ms == 0 ? 350u : is->twice_ms) * (glanz_time)1000;
    uint8_t second = input->presses == 1 && at - input->first <= twice;
    input->held = 0;
    glanz_status status = happen(control, index, GLANZ_EVENT_PRESSED, at);
    if (second) {
        input->presses = 0;
        glanz_status done = happen(control, index, GLANZ_EVENT_PRESSED_TWICE, at);
        return status == GLANZ_OK ? done : status;
    }
    input->presses = 1;
    input->first = at;
    return status;
}

static uint8_t line_pressed(const struct glanz_control *control, uint8_t index) {
    return control->inputs[index].level != control->rig->inputs[index].pressed_low;
}

/* How long after the last run a time is. */
static glanz_time after_last(const struct glanz_control *control, glanz_time at) {
    return glanz_time_before(at, control->last) ? 0 : at - control->last;
}

/* How long after the last run something falls due at a button by itself; NEVER. */
static glanz_time button_due(const struct glanz_control *control, uint8_t index) {
    const struct input *input = &control->inputs[index];
    GLANZ_CONST struct glanz_input *is = &control->rig->inputs[index];
    glanz_time due = NEVER;
    if (line_pressed(control, index) != input->pressed) {
        due = after_last(control, input->settled);
    }
    if (input->presses == 1) {
        uint16_t ms = input->pressed ? (is->held_ms == 0 ? 700u : is->held_ms) : is->twice_ms == 0 ? 350u : is->twice_ms;
        glanz_time end = input->first + ms * (glanz_time)1000;
        if (!input->pressed && glanz_time_before(end, input->released)) {
            end = input->released;
        }
        if (!input->pressed || !input->held) {
            end = after_last(control, end);
            due = end < due ? end : due;
        }
    }
    return due;
}

static glanz_status button_act(struct glanz_control *control, uint8_t index, glanz_time at) {
    struct input *input = &control->inputs[index];
    if (line_pressed(control, index) != input->pressed && !glanz_time_before(at, input->settled)) {
        return change_press(control, index, at);
    }
    uint8_t event = input->pressed ? GLANZ_EVENT_HELD : GLANZ_EVENT_PRESSED_ONCE;
    input->held = input->pressed;
    input->presses = 0;
    return happen(control, index, event, at);
}

/* ---- time ---- */

glanz_status glanz_control_push(struct glanz_control *control, uint8_t index, uint16_t value, uint32_t time_us) {
    if (control == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (index >= control->rig->input_count) {
        return GLANZ_ERR_ABSENT;
    }
    struct input *input = &control->inputs[index];
    uint8_t head = atomic_load_explicit(&input->head, memory_order_relaxed);
    uint8_t tail = atomic_load_explicit(&input->tail, memory_order_acquire);
    if ((uint8_t)(head - tail) >= GLANZ_INBOX) {
        input->latest.time = time_us;
        input->latest.value = value;
        atomic_store_explicit(&input->late, (uint8_t)(atomic_load_explicit(&input->late, memory_order_relaxed) + 1u),
                              memory_order_release);
        return GLANZ_ERR_FULL;
    }
    input->ring[head & (GLANZ_INBOX - 1)].time = time_us;
    input->ring[head & (GLANZ_INBOX - 1)].value = value;
    atomic_store_explicit(&input->head, (uint8_t)(head + 1u), memory_order_release);
    return GLANZ_OK;
}

/* The oldest value in an input's ring, or the latest of those that found it full. */
static int peek(const struct input *input, struct entry *entry) {
    uint8_t tail = atomic_load_explicit(&input->tail, memory_order_relaxed);
    if (tail != atomic_load_explicit(&input->head, memory_order_acquire)) {
        *entry = input->ring[tail & (GLANZ_INBOX - 1)];
        return 1;
    }
    uint8_t late = atomic_load_explicit(&input->late, memory_order_acquire);
    if (late == input->late_seen) {
        return 0;
    }
    *entry = input->latest;
    return 2;
}

static void drop(struct glanz_control *control, uint8_t index, int from, glanz_time at) {
    struct input *input = &control->inputs[index];
    if (from == 1) {
        atomic_store_explicit(&input->tail, (uint8_t)(atomic_load_explicit(&input->tail, memory_order_relaxed) + 1u),
                              memory_order_release);
    } else {
        input->late_seen = atomic_load_explicit(&input->late, memory_order_acquire);
        tell(control, at, GLANZ_HAPPENED_LOST, index, 0, 0);
    }
}

static glanz_status take_value(struct glanz_control *control, uint8_t index, uint16_t value, glanz_time at) {
    if (control->rig->inputs[index].kind == GLANZ_INPUT_VALUE) {
#if GLANZ_FIELDS
        glanz_status status = glanz_engine_value(control->engine, index, value);
        if (status != GLANZ_OK) {
            return status;
        }
#endif
        return change_value(control, index, value, at);
    }
    control->inputs[index].level = value != 0;
    if (line_pressed(control, index) != control->inputs[index].pressed &&
        !glanz_time_before(at, control->inputs[index].settled)) {
        return change_press(control, index, at); /* the first contact counts at once; what bounces after it does not */
    }
    return GLANZ_OK;
}

/* How long after the last run a pushed time is: not before it, not after this run. */
static glanz_time pushed_after(uint32_t time, uint32_t now, glanz_time since) {
    uint32_t ago = now - time;
    return ago >= 0x80000000u ? since : since > ago ? since - ago : 0;
}

static glanz_status do_next(struct glanz_control *control, glanz_time clock, uint32_t now, uint8_t *done) {
    glanz_time since = clock - control->last;
    glanz_time due = control->playlist == GLANZ_ALL ? NEVER : after_last(control, control->item_end);
    int source = 0; /* 0 the playlist, 1 a button by itself, 2 a ring */
    uint8_t which = 0;
    int from = 0;
    struct entry entry = {0, 0};
    for (uint8_t i = 0; i < control->rig->input_count; i++) {
        struct entry found;
        int place = peek(&control->inputs[i], &found);
        glanz_time at = place == 0 ? NEVER : pushed_after(found.time, now, since);
        if (at < due) {
            due = at;
            source = 2;
            which = i;
            from = place;
            entry = found;
        }
        at = control->rig->inputs[i].kind == GLANZ_INPUT_BUTTON ? button_due(control, i) : NEVER;
        if (at < due) {
            due = at;
            source = 1;
            which = i;
        }
    }
    *done = due > since;
    due += control->last;
    if (*done) {
        return GLANZ_OK;
    }
    if (source == 0) {
        return next_item(control, clock);
    }
    if (source == 1) {
        return button_act(control, which, due);
    }
    drop(control, which, from, due);
    return take_value(control, which, entry.value, due);
}

GLANZ_NOINLINE glanz_status glanz_control_run(struct glanz_control *control, glanz_time clock_us, uint32_t now_us) {
    if (control == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (control->running) {
        return GLANZ_ERR_ORDER;
    }
    control->running = 1;
    glanz_status status = GLANZ_OK;
    uint8_t done = 0;
    for (uint16_t i = 0; i < ACTS_MOST && !done; i++) {
        glanz_status one = do_next(control, clock_us, now_us, &done);
        status = status == GLANZ_OK ? one : status;
    }
    control->last = clock_us;
    for (uint8_t i = 0; i < control->rig->input_count; i++) { /* times that wrap must not grow old */
        if (glanz_time_before(control->inputs[i].settled, clock_us)) {
            control->inputs[i].settled = clock_us;
        }
    }
    control->running = 0;
    return status;
}

glanz_time glanz_control_next(const struct glanz_control *control) {
    glanz_time due = control == NULL || control->playlist == GLANZ_ALL ? NEVER : after_last(control, control->item_end);
    for (uint8_t i = 0; control != NULL && i < control->rig->input_count; i++) {
        glanz_time at = control->rig->inputs[i].kind == GLANZ_INPUT_BUTTON ? button_due(control, i) : NEVER;
        due = at < due ? at : due;
    }
    return due == NEVER ? NEVER : control->last + due;
}

uint8_t glanz_control_playing(const struct glanz_control *control, uint8_t *item) {
    if (control == NULL) {
        return GLANZ_ALL;
    }
    if (item != NULL) {
        *item = control->item;
    }
    return control->playlist;
}

/* ---- a show ---- */

#if GLANZ_LIVE
static GLANZ_CONST struct glanz_look *find_look(GLANZ_CONST struct glanz_show *show, GLANZ_CONST char *name) {
    for (uint16_t i = 0; name != NULL && i < show->look_count; i++) {
        if (glanz_name_equal(show->looks[i].name, name)) {
            return &show->looks[i];
        }
    }
    return NULL;
}

/* The running playlist under the same name, at the same item if it still has so many. */
static void keep_playing(struct glanz_control *control, GLANZ_CONST struct glanz_show *show) {
    uint8_t running = control->playlist;
    control->playlist = GLANZ_ALL;
    for (uint8_t i = 0; running != GLANZ_ALL && i < show->playlist_count; i++) {
        if (glanz_name_equal(show->playlists[i].name, control->show->playlists[running].name) &&
            control->item < show->playlists[i].item_count) {
            control->playlist = i;
        }
    }
    if (control->playlist == GLANZ_ALL) {
    }
}

static GLANZ_CONST struct glanz_segment *find_segment(GLANZ_CONST struct glanz_show *show, GLANZ_CONST char *name) {
    for (uint8_t i = 0; name != NULL && i < show->segment_count; i++) {
        if (glanz_name_equal(show->segments[i].name, name)) {
            return &show->segments[i];
        }
    }
    return NULL;
}

/* A segment that was there before: what the new show says otherwise is done; else it shows on what it showed, under the
 * name of its look. */
static glanz_status renew(struct glanz_control *control, GLANZ_CONST struct glanz_show *show, uint8_t index,
                          GLANZ_CONST struct glanz_segment *was, struct glanz_change change) {
    GLANZ_CONST struct glanz_segment *is = &show->segments[index];
    struct glanz_showing showing;
    glanz_status status = glanz_engine_showing(&showing, control->engine, index);
    GLANZ_CONST char *was_name = was->look == NULL ? NULL : was->look->name;
    GLANZ_CONST char *is_name = is->look == NULL ? NULL : is->look->name;
    if (status == GLANZ_OK && !glanz_name_equal(was_name, is_name)) {
        status = glanz_engine_look(control->engine, index, is->look, change);
    } else if (status == GLANZ_OK && showing.effect != NULL) {
        GLANZ_CONST struct glanz_look *look = find_look(show, showing.name);
        look = look == NULL && (showing.name == NULL || glanz_name_equal(showing.name, is_name)) ? is->look : look;
        status = look == NULL ? GLANZ_OK : glanz_engine_look(control->engine, index, look, change);
    }
    if (status == GLANZ_OK && was->brightness != is->brightness) {
        status = glanz_engine_brightness(control->engine, index, is->brightness == 0 ? 65535 : is->brightness, change);
    }
    if (status == GLANZ_OK && was->off != is->off) {
        status = glanz_engine_switch(control->engine, index, !is->off, change);
    }
    return status;
}
#endif

glanz_status glanz_control_take(struct glanz_control *control, GLANZ_CONST struct glanz_show *show, glanz_time clock_us,
                                uint8_t first, struct glanz_fault *fault) {
    if (control == NULL || show == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (control->running) {
        return GLANZ_ERR_ORDER;
    }
    GLANZ_CONST struct glanz_show *old = control->show;
    struct glanz_change change = {clock_us, 0};
    glanz_status status = glanz_show_check(show, control->rig, fault);
    change.over_ms = first ? 0 : change_time(show, GLANZ_OWN_TIME);
    if (status == GLANZ_OK) {
        status = glanz_engine_take(control->engine, show->segments, show->stack, show->segment_count, show->colors,
                                   show->color_count, change, fault);
    }
    if (status != GLANZ_OK) {
        return status;
    }
    uint16_t lightness = show->brightness == 0 ? GLANZ_LIGHTNESS(60) : show->brightness;
#if GLANZ_LIVE
    if (old != NULL) {
        keep_playing(control, show);
    }
#endif
    control->show = show;
#if GLANZ_LIVE
    for (uint8_t i = 0; !first && old != NULL && i < show->segment_count && status == GLANZ_OK; i++) {
        GLANZ_CONST struct glanz_segment *was = find_segment(old, show->segments[i].name);
        status = was == NULL ? GLANZ_OK : renew(control, show, i, was, change);
    }
#endif
    if (first && status == GLANZ_OK) { /* dark at start */
        status = glanz_engine_brightness(control->engine, GLANZ_ALL, 0, change);
        if (status == GLANZ_OK && show->start != NULL) {
            status = glanz_control_act(control, show->start, clock_us);
        }
        change.over_ms = 1000;
    }
    if (status == GLANZ_OK && (first || old == NULL || old->brightness != show->brightness)) {
        status = glanz_engine_brightness(control->engine, GLANZ_ALL, lightness, change);
    }
    return status;
}
