/* SPDX-License-Identifier: MIT */
/* What the files of control share. Private to src/control. */
#ifndef GLANZ_CONTROL_PARTS_H
#define GLANZ_CONTROL_PARTS_H

#include <string.h>

#include <glanz/control.h>

#include "inbox.h"

#define NEVER GLANZ_NEVER

#if GLANZ_SEGMENTS_MOST <= 16
typedef unsigned segment_mask; /* at least 16 bits everywhere, and never promoted */
#else
typedef uint64_t segment_mask;
#endif
#define BIT(segment) ((segment_mask)1 << (segment))

#if GLANZ_DRIVES_MOST > 0
typedef uint32_t signal_level; /* with GLANZ_LEVEL_TURN */
#define LEVEL_OF_VALUE(value) glanz_level_of_value(value)
#else
typedef uint16_t signal_level; /* 0 to 65535 */
#define LEVEL_OF_VALUE(value) (value)
#endif

struct input {
    uint8_t level;   /* of the line, as last pushed */
    uint8_t pressed; /* debounced */
    uint8_t presses; /* 1: one short press may become two; 2: it has, and may become three */
    uint8_t held;
#if GLANZ_SEQUENCES
    uint16_t repeat_ms; /* while it is held and somebody waits for it: until the next; 0: none */
#endif
    signal_level value;
    glanz_us settled;  /* contacts are not listened to before this */
    glanz_us first;    /* when the last press came, or repeated; while `presses` is not 0, or it repeats */
    glanz_us released; /* while `presses` is 1 and it is not pressed */
};

/* How far a playlist is. */
struct level {
    uint8_t list;
    uint8_t turn;    /* items done in this round; the item is its turn's, or drawn */
    uint16_t rounds; /* done */
#if GLANZ_SEQUENCES
    glanz_us began; /* the round, of a timed one; the item, of one with playlists in it */
#endif
};

/* A playlist that runs. */
struct player {
    struct level levels[GLANZ_NESTING];
    uint8_t depth; /* 0: none runs here */
    glanz_us item_end;
#if GLANZ_SEQUENCES
    glanz_us item_began;
    glanz_us paused_at;
    segment_mask segments; /* that its presets touch */
    segment_mask dark;     /* that it has switched off for a gap */
    uint8_t paused;
    uint8_t entry; /* of the calendar, that plays it; GLANZ_ALL: a hand */
    uint8_t group; /* change by hand that started it */
#endif
};

#if GLANZ_SEQUENCES
/* What control knows of a segment. */
struct segment {
    struct glanz_showing base; /* what it showed before the calendar or a passing playlist; while `based` */
    uint8_t based;
    uint8_t taken;       /* aspects taken over by hand */
    uint8_t claimed;     /* the calendar's entry that shows here; GLANZ_ALL: none */
    uint8_t by_hand;     /* a hand has shown something else since */
    uint32_t claimed_at; /* when that entry began, UTC */
};

struct undo {
    struct glanz_showing was;
    uint16_t lightness; /* of the whole */
    uint8_t segment;    /* GLANZ_ALL: only that */
    uint8_t aspects;    /* that were changed */
    uint8_t group;      /* changes of one action */
};
#endif

#if GLANZ_SEQUENCES
/* A change for a time, of a segment or of the whole. */
struct passing {
    struct glanz_showing was;            /* what comes back */
    GLANZ_CONST struct glanz_look *look; /* in place of that, where another show was taken: a look of it; `by_look` */
    glanz_us until;
    uint32_t over_ms;   /* how long that takes to come */
    uint16_t lightness; /* of the whole */
    uint8_t segment;    /* GLANZ_ALL: the whole */
    uint8_t aspects;    /* 0: none runs here */
    uint8_t by_look;
};
#endif

#if GLANZ_CALENDAR
struct entry_state {
    uint32_t last, end;      /* when it last began, and ends; UINT32_MAX, 0: never */
    uint32_t next, next_end; /* when it begins next, and ends then */
    uint32_t from;           /* the search's own time */
    int16_t day;             /* where the search is */
    uint8_t phase;           /* looking back, ahead, known */
};
#endif

#if GLANZ_DRIVES_MOST > 0
struct range { /* of readings; high 0: as the rig says */
    uint16_t low, high;
};

