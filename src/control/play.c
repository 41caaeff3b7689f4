/* SPDX-License-Identifier: MIT */
/* Playlists: players that go from item to item, within each other, each at its own exact time. */
#include "control.h"

static GLANZ_CONST struct glanz_playlist *list_of(const struct glanz_control *control, const struct level *level) {
    return &control->show->playlists[level->list];
}

static struct level *inner(struct player *player) {
    return &player->levels[GLANZ_SEQUENCES ? player->depth - 1 : 0];
}

#if GLANZ_SEQUENCES
static segment_mask list_segments(GLANZ_CONST struct glanz_show *show, uint8_t list) {
    uint8_t stack[GLANZ_NESTING];
    uint8_t at[GLANZ_NESTING];
    uint8_t depth = 1;
    segment_mask mask = 0;
    stack[0] = list;
    at[0] = 0;
    while (depth > 0) { /* nothing calls itself here */
        GLANZ_CONST struct glanz_playlist *is = &show->playlists[stack[depth - 1]];
        if (at[depth - 1] == 0 && is->then == GLANZ_THEN_PRESET) {
            mask |= glanz_control_preset_segments(show, is->then_preset);
        }
        if (at[depth - 1] >= is->item_count) {
            depth--;
            continue;
        }
        GLANZ_CONST struct glanz_item *item = &is->items[at[depth - 1]++];
        if (item->kind == GLANZ_ITEM_PRESET) {
            mask |= glanz_control_preset_segments(show, item->preset);
        } else if (item->kind == GLANZ_ITEM_PLAYLIST && depth < GLANZ_NESTING) {
            stack[depth] = item->preset;
            at[depth++] = 0;
        }
    }
    return mask;
}

/* A place of 0 to count - 1 in an order drawn for a round: a Feistel network of four turns over the next power of four, walked
 * until it falls inside. */
static uint8_t drawn(uint32_t seed, uint16_t round, uint8_t place, uint8_t count) {
    uint8_t half = 1; /* bits */
    while (1u << (2u * half) < count) {
        half++;
    }
    uint8_t mask = (uint8_t)((1u << half) - 1u);
    uint32_t key = glanz_hash2(seed, round);
    uint8_t at = place;
    do {
        uint8_t left = (uint8_t)(at >> half);
        uint8_t right = (uint8_t)(at & mask);
        for (uint8_t turn = 0; turn < 4; turn++) {
            uint8_t next = (uint8_t)((left ^ glanz_hash2(key + turn, right)) & mask);
            left = right;
            right = next;
        }
        at = (uint8_t)(left << half | right);
    } while (at >= count);
    return at;
}

/* The item at a turn of a round. The first of a round is never the last of the round before: then it changes places with the
 * second. Of two items there is only one order that does that. */
static uint8_t item_at(GLANZ_CONST struct glanz_playlist *list, uint16_t round, uint8_t turn) {
    if (!list->shuffled || list->item_count < 2) {
        return turn;
    }
    if (list->item_count == 2) {
        return (uint8_t)(turn ^ (glanz_hash(list->seed) & 1u));
    }
    if (turn < 2 && round > 0 &&
        drawn(list->seed, round, 0, list->item_count) ==
            drawn(list->seed, (uint16_t)(round - 1u), (uint8_t)(list->item_count - 1), list->item_count)) {
        turn ^= 1u;
    }
    return drawn(list->seed, round, turn, list->item_count);
}
#else
static uint8_t item_at(GLANZ_CONST struct glanz_playlist *list, uint16_t round, uint8_t turn) {
    (void)list;
    (void)round;
    return turn;
}
#endif

static uint8_t item_of(const struct glanz_control *control, const struct level *level) {
    return item_at(list_of(control, level), level->rounds, level->turn);
}

static glanz_us ms_time(glanz_us ms) {
    return ms > GLANZ_TIME_FAR / 1000u ? GLANZ_TIME_FAR : ms * 1000u;
}

