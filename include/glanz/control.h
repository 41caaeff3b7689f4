/* SPDX-License-Identifier: MIT */
/** @file
 *  Control: the show, and what acts on it: inputs, triggers, presets, playlists, the calendar. Everything that happens has a
 *  time of its own, so that a show runs alike at any frame rate.
 *
 *  Who shows what on a segment: hands (inputs, programs) and the calendar act on the same segments. What a hand shows stays
 *  until the calendar's next entry for that segment begins. What the calendar shows for a time is followed by what was there
 *  before; a playlist that ran there has gone on meanwhile.
 */
#ifndef GLANZ_CONTROL_H
#define GLANZ_CONTROL_H

#include <glanz/calendar.h>
#include <glanz/engine.h>

GLANZ_HEADER_BEGIN

/* ---- the show: what to see. Const structs, lent while the show runs. ---- */

/** A palette of a show: as it was chosen, and built. */
struct glanz_show_palette {
    GLANZ_CONST char *name;
    GLANZ_CONST struct glanz_gradient *gradient; /**< built, as looks take it */
    GLANZ_CONST struct glanz_color_stop *chosen; /**< NULL where the palette comes with the library */
    uint8_t chosen_count;
    uint8_t between;             /**< enum glanz_between */
    uint16_t part_from, part_to; /**< the part of those that the gradient is, to which 0 is the end */
#if GLANZ_FIELDS
    uint8_t runs, folded, reversed; /**< as the gradient has them */
    uint16_t span;                  /**< 65536: once through what it runs along */
    uint32_t pass_ms;               /**< how long it takes to move on by one; 0: it stands */
#endif
};

/** What a preset says about one segment, or-ed. */
enum glanz_aspect {
    GLANZ_ASPECT_LOOK = 1,       /**< effect, its parameters, its palette, what it shows (hand-coloured LEDs too) */
    GLANZ_ASPECT_ON = 2,         /**< on or off */
    GLANZ_ASPECT_BRIGHTNESS = 4, /**< of the segment */
    GLANZ_ASPECT_PALETTE = 8,    /**< the palette alone: the effect that runs takes it over */
    GLANZ_ASPECT_PLAYLIST = 16   /**< saved presets only: the playlist that plays there */
};
#define GLANZ_ASPECTS 31 /**< all of them */

/** A preset's part for one segment. */
struct glanz_part {
    uint8_t segment;                     /**< of the show, from 0 */
    uint8_t aspects;                     /**< enum glanz_aspect */
    uint8_t on;                          /**< 0: the segment is dark */
    uint16_t brightness;                 /**< lightness 0 to 65535 */
    GLANZ_CONST struct glanz_look *look; /**< what it shows; NULL where it keeps its own */
#if GLANZ_SEQUENCES
    GLANZ_CONST struct glanz_gradient *gradient; /**< of GLANZ_ASPECT_PALETTE */
    uint8_t setting_count;
    GLANZ_CONST struct glanz_setting *settings; /**< numbers of `look` that are others here */
    uint32_t later_ms;                          /**< it comes so much later than the preset is recalled; to 600000 */
#endif
};

/** A preset: touches only the segments it names. */
struct glanz_preset {
    GLANZ_CONST char *name;
    GLANZ_CONST struct glanz_part *parts; /**< a list of part_count, one for each segment it covers */
    uint8_t part_count;
};

#if GLANZ_SEQUENCES
/** What an item of a playlist is. */
enum glanz_item_kind {
    GLANZ_ITEM_PRESET,
    GLANZ_ITEM_PLAYLIST, /**< played to its end, or for hold_ms */
    GLANZ_ITEM_DARK      /**< the playlist's segments are off */
};

/** What follows the end of a playlist. */
enum glanz_then {
    GLANZ_THEN_STAY,   /**< the last item stays */
    GLANZ_THEN_DARK,   /**< its segments go off */
    GLANZ_THEN_PRESET, /**< a preset */
    GLANZ_THEN_BACK    /**< what its segments showed before */
};
#endif

/** One item of a playlist. */
struct glanz_item {
    uint8_t preset;   /**< or playlist, by `kind` */
    uint32_t fade_ms; /**< crossfade into it */
    uint32_t hold_ms; /**< then shown for this long */
#if GLANZ_SEQUENCES
    uint32_t at_ms; /**< in a timed playlist: when it begins, after the start */
    uint8_t kind;   /**< enum glanz_item_kind */
#endif
};

/** Presets one after another. */
struct glanz_playlist {
    GLANZ_CONST char *name;
    GLANZ_CONST struct glanz_item *items; /**< a list of item_count */
    uint8_t item_count;
    uint16_t rounds; /**< times through; 0: for ever */
#if GLANZ_SEQUENCES
    uint8_t shuffled;      /**< 1: each item once a round, drawn anew for each, never the same twice in a row */
    uint8_t timed;         /**< 1: items begin at their `at_ms`; the last ends after its hold_ms */
    uint8_t then;          /**< enum glanz_then */
    uint8_t then_preset;   /**< of GLANZ_THEN_PRESET */
    uint32_t then_fade_ms; /**< how long what follows takes to come */
    uint32_t seed;         /**< of the shuffling; documents take glanz_text_hash() of the name */
#endif
};

#if GLANZ_CALENDAR
/** What a moment of a day is counted from. */
enum glanz_moment_kind { GLANZ_MOMENT_NONE, GLANZ_MOMENT_CLOCK, GLANZ_MOMENT_SUNRISE, GLANZ_MOMENT_SUNSET };
/** A moment of a day. */
struct glanz_moment {
    uint8_t kind;   /**< enum glanz_moment_kind */
    int32_t second; /**< of the day, 0 to 86399; from the sun's rising or setting, to 12 hours either way */
};

/** A day of the year, or of one year. */
struct glanz_day {
    uint16_t year; /**< 0: every year */
    uint8_t month; /**< 0: no day */
    uint8_t day;   /**< of the month, from 1 */
};

/** What the calendar shows, and when. It begins at `at` on every day that its weekdays and its range of days have. It ends
 * after `for_s`, or at `until`: the first such moment after it began, on that day or the next; with a clock on one side and the
 * sun on the other, a day on which that is more than 18 hours away has none. With neither it stays until another entry takes
 * its segments. Where two overlap, the higher priority shows, then the one that began later. */
