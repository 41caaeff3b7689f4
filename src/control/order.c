/* SPDX-License-Identifier: MIT */
/* Which item of a playlist comes when, and how long it takes: questions only, nothing changes. */
#include "play.h"

#if GLANZ_SEQUENCES
segment_mask glanz_list_segments(GLANZ_CONST struct glanz_show *show, uint8_t list) {
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
uint8_t glanz_list_item(GLANZ_CONST struct glanz_playlist *list, uint16_t round, uint8_t turn) {
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
uint8_t glanz_list_item(GLANZ_CONST struct glanz_playlist *list, uint16_t round, uint8_t turn) {
    (void)list;
    (void)round;
    return turn;
}
#endif

glanz_us glanz_list_us(glanz_us ms) {
    return ms > GLANZ_TIME_FAR / 1000u ? GLANZ_TIME_FAR : ms * 1000u;
}

/* How long an item lasts, from its beginning. Of a playlist within: 0 for until its own end. */
glanz_us glanz_list_item_us(GLANZ_CONST struct glanz_playlist *list, uint8_t turn, uint8_t item) {
    GLANZ_CONST struct glanz_item *is = &list->items[item];
#if GLANZ_SEQUENCES
    if (list->timed && turn + 1 < list->item_count) {
        return glanz_list_us(list->items[turn + 1].at_ms - is->at_ms);
    }
    if (is->kind == GLANZ_ITEM_PLAYLIST && !list->timed) {
        return is->hold_ms == 0 ? 0 : glanz_list_us(is->hold_ms);
    }
#else
    (void)turn;
#endif
    return glanz_list_us((glanz_us)is->fade_ms + is->hold_ms);
}

#if GLANZ_SEQUENCES
/* How long a round of a playlist takes, with those within it. */
glanz_us glanz_list_round_us(const struct glanz_control *control, uint8_t index) {
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
            sum[depth - 1] += shorter(glanz_list_item_us(lists[depth - 1], item, item), times(sum[depth], list->rounds));
            continue;
        }
        uint8_t item = at[depth - 1];
        if (list->items[item].kind == GLANZ_ITEM_PLAYLIST && depth < GLANZ_NESTING) {
            lists[depth] = &control->show->playlists[list->items[item].preset];
            sum[depth] = 0;
            at[depth++] = 0;
            continue;
        }
        sum[depth - 1] += glanz_list_item_us(list, item, item);
        at[depth - 1]++;
    }
}
#else
glanz_us glanz_list_round_us(const struct glanz_control *control, uint8_t index) {
    GLANZ_CONST struct glanz_playlist *list = &control->show->playlists[index];
    glanz_us round = 0;
    for (uint8_t i = 0; i < list->item_count; i++) {
        round += glanz_list_item_us(list, i, i);
    }
    return round;
}
#endif
