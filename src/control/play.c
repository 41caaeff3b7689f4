/* SPDX-License-Identifier: MIT */
/* Players: from item to item of playlists within each other, each at its own exact time. */
#include "play.h"

#if GLANZ_SEQUENCES
/* Segments on which a player shows now. */
segment_mask glanz_player_shows_on(const struct glanz_control *control, const struct player *player) {
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
                        const struct glanz_change *change) {
    glanz_status status = GLANZ_OK;
    for (uint8_t i = 0; i < control->show->segment_count && status == GLANZ_OK; i++) {
        struct glanz_showing showing;
        if ((mask & BIT(i)) == 0 || glanz_engine_showing(control->engine, i, &showing) != GLANZ_OK) {
            continue;
        }
        if (!on && showing.on) {
            status = glanz_engine_switch(control->engine, i, 0, *change);
            player->dark |= BIT(i);
        } else if (on && (player->dark & BIT(i)) != 0) {
            status = glanz_engine_switch(control->engine, i, 1, *change);
            player->dark &= ~BIT(i);
        }
    }
    return status;
}

/* Show an item on some segments. */
glanz_status glanz_player_show_on(struct glanz_control *control, struct player *player, GLANZ_CONST struct glanz_item *item,
                                  segment_mask mask, const struct glanz_change *change) {
    if (item->kind == GLANZ_ITEM_DARK) {
        return gap(control, player, mask, 0, change);
    }
    struct glanz_change at_once = {change->at_us, 0, 0};
    segment_mask dark = player->dark & mask;
    glanz_status status = GLANZ_OK;
    if (dark != 0) {
        status = glanz_control_recall(control, item->preset, dark, &at_once);
        status = status != GLANZ_OK ? status : gap(control, player, dark, 1, change);
    }
    return status != GLANZ_OK || (mask & ~dark) == 0 ? status
                                                     : glanz_control_recall(control, item->preset, mask & ~dark, change);
}
#endif

void glanz_player_enter(struct glanz_control *control, struct player *player, glanz_us at) {
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
    player->item_end = at + glanz_list_item_us(list_of(control, level), level->turn, item_of(control, level));
}

/* Show the item that the player has come to. */
glanz_status glanz_player_show(struct glanz_control *control, struct player *player, glanz_us at) {
    struct glanz_change change = {at, 0, 0};
    glanz_player_enter(control, player, at);
    struct level *level = inner(player);
    GLANZ_CONST struct glanz_playlist *list = list_of(control, level);
    uint8_t item = item_of(control, level);
    change.over_ms = list->items[item].fade_ms;
#if GLANZ_SEQUENCES
    segment_mask mask = glanz_player_shows_on(control, player);
    if (mask == 0) {
        return GLANZ_OK; /* it goes on unseen */
    }
    if (glanz_us_before(at, control->last)) { /* it began before, unseen */
        change.at_us = control->last;
        change.over_ms = glanz_control_change_time(control->show, GLANZ_OWN_TIME);
    }
    glanz_control_notify(control, change.at_us, GLANZ_HAPPENED_ITEM, level->list, 0, item);
    if (HANDS(control) != NULL) {
        HANDS(control)->replaced(control, &list->items[item], mask, player->entry == GLANZ_ALL, player->group);
    }
    return glanz_player_show_on(control, player, &list->items[item], mask, &change);
#else
    glanz_control_notify(control, at, GLANZ_HAPPENED_ITEM, level->list, 0, item);
    return glanz_control_recall(control, list->items[item].preset, (segment_mask) ~(segment_mask)0, &change);
#endif
}

void glanz_player_stop(struct glanz_control *control, struct player *player, glanz_us at) {
    uint8_t list = player->levels[0].list;
    player->depth = 0;
#if GLANZ_SEQUENCES
    control->changes.by_itself++;
    for (const struct player *other = control->players; other != control->players + GLANZ_PLAYERS; other++) {
        if (other->depth != 0 && other->levels[0].list == list) {
            return; /* it still plays somewhere */
        }
    }
#endif
    glanz_control_notify(control, at, GLANZ_HAPPENED_STOP, list, 0, item_of(control, &player->levels[0]));
}