/* How long an item lasts, from its beginning. Of a playlist within: 0 for until its own end. */
static glanz_us item_us(GLANZ_CONST struct glanz_playlist *list, uint8_t turn, uint8_t item) {
    GLANZ_CONST struct glanz_item *is = &list->items[item];
#if GLANZ_SEQUENCES
    if (list->timed && turn + 1 < list->item_count) {
        return ms_time(list->items[turn + 1].at_ms - is->at_ms);
    }
    if (is->kind == GLANZ_ITEM_PLAYLIST && !list->timed) {
        return is->hold_ms == 0 ? 0 : ms_time(is->hold_ms);
    }
#else
    (void)turn;
#endif
    return ms_time((glanz_us)is->fade_ms + is->hold_ms);
}

#if GLANZ_SEQUENCES
/* Segments on which a player shows now. */
static segment_mask shows_on(const struct glanz_control *control, const struct player *player) {
    segment_mask mask = player->segments;
    for (uint8_t i = 0; i < control->show->segment_count; i++) {
        const struct segment *segment = &control->segments[i];
        int own = player->entry == GLANZ_ALL ? segment->claimed == GLANZ_ALL || segment->by_hand
                                             : segment->claimed == player->entry && !segment->by_hand;
        mask = own ? mask : mask & ~BIT(i);
    }
    return mask;
}

/* Switch segments off for a gap, or on again after it. Those that come out of the dark change their looks at once. */
static glanz_status gap(struct glanz_control *control, struct player *player, segment_mask mask, uint8_t on,
                        struct glanz_change change) {
    glanz_status status = GLANZ_OK;
    for (uint8_t i = 0; i < control->show->segment_count && status == GLANZ_OK; i++) {
        struct glanz_showing showing;
        if ((mask & BIT(i)) == 0 || glanz_engine_showing(control->engine, i, &showing) != GLANZ_OK) {
            continue;
        }
        if (!on && showing.on) {
            status = glanz_engine_switch(control->engine, i, 0, change);
            player->dark |= BIT(i);
        } else if (on && (player->dark & BIT(i)) != 0) {
            status = glanz_engine_switch(control->engine, i, 1, change);
            player->dark &= ~BIT(i);
        }
    }
    return status;
}

/* Show an item on some segments. */
static glanz_status show_on(struct glanz_control *control, struct player *player, GLANZ_CONST struct glanz_item *item,
                            segment_mask mask, struct glanz_change change) {
    if (item->kind == GLANZ_ITEM_DARK) {
        return gap(control, player, mask, 0, change);
    }
    struct glanz_change at_once = {change.at_us, 0, 0};
    segment_mask dark = player->dark & mask;
    glanz_status status = GLANZ_OK;
    if (dark != 0) {
        status = glanz_control_recall(control, item->preset, dark, at_once);
        status = status != GLANZ_OK ? status : gap(control, player, dark, 1, change);
    }
    return status != GLANZ_OK || (mask & ~dark) == 0 ? status
                                                     : glanz_control_recall(control, item->preset, mask & ~dark, change);
}
#endif

/* Show the item that the player has come to. */
static glanz_status show_item(struct glanz_control *control, struct player *player, glanz_us at) {
    struct glanz_change change = {at, 0, 0};
#if GLANZ_SEQUENCES
    struct level *outer = inner(player);
    while (list_of(control, outer)->items[item_of(control, outer)].kind == GLANZ_ITEM_PLAYLIST &&
           player->depth < GLANZ_NESTING) { /* into the playlists within */
        struct level *level = &player->levels[player->depth++];
        glanz_control_notify(control, at, GLANZ_HAPPENED_ITEM, outer->list, 0, item_of(control, outer));
        memset(level, 0, sizeof *level);
        outer->began = at;
        level->list = list_of(control, outer)->items[item_of(control, outer)].preset;
        level->began = at;
        outer = level;
    }
    player->item_began = at;
    control->changes.by_itself++;
#endif
    struct level *level = inner(player);
    GLANZ_CONST struct glanz_playlist *list = list_of(control, level);
    uint8_t item = item_of(control, level);
    player->item_end = at + item_us(list, level->turn, item);
    change.over_ms = list->items[item].fade_ms;
#if GLANZ_SEQUENCES
    segment_mask mask = shows_on(control, player);
    if (mask == 0) {
        return GLANZ_OK; /* it goes on unseen */
    }
    if (glanz_us_before(at, control->last)) { /* it began before, unseen */
        change.at_us = control->last;
        change.over_ms = glanz_control_change_time(control->show, GLANZ_OWN_TIME);
    }
    glanz_control_notify(control, change.at_us, GLANZ_HAPPENED_ITEM, level->list, 0, item);
    return show_on(control, player, &list->items[item], mask, change);
#else
    glanz_control_notify(control, at, GLANZ_HAPPENED_ITEM, level->list, 0, item);
    return glanz_control_recall(control, list->items[item].preset, (segment_mask) ~(segment_mask)0, change);
#endif
}