struct sense {                /* of a sensor, a dial or a knob */
    uint32_t at_us;           /* while it is smoothed: the clock up to which it has come */
    uint32_t wanted;          /* times GLANZ_APPROACH_FINE; of a knob: its step */
    uint32_t done;            /* the same; of a knob: edges from its start */
    uint8_t begun;            /* something was pushed */
    uint8_t lines;            /* of a knob, as they were */
    uint8_t lost;             /* nothing was pushed for too long */
    glanz_us heard;           /* when something was pushed last, while it may get lost */
    uint16_t raw;             /* what was pushed last */
    struct range range, seen; /* learnt; and met while it is being learnt */
    uint8_t learns;
};

struct watch {       /* of a trigger that remembers: see gestures.c */
    uint8_t trigger; /* 1 + its index; 0: none from here on */
    uint8_t flags;
    uint8_t turn;   /* the action that comes next */
    uint32_t kind;  /* what it waits for: see gestures.c */
    uint32_t place; /* the level, or the step, from which is counted */
    glanz_us at;    /* while it runs: when it is due; the last step */
    glanz_us until; /* while it waits: it is not met before */
};

struct signal_state { /* of a signal of the show */
    uint32_t level;
    uint32_t rate;  /* of a wave: periods a microsecond, times 2^(32 + shift); of sound: when its newest onset came */
    uint16_t count; /* of sound: onsets that were told */
    uint8_t shift;  /* of sound: 1 once `count` is known */
};

struct listening {             /* to a source of sound */
    struct glanz_sound *sound; /* NULL: none */
    glanz_us heard_at;         /* when it was heard last */
    glanz_us clipped_at;
    uint32_t ticks;
    uint16_t clipped;
    uint8_t gone; /* nothing was heard for too long, or ever */
    uint8_t clips;
};
#endif

struct glanz_control {
    GLANZ_CONST struct glanz_parts *parts;
#if GLANZ_DRIVES_MOST > 0
    uint16_t ranged; /* how often a range of readings was learnt, or forgotten */
#endif
#if GLANZ_SAVED_MOST > 0
    uint8_t *values; /* lent for what saved presets bring; NULL */
    uint32_t values_size;
    void *values_held; /* a value that no look has yet */
#if GLANZ_SEQUENCES
    glanz_recaller recall_saved; /* NULL: nobody does */
    void *recall_user;
#endif
#endif
    GLANZ_CONST struct glanz_rig *rig;
    GLANZ_CONST struct glanz_show *show;
    struct glanz_engine *engine;
    struct input *inputs;
#if GLANZ_DRIVES_MOST > 0
    struct sense *senses; /* one an input; NULL without that part */
    uint8_t sensing;      /* signals of the show, or smoothed inputs, change by themselves */
    struct signal_state *signals;
    struct watch *watches;            /* NULL without the part for gestures */
    struct listening *listening;      /* one an input; NULL without the part for sound, or where nothing is told to listen */
    const struct glanz_heard **heard; /* the same */
#endif
    struct glanz_inbox *inbox;
    uint8_t ring_count; /* inputs that have a ring in it; 0 without one: nothing is pushed */
    glanz_listener listener;
    void *listener_user;
    glanz_us last; /* the clock of the last run */
    struct player players[GLANZ_PLAYERS];
#if GLANZ_DRIVES_MOST > 0 || GLANZ_SEQUENCES
    uint8_t timed; /* bits of the parts that may have something with a time: see TIMED */
#endif
    uint8_t running; /* inside glanz_control_run() */
    uint8_t telling; /* inside the listener */
#if GLANZ_SEQUENCES
    struct segment *segments;
    segment_mask unsaved;
    struct glanz_changes changes;
    uint32_t random_state; /* of what is drawn */
    struct passing passing[GLANZ_PASSING];
    uint32_t for_ms, for_over_ms; /* of the action that is being done; 0: for good */
    glanz_us acting_at;
    glanz_us tapped, tapped_first; /* the last tap, and the first that counts; while `taps` is not 0 */
    uint8_t taps;
    uint8_t recalled; /* 1 + the preset that was recalled last; 0: none */
    glanz_us sleep_end;
    uint16_t sleep_lightness; /* before it */
    uint8_t asleep;           /* 0 awake, 1 dimming, 2 dark */
    uint8_t segment_capacity;
    uint8_t undo_at, undo_count, undo_group;
#if GLANZ_UNDO > 0
    struct undo undo[GLANZ_UNDO];
#endif
#endif
#if GLANZ_CALENDAR
    const struct agenda *agenda; /* NULL: the time is not known */
    struct glanz_where where;
    struct entry_state entries[GLANZ_ENTRIES_MOST];
    uint32_t utc; /* at `utc_at`; 0: not known */
    glanz_us utc_at;
    uint32_t zone_until; /* when the offset changes */
    uint32_t applied;    /* until when what shows has been worked out */
    uint32_t due;        /* when an entry begins or ends next, UTC; UINT32_MAX: not known, or never */
    uint8_t looking;     /* what should be on is not known yet */
    uint8_t claims_due;  /* the calendar has to be applied */
#endif
};