#if GLANZ_SEQUENCES
glanz_status glanz_player_finish(struct glanz_control *control, struct player *player, glanz_us at) {
    GLANZ_CONST struct glanz_playlist *list = list_of(control, &player->levels[0]);
    struct glanz_change change = {at, list->then_fade_ms, 0};
    segment_mask mask = glanz_player_shows_on(control, player);
    glanz_status status = GLANZ_OK;
    glanz_player_stop(control, player, at);
    switch (list->then) {
    case GLANZ_THEN_DARK: return gap(control, player, mask, 0, &change);
    case GLANZ_THEN_PRESET: {
        struct glanz_item item = {list->then_preset, list->then_fade_ms, 0, 0, GLANZ_ITEM_PRESET};
        return glanz_player_show_on(control, player, &item, mask, &change);
    }
    case GLANZ_THEN_BACK:
        for (uint8_t i = 0; i < control->show->segment_count && status == GLANZ_OK; i++) {
            struct segment *segment = &control->segments[i];
            if ((mask & BIT(i)) != 0 && segment->based) {
                status = HANDS(control)->show_again(control, i, &segment->base, GLANZ_ASPECTS, &change);
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
/* Put a player that began its playlist at a time to where it is now, and show that. What was in between is not shown. */
glanz_status glanz_player_catch_up(struct glanz_control *control, struct player *player, glanz_us began, glanz_us now) {
    glanz_us since = now - began;
    for (;;) {
        struct level *level = inner(player);
        GLANZ_CONST struct glanz_playlist *list = list_of(control, level);
        glanz_us round = glanz_list_round_us(control, level->list);
        uint32_t rounds = (uint32_t)(since / round);
        if (list->rounds != 0 && rounds >= list->rounds) { /* of the outermost only: those within are as long as their items */
            level->turn = (uint8_t)(list->item_count - 1);
            return glanz_player_finish(control, player, began + times(round, list->rounds));
        }
        level->rounds = (uint16_t)rounds;
        since -= rounds * round;
        uint8_t item = 0;
        for (level->turn = 0; level->turn < list->item_count; level->turn++) {
            item = item_of(control, level);
            glanz_us length = glanz_list_item_us(list, level->turn, item);
            if (list->items[item].kind == GLANZ_ITEM_PLAYLIST) {
                uint8_t within = list->items[item].preset;
                length = shorter(length, times(glanz_list_round_us(control, within), control->show->playlists[within].rounds));
            }
            if (since < length || level->turn + 1 == list->item_count) {
                break;
            }
            since -= length;
        }
        level->began = now - since;
        if (list->items[item].kind != GLANZ_ITEM_PLAYLIST || player->depth == GLANZ_NESTING) {
            return glanz_player_show(control, player, now - since);
        }
        struct level *next = &player->levels[player->depth++];
        memset(next, 0, sizeof *next);
        next->list = list->items[item].preset;
    }
}
#endif

glanz_us glanz_player_item_end(const struct glanz_control *control, const struct player *player) {
    glanz_us end = player->item_end;
#if GLANZ_SEQUENCES
    for (uint8_t i = 0; i + 1 < player->depth; i++) {
        GLANZ_CONST struct glanz_playlist *list = list_of(control, &player->levels[i]);
        glanz_us own = glanz_list_item_us(list, player->levels[i].turn, item_of(control, &player->levels[i]));
        if (own != 0 && glanz_us_before(player->levels[i].began + own, end)) {
            end = player->levels[i].began + own;
        }
    }
#else
    (void)control;
#endif
    return end;
}

uint8_t glanz_list_due(const struct glanz_control *control, glanz_us *due) {
    uint8_t found = GLANZ_PLAYERS;
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        const struct player *player = &control->players[i];
#if GLANZ_SEQUENCES
        if (player->paused) {
            continue;
        }
#endif
        glanz_us at = player->depth == 0 ? NEVER : glanz_control_after(control, glanz_player_item_end(control, player));
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
    glanz_us round = glanz_list_round_us(control, level->list);
    glanz_us passed = clock - at;
    if (list_of(control, level)->rounds == 0 && passed > round) {
        glanz_us rounds = passed / round;
        level->rounds = (uint16_t)(level->rounds + (uint16_t)rounds);
        at += rounds * round;
    }
    return at;
}

int glanz_player_next(struct glanz_control *control, struct player *player, glanz_us *at, glanz_us clock) {
    *at = glanz_player_item_end(control, player);
#if GLANZ_SEQUENCES
    for (uint8_t i = 0; i + 1 < player->depth; i++) { /* a playlist within that is cut short: its level goes on */
        glanz_us own = glanz_list_item_us(list_of(control, &player->levels[i]), player->levels[i].turn,
                                          item_of(control, &player->levels[i]));
        if (own != 0 && player->levels[i].began + own == *at) {
            player->depth = (uint8_t)(i + 1);
        }
    }
#endif
    *at = leave_rounds_out(control, player, *at, clock); /* the clock leapt */
    return go_on(control, player);
}

glanz_status glanz_list_go(struct glanz_control *control, uint8_t number, glanz_us clock) {
    struct player *player = &control->players[number];
    glanz_us at;
    if (glanz_player_next(control, player, &at, clock)) {
        return glanz_player_show(control, player, at);
    }
#if GLANZ_SEQUENCES
    return glanz_player_finish(control, player, at);
#else
    glanz_player_stop(control, player, at);
    return GLANZ_OK;
#endif
}
