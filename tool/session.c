/* SPDX-License-Identifier: MIT */
/* A session: documents, board, device and input log together. */
#include "session.h"
#include "effects.h"
#include "rows.h"

#include <stdlib.h>
#include <string.h>
#include <unistd.h>

/* ---- telling ---- */

static const char *event_name(uint8_t event) {
    return event < GLANZ_EVENT_RISES ? glanz_words_events[event] : glanz_names_of_events[event - GLANZ_EVENT_RISES];
}

void session_tell(const struct glanz_happening *happening, void *user) {
    struct session *session = (struct session *)user;
    GLANZ_CONST struct glanz_show *show = glanz_device_show(session->device);
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(session->device);
    if (session->events == NULL) {
        return;
    }
    if (happening->description == GLANZ_HAPPENED_EVENT && happening->event >= GLANZ_EVENT_TURNED_UP &&
        happening->event <= GLANZ_EVENT_TURNED_DOWN_FAST) {
        return; /* many a second: what is done at them is told */
    }
    fprintf(session->events, "%9.3f s  ", (double)happening->at_us / 1e6);
    switch (happening->description) {
    case GLANZ_HAPPENED_EVENT:
        fprintf(session->events, "%s: %s\n", session_signal(session, happening->index), event_name(happening->event));
        break;
    case GLANZ_HAPPENED_TRIGGER: fprintf(session->events, "trigger \"%s\"\n", show->triggers[happening->index].name); break;
    case GLANZ_HAPPENED_PRESET: fprintf(session->events, "preset \"%s\"\n", show->presets[happening->index].name); break;
    case GLANZ_HAPPENED_ITEM:
        fprintf(session->events, "playlist \"%s\", item %d\n", show->playlists[happening->index].name, happening->item + 1);
        break;
    case GLANZ_HAPPENED_STOP:
        fprintf(session->events, "playlist \"%s\" stops\n", show->playlists[happening->index].name);
        break;
    case GLANZ_HAPPENED_ENTRY:
        fprintf(session->events, "calendar \"%s\" begins\n", show->entries[happening->index].name);
        break;
    case GLANZ_HAPPENED_END: fprintf(session->events, "calendar \"%s\" ends\n", show->entries[happening->index].name); break;
    case GLANZ_HAPPENED_SLEEP: fprintf(session->events, happening->event ? "goes to sleep\n" : "wakes\n"); break;
    case GLANZ_HAPPENED_SAVED:
        fprintf(session->events, happening->index == GLANZ_ALL ? "what is showing is kept\n" : "the save is confirmed\n");
        break;
    case GLANZ_HAPPENED_UNSAVED: fprintf(session->events, "could not be saved: the store is full or failing\n"); break;
    case GLANZ_HAPPENED_RANGE:
        fprintf(session->events, "%s: %s\n", rig->inputs[happening->index].name,
                happening->item ? "has learnt its range" : "has the range that the rig says");
        break;
    case GLANZ_HAPPENED_LOST:
    default: fprintf(session->events, "%s: edges came too fast, some were lost\n", rig->inputs[happening->index].name); break;
    }
}

void session_say(struct session *session, const char *text, const char *name) {
    if (session->events != NULL) {
        fprintf(session->events, "%9.3f s  %s%s%s%s\n", (double)glanz_device_now(session->device) / 1e6, text,
                name == NULL ? "" : " \"", name == NULL ? "" : name, name == NULL ? "" : "\"");
    }
}

/* ---- inputs ---- */

/* A name as a JSON string; names have no control characters. */
static void quote(FILE *file, const char *name) {
    fputc('"', file);
    for (; *name != '\0'; name++) {
        if (*name == '"' || *name == '\\') {
            fputc('\\', file);
        }
        fputc(*name, file);
    }
    fputc('"', file);
}

void session_push(struct session *session, uint8_t input, uint16_t level, uint64_t at_us) {
    if (session->record != NULL) {
        fprintf(session->record, "{\"at\": \"%llu us\", \"input\": ", (unsigned long long)at_us);
        quote(session->record, glanz_device_rig(session->device)->inputs[input].name);
        fprintf(session->record, ", \"level\": %u}\n", level);
    }
    if (input < SESSION_HANDS) {
        hand_note(&session->hands[input], &glanz_device_rig(session->device)->inputs[input], level);
    }
    (void)glanz_device_push(session->device, input, level, (uint32_t)at_us);
}

static void plan_edge(struct session *session, uint64_t at_us, uint8_t input, uint16_t level) {
    if (session->planned < (int)(sizeof session->plan / sizeof session->plan[0])) {
        int at = session->planned++;
        while (at > 0 && session->plan[at - 1].at_us > at_us) {
            session->plan[at] = session->plan[at - 1];
            at--;
        }
        session->plan[at].at_us = at_us;
        session->plan[at].input = input;
        session->plan[at].level = level;
    }
}