static void stop_player(struct glanz_control *control, struct player *player, glanz_us at) {
    glanz_control_notify(control, at, GLANZ_HAPPENED_STOP, player->levels[0].list, 0, item_of(control, &player->levels[0]));
    player->depth = 0;
#if GLANZ_SEQUENCES
    control->changes.by_itself++;
#endif
}

#if GLANZ_SEQUENCES
/* The outermost playlist is through. */
static glanz_status finish(struct glanz_control *control, struct player *player, glanz_us at) {
    GLANZ_CONST struct glanz_playlist *list = list_of(control, &player->levels[0]);
    struct glanz_change change = {at, list->then_fade_ms, 0};
    segment_mask mask = shows_on(control, player);
    glanz_status status = GLANZ_OK;
    stop_player(control, player, at);
    switch (list->then) {
    case GLANZ_THEN_DARK: return gap(control, player, mask, 0, change);
    case GLANZ_THEN_PRESET: {
        struct glanz_item item = {list->then_preset, list->then_fade_ms, 0, 0, GLANZ_ITEM_PRESET};
        return show_on(control, player, &item, mask, change);
    }
    case GLANZ_THEN_BACK:
        for (uint8_t i = 0; i < control->show->segment_count && status == GLANZ_OK; i++) {
            struct segment *segment = &control->segments[i];
            if ((mask & BIT(i)) != 0 && segment->based) {
                status = HANDS(control)->show_again(control, i, &segment->base, GLANZ_ASPECTS, change);
                segment->based = 0;
            }
        }
        return status;
    default: return GLANZ_OK;
    }
}
#endif

/* One item on, at all levels that are through. @return 0 when the playlist is through. */
static int go_on(struct glanz_control *control, struct player *player) {
    for (;;) {
        struct level *level = inner(player);
        GLANZ_CONST struct glanz_playlist *list = list_of(control, level);
        if (level->turn + 1 < list->item_count) {
            level->turn++;
            return 1;
        }
        if (list->rounds == 0 || level->rounds + 1u < list->rounds) {
            level->turn = 0;
            level->rounds++;
            return 1;
        }
        if (!GLANZ_SEQUENCES || player->depth == 1) {
            return 0;
        }
        player->depth--;
    }
}

#if GLANZ_SEQUENCES
static glanz_us times(glanz_us length, uint16_t rounds) {
    return rounds != 0 && length < GLANZ_TIME_FAR / rounds ? length * rounds : GLANZ_TIME_FAR;
}

static glanz_us shorter(glanz_us own, glanz_us whole) { /* an item's own time, 0 for none; a playlist's within it */
    return own != 0 && own < whole ? own : whole;
}

/* How long a round of a playlist takes, with those within it. */
static glanz_us round_us(const struct glanz_control *control, uint8_t index) {
    GLANZ_CONST struct glanz_playlist *lists[GLANZ_NESTING];
    glanz_us sum[GLANZ_NESTING];
    uint8_t at[GLANZ_NESTING];
    uint8_t depth = 1;
    lists[0] = &control->show->playlists[index];
    sum[0] = 0;
    at[0] = 0;
    for (;;) {
        GLANZ_CONST struct glanz_playlist *list = lists[depth - 1];
        if (at[depth - 1] == list->item_count) { /* this one is through: its length is its item's */
            if (--depth == 0) {
                return sum[0];
            }
            uint8_t item = at[depth - 1]++;
            sum[depth - 1] += shorter(item_us(lists[depth - 1], item, item), times(sum[depth], list->rounds));
            continue;
        }
        uint8_t item = at[depth - 1];
        if (list->items[item].kind == GLANZ_ITEM_PLAYLIST && depth < GLANZ_NESTING) {
            lists[depth] = &control->show->playlists[list->items[item].preset];
            sum[depth] = 0;
            at[depth++] = 0;
            continue;
        }
        sum[depth - 1] += item_us(list, item, item);
        at[depth - 1]++;
    }
}