struct glanz_entry {
    GLANZ_CONST char *name;
    struct glanz_moment at, until; /**< enum glanz_sun, or GLANZ_AT */
    struct glanz_day from, to;     /**< both or neither; across New Year where `to` comes before `from` */
    uint32_t for_s;                /**< 0: not said */
    uint32_t every_s;              /**< again and again until `until`; 0: once */
    uint32_t fade_ms;              /**< of a preset, and of what comes back; GLANZ_OWN_TIME: the show's change time */
    uint8_t weekdays;              /**< bit 0 Monday to bit 6 Sunday; 0: every day */
    uint8_t priority;              /**< the highest shows */
    uint8_t is_playlist;           /**< 1: `target` is a playlist, else a preset */
    uint8_t target;                /**< preset or playlist, by number */
};

/** A place on Earth, in time and space. */
struct glanz_where {
    struct glanz_zone zone;      /**< how clocks are set there */
    int32_t latitude, longitude; /**< 1/10000 degree */
};

/** When an entry last began, at a time or before it. @param end when that ends; UINT32_MAX: open.
 *  @param day the day at which to begin the search, counted from the time's own: 1 at first, then back. Left where it came to,
 * so that a search may be cut in pieces. @param steps how far to search: days that the entry has, or eight others, for each.
 *  @return 0 none in these days. */
int glanz_entry_last(GLANZ_CONST struct glanz_entry *entry, const struct glanz_where *where, uint32_t utc, int16_t *day,
                     uint8_t steps, uint32_t *start, uint32_t *end);
/** When it begins next, after a time. @param day as above: -2 at first, then ahead. */
int glanz_entry_next(GLANZ_CONST struct glanz_entry *entry, const struct glanz_where *where, uint32_t utc, int16_t *day,
                     uint8_t steps, uint32_t *start, uint32_t *end);
#define GLANZ_ENTRY_DAYS 400 /**< how far an entry is looked for, back and ahead */
#endif

#if GLANZ_DRIVES_MOST > 0
/** What a signal of a show is. */
enum glanz_signal_kind {
    GLANZ_SIGNAL_WAVE,    /**< goes up and down by itself; `form`: enum glanz_wave */
    GLANZ_SIGNAL_CLOCK,   /**< how much of a span of local time has passed, a turn; `form`: enum glanz_clock_span. 0 while the
                             time is not known, and without GLANZ_FIELDS */
    GLANZ_SIGNAL_COMBINE, /**< two signals as one; `form`: enum glanz_combination */
    GLANZ_SIGNAL_STATE,   /**< what the device itself does; `form`: enum glanz_state */
    GLANZ_SIGNAL_SOUND    /**< what a microphone of the rig, `first`, hears; `form`: enum glanz_hears */
};
/** What is heard. Levels, but for two turns. All are 0 while the source is gone. */
enum glanz_hears {
    GLANZ_HEARS_LEVEL,        /**< how loud the whole is, by its mean square */
    GLANZ_HEARS_PEAK,         /**< and by its largest sample */
    GLANZ_HEARS_LOW,          /**< the loudest band below 200 Hz */
    GLANZ_HEARS_MIDDLE,       /**< from there to 2000 Hz */
    GLANZ_HEARS_HIGH,         /**< above */
    GLANZ_HEARS_BAND,         /**< band `second`, counted from 0 */
    GLANZ_HEARS_ONSET,        /**< jumps to half and more, by its strength, when something begins to sound; down in 60 ms */
    GLANZ_HEARS_LOW_ONSET,    /**< the same of low sounds */
    GLANZ_HEARS_MIDDLE_ONSET, /**< of those in the middle */
    GLANZ_HEARS_HIGH_ONSET,   /**< of high ones */
    GLANZ_HEARS_BEAT,         /**< a turn from each beat to the next */
    GLANZ_HEARS_TEMPO,        /**< 60 beats a minute to 200; needs glanz_sound_tempo, as beat and trust do */
    GLANZ_HEARS_TRUST,        /**< in tempo and beat */
    GLANZ_HEARS_PITCH, /**< 65.4 Hz (C2) to 1047 Hz (C6), evenly to the ear, of what was heard last; needs glanz_sound_pitch */
    GLANZ_HEARS_NOTE,  /**< a turn: once round is an octave, from C */
    GLANZ_HEARS_SILENCE, /**< full while it is silent, or gone */
    GLANZ_HEARS_GONE,    /**< full while no samples have come for a second */
    GLANZ_HEARS_CLIPPING /**< full for a second after a sample at full scale */
};
/** What a device tells of itself, as a signal. */
enum glanz_state {
    GLANZ_STATE_CURRENT, /**< what the LEDs draw, as a share of what their supply may give: of the supply that is nearest to it.
                            0 without limits. Of the newest frame */
    GLANZ_STATE_BRIGHTNESS, /**< the whole's lightness, on its way or there */
    GLANZ_STATE_ASLEEP,     /**< full from when it goes to sleep until it wakes */
    GLANZ_STATE_FROZEN,     /**< full while what moves stands still */
    GLANZ_STATE_PLAYING     /**< full while a playlist plays, paused or not, by hand or by the calendar */
};
/** How a built-in wave goes. */
enum glanz_wave {
    GLANZ_WAVE_SINE,
    GLANZ_WAVE_TRIANGLE,
    GLANZ_WAVE_SAW, /**< rises, and falls at once */
    GLANZ_WAVE_SQUARE,
    GLANZ_WAVE_WANDER /**< to another level, drawn by lot, in each period; smoothly */
};
/** Which span of local time a signal goes through. */
enum glanz_clock_span { GLANZ_CLOCK_MINUTE, GLANZ_CLOCK_HOUR, GLANZ_CLOCK_DAY, GLANZ_CLOCK_YEAR };
/** What two signals make. */
enum glanz_combination {
    GLANZ_COMBINE_SUM,        /**< at most the highest level */
    GLANZ_COMBINE_DIFFERENCE, /**< the first less the second, at least 0 */
    GLANZ_COMBINE_PRODUCT,
    GLANZ_COMBINE_RATIO, /**< the first as a share of the second, at most the highest level */
    GLANZ_COMBINE_LARGER,
    GLANZ_COMBINE_SMALLER
};