void session_press(struct session *session, uint8_t input, uint64_t at_us, uint64_t for_us) {
    uint32_t times[16];
    uint8_t levels[16];
    uint8_t low = glanz_device_rig(session->device)->inputs[input].pressed_low;
    for (int end = 0; end < 2; end++) {
        uint64_t begin = at_us + (end ? for_us : 0);
        uint8_t count = glanz_bounce(times, levels, 16, 0, end ? low : !low, session->presses * 2 + (uint32_t)end + 1);
        for (uint8_t i = 0; i < count; i++) {
            plan_edge(session, begin + times[i], input, levels[i]);
        }
    }
    session->presses++;
}

int session_turn(struct session *session, uint8_t input, int64_t to, int by, uint64_t at_us, uint64_t over_us) {
    GLANZ_CONST struct glanz_input *is = &glanz_device_rig(session->device)->inputs[input];
    if (!hand_can(is) || input >= SESSION_HANDS) {
        return 0;
    }
    hand_move(&session->hands[input], is, to, by, at_us, over_us);
    return 1;
}

/* The hand whose next reading comes first; NULL: none moves. */
static struct hand *next_hand(struct session *session) {
    struct hand *first = NULL;
    for (int i = 0; i < SESSION_HANDS; i++) {
        struct hand *hand = &session->hands[i];
        if (hand->moves && (first == NULL || hand->next_us < first->next_us)) {
            first = hand;
        }
    }
    return first;
}

static void read_hand(struct session *session, struct hand *hand) {
    struct hand_reading readings[HAND_READINGS];
    uint64_t at_us = hand->next_us;
    uint8_t input = (uint8_t)(hand - session->hands);
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(session->device);
    if (input >= rig->input_count) { /* another rig has come */
        hand->moves = 0;
        return;
    }
    int count = hand_read(hand, &rig->inputs[input], readings, input + 1u);
    for (int i = 0; i < count; i++) {
        plan_edge(session, at_us + readings[i].after_us, input, readings[i].value);
    }
}

const char *session_signal(const struct session *session, uint8_t signal) {
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(session->device);
    GLANZ_CONST struct glanz_show *show = glanz_device_show(session->device);
    return signal < rig->input_count                        ? rig->inputs[signal].name
           : signal - rig->input_count < show->signal_count ? show->signals[signal - rig->input_count].name
                                                            : "";
}

int session_input(const struct session *session, const char *name) {
    GLANZ_CONST struct glanz_rig *rig = glanz_device_rig(session->device);
    for (int i = 0; i < rig->input_count; i++) {
        if (strcmp(rig->inputs[i].name, name) == 0) {
            return i;
        }
    }
    return -1;
}

glanz_status session_step(struct session *session) {
    uint64_t frame_us = session->frame * 1000000u / session->frame_rate;
    session->frame++;
    for (;;) { /* log and bouncing edges in the order of their times */
        struct hand *hand = next_hand(session);
        if (hand != NULL && hand->next_us <= frame_us && (session->planned == 0 || hand->next_us < session->plan[0].at_us) &&
            (session->log_at == session->log.count || hand->next_us < session->log.entries[session->log_at].at_us)) {
            read_hand(session, hand);
            continue;
        }
        int logged = session->log_at < session->log.count && session->log.entries[session->log_at].at_us <= frame_us;
        int planned = session->planned > 0 && session->plan[0].at_us <= frame_us;
        if (planned && (!logged || session->plan[0].at_us < session->log.entries[session->log_at].at_us)) {
            struct edge_plan edge = session->plan[0];
            session->planned--;
            memmove(session->plan, session->plan + 1, sizeof session->plan[0] * (size_t)session->planned);
            session_push(session, edge.input, edge.level, edge.at_us);
        } else if (logged && session->off_until_us != 0 && session->log.entries[session->log_at].kind != ENTRY_POWER) {
            session->log_at++; /* nobody hears it */
        } else if (logged) {
            session_do(session, &session->log.entries[session->log_at++]);
        } else {
            break;
        }
    }
    session->now_us = frame_us;
    glanz_board_time(session->board, frame_us);
    session_listen(session, frame_us);
    if (session->off_until_us != 0) {
        if (frame_us < session->off_until_us) {
            return GLANZ_OK;
        }
        session_power_on(session);
    }
    glanz_status status = glanz_device_frame(session->device, (uint32_t)frame_us);
    glanz_device_idle(session->device, 1000000u / session->frame_rate / 2u);
    return status;
}

void session_seen(uint8_t *rgb, const struct session *session, uint8_t output, uint16_t led) {
    if (session->single_frames) {
        glanz_lit_coded(rgb, glanz_board_lit(session->board, output, led));
        return;
    }
    uint8_t depth = glanz_engine_dither(glanz_device_engine(session->device)).depth;
    glanz_board_seen(rgb, session->board, output, led, (1000000u << depth) / session->frame_rate);
}