/* ---- control.c ---- */
void glanz_control_notify(struct glanz_control *control, glanz_us at, unsigned what, uint8_t index, uint8_t event,
                          uint8_t item);
/* A signal has another level from a time on: drives, texts and triggers are told. @param was its level as control keeps it.
 * @param over 0; or it went there evenly in so long, and drives take it as a step in the middle. */
glanz_status glanz_control_change_level(struct glanz_control *control, uint8_t signal, signal_level *was, signal_level level,
                                        glanz_us at, uint32_t over);
/* Is anything that lies in this memory shown, or may it come back? */
int glanz_control_shows(const struct glanz_control *control, const void *memory, size_t size);
/* Is this a call from inside a callback, that may not change anything? */
int glanz_control_inside(const struct glanz_control *control);
/* An action of the show: one that has nothing to do just now, as an undo where nothing was done, is no error. */
glanz_status glanz_control_act_of_show(struct glanz_control *control, GLANZ_CONST struct glanz_action *action, glanz_us at);
uint32_t glanz_control_change_time(GLANZ_CONST struct glanz_show *show, uint32_t over_ms);
#if GLANZ_DRIVES_MOST > 0
/* The signals of the show that runs from now on, and what dims the whole. */
glanz_status glanz_control_begin_signals(struct glanz_control *control, glanz_us clock);
#endif
glanz_status glanz_control_wake(struct glanz_control *control, glanz_us at);
#if GLANZ_CALENDAR
uint32_t glanz_control_utc_at(const struct glanz_control *control, glanz_us clock);
#endif
/* How long after the last run a pushed time is: not before it, not after this run, which is so long after it. */
glanz_us glanz_control_pushed_after(uint32_t time, uint32_t now, glanz_us since);
/* How long after the last run a time is. */
glanz_us glanz_control_after(const struct glanz_control *control, glanz_us at);

/* ---- recall.c: what is put on segments ---- */
/* A preset's parts for the segments of a mask, but for aspects that were taken over. */
glanz_status glanz_control_recall(struct glanz_control *control, uint8_t preset, segment_mask segments,
                                  const struct glanz_change *change);
segment_mask glanz_control_preset_segments(GLANZ_CONST struct glanz_show *show, uint8_t preset);
#if GLANZ_SEQUENCES
/* A look like the one that shows, to be given to the engine; NULL for dark. @param settings room for GLANZ_PARAMS. */
GLANZ_CONST struct glanz_look *glanz_control_look_of(struct glanz_look *look, struct glanz_setting *settings,
                                                     const struct glanz_showing *showing);
#endif

/* ---- colors.c: linked with glanz_part_hands ---- */
/* A look's colours without its effect. */
struct glanz_colors {
    GLANZ_CONST struct glanz_gradient *gradient; /* its palette, also where its effect takes none; NULL: to be left */
    uint8_t count;                               /* of an effect that takes no palette: its colours, in order */
    glanz_color color[GLANZ_COLORS];
};
#if GLANZ_SEQUENCES
void glanz_colors_of(struct glanz_colors *colors, const struct glanz_showing *showing);
/* The look that shows, in other colours. @return GLANZ_ERR_ABSENT: it has none. */
glanz_status glanz_control_put_colors(struct glanz_control *control, uint8_t segment, const struct glanz_colors *colors,
                                      const struct glanz_change *change);
/* The same with a palette; fine where it has none. */
glanz_status glanz_control_put_palette(struct glanz_control *control, uint8_t segment,
                                       GLANZ_CONST struct glanz_gradient *gradient, const struct glanz_change *change);
/* A look in the colours of what shows. @param look with an effect. */
glanz_status glanz_control_show_colored(struct glanz_control *control, uint8_t segment, GLANZ_CONST struct glanz_look *look,
                                        const struct glanz_change *change);
#endif

/* ---- refuse.c ---- */
/* What is wrong with a thing of the show, and where. @return GLANZ_ERR_SHOW. */
glanz_status glanz_show_refuse(struct glanz_fault *fault, GLANZ_CONST char *kind, GLANZ_CONST char *name,
                               GLANZ_CONST char *text);