/** A signal of a show, beside the inputs of the rig. */
struct glanz_signal {
    GLANZ_CONST char *name;
    uint8_t kind;          /**< enum glanz_signal_kind */
    uint8_t form;          /**< enum glanz_wave and its kin, as its kind says */
    uint8_t first, second; /**< of a combination: signals that come before this one, by index. Of sound: an input; a band */
    uint16_t phase;        /**< of a wave: where it is at the start, 65536 a period */
    uint32_t period_ms;    /**< of a wave: 100 to 86400000 */
    uint32_t low, high;    /**< of a wave: its levels, 0 to 65536; both 0: all of it */
    uint32_t seed;         /**< of GLANZ_WAVE_WANDER; documents take glanz_text_hash() of the name */
};
#endif

#if GLANZ_DRIVES_MOST > 0
/** Is a signal of a show a turn? Else it is a level. */
static inline int glanz_signal_turns(GLANZ_CONST struct glanz_signal *signal) {
    return signal->kind == GLANZ_SIGNAL_CLOCK ||
           (signal->kind == GLANZ_SIGNAL_SOUND && (signal->form == GLANZ_HEARS_BEAT || signal->form == GLANZ_HEARS_NOTE));
}
#endif

struct glanz_action;
struct glanz_control;

/** What the value of an action's own key is, and so what its target is. */
enum glanz_action_value {
    GLANZ_VALUE_TRUE,      /**< nothing: true, and no target */
    GLANZ_VALUE_PRESET,    /**< target: a preset */
    GLANZ_VALUE_PLAYLIST,  /**< target: a playlist */
    GLANZ_VALUE_SEGMENT,   /**< target: a segment */
    GLANZ_VALUE_LIGHTNESS, /**< number: lightness; target: a segment, or GLANZ_ALL */
    GLANZ_VALUE_LOOK,      /**< look; target: a segment */
    GLANZ_VALUE_TIME,      /**< over_ms, and no target */
    GLANZ_VALUE_PALETTE,   /**< gradient; target: a segment */
    GLANZ_VALUE_CONTENT,   /**< look, which has a content; target: a segment */
    GLANZ_VALUE_WAY,       /**< number: enum glanz_way; target: a segment where it needs one */
    GLANZ_VALUE_SAVED,     /**< param: a name, and no target */
    GLANZ_VALUE_INPUT      /**< target: a sensor or a dial of the rig */
};

/** Which other one of a list. */
enum glanz_way {
    GLANZ_WAY_NEXT,     /**< after the last comes the first */
    GLANZ_WAY_PREVIOUS, /**< before the first the last */
    GLANZ_WAY_RANDOM    /**< any but this one */
};

/** How an action changes a number. */
enum glanz_change_by {
    GLANZ_CHANGE_TO,   /**< it is that */
    GLANZ_CHANGE_BY,   /**< so much more, or less */
    GLANZ_CHANGE_TIMES /**< times a share, 65536 for once; rates given as time for a pass run so much faster too */
};

/** What of a colour an action changes. */
enum glanz_color_number {
    GLANZ_COLOR_WHOLE,      /**< it is another; `value` is a glanz_color */
    GLANZ_COLOR_HUE,        /**< its hue goes round: 65536 a turn; `to` and `by` only */
    GLANZ_COLOR_SATURATION, /**< 65536 for 100 % */
    GLANZ_COLOR_LIGHTNESS   /**< 65536 for 100 %, of HSL (CSS Color 4) */
};

/** Keys that go with an action's own, or-ed. */
enum glanz_action_with {
    GLANZ_WITH_SEGMENT = 1, /**< target */
    GLANZ_WITH_ON = 2,      /**< number: 0 off, 1 on, 2 the other */
    GLANZ_WITH_ITEM = 4,    /**< number: an item of the playlist, counted from 0 */
    GLANZ_WITH_ASPECTS = 8, /**< number: enum glanz_aspect, or-ed */
    GLANZ_WITH_OVER = 16,   /**< over_ms */
    GLANZ_WITH_AGAIN = 32,  /**< again */
    GLANZ_WITH_NUMBER = 64, /**< param, kind, by, unit, value */
    GLANZ_WITH_FOR = 128    /**< for_ms */
};

/** A kind of action: all that anybody has to know of it. Naming one links it; there is no other list to be kept. */
struct glanz_action_kind {
    GLANZ_CONST char *key;         /**< as documents have it */
    GLANZ_CONST char *description; /**< one line */
    uint8_t value;                 /**< enum glanz_action_value */
    uint8_t needs;                 /**< enum glanz_action_with: keys that must be there */
    uint8_t may;                   /**< keys that may be there */
    uint8_t parts;                 /**< enum glanz_part_bit: what it needs of the program */
    uint8_t asleep;                /**< 1: does not wake the whole */
    /** Do it. The target is there. @param change when, how long, and whether anew; lent during the call. */
    glanz_status (*act)(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                        const struct glanz_change *change);
};

extern GLANZ_CONST struct glanz_action_kind glanz_action_recall;   /**< preset `target` */
extern GLANZ_CONST struct glanz_action_kind glanz_action_play;     /**< playlist `target` from its start */
extern GLANZ_CONST struct glanz_action_kind glanz_action_stop;     /**< playlist `target`; what it shows stays */
extern GLANZ_CONST struct glanz_action_kind glanz_action_next;     /**< its next item; starts it when it does not run */
extern GLANZ_CONST struct glanz_action_kind glanz_action_previous; /**< the one before */
extern GLANZ_CONST struct glanz_action_kind
    glanz_action_brightness;                                     /**< lightness `number` for segment `target` or GLANZ_ALL */
extern GLANZ_CONST struct glanz_action_kind glanz_action_switch; /**< segment `target`: `number` 0 off, 1 on, 2 the other */
extern GLANZ_CONST struct glanz_action_kind glanz_action_look;   /**< `look` on segment `target` */
#if GLANZ_SEQUENCES
extern GLANZ_CONST struct glanz_action_kind glanz_action_pause;   /**< its item stays, its time stands; `number` 0 goes on, 1
                                                                        pauses, 2 the other */