/* ---- opening ---- */

static int load_rig(struct session *session, const char *rig_path) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    struct text text;
    if (!text_read(&text, rig_path)) {
        return EXIT_FILE;
    }
    if (document_rig(&session->rig, text, &fault) != GLANZ_OK) {
        complain(rig_path, &fault);
        return EXIT_REFUSED;
    }
    return EXIT_GOOD;
}

#define RECORD_ROOM 65000u
#define KEYS 256

struct glanz_store *store_open(void **memory, struct glanz_board *board, const char *path) {
    struct glanz_store *store = NULL;
    const struct glanz_medium *medium = glanz_board_medium(board);
    size_t size = glanz_store_size(medium, KEYS, RECORD_ROOM);
    *memory = size == 0 ? NULL : malloc(size);
    glanz_status status =
        *memory == NULL ? GLANZ_ERR_MEMORY : glanz_store_start(&store, *memory, size, medium, KEYS, RECORD_ROOM);
    if (status != GLANZ_OK) {
        complain_plain("cannot read the store %s: %s", path, status_words(status));
        return NULL;
    }
    return store;
}

#define KEPT_BYTES (4u << 20) /* for pictures of the store */

/* Pictures that the store keeps. One that does not check is left out, and told. */
static int load_kept(struct session *session) {
    uint8_t damaged = 0;
    if (session->setup.store == NULL) {
        return EXIT_GOOD;
    }
    session->store = store_open(&session->store_memory, session->board, session->setup.store);
    if (session->store == NULL) {
        return EXIT_FILE;
    }
    struct glanz_store_state state;
    glanz_store_look(session->store, &state);
    if (state.damaged != 0) {
        complain_plain("%u places in %s are torn or damaged; what was confirmed there before counts", state.damaged,
                       session->setup.store);
    }
    session->kept_memory = (uint8_t *)malloc(KEPT_BYTES);
    glanz_status status = session->kept_memory == NULL
                              ? GLANZ_ERR_MEMORY
                              : glanz_pictures_load(session->store, session->kept_memory, KEPT_BYTES, session->kept.pictures,
                                                    (uint8_t)(sizeof session->kept.pictures / sizeof session->kept.pictures[0]),
                                                    &session->kept.count, &damaged);
    if (status != GLANZ_OK) {
        complain_plain("cannot read the pictures in %s: %s", session->setup.store, status_words(status));
        return EXIT_FILE;
    }
    if (damaged != 0) {
        complain_plain("%u pictures in %s are damaged and were left out", damaged, session->setup.store);
    }
    return EXIT_GOOD;
}

/* @param text the show; taken over. */
static int load(struct session *session, struct text text, const char *show_path, const char *inputs) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    if (document_show(&session->shows[0], text, session->rig.rig, &session->kept, &fault) != GLANZ_OK) {
        complain(show_path, &fault);
        return EXIT_REFUSED;
    }
    tell_missing(stderr, session->shows[0].show);
    text_add(session->shows[0].text.bytes, session->shows[0].text.count, &session->begun);
    if (inputs != NULL) {
        if (!text_read(&text, inputs)) {
            return EXIT_FILE;
        }
        glanz_status status = log_read(&session->log, text.bytes, text.count, &fault);
        text_free(&text);
        if (status != GLANZ_OK) {
            complain(inputs, &fault);
            return EXIT_REFUSED;
        }
    }
    return EXIT_GOOD;
}

/* What the setup names is heard at the first input for sound. */
static int hear_from_start(struct session *session, const char *rig_path) {
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    GLANZ_CONST struct glanz_rig *rig = session->rig.rig;
    uint8_t input = 0;
    while (input < rig->input_count && rig->inputs[input].kind != GLANZ_INPUT_SOUND) {
        input++;
    }
    if (input == rig->input_count) {
        complain_plain("%s has no input for sound to hear %s", rig_path, session->setup.sound);
        return EXIT_REFUSED;
    }
    if (session_hear(session, input, session->setup.sound, 0, &fault) != GLANZ_OK) {
        complain(NULL, &fault);
        return EXIT_FILE;
    }
    return EXIT_GOOD;
}

const char *session_lent_store;
const char *session_serial_line;

