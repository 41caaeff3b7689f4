/* SPDX-License-Identifier: MIT */
/* The calendar while it runs. What shows on a segment is a function of the time alone: of the entries that have begun there and
 * not ended, the one with the highest priority, then the latest. So a clock that is set, a power cut or another show needs
 * nothing but to work it out again. Entries are looked for some days at a time, so that no frame waits. */
#include "control.h"

#if GLANZ_CALENDAR

#define STEPS_A_TIME 2
#define SMALL_STEP 120u /* seconds by which a clock may be corrected without looking everything up again */
#define NONE 0xFFFFFFFFu

enum { BACK, AHEAD, KNOWN, LATER }; /* LATER: nothing in a year; to be looked for again then */

static glanz_us clock_at(const struct glanz_control *control, uint32_t utc) {
    return control->utc_at + (glanz_us)((int64_t)utc - control->utc) * 1000000u;
}

static int known(const struct glanz_control *control) {
    return control->utc != 0 && control->show != NULL;
}

static int entry_shows(const struct glanz_control *control, uint8_t entry, uint32_t utc) {
    const struct entry_state *state = &control->entries[entry];
    return state->last != NONE && state->last <= utc && utc < state->end;
}

/* Note when an entry begins or ends next: from the last time that what shows was worked out. */
static void find_due(struct glanz_control *control) {
    control->due = NONE;
    for (uint8_t i = 0; i < control->show->entry_count && !control->looking; i++) {
        const struct entry_state *state = &control->entries[i];
        uint32_t next = state->phase == KNOWN || state->phase == LATER ? state->next : NONE;
        next = entry_shows(control, i, control->applied) && state->end < next ? state->end : next;
        control->due = next < control->due ? next : control->due;
    }
}

static void look_anew(struct entry_state *state) {
    state->phase = BACK;
    state->day = 1;
    state->from = 0;
    state->last = NONE;
    state->end = 0;
    state->next = NONE;
}

static void start(struct glanz_control *control) {
    for (uint8_t i = 0; i < GLANZ_ENTRIES_MOST; i++) {
        look_anew(&control->entries[i]);
    }
    control->looking = 1;
    control->claims_due = 1;
    control->applied = 0;
    control->due = NONE;
}

static int same_moment(GLANZ_CONST struct glanz_moment *a, GLANZ_CONST struct glanz_moment *b) {
    return a->kind == b->kind && a->second == b->second;
}

static int same_day(GLANZ_CONST struct glanz_day *a, GLANZ_CONST struct glanz_day *b) {
    return a->year == b->year && a->month == b->month && a->day == b->day;
}

static uint8_t same_entry(const struct glanz_control *control, GLANZ_CONST struct glanz_show *show, uint8_t entry) {
    if (control->show == NULL || entry >= control->show->entry_count) {
        return GLANZ_ALL;
    }
    GLANZ_CONST struct glanz_entry *was = &control->show->entries[entry];
    for (uint8_t i = 0; i < show->entry_count; i++) {
        GLANZ_CONST struct glanz_entry *is = &show->entries[i];
        if (!glanz_name_equal(is->name, was->name)) {
            continue;
        }
        return is->is_playlist == was->is_playlist && same_moment(&is->at, &was->at) && same_moment(&is->until, &was->until) &&
                       same_day(&is->from, &was->from) && same_day(&is->to, &was->to) && is->for_s == was->for_s &&
                       is->every_s == was->every_s && is->weekdays == was->weekdays
                   ? i
                   : GLANZ_ALL;
    }
    return GLANZ_ALL;
}

static void take(struct glanz_control *control, GLANZ_CONST struct glanz_show *show) {
    struct entry_state was[GLANZ_ENTRIES_MOST];
    uint8_t now[GLANZ_ENTRIES_MOST];
    memcpy(was, control->entries, sizeof was);
    for (uint8_t i = 0; i < GLANZ_ENTRIES_MOST; i++) {
        look_anew(&control->entries[i]);
    }
    for (uint8_t i = 0; i < GLANZ_ENTRIES_MOST; i++) {
        now[i] = same_entry(control, show, i);
        if (now[i] != GLANZ_ALL) {
            control->entries[now[i]] = was[i];
        }
    }
    for (uint8_t i = 0; i < show->segment_count; i++) { /* they are in the new show's order already */
        struct segment *segment = &control->segments[i];
        if (segment->claimed != GLANZ_ALL) { /* an entry that is gone still claims: what it showed has to go */
            uint8_t same = segment->claimed < GLANZ_ENTRIES_MOST ? now[segment->claimed] : GLANZ_ALL;
            segment->claimed = same == GLANZ_ALL ? GLANZ_ENTRIES_MOST : same;
        }
    }
    control->looking = 1;
    control->claims_due = 1;
    control->due = NONE;
}

