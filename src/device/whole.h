/* SPDX-License-Identifier: MIT */
/* What the files of the device share: its memory. Private to src/device. */
#ifndef GLANZ_DEVICE_WHOLE_H
#define GLANZ_DEVICE_WHOLE_H

#include <glanz/device.h>

#ifdef __AVR__ /* nobody asks there: flash and RAM are too scarce */
#define SET_INSIDE(device, is) ((void)(device))
#define IS_INSIDE(device) 0
#else
#define SET_INSIDE(device, is) ((device)->inside = (is))
#define IS_INSIDE(device) ((device)->inside || glanz_engine_inside((device)->engine))
#endif

/* A call that changes something: refused from inside a callback, and closed to others while it runs. */
#define DEVICE_ENTER(device)                                                                                                   \
    do {                                                                                                                       \
        if ((device) == NULL) {                                                                                                \
            return GLANZ_ERR_ARGUMENT;                                                                                         \
        }                                                                                                                      \
        if (IS_INSIDE(device)) {                                                                                               \
            return GLANZ_ERR_STATE;                                                                                            \
        }                                                                                                                      \
        SET_INSIDE(device, 1);                                                                                                 \
    } while (0)

/* Another rig, on its way; another rig or show on trial. */
struct trial {
    GLANZ_CONST struct glanz_rig *old_rig, *next_rig;
    GLANZ_CONST struct glanz_show *old_show, *next_show;
    glanz_us end;
    uint32_t next_ms;
    uint8_t runs;
};

#if GLANZ_SAVED_MOST > 0
/* What wears the flash out is rationed: six at once, in the long run one in ten seconds. */
struct credit {
    glanz_us at; /* since when the next is earned */
    uint8_t taken;
};
int glanz_credit_left(struct credit *credit, glanz_us now);
void glanz_credit_take(struct credit *credit, glanz_us now);
#endif

struct glanz_saving_part {                               /* saving.c, as far as a device that runs asks for it */
    uint8_t (*count_reset)(struct glanz_device *device); /* is this start to be a safe one? Counts it. */
    void (*read_saved)(struct glanz_device *device);     /* which presets there are */
    void (*lend)(struct glanz_device *device);           /* memory for what presets bring */
    glanz_status (*begin)(struct glanz_device *device, struct glanz_fault *fault);
    void (*keep)(struct glanz_device *device, uint32_t spare_us,
                 int still); /* work on what is to be saved. `still`: nothing moves */
};

enum { SPENT_WHOLE = 1, SPENT_SINCE = 2 }; /* what is showing; how long it has gone on */

/* Save what the device keeps by itself, if it could be packed; a failure is told. */
void glanz_saving_keep(struct glanz_device *device, uint16_t key, const uint8_t *record, size_t count, glanz_status status);
/* A save has come to its end: saving.c. */
void glanz_saving_end(struct glanz_device *device, glanz_status status);
#if GLANZ_SEQUENCES
/* resume.c: keep what is showing where it is time; and at the start show what was kept. */
void glanz_resume_keep(struct glanz_device *device);
glanz_status glanz_resume_begin(struct glanz_device *device, int *resumed, struct glanz_fault *fault);
glanz_status glanz_saved_recall(void *user, GLANZ_CONST char *name, const struct glanz_change *change); /* saved.c */
#endif

struct clock_calls { /* what the device asks of the controller, once the time is known */
    uint32_t (*utc)(const struct glanz_control *control);
    glanz_status (*notify)(struct glanz_control *control, uint32_t utc, glanz_us at_us);
};

struct glanz_device {
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_show *show;
    GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects;
    const struct glanz_port *port;
    struct glanz_engine *engine;
    struct glanz_control *control;
    struct glanz_inbox *inbox;
    GLANZ_CONST struct glanz_parts *parts;
#ifndef __AVR__ /* there the show of the start stays, and nobody posts commands: RAM is too scarce */
    void (*serve)(struct glanz_device *device);          /* once there is a queue */
    glanz_status (*change)(struct glanz_device *device); /* once another show or rig was taken */
    struct glanz_queue *queues;
    struct trial trial;
#endif
    glanz_listener listener;
    void *listener_user;
    size_t size;
    glanz_us clock;
    glanz_us sent_at;
    uint32_t last_us, wire_us;
    struct glanz_counts counts;
    uint8_t segment_capacity;
#ifndef __AVR__
    uint8_t fading;
#endif
#if GLANZ_DRIVES_MOST > 0
    struct glanz_sound *const *sounds;
    uint8_t sound_count;
#endif
    uint8_t input_capacity;
    uint8_t begun; /* a time is known */
#ifndef __AVR__
    uint8_t inside; /* in a call that may tell, ask or wait for something: others have to wait */
#endif
    uint8_t framing; /* in glanz_device_frame(): now is the frame's time */