/* A copy of the image that is only to be seen. */
static int copy_store(struct session *session) {
    struct text image;
    if (session_lent_store == NULL || session->setup.store != NULL) {
        return EXIT_GOOD;
    }
    if (!text_read(&image, session_lent_store)) {
        return EXIT_FILE;
    }
    strcpy(session->lent, "/tmp/glanz-store-XXXXXX");
    int descriptor = mkstemp(session->lent);
    FILE *file = descriptor < 0 ? NULL : fdopen(descriptor, "wb");
    int good = file != NULL && fwrite(image.bytes, 1, image.count, file) == image.count;
    good = (file == NULL || fclose(file) == 0) && good;
    text_free(&image);
    session->setup.store = session->lent;
    if (!good) {
        complain_plain("cannot make a copy of %s", session_lent_store);
    }
    return good ? EXIT_GOOD : EXIT_FILE;
}

static int open_with(struct session *session, const char *rig_path, struct text *show, const char *show_path,
                     const char *inputs, const struct glanz_board_setup *setup, uint32_t frame_rate) {
    memset(session, 0, sizeof *session);
    session->trial_show = -1;
    session->log_path = inputs;
    struct glanz_fault fault = GLANZ_FAULT_INIT;
    int code = load_rig(session, rig_path);
    GLANZ_CONST struct glanz_rig *rig = session->rig.rig;
    if (code == EXIT_GOOD) {
        session->setup = *setup;
        session->setup.hardware = setup->hardware == NULL ? rig : setup->hardware;
        session->frame_rate = frame_rate != 0 ? frame_rate : rig->frames_per_s != 0 ? rig->frames_per_s : 100;
        session->setup.serial = setup->serial == NULL ? session_serial_line : setup->serial;
        code = copy_store(session);
    }
    if (code == EXIT_GOOD) {
        session->board = glanz_board_open(&session->setup, &fault);
        if (session->lent[0] != '\0') { /* it is open, or never will be */
            unlink(session->lent);
        }
        if (session->board == NULL) {
            int store = strstr(fault.text, "cannot open the") != NULL; /* a file, and no matter of the rig's */
            complain(store ? NULL : rig_path, &fault);
            code = store ? EXIT_FILE : EXIT_REFUSED;
        }
    }
    code = code == EXIT_GOOD ? load_kept(session) : code;
    if (code == EXIT_GOOD) {
        struct text text = *show;
        memset(show, 0, sizeof *show);
        code = load(session, text, show_path, inputs);
    }
    if (code != EXIT_GOOD) {
        session_close(session);
        return code;
    }
    /* room for a larger rig on trial, and for patches whose looks remember more */
    session->memory_size =
        glanz_device_size(rig, GLANZ_SEGMENTS_MOST) + 4 * glanz_show_memory(session->shows[0].show, rig) + 262144;
    session->memory = calloc(1, session->memory_size);
    if (session->memory == NULL || !session_open_ears(session) || session_start(session, &fault) != GLANZ_OK) {
        complain(show_path, &fault);
        session_close(session);
        return EXIT_REFUSED;
    }
    code = setup->sound == NULL ? EXIT_GOOD : hear_from_start(session, rig_path);
    if (code != EXIT_GOOD) {
        session_close(session);
    }
    return code;
}

int session_open(struct session *session, const char *rig_path, const char *show_path, const char *inputs,
                 const struct glanz_board_setup *setup, uint32_t frame_rate) {
    struct text show;
    if (!text_read(&show, show_path)) {
        memset(session, 0, sizeof *session);
        return EXIT_FILE;
    }
    int code = open_with(session, rig_path, &show, show_path, inputs, setup, frame_rate);
    text_free(&show);
    return code;
}

int session_open_text(struct session *session, const char *rig_path, struct text *show, const struct glanz_board_setup *setup) {
    int code = open_with(session, rig_path, show, "the show", NULL, setup, 0);
    text_free(show);
    return code;
}

glanz_status session_start(struct session *session, struct glanz_fault *fault) {
    struct glanz_setup start;
    memset(&start, 0, sizeof start);
    start.rig = session->rig.rig;
    start.show = session->shows[session->show].show;
    start.port = glanz_board_port(session->board);
    start.parts = &glanz_everything;
    start.segment_capacity = GLANZ_SEGMENTS_MOST;
    start.effects = effects_all();
    start.store = session->store;
    start.sounds = session->sounds;
    start.sound_count = SESSION_EARS;
    start.values = session->values;
    start.values_size = sizeof session->values;
    glanz_status status = glanz_device_start(&session->device, session->memory, session->memory_size, &start, fault);
    if (status == GLANZ_OK) {
        glanz_device_listen(session->device, session_tell, session);
    }
    return status;
}

void session_close(struct session *session) {
    glanz_board_close(session->board);
    session_close_ears(session);
    free(session->memory);
    free(session->kept_memory);
    free(session->store_memory);
    for (int i = 0; i < SESSION_SHOWS; i++) {
        document_free(&session->shows[i]);
    }
    document_free(&session->trial);
    document_free(&session->rig);
    text_free(&session->begun);
    log_free(&session->log);
    memset(session, 0, sizeof *session);
}