/* Does an entry end by itself, and after how many days at the most? */
static int16_t longest(GLANZ_CONST struct glanz_entry *entry) {
    if (entry->until.kind == GLANZ_MOMENT_NONE && entry->for_s == 0) {
        return GLANZ_ENTRY_DAYS;
    }
    uint32_t days = entry->until.kind != GLANZ_MOMENT_NONE ? 0 : entry->for_s / GLANZ_DAY;
    return (int16_t)(days > GLANZ_ENTRY_DAYS ? GLANZ_ENTRY_DAYS : days + 3u);
}

static void look_for(struct glanz_control *control, uint8_t index, uint32_t utc) {
    GLANZ_CONST struct glanz_entry *entry = &control->show->entries[index];
    struct entry_state *state = &control->entries[index];
    uint32_t start;
    uint32_t end;
    if (state->phase == BACK) {
        state->from = state->from == 0 ? utc : state->from;
        int found = glanz_entry_last(entry, &control->where, state->from, &state->day, STEPS_A_TIME, &start, &end);
        if (found) {
            state->last = start;
            state->end = end;
        }
        if (found || state->day < -longest(entry)) {
            state->phase = AHEAD;
            state->day = -2;
        }
        return;
    }
    if (glanz_entry_next(entry, &control->where, state->from, &state->day, STEPS_A_TIME, &start, &end)) {
        state->next = start;
        state->next_end = end;
        state->phase = KNOWN;
    } else if (state->day > GLANZ_ENTRY_DAYS) {
        state->phase = LATER;
        state->next = state->from + 300u * GLANZ_DAY;
    }
}

/* The first entry that is being looked for; GLANZ_ALL: none. What should be on now comes first. */
static uint8_t looked_for(const struct glanz_control *control) {
    uint8_t ahead = GLANZ_ALL;
    for (uint8_t i = 0; i < control->show->entry_count; i++) {
        if (control->entries[i].phase == BACK) {
            return i;
        }
        ahead = control->entries[i].phase == AHEAD && ahead == GLANZ_ALL ? i : ahead;
    }
    return ahead;
}

static void look(struct glanz_control *control, glanz_us clock) {
    if (!known(control)) {
        return;
    }
    uint8_t entry = looked_for(control);
    uint8_t was = entry;
    if (entry != GLANZ_ALL) {
        look_for(control, entry, glanz_control_utc_at(control, clock));
        entry = looked_for(control);
    }
    if (control->looking && (entry == GLANZ_ALL || control->entries[entry].phase == AHEAD)) {
        control->looking = 0;
    }
    if (was != GLANZ_ALL) {
        find_due(control);
    }
}

static glanz_us due(const struct glanz_control *control) {
    if (!known(control)) {
        return NEVER;
    }
    if (control->claims_due && !control->looking) {
        return 0;
    }
    uint32_t first = control->zone_until < control->due ? control->zone_until : control->due;
    return first == NONE ? NEVER : glanz_control_after(control, clock_at(control, first));
}

uint32_t glanz_control_entry_due(const struct glanz_control *control) {
    return control != NULL && known(control) ? control->due : NONE;
}

static segment_mask entry_segments(const struct glanz_control *control, uint8_t index) {
    GLANZ_CONST struct glanz_entry *entry = &control->show->entries[index];
    return entry->is_playlist ? LISTS(control)->segments(control->show, entry->target)
                              : glanz_control_preset_segments(control->show, entry->target);
}

/* The entry that is to show on a segment. */
static uint8_t winner(const struct glanz_control *control, const segment_mask *masks, uint8_t segment, uint32_t utc) {
    uint8_t best = GLANZ_ALL;
    for (uint8_t i = 0; i < control->show->entry_count; i++) {
        if ((masks[i] & BIT(segment)) == 0 || !entry_shows(control, i, utc)) {
            continue;
        }
        GLANZ_CONST struct glanz_entry *is = &control->show->entries[i];
        if (best == GLANZ_ALL || is->priority > control->show->entries[best].priority ||
            (is->priority == control->show->entries[best].priority &&
             control->entries[i].last >= control->entries[best].last)) {
            best = i;
        }
    }
    return best;
}