/* ---- what is linked only where it is named ---- */
#if GLANZ_DRIVES_MOST > 0
/* ---- signals_check.c ---- */
glanz_status glanz_signals_check(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                                 struct glanz_fault *fault);
/* What is wrong with how a trigger waits; NULL. Its input is one. */
GLANZ_CONST char *glanz_gesture_wrong(GLANZ_CONST struct glanz_trigger *trigger, GLANZ_CONST struct glanz_show *show,
                                      GLANZ_CONST struct glanz_rig *rig);
#endif

/* ---- triggers.c ---- */
/* A signal did something: enum glanz_event. */
glanz_status glanz_control_happen(struct glanz_control *control, uint8_t signal, uint8_t event, glanz_us at);
/* A trigger is met: its actions are done, where its conditions are so. */
glanz_status glanz_control_fire(struct glanz_control *control, uint8_t trigger, glanz_us at);

/* ---- buttons.c ---- */
/* Is a button's line as it is when pressed? */
uint8_t glanz_button_line(const struct glanz_control *control, uint8_t input);
/* Its contacts have closed or opened for good. */
glanz_status glanz_button_change(struct glanz_control *control, uint8_t input, glanz_us at);
/* How long after the last run something falls due at it by itself; NEVER. */
glanz_us glanz_button_due(const struct glanz_control *control, uint8_t input);
glanz_status glanz_button_act(struct glanz_control *control, uint8_t input, glanz_us at);

uint8_t glanz_list_due(const struct glanz_control *control, glanz_us *due);
glanz_status glanz_list_go(struct glanz_control *control, uint8_t player, glanz_us clock);
#if defined(__AVR__) && !GLANZ_SEQUENCES /* calls through pointers cost more there than what they leave out */
struct glanz_playlists_part {
    uint8_t there;
};
#define LIST(control, call) glanz_list_##call
#else
struct glanz_playlists_part {
    /* The player whose item ends first; GLANZ_PLAYERS: none. @param due filled with how long after the last run. */
    uint8_t (*due)(const struct glanz_control *control, glanz_us *due);
    glanz_status (*go)(struct glanz_control *control, uint8_t player, glanz_us clock);
#if GLANZ_SEQUENCES
    segment_mask (*segments)(GLANZ_CONST struct glanz_show *show, uint8_t list); /* that a list's presets touch */
    glanz_status (*play)(struct glanz_control *control, uint8_t list, uint8_t entry, glanz_us at);
    void (*stop)(struct glanz_control *control, struct player *player, glanz_us at);
    /* Playlists of the same name in another show go on, others stop. */
    void (*keep)(struct glanz_control *control, GLANZ_CONST struct glanz_show *show);
    /* A segment is a playlist's own again: what its item shows there. @return 0 when none plays there. */
    int (*again)(struct glanz_control *control, uint8_t segment, const struct glanz_change *change);
    /* Put a player where it is now, from where it was: its levels, and when they and its item began, before now. */
    glanz_status (*resume)(struct glanz_control *control, const struct player *was, glanz_us at);
#endif
};
#define LIST(control, call) LISTS(control)->call
#endif
#define LISTS(control) ((control)->parts->playlists)

/* Things of a part that have a time. A part that has some says so in control->timed; that it has none any more is found out. */
enum { TIMED_LOST = 1, TIMED_WATCHES = 2, TIMED_PASSING = GLANZ_DRIVES_MOST > 0 ? 4 : 1 };
struct timed {
    /* How long after the last run one is due; NEVER. @param which filled, unless NEVER. */
    glanz_us (*due)(const struct glanz_control *control, uint8_t *which);
    glanz_status (*go)(struct glanz_control *control, uint8_t which, glanz_us at);
};

#if GLANZ_DRIVES_MOST > 0
struct glanz_signals_part {
    /* Memory for what it remembers; laid out where control->senses begin. */
    size_t (*size)(GLANZ_CONST struct glanz_rig *rig);
    void (*start)(struct glanz_control *control);
    /* Has a signal passed a trigger's level, and when? An angle goes the shorter way. @param at,over as below; `at` is filled.
     */
    int (*passed)(GLANZ_CONST struct glanz_trigger *trigger, uint32_t before, uint32_t level, uint32_t over, glanz_us *at);
    /* Are all of a trigger's conditions so, at a time within the run? */
    int (*allows)(const struct glanz_control *control, GLANZ_CONST struct glanz_trigger *trigger, glanz_us at);
    /* What was pushed into a sensor, a dial or a knob. */
    glanz_status (*take)(struct glanz_control *control, uint8_t input, uint16_t value, glanz_us at);
    /* A show has begun, or was taken. */
    glanz_status (*begin)(struct glanz_control *control, glanz_us clock);
    /* Levels that change by themselves, at the end of a run. */
    glanz_status (*run)(struct glanz_control *control, glanz_us clock);
    struct timed lost; /* inputs from which nothing was heard for too long */
};

