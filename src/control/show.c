/* SPDX-License-Identifier: MIT */
/* What a show cannot be on a rig. */
#include "control.h"

#if GLANZ_FIELDS
static int picks_meet(GLANZ_CONST struct glanz_region *p, GLANZ_CONST struct glanz_region *q) {
    int meet = 0;
    for (uint8_t i = 0, k = 0; i < p->pick_count && k < q->pick_count && !meet;) { /* both are in order */
        GLANZ_CONST struct glanz_pick *a = &p->picks[i];
        GLANZ_CONST struct glanz_pick *b = &q->picks[k];
        meet = a->led < (uint32_t)b->led + b->leds && b->led < (uint32_t)a->led + a->leds;
        i = (uint8_t)(i + (a->led < b->led));
        k = (uint8_t)(k + (a->led >= b->led));
    }
    return meet;
}

static int segments_meet(GLANZ_CONST struct glanz_segment *a, GLANZ_CONST struct glanz_segment *b,
                         GLANZ_CONST struct glanz_surface *surface) {
    struct glanz_field one;
    struct glanz_field other;
    GLANZ_CONST struct glanz_region *p = &a->region;
    GLANZ_CONST struct glanz_region *q = &b->region;
    if (p->columns != 0 && q->columns != 0 && p->piece == q->piece &&
        (p->left >= (uint32_t)q->left + q->columns || q->left >= (uint32_t)p->left + p->columns ||
         p->top >= (uint32_t)q->top + q->rows || q->top >= (uint32_t)p->top + p->rows)) {
        return 0; /* two rectangles apart: no need to look at every LED */
    }
    if (p->pick_count != 0 && q->pick_count != 0) {
        return picks_meet(p, q);
    }
    if (!glanz_region_field(&one, &a->region, surface) || !glanz_region_field(&other, &b->region, surface)) {
        return 0; /* told elsewhere */
    }
    if (p->pick_count != 0 || q->pick_count != 0) { /* the other takes neighbours, all or some of them */
        struct glanz_pick all = {p->pick_count != 0 ? other.first : one.first, p->pick_count != 0 ? other.leds : one.leds, 0,
                                 0};
        struct glanz_region plain = {.pick_count = 1, .picks = &all};
        return picks_meet(p->pick_count != 0 ? p : q, &plain);
    }
    return one.first < (uint32_t)other.first + other.leds && other.first < (uint32_t)one.first + one.leds &&
           one.left < other.left + other.width && other.left < one.left + one.width && one.top < other.top + other.height &&
           other.top < one.top + one.height;
}
#else
static uint32_t end_of(GLANZ_CONST struct glanz_segment *segment, GLANZ_CONST struct glanz_surface *surface) {
    return segment->region.leds == 0 ? glanz_surface_leds(surface) : (uint32_t)segment->region.first + segment->region.leds;
}

static int segments_meet(GLANZ_CONST struct glanz_segment *a, GLANZ_CONST struct glanz_segment *b,
                         GLANZ_CONST struct glanz_surface *surface) {
    return a->region.first < end_of(b, surface) && b->region.first < end_of(a, surface);
}
#endif

static glanz_status check_overlaps(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                                   struct glanz_fault *fault) {
    for (uint8_t a = 0; a < show->segment_count; a++) {
        for (uint8_t b = 0; b < a; b++) {
            GLANZ_CONST struct glanz_segment *one = &show->segments[a];
            GLANZ_CONST struct glanz_segment *other = &show->segments[b];
            if (one->surface == other->surface && segments_meet(one, other, &rig->surfaces[one->surface])) {
                glanz_show_refuse(fault, GLANZ_TEXT("segments"), one->name, GLANZ_TEXT("lies over segment "));
                glanz_fault_name(fault, other->name);
                glanz_fault_add(fault, GLANZ_TEXT(": expected a \"stack\" that says which is on top"));
                return GLANZ_ERR_SHOW;
            }
        }
    }
    return GLANZ_OK;
}