static struct glanz_change entry_change(const struct glanz_control *control, uint8_t entry, glanz_us at) {
    struct glanz_change change = {
        at,
        glanz_control_change_time(control->show, entry == GLANZ_ALL ? GLANZ_OWN_TIME : control->show->entries[entry].fade_ms),
        0};
    return change;
}

static glanz_status show_entry(struct glanz_control *control, uint8_t index, segment_mask mask, uint8_t anew, glanz_us at) {
    GLANZ_CONST struct glanz_entry *entry = &control->show->entries[index];
    struct glanz_change change = entry_change(control, index, at);
    if (!entry->is_playlist) {
        return glanz_control_recall(control, entry->target, mask, &change);
    }
    for (uint8_t i = 0; i < GLANZ_PLAYERS && !anew; i++) {
        if (control->players[i].depth != 0 && control->players[i].entry == index) { /* it plays on, on more segments */
            for (uint8_t s = 0; s < control->show->segment_count; s++) {
                if ((mask & BIT(s)) != 0) {
                    (void)LISTS(control)->again(control, s, &change);
                }
            }
            return GLANZ_OK;
        }
    }
    glanz_us began = clock_at(control, control->entries[index].last);
    return LISTS(control)->play(control, entry->target, index, glanz_us_before(at, began) ? at : began);
}

/* What changes hands at a moment. */
struct handover {
    segment_mask changed[GLANZ_ENTRIES_MOST]; /* segments that an entry gets, or gets anew */
    segment_mask before[GLANZ_ENTRIES_MOST];  /* segments that it had */
    segment_mask back;                        /* segments that no entry has any more */
    uint8_t anew[GLANZ_ENTRIES_MOST];         /* it begins */
    uint8_t last[GLANZ_SEGMENTS_MOST];        /* entry that had a segment; GLANZ_ALL: none */
};

/* Each segment goes to the entry that wins it. */
static void hand_over(struct handover *over, struct glanz_control *control, uint32_t utc) {
    segment_mask masks[GLANZ_ENTRIES_MOST];
    uint8_t count = control->show->entry_count;
    memset(over, 0, sizeof *over);
    for (uint8_t i = 0; i < count; i++) {
        masks[i] = entry_segments(control, i);
    }
    for (uint8_t s = 0; s < control->show->segment_count; s++) {
        struct segment *segment = &control->segments[s];
        uint8_t entry = winner(control, masks, s, utc);
        uint32_t since = entry == GLANZ_ALL ? 0 : control->entries[entry].last;
        over->last[s] = segment->claimed;
        if (segment->claimed != GLANZ_ALL && segment->claimed < count) {
            over->before[segment->claimed] |= BIT(s);
        }
        if (entry == segment->claimed && since == segment->claimed_at) {
            continue;
        }
        if (entry == GLANZ_ALL) {
            over->back |= segment->by_hand ? 0 : BIT(s);
        } else {
            if (segment->claimed == GLANZ_ALL) {
                HANDS(control)->note_base(control, BIT(s));
            }
            over->changed[entry] |= BIT(s);
        }
        HANDS(control)->drop(control, BIT(s), GLANZ_ASPECTS);
        segment->claimed = entry;
        segment->claimed_at = since;
        segment->by_hand = 0;
    }
}

/* Entries that have lost their last segment end; those that begin are told. */
static void end_and_begin(struct handover *over, struct glanz_control *control, glanz_us at) {
    for (uint8_t i = 0; i < control->show->entry_count; i++) {
        segment_mask now = 0;
        for (uint8_t s = 0; s < control->show->segment_count; s++) {
            now |= control->segments[s].claimed == i ? BIT(s) : 0;
        }
        if (now == 0 && over->before[i] != 0) {
            for (uint8_t p = 0; p < GLANZ_PLAYERS; p++) {
                if (control->players[p].depth != 0 && control->players[p].entry == i) {
                    LISTS(control)->stop(control, &control->players[p], at);
                }
            }
            glanz_control_notify(control, at, GLANZ_HAPPENED_END, i, 0, 0);
        }
        over->anew[i] = over->before[i] == 0 || (over->changed[i] & over->before[i]) != 0;
        if (over->changed[i] != 0 && over->anew[i]) {
            glanz_control_notify(control, at, GLANZ_HAPPENED_ENTRY, i, 0, 0);
        }
    }
}