extern GLANZ_CONST struct glanz_action_kind glanz_action_jump;    /**< to item `number`; starts it when it does not run */
extern GLANZ_CONST struct glanz_action_kind glanz_action_adjust;  /**< a number of what shows on segment `target`: param ... */
extern GLANZ_CONST struct glanz_action_kind glanz_action_palette; /**< `gradient` on what shows on segment `target` */
extern GLANZ_CONST struct glanz_action_kind
    glanz_action_content; /**< what `look` shows (its text, picture, marks or pattern), on what shows on segment `target` */
extern GLANZ_CONST struct glanz_action_kind glanz_action_begin_again;     /**< what segment `target` shows, anew */
extern GLANZ_CONST struct glanz_action_kind glanz_action_another_preset;  /**< of the show's, by the way of `number` */
extern GLANZ_CONST struct glanz_action_kind glanz_action_another_look;    /**< of the show's, on segment `target` */
extern GLANZ_CONST struct glanz_action_kind glanz_action_another_palette; /**< of the show's, on segment `target` */
extern GLANZ_CONST struct glanz_action_kind
    glanz_action_tap; /**< a pass of what segment `target` shows takes as long as from one of these to the next, on average */
extern GLANZ_CONST struct glanz_action_kind glanz_action_freeze; /**< what moves by itself: `number` 1 stands still, 0 goes on,
                                                                    2 the other */
extern GLANZ_CONST struct glanz_action_kind glanz_action_step;   /**< what is frozen moves on by one frame */
extern GLANZ_CONST struct glanz_action_kind
    glanz_action_clear_all; /**< as at power-on: nothing taken over, no playlist by hand, what the show begins with */
extern GLANZ_CONST struct glanz_action_kind glanz_action_random;   /**< to another item, drawn by lot */
extern GLANZ_CONST struct glanz_action_kind glanz_action_brighten; /**< segment `target` or GLANZ_ALL, by lightness `number` */
extern GLANZ_CONST struct glanz_action_kind glanz_action_dim;      /**< the same the other way, not below the lowest */
extern GLANZ_CONST struct glanz_action_kind glanz_action_sleep; /**< dim the whole evenly over `over_ms`, then dark; any action
                                                                      by hand wakes it */
extern GLANZ_CONST struct glanz_action_kind glanz_action_take_over; /**< take aspects `number` of segment `target` over: presets
                                                                     and playlists leave them alone */
extern GLANZ_CONST struct glanz_action_kind glanz_action_hand_back; /**< hand them back: what plays there shows them again */
extern GLANZ_CONST struct glanz_action_kind glanz_action_undo;      /**< the last change by hand */
#if GLANZ_DRIVES_MOST > 0
extern GLANZ_CONST struct glanz_action_kind glanz_action_calibrate; /**< sensor or dial `target` learns the range of its
                                                                       readings: `number` 1 begins, 0 ends, 2 the other */
#endif
extern GLANZ_CONST struct glanz_action_kind
    glanz_action_recall_saved; /**< the preset that was saved under the name `param`, else the show's of that name */
/** All of them, closed by NULL: what documents may name. */
extern GLANZ_CONST struct glanz_action_kind *GLANZ_CONST glanz_actions[];
#endif

/** One thing that is done. */
struct glanz_action {
    GLANZ_CONST struct glanz_action_kind *kind; /**< what is done: one of glanz_action_recall and its kin */
    uint8_t target;                             /**< preset, playlist, segment or signal, by number, as the kind says */
    uint16_t number;                            /**< what is set, as the kind says */
    uint32_t over_ms;                           /**< how long the change takes; GLANZ_OWN_TIME: the show's change time */
    GLANZ_CONST struct glanz_look *look;        /**< of a kind that shows one */
    uint8_t again; /**< recall and look: 1 begins what it shows anew, even where it shows already */
#if GLANZ_SEQUENCES
    uint8_t by;              /**< enum glanz_change_by */
    uint8_t unit;            /**< enum glanz_unit of `value` */
    uint8_t kind_of_param;   /**< enum glanz_param_kind; an effect whose number of that name is of another kind is left alone */
    uint8_t of_color;        /**< enum glanz_color_number: what of a colour; GLANZ_COLOR_WHOLE where it is none */
    int32_t value;           /**< of the number, as its kind has it; held within its bounds */
    GLANZ_CONST char *param; /**< name of a number of the effect; of a saved preset */
    uint32_t for_ms;         /**< then what was before comes back, but for what was changed meanwhile; 0: for good */
    GLANZ_CONST struct glanz_gradient *gradient; /**< of a kind that sets a palette */
#endif
};
/** In place of milliseconds: as long as the show says. */
#define GLANZ_OWN_TIME 0xFFFFFFFFu

