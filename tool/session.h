/* SPDX-License-Identifier: MIT */
/* A session: a show that runs from its documents on a simulated board, fed from an input log. The commands and the tests
 * that run a show all run it here. */
#ifndef GLANZ_TOOL_SESSION_H
#define GLANZ_TOOL_SESSION_H

#include <stdio.h>

#include <glanz/linux.h>
#include <glanz/microphone.h>

#include "hand.h"
#include "log.h"

#define SESSION_HANDS 40
#define SESSION_EARS 32 /* inputs for sound: as many as a rig may have inputs */
#define SESSION_SHOWS 8 /* texts of shows that may be in use at once, fading ones and all */

struct session {
    struct document rig;                  /* as started */
    struct document trial;                /* a rig on trial */
    struct document shows[SESSION_SHOWS]; /* free where show is NULL */
    struct text begun;                    /* the show as the device has it when the power comes back */
    int show;                             /* index of the one that runs */
    int trial_show;                       /* the show made for the rig on trial, or -1 */
    struct kept kept;                     /* pictures of the store */
    uint8_t *kept_memory;
    struct log log;
    size_t log_at;
    const char *log_path;
    struct glanz_board_setup setup;
    char lent[40]; /* a copy of an image that is only seen */
    struct glanz_board *board;
    struct glanz_device *device;
    struct glanz_store *store;
    void *memory, *store_memory;
    uint64_t values[4096]; /* what saved presets bring */
    size_t memory_size;
    uint64_t off_until_us; /* the power is cut until then; 0: it is on */
    uint64_t now_us;
    uint32_t frame_rate;
    uint64_t frame; /* frames done */
    FILE *record;   /* all that comes in from outside goes here as an input log */
    FILE *events;   /* what happens goes here as text */
    uint32_t presses;
    int single_frames;   /* looks show the newest frame alone */
    unsigned complaints; /* entries of the log that could not be done */
    struct edge_plan {   /* edges of a switch that are still to come */
        uint64_t at_us;
        uint8_t input;
        uint16_t level;
    } plan[64];
    int planned;
    struct hand hands[SESSION_HANDS]; /* on the inputs */
    struct ear {                      /* at an input for sound */
        struct glanz_sound *sound;
        void *memory;
        struct glanz_microphone *microphone; /* NULL: nothing is heard */
        uint64_t begin_us;                   /* when it began */
        uint64_t samples;                    /* that have been pushed */
        uint32_t rate;
        uint8_t input;
    } ears[SESSION_EARS];
    struct glanz_sound *sounds[SESSION_EARS];
};

/* The serial line that sessions put their frames on; NULL: none. */
extern const char *session_serial_line;
/* The image of a store whose copy sessions have that name none; NULL: none. It is not changed. */
extern const char *session_lent_store;

/* Open a session. Complains and returns an exit code other than 0 on failure. `inputs` may be NULL. The setup's hardware may
 * be NULL: then it is the rig. */
int session_open(struct session *session, const char *rig_path, const char *show_path, const char *inputs,
                 const struct glanz_board_setup *setup, uint32_t frame_rate);
/* The same, of a show that is no file; the text is taken over. */
int session_open_text(struct session *session, const char *rig_path, struct text *show, const struct glanz_board_setup *setup);
void session_close(struct session *session);

/* One frame further: inputs that are due are pushed in, then the frame is made. @return the frame's status. */
glanz_status session_step(struct session *session);

/* Push a raw edge or value in now, and record it. */
void session_push(struct session *session, uint8_t input, uint16_t level, uint64_t at_us);
/* A press of a button that bounces and ends after a while. */
void session_press(struct session *session, uint8_t input, uint64_t at_us, uint64_t for_us);

/* Turn a dial, a knob, a sensor or a value: see hand_move(). @return 0 for a button. */
int session_turn(struct session *session, uint8_t input, int64_t to, int by, uint64_t at_us, uint64_t over_us);
/* The name of a signal. */
const char *session_signal(const struct session *session, uint8_t signal);

/* Apply a merge patch to the running show, all or nothing. */
glanz_status session_patch(struct session *session, const struct text *patch, struct glanz_fault *fault);

/* Another show in place of the one that runs. @return GLANZ_ERR_BUSY: too many before it still fade. */
glanz_status session_show(struct session *session, const struct text *text, struct glanz_fault *fault);

/* The show that runs is read again with the effects as they are now: those that were exchanged go on as their new editions
 * where their numbers and memory are the same, else looks crossfade. All or nothing. */
struct exchanged;
glanz_status session_exchange(struct session *session, const struct exchanged *exchanged, struct glanz_fault *fault);

/* A rig on trial, with a show for it. */
glanz_status session_try_rig(struct session *session, const struct entry *entry, struct glanz_fault *fault);

/* Do an entry of the log; complain when it cannot be done. */
void session_do(struct session *session, const struct entry *entry);
/* The power comes back: the same board, the same flash, and everything from the start. */
void session_power_on(struct session *session);
/* Start the device with the show that runs. */
glanz_status session_start(struct session *session, struct glanz_fault *fault);
/* ---- session_sound.c ---- */
/* Ears for the inputs for sound that a rig has. @return 0: memory is short. */
int session_open_ears(struct session *session);
void session_close_ears(struct session *session);
/* A file is heard at an input, from a time on. */
glanz_status session_hear(struct session *session, uint8_t input, const char *path, uint64_t at_us, struct glanz_fault *fault);
/* Push what is heard up to a time. */
void session_listen(struct session *session, uint64_t now_us);

/* The index of an input, -1: there is none of that name. */
int session_input(const struct session *session, const char *name);
/* A line among the events. `name` may be NULL. */
void session_say(struct session *session, const char *text, const char *name);

/* Start a store on a board's flash. @return NULL without one, or complained. `memory` is to be freed. */
struct glanz_store *store_open(void **memory, struct glanz_board *board, const char *path);

/* How an LED looks: the mean over the dither's period, or of the newest frame alone where the session shows single frames. */
void session_seen(uint8_t *rgb, const struct session *session, uint8_t output, uint16_t led);

/* Print what happened as a line of text. */
void session_tell(const struct glanz_happening *happening, void *session);

#endif