static glanz_status check_action(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                                 GLANZ_CONST struct glanz_action *action) {
    uint16_t count = 256;
    GLANZ_CONST struct glanz_action_kind *kind = action->kind;
    if (kind == NULL) {
        return GLANZ_ERR_SHOW;
    }
    if (kind->value == GLANZ_VALUE_PRESET) {
        count = show->preset_count;
    } else if (kind->value == GLANZ_VALUE_PLAYLIST) {
        count = show->playlist_count;
    } else if (kind->value == GLANZ_VALUE_INPUT) {
        count = rig->input_count;
    } else if (kind->value == GLANZ_VALUE_SEGMENT || kind->value == GLANZ_VALUE_LOOK || kind->value == GLANZ_VALUE_PALETTE ||
               kind->value == GLANZ_VALUE_CONTENT ||
               (kind->value == GLANZ_VALUE_WAY && (kind->needs & GLANZ_WITH_SEGMENT) != 0) ||
               (kind->value == GLANZ_VALUE_LIGHTNESS && action->target != GLANZ_ALL)) {
        count = show->segment_count;
    }
#if GLANZ_SEQUENCES
    if ((kind->value == GLANZ_VALUE_PALETTE && action->gradient == NULL) ||
        (kind->value == GLANZ_VALUE_WAY && action->number > GLANZ_WAY_RANDOM) ||
        (kind->value == GLANZ_VALUE_SAVED && action->param == NULL) ||
        (kind->value == GLANZ_VALUE_CONTENT && (action->look == NULL || action->look->content == NULL)) ||
        ((kind->may & GLANZ_WITH_NUMBER) != 0 &&
         (action->param == NULL || action->by > GLANZ_CHANGE_TIMES || action->unit > GLANZ_UNIT_PASS_TIME ||
          action->of_color > GLANZ_COLOR_LIGHTNESS ||
          (action->of_color != GLANZ_COLOR_WHOLE && action->kind_of_param != GLANZ_PARAM_COLOR) ||
          (action->of_color == GLANZ_COLOR_HUE && action->by == GLANZ_CHANGE_TIMES))) ||
        action->for_ms > 86400000u) {
        return GLANZ_ERR_SHOW;
    }
#endif
    if (action->target >= count ||
        ((kind->needs & GLANZ_WITH_ITEM) != 0 && action->number >= show->playlists[action->target].item_count)) {
        return GLANZ_ERR_SHOW;
    }
    return GLANZ_OK;
}

static glanz_status refuse_list(struct glanz_fault *fault, GLANZ_CONST struct glanz_playlist *list, uint8_t item,
                                GLANZ_CONST char *text) {
    glanz_fault_begin(fault);
    glanz_fault_at(fault, GLANZ_TEXT("playlists"));
    glanz_fault_at(fault, list->name);
    if (item != 255) {
        glanz_fault_at(fault, GLANZ_TEXT("items"));
        glanz_fault_at_index(fault, item);
    }
    glanz_fault_add(fault, text);
    return GLANZ_ERR_SHOW;
}

#if GLANZ_SEQUENCES
/* Playlists within playlists: how deep each is, found by asking again and again until nothing changes. */
static glanz_status check_nesting(GLANZ_CONST struct glanz_show *show, struct glanz_fault *fault) {
    uint8_t deep[256];
    for (uint16_t i = 0; i < show->playlist_count; i++) {
        deep[i] = 1;
    }
    for (uint8_t round = 0; round <= GLANZ_NESTING; round++) {
        for (uint8_t i = 0; i < show->playlist_count; i++) {
            for (uint8_t k = 0; k < show->playlists[i].item_count; k++) {
                GLANZ_CONST struct glanz_item *item = &show->playlists[i].items[k];
                if (item->kind == GLANZ_ITEM_PLAYLIST && deep[item->preset] >= deep[i]) {
                    deep[i] = (uint8_t)(deep[item->preset] + 1u);
                }
                if (deep[i] > GLANZ_NESTING) {
                    refuse_list(fault, &show->playlists[i], k,
                                GLANZ_TEXT("a playlist in a playlist in a playlist: expected at most "));
                    glanz_fault_number(fault, GLANZ_NESTING);
                    glanz_fault_add(fault, GLANZ_TEXT(" within each other, and none within itself"));
                    return GLANZ_ERR_SHOW;
                }
            }
        }
    }
    return GLANZ_OK;
}