/** What an input does that a trigger can wait for. */
enum glanz_event {
    GLANZ_EVENT_PRESSED,             /**< any press, at once */
    GLANZ_EVENT_PRESSED_ONCE,        /**< one short press, when no second can follow any more */
    GLANZ_EVENT_PRESSED_TWICE,       /**< a second press soon after the first */
    GLANZ_EVENT_HELD,                /**< pressed for long */
    GLANZ_EVENT_RELEASED,            /**< let go */
    GLANZ_EVENT_PRESSED_THREE_TIMES, /**< a third press soon after the second */
    GLANZ_EVENT_REPEATS, /**< while it is held, again and again: repeats_ms after it was held, then sooner each time by an
                            eighth, at the most every 60 ms */
    GLANZ_EVENT_PRESSED_TOGETHER, /**< pressed while button `other`, or the other way round: the second within together_ms of
                             the first. Neither is then pressed once, nor held */
    GLANZ_EVENT_TURNED_UP,        /**< a dial, a knob or any other level goes up by a step: of a knob its own, else 1/24 */
    GLANZ_EVENT_TURNED_DOWN,      /**< the same down */
    GLANZ_EVENT_TURNED_UP_FAST,   /**< that step comes within 80 ms of one before it, the same way */
    GLANZ_EVENT_TURNED_DOWN_FAST, /**< the same down */
    GLANZ_EVENT_LOST,             /**< nothing was pushed into a sensor or value for its lost_ms */
    GLANZ_EVENT_BACK,             /**< something was, after that */
    GLANZ_EVENT_RISES,            /**< a level rises above `level`; armed again when it has fallen below that less `margin` */
    GLANZ_EVENT_FALLS,            /**< it falls below `level`; armed again when it has risen above that and `margin` */
    GLANZ_EVENT_ENTERS,           /**< it comes between `level` and `upper`; of an angle: clockwise from one to the other */
    GLANZ_EVENT_LEAVES,           /**< it was between them, and is further out than by `margin` */
    GLANZ_EVENT_STAYS_ABOVE,      /**< it has been above `level` for `for_ms`; once, until it was below that less `margin` */
    GLANZ_EVENT_STAYS_BELOW,      /**< the same below */
    GLANZ_EVENT_UNCHANGED         /**< it has not moved by more than `margin` for `for_ms`; once, until it does */
};
/** Kinds of events. */
#define GLANZ_EVENTS 21
#define GLANZ_EVENT_IS_OF_LEVEL(event) ((event) >= GLANZ_EVENT_TURNED_UP) /**< not of a button; UNCHANGED may be of both */

#if GLANZ_DRIVES_MOST > 0
/** What must be so beside, at the moment at which a trigger is met. */
struct glanz_condition {
    uint8_t signal; /**< index: inputs of the rig, then signals of the show */
    uint8_t below;  /**< 1: its level is below `level`; 0: above it */
    uint16_t level; /**< 0 to 65535; of an angle 65536 a turn, from 0 */
};
#endif

/** A condition on an input, and what is done when it is met. */
struct glanz_trigger {
    GLANZ_CONST char *name;
    uint8_t input;                            /**< index: inputs of the rig, then signals of the show */
    uint8_t event;                            /**< enum glanz_event */
    uint16_t level;                           /**< 0 to 65535; of an angle: 65536 a turn, passed the shorter way */
    GLANZ_CONST struct glanz_action *actions; /**< a list of action_count */
    uint8_t action_count;
#if GLANZ_DRIVES_MOST > 0
    uint8_t condition_count;
    GLANZ_CONST struct glanz_condition *conditions; /**< all of them; else nothing is done. They need the part for signals */
    /* What follows needs the part for gestures; at most GLANZ_WATCHES_MOST triggers of a show have any of it, or wait for what
     * is turned, enters, leaves, stays or is unchanged. */
    uint8_t by_turns; /**< 1: of its actions one each time, in order */
    uint8_t other;    /**< of GLANZ_EVENT_PRESSED_TOGETHER: the other button, by index of the input */
    uint16_t upper;   /**< of ENTERS and LEAVES: the upper end */
    uint16_t margin;  /**< by how much a level must go back before the same can happen again; 0 to 65535 */
    uint32_t for_ms;  /**< of STAYS_ABOVE, STAYS_BELOW, UNCHANGED: 100 to 86400000 */
    uint32_t wait_ms; /**< not met again so soon after it was met; 0: at any time */
#endif
};

#if GLANZ_DRIVES_MOST > 0
/** Does a trigger need the part for gestures? */
static inline int glanz_trigger_remembers(GLANZ_CONST struct glanz_trigger *trigger) {
    return trigger->by_turns || trigger->wait_ms != 0 || trigger->margin != 0 || trigger->event >= GLANZ_EVENT_ENTERS ||
           (trigger->event >= GLANZ_EVENT_PRESSED_TOGETHER && trigger->event <= GLANZ_EVENT_TURNED_DOWN_FAST);
}
#endif

/** What to see. */
struct glanz_show {
    GLANZ_CONST char *name;
    uint16_t brightness;                             /**< lightness of the whole, 1 to 65535; 0 means 60 % */
    uint32_t change_ms;                              /**< how long changes take; 0 means 500, GLANZ_OWN_TIME means at once */
    GLANZ_CONST struct glanz_named_color *colors;    /**< a list of color_count that looks may name */
    GLANZ_CONST struct glanz_show_palette *palettes; /**< a list of palette_count */
    GLANZ_CONST struct glanz_look *looks;            /**< a list of look_count */
    GLANZ_CONST struct glanz_segment *segments;      /**< a list of segment_count */
    GLANZ_CONST uint8_t *stack;                      /**< every segment once, bottom first; NULL: in their own order */
    GLANZ_CONST struct glanz_preset *presets;        /**< a list of preset_count */
    GLANZ_CONST struct glanz_playlist *playlists;    /**< a list of playlist_count */
    GLANZ_CONST struct glanz_trigger *triggers;      /**< a list of trigger_count */
    GLANZ_CONST struct glanz_action *start;          /**< done at power-on; may be NULL */
#if GLANZ_FIELDS
    GLANZ_CONST char *weekdays, *months; /**< names for texts, Monday and January first, with commas between; NULL: English */
#endif
    uint8_t
        resume; /**< 1: at power-on, what was last showing comes back instead, a playlist where it was, if anything was kept */
#if GLANZ_CALENDAR
    uint8_t entry_count;
    GLANZ_CONST struct glanz_entry *entries; /**< the calendar */
#endif
#if GLANZ_DRIVES_MOST > 0
    uint8_t signal_count;
    GLANZ_CONST struct glanz_signal *signals; /**< beside the inputs of the rig */
    GLANZ_CONST struct glanz_drive *drive;    /**< what a signal dims the whole by: see glanz_engine_drive(); NULL: nothing */
#endif
    uint16_t color_count, look_count;
    uint8_t palette_count, segment_count, preset_count, playlist_count, trigger_count;
#if GLANZ_FIELDS
    uint8_t picture_count;
    GLANZ_CONST struct glanz_picture *pictures; /**< by name, for saved presets and documents */
#endif
};

/** Validate a show for a rig: Indices in range, looks that can be, no two segments on the same LEDs without a stack.
 *  @return GLANZ_ERR_SHOW with the fault filled, or GLANZ_ERR_ARGUMENT. */