/* Put a player that began its playlist at a time to where it is now, and show that. What was in between is not shown. */
static glanz_status catch_up(struct glanz_control *control, struct player *player, glanz_us began, glanz_us now) {
    glanz_us since = now - began;
    for (;;) {
        struct level *level = inner(player);
        GLANZ_CONST struct glanz_playlist *list = list_of(control, level);
        glanz_us round = round_us(control, level->list);
        uint32_t rounds = (uint32_t)(since / round);
        if (list->rounds != 0 && rounds >= list->rounds) { /* of the outermost only: those within are as long as their items */
            level->turn = (uint8_t)(list->item_count - 1);
            return finish(control, player, began + times(round, list->rounds));
        }
        level->rounds = (uint16_t)rounds;
        since -= rounds * round;
        uint8_t item = 0;
        for (level->turn = 0; level->turn < list->item_count; level->turn++) {
            item = item_of(control, level);
            glanz_us length = item_us(list, level->turn, item);
            if (list->items[item].kind == GLANZ_ITEM_PLAYLIST) {
                uint8_t within = list->items[item].preset;
                length = shorter(length, times(round_us(control, within), control->show->playlists[within].rounds));
            }
            if (since < length || level->turn + 1 == list->item_count) {
                break;
            }
            since -= length;
        }
        level->began = now - since;
        if (list->items[item].kind != GLANZ_ITEM_PLAYLIST || player->depth == GLANZ_NESTING) {
            return show_item(control, player, now - since);
        }
        struct level *next = &player->levels[player->depth++];
        memset(next, 0, sizeof *next);
        next->list = list->items[item].preset;
    }
}
#else
static glanz_us round_us(const struct glanz_control *control, uint8_t index) {
    GLANZ_CONST struct glanz_playlist *list = &control->show->playlists[index];
    glanz_us round = 0;
    for (uint8_t i = 0; i < list->item_count; i++) {
        round += item_us(list, i, i);
    }
    return round;
}
#endif

/* The end of the player's item: the item's own, or that of a playlist within that is cut short. */
static glanz_us item_end(const struct glanz_control *control, const struct player *player) {
    glanz_us end = player->item_end;
#if GLANZ_SEQUENCES
    for (uint8_t i = 0; i + 1 < player->depth; i++) {
        GLANZ_CONST struct glanz_playlist *list = list_of(control, &player->levels[i]);
        glanz_us own = item_us(list, player->levels[i].turn, item_of(control, &player->levels[i]));
        if (own != 0 && glanz_us_before(player->levels[i].began + own, end)) {
            end = player->levels[i].began + own;
        }
    }
#else
    (void)control;
#endif
    return end;
}

LIST_STATIC uint8_t glanz_list_due(const struct glanz_control *control, glanz_us *due) {
    uint8_t found = GLANZ_PLAYERS;
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        const struct player *player = &control->players[i];
#if GLANZ_SEQUENCES
        if (player->paused) {
            continue;
        }
#endif
        glanz_us at = player->depth == 0 ? NEVER : glanz_control_after(control, item_end(control, player));
        if (at < *due) {
            *due = at;
            found = i;
        }
    }
    return found;
}

/* Leave whole rounds out that lie between two times. @return the time at which to go on. */
static glanz_us leave_rounds_out(const struct glanz_control *control, struct player *player, glanz_us at, glanz_us clock) {
    struct level *level = &player->levels[0];
    glanz_us round = round_us(control, level->list);
    glanz_us passed = clock - at;
    if (list_of(control, level)->rounds == 0 && passed > round) {
        glanz_us rounds = passed / round;
        level->rounds = (uint16_t)(level->rounds + (uint16_t)rounds);
        at += rounds * round;
    }
    return at;
}

