/* SPDX-License-Identifier: MIT */
/* What hands and the calendar do with playlists: begin, end, pause, go to an item, resume. */
#include "play.h"

/* A player of a playlist, or of one that it is within; before others, one that can be seen. */
static struct player *find_player(struct glanz_control *control, uint8_t list) {
    struct player *found = NULL;
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        for (uint8_t k = 0; k < control->players[i].depth; k++) {
            if (control->players[i].levels[k].list == list) {
#if GLANZ_SEQUENCES
                found =
                    found == NULL || glanz_player_shows_on(control, &control->players[i]) != 0 ? &control->players[i] : found;
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
    segment_mask mask = glanz_list_segments(control->show, list);
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        struct player *player = &control->players[i];
        if (player->depth != 0 && (player->segments & mask) != 0 && (player->entry == GLANZ_ALL) == (entry == GLANZ_ALL)) {
            if (player->levels[0].list == list) {
                player->depth = 0; /* it begins anew */
            } else {
                glanz_player_stop(control, player, at);
            }
        }
        found = player->depth == 0 && found == NULL ? player : found;
    }
    if (found == NULL) { /* the one that has run longest gives way */
        found = &control->players[0];
        for (uint8_t i = 1; i < GLANZ_PLAYERS; i++) {
            found = glanz_us_before(control->players[i].levels[0].began, found->levels[0].began) ? &control->players[i] : found;
        }
        glanz_player_stop(control, found, at);
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

#if GLANZ_SEQUENCES
static void note_base(struct glanz_control *control, GLANZ_CONST struct glanz_playlist *list, segment_mask segments) {
    if (list->then == GLANZ_THEN_BACK && HANDS(control) != NULL) {
        HANDS(control)->note_base(control, segments);
    }
}
#endif

static glanz_status play(struct glanz_control *control, uint8_t list, uint8_t entry, glanz_us at) {
    struct player *player = new_player(control, list, entry, at);
#if GLANZ_SEQUENCES
    if (entry == GLANZ_ALL) {
        note_base(control, &control->show->playlists[list], player->segments);
    }
    if (entry != GLANZ_ALL && glanz_control_after(control, at) == 0 && glanz_us_before(at, control->last)) {
        return glanz_player_catch_up(control, player, at, control->last); /* it began before */
    }
#endif
    return glanz_player_show(control, player, at);
}

static glanz_status go_to(struct glanz_control *control, struct player *player, uint8_t turn, glanz_us at) {
    struct level *level = inner(player);
    level->turn = turn;
#if GLANZ_SEQUENCES
    player->paused = 0;
#endif
    return glanz_player_show(control, player, at);
}

#if GLANZ_SEQUENCES
/* The turn of this round at which an item comes. */
static uint8_t turn_of(GLANZ_CONST struct glanz_playlist *list, uint16_t round, uint8_t item) {
    for (uint8_t i = 0; i < list->item_count; i++) {
        if (glanz_list_item(list, round, i) == item) {
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

static int play_again(struct glanz_control *control, uint8_t segment, const struct glanz_change *change) {
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        struct player *player = &control->players[i];
        if (player->depth != 0 && (glanz_player_shows_on(control, player) & BIT(segment)) != 0) {
            const struct level *level = inner(player);
            (void)glanz_player_show_on(control, player, &list_of(control, level)->items[item_of(control, level)], BIT(segment),
                                       change);
            return 1;
        }
    }
    return 0;
}

#define CATCH_UP_MOST 10000 /* items that are gone through at once */

static glanz_status resume(struct glanz_control *control, const struct player *was, glanz_us at) {
    struct player *player = new_player(control, was->levels[0].list, GLANZ_ALL, at);
    note_base(control, &control->show->playlists[was->levels[0].list], player->segments);
    memcpy(player->levels, was->levels, sizeof player->levels);
    player->depth = was->depth;
    player->paused = was->paused;
    player->paused_at = at;
    player->item_began = was->item_began;
    const struct level *level = inner(player);
    if (list_of(control, level)->items[item_of(control, level)].kind == GLANZ_ITEM_PLAYLIST) {
        glanz_player_enter(control, player, was->item_began); /* that was another one in the show of then */
    } else {
        player->item_end = was->item_began + glanz_list_item_us(list_of(control, level), level->turn, item_of(control, level));
    }
    for (uint16_t i = 0; i < CATCH_UP_MOST && !player->paused; i++) {
        glanz_us next = glanz_player_item_end(control, player);
        if (glanz_us_before(at, next)) {
            break;
        }
        if (!glanz_player_next(control, player, &next, at)) {
            return glanz_player_finish(control, player, at);
        }
        glanz_player_enter(control, player, next);
    }
    level = inner(player);
    struct glanz_change change = {at, 0, 0};
    uint8_t item = item_of(control, level);
    if (list_of(control, level)->items[item].kind == GLANZ_ITEM_PLAYLIST) { /* too deep, in a show that is another now */
        player->depth = 0;
        return GLANZ_ERR_SHOW;
    }
    glanz_control_notify(control, at, GLANZ_HAPPENED_ITEM, level->list, 0, item);
    return glanz_player_show_on(control, player, &list_of(control, level)->items[item], glanz_player_shows_on(control, player),
                                &change);
}
#endif

#if GLANZ_SEQUENCES
/* A hand has its say on the segments of a playlist: what the calendar shows there is given up. */
static void take_over(struct glanz_control *control, uint8_t index) {
    segment_mask segments = glanz_list_segments(control->show, index);
    if (HANDS(control) != NULL) {
        HANDS(control)->touch(control, segments, GLANZ_ASPECTS, control->show->playlists[index].then != GLANZ_THEN_BACK);
    }
    for (uint8_t i = 0; i < control->show->segment_count; i++) {
        if ((segments & BIT(i)) != 0) {
            control->segments[i].by_hand = control->segments[i].claimed != GLANZ_ALL;
        }
    }
}
#endif

static glanz_status stop_all(struct glanz_control *control, uint8_t list, glanz_us at) {
    for (struct player *player = find_player(control, list); player != NULL; player = find_player(control, list)) {
#if GLANZ_SEQUENCES
        hold(control, player, 1); /* what it shows stays */
#endif
        glanz_player_stop(control, player, at);
    }
    return GLANZ_OK;
}

/* The turn that an action goes to. */
static uint8_t turn_after(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, const struct level *level) {
    GLANZ_CONST struct glanz_playlist *list = list_of(control, level);
    uint8_t turn = level->turn;
    if (action->kind == &glanz_action_previous) {
        return (uint8_t)(turn == 0 ? list->item_count - 1 : turn - 1);
    }
#if GLANZ_SEQUENCES
    if (action->kind == &glanz_action_jump) {
        return turn_of(list, level->rounds, (uint8_t)action->number);
    }
    if (action->kind == &glanz_action_random) {
        control->random_state = glanz_hash(control->random_state + 1u);
        return list->item_count < 2
                   ? 0
                   : (uint8_t)((turn + 1u + control->random_state % (list->item_count - 1u)) % list->item_count);
    }
#endif
    return (uint8_t)(turn + 1 >= list->item_count ? 0 : turn + 1);
}

/* The function of all actions on playlists. */
static glanz_status act(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                        const struct glanz_change *change) {
    glanz_us at = change->at_us;
    struct player *player = find_player(control, action->target);
    if (action->kind == &glanz_action_stop) {
        return stop_all(control, action->target, at);
    }
#if GLANZ_SEQUENCES
    GLANZ_CONST struct glanz_playlist *list = &control->show->playlists[action->target];
    if (action->kind == &glanz_action_jump && action->number >= list->item_count) {
        return GLANZ_ERR_ABSENT;
    }
    if (action->kind == &glanz_action_pause) {
        control->changes.by_hand++;
        return player == NULL ? GLANZ_OK : pause(player, action->number, at);
    }
#endif
    if (action->kind == &glanz_action_play || player == NULL) {
#if GLANZ_SEQUENCES
        take_over(control, action->target);
#endif
        if (action->kind == &glanz_action_play || action->kind == &glanz_action_next ||
            action->kind == &glanz_action_previous) {
            return play(control, action->target, GLANZ_ALL, at);
        }
        player = new_player(control, action->target, GLANZ_ALL, at);
#if GLANZ_SEQUENCES
        note_base(control, list, player->segments);
#endif
    }
#if GLANZ_SEQUENCES
    control->changes.by_hand++;
    hold(control, player, 0);
    while (inner(player)->list != action->target && player->depth > 1) {
        player->depth--;
    }
#endif
    return go_to(control, player, turn_after(control, action, inner(player)), at);
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
            player->segments = glanz_list_segments(show, player->levels[0].list);
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
    glanz_list_due,      glanz_list_go,
#if GLANZ_SEQUENCES
    glanz_list_segments, play,          glanz_player_stop, keep_playing, play_again, resume,
#endif
};
#endif