static glanz_status check_item(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_playlist *list, uint8_t index,
                               struct glanz_fault *fault) {
    GLANZ_CONST struct glanz_item *item = &list->items[index];
    if (item->kind > GLANZ_ITEM_DARK || (item->kind == GLANZ_ITEM_PRESET && item->preset >= show->preset_count) ||
        (item->kind == GLANZ_ITEM_PLAYLIST && item->preset >= show->playlist_count)) {
        return refuse_list(fault, list, index, GLANZ_TEXT("expected a preset or a playlist of the show"));
    }
    if (item->kind == GLANZ_ITEM_PLAYLIST && item->hold_ms == 0 && !list->timed && index + 1 < list->item_count &&
        show->playlists[item->preset].rounds == 0) {
        return refuse_list(
            fault, list, index,
            GLANZ_TEXT("this playlist goes on for ever, and what follows would never come: expected its \"rounds\", "
                       "or a \"hold\" here"));
    }
    if (list->timed && (index == 0 ? item->at_ms != 0 : item->at_ms <= list->items[index - 1].at_ms)) {
        return refuse_list(fault, list, index, GLANZ_TEXT("expected times in order, the first at 0 s"));
    }
    return GLANZ_OK;
}

static uint32_t least_ms(GLANZ_CONST struct glanz_playlist *list, GLANZ_CONST struct glanz_item *item) {
    return list->timed ? item->at_ms : item->kind == GLANZ_ITEM_PLAYLIST && item->hold_ms == 0 ? 100 : 0;
}
#else
static glanz_status check_nesting(GLANZ_CONST struct glanz_show *show, struct glanz_fault *fault) {
    (void)show;
    (void)fault;
    return GLANZ_OK;
}

static glanz_status check_item(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_playlist *list, uint8_t index,
                               struct glanz_fault *fault) {
    return list->items[index].preset < show->preset_count
               ? GLANZ_OK
               : refuse_list(fault, list, index, GLANZ_TEXT("expected presets of the show"));
}

static uint32_t least_ms(GLANZ_CONST struct glanz_playlist *list, GLANZ_CONST struct glanz_item *item) {
    (void)list;
    (void)item;
    return 0;
}
#endif

/* An action's look can be shown, and so can a preset's. */
static glanz_status check_used_look(GLANZ_CONST struct glanz_look *look, struct glanz_fault *fault) {
    return look == NULL ? GLANZ_OK : glanz_look_check(look, fault);
}

static glanz_status check_presets(GLANZ_CONST struct glanz_show *show, struct glanz_fault *fault) {
    for (uint8_t i = 0; i < show->preset_count; i++) {
        for (uint8_t p = 0; p < show->presets[i].part_count; p++) {
            GLANZ_CONST struct glanz_part *part = &show->presets[i].parts[p];
            if (part->segment >= show->segment_count || ((part->aspects & GLANZ_ASPECT_LOOK) != 0 && part->look == NULL)) {
                return glanz_show_refuse(fault, GLANZ_TEXT("presets"), show->presets[i].name,
                                         GLANZ_TEXT("expected parts for segments of the show, with looks"));
            }
            glanz_status status = (part->aspects & GLANZ_ASPECT_LOOK) != 0 ? check_used_look(part->look, fault) : GLANZ_OK;
#if GLANZ_SEQUENCES
            if (status == GLANZ_OK &&
                (part->later_ms > 600000u || !glanz_settings_fit((part->aspects & GLANZ_ASPECT_LOOK) != 0 ? part->look : NULL,
                                                                 part->settings, part->setting_count))) {
                return glanz_show_refuse(fault, GLANZ_TEXT("presets"), show->presets[i].name,
                                         GLANZ_TEXT("expected numbers of its looks, and at most 10 min later"));
            }
#endif
            if (status != GLANZ_OK) {
                return status;
            }
        }
    }
    for (uint8_t i = 0; i < show->playlist_count; i++) {
        GLANZ_CONST struct glanz_playlist *list = &show->playlists[i];
        uint64_t length = 0;
        for (uint8_t k = 0; k < list->item_count; k++) {
            glanz_status status = check_item(show, list, k, fault);
            if (status != GLANZ_OK) {
                return status;
            }
            length += (uint64_t)list->items[k].fade_ms + list->items[k].hold_ms + least_ms(list, &list->items[k]);
        }
        if (length < 100) {
            return refuse_list(fault, list, 255,
                               GLANZ_TEXT("the items last less than 100 ms together; expected items with time to be seen"));
        }
#if GLANZ_SEQUENCES
        if (list->then > GLANZ_THEN_BACK || (list->then == GLANZ_THEN_PRESET && list->then_preset >= show->preset_count)) {
            return refuse_list(fault, list, 255, GLANZ_TEXT("what follows it is not in the show"));
        }
#endif
    }
    return check_nesting(show, fault);
}