LIST_STATIC glanz_status glanz_list_go(struct glanz_control *control, uint8_t number, glanz_us clock) {
    struct player *player = &control->players[number];
    glanz_us at = item_end(control, player);
#if GLANZ_SEQUENCES
    for (uint8_t i = 0; i + 1 < player->depth; i++) { /* a playlist within that is cut short: its level goes on */
        glanz_us own =
            item_us(list_of(control, &player->levels[i]), player->levels[i].turn, item_of(control, &player->levels[i]));
        if (own != 0 && player->levels[i].began + own == at) {
            player->depth = (uint8_t)(i + 1);
        }
    }
#endif
    at = leave_rounds_out(control, player, at, clock); /* the clock leapt */
    if (go_on(control, player)) {
        return show_item(control, player, at);
    }
#if GLANZ_SEQUENCES
    return finish(control, player, at);
#else
    stop_player(control, player, at);
    return GLANZ_OK;
#endif
}

/* ---- actions ---- */

/* A player of a playlist, or of one that it is within; before others, one that can be seen. */
static struct player *find_player(struct glanz_control *control, uint8_t list) {
    struct player *found = NULL;
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        for (uint8_t k = 0; k < control->players[i].depth; k++) {
            if (control->players[i].levels[k].list == list) {
#if GLANZ_SEQUENCES
                found = found == NULL || shows_on(control, &control->players[i]) != 0 ? &control->players[i] : found;
#else
                found = &control->players[i];
#endif
            }
        }
    }
    return found;
}

#if GLANZ_SEQUENCES
/* The segments on which the calendar plays: a hand gives them up, or takes them up again. */
static void hold(struct glanz_control *control, const struct player *player, uint8_t by_hand) {
    for (uint8_t i = 0; i < control->show->segment_count && player->entry != GLANZ_ALL; i++) {
        if (control->segments[i].claimed == player->entry) {
            control->segments[i].by_hand = by_hand;
        }
    }
}
#endif

/* A place for a new player: those that share segments with it stop. */
static struct player *new_player(struct glanz_control *control, uint8_t list, uint8_t entry, glanz_us at) {
    struct player *found = NULL;
#if GLANZ_SEQUENCES
    segment_mask mask = list_segments(control->show, list);
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        struct player *player = &control->players[i];
        if (player->depth != 0 && (player->segments & mask) != 0 && (player->entry == GLANZ_ALL) == (entry == GLANZ_ALL)) {
            if (player->levels[0].list == list) {
                player->depth = 0; /* it begins anew */
            } else {
                stop_player(control, player, at);
            }
        }
        found = player->depth == 0 && found == NULL ? player : found;
    }
    if (found == NULL) { /* the one that has run longest gives way */
        found = &control->players[0];
        for (uint8_t i = 1; i < GLANZ_PLAYERS; i++) {
            found = glanz_us_before(control->players[i].levels[0].began, found->levels[0].began) ? &control->players[i] : found;
        }
        stop_player(control, found, at);
    }
    memset(found, 0, sizeof *found);
    found->segments = mask;
    found->entry = entry;
    found->group = control->undo_group;
#else
    (void)at;
    (void)entry;
    found = &control->players[0];
    memset(found, 0, sizeof *found);
#endif
    found->levels[0].list = list;
    found->depth = 1;
#if GLANZ_SEQUENCES
    found->levels[0].began = at;
#endif
    return found;
}

static glanz_status play(struct glanz_control *control, uint8_t list, uint8_t entry, glanz_us at) {
    struct player *player = new_player(control, list, entry, at);
#if GLANZ_SEQUENCES
    if (entry == GLANZ_ALL && control->show->playlists[list].then == GLANZ_THEN_BACK) {
        if (HANDS(control) != NULL) {
            HANDS(control)->note_base(control, player->segments);
        }
    }
    if (entry != GLANZ_ALL && glanz_control_after(control, at) == 0 && glanz_us_before(at, control->last)) {
        return catch_up(control, player, at, control->last); /* it began before */
    }
#endif
    return show_item(control, player, at);
}

static glanz_status go_to(struct glanz_control *control, struct player *player, uint8_t turn, glanz_us at) {
    struct level *level = inner(player);
    level->turn = turn;
#if GLANZ_SEQUENCES
    player->paused = 0;
#endif
    return show_item(control, player, at);
}

#if GLANZ_SEQUENCES
/* The turn of this round at which an item comes. */
static uint8_t turn_of(GLANZ_CONST struct glanz_playlist *list, uint16_t round, uint8_t item) {
    for (uint8_t i = 0; i < list->item_count; i++) {
        if (item_at(list, round, i) == item) {
            return i;
        }
    }
    return 0;
}