/* A segment that no entry has any more shows what it showed before. */
static glanz_status give_back(struct glanz_control *control, uint8_t index, uint8_t last_entry, glanz_us at) {
    struct segment *segment = &control->segments[index];
    struct glanz_change change = entry_change(control, last_entry < control->show->entry_count ? last_entry : GLANZ_ALL, at);
    glanz_status status = GLANZ_OK;
    control->changes.by_itself++;
    if (LISTS(control) == NULL || !LISTS(control)->again(control, index, &change)) {
        status = segment->based ? HANDS(control)->show_again(control, index, &segment->base,
                                                             (uint8_t)(GLANZ_ASPECTS & ~segment->taken), &change)
                                : glanz_engine_look(control->engine, index, control->show->segments[index].look, change);
    }
    segment->based = 0;
    return status;
}

/* What shows changes hands where it must. */
static glanz_status apply(struct glanz_control *control, uint32_t utc, glanz_us at) {
    struct handover over;
    glanz_status status = GLANZ_OK;
    hand_over(&over, control, utc);
    end_and_begin(&over, control, at);
    for (uint8_t i = 0; i < control->show->entry_count; i++) { /* the weakest first, as if they had come one after another */
        if (over.changed[i] != 0) {
            glanz_status done = show_entry(control, i, over.changed[i], over.anew[i], at);
            status = glanz_status_first(status, done);
            control->changes.by_itself++;
            if (control->asleep == 2) { /* it sleeps until somebody or the calendar wakes it */
                done = glanz_control_wake(control, at);
                status = glanz_status_first(status, done);
            }
        }
    }
    for (uint8_t s = 0; s < control->show->segment_count; s++) {
        if ((over.back & BIT(s)) != 0) {
            glanz_status done = give_back(control, s, over.last[s], at);
            status = glanz_status_first(status, done);
        }
    }
    return status;
}

/* The local time, for effects that show it. */
static glanz_status tell_engine(struct glanz_control *control, uint32_t utc) {
    int64_t local = (int64_t)utc + glanz_zone_offset(&control->where.zone, utc, &control->zone_until);
#if GLANZ_FIELDS
    return glanz_engine_clock(control->engine, (uint32_t)(local / GLANZ_DAY), (uint32_t)(local % GLANZ_DAY));
#else
    (void)local;
    return GLANZ_OK;
#endif
}

static glanz_status go(struct glanz_control *control, glanz_us at) {
    uint32_t utc = glanz_control_utc_at(control, at);
    glanz_status status = utc >= control->zone_until ? tell_engine(control, utc) : GLANZ_OK;
    if (control->looking || status != GLANZ_OK) {
        return status;
    }
    for (uint8_t i = 0; i < control->show->entry_count; i++) {
        struct entry_state *state = &control->entries[i];
        if ((state->phase == KNOWN || state->phase == LATER) && state->next <= utc) {
            if (state->phase == KNOWN) {
                state->last = state->next;
                state->end = state->next_end;
            }
            state->from = state->next;
            state->phase = AHEAD;
            state->day = -2;
        }
    }
    control->claims_due = 0;
    control->applied = utc;
    find_due(control);
    return apply(control, utc, at);
}

static const struct agenda calls = {start, take, due, go, look, same_entry};

glanz_status glanz_control_clock(struct glanz_control *control, uint32_t utc, glanz_us at_us) {
    if (control == NULL || utc == 0) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (glanz_control_inside(control)) {
        return GLANZ_ERR_STATE;
    }
    uint32_t was = control->utc == 0 ? 0 : glanz_control_utc_at(control, at_us);
    uint8_t first = control->utc == 0;
    control->utc = utc;
    control->utc_at = at_us;
    control->agenda = &calls;
    if (first) {
        glanz_status read = glanz_zone_read(&control->where.zone, control->rig->zone, NULL);
        if (read != GLANZ_OK) {
            return read;
        }
        control->where.latitude = control->rig->latitude;
        control->where.longitude = control->rig->longitude;
    }
    glanz_status status = tell_engine(control, utc);
    if (control->show != NULL && (first || (utc > was ? utc - was : was - utc) > SMALL_STEP)) {
        start(control);
    }
    return status;
}

uint8_t glanz_control_entry(const struct glanz_control *control, uint8_t segment) {
    return control == NULL || control->show == NULL || segment >= control->show->segment_count ||
                   control->segments[segment].by_hand
               ? GLANZ_ALL
               : control->segments[segment].claimed;
}

int glanz_control_looking(const struct glanz_control *control) {
    return control != NULL && known(control) && (control->looking || looked_for(control) != GLANZ_ALL);
}

#endif
