/* SPDX-License-Identifier: MIT */
/* What is showing as a record, to be resumed after a restart: "GR", format, number of parts, lightness of the whole, number of
 * playlists, for each how deep it is, for each level its name, turn and rounds, and the milliseconds since its item began; then
 * parts like a preset's (record.c; by value from format 2), each followed by the aspects taken over by hand. */
#include "record.h"

#if GLANZ_SAVED_MOST > 0

#define RUNNING 0x5247ul /* "GR" */
#define RUNNING_FORMAT 3ul
#define PAUSED 128u /* in the byte of how deep a playlist is */

#if GLANZ_SEQUENCES
/* What is there once what passes on a segment, or with GLANZ_ALL on the whole, has passed; as it is where nothing does. After
 * another show was taken only its name is left of what was there: a look stays as it is then. */
static uint16_t put_back(struct glanz_showing *showing, const struct glanz_control *control, uint8_t segment,
                         uint16_t lightness) {
    for (uint8_t i = 0; i < GLANZ_PASSING; i++) {
        const struct passing *passing = &control->passing[i];
        if (passing->aspects == 0 || passing->segment != segment) {
            continue;
        }
        if (segment == GLANZ_ALL) {
            return passing->lightness;
        }
        struct glanz_showing now = *showing;
        if ((passing->aspects & (GLANZ_ASPECT_LOOK | GLANZ_ASPECT_PALETTE)) != 0 && !passing->by_look) {
            *showing = passing->was;
        }
        showing->brightness = (passing->aspects & GLANZ_ASPECT_BRIGHTNESS) != 0 ? passing->was.brightness : now.brightness;
        showing->on = (passing->aspects & GLANZ_ASPECT_ON) != 0 ? passing->was.on : now.on;
    }
    return lightness;
}

int glanz_control_goes_on(const struct glanz_control *control) {
    int any = 0;
    for (uint8_t i = 0; i < GLANZ_PLAYERS && control != NULL; i++) {
        const struct player *player = &control->players[i];
        any = any || (player->depth != 0 && player->entry == GLANZ_ALL && !player->paused);
    }
    return any;
}

static void put_since(struct writer *writer, glanz_us since) {
    glanz_record_put(writer, since / 1000u > 0xFFFFFFFEu ? 0xFFFFFFFEu : (uint32_t)(since / 1000u), 4);
}

glanz_status glanz_running_pack(const struct glanz_control *control, uint8_t *record, size_t capacity, size_t *count) {
    if (record == NULL || count == NULL || control == NULL || control->show == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    struct writer writer = {record, 0, capacity};
    GLANZ_CONST struct glanz_show *show = control->show;
    uint8_t players = 0;
    uint8_t parts = 0;
    segment_mask dark = 0; /* for a gap, which its playlist ends */
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        players = (uint8_t)(players + (control->players[i].depth != 0 && control->players[i].entry == GLANZ_ALL));
    }
    glanz_record_put(&writer, RUNNING | RUNNING_FORMAT << 16, 4);
    uint16_t lightness = control->asleep != 0 ? control->sleep_lightness : glanz_engine_lightness(control->engine);
    glanz_record_put(&writer, put_back(NULL, control, GLANZ_ALL, lightness), 2);
    glanz_record_put(&writer, players, 1);
    for (uint8_t i = 0; i < GLANZ_PLAYERS; i++) {
        const struct player *player = &control->players[i];
        if (player->depth == 0 || player->entry != GLANZ_ALL) {
            continue;
        }
        glanz_us now = player->paused ? player->paused_at : control->last;
        glanz_record_put(&writer, player->depth | (player->paused ? PAUSED : 0u), 1);
        for (uint8_t k = 0; k < player->depth; k++) {
            glanz_record_put_name(&writer, show->playlists[player->levels[k].list].name);
            glanz_record_put(&writer, player->levels[k].turn, 1);
            glanz_record_put(&writer, player->levels[k].rounds, 2);
            put_since(&writer, now - player->levels[k].began);
        }
        put_since(&writer, now - player->item_began);
        dark |= player->dark;
    }
    for (uint8_t i = 0; i < show->segment_count; i++) {
        const struct segment *segment = &control->segments[i];
        struct glanz_showing showing;
        if (segment->based && !segment->by_hand) {
            showing = segment->base; /* what shows now passes */
        } else if (glanz_engine_showing(control->engine, i, &showing) != GLANZ_OK) {
            continue;
        }
        (void)put_back(&showing, control, i, 0);
        showing.on = (dark & BIT(i)) != 0 ? 1 : showing.on;
        glanz_record_put_part(&writer, show, show->segments[i].name, &showing, GLANZ_ASPECTS & ~GLANZ_ASPECT_PLAYLIST);
        glanz_record_put(&writer, segment->taken, 1);
        parts++;
    }
    return glanz_record_end(&writer, count, parts);
}