static glanz_status pause(struct player *player, uint16_t number, glanz_us at) {
    uint8_t paused = number == 2 ? !player->paused : number != 0;
    if (paused && !player->paused) {
        player->paused_at = at;
    } else if (!paused && player->paused) { /* everything comes so much later */
        glanz_us rest = at - player->paused_at;
        player->item_end += rest;
        player->item_began += rest;
        for (uint8_t i = 0; i < player->depth; i++) {
            player->levels[i].began += rest;
        }
    }
    player->paused = paused;
    return GLANZ_OK;
}

static int play_again(struct glanz_control *control, uint8_t segment, struct glanz_change change) {
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        struct player *player = &control->players[i];
        if (player->depth != 0 && (shows_on(control, player) & BIT(segment)) != 0) {
            const struct level *level = inner(player);
            (void)show_on(control, player, &list_of(control, level)->items[item_of(control, level)], BIT(segment), change);
            return 1;
        }
    }
    return 0;
}

static glanz_status resume(struct glanz_control *control, const struct level *levels, uint8_t depth, uint32_t elapsed_ms,
                           glanz_us at) {
    struct player *player = new_player(control, levels[0].list, GLANZ_ALL, at);
    memcpy(player->levels, levels, sizeof *levels * depth);
    player->depth = depth;
    const struct level *level = inner(player);
    GLANZ_CONST struct glanz_playlist *list = list_of(control, level);
    uint8_t item = item_of(control, level);
    glanz_us gone = ms_time(elapsed_ms);
    glanz_us length = item_us(list, level->turn, item);
    gone = gone < length ? gone : length;
    for (uint8_t i = 0; i < depth; i++) {
        player->levels[i].began = at - gone;
    }
    player->item_began = at - gone;
    player->item_end = at - gone + length;
    struct glanz_change change = {at, 0, 0};
    glanz_control_notify(control, at, GLANZ_HAPPENED_ITEM, level->list, 0, item);
    return show_on(control, player, &list->items[item], shows_on(control, player), change);
}
#endif

/* The function of all actions on playlists. */
static glanz_status act(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, struct glanz_change change) {
    glanz_us at = change.at_us;
    struct player *player = find_player(control, action->target);
    GLANZ_CONST struct glanz_playlist *list = &control->show->playlists[action->target];
    if (action->kind == &glanz_action_stop) {
        for (; player != NULL; player = find_player(control, action->target)) {
#if GLANZ_SEQUENCES
            hold(control, player, 1); /* what it shows stays */
#endif
            stop_player(control, player, at);
        }
        return GLANZ_OK;
    }
#if GLANZ_SEQUENCES
    if (action->kind == &glanz_action_jump && action->number >= list->item_count) {
        return GLANZ_ERR_ABSENT;
    }
    if (action->kind == &glanz_action_pause) {
        return player == NULL ? GLANZ_OK : pause(player, action->number, at);
    }
#endif
    if (action->kind == &glanz_action_play || player == NULL) {
#if GLANZ_SEQUENCES
        if (HANDS(control) != NULL) {
            HANDS(control)->touch(control, list_segments(control->show, action->target), GLANZ_ASPECTS,
                                  list->then != GLANZ_THEN_BACK);
        }
        for (uint8_t i = 0; i < control->show->segment_count; i++) {
            if ((list_segments(control->show, action->target) & BIT(i)) != 0) {
                control->segments[i].by_hand = control->segments[i].claimed != GLANZ_ALL;
            }
        }
#endif
        if (action->kind == &glanz_action_play || action->kind == &glanz_action_next ||
            action->kind == &glanz_action_previous) {
            return play(control, action->target, GLANZ_ALL, at);
        }
        player = new_player(control, action->target, GLANZ_ALL, at);
#if GLANZ_SEQUENCES
        if (list->then == GLANZ_THEN_BACK) {
            if (HANDS(control) != NULL) {
                HANDS(control)->note_base(control, player->segments);
            }
        }
#endif
    }
#if GLANZ_SEQUENCES
    control->changes.by_hand++;
    hold(control, player, 0);
    while (inner(player)->list != action->target && player->depth > 1) {
        player->depth--;
    }
#endif
    struct level *level = inner(player);
    list = list_of(control, level);
    uint8_t turn = level->turn;
    if (action->kind == &glanz_action_previous) {
        turn = (uint8_t)(turn == 0 ? list->item_count - 1 : turn - 1);
#if GLANZ_SEQUENCES
    } else if (action->kind == &glanz_action_jump) {
        turn = turn_of(list, level->rounds, (uint8_t)action->number);
    } else if (action->kind == &glanz_action_random) {
        control->random_state = glanz_hash(control->random_state + 1u);
        turn = list->item_count < 2
                   ? 0
                   : (uint8_t)((turn + 1u + control->random_state % (list->item_count - 1u)) % list->item_count);
#endif
    } else {
        turn = (uint8_t)(turn + 1 >= list->item_count ? 0 : turn + 1);
    }
    return go_to(control, player, turn, at);
}