GLANZ_NODISCARD glanz_status glanz_show_check(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                                              struct glanz_fault *fault);

/** Bytes that the show's effects want to remember in, at the most, whatever its presets and actions bring onto its segments; to
 * be added to glanz_device_size(). A program that shows other looks on them by itself may need more. */
size_t glanz_show_memory(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig);

/** Does any part of a show lie in this memory: itself, one of its lists, a name, a palette, an effect, what its looks show? */
int glanz_show_uses(GLANZ_CONST struct glanz_show *show, const void *memory, size_t size);

/* A controller, struct glanz_control, is opaque; it lives in the caller's memory. */

/* ---- saved presets: records of bytes ---- */

#define GLANZ_NAME_MOST 31     /**< bytes of a saved preset's name, UTF-8 */
#define GLANZ_RECORD_MOST 2048 /**< bytes of a saved preset */

/** Lend memory for what saved presets bring and the show has not: palettes, patterns, texts, marks. Without it, or when it is
 * full, what the show has under the same name is shown instead, and what it has not is missed. @param memory NULL for none;
 * else until other memory is lent and glanz_control_uses() says 0. The most that a part can want: 24 bytes and 12 a built stop,
 * and its content. */
void glanz_control_values(struct glanz_control *control, void *memory, size_t size);

#if GLANZ_SEQUENCES
/** Recall a preset by its name. @param user as it was given. @param name of the preset. @param change when, how long, and
 * whether anew; lent during the call. @return GLANZ_ERR_ABSENT: there is none. */
typedef glanz_status (*glanz_recaller)(void *user, GLANZ_CONST char *name, const struct glanz_change *change);
/** Who does so for glanz_action_recall_saved; a device with saving lends its own. @param recall NULL: nobody, such actions do
 * nothing. */
void glanz_control_recaller(struct glanz_control *control, glanz_recaller recall, void *user);
#endif

/** May a record be saved under this name? 1 to GLANZ_NAME_MOST bytes of valid UTF-8, no control characters. */
int glanz_saved_name_valid(const char *name);

/** Write what segments show now as a record: format 2, described in docs/store.md; little-endian, CRC-32 at its end.
 *  @param record room for `capacity` bytes. @param name see glanz_saved_name_valid(). @param segments bit i set: segment i is
 *  covered. @param aspects enum glanz_aspect, or-ed: what of them.
 *  @return GLANZ_ERR_ARGUMENT for the name, GLANZ_ERR_FULL when the record would be larger than `capacity`. */
GLANZ_NODISCARD glanz_status glanz_preset_pack(const struct glanz_control *control, const char *name, uint64_t segments,
                                               uint8_t aspects, uint8_t *record, size_t capacity, size_t *count);

/** Check a record and give its name (GLANZ_NAME_MOST + 1 bytes). @return GLANZ_ERR_DAMAGED, GLANZ_ERR_NEWER. */
GLANZ_NODISCARD glanz_status glanz_preset_name(char *name, const uint8_t *record, size_t count);

/** Give a record another name, in place. @param capacity bytes that `record` may take. @return GLANZ_ERR_FULL,
 * GLANZ_ERR_ARGUMENT for the name, or as glanz_preset_name(). */
GLANZ_NODISCARD glanz_status glanz_preset_rename(uint8_t *record, size_t *count, size_t capacity, const char *name);

/** What a recall could not do. */
struct glanz_missed {
    uint8_t segments;                /**< parts for segments that are not there any more */
    uint8_t looks;                   /**< effects, palettes or playlists that are not there any more */
    char first[GLANZ_NAME_MOST + 1]; /**< the first of these names, cut to fit; empty when there is none */
};

/** Show a record's preset, as a hand does. Parts for segments, effects, palettes or playlists that are not there any more are
 * left out and told. @param missed may be NULL.
 *  @return GLANZ_ERR_DAMAGED when the record does not check, GLANZ_ERR_NEWER: nothing changes. */
GLANZ_NODISCARD glanz_status glanz_preset_unpack(struct glanz_control *control,
                                                 GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects, const uint8_t *record,
                                                 size_t count, struct glanz_change change, struct glanz_missed *missed);

/* ---- the controller ---- */

/** What was pushed into an input at a time: a log of raw inputs in C, to be played again. */
struct glanz_pushed {
    uint32_t time_us; /**< since the start; 0xFFFFFFFF closes a list */
    uint16_t value;   /**< a button's level, or 0 to 65535 */
    uint8_t input;    /**< index into the rig's inputs */
};

/** Something that happened, told to the program. */
struct glanz_happening {
    glanz_us at_us; /**< on the device's clock */
    enum {
        GLANZ_HAPPENED_EVENT,   /**< signal `index` did `event` */
        GLANZ_HAPPENED_TRIGGER, /**< trigger `index` was met */
        GLANZ_HAPPENED_PRESET,  /**< preset `index` was recalled */
        GLANZ_HAPPENED_ITEM,    /**< playlist `index` came to its item `item` */
        GLANZ_HAPPENED_STOP,    /**< playlist `index` stopped: it plays nowhere any more */
        GLANZ_HAPPENED_LOST,    /**< input `index` lost `item` edges (255: or more) that came too fast; the newest counts */
        GLANZ_HAPPENED_ENTRY,   /**< the calendar's entry `index` shows now */
        GLANZ_HAPPENED_END,     /**< the calendar's entry `index` does not show any more */
        GLANZ_HAPPENED_SLEEP,   /**< the whole has gone to sleep (`event` 1), or woke (0) */
        GLANZ_HAPPENED_SAVED,   /**< a save is confirmed: record `index` of the presets, or GLANZ_ALL the running state */
        GLANZ_HAPPENED_UNSAVED, /**< it failed; what was saved before stays */
        GLANZ_HAPPENED_RANGE    /**< input `index` has another range of readings: `item` 1 learnt, 0 as the rig says */
    } description;              /**< what happened */
    uint8_t index;              /**< of what it happened to, as it says */
    uint8_t event;              /**< enum glanz_event */
    uint8_t item;               /**< as it says */
};
/** Told of what happens. @param happening lent during the call. @param user as it was given. */
typedef void (*glanz_listener)(const struct glanz_happening *happening, void *user);