struct get_players {
    struct glanz_control *control; /* NULL: they are only read */
    GLANZ_CONST struct glanz_show *show;
    struct glanz_missed *gone;
    glanz_us at;
    uint8_t format;
};

/* One player, as deep as the show has it. @param since_us that has passed since the record was made. @return 0: none. */
static int get_player(struct player *player, struct reader *reader, const struct get_players *get, glanz_us since_us) {
    uint8_t depth = (uint8_t)glanz_record_get(reader, 1);
    memset(player, 0, sizeof *player);
    player->paused = get->format >= 3 && (depth & PAUSED) != 0;
    since_us = player->paused ? 0 : since_us;
    depth = get->format >= 3 ? depth & (PAUSED - 1u) : depth;
    player->depth = depth;
    glanz_us began = 0;
    for (uint8_t k = 0; k < depth && !reader->bad; k++) {
        struct text name = glanz_record_get_name(reader);
        struct level level;
        level.list = glanz_record_playlist(get->show, name);
        level.turn = (uint8_t)glanz_record_get(reader, 1);
        level.rounds = (uint16_t)glanz_record_get(reader, 2);
        began = get->at - since_us - (get->format >= 3 ? glanz_record_get(reader, 4) * (glanz_us)1000u : 0);
        level.began = began;
        int there = level.list < get->show->playlist_count && level.turn < get->show->playlists[level.list].item_count;
        if ((!there || k >= GLANZ_NESTING) && player->depth > k) {
            player->depth = k;
            if (get->control != NULL) {
                glanz_record_miss(get->gone, &get->gone->looks, name);
            }
        }
        if (k < player->depth) {
            player->levels[k] = level;
        }
    }
    player->item_began = get->at - since_us - glanz_record_get(reader, 4) * (glanz_us)1000u;
    if (reader->bad) { /* how deep it is was not looked at */
        return 0;
    }
    for (uint8_t k = 0; k < player->depth && get->format < 3; k++) {
        player->levels[k].began = player->item_began;
    }
    if (player->depth != depth && player->depth != 0) { /* a playlist within is gone */
        player->item_began = player->levels[player->depth - 1].began;
    }
    return player->depth != 0;
}

glanz_status glanz_running_unpack(struct glanz_control *control, GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects,
                                  const uint8_t *record, size_t count, glanz_us at_us, uint32_t since_ms,
                                  struct glanz_missed *missed) {
    struct reader reader;
    struct part part;
    struct glanz_missed gone;
    uint8_t parts;
    if (control == NULL || control->show == NULL || effects == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (glanz_control_inside(control)) {
        return GLANZ_ERR_STATE;
    }
    memset(&gone, 0, sizeof gone);
    for (uint8_t round = 0; round < 2; round++) { /* looked through first, then shown */
        struct glanz_change change = {at_us, 0, 0};
        glanz_status status = glanz_record_begin(&reader, &parts, RUNNING, RUNNING_FORMAT, record, count);
        if (status != GLANZ_OK) {
            return status;
        }
        uint16_t lightness = (uint16_t)glanz_record_get(&reader, 2);
        uint8_t players = (uint8_t)glanz_record_get(&reader, 1);
        struct reader at_players = reader;
        struct get_players get = {NULL, control->show, &gone, at_us, reader.format};
        struct player player;
        for (uint8_t i = 0; i < players && !reader.bad; i++) {
            (void)get_player(&player, &reader, &get, 0);
        }
        for (uint8_t i = 0; i < parts && !reader.bad; i++) {
            glanz_record_get_part(&reader, &part, 1, reader.format >= 2);
            uint8_t taken = (uint8_t)glanz_record_get(&reader, 1);
            if (round == 1) {
                uint8_t segment = glanz_record_segment(control->show, part.segment);
                glanz_record_apply(&gone, control, effects, &part, GLANZ_ASPECTS, &change);
                if (segment < control->show->segment_count) {
                    control->segments[segment].taken = taken;
                }
            }
        }
        if (reader.bad || reader.at != reader.count) {
            return GLANZ_ERR_DAMAGED;
        }
        if (round == 1) {
            get.control = control;
            for (uint8_t i = 0; i < players; i++) {
                if (get_player(&player, &at_players, &get, since_ms * (glanz_us)1000u)) {
                    (void)LISTS(control)->resume(control, &player, at_us);
                }
            }
            change.over_ms = 1000;
            status = glanz_engine_brightness(control->engine, GLANZ_ALL, lightness, change);
        }
    }
    if (missed != NULL) {
        *missed = gone;
    }
    return GLANZ_OK;
}
#endif

#endif