#define LIST_ACTION(key, what, needs, may)                                                                                     \
    { GLANZ_TEXT(key), GLANZ_DESCRIPTION(what), GLANZ_VALUE_PLAYLIST, needs, may, GLANZ_PART_PLAYLISTS, 0, act }
GLANZ_CONST struct glanz_action_kind glanz_action_play = LIST_ACTION("play", "a playlist from its start", 0, 0);
GLANZ_CONST struct glanz_action_kind glanz_action_stop = LIST_ACTION("stop", "a playlist; what it shows stays", 0, 0);
GLANZ_CONST struct glanz_action_kind glanz_action_next = LIST_ACTION("next", "the next item of a playlist", 0, 0);
GLANZ_CONST struct glanz_action_kind glanz_action_previous = LIST_ACTION("previous", "the item before", 0, 0);
#if GLANZ_SEQUENCES
GLANZ_CONST struct glanz_action_kind glanz_action_pause =
    LIST_ACTION("pause", "a playlist: its item stays, its time stands", 0, GLANZ_WITH_ON);
GLANZ_CONST struct glanz_action_kind glanz_action_jump = LIST_ACTION("jump", "to an item of a playlist", GLANZ_WITH_ITEM, 0);
GLANZ_CONST struct glanz_action_kind glanz_action_random = LIST_ACTION("random", "to another item, drawn by lot", 0, 0);
#endif

uint8_t glanz_control_playing(const struct glanz_control *control, uint8_t number, uint8_t *item) {
    for (uint8_t i = 0; control != NULL && i < GLANZ_PLAYERS; i++) {
        if (control->players[i].depth != 0 && number-- == 0) {
            if (item != NULL) {
                *item = item_of(control, &control->players[i].levels[0]);
            }
            return control->players[i].levels[0].list;
        }
    }
    return GLANZ_ALL;
}

#if GLANZ_SEQUENCES
static void keep_playing(struct glanz_control *control, GLANZ_CONST struct glanz_show *show) {
    for (uint8_t p = 0; p < GLANZ_PLAYERS; p++) {
        struct player *player = &control->players[p];
        for (uint8_t k = 0; k < player->depth; k++) {
            GLANZ_CONST char *name = list_of(control, &player->levels[k])->name;
            uint8_t found = 0;
            while (found < show->playlist_count && !glanz_name_equal(show->playlists[found].name, name)) {
                found++;
            }
            if (found == show->playlist_count || player->levels[k].turn >= show->playlists[found].item_count) {
                player->depth = k; /* what is still there goes on at its next item */
                break;
            }
            player->levels[k].list = found;
        }
        if (player->depth != 0) {
            player->segments = list_segments(show, player->levels[0].list);
            player->dark = 0;
#if GLANZ_CALENDAR
            if (player->entry != GLANZ_ALL) {
                player->entry = control->agenda->same(control, show, player->entry);
                player->depth = player->entry == GLANZ_ALL ? 0 : player->depth;
            }
#endif
        }
    }
}
#endif

#if defined(__AVR__) && !GLANZ_SEQUENCES
GLANZ_CONST struct glanz_playlists_part glanz_part_playlists = {1};
#else
GLANZ_CONST struct glanz_playlists_part glanz_part_playlists = {
    glanz_list_due, glanz_list_go,
#if GLANZ_SEQUENCES
    list_segments,  play,          stop_player, keep_playing, play_again, resume,
#endif
};
#endif
