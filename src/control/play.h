/* SPDX-License-Identifier: MIT */
/* Playlists and players, as the files that deal with them see them. Private to src/control. */
#ifndef GLANZ_CONTROL_PLAY_H
#define GLANZ_CONTROL_PLAY_H

#include "control.h"

static inline GLANZ_CONST struct glanz_playlist *list_of(const struct glanz_control *control, const struct level *level) {
    return &control->show->playlists[level->list];
}

static inline struct level *inner(struct player *player) {
    return &player->levels[GLANZ_SEQUENCES ? player->depth - 1 : 0];
}

/* ---- questions: order.c ---- */

/* Milliseconds as microseconds, at most GLANZ_TIME_FAR. */
glanz_us glanz_list_us(glanz_us ms);
/* The item at a turn of a round: the turn's own, or drawn. */
uint8_t glanz_list_item(GLANZ_CONST struct glanz_playlist *list, uint16_t round, uint8_t turn);
/* How long an item lasts, from its beginning. Of a playlist within: 0 for until its own end. */
glanz_us glanz_list_item_us(GLANZ_CONST struct glanz_playlist *list, uint8_t turn, uint8_t item);
/* How long a round of a playlist takes, with those within it. */
glanz_us glanz_list_round_us(const struct glanz_control *control, uint8_t index);
#if GLANZ_SEQUENCES
/* Segments that its presets touch, and those of playlists within. */
segment_mask glanz_list_segments(GLANZ_CONST struct glanz_show *show, uint8_t list);

static inline glanz_us times(glanz_us length, uint16_t rounds) {
    return rounds != 0 && length < GLANZ_TIME_FAR / rounds ? length * rounds : GLANZ_TIME_FAR;
}

static inline glanz_us shorter(glanz_us own, glanz_us whole) { /* an item's own time, 0 for none; a playlist's within it */
    return own != 0 && own < whole ? own : whole;
}
#endif

static inline uint8_t item_of(const struct glanz_control *control, const struct level *level) {
    return glanz_list_item(list_of(control, level), level->rounds, level->turn);
}

/* ---- players: play.c ---- */

/* Go into the item that a player has come to, which begins now, and into playlists within it. Nothing is shown. */
void glanz_player_enter(struct glanz_control *control, struct player *player, glanz_us at);
/* The end of the player's item: the item's own, or that of a playlist within that is cut short. */
glanz_us glanz_player_item_end(const struct glanz_control *control, const struct player *player);
/* One item on. @param at filled: when. @return 0 when the playlist is through. */
int glanz_player_next(struct glanz_control *control, struct player *player, glanz_us *at, glanz_us clock);
/* Show the item that a player has come to. */
glanz_status glanz_player_show(struct glanz_control *control, struct player *player, glanz_us at);
void glanz_player_stop(struct glanz_control *control, struct player *player, glanz_us at);
#if GLANZ_SEQUENCES
/* The outermost playlist is through: what comes then. */
glanz_status glanz_player_finish(struct glanz_control *control, struct player *player, glanz_us at);
/* Segments on which a player shows now. */
segment_mask glanz_player_shows_on(const struct glanz_control *control, const struct player *player);
/* Show an item on some segments. */
glanz_status glanz_player_show_on(struct glanz_control *control, struct player *player, GLANZ_CONST struct glanz_item *item,
                                  segment_mask mask, const struct glanz_change *change);
/* Put a player that began its playlist at a time to where it is now, and show that. What was in between is not shown. */
glanz_status glanz_player_catch_up(struct glanz_control *control, struct player *player, glanz_us began, glanz_us now);
#endif

#endif