/** Raw edges and values on their way from interrupts and tasks to the controller: a ring for each input. It lies outside of all
 *  that a change of rig or show lays out anew, so that it can be pushed into at any moment. */
struct glanz_inbox;

/** Memory for an inbox, bytes. @param inputs that any rig will have, at the most. */
size_t glanz_inbox_size(uint8_t inputs);

/** Lay an inbox out in memory, which is lent as long as it is used. @return GLANZ_ERR_ARGUMENT or GLANZ_ERR_MEMORY. */
GLANZ_NODISCARD glanz_status glanz_inbox_start(struct glanz_inbox **inbox, void *memory, size_t size, uint8_t inputs);

/** Push a raw edge or a value in. From an interrupt or another thread, at any moment; one producer for each input.
 *  A ring holds GLANZ_INBOX values. When it is full the newest is kept beside it, in order: it is never lost, and what is lost
 *  lies between two that are not.
 *  @param value buttons: level of the line, 0 or 1; values: 0 to 65535. @param time_us 32-bit time, as for frames.
 *  @return GLANZ_ERR_FULL when the value before it was lost to it; GLANZ_ERR_ABSENT for an input that the rig has not. */
glanz_status glanz_inbox_push(struct glanz_inbox *inbox, uint8_t input, uint16_t value, uint32_t time_us);

/** How many values were lost so far; stays at UINT_MAX (on AVR it begins again there). For the main loop. */
unsigned glanz_inbox_lost(const struct glanz_inbox *inbox);

/** Memory for a controller of a rig, with room for so many segments, bytes. @param parts NULL: none. */
size_t glanz_control_size(GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity);

/** Lay a controller out in memory. @param inbox what it empties, lent; NULL: nothing is pushed. @return GLANZ_ERR_ARGUMENT or
 *  GLANZ_ERR_MEMORY. */
GLANZ_NODISCARD glanz_status glanz_control_start(struct glanz_control **control, void *memory, size_t size,
                                                 struct glanz_engine *engine, GLANZ_CONST struct glanz_rig *rig,
                                                 uint8_t segment_capacity, struct glanz_inbox *inbox);

/** Be told of everything that happens; NULL: nobody. Called from glanz_control_run(), _act(), _take() and the unpacking calls.
 *
 *  One rule holds inside this and every other callback (listener, painter, an effect's functions, a port's, a medium's): calls
 *  that only tell something may be made; glanz_device_push(), glanz_inbox_push() and glanz_queue_post() too; every other call
 * that changes something returns GLANZ_ERR_STATE and changes nothing. What a callback wants done is posted to a queue, and is
 * done with the next frame: see glanz_queue_post(). */
void glanz_control_listen(struct glanz_control *control, glanz_listener listener, void *user);

/** Begin a show, from dark, with its start action. Once for a controller. @param quiet 1: without the start action.
 *  @return as glanz_engine_begin(); GLANZ_ERR_STATE when a show runs. */
GLANZ_NODISCARD glanz_status glanz_control_begin(struct glanz_control *control, GLANZ_CONST struct glanz_show *show,
                                                 glanz_us clock_us, uint8_t quiet, struct glanz_fault *fault);

/** Take another show: the segments that stay keep what they show, looks that changed glide or crossfade, a playlist of the
 *  same name goes on.
 *  @return as glanz_engine_set_segments(); on failure nothing changes. GLANZ_ERR_STATE when none has begun. */
GLANZ_NODISCARD glanz_status glanz_control_set_show(struct glanz_control *control, GLANZ_CONST struct glanz_show *show,
                                                    glanz_us clock_us, struct glanz_fault *fault);

/** The controller, as a device calls it where it is named. */
struct glanz_control_part {
    size_t (*size)(GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig,
                   uint8_t segment_capacity); /**< glanz_control_size() */
    glanz_status (*start)(struct glanz_control **control, void *memory, size_t size, struct glanz_engine *engine,
                          GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity,
                          struct glanz_inbox *inbox); /**< glanz_control_start() */
    glanz_status (*begin)(struct glanz_control *control, GLANZ_CONST struct glanz_show *show, glanz_us clock_us, uint8_t quiet,
                          struct glanz_fault *fault);                                       /**< glanz_control_begin() */
    glanz_status (*run)(struct glanz_control *control, glanz_us clock_us, uint32_t now_us); /**< glanz_control_run() */
    void (*listen)(struct glanz_control *control, glanz_listener listener, void *user);     /**< glanz_control_listen() */
};

#if GLANZ_DRIVES_MOST > 0
struct glanz_sound;
/** Sound, as controller and device call it where it is named. Private. */
struct glanz_sound_part {
    size_t (*size)(GLANZ_CONST struct glanz_rig *rig); /**< memory of a controller */
    /** Sources for the inputs of the rig, in their order; they are told how to listen. */
    glanz_status (*attach)(struct glanz_control *control, struct glanz_sound *const *sounds, uint8_t count);
    /** Have they room for what the rig asks of them, and are there enough, if the show listens at all? */
    glanz_status (*fits)(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show,
                         struct glanz_sound *const *sounds, uint8_t count, struct glanz_fault *fault);
    /** What was heard since the last run. */
    glanz_status (*run)(struct glanz_control *control, glanz_us clock_us, uint32_t now_us);
};
#endif

/** Does the controller still hold on to memory that was lent to it: its show, what is shown, what can be undone, what comes
 *  back after the calendar or a playlist? 0: it can be freed, or unloaded. */
int glanz_control_uses(const struct glanz_control *control, const void *memory, size_t size);

#if GLANZ_DRIVES_MOST > 0
/** What an input for sound has heard up to the last frame; stays as it is until the next. NULL where nothing is heard. Needs
 * glanz_part_sound, which it links. */
const struct glanz_heard *glanz_control_heard(const struct glanz_control *control, uint8_t input);

/** The level of a signal at the last frame, GLANZ_LEVEL_TURN or-ed to an angle. 0 where there is none. */
uint32_t glanz_control_level(const struct glanz_control *control, uint8_t signal);
#endif