struct glanz_gestures_part {
    size_t (*size)(void); /* memory for watches, at control->watches */
    /* A show has begun, or was taken. */
    void (*begin)(struct glanz_control *control, glanz_us clock);
    /* The level of a trigger's signal has changed; as for glanz_control_change_level(). */
    glanz_status (*change)(struct glanz_control *control, uint8_t trigger, uint32_t before, uint32_t level, glanz_us at,
                           uint32_t over);
    /* Does a trigger act that is met, and by which of its actions? @param first,count filled where it is not by all. */
    int (*admits)(struct glanz_control *control, uint8_t trigger, glanz_us at, uint8_t *first, uint8_t *count);
    /* A button was pressed: with another one, where a trigger waits for both? */
    glanz_status (*together)(struct glanz_control *control, uint8_t input, glanz_us at);
    struct timed watches; /* what has stayed, or not changed, for long enough */
    /* At the end of a run. */
    void (*rest)(struct glanz_control *control, glanz_us clock);
};
#define SOUND(control) ((control)->parts->sound)
#define GESTURES(control) ((control)->parts->gestures)
#define SIGNALS(control) ((control)->parts->signals)
#endif

#if GLANZ_SEQUENCES
struct glanz_hands_part {
    /* A hand is about to change aspects of segments. `gives_up` tells whether what the calendar shows there is given up. */
    void (*touch)(struct glanz_control *control, segment_mask segments, uint8_t aspects, int gives_up);
    void (*touch_preset)(struct glanz_control *control, uint8_t preset);
    void (*touch_whole)(struct glanz_control *control); /* its brightness */
    void (*touch_all)(struct glanz_control *control);   /* that, and all of every segment */
    /* Note what segments show, before something that passes; and show again what was noted. */
    void (*note_base)(struct glanz_control *control, segment_mask segments);
    glanz_status (*show_again)(struct glanz_control *control, uint8_t segment, const struct glanz_showing *was, uint8_t aspects,
                               const struct glanz_change *change);
    struct timed passing; /* what changed for a time */
    /* It does not come back any more, on some segments (none: of the whole); and another show is taken. */
    void (*drop)(struct glanz_control *control, segment_mask segments, uint8_t aspects);
    /* A playlist goes on to an item on some segments by itself: what hands have changed there since it began (since the change
     * of this group; the calendar's: ever) cannot be undone any more. */
    void (*replaced)(struct glanz_control *control, GLANZ_CONST struct glanz_item *item, segment_mask segments, int by_hand,
                     uint8_t group);
    void (*keep)(struct glanz_control *control, GLANZ_CONST struct glanz_show *show);
    glanz_status (*put_palette)(struct glanz_control *control, uint8_t segment, GLANZ_CONST struct glanz_gradient *gradient,
                                const struct glanz_change *change);
    glanz_status (*show_colored)(struct glanz_control *control, uint8_t segment, GLANZ_CONST struct glanz_look *look,
                                 const struct glanz_change *change);
};
#define HANDS(control) ((control)->parts->hands)
#endif

/* ---- agenda.c: the calendar while it runs ---- */
#if GLANZ_CALENDAR
/* Its calls, known from when the time is first told: a program that never tells it does not link them. */
struct agenda {
    void (*start)(struct glanz_control *control);                                     /* another time or place */
    void (*take)(struct glanz_control *control, GLANZ_CONST struct glanz_show *show); /* another show is about to run */
    glanz_us (*due)(const struct glanz_control *control); /* how long after the last run there is something to do; NEVER */
    glanz_status (*go)(struct glanz_control *control, glanz_us at);
    void (*look)(struct glanz_control *control, glanz_us clock); /* a bounded part of the search */
    /* The same entry in another show; GLANZ_ALL: there is none. */
    uint8_t (*same)(const struct glanz_control *control, GLANZ_CONST struct glanz_show *show, uint8_t entry);
};
#endif

#endif