#if GLANZ_CALENDAR
static int bad_moment(GLANZ_CONST struct glanz_moment *moment) {
    int32_t low = moment->kind == GLANZ_MOMENT_CLOCK ? 0 : -43200;
    return moment->kind > GLANZ_MOMENT_SUNSET || moment->second < low || moment->second > (low == 0 ? 86399 : 43200);
}

static int bad_day(GLANZ_CONST struct glanz_day *day) {
    static const uint8_t lengths[] = {0, 31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31};
    return day->month > 12 || (day->month != 0 && (day->day == 0 || day->day > lengths[day->month])) ||
           (day->year != 0 && (day->year < 2000 || day->year > 2099));
}

static glanz_status check_entries(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                                  struct glanz_fault *fault) {
    if (show->entry_count > GLANZ_ENTRIES_MOST) {
        return glanz_show_refuse(fault, GLANZ_TEXT("calendar"), NULL,
                                 GLANZ_TEXT("expected fewer entries: see GLANZ_ENTRIES_MOST"));
    }
    for (uint8_t i = 0; i < show->entry_count; i++) {
        GLANZ_CONST struct glanz_entry *entry = &show->entries[i];
        GLANZ_CONST char *wrong = NULL;
        int sun = entry->at.kind >= GLANZ_MOMENT_SUNRISE || entry->until.kind >= GLANZ_MOMENT_SUNRISE;
        if (entry->target >= (entry->is_playlist ? show->playlist_count : show->preset_count)) {
            wrong = GLANZ_TEXT("expected a preset or a playlist of the show");
        } else if (entry->at.kind == GLANZ_MOMENT_NONE || bad_moment(&entry->at) || bad_moment(&entry->until)) {
            wrong = GLANZ_TEXT("expected a time of day, or sunrise or sunset and at most 12 hours from it");
        } else if (sun && !rig->placed) {
            wrong = GLANZ_TEXT("the sun rises and sets by the place: expected a \"place\" in the rig");
        } else if (bad_day(&entry->from) || bad_day(&entry->to) || (entry->from.month == 0) != (entry->to.month == 0) ||
                   (entry->from.year == 0) != (entry->to.year == 0) || entry->weekdays > 127) {
            wrong = GLANZ_TEXT("expected two days of the calendar, both with their year or both without");
        } else if (entry->from.year != 0 &&
                   ((uint32_t)entry->to.year << 16 | (uint32_t)entry->to.month << 8 | entry->to.day) <
                       ((uint32_t)entry->from.year << 16 | (uint32_t)entry->from.month << 8 | entry->from.day)) {
            wrong = GLANZ_TEXT("the last day is before the first; only days without a year go across New Year");
        } else if (entry->for_s > 7u * GLANZ_DAY ||
                   (entry->for_s != 0 && entry->until.kind != GLANZ_MOMENT_NONE && entry->every_s == 0)) {
            wrong = GLANZ_TEXT("expected either how long, at most 7 days, or until when");
        } else if (entry->every_s != 0 && (entry->every_s < 60 || entry->until.kind == GLANZ_MOMENT_NONE)) {
            wrong = GLANZ_TEXT("what comes again and again is at least a minute apart, and has an \"until\"");
        }
        if (wrong != NULL) {
            return glanz_show_refuse(fault, GLANZ_TEXT("calendar"), entry->name, wrong);
        }
    }
    return GLANZ_OK;
}
#endif

/* How many signals there are, with the rig's inputs. */
static uint16_t signal_count(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig) {
#if GLANZ_DRIVES_MOST > 0
    return (uint16_t)(rig->input_count + show->signal_count);
#else
    (void)show;
    return rig->input_count;
#endif
}