/** Do all that is due by now, in the order of its times. */
GLANZ_NODISCARD glanz_status glanz_control_run(struct glanz_control *control, glanz_us clock_us, uint32_t now_us);

#if GLANZ_SEQUENCES
/** Change one thing of what a segment shows, by hand: noted for undo, and gliding where only numbers differ.
 *  @param setting index, unit (NONE: the parameter's own) and number of a parameter of the effect that shows there.
 *  @return GLANZ_ERR_ABSENT: no such segment, or it is dark; GLANZ_ERR_ARGUMENT: the parameter cannot be set so. */
GLANZ_NODISCARD glanz_status glanz_control_set(struct glanz_control *control, uint8_t segment, struct glanz_setting setting,
                                               uint32_t over_ms, glanz_us at_us);
/** The same with its palette. @param gradient lent as long as it shows. */
GLANZ_NODISCARD glanz_status glanz_control_set_palette(struct glanz_control *control, uint8_t segment,
                                                       GLANZ_CONST struct glanz_gradient *gradient, uint32_t over_ms,
                                                       glanz_us at_us);
/** The same with what its effect shows: a text, a picture, marks, a pattern. @param content lent as long as it shows.
 *  @return GLANZ_ERR_ARGUMENT: it is not of the kind that the effect shows. */
GLANZ_NODISCARD glanz_status glanz_control_set_content(struct glanz_control *control, uint8_t segment,
                                                       GLANZ_CONST void *content, uint32_t over_ms, glanz_us at_us);
#endif

/** Do one action of the show. @return GLANZ_ERR_ABSENT, or what the engine says. */
GLANZ_NODISCARD glanz_status glanz_control_act(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                                               glanz_us at_us);

/** The playlist that runs, by number from 0 where several do, and its item; GLANZ_ALL past the last. Of nested ones the outer.
 */
uint8_t glanz_control_playing(const struct glanz_control *control, uint8_t number, uint8_t *item);

#if GLANZ_SEQUENCES
/** A program that changes segments by itself (through the engine) says so first: it wakes from sleep, and the change can be
 * undone, counts as unsaved, and stays until the calendar's next entry. Actions and recalls do this by themselves. */
void glanz_control_touch(struct glanz_control *control, uint64_t segments, glanz_us at_us);

/** Segments that were changed by hand since they were last saved or recalled, as bits. */
uint64_t glanz_control_unsaved(const struct glanz_control *control);
/** They are saved now. */
void glanz_control_saved(struct glanz_control *control, uint64_t segments);

/** Segment changes that can be undone now, at most GLANZ_UNDO; an action that changed three segments counts three. */
uint8_t glanz_control_undoable(const struct glanz_control *control);

/** Aspects of a segment that were taken over by hand. */
uint8_t glanz_control_taken(const struct glanz_control *control, uint8_t segment);

/** Is it asleep? 0 awake, 1 dimming, 2 dark. */
uint8_t glanz_control_asleep(const struct glanz_control *control);

/** Write what is showing and where playlists are, to be resumed. @param capacity GLANZ_RECORD_MOST.
 *  @return GLANZ_ERR_FULL. */
GLANZ_NODISCARD glanz_status glanz_running_pack(const struct glanz_control *control, uint8_t *record, size_t capacity,
                                                size_t *count);
/** Show it again, from dark. @param since_ms for how long it had gone on after that: playlists are so much further, but for
 * those that were paused. @return GLANZ_ERR_DAMAGED, GLANZ_ERR_NEWER: nothing changes. */
GLANZ_NODISCARD glanz_status glanz_running_unpack(struct glanz_control *control,
                                                  GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects, const uint8_t *record,
                                                  size_t count, glanz_us at_us, uint32_t since_ms, struct glanz_missed *missed);
#if GLANZ_DRIVES_MOST > 0
/** The ranges of sensors and dials that were learnt, by the inputs' names, as a record to be kept. @return GLANZ_ERR_FULL. */
GLANZ_NODISCARD glanz_status glanz_ranges_pack(const struct glanz_control *control, uint8_t *record, size_t capacity,
                                               size_t *count);
/** Take them again; names that the rig has not are left out. @return GLANZ_ERR_DAMAGED, GLANZ_ERR_NEWER: nothing changes. */
GLANZ_NODISCARD glanz_status glanz_ranges_unpack(struct glanz_control *control, const uint8_t *record, size_t count);
/** How often a range was learnt, or forgotten. */
uint16_t glanz_control_ranged(const struct glanz_control *control);
#endif
/** Does a playlist that a hand or the start began go on? Then what is packed is behind in a while. */
int glanz_control_goes_on(const struct glanz_control *control);

/** How often what is showing has changed: by hand, and by playlists going on. */
struct glanz_changes {
    uint32_t by_hand, by_itself; /**< calls and actions; playlists and the calendar */
};
/** The counts of changes so far. */
struct glanz_changes glanz_control_changes(const struct glanz_control *control);
#endif

#if GLANZ_CALENDAR
/** Tell UTC, seconds since 1970; again whenever it is known better. The calendar begins with it, and follows it: small steps
 * (to two minutes) never repeat an entry nor leave one out; after a larger one, what should be on then comes on. */
GLANZ_NODISCARD glanz_status glanz_control_clock(struct glanz_control *control, uint32_t utc, glanz_us at_us);
/** UTC now. @return 0 while it is not known. */
uint32_t glanz_control_utc(const struct glanz_control *control);
/** The calendar's entry that shows on a segment; GLANZ_ALL: none. */
uint8_t glanz_control_entry(const struct glanz_control *control, uint8_t segment);
/** When the calendar changes next what shows, or, where an entry has nothing in a year, looks again; UTC. @return UINT32_MAX:
 * not known yet, or never. */
uint32_t glanz_control_entry_due(const struct glanz_control *control);
/** Is the calendar still being looked through, after the clock was set or another show was taken? */
int glanz_control_looking(const struct glanz_control *control);
#endif

/** A time that does not come. */
#define GLANZ_NEVER ((glanz_us)-1)
/** When something is due next by itself, on the engine's clock; GLANZ_NEVER: nothing. */
glanz_us glanz_control_next(const struct glanz_control *control);

GLANZ_HEADER_END
#endif
