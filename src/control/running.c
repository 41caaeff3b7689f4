/* SPDX-License-Identifier: MIT */
/* What is showing as a record, to be resumed after a restart: "GR", format, number of parts, lightness of the whole, number of
 * playlists, for each how deep it is, for each level its name, turn and rounds, and the milliseconds since its item began; then
 * parts like a preset's (record.c; by value from format 2), each followed by the aspects taken over by hand. */
#include "record.h"

#if GLANZ_SAVED_MOST > 0

#define RUNNING 0x5247ul /* "GR" */
#define RUNNING_FORMAT 2ul

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

glanz_status glanz_running_pack(const struct glanz_control *control, uint8_t *record, size_t capacity, size_t *count) {
    if (record == NULL || count == NULL || control == NULL || control->show == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    struct writer writer = {record, 0, capacity};
    GLANZ_CONST struct glanz_show *show = control->show;
    uint8_t players = 0;
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
        glanz_record_put(&writer, player->depth, 1);
        for (uint8_t k = 0; k < player->depth; k++) {
            glanz_record_put_name(&writer, show->playlists[player->levels[k].list].name);
            glanz_record_put(&writer, player->levels[k].turn, 1);
            glanz_record_put(&writer, player->levels[k].rounds, 2);
        }
        glanz_us since = (player->paused ? player->paused_at : control->last) - player->item_began;
        glanz_record_put(&writer, since / 1000u > 0xFFFFFFFEu ? 0xFFFFFFFEu : (uint32_t)(since / 1000u), 4);
    }
    uint8_t parts = 0;
    for (uint8_t i = 0; i < show->segment_count; i++) {
        const struct segment *segment = &control->segments[i];
        struct glanz_showing showing;
        if (segment->based && !segment->by_hand) {
            showing = segment->base; /* what shows now passes */
        } else if (glanz_engine_showing(control->engine, i, &showing) != GLANZ_OK) {
            continue;
        }
        (void)put_back(&showing, control, i, 0);
        glanz_record_put_part(&writer, show, show->segments[i].name, &showing, GLANZ_ASPECTS & ~GLANZ_ASPECT_PLAYLIST);
        glanz_record_put(&writer, segment->taken, 1);
        parts++;
    }
    return glanz_record_end(&writer, count, parts);
}

/* Read the players; put them to work when `control` is not NULL. */
static void get_players(struct reader *reader, uint8_t count, struct glanz_control *control,
                        GLANZ_CONST struct glanz_show *show, struct glanz_missed *gone, glanz_us at) {
    for (uint8_t i = 0; i < count && !reader->bad; i++) {
        struct level levels[GLANZ_NESTING];
        uint8_t depth = (uint8_t)glanz_record_get(reader, 1);
        uint8_t whole = depth;
        for (uint8_t k = 0; k < depth && !reader->bad; k++) {
            struct text name = glanz_record_get_name(reader);
            struct level level;
            memset(&level, 0, sizeof level);
            level.list = glanz_record_playlist(show, name);
            level.turn = (uint8_t)glanz_record_get(reader, 1);
            level.rounds = (uint16_t)glanz_record_get(reader, 2);
            int there = level.list < show->playlist_count && level.turn < show->playlists[level.list].item_count;
            if ((!there || k >= GLANZ_NESTING) && whole > k) {
                whole = k;
                if (control != NULL) {
                    glanz_record_miss(gone, &gone->looks, name);
                }
            }
            if (k < whole) {
                levels[k] = level;
            }
        }
        uint32_t elapsed = glanz_record_get(reader, 4);
        if (control != NULL && whole != 0 && !reader->bad) {
            (void)LISTS(control)->resume(control, levels, whole, elapsed, at);
        }
    }
}

glanz_status glanz_running_unpack(struct glanz_control *control, GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects,
                                  const uint8_t *record, size_t count, glanz_us at_us, struct glanz_missed *missed) {
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
        get_players(&reader, players, NULL, control->show, &gone, at_us);
        for (uint8_t i = 0; i < parts && !reader.bad; i++) {
            glanz_record_get_part(&reader, &part, 1, reader.format >= 2);
            uint8_t taken = (uint8_t)glanz_record_get(&reader, 1);
            if (round == 1) {
                uint8_t segment = glanz_record_segment(control->show, part.segment);
                glanz_record_apply(&gone, control, effects, &part, GLANZ_ASPECTS, change);
                if (segment < control->show->segment_count) {
                    control->segments[segment].taken = taken;
                }
            }
        }
        if (reader.bad || reader.at != reader.count) {
            return GLANZ_ERR_DAMAGED;
        }
        if (round == 1) {
            get_players(&at_players, players, control, control->show, &gone, at_us);
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