static glanz_status check_triggers(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                                   struct glanz_fault *fault) {
#if GLANZ_DRIVES_MOST > 0
    uint16_t remembering = 0;
#endif
    for (uint8_t i = 0; i < show->trigger_count; i++) {
        GLANZ_CONST struct glanz_trigger *trigger = &show->triggers[i];
        int is_button = trigger->input < rig->input_count && rig->inputs[trigger->input].kind == GLANZ_INPUT_BUTTON;
        if (trigger->input >= signal_count(show, rig) || trigger->event >= GLANZ_EVENTS ||
            (trigger->event != GLANZ_EVENT_UNCHANGED && GLANZ_EVENT_IS_OF_LEVEL(trigger->event) == is_button)) {
            return glanz_show_refuse(fault, GLANZ_TEXT("triggers"), trigger->name,
                                     GLANZ_TEXT("expected an input of the rig, and what it can do"));
        }
#if GLANZ_DRIVES_MOST > 0
        GLANZ_CONST char *wrong = glanz_gesture_wrong(trigger, show, rig);
        remembering = (uint16_t)(remembering + (glanz_trigger_remembers(trigger) != 0));
        if (wrong == NULL && remembering > GLANZ_WATCHES_MOST) {
            wrong = GLANZ_TEXT("too many triggers remember something; GLANZ_WATCHES_MOST says how many may");
        }
        if (wrong != NULL) {
            return glanz_show_refuse(fault, GLANZ_TEXT("triggers"), trigger->name, wrong);
        }
        for (uint8_t k = 0; k < trigger->condition_count; k++) {
            if (trigger->conditions == NULL || trigger->conditions[k].signal >= signal_count(show, rig)) {
                return glanz_show_refuse(fault, GLANZ_TEXT("triggers"), trigger->name,
                                         GLANZ_TEXT("expected conditions on inputs of the rig or signals of the show"));
            }
        }
#endif
        for (uint8_t k = 0; k < trigger->action_count; k++) {
            if (check_action(show, rig, &trigger->actions[k]) != GLANZ_OK) {
                return glanz_show_refuse(fault, GLANZ_TEXT("triggers"), trigger->name,
                                         GLANZ_TEXT("an action names what is not in the show"));
            }
        }
    }
    return GLANZ_OK;
}

/* A list that has things in it is there. */
static glanz_status check_lists(GLANZ_CONST struct glanz_show *show, struct glanz_fault *fault) {
    GLANZ_CONST char *none = NULL;
    none = show->color_count != 0 && show->colors == NULL ? GLANZ_TEXT("colors") : none;
    none = show->palette_count != 0 && show->palettes == NULL ? GLANZ_TEXT("palettes") : none;
    none = show->look_count != 0 && show->looks == NULL ? GLANZ_TEXT("looks") : none;
    none = show->segment_count != 0 && show->segments == NULL ? GLANZ_TEXT("segments") : none;
    none = show->preset_count != 0 && show->presets == NULL ? GLANZ_TEXT("presets") : none;
    none = show->playlist_count != 0 && show->playlists == NULL ? GLANZ_TEXT("playlists") : none;
    none = show->trigger_count != 0 && show->triggers == NULL ? GLANZ_TEXT("triggers") : none;
#if GLANZ_CALENDAR
    none = show->entry_count != 0 && show->entries == NULL ? GLANZ_TEXT("calendar") : none;
#endif
#if GLANZ_DRIVES_MOST > 0
    none = show->signal_count != 0 && show->signals == NULL ? GLANZ_TEXT("signals") : none;
#endif
#if GLANZ_FIELDS
    none = show->picture_count != 0 && show->pictures == NULL ? GLANZ_TEXT("pictures") : none;
#endif
    for (uint8_t i = 0; none == NULL && i < show->preset_count; i++) {
        none = show->presets[i].part_count != 0 && show->presets[i].parts == NULL ? GLANZ_TEXT("presets") : none;
    }
    for (uint8_t i = 0; none == NULL && i < show->playlist_count; i++) {
        none = show->playlists[i].item_count != 0 && show->playlists[i].items == NULL ? GLANZ_TEXT("playlists") : none;
    }
    for (uint8_t i = 0; none == NULL && i < show->trigger_count; i++) {
        none = show->triggers[i].action_count != 0 && show->triggers[i].actions == NULL ? GLANZ_TEXT("triggers") : none;
    }
    return none == NULL ? GLANZ_OK
                        : glanz_show_refuse(fault, none, NULL, GLANZ_TEXT("the list is NULL; expected as many as are counted"));
}

