/* SPDX-License-Identifier: MIT */
/** @file
 *  Control: the show, and what acts on it: inputs, triggers, presets, a playlist. Everything that happens has a time of its
 *  own, so that a show runs alike at any frame rate.
 */
#ifndef GLANZ_CONTROL_H
#define GLANZ_CONTROL_H

#include <glanz/engine.h>

#ifdef __cplusplus
extern "C" {
#endif

/* ---- the show: what to see. Const structs, lent while the show runs. ---- */

/** A palette of a show: as it was chosen, and built. */
struct glanz_show_palette {
    GLANZ_CONST char *name;
    GLANZ_CONST struct glanz_gradient *gradient;
    GLANZ_CONST struct glanz_color_stop *chosen; /**< NULL where the palette comes with the library */
    uint8_t chosen_count;
    uint8_t between; /**< enum glanz_between */
};

/** What a preset says about one segment, or-ed. */
enum glanz_aspect { GLANZ_ASPECT_LOOK = 1, GLANZ_ASPECT_ON = 2, GLANZ_ASPECT_BRIGHTNESS = 4 };

/** A preset's part for one segment. */
struct glanz_part {
    uint8_t segment;
    uint8_t aspects; /**< enum glanz_aspect */
    uint8_t on;
    uint16_t brightness; /**< lightness 0 to 65535 */
    GLANZ_CONST struct glanz_look *look;
};

/** A preset: touches only the segments it names. */
struct glanz_preset {
    GLANZ_CONST char *name;
    GLANZ_CONST struct glanz_part *parts;
    uint8_t part_count;
};

/** One item of a playlist. */
struct glanz_item {
    uint8_t preset;
    uint32_t fade_ms; /**< crossfade into it */
    uint32_t hold_ms; /**< then shown for this long */
};

/** Presets one after another. */
struct glanz_playlist {
    GLANZ_CONST char *name;
    GLANZ_CONST struct glanz_item *items;
    uint8_t item_count;
    uint16_t rounds; /**< times through; 0: for ever. Afterwards the last item stays */
};

/** What an action does. */
enum glanz_action_kind {
    GLANZ_ACTION_RECALL,     /**< preset `target` */
    GLANZ_ACTION_PLAY,       /**< playlist `target` from its start */
    GLANZ_ACTION_STOP,       /**< playlist `target`; what it shows stays */
    GLANZ_ACTION_NEXT,       /**< the next item of playlist `target`; starts it when it does not run */
    GLANZ_ACTION_PREVIOUS,   /**< the one before */
    GLANZ_ACTION_BRIGHTNESS, /**< lightness `number` for segment `target` or GLANZ_ALL */
    GLANZ_ACTION_SWITCH,     /**< segment `target`: `number` 0 off, 1 on, 2 the other */
    GLANZ_ACTION_LOOK        /**< `look` on segment `target` */
};
#define GLANZ_ACTION_KINDS 8

struct glanz_action {
    uint8_t kind; /**< enum glanz_action_kind */
    uint8_t target;
    uint16_t number;
    uint32_t over_ms; /**< how long the change takes; GLANZ_OWN_TIME: the show's change time */
    GLANZ_CONST struct glanz_look *look;
};
#define GLANZ_OWN_TIME 0xFFFFFFFFu

/** What an input does that a trigger can wait for. */
enum glanz_event {
    GLANZ_EVENT_PRESSED,       /**< any press, at once */
    GLANZ_EVENT_PRESSED_ONCE,  /**< one short press, when no second can follow any more */
    GLANZ_EVENT_PRESSED_TWICE, /**< a second press soon after the first */
    GLANZ_EVENT_HELD,          /**< pressed for long */
    GLANZ_EVENT_RELEASED,      /**< let go */
    GLANZ_EVENT_RISES,         /**< a value rises above `level` */
    GLANZ_EVENT_FALLS          /**< a value falls below `level` */
};
#define GLANZ_EVENTS 7

/** A condition on an input, and what is done when it is met. */
struct glanz_trigger {
    GLANZ_CONST char *name;
    uint8_t input; /**< index into the rig's inputs */
    uint8_t event; /**< enum glanz_event */
    uint16_t level;
    GLANZ_CONST struct glanz_action *actions;
    uint8_t action_count;
};

/** What to see. */
struct glanz_show {
    GLANZ_CONST char *name;
    uint16_t brightness; /**< lightness of the whole, 1 to 65535; 0 means 60 % */
    uint32_t change_ms;  /**< how long changes take; 0 means 500, GLANZ_OWN_TIME means at once */
    GLANZ_CONST struct glanz_named_color *colors;
    GLANZ_CONST struct glanz_show_palette *palettes;
    GLANZ_CONST struct glanz_look *looks;
    GLANZ_CONST struct glanz_segment *segments;
    GLANZ_CONST uint8_t *stack; /**< every segment once, bottom first; NULL: in their own order */
    GLANZ_CONST struct glanz_preset *presets;
    GLANZ_CONST struct glanz_playlist *playlists;
    GLANZ_CONST struct glanz_trigger *triggers;
    GLANZ_CONST struct glanz_action *start; /**< done at power-on; may be NULL */
    uint16_t color_count, look_count;
    uint8_t palette_count, segment_count, preset_count, playlist_count, trigger_count;
#if GLANZ_FIELDS
    uint8_t picture_count;
    GLANZ_CONST struct glanz_picture *pictures; /**< by name, for saved presets and documents */
#endif
};

/** Can this show run on this rig? Indices in range, looks that can be, no two segments on the same LEDs without a stack.
 *  @return GLANZ_ERR_SHOW with the fault filled, or GLANZ_ERR_ARGUMENT. */
GLANZ_NODISCARD glanz_status glanz_show_check(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                                              struct glanz_fault *fault);

/** Bytes that the show's effects want to remember in, at the most, whatever its presets and actions bring onto its segments; to
 * be added to glanz_device_size(). A program that shows other looks on them by itself may need more. */
size_t glanz_show_memory(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig);

/* ---- saved presets: records of bytes ---- */

#define GLANZ_NAME_MOST 31     /**< bytes of a saved preset's name, UTF-8 */
#define GLANZ_RECORD_MOST 2048 /**< bytes of a saved preset */

/** May a record be saved under this name? 1 to GLANZ_NAME_MOST bytes, no control characters. */
int glanz_saved_name_valid(const char *name);

/** Write what segments show now as a record: format 1, described in docs/design.md; little-endian, CRC-32 at its end.
 *  @param record room for `room` bytes. @param name 1 to GLANZ_NAME_MOST bytes of UTF-8, no control characters.
 *  @param segments bit i set: segment i is covered.
 *  @return GLANZ_ERR_ARGUMENT for the name, GLANZ_ERR_FULL when the record would be larger than `room`. */
GLANZ_NODISCARD glanz_status glanz_preset_pack(uint8_t *record, size_t *count, size_t room, const struct glanz_engine *engine,
                                               GLANZ_CONST struct glanz_show *show, const char *name, uint64_t segments);

/** Check a record and give its name (GLANZ_NAME_MOST + 1 bytes). @return GLANZ_ERR_DAMAGED. */
GLANZ_NODISCARD glanz_status glanz_preset_name(char *name, const uint8_t *record, size_t count);

/** Show a record's preset. Parts for segments, effects or palettes that are not there any more are left out and counted.
 *  @param missed may be NULL. @return GLANZ_ERR_DAMAGED when the record does not check: nothing changes. */
GLANZ_NODISCARD glanz_status glanz_preset_unpack(uint8_t *missed, struct glanz_engine *engine,
                                                 GLANZ_CONST struct glanz_show *show,
                                                 GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects, const uint8_t *record,
                                                 size_t count, struct glanz_change change);

/* ---- the controller ---- */

/** What was pushed into an input at a time: a log of raw inputs in C, to be played again. */
struct glanz_pushed {
    uint32_t time_us; /**< since the start; 0xFFFFFFFF closes a list */
    uint16_t value;
    uint8_t input; /**< index into the rig's inputs */
};

struct glanz_control; /**< opaque; lives in the caller's memory */

/** Something that happened, told to the program. */
struct glanz_happening {
    glanz_time at_us;
    enum {
        GLANZ_HAPPENED_EVENT,   /**< input `index` did `event` */
        GLANZ_HAPPENED_TRIGGER, /**< trigger `index` was met */
        GLANZ_HAPPENED_PRESET,  /**< preset `index` was recalled */
        GLANZ_HAPPENED_ITEM,    /**< playlist `index` came to its item `item` */
        GLANZ_HAPPENED_STOP,    /**< playlist `index` stopped */
        GLANZ_HAPPENED_LOST     /**< input `index` lost edges that came too fast; the last one counts */
    } what;
    uint8_t index;
    uint8_t event; /**< enum glanz_event */
    uint8_t item;
};
typedef void (*glanz_listener)(const struct glanz_happening *happening, void *user);

/** Memory for a controller of a rig, bytes. */
size_t glanz_control_size(GLANZ_CONST struct glanz_rig *rig);

/** Lay a controller out in memory. @return GLANZ_ERR_ARGUMENT or GLANZ_ERR_MEMORY. */
GLANZ_NODISCARD glanz_status glanz_control_start(struct glanz_control **control, void *memory, size_t size,
                                                 struct glanz_engine *engine, GLANZ_CONST struct glanz_rig *rig);

/** Be told of everything that happens; NULL: nobody. Called from glanz_control_run(). */
void glanz_control_listen(struct glanz_control *control, glanz_listener listener, void *user);

/** Take a checked show: the segments that stay keep what they show, looks that changed glide or crossfade, a playlist of the
 *  same name goes on. @param first 1: at power-on; the start action is done, from dark.
 *  @return as glanz_engine_take(); on failure nothing changes. */
GLANZ_NODISCARD glanz_status glanz_control_take(struct glanz_control *control, GLANZ_CONST struct glanz_show *show,
                                                glanz_time clock_us, uint8_t first, struct glanz_fault *fault);

/** Push a raw edge or a value in. Interrupt-safe; one producer for each input.
 *  @param value buttons: level of the line, 0 or 1; values: 0 to 65535. @param time_us 32-bit time, as for frames.
 *  @return GLANZ_ERR_FULL when the inbox was full: the value is kept as the latest, those between are lost and counted. */
glanz_status glanz_control_push(struct glanz_control *control, uint8_t input, uint16_t value, uint32_t time_us);

/** Do all that is due by now, in the order of its times. */
GLANZ_NODISCARD glanz_status glanz_control_run(struct glanz_control *control, glanz_time clock_us, uint32_t now_us);

/** Do one action of the show. @return GLANZ_ERR_ABSENT, or what the engine says. */
GLANZ_NODISCARD glanz_status glanz_control_act(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                                               glanz_time at_us);

/** The playlist that runs and its item; GLANZ_ALL when none does. */
uint8_t glanz_control_playing(const struct glanz_control *control, uint8_t *item);

#define GLANZ_NEVER ((glanz_time)-1)
/** When something is due next by itself, on the engine's clock; GLANZ_NEVER: nothing. */
glanz_time glanz_control_next(const struct glanz_control *control);

#ifdef __cplusplus
}
#endif
#endif