    uint8_t sending;
    uint8_t unsent; /* a shaded frame waits for the outputs */
#if GLANZ_CALENDAR
    GLANZ_CONST struct clock_calls *clock_calls; /* once the time is known */
#endif
#if GLANZ_SAVED_MOST > 0
    struct glanz_store *store;
    void *values; /* for the controller */
    size_t values_size;
    glanz_us save_since;       /* when the save that is under way began */
    struct credit commands;    /* saves by commands */
    glanz_status *save_answer; /* of a command whose save is under way; NULL */
#if GLANZ_SEQUENCES
    glanz_us kept_at;   /* when the running state was last kept, or came back */
    glanz_us since_at;  /* when it was last kept how long that has gone on */
    uint32_t before_ms; /* how long it had gone on when it came back */
#if GLANZ_DRIVES_MOST > 0
    uint16_t ranged; /* as glanz_control_ranged() said when ranges were kept */
#endif
    uint32_t kept_check;   /* what tells its record from others; 0: there is none */
    struct credit running; /* records of it */
    glanz_us changed_at;   /* when a hand last changed something */
    struct glanz_changes kept, seen;
#endif
    uint16_t saving; /* key of the save under way; 0: none */
    uint64_t saving_segments;
    uint8_t safe;
    uint8_t old_enough;              /* has run for GLANZ_EARLY_MS */
    uint8_t spent;                   /* of SPENT: does not fit, and is not tried again until something else is saved */
    uint8_t order[GLANZ_SAVED_MOST]; /* slots of the saved presets, in their order; 255 behind the last */
#endif
};

/* What is named and used: saving wants a store. */
#if GLANZ_SAVED_MOST > 0
#define SAVING(device) ((device)->store == NULL ? NULL : (device)->parts->saving)
#endif

/* The end of such a call, with what it has come to. */
static inline glanz_status glanz_device_leave(struct glanz_device *device, glanz_status status) {
    SET_INSIDE(device, 0);
    return status;
}

#ifdef __AVR__
#define FADING_OF(device) 0 /* of a device, or of what one is made with */
#else
#define FADING_OF(device) ((device)->fading)
#endif

#if GLANZ_SAVED_MOST > 0
#define NONE 255
/* Begin to save a record, which glanz_saving_part ends. */
glanz_status glanz_saving_begin(struct glanz_device *device, uint16_t key, const uint8_t *record, size_t count);
/* Slots of presets that are saved: their key in the store; the name of one, 0 where none lies there. */
uint16_t glanz_slot_key(uint8_t slot);
int glanz_slot_name(const struct glanz_device *device, char *name, uint8_t slot);
/* Their order, which the device keeps: how many there are, is one of them there, as a record, and read anew. */
uint8_t glanz_slots_count(const struct glanz_device *device);
int glanz_slots_have(const struct glanz_device *device, uint8_t slot);
void glanz_slots_pack(uint8_t *record, const struct glanz_device *device);
void glanz_slots_read(struct glanz_device *device);
#endif

/* Is this memory enough for a rig and so many segments? */
glanz_status glanz_device_fits(GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig,
                               GLANZ_CONST struct glanz_show *show, uint8_t segment_capacity, uint8_t input_capacity,
                               uint8_t fading, size_t size, struct glanz_fault *fault);
/* Lay engine and controller out behind the device, for a rig that was checked and fits; begin the show, from dark. */
glanz_status glanz_device_build(struct glanz_device *device, GLANZ_CONST struct glanz_rig *rig,
                                GLANZ_CONST struct glanz_show *show, struct glanz_fault *fault);
/* A line for the port's log; none where texts are left out. */
#ifdef __AVR__
#define glanz_device_note(device, line) ((void)(device))
#else
void glanz_device_note(const struct glanz_device *device, const char *line);
#endif
/* The next queue that a device serves. */
const struct glanz_queue *glanz_queue_after(const struct glanz_queue *queue);
/* Does a change of rigs hold on to this memory? */
int glanz_device_change_uses(const struct glanz_device *device, const void *memory, size_t size);
/* Begin the show: with what was last showing, where that is wanted and there, else with its start action. */
glanz_status glanz_device_begin(struct glanz_device *device, struct glanz_fault *fault);

#endif