glanz_status glanz_show_check(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                              struct glanz_fault *fault) {
    if (show == NULL || rig == NULL || (rig->surfaces == NULL && rig->surface_count != 0) ||
        (rig->inputs == NULL && rig->input_count != 0)) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (show->segment_count > GLANZ_SEGMENTS_MOST) {
        glanz_show_refuse(fault, GLANZ_TEXT("segments"), NULL, GLANZ_TEXT("expected at most "));
        glanz_fault_number(fault, GLANZ_SEGMENTS_MOST);
        glanz_fault_add(fault, GLANZ_TEXT(" segments"));
        return GLANZ_ERR_SHOW;
    }
    glanz_status listed = check_lists(show, fault);
    if (listed != GLANZ_OK) {
        return listed;
    }
    for (uint16_t i = 0; i < show->look_count; i++) {
        glanz_status status = glanz_look_check(&show->looks[i], fault);
        if (status != GLANZ_OK) {
            return status;
        }
    }
    uint64_t stacked = 0;
    for (uint8_t i = 0; i < show->segment_count; i++) {
        if (show->segments[i].surface >= rig->surface_count) {
            return glanz_show_refuse(fault, GLANZ_TEXT("segments"), show->segments[i].name,
                                     GLANZ_TEXT("expected a surface of the rig"));
        }
        if (show->stack != NULL && (show->stack[i] >= show->segment_count || (stacked >> show->stack[i] & 1u) != 0)) {
            return glanz_show_refuse(fault, GLANZ_TEXT("stack"), NULL, GLANZ_TEXT("expected every segment once"));
        }
        stacked |= show->stack == NULL ? 0 : (uint64_t)1 << show->stack[i];
    }
    glanz_status status = show->stack == NULL ? check_overlaps(show, rig, fault) : GLANZ_OK;
    if (status == GLANZ_OK) {
        status = check_presets(show, fault);
    }
#if GLANZ_DRIVES_MOST > 0
    if (status == GLANZ_OK) {
        status = glanz_signals_check(show, rig, fault);
    }
#endif
    if (status == GLANZ_OK) {
        status = check_triggers(show, rig, fault);
    }
    if (status == GLANZ_OK && show->start != NULL && check_action(show, rig, show->start) != GLANZ_OK) {
        status = glanz_show_refuse(fault, GLANZ_TEXT("start"), NULL, GLANZ_TEXT("names what is not in the show"));
    }
#if GLANZ_CALENDAR
    if (status == GLANZ_OK) {
        status = check_entries(show, rig, fault);
    }
#endif
    return status;
}

#if GLANZ_FIELDS
/* The larger of what was found and what a look wants on a segment. */
static void want(size_t *most, GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig, uint8_t segment,
                 GLANZ_CONST struct glanz_look *look) {
    size_t bytes = glanz_look_memory(&show->segments[segment], look, rig);
    *most = bytes > *most ? bytes : *most;
}

size_t glanz_show_memory(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig) {
    size_t bytes = 0;
    for (uint8_t s = 0; show != NULL && s < show->segment_count; s++) {
        size_t most = 0;
        want(&most, show, rig, s, show->segments[s].look);
        for (uint8_t i = 0; i < show->preset_count; i++) {
            for (uint8_t p = 0; p < show->presets[i].part_count; p++) {
                GLANZ_CONST struct glanz_part *part = &show->presets[i].parts[p];
                want(&most, show, rig, s, part->segment == s ? part->look : NULL);
            }
        }
        for (uint8_t i = 0; i < show->trigger_count; i++) {
            for (uint8_t k = 0; k < show->triggers[i].action_count; k++) {
                GLANZ_CONST struct glanz_action *action = &show->triggers[i].actions[k];
                want(&most, show, rig, s, action->kind->value == GLANZ_VALUE_LOOK && action->target == s ? action->look : NULL);
            }
        }
        if (show->start != NULL && show->start->kind->value == GLANZ_VALUE_LOOK && show->start->target == s) {
            want(&most, show, rig, s, show->start->look);
        }
        bytes += most * GLANZ_FADES;
    }
    return bytes;
}

/* Is there memory for what a preset's effects remember, beside those of the segments that it leaves alone? */
static int preset_fits(const struct glanz_control *control, uint8_t index) {
    GLANZ_CONST struct glanz_preset *preset = &control->show->presets[index];
    size_t bytes = 0;
    for (uint8_t s = 0; s < control->show->segment_count; s++) {
        size_t wanted = glanz_engine_memory(control->engine, s);
        for (uint8_t i = 0; i < preset->part_count; i++) {
            GLANZ_CONST struct glanz_part *part = &preset->parts[i];
            if (part->segment == s && (part->aspects & GLANZ_ASPECT_LOOK) != 0) {
                wanted = glanz_look_memory(&control->show->segments[s], part->look, control->rig);
            }
        }
        bytes += wanted;
    }
    return bytes <= glanz_engine_memory(control->engine, GLANZ_ALL);
}

GLANZ_CONST struct glanz_fields_part glanz_part_fields = {&glanz_fields_calls, glanz_show_memory, preset_fits,
                                                          glanz_engine_settle, glanz_engine_level};
#else
size_t glanz_show_memory(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig) {
    (void)show;
    (void)rig;
    return 0;
}
#endif
